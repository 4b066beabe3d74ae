using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What can be done next.</summary>
public enum ActKind
{
    Read,

    /// <summary>A function tried.</summary>
    Try,

    /// <summary>A lamp looked at.</summary>
    Look,

    /// <summary>A part looked at closely.</summary>
    Inspect,

    /// <summary>A part that changes places with an equal one: the fault follows it, or stays.</summary>
    Swap,

    /// <summary>A part replaced or repaired.</summary>
    Fit,
    Wait,
    Leave,

    /// <summary>A board says by itself what it finds, on a display, by a lamp, by beeps or by when things happen.</summary>
    Code,

    /// <summary>A whole fuse put in or a breaker closed, and the machine switched on: it holds, or it opens.</summary>
    Close,

    /// <summary>A plug and its wires moved while it runs: what comes and goes there changes with it.</summary>
    Wiggle,
}

/// <summary>One thing that can be done on a machine, with what it needs and where it aims.</summary>
/// <param name="Id">The same for the same act, whoever makes it.</param>
/// <param name="State">Code of the operating state it is done in.</param>
/// <param name="Aims">Names of the parts that it touches: what it says, it says of these first.</param>
public sealed record Act(string Id, ActKind Kind, string Words, string State, IReadOnlyList<string> Aims)
{
    /// <summary>Of a reading of the sheet.</summary>
    public CheckKey? CheckKey { get; init; }
    public PinAddress? Red { get; init; }
    public PinAddress? Black { get; init; }
    public MeterMode Mode { get; init; }

    /// <summary>What must be so for it; null where nothing is.</summary>
    public SetUp? SetUp { get; init; }

    /// <summary>How far numbers may spread there at all, such as twice the supply; above 0.</summary>
    public double Span { get; init; } = 1;

    /// <summary>As printed, the connectors that are pulled meanwhile, with <c>and</c> between; empty where none is.</summary>
    public string Pulled { get; init; } = "";

    /// <summary>Read without a current: it tells what is dead, and nothing of a weak contact.</summary>
    public bool NoLoad { get; init; }

    /// <summary>Its probes are in a plug that is pulled.</summary>
    public bool IsUnplugged => Id.EndsWith(Unplugged, StringComparison.Ordinal);

    /// <summary>The end of the id of what is read in a pulled plug.</summary>
    internal const string Unplugged = " unplugged";

    /// <summary>Of waiting, how long; 0 of all else.</summary>
    public double Minutes { get; init; }

    /// <summary>What is read there on a healthy machine, where that is known: a meter at 24 V is finer than one at 230 V.</summary>
    public double? Usual { get; init; }

    /// <summary>Read by a clamp around a wire.</summary>
    public bool IsByClamp => Kind == ActKind.Read && Mode.IsByClamp();

    /// <summary>The same by its id.</summary>
    internal static bool IsOfClamp(string id) =>
        id.StartsWith($"read {MeterMode.DcAmps} ", StringComparison.Ordinal)
        || id.StartsWith($"read {MeterMode.AcAmps} ", StringComparison.Ordinal);

    /// <summary>In what is read there.</summary>
    public string UnitSign =>
        Mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.BatteryUnderLoad ? "V"
        : Mode.IsByClamp() ? "A"
        : "Ω";

    /// <summary>The least step in numbers that says something.</summary>
    public double Step =>
        Mode is MeterMode.Ohms or MeterMode.Continuity ? Math.Min(OhmsStep, Span / 100)
        : Mode.IsByClamp() ? Math.Min(Span / 20, Math.Max(AmpsStep, Math.Abs(Usual ?? 0) / 50))
        : Usual is { } usual ? Math.Min(Span / 100, Math.Max(LeastStep, Math.Abs(usual) / 50))
        : Span / 100;

    private const double LeastStep = 0.4;

    // A clamp that was set to nothing tells so much from nothing. Common practice, no source.
    private const double AmpsStep = 0.1;

    // A meter nulled for its leads tells a shorted winding from a good one. Common practice, no source.
    private const double OhmsStep = 0.3;
}

public enum OutcomeKind
{
    Number,

    /// <summary>OL.</summary>
    Open,

    /// <summary>Works; of a lamp, is lit; of a contact, is closed; of a part that was looked at or swapped, is well.</summary>
    Works,

    /// <summary>Works, and not as it should; a dim lamp.</summary>
    Weak,
    Sometimes,

    /// <summary>Does nothing; a lamp that is out, an open contact; a part that looks bad, or that the fault followed.</summary>
    No,
}

/// <summary>What an act showed.</summary>
/// <param name="Value">
/// Without a prefix; 0 where it is no number. Of a fuse or breaker the seconds after which it opened, or that it was seen to hold; 0 where
/// nobody said.
/// </param>
/// <param name="IsAbout">Read off something that moved. Of a fuse or breaker that opened: not before so many seconds.</param>
public sealed record ActOutcome(OutcomeKind Kind, double Value = 0, bool IsAbout = false);

/// <summary>Whether the fault was showing at that moment.</summary>
public enum Showing
{
    Unknown,
    Yes,
    No,
}

/// <summary>An act with its outcome, its moment and what was so.</summary>
/// <param name="Moment">Findings of one moment share whether the fault was showing.</param>
/// <param name="Words">As it is read out, such as <c>Z2-J1·1 24.4 V, belt running</c>.</param>
/// <param name="IsDoubted">Somebody does not trust it; it counts half.</param>
public sealed record Finding(string Id, Act Act, ActOutcome Outcome, int Moment, Showing Showing, string Words, bool IsDoubted)
{
    /// <summary>It was read before, and alike: no second piece of evidence, and hardly a slip.</summary>
    public bool IsReadTwice { get; init; }
}
