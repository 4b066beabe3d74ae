using RustyLedger.Core.Measuring;
using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Diagnosis;

/// <summary>Ways of going on that technicians hold to.</summary>
public enum School
{
    /// <summary>The least time to a proved part.</summary>
    Fastest,

    /// <summary>The usual culprit first.</summary>
    Usual,

    /// <summary>Strictly along the path.</summary>
    Path,

    /// <summary>Nothing live.</summary>
    NoLive,

    /// <summary>No part fitted or swapped to try it.</summary>
    NoSwaps,
}

/// <summary>What one outcome of an act would mean.</summary>
/// <param name="Words">What would be seen, such as <c>about 24 V</c>.</param>
/// <param name="Chance">That it is seen, 0 to 1.</param>
/// <param name="Means">What would follow, in words.</param>
public sealed record OutcomeMeans(string Words, double Chance, string Means);

/// <summary>Something to do next, with the sum that ranked it.</summary>
/// <param name="Act">Null of leaving, and of fitting a part.</param>
/// <param name="Fits">The suspects whose part is fitted; empty of other acts.</param>
/// <param name="Minutes">Of the act itself, what must be changed for it counted.</param>
/// <param name="ToTheEnd">Expected minutes to the end of the visit, the act itself counted.</param>
/// <param name="Why">The sum in words.</param>
public sealed record NextAct(
    ActKind Kind,
    Act? Act,
    string Words,
    string Fits,
    double Minutes,
    double ToTheEnd,
    IReadOnlyList<OutcomeMeans> Outcomes,
    string Why
);

/// <summary>What may be asked of the ranking.</summary>
/// <param name="Now">How things stand; null where nothing was done yet.</param>
/// <param name="Minutes">What changes take.</param>
/// <param name="Depth">How many acts are looked ahead.</param>
public sealed record NextActRules(School School, SetUp? Now, RoundMinutes Minutes, int Depth = 2)
{
    /// <summary>Minutes that leaving and coming again costs. Common practice, no source.</summary>
    public double Leave { get; init; } = 150;

    /// <summary>Acts that are left out, by their ids: skipped, or not possible here.</summary>
    public IReadOnlySet<string> LeftOut { get; init; } = new HashSet<string>();
}

/// <summary>Ranks what can be done by the expected minutes to the end of the visit.</summary>
public static class NextActs
{
    private const int MostHypotheses = 14;
    private const int MostTests = 36;
    private const double LeastShare = 1e-4;
    private const double Slip = 0.03;
    private const double TryMinutes = 0.6;
    private const double LookMinutes = 0.2;

    // A plug opened and looked into; a part changed over and tried; a fuse put in and switched on. Common practice, no source.
    private const double InspectMinutes = 1;
    private const double SwapMinutes = 12;
    private const double CloseMinutes = 2;
    private const double PullMinutes = 2;
    private const double WiggleMinutes = 1;

    // What a fuse for nothing, or one more trip on a short, costs. Common practice, no source.
    private const double ReclosureMinutes = 6;
    private const int MostOutcomes = 6;

    /// <summary>Minutes that an act takes by itself, without what must be changed for it.</summary>
    public static double OwnMinutes(Act act, RoundMinutes minutes)
    {
        ArgumentNullException.ThrowIfNull(act);
        ArgumentNullException.ThrowIfNull(minutes);
        return act.Kind switch
        {
            ActKind.Read => (double)minutes[SetUpChange.Reading].Minutes,
            ActKind.Look => LookMinutes,
            ActKind.Inspect => InspectMinutes,
            ActKind.Swap => SwapMinutes,
            ActKind.Close => CloseMinutes,
            ActKind.Wait => act.Minutes,
            ActKind.Wiggle => WiggleMinutes,
            _ => TryMinutes + (act.Pulled.Length > 0 ? PullMinutes : 0),
        };
    }

    /// <param name="suspects">As <see cref="Suspicion"/> gives them.</param>
    /// <param name="findings">What was done already.</param>
    public static IReadOnlyList<NextAct> Of(
        IDiagnosisModel model,
        IReadOnlyList<SuspectGroup> suspects,
        IReadOnlyList<Finding> findings,
        RoundCost cost,
        NextActRules rules,
        CancellationToken cancel = default
    ) => Ranked(model, suspects, findings, cost, rules, cancel).Next;

