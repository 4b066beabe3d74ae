using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

public enum RegisterOrder
{
    /// <summary>What answers best to the words looked for, then by tag.</summary>
    Best,
    Tag,
    Name,
    Site,
    Model,

    /// <summary>What was touched last comes first.</summary>
    Touched,
}

/// <param name="WaitsForPart">The last visit left something to bring.</param>
/// <param name="NeedsCare">Left unsafe or with something temporary on it.</param>
public sealed record MachineRow(
    string Id,
    string Tag,
    string Name,
    string Site,
    string Maker,
    string Model,
    string Serial,
    int OpenFaults,
    string? OpenVisitId,
    bool WaitsForPart,
    bool NeedsCare,
    DateTimeOffset? TouchedAt
);

/// <param name="Total">How many answer, whatever part of them is here.</param>
public sealed record MachineList(IReadOnlyList<MachineRow> Machines, int From, int Total);

/// <summary>What the register can be narrowed by.</summary>
public sealed record RegisterChoices(IReadOnlyList<string> Sites, IReadOnlyList<ModelChoice> Models);

public sealed record ModelChoice(string Id, string Words);

/// <summary>The day at one look.</summary>
public sealed record HomePage(
    int Machines,
    IReadOnlyList<HomeVisit> Visits,
    IReadOnlyList<HomeFault> Faults,
    IReadOnlyList<HomeMachine> Parts,
    IReadOnlyList<HomeMachine> Care,
    IReadOnlyList<MachineRow> Touched,
    IReadOnlyList<HomeLink> Links,
    IReadOnlyList<LifeSafetyNoticeView> Notices
);

/// <param name="Kind">In words.</param>
public sealed record HomeLink(
    string Id,
    string Tag,
    string Kind,
    string Where,
    string Why,
    bool Attended,
    DateTimeOffset PlacedAt,
    DateTimeOffset? Until,
    string Person,
    string VisitId
);

public sealed record HomeVisit(
    string Id,
    string Tag,
    string MachineName,
    string Site,
    string Complaint,
    string Person,
    DateTimeOffset OpenedAt,
    string? LastRoundId
);

public sealed record HomeFault(string Id, string Tag, string MachineName, string Noticed, DateTimeOffset OpenedAt);

/// <param name="Words">What is awaited, or what was left.</param>
public sealed record HomeMachine(
    string Tag,
    string MachineName,
    string Site,
    IReadOnlyList<string> Words,
    DateTimeOffset Since,
    string VisitId
);

internal static class RegisterEndpoints
{
    private const int MostAtOnce = 200;
    private const int MostOnHome = 30;
    private const int MostTouched = 8;

    public static void MapRegister(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines", List).WithName("listMachines");
        api.MapGet("/register/choices", Choices).WithName("listRegisterChoices");
        api.MapGet("/home", Home).WithName("getHome");
    }

    private static async Task<MachineList> List(
        LedgerContext context,
        RegisterIndex index,
        CancellationToken cancel,
        string? find = null,
        string? site = null,
        string? model = null,
        bool openFault = false,
        bool waitsForPart = false,
        string order = "best",
        int from = 0,
        int take = 100
    )
    {
        if (from < 0 || take is < 1 or > MostAtOnce)
        {
            throw ProblemException.Bad("take", $"From 0 on, 1 to {MostAtOnce} machines are told at once.");
        }

        var by = Texts.Choice<RegisterOrder>("order", order);
        var lines = (await index.Lines(by, context, cancel)).Where(l =>
            (string.IsNullOrEmpty(site) || l.Row.Site == site)
            && (string.IsNullOrEmpty(model) || l.ModelId == model)
            && (!openFault || l.Row.OpenFaults > 0)
            && (!waitsForPart || l.Row.WaitsForPart)
        );
        // What stands somewhere as it was typed goes before the same words scattered over a record.
        var whole = FindText.Plain(find ?? "");
        List<RegisterLine> found = [.. whole.Length == 0 ? lines : lines.Where(l => l.Holds([whole]))];
        if (found.Count == 0 && FindText.Words(find ?? "") is { Count: > 1 } words)
        {
            found = [.. lines.Where(l => l.Holds(words))];
        }

        // The tag stands first in the text.
        var sorted =
            by == RegisterOrder.Best && whole.Length > 0
                ? found.OrderByDescending(l => l.Text.StartsWith(whole, StringComparison.Ordinal))
                : found.AsEnumerable();
        return new MachineList([.. sorted.Skip(from).Take(take).Select(l => l.Row)], from, found.Count);
    }

