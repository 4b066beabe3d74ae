using System.Globalization;

namespace RustyLedger.Core.Codes;

/// <summary>What was seen or heard; of several ways to say it, all that are stated must fit.</summary>
/// <param name="Text">Signs of a display as typed; empty where none.</param>
/// <param name="Digits">Signs of a display as lit bars; empty where none.</param>
/// <param name="Element">Designator of the lamp; empty where not said.</param>
/// <param name="Colour">Of the lamp; empty where not said.</param>
/// <param name="Pattern">Null where not said; a rhythm says it itself.</param>
/// <param name="Rhythm">As tapped along.</param>
/// <param name="Count">Beeps or blinks as counted; null where not counted.</param>
public sealed record CodeSeen(
    CodeKind Kind,
    string Text,
    IReadOnlyList<Segments> Digits,
    string Element,
    string Colour,
    CodePattern? Pattern,
    TapRhythm? Rhythm,
    int? Count
)
{
    /// <summary>What was seen, as it is kept: <c>E4</c>, <c>D3 red, 2 blinks</c>.</summary>
    public string Words
    {
        get
        {
            string[] parts =
                Kind == CodeKind.Display
                    ? [Text.Length > 0 ? Text : string.Concat(Digits.Select(d => SevenSegment.MayBe(d) is [var sign, ..] ? sign : '?'))]
                    :
                    [
                        string.Join(' ', new[] { Element, Colour }.Where(w => w.Length > 0)),
                        Rhythm?.Words
                            ?? (
                                Count is { } count
                                    ? $"{count} {(Kind == CodeKind.Beeps ? "beep" : "blink")}{(count == 1 ? "" : "s")}"
                                    : Pattern switch
                                    {
                                        CodePattern.Steady => "steady",
                                        CodePattern.Off => "off",
                                        CodePattern.Even => "blinking evenly",
                                        _ => "",
                                    }
                            ),
                    ];
            var words = string.Join(", ", parts.Where(p => p.Length > 0));
            return words.Length > 0 ? words : "nothing said of it";
        }
    }
}

/// <summary>A number read off a code.</summary>
/// <param name="Words">The number with its unit, such as <c>1.83</c> or <c>300 000 operations</c>.</param>
public sealed record CodeValue(CodeNumber Number, decimal Value, string Words);

/// <summary>A code that fits what was seen.</summary>
/// <param name="Off">How far it is off: 0 where it fits exactly.</param>
/// <param name="Why">Why it fits, with what was allowed for.</param>
/// <param name="Value">The number it carries; null for none.</param>
public sealed record CodeMatch(BoardCode Code, double Off, string Why, CodeValue? Value);

/// <summary>Finds a code by how it looks or sounds.</summary>
public static class CodeSearch
{
    // A hand that taps along is off by this much at most, as a factor.
    private const double RateStrays = 1.25;

    // One dead or stuck bar in all is forgiven, so is a count that is off by one; both come after what fits.
    private const int MostBars = 1;
    private const double PerBar = 1;
    private const double MiscountedOne = 1.5;
    private const double RateBeside = 1;

    /// <summary>The codes that fit, best first.</summary>
    public static IReadOnlyList<CodeMatch> Find(IReadOnlyList<BoardCode> codes, CodeSeen seen)
    {
        ArgumentNullException.ThrowIfNull(codes);
        ArgumentNullException.ThrowIfNull(seen);
        return
        [
            .. codes
                .Where(c => c.Kind == seen.Kind)
                .SelectMany(c =>
                    seen.Kind == CodeKind.Display ? Display(c, seen)
                    : Rhythm(c, seen) is { } match ? [match]
                    : []
                )
                .OrderBy(m => m.Off)
                .ThenBy(m => m.Code.Words, StringComparer.Ordinal),
        ];
    }

    /// <summary>The number that the shown signs carry by a code's pattern.</summary>
    /// <param name="digits">The signs at the places marked with <c>#</c>.</param>
    public static CodeValue ValueOf(CodeNumber number, string digits)
    {
        ArgumentNullException.ThrowIfNull(number);
        var value = decimal.Parse(digits, NumberStyles.None, CultureInfo.InvariantCulture) * number.Scale;
        var plain = value
            .ToString(value == decimal.Truncate(value) ? "#,0" : "#,0.#########", CultureInfo.InvariantCulture)
            .Replace(",", "\u202f", StringComparison.Ordinal);
        // A version keeps its noughts: 1.80 is not 1.8.
        var words = number.Kind == CodeNumberKind.Firmware ? value.ToString(CultureInfo.InvariantCulture) : plain;
        return new CodeValue(number, value, number.Unit.Length > 0 ? $"{words} {number.Unit}" : words);
    }

    private static List<CodeMatch> Display(BoardCode code, CodeSeen seen)
    {
        // A point takes no place of its own on a display.
        var shown = code.Shown.Replace(".", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal);
        return seen.Digits.Count > 0
            ? ByBars(code, shown, seen.Digits) is { } match
                ? [match]
                : []
            : ByText(code, shown, seen.Text.Replace(".", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal));
    }

    /// <summary>Every way the typed signs may be what the code shows: more than one where a sign looks like two digits.</summary>
    private static List<CodeMatch> ByText(BoardCode code, string shown, string text)
    {
        if (text.Length != shown.Length || text.Length == 0)
        {
            return [];
        }

        List<(string Digits, List<string> Alike)> ways = [("", [])];
        foreach (var (typed, sign) in text.Zip(shown))
        {
            ways =
            [
                .. ways.SelectMany(w =>
                    Meant(typed, sign)
                        .Select(m =>
                            (
                                sign == '#' ? w.Digits + m : w.Digits,
                                char.ToUpperInvariant(typed) == char.ToUpperInvariant(m) ? w.Alike : [.. w.Alike, $"{typed} for {m}"]
                            )
                        )
                ),
            ];
        }

        // What was typed for a look-alike is as good as the sign itself, but comes after it.
        return
        [
            .. ways.Select(w => new CodeMatch(
                code,
                0.1 * w.Alike.Count,
                w.Alike.Count > 0 ? $"read with {string.Join(", ", w.Alike)}" : "as shown",
                Value(code, w.Digits)
            )),
        ];
    }

