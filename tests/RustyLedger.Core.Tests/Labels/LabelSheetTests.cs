using CsCheck;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Labels;

namespace RustyLedger.Core.Tests.Labels;

public sealed class LabelSheetTests
{
    /// <summary>ISO 216 A4 is 210 by 297 mm; Letter is 8.5 by 11 inches.</summary>
    [Theory]
    [InlineData(Paper.A4, 210, 297)]
    [InlineData(Paper.Letter, 8.5 * 25.4, 11 * 25.4)]
    public void Paper_has_its_size(Paper paper, double width, double height)
    {
        var (w, h) = new LabelGrid(paper, 3, 8, 7, 2).Sheet;
        Assert.Equal((width, height), (w, h), (a, b) => Math.Abs(a.Item1 - b.Item1) < 1e-9 && Math.Abs(a.Item2 - b.Item2) < 1e-9);
    }

    [Fact]
    public void Labels_lie_on_the_sheet_beside_each_other_and_say_all() =>
        Gen.Select(Gen.Enum<Paper>(), Gen.Int[1, 5], Gen.Int[1, 13], Gen.Double[0, 12], Gen.Double[0, 4], Gen.Int[1, 70], Gen.Int[0, 200])
            .Where(g => new LabelGrid(g.Item1, g.Item2, g.Item3, g.Item4, g.Item5).Problem is null)
            .Sample(
                (paper, columns, rows, margin, gap, count, offset) =>
                {
                    var grid = new LabelGrid(paper, columns, rows, margin, gap);
                    var start = 1 + (offset % grid.PerSheet);
                    var pages = LabelSheet.Of(
                        [.. Enumerable.Range(1, count).Select(i => new Label($"LY-{i:00}", ["winch"], "x"))],
                        grid,
                        start,
                        _ =>
                            new bool[,]
                            {
                                { true, false },
                                { true, true },
                            }
                    );
                    Assert.Equal((count + start - 1 + grid.PerSheet - 1) / grid.PerSheet, pages.Count);
                    var place = start - 1;
                    foreach (var (sheet, page) in pages.Index())
                    {
                        Assert.All(
                            page.Shapes.OfType<Box>(),
                            b =>
                                Assert.True(
                                    b.X >= margin - 1e-9
                                        && b.Y >= margin - 1e-9
                                        && b.X + b.Width <= page.Width - margin + 1e-9
                                        && b.Y + b.Height <= page.Height - margin + 1e-9
                                )
                        );
                        foreach (var title in page.Shapes.OfType<Words>().Where(w => w.IsBold))
                        {
                            var (x, y) = grid.At(place % grid.PerSheet);
                            Assert.Equal(sheet, place / grid.PerSheet);
                            Assert.InRange(title.X, x, x + grid.LabelWidth);
                            Assert.InRange(title.X + Words.WidthOf(title.Text, title.Size, true), x, x + grid.LabelWidth);
                            Assert.InRange(title.Y, y, y + grid.LabelHeight);
                            place++;
                        }
                    }

                    Assert.Equal(start - 1 + count, place);
                }
            );

    /// <summary>ISO/IEC 18004: a quiet zone of four modules on every side.</summary>
    [Fact]
    public void A_code_keeps_its_quiet_zone()
    {
        var grid = new LabelGrid(Paper.A4, 3, 8, 7, 2);
        var modules = new bool[21, 21];
        (modules[0, 0], modules[20, 20], modules[0, 1]) = (true, true, true);
        var boxes = Assert.Single(LabelSheet.Of([new Label("LY-03", [], "x")], grid, 1, _ => modules)).Shapes.OfType<Box>().ToList();
        Assert.Equal(2, boxes.Count);
        var module = boxes[1].Width;
        Assert.Equal(2 * module, boxes[0].Width, 9);
        Assert.Equal(7 + (4 * module), boxes[0].X, 9);
        Assert.Equal(boxes[0].X + (20 * module), boxes[1].X, 9);
        var title = LabelSheet.Of([new Label("LY-03", [], "x")], grid, 1, _ => modules)[0].Shapes.OfType<Words>().Single();
        Assert.True(title.X >= boxes[1].X + (5 * module) - 1e-9);
    }

