using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Safety;

/// <summary>A capacitor's advice: how long it needs, and what it still holds.</summary>
/// <param name="OffAt">When its source was switched off; null while it is on.</param>
/// <param name="LimitVolts">Below which it counts as dead.</param>
public sealed record ChargeView(
    string Id,
    string Name,
    decimal Volts,
    DateTimeOffset? OffAt,
    decimal LimitVolts,
    Discharge Now,
    string Words
);

/// <param name="OffAt">When the last source was switched off; null while one is on.</param>
public sealed record RunOnView(string Id, string Name, decimal Minutes, string Words, DateTimeOffset? OffAt);

/// <param name="From">Printed name; null where it is no pin.</param>
/// <param name="Bypasses">The protective device that is out of action by it; empty for none.</param>
public sealed record TemporaryLinkView(
    string Id,
    int Version,
    string VisitId,
    string Tag,
    TemporaryLinkKind Kind,
    string KindWords,
    PinAddress? FromPin,
    PinAddress? ToPin,
    string? From,
    string? To,
    string Where,
    string Why,
    bool Attended,
    DateTimeOffset? Until,
    DateTimeOffset PlacedAt,
    string Person,
    DateTimeOffset? RemovedAt,
    string? RemovedBy,
    string? Across,
    BypassStanding Standing,
    string Bypasses
);

public sealed record LifeSafetyNoticeView(
    string Id,
    int Version,
    string VisitId,
    string Tag,
    string Told,
    string Watching,
    DateTimeOffset? Until,
    DateTimeOffset At,
    string Person,
    DateTimeOffset? BackAt
);

/// <param name="Sources">As the model has them, or the one that is taken as given.</param>
/// <param name="IsAssumed">Nobody said what feeds this model.</param>
public sealed record SafetyView(
    SafeState State,
    IReadOnlyList<EnergySource> Sources,
    bool IsAssumed,
    IReadOnlyList<ChargeView> Charges,
    IReadOnlyList<RunOnView> RunOns,
    IReadOnlyList<Interlock> Interlocks,
    IReadOnlyList<string> Cautions,
    string LifeSafety,
    IReadOnlyList<TemporaryLinkView> Links,
    IReadOnlyList<LifeSafetyNoticeView> Notices
);

/// <param name="Typed">The reading as typed; empty unless something was read.</param>
public sealed record NewSafetyEvent(
    string Id,
    long Order,
    SafetyEventKind Kind,
    string Subject,
    string Typed,
    string Words,
    string? Target,
    DateTimeOffset DeviceTime,
    string PersonId
);

/// <param name="From">A pin; null where it is none.</param>
/// <param name="Across">The protective device it lies across, as the technician says; null for none of them.</param>
public sealed record NewTemporaryLink(
    string Id,
    TemporaryLinkKind Kind,
    PinAddress? From,
    PinAddress? To,
    string Where,
    string? Across,
    string Why,
    bool Attended,
    DateTimeOffset? Until,
    string PersonId,
    BypassStanding Standing = BypassStanding.None
);

public sealed record TemporaryLinkEdit(
    int Version,
    TemporaryLinkKind Kind,
    PinAddress? From,
    PinAddress? To,
    string Where,
    string? Across,
    string Why,
    bool Attended,
    DateTimeOffset? Until,
    bool IsRemoved,
    BypassStanding Standing = BypassStanding.None
);

public sealed record NewLifeSafetyNotice(string Id, string Told, string Watching, DateTimeOffset? Until, string PersonId);

public sealed record LifeSafetyNoticeEdit(int Version, string Told, string Watching, DateTimeOffset? Until, bool IsBack);

/// <param name="PublicAddress">Under which phones find the ledger; empty where the shop set none.</param>
/// <param name="OperatorsAddress">What holds where the shop set none; empty for none.</param>
/// <param name="Meters">The shop's own meters, as they were written; empty for none.</param>
/// <param name="PresetMeters">Meters of no maker, as a text to begin from.</param>
public sealed record ShopView(
    int Version,
    ShopLimits Limits,
    ShopLimits Most,
    string PublicAddress,
    string OperatorsAddress,
    string Meters,
    string PresetMeters
);

/// <param name="Meters">Null to leave them as they are.</param>
public sealed record ShopEdit(int Version, ShopLimits Limits, string? PublicAddress = null, string? Meters = null);

