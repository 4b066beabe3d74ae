using System.Runtime.InteropServices;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// What pictures, ZIP and SQLite take outside of the runtime. glibc keeps a heap for each thread and learns to keep what was once freed,
/// which on a server that now and then opens a photograph comes to 200 MB that nobody uses.
/// </summary>
internal static partial class NativeMemory
{
    // malloc.h of the GNU C library; mallopt(3).
    private const int MmapThreshold = -3;
    private const int ArenaMax = -8;

    /// <summary>Large pieces go back when they are freed, and there are two heaps for all threads. Other C libraries have their own
    /// ways, and nothing to set.</summary>
    public static void GiveBackWhatIsFree()
    {
        try
        {
            // Set once, it does not grow by itself any more.
            _ = Set(MmapThreshold, 256 * 1024);
            _ = Set(ArenaMax, 2);
        }
        catch (Exception none) when (none is DllNotFoundException or EntryPointNotFoundException)
        {
            // Not glibc.
        }
    }

    [LibraryImport("libc", EntryPoint = "mallopt")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static partial int Set(int parameter, int value);
}