    /// <summary>The same, and the readings of the sheet that are worth taking in one go.</summary>
    /// <inheritdoc cref="Of"/>
    public static (IReadOnlyList<NextAct> Next, IReadOnlyList<PlannedReading> Round) Ranked(
        IDiagnosisModel model,
        IReadOnlyList<SuspectGroup> suspects,
        IReadOnlyList<Finding> findings,
        RoundCost cost,
        NextActRules rules,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(suspects);
        ArgumentNullException.ThrowIfNull(findings);
        ArgumentNullException.ThrowIfNull(cost);
        ArgumentNullException.ThrowIfNull(rules);
        var of = suspects.Where(s => s.Share > LeastShare).Take(MostHypotheses).ToList();
        if (of.Count == 0)
        {
            return ([], []);
        }

        var sum = of.Sum(s => s.Share);
        var shares = of.Select(s => s.Share / sum).ToArray();
        // What shows at times only may be read again.
        var again = of[0].Of[0].Cause.IsIntermittent;
        var done = findings.Select(f => f.Act.Id).ToHashSet();
        var sized = Sized(of);
        List<Candidate> candidates = [];
        foreach (var act in model.Acts.Concat(model.ActsFor(of, findings)))
        {
            cancel.ThrowIfCancellationRequested();
            if (
                (done.Contains(act.Id) && act.Id != of[0].Wanted?.Id && !(again && PartActs.IsOfMoment(act)))
                || (rules.School == School.NoSwaps && act.Kind == ActKind.Swap)
                || rules.LeftOut.Contains(act.Id)
                // Whoever could not clamp once has no clamp there.
                || (act.IsByClamp && act.CheckKey is null && rules.LeftOut.Any(Act.IsOfClamp))
                || (rules.School == School.NoLive && act.SetUp is { IsDead: false })
            )
            {
                continue;
            }

            if (Candidate.Of(act, model, of, sized, shares) is { } candidate)
            {
                candidates.Add(candidate);
            }
        }

        var now = rules.Now;
        double Change(SetUp? from, SetUp? to) =>
            to is null ? 0
            : from is null ? (double)cost.Begin(to)
            : (double)cost.Between(from, to);
        double Own(Act act) => OwnMinutes(act, rules.Minutes);
        var best = candidates
            .OrderByDescending(c => c.Information / (Own(c.Act) + Change(now, c.Act.SetUp) + 0.3))
            .ThenBy(c => c.Act.Id, StringComparer.Ordinal)
            .Take(MostTests)
            .ToList();
        if (rules.School == School.Path)
        {
            // In the order in which the sheet has them: the first that tells something.
            var inOrder = candidates.FirstOrDefault(c => c.Act.CheckKey is not null && c.Information > 0.01);
            if (inOrder is not null && !best.Contains(inOrder))
            {
                best.Add(inOrder);
            }
        }

        var setUps = new List<SetUp?> { now };
        int IndexOf(SetUp? setUp)
        {
            var at = setUp is null ? 0 : setUps.FindIndex(1, s => s == setUp);
            if (at < 0)
            {
                setUps.Add(setUp);
                at = setUps.Count - 1;
            }

            return at;
        }

        var tests = best.ConvertAll(c => new PlannedTest(Own(c.Act) + c.Harm(shares), IndexOf(c.Act.SetUp), c.Chance));
        var cures = IndexOf(new SetUp(true, "", "", "", MeterMode.Ohms));
        var changes = new double[setUps.Count, setUps.Count];
        for (var a = 0; a < setUps.Count; a++)
        {
            for (var b = 0; b < setUps.Count; b++)
            {
                changes[a, b] = Change(setUps[a], setUps[b]);
            }
        }

        var problem = new PlannedProblem(shares, [.. of.Select(s => s.CureMinutes)], cures, tests, (a, b) => changes[a, b], rules.Leave);
        var ranked = ActPlanner.Rank(problem, 0, rules.Depth, null, cancel);
        List<NextAct> next = [];
        foreach (var planned in ranked)
        {
            var act = planned.Kind switch
            {
                PlannedKind.Test => Test(
                    best[planned.Index],
                    of,
                    shares,
                    changes[0, tests[planned.Index].SetUp] + Own(best[planned.Index].Act),
                    planned
                ),
                PlannedKind.Cure => Cure(of, planned, problem, changes[0, cures]),
                _ => new NextAct(
                    ActKind.Leave,
                    null,
                    "Leave it safe and come again with parts",
                    "",
                    rules.Leave,
                    planned.Minutes,
                    [],
                    $"the way back and forth counted as {rules.Leave:0} min"
                ),
            };
            if (
                act is not null
                && !(
                    rules.School == School.NoSwaps
                    && act.Kind == ActKind.Fit
                    && of.First(s => s.Name == act.Fits).Standing != SuspectStanding.Proved
                )
            )
            {
                next.Add(act);
            }
        }

        // Of acts that cost and tell the same, the sheet's own, and one is enough.
        next =
        [
            .. next.OrderBy(a => Math.Round(a.ToTheEnd, 1))
                .ThenByDescending(a => a.Act?.CheckKey is not null)
                .GroupBy(a =>
                    (a.Kind, Math.Round(a.ToTheEnd, 1), a.Fits, string.Join('|', a.Outcomes.Select(o => $"{o.Chance:0.00} {o.Means}")))
                )
                .Select(g => g.First()),
        ];
        next = ShownNotShorted(model, next, candidates, done, rules.LeftOut, of, shares, Own, act => Change(now, act.SetUp));
        if (ToProve(model, of[0], candidates, shares, of, findings, Own, act => Change(now, act.SetUp), next) is { } aimed)
        {
            next = [aimed, .. next.Where(a => a.Act?.Id != aimed.Act!.Id)];
        }

        return (
            rules.School switch
            {
                School.Usual => [.. next.OrderByDescending(a => Touches(a, of[0])).ThenBy(a => a.ToTheEnd)],
                School.Path =>
                [
                    .. next.OrderByDescending(a => a.Act?.CheckKey is not null && a.Kind == ActKind.Read).ThenBy(a => OrderOf(model, a)),
                ],
                _ => next,
            },
            of[0].Standing == SuspectStanding.Proved
                ? []
                : ReadingPlan.Of(
                    candidates.Where(c => c.Act is { Kind: ActKind.Read, CheckKey: not null }).Select(c => (c.Act, c.Chance)),
                    shares,
                    now,
                    Own,
                    Change
                )
        );
    }

