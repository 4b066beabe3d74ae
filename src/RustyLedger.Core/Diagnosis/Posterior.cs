namespace RustyLedger.Core.Diagnosis;

/// <summary>A hypothesis with its weight after all findings.</summary>
/// <param name="Share">Of all hypotheses together, 0 to 1.</param>
/// <param name="BySize">The same for each of its sizes; they sum to <paramref name="Share"/>.</param>
public sealed record Weighed(Hypothesis Cause, double Share, IReadOnlyList<double> BySize)
{
    /// <summary>Its likeliest size.</summary>
    public int Size
    {
        get
        {
            var best = 0;
            for (var i = 1; i < BySize.Count; i++)
            {
                best = BySize[i] > BySize[best] ? i : best;
            }

            return best;
        }
    }

    public string Words => Cause.Sizes[Size];
}

/// <summary>
/// The shares of all that may be wrong, given that somebody complained and what was found since: every single fault, those that are no
/// fault of a part, and pairs, searched best first.
/// </summary>
public sealed class Posterior
{
    // Beyond so little of the best, in logarithms, nothing is worth a digit.
    private const double Hopeless = 30;
    private const double HopelessPair = 18;
    private const int Seeds = 14;
    private const int MostOfHardest = 40;

    private readonly Likelihood _likelihood;
    private readonly WeighingRules _rules;
    private readonly double _sumOfOdds;
    private readonly double[] _speaks;

    // The largest of the logarithms so far.
    private double _best = double.NegativeInfinity;

    private Posterior(IDiagnosisModel model, IReadOnlyList<Finding> findings, WeighingRules rules)
    {
        (Model, _rules) = (model, rules);
        _likelihood = new Likelihood(model, findings, rules);
        Findings = _likelihood.Findings;
        _speaks = new double[Findings.Count];
        _sumOfOdds = model.Causes.Sum(c => c.Odds);
        All = [];
    }

    public IDiagnosisModel Model { get; }

    /// <summary>In the order in which they are weighed.</summary>
    public IReadOnlyList<Finding> Findings { get; }

    /// <summary>The likeliest first.</summary>
    public IReadOnlyList<Weighed> All { get; private set; }

    /// <summary>What was not searched holds at most so much; 0 where all was.</summary>
    public double Unsearched { get; private set; }

    /// <param name="only">Weighs these single ones alone, by their ids; null for all, and pairs.</param>
    public static Posterior Of(
        IDiagnosisModel model,
        IEnumerable<Finding> findings,
        WeighingRules? rules = null,
        IReadOnlySet<string>? only = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(findings);
        var posterior = new Posterior(model, [.. findings], rules ?? WeighingRules.Usual);
        posterior.Weigh(only, cancel);
        return posterior;
    }

    private void Weigh(IReadOnlySet<string>? only, CancellationToken cancel)
    {
        var logs = new List<(Hypothesis Cause, double[] BySize)>();
        var withPairs = only is null && Findings.Count > 0 && _rules.Second > 0 && Model.KnowsPairs;
        Dictionary<string, Alone[]> alone = [];
        foreach (var cause in Model.Causes.Where(c => only is null || only.Contains(c.Id)))
        {
            cancel.ThrowIfCancellationRequested();
            var sizes = withPairs && cause is { Kind: CauseKind.Part, IsIntermittent: false } ? new Alone[cause.Sizes.Count] : null;
            logs.Add((cause, Logs(cause, sizes)));
            if (sizes is not null)
            {
                alone[cause.Id] = sizes;
            }
        }

        Share(logs);
        if (withPairs)
        {
            Pairs(logs, alone, cancel);
        }
    }

    /// <summary>What one size of a single fault shows at each finding, and how that speaks.</summary>
    private readonly record struct Alone(Prediction[] Shown, double[] Speaks);

    /// <param name="alone">Filled for each size, each to its end; null where nobody needs it.</param>
    private double[] Logs(Hypothesis cause, Alone[]? alone)
    {
        var prior = LogPrior(cause) - Math.Log(cause.Sizes.Count);
        var bySize = new double[cause.Sizes.Count];
        for (var size = 0; size < bySize.Length; size++)
        {
            if (alone is not null)
            {
                alone[size] = new Alone(new Prediction[Findings.Count], new double[Findings.Count]);
                bySize[size] = prior + _likelihood.Of(cause, size, alone[size].Speaks, alone[size].Shown);
            }
            else
            {
                bySize[size] = prior + _likelihood.Of(cause, size, _speaks, null, _best - prior - Hopeless);
            }

            _best = Math.Max(_best, bySize[size]);
        }

        return bySize;
    }

    private void Share(List<(Hypothesis Cause, double[] BySize)> logs)
    {
        var shares = logs.ConvertAll(l => (l.Cause, BySize: Array.ConvertAll(l.BySize, x => Math.Exp(x - _best))));
        var all = shares.Sum(s => s.BySize.Sum());
        All =
        [
            .. shares
                .Select(s => new Weighed(s.Cause, s.BySize.Sum() / all, Array.ConvertAll(s.BySize, x => x / all)))
                .OrderByDescending(w => w.Share)
                .ThenBy(w => w.Cause.Id, StringComparer.Ordinal),
        ];
    }

