using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// What is suspected on a machine of which only the wiring is known: each wire, path and source may let through less, and every pin that
/// is fed by nothing else reads less by the same share.
/// </summary>
internal sealed class PathDiagnosis
{
    // The share that is let through; what is dead is as likely as all that is weak. Common practice, no source.
    private static readonly double[] _passes = [0, 0, 0, 0, 0, 0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.78, 0.85, 0.9, 0.94];

    // The share of what should be read that is lost along a bad return.
    private static readonly double[] _lost = [1, 1, 1, 0.7, 0.5, 0.35, 0.25, 0.17, 0.1, 0.06];
    private const double DeviationsOfBand = 1.96;
    private const double PlaceVolts = 0.05;
    private const double PlaceShare = 0.004;
    private const double WeakSpread = 0.04;
    private const double SourceOdds = 4;
    private const double ReturnOdds = 2;
    private const double OddsOfWeight = 0.5;

    private readonly Dictionary<string, Cause> _causes = [];
    private readonly Dictionary<CheckKey, ResolvedCheck> _checks;

    /// <param name="Affects">Pins that nothing else feeds; of a return, none.</param>
    /// <param name="Common">Of a return, the pins that are read against it; null of a feed.</param>
    private sealed record Cause(IReadOnlySet<PinAddress> Affects, IReadOnlySet<PinAddress>? Common);

    public PathDiagnosis(ResolvedMachine machine, FeedGraph graph)
    {
        _checks = machine.Checks.ToDictionary(c => c.Key);
        Span = Math.Max(
            1,
            2
                * (double)
                    machine
                        .Checks.Where(SheetOrder.TracesPower)
                        .Select(c => Judge.Band((NumericLimit)c.Limit, c.Tolerance).High ?? 0)
                        .DefaultIfEmpty(0)
                        .Max()
        );
        var links = MachineFeeds.Of(machine).Links.ToDictionary(l => l.Id);
        List<Hypothesis> causes = [];
        var alias = new Dictionary<string, string>();
        foreach (var (index, link) in graph.Links.Index())
        {
            var resolved = links[link.Id];
            var (part, isWire) = (PartNames.Of(PartNames.Conductor(resolved, machine), machine), !resolved.IsInner);
            var id = $"link/{link.Id}";
            _causes[id] = new Cause(Behind(graph, new LinkIndex(index), null), null);
            alias[part] = PartNames.Conductor(resolved, machine) switch
            {
                PartRef.Element => machine.Pins[resolved.From].PrintedElement,
                PartRef.OffBoard => machine.Pins[resolved.From].PrintedElement,
                PartRef.Path path => $"board {machine.Model.Positions.FirstOrDefault(p => p.Id == path.Position)?.Prefix}",
                _ => part,
            };
            var weight = graph.Weights.Count > index ? graph.Weights[index] : 1;
            causes.Add(Feed(id, part, isWire ? $"{part} or a contact of it" : part, weight * OddsOfWeight));
        }

        foreach (var (index, pin) in graph.Pins.Index().Where(p => graph.IsSource[p.Index]))
        {
            var part = PartNames.Of(new PartRef.Supply(pin), machine);
            var id = $"source/{machine.Pins[pin].Printed}";
            alias[part] = machine.Pins[pin].PrintedElement;
            _causes[id] = new Cause(Behind(graph, null, new PinIndex(index)), null);
            causes.Add(Feed(id, part, part, SourceOdds));
        }

        foreach (var common in machine.Checks.Select(c => c.Check.Black).OfType<PinAddress>().Distinct().Where(machine.Pins.ContainsKey))
        {
            var id = $"return/{machine.Pins[common].Printed}";
            var part = PartNames.Of(new PartRef.ReturnPath(common, null), machine);
            _causes[id] = new Cause(new HashSet<PinAddress>(), new HashSet<PinAddress> { common });
            causes.Add(
                new Hypothesis(
                    id,
                    CauseKind.Part,
                    part,
                    [.. _lost.Select(l => l >= 1 ? $"{part} open" : $"{part} loses volts under load")],
                    ReturnOdds
                )
            );
        }

        Causes = causes;
        Alias = alias;
    }

