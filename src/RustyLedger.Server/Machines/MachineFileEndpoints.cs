using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>A machine taken in from a file.</summary>
public sealed record MachineTaken(string Id, string Tag);

internal static class MachineFileEndpoints
{
    public static void MapMachineFiles(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{id}/file", Export).WithName("exportMachine");
        api.MapGet("/machine-file.schema.json", () => TypedResults.Text(MachineFileSchema.Text, "application/schema+json"))
            .WithName("getMachineFileSchema");
        api.MapPost("/machine-files", Import).WithName("importMachine").Accepts<JsonElement>("application/json").WithMetadata(new Large());
        api.MapPost("/machine-files/watched", Watched)
            .WithName("importMachineWatched")
            .Accepts<JsonElement>("application/json")
            .WithMetadata(new Large());
    }

    /// <param name="pictures">Whether the pictures go into the file, or only their names.</param>
    private static async Task<FileContentHttpResult> Export(
        string id,
        LedgerContext context,
        MachineFileExport export,
        CancellationToken cancel,
        bool pictures = true
    )
    {
        var machine =
            await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel)
            ?? throw ProblemException.NotFound($"Machine {id}");
        return TypedResults.File(
            JsonSerializer.SerializeToUtf8Bytes(await export.Of(machine.Id, pictures, cancel), MachineFile.Json),
            "application/json",
            $"{machine.Tag}.json"
        );
    }

    private static Task<MachineTaken> Import(
        HttpRequest request,
        MachineFileImport import,
        LedgerContext context,
        LargeWork large,
        CancellationToken cancel
    ) => Take(request, import, context, large, null, cancel);

    private static async Task<MachineTaken> Take(
        HttpRequest request,
        MachineFileImport import,
        LedgerContext context,
        LargeWork large,
        Func<ImportProgress, Task>? say,
        CancellationToken cancel
    )
    {
        await using var file = (
            await Received.Body(request, "machine.json", MachineFile.MostBytes, cancel)
            ?? throw ProblemException.Bad("$", $"A machine file has at most {MachineFile.MostBytes / 1024 / 1024} MB.")
        ).File;
        using var turn = await large.Turn(cancel);
        var id = await import.Import(() => Received.Again(file), say, cancel);
        return new MachineTaken(id.Value, await context.Machines.Where(m => m.Id == id).Select(m => m.Tag).SingleAsync(cancel));
    }

    private static Task Watched(HttpContext http, MachineFileImport import, LedgerContext context, LargeWork large) =>
        WatchedSteps.Tell(http, (say, cancel) => Take(http.Request, import, context, large, say, cancel));

    private sealed class Large : IRequestSizeLimitMetadata
    {
        public long? MaxRequestBodySize => MachineFile.MostBytes;
    }
}
