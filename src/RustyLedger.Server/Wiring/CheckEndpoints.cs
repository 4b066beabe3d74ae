using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Wiring;

public sealed record ChecksEdit(int Version, IReadOnlyList<CheckRow> Rows);

/// <param name="Problems">By row and cell; such a row is not taken, and holds up no other.</param>
public sealed record ChecksTaken(IReadOnlyList<CheckRow> Checks, int Version, IReadOnlyList<CheckProblem> Problems);

/// <summary>The checks of one machine alone, and what they are written with.</summary>
public sealed record MachineChecks(IReadOnlyList<CheckRow> Checks, int Version);

/// <summary>The checks of a model, and those of one machine alone, as tables; a row that is wrong is left as it was.</summary>
internal static class CheckEndpoints
{
    public static void MapChecks(this IEndpointRouteBuilder api)
    {
        api.MapPut("/models/{id}/checks", OfModel).WithName("editChecks");
        api.MapGet("/machines/{id}/checks", Get).WithName("getMachineChecks");
        api.MapPut("/machines/{id}/checks", OfMachine).WithName("editMachineChecks");
    }

    private static async Task<ChecksTaken> OfModel(
        string id,
        ChecksEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var model = await library.Model(id, cancel);
        var resolved = WiringSheet.Resolved(model, await library.BoardTypes(model, cancel));
        var (checks, problems) = Read(edit, model.Checks, resolved);
        new BookWriter(context, clock).Write(model with { Checks = checks }, model);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return Taken(checks, resolved, problems);
    }

    private static async Task<MachineChecks> Get(string id, MachineLibrary library, CancellationToken cancel)
    {
        var resolved = await library.Resolve(id, cancel);
        var rows = CheckTable.Of(resolved.Machine.Checks, resolved);
        return new MachineChecks(rows, SheetVersion.Of(rows));
    }

    private static async Task<ChecksTaken> OfMachine(
        string id,
        ChecksEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var resolved = await library.Resolve(id, cancel);
        var (checks, problems) = Read(edit, resolved.Machine.Checks, resolved);
        new BookWriter(context, clock).Write(resolved.Machine with { Checks = checks }, resolved.Machine);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return Taken(checks, resolved, problems);
    }

    private static (IReadOnlyList<Check> Checks, IReadOnlyList<CheckProblem> Problems) Read(
        ChecksEdit edit,
        IReadOnlyList<Check> before,
        ResolvedMachine machine
    )
    {
        var now = CheckTable.Of(before, machine);
        if (SheetVersion.Of(now) != edit.Version)
        {
            throw ProblemException.Clash(new { edit.Rows }, new { Rows = now }, SheetVersion.Of(now));
        }

        foreach (var row in edit.Rows)
        {
            Texts.Id("id", row.Id);
        }

        return CheckTable.Read(edit.Rows, before, machine);
    }

    private static ChecksTaken Taken(IReadOnlyList<Check> checks, ResolvedMachine machine, IReadOnlyList<CheckProblem> problems)
    {
        var rows = CheckTable.Of(checks, machine);
        return new ChecksTaken(rows, SheetVersion.Of(rows), problems);
    }
}
