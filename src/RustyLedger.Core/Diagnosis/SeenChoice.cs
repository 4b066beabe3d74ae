using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Diagnosis;

/// <summary>One thing that may be seen of an act.</summary>
/// <param name="Line">That keeps it.</param>
public sealed record SeenChoice(string Words, string Line);

/// <summary>What fails, to be watched while something is read.</summary>
/// <param name="Words">What it is, such as <c>M3</c>.</param>
/// <param name="Shows">How it is while the fault shows.</param>
/// <param name="Away">How it is while the fault is away.</param>
public sealed record WatchedWhile(string Words, string Shows, string Away);

/// <summary>What may be seen of an act, for whoever does it.</summary>
public static class SeenChoices
{
    /// <summary>What can be seen of an act, and the line that keeps it: it is read back as this act with that outcome.</summary>
    public static IReadOnlyList<SeenChoice> Of(Act act, MachineDiagnosis model)
    {
        ArgumentNullException.ThrowIfNull(act);
        ArgumentNullException.ThrowIfNull(model);
        var (well, bad) = PartActs.Outcomes(act.Kind);
        var state = model.StateName(act);
        var pulled = act.Pulled.Length > 0 ? $" with {act.Pulled} pulled" : "";
        return act.Kind switch
        {
            ActKind.Try or ActKind.Look =>
            [
                .. _choices.Select(k => new SeenChoice(
                    SeenNotation.WordsOf(k, act),
                    $"{model.WordsOf(act)}: {SeenNotation.WordsOf(k, act)}"
                )),
            ],
            ActKind.Inspect =>
            [
                .. ((string[])["burnt", "corroded", "loose", "broken"]).Select(h => new SeenChoice(h, Looking(act, model, h))),
                new SeenChoice("nothing to see", Looking(act, model, "good")),
            ],
            ActKind.Swap => [.. ((string[])[bad, well]).Select(h => new SeenChoice(h, $"swapped {act.Words}: {h}"))],
            ActKind.Fit => [.. ((string[])[well, bad]).Select(h => new SeenChoice(h, $"replaced {act.Words}: {h}"))],
            ActKind.Wait =>
            [
                new SeenChoice(well, $"{well} for {PartActs.Time(act.Minutes)}"),
                new SeenChoice(bad, $"{bad} after {PartActs.Time(act.Minutes / 2)}"),
            ],
            ActKind.Wiggle => [.. ((string[])[bad, well]).Select(h => new SeenChoice(h, $"wiggled {act.Words}: {h}"))],
            ActKind.Close =>
            [
                .. ((string[])[$"{Opens(act, model)} at once", $"{Opens(act, model)} after a while", "holds"]).Select(h => new SeenChoice(
                    h,
                    $"{act.Aims[0]} {h}{pulled}{(state.Length > 0 ? $", {state}" : "")}"
                )),
            ],
            _ => [],
        };
    }

    /// <summary>What fails where an act is a reading meanwhile; null where nothing does that could be seen then.</summary>
    public static WatchedWhile? Watch(Act? act, Reasoned reasoned)
    {
        ArgumentNullException.ThrowIfNull(reasoned);
        return act is not null && reasoned.Watched(act) is { } failing
            ? new WatchedWhile(
                failing.Act.Words,
                SeenNotation.WordsOf(failing.Outcome.Kind == OutcomeKind.Sometimes ? OutcomeKind.No : failing.Outcome.Kind, failing.Act),
                SeenNotation.WordsOf(OutcomeKind.Works, failing.Act)
            )
            : null;
    }

    /// <summary>What to see to before it is done; may be empty.</summary>
    public static string Mind(ActKind kind, Act? act, Reasoned reasoned, MachineDiagnosis model)
    {
        ArgumentNullException.ThrowIfNull(reasoned);
        ArgumentNullException.ThrowIfNull(model);
        if (act is not null && model.InterlockOf(act) is { } device)
        {
            return $"Never bridged, not for a moment: {device.Name} is a protective device ({BypassRefusal.KindWords(device.Kind)}). "
                + $"Its test: {BypassRefusal.TestOf(device)}.";
        }

        return kind switch
        {
            ActKind.Read when reasoned.MayComeAndGo && Watch(act, reasoned) is { } watched =>
                $"It may come and go: read it while it shows ({watched.Words}: {watched.Shows}), and say so.",
            ActKind.Fit =>
                "Isolate it first. Before a new part is switched on: is what it feeds shown not shorted? Else the new one goes too.",
            ActKind.Swap => "Isolate it first, mark both. Is what it feeds shown not shorted? Else the good one goes too.",
            ActKind.Inspect => "Isolate it first. Look at both halves of a plug, at the legs, under the sleeve.",
            ActKind.Close => "As seldom as can be, covers on, nobody near it. It may open on a short.",
            ActKind.Try => "Nobody in its way.",
            ActKind.Wiggle =>
                "Extra-low voltage alone, by the insulation, nothing that may start near your hands. Bend each wire where it enters.",
            ActKind.Wait => "Covers on. Note what else happens when it comes back.",
            _ => "",
        };
    }

    private static string Opens(Act close, MachineDiagnosis model) => model.Trips(close) ? "trips" : "blows";

    private static string Looking(Act act, MachineDiagnosis model, string how) =>
        NameOf(act, model) is var name && name.Contains(" and ", StringComparison.Ordinal) ? $"{name} look {how}" : $"{name} looks {how}";

    /// <summary>By which its parts are read back.</summary>
    private static string NameOf(Act act, MachineDiagnosis model) =>
        DoneNotation.Parts(act.Words, model).Order(StringComparer.Ordinal).SequenceEqual(act.Aims)
            ? act.Words
            : string.Join(" and ", act.Aims);

    private static readonly OutcomeKind[] _choices = [OutcomeKind.Works, OutcomeKind.Weak, OutcomeKind.Sometimes, OutcomeKind.No];
}
