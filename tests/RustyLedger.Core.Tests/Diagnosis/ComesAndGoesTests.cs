using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>
/// What is there at times: whether it showed while something was read, plugs moved by hand; and what must be so before a reading proves.
/// </summary>
public sealed class ComesAndGoesTests
{
    private static ResolvedMachine Machine(string supply = "supply 24 V", params CircuitRow[] more)
    {
        // At more volts it takes more ohms for the same fuse.
        var times = supply.Contains("110", StringComparison.Ordinal) ? 10 : 1;
        return Sample.Resolved(
            model: Sample.WithReturns with
            {
                Circuit = new CircuitSheet(
                    [
                        new CircuitRow("r0", "PS", "", supply, "", ""),
                        new CircuitRow("r1", "load 1", "Z1-J2·1 to Z1-J2·2", $"resistor {60 * times} Ω", "", ""),
                        new CircuitRow("r2", "load 2", "Z2-J2·1 to Z2-J2·2", $"resistor {20 * times} Ω", "", ""),
                        .. more,
                    ],
                    []
                ),
            }
        );
    }

    private static MachineDiagnosis Of(ResolvedMachine machine) => MachineDiagnosis.Of(machine, FeedGraph.Of(machine));

    private static Finding Tried(MachineDiagnosis model, string part, OutcomeKind outcome, int moment = 0) =>
        model.Acts.First(a => a.Kind == ActKind.Try && a.Words == part && a.State == "running") is var act
            ? new Finding($"try {part}", act, new ActOutcome(outcome), moment, Showing.Unknown, $"{part} {outcome}", false)
            : null!;

    private static Act At(MachineDiagnosis model, string words) =>
        model.Acts.First(a => a is { Kind: ActKind.Read, Mode: MeterMode.DcVolts, State: "running" } && a.Words == words);

    private static Finding Read(Act act, double value, int moment, Showing showing = Showing.Unknown) =>
        new($"{act.Id} {moment}", act, new ActOutcome(OutcomeKind.Number, value), moment, showing, $"{act.Words} {value}", false);

    private static double Share(MachineDiagnosis model, Func<Weighed, bool> of, params Finding[] found) =>
        Posterior.Of(model, found).All.Where(of).Sum(w => w.Share);

    private static bool IsAtTimes(Weighed w) => w.Cause.IsIntermittent;

    private static bool Lasts(Weighed w) => w.Cause is { Kind: CauseKind.Part, IsIntermittent: false };

    [Theory]
    [InlineData("17.4", Showing.Unknown, "17.4")]
    [InlineData("17.4 showing", Showing.Yes, "17.4")]
    [InlineData("17.4 not showing ?", Showing.No, "17.4   ?")]
    [InlineData("load 2 does nothing while it fails", Showing.Yes, "load 2 does nothing")]
    public void A_remark_says_whether_it_showed(string text, Showing showing, string rest)
    {
        var said = SeenNotation.ShowingIn(text);
        Assert.Equal((showing, rest), (said.Showing, said.Without.TrimEnd()));
    }

    /// <summary>Full volts at the second board say that it comes and goes while it works, and where it does not while it fails.</summary>
    [Fact]
    public void A_reading_counts_by_whether_the_fault_showed()
    {
        var model = Of(Machine());
        var dead = Tried(model, "load 2", OutcomeKind.No);
        var act = At(model, "Z2-J1·1 to Z2-J1·2");
        var healthy = model.Healthy(act).Value;
        bool Before(Weighed w) => w.Cause.Parts.Any(p => p is "contact Z2-J1·1" or "contact Z1-J2·1") && IsAtTimes(w);
        double Of_(Func<Weighed, bool> of, Showing showing) => Share(model, of, dead, Read(act, healthy, 1, showing));
        Assert.True(Of_(Lasts, Showing.No) < Of_(Lasts, Showing.Unknown) / 3);
        Assert.True(Of_(Before, Showing.No) > 2 * Of_(Before, Showing.Unknown));
        Assert.True(Of_(Before, Showing.Yes) < Of_(Before, Showing.Unknown) / 5);
        // Seen to be there, nothing wrong is ruled out.
        Assert.True(
            Of_(w => w.Cause.Kind == CauseKind.NothingWrong, Showing.Yes)
                < Of_(w => w.Cause.Kind == CauseKind.NothingWrong, Showing.Unknown) / 5
        );
    }

