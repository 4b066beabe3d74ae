using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Keeping;

/// <summary>Whether the ledger can do its work.</summary>
/// <param name="Problem">Why it cannot; empty where it can.</param>
public sealed record Health(bool CanRead, bool CanWrite, long FreeBytes, string Problem);

internal static class KeepingEndpoints
{
    public static void MapKeeping(this IEndpointRouteBuilder api)
    {
        api.MapGet("/backups", (BackupKeeper keeper, LedgerContext context, CancellationToken cancel) => keeper.Kept(context, cancel))
            .WithName("getBackups");
        api.MapPost("/backups", Make).WithName("makeBackup");
    }

    /// <summary>For whoever watches over the machine that runs it; says nothing of what is in the book.</summary>
    public static void MapHealth(this IEndpointRouteBuilder app) => app.MapGet("/health", Look).ExcludeFromDescription();

    private static async Task<BackupsKept> Make(BackupKeeper keeper, LedgerContext context, CancellationToken cancel)
    {
        await keeper.Make(cancel);
        return await keeper.Kept(context, cancel);
    }

    private static async Task<IResult> Look(LedgerContext context, IOptions<LedgerOptions> options, CancellationToken cancel)
    {
        var (canRead, problem) = (false, "");
        try
        {
            await context.People.AsNoTracking().Select(p => p.Id).FirstOrDefaultAsync(cancel);
            canRead = true;
            // Written and taken back: the lock, the disk and its room are there.
            await using var transaction = await context.WriteAlone(cancel);
            await context.Database.ExecuteSqlRawAsync("PRAGMA user_version = 1", cancel);
            await using var probe = new FileStream(
                DataFolder.Temporary(options.Value.Data, "health"),
                FileMode.CreateNew,
                FileAccess.Write,
                FileShare.None,
                bufferSize: 0,
                FileOptions.DeleteOnClose
            );
            await probe.WriteAsync(new byte[4096], cancel);
        }
        catch (Exception failure) when (StartException.Of(failure, options.Value.Data) is { } said)
        {
            problem = said.Message;
        }

        var health = new Health(
            canRead,
            problem.Length == 0,
            new DriveInfo(Path.GetFullPath(options.Value.Data)).AvailableFreeSpace,
            problem
        );
        return TypedResults.Json(health, statusCode: health.CanWrite ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable);
    }
}
