using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class SuspicionTests
{
    /// <summary>A fuse with a lamp behind it, and a pump that neither it nor its rival has to do with.</summary>
    private sealed class Bench : IDiagnosisModel
    {
        public static Act Volts { get; } = new("volts", ActKind.Read, "behind the fuse", "", ["fuse"]) { Span = 24 };

        public static Act Lamp { get; } = new("lamp", ActKind.Look, "lamp", "", ["lamp"]);

        public static Act Pump { get; } = new("pump", ActKind.Try, "pump", "", ["pump"]);

        public IReadOnlyList<Hypothesis> Causes { get; } =
        [
            new("fuse", CauseKind.Part, "fuse", ["fuse blown"], 0.6),
            new("lamp", CauseKind.Part, "lamp", ["lamp dead"], 0.3),
            new("none", CauseKind.Unlisted, "", ["something not in this ledger"], 0.1),
        ];

        public IReadOnlyList<Act> Acts { get; } = [Volts, Lamp, Pump];

        public Prediction Healthy(Act act) => act == Volts ? Prediction.Of(24) : Prediction.Share(1);

        public Prediction Predict(Hypothesis cause, int size, Act act) =>
            (cause.Id, act.Id) switch
            {
                ("none", _) => Prediction.Anything,
                ("fuse", "volts") => Prediction.Of(0),
                ("fuse" or "lamp", "lamp") => Prediction.Share(0),
                _ => Healthy(act),
            };

        public IReadOnlyList<SharedError> SharedErrors(Act act) => [];

        public Hypothesis? Join(Hypothesis first, Hypothesis second) => null;
    }

    private static Finding Of(Act act, ActOutcome outcome, bool isDoubted = false) =>
        new(act.Id, act, outcome, 0, Showing.Yes, $"{act.Words} {outcome.Kind}", isDoubted);

    private static SuspectGroup First(params Finding[] findings) =>
        Suspicion.Of(Posterior.Of(new Bench(), findings), _ => 10, new ProofRule(Share: 0.6))[0];

    private static readonly Finding Nothing = Of(Bench.Volts, new ActOutcome(OutcomeKind.Number, 0));
    private static readonly Finding Dark = Of(Bench.Lamp, new ActOutcome(OutcomeKind.No));

    [Fact]
    public void What_explains_all_that_fails_and_was_read_there_is_proved()
    {
        var first = First(Dark, Nothing);
        Assert.Equal(("fuse", SuspectStanding.Proved), (Assert.Single(first.Parts), first.Standing));
    }

    [Fact]
    public void What_leaves_a_function_that_fails_unexplained_is_not_proved_and_says_which()
    {
        var first = First(Dark, Nothing, Of(Bench.Pump, new ActOutcome(OutcomeKind.No)));
        Assert.Equal(("fuse", SuspectStanding.Likely), (Assert.Single(first.Parts), first.Standing));
        Assert.Equal("likely; it does not explain pump No: find what does, or doubt it", first.Because);
    }

    [Theory]
    [InlineData(OutcomeKind.No, true)]
    [InlineData(OutcomeKind.Works, false)]
    public void A_function_that_fails_and_is_doubted_or_one_that_works_stands_in_no_proofs_way(OutcomeKind outcome, bool isDoubted)
    {
        var first = First(Dark, Nothing, Of(Bench.Pump, new ActOutcome(outcome), isDoubted));
        Assert.Equal(("fuse", SuspectStanding.Proved), (Assert.Single(first.Parts), first.Standing));
    }
}
