using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Labels;

/// <summary>What a round is printed for.</summary>
public enum RoundPaperKind
{
    /// <summary>To be filled in by hand in the field: large, with room for each reading, and the boards as one faces them.</summary>
    Field,

    /// <summary>What was read and what it means.</summary>
    Finished,
}

/// <summary>A round on paper. Its lines have the numbers by which they are entered later.</summary>
public sealed record RoundPaper(string Title, IReadOnlyList<PrintedPage> Pages)
{
    private const double Margin = 10;
    private const double FieldRow = 9.2;
    private const double FinishedRow = 6.4;
    private const double GroupRow = 7;
    private const double Foot = 6;

    /// <param name="heading">Below the title, such as the complaint and the day.</param>
    /// <param name="facings">How the boards are faced; as drawn where nobody said.</param>
    public static RoundPaper Of(
        ResolvedMachine machine,
        RoundSheet sheet,
        string heading,
        IReadOnlyDictionary<PositionId, Facing> facings,
        Paper paper,
        RoundPaperKind kind
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(facings);
        var (width, height) = new LabelGrid(paper, 1, 1, Margin, 0).Sheet;
        var title = $"{machine.Machine.Tag} {machine.Machine.Name}";
        var pages = new List<List<Shape>>();
        var inner = width - (2 * Margin);
        var y = 0d;
        void Begin()
        {
            pages.Add([
                Words.Fitted(Margin, Margin + 5, 6, 3, inner * 0.7, title, true, true),
                new Words(
                    width - Margin,
                    Margin + 5,
                    3.4,
                    kind == RoundPaperKind.Field ? "to be read" : "as read",
                    true,
                    false,
                    Anchor.Right
                ),
                Words.Fitted(Margin, Margin + 10, 3.2, 2, inner, heading, false, false),
            ]);
            y = Margin + 14;
        }

        void Room(double needed)
        {
            if (pages.Count == 0 || y + needed > height - Margin - Foot)
            {
                Begin();
            }
        }

        var isField = kind == RoundPaperKind.Field;
        string? state = null;
        foreach (var (index, row) in sheet.Rows.Index())
        {
            var rowHeight = isField ? FieldRow : FinishedRow;
            if (row.Check.State.Code != state)
            {
                // A heading is never left alone at the foot of a page.
                Room(GroupRow + rowHeight);
                state = row.Check.State.Code;
                pages[^1]
                    .Add(
                        new Words(
                            Margin,
                            y + 5,
                            3.6,
                            $"{row.Check.State.Name}, {(row.Check.State.Energised ? "energised" : "dead: prove it first")}",
                            true,
                            false
                        )
                    );
                pages[^1].Add(new Stroke(Margin, y + GroupRow, width - Margin, y + GroupRow, 0.4));
                y += GroupRow;
            }

            Room(rowHeight);
            pages[^1].AddRange(isField ? FieldLine(machine, row, index + 1, y, inner) : FinishedLine(machine, row, index + 1, y, inner));
            y += rowHeight;
            pages[^1].Add(new Stroke(Margin, y, width - Margin, y, 0.1));
        }

        if (sheet.Extras.Count > 0 || isField)
        {
            Room(GroupRow + (isField ? 5 : sheet.Extras.Count) * FinishedRow);
            pages[^1].Add(new Words(Margin, y + 5, 3.6, isField ? "Whatever else was read" : "Off the sheet", true, false));
            y += GroupRow;
            if (isField)
            {
                for (var i = 0; i < 5; i++, y += FieldRow)
                {
                    Room(FieldRow);
                    pages[^1].Add(new Stroke(Margin, y + FieldRow, width - Margin, y + FieldRow, 0.1));
                }
            }
            else
            {
                foreach (var extra in sheet.Extras)
                {
                    Room(FinishedRow);
                    pages[^1].AddRange(ExtraLine(machine, extra, y, inner));
                    y += FinishedRow;
                }
            }
        }

        if (isField)
        {
            Boards(machine, sheet, facings, inner, height, Room, () => (pages[^1], y), taken => y += taken);
        }

        var count = pages.Count;
        return new RoundPaper(
            title,
            [
                .. pages.Select(
                    (shapes, i) =>
                        new PrintedPage(
                            width,
                            height,
                            [
                                .. shapes,
                                new Words(width - Margin, height - Margin + 2, 2.8, $"{i + 1} of {count}", false, false, Anchor.Right),
                            ]
                        )
                ),
            ]
        );
    }

    private static void Boards(
        ResolvedMachine machine,
        RoundSheet sheet,
        IReadOnlyDictionary<PositionId, Facing> facings,
        double inner,
        double height,
        Action<double> room,
        Func<(List<Shape> Page, double Y)> at,
        Action<double> took
    )
    {
        // By pin, the numbers of the lines at which it is read.
        var numbers = sheet
            .Rows.Index()
            .Where(r => r.Item.Check.Check.Red is not null)
            .GroupBy(r => r.Item.Check.Check.Red!)
            .ToDictionary(g => g.Key, g => string.Join(',', g.Select(r => r.Index + 1)));
        foreach (var position in machine.Model.Positions.Where(p => numbers.Keys.Any(n => n.InPosition == p.Id)))
        {
            if (!machine.BoardAt.TryGetValue(position.Id, out var type))
            {
                continue;
            }

            var facing = facings.GetValueOrDefault(position.Id);
            var size = facing.Size((double)type.WidthMm, (double)type.HeightMm);
            var most = Math.Min(BoardDrawing.MostHeight, height - (2 * Margin) - 34);
            var tall = Math.Min(inner / size.Width, most / size.Height) * size.Height;
            room(GroupRow + tall + 4);
            var (page, y) = at();
            page.Add(new Words(Margin, y + 5, 3.6, $"{position.Prefix} {position.Name}, {facing.Words}", true, false));
            var drawn = BoardDrawing.Draw(page, Margin, y + GroupRow, inner, most, position.Id, type, facing, machine, numbers);
            took(GroupRow + drawn + 4);
        }
    }

