namespace RustyLedger.Core.Wiring;

/// <summary>
/// What lies on every path from where power enters to a pin, by the iterative algorithm of Cooper, Harvey and
/// Kennedy, "A simple, fast dominance algorithm" (2001). Links count as places of their own.
/// </summary>
internal sealed class Dominators
{
    private const int Root = 0;
    private readonly int _pins;
    private readonly int[] _above;

    public Dominators(FeedGraph graph)
    {
        _pins = graph.Pins.Count;
        var count = 1 + _pins + graph.Links.Count;
        var before = new List<int>[count];
        var after = new List<int>[count];
        for (var i = 0; i < count; i++)
        {
            (before[i], after[i]) = ([], []);
        }

        void Join(int from, int to)
        {
            after[from].Add(to);
            before[to].Add(from);
        }

        for (var pin = 0; pin < _pins; pin++)
        {
            // Power enters at sources; a pin that nothing feeds is taken as entered from outside the record.
            if (graph.IsSource[pin] || graph.Feeders[pin].Count == 0)
            {
                Join(Root, PinPlace(pin));
            }
        }

        for (var link = 0; link < graph.Links.Count; link++)
        {
            Join(PinPlace(graph.Links[link].From), LinkPlace(link));
            Join(LinkPlace(link), PinPlace(graph.Links[link].To));
        }

        _above = Solve(before, after);
    }

    /// <summary>
    /// The pins and links on every path to <paramref name="pin"/>, the pin itself first, going back; none if no path leads to it.
    /// </summary>
    public IEnumerable<(PinIndex? Pin, LinkIndex? Link)> Of(PinIndex pin)
    {
        for (var at = PinPlace(pin); at != Root && _above[at] >= 0; at = _above[at])
        {
            yield return at <= _pins ? (new PinIndex(at - 1), null) : (null, new LinkIndex(at - 1 - _pins));
        }
    }

    private static int PinPlace(int pin) => 1 + pin;

    private int LinkPlace(int link) => 1 + _pins + link;

    private static int[] Solve(List<int>[] before, List<int>[] after)
    {
        var rank = new int[before.Length];
        Array.Fill(rank, -1);
        var order = PostOrder(after);
        for (var i = 0; i < order.Count; i++)
        {
            rank[order[i]] = i;
        }

        var above = new int[before.Length];
        Array.Fill(above, -1);
        above[Root] = Root;
        for (var changed = true; changed; )
        {
            changed = false;
            for (var i = order.Count - 2; i >= 0; i--)
            {
                var place = order[i];
                var meet = -1;
                foreach (var from in before[place].Where(f => above[f] >= 0))
                {
                    meet = meet < 0 ? from : Meet(meet, from);
                }

                if (above[place] != meet)
                {
                    above[place] = meet;
                    changed = true;
                }
            }
        }

        return above;

        int Meet(int a, int b)
        {
            while (a != b)
            {
                while (rank[a] < rank[b])
                {
                    a = above[a];
                }

                while (rank[b] < rank[a])
                {
                    b = above[b];
                }
            }

            return a;
        }
    }

    private static List<int> PostOrder(List<int>[] after)
    {
        var order = new List<int>();
        var seen = new bool[after.Length];
        var work = new Stack<(int Place, int Edge)>([(Root, 0)]);
        seen[Root] = true;
        while (work.TryPop(out var step))
        {
            if (step.Edge == after[step.Place].Count)
            {
                order.Add(step.Place);
                continue;
            }

            work.Push((step.Place, step.Edge + 1));
            var to = after[step.Place][step.Edge];
            if (!seen[to])
            {
                seen[to] = true;
                work.Push((to, 0));
            }
        }

        return order;
    }
}
