using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace RustyLedger.Server.Storage;

/// <summary>
/// Where the book is kept. What only one kind of database knows (its files, its settings, its column types) stands behind this seam, so
/// that another provider of Entity Framework Core is one more class beside <see cref="SqliteBook"/>, chosen where the host is built.
/// </summary>
internal interface IBookStore
{
    /// <summary>Tells the context how to reach the book.</summary>
    void Use(DbContextOptionsBuilder options);

    /// <summary>Whether there is a book already, which a migration could spoil.</summary>
    bool IsThere { get; }

    /// <summary>Copies the whole book, with what was committed last.</summary>
    /// <param name="copy">The file to make.</param>
    Task Copy(string copy, CancellationToken cancel);

    /// <summary>What has to be set once, after the schema stands.</summary>
    Task Settle(LedgerContext context, CancellationToken cancel);
}

/// <summary>The book in one SQLite file.</summary>
internal sealed class SqliteBook(string file) : IBookStore
{
    public bool IsThere => File.Exists(file);

    public void Use(DbContextOptionsBuilder options) => options.UseSqlite($"Data Source={file}").AddInterceptors(new DurableConnections());

    /// <summary>A copy of the bare file would miss what still stands in the write-ahead log.</summary>
    public async Task Copy(string copy, CancellationToken cancel)
    {
        await using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        await connection.OpenAsync(cancel);
        await using var command = connection.CreateCommand();
        command.CommandText = "VACUUM INTO $copy";
        command.Parameters.AddWithValue("$copy", copy);
        await command.ExecuteNonQueryAsync(cancel);
    }

    /// <summary>Readers do not wait for the one who writes.</summary>
    public Task Settle(LedgerContext context, CancellationToken cancel) =>
        context.Database.ExecuteSqlRawAsync("PRAGMA journal_mode=WAL", cancel);

    /// <summary>How what SQLite has no column type for is kept: it cannot sort a DateTimeOffset; ticks of UTC sort as they are.</summary>
    public static void Columns(ModelConfigurationBuilder columns) => columns.Properties<DateTimeOffset>().HaveConversion<UtcTicks>();

    private sealed class UtcTicks()
        : ValueConverter<DateTimeOffset, long>(t => t.UtcTicks, ticks => new DateTimeOffset(ticks, TimeSpan.Zero));

    /// <summary>What an acknowledged reading rests on: the commit is on the disk.</summary>
    private sealed class DurableConnections : DbConnectionInterceptor
    {
        private const string Durable = "PRAGMA synchronous=FULL; PRAGMA busy_timeout=5000;";

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
        {
            using var command = connection.CreateCommand();
            command.CommandText = Durable;
            command.ExecuteNonQuery();
        }

        public override async Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            await using var command = connection.CreateCommand();
            command.CommandText = Durable;
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }
}
