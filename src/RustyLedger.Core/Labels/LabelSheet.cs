namespace RustyLedger.Core.Labels;

/// <summary>Sizes of paper: ISO 216 A4, and Letter of ANSI Y14.1 (8.5 by 11 inches).</summary>
public enum Paper
{
    A4,
    Letter,
}

/// <summary>How labels stand on a sheet.</summary>
/// <param name="Margin">Left blank at each edge, in millimetres.</param>
/// <param name="Gap">Between neighbours, in millimetres.</param>
public sealed record LabelGrid(Paper Paper, int Columns, int Rows, double Margin, double Gap)
{
    private const double LeastWidth = 15;
    private const double LeastHeight = 8;

    public (double Width, double Height) Sheet => Paper == Paper.A4 ? (210, 297) : (215.9, 279.4);

    public double LabelWidth => (Sheet.Width - (2 * Margin) - ((Columns - 1) * Gap)) / Columns;

    public double LabelHeight => (Sheet.Height - (2 * Margin) - ((Rows - 1) * Gap)) / Rows;

    public int PerSheet => Columns * Rows;

    /// <summary>What does not work out, in words; null where the grid does.</summary>
    public string? Problem =>
        this switch
        {
            { Columns: < 1 or > 12 } => $"{Columns} columns; a sheet has 1 to 12.",
            { Rows: < 1 or > 40 } => $"{Rows} rows; a sheet has 1 to 40.",
            { Margin: < 0 or > 40 } => FormattableString.Invariant($"A margin of {Margin:0.#} mm; from 0 to 40 is taken."),
            { Gap: < 0 or > 20 } => FormattableString.Invariant($"A gap of {Gap:0.#} mm; from 0 to 20 is taken."),
            _ when LabelWidth < LeastWidth || LabelHeight < LeastHeight => FormattableString.Invariant(
                $"Labels of {LabelWidth:0.#} by {LabelHeight:0.#} mm are too small to read;"
            ) + FormattableString.Invariant($" at least {LeastWidth:0} by {LeastHeight:0} mm are needed."),
            _ => null,
        };

    /// <summary>The upper left corner of a place on its sheet, in millimetres.</summary>
    /// <param name="place">From 0, along the rows.</param>
    public (double X, double Y) At(int place) =>
        (Margin + (place % Columns * (LabelWidth + Gap)), Margin + (place / Columns * (LabelHeight + Gap)));
}

/// <summary>What a label says.</summary>
/// <param name="Title">In plain text, the largest thing on it: a tag, or a plug's name.</param>
/// <param name="Lines">Below it, most needed first; as many as fit are printed.</param>
/// <param name="Address">What its code leads to; null where there is no code.</param>
public sealed record Label(string Title, IReadOnlyList<string> Lines, string? Address);

/// <summary>Labels laid out on sheets.</summary>
public static class LabelSheet
{
    private const double Inset = 2;
    private const double QuietModules = 4;
    private const double LineHeight = 1.25;

    /// <param name="start">The first place used on the first sheet, from 1; the ones before it were used up earlier.</param>
    /// <param name="modules">The dark modules of an address's code, row by row, without quiet zone (ISO/IEC 18004).</param>
    public static IReadOnlyList<PrintedPage> Of(IReadOnlyList<Label> labels, LabelGrid grid, int start, Func<string, bool[,]> modules)
    {
        ArgumentNullException.ThrowIfNull(labels);
        ArgumentNullException.ThrowIfNull(grid);
        ArgumentNullException.ThrowIfNull(modules);
        ArgumentOutOfRangeException.ThrowIfLessThan(start, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(start, grid.PerSheet);
        var pages = new List<PrintedPage>();
        foreach (var sheet in labels.Index().GroupBy(l => (l.Index + start - 1) / grid.PerSheet))
        {
            List<Shape> shapes = [];
            foreach (var (i, label) in sheet)
            {
                var (x, y) = grid.At((i + start - 1) % grid.PerSheet);
                shapes.AddRange(Draw(label, x, y, grid.LabelWidth, grid.LabelHeight, modules));
            }

            pages.Add(new PrintedPage(grid.Sheet.Width, grid.Sheet.Height, shapes));
        }

        return pages;
    }

    private static IEnumerable<Shape> Draw(Label label, double x, double y, double width, double height, Func<string, bool[,]> modules)
    {
        var side = 0.0;
        if (label.Address is { } address)
        {
            var dark = modules(address);
            var count = dark.GetLength(0);
            side = Math.Min(height - Inset, width * 0.45);
            var module = side / (count + (2 * QuietModules));
            for (var row = 0; row < count; row++)
            {
                for (var column = 0; column < count; column++)
                {
                    if (dark[row, column])
                    {
                        // Modules that touch are printed as one run, so that no hairline splits them.
                        var from = column;
                        while (column + 1 < count && dark[row, column + 1])
                        {
                            column++;
                        }

                        yield return new Box(
                            x + ((QuietModules + from) * module),
                            y + ((height - side) / 2) + ((QuietModules + row) * module),
                            (column - from + 1) * module,
                            module,
                            0
                        );
                    }
                }
            }
        }

        var left = x + Math.Max(side, Inset);
        var room = x + width - Inset - left;
        var title = Words.Fitted(left, 0, Math.Min(height * 0.36, 11), 2, room, label.Title, isBold: true, isRead: true);
        var small = Math.Clamp(height * 0.11, 1.7, 3.4);
        var lines = label
            .Lines.Where(l => l.Length > 0)
            .Take(Math.Max(0, (int)((height - (2 * Inset) - title.Size) / (small * LineHeight))))
            .ToList();
        var top = y + ((height - title.Size - (lines.Count * small * LineHeight)) / 2);
        yield return title with
        {
            Y = top + (title.Size * 0.82),
        };
        foreach (var (i, line) in lines.Index())
        {
            yield return Words.Fitted(
                left,
                top + title.Size + (small * LineHeight * (i + 0.8)),
                small,
                1.5,
                room,
                line,
                isBold: false,
                isRead: false
            );
        }
    }
}
