using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using RustyLedger.Core;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Storage;

/// <summary>Keeps the register's lines in step with the records they tell of.</summary>
internal static partial class RegisterLines
{
    /// <summary>Whether a change may change a line of the register: a board type that was only resized does not.</summary>
    public static bool Tells(EntityEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        bool Changes(params string[] members) =>
            entry.State == EntityState.Added || members.Append(nameof(IEditable.RetiredAt)).Any(m => entry.Property(m).IsModified);
        return entry.Entity switch
        {
            BoardTypeRecord => entry.State != EntityState.Added && Changes(nameof(BoardTypeRecord.PartNumber)),
            ModelRecord => entry.State != EntityState.Added && Changes(nameof(ModelRecord.Name), nameof(ModelRecord.Maker)),
            PositionRecord => Changes(nameof(PositionRecord.BoardTypeId)),
            MachineRecord or FittedBoardRecord or Visit or Fault or Snapshot or StoredValue or Photograph or Note => true,
            _ => false,
        };
    }

    /// <summary>As many lines are written with the change that they tell of; of more, what they tell follows in steps.</summary>
    private const int MostWithTheChange = 60;

    /// <summary>
    /// Works out anew the lines of the machines that the changed records belong to. Where there are many, as after a model of a whole fleet
    /// was renamed, they are only marked, and <see cref="RegisterKeeper"/> goes through them in short steps.
    /// </summary>
    /// <returns>The machines whose lines were written.</returns>
    public static async Task<IReadOnlyCollection<MachineId>> Refresh(
        LedgerContext context,
        IReadOnlyList<IEditable> changed,
        CancellationToken cancel
    )
    {
        var machines = await Machines(context, changed, cancel);
        // A new machine has no line yet that could be marked.
        var now = machines.Count <= MostWithTheChange ? machines : changed.OfType<MachineRecord>().Select(m => m.Id).ToHashSet();
        foreach (var some in now.Chunk(AtOnce))
        {
            await Write(context, some, cancel);
        }

        foreach (var some in machines.Except(now).Chunk(AtOnce))
        {
            await context
                .Register.Where(r => some.Contains(r.MachineId))
                .ExecuteUpdateAsync(r => r.SetProperty(x => x.IsStale, true), cancel);
        }

        context.HasMarked |= machines.Count > now.Count;
        return now;
    }

    // So many machines are asked for with one query.
    private const int AtOnce = 500;

    /// <summary>Works out anew some of the lines that are marked; saving is the caller's.</summary>
    /// <returns>Their machines; none where all are up to date.</returns>
    public static async Task<IReadOnlyCollection<MachineId>> Refresh(LedgerContext context, CancellationToken cancel)
    {
        var machines = await context.Register.Where(r => r.IsStale).Select(r => r.MachineId).Take(MostWithTheChange).ToArrayAsync(cancel);
        await Write(context, machines, cancel);
        return machines;
    }

    private static async Task<HashSet<MachineId>> Machines(
        LedgerContext context,
        IReadOnlyList<IEditable> changed,
        CancellationToken cancel
    )
    {
        var machines = changed
            .Select(r =>
                r switch
                {
                    MachineRecord m => m.Id,
                    FittedBoardRecord b => b.OwnerId,
                    Visit v => v.MachineId,
                    Fault f => f.MachineId,
                    Snapshot s => s.MachineId,
                    Photograph p => p.MachineId,
                    Note n => n.MachineId,
                    _ => (MachineId?)null,
                }
            )
            .OfType<MachineId>()
            .ToHashSet();
        var snapshots = changed.OfType<StoredValue>().Select(v => v.SnapshotId).ToHashSet();
        var models = changed
            .Select(r =>
                r switch
                {
                    ModelRecord m => m.Id,
                    PositionRecord p => p.OwnerId,
                    _ => (ModelId?)null,
                }
            )
            .OfType<ModelId>()
            .ToHashSet();
        var types = changed.OfType<BoardTypeRecord>().Select(t => t.Id).ToHashSet();
        if (snapshots.Count > 0)
        {
            machines.UnionWith(await context.Snapshots.Where(s => snapshots.Contains(s.Id)).Select(s => s.MachineId).ToListAsync(cancel));
        }

        if (types.Count > 0)
        {
            models.UnionWith(await context.Positions.Where(p => types.Contains(p.BoardTypeId)).Select(p => p.OwnerId).ToListAsync(cancel));
            machines.UnionWith(
                await context.FittedBoards.Where(b => types.Contains(b.BoardTypeId)).Select(b => b.OwnerId).ToListAsync(cancel)
            );
        }

        if (models.Count > 0)
        {
            machines.UnionWith(await context.Machines.Where(m => models.Contains(m.ModelId)).Select(m => m.Id).ToListAsync(cancel));
        }

        return machines;
    }

