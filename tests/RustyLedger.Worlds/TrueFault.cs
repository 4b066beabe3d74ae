namespace RustyLedger.Worlds;

public enum TrueFaultKind
{
    Open,
    HighResistance,
    Intermittent,
    Short,
    Drift,
    StuckOff,
    Welded,
    NoOutput,
    LowOutput,

    /// <summary>Between two pins side by side; no part is at fault.</summary>
    Bridge,

    /// <summary>Something nobody wrote down draws a current.</summary>
    HiddenLoad,

    /// <summary>A motor that is held fast.</summary>
    Jammed,

    /// <summary>The board has a reason of its own not to switch.</summary>
    NotCommanded,

    /// <summary>Volts that come from elsewhere: a lead of another machine, a wire chafed through beside this one.</summary>
    Foreign,
}

/// <summary>What is wrong with a true machine.</summary>
/// <param name="Part">Its name; empty where no part is at fault.</param>
/// <param name="Size">Ohms of what is bad or shorted; else a share of what it should be.</param>
/// <param name="A">A node, of what lies between nodes.</param>
public sealed record TrueFault(string Part, TrueFaultKind Kind, double Size, string A = "", string B = "")
{
    /// <summary>What it reads like: the part at fault, or one that lies between the same nodes; empty where nothing listed does.</summary>
    public string ReadsAs { get; init; } = Part;

    /// <summary>Of what comes from elsewhere, against the return of the first source.</summary>
    public double Volts { get; init; }

    public override string ToString() =>
        Part.Length > 0
            ? FormattableString.Invariant($"{Part}: {Kind} {Size:0.###}")
            : FormattableString.Invariant($"{Kind} {A} {B} {Size:0.###}");
}

/// <summary>How often which fault is there. The usual frequencies are common practice, no source; docs/rules.md has the same.</summary>
public static class TrueFaults
{
    private static readonly Dictionary<TrueKind, (double Odds, (TrueFaultKind Kind, double Share)[] Kinds)> _usual = new()
    {
        [TrueKind.Contact] = (0.5, [(TrueFaultKind.Open, 0.4), (TrueFaultKind.HighResistance, 0.6)]),
        [TrueKind.Wire] = (0.3, [(TrueFaultKind.Open, 0.8), (TrueFaultKind.HighResistance, 0.2)]),
        [TrueKind.Bond] = (0.5, [(TrueFaultKind.Open, 0.7), (TrueFaultKind.HighResistance, 0.3)]),
        [TrueKind.Fuse] = (3, [(TrueFaultKind.Open, 0.95), (TrueFaultKind.HighResistance, 0.05)]),
        [TrueKind.Mains] = (3, [(TrueFaultKind.NoOutput, 0.8), (TrueFaultKind.LowOutput, 0.2)]),
        [TrueKind.Supply] = (4, [(TrueFaultKind.NoOutput, 0.7), (TrueFaultKind.LowOutput, 0.3)]),
        [TrueKind.Battery] = (5, [(TrueFaultKind.NoOutput, 0.3), (TrueFaultKind.LowOutput, 0.4), (TrueFaultKind.HighResistance, 0.3)]),
        [TrueKind.Switch] = (2, [(TrueFaultKind.StuckOff, 0.5), (TrueFaultKind.HighResistance, 0.35), (TrueFaultKind.Welded, 0.15)]),
        [TrueKind.Output] = (3, [(TrueFaultKind.StuckOff, 0.6), (TrueFaultKind.Welded, 0.4)]),
        [TrueKind.SolidState] = (3, [(TrueFaultKind.StuckOff, 0.4), (TrueFaultKind.Welded, 0.6)]),
        [TrueKind.Resistor] = (2, [(TrueFaultKind.Open, 0.6), (TrueFaultKind.Short, 0.25), (TrueFaultKind.Drift, 0.15)]),
        [TrueKind.Electronics] = (2, [(TrueFaultKind.Open, 0.6), (TrueFaultKind.Short, 0.25), (TrueFaultKind.Drift, 0.15)]),
        [TrueKind.Motor] = (3, [(TrueFaultKind.Open, 0.5), (TrueFaultKind.Short, 0.25), (TrueFaultKind.Drift, 0.25)]),
        [TrueKind.Lamp] = (4, [(TrueFaultKind.Open, 0.95), (TrueFaultKind.Short, 0.05)]),
        [TrueKind.Led] = (0.5, [(TrueFaultKind.Open, 0.9), (TrueFaultKind.Short, 0.1)]),
        [TrueKind.Diode] = (1, [(TrueFaultKind.Short, 0.6), (TrueFaultKind.Open, 0.4)]),
        [TrueKind.Regulator] = (2, [(TrueFaultKind.NoOutput, 0.8), (TrueFaultKind.LowOutput, 0.2)]),
        [TrueKind.ThreePhaseMains] = (3, [(TrueFaultKind.NoOutput, 0.8), (TrueFaultKind.LowOutput, 0.2)]),
        [TrueKind.ThreePhaseMotor] = (3, [(TrueFaultKind.Open, 0.5), (TrueFaultKind.Short, 0.25), (TrueFaultKind.Drift, 0.25)]),
        [TrueKind.Coil] = (1, [(TrueFaultKind.Open, 0.7), (TrueFaultKind.Short, 0.3)]),
        [TrueKind.MakeContact] = (0.7, [(TrueFaultKind.StuckOff, 0.4), (TrueFaultKind.HighResistance, 0.3), (TrueFaultKind.Welded, 0.3)]),
        [TrueKind.Transformer] = (1, [(TrueFaultKind.NoOutput, 0.9), (TrueFaultKind.LowOutput, 0.1)]),
    };

