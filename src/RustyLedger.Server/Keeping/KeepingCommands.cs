using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Keeping;

/// <summary>What is done with a ledger from a terminal: <c>backup</c>, <c>restore</c>, <c>check</c>.</summary>
internal static class KeepingCommands
{
    public static IReadOnlyList<string> Names { get; } = ["backup", "restore", "check"];

    /// <param name="file">Where a backup goes or comes from; empty for the folder of backups.</param>
    /// <returns>0; or 1 where <c>check</c> found something.</returns>
    /// <exception cref="StartException">It cannot be done; nothing was changed.</exception>
    public static async Task<int> Run(string name, string file, LedgerOptions options, TimeProvider clock, TextWriter say)
    {
        var now = clock.GetUtcNow();
        try
        {
            return name switch
            {
                "backup" => await MakeBackup(file, options.Data, now, say),
                "restore" => await Restore(file, options, clock, say),
                _ => await Check(options.Data, say),
            };
        }
        catch (Exception failure) when (StartException.Of(failure, options.Data) is { } said && said != failure)
        {
            throw said;
        }
    }

    private static async Task<int> MakeBackup(string file, string data, DateTimeOffset now, TextWriter say)
    {
        var to = file.Length > 0 ? Path.GetFullPath(file) : Path.Combine(Backup.FolderOf(data), Backup.NameAt(now));
        var made = await Backup.Make(data, to, now, CancellationToken.None);
        await say.WriteLineAsync(
            $"{to}, {Size(new FileInfo(to).Length)}: the book and {made.Parts.Count - 1} pictures, read again and whole."
        );
        foreach (var missing in made.Missing)
        {
            await say.WriteLineAsync($"Not in it, since its file is gone: {missing}");
        }

        return 0;
    }

    private static async Task<int> Restore(string file, LedgerOptions options, TimeProvider clock, TextWriter say)
    {
        if (file.Length == 0)
        {
            throw new StartException(2, "Say which backup: ./ledger restore FILE.");
        }

        using var folder = new DataFolder(Options.Create(options), clock);
        folder.Hold();
        var (backup, aside) = await Restoring.Restore(Path.GetFullPath(file), options.Data, clock.GetUtcNow(), CancellationToken.None);
        await say.WriteLineAsync(
            $"Restored as of {backup.MadeAt:yyyy-MM-dd HH:mm} UTC into {options.Data}: the book and {backup.Parts.Count - 1} pictures."
        );
        if (aside.Length > 0)
        {
            await say.WriteLineAsync($"What was there is kept in {aside}.");
        }

        return 0;
    }

    /// <summary>Looks at the book and at every picture, and says what is wrong; changes nothing.</summary>
    private static async Task<int> Check(string data, TextWriter say)
    {
        var found = 0;
        async Task Say(string what)
        {
            found++;
            await say.WriteLineAsync(what);
        }

        var file = Path.Combine(data, "ledger.db");
        if (!File.Exists(file))
        {
            throw new StartException(StartException.Book, $"There is no book in {data}; name the folder of the ledger with --data.");
        }

        await using var connection = new SqliteConnection($"Data Source={file};Pooling=False;Mode=ReadOnly");
        await connection.OpenAsync();
        foreach (var problem in await Rows(connection, "PRAGMA integrity_check(20)"))
        {
            if (problem != "ok")
            {
                await Say($"The book: {problem.ReplaceLineEndings(" ")}");
            }
        }

        foreach (var problem in await Rows(connection, "SELECT \"table\" || ' row ' || rowid FROM pragma_foreign_key_check LIMIT 20"))
        {
            await Say($"The book: {problem} belongs to something that is not there");
        }

        var tables = await Rows(
            connection,
            "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
        );
        var readable = 0;
        foreach (var table in tables)
        {
            var rows = await Rows(connection, $"SELECT COUNT(*) FROM \"{table}\"", onFailure: Say);
            readable += rows.Count;
        }

        await say.WriteLineAsync($"The book: {readable} of {tables.Count} tables can be read.");
        await Pictures(connection, Path.Combine(data, "photographs"), say, Say);
        await say.WriteLineAsync(
            found == 0 ? "All is well." : "Restore the newest backup that is whole, or write to whoever looks after the ledger."
        );
        return found == 0 ? 0 : 1;
    }

    private static async Task Pictures(SqliteConnection connection, string folder, TextWriter say, Func<string, Task> wrong)
    {
        var whole = 0;
        foreach (var picture in Backup.PicturesOf(connection).Where(p => !p.EndsWith(".small.jpg", StringComparison.Ordinal)))
        {
            var at = Path.Combine(folder, picture);
            if (!File.Exists(at))
            {
                await wrong($"A picture is gone: {picture}");
            }
            else if (
                Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(await File.ReadAllBytesAsync(at)))
                != Path.GetFileNameWithoutExtension(picture)
            )
            {
                await wrong($"A picture is damaged: {picture}");
            }
            else
            {
                whole++;
            }
        }

        await say.WriteLineAsync($"Pictures: {whole} are whole.");
    }

    private static async Task<List<string>> Rows(SqliteConnection connection, string sql, Func<string, Task>? onFailure = null)
    {
        var rows = new List<string>();
        try
        {
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            await using var reader = await command.ExecuteReaderAsync();
            while (await reader.ReadAsync())
            {
                rows.Add($"{reader.GetValue(0)}");
            }
        }
        catch (SqliteException broken) when (broken.SqliteErrorCode is 11 or 26)
        {
            await (
                onFailure?.Invoke($"The book: {sql.Split('"').ElementAtOrDefault(1) ?? "its pages"} cannot be read") ?? Task.CompletedTask
            );
        }

        return rows;
    }

    private static string Size(long bytes) => bytes >= 1 << 20 ? $"{bytes / (double)(1 << 20):0.0} MB" : $"{Math.Max(1, bytes / 1024)} kB";
}
