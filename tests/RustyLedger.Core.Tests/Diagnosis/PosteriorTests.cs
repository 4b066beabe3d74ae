using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class PosteriorTests
{
    private static readonly WeighingRules _exact = new(1e-9, 0.05, 1 - 1e-12, 100_000);

    /// <summary>
    /// Three multipliers and two adders (de Kleer and Williams, "Diagnosing multiple faults", Artificial Intelligence 32, 1987, section 2):
    /// A = 3, B = 2, C = 2, D = 3, E = 3; F = A·C + B·D and G = B·D + C·E, both 12 on a sound circuit. F reads 10, G reads 12.
    /// </summary>
    private sealed class Polybox : IDiagnosisModel
    {
        private static readonly string[] _names = ["A1", "A2", "M1", "M2", "M3"];

        // What a faulty one gives instead of what it should.
        private static readonly int[] _gives = [.. Enumerable.Range(0, 25)];

        public IReadOnlyList<Hypothesis> Causes { get; } =
        [.. _names.Select(n => new Hypothesis(n, CauseKind.Part, n, [.. _gives.Select(g => $"{n} gives {g}")], 1))];

        public IReadOnlyList<Act> Acts { get; } =
        [.. ((string[])["F", "G", "X", "Y", "Z"]).Select(n => new Act(n, ActKind.Read, n, "", []) { Span = 25 })];

        public Prediction Healthy(Act act) => Of(act, []);

        private static Prediction Of(Act act, Dictionary<string, int> faulty)
        {
            int Out(string name, int should) => faulty.TryGetValue(name, out var gives) ? gives : should;
            var (x, y, z) = (Out("M1", 6), Out("M2", 6), Out("M3", 6));
            return Prediction.Of(
                act.Id switch
                {
                    "X" => x,
                    "Y" => y,
                    "Z" => z,
                    "F" => Out("A1", x + y),
                    _ => Out("A2", y + z),
                }
            );
        }

        public Prediction Predict(Hypothesis cause, int size, Act act) =>
            cause.Both.Count == 0
                ? Of(act, new Dictionary<string, int> { [cause.Part] = _gives[size] })
                : Of(
                    act,
                    new Dictionary<string, int>
                    {
                        [cause.Both[0].Part] = _gives[size / _gives.Length],
                        [cause.Both[1].Part] = _gives[size % _gives.Length],
                    }
                );

        public IReadOnlyList<SharedError> SharedErrors(Act act) => [];

        public Hypothesis? Join(Hypothesis first, Hypothesis second) =>
            new(
                $"{first.Id}+{second.Id}",
                CauseKind.Part,
                "",
                [.. _gives.SelectMany(a => _gives.Select(b => $"{first.Part} gives {a}, {second.Part} gives {b}"))],
                1
            )
            {
                Both = [first, second],
            };

        public Finding Found(string what, double value) =>
            new(what, Acts.Single(a => a.Id == what), new ActOutcome(OutcomeKind.Number, value), 0, Showing.Unknown, what, false);
    }

    [Fact]
    public void The_diagnoses_of_three_multipliers_and_two_adders_are_the_published_ones()
    {
        var box = new Polybox();
        var posterior = Posterior.Of(box, [box.Found("F", 10), box.Found("G", 12)], _exact);
        var found = posterior
            .All.Where(w => w.Share > 1e-6)
            .Select(w => string.Join("+", w.Cause.Parts.Order(StringComparer.Ordinal)))
            .Distinct()
            .ToHashSet();
        // Minimal: {A1}, {M1}, {A2, M2}, {M2, M3}. What holds one of the first two beside another explains no more.
        Assert.Contains("A1", found);
        Assert.Contains("M1", found);
        Assert.Contains("A2+M2", found);
        Assert.Contains("M2+M3", found);
        Assert.DoesNotContain("M2", found);
        Assert.DoesNotContain("A2", found);
        Assert.DoesNotContain("M3", found);
        Assert.DoesNotContain("A2+M3", found);
        Assert.Equal(["A1", "M1"], posterior.All.Take(2).Select(w => w.Cause.Part).Order(StringComparer.Ordinal));
    }

    /// <summary>With single faults likelier by far, X tells {M1} from {A1} and is measured next (section 4.2 of the same).</summary>
    [Fact]
    public void The_next_probe_of_three_multipliers_and_two_adders_is_the_published_one()
    {
        var box = new Polybox();
        Finding[] found = [box.Found("F", 10), box.Found("G", 12)];
        var suspects = Suspicion.Of(Posterior.Of(box, found, _exact), _ => 60);
        var next = NextActs.Of(
            box,
            suspects,
            found,
            new Core.Measuring.RoundCost(_ => 0, (_, _) => 0),
            new NextActRules(School.Fastest, null, Core.Measuring.RoundMinutes.Usual) { Leave = 1e6 }
        );
        Assert.Equal("X", next[0].Act?.Id);
        var after = Posterior.Of(box, [.. found, box.Found("X", 4)], _exact);
        Assert.Equal("M1", after.All[0].Cause.Part);
        Assert.Equal("A1", Posterior.Of(box, [.. found, box.Found("X", 6)], _exact).All[0].Cause.Part);
    }

    /// <summary>A tree of two causes and one test, by hand: 0.3·0.83 / (0.3·0.83 + 0.7·0.03), with the floor of a slip in both.</summary>
    [Fact]
    public void A_function_that_is_weak_is_weighed_as_by_hand()
    {
        var model = new TwoCauses();
        var act = model.Acts[0];
        var posterior = Posterior.Of(
            model,
            [new Finding("f", act, new ActOutcome(OutcomeKind.Weak), 0, Showing.Unknown, "", false)],
            new WeighingRules(0.02, 0)
        );
        var (weak, works) = ((0.995 * 0.76) + (0.005 * 0.2), (0.995 * 0.03) + (0.005 * 0.2));
        Assert.Equal(0.3 * weak / ((0.3 * weak) + (0.7 * works)), posterior.All.Single(w => w.Cause.Id == "weak").Share, 9);
    }

    /// <summary>
    /// Two readings whose predictions hang on one assumed number: the joint normal density by hand, with the covariance of both.
    /// </summary>
    [Fact]
    public void Readings_that_share_an_error_are_weighed_with_their_covariance()
    {
        var model = new TwoCauses();
        Finding Read(int which, double value) =>
            new($"r{which}", model.Acts[which], new ActOutcome(OutcomeKind.Number, value), 0, Showing.Unknown, "", false);
        Finding[] both = [Read(1, 11), Read(2, 11)];
        var none = new WeighingRules(1e-12, 0);
        var posterior = Posterior.Of(model, both, none);
        // Under "works" both should read 10, each off by its own 0.2 / 3 and by a shared 0.5; under "weak" 11.8 with nothing shared beyond.
        double Log(double expected, double own, double shared)
        {
            var (a, b) = (own + (shared * shared), shared * shared);
            var determinant = (a * a) - (b * b);
            var off = 11 - expected;
            return -0.5 * Math.Log(determinant) - (off * off * 2 * (a - b) / (2 * determinant));
        }

        double Own(double value) => Math.Pow(Math.Max(0.2 / 3, 0.004 * value), 2);
        var (works, weak) = (Math.Log(0.7) + Log(10, Own(10), 0.5), Math.Log(0.3) + Log(11.8, Own(11.8), 0.5 * 1.18));
        Assert.Equal(1 / (1 + Math.Exp(weak - works)), posterior.All.Single(w => w.Cause.Id == "works").Share, 4);
    }

    [Fact]
    public void The_order_of_finding_makes_no_difference_and_what_is_taken_back_is_as_never_given()
    {
        var model = new TwoCauses();
        Finding Of(string id, int act, OutcomeKind kind, double value = 0) =>
            new(id, model.Acts[act], new ActOutcome(kind, value), 0, Showing.Unknown, "", false);
        Finding[] found = [Of("a", 0, OutcomeKind.Weak), Of("b", 1, OutcomeKind.Number, 10.4), Of("c", 2, OutcomeKind.Number, 10.6)];
        var forward = Posterior.Of(model, found);
        var back = Posterior.Of(model, found.Reverse());
        Assert.Equal(forward.All.Select(w => w.Share), back.All.Select(w => w.Share));
        var without = Posterior.Of(model, [found[0], found[2]]);
        Assert.Equal(without.All.Select(w => w.Share), Posterior.Of(model, found.Where(f => f.Id != "b")).All.Select(w => w.Share));
        Assert.NotEqual(forward.All[0].Share, without.All[0].Share);
    }

    [Fact]
    public void A_repeated_reading_is_no_new_evidence()
    {
        var model = new TwoCauses();
        Finding Of(string id) => new(id, model.Acts[3], new ActOutcome(OutcomeKind.Number, 10.5), 0, Showing.Unknown, "", false);
        double Odds(params Finding[] found)
        {
            var of = Posterior.Of(model, found);
            return of.All.Single(w => w.Cause.Id == "works").Share / of.All.Single(w => w.Cause.Id == "weak").Share;
        }

        var (once, ten) = (Odds(Of("a")), Odds([.. Enumerable.Range(0, 10).Select(i => Of($"x{i}"))]));
        Assert.InRange(Math.Abs(Math.Log(ten) - Math.Log(once)), 0, 0.25 * Math.Abs(Math.Log(once) - Math.Log(0.7 / 0.3)));
    }

    [Fact]
    public void A_reading_that_nothing_explains_clears_nobody_for_good()
    {
        var model = new TwoCauses();
        var posterior = Posterior.Of(
            model,
            [new Finding("f", model.Acts[1], new ActOutcome(OutcomeKind.Number, 3), 0, Showing.Unknown, "", false)]
        );
        Assert.All(posterior.All, w => Assert.InRange(w.Share, 0.2, 0.8));
        Assert.False(posterior.Explains(0, posterior.Speaks(posterior.All[0])[0]));
    }

    /// <summary>
    /// Two readings lean on one number: if all works it must be high, if it is weak it is as assumed. Knowing it tells the two apart; a
    /// place read once shares nothing.
    /// </summary>
    [Fact]
    public void The_number_on_which_two_suspects_disagree_is_the_one_to_know()
    {
        var model = new TwoCauses();
        Posterior Of(params double[] read) =>
            Posterior.Of(
                model,
                read.Select(
                    (value, i) =>
                        new Finding($"f{i}", model.Acts[i + 1], new ActOutcome(OutcomeKind.Number, value), i, Showing.Unknown, "", false)
                )
            );
        IReadOnlyDictionary<string, double> Parted(Posterior of) =>
            of.PartedBy(of.All.Single(w => w.Cause.Id == "works"), of.All.Single(w => w.Cause.Id == "weak"));
        var apart = Parted(Of(11, 11, 10));
        Assert.Equal(["rail"], apart.Keys);
        Assert.True(apart["rail"] > 1, $"{apart["rail"]}");
        var of = Of(11, 11, 10);
        var (one, other) = (of.All[0], of.All[1]);
        Assert.Equal(of.PartedBy(one, other)["rail"], of.PartedBy(other, one)["rail"], 1e-9);
        Assert.Equal(0, of.PartedBy(one, one)["rail"], 1e-9);
        // One reading alone shares nothing with another.
        Assert.Empty(Parted(Of(11)));
    }

    /// <summary>One works (7 in 10), one is weak (3 in 10); two readings that share an error, and one place alone.</summary>
    private sealed class TwoCauses : IDiagnosisModel
    {
        public IReadOnlyList<Hypothesis> Causes { get; } =
        [new("works", CauseKind.Part, "a", ["a"], 0.7), new("weak", CauseKind.Part, "b", ["b"], 0.3)];

        public IReadOnlyList<Act> Acts { get; } =
        [
            new Act("try", ActKind.Try, "try", "", []),
            new Act("read 1", ActKind.Read, "1", "", []) { Span = 20 },
            new Act("read 2", ActKind.Read, "2", "", []) { Span = 20 },
            new Act("read 3", ActKind.Read, "3", "", []) { Span = 20 },
        ];

        public Prediction Healthy(Act act) => act.Kind == ActKind.Try ? Prediction.Share(1) : Prediction.Of(10);

        public Prediction Predict(Hypothesis cause, int size, Act act) =>
            cause.Id == "works" ? Healthy(act)
            : act.Kind == ActKind.Try ? Prediction.Share(0.5)
            : Prediction.Of(11.8);

        public IReadOnlyList<SharedError> SharedErrors(Act act) =>
            act.Id == "read 3" ? [new("place 3", 0.5)]
            : act.Kind == ActKind.Read ? [new("rail", 0.5)]
            : [];

        public Hypothesis? Join(Hypothesis first, Hypothesis second) => null;
    }
}