    /// <summary>One size of a single fault, as one of two.</summary>
    /// <param name="Moves">Of each finding's number, from what a healthy machine reads; 0 where nobody would see it.</param>
    /// <param name="Prior">Of each of its sizes, as a logarithm.</param>
    /// <param name="Kind">What wears alike has the same.</param>
    private sealed record Candidate(
        int Index,
        Weighed Cause,
        int Size,
        double[] Speaks,
        double[] Moves,
        double Sum,
        double Prior,
        string Kind
    );

    /// <summary>
    /// A pair explains at best what either explains, and where both move a reading, what lies between the larger of both moves and their
    /// sum: with the better likelihood of the two for each finding, a bound that sorts the pairs, and an end to the search once what is
    /// left cannot hold what is asked for. Two faults that hide one another by other ways are not found by it.
    /// </summary>
    private void Pairs(List<(Hypothesis Cause, double[] BySize)> logs, Dictionary<string, Alone[]> alone, CancellationToken cancel)
    {
        // A size that is likely alone, and one that explains what the likely ones leave open.
        var parts = All.Where(w => w.Cause.Kind == CauseKind.Part && !w.Cause.IsIntermittent).ToList();
        if (parts.Count < 2)
        {
            return;
        }

        var most = Findings.Select(_ => double.NegativeInfinity).ToArray();
        var candidates = new List<Candidate>();
        var healthy = Findings.Select(f => Model.Healthy(f.Act)).ToArray();
        var steps = Findings.Select(f => f.Act.Step).ToArray();
        foreach (var (index, part) in parts.Index())
        {
            cancel.ThrowIfCancellationRequested();
            var (prior, kind) = (LogPrior(part.Cause) - Math.Log(part.Cause.Sizes.Count), WeighingRules.KindOf(part.Cause.Part));
            foreach (var (size, (shownAt, each)) in alone[part.Cause.Id].Index())
            {
                var moves = new double[Findings.Count];
                for (var i = 0; i < moves.Length; i++)
                {
                    var shown = shownAt[i];
                    var move =
                        shown.Kind == healthy[i].Kind && shown.Kind is PredictionKind.Number or PredictionKind.Share
                            ? shown.Value - healthy[i].Value
                            : 0;
                    moves[i] = Math.Abs(move) > steps[i] ? move : 0;
                }

                candidates.Add(new Candidate(index, part, size, each, moves, each.Sum() + LogPrior(part.Cause), prior, kind));
                for (var i = 0; i < most.Length; i++)
                {
                    most[i] = Math.Max(most[i], each[i]);
                }
            }
        }

        var read = Findings
            .Select((f, i) => f.Outcome.Kind == OutcomeKind.Number ? f.Outcome.Value - healthy[i].Value : double.NaN)
            .ToArray();

        // One of the two explains what fewest explain; beside these, the likeliest alone.
        const double NearMost = 2;
        var sorted = candidates.OrderByDescending(c => c.Sum).ToList();
        var hardest = Enumerable
            .Range(0, most.Length)
            .Where(i => _likelihood.Explains(i, most[i]))
            .Select(i => sorted.Where(c => c.Speaks[i] > most[i] - NearMost).ToList())
            .MinBy(e => e.Count);
        var seeds = sorted.Take(Seeds).Concat((hardest ?? []).Take(MostOfHardest)).DistinctBy(c => (c.Cause.Cause.Id, c.Size)).ToList();
        // Where most speak worst of all comes first: there most pairs end.
        var order = Enumerable.Range(0, most.Length).OrderByDescending(i => most[i] - candidates.Average(c => c.Speaks[i])).ToArray();
        T[] InOrder<T>(T[] of) => Array.ConvertAll(order, i => of[i]);
        var bound = new PairBound(InOrder(most), InOrder(read), InOrder(steps));
        seeds = seeds.ConvertAll(c => c with { Speaks = InOrder(c.Speaks), Moves = InOrder(c.Moves) });
        candidates = candidates.ConvertAll(c => c with { Speaks = InOrder(c.Speaks), Moves = InOrder(c.Moves) });
        var (alike, other) = (Math.Log(_rules.SecondOf(true)), Math.Log(_rules.SecondOf(false)));
        // By the place of the one and of the other; a pair is bounded from one of its ends alone.
        var bounds = new Dictionary<int, double[]>();
        foreach (var a in seeds)
        {
            cancel.ThrowIfCancellationRequested();
            if (!bounds.TryGetValue(a.Index, out var row))
            {
                row = bounds[a.Index] = new double[parts.Count];
            }

            foreach (var b in candidates)
            {
                var prior = (a.Kind == b.Kind ? alike : other) + a.Prior + b.Prior;
                var upTo = bound.Of((a.Speaks, a.Moves), (b.Speaks, b.Moves), prior, _best - HopelessPair);
                if (
                    upTo > double.NegativeInfinity
                    && a.Cause.Cause.Part != b.Cause.Cause.Part
                    && !(bounds.TryGetValue(b.Index, out var from) && from[a.Index] > 0)
                )
                {
                    row[b.Index] += Math.Exp(upTo - _best);
                }
            }
        }

        var pairs = bounds
            .SelectMany(r => r.Value.Index().Where(b => b.Item > 0).Select(b => (Bound: b.Item, A: parts[r.Key], B: parts[b.Index])))
            .OrderByDescending(p => p.Bound)
            .ToList();
        double SumOf(List<(Hypothesis, double[] BySize)> of, double from) => of.Sum(l => l.BySize.Sum(x => Math.Exp(x - from)));
        var tried = 0;
        // What is left to search, by its bounds; each as a share of what was found so far.
        var left = pairs.Sum(p => p.Bound);
        var (found, scale) = (SumOf(logs, _best), 1.0);
        foreach (var pair in pairs)
        {
            cancel.ThrowIfCancellationRequested();
            if (
                left < (1 - _rules.Accounted) * (found + left)
                || tried >= _rules.MostPairs
                // No pair that is left holds a part worth naming, whatever they hold together.
                || pair.Bound * scale < (1 - _rules.Accounted) / 20 * found
            )
            {
                break;
            }

            left = Math.Max(0, left - (pair.Bound * scale));
            if (Model.Join(pair.A.Cause, pair.B.Cause) is not { } both)
            {
                continue;
            }

            tried++;
            var before = _best;
            var bySize = new double[both.Sizes.Count];
            var prior = LogPrior(both) - Math.Log(both.Sizes.Count);
            for (var size = 0; size < bySize.Length; size++)
            {
                bySize[size] = prior + _likelihood.Of(both, size, _speaks, null, _best - prior - Hopeless);
                _best = Math.Max(_best, bySize[size]);
            }

            logs.Add((both, bySize));
            if (_best > before)
            {
                var down = Math.Exp(before - _best);
                (left, scale, found) = (left * down, scale * down, SumOf(logs, _best));
            }
            else
            {
                found += bySize.Sum(x => Math.Exp(x - _best));
            }
        }

        Unsearched = Math.Clamp(left / (SumOf(logs, _best) + left), 0, 1);
        Share(logs);
    }

