namespace RustyLedger.Core.Circuits;

/// <summary>What may be wrong with an element. The numbers are kept in books and files: they never change their meaning.</summary>
public enum FaultKind
{
    Open = 1,
    Short = 2,

    /// <summary>A bad contact, a corroded wire: more ohms than it should have.</summary>
    HighResistance = 3,

    /// <summary>Its value has strayed.</summary>
    Drift = 4,

    /// <summary>A contact that does not open.</summary>
    Welded = 5,

    /// <summary>A switch or contact that does not close.</summary>
    StuckOff = 6,

    NoOutput = 7,
    LowOutput = 8,

    /// <summary>A wire that touches the chassis, more or less.</summary>
    LeakToChassis = 9,

    /// <summary>Two neighbouring wires of a plug in each other's places.</summary>
    Exchanged = 10,

    /// <summary>A plug that sits one pin over.</summary>
    OnePinOver = 11,

    /// <summary>Open at times and whole at times.</summary>
    Intermittent = 12,
}

/// <summary>One element with something wrong.</summary>
/// <param name="Size">How wrong, in the unit of what changed, where there are several sizes of it; null where it is one.</param>
/// <param name="Faulted">The element as it is then, with the nodes it had.</param>
public sealed record CircuitFault(string Element, FaultKind Kind, double? Size, CircuitElement Faulted)
{
    /// <summary>The fault on its element as that stands at a moment: a switch is turned on the way.</summary>
    public CircuitElement On(CircuitElement asItStands) =>
        (asItStands, Faulted) switch
        {
            (Switch now, Switch then) when Kind != FaultKind.Welded => now with { Ohms = then.Ohms },
            _ => Faulted,
        };

    /// <summary>In the words of the trade.</summary>
    public string Words =>
        Kind switch
        {
            FaultKind.Open => $"{Element} open",
            FaultKind.Short => $"{Element} shorted{(Size is { } s ? $" over {Sums.Quantity.Write(s, "Ω")}" : "")}",
            FaultKind.HighResistance => $"{Element} with {Sums.Quantity.Write(Size ?? 0, "Ω")} too much",
            FaultKind.Drift => $"{Element} at {Sums.Quantity.Write(Size ?? 0, "")} of its value",
            FaultKind.Welded => $"{Element} welded",
            FaultKind.StuckOff => $"{Element} does not close",
            FaultKind.NoOutput => $"{Element} gives nothing",
            _ => $"{Element} gives too little",
        };
}

/// <summary>The faults that elements have by their kind.</summary>
public static class CircuitFaults
{
    // Sizes that stand for a range. Common practice, no source.
    private static readonly double[] BadContacts = [0.5, 5, 50];
    private static readonly double[] Drifts = [0.35, 0.6, 0.8, 1.25, 1.7, 2.8];
    private const double ShortOhms = 0.01;

    // A short need not be a dead one, as long as it is far from what the part was.
    private static readonly double[] Shorts = [0.15, 1];
    private const double MostOfShort = 0.1;
    private const double LowShare = 0.7;

    /// <summary>Every single fault of every element.</summary>
    public static IReadOnlyList<CircuitFault> Of(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return [.. circuit.Elements.SelectMany(Of)];
    }

    /// <summary>Every fault of one element; none for a source of current, which stands for something outside.</summary>
    public static IReadOnlyList<CircuitFault> Of(CircuitElement element)
    {
        ArgumentNullException.ThrowIfNull(element);
        CircuitFault Fault(FaultKind kind, CircuitElement faulted, double? size = null) => new(element.Name, kind, size, faulted);
        const double Open = double.PositiveInfinity;
        return element switch
        {
            // What is there to conduct has bad contacts; what is there to resist strays.
            Resistance { Ohms: < 1 } r =>
            [
                Fault(FaultKind.Open, r with { Ohms = Open }),
                .. BadContacts.Select(o => Fault(FaultKind.HighResistance, r with { Ohms = r.Ohms + o }, o)),
            ],
            Resistance r =>
            [
                Fault(FaultKind.Open, r with { Ohms = Open }),
                Fault(FaultKind.Short, r with { Ohms = ShortOhms, IsShorted = true }),
                .. Shorts
                    .Where(o => o < MostOfShort * r.Ohms)
                    .Select(o => Fault(FaultKind.Short, r with { Ohms = o, IsShorted = true }, o)),
                .. Drifts.Select(d => Fault(FaultKind.Drift, r with { Ohms = r.Ohms * d }, d)),
            ],
            Switch s =>
            [
                Fault(FaultKind.StuckOff, s with { Ohms = Open }),
                Fault(FaultKind.Welded, s with { IsClosed = true, IsWelded = true }),
                .. BadContacts.Select(o => Fault(FaultKind.HighResistance, s with { Ohms = s.Ohms + o }, o)),
            ],
            RelayContact c =>
            [
                Fault(FaultKind.StuckOff, c with { Ohms = Open }),
                .. BadContacts.Select(o => Fault(FaultKind.HighResistance, c with { Ohms = c.Ohms + o }, o)),
            ],
            Fuse f =>
            [
                Fault(FaultKind.Open, f with { Ohms = Open }),
                .. BadContacts.Select(o => Fault(FaultKind.HighResistance, f with { Ohms = f.Ohms + o }, o)),
            ],
            RelayCoil c =>
            [
                // It has its volts, and no current goes round it: whatever is wrong with a coil, it pulls nothing in.
                Fault(FaultKind.Open, c with { Ohms = Open, PullIn = Open, DropOut = 0 }),
                Fault(FaultKind.Short, c with { Ohms = ShortOhms, PullIn = Open, DropOut = 0 }),
                Fault(FaultKind.StuckOff, c with { PullIn = Open, DropOut = 0 }),
            ],
            Diode d =>
            [
                Fault(FaultKind.Open, d with { ForwardVolts = Open, ReverseVolts = null }),
                // Both ways from nothing on.
                Fault(FaultKind.Short, d with { ForwardVolts = 0, Ohms = ShortOhms, ReverseVolts = double.Epsilon }),
            ],
            VoltageSource v =>
            [
                Fault(FaultKind.NoOutput, v with { Ohms = Open }),
                Fault(FaultKind.LowOutput, v with { Volts = v.Volts * LowShare, AcVolts = v.AcVolts * LowShare }, LowShare),
            ],
            Regulator r =>
            [
                Fault(FaultKind.NoOutput, r with { Limit = double.Epsilon }),
                Fault(FaultKind.LowOutput, r with { Volts = r.Volts * LowShare }, LowShare),
            ],
            Converter c =>
            [
                Fault(FaultKind.NoOutput, c with { Limit = double.Epsilon }),
                Fault(FaultKind.LowOutput, c with { Volts = c.Volts * LowShare, Ratio = c.Ratio * LowShare }, LowShare),
            ],
            Capacitance c => [Fault(FaultKind.Open, c with { Farads = 0 })],
            Inductance l => [Fault(FaultKind.Open, l with { Ohms = Open })],
            Transformer t => [Fault(FaultKind.LowOutput, t with { Ratio = t.Ratio * LowShare }, LowShare)],
            _ => [],
        };
    }
}
