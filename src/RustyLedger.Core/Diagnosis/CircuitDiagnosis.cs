using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What is suspected on a machine whose circuit is known: each fault of each part, and what it would show.</summary>
internal sealed class CircuitDiagnosis
{
    // A band of 95 % is so many standard deviations to either side.
    private const double DeviationsOfBand = 1.96;

    // What a place in use takes that no drawing tells, and what a meter is off by as a whole. Common practice, no source.
    private const double PlaceVolts = 0.08;
    private const double PlaceOhms = 0.3;
    private const double PlaceAmps = 0.1;

    private static double PlaceOf(Unit unit) =>
        unit == Unit.Ohms ? PlaceOhms
        : unit == Unit.Amps ? PlaceAmps
        : PlaceVolts;

    private const double PlaceShare = 0.004;
    private const double MeterGain = 0.004;
    private const double LeadOhms = 0.15;

    // Of what lies between two sizes, how far the way between is off.
    private const double BetweenSpread = 0.12;

    // A motor or a coil that draws so many times its current does not do what it should.
    private const double TooMuch = 3;

    private readonly CircuitSurvey _survey;
    private readonly MachineCircuit _machine;
    private readonly Dictionary<string, Blend[]> _blends = [];
    private readonly Dictionary<string, ReadingPlace?> _places = [];
    private readonly Dictionary<string, IReadOnlyList<SharedError>> _errors = [];
    private readonly Dictionary<string, CircuitPart> _parts;
    private readonly Dictionary<(string Act, string Fault), Prediction> _known = [];
    private readonly Dictionary<string, MachineFault?> _joined = [];

    public CircuitDiagnosis(CircuitSurvey survey, ResolvedMachine machine)
    {
        (_survey, _machine) = (survey, survey.Machine);
        _parts = _machine.Parts.GroupBy(p => p.Name).ToDictionary(g => g.Key, g => g.First());
        Span = Math.Max(
            1,
            2
                * machine
                    .Model.States.Where(s => s.Energised)
                    .Select(s => survey.PointIn(s, null))
                    .Where(p => p.Problem is null)
                    .SelectMany(p =>
                        p.Circuit.Nodes.Select(n =>
                            Math.Max(Math.Abs(p.Volts(n) ?? 0), p.Alternating(n, Circuit.Reference)?.Magnitude ?? 0)
                        )
                    )
                    .DefaultIfEmpty(1)
                    .Max()
        );
        Causes = [.. survey.Faults.GroupBy(f => (Element: ElementOf(f), f.Kind)).Select(g => Family([.. g]))];
    }

    /// <summary>How far volts spread at all: twice the most there is.</summary>
    public double Span { get; }

    /// <summary>How far amps spread at all: twice what the largest fuse lets through, or what the largest load draws.</summary>
    public double SpanOfAmps =>
        _amps ??=
            2
            * _parts
                .Values.Where(IsLoad)
                .Select(FullAmps)
                .Concat(_parts.Values.Where(p => p.Law.IsProtection && p.Law.Has("amps")).Select(p => p.Law["amps"]))
                .Append(0.5)
                .Max();

    private double? _amps;

    public IReadOnlyList<Hypothesis> Causes { get; }

    /// <summary>What a part that a cause keeps from switching on waits for; null of all else.</summary>
    public SwitchedWhen? WaitsFor(Hypothesis cause, string part) =>
        _parts.GetValueOrDefault(part)?.When is { Either.Count: > 0 } when
        && _blends.GetValueOrDefault(cause.Id) is [{ To: { } to }, ..]
        && to.Kind is FaultKind.StuckOff or FaultKind.NoOutput or FaultKind.Open
            ? when
            : null;

    /// <summary>The pins at which what gives too little or nothing is fed, of a regulator or a transformer; empty of all else.</summary>
    public IReadOnlyList<PinAddress> FedAt(Hypothesis cause, string part) =>
        _parts.GetValueOrDefault(part) is { Law.Kind: LawKind.Regulator or LawKind.Transformer } fed
        && _blends.GetValueOrDefault(cause.Id) is [{ To.Kind: FaultKind.NoOutput or FaultKind.LowOutput or FaultKind.Open }, ..]
            ? [.. _machine.Machine.Pins.Keys.Where(p => _machine.NodeOf(p) == fed.Nodes[0])]
            : [];

    /// <summary>
    /// What the sheet says and what the circuit gives where an act reads, where these cannot both be right: of the check itself, or, where
    /// they are so far apart that a wire is elsewhere, of another at the same pin; else empty.
    /// </summary>
    public string ContradictionAt(Act act)
    {
        if (act.CheckKey is { } key && _survey.Rows.FirstOrDefault(r => r.Check.Key == key) is { Contradiction.Length: > 0 } own)
        {
            return $"at {act.Words} {own.Contradiction}";
        }

        return act.Kind == ActKind.Read && Elsewhere.FirstOrDefault(r => IsAtPinOf(r, act.Red) || IsAtPinOf(r, act.Black)) is { } other
            ? $"at {other.Place.Red} to {other.Place.Black} {other.Contradiction}"
            : "";
    }

