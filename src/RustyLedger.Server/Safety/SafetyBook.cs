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
    public static async Task<SafeState> State(
        string visitId,
        SafetySheet sheet,
        DateTimeOffset? at,
        LedgerContext context,
        CancellationToken cancel
    ) => SafeState.Of(sheet, await Limits(context, cancel), (await Events(visitId, context, cancel)).Where(e => at is null || e.At <= at));

    public static async Task<List<SafetyEvent>> Events(string visitId, LedgerContext context, CancellationToken cancel)
    {
        var records = await context.SafetyEvents.AsNoTracking().Where(e => e.VisitId == visitId).OrderBy(e => e.Order).ToListAsync(cancel);
        var ids = records.ConvertAll(r => r.PersonId).Distinct().ToList();
        var people = await context.People.AsNoTracking().Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return records.ConvertAll(r => EventOf(r, people.GetValueOrDefault(r.PersonId, "somebody")));
    }

    public static SafetyEvent EventOf(SafetyEventRecord r, string person) =>
        new(r.Id, r.Order, r.Kind, r.Subject, r.Volts, r.Words, r.Target, r.DeviceTime, person);

    public static async Task<SafetySheet> Sheet(string modelId, LedgerContext context, CancellationToken cancel) =>
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
            return
                ReadingNotation
                    .Read(typed, subject.EndsWith("/ac", StringComparison.Ordinal) ? MeterMode.AcVolts : MeterMode.DcVolts)
                    .Choices
                    is [NumberReading { Value: var volts }]
                ? volts
                : throw ProblemException.Bad("typed", $"\"{typed}\" is not one voltage; a proof needs a number such as 0.2.");
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation("typed", refusal);
        }
    }

    /// <summary>
    /// What a reading about to be written says of sources that were thought dead; it is added as acts of the visit. Asked about first where
    /// nobody said what it is.
    /// </summary>
    /// <exception cref="ProblemException">It contradicts what was thought dead, and <paramref name="answer"/> is null.</exception>
    public static async Task Hear(
        ReadingRecord reading,
        ReadingValue? value,
        LiveAnswer? answer,
        VisitRecord visit,
        string modelId,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        if (value is null || visit.EndedAt is not null || answer == LiveAnswer.Elsewhere)
        {
            return;
        }

        var (sheet, limits) = (await Sheet(modelId, context, cancel), await Limits(context, cancel));
        var events = await Events(visit.Id, context, cancel);
        var isEnergised =
            await context
                .States.Where(s => s.OwnerId == modelId && s.Id == reading.State)
                .Select(s => (bool?)s.Energised)
                .FirstOrDefaultAsync(cancel)
            ?? false;
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
            context.SafetyEvents.Add(
                new SafetyEventRecord
                {
                    Id = $"{reading.Id}-{i}",
                    VisitId = visit.Id,
                    Order = order + i,
                    Kind = found.Kind,
                    Subject = source,
                    Typed = "",
                    Words = $"{found.Words} at {reading.RedPrinted}",
                    Target = reading.Id,
                    DeviceTime = reading.DeviceTime,
                    ServerTime = reading.ServerTime,
                    PersonId = reading.PersonId,
                }
            );
        }
    }

    public static TemporaryLinkPlan PlanOf(TemporaryLinkRecord link) =>
        new(
            link.Kind,
            link is { FromHolder: not null, FromPin: not null } ? new PinAddress(link.FromHolder, link.FromPin) : null,
            link is { ToHolder: not null, ToPin: not null } ? new PinAddress(link.ToHolder, link.ToPin) : null,
            link.Where,
            link.Across,
            link.Standing
        );

    /// <exception cref="ProblemException">It would bypass a protective device.</exception>
    public static void RefuseBypass(TemporaryLinkPlan plan, ResolvedMachine machine)
    {
        if (BypassRefusal.Of(plan, machine) is { } refusal)
        {
            throw new ProblemException(StatusCodes.Status409Conflict, "A protective device", refusal.Words)
            {
                Extensions = { ["field"] = "where", ["device"] = refusal.Device.Id },
            };
        }
    }
}
