using System.Numerics;

namespace RustyLedger.Core.Codes;

/// <summary>The bars of a seven-segment digit, named as in every data sheet: A on top, then clockwise, G in the middle.</summary>
[Flags]
public enum Segments
{
    None = 0,
    A = 1,
    B = 2,
    C = 4,
    D = 8,
    E = 16,
    F = 32,
    G = 64,
}

/// <summary>What a seven-segment digit can show, and what may have been meant by it.</summary>
public static class SevenSegment
{
    // Every usual way to draw a sign with seven bars: common practice, no source. K, M, W and X are not drawn.
    private static readonly (char Sign, string[] Bars)[] Glyphs =
    [
        ('0', ["abcdef"]),
        ('1', ["bc", "ef"]),
        ('2', ["abdeg"]),
        ('3', ["abcdg"]),
        ('4', ["bcfg"]),
        ('5', ["acdfg"]),
        ('6', ["acdefg", "cdefg"]),
        ('7', ["abc", "abcf"]),
        ('8', ["abcdefg"]),
        ('9', ["abcdfg", "abcfg"]),
        ('A', ["abcefg", "abcdeg"]),
        ('B', ["cdefg", "abcdefg"]),
        ('C', ["adef", "deg"]),
        ('D', ["bcdeg", "abcdef"]),
        ('E', ["adefg"]),
        ('F', ["aefg"]),
        ('G', ["acdef", "abcdfg"]),
        ('H', ["bcefg", "cefg"]),
        ('I', ["ef", "bc"]),
        ('J', ["bcd", "bcde"]),
        ('L', ["def"]),
        ('N', ["ceg", "abcef"]),
        ('O', ["abcdef", "cdeg"]),
        ('P', ["abefg"]),
        ('Q', ["abcfg"]),
        ('R', ["eg"]),
        ('S', ["acdfg"]),
        ('T', ["defg"]),
        ('U', ["bcdef", "cde"]),
        ('V', ["bcdef", "cde"]),
        ('Y', ["bcdfg"]),
        ('Z', ["abdeg"]),
        ('-', ["g"]),
        ('_', ["d"]),
        ('=', ["dg"]),
        ('°', ["abfg"]),
        (' ', [""]),
    ];

    // What a small letter is drawn as, where the capital may be drawn another way: a small b is never taken for an 8.
    private static readonly Dictionary<char, string> Small = new()
    {
        ['b'] = "cdefg",
        ['c'] = "deg",
        ['d'] = "bcdeg",
        ['g'] = "abcdfg",
        ['h'] = "cefg",
        ['n'] = "ceg",
        ['o'] = "cdeg",
        ['u'] = "cde",
        ['v'] = "cde",
    };

    private static readonly ILookup<char, Segments> BySign = Glyphs
        .SelectMany(g => g.Bars.Select(b => (g.Sign, Bars: Read(b))))
        .ToLookup(g => g.Sign, g => g.Bars);

    /// <summary>Bars by their letters, such as <c>acdfg</c>.</summary>
    /// <exception cref="FormatException">A letter that names no bar.</exception>
    public static Segments Read(string bars)
    {
        ArgumentNullException.ThrowIfNull(bars);
        return bars.Aggregate(
            Segments.None,
            (all, bar) =>
                bar is >= 'a' and <= 'g'
                    ? all | (Segments)(1 << (bar - 'a'))
                    : throw new FormatException($"\"{bar}\" is not a bar of a digit; they are a to g.")
        );
    }

    /// <summary>The ways a sign is drawn, the usual one first; none where seven bars cannot draw it.</summary>
    public static IReadOnlyList<Segments> Drawn(char sign) =>
        Small.TryGetValue(sign, out var bars) ? [Read(bars)] : [.. BySign[char.ToUpperInvariant(sign)]];

    /// <summary>All signs that the lit bars may be, digits first.</summary>
    public static IReadOnlyList<char> MayBe(Segments lit) => [.. Glyphs.Where(g => BySign[g.Sign].Contains(lit)).Select(g => g.Sign)];

    /// <summary>
    /// Whether two signs can look the same, such as 5 and S. Not a chain: B may be an 8 or a 6, yet an 8 is no 6, and a small b no 8.
    /// </summary>
    public static bool LookAlike(char one, char other) =>
        char.ToUpperInvariant(one) == char.ToUpperInvariant(other) || Drawn(one).Intersect(Drawn(other)).Any();

    /// <summary>How many bars differ between what is lit and the nearest way to draw a sign; 7 where it cannot be drawn.</summary>
    public static int Difference(Segments lit, char sign) =>
        Drawn(sign).Select(d => BitOperations.PopCount((uint)(d ^ lit))).DefaultIfEmpty(7).Min();
}
