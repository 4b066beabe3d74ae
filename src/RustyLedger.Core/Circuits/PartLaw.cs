namespace RustyLedger.Core.Circuits;

/// <summary>What a part is to the current.</summary>
public enum LawKind
{
    Mains,
    Supply,
    Battery,
    Fuse,
    ResidualBreaker,
    Switch,
    Output,
    SolidState,
    RelayCoil,
    MakeContact,
    BreakContact,
    Wire,
    Contact,
    Bond,
    Load,
    Motor,
    Lamp,
    Led,
    Diode,
    Rectifier,
    Transformer,
    Regulator,
    Capacitor,
    Potentiometer,

    /// <summary>A path on a board.</summary>
    Track,
}

/// <summary>Who says a number.</summary>
public enum NumberFrom
{
    Entered,
    Marking,
    Assumed,
}

/// <summary>One number of a part.</summary>
/// <param name="Name">What it is, such as <c>volts</c> or <c>pulls in at</c>.</param>
/// <param name="Unit">SI symbol, without a prefix.</param>
/// <param name="Spread">By what share of itself it may be off either way.</param>
public sealed record StatedNumber(string Name, double Value, string Unit, NumberFrom From, double Spread);

/// <summary>A part's kind and its numbers, each with who says it.</summary>
/// <param name="Of">Of a contact, the relay whose it is; empty otherwise.</param>
/// <param name="Missing">What must be entered and is not, in words; empty where all is there.</param>
public sealed record PartLaw(LawKind Kind, IReadOnlyList<StatedNumber> Numbers, string Of, string Missing)
{
    /// <summary>A rectifier or supply whose output is held up by a capacitor.</summary>
    public bool IsSmoothed { get; init; }

    public bool IsThreePhase { get; init; }

    /// <summary>A board or a sensor, of which ohms on a dead machine say no more than that it is not shorted.</summary>
    public bool IsElectronic { get; init; }

    /// <summary>A coil, a valve, a heater or a horn: it is there to do something, and is made for what feeds the machine.</summary>
    public bool IsDriven { get; init; }

    /// <summary>A breaker, an overload, a residual-current device: what trips can be closed again.</summary>
    public bool Trips { get; init; }

    public double this[string name] => Numbers.First(n => n.Name == name).Value;

    public bool Has(string name) => Numbers.Any(n => n.Name == name);

    /// <summary>The same with one number so many times what it is.</summary>
    public PartLaw Scaled(string name, double factor) =>
        this with
        {
            Numbers = [.. Numbers.Select(n => n.Name == name ? n with { Value = n.Value * factor } : n)],
        };

    /// <summary>It is there to feed others.</summary>
    public bool IsSource => Kind is LawKind.Mains or LawKind.Supply or LawKind.Battery;

    /// <summary>It opens where too much flows, or where something does not come back.</summary>
    public bool IsProtection => Kind is LawKind.Fuse or LawKind.ResidualBreaker;

    /// <summary>It is there to switch.</summary>
    public bool Switches => Kind is LawKind.Switch or LawKind.Output or LawKind.SolidState;
}
