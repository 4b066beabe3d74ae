using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>Checks that should read alike, what is right on one machine only, and what was read before.</summary>
public sealed class SetsAndNormalsTests
{
    /// <summary>Checks of the sample machine alone, one at each of the first pins.</summary>
    private static ResolvedMachine With(MeterMode mode, string limit, params string[] remarks)
    {
        string[] pins = ["j1-1", "f1-1", "f1-2", "j2-1", "j2-2", "j1-2"];
        return Sample.Resolved(
            Sample.Machine with
            {
                Checks =
                [
                    .. remarks.Select(
                        (remark, i) =>
                            new Check(
                                $"s{i}",
                                CheckTarget.Pair,
                                Probe.At("z1", pins[i]),
                                Probe.At("ps", "minus"),
                                "",
                                mode,
                                mode is MeterMode.Ohms or MeterMode.Diode ? "off" : "running",
                                null,
                                LimitNotation.ReadOne(limit, mode).Limit,
                                remark
                            )
                    ),
                ],
            }
        );
    }

    private static RoundSheet Read(ResolvedMachine machine, params string[] typed) =>
        RoundSheet.Of(
            machine,
            FeedGraph.Of(machine),
            typed.Select((t, i) => (t, i)).Where(r => r.t.Length > 0).Select(r => Sample.Reading(r.i + 1, $"s{r.i}", r.t, machine.Machine))
        );

    private static SetReport Set(RoundSheet sheet) => Assert.Single(sheet.Sets, s => s.Set.IsSaid);

    [Fact]
    public void One_bad_of_a_set_asks_for_the_rest_and_all_are_judged_when_all_are_read()
    {
        var coils = With(MeterMode.Ohms, ">= 25 Ω", "set: coils", "set: coils", "set: coils", "set: coils", "set: coils", "set: coils");
        var begun = Set(Read(coils, "31", "4"));
        Assert.Equal((VerdictKind.NotJudged, 4, (CheckKey?)null), (begun.Kind, begun.Left.Count, begun.Odd));
        Assert.Equal(["s1"], begun.Bad.Select(b => b.Value));
        Assert.Contains("Measure the rest, 4 of 6", begun.Words, StringComparison.Ordinal);

        var whole = Set(Read(coils, "31", "4", "31.2", "30.8", "31", "30.9"));
        Assert.Equal((VerdictKind.Differs, "s1"), (whole.Kind, whole.Odd?.Value));
        Assert.Empty(whole.Left);
    }

    /// <summary>NEMA MG 1: 460, 467 and 450 V have an unbalance of 1.96 %.</summary>
    [Fact]
    public void Three_phases_have_the_unbalance_of_the_standard()
    {
        var phases = Set(Read(With(MeterMode.AcVolts, "460 V ±10 %", "set: phases", "set: phases", "set: phases"), "460", "467", "450"));
        Assert.Equal(VerdictKind.Within, phases.Kind);
        Assert.Contains(phases.Why, w => w.StartsWith("unbalance 1.96", StringComparison.Ordinal));
    }

    [Fact]
    public void How_far_they_may_be_apart_is_taken_from_what_was_said()
    {
        string[] drops = ["set: drops, within 0.05 V of each other", "set: drops", "Set: Drops; cold"];
        Assert.Equal(VerdictKind.Within, Set(Read(With(MeterMode.Diode, "0.4..0.6 V", drops), "0.48", "0.5", "0.51")).Kind);
        Assert.Equal(VerdictKind.Differs, Set(Read(With(MeterMode.Diode, "0.4..0.6 V", drops), "0.48", "0.5", "0.54")).Kind);
    }

    [Fact]
    public void Two_that_differ_accuse_nobody()
    {
        var two = Set(Read(With(MeterMode.Ohms, "1 to 100 Ω", "set: pair", "set: pair"), "10", "30"));
        Assert.Null(two.Odd);
        Assert.Equal(VerdictKind.Marginal, two.Kind);
    }

