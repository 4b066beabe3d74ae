using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Labels;

/// <summary>A line of a card's list.</summary>
/// <param name="Pin">As printed on this build.</param>
/// <param name="Where">Where it sits in its element, as faced.</param>
/// <param name="Reads">What should be read there, a check each.</param>
/// <param name="Limits">The same without against what and in which state, for where room is short.</param>
public sealed record CardLine(
    string Pin,
    string Where,
    string Code,
    string Wire,
    string Signal,
    IReadOnlyList<string> Reads,
    IReadOnlyList<string> Limits
);

/// <summary>The card for the cabinet door: a board's map and list, as faced, in the names that this build prints.</summary>
public sealed record TerminalCard(string Title, string Under, IReadOnlyList<CardLine> Lines, IReadOnlyList<PrintedPage> Pages)
{
    private const double Margin = 10;
    private const double RowHeight = 4.6;
    private const double TextSize = 2.7;

    /// <exception cref="ArgumentException">The machine has no such position.</exception>
    public static TerminalCard Of(ResolvedMachine machine, PositionId positionId, Facing facing, Paper paper, DateOnly day)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var position =
            machine.Model.Positions.FirstOrDefault(p => p.Id == positionId)
            ?? throw new ArgumentException("No such position.", nameof(positionId));
        var type = machine.BoardAt[positionId];
        var title = $"{machine.Machine.Tag} {position.Name}";
        string[] parts =
        [
            $"{type.Printed}, {type.Name}",
            machine.Variant?.Name ?? machine.Model.Name,
            facing.Words,
            FormattableString.Invariant($"{day:yyyy-MM-dd}"),
        ];
        var under = string.Join(" · ", parts);
        IReadOnlyList<CardLine> lines =
        [
            .. type.Elements.SelectMany(e => e.Pins.OrderBy(p => p.Index).Select(p => Line(e, p, positionId, facing, machine))),
        ];
        return new TerminalCard(
            title,
            under,
            lines,
            Arrange(title, under, lines, positionId, type, facing, machine, new LabelGrid(paper, 1, 1, Margin, 0).Sheet)
        );
    }

    private static CardLine Line(Element element, Pin pin, PositionId positionId, Facing facing, ResolvedMachine machine)
    {
        var address = new PinAddress.OnBoard(positionId, pin.Id);
        var here = machine.Pins[address];
        var checks = machine.Checks.Where(c => c.Check.Red == address).ToList();
        var reads = checks.Select(c =>
            string.Join(
                ' ',
                new[]
                {
                    LimitNotation.Write(c.Limit),
                    c.Check.Black is { } black ? $"to {machine.Pins[black].Printed}" : "",
                    c.State.Name,
                }.Where(w => w.Length > 0)
            )
        );
        return new CardLine(
            here.Printed,
            PositionWords.Of(element, pin, facing),
            here.Pin.Colours.Code,
            here.Pin.Colours.Words,
            here.Pin.Signal,
            [.. reads],
            [.. checks.Select(c => LimitNotation.Write(c.Limit)).Distinct()]
        );
    }

    private static List<PrintedPage> Arrange(
        string title,
        string under,
        IReadOnlyList<CardLine> lines,
        PositionId positionId,
        BoardType type,
        Facing facing,
        ResolvedMachine machine,
        (double Width, double Height) sheet
    )
    {
        var inner = sheet.Width - (2 * Margin);
        var pages = new List<PrintedPage>();
        List<Shape> shapes =
        [
            new Words(Margin, Margin + 6, 7, title, true, true),
            Words.Fitted(Margin, Margin + 11, 3, 2, inner, under, false, false),
        ];
        var top = Margin + 15;
        top += BoardDrawing.Draw(shapes, Margin, top, inner, BoardDrawing.MostHeight, positionId, type, facing, machine) + 4;
        // Two lists side by side, down the first and then the second, on each page.
        const int Columns = 2;
        var width = (inner - 4) / Columns;
        var next = 0;
        while (next < lines.Count || pages.Count == 0)
        {
            var rows = Math.Max(1, (int)((sheet.Height - Margin - top - RowHeight) / RowHeight));
            rows = Math.Min(rows, (int)Math.Ceiling((lines.Count - next) / (double)Columns));
            for (var column = 0; column < Columns && next < lines.Count; column++)
            {
                var x = Margin + (column * (width + 4));
                shapes.AddRange(Heading(x, top, width));
                for (var row = 0; row < rows && next < lines.Count; row++)
                {
                    shapes.AddRange(Row(lines[next++], x, top + RowHeight + (row * RowHeight), width));
                }
            }

            pages.Add(new PrintedPage(sheet.Width, sheet.Height, shapes));
            shapes = [Words.Fitted(Margin, Margin + 4, 3, 2, inner, $"{title} · {under}", false, false)];
            top = Margin + 8;
        }

        return pages;
    }

    private static IEnumerable<Shape> Heading(double x, double top, double width)
    {
        foreach (var (at, text) in ((double, string)[])[(0, "Pin"), (0.21, "Wire"), (0.38, "What it does"), (0.72, "Should read")])
        {
            yield return new Words(x + (at * width), top + (RowHeight * 0.7), TextSize, text, true, false);
        }

        yield return new Stroke(x, top + RowHeight, x + width, top + RowHeight, 0.3);
    }

    private static IEnumerable<Shape> Row(CardLine line, double x, double top, double width)
    {
        var y = top + (RowHeight * 0.7);
        yield return Words.Fitted(x, y, TextSize, 1.8, width * 0.2, line.Pin, true, true);
        yield return Words.Fitted(x + (0.21 * width), y, TextSize, 1.6, width * 0.16, line.Wire, false, false);
        yield return Words.Fitted(x + (0.38 * width), y, TextSize, 1.6, width * 0.33, line.Signal, false, false);
        yield return Words.Fitted(x + (0.72 * width), y, TextSize, 1.6, width * 0.28, string.Join(" | ", line.Limits), false, true);
        yield return new Stroke(x, top + RowHeight, x + width, top + RowHeight, 0.1);
    }
}
