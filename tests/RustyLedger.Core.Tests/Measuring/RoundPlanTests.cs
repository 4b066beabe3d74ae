using CsCheck;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>The order of a round. The minutes are common practice, no source.</summary>
public sealed class RoundPlanTests
{
    private static readonly string[] States = ["off", "run"];
    private static readonly string[] Covers = ["", "cover off"];
    private static readonly string[] Commons = ["PS·-", "Z1·1", ""];
    private static readonly MeterMode[] Modes = [MeterMode.DcVolts, MeterMode.Ohms];

    private static readonly RoundCost Cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(Sample.Resolved()));

    private static Gen<List<SetUp>> SetUps(int least, int most) =>
        Gen.Select(
            Gen.Int[0, 1],
            Gen.Int[0, 1],
            Gen.Int[0, 2],
            Gen.Int[0, 1],
            (s, c, k, m) => new SetUp(s == 0, States[s], Covers[c], Commons[k], Modes[m])
        ).List[least, most];

    private static Gen<List<(int First, int Second)>> Pairs(int most) =>
        Gen.Select(Gen.Int[0, most - 1], Gen.Int[0, most - 1], (a, b) => (a, b)).List[0, most / 2];

    /// <summary>
    /// Whatever the rules, each that can be kept is kept, each check stands once, and it never takes longer than the plain order.
    /// </summary>
    [Fact]
    public void Rules_are_never_broken_and_the_plain_order_is_never_better() =>
        Gen.Select(SetUps(1, 40), Pairs(40))
            .Sample(
                (setUps, said) =>
                {
                    // Down the order they never contradict each other.
                    var binding = said.Where(p => p.First < p.Second && p.Second < setUps.Count).ToList();
                    var order = RoundPlan.Of(setUps, binding, Cost);
                    Assert.Equal(Enumerable.Range(0, setUps.Count), order.Order());
                    var place = order.Index().ToDictionary(o => o.Item, o => o.Index);
                    Assert.All(binding, b => Assert.True(place[b.First] < place[b.Second]));
                    Assert.True(
                        RoundPlan.MinutesOf(setUps, order, Cost)
                            <= RoundPlan.MinutesOf(setUps, [.. Enumerable.Range(0, setUps.Count)], Cost)
                    );
                }
            );

    /// <summary>Rules in a ring cannot all be kept: those that were said first are, and nothing is lost.</summary>
    [Fact]
    public void A_ring_of_rules_leaves_out_the_last_of_them() =>
        Gen.Select(SetUps(3, 20), Pairs(20))
            .Sample(
                (setUps, said) =>
                {
                    var binding = said.Where(p => p.First < setUps.Count && p.Second < setUps.Count).ToList();
                    var order = RoundPlan.Of(setUps, [(0, 1), (1, 2), (2, 0), .. binding], Cost);
                    Assert.Equal(Enumerable.Range(0, setUps.Count), order.Order());
                    var place = order.Index().ToDictionary(o => o.Item, o => o.Index);
                    Assert.True(place[0] < place[1] && place[1] < place[2]);
                }
            );

    /// <summary>Against every order that keeps the rules, on seven checks: the mean of what is lost stays small.</summary>
    [Fact]
    public void On_small_rounds_it_is_close_to_the_best_there_is()
    {
        var dice = new Random(4);
        var (sum, best, worst) = (0m, 0m, 0m);
        for (var round = 0; round < 150; round++)
        {
            var setUps = Enumerable
                .Range(0, 7)
                .Select(_ =>
                {
                    var s = dice.Next(2);
                    return new SetUp(s == 0, States[s], Covers[dice.Next(2)], Commons[dice.Next(3)], Modes[dice.Next(2)]);
                })
                .ToList();
            List<(int First, int Second)> binding = [.. Enumerable.Range(0, 3).Select(_ => (dice.Next(3), dice.Next(3, 7)))];
            var found = RoundPlan.MinutesOf(setUps, RoundPlan.Of(setUps, binding, Cost), Cost);
            var least = Orders(7, binding).Min(o => RoundPlan.MinutesOf(setUps, o, Cost));
            Assert.True(found >= least);
            (sum, best, worst) = (sum + found, best + least, Math.Max(worst, found - least));
        }

        Assert.InRange(sum / best, 1m, 1.1m);
        // Never a change between dead and live more than needed.
        Assert.InRange(worst, 0, RoundMinutes.Usual[SetUpChange.Isolation].Minutes);
    }

    private static IEnumerable<int[]> Orders(int n, List<(int First, int Second)> binding)
    {
        var order = new int[n];
        var isIn = new bool[n];
        return From(0);

        IEnumerable<int[]> From(int at)
        {
            if (at == n)
            {
                yield return [.. order];
                yield break;
            }

            for (var i = 0; i < n; i++)
            {
                if (!isIn[i] && !binding.Exists(b => b.Second == i && !isIn[b.First]))
                {
                    (isIn[i], order[at]) = (true, i);
                    foreach (var whole in From(at + 1))
                    {
                        yield return whole;
                    }

                    isIn[i] = false;
                }
            }
        }
    }

    private static ResolvedMachine With(params string[] lines) =>
        Sample.Resolved(model: Sample.Model with { RoundRules = new RoundRuleSheet(lines) });

    private static List<CheckKey> Keys(ResolvedMachine machine) => [.. SheetOrder.Of(machine, FeedGraph.Of(machine)).Select(c => c.Key)];

    [Fact]
    public void What_is_behind_the_cover_is_read_in_one_go()
    {
        Assert.Equal(["p1", "z1/c1", "z1/c2", "z1/c3", "z2/c1", "z2/c2", "z2/c3"], Keys(With()));
        // z1 is behind the cover; p1 and z2 are not, and the path binds only what is at one place.
        var order = Keys(With("cover off: Z1"));
        Assert.Equal(["z1/c1", "z1/c2", "z1/c3"], order.Where(k => k.Value.StartsWith("z1", StringComparison.Ordinal)));
        var covered = order.Select(k => k.Value.StartsWith("z1", StringComparison.Ordinal)).ToList();
        Assert.Equal(1, covered.Zip(covered.Skip(1)).Count(p => p.First != p.Second));
    }

    [Fact]
    public void What_is_said_to_come_before_comes_before()
    {
        var order = Keys(With("Z2 before PS"));
        Assert.True(order.IndexOf("z2/c3") < order.IndexOf("p1"));
        Assert.Empty(RoundRules.Of(With("Z2 before PS")).Unknown());
        Assert.Equal(["Z9"], RoundRules.Of(With("cover off: Z1, Z9")).Unknown());
    }

    [Theory]
    [InlineData("Z1 before Z1", "cannot come before itself")]
    [InlineData("cover off", "no rule of a round")]
    [InlineData(": Z1", "no rule of a round")]
    [InlineData("cover off:", "no rule of a round")]
    public void A_line_that_is_not_understood_is_named(string line, string says)
    {
        var refusal = new RoundRuleSheet(["PS before Z1", line]).Refusal();
        Assert.NotNull(refusal);
        Assert.StartsWith("Line 2:", refusal.Problem, StringComparison.Ordinal);
        Assert.Contains(says, refusal.Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Minutes_are_learnt_from_how_long_readings_lay_apart()
    {
        var (dead, live) = (new SetUp(true, "off", "", "PS·-", MeterMode.Ohms), new SetUp(false, "run", "", "PS·-", MeterMode.DcVolts));
        var begin = DateTimeOffset.UnixEpoch;
        IReadOnlyList<(DateTimeOffset, SetUp)> Round(double reading, double change) =>
            [
                (begin, dead),
                (begin.AddMinutes(reading), dead),
                (begin.AddMinutes((2 * reading) + change), live),
                (begin.AddMinutes((3 * reading) + change), live),
            ];
        var learnt = RoundMinutes.Learnt(Enumerable.Repeat(Round(0.5, 12), 5));
        Assert.Equal(10, learnt[SetUpChange.Reading].Count);
        // (3 × 0.3 + 10 × 0.5) / 13, and (3 × 6 + 5 × (12.5 - 0.45)) / 8.
        Assert.Equal(0.45m, learnt[SetUpChange.Reading].Minutes);
        Assert.Equal((9.78m, 5), (learnt[SetUpChange.Isolation].Minutes, learnt[SetUpChange.Isolation].Count));
        Assert.Equal(0, learnt[SetUpChange.Access].Count);
        // A night between two readings tells nothing.
        Assert.Equal(0, RoundMinutes.Learnt([Round(0.5, 700)])[SetUpChange.Isolation].Count);
    }

    [Fact]
    public void The_time_that_is_left_says_of_what_it_is_made_up()
    {
        var machine = With("cover off: Z1", "cover off takes 4 min");
        var graph = FeedGraph.Of(machine);
        var time = RoundSheet.Of(machine, graph, []).Time;
        Assert.Equal(7, time.Readings);
        Assert.Contains(time.Why, w => w == "1 time cover off at 4 min, as the model says");
        Assert.Contains(time.Why, w => w == "7 readings at 0.3 min, assumed");
        var less = RoundSheet.Of(machine, graph, [Sample.Reading(1, "z1/c1", "24")]).Time;
        Assert.Equal(6, less.Readings);
        Assert.True(less.Minutes <= time.Minutes);
    }
}
