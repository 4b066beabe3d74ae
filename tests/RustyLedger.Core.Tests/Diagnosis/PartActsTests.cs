using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using Interlock = RustyLedger.Core.Safety.Interlock;
using InterlockKind = RustyLedger.Core.Safety.InterlockKind;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>What is done to a part as a whole, and what a board says of itself, as evidence and as what to do next.</summary>
public sealed class PartActsTests
{
    private static OffBoardPart Motor(string id, string designator, string name) =>
        new(
            id,
            PartKind.Motor,
            designator,
            name,
            [new("a", 1, "A", WireColours.None, "motor"), new("b", 2, "B", WireColours.None, "motor return")]
        );

    private static BoardCode Code(string id, CodeKind kind, string shown, int times, string meaning, string pointsTo) =>
        new(
            id,
            kind,
            shown,
            "",
            "",
            times > 0 ? CodePattern.Groups : CodePattern.Steady,
            times > 0 ? [times] : [],
            null,
            null,
            meaning,
            pointsTo,
            "",
            null
        );

    /// <summary>Two zone boards in a chain, a motor at each, and what the boards say of themselves.</summary>
    /// <param name="supply">Of both.</param>
    private static MachineDiagnosis Belts(string supply = "supply 24 V")
    {
        var machine = Sample.Resolved(
            board: Sample.Board with
            {
                Codes =
                [
                    Code("c2", CodeKind.Lamp, "", 2, "Belt does not move though driven", "belt motor at J2, jam"),
                    Code("c3", CodeKind.Beeps, "", 3, "No volts come in", "F1, the supply"),
                    Code("c4", CodeKind.Display, "E4", 0, "Software mixed up", ""),
                ],
            },
            model: Sample.Model with
            {
                Parts = [.. Sample.Model.Parts, Motor("m1", "M1", "belt motor 1"), Motor("m2", "M2", "belt motor 2")],
                Links =
                [
                    .. Sample.Model.Links,
                    new("r1", Probe.At("ps", "minus"), Probe.At("z1", "j1-2"), false),
                    new("r2", Probe.At("z1", "j2-2"), Probe.At("z2", "j1-2"), false),
                    new("m1a", Probe.At("z1", "j2-1"), Probe.At("m1", "a"), true),
                    new("m1b", Probe.At("z1", "j2-2"), Probe.At("m1", "b"), false),
                    new("m2a", Probe.At("z2", "j2-1"), Probe.At("m2", "a"), true),
                    new("m2b", Probe.At("z2", "j2-2"), Probe.At("m2", "b"), false),
                ],
                Signatures = new SignatureSheet(["motor 0, trip 2 ±1: the belt motor is shorted", "motor 0, trip 80 ±9: a belt is jammed"]),
                Circuit = new CircuitSheet(
                    [
                        new CircuitRow("r0", "PS", "", supply, "", ""),
                        new CircuitRow("r1", "M1", "", "motor 24 V 0.6 A, winding 4 Ω", "", ""),
                        new CircuitRow("r2", "M2", "", "motor 24 V 0.6 A, winding 4 Ω", "", ""),
                    ],
                    []
                ),
            }
        );
        return MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
    }

    private static MachineDiagnosis Table()
    {
        var machine = Sample.Resolved(
            model: Sample.Model with
            {
                Links = [],
                Functions = new FunctionSheet(
                    ["PS", "board Z1", "board Z2", "motor 1", "motor 2", "cable"],
                    [
                        new FunctionRow("f1", "belt 1 runs", "running", ["PS", "board Z1", "motor 1"], []),
                        new FunctionRow("f2", "belt 2 runs", "running", ["PS", "board Z1", "board Z2", "motor 2", "cable"], []),
                    ]
                ),
            }
        );
        return MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
    }

    private static SeenWords Seen(MachineDiagnosis model, string text) => Assert.Single(SeenNotation.Read(text, model));

    private static double Share(MachineDiagnosis model, Func<Weighed, bool> of, params string[] said) =>
        Posterior.Of(model, Said.Of(model, said)).All.Where(of).Sum(w => w.Share);

    private static double OfPart(MachineDiagnosis model, string part, params string[] said) =>
        Share(model, w => w.Cause.Parts.Contains(part), said);

