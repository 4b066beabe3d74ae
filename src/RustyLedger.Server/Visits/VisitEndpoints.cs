using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

/// <param name="Taken">Checks with a reading.</param>
/// <param name="Of">Checks the machine has.</param>
public sealed record RoundSummary(string Id, DateTimeOffset StartedAt, int Taken, int Of);

public sealed record SupportCallView(string Id, int Version, DateTimeOffset At, string Person, string CaseNumber, string Said);

/// <param name="Left">What was left unplugged or temporary.</param>
/// <param name="Bring">What the next visit has to bring.</param>
/// <param name="Agreed">What the customer agreed to spend; empty where nothing is.</param>
public sealed record VisitView(
    string Id,
    string MachineId,
    int Version,
    string Complaint,
    string Person,
    DateTimeOffset OpenedAt,
    DateTimeOffset? EndedAt,
    Ending? Ending,
    string EndingNote,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    int? TravelMinutes,
    int? LabourMinutes,
    string Agreed,
    DateTimeOffset? AgreedAt,
    Warranty Warranty,
    IReadOnlyList<RoundSummary> Rounds,
    IReadOnlyList<SupportCallView> Calls
);

/// <summary>A visit begun on the device, with its first round.</summary>
public sealed record NewVisit(string Id, string RoundId, string MachineId, string Complaint, string PersonId);

public sealed record NewRound(string Id);

/// <summary>Everything of a visit that is written as it goes.</summary>
public sealed record VisitEdit(
    int Version,
    string Complaint,
    string EndingNote,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    int? TravelMinutes,
    int? LabourMinutes,
    string Agreed,
    Warranty Warranty
);

/// <param name="Ending">Null opens the visit again.</param>
public sealed record VisitEnd(int Version, Ending? Ending);

public sealed record NewSupportCall(string Id, string CaseNumber, string Said, string PersonId);

public sealed record SupportCallEdit(int Version, string CaseNumber, string Said);

public sealed record PersonView(string Id, string Name);

/// <summary>A board on the call card.</summary>
public sealed record CallBoard(string Position, string PartNumber, string Revision, string Serial, string Firmware);

public sealed record CallSetting(string Board, string Code, string Name, string Value);

/// <summary>What support asks for, to be read out.</summary>
/// <param name="Settings">Of the newest snapshot of each board.</param>
/// <param name="Readings">Of the last round, those out of limit first; a line each.</param>
/// <param name="Stretch">Where the readings put the fault, in words; may be empty.</param>
public sealed record CallCard(
    string Tag,
    string MachineName,
    string Maker,
    string Model,
    string Serial,
    string Built,
    string Supply,
    string Site,
    VisitView Visit,
    IReadOnlyList<CallBoard> Boards,
    IReadOnlyList<CallSetting> Settings,
    IReadOnlyList<ReadingView> Readings,
    string Stretch
);

/// <param name="EquivalentTest">The test that leaves it in circuit; empty where none is written down.</param>
public sealed record DeviceToOperate(string Id, string Name, string EquivalentTest);

/// <summary>What stands before the end of a visit.</summary>
/// <param name="Done">What the visit did, to be accepted or changed.</param>
/// <param name="StillBad">Readings out of limit that no later one puts right, a line each.</param>
public sealed record BeforeEndingView(string Done, IReadOnlyList<string> StillBad, IReadOnlyList<DeviceToOperate> NotOperated);

/// <summary>Reads visits with how far their rounds have come.</summary>
public sealed class VisitBook(LedgerContext context)
{
    private const int MostShown = 100;

