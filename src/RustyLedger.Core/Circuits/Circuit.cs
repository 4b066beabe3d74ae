namespace RustyLedger.Core.Circuits;

/// <summary>How an element stands that is more than its numbers.</summary>
public enum ElementState : byte
{
    /// <summary>Of elements that have no states.</summary>
    None,

    /// <summary>A diode that does not conduct, a regulator that gives nothing.</summary>
    Off,

    /// <summary>A diode that conducts forwards.</summary>
    On,

    /// <summary>A diode that conducts backwards.</summary>
    Breakdown,

    Intact,
    Blown,
    Released,
    Held,
    Regulating,

    /// <summary>The input of a regulator is too low: it passes on what is left.</summary>
    DroppedOut,

    /// <summary>A regulator at the most it gives.</summary>
    Limiting,
}

/// <summary>
/// Elements and their nodes, with an unknown for the volts of each node and for the current of each element that may carry one at next to
/// no volts. A low resistance keeps its current as an unknown, so that opening it stays exact.
/// </summary>
public sealed class Circuit
{
    /// <summary>The node that volts are counted from.</summary>
    public const string Reference = "0";

    /// <summary>A leak from every node, so that what floats has a solution; small beside whatever is measured. In siemens.</summary>
    internal const double Leak = 1e-12;

    /// <summary>No wire has less; in ohms.</summary>
    internal const double LeastOhms = 1e-6;

    // Below it the current of a resistance is an unknown, in ohms.
    private const double LowOhms = 1;

    private readonly Dictionary<string, int> _nodes = [];
    private readonly Dictionary<string, int> _branches = [];
    private readonly Dictionary<string, CircuitElement> _byName = [];
    private readonly Dictionary<string, int> _places = [];
    private readonly CircuitElement[] _original;
    private readonly Lazy<CircuitElement[]> _elements;
    private readonly Dictionary<int, CircuitElement> _changed = [];
    private readonly Kinds _kinds;
    private readonly Lazy<int[]> _order;

    /// <summary>Of all its alternating sources, above 0.</summary>
    public double Hertz { get; init; } = 50;

    /// <summary>Some source of it alternates.</summary>
    public bool HasAc { get; }

    /// <summary>Some source of it is direct, or makes direct current of what alternates.</summary>
    internal bool HasDc { get; }

    /// <summary>Those whose two sides are joined by what they convert alone.</summary>
    internal bool HasConverters => _kinds.Layout.HasConverters;

    /// <exception cref="ArgumentException">Two elements have one name, a contact has no coil, or a number means nothing; names
    /// which.</exception>
    public Circuit(IEnumerable<CircuitElement> elements)
    {
        ArgumentNullException.ThrowIfNull(elements);
        _original = [.. elements];
        _elements = new Lazy<CircuitElement[]>(() => _original);
        foreach (var element in Elements)
        {
            if (!_byName.TryAdd(element.Name, element))
            {
                throw new ArgumentException($"There are two elements of the name {element.Name}.", nameof(elements));
            }

            if (Wrong(element) is { } wrong)
            {
                throw new ArgumentException($"{element.Name}: {wrong}.", nameof(elements));
            }

            foreach (var node in element.Nodes.Where(n => n != Reference))
            {
                _nodes.TryAdd(node, _nodes.Count);
            }
        }

        HasAc = _original.Any(e => e is VoltageSource { AcVolts: not 0 });
        HasDc = _original.Any(e => e is VoltageSource { Volts: not 0 } or CurrentSource or Regulator or Converter);
        foreach (var contact in Elements.OfType<RelayContact>())
        {
            if (_byName.GetValueOrDefault(contact.Coil) is not RelayCoil)
            {
                throw new ArgumentException($"{contact.Name}: there is no coil {contact.Coil}.", nameof(elements));
            }
        }

        foreach (var element in Elements.Where(NeedsBranch))
        {
            _branches[element.Name] = _nodes.Count + _branches.Count;
        }

        foreach (var (place, element) in _original.Index())
        {
            _places[element.Name] = place;
        }

        _kinds = Kinds.Of(this);

        _order = new Lazy<int[]>(() => SparseLu.OrderOf(Size, Pattern()));
    }

    private Circuit(Circuit like, Dictionary<int, CircuitElement> changed, Kinds kinds)
    {
        // The same nodes and branches, so that the same unknowns mean the same; thousands of such circuits differ in one element each.
        (_nodes, _branches, _order, _byName, _original) = (like._nodes, like._branches, like._order, like._byName, like._original);
        _places = like._places;
        _kinds = kinds;
        (Hertz, HasAc, HasDc) = (like.Hertz, like.HasAc, like.HasDc);
        _changed = changed;
        _elements = new Lazy<CircuitElement[]>(() =>
        {
            var all = (CircuitElement[])_original.Clone();
            foreach (var (place, element) in _changed)
            {
                all[place] = element;
            }

            return all;
        });
    }

