using System.Globalization;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Circuits;

/// <summary>The volts of every node as RFC 4180 rows, with the names as given.</summary>
public static class PointTable
{
    /// <param name="point">Has an operating point.</param>
    public static string Csv(OperatingPoint point)
    {
        ArgumentNullException.ThrowIfNull(point);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = Rfc4180.Writer(text))
        {
            csv.WriteRow("node", "volts");
            foreach (var node in point.Circuit.Nodes)
            {
                csv.WriteRow(
                    Rfc4180.AsText(node),
                    point.Volts(node) is { } volts ? volts.ToString("G9", CultureInfo.InvariantCulture) : "floats"
                );
            }
        }

        return text.ToString();
    }
}
