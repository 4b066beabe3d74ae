using System.Globalization;

namespace RustyLedger.Core.Wiring;

/// <summary>The pins that a cell names, as people write them.</summary>
/// <param name="Rest">Words behind them, such as <c>n/c</c> in <c>5-8 n/c</c>.</param>
/// <param name="Doubt">What it may have been instead; empty for none.</param>
internal readonly record struct PinLabels(IReadOnlyList<string> Labels, string Rest, string Doubt)
{
    private const int MostPins = 200;
    private const int MostSigns = 12;

    private static readonly string[] Months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

    /// <summary>
    /// Reads <c>4</c>, <c>L1</c>, <c>1-4</c>, <c>1 to 4</c>, <c>1,2,5-7</c>, and a date that a spreadsheet made of <c>4-1</c>. An
    /// apostrophe before it takes it as it stands.
    /// </summary>
    /// <exception cref="FormatException">Nothing, or more than a connector has.</exception>
    public static PinLabels Read(string cell)
    {
        if (cell.Length == 0)
        {
            throw new FormatException("no pin is named in this row or above it; write for example 4");
        }

        if (cell.StartsWith('\''))
        {
            return new([Fit(cell[1..])], "", "");
        }

        if (TerminalList.SpoiltDate().Match(cell) is { Success: true } date)
        {
            var month = Months.Index().First(m => m.Item.Equals(date.Groups["month"].Value, StringComparison.OrdinalIgnoreCase)).Index + 1;
            var day = int.Parse(date.Groups["day"].Value, CultureInfo.InvariantCulture);
            return new(
                [$"{day}-{month}"],
                "",
                $"\"{cell}\" is a date that a spreadsheet made of {day}-{month}; it may also have been {month}-{day}"
            );
        }

        var pieces = cell.Split([',', ';', '&'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (pieces.Length > 1 && pieces.All(p => p.Length <= 7 && (Range(p) is { Count: > 0 } || p.All(char.IsAsciiLetterOrDigit))))
        {
            List<string> labels = [.. pieces.SelectMany(p => Range(p) ?? [p]).Distinct()];
            return labels.Count <= MostPins
                ? new(labels, "", "")
                : throw new FormatException($"\"{cell}\" would be {labels.Count} pins; a connector has at most {MostPins}");
        }

        return Range(cell) is { } range
            ? new(range, TerminalList.Range().Match(cell).Groups["rest"].Value.Trim(), "")
            : new([Fit(cell)], "", "");
    }

    private static string Fit(string label) =>
        label.Length <= MostSigns
            ? label
            : throw new FormatException($"\"{label}\" is too long for a pin's label; write for example 4 or L1");

    /// <summary>Null where it is no range upward.</summary>
    private static List<string>? Range(string text)
    {
        if (TerminalList.Range().Match(text) is not { Success: true } range)
        {
            return null;
        }

        var (from, to) = (
            int.Parse(range.Groups["from"].Value, CultureInfo.InvariantCulture),
            int.Parse(range.Groups["to"].Value, CultureInfo.InvariantCulture)
        );
        return to <= from ? null
            : to - from < MostPins ? [.. Enumerable.Range(from, to - from + 1).Select(n => n.ToString(CultureInfo.InvariantCulture))]
            : throw new FormatException($"\"{text}\" would be {to - from + 1} pins; a range has at most {MostPins}");
    }
}
