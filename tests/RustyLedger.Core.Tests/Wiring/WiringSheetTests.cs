using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class WiringSheetTests
{
    private static readonly Dictionary<BoardTypeId, BoardType> Boards = new() { ["zb"] = Sample.Board };

    private static readonly WiringSheet Sheet = WiringSheet.Of(Sample.Model);

    private static OffBoardPart Switch(params string[] labels) =>
        new("s1", PartKind.Switch, "S1", "service switch", [.. labels.Select((l, i) => new Pin($"p{i}", i + 1, l, WireColours.None, ""))]);

    [Fact]
    public void What_stands_in_a_model_may_be_written_again() =>
        Assert.Equivalent(Sample.Model, Sheet.In(Sample.Model, Boards).Thing, strict: true);

    /// <summary>A switch between the supply and the first board: the branch runs through it, and nothing is left to mend.</summary>
    [Fact]
    public void A_part_off_the_boards_is_wired_in()
    {
        var wired = (
            Sheet with
            {
                Parts = [.. Sheet.Parts, Switch("1", "2")],
                Wires =
                [
                    new("a", Probe.At("ps", "plus"), new PinAddress.OffBoard("s1", "p0"), true),
                    new("b", new PinAddress.OffBoard("s1", "p0"), new PinAddress.OffBoard("s1", "p1"), true),
                    new("c", new PinAddress.OffBoard("s1", "p1"), Probe.At("z1", "j1-1"), true),
                    Sheet.Wires[1],
                ],
            }
        ).In(Sample.Model, Boards);
        Assert.Null(wired.Refusal);
        var report = WiringReport.Of(WiringSheet.Resolved(wired.Thing!, Boards));
        Assert.Equal(["PS·+"], report.Sources);
        Assert.Equal(
            ["PS·+", "S1·1", "S1·2", "Z1-J1·1", "Z1-F1·1", "Z1-F1·2", "Z1-J2·1", "Z2-J1·1", "Z2-F1·1", "Z2-F1·2", "Z2-J2·1"],
            Assert.Single(report.Branches).Pins
        );
        Assert.Empty(report.ToMend);
    }

    [Fact]
    public void What_cannot_be_right_is_told()
    {
        var cut = (Sheet with { Wires = [Sheet.Wires[1]] }).In(Sample.Model, Boards).Thing!;
        var report = WiringReport.Of(WiringSheet.Resolved(cut, Boards));
        Assert.Contains(report.ToMend, m => m.Kind == MendKind.DanglingFeed && m.Pins.Contains("Z1-J1·1"));
        var round = (Sheet with { Wires = [.. Sheet.Wires, new("back", Probe.At("z2", "j2-1"), Probe.At("z1", "j1-1"), true)] }).In(
            Sample.Model,
            Boards
        );
        Assert.Contains(WiringReport.Of(WiringSheet.Resolved(round.Thing!, Boards)).ToMend, m => m.Kind == MendKind.Loop);
        // Blue-white leaves the first board and yellow comes to the second: one of the two was misread, or it is another wire.
        var doubt = Assert.Single(report.Doubts);
        Assert.Equal(("Z1-J2·1", "Z2-J1·1"), (doubt.From, doubt.To));
    }

    public static TheoryData<string, WiringSheet, string> Refused =>
        new()
        {
            {
                "a designator twice",
                Sheet with
                {
                    Parts = [.. Sheet.Parts, Switch("1") with { Designator = "ps" }],
                },
                "\"ps\" stands twice"
            },
            { "a board's prefix", Sheet with { Parts = [.. Sheet.Parts, Switch("1") with { Designator = "Z1" }] }, "\"Z1\" stands twice" },
            { "a part without pins", Sheet with { Parts = [.. Sheet.Parts, Switch()] }, "S1 has 0 pins" },
            { "a label twice", Sheet with { Parts = [.. Sheet.Parts, Switch("1", "1")] }, "\"1\" stands twice in pins of S1" },
            { "a part without a name", Sheet with { Parts = [.. Sheet.Parts, Switch("1") with { Name = "" }] }, "name of S1 is missing" },
            { "no state", Sheet with { States = [] }, "one state at least" },
            { "a state that a check needs", Sheet with { States = [Sheet.States[0]] }, "read in the state \"running\"" },
            { "two states of one name", Sheet with { States = [.. Sheet.States, new("x", "OFF", false)] }, "\"OFF\" stands twice" },
            { "a wire to nowhere", Sheet with { Parts = [] }, "Wire 1 begins at PS·+, which is not there" },
            {
                "a wire to itself",
                Sheet with
                {
                    Wires = [.. Sheet.Wires, new("x", Probe.At("z1", "j1-2"), Probe.At("z1", "j1-2"), false)],
                },
                "Wire 3 begins and ends at Z1-J1·2"
            },
            {
                "a wire twice, the other way round",
                Sheet with
                {
                    Wires = [.. Sheet.Wires, Sheet.Wires[0] with { Id = "x", From = Sheet.Wires[0].To, To = Sheet.Wires[0].From }],
                },
                "stands twice"
            },
        };

    [Theory]
    [MemberData(nameof(Refused))]
    public void What_cannot_be_meant_so_is_refused_by_name(string what, WiringSheet sheet, string says)
    {
        var outcome = sheet.In(Sample.Model, Boards);
        Assert.True(outcome.Refusal is not null, what);
        Assert.Contains(says, outcome.Refusal.Problem, StringComparison.Ordinal);
    }

    /// <summary>Every kind can be entered, its usual pins are told apart, and a new one of it is taken as it comes.</summary>
    [Fact]
    public void Every_kind_of_part_brings_its_usual_pins()
    {
        Assert.Equal(Enum.GetValues<PartKind>().Order(), UsualParts.All.Select(u => u.Kind).Order());
        Assert.All(
            UsualParts.All,
            usual =>
            {
                var part = new OffBoardPart(
                    "new",
                    usual.Kind,
                    $"{usual.Designator}9",
                    usual.Words,
                    [.. usual.Labels.Select((l, i) => new Pin($"n{i}", i + 1, l, WireColours.None, "", usual.Sources.Contains(l)))]
                );
                Assert.Null((Sheet with { Parts = [.. Sheet.Parts, part] }).In(Sample.Model, Boards).Refusal);
            }
        );
    }
}
