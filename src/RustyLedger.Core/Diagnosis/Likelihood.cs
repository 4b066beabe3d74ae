using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>How the numbers of the weighing are chosen.</summary>
/// <param name="Slip">Chance that a reading is wrong or was written wrong; the floor of every likelihood.
/// Common practice, no source.</param>
/// <param name="Second">How likely a second fault is beside one; finding one is no reason to stop. Common practice, no source.</param>
/// <param name="Accounted">Pairs are searched until so much of the probability is accounted for.</param>
/// <param name="MostPairs">And no further than so many; what is left is said.</param>
public sealed record WeighingRules(double Slip = 0.02, double Second = 0.06, double Accounted = 0.99, int MostPairs = 150)
{
    // Two of a kind wear alike, and what hurt one hurt the other. Common practice, no source.
    private const double OfAKind = 4;

    /// <summary>How likely the second of two is beside the first.</summary>
    internal double SecondOf(bool areAlike) => Second * (areAlike ? OfAKind : 1);

    /// <summary>The same for parts that are called alike but for their numbers.</summary>
    internal static string KindOf(string part) => string.Concat(part.Where(char.IsLetter));

    // What somebody sees a machine do is mistaken less often than a reading. Common practice, no source.
    internal double SlipOf(OutcomeKind outcome) => outcome is OutcomeKind.Number or OutcomeKind.Open ? Slip : Slip / 4;

    public static WeighingRules Usual { get; } = new();
}

/// <summary>
/// How likely findings are under one hypothesis and one size of it. Readings share errors: the numbers that move several of them are kept
/// as one normal distribution that each reading narrows in turn (Kalman's update, 1960), so that the joint likelihood carries their
/// covariance. They are always taken in the same order, whatever the order of finding.
/// </summary>
internal sealed class Likelihood
{
    // The strongest causes are kept apart; what is left is each reading's own.
    private const int MostCauses = 12;

    // Of any meter on a working machine beside what is assumed: of the value, and in steps. Common practice, no source.
    private const double MeterShare = 0.004;
    private const double FarOff = 3.5;

    /// <summary>Begins the cause that all readings between the same two places share.</summary>
    public const string OfPlace = "place ";

    private readonly IReadOnlyList<Finding> _findings;
    private readonly IDiagnosisModel _model;
    private readonly WeighingRules _rules;
    private readonly Prediction[] _healthy;
    private readonly double[][] _gains;
    private readonly double[][] _shares;
    private readonly double[] _own;
    private readonly double[] _ownShare;
    private readonly int _causes;
    private readonly string[] _names;
    private readonly double[] _mean;
    private readonly double[] _covariance;
    private readonly double[] _pg;
    private readonly double[] _gain;
    private readonly double[] _identity;

    // Of each finding, what does not change with who is suspected.
    private readonly double[] _steps;
    private readonly double[] _broad;
    private readonly double[] _slips;

    // Since it began anew: most hypotheses are out before they teach anything.
    private bool _hasLearnt;

    public Likelihood(IDiagnosisModel model, IEnumerable<Finding> findings, WeighingRules rules)
    {
        (_model, _rules) = (model, rules);
        _findings = Ordered(findings);
        _healthy = [.. _findings.Select(f => model.Healthy(f.Act))];
        _steps = [.. _findings.Select(f => f.Act.Step)];
        _broad = [.. _findings.Select(Broad)];
        _slips = [.. _findings.Select(f => f.IsDoubted ? 0.5 : Math.Pow(rules.SlipOf(f.Outcome.Kind), f.IsReadTwice ? 2 : 1))];
        var shared = _findings.Select(f => f.Outcome.Kind == OutcomeKind.Number ? model.SharedErrors(f.Act) : []).ToList();
        var causes = shared
            .SelectMany((s, i) => s.Select(e => (e.Cause, Size: Math.Abs(e.Change) / _findings[i].Act.Span)))
            .GroupBy(e => e.Cause)
            .Where(g => g.Count() > 1)
            // What one place shares with itself comes first: a repeated reading is no new evidence.
            .OrderByDescending(g => g.Key.StartsWith(OfPlace, StringComparison.Ordinal))
            .ThenByDescending(g => g.Sum(e => e.Size))
            .ThenBy(g => g.Key, StringComparer.Ordinal)
            .Take(MostCauses)
            .Select((g, i) => (g.Key, i))
            .ToDictionary(g => g.Key, g => g.i);
        _causes = causes.Count;
        _names = [.. causes.OrderBy(c => c.Value).Select(c => c.Key)];
        _gains = [.. shared.Select(_ => new double[_causes])];
        _shares = [.. shared.Select(_ => new double[_causes])];
        (_own, _ownShare) = (new double[_findings.Count], new double[_findings.Count]);
        foreach (var (i, errors) in shared.Index())
        {
            foreach (var error in errors)
            {
                if (causes.TryGetValue(error.Cause, out var at))
                {
                    _gains[i][at] += error.Change;
                    _shares[i][at] += error.Share;
                }
                else
                {
                    _own[i] += error.Change * error.Change;
                    _ownShare[i] += error.Share * error.Share;
                }
            }
        }

        (_mean, _pg, _gain, _identity) = (new double[_causes], new double[_causes], new double[_causes], new double[_causes * _causes]);
        for (var k = 0; k < _causes; k++)
        {
            _identity[(k * _causes) + k] = 1;
        }

        _covariance = [.. _identity];
    }