    /// <summary>
    /// Before parts change places it is shown that neither what moves nor what it hangs behind is shorted: the good one would go too.
    /// Until then the ohms that show it stand in the swap's place.
    /// </summary>
    private static List<NextAct> ShownNotShorted(
        IDiagnosisModel model,
        List<NextAct> ranked,
        List<Candidate> candidates,
        HashSet<string> done,
        IReadOnlySet<string> leftOut,
        List<SuspectGroup> of,
        double[] shares,
        Func<Act, double> own,
        Func<Act, double> change
    )
    {
        List<NextAct> all = [];
        foreach (var next in ranked)
        {
            var ohms = next is { Kind: ActKind.Swap, Act: { } swap } ? model.Acts.Where(a => IsOhmsOf(a, swap)).ToList() : [];
            if (ohms.Count == 0 || ohms.Exists(a => done.Contains(a.Id)))
            {
                all.Add(next);
                continue;
            }

            // Where it cannot be shown, nothing changes places.
            if (ohms.Find(a => !leftOut.Contains(a.Id)) is not { } first || all.Exists(a => a.Act?.Id == first.Id))
            {
                continue;
            }

            var minutes = own(first) + change(first);
            var why = $"before {next.Words} change places, show that it is not shorted: the good one would go too; {minutes:0.#} min";
            all.Add(
                candidates.Find(c => c.Act.Id == first.Id) is { } told
                    ? Test(told, of, shares, minutes, new PlannedAct(PlannedKind.Test, 0, next.ToTheEnd)) with
                    {
                        Why = why,
                    }
                    : new NextAct(ActKind.Read, first, first.Words, "", minutes, next.ToTheEnd, [], why)
            );
        }

        return all;
    }

