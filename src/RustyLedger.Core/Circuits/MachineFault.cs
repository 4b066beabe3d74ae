using System.Globalization;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Circuits;

/// <summary>One part of a machine with something wrong.</summary>
/// <param name="Id">Of part, kind and size; kept in books and files, never changing its meaning.</param>
/// <param name="Part">As printed, or the wire or contact by its ends.</param>
/// <param name="Words">In the words of the trade.</param>
/// <param name="Odds">Beside the other faults of the machine; any sum.</param>
/// <param name="Faulted">The elements as they are then.</param>
public sealed record MachineFault(
    string Id,
    string Part,
    FaultKind Kind,
    double? Size,
    string Words,
    double Odds,
    IReadOnlyList<CircuitElement> Faulted
);

/// <summary>The single faults of a machine's parts, with the odds of their kind. Common practice, no source; see docs/rules.md.</summary>
public static class MachineFaults
{
    /// <summary>How often a kind of part is at fault beside others, and how that is shared among its kinds of fault.</summary>
    private static readonly Dictionary<LawKind, (double Odds, (FaultKind Kind, double Share)[] Shares)> _table = new()
    {
        [LawKind.Contact] = (0.5, [(FaultKind.Open, 0.4), (FaultKind.HighResistance, 0.6)]),
        [LawKind.Wire] = (0.3, [(FaultKind.Open, 0.8), (FaultKind.HighResistance, 0.2)]),
        [LawKind.Bond] = (0.5, [(FaultKind.Open, 0.7), (FaultKind.HighResistance, 0.3)]),
        [LawKind.Fuse] = (3, [(FaultKind.Open, 0.95), (FaultKind.HighResistance, 0.05)]),
        [LawKind.Mains] = (3, [(FaultKind.NoOutput, 0.8), (FaultKind.LowOutput, 0.2)]),
        [LawKind.Supply] = (4, [(FaultKind.NoOutput, 0.7), (FaultKind.LowOutput, 0.3)]),
        [LawKind.Battery] = (5, [(FaultKind.NoOutput, 0.3), (FaultKind.LowOutput, 0.4), (FaultKind.HighResistance, 0.3)]),
        [LawKind.Switch] = (2, [(FaultKind.StuckOff, 0.5), (FaultKind.HighResistance, 0.35), (FaultKind.Welded, 0.15)]),
        [LawKind.Output] = (3, [(FaultKind.StuckOff, 0.6), (FaultKind.Welded, 0.4)]),
        [LawKind.SolidState] = (3, [(FaultKind.StuckOff, 0.4), (FaultKind.Welded, 0.6)]),
        [LawKind.RelayCoil] = (1.5, [(FaultKind.Open, 0.6), (FaultKind.StuckOff, 0.3), (FaultKind.Short, 0.1)]),
        [LawKind.MakeContact] = (2, [(FaultKind.StuckOff, 0.4), (FaultKind.HighResistance, 0.4), (FaultKind.Welded, 0.2)]),
        [LawKind.BreakContact] = (2, [(FaultKind.StuckOff, 0.4), (FaultKind.HighResistance, 0.4), (FaultKind.Welded, 0.2)]),
        [LawKind.Load] = (2, [(FaultKind.Open, 0.6), (FaultKind.Short, 0.25), (FaultKind.Drift, 0.15)]),
        [LawKind.Motor] = (3, [(FaultKind.Open, 0.5), (FaultKind.Short, 0.25), (FaultKind.Drift, 0.25)]),
        [LawKind.Lamp] = (4, [(FaultKind.Open, 0.95), (FaultKind.Short, 0.05)]),
        [LawKind.Led] = (0.5, [(FaultKind.Open, 0.9), (FaultKind.Short, 0.1)]),
        [LawKind.Diode] = (1, [(FaultKind.Short, 0.6), (FaultKind.Open, 0.4)]),
        [LawKind.Rectifier] = (2, [(FaultKind.NoOutput, 0.6), (FaultKind.LowOutput, 0.4)]),
        [LawKind.Transformer] = (1, [(FaultKind.NoOutput, 0.9), (FaultKind.LowOutput, 0.1)]),
        [LawKind.Regulator] = (2, [(FaultKind.NoOutput, 0.8), (FaultKind.LowOutput, 0.2)]),
        [LawKind.Capacitor] = (1, [(FaultKind.Open, 1)]),
        [LawKind.Potentiometer] = (1, [(FaultKind.Open, 0.7), (FaultKind.Drift, 0.3)]),
    };

    /// <summary>Every single fault, in the order of the parts.</summary>
    public static IReadOnlyList<MachineFault> Of(MachineCircuit machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return machine.Circuit is { } circuit ? [.. machine.Parts.SelectMany(p => Of(p, circuit))] : [];
    }

    /// <summary>The odds by kind of part, for the docs and whoever asks.</summary>
    public static IReadOnlyList<(LawKind Kind, double Odds, IReadOnlyList<(FaultKind Kind, double Share)> Shares)> Table =>
        [.. _table.Select(t => (t.Key, t.Value.Odds, (IReadOnlyList<(FaultKind, double)>)t.Value.Shares))];

