using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Circuits;

/// <summary>Where, how and in which state something is read.</summary>
/// <param name="Red">Node under the red probe; of a lamp, the name of its part.</param>
/// <param name="Black">Node under the black probe; empty of a lamp and of a clamp.</param>
/// <param name="Unplugged">As printed, the connector that is pulled; empty where none is.</param>
public sealed record ReadingPlace(string Red, string Black, MeterMode Mode, OperatingState State, string Unplugged)
{
    /// <summary>On a dead machine, boards take as much as at their own volts.</summary>
    internal bool TakesBoards { get; init; }

    /// <summary>The place of a clamp around the wire at a pin; null where no wire of the circuit ends there.</summary>
    public static ReadingPlace? Clamp(PinAddress around, MeterMode mode, OperatingState state, MachineCircuit machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return machine is { Circuit: { } circuit } && machine.NodeOf(around) is { } node && CircuitReader.WiresAt(circuit, node).Count > 0
            ? new ReadingPlace(node, "", mode, state, "")
            : null;
    }

    /// <summary>The place of a check; null where the circuit says nothing of it.</summary>
    public static ReadingPlace? Of(ResolvedCheck check, MachineCircuit machine)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(machine);
        var said = check.Check;
        if (machine.Circuit is null)
        {
            return null;
        }

        if (said.Mode == MeterMode.Lamp && said.Red is null)
        {
            return machine.Parts.Any(p => p.Name == said.Part && p.Law.Kind is LawKind.Led or LawKind.Lamp)
                ? new ReadingPlace(said.Part, "", said.Mode, check.State, "")
                : null;
        }

        var isVolts = said.Mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.BatteryUnderLoad;
        var isOhms = said.Mode is MeterMode.Ohms or MeterMode.Continuity or MeterMode.Contact;
        if (said is { Mode: MeterMode.DcAmps or MeterMode.AcAmps, Red: { } around, Plugged: not false })
        {
            return check.State.Energised && check.Limit is NumericLimit or UnjudgedLimit
                ? Clamp(around, said.Mode, check.State, machine)
                : null;
        }

        // What tracks a control, or is read in two positions of something the states do not know, is not the circuit's to say.
        return
            said.Red is { } red
            && said.Black is { } black
            && machine.NodeOf(red) is { } a
            && machine.NodeOf(black) is { } b
            && (isVolts ? check.State.Energised : isOhms)
            && check.Limit is NumericLimit or ShortLimit or NoPathLimit or ContactLimit or UnjudgedLimit
            ? new ReadingPlace(
                isOhms ? Loose(a) : a,
                isOhms ? Loose(b) : b,
                said.Mode,
                check.State,
                said.Plugged == false ? machine.Machine.Pins[red].PrintedElement : ""
            )
            : null;

        // Ohms with the plug pulled are read into the plug: what hangs on it is what is meant.
        string Loose(string node) =>
            said.Plugged == false && machine.Circuit.Has(node + MachineCircuit.WireEnd) ? node + MachineCircuit.WireEnd : node;
    }
}

/// <summary>Why a value is what it is: a number of a part, and what it moves.</summary>
/// <param name="Change">By what the value moves where the number is off by its spread.</param>
public sealed record Sensitivity(string Part, StatedNumber Number, double Change);

/// <summary>What a place should show, and how surely.</summary>
/// <param name="Low">With the spreads of all numbers as independent errors, for judging; 95 % lies within.</param>
/// <param name="WorstLow">With all of them off the same way at once.</param>
/// <param name="Because">The numbers that move it, the strongest first.</param>
/// <param name="Otherwise">What it shows where a relay or junction stands the other way within the spreads; null where none does.</param>
/// <param name="OtherwiseWords">When that is.</param>
public sealed record ExpectedReading(
    Shown Shown,
    double Low,
    double High,
    double WorstLow,
    double WorstHigh,
    IReadOnlyList<Sensitivity> Because,
    Shown? Otherwise,
    string OtherwiseWords
);

/// <summary>
/// Reads the circuit of a machine at its places, healthy, with numbers off, and with faults. Not for several threads at once.
/// </summary>
public sealed partial class CircuitReader
{
    private const string Probe = "\u0000meter";

