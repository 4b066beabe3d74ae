using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class ActPlannerTests
{
    private const double NoWay = 1e6;

    private static double NoChange(int from, int to) => 0;

    /// <summary>
    /// With one fault and independent checks, descending probability over cost is the best order (Heckerman, Breese and Rommelse, 1995,
    /// section 3, and the exchange argument there): held against every order there is.
    /// </summary>
    [Fact]
    public void One_fault_and_independent_cures_go_by_probability_over_cost()
    {
        var chance = new Random(1);
        for (var round = 0; round < 200; round++)
        {
            var shares = Shares(chance, 5);
            var cures = Enumerable.Range(0, 5).Select(_ => 1.0 + chance.Next(30)).ToArray();
            var problem = new PlannedProblem(shares, cures, 0, [], NoChange, NoWay);
            var first = ActPlanner.Rank(problem, 0, 1)[0];
            Assert.Equal(PlannedKind.Cure, first.Kind);
            Assert.Equal(Enumerable.Range(0, 5).MaxBy(h => shares[h] / cures[h]), first.Index);
            Assert.Equal(Orders([0, 1, 2, 3, 4]).Min(o => InOrder(o, shares, cures)), first.Minutes, 9);
        }
    }

    private static double InOrder(int[] order, double[] shares, double[] cures)
    {
        var (sum, left) = (0.0, 1.0);
        foreach (var h in order)
        {
            sum += left * cures[h];
            left -= shares[h];
        }

        return sum;
    }

    private static IEnumerable<int[]> Orders(int[] of) =>
        of.Length <= 1 ? [of] : of.SelectMany(x => Orders([.. of.Where(y => y != x)]).Select(rest => (int[])[x, .. rest]));

    /// <summary>
    /// One fault among n places in a row, equal costs, exact readings: no more than the logarithm, rounded up; the information bound.
    /// </summary>
    [Theory]
    [InlineData(2)]
    [InlineData(7)]
    [InlineData(8)]
    [InlineData(13)]
    [InlineData(16)]
    public void A_row_of_places_is_halved(int places)
    {
        // A test at k shows good where the fault lies behind it.
        var tests = Enumerable
            .Range(1, places - 1)
            .Select(k => new PlannedTest(
                1,
                0,
                [
                    [.. Enumerable.Range(0, places).Select(h => h < k ? 0.0 : 1)],
                    [.. Enumerable.Range(0, places).Select(h => h < k ? 1.0 : 0)],
                ]
            ))
            .ToList();
        for (var fault = 0; fault < places; fault++)
        {
            var shares = Enumerable.Repeat(1.0 / places, places).ToArray();
            var done = new HashSet<int>();
            while (shares.Max() < 1)
            {
                var next = ActPlanner.Rank(
                    new PlannedProblem(shares, [.. shares.Select(_ => 60.0)], 0, tests, NoChange, NoWay),
                    0,
                    2,
                    done
                )[0];
                Assert.Equal(PlannedKind.Test, next.Kind);
                done.Add(next.Index);
                shares = After(shares, tests[next.Index].Chance.Single(c => c[fault] == 1));
            }

            Assert.InRange(done.Count, 1, (int)Math.Ceiling(Math.Log2(places)));
        }
    }

    /// <summary>
    /// A thousand stated cases, small enough to be worked out in every way there is: the plan costs what the best costs, or little more.
    /// </summary>
    [Fact]
    public void Small_cases_cost_little_more_than_the_best_there_is()
    {
        var chance = new Random(20);
        List<double> ratios = [];
        for (var round = 0; round < 1000; round++)
        {
            var problem = Case(chance);
            var best = new Exhaustive(problem).Best(problem.Shares, 0, 0);
            var planned = new Exhaustive(problem).Following(problem.Shares, 0, 0);
            ratios.Add(planned / best);
        }

        Assert.All(ratios, r => Assert.InRange(r, 1 - 1e-9, 1.25));
        Assert.InRange(ratios.Average(), 1, 1.05);
        // That there is something to plan: the order without a look ahead costs more.
        Assert.Contains(ratios, r => r > 1 + 1e-6);
    }

    [Fact]
    public void Leaving_is_said_where_it_costs_less()
    {
        var problem = new PlannedProblem([0.5, 0.5], [200, 200], 0, [], NoChange, 120);
        Assert.Equal(new PlannedAct(PlannedKind.Leave, 0, 120), ActPlanner.Rank(problem, 0, 2)[0]);
    }

    [Fact]
    public void A_cheap_part_in_the_van_is_fitted_before_a_dear_test()
    {
        PlannedTest exact = new(
            12,
            0,
            [
                [1, 0],
                [0, 1],
            ]
        );
        var problem = new PlannedProblem([0.8, 0.2], [3, 40], 0, [exact], NoChange, NoWay);
        Assert.Equal((PlannedKind.Cure, 0), (ActPlanner.Rank(problem, 0, 3)[0].Kind, ActPlanner.Rank(problem, 0, 3)[0].Index));
        var dear = problem with { Cures = [90, 90] };
        Assert.Equal(PlannedKind.Test, ActPlanner.Rank(dear, 0, 3)[0].Kind);
    }

    private static double[] Shares(Random chance, int count)
    {
        var odds = Enumerable.Range(0, count).Select(_ => 0.05 + chance.NextDouble()).ToArray();
        return Array.ConvertAll(odds, o => o / odds.Sum());
    }

    private static double[] After(double[] shares, double[] chance)
    {
        var after = shares.Zip(chance, (s, c) => s * c).ToArray();
        return Array.ConvertAll(after, a => a / after.Sum());
    }

    /// <summary>Four hypotheses, four imperfect tests, two set-ups with a price between them.</summary>
    private static PlannedProblem Case(Random chance)
    {
        var tests = Enumerable
            .Range(0, 4)
            .Select(_ =>
            {
                var shows = Enumerable
                    .Range(0, 4)
                    .Select(_ => chance.Next(2) == 0 ? 0.02 + (0.13 * chance.NextDouble()) : 0.85 + (0.13 * chance.NextDouble()))
                    .ToArray();
                return new PlannedTest(1 + chance.Next(8), chance.Next(2), [shows, Array.ConvertAll(shows, s => 1 - s)]);
            })
            .ToList();
        var between = 1 + chance.Next(6);
        return new PlannedProblem(
            Shares(chance, 4),
            [.. Enumerable.Range(0, 4).Select(_ => 5.0 + chance.Next(60))],
            1,
            tests,
            (a, b) => a == b ? 0 : between,
            150
        );
    }

    /// <summary>Every policy there is, by what was done and shown so far.</summary>
    private sealed class Exhaustive(PlannedProblem problem)
    {
        private readonly Dictionary<(int, int, int), double> _best = [];
        private readonly Dictionary<(int, int, int), double> _following = [];

        public double Best(double[] shares, int setUp, int shown)
        {
            var cured = Cured(shares);
            if (cured == 15)
            {
                return 0;
            }

            if (_best.TryGetValue((cured, setUp, shown), out var known))
            {
                return known;
            }

            var best = problem.Leave;
            for (var h = 0; h < 4; h++)
            {
                if (shares[h] > 0)
                {
                    best = Math.Min(best, Cure(shares, setUp, h, s => Best(s, problem.CureSetUp, shown)));
                }
            }

            for (var t = 0; t < 4; t++)
            {
                if (shown / (int)Math.Pow(3, t) % 3 == 0)
                {
                    best = Math.Min(best, Test(shares, setUp, t, shown, Best));
                }
            }

            return _best[(cured, setUp, shown)] = best;
        }

        /// <summary>What the planner's acts cost, each time asked anew.</summary>
        public double Following(double[] shares, int setUp, int shown)
        {
            var cured = Cured(shares);
            if (cured == 15)
            {
                return 0;
            }

            if (_following.TryGetValue((cured, setUp, shown), out var known))
            {
                return known;
            }

            var done = Enumerable.Range(0, 4).Where(t => shown / (int)Math.Pow(3, t) % 3 != 0).ToHashSet();
            var next = ActPlanner.Rank(problem with { Shares = shares }, setUp, 3, done)[0];
            return _following[(cured, setUp, shown)] = next.Kind switch
            {
                PlannedKind.Leave => problem.Leave,
                PlannedKind.Cure => Cure(shares, setUp, next.Index, s => Following(s, problem.CureSetUp, shown)),
                _ => Test(shares, setUp, next.Index, shown, Following),
            };
        }

        private static int Cured(double[] shares) => Enumerable.Range(0, 4).Sum(h => shares[h] == 0 ? 1 << h : 0);

        private double Cure(double[] shares, int setUp, int h, Func<double[], double> ahead)
        {
            var left = 1 - shares[h];
            var minutes = problem.Changes(setUp, problem.CureSetUp) + problem.Cures[h];
            return shares.Count(s => s > 0) == 1 ? minutes : minutes + (left * ahead([.. shares.Select((s, i) => i == h ? 0 : s / left)]));
        }

        private double Test(double[] shares, int setUp, int t, int shown, Func<double[], int, int, double> ahead)
        {
            var test = problem.Tests[t];
            var minutes = problem.Changes(setUp, test.SetUp) + test.Minutes;
            for (var o = 0; o < 2; o++)
            {
                var sum = shares.Zip(test.Chance[o], (s, c) => s * c).Sum();
                minutes += sum * ahead(After(shares, test.Chance[o]), test.SetUp, shown + ((o + 1) * (int)Math.Pow(3, t)));
            }

            return minutes;
        }
    }
}