    private List<SurveyRow>? _elsewhere;

    private List<SurveyRow> Elsewhere => _elsewhere ??= [.. _survey.Rows.Where(r => r.IsElsewhere(MostVolts))];

    private double MostVolts =>
        _machine.Parts.Where(p => p.Law.IsSource && p.Law.Has("volts")).Select(p => p.Law["volts"]).DefaultIfEmpty(0).Max();

    // A return is a pin of every check: what is wrong is at the other end.
    private bool IsAtPinOf(SurveyRow row, PinAddress? pin) =>
        pin is not null && pin != Return && (pin == row.Check.Check.Red || pin == row.Check.Check.Black);

    /// <summary>Loads, each with the states in which it runs on a healthy machine.</summary>
    public IEnumerable<(CircuitPart Part, OperatingState State)> Runs =>
        _machine
            .Machine.Model.States.Where(s => s.Energised)
            .SelectMany(s =>
                _parts.Values.Where(p => IsLoad(p) && AmpsOf(p, s, null) > Math.Max(LeastOf(p), OfFull * FullAmps(p))).Select(p => (p, s))
            );

    /// <summary>Parts that are measured dead across their two pins, with these; on three phases from each to the next.</summary>
    public IEnumerable<(CircuitPart Part, PinAddress From, PinAddress To)> Across
    {
        get
        {
            var pins = _machine.Nodes.GroupBy(n => n.Value).ToDictionary(g => g.Key, g => g.First().Key);
            return _parts
                .Values.Where(p =>
                    p.Law.Kind
                        is LawKind.Fuse
                            or LawKind.Load
                            or LawKind.Motor
                            or LawKind.Lamp
                            or LawKind.RelayCoil
                            or LawKind.Switch
                            or LawKind.Output
                            or LawKind.SolidState
                            or LawKind.MakeContact
                            or LawKind.BreakContact
                    && p.Nodes.Count >= (p.Law.IsThreePhase ? Phases : 2)
                )
                .SelectMany(p =>
                    p.Law.IsThreePhase ? Enumerable.Range(0, Phases).Select(i => (Part: p, From: p.Nodes[i], To: p.Nodes[(i + 1) % Phases]))
                    : p.Nodes is [var from, var to] ? [(Part: p, From: from, To: to)]
                    : []
                )
                .Where(a => pins.ContainsKey(a.From) && pins.ContainsKey(a.To))
                .Select(a => (a.Part, pins[a.From], pins[a.To]));
        }
    }

    private const int Phases = 3;

    /// <summary>A pin at the return of the source; null where none is there.</summary>
    public PinAddress? Return => _machine.Nodes.FirstOrDefault(n => n.Value == Circuit.Reference).Key;

    /// <summary>The machine lives on the mains alone.</summary>
    public bool IsAlternating => !_machine.Parts.Any(p => p.Law.Kind is LawKind.Supply or LawKind.Battery or LawKind.Rectifier);

    private static string ElementOf(MachineFault fault) => fault.Id[..fault.Id.IndexOf($"/{(int)fault.Kind}", StringComparison.Ordinal)];

    private const double LeastAmps = 1e-5;

    // What leaks through an output that is off is no running; and of a load that takes next to nothing, such as an input, nobody sees
    // whether it does. Common practice, no source.
    private const double OfFull = 0.2;
    private const double LeastSeenAmps = 0.01;

    private static double LeastOf(CircuitPart part) => part.Law.Kind == LawKind.Load ? LeastSeenAmps : LeastAmps;

    private static bool IsLoad(CircuitPart part) =>
        part.Law.Kind is LawKind.Load or LawKind.Motor or LawKind.Lamp or LawKind.Led
        || (part.Law.Kind == LawKind.RelayCoil && !part.Name.Contains(" sees ", StringComparison.Ordinal));

    /// <summary>One size of a fault, or a place between two: from the first to the second, which is there at 1.</summary>
    /// <param name="From">Null for a healthy machine.</param>
    private sealed record Blend(MachineFault? From, MachineFault To, double At, string Words);

