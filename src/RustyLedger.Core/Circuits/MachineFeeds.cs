using System.Runtime.CompilerServices;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// Which pin of a machine feeds which: as somebody entered it, and where nobody did, the way that current takes through the circuit in all
/// states in which it flows. What is entered of a pin stands; nothing is added that would let power run in a circle.
/// </summary>
/// <param name="Links">All with a direction; what the circuit says of them has <see cref="Level.Computed"/> as its origin.</param>
/// <param name="Sources">Pins at which power enters.</param>
public sealed record MachineFeeds(IReadOnlyList<ResolvedLink> Links, IReadOnlySet<PinAddress> Sources)
{
    private static readonly ConditionalWeakTable<ResolvedMachine, MachineFeeds> _ofMachines = [];
    private static readonly Origin _circuit = new(Level.Computed, "the circuit");

    public static MachineFeeds Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return _ofMachines.GetValue(machine, Make);
    }

    private static MachineFeeds Make(ResolvedMachine machine)
    {
        List<ResolvedLink> links = [.. machine.Links.Where(l => l.Directed)];
        HashSet<PinAddress> sources = [.. machine.Pins.Values.Where(p => p.Pin.IsSource).Select(p => p.Address)];
        if (machine.Model.Circuit.Rows.Count == 0 || MachineCircuit.Of(machine) is not { Circuit: not null } circuit)
        {
            return new MachineFeeds(links, sources);
        }

        // A machine of which nobody marked where power enters has its sources all the same.
        if (sources.Count == 0)
        {
            var feeding = circuit.Parts.Where(p => p.Law.IsSource).SelectMany(CurrentPath.Feeds).ToHashSet();
            sources.UnionWith(circuit.Nodes.Where(n => feeding.Contains(n.Value) && machine.Pins.ContainsKey(n.Key)).Select(n => n.Key));
        }

        var undirected = machine
            .Links.Where(l => !l.Directed)
            .SelectMany(l => new[] { (Ends: (l.From, l.To), Link: l), (Ends: (l.To, l.From), Link: l) })
            .ToLookup(l => l.Ends, l => l.Link);
        var taken = links.SelectMany(l => new[] { (l.From, l.To), (l.To, l.From) }).ToHashSet();
        var fed = links.GroupBy(l => l.From).ToDictionary(g => g.Key, g => g.Select(l => l.To).ToList());
        var reached = links.Select(l => l.To).ToHashSet();
        void Add(PinAddress from, PinAddress to, string name)
        {
            if (from == to || taken.Contains((from, to)) || Leads(fed, to, from))
            {
                return;
            }

            taken.UnionWith([(from, to), (to, from)]);
            reached.Add(to);
            (fed.TryGetValue(from, out var next) ? next : fed[from] = []).Add(to);
            var drawn = undirected[(from, to)].FirstOrDefault();
            var isInner = drawn?.IsInner ?? (from.InPosition is { } position && to.InPosition == position);
            links.Add(new ResolvedLink(drawn?.Id ?? $"circuit {name}", from, to, true, isInner, _circuit));
        }

        // What somebody said feeds a pin is all that feeds it.
        var told = reached.ToHashSet();
        foreach (var (flow, isTurned) in Directions(circuit))
        {
            var (from, to) = isTurned ? (flow.To, flow.From) : (flow.From, flow.To);
            if (!told.Contains(to))
            {
                Add(from, to, flow.Element);
            }
        }

        foreach (var (from, to) in Comes(circuit))
        {
            if (!reached.Contains(to) && !sources.Contains(to))
            {
                Add(from, to, $"to {machine.Pins[to].Printed}");
            }
        }

        return new MachineFeeds(links, sources);
    }

    /// <summary>
    /// Each pin that a source feeds, with the nearest pin before it: through a transformer or a regulator there may be points between that
    /// are on no drawing.
    /// </summary>
    private static IEnumerable<(PinAddress From, PinAddress To)> Comes(MachineCircuit circuit)
    {
        var pinAt = circuit.Nodes.Where(n => circuit.Machine.Pins.ContainsKey(n.Key)).ToLookup(n => n.Value, n => n.Key);
        var found = new HashSet<PinAddress>();
        foreach (var (fed, returning) in Energised(circuit).Select(e => (e.Fed, e.Returning)))
        {
            foreach (var node in fed.Keys.Where(n => pinAt.Contains(n) && !returning.ContainsKey(n)))
            {
                var at = node;
                while (fed.TryGetValue(at, out var come) && come.By.Length > 0 && (at == node || !pinAt.Contains(at)))
                {
                    at = come.Before;
                }

                if (at != node && pinAt.Contains(at))
                {
                    foreach (var pin in pinAt[node].Where(found.Add))
                    {
                        yield return (pinAt[at].First(), pin);
                    }
                }
            }
        }
    }

    private static IEnumerable<(
        OperatingPoint Point,
        IReadOnlyDictionary<string, (string Before, string By)> Fed,
        IReadOnlyDictionary<string, (string Before, string By)> Returning
    )> Energised(MachineCircuit circuit) =>
        circuit
            .Machine.Model.States.Where(s => s.Energised)
            .Select(s => circuit.PointsTo(s)[^1])
            .Where(p => p.Problem is null)
            .Select(p => (p, CurrentPath.Fed(circuit, p), CurrentPath.Returning(circuit, p)));

    /// <summary>
    /// What lies between a source and its loads, and flows one way in every state; turned where that is from its second pin.
    /// </summary>
    private static IEnumerable<(FlowBetween Flow, bool IsTurned)> Directions(MachineCircuit circuit)
    {
        // Both ways are kept: what is found to flow both ways feeds neither.
        var ways = new Dictionary<FlowBetween, (bool Straight, bool Turned)>();
        var noWay = CurrentPath.NoWay(circuit);
        noWay.UnionWith(circuit.Parts.Where(p => p.Law.IsSource).SelectMany(p => p.Elements));
        List<FlowBetween> flows = [.. circuit.Flows.Where(f => !noWay.Contains(f.Element))];
        foreach (var (point, fed, returning) in Energised(circuit))
        {
            foreach (var flow in flows)
            {
                if (
                    circuit.NodeOf(flow.From) is not { } from
                    || circuit.NodeOf(flow.To) is not { } to
                    || !fed.ContainsKey(from)
                    || !fed.ContainsKey(to)
                    || (returning.ContainsKey(from) && returning.ContainsKey(to))
                )
                {
                    continue;
                }

                var amps = point.Amps(flow.Element);
                var comes =
                    Math.Abs(amps) >= CurrentPath.LeastAmps ? amps > 0
                    : ComesBy(fed, from, to) ? true
                    : ComesBy(fed, to, from) ? false
                    : (bool?)null;
                if (comes is { } straight)
                {
                    var known = ways.GetValueOrDefault(flow);
                    ways[flow] = (known.Straight || straight, known.Turned || !straight);
                }
            }
        }

        return circuit.Flows.Where(f => ways.TryGetValue(f, out var way) && way.Straight != way.Turned).Select(f => (f, ways[f].Turned));
    }

    /// <summary>Whether the way from a source to a node comes through another, over nothing but the contacts of a wire between.</summary>
    private static bool ComesBy(IReadOnlyDictionary<string, (string Before, string By)> fed, string through, string to)
    {
        // Contact, wire, contact.
        const int Most = 3;
        var at = to;
        for (var step = 0; step < Most && fed.TryGetValue(at, out var come) && come.By.Length > 0; step++)
        {
            at = come.Before;
            if (at == through)
            {
                return true;
            }
        }

        return false;
    }

    private static bool Leads(Dictionary<PinAddress, List<PinAddress>> fed, PinAddress from, PinAddress to)
    {
        var (seen, work) = (new HashSet<PinAddress> { from }, new Stack<PinAddress>([from]));
        while (work.TryPop(out var at))
        {
            if (at == to)
            {
                return true;
            }

            foreach (var next in (fed.GetValueOrDefault(at) ?? []).Where(seen.Add))
            {
                work.Push(next);
            }
        }

        return false;
    }
}
