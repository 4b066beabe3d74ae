using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Boards;

/// <summary>A board type as tables.</summary>
/// <param name="Machines">Tags of the machines it is fitted in.</param>
/// <param name="Revisions">All revisions of the part number, this one included.</param>
/// <param name="Details">The columns that only things of a kind have.</param>
public sealed record LayoutTables(
    string BoardTypeId,
    string PartNumber,
    string Revision,
    string Name,
    decimal WidthMm,
    decimal HeightMm,
    bool IsSizeGuess,
    int Version,
    IReadOnlyList<LayoutRow> Rows,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<string> Machines,
    IReadOnlyList<RevisionName> Revisions,
    IReadOnlyDictionary<ElementKind, IReadOnlyList<LayoutColumn>> Details
);

/// <param name="Revision">Written where none was; null where it stays.</param>
public sealed record BoardSize(int Version, decimal WidthMm, decimal HeightMm, string? Revision = null);

public sealed record RevisionName(string BoardTypeId, string Revision);

/// <param name="Problems">What stands against it; then nothing was written.</param>
public sealed record LayoutChanged(LayoutTables Tables, IReadOnlyList<LayoutProblem> Problems);

/// <param name="MachineId">A machine whose board turned out to be of the new revision; null for none.</param>
/// <param name="PositionId">Which of its positions.</param>
public sealed record NewRevision(string Id, string Revision, string? MachineId, string? PositionId);

public sealed record RevisionsCompared(string Before, string After, IReadOnlyList<BoardDifference> Differences);

/// <summary>A board type is parted from the machines that have it too.</summary>
/// <param name="Id">Of the board type that is made.</param>
public sealed record BoardOnlyHere(string Id, string MachineId, string PositionId);

internal static class LayoutEndpoints
{
    private const int MostEdits = 5000;

    public static void MapLayouts(this IEndpointRouteBuilder api)
    {
        api.MapGet("/board-types/{boardTypeId}/tables", Get).WithName("getTables");
        api.MapPost("/board-types/{boardTypeId}/tables", Change).WithName("changeTables");
        api.MapPut("/board-types/{boardTypeId}/size", Resize).WithName("resizeBoard");
        api.MapPost("/board-types/{boardTypeId}/revisions", AddRevision).WithName("addRevision");
        api.MapPost("/board-types/{boardTypeId}/only-here", OnlyHere).WithName("makeBoardOnlyHere");
        api.MapGet("/board-types/{boardTypeId}/compare/{otherId}", Compare).WithName("compareRevisions");
        api.MapGet("/machines/{machineId}/boards/{positionId}/pins/{pinId}/readings", PinReadings).WithName("listPinReadings");
    }

    private static async Task<LayoutTables> Get(string boardTypeId, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var type = await library.BoardType(boardTypeId, cancel);
        var version = await context.BoardTypes.Where(b => b.Id == boardTypeId).Select(b => b.Version).SingleAsync(cancel);
        var machines = await context
            .BoardsFittedNow.Where(b => b.BoardTypeId == boardTypeId)
            .Select(b => b.OwnerId)
            .Union(
                context
                    .Machines.Where(m =>
                        context.Positions.Any(p => p.OwnerId == m.ModelId && p.BoardTypeId == boardTypeId && p.RetiredAt == null)
                    )
                    .Select(m => m.Id)
            )
            .Join(context.Machines, id => id, m => m.Id, (_, m) => m.Tag)
            .OrderBy(t => t)
            .Take(50)
            .ToListAsync(cancel);
        var revisions = await context
            .BoardTypes.Where(b => b.PartNumber == type.PartNumber && b.RetiredAt == null)
            .OrderBy(b => b.Revision)
            .Select(b => new RevisionName(b.Id.Value, b.Revision))
            .ToListAsync(cancel);
        return new LayoutTables(
            type.Id.Value,
            type.PartNumber,
            type.Revision,
            type.Name,
            type.WidthMm,
            type.HeightMm,
            type.IsSizeGuess,
            version,
            LayoutTable.Rows(type),
            await BoardEndpoints.States(boardTypeId, context, library, cancel),
            machines,
            revisions,
            Enum.GetValues<ElementKind>().ToDictionary(k => k, LayoutTable.DetailsOf)
        );
    }

