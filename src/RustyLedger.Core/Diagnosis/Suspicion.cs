using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>How far it has come with a suspect.</summary>
public enum SuspectStanding
{
    Cleared,
    Possible,

    /// <summary>Likely, and not proved: no act aimed at it has told it from all others yet.</summary>
    Likely,
    Proved,
}

/// <summary>How a finding speaks of a suspect.</summary>
/// <param name="Factor">How many times likelier it is under this suspect than under all others together; below 1 it speaks against.</param>
public sealed record SpeaksFor(string FindingId, double Factor);

/// <summary>What would be replaced or repaired: one part, several that no act can tell apart, two at once, or what is no part.</summary>
/// <param name="Id">The same for the same parts.</param>
/// <param name="Parts">As printed; empty of what is no part.</param>
/// <param name="Words">Its likeliest fault.</param>
/// <param name="AreRivals">No act can tell its parts apart; else they are at fault together.</param>
public sealed record SuspectGroup(
    string Id,
    CauseKind Kind,
    IReadOnlyList<string> Parts,
    string Words,
    double Share,
    bool AreRivals,
    IReadOnlyList<Weighed> Of
)
{
    /// <summary>Each finding's, in the order in which they are weighed.</summary>
    public IReadOnlyList<SpeaksFor> Speaks { get; init; } = [];

    /// <summary>In a technician's words.</summary>
    public string Name =>
        Parts.Count == 0 ? Of[0].Words
        : AreRivals ? Rivals()
        : string.Join(" and ", Parts);

    /// <summary>The same among others of a list: two at once stay together.</summary>
    public string NameInList => Parts.Count > 1 && !AreRivals ? string.Join(" with ", Parts) : Name;

    /// <summary>A wire and its contacts are said as one thing.</summary>
    private string Rivals()
    {
        var others = Parts.Where(p => !p.StartsWith(Contact, StringComparison.Ordinal)).ToList();
        return others.Count == 1 && Parts.Count > 1 ? $"{others[0]} or a contact of it"
            : others.Count == 0
                ? $"{Parts[0]} or {string.Join(" or ", Parts.Skip(1).Take(2).Select(p => p[Contact.Length..]))}"
                    + (Parts.Count > 3 ? $" or {Parts.Count - 3} more" : "")
            : Parts.Count > 3 ? $"{Parts[0]} or one of {Parts.Count - 1} beside it"
            : string.Join(" or ", Parts);
    }

    private const string Contact = "contact ";

    public double CureMinutes { get; init; }

    /// <summary>What must be read before it is proved; null where nothing is left.</summary>
    public Act? Wanted { get; init; }

    public SuspectStanding Standing { get; init; }

    /// <summary>What proved it, what would overturn it, or what cleared it; may be empty.</summary>
    public string Because { get; init; } = "";
}

/// <summary>When a suspect counts as proved.</summary>
/// <param name="Share">Likely enough, from 0.5 to 1.</param>
/// <param name="DearShare">The same of a part that is dear to fit for nothing.</param>
/// <param name="Times">How many times likelier an aimed act must be under it than under all rivals together.</param>
/// <param name="DearMinutes">From which a cure is dear.</param>
public sealed record ProofRule(double Share = 0.95, double DearShare = 0.98, double Times = 20, double DearMinutes = 100)
{
    public static ProofRule Usual { get; } = new();
}

/// <summary>The suspects of a posterior, by what would be replaced.</summary>
public static class Suspicion
{
    // Below it a suspect is struck out.
    internal const double ClearedShare = 0.005;
    private const double MostToMerge = 12;
    private const double WorthMerging = 0.01;
    private const int RivalsWeighed = 40;

