using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Measuring;

/// <summary>
/// What changes took on machines of a model, as its rounds tell. For a round only those begun before it count, so that its order stays
/// what it was from its first reading to its last.
/// </summary>
public sealed class TimedRounds
{
    private const int MostRounds = 20;
    private const int MostKept = 256;

    private readonly ConcurrentDictionary<RoundId, RoundMinutes> _known = new();

    public async Task<RoundMinutes> Before(Round round, ResolvedMachine machine, LedgerContext context, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(round);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(context);
        if (_known.TryGetValue(round.Id, out var known))
        {
            return known;
        }

        var model = machine.Model.Id;
        var readings = await (
            from reading in context.Readings.AsNoTracking()
            where
                reading.Kind == EntryKind.Taken
                && reading.CheckKey != null
                && (
                    from other in context.Rounds
                    join visit in context.Visits on other.VisitId equals visit.Id
                    join unit in context.Machines on visit.MachineId equals unit.Id
                    where unit.ModelId == model && other.StartedAt < round.StartedAt
                    orderby other.StartedAt descending
                    select other.Id
                )
                    .Take(MostRounds)
                    .Contains(reading.RoundId)
            select new
            {
                reading.RoundId,
                reading.Order,
                reading.DeviceTime,
                reading.CheckKey,
            }
        ).ToListAsync(cancel);
        var rules = RoundRules.Of(machine);
        var setUps = machine.Checks.ToDictionary(c => c.Key, c => RoundPlan.SetUpOf(c, machine, rules));
        var learnt = RoundMinutes.Learnt(
            readings
                .Where(r => setUps.ContainsKey(r.CheckKey!.Value))
                .GroupBy(r => r.RoundId)
                .Select(g =>
                    (IReadOnlyList<(DateTimeOffset, SetUp)>)
                        [.. g.OrderBy(r => r.Order).Select(r => (r.DeviceTime, setUps[r.CheckKey!.Value]))]
                )
        );
        if (_known.Count >= MostKept)
        {
            _known.Clear();
        }

        return _known.GetOrAdd(round.Id, learnt);
    }
}
