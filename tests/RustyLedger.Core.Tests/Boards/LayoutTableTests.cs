using CsCheck;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Boards;

public sealed class LayoutTableTests
{
    [Fact]
    public void A_block_of_cells_is_written_as_a_whole()
    {
        var result = Apply(
            Set(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Colours, "YE", "gn/ye"),
            Set(LayoutRowKind.Pin, "j1", "j1-2", LayoutColumn.Label, "2", "M"),
            Set(LayoutRowKind.Element, "", "f1", LayoutColumn.Pin1, "top left", "bottomright")
        );
        Assert.Empty(result.Problems);
        Assert.Equal(
            ("GN-YE", "M", Corner.BottomRight),
            (result.Board.Elements[0].Pins[0].Colours.Code, result.Board.Elements[0].Pins[1].Label, result.Board.Elements[1].Pin1)
        );
    }

    [Theory]
    [InlineData(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Colours, "YE", "BL", "may be black")]
    [InlineData(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Label, "1", "2", "Another pin of J1 is labelled 2")]
    [InlineData(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Label, "1", "", "a label such as")]
    [InlineData(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Place, "1", "2", "has place 2")]
    [InlineData(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Limit, "", "24 V", "no such column")]
    [InlineData(LayoutRowKind.Pin, "j1", "gone", LayoutColumn.Label, "1", "7", "no longer here")]
    [InlineData(LayoutRowKind.Element, "", "j1", LayoutColumn.Designator, "J1", "j2", "stands twice")]
    [InlineData(LayoutRowKind.Element, "", "j1", LayoutColumn.X, "10", "left", "not a number")]
    [InlineData(LayoutRowKind.Element, "", "j1", LayoutColumn.Kind, "connector", "plug", "none of connector, fuse")]
    [InlineData(LayoutRowKind.Check, "", "c1", LayoutColumn.Limit, "24 V ±5 %", "1,200", "thousand")]
    [InlineData(LayoutRowKind.Check, "", "c1", LayoutColumn.Red, "J1·1", "J9·1", "no pin \"J9·1\"")]
    [InlineData(LayoutRowKind.Check, "", "c1", LayoutColumn.State, "running", "asleep", "not a state here")]
    [InlineData(LayoutRowKind.Check, "", "c1", LayoutColumn.Mode, "DC volts", "sniff", "no meter mode")]
    public void A_wrong_cell_is_named_and_then_nothing_is_written(
        LayoutRowKind row,
        string parent,
        string id,
        LayoutColumn column,
        string before,
        string text,
        string says
    )
    {
        var result = Apply(
            Set(LayoutRowKind.Pin, "j2", "j2-1", LayoutColumn.Signal, "24 V on", "changed"),
            Set(row, parent, id, column, before, text)
        );
        var problem = Assert.Single(result.Problems);
        Assert.Equal(1, problem.Edit);
        Assert.Contains(says, problem.Message, StringComparison.Ordinal);
        Assert.Same(Sample.Board, result.Board);
    }

    [Fact]
    public void Somebody_elses_text_in_the_cell_is_a_clash_and_the_same_text_is_not()
    {
        var clash = Assert.Single(Apply(Set(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Signal, "12 V in", "feed")).Problems);
        Assert.Equal("24 V in", clash.Theirs);
        Assert.Empty(Apply(Set(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Signal, "12 V in", "24 V in")).Problems);
    }

    [Fact]
    public void Two_labels_may_change_places_in_one_block() =>
        Assert.Equal(
            ["2", "1"],
            Apply(
                Set(LayoutRowKind.Pin, "j1", "j1-1", LayoutColumn.Label, "1", "2"),
                Set(LayoutRowKind.Pin, "j1", "j1-2", LayoutColumn.Label, "2", "1")
            )
                .Board.Elements[0]
                .Pins.Select(p => p.Label)
        );

    [Fact]
    public void A_pin_in_use_stays()
    {
        Assert.Contains(
            "is in use",
            Assert.Single(Apply(new LayoutEdit(LayoutEditKind.Remove, LayoutRowKind.Pin, "j1", "j1-1", null, "", "")).Problems).Message,
            StringComparison.Ordinal
        );
        var added = Apply(
            new LayoutEdit(
                LayoutEditKind.Add,
                LayoutRowKind.Pin,
                "j1",
                "n",
                null,
                "",
                "",
                new Dictionary<LayoutColumn, string> { [LayoutColumn.Label] = "9" }
            )
        ).Board;
        var remove = new LayoutEdit(LayoutEditKind.Remove, LayoutRowKind.Pin, "j1", "n", null, "", "");
        Assert.Contains(
            "of a machine",
            Assert.Single(LayoutTable.Apply(added, [remove], OperatingState.Usual, _ => true).Problems).Message,
            StringComparison.Ordinal
        );
        Assert.Equal(2, LayoutTable.Apply(added, [remove], OperatingState.Usual, _ => false).Board.Elements[0].Pins.Count);
    }

