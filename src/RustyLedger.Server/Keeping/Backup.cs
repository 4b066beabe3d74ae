using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Keeping;

/// <summary>A file of a backup.</summary>
/// <param name="Sha256">In hex.</param>
public sealed record BackupPart(string Name, string Sha256, long Bytes);

/// <summary>What a backup says of itself, in its <c>backup.json</c>.</summary>
/// <param name="Missing">Pictures that the book names and the folder no longer had.</param>
public sealed record BackupList(
    string Format,
    int Version,
    string Ledger,
    DateTimeOffset MadeAt,
    IReadOnlyList<BackupPart> Parts,
    IReadOnlyList<string> Missing
)
{
    public const string FormatName = "rusty-ledger/backup";
    public const int CurrentVersion = 1;
    public const string FileName = "backup.json";
}

/// <summary>
/// The whole ledger in one ZIP file: the book as one online copy, and every picture it names. It is read again before it counts as
/// made.
/// </summary>
internal static class Backup
{
    /// <summary>Of a backup that is being written; one that is left so is swept.</summary>
    public const string HalfEnding = ".half";

    private const string BookName = "ledger.db";

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
    };

    public static string FolderOf(string data) => Path.Combine(data, "backups");

    public static string NameAt(DateTimeOffset now) =>
        now.ToUniversalTime().ToString("'ledger-'yyyyMMdd'T'HHmmss'Z.zip'", CultureInfo.InvariantCulture);

    /// <summary>Makes a backup while the ledger runs, and reads it again.</summary>
    /// <param name="file">Where it goes; made whole or not at all.</param>
    /// <exception cref="StartException">There is no book, or what was written cannot be read again.</exception>
    public static async Task<BackupList> Make(string data, string file, DateTimeOffset now, CancellationToken cancel)
    {
        var book = Path.Combine(data, BookName);
        if (!File.Exists(book))
        {
            throw new StartException(StartException.Book, $"There is no book in {data}; name the folder of the ledger with --data.");
        }

        var folder = Path.GetDirectoryName(Path.GetFullPath(file))!;
        Disk.OwnFolder(folder);
        var (half, copy) = (file + HalfEnding, Path.Combine(folder, $"beside-{Guid.CreateVersion7():N}.db{HalfEnding}"));
        try
        {
            await Copy(book, copy, cancel);
            var (ledger, pictures) = Told(copy);
            var (parts, missing) = (new List<BackupPart>(), new List<string>());
            await using (var stream = new FileStream(half, FileMode.Create, FileAccess.ReadWrite))
            {
                await using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
                {
                    parts.Add(await Put(zip, BookName, copy, CompressionLevel.Fastest, cancel));
                    foreach (var picture in pictures)
                    {
                        var from = Path.Combine(data, "photographs", picture);
                        if (File.Exists(from))
                        {
                            // Pictures are packed by their own formats.
                            parts.Add(
                                await Put(zip, $"photographs/{picture.Replace('\\', '/')}", from, CompressionLevel.NoCompression, cancel)
                            );
                        }
                        else
                        {
                            missing.Add(picture);
                        }
                    }

                    await using var list = zip.CreateEntry(BackupList.FileName).Open();
                    await JsonSerializer.SerializeAsync(
                        list,
                        new BackupList(BackupList.FormatName, BackupList.CurrentVersion, ledger, now, parts, missing),
                        Json,
                        cancel
                    );
                }

                stream.Flush(flushToDisk: true);
            }

            Disk.OwnFile(half);
            var made = await Check(half, cancel);
            File.Move(half, file, overwrite: true);
            Disk.Settle(folder);
            return made;
        }
        finally
        {
            File.Delete(half);
            File.Delete(copy);
        }
    }

    private static async Task Copy(string book, string copy, CancellationToken cancel)
    {
        await using var connection = new SqliteConnection($"Data Source={book};Pooling=False");
        await connection.OpenAsync(cancel);
        await using var command = connection.CreateCommand();
        // One read transaction: what was acknowledged before is in it, whatever is written meanwhile.
        command.CommandText = "VACUUM INTO $copy";
        command.Parameters.AddWithValue("$copy", copy);
        await command.ExecuteNonQueryAsync(cancel);
    }

    /// <summary>The ledger that a book is, and the files of its pictures below the folder of photographs.</summary>
    private static (string Ledger, IReadOnlyList<string> Pictures) Told(string book)
    {
        using var connection = new SqliteConnection($"Data Source={book};Pooling=False;Mode=ReadOnly");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT Body FROM Versions WHERE Id = $own";
        command.Parameters.AddWithValue("$own", SharedVersions.Own);
        var ledger = command.ExecuteScalar() as string ?? "";
        return (ledger, PicturesOf(connection));
    }

    /// <summary>The files that a book names, whole pictures and small ones, below the folder of photographs.</summary>
    internal static IReadOnlyList<string> PicturesOf(SqliteConnection book)
    {
        using var command = book.CreateCommand();
        command.CommandText = "SELECT DISTINCT Hash, Format FROM Photographs ORDER BY Hash";
        var files = new List<string>();
        using var reader = command.ExecuteReader();
        while (reader.Read())
        {
            var (hash, format) = (reader.GetString(0), reader.GetString(1));
            files.Add(Path.Combine(hash[..2], $"{hash}.{format}"));
            files.Add(Path.Combine(hash[..2], $"{hash}.small.jpg"));
        }

        return files;
    }

    private static async Task<BackupPart> Put(ZipArchive zip, string name, string from, CompressionLevel level, CancellationToken cancel)
    {
        await using var source = new FileStream(from, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        await using var entry = zip.CreateEntry(name, level).Open();
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var (buffer, bytes) = (new byte[1 << 16], 0L);
        for (int read; (read = await source.ReadAsync(buffer, cancel)) > 0; bytes += read)
        {
            hash.AppendData(buffer.AsSpan(0, read));
            await entry.WriteAsync(buffer.AsMemory(0, read), cancel);
        }

        return new BackupPart(name, Convert.ToHexStringLower(hash.GetHashAndReset()), bytes);
    }

    /// <summary>Opens a backup, reads every part of it, and has SQLite look at the book.</summary>
    /// <param name="into">A folder to unpack it into; null to look only.</param>
    /// <exception cref="StartException">It is none, or is not whole; the message says what is wrong.</exception>
    public static async Task<BackupList> Check(string file, CancellationToken cancel, string? into = null)
    {
        StartException Wrong(string what) => new(StartException.Book, $"{file} cannot be restored: {what}. Nothing was changed.");
        try
        {
            await using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.Read);
            await using var zip = new ZipArchive(stream, ZipArchiveMode.Read);
            var list =
                zip.GetEntry(BackupList.FileName) is { } entry && await Listed(entry, cancel) is { Format: BackupList.FormatName } read
                    ? read
                    : throw Wrong("it is no backup of a ledger");
            if (list.Version > BackupList.CurrentVersion)
            {
                throw Wrong($"it was made by a newer version of the ledger (format {list.Version})");
            }

            if (Unreadable.First(list) is { } place)
            {
                throw Wrong(place.Words);
            }

            if (list.Parts.All(p => p.Name != BookName))
            {
                throw Wrong($"there is no {BookName} in its list");
            }

            var folder =
                into ?? Path.Combine(Path.GetDirectoryName(Path.GetFullPath(file))!, $"beside-{Guid.CreateVersion7():N}{HalfEnding}");
            try
            {
                foreach (var part in list.Parts)
                {
                    var packed = zip.GetEntry(part.Name) ?? throw Wrong($"{part.Name} is missing in it");
                    await using var from = packed.Open();
                    await Unpack(
                        part,
                        from,
                        into is null && part.Name != BookName ? null : TargetOf(folder, part.Name, Wrong),
                        Wrong,
                        cancel
                    );
                }

                LookAtBook(Path.Combine(folder, BookName), Wrong);
                return list;
            }
            finally
            {
                if (into is null && Directory.Exists(folder))
                {
                    Directory.Delete(folder, recursive: true);
                }
            }
        }
        catch (Exception broken) when (broken is InvalidDataException or JsonException)
        {
            throw Wrong("it is cut or damaged");
        }
        catch (FileNotFoundException)
        {
            throw new StartException(StartException.Book, $"There is no file {file}.");
        }
    }

    private static async Task<BackupList?> Listed(ZipArchiveEntry entry, CancellationToken cancel)
    {
        await using var stream = entry.Open();
        return await JsonSerializer.DeserializeAsync<BackupList>(stream, Json, cancel);
    }

    /// <summary>A name that leads out of the folder is none of a backup.</summary>
    private static string TargetOf(string folder, string name, Func<string, StartException> wrong)
    {
        var target = Path.GetFullPath(Path.Combine(folder, name));
        if (!target.StartsWith(Path.GetFullPath(folder) + Path.DirectorySeparatorChar, StringComparison.Ordinal))
        {
            throw wrong($"{name} is no name of a part");
        }

        Disk.OwnFolder(Path.GetDirectoryName(target)!);
        return target;
    }

    private static async Task Unpack(
        BackupPart part,
        Stream from,
        string? target,
        Func<string, StartException> wrong,
        CancellationToken cancel
    )
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        await using var to = target is null ? Stream.Null : new FileStream(target, FileMode.Create, FileAccess.Write);
        var (buffer, bytes) = (new byte[1 << 16], 0L);
        for (int read; (read = await from.ReadAsync(buffer, cancel)) > 0; bytes += read)
        {
            hash.AppendData(buffer.AsSpan(0, read));
            await to.WriteAsync(buffer.AsMemory(0, read), cancel);
        }

        if (bytes != part.Bytes || Convert.ToHexStringLower(hash.GetHashAndReset()) != part.Sha256)
        {
            throw wrong($"{part.Name} in it is damaged");
        }

        if (to is FileStream written)
        {
            written.Flush(flushToDisk: true);
        }
    }

    private static void LookAtBook(string book, Func<string, StartException> wrong)
    {
        using var connection = new SqliteConnection($"Data Source={book};Pooling=False;Mode=ReadOnly");
        connection.Open();
        if (DataFolder.QuickCheck(connection) is { } broken)
        {
            throw wrong($"the book in it is damaged ({broken})");
        }

        if (DataFolder.Unknown(connection) is { } newer)
        {
            throw wrong($"it was made by a newer version of the ledger ({newer})");
        }
    }
}
