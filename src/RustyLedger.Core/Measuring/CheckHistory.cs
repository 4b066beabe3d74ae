using System.Globalization;

namespace RustyLedger.Core.Measuring;

/// <summary>A reading of a check from before, on the machine or on a twin.</summary>
/// <param name="Tag">Of the twin; empty for the machine itself.</param>
public sealed record PastReading(DateTimeOffset At, ReadingValue Value, string Tag);

/// <summary>What a check read before on this machine and on its twins, and what became of it.</summary>
/// <param name="Own">On this machine, the oldest first; the last ones where there are many.</param>
/// <param name="Twins">The last on each twin.</param>
/// <param name="Total">How many there are on this machine, those left out included.</param>
/// <param name="Words">The plain change, in a sentence.</param>
public sealed record CheckHistory(IReadOnlyList<PastReading> Own, IReadOnlyList<PastReading> Twins, int Total, string Words)
{
    /// <summary>A plot of more says no more.</summary>
    public const int MostOwn = 24;

    /// <summary>So many twins say how far they stray.</summary>
    public const int MostTwins = 12;

    /// <param name="past">All of one check from before this round, in any order.</param>
    /// <param name="now">What it reads in this round; null before it was read.</param>
    public static CheckHistory Of(IEnumerable<PastReading> past, ReadingValue? now)
    {
        ArgumentNullException.ThrowIfNull(past);
        var all = past.OrderBy(p => p.At).ToList();
        var own = all.FindAll(p => p.Tag.Length == 0);
        List<PastReading> twins =
        [
            .. all.Where(p => p.Tag.Length > 0)
                .GroupBy(p => p.Tag)
                .Select(g => g.Last())
                .OrderByDescending(p => p.At)
                .Take(MostTwins)
                .OrderBy(p => p.Tag, StringComparer.Ordinal),
        ];
        return new CheckHistory([.. own.TakeLast(MostOwn)], twins, own.Count, WordsOf(own, twins, now));
    }

    private static string WordsOf(List<PastReading> own, List<PastReading> twins, ReadingValue? now)
    {
        List<string> words = [];
        if (own is [.., var last])
        {
            words.Add($"{last.Value.Written}, {Day(last.At)}");
            if (now is not null)
            {
                words.Add(Change(now, last.Value));
            }
        }
        else
        {
            words.Add("never read before on this machine");
        }

        List<NumberReading> numbers = [.. twins.Select(t => t.Value).OfType<NumberReading>()];
        if (twins is [var one])
        {
            words.Add($"{one.Tag} read {one.Value.Written}");
        }
        else if (numbers.Count > 1 && numbers.TrueForAll(n => n.Unit == numbers[0].Unit))
        {
            var (least, most) = (numbers.Min(n => n.Value), numbers.Max(n => n.Value));
            words.Add(
                least == most
                    ? $"{numbers.Count} twins read {Numbers.Write(least)} {numbers[0].Unit.Symbol()}"
                    : $"{numbers.Count} twins read {Numbers.Write(least)} to {Numbers.Write(most)} {numbers[0].Unit.Symbol()}"
            );
        }

        return string.Join("; ", words);
    }

    private static string Change(ReadingValue now, ReadingValue then) =>
        (now, then) switch
        {
            (NumberReading a, NumberReading b) when a.Unit == b.Unit => a.Value == b.Value
                ? "the same now"
                : $"now {Numbers.Write(Math.Abs(a.Value - b.Value))} {a.Unit.Symbol()} {(a.Value < b.Value ? "lower" : "higher")}"
                    + (b.Value == 0 ? "" : $", {Share(a.Value, b.Value)}"),
            _ => now.Written == then.Written ? "the same now" : $"now {now.Written}",
        };

    private static string Share(decimal now, decimal then)
    {
        var share = Math.Abs((now - then) / then) * 100m;
        return share < 1 ? "less than 1 %" : $"{Math.Round(share).ToString(CultureInfo.InvariantCulture)} %";
    }

    private static string Day(DateTimeOffset at) => at.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
