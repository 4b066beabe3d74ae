using Microsoft.EntityFrameworkCore;

namespace RustyLedger.Server.Storage;

/// <summary>
/// Goes through the register's lines that were only marked when what they tell of changed: some at a time, each step its own short
/// transaction, so that a reading never waits for a whole fleet. What a stop left is taken up at the next start.
/// </summary>
public sealed partial class RegisterKeeper(IServiceScopeFactory scopes, ILogger<RegisterKeeper> log) : BackgroundService
{
    private static readonly TimeSpan _betweenSteps = TimeSpan.FromMilliseconds(20);

    private readonly SemaphoreSlim _work = new(1);

    /// <summary>Some lines were marked.</summary>
    public void Wake()
    {
        if (_work.CurrentCount == 0)
        {
            _work.Release();
        }
    }

    public override void Dispose()
    {
        _work.Dispose();
        base.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (true)
        {
            await _work.WaitAsync(stoppingToken);
            try
            {
                while (await Step(stoppingToken))
                {
                    await Task.Delay(_betweenSteps, stoppingToken);
                }
            }
            catch (DbUpdateException failure)
            {
                // The lines stay marked, for the next change or the next start.
                LogFailure(log, failure);
            }
        }
    }

    private async Task<bool> Step(CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
        if (!await context.Register.AnyAsync(r => r.IsStale, cancel))
        {
            return false;
        }

        await using var transaction = await context.WriteAlone(cancel);
        context.Touch(await RegisterLines.Refresh(context, cancel));
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return true;
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The register could not be brought up to date; it is tried again")]
    private static partial void LogFailure(ILogger log, Exception failure);
}
