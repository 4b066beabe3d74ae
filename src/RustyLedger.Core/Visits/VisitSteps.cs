using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Visits;

public enum StepStatus
{
    Open,
    Done,
    Skipped,
}

/// <summary>Parts of the steps Arrive, Make safe and Look, in order.</summary>
public enum VisitStep
{
    /// <summary>What switching off will lose.</summary>
    Catch,
    Build,
    Boards,
    OutsideChecks,
    ProvedDead,
    LifeSafety,

    /// <summary>The boards looked over before anything is measured.</summary>
    Look,
}

/// <param name="Words">What is done or open, in a few words.</param>
/// <param name="Reason">Why it was skipped.</param>
public sealed record StepState(VisitStep Step, StepStatus Status, string Words, string Reason);

/// <summary>What is known of a visit that tells how far its steps have come.</summary>
/// <param name="Caught">Photographs and lines taken while it was on.</param>
/// <param name="BuildDecided">The variant is decided.</param>
/// <param name="BuildWords">The variant, or why it is open.</param>
/// <param name="BoardsToKnow">Positions whose board is not written down as fitted, or is not the one the build needs.</param>
/// <param name="OutsideAnswered">Outside checks answered.</param>
/// <param name="OutsideFound">One of them was it.</param>
/// <param name="NeedsNotice">The machine protects life.</param>
/// <param name="NoticeGiven">Somebody was told, and something watches in its place.</param>
/// <param name="EyeFound">Things that the eye found on the boards in this visit.</param>
/// <param name="LookedOver">The boards were looked over, whatever was found.</param>
public sealed record VisitFacts(
    int Caught,
    bool BuildDecided,
    string BuildWords,
    IReadOnlyList<string> BoardsToKnow,
    int OutsideAnswered,
    int OutsideOf,
    bool OutsideFound,
    SafeState Safe,
    bool NeedsNotice,
    bool NoticeGiven,
    int EyeFound = 0,
    bool LookedOver = false
)
{
    /// <summary>Places for boards that the model has.</summary>
    public int Positions { get; init; }
}

/// <summary>How far a visit has come, step by step. What was done goes before what was skipped.</summary>
public static class VisitSteps
{
    /// <summary>What nobody entered is not known; it is never said as if it were.</summary>
    public const string NothingWritten = "nothing written yet";

    /// <param name="skipped">Why each skipped step was skipped.</param>
    public static IReadOnlyList<StepState> Of(VisitFacts facts, IReadOnlyDictionary<VisitStep, string> skipped)
    {
        ArgumentNullException.ThrowIfNull(facts);
        ArgumentNullException.ThrowIfNull(skipped);
        StepState State(VisitStep step, bool done, string words) =>
            done ? new StepState(step, StepStatus.Done, words, "")
            : skipped.TryGetValue(step, out var reason) ? new StepState(step, StepStatus.Skipped, words, reason)
            : new StepState(step, StepStatus.Open, words, "");
        List<StepState> steps =
        [
            State(
                VisitStep.Catch,
                facts.Caught > 0,
                facts.Caught switch
                {
                    0 => "nothing caught yet",
                    1 => "1 thing caught",
                    var n => $"{n} things caught",
                }
            ),
            State(VisitStep.Build, facts.BuildDecided, facts.BuildWords),
            State(
                VisitStep.Boards,
                facts.Positions > 0 && facts.BoardsToKnow.Count == 0,
                facts.Positions == 0 ? NothingWritten
                    : facts.BoardsToKnow.Count == 0 ? "all known"
                    : string.Join(", ", facts.BoardsToKnow)
            ),
            State(
                VisitStep.OutsideChecks,
                facts.OutsideFound || (facts.OutsideOf > 0 && facts.OutsideAnswered >= facts.OutsideOf),
                facts.OutsideFound ? "found" : $"{facts.OutsideAnswered} of {facts.OutsideOf}"
            ),
        ];
        if (facts.NeedsNotice)
        {
            steps.Add(State(VisitStep.LifeSafety, facts.NoticeGiven, facts.NoticeGiven ? "told" : "nobody told yet"));
        }

        steps.Add(State(VisitStep.ProvedDead, facts.Safe.Condition == SafeCondition.ProvedDead, ConditionWords(facts.Safe.Condition)));
        var found = facts.EyeFound switch
        {
            0 => "nothing found",
            1 => "1 thing found",
            var n => $"{n} things found",
        };
        steps.Add(State(VisitStep.Look, facts.LookedOver, facts.LookedOver || facts.EyeFound > 0 ? found : "not yet"));
        return steps;
    }

    public static string ConditionWords(SafeCondition condition) =>
        condition switch
        {
            SafeCondition.ProvedDead => "proved dead",
            SafeCondition.Isolated => "isolated, not proved",
            _ => "live",
        };
}
