using System.Globalization;
using System.Numerics;

namespace RustyLedger.Core.Circuits;

/// <summary>Why a circuit has no operating point.</summary>
public enum NoPoint
{
    /// <summary>Sources hold different volts between the same nodes, or the same twice.</summary>
    SourcesInConflict,

    /// <summary>A relay pulls in and by that drops out: it chatters.</summary>
    Chatters,

    /// <summary>Diodes, regulators and relays found no state that fits.</summary>
    NotFound,

    /// <summary>The current of a source has no way back to it.</summary>
    NoWayBack,
}

/// <param name="Kind">What is wrong.</param>
/// <param name="Names">Of the elements it is about.</param>
/// <param name="Words">The same in a sentence.</param>
public sealed record CircuitProblem(NoPoint Kind, IReadOnlyList<string> Names, string Words);

/// <summary>
/// A circuit at rest: the volts of each node, the current of each element, and how each switching element stands. Steady states alone;
/// chopped and phase-controlled waveforms are not predicted.
/// </summary>
public sealed class OperatingPoint
{
    // Volts and amps by which a state may be off before it counts as wrong.
    private const double Tolerance = 1e-9;

    // No circuit of this ledger has so many volts: what solves to them has no way back for its current.
    private const double SillyVolts = 1e7;

    private readonly Circuit _circuit;

    // Turns in which converters and what feeds them find each other.
    private const int MostTurns = 400;

    // By what share a converter's output or load may be off still.
    private const double NearEnough = 1e-9;

    private readonly double[] _x;
    private readonly Complex[]? _ac;
    private readonly int[] _island;

    private OperatingPoint(
        Circuit circuit,
        IReadOnlyDictionary<string, ElementState> states,
        double[] x,
        Complex[]? ac,
        int[] island,
        IReadOnlyList<Stage> stages,
        CircuitProblem? problem,
        double seconds = 0
    )
    {
        (_circuit, States, _x, _ac, _island, Stages, Problem, Seconds) = (circuit, states, x, ac, island, stages, problem, seconds);
    }

    /// <summary>How long it took to come to rest, by the delays of what switched on the way.</summary>
    public double Seconds { get; }

    /// <summary>One rest on the way: relays and fuses as they stood, what settled then, and what moved because of it.</summary>
    /// <param name="Alternating">Null where nothing alternates.</param>
    internal sealed record Stage(Circuit Circuit, ElementStates States, Solution<double> Direct, Solution<Complex>? Alternating);

    public Circuit Circuit => _circuit;

    public IReadOnlyDictionary<string, ElementState> States { get; }

    /// <summary>Null where there is an operating point.</summary>
    public CircuitProblem? Problem { get; }

    /// <summary>How it was reached, itself the last; empty for a point that was worked out from another.</summary>
    internal IReadOnlyList<Stage> Stages { get; }

    /// <summary>Volts of a node; null where it floats, or there is no operating point.</summary>
    /// <exception cref="KeyNotFoundException">There is no such node.</exception>
    public double? Volts(string node)
    {
        var at = _circuit.IndexOf(node);
        return Problem is not null ? null
            : at < 0 ? 0
            : _island[at] == 0 ? _x[at]
            : null;
    }

    /// <summary>Volts between two nodes; null where nothing that conducts joins them, or there is no operating point.</summary>
    public double? Between(string red, string black)
    {
        var (a, b) = (_circuit.IndexOf(red), _circuit.IndexOf(black));
        return Problem is null && Island(a) == Island(b) ? Raw(a) - Raw(b) : null;
    }

    /// <summary>
    /// The alternating volts between two nodes, in the measure in which the sources state theirs; null where nothing that conducts joins
    /// them, or there is no operating point.
    /// </summary>
    public Complex? Alternating(string red, string black)
    {
        var (a, b) = (_circuit.IndexOf(red), _circuit.IndexOf(black));
        return Problem is not null || Island(a) != Island(b) ? null : At(_ac, a) - At(_ac, b);
    }