    private Hypothesis Family(List<MachineFault> sizes)
    {
        sizes.Sort((a, b) => (a.Size ?? 0).CompareTo(b.Size ?? 0));
        var first = sizes[0];
        var blends = new List<Blend>();
        void Between(MachineFault? from, MachineFault to, int steps, string words)
        {
            for (var i = 1; i < steps; i++)
            {
                blends.Add(new Blend(from, to, (double)i / steps, words));
            }
        }

        string Too(double? least, double most) =>
            $"{ElementOf(first)} bad: {(least is { } l ? $"{Quantity.Write(l, "Ω")} to " : "up to ")}{Quantity.Write(most, "Ω")} too much";
        switch (first.Kind)
        {
            case FaultKind.HighResistance or FaultKind.LeakToChassis when first.Size is not null:
                for (var i = 0; i < sizes.Count; i++)
                {
                    if (first.Kind == FaultKind.HighResistance)
                    {
                        Between(
                            i == 0 ? null : sizes[i - 1],
                            sizes[i],
                            i == 0 ? 4 : 6,
                            Too(i == 0 ? null : sizes[i - 1].Size, sizes[i].Size!.Value)
                        );
                    }

                    blends.Add(new Blend(null, sizes[i], 1, sizes[i].Words));
                }

                break;
            case FaultKind.LowOutput:
                Between(null, first, 4, $"{ElementOf(first)} gives too little");
                blends.Add(new Blend(null, first, 1, first.Words));
                var none = _survey.Faults.FirstOrDefault(f => f.Kind == FaultKind.NoOutput && f.Part == first.Part);
                if (none is not null)
                {
                    Between(first, none, 5, $"{ElementOf(first)} gives far too little");
                }

                break;
            case FaultKind.Short when sizes.Count > 1:
                blends.AddRange(sizes.Select(s => new Blend(null, s, 1, s.Words)));
                foreach (var (less, more) in sizes.Zip(sizes.Skip(1)))
                {
                    Between(less, more, 4, more.Words);
                }

                break;
            case FaultKind.Drift:
                for (var i = 0; i < sizes.Count; i++)
                {
                    blends.Add(new Blend(null, sizes[i], 1, sizes[i].Words));
                    if (i + 1 < sizes.Count && (sizes[i].Size < 1) == (sizes[i + 1].Size < 1))
                    {
                        Between(sizes[i], sizes[i + 1], 3, sizes[i].Words);
                    }
                }

                break;
            default:
                blends.AddRange(sizes.Select(s => new Blend(null, s, 1, s.Words)));
                break;
        }

        var id = $"{ElementOf(first)}/{(int)first.Kind}";
        _blends[id] = [.. blends];
        return new Hypothesis(id, CauseKind.Part, first.Part, [.. blends.Select(b => b.Words)], sizes.Sum(s => s.Odds))
        {
            IsIntermittent = first.Kind == FaultKind.Intermittent,
            IsRewired = first.IsRewired,
        };
    }

    // Of two ranges at once so many pairs of sizes stand for all.
    private const int MostSizesOfPair = 64;
    private readonly Dictionary<string, (Blend First, Blend Second)[]> _pairs = [];

    /// <summary>Two faults at once, each in any of its sizes; null where they are of one element.</summary>
    public Hypothesis? Join(Hypothesis first, Hypothesis second)
    {
        if (!_blends.TryGetValue(first.Id, out var a) || !_blends.TryGetValue(second.Id, out var b))
        {
            return null;
        }

        var elements = a.SelectMany(x => x.To.Faulted).Select(f => f.Name).ToHashSet();
        if (b.Any(x => x.To.Faulted.Any(f => elements.Contains(f.Name))))
        {
            return null;
        }

        var id = $"{first.Id} + {second.Id}";
        if (!_pairs.TryGetValue(id, out var sizes))
        {
            var stride = Math.Max(1, (int)Math.Ceiling((double)a.Length * b.Length / MostSizesOfPair));
            // The likelier of the two keeps all its sizes.
            sizes = _pairs[id] = [.. a.SelectMany(x => b.Where((_, i) => i % stride == 0).Select(y => (x, y)))];
        }

        return new Hypothesis(
            id,
            CauseKind.Part,
            "",
            [.. sizes.Select(s => $"{s.First.Words}; {s.Second.Words}")],
            first.Odds * second.Odds
        )
        {
            Both = [first, second],
        };
    }

    public bool Knows(Hypothesis cause) => cause.Both.Count > 0 ? cause.Both.All(Knows) : _blends.ContainsKey(cause.Id);

    /// <summary>Whether the circuit says what an act shows.</summary>
    public bool Says(Act act) => PlaceOf(act) is not null || PartOf(act) is not null || act.Kind == ActKind.Close;

    public IReadOnlyList<string> Protections => [.. _parts.Values.Where(p => p.Law.IsProtection).Select(p => p.Name)];

    /// <summary>A fuse or breaker by its name, or by the end of it where there is one of that end; null where there is none.</summary>
    public CircuitPart? ProtectionCalled(string name)
    {
        var key = PartWords.Key(name);
        var all = _parts.Values.Where(p => p.Law.IsProtection).ToList();
        var alike = all.FindAll(p => p.Name.EndsWith($"-{name.Trim()}", StringComparison.OrdinalIgnoreCase));
        return all.Find(p => PartWords.Key(p.Name) == key) ?? (alike.Count == 1 ? alike[0] : null);
    }

    /// <summary>
    /// How often somebody who looks at a part sees what a fault has done to it. Common practice, no source.
    /// </summary>
    public double LooksBad(Hypothesis cause, int size, string part)
    {
        if (cause.Both.Count > 0)
        {
            var (one, two) = _pairs[cause.Id][size];
            return Math.Max(LooksBad(one.To, part), LooksBad(two.To, part));
        }

        return LooksBad(_blends[cause.Id][size].To, part);
    }