    public IReadOnlyList<Finding> Findings => _findings;

    /// <summary>The order in which they are weighed, whatever the order in which they were found.</summary>
    public static IReadOnlyList<Finding> Ordered(IEnumerable<Finding> findings) =>
        [.. findings.OrderBy(f => f.Act.Id, StringComparer.Ordinal).ThenBy(f => f.Outcome.Value).ThenBy(f => f.Id, StringComparer.Ordinal)];

    /// <summary>Whether a likelihood is more than a slip's: the finding is explained.</summary>
    public bool Explains(int finding, double speaks)
    {
        var kind = _findings[finding].Outcome.Kind;
        var least = 2 * Math.Min(_slips[finding], _rules.SlipOf(kind)) * _broad[finding];
        return Math.Exp(speaks) > (kind is OutcomeKind.Number or OutcomeKind.Open ? least : Math.Max(least, MistakenSeldom));
    }

    // That somebody calls dead what works is possible, and no explanation. Common practice, no source.
    private const double MistakenSeldom = 0.025;

    /// <summary>The logarithm of each finding's likelihood given those before it; they sum to that of all.</summary>
    /// <param name="speaks">Takes them, a place each.</param>
    /// <param name="shown">Takes what the cause shows at each, of what lasts; null where nobody needs it.</param>
    /// <param name="floor">Goes on no further once the sum is below it.</param>
    public double Of(Hypothesis cause, int size, double[] speaks, Prediction[]? shown = null, double floor = double.NegativeInfinity)
    {
        if (cause.IsIntermittent)
        {
            return AtTimes(cause, size, speaks);
        }

        Begin();
        Array.Clear(speaks);
        var sum = 0.0;
        for (var i = 0; i < _findings.Count; i++)
        {
            var finding = _findings[i];
            var predicted = _model.Predict(cause, size, finding.Act);
            if (shown is not null)
            {
                shown[i] = predicted;
            }

            var p = One(i, predicted, true) * Shows(cause, finding);
            speaks[i] = Math.Log(p);
            sum += speaks[i];
            if (sum < floor)
            {
                break;
            }
        }

        return sum;
    }

    /// <summary>
    /// A lasting fault is seldom away; nothing that shows can be nothing wrong; what is no part may last or come and go. Common practice,
    /// no source.
    /// </summary>
    private static double Shows(Hypothesis cause, Finding finding) =>
        (finding.Showing, cause.Kind) switch
        {
            (Showing.No, CauseKind.Part) => 0.05,
            (Showing.Yes, CauseKind.NothingWrong) => 0.1,
            (Showing.No, not CauseKind.NothingWrong) => 0.5,
            _ => 1,
        };

