using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>The suspects of a machine by its circuit, by its wiring, and by its functions.</summary>
public sealed class MachineDiagnosisTests
{
    private static ResolvedMachine WithCircuit() =>
        Sample.Resolved(
            model: Sample.WithReturns with
            {
                Circuit = new CircuitSheet(
                    [
                        new CircuitRow("r0", "PS", "", "supply 24 V", "", ""),
                        new CircuitRow("r1", "load 1", "Z1-J2·1 to Z1-J2·2", "resistor 60 Ω", "", ""),
                        new CircuitRow("r2", "load 2", "Z2-J2·1 to Z2-J2·2", "resistor 20 Ω", "", ""),
                    ],
                    []
                ),
            }
        );

    private static MachineDiagnosis Of(ResolvedMachine machine) => MachineDiagnosis.Of(machine, FeedGraph.Of(machine));

    private static Finding Tried(MachineDiagnosis model, string part, OutcomeKind outcome) =>
        model.Acts.First(a => a.Kind == ActKind.Try && a.Words == part) is var act
            ? new Finding($"try {part}", act, new ActOutcome(outcome), 0, Showing.Unknown, $"{part} {outcome}", false)
            : null!;

    private static Finding Read(Act act, double value) =>
        new(act.Id, act, new ActOutcome(OutcomeKind.Number, Math.Round(value, 2)), 0, Showing.Unknown, $"{act.Words} {value:0.##}", false);

    private static Finding Open(Act act) =>
        new(act.Id, act, new ActOutcome(OutcomeKind.Open), 0, Showing.Unknown, $"{act.Words} OL", false);

    private static SuspectGroup Leader(Posterior of, MachineDiagnosis model) => Suspicion.Of(of, model.CureMinutes)[0];

    [Fact]
    public void What_works_clears_what_it_shares_and_leaves_what_only_the_dead_function_uses()
    {
        var model = Of(WithCircuit());
        Assert.Equal(3, model.Level);
        var before = Posterior.Of(model, []);
        var after = Posterior.Of(model, [Tried(model, "load 1", OutcomeKind.Works), Tried(model, "load 2", OutcomeKind.No)]);
        double Share(Posterior of, string part) => of.All.Where(w => w.Cause.Part == part).Sum(w => w.Share);
        Assert.True(Share(after, "PS") < 0.02, $"{Share(after, "PS")}");
        Assert.True(Share(after, "Z1-F1") < 0.01);
        Assert.True(Share(after, "Z2-F1") > 3 * Share(before, "Z2-F1"), $"{Share(before, "Z2-F1")} {Share(after, "Z2-F1")}");
        Assert.True(Share(after, "load 2") > 2 * Share(before, "load 2"));
    }

    private static Reasoned Reasoned(MachineDiagnosis model, IReadOnlyList<Finding> found) =>
        Reasoning.Of(
            model,
            found,
            RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
            new NextActRules(School.NoSwaps, null, RoundMinutes.Usual, 1)
        );

    /// <summary>One number that does not fit may be a slip, or the end of the suspect.</summary>
    [Fact]
    public void A_reading_that_does_not_fit_is_read_again_before_anything_is_proved()
    {
        var model = Of(WithCircuit());
        var cause = model.Causes.First(c => c.Part == "Z2-F1");
        List<Finding> found = [Tried(model, "load 1", OutcomeKind.Works), Tried(model, "load 2", OutcomeKind.No)];
        var reasoned = Reasoned(model, found);
        for (var i = 0; reasoned.Proved is null && i < 12; i++)
        {
            var act = reasoned.Next.First(n => n.Act is { Kind: ActKind.Read }).Act!;
            var shows = model.Predict(cause, 0, act);
            found.Add(shows.Kind is PredictionKind.Open or PredictionKind.AtLeast ? Open(act) : Read(act, shows.Value));
            reasoned = Reasoned(model, found);
        }

        Assert.Contains("Z2-F1", reasoned.Proved!.Parts);
        // Where nothing was read yet, and it would show something.
        var done = found.Select(f => f.Act.Id).ToHashSet();
        var other = model.Acts.First(a =>
            a is { Kind: ActKind.Read, Mode: MeterMode.DcVolts }
            && !done.Contains(a.Id)
            && model.Predict(cause, 0, a) is { Kind: PredictionKind.Number, Value: > 20 }
        );
        var odd = Read(other, 12);
        var once = Reasoned(model, [.. found, odd]);
        Assert.Null(once.Proved);
        Assert.Contains("Z2-F1", once.Suspects[0].Parts);
        Assert.Contains("read it again, or doubt it", once.Suspects[0].Because, StringComparison.Ordinal);
        Assert.Equal(other.Id, once.Next[0].Act?.Id);
        // Doubted, or otherwise when it is read again: a slip.
        Assert.NotNull(Reasoned(model, [.. found, odd with { IsDoubted = true }]).Proved);
        var right = Read(other, model.Predict(cause, 0, other).Value) with { Id = "again" };
        Assert.NotNull(Reasoned(model, [.. found, odd, right]).Proved);
        // Alike once more, it is none: nothing is proved against it, and nobody asks a third time.
        var twice = Reasoned(model, [.. found, odd with { IsReadTwice = true }]);
        Assert.Null(twice.Proved);
        Assert.Null(twice.Suspects[0].Wanted);
        Assert.True(twice.Suspects[0].Share < once.Suspects[0].Share);
    }

