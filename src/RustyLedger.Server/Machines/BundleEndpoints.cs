using System.Text.Json;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

internal static class BundleEndpoints
{
    public static void MapBundles(this IEndpointRouteBuilder api)
    {
        api.MapGet(
                "/machines/{id}/bundle",
                async (string id, HttpContext http, LedgerContext context, BundleExport export, CancellationToken cancel) =>
                    Sent(await export.Machine(await FacingEndpoints.MachineId(id, context, cancel), cancel), http)
            )
            .WithName("exportBundle");
        api.MapGet(
                "/models/{id}/bundle",
                async (string id, HttpContext http, BundleExport export, CancellationToken cancel) =>
                    Sent(await export.Model(id, cancel), http)
            )
            .WithName("exportModelBundle");
        api.MapGet(
                "/board-types/{id}/bundle",
                async (string id, HttpContext http, BundleExport export, CancellationToken cancel) =>
                    Sent(await export.BoardType(id, cancel), http)
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

    private static PhysicalFileHttpResult Sent((string Path, string Name) bundle, HttpContext http)
    {
        http.Response.OnCompleted(() =>
        {
            File.Delete(bundle.Path);
            return Task.CompletedTask;
        });
        return TypedResults.PhysicalFile(bundle.Path, "application/zip", $"{bundle.Name}.zip");
    }

    private static async Task<BundlePreview> Preview(HttpRequest request, BundleImport import, CancellationToken cancel)
    {
        using var bundle = BundleFile.Read(await Received(request, cancel));
        return await import.Preview(bundle, cancel);
    }

    private static async Task<BundleTaken> TakeIn(HttpRequest request, BundleImport import, CancellationToken cancel)
    {
        var (bundle, choices) = await Form(request, cancel);
        using (bundle)
        {
            return await import.TakeIn(bundle, choices, null, cancel);
        }
    }

    private static Task Watched(HttpContext http, BundleImport import) =>
        WatchedSteps.Tell(
            http,
            async (say, cancel) =>
            {
                var (bundle, choices) = await Form(http.Request, cancel);
                using (bundle)
                {
                    return await import.TakeIn(bundle, choices, say, cancel);
                }
            }
        );

    /// <summary>
    /// The bundle alone as the body, or as the file <c>bundle</c> of a form whose <c>choices</c> say which side stands in each clash.
    /// </summary>
    private static async Task<(Bundle Bundle, IReadOnlyDictionary<string, BundleSide> Choices)> Form(
        HttpRequest request,
        CancellationToken cancel
    )
    {
        if (!request.HasFormContentType)
        {
            return (BundleFile.Read(await Received(request, cancel)), new Dictionary<string, BundleSide>());
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
            return (BundleFile.Read(file.OpenReadStream()), choices);
        }
        catch (JsonException broken)
        {
            throw ProblemException.Bad("choices", $"The choices are not understood: {BadRequests.OfJson(broken).Words}");
        }
    }

    /// <summary>A ZIP is read from its end, so it must be here in full.</summary>
    private static async Task<FileStream> Received(HttpRequest request, CancellationToken cancel)
    {
        var file = new FileStream(
            DataFolder.Temporary(
                request.HttpContext.RequestServices.GetRequiredService<IOptions<LedgerOptions>>().Value.Data,
                "bundle.zip"
            ),
            FileMode.CreateNew,
            FileAccess.ReadWrite,
            FileShare.None,
            1 << 16,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
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
