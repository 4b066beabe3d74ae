using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

/// <param name="Taken">Checks with a reading.</param>
/// <param name="Of">Checks the machine has.</param>
public sealed record RoundSummary(string Id, DateTimeOffset StartedAt, int Taken, int Of);

public sealed record VisitView(string Id, string MachineId, int Version, string Complaint, string Person, DateTimeOffset OpenedAt, DateTimeOffset? EndedAt, Ending? Ending, string EndingNote, IReadOnlyList<RoundSummary> Rounds);

/// <summary>A visit begun on the device, with its first round.</summary>
public sealed record NewVisit(string Id, string RoundId, string MachineId, string Complaint, string PersonId);

public sealed record NewRound(string Id);

public sealed record ComplaintEdit(int Version, string Complaint);

public sealed record VisitEnd(int Version, Ending Ending, string Note);

public sealed record PersonView(string Id, string Name);

/// <summary>Reads visits with how far their rounds have come.</summary>
public sealed class VisitBook(LedgerContext context)
{
    private const int MostShown = 100;

    public async Task<IReadOnlyList<VisitView>> OfMachine(string machineId, IReadOnlyDictionary<string, string> people, int checks, CancellationToken cancel)
    {
        var visits = await context.Visits.AsNoTracking().Where(v => v.MachineId == machineId && v.RetiredAt == null).OrderByDescending(v => v.OpenedAt).Take(MostShown).ToListAsync(cancel);
        var ids = visits.ConvertAll(v => v.Id);
        var rounds = await context.Rounds.AsNoTracking().Where(r => ids.Contains(r.VisitId)).OrderBy(r => r.StartedAt)
            .Select(r => new
            {
                r.Id,
                r.VisitId,
                r.StartedAt,
                Taken = context.Readings.Where(x => x.RoundId == r.Id && x.Kind == EntryKind.Taken && x.CheckKey != null && !context.Readings.Any(t => t.RoundId == r.Id && t.Target == x.Id)).Select(x => x.CheckKey).Distinct().Count(),
            }).ToListAsync(cancel);
        var byVisit = rounds.ToLookup(r => r.VisitId, r => new RoundSummary(r.Id, r.StartedAt, r.Taken, checks));
        return [.. visits.Select(v => new VisitView(v.Id, v.MachineId, v.Version, v.Complaint, people.GetValueOrDefault(v.PersonId, "somebody"), v.OpenedAt, v.EndedAt, v.Ending, v.EndingNote, [.. byVisit[v.Id]]))];
    }
}

internal static class VisitEndpoints
{
    public static void MapVisits(this IEndpointRouteBuilder api)
    {
        api.MapGet("/people", People).WithName("listPeople");
        api.MapPost("/people", AddPerson).WithName("addPerson");
        api.MapPost("/visits", Begin).WithName("beginVisit");
        api.MapPost("/visits/{id}/rounds", AddRound).WithName("addRound");
        api.MapPut("/visits/{id}/complaint", EditComplaint).WithName("editComplaint");
        api.MapPost("/visits/{id}/end", End).WithName("endVisit");
    }

    private static async Task<IReadOnlyList<PersonView>> People(LedgerContext context, CancellationToken cancel) =>
        await context.People.AsNoTracking().Where(p => p.RetiredAt == null).OrderBy(p => p.Name).Select(p => new PersonView(p.Id, p.Name)).ToListAsync(cancel);

    private static async Task<PersonView> AddPerson(PersonView person, LedgerContext context, CancellationToken cancel)
    {
        Texts.Id("id", person.Id);
        var name = Texts.Needed("name", person.Name, 60);
        if (await context.People.FirstOrDefaultAsync(p => p.Id == person.Id || p.Name == name, cancel) is { } known)
        {
            return new PersonView(known.Id, known.Name);
        }

        context.People.Add(new PersonRecord { Id = person.Id, Name = name });
        await context.SaveChangesAsync(cancel);
        return person with { Name = name };
    }

