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
    /// <param name="Factors">Null where it was worked out from another.</param>
    internal sealed record Stage(Circuit Circuit, IReadOnlyDictionary<string, ElementState> States, double[] X, SparseLu<double>? Factors);

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
        void Guess(Dictionary<string, ElementState> states);

        /// <returns>Null where it is too far from all that is known.</returns>
        double[]? Solve(Circuit circuit, IReadOnlyDictionary<string, ElementState> states);

        /// <summary>A solution that had to be found anew; others may be near to it.</summary>
        void Learn(Stage found);

        /// <returns>Null where they have to be found anew.</returns>
        int[]? Islands(Circuit circuit, IReadOnlyDictionary<string, ElementState> states, double[] x);
    }

    internal static OperatingPoint Of(Circuit circuit, IReadOnlyDictionary<string, ElementState>? from, IWarm? warm)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var states = circuit.AtRest();
        foreach (var (name, state) in from ?? states)
        {
            states[name] = state;
        }

        // Near to a solution there is none that was not there.
        if (warm is null && Conflict(circuit) is { } conflict)
        {
            return Nothing(circuit, states, conflict);
        }

        var seen = new HashSet<string>();
        var stages = new List<Stage>();
        var timers = new Timers();
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

            Complex[]? ac;
            try
            {
                ac = circuit.HasAc ? AcPoint.Solve(circuit, circuit.Hertz, states) : null;
            }
            catch (SingularMatrixException)
            {
                return Nothing(
                    circuit,
                    states,
                    new CircuitProblem(NoPoint.SourcesInConflict, [], "Alternating sources hold volts between the same points.")
                );
            }

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
            var moving = timers.Next(circuit, Moving(circuit, settled.X, states, ac), states);
            // A fuse is quicker than any delay, and slower than a relay that has none.
            var blowing = moving.Count > 0 && !timers.AreWaiting ? [] : Blowing(circuit, settled.X, states, ac);
            if (blowing.Count > 0)
            {
                moving = [];
            }

            if (warm is null)
            {
                stages.Add(new Stage(circuit, new Dictionary<string, ElementState>(states), settled.X, settled.Factors));
            }

            if (moving.Count > 0)
            {
                if (!seen.Add(RelayStates(circuit, states)))
                {
                    return Nothing(
                        circuit,
                        states,
                        new CircuitProblem(
                            NoPoint.Chatters,
                            moving,
                            $"{string.Join(" and ", moving)} {(moving.Count == 1 ? "chatters" : "chatter")}: "
                                + "pulling in takes away what pulls in."
                        )
                    );
                }

                timers.Pass();
                foreach (var name in moving)
                {
                    states[name] = states[name] == ElementState.Held ? ElementState.Released : ElementState.Held;
                }

                continue;
            }

            if (blowing.Count > 0)
            {
                // One device at a time: what it was that drew too much goes with it.
                foreach (var pole in blowing)
                {
                    states[pole] = ElementState.Blown;
                }

                seen.Clear();
                continue;
            }

            var island = warm?.Islands(circuit, states, settled.X) ?? Islands(circuit, states, settled.X);
            if (Lost(circuit, island, settled.X) is { } lost)
            {
                return Nothing(circuit, states, lost);
            }

            return new OperatingPoint(circuit, states, settled.X, ac, island, stages, null, timers.Now);
        }
    }

    /// <summary>
    /// Since when each relay has had its reason to move: those move next whose delay is over first, all others keep waiting while their
    /// reason stands.
    /// </summary>
    private sealed class Timers
    {
        private readonly Dictionary<string, double> _due = [];
        private double _next;

        public double Now { get; private set; }

        /// <summary>Nothing moves at once: the next has to wait for it.</summary>
        public bool AreWaiting => _next > Now;

        public List<string> Next(Circuit circuit, List<string> wanting, Dictionary<string, ElementState> states)
        {
            foreach (var gone in _due.Keys.Except(wanting).ToList())
            {
                _due.Remove(gone);
            }

            foreach (var name in wanting)
            {
                var coil = (RelayCoil)circuit[name];
                _due.TryAdd(name, Now + (states[name] == ElementState.Held ? coil.DropDelay : coil.PullDelay));
            }

            _next = _due.Count > 0 ? _due.Values.Min() : Now;
            return [.. wanting.Where(name => _due[name] <= _next)];
        }

        /// <summary>The next have moved.</summary>
        public void Pass()
        {
            Now = _next;
            foreach (var name in _due.Where(d => d.Value <= Now).Select(d => d.Key).ToList())
            {
                _due.Remove(name);
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
                .Select(c => (Was: c, Now: c.At(Rms(circuit, c.A, c.B, x, ac), x[circuit.BranchOf(c.Name)!.Value])))
                .Where(c => !IsNear(c.Was.OpenVolts, c.Now.OpenVolts) || !IsNear(c.Was.InSiemens, c.Now.InSiemens))
                .Select(c => c.Now),
        ];
    }

    /// <summary>Root mean square of what is direct and what alternates.</summary>
    private static double Rms(Circuit circuit, string a, string b, double[] x, Complex[]? ac) =>
        double.Hypot(
            At(circuit, a, x) - At(circuit, b, x),
            ac is null ? 0 : (At(ac, circuit.IndexOf(a)) - At(ac, circuit.IndexOf(b))).Magnitude
        );

    private sealed record Settled(double[] X, SparseLu<double>? Factors);

    /// <summary>Finds the states of diodes and regulators that fit, the relays and fuses as they stand.</summary>
    private static Settled? Settle(Circuit circuit, Dictionary<string, ElementState> states, IWarm? warm)
    {
        if (circuit.HasAc && !circuit.HasDc)
        {
            // Nothing of it is direct: all that could flow is nothing.
            return new Settled(new double[circuit.Size], null);
        }

        var switching = circuit.Settling;
        var seen = new HashSet<string>();
        var isCareful = false;
        // All that are wrong turn at once, until that goes round; then one after the other, the first that is wrong
        // (least index first: Murty, "Note on a Bard-type scheme", 1974).
        for (var turn = 0; turn < 60 + (20 * switching.Count); turn++)
        {
            Settled solved;
            try
            {
                if (warm?.Solve(circuit, states) is { } x)
                {
                    solved = new Settled(x, null);
                }
                else
                {
                    solved = Solve(circuit, states);
                    warm?.Learn(new Stage(circuit, new Dictionary<string, ElementState>(states), solved.X, solved.Factors));
                }
            }
            catch (SingularMatrixException)
            {
                return null;
            }

            var wrong = false;
            foreach (var element in switching)
            {
                if (Fitting(circuit, element, states[element.Name], solved.X) is { } better)
                {
                    states[element.Name] = better;
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

            isCareful = isCareful || !seen.Add(string.Join(',', switching.Select(s => (int)states[s.Name])));
        }

        return null;
    }

    private static Settled Solve(Circuit circuit, IReadOnlyDictionary<string, ElementState> states)
    {
        var stamps = Stamps<double>.Of(circuit, states);
        var factors = SparseLu.Of(circuit.Size, stamps.Entries, circuit.Order);
        return new Settled(factors.Solve(stamps.RightSide()), factors);
    }

    private static double At(Circuit circuit, string node, ReadOnlySpan<double> x) => circuit.IndexOf(node) is var i and >= 0 ? x[i] : 0;

    /// <summary>The state that an element should rather be in; null where it fits.</summary>
    internal static ElementState? Fitting(Circuit circuit, CircuitElement element, ElementState state, ReadOnlySpan<double> x)
    {
        switch (element)
        {
            case Diode d:
                var amps = x[circuit.BranchOf(d.Name)!.Value];
                var volts = At(circuit, d.Anode, x) - At(circuit, d.Cathode, x);
                return state switch
                {
                    ElementState.On => amps < -Tolerance ? ElementState.Off : null,
                    ElementState.Breakdown => amps > Tolerance ? ElementState.Off : null,
                    _ => volts > d.ForwardVolts + Tolerance ? ElementState.On
                    : volts < -d.ReverseVolts - Tolerance ? ElementState.Breakdown
                    : null,
                };
            case Regulator r:
                var given = x[circuit.BranchOf(r.Name)!.Value];
                var output = At(circuit, r.Out, x) - At(circuit, r.Common, x);
                var left = At(circuit, r.In, x) - At(circuit, r.Out, x);
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
                var held = At(circuit, c.Plus, x) - At(circuit, c.Minus, x);
                var feeds = x[circuit.BranchOf(c.Name)!.Value];
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

    private static string RelayStates(Circuit circuit, Dictionary<string, ElementState> states) =>
        string.Concat(circuit.Coils.Select(c => states[c.Name] == ElementState.Held ? '1' : '0'));

    /// <summary>The relays whose coil volts do not fit how they stand.</summary>
    internal static List<string> Moving(Circuit circuit, double[] x, IReadOnlyDictionary<string, ElementState> states, Complex[]? ac = null)
    {
        List<string> moving = [];
        foreach (var coil in circuit.Coils)
        {
            var volts = Rms(circuit, coil.A, coil.B, x, ac);
            if (states[coil.Name] == ElementState.Held ? volts < coil.DropOut : volts >= coil.PullIn)
            {
                moving.Add(coil.Name);
            }
        }

        return moving;
    }

    /// <summary>
    /// The poles that open next: of the fuse or breaker that carries most beyond what it is made for, or of the residual-current device
    /// that misses most of what went out through it.
    /// </summary>
    internal static IReadOnlyList<string> Blowing(
        Circuit circuit,
        double[] x,
        IReadOnlyDictionary<string, ElementState> states,
        Complex[]? ac = null
    )
    {
        (double Direct, Complex Alternating) Amps(Fuse fuse)
        {
            var at = circuit.BranchOf(fuse.Name)!.Value;
            return (x[at], ac is null ? Complex.Zero : ac[at]);
        }

        var (most, which) = (1.0, (Fuse?)null);
        Dictionary<string, (double Direct, Complex Alternating)>? missing = null;
        foreach (var fuse in circuit.Fuses)
        {
            if (states[fuse.Name] != ElementState.Intact)
            {
                continue;
            }

            var amps = Amps(fuse);
            var share = double.Hypot(amps.Direct, amps.Alternating.Magnitude) / fuse.Amps;
            if (fuse is { Device: { } device, Residual: { } residual })
            {
                missing ??= [];
                var sum = missing.GetValueOrDefault(device);
                missing[device] = sum = (sum.Direct + amps.Direct, sum.Alternating + amps.Alternating);
                // Complete with its last pole; before that it is no sum yet.
                share =
                    circuit.Fuses.Last(f => f.Device == device) == fuse
                        ? Math.Max(share, double.Hypot(sum.Direct, sum.Alternating.Magnitude) / residual)
                        : share;
            }

            if (share > most)
            {
                (most, which) = (share, fuse);
            }
        }

        return which is null ? []
            : which.Device is { } all ? [.. circuit.Fuses.Where(f => f.Device == all).Select(f => f.Name)]
            : [which.Name];
    }

    /// <summary>Which nodes hang together by what conducts; 0 with the reference.</summary>
    internal static int[] Islands(Circuit circuit, IReadOnlyDictionary<string, ElementState> states, double[] x)
    {
        var n = circuit.Nodes.Count;
        var parent = Enumerable.Range(0, n + 1).ToArray();
        int Root(int i)
        {
            while (parent[i] != i)
            {
                i = parent[i] = parent[parent[i]];
            }

            return i;
        }

        // The reference stands at 0, a node at its index and one.
        foreach (var (a, b) in circuit.Elements.SelectMany(e => Joins(circuit, e, states, x)))
        {
            parent[Root(circuit.IndexOf(a) + 1)] = Root(circuit.IndexOf(b) + 1);
        }

        var reference = Root(0);
        return [.. Enumerable.Range(1, n).Select(i => Root(i) == reference ? 0 : Root(i) + 1)];
    }

    /// <summary>A diode or a regulator carries more than the leak.</summary>
    internal static bool Carries(Circuit circuit, string element, ReadOnlySpan<double> x) =>
        Math.Abs(x[circuit.BranchOf(element)!.Value]) >= Tolerance;

    internal static IEnumerable<(string A, string B)> Joins(
        Circuit circuit,
        CircuitElement element,
        IReadOnlyDictionary<string, ElementState> states,
        double[] x
    ) =>
        element switch
        {
            Resistance r => double.IsPositiveInfinity(r.Ohms) ? [] : [(r.A, r.B)],
            VoltageSource v => double.IsPositiveInfinity(v.Ohms) ? [] : [(v.Plus, v.Minus)],
            RelayCoil c => double.IsPositiveInfinity(c.Ohms) ? [] : [(c.A, c.B)],
            Inductance l => double.IsPositiveInfinity(l.Ohms) ? [] : [(l.A, l.B)],
            Switch s => s.IsClosed ? [(s.A, s.B)] : [],
            Fuse f => states[f.Name] == ElementState.Intact ? [(f.A, f.B)] : [],
            RelayContact c => Circuit.IsClosed(c, states) ? [(c.A, c.B)] : [],
            // Behind a diode that carries nothing but the leak, a node is as good as open.
            Diode d => states[d.Name] == ElementState.Off || !Carries(circuit, d.Name, x) ? [] : [(d.Anode, d.Cathode)],
            // The same with nothing at its output: then nobody knows whether it is fed.
            Regulator r => Carries(circuit, r.Name, x) ? [(r.In, r.Out), (r.Out, r.Common)] : [],
            // What takes anything in gives something out, and the other way about.
            Converter c => Carries(circuit, c.Name, x) ? [(c.Plus, c.Minus), (c.A, c.B)]
            : c.OpenVolts > 0 ? [(c.Plus, c.Minus)]
            : [],
            Transformer t => double.IsPositiveInfinity(t.SecondaryOhms) ? [(t.P1, t.P2)] : [(t.P1, t.P2), (t.S1, t.S2)],
            _ => [],
        };

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
            .. circuit
                .Settling.OfType<Regulator>()
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
