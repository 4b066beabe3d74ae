using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Server.Codes;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <param name="Done">Steps done of <paramref name="Of"/>.</param>
/// <param name="What">What is being taken in, in words.</param>
public sealed record ImportProgress(int Done, int Of, string What);

/// <summary>Takes in a machine file as one transaction: all of it or nothing.</summary>
public sealed class MachineFileImport(LedgerContext context, BookWriter writer, MachineLibrary library, PictureFiles pictures)
{
    private const int ReadingsAtOnce = 1000;

    /// <summary>Reads and checks a machine file; nothing is written.</summary>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static async Task<MachineFile> Understand(Stream stream, CancellationToken cancel)
    {
        var file = await Read(stream, cancel);
        Validate(file);
        return file;
    }

    /// <summary>The board types and the model of a file, each by name: whether the ledger has it with other contents; null where it has it not.</summary>
    public async Task<IReadOnlyList<(string Name, bool? Differs)>> Shared(MachineFile file, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(file);
        var shared = new List<(string, bool?)>();
        foreach (var type in file.BoardTypes)
        {
            shared.Add(($"Board type {type.PartNumber} rev {type.Revision}", await context.BoardTypes.AnyAsync(b => b.Id == type.Id, cancel) ? !Same(await library.BoardType(type.Id, cancel), type) : null));
        }

        shared.Add(($"Model {file.Model.Name}", await context.Models.AnyAsync(m => m.Id == file.Model.Id, cancel) ? !Same(await library.Model(file.Model.Id, cancel), file.Model) : null));
        return shared;
    }

    /// <param name="progress">Told as it goes on; null where nobody listens.</param>
    /// <param name="beside">Pictures that came beside the file, by name; null where they are in it.</param>
    /// <returns>The id of the machine taken in.</returns>
    /// <exception cref="ProblemException">Names what is wrong and where; nothing was written.</exception>
    /// <exception cref="OperationCanceledException">Nothing was written.</exception>
    public async Task<string> Import(Stream stream, Func<ImportProgress, Task>? progress, CancellationToken cancel, IReadOnlyDictionary<string, byte[]>? beside = null)
    {
        var file = await Understand(stream, cancel);
        var newFiles = new List<string>();
        try
        {
            await using var transaction = await context.Database.BeginTransactionAsync(cancel);
            await RefuseWhatIsHere(file, cancel);
            var readings = file.Visits.SelectMany(v => v.Rounds.SelectMany(r => r.Readings.Select(reading => (r.Id, reading)))).ToList();
            var steps = 2 + readings.Count + file.Photographs.Count;
            Task Tell(int done, string what) => progress?.Invoke(new ImportProgress(done, steps, what)) ?? Task.CompletedTask;
            await Tell(0, "boards and wiring");
            await TakeRecord(file, cancel);
            await Tell(1, "visits and faults");
            TakeVisits(file);
            await context.SaveChangesAsync(cancel);
            foreach (var (i, chunk) in readings.Chunk(ReadingsAtOnce).Index())
            {
                await Tell(2 + (i * ReadingsAtOnce), "readings");
                context.ChangeTracker.Clear();
                context.Readings.AddRange(chunk.Select(r => Record(r.Id, r.reading)));
                await context.SaveChangesAsync(cancel);
            }

            context.ChangeTracker.Clear();
            await TakeSettings(file, cancel);
            foreach (var (i, photograph) in file.Photographs.Index())
            {
                await Tell(2 + readings.Count + i, "photographs");
                await TakePhotograph(file.Machine.Id, photograph.Data is null && beside?.GetValueOrDefault($"{photograph.Hash}.{photograph.Format}") is { } picture ? photograph with { Data = picture } : photograph, newFiles, cancel);
            }

            context.Notes.AddRange(file.Notes.Select(n => new NoteRecord { Id = n.Id, MachineId = file.Machine.Id, VisitId = n.VisitId, Text = n.Text, At = n.At, PersonId = n.PersonId }));
            context.BoardNotes.AddRange(file.BoardNotes.Select(n => new BoardNoteRecord
            {
                Id = n.Id,
                MachineId = file.Machine.Id,
                PositionId = n.PositionId,
                VisitId = n.VisitId,
                Kind = n.Kind,
                ElementId = n.Place.ElementId,
                PinId = n.Place.PinId,
                X = n.Place.X,
                Y = n.Place.Y,
                Text = n.Text,
                Reason = n.Reason,
                PhotographId = n.PhotographId,
                At = n.At,
                PersonId = n.PersonId,
            }));
            await context.SaveChangesAsync(cancel);
            await transaction.CommitAsync(cancel);
            await Tell(steps, "done");
            return file.Machine.Id;
        }
        catch (Exception failure)
        {
            newFiles.ForEach(File.Delete);
            if (failure is DbUpdateException and not DbUpdateConcurrencyException)
            {
                throw ProblemException.Conflict($"Something that belongs to {file.Machine.Tag} is in the ledger already under the same id; nothing was taken in.");
            }

            throw;
        }
    }