    [Theory]
    [InlineData(0, 8, 7, 2, "0 columns; a sheet has 1 to 12.")]
    [InlineData(3, 41, 7, 2, "41 rows; a sheet has 1 to 40.")]
    [InlineData(3, 8, 41, 2, "A margin of 41 mm; from 0 to 40 is taken.")]
    [InlineData(12, 8, 7, 5, "Labels of 11.8 by 33.6 mm are too small to read; at least 15 by 8 mm are needed.")]
    public void A_grid_that_does_not_work_out_is_refused(int columns, int rows, double margin, double gap, string says) =>
        Assert.StartsWith(says[..12], new LabelGrid(Paper.A4, columns, rows, margin, gap).Problem!, StringComparison.Ordinal);

    [Fact]
    public void A_long_text_is_made_smaller_then_cut()
    {
        Assert.Equal(10, Words.Fitted(0, 0, 10, 2, 50, "LY-3", true, true).Size);
        var smaller = Words.Fitted(0, 0, 10, 2, 30, "carousel", true, true);
        Assert.Equal(30, Words.WidthOf(smaller.Text, smaller.Size, true), 6);
        var cut = Words.Fitted(0, 0, 10, 2, 30, new string('m', 80), true, true);
        Assert.EndsWith("…", cut.Text, StringComparison.Ordinal);
        Assert.True(Words.WidthOf(cut.Text, cut.Size, true) <= 30);
    }

    [Fact]
    public void A_card_tells_every_terminal_as_faced_in_the_names_of_the_build()
    {
        var machine = Sample.Resolved();
        var card = TerminalCard.Of(machine, "z1", new Facing(0, BoardSide.Solder), Paper.A4, new DateOnly(2026, 11, 25));
        Assert.Equal(["Z1-J1·1", "Z1-J1·2", "Z1-F1·1", "Z1-F1·2", "Z1-J2·1", "Z1-J2·2"], card.Lines.Select(l => l.Pin));
        Assert.Equal(("second from the left", "yellow", "YE"), (card.Lines[0].Where, card.Lines[0].Wire, card.Lines[0].Code));
        var page = Assert.Single(card.Pages);
        Assert.Contains(page.Shapes.OfType<Words>(), w => w.Text == "LY-00 zone 1" && w.IsBold);
        Assert.All(card.Lines, l => Assert.Contains(page.Shapes.OfType<Words>(), w => w.Text == l.Pin));
        // As on the map: J1 is on the left of the component side, so on the right from behind.
        double Left(string designator) => page.Shapes.OfType<Words>().First(w => w.Text == designator).X;
        Assert.True(Left("J1") > Left("J2"));
    }

    [Fact]
    public void A_card_with_hundreds_of_terminals_goes_on_over_the_page()
    {
        var board = Sample.Board with
        {
            Links = [],
            Checks = [],
            Elements =
            [
                .. Enumerable
                    .Range(1, 20)
                    .Select(e =>
                        Sample.Board.Elements[0] with
                        {
                            Id = $"x{e}",
                            Designator = $"X{e}",
                            X = 10,
                            Y = 5 * e,
                            PitchMm = 3,
                            Pins = [.. Enumerable.Range(1, 25).Select(i => new Pin($"x{e}-{i}", i, $"{i}", WireColours.None, "line"))],
                        }
                    ),
            ],
        };
        var card = TerminalCard.Of(
            Sample.Resolved(board: board with { Elements = [.. board.Elements, Sample.Board.Elements[0], Sample.Board.Elements[2]] }),
            "z1",
            default,
            Paper.Letter,
            default
        );
        Assert.True(card.Pages.Count > 3);
        Assert.Equal(
            card.Lines.Select(l => l.Pin).Order(StringComparer.Ordinal),
            card.Pages.SelectMany(p => p.Shapes)
                .OfType<Words>()
                .Where(w => w.Text.StartsWith("Z1-", StringComparison.Ordinal))
                .Select(w => w.Text)
                .Order(StringComparer.Ordinal)
        );
        Assert.All(card.Pages.SelectMany(p => p.Shapes).OfType<Words>(), w => Assert.InRange(w.Y, 0, 279.4));
    }
}
