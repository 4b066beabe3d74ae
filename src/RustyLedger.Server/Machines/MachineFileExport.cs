using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.History;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Settings;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

public sealed class MachineFileExport(LedgerContext context, MachineLibrary library, PictureFiles pictures)
{
    /// <param name="withPictures">Whether the pictures go into the file, or only their names.</param>
    public async Task<MachineFile> Of(string machineId, bool withPictures, CancellationToken cancel)
    {
        var machine = await library.Machine(machineId, cancel);
        var model = await library.Model(machine.ModelId, cancel);
        var boardTypes = new List<BoardType>();
        foreach (
            var id in model
                .Positions.Select(p => p.BoardTypeId)
                .Concat(machine.Boards.Select(b => b.BoardTypeId))
                .Concat(model.Variants.Variants.SelectMany(v => v.Boards).SelectMany(b => b.BoardTypes))
                .Distinct()
        )
        {
            boardTypes.Add(await library.BoardType(id, cancel));
        }

        var visits = await context.Visits.AsNoTracking().Where(v => v.MachineId == machineId).OrderBy(v => v.OpenedAt).ToListAsync(cancel);
        var visitIds = visits.ConvertAll(v => v.Id);
        var rounds = (
            await context.Rounds.AsNoTracking().Where(r => visitIds.Contains(r.VisitId)).OrderBy(r => r.StartedAt).ToListAsync(cancel)
        ).ToLookup(r => r.VisitId);
        var roundIds = rounds.SelectMany(r => r).Select(r => r.Id).ToList();
        var readings = (
            await context
                .Readings.AsNoTracking()
                .Where(r => roundIds.Contains(r.RoundId))
                .OrderBy(r => r.Order)
                .ThenBy(r => r.Id)
                .ToListAsync(cancel)
        ).ToLookup(r => r.RoundId);
        var observations = (
            await context
                .Observations.AsNoTracking()
                .Where(o => visitIds.Contains(o.VisitId) && o.RetiredAt == null)
                .OrderBy(o => o.At)
                .ThenBy(o => o.Id)
                .ToListAsync(cancel)
        ).ToLookup(o => o.VisitId);
        var answers = (
            await context.OutsideAnswers.AsNoTracking().Where(a => visitIds.Contains(a.VisitId)).OrderBy(a => a.Order).ToListAsync(cancel)
        ).ToLookup(a => a.VisitId);
        var acts = (
            await context.SafetyEvents.AsNoTracking().Where(a => visitIds.Contains(a.VisitId)).OrderBy(a => a.Order).ToListAsync(cancel)
        ).ToLookup(a => a.VisitId);
        var links = (
            await context
                .TemporaryLinks.AsNoTracking()
                .Where(l => visitIds.Contains(l.VisitId) && l.RetiredAt == null)
                .OrderBy(l => l.PlacedAt)
                .ToListAsync(cancel)
        ).ToLookup(l => l.VisitId);
        var notices = (
            await context
                .LifeSafetyNotices.AsNoTracking()
                .Where(n => visitIds.Contains(n.VisitId) && n.RetiredAt == null)
                .OrderBy(n => n.At)
                .ToListAsync(cancel)
        ).ToLookup(n => n.VisitId);
        var skipped = (
            await context
                .SkippedSteps.AsNoTracking()
                .Where(s => visitIds.Contains(s.OwnerId) && s.RetiredAt == null)
                .OrderBy(s => s.At)
                .ToListAsync(cancel)
        ).ToLookup(s => s.OwnerId);
        var facings = (
            await context
                .Facings.AsNoTracking()
                .Where(f => visitIds.Contains(f.OwnerId) && f.RetiredAt == null)
                .OrderBy(f => f.Id)
                .ToListAsync(cancel)
        ).ToLookup(f => f.OwnerId);
        var boardNotes = await context
            .BoardNotes.AsNoTracking()
            .Where(n => n.MachineId == machineId && n.RetiredAt == null)
            .OrderBy(n => n.At)
            .ThenBy(n => n.Id)
            .ToListAsync(cancel);
        var faults = await context
            .Faults.AsNoTracking()
            .Where(f => f.MachineId == machineId && f.RetiredAt == null)
            .OrderBy(f => f.OpenedAt)
            .ToListAsync(cancel);
        var typeIds = boardTypes.ConvertAll(b => b.Id);
        var settings = await context
            .Settings.AsNoTracking()
            .Where(d => typeIds.Contains(d.OwnerId) && d.RetiredAt == null)
            .OrderBy(d => d.OwnerId)
            .ThenBy(d => d.Ordinal)
            .ToListAsync(cancel);
        var calls = (
            await context
                .SupportCalls.AsNoTracking()
                .Where(c => visitIds.Contains(c.VisitId) && c.RetiredAt == null)
                .OrderBy(c => c.At)
                .ToListAsync(cancel)
        ).ToLookup(c => c.VisitId);
        var snapshots = await context
            .Snapshots.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.RetiredAt == null)
            .OrderBy(x => x.TakenAt)
            .ToListAsync(cancel);
        var snapshotIds = snapshots.ConvertAll(x => x.Id);
        var values = (
            await context
                .SettingValues.AsNoTracking()
                .Where(v => snapshotIds.Contains(v.OwnerId) && v.RetiredAt == null)
                .OrderBy(v => v.Ordinal)
                .ToListAsync(cancel)
        ).ToLookup(v => v.OwnerId);
        var photographs = await context
            .Photographs.AsNoTracking()
            .Where(p => p.MachineId == machineId && p.RetiredAt == null)
            .OrderBy(p => p.TakenAt)
            .ThenBy(p => p.Id)
            .ToListAsync(cancel);
        var photographIds = photographs.ConvertAll(p => p.Id);
        var places = (
            await context
                .Places.AsNoTracking()
                .Where(p => photographIds.Contains(p.PhotographId) && p.RetiredAt == null)
                .OrderBy(p => p.Number)
                .ToListAsync(cancel)
        ).ToLookup(p => p.PhotographId);
        var notes = await context
            .Notes.AsNoTracking()
            .Where(n => n.MachineId == machineId && n.RetiredAt == null)
            .OrderBy(n => n.At)
            .ToListAsync(cancel);
        var causes = faults.Select(f => f.Cause).OfType<string>().ToHashSet();
        var filePhotographs = new List<FilePhotograph>();
        foreach (var p in photographs)
        {
            filePhotographs.Add(
                new FilePhotograph(
                    p.Id,
                    p.VisitId,
                    p.PositionId,
                    p.SnapshotId,
                    p.Kind,
                    p.Caption,
                    p.TakenAt,
                    p.PersonId,
                    p.Hash,
                    p.Format,
                    p.Width,
                    p.Height,
                    withPictures ? await File.ReadAllBytesAsync(pictures.FileOf(p.Hash, p.Format), cancel) : null,
                    [.. places[p.Id].Select(x => new FilePlace(x.Id, x.X, x.Y, x.Number, x.Name, x.Note, x.PositionId, x.PinId))]
                )
                {
                    Points = OverlayEndpoints.Points(p),
                }
            );
        }