    /// <summary>Taken again and alike, the last counts, and is known to be no slip; otherwise than before it is as any other.</summary>
    [Theory]
    [InlineData("24.1", "24.2", true)]
    [InlineData("24.1", "0.2", false)]
    public void A_check_taken_again_is_known_to_be_read_twice(string first, string second, bool isTwice)
    {
        var machine = WithCircuit();
        var check = machine.Checks[0].Key;
        var sheet = RoundSheet.Of(machine, FeedGraph.Of(machine), [Sample.Reading(1, check, first), Sample.Reading(2, check, second)]);
        var finding = Assert.Single(Reasoning.KnownOf(Of(machine), "", [], [("r1", sheet)]).Findings);
        Assert.Equal(isTwice, finding.IsReadTwice);
    }

    /// <summary>Every single fault, read at every pin as it would be: the true part is among the first, and never impossible.</summary>
    [Fact]
    public void Honest_readings_lead_to_the_true_part()
    {
        var machine = WithCircuit();
        var model = Of(machine);
        var reads = model.Acts.Where(a => a.Kind == ActKind.Read).ToList();
        var (seen, first, least) = (0, 0, 1.0);
        foreach (var cause in model.Causes.Where(c => c.Kind == CauseKind.Part && !c.IsIntermittent))
        {
            var size = cause.Sizes.Count - 1;
            var shown = reads.ConvertAll(a => (Act: a, Healthy: model.Healthy(a), Faulty: model.Predict(cause, size, a)));
            if (shown.TrueForAll(s => !Suspicion.AreApart(s.Healthy, s.Faulty, s.Act)))
            {
                continue;
            }

            seen++;
            var found = shown.Where(s => s.Faulty.Kind == PredictionKind.Number).Select(s => Read(s.Act, s.Faulty.Value)).ToList();
            var posterior = Posterior.Of(model, found);
            var suspects = Suspicion.Of(posterior, model.CureMinutes);
            first += suspects.Take(3).Any(s => s.Parts.Contains(cause.Part)) ? 1 : 0;
            least = Math.Min(least, posterior.All.Where(w => w.Cause.Parts.Contains(cause.Part)).Sum(w => w.Share));
        }

        Assert.True(seen > 20);
        Assert.True(first > 0.95 * seen, $"{first} of {seen}");
        Assert.True(least > 1e-3, $"{least}");
    }

    [Fact]
    public void One_part_is_proved_by_the_act_aimed_at_it_and_never_by_its_odds_alone()
    {
        var machine = WithCircuit();
        var model = Of(machine);
        var truth = model.Causes.Single(c => c.Part == "Z2-F1" && c.Sizes[0].Contains("blown", StringComparison.Ordinal));
        var posterior = Posterior.Of(model, [Tried(model, "load 1", OutcomeKind.Works), Tried(model, "load 2", OutcomeKind.No)]);
        Assert.NotEqual(SuspectStanding.Proved, Leader(posterior, model).Standing);

        // Following the best reading each time.
        List<Finding> found = [.. posterior.Findings];
        for (var step = 0; step < 8; step++)
        {
            posterior = Posterior.Of(model, found);
            var suspects = Suspicion.Of(posterior, model.CureMinutes);
            if (suspects[0].Standing == SuspectStanding.Proved)
            {
                break;
            }

            var next = NextActs
                .Of(
                    model,
                    suspects,
                    found,
                    RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(machine)),
                    new NextActRules(School.NoSwaps, null, RoundMinutes.Usual)
                )
                .First(a => a.Kind == ActKind.Read);
            var shown = model.Predict(truth, 0, next.Act!);
            found.Add(Read(next.Act!, shown.Kind == PredictionKind.Number ? shown.Value : 0.02));
        }