    // Of ohms on an ordinary meter: too little for a junction to conduct. Common practice, no source.
    private const double OhmsTestVolts = 0.5;
    private const double OhmsTestAmps = 0.001;
    private const double MostOhms = 60e6;
    private const double BeepOhms = 30;

    // An LED is seen from a tenth of its current on, a filament from a third of its volts. Common practice, no source.
    private const double LedSeen = 0.1;
    private const double LampSeen = 1 / 3.0;
    private const double Bright = 0.7;

    private readonly MachineCircuit _machine;
    private readonly Circuit _circuit;
    private readonly Dictionary<(string, string, string, string, bool), Standing> _standings = [];
    private readonly bool _hasBoards;
    private readonly bool _hasJunctions;
    private readonly Dictionary<string, IReadOnlyList<CircuitElement>> _blown = [];
    private readonly Dictionary<(string Protection, string State, string Unplugged, string Fault), OpeningTime> _opening = [];
    private readonly List<(CircuitPart Part, StatedNumber Number, IReadOnlyList<CircuitElement> Up)> _numbers;

    /// <exception cref="ArgumentException">The machine has no circuit.</exception>
    public CircuitReader(MachineCircuit machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        _machine = machine;
        _circuit = machine.Circuit ?? throw new ArgumentException("There is no circuit.", nameof(machine));
        _hasBoards = _circuit.Elements.Any(e => e is Resistance { IsElectronic: true });
        // An LED leads to its own return: what floats behind it is not fed by it.
        _hasJunctions = machine.Parts.Any(p => p.Law.Kind == LawKind.Diode);
        _numbers =
        [
            .. machine
                .Parts.SelectMany(p => p.Law.Numbers.Where(n => n.Spread > 0).Select(n => (p, n, p.Scaled(_circuit, n.Name, 1 + n.Spread))))
                .Where(n => n.Item3.Count > 0),
        ];
    }

    /// <summary>What a healthy machine shows there.</summary>
    public Shown Healthy(ReadingPlace place)
    {
        var shown = Read(place, Standing.For(this, place).Healthy);
        return WithBoards(place) is { } boards ? Surely(shown, Read(place, Standing.For(this, boards).Healthy)) : shown;
    }

    /// <summary>What the machine shows there with a fault that was there before it was switched on.</summary>
    public Shown Faulty(ReadingPlace place, MachineFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        var shown = Standing.For(this, place).Shows(place, fault);
        return WithBoards(place) is { } boards ? Surely(shown, Standing.For(this, boards).Shows(boards, fault)) : shown;
    }

    /// <summary>The same on a dead machine whose boards take as much of the meter as they may; null where that is no question.</summary>
    private ReadingPlace? WithBoards(ReadingPlace place) =>
        _hasBoards && IsOfDead(place) && place.Mode != MeterMode.Contact ? place with { TakesBoards = true } : null;

    /// <summary>What is found for sure: where boards may lead as well, no more than the least of it.</summary>
    private static Shown Surely(Shown without, Shown with) =>
        with.Kind == ShownKind.Number && (without.Kind == ShownKind.Open || with.Value < Sure * without.Value)
            ? with with
            {
                Kind = ShownKind.AtLeast,
            }
            : without;

    // So much of what is found is surely not of a board.
    private const double Sure = 0.9;

    /// <summary>What a fault brings with it in a state: fuses that blow, relays that stand otherwise.</summary>
    public IReadOnlyList<string> Consequences(OperatingState state, MachineFault fault)
    {
        ArgumentNullException.ThrowIfNull(state);
        ArgumentNullException.ThrowIfNull(fault);
        var (healthy, faulty) = (Rest(state).Healthy, Rest(state).Alone(fault));
        if (healthy.Problem is null && faulty.Problem is { } problem)
        {
            return [problem.Words];
        }

        return
        [
            .. _circuit
                .Elements.Where(e => e is Fuse or RelayCoil && !e.Name.Contains(" sees ", StringComparison.Ordinal))
                .Where(e => healthy.States[e.Name] != faulty.States[e.Name])
                .Select(e =>
                    (e, faulty.States[e.Name]) switch
                    {
                        (Fuse fuse, ElementState.Blown) => fuse.Opening,
                        (_, ElementState.Held) => $"{e.Name} pulls in",
                        _ => $"{e.Name} stays out",
                    }
                )
                .Distinct(),
        ];
    }