    [Fact]
    public void A_check_is_added_with_what_should_be_read()
    {
        var cells = new Dictionary<LayoutColumn, string>
        {
            [LayoutColumn.Limit] = ">= 25 ohm",
            [LayoutColumn.Red] = "f1.1",
            [LayoutColumn.Black] = "J1-2",
            [LayoutColumn.State] = "off",
        };
        var check = Apply(new LayoutEdit(LayoutEditKind.Add, LayoutRowKind.Check, "", "n", null, "", "", cells)).Board.Checks[^1];
        Assert.Equal(
            ((PinId?)"f1-1", (PinId?)"j1-2", MeterMode.Ohms, "off", ">= 25 Ω"),
            (check.Red!.OwnPin, check.Black!.OwnPin, check.Mode, check.State, LimitNotation.Write(check.Limit))
        );
        Assert.Contains(
            "should be read",
            Assert.Single(Apply(new LayoutEdit(LayoutEditKind.Add, LayoutRowKind.Check, "", "n", null, "", "")).Problems).Message,
            StringComparison.Ordinal
        );
    }

    /// <summary>The law that undo rests on: whatever was done, done backwards, gives the start.</summary>
    [Fact]
    public void Any_sequence_of_changes_taken_back_gives_the_start() =>
        Gen.Int[0, int.MaxValue]
            .Array[1, 25]
            .Sample(dice =>
            {
                var start = LayoutTable.Rows(Sample.Board);
                var (board, done) = (Sample.Board, new List<LayoutEdit>());
                foreach (var (i, die) in dice.Index())
                {
                    var edit = Chance(board, new Random(die), i);
                    var result = LayoutTable.Apply(board, [edit], OperatingState.Usual, _ => false);
                    if (result.Problems.Count == 0)
                    {
                        board = result.Board;
                        done.Add(edit);
                    }
                }

                done.Reverse();
                foreach (var edit in done)
                {
                    var back =
                        edit.Kind == LayoutEditKind.Set
                            ? edit with
                            {
                                Before = edit.Text,
                                Text = edit.Before,
                            }
                            : edit with
                            {
                                Kind = edit.Kind == LayoutEditKind.Add ? LayoutEditKind.Remove : LayoutEditKind.Add,
                            };
                    var result = LayoutTable.Apply(board, [back], OperatingState.Usual, _ => false);
                    Assert.Empty(result.Problems);
                    board = result.Board;
                }

                Assert.Equal(Texts(start).Order(), Texts(LayoutTable.Rows(board)).Order());
            });

    private static IEnumerable<string> Texts(IEnumerable<LayoutRow> rows) =>
        rows.Select(r => $"{r.Kind} {r.Parent} {r.Id}: {string.Join('|', r.Cells.OrderBy(c => c.Key).Select(c => c.Value))}");

    private static LayoutEdit Chance(BoardType board, Random random, int step)
    {
        var rows = LayoutTable.Rows(board);
        var row = rows[random.Next(rows.Count)];
        switch (random.Next(5))
        {
            case 0:
                return new LayoutEdit(LayoutEditKind.Add, LayoutRowKind.Element, "", $"e{step}", null, "", "");
            case 1:
                return new LayoutEdit(
                    LayoutEditKind.Add,
                    LayoutRowKind.Pin,
                    board.Elements[random.Next(board.Elements.Count)].Id.Value,
                    $"p{step}",
                    null,
                    "",
                    ""
                );
            case 2:
                return new LayoutEdit(LayoutEditKind.Remove, row.Kind, row.Parent, row.Id, null, "", "", row.Cells);
            default:
                var (column, before) = row.Cells.ElementAt(random.Next(row.Cells.Count));
                string[] texts =
                [
                    "",
                    "1",
                    "2",
                    "7",
                    "RD-BK",
                    "J7",
                    "fuse",
                    "zigzag",
                    "top right",
                    "yes",
                    "ohms",
                    "12..14 V",
                    "off",
                    "unplugged",
                    "J1·2",
                    "words",
                ];
                // A cell takes only its own notation back, so only such texts are tried that the table itself would write.
                var tried = LayoutTable.Apply(
                    board,
                    [new LayoutEdit(LayoutEditKind.Set, row.Kind, row.Parent, row.Id, column, before, texts[random.Next(texts.Length)])],
                    OperatingState.Usual,
                    _ => false
                );
                var now = LayoutTable.Rows(tried.Board).Single(r => r.Kind == row.Kind && r.Parent == row.Parent && r.Id == row.Id).Cells[
                    column
                ];
                return new LayoutEdit(LayoutEditKind.Set, row.Kind, row.Parent, row.Id, column, before, now);
        }
    }

    private static LayoutEdit Set(LayoutRowKind row, string parent, string id, LayoutColumn column, string before, string text) =>
        new(LayoutEditKind.Set, row, parent, id, column, before, text);

    private static LayoutResult Apply(params LayoutEdit[] edits) =>
        LayoutTable.Apply(Sample.Board, edits, OperatingState.Usual, _ => false);
}
