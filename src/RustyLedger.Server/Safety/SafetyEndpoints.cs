using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
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

public sealed record ShopView(int Version, ShopLimits Limits, ShopLimits Most);

public sealed record ShopEdit(int Version, ShopLimits Limits);

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
    }

    public static string Words(TemporaryLinkKind kind) =>
        kind switch
        {
            TemporaryLinkKind.SeriesLamp => "Series lamp",
            TemporaryLinkKind.PulledFuse => "Pulled fuse",
            TemporaryLinkKind.DummyPlug => "Dummy plug",
            _ => kind.ToString(),
        };

    public static async Task<SafetyView> View(
        VisitRecord visit,
        ResolvedMachine machine,
        LedgerContext context,
        IReadOnlyDictionary<string, string> people,
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
                    await Links(context, l => l.MachineId == machine.Machine.Id && (l.RemovedAt == null || l.VisitId == visit.Id), cancel)
                ).Select(l => LinkView(l, machine, people)),
            ],
            [
                .. (
                    await context
                        .LifeSafetyNotices.AsNoTracking()
                        .Where(n => n.MachineId == machine.Machine.Id && n.RetiredAt == null && (n.BackAt == null || n.VisitId == visit.Id))
                        .OrderBy(n => n.At)
                        .ToListAsync(cancel)
                ).Select(n => NoticeView(n, machine.Machine.Tag, people)),
            ]
        );
    }

    public static Task<List<TemporaryLinkRecord>> Links(
        LedgerContext context,
        System.Linq.Expressions.Expression<Func<TemporaryLinkRecord, bool>> which,
        CancellationToken cancel
    ) => context.TemporaryLinks.AsNoTracking().Where(l => l.RetiredAt == null).Where(which).OrderBy(l => l.PlacedAt).ToListAsync(cancel);

    public static LifeSafetyNoticeView NoticeView(LifeSafetyNoticeRecord n, string tag, IReadOnlyDictionary<string, string> people) =>
        new(n.Id, n.Version, n.VisitId, tag, n.Told, n.Watching, n.Until, n.At, people.GetValueOrDefault(n.PersonId, "somebody"), n.BackAt);

    private static TemporaryLinkView LinkView(TemporaryLinkRecord l, ResolvedMachine machine, IReadOnlyDictionary<string, string> people)
    {
        var plan = SafetyBook.PlanOf(l);
        string? Printed(PinAddress? at) => at is not null && machine.Pins.TryGetValue(at, out var pin) ? pin.Printed : null;
        return new TemporaryLinkView(
            l.Id,
            l.Version,
            l.VisitId,
            machine.Machine.Tag,
            l.Kind,
            Words(l.Kind),
            plan.From,
            plan.To,
            Printed(plan.From),
            Printed(plan.To),
            l.Where,
            l.Why,
            l.Attended,
            l.Until,
            l.PlacedAt,
            people.GetValueOrDefault(l.PersonId, "somebody"),
            l.RemovedAt,
            l.RemovedById is null ? null : people.GetValueOrDefault(l.RemovedById, "somebody"),
            l.Across,
            l.Standing,
            l.Standing == BypassStanding.None ? "" : BypassRefusal.Bypassed(plan, machine)?.Name ?? l.Where
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
        if (!await context.SafetyEvents.AnyAsync(e => e.Id == asked.Id, cancel))
        {
            // Acts count in the order in which the ledger hears of them: two devices need not agree on the time, and what arrives
            // late can only make a machine less safe than it was thought to be.
            var before = await SafetyBook.Events(id, context, cancel);
            var record = new SafetyEventRecord
            {
                Id = asked.Id,
                VisitId = id,
                Order = before.Count == 0 ? asked.Order : Math.Max(asked.Order, before.Max(e => e.Order) + 1),
                Kind = asked.Kind,
                Subject = Texts.Optional("subject", asked.Subject, 200),
                Typed = Texts.Optional("typed", asked.Typed, 60),
                Volts = SafetyBook.Volts(asked.Kind, asked.Subject, asked.Typed),
                Words = Texts.Optional("words", asked.Words, 200),
                Target = asked.Target,
                DeviceTime = asked.DeviceTime,
                ServerTime = clock.GetUtcNow(),
                PersonId = asked.PersonId,
            };
            var modelId = await context.Machines.Where(m => m.Id == visit.MachineId).Select(m => m.ModelId).SingleAsync(cancel);
            if (
                SafeState.Refusal(
                    await SafetyBook.Sheet(modelId, context, cancel),
                    await SafetyBook.Limits(context, cancel),
                    before,
                    SafetyBook.EventOf(record, "")
                ) is
                { } refusal
            )
            {
                throw new ProblemException(StatusCodes.Status409Conflict, "Not in this order", refusal)
                {
                    Extensions = { ["field"] = "kind" },
                };
            }

            if (asked.Kind is SafetyEventKind.FoundLive or SafetyEventKind.FoundUnexplained)
            {
                throw ProblemException.Bad("kind", "That a source was found live is written with the reading that found it.");
            }

            if (
                asked.Kind is SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter or SafetyEventKind.LiveAgain
                && record.Words.Length == 0
            )
            {
                throw ProblemException.Bad(
                    "words",
                    asked.Kind == SafetyEventKind.LiveAgain
                        ? "Say why it goes live again."
                        : "Name the known source the meter was proved on."
                );
            }

            context.SafetyEvents.Add(record);
            await context.SaveChangesAsync(cancel);
        }

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
            var machine = await library.Resolve(visit.MachineId, cancel);
            var link = new TemporaryLinkRecord
            {
                Id = asked.Id,
                MachineId = visit.MachineId,
                VisitId = id,
                Where = "",
                Why = "",
                PlacedAt = clock.GetUtcNow(),
                PersonId = asked.PersonId,
            };
            Fill(
                link,
                asked.Kind,
                asked.From,
                asked.To,
                asked.Where,
                asked.Across,
                asked.Standing,
                asked.Why,
                asked.Attended,
                asked.Until,
                machine
            );
            context.TemporaryLinks.Add(link);
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

        Fill(
            link,
            edit.Kind,
            edit.From,
            edit.To,
            edit.Where,
            edit.Across,
            edit.Standing,
            edit.Why,
            edit.Attended,
            edit.Until,
            await library.Resolve(link.MachineId, cancel)
        );
        link.RemovedById = edit.IsRemoved ? link.RemovedById ?? actor.PersonId : null;
        link.RemovedAt = edit.IsRemoved ? link.RemovedAt ?? clock.GetUtcNow() : null;
        await context.SaveChangesAsync(cancel);
        return await StartEndpoints.Start(link.VisitId, context, library, clock, cancel);
    }

    private static void Fill(
        TemporaryLinkRecord link,
        TemporaryLinkKind kind,
        PinAddress? from,
        PinAddress? to,
        string where,
        string? across,
        BypassStanding standing,
        string why,
        bool attended,
        DateTimeOffset? until,
        ResolvedMachine machine
    )
    {
        foreach (var (field, pin) in (ReadOnlySpan<(string, PinAddress?)>)[("from", from), ("to", to)])
        {
            if (pin is not null && !machine.Pins.ContainsKey(pin))
            {
                throw ProblemException.Bad(field, $"{machine.Machine.Tag} has no pin {pin.Pin} in {pin.Holder}.");
            }
        }

        SafetyBook.RefuseBypass(new TemporaryLinkPlan(kind, from, to, where, across, standing), machine);
        (link.Across, link.Standing) = (across, standing);
        (link.Kind, link.FromHolder, link.FromPin, link.ToHolder, link.ToPin) = (kind, from?.Holder, from?.Pin, to?.Holder, to?.Pin);
        (link.Where, link.Why, link.Attended, link.Until) = (
            Texts.Needed("where", where, 200),
            Texts.Needed("why", why, 200),
            attended,
            until
        );
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
        if (!await context.LifeSafetyNotices.AnyAsync(n => n.Id == asked.Id, cancel))
        {
            context.LifeSafetyNotices.Add(
                new LifeSafetyNoticeRecord
                {
                    Id = asked.Id,
                    MachineId = visit.MachineId,
                    VisitId = id,
                    Told = Texts.Needed("told", asked.Told, 200),
                    Watching = Texts.Needed("watching", asked.Watching, 200),
                    Until = asked.Until,
                    At = clock.GetUtcNow(),
                    PersonId = asked.PersonId,
                }
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
            await context.LifeSafetyNotices.SingleOrDefaultAsync(n => n.Id == id && n.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This notice");
        var (told, watching) = (Texts.Needed("told", edit.Told, 200), Texts.Needed("watching", edit.Watching, 200));
        if (notice.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    told,
                    watching,
                    edit.Until,
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

        (notice.Told, notice.Watching, notice.Until, notice.BackAt) = (
            told,
            watching,
            edit.Until,
            edit.IsBack ? notice.BackAt ?? clock.GetUtcNow() : null
        );
        await context.SaveChangesAsync(cancel);
        return await StartEndpoints.Start(notice.VisitId, context, library, clock, cancel);
    }

    private static async Task<ShopView> Shop(LedgerContext context, CancellationToken cancel)
    {
        var record = await context.Shop.AsNoTracking().FirstOrDefaultAsync(cancel);
        return new ShopView(record?.Version ?? 0, await SafetyBook.Limits(context, cancel), ShopLimits.Usual);
    }

    private static async Task<ShopView> EditShop(ShopEdit edit, LedgerContext context, CancellationToken cancel)
    {
        if (edit.Limits.Problems() is [var (member, problem), ..])
        {
            throw ProblemException.Bad(member, problem);
        }

        var record = await context.Shop.FirstOrDefaultAsync(cancel);
        if ((record?.Version ?? 0) != edit.Version)
        {
            throw ProblemException.Clash(edit.Limits, await SafetyBook.Limits(context, cancel), record?.Version ?? 0);
        }

        if (record is null)
        {
            record = new ShopRecord { Id = ShopRecord.Only };
            context.Shop.Add(record);
        }

        var set = edit.Limits;
        (record.AcDry, record.DcDry, record.AcWet, record.DcWet) = (set.AcDry, set.DcDry, set.AcWet, set.DcWet);
        (record.AcImmersed, record.DcImmersed, record.DeadAc, record.DeadDc) = (set.AcImmersed, set.DcImmersed, set.DeadAc, set.DeadDc);
        await context.SaveChangesAsync(cancel);
        return await Shop(context, cancel);
    }
}
