using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

/// <summary>The sheet from which the slipway gate of the sample data was entered.</summary>
public sealed class SlipGateSheetTests
{
    private static readonly MachineSheetResult Gate = MessySheetTests.Lay(File.ReadAllText(SheetFileOf("slip-gate.tsv")));

    internal static string SheetFileOf(string name)
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "RustyLedger.slnx")))
        {
            folder = folder.Parent!;
        }

        return Path.Combine(folder.FullName, "tests", "sheets", name);
    }

    [Fact]
    public void Three_boards_a_supply_a_switch_and_a_plug_come_from_one_sheet_without_a_question()
    {
        Assert.All(Gate.Groups, g => Assert.True(g.IsSure, g.Key));
        Assert.Empty(Gate.Table.Unknown);
        Assert.Equal(["drive board", "logic board", "display board"], Gate.NewPositions.Select(p => p.Name));
        Assert.Equal(["TB1 Supply", "S1 Switch", "P12 Plug", "J12 Plug"], Gate.Model.Parts.Select(p => $"{p.Designator} {p.Kind}"));
        Assert.DoesNotContain(Gate.Rows, r => r.Outcome is RowOutcome.Refused or RowOutcome.LeftOut);
        Assert.Equal([35, 44], Gate.Rows.Where(r => r.Doubts.Count > 0).Select(r => r.Line));
        Assert.Equal(
            File.ReadLines(SheetFileOf("slip-gate.tsv")).Index().Where(l => l.Item.Trim().Length > 0).Select(l => l.Index + 1),
            Gate.Rows.Select(r => r.Line)
        );
    }

    [Fact]
    public void The_path_runs_from_the_supply_to_the_display_and_the_lamp()
    {
        var report = WiringReport.Of(WiringSheet.Resolved(Gate.Model, Gate.BoardTypes.ToDictionary(t => t.Id)));
        Assert.Equal(
            [
                "TB1·+ S1·1 S1·2 P12·1 J12·1 DRI-J1·1 DRI-F1·1 DRI-F1·2 DRI-J2·1 LOG-J5·1 LOG-J6·1 DIS-J1·1",
                "TB1·+ S1·1 S1·2 P12·1 J12·1 DRI-J1·1 DRI-F1·1 DRI-F1·2 DRI-J4·1 J12·2 P12·2",
            ],
            report.Branches.Select(b => string.Join(' ', b.Pins))
        );
        Assert.Equal(["TB1·+"], report.Sources);
        Assert.Empty(report.Doubts);
    }

    [Fact]
    public void Each_wire_says_what_it_goes_by()
    {
        Assert.Equal((11, 3), (Gate.Wires.Count(w => w.Reason != WireReason.Mating), Gate.Wires.Count(w => w.Reason == WireReason.Mating)));
        var lamp = Gate.Wires.Single(w => w.Number == "204");
        Assert.Equal(
            ("both bear wire number 204; power comes from DRI-J4·1", "DRI-J4·1", "J12·2"),
            (lamp.Why, lamp.FromPrinted, lamp.ToPrinted)
        );
        // Grey is the return, and a return has no direction.
        Assert.All(
            Gate.Wires.Where(w => w.ToPrinted is "DRI-J1·2" or "LOG-J5·2" or "DIS-J1·2"),
            w => Assert.False(w.Directed, w.ToPrinted)
        );
    }

    [Fact]
    public void The_black_probe_stays_on_another_board_where_the_sheet_says_so()
    {
        var machine = WiringSheet.Resolved(Gate.Model, Gate.BoardTypes.ToDictionary(t => t.Id));
        var display = machine.Checks.Single(c => c.Check.Red is { } red && machine.Pins[red].Printed == "DIS-J1·1");
        Assert.Equal("DRI-J1·2", machine.Pins[display.Check.Black!].Printed);
        Assert.All(machine.Checks, c => Assert.NotNull(c.Check.Black));
    }

    [Fact]
    public void The_order_of_the_sheet_is_kept_beside_that_of_the_path()
    {
        var machine = WiringSheet.Resolved(Gate.Model, Gate.BoardTypes.ToDictionary(t => t.Id));
        var graph = FeedGraph.Of(machine);
        var sheet = SheetOrder.Of(machine, graph, RoundOrder.Sheet).Select(c => machine.Pins[c.Check.Red!].Printed).ToList();
        // From top to bottom as it was typed: the supply, the plug, the drive board, the logic board, the display.
        Assert.Equal(
            ["TB1", "S1", "P12", "DRI", "LOG", "DIS"],
            sheet.Select(p => p.Split('-', '·')[0]).Distinct().Where(p => p is not "J12")
        );
        Assert.NotEqual(sheet, SheetOrder.Of(machine, graph).Select(c => machine.Pins[c.Check.Red!].Printed));
        Assert.Equal(sheet.Order(), SheetOrder.Of(machine, graph).Select(c => machine.Pins[c.Check.Red!].Printed).Order());

        // The next is the next line, whatever the reading before it said.
        var round = RoundSheet.Of(machine, graph, [], null, RoundOrder.Sheet);
        Assert.Equal(round.Rows[0].Check.Key, round.Next(null));
        Assert.Equal(round.Rows[3].Check.Key, round.Next(round.Rows[2].Check.Key));
    }
}
