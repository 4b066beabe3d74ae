using System.Globalization;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.History;

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
    IReadOnlyList<string> Evidence,
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

/// <summary>A fault opened by hand or from a round, which then gives machine, readings, stretch and times.</summary>
public sealed record NewFault(string Id, string? MachineId, string? RoundId, string Noticed, string PersonId);

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
    private const int MostMinutes = 100_000;

    public static void MapFaults(this IEndpointRouteBuilder api)
    {
        api.MapPost("/faults", Open).WithName("openFault");
        api.MapGet("/faults/{id}", Get).WithName("getFault");
        api.MapPut("/faults/{id}", Edit).WithName("editFault");
        api.MapGet("/causes", Causes).WithName("listCauses");
        api.MapPost("/causes", AddCause).WithName("addCause");
    }

    internal static async Task<IReadOnlyList<FaultView>> Of(string machineId, LedgerContext context, CancellationToken cancel)
    {
        var faults = await context
            .Faults.AsNoTracking()
            .Where(f => f.MachineId == machineId && f.RetiredAt == null)
            .OrderByDescending(f => f.OpenedAt)
            .ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var causes = await context.Causes.AsNoTracking().ToDictionaryAsync(c => c.Id, c => c.Words, cancel);
        var returns = faults.Where(f => f.PreviousId is not null).GroupBy(f => f.PreviousId!).ToDictionary(g => g.Key, g => g.First().Id);
        return [.. faults.Select(f => View(f, people, causes, returns.GetValueOrDefault(f.Id)))];
    }

    private static FaultView View(
        FaultRecord fault,
        IReadOnlyDictionary<string, string> people,
        IReadOnlyDictionary<string, string> causes,
        string? cameBackAs
    ) =>
        new(
            fault.Id,
            fault.MachineId,
            fault.VisitId,
            fault.RoundId,
            fault.Version,
            people.GetValueOrDefault(fault.PersonId, "somebody"),
            fault.OpenedAt,
            fault.Noticed,
            fault.Found,
            RegisterLines.Lines(fault.Evidence),
            fault.Cause,
            fault.Cause is null ? "" : causes.GetValueOrDefault(fault.Cause, fault.Cause),
            fault.Proof,
            fault.Done,
            RegisterLines.Lines(fault.Parts),
            fault.Deviation,
            fault.Minutes,
            fault.Warranty,
            fault.Held,
            fault.PreviousId,
            cameBackAs,
            fault.ClosedAt
        );

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
            return await Get(asked.Id, context, cancel);
        }

        var fault = new FaultRecord
        {
            Id = asked.Id,
            MachineId = asked.MachineId ?? "",
            RoundId = asked.RoundId,
            PersonId = asked.PersonId,
            OpenedAt = clock.GetUtcNow(),
            Noticed = Texts.Optional("noticed", asked.Noticed, 500),
            Found = "",
            Evidence = "",
            Proof = "",
            Done = "",
        };
        if (asked.RoundId is not null)
        {
            var (_, visit, viewer) = await RoundEndpoints.Load(asked.RoundId, context, library, cancel);
            (fault.MachineId, fault.VisitId) = (visit.MachineId, visit.Id);
            fault.Noticed = fault.Noticed.Length > 0 ? fault.Noticed : visit.Complaint;
            fault.Found = string.Join(' ', viewer.Stretches().Select(s => s.Sentence));
            fault.Evidence = string.Join('\n', [.. Lines(viewer), .. await Seen(visit, context, library, cancel)]);
            fault.Warranty = visit.Warranty;
        }

        if (
            !await context.Machines.AnyAsync(m => m.Id == fault.MachineId, cancel)
            || !await context.People.AnyAsync(p => p.Id == asked.PersonId, cancel)
        )
        {
            throw ProblemException.Bad("machineId", "A fault needs a machine and a person that are in the ledger.");
        }

        context.Faults.Add(fault);
        await context.SaveChangesAsync(cancel);
        return await Get(fault.Id, context, cancel);
    }

    /// <summary>What the eye found on the boards in a visit, and the codes that were read, a line each.</summary>
    private static async Task<IReadOnlyList<string>> Seen(
        VisitRecord visit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(visit.MachineId, cancel);
        var notes = (await context.BoardNotes.AsNoTracking().Where(n => n.VisitId == visit.Id && n.RetiredAt == null).ToListAsync(cancel))
            .Where(n => n.Kind.IsFound())
            .Select(n =>
                (
                    n.At,
                    Words: $"{machine.Model.Positions.FirstOrDefault(p => p.Id == n.PositionId)?.Name ?? n.PositionId}: "
                        + $"{n.Kind.Words()} at "
                        + BoardNoteEndpoints.Where(BoardNoteEndpoints.Place(n), machine.BoardAt.GetValueOrDefault(n.PositionId))
                        + (n.Text.Length > 0 ? $", {n.Text}" : "")
                )
            );
        var codes = (
            await context
                .Observations.AsNoTracking()
                .Where(o =>
                    o.VisitId == visit.Id && o.RetiredAt == null && (o.Kind == ObservationKind.Code || o.Kind == ObservationKind.Lamp)
                )
                .ToListAsync(cancel)
        ).Select(o => (o.At, Words: o.Text));
        return
        [
            .. notes
                .Concat(codes)
                .OrderBy(s => s.At)
                .Select(s => $"{s.At.UtcDateTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)}Z  {s.Words}"),
        ];
    }

    /// <summary>The readings of a round in the order they were taken, a line each.</summary>
    internal static IEnumerable<string> Lines(RoundViewer viewer) =>
        viewer
            .Sheet.Rows.Where(r => r.Reading is not null)
            .Select(r => r.Reading!)
            .Concat(viewer.Sheet.Extras)
            .OrderBy(r => r.Order)
            .Select(entry =>
            {
                var reading = viewer.Reading(entry);
                var against = reading.BlackPrinted.Length > 0 ? $" to {reading.BlackPrinted}" : "";
                var remark = reading.Remark.Length > 0 ? $" ({reading.Remark})" : "";
                return $"{reading.DeviceTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)}Z  "
                    + $"{reading.RedPrinted}{against}, {reading.State}: {reading.Value}{remark}, "
                    + $"{Words(reading.Verdict)}{(reading.Limit is null ? "" : $" of {reading.Limit}")}";
            });

    private static string Words(VerdictKind kind) =>
        kind switch
        {
            VerdictKind.NotJudged => "not judged",
            VerdictKind.Differs => "differs",
            _ => kind.ToString().ToLowerInvariant(),
        };

    private static async Task<FaultView> Get(string id, LedgerContext context, CancellationToken cancel)
    {
        var machine =
            await context.Faults.Where(f => f.Id == id && f.RetiredAt == null).Select(f => f.MachineId).SingleOrDefaultAsync(cancel)
            ?? throw ProblemException.NotFound("This fault");
        return (await Of(machine, context, cancel)).Single(f => f.Id == id);
    }

    private static async Task<FaultView> Edit(
        string id,
        FaultEdit edit,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var fault = await context.Faults.SingleOrDefaultAsync(f => f.Id == id, cancel) ?? throw ProblemException.NotFound("This fault");
        var noticed = Texts.Needed("noticed", edit.Noticed, 500);
        var found = Texts.Optional("found", edit.Found, 2000);
        var proof = Texts.Optional("proof", edit.Proof, 2000);
        var done = Texts.Optional("done", edit.Done, 2000);
        var parts = Texts.Lines("parts", edit.Parts, 40, 80);
        var deviation = Texts.Optional("deviation", edit.Deviation, 500);
        var minutes = Texts.Within("minutes", edit.Minutes, 0, MostMinutes);
        if (FaultRule.Refusal(edit.Close, proof, edit.Cause) is { } refusal)
        {
            throw ProblemException.Bad(refusal.Field, refusal.Problem);
        }

        if (edit.Cause is not null && !await context.Causes.AnyAsync(c => c.Id == edit.Cause, cancel))
        {
            throw ProblemException.Bad("cause", $"\"{edit.Cause}\" is not a cause on the shop's list.");
        }

        if (fault.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    noticed,
                    found,
                    edit.Cause,
                    proof,
                    done,
                    parts,
                    deviation,
                    minutes,
                    edit.Warranty,
                    edit.Held,
                    edit.PreviousId,
                },
                new
                {
                    fault.Noticed,
                    fault.Found,
                    fault.Cause,
                    fault.Proof,
                    fault.Done,
                    Parts = RegisterLines.Lines(fault.Parts),
                    fault.Deviation,
                    fault.Minutes,
                    fault.Warranty,
                    fault.Held,
                    fault.PreviousId,
                },
                fault.Version
            );
        }

        if (edit.PreviousId != fault.PreviousId && edit.PreviousId is { } previousId)
        {
            var previous =
                await context.Faults.SingleOrDefaultAsync(
                    f => f.Id == previousId && f.MachineId == fault.MachineId && f.OpenedAt < fault.OpenedAt,
                    cancel
                ) ?? throw ProblemException.Bad("previousId", "A fault can be the return of an earlier fault of the same machine only.");
            // A fix that did not hold was a wrong diagnosis.
            previous.Held = Held.CameBack;
        }

        (fault.Noticed, fault.Found, fault.Cause, fault.Proof, fault.Done) = (noticed, found, edit.Cause, proof, done);
        (fault.Parts, fault.Deviation, fault.Minutes, fault.Warranty, fault.Held, fault.PreviousId) = (
            string.Join('\n', parts),
            deviation,
            minutes,
            edit.Warranty,
            edit.Held,
            edit.PreviousId
        );
        fault.ClosedAt = edit.Close ? fault.ClosedAt ?? clock.GetUtcNow() : null;
        await context.SaveChangesAsync(cancel);
        return await Get(id, context, cancel);
    }

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
        var words = Texts.Needed("words", asked.Words, 60);
        if (await context.Causes.FirstOrDefaultAsync(c => c.Id == asked.Id || c.Words == words, cancel) is { } known)
        {
            return new CauseView(known.Id, known.Words);
        }

        // "None found" stays the last of the list.
        context.Causes.Add(
            new CauseRecord
            {
                Id = asked.Id,
                Words = words,
                Ordinal = 50,
            }
        );
        await context.SaveChangesAsync(cancel);
        return new CauseView(asked.Id, words);
    }
}