    /// <param name="posterior">Of all findings.</param>
    /// <returns>The likeliest first.</returns>
    public static IReadOnlyList<SuspectGroup> Of(Posterior posterior, Func<Hypothesis, double> cureMinutes, ProofRule? proof = null)
    {
        ArgumentNullException.ThrowIfNull(posterior);
        ArgumentNullException.ThrowIfNull(cureMinutes);
        var rule = proof ?? ProofRule.Usual;
        var groups = posterior
            .All.GroupBy(w => w.Cause.Kind != CauseKind.Part ? w.Cause.Id : string.Join(" + ", w.Cause.Parts.Order(StringComparer.Ordinal)))
            .Select(g => Group(g.Key, [.. g.OrderByDescending(w => w.Share)], false))
            .OrderByDescending(g => g.Share)
            .ThenBy(g => g.Id, StringComparer.Ordinal)
            .ToList();
        groups = Merged(groups, posterior);
        var speaks = groups.Take(RivalsWeighed).ToDictionary(g => g.Id, g => posterior.Speaks(g.Of[0]));
        List<SuspectGroup> all = [];
        foreach (var (i, group) in groups.Index())
        {
            var with = group with
            {
                CureMinutes = group.Of.Where(w => w.Share > group.Share / 100).Select(w => cureMinutes(w.Cause)).DefaultIfEmpty(60).Min(),
            };
            all.Add(
                i >= RivalsWeighed
                    ? with with
                    {
                        Standing = with.Share < ClearedShare ? SuspectStanding.Cleared : SuspectStanding.Possible,
                    }
                    : with with
                    {
                        Speaks = SpeaksOf(with, groups, speaks, posterior),
                        Standing =
                            with.Share < ClearedShare ? SuspectStanding.Cleared
                            : with.Share >= 0.5 ? SuspectStanding.Likely
                            : SuspectStanding.Possible,
                    }
            );
        }

        if (all is [{ Kind: CauseKind.Part } first, ..] && posterior.Findings.Count > 0)
        {
            // Two at once are it and another: whatever else is wrong, it is.
            var atFault =
                first.Parts.Count == 0 || first.AreRivals || first.Parts.Count > 1
                    ? first.Share
                    : groups.Where(g => !g.AreRivals && g.Parts.Contains(first.Parts[0])).Sum(g => g.Share);
            all[0] = Proof(first, atFault, posterior, rule);
        }

        return all;
    }

    private static SuspectGroup Group(string id, List<Weighed> of, bool areRivals) =>
        new(
            id,
            of[0].Cause.Kind,
            areRivals ? [.. of.Select(w => w.Cause.Part).Distinct()] : of[0].Cause.Parts,
            of[0].Words,
            of.Sum(w => w.Share),
            areRivals,
            of
        );

    /// <summary>Rivals that no act tells apart become one group.</summary>
    private static List<SuspectGroup> Merged(List<SuspectGroup> groups, Posterior posterior)
    {
        var merged = new List<SuspectGroup>();
        foreach (var group in groups)
        {
            if (group.Share < WorthMerging || merged.Count > MostToMerge || group.Kind != CauseKind.Part || group.Parts.Count > 1)
            {
                merged.Add(group);
                continue;
            }

            var at = merged.FindIndex(m =>
                m.Kind == CauseKind.Part && (m.AreRivals || m.Parts.Count == 1) && AreOne(m.Of[0], group.Of[0], posterior)
            );
            if (at < 0)
            {
                merged.Add(group);
            }
            else
            {
                merged[at] = Group(merged[at].Id, [.. merged[at].Of, .. group.Of], true);
            }
        }

        // Two at once: one of several rivals beside another is one line.
        var rivals = merged.Where(g => g.AreRivals).SelectMany(g => g.Parts.Select(p => (p, g))).ToDictionary(p => p.p, p => p.g);
        string Beside(SuspectGroup pair) =>
            string.Join(" + ", pair.Parts.Select(p => rivals.TryGetValue(p, out var of) ? of.Id : p).Order(StringComparer.Ordinal));
        return
        [
            .. merged
                .Where(g => g.Parts.Count < 2 || g.AreRivals)
                .Concat(
                    merged
                        .Where(g => g.Parts.Count > 1 && !g.AreRivals)
                        .GroupBy(Beside)
                        .Select(g => Group(g.Key, [.. g.SelectMany(x => x.Of).OrderByDescending(w => w.Share)], false))
                )
                .OrderByDescending(g => g.Share)
                .ThenBy(g => g.Id, StringComparer.Ordinal),
        ];
    }

