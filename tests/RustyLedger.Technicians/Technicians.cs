using System.Globalization;
using System.Text;

namespace RustyLedger.Technicians;

/// <summary>Many simulated visits, and what they come to.</summary>
public static class Technicians
{
    /// <summary>The sample machines that a true machine is made of.</summary>
    public static IReadOnlyList<string> Machines { get; } = ["ly-01", "ly-03", "ly-04", "ly-07", "ly-10"];

    /// <summary>One seed in five is never used for tuning.</summary>
    public static bool IsHeldOut(int seed) => seed % 5 == 4;

    /// <summary>A share with its 95 % interval (Wilson, Journal of the American Statistical Association, 1927).</summary>
    public static (double Share, double Low, double High) Interval(int of, int all)
    {
        if (all == 0)
        {
            return (0, 0, 1);
        }

        const double Z = 1.96;
        var p = (double)of / all;
        var middle = (p + (Z * Z / (2 * all))) / (1 + (Z * Z / all));
        var half = Z / (1 + (Z * Z / all)) * Math.Sqrt((p * (1 - p) / all) + (Z * Z / (4.0 * all * all)));
        return (p, Math.Max(0, middle - half), Math.Min(1, middle + half));
    }

    private static string Percent(int of, int all)
    {
        var (share, low, high) = Interval(of, all);
        return all == 0 ? "-" : string.Create(CultureInfo.InvariantCulture, $"{100 * share:0} % ({100 * low:0} to {100 * high:0})");
    }

    /// <summary>A line of a table in Markdown.</summary>
    public static string Line(string name, IReadOnlyList<SimulatedVisit> visits)
    {
        ArgumentNullException.ThrowIfNull(visits);
        if (visits.Count == 0)
        {
            return $"| {name} | 0 | | | | | | |";
        }

        var (right, wrong) = (visits.Count(v => v.IsRight), visits.Count(v => v.IsWrong));
        var proved = visits.Count(v => v.Proved.Count > 0);
        var half = proved - right - wrong;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"| {name} | {visits.Count} | {Percent(proved, visits.Count)} | {Percent(right, proved)} | {Percent(wrong, visits.Count)} "
                + $"| {half} | {visits.Average(v => v.Minutes):0.0} | {visits.Average(v => v.Acts):0.0} |"
        );
    }

    public const string Head = """
        | | visits | proved | right among proved | wrong proofs of all | half | minutes | acts |
        |-|-|-|-|-|-|-|-|
        """;

    /// <summary>
    /// How often a suspect of a stated share was the truth, by tenths, and the mean logarithm of the truth's share in the end.
    /// </summary>
    public static string Calibration(IReadOnlyList<SimulatedVisit> visits)
    {
        ArgumentNullException.ThrowIfNull(visits);
        var text = new StringBuilder("| share said | times | was so |\n|-|-|-|\n");
        foreach (var bin in visits.SelectMany(v => v.Said).GroupBy(s => Math.Min(9, (int)(10 * s.Share))).OrderBy(b => b.Key))
        {
            text.Append(
                CultureInfo.InvariantCulture,
                $"| {10 * bin.Key} to {10 * (bin.Key + 1)} % | {bin.Count()} | {100.0 * bin.Count(s => s.IsTrue) / bin.Count():0} % |\n"
            );
        }

        var score = visits.Average(v => Math.Log(Math.Max(1e-4, v.Share)));
        return text.Append(CultureInfo.InvariantCulture, $"\nLog score: {score:0.00} a visit.\n").ToString();
    }
}
