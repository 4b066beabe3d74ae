using System.Runtime;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// Gives memory back while the ledger is busy. The collector takes what a machine has to give before it looks back; the machine of a
/// shop has other things to do. One of it a process, not one a ledger.
/// </summary>
internal sealed class MemoryKeeper : IDisposable
{
    private const long Most = 75L * 1024 * 1024;
    private static readonly TimeSpan BetweenLooks = TimeSpan.FromSeconds(0.25);

    /// <summary>What is left when all was given back is in use: looked at again only when so much came on top of it.</summary>
    private const double Again = 1.2;

    private static long _left;
    private readonly ITimer _timer;

    public MemoryKeeper(TimeProvider clock) => _timer = clock.CreateTimer(_ => GiveBackAbove(Most), null, BetweenLooks, BetweenLooks);

    public void Dispose() => _timer.Dispose();

    /// <summary>
    /// Everything that nobody uses, where there is more than so many bytes and much has come since the last time: some tens of
    /// milliseconds in which nothing else runs.
    /// </summary>
    public static void GiveBackAbove(long most)
    {
        if (GC.GetTotalMemory(forceFullCollection: false) > Math.Max(most, Again * Interlocked.Read(ref _left)))
        {
            GiveBack();
        }
    }

    private static void GiveBack()
    {
        GCSettings.LargeObjectHeapCompactionMode = GCLargeObjectHeapCompactionMode.CompactOnce;
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        Interlocked.Exchange(ref _left, GC.GetTotalMemory(forceFullCollection: false));
    }
}