    /// <summary>
    /// Whether each shows the same as the other in every act there is, and in all that was done, as far as anybody can read it.
    /// </summary>
    private static bool AreOne(Weighed a, Weighed b, Posterior posterior) =>
        a.Cause.IsIntermittent == b.Cause.IsIntermittent
        && posterior
            .Model.Acts.Concat(posterior.Findings.Select(f => f.Act))
            .All(act => !AreApart(posterior.Model.Predict(a.Cause, a.Size, act), posterior.Model.Predict(b.Cause, b.Size, act), act));

    // What may as well be chance tells nobody apart.
    private const double LeastChanceApart = 0.6;

    // Below so much of the least that is expected, a number says something.
    private const double LeastApart = 0.5;

    internal static bool AreApart(Prediction a, Prediction b, Act act) =>
        (a.Kind, b.Kind) switch
        {
            (PredictionKind.Number, PredictionKind.Number) => Math.Abs(a.Value - b.Value)
                > (act.Step / 2) + (0.02 * Math.Max(Math.Abs(a.Value), Math.Abs(b.Value))) + a.Spread + b.Spread,
            (PredictionKind.Share, PredictionKind.Share) => Math.Abs(a.Value - b.Value) > 0.3
                || (a.After is { } one && b.After is { } other && Closing.AreApart(one, other)),
            (PredictionKind.Chance, PredictionKind.Chance) => Math.Abs(a.Value - b.Value) > LeastChanceApart,
            (PredictionKind.Floats, PredictionKind.Number) => Math.Abs(b.Value) > 10 * act.Step,
            (PredictionKind.Number, PredictionKind.Floats) => Math.Abs(a.Value) > 10 * act.Step,
            (PredictionKind.AtLeast, PredictionKind.Number) => b.Value < LeastApart * a.Value,
            (PredictionKind.Number, PredictionKind.AtLeast) => a.Value < LeastApart * b.Value,
            (PredictionKind.AtLeast, PredictionKind.Open or PredictionKind.AtLeast) or (PredictionKind.Open, PredictionKind.AtLeast) =>
                false,
            (PredictionKind.Anything, _) or (_, PredictionKind.Anything) => false,
            var (x, y) => x != y,
        };

    /// <summary>
    /// A reading that a suspect does not explain, and that was not read otherwise since: a slip, or the end of this suspect. Null where all
    /// fit.
    /// </summary>
    private static Finding? Odd(Weighed suspect, Posterior posterior)
    {
        var speaks = posterior.Speaks(suspect);
        var explained = posterior.Findings.Index().Where(f => posterior.Explains(f.Index, speaks[f.Index])).Select(f => f.Item).ToHashSet();
        return posterior.Findings.FirstOrDefault(f =>
            f is { IsDoubted: false, Showing: not Showing.No, Act.Kind: ActKind.Read, Outcome.Kind: OutcomeKind.Number or OutcomeKind.Open }
            && !explained.Contains(f)
            && !explained.Any(e => e.Act.Id == f.Act.Id)
        );
    }

    private static List<SpeaksFor> SpeaksOf(
        SuspectGroup of,
        List<SuspectGroup> groups,
        Dictionary<string, double[]> speaks,
        Posterior posterior
    )
    {
        var own = speaks[of.Id];
        // The likeliest rival counts fully where this suspect holds all there is. It and another at once is no rival of it.
        var rivals = groups
            .Take(RivalsWeighed)
            .Where(g => g.Id != of.Id && !(g.Parts.Count > 1 && !g.AreRivals && g.Parts.Any(of.Parts.Contains)))
            .ToList();
        var left = Math.Max(1e-12, rivals.Sum(r => r.Share));
        List<SpeaksFor> all = [];
        foreach (var (i, finding) in posterior.Findings.Index())
        {
            var under = rivals.Sum(r => r.Share / left * Math.Exp(speaks[r.Id][i]));
            all.Add(new SpeaksFor(finding.Id, Math.Clamp(Math.Exp(own[i]) / Math.Max(1e-12, under), 1e-3, 1e3)));
        }

        return all;
    }

