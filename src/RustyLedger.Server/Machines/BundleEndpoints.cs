using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>What taking a bundle in would do; nothing is written yet.</summary>
/// <param name="Adds">What would be new, a line each.</param>
/// <param name="Same">What is here already, as it is in the bundle.</param>
/// <param name="Clashes">What is here and differs; with any of them the bundle is not taken in.</param>
/// <param name="ChangesNothing">All of it is here already.</param>
public sealed record BundlePreview(string Tag, string Name, IReadOnlyList<string> Adds, IReadOnlyList<string> Same, IReadOnlyList<string> Clashes, bool ChangesNothing);

internal static class BundleEndpoints
{
    public static void MapBundles(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{id}/bundle", Export).WithName("exportBundle");
        api.MapGet("/bundle.schema.json", () => TypedResults.Text(MachineFileSchema.Bundle, "application/schema+json")).WithName("getBundleSchema");
        api.MapPost("/bundles/preview", Preview).WithName("previewBundle").Accepts<byte[]>("application/zip").WithMetadata(new Large());
        api.MapPost("/bundles", Take).WithName("takeBundle").Accepts<byte[]>("application/zip").WithMetadata(new Large());
    }

    private static async Task<PhysicalFileHttpResult> Export(string id, HttpContext http, LedgerContext context, MachineFileExport export, PictureFiles pictures, CancellationToken cancel)
    {
        var machineId = await FacingEndpoints.MachineId(id, context, cancel);
        var file = await export.Of(machineId, withPictures: false, cancel);
        var lists = file.BoardTypes.Select(type => ($"terminals/{Plain(type.Id)}.csv", (byte[])[.. Encoding.UTF8.GetPreamble(), .. Encoding.UTF8.GetBytes(TerminalList.Export(type))])).DistinctBy(l => l.Item1);
        // Through a file, since pictures may be more than memory should hold.
        var at = Path.Combine(Path.GetTempPath(), $"ledger-bundle-{Guid.NewGuid():n}.zip");
        http.Response.OnCompleted(() =>
        {
            File.Delete(at);
            return Task.CompletedTask;
        });
        await using (var zip = File.Create(at))
        {
            await BundleFile.Write(
                zip, file.Machine.Tag, JsonSerializer.SerializeToUtf8Bytes(file, MachineFile.Json), lists,
                file.Photographs.Select(p => (Name: $"{p.Hash}.{p.Format}", File: pictures.FileOf(p.Hash, p.Format))).DistinctBy(p => p.Name), cancel);
        }

        return TypedResults.PhysicalFile(at, "application/zip", $"{file.Machine.Tag}.zip");
    }

    private static string Plain(string id) => string.Concat(id.Select(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.' ? c : '_')).TrimStart('.');

    private static async Task<BundlePreview> Preview(HttpRequest request, LedgerContext context, MachineFileImport import, MachineFileExport export, CancellationToken cancel)
    {
        await using var body = await Received(request, cancel);
        var bundle = BundleFile.Read(body);
        return await Compare(await MachineFileImport.Understand(new MemoryStream(bundle.Machine), cancel), bundle, context, import, export, cancel);
    }

    private static async Task<MachineTaken> Take(HttpRequest request, LedgerContext context, MachineFileImport import, MachineFileExport export, CancellationToken cancel)
    {
        await using var body = await Received(request, cancel);
        var bundle = BundleFile.Read(body);
        var file = await MachineFileImport.Understand(new MemoryStream(bundle.Machine), cancel);
        if ((await Compare(file, bundle, context, import, export, cancel)).ChangesNothing)
        {
            return new MachineTaken(file.Machine.Id, file.Machine.Tag);
        }

        var id = await import.Import(new MemoryStream(bundle.Machine), null, cancel, bundle.Pictures);
        return new MachineTaken(id, file.Machine.Tag);
    }

    private static async Task<BundlePreview> Compare(MachineFile file, Bundle bundle, LedgerContext context, MachineFileImport import, MachineFileExport export, CancellationToken cancel)
    {
        var (adds, same, clashes) = (new List<string>(), new List<string>(), new List<string>());
        var here = await context.Machines.AsNoTracking().Where(m => m.Id == file.Machine.Id || m.Tag == file.Machine.Tag).Select(m => m.Id).FirstOrDefaultAsync(cancel);
        if (here is null)
        {
            adds.Add($"machine {file.Machine.Tag}, {file.Machine.Name}");
            foreach (var (count, one, many) in ((int, string, string)[])[(file.Visits.Count, "visit", "visits"), (file.Visits.SelectMany(v => v.Rounds).Sum(r => r.Readings.Count), "reading", "readings"), (file.Faults.Count, "fault", "faults"), (file.Snapshots.Count, "list of settings", "lists of settings"), (file.Photographs.Count, "photograph", "photographs"), (file.BoardNotes.Count + file.Notes.Count, "note", "notes")])
            {
                if (count > 0)
                {
                    adds.Add(count == 1 ? $"1 {one}" : $"{count} {many}");
                }
            }
        }
        else if (here == file.Machine.Id && JsonSerializer.SerializeToUtf8Bytes(await export.Of(here, withPictures: false, cancel), MachineFile.Json).AsSpan().SequenceEqual(JsonSerializer.SerializeToUtf8Bytes(file, MachineFile.Json)))
        {
            same.Add($"machine {file.Machine.Tag} with all that belongs to it");
        }
        else
        {
            clashes.Add($"Machine {file.Machine.Tag} is here already, and not as it is in the bundle. A machine in the ledger is never written over.");
        }

        foreach (var (name, differs) in await import.Shared(file, cancel))
        {
            (differs switch { null => adds, true => clashes, false => same }).Add(differs == true ? $"{name} is here with other contents." : name);
        }

        foreach (var photograph in file.Photographs.Where(p => !bundle.Pictures.ContainsKey($"{p.Hash}.{p.Format}")))
        {
            clashes.Add($"The picture of {(photograph.Caption.Length > 0 ? photograph.Caption : photograph.Id)} is not in the bundle.");
        }

        return new BundlePreview(file.Machine.Tag, file.Machine.Name, adds, same, clashes, adds.Count == 0 && clashes.Count == 0);
    }

    /// <summary>A ZIP is read from its end, so it must be here in full.</summary>
    private static async Task<FileStream> Received(HttpRequest request, CancellationToken cancel)
    {
        var file = new FileStream(Path.Combine(Path.GetTempPath(), $"ledger-bundle-{Guid.NewGuid():n}.zip"), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 1 << 16, FileOptions.DeleteOnClose | FileOptions.Asynchronous);
        try
        {
            await request.Body.CopyToAsync(file, cancel);
            file.Position = 0;
            return file;
        }
        catch
        {
            await file.DisposeAsync();
            throw;
        }
    }

    private sealed class Large : IRequestSizeLimitMetadata
    {
        public long? MaxRequestBodySize => MachineFile.MostBytes;
    }
}
