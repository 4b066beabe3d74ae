using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Boards;

/// <param name="Where">The pin, element or place it is pinned to, in words.</param>
/// <param name="X">As faced, in millimetres; null for the whole board.</param>
/// <param name="NearPins">Pins at which it is to be shown.</param>
/// <param name="IsFound">Found by the eye, and so evidence; otherwise odd but normal, or other on purpose.</param>
/// <param name="Picture">Hash of a photograph of it; null for none.</param>
public sealed record BoardNoteView(
    string Id,
    int Version,
    BoardNoteKind Kind,
    string Words,
    bool IsFound,
    string Where,
    string? ElementId,
    string? PinId,
    double? X,
    double? Y,
    string Text,
    string Reason,
    string? PhotographId,
    string? Picture,
    DateTimeOffset At,
    string Person,
    string? VisitId,
    IReadOnlyList<string> NearPins
);

/// <param name="X">In millimetres as faced; null with an element, or for the whole board.</param>
/// <param name="Turns">How the board is faced.</param>
public sealed record NewBoardNote(
    string Id,
    BoardNoteKind Kind,
    string? ElementId,
    string? PinId,
    double? X,
    double? Y,
    int Turns,
    BoardSide Side,
    string Text,
    string Reason,
    string? PhotographId,
    string? VisitId,
    DateTimeOffset At,
    string PersonId
);

public sealed record BoardNoteEdit(int Version, BoardNoteKind Kind, string Text, string Reason, string? PhotographId);

internal static class BoardNoteEndpoints
{
    public static void MapBoardNotes(this IEndpointRouteBuilder api)
    {
        api.MapPost("/machines/{machineId}/boards/{positionId}/notes", Add).WithName("addBoardNote");
        api.MapPut("/board-notes/{id}", Edit).WithName("editBoardNote");
        api.MapPost("/board-notes/{id}/retire", Retire).WithName("retireBoardNote");
    }

    /// <summary>All that is pinned to the boards of a position, newest first.</summary>
    public static async Task<IReadOnlyList<BoardNoteView>> Of(
        MachineId machineId,
        PositionId positionId,
        BoardType type,
        Facing facing,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var notes = await context
            .BoardNotes.AsNoTracking()
            .Where(n => n.MachineId == machineId && n.PositionId == positionId && n.RetiredAt == null)
            .OrderByDescending(n => n.At)
            .ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var ids = notes.Select(n => n.PhotographId).OfType<PhotographId>().ToList();
        var pictures = await context
            .Photographs.AsNoTracking()
            .Where(p => ids.Contains(p.Id))
            .ToDictionaryAsync(p => p.Id, p => p.Hash, cancel);
        return [.. notes.Select(n => View(n, type, facing, people, pictures))];
    }

    private static BoardNoteView View(
        BoardNote n,
        BoardType type,
        Facing facing,
        Dictionary<PersonId, string> people,
        Dictionary<PhotographId, string> pictures
    )
    {
        var place = n.Place;
        var at = place.On(type) is { } on
            ? facing.Place(on.X, on.Y, (double)type.WidthMm, (double)type.HeightMm)
            : ((double X, double Y)?)null;
        return new BoardNoteView(
            n.Id,
            n.Version,
            n.Kind,
            n.Kind.Words(),
            n.Kind.IsFound(),
            place.Words(type),
            place.ElementId?.Value,
            place.PinId?.Value,
            at?.X,
            at?.Y,
            n.Text,
            n.Reason,
            n.PhotographId?.Value,
            n.PhotographId is { } photograph ? pictures.GetValueOrDefault(photograph) : null,
            n.At,
            people.GetValueOrDefault(n.PersonId, "somebody"),
            n.VisitId?.Value,
            [.. place.NearPins(type).Select(p => p.Value)]
        );
    }

    private static async Task<IReadOnlyList<BoardNoteView>> Add(
        string machineId,
        string positionId,
        NewBoardNote asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        var facing = FacingEndpoints.Of(asked.Turns, asked.Side);
        var machine = await library.Resolve(machineId, cancel);
        var type = machine.BoardAt.GetValueOrDefault(positionId) ?? throw ProblemException.NotFound("This position");
        if (!await context.BoardNotes.AnyAsync(n => n.Id == asked.Id, cancel))
        {
            var place = asked is { ElementId: null, X: { } x, Y: { } y }
                ? facing.Back(x, y, (double)type.WidthMm, (double)type.HeightMm)
                : ((double X, double Y)?)null;
            MachineId of = machineId;
            var visit = VisitId.Maybe(asked.VisitId);
            context.Put(
                new BoardNote
                {
                    Id = asked.Id,
                    MachineId = of,
                    PositionId = positionId,
                    VisitId = await context.Visits.AnyAsync(v => v.Id == visit && v.MachineId == of, cancel) ? visit : null,
                    Kind = asked.Kind,
                    Place = new NotePlace(ElementId.Maybe(asked.ElementId), PinId.Maybe(asked.PinId), place?.X, place?.Y),
                    Text = asked.Text?.Trim() ?? "",
                    Reason = asked.Reason?.Trim() ?? "",
                    PhotographId = await Photograph(asked.PhotographId, of, context, cancel),
                    At = asked.At,
                    PersonId = asked.PersonId,
                }.On(type)
            );
            await context.SaveChangesAsync(cancel);
        }

        return await Of(machineId, positionId, type, facing, context, cancel);
    }

    private static async Task<BoardNoteEdit> Edit(string id, BoardNoteEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var note =
            await context.BoardNotes.SingleOrDefaultAsync(n => n.Id == id && n.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This note");
        var written = note.Write(edit.Kind, edit.Text, edit.Reason, await Photograph(edit.PhotographId, note.MachineId, context, cancel))
            .OrRefuse();
        if (note.Version != edit.Version)
        {
            throw ProblemException.Clash(Written(written), Written(note), note.Version);
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return new BoardNoteEdit(note.Version + 1, written.Kind, written.Text, written.Reason, written.PhotographId?.Value);
    }

    /// <summary>What two people may both have written.</summary>
    private static object Written(BoardNote n) =>
        new
        {
            n.Kind,
            n.Text,
            n.Reason,
        };

    private static async Task<NoContent> Retire(string id, LedgerContext context, CancellationToken cancel)
    {
        var note = await context.BoardNotes.SingleOrDefaultAsync(n => n.Id == id, cancel) ?? throw ProblemException.NotFound("This note");
        context.Retire(note);
        await context.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    /// <summary>The picture may still be on its way from the device that took it.</summary>
    internal static async Task<PhotographId?> Photograph(string? id, MachineId machineId, LedgerContext context, CancellationToken cancel)
    {
        if (id is null)
        {
            return null;
        }

        Texts.Id("photographId", id);
        return await context.Photographs.AnyAsync(p => p.Id == id && p.MachineId != machineId, cancel)
            ? throw ProblemException.Bad("photographId", "This photograph is not one of the machine's.")
            : new PhotographId(id);
    }
}