    /// <summary>
    /// Likely enough, and an act that was aimed at it has an outcome that is so many times likelier under it than under all rivals
    /// together, weighed by what everything else says of them.
    /// </summary>
    private static SuspectGroup Proof(SuspectGroup first, double atFault, Posterior posterior, ProofRule rule)
    {
        var wanted = first.CureMinutes >= rule.DearMinutes ? rule.DearShare : rule.Share;
        if (atFault < wanted)
        {
            return first with { Because = $"likely at {Percent(atFault)}; proved needs {Percent(wanted)} and an act aimed at it" };
        }

        if (posterior.Model.WiringDoubt is { Length: > 0 } doubt)
        {
            return first with { Because = $"likely; the wiring as entered cannot be right ({doubt}), and nothing is proved by it" };
        }

        if (
            posterior.Findings.Where(f => !f.IsDoubted).Select(f => posterior.Model.DoubtAt(f.Act)).FirstOrDefault(d => d.Length > 0) is
            { } apart
        )
        {
            return first with { Because = $"likely; {apart}: settle which is right, nothing is proved by it before" };
        }

        // No reading parts it from a ledger in which the wires are wrong: a look does, or putting it right.
        if (
            first.Of[0].Cause.IsRewired
            && !posterior.Findings.Any(f =>
                f is { IsDoubted: false, Act.Kind: ActKind.Inspect or ActKind.Fit } && f.Act.Aims.Any(first.Parts.Contains)
            )
        )
        {
            return first with { Because = $"likely; wires entered in the wrong place would read the same: look at {first.Name}" };
        }

        if (posterior.Model.WantedBefore(first.Of[0].Cause, posterior.Findings) is var (act, why))
        {
            return first with { Because = $"likely; {why} first", Wanted = act };
        }

        // A blown fuse alone is not the cause until what may have blown it is shown not shorted, as far as that can be read.
        var blowing = posterior.All.Where(w => posterior.Model.Blows(w.Cause, w.Size, first.Of[0].Cause.Part)).ToList();
        if (
            blowing.Sum(w => w.Share) > LeastShorted
            && blowing
                .OrderByDescending(w => w.Share)
                .Select(w => (w.Cause.Part, Act: OhmsAt(w.Cause.Part, posterior)))
                .FirstOrDefault(w => w.Act is not null)
                is ({ } load, { } dead)
        )
        {
            return first with { Because = $"likely; {load} may have taken it along: show that it is not shorted", Wanted = dead };
        }

        // What fails is what was complained of: whatever leaves it unexplained is not the whole of it.
        var left = posterior.Findings.FirstOrDefault(f =>
            f is { IsDoubted: false, Act.Kind: ActKind.Try or ActKind.Look, Outcome.Kind: OutcomeKind.No or OutcomeKind.Weak }
            && posterior.Model.Predict(first.Of[0].Cause, first.Of[0].Size, f.Act) is { Kind: PredictionKind.Share, Value: >= Works }
        );
        if (left is not null)
        {
            // What is read at what fails too, and was not, comes first.
            return first with
            {
                Because = $"likely; it does not explain {left.Words}: find what does, or doubt it",
                Wanted = ReadAt(left.Act.Aims, left.Act.State, posterior),
            };
        }

        if (Odd(first.Of[0], posterior) is { } odd)
        {
            var isSure = odd.IsReadTwice || posterior.Findings.Count(f => f.Act.Id == odd.Act.Id) > 1;
            return first with
            {
                Because = $"likely; it does not explain {odd.Words}: {(isSure ? "find what does" : "read it again")}, or doubt it",
                Wanted = isSure ? null : odd.Act,
            };
        }

        // A part that is more or less bad beside another fits whatever is read.
        if (first.Of[0].Cause.Both.FirstOrDefault(b => b.Sizes.Count > 1) is { } anything)
        {
            return first with
            {
                Because = $"likely; {anything.Part} more or less bad beside another fits whatever is read: prove one of them",
            };
        }

        if (Unread(first.Of[0], posterior) is { } unread)
        {
            return first with
            {
                Because = $"likely; nothing was read of {unread} yet that the other would not show",
                Wanted = ReadAt([unread], "", posterior),
            };
        }

        var parts = first.Parts.ToHashSet();
        var likeliest = first.Of[0];
        // It touches the part, or it is read where the part would show.
        var aimed = posterior
            .Findings.Index()
            .Where(f =>
                !f.Item.IsDoubted
                // What it looks like, and what a board says of it, convicts nobody.
                && f.Item.Act.Kind is not (ActKind.Inspect or ActKind.Code or ActKind.Wait)
                && (
                    f.Item.Act.Aims.Any(parts.Contains)
                    || (
                        f.Item.Act.Kind is ActKind.Read or ActKind.Close
                        && AreApart(
                            posterior.Model.Predict(likeliest.Cause, likeliest.Size, f.Item.Act),
                            posterior.Model.Healthy(f.Item.Act),
                            f.Item.Act
                        )
                    )
                )
            )
            .Select(f => f.Index)
            .ToHashSet();
        if (aimed.Count == 0)
        {
            return first with { Because = "likely; no act aimed at it was done yet" };
        }

        // What was measured convicts it, not its odds, and the acts aimed at it speak for it themselves. Each against the rivals as they
        // stood by what was seen to work and not: readings that say the same would else make one another look idle.
        var measured = posterior
            .Findings.Index()
            .Where(f => f.Item.Act.Kind is ActKind.Read or ActKind.Fit or ActKind.Swap or ActKind.Close or ActKind.Wiggle)
            .Select(f => f.Index);
        var (all, _) = TimesLikelier(first, posterior, measured.Concat(aimed).ToHashSet());
        // Rivals that other readings rule out do not make the aimed ones idle.
        var (times, rival) = TimesLikelier(first, posterior, aimed, RuledOut(first, posterior, aimed, rule.Times));
        var words = string.Join("; ", aimed.Select(i => posterior.Findings[i].Words));
        return all >= rule.Times && times >= SpeaksForIt
            ? first with
            {
                Standing = SuspectStanding.Proved,
                Because =
                    $"{words}: {Times(times)} likelier than under all others together"
                    + (times < rule.Times ? $"; with all that was measured, {Times(all)}" : ""),
            }
            : first with
            {
                Because =
                    $"likely; {words}: {Times(times)} likelier under it than under all others together, proved needs {rule.Times:0} times"
                    + (rival.Length > 0 ? $"; {rival} would read much the same" : ""),
            };
    }

