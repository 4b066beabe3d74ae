using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Traces each bad pin back to the nearest good ones. A good reading clears what lies on every path to it (its
/// dominators); a bad pin whose nearest measured feeders are all bad is theirs to explain.
/// </summary>
internal sealed class StretchFinder(
    FeedGraph graph,
    IReadOnlyDictionary<PinIndex, PinEvidence> evidence,
    Func<PinIndex, bool> measurable,
    IReadOnlyDictionary<PinIndex, PinBand> bands,
    Func<PinIndex, int> moves
)
{
    private const int MostProposals = 3;

    // What may be lost without a fault: across a contact, and along a wire. Common practice, no source.
    private const decimal ContactVolts = 0.2m;
    private const decimal WireShare = 0.03m;

    // Two nominals this far apart are two voltages. Common practice, no source.
    private const decimal SameNominal = 0.1m;

    private readonly bool[] _clearedPins = new bool[graph.Pins.Count];
    private readonly bool[] _clearedLinks = new bool[graph.Links.Count];

    /// <summary>Per pin and per link: something behind a conversion works, so it is not dead; nobody knows more.</summary>
    private readonly bool[] _alivePins = new bool[graph.Pins.Count];
    private readonly bool[] _aliveLinks = new bool[graph.Links.Count];

    private readonly Dominators _dominators = new(graph);

    /// <summary>Per bad pin, a good pin that only it can feed.</summary>
    private readonly Dictionary<PinIndex, PinIndex> _contradictedBy = [];

    public PathReport Find()
    {
        Clear();
        var stretches = new List<Stretch>();
        var explained = new List<Explained>();
        foreach (var bad in graph.Order.Where(IsBad))
        {
            var trace = new Trace(this, bad);
            var worse = trace.Bads.Count > 0 && !trace.Bads.Any(feeder => Explains(feeder, bad));
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
            [.. graph.Order.Where(p => evidence.TryGetValue(p, out var e) && e.Verdict.Kind == VerdictKind.Marginal)]
        )
        {
            OneFault = OneFaultOf(stretches),
        };
    }

    private bool IsBad(PinIndex pin) => evidence.TryGetValue(pin, out var e) && e.Verdict.IsOut;

    private bool IsGood(PinIndex pin) => !IsBad(pin) && _clearedPins[pin];

    private bool IsAlive(PinIndex pin) => !IsBad(pin) && (_clearedPins[pin] || _alivePins[pin]);

    private void Clear()
    {
        foreach (var good in graph.Order.Where(p => evidence.TryGetValue(p, out var e) && e.Verdict.IsGood))
        {
            // Unplugged or without a load no current flows, and without current equal volts clear no contact: what they come through is
            // alive, no more.
            var isAlive = evidence[good].NoLoad;
            (isAlive ? _alivePins : _clearedPins)[good] = true;
            var passed = new List<LinkIndex>();
            foreach (var (pin, link) in _dominators.Of(good))
            {
                if (link is { } l)
                {
                    passed.Add(l);
                    continue;
                }

                // Power passes the links up to a pin that this reading speaks of.
                if (pin!.Value != good && !Clear(pin.Value, good, ref isAlive))
                {
                    break;
                }

                passed.ForEach(p => (isAlive ? _aliveLinks : _clearedLinks)[p] = true);
                passed.Clear();
            }
        }
    }

    /// <summary>
    /// A good reading clears what feeds it only as far as it could not have been good otherwise: not what reads less than its own limit
    /// allows, and behind a conversion only as alive.
    /// </summary>
    /// <returns>Whether the reading speaks of what lies before this pin too.</returns>
    private bool Clear(PinIndex pin, PinIndex good, ref bool isAlive)
    {
        if (IsBad(pin))
        {
            if (!IsPossible(pin, good))
            {
                _contradictedBy.TryAdd(pin, good);
                return true;
            }

            return false;
        }

        // What was lost on the way here stays under suspicion, however content this pin is with the rest.
        if (
            evidence.TryGetValue(pin, out var measured)
            && Lost(measured, evidence[good], pin, good) is { } lost
            && lost > Bearable(measured)
        )
        {
            return false;
        }

        isAlive |= IsConverted(pin, good);
        if (isAlive)
        {
            _alivePins[pin] = true;
            return true;
        }

        if (
            !evidence.ContainsKey(pin)
            && bands.TryGetValue(pin, out var band)
            && evidence[good] is { Volts: { } volts, Common: var common }
            && band.Common == common
            && (volts < band.Low || volts > band.High)
        )
        {
            return false;
        }

        _clearedPins[pin] = true;
        return true;
    }

    /// <summary>
    /// Whether a pin can read bad while one that only it feeds reads good: not where it is dead, nor where more arrives than leaves.
    /// </summary>
    private bool IsPossible(PinIndex bad, PinIndex good)
    {
        var (before, behind) = (evidence[bad], evidence[good]);
        return before.Verdict.Kind is not (VerdictKind.Dead or VerdictKind.Reversed) && Lost(before, behind, bad, good) is { } lost
            ? before.Verdict.Kind == VerdictKind.High || lost >= -Bearable(behind)
            : before.Volts is not null && before.Verdict.Kind is not (VerdictKind.Dead or VerdictKind.Reversed) && IsConverted(bad, good);
    }

    /// <summary>The volts lost from one pin to the next along what has one voltage; null where they cannot be compared.</summary>
    private decimal? Lost(PinEvidence before, PinEvidence behind, PinIndex from, PinIndex to) =>
        before.Volts is { } one
        && behind.Volts is { } other
        && before.Common == behind.Common
        && before.Common is not null
        && !IsConverted(from, to)
            ? Math.Abs(one) - (Math.Sign(one) * other)
            : null;

    private static decimal Bearable(PinEvidence of) => Math.Max(ContactVolts, WireShare * Math.Abs(of.Volts ?? 0));

    /// <summary>A path on a board lies between two pins whose nominals differ: the volts of one are not those of the other.</summary>
    private bool IsConverted(PinIndex from, PinIndex to)
    {
        if (
            NominalOf(from) is not { } one
            || NominalOf(to) is not { } other
            || Math.Abs(one - other) <= SameNominal * Math.Max(Math.Abs(one), Math.Abs(other))
        )
        {
            return false;
        }

        var seen = new HashSet<PinIndex> { to };
        var work = new Stack<PinIndex>([to]);
        var back = new List<LinkIndex>();
        while (work.TryPop(out var at))
        {
            foreach (var link in graph.Feeders[at])
            {
                back.Add(link);
                if (seen.Add(graph[link].From) && graph[link].From != from)
                {
                    work.Push(graph[link].From);
                }
            }
        }

        return back.Exists(l => graph.MayConvert.Count > l && graph.MayConvert[l]);
    }

    private decimal? NominalOf(PinIndex pin) =>
        evidence.TryGetValue(pin, out var e) && e.Nominal is { } nominal ? nominal
        : bands.TryGetValue(pin, out var band) && band is { Low: { } low, High: { } high } ? (low + high) / 2
        : null;

    /// <summary>
    /// Whether a pin that counts as good ends the search before a bad one. A wide limit acquits nobody: where the two read the same along
    /// what has one voltage, nothing was lost between them. What is only known to be alive clears the way to what is dead.
    /// </summary>
    private bool Shields(PinIndex pin, PinIndex bad) =>
        IsGood(pin)
            ? !evidence.TryGetValue(pin, out var good)
                || evidence[bad].Verdict.Kind is not (VerdictKind.Low or VerdictKind.Dead)
                || Lost(good, evidence[bad], pin, bad) is not { } lost
                || lost > Bearable(good)
            : IsAlive(pin) && evidence[bad].Verdict.Kind == VerdictKind.Dead;

    /// <summary>
    /// Whether a bad feeder alone accounts for a bad reading, in the same direction: along one voltage no more is lost than a sound
    /// contact or wire loses; across a conversion the same share of what was expected is missing, give or take half a band.
    /// </summary>
    private bool Explains(PinIndex feederPin, PinIndex badPin)
    {
        var (feeder, bad) = (evidence[feederPin], evidence[badPin]);
        var (of, by) = (bad.Verdict.Kind, feeder.Verdict.Kind);
        if (of == VerdictKind.Reversed || by == VerdictKind.Reversed)
        {
            return of == by || (of is VerdictKind.Low or VerdictKind.Dead && by == VerdictKind.Reversed);
        }

        if ((of == VerdictKind.High) != (by == VerdictKind.High))
        {
            return false;
        }

        if (Lost(feeder, bad, feederPin, badPin) is { } lost)
        {
            return of == VerdictKind.High ? -lost <= Bearable(feeder) : lost <= Bearable(feeder);
        }

        return bad.Share is not { } share
            || feeder.Share is not { } before
            || (of == VerdictKind.High ? share <= before + bad.HalfBand : share >= before - bad.HalfBand);
    }

    private Stretch StretchOf(PinIndex bad, Trace trace, bool worse)
    {
        // A bad feeder leaves its part to its own stretch, unless this pin is worse than it explains.
        var starts = trace.Goods.Concat(trace.OpenSources).Concat(worse ? trace.Bads : []).ToHashSet();
        var isDead = evidence[bad].Verdict.Kind == VerdictKind.Dead;
        // Between a pin that reads as little and the bad one nothing is lost, whatever its own limit says.
        var whole = trace.LinksFrom([.. trace.Level]);
        var links = trace.LinksFrom(starts).Where(l => !_clearedLinks[l] && !(isDead && _aliveLinks[l]) && !whole.Contains(l)).ToHashSet();
        // What is dead at a join was not brought down by one of its branches.
        links = isDead ? Alone(bad, links) : links;
        var touched = links.SelectMany(l => (PinIndex[])[graph[l].From, graph[l].To]).ToHashSet();
        var untouched = graph.Order.Where(p => touched.Contains(p) && !evidence.ContainsKey(p) && !IsGood(p)).ToList();
        // A supply that nobody measured may be the fault as well as any link.
        var faults = Alone(bad, links);
        HashSet<PinIndex> supplies = [.. trace.OpenSources.Where(OnEveryPathPins(bad).Contains)];
        supplies = supplies.Count > 0 || faults.Count > 0 ? supplies : [.. trace.OpenSources];
        var (next, unlisted) = Narrowing(faults, supplies, untouched);
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
            next
        )
        {
            Unlisted = unlisted,
        };
    }

    /// <summary>
    /// One place that alone explains several bad pins: what lies on every path to each of them and is cleared by none. Pins go together
    /// where the
    /// same kind of loss shows at each, and as much of it.
    /// </summary>
    private OneFault? OneFaultOf(List<Stretch> stretches)
    {
        // A wrong reading, a bad supply and a further loss are places of their own.
        var open = stretches.Where(s => s is { Contradicted: null, AccusesSupply: false, WorseThan.Count: 0 }).ToList();
        var dead = open.Where(s => evidence[s.Bad].Verdict.Kind == VerdictKind.Dead).ToList();
        var together = dead.Count > 1 ? dead : open.Where(s => evidence[s.Bad].Verdict.Kind == VerdictKind.Low).ToList();
        if (together.Count < 2 || !together.TrueForAll(a => together.TrueForAll(b => a == b || Explains(a.Bad, b.Bad))))
        {
            return null;
        }

        var links = together.Select(s => OnEveryPath(s.Bad).Where(s.Links.Contains)).Aggregate((a, b) => a.Intersect(b)).ToHashSet();
        var supplies = together
            .Select(s => OnEveryPathPins(s.Bad).Where(s.OpenSources.Contains))
            .Aggregate((a, b) => a.Intersect(b))
            .ToHashSet();
        if (links.Count + supplies.Count == 0)
        {
            return null;
        }

        var touched = links.SelectMany(l => (PinIndex[])[graph[l].From, graph[l].To]).ToHashSet();
        List<PinIndex> untouched =
        [
            .. graph.Order.Where(p => (touched.Contains(p) || supplies.Contains(p)) && !evidence.ContainsKey(p) && !IsGood(p)),
        ];
        var (next, unlisted) = Narrowing(links, supplies, untouched);
        return new OneFault(
            [.. together.Select(s => s.Bad)],
            together.Count == stretches.Count,
            [.. graph.Order.SelectMany(p => graph.Feeders[p]).Where(links.Contains)],
            [.. graph.Order.Where(supplies.Contains)],
            next
        )
        {
            Unlisted = unlisted,
        };
    }

    /// <summary>
    /// The pins whose reading splits the single faults that are left most evenly, each weighed by how often its kind is at fault: with
    /// one link
    /// broken a pin reads bad if and only if that link lies on every path to it. On a chain that is the middle; at joins and in loops the
    /// paths decide. A pin whose outcome is certain tells nothing and is never proposed. Among nearly equal ones the least to move comes
    /// first, then the order of measuring.
    /// </summary>
    /// <returns>What can be measured, best first; and where nothing can, what would tell most if it could.</returns>
    private (IReadOnlyList<PinIndex> Next, PinIndex? Unlisted) Narrowing(
        HashSet<LinkIndex> faults,
        HashSet<PinIndex> supplies,
        List<PinIndex> untouched
    )
    {
        var all = faults.Sum(l => graph.Weights[l]) + (supplies.Count * SupplyWeight);
        var telling = untouched
            .Select(
                (pin, i) =>
                    (
                        Pin: pin,
                        Order: i,
                        Behind: OnEveryPath(pin).Where(faults.Contains).Sum(l => graph.Weights[l])
                            + (OnEveryPathPins(pin).Count(supplies.Contains) * SupplyWeight)
                    )
            )
            .Where(c => c.Behind > 0 && c.Behind < all)
            .Select(c => (c.Pin, c.Order, Uneven: Math.Abs((2 * c.Behind) - all)))
            .OrderBy(c => c.Uneven)
            .ThenBy(c => c.Order)
            .ToList();
        var able = telling.Where(c => measurable(c.Pin)).ToList();
        if (able.Count == 0)
        {
            return ([], telling is [var best, ..] ? best.Pin : null);
        }

        var near = able[0].Uneven + (all * NearlyEqual);
        return (
            [
                .. able.OrderBy(c => c.Uneven <= near ? moves(c.Pin) : int.MaxValue)
                    .ThenBy(c => c.Uneven)
                    .ThenBy(c => c.Order)
                    .Take(MostProposals)
                    .Select(c => c.Pin),
            ],
            null
        );
    }

    // A supply is at fault about as often as a contact. Common practice, no source.
    private const int SupplyWeight = 2;

    // Splits this much of the whole apart are as good as each other.
    private const double NearlyEqual = 0.1;

    /// <summary>The links under suspicion that could bring a pin down alone; all of them where none could.</summary>
    private HashSet<LinkIndex> Alone(PinIndex bad, HashSet<LinkIndex> links)
    {
        HashSet<LinkIndex> alone = [.. OnEveryPath(bad).Where(links.Contains)];
        return alone.Count > 0 ? alone : links;
    }

    private IEnumerable<PinIndex> OnEveryPathPins(PinIndex pin) => _dominators.Of(pin).Select(d => d.Pin).OfType<PinIndex>();

    private IEnumerable<LinkIndex> OnEveryPath(PinIndex pin) => _dominators.Of(pin).Select(d => d.Link).OfType<LinkIndex>();

    /// <summary>Everything between a bad pin and the nearest measured or cleared pins before it.</summary>
    private sealed class Trace
    {
        private readonly StretchFinder _finder;
        private readonly HashSet<LinkIndex> _links = [];
        private readonly PinIndex _bad;

        public Trace(StretchFinder finder, PinIndex bad)
        {
            (_finder, _bad) = (finder, bad);
            var graph = finder.Graph;
            var (goods, bads, open, level) = (
                new HashSet<PinIndex>(),
                new HashSet<PinIndex>(),
                new HashSet<PinIndex>(),
                new HashSet<PinIndex>()
            );
            var evidence = finder.Evidence;
            var seen = new HashSet<PinIndex> { bad };
            var work = new Stack<PinIndex>([bad]);
            while (work.TryPop(out var pin))
            {
                foreach (var link in graph.Feeders[pin])
                {
                    var from = graph[link].From;
                    _links.Add(link);
                    if (finder.IsBad(from))
                    {
                        // A pin in a loop does not explain itself.
                        if (from != bad)
                        {
                            bads.Add(from);
                        }
                    }
                    else if (finder.Shields(from, bad))
                    {
                        goods.Add(from);
                    }
                    else if (seen.Add(from))
                    {
                        if (finder.IsGood(from) && evidence.ContainsKey(from))
                        {
                            level.Add(from);
                        }

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
            Level = [.. graph.Order.Where(level.Contains)];
        }

        /// <summary>Pins that are within a limit of their own and read no more than the bad one.</summary>
        public IReadOnlyList<PinIndex> Level { get; }

        public IReadOnlyList<PinIndex> Goods { get; }

        public IReadOnlyList<PinIndex> Bads { get; }

        public IReadOnlyList<PinIndex> OpenSources { get; }

        /// <summary>The links of all paths that run from one of <paramref name="starts"/> to the bad pin.</summary>
        public HashSet<LinkIndex> LinksFrom(HashSet<PinIndex> starts)
        {
            var graph = _finder.Graph;
            var found = new HashSet<LinkIndex>();
            var seen = new HashSet<PinIndex>(starts);
            var work = new Stack<PinIndex>(starts);
            while (work.TryPop(out var pin))
            {
                foreach (var link in graph.Fed[pin].Where(_links.Contains))
                {
                    found.Add(link);
                    var to = graph[link].To;
                    // Only unmeasured pins let the trace through; another measured pin is an end of its own.
                    if (!_finder.IsBad(to) && !_finder.Shields(to, _bad) && seen.Add(to))
                    {
                        work.Push(to);
                    }
                }
            }

            return found;
        }
    }

    private FeedGraph Graph => graph;

    private IReadOnlyDictionary<PinIndex, PinEvidence> Evidence => evidence;
}
