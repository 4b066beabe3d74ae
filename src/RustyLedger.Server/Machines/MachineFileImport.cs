using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Server.Codes;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <param name="Done">Steps done of <paramref name="Of"/>.</param>
/// <param name="What">What is being taken in, in words.</param>
public sealed record ImportProgress(int Done, int Of, string What);

/// <summary>Takes in a machine file as one transaction: all of it or nothing.</summary>
public sealed class MachineFileImport(
    LedgerContext context,
    BookWriter writer,
    MachineLibrary library,
    PictureFiles pictures,
    TimeProvider clock
)
{
    private const int ReadingsAtOnce = 1000;

    /// <summary>Reads and checks a machine file; nothing is written.</summary>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static async Task<MachineFile> Understand(Stream stream, CancellationToken cancel)
    {
        var file = await Read<MachineFile>(stream, MachineFile.FormatName, MachineFile.CurrentVersion, "machine file", cancel);
        Validate(file);
        return file;
    }

    /// <summary>Reads and checks a library file; nothing is written.</summary>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static async Task<LibraryFile> UnderstandLibrary(Stream stream, CancellationToken cancel)
    {
        var file = await Read<LibraryFile>(stream, LibraryFile.FormatName, LibraryFile.CurrentVersion, "library file", cancel);
        var types = ValidateBoards(file.BoardTypes, file.Settings, file.Model);
        if (file.Model is { } model)
        {
            ValidateSheets(model, types);
            // A machine nobody has yet shows whether the wiring fits.
            ValidateWiring(new Machine("new", "", "", model.Id, "", "", "", "", "", [], []), model, file.BoardTypes);
        }

        return file;
    }

    /// <summary>
    /// The board types and the model of a file, each by name: whether the ledger has it with other contents; null where it has it not.
    /// </summary>
    public async Task<IReadOnlyList<(string Name, bool? Differs)>> Shared(MachineFile file, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(file);
        var shared = new List<(string, bool?)>();
        foreach (var type in file.BoardTypes)
        {
            shared.Add(
                (
                    $"Board type {type.Printed}",
                    await context.BoardTypes.AnyAsync(b => b.Id == type.Id, cancel)
                        ? !Same(await library.BoardType(type.Id, cancel), type)
                        : null
                )
            );
        }

        shared.Add(
            (
                $"Model {file.Model.Name}",
                await context.Models.AnyAsync(m => m.Id == file.Model.Id, cancel)
                    ? !Same(await library.Model(file.Model.Id, cancel), file.Model)
                    : null
            )
        );
        return shared;
    }

    /// <param name="progress">Told as it goes on; null where nobody listens.</param>
    /// <returns>The id of the machine taken in.</returns>
    /// <exception cref="ProblemException">Names what is wrong and where; nothing was written.</exception>
    /// <exception cref="OperationCanceledException">Nothing was written.</exception>
    public async Task<string> Import(Stream stream, Func<ImportProgress, Task>? progress, CancellationToken cancel)
    {
        var file = await Understand(stream, cancel);
        await RefuseWhatIsHere(file, cancel);
        await Whole(
            file.Machine.Tag,
            Book.Of(file),
            picture: null,
            progress,
            async kept =>
            {
                await RefuseWhatIsHere(file, cancel);
                // A board type that is here keeps the settings it has.
                var types = file.Settings.Select(s => s.BoardTypeId).ToHashSet();
                var known = (
                    await context
                        .Settings.AsNoTracking()
                        .Where(s => types.Contains(s.OwnerId))
                        .Select(s => new { s.OwnerId, s.Id })
                        .ToListAsync(cancel)
                ).ToHashSet();
                await Write(
                    Book.Of(file) with
                    {
                        Settings = [.. file.Settings.Where(s => !known.Contains(new { OwnerId = s.BoardTypeId, s.Definition.Id }))],
                    },
                    before: null,
                    kept,
                    progress,
                    cancel
                );
            },
            cancel
        );
        return file.Machine.Id;
    }

    /// <summary>
    /// Does all of it or nothing: what was written to the book and which picture files are new is taken back when it fails.
    /// Pictures are looked through before the book is locked, so that nobody's reading waits for them.
    /// </summary>
    /// <param name="picture">Gives a picture that came beside the file, by its name; null where it has none.</param>
    /// <param name="write">Is given the pictures by the photographs' ids.</param>
    internal async Task Whole(
        string what,
        Book book,
        Func<string, byte[]?>? picture,
        Func<ImportProgress, Task>? progress,
        Func<IReadOnlyDictionary<string, Picture>, Task> write,
        CancellationToken cancel
    )
    {
        var newFiles = new List<string>();
        try
        {
            var kept = new Dictionary<string, Picture>();
            foreach (var (i, photograph) in (book.Machine?.Photographs ?? []).Index())
            {
                await Tell(progress, book, i, "photographs");
                kept[photograph.Id] = await Keep(photograph, picture, newFiles, cancel);
            }

            await using var transaction = await context.Database.BeginTransactionAsync(cancel);
            await write(kept);
            await transaction.CommitAsync(cancel);
            await Tell(progress, book, StepsOf(book), "done");
        }
        catch (Exception failure)
        {
            newFiles.ForEach(File.Delete);
            if (failure is DbUpdateException and not DbUpdateConcurrencyException)
            {
                throw ProblemException.Conflict(
                    $"Something that belongs to {what} is in the ledger already under the same id; nothing was taken in."
                );
            }

            throw;
        }
    }

    private static int StepsOf(Book book) =>
        (book.Machine?.Photographs.Count ?? 0) + 2 + (book.Machine?.Visits.SelectMany(v => v.Rounds).Sum(r => r.Readings.Count) ?? 0);

    private static Task Tell(Func<ImportProgress, Task>? progress, Book book, int done, string what) =>
        progress?.Invoke(new ImportProgress(done, StepsOf(book), what)) ?? Task.CompletedTask;

    /// <summary>Writes a book: what is new, what differs from before, and what is no longer there.</summary>
    /// <param name="before">What the ledger has of it; null where it has none of the machine and the same of all else.</param>
    /// <param name="kept">The pictures, by the photographs' ids; of those that were here before, only where they stay.</param>
    internal async Task Write(
        Book book,
        Book? before,
        IReadOnlyDictionary<string, Picture> kept,
        Func<ImportProgress, Task>? progress,
        CancellationToken cancel
    )
    {
        var file = book.Machine;
        var begun = file?.Photographs.Count ?? 0;
        await Tell(progress, book, begun, "boards and wiring");
        await WriteBoards(book, before, cancel);
        if (file is null)
        {
            return;
        }

        await Tell(progress, book, begun + 1, "visits and faults");
        await Lay(MachineRecords.Of(file), before?.Machine is { } wasFile ? MachineRecords.Of(wasFile) : null, cancel);
        var here = (before?.Machine?.Visits ?? []).SelectMany(v => v.Rounds).SelectMany(r => r.Readings).Select(r => r.Id).ToHashSet();
        var readings = file.Visits.SelectMany(v =>
            v.Rounds.SelectMany(r => r.Readings.Where(reading => !here.Contains(reading.Id)).Select(reading => (r.Id, Reading: reading)))
        );
        foreach (var (i, chunk) in readings.Chunk(ReadingsAtOnce).Index())
        {
            await Tell(progress, book, begun + 2 + (i * ReadingsAtOnce), "readings");
            context.ChangeTracker.Clear();
            context.Readings.AddRange(chunk.Select(r => MachineRecords.Of(r.Id, r.Reading)));
            await context.SaveChangesAsync(cancel);
        }

        context.ChangeTracker.Clear();
        await Lay(Photographs(file, kept), before?.Machine is { } was ? Photographs(was, kept) : null, cancel);
    }

    private IEnumerable<object> Photographs(MachineFile file, IReadOnlyDictionary<string, Picture> kept) =>
        file.Photographs.SelectMany(p =>
            (
                kept.TryGetValue(p.Id, out var picture) && picture.Hash == p.Hash
                    ? picture
                    : pictures.Known(p.Hash, p.Format) ?? kept.GetValueOrDefault(p.Id)
            )
                is { } here
                ? Records(
                    file.Machine.Id,
                    p with
                    {
                        Hash = here.Hash,
                        Format = here.Format,
                        Width = here.Width,
                        Height = here.Height,
                    },
                    here.Bytes
                )
                : []
        );

    private static IEnumerable<object> Records(string machineId, FilePhotograph photograph, long bytes) =>
        [MachineRecords.Of(machineId, photograph, bytes), .. photograph.Places.Select(place => MachineRecords.Of(photograph.Id, place))];

    private async Task<Picture> Keep(
        FilePhotograph photograph,
        Func<string, byte[]?>? picture,
        List<string> newFiles,
        CancellationToken cancel
    ) =>
        photograph.Data is { } data ? await pictures.KeepFromFile(data, photograph.Hash, newFiles, cancel)
        : pictures.Known(photograph.Hash, photograph.Format) is { } known ? known
        : picture?.Invoke($"{photograph.Hash}.{photograph.Format}") is { } beside
            ? await pictures.KeepFromFile(beside, photograph.Hash, newFiles, cancel)
        : throw ProblemException.Bad(
            $"photographs {photograph.Id}",
            $"The picture {photograph.Hash} is neither in the file nor in the ledger."
        );

    private async Task WriteBoards(Book book, Book? before, CancellationToken cancel)
    {
        foreach (var person in book.Machine?.People ?? [])
        {
            if (await context.People.FindAsync([person.Id], cancel) is null)
            {
                context.People.Add(new PersonRecord { Id = person.Id, Name = person.Name });
            }
        }

        foreach (var cause in book.Machine?.Causes ?? [])
        {
            if (await context.Causes.FindAsync([cause.Id], cancel) is null)
            {
                context.Causes.Add(
                    new CauseRecord
                    {
                        Id = cause.Id,
                        Words = cause.Words,
                        Ordinal = 50,
                    }
                );
            }
        }

        foreach (var type in book.BoardTypes)
        {
            var was = before?.BoardTypes.FirstOrDefault(b => b.Id == type.Id);
            if (was is null || !Same(was, type))
            {
                writer.Write(type, was);
            }
        }

        writer.Write(book.Settings, before?.Settings);
        if (book.Model is { } model && (before?.Model is null || !Same(before.Model, model)))
        {
            writer.Write(model, before?.Model);
        }

        if (book.Machine is { } file && (before?.Machine is null || !Same(before.Machine.Machine, file.Machine)))
        {
            writer.Write(file.Machine, before?.Machine?.Machine);
        }

        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Adds, changes and retires records; those that are as they were are not touched.</summary>
    /// <param name="before">Null where the ledger has none of them.</param>
    private async Task Lay(IEnumerable<object> records, IEnumerable<object>? before, CancellationToken cancel)
    {
        if (before is null)
        {
            context.AddRange(records);
            await context.SaveChangesAsync(cancel);
            return;
        }

        static (Type, string) Name(object record) =>
            (record.GetType(), record is Editable editable ? LedgerContext.KeyOf(editable) : ((dynamic)record).Id);
        var known = before.ToDictionary(Name);
        foreach (var record in records)
        {
            if (
                known.Remove(Name(record), out var was)
                && JsonSerializer.Serialize(was, was.GetType()) == JsonSerializer.Serialize(record, record.GetType())
            )
            {
                continue;
            }

            // One that was retired comes back.
            if (record is Editable editable && await Find(editable, cancel) is { } here)
            {
                (editable.Version, editable.RetiredAt) = (here.Version, null);
                context.Entry(here).CurrentValues.SetValues(editable);
            }
            else
            {
                context.Add(record);
            }
        }

        foreach (var gone in known.Values.OfType<Editable>())
        {
            (await Find(gone, cancel))!.RetiredAt ??= clock.GetUtcNow();
        }

        await context.SaveChangesAsync(cancel);
    }

    private async Task<Editable?> Find(Editable record, CancellationToken cancel)
    {
        var key = context.Model.FindEntityType(record.GetType())!.FindPrimaryKey()!;
        return (Editable?)
            await context.FindAsync(record.GetType(), [.. key.Properties.Select(p => p.PropertyInfo!.GetValue(record))], cancel);
    }

    private static async Task<T> Read<T>(Stream stream, string formatName, int newest, string what, CancellationToken cancel)
    {
        try
        {
            using var text = await JsonDocument.ParseAsync(stream, cancellationToken: cancel);
            if (
                text.RootElement.ValueKind != JsonValueKind.Object
                || !text.RootElement.TryGetProperty("format", out var format)
                || format.GetString() != formatName
            )
            {
                throw ProblemException.Bad("format", $"This is not a {what}; it should begin with \"format\": \"{formatName}\".");
            }

            if (!text.RootElement.TryGetProperty("version", out var version) || !version.TryGetInt32(out var number) || number < 1)
            {
                throw ProblemException.Bad("version", "The file states no version.");
            }

            return number <= newest
                ? text.RootElement.Deserialize<T>(MachineFile.Json)!
                : throw ProblemException.Bad(
                    "version",
                    $"The file is of version {number}; this ledger reads up to version {newest}. Update the ledger first."
                );
        }
        catch (Exception broken) when (broken is JsonException or InvalidOperationException)
        {
            throw ProblemException.Bad((broken as JsonException)?.Path ?? "$", $"The {what} is not understood: {broken.Message}");
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

    private static bool Same<T>(T one, T other) =>
        JsonSerializer.Serialize(one, MachineFile.Json) == JsonSerializer.Serialize(other, MachineFile.Json);

    private static void Validate(MachineFile file)
    {
        var people = Unique("people", file.People.Select(p => p.Id));
        var types = ValidateBoards(file.BoardTypes, file.Settings, file.Model);
        Require("machine.modelId", [file.Machine.ModelId], [file.Model.Id], "model");
        Require("machine.boards", file.Machine.Boards.Select(b => b.BoardTypeId), types, "board type");
        Require("machine.boards", file.Machine.Boards.Select(b => b.PositionId), [.. file.Model.Positions.Select(p => p.Id)], "position");
        ValidateWiring(file.Machine, file.Model, file.BoardTypes);
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
        Require("faults", file.Faults.Select(f => f.Cause).OfType<string>(), causes, "cause");
        Require("faults", file.Faults.Select(f => f.PreviousId).OfType<string>(), [.. file.Faults.Select(f => f.Id)], "fault");
        Require("snapshots", file.Snapshots.Select(x => x.FittedBoardId), [.. file.Machine.Boards.Select(b => b.Id)], "fitted board");
        Require(
            "snapshots",
            file.Snapshots.Select(x => x.VisitId)
                .Concat(file.Photographs.Select(p => p.VisitId))
                .Concat(file.Notes.Select(n => n.VisitId))
                .OfType<string>(),
            visits,
            "visit"
        );
        Require("photographs", file.Photographs.Select(p => p.SnapshotId).OfType<string>(), snapshots, "snapshot");
        Require(
            "snapshots, photographs, notes, calls",
            file.Snapshots.Select(x => x.PersonId)
                .Concat(file.Photographs.Select(p => p.PersonId))
                .Concat(file.Notes.Select(n => n.PersonId))
                .Concat(file.Visits.SelectMany(v => v.Calls).Select(c => c.PersonId)),
            people,
            "person"
        );
        ValidateLook(file, people, visits);
        foreach (var snapshot in file.Snapshots)
        {
            Unique($"snapshot {snapshot.Id}", snapshot.Values.Select(v => v.Code));
        }

        if (
            file.Photographs.SelectMany(p => p.Places).FirstOrDefault(p => p.X is not (>= 0 and <= 1) || p.Y is not (>= 0 and <= 1)) is
            { } off
        )
        {
            throw ProblemException.Bad($"place {off.Id}", "A place lies on the picture: from 0 to 1 across and down.");
        }

        foreach (var reading in readings)
        {
            ValidateReading(reading);
        }
    }

    /// <returns>The ids of the board types.</returns>
    private static HashSet<string> ValidateBoards(IReadOnlyList<BoardType> boardTypes, IReadOnlyList<FileSetting> settings, Model? model)
    {
        var types = Unique("boardTypes", boardTypes.Select(b => b.Id));
        foreach (var (i, type) in boardTypes.Index())
        {
            ValidateBoard($"boardTypes[{i}]", type);
        }

        Unique("settings", settings.Select(d => $"{d.BoardTypeId}/{d.Definition.Id}"), mostSigns: 130);
        Require("settings", settings.Select(d => d.BoardTypeId), types, "board type");
        if (model is null)
        {
            return types;
        }

        Require("model.positions", model.Positions.Select(p => p.BoardTypeId), types, "board type");
        Unique("model.positions and parts", model.Positions.Select(p => p.Id).Concat(model.Parts.Select(p => p.Id)));
        Unique("model.states", model.States.Select(s => s.Code));
        Unique("model.links", model.Links.Select(l => l.Id));
        Unique("model.checks", model.Checks.Select(c => c.Id));
        foreach (var part in model.Parts)
        {
            Unique($"pins of {part.Designator}", part.Pins.Select(p => p.Id));
        }

        return types;
    }

    private static void ValidateWiring(Machine machine, Model model, IReadOnlyList<BoardType> boardTypes)
    {
        if (ResolvedMachine.Of(machine, model, boardTypes.ToDictionary(b => b.Id)).Problems is [var problem, ..])
        {
            throw ProblemException.Bad("model", $"The wiring in the file does not fit together: {problem}.");
        }
    }

    private static void ValidateSheets(Model model, HashSet<string> types)
    {
        SheetRules.Check(model.Variants);
        SheetRules.Check(model.Safety);
        SheetRules.Check(model.Outside);
        Require("model.variants", model.Variants.Variants.SelectMany(v => v.Boards).SelectMany(b => b.BoardTypes), types, "board type");
        Require(
            "model.variants",
            model.Variants.Variants.SelectMany(v => v.Boards).Select(b => b.Position),
            [.. model.Positions.Select(p => p.Id)],
            "position"
        );
    }

    private static void ValidateCare(MachineFile file, HashSet<string> people, HashSet<string> types)
    {
        ValidateSheets(file.Model, types);
        var resolved = ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id));
        foreach (var visit in file.Visits)
        {
            Require(
                $"visit {visit.Id}",
                visit
                    .Observations.Select(o => o.PersonId)
                    .Concat(visit.OutsideAnswers.Select(a => a.PersonId))
                    .Concat(visit.SafetyEvents.Select(e => e.PersonId))
                    .Concat(visit.TemporaryLinks.SelectMany(l => (string?[])[l.PersonId, l.RemovedById]).OfType<string>())
                    .Concat(visit.Notices.Select(n => n.PersonId))
                    .Concat(visit.SkippedSteps.Select(s => s.PersonId)),
                people,
                "person"
            );
            foreach (var act in visit.SafetyEvents)
            {
                SafetyBook.Volts(act.Kind, act.Subject, act.Typed);
            }

            foreach (var link in visit.TemporaryLinks.Where(l => l.RemovedAt is null))
            {
                SafetyBook.RefuseBypass(
                    new TemporaryLinkPlan(link.Kind, link.From, link.To, link.Where, link.Across, link.Standing),
                    resolved
                );
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
        Require(
            "boardNotes and observations",
            file.BoardNotes.Select(n => n.PhotographId)
                .Concat(file.Visits.SelectMany(v => v.Observations).Select(o => o.PhotographId))
                .OfType<string>(),
            [.. file.Photographs.Select(p => p.Id)],
            "photograph"
        );
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
            throw ProblemException.Bad(
                $"{at}.elements",
                $"{broken.Designator} needs at least one row, a pitch above 0 mm, and pin indices from 1."
            );
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

    private static HashSet<string> Unique(string at, IEnumerable<string> ids, int mostSigns = 64)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var id in ids)
        {
            if (id.Length == 0 || id.Length > mostSigns)
            {
                throw ProblemException.Bad(at, $"An id in {at} is empty or longer than {mostSigns} signs.");
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
}
