using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>A reading of a round that is worth taking, in its turn.</summary>
/// <param name="Minutes">What must be changed for it counted, after the one before.</param>
/// <param name="Bits">What it tells on average beside those before it.</param>
public sealed record PlannedReading(Act Act, double Minutes, double Bits);

/// <summary>
/// Readings to be taken in one go: each the one that tells most for its minutes beside those before it, whatever these show. What is read
/// under the same isolation comes together, since only the first pays for it.
/// </summary>
internal static class ReadingPlan
{
    private const int Most = 8;
    private const int MostWeighed = 60;

    // Less is no reason to walk to a pin; and so little a chance is not followed further.
    private const double LeastBits = 0.03;
    private const int MostBranches = 64;
    private const double LeastMinutes = 0.3;

    /// <param name="readings">Each with the chance of its outcomes under each hypothesis.</param>
    /// <param name="shares">Of the hypotheses; they sum to 1.</param>
    /// <param name="now">How things stand; null where nothing was done yet.</param>
    /// <returns>Fewer than two are no round: none.</returns>
    public static IReadOnlyList<PlannedReading> Of(
        IEnumerable<(Act Act, IReadOnlyList<double[]> Chance)> readings,
        double[] shares,
        SetUp? now,
        Func<Act, double> own,
        Func<SetUp?, SetUp?, double> change
    )
    {
        var open = readings.OrderByDescending(r => Tells(r.Chance, shares)).Take(MostWeighed).ToList();
        List<PlannedReading> plan = [];
        List<(double Chance, double[] Shares)> branches = [(1, shares)];
        var at = now;
        while (plan.Count < Most && open.Count > 0)
        {
            var (best, bits, minutes) = open.ConvertAll(r =>
                    (
                        Reading: r,
                        Bits: branches.Sum(b => b.Chance * Tells(r.Chance, b.Shares)),
                        Minutes: own(r.Act) + change(at, r.Act.SetUp)
                    )
                )
                .MaxBy(r => r.Bits / (r.Minutes + LeastMinutes));
            if (bits < LeastBits)
            {
                break;
            }

            plan.Add(new PlannedReading(best.Act, minutes, bits));
            open.Remove(best);
            branches = Parted(branches, best.Chance);
            at = best.Act.SetUp ?? at;
        }

        return plan.Count > 1 ? plan : [];
    }

    /// <summary>What each outcome leaves; of too many, the likeliest.</summary>
    private static List<(double Chance, double[] Shares)> Parted(
        List<(double Chance, double[] Shares)> branches,
        IReadOnlyList<double[]> chance
    )
    {
        List<(double Chance, double[] Shares)> parted =
        [
            .. branches
                .SelectMany(b =>
                    chance.Select(c =>
                    {
                        var weights = b.Shares.Zip(c, (s, p) => s * p).ToArray();
                        var sum = weights.Sum();
                        return (Chance: b.Chance * sum, Shares: Array.ConvertAll(weights, w => sum > 0 ? w / sum : 0));
                    })
                )
                .OrderByDescending(b => b.Chance)
                .Take(MostBranches),
        ];
        var kept = parted.Sum(b => b.Chance);
        return parted.ConvertAll(b => (b.Chance / kept, b.Shares));
    }

    /// <summary>Bits that an act tells on average: the mutual information of its outcome and who it is.</summary>
    public static double Tells(IReadOnlyList<double[]> chance, double[] shares)
    {
        var bits = 0.0;
        foreach (var c in chance)
        {
            var sum = 0.0;
            for (var h = 0; h < shares.Length; h++)
            {
                sum += shares[h] * c[h];
            }

            for (var h = 0; h < shares.Length; h++)
            {
                bits += shares[h] * c[h] > 0 ? shares[h] * c[h] * Math.Log2(c[h] / sum) : 0;
            }
        }

        return bits;
    }
}
