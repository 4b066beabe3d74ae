namespace RustyLedger.Core.Circuits;

/// <summary>One step along the way of a current.</summary>
/// <param name="Through">The element that leads to the node; empty at the beginning.</param>
/// <param name="Conducts">It lets current through as it stands.</param>
/// <param name="Amps">Through it, in the direction of the way; the size where it alternates.</param>
/// <param name="Volts">Of the node against the return of the first source, whichever of direct and alternating is more; null where it
/// floats.</param>
public sealed record PathStep(string Through, bool Conducts, double Amps, bool Alternates, string Node, double? Volts)
{
    /// <summary>So much flows that anybody would look for it.</summary>
    public bool Carries => Math.Abs(Amps) >= CurrentPath.LeastAmps;
}

/// <summary>What flows from pin to pin.</summary>
/// <param name="Amps">From its first pin to its second; the size where it alternates.</param>
/// <param name="Stops">Nothing flows, though volts stand across it.</param>
public sealed record FlowNow(FlowBetween Between, double Amps, bool Stops)
{
    /// <param name="point">Of the machine's circuit, with the element in it.</param>
    public static FlowNow Of(FlowBetween flow, MachineCircuit machine, OperatingPoint point)
    {
        ArgumentNullException.ThrowIfNull(flow);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(point);
        var (direct, alternating) = (point.Amps(flow.Element), point.AlternatingAmps(flow.Element).Magnitude);
        var amps = alternating > Math.Abs(direct) ? alternating : direct;
        var across =
            machine.NodeOf(flow.From) is { } a && machine.NodeOf(flow.To) is { } b
                ? Math.Max(Math.Abs((point.Volts(a) ?? 0) - (point.Volts(b) ?? 0)), point.Alternating(a, b)?.Magnitude ?? 0)
                : 0;
        return new FlowNow(flow, amps, Math.Abs(amps) < CurrentPath.LeastAmps && across > CurrentPath.LeastVolts);
    }
}

/// <summary>The way along which current comes to a place, as far as it comes.</summary>
public static class CurrentPath
{
    /// <summary>Below it nothing flows that anybody would look for, in amps. Common practice, no source.</summary>
    public const double LeastAmps = 1e-6;

    /// <summary>Below it nothing stands across what stops a current. Common practice, no source.</summary>
    internal const double LeastVolts = 0.5;

    // A way around what is open is always longer than any way through what conducts.
    private const double OpenCost = 1e4;