    /// <summary>The alternating current through an element, as <see cref="Amps"/>.</summary>
    public Complex AlternatingAmps(string element) =>
        _ac is null || Problem is not null ? Complex.Zero
        : _circuit.BranchOf(element) is { } branch ? _ac[branch]
        : _circuit[element] is Resistance r ? (At(_ac, _circuit.IndexOf(r.A)) - At(_ac, _circuit.IndexOf(r.B))) / r.Ohms
        : Complex.Zero;

    /// <summary>Junctions that stand under alternating volts: what flows through them is no sine, and is not predicted.</summary>
    public IReadOnlyList<string> NotPredicted =>
        _ac is null || Problem is not null
            ? []
            :
            [
                .. _circuit
                    .Elements.OfType<Diode>()
                    .Where(d => (At(_ac, _circuit.IndexOf(d.Anode)) - At(_ac, _circuit.IndexOf(d.Cathode))).Magnitude > MostRipple)
                    .Select(d => d.Name),
            ];

    // Alternating volts across a junction that leave its state alone.
    private const double MostRipple = 0.3;

    private static Complex At(Complex[]? ac, int node) => ac is null || node < 0 ? Complex.Zero : ac[node];

    private int Island(int node) => node < 0 ? 0 : _island[node];

    private double Raw(int node) => node < 0 ? 0 : _x[node];

    /// <summary>
    /// Current through an element, from its first node to its second; of a source out of its minus and through it, so that a source that
    /// feeds has less than nothing.
    /// </summary>
    public double Amps(string element)
    {
        if (_circuit.BranchOf(element) is { } branch)
        {
            return Problem is null ? _x[branch] : double.NaN;
        }

        return _circuit[element] switch
        {
            Resistance r => (Raw(_circuit.IndexOf(r.A)) - Raw(_circuit.IndexOf(r.B))) / Math.Max(r.Ohms, Circuit.LeastOhms),
            CurrentSource i => i.Amps,
            _ => 0,
        };
    }

    /// <summary>
    /// The point that a circuit comes to from how its relays and fuses stood. Diodes and regulators settle first, then relays, and only
    /// then what a steady current blows.
    /// </summary>
    /// <param name="from">How each stood before, such as <see cref="States"/> of the point before a switch was turned; null for at
    /// rest.</param>
    public static OperatingPoint Of(Circuit circuit, IReadOnlyDictionary<string, ElementState>? from = null) => Of(circuit, from, null);

    /// <summary>What is near to known solutions, solved from them; only numbers are taken over, never what is held.</summary>
    internal interface IWarm
    {
        /// <summary>Diodes and regulators as they stood where relays and fuses stood so.</summary>
        void Guess(ElementStates states);

        /// <returns>Null where it is too far from all that is known.</returns>
        double[]? Direct(Circuit circuit, ElementStates states);

        /// <returns>The same of what alternates.</returns>
        Complex[]? Alternating(Circuit circuit, ElementStates states);

        /// <summary>A solution that had to be found anew; others may be near to it.</summary>
        void Learn(Circuit circuit, ElementStates states, Solution<double> found);

        void Learn(Circuit circuit, ElementStates states, Solution<Complex> found);

        /// <summary>Unknowns that nobody looks at any more.</summary>
        void Spare(double[] x);

        /// <returns>Null where they have to be found anew.</returns>
        int[]? Islands(Circuit circuit, ElementStates states, double[] x);
    }

    internal static OperatingPoint Of(Circuit circuit, IReadOnlyDictionary<string, ElementState>? from, IWarm? warm)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var states = circuit.AtRest();
        if (from is not null)
        {
            states.Take(from);
        }

        // Near to a solution there is none that was not there.
        if (warm is null && Conflict(circuit) is { } conflict)
        {
            return Nothing(circuit, states, conflict);
        }