    /// <summary>What a part is called elsewhere, such as <c>PS</c> for the supply at PS·+, or <c>board Z1</c> for a path on it.</summary>
    public IReadOnlyDictionary<string, string> Alias { get; }

    public double Span { get; }

    public IReadOnlyList<Hypothesis> Causes { get; }

    private static Hypothesis Feed(string id, string part, string words, double odds) =>
        new(id, CauseKind.Part, part, [.. _passes.Select(p => p == 0 ? $"{words}: open" : $"{words}: lets too little through")], odds);

    /// <summary>Pins that no source reaches any more without a link, or without a source.</summary>
    private static HashSet<PinAddress> Behind(FeedGraph graph, LinkIndex? without, PinIndex? source)
    {
        var seen = new bool[graph.Pins.Count];
        var work = new Stack<PinIndex>();
        for (var p = 0; p < seen.Length; p++)
        {
            if (graph.IsSource[p] && source?.Value != p)
            {
                seen[p] = true;
                work.Push(new PinIndex(p));
            }
        }

        while (work.TryPop(out var at))
        {
            foreach (var link in graph.Fed[at])
            {
                var to = graph[link].To;
                if (link != without && !seen[to])
                {
                    seen[to] = true;
                    work.Push(to);
                }
            }
        }

        return [.. graph.Pins.Index().Where(p => graph.Reached[p.Index] && !seen[p.Index]).Select(p => p.Item)];
    }

    /// <summary>The share of what should be that a feed or a return lets through.</summary>
    public double LetsThrough(Hypothesis cause, int size) => _causes[cause.Id].Common is null ? _passes[size] : 1 - _lost[size];

    public Prediction Healthy(Act act)
    {
        if (act.CheckKey is not { } key || !_checks.TryGetValue(key, out var check))
        {
            return Prediction.Anything;
        }

        switch (check.Limit)
        {
            case NoPathLimit:
                return new Prediction(PredictionKind.Open, 0);
            case ContactLimit contact:
                return Prediction.Share(contact.Closed ? 1 : 0);
            case LampLimit lamp:
                return Prediction.Share(lamp.On ? 1 : 0);
            case ShortLimit:
                return Prediction.Of(0.3, 0.3);
            case NumericLimit numeric when Judge.Band(numeric, check.Tolerance) is var (low, high) && (low ?? high) is not null:
                var (from, to) = ((double?)low ?? ((double)high!.Value * 0.5), (double?)high ?? ((double)low!.Value * 1.2));
                return Prediction.Of((from + to) / 2, Math.Abs(to - from) / 2 / DeviationsOfBand);
            default:
                return Prediction.Anything;
        }
    }

    public Prediction Predict(Hypothesis cause, int size, Act act)
    {
        var (of, healthy) = (_causes[cause.Id], Healthy(act));
        if (act.Kind != ActKind.Read || healthy.Kind == PredictionKind.Anything || act.Red is null)
        {
            return healthy;
        }

        var isVolts = act.Mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.BatteryUnderLoad;
        if (of.Common is { } common)
        {
            var lost = act.NoLoad && _lost[size] < 1 ? 0 : _lost[size];
            return isVolts && act.Black is { } black && common.Contains(black) && healthy.Kind == PredictionKind.Number
                ? Weak(healthy, 1 - lost)
                : healthy;
        }

        if (!of.Affects.Contains(act.Red) || (act.NoLoad && _passes[size] > 0))
        {
            return healthy;
        }

        return isVolts && healthy.Kind == PredictionKind.Number ? Weak(healthy, _passes[size])
            : act.Mode is MeterMode.Lamp && healthy.Kind == PredictionKind.Share ? Prediction.Share(healthy.Value * _passes[size])
            : healthy;
    }

    private static Prediction Weak(Prediction healthy, double share) =>
        Prediction.Of(healthy.Value * share, Math.Abs(healthy.Value) * (share == 0 ? 0.005 : WeakSpread));

    public static IReadOnlyList<SharedError> SharedErrors(Act act, Prediction healthy) =>
        [
            new(
                $"{Likelihood.OfPlace}{act.Red} {act.Black} {act.Mode} {act.State}",
                PlaceVolts + (PlaceShare * (healthy.Kind == PredictionKind.Number ? Math.Abs(healthy.Value) : 0))
            ),
        ];
}