    private double LooksBad(MachineFault fault, string part)
    {
        const double Blown = 0.6;
        if (_parts.GetValueOrDefault(part) is not { } of)
        {
            // That a plug sits one pin over is seen by whoever looks for it.
            return fault.Part != part ? 0
                : fault.IsRewired ? 0.9
                : 0.25;
        }

        if (fault.Part != part)
        {
            // A fuse that the fault took with it.
            return of.Law is { Kind: LawKind.Fuse, Trips: false } && Opens(of, fault) is not null ? Blown : 0;
        }

        return (of.Law.Kind, fault.Kind) switch
        {
            (LawKind.Fuse, FaultKind.Open) => of.Law.Trips ? 0.1 : Blown,
            (LawKind.Lamp, _) => 0.5,
            (LawKind.Contact, FaultKind.Intermittent) => 0.25,
            (LawKind.Contact, _) => 0.4,
            (LawKind.Wire or LawKind.Bond, FaultKind.Intermittent) => 0.15,
            (LawKind.Wire or LawKind.Bond, _) => 0.35,
            (LawKind.Motor or LawKind.Load or LawKind.RelayCoil, FaultKind.Short) => 0.35,
            (LawKind.MakeContact or LawKind.BreakContact or LawKind.Output or LawKind.SolidState or LawKind.Diode, _) => 0.2,
            (LawKind.Capacitor or LawKind.Track, _) => 0.4,
            _ => 0.15,
        };
    }

    /// <summary>The first state in which a fault opens a fuse or breaker that is put in whole; null where none does.</summary>
    private OperatingState? Opens(CircuitPart protection, MachineFault? fault) =>
        _machine.Machine.Model.States.Where(s => s.Energised).FirstOrDefault(s => _survey.Holds(protection, s, "", fault) == false);

    private const int MostReclosed = 3;

    /// <summary>Fuses and breakers that suspects open, or that are at fault themselves, each with a state in which it shows.</summary>
    public IReadOnlyList<(string Protection, string State)> OpenedBy(IReadOnlyList<Weighed> suspects)
    {
        List<(string, string)> opened = [];
        foreach (var suspect in suspects.Where(s => s.Cause.Both.Count == 0 && _blends.ContainsKey(s.Cause.Id)))
        {
            var fault = _blends[suspect.Cause.Id][suspect.Size].To;
            foreach (var part in _parts.Values.Where(p => p.Law.IsProtection))
            {
                if (
                    opened.Count < MostReclosed
                    && fault.Part != part.Name
                    && !opened.Exists(o => o.Item1 == part.Name)
                    && Opens(part, fault) is { } state
                )
                {
                    opened.Add((part.Name, state.Code));
                }
            }
        }

        return opened;
    }

    private Dictionary<string, List<string>>? _plugsTo;

    /// <summary>Connectors, as printed, on which a part hangs.</summary>
    public IReadOnlyList<string> PlugsTo(string part) =>
        (
            _plugsTo ??= _machine
                .Machine.Pins.SelectMany(p => HangsOn(p.Key).Select(of => (Of: of, p.Value.PrintedElement)))
                .Where(p => !p.Of.StartsWith(p.PrintedElement, StringComparison.Ordinal))
                .GroupBy(p => p.Of)
                .ToDictionary(g => g.Key, g => g.Select(p => p.PrintedElement).Distinct().ToList())
        ).GetValueOrDefault(part, []);

    /// <summary>Connectors, as printed, through whose contacts a fuse or breaker feeds something.</summary>
    public IReadOnlyList<string> PlugsBehind(string protection)
    {
        if (_parts.GetValueOrDefault(protection) is not { } fuse)
        {
            return [];
        }

        // Everything that lies behind it but for what comes back by the return, or from the source.
        var source = _machine.Parts.Where(p => p.Law.IsSource).SelectMany(p => p.Nodes).Append(Circuit.Reference).ToHashSet();
        var behind = _machine.Circuit!.Elements.FirstOrDefault(e => e.Name == MachineCircuit.Behind(protection))?.Nodes[0];
        if (behind is null)
        {
            return [];
        }

        var contacts = _machine
            .Machine.Pins.Values.GroupBy(p => MachineCircuit.ContactAt(p.Printed))
            .ToDictionary(g => g.Key, g => g.First());
        List<string> plugs = [];
        Along(
            behind,
            element =>
            {
                if (contacts.TryGetValue(element.Name, out var pin) && !plugs.Contains(pin.PrintedElement))
                {
                    plugs.Add(pin.PrintedElement);
                }

                return element.Name != protection && (IsWay(element) || OwnerOf(element)?.Law.Switches == true);
            },
            source
        );
        return plugs;
    }

