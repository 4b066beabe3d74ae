using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Machines;

/// <summary>What a build date on a plate may mean.</summary>
/// <param name="Words">For example <c>September 2012</c> or <c>week 12 of 2009</c>.</param>
/// <param name="From">First day meant.</param>
/// <param name="To">Last day meant, included.</param>
public sealed partial record PlateDate(string Words, DateOnly From, DateOnly To)
{
    private static readonly string[] Months = CultureInfo.InvariantCulture.DateTimeFormat.MonthNames;

    /// <summary>Control boards are not older than this; a year of two digits is taken after it.</summary>
    private const int FirstYear = 1950;

    /// <summary>
    /// All that the text may mean, likeliest first; one where it is plain, none where it is no date. The text itself
    /// is kept as read whatever comes out. A year and month <c>2022-05</c> and an ISO 8601 week <c>2022-W19</c> are
    /// plain; <c>09/12</c> is not.
    /// </summary>
    /// <param name="today">Nothing was built after it.</param>
    public static IReadOnlyList<PlateDate> Read(string text, DateOnly today)
    {
        ArgumentNullException.ThrowIfNull(text);
        var trimmed = text.Trim();
        IEnumerable<PlateDate?> all =
            // 2015 alone is a year, or year 20 and week 15.
            trimmed.Length == 4
            && Iso().IsMatch(trimmed)
                ? [OfYear(Value(trimmed)), OfWeek(Year(Value(trimmed[..2]), today), Value(trimmed[2..]))]
            : Iso().Match(trimmed) is { Success: true } iso ? [FromIso(iso)]
            : IsoWeek().Match(trimmed) is { Success: true } week ? [OfWeek(Number(week, "year"), Number(week, "week"))]
            : Two().Match(trimmed) is { Success: true } two ? OfTwo(two.Groups["a"].Value, two.Groups["b"].Value, today)
            : Three().Match(trimmed) is { Success: true } three
                ? OfThree(three.Groups["a"].Value, three.Groups["b"].Value, three.Groups["c"].Value, today)
            : [];
        return [.. all.OfType<PlateDate>().Where(d => d.From <= today).DistinctBy(d => (d.From, d.To))];
    }

    private static PlateDate? FromIso(Match iso)
    {
        var year = Number(iso, "year");
        return (iso.Groups["month"].Success, iso.Groups["day"].Success) switch
        {
            (true, true) => OfDay(year, Number(iso, "month"), Number(iso, "day")),
            (true, false) => OfMonth(year, Number(iso, "month")),
            _ => OfYear(year),
        };
    }

    internal static PlateDate? OfYear(int year) =>
        year is >= FirstYear and <= 9999 ? new PlateDate($"{year}", new DateOnly(year, 1, 1), new DateOnly(year, 12, 31)) : null;

    private static IEnumerable<PlateDate?> OfTwo(string a, string b, DateOnly today)
    {
        if (b.Length == 4)
        {
            return [OfMonth(int.Parse(b, CultureInfo.InvariantCulture), Value(a)), OfWeek(Value(b), Value(a))];
        }

        return
        [
            OfMonth(Year(Value(b), today), Value(a)),
            OfWeek(Year(Value(a), today), Value(b)),
            OfWeek(Year(Value(b), today), Value(a)),
            OfMonth(Year(Value(a), today), Value(b)),
        ];
    }

    private static IEnumerable<PlateDate?> OfThree(string a, string b, string c, DateOnly today)
    {
        var year = c.Length == 4 ? Value(c) : Year(Value(c), today);
        return
        [
            OfDay(year, Value(b), Value(a)),
            OfDay(year, Value(a), Value(b)),
            c.Length == 2 ? OfDay(Year(Value(a), today), Value(b), Value(c)) : null,
        ];
    }

    private static int Value(string digits) => int.Parse(digits, CultureInfo.InvariantCulture);

    private static int Number(Match match, string group) => Value(match.Groups[group].Value);

    /// <summary>The last year up to today that ends in these two digits.</summary>
    private static int Year(int twoDigits, DateOnly today)
    {
        var year = today.Year - (today.Year % 100) + twoDigits;
        return year > today.Year ? year - 100 : year;
    }

    private static PlateDate? OfDay(int year, int month, int day) =>
        year >= FirstYear && month is >= 1 and <= 12 && day >= 1 && day <= DateTime.DaysInMonth(year, month)
            ? new PlateDate($"{day} {Months[month - 1]} {year}", new DateOnly(year, month, day), new DateOnly(year, month, day))
            : null;

    internal static PlateDate? OfMonth(int year, int month) =>
        year is >= FirstYear and <= 9999 && month is >= 1 and <= 12
            ? new PlateDate(
                $"{Months[month - 1]} {year}",
                new DateOnly(year, month, 1),
                new DateOnly(year, month, DateTime.DaysInMonth(year, month))
            )
            : null;

    internal static PlateDate? OfWeek(int year, int week)
    {
        if (year is < FirstYear or > 9998 || week < 1 || week > ISOWeek.GetWeeksInYear(year))
        {
            return null;
        }

        var monday = DateOnly.FromDateTime(ISOWeek.ToDateTime(year, week, DayOfWeek.Monday));
        return new PlateDate($"week {week} of {year}", monday, monday.AddDays(6));
    }

    // Four digits alone are a year only where such a year can be; 0912 is two and two.
    [GeneratedRegex(@"^(?<year>(?:19[5-9]|20\d)\d)(?:-(?<month>\d{2})(?:-(?<day>\d{2}))?)?$")]
    private static partial Regex Iso();

    [GeneratedRegex(@"^(?<year>\d{4})[- ]?(?:W|WK|CW|KW)[- ]?(?<week>\d{1,2})$", RegexOptions.IgnoreCase)]
    private static partial Regex IsoWeek();

    [GeneratedRegex(@"^(?<a>\d{1,2})\s*[/.\-: ]?\s*(?<b>\d{4}|\d{2})$")]
    private static partial Regex Two();

    [GeneratedRegex(@"^(?<a>\d{1,2})\s*[/.\- ]\s*(?<b>\d{1,2})\s*[/.\- ]\s*(?<c>\d{4}|\d{2})$")]
    private static partial Regex Three();
}
