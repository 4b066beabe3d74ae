using CsCheck;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class FeedGraphTests
{
    [Fact]
    public void Every_feeder_stands_before_what_it_feeds() =>
        Graphs
            .WithoutLoops()
            .Sample(graph =>
            {
                var place = graph.Order.Index().ToDictionary(p => p.Item, p => p.Index);
                Assert.Equal(graph.Pins.Count, place.Count);
                Assert.All(graph.Links, l => Assert.True(place[l.From] < place[l.To]));
                Assert.DoesNotContain(graph.ToMend, m => m.Kind == MendKind.Loop);
            });

    [Fact]
    public void A_pin_is_in_a_reported_loop_exactly_when_it_can_reach_itself() =>
        Graphs
            .Any()
            .Sample(graph =>
            {
                var looped = graph.ToMend.Where(m => m.Kind == MendKind.Loop).SelectMany(m => m.Pins).ToHashSet();
                for (var pin = 0; pin < graph.Pins.Count; pin++)
                {
                    Assert.Equal(Reaches(graph, pin, pin), looped.Contains(graph.Pins[pin]));
                }

                Assert.Equal(Enumerable.Range(0, graph.Pins.Count), graph.Order.Numbers().Order());
            });

    [Fact]
    public void Unreached_and_dangling_pins_are_named() =>
        Graphs
            .Any()
            .Sample(graph =>
            {
                for (var pin = 0; pin < graph.Pins.Count; pin++)
                {
                    var reached =
                        graph.IsSource[pin] || Enumerable.Range(0, graph.Pins.Count).Any(s => graph.IsSource[s] && Reaches(graph, s, pin));
                    var named = graph
                        .ToMend.Where(m => m.Kind is MendKind.Unreachable or MendKind.DanglingFeed)
                        .SelectMany(m => m.Pins)
                        .Contains(graph.Pins[pin]);
                    Assert.Equal(!reached, named);
                }
            });

    [Fact]
    public void A_branch_is_followed_to_its_end_before_the_next()
    {
        var graph = Graphs.Of([(0, 1), (1, 2), (0, 3), (3, 4)], 0);
        Assert.Equal([0, 1, 2, 3, 4], graph.Order.Numbers());
    }

    [Fact]
    public void J2_stands_before_J10() =>
        Assert.Equal(["J2·1", "J2·10", "J10·1"], ((string[])["J10·1", "J2·10", "J2·1"]).Order(NaturalOrder.Instance));

    private static bool Reaches(FeedGraph graph, int from, int to)
    {
        var seen = new HashSet<int>();
        var work = new Queue<int>([from]);
        while (work.TryDequeue(out var pin))
        {
            foreach (var link in graph.Links.Where(l => l.From == pin))
            {
                if (link.To == to)
                {
                    return true;
                }

                if (seen.Add(link.To))
                {
                    work.Enqueue(link.To);
                }
            }
        }

        return false;
    }
}
