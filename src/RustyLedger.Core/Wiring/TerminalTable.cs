using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace RustyLedger.Core.Wiring;

/// <summary>The columns a terminal list may have.</summary>
public enum TerminalColumn
{
    Connector,
    Pin,
    Colour,
    Signal,
    Feeds,
    JoinedTo,
    Mode,
    Common,
    OtherEnd,
    Expected,
    State,
    Plugged,
    Remark,
}

/// <summary>A spreadsheet's text taken apart into cells, and which column means what.</summary>
/// <param name="Columns">Which place in a row holds what; settled by headings or by hand.</param>
/// <param name="Lines">Line in the file and cells, the heading left out.</param>
public sealed record TerminalTable(
    string Charset,
    char Delimiter,
    IReadOnlyList<string> Headings,
    IReadOnlyDictionary<TerminalColumn, int> Columns,
    IReadOnlyList<(int Line, IReadOnlyList<string> Cells)> Lines
)
{
    private const int MostBytes = 5 * 1024 * 1024;
    private const int MostLines = 20_000;

    private static readonly Dictionary<string, TerminalColumn> KnownHeadings = new(StringComparer.OrdinalIgnoreCase)
    {
        ["connector"] = TerminalColumn.Connector,
        ["conn"] = TerminalColumn.Connector,
        ["plug"] = TerminalColumn.Connector,
        ["header"] = TerminalColumn.Connector,
        ["block"] = TerminalColumn.Connector,
        ["terminal block"] = TerminalColumn.Connector,
        ["pin"] = TerminalColumn.Pin,
        ["terminal"] = TerminalColumn.Pin,
        ["term"] = TerminalColumn.Pin,
        ["pin no"] = TerminalColumn.Pin,
        ["no"] = TerminalColumn.Pin,
        ["pos"] = TerminalColumn.Pin,
        ["position"] = TerminalColumn.Pin,
        ["#"] = TerminalColumn.Pin,
        ["colour"] = TerminalColumn.Colour,
        ["color"] = TerminalColumn.Colour,
        ["wire"] = TerminalColumn.Colour,
        ["wire colour"] = TerminalColumn.Colour,
        ["wire color"] = TerminalColumn.Colour,
        ["signal"] = TerminalColumn.Signal,
        ["function"] = TerminalColumn.Signal,
        ["what it does"] = TerminalColumn.Signal,
        ["description"] = TerminalColumn.Signal,
        ["use"] = TerminalColumn.Signal,
        ["purpose"] = TerminalColumn.Signal,
        ["feeds"] = TerminalColumn.Feeds,
        ["goes to"] = TerminalColumn.Feeds,
        ["joined to"] = TerminalColumn.JoinedTo,
        ["connects to"] = TerminalColumn.JoinedTo,
        ["mode"] = TerminalColumn.Mode,
        ["meter"] = TerminalColumn.Mode,
        ["meter mode"] = TerminalColumn.Mode,
        ["how"] = TerminalColumn.Mode,
        ["common"] = TerminalColumn.Common,
        ["black"] = TerminalColumn.Common,
        ["common pin"] = TerminalColumn.Common,
        ["reference"] = TerminalColumn.Common,
        ["against"] = TerminalColumn.Common,
        ["other end"] = TerminalColumn.OtherEnd,
        ["across"] = TerminalColumn.OtherEnd,
        ["pair"] = TerminalColumn.OtherEnd,
        ["expected"] = TerminalColumn.Expected,
        ["should read"] = TerminalColumn.Expected,
        ["limit"] = TerminalColumn.Expected,
        ["value"] = TerminalColumn.Expected,
        ["volts"] = TerminalColumn.Expected,
        ["voltage"] = TerminalColumn.Expected,
        ["reads"] = TerminalColumn.Expected,
        ["state"] = TerminalColumn.State,
        ["condition"] = TerminalColumn.State,
        ["when"] = TerminalColumn.State,
        ["plugged"] = TerminalColumn.Plugged,
        ["plugged in"] = TerminalColumn.Plugged,
        ["in or out"] = TerminalColumn.Plugged,
        ["remark"] = TerminalColumn.Remark,
        ["remarks"] = TerminalColumn.Remark,
        ["note"] = TerminalColumn.Remark,
        ["notes"] = TerminalColumn.Remark,
    };

    /// <summary>
    /// Reads RFC 4180 text; also semicolons and tabs, any line ends, a byte order mark, and Windows-1252 where the
    /// bytes are not UTF-8.
    /// </summary>
    /// <param name="columns">Set by hand; null to go by the headings.</param>
    /// <exception cref="FormatException">Too large, empty, or no column for the pin can be found.</exception>
    public static TerminalTable Read(byte[] file, IReadOnlyDictionary<TerminalColumn, int>? columns = null)
    {
        ArgumentNullException.ThrowIfNull(file);
        if (file.Length > MostBytes)
        {
            throw new FormatException($"The file has {file.Length / 1024 / 1024} MB; a terminal list has at most 5.");
        }

        var (text, encoding) = Decode(file);
        var delimiter = DelimiterOf(text);
        var rows = Rows(text, delimiter);
        var heading = rows.Take(20)
            .Index()
            .OrderByDescending(r => r.Item.Cells.Count(c => KnownHeadings.ContainsKey(Plain(c))))
            .ThenBy(r => r.Index)
            .FirstOrDefault();
        if (rows.Count == 0)
        {
            throw new FormatException("The file holds no rows.");
        }

        var byHeading = new Dictionary<TerminalColumn, int>();
        foreach (var (place, cell) in heading.Item.Cells.Index())
        {
            if (KnownHeadings.TryGetValue(Plain(cell), out var column))
            {
                byHeading.TryAdd(column, place);
            }
        }

        var settled = columns ?? byHeading;
        if (!settled.ContainsKey(TerminalColumn.Pin) && columns is not null)
        {
            throw new FormatException("No column is set as the pin.");
        }

        foreach (var (column, place) in settled)
        {
            if (place < 0 || place >= rows.Max(r => r.Cells.Count))
            {
                throw new FormatException($"Column {place + 1}, set as {column}, is not in the file.");
            }
        }

        var hasHeading = byHeading.Count > 0;
        var headings = hasHeading ? heading.Item.Cells : [.. rows[0].Cells.Index().Select(c => $"column {c.Index + 1}")];
        var lines = hasHeading ? rows.Skip(heading.Index + 1).Where(r => !IsRepeatedHeading(r.Cells, heading.Item.Cells)) : rows;
        return new TerminalTable(encoding, delimiter, headings, settled, [.. lines]);
    }

    private static bool IsRepeatedHeading(IReadOnlyList<string> cells, IReadOnlyList<string> heading) =>
        cells
            .Index()
            .Count(c =>
                c.Item.Length > 0
                && c.Index < heading.Count
                && Plain(c.Item).Equals(Plain(heading[c.Index]), StringComparison.OrdinalIgnoreCase)
            ) >= Math.Max(1, heading.Count(h => h.Length > 0) - 1)
        && cells.Any(c => c.Length > 0);

    private static string Plain(string heading) => heading.Trim().TrimEnd('.', ':').Trim();

    private static (string Text, string Encoding) Decode(byte[] file)
    {
        if (file is [0xFF, 0xFE, ..])
        {
            return (Encoding.Unicode.GetString(file, 2, file.Length - 2), "UTF-16");
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

    /// <summary>The sign that stands most evenly outside quotes in the first lines.</summary>
    private static char DelimiterOf(string text)
    {
        var head = text.Length > 8000 ? text[..8000] : text;
        return ((char[])[',', ';', '\t']).MaxBy(sign =>
        {
            var counts = Rows(head, sign).Take(20).Select(r => r.Cells.Count).Where(c => c > 1).ToList();
            return counts.Count == 0 ? 0 : counts.GroupBy(c => c).Max(g => g.Count() * Math.Min(g.Key, 12));
        });
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

    private static List<(int Line, IReadOnlyList<string> Cells)> Rows(string text, char delimiter)
    {
        var rows = new List<(int, IReadOnlyList<string>)>();
        using var parser = new CsvParser(
            new StringReader(QuoteDittos(text, delimiter)),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter.ToString(),
                BadDataFound = null,
                IgnoreBlankLines = true,
                TrimOptions = TrimOptions.None,
            }
        );
        var before = 0;
        while (parser.Read())
        {
            if (parser.Record!.Any(c => !string.IsNullOrWhiteSpace(c)))
            {
                rows.Add((before + 1, [.. parser.Record!.Select(c => c.Trim())]));
            }

            before = parser.RawRow;
            if (rows.Count > MostLines)
            {
                throw new FormatException($"The file has more than {MostLines} rows.");
            }
        }

        return rows;
    }
}