    /// <summary>Goes from node to node, by the elements that it may go along, and not beyond some nodes.</summary>
    /// <param name="goes">Called once for each element that is met.</param>
    private void Along(string from, Func<CircuitElement, bool> goes, HashSet<string> notBeyond)
    {
        var (seen, met, open) = (new HashSet<string> { from }, new HashSet<string>(), new Queue<string>([from]));
        while (open.TryDequeue(out var at))
        {
            foreach (var element in _machine.Circuit!.Elements.Where(e => e.Nodes.Contains(at) && met.Add(e.Name)))
            {
                foreach (var to in goes(element) ? element.Nodes.Where(n => !notBeyond.Contains(n) && seen.Add(n)) : [])
                {
                    open.Enqueue(to);
                }
            }
        }
    }

    /// <summary>A wire, a track, a contact of a plug.</summary>
    private bool IsWay(CircuitElement element)
    {
        const double MostOhms = 0.5;
        return element is Resistance r
            && (OwnerOf(element) is { } of ? of.Law.Kind is LawKind.Wire or LawKind.Contact or LawKind.Track : r.Ohms < MostOhms);
    }

    private Dictionary<string, CircuitPart>? _owners;

    private CircuitPart? OwnerOf(CircuitElement element) =>
        (
            _owners ??= _machine
                .Parts.SelectMany(p => p.Elements.Select(e => (e, p)))
                .GroupBy(x => x.e)
                .ToDictionary(g => g.Key, g => g.First().p)
        ).GetValueOrDefault(element.Name);

    /// <summary>
    /// Another part of the same kind and numbers, off the boards, that it can change places with; null where there is none.
    /// </summary>
    public string? EqualOf(string name)
    {
        static bool CanMove(LawKind kind) => kind is LawKind.Motor or LawKind.Load or LawKind.Lamp or LawKind.RelayCoil or LawKind.Supply;
        if (_parts.GetValueOrDefault(name) is not { } part || !CanMove(part.Law.Kind) || part.Law.IsElectronic || !IsOffBoard(part))
        {
            return null;
        }

        return _parts
            .Values.FirstOrDefault(p =>
                p != part
                && p.Law.Kind == part.Law.Kind
                && IsOffBoard(p)
                && p.Law.Numbers.Select(n => (n.Name, n.Value)).SequenceEqual(part.Law.Numbers.Select(n => (n.Name, n.Value)))
            )
            ?.Name;
    }

    private bool IsOffBoard(CircuitPart part) => _machine.Machine.Model.Parts.Any(p => p.Designator == part.Name);

    /// <summary>A part goes where a board goes: it lies between pins of the board, and is neither its plug's contact nor a wire.</summary>
    public bool IsOnBoard(string name, string prefix) =>
        _parts.GetValueOrDefault(name) is { Law.Kind: not (LawKind.Contact or LawKind.Wire or LawKind.Bond) } part
        && !part.Law.IsSource
        && !IsOffBoard(part)
        && (
            name.StartsWith($"{prefix}-", StringComparison.Ordinal)
            || name.StartsWith($"{prefix} ", StringComparison.Ordinal)
            || (part.Law.Kind == LawKind.Track && name.StartsWith($"track {prefix}-", StringComparison.Ordinal))
        )
        && part.Law.Kind is not (LawKind.Motor or LawKind.Lamp)
        // A sensor is not on the board that reads it.
        && (part.Law.Kind != LawKind.Load || name.Contains("board", StringComparison.OrdinalIgnoreCase));

    public Prediction Healthy(Act act) => Known(act, null);

    public Prediction Predict(Hypothesis cause, int size, Act act)
    {
        if (cause.Both.Count == 0)
        {
            var blend = _blends[cause.Id][size];
            // Without a current nothing is lost at what conducts badly.
            return act.NoLoad && blend.To.Kind == FaultKind.HighResistance ? Healthy(act) : Of(act, blend);
        }

        var (one, two) = _pairs[cause.Id][size];
        Prediction With(MachineFault? a, MachineFault? b) => Known(act, Joined(a, b));
        Prediction AtFirst(MachineFault? a) => two.At >= 1 ? With(a, two.To) : Between(With(a, two.From), With(a, two.To), two.At);
        return one.At >= 1 ? AtFirst(one.To) : Between(AtFirst(one.From), AtFirst(one.To), one.At);
    }

    private MachineFault? Joined(MachineFault? a, MachineFault? b)
    {
        if (a is null || b is null)
        {
            return a ?? b;
        }

        var id = $"{a.Id} + {b.Id}";
        if (!_joined.TryGetValue(id, out var both))
        {
            // One that puts wires elsewhere makes both another circuit.
            both = _joined[id] = (a.IsRewired ? a : b) with { Id = id, Faulted = [.. a.Faulted, .. b.Faulted], Both = [a, b] };
        }

        return both;
    }

    private Prediction Of(Act act, Blend blend) =>
        blend.At >= 1 ? Known(act, blend.To) : Between(Known(act, blend.From), Known(act, blend.To), blend.At);

