using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Machines;

/// <summary>
/// A build date that a serial number carries. The pattern is the serial number with the date's parts in braces:
/// <c>{yyyy}</c>, <c>{yy}</c>, <c>{ww}</c> (ISO 8601 week), <c>{mm}</c>, <c>{letter}</c> (a letter for the year); <c>*</c>
/// for any signs and <c>#</c> for a digit, such as <c>QP-{yy}{ww}-*</c>.
/// </summary>
public static partial class SerialDate
{
    // A shop's serial numbers are read against few patterns.
    private static readonly ConditionalWeakTable<VariantSheet, Regex> _expressions = [];

    /// <returns>What is wrong with a pattern, with its place; null where nothing is.</returns>
    public static string? Problem(string pattern)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        if (pattern.Length == 0)
        {
            return null;
        }

        if (Brace().Matches(pattern).FirstOrDefault(m => m.Value is not ("{yyyy}" or "{yy}" or "{ww}" or "{mm}" or "{letter}")) is { } unknown)
        {
            return $"{unknown.Value} at place {unknown.Index + 1} is not known; write {{yyyy}}, {{yy}}, {{ww}}, {{mm}} or {{letter}}.";
        }

        var years = Brace().Matches(pattern).Count(m => m.Value is "{yyyy}" or "{yy}" or "{letter}");
        var parts = Brace().Matches(pattern).Select(m => m.Value).ToList();
        return years != 1 || parts.Count != parts.Distinct().Count() || (parts.Contains("{ww}") && parts.Contains("{mm}"))
            ? "The pattern tells the year once, and the week or the month at most, such as QP-{yy}{ww}-*."
            : null;
    }

    /// <returns>The days it may mean, or null where the serial number does not fit or tells no day that is.</returns>
    public static PlateDate? Read(string serial, VariantSheet sheet, DateOnly today)
    {
        ArgumentNullException.ThrowIfNull(serial);
        ArgumentNullException.ThrowIfNull(sheet);
        if (sheet.SerialPattern.Length == 0)
        {
            return null;
        }

        var match = _expressions.GetValue(sheet, static s => Expression(s.SerialPattern)).Match(serial.Trim());
        if (!match.Success || Year(match, sheet, today) is not { } year)
        {
            return null;
        }

        var text = match.Groups["w"].Success ? $"{year:0000}-W{match.Groups["w"].Value}"
            : match.Groups["m"].Success ? $"{year:0000}-{match.Groups["m"].Value}"
            : $"{year:0000}";
        return PlateDate.Read(text, today) is [var date] ? date : null;
    }

    /// <summary>The pattern as an expression; one that matches nothing where the pattern cannot be read.</summary>
    private static Regex Expression(string pattern)
    {
        var expression = Regex.Replace(pattern, @"\{\w+\}|\*|#|[^{*#]+", m => m.Value switch
        {
            "{yyyy}" => @"(?<y>\d{4})",
            "{yy}" => @"(?<y>\d{2})",
            "{ww}" => @"(?<w>\d{2})",
            "{mm}" => @"(?<m>\d{2})",
            "{letter}" => "(?<l>[A-Za-z])",
            "*" => ".*",
            "#" => @"\d",
            var words => Regex.Escape(words),
        });
        // Without backtracking, so that no pattern of many stars takes long.
        return new Regex(Problem(pattern) is null ? $"^{expression}$" : @"[^\s\S]", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant | RegexOptions.NonBacktracking);
    }

    private static int? Year(Match match, VariantSheet sheet, DateOnly today)
    {
        if (match.Groups["l"].Success)
        {
            var letters = Enumerable.Range('A', 26).Select(c => (char)c).Except(sheet.LettersLeftOut.ToUpperInvariant()).ToList();
            var at = letters.IndexOf(char.ToUpperInvariant(match.Groups["l"].Value[0]));
            return at < 0 ? null : sheet.FirstLetterYear + at;
        }

        var year = int.Parse(match.Groups["y"].Value, CultureInfo.InvariantCulture);
        return match.Groups["y"].Length == 4 ? year : year + (today.Year - (today.Year % 100)) is var full && full > today.Year ? full - 100 : full;
    }

    [GeneratedRegex(@"\{[^}]*\}?")]
    private static partial Regex Brace();
}