    /// <summary>Each moment is as on a healthy machine or as with the fault, all its findings alike.</summary>
    private double AtTimes(Hypothesis cause, int size, double[] speaks)
    {
        const double Often = 0.5;
        Begin();
        var sum = 0.0;
        foreach (var moment in _findings.Index().GroupBy(f => f.Item.Moment))
        {
            var shows = moment.Select(f => f.Item.Showing).Max() switch
            {
                Showing.Yes => 0.97,
                Showing.No => 0.03,
                _ => Often,
            };
            var (logs, own) = (new double[2], new double[2, moment.Count()]);
            var (before, healthy) = (Learnt(), (Mean: _mean, Covariance: _covariance));
            foreach (var faulty in (int[])[0, 1])
            {
                if (faulty == 1)
                {
                    healthy = Learnt();
                    Recall(before);
                }

                foreach (var (at, (i, finding)) in moment.Index())
                {
                    own[faulty, at] =
                        finding.Outcome.Kind == OutcomeKind.Sometimes
                            ? Math.Log(0.6) / 2
                            : Math.Log(
                                One(
                                    i,
                                    faulty == 1 || !PartActs.IsOfMoment(finding.Act)
                                        ? _model.Predict(cause, size, finding.Act)
                                        : _healthy[i],
                                    true
                                )
                            );
                    logs[faulty] += own[faulty, at];
                }
            }

            var (a, b) = (Math.Log(1 - shows) + logs[0], Math.Log(shows) + logs[1]);
            var all = Math.Max(a, b) + Math.Log(1 + Math.Exp(-Math.Abs(a - b)));
            // Each by how it fits what is likelier of the two, and the rest shared out: they speak together. So does what they teach.
            var likelier = b > a ? 1 : 0;
            if (likelier == 0)
            {
                Recall(healthy);
            }

            foreach (var (at, (i, _)) in moment.Index())
            {
                speaks[i] = own[likelier, at] + ((all - logs[likelier]) / moment.Count());
            }

            sum += all;
        }

        return sum;
    }

    /// <summary>What the findings teach of each error that several of them share, if it is this cause.</summary>
    /// <returns>Its middle, and its variance, in standard deviations of the error itself: 0 and 1 where nothing is learnt.</returns>
    public IReadOnlyList<(string Error, double Mean, double Variance)> Teaches(Hypothesis cause, int size)
    {
        _ = Of(cause, size, new double[_findings.Count]);
        return [.. _names.Select((name, i) => (name, _mean[i], _covariance[(i * _causes) + i]))];
    }

    private (double[] Mean, double[] Covariance) Learnt() => ([.. _mean], [.. _covariance]);

    private void Recall((double[] Mean, double[] Covariance) learnt)
    {
        learnt.Mean.CopyTo(_mean, 0);
        learnt.Covariance.CopyTo(_covariance, 0);
    }

    private void Begin()
    {
        if (_hasLearnt)
        {
            Array.Clear(_mean);
            Array.Copy(_identity, _covariance, _identity.Length);
            _hasLearnt = false;
        }
    }

    /// <summary>The likelihood of one finding, as the share that falls within a step of what was found; never nothing.</summary>
    private double One(int i, Prediction predicted, bool learn)
    {
        var finding = _findings[i];
        var (slip, broad) = (_slips[i], _broad[i]);
        return predicted.Kind == PredictionKind.Mixed
            ? ((1 - predicted.Value) * One(i, _healthy[i], learn)) + (predicted.Value * Unusual(finding, broad))
            : ((1 - slip) * Plain(i, finding, predicted, broad, learn)) + (slip * broad);
    }

    // By how a function, a lamp or a contact is when nothing is known of it. Common practice, no source.
    private static double Broad(Finding finding) =>
        finding.Outcome.Kind switch
        {
            OutcomeKind.Number => finding.Act.Step / finding.Act.Span,
            OutcomeKind.No when finding.Act.Kind == ActKind.Close => 0.35 * Closing.AnyTime(finding.Outcome),
            OutcomeKind.Open => 0.2,
            OutcomeKind.Works => 0.35,
            OutcomeKind.Weak => 0.2,
            OutcomeKind.Sometimes => 0.1,
            _ => 0.35,
        };

    /// <summary>
    /// Where nobody knows what is wrong, a wire that is not held reads nothing far oftener than any other number. Common practice, no
    /// source.
    /// </summary>
    private static double Unusual(Finding finding, double broad) =>
        finding.Outcome.Kind == OutcomeKind.Number
        && finding.Act.Mode is not (MeterMode.Ohms or MeterMode.Continuity)
        && Math.Abs(finding.Outcome.Value) < StepsOfNothing * finding.Act.Step
            ? Nothing / (2 * StepsOfNothing)
            : broad;

    private const double Nothing = 0.35;
    private const double StepsOfNothing = 2;

