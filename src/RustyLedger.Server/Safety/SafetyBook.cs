using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
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

    public static async Task<ShopLimits> Limits(LedgerContext context, CancellationToken cancel) =>
        await context.Shop.AsNoTracking().FirstOrDefaultAsync(cancel) is { } shop ? shop.Limits : ShopLimits.Usual;

    /// <summary>
    /// What a reading about to be written says of sources that were thought dead; it is added as acts of the visit. Asked about first where
    /// nobody said what it is.
    /// </summary>
    /// <exception cref="ProblemException">It contradicts what was thought dead, and <paramref name="answer"/> is null.</exception>
    public static void Hear(
        Reading reading,
        LiveAnswer? answer,
        Visit visit,
        SafetySheet sheet,
        ShopLimits limits,
        IReadOnlyList<SafetyEvent> events,
        bool isEnergised,
        LedgerContext context
    )
    {
        if (reading.Understood() is not { } value || visit.EndedAt is not null || answer == LiveAnswer.Elsewhere)
        {
            return;
        }

        if (LiveReading.Of(sheet, limits, SafeState.Of(sheet, limits, events), value, reading.Mode, isEnergised) is not { } found)
        {
            return;
        }

        var names = string.Join(", ", sheet.SourcesOrAssumed.Where(s => found.SourceIds.Contains(s.Id)).Select(s => s.Name));
        if (answer is null)
        {
            throw new ProblemException(
                StatusCodes.Status409Conflict,
                "Live, or mistyped?",
                $"{found.Words} where {names} was thought dead. Is it live, or was it mistyped?"
            )
            {
                Extensions = { ["field"] = "typed", ["asksLive"] = true },
            };
        }

        var order = events.Count == 0 ? reading.Order : Math.Max(reading.Order, events.Max(e => e.Order) + 1);
        foreach (var (i, source) in found.SourceIds.Index())
        {
            context.Put(
                new SafetyAct
                {
                    Id = $"{reading.Id}-{i}",
                    VisitId = visit.Id,
                    Order = order + i,
                    Kind = found.Kind,
                    Subject = source,
                    Typed = "",
                    Words = $"{found.Words} at {reading.RedPrinted}",
                    Target = reading.Id.Value,
                    DeviceTime = reading.DeviceTime,
                    ServerTime = reading.ServerTime,
                    PersonId = reading.PersonId,
                }
            );
        }
    }
}
