using System.Text.Json;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

internal static class BundleEndpoints
{
    public static void MapBundles(this IEndpointRouteBuilder api)
    {
        api.MapGet(
                "/machines/{id}/bundle",
                async (
                    string id,
                    HttpContext http,
                    LedgerContext context,
                    BundleExport export,
                    LargeWork large,
                    CancellationToken cancel
                ) =>
                {
                    var machine = await FacingEndpoints.MachineId(id, context, cancel);
                    return await Sent(() => export.Machine(machine, cancel), http, large);
                }
            )
            .WithName("exportBundle");
        api.MapGet(
                "/models/{id}/bundle",
                (string id, HttpContext http, BundleExport export, LargeWork large, CancellationToken cancel) =>
                    Sent(() => export.Model(id, cancel), http, large)
            )
            .WithName("exportModelBundle");
        api.MapGet(
                "/board-types/{id}/bundle",
                (string id, HttpContext http, BundleExport export, LargeWork large, CancellationToken cancel) =>
                    Sent(() => export.BoardType(id, cancel), http, large)
            )
            .WithName("exportBoardTypeBundle");
        api.MapGet("/bundle.schema.json", () => TypedResults.Text(MachineFileSchema.Bundle, "application/schema+json"))
            .WithName("getBundleSchema");
        api.MapGet("/library-file.schema.json", () => TypedResults.Text(MachineFileSchema.Library, "application/schema+json"))
            .WithName("getLibraryFileSchema");
        api.MapPost("/bundles/preview", Preview).WithName("previewBundle").Accepts<byte[]>("application/zip").WithMetadata(new Large());
        api.MapPost("/bundles", TakeIn)
            .WithName("takeBundle")
            .Accepts<byte[]>("application/zip", "multipart/form-data")
            .WithMetadata(new Large())
            .DisableAntiforgery();
        api.MapPost("/bundles/watched", Watched)
            .WithName("takeBundleWatched")
            .Accepts<byte[]>("application/zip", "multipart/form-data")
            .WithMetadata(new Large())
            .DisableAntiforgery();
    }

    private static async Task<PhysicalFileHttpResult> Sent(Func<Task<(string Path, string Name)>> pack, HttpContext http, LargeWork large)
    {
        using var turn = await large.Turn(http.RequestAborted);
        var bundle = await pack();
        http.Response.OnCompleted(() =>
        {
            System.IO.File.Delete(bundle.Path);
            return Task.CompletedTask;
        });
        return TypedResults.PhysicalFile(bundle.Path, "application/zip", $"{bundle.Name}.zip");
    }

    private static async Task<BundlePreview> Preview(HttpRequest request, BundleImport import, LargeWork large, CancellationToken cancel)
    {
        await using var file = await File(request, cancel);
        using var turn = await large.Turn(cancel);
        using var bundle = BundleFile.Read(file);
        return await import.Preview(bundle, cancel);
    }

    private static async Task<BundleTaken> TakeIn(HttpRequest request, BundleImport import, LargeWork large, CancellationToken cancel) =>
        await Take(request, import, large, null, cancel);

    private static async Task<BundleTaken> Take(
        HttpRequest request,
        BundleImport import,
        LargeWork large,
        Func<ImportProgress, Task>? say,
        CancellationToken cancel
    )
    {
        var (file, choices) = await Form(request, cancel);
        await using var received = file;
        using var turn = await large.Turn(cancel);
        using var bundle = BundleFile.Read(file);
        return await import.TakeIn(bundle, choices, say, cancel);
    }

    private static Task Watched(HttpContext http, BundleImport import, LargeWork large) =>
        WatchedSteps.Tell(http, (say, cancel) => Take(http.Request, import, large, say, cancel));

    /// <summary>
    /// The bundle alone as the body, or as the file <c>bundle</c> of a form whose <c>choices</c> say which side stands in each clash.
    /// </summary>
    private static async Task<(Stream File, IReadOnlyDictionary<string, BundleSide> Choices)> Form(
        HttpRequest request,
        CancellationToken cancel
    )
    {
        if (!request.HasFormContentType)
        {
            return (await File(request, cancel), new Dictionary<string, BundleSide>());
        }

        var form = await request.ReadFormAsync(
            new FormOptions { MultipartBodyLengthLimit = MachineFile.MostBytes, ValueLengthLimit = 16 * 1024 * 1024 },
            cancel
        );
        var file = form.Files["bundle"] ?? throw ProblemException.Bad("bundle", "The form has no bundle.");
        try
        {
            var choices = form["choices"] is [{ Length: > 0 } text]
                ? JsonSerializer.Deserialize<Dictionary<string, BundleSide>>(text, MachineFile.Json) ?? []
                : [];
            return (file.OpenReadStream(), choices);
        }
        catch (JsonException broken)
        {
            throw ProblemException.Bad("choices", $"The choices are not understood: {BadRequests.OfJson(broken).Words}");
        }
    }

    /// <summary>A ZIP is read from its end, so it must be here in full.</summary>
    private static async Task<Stream> File(HttpRequest request, CancellationToken cancel) =>
        await Received.Body(request, "bundle.zip", MachineFile.MostBytes, cancel) is { } received
            ? received.File
            : throw ProblemException.Bad("bundle", $"A bundle has at most {MachineFile.MostBytes / 1024 / 1024} MB.");

    private sealed class Large : IRequestSizeLimitMetadata
    {
        public long? MaxRequestBodySize => MachineFile.MostBytes;
    }
}
