using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Safety;

/// <summary>Reads the acts of making safe in the form that Core works with.</summary>
internal static class SafetyBook
{
    /// <param name="at">Only what was done up to then; null for all.</param>
    public static async Task<SafeState> State(
        VisitId visitId,
        SafetySheet sheet,
        DateTimeOffset? at,
        LedgerContext context,
        CancellationToken cancel
    ) => SafeState.Of(sheet, await Limits(context, cancel), (await Events(visitId, context, cancel)).Where(e => at is null || e.At <= at));

    public static async Task<List<SafetyEvent>> Events(VisitId visitId, LedgerContext context, CancellationToken cancel)
    {
        var records = await context.SafetyActs.AsNoTracking().Where(e => e.VisitId == visitId).OrderBy(e => e.Order).ToListAsync(cancel);
        var ids = records.ConvertAll(r => r.PersonId).Distinct().ToList();
        var people = await context.People.AsNoTracking().Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return records.ConvertAll(r => r.Event(people.GetValueOrDefault(r.PersonId, "somebody")));
    }

    public static async Task<SafetySheet> Sheet(ModelId modelId, LedgerContext context, CancellationToken cancel) =>
        await context
            .ModelSheets.AsNoTracking()
            .Where(s => s.OwnerId == modelId && s.Id == ModelSheetRecord.Safety && s.RetiredAt == null)
            .Select(s => s.Body)
            .FirstOrDefaultAsync(cancel)
            is { } body
            ? JsonSerializer.Deserialize<SafetySheet>(body, MachineFile.OneLine)!
            : SafetySheet.Empty;

    /// <summary>The meters of the shop, with those of no maker behind them.</summary>
    public static async Task<IReadOnlyList<Meter>> Meters(LedgerContext context, CancellationToken cancel) =>
        Core.Measuring.Meters.With(await context.Shop.AsNoTracking().Select(s => s.Meters).FirstOrDefaultAsync(cancel) ?? "");

    public static async Task<ShopLimits> Limits(LedgerContext context, CancellationToken cancel) =>
        await context.Shop.AsNoTracking().FirstOrDefaultAsync(cancel) is { } shop ? shop.Limits : ShopLimits.Usual;
}