    private static IEnumerable<char> Meant(char typed, char sign) =>
        sign != '#'
            ? SevenSegment.LookAlike(typed, sign)
                ? [sign]
                : []
            : char.IsAsciiDigit(typed)
                ? [typed]
                : "0123456789".Where(d => SevenSegment.LookAlike(typed, d));

    private static CodeMatch? ByBars(BoardCode code, string shown, IReadOnlyList<Segments> lit)
    {
        if (lit.Count != shown.Length)
        {
            return null;
        }

        var (digits, bars, notes) = ("", 0, new List<string>());
        foreach (var (place, (bar, sign)) in lit.Zip(shown).Index())
        {
            var wanted = sign == '#' ? "0123456789".MinBy(d => SevenSegment.Difference(bar, d)) : sign;
            digits += sign == '#' ? wanted : "";
            var off = SevenSegment.Difference(bar, wanted);
            bars += off;
            if (bars > MostBars)
            {
                return null;
            }

            if (off > 0)
            {
                notes.Add($"a bar of sign {place + 1} dead or stuck, if it is {wanted}");
            }
            else if (SevenSegment.MayBe(bar) is { Count: > 1 } may)
            {
                notes.Add($"sign {place + 1} may be {string.Join(" or ", may)}");
            }
        }

        return new CodeMatch(code, bars * PerBar, notes.Count > 0 ? string.Join("; ", notes) : "every bar fits", Value(code, digits));
    }

    private static CodeValue? Value(BoardCode code, string digits) =>
        code.Number is { } number && digits.Length > 0 ? ValueOf(number, digits) : null;

    private static CodeMatch? Rhythm(BoardCode code, CodeSeen seen)
    {
        if (
            (seen.Element.Length > 0 && code.Element.Length > 0 && !Same(code.Element, seen.Element))
            || (seen.Colour.Length > 0 && code.Colour.Length > 0 && !Same(code.Colour, seen.Colour))
        )
        {
            return null;
        }

        var (off, why) = (0.0, new List<string>());
        var pattern = seen.Rhythm is { } tapped
            ? tapped.IsEven
                ? CodePattern.Even
                : CodePattern.Groups
            : seen.Pattern ?? (seen.Count is null ? null : CodePattern.Groups);
        // Beeps tapped at an even beat, once through, are a count as well.
        var once =
            seen is { Kind: CodeKind.Beeps, Rhythm: { IsEven: true } even } && code is { Pattern: CodePattern.Groups, Groups.Count: 1 }
                ? even.Repeats + 1
                : (int?)null;
        // Ticks are judged by their rate alone.
        if (pattern is not null && code.Kind != CodeKind.Ticks && code.Pattern != pattern && once is null)
        {
            return null;
        }

        IReadOnlyList<int>? groups =
            seen.Rhythm is { IsEven: false } heard ? heard.Groups
            : (seen.Count ?? once) is { } count ? [count]
            : null;
        if (groups is not null && code.Pattern == CodePattern.Groups)
        {
            var miscounted = Miscounted(groups, code.Groups);
            if (miscounted > 1)
            {
                return null;
            }

            off += miscounted * MiscountedOne;
            why.Add(
                miscounted == 0
                    ? $"counted {string.Join(", then ", groups)}"
                    : $"if one was {(groups.Sum() > code.Groups.Sum() ? "counted twice" : "missed")}"
            );
        }

        if (seen.Rhythm?.PerSecond is { } rate && (code.PerSecondFrom is not null || code.PerSecondTo is not null))
        {
            var (slowest, fastest) = ((double)(code.PerSecondFrom ?? 0), (double)(code.PerSecondTo ?? decimal.MaxValue));
            var beside =
                rate < slowest ? slowest / rate
                : rate > fastest ? rate / fastest
                : 1;
            if (beside > RateStrays)
            {
                return null;
            }

            off += (beside - 1) / (RateStrays - 1) * RateBeside;
            why.Add(FormattableString.Invariant($"{rate:0.0} a second{(beside > 1 ? ", nearly" : "")}"));
        }

        why.AddRange(
            new[]
            {
                seen.Element.Length > 0 && code.Element.Length > 0 ? seen.Element : "",
                seen.Colour.Length > 0 && code.Colour.Length > 0 ? seen.Colour : "",
            }.Where(w => w.Length > 0)
        );
        if (once is null && pattern is CodePattern.Steady or CodePattern.Off or CodePattern.Even)
        {
            why.Add(
                pattern switch
                {
                    CodePattern.Steady => "steady",
                    CodePattern.Off => "off",
                    _ => "even",
                }
            );
        }

        return new CodeMatch(code, off, why.Count > 0 ? string.Join(", ", why) : "nothing speaks against it", null);
    }

    /// <summary>By how many signs in all two rhythms differ; from whichever group they begin.</summary>
    private static int Miscounted(IReadOnlyList<int> heard, IReadOnlyList<int> meant) =>
        heard.Count != meant.Count
            ? int.MaxValue
            : Enumerable
                .Range(0, heard.Count)
                .Min(turn => heard.Select((count, i) => Math.Abs(count - meant[(i + turn) % meant.Count])).Sum());

    private static bool Same(string one, string other) => string.Equals(one, other, StringComparison.OrdinalIgnoreCase);
}