    /// <summary>Of two at once, the one of which nothing was measured that the other alone would not show; null where each was.</summary>
    private static string? Unread(Weighed pair, Posterior posterior) =>
        pair.Cause.Both is [var first, var second]
            ? new[] { (Own: first, Other: second), (Own: second, Other: first) }
                .Where(m =>
                    !posterior.Findings.Any(f =>
                        f is { IsDoubted: false, Act.Kind: ActKind.Read or ActKind.Fit or ActKind.Swap or ActKind.Close or ActKind.Wiggle }
                        && (
                            f.Act.Aims.Contains(m.Own.Part)
                            || Enumerable
                                .Range(0, m.Other.Sizes.Count)
                                .All(size =>
                                    AreApart(
                                        posterior.Model.Predict(pair.Cause, pair.Size, f.Act),
                                        posterior.Model.Predict(m.Other, size, f.Act),
                                        f.Act
                                    )
                                )
                        )
                    )
                )
                .Select(m => m.Own.Part)
                .FirstOrDefault()
            : null;

    /// <summary>Ohms across a part that were not read yet; null where there are none, or where some were.</summary>
    private static Act? OhmsAt(string part, Posterior posterior)
    {
        bool IsAt(Act act) => act is { Kind: ActKind.Read, Mode: MeterMode.Ohms } && act.Aims.Contains(part);
        return posterior.Findings.Any(f => !f.IsDoubted && IsAt(f.Act))
            ? null
            : posterior.Model.Acts.Where(IsAt).OrderBy(a => a.Aims.Count).FirstOrDefault();
    }

    // What is less likely than this is not waited for. Common practice, no source.
    private const double LeastShorted = 0.01;

    /// <summary>A reading that touches parts and was not taken yet, in a state if it can be; null where there is none.</summary>
    private static Act? ReadAt(IReadOnlyList<string> parts, string state, Posterior posterior)
    {
        var done = posterior.Findings.Select(f => f.Act.Id).ToHashSet();
        return posterior
            .Model.Acts.Where(a => a.Kind == ActKind.Read && a.Aims.Any(parts.Contains) && !done.Contains(a.Id))
            .OrderByDescending(a => a.State == state)
            .ThenBy(a => a.Aims.Count)
            .ThenByDescending(a => a.CheckKey is not null)
            .FirstOrDefault();
    }