    public async Task<IReadOnlyList<VisitView>> OfMachine(
        MachineId machineId,
        IReadOnlyDictionary<PersonId, string> people,
        int checks,
        CancellationToken cancel
    )
    {
        var visits = await context
            .Visits.AsNoTracking()
            .Where(v => v.MachineId == machineId && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Take(MostShown)
            .ToListAsync(cancel);
        return await Views(visits, people, checks, cancel);
    }

    /// <exception cref="ProblemException">No such visit.</exception>
    public async Task<VisitView> One(VisitId id, CancellationToken cancel)
    {
        var visit = await context.Visits.AsNoTracking().Where(v => v.Id == id).ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return (await Views(visit, people, 0, cancel)) is [var found] ? found : throw ProblemException.NotFound("This visit");
    }

    private async Task<IReadOnlyList<VisitView>> Views(
        List<Visit> visits,
        IReadOnlyDictionary<PersonId, string> people,
        int checks,
        CancellationToken cancel
    )
    {
        var ids = visits.ConvertAll(v => v.Id);
        var rounds = await context
            .Rounds.AsNoTracking()
            .Where(r => ids.Contains(r.VisitId))
            .OrderBy(r => r.StartedAt)
            .Select(r => new
            {
                r.Id,
                r.VisitId,
                r.StartedAt,
                Taken = context
                    .StandingReadings.Where(x => x.RoundId == r.Id && x.CheckKey != null)
                    .Select(x => x.CheckKey)
                    .Distinct()
                    .Count(),
            })
            .ToListAsync(cancel);
        var byVisit = rounds.ToLookup(r => r.VisitId, r => new RoundSummary(r.Id.Value, r.StartedAt, r.Taken, checks));
        var calls = (
            await context
                .SupportCalls.AsNoTracking()
                .Where(c => ids.Contains(c.VisitId) && c.RetiredAt == null)
                .OrderBy(c => c.At)
                .ToListAsync(cancel)
        ).ToLookup(
            c => c.VisitId,
            c => new SupportCallView(c.Id, c.Version, c.At, people.GetValueOrDefault(c.PersonId, "somebody"), c.CaseNumber, c.Said)
        );
        return
        [
            .. visits.Select(v => new VisitView(
                v.Id.Value,
                v.MachineId.Value,
                v.Version,
                v.Complaint,
                people.GetValueOrDefault(v.PersonId, "somebody"),
                v.OpenedAt,
                v.EndedAt,
                v.Ending,
                v.EndingNote,
                v.Left,
                v.Bring,
                v.TravelMinutes,
                v.LabourMinutes,
                v.Agreed,
                v.AgreedAt,
                v.Warranty,
                [.. byVisit[v.Id]],
                [.. calls[v.Id]]
            )),
        ];
    }
}

internal static class VisitEndpoints
{
    public static void MapVisits(this IEndpointRouteBuilder api)
    {
        api.MapGet("/people", People).WithName("listPeople");
        api.MapPost("/people", AddPerson).WithName("addPerson");
        api.MapPost("/visits", Begin).WithName("beginVisit");
        api.MapGet("/visits/{id}", Open).WithName("getVisit");
        api.MapPut("/visits/{id}", Edit).WithName("editVisit");
        api.MapPost("/visits/{id}/rounds", AddRound).WithName("addRound");
        api.MapPost("/visits/{id}/end", End).WithName("endVisit");
        api.MapPost("/visits/{id}/calls", AddCall).WithName("addSupportCall");
        api.MapPut("/calls/{id}", EditCall).WithName("editSupportCall");
        api.MapGet("/visits/{id}/call-card", Card).WithName("getCallCard");
        api.MapGet("/visits/{id}/before-ending", BeforeEnding).WithName("getBeforeEnding");
    }

    private static async Task<IReadOnlyList<PersonView>> People(LedgerContext context, CancellationToken cancel) =>
        await context
            .People.AsNoTracking()
            .Where(p => p.RetiredAt == null)
            .OrderBy(p => p.Name)
            .Select(p => new PersonView(p.Id.Value, p.Name))
            .ToListAsync(cancel);

