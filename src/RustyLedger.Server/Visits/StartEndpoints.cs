using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

public sealed record ObservationView(
    string Id,
    int Version,
    ObservationKind Kind,
    string Text,
    DateTimeOffset At,
    string Person,
    DateTimeOffset? DoneAt,
    string? PhotographId
);

/// <summary>An outside check as asked in this visit.</summary>
/// <param name="Why">The numbers that put it where it stands.</param>
/// <param name="Answer">Null while it was not answered.</param>
/// <param name="Clears">What a yes speaks for; empty for nothing.</param>
/// <param name="SaidAt">When an earlier visit said that this machine has none of it; null where it was answered in this one.</param>
public sealed record OutsideCheckView(
    string Id,
    string Asks,
    bool AsksHowLong,
    string Clears,
    double Chance,
    double Minutes,
    string Why,
    OutsideAnswer? Answer,
    string Held,
    bool WasIt,
    DateTimeOffset? SaidAt
);

/// <param name="IsKnown">What is written down as fitted belongs in this build.</param>
/// <param name="Fitted">What is written down as fitted; empty for nothing.</param>
public sealed record PositionInVisit(string PositionId, string Name, bool IsKnown, string Fitted);

/// <summary>Arrive and Make safe of a visit, at one look.</summary>
/// <param name="Photographs">Hashes of those taken in this visit, newest first.</param>
/// <param name="ExpectedMinutes">Of the outside checks in this order, until one of them is it.</param>
/// <param name="GoingLive">What must be looked at before it goes live: covers, plugs, temporary links, and what earlier visits
/// left.</param>
public sealed record VisitStart(
    string VisitId,
    string MachineId,
    string Tag,
    string MachineName,
    string Site,
    string ModelId,
    string ModelName,
    string Complaint,
    bool HasEnded,
    int Version,
    string? LastRoundId,
    IReadOnlyList<StepState> Steps,
    IReadOnlyList<ObservationView> Observations,
    IReadOnlyList<string> Photographs,
    BuildView Build,
    IReadOnlyList<PositionInVisit> Boards,
    IReadOnlyList<OutsideCheckView> Outside,
    double ExpectedMinutes,
    SafetyView Safety,
    IReadOnlyList<string> GoingLive
);

public sealed record NewObservation(string Id, ObservationKind Kind, string Text, DateTimeOffset At, string PersonId);

public sealed record ObservationEdit(int Version, string Text, bool IsDone);

/// <param name="Held">How long a reset held, as said; empty for other checks.</param>
/// <param name="WasIt">Putting it right ended the fault.</param>
/// <param name="Seconds">From when it was asked; null where that is not known.</param>
public sealed record NewOutsideAnswer(
    string Id,
    string CheckId,
    OutsideAnswer Answer,
    string Held,
    bool WasIt,
    double? Seconds,
    long Order,
    DateTimeOffset At,
    string PersonId
);

/// <param name="Reason">Why it is skipped; empty takes the skip back.</param>
public sealed record StepSkip(string Reason, string PersonId);

internal static class StartEndpoints
{
    private const int MostPhotographs = 60;
    private const int MostLearntFrom = 5000;

    public static void MapStart(this IEndpointRouteBuilder api)
    {
        api.MapGet("/visits/{id}/start", Start).WithName("getVisitStart");
        api.MapPost("/visits/{id}/observations", Observe).WithName("addObservation");
        api.MapPut("/observations/{id}", EditObservation).WithName("editObservation");
        api.MapPost("/observations/{id}/retire", RetireObservation).WithName("retireObservation");
        api.MapPost("/visits/{id}/outside-answers", AnswerOutside).WithName("answerOutsideCheck");
        api.MapPut("/visits/{id}/steps/{step}", Skip).WithName("skipStep");
    }

