using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Keeping;

/// <summary>
/// The folder a ledger lives in, held by one process at a time. The kernel holds the lock, so that a process that died holds nothing.
/// </summary>
internal sealed partial class DataFolder(IOptions<LedgerOptions> options, TimeProvider clock) : IDisposable
{
    private const string LockName = "ledger.lock";
    private const string HolderName = "ledger.holder";

    /// <summary>While the sample data comes in: a folder with this in it holds a part of it and nothing else.</summary>
    private const string BegunName = "sample-data.begun";

    private FileStream? _lock;

    private string Data => options.Value.Data;

    private string In(string name) => Path.Combine(Data, name);

    /// <summary>Takes the folder, finishes or takes back what a kill left half done, and looks at the book before it is opened.</summary>
    /// <exception cref="StartException">It cannot be used; the message says why and what to do.</exception>
    public void Take()
    {
        try
        {
            Hold();
            Restoring.Finish(Data);
            if (File.Exists(In(BegunName)))
            {
                // It held nothing but a part of the sample data: nobody was served from it.
                foreach (var part in Directory.GetFiles(Data, "ledger.db*"))
                {
                    File.Delete(part);
                }

                File.Delete(In(BegunName));
            }

            Sweep(Data);
            LookAt(options.Value.DatabaseFile, Data);
        }
        catch (Exception failure) when (StartException.Of(failure, Data) is { } said && said != failure)
        {
            throw said;
        }
    }

    /// <summary>Keeps other processes out of the folder until this is disposed.</summary>
    /// <exception cref="StartException">Another has it.</exception>
    public void Hold()
    {
        Disk.OwnFolder(Data);
        try
        {
            _lock = new FileStream(In(LockName), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException held) when (!Disk.IsFull(held) && !Disk.IsReadOnly(held) && File.Exists(In(LockName)))
        {
            throw new StartException(StartException.Taken, $"{Data} is in use{Holder()}. End it, or name another folder with --data.");
        }

        File.WriteAllText(
            In(HolderName),
            string.Create(
                CultureInfo.InvariantCulture,
                $"process {Environment.ProcessId}, since {clock.GetUtcNow():yyyy-MM-dd HH:mm} UTC, port {options.Value.Port}"
            )
        );
    }

    private string Holder()
    {
        try
        {
            return File.ReadAllText(In(HolderName)) is { Length: > 0 } holder ? $" by {holder}" : "";
        }
        catch (IOException)
        {
            return "";
        }
    }

    /// <summary>From now on the folder holds a part of the sample data, until <see cref="SampleDataIsIn"/>.</summary>
    public void SampleDataComesIn()
    {
        File.WriteAllText(In(BegunName), "");
        Disk.Settle(Data);
    }

    public void SampleDataIsIn()
    {
        File.Delete(In(BegunName));
        Disk.Settle(Data);
    }

    /// <summary>What a kill left half written: pictures under their first names, books beside, bundles, half a backup.</summary>
    internal static void Sweep(string data)
    {
        foreach (
            var left in Directory
                .GetFiles(data, "beside-*.db*")
                .Concat(Files(Path.Combine(data, "photographs"), SearchOption.AllDirectories).Where(f => HalfWritten().IsMatch(f)))
                .Concat(
                    Files(Path.Combine(data, "backups"), SearchOption.TopDirectoryOnly)
                        .Where(f => f.EndsWith(Backup.HalfEnding, StringComparison.Ordinal))
                )
                .Concat(Files(Path.Combine(data, "temporary"), SearchOption.AllDirectories))
        )
        {
            File.Delete(left);
        }

        static IEnumerable<string> Files(string folder, SearchOption how) =>
            Directory.Exists(folder) ? Directory.GetFiles(folder, "*", how) : [];
    }

    /// <summary>What this process makes and lets go again; swept at each start.</summary>
    public static string Temporary(string data, string name)
    {
        var folder = Path.Combine(data, "temporary");
        Disk.OwnFolder(folder);
        return Path.Combine(folder, $"{Guid.CreateVersion7():N}-{name}");
    }

    /// <summary>A book that is there is a whole book, of a version that is understood, and can be written.</summary>
    /// <exception cref="StartException">It is not.</exception>
    internal static void LookAt(string file, string data)
    {
        if (!File.Exists(file) || new FileInfo(file).Length == 0)
        {
            return;
        }

        Span<byte> begins = stackalloc byte[16];
        using (var stream = new FileStream(file, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite))
        {
            if (stream.ReadAtLeast(begins, 16, throwOnEndOfStream: false) < 16 || !begins.SequenceEqual("SQLite format 3\0"u8))
            {
                throw new StartException(StartException.Book, StartException.NoBook(data));
            }
        }

        Disk.OwnFile(file);
        using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        if (QuickCheck(connection) is { } wrong)
        {
            throw StartException.Damaged(data, wrong);
        }

        if (Unknown(connection) is { } newer)
        {
            throw new StartException(
                StartException.Book,
                $"The book in {data} was written by a newer version of the ledger ({newer}). Use that version, or restore an older "
                    + "backup; nothing was changed."
            );
        }

        // Only one process has the folder: whoever took this lock of the migrations is dead.
        using var command = connection.CreateCommand();
        command.CommandText = "DROP TABLE IF EXISTS __EFMigrationsLock";
        command.ExecuteNonQuery();
    }

    /// <summary>What SQLite's own quick check finds first; null where nothing.</summary>
    internal static string? QuickCheck(SqliteConnection connection)
    {
        try
        {
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA quick_check(1)";
            return command.ExecuteScalar() is "ok" ? null : $"{command.ExecuteScalar()}".ReplaceLineEndings(" ");
        }
        catch (SqliteException broken) when (broken.SqliteErrorCode is 11 or 26)
        {
            return "pages of it cannot be read";
        }
    }

    /// <summary>A migration in the book that this version does not know; null for none.</summary>
    internal static string? Unknown(SqliteConnection connection)
    {
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT COUNT(*) FROM sqlite_master WHERE name = '__EFMigrationsHistory'";
        if (command.ExecuteScalar() is not 1L)
        {
            return null;
        }

        using var own = new LedgerContext(
            new DbContextOptionsBuilder<LedgerContext>().UseSqlite(connection).Options,
            new Actor(),
            TimeProvider.System
        );
        var known = own.Database.GetMigrations().ToHashSet();
        command.CommandText = "SELECT MigrationId FROM __EFMigrationsHistory ORDER BY MigrationId";
        using var reader = command.ExecuteReader();
        while (reader.Read())
        {
            if (!known.Contains(reader.GetString(0)))
            {
                return reader.GetString(0);
            }
        }

        return null;
    }

    public void Dispose()
    {
        if (_lock is { } held)
        {
            if (Directory.Exists(Data))
            {
                File.Delete(In(HolderName));
            }

            held.Dispose();
            _lock = null;
        }
    }

    [GeneratedRegex(@"\.(jpg|png|webp)\.[0-9a-f]{32}$")]
    private static partial Regex HalfWritten();
}
