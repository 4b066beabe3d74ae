using System.Runtime.CompilerServices;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Circuits;

/// <summary>One part of a machine's circuit.</summary>
/// <param name="Name">As printed; its elements are called after it.</param>
/// <param name="Nodes">It lies between, in the order of <see cref="PartElements.PinWords"/>.</param>
/// <param name="Elements">Names of its elements in the circuit.</param>
/// <param name="When">Of what switches; null of all else.</param>
public sealed record CircuitPart(string Name, PartLaw Law, IReadOnlyList<string> Nodes, IReadOnlyList<string> Elements, SwitchedWhen? When)
{
    /// <summary>Between which its elements lie: its nodes, but for what stands before it to switch it.</summary>
    internal IReadOnlyList<string> At { get; init; } = Nodes;

    /// <summary>Of a contact, the element of its coil.</summary>
    internal string Coil { get; init; } = "";

    /// <summary>Of the sheet's row that says it; empty where none does.</summary>
    public string RowId { get; init; } = "";

    /// <summary>The node in its middle.</summary>
    internal string? Within { get; init; }

    /// <summary>Its elements with one number so many times what it is, as far as they are others then.</summary>
    /// <param name="circuit">It is in.</param>
    public IReadOnlyList<CircuitElement> Scaled(Circuit circuit, string number, double factor)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return
        [
            .. PartElements
                .Of(
                    Name,
                    Law.Scaled(number, factor),
                    At,
                    When is not null && circuit[Elements[0]] is Switch { IsClosed: true },
                    Coil,
                    Within
                )
                .Where(e => e != PartElements.Plain(circuit[e.Name])),
        ];
    }
}

/// <summary>What must still be entered before a part counts.</summary>
/// <param name="Part">As printed.</param>
/// <param name="Words">What is missing, such as <c>its amps, watts or ohms</c>.</param>
/// <param name="Kinds">Words a row of it may begin with.</param>
public sealed record CircuitGap(string Part, string Words, IReadOnlyList<string> Kinds);

/// <summary>A row that could not be used.</summary>
/// <param name="RowId">Of the row; empty for what is wrong with the circuit as a whole.</param>
/// <param name="Column">Of the field that is wrong, as the sheet calls it.</param>
public sealed record RowProblem(string RowId, string Words, string Column = "what");

/// <summary>A wire, a path or a part between two pins, and the element that its current flows through.</summary>
public sealed record FlowBetween(PinAddress From, PinAddress To, string Element);

/// <summary>
/// The circuit of one machine: its pins are the nodes, its wires, tracks and contacts join them, and its parts are what the model's sheet
/// says of them. What nobody said is assumed where that is sensible, and a gap where it is not.
/// </summary>
public sealed class MachineCircuit
{
    private static readonly ConditionalWeakTable<ResolvedMachine, MachineCircuit> _ofMachines = [];
    private readonly Dictionary<PinAddress, string> _nodes;
    private readonly Dictionary<string, IReadOnlyList<OperatingPoint>> _points = [];
    private readonly Lock _gate = new();

    internal MachineCircuit(
        ResolvedMachine machine,
        Circuit? circuit,
        IReadOnlyList<CircuitPart> parts,
        IReadOnlyList<CircuitGap> gaps,
        IReadOnlyList<RowProblem> problems,
        IReadOnlyList<FlowBetween> flows,
        Dictionary<PinAddress, string> nodes
    )
    {
        (Machine, Circuit, Parts, Gaps, Problems, Flows, _nodes) = (machine, circuit, parts, gaps, problems, flows, nodes);
    }

    public ResolvedMachine Machine { get; }

    /// <summary>With its switches as they stand before anything is switched on; null while no source is known.</summary>
    public Circuit? Circuit { get; }

    public IReadOnlyList<CircuitPart> Parts { get; }

    public IReadOnlyList<CircuitGap> Gaps { get; }

    /// <summary>Rows that could not be used, in words.</summary>
    public IReadOnlyList<RowProblem> Problems { get; }

    /// <summary>Where current can flow from pin to pin.</summary>
    public IReadOnlyList<FlowBetween> Flows { get; }

