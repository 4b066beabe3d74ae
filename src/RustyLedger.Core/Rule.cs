using System.Text.RegularExpressions;

namespace RustyLedger.Core;

/// <summary>The rules for what people type, each with its sentence. All answer null where the rule holds.</summary>
internal static partial class Rule
{
    /// <summary>The first refusal of several.</summary>
    public static Refusal? First(params ReadOnlySpan<Refusal?> refusals)
    {
        foreach (var refusal in refusals)
        {
            if (refusal is not null)
            {
                return refusal;
            }
        }

        return null;
    }

    public static Refusal? Text(string field, string text, int most) =>
        text.Length <= most ? null : new Refusal(field, $"The {field} has {text.Length} signs; at most {most} fit.");

    /// <summary>
    /// Words, where a reading may have been typed in their place: "24.1", "230 V AC" or "0.2 / 0" alone say nothing; "socket X9, 231 V"
    /// does.
    /// </summary>
    /// <param name="isMissing">What ought to be said there, as in "say why it is measured all the same".</param>
    public static Refusal? Said(string field, string text, int most, string isMissing) =>
        Text(field, text, most)
        ?? (NumbersOnly().IsMatch(text) ? new Refusal(field, $"\"{text}\" is a number and says nothing by itself: {isMissing}.") : null);

    public static Refusal? Needed(string field, string text, int most) =>
        text.Length == 0 ? new Refusal(field, $"The {field} is missing.") : Text(field, text, most);

    public static Refusal? Lines(string field, IReadOnlyList<string> lines, int mostLines, int most) =>
        lines.Select(l => Text(field, l, most)).FirstOrDefault(r => r is not null)
        ?? (lines.Count <= mostLines ? null : new Refusal(field, $"The {field} have {lines.Count} lines; at most {mostLines} fit."));

    public static Refusal? Within(string field, int? number, int least, int most) =>
        number is null || (number >= least && number <= most)
            ? null
            : new Refusal(field, $"The {field} are {number}; from {least} to {most} is taken.");

    /// <summary>At most 200 names of 1 to 64 signs, none of them twice, whatever the case of its letters.</summary>
    public static Refusal? Unique(string at, IEnumerable<string> names, int mostSigns = 64)
    {
        const int Most = 200;
        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var name in names)
        {
            if (name.Trim().Length == 0 || name.Length > mostSigns)
            {
                return new Refusal(at, $"A name in {at} is empty or longer than {mostSigns} signs.");
            }

            if (!seen.Add(name))
            {
                return new Refusal(at, $"\"{name}\" stands twice in {at}.");
            }
        }

        return seen.Count > Most ? new Refusal(at, $"{at} has {seen.Count} entries; at most {Most} fit.") : null;
    }

    /// <summary>An id made by a device: 1 to 64 letters, digits, dashes, dots or underlines.</summary>
    public static Refusal? Id(string field, string? id) =>
        id is { Length: > 0 and <= 64 } && id.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.')
            ? null
            : new Refusal(field, $"The {field} must be 1 to 64 letters, digits, dashes, dots or underlines.");

    public static Refusal? If(bool broken, string field, string problem) => broken ? new Refusal(field, problem) : null;

    /// <summary>A text as it is kept: without the blanks around it; empty for none.</summary>
    public static string Kept(string? text) => text?.Trim() ?? "";

    /// <summary>Lines as they are kept: trimmed, without those that say nothing.</summary>
    public static IReadOnlyList<string> Kept(IEnumerable<string>? lines) => [.. (lines ?? []).Select(Kept).Where(l => l.Length > 0)];

    [GeneratedRegex(
        @"^[\s~<>=+\-−±/.,;]*(?:\d[\d.,]*\s*(?:[kMmµu]?(?:V|A|Ω|ohms?|Hz|F|°?C|s|%))?(?:\s*(?:AC|DC))?[\s~<>=+\-−±/.,;]*)+$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant | RegexOptions.NonBacktracking
    )]
    private static partial Regex NumbersOnly();
}
