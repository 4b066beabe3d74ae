namespace RustyLedger.Core.Circuits;

/// <summary>
/// One thing of a circuit that carries current between nodes. Nodes are named as they are printed; <see cref="Circuit.Reference"/> is the
/// one that all volts are counted from.
/// </summary>
/// <param name="Name">Its own in the circuit.</param>
public abstract record CircuitElement(string Name)
{
    /// <summary>The nodes it touches, in its own order.</summary>
    public abstract IReadOnlyList<string> Nodes { get; }
}

/// <summary>A resistor, and whatever is one: a wire, a contact, a heater, a lamp, an insulation.</summary>
/// <param name="Ohms">0 or more.</param>
public sealed record Resistance(string Name, string A, string B, double Ohms) : CircuitElement(Name)
{
    /// <summary>What a meter of ohms finds of a motor at rest or a cold lamp; null where it is no other than <see cref="Ohms"/>.</summary>
    public double? DeadOhms { get; init; }

    /// <summary>
    /// A board or a sensor: of what it takes at its volts a meter's test volts find less, or nothing.
    /// </summary>
    public bool IsElectronic { get; init; }

    /// <summary>At fault: a short in the place of what it was, dead as well.</summary>
    public bool IsShorted { get; init; }

    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>A source of volts with what is in series with it: a battery, a supply, a motor with its back-EMF.</summary>
/// <param name="Volts">DC.</param>
/// <param name="Ohms">In series, 0 or more.</param>
/// <param name="AcVolts">Amplitude of the sine, in the same unit as is asked for.</param>
/// <param name="Degrees">Phase of the sine.</param>
public sealed record VoltageSource(
    string Name,
    string Plus,
    string Minus,
    double Volts,
    double Ohms = 0,
    double AcVolts = 0,
    double Degrees = 0
) : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [Plus, Minus];
}

/// <summary>A current that flows whatever the volts, from one node through the source to the other.</summary>
public sealed record CurrentSource(string Name, string From, string To, double Amps) : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [From, To];
}

/// <summary>
/// A diode, an LED, a junction: nothing below its forward volts, and its ohms above; backwards nothing up to its breakdown.
/// </summary>
/// <param name="ReverseVolts">At which it conducts backwards, above 0; null where it does not.</param>
public sealed record Diode(string Name, string Anode, string Cathode, double ForwardVolts, double Ohms, double? ReverseVolts = null)
    : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [Anode, Cathode];
}

/// <summary>A switch, a button, a plug, an output that switches: as somebody set it.</summary>
public sealed record Switch(string Name, string A, string B, bool IsClosed, double Ohms) : CircuitElement(Name)
{
    /// <summary>It is welded: closed whatever is done to it.</summary>
    public bool IsWelded { get; init; }

    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>A fuse or a breaker: opens for good where more than its rated current flows steadily.</summary>
public sealed record Fuse(string Name, string A, string B, double Amps, double Ohms) : CircuitElement(Name)
{
    /// <summary>Of a pole, the device that it is of: where one pole of it opens, all do. Null of what stands alone.</summary>
    public string? Device { get; init; }

    /// <summary>
    /// Of a residual-current device, in amps and above 0: from so much on that goes out through its poles and does not come back through
    /// them, it opens. Its poles lie from the supply to the load. Null where nothing looks at that.
    /// </summary>
    public double? Residual { get; init; }

    /// <summary>It can be closed again: a breaker.</summary>
    public bool Trips { get; init; }

    /// <summary>What opens, in words, such as <c>F1 blows</c>.</summary>
    internal string Opening => $"{Device ?? Name} {(Trips ? "trips" : "blows")}";

    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>The coil of a relay or contactor.</summary>
/// <param name="PullIn">From so many volts on, of either sign, it pulls in.</param>
/// <param name="DropOut">Below so many volts it drops out; below <paramref name="PullIn"/>.</param>
public sealed record RelayCoil(string Name, string A, string B, double Ohms, double PullIn, double DropOut) : CircuitElement(Name)
{
    /// <summary>For how long its volts must suffice before it pulls in, in seconds; 0 or more.</summary>
    public double PullDelay { get; init; }

