using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What a fuse or breaker does that was put in whole or closed: whether it holds, and how long it takes to open.</summary>
internal static class Closing
{
    // What blows as soon as it is switched on, what takes a while, within which time it blows where nobody said, and how long somebody who
    // saw it blow before watches until he says that it holds. Common practice, no source.
    private const double AtOnceSeconds = 1;
    private const double WhileSeconds = 3;
    private const double BlownSeconds = 30;
    private const double WatchedSeconds = 600;

    // A time that was said is good within a factor of two.
    private const double AboutFactor = 2;

    // Where nobody knows why it opens, any time between these is as likely as another, by its logarithm.
    private const double LeastSeconds = 0.01;
    private const double MostSeconds = 1e4;

    /// <summary>The seconds between which it opened, as far as it was said.</summary>
    private static (double From, double To) Between(ActOutcome outcome) =>
        outcome.Value <= 0 ? (0, double.PositiveInfinity)
        : outcome.IsAbout ? (outcome.Value, double.PositiveInfinity)
        : outcome.Value <= AtOnceSeconds ? (0, AboutFactor * AtOnceSeconds)
        : (outcome.Value / AboutFactor, outcome.Value * AboutFactor);

    /// <summary>How likely the time is that was said where nobody knows why it opens; 1 where none was.</summary>
    public static double AnyTime(ActOutcome outcome)
    {
        var (from, to) = Between(outcome);
        var all = Math.Log(MostSeconds / LeastSeconds);
        return
            Math.Log(Math.Clamp(to, LeastSeconds, MostSeconds) / Math.Clamp(from, LeastSeconds, MostSeconds)) / all is var share
            && share > 0
            ? share
            : AboutFactor / all;
    }

    /// <param name="predicted">How likely it holds, and how long it lasts where it does not.</param>
    public static double Likelihood(ActOutcome outcome, Prediction predicted)
    {
        var anyTime = outcome.Kind == OutcomeKind.No ? AnyTime(outcome) : 1;
        if (predicted.After is not { } after)
        {
            return Mixed(outcome.Kind, 1 - predicted.Value) * anyTime;
        }

        // Whoever sees it hold saw it for a while alone.
        var (from, to) = Between(outcome);
        var within = after.Within(
            0,
            outcome.Kind == OutcomeKind.No ? BlownSeconds
                : outcome.Value > 0 ? outcome.Value
                : WatchedSeconds
        );
        var opens = outcome is { Kind: OutcomeKind.No, Value: > 0 }
            ? Diagnosis.Likelihood.OfShare(OutcomeKind.No, 0) * after.Within(from, to)
            : Mixed(outcome.Kind, within);
        return ((1 - predicted.Value) * opens) + (predicted.Value * Diagnosis.Likelihood.OfShare(outcome.Kind, 1) * anyTime);
    }

    private static double Mixed(OutcomeKind outcome, double opens) =>
        (opens * Diagnosis.Likelihood.OfShare(outcome, 0)) + ((1 - opens) * Diagnosis.Likelihood.OfShare(outcome, 1));

    /// <summary>Such as <c>blows at once</c>, <c>trips after 20 s</c> or <c>holds</c>.</summary>
    /// <param name="trips">It is a breaker.</param>
    public static string Words(ActOutcome outcome, bool trips)
    {
        var opens = trips ? "trips" : "blows";
        var time = PartActs.Time(outcome.Value / 60);
        return (outcome.Kind, outcome.Value) switch
        {
            (OutcomeKind.Works, > 0) => $"holds for {time}",
            (OutcomeKind.Works, _) => "holds",
            (OutcomeKind.Sometimes, _) => $"{opens} at times",
            (_, <= 0) => opens,
            _ when outcome.IsAbout => $"{opens} after a while",
            (_, <= AtOnceSeconds) => $"{opens} at once",
            _ => $"{opens} after {time}",
        };
    }

    /// <summary>What may be seen, that it holds first; whether at once or after a while only where a suspect takes a while.</summary>
    public static IReadOnlyList<(string Words, ActOutcome Seen)> Outcomes(IEnumerable<Prediction> shown)
    {
        var (well, bad) = PartActs.Outcomes(ActKind.Close);
        (string, ActOutcome) holds = (well, new ActOutcome(OutcomeKind.Works));
        return shown.Any(s => s.After is { } after && IsSlow(after))
            ? [holds, ("opens at once", AtOnce), ("opens after a while", Later)]
            : [holds, (bad, new ActOutcome(OutcomeKind.No))];
    }

    /// <summary>How what does not hold opens, in words.</summary>
    public static string Opens(Prediction shown) =>
        shown.After is not { } after ? PartActs.Outcomes(ActKind.Close).Bad
        : IsSlow(after) ? $"opens after {PartActs.Time(Math.Round(Math.Pow(10, after.LogSeconds), 1) / 60)} or so"
        : "opens at once";

    public static ActOutcome AtOnce { get; } = new(OutcomeKind.No, AtOnceSeconds);

    public static ActOutcome Later { get; } = new(OutcomeKind.No, WhileSeconds, true);

    private static bool IsSlow(OpeningTime after) => after.Within(WhileSeconds, double.PositiveInfinity) > 0.5;

    /// <summary>Whether somebody tells by the time which of two opens it.</summary>
    public static bool AreApart(OpeningTime a, OpeningTime b) => Math.Abs(a.LogSeconds - b.LogSeconds) > 2 * Math.Max(a.Decades, b.Decades);
}
