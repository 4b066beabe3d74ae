using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Machines;

/// <summary>One supply out of a plate's text.</summary>
/// <param name="Volts">As printed; the lower end of a range such as 220-240 V.</param>
/// <param name="VoltsTo">The upper end; the same as <paramref name="Volts"/> where one value is printed.</param>
/// <param name="Phases">1 or 3; null where the plate does not say, or for DC.</param>
public sealed partial record PlateSupply(decimal Volts, decimal VoltsTo, int? Phases)
{
    /// <summary>
    /// All supplies that a plate names, such as <c>230 V 1~, 24 V DC</c>, <c>3/N~ 400 V</c>, <c>115/230 V</c> or <c>100…240 V</c>.
    /// </summary>
    public static IReadOnlyList<PlateSupply> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var supplies = new List<PlateSupply>();
        foreach (var part in text.Split([',', ';'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var (volts, phase) = (Voltage().Match(part), Phase().Match(part));
            int? phases = phase.Success ? phase.Value[0] - '0' : null;
            if (volts.Success)
            {
                var from = decimal.Parse(volts.Groups["from"].Value, CultureInfo.InvariantCulture);
                var to = volts.Groups["to"].Success ? decimal.Parse(volts.Groups["to"].Value, CultureInfo.InvariantCulture) : from;
                // 115/230 V and 400/230 V are settled by how it is wired, not by the first or the last number.
                supplies.Add(new PlateSupply(Math.Min(from, to), Math.Max(from, to), phases));
            }
            else if (supplies is [.., { Phases: null } last])
            {
                // "220-240 V, 1-phase": the phases stand apart from their volts.
                supplies[^1] = last with
                {
                    Phases = phases,
                };
            }
        }

        return supplies;
    }

    [GeneratedRegex(
        @"(?<from>\d+(?:\.\d+)?)(?:\s*V?\s*(?:-|–|—|−|/|to|\.{2,3}|…|÷|or)\s*(?<to>\d+(?:\.\d+)?))?\s*V",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Voltage();

    [GeneratedRegex(@"[13](?=\s*(?:/\s*N\s*(?:/\s*PE\s*)?)?(?:~|ph|-?\s*phase))", RegexOptions.IgnoreCase)]
    private static partial Regex Phase();
}
