using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>What the supplies of a machine read in a round, for limits that ask for just that.</summary>
internal sealed class SupplyReadings(ResolvedMachine machine, FeedGraph graph, IEnumerable<Entry> standing)
{
    // Supplies further apart than this are not one. Common practice, no source.
    private const decimal MostApart = 0.5m;

    private readonly Dictionary<(PinAddress Pin, MeterMode Mode, string State), decimal> _volts = standing
        .Where(e => e is { Kind: EntryKind.Taken, Red: not null, Value: NumberReading { Unit: Unit.Volts } })
        .GroupBy(e => (e.Red!, e.Mode, e.State))
        .ToDictionary(g => g.Key, g => ((NumberReading)g.Last().Value!).Value);

    /// <summary>
    /// The limit with what the supply of the check's pin reads in its state; without, where none that feeds it was read or they differ.
    /// </summary>
    public SupplyLimit Now(ResolvedCheck check)
    {
        var feeding = check.Check.Red is { } red && graph.IndexOf(red) is { } pin ? SourcesOf(pin) : [];
        var read = (feeding.Count > 0 ? feeding : [.. machine.Pins.Values.Where(p => p.Pin.IsSource).Select(p => p.Address)])
            .Where(s => _volts.ContainsKey((s, check.Check.Mode, check.State.Code)))
            .Select(s => _volts[(s, check.Check.Mode, check.State.Code)])
            .ToList();
        return new SupplyLimit(read.Count > 0 && read.Max() - read.Min() <= MostApart ? read.Min() : null);
    }

    private List<PinAddress> SourcesOf(PinIndex pin)
    {
        var seen = new HashSet<PinIndex> { pin };
        var work = new Stack<PinIndex>([pin]);
        while (work.TryPop(out var at))
        {
            foreach (var from in graph.Feeders[at].Select(l => graph.Links[l].From).Where(seen.Add))
            {
                work.Push(from);
            }
        }

        // Where nobody said where power enters, it is taken to enter at what nothing feeds.
        var sources = seen.Where(p => graph.IsSource[p]).ToList();
        return [.. (sources.Count > 0 ? sources : seen.Where(p => p != pin && graph.Feeders[p].Count == 0)).Select(p => graph.Pins[p])];
    }
}
