using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Machines;

public sealed class ResolvedMachineTests
{
    [Fact]
    public void One_board_type_fills_two_positions_with_pins_links_and_checks_of_their_own()
    {
        var resolved = Sample.Resolved();
        Assert.Empty(resolved.Problems);
        Assert.Equal(14, resolved.Pins.Count);
        Assert.Equal("Z2-J2·1", resolved.Pins[Probe.At("z2", "j2-1")].Printed);
        Assert.Equal(["z1/c1", "z1/c2", "z1/c3", "z2/c1", "z2/c2", "z2/c3", "p1"], resolved.Checks.Select(c => c.Key));
        Assert.Equal(10, resolved.Links.Count);
    }

    [Fact]
    public void Each_thing_says_where_it_came_from()
    {
        var machine = Sample.Machine with
        {
            Overrides =
            [
                new("o1", Probe.At("z2", "j1-1"), null, WireColours.Read("OG"), null, null, "cable made up on site"),
                new("o2", null, "z2/c1", null, null, LimitNotation.ReadOne("26 V").Limit, "supply set high on purpose"),
            ],
        };
        var resolved = Sample.Resolved(machine);
        Assert.Equal(Level.BoardType, resolved.Pins[Probe.At("z1", "j1-1")].Signal.From.Level);
        Assert.Equal(Level.Model, resolved.Pins[Probe.At("ps", "plus")].Signal.From.Level);
        var changed = resolved.Pins[Probe.At("z2", "j1-1")];
        Assert.Equal((Level.Machine, "OG"), (changed.Colours.From.Level, changed.Pin.Colours.Code));
        Assert.Contains("made up on site", changed.Colours.From.Words, StringComparison.Ordinal);
        // What nobody says otherwise still comes from the board type.
        Assert.Equal((Level.BoardType, Level.BoardType), (changed.Label.From.Level, changed.Signal.From.Level));
        Assert.Equal(["", "colours"], changed.Origins.Select(o => o.Field));
        var check = resolved.Checks.Single(c => c.Key == "z2/c1");
        Assert.Equal(
            (Level.BoardType, Level.Machine, "26 V"),
            (check.Origin.Level, check.SourcedLimit.From.Level, LimitNotation.Write(check.Limit))
        );
    }

    [Fact]
    public void A_fitted_board_goes_before_the_one_the_model_names()
    {
        var other = Sample.Board with { Id = "zb2", Elements = [Sample.Board.Elements[0]], Links = [], Checks = [] };
        var machine = Sample.Machine with { Boards = [new("b", "z2", "zb2", "77", "", new DateOnly(2026, 3, 1), null)] };
        var resolved = ResolvedMachine.Of(
            machine,
            Sample.Model,
            new Dictionary<BoardTypeId, BoardType> { ["zb"] = Sample.Board, ["zb2"] = other }
        );
        Assert.Equal("zb2", resolved.BoardAt["z2"].Id);
        Assert.DoesNotContain(Probe.At("z2", "j2-1"), resolved.Pins.Keys);
    }

    [Fact]
    public void What_does_not_fit_is_named_and_left_out()
    {
        var machine = Sample.Machine with { Overrides = [new("o", Probe.At("z9", "x"), null, null, "x", null, "gone")] };
        var broken = Sample.Board with { Elements = [.. Sample.Board.Elements.Take(2)] };
        var problems = Sample.Resolved(machine, broken).Problems;
        Assert.Contains(problems, p => p.Contains("Z1-F1·2 feeds a pin that is not there", StringComparison.Ordinal));
        Assert.Contains(problems, p => p.Contains("z1/c3", StringComparison.Ordinal));
        Assert.Contains(problems, p => p.Contains("gone", StringComparison.Ordinal));
    }
}
