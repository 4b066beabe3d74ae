using System.Globalization;
using System.Numerics;
using System.Text;

namespace RustyLedger.Worlds;

/// <summary>How well a load does what it should, as somebody beside it sees.</summary>
public enum Seen
{
    Works,
    Weak,
    No,
}

/// <summary>By how much a true machine is off from what its papers say.</summary>
/// <param name="Numbers">Standard deviation of a part's numbers, as a share.</param>
/// <param name="Supply">By how much its sources are off, as a share, all the same way.</param>
/// <param name="Meter">Standard deviation of a reading, as a share.</param>
public sealed record Off(double Numbers, double Supply, double Meter);

/// <summary>
/// One true machine with what is wrong with it. Every answer is solved by ngspice with the laws that such parts have: diodes by their
/// exponential, motors that hold their current and stall, filaments that heat up, boards that stop below a third of their volts, supplies
/// that give no more than they can, fuses that stay blown. On three phases, without reactance, the part of every voltage in step with the
/// first phase and the part a quarter behind it are two networks of the same parts, which meet in what goes by size: contactors, boards,
/// a motor that needs a field that turns.
/// </summary>
public sealed class World
{
    private const double MeterOhms = 10e6;
    private const double WetOhms = 1e9;
    private const double OpenOhms = 1e12;

    // A meter's test in ohms: 2.5 V behind 2.5 kΩ, 1 mA at most.
    private const double TestVolts = 2.5;
    private const double TestOhms = 2500;
    private const double MostOhms = 40e6;

    // What blows at once; a fuse holds a little more than its rating for hours.
    private const double Blows = 1.8;

    private readonly TrueMachine _machine;
    private readonly IReadOnlyList<TrueFault> _faults;
    private readonly Off _off;
    private readonly Random _chance;
    private readonly Dictionary<string, double> _share = [];
    private readonly HashSet<string> _blown = [];
    private readonly Dictionary<(string State, bool Healthy, bool Shows), Dictionary<string, double>> _solved = [];

    public World(TrueMachine machine, IReadOnlyList<TrueFault> faults, Off off, int seed)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(off);
        (_machine, _faults, _off, _chance) = (machine, faults, off, new Random(seed));
        foreach (var part in machine.Parts)
        {
            _share[part.Name] = part.IsSource
                ? 1 + off.Supply + (off.Numbers / 4 * Normal())
                : Math.Clamp(1 + (off.Numbers * Normal()), 0.4, 2.5);
        }