    /// <summary>The logarithm of how likely a cause is before anything is found, beside the others.</summary>
    internal double LogPrior(Hypothesis cause) =>
        cause.Both is [var first, var second]
            ? Math.Log(_rules.SecondOf(WeighingRules.KindOf(first.Part) == WeighingRules.KindOf(second.Part)))
                + LogPrior(first)
                + LogPrior(second)
            : Math.Log(cause.Odds / _sumOfOdds);

    /// <summary>How each finding speaks of the likeliest size of a cause, as a logarithm.</summary>
    public double[] Speaks(Weighed of)
    {
        ArgumentNullException.ThrowIfNull(of);
        var speaks = new double[Findings.Count];
        _likelihood.Of(of.Cause, of.Size, speaks);
        return speaks;
    }

    /// <summary>
    /// How much it would tell one cause from another to know each error that the findings share, such as a number that is assumed: each
    /// takes it to be something else. In nats, on average of the two (Jeffreys' divergence of what the findings teach under each, halved).
    /// </summary>
    public IReadOnlyDictionary<string, double> PartedBy(Weighed one, Weighed other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        return _likelihood
            .Teaches(one.Cause, one.Size)
            .Zip(_likelihood.Teaches(other.Cause, other.Size))
            .ToDictionary(
                t => t.First.Error,
                t =>
                {
                    var (a, b) = (t.First, t.Second);
                    var apart = (a.Mean - b.Mean) * (a.Mean - b.Mean);
                    return (((a.Variance + apart) / b.Variance) + ((b.Variance + apart) / a.Variance) - 2) / 4;
                }
            );
    }

    /// <summary>Whether a cause explains a finding better than a slip would.</summary>
    /// <param name="speaks">As <see cref="Speaks"/> gives it.</param>
    public bool Explains(int finding, double speaks) => _likelihood.Explains(finding, speaks);

    /// <summary>The logarithm of all findings' likelihood under a cause, over all its sizes.</summary>
    public double LogOf(Weighed of)
    {
        ArgumentNullException.ThrowIfNull(of);
        var prior = -Math.Log(of.Cause.Sizes.Count);
        var best = double.NegativeInfinity;
        var logs = new double[of.Cause.Sizes.Count];
        for (var size = 0; size < logs.Length; size++)
        {
            logs[size] = prior + _likelihood.Of(of.Cause, size, _speaks);
            best = Math.Max(best, logs[size]);
        }

        return best + Math.Log(logs.Sum(l => Math.Exp(l - best)));
    }
}