/// <summary>A meter one may have in the hand.</summary>
/// <param name="LineVolts">Up to which line voltage it may be used; 0 where its category does not do, or nobody said one.</param>
public sealed record MeterView(string Name, string Words, decimal LineVolts);

internal static class SafetyEndpoints
{
    public static void MapSafety(this IEndpointRouteBuilder api)
    {
        api.MapPost("/visits/{id}/safety-events", Act).WithName("addSafetyEvent");
        api.MapPost("/visits/{id}/temporary-links", Place).WithName("placeTemporaryLink");
        api.MapPut("/temporary-links/{id}", EditLink).WithName("editTemporaryLink");
        api.MapPost("/visits/{id}/life-safety-notices", Notify).WithName("giveLifeSafetyNotice");
        api.MapPut("/life-safety-notices/{id}", EditNotice).WithName("editLifeSafetyNotice");
        api.MapGet("/shop", Shop).WithName("getShop");
        api.MapPut("/shop", EditShop).WithName("editShop");
        api.MapGet("/meters", Meters).WithName("listMeters");
    }

    public static async Task<SafetyView> View(
        Visit visit,
        ResolvedMachine machine,
        LedgerContext context,
        IReadOnlyDictionary<PersonId, string> people,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var sheet = machine.Model.Safety;
        var limits = await SafetyBook.Limits(context, cancel);
        var events = await SafetyBook.Events(visit.Id, context, cancel);
        var state = SafeState.Of(sheet, limits, events);
        DateTimeOffset? Off(string source) =>
            state.Steps.FirstOrDefault(s => s.Kind == SafetyEventKind.SwitchedOff && s.Subject == source)?.DoneAt;
        var offs = state.Steps.Where(s => s.Kind == SafetyEventKind.SwitchedOff).Select(s => s.DoneAt).ToList();
        var limit = limits.Touch(isAc: false, state.Place);
        return new SafetyView(
            state,
            sheet.SourcesOrAssumed,
            sheet.IsAssumed,
            [
                .. sheet.Charges.Select(c =>
                {
                    var now = Discharge.Of(c, limit, Off(c.SourceId) is { } off ? clock.GetUtcNow() - off : TimeSpan.Zero);
                    return new ChargeView(
                        c.Id,
                        c.Name,
                        c.Volts,
                        Off(c.SourceId),
                        limit,
                        now,
                        c.Volts <= limit ? $"{now.JoulesAtStart:0.##} J at {c.Volts:0.#} V, below {limit:0.#} V as it is."
                            : c.BleedOhms is null ? $"No bleed resistor: it may hold {now.JoulesAtStart:0.##} J for days."
                            : $"{now.JoulesAtStart:0.##} J at {c.Volts:0.#} V. Below {limit:0.#} V after {now.Seconds:0.#} "
                                + $"s, {now.SecondsAtWorst:0.#} s at worst, if the bleed resistor is whole."
                    );
                }),
            ],
            [
                .. sheet.RunOns.Select(r => new RunOnView(
                    r.Id,
                    r.Name,
                    r.Minutes,
                    r.Words,
                    offs.TrueForAll(o => o is not null) ? offs.Max() : null
                )),
            ],
            sheet.Interlocks,
            CautionChoice.Of(sheet, state),
            sheet.LifeSafety,
            [
                .. (
                    await context
                        .TemporaryLinks.AsNoTracking()
                        .Where(l =>
                            l.MachineId == machine.Machine.Id && l.RetiredAt == null && (l.RemovedAt == null || l.VisitId == visit.Id)
                        )
                        .OrderBy(l => l.PlacedAt)
                        .ToListAsync(cancel)
                ).Select(l => LinkView(l, machine, people)),
            ],
            [
                .. (
                    await context
                        .Notices.AsNoTracking()
                        .Where(n => n.MachineId == machine.Machine.Id && n.RetiredAt == null && (n.BackAt == null || n.VisitId == visit.Id))
                        .OrderBy(n => n.At)
                        .ToListAsync(cancel)
                ).Select(n => NoticeView(n, machine.Machine.Tag, people)),
            ]
        );
    }

    public static LifeSafetyNoticeView NoticeView(Notice n, string tag, IReadOnlyDictionary<PersonId, string> people) =>
        new(
            n.Id,
            n.Version,
            n.VisitId.Value,
            tag,
            n.Told,
            n.Watching,
            n.Until,
            n.At,
            people.GetValueOrDefault(n.PersonId, "somebody"),
            n.BackAt
        );

