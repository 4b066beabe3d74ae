using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
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

public sealed record OverridesEdit(int Version, IReadOnlyList<OverrideRow> Rows);

/// <summary>What is so on one machine only.</summary>
/// <param name="Checks">At which pin there is which check, so that one can be chosen.</param>
public sealed record MachineOverrides(IReadOnlyList<OverrideRow> Rows, int Version, IReadOnlyList<CheckName> Checks);

public sealed record CheckName(string Pin, string Name);

/// <param name="Problems">By row and cell; such a row is not taken, and holds up no other.</param>
public sealed record OverridesTaken(IReadOnlyList<OverrideRow> Rows, int Version, IReadOnlyList<CheckProblem> Problems);

/// <summary>The checks of a model, and those of one machine alone, as tables; a row that is wrong is left as it was.</summary>
internal static class CheckEndpoints
{
    public static void MapChecks(this IEndpointRouteBuilder api)
    {
        api.MapPut("/models/{id}/checks", OfModel).WithName("editChecks");
        api.MapGet("/machines/{id}/checks", Get).WithName("getMachineChecks");
        api.MapPut("/machines/{id}/checks", OfMachine).WithName("editMachineChecks");
        api.MapGet("/machines/{id}/overrides", Overrides).WithName("getMachineOverrides");
        api.MapPut("/machines/{id}/overrides", EditOverrides).WithName("editMachineOverrides");
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

    internal static async Task<MachineOverrides> Overrides(string id, MachineLibrary library, CancellationToken cancel)
    {
        var machine = await library.Resolve(id, cancel);
        var rows = OverrideTable.Of(machine);
        return new MachineOverrides(
            rows,
            SheetVersion.Of(rows),
            [.. machine.Checks.Select(c => new CheckName(SheetOrder.NameOf(machine, c), OverrideTable.NameOf(c)))]
        );
    }

    private static async Task<OverridesTaken> EditOverrides(
        string id,
        OverridesEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var machine = await library.Resolve(id, cancel);
        var now = OverrideTable.Of(machine);
        if (SheetVersion.Of(now) != edit.Version)
        {
            throw ProblemException.Clash(new { edit.Rows }, new { Rows = now }, SheetVersion.Of(now));
        }

        foreach (var row in edit.Rows)
        {
            Texts.Id("id", row.Id);
        }

        var (overrides, problems) = OverrideTable.Read(edit.Rows, machine);
        var changed = machine.Machine with { Overrides = overrides };
        new BookWriter(context, clock).Write(changed, machine.Machine);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        var after = OverrideTable.Of(machine with { Machine = changed });
        return new OverridesTaken(after, SheetVersion.Of(after), problems);
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
