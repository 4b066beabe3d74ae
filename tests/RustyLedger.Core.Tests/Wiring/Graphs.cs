using System.Globalization;
using CsCheck;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

/// <summary>Random wirings for the properties.</summary>
internal static class Graphs
{
    public static PinAddress Pin(int i) => Probe.At("m", i.ToString("00", CultureInfo.InvariantCulture));

    /// <summary>By the numbers that the wirings here are written with.</summary>
    public static Dictionary<PinIndex, T> ByPin<T>(this Dictionary<int, T> numbered) =>
        numbered.ToDictionary(n => new PinIndex(n.Key), n => n.Value);

    public static IEnumerable<int> Numbers(this IEnumerable<PinIndex> pins) => pins.Select(p => p.Value);

    public static IEnumerable<int> Numbers(this IEnumerable<LinkIndex> links) => links.Select(l => l.Value);

    public static (int From, int To) Ends(this FeedGraph graph, LinkIndex link) => (graph[link].From, graph[link].To);

    public static FeedGraph Of(IEnumerable<(int From, int To)> links, params int[] sources) =>
        FeedGraph.Of(
            links.Select(l => (Pin(l.From), Pin(l.To), $"{l.From}>{l.To}")),
            sources.Select(Pin),
            p => p.OwnPin!.Value.Value,
            weight: Weight
        );

    /// <summary>Links of every weight.</summary>
    private static int Weight(string link) => 1 + ((link[0] + link[^1]) % 3);

    /// <param name="mayConvert">Links that are a path on a board.</param>
    public static FeedGraph Of(IEnumerable<(int From, int To)> links, (int From, int To)[] mayConvert, params int[] sources) =>
        FeedGraph.Of(
            links.Select(l => (Pin(l.From), Pin(l.To), $"{l.From}>{l.To}")),
            sources.Select(Pin),
            p => p.OwnPin!.Value.Value,
            mayConvert.Select(l => $"{l.From}>{l.To}").ToHashSet().Contains
        );

    /// <summary>Links that go up only, so no loops; several sources, branches that split and join.</summary>
    public static Gen<FeedGraph> WithoutLoops() =>
        Gen.Select(Gen.Int[2, 9], Gen.Int[0, 1 << 20].Array[3], Gen.Int[1, 3])
            .Select(
                (n, bits, sources) =>
                    Of(
                        Pairs(n)
                            .Where((_, i) => ((bits[0] & bits[i % 2 == 0 ? 1 : 2]) >> (i % 20) & 1) == 1 || (bits[1] >> (i % 19) & 3) == 3)
                            .DefaultIfEmpty((0, 1)),
                        [.. Enumerable.Range(0, sources)]
                    )
            );

    /// <summary>Any links, loops and dangling feeds included.</summary>
    public static Gen<FeedGraph> Any() =>
        Gen.Select(Gen.Int[0, 7], Gen.Int[0, 7])
            .Where((a, b) => a != b)
            .List[1, 14]
            .Select(Gen.Int[0, 3], (links, source) => Of(links.Distinct(), source));

    private static IEnumerable<(int From, int To)> Pairs(int n) =>
        from a in Enumerable.Range(0, n)
        from b in Enumerable.Range(a + 1, n - a - 1)
        select (a, b);
}