    private async Task TakeRecord(MachineFile file, CancellationToken cancel)
    {
        foreach (var person in file.People)
        {
            if (await context.People.FindAsync([person.Id], cancel) is null)
            {
                context.People.Add(new PersonRecord { Id = person.Id, Name = person.Name });
            }
        }

        foreach (var cause in file.Causes)
        {
            if (await context.Causes.FindAsync([cause.Id], cancel) is null)
            {
                context.Causes.Add(new CauseRecord { Id = cause.Id, Words = cause.Words, Ordinal = 50 });
            }
        }

        foreach (var type in file.BoardTypes)
        {
            writer.Write(type, before: null);
        }

        foreach (var (ordinal, setting) in file.Settings.Index())
        {
            var d = setting.Definition;
            if (await context.Settings.FindAsync([setting.BoardTypeId, d.Id], cancel) is null)
            {
                context.Settings.Add(new SettingRecord
                {
                    OwnerId = setting.BoardTypeId,
                    Id = d.Id,
                    Ordinal = ordinal,
                    Code = d.Code,
                    Name = d.Name,
                    Kind = d.Kind,
                    Unit = d.Unit,
                    Min = d.Min,
                    Max = d.Max,
                    Choices = string.Join('\n', d.Choices),
                    Default = d.Default,
                    Firmware = d.Firmware,
                });
            }
        }

        writer.Write(file.Model);
        writer.Write(file.Machine);
        await context.SaveChangesAsync(cancel);
    }

    private void TakeVisits(MachineFile file)
    {
        foreach (var visit in file.Visits)
        {
            context.Visits.Add(new VisitRecord
            {
                Id = visit.Id,
                MachineId = file.Machine.Id,
                Complaint = visit.Complaint,
                PersonId = visit.PersonId,
                OpenedAt = visit.OpenedAt,
                EndedAt = visit.EndedAt,
                Ending = visit.Ending,
                EndingNote = visit.EndingNote,
                Left = string.Join('\n', visit.Left),
                Bring = string.Join('\n', visit.Bring),
                TravelMinutes = visit.TravelMinutes,
                LabourMinutes = visit.LabourMinutes,
                Agreed = visit.Agreed,
                AgreedAt = visit.AgreedAt,
                Warranty = visit.Warranty,
            });
            context.Rounds.AddRange(visit.Rounds.Select(r => new RoundRecord { Id = r.Id, VisitId = visit.Id, StartedAt = r.StartedAt }));
            TakeCare(file.Machine, visit);
            context.SupportCalls.AddRange(visit.Calls.Select(c => new SupportCallRecord { Id = c.Id, VisitId = visit.Id, PersonId = c.PersonId, At = c.At, CaseNumber = c.CaseNumber, Said = c.Said }));
        }

        context.Faults.AddRange(file.Faults.Select(f => new FaultRecord
        {
            Id = f.Id,
            MachineId = file.Machine.Id,
            VisitId = f.VisitId,
            RoundId = f.RoundId,
            PersonId = f.PersonId,
            OpenedAt = f.OpenedAt,
            Noticed = f.Noticed,
            Found = f.Found,
            Evidence = f.Evidence,
            Cause = f.Cause,
            Proof = f.Proof,
            Done = f.Done,
            Parts = string.Join('\n', f.Parts),
            Deviation = f.Deviation,
            Minutes = f.Minutes,
            Warranty = f.Warranty,
            Held = f.Held,
            PreviousId = f.PreviousId,
            ClosedAt = f.ClosedAt,
        }));
    }

