using Microsoft.Extensions.FileProviders;
using Microsoft.Extensions.Options;

namespace RustyLedger.Server.Hosting;

/// <summary>Serves the built web application: hashed files for good, everything else asked for anew.</summary>
internal static class Web
{
    private const string ForGood = "public, max-age=31536000, immutable";

    public static void UseWeb(this WebApplication app)
    {
        var folder = app.Services.GetRequiredService<IOptions<LedgerOptions>>().Value.Web;
        if (folder.Length == 0)
        {
            return;
        }

        var files = new PhysicalFileProvider(Path.GetFullPath(folder));
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = files,
                OnPrepareResponse = file =>
                    file.Context.Response.Headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets")
                        ? ForGood
                        : "no-cache",
            }
        );
        app.MapFallback(
            "{*path:nonfile}",
            async context =>
            {
                if (context.Request.Path.StartsWithSegments("/api"))
                {
                    throw ProblemException.NotFound($"The address {context.Request.Path}");
                }

                context.Response.ContentType = "text/html; charset=utf-8";
                context.Response.Headers.CacheControl = "no-cache";
                await context.Response.SendFileAsync(files.GetFileInfo("index.html"));
            }
        );
    }
}
