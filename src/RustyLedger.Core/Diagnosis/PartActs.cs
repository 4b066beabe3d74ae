using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// What is done to a part as a whole, whatever is known of the machine: it is looked at, swapped with an equal one, fitted. Beside it
/// waiting, and what a board says by a code. All numbers are common practice, no source.
/// </summary>
internal static class PartActs
{
    // An old part looks bad and is not; a good look hides no more than a look can see.
    private const double GoodLooksGood = 0.95;

    // The one put in its place may be hurt, or the swap itself may move a contact.
    private const double Follows = 0.95;
    private const double StaysElsewhere = 0.97;
    private const double StaysUnlisted = 0.9;

    // A board points at what it means, and now and then at something else.
    private const double SaidOfIts = 0.7;
    private const double SaidOfOthers = 0.05;
    private const double SaidOfWhatIsNoPart = 0.12;
    private const double SaidOfNothing = 0.02;

    // A plug moved by hand: a bad contact or a broken strand changes with it, now and then by itself, or by what the move shakes elsewhere.
    private const double MovesOwn = 0.7;
    private const double MovesLasting = 0.25;
    private const double MovesElsewhere = 0.1;
    private const double MovesOther = 0.06;
    private const double MovesNothing = 0.02;

    // How often what comes and goes comes, on average, in minutes: nobody knows which.
    private static readonly double[] _minutesBetween = [2, 10, 45, 200, 1000];

    public static bool Knows(Act act) => act.Kind == ActKind.Code || !IsOfMoment(act);

    /// <summary>It shows how things are just then; else a fault that is away at that moment is seen all the same.</summary>
    public static bool IsOfMoment(Act act) =>
        act.Kind is not (ActKind.Fit or ActKind.Swap or ActKind.Inspect or ActKind.Wait or ActKind.Wiggle);

    /// <summary>A part, or one of several, replaced and tried.</summary>
    public static Act Fit(IReadOnlyList<string> parts) =>
        new($"fit {Joined(parts)}", ActKind.Fit, string.Join(" and ", parts), "", parts) { SetUp = Dead };

    /// <param name="name">That stands for the parts.</param>
    /// <param name="with">What it changes places with; empty where nobody said.</param>
    public static Act Swap(IReadOnlyList<string> parts, string name, string with) =>
        new($"swap {Joined(parts)}", ActKind.Swap, with.Length > 0 ? $"{name} with {with}" : name, "", Sorted(parts)) { SetUp = Dead };

    /// <summary>A part looked at closely: burnt, loose, corroded, broken, or nothing to be seen.</summary>
    public static Act Inspect(IReadOnlyList<string> parts, string name) =>
        new($"inspect {Joined(parts)}", ActKind.Inspect, name, "", Sorted(parts)) { SetUp = Dead };

    /// <param name="minutes">Above 0.</param>
    public static Act Wait(double minutes) =>
        new(
            $"wait {minutes.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture)} min",
            ActKind.Wait,
            $"Watch it for {Time(minutes)}",
            "",
            []
        )
        {
            Minutes = minutes,
        };

    /// <param name="plug">As printed.</param>
    /// <param name="parts">Its contacts, and the wires that end there.</param>
    /// <param name="state">Code of the operating state in which it fails; empty where nobody said.</param>
    public static Act Wiggle(string plug, IReadOnlyList<string> parts, string state) =>
        new($"wiggle {plug}", ActKind.Wiggle, plug, state, Sorted(parts))
        {
            SetUp = state.Length > 0 ? new SetUp(false, state, "", "", MeterMode.Lamp) : null,
        };

    /// <param name="parts">That it points at.</param>
    /// <param name="words">What was shown, and what it means.</param>
    public static Act Code(IReadOnlyList<string> parts, string words) => new($"code {words}", ActKind.Code, words, "", parts);

    // What is taken in hand is taken dead.
    private static SetUp Dead => new(true, "", "", "", MeterMode.Ohms);

    private static string Joined(IReadOnlyList<string> parts) => string.Join(" + ", Sorted(parts));

    private static IReadOnlyList<string> Sorted(IReadOnlyList<string> parts) => [.. parts.Order(StringComparer.Ordinal)];

