using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using ExcelDataReader;
using ExcelDataReader.Exceptions;

namespace RustyLedger.Core.Wiring;

/// <summary>One table of a file: its rows as texts, those that hold nothing left out.</summary>
/// <param name="Name">Of the leaf of a workbook; empty for a text.</param>
/// <param name="Rows">Line in the file, from 1, and cells without the blanks around them.</param>
public sealed record SheetGrid(string Name, IReadOnlyList<(int Line, IReadOnlyList<string> Cells)> Rows);

/// <summary>What a file of any usual kind holds.</summary>
/// <param name="Kind">In words, such as <c>UTF-8, commas</c>.</param>
/// <param name="Delimiter">Between the cells of a text; null in a workbook, or where columns stand apart by blanks.</param>
public sealed record SheetFile(string Kind, char? Delimiter, IReadOnlyList<SheetGrid> Grids)
{
    public const int MostBytes = 5 * 1024 * 1024;
    public const int MostLines = 20_000;
    private const int MostColumns = 60;
    private const int MostSigns = 400;

    /// <summary>Code pages that a text may be said to be in, besides those that tell themselves.</summary>
    public static IReadOnlyList<(int Page, string Name)> CodePages { get; } =
    [
        (65001, "UTF-8"),
        (1252, "Windows-1252"),
        (1250, "Windows-1250"),
        (1251, "Windows-1251"),
        (850, "DOS 850"),
        (437, "DOS 437"),
        (10000, "Macintosh"),
    ];

    static SheetFile() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>
    /// Reads <c>.xlsx</c>, <c>.xls</c>, and texts with commas (RFC 4180), semicolons, tabs, upright strokes, or columns set apart by two
    /// blanks and more; any line ends; UTF-8, UTF-16, and Windows-1252 where the bytes are neither.
    /// </summary>
    /// <param name="codePage">Of a text, where somebody knows better; null to go by the bytes.</param>
    /// <exception cref="FormatException">Too large, holds no rows, or is a workbook that cannot be read; says which.</exception>
    public static SheetFile Read(byte[] file, int? codePage = null)
    {
        ArgumentNullException.ThrowIfNull(file);
        if (file.Length > MostBytes)
        {
            throw new FormatException($"The file has {file.Length / 1024 / 1024} MB; a terminal list has at most 5.");
        }

        var read = file is [(byte)'P', (byte)'K', 3, 4, ..] or [0xD0, 0xCF, 0x11, 0xE0, ..] ? OfWorkbook(file) : OfText(file, codePage);
        return read.Grids.Any(g => g.Rows.Count > 0) ? read : throw new FormatException("The file holds no rows.");
    }

    private static SheetFile OfWorkbook(byte[] file)
    {
        try
        {
            using var reader = ExcelReaderFactory.CreateReader(new MemoryStream(file));
            var grids = new List<SheetGrid>();
            do
            {
                if (Leaf(reader) is { Rows.Count: > 0 } grid)
                {
                    grids.Add(grid);
                }
            } while (reader.NextResult());

            return new SheetFile(file[0] == 'P' ? "xlsx workbook" : "xls workbook", null, grids);
        }
        // The reader's own errors, and those of a packed file or a tree of XML that is broken somewhere within.
        catch (Exception broken) when (broken is not (FormatException or OutOfMemoryException))
        {
            throw new FormatException(
                broken is InvalidPasswordException
                    ? "The workbook is locked with a password; save it without one."
                    : "The workbook cannot be read; save it once more, or as CSV.",
                broken
            );
        }
    }

    private static SheetGrid Leaf(IExcelDataReader reader)
    {
        var rows = new List<(int Line, IReadOnlyList<string> Cells)>();
        // What stands in a cell merged downward holds for all its rows; one merged across is one cell, a title.
        var merged = (reader.MergeCells ?? []).Where(m => m.ToRow > m.FromRow).ToList();
        var held = new Dictionary<CellRange, string>();
        for (var line = 1; reader.Read(); line++)
        {
            if (rows.Count >= MostLines)
            {
                throw new FormatException($"The file has more than {MostLines} rows.");
            }

            var cells = new string[Math.Min(reader.FieldCount, MostColumns)];
            for (var column = 0; column < cells.Length; column++)
            {
                cells[column] = Kept(Text(reader.GetValue(column)));
                var range = merged.Find(m => m.FromColumn == column && m.FromRow <= line - 1 && line - 1 <= m.ToRow);
                if (range is not null && line - 1 == range.FromRow)
                {
                    held[range] = cells[column];
                }
                else if (range is not null && cells[column].Length == 0)
                {
                    cells[column] = held.GetValueOrDefault(range, "");
                }
            }

            if (cells.Any(c => c.Length > 0))
            {
                rows.Add((line, cells));
            }
        }

        return new SheetGrid(reader.Name ?? "", rows);
    }