    [Fact]
    public void In_which_order_moments_were_written_down_does_not_matter()
    {
        var model = Of(Machine());
        Finding[] found =
        [
            Tried(model, "load 2", OutcomeKind.No),
            Read(At(model, "Z2-J1·1 to Z2-J1·2"), 24.9, 1, Showing.No),
            Read(At(model, "Z2-J1·1 to Z2-J1·2"), 0, 2, Showing.Yes),
            Read(At(model, "Z1-J2·1 to Z1-J2·2"), 25.1, 3),
        ];
        var shares = Posterior.Of(model, found).All.ToDictionary(w => w.Cause.Id, w => w.Share);
        foreach (var w in Posterior.Of(model, [.. found.Reverse()]).All)
        {
            Assert.Equal(shares[w.Cause.Id], w.Share, 9);
        }
    }

    /// <summary>Read again, once away and once there: both count, each at its moment; taken again without a word, the last alone.</summary>
    [Fact]
    public void A_check_read_again_keeps_what_was_read_while_it_was_away()
    {
        var model = Of(Machine());
        var check = Sample.Resolved().Checks[0].Key;
        IReadOnlyList<Finding> Known(params string[] typed)
        {
            var entries = typed.Select((t, i) => Sample.Reading(i + 1, check, t)).ToList();
            var sheet = RoundSheet.Of(model.Machine, FeedGraph.Of(model.Machine), entries);
            return Reasoning.KnownOf(model, "", [], [("r1", sheet)]).Findings;
        }

        var both = Known("24.1 not showing", "0.2 showing");
        Assert.Equal([(24.1, Showing.No), (0.2, Showing.Yes)], both.Select(f => (f.Outcome.Value, f.Showing)));
        Assert.Equal(2, both.Select(f => f.Moment).Distinct().Count());
        Assert.Equal([0.2], Known("24.1", "0.2").Select(f => f.Outcome.Value));
    }

    /// <summary>By the words of the complaint, or since somebody said it of a reading; else nobody is asked.</summary>
    [Theory]
    [InlineData("load 2 stops now and then", "24.1", true)]
    [InlineData("slow, at times", "24.1", true)]
    [InlineData("load 2 stops", "24.1 not showing", true)]
    [InlineData("load 2 stops", "24.1", false)]
    [InlineData("", "24.1", false)]
    public void Whether_it_showed_is_asked_of_what_may_come_and_go(string complaint, string typed, bool asks)
    {
        var machine = Sample.Resolved();
        var sheet = RoundSheet.Of(machine, FeedGraph.Of(machine), [Sample.Reading(1, machine.Checks[0].Key, typed)]);
        Assert.Equal(asks, Reasoning.MayComeAndGo(complaint, sheet));
    }

    private static Reasoned Reasoned(MachineDiagnosis model, params Finding[] found) =>
        Reasoning.Of(
            model,
            found,
            RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
            new NextActRules(School.Fastest, null, RoundMinutes.Usual, 1),
            new ProofRule(0.9, 0.9)
        );

    [Fact]
    public void What_fails_is_watched_where_it_can_be_seen_and_waited_for_once_it_may_come_and_go()
    {
        var model = Of(Machine());
        var (one, two) = (Tried(model, "load 1", OutcomeKind.No), Tried(model, "load 2", OutcomeKind.Weak, 1));
        var reasoned = Reasoned(model, one, two);
        // Of several, the one at which it is read; else the last.
        Assert.Equal(one, reasoned.Watched(At(model, "Z1-J2·1 to Z1-J2·2")));
        Assert.Equal(two, reasoned.Watched(At(model, "Z1-F1·2 to Z1-J1·2")));
        Assert.Equal(
            ("load 2", "weak", "works"),
            SeenChoices.Watch(At(model, "Z1-F1·2 to Z1-J1·2"), reasoned) is { } w ? (w.Words, w.Shows, w.Away) : default
        );
        Assert.All(model.Acts.Where(a => a.SetUp is { IsDead: true } || a.State != "running"), a => Assert.Null(reasoned.Watched(a)));
        Assert.Null(reasoned.Watched(model.Read(Probe.At("z2", "j1-1"), Probe.At("z2", "j1-2"), MeterMode.DcVolts, "running", false)));
        Assert.Null(Reasoned(model, Tried(model, "load 2", OutcomeKind.Works)).Watched(At(model, "Z1-F1·2 to Z1-J1·2")));

        var act = At(model, "Z2-J1·1 to Z2-J1·2");
        var away = Reasoned(model, two, Read(act, model.Healthy(act).Value, 2, Showing.No));
        Assert.True(away.MayComeAndGo);
        Assert.Equal(
            "It may come and go: read it while it shows (load 2: weak), and say so.",
            SeenChoices.Mind(ActKind.Read, act, away, model)
        );
    }