    public IReadOnlyList<CircuitElement> Elements => _elements.Value;

    /// <summary>All nodes but the reference.</summary>
    public IReadOnlyCollection<string> Nodes => _nodes.Keys;

    /// <summary>Unknowns: the volts of the nodes, then the currents.</summary>
    public int Size => _nodes.Count + _branches.Count;

    public CircuitElement this[string name] =>
        _changed.Count > 0 && _changed.TryGetValue(_places[name], out var changed) ? changed : _byName[name];

    /// <summary>How many elements it has.</summary>
    internal int Count => _original.Length;

    /// <summary>The element at a place of the list.</summary>
    internal CircuitElement At(int place) => _changed.TryGetValue(place, out var changed) ? changed : _original[place];

    /// <summary>Places of the elements that are otherwise than in the circuit that this was made from.</summary>
    internal IReadOnlyCollection<int> ChangedPlaces => _changed.Keys;

    /// <summary>Of the circuit that this was made from, what joins its two nodes however all stands.</summary>
    internal (int Place, int A, int B)[] Steady => _kinds.Layout.Steady;

    /// <summary>Places of all others.</summary>
    internal int[] Unsteady => _kinds.Layout.Unsteady;

    /// <summary>Adds the places at which another circuit of the same nodes has another element.</summary>
    internal void DifferingFrom(Circuit other, List<int> places)
    {
        foreach (var (place, element) in _changed)
        {
            if (!ReferenceEquals(element, other.At(place)))
            {
                places.Add(place);
            }
        }

        foreach (var (place, element) in other._changed)
        {
            if (!_changed.ContainsKey(place) && !ReferenceEquals(element, _original[place]))
            {
                places.Add(place);
            }
        }
    }

    /// <summary>Those that have a state, by their places in <see cref="ElementStates"/>: coils, then fuses, then what settles.</summary>
    internal CircuitElement[] Stateful => _kinds.Stateful;

    /// <summary>So many coils stand first.</summary>
    internal int Coils => _kinds.Layout.Coils;

    /// <summary>From this place on stands what settles: diodes, regulators, converters.</summary>
    internal int FirstSettling => _kinds.Layout.FirstSettling;

    internal ArraySegment<CircuitElement> Settling => new(_kinds.Stateful, FirstSettling, _kinds.Stateful.Length - FirstSettling);

    /// <summary>Unknowns of what has a state, by its place.</summary>
    internal Ends[] EndsOf => _kinds.Layout.Ends;

    internal bool HasRegulators => _kinds.Layout.HasRegulators;

    /// <summary>Some coil of it has a delay.</summary>
    internal bool HasDelays => _kinds.HasDelays;

    internal IReadOnlyList<VoltageSource> Sources => _kinds.Sources;

    /// <summary>Places in the list of the contacts of a coil, by the coil's place among those that have a state.</summary>
    internal int[] ContactsOf(int coil) => _kinds.Layout.Contacts[coil];

    /// <summary>The place in the list of what has a state, by its place among those.</summary>
    internal int PlaceOfStateful(int at) => _kinds.Layout.InList[at];

    /// <summary>Where an element stands among those that have a state, or the coil of a contact does; -1 where neither.</summary>
    internal int StateAt(int place) => _kinds.Layout.States[place];

    internal IReadOnlyList<CurrentSource> CurrentSources => _kinds.CurrentSources;

    /// <summary>Unknowns of the nodes that an element lies between, in its own order; -1 for the reference.</summary>
    internal int[] NodesOf(string element) => NodesAt(_places[element]);

    /// <summary>The same by the element's place in the list.</summary>
    internal int[] NodesAt(int place) => _kinds.Layout.Nodes[place];

    /// <summary>The unknown of the current of the element at a place; -1 where it has none of its own.</summary>
    internal int BranchAt(int place) => _kinds.Layout.Branches[place];

    /// <summary>Unknowns of an element's nodes and of its current; -1 for what it has not, and for the reference.</summary>
    internal readonly record struct Ends(int A, int B, int C, int D, int Branch);

    /// <summary>What all circuits share that differ in numbers alone.</summary>
    private sealed record Layout(
        int Coils,
        int FirstSettling,
        Dictionary<string, int> Places,
        Ends[] Ends,
        bool HasConverters,
        bool HasRegulators,
        int[][] Contacts,
        int[][] Nodes,
        int[] Branches,
        int[] States,
        int[] InList,
        (int Place, int A, int B)[] Steady,
        int[] Unsteady
    );