    private const string Stands = "M2 does not run, running";

    [Theory]
    [InlineData("swapped M2 with M1: the fault followed", ActKind.Swap, OutcomeKind.No, "swapped M2 with M1: the fault followed")]
    [InlineData("Swapped belt motor 2: it stayed", ActKind.Swap, OutcomeKind.Works, "swapped M2: it stayed")]
    [InlineData("M2 looks burnt", ActKind.Inspect, OutcomeKind.No, "M2 looks burnt")]
    [InlineData("the belt motor 2 looks all right", ActKind.Inspect, OutcomeKind.Works, "M2 looks all right")]
    [InlineData("Z2-J2 is badly corroded", ActKind.Inspect, OutcomeKind.No, "Z2-J2 looks badly corroded")]
    [InlineData("nothing for 20 min", ActKind.Wait, OutcomeKind.Works, "did not come back for 20 min")]
    [InlineData("it has not come back for 3 days", ActKind.Wait, OutcomeKind.Works, "did not come back for 3 days")]
    [InlineData("came back after 30 s", ActKind.Wait, OutcomeKind.No, "came back after 30 s")]
    [InlineData("zone 2: 2 blinks", ActKind.Code, OutcomeKind.No, "zone 2 lamp, 2 blinks, pause: Belt does not move though driven")]
    [InlineData(
        "Timed: motor 0.0 s, trip 2.1 s; 97 % the belt motor is shorted",
        ActKind.Code,
        OutcomeKind.No,
        "timed: the belt motor is shorted"
    )]
    public void What_was_done_and_seen_is_read_as_people_write_it(string text, ActKind kind, OutcomeKind outcome, string words)
    {
        var seen = Seen(Belts(), text);
        Assert.Equal((kind, outcome, words), (seen.Act.Kind, seen.Outcome.Kind, seen.Words));
        Assert.False(seen.IsDoubted);
    }

    /// <summary>In a complaint, beside what it does and does not.</summary>
    [Fact]
    public void A_fuse_found_blown_may_be_it_and_one_that_went_twice_is_not()
    {
        var model = Belts();
        var twice = SeenNotation.Read("M2 stands, running, fuse Z2-F1 blown twice", model);
        Assert.Equal([ActKind.Try, ActKind.Close], twice.Select(s => s.Act.Kind));
        Assert.Equal("Z2-F1: blows", twice[1].Words);
        var once = SeenNotation.Read("M2 stands, running; Z2-F1 was blown", model);
        Assert.Equal("Z2-F1 found blown", once[1].Words);
        Assert.True(OfPart(model, "Z2-F1", Stands, "Z2-F1 blown") > 2 * OfPart(model, "Z2-F1", Stands));
        Assert.True(OfPart(model, "Z1-F1", "Z1-F1 blown twice") < OfPart(model, "Z1-F1") / 2);
    }

    /// <summary>What Arrive caught and the stopwatch kept counts without being entered again.</summary>
    [Fact]
    public void Codes_and_times_that_were_kept_count()
    {
        var model = Belts();
        Observation Line(string id, ObservationKind kind, string text) =>
            new()
            {
                Id = id,
                VisitId = "v",
                Kind = kind,
                Text = text,
                At = DateTimeOffset.UnixEpoch,
                PersonId = "p",
            };
        var known = Reasoning.KnownOf(
            model,
            Stands,
            [
                Line("o1", ObservationKind.Lamp, "zone 2: 2 blinks, Belt does not move though driven"),
                Line("o2", ObservationKind.WorkedOut, "Timed: motor 0.0 s, trip 2.1 s; 55 % the belt motor is shorted"),
                Line("o3", ObservationKind.Code, "zone 1 E 4"),
                Line("o4", ObservationKind.WorkedOut, "120 W at 24 V: 5 A"),
            ],
            []
        );
        Assert.Equal(["complaint", "o1", "o2"], known.Findings.Select(f => f.Id));
        // Hardly likelier than not: it counts half.
        Assert.Equal([false, false, true], known.Findings.Select(f => f.IsDoubted));
        Assert.Equal(["o3"], known.NotUsed.Select(n => n.Id));
    }