    /// <summary>The fuses that a fault blows in any state, open; but for those that are at fault themselves.</summary>
    private IReadOnlyList<CircuitElement> BlownBy(MachineFault fault)
    {
        if (!_blown.TryGetValue(fault.Id, out var blown))
        {
            // Of two at once, what either takes with it; what they take only together shows in the state where they do.
            var names =
                fault.Both.Count > 0
                    ? fault.Both.SelectMany(BlownBy).Select(f => f.Name)
                    : _machine
                        .Machine.Model.States.Where(s => s.Energised)
                        .SelectMany(s => Rest(s).Alone(fault).States.Where(e => e.Value == ElementState.Blown))
                        .Select(e => e.Key);
            blown = _blown[fault.Id] = [
                .. names
                    .Distinct()
                    .Where(name => fault.Faulted.All(f => f.Name != name))
                    .Select(name => (CircuitElement)((Fuse)_circuit[name] with { Ohms = double.PositiveInfinity })),
            ];
        }

        return blown;
    }

    /// <summary>Whether a fault blows one of a fuse's or breaker's poles in any state.</summary>
    internal bool Blows(MachineFault fault, CircuitPart protection) => BlownBy(fault).Any(b => protection.Elements.Contains(b.Name));

    /// <summary>
    /// Whether a fuse that was put in whole, or a breaker that was closed, holds where the machine is switched straight to a state; null
    /// where it has no rest there.
    /// </summary>
    /// <param name="unplugged">As printed, the connectors that are pulled, with <c>and</c> between; empty for none.</param>
    /// <param name="fault">There before the machine was switched on; null for a healthy one.</param>
    public bool? Holds(CircuitPart protection, OperatingState state, string unplugged, MachineFault? fault)
    {
        ArgumentNullException.ThrowIfNull(protection);
        var point = PointIn(state, unplugged, fault);
        return point.Problem is not null
            ? null
            : protection.Elements.All(e => point.States.GetValueOrDefault(e, ElementState.Intact) != ElementState.Blown);
    }

    /// <summary>
    /// How long a fuse or breaker lasts that does not hold where the machine is switched straight to a state, by the current that would
    /// flow if nothing opened; null where it holds, where there is no rest, and of wires in other places.
    /// </summary>
    /// <inheritdoc cref="Holds"/>
    public OpeningTime? Opening(CircuitPart protection, OperatingState state, string unplugged, MachineFault? fault)
    {
        if (fault?.IsRewired == true || Holds(protection, state, unplugged, fault) != false)
        {
            return null;
        }

        var key = (protection.Name, state.Code, unplugged, fault?.Id ?? "");
        if (!_opening.TryGetValue(key, out var opening))
        {
            var endless = Standing.For(this, new ReadingPlace("", "", MeterMode.DcVolts, state, unplugged)).Endless;
            var point = fault is null ? endless.Healthy : endless.Alone(fault);
            var times = point.Problem is not null
                ? 0
                : protection
                    .Elements.Where(point.Circuit.Contains)
                    .Max(e => double.Hypot(point.Amps(e), point.AlternatingAmps(e).Magnitude) / ((Fuse)_circuit[e]).Amps);
            // What opens by what is missing opens at once.
            opening = _opening[key] = times > 1 ? OpeningTime.Of(times, protection.Law.Trips) : OpeningTime.AtOnce;
        }

        return opening;
    }

    /// <summary>The rest of the healthy machine in a state.</summary>
    public OperatingPoint PointIn(OperatingState state) => Rest(state).Healthy;

    private Standing Rest(OperatingState state) => Standing.For(this, new ReadingPlace("", "", MeterMode.DcVolts, state, ""));

    /// <summary>The rest of the machine with a fault in a state.</summary>
    public OperatingPoint PointIn(OperatingState state, MachineFault fault) => Rest(state).With(fault);

