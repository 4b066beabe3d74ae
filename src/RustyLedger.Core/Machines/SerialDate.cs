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

        if (
            Brace().Matches(pattern).FirstOrDefault(m => m.Value is not ("{yyyy}" or "{yy}" or "{ww}" or "{mm}" or "{letter}")) is
            { } unknown
        )
        {
            return $"{unknown.Value} at place {unknown.Index + 1} is not known; write {{yyyy}}, {{yy}}, {{ww}}, {{mm}} or {{letter}}.";
        }

        var years = Brace().Matches(pattern).Count(m => m.Value is "{yyyy}" or "{yy}" or "{letter}");
        var parts = Brace().Matches(pattern).Select(m => m.Value).ToList();
        return years != 1 || parts.Count != parts.Distinct().Count() || (parts.Contains("{ww}") && parts.Contains("{mm}"))
            ? "The pattern tells the year once, and the week or the month at most, such as QP-{yy}{ww}-*."
            : null;
    }

    // Worn signs among those that tell the date; more leave it open.
    private const int MostWorn = 3;

    /// <returns>
    /// The days it may mean: one where every sign that tells them could be read, one for each way to read those that could not; none
    /// where the
    /// serial number does not fit or tells no day that is.
    /// </returns>
    public static IReadOnlyList<PlateDate> Read(string serial, VariantSheet sheet, DateOnly today)
    {
        ArgumentNullException.ThrowIfNull(serial);
        ArgumentNullException.ThrowIfNull(sheet);
        if (sheet.SerialPattern.Length == 0)
        {
            return [];
        }

        var match = _expressions.GetValue(sheet, static s => Expression(s.SerialPattern)).Match(serial.Trim());
        string Of(string group) => match.Groups[group].Success ? match.Groups[group].Value : "";
        if (!match.Success || (Of("y") + Of("l") + Of("w") + Of("m")).Count(c => c == FindText.Unknown) > MostWorn)
        {
            return [];
        }

        return
        [
            .. (
                from year in Ways(Of("y"), Digits)
                    .Select(y => Year(y, today))
                    .Concat(Ways(Of("l"), Letters).Select(l => YearOf(l[0], sheet)))
                    .OfType<int>()
                from date in Of("w").Length > 0 ? Ways(Of("w"), Digits).Select(w => PlateDate.OfWeek(year, Number(w)))
                : Of("m").Length > 0 ? Ways(Of("m"), Digits).Select(m => PlateDate.OfMonth(year, Number(m)))
                : [PlateDate.OfYear(year)]
                where date is not null && date.From <= today
                orderby date.From
                select date
            ).DistinctBy(d => (d.From, d.To)),
        ];
    }

    private const string Digits = "0123456789";
    private const string Letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ";

    private static int Number(string digits) => int.Parse(digits, CultureInfo.InvariantCulture);

    /// <summary>Every way to read a text with worn signs in it; none for an empty one.</summary>
    internal static IEnumerable<string> Ways(string text, string signs) =>
        text.Length == 0
            ? []
            : text.Aggregate(
                (IEnumerable<string>)[""],
                (ways, sign) => ways.SelectMany(w => sign == FindText.Unknown ? signs.Select(s => w + s) : [w + sign])
            );

    /// <summary>The pattern as an expression; one that matches nothing where the pattern cannot be read.</summary>
    private static Regex Expression(string pattern)
    {
        var expression = Regex.Replace(
            pattern,
            @"\{\w+\}|\*|#|[^{*#]+",
            m =>
                m.Value switch
                {
                    "{yyyy}" => @"(?<y>[\d?]{4})",
                    "{yy}" => @"(?<y>[\d?]{2})",
                    "{ww}" => @"(?<w>[\d?]{2})",
                    "{mm}" => @"(?<m>[\d?]{2})",
                    "{letter}" => "(?<l>[A-Za-z?])",
                    "*" => ".*",
                    "#" => @"[\d?]",
                    // A worn sign may be the one that is asked for.
                    var words => string.Concat(words.Select(c => $@"(?:{Regex.Escape($"{c}")}|\?)")),
                }
        );
        // Without backtracking, so that no pattern of many stars takes long.
        return new Regex(
            Problem(pattern) is null ? $"^{expression}$" : @"[^\s\S]",
            RegexOptions.IgnoreCase | RegexOptions.CultureInvariant | RegexOptions.NonBacktracking
        );
    }

    private static int? YearOf(char letter, VariantSheet sheet)
    {
        var at = Letters
            .Where(c => !sheet.LettersLeftOut.Contains(c, StringComparison.OrdinalIgnoreCase))
            .ToList()
            .IndexOf(char.ToUpperInvariant(letter));
        return at < 0 ? null : sheet.FirstLetterYear + at;
    }

    private static int? Year(string digits, DateOnly today)
    {
        var year = Number(digits);
        return digits.Length == 4 ? year
            : year + (today.Year - (today.Year % 100)) is var full && full > today.Year ? full - 100
            : full;
    }

    [GeneratedRegex(@"\{[^}]*\}?")]
    private static partial Regex Brace();
}
