using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Keeping;

/// <summary>The backups that are kept of a ledger.</summary>
/// <param name="Newest">When the newest was made; null where there is none.</param>
/// <param name="Bytes">Size of the newest.</param>
/// <param name="Count">How many are kept.</param>
/// <param name="Folder">Where they stand, on the machine that runs the ledger.</param>
/// <param name="IsOld">It is time to look after it: nothing is safe that was written since.</param>
/// <param name="Failed">Why the last one was not made; empty where it was.</param>
public sealed record BackupsKept(DateTimeOffset? Newest, long Bytes, int Count, string Folder, bool IsOld, string Failed);

/// <summary>Makes a backup once a day while the ledger runs, and keeps so many.</summary>
internal sealed partial class BackupKeeper(
    IServiceScopeFactory scopes,
    IOptions<LedgerOptions> options,
    TimeProvider clock,
    ILogger<BackupKeeper> log
) : BackgroundService
{
    /// <summary>After a start there is other work to do first.</summary>
    private static readonly TimeSpan FirstLook = TimeSpan.FromMinutes(10);
    private static readonly TimeSpan BetweenLooks = TimeSpan.FromHours(1);

    /// <summary>So old a newest backup is said on the day page.</summary>
    private static readonly TimeSpan Old = TimeSpan.FromDays(3);

    private readonly SemaphoreSlim _oneAtATime = new(1);
    private string _failed = "";

    private string Folder => Backup.FolderOf(options.Value.Data);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var wait = FirstLook;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await Task.Delay(wait, clock, stoppingToken);
                wait = BetweenLooks;
                await MakeWhereDue(stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception failure)
            {
                _failed = StartException.Of(failure, options.Value.Data)?.Message ?? failure.Message;
                LogFailure(log, failure);
            }
        }
    }

    /// <summary>Makes one where the newest is a day old, or there is none of a book that something is written in.</summary>
    /// <returns>Whether one was made.</returns>
    internal async Task<bool> MakeWhereDue(CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        if (
            options.Value.BackupHours <= 0
            || Files().FirstOrDefault() is { } newest && now - TimeOf(newest) < TimeSpan.FromHours(options.Value.BackupHours)
        )
        {
            return false;
        }

        await using var scope = scopes.CreateAsyncScope();
        if (!await scope.ServiceProvider.GetRequiredService<LedgerContext>().Machines.AnyAsync(cancel))
        {
            return false;
        }

        await Make(cancel);
        return true;
    }

    /// <summary>Makes one now, and lets go of those beyond the number that is kept.</summary>
    public async Task Make(CancellationToken cancel)
    {
        await _oneAtATime.WaitAsync(cancel);
        try
        {
            var now = clock.GetUtcNow();
            await Backup.Make(options.Value.Data, Path.Combine(Folder, Backup.NameAt(now)), now, cancel);
            _failed = "";
            foreach (var old in Files().Skip(Math.Max(1, options.Value.BackupsKept)))
            {
                old.Delete();
            }
        }
        finally
        {
            _oneAtATime.Release();
        }
    }

    public async Task<BackupsKept> Kept(LedgerContext context, CancellationToken cancel)
    {
        var files = Files();
        var newest = files.FirstOrDefault();
        var since = newest is not null
            ? TimeOf(newest)
            : await context.Edits.OrderBy(e => e.Id).Select(e => (DateTimeOffset?)e.At).FirstOrDefaultAsync(cancel);
        return new BackupsKept(
            newest is null ? null : TimeOf(newest),
            newest?.Length ?? 0,
            files.Count,
            Path.GetFullPath(Folder),
            options.Value.BackupHours > 0 && since is { } at && clock.GetUtcNow() - at > Old,
            _failed
        );
    }

    /// <summary>Newest first; by their names, since a copy of a file has another date.</summary>
    private List<FileInfo> Files() =>
        Directory.Exists(Folder)
            ? [.. new DirectoryInfo(Folder).GetFiles("ledger-*Z.zip").OrderByDescending(f => f.Name, StringComparer.Ordinal)]
            : [];

    private static DateTimeOffset TimeOf(FileInfo file) =>
        DateTimeOffset.TryParseExact(
            file.Name,
            "'ledger-'yyyyMMdd'T'HHmmss'Z.zip'",
            System.Globalization.CultureInfo.InvariantCulture,
            System.Globalization.DateTimeStyles.AssumeUniversal,
            out var at
        )
            ? at
            : file.LastWriteTimeUtc;

    public override void Dispose()
    {
        _oneAtATime.Dispose();
        base.Dispose();
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The backup was not made")]
    private static partial void LogFailure(ILogger log, Exception failure);
}
