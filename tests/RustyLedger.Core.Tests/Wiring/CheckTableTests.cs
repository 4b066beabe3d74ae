using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class CheckTableTests
{
    private static readonly ResolvedMachine Gate = Machine();

    private static ResolvedMachine Machine()
    {
        var laid = MessySheetTests.Lay(
            "common: DRIVE J1-2\nPin,Volts,Plugged,State,Notes\nDRIVE BOARD J1\n1,24,in,,\n2,,,,\n"
                + "LOGIC BOARD J1\n1,5 ±5 %,in,running,lit\n2,OL,out,off,\n"
        );
        return WiringSheet.Resolved(laid.Model, laid.BoardTypes.ToDictionary(t => t.Id));
    }

    private static CheckRow Row(
        string red = "LOG-J1·1",
        string black = "DRI-J1·2",
        string mode = "",
        string state = "",
        string limit = "5 V"
    ) => new("new", "", red, black, mode, state, "", limit, "");

    [Fact]
    public void What_goes_out_as_rows_comes_in_as_the_same_checks()
    {
        var rows = CheckTable.Of(Gate.Model.Checks, Gate);
        Assert.Equal(2, rows.Count);
        Assert.Equal(
            ("LOG-J1·1", "DRI-J1·2", "running", "plugged", "lit"),
            (rows[0].Red, rows[0].Black, rows[0].State, rows[0].Plugged, rows[0].Remark)
        );
        var (checks, problems) = CheckTable.Read(rows, Gate.Model.Checks, Gate);
        Assert.Empty(problems);
        Assert.Equal(Gate.Model.Checks, checks);
    }

    [Theory]
    [InlineData("J9-9", "", "", "5 V", "red", "no pin \"J9-9\"")]
    [InlineData("", "", "", "5 V", "red", "Name the pin")]
    [InlineData("LOG-J1-1", "wiggle", "", "5 V", "mode", "no meter mode")]
    [InlineData("LOG-J1.1", "", "asleep", "5 V", "state", "not a state here")]
    [InlineData("log-j1·1", "", "", "about right", "limit", "not understood")]
    public void A_wrong_row_is_named_by_its_cell_and_holds_up_no_other(
        string red,
        string mode,
        string state,
        string limit,
        string column,
        string says
    )
    {
        var kept = CheckTable.Of(Gate.Model.Checks, Gate);
        var (checks, problems) = CheckTable.Read([.. kept, Row(red, mode: mode, state: state, limit: limit)], Gate.Model.Checks, Gate);
        Assert.Equal(Gate.Model.Checks, checks);
        var problem = Assert.Single(problems);
        Assert.Equal(("new", column), (problem.Row, problem.Column));
        Assert.Contains(says, problem.Problem, StringComparison.Ordinal);
        // What was there stays as it was where its row is spoilt, and goes where it has none.
        (checks, _) = CheckTable.Read([kept[0] with { Limit = "?" }], Gate.Model.Checks, Gate);
        Assert.Equal(Gate.Model.Checks[0], Assert.Single(checks));
    }

    [Fact]
    public void Both_probes_on_one_pin_are_refused() =>
        Assert.Equal("black", Assert.Single(CheckTable.Read([Row(black: "LOG-J1·1")], Gate.Model.Checks, Gate).Problems).Column);
}

public sealed class CableTests
{
    private static readonly ResolvedMachine Gate = Machine();

    private static ResolvedMachine Machine()
    {
        var laid = MessySheetTests.Lay(
            "Pin,Colour,Signal,To\nA BOARD J1\n1,red,feed,B J2-1\n2,black,return,\n3,white,data,\n4,blue,spare,\n"
                + "B BOARD J2\n1,red,feed,\n2,black,return,\n3,pink,data,\n"
        );
        return WiringSheet.Resolved(laid.Model, laid.BoardTypes.ToDictionary(t => t.Id));
    }

    private static List<string> Cores(CableBy by) =>
        [
            .. Cable
                .Between(Gate, "A-J1", "b-j2", by)
                .Thing!.Cores.Select(c =>
                    $"{c.FromPrinted[5..]}-{c.ToPrinted[5..]}{(c.IsThere ? " there" : "")}{(c.Doubt.Length > 0 ? $" {c.Doubt}" : "")}"
                ),
        ];

    [Fact]
    public void Pins_are_paired_by_label_mirrored_by_colour_and_by_signal()
    {
        Assert.Equal(["1-1 there", "2-2", "3-3 white here, pink there"], Cores(CableBy.Label));
        Assert.Equal(["1-3 red here, pink there", "2-2", "3-1 white here, red there"], Cores(CableBy.Mirrored));
        Assert.Equal(["1-1 there", "2-2"], Cores(CableBy.Colour));
        Assert.Equal(["1-1 there", "2-2", "3-3 white here, pink there"], Cores(CableBy.Signal));
        Assert.Equal(["A-J1·4"], Cable.Between(Gate, "A-J1", "B-J2", CableBy.Label).Thing!.Left);
    }

    [Fact]
    public void An_end_that_is_none_or_the_same_is_refused()
    {
        Assert.Equal("from", Cable.Between(Gate, "A-J9", "B-J2", CableBy.Label).Refusal!.Field);
        Assert.Equal("to", Cable.Between(Gate, "A-J1", "A-J1", CableBy.Label).Refusal!.Field);
    }
}