    public static MachineCircuit Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return _ofMachines.GetValue(machine, m => new MachineCircuitBuilder(m).Build());
    }

    /// <summary>The node of a pin; null where it is not in the circuit.</summary>
    public string? NodeOf(PinAddress pin) => _nodes.TryGetValue(pin, out var node) && (Circuit?.Has(node) ?? false) ? node : null;

    /// <summary>
    /// The node of a pin as it is printed, a dot in place of the middle dot allowed; null where it is not in the circuit.
    /// </summary>
    public string? NodeCalled(string printed)
    {
        ArgumentNullException.ThrowIfNull(printed);
        var key = MachineCircuitBuilder.Key(printed);
        var pin = _nodes.Keys.FirstOrDefault(a =>
            Machine.Pins[a] is var p
            && (MachineCircuitBuilder.Key(p.Printed) == key || MachineCircuitBuilder.Key(p.ElsewherePrinted ?? "") == key)
        );
        return pin is null ? null : NodeOf(pin);
    }

    /// <summary>Pins by node: those that are one with it but for nothing.</summary>
    public IReadOnlyDictionary<PinAddress, string> Nodes => _nodes;

    /// <summary>
    /// What is switched from off to a state, in the stated order of states, and within one by its delay, else in the order of the rows.
    /// </summary>
    public IReadOnlyList<SwitchAct> ActsTo(OperatingState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        var (acts, stands) = (new List<SwitchAct>(), new Dictionary<string, bool>());
        var before = Machine
            .Model.Circuit.Before(state)
            .Select(name => Machine.Model.States.FirstOrDefault(s => SwitchedWhen.IsOf(s, name)))
            .OfType<OperatingState>();
        foreach (var next in before.Append(state))
        {
            // What waits comes after what does not; a stable sort leaves the rest in the order of the rows.
            foreach (var part in Parts.Where(p => p.When is not null).OrderBy(p => p.When!.IsClosedIn(next) ? p.When.Delay : 0))
            {
                var closes = part.When!.IsClosedIn(next);
                if (stands.GetValueOrDefault(part.Name, part.When.IsClosedIn(OffState(Machine.Model))) != closes)
                {
                    acts.Add(new SwitchAct(part.Elements[0], closes));
                    stands[part.Name] = closes;
                }
            }
        }

        return acts;
    }

    /// <summary>The points from off to a state; the last is the state's, or the first that has none.</summary>
    /// <exception cref="InvalidOperationException">There is no circuit.</exception>
    public IReadOnlyList<OperatingPoint> PointsTo(OperatingState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        var circuit = Circuit ?? throw new InvalidOperationException("There is no circuit.");
        lock (_gate)
        {
            return _points.TryGetValue(state.Code, out var known) ? known : _points[state.Code] = ActSequence.Run(circuit, ActsTo(state));
        }
    }

    /// <summary>
    /// How long after it was switched to a state the machine is at rest, in seconds, as far as delays are stated; 0 where none is.
    /// </summary>
    /// <exception cref="InvalidOperationException">There is no circuit.</exception>
    public double SecondsTo(OperatingState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        var (acts, points) = (ActsTo(state), PointsTo(state));
        var closing = acts.Where(a => a.Closes).Select(a => a.Switch).ToHashSet();
        var switched = Parts.Where(p => p.When is { Delay: > 0 } && closing.Contains(p.Elements[0])).Select(p => p.When!.Delay);
        return switched.DefaultIfEmpty(0).Max() + points.Sum(p => p.Seconds);
    }

    /// <summary>Its circuit, or one that differs from it, with every switch as it stands in a state.</summary>
    public Circuit In(OperatingState state, Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(state);
        ArgumentNullException.ThrowIfNull(circuit);
        return circuit.With([
            .. Parts
                .Where(p => p.When is not null)
                .Select(p => (CircuitElement)((Switch)circuit[p.Elements[0]] with { IsClosed = p.When!.IsClosedIn(state) })),
        ]);
    }

    /// <summary>The state from which the others are reached: the first in which nothing is energised.</summary>
    internal static OperatingState OffState(Model model) =>
        model.States.FirstOrDefault(s => !s.Energised) ?? new OperatingState("off", "off", false);

    /// <summary>Ends the name of a node behind a plug's contact.</summary>
    public const string WireEnd = " wire";

    /// <summary>The name of a wire's leak to the chassis, as an element.</summary>
    public static string LeakOf(string wire) => $"{wire} to chassis";

    /// <summary>
    /// What a fuse feeds, whatever it is: as an element a short to the return, open on a healthy machine; as a part what has it.
    /// </summary>
    public static string Behind(string fuse) => $"something behind {fuse}";

    /// <summary>The name of a plug's contact at a pin, as an element.</summary>
    public static string ContactAt(string printed) => $"contact {printed}";
}
