using CsCheck;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>Readings that are taken in one go.</summary>
public sealed class ReadingPlanTests
{
    private static Act Read(string name, bool isDead) =>
        new(name, ActKind.Read, name, isDead ? "off" : "running", [])
        {
            SetUp = new SetUp(isDead, isDead ? "off" : "running", "", "", isDead ? MeterMode.Ohms : MeterMode.DcVolts),
        };

    private static double Change(SetUp? from, SetUp? to) => from?.IsDead == to?.IsDead ? 0 : 6;

    private static readonly SetUp _live = Read("", false).SetUp!;

    private static readonly Gen<(double[] Shares, (Act Act, IReadOnlyList<double[]> Chance)[] Readings)> Cases = Gen.Int[2, 5]
        .SelectMany(hypotheses =>
            Gen.Select(
                Gen.Double[0.05, 1].Array[hypotheses],
                Gen.Select(Gen.Double[0.02, 0.98].Array[hypotheses], Gen.Bool).Array[2, 6],
                (weights, tests) =>
                    (
                        Array.ConvertAll(weights, w => w / weights.Sum()),
                        tests
                            .Select(
                                (t, i) =>
                                    (Read($"r{i}", t.Item2), (IReadOnlyList<double[]>)[t.Item1, Array.ConvertAll(t.Item1, p => 1 - p)])
                            )
                            .ToArray()
                    )
            )
        );

    /// <summary>
    /// By the chain rule what each tells beside those before it sums to what all tell together (Cover and Thomas, Elements of Information
    /// Theory, theorem 2.5.2; from memory), here by going through every combination of outcomes.
    /// </summary>
    [Fact]
    public void What_each_tells_beside_those_before_sums_to_what_all_tell_together() =>
        Cases.Sample(
            c =>
            {
                var plan = ReadingPlan.Of(c.Readings, c.Shares, _live, _ => 0.3, Change);
                var chances = plan.Select(p => c.Readings.Single(r => r.Act == p.Act).Chance).ToList();
                var all = 0.0;
                for (var combination = 0; combination < 1 << chances.Count; combination++)
                {
                    var under = c
                        .Shares.Select((_, h) => chances.Select((t, i) => t[(combination >> i) & 1][h]).Aggregate(1.0, (a, b) => a * b))
                        .ToArray();
                    var sum = under.Zip(c.Shares, (u, s) => u * s).Sum();
                    all += under.Zip(c.Shares, (u, s) => u * s * Math.Log2(u / sum)).Sum();
                }

                Assert.Equal(plan.Count == 0 ? 0 : all, plan.Sum(p => p.Bits), 1e-6);
                Assert.All(plan, p => Assert.True(p.Bits > 0));
                Assert.True(plan.Count != 1);
            },
            iter: 500
        );

    /// <summary>What was isolated for one is read for the others as well, before it is switched on again.</summary>
    [Fact]
    public void What_is_read_under_one_isolation_comes_together()
    {
        (Act, IReadOnlyList<double[]>) Tells(string name, bool isDead, params double[] well) =>
            (Read(name, isDead), [well, Array.ConvertAll(well, w => 1 - w)]);
        double[] shares = [0.25, 0.25, 0.25, 0.25];
        var plan = ReadingPlan.Of(
            [
                Tells("dead 1", true, 0.02, 0.98, 0.98, 0.98),
                Tells("live 1", false, 0.02, 0.02, 0.98, 0.98),
                Tells("dead 2", true, 0.98, 0.98, 0.02, 0.98),
                Tells("live 2", false, 0.1, 0.1, 0.6, 0.9),
                // The same again, which tells little that is new.
                Tells("live 1 again", false, 0.02, 0.02, 0.98, 0.98),
            ],
            shares,
            _live,
            _ => 0.3,
            Change
        );
        Assert.Equal("live 1", plan[0].Act.Id);
        var dead = plan.Index().Where(p => p.Item.Act.SetUp!.IsDead).Select(p => p.Index).ToList();
        Assert.Equal(2, dead.Count);
        Assert.Equal(dead[0] + 1, dead[1]);
        Assert.Equal(6.3, plan[dead[0]].Minutes, 1e-9);
        Assert.Equal(0.3, plan[dead[1]].Minutes, 1e-9);
        Assert.True(plan.Where(p => p.Act.Id == "live 1 again").All(p => p.Bits < 0.2));
    }

    [Fact]
    public void Where_nothing_tells_or_one_alone_does_there_is_no_round()
    {
        var idle = (
            Read("a", false),
            (IReadOnlyList<double[]>)
                [
                    [0.5, 0.5],
                    [0.5, 0.5],
                ]
        );
        var one = (
            Read("b", false),
            (IReadOnlyList<double[]>)
                [
                    [0.01, 0.99],
                    [0.99, 0.01],
                ]
        );
        Assert.Empty(ReadingPlan.Of([idle], [0.5, 0.5], _live, _ => 0.3, Change));
        Assert.Empty(ReadingPlan.Of([idle, one], [0.5, 0.5], _live, _ => 0.3, Change));
        Assert.Empty(ReadingPlan.Of([], [0.5, 0.5], null, _ => 0.3, Change));
    }
}