    /// <summary>
    /// The elements by what is asked of them, as arrays: thousands of circuits differ in one element each, and each is asked for these many
    /// times.
    /// </summary>
    private sealed record Kinds(
        Layout Layout,
        CircuitElement[] Stateful,
        VoltageSource[] Sources,
        CurrentSource[] CurrentSources,
        bool HasDelays
    )
    {
        public static Kinds Of(Circuit circuit)
        {
            var all = circuit._original;
            CircuitElement[] stateful =
            [
                .. all.OfType<RelayCoil>(),
                .. all.OfType<Fuse>(),
                .. all.Where(e => e is Diode or Regulator or Converter),
            ];
            var coils = stateful.Count(e => e is RelayCoil);
            int[][] nodes = Array.ConvertAll(all, e => e.Nodes.Select(circuit.IndexOf).ToArray());
            int[] branches = Array.ConvertAll(all, e => circuit.BranchOf(e.Name) ?? -1);
            var states = stateful.Index().ToDictionary(e => e.Item.Name, e => e.Index);
            var contacts = all.Index().Where(e => e.Item is RelayContact).ToLookup(e => ((RelayContact)e.Item).Coil, e => e.Index);
            Ends EndsOf(CircuitElement element)
            {
                var place = circuit._places[element.Name];
                int At(int i) => i < nodes[place].Length ? nodes[place][i] : -1;
                return new Ends(At(0), At(1), At(2), At(3), branches[place]);
            }

            return new Kinds(
                new Layout(
                    coils,
                    coils + stateful.Count(e => e is Fuse),
                    states,
                    Array.ConvertAll(stateful, EndsOf),
                    all.Any(e => e is Converter),
                    all.Any(e => e is Regulator),
                    [.. stateful.Take(coils).Select(c => contacts[c.Name].ToArray())],
                    nodes,
                    branches,
                    Array.ConvertAll(all, e => states.GetValueOrDefault(e is RelayContact c ? c.Coil : e.Name, -1)),
                    Array.ConvertAll(stateful, e => circuit._places[e.Name]),
                    [.. all.Index().Where(e => IsSteady(e.Item)).Select(e => (e.Index, nodes[e.Index][0], nodes[e.Index][1]))],
                    [.. all.Index().Where(e => !IsSteady(e.Item)).Select(e => e.Index)]
                ),
                stateful,
                [.. all.OfType<VoltageSource>()],
                [.. all.OfType<CurrentSource>()],
                all.Any(IsDelayed)
            );
        }

        private static bool IsSteady(CircuitElement element) =>
            element
                is Resistance { Ohms: < double.PositiveInfinity }
                    or RelayCoil { Ohms: < double.PositiveInfinity }
                    or VoltageSource { Ohms: < double.PositiveInfinity };

        private static bool IsDelayed(CircuitElement element) => element is RelayCoil { PullDelay: > 0 } or RelayCoil { DropDelay: > 0 };

        public Kinds With(IReadOnlyList<CircuitElement> changed)
        {
            var (stateful, sources, currents, hasDelays) = (Stateful, Sources, CurrentSources, HasDelays);
            foreach (var element in changed)
            {
                if (Layout.Places.TryGetValue(element.Name, out var place))
                {
                    stateful = ReferenceEquals(stateful, Stateful) ? Stateful.AsSpan().ToArray() : stateful;
                    stateful[place] = element;
                }
                else if (element is VoltageSource source)
                {
                    sources = Array.ConvertAll(sources, s => s.Name == source.Name ? source : s);
                }
                else if (element is CurrentSource current)
                {
                    currents = Array.ConvertAll(currents, c => c.Name == current.Name ? current : c);
                }

                hasDelays |= IsDelayed(element);
            }

            return stateful == Stateful && sources == Sources && currents == CurrentSources && hasDelays == HasDelays
                ? this
                : new Kinds(Layout, stateful, sources, currents, hasDelays);
        }
    }

    /// <summary>Whether it has an element of that name.</summary>
    public bool Contains(string element) => _byName.ContainsKey(element);

    public bool Has(string node) => node == Reference || _nodes.ContainsKey(node);

    /// <summary>The unknown of a node; -1 for the reference.</summary>
    /// <exception cref="KeyNotFoundException">There is no such node.</exception>
    public int IndexOf(string node) => node == Reference ? -1 : _nodes[node];

    /// <summary>The unknown of an element's current; null where it has none of its own.</summary>
    public int? BranchOf(string element) => _branches.TryGetValue(element, out var at) ? at : null;

    internal int[] Order => _order.Value;

    /// <summary>The same with one element in the place of that of its name; it has the same nodes.</summary>
    public Circuit With(CircuitElement changed)
    {
        ArgumentNullException.ThrowIfNull(changed);
        return With([changed]);
    }

