using System.Runtime.CompilerServices;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Core.Machines;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

/// <summary>
/// What each fault of a machine would show is worked out once for a machine as it is, and takes seconds where the circuit is large. It is
/// begun when somebody opens a visit there, so that the suspects stand ready when they are asked for. Nothing depends on it: whoever asks
/// sooner waits as long as without it.
/// </summary>
public sealed partial class ReasonAhead(
    IServiceScopeFactory scopes,
    IOptions<LedgerOptions> options,
    TimeProvider clock,
    ILogger<ReasonAhead> log
) : BackgroundService
{
    // So many visits wait; of more, those opened last.
    private const int MostWaiting = 4;

    // The page that was opened comes first.
    private static readonly TimeSpan Breath = TimeSpan.FromSeconds(1);

    private readonly Channel<VisitId> _opened = Channel.CreateBounded<VisitId>(
        new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest }
    );
    private readonly ConditionalWeakTable<ResolvedMachine, object> _done = [];

    /// <summary>Somebody looks at a visit.</summary>
    public void Opened(VisitId visit) => _opened.Writer.TryWrite(visit);

    /// <summary>How many machines were worked out ahead.</summary>
    internal int WorkedOut { get; private set; }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (!options.Value.ReasonsAhead)
        {
            return;
        }

        await foreach (var visit in _opened.Reader.ReadAllAsync(stoppingToken))
        {
            await Task.Delay(Breath, clock, stoppingToken);
            try
            {
                await WorkOut(visit, stoppingToken);
            }
            catch (Exception failure) when (failure is not OperationCanceledException)
            {
                // Whoever asks is told; here nobody waits.
                LogFailure(log, failure);
            }
        }
    }

    private async Task WorkOut(VisitId id, CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<LedgerContext>();
        var library = scope.ServiceProvider.GetRequiredService<MachineLibrary>();
        if (await context.Visits.AsNoTracking().SingleOrDefaultAsync(v => v.Id == id && v.EndedAt == null, cancel) is not { } visit)
        {
            return;
        }

        var machine = await library.Resolve(visit.MachineId, cancel);
        if (machine.Model.Circuit.Rows.Count > 0 && _done.TryAdd(machine, this))
        {
            _ = await ReasonEndpoints.Weigh(visit, ReasonEndpoints.Usual, context, library, cancel);
            WorkedOut++;
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Suspects could not be worked out ahead")]
    private static partial void LogFailure(ILogger log, Exception failure);
}