    [Fact]
    public void A_plug_that_is_moved_tells_what_comes_and_goes_in_it_and_is_live_at_extra_low_voltage_alone()
    {
        var model = Of(Machine());
        SeenWords Seen(string text) => Assert.Single(SeenNotation.Read(text, model));
        Assert.Equal(
            (ActKind.Wiggle, OutcomeKind.No),
            (Seen("wiggled Z2-J1: it came and went") is var s ? (s.Act.Kind, s.Outcome.Kind) : default)
        );
        Assert.Equal(OutcomeKind.Works, Seen("Moved z2-j1, nothing changed").Outcome.Kind);
        Assert.Equal("wiggled Z2-J1: nothing changed", Seen("moved z2-j1: no change").Words);
        Assert.Empty(SeenNotation.Read("wiggled the carpet: it came and went", model));

        var act = Seen("wiggled Z2-J1: it came and went").Act;
        Assert.Contains("contact Z2-J1·1", act.Aims);
        Finding Moved(OutcomeKind how) => new("moved", act, new ActOutcome(how), 5, Showing.Unknown, "", false);
        var dead = Tried(model, "load 2", OutcomeKind.Sometimes);
        bool Here(Weighed w) => IsAtTimes(w) && w.Cause.Parts.Contains("contact Z2-J1·1");
        Assert.True(Share(model, Here, dead, Moved(OutcomeKind.No)) > 2 * Share(model, Here, dead));
        Assert.True(Share(model, Here, dead, Moved(OutcomeKind.Works)) < Share(model, Here, dead) / 2);

        IReadOnlyList<Act> Wiggles(MachineDiagnosis of)
        {
            Finding[] found = [Tried(of, "load 2", OutcomeKind.Sometimes)];
            var suspects = Suspicion.Of(Posterior.Of(of, found), of.CureMinutes);
            return [.. of.ActsFor(suspects, found).Where(a => a.Kind == ActKind.Wiggle)];
        }

        Assert.Contains(Wiggles(model), a => a.Words == "Z2-J1" && a is { State: "running", SetUp.IsDead: false });
        Assert.Empty(Wiggles(Of(Machine("supply 110 V"))));
    }

    /// <summary>A broken return shows what the source gives, high or low as that is, where a healthy one shows next to nothing.</summary>
    [Fact]
    public void A_break_is_found_by_a_source_that_stands_high()
    {
        var model = Of(Machine());
        var open = model.Causes.Single(c =>
            c.Part.Contains("Z1-J2·2 to Z2-J1·2", StringComparison.Ordinal) && c.Sizes[0].EndsWith("open", StringComparison.Ordinal)
        );
        Finding[] At(double high) =>
            [
                Tried(model, "load 2", OutcomeKind.No),
                .. new[] { Probe.At("z2", "j1-2"), Probe.At("ps", "plus") }
                    .Select(red => model.Read(red, Probe.At("ps", "minus"), MeterMode.DcVolts, "running", null))
                    .Select((a, i) => Read(a, Math.Round(model.Predict(open, 0, a).Value * high, 2), i + 1)),
            ];
        double Open(double high) =>
            Share(model, w => w.Cause.Parts.Contains(open.Part) || w.Cause.Part.Contains("Z2-J1·2", StringComparison.Ordinal), At(high));
        Assert.True(Open(1) > 0.3, $"{Open(1)}");
        Assert.True(Open(1.06) > 0.9 * Open(1), $"{Open(1.06)} {Open(1)}");
    }

    private static readonly CircuitRow _output = new(
        "r3",
        "Z1 drive",
        "Z1-F1·2 to Z1-J2·1",
        "output",
        "running if Z1-J1·1 to Z1-J1·2 > 18 V",
        ""
    );

