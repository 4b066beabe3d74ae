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
)
{
    /// <summary>The two of which it is made; empty of a single one.</summary>
    public IReadOnlyList<MachineFault> Both { get; init; } = [];

    /// <summary>Its elements lie between other nodes than before: wires in other places.</summary>
    public bool IsRewired => Kind is FaultKind.Exchanged or FaultKind.OnePinOver;
}

/// <summary>The single faults of a machine's parts, with the odds of their kind. Common practice, no source; see docs/rules.md.</summary>
public static class MachineFaults
{
    /// <summary>How often a kind of part is at fault beside others, and how that is shared among its kinds of fault.</summary>
    private static readonly Dictionary<LawKind, (double Odds, (FaultKind Kind, double Share)[] Shares)> _table = new()
    {
        [LawKind.Contact] = (0.5, [(FaultKind.Open, 0.3), (FaultKind.HighResistance, 0.45), (FaultKind.Intermittent, 0.25)]),
        [LawKind.Wire] = (
            0.3,
            [(FaultKind.Open, 0.6), (FaultKind.HighResistance, 0.15), (FaultKind.Intermittent, 0.15), (FaultKind.LeakToChassis, 0.1)]
        ),
        [LawKind.Track] = (0.1, [(FaultKind.Open, 0.7), (FaultKind.HighResistance, 0.3)]),
        [LawKind.Bond] = (0.5, [(FaultKind.Open, 0.7), (FaultKind.HighResistance, 0.3)]),
        [LawKind.Fuse] = (3, [(FaultKind.Open, 0.95), (FaultKind.HighResistance, 0.05)]),
        [LawKind.ResidualBreaker] = (1.5, [(FaultKind.StuckOff, 0.5), (FaultKind.Open, 0.3), (FaultKind.HighResistance, 0.2)]),
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
        return machine.Circuit is { } circuit
            ?
            [
                .. machine.Parts.SelectMany(p => Of(p, circuit)),
                .. machine.Parts.SelectMany(p => Behind(p, circuit)),
                .. Misplugged(machine, circuit),
            ]
            : [];
    }

    // What blew a fuse need not be a part that anybody wrote down. Common practice, no source.
    private const double BehindOdds = 0.6;

    /// <summary>A short behind a fuse that is no listed part: a chafed wire, water, what somebody added.</summary>
    private static IEnumerable<MachineFault> Behind(CircuitPart fuse, Circuit circuit)
    {
        var name = MachineCircuit.Behind(fuse.Name);
        double[] ohms = fuse.Law.Kind == LawKind.Fuse && circuit.Contains(name) ? [0.1, 3, 15] : [];
        return ohms.Select(o => new MachineFault(
            IdOf(name, FaultKind.Short, o),
            name,
            FaultKind.Short,
            o,
            $"{name} shorted over {Quantity.Write(o, "Ω")}",
            BehindOdds / ohms.Length,
            [(Resistance)circuit[name] with { Ohms = o }]
        ));
    }

    // Of two neighbouring wires of a plug, and of a plug as a whole, beside the table. Common practice, no source.
    private const double ExchangedOdds = 0.02;
    private const double OnePinOverOdds = 0.05;

    /// <summary>Neighbouring wires of a plug in each other's places, and plugs that sit one pin over, either way.</summary>
    private static IEnumerable<MachineFault> Misplugged(MachineCircuit machine, Circuit circuit)
    {
        foreach (
            var plug in machine
                .Machine.Pins.Values.Where(p => circuit.Contains(MachineCircuit.ContactAt(p.Printed)))
                .GroupBy(p => p.PrintedElement)
        )
        {
            var pins = plug.OrderBy(p => p.Pin.Index).ToList();
            var contacts = pins.ToDictionary(p => p.Pin.Index, p => (Resistance)circuit[MachineCircuit.ContactAt(p.Printed)]);
            foreach (var (first, second) in pins.Zip(pins.Skip(1)).Where(p => p.Second.Pin.Index == p.First.Pin.Index + 1))
            {
                var (a, b) = (contacts[first.Pin.Index], contacts[second.Pin.Index]);
                yield return new MachineFault(
                    IdOf($"{first.Printed} and {second.Label.Value}", FaultKind.Exchanged, null),
                    plug.Key,
                    FaultKind.Exchanged,
                    null,
                    $"{first.Printed} and ·{second.Label.Value} exchanged",
                    ExchangedOdds,
                    [a with { B = b.B }, b with { B = a.B }]
                );
            }

            foreach (var by in pins.Count > 1 ? (int[])[1, -1] : [])
            {
                yield return new MachineFault(
                    IdOf(plug.Key, FaultKind.OnePinOver, by),
                    plug.Key,
                    FaultKind.OnePinOver,
                    by,
                    $"{plug.Key} plugged one pin {(by > 0 ? "up" : "down")}",
                    OnePinOverOdds / 2,
                    [
                        .. contacts.Select(c =>
                            contacts.TryGetValue(c.Key + by, out var next)
                                ? c.Value with
                                {
                                    B = next.B,
                                }
                                : c.Value with
                                {
                                    Ohms = double.PositiveInfinity,
                                }
                        ),
                    ]
                );
            }
        }
    }