    /// <summary>The rest of the machine in a state with connectors pulled before it was switched on, its fuses whole.</summary>
    /// <param name="unplugged">As printed, with <c>and</c> between.</param>
    /// <param name="fault">There before; null for a healthy machine.</param>
    public OperatingPoint PointIn(OperatingState state, string unplugged, MachineFault? fault)
    {
        var standing = Standing.For(this, new ReadingPlace("", "", MeterMode.DcVolts, state, unplugged));
        return fault is null ? standing.Healthy : standing.Alone(fault);
    }

    /// <summary>What a healthy machine shows there, within which band, and which numbers make it so.</summary>
    public ExpectedReading Expected(ReadingPlace place)
    {
        ArgumentNullException.ThrowIfNull(place);
        var standing = Standing.For(this, place);
        var shown = Healthy(place);
        List<Sensitivity> because = [];
        Shown? otherwise = null;
        var words = "";
        foreach (var (i, (part, number, _)) in _numbers.Index())
        {
            var point = standing.Varied(i);
            var other = Read(place, point);
            if (StandOtherwise(standing.Healthy, point) is { Length: > 0 } which && Shown.Apart(shown, other) > 1)
            {
                (otherwise, words) = (other, $"where {part.Name} {number.Name} is {number.Spread * 100:0} % more, {which}");
            }
            else if (shown.Kind == ShownKind.Number && other.Kind == ShownKind.Number && Math.Abs(other.Value - shown.Value) > 1e-9)
            {
                because.Add(new Sensitivity(part.Name, number, other.Value - shown.Value));
            }
        }

        because.Sort((a, b) => Math.Abs(b.Change).CompareTo(Math.Abs(a.Change)));
        var half = Math.Sqrt(because.Sum(b => b.Change * b.Change));
        var worst = because.Sum(b => Math.Abs(b.Change));
        return new ExpectedReading(
            shown,
            shown.Value - half,
            shown.Value + half,
            shown.Value - worst,
            shown.Value + worst,
            because,
            otherwise,
            words
        );
    }

    private string StandOtherwise(OperatingPoint was, OperatingPoint now)
    {
        if (was.Problem is not null || now.Problem is not null)
        {
            return (was.Problem ?? now.Problem)?.Words ?? "";
        }

        var other = _circuit.Elements.FirstOrDefault(e => e is RelayCoil or Fuse && was.States[e.Name] != now.States[e.Name]);
        return other switch
        {
            null => "",
            Fuse fuse when now.States[fuse.Name] == ElementState.Blown => fuse.Opening,
            _ => $"{other.Name} stands the other way",
        };
    }

    private Shown Read(ReadingPlace place, OperatingPoint point)
    {
        if (point.Problem is not null)
        {
            return new Shown(ShownKind.NoRest, 0, Unit.Volts);
        }

        switch (place.Mode)
        {
            case MeterMode.Lamp:
                return new Shown(Lit(place.Red, point), 0, Unit.Volts);
            case MeterMode.Ohms or MeterMode.Continuity or MeterMode.Contact:
                var amps = -point.Amps(Probe);
                var ohms = amps > 0 ? (OhmsTestVolts / amps) - (OhmsTestVolts / OhmsTestAmps) : double.PositiveInfinity;
                return place.Mode == MeterMode.Contact ? new Shown(ohms < BeepOhms ? ShownKind.On : ShownKind.Off, 0, Unit.Ohms)
                    : ohms > MostOhms ? new Shown(ShownKind.Open, 0, Unit.Ohms)
                    : Shown.Number(Math.Max(0, ohms), Unit.Ohms);
            case MeterMode.DcAmps or MeterMode.AcAmps:
                // Where an open wire was the only one, nothing flows.
                return Shown.Number(Through(place, point)?.Amps ?? 0, Unit.Amps);
            case MeterMode.AcVolts:
                return point.Alternating(place.Red, place.Black) is { } volts
                    ? Shown.Number(volts.Magnitude, Unit.Volts)
                    : new Shown(ShownKind.Floats, 0, Unit.Volts);
            default:
                return point.Between(place.Red, place.Black) is { } direct ? Shown.Number(direct, Unit.Volts)
                    : ThroughJunctions(place, point) is { } held ? Shown.Number(held, Unit.Volts)
                    : new Shown(ShownKind.Floats, 0, Unit.Volts);
        }
    }