    [Fact]
    public void An_output_is_not_at_fault_before_what_it_waits_for_was_read()
    {
        var model = Of(Machine(more: _output));
        var off = model.Causes.Single(c => c.Part == "Z1 drive" && c.Sizes[0].Contains("does not come on", StringComparison.Ordinal));
        Finding Shown(string words, int moment) =>
            At(model, words) is var act ? Read(act, Math.Round(model.Predict(off, 0, act).Value, 2), moment) : null!;
        Finding[] found =
        [
            Tried(model, "load 1", OutcomeKind.No),
            Tried(model, "load 2", OutcomeKind.No),
            Shown("Z1-F1·2 to Z1-J1·2", 1),
            Shown("Z1-J2·1 to Z1-J2·2", 2),
        ];
        var before = Reasoned(model, found);
        Assert.Equal("Z1 drive", before.Suspects[0].Name);
        Assert.Contains(
            "Z1 drive waits for more than 18 V at Z1-J1·1: read it there",
            before.Suspects[0].Because,
            StringComparison.Ordinal
        );
        Assert.Null(before.Proved);
        // It leads what is to be done, and it is what is left.
        Assert.Equal("Z1-J1·1", model.Machine.Pins[before.Next[0].Act!.Red!].Printed);
        Assert.Equal("Z1 drive", Reasoned(model, [.. found, Shown("Z1-J1·1 to Z1-J1·2", 3)]).Proved?.Name);
        // Not there, it is not the output.
        Assert.NotEqual("Z1 drive", Reasoned(model, [.. found, Read(At(model, "Z1-J1·1 to Z1-J1·2"), 0, 3)]).Suspects[0].Name);
    }

    /// <summary>The volts that a regulator does not give are read where it is fed before it is condemned.</summary>
    [Fact]
    public void A_regulator_is_not_at_fault_before_its_input_was_read()
    {
        var rail = new CircuitRow("r3", "Z1 rail", "Z1-F1·2, \"rail\", Z1-J1·2", "regulator 5 V, at most 0.3 A", "", "");
        var lamp = new CircuitRow("r4", "Z1 lamp", "\"rail\" to Z1-J1·2", "lamp 5 V 0.5 W", "", "");
        var model = Of(Machine(more: [rail, lamp]));
        var dead = model.Causes.Single(c => c.Part == "Z1 rail" && c.Sizes[0].EndsWith("gives nothing", StringComparison.Ordinal));
        var wanted = model.WantedBefore(dead, []);
        Assert.Equal("Z1-F1·2", model.Machine.Pins[wanted!.Value.Act.Red!].Printed);
        Assert.Equal("Z1 rail is fed at Z1-F1·2: read it there", wanted.Value.Why);
        var fed = At(model, "Z1-F1·2 to Z1-J1·2");
        Assert.Null(model.WantedBefore(dead, [Read(fed, 23.4, 1)]));
        // Too little of it, and while the fault was away, are no answer.
        Assert.NotNull(model.WantedBefore(dead, [Read(fed, 9, 1)]));
        Assert.NotNull(model.WantedBefore(dead, [Read(fed, 23.4, 1, Showing.No)]));
        Assert.Null(model.WantedBefore(model.Causes.First(c => c.Part == "Z2-F1"), []));
    }

    /// <summary>The sheet says 24 V at a pin that its circuit gives 12 V: whichever is right, a reading there convicts nobody.</summary>
    [Fact]
    public void A_reading_where_sheet_and_circuit_cannot_both_be_right_proves_nothing()
    {
        var model = Of(Machine("supply 12 V"));
        var blown = model.Causes.Single(c => c.Part == "Z2-F1" && c.Sizes[0].Contains("blown", StringComparison.Ordinal));
        var (across, sheet) = (
            model.Acts.First(a =>
                a is { Kind: ActKind.Read, Mode: MeterMode.DcVolts, State: "running" }
                && a.Words.StartsWith("Z2-F1·1 to Z2-F1·2", StringComparison.Ordinal)
            ),
            At(model, "PS·+ to PS·-")
        );
        Assert.NotNull(sheet.CheckKey);
        Finding Shown(Act act, int moment) => Read(act, Math.Round(model.Predict(blown, 0, act).Value, 2), moment);
        Finding[] found = [Tried(model, "load 2", OutcomeKind.No), Tried(model, "load 1", OutcomeKind.Works), Shown(across, 1)];
        Assert.Equal("Z2-F1", Reasoned(model, found).Proved?.Name);
        var doubted = Reasoned(model, [.. found, Shown(sheet, 2)]);
        Assert.Equal((SuspectStanding.Likely, "Z2-F1"), (doubted.Suspects[0].Standing, doubted.Suspects[0].Name));
        Assert.Contains("the sheet says 24 V ±5 %, the circuit gives 12", doubted.Suspects[0].Because, StringComparison.Ordinal);
    }
}
