using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Sums;

/// <summary>A sum cannot be worked out: which field is wrong, and what about it.</summary>
/// <param name="name">Of the field.</param>
public sealed class SumException(string name, string words) : FormatException(words)
{
    public string Name => name;
}

/// <summary>Numbers with units as people write them, and as a meter would show them.</summary>
public static partial class Quantity
{
    private static readonly Dictionary<char, double> _prefixes = new()
    {
        ['p'] = 1e-12,
        ['n'] = 1e-9,
        ['µ'] = 1e-6,
        ['u'] = 1e-6,
        ['m'] = 1e-3,
        ['k'] = 1e3,
        ['K'] = 1e3,
        ['M'] = 1e6,
    };

    // What else a unit is called.
    private static readonly Dictionary<string, string[]> _words = new()
    {
        ["Ω"] = ["ohm", "ohms", "R"],
        ["V"] = ["volt", "volts", "VDC", "VAC"],
        ["A"] = ["amp", "amps"],
        ["s"] = ["sec", "seconds"],
        ["W"] = ["watt", "watts", "VA"],
        ["°C"] = ["C", "degC"],
        ["m"] = ["metre", "metres", "meter", "meters"],
        ["rpm"] = ["1/min", "/min"],
        ["F"] = ["farad"],
    };

    /// <summary>Reads <c>24</c>, <c>24,5 V</c>, <c>1k2</c>, <c>4.7 k</c>, <c>100 µF</c>, <c>250 mA</c>, <c>12 ft</c>.</summary>
    /// <param name="unit">The SI symbol it is to be in; empty for a bare number.</param>
    /// <returns>In the unit without a prefix.</returns>
    /// <exception cref="SumException">Not a number, or in another unit.</exception>
    public static double Read(string field, string label, string text, string unit)
    {
        ArgumentNullException.ThrowIfNull(text);
        var plain = text.Trim().Replace('\u2126', 'Ω').Replace('\u03bc', 'µ').Replace('\u2212', '-').Replace('\u00a0', ' ');
        if (Coded().Match(plain) is { Success: true } coded && unit is "Ω" or "F" or "V")
        {
            var scale = coded.Groups[2].Value is "R" or "V" ? 1 : _prefixes[coded.Groups[2].Value[0]];
            return Finite(Number($"{coded.Groups[1].Value}.{coded.Groups[3].Value}") * scale);
        }

        var match = Plain().Match(plain);
        if (!match.Success)
        {
            throw Refused();
        }

        var number = Number(match.Groups[1].Value.Replace(',', '.'));
        var said = match.Groups[2].Value.Trim();
        return Finite(number * (Scale(said, unit) ?? throw Refused()));

        SumException Refused() =>
            new(
                field,
                $"{label}: \"{Shown(text)}\" is not understood; write a number{(unit.Length > 0 ? $" in {unit}, or with its unit" : "")}."
            );

        double Finite(double value) => Math.Abs(value) < 1e15 ? value : throw Refused();
    }

    /// <summary>Three significant digits with the prefix that suits, such as <c>1.23 kΩ</c>.</summary>
    public static string Write(double value, string unit)
    {
        if (unit is "Ω" or "V" or "A" or "W" or "F" or "s" or "Hz" && value != 0)
        {
            foreach (
                var (from, prefix) in (ReadOnlySpan<(double, string)>)
                    [(1e6, "M"), (1e3, "k"), (1, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n"), (1e-12, "p")]
            )
            {
                // 999.6 is shown as 1 k, not as 1000; a meter shows 0.45 V and not 450 mV.
                if (from == 1 && unit == "V" && Math.Abs(value) >= 0.1)
                {
                    return $"{Digits(value)} V";
                }

                if (Math.Abs(value) >= from * 0.9995 || from == 1e-12)
                {
                    return unit == "s" && from > 1 ? $"{Digits(value)} s" : $"{Digits(value / from)} {prefix}{unit}";
                }
            }
        }

        return unit.Length > 0 ? $"{Digits(value)} {unit}" : Digits(value);
    }

    /// <summary>Rounded to three significant digits, or to a whole number where it has more.</summary>
    private static string Digits(double value)
    {
        if (value == 0)
        {
            return "0";
        }

        var decimals = Math.Clamp(2 - (int)Math.Floor(Math.Log10(Math.Abs(value))), 0, 12);
        return Math.Round(value, decimals, MidpointRounding.AwayFromZero).ToString("0.############", CultureInfo.InvariantCulture);
    }

    private static double? Scale(string said, string unit)
    {
        if (said.Length == 0 || Is(said, unit))
        {
            return 1;
        }

        // The foot is 0.3048 m exactly (international yard and pound agreement, 1959).
        if (unit == "m" && said is "ft" or "feet" or "foot" or "'")
        {
            return 0.3048;
        }

        if (unit == "m" && said is "cm")
        {
            return 0.01;
        }

        if (unit == "s" && said is "min" or "h")
        {
            return said == "h" ? 3600 : 60;
        }

        return
            _prefixes.TryGetValue(said[0], out var scale)
            && unit is not ("°C" or "rpm" or "%" or "")
            && (said.Length == 1 ? unit != "m" : Is(said[1..], unit))
            ? scale
            : null;
    }

    private static bool Is(string said, string unit) =>
        said.Equals(unit, StringComparison.OrdinalIgnoreCase)
        || (_words.TryGetValue(unit, out var words) && words.Contains(said, StringComparer.OrdinalIgnoreCase));

    private static double Number(string text) => double.Parse(text, NumberStyles.Float, CultureInfo.InvariantCulture);

    private static string Shown(string text) => text.Length > 40 ? $"{text[..40]}…" : text;

    [GeneratedRegex(@"^([+-]?\d{1,15}(?:[.,]\d{1,15})?)\s*(\D{0,12})$", RegexOptions.CultureInvariant)]
    private static partial Regex Plain();

    // Letter codes of IEC 60062: the letter stands where the point would.
    [GeneratedRegex(@"^(\d{1,6})([RVKkMmµunp])(\d{1,3})\s*[ΩFV]?$", RegexOptions.CultureInvariant)]
    private static partial Regex Coded();
}