    /// <summary>A cell as it was meant to be read: a day without its year is a pin such as 4-1 that a spreadsheet made a date of.</summary>
    private static string Text(object? value) =>
        value switch
        {
            null => "",
            double number => number.ToString("0.##########", CultureInfo.InvariantCulture),
            DateTime day => day.ToString("d-MMM", CultureInfo.InvariantCulture),
            bool yes => yes ? "yes" : "no",
            _ => Convert.ToString(value, CultureInfo.InvariantCulture) ?? "",
        };

    private static SheetFile OfText(byte[] file, int? codePage)
    {
        var (text, charset) = Decode(file, codePage);
        var delimiter = DelimiterOf(text);
        var rows = delimiter is { } sign ? Delimited(text, sign) : SetApart(text);
        return new SheetFile($"{charset}, {Words(delimiter)}", delimiter, [new SheetGrid("", rows)]);
    }

    private static string Words(char? delimiter) =>
        delimiter switch
        {
            ',' => "commas",
            ';' => "semicolons",
            '\t' => "tabs",
            '|' => "strokes",
            _ => "columns set apart",
        };

    private static (string Text, string Charset) Decode(byte[] file, int? codePage)
    {
        if (codePage is { } page)
        {
            var said = CodePages.FirstOrDefault(c => c.Page == page);
            return said.Name is null
                ? throw new FormatException($"Code page {page} is not known here.")
                : (Encoding.GetEncoding(page).GetString(file).TrimStart('\ufeff'), said.Name);
        }

        if (file is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
        {
            var encoding = file[0] == 0xFF ? Encoding.Unicode : Encoding.BigEndianUnicode;
            return (encoding.GetString(file, 2, file.Length - 2), "UTF-16");
        }

        // UTF-16 without its mark: every second byte of plain text is zero.
        var head = file.AsSpan(0, Math.Min(file.Length, 400));
        var (even, odd) = (Zeros(head, 0), Zeros(head, 1));
        if (head.Length >= 8 && Math.Max(even, odd) > head.Length / 4 && Math.Min(even, odd) == 0)
        {
            return ((odd > even ? Encoding.Unicode : Encoding.BigEndianUnicode).GetString(file), "UTF-16");
        }

        try
        {
            var start = file is [0xEF, 0xBB, 0xBF, ..] ? 3 : 0;
            return (new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(file, start, file.Length - start), "UTF-8");
        }
        catch (DecoderFallbackException)
        {
            return (CodePagesEncodingProvider.Instance.GetEncoding(1252)!.GetString(file), "Windows-1252");
        }
    }

    private static int Zeros(ReadOnlySpan<byte> bytes, int from)
    {
        var zeros = 0;
        for (var i = from; i < bytes.Length; i += 2)
        {
            zeros += bytes[i] == 0 ? 1 : 0;
        }

        return zeros;
    }

    /// <summary>The sign that stands most evenly outside quotes in the first lines; null where blanks set the columns apart.</summary>
    private static char? DelimiterOf(string text)
    {
        var head = text.Length > 8000 ? text[..8000] : text;
        var (best, worth) = ((char[])[',', ';', '\t', '|'])
            .Select(sign => (Sign: sign, Worth: Evenness(Delimited(head, sign))))
            .MaxBy(s => s.Worth);
        return worth == 0 || (worth < 4 && Evenness(SetApart(head)) > worth) || Evenness(SetApart(head)) > 3 * worth
            ? Evenness(SetApart(head)) > 0
                ? null
                : ','
            : best;
    }

    private static int Evenness(List<(int Line, IReadOnlyList<string> Cells)> rows)
    {
        var counts = rows.Take(40).Select(r => r.Cells.Count).Where(c => c > 1).ToList();
        return counts.Count == 0 ? 0 : counts.GroupBy(c => c).Max(g => g.Count() * Math.Min(g.Key, 12));
    }

    /// <summary>
    /// Columns by where they begin: two blanks and more set them apart, and a short row keeps its cells in their columns.
    /// </summary>
    private static List<(int Line, IReadOnlyList<string> Cells)> SetApart(string text)
    {
        var lines = text.ReplaceLineEndings("\n").Split('\n').Index().Where(l => l.Item.Trim().Length > 0).ToList();
        if (lines.Count > MostLines)
        {
            throw new FormatException($"The file has more than {MostLines} rows.");
        }

        var fields = lines.ConvertAll(l => (Line: l.Index + 1, Fields: Fields(l.Item)));
        var starts = fields
            .SelectMany(f => f.Fields.Select(x => x.At))
            .GroupBy(at => at)
            .Where(g => g.Count() * 4 >= fields.Count)
            .Select(g => g.Key)
            .Order()
            .ToList();
        return fields.ConvertAll(f =>
        {
            if (starts.Count < 2 || f.Fields.Count > starts.Count)
            {
                return (f.Line, (IReadOnlyList<string>)[.. f.Fields.Select(x => x.Text)]);
            }

            var cells = Enumerable.Repeat("", starts.Count).ToArray();
            var next = 0;
            foreach (var (i, (at, words)) in f.Fields.Index())
            {
                var column = Math.Clamp(starts.FindLastIndex(s => s <= at + 1), next, starts.Count - (f.Fields.Count - i));
                cells[column] = words;
                next = column + 1;
            }

            return (f.Line, (IReadOnlyList<string>)cells);
        });
    }

    private static List<(int At, string Text)> Fields(string line)
    {
        var found = new List<(int, string)>();
        for (var i = 0; i < line.Length; )
        {
            if (line[i] == ' ')
            {
                i++;
                continue;
            }

            var end = line.IndexOf("  ", i, StringComparison.Ordinal);
            end = end < 0 ? line.Length : end;
            found.Add((i, Kept(line[i..end])));
            i = end;
        }

        return found;
    }

    /// <summary>
    /// A cell that is one quote sign and no more is a ditto mark, which some programs write bare; RFC 4180 would
    /// take it for the start of a quoted cell and swallow the rest of the row.
    /// </summary>
    private static string QuoteDittos(string text, char delimiter)
    {
        var mended = new StringBuilder(text.Length);
        var (quoted, start) = (false, true);
        for (var i = 0; i < text.Length; i++)
        {
            var sign = text[i];
            var ends = i + 1 == text.Length || text[i + 1] == delimiter || text[i + 1] is '\r' or '\n';
            if (sign == '"' && start && !quoted && ends)
            {
                mended.Append("\"\"\"\"");
                start = false;
                continue;
            }

            quoted ^= sign == '"' && (quoted || start);
            // Inside a quoted cell two quotes stand for one; the second opens it again.
            start = !quoted && (sign == delimiter || sign is '\r' or '\n' || sign == '"');
            mended.Append(sign);
        }

        return mended.ToString();
    }

    private static List<(int Line, IReadOnlyList<string> Cells)> Delimited(string text, char delimiter)
    {
        var rows = new List<(int, IReadOnlyList<string>)>();
        using var parser = new CsvParser(
            new StringReader(QuoteDittos(text, delimiter)),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter.ToString(),
                BadDataFound = null,
                IgnoreBlankLines = false,
                TrimOptions = TrimOptions.None,
            }
        );
        var before = 0;
        while (parser.Read())
        {
            if (parser.Record!.Any(c => !string.IsNullOrWhiteSpace(c)))
            {
                rows.Add((before + 1, [.. parser.Record!.Take(MostColumns).Select(Kept)]));
            }

            before = parser.RawRow;
            if (rows.Count > MostLines)
            {
                throw new FormatException($"The file has more than {MostLines} rows.");
            }
        }

        return rows;
    }

    private static string Kept(string cell)
    {
        var text = Rfc4180.Unescaped(cell.Replace('\u00a0', ' ').Trim());
        return text.Length <= MostSigns ? text : text[..MostSigns];
    }
}