    /// <summary>
    /// Behind junctions that nothing draws through, what little a meter draws is enough for them to hold it; null where it still floats.
    /// </summary>
    private double? ThroughJunctions(ReadingPlace place, OperatingPoint point)
    {
        if (!_hasJunctions)
        {
            return null;
        }

        var under = OperatingPoint.Of(
            new Circuit([.. point.Circuit.Elements, new Resistance(Probe, place.Red, place.Black, MeterOhms)])
            {
                Hertz = point.Circuit.Hertz,
            },
            point.States
        );
        return under.Problem is null && under.Between(place.Red, place.Black) is { } volts && Math.Abs(volts) > NothingVolts ? volts : null;
    }

    // Of an ordinary meter for volts.
    private const double MeterOhms = 1e7;

    private ShownKind Lit(string name, OperatingPoint point)
    {
        var part = _machine.Parts.First(p => p.Name == name);
        var amps = double.Hypot(point.Amps(part.Elements[0]), point.AlternatingAmps(part.Elements[0]).Magnitude);
        var full =
            part.Law.Has("amps") ? part.Law["amps"]
            : part.Law.Has("watts") ? part.Law["watts"] / part.Law["volts"]
            : part.Law.Has("volts") ? part.Law["volts"] / part.Law["ohms"]
            : 0.001;
        return amps < full * (part.Law.Kind == LawKind.Led ? LedSeen : LampSeen) ? ShownKind.Off
            : amps < full * Bright && part.Law.Kind == LawKind.Lamp ? ShownKind.Dim
            : ShownKind.On;
    }

    private static bool IsOfDead(ReadingPlace place) => place.Mode is MeterMode.Ohms or MeterMode.Continuity or MeterMode.Contact;

    /// <summary>The machine in one state, with what is pulled, under one meter; and the same with something other.</summary>
    private sealed class Standing
    {
        private readonly CircuitReader _reader;
        private readonly ReadingPlace _place;
        private readonly FaultPrediction? _prediction;
        private readonly Dictionary<int, OperatingPoint> _varied = [];
        private readonly Dictionary<string, OperatingPoint> _faulty = [];
        private readonly Dictionary<string, OperatingPoint> _alone = [];
        private readonly Dictionary<(MeterMode, string), Shown> _shown = [];
        private readonly Dictionary<string, Standing> _without = [];
        private readonly IReadOnlyList<OperatingPoint> _points;

        private Standing(CircuitReader reader, ReadingPlace place, IReadOnlyList<OperatingPoint> points)
        {
            (_reader, _place, _points) = (reader, place, points);
            Healthy = points[^1];
            _prediction = Healthy.Problem is null ? new FaultPrediction(points) : null;
        }

        public OperatingPoint Healthy { get; }

        public static Standing For(CircuitReader reader, ReadingPlace place)
        {
            ArgumentNullException.ThrowIfNull(place);
            var isDead = IsOfDead(place);
            var key = (place.State.Code, place.Unplugged, isDead ? place.Red : "", isDead ? place.Black : "", place.TakesBoards);
            return reader._standings.TryGetValue(key, out var known)
                ? known
                : reader._standings[key] = new Standing(
                    reader,
                    place,
                    isDead ? reader.Dead(place, reader._circuit) : reader.Live(place, reader._circuit)
                );
        }

        public OperatingPoint Varied(int number)
        {
            if (!_varied.TryGetValue(number, out var point))
            {
                point = _varied[number] = Of(_reader._numbers[number].Up);
            }

            return point;
        }

        /// <summary>What the meter shows with a fault. On a dead machine that is all of it that is ever asked for, and all that is kept:
        /// there are as many of these as faults times pairs of pins.</summary>
        public Shown Shows(ReadingPlace place, MachineFault fault)
        {
            if (!IsOfDead(place))
            {
                return _reader.Read(place, With(fault));
            }

            var key = (place.Mode, fault.Id);
            if (!_shown.TryGetValue(key, out var shown))
            {
                shown = _shown[key] = _reader.Read(place, Made(fault));
            }

            return shown;
        }

