using RustyLedger.Core.Diagnosis;
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
        var stretch = Assert.Single(path.Report.Stretches);
        var words = StretchWords.Of(stretch, path.Report, Sample.Resolved(), path.Commons);
        Assert.StartsWith("The loss is between PS·+ and Z2-J1·1: fuse Z1-F1, 2 wires or 2 paths on the boards, a contact along them, the return of Z2-J1, or a load pulling it down.", words.Sentence, StringComparison.Ordinal);
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
        var words = StretchWords.Of(path.Report.Stretches[0], path.Report, Sample.Resolved(), path.Commons);
        Assert.Equal("The loss is between Z1-J2·1 and Z2-J1·1: wire BU-WH from Z1-J2·1 to Z2-J1·1, either contact, the return of Z2-J1, or a load pulling it down.", words.Sentence);
        Assert.Contains("left to measure", words.Next, StringComparison.Ordinal);
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
        var entries = Sample.Resolved().Checks.Select((c, i) => Sample.Reading(i + 1, c.Key, "24") with { Kind = EntryKind.Skipped, Value = null, Reason = c.Key == "z1/c2" ? Entry.Later : "cannot reach" }).ToArray();
        Assert.Equal("z1/c2", Sheet(entries).Next(null));
        Assert.Null(Sheet([.. entries, Sample.Reading(99, "z1/c2", "24")]).Next(null));
    }

    [Fact]
    public void A_pin_that_must_read_nothing_clears_nothing()
    {
        var board = Sample.Board with { Checks = [.. Sample.Board.Checks.Select(c => c with { Limit = LimitNotation.ReadOne("0 V").Limit })] };
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
        Assert.Equal(["PS·+", "Z1-J1·1", "Z1-F1·1", "Z1-F1·2", "Z1-J2·1", "Z2-J1·1", "Z2-F1·1", "Z2-F1·2", "Z2-J2·1"], strip.Pins.Select(p => Sample.Resolved().Pins[report.Graph.Pins[p]].Printed));
        Assert.Equal([StripPiece.Proved, StripPiece.Suspect, StripPiece.Suspect, StripPiece.Suspect, StripPiece.Suspect, StripPiece.NotReached, StripPiece.NotReached, StripPiece.NotReached], strip.Pieces);
    }

    private static RoundSheet Sheet(params Entry[] entries) => RoundSheet.Of(Sample.Resolved(), FeedGraph.Of(Sample.Resolved()), entries);
}