    /// <summary>
    /// From where a source feeds to a node, through wires, contacts, fuses, switches and what converts, never through a load; through
    /// what is open only where there is no other way (Dijkstra, 1959).
    /// </summary>
    /// <returns>The beginning first; empty where nothing leads there.</returns>
    public static IReadOnlyList<PathStep> Supply(MachineCircuit machine, OperatingPoint point, string to)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return Way(machine, point, machine.Parts.Where(p => p.Law.IsSource).SelectMany(Feeds), to);
    }

    /// <summary>From a node back to the return of the first source, likewise.</summary>
    public static IReadOnlyList<PathStep> Return(MachineCircuit machine, OperatingPoint point, string from) =>
        Way(machine, point, [from], Circuit.Reference);

    /// <summary>
    /// The same from pin to pin: a wire with the contacts at its ends is one step, called by what stops it, or else by the wire.
    /// </summary>
    public static IReadOnlyList<PathStep> FromPinToPin(IReadOnlyList<PathStep> steps)
    {
        ArgumentNullException.ThrowIfNull(steps);
        List<PathStep> pins = [];
        List<PathStep> since = [];
        foreach (var step in steps)
        {
            since.Add(step);
            if (step.Node.EndsWith(MachineCircuit.WireEnd, StringComparison.Ordinal) && step != steps[^1])
            {
                continue;
            }

            var by =
                since.Find(s => !s.Conducts)
                ?? since.Find(s => !s.Through.StartsWith(MachineCircuit.ContactAt(""), StringComparison.Ordinal))
                ?? step;
            pins.Add(by with { Node = step.Node, Volts = step.Volts });
            since.Clear();
        }

        return pins;
    }

    /// <summary>
    /// The nodes that sources feed through what conducts, never through a load, each with the one before it and by what; empty of a source
    /// itself.
    /// </summary>
    internal static IReadOnlyDictionary<string, (string Before, string By)> Fed(MachineCircuit machine, OperatingPoint point) =>
        Conducting(machine, point, machine.Parts.Where(p => p.Law.IsSource).SelectMany(Feeds));

    /// <summary>Likewise from where currents go back to.</summary>
    internal static IReadOnlyDictionary<string, (string Before, string By)> Returning(MachineCircuit machine, OperatingPoint point) =>
        Conducting(machine, point, machine.Parts.SelectMany(Returns).Append(Circuit.Reference));

    private static Dictionary<string, (string Before, string By)> Conducting(
        MachineCircuit machine,
        OperatingPoint point,
        IEnumerable<string> starts
    ) =>
        Ways(machine, point, starts)
            .Where(w => w.Value.Cost < OpenCost)
            .ToDictionary(w => w.Key, w => (w.Value.Before, w.Value.By?.Name ?? ""));

    private static List<PathStep> Way(MachineCircuit machine, OperatingPoint point, IEnumerable<string> starts, string to)
    {
        var cheapest = Ways(machine, point, starts);
        List<PathStep> steps = [];
        for (var at = to; cheapest.TryGetValue(at, out var step); at = step.Before)
        {
            var (direct, alternating) = step.By is null
                ? (0, 0)
                : (point.Amps(step.By.Name), point.AlternatingAmps(step.By.Name).Magnitude);
            var alternates = alternating > Math.Abs(direct);
            steps.Insert(
                0,
                new PathStep(
                    step.By?.Name ?? "",
                    step.By is null || Conducts(point, step.By),
                    alternates ? alternating
                        : step.Turned ? -direct
                        : direct,
                    alternates,
                    at,
                    point.Alternating(at, Circuit.Reference) is { } sine && sine.Magnitude > Math.Abs(point.Volts(at) ?? 0)
                        ? sine.Magnitude
                        : point.Volts(at)
                )
            );
            if (step.By is null)
            {
                break;
            }
        }

        return steps;
    }

    private readonly record struct Come(double Cost, string Before, CircuitElement? By, bool Turned);

    private static Dictionary<string, Come> Ways(MachineCircuit machine, OperatingPoint point, IEnumerable<string> starts)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(point);
        var noWay = NoWay(machine);
        var ways = new Dictionary<string, List<(string To, CircuitElement By, bool Turned, double Cost)>>();
        // What is there only to be shorted, such as a wire to the chassis, is no way.
        bool IsWay(CircuitElement e) =>
            !noWay.Contains(e.Name) && machine.Circuit![e.Name] is not Resistance { Ohms: double.PositiveInfinity };
        foreach (var element in point.Circuit.Elements.Where(IsWay))
        {
            foreach (var (a, b) in Ends(element))
            {
                var cost = Conducts(point, element) ? 1 : OpenCost;
                (ways.TryGetValue(a, out var from) ? from : ways[a] = []).Add((b, element, false, cost));
                if (element is not (Regulator or Converter or Transformer))
                {
                    (ways.TryGetValue(b, out var back) ? back : ways[b] = []).Add((a, element, true, cost));
                }
            }
        }

        var cheapest = new Dictionary<string, Come>();
        var open = new PriorityQueue<string, double>();
        foreach (var feed in starts)
        {
            cheapest[feed] = new Come(0, "", null, false);
            open.Enqueue(feed, 0);
        }

        while (open.TryDequeue(out var node, out var cost))
        {
            if (cost > cheapest[node].Cost)
            {
                continue;
            }

            foreach (var (next, by, turned, more) in ways.GetValueOrDefault(node) ?? [])
            {
                if (!cheapest.TryGetValue(next, out var known) || cost + more < known.Cost)
                {
                    cheapest[next] = new Come(cost + more, node, by, turned);
                    open.Enqueue(next, cost + more);
                }
            }
        }

        return cheapest;
    }

    /// <summary>Elements that no supply comes through: loads, what idles beside a rail, and what an output leaks when it is off.</summary>
    internal static HashSet<string> NoWay(MachineCircuit machine) =>
        [
            .. machine
                .Parts.Where(p =>
                    p.Law.Kind
                        is LawKind.Load
                            or LawKind.Motor
                            or LawKind.Lamp
                            or LawKind.Led
                            or LawKind.RelayCoil
                            or LawKind.Potentiometer
                            or LawKind.Capacitor
                )
                .SelectMany(p => p.Elements),
            .. machine.Parts.Where(p => p.Law.Kind == LawKind.SolidState).SelectMany(p => p.Elements.Skip(1)),
            .. machine.Parts.Select(p => PartElements.IdleOf(p.Name)),
        ];

    /// <summary>The nodes that a source feeds.</summary>
    internal static IEnumerable<string> Feeds(CircuitPart source) =>
        source.Law.IsThreePhase ? source.Nodes.Take(3)
        : source.Law.Kind == LawKind.Supply && source.Nodes.Count == 4 ? []
        : source.Nodes.Take(1);

    /// <summary>
    /// The nodes to which what it feeds goes back: of a source, and of a winding or a supply whose output hangs on nothing else.
    /// </summary>
    private static IEnumerable<string> Returns(CircuitPart part) =>
        part.Law.IsThreePhase ? part.Nodes.Skip(3)
        : part.Law.IsSource ? part.Nodes.TakeLast(1)
        : part.Law.Kind is LawKind.Transformer or LawKind.Rectifier ? part.Nodes.TakeLast(1)
        : [];

    private static IEnumerable<(string A, string B)> Ends(CircuitElement element) =>
        element switch
        {
            Resistance r => [(r.A, r.B)],
            Switch s => [(s.A, s.B)],
            Fuse f => [(f.A, f.B)],
            RelayContact c => [(c.A, c.B)],
            Diode d => [(d.Anode, d.Cathode)],
            Regulator r => [(r.In, r.Out)],
            Converter c => [(c.A, c.Plus)],
            Transformer t => [(t.P1, t.S1)],
            _ => [],
        };

    private static bool Conducts(OperatingPoint point, CircuitElement element) =>
        element switch
        {
            Resistance r => double.IsFinite(r.Ohms),
            Switch s => s.IsClosed && double.IsFinite(s.Ohms),
            Fuse f => point.States[f.Name] == ElementState.Intact && double.IsFinite(f.Ohms),
            RelayContact c => Circuit.IsClosed(c, point.States) && double.IsFinite(c.Ohms),
            Diode d => point.States[d.Name] == ElementState.On,
            Regulator r => point.States[r.Name] != ElementState.Off,
            Converter c => c.OpenVolts > 0,
            _ => true,
        };
}