    private static async Task<RegisterChoices> Choices(LedgerContext context, RegisterIndex index, CancellationToken cancel)
    {
        var lines = await index.Lines(RegisterOrder.Tag, context, cancel);
        return new RegisterChoices(
            [.. lines.Select(l => l.Row.Site).Where(s => s.Length > 0).Distinct().Order(StringComparer.OrdinalIgnoreCase)],
            [
                .. lines
                    .Where(l => l.Row.Model.Length > 0)
                    .DistinctBy(l => l.ModelId)
                    .Select(l => new ModelChoice(l.ModelId, $"{l.Row.Maker} {l.Row.Model}".Trim()))
                    .OrderBy(m => m.Words, StringComparer.OrdinalIgnoreCase),
            ]
        );
    }

    private static async Task<HomePage> Home(LedgerContext context, RegisterIndex index, CancellationToken cancel)
    {
        var visits = await context
            .Visits.AsNoTracking()
            .Where(v => v.EndedAt == null && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Take(MostOnHome)
            .Join(
                context.Machines,
                v => v.MachineId,
                m => m.Id,
                (v, m) =>
                    new HomeVisit(
                        v.Id.Value,
                        m.Tag,
                        m.Name,
                        m.Site,
                        v.Complaint,
                        context.People.Where(p => p.Id == v.PersonId).Select(p => p.Name).FirstOrDefault() ?? "somebody",
                        v.OpenedAt,
                        context
                            .Rounds.Where(r => r.VisitId == v.Id)
                            .OrderByDescending(r => r.StartedAt)
                            .Select(r => r.Id.Value)
                            .FirstOrDefault()
                    )
            )
            .ToListAsync(cancel);
        var faults = await context
            .Faults.AsNoTracking()
            .Where(f => f.ClosedAt == null && f.RetiredAt == null)
            .OrderByDescending(f => f.OpenedAt)
            .Take(MostOnHome)
            .Join(context.Machines, f => f.MachineId, m => m.Id, (f, m) => new HomeFault(f.Id.Value, m.Tag, m.Name, f.Noticed, f.OpenedAt))
            .ToListAsync(cancel);
        var lines = await index.Lines(RegisterOrder.Touched, context, cancel);
        var (parts, care) = (new List<HomeMachine>(), new List<HomeMachine>());
        foreach (var machine in lines.Select(l => l.Row).Where(m => m.WaitsForPart || m.NeedsCare).Take(2 * MostOnHome))
        {
            if (await MachineEndpoints.Brief(machine.Id, context, cancel) is not { } brief)
            {
                continue; // Signed a moment ago.
            }

            if (machine.WaitsForPart)
            {
                parts.Add(new HomeMachine(machine.Tag, machine.Name, machine.Site, brief.Bring, brief.Since, brief.VisitId));
            }

            if (machine.NeedsCare)
            {
                care.Add(
                    new HomeMachine(
                        machine.Tag,
                        machine.Name,
                        machine.Site,
                        [RustyLedger.Core.Visits.Endings.Words(brief.Ending), .. brief.Left],
                        brief.Since,
                        brief.VisitId
                    )
                );
            }
        }

        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var tags = lines.ToDictionary(l => l.Row.Id, l => l.Row.Tag);
        List<HomeLink> links =
        [
            .. (
                await context
                    .TemporaryLinks.AsNoTracking()
                    .Where(l => l.RemovedAt == null && l.RetiredAt == null)
                    .OrderBy(l => l.PlacedAt)
                    .Take(MostOnHome)
                    .ToListAsync(cancel)
            ).Select(l => new HomeLink(
                l.Id,
                tags[l.MachineId.Value],
                l.Kind.Words(),
                l.Where,
                l.Why,
                l.Attended,
                l.PlacedAt,
                l.Until,
                people.GetValueOrDefault(l.PersonId, "somebody"),
                l.VisitId.Value
            )),
        ];
        List<LifeSafetyNoticeView> notices =
        [
            .. (
                await context
                    .Notices.AsNoTracking()
                    .Where(n => n.BackAt == null && n.RetiredAt == null)
                    .OrderBy(n => n.At)
                    .Take(MostOnHome)
                    .ToListAsync(cancel)
            ).Select(n => SafetyEndpoints.NoticeView(n, tags[n.MachineId.Value], people)),
        ];
        return new HomePage(
            lines.Count,
            visits,
            faults,
            [.. parts.OrderBy(p => p.Since)],
            [.. care.OrderBy(p => p.Since)],
            [.. lines.Take(MostTouched).Select(l => l.Row)],
            links,
            notices
        );
    }
}