    /// <summary>For how long they must be gone before it drops out, in seconds; 0 or more.</summary>
    public double DropDelay { get; init; }

    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>A contact of a relay.</summary>
/// <param name="Coil">Name of its coil.</param>
/// <param name="ClosesWhenHeld">Open at rest; otherwise closed at rest.</param>
public sealed record RelayContact(string Name, string Coil, string A, string B, bool ClosesWhenHeld, double Ohms) : CircuitElement(Name)
{
    /// <summary>It is welded: closed whatever its coil does.</summary>
    public bool AlwaysCloses { get; init; }

    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>
/// A regulator in series: holds its output while its input suffices, passes on the input less its drop-out where it does not, and gives
/// no more than its limit.
/// </summary>
/// <param name="Limit">In amps.</param>
public sealed record Regulator(string Name, string In, string Out, string Common, double Volts, double DropOut, double Limit)
    : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [In, Out, Common];
}

/// <summary>Open to direct current.</summary>
public sealed record Capacitance(string Name, string A, string B, double Farads) : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <param name="Ohms">Of its winding.</param>
public sealed record Inductance(string Name, string A, string B, double Henry, double Ohms) : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [A, B];
}

/// <summary>A transformer: its two windings, and the volts of the one against the other for alternating current.</summary>
/// <param name="Ratio">Secondary volts of one volt at the primary, off load.</param>
/// <param name="SecondaryOhms">All it loses under load, as seen at the secondary.</param>
/// <param name="PrimaryOhms">Of the primary winding, for direct current.</param>
public sealed record Transformer(
    string Name,
    string P1,
    string P2,
    string S1,
    string S2,
    double Ratio,
    double SecondaryOhms,
    double PrimaryOhms
) : CircuitElement(Name)
{
    public override IReadOnlyList<string> Nodes => [P1, P2, S1, S2];
}

/// <summary>
/// A rectifier or a switching supply: direct current out of what comes in, alternating or direct, with nothing that conducts between the
/// two sides. Its output follows the input, or is held where <paramref name="Volts"/> says so.
/// </summary>
/// <param name="Volts">Held at the output, above 0; null for a rectifier, whose output follows.</param>
/// <param name="Ratio">Of a rectifier, output volts of one volt (root mean square) at its input: √2 where it is smoothed, 2√2/π (the
/// mean of both half-waves) where it is not.</param>
/// <param name="Drop">Of a rectifier, what its junctions take.</param>
/// <param name="LeastIn">Of a supply, below so many volts it gives nothing.</param>
/// <param name="Ohms">In series with its output, 0 or more.</param>
/// <param name="Limit">The most it gives, in amps, above 0.</param>
public sealed record Converter(
    string Name,
    string A,
    string B,
    string Plus,
    string Minus,
    double? Volts,
    double Ratio,
    double Drop,
    double LeastIn,
    double Ohms,
    double Limit
) : CircuitElement(Name)
{
    // What goes in beyond what comes out. Common practice, no source.
    private const double Efficiency = 0.85;

    /// <summary>Output without load at the input as it is; found by the operating point.</summary>
    public double OpenVolts { get; init; }

    /// <summary>How it loads its input as it is; found by the operating point.</summary>
    public double InSiemens { get; init; }

    public override IReadOnlyList<string> Nodes => [A, B, Plus, Minus];

    /// <summary>The same with so many volts coming in and so many amps going out.</summary>
    internal Converter At(double volts, double amps)
    {
        var open = Volts is { } held ? (volts >= LeastIn ? held : 0) : Math.Max(0, (Ratio * volts) - Drop);
        var watts = Math.Max(0, amps) * (Volts is null ? open + Drop : open / Efficiency);
        return this with { OpenVolts = open, InSiemens = volts > 0 ? watts / (volts * volts) : 0 };
    }
}
