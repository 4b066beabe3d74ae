using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Settings;
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
    ResolvedMachines resolved,
    IServiceProvider services
)
{
    private const int ManyAtOnce = 1000;

    /// <summary>Reads and checks a machine file; nothing is written.</summary>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static async Task<MachineFile> Understand(Func<Stream> open, CancellationToken cancel)
    {
        var file = await Read<MachineFile>(open, MachineFile.FormatName, MachineFile.CurrentVersion, "machine file", cancel);
        Validate(file);
        return file;
    }

    /// <summary>Reads and checks a library file; nothing is written.</summary>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static async Task<LibraryFile> UnderstandLibrary(Func<Stream> open, CancellationToken cancel)
    {
        var file = await Read<LibraryFile>(open, LibraryFile.FormatName, LibraryFile.CurrentVersion, "library file", cancel);
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
    public async Task<MachineId> Import(Func<Stream> open, Func<ImportProgress, Task>? progress, CancellationToken cancel)
    {
        var file = await Understand(open, cancel);
        await RefuseWhatIsHere(file, cancel);
        await AddNew(
            file.Machine.Tag,
            Book.Of(file),
            picture: null,
            progress,
            () => RefuseWhatIsHere(file, cancel),
            () => Task.CompletedTask,
            cancel
        );
        return file.Machine.Id;
    }

    /// <summary>
    /// Adds a machine, a model or board types of which nothing is here, or only what is the same. All of it is written beside the book
    /// first, so that nobody's reading waits for it, and then moved in as a whole.
    /// </summary>
    /// <param name="refuse">Looks once more whether it may come in, where something was changed meanwhile.</param>
    /// <param name="settle">What is written into the book itself with it.</param>
    internal async Task AddNew(
        string what,
        Book book,
        Func<string, byte[]?>? picture,
        Func<ImportProgress, Task>? progress,
        Func<Task> refuse,
        Func<Task> settle,
        CancellationToken cancel
    )
    {
        if (SizeOf(book) <= MostAtOnce)
        {
            await AllOrNothing(
                what,
                book,
                picture,
                progress,
                async kept =>
                {
                    await refuse();
                    await Write(await WithoutKnownSettings(book, cancel), before: null, kept, progress, cancel);
                    await settle();
                    await context.SaveChangesAsync(cancel);
                },
                cancel
            );
            return;
        }

        var since = resolved.Changes;
        await WithPictures(
            what,
            book,
            picture,
            progress,
            kept =>
                services
                    .GetRequiredService<IBookStore>()
                    .Prepare(
                        context,
                        MayBeHere,
                        async options =>
                        {
                            await using var beside = ActivatorUtilities.CreateInstance<LedgerContext>(services, options);
                            await beside.Database.EnsureCreatedAsync(cancel);
                            var import = ActivatorUtilities.CreateInstance<MachineFileImport>(
                                services,
                                beside,
                                ActivatorUtilities.CreateInstance<BookWriter>(services, beside)
                            );
                            await import.Write(book, before: null, kept, progress, cancel);
                        },
                        async moveIn =>
                        {
                            if (since != resolved.Changes)
                            {
                                await refuse();
                            }

                            await moveIn();
                            context.Touch(book);
                            await settle();
                            await context.SaveChangesAsync(cancel);
                        },
                        cancel
                    ),
            cancel
        );
    }

    // So many pins, checks and readings are written in less time than a reading may wait.
    private const int MostAtOnce = 600;

    private static int SizeOf(Book book) =>
        book.BoardTypes.Sum(t => t.Elements.Sum(e => e.Pins.Count) + t.Checks.Count)
        + (book.Machine?.Visits.Sum(v => v.Rounds.Sum(r => r.Readings.Count)) ?? 0);

    /// <summary>A board type that is here keeps the settings it has.</summary>
    private async Task<Book> WithoutKnownSettings(Book book, CancellationToken cancel)
    {
        var types = book.Settings.Select(s => s.BoardTypeId).ToHashSet();
        var known = (
            await context
                .Settings.AsNoTracking()
                .Where(s => types.Contains(s.OwnerId))
                .Select(s => new { s.OwnerId, s.Id })
                .ToListAsync(cancel)
        ).ToHashSet();
        return book with
        {
            Settings =
            [
                .. book.Settings.Where(s =>
                    !known.Contains(new { OwnerId = s.BoardTypeId, Id = (Id<Core.Settings.SettingDefinition>)s.Definition.Id })
                ),
            ],
        };
    }

    /// <summary>What several machines have in common, and people and causes: those that are here stay as they are.</summary>
    private static readonly HashSet<Type> MayBeHere =
    [
        typeof(BoardTypeRecord),
        typeof(ElementRecord),
        typeof(PinRecord),
        typeof(LinkRecord),
        typeof(CheckRecord),
        typeof(SettingRecord),
        typeof(ModelRecord),
        typeof(ModelSheetRecord),
        typeof(PositionRecord),
        typeof(PartRecord),
        typeof(StateRecord),
        typeof(Core.Visits.Person),
        typeof(Core.History.Cause),
    ];

    /// <summary>
    /// Does all of it or nothing: what was written to the book and which picture files are new is taken back when it fails.
    /// Pictures are looked through before the book is locked, so that nobody's reading waits for them.
    /// </summary>
    /// <param name="picture">Gives a picture that came beside the file, by its name; null where it has none.</param>
    /// <param name="write">Is given the pictures by the photographs' ids.</param>
    internal Task AllOrNothing(
        string what,
        Book book,
        Func<string, byte[]?>? picture,
        Func<ImportProgress, Task>? progress,
        Func<IReadOnlyDictionary<PhotographId, Picture>, Task> write,
        CancellationToken cancel
    ) =>
        WithPictures(
            what,
            book,
            picture,
            progress,
            async kept =>
            {
                await using var transaction = await context.WriteAlone(cancel);
                await write(kept);
                await transaction.CommitAsync(cancel);
            },
            cancel
        );

    private async Task WithPictures(
        string what,
        Book book,
        Func<string, byte[]?>? picture,
        Func<ImportProgress, Task>? progress,
        Func<IReadOnlyDictionary<PhotographId, Picture>, Task> write,
        CancellationToken cancel
    )
    {
        var newFiles = new List<string>();
        try
        {
            var kept = new Dictionary<PhotographId, Picture>();
            foreach (var (i, photograph) in (book.Machine?.Photographs ?? []).Index())
            {
                await Tell(progress, book, i, "photographs");
                kept[photograph.Id] = await Keep(photograph, picture, newFiles, cancel);
            }

            await write(kept);
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
        IReadOnlyDictionary<PhotographId, Picture> kept,
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
        await Put(
            RecordKind.All.Where(k => !k.IsMany && !IsPicture(k)).SelectMany(k => k.In(file)),
            before?.Machine is { } wasFile ? RecordKind.All.Where(k => !k.IsMany && !IsPicture(k)).SelectMany(k => k.In(wasFile)) : null,
            cancel
        );
        var done = begun + 2;
        foreach (var kind in RecordKind.All.Where(k => k.IsMany))
        {
            var here = before?.Machine is { } was ? kind.In(was).Select(KeyOf).ToHashSet() : [];
            foreach (var chunk in kind.In(file).Where(r => !here.Contains(KeyOf(r))).Chunk(ManyAtOnce))
            {
                await Tell(progress, book, done, kind.List);
                context.ChangeTracker.Clear();
                context.AddRange(chunk);
                await context.SaveChangesAsync(cancel);
                done += chunk.Length;
            }
        }

        context.ChangeTracker.Clear();
        await Put(Photographs(file, kept), before?.Machine is { } wasPictures ? Photographs(wasPictures, kept) : null, cancel);
    }

    /// <summary>Pictures are written last: their files are looked at first.</summary>
    private static bool IsPicture(RecordKind kind) => kind is RecordKind<Photograph> or RecordKind<Place>;

    private IEnumerable<object> Photographs(MachineFile file, IReadOnlyDictionary<PhotographId, Picture> kept)
    {
        var places = RecordKind.For<Place>().InFile(file).ToLookup(p => p.PhotographId);
        foreach (var photograph in RecordKind.For<Photograph>().InFile(file))
        {
            var picture =
                kept.TryGetValue(photograph.Id, out var sent) && sent.Hash == photograph.Hash
                    ? sent
                    : pictures.Known(photograph.Hash, photograph.Format) ?? kept.GetValueOrDefault(photograph.Id);
            if (picture is not { } here)
            {
                continue;
            }

            yield return photograph with
            {
                Hash = here.Hash,
                Format = here.Format,
                Width = here.Width,
                Height = here.Height,
                Bytes = here.Bytes,
            };
            foreach (var place in places[photograph.Id])
            {
                yield return place;
            }
        }
    }

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
        // What was said of it comes all the same, and its place says that the picture is gone.
        : photograph.IsGone ? new Picture(photograph.Hash, photograph.Format, photograph.Width, photograph.Height, photograph.Bytes)
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
                context.People.Add(person);
            }
        }

        foreach (var cause in book.Machine?.Causes ?? [])
        {
            if (await context.Causes.FindAsync([cause.Id], cancel) is null)
            {
                context.Causes.Add(cause);
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
    private async Task Put(IEnumerable<object> records, IEnumerable<object>? before, CancellationToken cancel)
    {
        if (before is null)
        {
            context.AddRange(records);
            await context.SaveChangesAsync(cancel);
            return;
        }

        var known = before.ToDictionary(r => (r.GetType(), KeyOf(r)));
        foreach (var record in records)
        {
            if (
                known.Remove((record.GetType(), KeyOf(record)), out var was)
                && JsonSerializer.Serialize(was, was.GetType(), LedgerContext.LogJson)
                    == JsonSerializer.Serialize(record, record.GetType(), LedgerContext.LogJson)
            )
            {
                continue;
            }

            // One that was retired comes back.
            if (await Find(record, cancel) is { } here)
            {
                var version = here is IEditable editable ? editable.Version : 0;
                var entry = context.Entry(here);
                entry.CurrentValues.SetValues(record);
                if (here is IEditable)
                {
                    (entry.Property(nameof(IEditable.Version)).CurrentValue, entry.Property(nameof(IEditable.RetiredAt)).CurrentValue) = (
                        version,
                        null
                    );
                }
            }
            else
            {
                context.Add(record);
            }
        }

        foreach (var gone in known.Values.OfType<IEditable>())
        {
            context.Retire((IEditable)(await Find(gone, cancel))!);
        }

        await context.SaveChangesAsync(cancel);
    }

    private async Task<object?> Find(object record, CancellationToken cancel) =>
        await context.FindAsync(record.GetType(), Key(record), cancel);

    private object?[] Key(object record) =>
        [.. context.Model.FindEntityType(record.GetType())!.FindPrimaryKey()!.Properties.Select(p => p.PropertyInfo!.GetValue(record))];

    private string KeyOf(object record) => string.Join('/', Key(record));

    /// <summary>What a file says of itself at its top, whatever else is in it.</summary>
    private sealed record Heading(JsonElement? Format, JsonElement? Version);

    /// <summary>
    /// Twice as a stream: what it is, and then what it says, so that a newer one is told as that and not by what it holds.
    /// </summary>
    /// <param name="open">From its beginning, each time.</param>
    private static async Task<T> Read<T>(Func<Stream> open, string formatName, int newest, string what, CancellationToken cancel)
        where T : class
    {
        try
        {
            await using (var stream = open())
            {
                RefuseOthers(await HeadingOf(stream, cancel), formatName, newest, what);
            }

            await using var whole = open();
            var read = (await JsonSerializer.DeserializeAsync<T>(whole, MachineFile.Json, cancel))!;
            return Unreadable.First(read) is { } place
                ? throw ProblemException.Bad($"$.{place.At}", $"The {what} is not understood: {place.Words}")
                : read;
        }
        catch (JsonException broken)
        {
            throw ProblemException.Bad(broken.Path ?? "$", $"The {what} is not understood: {BadRequests.OfJson(broken).Words}");
        }
        catch (InvalidOperationException broken)
        {
            throw ProblemException.Bad("$", $"The {what} is not understood: {broken.Message}");
        }
    }

    private static async Task<Heading?> HeadingOf(Stream stream, CancellationToken cancel)
    {
        try
        {
            return await JsonSerializer.DeserializeAsync<Heading>(stream, JsonSerializerOptions.Web, cancel);
        }
        catch (JsonException broken) when (broken is { Path: "$", InnerException: null })
        {
            // A list, a text or a number.
            return null;
        }
    }

    private static void RefuseOthers(Heading? heading, string formatName, int newest, string what)
    {
        if (heading?.Format is not { ValueKind: JsonValueKind.String } format || format.GetString() != formatName)
        {
            throw ProblemException.Bad("format", $"This is not a {what}; it should begin with \"format\": \"{formatName}\".");
        }

        if (heading.Version is not { ValueKind: JsonValueKind.Number } version || !version.TryGetInt32(out var number) || number < 1)
        {
            throw ProblemException.Bad("version", "The file states no version.");
        }

        if (number > newest)
        {
            throw ProblemException.Bad(
                "version",
                $"The file is of version {number}; this ledger reads up to version {newest}. Update the ledger first."
            );
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
        HashSet<PositionId> positions = [.. file.Model.Positions.Select(p => p.Id)];
        Require("machine.boards", file.Machine.Boards.Select(b => b.PositionId), positions, "position");
        ValidateWiring(file.Machine, file.Model, file.BoardTypes);
        ValidateSheets(file.Model, types);
        var visits = Unique("visits", file.Visits.Select(v => v.Id));
        var rounds = Unique("rounds", file.Visits.SelectMany(v => v.Rounds).Select(r => r.Id));
        var faults = Unique("faults", file.Faults.Select(f => f.Id));
        var snapshots = Unique("snapshots", file.Snapshots.Select(x => x.Id));
        var photographs = Unique("photographs", file.Photographs.Select(p => p.Id));
        Unique("readings", file.Visits.SelectMany(v => v.Rounds).SelectMany(r => r.Readings).Select(r => r.Id));
        Unique("places", file.Photographs.SelectMany(p => p.Places).Select(p => p.Id));
        Unique("notes", file.Notes.Select(n => n.Id));
        Unique("boardNotes", file.BoardNotes.Select(n => n.Id));
        Unique("observations", file.Visits.SelectMany(v => v.Observations).Select(o => o.Id));
        Unique("outsideAnswers", file.Visits.SelectMany(v => v.OutsideAnswers).Select(a => a.Id));
        Unique("safetyEvents", file.Visits.SelectMany(v => v.SafetyEvents).Select(a => a.Id));
        Unique("temporaryLinks", file.Visits.SelectMany(v => v.TemporaryLinks).Select(a => a.Id));
        Unique("notices", file.Visits.SelectMany(v => v.Notices).Select(a => a.Id));
        foreach (var snapshot in file.Snapshots)
        {
            Unique($"snapshot {snapshot.Id}", snapshot.Values.Select(v => v.Code));
        }

        foreach (var visit in file.Visits)
        {
            Unique($"facings of visit {visit.Id}", visit.Facings.Select(f => f.PositionId));
            Unique($"skippedSteps of visit {visit.Id}", visit.SkippedSteps.Select(s => s.Step));
        }

        Require("faults", file.Faults.Select(f => f.VisitId).OfType<VisitId>(), visits, "visit");
        Require("faults", file.Faults.Select(f => f.RoundId).OfType<RoundId>(), rounds, "round");
        Require("faults", file.Faults.Select(f => f.PreviousId).OfType<FaultId>(), faults, "fault");
        Require(
            "faults",
            file.Faults.Select(f => f.Cause).OfType<string>(),
            [.. file.Causes.Select(c => c.Id), .. Storage.Database.CommonCauses.Select(c => c.Id)],
            "cause"
        );
        Require("snapshots", file.Snapshots.Select(x => x.FittedBoardId), [.. file.Machine.Boards.Select(b => b.Id)], "fitted board");
        Require(
            "snapshots, photographs, notes, boardNotes",
            file.Snapshots.Select(x => x.VisitId)
                .Concat(file.Photographs.Select(p => p.VisitId))
                .Concat(file.Notes.Select(n => n.VisitId))
                .Concat(file.BoardNotes.Select(n => n.VisitId))
                .OfType<VisitId>(),
            visits,
            "visit"
        );
        Require("photographs", file.Photographs.Select(p => p.SnapshotId).OfType<SnapshotId>(), snapshots, "snapshot");
        Require("boardNotes", file.BoardNotes.Select(n => n.PositionId), positions, "position");
        Require("facings", file.Visits.SelectMany(v => v.Facings).Select(f => f.PositionId), positions, "position");
        Require(
            "boardNotes and observations",
            file.BoardNotes.Select(n => n.PhotographId)
                .Concat(file.Visits.SelectMany(v => v.Observations).Select(o => o.PhotographId))
                .OfType<PhotographId>(),
            photographs,
            "photograph"
        );
        ValidateRecords(file, people);
    }

    /// <summary>What holds of each record by itself, and that whoever made it is in the file.</summary>
    private static void ValidateRecords(MachineFile file, HashSet<PersonId> people)
    {
        // Readings first looked at one by one, since their values are worked out on the way into the book.
        foreach (var reading in file.Visits.SelectMany(v => v.Rounds).SelectMany(r => r.Readings))
        {
            if (reading.Refusal() is { } refusal)
            {
                throw ProblemException.Of(refusal, $"reading {reading.Id}");
            }
        }

        foreach (var kind in RecordKind.All)
        {
            var (index, records) = (0, kind.In(file).ToList());
            Require(kind.List, records.SelectMany(kind.People), people, "person");
            foreach (var record in records)
            {
                if (((IThing)record).Refusal() is { } refusal)
                {
                    throw ProblemException.Of(refusal, $"{kind.List}[{index}]");
                }

                index++;
            }
        }

        var resolved = ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id));
        foreach (var link in file.Visits.SelectMany(v => v.TemporaryLinks).Where(l => l.IsOpen))
        {
            link.On(resolved).OrRefuse();
        }
    }

    /// <returns>The ids of the board types.</returns>
    private static HashSet<BoardTypeId> ValidateBoards(
        IReadOnlyList<BoardType> boardTypes,
        IReadOnlyList<FileSetting> settings,
        Model? model
    )
    {
        var types = Unique("boardTypes", boardTypes.Select(b => b.Id));
        foreach (var (i, type) in boardTypes.Index())
        {
            ValidateBoard($"boardTypes[{i}]", type);
            Check($"boardTypes[{i}]", BoardCodeRule.Refusal(type.Codes));
        }

        foreach (var (i, setting) in settings.Index())
        {
            Check($"settings[{i}]", setting.Definition.Refusal());
        }

        Unique("settings", settings.Select(d => $"{d.BoardTypeId}/{d.Definition.Id}"), mostSigns: 130);
        Require("settings", settings.Select(d => d.BoardTypeId), types, "board type");
        if (model is null)
        {
            return types;
        }

        Require("model.positions", model.Positions.Select(p => p.BoardTypeId), types, "board type");
        Unique("model.positions and parts", model.Positions.Select(p => p.Id.Value).Concat(model.Parts.Select(p => p.Id.Value)));
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

    private static void Check(string at, Refusal? refusal)
    {
        if (refusal is not null)
        {
            throw ProblemException.Of(refusal, at);
        }
    }

    private static void ValidateSheets(Model model, HashSet<BoardTypeId> types)
    {
        Check("model.variants", model.Variants.Refusal());
        Check("model.safety", model.Safety.Refusal());
        Check("model.outside", model.Outside.Refusal());
        Require("model.variants", model.Variants.Variants.SelectMany(v => v.Boards).SelectMany(b => b.BoardTypes), types, "board type");
        Require(
            "model.variants",
            model.Variants.Variants.SelectMany(v => v.Boards).Select(b => b.Position),
            [.. model.Positions.Select(p => p.Id)],
            "position"
        );
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

    /// <returns>The ids, none of which stands twice.</returns>
    private static HashSet<T> Unique<T>(string at, IEnumerable<T> ids, int mostSigns = 64)
        where T : notnull
    {
        var seen = new HashSet<T>();
        foreach (var id in ids)
        {
            if (id.ToString() is not { Length: > 0 } text || text.Length > mostSigns)
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

    private static void Require<T>(string at, IEnumerable<T> ids, HashSet<T> known, string what)
        where T : notnull
    {
        foreach (var id in ids.Where(id => !known.Contains(id)))
        {
            throw ProblemException.Bad(at, $"{at} names a {what} that is not in the file: \"{id}\".");
        }
    }
}