    private static TemporaryLinkView LinkView(TemporaryLink l, ResolvedMachine machine, IReadOnlyDictionary<PersonId, string> people)
    {
        string? Printed(PinAddress? at) => at is not null && machine.Pins.TryGetValue(at, out var pin) ? pin.Printed : null;
        return new TemporaryLinkView(
            l.Id,
            l.Version,
            l.VisitId.Value,
            machine.Machine.Tag,
            l.Kind,
            l.Kind.Words(),
            l.From,
            l.To,
            Printed(l.From),
            Printed(l.To),
            l.Where,
            l.Why,
            l.Attended,
            l.Until,
            l.PlacedAt,
            people.GetValueOrDefault(l.PersonId, "somebody"),
            l.RemovedAt,
            l.RemovedById is { } by ? people.GetValueOrDefault(by, "somebody") : null,
            l.Across,
            l.Standing,
            l.Standing == BypassStanding.None ? "" : BypassRefusal.Bypassed(l.Plan, machine)?.Name ?? l.Where
        );
    }

    private static async Task<VisitStart> Act(
        string id,
        NewSafetyEvent asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var visit = await StartEndpoints.OpenVisit(id, context, cancel);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        // Read, judged and written with nobody between: two devices act on what they both know.
        await using var transaction = await context.WriteAlone(cancel);
        if (!await context.SafetyActs.AnyAsync(e => e.Id == asked.Id, cancel))
        {
            var modelId = await context.Machines.Where(m => m.Id == visit.MachineId).Select(m => m.ModelId).SingleAsync(cancel);
            context.Put(
                new SafetyAct
                {
                    Id = asked.Id,
                    VisitId = visit.Id,
                    Order = asked.Order,
                    Kind = asked.Kind,
                    Subject = asked.Subject?.Trim() ?? "",
                    Typed = asked.Typed?.Trim() ?? "",
                    Words = asked.Words?.Trim() ?? "",
                    Target = asked.Target,
                    DeviceTime = asked.DeviceTime,
                    ServerTime = clock.GetUtcNow(),
                    PersonId = asked.PersonId,
                }.After(
                    await SafetyBook.Events(visit.Id, context, cancel),
                    await SafetyBook.Sheet(modelId, context, cancel),
                    await SafetyBook.Limits(context, cancel)
                )
            );
            await context.SaveChangesAsync(cancel);
        }

        await transaction.CommitAsync(cancel);
        return await StartEndpoints.Start(id, context, library, clock, cancel);
    }

    private static async Task<VisitStart> Place(
        string id,
        NewTemporaryLink asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var visit = await StartEndpoints.OpenVisit(id, context, cancel);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        if (!await context.TemporaryLinks.AnyAsync(l => l.Id == asked.Id, cancel))
        {
            var plan = new TemporaryLinkPlan(asked.Kind, asked.From, asked.To, asked.Where, asked.Across, asked.Standing);
            context.Put(
                TemporaryLink.Put(
                    asked.Id,
                    visit.Id,
                    asked.PersonId,
                    new TemporaryLinkWords(plan, asked.Why, asked.Attended, asked.Until),
                    await library.Resolve(visit.MachineId, cancel),
                    clock.GetUtcNow()
                )
            );
            await context.SaveChangesAsync(cancel);
        }

        return await StartEndpoints.Start(id, context, library, clock, cancel);
    }

    private static async Task<VisitStart> EditLink(
        string id,
        TemporaryLinkEdit edit,
        LedgerContext context,
        MachineLibrary library,
        Actor actor,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var link =
            await context.TemporaryLinks.SingleOrDefaultAsync(l => l.Id == id && l.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This temporary link");
        if (link.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    edit.Where,
                    edit.Why,
                    edit.Attended,
                    edit.Until,
                    edit.IsRemoved,
                },
                new
                {
                    link.Where,
                    link.Why,
                    link.Attended,
                    link.Until,
                    IsRemoved = link.RemovedAt is not null,
                },
                link.Version
            );
        }

