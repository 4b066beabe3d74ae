using System.Globalization;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.History;

public sealed record FaultView(
    string Id, string MachineId, string? VisitId, string? RoundId, int Version, string Person, DateTimeOffset OpenedAt, string Noticed, string Found,
    IReadOnlyList<string> Evidence, FaultCause? Cause, string Proof, string Done, DateTimeOffset? ClosedAt)
{
    internal static FaultView Of(FaultRecord fault, IReadOnlyDictionary<string, string> people) => new(
        fault.Id, fault.MachineId, fault.VisitId, fault.RoundId, fault.Version, people.GetValueOrDefault(fault.PersonId, "somebody"), fault.OpenedAt, fault.Noticed, fault.Found,
        fault.Evidence.Split('\n', StringSplitOptions.RemoveEmptyEntries), fault.Cause, fault.Proof, fault.Done, fault.ClosedAt);
}

/// <summary>A fault opened by hand or from a round, which then gives machine, readings, stretch and times.</summary>
public sealed record NewFault(string Id, string? MachineId, string? RoundId, string Noticed, string PersonId);

/// <summary>A fault completed. Closing it asks for its proof.</summary>
public sealed record FaultEdit(int Version, string Noticed, string Found, FaultCause? Cause, string Proof, string Done, bool Close);

/// <summary>One change: who, when, before and after as JSON of the record.</summary>
public sealed record EditView(string? Person, DateTimeOffset At, string? Before, string After);

internal static class FaultEndpoints
{
    public static void MapHistory(this IEndpointRouteBuilder api)
    {
        api.MapPost("/faults", Open).WithName("openFault");
        api.MapGet("/faults/{id}", Get).WithName("getFault");
        api.MapPut("/faults/{id}", Edit).WithName("editFault");
        api.MapGet("/edits/{kind}/{*recordId}", Edits).WithName("listEdits");
    }

    private static async Task<FaultView> Open(NewFault asked, LedgerContext context, MachineLibrary library, TimeProvider clock, CancellationToken cancel)
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
            fault.Evidence = string.Join('\n', Lines(viewer));
        }

        if (!await context.Machines.AnyAsync(m => m.Id == fault.MachineId, cancel) || !await context.People.AnyAsync(p => p.Id == asked.PersonId, cancel))
        {
            throw ProblemException.Bad("machineId", "A fault needs a machine and a person that are in the ledger.");
        }

        context.Faults.Add(fault);
        await context.SaveChangesAsync(cancel);
        return await Get(fault.Id, context, cancel);
    }

    /// <summary>The readings a write-up rests on, in the order they were taken: those out of limit and those next to them.</summary>
    private static IEnumerable<string> Lines(RoundViewer viewer) =>
        viewer.Sheet.Rows.Where(r => r.Reading is not null).Select(r => r.Reading!).Concat(viewer.Sheet.Extras).OrderBy(r => r.Order).Select(entry =>
        {
            var reading = viewer.Reading(entry);
            var against = reading.BlackPrinted.Length > 0 ? $" to {reading.BlackPrinted}" : "";
            var remark = reading.Remark.Length > 0 ? $" ({reading.Remark})" : "";
            return $"{reading.DeviceTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)}Z  {reading.RedPrinted}{against}, {reading.State}: {reading.Value}{remark}, {Words(reading.Verdict)}{(reading.Limit is null ? "" : $" of {reading.Limit}")}";
        });

    private static string Words(VerdictKind kind) => kind switch { VerdictKind.NotJudged => "not judged", VerdictKind.Differs => "differs", _ => kind.ToString().ToLowerInvariant() };

    private static async Task<FaultView> Get(string id, LedgerContext context, CancellationToken cancel)
    {
        var fault = await context.Faults.AsNoTracking().SingleOrDefaultAsync(f => f.Id == id, cancel) ?? throw ProblemException.NotFound("This fault");
        return FaultView.Of(fault, await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel));
    }

    private static async Task<FaultView> Edit(string id, FaultEdit edit, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        var fault = await context.Faults.SingleOrDefaultAsync(f => f.Id == id, cancel) ?? throw ProblemException.NotFound("This fault");
        var noticed = Texts.Needed("noticed", edit.Noticed, 500);
        var found = Texts.Optional("found", edit.Found, 2000);
        var proof = Texts.Optional("proof", edit.Proof, 2000);
        var done = Texts.Optional("done", edit.Done, 2000);
        if (edit.Close && (proof.Length == 0 || edit.Cause is null))
        {
            throw ProblemException.Bad(proof.Length == 0 ? "proof" : "cause", "A fault closes with its cause and its proof: the test that convicted the part.");
        }

        if (fault.Version != edit.Version)
        {
            throw ProblemException.Clash(new { noticed, found, edit.Cause, proof, done }, new { fault.Noticed, fault.Found, fault.Cause, fault.Proof, fault.Done }, fault.Version);
        }

        (fault.Noticed, fault.Found, fault.Cause, fault.Proof, fault.Done) = (noticed, found, edit.Cause, proof, done);
        fault.ClosedAt = edit.Close ? fault.ClosedAt ?? clock.GetUtcNow() : null;
        await context.SaveChangesAsync(cancel);
        return await Get(id, context, cancel);
    }

    private static async Task<IReadOnlyList<EditView>> Edits(string kind, string recordId, LedgerContext context, CancellationToken cancel)
    {
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var edits = await context.Edits.AsNoTracking().Where(e => e.Kind == kind && e.RecordId == recordId).OrderByDescending(e => e.Id).Take(200).ToListAsync(cancel);
        return [.. edits.Select(e => new EditView(e.PersonId is null ? null : people.GetValueOrDefault(e.PersonId), e.At, e.Before, e.After))];
    }
}
