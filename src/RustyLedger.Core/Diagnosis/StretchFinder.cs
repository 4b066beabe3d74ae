using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Traces each bad pin back to the nearest good ones. A good reading clears what lies on every path to it (its
/// dominators); a bad pin whose nearest measured feeders are all bad is theirs to explain.
/// </summary>
internal sealed class StretchFinder(FeedGraph graph, IReadOnlyDictionary<int, PinEvidence> evidence, Func<int, bool> measurable)
{
    private const int MostProposals = 3;

    private readonly bool[] _clearedPins = new bool[graph.Pins.Count];
    private readonly bool[] _clearedLinks = new bool[graph.Links.Count];

    /// <summary>Per bad pin, a good pin that only it can feed.</summary>
    private readonly Dictionary<int, int> _contradictedBy = [];

    public PathReport Find()
    {
        Clear();
        var stretches = new List<Stretch>();
        var explained = new List<Explained>();
        foreach (var bad in graph.Order.Where(IsBad))
        {
            var trace = new Trace(this, bad);
            var worse = trace.Bads.Count > 0 && !trace.Bads.Any(feeder => Explains(evidence[feeder], evidence[bad]));
            if (trace.Bads.Count > 0 && trace.Goods.Count + trace.OpenSources.Count == 0 && !worse && !graph.IsSource[bad])
            {
                explained.Add(new Explained(bad, trace.Bads));
                continue;
            }

            stretches.Add(StretchOf(bad, trace, worse));
        }

        return new PathReport(
            graph,
            evidence,
            stretches,
            explained,
            _clearedPins,
            _clearedLinks,
            [.. graph.Order.Where(p => evidence.TryGetValue(p, out var e) && e.Verdict.Kind == VerdictKind.Marginal)]);
    }

    private bool IsBad(int pin) => evidence.TryGetValue(pin, out var e) && e.Verdict.IsOut;

    private bool IsGood(int pin) => !IsBad(pin) && _clearedPins[pin];

    private void Clear()
    {
        var dominators = new Dominators(graph);
        foreach (var good in graph.Order.Where(p => evidence.TryGetValue(p, out var e) && e.Verdict.IsGood))
        {
            _clearedPins[good] = true;
            foreach (var (pin, link) in dominators.Of(good))
            {
                if (link is { } l)
                {
                    _clearedLinks[l] = true;
                }
                else if (pin is { } p && p != good)
                {
                    _clearedPins[p] |= !IsBad(p);
                    if (IsBad(p))
                    {
                        _contradictedBy.TryAdd(p, good);
                    }
                }
            }
        }
    }

    /// <summary>
    /// Whether a bad feeder alone accounts for a bad reading: the same share of what was expected is missing, give
    /// or take half a band, and in the same direction.
    /// </summary>
    private static bool Explains(PinEvidence feeder, PinEvidence bad)
    {
        var (of, by) = (bad.Verdict.Kind, feeder.Verdict.Kind);
        if (of == VerdictKind.Reversed || by == VerdictKind.Reversed)
        {
            return of == by || (of is VerdictKind.Low or VerdictKind.Dead && by == VerdictKind.Reversed);
        }

        if ((of == VerdictKind.High) != (by == VerdictKind.High))
        {
            return false;
        }

        return bad.Share is not { } share || feeder.Share is not { } before
            || (of == VerdictKind.High ? share <= before + bad.HalfBand : share >= before - bad.HalfBand);
    }

    private Stretch StretchOf(int bad, Trace trace, bool worse)
    {
        // A bad feeder leaves its part to its own stretch, unless this pin is worse than it explains.
        var starts = trace.Goods.Concat(trace.OpenSources).Concat(worse ? trace.Bads : []).ToHashSet();
        var links = trace.LinksFrom(starts).Where(l => !_clearedLinks[l]).ToHashSet();
        var touched = links.SelectMany(l => (int[])[graph.Links[l].From, graph.Links[l].To]).ToHashSet();
        var untouched = graph.Order.Where(p => touched.Contains(p) && !evidence.ContainsKey(p) && !IsGood(p)).ToList();
        return new Stretch(
            bad,
            trace.Goods,
            trace.Bads,
            trace.OpenSources,
            [.. graph.Order.SelectMany(p => graph.Feeders[p]).Where(links.Contains)],
            untouched,
            graph.IsSource[bad] || graph.Feeders[bad].Count == 0,
            worse ? trace.Bads : [],
            _contradictedBy.TryGetValue(bad, out var good) ? good : null,
            Narrowing(bad, links, untouched));
    }

    /// <summary>The middle of the longest run of unmeasured pins that leads to the bad pin, then its neighbours.</summary>
    private List<int> Narrowing(int bad, HashSet<int> links, List<int> untouched)
    {
        var proposable = untouched.Where(measurable).ToHashSet();
        if (proposable.Count == 0)
        {
            proposable = [.. untouched];
        }

        var place = graph.Order.Index().ToDictionary(p => p.Item, p => p.Index);
        var longest = new Dictionary<int, (int Length, int From)>();
        foreach (var pin in untouched.Append(bad).OrderBy(p => place[p]))
        {
            var best = (Length: 0, From: -1);
            foreach (var link in graph.Feeders[pin].Where(links.Contains))
            {
                var from = graph.Links[link].From;
                // In a loop only the steps that go forward in the order count, so a run never bites its tail.
                if (place[from] < place[pin] && longest.TryGetValue(from, out var so) && so.Length > best.Length)
                {
                    best = (so.Length, from);
                }
            }

            longest[pin] = (best.Length + (proposable.Contains(pin) ? 1 : 0), best.From);
        }

        var run = new List<int>();
        for (var at = longest[bad].From; at >= 0; at = longest[at].From)
        {
            if (proposable.Contains(at))
            {
                run.Insert(0, at);
            }
        }

        var middle = (run.Count - 1) / 2.0;
        return [.. run.Index().OrderBy(r => Math.Abs(r.Index - middle)).ThenBy(r => r.Index).Take(MostProposals).Select(r => r.Item)];
    }

    /// <summary>Everything between a bad pin and the nearest measured or cleared pins before it.</summary>
    private sealed class Trace
    {
        private readonly StretchFinder _finder;
        private readonly HashSet<int> _links = [];

        public Trace(StretchFinder finder, int bad)
        {
            _finder = finder;
            var graph = finder.Graph;
            var (goods, bads, open) = (new HashSet<int>(), new HashSet<int>(), new HashSet<int>());
            var seen = new HashSet<int> { bad };
            var work = new Stack<int>([bad]);
            while (work.TryPop(out var pin))
            {
                foreach (var link in graph.Feeders[pin])
                {
                    var from = graph.Links[link].From;
                    _links.Add(link);
                    if (finder.IsBad(from))
                    {
                        // A pin in a loop does not explain itself.
                        if (from != bad)
                        {
                            bads.Add(from);
                        }
                    }
                    else if (finder.IsGood(from))
                    {
                        goods.Add(from);
                    }
                    else if (seen.Add(from))
                    {
                        work.Push(from);
                        if (graph.IsSource[from] || graph.Feeders[from].Count == 0)
                        {
                            open.Add(from);
                        }
                    }
                }
            }

            Goods = [.. graph.Order.Where(goods.Contains)];
            Bads = [.. graph.Order.Where(bads.Contains)];
            OpenSources = [.. graph.Order.Where(open.Contains)];
        }

        public IReadOnlyList<int> Goods { get; }

        public IReadOnlyList<int> Bads { get; }

        public IReadOnlyList<int> OpenSources { get; }

        /// <summary>The links of all paths that run from one of <paramref name="starts"/> to the bad pin.</summary>
        public HashSet<int> LinksFrom(HashSet<int> starts)
        {
            var graph = _finder.Graph;
            var found = new HashSet<int>();
            var seen = new HashSet<int>(starts);
            var work = new Stack<int>(starts);
            while (work.TryPop(out var pin))
            {
                foreach (var link in graph.Fed[pin].Where(_links.Contains))
                {
                    found.Add(link);
                    var to = graph.Links[link].To;
                    // Only unmeasured pins let the trace through; another measured pin is an end of its own.
                    if (!_finder.IsBad(to) && !_finder.IsGood(to) && seen.Add(to))
                    {
                        work.Push(to);
                    }
                }
            }

            return found;
        }
    }

    private FeedGraph Graph => graph;
}