    private static async Task<PersonView> AddPerson(PersonView person, LedgerContext context, CancellationToken cancel)
    {
        Texts.Id("id", person.Id);
        var added = Outcome.Of(new Person { Id = person.Id, Name = person.Name?.Trim() ?? "" }).OrRefuse();
        if (await context.People.FirstOrDefaultAsync(p => p.Id == added.Id || p.Name == added.Name, cancel) is { } known)
        {
            return new PersonView(known.Id.Value, known.Name);
        }

        context.People.Add(added);
        await context.SaveChangesAsync(cancel);
        return new PersonView(added.Id.Value, added.Name);
    }

    private static async Task<VisitView> Open(string id, VisitBook visits, ReasonAhead ahead, CancellationToken cancel)
    {
        var view = await visits.One(id, cancel);
        ahead.Opened(id);
        return view;
    }

    private static async Task<VisitView> Begin(
        NewVisit asked,
        LedgerContext context,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        Texts.Id("roundId", asked.RoundId);
        if (await context.Visits.AsNoTracking().AnyAsync(v => v.Id == asked.Id, cancel))
        {
            return await visits.One(asked.Id, cancel);
        }

        if (!await context.Machines.AnyAsync(m => m.Id == asked.MachineId && m.RetiredAt == null, cancel))
        {
            throw ProblemException.NotFound("This machine");
        }

        await StartEndpoints.Person(asked.PersonId, context, cancel);
        var now = clock.GetUtcNow();
        context.Put(Visit.Begin(asked.Id, asked.MachineId, asked.PersonId, asked.Complaint, now));
        context.Put(
            new Round
            {
                Id = asked.RoundId,
                VisitId = asked.Id,
                StartedAt = now,
            }
        );
        await context.SaveChangesAsync(cancel);
        return await visits.One(asked.Id, cancel);
    }

    private static async Task<VisitView> AddRound(
        string id,
        NewRound asked,
        LedgerContext context,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await StartEndpoints.OpenVisit(id, context, cancel);
        if (!await context.Rounds.AnyAsync(r => r.Id == asked.Id, cancel))
        {
            context.Put(
                new Round
                {
                    Id = asked.Id,
                    VisitId = id,
                    StartedAt = clock.GetUtcNow(),
                }
            );
            await context.SaveChangesAsync(cancel);
        }

        return await visits.One(id, cancel);
    }