    private static IEnumerable<MachineFault> Of(CircuitPart part, Circuit circuit)
    {
        var (odds, shares) = _table[part.Law.Kind];
        var single = part.Elements.SelectMany(e => CircuitFaults.Of(circuit[e])).ToList();
        foreach (var (kind, share) in shares)
        {
            // A part of several elements, such as a three-phase motor, has the fault in one of them at a time, or in all of a source.
            var of = kind switch
            {
                FaultKind.NoOutput or FaultKind.LowOutput when part.Elements.Count > 1 || part.Law.Kind == LawKind.Transformer => Whole(
                    part,
                    circuit,
                    kind
                ),
                FaultKind.Welded when part.Law.Kind is LawKind.MakeContact or LawKind.BreakContact => Welded(part, circuit),
                FaultKind.HighResistance when part.Law.Kind == LawKind.Battery => Weak(part, circuit),
                _ => single.Where(f => f.Kind == kind).Select(f => (f.Element, f.Size, (IReadOnlyList<CircuitElement>)[f.Faulted])),
            };
            var all = of.ToList();
            foreach (var (element, size, faulted) in all)
            {
                yield return new MachineFault(
                    IdOf(element, kind, size),
                    part.Name,
                    kind,
                    size,
                    Words(part, element, kind, size),
                    odds * share / all.Count,
                    faulted
                );
            }
        }
    }

    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> Whole(CircuitPart part, Circuit circuit, FaultKind kind)
    {
        var changed = part
            .Elements.Select(e =>
                circuit[e] is Transformer t
                    ? kind == FaultKind.LowOutput
                        ? t with
                        {
                            Ratio = t.Ratio * LowShare,
                        }
                        : t with
                        {
                            SecondaryOhms = double.PositiveInfinity,
                        }
                    : CircuitFaults.Of(circuit[e]).FirstOrDefault(f => f.Kind == kind)?.Faulted
            )
            .OfType<CircuitElement>()
            .ToList();
        return changed.Count > 0 ? [(part.Name, kind == FaultKind.LowOutput ? LowShare : null, changed)] : [];
    }

    private const double LowShare = 0.7;

    private static string IdOf(string element, FaultKind kind, double? size) =>
        string.Create(CultureInfo.InvariantCulture, $"{element}/{(int)kind}{(size is { } s ? $"/{s:R}" : "")}");

    /// <summary>A contact that stays where it is when its coil is held, or let go.</summary>
    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> Welded(CircuitPart part, Circuit circuit) =>
        circuit[part.Elements[0]] is RelayContact contact ? [(contact.Name, null, [contact with { AlwaysCloses = true }])] : [];

    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> Weak(CircuitPart part, Circuit circuit)
    {
        double[] more = [0.1, 1];
        return circuit[part.Elements[0]] is VoltageSource source
            ? more.Select(o => (source.Name, (double?)o, (IReadOnlyList<CircuitElement>)[source with { Ohms = source.Ohms + o }]))
            : [];
    }

    private static string Words(CircuitPart part, string element, FaultKind kind, double? size)
    {
        var which = element == part.Name ? part.Name : element;
        return (kind, part.Law.Kind) switch
        {
            (FaultKind.Open, LawKind.Fuse) => $"{which} blown",
            (FaultKind.Open, LawKind.Motor) => $"{which}: winding or brushes open",
            (FaultKind.Open, LawKind.Lamp) => $"{which} burnt out",
            (FaultKind.Open, _) => $"{which} open",
            (FaultKind.Short, _) => $"{which} shorted",
            (FaultKind.HighResistance, LawKind.Battery) => $"{which} weak: {Quantity.Write(size ?? 0, "Ω")} more inside",
            (FaultKind.HighResistance, _) => $"{which} bad: {Quantity.Write(size ?? 0, "Ω")} too much",
            (FaultKind.Drift, LawKind.Motor) => size < 1
                ? $"{which} draws {Numbers(1 / size!.Value)} times its current"
                : $"{which} draws {Numbers(100 / size!.Value)} % of its current",
            (FaultKind.Drift, _) => $"{which} strayed to {Numbers(100 * size!.Value)} % of its ohms",
            (FaultKind.Welded, LawKind.Output or LawKind.SolidState) => $"{which} stays on",
            (FaultKind.Welded, _) => $"{which} welded closed",
            (FaultKind.StuckOff, LawKind.RelayCoil) => $"{which} does not pull in",
            (FaultKind.StuckOff, LawKind.Output or LawKind.SolidState) => $"{which} does not come on",
            (FaultKind.StuckOff, _) => $"{which} does not close",
            (FaultKind.NoOutput, LawKind.Mains) => $"{which}: no volts",
            (FaultKind.NoOutput, _) => $"{which} gives nothing",
            _ => $"{which} gives {Numbers(100 * (size ?? LowShare))} % only",
        };
    }

    private static string Numbers(double value) => Quantity.Write(value, "");
}
