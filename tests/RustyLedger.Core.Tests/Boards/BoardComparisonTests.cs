using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Boards;

public sealed class BoardComparisonTests
{
    [Fact]
    public void A_copy_is_alike() => Assert.Empty(BoardComparison.Of(Sample.Board, Sample.Board with { Id = "other", Revision = "C" }));

    [Fact]
    public void Pins_elements_colours_and_limits_that_differ_are_named()
    {
        var j1 = Sample.Board.Elements[0];
        var later = Sample.Board with
        {
            Revision = "C",
            Elements =
            [
                j1 with
                {
                    X = 12,
                    Pins =
                    [
                        j1.Pins[0] with
                        {
                            Colours = WireColours.Read("OG"),
                        },
                        j1.Pins[1] with
                        {
                            Label = "M",
                        },
                        new Pin("n", 3, "3", WireColours.None, "spare"),
                    ],
                },
                .. Sample.Board.Elements.Skip(2),
                j1 with
                {
                    Id = "j9",
                    Designator = "J9",
                    Pins = [],
                },
            ],
            Checks = [.. Sample.Board.Checks.Skip(1), Sample.Board.Checks[0] with { Limit = LimitNotation.ReadOne("23..25 V").Limit }],
            Links = [.. Sample.Board.Links.Take(3)],
        };
        var differences = BoardComparison.Of(Sample.Board, later).Select(d => (d.Kind, d.Where, d.Before, d.After)).ToList();
        Assert.Contains((DifferenceKind.Colour, "J1·1", "yellow", "orange"), differences);
        Assert.Contains((DifferenceKind.Pin, "J1·M", "2", "M"), differences);
        Assert.Contains((DifferenceKind.Pin, "J1·3", "", "spare"), differences);
        Assert.Contains((DifferenceKind.Element, "J1", "10, 10 mm", "12, 10 mm"), differences);
        Assert.Contains((DifferenceKind.Element, "F1", "2 pins", ""), differences);
        Assert.Contains((DifferenceKind.Element, "J9", "", "0 pins"), differences);
        Assert.Contains((DifferenceKind.Limit, "J1·1 to J1·M, running", "24 V ±5 %", "23..25 V"), differences);
        Assert.Contains((DifferenceKind.Path, "J1·2", "J2·2", ""), differences);
    }
}
