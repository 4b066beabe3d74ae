using System.Diagnostics;
using System.Globalization;

namespace RustyLedger.Worlds;

/// <summary>A machine that has no rest to be measured in, or none that ngspice finds.</summary>
public sealed class NoPointException(string message) : Exception(message);

/// <summary>Asks ngspice, which has no part in the product.</summary>
internal static class Ngspice
{
    private const string Models = """
        .model silicon d (is=4e-9 n=1.75 rs=0.03)
        .model led d (is=1e-18 n=2.05 rs=2)
        .options reltol=1e-5 gmin=1e-13 itl1=1000
        """;

    /// <param name="net">The lines of the circuit.</param>
    /// <param name="names">What the nodes are called, by their names in the lines.</param>
    /// <returns>Volts against node 0, by what the nodes are called; that one itself at 0.</returns>
    /// <exception cref="NoPointException">It found no operating point.</exception>
    public static Dictionary<string, double> OperatingPoint(string net, IReadOnlyDictionary<string, string> names)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, $"world\n{net}{Models}\n.control\nset numdgt=9\nop\nprint all\nquit\n.endc\n.end\n");
            using var ngspice = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", "-n", file]) { RedirectStandardOutput = true, RedirectStandardError = true }
            )!;
            var errors = ngspice.StandardError.ReadToEndAsync();
            var volts = new Dictionary<string, double>();
            while (ngspice.StandardOutput.ReadLine() is { } line)
            {
                if (
                    line.Split(" = ") is [var name, var value]
                    && names.TryGetValue(name.Trim(), out var node)
                    && double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var found)
                )
                {
                    volts[node] = found;
                }
            }

            ngspice.WaitForExit();
            volts[names["0"]] = 0;
            return volts.Count > 1 ? volts : throw new NoPointException($"ngspice found no operating point: {errors.Result}\n{net}");
        }
        finally
        {
            File.Delete(file);
        }
    }
}