    private static Prediction Between(Prediction from, Prediction to, double at) =>
        (from.Kind, to.Kind) switch
        {
            (PredictionKind.Number, PredictionKind.Number) => Prediction.Of(
                from.Value + (at * (to.Value - from.Value)),
                Math.Abs(to.Value - from.Value) * BetweenSpread
            ),
            (PredictionKind.Share, PredictionKind.Share) => Prediction.Share(from.Value + (at * (to.Value - from.Value))) with
            {
                After = OpeningTime.Between(from.After, to.After, at),
            },
            _ => at < 0.5 ? from : to,
        };

    private Prediction Known(Act act, MachineFault? fault)
    {
        var key = (act.Id, fault?.Id ?? "");
        if (!_known.TryGetValue(key, out var known))
        {
            known = _known[key] = Shown(act, fault);
        }

        return known;
    }

    private Prediction Shown(Act act, MachineFault? fault)
    {
        if (PartOf(act) is { } part && _machine.Machine.Model.States.FirstOrDefault(s => s.Code == act.State) is { } state)
        {
            return Works(part, state, fault, act.Pulled);
        }

        if (act.Kind == ActKind.Close)
        {
            return Holds(act, fault);
        }

        if (PlaceOf(act) is not { } place)
        {
            return Prediction.Anything;
        }

        var shown = _survey.Shows(place, fault);
        return shown.Kind switch
        {
            ShownKind.Number => Prediction.Of(shown.Value, place.Black.Length == 0 ? OfLaw(place, shown.Value) : 0),
            ShownKind.Open => new Prediction(PredictionKind.Open, 0),
            ShownKind.AtLeast => new Prediction(PredictionKind.AtLeast, shown.Value),
            ShownKind.On => Prediction.Share(1),
            ShownKind.Dim => Prediction.Share(0.5),
            ShownKind.Off => Prediction.Share(0),
            ShownKind.Floats => new Prediction(PredictionKind.Floats, 0),
            _ => Prediction.Anything,
        };
    }

    /// <summary>
    /// By how much a clamp may be off what is predicted, in amps: a motor holds its current as its volts go, a filament and a board draw
    /// by laws of their own. Whether anything flows is told all the same. Common practice, no source.
    /// </summary>
    private double OfLaw(ReadingPlace clamp, double amps) =>
        _parts
            .Values.Where(p => p.Nodes.Contains(clamp.Red))
            .Select(p =>
                p.Law.Kind == LawKind.Motor ? 0.35
                : p.Law.IsElectronic ? 0.3
                : p.Law.Kind == LawKind.Lamp ? 0.2
                : 0
            )
            .DefaultIfEmpty(0)
            .Max() * Math.Max(amps, amps > LeastAmps ? _survey.Shows(clamp, null).Value : 0);

    /// <summary>Whether a cause, at one of its sizes, takes a fuse or breaker with it.</summary>
    public bool Blows(Hypothesis cause, int size, string protection) =>
        cause.Both.Count == 0
        && _parts.GetValueOrDefault(protection) is { Law.IsProtection: true } part
        && cause.Part != protection
        && _blends.GetValueOrDefault(cause.Id) is { } sizes
        && sizes[size].To is { } fault
        && _survey.Blows(fault, part);

    /// <summary>Whether a fuse or breaker holds: in the state that is meant, or in all in which the machine is used.</summary>
    private Prediction Holds(Act act, MachineFault? fault)
    {
        if (_parts.GetValueOrDefault(act.Aims[0]) is not { } part)
        {
            return Prediction.Anything;
        }

        if (fault?.Part == part.Name)
        {
            // A fuse at fault itself is not the one that was put in; a breaker that does not stay on is the same still.
            return Prediction.Share(part.Law.Trips && fault.Kind is FaultKind.Open or FaultKind.StuckOff ? 0 : 1);
        }

        var states = _machine.Machine.Model.States.Where(s => act.State.Length == 0 ? s.Energised : s.Code == act.State).ToList();
        var holds = states.ConvertAll(s => _survey.Holds(part, s, act.Pulled, fault));
        return holds.Contains(false)
                ? Prediction.Share(0) with
                {
                    After = states
                        .Select(s => _survey.Opening(part, s, act.Pulled, fault))
                        .Where(o => o is not null)
                        .OrderBy(o => o!.Value.LogSeconds)
                        .FirstOrDefault(),
                }
            : holds.Contains(null) || holds.Count == 0 ? Prediction.Anything
            : Prediction.Share(1);
    }

