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
/// <param name="Limit">Below which it is dead, in volts.</param>
/// <param name="Problem">Why what was done does not count; empty otherwise.</param>
public sealed record SafeStep(
    SafetyEventKind Kind, string Subject, string Words, DateTimeOffset? DoneAt, string Person, string? EventId, ProofPoint? Point, decimal? Volts, decimal? Limit, string Said, string Problem)
{
    public bool IsDone => DoneAt is not null && Problem.Length == 0;
}

/// <summary>How safe a machine is to touch, worked out from what was done, in order.</summary>
/// <param name="Since">When it came into this condition; null where nothing was done yet.</param>
/// <param name="Steps">In the order in which they are done.</param>
/// <param name="Missing">What stands between here and proved dead, in words.</param>
/// <param name="Void">Why a proof that once held does not any more; empty where it holds or none was made.</param>
public sealed record SafeState(SafeCondition Condition, DateTimeOffset? Since, string By, bool IsWet, IReadOnlyList<SafeStep> Steps, IReadOnlyList<string> Missing, string Void)
{
    /// <summary>
    /// Goes through the acts in order. A source counts as isolated after it was switched off, isolated, and locked where
    /// others could restore it. A reading counts only when all sources were isolated, what is stored released, and
    /// the meter proved before it; the proof stands when every point reads below the limit and the meter was proved after the
    /// last of them. A source that comes back, or one added since, leaves no proof.
    /// </summary>
    /// <param name="sheet">As it stands now, so that a source added later counts.</param>
    public static SafeState Of(SafetySheet sheet, ShopLimits limits, IEnumerable<SafetyEvent> events)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(limits);
        ArgumentNullException.ThrowIfNull(events);
        var all = events.OrderBy(e => e.Order).ThenBy(e => e.Id, StringComparer.Ordinal).ToList();
        var takenBack = all.Where(e => e.Kind == SafetyEventKind.TakenBack).Select(e => e.Target).ToHashSet();
        var walk = new Walk(sheet, limits);
        foreach (var act in all.Where(e => e.Kind != SafetyEventKind.TakenBack && !takenBack.Contains(e.Id)))
        {
            walk.Take(act);
        }