        /// <summary>The rest with a fault that was there before the machine was switched on.</summary>
        public OperatingPoint With(MachineFault fault)
        {
            if (!_faulty.TryGetValue(fault.Id, out var point))
            {
                point = _faulty[fault.Id] = Made(fault);
            }

            return point;
        }

        private OperatingPoint Made(MachineFault fault)
        {
            // What blew in one state is blown in all of them, and when it is dead.
            var blown = _reader.BlownBy(fault);
            return fault.IsRewired ? Rewired([.. fault.Faulted, .. blown])
                : blown.Count > 0 ? Without(blown).Of(fault.Faulted)
                : IsDead(Healthy.Circuit) ? Of(fault.Faulted)
                : Alone(fault);
        }

        /// <summary>With a fault as it arises in this state, the machine never having been in another.</summary>
        public OperatingPoint Alone(MachineFault fault)
        {
            if (!_alone.TryGetValue(fault.Id, out var point))
            {
                point = _alone[fault.Id] = fault.IsRewired ? Rewired(fault.Faulted) : Of(fault.Faulted);
            }

            return point;
        }

        /// <summary>The same with fuses blown from the beginning: many faults blow the same ones, and start from here.</summary>
        private Standing Without(IReadOnlyList<CircuitElement> blown)
        {
            var key = string.Join('\n', blown.Select(b => b.Name));
            return _without.TryGetValue(key, out var standing) ? standing : _without[key] = Otherwise(blown);
        }

        private Standing? _endless;

        /// <summary>The same with fuses and breakers that carry whatever flows.</summary>
        public Standing Endless =>
            _endless ??= Otherwise([
                .. Healthy.Circuit.Elements.OfType<Fuse>().Select(f => f with { Amps = double.PositiveInfinity, Residual = null }),
            ]);

        /// <summary>The same with elements that were otherwise from the beginning.</summary>
        private Standing Otherwise(IReadOnlyList<CircuitElement> with)
        {
            List<OperatingPoint> points = [];
            foreach (var point in _points)
            {
                var here = with.Where(b => point.Circuit.Contains(b.Name)).ToList();
                points.Add(OperatingPoint.Of(point.Circuit.With(here), points.LastOrDefault()?.States));
                if (points[^1].Problem is not null)
                {
                    break;
                }
            }

            return new Standing(_reader, _place, points);
        }

        /// <summary>With elements between other nodes: another circuit, solved as a whole.</summary>
        private OperatingPoint Rewired(IReadOnlyList<CircuitElement> faulted)
        {
            var healthy = Healthy.Circuit;
            if (!IsDead(healthy))
            {
                return _reader.Live(_place, _reader.Rewired(faulted))[^1];
            }

            // What is not there dead, or is the same there, is left as it is.
            return !faulted.All(f => healthy.Contains(f.Name)) ? _reader.Dead(_place, _reader.Rewired(faulted))[^1]
                : faulted.All(f => IsIdle(healthy[f.Name]) && IsLevel(f))
                || faulted.SelectMany(f => f.Nodes.Concat(healthy[f.Name].Nodes)).All(IsApart)
                    ? Healthy
                // A contact of a pulled plug is out of it, wherever its wire ends.
                : OperatingPoint.Of(
                    Exchanged(
                        healthy,
                        [
                            .. faulted.Select(f =>
                                f is Resistance r && healthy[f.Name] is Resistance { Ohms: double.PositiveInfinity }
                                    ? r with
                                    {
                                        Ohms = double.PositiveInfinity,
                                    }
                                    : f
                            ),
                        ]
                    )
                );
        }

        /// <summary>Nothing would flow through it where its ends are now.</summary>
        private bool IsLevel(CircuitElement element) =>
            element.Nodes is [var a, var b] && Math.Abs(Healthy.Between(a, b) ?? double.NaN) < OhmsTestVolts * 1e-9;