    /// <summary>A dead reading across what is swapped.</summary>
    private static bool IsOhmsOf(Act act, Act swap) =>
        act is { Kind: ActKind.Read, Mode: MeterMode.Ohms, Aims: [var only] } && swap.Aims.Contains(only);

    // In bits: less than that is no reason to walk to a pin.
    private const double LeastTold = 0.005;

    // From so much on, what is left to do is to prove it.
    private const double AsGoodAsProved = 0.9;

    /// <summary>
    /// The quickest act aimed at what is as good as proved and is not: one that it would answer otherwise than a healthy machine. Null
    /// where there is none, or it leads already.
    /// </summary>
    private static NextAct? ToProve(
        IDiagnosisModel model,
        SuspectGroup first,
        List<Candidate> candidates,
        double[] shares,
        List<SuspectGroup> of,
        IReadOnlyList<Finding> findings,
        Func<Act, double> own,
        Func<Act, double> change,
        List<NextAct> ranked
    )
    {
        if (first.Kind != CauseKind.Part || first.Share < AsGoodAsProved || first.Standing == SuspectStanding.Proved)
        {
            return null;
        }

        var (cause, size) = (first.Of[0].Cause, first.Of[0].Size);
        double Minutes(Candidate c) => own(c.Act) + change(c.Act);
        if (first.Wanted is { } wanted && candidates.Find(c => c.Act.Id == wanted.Id) is { } waited)
        {
            var takes = Minutes(waited);
            return Test(waited, of, shares, takes, new PlannedAct(PlannedKind.Test, 0, takes + first.CureMinutes)) with
            {
                Why = $"{first.Because}; {takes:0.#} min",
            };
        }

        var allAimed = candidates
            .Where(c =>
                c.Act.Aims.Any(first.Parts.Contains) && Suspicion.AreApart(model.Predict(cause, size, c.Act), model.Healthy(c.Act), c.Act)
            )
            .ToList();
        // The first of them shows the part at fault; each further one has to tell it from those that read as it did.
        var aimed = (
            findings.Any(f => f.Act.Kind == ActKind.Read && f.Act.Aims.Any(first.Parts.Contains))
                ? allAimed.Where(c => c.Information > LeastTold).OrderByDescending(c => c.Information / (Minutes(c) + 0.3))
                : allAimed.OrderBy(Minutes)
        )
            .ThenByDescending(c => c.Act.CheckKey is not null)
            .ThenBy(c => c.Act.Id, StringComparer.Ordinal)
            .FirstOrDefault();
        if (aimed is null || ranked.FirstOrDefault()?.Act?.Id == aimed.Act.Id)
        {
            return null;
        }

        var minutes = Minutes(aimed);
        var act = Test(aimed, of, shares, minutes, new PlannedAct(PlannedKind.Test, 0, minutes + first.CureMinutes));
        return act with { Why = $"{first.Name} is likely and not proved: this is the quickest act aimed at it, {minutes:0.#} min" };
    }

    private static bool Touches(NextAct act, SuspectGroup usual) =>
        act.Fits == usual.Name || (act.Act?.Aims.Any(usual.Parts.Contains) ?? false);

    private static int OrderOf(IDiagnosisModel model, NextAct act) =>
        act.Act is null ? int.MaxValue : model.Acts.Index().FirstOrDefault(a => a.Item.Id == act.Act.Id).Index;

    /// <summary>Each hypothesis that counts, with its likely sizes, by the suspect it belongs to.</summary>
    private static List<(int Suspect, Hypothesis Cause, int Size, double Share)> Sized(List<SuspectGroup> of)
    {
        List<(int, Hypothesis, int, double)> all = [];
        foreach (var (i, suspect) in of.Index())
        {
            var sizes = suspect
                .Of.SelectMany(w => w.BySize.Select((share, size) => (w.Cause, size, share)))
                .OrderByDescending(s => s.share)
                .Take(12)
                .ToList();
            // Beside the likeliest of it, however many share it.
            sizes.RemoveAll(s => s.share < sizes[0].share / 50);
            var sum = sizes.Sum(s => s.share);
            all.AddRange(sizes.Select(s => (i, s.Cause, s.size, s.share / sum)));
        }

        return all;
    }

