using RustyLedger.Core.Circuits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Where on the machine that lies what is suspected: at its pins, and along its path. The map, the photograph and the path show this, so
/// that they say what the suspects say.
/// </summary>
public sealed class SuspectPlaces
{
    // Less than this is not worth a mark; from so little on a piece of the path counts as suspected.
    private const double LeastAtPin = 0.05;
    private const double LeastOnPath = 0.02;
    private const int MostNamed = 3;

    private readonly MachineDiagnosis _model;
    private readonly IReadOnlyList<SuspectGroup> _suspects;
    private readonly List<(double Share, IReadOnlyList<string> Parts)> _causes;
    private readonly Dictionary<PinAddress, HashSet<string>> _at = [];

    private SuspectPlaces(MachineDiagnosis model, IReadOnlyList<SuspectGroup> suspects)
    {
        (_model, _suspects) = (model, suspects);
        _causes =
        [
            .. suspects
                .SelectMany(s => s.Of)
                .Where(w => w.Share > 0 && w.Cause.Kind == CauseKind.Part)
                .Select(w => (w.Share, w.Cause.Parts)),
        ];
    }

    public static SuspectPlaces Of(MachineDiagnosis model, IReadOnlyList<SuspectGroup> suspects)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(suspects);
        return new SuspectPlaces(model, suspects);
    }

    /// <summary>How likely a part is at fault that has an end at a pin, 0 to 1.</summary>
    public double At(PinAddress pin) => ShareOf(PartsAt(pin));

    /// <summary>Enough is suspected at a pin that nobody calls it cleared.</summary>
    public bool IsOpen(PinAddress pin) => At(pin) >= Suspicion.ClearedShare;

    /// <summary>How likely that is at fault which lies between two pins; of a wire, its contacts count as well.</summary>
    public double Along(PinAddress from, PinAddress to)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(to);
        var between = PartsAt(from).Intersect(PartsAt(to)).ToHashSet();
        if (from.InPosition is null || from.InPosition != to.InPosition)
        {
            between.UnionWith(new[] { from, to }.Where(_model.Machine.Pins.ContainsKey).Select(ContactAt));
        }

        return ShareOf(between);
    }

    /// <summary>Pins at which enough is suspected to be marked, the likeliest first.</summary>
    public IReadOnlyList<(PinAddress Pin, double Share)> Pins =>
        [
            .. _model
                .Machine.Pins.Keys.Select(p => (Pin: p, Share: At(p)))
                .Where(p => p.Share >= LeastAtPin)
                .OrderByDescending(p => p.Share)
                .ThenBy(p => _model.Machine.Pins[p.Pin].Printed, StringComparer.Ordinal),
        ];

    /// <summary>The line through the path that holds most of what is suspected, and through a pin where that lies on the path.</summary>
    /// <returns>
    /// The strip, and between which of its pins the likeliest lies and what is suspected beside it; null where nothing is.
    /// </returns>
    public (PathStrip Strip, (int From, int To)? Between) On(PathReport report, PinAddress? through)
    {
        ArgumentNullException.ThrowIfNull(report);
        var graph = report.Graph;
        if (graph.Order.Count == 0)
        {
            return (new PathStrip([], []), null);
        }

        var shares = Enumerable
            .Range(0, graph.Links.Count)
            .ToDictionary(l => new LinkIndex(l), l => Along(graph.Pins[graph.Links[l].From], graph.Pins[graph.Links[l].To]));
        var suspected = shares.Where(s => s.Value >= LeastOnPath).Select(s => s.Key).ToHashSet();
        var likeliest = suspected.Count == 0 ? (LinkIndex?)null : suspected.MaxBy(l => shares[l]);
        var focus =
            through is not null && graph.IndexOf(through) is { } pin ? pin
            : likeliest is { } most ? graph[most].To
            : graph.Order[0];
        // What is cleared by the way of the power is not cleared while it is suspected, and what is suspected no more is not dashed.
        var strip = PathStrip.Through(
            focus,
            graph,
            suspected,
            l =>
                suspected.Contains(l) ? StripPiece.Suspect
                : report.ClearedLinks[l] && shares[l] < Suspicion.ClearedShare ? StripPiece.Proved
                : StripPiece.NotReached
        );
        return (strip, Around(strip, graph));
    }

    /// <summary>
    /// Whether the likeliest suspect that is a part ends at one of these pins, where the readings alone put the fault; true where none is
    /// suspected.
    /// </summary>
    public bool Agrees(IEnumerable<PinAddress> pins) =>
        _suspects.FirstOrDefault(s => s.Kind == CauseKind.Part) is not { } leader
        || pins.Any(p => leader.Of.Any(w => w.Cause.Parts.Any(PartsAt(p).Contains)));

    /// <summary>The run of suspected pieces around the likeliest of a strip; null where it has none.</summary>
    private (int From, int To)? Around(PathStrip strip, FeedGraph graph)
    {
        bool IsSuspect(int piece) => piece >= 0 && piece < strip.Pieces.Count && strip.Pieces[piece] == StripPiece.Suspect;
        var dashed = Enumerable.Range(0, strip.Pieces.Count).Where(IsSuspect).ToList();
        if (dashed.Count == 0)
        {
            return null;
        }

        var from = dashed.MaxBy(i => Along(graph[strip.Pins[i]], graph[strip.Pins[i + 1]]));
        var to = from;
        while (IsSuspect(from - 1))
        {
            from--;
        }

        while (IsSuspect(to + 1))
        {
            to++;
        }

        return (from, to + 1);
    }

    /// <summary>Who it can be in a sentence, with shares; what is no part too, since it lies nowhere on the path.</summary>
    public string Sentence =>
        _suspects is [{ Standing: SuspectStanding.Proved } proved, ..] ? $"It is {proved.Name}."
        : _suspects.Where(s => s.Share >= LeastAtPin).Take(MostNamed).ToList() is { Count: > 0 } named
            ? $"It can be {string.Join(", ", named.Select(s => $"{s.NameInList} ({Suspicion.Percent(s.Share)})"))}."
        : "Nothing stands out yet.";

    /// <summary>Each of these with how likely it is, its likeliest fault, and what is left to prove it.</summary>
    public IReadOnlyList<string> Why =>
        [
            .. _suspects
                .Where(s => s.Share >= LeastAtPin)
                .Take(MostNamed)
                .Select(s => $"{s.Name}, {Suspicion.Percent(s.Share)}: {s.Words}{(s.Because.Length > 0 ? $". {s.Because}" : "")}."),
        ];

    private string ContactAt(PinAddress pin) => MachineCircuit.ContactAt(_model.Machine.Pins[pin].Printed);

    private HashSet<string> PartsAt(PinAddress pin)
    {
        if (!_at.TryGetValue(pin, out var parts))
        {
            parts = _at[pin] = _model.Machine.Pins.ContainsKey(pin) ? [.. _model.EndingAt(pin)] : [];
        }

        return parts;
    }

    private double ShareOf(HashSet<string> parts) => _causes.Where(c => c.Parts.Any(parts.Contains)).Sum(c => c.Share);
}