        /// <summary>With elements that are otherwise; those that this standing does not have, such as a source on a dead machine, make no
        /// difference.</summary>
        private OperatingPoint Of(IReadOnlyList<CircuitElement> faulted)
        {
            List<CircuitElement> here = [.. faulted.Where(f => Healthy.Circuit.Contains(f.Name)).Select(f => AsHere(f, Healthy.Circuit))];
            return _prediction is null || here.Count == 0 || (IsDead(Healthy.Circuit) && here.TrueForAll(IsIdle))
                ? Healthy
                : _prediction.Of(here);
        }

        /// <summary>
        /// Nothing lies across it and nothing flows through it, so that whatever else stood there, nothing would; or it lies where the
        /// meter does not come.
        /// </summary>
        private bool IsIdle(CircuitElement element) =>
            element is Resistance or Switch or Fuse
            && element.Nodes is [var a, var b]
            && (
                (IsApart(a) && IsApart(b))
                || (
                    Math.Abs(Healthy.Between(a, b) ?? double.NaN) < OhmsTestVolts * 1e-9
                    && Math.Abs(Healthy.Amps(element.Name)) < OhmsTestAmps * 1e-9
                )
            );

        /// <summary>Nothing that conducts joins it to what the meter is on.</summary>
        private bool IsApart(string node) => Healthy.Between(node, _place.Red) is null && Healthy.Between(node, _place.Black) is null;
    }

    /// <summary>The circuit with elements between other nodes than before.</summary>
    private Circuit Rewired(IReadOnlyList<CircuitElement> faulted) => Exchanged(_circuit, faulted);

    private static Circuit Exchanged(Circuit circuit, IReadOnlyList<CircuitElement> faulted)
    {
        var byName = faulted.ToDictionary(f => f.Name);
        return new Circuit(circuit.Elements.Select(e => byName.GetValueOrDefault(e.Name, e))) { Hertz = circuit.Hertz };
    }

    /// <summary>A fault as it is on a dead machine: a motor at rest is its winding.</summary>
    private static CircuitElement AsHere(CircuitElement faulted, Circuit circuit) =>
        faulted is Resistance { IsElectronic: true } board && circuit[board.Name] is Resistance dead && IsDead(circuit)
            // Open or shorted it is that; whatever else it takes, nobody finds it dead.
            ? double.IsPositiveInfinity(board.Ohms) || board.IsShorted
                ? board with
                {
                    IsElectronic = false,
                }
                : dead
            : faulted is Resistance { DeadOhms: not null } f && circuit[f.Name] is Resistance { DeadOhms: null } here
                ? here with
                {
                    // Open and shorted it is dead as well; what it draws while it runs says nothing of its winding.
                    Ohms = double.IsPositiveInfinity(f.Ohms) || f.IsShorted ? f.Ohms : f.DeadOhms!.Value,
                }
                : faulted;

    private static bool IsDead(Circuit circuit) => circuit.Contains(Probe);

    private IReadOnlyList<OperatingPoint> Live(ReadingPlace place, Circuit circuit) =>
        place.Unplugged.Length == 0 && ReferenceEquals(circuit, _circuit)
            ? _machine.PointsTo(place.State)
            : ActSequence.Run(Pulled(circuit, place.Unplugged), _machine.ActsTo(place.State));

    private List<OperatingPoint> Dead(ReadingPlace place, Circuit circuit) =>
        [
            OperatingPoint.Of(
                ProbedCircuit.Dead(
                    Pulled(_machine.In(place.State, circuit), place.Unplugged),
                    Probe,
                    place.Red,
                    place.Black,
                    OhmsTestVolts,
                    OhmsTestAmps,
                    place.TakesBoards
                )
            ),
        ];

    /// <summary>Between connectors that are pulled at once.</summary>
    internal const string And = " and ";

    /// <summary>With every contact of a connector, or of several, open.</summary>
    private static Circuit Pulled(Circuit circuit, string connector) =>
        connector.Length == 0
            ? circuit
            : circuit.With([
                .. circuit
                    .Elements.OfType<Resistance>()
                    .Where(r =>
                        connector.Split(And).Any(c => r.Name.StartsWith(MachineCircuit.ContactAt($"{c}·"), StringComparison.Ordinal))
                    )
                    .Select(r => (CircuitElement)(r with { Ohms = double.PositiveInfinity })),
            ]);
}
