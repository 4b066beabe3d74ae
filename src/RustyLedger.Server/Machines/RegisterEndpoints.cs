using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Machines;
using RustyLedger.Server.Hosting;
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
    string Id, string Tag, string Name, string Site, string Maker, string Model, string Serial, int OpenFaults, string? OpenVisitId, bool WaitsForPart, bool NeedsCare, DateTimeOffset? TouchedAt);

/// <param name="Total">How many answer, whatever part of them is here.</param>
public sealed record MachineList(IReadOnlyList<MachineRow> Machines, int From, int Total);

/// <summary>What the register can be narrowed by.</summary>
public sealed record RegisterChoices(IReadOnlyList<string> Sites, IReadOnlyList<ModelChoice> Models);

public sealed record ModelChoice(string Id, string Words);

/// <summary>The day at one look.</summary>
public sealed record HomePage(
    int Machines, IReadOnlyList<HomeVisit> Visits, IReadOnlyList<HomeFault> Faults, IReadOnlyList<HomeMachine> Parts, IReadOnlyList<HomeMachine> Care, IReadOnlyList<MachineRow> Touched);

public sealed record HomeVisit(string Id, string Tag, string MachineName, string Site, string Complaint, string Person, DateTimeOffset OpenedAt, string? LastRoundId);

public sealed record HomeFault(string Id, string Tag, string MachineName, string Noticed, DateTimeOffset OpenedAt);

/// <param name="Words">What is awaited, or what was left.</param>
public sealed record HomeMachine(string Tag, string MachineName, string Site, IReadOnlyList<string> Words, DateTimeOffset Since, string VisitId);

internal static class RegisterEndpoints
{
    private const int MostAtOnce = 200;
    private const int MostOnHome = 30;

    public static void MapRegister(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines", List).WithName("listMachines");
        api.MapGet("/register/choices", Choices).WithName("listRegisterChoices");
        api.MapGet("/home", Home).WithName("getHome");
    }

    private static async Task<MachineList> List(
        LedgerContext context, CancellationToken cancel, string? find = null, string? site = null, string? model = null, bool openFault = false, bool waitsForPart = false,
        string order = "best", int from = 0, int take = 100)
    {
        if (from < 0 || take is < 1 or > MostAtOnce)
        {
            throw ProblemException.Bad("take", $"From 0 on, 1 to {MostAtOnce} machines are told at once.");
        }

        var rows = context.Machines.AsNoTracking().Where(m => m.RetiredAt == null).Join(context.Register, m => m.Id, r => r.MachineId, (m, r) => new Line { Machine = m, Register = r });
        rows = site is { Length: > 0 } ? rows.Where(l => l.Machine.Site == site) : rows;
        rows = model is { Length: > 0 } ? rows.Where(l => l.Machine.ModelId == model) : rows;
        rows = openFault ? rows.Where(l => l.Register.OpenFaults > 0) : rows;
        rows = waitsForPart ? rows.Where(l => l.Register.WaitsForPart) : rows;
        // What stands somewhere as it was typed goes before the same words scattered over a record.
        var whole = FindText.Plain(find ?? "");
        var asTyped = await Holding(rows, [whole], context, cancel);
        rows = whole.Length == 0 || await asTyped.AnyAsync(cancel) ? asTyped : await Holding(rows, FindText.Words(find ?? ""), context, cancel);
        var sorted = Texts.Choice<RegisterOrder>("order", order) switch
        {
            RegisterOrder.Name => rows.OrderBy(l => l.Machine.Name).ThenBy(l => l.Register.SortTag),
            RegisterOrder.Site => rows.OrderBy(l => l.Machine.Site).ThenBy(l => l.Register.SortTag),
            RegisterOrder.Model => rows.OrderBy(l => context.Models.Where(m => m.Id == l.Machine.ModelId).Select(m => m.Maker + m.Name).First()).ThenBy(l => l.Register.SortTag),
            RegisterOrder.Touched => rows.OrderByDescending(l => l.Register.TouchedAt).ThenBy(l => l.Register.SortTag),
            // The tag stands first in the text.
            RegisterOrder.Best when whole.Length > 0 => rows.OrderByDescending(l => l.Register.Text.StartsWith(whole)).ThenBy(l => l.Register.SortTag),
            _ => rows.OrderBy(l => l.Register.SortTag),
        };
        return new MachineList(await Rows(sorted.Skip(from).Take(take), context).ToListAsync(cancel), from, await rows.CountAsync(cancel));
    }