    /// <summary>Of two boards of one type nobody knows which blinked; what points nowhere says nothing; what is no part is none.</summary>
    [Theory]
    [InlineData("2 blinks")]
    [InlineData("zone 1 shows E4")]
    [InlineData("M9 looks burnt")]
    [InlineData("M2 looks dead")]
    [InlineData("Belt does not move though driven, on zone 2")]
    [InlineData("M2 looks slow, running")]
    [InlineData("swapped M2 with M1: we shall see")]
    [InlineData("Timed: motor 0.0 s, trip 9.0 s; 97 % none of what is written down")]
    public void What_cannot_be_told_is_not_guessed(string text) =>
        Assert.DoesNotContain(
            SeenNotation.Read(text, Belts()),
            s => s.Act.Kind is ActKind.Code or ActKind.Swap or ActKind.Inspect or ActKind.Wait
        );

    [Fact]
    public void A_fault_that_follows_a_part_is_in_it_and_one_that_stays_is_not()
    {
        var model = Belts();
        Assert.True(OfPart(model, "M2", Stands) < 0.6, $"{OfPart(model, "M2", Stands)}");
        Assert.True(
            OfPart(model, "M2", Stands, "swapped M2 with M1: the fault followed") > 0.75,
            $"{OfPart(model, "M2", Stands, "swapped M2 with M1: the fault followed")}"
        );
        Assert.True(OfPart(model, "M2", Stands, "swapped M2 with M1: it stayed") < OfPart(model, "M2", Stands) / 5);
        // Gone at both says little of either.
        Assert.Equal(OfPart(model, "M2", Stands), OfPart(model, "M2", Stands, "swapped M2 with M1: it is gone at both"), 0.05);
        // A group that no reading parts is parted by it: the motor, and the wires and contacts it hung on.
        var suspects = Suspicion.Of(
            Posterior.Of(model, Said.Of(model, Stands, "swapped M2 with M1: the fault followed")),
            model.CureMinutes
        );
        Assert.Equal(["M2"], suspects[0].Parts);
    }

    [Fact]
    public void A_burnt_part_is_suspected_more_and_never_proved_by_its_looks()
    {
        var model = Belts();
        Assert.True(OfPart(model, "Z2-F1", Stands, "Z2-F1 looks burnt") > 3 * OfPart(model, "Z2-F1", Stands));
        Assert.True(OfPart(model, "Z2-F1", Stands, "Z2-F1 looks good") < OfPart(model, "Z2-F1", Stands));
        // A fuse that something behind it took with it looks as bad as one that went by itself.
        bool IsShorted(Weighed w) => w.Words.Contains("M2 shorted", StringComparison.Ordinal);
        Assert.True(
            Share(model, IsShorted, Stands, "Z1-F1 looks burnt") > 2 * Share(model, IsShorted, Stands),
            $"{Share(model, IsShorted, Stands, "Z1-F1 looks burnt")} {Share(model, IsShorted, Stands)}"
        );
        // However often it is said, it is one look at one part; and it convicts nobody.
        var suspects = Suspicion.Of(
            Posterior.Of(model, Said.Of(model, Stands, "Z2-F1 looks burnt", "Z2-J2 looks good", "Z2-J1 looks good", "M2 looks good")),
            model.CureMinutes,
            new ProofRule(0.3, 0.3, 1.01, 1000)
        );
        Assert.Contains("Z2-F1", suspects[0].Parts);
        Assert.NotEqual(SuspectStanding.Proved, suspects[0].Standing);
    }

    [Fact]
    public void A_code_speaks_for_what_hangs_where_it_points()
    {
        var model = Belts();
        const string Blinks = "zone 2: 2 blinks, pause, Belt does not move though driven";
        Assert.Equal(["M2"], Seen(model, Blinks).Act.Aims.Where(a => a.StartsWith('M')));
        Assert.True(OfPart(model, "M2", Stands, Blinks) > OfPart(model, "M2", Stands));
        Assert.True(OfPart(model, "Z2-F1", Stands, Blinks) < OfPart(model, "Z2-F1", Stands) / 3);
        Assert.Contains("Z1-F1", Seen(model, "zone 1: 3 beeps").Act.Aims);
        // What a board says is no act that convicts.
        Assert.All(
            Suspicion.Of(Posterior.Of(model, Said.Of(model, Stands, Blinks)), model.CureMinutes),
            s => Assert.NotEqual(SuspectStanding.Proved, s.Standing)
        );
    }