    private sealed record Candidate(
        Act Act,
        IDiagnosisModel Model,
        IReadOnlyList<string> Outcomes,
        IReadOnlyList<OutcomeKind> Kinds,
        IReadOnlyList<double[]> Chance,
        double Information
    )
    {
        /// <returns>Null where it tells nothing.</returns>
        public static Candidate? Of(
            Act act,
            IDiagnosisModel model,
            List<SuspectGroup> of,
            List<(int Suspect, Hypothesis Cause, int Size, double Share)> sized,
            double[] shares
        )
        {
            var healthy = model.Healthy(act);
            var shown = sized.ConvertAll(s => model.Predict(s.Cause, s.Size, act));
            var clusters = Clusters(shown.Append(healthy), act);
            if (clusters.Count < 2)
            {
                return null;
            }

            var chance = clusters.ConvertAll(_ => new double[of.Count]);
            void Add(int suspect, Prediction shows, double share)
            {
                switch (shows.Kind)
                {
                    case PredictionKind.Mixed:
                        Add(suspect, healthy, share * (1 - shows.Value));
                        Add(suspect, Prediction.Anything, share * shows.Value);
                        break;
                    case PredictionKind.Anything:
                        foreach (var c in chance)
                        {
                            c[suspect] += share / chance.Count;
                        }

                        break;
                    case PredictionKind.Share:
                        // How somebody says it is not sharp.
                        foreach (var (i, cluster) in clusters.Index())
                        {
                            chance[i][suspect] +=
                                share
                                * (
                                    cluster.Seen is { } seen
                                        ? Closing.Likelihood(seen, shows)
                                        : Likelihood.OfShare(cluster.As, shows.Value, act.Kind == ActKind.Look)
                                );
                        }

                        break;
                    case PredictionKind.Number:
                        foreach (var (i, cluster) in clusters.Index().Where(c => c.Item.Kind == PredictionKind.Number))
                        {
                            chance[i][suspect] += share * cluster.Of(shows, act);
                        }

                        break;
                    case PredictionKind.Chance:
                        foreach (var (i, cluster) in clusters.Index())
                        {
                            chance[i][suspect] += share * (cluster.As == OutcomeKind.Works ? shows.Value : 1 - shows.Value);
                        }

                        break;
                    case PredictionKind.AtLeast:
                        // Open, or any of the numbers from there on.
                        var above = clusters.FindAll(c => c.Kind is not PredictionKind.Number || c.High >= shows.Value);
                        foreach (var cluster in above)
                        {
                            chance[clusters.IndexOf(cluster)][suspect] += share / above.Count;
                        }

                        break;
                    default:
                        chance[clusters.FindIndex(c => c.Has(shows))][suspect] += share;
                        break;
                }
            }

            foreach (var (i, (suspect, cause, _, share)) in sized.Index())
            {
                var shows = shown[i];
                if (cause.IsIntermittent && PartActs.IsOfMoment(act))
                {
                    Add(suspect, shows, share / 2);
                    Add(suspect, healthy, share / 2);
                }
                else
                {
                    Add(suspect, shows, share);
                }
            }

            for (var h = 0; h < of.Count; h++)
            {
                var sum = chance.Sum(c => c[h]);
                foreach (var c in chance)
                {
                    c[h] = ((1 - Slip) * c[h] / sum) + (Slip / chance.Count);
                }
            }

            return new Candidate(
                act,
                model,
                clusters.ConvertAll(c => c.Words),
                clusters.ConvertAll(c => c.As),
                chance,
                ReadingPlan.Tells(chance, shares)
            );
        }

        /// <summary>Minutes that it costs on average where it goes wrong: what is closed on a short opens again.</summary>
        public double Harm(double[] shares)
        {
            if (Act.Kind != ActKind.Close)
            {
                return 0;
            }

            // The outcome that it holds comes first.
            var holds = Chance[0].Zip(shares, (c, s) => c * s).Sum();
            return ReclosureMinutes * (1 - holds);
        }
    }

    /// <summary>Outcomes that a person tells apart.</summary>
    private sealed record Cluster(PredictionKind Kind, double Low, double High, string Words, OutcomeKind As)
    {
        /// <summary>What a fuse or breaker does; null of all else.</summary>
        public ActOutcome? Seen { get; init; }