    /// <summary>What was done to arrive and make safe.</summary>
    private void TakeCare(Machine machine, FileVisit visit)
    {
        context.Observations.AddRange(visit.Observations.Select(o => new ObservationRecord { Id = o.Id, VisitId = visit.Id, Kind = o.Kind, Text = o.Text, At = o.At, PersonId = o.PersonId, DoneAt = o.DoneAt, PhotographId = o.PhotographId }));
        context.Facings.AddRange(visit.Facings.Select(f => new FacingRecord { OwnerId = visit.Id, Id = f.PositionId, Turns = f.Turns, Side = f.Side }));
        context.OutsideAnswers.AddRange(visit.OutsideAnswers.Select(a => new OutsideAnswerRecord { Id = a.Id, VisitId = visit.Id, ModelId = machine.ModelId, CheckId = a.CheckId, Answer = a.Answer, Held = a.Held, WasIt = a.WasIt, Minutes = a.Minutes, Order = a.Order, At = a.At, PersonId = a.PersonId }));
        context.SafetyEvents.AddRange(visit.SafetyEvents.Select(e => new SafetyEventRecord { Id = e.Id, VisitId = visit.Id, Order = e.Order, Kind = e.Kind, Subject = e.Subject, Typed = e.Typed, Volts = SafetyBook.Volts(e.Kind, e.Subject, e.Typed), Words = e.Words, Target = e.Target, DeviceTime = e.DeviceTime, ServerTime = e.ServerTime, PersonId = e.PersonId }));
        context.TemporaryLinks.AddRange(visit.TemporaryLinks.Select(l => new TemporaryLinkRecord
        {
            Id = l.Id,
            MachineId = machine.Id,
            VisitId = visit.Id,
            Kind = l.Kind,
            FromHolder = l.From?.Holder,
            FromPin = l.From?.Pin,
            ToHolder = l.To?.Holder,
            ToPin = l.To?.Pin,
            Where = l.Where,
            Why = l.Why,
            Attended = l.Attended,
            Until = l.Until,
            PlacedAt = l.PlacedAt,
            PersonId = l.PersonId,
            RemovedAt = l.RemovedAt,
            RemovedById = l.RemovedById,
        }));
        context.LifeSafetyNotices.AddRange(visit.Notices.Select(n => new LifeSafetyNoticeRecord { Id = n.Id, MachineId = machine.Id, VisitId = visit.Id, Told = n.Told, Watching = n.Watching, Until = n.Until, At = n.At, PersonId = n.PersonId, BackAt = n.BackAt }));
        context.SkippedSteps.AddRange(visit.SkippedSteps.Select(s => new SkippedStepRecord { OwnerId = visit.Id, Id = s.Step.ToString(), Reason = s.Reason, PersonId = s.PersonId, At = s.At }));
    }

