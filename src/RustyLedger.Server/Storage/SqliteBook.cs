using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using RustyLedger.Server.History;

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

    /// <summary>
    /// Writes into an empty book beside this one, then moves all of that in within one short transaction.
    /// </summary>
    /// <param name="mayBeHere">Kinds of which one that is here under the same key stays as it is; any other is in the way.</param>
    /// <param name="write">Fills the book beside.</param>
    /// <param name="settle">Done in the transaction, before and after the rows are moved; what it throws takes all back.</param>
    Task Prepare(
        LedgerContext context,
        IReadOnlySet<Type> mayBeHere,
        Func<DbContextOptions<LedgerContext>, Task> write,
        Func<Func<Task>, Task> settle,
        CancellationToken cancel
    );
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

    public async Task Prepare(
        LedgerContext context,
        IReadOnlySet<Type> mayBeHere,
        Func<DbContextOptions<LedgerContext>, Task> write,
        Func<Func<Task>, Task> settle,
        CancellationToken cancel
    )
    {
        var beside = Path.Combine(Path.GetDirectoryName(Path.GetFullPath(file))!, $"beside-{Guid.CreateVersion7():N}.db");
        try
        {
            // Nothing of it has to outlive the process.
            var options = new DbContextOptionsBuilder<LedgerContext>()
                .UseSqlite($"Data Source={beside};Pooling=False")
                .AddInterceptors(new FleetingConnections())
                .Options;
            await write(options);
            await context.Database.OpenConnectionAsync(cancel);
            try
            {
                await context.Database.ExecuteSqlAsync($"ATTACH {beside} AS beside", cancel);
                await using (var transaction = await context.WriteAlone(cancel))
                {
                    await settle(() => MoveIn(context, mayBeHere, cancel));
                    await transaction.CommitAsync(cancel);
                }

                await context.Database.ExecuteSqlRawAsync("DETACH beside", cancel);
            }
            finally
            {
                await context.Database.CloseConnectionAsync();
            }
        }
        finally
        {
            File.Delete(beside);
        }
    }

    /// <summary>Those that others belong to first, as their foreign keys ask.</summary>
    private static async Task MoveIn(LedgerContext context, IReadOnlySet<Type> mayBeHere, CancellationToken cancel)
    {
        var tables = context.Model.GetRelationalModel().Tables.ToList();
        var done = new HashSet<string>();
        while (tables.Count > 0)
        {
            var next = tables.First(t => t.ForeignKeyConstraints.All(k => k.PrincipalTable == t || done.Contains(k.PrincipalTable.Name)));
            tables.Remove(next);
            done.Add(next.Name);
            var isLog = next.Name == nameof(LedgerContext.Edits);
            var columns = string.Join(
                ", ",
                next.Columns.Where(c => !isLog || c.Name != nameof(EditRecord.Id)).Select(c => $"\"{c.Name}\"")
            );
            // What was here before has its own beginning in the log.
            const string NotYetInTheLog = """
                 AS b WHERE NOT EXISTS (SELECT 1 FROM main."Edits" AS e WHERE e."Kind" = b."Kind" AND e."RecordId" = b."RecordId")
                ORDER BY b."Id"
                """;
            var or = next.EntityTypeMappings.Any(m => mayBeHere.Contains(m.TypeBase.ClrType)) ? "OR IGNORE " : "";
            var move = $"INSERT {or}INTO main.\"{next.Name}\" ({columns}) SELECT {columns} FROM beside.\"{next.Name}\"";
            try
            {
#pragma warning disable EF1002 // The names are those of the model.
                await context.Database.ExecuteSqlRawAsync(isLog ? move + NotYetInTheLog : move, cancel);
#pragma warning restore EF1002
            }
            catch (SqliteException broken)
            {
                throw new DbUpdateException($"{next.Name} could not be moved in.", broken);
            }
        }
    }

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

    /// <summary>A book that is gone when its work is done waits for no disk.</summary>
    private sealed class FleetingConnections : DbConnectionInterceptor
    {
        public override async Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            await using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA synchronous=OFF; PRAGMA journal_mode=MEMORY;";
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }
}
