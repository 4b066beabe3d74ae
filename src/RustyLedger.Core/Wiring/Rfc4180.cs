using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace RustyLedger.Core.Wiring;

/// <summary>CSV as RFC 4180 has it: commas, CRLF, quotes where a cell needs them.</summary>
internal static class Rfc4180
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
            csv.WriteField(cell);
        }

        csv.NextRecord();
    }
}
