using CsCheck;
using RustyLedger.Core.Visits;

namespace RustyLedger.Core.Tests.Visits;

public sealed class OutsideTests
{
    /// <summary>
    /// Heckerman, Breese and Rommelse, "Decision-theoretic troubleshooting" (1995): one fault, independent checks, no orders to keep:
    /// descending chance over cost.
    /// </summary>
    [Fact]
    public void Without_orders_to_keep_it_goes_by_chance_over_cost()
    {
        var check = Gen.Select(Gen.Int[1, 40], Gen.Int[1, 100]).Select((p, m) => (Chance: p / 1000.0, Minutes: m / 10.0));
        check
            .Array[1, 12]
            .Sample(
                all =>
                {
                    List<LearntCheck> checks = [.. all.Select((c, i) => Check($"{i}", c.Chance, c.Minutes))];
                    var order = OutsideOrder.Of(checks);
                    Assert.Equal(
                        OutsideOrder.ExpectedMinutes([.. checks.OrderByDescending(c => c.Chance / c.Minutes)]),
                        OutsideOrder.ExpectedMinutes(order),
                        9
                    );
                },
                iter: 200
            );
    }

    [Fact]
    public void With_orders_to_keep_no_permutation_is_better() =>
        Cases(2, 7)
            .Sample(
                checks =>
                {
                    var order = OutsideOrder.Exact(checks);
                    Assert.True(Keeps(order));
                    Assert.Equal(
                        Permutations([.. checks]).Where(Keeps).Min(OutsideOrder.ExpectedMinutes),
                        OutsideOrder.ExpectedMinutes(order),
                        9
                    );
                },
                iter: 60
            );

    [Fact]
    public void The_heuristic_keeps_the_orders_and_stays_close_to_the_exact_one()
    {
        var worst = 1.0;
        Cases(2, 11)
            .Sample(
                checks =>
                {
                    var near = OutsideOrder.Near(checks);
                    Assert.True(Keeps(near));
                    Assert.Equal(checks.Count, near.Distinct().Count());
                    worst = Math.Max(worst, OutsideOrder.ExpectedMinutes(near) / OutsideOrder.ExpectedMinutes(OutsideOrder.Exact(checks)));
                },
                iter: 200,
                threads: 1,
                seed: "0000KZ8E2L40"
            );
        Assert.True(worst < 1.15, $"the heuristic took {worst:0.###} times the least");
    }

    [Fact]
    public void The_usual_checks_keep_their_order_and_a_reset_comes_after_what_it_rests_on()
    {
        var order = OutsideOrder.Of([.. OutsideSheet.Empty.All.Select(c => LearntCheck.Of(c, []))]).Select(c => c.Check.Id).ToList();
        Assert.Equal(13, order.Count);
        Assert.All(["supply", "breaker", "stop", "obstruction"], first => Assert.True(order.IndexOf(first) < order.IndexOf("reset")));
    }

    [Fact]
    public void A_model_adds_and_leaves_out()
    {
        var sheet = new OutsideSheet([new OutsideCheck("bellows", "Is the bellows dry?", 0.1, 2, ["dial", "supply"])], ["dial", "fuel"]);
        Assert.Empty(sheet.Problems());
        Assert.Equal(12, sheet.All.Count);
        Assert.Equal(["supply"], sheet.All.Single(c => c.Id == "bellows").After);
        Assert.NotEmpty((sheet with { Own = [new OutsideCheck("x", "X?", 2, 1, [])] }).Problems());
        var loop = sheet with { Own = [new OutsideCheck("x", "X?", 0.1, 1, ["y"]), new OutsideCheck("y", "Y?", 0.1, 1, ["x"])] };
        Assert.Contains("come after the other", Assert.Single(loop.Problems()), StringComparison.Ordinal);
        Assert.Throws<ArgumentException>(() => OutsideOrder.Of([.. loop.All.Select(c => LearntCheck.Of(c, []))]));
    }

    /// <summary>Beta(1, 9) for a chance of 0.1 worth ten visits; three of five found: Beta(4, 11), mean 4/15, by hand.</summary>
    [Fact]
    public void Chance_and_minutes_are_learnt_from_what_visits_record()
    {
        OutsideResult[] results =
        [
            .. Enumerable.Repeat(new OutsideResult("x", OutsideAnswer.No, 2, true), 3),
            .. Enumerable.Repeat(new OutsideResult("x", OutsideAnswer.Yes, 4, false), 2),
            new("x", OutsideAnswer.CouldNot, 9, false),
            new("y", OutsideAnswer.No, 9, true),
            new("x", OutsideAnswer.CouldNot, null, false),
            new("x", OutsideAnswer.HasNone, 1, false),
        ];
        var learnt = LearntCheck.Of(new OutsideCheck("x", "X?", 0.1, 1, []), results);
        Assert.Equal(4.0 / 15, learnt.Chance, 12);
        Assert.Equal(((1 * 3) + (3 * 2) + (2 * 4)) / 8.0, learnt.Minutes, 12);
        Assert.Contains("3 of 5 visits", learnt.Why, StringComparison.Ordinal);
    }

    private static LearntCheck Check(string id, double chance, double minutes, params string[] after) =>
        new(new OutsideCheck(id, id, chance, minutes, after), chance, minutes, 0, 0);

    /// <summary>Random checks where some come after earlier ones, so that there is no loop.</summary>
    private static Gen<List<LearntCheck>> Cases(int least, int most) =>
        Gen.Select(Gen.Int[1, 60], Gen.Int[1, 100], Gen.Int[0, 100].Array[most])
            .Array[least, most]
            .Select(all =>
                all.Select(
                        (c, i) =>
                            Check(
                                $"{i}",
                                c.Item1 / 1000.0,
                                c.Item2 / 10.0,
                                [.. Enumerable.Range(0, i).Where(j => c.Item3[j] < 30).Select(j => $"{j}")]
                            )
                    )
                    .Reverse()
                    .ToList()
            );

    private static bool Keeps(IReadOnlyList<LearntCheck> order)
    {
        var done = new HashSet<string>();
        return order.All(c => c.Check.After.All(done.Contains) && done.Add(c.Check.Id));
    }

    private static IEnumerable<List<LearntCheck>> Permutations(List<LearntCheck> of) =>
        of.Count == 0
            ?
            [
                [],
            ]
            : of.SelectMany(first => Permutations([.. of.Where(c => c != first)]).Select(rest => (List<LearntCheck>)[first, .. rest]));
}
