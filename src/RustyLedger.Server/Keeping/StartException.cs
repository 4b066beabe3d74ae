using Microsoft.Data.Sqlite;

namespace RustyLedger.Server.Keeping;

/// <summary>The ledger cannot start, or a command cannot be done: what happened and what to do, in a line or two.</summary>
/// <param name="code">What the process ends with.</param>
internal sealed class StartException(int code, string said) : Exception(said)
{
    /// <summary>The folder cannot be used as it is.</summary>
    public const int Folder = 3;

    /// <summary>The book cannot be opened as it is.</summary>
    public const int Book = 4;

    /// <summary>The address cannot be listened on.</summary>
    public const int Address = 5;

    /// <summary>Another server has the folder.</summary>
    public const int Taken = 6;

    public int Code => code;

    /// <summary>What a failure of the disk or of SQLite comes to; null where it is something else.</summary>
    /// <param name="data">The folder of the ledger.</param>
    public static StartException? Of(Exception failure, string data)
    {
        for (var at = failure; at is not null; at = at.InnerException)
        {
            switch (at)
            {
                case StartException said:
                    return said;
                case UnauthorizedAccessException:
                    return new StartException(
                        Folder,
                        $"{data} cannot be written: it is read-only, or another's. Give it to the account that runs the ledger, or name "
                            + "another folder with --data."
                    );
                case IOException or SqliteException when Disk.IsFull(at):
                    return Full(data);
                case IOException io when Disk.IsReadOnly(io):
                    return new StartException(
                        Folder,
                        $"{data} is on a disk that is read-only. Make it writable, or name another folder with --data."
                    );
                case SqliteException sqlite when OfSqlite(sqlite, data) is { } said:
                    return said;
            }
        }

        return null;
    }

    public static StartException Full(string data) =>
        new(Folder, $"The disk of {data} is full. Nothing was half written; make room, then start again.");

    public static StartException Damaged(string data, string what) =>
        new(
            Book,
            $"The book in {data} is damaged: {what}. Nothing was changed. Restore the newest backup (./ledger restore FILE); "
                + "./ledger check tells what can still be read."
        );

    // The result codes of SQLite, https://www.sqlite.org/rescode.html.
    private static StartException? OfSqlite(SqliteException failure, string data) =>
        failure.SqliteErrorCode switch
        {
            8 or 14 => new StartException(
                Folder,
                $"The book in {data} cannot be opened for writing. Give the folder and its files to the account that runs the ledger."
            ),
            11 => Damaged(data, "pages of it do not fit together"),
            26 => new StartException(Book, NoBook(data)),
            10 => new StartException(
                Folder,
                $"The disk of {data} does not read or write as it should ({failure.Message}). Look at the disk first."
            ),
            5 or 6 => new StartException(Taken, $"Something else holds the book in {data}. End it, then start again."),
            _ => null,
        };

    public static string NoBook(string data) =>
        $"{Path.Combine(data, "ledger.db")} is no book of a ledger. Set it aside, then start again; or restore a backup "
        + "(./ledger restore FILE).";
}
