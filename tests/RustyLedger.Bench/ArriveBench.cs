using System.Globalization;
using BenchmarkDotNet.Attributes;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;

namespace RustyLedger.Bench;

/// <summary>Deciding builds for a whole shop, ordering outside checks, and working out how safe a machine is.</summary>
public class ArriveBench
{
    private const int Machines = 20_000;
    private static readonly DateOnly _today = new(2026, 11, 25);
    private readonly VariantSheet _sheet;
    private readonly List<PlateFacts> _plates;
    private readonly List<LearntCheck> _fifteen;
    private readonly List<LearntCheck> _forty;
    private readonly SafetySheet _safety = SafetySheet.Empty with
    {
        Sources = [new("m", SourceKind.Mains, "mains", "Q1", 400, ["L1", "L2", "L3", "N"], true, true, "")],
    };
    private readonly List<SafetyEvent> _acts;

    public ArriveBench()
    {
        var dice = new Random(7);
        _sheet = new VariantSheet(
            [
                .. Enumerable
                    .Range(0, 8)
                    .Select(i => new Variant(
                        $"v{i}",
                        $"v{i}",
                        [
                            new VariantRule(
                                new DateOnly(2000 + (3 * i), 1, 1),
                                new DateOnly(2002 + (3 * i), 12, 31),
                                "",
                                null,
                                null,
                                i % 2 == 0 ? 230 : 400,
                                null,
                                ""
                            ),
                        ],
                        "",
                        [],
                        [],
                        [],
                        [],
                        [],
                        [],
                        []
                    )),
            ],
            "QP-{yy}{ww}-*",
            2000,
            "IOQ"
        );
        _plates =
        [
            .. Enumerable
                .Range(0, Machines)
                .Select(i => new PlateFacts(
                    $"QP-{dice.Next(0, 24):00}{dice.Next(1, 53):00}-{i}",
                    (i % 3) switch
                    {
                        0 => "",
                        1 => $"{dice.Next(2000, 2024)}-{dice.Next(1, 13):00}",
                        _ => $"{dice.Next(1, 13):00}/{dice.Next(0, 24):00}",
                    },
                    i % 2 == 0 ? "230 V 1~" : "400 V 3~, 24 V DC",
                    ""
                )),
        ];
        _fifteen = Random(dice, 15);
        _forty = Random(dice, 40);
        _acts =
        [
            .. SafeState
                .Of(_safety, ShopLimits.Usual, [])
                .Steps.Select(
                    (s, i) =>
                        new SafetyEvent(
                            $"e{i}",
                            i,
                            s.Kind,
                            s.Subject,
                            s.Point is null ? null : 0.1m,
                            "",
                            null,
                            DateTimeOffset.UnixEpoch.AddMinutes(i),
                            "E"
                        )
                ),
        ];
    }

    [Benchmark]
    public int BuildsOf20000Machines() => _plates.Count(p => VariantDecision.Of(p, _sheet, _today).Kind == DecisionKind.Decided);

    [Benchmark]
    public IReadOnlyList<LearntCheck> FifteenChecksExactly() => OutsideOrder.Exact(_fifteen);

    [Benchmark]
    public IReadOnlyList<LearntCheck> FortyChecksNearly() => OutsideOrder.Near(_forty);

    [Benchmark]
    public SafeState ProvedDeadOnThreePhases() => SafeState.Of(_safety, ShopLimits.Usual, _acts);

    /// <summary>How much longer the order beyond fifteen checks takes than the best one, where the best can still be found.</summary>
    public static void SayHowNear()
    {
        var dice = new Random(11);
        var ratios = Enumerable
            .Range(0, 300)
            .Select(_ =>
            {
                var checks = Random(dice, 13);
                return OutsideOrder.ExpectedMinutes(OutsideOrder.Near(checks)) / OutsideOrder.ExpectedMinutes(OutsideOrder.Exact(checks));
            })
            .ToList();
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"order of checks, heuristic over exact, 300 random cases of 13: mean {ratios.Average():0.0000}, worst "
                    + $"{ratios.Max():0.000}, best order found in {ratios.Count(r => r < 1.0000001)}"
            )
        );
    }

    private static List<LearntCheck> Random(Random dice, int count) =>
        [
            .. Enumerable
                .Range(0, count)
                .Select(i =>
                {
                    var after = Enumerable.Range(0, i).Where(_ => dice.Next(100) < 20).Select(j => $"{j}").ToList();
                    var (chance, minutes) = (dice.Next(1, 60) / 1000.0, dice.Next(1, 100) / 10.0);
                    return new LearntCheck(new OutsideCheck($"{i}", $"{i}", chance, minutes, after), chance, minutes, 0, 0);
                }),
        ];
}
