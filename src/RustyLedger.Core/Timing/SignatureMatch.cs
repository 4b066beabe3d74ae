using System.Globalization;

namespace RustyLedger.Core.Timing;

/// <summary>How well what was timed fits a signature.</summary>
/// <param name="Meaning">What it would mean; null for none of those that are written down.</param>
/// <param name="Share">Of the probability, 0 to 1.</param>
/// <param name="Why">Event by event, with its seconds.</param>
public sealed record SignatureMatch(string? Meaning, double Share, IReadOnlyList<string> Why)
{
    // Common practice, no source: a thumb strays so much, in seconds; an event is missed or tapped by mistake so often; what was
    // timed is none of those written down so often.
    private const double Thumb = 0.2;
    private const double Missed = 0.05;
    private const double Stray = 0.05;
    private const double NoneOfThem = 0.1;

    /// <summary>
    /// The likelihood of each meaning. What was tapped and what a signature names are laid beside each other in their order, the best way
    /// by dynamic programming; a pair counts by the normal density of how far apart the two are, with half the tolerance as its spread, an
    /// event that was not tapped and a tap that it does not name by a small chance each. Whatever is none of them spreads its taps evenly.
    /// </summary>
    /// <param name="taps">In the order of their times.</param>
    /// <returns>The likeliest first; empty where nothing was tapped.</returns>
    public static IReadOnlyList<SignatureMatch> Of(IReadOnlyList<TimedEvent> taps, IReadOnlyList<Signature> signatures)
    {
        ArgumentNullException.ThrowIfNull(taps);
        ArgumentNullException.ThrowIfNull(signatures);
        if (taps.Count == 0)
        {
            return [];
        }

        // Every meaning spreads a stray tap over the same time, so that densities can be held against each other.
        var span = Math.Max(
            1,
            1.2 * Math.Max(taps.Max(t => t.At), signatures.SelectMany(s => s.Events).Select(e => e.At).DefaultIfEmpty(0).Max())
        );
        List<(string? Meaning, double Log, IReadOnlyList<string> Why)> all =
        [
            .. signatures.Select(s =>
            {
                var (log, why) = Best(taps, s, span);
                return ((string?)s.Meaning, log + Math.Log((1 - NoneOfThem) / signatures.Count), why);
            }),
            (
                null,
                Math.Log(signatures.Count == 0 ? 1 : NoneOfThem) - (taps.Count * Math.Log(span)),
                ["Whatever is none of them may have its taps anywhere."]
            ),
        ];
        var most = all.Max(a => a.Log);
        var sum = all.Sum(a => Math.Exp(a.Log - most));
        return [.. all.Select(a => new SignatureMatch(a.Meaning, Math.Exp(a.Log - most) / sum, a.Why)).OrderByDescending(m => m.Share)];
    }

    private static (double Log, IReadOnlyList<string> Why) Best(IReadOnlyList<TimedEvent> taps, Signature signature, double span)
    {
        var events = signature.Events;
        var (missed, stray, kept) = (Math.Log(Missed), Math.Log(Stray / span), Math.Log(1 - Missed));
        var best = new double[taps.Count + 1, events.Count + 1];
        var step = new char[taps.Count + 1, events.Count + 1];
        for (var i = 0; i <= taps.Count; i++)
        {
            for (var j = 0; j <= events.Count; j++)
            {
                (best[i, j], step[i, j]) = (i, j) switch
                {
                    (0, 0) => (0, ' '),
                    (0, _) => (best[0, j - 1] + missed, 'm'),
                    (_, 0) => (best[i - 1, 0] + stray, 's'),
                    _ => new (double, char)[]
                    {
                        (best[i - 1, j - 1] + kept + Density(taps[i - 1], events[j - 1]), 'p'),
                        (best[i, j - 1] + missed, 'm'),
                        (best[i - 1, j] + stray, 's'),
                    }.MaxBy(s => s.Item1),
                };
            }
        }

        List<string> why = [];
        for (var (i, j) = (taps.Count, events.Count); i > 0 || j > 0; )
        {
            switch (step[i, j])
            {
                case 'p':
                    why.Add($"{taps[i - 1].Name} at {Seconds(taps[i - 1].At)}, {Usual(events[j - 1])}");
                    (i, j) = (i - 1, j - 1);
                    break;
                case 'm':
                    why.Add($"{events[j - 1].Name} was not tapped, {Usual(events[j - 1])}");
                    j--;
                    break;
                default:
                    why.Add($"{taps[i - 1].Name} at {Seconds(taps[i - 1].At)} is not in it");
                    i--;
                    break;
            }
        }

        why.Reverse();
        return (best[taps.Count, events.Count], why);
    }

    private static double Density(TimedEvent tap, SignatureEvent usual)
    {
        if (!tap.Name.Equals(usual.Name, StringComparison.OrdinalIgnoreCase))
        {
            return double.NegativeInfinity;
        }

        var spread = Math.Sqrt((usual.Within * usual.Within / 4) + (Thumb * Thumb));
        var away = (tap.At - usual.At) / spread;
        return (-away * away / 2) - Math.Log(spread * Math.Sqrt(2 * Math.PI));
    }

    private static string Usual(SignatureEvent usual) => $"usual {Seconds(usual.At)} ± {Seconds(usual.Within)}";

    private static string Seconds(double seconds) => $"{seconds.ToString("0.#", CultureInfo.InvariantCulture)} s";
}
