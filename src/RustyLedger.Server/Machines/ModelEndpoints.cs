using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Wiring;

namespace RustyLedger.Server.Machines;

/// <summary>A pin that a sheet may name.</summary>
public sealed record ModelPin(PinAddress Address, string Printed, string Signal);

public sealed record ModelPosition(string Id, string Name, string Prefix, string BoardTypeId, IReadOnlyList<string> Elements);

public sealed record ModelBoardType(string Id, string Words);

/// <param name="VersionOfVariants">0 before there are any.</param>
/// <param name="Coverage">Where the rules leave a gap or overlap.</param>
/// <param name="Machines">How many machines are of each build, and how many are not decided.</param>
public sealed record ModelPage(
    string Id,
    string Maker,
    string Name,
    IReadOnlyList<ModelPosition> Positions,
    IReadOnlyList<ModelBoardType> BoardTypes,
    IReadOnlyList<ModelPin> Pins,
    VariantSheet Variants,
    int VersionOfVariants,
    SafetySheet Safety,
    int VersionOfSafety,
    OutsideSheet Outside,
    int VersionOfOutside,
    SignatureSheet Signatures,
    int VersionOfSignatures,
    RoundRuleSheet RoundRules,
    int VersionOfRoundRules,
    int VersionOfCircuit,
    int VersionOfFunctions,
    IReadOnlyList<CoverageSpan> Coverage,
    IReadOnlyList<ModelMachine> Machines,
    IReadOnlyList<OutsideCheck> UsualChecks,
    WiringSheet Wiring,
    int VersionOfWiring,
    WiringReport WiringReport,
    IReadOnlyList<UsualPart> UsualParts,
    IReadOnlyList<CheckRow> Checks,
    int VersionOfChecks
);

public sealed record ModelMachine(string Tag, string Built, DecisionKind Kind, string Build, string Why);

public sealed record VariantsEdit(int Version, VariantSheet Sheet);

public sealed record SafetyEdit(int Version, SafetySheet Sheet);

public sealed record OutsideEdit(int Version, OutsideSheet Sheet);

public sealed record RoundRulesEdit(int Version, RoundRuleSheet Sheet);

public sealed record FunctionsEdit(int Version, FunctionSheet Sheet);

public sealed record SignaturesEdit(int Version, SignatureSheet Sheet);

public sealed record WiringEdit(int Version, WiringSheet Sheet);

/// <summary>Whether power enters at a pin; of a board's pin it is said of the board type, so of every machine that has it.</summary>
public sealed record PowerInEdit(PinAddress Address, bool Enters);

internal static class ModelEndpoints
{
    private const int MostMachines = 500;