    [Fact]
    public void Watched_long_enough_in_vain_speaks_against_what_lasts_and_for_what_comes_and_goes()
    {
        var model = Belts();
        double Nothing(params string[] said) => Share(model, w => w.Cause.Kind == CauseKind.NothingWrong, said);
        double AtTimes(params string[] said) => Share(model, w => w.Cause.IsIntermittent, said);
        Assert.True(Nothing("nothing for 20 min") > 5 * Nothing());
        Assert.True(AtTimes("nothing for 20 min") > 3 * AtTimes());
        // The longer, the less it is there at all.
        Assert.True(Nothing("nothing for 3 days") > Nothing("nothing for 20 min"));
        Assert.True(Nothing("came back after 30 s") < Nothing() / 5);
    }

    [Fact]
    public void Suspects_are_looked_at_swapped_with_their_equals_and_never_before_they_are_shown_not_shorted()
    {
        var model = Belts();
        var found = Said.Of(model, Stands, "M1 runs, running");
        List<NextAct> Next(IReadOnlyList<Finding> findings, School school = School.Fastest, string leftOut = "") =>
            [
                .. Reasoning
                    .Of(
                        model,
                        findings,
                        RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
                        new NextActRules(school, null, RoundMinutes.Usual, 1) { LeftOut = new HashSet<string> { leftOut } }
                    )
                    .Next,
            ];
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        var swap = Assert.Single(model.ActsFor(suspects, found), a => a.Kind == ActKind.Swap && a.Aims.Contains("M2"));
        Assert.Equal("M2 with M1", swap.Words);
        Assert.Contains(
            model.ActsFor(suspects, found),
            a => a.Kind == ActKind.Swap && a.Words == "the board of zone 2 with the one of zone 1"
        );
        // What is not there twice cannot change places.
        Assert.DoesNotContain(
            model.ActsFor(suspects, found),
            a => a.Kind == ActKind.Swap && a.Words.StartsWith("PS", StringComparison.Ordinal)
        );
        Assert.DoesNotContain(Next(found), a => a.Act?.Id == swap.Id);
        var ohms = model.Acts.First(a => a is { Kind: ActKind.Read, Mode: MeterMode.Ohms, Aims: ["M2"] });
        Assert.Contains(Next(found), a => a.Act?.Id == ohms.Id);
        // What cannot be shown there is not swapped.
        Assert.DoesNotContain(Next(found, leftOut: ohms.Id), a => a.Act?.Id == swap.Id || a.Act?.Id == ohms.Id);
        var shown = new Finding("ohms", ohms, new ActOutcome(OutcomeKind.Number, 4.2), 9, Showing.Unknown, "M2 4.2", false);
        Assert.Contains(Next([.. found, shown]), a => a.Act?.Id == swap.Id);
        Assert.DoesNotContain(Next([.. found, shown], School.NoSwaps), a => a.Kind == ActKind.Swap);
        Assert.All(Next([.. found, shown]).Where(a => a.Kind is ActKind.Swap or ActKind.Inspect), a => Assert.Equal(2, a.Outcomes.Count));
    }

