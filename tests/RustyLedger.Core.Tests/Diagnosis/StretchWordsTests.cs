using RustyLedger.Core.Boards;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Tests.Wiring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class StretchWordsTests
{
    [Fact]
    public void A_dead_source_accuses_the_supply_and_its_loads()
    {
        var words = Words(("p1", "0.1"));
        Assert.Equal("The supply is at fault: PS·+ reads dead where power enters, or a load pulls it down.", words.Sentence);
        Assert.Equal([SuspectKind.Supply, SuspectKind.Return, SuspectKind.Load], words.Found.Suspects.Select(s => s.Kind));
        Assert.Empty(words.Next);
    }

    [Fact]
    public void An_unmeasured_source_stays_a_suspect()
    {
        var words = Words(("z1/c1", "12"));
        Assert.StartsWith(
            "The loss is between PS·+ and Z1-J1·1: the supply at PS·+, wire RD from PS·+ to Z1-J1·1, either contact, the return of Z1-J1",
            words.Sentence,
            StringComparison.Ordinal
        );
        Assert.Equal("Check PS·+ next: it halves what is left.", words.Next);
        Assert.Contains(words.Why, w => w.Contains("nothing is known to be good on that side", StringComparison.Ordinal));
    }

    [Fact]
    public void Too_many_volts_come_from_elsewhere_and_no_return_or_load_explains_them()
    {
        var words = Words(("p1", "24"), ("z1/c1", "31"));
        Assert.StartsWith("The excess comes in between PS·+ and Z1-J1·1", words.Sentence, StringComparison.Ordinal);
        Assert.Contains(
            words.Found.Suspects,
            s => s.Kind == SuspectKind.OtherFeed && s.Words(Sample.Resolved()) == "a feed from elsewhere into Z1-J1"
        );
        Assert.DoesNotContain(words.Found.Suspects, s => s.Kind is SuspectKind.Return or SuspectKind.Load);
    }

    [Fact]
    public void A_turned_sign_speaks_of_turned_wires() =>
        Assert.StartsWith(
            "The wires are turned between Z1-J2·1 and Z2-J1·1",
            Words(("z1/c3", "24"), ("z2/c1", "-24")).Sentence,
            StringComparison.Ordinal
        );

    [Fact]
    public void A_fuse_between_is_named_as_such()
    {
        var machine = Machine(Sample.Board with { Checks = [.. Sample.Board.Checks, Extra("c4", "f1-1")] });
        var words = Words(machine, ("z1/c4", "24"), ("z1/c2", "0"));
        Assert.StartsWith(
            "The loss is between Z1-F1·1 and Z1-F1·2: fuse Z1-F1, the return of Z1-J1",
            words.Sentence,
            StringComparison.Ordinal
        );
        Assert.Equal("Nothing between them is left to measure: look at the contacts, then ohms with the power off.", words.Next);
    }

    [Fact]
    public void A_second_loss_behind_the_first_says_by_how_much()
    {
        var (_, path, machine) = Path(Machine(), ("p1", "24"), ("z1/c1", "19.2"), ("z2/c1", "12"));
        Assert.Equal(2, path.Report.Stretches.Count);
        var words = StretchWords.All(path, machine)[1];
        Assert.StartsWith("A further loss is between Z1-J1·1 and Z2-J1·1", words.Sentence, StringComparison.Ordinal);
        Assert.Contains(words.Why, w => w.Contains("80 %", StringComparison.Ordinal) && w.Contains("50 %", StringComparison.Ordinal));
    }

    [Fact]
    public void A_bad_reading_before_a_good_one_is_to_be_read_again()
    {
        var words = Words(("z1/c1", "12"), ("z2/c3", "24"));
        Assert.Equal("Z1-J1·1 reads low, but Z2-J2·1, which only it feeds, is good: read Z1-J1·1 again.", words.Sentence);
        Assert.Equal([SuspectKind.Reading], words.Found.Suspects.Select(s => s.Kind));
    }

    [Fact]
    public void Marginal_says_that_it_counts_as_good() =>
        Assert.Contains(
            Words(("z1/c3", "22.85"), ("z2/c1", "12")).Why,
            w => w.Contains("marginal, counts as good", StringComparison.Ordinal)
        );

    [Theory]
    [InlineData("z1/c1", "12", "opens a bad stretch of 1 place")]
    [InlineData("z2/c1", "12", "opens a bad stretch of 5 places")]
    [InlineData("z2/c3", "24", "clears 8 pins on the path")]
    public void A_reading_says_what_it_changed(string key, string typed, string effect) =>
        Assert.Equal(effect, Effect(("p1", "24"), (key, typed)));

    [Fact]
    public void A_narrowing_an_explained_and_a_closing_reading_say_so()
    {
        Assert.Equal("narrows the fault from 5 places to 2", Effect(("p1", "24"), ("z2/c1", "12"), ("z1/c2", "24")));
        Assert.Equal("no new fault: Z2-J1·1 before it explains this", Effect(("p1", "24"), ("z2/c1", "12"), ("z2/c3", "12")));
        Assert.Equal("closes the bad stretch", Effect(("p1", "24"), ("z2/c1", "12"), ("z2/c1", "24")));
    }

    [Fact]
    public void A_strip_in_a_loop_ends()
    {
        var report = PathReport.Of(Graphs.Of([(0, 1), (1, 2), (2, 1), (2, 3)], 0), new Dictionary<PinIndex, PinEvidence>(), _ => true);
        var strip = PathStrip.Through(new PinIndex(2), report);
        Assert.Equal(strip.Pins.Count, strip.Pins.Distinct().Count());
        Assert.Equal(strip.Pins.Count - 1, strip.Pieces.Count);
        Assert.Contains(new PinIndex(2), strip.Pins);
    }

    /// <summary>A comb of two branches with a fault in the first: the strip follows whoever walks the second, and comes back.</summary>
    [Fact]
    public void The_strip_shows_the_branch_one_stands_on()
    {
        var graph = Graphs.Of([(0, 1), (1, 2), (1, 3), (3, 4)], 0);
        var evidence = new Dictionary<int, PinEvidence>
        {
            [1] = new(new Verdict(VerdictKind.Within, "", ""), 1m, 0.05m),
            [2] = new(new Verdict(VerdictKind.Low, "", ""), 0.5m, 0.05m),
        };
        var report = PathReport.Of(graph, evidence.ByPin(), _ => true);
        int[] Shown(int? at) => [.. PathStrip.Showing(at is { } pin ? new PinIndex(pin) : null, report).Pins.Numbers()];
        Assert.Equal([0, 1, 2], Shown(null));
        Assert.Equal([0, 1, 2], Shown(1));
        Assert.Equal([0, 1, 3, 4], Shown(3));
        Assert.Equal([0, 1, 3, 4], Shown(4));
        Assert.Equal([0, 1, 2], Shown(2));
    }

    private static Check Extra(string id, string red) =>
        new(
            id,
            CheckTarget.PinAndCommon,
            Probe.At("", red),
            Probe.At("", "j1-2"),
            "",
            MeterMode.DcVolts,
            "running",
            true,
            LimitNotation.ReadOne("24 V ±5 %").Limit,
            ""
        );

    private static ResolvedMachine Machine(BoardType? board = null) => Sample.Resolved(board: board);

    private static StretchInWords Words(params (string Key, string Typed)[] readings) => Words(Machine(), readings);

    private static StretchInWords Words(ResolvedMachine machine, params (string Key, string Typed)[] readings)
    {
        var (_, path, _) = Path(machine, readings);
        return StretchWords.All(path, machine)[0];
    }

    private static (RoundSheet Sheet, StatePath Path, ResolvedMachine Machine) Path(
        ResolvedMachine machine,
        params (string Key, string Typed)[] readings
    )
    {
        var sheet = Sheet(machine, readings);
        return (sheet, sheet.Paths[0], machine);
    }

    private static RoundSheet Sheet(ResolvedMachine machine, IEnumerable<(string Key, string Typed)> readings) =>
        RoundSheet.Of(machine, FeedGraph.Of(machine), readings.Select((r, i) => Entry(machine, i + 1, r.Key, r.Typed)));

    private static Entry Entry(ResolvedMachine machine, long order, string key, string typed)
    {
        var check = machine.Checks.Single(c => c.Key == key);
        return new(
            $"e{order}",
            order,
            EntryKind.Taken,
            key,
            check.Check.Red,
            check.Check.Black,
            check.Check.Mode,
            check.State.Code,
            check.Limit,
            check.Tolerance,
            ReadingNotation.Read(typed, check.Check.Mode).Choices[0],
            null,
            ""
        );
    }

    private static string Effect(params (string Key, string Typed)[] readings)
    {
        var machine = Machine();
        var after = Sheet(machine, readings);
        return ReadingEffect.Words(after.Last!, Sheet(machine, readings[..^1]), after, machine);
    }
}