    /// <summary>The same with elements in the places of those of their names.</summary>
    /// <exception cref="ArgumentException">There is none of that name, it has other nodes, a number means nothing, or one
    /// stands there twice.</exception>
    public Circuit With(IReadOnlyList<CircuitElement> changed)
    {
        ArgumentNullException.ThrowIfNull(changed);
        if (changed.Count > 1 && changed.GroupBy(c => c.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            throw new ArgumentException($"{twice.Key} cannot be changed into two things.", nameof(changed));
        }

        var all = new Dictionary<int, CircuitElement>(_changed);
        foreach (var element in changed)
        {
            if (!_places.TryGetValue(element.Name, out var place) || !_original[place].Nodes.SequenceEqual(element.Nodes))
            {
                throw new ArgumentException($"There is no {element.Name} between the same nodes.", nameof(changed));
            }

            if (Wrong(element) is { } wrong)
            {
                throw new ArgumentException($"{element.Name}: {wrong}.", nameof(changed));
            }

            all[place] = element;
        }

        return new Circuit(this, all, _kinds.With(changed));
    }

    private static bool NeedsBranch(CircuitElement element) =>
        element is not (Resistance { Ohms: >= LowOhms } or CurrentSource or Capacitance);

    private static string? Wrong(CircuitElement element) =>
        element switch
        {
            Resistance r when !(r.Ohms >= 0) => "a resistance has 0 ohms or more",
            VoltageSource v when !(v.Ohms >= 0) || !double.IsFinite(v.Volts) || !double.IsFinite(v.AcVolts) =>
                "a source has volts, and 0 ohms or more in series",
            CurrentSource i when !double.IsFinite(i.Amps) => "a source of current has amps",
            Diode d when !(d.Ohms > 0) || !(d.ForwardVolts >= 0) || d.ReverseVolts <= 0 =>
                "a diode has forward volts, more than 0 ohms, and a breakdown above 0",
            Switch s when !(s.Ohms >= 0) => "a contact has 0 ohms or more",
            Fuse f when !(f.Ohms >= 0) || !(f.Amps > 0) || f.Residual <= 0 =>
                "a fuse has 0 ohms or more, and amps above 0; so has what looks at a residual current",
            RelayCoil c when !(c.Ohms > 0) || !(c.PullIn > c.DropOut) || !(c.DropOut >= 0) =>
                "a coil has more than 0 ohms, and drops out below what pulls it in",
            RelayCoil c when !(c.PullDelay >= 0) || !(c.DropDelay >= 0) => "a delay is 0 seconds or more",
            RelayContact c when !(c.Ohms >= 0) => "a contact has 0 ohms or more",
            Regulator r when !(r.Limit > 0) || !(r.DropOut >= 0) || !(r.Volts > 0) =>
                "a regulator has volts and a limit above 0, and a drop-out of 0 or more",
            Converter c when !(c.Limit > 0) || !(c.Ohms >= 0) || c.Volts <= 0 || !(c.Ratio >= 0) =>
                "a supply has volts and a limit above 0, and 0 ohms or more",
            Capacitance c when !(c.Farads >= 0) => "a capacitance has 0 farads or more",
            Inductance l when !(l.Henry >= 0) || !(l.Ohms >= 0) => "an inductance has 0 henry and 0 ohms or more",
            Transformer t when !(t.Ratio > 0) || !(t.SecondaryOhms >= 0) || !(t.PrimaryOhms >= 0) =>
                "a transformer has a ratio above 0, and 0 ohms or more",
            _ => null,
        };

    /// <summary>Where the matrix may have entries in whatever state.</summary>
    private IEnumerable<(int Row, int Column)> Pattern()
    {
        foreach (var element in Elements)
        {
            List<int> at = [.. element.Nodes.Select(IndexOf).Where(i => i >= 0)];
            if (BranchOf(element.Name) is { } branch)
            {
                at.Add(branch);
            }

            foreach (var row in at)
            {
                foreach (var column in at)
                {
                    yield return (row, column);
                }
            }
        }
    }

    /// <summary>How each element stands before anything is switched on.</summary>
    public ElementStates AtRest() =>
        new(
            _kinds.Layout.Places,
            Array.ConvertAll(
                _kinds.Stateful,
                e =>
                    e switch
                    {
                        Diode => ElementState.Off,
                        Fuse => ElementState.Intact,
                        RelayCoil => ElementState.Released,
                        Converter => ElementState.Off,
                        _ => ElementState.Regulating,
                    }
            )
        );

    /// <summary>The same of the contact at a place of the list.</summary>
    internal bool IsClosedAt(int place, RelayContact contact, ElementStates states) =>
        contact.AlwaysCloses || contact.ClosesWhenHeld == (states.All[StateAt(place)] == ElementState.Held);

    /// <summary>Whether a contact is closed with its coil as it stands.</summary>
    internal static bool IsClosed(RelayContact contact, IReadOnlyDictionary<string, ElementState> states) =>
        contact.AlwaysCloses || contact.ClosesWhenHeld == (states[contact.Coil] == ElementState.Held);
}