    /// <summary>A supply that gives no more than so much is dragged down by one load, and all is well once that one is unplugged.</summary>
    [Fact]
    public void What_works_again_with_a_plug_pulled_was_dragged_down_by_what_hangs_there()
    {
        var model = Belts("supply 24 V, at most 1.6 A");
        bool IsShorted(Weighed w) => w.Words.Contains("M2 shorted", StringComparison.Ordinal);
        const string Both = "M1 does nothing, running; M2 does nothing, running";
        const string Pulled = "M1 works with Z2-J1 pulled, running";
        Assert.Equal("M1 with Z2-J1 pulled, running: works", Seen(model, Pulled).Words);
        Assert.Equal("Z2-J1", Seen(model, Pulled).Act.Pulled);
        Assert.True(
            Share(model, IsShorted, Both, Pulled) > 3 * Share(model, IsShorted, Both),
            $"{Share(model, IsShorted, Both)} {Share(model, IsShorted, Both, Pulled)}"
        );
        Assert.True(OfPart(model, "PS", Both, Pulled) < OfPart(model, "PS", Both) / 4);
        // Still dead with it pulled: it was not that.
        Assert.True(Share(model, IsShorted, Both, "M1 does nothing with Z2-J1 pulled, running") < Share(model, IsShorted, Both) / 4);
        // It is proposed, for what hangs on it.
        var found = Said.Of(model, Both);
        var acts = model.ActsFor(Suspicion.Of(Posterior.Of(model, found), model.CureMinutes), found);
        Assert.Contains(acts, a => a.Kind == ActKind.Try && a.Pulled == "Z2-J2");
        // Without a circuit nobody knows what a plug takes with it: it says nothing.
        var table = Table();
        Assert.Equal(
            OfPart(table, "board Z1", "belt 2 does nothing"),
            OfPart(table, "board Z1", "belt 2 does nothing", "belt 1 works with Z2-J1 pulled"),
            0.001
        );
    }

