using System.Runtime.InteropServices;
using Microsoft.Data.Sqlite;

namespace RustyLedger.Server.Keeping;

/// <summary>What the disk has to be asked for beyond writing: that a name stays after the power goes, and that nobody else reads.</summary>
internal static partial class Disk
{
    private const int ReadOnly = 0;
    private const int NoSpace = 28;
    private const int QuotaSpent = 122;
    private const int ReadOnlyFileSystem = 30;

    // SQLITE_FULL and SQLITE_IOERR_SHMSIZE, https://www.sqlite.org/rescode.html.
    private const int BookFull = 13;
    private const int NoRoomForIndexOfLog = 4874;

    /// <summary>A folder that is there, and that only its owner can read.</summary>
    public static void OwnFolder(string folder)
    {
        if (OperatingSystem.IsWindows())
        {
            Directory.CreateDirectory(folder);
            return;
        }

        const UnixFileMode OwnerAlone = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
        Directory.CreateDirectory(folder, OwnerAlone);
    }

    /// <summary>A file that only its owner can read and write; left as it is where somebody else owns it.</summary>
    public static void OwnFile(string file)
    {
        if (OperatingSystem.IsWindows() || !File.Exists(file))
        {
            return;
        }

        try
        {
            File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        }
        catch (UnauthorizedAccessException)
        {
            // It is another's, and can be written all the same: whoever set that up meant it.
        }
    }

    /// <summary>The names in a folder are on the disk: a file that was moved there is there after the power went.</summary>
    public static void Settle(string folder)
    {
        if (OperatingSystem.IsWindows())
        {
            return;
        }

        var handle = Open(folder, ReadOnly);
        if (handle >= 0)
        {
            _ = Sync(handle);
            _ = Close(handle);
        }
    }

    /// <summary>Whether it failed, at the bottom of it, because nothing more fits.</summary>
    public static bool IsFull(Exception failure)
    {
        for (var at = failure; at is not null; at = at.InnerException)
        {
            if (
                at is SqliteException { SqliteErrorCode: BookFull } or SqliteException { SqliteExtendedErrorCode: NoRoomForIndexOfLog }
                || (at is IOException io && (io.HResult & 0xFFFF) is NoSpace or QuotaSpent)
            )
            {
                return true;
            }
        }

        return false;
    }

    public static bool IsReadOnly(IOException failure)
    {
        ArgumentNullException.ThrowIfNull(failure);
        return (failure.HResult & 0xFFFF) == ReadOnlyFileSystem;
    }

    [LibraryImport("libc", EntryPoint = "open", StringMarshalling = StringMarshalling.Utf8)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static partial int Open(string path, int flags);

    [LibraryImport("libc", EntryPoint = "fsync")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static partial int Sync(int handle);

    [LibraryImport("libc", EntryPoint = "close")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static partial int Close(int handle);
}
