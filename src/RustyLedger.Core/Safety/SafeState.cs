using System.Globalization;

namespace RustyLedger.Core.Safety;

public enum SafeCondition
{
    Live,
    Isolated,
    ProvedDead,
}

/// <summary>One step of making safe.</summary>
/// <param name="Words">What is to be done.</param>
/// <param name="DoneAt">Null while it is open.</param>
/// <param name="EventId">The act that did it; null while it is open.</param>
/// <param name="Point">The points to read; null unless it is a reading.</param>
/// <param name="Volts">What was read.</param>
/// <param name="Limit">Up to which it is dead, in volts.</param>
/// <param name="Finding">What the reading says; null while nothing was read.</param>
/// <param name="Problem">Why what was done does not count; empty otherwise.</param>
public sealed record SafeStep(
    SafetyEventKind Kind,
    string Subject,
    string Words,
    DateTimeOffset? DoneAt,
    string Person,
    string? EventId,
    ProofPoint? Point,
    decimal? Volts,
    decimal? Limit,
    Finding? Finding,
    string Said,
    string Problem
)
{
    public bool IsDone => DoneAt is not null && Problem.Length == 0;
}

/// <summary>How safe one source is.</summary>
/// <param name="Since">When it came into this condition; null where nothing was done yet.</param>
/// <param name="Because">The reading or the act that made it live; empty where none did.</param>
/// <param name="MayStand">It was locked before a reading put it in doubt; "your lock on throughout?" is the question to ask.</param>
public sealed record SourceState(
    string Id,
    string Name,
    bool IsElectrical,
    SafeCondition Condition,
    DateTimeOffset? Since,
    string By,
    string Because,
    bool MayStand
)
{
    /// <summary>Such as <c>mains dead</c>; gravity, water and the like are secured, not dead.</summary>
    public string Words =>
        Condition switch
        {
            SafeCondition.ProvedDead => $"{Name} dead",
            SafeCondition.Isolated => IsElectrical ? $"{Name} isolated, not proved" : $"{Name} secured",
            _ => IsElectrical ? $"{Name} live" : $"{Name} not secured",
        };
}

