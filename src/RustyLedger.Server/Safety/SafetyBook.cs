using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Safety;

/// <summary>Reads the acts of making safe in the form that Core works with.</summary>
internal static class SafetyBook
{
    /// <param name="at">Only what was done up to then; null for all.</param>
    public static async Task<SafeState> State(string visitId, SafetySheet sheet, DateTimeOffset? at, LedgerContext context, CancellationToken cancel) =>
        SafeState.Of(sheet, await Limits(context, cancel), (await Events(visitId, context, cancel)).Where(e => at is null || e.At <= at));

    public static async Task<List<SafetyEvent>> Events(string visitId, LedgerContext context, CancellationToken cancel)
    {
        var records = await context.SafetyEvents.AsNoTracking().Where(e => e.VisitId == visitId).OrderBy(e => e.Order).ToListAsync(cancel);
        var ids = records.ConvertAll(r => r.PersonId).Distinct().ToList();
        var people = await context.People.AsNoTracking().Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return records.ConvertAll(r => EventOf(r, people.GetValueOrDefault(r.PersonId, "somebody")));
    }

    public static SafetyEvent EventOf(SafetyEventRecord r, string person) => new(r.Id, r.Order, r.Kind, r.Subject, r.Volts, r.Words, r.Target, r.DeviceTime, person);

    public static async Task<SafetySheet> Sheet(string modelId, LedgerContext context, CancellationToken cancel) =>
        await context.ModelSheets.AsNoTracking().Where(s => s.OwnerId == modelId && s.Id == ModelSheetRecord.Safety && s.RetiredAt == null).Select(s => s.Body).FirstOrDefaultAsync(cancel) is { } body
            ? JsonSerializer.Deserialize<SafetySheet>(body, MachineFile.OneLine)!
            : SafetySheet.Empty;

    public static async Task<ShopLimits> Limits(LedgerContext context, CancellationToken cancel) =>
        await context.Shop.AsNoTracking().FirstOrDefaultAsync(cancel) is { } shop ? new ShopLimits(shop.AcDry, shop.DcDry, shop.AcWet, shop.DcWet) : ShopLimits.Usual;

    /// <summary>The volts of a reading that proves; null for any other act.</summary>
    /// <exception cref="ProblemException">The text is not one voltage.</exception>
    public static decimal? Volts(SafetyEventKind kind, string subject, string typed)
    {
        if (kind != SafetyEventKind.Read)
        {
            return null;
        }

        try
        {
            return ReadingNotation.Read(typed, subject.EndsWith("/ac", StringComparison.Ordinal) ? MeterMode.AcVolts : MeterMode.DcVolts).Choices is [NumberReading { Value: var volts }]
                ? volts
                : throw ProblemException.Bad("typed", $"\"{typed}\" is not one voltage; a proof needs a number such as 0.2.");
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation("typed", refusal);
        }
    }

    public static TemporaryLinkPlan PlanOf(TemporaryLinkRecord link) => new(
        link.Kind,
        link is { FromHolder: not null, FromPin: not null } ? new PinAddress(link.FromHolder, link.FromPin) : null,
        link is { ToHolder: not null, ToPin: not null } ? new PinAddress(link.ToHolder, link.ToPin) : null,
        link.Where,
        null);

    /// <exception cref="ProblemException">It would bypass a protective device.</exception>
    public static void RefuseBypass(TemporaryLinkPlan plan, ResolvedMachine machine)
    {
        if (BypassRefusal.Of(plan, machine) is { } refusal)
        {
            throw new ProblemException(StatusCodes.Status409Conflict, "A protective device", refusal.Words) { Extensions = { ["field"] = "where", ["device"] = refusal.Device.Id } };
        }
    }
}
