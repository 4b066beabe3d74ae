using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using RustyLedger.Core.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>A machine's line as the register shows it, with what it is found and sorted by.</summary>
public sealed record RegisterLine(MachineRow Row, string ModelId, string Text, bool IsWorn, string SortTag)
{
    /// <summary>Whether the line holds every one of the words.</summary>
    public bool Holds(IReadOnlyList<string> words)
    {
        ArgumentNullException.ThrowIfNull(words);
        foreach (var word in words)
        {
            if (
                !(
                    IsWorn || word.Contains(FindText.Unknown, StringComparison.Ordinal)
                        ? FindText.Holds(Text, word)
                        : Text.Contains(word, StringComparison.Ordinal)
                )
            )
            {
                return false;
            }
        }

        return true;
    }
}

/// <summary>
/// The register held in memory, so that the find box answers as one types whatever the size of the shop. The book's own
/// lines are the truth; a line that a commit has touched is read again before the next answer.
/// </summary>
public sealed class RegisterIndex : IDisposable
{
    // Beyond this, reading all is quicker than reading each.
    private const int MostAtOnce = 500;

    private readonly SemaphoreSlim _gate = new(1);
    private readonly HashSet<MachineId> _touched = [];
    private readonly Dictionary<RegisterOrder, IReadOnlyList<RegisterLine>> _sorted = [];
    private Dictionary<string, RegisterLine>? _lines;

    /// <summary>These machines' lines were changed by a commit.</summary>
    public void Touch(IEnumerable<MachineId> machineIds)
    {
        lock (_touched)
        {
            _touched.UnionWith(machineIds);
        }
    }

    /// <summary>Every line, in the order asked for; <see cref="RegisterOrder.Best"/> counts as by tag.</summary>
    public async Task<IReadOnlyList<RegisterLine>> Lines(RegisterOrder order, LedgerContext context, CancellationToken cancel)
    {
        await _gate.WaitAsync(cancel);
        try
        {
            await Catch(context, cancel);
            order = order == RegisterOrder.Best ? RegisterOrder.Tag : order;
            if (!_sorted.TryGetValue(order, out var sorted))
            {
                _sorted[order] = sorted = Sort(order);
            }

            return sorted;
        }
        finally
        {
            _gate.Release();
        }
    }

    public void Dispose() => _gate.Dispose();

    private List<RegisterLine> Sort(RegisterOrder order)
    {
        var byTag = _lines!.Values.OrderBy(l => l.SortTag, StringComparer.Ordinal);
        return order switch
        {
            RegisterOrder.Name => [.. byTag.OrderBy(l => l.Row.Name, StringComparer.OrdinalIgnoreCase)],
            RegisterOrder.Site => [.. byTag.OrderBy(l => l.Row.Site, StringComparer.OrdinalIgnoreCase)],
            RegisterOrder.Model =>
            [
                .. byTag
                    .OrderBy(l => l.Row.Maker, StringComparer.OrdinalIgnoreCase)
                    .ThenBy(l => l.Row.Model, StringComparer.OrdinalIgnoreCase),
            ],
            RegisterOrder.Touched => [.. byTag.OrderByDescending(l => l.Row.TouchedAt)],
            _ => [.. byTag],
        };
    }

    private async Task Catch(LedgerContext context, CancellationToken cancel)
    {
        List<MachineId> touched;
        lock (_touched)
        {
            touched = [.. _touched];
            _touched.Clear();
        }

        if (_lines is not null && touched.Count == 0)
        {
            return;
        }

        try
        {
            if (_lines is null || touched.Count > MostAtOnce)
            {
                _lines = await Read(context, context.Register).ToDictionaryAsync(l => l.Row.Id, cancel);
            }
            else
            {
                var now = await Read(context, context.Register.Where(r => touched.Contains(r.MachineId))).ToListAsync(cancel);
                touched.ForEach(id => _lines.Remove(id.Value));
                now.ForEach(line => _lines[line.Row.Id] = line);
            }

            _sorted.Clear();
        }
        catch
        {
            Touch(touched);
            throw;
        }
    }

    private static IQueryable<RegisterLine> Read(LedgerContext context, IQueryable<RegisterRecord> lines) =>
        from r in lines.AsNoTracking()
        join m in context.Machines on r.MachineId equals m.Id
        join x in context.Models on m.ModelId equals x.Id
        where m.RetiredAt == null
        select new RegisterLine(
            new MachineRow(
                m.Id.Value,
                m.Tag,
                m.Name,
                m.Site,
                x.Maker,
                x.Name,
                m.Serial,
                r.OpenFaults,
                r.OpenVisitId == null ? null : r.OpenVisitId.Value.Value,
                r.WaitsForPart,
                r.NeedsCare,
                r.TouchedAt
            ),
            m.ModelId.Value,
            r.Text,
            r.IsWorn,
            r.SortTag
        );
}

/// <summary>Tells what is held in memory what a commit has touched; what was rolled back it never hears of.</summary>
internal sealed class RegisterCommits(RegisterIndex index, ResolvedMachines machines, RegisterKeeper keeper) : DbTransactionInterceptor
{
    public override Task TransactionCommittedAsync(
        DbTransaction transaction,
        TransactionEndEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        TransactionCommitted(transaction, eventData);
        return Task.CompletedTask;
    }

    public override void TransactionCommitted(DbTransaction transaction, TransactionEndEventData eventData)
    {
        if (eventData.Context is LedgerContext context)
        {
            index.Touch(context.TakeTouched());
            machines.Forget(context.TakeRewired());
            if (context.HasMarked)
            {
                context.HasMarked = false;
                keeper.Wake();
            }
        }
    }
}
