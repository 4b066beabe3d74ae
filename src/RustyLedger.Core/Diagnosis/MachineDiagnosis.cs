using System.Runtime.CompilerServices;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// A machine as the suspects see it, at whatever level it is known: by its circuit where there is one, else by its wiring, and beside
/// either by its functions.
/// </summary>
public sealed class MachineDiagnosis : IDiagnosisModel
{
    private readonly CircuitDiagnosis? _circuit;
    private readonly PathDiagnosis? _path;
    private readonly FunctionDiagnosis _functions;
    private readonly Dictionary<string, Act> _acts;
    private readonly RoundRules _rules;

    private MachineDiagnosis(ResolvedMachine machine, FeedGraph graph, IReadOnlyDictionary<string, int> confirmed)
    {
        Machine = machine;
        _rules = RoundRules.Of(machine);
        var survey = machine.Model.Circuit.Rows.Count > 0 ? CircuitSurvey.Of(MachineCircuit.Of(machine)) : null;
        WiringDoubt = string.Join("; ", survey?.Doubts.Take(MostDoubts).Select(d => d.Words) ?? []);
        _circuit = survey is null ? null : new CircuitDiagnosis(survey, machine);
        _path = survey is null ? new PathDiagnosis(machine, graph) : null;
        var known = _circuit?.Causes ?? _path!.Causes;
        _functions = new FunctionDiagnosis(
            machine.Model.Functions,
            machine,
            known.Select(c => NameOf(c.Part)).Where(n => !n.StartsWith("board ", StringComparison.Ordinal))
        );
        var parts = Learnt([.. known, .. _functions.Causes], confirmed);
        Causes = [.. parts, .. AsideCauses.Of(parts.Sum(p => p.Odds), WiringDoubt.Length > 0)];
        _acts = MakeActs().GroupBy(a => a.Id).ToDictionary(g => g.Key, g => g.First());
        Acts = [.. _acts.Values];
    }

    public ResolvedMachine Machine { get; }

    // So many are enough to be believed.
    private const int MostDoubts = 2;

    public string WiringDoubt { get; }

    public bool Blows(Hypothesis cause, int size, string protection) => _circuit?.Blows(cause, size, protection) ?? false;

    public (Act Act, string Why)? WantedBefore(Hypothesis cause, IReadOnlyList<Finding> findings)
    {
        ArgumentNullException.ThrowIfNull(cause);
        ArgumentNullException.ThrowIfNull(findings);
        return _circuit is null ? null : InputsFirst.Of(cause, findings, this, _circuit);
    }

    /// <summary>Where the sheet and the circuit cannot both be right, what each says; else empty.</summary>
    public string DoubtAt(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return _circuit?.ContradictionAt(act) ?? "";
    }

    public IReadOnlyList<Hypothesis> Causes { get; }

    public IReadOnlyList<Act> Acts { get; }

    /// <summary>
    /// How far the machine is known: 3 by its circuit, 2 by functions, 1 by its wiring, 0 by nothing that tells suspects.
    /// </summary>
    public int Level =>
        _circuit is not null ? 3
        : Machine.Model.Functions.Rows.Count > 0 ? 2
        : _path!.Causes.Count > 0 ? 1
        : 0;

    private static readonly ConditionalWeakTable<ResolvedMachine, Made> _made = [];

    private sealed record Made(string Confirmed, MachineDiagnosis Diagnosis);

