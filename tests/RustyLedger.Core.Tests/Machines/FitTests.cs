using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Tests.Machines;

public sealed class FitTests
{
    private static FittedBoard Board(string id, int day) => new(id, "z2", "zb", "", "", new DateOnly(2026, 3, day), null);

    [Fact]
    public void The_board_that_was_there_leaves_the_day_the_next_one_comes()
    {
        var machine = (Sample.Machine with { Boards = [Board("a", 1)] }).Fit(Board("b", 5)).Thing!;
        Assert.Equal(new DateOnly(2026, 3, 5), machine.Boards.Single(b => b.Id == "a").To);
        Assert.Equal("b", machine.FittedIn("z2")!.Id.Value);
        Assert.Equal("from", machine.Fit(Board("c", 4)).Refusal?.Field);
    }

    [Theory]
    [InlineData("", "B", false, true)]
    [InlineData("A", "B", false, false)]
    [InlineData("A", "B", true, true)]
    [InlineData("", "A", false, false)]
    [InlineData("", "  ", true, false)]
    public void A_part_number_has_each_revision_once(string now, string said, bool isAnother, bool taken) =>
        Assert.Equal(taken, (Sample.Board with { Revision = now }).OfRevision(said, ["A"], isAnother).IsTaken);

    [Theory]
    [InlineData(4.9, 100, "widthMm")]
    [InlineData(100, 2000.1, "heightMm")]
    [InlineData(5, 2000, null)]
    public void A_board_has_a_size_that_a_board_can_have(double width, double height, string? field) =>
        Assert.Equal(field, Sample.Board.Measured((decimal)width, (decimal)height).Refusal?.Field);
}
