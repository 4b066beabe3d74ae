using System.Globalization;
using System.Text.RegularExpressions;
using CsvHelper;
using CsvHelper.Configuration;

namespace RustyLedger.Core.Wiring;

/// <summary>
/// CSV as RFC 4180 has it: commas, CRLF, quotes where a cell needs them. A cell that a spreadsheet would take for a formula has an
/// apostrophe before it, which a spreadsheet shows as text and which is taken away where the file comes back.
/// </summary>
internal static partial class Rfc4180
{
    public static CsvWriter Writer(TextWriter to) =>
        new(
            to,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                NewLine = "\r\n",
                // RFC 4180 also wants quotes around a lone line feed.
                ShouldQuote = cell => cell.Field is { } field && (field.AsSpan().IndexOfAny(",\"\r\n") >= 0 || field != field.Trim()),
            }
        );

    public static void WriteRow(this CsvWriter csv, params IEnumerable<string> cells)
    {
        foreach (var cell in cells)
        {
            csv.WriteField(AsText(cell));
        }

        csv.NextRecord();
    }

    /// <summary>The cell as a spreadsheet shows it and works nothing out of it.</summary>
    public static string AsText(string cell)
    {
        ArgumentNullException.ThrowIfNull(cell);
        return Formula().IsMatch(cell) && !Value().IsMatch(cell) || Escaped().IsMatch(cell) ? $"'{cell}" : cell;
    }

    /// <summary>The cell as it was before <see cref="AsText"/>.</summary>
    public static string Unescaped(string cell)
    {
        ArgumentNullException.ThrowIfNull(cell);
        return Escaped().IsMatch(cell) && (cell[1] == '\'' || !Value().IsMatch(cell[1..])) ? cell[1..] : cell;
    }

    /// <summary>Begins like a formula; a sign alone is a label.</summary>
    [GeneratedRegex(@"^[=@\t\r]|^[+-].", RegexOptions.Singleline)]
    private static partial Regex Formula();

    /// <summary>A number with its unit and words, which nothing can be worked out of.</summary>
    [GeneratedRegex(@"^[+-][\d.,]+[\s\p{L}\d.,%°µΩ±]*$")]
    private static partial Regex Value();

    [GeneratedRegex(@"^'+[=@\t\r+-]", RegexOptions.Singleline)]
    private static partial Regex Escaped();
}