    private async Task TakeSettings(MachineFile file, CancellationToken cancel)
    {
        foreach (var s in file.Snapshots)
        {
            context.Snapshots.Add(new SnapshotRecord { Id = s.Id, MachineId = file.Machine.Id, FittedBoardId = s.FittedBoardId, VisitId = s.VisitId, Kind = s.Kind, TakenAt = s.TakenAt, PersonId = s.PersonId, Firmware = s.Firmware, Note = s.Note });
            context.SettingValues.AddRange(s.Values.Select((v, i) => new SettingValueRecord { OwnerId = s.Id, Id = v.Code, Value = v.Value, Ordinal = i }));
        }

        await context.SaveChangesAsync(cancel);
    }

    private async Task TakePhotograph(string machineId, FilePhotograph p, List<string> newFiles, CancellationToken cancel)
    {
        var picture = p.Data is { } data
            ? await pictures.KeepFromFile(data, p.Hash, newFiles, cancel)
            : pictures.Known(p.Hash, p.Format) ?? throw ProblemException.Bad($"photographs {p.Id}", $"The picture {p.Hash} is neither in the file nor in the ledger.");
        context.Photographs.Add(new PhotographRecord
        {
            Id = p.Id,
            MachineId = machineId,
            VisitId = p.VisitId,
            PositionId = p.PositionId,
            SnapshotId = p.SnapshotId,
            Kind = p.Kind,
            Caption = p.Caption,
            TakenAt = p.TakenAt,
            PersonId = p.PersonId,
            Hash = picture.Hash,
            Format = picture.Format,
            Width = picture.Width,
            Height = picture.Height,
            Bytes = picture.Bytes,
            Points = JsonSerializer.Serialize(p.Points, MachineFile.OneLine),
        });
        context.Places.AddRange(p.Places.Select(x => new PlaceRecord { Id = x.Id, PhotographId = p.Id, X = x.X, Y = x.Y, Number = x.Number, Name = x.Name, Note = x.Note, PositionId = x.PositionId, PinId = x.PinId }));
    }

    private static async Task<MachineFile> Read(Stream stream, CancellationToken cancel)
    {
        try
        {
            using var text = await JsonDocument.ParseAsync(stream, cancellationToken: cancel);
            if (text.RootElement.ValueKind != JsonValueKind.Object || !text.RootElement.TryGetProperty("format", out var format) || format.GetString() != MachineFile.FormatName)
            {
                throw ProblemException.Bad("format", $"This is not a machine file; it should begin with \"format\": \"{MachineFile.FormatName}\".");
            }

            if (!text.RootElement.TryGetProperty("version", out var version) || !version.TryGetInt32(out var number) || number < 1)
            {
                throw ProblemException.Bad("version", "The file states no version.");
            }

            return number <= MachineFile.CurrentVersion
                ? text.RootElement.Deserialize<MachineFile>(MachineFile.Json)!
                : throw ProblemException.Bad("version", $"The file is of version {number}; this ledger reads up to version {MachineFile.CurrentVersion}. Update the ledger first.");
        }
        catch (Exception broken) when (broken is JsonException or InvalidOperationException)
        {
            throw ProblemException.Bad((broken as JsonException)?.Path ?? "$", $"The machine file is not understood: {broken.Message}");
        }
    }

    /// <summary>A board type or model that is here already must be the same; a machine that is here is never overwritten.</summary>
    private async Task RefuseWhatIsHere(MachineFile file, CancellationToken cancel)
    {
        if (await context.Machines.AnyAsync(m => m.Id == file.Machine.Id || m.Tag == file.Machine.Tag, cancel))
        {
            throw ProblemException.Conflict($"{file.Machine.Tag} is in the ledger already.");
        }

        foreach (var (name, differs) in await Shared(file, cancel))
        {
            if (differs == true)
            {
                throw ProblemException.Conflict($"{name} is in the ledger with other contents.");
            }
        }
    }

    private static bool Same<T>(T one, T other) => JsonSerializer.Serialize(one, MachineFile.Json) == JsonSerializer.Serialize(other, MachineFile.Json);

