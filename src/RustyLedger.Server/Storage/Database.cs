using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Core.History;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Storage;

/// <summary>Brings the database up to date before the first request; sets a copy aside before a migration touches it.</summary>
internal sealed partial class Database(
    IServiceScopeFactory scopes,
    IBookStore store,
    LedgerIdentity identity,
    IOptions<LedgerOptions> options,
    DataFolder folder,
    TimeProvider clock,
    ILogger<Database> log
) : IHostedService
{
    private const int CopiesKept = 5;

    /// <summary>The causes every ledger begins with; the shop adds its own.</summary>
    internal static IReadOnlyList<(string Id, string Words)> CommonCauses { get; } =
    [
        ("part", "part"),
        ("contactOrWire", "contact or wire"),
        ("supply", "supply"),
        ("setting", "setting"),
        ("mechanical", "mechanical"),
        ("dirt", "dirt"),
        ("water", "water"),
        ("surge", "surge"),
        ("wrongEarlierRepair", "wrong earlier repair"),
        ("noneFound", "none found"),
    ];

    public async Task StartAsync(CancellationToken cancellationToken)
    {
        folder.Take();
        try
        {
            await Open(cancellationToken);
        }
        catch (Exception failure) when (StartException.Of(failure, options.Value.Data) is { } said && said != failure)
        {
            throw said;
        }
    }

    private async Task Open(CancellationToken cancellationToken)
    {
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
        if (store.IsThere && (await context.Database.GetPendingMigrationsAsync(cancellationToken)).Any())
        {
            await SetCopyAside(cancellationToken);
        }

        await context.Database.MigrateAsync(cancellationToken);
        await store.Settle(context, cancellationToken);
        if (!await context.Causes.AnyAsync(cancellationToken))
        {
            context.Causes.AddRange(
                CommonCauses.Select(
                    (c, i) =>
                        new Cause
                        {
                            Id = c.Id,
                            Words = c.Words,
                            Ordinal = c.Id == "noneFound" ? 100 : i,
                        }
                )
            );
            await context.SaveChangesAsync(cancellationToken);
        }

        identity.Id = await SharedVersions.Ledger(context, cancellationToken, renew: options.Value.NewIdentity);
        await context.SaveChangesAsync(cancellationToken);

        Disk.OwnFile(options.Value.DatabaseFile);
        if (options.Value.Demo is { Length: > 0 } demo && !await context.Machines.AnyAsync(cancellationToken))
        {
            // All of it or nothing: what a kill leaves of it is let go at the next start.
            folder.SampleDataComesIn();
            var import = scope.ServiceProvider.GetRequiredService<BundleImport>();
            foreach (var sample in Directory.EnumerateDirectories(demo).Order(StringComparer.Ordinal))
            {
                using var bundle = await BundleFile.Pack(sample, cancellationToken);
                await import.TakeIn(bundle, new Dictionary<string, BundleSide>(), null, cancellationToken);
                LogDemo(log, Path.GetFileName(sample));
            }

            folder.SampleDataIsIn();
        }
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    private async Task SetCopyAside(CancellationToken cancellationToken)
    {
        var copies = Path.Combine(options.Value.Data, "copies");
        Disk.OwnFolder(copies);
        var copy = Path.Combine(copies, clock.GetUtcNow().ToString("'ledger-'yyyyMMdd'T'HHmmssfff'Z.db'", CultureInfo.InvariantCulture));
        await store.Copy(copy, cancellationToken);
        foreach (var old in Directory.GetFiles(copies, "ledger-*.db").OrderDescending(StringComparer.Ordinal).Skip(CopiesKept))
        {
            File.Delete(old);
        }

        LogCopy(log, copy);
    }

    [LoggerMessage(Level = LogLevel.Information, Message = "The database was copied to {Copy} before its migration")]
    private static partial void LogCopy(ILogger log, string copy);

    [LoggerMessage(Level = LogLevel.Information, Message = "Sample data of {File} taken in")]
    private static partial void LogDemo(ILogger log, string file);
}
