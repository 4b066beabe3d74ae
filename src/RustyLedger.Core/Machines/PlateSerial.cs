using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Machines;

/// <summary>Why a serial number as read may not be the one on the plate.</summary>
/// <param name="Doubt">What is odd about it.</param>
/// <param name="MayMean">What may stand on the plate instead, in words.</param>
public sealed record PlateDoubt(string Doubt, IReadOnlyList<string> MayMean);

/// <summary>Looks at a serial number as it was read. It is kept as read whatever comes out.</summary>
public static partial class PlateSerial
{
    /// <returns>Null where nothing is odd.</returns>
    public static PlateDoubt? Doubt(string serial)
    {
        ArgumentNullException.ThrowIfNull(serial);
        var text = serial.Trim();
        if (Spoilt().Match(text) is { Success: true } spoilt)
        {
            return Scientific(spoilt);
        }

        var worn = text.Count(c => c == FindText.Unknown);
        return worn == 0
            ? null
            : new PlateDoubt(
                worn == 1 ? "One sign could not be read." : $"{worn} signs could not be read.",
                ["find answers with any sign in the place of each ?"]
            );
    }

    /// <summary>A spreadsheet turned digits into a number and shows it shortened: what it can have been.</summary>
    private static PlateDoubt Scientific(Match spoilt)
    {
        var digits = spoilt.Groups["whole"].Value + spoilt.Groups["part"].Value;
        var exponent = int.Parse(spoilt.Groups["exponent"].Value, CultureInfo.InvariantCulture);
        var kept = spoilt.Groups["part"].Value.Length;
        var may = new List<string>();
        if (exponent is >= 0 and < 28 && exponent >= kept)
        {
            var shown = decimal.Parse(digits, CultureInfo.InvariantCulture) * Power(exponent - kept);
            var half = Power(exponent - kept) / 2;
            may.Add(
                half < 1
                    ? $"the number {shown.ToString("0", CultureInfo.InvariantCulture)}"
                    : $"a number from {(shown - half).ToString("0", CultureInfo.InvariantCulture)} to "
                        + $"{(shown + half - 1).ToString("0", CultureInfo.InvariantCulture)}"
            );
            may.Add($"digits that begin {digits} with an E among them, such as {digits}E{exponent - kept}");
        }

        may.Add("zeros in front that were dropped");
        return new PlateDoubt("Looks like a serial that a spreadsheet took for a number; read the plate again.", may);
    }

    private static decimal Power(int exponent)
    {
        var power = 1m;
        for (var i = 0; i < exponent; i++)
        {
            power *= 10;
        }

        return power;
    }

    // Spreadsheets write a sign behind the E; a plate does not.
    [GeneratedRegex(@"^(?<whole>\d)(?:[.,](?<part>\d+))?E(?<exponent>[+-]\d{1,2})$", RegexOptions.IgnoreCase)]
    private static partial Regex Spoilt();
}
