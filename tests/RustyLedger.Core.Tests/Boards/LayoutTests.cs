using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class LayoutTests
{
    // Two rows of three, 5 mm apart, the upper left pin at 10, 20.
    [Theory]
    [InlineData(Corner.TopLeft, Direction.Across, Numbering.RowByRow, 2, 15, 20)]
    [InlineData(Corner.TopLeft, Direction.Across, Numbering.RowByRow, 4, 10, 25)]
    [InlineData(Corner.TopLeft, Direction.Across, Numbering.Zigzag, 2, 10, 25)]
    [InlineData(Corner.TopLeft, Direction.Across, Numbering.Zigzag, 3, 15, 20)]
    [InlineData(Corner.TopRight, Direction.Across, Numbering.RowByRow, 1, 20, 20)]
    [InlineData(Corner.BottomLeft, Direction.Across, Numbering.RowByRow, 1, 10, 25)]
    [InlineData(Corner.BottomRight, Direction.Across, Numbering.RowByRow, 6, 10, 20)]
    [InlineData(Corner.TopLeft, Direction.Down, Numbering.RowByRow, 2, 10, 25)]
    [InlineData(Corner.TopLeft, Direction.Down, Numbering.RowByRow, 4, 15, 20)]
    public void A_pin_sits_where_its_numbering_puts_it(Corner corner, Direction direction, Numbering numbering, int index, int x, int y)
    {
        var element = Element(2, 6, 5, corner, direction, numbering);
        Assert.Equal((x, y), element.PlaceOf(element.Pins[index - 1]));
    }

    [Fact]
    public void The_outline_keeps_half_a_pitch_and_a_fuse_no_more_than_its_body()
    {
        Assert.Equal((7.5m, 17.5m, 15m, 10m), Element(2, 6, 5, Corner.TopLeft, Direction.Across, Numbering.RowByRow).Outline);
        Assert.Equal((6.5m, 16.5m, 27m, 7m), Element(1, 2, 20, Corner.TopLeft, Direction.Across, Numbering.RowByRow).Outline);
    }

    [Fact]
    public void A_row_that_is_not_full_still_has_its_place()
    {
        var element = Element(2, 5, 5, Corner.TopLeft, Direction.Across, Numbering.RowByRow);
        Assert.Equal((3, (15m, 25m)), (element.PerRow, element.PlaceOf(element.Pins[4])));
    }

    private static Element Element(int rows, int pins, decimal pitch, Corner corner, Direction direction, Numbering numbering) =>
        new(
            "j1",
            ElementKind.Connector,
            "J1",
            "",
            10,
            20,
            rows,
            pitch,
            direction,
            corner,
            numbering,
            "",
            [.. Enumerable.Range(1, pins).Select(i => new Pin($"p{i}", i, $"{i}", WireColours.None, ""))]
        );
}