        public bool Has(Prediction shown) => Kind == shown.Kind || (Kind == PredictionKind.AtLeast && shown.Kind == PredictionKind.Open);

        /// <summary>How much of a number falls within, as far as it is read.</summary>
        public double Of(Prediction number, Act act)
        {
            var read = Apart(number.Value, act) / MostOfOne;
            var deviation = Math.Sqrt((read * read) + (number.Spread * number.Spread));
            // The normal distribution within a hundredth (Bowling and others, "A logistic approximation to the cumulative normal
            // distribution", 2009; its number from memory).
            double Below(double at) =>
                double.IsInfinity(at) ? (at > 0 ? 1 : 0) : 1 / (1 + Math.Exp(-1.702 * (at - number.Value) / deviation));
            return Below(High) - Below(Low);
        }
    }

    private static List<Cluster> Clusters(IEnumerable<Prediction> shown, Act act)
    {
        var all = shown.Where(s => s.Kind is not (PredictionKind.Mixed or PredictionKind.Anything)).ToList();
        List<Cluster> clusters = [];
        var numbers = all.Where(s => s.Kind == PredictionKind.Number).Select(s => s.Value).Order().ToList();
        var unit = act.UnitSign;
        if (numbers.Count > 0)
        {
            // Each with where it ends against the next: half way between the two.
            var cuts = Cuts(numbers, act);
            var (from, low) = (0, double.NegativeInfinity);
            foreach (var to in cuts.Append(numbers.Count))
            {
                var high = to == numbers.Count ? double.PositiveInfinity : (numbers[to - 1] + numbers[to]) / 2;
                clusters.Add(
                    new Cluster(PredictionKind.Number, low, high, Words(numbers[from], numbers[to - 1], unit, act.Step), OutcomeKind.Number)
                );
                (from, low) = (to, high);
            }
        }

        if (all.FindAll(s => s.Kind == PredictionKind.AtLeast) is { Count: > 0 } least)
        {
            var low = least.Min(s => s.Value);
            clusters.Add(new Cluster(PredictionKind.AtLeast, low, low, Words(least.MinBy(s => s.Value)!, act), OutcomeKind.Open));
        }
        else if (all.Exists(s => s.Kind == PredictionKind.Open))
        {
            clusters.Add(new Cluster(PredictionKind.Open, 0, 0, "OL", OutcomeKind.Open));
        }

        if (all.Exists(s => s.Kind == PredictionKind.Floats))
        {
            clusters.Add(new Cluster(PredictionKind.Floats, 0, 0, "next to nothing, or drifting", OutcomeKind.Number));
        }

        if (act.Kind == ActKind.Close)
        {
            return [.. Closing.Outcomes(all).Select(o => new Cluster(PredictionKind.Share, 0, 0, o.Words, o.Seen.Kind) { Seen = o.Seen })];
        }

        if (all.Exists(s => s.Kind == PredictionKind.Chance))
        {
            var (well, bad) = PartActs.Outcomes(act.Kind);
            clusters.Add(new Cluster(PredictionKind.Share, 0, 0, well, OutcomeKind.Works));
            clusters.Add(new Cluster(PredictionKind.Share, 0, 0, bad, OutcomeKind.No));
            return clusters;
        }

        var parts = all.Where(s => s.Kind == PredictionKind.Share).Select(s => s.Value).ToList();
        if (parts.Count > 0 && parts.Max() - parts.Min() > 0.1)
        {
            var isLamp = act.Kind == ActKind.Look;
            clusters.Add(new Cluster(PredictionKind.Share, 0, 0, isLamp ? "lit" : "works", OutcomeKind.Works));
            clusters.Add(new Cluster(PredictionKind.Share, 0, 0, isLamp ? "dim" : "weak", OutcomeKind.Weak));
            clusters.Add(new Cluster(PredictionKind.Share, 0, 0, isLamp ? "out" : "does nothing", OutcomeKind.No));
        }

        return clusters;
    }

    /// <summary>What two numbers must be apart to be told apart.</summary>
    private static double Apart(double value, Act act) => act.Step + (ReadShare * Math.Abs(value));

    private const double ReadShare = 0.02;
    private const double MostOfOne = 3;

