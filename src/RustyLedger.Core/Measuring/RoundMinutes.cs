namespace RustyLedger.Core.Measuring;

/// <summary>What must change between two checks, the dearest first.</summary>
public enum SetUpChange
{
    /// <summary>From dead to live or back: isolating, proving, restoring.</summary>
    Isolation,

    /// <summary>The machine is brought into another state.</summary>
    State,

    /// <summary>Something is opened or closed.</summary>
    Access,

    /// <summary>The common probe moves.</summary>
    Common,

    /// <summary>The meter is set to something else.</summary>
    Meter,

    /// <summary>Nothing but the red probe.</summary>
    Reading,
}

/// <summary>Minutes for one thing.</summary>
/// <param name="Count">How often it was timed; 0 where it is only assumed.</param>
public sealed record TimedChange(decimal Minutes, int Count);

/// <summary>
/// What the changes within a round take. Assumed at first, and learnt from how long readings lay apart.
/// </summary>
public sealed class RoundMinutes
{
    // Common practice, no source.
    private static readonly Dictionary<SetUpChange, decimal> Assumed = new()
    {
        [SetUpChange.Isolation] = 6,
        [SetUpChange.State] = 2,
        [SetUpChange.Access] = 2,
        [SetUpChange.Common] = 0.3m,
        [SetUpChange.Meter] = 0.1m,
        [SetUpChange.Reading] = 0.3m,
    };

    /// <summary>What is assumed counts as much as so many that were timed.</summary>
    private const int AssumedWeight = 3;

    /// <summary>Longer than this between two readings, and something else was done.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(30);

    private readonly IReadOnlyDictionary<SetUpChange, TimedChange> _learnt;

    private RoundMinutes(IReadOnlyDictionary<SetUpChange, TimedChange> learnt) => _learnt = learnt;

    public static RoundMinutes Usual { get; } = new(Assumed.ToDictionary(a => a.Key, a => new TimedChange(a.Value, 0)));

    public TimedChange this[SetUpChange change] => _learnt[change];

    /// <summary>
    /// Learns from readings with their times, round by round. Each gap counts for the dearest change in it, less a reading's own time; the
    /// middle one of all is taken, and shrunk towards what is assumed.
    /// </summary>
    /// <param name="rounds">Of each round the times and checks of its readings, in the order they were taken.</param>
    public static RoundMinutes Learnt(IEnumerable<IReadOnlyList<(DateTimeOffset At, SetUp SetUp)>> rounds)
    {
        ArgumentNullException.ThrowIfNull(rounds);
        var gaps = rounds
            .SelectMany(r => r.Zip(r.Skip(1), (a, b) => (Minutes: (b.At - a.At), Change: a.SetUp.To(b.SetUp))))
            .Where(g => g.Minutes > TimeSpan.Zero && g.Minutes <= Longest)
            .ToLookup(g => g.Change, g => (decimal)g.Minutes.TotalMinutes);
        var reading = Shrunk(SetUpChange.Reading, [.. gaps[SetUpChange.Reading]]);
        return new RoundMinutes(
            Assumed.Keys.ToDictionary(
                c => c,
                c => c == SetUpChange.Reading ? reading : Shrunk(c, [.. gaps[c].Select(g => Math.Max(0, g - reading.Minutes))])
            )
        );
    }

    private static TimedChange Shrunk(SetUpChange change, List<decimal> gaps)
    {
        var assumed = Assumed[change];
        if (gaps.Count == 0)
        {
            return new TimedChange(assumed, 0);
        }

        gaps.Sort();
        var middle = gaps.Count % 2 == 1 ? gaps[gaps.Count / 2] : (gaps[(gaps.Count / 2) - 1] + gaps[gaps.Count / 2]) / 2;
        return new TimedChange(
            Math.Round(((AssumedWeight * assumed) + (gaps.Count * middle)) / (AssumedWeight + gaps.Count), 2),
            gaps.Count
        );
    }
}

/// <summary>How things must stand for a check.</summary>
/// <param name="IsDead">Isolated and proved dead.</param>
/// <param name="Access">What is open; empty for the front.</param>
/// <param name="Common">The black probe, as printed; empty for none.</param>
public sealed record SetUp(bool IsDead, string State, string Access, string Common, MeterMode Mode)
{
    /// <summary>The dearest change on the way to another.</summary>
    public SetUpChange To(SetUp other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return IsDead != other.IsDead ? SetUpChange.Isolation
            : State != other.State ? SetUpChange.State
            : !Access.Equals(other.Access, StringComparison.OrdinalIgnoreCase) ? SetUpChange.Access
            : CommonMoves(other) == 1 ? SetUpChange.Common
            : Mode != other.Mode ? SetUpChange.Meter
            : SetUpChange.Reading;
    }

    /// <summary>
    /// How often the common probe moves: whoever only looks puts it down, which is half of a move, so that a look between two readings
    /// never hides one.
    /// </summary>
    internal decimal CommonMoves(SetUp other) =>
        Common == other.Common ? 0
        : Common.Length == 0 || other.Common.Length == 0 ? 0.5m
        : 1;
}