        var plan = new TemporaryLinkPlan(edit.Kind, edit.From, edit.To, edit.Where, edit.Across, edit.Standing);
        context.Put(
            link.Remove(edit.IsRemoved, PersonId.Maybe(actor.PersonId), clock.GetUtcNow())
                .Write(new TemporaryLinkWords(plan, edit.Why, edit.Attended, edit.Until), await library.Resolve(link.MachineId, cancel))
        );
        await context.SaveChangesAsync(cancel);
        return await StartEndpoints.Start(link.VisitId, context, library, clock, cancel);
    }

    private static async Task<VisitStart> Notify(
        string id,
        NewLifeSafetyNotice asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var visit = await StartEndpoints.OpenVisit(id, context, cancel);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        if (!await context.Notices.AnyAsync(n => n.Id == asked.Id, cancel))
        {
            var now = clock.GetUtcNow();
            context.Put(
                new Notice
                {
                    Id = asked.Id,
                    MachineId = visit.MachineId,
                    VisitId = visit.Id,
                    Told = "",
                    Watching = "",
                    At = now,
                    PersonId = asked.PersonId,
                }.Write(asked.Told, asked.Watching, asked.Until, isBack: false, now)
            );
            await context.SaveChangesAsync(cancel);
        }

        return await StartEndpoints.Start(id, context, library, clock, cancel);
    }

    private static async Task<VisitStart> EditNotice(
        string id,
        LifeSafetyNoticeEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var notice =
            await context.Notices.SingleOrDefaultAsync(n => n.Id == id && n.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This notice");
        var written = notice.Write(edit.Told, edit.Watching, edit.Until, edit.IsBack, clock.GetUtcNow()).OrRefuse();
        if (notice.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    written.Told,
                    written.Watching,
                    written.Until,
                    edit.IsBack,
                },
                new
                {
                    notice.Told,
                    notice.Watching,
                    notice.Until,
                    IsBack = notice.BackAt is not null,
                },
                notice.Version
            );
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await StartEndpoints.Start(notice.VisitId, context, library, clock, cancel);
    }

    private static async Task<ShopView> Shop(LedgerContext context, IOptions<LedgerOptions> options, CancellationToken cancel)
    {
        var record = await context.Shop.AsNoTracking().FirstOrDefaultAsync(cancel);
        return new ShopView(
            record?.Version ?? 0,
            await SafetyBook.Limits(context, cancel),
            ShopLimits.Usual,
            record?.PublicAddress ?? "",
            options.Value.PublicAddress,
            record?.Meters ?? "",
            Core.Measuring.Meters.PresetText
        );
    }

    private static async Task<IReadOnlyList<MeterView>> Meters(LedgerContext context, CancellationToken cancel) =>
        [.. (await SafetyBook.Meters(context, cancel)).Select(m => new MeterView(m.Name, m.Words, m.LineVolts))];

    private static object Sides(ShopLimits l, string? publicAddress, string? meters) =>
        new
        {
            l.AcDry,
            l.DcDry,
            l.AcWet,
            l.DcWet,
            l.AcImmersed,
            l.DcImmersed,
            l.DeadAc,
            l.DeadDc,
            publicAddress = publicAddress ?? "",
            meters = meters ?? "",
        };

    private static async Task<ShopView> EditShop(
        ShopEdit edit,
        LedgerContext context,
        IOptions<LedgerOptions> options,
        CancellationToken cancel
    )
    {
        if (edit.Limits.Problems() is [var (member, problem), ..])
        {
            throw ProblemException.Bad(member, problem);
        }

        var record = await context.Shop.FirstOrDefaultAsync(cancel);
        if ((record?.Version ?? 0) != edit.Version)
        {
            var limits = await SafetyBook.Limits(context, cancel);
            throw ProblemException.Clash(
                Sides(edit.Limits, edit.PublicAddress ?? record?.PublicAddress, edit.Meters ?? record?.Meters),
                Sides(limits, record?.PublicAddress, record?.Meters),
                record?.Version ?? 0
            );
        }

        if (record is null)
        {
            record = new ShopRecord { Id = ShopRecord.Only };
            context.Shop.Add(record);
        }

        record.Meters = edit.Meters?.Trim() ?? record.Meters;
        record.PublicAddress = edit.PublicAddress?.Trim().TrimEnd('/') ?? record.PublicAddress;

        var set = edit.Limits;
        (record.AcDry, record.DcDry, record.AcWet, record.DcWet) = (set.AcDry, set.DcDry, set.AcWet, set.DcWet);
        (record.AcImmersed, record.DcImmersed, record.DeadAc, record.DeadDc) = (set.AcImmersed, set.DcImmersed, set.DeadAc, set.DeadDc);
        await context.SaveChangesAsync(cancel);
        return await Shop(context, options, cancel);
    }
}