    private static async Task<VisitView> Edit(
        string id,
        VisitEdit edit,
        LedgerContext context,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var visit = await Find(id, context, cancel);
        var written = visit
            .Write(
                new VisitWords(
                    edit.Complaint,
                    edit.EndingNote,
                    edit.Left,
                    edit.Bring,
                    edit.TravelMinutes,
                    edit.LabourMinutes,
                    edit.Agreed,
                    edit.Warranty
                ),
                clock.GetUtcNow()
            )
            .OrRefuse();
        if (visit.Version != edit.Version)
        {
            throw ProblemException.Clash(Written(written), Written(visit), visit.Version);
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await visits.One(id, cancel);
    }

    /// <summary>What two people may both have written.</summary>
    private static object Written(Visit v) =>
        new
        {
            v.Complaint,
            v.EndingNote,
            v.Left,
            v.Bring,
            v.TravelMinutes,
            v.LabourMinutes,
            v.Agreed,
            v.Warranty,
        };

    private static async Task<VisitView> End(
        string id,
        VisitEnd end,
        LedgerContext context,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var visit = await Find(id, context, cancel);
        if (visit.Version != end.Version)
        {
            throw ProblemException.Clash(new { end.Ending }, new { visit.Ending }, visit.Version);
        }

        var open = await StandingRules.StillOpen(visit, ofMachine: true, context, cancel);
        context.Put(visit.End(end.Ending, clock.GetUtcNow(), open));
        await context.SaveChangesAsync(cancel);
        return await visits.One(id, cancel);
    }

    private static async Task<VisitView> AddCall(
        string id,
        NewSupportCall asked,
        LedgerContext context,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await Find(id, context, cancel);
        if (!await context.SupportCalls.AnyAsync(c => c.Id == asked.Id, cancel))
        {
            var call = new SupportCall
            {
                Id = asked.Id,
                VisitId = id,
                PersonId = asked.PersonId,
                At = clock.GetUtcNow(),
                CaseNumber = "",
                Said = "",
            };
            context.Put(call.Write(asked.CaseNumber, asked.Said));
            await context.SaveChangesAsync(cancel);
        }

        return await visits.One(id, cancel);
    }

    private static async Task<VisitView> EditCall(
        string id,
        SupportCallEdit edit,
        LedgerContext context,
        VisitBook visits,
        CancellationToken cancel
    )
    {
        var call = await context.SupportCalls.SingleOrDefaultAsync(c => c.Id == id, cancel) ?? throw ProblemException.NotFound("This call");
        var written = call.Write(edit.CaseNumber, edit.Said).OrRefuse();
        if (call.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new { caseNumber = written.CaseNumber, said = written.Said },
                new { call.CaseNumber, call.Said },
                call.Version
            );
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await visits.One(call.VisitId, cancel);
    }

    private static async Task<CallCard> Card(
        string id,
        LedgerContext context,
        MachineLibrary library,
        VisitBook visits,
        CancellationToken cancel
    )
    {
        var visit = await visits.One(id, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        var (readings, stretch) = (new List<ReadingView>(), "");
        if ((visit.Rounds.LastOrDefault(r => r.Taken > 0) ?? (visit.Rounds is [.., var newest] ? newest : null)) is { } last)
        {
            var (_, _, viewer) = await RoundEndpoints.Load(last.Id, context, library, cancel);
            readings.AddRange(
                viewer
                    .Sheet.Rows.Where(r => r.Reading is not null)
                    .Select(r => r.Reading!)
                    .Concat(viewer.Sheet.Extras)
                    .OrderByDescending(r => r.Verdict.IsOut)
                    .ThenBy(r => r.Order)
                    .Select(viewer.Reading)
            );
            stretch = string.Join(' ', viewer.Stretches().Select(s => s.Sentence));
        }

        var snapshots = await context
            .Snapshots.AsNoTracking()
            .Where(s => s.MachineId == visit.MachineId && s.RetiredAt == null)
            .OrderByDescending(s => s.TakenAt)
            .ToListAsync(cancel);
        var settings = new List<CallSetting>();
        foreach (var position in machine.Model.Positions)
        {
            var board = machine.Machine.FittedIn(position.Id);
            if (snapshots.Find(s => s.FittedBoardId == board?.Id) is { } snapshot)
            {
                var names = await context
                    .Settings.AsNoTracking()
                    .Where(s => s.OwnerId == board!.BoardTypeId && s.RetiredAt == null)
                    .ToListAsync(cancel);
                var values = await context
                    .StoredValues.AsNoTracking()
                    .Where(v => v.SnapshotId == snapshot.Id && v.RetiredAt == null)
                    .OrderBy(v => v.Ordinal)
                    .ToListAsync(cancel);
                settings.AddRange(
                    values.Select(v => new CallSetting(position.Name, v.Code, names.Find(n => n.Code == v.Code)?.Name ?? "", v.Value))
                );
            }
        }

        var unit = machine.Machine;
        return new CallCard(
            unit.Tag,
            unit.Name,
            machine.Model.Maker,
            machine.Model.Name,
            unit.Serial,
            unit.Built,
            unit.Supply,
            unit.Site,
            visit,
            [
                .. machine
                    .Model.Positions.Where(p => machine.BoardAt.ContainsKey(p.Id))
                    .Select(p =>
                    {
                        var (type, board) = (machine.BoardAt[p.Id], machine.Machine.FittedIn(p.Id));
                        return new CallBoard(
                            $"{p.Prefix} {p.Name}",
                            type.PartNumber,
                            type.Revision,
                            board?.Serial ?? "",
                            board?.Firmware ?? ""
                        );
                    }),
            ],
            settings,
            readings,
            stretch
        );
    }

    private static async Task<BeforeEndingView> BeforeEnding(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var visit = await Find(id, context, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        var rounds = await context
            .Rounds.AsNoTracking()
            .Where(r => r.VisitId == id)
            .OrderBy(r => r.StartedAt)
            .Select(r => r.Id)
            .ToListAsync(cancel);
        var viewers = new List<RoundViewer>();
        foreach (var round in rounds)
        {
            viewers.Add((await RoundEndpoints.Load(round, context, library, cancel)).Viewer);
        }

        var faults = await context
            .Faults.AsNoTracking()
            .Where(f => f.VisitId == id && f.RetiredAt == null)
            .OrderBy(f => f.OpenedAt)
            .ToListAsync(cancel);
        var causes = await context.Causes.AsNoTracking().ToDictionaryAsync(c => c.Id, c => c.Words, cancel);
        var links = await context
            .TemporaryLinks.AsNoTracking()
            .Where(l => l.MachineId == visit.MachineId && l.RetiredAt == null && l.RemovedAt != null && l.RemovedAt >= visit.OpenedAt)
            .ToListAsync(cancel);
        var day = DateOnly.FromDateTime(visit.OpenedAt.UtcDateTime);
        var fitted = machine
            .Machine.FittedNow.Where(b => b.From >= day && machine.BoardAt.ContainsKey(b.PositionId))
            .Select(b => $"{machine.BoardAt[b.PositionId].Printed} as {machine.Model.Positions.First(p => p.Id == b.PositionId).Name}")
            .ToList();
        var acts = await SafetyBook.Events(id, context, cancel);
        var snapshots = await context.Snapshots.CountAsync(s => s.VisitId == id && s.RetiredAt == null, cancel);
        var repairedAt = faults.Select(f => f.ClosedAt).Concat(links.Select(l => l.RemovedAt)).Max();
        var open = BeforeSigning.Of(viewers.Select(v => v.Sheet), machine.Model.Safety, acts, repairedAt);
        var devices = machine.Model.Safety.Interlocks.ToDictionary(i => i.Id, i => i.Name);
        var deeds = new VisitDeeds(
            [
                .. faults.Select(f =>
                    string.Join(
                        ", ",
                        new[]
                        {
                            f.Cause is { } cause ? causes.GetValueOrDefault(cause, cause) : f.Noticed,
                            f.Done,
                            string.Join(", ", f.Touched.Select(t => t.Called)),
                        }.Where(w => w.Length > 0)
                    )
                ),
            ],
            fitted,
            [.. links.Select(l => l.Where)],
            viewers.Sum(v => v.Sheet.Rows.Count(r => r.Reading is not null) + v.Sheet.Extras.Count),
            snapshots,
            [
                .. acts.Where(a =>
                        a.Kind == SafetyEventKind.DeviceOperated
                        && devices.ContainsKey(a.Subject)
                        && open.NotOperated.All(i => i.Id != a.Subject)
                    )
                    .Select(a => devices[a.Subject])
                    .Distinct(),
            ]
        );
        return new BeforeEndingView(
            deeds.Words,
            [
                .. open
                    .StillBad.Select(e =>
                        viewers.First(v => v.Sheet.Rows.Any(r => r.Reading?.Id == e.Id) || v.Sheet.Extras.Any(x => x.Id == e.Id)).Reading(e)
                    )
                    .Select(r =>
                        $"{r.RedPrinted}, {r.State}: "
                        + $"{(r.Reason.StartsWith(r.Value, StringComparison.Ordinal) ? "" : $"{r.Value}, ")}{r.Reason}"
                    ),
            ],
            [.. open.NotOperated.Select(i => new DeviceToOperate(i.Id, i.Name, i.EquivalentTest))]
        );
    }

    private static async Task<Visit> Find(VisitId id, LedgerContext context, CancellationToken cancel) =>
        await context.Visits.SingleOrDefaultAsync(v => v.Id == id, cancel) ?? throw ProblemException.NotFound("This visit");
}