    /// <summary>How well a load does what it should, by its current; one that takes far too much does not.</summary>
    private Prediction Works(CircuitPart part, OperatingState state, MachineFault? fault, string pulled)
    {
        if (part.Law.Kind is LawKind.Lamp or LawKind.Led)
        {
            return _survey.Shows(new ReadingPlace(part.Name, "", MeterMode.Lamp, state, pulled), fault).Kind switch
            {
                ShownKind.On => Prediction.Share(1),
                ShownKind.Dim => Prediction.Share(0.5),
                ShownKind.Off => Prediction.Share(0),
                _ => Prediction.Anything,
            };
        }

        if (_survey.PointIn(state, fault, pulled).Problem is not null)
        {
            return Prediction.Anything;
        }

        var (healthy, now) = (AmpsOf(part, state, null), AmpsOf(part, state, fault, pulled));
        if (healthy <= LeastAmps)
        {
            // It should be at rest: that it runs is what would be seen.
            return Prediction.Share(now > 0.1 * FullAmps(part) ? 1 : 0);
        }

        var share = now / healthy;
        var isOwn = fault?.Part == part.Name;
        return Prediction.Share(
            share > TooMuch ? 0
            : isOwn && share > 1.15 ? 0.6
            : Math.Min(1, share)
        );
    }

    private double FullAmps(CircuitPart part) =>
        _machine.Machine.Model.States.Where(s => s.Energised).Select(s => AmpsOf(part, s, null)).DefaultIfEmpty(0).Max();

    private double AmpsOf(CircuitPart part, OperatingState state, MachineFault? fault, string pulled = "")
    {
        var point = _survey.PointIn(state, fault, pulled);
        return point.Problem is not null
            ? 0
            : part
                .Elements.Where(point.Circuit.Contains)
                .Select(e => double.Hypot(point.Amps(e), point.AlternatingAmps(e).Magnitude))
                .DefaultIfEmpty(0)
                .Max();
    }

    /// <summary>The load that an act tries or looks at; null where it reads.</summary>
    private CircuitPart? PartOf(Act act) =>
        act.Kind is ActKind.Try or ActKind.Look && act.Aims is [var name, ..] ? _parts.GetValueOrDefault(name) : null;

    private ReadingPlace? PlaceOf(Act act)
    {
        if (act.Kind != ActKind.Read)
        {
            return null;
        }

        if (!_places.TryGetValue(act.Id, out var place))
        {
            place = _places[act.Id] = Place(act);
        }

        return place;
    }

    private ReadingPlace? Place(Act act)
    {
        if (act.CheckKey is { } key && _survey.Rows.FirstOrDefault(r => r.Check.Key == key) is { } row)
        {
            return row.Place;
        }

        if (act is { IsByClamp: true, Red: { } around })
        {
            return _machine.Machine.Model.States.FirstOrDefault(s => s.Code == act.State && s.Energised) is { } on
                ? ReadingPlace.Clamp(around, act.Mode, on, _machine)
                : null;
        }

        return
            act.Red is { } red
            && act.Black is { } black
            && _machine.NodeOf(red) is { } a
            && _machine.NodeOf(black) is { } b
            && _machine.Machine.Model.States.FirstOrDefault(s => s.Code == act.State) is { } state
            && act.Mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.Ohms or MeterMode.Continuity or MeterMode.Contact
            && state.Energised == act.Mode is MeterMode.DcVolts or MeterMode.AcVolts
            ? new ReadingPlace(a, b, act.Mode, state, "")
            : null;
    }

    /// <summary>What the readings share that lean on a number of a part.</summary>
    public static string ErrorOf(string part, StatedNumber number) => $"{part} {number.Name}";

    public IReadOnlyList<SharedError> SharedErrors(Act act)
    {
        if (PlaceOf(act) is not { } place || place.Mode == MeterMode.Lamp)
        {
            return [];
        }

        if (!_errors.TryGetValue(act.Id, out var errors))
        {
            var expected = _survey.Expected(place);
            var (value, unit) = (expected.Shown.Value, expected.Shown.Unit);
            var where = $"{Likelihood.OfPlace}{place.Red} {place.Black} {place.Mode} {place.State.Code} {place.Unplugged}";
            List<SharedError> of =
            [
                new(where, PlaceOf(unit) + (PlaceShare * Math.Abs(value))),
                new($"meter {place.Mode}", MeterGain * value),
            ];
            if (unit == Unit.Ohms)
            {
                of.Add(new SharedError("leads", LeadOhms));
            }

            // Who assumes too much of one wire assumes too much of all.
            var assumed = expected.Because.Where(b => b.Number is { From: NumberFrom.Assumed, Unit: "Ω" }).Sum(b => b.Change);
            of.Add(new SharedError("what is assumed of all wires and contacts", assumed / DeviationsOfBand));
            of.AddRange(
                expected.Because.Select(b => new SharedError(
                    ErrorOf(b.Part, b.Number),
                    b.Change / DeviationsOfBand * (IsVoltsOfSource(b.Part, b.Number) ? Math.Max(1, SetBand / b.Number.Spread) : 1)
                ))
            );
            if (unit == Unit.Volts && SourceOf(act.Mode) is { } source)
            {
                // A break shows what the source gives where a healthy machine shows next to nothing.
                var cause = $"{source.Name} volts";
                var change = of.Where(e => e.Cause == cause).Sum(e => e.Change);
                of.RemoveAll(e => e.Cause == cause);
                of.Add(new SharedError(cause, change, SetBand / DeviationsOfBand));
            }

            errors = _errors[act.Id] = of;
        }

        return errors;
    }

