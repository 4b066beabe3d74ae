using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Visits;

namespace RustyLedger.Server.Storage;

/// <summary>Keeps the register's lines in step with the records they tell of.</summary>
internal static partial class RegisterLines
{
    /// <summary>Whether a change of this record may change a line of the register.</summary>
    public static bool Tells(Editable record) => record is MachineRecord or FittedBoardRecord or VisitRecord or FaultRecord or SnapshotRecord or SettingValueRecord
        or PhotographRecord or NoteRecord or ModelRecord or PositionRecord or BoardTypeRecord;

    /// <summary>Works out anew the lines of all machines that the changed records belong to.</summary>
    /// <returns>Their ids.</returns>
    public static async Task<IReadOnlyCollection<string>> Refresh(LedgerContext context, IReadOnlyList<Editable> changed, CancellationToken cancel)
    {
        var machines = await Machines(context, changed, cancel);
        foreach (var id in machines)
        {
            await Write(context, id, cancel);
        }

        return machines;
    }

    private static async Task<HashSet<string>> Machines(LedgerContext context, IReadOnlyList<Editable> changed, CancellationToken cancel)
    {
        var machines = changed.Select(r => r switch
        {
            MachineRecord m => m.Id,
            FittedBoardRecord b => b.OwnerId,
            VisitRecord v => v.MachineId,
            FaultRecord f => f.MachineId,
            SnapshotRecord s => s.MachineId,
            PhotographRecord p => p.MachineId,
            NoteRecord n => n.MachineId,
            _ => null,
        }).OfType<string>().ToHashSet();
        var snapshots = changed.OfType<SettingValueRecord>().Select(v => v.OwnerId).ToHashSet();
        var models = changed.Select(r => r switch { ModelRecord m => m.Id, PositionRecord p => p.OwnerId, _ => null }).OfType<string>().ToHashSet();
        var types = changed.OfType<BoardTypeRecord>().Select(t => t.Id).ToHashSet();
        if (snapshots.Count > 0)
        {
            machines.UnionWith(await context.Snapshots.Where(s => snapshots.Contains(s.Id)).Select(s => s.MachineId).ToListAsync(cancel));
        }

        if (types.Count > 0)
        {
            models.UnionWith(await context.Positions.Where(p => types.Contains(p.BoardTypeId)).Select(p => p.OwnerId).ToListAsync(cancel));
            machines.UnionWith(await context.FittedBoards.Where(b => types.Contains(b.BoardTypeId)).Select(b => b.OwnerId).ToListAsync(cancel));
        }

        if (models.Count > 0)
        {
            machines.UnionWith(await context.Machines.Where(m => models.Contains(m.ModelId)).Select(m => m.Id).ToListAsync(cancel));
        }

        return machines;
    }

    private static async Task Write(LedgerContext context, string id, CancellationToken cancel)
    {
        var machine = await context.Machines.AsNoTracking().SingleAsync(m => m.Id == id, cancel);
        var model = await context.Models.AsNoTracking().SingleAsync(m => m.Id == machine.ModelId, cancel);
        var boards = await context.FittedBoards.AsNoTracking().Where(b => b.OwnerId == id && b.RetiredAt == null && b.To == null).ToListAsync(cancel);
        var types = await context.Positions.Where(p => p.OwnerId == machine.ModelId && p.RetiredAt == null).Select(p => p.BoardTypeId).ToListAsync(cancel);
        types.AddRange(boards.Select(b => b.BoardTypeId));
        var parts = await context.BoardTypes.Where(t => types.Contains(t.Id)).Select(t => t.PartNumber).ToListAsync(cancel);
        var codes = await context.SettingValues.Where(v => v.RetiredAt == null && context.Snapshots.Any(s => s.MachineId == id && s.Id == v.OwnerId && s.RetiredAt == null)).Select(v => v.Id).Distinct().ToListAsync(cancel);
        var visits = await context.Visits.AsNoTracking().Where(v => v.MachineId == id && v.RetiredAt == null).ToListAsync(cancel);
        var faults = await context.Faults.AsNoTracking().Where(f => f.MachineId == id && f.RetiredAt == null).Select(f => new { f.Noticed, f.OpenedAt, f.ClosedAt }).ToListAsync(cancel);
        DateTimeOffset?[] others =
        [
            await context.Snapshots.Where(s => s.MachineId == id).MaxAsync(s => (DateTimeOffset?)s.TakenAt, cancel),
            await context.Photographs.Where(p => p.MachineId == id).MaxAsync(p => (DateTimeOffset?)p.TakenAt, cancel),
            await context.Notes.Where(n => n.MachineId == id).MaxAsync(n => (DateTimeOffset?)n.At, cancel),
        ];
        var line = await context.Register.FindAsync([id], cancel);
        if (line is null)
        {
            line = new RegisterRecord { MachineId = id, Text = "", SortTag = "" };
            context.Register.Add(line);
        }

        var brief = ReturnBrief.Of(visits.Select(Ended).OfType<EndedVisit>());
        line.Text = FindText.Of(
        [
            machine.Tag, machine.Name, machine.Serial, machine.Site, machine.Customer, model.Maker, model.Name, .. parts, .. boards.SelectMany(b => (string[])[b.Serial, b.Firmware]),
            .. visits.Select(v => v.Complaint), .. faults.Select(f => f.Noticed), .. codes,
        ]);
        line.IsWorn = line.Text.Contains(FindText.Unknown, StringComparison.Ordinal);
        line.SortTag = Digits().Replace(machine.Tag.ToUpperInvariant(), m => m.Value.PadLeft(9, '0'));
        line.OpenFaults = faults.Count(f => f.ClosedAt is null);
        line.OpenVisitId = visits.Where(v => v.EndedAt is null).MaxBy(v => v.OpenedAt)?.Id;
        line.WaitsForPart = brief is { Ending: Ending.WaitingForPart } || brief?.Bring.Count > 0;
        line.NeedsCare = brief?.NeedsCare ?? false;
        line.TouchedAt = visits.SelectMany(v => (DateTimeOffset?[])[v.OpenedAt, v.EndedAt]).Concat(faults.SelectMany(f => (DateTimeOffset?[])[f.OpenedAt, f.ClosedAt])).Concat(others).Max();
    }

    /// <summary>An ended visit in the form that Core works with; null while it is open.</summary>
    public static EndedVisit? Ended(VisitRecord v) =>
        v is { EndedAt: { } at, Ending: { } ending } ? new EndedVisit(v.Id, at, ending, Lines(v.Left), Lines(v.Bring), v.EndingNote) : null;

    public static IReadOnlyList<string> Lines(string text) => text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    [GeneratedRegex(@"\d+")]
    private static partial Regex Digits();
}