    /// <summary>A fault of a part.</summary>
    /// <param name="unlike">Every kind of part as often as the next, contacts and wires three times as often: not as the table.</param>
    public static TrueFault Of(TrueMachine machine, Random chance, bool unlike)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(chance);
        var of = machine.Parts.Where(p => _usual.ContainsKey(p.Kind)).ToList();
        double Odds(TruePart p) =>
            !unlike ? _usual[p.Kind].Odds
            : p.Kind is TrueKind.Contact or TrueKind.Wire ? 3
            : 1;
        var part = Drawn(of, Odds, chance);
        var kind = Drawn(_usual[part.Kind].Kinds, k => k.Share, chance).Kind;
        return new TrueFault(part.Name, kind, SizeOf(kind, chance)) { ReadsAs = part.Called };
    }

    /// <summary>Something that is in no list of faults, or no part of the machine.</summary>
    public static TrueFault Outside(TrueMachine machine, Random chance)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(chance);
        TrueFault? found = null;
        while (found is null)
        {
            switch (chance.Next(4))
            {
                case 0 when machine.Neighbours is { Count: > 0 } pairs:
                    var (a, b) = pairs[chance.Next(pairs.Count)];
                    found = new TrueFault("", TrueFaultKind.Bridge, LogUniform(0.5, 60, chance), a, b);
                    found = found with { ReadsAs = Between(machine, a, b) };
                    break;
                case 1:
                    var fuses = machine.Parts.Where(p => p.Kind == TrueKind.Fuse).ToList();
                    if (fuses.Count > 0)
                    {
                        // What is behind a fuse and shorted is listed as such, whatever it is.
                        var fuse = fuses[chance.Next(fuses.Count)];
                        found = new TrueFault("", TrueFaultKind.HiddenLoad, LogUniform(1.5, 12, chance), fuse.Nodes[1])
                        {
                            ReadsAs = $"something behind {fuse.Name}",
                        };
                    }

                    break;
                case 2:
                    found =
                        Any(machine, TrueKind.Motor, TrueFaultKind.Jammed, chance)
                        ?? Any(machine, TrueKind.ThreePhaseMotor, TrueFaultKind.Jammed, chance);
                    break;
                default:
                    found = Any(machine, TrueKind.Output, TrueFaultKind.NotCommanded, chance);
                    break;
            }
        }

        return found;
    }

    /// <summary>Volts from elsewhere at a pin, behind so many ohms: no listed fault feeds anything.</summary>
    public static TrueFault Foreign(TrueMachine machine, Random chance)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(chance);
        var sources = machine.Parts.Where(p => p.IsSource).SelectMany(p => p.Nodes);
        List<string> pins = [.. machine.Neighbours.SelectMany(n => new[] { n.A, n.B }).Distinct().Except(sources)];
        double[] volts = [5, 12, 24, -12];
        return new TrueFault("", TrueFaultKind.Foreign, LogUniform(1, 40, chance), pins[chance.Next(pins.Count)])
        {
            Volts = volts[chance.Next(volts.Length)],
        };
    }

    /// <summary>What a part may have, each kind in a small, a middle and a large size.</summary>
    public static IEnumerable<TrueFault> OfPart(TruePart part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return _usual.TryGetValue(part.Kind, out var usual)
            ? usual.Kinds.SelectMany(k =>
                Enumerable.Range(0, 3).Select(i => new TrueFault(part.Name, k.Kind, SizeOf(k.Kind, new Fixed((i + 0.5) / 3))))
            )
            : [];
    }

    /// <summary>Draws the same each time.</summary>
    private sealed class Fixed(double at) : Random
    {
        public override double NextDouble() => at;

        public override int Next(int maxValue) => (int)(at * maxValue);
    }

    /// <summary>A contact or a wire that is open at times.</summary>
    public static TrueFault AtTimes(TrueMachine machine, Random chance)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(chance);
        var of = machine.Parts.Where(p => p.Kind is TrueKind.Contact or TrueKind.Wire).ToList();
        return new TrueFault(Drawn(of, p => _usual[p.Kind].Odds, chance).Name, TrueFaultKind.Intermittent, 1);
    }

    private static string Between(TrueMachine machine, string a, string b) =>
        machine
            .Parts.Find(p =>
                p.Kind is not (TrueKind.Wire or TrueKind.Contact)
                && p.Nodes is [var x, var y]
                && (x, y) is var n
                && (n == (a, b) || n == (b, a))
            )
            ?.Name
        ?? "";

    private static TrueFault? Any(TrueMachine machine, TrueKind of, TrueFaultKind kind, Random chance)
    {
        var parts = machine.Parts.Where(p => p.Kind == of).ToList();
        return parts.Count == 0 ? null : new TrueFault(parts[chance.Next(parts.Count)].Name, kind, 1);
    }

    private static double SizeOf(TrueFaultKind kind, Random chance) =>
        kind switch
        {
            TrueFaultKind.HighResistance => LogUniform(0.3, 30, chance),
            TrueFaultKind.Short => LogUniform(0.02, 0.4, chance),
            TrueFaultKind.LowOutput => 0.5 + (0.35 * chance.NextDouble()),
            TrueFaultKind.Drift => chance.Next(2) == 0 ? 0.4 + (0.3 * chance.NextDouble()) : 1.5 + chance.NextDouble(),
            _ => 1,
        };

    private static double LogUniform(double from, double to, Random chance) => from * Math.Pow(to / from, chance.NextDouble());

    private static T Drawn<T>(IReadOnlyList<T> of, Func<T, double> odds, Random chance)
    {
        var at = chance.NextDouble() * of.Sum(odds);
        return of.FirstOrDefault(o => (at -= odds(o)) <= 0) ?? of[^1];
    }
}