    /// <summary>
    /// How many times likelier some findings are under a suspect than under all rivals, which weigh as the functions say; and the rival
    /// that explains them best.
    /// </summary>
    /// <param name="aside">Ids of causes that are no rivals any more.</param>
    internal static (double Times, string Rival) TimesLikelier(
        SuspectGroup group,
        Posterior posterior,
        IReadOnlySet<int> findings,
        IReadOnlySet<string>? aside = null
    )
    {
        var functions = posterior
            .Findings.Where((f, i) => f.Act.Kind is ActKind.Try or ActKind.Look or ActKind.Code && !findings.Contains(i))
            .ToList();
        var without = Posterior.Of(posterior.Model, functions, null, Singles(posterior));
        var with = Posterior.Of(posterior.Model, [.. functions, .. findings.Select(i => posterior.Findings[i])], null, Singles(posterior));
        var own = group.Of.Select(w => w.Cause.Id).ToHashSet();
        var isPair = group.Parts.Count > 1 && !group.AreRivals;
        var parts = isPair ? [] : group.Parts.ToHashSet();
        var (under, weight, of, ofWeight) = (0.0, 0.0, 0.0, 0.0);
        var (most, rivalWords) = (0.0, "");
        foreach (var (rival, share) in isPair ? WithPairs(posterior, without) : without.All.Select(w => (w, w.Share)))
        {
            if (share <= LeastWeight || aside?.Contains(rival.Cause.Id) == true)
            {
                continue;
            }

            var p = Math.Exp(with.LogOf(rival) - without.LogOf(rival));
            if (own.Contains(rival.Cause.Id) || (rival.Cause.Part.Length > 0 && parts.Contains(rival.Cause.Part)))
            {
                (of, ofWeight) = (of + (share * p), ofWeight + share);
                continue;
            }

            (under, weight) = (under + (share * p), weight + share);
            if (share * p > most)
            {
                (most, rivalWords) = (share * p, rival.Words);
            }
        }

        return weight == 0 || under == 0 || ofWeight == 0 ? (1000, "") : (Math.Min(1000, of / ofWeight / (under / weight)), rivalWords);
    }

    /// <summary>Single ones and pairs as they stood before something was found; of pairs, those that still count.</summary>
    private static List<(Weighed Cause, double Share)> WithPairs(Posterior posterior, Posterior before)
    {
        var all = posterior.All.Where(w => w.Cause.Both.Count > 0).Take(RivalsWeighed).Concat(before.All).ToList();
        var logs = all.ConvertAll(w => posterior.LogPrior(w.Cause) + before.LogOf(w));
        var best = logs.Max();
        var sum = logs.Sum(l => Math.Exp(l - best));
        return [.. all.Select((w, i) => (w, Math.Exp(logs[i] - best) / sum))];
    }

    /// <summary>Ids of the causes under which the readings not aimed at a suspect are so many times less likely than under it.</summary>
    private static HashSet<string> RuledOut(SuspectGroup first, Posterior posterior, HashSet<int> aimed, double times)
    {
        var others = posterior.Findings.Where((f, i) => !aimed.Contains(i) && f.Act.Kind == ActKind.Read).ToList();
        if (others.Count == 0)
        {
            return [];
        }

        var of = Posterior.Of(posterior.Model, others, null, Singles(posterior));
        var least = first.Of.Max(of.LogOf) - Math.Log(times);
        return [.. of.All.Where(w => of.LogOf(w) < least).Select(w => w.Cause.Id)];
    }

    // By its current a load does what it should.
    private const double Works = 0.9;

    // An aimed act that is no more likely under it than under its rivals convicts nobody.
    private const double SpeaksForIt = 2;
    private const double LeastWeight = 1e-6;

    private static HashSet<string> Singles(Posterior posterior) => [.. posterior.Model.Causes.Select(c => c.Id)];

    internal static string Percent(double share) =>
        share > 0.995 ? "over 99 %"
        : share < 0.01 ? "under 1 %"
        : $"{Math.Round(100 * share)} %";

    internal static string Times(double times) =>
        times >= 1000 ? "over 1000 times"
        : times >= 10 ? $"{times:0} times"
        : $"{times:0.#} times";
}