/// <summary>How safe a machine is to touch, worked out from what was done, in order: of each source, and of the worst of them.</summary>
/// <param name="Since">When it came into this condition; null where nothing was done yet.</param>
/// <param name="Steps">In the order in which they are done.</param>
/// <param name="Missing">What stands between here and proved dead, in words.</param>
/// <param name="Void">Why a proof that once held does not any more; empty where it holds or none was made.</param>
public sealed record SafeState(
    SafeCondition Condition,
    DateTimeOffset? Since,
    string By,
    Wetness Place,
    IReadOnlyList<SourceState> Sources,
    IReadOnlyList<SafeStep> Steps,
    IReadOnlyList<string> Missing,
    string Void
)
{
    /// <summary>
    /// Goes through the acts in order. A source counts as isolated after it was switched off, isolated, and locked where
    /// others could restore it. It is proved dead by a sequence: isolated, the meter proved, every point of it read and dead, the
    /// meter proved again. What breaks the sequence breaks it for good: a source that comes back, a reading that shows it live or
    /// that nobody can explain, a step taken back or done anew. To take that back revives nothing.
    /// </summary>
    /// <param name="sheet">As it stands now, so that a source added later counts.</param>
    public static SafeState Of(SafetySheet sheet, ShopLimits limits, IEnumerable<SafetyEvent> events)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(limits);
        ArgumentNullException.ThrowIfNull(events);
        var walk = new Walk(sheet, limits);
        foreach (var act in events.OrderBy(e => e.Order).ThenBy(e => e.Id, StringComparer.Ordinal))
        {
            walk.Apply(act);
        }

        return walk.State();
    }

    /// <summary>
    /// Said of an isolation: the plug is pulled and in sight of who works. It needs no lock, and is read at the machine's side of the
    /// plug alone.
    /// </summary>
    public const string PlugInSight = "plug pulled, in sight";

    /// <summary>Why an act cannot be done now, in words; null where it can.</summary>
    public static string? Refusal(SafetySheet sheet, ShopLimits limits, IReadOnlyList<SafetyEvent> before, SafetyEvent act)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(act);
        switch (act.Kind)
        {
            case SafetyEventKind.LiveAgain or SafetyEventKind.FoundLive or SafetyEventKind.FoundUnexplained:
                return act.Subject.Length > 0 && sheet.SourcesOrAssumed.All(s => s.Id != act.Subject)
                    ? $"This machine has no source \"{act.Subject}\"."
                    : null;
            case SafetyEventKind.PlaceIsWet:
                return null;
            case SafetyEventKind.DeviceOperated:
                return sheet.Interlocks.All(i => i.Id != act.Subject) ? $"This machine has no protective device \"{act.Subject}\"." : null;
            case SafetyEventKind.PlaceIsDry:
                return sheet.Place != Wetness.Dry && act.Words.Length == 0
                    ? "This machine is wet by nature. Say why the place is dry all the same."
                    : null;
            case SafetyEventKind.TakenBack:
                return before.Any(e => e.Id == act.Target && e.Kind != SafetyEventKind.TakenBack)
                    ? null
                    : "What is taken back was not done here.";
        }

        var state = Of(sheet, limits, before);
        if (act.Kind == SafetyEventKind.LockStands)
        {
            return state.Sources.Any(s => s.Id == act.Subject && s.MayStand) ? null : "No lock of this visit stands in doubt there.";
        }

        if (state.Steps.FirstOrDefault(s => s.Kind == act.Kind && s.Subject == act.Subject) is not { } step)
        {
            return $"There is no such step on this machine: {act.Kind}, \"{act.Subject}\".";
        }

        var earlier = Earlier(state, step).Select(s => s.Words).ToList();
        return earlier.Count > 0 ? $"First: {string.Join("; ", earlier)}." : null;
    }

    /// <summary>
    /// The open steps that come before another: within a source its own; before a reading the meter; after the readings of one source
    /// the meter again.
    /// </summary>
    private static IEnumerable<SafeStep> Earlier(SafeState state, SafeStep step)
    {
        var before = state.Steps.TakeWhile(s => s != step).ToList();
        bool Isolates(SafeStep s) =>
            s.Point is null && s.Kind is not (SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter);
        IEnumerable<SafeStep> Isolating(string source) => before.Where(s => Isolates(s) && s.Subject == source && !s.IsDone);
        switch (step.Kind)
        {
            case SafetyEventKind.SwitchedOff:
                return [];
            case SafetyEventKind.Isolated or SafetyEventKind.Locked or SafetyEventKind.Released:
                return Isolating(step.Subject);
            case SafetyEventKind.Read:
                return Isolating(step.Point!.SourceId).Concat(before.Where(s => s.Kind == SafetyEventKind.MeterProvedBefore && !s.IsDone));
            default:
                // One source is enough to begin with; the others may stay live.
                var open = state
                    .Sources.Where(s => s.IsElectrical)
                    .Select(source =>
                        step.Kind == SafetyEventKind.MeterProvedBefore
                            ? Isolating(source.Id).ToList()
                            : before
                                .Where(s =>
                                    !s.IsDone
                                    && (s.Kind == SafetyEventKind.MeterProvedBefore || (s.Point?.SourceId ?? s.Subject) == source.Id)
                                )
                                .ToList()
                    )
                    .ToList();
                return open.MinBy(o => o.Count) ?? [];
        }
    }

    private sealed class Walk(SafetySheet sheet, ShopLimits limits)
    {
        private static readonly SafetyEventKind[] _isolating =
        [
            SafetyEventKind.SwitchedOff,
            SafetyEventKind.Isolated,
            SafetyEventKind.Locked,
            SafetyEventKind.Released,
        ];

        private readonly IReadOnlyList<EnergySource> _sources = sheet.SourcesOrAssumed;
        private readonly ILookup<string, ProofPoint> _points = ProofPoint
            .Of(sheet)
            .ToLookup(p => sheet.SourcesOrAssumed.Any(s => s.Id == p.SourceId) ? p.SourceId : "");
        private readonly Dictionary<(SafetyEventKind, string), SafetyEvent> _done = [];
        private readonly Dictionary<string, SafetyEvent> _proved = [];
        private readonly Dictionary<string, SafetyEvent> _broken = [];
        private readonly Dictionary<string, Dictionary<SafetyEventKind, SafetyEvent>> _inDoubt = [];
        private readonly Dictionary<string, SafetyEvent> _acts = [];
        private readonly List<SafetyEvent> _places = [];
        private string _void = "";

        private Wetness Place =>
            _places.Count == 0 ? sheet.Place
            : _places[^1].Kind == SafetyEventKind.PlaceIsDry ? Wetness.Dry
            : sheet.Place == Wetness.Immersed ? Wetness.Immersed
            : Wetness.Wet;

        public void Apply(SafetyEvent act)
        {
            _acts[act.Id] = act;
            switch (act.Kind)
            {
                case SafetyEventKind.PlaceIsWet or SafetyEventKind.PlaceIsDry:
                    _places.Add(act);
                    break;
                case SafetyEventKind.LiveAgain or SafetyEventKind.FoundLive or SafetyEventKind.FoundUnexplained:
                    foreach (
                        var source in _sources.Where(s =>
                            act.Subject.Length == 0 ? s.IsElectrical || act.Kind == SafetyEventKind.LiveAgain : s.Id == act.Subject
                        )
                    )
                    {
                        Break(source, act);
                    }

                    break;
                case SafetyEventKind.LockStands:
                    Stand(act);
                    break;
                case SafetyEventKind.DeviceOperated:
                    break;
                case SafetyEventKind.TakenBack:
                    TakeBack(act);
                    break;
                case SafetyEventKind.Read:
                    Read(act);
                    break;
                case SafetyEventKind.MeterProvedBefore:
                    // What is proved stays proved; a reading half way to a proof begins anew.
                    ForgetReadings(key => !_proved.ContainsKey(SourceOf(key)));
                    _done[(act.Kind, "")] = act;
                    _done.Remove((SafetyEventKind.MeterProvedAfter, ""));
                    break;
                case SafetyEventKind.MeterProvedAfter:
                    _done[(act.Kind, "")] = act;
                    Prove(act);
                    break;
                default:
                    _done[(act.Kind, act.Subject)] = act;
                    Unprove(act.Subject, act, "");
                    break;
            }
        }

        public SafeState State()
        {
            var steps = Steps().ToList();
            var sources = _sources.Select(StateOf).ToList();
            var isDead = _points.Count > 0 && steps.TrueForAll(s => s.IsDone) && Groups.All(_proved.ContainsKey);
            var condition = isDead
                ? SafeCondition.ProvedDead
                : (SafeCondition)
                    Math.Min(
                        (int)SafeCondition.Isolated,
                        sources.Select(s => (int)s.Condition).DefaultIfEmpty((int)SafeCondition.Isolated).Min()
                    );
            var last =
                condition == SafeCondition.Live
                    ? sources.Where(s => s.Condition == SafeCondition.Live).MaxBy(s => s.Since)
                    : sources.MaxBy(s => s.Since);
            var missing = steps.Where(s => !s.IsDone).Select(s => s.Problem.Length > 0 ? s.Problem : s.Words).ToList();
            return new SafeState(condition, last?.Since, last?.By ?? "", Place, sources, steps, missing, isDead ? "" : _void);
        }

        /// <summary>What is proved together: a source with its points; under no name what belongs to none.</summary>
        private IEnumerable<string> Groups =>
            _points.Select(g => g.Key).Concat(_sources.Where(s => s.IsElectrical).Select(s => s.Id)).Distinct();

        private SourceState StateOf(EnergySource source)
        {
            var isolating = ActsOf(source).Select(a => _done.GetValueOrDefault((a.Kind, source.Id))).ToList();
            var broken = _broken.GetValueOrDefault(source.Id);
            SourceState As(SafeCondition condition, SafetyEvent? since) =>
                new(
                    source.Id,
                    source.Name,
                    source.IsElectrical,
                    condition,
                    since?.At,
                    since?.Person ?? "",
                    condition == SafeCondition.ProvedDead || broken is null ? "" : Why(broken),
                    _inDoubt.ContainsKey(source.Id)
                );
            return _proved.TryGetValue(source.Id, out var proof) ? As(SafeCondition.ProvedDead, proof)
                : isolating.TrueForAll(a => a is not null) ? As(SafeCondition.Isolated, isolating.MaxBy(a => a!.Order))
                : As(SafeCondition.Live, broken);
        }

        /// <summary>The last act by which a source was isolated; null while it is not. What belongs to no source waits for all.</summary>
        private long? IsolatedAt(string group)
        {
            var acts = _sources
                .Where(s => group.Length == 0 || s.Id == group)
                .SelectMany(s => ActsOf(s).Select(a => _done.GetValueOrDefault((a.Kind, s.Id))))
                .ToList();
            return acts.TrueForAll(a => a is not null) ? acts.Select(a => a!.Order).DefaultIfEmpty(long.MinValue).Max() : null;
        }

        private void Prove(SafetyEvent act)
        {
            if (_done.GetValueOrDefault((SafetyEventKind.MeterProvedBefore, "")) is not { } before)
            {
                return;
            }

            foreach (var group in Groups)
            {
                if (
                    _points[group].Any()
                    && IsolatedAt(group) < before.Order
                    && _points[group]
                        .All(p =>
                            _done.GetValueOrDefault((SafetyEventKind.Read, p.Key)) is { } read
                            && read.Order > before.Order
                            && FindingOf(read, p) == Finding.Dead
                        )
                )
                {
                    _proved[group] = act;
                    _broken.Remove(group);
                    if (Groups.All(_proved.ContainsKey))
                    {
                        _void = "";
                    }
                }
            }
        }

        private void Read(SafetyEvent act)
        {
            var group = SourceOf(act.Subject);
            Unprove(group, act, $"{act.Volts:0.###} V was read anew");
            // A retake after the meter was proved again needs the meter proved once more.
            _done[(act.Kind, act.Subject)] = act;
            _done.Remove((SafetyEventKind.MeterProvedAfter, ""));
            var point = _points[group].FirstOrDefault(p => p.Key == act.Subject);
            // A capacitor that holds its charge is not a source that is on.
            if (
                point is not null
                && sheet.Charges.All(c => point.Key != $"{c.Id}/charge")
                && FindingOf(act, point) == Finding.Live
                && _sources.FirstOrDefault(s => s.Id == group) is { } source
            )
            {
                Break(source, act);
            }
        }

        private void TakeBack(SafetyEvent act)
        {
            if (act.Target is not { } id || !_acts.TryGetValue(id, out var target))
            {
                return;
            }

            if (_places.Remove(target))
            {
                return;
            }

            var key = (
                target.Kind,
                target.Kind is SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter ? "" : target.Subject
            );
            if (!_done.TryGetValue(key, out var standing) || standing.Id != id)
            {
                return;
            }

            _done.Remove(key);
            if (target.Kind is SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter)
            {
                foreach (var group in _proved.Keys.ToList())
                {
                    Unprove(group, act, "the proof of the meter was taken back");
                }
            }
            else
            {
                Unprove(
                    target.Kind == SafetyEventKind.Read ? SourceOf(target.Subject) : target.Subject,
                    act,
                    "a step of it was taken back"
                );
            }
        }

        /// <summary>It is live, or may be: what isolated it counts no more, and nothing read at it.</summary>
        private void Break(EnergySource source, SafetyEvent act)
        {
            Unprove(source.Id, act, Why(act));
            _broken[source.Id] = act;
            ForgetReadings(key => SourceOf(key) == source.Id && _done[(SafetyEventKind.Read, key)].Id != act.Id);
            // A new proof begins with the meter.
            _done.Remove((SafetyEventKind.MeterProvedBefore, ""));
            _done.Remove((SafetyEventKind.MeterProvedAfter, ""));
            if (act.Kind == SafetyEventKind.FoundUnexplained)
            {
                // Isolated it may well be; dead it is not until it is proved anew.
                return;
            }

            var stood = _isolating.Where(k => _done.ContainsKey((k, source.Id))).ToDictionary(k => k, k => _done[(k, source.Id)]);
            if (act.Kind != SafetyEventKind.LiveAgain && stood.ContainsKey(SafetyEventKind.Locked))
            {
                _inDoubt[source.Id] = stood;
            }
            else if (act.Kind == SafetyEventKind.LiveAgain)
            {
                _inDoubt.Remove(source.Id);
            }

            foreach (var kind in _isolating)
            {
                _done.Remove((kind, source.Id));
            }
        }

        private void Stand(SafetyEvent act)
        {
            if (!_inDoubt.Remove(act.Subject, out var stood))
            {
                return;
            }

            // As of now: what was read before does not count for it.
            foreach (var kind in stood.Keys.Where(k => k != SafetyEventKind.Released))
            {
                _done.TryAdd((kind, act.Subject), act);
            }
        }

        private void Unprove(string group, SafetyEvent act, string why)
        {
            if (!_proved.Remove(group))
            {
                return;
            }

            _proved.Remove("");
            var name = _sources.FirstOrDefault(s => s.Id == group)?.Name ?? "what is stored";
            _void =
                $"The proof that {name} is dead no longer holds since "
                + $"{act.At.ToString("HH:mm", CultureInfo.InvariantCulture)}{(why.Length > 0 ? $": {why}" : "")}.";
        }

        private static string Why(SafetyEvent act) =>
            act.Kind switch
            {
                SafetyEventKind.LiveAgain => $"it came back on{(act.Words.Length > 0 ? $" ({act.Words})" : "")}",
                SafetyEventKind.Read => $"{act.Volts:0.###} V was read",
                _ => $"{act.Words} was read",
            };

        private void ForgetReadings(Func<string, bool> which)
        {
            foreach (var key in _done.Keys.Where(k => k.Item1 == SafetyEventKind.Read && which(k.Item2)).ToList())
            {
                _done.Remove(key);
            }
        }

        private string SourceOf(string point) => _points.FirstOrDefault(g => g.Any(p => p.Key == point))?.Key ?? "";

        private Finding FindingOf(SafetyEvent read, ProofPoint point) =>
            read.Volts is { } volts ? limits.Of(volts, point.IsAc, Place) : Finding.NotExplained;

        private IEnumerable<SafeStep> Steps()
        {
            foreach (var source in _sources)
            {
                foreach (var (kind, words) in ActsOf(source))
                {
                    yield return Step(kind, source.Id, words);
                }
            }

            if (!Groups.Any())
            {
                yield break;
            }

            var before = _done.GetValueOrDefault((SafetyEventKind.MeterProvedBefore, ""));
            var isAllProved = Groups.All(_proved.ContainsKey);
            var early = before is not null && Groups.Any(g => !_proved.ContainsKey(g) && IsolatedAt(g) > before.Order);
            yield return Step(
                SafetyEventKind.MeterProvedBefore,
                "",
                "prove the meter on a known source",
                early ? "the meter was proved before all was isolated; prove it again" : "",
                isAllProved
            );
            foreach (var source in _sources.Where(s => s.IsElectrical && s.Ends.Count < 2))
            {
                var only =
                    $"write down two ends of {source.Name}: with {(source.Ends.Count == 0 ? "none" : "one")} it cannot be proved dead";
                yield return new SafeStep(
                    SafetyEventKind.Read,
                    $"{source.Id}/ends",
                    only,
                    null,
                    "",
                    null,
                    null,
                    null,
                    null,
                    null,
                    "",
                    only
                );
            }

            foreach (var (group, point) in _points.SelectMany(g => g.Select(p => (g.Key, p))))
            {
                var read = _done.GetValueOrDefault((SafetyEventKind.Read, point.Key));
                var finding = read is null ? (Finding?)null : FindingOf(read, point);
                var problem =
                    read is null || _proved.ContainsKey(group) ? ""
                    : finding == Finding.Live
                        ? $"not dead: {read.Volts:0.###} V at {point.Words}, live from {limits.Touch(point.IsAc, Place):0.#} V"
                    : finding == Finding.NotExplained
                        ? $"not explained: {read.Volts:0.###} V at {point.Words}, dead is at most "
                            + $"{limits.Dead(point.IsAc):0.#} V; read it at low impedance, or find what feeds it"
                    : before is null || read.Order < before.Order || IsolatedAt(group) is not { } isolated || read.Order < isolated
                        ? $"read {point.Words} again, after it was isolated and the meter proved"
                    : "";
                yield return new SafeStep(
                    SafetyEventKind.Read,
                    point.Key,
                    $"read {point.Words}",
                    read?.At,
                    read?.Person ?? "",
                    read?.Id,
                    point,
                    read?.Volts,
                    limits.Dead(point.IsAc),
                    finding,
                    "",
                    problem
                );
            }

            yield return Step(SafetyEventKind.MeterProvedAfter, "", "prove the meter again on the known source", "", isAllProved);
        }

        private SafeStep Step(SafetyEventKind kind, string subject, string words, string problem = "", bool isSettled = false)
        {
            var act = _done.GetValueOrDefault((kind, subject)) ?? (isSettled ? _proved.Values.MaxBy(p => p.Order) : null);
            return new SafeStep(
                kind,
                subject,
                words,
                act?.At,
                act?.Person ?? "",
                act?.Id,
                null,
                null,
                null,
                null,
                act?.Words ?? "",
                act is null ? "" : problem
            );
        }

        private IEnumerable<(SafetyEventKind Kind, string Words)> ActsOf(EnergySource source)
        {
            var where = source.Isolation.Length > 0 ? $" at {source.Isolation}" : "";
            var (off, isolate) = source.Kind switch
            {
                SourceKind.Gravity or SourceKind.Spring => ("", $"secure {source.Name}{where}"),
                SourceKind.Heat => ($"switch off {source.Name}", ""),
                SourceKind.Gas or SourceKind.Water or SourceKind.Pressure => ("", $"close {source.Name}{where}"),
                _ => ($"switch off {source.Name}", $"isolate {source.Name}{where}"),
            };
            if (off.Length > 0)
            {
                yield return (SafetyEventKind.SwitchedOff, off);
            }

            if (isolate.Length > 0)
            {
                yield return (SafetyEventKind.Isolated, isolate);
            }

            // A pulled plug that stays in sight is its own lock.
            if (
                source.OthersCanRestore
                && isolate.Length > 0
                && _done.GetValueOrDefault((SafetyEventKind.Isolated, source.Id))?.Words != PlugInSight
            )
            {
                yield return (SafetyEventKind.Locked, $"lock and tag {source.Name}");
            }

            if (source.Release.Length > 0)
            {
                yield return (SafetyEventKind.Released, source.Release);
            }
        }
    }
}
