using System.Security.Cryptography;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Keeping;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// What takes much memory while it lasts, a bundle or a machine file going out or coming in, is done one after the other: the ledger of a
/// shop lives on a small machine, and two that wait for each other are done as soon as two that press each other out of it.
/// </summary>
public sealed class LargeWork : IDisposable
{
    private const long MostBefore = 56L * 1024 * 1024;
    private const long MostLeft = 32L * 1024 * 1024;

    private readonly SemaphoreSlim _one = new(1);

    /// <summary>Waits until nothing else is on; whoever is given the turn gives it back by disposing of it.</summary>
    public async Task<IDisposable> Turn(CancellationToken cancel)
    {
        await _one.WaitAsync(cancel);
        // Its own comes on top of what is there.
        MemoryKeeper.GiveBackAbove(MostBefore);
        return new Given(_one);
    }

    public void Dispose() => _one.Dispose();

    private sealed class Given(SemaphoreSlim one) : IDisposable
    {
        private readonly long _before = GC.GetTotalMemory(forceFullCollection: false);

        public void Dispose()
        {
            // What it left is given back at once: on a quiet day nothing else would make the collector look at it for hours.
            if (GC.GetTotalMemory(forceFullCollection: false) - _before > MostLeft)
            {
                MemoryKeeper.GiveBackAbove(MostBefore);
            }

            one.Release();
        }
    }
}

/// <summary>
/// A body as a file of its own, gone when it is closed: however large, and however slowly it comes, it is not held in memory.
/// </summary>
internal static class Received
{
    /// <summary>Another reader of it, from its beginning.</summary>
    public static Stream Again(FileStream file) =>
        new FileStream(file.Name, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);

    /// <param name="most">Bytes; more than this is left unread.</param>
    /// <returns>At its beginning, and the SHA-256 of what came, in hex; null for more than <paramref name="most"/>.</returns>
    /// <exception cref="IOException">The disk is full, or it was cut off.</exception>
    public static async Task<(FileStream File, string Sha256)?> Body(HttpRequest request, string name, long most, CancellationToken cancel)
    {
        var file = new FileStream(
            DataFolder.Temporary(request.HttpContext.RequestServices.GetRequiredService<IOptions<LedgerOptions>>().Value.Data, name),
            FileMode.CreateNew,
            FileAccess.ReadWrite,
            FileShare.ReadWrite | FileShare.Delete,
            1 << 16,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
        try
        {
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var buffer = new byte[1 << 16];
            for (int read; (read = await request.Body.ReadAsync(buffer, cancel)) > 0; )
            {
                if (file.Length + read > most)
                {
                    await file.DisposeAsync();
                    return null;
                }

                hash.AppendData(buffer, 0, read);
                await file.WriteAsync(buffer.AsMemory(0, read), cancel);
            }

            await file.FlushAsync(cancel);
            file.Position = 0;
            return (file, Convert.ToHexStringLower(hash.GetHashAndReset()));
        }
        catch
        {
            await file.DisposeAsync();
            throw;
        }
    }
}