    /// <summary>What was worked out of a machine is kept as long as it is; not for several threads at once.</summary>
    /// <param name="confirmed">How often a part was the fault, by its name, where the repair held.</param>
    public static MachineDiagnosis Of(ResolvedMachine machine, FeedGraph graph, IReadOnlyDictionary<string, int>? confirmed = null)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(graph);
        var learnt = confirmed ?? new Dictionary<string, int>();
        var key = string.Join("|", learnt.OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => $"{c.Key} {c.Value}"));
        if (!_made.TryGetValue(machine, out var made) || made.Confirmed != key)
        {
            made = new Made(key, new MachineDiagnosis(machine, graph, learnt));
            _made.AddOrUpdate(machine, made);
        }

        return made.Diagnosis;
    }

    private const int MostPosteriors = 8;
    private readonly List<(string Key, Posterior Of)> _posteriors = [];

    /// <summary>
    /// What findings come to. The last ones are kept: what is asked next is mostly the same with one finding more, or other acts left out.
    /// </summary>
    public Posterior Weigh(IReadOnlyList<Finding> findings, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(findings);
        var key = string.Join(
            '\n',
            findings.Select(f =>
                FormattableString.Invariant(
                    $"{f.Id}|{f.Act.Id}|{f.Act.NoLoad}|{f.Outcome.Kind} {f.Outcome.Value:R} {f.Outcome.IsAbout}|{f.Moment}|"
                ) + $"{f.Showing}|{f.IsDoubted}|{f.IsReadTwice}|{f.Words}"
            )
        );
        var at = _posteriors.FindIndex(p => p.Key == key);
        var of = at >= 0 ? _posteriors[at].Of : Posterior.Of(this, findings, cancel: cancel);
        if (at >= 0)
        {
            _posteriors.RemoveAt(at);
        }

        _posteriors.Insert(0, (key, of));
        _posteriors.RemoveRange(Math.Min(MostPosteriors, _posteriors.Count), Math.Max(0, _posteriors.Count - MostPosteriors));
        return of;
    }

    // The table of odds is worth so many faults that were confirmed.
    private const double TableWorth = 30;

    /// <summary>Odds as shares of so many faults, with those that were confirmed added.</summary>
    private static List<Hypothesis> Learnt(List<Hypothesis> causes, IReadOnlyDictionary<string, int> confirmed)
    {
        var byKey = confirmed.GroupBy(c => PartWords.Key(c.Key)).ToDictionary(g => g.Key, g => g.Sum(c => c.Value));
        var sum = causes.Sum(c => c.Odds);
        var ofPart = causes.GroupBy(c => PartWords.Key(c.Part)).ToDictionary(g => g.Key, g => g.Sum(c => c.Odds));
        return causes.ConvertAll(c =>
            byKey.TryGetValue(PartWords.Key(c.Part), out var times) && ofPart[PartWords.Key(c.Part)] > 0
                ? c with
                {
                    Odds = c.Odds * (1 + (times * sum / (TableWorth * ofPart[PartWords.Key(c.Part)]))),
                }
                : c
        );
    }

    /// <summary>As a table of functions calls it.</summary>
    private string NameOf(string part) => _path?.Alias.GetValueOrDefault(part) ?? part;

    private double Span => _circuit?.Span ?? _path!.Span;

    // What a meter in ohms tells apart on a dead machine: beyond it the steps are too coarse to matter.
    private const double SpanOfOhms = 1000;

    private double SpanOf(MeterMode mode) =>
        mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.BatteryUnderLoad ? Span
        : mode.IsByClamp() ? _circuit?.SpanOfAmps ?? 1
        : SpanOfOhms;

    private IEnumerable<Act> MakeActs()
    {
        var read = new HashSet<(PinAddress, PinAddress, string)>();
        foreach (var check in Machine.Checks)
        {
            if (check.Check is { Red: { } red, Black: { } black })
            {
                read.Add((red, black, check.State.Code));
            }

            if (Read(check) is { } act)
            {
                yield return act;
            }
        }

        foreach (var row in Machine.Model.Functions.Rows)
        {
            // Where nobody said in which state, not in one in which everything is stopped.
            var state =
                Machine.Model.States.FirstOrDefault(s => s.Code == row.State)
                ?? Machine.Model.States.LastOrDefault(s => s.Energised && s.Code != OperatingState.Stopped)
                ?? Machine.Model.States.LastOrDefault(s => s.Energised);
            var act = new Act(FunctionDiagnosis.ActId(row), ActKind.Try, row.Name, state?.Code ?? "", [.. row.Needs.Concat(row.OneOf)])
            {
                SetUp = state is null ? null : new SetUp(false, state.Code, "", "", MeterMode.Lamp),
            };
            yield return act;
            // What hangs on its rail and it does not need: unplugged, it drags nothing down.
            foreach (var part in _circuit is null ? _functions.DragsDown(row) : [])
            {
                yield return WithPulled(act, [part]);
            }
        }

        if (_circuit is null)
        {
            yield break;
        }

        foreach (var (part, state) in _circuit.Runs)
        {
            yield return Run(part, state);
        }

        var off = Machine.Model.States.FirstOrDefault(s => !s.Energised);
        foreach (var (part, from, to) in off is null ? [] : _circuit.Across)
        {
            var act = Read(from, to, MeterMode.Ohms, off!.Code, null);
            yield return act with
            {
                Words = $"{act.Words}, across {part.Name}",
                Aims = [part.Name],
            };
            if (part.Law.Kind == LawKind.Fuse && _circuit.Return is { } common && to != common)
            {
                // A blown fuse is not the cause until what it feeds is shown not shorted.
                var behind = Read(to, common, MeterMode.Ohms, off.Code, null);
                yield return behind with
                {
                    Words = $"{behind.Words}, behind {part.Name}",
                    Aims = [MachineCircuit.Behind(part.Name)],
                };
            }
        }

        foreach (var act in BesideTheSheet(read).Concat(ByClamp()))
        {
            yield return act;
        }
    }

    // Less is not told from nothing by a clamp, and a change of a part of it is not told at all. Common practice, no source.
    private const double LeastClamped = 0.5;

    /// <summary>What a clamp shows around the wire of each load that draws enough, without opening anything.</summary>
    private IEnumerable<Act> ByClamp()
    {
        var across = _circuit!.Across.ToLookup(a => a.Part.Name, a => a.From);
        foreach (var (part, state, pin) in _circuit.Runs.SelectMany(r => across[r.Part.Name].Select(pin => (r.Part, r.State, pin))))
        {
            // What is direct and what alternates on one machine have a clamp each.
            var act = new[] { MeterMode.DcAmps, MeterMode.AcAmps }
                .Select(mode => Read(pin, null, mode, state.Code, null))
                .MaxBy(a => a.Usual ?? 0)!;
            if (act.Usual >= LeastClamped)
            {
                yield return act with
                {
                    Aims = [.. act.Aims.Union([part.Name])],
                };
            }
        }
    }

    /// <summary>
    /// What the sheet does not ask for in a state that is on: what runs, and what opens and closes, across its own pins, and every pin
    /// against what the sheet is read against there, or elsewhere, or the return of the source.
    /// </summary>
    private IEnumerable<Act> BesideTheSheet(HashSet<(PinAddress, PinAddress, string)> read)
    {
        var volts = Machine
            .Checks.Where(c => c.Check is { Red: not null, Black: not null, Mode: MeterMode.DcVolts or MeterMode.AcVolts })
            .ToList();
        var across = _circuit!.Across.ToLookup(a => a.Part.Name, a => (a.From, a.To, Name: ""));
        foreach (var state in Machine.Model.States.Where(s => s.Energised))
        {
            var here = volts.FindAll(c => c.State.Code == state.Code);
            here = here.Count > 0 ? here : volts.FindAll(c => c.State.Energised);
            var like = here.FirstOrDefault();
            var mode = like?.Check.Mode ?? (_circuit.IsAlternating ? MeterMode.AcVolts : MeterMode.DcVolts);
            var pairs = _circuit
                .Runs.Where(r => r.State.Code == state.Code)
                .SelectMany(r => across[r.Part.Name])
                // A protective device stays in its circuit: volts across its contact say whether it is closed.
                .Concat(
                    Machine
                        .Model.Safety.Interlocks.Where(i => i is { From: not null, To: not null })
                        .Select(i => (From: i.From!, To: i.To!, i.Name))
                )
                .Concat(
                    _circuit
                        .Across.Where(a => a.Part.Law.Kind is LawKind.Fuse or LawKind.Switch or LawKind.MakeContact or LawKind.BreakContact)
                        .Select(a => (a.From, a.To, a.Part.Name))
                );
            // What the sheet is read against there; from phase to phase nothing is, and the return of the source tells more.
            var most = here.GroupBy(c => c.Check.Black).MaxBy(g => g.Count());
            if ((most?.Count() == 1 && here.Count > 1 ? _circuit.Return ?? most.Key : most?.Key ?? _circuit.Return) is { } common)
            {
                pairs = pairs.Concat(Machine.Pins.Keys.Where(p => p != common).Select(p => (p, common, "")));
            }

            foreach (var (red, black, name) in pairs)
            {
                if (!read.Add((red, black, state.Code)))
                {
                    continue;
                }

                var act = Read(red, black, mode, state.Code, like?.Check.Plugged);
                if (_circuit.Says(act))
                {
                    yield return name.Length > 0 ? act with { Words = $"{act.Words}, across {name}" } : act;
                }
            }
        }
    }

    /// <summary>The protective device across whose contact an act reads; null where there is none.</summary>
    public Interlock? InterlockOf(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return act.Red is null || act.Black is null
            ? null
            : Machine.Model.Safety.Interlocks.FirstOrDefault(i =>
                (i.From == act.Red && i.To == act.Black) || (i.From == act.Black && i.To == act.Red)
            );
    }

    /// <summary>A load tried, or a lamp looked at.</summary>
    private static Act Run(CircuitPart part, OperatingState state)
    {
        var isLamp = part.Law.Kind is LawKind.Lamp or LawKind.Led;
        return new Act(
            $"{(isLamp ? "look" : "try")} {part.Name} {state.Code}",
            isLamp ? ActKind.Look : ActKind.Try,
            part.Name,
            state.Code,
            [part.Name]
        )
        {
            SetUp = new SetUp(false, state.Code, "", "", MeterMode.Lamp),
        };
    }

    /// <summary>The act of a check; null where a suspect says nothing of it.</summary>
    public Act? Read(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        if (check.Check.Red is not { } red)
        {
            // A lamp of its own name.
            return check.Check.Mode == MeterMode.Lamp && check.Check.Part.Length > 0
                ? new Act(
                    $"look {check.Check.Part} {check.State.Code}",
                    ActKind.Look,
                    check.Check.Part,
                    check.State.Code,
                    [check.Check.Part]
                )
                {
                    CheckKey = check.Key,
                    SetUp = RoundPlan.SetUpOf(check, Machine, _rules),
                }
                : null;
        }

        var black = check.Check.Black;
        if (black is null && !check.Check.Mode.IsByClamp())
        {
            return null;
        }

        var act = Read(red, black, check.Check.Mode, check.State.Code, check.Check.Plugged) with
        {
            CheckKey = check.Key,
            SetUp = RoundPlan.SetUpOf(check, Machine, _rules),
        };
        return _circuit?.Says(act) != false && (_path is null || _path.Healthy(act).Kind != PredictionKind.Anything) ? act : null;
    }

    /// <summary>A reading between any two pins; of amps, by a clamp around the wire at the first.</summary>
    /// <param name="black">Null of a clamp.</param>
    public Act Read(PinAddress red, PinAddress? black, MeterMode mode, string state, bool? plugged)
    {
        ArgumentNullException.ThrowIfNull(red);
        black = mode.IsByClamp() ? null : black ?? throw new ArgumentNullException(nameof(black));
        string Printed(PinAddress pin) => Machine.Pins.TryGetValue(pin, out var at) ? at.Printed : pin.ToString();
        var energised = Machine.Model.States.FirstOrDefault(s => s.Code == state)?.Energised ?? false;
        var act = new Act(
            $"read {mode} {Printed(red)} to {(black is null ? "" : Printed(black))} {state}{(plugged == false ? Act.Unplugged : "")}",
            ActKind.Read,
            black is null ? $"{mode.Words()} around the wire at {Printed(red)}" : $"{Printed(red)} to {Printed(black)}",
            state,
            [.. AimsAt(red, plugged == false), .. black is null ? [] : AimsAt(black, plugged == false)]
        )
        {
            Red = red,
            Black = black,
            Mode = mode,
            Span = SpanOf(mode),
            SetUp = new SetUp(!energised || mode.NeedsDead(), state, "", black is null ? "" : Printed(black), mode),
        };
        return _circuit?.Says(act) == true && _circuit.Healthy(act) is { Kind: PredictionKind.Number } usual
            ? act with
            {
                Usual = usual.Value,
            }
            : act;
    }

    /// <summary>A reading off the sheet; null where no suspect says anything of it.</summary>
    public Act? Extra(PinAddress red, PinAddress? black, MeterMode mode, string state)
    {
        if (black is null && !mode.IsByClamp())
        {
            return null;
        }

        var act = Read(red, black, mode, state, null);
        return _circuit?.Says(act) == true ? act : null;
    }

    /// <summary>Parts that have an end at a pin: what is read there is read of them.</summary>
    private IReadOnlyList<string> AimsAt(PinAddress pin, bool inPlug) =>
        _circuit is not null
            ? _circuit.PartsAt(pin, inPlug)
            :
            [
                .. Machine
                    .Links.Where(l => l.From == pin || l.To == pin)
                    .Select(l => PartNames.Of(PartNames.Conductor(l, Machine), Machine)),
                PartNames.Of(new PartRef.Supply(pin), Machine),
                PartNames.Of(new PartRef.ReturnPath(pin, null), Machine),
            ];

    /// <summary>Parts that have an end at a pin, on either side of its contact.</summary>
    internal IEnumerable<string> EndingAt(PinAddress pin) => AimsAt(pin, false).Concat(AimsAt(pin, true));

    /// <inheritdoc cref="PartActs.Fit"/>
    public static Act Fit(IReadOnlyList<string> parts) => PartActs.Fit(parts);

    /// <summary>
    /// A fuse put in whole or a breaker closed, and the machine switched on; null where neither the circuit nor, without one, the table of
    /// functions knows any of that name.
    /// </summary>
    /// <param name="state">Code; empty for all that is done with it.</param>
    /// <param name="pulled">Connectors as printed; without a circuit, parts of the table.</param>
    public Act? Close(string name, string state, IReadOnlyList<string> pulled)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(pulled);
        var part = _circuit is not null ? _circuit.ProtectionCalled(name)?.Name : _functions.ProtectionCalled(name);
        if (part is null)
        {
            return null;
        }

        var without = string.Join(CircuitReader.And, pulled.Order(StringComparer.Ordinal));
        return new Act(
            $"close {part} {state} {without}".Trim(),
            ActKind.Close,
            without.Length > 0 ? $"{part} with {without} pulled" : part,
            state,
            _circuit is null ? [part] : [part, MachineCircuit.Behind(part)]
        )
        {
            Pulled = without,
            SetUp = new SetUp(false, state, "", "", MeterMode.Lamp),
        };
    }

    /// <summary>A plug and its wires moved by hand while it runs; null where there is no connector of that name.</summary>
    /// <param name="state">Code of the state in which it fails; empty where nobody said.</param>
    internal Act? Wiggle(string name, string state)
    {
        var pins = PinsOf(PartWords.Key(name)).ToList();
        List<string> moved =
        [
            .. pins.SelectMany(p => PartsCalled(Machine.Pins[p].Printed).Concat(AimsAt(p, true)).Concat(AimsAt(p, false)))
                .Where(p => CanComeAndGo(p))
                .Distinct(),
        ];
        return moved.Count == 0 ? null : PartActs.Wiggle(Machine.Pins[pins[0]].PrintedElement, moved, state);
    }

    private bool CanComeAndGo(string part) =>
        (_comeAndGo ??= [.. Causes.Where(c => c.IsIntermittent).SelectMany(c => c.Parts)]).Contains(part);

    private HashSet<string>? _comeAndGo;

    /// <summary>
    /// Plugs of what may come and go, moved while it runs in the state in which it fails: at extra-low voltage alone.
    /// </summary>
    private IEnumerable<Act> Wiggles(IReadOnlyList<SuspectGroup> suspects, IReadOnlyList<Finding> findings)
    {
        if (_circuit is null || findings.LastOrDefault(IsFailing)?.Act.State is not { } state)
        {
            return [];
        }

        var parts = suspects.Where(s => s.Of[0].Cause.IsIntermittent && s.Share > WorthAnAct).SelectMany(s => s.Parts).ToHashSet();
        return Machine
            .Pins.Where(p => PartsCalled(p.Value.Printed).Concat(AimsAt(p.Key, true)).Concat(AimsAt(p.Key, false)).Any(parts.Contains))
            .Select(p => p.Value.PrintedElement)
            .Distinct()
            .Where(IsExtraLow)
            .Take(MostPulled)
            .Select(plug => Wiggle(plug, state))
            .OfType<Act>();
    }

    /// <summary>What is complained of, failing as it is tried with everything plugged.</summary>
    internal static bool IsFailing(Finding finding) =>
        finding
            is {
                IsDoubted: false,
                Act: { Kind: ActKind.Try or ActKind.Look, Pulled: "" },
                Outcome.Kind: OutcomeKind.No or OutcomeKind.Weak or OutcomeKind.Sometimes
            };

    // What may be touched by its insulation while it is live. Common practice, no source; local rules come first.
    private const double ExtraLowVolts = 50;

    /// <summary>Whether nothing that is read live at a connector on a healthy machine is above extra-low voltage.</summary>
    private bool IsExtraLow(string plug) =>
        _circuit!.Span <= 2 * ExtraLowVolts
        || (
            Acts.Where(a =>
                    a.Kind == ActKind.Read
                    && a.Mode is MeterMode.DcVolts or MeterMode.AcVolts
                    && new[] { a.Red, a.Black }.OfType<PinAddress>().Any(p => Machine.Pins[p].PrintedElement == plug)
                )
                .ToList()
                is { Count: > 0 } reads
            && reads.TrueForAll(a => Healthy(a) is { Kind: PredictionKind.Number } volts && Math.Abs(volts.Value) < ExtraLowVolts)
        );

    /// <summary>Whether what opens where too much flows can be closed again.</summary>
    internal bool Trips(Act close) =>
        _circuit is null ? FunctionDiagnosis.IsBreaker(close.Aims[0]) : _circuit.ProtectionCalled(close.Aims[0])?.Law.Trips == true;

    /// <summary>Names of the fuses and breakers that the circuit knows.</summary>
    public IReadOnlyList<string> Protections => _circuit?.Protections ?? _functions.Protections;

    /// <summary>A part that is suspected, by its name as people write it; null where there is none.</summary>
    public string? PartCalled(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        var key = PartWords.Key(name);
        return Causes.FirstOrDefault(c => c.Part.Length > 0 && PartWords.Key(c.Part) == key)?.Part;
    }

    /// <summary>
    /// Parts that are suspected, by what is printed or said: one of that name, a part off the boards by its name, all that is on a board,
    /// or, of a connector, its plug and contacts. Empty where there is none.
    /// </summary>
    public IReadOnlyList<string> PartsCalled(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        var key = PartWords.Key(name);
        // A plug may be at fault itself, and its contacts are it as well.
        IEnumerable<string> own = PartCalled(name) is { } part ? [part] : [];
        if (key.Length == 0 || (_circuit is null && own.Any()))
        {
            return [.. own];
        }

        var off = Machine.Model.Parts.FirstOrDefault(p => PartWords.Key(p.Name) == key || PartWords.Key(p.Designator) == key);
        if (off is not null && PartCalled(off.Designator) is { } named)
        {
            return [named];
        }

        List<string> suspected = [.. Causes.Select(c => c.Part).Where(p => p.Length > 0).Distinct()];
        var position = Machine.Model.Positions.FirstOrDefault(p =>
            key == PartWords.Key(p.Prefix)
            || key == PartWords.Key($"board {p.Prefix}")
            || key == PartWords.Key($"the board of {p.Name}")
            || key == PartWords.Key($"board of {p.Name}")
            || key == PartWords.Key($"{p.Name} board")
        );
        if (position is not null && suspected.FindAll(p => IsOn(p, position)) is { Count: > 0 } onBoard)
        {
            return onBoard;
        }

        return
        [
            .. own.Concat(
                    PinsOf(key)
                        .SelectMany(p =>
                            _circuit is null ? AimsAt(p, false)
                            : PartCalled(MachineCircuit.ContactAt(Machine.Pins[p].Printed)) is { } contact ? [contact]
                            : []
                        )
                )
                .Distinct()
                .Where(suspected.Contains),
        ];
    }

    /// <summary>Of a connector or a part, or a pin of it, by the letters and digits of its printed name.</summary>
    private IEnumerable<PinAddress> PinsOf(string key) =>
        Machine.Pins.Where(p => PartWords.Key(p.Value.PrintedElement) == key || PartWords.Key(p.Value.Printed) == key).Select(p => p.Key);

    /// <summary>The same, and with a connector what hangs on it.</summary>
    internal IReadOnlyList<string> PartsAt(string name) =>
        [
            .. PartsCalled(name)
                .Concat(PinsOf(PartWords.Key(name)).SelectMany(p => _circuit?.HangsOn(p) ?? []))
                .Distinct()
                .Where(p => PartCalled(p) is not null),
        ];

    /// <summary>Parts that are suspected and have one of the words in their name.</summary>
    /// <param name="prefix">Of the board they are to belong to; empty for any.</param>
    internal IReadOnlyList<string> PartsNamed(IReadOnlyList<string> words, string prefix)
    {
        bool Has(string name) => SeenNotation.Words(name).Exists(n => words.Any(w => Stem(w) == Stem(n)));
        var loads = prefix.Length == 0 ? [] : (_circuit?.LoadsOf(prefix) ?? []).Select(p => p.Name).ToList();
        return
        [
            .. Causes
                .Select(c => c.Part)
                .Where(p => p.Length > 0)
                .Distinct()
                .Where(p =>
                    prefix.Length == 0
                    || _circuit is null
                    || p.StartsWith($"{prefix}-", StringComparison.Ordinal)
                    || p.StartsWith($"{prefix} ", StringComparison.Ordinal)
                    || loads.Contains(p)
                )
                .Where(p => Has(Machine.Model.Parts.FirstOrDefault(o => o.Designator == p) is { } off ? $"{p} {off.Name}" : p)),
        ];
    }

    public Prediction Healthy(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return PartActs.Knows(act) ? PartActs.Healthy(act)
            : IsBeyond(act) ? Prediction.Anything
            : IsOfTable(act) ? _functions.Healthy(act)
            : _circuit is not null ? _circuit.Healthy(act)
            : act.Kind == ActKind.Read || act.CheckKey is not null ? _path!.Healthy(act)
            : Prediction.Share(1);
    }

    /// <summary>Whether a finding is what a healthy machine shows; null where nobody can say.</summary>
    public bool? IsAsHealthy(Finding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        var healthy = Healthy(finding.Act);
        var (outcome, step) = (finding.Outcome, finding.Act.Step);
        // A meter, its leads and a place in use take so much of what is assumed. Common practice, no source.
        const double Share = 0.06;
        return (outcome.Kind, healthy.Kind) switch
        {
            (OutcomeKind.Number, PredictionKind.Number) => Math.Abs(outcome.Value - healthy.Value)
                < (2 * step) + (Share * Math.Abs(healthy.Value)) + (2 * healthy.Spread),
            (OutcomeKind.Number, PredictionKind.AtLeast) => outcome.Value > healthy.Value / 2,
            (OutcomeKind.Number, _) => null,
            (OutcomeKind.Open, _) => healthy.Kind is PredictionKind.Open or PredictionKind.AtLeast,
            _ when PartActs.Knows(finding.Act) => outcome.Kind == OutcomeKind.Works,
            (OutcomeKind.Works, _) => healthy is not { Kind: PredictionKind.Share, Value: < 0.5 },
            (OutcomeKind.No, _) => healthy is { Kind: PredictionKind.Share, Value: < 0.5 },
            _ => false,
        };
    }

    /// <summary>
    /// Where no circuit is known, nobody can say what a pulled plug takes with it: of a part of the table, the table says it.
    /// </summary>
    private bool IsBeyond(Act act) =>
        _circuit is null
        && act is { Kind: ActKind.Try or ActKind.Look or ActKind.Close, Pulled.Length: > 0 }
        && !((act.Kind == ActKind.Close || IsOfTable(act)) && _functions.KnowsPulled(act));

    private bool IsOfTable(Act act) => act.Kind == ActKind.Try && _functions.FunctionOf(act) is not null;

    public Prediction Predict(Hypothesis cause, int size, Act act)
    {
        ArgumentNullException.ThrowIfNull(cause);
        ArgumentNullException.ThrowIfNull(act);
        if (PartActs.Knows(act))
        {
            return PartActs.Predict(cause, act, part => LooksBad(cause, size, part));
        }

        if (cause.Kind != CauseKind.Part)
        {
            return AsideCauses.Predict(cause, size, act);
        }

        if (IsBeyond(act))
        {
            return Prediction.Anything;
        }

        if (_functions.Knows(cause))
        {
            return _functions.Predict(cause, size, act);
        }

        if (_circuit is null && act.Kind == ActKind.Close)
        {
            return _functions.ClosedBeside(act);
        }

        if (IsOfTable(act))
        {
            // A function of the table that is a load's own name is worked out; of others the table alone is known.
            return _functions.Predict(cause.Parts, act, _path?.LetsThrough(cause, size), NameOf);
        }

        return _circuit is not null ? _circuit.Predict(cause, size, act) : _path!.Predict(cause, size, act);
    }

    // Where nobody knows how a part fails: what is bad about it is to be seen so often. Common practice, no source.
    private const double SeenAtPart = 0.25;
    private const double LeastIntermittent = 0.1;
    private const double WorthAnAct = 0.02;

    // Watching longer than that is another visit. Common practice, no source.
    private const double WatchMinutes = 15;

    /// <summary>How often somebody who looks at a part sees what a fault has done to it; 0 where it did nothing there.</summary>
    private double LooksBad(Hypothesis cause, int size, string part) =>
        _circuit?.Knows(cause) == true ? _circuit.LooksBad(cause, size, part)
        : cause.Parts.Contains(part) ? SeenAtPart
        : 0;

    /// <summary>
    /// Those who are suspected looked at and swapped, a fuse or breaker that they open closed again, with plugs behind it pulled or not;
    /// where the fault comes and goes the machine watched, and its plugs moved.
    /// </summary>
    public IReadOnlyList<Act> ActsFor(IReadOnlyList<SuspectGroup> suspects, IReadOnlyList<Finding> findings)
    {
        ArgumentNullException.ThrowIfNull(suspects);
        ArgumentNullException.ThrowIfNull(findings);
        List<Act> acts = [];
        foreach (var suspect in suspects.Where(s => s.Kind == CauseKind.Part && s.Share > WorthAnAct))
        {
            if (suspect.AreRivals || suspect.Parts.Count == 1)
            {
                acts.Add(PartActs.Inspect(suspect.Parts, suspect.Name));
            }

            foreach (var part in suspect.Parts)
            {
                if (EqualOf(part) is var (parts, name, with))
                {
                    acts.Add(PartActs.Swap(parts, name, with));
                }
            }
        }

        if (suspects.Where(s => s.Of[0].Cause.IsIntermittent).Sum(s => s.Share) > LeastIntermittent)
        {
            acts.Add(PartActs.Wait(WatchMinutes));
            acts.AddRange(Wiggles(suspects, findings));
        }

        return
        [
            .. acts.Concat(_circuit is null ? WithoutOne(suspects, findings) : Closes(suspects).Concat(Unloaded(suspects, findings)))
                .DistinctBy(a => a.Id),
        ];
    }

    /// <summary>
    /// The fuse before a rail on which something failed, closed with what hangs there unplugged, one at a time: it holds without what
    /// opened it.
    /// </summary>
    private IEnumerable<Act> WithoutOne(IReadOnlyList<SuspectGroup> suspects, IReadOnlyList<Finding> findings)
    {
        var failed = findings
            .Where(f => f is { Act: { Kind: ActKind.Try, Pulled: "" }, Outcome.Kind: OutcomeKind.No or OutcomeKind.Weak })
            .Select(f => _functions.FunctionOf(f.Act))
            .OfType<FunctionRow>()
            .ToList();
        var suspected = suspects
            .Where(s => s.Kind == CauseKind.Part && s.Share > WorthAnAct)
            .SelectMany(s => s.Parts)
            .Distinct()
            .Where(p => failed.Exists(row => _functions.DragsDown(row).Contains(p)))
            .ToList();
        foreach (var protection in suspected.Select(_functions.ProtectionOf).OfType<string>().Distinct())
        {
            foreach (var pulled in _functions.Behind(protection).Select(p => (string[])[p]).Prepend([]).Take(MostPulled + 1))
            {
                if (Close(protection, "", pulled) is { } act)
                {
                    yield return act;
                }
            }
        }
    }

    private const int MostUnloaded = 3;
    private const int MostPulled = 5;

    /// <summary>What did not work tried again with a plug pulled on which a suspect hangs: a load that drags others down lets go.</summary>
    private IEnumerable<Act> Unloaded(IReadOnlyList<SuspectGroup> suspects, IReadOnlyList<Finding> findings)
    {
        var failed = findings
            .Where(f => f is { Act: { Kind: ActKind.Try or ActKind.Look, Pulled: "" }, Outcome.Kind: OutcomeKind.No or OutcomeKind.Weak })
            .Select(f => f.Act)
            .Where(a => !IsOfTable(a))
            .DistinctBy(a => a.Id)
            .Take(MostUnloaded)
            .ToList();
        var plugs = suspects
            .Where(s => s.Kind == CauseKind.Part && s.Share > WorthAnAct)
            .SelectMany(s => s.Parts)
            .SelectMany(p =>
                _circuit!.Protections.FirstOrDefault(f => MachineCircuit.Behind(f) == p) is { } fuse
                    ? _circuit.PlugsBehind(fuse)
                    : _circuit.PlugsTo(p)
            )
            .Distinct()
            .Take(MostPulled);
        return plugs.SelectMany(plug => failed.Select(act => WithPulled(act, [plug])));
    }

    /// <summary>The same with connectors pulled, as printed.</summary>
    internal static Act WithPulled(Act act, IReadOnlyList<string> plugs)
    {
        var without = string.Join(CircuitReader.And, plugs.Order(StringComparer.Ordinal));
        return act with { Id = $"{act.Id} with {without} pulled", Words = $"{act.Words} with {without} pulled", Pulled = without };
    }

    /// <summary>The id of the same with nothing pulled.</summary>
    internal static string WithoutPulled(Act act) =>
        act.Pulled.Length > 0 && act.Id.EndsWith($" with {act.Pulled} pulled", StringComparison.Ordinal)
            ? act.Id[..^$" with {act.Pulled} pulled".Length]
            : act.Id;

    /// <summary>A part of the table of functions, by its name, where no circuit is known; null where there is none.</summary>
    internal string? TablePartCalled(string name) => _circuit is null ? _functions.PartCalled(name) : null;

    private IEnumerable<Act> Closes(IReadOnlyList<SuspectGroup> suspects)
    {
        foreach (
            var (protection, state) in _circuit!.OpenedBy([.. suspects.Where(s => s.Share > WorthAnAct).SelectMany(s => s.Of.Take(1))])
        )
        {
            foreach (var pulled in _circuit.PlugsBehind(protection).Select(p => (string[])[p]).Prepend([]))
            {
                if (Close(protection, state, pulled) is { } act)
                {
                    yield return act;
                }
            }
        }
    }

    /// <summary>
    /// What a part can change places with on this machine: another of its kind and numbers, or, of a board, another board of its type.
    /// </summary>
    /// <returns>What is moved by it, how that is called, and with what; null where there is no equal.</returns>
    internal (IReadOnlyList<string> Parts, string Name, string With)? EqualOf(string part)
    {
        if (_circuit?.EqualOf(part) is { } equal)
        {
            return ([part], part, equal);
        }

        if ((_circuit is null || _functions.Causes.Any(c => c.Part == part)) && CalledLike(part) is { } like)
        {
            return ([part], part, like);
        }

        var position = Machine.Model.Positions.FirstOrDefault(p => IsOn(part, p));
        var other = position is null
            ? null
            : Machine.Model.Positions.FirstOrDefault(p =>
                p != position
                && Machine.BoardAt.ContainsKey(p.Id)
                && Machine.BoardAt.GetValueOrDefault(position.Id)?.Id == Machine.BoardAt[p.Id].Id
            );
        if (other is null)
        {
            return null;
        }

        var moved = Causes.Where(c => c.Part.Length > 0 && IsOn(c.Part, position!)).Select(c => c.Part).Distinct().ToList();
        return (moved, $"the board of {position!.Name}", $"the one of {other.Name}");
    }

    /// <summary>
    /// Where nobody wrote numbers: a part that is called the same but for its number or its side, such as motor 1 of motor 2, or the left
    /// drive of the right one; null where there is none.
    /// </summary>
    private string? CalledLike(string part)
    {
        static string Plain(string name) =>
            string.Join(' ', SeenNotation.Words(name).Select(w => _sides.Contains(w) ? "" : w.Trim(_digits)));
        var of = Plain(part);
        return
            of.Trim().Length == 0
            || of == string.Join(' ', SeenNotation.Words(part))
            || _notSwapped.Any(w => of.Contains(w, StringComparison.Ordinal))
            || Machine.Pins.Values.Any(p => part.Contains(p.Printed, StringComparison.Ordinal))
            ? null
            : Causes.FirstOrDefault(c => c.Part != part && c.Part.Length > 0 && Plain(c.Part) == of)?.Part;
    }

    private static readonly char[] _digits = [.. "0123456789"];
    private static readonly string[] _sides = ["left", "right", "front", "rear", "upper", "lower", "inner", "outer", "in", "out"];

    private static readonly string[] _notSwapped = ["wire", "fuse", "supply", "return", "path", "board"];

    /// <summary>It goes where a board goes: its element, its path, its logic, or the board itself.</summary>
    private bool IsOn(string part, Position position) =>
        _circuit is not null
            ? _circuit.IsOnBoard(part, position.Prefix)
            : PartWords.Same.Equals(NameOf(part), $"board {position.Prefix}") || PartWords.Same.Equals(part, $"board {position.Prefix}");

    public IReadOnlyList<SharedError> SharedErrors(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return act.Kind != ActKind.Read ? []
            : _circuit is not null ? _circuit.SharedErrors(act)
            : PathDiagnosis.SharedErrors(act, _path!.Healthy(act));
    }

    public bool KnowsPairs => _circuit is not null;

    public Hypothesis? Join(Hypothesis first, Hypothesis second) =>
        _circuit is not null && _circuit.Knows(first) && _circuit.Knows(second) ? _circuit.Join(first, second) : null;

    /// <summary>
    /// What can be tried or looked at that words name: a function, a load or a lamp by its name, or a position, which stands for what its
    /// board drives. A state that is named is meant; else the one in which most of it runs.
    /// </summary>
    internal IReadOnlyList<Act> Named(IReadOnlyList<string> words)
    {
        var tries = Acts.Where(a => a.Kind is ActKind.Try or ActKind.Look).ToList();
        var state = StateIn(words);
        var running = tries
            .GroupBy(a => a.State)
            .OrderByDescending(g => g.Count())
            .ThenByDescending(g => StateIndex(g.Key))
            .FirstOrDefault()
            ?.Key;
        Act? In(string name)
        {
            var of = tries.Where(a => a.Words == name).ToList();
            return of.Find(a => a.State == state?.Code)
                ?? (state is null ? of.Find(a => a.State == running) ?? of.MaxBy(a => StateIndex(a.State)) : null);
        }

        List<(IReadOnlyList<string> Words, Func<Act?> Act)> names =
        [
            .. tries.Select(a => a.Words).Distinct().Select(n => ((IReadOnlyList<string>)SeenNotation.Words(n), (Func<Act?>)(() => In(n)))),
        ];
        foreach (var position in Machine.Model.Positions)
        {
            var (of, prefix) = (SeenNotation.Words(position.Name), position.Prefix);
            foreach (
                var load in tries
                    .Select(a => a.Words)
                    .Distinct()
                    .Where(n =>
                        n.StartsWith($"{prefix}-", StringComparison.Ordinal) || n.StartsWith($"{prefix} ", StringComparison.Ordinal)
                    )
            )
            {
                var own = SeenNotation.Words(load[prefix.Length..]);
                names.Add(([.. of, .. own], () => In(load)));
                names.Add(([.. own, "of", .. of], () => In(load)));
            }

            if (_circuit?.LoadsOf(prefix) is [var first, ..])
            {
                names.Add((of, () => In(first.Name)));
                names.Add((SeenNotation.Words(prefix), () => In(first.Name)));
            }
        }

        foreach (var part in Machine.Model.Parts.Where(p => p.Name.Length > 0))
        {
            names.Add((SeenNotation.Words(part.Name), () => In(part.Designator)));
        }

        List<Act> found = [];
        var left = words.ToList();
        // The longest name first: "eye A of zone 3" is not zone 3.
        foreach (var (name, act) in names.Where(n => n.Words.Count > 0).OrderByDescending(n => n.Words.Count))
        {
            while (Has(left, name) is var at and >= 0)
            {
                for (var i = 0; i < name.Count; i++)
                {
                    left[at + i] = "";
                }

                if (act() is { } known && found.TrueForAll(f => f.Id != known.Id))
                {
                    found.Add(known);
                }
            }
        }

        // Only what it should be doing is named: its motor does that.
        return found.Count > 0 || state is null || _circuit is null
            ? found
            : [.. tries.Where(a => a.State == state.Code && _circuit.IsMotor(a.Words))];
    }

    /// <summary>The state in which the machine is on that words name, by its name or by what is done in it; null where none is.</summary>
    internal OperatingState? StateIn(IReadOnlyList<string> words) =>
        Machine
            .Model.States.Where(s => s.Energised)
            .FirstOrDefault(s => Has(words, SeenNotation.Words(s.Name)) >= 0 || words.Any(w => IsDoing(w, s)));

    /// <summary>The words are the name of a function, and nothing else.</summary>
    internal bool IsFunction(IReadOnlyList<string> words) =>
        Machine.Model.Functions.Rows.Any(r => SeenNotation.Words(r.Name) is var name && name.Count == words.Count && Has(words, name) == 0);

    /// <summary>"raises" and "raise" are the state of raising.</summary>
    private static bool IsDoing(string word, OperatingState state)
    {
        const int Root = 4;
        var first = SeenNotation.Words(state.Name).FirstOrDefault("");
        return word.Length >= Root
            && first.EndsWith("ing", StringComparison.Ordinal)
            && first.Length > Root + 1
            && first.StartsWith(word[..Root], StringComparison.Ordinal);
    }

    /// <summary>What is called like something else but for its number, in the same state, and was not named.</summary>
    internal IReadOnlyList<Act> OthersLike(IReadOnlyList<Act> named)
    {
        static string Like(Act act) => string.Concat(act.Words.Where(char.IsLetter)).ToLowerInvariant();
        return
        [
            .. Acts.Where(a =>
                named.Any(n => n.Kind == a.Kind && n.State == a.State && Like(n) == Like(a)) && named.All(n => n.Id != a.Id)
            ),
        ];
    }

    private int StateIndex(string code) => Machine.Model.States.Index().FirstOrDefault(s => s.Item.Code == code).Index;

    /// <summary>One or several of a thing are the same name.</summary>
    private static string Stem(string word) => word.Length > 3 && word.EndsWith('s') ? word[..^1] : word;

    private static int Has(IReadOnlyList<string> words, IReadOnlyList<string> name)
    {
        for (var at = 0; name.Count > 0 && at + name.Count <= words.Count; at++)
        {
            var i = 0;
            while (i < name.Count && Stem(words[at + i]) == Stem(name[i]))
            {
                i++;
            }

            if (i == name.Count)
            {
                return at;
            }
        }

        return -1;
    }

    /// <summary>What is tried, with its state.</summary>
    public string WordsOf(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return StateName(act) is { Length: > 0 } state ? $"{act.Words}, {state}" : act.Words;
    }

    /// <summary>Of the state it is done in; empty where that is none in particular.</summary>
    public string StateName(Act act) => Machine.Model.States.FirstOrDefault(s => s.Code == act.State)?.Name ?? act.State;

    public Act? Called(string id) => _acts.GetValueOrDefault(id);

    /// <summary>
    /// Minutes to put a part right and try it, with what it costs to have fitted it for nothing counted as minutes. Common practice, no
    /// source.
    /// </summary>
    public double CureMinutes(Hypothesis cause)
    {
        ArgumentNullException.ThrowIfNull(cause);
        if (cause.Both.Count > 0)
        {
            return cause.Both.Sum(CureMinutes);
        }

        var law = MachineCircuitPart(cause.Part)?.Law.Kind;
        return cause.Kind switch
        {
            CauseKind.NothingWrong => 5,
            CauseKind.Setting => 10,
            CauseKind.Site or CauseKind.Mechanical or CauseKind.Wiring => 40,
            CauseKind.Unlisted => 180,
            _ => law switch
            {
                LawKind.Fuse or LawKind.Lamp => 4,
                LawKind.Contact => 8,
                LawKind.Wire or LawKind.Bond => 14,
                LawKind.Switch => 30,
                LawKind.Battery => 40,
                LawKind.Mains => 40,
                LawKind.Supply or LawKind.Transformer => 70,
                LawKind.Motor => 90,
                LawKind.Load or LawKind.RelayCoil or LawKind.MakeContact or LawKind.BreakContact => 50,
                LawKind.Output or LawKind.SolidState or LawKind.Regulator or LawKind.Rectifier or LawKind.Led => 130,
                { } => 60,
                null when cause.Part.Contains("fuse", StringComparison.OrdinalIgnoreCase) => 4,
                null when cause.Part.Contains("board", StringComparison.OrdinalIgnoreCase) => 130,
                null
                    when cause.Part.Contains("wire", StringComparison.OrdinalIgnoreCase)
                        || cause.Part.Contains("return", StringComparison.OrdinalIgnoreCase) => 14,
                _ => 50,
            },
        };
    }

    private CircuitPart? MachineCircuitPart(string name) =>
        _circuit is null || name.Length == 0 ? null : MachineCircuit.Of(Machine).Parts.FirstOrDefault(p => p.Name == name);
}
