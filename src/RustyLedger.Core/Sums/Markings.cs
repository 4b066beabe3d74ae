using System.Globalization;

namespace RustyLedger.Core.Sums;

/// <param name="Tolerance">In per cent; null where nothing is printed.</param>
/// <param name="PartsPerMillion">Per kelvin; null where nothing is printed.</param>
public sealed record ResistorMark(double Ohms, double? Tolerance, double? PartsPerMillion);

/// <summary>
/// What is printed on resistors (IEC 60062) and the values they are made in (IEC 60063); both from memory of the standards.
/// </summary>
public static class Markings
{
    private static readonly string[] _digits = ["black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white"];

    private static readonly Dictionary<string, double> _tolerances = new()
    {
        ["brown"] = 1,
        ["red"] = 2,
        ["orange"] = 0.05,
        ["yellow"] = 0.02,
        ["green"] = 0.5,
        ["blue"] = 0.25,
        ["violet"] = 0.1,
        ["grey"] = 0.01,
        ["gold"] = 5,
        ["silver"] = 10,
    };

    private static readonly Dictionary<string, double> _drifts = new()
    {
        ["black"] = 250,
        ["brown"] = 100,
        ["red"] = 50,
        ["orange"] = 15,
        ["yellow"] = 25,
        ["green"] = 20,
        ["blue"] = 10,
        ["violet"] = 5,
        ["grey"] = 1,
    };

    private static readonly Dictionary<char, double> _letters = new()
    {
        ['B'] = 0.1,
        ['C'] = 0.25,
        ['D'] = 0.5,
        ['F'] = 1,
        ['G'] = 2,
        ['J'] = 5,
        ['K'] = 10,
        ['M'] = 20,
    };

    // E24 of IEC 60063; E6 and E12 are every fourth and every second of it. E48 and above follow 10^(n/m) to three digits.
    private static readonly double[] _e24 =
    [
        1.0,
        1.1,
        1.2,
        1.3,
        1.5,
        1.6,
        1.8,
        2.0,
        2.2,
        2.4,
        2.7,
        3.0,
        3.3,
        3.6,
        3.9,
        4.3,
        4.7,
        5.1,
        5.6,
        6.2,
        6.8,
        7.5,
        8.2,
        9.1,
    ];

    /// <summary>Reads colours as <c>yellow violet red gold</c>, or a letter code as <c>4K7</c>, <c>R47</c>, <c>2M2J</c>.</summary>
    /// <exception cref="SumException">Neither; names which band or letter.</exception>
    public static ResistorMark Read(string field, string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var words = text.ToLowerInvariant()
            .Replace("gray", "grey", StringComparison.Ordinal)
            .Replace("purple", "violet", StringComparison.Ordinal)
            .Split([' ', ',', '-', '/'], StringSplitOptions.RemoveEmptyEntries);
        return words.Length > 1 ? Bands(field, words) : Letters(field, text.Trim());
    }

    private static ResistorMark Bands(string field, string[] bands)
    {
        if (bands.Length is < 3 or > 6)
        {
            throw new SumException(field, $"Bands: {bands.Length} colours; a resistor has three to six.");
        }

        // Three and four bands have two digits, five and six have three.
        var digits = bands.Length < 5 ? 2 : 3;
        var number = 0;
        for (var i = 0; i < digits; i++)
        {
            var digit = Array.IndexOf(_digits, bands[i]);
            if (digit < 0)
            {
                var turned = bands[i] is "gold" or "silver" ? " It is read from the other end." : "";
                throw new SumException(field, $"Bands: \"{Shown(bands[i])}\" in place {i + 1} is no digit.{turned}");
            }

            number = (number * 10) + digit;
        }

        var times = bands[digits] switch
        {
            "gold" => 0.1,
            "silver" => 0.01,
            var colour when Array.IndexOf(_digits, colour) is >= 0 and var power => Math.Pow(10, power),
            var other => throw new SumException(field, $"Bands: \"{Shown(other)}\" in place {digits + 1} is no multiplier."),
        };
        double? At(int place, Dictionary<string, double> meanings, string what) =>
            bands.Length <= place ? null
            : meanings.TryGetValue(bands[place], out var value) ? value
            : throw new SumException(field, $"Bands: \"{Shown(bands[place])}\" in place {place + 1} is no {what}.");
        // No fourth band is 20 %.
        return new ResistorMark(
            number * times,
            bands.Length == 3 ? 20 : At(digits + 1, _tolerances, "tolerance"),
            At(digits + 2, _drifts, "drift with temperature")
        );
    }

    private static ResistorMark Letters(string field, string text)
    {
        var code = text;
        double? tolerance = null;
        if (code.Length > 2 && _letters.TryGetValue(code[^1], out var percent) && !char.IsAsciiLetter(code[^2]) && HasPoint(code[..^1]))
        {
            (tolerance, code) = (percent, code[..^1]);
        }

        var at = code.IndexOfAny(['R', 'K', 'k', 'M', 'L', 'G']);
        if (at < 0)
        {
            return new ResistorMark(Quantity.Read(field, "Mark", text, "Ω"), null, null);
        }

        var digits = $"{(at == 0 ? "0" : code[..at])}.{(at == code.Length - 1 ? "0" : code[(at + 1)..])}";
        var scale = code[at] switch
        {
            'R' => 1,
            'L' => 1e-3,
            'M' => 1e6,
            'G' => 1e9,
            _ => 1e3,
        };
        return
            code.Any(char.IsAsciiDigit)
            && digits.All(c => char.IsAsciiDigit(c) || c == '.')
            && double.TryParse(digits, CultureInfo.InvariantCulture, out var value)
            ? new ResistorMark(value * scale, tolerance, null)
            : throw new SumException(
                field,
                $"Mark: \"{Shown(text)}\" is not understood; write the colours in words, or a code such as 4K7J."
            );
    }

    private static bool HasPoint(string code) => code.IndexOfAny(['R', 'K', 'k', 'M', 'L', 'G']) >= 0;

    /// <summary>The value of a series that is nearest, by ratio.</summary>
    /// <param name="series">6, 12, 24, 48, 96: how many to a decade.</param>
    public static double Nearest(double ohms, int series)
    {
        if (ohms <= 0)
        {
            return 0;
        }

        var decade = Math.Floor(Math.Log10(ohms));
        // The value below 10 may be nearest to the 1 of the next decade.
        return Enumerable
            .Range(-1, 3)
            .SelectMany(d => Series(series).Select(v => v * Math.Pow(10, decade + d)))
            .MinBy(v => Math.Abs(Math.Log(v / ohms)));
    }

    internal static IEnumerable<double> Series(int series) =>
        series switch
        {
            6 or 12 or 24 => _e24.Where((_, i) => i % (24 / series) == 0),
            48 or 96 => Enumerable
                .Range(0, series)
                .Select(i => Math.Round(Math.Pow(10, (double)i / series), 2, MidpointRounding.AwayFromZero)),
            _ => throw new ArgumentOutOfRangeException(nameof(series)),
        };

    private static string Shown(string text) => text.Length > 20 ? $"{text[..20]}…" : text;
}