    /// <summary>
    /// A block of changes, all or none; each cell says what it was made from, so two people at one table do not lose a word.
    /// </summary>
    private static async Task<LayoutChanged> Change(
        string boardTypeId,
        IReadOnlyList<LayoutEdit> edits,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        if (edits.Count > MostEdits)
        {
            throw ProblemException.Bad(
                "edits",
                $"{edits.Count} cells at once; at most {MostEdits} are taken. A larger list comes in as a file."
            );
        }

        foreach (var edit in edits.Where(e => e.Kind == LayoutEditKind.Add))
        {
            Texts.Id("id", edit.Id);
        }

        var before = await library.BoardType(boardTypeId, cancel);
        var used = await UsedElsewhere(before, edits, context, cancel);
        var result = LayoutTable.Apply(before, edits, await BoardEndpoints.States(boardTypeId, context, library, cancel), used.Contains);
        if (result.Problems.Count == 0)
        {
            writer.Write(result.Board, before);
            await context.SaveChangesAsync(cancel);
        }

        return new LayoutChanged(await Get(boardTypeId, context, library, cancel), result.Problems);
    }

    /// <summary>Pins that would go, and that wires, readings or places of machines hold on to.</summary>
    private static async Task<HashSet<PinId>> UsedElsewhere(
        BoardType type,
        IReadOnlyList<LayoutEdit> edits,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var removed = edits.Where(e => e is { Kind: LayoutEditKind.Remove }).Select(e => e.Id).ToHashSet();
        List<PinId> pins =
        [
            .. type
                .Elements.SelectMany(e => e.Pins.Where(p => removed.Contains(e.Id.Value) || removed.Contains(p.Id.Value)))
                .Select(p => p.Id),
        ];
        if (pins.Count == 0)
        {
            return [];
        }

        var positions = await context
            .Positions.Where(p => p.BoardTypeId == type.Id && p.RetiredAt == null)
            .Select(p => p.Id)
            .Union(context.FittedBoards.Where(b => b.BoardTypeId == type.Id).Select(b => b.PositionId))
            .ToListAsync(cancel);
        var used = new HashSet<PinId>();
        foreach (var some in positions.SelectMany(p => pins.Select(pin => (PinAddress)new PinAddress.OnBoard(p, pin))).Chunk(500))
        {
            var held = await context
                .Links.Where(l => l.RetiredAt == null && some.Contains(l.From))
                .Select(l => l.From)
                .Union(context.Links.Where(l => l.RetiredAt == null && some.Contains(l.To)).Select(l => l.To))
                .ToListAsync(cancel);
            used.UnionWith(held.Select(a => a.OwnPin!.Value));
            used.UnionWith(
                (await context.Readings.Where(r => some.Contains(r.Red!)).Select(r => r.Red!).Distinct().ToListAsync(cancel)).Select(a =>
                    a.OwnPin!.Value
                )
            );
        }

        List<PinId?> named = [.. pins];
        used.UnionWith(
            await context.Places.Where(p => p.RetiredAt == null && named.Contains(p.PinId)).Select(p => p.PinId!.Value).ToListAsync(cancel)
        );
        return used;
    }

