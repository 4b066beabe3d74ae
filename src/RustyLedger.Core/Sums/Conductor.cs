using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Sums;

/// <summary>A copper wire of some thickness.</summary>
/// <param name="Name">As it is called, such as <c>1.5 mm²</c> or <c>AWG 14</c>.</param>
/// <param name="OhmsPerKm">Of one conductor, at 20 °C.</param>
/// <param name="Source">Where the figure is from.</param>
public sealed partial record Conductor(string Name, double OhmsPerKm, string Source)
{
    // Per kelvin, annealed copper at 20 °C (IEC 60028).
    private const double Copper = 0.00393;

    // Ohm square millimetres per metre: 1/58, annealed copper at 20 °C (IEC 60028).
    private const double Resistivity = 1 / 58.0;

    // IEC 60228, table 3, class 5 (flexible), plain copper, most at 20 °C, in ohms per kilometre; from memory of the table.
    private static readonly (double Mm2, double Ohms)[] _flexible =
    [
        (0.5, 39.0),
        (0.75, 26.0),
        (1, 19.5),
        (1.5, 13.3),
        (2.5, 7.98),
        (4, 4.95),
        (6, 3.30),
        (10, 1.91),
        (16, 1.21),
        (25, 0.780),
        (35, 0.554),
        (50, 0.386),
        (70, 0.272),
        (95, 0.206),
        (120, 0.161),
    ];

    /// <summary>Reads <c>1.5 mm²</c>, <c>2,5</c>, <c>AWG 14</c>, <c>14 AWG</c>, <c>#10</c>, <c>2/0</c>.</summary>
    /// <exception cref="SumException">No gauge, or one that no wire of a machine has.</exception>
    public static Conductor Read(string field, string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (Awg().Match(text.Trim()) is { Success: true } awg)
        {
            var zeros = awg.Groups["zeros"];
            var number = zeros.Success ? 1 - Whole(zeros.Value) : Whole(awg.Groups["number"].Value);
            return number is >= -3 and <= 40
                ? OfAwg(number)
                : throw new SumException(field, $"Gauge: there is no AWG {number} here; 4/0 to 40 are taken.");
        }

        if (
            Area().Match(text.Trim()) is { Success: true } area
            && double.Parse(area.Groups[1].Value.Replace(',', '.'), CultureInfo.InvariantCulture) is >= 0.05 and <= 500 and var mm2
        )
        {
            var known = _flexible.FirstOrDefault(f => Math.Abs(f.Mm2 - mm2) < 1e-9);
            var name = string.Create(CultureInfo.InvariantCulture, $"{mm2:0.####} mm²");
            return known.Mm2 > 0
                ? new Conductor(name, known.Ohms, "IEC 60228, flexible copper, the most at 20 °C")
                : new Conductor(name, Resistivity / mm2 * 1000, "area and the resistivity of copper, 1/58 Ω mm²/m at 20 °C");
        }

        throw new SumException(field, $"Gauge: \"{(text.Length > 40 ? text[..40] : text)}\" is not understood; write 1.5 mm² or AWG 14.");
    }

    /// <summary>By the formula of ASTM B258: d = 0.127 mm × 92^((36 − n) / 39); 2/0 is −1.</summary>
    public static Conductor OfAwg(int number)
    {
        var diameter = 0.127 * Math.Pow(92, (36 - number) / 39.0);
        return new Conductor(
            number > 0 ? $"AWG {number}" : $"AWG {1 - number}/0",
            Resistivity / (Math.PI / 4 * diameter * diameter) * 1000,
            "ASTM B258 diameter, solid copper at 20 °C"
        );
    }

    /// <summary>Ohms of one conductor.</summary>
    /// <param name="metres">From end to end.</param>
    /// <param name="celsius">How warm the copper is.</param>
    public double Ohms(double metres, double celsius) => OhmsPerKm * metres / 1000 * (1 + (Copper * (celsius - 20)));

    /// <summary>What a copper winding that reads so much now would read at 20 °C.</summary>
    public static double At20(double ohms, double celsius) => ohms / (1 + (Copper * (celsius - 20)));

    private static int Whole(string digits) => int.Parse(digits, CultureInfo.InvariantCulture);

    [GeneratedRegex(
        @"^(?:(?:AWG|#)\s*(?:(?<zeros>[1-4])/0|(?<number>\d{1,2}))|(?<zeros>[1-4])/0(?:\s*AWG)?|(?<number>\d{1,2})\s*AWG)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Awg();

    [GeneratedRegex(@"^(\d{1,4}(?:[.,]\d{1,4})?)\s*(?:mm2|mm²|mm\^2|sqmm|qmm)?$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Area();
}
