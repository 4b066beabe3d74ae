using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Devices;

/// <summary>Who may come in: asked at every request, so held in memory beside the book.</summary>
internal sealed class DeviceBook(IServiceScopeFactory scopes, TimeProvider clock) : IDisposable
{
    /// <summary>When a device was seen is written down so often.</summary>
    private static readonly TimeSpan SeenEvery = TimeSpan.FromMinutes(10);

    private readonly SemaphoreSlim _gate = new(1);
    private Dictionary<string, DeviceRecord>? _byHash;

    private static string HashOf(string key) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(key)));

    /// <summary>Lets a device in.</summary>
    /// <returns>Its key, which is shown to nobody again.</returns>
    public async Task<string> LetIn(string name, CancellationToken cancel)
    {
        var key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        var now = clock.GetUtcNow();
        await Change(
            context =>
            {
                context.Devices.Add(
                    new DeviceRecord
                    {
                        Id = Hosting.Texts.NewId(),
                        Name = name,
                        KeyHash = HashOf(key),
                        LetInAt = now,
                        LastSeen = now,
                    }
                );
                return Task.CompletedTask;
            },
            cancel
        );
        return key;
    }

    /// <summary>The device that holds a key; null where none does, or it was locked out.</summary>
    public async Task<DeviceRecord?> Of(string key, CancellationToken cancel)
    {
        var device = (await All(cancel)).GetValueOrDefault(HashOf(key));
        if (device is not { LockedOutAt: null })
        {
            return null;
        }

        var now = clock.GetUtcNow();
        if (now - device.LastSeen > SeenEvery)
        {
            await Change(
                context =>
                    context.Devices.Where(d => d.Id == device.Id).ExecuteUpdateAsync(d => d.SetProperty(x => x.LastSeen, now), cancel),
                cancel
            );
        }

        return device;
    }

    /// <summary>A device comes in no more, from its next request on.</summary>
    /// <returns>False where there is no such device.</returns>
    public async Task<bool> LockOut(string id, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var found = 0;
        await Change(
            async context =>
                found = await context
                    .Devices.Where(d => d.Id == id)
                    .ExecuteUpdateAsync(d => d.SetProperty(x => x.LockedOutAt, x => x.LockedOutAt ?? now), cancel),
            cancel
        );
        return found > 0;
    }

    private async Task Change(Func<LedgerContext, Task> change, CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
        await change(context);
        await context.SaveChangesAsync(cancel);
        _byHash = null;
    }

    private async Task<Dictionary<string, DeviceRecord>> All(CancellationToken cancel)
    {
        if (_byHash is { } known)
        {
            return known;
        }

        await _gate.WaitAsync(cancel);
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
            return _byHash ??= await context.Devices.AsNoTracking().ToDictionaryAsync(d => d.KeyHash, cancel);
        }
        finally
        {
            _gate.Release();
        }
    }

    public void Dispose() => _gate.Dispose();
}
