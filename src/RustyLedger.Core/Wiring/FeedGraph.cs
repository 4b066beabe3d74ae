using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

public enum MendKind
{
    /// <summary>Power would run in a circle.</summary>
    Loop,

    /// <summary>A pin feeds others, but nothing feeds it and it is no source.</summary>
    DanglingFeed,

    /// <summary>No source reaches the pin.</summary>
    Unreachable,
}

/// <summary>Something in the wiring as entered that cannot be right.</summary>
public sealed record Mend(MendKind Kind, IReadOnlyList<PinAddress> Pins);

/// <summary>
/// The directed links of a machine: which pin feeds which. Pins are numbered in natural order of their names,
/// so every answer is the same whatever order the links were entered in.
/// </summary>
public sealed class FeedGraph
{
    private readonly Dictionary<PinAddress, PinIndex> _indexOf = [];
    private readonly int[] _component;

    private FeedGraph(IReadOnlyList<PinAddress> pins, IReadOnlyList<FeedLink> links, bool[] isSource)
    {
        Pins = pins;
        Links = links;
        IsSource = isSource;
        for (var i = 0; i < pins.Count; i++)
        {
            _indexOf[pins[i]] = new(i);
        }

        var feeders = new List<LinkIndex>[pins.Count];
        var fed = new List<LinkIndex>[pins.Count];
        for (var i = 0; i < pins.Count; i++)
        {
            (feeders[i], fed[i]) = ([], []);
        }

        for (var l = 0; l < links.Count; l++)
        {
            feeders[links[l].To].Add(new(l));
            fed[links[l].From].Add(new(l));
        }

        Feeders = feeders;
        Fed = fed;
        _component = Components(out var componentCount);
        Order = OrderOf(componentCount);
        Reached = ReachedFromSources();
        ToMend = FindMends(componentCount);
    }

    /// <summary>Every pin with a directed link, and every source, in natural order of its printed name.</summary>
    public IReadOnlyList<PinAddress> Pins { get; }

    public IReadOnlyList<FeedLink> Links { get; }

    public IReadOnlyList<bool> IsSource { get; }

    /// <summary>
    /// Per link, whether it is a path on a board from one element to another, which may convert what it carries. A wire, a plug, a fuse
    /// or a switch has one voltage at both ends.
    /// </summary>
    public IReadOnlyList<bool> MayConvert { get; private init; } = [];

    /// <summary>Per link, how often it is at fault beside others: contacts and fuses weigh more than wires and tracks.</summary>
    public IReadOnlyList<int> Weights { get; private init; } = [];

    /// <summary>Per pin, the links that come to it.</summary>
    public IReadOnlyList<IReadOnlyList<LinkIndex>> Feeders { get; }

    /// <summary>Per pin, the links that leave it.</summary>
    public IReadOnlyList<IReadOnlyList<LinkIndex>> Fed { get; }

    /// <summary>
    /// The order in which to measure: from the sources along each branch to its end before the next branch,
    /// every feeder before what it feeds. Pins of a loop stand together.
    /// </summary>
    public IReadOnlyList<PinIndex> Order { get; }

    /// <summary>Per pin, whether a source reaches it.</summary>
    public IReadOnlyList<bool> Reached { get; }

    public IReadOnlyList<Mend> ToMend { get; }

    public PinAddress this[PinIndex pin] => Pins[pin];

    public FeedLink this[LinkIndex link] => Links[link];

    public PinIndex? IndexOf(PinAddress pin) => _indexOf.TryGetValue(pin, out var i) ? i : null;

