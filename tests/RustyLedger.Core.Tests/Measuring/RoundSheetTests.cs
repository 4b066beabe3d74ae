using RustyLedger.Core.Boards;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class RoundSheetTests
{
    [Fact]
    public void The_sheet_goes_down_the_power_path() =>
        Assert.Equal(["p1", "z1/c1", "z1/c2", "z1/c3", "z2/c1", "z2/c2", "z2/c3"], Sheet().Rows.Select(r => r.Check.Key));

    [Fact]
    public void The_stretch_is_named_and_its_middle_proposed()
    {
        var sheet = Sheet(Sample.Reading(1, "p1", "24.1"), Sample.Reading(2, "z2/c1", "17.9"));
        var path = Assert.Single(sheet.Paths);
        var words = Assert.Single(StretchWords.All(path, Sample.Resolved()));
        Assert.StartsWith(
            "The loss is between PS·+ and Z2-J1·1: fuse Z1-F1, 2 wires or 2 paths on the boards, a contact along them, the "
                + "return of Z2-J1, or a load pulling it down.",
            words.Sentence,
            StringComparison.Ordinal
        );
        // Pins with a check between: Z1-J1·1, F1·2, J2·1; the middle one halves it.
        Assert.Equal("z1/c2", sheet.Next(null));
        Assert.Equal("Check Z1-F1·2 next: it halves what is left.", words.Next);
        Assert.Contains(words.Why, w => w.Contains("4.9 V under the least allowed", StringComparison.Ordinal));
    }

    [Fact]
    public void A_narrow_stretch_names_the_wire_its_contacts_and_the_return()
    {
        var sheet = Sheet(Sample.Reading(1, "z1/c3", "24"), Sample.Reading(2, "z2/c1", "17.9"));
        var path = sheet.Paths[0];
        var words = StretchWords.All(path, Sample.Resolved())[0];
        Assert.Equal(
            "The loss is between Z1-J2·1 and Z2-J1·1: wire BU-WH from Z1-J2·1 to Z2-J1·1, either contact, the return of "
                + "Z2-J1, or a load pulling it down.",
            words.Sentence
        );
        Assert.Contains("left to measure", words.Next, StringComparison.Ordinal);
    }

    /// <summary>
    /// Volts between the two ends of a return, under load, judge it: 0.04 V leaves it unaccused, 1.8 V is the fault and explains what
    /// was read against its end.
    /// </summary>
    [Fact]
    public void A_reading_along_the_return_judges_it()
    {
        var bad = Sample.Reading(1, "z2/c1", "21.5");
        var sound = Sheet(Sample.Reading(0, "z1/c3", "24"), bad, AlongReturn(2, "0.04"));
        Assert.Equal(VerdictKind.Within, Assert.Single(sound.Extras).Verdict.Kind);
        var words = Assert.Single(StretchWords.All(sound.Paths[0], Sample.Resolved()));
        Assert.DoesNotContain(words.Found.Suspects, s => s.Kind == SuspectKind.Return);
        Assert.Contains("The return is sound: 0.04 V from Z2-J1·2 to PS·-, at most 0.3 V under load.", words.Why);

        var lost = Sheet(Sample.Reading(0, "z1/c3", "24"), bad, AlongReturn(2, "-1.8"));
        Assert.Equal(VerdictKind.High, Assert.Single(lost.Extras).Verdict.Kind);
        Assert.Equal(VerdictKind.High, lost.Last!.Verdict.Kind);
        var fault = Assert.Single(StretchWords.All(lost.Paths[0], Sample.Resolved()));
        Assert.Equal("The return loses 1.8 V from Z2-J1·2 to PS·-: a contact or the wire along it. It explains Z2-J1·1.", fault.Sentence);
        // It does not explain more than it loses, and an older reading between the same ends counts no more.
        Assert.Equal(
            2,
            StretchWords
                .All(
                    Sheet(Sample.Reading(0, "z1/c3", "24"), Sample.Reading(1, "z2/c1", "15"), AlongReturn(2, "1.8")).Paths[0],
                    Sample.Resolved()
                )
                .Count
        );
        Assert.Single(
            StretchWords.All(
                Sheet(Sample.Reading(0, "z1/c3", "24"), bad, AlongReturn(2, "1.8"), AlongReturn(3, "0.02")).Paths[0],
                Sample.Resolved()
            ),
            w => w.Stretch is not null
        );
        // Dead, it says nothing.
        Assert.Equal(VerdictKind.NotJudged, Assert.Single(Sheet(AlongReturn(2, "1.8") with { State = "off" }).Extras).Verdict.Kind);
    }

    private static Entry AlongReturn(long order, string typed) =>
        new(
            $"x{order}",
            order,
            EntryKind.Taken,
            null,
            Probe.At("z2", "j1-2"),
            Probe.At("ps", "minus"),
            MeterMode.DcVolts,
            "running",
            null,
            DefaultTolerance.Usual,
            ReadingNotation.Read(typed, MeterMode.DcVolts).Choices[0],
            null,
            ""
        );

    /// <summary>Two boards dead behind one feed: the place that explains both is said first, and is where the probe goes.</summary>
    [Fact]
    public void One_place_that_explains_every_bad_pin_is_said_first()
    {
        var model = Sample.Model with
        {
            Positions = [.. Sample.Model.Positions, new("z3", "Z3", "zone 3", "zb")],
            Links = [.. Sample.Model.Links, new("w3", Probe.At("z1", "j2-1"), Probe.At("z3", "j1-1"), true)],
        };
        var machine = ResolvedMachine.Of(Sample.Machine, model, new Dictionary<BoardTypeId, BoardType> { ["zb"] = Sample.Board });
        var sheet = RoundSheet.Of(
            machine,
            FeedGraph.Of(machine),
            [
                Sample.Reading(1, "p1", "24.1"),
                Sample.Reading(2, "z2/c1", "0"),
                Sample.Reading(3, "z2/c1", "0") with
                {
                    Id = "z",
                    CheckKey = "z3/c1",
                    Red = Probe.At("z3", "j1-1"),
                    Black = Probe.At("z3", "j1-2"),
                },
            ]
        );
        var all = StretchWords.All(sheet.Paths[0], machine);
        Assert.Equal(3, all.Count);
        Assert.StartsWith(
            "One place explains every bad pin, between PS·+ and Z1-J2·1: fuse Z1-F1",
            all[0].Sentence,
            StringComparison.Ordinal
        );
        Assert.DoesNotContain(all[0].Found.Suspects, s => s.Kind == SuspectKind.Return);
        Assert.Contains(
            machine.Pins[sheet.Rows.Single(r => r.Check.Key == sheet.Next(null)).Check.Check.Red!].Printed,
            all[0].Next,
            StringComparison.Ordinal
        );
        Assert.All(all.Skip(1), w => Assert.Empty(w.Next));
    }

    /// <summary>Without current equal volts clear no contact; what is alive still ends the search before what is dead.</summary>
    [Fact]
    public void A_reading_without_a_load_clears_no_contact()
    {
        var low = Sheet(Sample.Reading(1, "p1", "24"), Sample.Reading(2, "z1/c3", "24 no load"), Sample.Reading(3, "z2/c1", "18"));
        var stretch = Assert.Single(low.Paths[0].Report.Stretches);
        Assert.Equal(5, stretch.Links.Count);
        Assert.Contains(
            "Z1-J2·1 was read without a load: a weak contact would not show.",
            StretchWords.All(low.Paths[0], Sample.Resolved())[0].Why
        );
        Assert.Single(
            Assert
                .Single(
                    Sheet(Sample.Reading(1, "p1", "24"), Sample.Reading(2, "z1/c3", "24 no load"), Sample.Reading(3, "z2/c1", "0"))
                        .Paths[0]
                        .Report.Stretches
                )
                .Links
        );
        Assert.Single(
            Assert
                .Single(
                    Sheet(Sample.Reading(1, "p1", "24"), Sample.Reading(2, "z1/c3", "24"), Sample.Reading(3, "z2/c1", "18"))
                        .Paths[0]
                        .Report.Stretches
                )
                .Links
        );
    }

    [Fact]
    public void What_cannot_be_reached_gives_the_next()
    {
        Entry[] entries = [Sample.Reading(1, "p1", "24.1"), Sample.Reading(2, "z2/c1", "17.9")];
        var next = Sheet(entries).Next(null);
        var after = Sheet([.. entries, Skipped(3, next!.Value)]);
        Assert.NotEqual(next, after.Next(null));
        Assert.Contains(
            after.Rows.Single(r => r.Check.Key == after.Next(null)).Check.Check.Red!,
            after.Paths[0].Report.Next.Select(p => after.Paths[0].Report.Graph.Pins[p])
        );
        // The sentence names what the probe goes to.
        Assert.Contains(
            Sample.Resolved().Pins[after.Rows.Single(r => r.Check.Key == after.Next(null)).Check.Check.Red!].Printed,
            StretchWords.All(after.Paths[0], Sample.Resolved())[0].Next,
            StringComparison.Ordinal
        );
        var none = Sheet([.. entries, Skipped(3, "z1/c1"), Skipped(4, "z1/c2"), Skipped(5, "z1/c3")]);
        Assert.Contains("if it can be reached", StretchWords.All(none.Paths[0], Sample.Resolved())[0].Next, StringComparison.Ordinal);
    }

    private static Entry Skipped(long order, CheckKey key) =>
        Sample.Reading(order, key, "24") with
        {
            Kind = EntryKind.Skipped,
            Value = null,
            Reason = "cannot reach",
        };

    /// <summary>
    /// OL under a contact that should be open: within where it stands alone; in circuit what lies in parallel was read too.
    /// </summary>
    [Theory]
    [InlineData(false, VerdictKind.Within)]
    [InlineData(null, VerdictKind.Within)]
    [InlineData(true, VerdictKind.NotJudged)]
    public void OL_under_open_is_judged_where_the_contact_stands_alone(bool? plugged, VerdictKind kind)
    {
        var open = LimitNotation.ReadOne("open", MeterMode.Continuity).Limit;
        var board = Sample.Board with
        {
            Checks = [.. Sample.Board.Checks.Select(c => c with { Limit = open, Mode = MeterMode.Continuity, Plugged = plugged })],
        };
        var machine = Sample.Resolved(board: board);
        var reading = Sample.Reading(1, "z1/c1", "24") with
        {
            Limit = open,
            Mode = MeterMode.Continuity,
            Value = ReadingNotation.Read("OL", MeterMode.Continuity).Choices[0],
        };
        Assert.Equal(
            kind,
            RoundSheet.Of(machine, FeedGraph.Of(machine), [reading]).Rows.Single(r => r.Check.Key == "z1/c1").Reading!.Verdict.Kind
        );
    }

    [Fact]
    public void A_retake_supersedes_and_a_take_back_brings_the_former_back()
    {
        var (first, second) = (Sample.Reading(1, "p1", "20"), Sample.Reading(2, "p1", "24"));
        Assert.Equal("24 V", Sheet(first, second).Rows[0].Reading!.Value!.Written);
        var back = second with { Id = "r", Order = 3, Kind = EntryKind.Retracted, Target = second.Id, Value = null };
        Assert.Equal("20 V", Sheet(first, second, back).Rows[0].Reading!.Value!.Written);
        Assert.Equal(2, Sheet(first, second, back).Rows[0].Takes);
    }

    [Fact]
    public void What_is_put_off_comes_back_at_the_end_and_other_skips_do_not()
    {
        var entries = Sample
            .Resolved()
            .Checks.Select(
                (c, i) =>
                    Sample.Reading(i + 1, c.Key, "24") with
                    {
                        Kind = EntryKind.Skipped,
                        Value = null,
                        Reason = c.Key == "z1/c2" ? Entry.Later : "cannot reach",
                    }
            )
            .ToArray();
        Assert.Equal("z1/c2", Sheet(entries).Next(null));
        Assert.Null(Sheet([.. entries, Sample.Reading(99, "z1/c2", "24")]).Next(null));
    }

    [Fact]
    public void A_pin_that_must_read_nothing_clears_nothing()
    {
        var board = Sample.Board with
        {
            Checks = [.. Sample.Board.Checks.Select(c => c with { Limit = LimitNotation.ReadOne("0 V").Limit })],
        };
        var machine = Sample.Resolved(board: board);
        var reading = Sample.Reading(1, "z2/c1", "0") with { Limit = LimitNotation.ReadOne("0 V").Limit };
        var path = Assert.Single(RoundSheet.Of(machine, FeedGraph.Of(machine), [reading]).Paths);
        Assert.DoesNotContain(true, path.Report.ClearedPins);
    }

    [Fact]
    public void A_reading_keeps_the_limit_as_it_stood()
    {
        var entry = Sample.Reading(1, "p1", "20") with { Limit = LimitNotation.ReadOne("20 V").Limit };
        Assert.Equal(VerdictKind.Within, Sheet(entry).Rows[0].Reading!.Verdict.Kind);
    }

    [Fact]
    public void The_strip_runs_through_the_stretch()
    {
        var sheet = Sheet(Sample.Reading(1, "p1", "24.1"), Sample.Reading(2, "z1/c1", "24"), Sample.Reading(3, "z2/c1", "17.9"));
        var report = sheet.Paths[0].Report;
        var strip = PathStrip.Through(report.Stretches[0].Bad, report);
        Assert.Equal(
            ["PS·+", "Z1-J1·1", "Z1-F1·1", "Z1-F1·2", "Z1-J2·1", "Z2-J1·1", "Z2-F1·1", "Z2-F1·2", "Z2-J2·1"],
            strip.Pins.Select(p => Sample.Resolved().Pins[report.Graph.Pins[p]].Printed)
        );
        Assert.Equal(
            [
                StripPiece.Proved,
                StripPiece.Suspect,
                StripPiece.Suspect,
                StripPiece.Suspect,
                StripPiece.Suspect,
                StripPiece.NotReached,
                StripPiece.NotReached,
                StripPiece.NotReached,
            ],
            strip.Pieces
        );
    }

    private static RoundSheet Sheet(params Entry[] entries) => RoundSheet.Of(Sample.Resolved(), FeedGraph.Of(Sample.Resolved()), entries);

    private static Entry Across(string red, string redPin, string black, string blackPin, string typed) =>
        AlongReturn(9, typed) with
        {
            Id = "across",
            Red = Probe.At(red, redPin),
            Black = Probe.At(black, blackPin),
        };

    /// <summary>Across a contact 0.2 V, along a wire 3 % of what it carries: of 24 V that is 0.72 V. Common practice, no source.</summary>
    [Theory]
    [InlineData("ps", "plus", "z1", "j1-1", "0.6", VerdictKind.Within, "3 % of 24 V along a wire")]
    [InlineData("z1", "j1-1", "ps", "plus", "-0.6", VerdictKind.Within, "as far as current ran")]
    [InlineData("ps", "plus", "z1", "j1-1", "0.9", VerdictKind.High, "wire RD from PS·+ to Z1-J1·1, or a contact of it")]
    [InlineData("ps", "plus", "z1", "j1-1", "0.9 no load", VerdictKind.NotJudged, "a weak contact loses nothing then")]
    [InlineData("z1", "f1-1", "z1", "f1-2", "24", VerdictKind.High, "fuse Z1-F1")]
    [InlineData("z1", "f1-1", "z1", "f1-2", "0.15", VerdictKind.Within, "0.2 V across a contact")]
    // A path on a board may turn one voltage into another, and nothing joins the last two.
    [InlineData("z1", "j1-1", "z1", "f1-1", "5", VerdictKind.NotJudged, "no limit was stated")]
    [InlineData("ps", "plus", "z2", "j2-1", "5", VerdictKind.NotJudged, "no limit was stated")]
    public void Volts_across_copper_that_feeds_are_what_is_lost_there(
        string red,
        string redPin,
        string black,
        string blackPin,
        string typed,
        VerdictKind expected,
        string says
    )
    {
        var machine = Sample.Resolved();
        var extra = Assert.Single(RoundSheet.Of(machine, FeedGraph.Of(machine), [Across(red, redPin, black, blackPin, typed)]).Extras);
        Assert.Equal(expected, extra.Verdict.Kind);
        Assert.Contains(says, extra.Verdict.Reason, StringComparison.Ordinal);
    }
}