    /// <summary>A ledger that has the wires wrong reads as a machine that has: no reading parts the two.</summary>
    [Fact]
    public void Exchanged_wires_are_likely_by_what_is_read_and_proved_by_a_look()
    {
        var model = Belts();
        var cause = model.Causes.First(c => c.IsRewired && c.Part.Contains("Z1-J2", StringComparison.Ordinal));
        List<Finding> found =
        [
            .. model
                .Acts.Where(a => a.Kind is ActKind.Read or ActKind.Try)
                .Select(a => (Act: a, Shown: model.Predict(cause, 0, a)))
                .Where(a => a.Shown.Kind is PredictionKind.Number or PredictionKind.Share)
                .Select(a => new Finding(
                    a.Act.Id,
                    a.Act,
                    a.Shown.Kind == PredictionKind.Number ? new ActOutcome(OutcomeKind.Number, Math.Round(a.Shown.Value, 2))
                        : a.Shown.Value > 0.9 ? new ActOutcome(OutcomeKind.Works)
                        : new ActOutcome(OutcomeKind.No),
                    0,
                    Showing.Unknown,
                    a.Act.Words,
                    false
                )),
        ];
        var leader = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes)[0];
        Assert.True(leader.Parts.Contains(cause.Part) && leader.Share > 0.95, $"{leader.Name} {leader.Share} {leader.Because}");
        Assert.NotEqual(SuspectStanding.Proved, leader.Standing);
        Assert.Contains("look at", leader.Because, StringComparison.Ordinal);
        var look = PartActs.Inspect([cause.Part], cause.Part);
        Finding Looked(OutcomeKind how) => new("look", look, new ActOutcome(how), 1, Showing.Unknown, "look", false);
        Assert.Equal(
            SuspectStanding.Proved,
            Suspicion.Of(Posterior.Of(model, [.. found, Looked(OutcomeKind.No)]), model.CureMinutes)[0].Standing
        );
        Assert.True(
            Posterior.Of(model, [.. found, Looked(OutcomeKind.Works)]).All.Where(w => w.Cause.Id == cause.Id).Sum(w => w.Share)
                < leader.Share
        );
    }

    [Fact]
    public void A_fuse_that_suspects_blow_is_closed_again_with_each_plug_behind_it_pulled_and_at_its_price()
    {
        var model = Belts();
        var found = Said.Of(model, Stands, "M1 does not run, running", "Z1-F1 blows, running");
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        var closes = model.ActsFor(suspects, found).Where(a => a.Kind == ActKind.Close && a.Aims[0] == "Z1-F1").ToList();
        Assert.Contains(closes, a => a.Pulled == "Z2-J1");
        Assert.Contains(closes, a => a.Pulled == "Z1-J2");
        Assert.DoesNotContain(closes, a => a.Pulled == "Z1-J1");
        var next = Reasoning.Of(
            model,
            found,
            RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
            new NextActRules(School.Fastest, null, RoundMinutes.Usual, 1)
        );
        var close = next.Next.First(a => a.Kind == ActKind.Close);
        Assert.Equal(["holds", "opens after a while", "opens at once"], close.Outcomes.Select(o => o.Words).Order(StringComparer.Ordinal));
        Assert.Equal(1, close.Outcomes.Sum(o => o.Chance), 0.001);
        Assert.DoesNotContain(
            Reasoning
                .Of(
                    model,
                    found,
                    RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
                    new NextActRules(School.NoLive, null, RoundMinutes.Usual, 1)
                )
                .Next,
            a => a.Kind == ActKind.Close
        );
    }

    /// <summary>What protects stays in its circuit: its contact is read across, and the words say so.</summary>
    [Fact]
    public void A_protective_device_is_read_across_in_every_state_and_never_bridged()
    {
        var plain = Belts();
        var machine = Sample.Resolved(
            model: plain.Machine.Model with
            {
                Safety = plain.Machine.Model.Safety with
                {
                    Interlocks =
                    [
                        new Interlock("i1", InterlockKind.Stop, "stop loop", Probe.At("z1", "j2-1"), Probe.At("z2", "j1-1"), ""),
                        new Interlock("i2", InterlockKind.Guard, "hood", null, null, "lift it"),
                    ],
                },
            }
        );
        var model = MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
        var across = model.Acts.Where(a => model.InterlockOf(a)?.Id == "i1").ToList();
        Assert.Equal(
            machine.Model.States.Where(s => s.Energised).Select(s => s.Code).Order(StringComparer.Ordinal),
            across.Where(a => a.Mode == MeterMode.DcVolts).Select(a => a.State).Order(StringComparer.Ordinal)
        );
        Assert.All(across, a => Assert.EndsWith("across stop loop", a.Words, StringComparison.Ordinal));
        var nothing = Reasoning.Of(
            model,
            [],
            RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(machine)),
            new NextActRules(School.Fastest, null, RoundMinutes.Usual, 1)
        );
        var mind = SeenChoices.Mind(ActKind.Read, across[0], nothing, model);
        Assert.StartsWith(
            "Never bridged, not for a moment: stop loop is a protective device (stop). Its test: measure volts",
            mind,
            StringComparison.Ordinal
        );
        Assert.Equal(
            "",
            SeenChoices.Mind(ActKind.Read, model.Acts.First(a => a.Kind == ActKind.Read && model.InterlockOf(a) is null), nothing, model)
        );
    }

    /// <summary>Both run and the fuse before both has nothing behind it: no fault is all of that, and one is to be doubted.</summary>
    [Fact]
    public void What_cannot_all_be_so_is_said_with_the_least_to_doubt()
    {
        var model = Belts();
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine));
        var rules = new NextActRules(School.Fastest, null, RoundMinutes.Usual, 1);
        var fuse = model.Acts.First(a =>
            a is { Kind: ActKind.Read, Mode: MeterMode.DcVolts, State: "running" }
            && a.Words.StartsWith("Z1-F1·2 to ", StringComparison.Ordinal)
        );
        List<Finding> found =
        [
            // At one moment: else it may have come and gone between.
            .. Said.Of(model, "M1 runs, running; M2 runs, running"),
            new Finding("dead", fuse, new ActOutcome(OutcomeKind.Number, 0.02), 0, Showing.Unknown, "Z1-F1·2 0.02 V, running", false),
        ];
        var reasoned = Reasoning.Of(model, found, cost, rules);
        Assert.Equal(["dead"], reasoned.LeastToDoubt.Select(f => f.Id));
        Assert.NotEqual("", reasoned.Otherwise);
        var honest = Reasoning.Of(model, Said.Of(model, "M1 runs, running", Stands), cost, rules);
        Assert.Empty(honest.LeastToDoubt);
        Assert.Equal("", honest.Otherwise);
    }

    /// <summary>Every button writes a line that is read back as the act it stands under, with what it says.</summary>
    [Fact]
    public void What_may_be_seen_of_an_act_is_read_back_as_that_act()
    {
        foreach (var model in new[] { Belts(), Table() })
        {
            var found = Said.Of(model, model.Level == 3 ? "M2 works at times, running" : "belt 2 does nothing");
            var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
            List<Act> acts =
            [
                .. model.Acts.Where(a => a.Kind != ActKind.Read),
                .. model.ActsFor(suspects, found),
                .. suspects.Where(s => s.Parts.Count > 0).Take(5).Select(s => MachineDiagnosis.Fit(s.Parts)),
            ];
            Assert.Superset(
                model.Level == 3
                    ? [ActKind.Try, ActKind.Inspect, ActKind.Swap, ActKind.Fit, ActKind.Wait]
                    : new HashSet<ActKind> { ActKind.Try, ActKind.Inspect, ActKind.Swap, ActKind.Fit },
                acts.Select(a => a.Kind).ToHashSet()
            );
            foreach (var act in acts)
            {
                var choices = SeenChoices.Of(act, model);
                Assert.True(choices.Count >= 2, act.Id);
                foreach (var choice in choices)
                {
                    var seen = SeenNotation.Read(choice.Line, model);
                    Assert.True(seen.Count == 1, $"{act.Id}: {choice.Line}: {string.Join("; ", seen.Select(s => s.Act.Id))}");
                    // When it came back is for who saw it to say.
                    Assert.True(act.Kind == ActKind.Wait || seen[0].Act.Id == act.Id, $"{choice.Line}: {seen[0].Act.Id} is not {act.Id}");
                    Assert.Equal(act.Kind, seen[0].Act.Kind);
                }

                Assert.True(choices.Select(c => SeenNotation.Read(c.Line, model)[0].Outcome.Kind).Distinct().Count() > 1);
            }
        }
    }

    /// <summary>A function that is called by what it does, and nobody said in which state: it is tried where nothing is stopped.</summary>
    [Fact]
    public void A_function_said_by_its_name_works_and_is_tried_where_it_can()
    {
        var machine = Sample.Resolved(
            model: Sample.Model with
            {
                Links = [],
                Functions = new FunctionSheet(
                    ["board", "motor 1", "motor 2"],
                    [
                        new FunctionRow("f1", "wheel 1 turns", "", ["board", "motor 1"], []),
                        new FunctionRow("f2", "wheel 2 turns", "", ["board", "motor 2"], []),
                    ]
                ),
            }
        );
        var model = MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
        var seen = SeenNotation.Read("Wheel 1 does not turn; wheel 2 turns", model);
        Assert.Equal(
            [("wheel 1 turns, running: does nothing", OutcomeKind.No), ("wheel 2 turns, running: works", OutcomeKind.Works)],
            seen.Select(s => (s.Words, s.Outcome.Kind))
        );
        Assert.Equal(OutcomeKind.No, Assert.Single(SeenNotation.Read("wheel 2 turns", model, OutcomeKind.No)).Outcome.Kind);
    }

    [Fact]
    public void Without_a_circuit_motors_that_differ_by_their_number_and_boards_of_one_type_change_places()
    {
        var model = Table();
        var found = Said.Of(model, "belt 2 does nothing", "belt 1 works");
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        var swaps = model.ActsFor(suspects, found).Where(a => a.Kind == ActKind.Swap).Select(a => a.Words).ToList();
        Assert.Contains("motor 2 with motor 1", swaps);
        Assert.Contains("the board of zone 2 with the one of zone 1", swaps);
        // Its outcomes part what nothing else would, and each says whom it leaves.
        var next = Reasoning
            .Of(
                model,
                found,
                RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine)),
                new NextActRules(School.Fastest, null, RoundMinutes.Usual)
            )
            .Next;
        var swap = next.First(a => a.Act is { Kind: ActKind.Swap, Words: "motor 2 with motor 1" });
        Assert.StartsWith(
            "motor 2 is left at ",
            swap.Outcomes.Single(o => o.Words == "the fault followed").Means,
            StringComparison.Ordinal
        );
        Assert.StartsWith(
            "motor 2 is cleared; board Z2 is left at ",
            swap.Outcomes.Single(o => o.Words == "it stayed").Means,
            StringComparison.Ordinal
        );
        Assert.True(
            OfPart(model, "board Z2", "belt 2 does nothing", "swapped the board of zone 2 with the one of zone 1: it stayed")
                < OfPart(model, "board Z2", "belt 2 does nothing") / 5
        );
    }
}
