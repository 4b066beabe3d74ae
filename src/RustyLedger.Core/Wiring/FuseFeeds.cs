using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>A fuse of a machine, and what goes dead with it.</summary>
/// <param name="Printed">Such as <c>CB-F1</c>.</param>
/// <param name="Rating">As written; empty where nobody did.</param>
/// <param name="Near">The fed end, as printed; null where no wire says which one it is.</param>
/// <param name="Far">The other end; null likewise.</param>
/// <param name="Feeds">The connectors and parts at which what it feeds ends, in natural order; empty where nothing is written yet.</param>
/// <param name="Through">Further fuses on the way there.</param>
public sealed record FusedFeed(
    string Printed,
    string Rating,
    string? Near,
    string? Far,
    IReadOnlyList<string> Feeds,
    IReadOnlyList<string> Through
);

/// <summary>What each fuse of a machine feeds, along the wires and paths that have a direction.</summary>
public static class FuseFeeds
{
    public static IReadOnlyList<FusedFeed> Of(ResolvedMachine machine, FeedGraph graph)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(graph);
        return
        [
            .. machine
                .Pins.Values.Where(IsOfFuse)
                .GroupBy(p => p.PrintedElement)
                .OrderBy(f => f.Key, NaturalOrder.Instance)
                .Select(fuse => Of(fuse.Key, [.. fuse], machine, graph)),
        ];
    }

    private static bool IsOfFuse(ResolvedPin pin) => pin.Element is { Kind: ElementKind.Fuse } || pin.Part is { Kind: PartKind.FuseHolder };

    private static FusedFeed Of(string printed, IReadOnlyList<ResolvedPin> pins, ResolvedMachine machine, FeedGraph graph)
    {
        var own = pins.Select(p => p.Address).ToHashSet();
        var rating = pins[0].Element?.Rating ?? pins[0].Part?.Name ?? "";
        // The path through it says which end is fed.
        var through = MachineFeeds.Of(machine).Links.FirstOrDefault(l => own.Contains(l.From) && own.Contains(l.To));
        if (through is null || graph.IndexOf(through.To) is not { } far)
        {
            return new FusedFeed(printed, rating, null, null, [], []);
        }

        var (seen, work) = (new HashSet<PinIndex> { far }, new Stack<PinIndex>([far]));
        var (ends, fuses) = (new HashSet<string>(), new HashSet<string>());
        while (work.TryPop(out var at))
        {
            var pin = machine.Pins[graph[at]];
            if (IsOfFuse(pin) && pin.PrintedElement != printed)
            {
                fuses.Add(pin.PrintedElement);
            }

            if (graph.Fed[at].Count == 0 && at != far)
            {
                ends.Add(Words(pin));
            }

            foreach (var next in graph.Fed[at].Select(l => graph[l].To).Where(seen.Add))
            {
                work.Push(next);
            }
        }

        return new FusedFeed(
            printed,
            rating,
            machine.Pins[through.From].Printed,
            machine.Pins[through.To].Printed,
            [.. ends.Order(NaturalOrder.Instance)],
            [.. fuses.Order(NaturalOrder.Instance)]
        );
    }

    private static string Words(ResolvedPin pin)
    {
        var what = pin.Part?.Name is { Length: > 0 } name ? name : pin.Signal.Value;
        return what.Length > 0 ? $"{pin.Printed} {what}" : pin.Printed;
    }
}