        try
        {
            Blow();
        }
        catch (NoPointException)
        {
            // An output that takes its own rail down and comes on again: it has no rest to be measured in.
            IsBeyond = true;
        }
    }

    /// <summary>Fuses that went when it was last used.</summary>
    public IReadOnlyCollection<string> Blown => _blown;

    // Behind the name of a node: what of its volts is a quarter behind the first phase.
    private const string Behind = " behind";

    private string[] Planes => _machine.IsThreePhase ? ["", Behind] : [""];

    /// <summary>The size of what is between two nodes.</summary>
    private double Between(Dictionary<string, double> volts, string a, string b) =>
        Math.Sqrt(Planes.Sum(p => Math.Pow(volts.GetValueOrDefault(a + p) - volts.GetValueOrDefault(b + p), 2)));

    private double Normal() => Math.Sqrt(-2 * Math.Log(1 - _chance.NextDouble())) * Math.Cos(2 * Math.PI * _chance.NextDouble());

    /// <summary>A while later: what is there at times is there, or it is away.</summary>
    public void Later() => _shows = !_faults.Any(f => f.Kind == TrueFaultKind.Intermittent) || _chance.Next(2) == 0;

    private bool _shows = true;

    /// <summary>
    /// Whether something that fails changes as a plug and its wires are moved by hand: seven times in ten where what comes and goes is in
    /// it, now and then else. Common practice, no source.
    /// </summary>
    public bool ChangesWhenMoved(IReadOnlyList<string> parts) =>
        _chance.NextDouble() < (_faults.Any(f => f.Kind == TrueFaultKind.Intermittent && parts.Contains(f.Part)) ? 0.7 : 0.03);

    /// <summary>Whether a fuse that is put in whole holds in all states.</summary>
    public bool Holds(string fuse)
    {
        var (before, beyond) = (_blown.ToList(), IsBeyond);
        _blown.Remove(fuse);
        _solved.Clear();
        _whole = fuse;
        Blow();
        var holds = !_blown.Contains(fuse);
        (_whole, IsBeyond) = (null, beyond);
        _blown.Clear();
        _blown.UnionWith(before);
        _solved.Clear();
        return holds;
    }

    // A fuse that has just been put in: whatever the old one had is gone.
    private string? _whole;

    /// <summary>
    /// So much flows where no fuse stands before it that it ends in smoke, not in a visit: more than this from a source, in amps.
    /// </summary>
    private const double Smoke = 60;

    /// <summary>It burns, or it chatters: nobody measures it as it is.</summary>
    public bool IsBeyond { get; private set; }

    private void Blow()
    {
        var fuses = _machine.Parts.Where(p => p.Kind == TrueKind.Fuse).ToList();
        foreach (var state in _machine.States.Where(_machine.Energised.Contains))
        {
            while (true)
            {
                var volts = Solve(state, false, true);
                var worst = fuses
                    .Where(f => !_blown.Contains(f.Name))
                    .Select(f => (f.Name, Times: Between(volts, f.Nodes[0], f.Nodes[1]) / f.Ohms / f.Amps))
                    .Where(f => f.Times > Blows)
                    .OrderByDescending(f => f.Times)
                    .FirstOrDefault();
                if (worst.Name is null)
                {
                    IsBeyond |= _machine.Parts.Exists(p =>
                        p.Kind is TrueKind.Battery or TrueKind.Mains or TrueKind.ThreePhaseMains
                        && WithinOf(p)
                            .Where(volts.ContainsKey)
                            .Select((inside, i) => Between(volts, inside, p.Nodes[i]))
                            .Any(lost => lost / Math.Max(InsideOhms, p.Ohms * _share[p.Name]) > Smoke)
                    );
                    break;
                }

                _blown.Add(worst.Name);
                _solved.Clear();
            }
        }
    }

    /// <summary>What a voltmeter of 10 MΩ shows between two nodes.</summary>
    public double Volts(string red, string black, string state)
    {
        var shown = Loaded(red, black, state, _shows);
        return Rounded(shown * (1 + (_off.Meter * Normal())));
    }

    // What a clamp is drawn as, in ohms: next to nothing beside any load.
    private const double ClampOhms = 0.01;
    private const string Clamp = "within the clamp";

    /// <summary>What a clamp shows around the wire at the first pin of a load; null where no load of that name has one.</summary>
    public double? Amps(string name, string state)
    {
        if (_machine.Parts.Find(p => p.Called == name && p.IsLoad) is not { } part)
        {
            return null;
        }

        _clamped = part.Name;
        var volts = Live(state, false, _shows, "");
        _clamped = null;
        var amps = Between(volts, part.Nodes[0], Clamp) / ClampOhms;
        // It is set to nothing before, and drifts a little.
        return Math.Round(Math.Max(0, (amps * (1 + (_off.Meter * Normal()))) + (0.02 * Normal())), 2);
    }

    private string? _clamped;

    /// <summary>Whether every node of a machine with something else wrong stands as it does here in every state.</summary>
    public bool StandsAs(World other)
    {
        ArgumentNullException.ThrowIfNull(other);
        const double Volts = 0.5;
        const double Share = 0.05;
        return !other.IsBeyond
            && _machine.Energised.All(state =>
            {
                var (own, its) = (Solve(state, false, _shows), other.Solve(state, false, other._shows));
                return _machine
                    .Parts.SelectMany(p => p.Nodes)
                    .SelectMany(n => Planes.Select(p => n + p))
                    .All(n =>
                        Math.Abs(own.GetValueOrDefault(n) - its.GetValueOrDefault(n)) < Volts + (Share * Math.Abs(own.GetValueOrDefault(n)))
                    );
            });
    }

    /// <summary>Whether volts stand between two nodes although the machine is isolated: then nobody reads ohms there.</summary>
    public bool IsLiveAtRest(string red, string black)
    {
        if (!_faults.Any(f => f.Kind == TrueFaultKind.Foreign))
        {
            return false;
        }

        const double Dead = 1;
        var volts = Ngspice.OperatingPoint(Net(_machine.States[0], false, _shows, true, []).ToString(), _names);
        return Between(volts, red, black) > Dead;
    }

    /// <summary>Ohms between two nodes of the machine at rest; null for OL.</summary>
    /// <param name="unplugged">Both are pins of one connector that is pulled, and the probes are in the plug.</param>
    public double? Ohms(string red, string black, bool unplugged)
    {
        if (unplugged)
        {
            (red, black) = (_machine.InPlug(red), _machine.InPlug(black));
        }

        var text = Net(_machine.States[0], false, _shows, true, [], unplugged ? red.Split('·')[0] : null);
        var (a, b) = (Node(red), Node(black));
        text.AppendLine(Invariant($"Vmeter meterp {b} {TestVolts}")).AppendLine(Invariant($"Rmeter meterp {a} {TestOhms}"));
        var volts = Ngspice.OperatingPoint(text.ToString(), _names);
        var shown = volts.GetValueOrDefault(red) - volts.GetValueOrDefault(black);
        var ohms = TestOhms * shown / Math.Max(1e-9, TestVolts - shown);
        return ohms > MostOhms ? null : Rounded(Math.Max(0, (ohms * (1 + (_off.Meter * Normal()))) + (0.1 * _chance.NextDouble())));
    }

    /// <summary>How a load does in a state; null where the machine has none of that name.</summary>
    public Seen? Does(string name, string state)
    {
        var part = _machine.Parts.Find(p => p.Called == name && p.IsLoad);
        if (part is null)
        {
            return null;
        }

        var own = _faults.FirstOrDefault(f => f.Part == part.Name);
        if (own?.Kind is TrueFaultKind.Open or TrueFaultKind.Short or TrueFaultKind.Jammed)
        {
            // Where it should do nothing, it does that well.
            return Level(part, Across(part, Solve(state, true, false))) > 0.1 ? Seen.No : Seen.Works;
        }

        var should = Level(part, Across(part, Solve(state, true, false)));
        var now = Level(part, Across(part, Solve(state, false, _shows)));
        if (own?.Kind == TrueFaultKind.Drift)
        {
            now *= own.Size < 1 ? own.Size : 1 / own.Size;
        }

        return should < 0.1
            ? now > 0.25
                ? Seen.No
                : Seen.Works
            : now > 0.82 * should
                ? Seen.Works
                : now > 0.2 * should
                    ? Seen.Weak
                    : Seen.No;
    }

    private double Across(TruePart part, Dictionary<string, double> volts) =>
        part.Kind == TrueKind.ThreePhaseMotor ? Turning(part, volts) : Between(volts, part.Nodes[0], part.Nodes[1]);

    /// <summary>
    /// What turns a motor: its three volts as a field that turns one way and one that turns the other (symmetrical components, Fortescue
    /// 1918); the difference, as volts between phases. With a phase lost both are alike, and it hums.
    /// </summary>
    private static double Turning(TruePart motor, Dictionary<string, double> volts)
    {
        Complex Phase(int i) => new(volts.GetValueOrDefault(motor.Nodes[i]), volts.GetValueOrDefault(motor.Nodes[i] + Behind));
        var third = Complex.FromPolarCoordinates(1, 2 * Math.PI / 3);
        var one = Phase(0) + (third * Phase(1)) + (third * third * Phase(2));
        var other = Phase(0) + (third * third * Phase(1)) + (third * Phase(2));
        return Math.Abs(one.Magnitude - other.Magnitude) / 3 * Math.Sqrt(3);
    }

    /// <summary>What a person sees, as a share of what it is rated for: speed, light, or that it does its work.</summary>
    private static double Level(TruePart part, double volts)
    {
        // A motor turns as its volts less those lost in its winding; the light of a filament goes with a high power of the volts.
        var share = volts / (part.Volts > 0 ? part.Volts : Math.Max(1, volts));
        return part.Kind switch
        {
            TrueKind.Motor => Math.Max(0, (volts - (part.Amps * part.Ohms)) / (part.Volts - (part.Amps * part.Ohms))),
            TrueKind.Lamp => Math.Pow(share, 2.5),
            TrueKind.ThreePhaseMotor => share > Stalls ? Math.Min(1, share) : 0,
            TrueKind.Coil => share > PullsIn ? 1 : 0,
            TrueKind.Electronics => share > 0.7 ? 1
            : share > 0.5 ? 0.4
            : 0,
            TrueKind.Led => Math.Clamp((volts - part.ToVolts) / (part.Volts - part.ToVolts), 0, 2),
            _ => part.Volts > 0 ? share : volts / 24,
        };
    }

    private Dictionary<string, double> Solve(string state, bool healthy, bool shows) =>
        _solved.TryGetValue((state, healthy, shows), out var volts)
            ? volts
            : _solved[(state, healthy, shows)] = Live(state, healthy, shows, "");

    /// <summary>With every supply that is asked for more than it can give at what it can.</summary>
    private Dictionary<string, double> Live(string state, bool healthy, bool shows, string beside)
    {
        var limited = new HashSet<string>();
        while (true)
        {
            var volts = Ngspice.OperatingPoint(Net(state, healthy, shows, false, limited).Append(beside).ToString(), _names);
            var over = _machine.Parts.Find(p =>
                p is { Kind: TrueKind.Supply or TrueKind.Regulator, Amps: > 0 }
                && volts.TryGetValue(WithinOf(p)[0], out var inside)
                && (inside - volts[p.Nodes[p.Kind == TrueKind.Supply ? 0 : 1]]) / InsideOhms > p.Amps
                && limited.Add(p.Name)
            );
            if (over is null)
            {
                return volts;
            }
        }
    }

    // Inside a supply or a regulator.
    private const double InsideOhms = 0.01;

    // Of its rated volts: below, a motor on three phases stands; a contactor pulls in, and drops out (IEC 60947-4-1 has 0.85 and 0.2 to
    // 0.75 as limits; between them is common practice, no source).
    private const double Stalls = 0.55;
    private const double PullsIn = 0.7;
    private const double DropsOut = 0.5;

    // A motor that stands takes so many times what it takes turning. Common practice, no source.
    private const double StallTimes = 5;

    private static string[] WithinOf(TruePart part) =>
        part.Kind == TrueKind.ThreePhaseMains
            ? [.. Enumerable.Range(1, 3).Select(i => $"within {part.Name} L{i}")]
            : [$"within {part.Name}"];

    private double Loaded(string red, string black, string state, bool shows)
    {
        var meter = string.Concat(Planes.Select((p, i) => Invariant($"Rmeter{i} {Node(red + p)} {Node(black + p)} {MeterOhms}\n")));
        var volts = Live(state, false, shows, meter);
        return _machine.IsThreePhase ? Between(volts, red, black) : volts.GetValueOrDefault(red) - volts.GetValueOrDefault(black);
    }

    // Three figures, as a meter of 4000 counts.
    private static double Rounded(double value)
    {
        var most = Math.Abs(value);
        return Math.Round(
            value,
            most < 4 ? 3
                : most < 40 ? 2
                : most < 400 ? 1
                : 0
        );
    }

    private readonly Dictionary<string, string> _names = [];
    private readonly Dictionary<string, string> _nodes = [];

    private string Node(string node)
    {
        if (node == _machine.Ground || node == _machine.Ground + Behind)
        {
            return "0";
        }

        if (!_nodes.TryGetValue(node, out var name))
        {
            name = _nodes[node] = Invariant($"n{_nodes.Count + 1}");
            _names[name] = node;
        }

        return name;
    }

    private static string Invariant(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);

    private StringBuilder Net(string state, bool healthy, bool shows, bool dead, HashSet<string> limited, string? pulled = null)
    {
        _names["0"] = _machine.Ground;
        var text = new StringBuilder();
        var there = _faults.Where(f => !healthy && (f.Kind != TrueFaultKind.Intermittent || shows)).ToList();
        var count = 0;
        foreach (var part in _machine.Parts)
        {
            var fault = there.Find(f => f.Part == part.Name && part.Name != _whole);
            var drawn = part.Name == _clamped ? part with { Nodes = [Clamp, .. part.Nodes.Skip(1)] } : part;
            foreach (var plane in Planes)
            {
                if (drawn != part)
                {
                    text.AppendLine(Invariant($"Rclamp{++count} {Node(part.Nodes[0] + plane)} {Node(Clamp + plane)} {ClampOhms}"));
                }

                new Drawn(text, drawn, fault, _share[part.Name], state, ++count, plane, Planes, Node)
                {
                    IsBlown =
                        (!healthy && _blown.Contains(part.Name))
                        || (
                            part.Kind == TrueKind.Contact
                            && pulled is not null
                            && part.Name.StartsWith($"contact {pulled}·", StringComparison.Ordinal)
                        ),
                    IsDead = dead,
                    IsLimited = limited.Contains(part.Name),
                    IsCoilDead = part.Kind == TrueKind.MakeContact && there.Exists(f => f.Part == part.Coil!.Name),
                }.Draw();
            }
        }

        foreach (var fault in there.Where(f => f.Kind is TrueFaultKind.Bridge or TrueFaultKind.HiddenLoad))
        {
            foreach (var plane in Planes)
            {
                var to = fault.Kind == TrueFaultKind.Bridge ? Node(fault.B + plane) : "0";
                text.AppendLine(Invariant($"R{++count}x {Node(fault.A + plane)} {to} {fault.Size}"));
            }
        }

        foreach (var fault in there.Where(f => f.Kind == TrueFaultKind.Foreign))
        {
            text.AppendLine(Invariant($"Vforeign foreign 0 {fault.Volts}"))
                .AppendLine(Invariant($"Rforeign foreign {Node(fault.A)} {fault.Size}"));
        }

        var nodes = _machine.Parts.SelectMany(part => part.Nodes).Distinct().ToList();
        foreach (var node in Planes.SelectMany(p => nodes.Select(n => Node(n + p))).Where(n => n != "0").ToList())
        {
            text.AppendLine(Invariant($"Rwet{node} {node} 0 {WetOhms}"));
        }

        return text;
    }

    /// <summary>One part, written as ngspice reads it.</summary>
    private sealed record Drawn(
        StringBuilder Text,
        TruePart Part,
        TrueFault? Fault,
        double Share,
        string State,
        int Count,
        string Plane,
        string[] Planes,
        Func<string, string> NodeOf
    )
    {
        /// <summary>Open for whatever reason: blown, or pulled.</summary>
        public bool IsBlown { get; init; }

        public bool IsDead { get; init; }

        /// <summary>Of a contact: what is wrong with its coil lets it pull nothing in.</summary>
        public bool IsCoilDead { get; init; }

        public bool IsLimited { get; init; }

        private string Node(string name) => NodeOf(name + Plane);

        /// <summary>The size of the volts between two nodes, in both planes together.</summary>
        private string Size(string a, string b) =>
            Planes.Length == 1
                ? $"abs(v({Node(a)},{Node(b)}))"
                : $"sqrt({string.Join('+', Planes.Select(p => $"v({NodeOf(a + p)},{NodeOf(b + p)})^2"))}+1e-9)";

        private string A => Node(Part.Nodes[0]);

        private string B => Node(Part.Nodes[1]);

        private string Inner => Node(WithinOf(Part)[0]);

        private double Extra => Fault?.Kind == TrueFaultKind.HighResistance ? Fault.Size : 0;

        private void Line(FormattableString line) => Text.AppendLine(Invariant(line));

        private void Resistor(double ohms) => Line($"R{Count} {A} {B} {Math.Max(1e-4, ohms)}");

        public void Draw()
        {
            switch (Part.Kind)
            {
                case TrueKind.Battery or TrueKind.Mains or TrueKind.Supply:
                    Source();
                    break;
                case TrueKind.ThreePhaseMains:
                    Phases();
                    break;
                case TrueKind.ThreePhaseMotor:
                    Field();
                    break;
                case TrueKind.MakeContact:
                    Contact();
                    break;
                case TrueKind.Switch or TrueKind.Output or TrueKind.SolidState:
                    Switch();
                    break;
                case TrueKind.Transformer:
                    Transformer();
                    break;
                case TrueKind.Regulator:
                    Regulator();
                    break;
                case var _ when Fault?.Kind is TrueFaultKind.Open or TrueFaultKind.Intermittent || IsBlown:
                    Resistor(OpenOhms);
                    break;
                case var _ when Fault?.Kind == TrueFaultKind.Short:
                    Resistor(Fault.Size);
                    break;
                case TrueKind.Diode:
                    Line($"D{Count} {A} {B} silicon");
                    break;
                case TrueKind.Led:
                    Line($"R{Count} {A} led{Count} {(Part.Volts - Part.ToVolts) / (Part.Amps * Share * Drift)}");
                    Line($"D{Count} led{Count} {B} led");
                    break;
                case TrueKind.Motor or TrueKind.Lamp or TrueKind.Electronics:
                    Line($"B{Count} {A} {B} i={Law($"v({A},{B})", Size(Part.Nodes[0], Part.Nodes[1]))}");
                    break;
                default:
                    Resistor((Part.Ohms * Share / Drift) + Extra);
                    break;
            }
        }

        private double Drift => Fault?.Kind == TrueFaultKind.Drift ? Fault.Size : 1;

        private string Law(string v, string size)
        {
            var (amps, cold) = (Part.Amps * Share * Drift, Part.Ohms * Share);
            return Part.Kind switch
            {
                TrueKind.Motor when Fault?.Kind == TrueFaultKind.Jammed => Invariant($"{v}/{Part.Ohms * Share}"),
                // Friction holds the current; below what overcomes it, it stands still and is a winding.
                TrueKind.Motor => Invariant($"{amps}*(0.85+0.15*abs({v})/{Part.Volts})*tanh({v}/{0.9 * amps * Part.Ohms / Drift})"),
                // A filament's ohms go with about the root of its volts.
                TrueKind.Lamp => Invariant(
                    $"{v}/({cold}+{(Part.Volts / amps) - cold}*sqrt(sqrt(({size}*{size}+1e-6)/{Part.Volts * Part.Volts})))"
                ),
                _ => Invariant($"{amps}*{v}/{Part.Volts}*0.5*(1+tanh(({size}-{0.35 * Part.Volts})/{0.1 * Part.Volts}))+{v}/100k"),
            };
        }

        private void Source()
        {
            var (plus, minus) = (A, B);
            var volts = Part.Volts * Share * (Fault?.Kind == TrueFaultKind.LowOutput ? Fault.Size : 1);
            if (IsDead || Fault?.Kind == TrueFaultKind.NoOutput)
            {
                // What a supply has behind its terminals; a battery or the mains is taken off.
                Resistor(Part.Kind == TrueKind.Supply ? 10e3 : 1e8);
            }
            else if (IsLimited)
            {
                Line($"I{Count} {minus} {plus} {Part.Amps}");
                Line($"R{Count} {plus} {minus} 1k");
            }
            else
            {
                Line($"V{Count} {Inner} {minus} {volts}");
                Line($"R{Count} {Inner} {plus} {Math.Max(InsideOhms, (Part.Ohms * Share) + Extra)}");
            }
        }

        /// <summary>A node that has the size of the volts between two others.</summary>
        private void Sized(string a, string b) => Line($"Bsize{Count} size{Count} 0 v={Size(a, b)}");

        /// <summary>Each phase a third of a turn behind the one before, from the star.</summary>
        private void Phases()
        {
            var star = Node(Part.Nodes[^1]);
            var volts = Part.Volts / Math.Sqrt(3) * Share * (Fault?.Kind == TrueFaultKind.LowOutput ? Fault.Size : 1);
            foreach (var (i, within) in WithinOf(Part).Index())
            {
                if (IsDead || Fault?.Kind == TrueFaultKind.NoOutput)
                {
                    Line($"R{Count}p{i} {Node(Part.Nodes[i])} {star} 1e8");
                    continue;
                }

                var angle = -2 * Math.PI * i / 3;
                Line($"V{Count}p{i} {Node(within)} {star} {volts * (Plane.Length == 0 ? Math.Cos(angle) : Math.Sin(angle))}");
                Line($"R{Count}p{i} {Node(within)} {Node(Part.Nodes[i])} {Math.Max(InsideOhms, Part.Ohms * Share)}");
            }
        }

        /// <summary>Three windings in a star, of little ohms while it stands and of many while its field turns it.</summary>
        private void Field()
        {
            var inner = Node($"star {Part.Name}");
            var runs = Part.Volts / Part.Amps / Math.Sqrt(3) * Share / Drift;
            if (!IsDead)
            {
                // Both fields, by the parts of the three volts in each plane.
                string X(int i) => $"v({NodeOf(Part.Nodes[i])})";
                string Y(int i) => $"v({NodeOf(Part.Nodes[i] + Behind)})";
                const double Root = 0.8660254037844386;
                foreach (var (name, way) in ((string, double)[])[("one", Root), ("other", -Root)])
                {
                    var x = Invariant($"({X(0)}-0.5*{X(1)}-({way})*{Y(1)}-0.5*{X(2)}+({way})*{Y(2)})/3");
                    var y = Invariant($"({Y(0)}-0.5*{Y(1)}+({way})*{X(1)}-0.5*{Y(2)}-({way})*{X(2)})/3");
                    Line($"B{name}{Count} {name}{Count} 0 v=sqrt(({x})^2+({y})^2+1e-6)");
                }
            }

            var phase = Part.Volts / Math.Sqrt(3);
            var turns =
                Fault?.Kind == TrueFaultKind.Jammed
                    ? "0"
                    : Invariant($"0.5*(1+tanh((abs(v(one{Count})-v(other{Count}))-{Stalls * phase})/{0.04 * phase}))");
            for (var i = 0; i < 3; i++)
            {
                var (at, first) = (Node(Part.Nodes[i]), i == 0);
                if (first && Fault?.Kind is TrueFaultKind.Open or TrueFaultKind.Short)
                {
                    Line($"R{Count}p{i} {at} {inner} {(Fault.Kind == TrueFaultKind.Open ? OpenOhms : Fault.Size)}");
                }
                else if (IsDead)
                {
                    Line($"R{Count}p{i} {at} {inner} {Part.Ohms * Share}");
                }
                else
                {
                    Line($"B{Count}p{i} {at} {inner} i=v({at},{inner})*({StallTimes / runs}+({(1 - StallTimes) / runs})*{turns})");
                }
            }

            Line($"R{Count}wet {inner} 0 {WetOhms}");
        }

        private void Contact()
        {
            var closed = (Part.Ohms * Share) + Extra;
            if (IsDead || IsCoilDead || Fault?.Kind is TrueFaultKind.Welded or TrueFaultKind.StuckOff)
            {
                Resistor(Fault?.Kind == TrueFaultKind.Welded ? closed : OpenOhms);
                return;
            }

            var volts = Part.Coil!.Volts;
            Sized(Part.Coil.Nodes[0], Part.Coil.Nodes[1]);
            Line($"S{Count} {A} {B} size{Count} 0 made{Count}");
            var (middle, half) = ((PullsIn + DropsOut) / 2 * volts, (PullsIn - DropsOut) / 2 * volts);
            Line($".model made{Count} sw vt={middle} vh={half} ron={closed} roff={OpenOhms}");
        }

        private void Switch()
        {
            var isOn =
                Fault?.Kind == TrueFaultKind.Welded
                || (Part.IsClosedIn(State) && Fault?.Kind is not (TrueFaultKind.StuckOff or TrueFaultKind.NotCommanded));
            // A board gives nothing on a dead machine, welded or not; a switch stays as it is.
            var off = Part.Kind == TrueKind.SolidState ? 24e3 : OpenOhms;
            if (isOn && Part.Sees is var (red, black) && Fault?.Kind != TrueFaultKind.Welded)
            {
                Sized(red, black);
                Line($"S{Count} {A} {B} size{Count} 0 sees{Count}");
                Line($".model sees{Count} sw vt={Part.SeesVolts} vh=0.5 ron={Part.Ohms} roff=1e9");
            }
            else
            {
                var on = Part.Kind == TrueKind.SolidState ? 0.15 : Part.Ohms;
                Resistor(isOn ? (on * Share) + Extra : off);
            }
        }

        /// <summary>Ideal, with the copper of both windings seen from the second: effective values without reactance.</summary>
        private void Transformer()
        {
            var (c, d) = (Node(Part.Nodes[2]), Node(Part.Nodes[3]));
            var ratio = Part.ToVolts / Part.Volts * (Fault?.Kind == TrueFaultKind.LowOutput ? Fault.Size : 1);
            var copper = 0.05 * Part.ToVolts / (Part.Amps * Part.Volts / Part.ToVolts) * Share;
            var ohms = Fault?.Kind == TrueFaultKind.NoOutput ? OpenOhms : copper;
            // Dead, a winding is its copper.
            if (IsDead)
            {
                Resistor(10 * Share);
                Line($"R{Count}s {c} {d} {(Fault?.Kind == TrueFaultKind.NoOutput ? OpenOhms : copper)}");
                return;
            }

            Line($"E{Count} sec{Count} {d} {A} {B} {ratio}");
            Line($"V{Count} sec{Count} amp{Count} 0");
            Line($"R{Count} amp{Count} {c} {ohms}");
            Line($"F{Count} {A} {B} V{Count} {ratio}");
        }

        private void Regulator()
        {
            var back = Node(Part.Nodes[2]);
            var volts =
                Fault?.Kind == TrueFaultKind.NoOutput ? 0 : Part.Volts * Share * (Fault?.Kind == TrueFaultKind.LowOutput ? Fault.Size : 1);
            if (IsDead || volts <= 0)
            {
                Line($"R{Count} {A} {back} 47k");
                Line($"R{Count}o {B} {back} 4.7k");
                return;
            }

            // It needs a volt more than it gives, and takes what it gives.
            if (IsLimited)
            {
                Line($"I{Count} {A} {B} {Part.Amps}");
                Line($"R{Count} {B} {back} 1k");
                return;
            }

            var given = Invariant($"0.5*(v({A},{back})-1+sqrt((v({A},{back})-1)^2+1e-4))");
            Line($"B{Count} amp{Count} {back} v=0.5*({volts}+{given}-sqrt(({volts}-{given})^2+1e-4))");
            Line($"V{Count} amp{Count} {Inner} 0");
            Line($"R{Count} {Inner} {B} {InsideOhms}");
            Line($"F{Count} {A} {back} V{Count} 1");
        }
    }
}