    /// <summary>
    /// Where numbers in their order are cut: at the widest gaps that are wide enough to be read, and, what lies close all along a range, so
    /// that no part of it is far wider than what can be read.
    /// </summary>
    /// <returns>Indices of the first number of each part but the first.</returns>
    private static List<int> Cuts(List<double> numbers, Act act)
    {
        var cuts = Enumerable
            .Range(1, numbers.Count - 1)
            .Where(i => numbers[i] - numbers[i - 1] > Apart(numbers[i], act))
            .OrderByDescending(i => numbers[i] - numbers[i - 1])
            .Take(MostOutcomes - 1)
            .Order()
            .ToList();
        while (cuts.Count < MostOutcomes - 1)
        {
            var widest = cuts.Prepend(0)
                .Zip(cuts.Append(numbers.Count), (from, to) => (from, to))
                .MaxBy(c => (numbers[c.to - 1] - numbers[c.from]) / Apart(numbers[c.to - 1], act));
            var (low, high) = (numbers[widest.from], numbers[widest.to - 1]);
            if (high - low <= MostOfOne * Apart(high, act))
            {
                break;
            }

            cuts.Add(widest.from + numbers[widest.from..widest.to].FindIndex(n => n > (low + high) / 2));
            cuts.Sort();
        }

        return cuts;
    }

    /// <summary>What a prediction looks like; empty where it is nothing in particular.</summary>
    public static string Words(Prediction shown, Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        return shown.Kind switch
        {
            PredictionKind.Number => Words(shown.Value, shown.Value, act.UnitSign, act.Step),
            PredictionKind.Open => "OL",
            PredictionKind.AtLeast => $"OL, or above {Quantity.Write(Rounded(shown.Value, act.Step), "Ω")}",
            PredictionKind.Floats => "next to nothing, or drifting",
            PredictionKind.Chance => $"{PartActs.Outcomes(act.Kind).Bad}: {Suspicion.Percent(1 - shown.Value)} of the time",
            PredictionKind.Share when act.Kind == ActKind.Close => shown.Value > 0.5
                ? PartActs.Outcomes(act.Kind).Well
                : Closing.Opens(shown),
            PredictionKind.Share => SeenNotation.WordsOf(
                shown.Value > 0.8 ? OutcomeKind.Works
                    : shown.Value > 0.2 ? OutcomeKind.Weak
                    : OutcomeKind.No,
                act
            ),
            _ => "",
        };
    }

    private static string Words(double low, double high, string unit, double step) =>
        Math.Abs(high - low) <= step * 2
            ? Math.Abs(low + high) / 2 < step / 2
                ? $"about 0 {unit}"
                : $"about {Quantity.Write(Rounded((low + high) / 2, step), unit)}"
            : $"{Quantity.Write(Rounded(low, step), unit)} to {Quantity.Write(Rounded(high, step), unit)}";

    private static double Rounded(double value, double step)
    {
        var to = step >= 1 ? 1 : 0.1;
        var rounded = Math.Round(value / to) * to;
        return rounded == 0 ? 0 : rounded;
    }

    private static NextAct Test(Candidate of, List<SuspectGroup> suspects, double[] shares, double minutes, PlannedAct planned)
    {
        List<OutcomeMeans> outcomes = [];
        foreach (var (o, words) in of.Outcomes.Index())
        {
            var chance = of.Chance[o].Zip(shares, (c, s) => c * s).Sum();
            if (chance < 0.02)
            {
                continue;
            }

            var after = shares.Select((s, h) => s * of.Chance[o][h] / chance).ToArray();
            var groups = suspects.Select((s, h) => After(s, after[h], of, o)).ToList();
            outcomes.Add(new OutcomeMeans(words, chance, Means(suspects, groups, shares, after)));
        }

        return new NextAct(
            of.Act.Kind,
            of.Act,
            of.Act.Words,
            "",
            minutes,
            planned.Minutes,
            [.. outcomes.OrderByDescending(o => o.Chance)],
            $"{minutes:0.#} min, tells {of.Information:0.0#} bit; {planned.Minutes:0} min to the end on average"
        );
    }

    // So much of a group is what is left of it; and with so little one of it is cleared.
    private const double LeftOfGroup = 0.9;
    private const double Gone = 0.02;