    /// <summary>Of a machine: as entered, and by its circuit where nobody entered which way power runs.</summary>
    public static FeedGraph Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var feeds = MachineFeeds.Of(machine);
        var links = feeds.Links.ToDictionary(l => l.Id);
        return Of(
            links.Values.Select(l => (l.From, l.To, l.Id)),
            feeds.Sources,
            pin => machine.Pins[pin].Printed,
            id => links[id].IsInner && machine.Pins[links[id].From].PrintedElement != machine.Pins[links[id].To].PrintedElement,
            id => WeightOf(links[id], machine)
        );
    }

    // A wire or a track counts one; each contact on the way, a fuse, a switch two. Common practice, no source.
    private const int ContactWeight = 2;

    private static int WeightOf(ResolvedLink link, ResolvedMachine machine)
    {
        var (from, to) = (machine.Pins[link.From], machine.Pins[link.To]);
        if (from.PrintedElement == to.PrintedElement)
        {
            return ContactWeight;
        }

        return 1
            + (
                link.IsInner
                    ? 0
                    : ContactWeight
                        * new[] { from, to }.Count(p =>
                            p.Part is not null || p.Element is { Kind: ElementKind.Connector or ElementKind.BoardCable }
                        )
            );
    }

    /// <param name="printed">Gives the name by which pins are brought into order.</param>
    /// <param name="mayConvert">By a link's id; none where left out.</param>
    /// <param name="weight">By a link's id, above 0; all alike where left out.</param>
    public static FeedGraph Of(
        IEnumerable<(PinAddress From, PinAddress To, string Id)> links,
        IEnumerable<PinAddress> sources,
        Func<PinAddress, string> printed,
        Func<string, bool>? mayConvert = null,
        Func<string, int>? weight = null
    )
    {
        var all = links.ToList();
        var from = sources.ToHashSet();
        var pins = all.SelectMany(l => (PinAddress[])[l.From, l.To])
            .Concat(from)
            .Distinct()
            .OrderBy(printed, NaturalOrder.Instance)
            .ToList();
        var indexOf = pins.Index().ToDictionary(p => p.Item, p => new PinIndex(p.Index));
        List<FeedLink> ordered =
        [
            .. all.Select(l => new FeedLink(indexOf[l.From], indexOf[l.To], l.Id)).OrderBy(l => l.From).ThenBy(l => l.To),
        ];
        return new FeedGraph(pins, ordered, [.. pins.Select(from.Contains)])
        {
            MayConvert = [.. ordered.Select(l => mayConvert?.Invoke(l.Id) ?? false)],
            Weights = [.. ordered.Select(l => weight?.Invoke(l.Id) ?? 1)],
        };
    }

    /// <summary>Tarjan's strongly connected components (1972), without recursion.</summary>
    private int[] Components(out int count)
    {
        var n = Pins.Count;
        var component = new int[n];
        var (low, index) = (new int[n], new int[n]);
        Array.Fill(index, -1);
        Array.Fill(component, -1);
        var (next, found) = (0, 0);
        var open = new Stack<int>();
        var work = new Stack<(int Pin, int Edge)>();
        for (var root = 0; root < n; root++)
        {
            if (index[root] >= 0)
            {
                continue;
            }

            work.Push((root, 0));
            while (work.TryPop(out var step))
            {
                var (pin, edge) = step;
                if (edge == 0)
                {
                    index[pin] = low[pin] = next++;
                    open.Push(pin);
                }
                else
                {
                    low[pin] = Math.Min(low[pin], low[Links[Fed[pin][edge - 1]].To]);
                }

                var deeper = false;
                for (; edge < Fed[pin].Count; edge++)
                {
                    var to = Links[Fed[pin][edge]].To;
                    if (index[to] < 0)
                    {
                        work.Push((pin, edge + 1));
                        work.Push((to, 0));
                        deeper = true;
                        break;
                    }

                    if (component[to] < 0)
                    {
                        low[pin] = Math.Min(low[pin], index[to]);
                    }
                }

                if (deeper || low[pin] != index[pin])
                {
                    continue;
                }

                int member;
                do
                {
                    member = open.Pop();
                    component[member] = found;
                    // A finished component must not lower its neighbours any more.
                    low[member] = int.MaxValue;
                } while (member != pin);
                found++;
            }
        }

        count = found;
        return component;
    }

    private List<PinIndex> OrderOf(int componentCount)
    {
        var members = new List<PinIndex>[componentCount];
        var waiting = new int[componentCount];
        for (var i = 0; i < Pins.Count; i++)
        {
            (members[_component[i]] ??= []).Add(new(i));
        }

        foreach (var (from, to, _) in Links)
        {
            waiting[_component[to]] += _component[from] == _component[to] ? 0 : 1;
        }

        // A stack follows each branch to its end; sources come first, natural order breaks ties.
        var ready = new Stack<int>(
            Enumerable
                .Range(0, componentCount)
                .Where(c => waiting[c] == 0)
                .OrderBy(c => members[c].Any(m => IsSource[m]) ? 1 : 0)
                .ThenByDescending(c => members[c][0])
        );
        var order = new List<PinIndex>(Pins.Count);
        while (ready.TryPop(out var component))
        {
            order.AddRange(members[component]);
            foreach (var to in members[component].SelectMany(m => Fed[m]).Select(l => Links[l].To).OrderDescending())
            {
                if (_component[to] != component && --waiting[_component[to]] == 0)
                {
                    ready.Push(_component[to]);
                }
            }
        }

        return order;
    }

    private bool[] ReachedFromSources()
    {
        var reached = IsSource.ToArray();
        var work = new Stack<int>(Enumerable.Range(0, Pins.Count).Where(i => reached[i]));
        while (work.TryPop(out var pin))
        {
            foreach (var link in Fed[pin].Where(l => !reached[Links[l].To]))
            {
                reached[Links[link].To] = true;
                work.Push(Links[link].To);
            }
        }

        return reached;
    }

    private List<Mend> FindMends(int componentCount)
    {
        var mends = new List<Mend>();
        var inLoop = Enumerable
            .Range(0, Pins.Count)
            .GroupBy(i => _component[i])
            .Where(g => g.Count() > 1 || Fed[g.First()].Any(l => Links[l].To == g.First()))
            .ToList();
        mends.AddRange(inLoop.OrderBy(g => g.First()).Select(g => new Mend(MendKind.Loop, [.. g.Select(i => Pins[i])])));
        var dangling = Enumerable.Range(0, Pins.Count).Where(i => Feeders[i].Count == 0 && !IsSource[i]).ToList();
        mends.AddRange(dangling.Select(i => new Mend(MendKind.DanglingFeed, [Pins[i]])));
        var lost = Enumerable.Range(0, Pins.Count).Where(i => !Reached[i] && Feeders[i].Count > 0).ToList();
        if (lost.Count > 0)
        {
            mends.Add(new Mend(MendKind.Unreachable, [.. lost.Select(i => Pins[i])]));
        }

        return mends;
    }
}
