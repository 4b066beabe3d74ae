namespace RustyLedger.Core.Codes;

/// <summary>A rhythm as it was tapped along.</summary>
/// <param name="Groups">Signs in each group of one repeat, such as 2, 1; a single number where every group is alike; empty for an even
/// rhythm.</param>
/// <param name="PerSecond">Signs a second: within a group, or all along for an even rhythm; null after a single tap.</param>
/// <param name="PauseSeconds">Between two groups; null for an even rhythm.</param>
/// <param name="Repeats">How often the whole was heard in full.</param>
public sealed record TapRhythm(IReadOnlyList<int> Groups, double? PerSecond, double? PauseSeconds, int Repeats)
{
    // Two lengths of interval are told apart when the longer is at least so many times the shorter. A hand that taps along
    // strays by a fifth or so (common practice, no source), which is 1.5 from early to late.
    private const double PauseOver = 1.6;
    private const int MostPhases = 4;
    private const double LeastShare = 0.2;

    public bool IsEven => Groups.Count == 0;

    /// <summary>In words, such as <c>2, then 1, about 3.1 a second</c>.</summary>
    public string Words =>
        string.Join(
            ", ",
            new[]
            {
                IsEven ? "even"
                : Groups.Count == 1 ? $"groups of {Groups[0]}"
                : string.Join(", then ", Groups),
                PerSecond is { } rate ? FormattableString.Invariant($"about {rate:0.0} a second") : "",
            }.Where(w => w.Length > 0)
        );

    /// <summary>
    /// The groups and the rate of a rhythm. Intervals are split where their lengths, in order, leap furthest by ratio, once
    /// into signs and pauses and, where it is clear, again into pauses and long pauses. One begins and ends anywhere, so the
    /// first and last group may be short; a sign tapped twice or not at all is outvoted by the other repeats.
    /// </summary>
    /// <param name="seconds">When each tap fell, rising.</param>
    /// <exception cref="ArgumentException">No tap, or the taps are not in order.</exception>
    public static TapRhythm Of(IReadOnlyList<double> seconds)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        if (seconds.Count == 0)
        {
            throw new ArgumentException("No tap.", nameof(seconds));
        }

        var intervals = seconds.Zip(seconds.Skip(1), (a, b) => b - a).ToArray();
        if (intervals.Any(i => !(i > 0)))
        {
            throw new ArgumentException("Taps come one after another.", nameof(seconds));
        }

        if (intervals.Length == 0)
        {
            return new TapRhythm([1], null, null, 1);
        }

        if (Leap(intervals) is not { } leap)
        {
            return new TapRhythm([], 1 / Median(intervals), null, intervals.Length);
        }

        // The furthest leap may be the one to the long pauses, or the one to the short ones.
        var (pauseFrom, longFrom) = Kinds([.. intervals.Where(i => i < leap)]) is { } shorter
            ? (shorter, leap)
            : (leap, Kinds([.. intervals.Where(i => i >= leap)]));
        var (groups, repeats) = longFrom is { } from ? BySentence(intervals, pauseFrom, from) : ByVote(Counts(intervals, pauseFrom));
        return new TapRhythm(
            groups,
            1 / Median([.. intervals.Where(i => i < pauseFrom)]),
            Median([.. intervals.Where(i => i >= pauseFrom)]),
            repeats
        );
    }

    /// <summary>The least length that counts as long; null where all are of one kind.</summary>
    private static double? Leap(double[] lengths)
    {
        var sorted = lengths.Order().ToArray();
        var (at, ratio) = (0, 0.0);
        for (var i = 1; i < sorted.Length; i++)
        {
            if (sorted[i] / sorted[i - 1] > ratio)
            {
                (at, ratio) = (i, sorted[i] / sorted[i - 1]);
            }
        }

        // The middles must lie apart too, or one hasty tap among even ones would make a pause of every other.
        return ratio >= PauseOver && Median(sorted[at..]) / Median(sorted[..at]) >= PauseOver ? sorted[at] : null;
    }

    /// <summary>
    /// A leap between two kinds of interval, each heard more than now and then: a sign tapped twice makes no kind of its own.
    /// </summary>
    private static double? Kinds(double[] lengths) =>
        Leap(lengths) is { } from
        && lengths.Count(l => l >= from) is var longer
        && Math.Min(longer, lengths.Length - longer) is var rarer
        && rarer > 1
        && rarer >= LeastShare * lengths.Length
            ? from
            : null;

    private static List<int> Counts(double[] intervals, double pauseFrom)
    {
        var counts = new List<int> { 1 };
        foreach (var interval in intervals)
        {
            if (interval >= pauseFrom)
            {
                counts.Add(1);
            }
            else
            {
                counts[^1]++;
            }
        }

        return counts;
    }

    /// <summary>A long pause ends each repeat: the commonest of them is what is said.</summary>
    private static (IReadOnlyList<int> Groups, int Repeats) BySentence(double[] intervals, double pauseFrom, double longFrom)
    {
        var sentences = new List<List<int>> { new() { 1 } };
        foreach (var interval in intervals)
        {
            if (interval >= longFrom)
            {
                sentences.Add([1]);
            }
            else if (interval >= pauseFrom)
            {
                sentences[^1].Add(1);
            }
            else
            {
                sentences[^1][^1]++;
            }
        }

        var best = sentences
            .GroupBy(s => string.Join(' ', s))
            .OrderByDescending(g => g.Count())
            .ThenByDescending(g => g.First().Sum())
            .First();
        return (Shortest(best.First()), best.Count());
    }

    /// <summary>Every pause is alike: the shortest unit is looked for that the groups repeat, each place in it by vote.</summary>
    private static (IReadOnlyList<int> Groups, int Repeats) ByVote(List<int> counts)
    {
        var candidates = Enumerable
            .Range(1, Math.Min(MostPhases, Math.Max(1, counts.Count / 2)))
            .Select(phases =>
            {
                var unit = Enumerable.Range(0, phases).Select(phase => Vote(counts, phase, phases)).ToList();
                var cost = counts.Select((count, i) => Strays(count, unit[i % phases], i == 0, i == counts.Count - 1)).Sum();
                return (Unit: unit, Cost: cost + phases);
            })
            .ToList();
        var best = candidates.MinBy(c => c.Cost).Unit;
        // One unit cut short at both ends is heard whole once less.
        return (Shortest(best), counts.Where((count, i) => count == best[i % best.Count]).Count() / best.Count);
    }

    // A group cut off by the beginning or the end costs nothing; a miscounted one is dearer than a longer unit would be.
    private static double Strays(int count, int unit, bool isFirst, bool isLast) =>
        count == unit || ((isFirst || isLast) && count < unit) ? 0 : 1.5;

    private static int Vote(List<int> counts, int phase, int phases)
    {
        var here = counts.Where((_, i) => i % phases == phase).ToList();
        // What lies within has been heard whole; the ends only count where nothing else does.
        var whole = counts.Where((_, i) => i % phases == phase && i > 0 && i < counts.Count - 1).ToList();
        return (whole.Count > 0 ? whole : here).GroupBy(c => c).OrderByDescending(g => g.Count()).ThenByDescending(g => g.Key).First().Key;
    }

    private static List<int> Shortest(List<int> groups) => groups.TrueForAll(g => g == groups[0]) ? [groups[0]] : groups;

    private static double Median(double[] values)
    {
        var sorted = values.Order().ToArray();
        var half = sorted.Length / 2;
        return sorted.Length % 2 == 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
    }
}
