namespace RustyLedger.Worlds;

/// <summary>What a part of a true machine does to the current.</summary>
public enum TrueKind
{
    Wire,
    Contact,
    Track,
    Fuse,
    Bond,
    Battery,
    Supply,
    Mains,
    Switch,
    Output,
    SolidState,
    Resistor,

    /// <summary>A board or a sensor: nothing below a third of its volts, a load above.</summary>
    Electronics,
    Motor,
    Lamp,
    Led,
    Diode,
    Regulator,
    Transformer,
    ThreePhaseMains,
    ThreePhaseMotor,

    /// <summary>Of a contactor.</summary>
    Coil,

    /// <summary>Closed while its coil has most of its volts.</summary>
    MakeContact,
}

/// <summary>A part as it truly is.</summary>
/// <param name="Name">As printed; of a part with several rows, such as a contactor, with the row's number.</param>
/// <param name="Nodes">Its ends.</param>
/// <param name="Volts">Of a source or a load as rated; of a transformer, of its first winding.</param>
/// <param name="Amps">Of a load as rated; of a fuse; the most that a supply or a regulator gives.</param>
/// <param name="Ohms">Of what conducts; of a motor its winding; of a lamp its cold filament; inside a battery.</param>
/// <param name="ToVolts">Of a transformer's second winding; of an LED, its own.</param>
/// <param name="ClosedIn">Of what switches: in which states it is on.</param>
/// <param name="Sees">Of an output: between which nodes it wants to see <paramref name="SeesVolts"/>; null where it wants nothing.</param>
public sealed record TruePart(
    string Name,
    TrueKind Kind,
    IReadOnlyList<string> Nodes,
    double Volts,
    double Amps,
    double Ohms,
    double ToVolts,
    IReadOnlySet<string>? ClosedIn,
    (string Red, string Black)? Sees,
    double SeesVolts
)
{
    /// <summary>What the ledger calls it.</summary>
    public string Called { get; init; } = Name;

    /// <summary>Of a contact, its coil.</summary>
    public TruePart? Coil { get; init; }

    public bool IsSource => Kind is TrueKind.Battery or TrueKind.Supply or TrueKind.Mains or TrueKind.ThreePhaseMains;

    /// <summary>Something of which a person sees whether it does what it should.</summary>
    public bool IsLoad =>
        Kind
            is TrueKind.Resistor
                or TrueKind.Electronics
                or TrueKind.Motor
                or TrueKind.ThreePhaseMotor
                or TrueKind.Coil
                or TrueKind.Lamp
                or TrueKind.Led;

    public bool IsClosedIn(string state) => ClosedIn?.Contains(state) ?? true;
}