    /// <summary>Such as <c>30 s</c>, <c>20 min</c>, <c>3 h</c> or <c>2 days</c>.</summary>
    public static string Time(double minutes)
    {
        static string Of(double number) => number.ToString("0.#", System.Globalization.CultureInfo.InvariantCulture);
        const double Hour = 60;
        const double Day = 24 * Hour;
        return minutes < 1 ? $"{Of(minutes * 60)} s"
            : minutes < 2 * Hour ? $"{Of(minutes)} min"
            : minutes < 2 * Day ? $"{Of(minutes / Hour)} h"
            : $"{Of(minutes / Day)} days";
    }

    /// <summary>On a machine with nothing wrong.</summary>
    public static Prediction Healthy(Act act) =>
        act.Kind switch
        {
            ActKind.Fit => Prediction.Share(0),
            ActKind.Swap => Prediction.Chance(StaysUnlisted),
            ActKind.Inspect => Prediction.Chance(GoodLooksGood),
            ActKind.Wait => Prediction.Chance(0.98),
            ActKind.Wiggle => Prediction.Chance(1 - MovesNothing),
            _ => Prediction.Chance(1 - SaidOfNothing),
        };

    /// <param name="shows">How often somebody who looks at one of the parts sees what is wrong with it, by its name, 0 to 1.</param>
    public static Prediction Predict(Hypothesis cause, Act act, Func<string, double> shows)
    {
        var isPart = cause.Kind == CauseKind.Part;
        var all = cause.Parts.Count > 0 && cause.Parts.All(act.Aims.Contains);
        var some = all || cause.Parts.Any(act.Aims.Contains);
        switch (act.Kind)
        {
            case ActKind.Fit:
                // One of two put right leaves the other; what comes and goes may just be away.
                return cause.Kind == CauseKind.NothingWrong ? Prediction.Share(0.5)
                    : all ? Prediction.Share(1)
                    : cause.IsIntermittent ? Prediction.Chance(0.4)
                    : Prediction.Share(0);
            case ActKind.Swap:
                return Prediction.Chance(
                    all ? 1 - Follows
                    : some ? 0.5
                    : isPart ? StaysElsewhere
                    : StaysUnlisted
                );
            case ActKind.Inspect:
                var seen = act.Aims.Select(shows).DefaultIfEmpty(0).Max();
                return Prediction.Chance(Math.Min(GoodLooksGood, 1 - seen));
            case ActKind.Wait:
                var away = _minutesBetween.Average(m => Math.Exp(-act.Minutes / m));
                return Prediction.Chance(
                    cause.Kind == CauseKind.NothingWrong ? 0.98
                    : cause.IsIntermittent ? away
                    : isPart ? 0.03
                    // What is no part may last, or come and go.
                    : 0.03 + (0.3 * away)
                );
            case ActKind.Wiggle:
                return Prediction.Chance(
                    1
                        - (
                            some ? (cause.IsIntermittent ? MovesOwn : MovesLasting)
                            : cause.IsIntermittent ? MovesElsewhere
                            : cause.Kind == CauseKind.NothingWrong || isPart ? MovesNothing
                            : MovesOther
                        )
                );
            default:
                return Prediction.Chance(
                    1
                        - (
                            some ? SaidOfIts
                            : cause.Kind == CauseKind.NothingWrong ? SaidOfNothing
                            : isPart ? SaidOfOthers
                            : SaidOfWhatIsNoPart
                        )
                );
        }
    }

    /// <summary>What each outcome is called; the one that speaks for the part being well comes first.</summary>
    public static (string Well, string Bad) Outcomes(ActKind kind) =>
        kind switch
        {
            ActKind.Swap => ("it stayed", "the fault followed"),
            ActKind.Inspect => ("looks good", "looks bad"),
            ActKind.Wait => ("did not come back", "came back"),
            ActKind.Close => ("holds", "opens again"),
            ActKind.Wiggle => ("nothing changed", "it came and went"),
            ActKind.Code => ("not shown", "shown"),
            _ => ("the fault went", "it stayed"),
        };
}
