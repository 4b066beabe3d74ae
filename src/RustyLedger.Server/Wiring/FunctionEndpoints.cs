using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Wiring;

/// <summary>What a model's machines do, and which parts that takes.</summary>
/// <param name="Usual">Parts that a new table begins with.</param>
/// <param name="NeededByAll">Parts that a new function has ticked beforehand.</param>
/// <param name="NotToldApart">Parts that no function tells from one another.</param>
/// <param name="Level">What the suspects of this machine stand on: 3 the circuit, 2 this table, 1 the wiring, 0 nothing yet.</param>
public sealed record FunctionsView(
    string ModelId,
    FunctionSheet Sheet,
    int Version,
    IReadOnlyList<string> Usual,
    IReadOnlyList<string> NeededByAll,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<IReadOnlyList<string>> NotToldApart,
    int Level
);

internal static class FunctionEndpoints
{
    public static void MapFunctions(this IEndpointRouteBuilder api) => api.MapGet("/machines/{id}/functions", Get).WithName("getFunctions");

    private static async Task<FunctionsView> Get(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var machine = await CircuitEndpoints.Machine(id, context, library, cancel);
        var model = machine.Model;
        var version = await context
            .ModelSheets.AsNoTracking()
            .Where(s => s.OwnerId == model.Id && s.Id == ModelSheetRecord.Functions)
            .Select(s => s.Version)
            .FirstOrDefaultAsync(cancel);
        return new FunctionsView(
            model.Id.Value,
            model.Functions,
            version,
            FunctionSheet.UsualParts(model),
            model.Functions.NeededByAll(model),
            model.States,
            model.Functions.NotToldApart(),
            MachineDiagnosis.Of(machine, Core.Wiring.FeedGraph.Of(machine)).Level
        );
    }
}