        return walk.State();
    }

    /// <summary>Why an act cannot be done now, in words; null where it can.</summary>
    public static string? Refusal(SafetySheet sheet, ShopLimits limits, IReadOnlyList<SafetyEvent> before, SafetyEvent act)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(act);
        if (act.Kind is SafetyEventKind.LiveAgain or SafetyEventKind.PlaceIsWet or SafetyEventKind.PlaceIsDry)
        {
            return act.Kind == SafetyEventKind.LiveAgain && act.Subject.Length > 0 && sheet.SourcesOrAssumed.All(s => s.Id != act.Subject) ? $"This machine has no source \"{act.Subject}\"." : null;
        }

        if (act.Kind == SafetyEventKind.TakenBack)
        {
            return before.Any(e => e.Id == act.Target && e.Kind != SafetyEventKind.TakenBack) ? null : "What is taken back was not done here.";
        }

        var steps = Of(sheet, limits, before).Steps;
        if (steps.FirstOrDefault(s => s.Kind == act.Kind && s.Subject == act.Subject) is not { } step)
        {
            return $"There is no such step on this machine: {act.Kind}, \"{act.Subject}\".";
        }

        var earlier = steps.TakeWhile(s => s != step).Where(s => !s.IsDone && Comes(s.Kind, s.Subject, act.Kind, act.Subject)).Select(s => s.Words).ToList();
        return earlier.Count > 0 ? $"First: {string.Join("; ", earlier)}." : null;
    }

    /// <summary>Whether one step must be done before another: within a source its own, before and after a reading all.</summary>
    private static bool Comes(SafetyEventKind first, string firstSubject, SafetyEventKind then, string thenSubject) => then switch
    {
        SafetyEventKind.SwitchedOff => false,
        SafetyEventKind.Isolated or SafetyEventKind.Locked or SafetyEventKind.Released => firstSubject == thenSubject,
        SafetyEventKind.Read => first != SafetyEventKind.Read,
        _ => true,
    };

    private sealed class Walk(SafetySheet sheet, ShopLimits limits)
    {
        private readonly IReadOnlyList<EnergySource> _sources = sheet.SourcesOrAssumed;
        private readonly IReadOnlyList<ProofPoint> _points = ProofPoint.Of(sheet);
        private readonly Dictionary<(SafetyEventKind, string), SafetyEvent> _done = [];
        private bool _wet = sheet.WetPlace;
        private SafetyEvent? _wetness;
        private SafetyEvent? _lastLive;
        private (SafetyEvent After, int Points)? _proof;
        private string _void = "";

        public void Take(SafetyEvent act)
        {
            switch (act.Kind)
            {
                case SafetyEventKind.PlaceIsWet or SafetyEventKind.PlaceIsDry:
                    (_wet, _wetness) = (act.Kind == SafetyEventKind.PlaceIsWet, act);
                    break;
                case SafetyEventKind.LiveAgain:
                    GoLive(act);
                    break;
                case SafetyEventKind.Read:
                    // A retake after the meter was proved again needs the meter proved once more.
                    _done[(act.Kind, act.Subject)] = act;
                    _done.Remove((SafetyEventKind.MeterProvedAfter, ""));
                    break;
                case SafetyEventKind.MeterProvedBefore:
                    ForgetProof();
                    _done[(act.Kind, "")] = act;
                    break;
                default:
                    _done[(act.Kind, act.Subject)] = act;
                    break;
            }

            if (act.Kind == SafetyEventKind.MeterProvedAfter && State().Condition == SafeCondition.ProvedDead)
            {
                (_proof, _void) = ((act, _points.Count), "");
            }
        }

        public SafeState State()
        {
            var steps = Steps().ToList();
            var isolating = steps.Where(s => s.Kind is SafetyEventKind.SwitchedOff or SafetyEventKind.Isolated or SafetyEventKind.Locked or SafetyEventKind.Released).ToList();
            var isIsolated = isolating.TrueForAll(s => s.IsDone);
            var isDead = isIsolated && steps.TrueForAll(s => s.IsDone);
            var last = (isDead ? steps : isIsolated ? isolating : []).MaxBy(s => s.DoneAt);
            var missing = steps.Where(s => !s.IsDone).Select(s => s.Problem.Length > 0 ? s.Problem : s.Words).ToList();
            return new SafeState(
                isDead ? SafeCondition.ProvedDead : isIsolated ? SafeCondition.Isolated : SafeCondition.Live,
                last?.DoneAt ?? _lastLive?.At,
                last?.Person ?? _lastLive?.Person ?? "",
                _wet,
                steps,
                missing,
                isDead ? "" : _void.Length > 0 ? _void : _proof is not null ? $"The proof no longer holds: {string.Join("; ", missing)}." : "");
        }

        private void GoLive(SafetyEvent act)
        {
            var names = _sources.Where(s => act.Subject.Length == 0 || s.Id == act.Subject).ToList();
            if (State().Condition == SafeCondition.ProvedDead)
            {
                _void = $"{string.Join(" and ", names.Select(s => s.Name))} came back on at {act.At.ToString("HH:mm", CultureInfo.InvariantCulture)} UTC{(act.Words.Length > 0 ? $" ({act.Words})" : "")}; the proof from before is void.";
            }

            foreach (var source in names)
            {
                foreach (var kind in (SafetyEventKind[])[SafetyEventKind.SwitchedOff, SafetyEventKind.Isolated, SafetyEventKind.Locked, SafetyEventKind.Released])
                {
                    _done.Remove((kind, source.Id));
                }
            }

            _lastLive = act;
            _proof = null;
            ForgetProof();
        }

        private void ForgetProof()
        {
            foreach (var key in _done.Keys.Where(k => k.Item1 is SafetyEventKind.MeterProvedBefore or SafetyEventKind.Read or SafetyEventKind.MeterProvedAfter).ToList())
            {
                _done.Remove(key);
            }
        }

        private IEnumerable<SafeStep> Steps()
        {
            var latest = long.MinValue;
            foreach (var source in _sources)
            {
                foreach (var (kind, words) in ActsOf(source))
                {
                    latest = Math.Max(latest, _done.GetValueOrDefault((kind, source.Id))?.Order ?? long.MinValue);
                    yield return Step(kind, source.Id, words);
                }
            }

            if (_points.Count == 0)
            {
                yield break;
            }

            var before = _done.GetValueOrDefault((SafetyEventKind.MeterProvedBefore, ""));
            yield return Step(SafetyEventKind.MeterProvedBefore, "", "prove the meter on a known source", before is not null && before.Order < latest ? "the meter was proved before all was isolated; prove it again" : "");
            var lastRead = before?.Order ?? long.MinValue;
            foreach (var point in _points)
            {
                var read = _done.GetValueOrDefault((SafetyEventKind.Read, point.Key));
                lastRead = Math.Max(lastRead, read?.Order ?? long.MinValue);
                var limit = limits.Of(point.IsAc, _wet);
                var problem = read is null ? ""
                    : before is null || read.Order < before.Order || read.Order < latest ? $"read {point.Words} again, after all was isolated and the meter proved"
                    : Math.Abs(read.Volts ?? decimal.MaxValue) >= limit ? $"not dead: {read.Volts:0.###} V at {point.Words}, dead is below {limit:0.#} V"
                    : "";
                yield return new SafeStep(SafetyEventKind.Read, point.Key, $"read {point.Words}", read?.At, read?.Person ?? "", read?.Id, point, read?.Volts, limit, "", problem);
            }

            var after = _done.GetValueOrDefault((SafetyEventKind.MeterProvedAfter, ""));
            yield return Step(SafetyEventKind.MeterProvedAfter, "", "prove the meter again on the known source", after is not null && after.Order < lastRead ? "the meter was not proved after the last reading" : "");
        }

        private SafeStep Step(SafetyEventKind kind, string subject, string words, string problem = "")
        {
            var act = _done.GetValueOrDefault((kind, subject));
            return new SafeStep(kind, subject, words, act?.At, act?.Person ?? "", act?.Id, null, null, null, act?.Words ?? "", act is null ? "" : problem);
        }

        private static IEnumerable<(SafetyEventKind Kind, string Words)> ActsOf(EnergySource source)
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

            if (source.OthersCanRestore && isolate.Length > 0)
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