    private double Plain(int i, Finding finding, Prediction predicted, double broad, bool learn)
    {
        var (outcome, step) = (finding.Outcome, _steps[i]);
        switch (predicted.Kind)
        {
            case PredictionKind.Anything:
                return broad;
            case PredictionKind.Share when finding.Act.Kind == ActKind.Close:
                return Closing.Likelihood(outcome, predicted);
            case PredictionKind.Share:
                return OfShare(outcome.Kind, predicted.Value, finding.Act.Kind == ActKind.Look);
            case PredictionKind.Chance:
                return outcome.Kind switch
                {
                    OutcomeKind.Works => predicted.Value,
                    OutcomeKind.No => 1 - predicted.Value,
                    _ => broad,
                };
            case PredictionKind.Open:
                return outcome.Kind == OutcomeKind.Open ? 0.97 : 0;
            case PredictionKind.AtLeast:
                // OL as often as any number; well below the least it is none of these.
                return outcome.Kind switch
                {
                    OutcomeKind.Open => 0.4,
                    OutcomeKind.Number when outcome.Value > predicted.Value / 2 => Math.Min(0.5, 2 * broad),
                    OutcomeKind.Number => broad / 20,
                    _ => 0,
                };
            case PredictionKind.Floats:
                // Next to nothing mostly, or what it picks up.
                return outcome.Kind == OutcomeKind.Number
                    ? (0.6 * step * Normal(outcome.Value, 3 * step * 3 * step)) + (0.4 * step / finding.Act.Span)
                    : broad;
            default:
                return outcome.Kind == OutcomeKind.Number ? step * Number(i, finding, predicted, learn) : 0;
        }
    }

    private double Number(int i, Finding finding, Prediction predicted, bool learn)
    {
        var (gains, healthy, step) = (_gains[i], _healthy[i], _steps[i]);
        // What moves a healthy reading moves a lesser one by less.
        var scale =
            healthy.Kind == PredictionKind.Number && Math.Abs(healthy.Value) > step
                ? Math.Min(1.3, Math.Abs(predicted.Value / healthy.Value))
                : 1;
        // And what a fault adds to it comes from the source, high or low as that is.
        var beyond =
            healthy.Kind == PredictionKind.Number
                ? Math.CopySign(Math.Max(0, Math.Abs(predicted.Value) - (scale * Math.Abs(healthy.Value))), predicted.Value)
                : predicted.Value;
        var read = Math.Max(step / 3, MeterShare * Math.Abs(predicted.Value)) * (finding.Outcome.IsAbout ? 3 : 1);
        var own = (predicted.Spread * predicted.Spread) + (read * read) + (scale * scale * _own[i]) + (beyond * beyond * _ownShare[i]);
        var (expected, spread) = (predicted.Value, own);
        for (var a = 0; a < _causes; a++)
        {
            _gain[a] = (gains[a] * scale) + (_shares[i][a] * beyond);
        }

        for (var a = 0; a < _causes; a++)
        {
            var sum = 0.0;
            for (var b = 0; b < _causes; b++)
            {
                sum += _covariance[(a * _causes) + b] * _gain[b];
            }

            _pg[a] = sum;
            expected += _gain[a] * _mean[a];
            spread += _gain[a] * sum;
        }

        var off = finding.Outcome.Value - expected;
        // What lies far off was not read there, and teaches nothing of what is shared.
        if (learn && _causes > 0 && off * off < FarOff * FarOff * spread)
        {
            _hasLearnt = true;
            for (var a = 0; a < _causes; a++)
            {
                var gain = _pg[a] / spread;
                _mean[a] += gain * off;
                for (var b = 0; b < _causes; b++)
                {
                    _covariance[(a * _causes) + b] -= gain * _pg[b];
                }
            }
        }

        return Normal(off, spread);
    }

    private static double Normal(double off, double variance) => Math.Exp(-off * off / (2 * variance)) / Math.Sqrt(2 * Math.PI * variance);

    /// <summary>How often somebody says so, by the share of what it should be. Common practice, no source.</summary>
    /// <param name="isLamp">A lamp is lit or not: nobody needs to know what it should do.</param>
    internal static double OfShare(OutcomeKind outcome, double share, bool isLamp = false)
    {
        var (works, weak, no) =
            share >= 0.9 ? (isLamp ? (0.96, 0.03, 0.003) : (0.94, 0.03, 0.01))
            : share >= 0.75 ? (0.55, 0.4, 0.02)
            : share >= 0.35 ? (0.06, 0.76, 0.15)
            : share >= 0.12 ? (0.02, 0.35, 0.6)
            : isLamp ? (0.003, 0.02, 0.97)
            : (0.01, 0.02, 0.95);
        return outcome switch
        {
            OutcomeKind.Works => works,
            OutcomeKind.Weak => weak,
            OutcomeKind.No or OutcomeKind.Open => no,
            OutcomeKind.Sometimes => 0.02,
            _ => 0,
        };
    }
}