    private static async Task<LayoutTables> Resize(
        string boardTypeId,
        BoardSize size,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var record =
            await context.BoardTypes.SingleOrDefaultAsync(b => b.Id == boardTypeId && b.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This board type");
        var sized = (await library.BoardType(boardTypeId, cancel)).Measured(size.WidthMm, size.HeightMm).OrRefuse();
        if (record.Version != size.Version)
        {
            throw ProblemException.Clash(new { size.WidthMm, size.HeightMm }, new { record.WidthMm, record.HeightMm }, record.Version);
        }

        if (size.Revision is { Length: > 0 } said && said != record.Revision)
        {
            var known = await Revisions(record.PartNumber, context, cancel);
            record.Revision = sized.OfRevision(said, known, isAnother: false).OrRefuse().Revision;
        }

        (record.WidthMm, record.HeightMm, record.IsSizeGuess) = (sized.WidthMm, sized.HeightMm, sized.IsSizeGuess);
        await context.SaveChangesAsync(cancel);
        return await Get(boardTypeId, context, library, cancel);
    }

    /// <summary>The revisions that a part number has.</summary>
    private static async Task<List<string>> Revisions(string partNumber, LedgerContext context, CancellationToken cancel) =>
        await context.BoardTypes.Where(b => b.PartNumber == partNumber && b.RetiredAt == null).Select(b => b.Revision).ToListAsync(cancel);

    /// <summary>
    /// A revision begins as a copy under ids of its own; pins and checks keep theirs, so readings and revisions can be laid side by
    /// side.
    /// </summary>
    private static async Task<LayoutTables> AddRevision(
        string boardTypeId,
        NewRevision asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var type = await library.BoardType(boardTypeId, cancel);
        if (!await context.BoardTypes.AnyAsync(b => b.Id == asked.Id, cancel))
        {
            var another = type.OfRevision(asked.Revision, await Revisions(type.PartNumber, context, cancel), isAnother: true).OrRefuse();
            await Copy(boardTypeId, another with { Id = asked.Id }, context, writer, cancel);

            if (asked is { MachineId: { } machineId, PositionId: { } positionId })
            {
                await Correct(machineId, positionId, asked.Id, context, library, writer, clock, cancel);
            }

            await context.SaveChangesAsync(cancel);
        }

        return await Get(asked.Id, context, library, cancel);
    }

    /// <summary>A board type made from another, with its settings.</summary>
    private static async Task Copy(BoardTypeId from, BoardType made, LedgerContext context, BookWriter writer, CancellationToken cancel)
    {
        writer.Write(made, before: null);
        foreach (
            var setting in await context.Settings.AsNoTracking().Where(s => s.OwnerId == from && s.RetiredAt == null).ToListAsync(cancel)
        )
        {
            (setting.OwnerId, setting.Version) = (made.Id, 1);
            context.Settings.Add(setting);
        }
    }

    /// <summary>What is written from now on for the board in a position is of this machine alone.</summary>
    private static async Task<LayoutTables> OnlyHere(
        string boardTypeId,
        BoardOnlyHere asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var type = await library.BoardType(boardTypeId, cancel);
        if (!await context.BoardTypes.AnyAsync(b => b.Id == asked.Id, cancel))
        {
            var machine = await library.Resolve(asked.MachineId, cancel);
            if (machine.BoardAt.GetValueOrDefault(asked.PositionId)?.Id != type.Id)
            {
                throw ProblemException.Bad("positionId", $"{machine.Machine.Tag} has another board there by now.");
            }

            await Copy(boardTypeId, type.OnlyAt(asked.Id, machine.Machine.Tag), context, writer, cancel);
            await Correct(asked.MachineId, asked.PositionId, asked.Id, context, library, writer, clock, cancel);
            await context.SaveChangesAsync(cancel);
        }

        return await Get(asked.Id, context, library, cancel);
    }

    /// <summary>The board in a position is of another revision than was thought; it is the same board, so nothing goes out or in.</summary>
    private static async Task Correct(
        string machineId,
        string positionId,
        string boardTypeId,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var machine = await library.Machine(machineId, cancel);
        var fitted = machine.FittedIn(positionId);
        var boards = fitted is null
            ? machine.Boards.Append(
                new FittedBoard(Texts.NewId(), positionId, boardTypeId, "", "", DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime), null)
            )
            : machine.Boards.Select(b => b.Id == fitted.Id ? b with { BoardTypeId = boardTypeId } : b);
        writer.Write(machine with { Boards = [.. boards] }, before: null);
    }

    private static async Task<RevisionsCompared> Compare(
        string boardTypeId,
        string otherId,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (before, after) = (await library.BoardType(boardTypeId, cancel), await library.BoardType(otherId, cancel));
        return new RevisionsCompared(before.Printed, after.Printed, BoardComparison.Of(before, after));
    }

    /// <summary>All that was ever read at a pin of this machine, those from before it had a name included; newest first.</summary>
    private static async Task<IReadOnlyList<PlaceReading>> PinReadings(
        string machineId,
        string positionId,
        string pinId,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        const int MostShown = 200;
        var rounds = context
            .Rounds.Where(r =>
                context.Visits.Where(v => v.MachineId == machineId && v.RetiredAt == null).Select(v => v.Id).Contains(r.VisitId)
            )
            .Select(r => r.Id);
        var places = await context
            .Places.Where(p =>
                p.PositionId == positionId
                && p.PinId == pinId
                && context.Photographs.Any(x => x.Id == p.PhotographId && x.MachineId == machineId)
            )
            .Select(p => p.Id)
            .ToListAsync(cancel);
        PinAddress pin = new PinAddress.OnBoard(positionId, pinId);
        var names = await context
            .NamedPlaces.Where(n => n.MachineId == machineId && n.Is == pin && n.RetiredAt == null)
            .Select(n => n.Id)
            .ToListAsync(cancel);
        List<PinAddress> addresses = [pin, .. places.Concat(names).Select(p => new PinAddress.AtPlace(p))];
        var readings = await context
            .StandingReadings.AsNoTracking()
            .Where(r => rounds.Contains(r.RoundId) && addresses.Contains(r.Red!))
            .OrderByDescending(r => r.DeviceTime)
            .Take(MostShown)
            .ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return [.. readings.Select(r => PlaceEndpoints.Reading(r, people))];
    }
}