    public static void MapModels(this IEndpointRouteBuilder api)
    {
        api.MapGet("/models/{id}", Page).WithName("getModel");
        api.MapPut(
                "/models/{id}/variants",
                (string id, VariantsEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(id, ModelSheetRecord.Variants, edit.Version, edit.Sheet, sheet => sheet.Refusal(), context, library, cancel)
            )
            .WithName("editVariants");
        api.MapPut(
                "/models/{id}/safety",
                (string id, SafetyEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(id, ModelSheetRecord.Safety, edit.Version, edit.Sheet, sheet => sheet.Refusal(), context, library, cancel)
            )
            .WithName("editSafety");
        api.MapPut(
                "/models/{id}/outside-checks",
                (string id, OutsideEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(id, ModelSheetRecord.Outside, edit.Version, edit.Sheet, sheet => sheet.Refusal(), context, library, cancel)
            )
            .WithName("editOutsideChecks");
        api.MapPut(
                "/models/{id}/signatures",
                (string id, SignaturesEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(
                        id,
                        ModelSheetRecord.Signatures,
                        edit.Version,
                        edit.Sheet.Kept(),
                        sheet => sheet.Refusal(),
                        context,
                        library,
                        cancel
                    )
            )
            .WithName("editSignatures");
        api.MapPut(
                "/models/{id}/round-rules",
                (string id, RoundRulesEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(
                        id,
                        ModelSheetRecord.RoundRules,
                        edit.Version,
                        edit.Sheet.Kept(),
                        sheet => sheet.Refusal(),
                        context,
                        library,
                        cancel
                    )
            )
            .WithName("editRoundRules");
        api.MapPut(
                "/models/{id}/circuit",
                (string id, CircuitEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(id, ModelSheetRecord.Circuit, edit.Version, edit.Sheet.Kept(), sheet => sheet.Refusal(), context, library, cancel)
            )
            .WithName("editCircuit");
        api.MapPut(
                "/models/{id}/functions",
                (string id, FunctionsEdit edit, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    Write(
                        id,
                        ModelSheetRecord.Functions,
                        edit.Version,
                        edit.Sheet.Kept(),
                        sheet => sheet.Refusal(),
                        context,
                        library,
                        cancel
                    )
            )
            .WithName("editFunctions");
        api.MapPut("/models/{id}/wiring", Wire).WithName("editWiring");
        api.MapPut("/models/{id}/power-in", EnterPower).WithName("setPowerIn");
        api.MapGet("/models/{id}/cable", CableBetween).WithName("getCable");
        api.MapPost(
                "/variant-coverage",
                (VariantSheet sheet) =>
                    VariantCoverage.PiecesOf(sheet.Variants) > VariantCoverage.MostPieces
                        ? throw ProblemException.Bad("variants", "The rules tell too many cases apart to be looked through for gaps.")
                        : VariantCoverage.Of(sheet.Variants)
            )
            .WithName("lookAtVariants");
    }

    private static async Task<ModelPage> Page(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var model = await library.Model(id, cancel);
        var versions = await context
            .ModelSheets.AsNoTracking()
            .Where(s => s.OwnerId == id)
            .ToDictionaryAsync(s => s.Id, s => s.Version, cancel);
        var known = await context
            .BoardTypes.AsNoTracking()
            .Where(t => t.RetiredAt == null)
            .OrderBy(t => t.PartNumber)
            .ThenBy(t => t.Revision)
            .Select(t => new ModelBoardType(t.Id.Value, t.Revision == "" ? t.PartNumber : t.PartNumber + " rev " + t.Revision))
            .ToListAsync(cancel);
        var positions = new List<ModelPosition>();
        var pins = new List<ModelPin>();
        var types = await library.BoardTypes(model, cancel);
        foreach (var position in model.Positions)
        {
            var type = types[position.BoardTypeId];
            positions.Add(
                new ModelPosition(
                    position.Id.Value,
                    position.Name,
                    position.Prefix,
                    position.BoardTypeId.Value,
                    [.. type.Elements.Select(e => e.Designator)]
                )
            );
            pins.AddRange(
                type.Elements.SelectMany(e =>
                    e.Pins.Select(p => new ModelPin(
                        new PinAddress.OnBoard(position.Id, p.Id),
                        $"{position.Prefix}-{e.Designator}·{p.Label}",
                        p.Signal
                    ))
                )
            );
        }

        pins.AddRange(
            model.Parts.SelectMany(part =>
                part.Pins.Select(p => new ModelPin(new PinAddress.OffBoard(part.Id, p.Id), $"{part.Designator}·{p.Label}", p.Signal))
            )
        );
        var machines = await context
            .Machines.AsNoTracking()
            .Where(m => m.ModelId == id && m.RetiredAt == null)
            .OrderBy(m => m.Tag)
            .Take(MostMachines)
            .ToListAsync(cancel);
        return new ModelPage(
            id,
            model.Maker,
            model.Name,
            positions,
            known,
            [.. pins.OrderBy(p => p.Printed, NaturalOrder.Instance)],
            model.Variants,
            versions.GetValueOrDefault(ModelSheetRecord.Variants),
            model.Safety,
            versions.GetValueOrDefault(ModelSheetRecord.Safety),
            model.Outside,
            versions.GetValueOrDefault(ModelSheetRecord.Outside),
            model.Signatures,
            versions.GetValueOrDefault(ModelSheetRecord.Signatures),
            model.RoundRules,
            versions.GetValueOrDefault(ModelSheetRecord.RoundRules),
            versions.GetValueOrDefault(ModelSheetRecord.Circuit),
            versions.GetValueOrDefault(ModelSheetRecord.Functions),
            VariantCoverage.Of(model.Variants.Variants),
            [
                .. machines.Select(m =>
                {
                    var decision = VariantDecision.Of(new PlateFacts(m.Serial, m.Built, m.Supply, m.Finish), model.Variants, library.Today);
                    return new ModelMachine(
                        m.Tag,
                        m.Built,
                        decision.Kind,
                        decision.Chosen?.Name ?? string.Join(" or ", decision.Candidates.Select(c => c.Variant.Name)),
                        decision.Why
                    );
                }),
            ],
            OutsideSheet.Usual,
            WiringSheet.Of(model),
            SheetVersion.Of(WiringSheet.Of(model)),
            WiringReport.Of(WiringSheet.Resolved(model, types)),
            UsualParts.All,
            CheckTable.Of(model.Checks, WiringSheet.Resolved(model, types)),
            SheetVersion.Of(CheckTable.Of(model.Checks, WiringSheet.Resolved(model, types)))
        );
    }

    /// <summary>The wires that a cable between two connectors would be; nothing is joined by looking.</summary>
    private static async Task<Cable> CableBetween(
        string id,
        string from,
        string to,
        string by,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var model = await library.Model(id, cancel);
        return Cable
            .Between(WiringSheet.Resolved(model, await library.BoardTypes(model, cancel)), from, to, Texts.Choice<CableBy>("by", by))
            .OrRefuse();
    }

    private static async Task<ModelPage> Wire(
        string id,
        WiringEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var model = await library.Model(id, cancel);
        var now = WiringSheet.Of(model);
        if (SheetVersion.Of(now) != edit.Version)
        {
            throw ProblemException.Clash(new { edit.Sheet }, new { Sheet = now }, SheetVersion.Of(now));
        }

        new BookWriter(context, clock).Write(edit.Sheet.In(model, await library.BoardTypes(model, cancel)).OrRefuse(), model);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Page(id, context, library, cancel);
    }

    private static async Task<ModelPage> EnterPower(
        string id,
        PowerInEdit edit,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var model = await library.Model(id, cancel);
        var types = await library.BoardTypes(model, cancel);
        var (told, type) = PowerIn.Set(model, types, edit.Address, edit.Enters).OrRefuse();
        var writer = new BookWriter(context, clock);
        if (type is null)
        {
            writer.Write(told, model);
        }
        else
        {
            writer.Write(type, types[type.Id]);
        }

        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Page(id, context, library, cancel);
    }

    private static async Task<ModelPage> Write<T>(
        string id,
        string which,
        int version,
        T sheet,
        Func<T, Refusal?> rule,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        if (rule(sheet) is { } refusal)
        {
            throw ProblemException.Of(refusal);
        }

        if (!await context.Models.AnyAsync(m => m.Id == id, cancel))
        {
            throw ProblemException.NotFound("This model");
        }

        var record = await context.ModelSheets.SingleOrDefaultAsync(s => s.OwnerId == id && s.Id == which, cancel);
        if ((record?.Version ?? 0) != version)
        {
            throw ProblemException.Clash(
                new { Sheet = sheet },
                new { Sheet = record is null ? default : record.Read<T>() },
                record?.Version ?? 0
            );
        }

        var body = JsonSerializer.Serialize(sheet, MachineFile.OneLine);
        if (record is null)
        {
            context.ModelSheets.Add(
                new ModelSheetRecord
                {
                    OwnerId = id,
                    Id = which,
                    Body = body,
                }
            );
        }
        else
        {
            record.Body = body;
        }

        await context.SaveChangesAsync(cancel);
        return await Page(id, context, library, cancel);
    }
}
