namespace RustyLedger.Core.Diagnosis;

/// <summary>How a piece of the path between two pins of the strip is drawn.</summary>
public enum StripPiece
{
    /// <summary>Power demonstrably passes.</summary>
    Proved,

    /// <summary>Within a bad stretch.</summary>
    Suspect,

    /// <summary>Nothing is known yet, or it lies behind a fault.</summary>
    NotReached,
}

/// <summary>One line through the branches of the power path: the one that tells the most.</summary>
/// <param name="Pins">Graph indices from where power enters to the end of a branch.</param>
/// <param name="Pieces">One fewer than the pins.</param>
public sealed record PathStrip(IReadOnlyList<int> Pins, IReadOnlyList<StripPiece> Pieces)
{
    /// <summary>
    /// The longest way from a source through <paramref name="focus"/> to an end; through suspects where there is a choice.
    /// </summary>
    public static PathStrip Through(int focus, PathReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        var graph = report.Graph;
        var suspects = report.Suspects;
        var place = graph.Order.Index().ToDictionary(p => p.Item, p => p.Index);
        var (back, on) = (
            Lengths(graph.Order, l => graph.Links[l].From, graph.Feeders),
            Lengths(graph.Order.Reverse(), l => graph.Links[l].To, graph.Fed)
        );
        var pins = new List<int> { focus };
        var links = new List<int>();
        while (Step(graph.Feeders[pins[0]], pins[0], l => graph.Links[l].From, back, forward: false) is { } link)
        {
            pins.Insert(0, graph.Links[link].From);
            links.Insert(0, link);
        }

        while (Step(graph.Fed[pins[^1]], pins[^1], l => graph.Links[l].To, on, forward: true) is { } link)
        {
            pins.Add(graph.Links[link].To);
            links.Add(link);
        }

        return new PathStrip(
            pins,
            [
                .. links.Select(l =>
                    report.ClearedLinks[l] ? StripPiece.Proved
                    : suspects.Contains(l) ? StripPiece.Suspect
                    : StripPiece.NotReached
                ),
            ]
        );

        // In a loop only the steps that keep to the order of measuring are taken, so the line ends.
        bool Keeps(int from, int to, bool forward) => forward ? place[from] < place[to] : place[from] > place[to];

        int? Step(IReadOnlyList<int> choices, int pin, Func<int, int> end, Dictionary<int, int> length, bool forward) =>
            choices
                .Where(l => Keeps(pin, end(l), forward))
                .OrderByDescending(suspects.Contains)
                .ThenByDescending(l => length[end(l)])
                .ThenBy(end)
                .Select(l => (int?)l)
                .FirstOrDefault();

        Dictionary<int, int> Lengths(IEnumerable<int> order, Func<int, int> end, IReadOnlyList<IReadOnlyList<int>> links)
        {
            var lengths = new Dictionary<int, int>();
            foreach (var pin in order)
            {
                lengths[pin] = 1 + links[pin].Select(l => lengths.GetValueOrDefault(end(l))).DefaultIfEmpty(0).Max();
            }

            return lengths;
        }
    }
}