    private static async Task<VisitView> Begin(NewVisit asked, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        Texts.Id("roundId", asked.RoundId);
        if (await context.Visits.AsNoTracking().AnyAsync(v => v.Id == asked.Id, cancel))
        {
            return await View(asked.Id, context, cancel);
        }

        if (!await context.Machines.AnyAsync(m => m.Id == asked.MachineId && m.RetiredAt == null, cancel))
        {
            throw ProblemException.NotFound("This machine");
        }

        if (!await context.People.AnyAsync(p => p.Id == asked.PersonId, cancel))
        {
            throw ProblemException.Bad("personId", "Choose a name first; it is not in the ledger.");
        }

        var now = clock.GetUtcNow();
        context.Visits.Add(new VisitRecord { Id = asked.Id, MachineId = asked.MachineId, Complaint = Texts.Optional("complaint", asked.Complaint, 500), PersonId = asked.PersonId, OpenedAt = now, EndingNote = "" });
        context.Rounds.Add(new RoundRecord { Id = asked.RoundId, VisitId = asked.Id, StartedAt = now });
        await context.SaveChangesAsync(cancel);
        return await View(asked.Id, context, cancel);
    }

    private static async Task<VisitView> AddRound(string id, NewRound asked, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        var visit = await Visit(id, context, cancel);
        if (visit.EndedAt is not null)
        {
            throw ProblemException.Conflict("The visit has ended; start a new one.");
        }

        if (!await context.Rounds.AnyAsync(r => r.Id == asked.Id, cancel))
        {
            context.Rounds.Add(new RoundRecord { Id = asked.Id, VisitId = id, StartedAt = clock.GetUtcNow() });
            await context.SaveChangesAsync(cancel);
        }

        return await View(id, context, cancel);
    }

    private static async Task<VisitView> EditComplaint(string id, ComplaintEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var visit = await Visit(id, context, cancel);
        var complaint = Texts.Optional("complaint", edit.Complaint, 500);
        if (visit.Version != edit.Version)
        {
            throw ProblemException.Clash(new { complaint }, new { complaint = visit.Complaint }, visit.Version);
        }

        visit.Complaint = complaint;
        await context.SaveChangesAsync(cancel);
        return await View(id, context, cancel);
    }

    private static async Task<VisitView> End(string id, VisitEnd end, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        var visit = await Visit(id, context, cancel);
        var note = Texts.Optional("note", end.Note, 1000);
        if (visit.Version != end.Version)
        {
            throw ProblemException.Clash(new { end.Ending, note }, new { visit.Ending, note = visit.EndingNote }, visit.Version);
        }

        (visit.Ending, visit.EndingNote, visit.EndedAt) = (end.Ending, note, clock.GetUtcNow());
        await context.SaveChangesAsync(cancel);
        return await View(id, context, cancel);
    }

    private static async Task<VisitRecord> Visit(string id, LedgerContext context, CancellationToken cancel) =>
        await context.Visits.SingleOrDefaultAsync(v => v.Id == id, cancel) ?? throw ProblemException.NotFound("This visit");

    private static async Task<VisitView> View(string id, LedgerContext context, CancellationToken cancel)
    {
        var visit = await context.Visits.AsNoTracking().SingleAsync(v => v.Id == id, cancel);
        var person = await context.People.Where(p => p.Id == visit.PersonId).Select(p => p.Name).SingleAsync(cancel);
        var rounds = await context.Rounds.AsNoTracking().Where(r => r.VisitId == id).OrderBy(r => r.StartedAt).Select(r => new RoundSummary(r.Id, r.StartedAt, 0, 0)).ToListAsync(cancel);
        return new VisitView(visit.Id, visit.MachineId, visit.Version, visit.Complaint, person, visit.OpenedAt, visit.EndedAt, visit.Ending, visit.EndingNote, rounds);
    }
}
