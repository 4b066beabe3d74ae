using System.Numerics;

namespace RustyLedger.Core.Visits;

/// <summary>
/// The order of checks with the least expected minutes until the fault is found, some of them only after others. With one
/// fault and independent checks, descending chance over cost is best (Heckerman, Breese and Rommelse, "Decision-theoretic
/// troubleshooting", 1995); with orders to keep it is the scheduling problem 1|prec|Σ w C, which is hard, so it is searched
/// whole up to <see cref="MostExact"/> checks and by closures of best ratio (after Sidney, 1975, from memory) beyond.
/// </summary>
public static class OutsideOrder
{
    public const int MostExact = 15;

    /// <summary>Σ over the checks of minutes times the chance that none before it was the fault.</summary>
    public static double ExpectedMinutes(IReadOnlyList<LearntCheck> order)
    {
        ArgumentNullException.ThrowIfNull(order);
        var (left, minutes) = (1.0, 0.0);
        foreach (var check in order)
        {
            minutes += check.Minutes * left;
            left -= check.Chance;
        }

        return minutes;
    }

    /// <exception cref="ArgumentException">Checks that each want to come after another.</exception>
    public static IReadOnlyList<LearntCheck> Of(IReadOnlyList<LearntCheck> checks)
    {
        ArgumentNullException.ThrowIfNull(checks);
        if (HasLoop(checks.Select(c => c.Check)))
        {
            throw new ArgumentException("Two checks each want to come after the other.", nameof(checks));
        }

        return checks.Count <= MostExact ? Exact(checks) : Near(checks);
    }

    public static bool HasLoop(IEnumerable<OutsideCheck> checks)
    {
        ArgumentNullException.ThrowIfNull(checks);
        var open = checks.ToList();
        while (open.RemoveAll(c => !c.After.Any(a => open.Exists(o => o.Id == a))) > 0) { }

        return open.Count > 0;
    }

    /// <summary>Dynamic programming over sets: the cheapest way to have done a set does not depend on what follows. O(2^n n).</summary>
    public static IReadOnlyList<LearntCheck> Exact(IReadOnlyList<LearntCheck> checks)
    {
        ArgumentNullException.ThrowIfNull(checks);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(checks.Count, 20);
        var n = checks.Count;
        var before = Before(checks);
        var best = new double[1 << n];
        var last = new sbyte[1 << n];
        var left = new double[1 << n];
        left[0] = 1;
        for (var set = 1; set < 1 << n; set++)
        {
            var low = BitOperations.TrailingZeroCount(set);
            left[set] = left[set & (set - 1)] - checks[low].Chance;
            best[set] = double.PositiveInfinity;
            for (var bits = set; bits != 0; bits &= bits - 1)
            {
                var i = BitOperations.TrailingZeroCount(bits);
                var rest = set & ~(1 << i);
                if ((before[i] & ~rest) == 0 && best[rest] + (checks[i].Minutes * left[rest]) is var cost && cost < best[set])
                {
                    (best[set], last[set]) = (cost, (sbyte)i);
                }
            }
        }

        var order = new LearntCheck[n];
        for (var (set, at) = ((1 << n) - 1, n - 1); set != 0; set &= ~(1 << last[set]), at--)
        {
            order[at] = checks[last[set]];
        }

        return order;
    }

    /// <summary>
    /// Takes again and again the check whose chance over cost, together with all that must still come before it, is best.
    /// </summary>
    public static IReadOnlyList<LearntCheck> Near(IReadOnlyList<LearntCheck> checks)
    {
        ArgumentNullException.ThrowIfNull(checks);
        var order = new List<LearntCheck>();
        var open = checks.ToDictionary(c => c.Check.Id);
        while (open.Count > 0)
        {
            var closure = open.Values.Select(c => Closure(c, open)).MaxBy(set => set.Sum(c => c.Chance) / set.Sum(c => c.Minutes))!;
            // Within the closure the same again, on its own.
            var next = closure.Where(c => !c.Check.After.Any(open.ContainsKey)).MaxBy(c => c.Chance / c.Minutes)!;
            order.Add(next);
            open.Remove(next.Check.Id);
        }

        return order;
    }

    private static List<LearntCheck> Closure(LearntCheck check, Dictionary<string, LearntCheck> open)
    {
        var closure = new List<LearntCheck> { check };
        for (var i = 0; i < closure.Count; i++)
        {
            closure.AddRange(closure[i].Check.After.Where(open.ContainsKey).Select(a => open[a]).Where(c => !closure.Contains(c)).ToList());
        }

        return closure;
    }

    private static int[] Before(IReadOnlyList<LearntCheck> checks)
    {
        var at = checks.Select((c, i) => (c.Check.Id, i)).ToDictionary(x => x.Id, x => x.i);
        return [.. checks.Select(c => c.Check.After.Where(at.ContainsKey).Aggregate(0, (mask, a) => mask | (1 << at[a])))];
    }
}
