using System.Globalization;
using System.Text.RegularExpressions;
using CsvHelper;
using CsvHelper.Configuration;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Settings;

/// <summary>One line of a list of settings.</summary>
/// <param name="Problem">Why it was not understood; empty when it was.</param>
public sealed record SettingLine(int Line, string Code, string Value, string Problem);

/// <summary>Settings as text: pasted as they were jotted down, or a CSV file with the columns code and value.</summary>
public static partial class SettingList
{
    public const int MostLines = 20_000;
    private const int MostCode = 24;
    private const int MostValue = 120;

    /// <summary>
    /// Reads lines such as <c>d1 1.8</c>, <c>d1 = 1.8</c>, <c>d1;1,8</c>, or RFC 4180 with a heading. Every line that
    /// is not understood is named; a code twice with different values is one of them.
    /// </summary>
    /// <exception cref="FormatException">Too many lines.</exception>
    public static IReadOnlyList<SettingLine> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var cells = Split(text.TrimStart('\uFEFF')).Where(c => c.Code.Length > 0 || c.Value.Length > 0).ToList();
        if (cells.Count > MostLines)
        {
            throw new FormatException($"The list has {cells.Count} lines; at most {MostLines} are taken at once.");
        }

        var seen = new Dictionary<string, (int Line, string Value)>(StringComparer.OrdinalIgnoreCase);
        var lines = new List<SettingLine>();
        foreach (var (line, code, value) in cells)
        {
            var problem = (code.Length, value.Length) switch
            {
                (0, _) => "the code is missing; write for example d1 1.8",
                (_, 0) => $"{code} has no value; write for example {code} 1.8",
                (> MostCode, _) => $"the code has {code.Length} signs; at most {MostCode} fit",
                (_, > MostValue) => $"the value has {value.Length} signs; at most {MostValue} fit",
                _ when seen.TryGetValue(code, out var known) && known.Value != value =>
                    $"{code} stands in line {known.Line} already, with {known.Value}",
                _ => "",
            };
            seen.TryAdd(code, (line, value));
            lines.Add(new SettingLine(line, code, value, problem));
        }

        return lines;
    }

    /// <summary>RFC 4180 with a heading; <see cref="Read"/> reads it back.</summary>
    public static string Write(IEnumerable<(SettingValue Value, SettingDefinition? Definition)> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using var csv = Rfc4180.Writer(text);
        csv.WriteRow("code", "value", "unit", "name");
        foreach (var (value, definition) in values)
        {
            csv.WriteRow(value.Code, value.Value, definition?.Unit ?? "", definition?.Name ?? "");
        }

        csv.Flush();
        return text.ToString();
    }

    private static IEnumerable<(int Line, string Code, string Value)> Split(string text)
    {
        var first = text.AsSpan()[..(text.AsSpan().IndexOfAny('\r', '\n') is >= 0 and var end ? end : text.Length)].ToString();
        var delimiter =
            first.Contains('\t', StringComparison.Ordinal) ? "\t"
            : first.Contains(';', StringComparison.Ordinal) ? ";"
            : ",";
        var headings = first.Split(delimiter).Select(h => h.Trim(' ', '"').ToLowerInvariant()).ToList();
        if (headings.IndexOf("code") is >= 0 and var code && headings.IndexOf("value") is >= 0 and var value)
        {
            return Table(text, delimiter, code, value);
        }

        return text.Split('\n')
            .Select(
                (line, i) =>
                {
                    var match = Jotted().Match(line.Trim());
                    return (i + 1, match.Groups["code"].Value.Trim(), match.Groups["value"].Value.Trim());
                }
            );
    }

    private static IEnumerable<(int Line, string Code, string Value)> Table(string text, string delimiter, int code, int value)
    {
        using var csv = new CsvReader(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter,
                HasHeaderRecord = true,
                BadDataFound = null,
                MissingFieldFound = null,
                TrimOptions = TrimOptions.Trim,
            }
        );
        csv.Read();
        csv.ReadHeader();
        while (csv.Read())
        {
            yield return (csv.Parser.RawRow, Rfc4180.Unescaped(csv.GetField(code) ?? ""), Rfc4180.Unescaped(csv.GetField(value) ?? ""));
        }
    }

    // The code ends at the first sign between; the value may hold spaces.
    [GeneratedRegex(@"^(?<code>[^\s=;,:\t]*)\s*[=;,:\t\s]?\s*(?<value>.*)$")]
    private static partial Regex Jotted();
}