        var inVisits = observations
            .SelectMany(o => o)
            .Select(o => o.PersonId)
            .Concat(answers.SelectMany(a => a).Select(a => a.PersonId))
            .Concat(acts.SelectMany(a => a).Select(a => a.PersonId))
            .Concat(links.SelectMany(l => l).SelectMany(l => (string?[])[l.PersonId, l.RemovedById]).OfType<string>())
            .Concat(notices.SelectMany(n => n).Select(n => n.PersonId))
            .Concat(skipped.SelectMany(s => s).Select(s => s.PersonId));
        var people = inVisits
            .Concat(snapshots.Select(x => x.PersonId))
            .Concat(photographs.Select(p => p.PersonId))
            .Concat(notes.Select(n => n.PersonId))
            .Concat(boardNotes.Select(n => n.PersonId))
            .Concat(calls.SelectMany(c => c).Select(c => c.PersonId))
            .Concat(visits.Select(v => v.PersonId))
            .Concat(faults.Select(f => f.PersonId))
            .Concat(readings.SelectMany(r => r).Select(r => r.PersonId))
            .ToHashSet();
        return new MachineFile(
            MachineFile.FormatName,
            MachineFile.CurrentVersion,
            [
                .. await context
                    .People.AsNoTracking()
                    .Where(p => people.Contains(p.Id))
                    .OrderBy(p => p.Name)
                    .Select(p => new FilePerson(p.Id, p.Name))
                    .ToListAsync(cancel),
            ],
            await context
                .Causes.AsNoTracking()
                .Where(c => causes.Contains(c.Id))
                .OrderBy(c => c.Id)
                .Select(c => new CauseView(c.Id, c.Words))
                .ToListAsync(cancel),
            boardTypes,
            [.. settings.Select(d => new FileSetting(d.OwnerId, SettingEndpoints.Definition(d)))],
            model,
            machine,
            [
                .. visits.Select(v => new FileVisit(
                    v.Id,
                    v.Complaint,
                    v.PersonId,
                    v.OpenedAt,
                    v.EndedAt,
                    v.Ending,
                    v.EndingNote,
                    RegisterLines.Lines(v.Left),
                    RegisterLines.Lines(v.Bring),
                    v.TravelMinutes,
                    v.LabourMinutes,
                    v.Agreed,
                    v.AgreedAt,
                    v.Warranty,
                    [.. calls[v.Id].Select(c => new FileCall(c.Id, c.PersonId, c.At, c.CaseNumber, c.Said))],
                    [.. rounds[v.Id].Select(r => new FileRound(r.Id, r.StartedAt, [.. readings[r.Id].Select(Reading)]))]
                )
                {
                    Observations =
                    [
                        .. observations[v.Id]
                            .Select(o => new FileObservation(o.Id, o.Kind, o.Text, o.At, o.PersonId, o.DoneAt, o.PhotographId)),
                    ],
                    OutsideAnswers =
                    [
                        .. answers[v.Id]
                            .Select(a => new FileOutsideAnswer(
                                a.Id,
                                a.CheckId,
                                a.Answer,
                                a.Held,
                                a.WasIt,
                                a.Minutes,
                                a.Order,
                                a.At,
                                a.PersonId
                            )),
                    ],
                    SafetyEvents =
                    [
                        .. acts[v.Id]
                            .Select(a => new FileSafetyEvent(
                                a.Id,
                                a.Order,
                                a.Kind,
                                a.Subject,
                                a.Typed,
                                a.Words,
                                a.Target,
                                a.DeviceTime,
                                a.ServerTime,
                                a.PersonId
                            )),
                    ],
                    TemporaryLinks =
                    [
                        .. links[v.Id]
                            .Select(l => new FileTemporaryLink(
                                l.Id,
                                l.Kind,
                                Address(l.FromHolder, l.FromPin),
                                Address(l.ToHolder, l.ToPin),
                                l.Where,
                                l.Why,
                                l.Attended,
                                l.Until,
                                l.PlacedAt,
                                l.PersonId,
                                l.RemovedAt,
                                l.RemovedById,
                                l.Across,
                                l.Standing
                            )),
                    ],
                    Notices = [.. notices[v.Id].Select(n => new FileNotice(n.Id, n.Told, n.Watching, n.Until, n.At, n.PersonId, n.BackAt))],
                    Facings = [.. facings[v.Id].Select(f => new FileFacing(f.Id, f.Turns, f.Side))],
                    SkippedSteps =
                    [
                        .. skipped[v.Id].Select(s => new FileSkippedStep(Enum.Parse<VisitStep>(s.Id), s.Reason, s.PersonId, s.At)),
                    ],
                }),
            ],
            [
                .. faults.Select(f => new FileFault(
                    f.Id,
                    f.VisitId,
                    f.RoundId,
                    f.PersonId,
                    f.OpenedAt,
                    f.Noticed,
                    f.Found,
                    f.Evidence,
                    f.Cause,
                    f.Proof,
                    f.Done,
                    RegisterLines.Lines(f.Parts),
                    f.Deviation,
                    f.Minutes,
                    f.Warranty,
                    f.Held,
                    f.PreviousId,
                    f.ClosedAt
                )),
            ],
            [
                .. snapshots.Select(x => new FileSnapshot(
                    x.Id,
                    x.FittedBoardId,
                    x.VisitId,
                    x.Kind,
                    x.TakenAt,
                    x.PersonId,
                    x.Firmware,
                    x.Note,
                    [.. values[x.Id].Select(v => new SettingValue(v.Id, v.Value))]
                )),
            ],
            filePhotographs,
            [.. notes.Select(n => new FileNote(n.Id, n.VisitId, n.Text, n.At, n.PersonId))]
        )
        {
            BoardNotes =
            [
                .. boardNotes.Select(n => new FileBoardNote(
                    n.Id,
                    n.PositionId,
                    n.VisitId,
                    n.Kind,
                    new NotePlace(n.ElementId, n.PinId, n.X, n.Y),
                    n.Text,
                    n.Reason,
                    n.PhotographId,
                    n.At,
                    n.PersonId
                )),
            ],
        };
    }

    private static PinAddress? Address(string? holder, string? pin) => holder is null || pin is null ? null : new PinAddress(holder, pin);

    private static FileReading Reading(ReadingRecord r) =>
        new(
            r.Id,
            r.Order,
            r.Kind,
            r.CheckKey,
            r.RedHolder,
            r.RedPin,
            r.BlackHolder,
            r.BlackPin,
            r.RedPrinted,
            r.BlackPrinted,
            r.Mode,
            r.State,
            r.Plugged,
            r.Limit is null ? null : LimitNotation.ReadOne(r.Limit, r.Mode).Limit,
            new DefaultTolerance(r.TolerancePercent, r.ToleranceVolts, r.ToleranceOhms),
            r.Typed,
            r.Choice,
            r.Supersedes,
            r.Target,
            r.Reason,
            r.DeviceTime,
            r.ServerTime,
            r.PersonId,
            r.Meter,
            r.Condition
        );
}