    /// <summary>Two drops at one pin, as of a bridge: both ends tell which is odd.</summary>
    [Fact]
    public void Members_at_one_pin_are_told_apart_by_their_other_end()
    {
        string[] drops = ["set: drops", "set: drops", "set: drops"];
        var machine = With(MeterMode.Diode, "0.3..0.8 V", drops).Machine;
        machine = machine with
        {
            Checks =
            [
                .. machine.Checks.Select(
                    (c, i) => c with { Red = Probe.At("z1", "j1-1"), Black = Probe.At("z1", ((string[])["f1-1", "f1-2", "j2-1"])[i]) }
                ),
            ],
        };
        var set = Set(Read(Sample.Resolved(machine), "0.49", "0.7", "0.5"));
        Assert.Equal("s1", set.Odd?.Value);
        Assert.Contains("Z1-J1·1 to Z1-F1·2 stands apart", set.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void Volts_along_a_path_are_no_set_unless_somebody_says_so()
    {
        Assert.Empty(Read(With(MeterMode.DcVolts, "24 V", "rail 1", "rail 2", "rail 3")).Sets);
        Assert.Equal(3, Set(Read(With(MeterMode.DcVolts, "24 V", "set: rails", "set: rails", "set: rails"))).Left.Count);
    }

    [Fact]
    public void What_is_called_alike_but_for_a_number_is_a_set()
    {
        var model = Sample.Model;
        var machine = With(MeterMode.Ohms, ">= 25 Ω", "", "");
        // Both pins do "24 V in" and the like on the sample; named as coils they belong together.
        var named = machine with
        {
            Pins = machine.Pins.ToDictionary(
                p => p.Key,
                p =>
                    p.Key == Probe.At("z1", "j1-1") ? p.Value with { Pin = p.Value.Pin with { Signal = "coil 1" } }
                    : p.Key == Probe.At("z1", "f1-1") ? p.Value with { Pin = p.Value.Pin with { Signal = "coil 2" } }
                    : p.Value
            ),
        };
        var set = Assert.Single(CheckSets.Of(named.Checks, named));
        Assert.Equal(("coil 1 to coil 2", false, 2), (set.Name, set.IsSaid, set.Members.Count));
        Assert.Equal(2, model.Positions.Count);
    }

    private static (ResolvedMachine Machine, Entry Entry) HighSupply()
    {
        var machine = Sample.Resolved();
        return (machine, Sample.Reading(1, "p1", "26.4"));
    }

    [Fact]
    public void A_reading_accepted_with_its_reason_is_this_machines_normal_from_then_on()
    {
        var (machine, entry) = HighSupply();
        Assert.Equal("26.4 V ±5 %", MachineNormal.Proposed(entry));
        var accepted = MachineNormal.Accept(machine, entry, LimitNotation.ReadOne("26.4 V ±5 %").Limit, "set high for the far end", "o1");
        Assert.True(accepted.IsTaken);
        var now = Sample.Resolved(accepted.Thing);
        var sheet = RoundSheet.Of(now, FeedGraph.Of(now), [entry]);
        var row = sheet.Rows.Single(r => r.Check.Key == "p1");
        Assert.Equal(VerdictKind.Within, row.Reading!.Verdict.Kind);
        Assert.Equal("this machine's normal", row.Reading.Verdict.Rule);
        Assert.Contains("set high for the far end", row.Check.SourcedLimit.From.Words, StringComparison.Ordinal);
        // Another reading of that round stands under the limit that it was taken under.
        var other = RoundSheet.Of(now, FeedGraph.Of(now), [entry with { Id = "other" }]);
        Assert.Equal(VerdictKind.High, other.Rows.Single(r => r.Check.Key == "p1").Reading!.Verdict.Kind);
    }

    [Theory]
    [InlineData("26.4 V ±5 %", "", "reason")]
    [InlineData("26.4 V ±5 %", "26.4 V", "reason")]
    [InlineData("24 V ±5 %", "because", "limit")]
    [InlineData("OL", "because", "limit")]
    public void A_normal_without_reason_or_that_its_own_reading_fails_is_refused(string limit, string reason, string field)
    {
        var (machine, entry) = HighSupply();
        Assert.Equal(field, MachineNormal.Accept(machine, entry, LimitNotation.ReadOne(limit).Limit, reason, "o1").Refusal?.Field);
    }

    [Fact]
    public void A_later_normal_takes_the_place_of_the_one_before_and_leaves_all_else()
    {
        var (machine, entry) = HighSupply();
        var colours = new Override("o0", Probe.At("ps", "plus"), null, null, "24 V, set high", null, "as found");
        machine = Sample.Resolved(Sample.Machine with { Overrides = [colours] });
        var once = MachineNormal.Accept(machine, entry, LimitNotation.ReadOne("26 V ±5 %").Limit, "as set", "o1").Thing!;
        var twice = MachineNormal.Accept(Sample.Resolved(once), entry, LimitNotation.ReadOne("27 V ±5 %").Limit, "set anew", "o2").Thing!;
        Assert.Equal(["o0", "o2"], twice.Overrides.Select(o => o.Id.Value));
    }

    [Fact]
    public void What_is_so_on_one_machine_goes_out_as_rows_and_comes_in_the_same()
    {
        var machine = Sample.Resolved(
            Sample.Machine with
            {
                Overrides =
                [
                    new("o1", Probe.At("z1", "j1-1"), null, WireColours.Read("BU"), null, null, "joined with what was there"),
                    new("o2", null, "p1", null, null, LimitNotation.ReadOne("26 V ±5 %").Limit, "set high") { ReadingId = "r1" },
                ],
            }
        );
        var rows = OverrideTable.Of(machine);
        Assert.Equal(("Z1-J1·1", "", "BU", ""), (rows[0].Pin, rows[0].Check, rows[0].Colours, rows[0].Limit));
        Assert.Equal(("PS·+", "running, DC volts, plugged, 24 V ±5 %", "26 V ±5 %"), (rows[1].Pin, rows[1].Check, rows[1].Limit));
        var (overrides, problems) = OverrideTable.Read(rows, machine);
        Assert.Empty(problems);
        Assert.Equal(machine.Machine.Overrides, overrides);
        // The reading spoke for the limit that it made.
        Assert.Null(OverrideTable.Read([rows[1] with { Limit = "27 V" }], machine).Overrides.Single().ReadingId);
    }

    [Theory]
    [InlineData("PS·+", "", "", "26 V", "", "reason")]
    [InlineData("PS·+", "", "", "26 V", "12", "reason")]
    [InlineData("PS·+", "", "", "", "why", "limit")]
    [InlineData("PS·+", "", "BU", "26 V", "why", "limit")]
    [InlineData("PS-9", "", "", "26 V", "why", "pin")]
    [InlineData("PS-9", "", "BU", "", "why", "pin")]
    [InlineData("PS·+", "", "plaid", "", "why", "colours")]
    [InlineData("PS·+", "asleep", "", "26 V", "why", "check")]
    [InlineData("PS·+", "", "", "about right", "why", "limit")]
    public void A_wrong_row_is_named_by_its_cell(string pin, string check, string colours, string limit, string reason, string column)
    {
        var (overrides, problems) = OverrideTable.Read(
            [new("new", pin, check, colours, "", limit, reason), new("good", "PS·+", "", "", "", "26 V ±5 %", "set high")],
            Sample.Resolved()
        );
        Assert.Equal(("new", column), problems.Select(p => (p.Row, p.Column)).Single());
        Assert.Equal("good", overrides.Single().Id.Value);
    }

    private static PastReading Past(int day, string value, string tag = "") =>
        new(new DateTimeOffset(2026, 3, day, 9, 0, 0, TimeSpan.Zero), ReadingNotation.Read(value, MeterMode.DcVolts).Choices[0], tag);

    [Fact]
    public void The_plain_change_is_said_in_numbers()
    {
        var history = CheckHistory.Of(
            [Past(9, "24.3"), Past(2, "24.5"), Past(3, "23.9", "LY-01"), Past(4, "24.6", "LY-02"), Past(1, "20", "LY-01")],
            ReadingNotation.Read("23.1", MeterMode.DcVolts).Choices[0]
        );
        Assert.Equal("24.3 V, 9 Mar 2026; now 1.2 V lower, 5 %; 2 twins read 23.9 to 24.6 V", history.Words);
        Assert.Equal(["24.5 V", "24.3 V"], history.Own.Select(p => p.Value.Written));
        Assert.Equal("never read before on this machine; LY-01 read 23.9 V", CheckHistory.Of([Past(3, "23.9", "LY-01")], null).Words);
    }

    [Fact]
    public void A_long_history_keeps_its_end_and_says_how_long_it_is()
    {
        var history = CheckHistory.Of(Enumerable.Range(0, 200).Select(i => Past(1 + (i % 28), $"{20 + (i / 100.0)}")), null);
        Assert.Equal((CheckHistory.MostOwn, 200), (history.Own.Count, history.Total));
    }
}
