using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

public sealed class MachineFileExport(LedgerContext context, MachineLibrary library)
{
    public async Task<MachineFile> Of(string machineId, CancellationToken cancel)
    {
        var machine = await library.Machine(machineId, cancel);
        var model = await library.Model(machine.ModelId, cancel);
        var boardTypes = new List<BoardType>();
        foreach (var id in model.Positions.Select(p => p.BoardTypeId).Concat(machine.Boards.Select(b => b.BoardTypeId)).Distinct())
        {
            boardTypes.Add(await library.BoardType(id, cancel));
        }

        var visits = await context.Visits.AsNoTracking().Where(v => v.MachineId == machineId).OrderBy(v => v.OpenedAt).ToListAsync(cancel);
        var visitIds = visits.ConvertAll(v => v.Id);
        var rounds = (await context.Rounds.AsNoTracking().Where(r => visitIds.Contains(r.VisitId)).OrderBy(r => r.StartedAt).ToListAsync(cancel)).ToLookup(r => r.VisitId);
        var roundIds = rounds.SelectMany(r => r).Select(r => r.Id).ToList();
        var readings = (await context.Readings.AsNoTracking().Where(r => roundIds.Contains(r.RoundId)).OrderBy(r => r.Order).ThenBy(r => r.Id).ToListAsync(cancel)).ToLookup(r => r.RoundId);
        var faults = await context.Faults.AsNoTracking().Where(f => f.MachineId == machineId && f.RetiredAt == null).OrderBy(f => f.OpenedAt).ToListAsync(cancel);
        var people = visits.Select(v => v.PersonId).Concat(faults.Select(f => f.PersonId)).Concat(readings.SelectMany(r => r).Select(r => r.PersonId)).ToHashSet();
        return new MachineFile(
            MachineFile.FormatName,
            MachineFile.CurrentVersion,
            [.. await context.People.AsNoTracking().Where(p => people.Contains(p.Id)).OrderBy(p => p.Name).Select(p => new FilePerson(p.Id, p.Name)).ToListAsync(cancel)],
            boardTypes,
            model,
            machine,
            [.. visits.Select(v => new FileVisit(v.Id, v.Complaint, v.PersonId, v.OpenedAt, v.EndedAt, v.Ending, v.EndingNote, [.. rounds[v.Id].Select(r => new FileRound(r.Id, r.StartedAt, [.. readings[r.Id].Select(Reading)]))]))],
            [.. faults.Select(f => new FileFault(f.Id, f.VisitId, f.RoundId, f.PersonId, f.OpenedAt, f.Noticed, f.Found, f.Evidence, f.Cause, f.Proof, f.Done, f.ClosedAt))]);
    }

    private static FileReading Reading(ReadingRecord r) => new(
        r.Id, r.Order, r.Kind, r.CheckKey, r.RedHolder, r.RedPin, r.BlackHolder, r.BlackPin, r.RedPrinted, r.BlackPrinted, r.Mode, r.State, r.Plugged,
        r.Limit is null ? null : LimitNotation.ReadOne(r.Limit, r.Mode).Limit, new DefaultTolerance(r.TolerancePercent, r.ToleranceVolts, r.ToleranceOhms),
        r.Typed, r.Choice, r.Supersedes, r.Target, r.Reason, r.DeviceTime, r.ServerTime, r.PersonId, r.Meter);
}
