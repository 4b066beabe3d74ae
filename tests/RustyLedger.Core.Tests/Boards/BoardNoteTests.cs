using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class BoardNoteTests
{
    [Fact]
    public void A_note_on_an_element_is_near_its_pins_and_those_within_a_glance()
    {
        Assert.Equal(["f1-1", "f1-2"], new NotePlace("f1", null, null, null).NearPins(Sample.Board));
        // J1 is at (10, 10) and (15, 10), J2 at (50, 10) and (55, 10).
        Assert.Equal(["j1-1", "j1-2"], new NotePlace(null, null, 12, 15).NearPins(Sample.Board));
        Assert.Equal(["j1-2"], new NotePlace(null, null, 26, 12).NearPins(Sample.Board));
        Assert.Empty(new NotePlace(null, null, 90, 110).NearPins(Sample.Board));
        Assert.Equal(6, new NotePlace(null, null, null, null).NearPins(Sample.Board).Count);
    }

    [Fact]
    public void A_place_is_the_pin_or_the_middle_of_the_element_or_where_it_was_tapped()
    {
        Assert.Equal((15, 10), new NotePlace("j1", "j1-2", null, null).On(Sample.Board));
        Assert.Equal((12.5, 10), new NotePlace("j1", null, null, null).On(Sample.Board));
        Assert.Equal((3.5, 4), new NotePlace(null, null, 3.5, 4).On(Sample.Board));
        Assert.Null(new NotePlace("gone", null, null, null).On(Sample.Board));
        Assert.True(new NotePlace(null, null, null, null).IsWholeBoard);
    }

    [Fact]
    public void Only_what_the_eye_found_speaks_against_a_part() =>
        Assert.Equal([BoardNoteKind.Oddity, BoardNoteKind.Deviation], Enum.GetValues<BoardNoteKind>().Where(k => !k.IsFound()));

    [Fact]
    public void Points_of_a_photograph_are_pins_middles_and_corners()
    {
        MarkedPoint? On(string? element, string? pin, Corner? corner) =>
            new PicturePoint(ElementId.Maybe(element), PinId.Maybe(pin), corner, 0.5, 0.25).On(Sample.Board, 800, 400);
        Assert.Equal(new MarkedPoint("J1·2", 15, 10, 400, 100), On("j1", "j1-2", null));
        Assert.Equal(new MarkedPoint("F1", 20, 30, 400, 100), On("f1", null, null));
        Assert.Equal(new MarkedPoint("the bottom right corner", 100, 120, 400, 100), On(null, null, Corner.BottomRight));
        Assert.Null(On("j1", "gone", null));
        Assert.Null(On("gone", null, null));
        Assert.True(new PicturePoint("j1", "j1-2", null, 0, 0).IsSamePoint(new PicturePoint("j1", "j1-2", null, 1, 1)));
        Assert.False(new PicturePoint("j1", "j1-2", null, 0, 0).IsSamePoint(new PicturePoint("j1", "j1-1", null, 0, 0)));
    }

    /// <summary>Every column of a kind goes out as text and comes in again as it was.</summary>
    [Theory]
    [InlineData(ElementKind.Indicator, "red")]
    [InlineData(ElementKind.Jumper, "1-2: slow; 2-3: fast")]
    [InlineData(ElementKind.SwitchBank, "1 on: fast; 1 off: slow")]
    [InlineData(ElementKind.Trimmer, "anticlockwise")]
    [InlineData(ElementKind.Relay, "A1, A2")]
    [InlineData(ElementKind.Fuse, "slow, 5 × 20 mm")]
    [InlineData(ElementKind.BoardCable, "D-J1")]
    public void What_an_element_tells_goes_through_the_table(ElementKind kind, string sample)
    {
        string Text(LayoutColumn column) =>
            column switch
            {
                LayoutColumn.Positions => kind == ElementKind.SwitchBank ? "1 on: fast; 1 off: slow" : "1-2: slow; 2-3: fast",
                LayoutColumn.OnToward => "left",
                LayoutColumn.Raises => "anticlockwise",
                LayoutColumn.Turns => "12.5",
                LayoutColumn.Colour => "red",
                LayoutColumn.Coil => "A1, A2",
                LayoutColumn.FuseType => "slow, 5 × 20 mm",
                LayoutColumn.OtherEnd => "D-J1",
                LayoutColumn.Latch or LayoutColumn.KeySide => "left",
                _ => $"words of {column}",
            };

        var columns = LayoutTable.DetailsOf(kind);
        var added = new LayoutEdit(
            LayoutEditKind.Add,
            LayoutRowKind.Element,
            "",
            "e9",
            null,
            "",
            "",
            columns.ToDictionary(c => c, Text).Append(new(LayoutColumn.Kind, kind.ToString())).ToDictionary()
        );
        var result = LayoutTable.Apply(Sample.Board, [added], Sample.Model.States, _ => false);
        Assert.Empty(result.Problems);
        var row = LayoutTable.Rows(result.Board).Single(r => r.Id == "e9");
        Assert.All(columns, c => Assert.Equal(Text(c), row.Cells[c]));
        Assert.Contains(row.Cells.Values, v => v == sample);

        // Two revisions that differ in it say so, in its own words.
        var changed = LayoutTable.Apply(
            result.Board,
            [
                new LayoutEdit(
                    LayoutEditKind.Set,
                    LayoutRowKind.Element,
                    "",
                    "e9",
                    columns[0],
                    Text(columns[0]),
                    columns[0] == LayoutColumn.Positions ? "1-2: idle" : "other"
                ),
            ],
            Sample.Model.States,
            _ => false
        );
        var difference = Assert.Single(BoardComparison.Of(result.Board, changed.Board));
        Assert.Equal((DifferenceKind.Element, Text(columns[0])), (difference.Kind, difference.Before));
    }

    [Theory]
    [InlineData("jumper", "JP1")]
    [InlineData("indicator", "DS1")]
    [InlineData("switch bank", "S1")]
    [InlineData("relay", "K1")]
    [InlineData("test point", "TP1")]
    [InlineData("fuse", "F2")]
    [InlineData("connector", "J3")]
    public void A_new_element_gets_the_next_designator_of_its_letters(string kind, string designator)
    {
        var added = LayoutTable.Apply(
            Sample.Board,
            [
                new LayoutEdit(
                    LayoutEditKind.Add,
                    LayoutRowKind.Element,
                    "",
                    "e9",
                    null,
                    "",
                    "",
                    new Dictionary<LayoutColumn, string> { [LayoutColumn.Kind] = kind }
                ),
            ],
            Sample.Model.States,
            _ => false
        );
        Assert.Equal(designator, added.Board.Elements[^1].Designator);
    }

    [Fact]
    public void Details_that_say_the_same_are_the_same()
    {
        var one = new ElementDetail { Colour = "red", Positions = [new("1-2", "slow")] };
        Assert.Equal(one, one with { Positions = [new("1-2", "slow")] });
        Assert.Equal(one.GetHashCode(), (one with { Positions = [new("1-2", "slow")] }).GetHashCode());
        Assert.NotEqual(one, one with { Positions = [new("1-2", "fast")] });
        Assert.NotEqual(one, one with { Raises = Turning.Clockwise });
        Assert.NotEqual(ElementDetail.None, one);
    }
}