    private static void Validate(MachineFile file)
    {
        var people = Unique("people", file.People.Select(p => p.Id));
        var types = Unique("boardTypes", file.BoardTypes.Select(b => b.Id));
        foreach (var (i, type) in file.BoardTypes.Index())
        {
            ValidateBoard($"boardTypes[{i}]", type);
        }

        Require("model.positions", file.Model.Positions.Select(p => p.BoardTypeId), types, "board type");
        Unique("model.positions and parts", file.Model.Positions.Select(p => p.Id).Concat(file.Model.Parts.Select(p => p.Id)));
        Unique("model.states", file.Model.States.Select(s => s.Code));
        Unique("model.links", file.Model.Links.Select(l => l.Id));
        Unique("model.checks", file.Model.Checks.Select(c => c.Id));
        foreach (var part in file.Model.Parts)
        {
            Unique($"pins of {part.Designator}", part.Pins.Select(p => p.Id));
        }

        Require("machine.modelId", [file.Machine.ModelId], [file.Model.Id], "model");
        Require("machine.boards", file.Machine.Boards.Select(b => b.BoardTypeId), types, "board type");
        Require("machine.boards", file.Machine.Boards.Select(b => b.PositionId), [.. file.Model.Positions.Select(p => p.Id)], "position");
        if (ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id)).Problems is [var problem, ..])
        {
            throw ProblemException.Bad("model", $"The wiring in the file does not fit together: {problem}.");
        }

        ValidateCare(file, people, types);
        var visits = Unique("visits", file.Visits.Select(v => v.Id));
        var rounds = Unique("rounds", file.Visits.SelectMany(v => v.Rounds).Select(r => r.Id));
        var readings = file.Visits.SelectMany(v => v.Rounds).SelectMany(r => r.Readings).ToList();
        Unique("readings", readings.Select(r => r.Id));
        Unique("faults", file.Faults.Select(f => f.Id));
        Require("visits", file.Visits.Select(v => v.PersonId), people, "person");
        Require("readings", readings.Select(r => r.PersonId), people, "person");
        Require("faults", file.Faults.Select(f => f.PersonId), people, "person");
        Require("faults", file.Faults.Select(f => f.VisitId).OfType<string>(), visits, "visit");
        Require("faults", file.Faults.Select(f => f.RoundId).OfType<string>(), rounds, "round");
        var causes = file.Causes.Select(c => c.Id).Concat(Storage.Database.CommonCauses.Select(c => c.Id)).ToHashSet();
        var snapshots = Unique("snapshots", file.Snapshots.Select(x => x.Id));
        Unique("photographs", file.Photographs.Select(p => p.Id));
        Unique("places", file.Photographs.SelectMany(p => p.Places).Select(p => p.Id));
        Unique("notes", file.Notes.Select(n => n.Id));
        Unique("settings", file.Settings.Select(d => d.Definition.Id));
        Require("faults", file.Faults.Select(f => f.Cause).OfType<string>(), causes, "cause");
        Require("faults", file.Faults.Select(f => f.PreviousId).OfType<string>(), [.. file.Faults.Select(f => f.Id)], "fault");
        Require("settings", file.Settings.Select(d => d.BoardTypeId), types, "board type");
        Require("snapshots", file.Snapshots.Select(x => x.FittedBoardId), [.. file.Machine.Boards.Select(b => b.Id)], "fitted board");
        Require("snapshots", file.Snapshots.Select(x => x.VisitId).Concat(file.Photographs.Select(p => p.VisitId)).Concat(file.Notes.Select(n => n.VisitId)).OfType<string>(), visits, "visit");
        Require("photographs", file.Photographs.Select(p => p.SnapshotId).OfType<string>(), snapshots, "snapshot");
        Require("snapshots, photographs, notes, calls", file.Snapshots.Select(x => x.PersonId).Concat(file.Photographs.Select(p => p.PersonId)).Concat(file.Notes.Select(n => n.PersonId)).Concat(file.Visits.SelectMany(v => v.Calls).Select(c => c.PersonId)), people, "person");
        ValidateLook(file, people, visits);
        foreach (var snapshot in file.Snapshots)
        {
            Unique($"snapshot {snapshot.Id}", snapshot.Values.Select(v => v.Code));
        }

        if (file.Photographs.SelectMany(p => p.Places).FirstOrDefault(p => p.X is not (>= 0 and <= 1) || p.Y is not (>= 0 and <= 1)) is { } off)
        {
            throw ProblemException.Bad($"place {off.Id}", "A place lies on the picture: from 0 to 1 across and down.");
        }

        foreach (var reading in readings)
        {
            ValidateReading(reading);
        }
    }

    private static void ValidateCare(MachineFile file, HashSet<string> people, HashSet<string> types)
    {
        SheetRules.Check(file.Model.Variants);
        SheetRules.Check(file.Model.Safety);
        SheetRules.Check(file.Model.Outside);
        Require("model.variants", file.Model.Variants.Variants.SelectMany(v => v.Boards).SelectMany(b => b.BoardTypes), types, "board type");
        Require("model.variants", file.Model.Variants.Variants.SelectMany(v => v.Boards).Select(b => b.Position), [.. file.Model.Positions.Select(p => p.Id)], "position");
        var resolved = ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id));
        foreach (var visit in file.Visits)
        {
            Require($"visit {visit.Id}", visit.Observations.Select(o => o.PersonId).Concat(visit.OutsideAnswers.Select(a => a.PersonId)).Concat(visit.SafetyEvents.Select(e => e.PersonId))
                .Concat(visit.TemporaryLinks.SelectMany(l => (string?[])[l.PersonId, l.RemovedById]).OfType<string>()).Concat(visit.Notices.Select(n => n.PersonId)).Concat(visit.SkippedSteps.Select(s => s.PersonId)), people, "person");
            foreach (var act in visit.SafetyEvents)
            {
                SafetyBook.Volts(act.Kind, act.Subject, act.Typed);
            }

            foreach (var link in visit.TemporaryLinks.Where(l => l.RemovedAt is null))
            {
                SafetyBook.RefuseBypass(new TemporaryLinkPlan(link.Kind, link.From, link.To, link.Where, null), resolved);
            }
        }

        Unique("observations", file.Visits.SelectMany(v => v.Observations).Select(o => o.Id));
        Unique("outsideAnswers", file.Visits.SelectMany(v => v.OutsideAnswers).Select(a => a.Id));
        Unique("safetyEvents", file.Visits.SelectMany(v => v.SafetyEvents).Select(a => a.Id));
        Unique("temporaryLinks", file.Visits.SelectMany(v => v.TemporaryLinks).Select(a => a.Id));
        Unique("notices", file.Visits.SelectMany(v => v.Notices).Select(a => a.Id));
    }

    private static void ValidateLook(MachineFile file, HashSet<string> people, HashSet<string> visits)
    {
        Unique("boardNotes", file.BoardNotes.Select(n => n.Id));
        Require("boardNotes", file.BoardNotes.Select(n => n.PersonId), people, "person");
        Require("boardNotes", file.BoardNotes.Select(n => n.VisitId).OfType<string>(), visits, "visit");
        HashSet<string> positions = [.. file.Model.Positions.Select(p => p.Id)];
        Require("boardNotes", file.BoardNotes.Select(n => n.PositionId), positions, "position");
        Require("facings", file.Visits.SelectMany(v => v.Facings).Select(f => f.PositionId), positions, "position");
        Require("boardNotes and observations", file.BoardNotes.Select(n => n.PhotographId).Concat(file.Visits.SelectMany(v => v.Observations).Select(o => o.PhotographId)).OfType<string>(), [.. file.Photographs.Select(p => p.Id)], "photograph");
        foreach (var visit in file.Visits)
        {
            Unique($"facings of visit {visit.Id}", visit.Facings.Select(f => f.PositionId));
            if (visit.Facings.FirstOrDefault(f => f.Turns is < 0 or > 3) is { } turned)
            {
                throw ProblemException.Bad($"visit {visit.Id}.facings", $"A board is turned by 0 to 3 quarters, not {turned.Turns}.");
            }
        }

        foreach (var photograph in file.Photographs)
        {
            OverlayEndpoints.Check($"photograph {photograph.Id}", photograph.Points);
        }

        foreach (var type in file.BoardTypes)
        {
            CodeEndpoints.Check(type.Codes);
        }
    }

    private static void ValidateBoard(string at, BoardType type)
    {
        Unique($"{at}.elements", type.Elements.Select(e => e.Id));
        Unique($"designators of {at}", type.Elements.Select(e => e.Designator));
        Unique($"pins of {at}", type.Elements.SelectMany(e => e.Pins).Select(p => p.Id));
        Unique($"{at}.links", type.Links.Select(l => l.Id));
        Unique($"{at}.checks", type.Checks.Select(c => c.Id));
        if (type.Elements.FirstOrDefault(e => e.Rows < 1 || e.PitchMm <= 0 || e.Pins.Any(p => p.Index < 1)) is { } broken)
        {
            throw ProblemException.Bad($"{at}.elements", $"{broken.Designator} needs at least one row, a pitch above 0 mm, and pin indices from 1.");
        }
    }

    private static void ValidateReading(FileReading reading)
    {
        try
        {
            if (reading.Kind == EntryKind.Taken && reading.Choice >= ReadingNotation.Read(reading.Typed, reading.Mode).Choices.Count)
            {
                throw ProblemException.Bad($"reading {reading.Id}.choice", $"\"{reading.Typed}\" has no choice {reading.Choice}.");
            }
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation($"reading {reading.Id}.typed", refusal);
        }
    }

    private static HashSet<string> Unique(string at, IEnumerable<string> ids)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var id in ids)
        {
            if (id.Length is 0 or > 64)
            {
                throw ProblemException.Bad(at, $"An id in {at} is empty or longer than 64 signs.");
            }

            if (!seen.Add(id))
            {
                throw ProblemException.Bad(at, $"\"{id}\" stands twice in {at}.");
            }
        }

        return seen;
    }

    private static void Require(string at, IEnumerable<string> ids, HashSet<string> known, string what)
    {
        if (ids.FirstOrDefault(id => !known.Contains(id)) is { } missing)
        {
            throw ProblemException.Bad(at, $"{at} names a {what} that is not in the file: \"{missing}\".");
        }
    }

    private static ReadingRecord Record(string roundId, FileReading r)
    {
        var record = new ReadingRecord
        {
            Id = r.Id,
            RoundId = roundId,
            Order = r.Order,
            Kind = r.Kind,
            CheckKey = r.CheckKey,
            RedHolder = r.RedHolder,
            RedPin = r.RedPin,
            BlackHolder = r.BlackHolder,
            BlackPin = r.BlackPin,
            RedPrinted = r.RedPrinted,
            BlackPrinted = r.BlackPrinted,
            Mode = r.Mode,
            State = r.State,
            Plugged = r.Plugged,
            Limit = r.Limit is null ? null : LimitNotation.Write(r.Limit),
            TolerancePercent = r.Tolerance.Percent,
            ToleranceVolts = r.Tolerance.Volts,
            ToleranceOhms = r.Tolerance.Ohms,
            Typed = r.Typed,
            Choice = r.Choice,
            Supersedes = r.Supersedes,
            Target = r.Target,
            Reason = r.Reason,
            DeviceTime = r.DeviceTime,
            ServerTime = r.ServerTime,
            PersonId = r.PersonId,
            Meter = r.Meter,
            Condition = r.Condition,
        };
        record.Value = RoundBook.EntryOf(record).Value?.Written;
        return record;
    }
}