    public static async Task<VisitStart> Start(
        VisitId id,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var visit =
            await context.Visits.AsNoTracking().SingleOrDefaultAsync(v => v.Id == id, cancel)
            ?? throw ProblemException.NotFound("This visit");
        var machine = await library.Resolve(visit.MachineId, cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var observations = await context
            .Observations.AsNoTracking()
            .Where(o => o.VisitId == id && o.RetiredAt == null)
            .OrderBy(o => o.At)
            .ThenBy(o => o.Id)
            .ToListAsync(cancel);
        var photographs = await context
            .Photographs.AsNoTracking()
            .Where(p => p.VisitId == id && p.RetiredAt == null)
            .OrderByDescending(p => p.TakenAt)
            .Take(MostPhotographs)
            .Select(p => p.Hash)
            .ToListAsync(cancel);
        var build = await BuildEndpoints.Of(machine, context, library, cancel);
        var toKnow = BuildSheet.BoardsToKnow(machine);
        var (outside, minutes) = await Outside(visit, machine, context, cancel);
        var safety = await SafetyEndpoints.View(visit, machine, context, people, clock, cancel);
        var skipped = await context
            .SkippedSteps.AsNoTracking()
            .Where(s => s.VisitId == id && s.RetiredAt == null)
            .ToDictionaryAsync(s => s.Step, s => s.Reason, cancel);
        var looked = await context
            .BoardNotes.AsNoTracking()
            .Where(n => n.VisitId == id && n.RetiredAt == null)
            .Select(n => n.Kind)
            .ToListAsync(cancel);
        var facts = new VisitFacts(
            observations.Count(o => o.Kind.IsCaught()) + photographs.Count,
            build.Kind is DecisionKind.Decided,
            build.Kind switch
            {
                DecisionKind.Decided => build.Name,
                DecisionKind.NoVariants => VisitSteps.NothingWritten,
                DecisionKind.Doubtful => string.Join(" or ", build.Candidates.Select(c => c.Name)),
                DecisionKind.Contradicts => "the plate contradicts itself",
                _ => "not decided",
            },
            [.. toKnow.Select(p => p.Name)],
            outside.Count(o => o.Answer is not null),
            outside.Count,
            outside.Exists(o => o.WasIt),
            safety.State,
            safety.LifeSafety.Length > 0,
            safety.Notices.Any(n => n.BackAt is null),
            looked.Count(k => k.IsFound()),
            observations.Exists(o => o.Kind == ObservationKind.LookedOver)
        )
        {
            Positions = machine.Model.Positions.Count,
        };
        return new VisitStart(
            id.Value,
            machine.Machine.Id.Value,
            machine.Machine.Tag,
            machine.Machine.Name,
            machine.Machine.Site,
            machine.Model.Id.Value,
            machine.Model.Name,
            visit.Complaint,
            visit.EndedAt is not null,
            visit.Version,
            await context
                .Rounds.Where(r => r.VisitId == id)
                .OrderByDescending(r => r.StartedAt)
                .Select(r => r.Id.Value)
                .FirstOrDefaultAsync(cancel),
            VisitSteps.Of(facts, skipped),
            [
                .. observations.Select(o => new ObservationView(
                    o.Id.Value,
                    o.Version,
                    o.Kind,
                    o.Text,
                    o.At,
                    people.GetValueOrDefault(o.PersonId, "somebody"),
                    o.DoneAt,
                    o.PhotographId?.Value
                )),
            ],
            photographs,
            build,
            [.. machine.Model.Positions.Select(p => new PositionInVisit(p.Id.Value, p.Name, !toKnow.Contains(p), Fitted(p, machine)))],
            outside,
            minutes,
            safety,
            await GoingLive(visit, observations, safety, context, cancel)
        );
    }

    private static string Fitted(Position position, ResolvedMachine machine) =>
        machine.Machine.FittedIn(position.Id) is not null && machine.BoardAt.TryGetValue(position.Id, out var type) ? type.Printed : "";

    /// <summary>The checks in the order of least expected minutes, those answered where they were answered.</summary>
    private static async Task<(List<OutsideCheckView> Checks, double Minutes)> Outside(
        Visit visit,
        ResolvedMachine machine,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var answers = await context
            .OutsideReplies.AsNoTracking()
            .Where(a => a.ModelId == machine.Model.Id)
            .OrderByDescending(a => a.Order)
            .Take(MostLearntFrom)
            .ToListAsync(cancel);
        // Of a visit the last answer counts; what is learnt comes from other visits, so that the order holds still while it is gone down.
        var last = answers.GroupBy(a => (a.VisitId, a.CheckId)).Select(g => g.First()).ToList();
        var own = last.Where(a => a.VisitId == visit.Id).ToDictionary(a => a.CheckId);
        var visits = await context
            .Visits.Where(v => v.MachineId == visit.MachineId && v.Id != visit.Id)
            .Select(v => v.Id)
            .ToListAsync(cancel);
        // What a machine has none of it had none of before: the last word of its other visits stands until another is said.
        var none = last.Where(a => visits.Contains(a.VisitId))
            .GroupBy(a => a.CheckId)
            .Select(g => g.First())
            .Where(a => a.Answer == OutsideAnswer.HasNone)
            .ToDictionary(a => a.CheckId);
        var learnt = machine
            .Model.Outside.All.Select(c =>
                LearntCheck.Of(
                    c,
                    last.Where(a => a.VisitId != visit.Id).Select(a => new OutsideResult(a.CheckId, a.Answer, a.Minutes, a.WasIt))
                )
            )
            .ToList();
        var order = OutsideOrder.Of(learnt);
        return (
            [
                .. order.Select(c =>
                {
                    var earlier = none.GetValueOrDefault(c.Check.Id);
                    var answer = own.GetValueOrDefault(c.Check.Id) ?? earlier;
                    return new OutsideCheckView(
                        c.Check.Id,
                        c.Check.Asks,
                        c.Check.AsksHowLong,
                        c.Check.Clears,
                        c.Chance,
                        c.Minutes,
                        c.Why,
                        answer?.Answer,
                        answer?.Held ?? "",
                        answer?.WasIt ?? false,
                        answer is not null && answer == earlier ? earlier.At : null
                    );
                }),
            ],
            OutsideOrder.ExpectedMinutes(order)
        );
    }

    private static async Task<IReadOnlyList<string>> GoingLive(
        Visit visit,
        List<Observation> observations,
        SafetyView safety,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var open = observations
            .Where(o => o.IsOpen)
            .Select(o => o.Kind == ObservationKind.CoverOff ? $"Cover off: {o.Text}" : $"Unplugged: {o.Text}");
        var links = safety.Links.Where(l => l.RemovedAt is null).Select(l => $"{l.Kind.Words()}: {l.Where}");
        var before = await MachineEndpoints.Brief(visit.MachineId.Value, context, cancel);
        return [.. open, .. links, .. (before?.Left ?? []).Select(l => $"Left from an earlier visit: {l}")];
    }

    private static async Task<VisitStart> Observe(
        string id,
        NewObservation asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await OpenVisit(id, context, cancel);
        await Person(asked.PersonId, context, cancel);
        if (!await context.Observations.AnyAsync(o => o.Id == asked.Id, cancel))
        {
            var observation = new Observation
            {
                Id = asked.Id,
                VisitId = id,
                Kind = asked.Kind,
                Text = "",
                At = asked.At,
                PersonId = asked.PersonId,
            };
            context.Put(observation.Write(asked.Text, isDone: false, clock.GetUtcNow()));
            await context.SaveChangesAsync(cancel);
        }

        return await Start(id, context, library, clock, cancel);
    }

    private static async Task<VisitStart> EditObservation(
        string id,
        ObservationEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var observation =
            await context.Observations.SingleOrDefaultAsync(o => o.Id == id, cancel) ?? throw ProblemException.NotFound("This line");
        var written = observation.Write(edit.Text, edit.IsDone, clock.GetUtcNow()).OrRefuse();
        if (observation.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new { text = written.Text, edit.IsDone },
                new { observation.Text, IsDone = observation.DoneAt is not null },
                observation.Version
            );
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await Start(observation.VisitId, context, library, clock, cancel);
    }

    private static async Task<VisitStart> RetireObservation(
        string id,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var observation =
            await context.Observations.SingleOrDefaultAsync(o => o.Id == id, cancel) ?? throw ProblemException.NotFound("This line");
        context.Retire(observation);
        await context.SaveChangesAsync(cancel);
        return await Start(observation.VisitId, context, library, clock, cancel);
    }

    private static async Task<VisitStart> AnswerOutside(
        string id,
        NewOutsideAnswer asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var visit = await OpenVisit(id, context, cancel);
        await Person(asked.PersonId, context, cancel);
        var modelId = await context.Machines.Where(m => m.Id == visit.MachineId).Select(m => m.ModelId).SingleAsync(cancel);
        var model = await library.Model(modelId, cancel);
        var reply = new OutsideReply
        {
            Id = asked.Id,
            VisitId = visit.Id,
            ModelId = modelId,
            CheckId = asked.CheckId,
            Answer = asked.Answer,
            Held = asked.Held?.Trim() ?? "",
            WasIt = asked.WasIt,
            Minutes = OutsideReply.MinutesOf(asked.Seconds),
            Order = asked.Order,
            At = asked.At,
            PersonId = asked.PersonId,
        }
            .Of(model.Outside)
            .OrRefuse();
        if (!await context.OutsideReplies.AnyAsync(a => a.Id == reply.Id, cancel))
        {
            context.Put(reply);
            await context.SaveChangesAsync(cancel);
        }

        return await Start(id, context, library, clock, cancel);
    }

    private static async Task<VisitStart> Skip(
        string id,
        string step,
        StepSkip skip,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await OpenVisit(id, context, cancel);
        await Person(skip.PersonId, context, cancel);
        VisitId visit = id;
        var which = Texts.Choice<VisitStep>("step", step);
        var known = await context.SkippedSteps.SingleOrDefaultAsync(s => s.VisitId == visit && s.Step == which, cancel);
        if (known is not null || skip.Reason.Trim().Length > 0)
        {
            var now = clock.GetUtcNow();
            known ??= new SkippedStep
            {
                VisitId = visit,
                Step = which,
                Reason = "",
                PersonId = skip.PersonId,
                At = now,
            };
            context.Put(known.Write(skip.Reason, skip.PersonId, now));
            await context.SaveChangesAsync(cancel);
        }

        return await Start(id, context, library, clock, cancel);
    }

    /// <exception cref="ProblemException">It is not here, or has ended.</exception>
    public static async Task<Visit> OpenVisit(VisitId id, LedgerContext context, CancellationToken cancel)
    {
        var visit =
            await context.Visits.AsNoTracking().SingleOrDefaultAsync(v => v.Id == id, cancel)
            ?? throw ProblemException.NotFound("This visit");
        return visit.Closed is { } closed ? throw ProblemException.Of(closed) : visit;
    }

    public static async Task Person(PersonId id, LedgerContext context, CancellationToken cancel)
    {
        if (!await context.People.AnyAsync(p => p.Id == id, cancel))
        {
            throw ProblemException.Bad("personId", "Choose a name first; it is not in the ledger.");
        }
    }
}
