using System.Collections.Immutable;

namespace RustyLedger.Core.Boards;

/// <summary>One colour of a wire's sleeve by its IEC 60757 code.</summary>
public sealed record WireColour
{
    private WireColour(string code, string words)
    {
        Code = code;
        Words = words;
    }

    public string Code { get; }

    public string Words { get; }

    /// <summary>The colours of IEC 60757, from memory of the standard's table.</summary>
    public static ImmutableArray<WireColour> All { get; } =
    [
        new("BK", "black"),
        new("BN", "brown"),
        new("RD", "red"),
        new("OG", "orange"),
        new("YE", "yellow"),
        new("GN", "green"),
        new("BU", "blue"),
        new("VT", "violet"),
        new("GY", "grey"),
        new("WH", "white"),
        new("PK", "pink"),
        new("GD", "gold"),
        new("TQ", "turquoise"),
        new("SR", "silver"),
    ];

    internal static WireColour Of(string code) => All.First(c => c.Code == code);
}

/// <summary>The one or two colours of a wire at one end, or none where it was not noted.</summary>
public sealed record WireColours
{
    private const string Example = "BU-WH or blue-white";

    // What people and drawings write besides the standard's codes. BL and GR are left out: either may be two colours.
    private static readonly Dictionary<string, string> Names = new(StringComparer.OrdinalIgnoreCase)
    {
        ["black"] = "BK",
        ["blk"] = "BK",
        ["brown"] = "BN",
        ["brn"] = "BN",
        ["br"] = "BN",
        ["red"] = "RD",
        ["rd"] = "RD",
        ["r"] = "RD",
        ["orange"] = "OG",
        ["org"] = "OG",
        ["or"] = "OG",
        ["yellow"] = "YE",
        ["yel"] = "YE",
        ["y"] = "YE",
        ["green"] = "GN",
        ["grn"] = "GN",
        ["blue"] = "BU",
        ["blu"] = "BU",
        ["violet"] = "VT",
        ["purple"] = "VT",
        ["vio"] = "VT",
        ["grey"] = "GY",
        ["gray"] = "GY",
        ["gry"] = "GY",
        ["white"] = "WH",
        ["wht"] = "WH",
        ["w"] = "WH",
        ["pink"] = "PK",
        ["pnk"] = "PK",
        ["gold"] = "GD",
        ["turquoise"] = "TQ",
        ["silver"] = "SR",
        ["o"] = "OG",
    };

    private static readonly Dictionary<string, string> Ambiguous = new(StringComparer.OrdinalIgnoreCase)
    {
        ["bl"] = "black (BK) or blue (BU)",
        ["b"] = "black (BK), blue (BU) or brown (BN)",
        ["gr"] = "green (GN) or grey (GY)",
        ["g"] = "green (GN) or grey (GY)",
    };

    private WireColours(ImmutableArray<WireColour> colours) => Colours = colours;

    public static WireColours None { get; } = new([]);

    public ImmutableArray<WireColour> Colours { get; }

    /// <summary>The codes joined by a hyphen, main colour first; empty for none.</summary>
    public string Code => string.Join('-', Colours.Select(c => c.Code));

    /// <summary>The words joined by a hyphen; empty for none.</summary>
    public string Words => string.Join('-', Colours.Select(c => c.Words));

    /// <summary>Whether <see cref="Read"/> takes the text as one or two colours.</summary>
    public static bool Fits(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return PartsOf(text.Trim()) is { Count: 1 or 2 } parts && parts.TrueForAll(p => Known(p) is not null);
    }

    /// <summary>Reads codes or names of one or two colours, in either case, with any usual sign between.</summary>
    /// <exception cref="FormatException">Unknown or ambiguous; says which part and what it may be.</exception>
    public static WireColours Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var trimmed = text.Trim();
        if (trimmed.Length == 0)
        {
            return None;
        }

        var parts = PartsOf(trimmed);
        if (parts.Count is 0 or > 2)
        {
            throw new FormatException($"\"{text}\" is not one or two wire colours; write for example {Example}");
        }

        return new([
            .. parts.Select(part =>
                Known(part)
                ?? throw new FormatException(
                    Ambiguous.TryGetValue(part, out var may)
                        ? $"the colour \"{part}\" may be {may}"
                        : $"\"{part}\" is not a wire colour; write for example {Example}"
                )
            ),
        ]);
    }

    /// <summary>The colours of it, the words between them left out: <c>black with white stripe</c> is black and white.</summary>
    private static List<string> PartsOf(string text)
    {
        // IEC 60757 writes two colours without a sign between: GNYE.
        if (text.Length == 4 && Known(text[..2]) is not null && Known(text[2..]) is not null && !Names.ContainsKey(text))
        {
            return [text[..2], text[2..]];
        }

        return
        [
            .. text.Replace(" w/", " ", StringComparison.OrdinalIgnoreCase)
                .Split(
                    ['-', '/', '+', '&', ' ', ',', '\u2013', '(', ')'],
                    StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
                )
                .Where(p => !Between.Contains(p, StringComparer.OrdinalIgnoreCase)),
        ];
    }

    private static readonly string[] Between = ["with", "and", "stripe", "stripes", "striped", "tracer", "trace", "band", "wire", "line"];

    public bool Equals(WireColours? other) => other is not null && Colours.SequenceEqual(other.Colours);

    public override int GetHashCode() => Code.GetHashCode(StringComparison.Ordinal);

    private static WireColour? Known(string part) =>
        WireColour.All.FirstOrDefault(c => c.Code.Equals(part, StringComparison.OrdinalIgnoreCase))
        ?? (Names.TryGetValue(part, out var code) ? WireColour.Of(code) : null);
}