    /// <summary>
    /// What an outcome leaves of rivals that no reading parts: a swap may part them. The group itself where it leaves all of it.
    /// </summary>
    private static (SuspectGroup Left, IReadOnlyList<string> Cleared) After(SuspectGroup group, double share, Candidate of, int outcome)
    {
        if (!group.AreRivals)
        {
            return (group, []);
        }

        var shown = group.Of.Select(w => (Of: w, Shows: of.Model.Predict(w.Cause, w.Size, of.Act))).ToList();
        if (!shown.TrueForAll(s => s.Shows.Kind == PredictionKind.Chance))
        {
            return (group, []);
        }

        var all = shown.Sum(s => s.Of.Share);
        var weights = shown
            .GroupBy(s => s.Of.Cause.Part)
            .Select(g =>
                (
                    Part: g.Key,
                    Before: g.Sum(s => s.Of.Share) / all,
                    Weight: g.Sum(s => s.Of.Share * (of.Kinds[outcome] == OutcomeKind.Works ? s.Shows.Value : 1 - s.Shows.Value))
                )
            )
            .OrderByDescending(w => w.Weight)
            .ToList();
        var sum = weights.Sum(w => w.Weight);
        List<string> left = [];
        var taken = 0.0;
        foreach (var (part, _, weight) in weights.TakeWhile(_ => sum > 0 && taken < LeftOfGroup * sum))
        {
            left.Add(part);
            taken += weight;
        }

        return left.Count == 0 || left.Count == weights.Count
            ? (group, [])
            : (
                group with
                {
                    Parts = [.. group.Parts.Where(left.Contains)],
                },
                [.. weights.Where(w => w.Before > LeastCleared && w.Weight / sum * share < Gone).Select(w => w.Part)]
            );
    }

    // What was as good as nothing before is not said to be cleared.
    private const double LeastCleared = 0.05;

    /// <summary>Who is cleared by an outcome, and who is left.</summary>
    private static string Means(
        List<SuspectGroup> suspects,
        List<(SuspectGroup Left, IReadOnlyList<string> Cleared)> groups,
        double[] before,
        double[] after
    )
    {
        List<string> cleared =
        [
            .. suspects.Where((_, h) => before[h] > LeastCleared && after[h] < Gone).Select(s => s.NameInList),
            .. groups.Where((_, h) => after[h] >= Gone).SelectMany(g => g.Cleared),
        ];
        var (first, share) = after.Select((a, h) => (groups[h].Left.Name, a)).MaxBy(a => a.a);
        var left = share >= 0.9 ? $"{first}: {Suspicion.Percent(share)}" : $"{first} is left at {Suspicion.Percent(share)}";
        return cleared.Count switch
        {
            0 => left,
            1 => $"{cleared[0]} is cleared; {left}",
            2 => $"{cleared[0]} and {cleared[1]} are cleared; {left}",
            var n => $"{cleared[0]} and {n - 1} others are cleared; {left}",
        };
    }

    private static NextAct Cure(List<SuspectGroup> of, PlannedAct planned, PlannedProblem problem, double change)
    {
        var suspect = of[planned.Index];
        var own = problem.Cures[planned.Index];
        var isPart = suspect.Kind == CauseKind.Part;
        var words = isPart
            ? $"Put {suspect.Name} right and try"
            : suspect.Kind switch
            {
                CauseKind.NothingWrong => "Have it shown once more, beside what it should do",
                CauseKind.Site => "Look at what the site gives it",
                CauseKind.Setting => "Go over its settings and jumpers",
                CauseKind.Mechanical => "Look for what is mechanical",
                CauseKind.Wiring => "Compare its wiring with the ledger",
                _ => "Look for what this ledger does not know",
            };
        return new NextAct(
            isPart ? ActKind.Fit : ActKind.Look,
            null,
            words,
            isPart ? suspect.Name : "",
            own + change,
            planned.Minutes,
            [
                new OutcomeMeans("the fault goes", problem.Shares[planned.Index], "it was that"),
                new OutcomeMeans("it stays", 1 - problem.Shares[planned.Index], "it was something else"),
            ],
            $"{own:0} min with the part counted, {Suspicion.Percent(problem.Shares[planned.Index])} likely; "
                + $"{planned.Minutes:0} min to the end on average"
        );
    }
}