    // What feeds a machine may be set high on purpose, or stand low that day, whatever its plate says. Common practice, no source.
    private const double SetBand = 0.08;

    /// <summary>What feeds the machine with what a meter reads in a mode: the strongest.</summary>
    private CircuitPart? SourceOf(MeterMode mode) =>
        _parts
            .Values.Where(p => p.Law.IsSource && (p.Law.Kind == LawKind.Mains) == (mode == MeterMode.AcVolts))
            .Select(p => (Part: p, p.Law.Numbers.FirstOrDefault(n => n is { Name: "volts", Spread: > 0 })?.Value))
            .Where(p => p.Value is not null)
            .MaxBy(p => p.Value)
            .Part;

    private bool IsVoltsOfSource(string part, StatedNumber number) =>
        number is { Name: "volts", Spread: > 0 } && _parts.GetValueOrDefault(part)?.Law.IsSource == true;

    /// <summary>
    /// Loads that belong to a board: those named after it, and those whose wires end there first. What runs does the board's work; what
    /// else it feeds comes behind.
    /// </summary>
    public IReadOnlyList<CircuitPart> LoadsOf(string prefix)
    {
        var of = _parts
            .Values.Where(IsLoad)
            .Where(p => p.Name.StartsWith($"{prefix}-", StringComparison.Ordinal) || p.Nodes.Any(n => FirstBoardOf(n) == prefix))
            .ToList();
        return [.. of.Where(p => p.Law.Kind == LawKind.Motor), .. of.Where(p => p.Law.Kind != LawKind.Motor)];
    }

    /// <summary>The prefix of the first board that wires and contacts lead to from a node.</summary>
    private string? FirstBoardOf(string node)
    {
        const double MostOhms = 0.5;
        var prefixes = _machine.Machine.Model.Positions.Select(p => p.Prefix).ToList();
        var (seen, open) = (new HashSet<string> { node }, new Queue<string>([node]));
        while (open.TryDequeue(out var at))
        {
            if (prefixes.Find(p => at.StartsWith($"{p}-", StringComparison.Ordinal)) is { } prefix)
            {
                return prefix;
            }

            foreach (var wire in _machine.Circuit!.Elements.OfType<Resistance>().Where(r => r.Ohms < MostOhms && (r.A == at || r.B == at)))
            {
                var to = wire.A == at ? wire.B : wire.A;
                if (to != Circuit.Reference && seen.Add(to))
                {
                    open.Enqueue(to);
                }
            }
        }

        return null;
    }

    /// <summary>
    /// A pin's contact, and along its wire what ends there: loads and switches, not what lies beyond them, and not the board's own side.
    /// </summary>
    public IReadOnlyList<string> HangsOn(PinAddress pin)
    {
        if (_machine.NodeOf(pin) is not { } node || node == Circuit.Reference)
        {
            return [];
        }

        var wire = node + MachineCircuit.WireEnd;
        var hasWire = _machine.Circuit!.Has(wire);
        List<string> parts = [];
        Along(
            hasWire ? wire : node,
            element =>
            {
                var of = OwnerOf(element);
                // Where nothing is known of wires, what lies between two pins hangs there, but for what is on the board.
                if (of is { Law.IsSource: false } && !parts.Contains(of.Name) && (hasWire || !IsOfBoard(of)))
                {
                    parts.Add(of.Name);
                }

                return hasWire && of?.Law.Kind == LawKind.Wire;
            },
            [Circuit.Reference]
        );
        return parts;
    }

    private static bool IsOfBoard(CircuitPart part) =>
        part.Law.Kind is LawKind.Fuse or LawKind.Output or LawKind.SolidState or LawKind.Led or LawKind.Regulator;

    public bool IsMotor(string name) => _parts.TryGetValue(name, out var part) && part.Law.Kind == LawKind.Motor;

    /// <summary>The names of the parts that a place touches: those that have an end there.</summary>
    /// <param name="inPlug">The connector is pulled and read into: its contacts are out of it.</param>
    public IReadOnlyList<string> PartsAt(PinAddress pin, bool inPlug)
    {
        if (_machine.NodeOf(pin) is not { } node || node == Circuit.Reference)
        {
            return [];
        }

        var wire = node + MachineCircuit.WireEnd;
        var at = inPlug && _machine.Circuit!.Has(wire) ? wire : node;
        return
        [
            .. _machine
                .Parts.Where(p => !inPlug || p.Law.Kind != LawKind.Contact)
                .Where(p => p.Elements.Any(e => _machine.Circuit!.Contains(e) && _machine.Circuit[e].Nodes.Contains(at)))
                .Select(p => p.Name),
        ];
    }
}
