using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Safety;

public enum SourceKind
{
    Mains,
    Battery,
    Generator,
    Solar,

    /// <summary>A control voltage that another panel feeds in.</summary>
    ControlVoltage,
    Gas,
    Water,
    Gravity,
    Spring,
    Pressure,
    Heat,
}

/// <summary>Where energy comes into a machine, and what keeps it out.</summary>
/// <param name="Isolation">Where it is isolated, such as <c>main switch Q1 beside the door</c>.</param>
/// <param name="Volts">Nominal; null where it is not electrical.</param>
/// <param name="Conductors">As they are printed, such as L1, L2, N; the protective earth is not among them.</param>
/// <param name="HasEarth">Each conductor is proved dead to earth too.</param>
/// <param name="OthersCanRestore">Somebody else could switch it on again, so it is locked and tagged.</param>
/// <param name="Release">How what it stores is let go, such as <c>land the load</c>; empty where nothing is stored.</param>
public sealed record EnergySource(
    string Id,
    SourceKind Kind,
    string Name,
    string Isolation,
    decimal? Volts,
    IReadOnlyList<string> Conductors,
    bool HasEarth,
    bool OthersCanRestore,
    string Release
)
{
    public bool IsElectrical =>
        Kind is SourceKind.Mains or SourceKind.Battery or SourceKind.Generator or SourceKind.Solar or SourceKind.ControlVoltage;

    /// <summary>Can put alternating volts onto its own conductors.</summary>
    public bool IsAlternating => Kind is SourceKind.Mains or SourceKind.Generator or SourceKind.ControlVoltage;

    /// <summary>
    /// All between which it is proved dead: its conductors, and earth. One of a single conductor returns through the chassis. Fewer
    /// than two cannot be proved.
    /// </summary>
    public IReadOnlyList<string> Ends =>
        HasEarth ? [.. Conductors, "earth"]
        : Conductors.Count == 1 ? [.. Conductors, "chassis"]
        : Conductors;
}

/// <summary>A capacitor that stays charged after switching off.</summary>
/// <param name="Microfarads">C, in µF.</param>
/// <param name="CapacitanceTolerancePercent">How much larger C may be than marked.</param>
/// <param name="BleedOhms">R of the bleed resistor, in Ω; null where there is none.</param>
/// <param name="BleedTolerancePercent">How much larger R may be than marked.</param>
/// <param name="Volts">V0, when switched off.</param>
/// <param name="SourceId">The source that charges it.</param>
public sealed record StoredCharge(
    string Id,
    string Name,
    decimal Microfarads,
    decimal CapacitanceTolerancePercent,
    decimal? BleedOhms,
    decimal BleedTolerancePercent,
    decimal Volts,
    string SourceId
);

/// <summary>What must go on running after switching off, such as the fan over a hot element.</summary>
/// <param name="Words">What to do, and what not before it has passed.</param>
public sealed record RunOn(string Id, string Name, decimal Minutes, string Words);

public enum InterlockKind
{
    OverTemperature,
    Flow,
    Flame,
    Gas,
    Entrapment,
    Stop,
    Guard,
}

/// <summary>A protective device whose bypass can hurt someone.</summary>
/// <param name="From">One side of its contact; null where its pins are not in the wiring.</param>
/// <param name="To">The other side.</param>
/// <param name="EquivalentTest">The test that leaves it in circuit.</param>
public sealed record Interlock(string Id, InterlockKind Kind, string Name, PinAddress? From, PinAddress? To, string EquivalentTest);

public enum CautionWhen
{
    Always,
    Live,
    NotProvedDead,
    ProvedDead,
}

/// <summary>One short sentence where work on this model can hurt.</summary>
public sealed record Caution(string Words, CautionWhen When);

/// <summary>What can hurt at a model: sources, what stays stored, what protects, and what to say.</summary>
/// <param name="WetPlace">The lower limits of the shop hold.</param>
/// <param name="LifeSafety">What it protects lives by, such as <c>opens the gate in a fire</c>; empty where it does not.</param>
public sealed record SafetySheet(
    IReadOnlyList<EnergySource> Sources,
    IReadOnlyList<StoredCharge> Charges,
    IReadOnlyList<RunOn> RunOns,
    IReadOnlyList<Interlock> Interlocks,
    IReadOnlyList<Caution> Cautions,
    bool WetPlace,
    string LifeSafety
)
{
    public static SafetySheet Empty { get; } = new([], [], [], [], [], false, "");

    /// <summary>People are in the water it serves; the lowest limits of the shop hold.</summary>
    public bool Immersed { get; init; }

    /// <summary>Somebody said that nothing electrical feeds it. Until then one supply is taken as given.</summary>
    public bool HasNoSupply { get; init; }

    /// <summary>
    /// Nobody has said what feeds the machine with electricity, so one supply of two conductors and earth is taken as given.
    /// </summary>
    public bool IsAssumed => !HasNoSupply && !Sources.Any(s => s.IsElectrical);

    public IReadOnlyList<EnergySource> SourcesOrAssumed => IsAssumed ? [Assumed, .. Sources] : Sources;

    /// <summary>By its nature, before anybody says otherwise of the place.</summary>
    public Wetness Place =>
        Immersed ? Wetness.Immersed
        : WetPlace ? Wetness.Wet
        : Wetness.Dry;

    private static EnergySource Assumed { get; } = new("supply", SourceKind.Mains, "supply", "", null, ["L", "N"], true, true, "");
}