        List<ElementState[]> seen = [];
        List<Stage> stages = [];
        var timers = circuit.HasDelays ? new Timers() : null;
        var turns = 0;
        for (; ; )
        {
            warm?.Guess(states);
            if (Settle(circuit, states, warm) is not { } settled)
            {
                return Nothing(
                    circuit,
                    states,
                    new CircuitProblem(NoPoint.NotFound, [], "No state of the diodes and regulators fits: it cannot be worked out.")
                );
            }

            Solution<Complex>? alternating;
            try
            {
                alternating = circuit.HasAc ? Alternate(circuit, states, warm) : null;
            }
            catch (SingularMatrixException)
            {
                return Nothing(
                    circuit,
                    states,
                    new CircuitProblem(NoPoint.SourcesInConflict, [], "Alternating sources hold volts between the same points.")
                );
            }

            var ac = alternating?.X;
            if (circuit.HasConverters && Coupled(circuit, settled.X, ac) is { Count: > 0 } changed)
            {
                if (turns++ > MostTurns)
                {
                    return Nothing(
                        circuit,
                        states,
                        new CircuitProblem(
                            NoPoint.NotFound,
                            [.. changed.Select(c => c.Name)],
                            $"{string.Join(" and ", changed.Select(c => c.Name))} and what feeds it find no rest: too weak for the load."
                        )
                    );
                }

                circuit = circuit.With(changed);
                continue;
            }

            // What has a delay moves only where what moves sooner has left its reason alone.
            var moving = Moving(circuit, settled.X, states, ac);
            moving = timers?.Next(circuit, moving, states) ?? moving;
            // A fuse is quicker than any delay, and slower than a relay that has none.
            var blowing = moving.Count > 0 && timers is not { AreWaiting: true } ? [] : Blowing(circuit, settled.X, states, ac);
            if (blowing.Count > 0)
            {
                moving = [];
            }

            if (warm is null)
            {
                stages.Add(new Stage(circuit, states.Copy(), settled, alternating));
            }

            if (moving.Count > 0)
            {
                var relays = states.All[..circuit.Coils];
                foreach (var before in seen)
                {
                    if (relays.SequenceEqual(before))
                    {
                        List<string> names = [.. moving.Select(m => circuit.Stateful[m].Name)];
                        return Nothing(
                            circuit,
                            states,
                            new CircuitProblem(
                                NoPoint.Chatters,
                                names,
                                $"{string.Join(" and ", names)} {(names.Count == 1 ? "chatters" : "chatter")}: "
                                    + "pulling in takes away what pulls in."
                            )
                        );
                    }
                }

                seen.Add(relays.ToArray());
                timers?.Pass();
                foreach (var coil in moving)
                {
                    relays[coil] = relays[coil] == ElementState.Held ? ElementState.Released : ElementState.Held;
                }

                continue;
            }

            if (blowing.Count > 0)
            {
                // One device at a time: what it was that drew too much goes with it.
                foreach (var pole in blowing)
                {
                    states.All[pole] = ElementState.Blown;
                }

                seen.Clear();
                continue;
            }

            var island = warm?.Islands(circuit, states, settled.X) ?? Islands(circuit, states, settled.X);
            if (Lost(circuit, island, settled.X) is { } lost)
            {
                return Nothing(circuit, states, lost);
            }

            return new OperatingPoint(circuit, states, settled.X, ac, island, stages, null, timers?.Now ?? 0);
        }
    }

    /// <summary>
    /// Since when each relay has had its reason to move: those move next whose delay is over first, all others keep waiting while their
    /// reason stands.
    /// </summary>
    private sealed class Timers
    {
        private readonly Dictionary<int, double> _due = [];
        private double _next;

        public double Now { get; private set; }

        /// <summary>Nothing moves at once: the next has to wait for it.</summary>
        public bool AreWaiting => _next > Now;

        public List<int> Next(Circuit circuit, List<int> wanting, ElementStates states)
        {
            foreach (var gone in _due.Keys.Except(wanting).ToList())
            {
                _due.Remove(gone);
            }

            foreach (var place in wanting)
            {
                var coil = (RelayCoil)circuit.Stateful[place];
                _due.TryAdd(place, Now + (states.All[place] == ElementState.Held ? coil.DropDelay : coil.PullDelay));
            }

            _next = _due.Count > 0 ? _due.Values.Min() : Now;
            return [.. wanting.Where(place => _due[place] <= _next)];
        }

        /// <summary>The next have moved.</summary>
        public void Pass()
        {
            Now = _next;
            foreach (var place in _due.Where(d => d.Value <= Now).Select(d => d.Key).ToList())
            {
                _due.Remove(place);
            }
        }
    }

    private static OperatingPoint Nothing(Circuit circuit, IReadOnlyDictionary<string, ElementState> states, CircuitProblem problem) =>
        new(circuit, states, new double[circuit.Size], null, new int[circuit.Nodes.Count], [], problem);

    /// <summary>The converters whose output or load does not fit what comes in and what is drawn.</summary>
    private static List<CircuitElement> Coupled(Circuit circuit, double[] x, Complex[]? ac)
    {
        bool IsNear(double a, double b) => Math.Abs(a - b) <= NearEnough * Math.Max(1e-3, Math.Max(Math.Abs(a), Math.Abs(b)));
        return
        [
            .. circuit
                .Settling.OfType<Converter>()
                .Select(c => (Was: c, Now: c.At(Rms(Ends(circuit, c), x, ac), x[circuit.BranchOf(c.Name)!.Value])))
                .Where(c => !IsNear(c.Was.OpenVolts, c.Now.OpenVolts) || !IsNear(c.Was.InSiemens, c.Now.InSiemens))
                .Select(c => c.Now),
        ];
    }

    private static Circuit.Ends Ends(Circuit circuit, Converter converter) =>
        circuit.NodesOf(converter.Name) is var at ? new Circuit.Ends(at[0], at[1], at[2], at[3], -1) : default;

    /// <summary>Root mean square of what is direct and what alternates between the first two nodes.</summary>
    private static double Rms(Circuit.Ends ends, double[] x, Complex[]? ac)
    {
        var direct = Of(x, ends.A) - Of(x, ends.B);
        return ac is null ? Math.Abs(direct) : double.Hypot(direct, (At(ac, ends.A) - At(ac, ends.B)).Magnitude);
    }

    /// <summary>Finds the states of diodes and regulators that fit, the relays and fuses as they stand.</summary>
    private static Solution<double>? Settle(Circuit circuit, ElementStates states, IWarm? warm)
    {
        if (circuit.HasAc && !circuit.HasDc)
        {
            // Nothing of it is direct: all that could flow is nothing.
            return new Solution<double>(new double[circuit.Size], null);
        }

        var first = circuit.FirstSettling;
        var settling = states.All[first..];
        List<ElementState[]> seen = [];
        var isCareful = false;
        // All that are wrong turn at once, until that goes round; then one after the other, the first that is wrong
        // (least index first: Murty, "Note on a Bard-type scheme", 1974).
        for (var turn = 0; turn < 60 + (20 * settling.Length); turn++)
        {
            Solution<double> solved;
            try
            {
                if (warm?.Direct(circuit, states) is { } x)
                {
                    solved = new Solution<double>(x, null);
                }
                else
                {
                    solved = Solution<double>.Of(circuit, states);
                    warm?.Learn(circuit, states, solved);
                }
            }
            catch (SingularMatrixException)
            {
                return null;
            }

            var wrong = false;
            for (var i = 0; i < settling.Length; i++)
            {
                if (Fitting(circuit, first + i, settling[i], solved.X) is { } better)
                {
                    settling[i] = better;
                    wrong = true;
                    if (isCareful)
                    {
                        break;
                    }
                }
            }

            if (!wrong)
            {
                return solved;
            }

            if (solved.Factors is null)
            {
                warm?.Spare(solved.X);
            }

            if (!isCareful)
            {
                foreach (var before in seen)
                {
                    isCareful = isCareful || settling.SequenceEqual(before);
                }

                seen.Add(settling.ToArray());
            }
        }

        return null;
    }

    private static Solution<Complex> Alternate(Circuit circuit, ElementStates states, IWarm? warm)
    {
        if (warm?.Alternating(circuit, states) is { } x)
        {
            return new Solution<Complex>(x, null);
        }

        var solved = Solution<Complex>.Of(circuit, states, 2 * Math.PI * circuit.Hertz);
        warm?.Learn(circuit, states, solved);
        return solved;
    }

    private static double Of(ReadOnlySpan<double> x, int unknown) => unknown < 0 ? 0 : x[unknown];

    /// <summary>The state that what stands at a place should rather be in; null where it fits.</summary>
    private static ElementState? Fitting(Circuit circuit, int place, ElementState state, ReadOnlySpan<double> x)
    {
        var ends = circuit.EndsOf[place];
        switch (circuit.Stateful[place])
        {
            case Diode d:
                var amps = x[ends.Branch];
                return state switch
                {
                    ElementState.On => amps < -Tolerance ? ElementState.Off : null,
                    ElementState.Breakdown => amps > Tolerance ? ElementState.Off : null,
                    _ => Of(x, ends.A) - Of(x, ends.B) is var volts && volts > d.ForwardVolts + Tolerance ? ElementState.On
                    : volts < -d.ReverseVolts - Tolerance ? ElementState.Breakdown
                    : null,
                };
            case Regulator r:
                var given = x[ends.Branch];
                var output = Of(x, ends.B) - Of(x, ends.C);
                var left = Of(x, ends.A) - Of(x, ends.B);
                return state switch
                {
                    ElementState.Regulating => given < -Tolerance ? ElementState.Off
                    : given > r.Limit + Tolerance ? ElementState.Limiting
                    : left < r.DropOut - Tolerance ? ElementState.DroppedOut
                    : null,
                    ElementState.DroppedOut => given < -Tolerance ? ElementState.Off
                    : given > r.Limit + Tolerance ? ElementState.Limiting
                    : output > r.Volts + Tolerance ? ElementState.Regulating
                    : null,
                    ElementState.Limiting => output > r.Volts + Tolerance ? ElementState.Regulating
                    : left < r.DropOut - Tolerance ? ElementState.DroppedOut
                    : null,
                    _ => output < r.Volts - Tolerance && left > r.DropOut + Tolerance ? ElementState.Regulating : null,
                };
            case Converter c:
                var held = Of(x, ends.C) - Of(x, ends.D);
                var feeds = x[ends.Branch];
                return state switch
                {
                    ElementState.Regulating => feeds < -Tolerance ? ElementState.Off
                    : feeds > c.Limit + Tolerance ? ElementState.Limiting
                    : null,
                    ElementState.Limiting => held > c.OpenVolts - (c.Ohms * c.Limit) + Tolerance ? ElementState.Regulating : null,
                    _ => held < c.OpenVolts - Tolerance ? ElementState.Regulating : null,
                };
            default:
                return null;
        }
    }

    /// <summary>The places of the relays whose coil volts do not fit how they stand.</summary>
    private static List<int> Moving(Circuit circuit, double[] x, ElementStates states, Complex[]? ac)
    {
        List<int> moving = [];
        var relays = states.All[..circuit.Coils];
        for (var i = 0; i < relays.Length; i++)
        {
            var coil = (RelayCoil)circuit.Stateful[i];
            var volts = Rms(circuit.EndsOf[i], x, ac);
            if (relays[i] == ElementState.Held ? volts < coil.DropOut : volts >= coil.PullIn)
            {
                moving.Add(i);
            }
        }

        return moving;
    }

    /// <summary>
    /// The places of the poles that open next: of the fuse or breaker that carries most beyond what it is made for, or of the
    /// residual-current device that misses most of what went out through it.
    /// </summary>
    private static List<int> Blowing(Circuit circuit, double[] x, ElementStates states, Complex[]? ac)
    {
        var (most, which) = (1.0, -1);
        Dictionary<string, (double Direct, Complex Alternating, double Trips)>? missing = null;
        for (var i = circuit.Coils; i < circuit.FirstSettling; i++)
        {
            if (states.All[i] != ElementState.Intact)
            {
                continue;
            }

            var fuse = (Fuse)circuit.Stateful[i];
            var branch = circuit.EndsOf[i].Branch;
            var (direct, alternating) = (x[branch], ac?[branch] ?? Complex.Zero);
            var share = double.Hypot(direct, alternating.Magnitude) / fuse.Amps;
            (most, which) = share > most ? (share, i) : (most, which);
            if (fuse is { Device: { } device, Residual: { } residual })
            {
                missing ??= [];
                var sum = missing.GetValueOrDefault(device);
                missing[device] = (sum.Direct + direct, sum.Alternating + alternating, residual);
            }
        }

        var opens = which < 0 ? null : ((Fuse)circuit.Stateful[which]).Device;
        foreach (var (device, sum) in missing ?? [])
        {
            var share = double.Hypot(sum.Direct, sum.Alternating.Magnitude) / sum.Trips;
            (most, opens, which) = share > most ? (share, device, -1) : (most, opens, which);
        }

        return opens is null
            ? which < 0
                ? []
                : [which]
            :
            [
                .. Enumerable
                    .Range(circuit.Coils, circuit.FirstSettling - circuit.Coils)
                    .Where(i => ((Fuse)circuit.Stateful[i]).Device == opens),
            ];
    }

    /// <summary>Which nodes hang together by what conducts; 0 with the reference.</summary>
    internal static int[] Islands(Circuit circuit, ElementStates states, double[] x)
    {
        var n = circuit.Nodes.Count;
        // The reference stands at 0, a node at its unknown and one.
        var parent = new int[n + 1];
        for (var i = 0; i <= n; i++)
        {
            parent[i] = i;
        }

        int Root(int i)
        {
            while (parent[i] != i)
            {
                i = parent[i] = parent[parent[i]];
            }

            return i;
        }

        void Join(int place)
        {
            var (first, second) = Joins(circuit, place, circuit.At(place), states, x);
            if (first is var (a, b))
            {
                parent[Root(a + 1)] = Root(b + 1);
            }

            if (second is var (c, d))
            {
                parent[Root(c + 1)] = Root(d + 1);
            }
        }

        // Most of a circuit joins whatever stands how, but for what is changed of it.
        Span<bool> isChanged = circuit.Count <= 4096 ? stackalloc bool[circuit.Count] : new bool[circuit.Count];
        foreach (var place in circuit.ChangedPlaces)
        {
            isChanged[place] = true;
            Join(place);
        }

        foreach (var (place, a, b) in circuit.Steady)
        {
            if (!isChanged[place])
            {
                parent[Root(a + 1)] = Root(b + 1);
            }
        }

        foreach (var place in circuit.Unsteady)
        {
            if (!isChanged[place])
            {
                Join(place);
            }
        }

        var reference = Root(0);
        var island = new int[n];
        for (var i = 0; i < n; i++)
        {
            island[i] = Root(i + 1) is var root && root == reference ? 0 : root + 1;
        }

        return island;
    }

    /// <summary>The same of each that settles, in their order.</summary>
    internal static bool[] Carrying(Circuit circuit, double[] x) =>
        Array.ConvertAll(circuit.EndsOf[circuit.FirstSettling..], e => Math.Abs(x[e.Branch]) >= Tolerance);

    /// <summary>Whether each that settles carries as it did.</summary>
    internal static bool AreCarrying(Circuit circuit, double[] x, bool[] before)
    {
        var ends = circuit.EndsOf.AsSpan(circuit.FirstSettling);
        for (var i = 0; i < ends.Length; i++)
        {
            if (before[i] != Math.Abs(x[ends[i].Branch]) >= Tolerance)
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>The unknowns of the nodes that the element at a place joins as it stands: none, two, or twice two.</summary>
    private static ((int A, int B)? First, (int A, int B)? Second) Joins(
        Circuit circuit,
        int place,
        CircuitElement element,
        ElementStates states,
        double[] x
    )
    {
        var at = circuit.NodesAt(place);
        ((int, int)?, (int, int)?) If(bool joins) => (joins ? (at[0], at[1]) : null, null);
        ElementState State() => states.All[circuit.StateAt(place)];
        // A diode or a regulator carries more than the leak.
        bool Carries() => Math.Abs(x[circuit.BranchAt(place)]) >= Tolerance;
        return element switch
        {
            Resistance r => If(!double.IsPositiveInfinity(r.Ohms)),
            VoltageSource v => If(!double.IsPositiveInfinity(v.Ohms)),
            RelayCoil c => If(!double.IsPositiveInfinity(c.Ohms)),
            Inductance l => If(!double.IsPositiveInfinity(l.Ohms)),
            Switch s => If(s.IsClosed && !double.IsPositiveInfinity(s.Ohms)),
            Fuse f => If(State() == ElementState.Intact && !double.IsPositiveInfinity(f.Ohms)),
            RelayContact c => If(circuit.IsClosedAt(place, c, states) && !double.IsPositiveInfinity(c.Ohms)),
            // Behind a diode that carries nothing but the leak, a node is as good as open.
            Diode => If(State() != ElementState.Off && Carries()),
            // The same with nothing at its output: then nobody knows whether it is fed.
            // Its common holds the output only while it regulates.
            Regulator when Carries() => ((at[0], at[1]), State() == ElementState.Regulating ? (at[1], at[2]) : null),
            // What takes anything in gives something out, and the other way about.
            Converter when Carries() => ((at[2], at[3]), (at[0], at[1])),
            Converter { OpenVolts: > 0 } => ((at[2], at[3]), null),
            Transformer t => ((at[0], at[1]), double.IsPositiveInfinity(t.SecondaryOhms) ? null : (at[2], at[3])),
            _ => (null, null),
        };
    }

    /// <summary>Whether the element at a place joins the same nodes in both.</summary>
    internal static bool JoinsAlike(
        int place,
        Circuit circuit,
        ElementStates states,
        double[] x,
        Circuit other,
        ElementStates then,
        double[] y
    ) => Joins(circuit, place, circuit.At(place), states, x) == Joins(other, place, other.At(place), then, y);

    /// <summary>Sources without anything in series that close a ring: they hold different volts, or one of them is one too many.</summary>
    private static CircuitProblem? Conflict(Circuit circuit)
    {
        var joined = new Dictionary<string, List<VoltageSource>>();
        foreach (var source in circuit.Sources.Where(v => v.Ohms == 0))
        {
            if (Way(source.Plus, source.Minus, joined, []) is { } ring)
            {
                List<string> names = [source.Name, .. ring.Select(r => r.Name)];
                return new CircuitProblem(
                    NoPoint.SourcesInConflict,
                    names,
                    $"{string.Join(" and ", names)} hold volts between the same points, with nothing in series: give one of them its ohms."
                );
            }

            foreach (var node in source.Nodes)
            {
                (joined.TryGetValue(node, out var at) ? at : joined[node] = []).Add(source);
            }
        }

        return null;
    }

    private static List<VoltageSource>? Way(string from, string to, Dictionary<string, List<VoltageSource>> joined, HashSet<string> seen)
    {
        if (from == to)
        {
            return [];
        }

        seen.Add(from);
        foreach (var source in joined.GetValueOrDefault(from) ?? [])
        {
            var next = source.Plus == from ? source.Minus : source.Plus;
            if (!seen.Contains(next) && Way(next, to, joined, seen) is { } rest)
            {
                return [source, .. rest];
            }
        }

        return null;
    }

    private static bool AreVolts(ReadOnlySpan<double> x)
    {
        foreach (var v in x)
        {
            if (!(Math.Abs(v) <= SillyVolts))
            {
                return false;
            }
        }

        return true;
    }

    private static CircuitProblem? Lost(Circuit circuit, int[] island, double[] x)
    {
        int IslandOf(string node) => circuit.IndexOf(node) is var i and >= 0 ? island[i] : 0;
        List<string> lost =
        [
            .. circuit.CurrentSources.Where(i => i.Amps != 0 && IslandOf(i.From) != IslandOf(i.To)).Select(i => i.Name),
            .. (circuit.HasRegulators ? circuit.Settling.OfType<Regulator>() : [])
                .Where(r =>
                    x[circuit.BranchOf(r.Name)!.Value] is var amps && Math.Abs(amps) > Tolerance && IslandOf(r.In) != IslandOf(r.Out)
                )
                .Select(r => r.Name),
        ];
        return lost.Count > 0 || !AreVolts(x.AsSpan(0, circuit.Nodes.Count))
            ? new CircuitProblem(
                NoPoint.NoWayBack,
                lost,
                lost.Count > 0
                    ? $"The current of {string.Join(" and ", lost)} has no way back."
                    : string.Create(
                        CultureInfo.InvariantCulture,
                        $"Some current has no way back: it would want more than {SillyVolts:0} V."
                    )
            )
            : null;
    }
}
