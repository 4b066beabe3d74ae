using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Settings;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

public sealed class MachineFileExport(LedgerContext context, MachineLibrary library, PictureFiles pictures)
{
    /// <param name="withPictures">Whether the pictures go into the file, or only their names.</param>
    public async Task<MachineFile> Of(MachineId machineId, bool withPictures, CancellationToken cancel)
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

        var typeIds = boardTypes.ConvertAll(b => b.Id);
        var settings = await context
            .Settings.AsNoTracking()
            .Where(d => typeIds.Contains(d.OwnerId) && d.RetiredAt == null)
            .OrderBy(d => d.OwnerId)
            .ThenBy(d => d.Ordinal)
            .ToListAsync(cancel);
        var signed = new HashSet<PersonId>();
        async Task<IReadOnlyList<T>> Those<T>()
            where T : class, IThing
        {
            var kind = RecordKind.For<T>();
            var those = await kind.Those(machineId, context, cancel);
            signed.UnionWith(those.SelectMany(kind.People));
            return those;
        }

        async Task<ILookup<TOwner, T>> By<T, TOwner>(Func<T, TOwner> owner)
            where T : class, IThing => (await Those<T>()).ToLookup(owner);

        var rounds = await By<Round, VisitId>(r => r.VisitId);
        var readings = await By<Reading, RoundId>(r => r.RoundId);
        var calls = await By<SupportCall, VisitId>(c => c.VisitId);
        var observations = await By<Observation, VisitId>(o => o.VisitId);
        var answers = await By<OutsideReply, VisitId>(a => a.VisitId);
        var acts = await By<SafetyAct, VisitId>(a => a.VisitId);
        var links = await By<TemporaryLink, VisitId>(l => l.VisitId);
        var notices = await By<Notice, VisitId>(n => n.VisitId);
        var skipped = await By<SkippedStep, VisitId>(s => s.VisitId);
        var facings = await By<VisitFacing, VisitId>(f => f.VisitId);
        var values = await By<StoredValue, SnapshotId>(v => v.SnapshotId);
        var places = await By<Place, PhotographId>(p => p.PhotographId);
        var visits = (await Those<Visit>())
            .Select(v => new FileVisit(v)
            {
                Calls = [.. calls[v.Id]],
                Rounds = [.. rounds[v.Id].Select(r => new FileRound(r) { Readings = [.. readings[r.Id]] })],
                Observations = [.. observations[v.Id]],
                OutsideAnswers = [.. answers[v.Id]],
                SafetyEvents = [.. acts[v.Id]],
                TemporaryLinks = [.. links[v.Id]],
                Notices = [.. notices[v.Id]],
                SkippedSteps = [.. skipped[v.Id]],
                Facings = [.. facings[v.Id]],
            })
            .ToList();
        var faults = await Those<Fault>();
        var snapshots = (await Those<Snapshot>())
            .Select(s => new FileSnapshot(s) { Values = [.. values[s.Id].Select(v => new SettingValue(v.Code, v.Value))] })
            .ToList();
        var photographs = new List<FilePhotograph>();
        foreach (var p in await Those<Photograph>())
        {
            var isHere = pictures.IsHere(p);
            photographs.Add(
                new FilePhotograph(p)
                {
                    Data = withPictures && isHere ? await File.ReadAllBytesAsync(pictures.FileOf(p.Hash, p.Format), cancel) : null,
                    IsGone = !isHere,
                    Places = [.. places[p.Id]],
                }
            );
        }

        var notes = await Those<Note>();
        var boardNotes = await Those<BoardNote>();
        var namedPlaces = await Those<NamedPlace>();
        var causes = faults.Select(f => f.Cause).OfType<string>().ToHashSet();
        return new MachineFile(
            MachineFile.FormatName,
            MachineFile.CurrentVersion,
            await context.People.AsNoTracking().Where(p => signed.Contains(p.Id)).OrderBy(p => p.Name).ToListAsync(cancel),
            await context.Causes.AsNoTracking().Where(c => causes.Contains(c.Id)).OrderBy(c => c.Id).ToListAsync(cancel),
            boardTypes,
            [.. settings.Select(d => new FileSetting(d.OwnerId, SettingEndpoints.Definition(d)))],
            model,
            machine,
            visits,
            faults,
            snapshots,
            photographs,
            notes
        )
        {
            BoardNotes = boardNotes,
            NamedPlaces = namedPlaces,
        };
    }
}
