using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.History;

/// <param name="At">Null where nobody wrote that down.</param>
/// <param name="Verdict">Of a reading; null for what was seen or said.</param>
public sealed record EvidenceView(DateTimeOffset? At, string Words, VerdictKind? Verdict);

/// <param name="Cause">Code of a cause from the shop's list.</param>
/// <param name="CauseWords">The cause in words; empty while none is given.</param>
/// <param name="PreviousId">The fault this one is the return of.</param>
/// <param name="CameBackAs">A later fault that is the return of this one.</param>
public sealed record FaultView(
    string Id,
    string MachineId,
    string? VisitId,
    string? RoundId,
    int Version,
    string Person,
    DateTimeOffset OpenedAt,
    string Noticed,
    string Found,
    IReadOnlyList<EvidenceView> Evidence,
    string? Cause,
    string CauseWords,
    string Proof,
    string Done,
    IReadOnlyList<string> Parts,
    string Deviation,
    int? Minutes,
    Warranty Warranty,
    Held Held,
    string? PreviousId,
    string? CameBackAs,
    DateTimeOffset? ClosedAt
);

/// <summary>
/// A fault opened by hand, from a round, which then gives machine, readings, stretch and times, or from what was reasoned in a visit, which
/// gives what was proved beside.
/// </summary>
public sealed record NewFault(
    string Id,
    string? MachineId,
    string? RoundId,
    string Noticed,
    string PersonId,
    string? ReasonedInVisit = null
);

/// <summary>A fault completed. Closing it asks for its proof.</summary>
/// <param name="Parts">Parts touched.</param>
public sealed record FaultEdit(
    int Version,
    string Noticed,
    string Found,
    string? Cause,
    string Proof,
    string Done,
    IReadOnlyList<string> Parts,
    string Deviation,
    int? Minutes,
    Warranty Warranty,
    Held Held,
    string? PreviousId,
    bool Close
);

public sealed record CauseView(string Id, string Words);

public sealed record NewCause(string Id, string Words);

internal static class FaultEndpoints
{
    public static void MapFaults(this IEndpointRouteBuilder api)
    {
        api.MapPost("/faults", Open).WithName("openFault");
        api.MapGet("/faults/{id}", Get).WithName("getFault");
        api.MapPut("/faults/{id}", Edit).WithName("editFault");
        api.MapGet("/causes", Causes).WithName("listCauses");
        api.MapPost("/causes", AddCause).WithName("addCause");
    }

