using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Exchange;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Settings;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>Packs what is in the ledger as a bundle, and remembers in which version it went out.</summary>
public sealed class BundleExport(
    LedgerContext context,
    MachineLibrary library,
    MachineFileExport export,
    PictureFiles pictures,
    IOptions<LedgerOptions> options
)
{
    /// <returns>The packed file, which is the caller's to delete.</returns>
    /// <exception cref="ProblemException">There is no such machine.</exception>
    public async Task<(string Path, string Name)> Machine(MachineId machineId, CancellationToken cancel)
    {
        var file = await export.Of(machineId, withPictures: false, cancel);
        var texts = Lists(file.BoardTypes).Concat(await Lists(file, cancel));
        var photographs = file
            .Photographs.Where(p => !p.IsGone)
            .Select(p => (Name: $"{p.Hash}.{p.Format}", File: pictures.FileOf(p.Hash, p.Format)))
            .DistinctBy(p => p.Name);
        return (await Pack(BundleKind.Machine, file.Machine.Tag, Book.Of(file), file, texts, photographs, cancel), file.Machine.Tag);
    }

    /// <inheritdoc cref="Machine"/>
    public async Task<(string Path, string Name)> Model(ModelId modelId, CancellationToken cancel)
    {
        var model = await library.Model(modelId, cancel);
        return (
            await Library(
                BundleKind.Model,
                model.Name,
                await Of(
                    model
                        .Positions.Select(p => p.BoardTypeId)
                        .Concat(model.Variants.Variants.SelectMany(v => v.Boards).SelectMany(b => b.BoardTypes)),
                    model,
                    cancel
                ),
                cancel
            ),
            model.Name
        );
    }

    /// <inheritdoc cref="Machine"/>
    public async Task<(string Path, string Name)> BoardType(BoardTypeId boardTypeId, CancellationToken cancel)
    {
        var file = await Of([boardTypeId], null, cancel);
        var name = $"{file.BoardTypes[0].PartNumber} {file.BoardTypes[0].Revision}".Trim();
        return (await Library(BundleKind.BoardType, name, file, cancel), name);
    }

    /// <summary>Written in one line on its way: line breaks would make it twice as large.</summary>
    internal static JsonDocument Json<T>(T file) => JsonSerializer.SerializeToDocument(file, MachineFile.OneLine);

    internal static BookTree Tree<T>(T file)
    {
        using var json = Json(file);
        return BookTree.Of(json.RootElement);
    }

    /// <summary>Board types with their settings, and a model where there is one.</summary>
    internal async Task<LibraryFile> Of(IEnumerable<BoardTypeId> boardTypeIds, Model? model, CancellationToken cancel)
    {
        var types = new List<BoardType>();
        foreach (var id in boardTypeIds.Distinct())
        {
            types.Add(await library.BoardType(id, cancel));
        }

        var ids = types.ConvertAll(t => t.Id);
        var settings = await context
            .Settings.AsNoTracking()
            .Where(s => ids.Contains(s.OwnerId) && s.RetiredAt == null)
            .OrderBy(s => s.OwnerId)
            .ThenBy(s => s.Ordinal)
            .ToListAsync(cancel);
        return new LibraryFile(
            LibraryFile.FormatName,
            LibraryFile.CurrentVersion,
            types,
            [.. settings.Select(s => new FileSetting(s.OwnerId, SettingEndpoints.Definition(s)))],
            model
        );
    }

    private Task<string> Library(BundleKind kind, string name, LibraryFile file, CancellationToken cancel) =>
        Pack(kind, name, Book.Of(file), file, Lists(file.BoardTypes), [], cancel);

    private async Task<string> Pack<T>(
        BundleKind kind,
        string name,
        Book book,
        T content,
        IEnumerable<(string Path, byte[] Content)> lists,
        IEnumerable<(string Name, string File)> photographs,
        CancellationToken cancel
    )
    {
        var versions = (await SharedVersions.Load([book], context, cancel)).Seen(
            Tree(content),
            await SharedVersions.Ledger(context, cancel)
        );
        await SharedVersions.Keep(book, versions, context, cancel);
        await context.SaveChangesAsync(cancel);
        // Through a file, since pictures may be more than memory should hold.
        var at = DataFolder.Temporary(options.Value.Data, "bundle.zip");
        try
        {
            await using var zip = File.Create(at);
            (string, Func<Stream, Task>)[] texts =
            [
                (BundleFile.ContentName(kind), into => JsonSerializer.SerializeAsync(into, content, MachineFile.Json, cancel)),
                .. lists
                    .DistinctBy(l => l.Path)
                    .Prepend((Path: BundleFile.VersionsName, Content: BundleFile.WriteVersions(versions)))
                    .Select(l => (l.Path, (Func<Stream, Task>)(into => into.WriteAsync(l.Content, cancel).AsTask()))),
            ];
            await BundleFile.Write(zip, kind, name, texts, photographs, cancel);
            return at;
        }
        catch
        {
            File.Delete(at);
            throw;
        }
    }

    private static IEnumerable<(string Path, byte[] Content)> Lists(IEnumerable<BoardType> types) =>
        types.Select(type => ($"terminals/{Plain(type.Id.Value)}.csv", Csv(TerminalList.Export(type))));

    /// <summary>Readings by round and settings by list, for other programs.</summary>
    private async Task<IEnumerable<(string Path, byte[] Content)>> Lists(MachineFile file, CancellationToken cancel)
    {
        var machine = await library.Resolve(file.Machine.Id, cancel);
        var (graph, people) = (FeedGraph.Of(machine), file.People.ToDictionary(p => p.Id, p => p.Name));
        var meters = await SafetyBook.Meters(context, cancel);
        var rounds = file
            .Visits.SelectMany(v => v.Rounds)
            .Where(r => r.Readings.Count > 0)
            .Select(round =>
                (
                    $"readings/{round.StartedAt.UtcDateTime:yyyyMMdd-HHmm}-{Plain(round.Id.Value)}.csv",
                    Csv(new RoundViewer(machine, graph, round.Readings, people, null, meters: meters).Csv())
                )
            );
        var snapshots = file.Snapshots.Select(snapshot =>
        {
            var type = file.Machine.Boards.First(b => b.Id == snapshot.FittedBoardId).BoardTypeId;
            var defined = SettingDefinition.Under(
                snapshot.Firmware,
                file.Settings.Where(s => s.BoardTypeId == type).Select(s => s.Definition)
            );
            return (
                $"settings/{snapshot.TakenAt.UtcDateTime:yyyyMMdd-HHmm}-{Plain(snapshot.Id.Value)}.csv",
                Csv(SettingList.Write(snapshot.Values.Select(v => (v, defined.GetValueOrDefault(v.Code)))))
            );
        });
        return [.. rounds, .. snapshots];
    }

    private static byte[] Csv(string text) => [.. Encoding.UTF8.GetPreamble(), .. Encoding.UTF8.GetBytes(text)];

    private static string Plain(string id) =>
        string.Concat(id.Select(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.' ? c : '_')).TrimStart('.');
}
