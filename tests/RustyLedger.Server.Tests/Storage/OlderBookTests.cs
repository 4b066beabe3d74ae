using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Tests.Storage;

/// <summary>
/// A small filled book of every schema there was is kept in <c>Storage/Books</c>, named by the migration it stood at. Each is opened,
/// brought up to date
/// and found whole. After a new migration: take LY-03 and LY-06 in with an empty ledger and keep its <c>ledger.db</c> there.
/// </summary>
public sealed class OlderBookTests
{
    private static readonly string _folder = Path.Combine(TestLedger.Root, "tests", "RustyLedger.Server.Tests", "Storage", "Books");

    public static TheoryData<string> Books =>
        [.. Directory.GetFiles(_folder, "*.db").Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Books))]
    public async Task A_book_of_an_older_schema_is_opened_whole_and_goes_on(string book)
    {
        var data = Directory.CreateTempSubdirectory("ledger-older-").FullName;
        File.Copy(Path.Combine(_folder, book), Path.Combine(data, "ledger.db"));
        // Its pictures are those of the sample data.
        foreach (
            var picture in ((string[])["ly-03", "ly-06"])
                .Select(m => Path.Combine(TestLedger.DemoFolder, m, "pictures"))
                .Where(Directory.Exists)
                .SelectMany(Directory.GetFiles)
        )
        {
            var name = Path.GetFileName(picture);
            var folder = Directory.CreateDirectory(Path.Combine(data, "photographs", name[..2])).FullName;
            File.Copy(picture, Path.Combine(folder, name), overwrite: true);
        }

        var (readings, log, visits) = (await Count(data, "Readings"), await Count(data, "Edits"), await Count(data, "Visits"));
        using var ledger = await TestLedger.Start(data);
        Assert.True(readings > 0 && log > 0);
        Assert.Equal((readings, log), (await Count(data, "Readings"), await Count(data, "Edits")));
        foreach (var tag in (string[])["LY-03", "LY-06"])
        {
            var file = await ledger.Get($"/api/machines/{tag}/file");
            var kept = TestLedger.DemoMachine(tag.ToLowerInvariant());
            visits -= file["visits"]!.AsArray().Count;
            Assert.Equal(
                kept["boardTypes"]!.AsArray().Select(t => (string)t!["id"]!),
                file["boardTypes"]!.AsArray().Select(t => (string)t!["id"]!)
            );
            Assert.Equal(kept["faults"]!.AsArray().Count, file["faults"]!.AsArray().Count);
        }

        // Every visit of the old book is in the file of its machine.
        Assert.Equal(0, visits);
        var round = await Lines.Round(ledger, "ly-03");
        Assert.NotNull(await ledger.Get($"/api/rounds/{round}"));
    }

    [Theory]
    [MemberData(nameof(Books))]
    public async Task A_book_that_was_migrated_has_the_schema_of_a_fresh_one_index_by_index(string book)
    {
        var data = Directory.CreateTempSubdirectory("ledger-older-").FullName;
        File.Copy(Path.Combine(_folder, book), Path.Combine(data, "ledger.db"));
        using (await TestLedger.Start(data)) { }

        var fresh = Directory.CreateTempSubdirectory("ledger-").FullName;
        using (await TestLedger.Start(fresh)) { }

        Assert.Equal(await Schema(fresh), await Schema(data));
    }

    /// <summary>Tables with their columns, and indices; a column that a migration added stands behind the others.</summary>
    private static async Task<List<string>> Schema(string data)
    {
        await using var connection = new SqliteConnection($"Data Source={Path.Combine(data, "ledger.db")};Mode=ReadOnly;Pooling=False");
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = """
            SELECT m.name || '.' || c.name || ' ' || c.type || ' ' || c."notnull" || ' ' || c.pk
            FROM sqlite_master AS m JOIN pragma_table_info(m.name) AS c WHERE m.type = 'table'
            UNION ALL SELECT 'index ' || name || ' ' || coalesce(sql, '') FROM sqlite_master WHERE type = 'index'
            UNION ALL
            SELECT m.name || ' key ' || f."from" || ' ' || f."table" || '.' || coalesce(f."to", '') || ' ' || f.on_delete
            FROM sqlite_master AS m JOIN pragma_foreign_key_list(m.name) AS f WHERE m.type = 'table'
            """;
        var lines = new List<string>();
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            lines.Add(reader.GetString(0));
        }

        lines.Sort(StringComparer.Ordinal);
        return lines;
    }

    /// <summary>What an acknowledged reading rests on: 2 is FULL.</summary>
    [Fact]
    public async Task Every_connection_of_the_server_waits_for_the_disk()
    {
        long synchronous = -1;
        using var ledger = await TestLedger.StartWith(services =>
            services.AddHostedService(provider => new Asking(provider, found => synchronous = found))
        );
        Assert.Equal(2, synchronous);
    }

    private sealed class Asking(IServiceProvider services, Action<long> tell) : BackgroundService
    {
        public override async Task StartAsync(CancellationToken cancellationToken)
        {
            await using var scope = services.CreateAsyncScope();
            var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
            tell(
                (
                    await context
                        .Database.SqlQueryRaw<long>("SELECT synchronous AS Value FROM pragma_synchronous")
                        .ToListAsync(cancellationToken)
                ).Single()
            );
        }

        protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.CompletedTask;
    }

    [Fact]
    public async Task There_is_a_book_of_the_schema_as_it_is_now()
    {
        await using var context = new LedgerContext(
            new DbContextOptionsBuilder<LedgerContext>().UseSqlite("Data Source=:memory:").Options,
            new Actor(),
            TimeProvider.System
        );
        Assert.Equal(
            $"{context.Database.GetMigrations().Last()}.db",
            Directory.GetFiles(_folder, "*.db").Select(Path.GetFileName).Order(StringComparer.Ordinal).Last()
        );
        Assert.False(context.Database.HasPendingModelChanges(), "The records differ from the last migration.");
    }

    private static async Task<long> Count(string data, string table)
    {
        await using var connection = new SqliteConnection($"Data Source={Path.Combine(data, "ledger.db")};Mode=ReadOnly;Pooling=False");
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = $"SELECT COUNT(*) FROM {table}";
        return (long)(await command.ExecuteScalarAsync())!;
    }
}
