using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>A machine taken in from a file.</summary>
public sealed record MachineTaken(string Id, string Tag);

internal static class MachineFileEndpoints
{
    private static readonly byte[] LineEnd = "\n"u8.ToArray();

    public static void MapMachineFiles(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{id}/file", Export).WithName("exportMachine");
        api.MapGet("/machine-file.schema.json", () => TypedResults.Text(MachineFileSchema.Text, "application/schema+json")).WithName("getMachineFileSchema");
        api.MapPost("/machine-files", Import).WithName("importMachine").Accepts<JsonElement>("application/json").WithMetadata(new Large());
        api.MapPost("/machine-files/watched", Watched).WithName("importMachineWatched").Accepts<JsonElement>("application/json").WithMetadata(new Large());
    }

    /// <param name="pictures">Whether the pictures go into the file, or only their names.</param>
    private static async Task<FileContentHttpResult> Export(string id, LedgerContext context, MachineFileExport export, CancellationToken cancel, bool pictures = true)
    {
        var machine = await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel) ?? throw ProblemException.NotFound($"Machine {id}");
        return TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(await export.Of(machine.Id, pictures, cancel), MachineFile.Json), "application/json", $"{machine.Tag}.json");
    }

    private static async Task<MachineTaken> Import(HttpRequest request, MachineFileImport import, LedgerContext context, CancellationToken cancel)
    {
        var id = await import.Import(request.Body, null, cancel);
        return new MachineTaken(id, await context.Machines.Where(m => m.Id == id).Select(m => m.Tag).SingleAsync(cancel));
    }

    /// <summary>
    /// Answers with a line of JSON for each step, the last of them the machine taken in or the problem. Whoever hangs up
    /// cancels, and nothing stays.
    /// </summary>
    private static async Task Watched(HttpContext http, MachineFileImport import, LedgerContext context)
    {
        var cancel = http.RequestAborted;
        http.Response.ContentType = "application/x-ndjson";
        async Task Say(object line)
        {
            await http.Response.Body.WriteAsync(JsonSerializer.SerializeToUtf8Bytes(line, MachineFile.OneLine), cancel);
            await http.Response.Body.WriteAsync(LineEnd, cancel);
            await http.Response.Body.FlushAsync(cancel);
        }

        try
        {
            var id = await import.Import(http.Request.Body, Say, cancel);
            await Say(new MachineTaken(id, await context.Machines.Where(m => m.Id == id).Select(m => m.Tag).SingleAsync(cancel)));
        }
        catch (ProblemException refusal)
        {
            await Say(new ProblemDetails { Status = refusal.Status, Title = refusal.Title, Detail = refusal.Message, Extensions = refusal.Extensions });
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // Nobody is there to be told.
        }
    }

    private sealed class Large : IRequestSizeLimitMetadata
    {
        public long? MaxRequestBodySize => MachineFile.MostBytes;
    }
}