        var leader = Leader(Posterior.Of(model, found), model);
        Assert.Equal(SuspectStanding.Proved, leader.Standing);
        Assert.Contains("Z2-F1", leader.Parts);
        Assert.InRange(found.Count, 3, 7);
        Assert.Contains("likelier than under all others together", leader.Because, StringComparison.Ordinal);
    }

    private static SeenWords Seen(MachineDiagnosis model, string text) => Assert.Single(SeenNotation.Read(text, model));

    private static Finding Found(MachineDiagnosis model, string text) =>
        Seen(model, text) is var seen ? new Finding(text, seen.Act, seen.Outcome, 0, seen.Showing, seen.Words, seen.IsDoubted) : null!;

    [Fact]
    public void A_fuse_that_blows_again_speaks_for_what_draws_too_much_and_against_the_fuse()
    {
        var model = Of(WithCircuit());
        double Share(string words, params string[] said) =>
            Posterior
                .Of(model, [.. said.Select(s => Found(model, s))])
                .All.Where(w => w.Words.Contains(words, StringComparison.Ordinal))
                .Sum(w => w.Share);
        const string Blows = "new Z1-F1 blew again at once, running";
        Assert.Equal("Z1-F1, running: blows at once", Seen(model, Blows).Words);
        Assert.True(Share("load 1 shorted", Blows) > 6 * Share("load 1 shorted"));
        Assert.True(Share("Z1-F1 blown", Blows) < Share("Z1-F1 blown") / 5);
        // It holds: whatever would blow it is out, and it may have been nothing but itself.
        const string Holds = "Z1-F1 holds, running";
        Assert.True(Share("load 1 shorted", Holds) < Share("load 1 shorted") / 5);
        Assert.True(Share("Z1-F1 blown", Holds) > Share("Z1-F1 blown"));
        // With the second board's plug pulled it holds: it is there.
        const string Without = "Z1-F1 holds with Z2-J1 pulled, running";
        Assert.Equal("Z1-F1 with Z2-J1 pulled, running: holds", Seen(model, Without).Words);
        Assert.True(Share("load 1 shorted", Blows, Without) < Share("load 1 shorted", Blows) / 5);
        Assert.True(Share("load 2 shorted", Blows, Without) > Share("load 2 shorted", Blows));
    }

    [Theory]
    [InlineData("Z9-F1 blows, running")]
    [InlineData("Z2-F1 holds with Z9-J9 pulled, running")]
    public void What_is_no_fuse_or_no_plug_of_the_machine_is_not_taken_for_one(string text) =>
        Assert.DoesNotContain(SeenNotation.Read(text, Of(WithCircuit())), s => s.Act.Kind == ActKind.Close);

    /// <summary>Drilled, burnt, cut in an earlier repair: full volts on one side of a path, nothing on the other.</summary>
    [Fact]
    public void A_cut_track_is_found_between_its_two_pins()
    {
        var model = Of(WithCircuit());
        Act At(string pin) =>
            model.Acts.First(a =>
                a is { Kind: ActKind.Read, Mode: MeterMode.DcVolts, State: "running" }
                && a.Words.StartsWith($"{pin} to ", StringComparison.Ordinal)
                && !a.Words.Contains("across", StringComparison.Ordinal)
            );
        var leader = Leader(
            Posterior.Of(
                model,
                [
                    Tried(model, "load 1", OutcomeKind.Works),
                    Tried(model, "load 2", OutcomeKind.No),
                    Read(At("Z2-J1·1"), 23.9),
                    Read(At("Z2-F1·1"), 0.01),
                ]
            ),
            model
        );
        Assert.Equal(["track Z2-J1·1 to Z2-F1·1"], leader.Parts);
        Assert.Contains("open", leader.Words, StringComparison.Ordinal);
        // It goes where its board goes, and is seldom what is wrong.
        Assert.Contains("track Z2-J1·1 to Z2-F1·1", model.PartsCalled("board Z2"));
        Assert.InRange(
            Posterior.Of(model, []).All.Where(w => w.Words.StartsWith("track", StringComparison.Ordinal)).Sum(w => w.Share),
            0.001,
            0.06
        );
    }

    [Fact]
    public void Two_faults_at_once_are_found_as_two()
    {
        var model = Of(WithCircuit());
        var first = model.Causes.Single(c => c.Part == "load 1" && c.Sizes[0].Contains("open", StringComparison.Ordinal));
        var second = model.Causes.Single(c => c.Part == "Z2-F1" && c.Sizes[0].Contains("blown", StringComparison.Ordinal));
        var both = model.Join(first, second)!;
        List<Finding> found =
        [
            Tried(model, "load 1", OutcomeKind.No),
            Tried(model, "load 2", OutcomeKind.No),
            .. model
                .Acts.Where(a => a.Kind == ActKind.Read && a.Mode is MeterMode.DcVolts or MeterMode.Ohms)
                .Select(a => (a, Shown: model.Predict(both, 0, a)))
                .Where(s => s.Shown.Kind is PredictionKind.Number or PredictionKind.Open)
                .Select(s => s.Shown.Kind == PredictionKind.Open ? Open(s.a) : Read(s.a, s.Shown.Value)),
        ];
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        Assert.Equal(["Z2-F1", "load 1"], suspects[0].Parts.Order(StringComparer.Ordinal));
        Assert.False(suspects[0].AreRivals);
        // Held against other pairs: what was read at each proves both.
        Assert.Equal(SuspectStanding.Proved, suspects[0].Standing);
        // And not before the one was read at: that it does nothing is said of many.
        bool IsOfSecond(Finding f) =>
            f.Act.Kind == ActKind.Try || (f.Act is { Mode: MeterMode.DcVolts, State: "running" } && !f.Act.Aims.Contains("load 1"));
        var before = Suspicion.Of(Posterior.Of(model, found.Where(IsOfSecond)), model.CureMinutes)[0];
        Assert.Equal(SuspectStanding.Likely, before.Standing);
        Assert.Contains("load 1", before.Because, StringComparison.Ordinal);
        Assert.Contains("load 1", before.Wanted!.Aims);
    }

    /// <summary>One of two is shown, and what else fails is no part of it: what is read there comes next.</summary>
    [Fact]
    public void What_is_left_unexplained_is_read_next()
    {
        var model = Of(WithCircuit());
        var burnt = model.Causes.Single(c => c.Part == "load 1" && c.Sizes[0].Contains("open", StringComparison.Ordinal));
        List<Finding> found =
        [
            Tried(model, "load 1", OutcomeKind.No),
            Tried(model, "load 2", OutcomeKind.No),
            .. model
                .Acts.Where(a => a.Kind == ActKind.Read && !a.Aims.Contains("load 2"))
                .Select(a => (a, Shown: model.Predict(burnt, 0, a)))
                .Where(s => s.Shown.Kind is PredictionKind.Number or PredictionKind.Open)
                .Select(s => s.Shown.Kind == PredictionKind.Open ? Open(s.a) : Read(s.a, s.Shown.Value)),
        ];
        var leader = Leader(Posterior.Of(model, found, new WeighingRules { Second = 0 }), model);
        Assert.Equal(("load 1", SuspectStanding.Likely), (leader.Name, leader.Standing));
        Assert.StartsWith("likely; it does not explain load 2", leader.Because, StringComparison.Ordinal);
        Assert.Contains("load 2", leader.Wanted!.Aims);
        Assert.DoesNotContain(found, f => f.Act.Id == leader.Wanted.Id);
    }

    /// <summary>Live readings make a fuse as good as certain; the ohms of what it feeds are read all the same.</summary>
    [Fact]
    public void A_blown_fuse_is_not_proved_before_what_may_have_blown_it_is_shown_not_shorted()
    {
        var whole = WithCircuit();
        var circuit = whole.Model.Circuit;
        CircuitRow[] rows =
        [
            circuit.Rows[0] with
            {
                What = "battery 24 V",
            },
            .. circuit.Rows.Skip(1),
            new CircuitRow("r3", "Z1-F1", "", "fuse 10 A", "", ""),
            new CircuitRow("r4", "Z2-F1", "", "fuse 2 A", "", ""),
        ];
        var machine = Sample.Resolved(model: whole.Model with { Circuit = circuit with { Rows = rows } });
        // This fuse was it so often that nothing else comes near.
        var model = MachineDiagnosis.Of(machine, FeedGraph.Of(machine), new Dictionary<string, int> { ["Z2-F1"] = 120 });
        var blown = model.Causes.Single(c => c.Part == "Z2-F1" && c.Sizes[0].Contains("blown", StringComparison.Ordinal));
        var shorted = model.Causes.Single(c => c.Part == "load 2" && c.Sizes[0].Contains("shorted", StringComparison.Ordinal));
        Assert.True(model.Blows(shorted, 0, "Z2-F1"));
        Assert.False(model.Blows(shorted, 0, "Z1-F1"));
        Assert.False(model.Blows(blown, 0, "Z2-F1"));
        List<Finding> found =
        [
            Tried(model, "load 2", OutcomeKind.No),
            .. model
                .Acts.Where(a => a is { Kind: ActKind.Read, Mode: not MeterMode.Ohms })
                .Select(a => (a, Shown: model.Predict(blown, 0, a)))
                .Where(s => s.Shown.Kind == PredictionKind.Number)
                .Select(s => Read(s.a, s.Shown.Value)),
        ];
        var leader = Leader(Posterior.Of(model, found), model);
        Assert.Equal(("Z2-F1", SuspectStanding.Likely), (leader.Name, leader.Standing));
        Assert.EndsWith("may have taken it along: show that it is not shorted", leader.Because, StringComparison.Ordinal);
        for (var reads = 0; leader.Wanted is { } wanted; reads++)
        {
            Assert.Equal(MeterMode.Ohms, wanted.Mode);
            Assert.True(reads < 4);
            found.Add(model.Predict(blown, 0, wanted) is { Kind: PredictionKind.Number } shown ? Read(wanted, shown.Value) : Open(wanted));
            leader = Leader(Posterior.Of(model, found), model);
        }

        Assert.Equal(("Z2-F1", SuspectStanding.Proved), (leader.Name, leader.Standing));
    }

    /// <summary>What convicts a fuse on a machine whose wiring can be right convicts nobody where it cannot.</summary>
    [Theory]
    [InlineData("resistor 60 Ω", SuspectStanding.Proved)]
    [InlineData("lamp 5 V 0.5 W", SuspectStanding.Likely)]
    public void Nothing_is_proved_by_a_wiring_that_cannot_be_right(string load, SuspectStanding standing)
    {
        var whole = WithCircuit();
        var circuit = whole.Model.Circuit;
        var model = Of(
            Sample.Resolved(
                model: whole.Model with
                {
                    Circuit = circuit with { Rows = [circuit.Rows[0], circuit.Rows[1] with { What = load }, circuit.Rows[2]] },
                }
            )
        );
        var blown = model.Causes.Single(c => c.Part == "Z2-F1" && c.Sizes[0].Contains("blown", StringComparison.Ordinal));
        List<Finding> found =
        [
            Tried(model, "load 2", OutcomeKind.No),
            .. model
                .Acts.Where(a => a.Kind == ActKind.Read)
                .Select(a => (a, Shown: model.Predict(blown, 0, a)))
                .Where(s => s.Shown.Kind is PredictionKind.Number or PredictionKind.Open)
                .Select(s => s.Shown.Kind == PredictionKind.Open ? Open(s.a) : Read(s.a, s.Shown.Value)),
        ];
        var leader = Leader(Posterior.Of(model, found), model);
        Assert.Equal((standing, "Z2-F1"), (leader.Standing, Assert.Single(leader.Parts)));
        Assert.Equal(
            standing != SuspectStanding.Proved,
            leader.Because.Contains("cannot be right (load 1 would get", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_finding_is_as_on_a_healthy_machine_or_not_and_sometimes_nobody_can_say()
    {
        var model = Of(WithCircuit());
        var volts = model.Acts.First(a => a.Kind == ActKind.Read && a.Mode == MeterMode.DcVolts && model.Healthy(a).Value > 20);
        var ohms = model.Acts.First(a => a.Kind == ActKind.Read && a.Mode == MeterMode.Ohms);
        Assert.True(model.IsAsHealthy(Read(volts, 24)));
        Assert.False(model.IsAsHealthy(Read(volts, 11)));
        Assert.False(model.IsAsHealthy(Open(ohms)));
        Assert.True(model.IsAsHealthy(Tried(model, "load 1", OutcomeKind.Works)));
        Assert.False(model.IsAsHealthy(Tried(model, "load 1", OutcomeKind.Weak)));
        var between = model.Read(volts.Black!, volts.Red!, MeterMode.Frequency, volts.State, null);
        Assert.Null(model.IsAsHealthy(Read(between, 3)));
    }

    /// <summary>24 V at 20 Ω are 1.2 A, by Ohm's law.</summary>
    [Fact]
    public void A_clamp_tells_a_load_that_takes_too_much_from_one_that_gets_too_little()
    {
        var model = Of(WithCircuit());
        var tried = Tried(model, "load 2", OutcomeKind.Weak);
        var clamp = model.Acts.Single(a => a.Mode == MeterMode.DcAmps && a.Aims.Contains("load 2") && a.State == tried.Act.State);
        Assert.Equal("DC amps around the wire at Z2-J2·1", clamp.Words);
        Assert.Equal(("A", null), (clamp.UnitSign, clamp.Black));
        Assert.InRange(model.Healthy(clamp).Value, 1.15, 1.2);
        Assert.True(model.IsAsHealthy(Read(clamp, 1.2)));
        Assert.False(model.IsAsHealthy(Read(clamp, 0)));
        double Share(Func<Weighed, bool> which, double amps) =>
            Posterior.Of(model, [tried, Read(clamp, amps)]).All.Where(which).Sum(w => w.Share);
        bool IsLoad(Weighed w) => w.Cause.Part == "load 2";
        bool LetsTooLittle(Weighed w) => w.Cause.Part != "load 2" && w.Words.EndsWith("too much", StringComparison.Ordinal);
        // Fewer ohms than it should have draw more; a bad contact on the way lets less through.
        Assert.True(Share(IsLoad, 1.47) > 2 * Share(IsLoad, 0.5));
        Assert.True(Share(LetsTooLittle, 0.8) > 3 * Share(LetsTooLittle, 1.47));
        // Who could not clamp once is not asked for it again.
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine));
        List<string> others = [.. model.Acts.Where(a => !a.IsByClamp).Select(a => a.Id)];
        IEnumerable<NextAct> Clamps(params string[] leftOut) =>
            Reasoning
                .Of(
                    model,
                    [tried],
                    cost,
                    new NextActRules(School.Fastest, null, RoundMinutes.Usual) { LeftOut = others.Concat(leftOut).ToHashSet() }
                )
                .Next.Where(n => n.Act is { IsByClamp: true });
        Assert.NotEmpty(Clamps());
        Assert.Empty(Clamps(model.Acts.First(a => a.IsByClamp).Id));
        // Where nothing flows, whoever would let something through is cleared.
        var none = Posterior.Of(model, [Tried(model, "load 2", OutcomeKind.No), Read(clamp, 0)]);
        Assert.All(
            none.All.Where(w => w.Cause.Kind == CauseKind.Part && w.Share > 0.02),
            w => Assert.True(model.Predict(w.Cause, w.Size, clamp).Value < 0.2, w.Words)
        );
    }

    [Fact]
    public void What_fits_nothing_brings_the_unlisted_to_the_front()
    {
        var model = Of(WithCircuit());
        // Reversed and doubled, here and there: no single fault of this circuit does that.
        var found = model
            .Acts.Where(a => a.Kind == ActKind.Read && a.Mode == MeterMode.DcVolts)
            .Take(4)
            .Select((a, i) => Read(a, (double[])[-11, 37, -5, 41] is var odd ? odd[i] : 0))
            .ToList();
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        Assert.Equal(CauseKind.Unlisted, suspects[0].Kind);
    }

    /// <summary>At level 1 the suspects are those of the bad stretch, whatever the table of odds says of them.</summary>
    [Theory]
    [InlineData("24.1", "0.0")]
    [InlineData("24.0", "12.0")]
    public void By_the_wiring_alone_the_suspects_are_the_bad_stretch(string good, string bad)
    {
        var machine = Sample.Resolved();
        var graph = FeedGraph.Of(machine);
        var model = MachineDiagnosis.Of(machine, graph);
        Assert.Equal(1, model.Level);
        var rows = RoundSheet.Of(machine, graph, []).Rows.Where(r => SheetOrder.TracesPower(r.Check)).ToList();
        var (near, far) = (rows[0].Check, rows[^1].Check);
        Entry[] entries = [Sample.Reading(1, near.Key, good), Sample.Reading(2, far.Key, bad)];
        var report = RoundSheet.Of(machine, graph, entries).Paths.Single(p => p.State.Code == far.State.Code).Report;
        var posterior = Posterior.Of(
            model,
            [
                Read(model.Read(near)!, double.Parse(good, System.Globalization.CultureInfo.InvariantCulture)),
                Read(model.Read(far)!, double.Parse(bad, System.Globalization.CultureInfo.InvariantCulture)),
            ]
        );
        var stretch = report.Suspects.Select(l => $"link/{graph[l].Id}").ToHashSet();
        var suspected = posterior
            .All.Where(w => w.Share > 0.03 && w.Cause.Id.StartsWith("link/", StringComparison.Ordinal))
            .Select(w => w.Cause.Id)
            .ToHashSet();
        Assert.NotEmpty(stretch);
        Assert.Equal(stretch.Order(), suspected.Order());
        Assert.True(posterior.All.Where(w => stretch.Contains(w.Cause.Id)).Sum(w => w.Share) > 0.6);
    }

    private static ResolvedMachine WithFunctions() =>
        Sample.Resolved(
            model: Sample.Model with
            {
                Links = [],
                Functions = new FunctionSheet(
                    ["PS", "board Z1", "board Z2", "motor 1", "motor 2", "cable"],
                    [
                        new FunctionRow("f1", "belt 1 runs", "running", ["PS", "board Z1", "motor 1"], []),
                        new FunctionRow("f2", "belt 2 runs", "running", ["PS", "board Z1", "board Z2", "motor 2", "cable"], []),
                        new FunctionRow("f3", "lamp 2 lit", "running", ["PS", "board Z1", "board Z2", "cable"], []),
                    ]
                ),
            }
        );

    [Fact]
    public void By_functions_what_works_clears_what_it_needs_but_never_another_output_of_a_board()
    {
        var model = Of(WithFunctions());
        Assert.Equal(2, model.Level);
        Finding Seen(string name, OutcomeKind outcome) => Tried(model, name, outcome);
        var posterior = Posterior.Of(
            model,
            [Seen("belt 1 runs", OutcomeKind.Works), Seen("belt 2 runs", OutcomeKind.No), Seen("lamp 2 lit", OutcomeKind.Works)]
        );
        var suspects = Suspicion.Of(posterior, model.CureMinutes);
        double Share(string part) => suspects.Where(s => s.Parts.Contains(part)).Sum(s => s.Share);
        var all = string.Join("; ", suspects.Take(8).Select(x => $"{x.Name} {x.Words} {x.Share:0.###}"));
        Assert.True(suspects[0].Parts.Contains("motor 2"), all);
        Assert.True(Share("PS") < 0.1, all);
        // One output of the board may be dead while the other works; no act of this table tells it from its motor.
        Assert.True(suspects[0].AreRivals);
        Assert.Contains("board Z2", suspects[0].Parts);
        Assert.Equal(model.CureMinutes(model.Causes.First(c => c.Part == "motor 2")), suspects[0].CureMinutes);
        Assert.True(Share("motor 1") < 0.01);
    }

    [Fact]
    public void Confirmed_faults_raise_the_odds_of_their_part_and_no_more_than_the_table_is_worth()
    {
        var machine = WithFunctions();
        var plain = Of(machine);
        var learnt = MachineDiagnosis.Of(machine, FeedGraph.Of(machine), new Dictionary<string, int> { ["Motor 1"] = 3 });
        double Share(MachineDiagnosis of) => Posterior.Of(of, []).All.Where(w => w.Cause.Part == "motor 1").Sum(w => w.Share);
        Assert.InRange(Share(learnt), Share(plain) + 0.03, Share(plain) + 0.12);
    }
}