    private static async Task Write(LedgerContext context, MachineId[] ids, CancellationToken cancel)
    {
        var machines = await context.Machines.AsNoTracking().Where(m => ids.Contains(m.Id)).ToListAsync(cancel);
        var modelIds = machines.Select(m => m.ModelId).Distinct().ToList();
        var models = await context.Models.AsNoTracking().Where(m => modelIds.Contains(m.Id)).ToDictionaryAsync(m => m.Id, cancel);
        var boards = (await context.BoardsFittedNow.AsNoTracking().Where(b => ids.Contains(b.OwnerId)).ToListAsync(cancel)).ToLookup(b =>
            b.OwnerId
        );
        var positions = (
            await context
                .Positions.AsNoTracking()
                .Where(p => modelIds.Contains(p.OwnerId) && p.RetiredAt == null)
                .Select(p => new { p.OwnerId, p.BoardTypeId })
                .ToListAsync(cancel)
        ).ToLookup(p => p.OwnerId, p => p.BoardTypeId);
        var typeIds = positions.SelectMany(p => p).Concat(boards.SelectMany(b => b).Select(b => b.BoardTypeId)).Distinct().ToList();
        var parts = await context
            .BoardTypes.Where(t => typeIds.Contains(t.Id))
            .Select(t => new { t.Id, t.PartNumber })
            .ToDictionaryAsync(t => t.Id, t => t.PartNumber, cancel);
        var codes = (
            await context
                .StoredValues.Where(v => v.RetiredAt == null)
                .Join(
                    context.Snapshots.Where(s => ids.Contains(s.MachineId) && s.RetiredAt == null),
                    v => v.SnapshotId,
                    s => s.Id,
                    (v, s) => new { s.MachineId, v.Code }
                )
                .Distinct()
                .ToListAsync(cancel)
        ).ToLookup(c => c.MachineId, c => c.Code);
        var visits = (
            await context.Visits.AsNoTracking().Where(v => ids.Contains(v.MachineId) && v.RetiredAt == null).ToListAsync(cancel)
        ).ToLookup(v => v.MachineId);
        var faults = (
            await context
                .Faults.AsNoTracking()
                .Where(f => ids.Contains(f.MachineId) && f.RetiredAt == null)
                .Select(f => new
                {
                    f.MachineId,
                    f.Noticed,
                    f.OpenedAt,
                    f.ClosedAt,
                })
                .ToListAsync(cancel)
        ).ToLookup(f => f.MachineId);
        var touched = (
            await context
                .Snapshots.Where(s => ids.Contains(s.MachineId))
                .GroupBy(s => s.MachineId)
                .Select(g => new { g.Key, At = g.Max(s => s.TakenAt) })
                .ToListAsync(cancel)
        )
            .Concat(
                await context
                    .Photographs.Where(p => ids.Contains(p.MachineId))
                    .GroupBy(p => p.MachineId)
                    .Select(g => new { g.Key, At = g.Max(p => p.TakenAt) })
                    .ToListAsync(cancel)
            )
            .Concat(
                await context
                    .Notes.Where(n => ids.Contains(n.MachineId))
                    .GroupBy(n => n.MachineId)
                    .Select(g => new { g.Key, At = g.Max(n => n.At) })
                    .ToListAsync(cancel)
            )
            .ToLookup(t => t.Key, t => (DateTimeOffset?)t.At);
        var lines = await context.Register.Where(r => ids.Contains(r.MachineId)).ToDictionaryAsync(r => r.MachineId, cancel);
        foreach (var machine in machines)
        {
            if (!lines.TryGetValue(machine.Id, out var line))
            {
                line = new RegisterRecord
                {
                    MachineId = machine.Id,
                    Text = "",
                    SortTag = "",
                };
                context.Register.Add(line);
            }

            var (model, own) = (models[machine.ModelId], visits[machine.Id].ToList());
            var brief = ReturnBrief.Of(own.Select(Ended).OfType<EndedVisit>());
            var fitted = boards[machine.Id].ToList();
            line.Text = FindText.Of([
                machine.Tag,
                machine.Name,
                machine.Serial,
                machine.Site,
                machine.Customer,
                model.Maker,
                model.Name,
                .. positions[machine.ModelId]
                    .Concat(fitted.Select(b => b.BoardTypeId))
                    .Distinct()
                    .Select(t => parts.GetValueOrDefault(t, "")),
                .. fitted.SelectMany(b => (string[])[b.Serial, b.Firmware]),
                .. own.Select(v => v.Complaint),
                .. faults[machine.Id].Select(f => f.Noticed),
                .. codes[machine.Id],
            ]);
            line.IsWorn = line.Text.Contains(FindText.Unknown, StringComparison.Ordinal);
            line.SortTag = Digits().Replace(machine.Tag.ToUpperInvariant(), m => m.Value.PadLeft(9, '0'));
            line.OpenFaults = faults[machine.Id].Count(f => f.ClosedAt is null);
            line.OpenVisitId = own.Where(v => v.EndedAt is null).MaxBy(v => v.OpenedAt)?.Id;
            line.WaitsForPart = brief is { Ending: Ending.WaitingForPart } || brief?.Bring.Count > 0;
            line.NeedsCare = brief?.NeedsCare ?? false;
            line.IsStale = false;
            line.TouchedAt = own.SelectMany(v => (DateTimeOffset?[])[v.OpenedAt, v.EndedAt])
                .Concat(faults[machine.Id].SelectMany(f => (DateTimeOffset?[])[f.OpenedAt, f.ClosedAt]))
                .Concat(touched[machine.Id])
                .Max();
        }
    }

    /// <summary>An ended visit in the form that briefs are made of; null while it is open.</summary>
    public static EndedVisit? Ended(Visit v) =>
        v is { EndedAt: { } at, Ending: { } ending } ? new EndedVisit(v.Id.Value, at, ending, v.Left, v.Bring, v.EndingNote) : null;

    [GeneratedRegex(@"\d+")]
    private static partial Regex Digits();
}
