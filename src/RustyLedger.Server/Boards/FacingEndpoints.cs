using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Boards;

public sealed record FacedBoard(string PositionId, int Turns, BoardSide Side);

/// <summary>How each board of a machine is faced in its open visit.</summary>
/// <param name="VisitId">Null while no visit is open; then nothing is remembered here.</param>
public sealed record FacedBoards(string? VisitId, IReadOnlyList<FacedBoard> Boards);

public sealed record FacingEdit(int Turns, BoardSide Side);

internal static class FacingEndpoints
{
    // A board turned twice in a moment is turned one after the other.
    private static readonly SemaphoreSlim OneAtATime = new(1);

    public static void MapFacings(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{machineId}/facings", Get).WithName("getFacings");
        api.MapPut("/machines/{machineId}/boards/{positionId}/facing", Face).WithName("faceBoard");
    }

    public static Facing Of(int turns, BoardSide side) =>
        turns is >= 0 and <= 3 ? new Facing(turns, side) : throw ProblemException.Bad("turns", "A board is turned by 0 to 3 quarters.");

    /// <param name="side">In an address, where the framework would take only its exact case.</param>
    public static Facing Of(int turns, string side) => Of(turns, Texts.Choice<BoardSide>("side", side));

    private static async Task<FacedBoards> Get(string machineId, LedgerContext context, CancellationToken cancel)
    {
        var visit = await OpenVisit(await MachineId(machineId, context, cancel), context, cancel);
        return new FacedBoards(
            visit?.Value,
            visit is null
                ? []
                : await context
                    .Facings.AsNoTracking()
                    .Where(f => f.VisitId == visit && f.RetiredAt == null)
                    .Select(f => new FacedBoard(f.PositionId.Value, f.Turns, f.Side))
                    .ToListAsync(cancel)
        );
    }

    /// <summary>How the boards are faced in a visit, by position.</summary>
    public static async Task<IReadOnlyDictionary<PositionId, Facing>> OfVisit(
        VisitId visitId,
        LedgerContext context,
        CancellationToken cancel
    ) =>
        await context
            .Facings.AsNoTracking()
            .Where(f => f.VisitId == visitId && f.RetiredAt == null)
            .ToDictionaryAsync(f => f.PositionId, f => new Facing(f.Turns, f.Side), cancel);

    /// <summary>The last one that turned the board is right: it hangs as it hangs.</summary>
    private static async Task<FacedBoards> Face(
        string machineId,
        string positionId,
        FacingEdit edit,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var facing = Of(edit.Turns, edit.Side);
        var machine = await MachineId(machineId, context, cancel);
        var model = await context.Machines.Where(m => m.Id == machine).Select(m => m.ModelId).SingleAsync(cancel);
        if (!await context.Positions.AnyAsync(p => p.OwnerId == model && p.Id == positionId && p.RetiredAt == null, cancel))
        {
            throw ProblemException.NotFound("This position");
        }

        await OneAtATime.WaitAsync(cancel);
        try
        {
            await Remember(machine, positionId, facing, context, cancel);
        }
        finally
        {
            OneAtATime.Release();
        }

        return await Get(machine.Value, context, cancel);
    }

    private static async Task Remember(
        MachineId machine,
        PositionId positionId,
        Facing facing,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        if (await OpenVisit(machine, context, cancel) is { } visit)
        {
            var known = await context.Facings.SingleOrDefaultAsync(f => f.VisitId == visit && f.PositionId == positionId, cancel);
            context.Put(
                Outcome.Of(
                    (
                        known
                        ?? new VisitFacing
                        {
                            VisitId = visit,
                            PositionId = positionId,
                            Turns = 0,
                            Side = BoardSide.Component,
                        }
                    ) with
                    {
                        Turns = facing.Turns,
                        Side = facing.Side,
                        RetiredAt = null,
                    }
                )
            );
            await context.SaveChangesAsync(cancel);
        }
    }

    public static async Task<MachineId> MachineId(string idOrTag, LedgerContext context, CancellationToken cancel) =>
        await context.Machines.Where(m => m.Id == idOrTag || m.Tag == idOrTag).Select(m => (MachineId?)m.Id).FirstOrDefaultAsync(cancel)
        ?? throw ProblemException.NotFound("This machine");

    private static Task<VisitId?> OpenVisit(MachineId machineId, LedgerContext context, CancellationToken cancel) =>
        context
            .Visits.Where(v => v.MachineId == machineId && v.EndedAt == null && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Select(v => (VisitId?)v.Id)
            .FirstOrDefaultAsync(cancel);
}
