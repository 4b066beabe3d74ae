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

    /// <summary>Of a period: how much of it an output is on.</summary>
    Percent,
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

    /// <summary>The most that flows at switch-on, by a clamp that catches it.</summary>
    Inrush,

    /// <summary>What alternates on a rail that should be direct, under load.</summary>
    Ripple,

    /// <summary>How much of each period an output is on.</summary>
    Duty,

    /// <summary>How long a residual-current device takes to trip, by a tester.</summary>
    ResidualTrip,

    /// <summary>In which order three phases follow each other.</summary>
    PhaseRotation,

    /// <summary>Volts of a battery while it carries its load.</summary>
    BatteryUnderLoad,

    /// <summary>Heard or not, and how often.</summary>
    Sound,

    /// <summary>What happens in which order, and when, see <see cref="SequenceLimit"/>.</summary>
    Sequence,

    /// <summary>A fuse: dead by continuity, or live by three readings, see <see cref="FuseReading"/>.</summary>
    Fuse,
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

    /// <summary>It shows what flows or stands while the machine is fed; on a dead one it says nothing.</summary>
    public static bool NeedsLive(this MeterMode mode) =>
        mode
            is MeterMode.DcAmps
                or MeterMode.AcAmps
                or MeterMode.Leakage
                or MeterMode.Inrush
                or MeterMode.Ripple
                or MeterMode.Duty
                or MeterMode.ResidualTrip
                or MeterMode.PhaseRotation
                or MeterMode.BatteryUnderLoad;

    /// <summary>Without its load it reads well whatever is wrong with it.</summary>
    public static bool NeedsLoad(this MeterMode mode) => mode is MeterMode.Ripple or MeterMode.BatteryUnderLoad;

    /// <summary>Amps: read by a clamp around a wire, without a second probe.</summary>
    public static bool IsByClamp(this MeterMode mode) => mode is MeterMode.DcAmps or MeterMode.AcAmps;

    /// <summary>What must be seen to before a reading in this mode, in a sentence; empty where nothing must.</summary>
    public static string Caution(this MeterMode mode) =>
        mode switch
        {
            MeterMode.Insulation => "Boards and sensors disconnected first: its volts destroy them. Discharge what was tested.",
            MeterMode.Capacitance => "Discharged first, and a leg or the plug out.",
            MeterMode.EarthBond => "Supply off; the lead of the tester subtracted.",
            MeterMode.Leakage => "Clamp around all live conductors together, not the earth.",
            MeterMode.Inrush => "By a clamp that catches the first half cycle; a plain maximum misses it.",
            MeterMode.Ripple => "AC volts on the rail, with its load on.",
            MeterMode.ResidualTrip => "It cuts off all that hangs on it: say so first.",
            MeterMode.PhaseRotation => "All three leads on before it is switched on.",
            MeterMode.BatteryUnderLoad => "With its load on; write how long.",
            MeterMode.Fuse =>
                "Dead and pulled: beep or silent. Live: fed end, far end, across; low impedance, and nothing that feeds back.",
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
            Unit.Percent => "% duty",
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
            MeterMode.Leakage or MeterMode.Inrush => Unit.Amps,
            MeterMode.Ripple or MeterMode.BatteryUnderLoad => Unit.Volts,
            MeterMode.Duty => Unit.Percent,
            MeterMode.ResidualTrip => Unit.Seconds,
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
            MeterMode.Inrush => "inrush",
            MeterMode.Ripple => "ripple",
            MeterMode.Duty => "duty",
            MeterMode.ResidualTrip => "residual-current trip",
            MeterMode.PhaseRotation => "phase rotation",
            MeterMode.BatteryUnderLoad => "battery under load",
            MeterMode.Sound => "sound",
            MeterMode.Sequence => "sequence",
            MeterMode.Fuse => "fuse",
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
            Unit.Percent => MeterMode.Duty,
            _ => MeterMode.Temperature,
        };

    /// <summary>Whether a mode measures alternating or direct current; unstated where neither applies.</summary>
    internal static Current CurrentOf(MeterMode mode) =>
        mode switch
        {
            MeterMode.AcVolts or MeterMode.AcAmps or MeterMode.Ripple => Current.Alternating,
            MeterMode.DcVolts or MeterMode.DcAmps or MeterMode.BatteryUnderLoad => Current.Direct,
            _ => Current.Unstated,
        };
}
