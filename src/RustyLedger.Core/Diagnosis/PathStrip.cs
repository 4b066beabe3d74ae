using RustyLedger.Core.Wiring;

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
public sealed record PathStrip(IReadOnlyList<PinIndex> Pins, IReadOnlyList<StripPiece> Pieces)
{
    /// <summary>
    /// The line to show while one stands at a pin: through the first bad stretch as long as the pin lies on it, otherwise the pin's own
    /// branch. With no pin it is the stretch, or where power enters.
    /// </summary>
    public static PathStrip Showing(PinIndex? at, PathReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        if (report.Graph.Order.Count == 0)
        {
            return new PathStrip([], []);
        }

        if (report.Stretches is not [var first, ..])
        {
            return Through(at ?? report.Graph.Order[0], report);
        }

        var stretch = Through(first.Bad, report);
        return at is not { } pin || stretch.Pins.Contains(pin) ? stretch : Through(pin, report);
    }

    /// <summary>
    /// The longest way from a source through <paramref name="focus"/> to an end; through suspects where there is a choice.
    /// </summary>
    public static PathStrip Through(PinIndex focus, PathReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        var suspects = report.Suspects;
        return Through(
            focus,
            report.Graph,
            suspects,
            l =>
                report.ClearedLinks[l] ? StripPiece.Proved
                : suspects.Contains(l) ? StripPiece.Suspect
                : StripPiece.NotReached
        );
    }

    /// <param name="suspects">Where there is a choice, through these.</param>
    /// <param name="piece">How each link is drawn.</param>
    internal static PathStrip Through(PinIndex focus, FeedGraph graph, IReadOnlySet<LinkIndex> suspects, Func<LinkIndex, StripPiece> piece)
    {
        var place = graph.Order.Index().ToDictionary(p => p.Item, p => p.Index);
        var (back, on) = (
            Lengths(graph.Order, l => graph[l].From, graph.Feeders),
            Lengths(graph.Order.Reverse(), l => graph[l].To, graph.Fed)
        );
        var pins = new List<PinIndex> { focus };
        var links = new List<LinkIndex>();
        while (Step(graph.Feeders[pins[0]], pins[0], l => graph[l].From, back, forward: false) is { } link)
        {
            pins.Insert(0, graph[link].From);
            links.Insert(0, link);
        }

        while (Step(graph.Fed[pins[^1]], pins[^1], l => graph[l].To, on, forward: true) is { } link)
        {
            pins.Add(graph[link].To);
            links.Add(link);
        }

        return new PathStrip(pins, [.. links.Select(piece)]);

        // In a loop only the steps that keep to the order of measuring are taken, so the line ends.
        bool Keeps(PinIndex from, PinIndex to, bool forward) => forward ? place[from] < place[to] : place[from] > place[to];

        LinkIndex? Step(
            IReadOnlyList<LinkIndex> choices,
            PinIndex pin,
            Func<LinkIndex, PinIndex> end,
            Dictionary<PinIndex, int> length,
            bool forward
        ) =>
            choices
                .Where(l => Keeps(pin, end(l), forward))
                .OrderByDescending(suspects.Contains)
                .ThenByDescending(l => length[end(l)])
                .ThenBy(end)
                .Select(l => (LinkIndex?)l)
                .FirstOrDefault();

        Dictionary<PinIndex, int> Lengths(
            IEnumerable<PinIndex> order,
            Func<LinkIndex, PinIndex> end,
            IReadOnlyList<IReadOnlyList<LinkIndex>> links
        )
        {
            var lengths = new Dictionary<PinIndex, int>();
            foreach (var pin in order)
            {
                lengths[pin] = 1 + links[pin].Select(l => lengths.GetValueOrDefault(end(l))).DefaultIfEmpty(0).Max();
            }

            return lengths;
        }
    }
}