    private static IEnumerable<Shape> FieldLine(ResolvedMachine machine, SheetRow row, int number, double y, double inner)
    {
        var check = row.Check.Check;
        var at = Margin;
        double X(double share) => at + (share * inner);
        yield return new Words(at, y + 5.6, 2.8, $"{number}", false, true);
        yield return Words.Fitted(X(0.05), y + 5, 4.6, 2.4, inner * 0.2, SheetOrder.NameOf(machine, row.Check), true, true);
        if (check.Black is { } black)
        {
            yield return Words.Fitted(X(0.05), y + 8.4, 2.8, 2, inner * 0.2, $"to {machine.Pins[black].Printed}", false, true);
        }

        var pin = check.Red is { } red ? machine.Pins[red].Pin : null;
        yield return Words.Fitted(X(0.27), y + 4.4, 3.2, 2, inner * 0.27, pin?.Signal ?? "", false, false);
        string[] under =
        [
            pin?.Colours.Words ?? "",
            check.Plugged switch
            {
                true => "plugged",
                false => "unplugged",
                null => "",
            },
            check.Remark,
        ];
        yield return Words.Fitted(X(0.27), y + 8, 2.6, 1.8, inner * 0.27, string.Join(", ", under.Where(u => u.Length > 0)), false, false);
        yield return Words.Fitted(X(0.56), y + 4.6, 3.8, 2.2, inner * 0.21, LimitNotation.Write(row.Check.Limit), true, true);
        yield return Words.Fitted(X(0.56), y + 8.2, 2.6, 2, inner * 0.21, check.Mode.Words(), false, false);
        yield return new Box(X(0.79), y + 1, inner * 0.21, FieldRow - 2, 0.35);
        if (row.Reading?.Value is { } value)
        {
            yield return Words.Fitted(X(0.8), y + 6, 3.8, 2.2, inner * 0.19, value.Written, false, true);
        }
    }

    private static IEnumerable<Shape> FinishedLine(ResolvedMachine machine, SheetRow row, int number, double y, double inner)
    {
        double X(double share) => Margin + (share * inner);
        yield return new Words(Margin, y + 4.4, 2.6, $"{number}", false, true);
        yield return Words.Fitted(X(0.05), y + 4.4, 3.2, 2, inner * 0.14, SheetOrder.NameOf(machine, row.Check), true, true);
        var signal = row.Check.Check.Red is { } red ? machine.Pins[red].Pin.Signal : row.Check.Check.Remark;
        yield return Words.Fitted(X(0.2), y + 4.4, 2.6, 1.8, inner * 0.17, signal, false, false);
        yield return Words.Fitted(X(0.38), y + 4.4, 2.8, 1.8, inner * 0.14, LimitNotation.Write(row.Check.Limit), false, true);
        if (row.Reading is { Value: { } value } reading)
        {
            yield return Words.Fitted(X(0.53), y + 4.4, 3.2, 2, inner * 0.12, value.Written, true, true);
            // The word stands beside the number, so that it is told without a colour.
            yield return Words.Fitted(X(0.66), y + 4.4, 2.8, 2, inner * 0.1, reading.Verdict.Kind.Word(), reading.Verdict.IsOut, false);
            yield return Words.Fitted(X(0.77), y + 4.4, 2.2, 1.5, inner * 0.23, reading.Verdict.Reason, false, false);
        }
        else
        {
            yield return Words.Fitted(
                X(0.53),
                y + 4.4,
                2.8,
                2,
                inner * 0.4,
                row.Skip is { } skip ? $"not read: {skip.Reason}" : "not read",
                false,
                false
            );
        }
    }

    private static IEnumerable<Shape> ExtraLine(ResolvedMachine machine, Entry extra, double y, double inner)
    {
        double X(double share) => Margin + (share * inner);
        string Printed(PinAddress? at) => at is not null && machine.Pins.TryGetValue(at, out var pin) ? pin.Printed : "";
        var from = Printed(extra.Red);
        var to = Printed(extra.Black);
        yield return Words.Fitted(X(0.05), y + 4.4, 3.2, 2, inner * 0.32, to.Length > 0 ? $"{from} to {to}" : from, true, true);
        yield return Words.Fitted(X(0.38), y + 4.4, 2.6, 1.8, inner * 0.14, extra.State, false, false);
        yield return Words.Fitted(X(0.53), y + 4.4, 3.2, 2, inner * 0.12, extra.Value?.Written ?? "", true, true);
        yield return Words.Fitted(X(0.66), y + 4.4, 2.4, 1.6, inner * 0.34, extra.Verdict.Reason, false, false);
    }
}
