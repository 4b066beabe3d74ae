namespace RustyLedger.Core.Diagnosis;

/// <summary>A test among several, of which each may show one of a few outcomes.</summary>
/// <param name="Minutes">Without what it takes to come to its set-up.</param>
/// <param name="SetUp">Index of the set-up it needs.</param>
/// <param name="Chance">Per outcome and hypothesis; over the outcomes they sum to 1.</param>
public sealed record PlannedTest(double Minutes, int SetUp, IReadOnlyList<double[]> Chance);

/// <summary>What is to be decided: which of several hypotheses is the case, what curing each costs, and which tests there are.</summary>
/// <param name="Shares">Of the hypotheses; they sum to 1.</param>
/// <param name="Cures">Minutes that the cure of each takes, parts counted as minutes; a cure that was not it was for nothing.</param>
/// <param name="CureSetUp">Index of the set-up that cures need.</param>
/// <param name="Changes">Minutes from one set-up to another.</param>
/// <param name="Leave">Minutes that it costs to leave it as it is and come again, better prepared.</param>
public sealed record PlannedProblem(
    double[] Shares,
    double[] Cures,
    int CureSetUp,
    IReadOnlyList<PlannedTest> Tests,
    Func<int, int, double> Changes,
    double Leave
);

public enum PlannedKind
{
    Test,
    Cure,
    Leave,
}

/// <summary>An act with what it is expected to cost to the end, itself included.</summary>
/// <param name="Index">Of the test or the hypothesis that is cured; 0 of leaving.</param>
/// <param name="Minutes">Expected, to the end of the visit.</param>
public sealed record PlannedAct(PlannedKind Kind, int Index, double Minutes);

/// <summary>
/// Ranks what to do next by the expected minutes to the end. Behind the acts that are looked ahead stands the order of descending
/// probability over cost, which with one fault and independent checks is the best there is (Heckerman, Breese and Rommelse,
/// "Decision-theoretic troubleshooting", 1995), with leaving where that is cheaper.
/// </summary>
public static class ActPlanner
{
    // Looking further ahead, fewer tests are worth a look.
    private static readonly int[] _widths = [int.MaxValue, 10, 5, 3, 2];

    /// <param name="setUp">Index of the set-up that is so now.</param>
    /// <param name="depth">How many acts are looked ahead, from 1.</param>
    /// <param name="done">Tests that are not there any more.</param>
    /// <returns>The cheapest first.</returns>
    public static IReadOnlyList<PlannedAct> Rank(
        PlannedProblem problem,
        int setUp,
        int depth,
        IReadOnlySet<int>? done = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(problem);
        ArgumentOutOfRangeException.ThrowIfLessThan(depth, 1);
        var used = new bool[problem.Tests.Count];
        foreach (var test in done ?? new HashSet<int>())
        {
            used[test] = true;
        }

        return [.. new Search(problem, used, cancel).Options(problem.Shares, setUp, depth, 0).OrderBy(a => a.Minutes)];
    }

    /// <summary>
    /// Expected minutes of curing one after the other in descending probability over cost, or leaving where that is cheaper.
    /// </summary>
    public static double SequenceMinutes(PlannedProblem problem, double[] shares, int setUp)
    {
        ArgumentNullException.ThrowIfNull(problem);
        ArgumentNullException.ThrowIfNull(shares);
        var order = new int[shares.Length];
        var ratio = new double[shares.Length];
        var count = 0;
        for (var h = 0; h < shares.Length; h++)
        {
            if (shares[h] > 1e-9)
            {
                order[count] = h;
                ratio[count++] = -shares[h] / problem.Cures[h];
            }
        }

        Array.Sort(ratio, order, 0, count);
        // From the last one back: what it costs from there, given that those before were not it.
        var (ahead, left) = (0.0, 0.0);
        for (var k = count - 1; k >= 0; k--)
        {
            var share = shares[order[k]];
            left += share;
            ahead = Math.Min(problem.Leave, problem.Cures[order[k]] + ((1 - (share / left)) * ahead));
        }

        return count == 0 ? 0 : Math.Min(problem.Leave, ahead + (ahead < problem.Leave ? problem.Changes(setUp, problem.CureSetUp) : 0));
    }

    private sealed class Search(PlannedProblem problem, bool[] used, CancellationToken cancel)
    {
        /// <summary>Every act with its expected minutes.</summary>
        public List<PlannedAct> Options(double[] shares, int setUp, int depth, int level)
        {
            cancel.ThrowIfCancellationRequested();
            List<PlannedAct> options = [new PlannedAct(PlannedKind.Leave, 0, problem.Leave)];
            // Of cures only those that come early in the order of probability over cost can be the best first.
            var cures = Enumerable
                .Range(0, shares.Length)
                .Where(h => shares[h] > 1e-6)
                .OrderByDescending(h => shares[h] / problem.Cures[h])
                .Take(level == 0 ? 4 : 1);
            foreach (var cure in cures)
            {
                var rest = (double[])shares.Clone();
                rest[cure] = 0;
                var left = 1 - shares[cure];
                for (var h = 0; h < rest.Length && left > 1e-9; h++)
                {
                    rest[h] /= left;
                }

                options.Add(
                    new PlannedAct(
                        PlannedKind.Cure,
                        cure,
                        problem.Changes(setUp, problem.CureSetUp)
                            + problem.Cures[cure]
                            + (left > 1e-9 ? left * Value(rest, problem.CureSetUp, depth - 1, level + 1) : 0)
                    )
                );
            }

            // One step ahead for all of them, then deeper for the best.
            var near = new List<(int Test, double Minutes)>();
            for (var t = 0; t < problem.Tests.Count; t++)
            {
                if (!used[t] && After(shares, setUp, t, 0, level) is { } minutes)
                {
                    near.Add((t, minutes));
                }
            }

            near.Sort((a, b) => a.Minutes.CompareTo(b.Minutes));
            foreach (var (i, (test, minutes)) in near.Index())
            {
                options.Add(
                    new PlannedAct(
                        PlannedKind.Test,
                        test,
                        depth > 1 && i < Width(level) ? Math.Min(minutes, After(shares, setUp, test, depth - 1, level)!.Value) : minutes
                    )
                );
                if (level > 0 && i >= Width(level))
                {
                    break;
                }
            }

            return options;
        }

        private static int Width(int level) => Math.Min(level == 0 ? 16 : int.MaxValue, _widths[Math.Min(level, _widths.Length - 1)]);

        private double Value(double[] shares, int setUp, int depth, int level) =>
            depth <= 0 ? SequenceMinutes(problem, shares, setUp) : Options(shares, setUp, depth, level).Min(o => o.Minutes);

        /// <returns>Null where the test tells nothing.</returns>
        private double? After(double[] shares, int setUp, int test, int depth, int level)
        {
            var of = problem.Tests[test];
            var minutes = problem.Changes(setUp, of.SetUp) + of.Minutes;
            var tells = false;
            used[test] = true;
            foreach (var chance in of.Chance)
            {
                var sum = 0.0;
                for (var h = 0; h < shares.Length; h++)
                {
                    sum += shares[h] * chance[h];
                }

                if (sum < 1e-6)
                {
                    continue;
                }

                var after = new double[shares.Length];
                for (var h = 0; h < shares.Length; h++)
                {
                    after[h] = shares[h] * chance[h] / sum;
                    tells |= Math.Abs(after[h] - shares[h]) > 1e-4;
                }

                minutes += sum * Value(after, of.SetUp, depth, level + 1);
            }

            used[test] = false;
            return tells ? minutes : null;
        }
    }
}