    internal static async Task<IReadOnlyList<FaultView>> Of(ResolvedMachine machine, LedgerContext context, CancellationToken cancel)
    {
        var faults = await RecordKind.For<Fault>().Those(machine.Machine.Id, context, cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var causes = await context.Causes.AsNoTracking().ToDictionaryAsync(c => c.Id, c => c.Words, cancel);
        var returns = Returns(faults);
        return
        [
            .. faults
                .Reverse()
                .Select(f => new FaultView(
                    f.Id.Value,
                    f.MachineId.Value,
                    f.VisitId?.Value,
                    f.RoundId?.Value,
                    f.Version,
                    people.GetValueOrDefault(f.PersonId, "somebody"),
                    f.OpenedAt,
                    f.Noticed,
                    f.FoundWords(machine),
                    [.. f.Evidence.Select(e => new EvidenceView(e.At, e.Words(machine), (e as Evidence.Measured)?.Verdict))],
                    f.Cause,
                    f.Cause is null ? "" : causes.GetValueOrDefault(f.Cause, f.Cause),
                    f.Proof,
                    f.Done,
                    [.. f.Touched.Select(t => t.Called)],
                    f.Deviation,
                    f.Minutes,
                    f.Warranty,
                    f.Held,
                    f.PreviousId?.Value,
                    returns.TryGetValue(f.Id, out var later) ? later.Value : null,
                    f.ClosedAt
                )),
        ];
    }

    /// <summary>The later fault that each one came back as.</summary>
    internal static Dictionary<FaultId, FaultId> Returns(IEnumerable<Fault> faults) =>
        faults.Where(f => f.PreviousId is not null).GroupBy(f => f.PreviousId!.Value).ToDictionary(g => g.Key, g => g.Last().Id);

    private static async Task<FaultView> Open(
        NewFault asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        if (await context.Faults.AnyAsync(f => f.Id == asked.Id, cancel))
        {
            return await View(asked.Id, context, library, cancel);
        }

        var fault = new Fault
        {
            Id = asked.Id,
            MachineId = asked.MachineId ?? "",
            RoundId = RoundId.Maybe(asked.RoundId),
            PersonId = asked.PersonId,
            OpenedAt = clock.GetUtcNow(),
            Noticed = asked.Noticed?.Trim() ?? "",
        };
        if (asked.RoundId is not null)
        {
            var (_, visit, viewer) = await RoundEndpoints.Load(asked.RoundId, context, library, cancel);
            fault = fault with
            {
                MachineId = visit.MachineId,
                VisitId = visit.Id,
                Noticed = fault.Noticed.Length > 0 ? fault.Noticed : visit.Complaint,
                Located = [.. viewer.Stretches().Select(s => s.Found)],
                Evidence = [.. Measured(viewer), .. await Seen(visit, context, cancel)],
                Warranty = visit.Warranty,
            };
        }

        if (asked.ReasonedInVisit is { } reasonedIn)
        {
            fault = await Reasoned(fault, reasonedIn, context, library, cancel);
        }

        if (
            !await context.Machines.AnyAsync(m => m.Id == fault.MachineId, cancel)
            || !await context.People.AnyAsync(p => p.Id == fault.PersonId, cancel)
        )
        {
            throw ProblemException.Bad("machineId", "A fault needs a machine and a person that are in the ledger.");
        }

        context.Put(Outcome.Of(fault));
        await context.SaveChangesAsync(cancel);
        return await View(fault.Id, context, library, cancel);
    }

    /// <summary>With what was weighed in its visit: what was seen, and what was proved, or is likely.</summary>
    private static async Task<Fault> Reasoned(
        Fault fault,
        string visitId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var visit =
            await context.Visits.AsNoTracking().SingleOrDefaultAsync(v => v.Id == visitId, cancel)
            ?? throw ProblemException.NotFound("This visit");
        var weighed = await ReasonEndpoints.Weigh(
            visit,
            new NextActRules(School.Fastest, null, RoundMinutes.Usual, 1),
            context,
            library,
            cancel
        );
        var machine = await library.Resolve(visit.MachineId, cancel);
        var proved = weighed.Reasoned.Proved;
        return fault with
        {
            MachineId = visit.MachineId,
            VisitId = visit.Id,
            Noticed = fault.Noticed.Length > 0 ? fault.Noticed : visit.Complaint,
            Found = weighed.Ending,
            Evidence = [.. weighed.Said, .. fault.Evidence],
            Proof = proved is null ? "" : $"{proved.Words}. {proved.Because}.",
            Touched = proved is null ? [] : [.. proved.Parts.Select(p => new TouchedPart(PartNames.Read(p, machine), p))],
            Warranty = visit.Warranty,
        };
    }

    /// <summary>What the eye found on the boards in a visit, and the codes that were read.</summary>
    private static async Task<IEnumerable<Evidence>> Seen(Visit visit, LedgerContext context, CancellationToken cancel)
    {
        var notes = await context.BoardNotes.AsNoTracking().Where(n => n.VisitId == visit.Id && n.RetiredAt == null).ToListAsync(cancel);
        var codes = await context
            .Observations.AsNoTracking()
            .Where(o => o.VisitId == visit.Id && o.RetiredAt == null && (o.Kind == ObservationKind.Code || o.Kind == ObservationKind.Lamp))
            .ToListAsync(cancel);
        return notes
            .Where(n => n.Kind.IsFound())
            .Select(n => (Evidence)new Evidence.FoundByEye(n.At, n.PositionId, n.Place, n.Kind, n.Text))
            .Concat(codes.Select(o => new Evidence.Observed(o.At, o.Kind, o.Text)))
            .OrderBy(e => e.At);
    }

    /// <summary>The readings of a round in the order they were taken.</summary>
    internal static IEnumerable<Evidence> Measured(RoundViewer viewer) =>
        viewer
            .Sheet.Rows.Where(r => r.Reading is not null)
            .Select(r => r.Reading!)
            .Concat(viewer.Sheet.Extras)
            .OrderBy(r => r.Order)
            .Select(viewer.Evidence);

    private static async Task<FaultView> View(FaultId id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var fault = await Find(id, context, cancel);
        return (await Of(await library.Resolve(fault.MachineId, cancel), context, cancel)).Single(f => f.Id == id.Value);
    }

    private static Task<FaultView> Get(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
        View(id, context, library, cancel);

    private static async Task<FaultView> Edit(
        string id,
        FaultEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var fault = await Find(id, context, cancel);
        var machine = await library.Resolve(fault.MachineId, cancel);
        var previous = edit.PreviousId is { } named ? await context.Faults.SingleOrDefaultAsync(f => f.Id == named, cancel) : null;
        var known = fault.Touched.ToDictionary(t => t.Called);
        var written = fault
            .Write(
                new FaultWords(
                    edit.Noticed,
                    // What only says what the readings say is not kept as a person's words.
                    edit.Found.Trim() == fault.FoundWords(machine)
                        ? fault.Found
                        : edit.Found,
                    edit.Cause,
                    edit.Proof,
                    edit.Done,
                    [
                        .. edit
                            .Parts.Select(l => l.Trim())
                            .Where(l => l.Length > 0)
                            .Select(l => known.GetValueOrDefault(l) ?? new TouchedPart(PartNames.Read(l, machine), l)),
                    ],
                    edit.Deviation,
                    edit.Minutes,
                    edit.Warranty,
                    edit.Held,
                    FaultId.Maybe(edit.PreviousId),
                    edit.Close
                ),
                previous,
                clock.GetUtcNow()
            )
            .OrRefuse();
        if (edit.Cause is not null && !await context.Causes.AnyAsync(c => c.Id == edit.Cause, cancel))
        {
            throw ProblemException.Bad("cause", $"\"{edit.Cause}\" is not a cause on the shop's list.");
        }

        if (fault.Version != edit.Version)
        {
            throw ProblemException.Clash(Written(written, machine), Written(fault, machine), fault.Version);
        }

        if (written.PreviousId != fault.PreviousId && previous is not null)
        {
            context.Put(previous.Returned());
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await View(fault.Id, context, library, cancel);
    }

    /// <summary>What two people may both have written.</summary>
    private static object Written(Fault f, ResolvedMachine machine) =>
        new
        {
            f.Noticed,
            Found = f.FoundWords(machine),
            f.Cause,
            f.Proof,
            f.Done,
            Parts = f.Touched.Select(t => t.Called),
            f.Deviation,
            f.Minutes,
            f.Warranty,
            f.Held,
            PreviousId = f.PreviousId?.Value,
        };

    private static async Task<Fault> Find(FaultId id, LedgerContext context, CancellationToken cancel) =>
        await context.Faults.SingleOrDefaultAsync(f => f.Id == id && f.RetiredAt == null, cancel)
        ?? throw ProblemException.NotFound("This fault");

    private static async Task<IReadOnlyList<CauseView>> Causes(LedgerContext context, CancellationToken cancel) =>
        await context
            .Causes.AsNoTracking()
            .Where(c => c.RetiredAt == null)
            .OrderBy(c => c.Ordinal)
            .ThenBy(c => c.Words)
            .Select(c => new CauseView(c.Id, c.Words))
            .ToListAsync(cancel);

    private static async Task<CauseView> AddCause(NewCause asked, LedgerContext context, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        var added = Outcome.Of(new Cause { Id = asked.Id, Words = asked.Words?.Trim() ?? "" }).OrRefuse();
        if (await context.Causes.FirstOrDefaultAsync(c => c.Id == added.Id || c.Words == added.Words, cancel) is { } known)
        {
            return new CauseView(known.Id, known.Words);
        }

        context.Put(added);
        await context.SaveChangesAsync(cancel);
        return new CauseView(added.Id, added.Words);
    }
}
