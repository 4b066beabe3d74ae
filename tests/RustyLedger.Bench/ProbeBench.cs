using System.Globalization;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Bench;

/// <summary>
/// How many probes it takes from one bad pin to the place, with one link broken and every pin to be measured, against the best plan
/// there is
/// (exact, over all sets of faults that are left), and how many links are named at the end beside those that no probe could tell from
/// the broken one.
/// </summary>
public static class ProbeBench
{
    private const int Cases = 60;
    private const int MostFaults = 14;

    public static void SayHowNear()
    {
        foreach (
            var (kind, make) in ((string, Func<Random, FeedGraph>)[])
                [("chain", Chain), ("tree", Tree), ("joins", Joins), ("loops", Loops), ("several sources", Sources)]
        )
        {
            var dice = new Random(7);
            var (ours, best, weight, over, named, missed, idle) = (0.0, 0.0, 0.0, 0, 0, 0, 0);
            for (var i = 0; i < Cases; i++)
            {
                var graph = make(dice);
                var reach = Enumerable.Range(0, graph.Links.Count).Select(l => Dead(graph, l)).ToList();
                PinIndex? end = graph
                    .Order.Where(p => !graph.IsSource[p] && graph.Fed[p].Count == 0)
                    .OrderByDescending(p => reach.Count(r => r[p]))
                    .Select(p => (PinIndex?)p)
                    .FirstOrDefault();
                if (end is not { } bad)
                {
                    continue;
                }

                List<int> faults = [.. Enumerable.Range(0, graph.Links.Count).Where(l => reach[l][bad])];
                if (faults.Count is < 2 or > MostFaults)
                {
                    continue;
                }

                var plan = new Best(graph, faults, reach);
                foreach (var broken in faults)
                {
                    var evidence = Enumerable
                        .Range(0, graph.Pins.Count)
                        .Select(p => new PinIndex(p))
                        .Where(p => graph.IsSource[p])
                        .Append(bad)
                        .ToDictionary(p => p, p => Read(reach[broken][p]));
                    var probes = 0;
                    PathReport report;
                    while ((report = PathReport.Of(graph, evidence, p => !evidence.ContainsKey(p))).Next.Any())
                    {
                        var next = report.Next.First();
                        var before = report.Suspects.Count;
                        evidence[next] = Read(reach[broken][next]);
                        idle += PathReport.Of(graph, evidence, _ => true).Suspects.Count >= before ? 1 : 0;
                        probes++;
                    }

                    var alike = faults.Count(l => Enumerable.Range(0, graph.Pins.Count).All(p => reach[l][p] == reach[broken][p]));
                    (ours, weight) = (ours + (graph.Weights[broken] * probes), weight + graph.Weights[broken]);
                    (named, over, missed) = (
                        named + 1,
                        over + report.Suspects.Count - alike,
                        missed + (report.Suspects.Contains(new(broken)) ? 0 : 1)
                    );
                }

                best += plan.Expected((1 << faults.Count) - 1) * faults.Sum(l => graph.Weights[l]);
            }

            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"probes to the place, {kind}: {ours / weight:0.00} on average, best plan {best / weight:0.00}, "
                        + $"{ours / best:0.000} times; {named} faults, {missed} not named, {over / (double)named:0.00} named "
                        + $"too many, {idle} probes told nothing"
                )
            );
        }
    }

    private static PinEvidence Read(bool isDead)
    {
        var limit = LimitNotation.ReadOne("24 V ±5 %").Limit;
        var value = new NumberReading(isDead ? 0 : 24, Unit.Volts);
        return PinEvidence.Of(
            value,
            limit,
            DefaultTolerance.Usual,
            Judge.Verdict(value, limit, DefaultTolerance.Usual),
            new PinAddress.OnBoard("m", "0")
        );
    }

    /// <summary>Which pins get nothing with one link broken.</summary>
    private static bool[] Dead(FeedGraph graph, int broken)
    {
        var dead = Enumerable.Repeat(true, graph.Pins.Count).ToArray();
        var work = new Stack<int>(Enumerable.Range(0, graph.Pins.Count).Where(p => graph.IsSource[p]));
        while (work.TryPop(out var pin))
        {
            if (dead[pin])
            {
                dead[pin] = false;
                graph.Fed[pin].Where(l => l != broken).ToList().ForEach(l => work.Push(graph.Links[l].To));
            }
        }

        return dead;
    }

    /// <summary>The least expected number of probes until no probe tells any two apart.</summary>
    private sealed class Best(FeedGraph graph, List<int> faults, List<bool[]> reach)
    {
        private readonly Dictionary<int, double> _known = [];
        private readonly int[] _splits =
        [
            .. Enumerable
                .Range(0, graph.Pins.Count)
                .Select(p => faults.Index().Where(f => reach[f.Item][p]).Aggregate(0, (mask, f) => mask | (1 << f.Index)))
                .Distinct(),
        ];

        public double Expected(int left)
        {
            if (_known.TryGetValue(left, out var known))
            {
                return known;
            }

            var all = Weight(left);
            return _known[left] = _splits
                .Where(s => (left & s) != 0 && (left & ~s) != 0)
                .Select(s => 1 + ((Weight(left & s) * Expected(left & s)) + (Weight(left & ~s) * Expected(left & ~s))) / all)
                .DefaultIfEmpty(0)
                .Min();
        }

        private double Weight(int mask) => faults.Index().Where(f => (mask >> f.Index & 1) == 1).Sum(f => graph.Weights[f.Item]);
    }

    private static FeedGraph Chain(Random dice) => Of(Enumerable.Range(0, dice.Next(4, 14)).Select(i => (i, i + 1)), dice, 0);

    private static FeedGraph Tree(Random dice) =>
        Of(Enumerable.Range(1, dice.Next(8, 20)).Select(i => (dice.Next(Math.Max(0, i - 3), i), i)), dice, 0);

    /// <summary>A chain in which some pins are fed from two before.</summary>
    private static FeedGraph Joins(Random dice)
    {
        var count = dice.Next(6, 16);
        return Of(
            Enumerable
                .Range(1, count)
                .Select(i => (i - 1, i))
                .Concat(Enumerable.Range(2, count - 2).Where(_ => dice.Next(4) == 0).Select(i => (i - 2, i))),
            dice,
            0
        );
    }

    private static FeedGraph Loops(Random dice)
    {
        var count = dice.Next(6, 14);
        return Of(
            Enumerable
                .Range(1, count)
                .Select(i => (i - 1, i))
                .Concat(Enumerable.Range(2, count - 2).Where(_ => dice.Next(5) == 0).Select(i => (i, i - 1))),
            dice,
            0
        );
    }

    private static FeedGraph Sources(Random dice)
    {
        var count = dice.Next(6, 16);
        return Of(Enumerable.Range(1, count).Select(i => (i - 1, i)).Append((count + 1, dice.Next(2, count))), dice, 0, count + 1);
    }

    private static FeedGraph Of(IEnumerable<(int From, int To)> links, Random dice, params int[] sources)
    {
        static PinAddress Pin(int i) => new PinAddress.OnBoard("m", i.ToString("00", CultureInfo.InvariantCulture));
        var all = links.Distinct().ToList();
        var weights = all.ToDictionary(
            l => $"{l.From}>{l.To}",
            _ =>
                dice.Next(3) switch
                {
                    0 => 1,
                    1 => 2,
                    _ => 5,
                }
        );
        return FeedGraph.Of(
            all.Select(l => (Pin(l.From), Pin(l.To), $"{l.From}>{l.To}")),
            sources.Select(Pin),
            p => p.OwnPin!.Value.Value,
            weight: id => weights[id]
        );
    }
}
