namespace RustyLedger.Core.Measuring;

/// <summary>What kind of quantity a number is. Values are always held in the unit without a prefix.</summary>
public enum Unit
{
    Volts,
    Amps,
    Ohms,
    Hertz,
    Seconds,
    Celsius,

    /// <summary>Held in millionths of a farad, as meters and capacitors say them.</summary>
    Microfarads,

    /// <summary>Pressure above that of the air.</summary>
    Bar,

    /// <summary>Turns a minute.</summary>
    Rpm,
}

/// <summary>Whether a voltage or a current alternates; <see cref="Unstated"/> where the text did not say.</summary>
public enum Current
{
    Unstated,
    Direct,
    Alternating,
}

/// <summary>How the meter, or the eye, is set for a check.</summary>
public enum MeterMode
{
    DcVolts,
    AcVolts,
    DcAmps,
    AcAmps,
    Ohms,
    Continuity,
    Diode,
    Frequency,
    Time,
    Temperature,
    Contact,
    Lamp,
    Word,
    Capacitance,
    Pressure,
    Speed,

    /// <summary>Ohms of an insulation at hundreds of volts, with the boards disconnected.</summary>
    Insulation,

    /// <summary>Ohms of the protective conductor, by a tester with a current of its own.</summary>
    EarthBond,

    /// <summary>What flows to earth, by a clamp around all live conductors or a tester.</summary>
    Leakage,
}

public static class Units
{
    /// <summary>The meter feeds a current of its own, so nothing else may: ohms, continuity, diode.</summary>
    public static bool NeedsDead(this MeterMode mode) =>
        mode
            is MeterMode.Ohms
                or MeterMode.Continuity
                or MeterMode.Diode
                or MeterMode.Capacitance
                or MeterMode.Insulation
                or MeterMode.EarthBond;

    /// <summary>What must be seen to before a reading in this mode, in a sentence; empty where nothing must.</summary>
    public static string Caution(this MeterMode mode) =>
        mode switch
        {
            MeterMode.Insulation => "Boards and sensors disconnected first: its volts destroy them. Discharge what was tested.",
            MeterMode.Capacitance => "Discharged first, and a leg or the plug out.",
            MeterMode.EarthBond => "Supply off; the lead of the tester subtracted.",
            MeterMode.Leakage => "Clamp around all live conductors together, not the earth.",
            _ => "",
        };

    /// <summary>The SI symbol of a unit, as it is printed after a number.</summary>
    public static string Symbol(this Unit unit) =>
        unit switch
        {
            Unit.Volts => "V",
            Unit.Amps => "A",
            Unit.Ohms => "Ω",
            Unit.Hertz => "Hz",
            Unit.Seconds => "s",
            Unit.Celsius => "°C",
            Unit.Microfarads => "µF",
            Unit.Bar => "bar",
            Unit.Rpm => "rpm",
            _ => throw new ArgumentOutOfRangeException(nameof(unit)),
        };

    /// <summary>The unit a reading in this mode has; null where the reading is a word or a state.</summary>
    public static Unit? UnitOf(this MeterMode mode) =>
        mode switch
        {
            MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.Diode => Unit.Volts,
            MeterMode.DcAmps or MeterMode.AcAmps => Unit.Amps,
            MeterMode.Ohms or MeterMode.Continuity => Unit.Ohms,
            MeterMode.Frequency => Unit.Hertz,
            MeterMode.Time => Unit.Seconds,
            MeterMode.Temperature => Unit.Celsius,
            MeterMode.Capacitance => Unit.Microfarads,
            MeterMode.Pressure => Unit.Bar,
            MeterMode.Speed => Unit.Rpm,
            MeterMode.Insulation or MeterMode.EarthBond => Unit.Ohms,
            MeterMode.Leakage => Unit.Amps,
            _ => null,
        };

    /// <summary>The mode in a technician's words.</summary>
    public static string Words(this MeterMode mode) =>
        mode switch
        {
            MeterMode.DcVolts => "DC volts",
            MeterMode.AcVolts => "AC volts",
            MeterMode.DcAmps => "DC amps",
            MeterMode.AcAmps => "AC amps",
            MeterMode.Ohms => "ohms",
            MeterMode.Continuity => "continuity",
            MeterMode.Diode => "diode drop",
            MeterMode.Frequency => "frequency",
            MeterMode.Time => "seconds",
            MeterMode.Temperature => "temperature",
            MeterMode.Contact => "contact",
            MeterMode.Lamp => "lamp",
            MeterMode.Word => "displayed word",
            MeterMode.Capacitance => "capacitance",
            MeterMode.Pressure => "pressure",
            MeterMode.Speed => "speed",
            MeterMode.Insulation => "insulation",
            MeterMode.EarthBond => "earth bond",
            MeterMode.Leakage => "leakage",
            _ => throw new ArgumentOutOfRangeException(nameof(mode)),
        };

    /// <summary>The mode a value of this unit is read in when nothing else was said.</summary>
    internal static MeterMode DefaultMode(Unit unit, Current current) =>
        unit switch
        {
            Unit.Volts => current == Current.Alternating ? MeterMode.AcVolts : MeterMode.DcVolts,
            Unit.Amps => current == Current.Alternating ? MeterMode.AcAmps : MeterMode.DcAmps,
            Unit.Ohms => MeterMode.Ohms,
            Unit.Hertz => MeterMode.Frequency,
            Unit.Seconds => MeterMode.Time,
            Unit.Microfarads => MeterMode.Capacitance,
            Unit.Bar => MeterMode.Pressure,
            Unit.Rpm => MeterMode.Speed,
            _ => MeterMode.Temperature,
        };

    /// <summary>Whether a mode measures alternating or direct current; unstated where neither applies.</summary>
    internal static Current CurrentOf(MeterMode mode) =>
        mode switch
        {
            MeterMode.AcVolts or MeterMode.AcAmps => Current.Alternating,
            MeterMode.DcVolts or MeterMode.DcAmps => Current.Direct,
            _ => Current.Unstated,
        };
}