    /// <summary>
    /// What a fault may take with it beside what follows from the currents: the transistor behind a lost free-wheel diode, or before a
    /// load that was shorted; each with its odds. Common practice, no source.
    /// </summary>
    public static IReadOnlyList<(string Part, FaultKind Kind, double Odds)> MayCause(MachineCircuit machine, MachineFault fault)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(fault);
        const double BehindLostDiode = 0.4;
        const double BeforeShortedLoad = 0.2;
        if (machine.Parts.FirstOrDefault(p => p.Name == fault.Part) is not { } part)
        {
            return [];
        }

        var isLostDiode = part.Law.Kind == LawKind.Diode && fault.Kind == FaultKind.Open;
        var isShortedLoad =
            part.Law.Kind is LawKind.Load or LawKind.Motor or LawKind.Lamp or LawKind.RelayCoil && fault.Kind == FaultKind.Short;
        var beside = part.Nodes.SelectMany(n => Wired(machine, n)).ToHashSet();
        return isLostDiode || isShortedLoad
            ?
            [
                .. machine
                    .Parts.Where(p => p.Law.Kind is LawKind.Output or LawKind.SolidState && p.Nodes.Any(beside.Contains))
                    .Select(p => (p.Name, FaultKind.Welded, isLostDiode ? BehindLostDiode : BeforeShortedLoad)),
            ]
            : [];
    }

    /// <summary>The odds by kind of part, for the docs and whoever asks.</summary>
    public static IReadOnlyList<(LawKind Kind, double Odds, IReadOnlyList<(FaultKind Kind, double Share)> Shares)> Table =>
        [.. _table.Select(t => (t.Key, t.Value.Odds, (IReadOnlyList<(FaultKind, double)>)t.Value.Shares))];

    /// <summary>What wires, contacts and tracks join to a node; nothing where that is the return, which all share.</summary>
    private static HashSet<string> Wired(MachineCircuit machine, string node)
    {
        const double MostOhms = 0.5;
        var next = machine
            .Circuit!.Elements.OfType<Resistance>()
            .Where(r => r.Ohms < MostOhms)
            .SelectMany(r => new[] { (From: r.A, To: r.B), (From: r.B, To: r.A) })
            .ToLookup(r => r.From, r => r.To);
        var (seen, open) = (new HashSet<string> { node }, new Stack<string>([node]));
        while (open.TryPop(out var at))
        {
            foreach (var to in next[at].Where(seen.Add))
            {
                open.Push(to);
            }
        }

        return seen.Contains(Circuit.Reference) ? [] : seen;
    }

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
                FaultKind.StuckOff when part.Law.Kind == LawKind.ResidualBreaker => OffForGood(part, circuit),
                FaultKind.Intermittent => single
                    .Where(f => f.Kind == FaultKind.Open)
                    .Select(f => (f.Element, f.Size, (IReadOnlyList<CircuitElement>)[f.Faulted])),
                FaultKind.LeakToChassis => Leaking(part, circuit),
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

    /// <summary>All poles open: it trips though nothing is amiss behind it, or cannot be closed.</summary>
    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> OffForGood(CircuitPart part, Circuit circuit) =>
        [(part.Name, null, [.. part.Elements.Select(e => (CircuitElement)((Fuse)circuit[e] with { Ohms = double.PositiveInfinity }))])];

    private const double LowShare = 0.7;

    private static string IdOf(string element, FaultKind kind, double? size) =>
        string.Create(CultureInfo.InvariantCulture, $"{element}/{(int)kind}{(size is { } s ? $"/{s:R}" : "")}");

    /// <summary>A contact that stays where it is when its coil is held, or let go.</summary>
    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> Welded(CircuitPart part, Circuit circuit) =>
        circuit[part.Elements[0]] is RelayContact contact ? [(contact.Name, null, [contact with { AlwaysCloses = true }])] : [];

    /// <summary>Where a machine has an earth: its wires have a leak to it, open on a healthy machine.</summary>
    private static IEnumerable<(string, double?, IReadOnlyList<CircuitElement>)> Leaking(CircuitPart part, Circuit circuit)
    {
        double[] ohms = [1, 100, 5000];
        return circuit.Contains(MachineCircuit.LeakOf(part.Name))
            ? ohms.Select(o =>
                (
                    part.Name,
                    (double?)o,
                    (IReadOnlyList<CircuitElement>)[(Resistance)circuit[MachineCircuit.LeakOf(part.Name)] with { Ohms = o }]
                )
            )
            : [];
    }

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
            (FaultKind.Open, LawKind.Fuse) => part.Law.Trips ? $"{which} off" : $"{which} blown",
            (FaultKind.StuckOff, LawKind.ResidualBreaker) => $"{which} does not stay on",
            (FaultKind.Open, LawKind.Motor) => $"{which}: winding or brushes open",
            (FaultKind.Open, LawKind.Lamp) => $"{which} burnt out",
            (FaultKind.Open, _) => $"{which} open",
            (FaultKind.Intermittent, _) => $"{which} open at times",
            (FaultKind.LeakToChassis, _) => $"{which} on the chassis through {Quantity.Write(size ?? 0, "Ω")}",
            (FaultKind.Short, _) => $"{which} shorted{(size is { } s ? $" over {Quantity.Write(s, "Ω")}" : "")}",
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