    /// <summary>The lines that hold every one of the words.</summary>
    private static async Task<IQueryable<Line>> Holding(IQueryable<Line> rows, IReadOnlyList<string> words, LedgerContext context, CancellationToken cancel)
    {
        // The few plates with worn signs are looked at by Core, sign by sign.
        var worn = (await context.Register.AsNoTracking().Where(r => r.IsWorn).Select(r => new { r.MachineId, r.Text }).ToListAsync(cancel))
            .Where(r => words.All(w => FindText.Holds(r.Text, w))).Select(r => r.MachineId).ToList();
        foreach (var word in words.Where(w => w.Length > 0))
        {
            var pattern = $"%{word.Replace(FindText.Unknown, '_')}%";
            rows = (word.Contains(FindText.Unknown, StringComparison.Ordinal), worn.Count) switch
            {
                (true, _) => rows.Where(l => EF.Functions.Like(l.Register.Text, pattern) || worn.Contains(l.Machine.Id)),
                (_, 0) => rows.Where(l => l.Register.Text.Contains(word)),
                _ => rows.Where(l => l.Register.Text.Contains(word) || worn.Contains(l.Machine.Id)),
            };
        }

        return rows;
    }

    private static IQueryable<MachineRow> Rows(IQueryable<Line> lines, LedgerContext context) => lines.Select(l => new MachineRow(
        l.Machine.Id, l.Machine.Tag, l.Machine.Name, l.Machine.Site,
        context.Models.Where(x => x.Id == l.Machine.ModelId).Select(x => x.Maker).First(),
        context.Models.Where(x => x.Id == l.Machine.ModelId).Select(x => x.Name).First(),
        l.Machine.Serial, l.Register.OpenFaults, l.Register.OpenVisitId, l.Register.WaitsForPart, l.Register.NeedsCare, l.Register.TouchedAt));

    private static async Task<RegisterChoices> Choices(LedgerContext context, CancellationToken cancel)
    {
        var sites = await context.Machines.Where(m => m.RetiredAt == null && m.Site != "").Select(m => m.Site).Distinct().OrderBy(s => s).ToListAsync(cancel);
        var models = await context.Models.AsNoTracking().Where(x => x.RetiredAt == null && x.Name != "" && context.Machines.Any(m => m.ModelId == x.Id && m.RetiredAt == null)).OrderBy(x => x.Maker).ThenBy(x => x.Name).ToListAsync(cancel);
        return new RegisterChoices(sites, [.. models.Select(m => new ModelChoice(m.Id, $"{m.Maker} {m.Name}".Trim()))]);
    }

    private static async Task<HomePage> Home(LedgerContext context, CancellationToken cancel)
    {
        var visits = await context.Visits.AsNoTracking().Where(v => v.EndedAt == null && v.RetiredAt == null).OrderByDescending(v => v.OpenedAt).Take(MostOnHome)
            .Join(context.Machines, v => v.MachineId, m => m.Id, (v, m) => new HomeVisit(
                v.Id, m.Tag, m.Name, m.Site, v.Complaint, context.People.Where(p => p.Id == v.PersonId).Select(p => p.Name).FirstOrDefault() ?? "somebody", v.OpenedAt,
                context.Rounds.Where(r => r.VisitId == v.Id).OrderByDescending(r => r.StartedAt).Select(r => r.Id).FirstOrDefault())).ToListAsync(cancel);
        var faults = await context.Faults.AsNoTracking().Where(f => f.ClosedAt == null && f.RetiredAt == null).OrderByDescending(f => f.OpenedAt).Take(MostOnHome)
            .Join(context.Machines, f => f.MachineId, m => m.Id, (f, m) => new HomeFault(f.Id, m.Tag, m.Name, f.Noticed, f.OpenedAt)).ToListAsync(cancel);
        var left = await context.Register.AsNoTracking().Where(r => r.WaitsForPart || r.NeedsCare).Take(2 * MostOnHome)
            .Join(context.Machines, r => r.MachineId, m => m.Id, (r, m) => new { r.WaitsForPart, r.NeedsCare, m.Id, m.Tag, m.Name, m.Site }).ToListAsync(cancel);
        var (parts, care) = (new List<HomeMachine>(), new List<HomeMachine>());
        foreach (var machine in left)
        {
            var brief = (await MachineEndpoints.Brief(machine.Id, context, cancel))!;
            if (machine.WaitsForPart)
            {
                parts.Add(new HomeMachine(machine.Tag, machine.Name, machine.Site, brief.Bring, brief.Since, brief.VisitId));
            }

            if (machine.NeedsCare)
            {
                care.Add(new HomeMachine(machine.Tag, machine.Name, machine.Site, [RustyLedger.Core.Visits.Endings.Words(brief.Ending), .. brief.Left], brief.Since, brief.VisitId));
            }
        }

        var touched = context.Machines.AsNoTracking().Where(m => m.RetiredAt == null).Join(context.Register, m => m.Id, r => r.MachineId, (m, r) => new Line { Machine = m, Register = r })
            .OrderByDescending(l => l.Register.TouchedAt).ThenBy(l => l.Register.SortTag).Take(8);
        return new HomePage(await context.Machines.CountAsync(m => m.RetiredAt == null, cancel), visits, faults, [.. parts.OrderBy(p => p.Since)], [.. care.OrderBy(p => p.Since)], await Rows(touched, context).ToListAsync(cancel));
    }

    private sealed class Line
    {
        public required MachineRecord Machine { get; init; }

        public required RegisterRecord Register { get; init; }
    }
}
