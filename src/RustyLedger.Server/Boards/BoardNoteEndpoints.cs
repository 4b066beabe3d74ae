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
        string machineId,
        string positionId,
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
        var ids = notes.Select(n => n.PhotographId).OfType<string>().ToList();
        var pictures = await context
            .Photographs.AsNoTracking()
            .Where(p => ids.Contains(p.Id))
            .ToDictionaryAsync(p => p.Id, p => p.Hash, cancel);
        return [.. notes.Select(n => View(n, type, facing, people, pictures))];
    }

    public static string Where(NotePlace place, BoardType? type)
    {
        if (place.IsWholeBoard)
        {
            return "the whole board";
        }

        if (place.ElementId is null)
        {
            return "a place on the board";
        }

        var element = type?.Elements.FirstOrDefault(e => e.Id == place.ElementId);
        return element is null ? "something that is no longer on the board"
            : element.Pins.FirstOrDefault(p => p.Id == place.PinId) is { } pin ? $"{element.Designator}·{pin.Label}"
            : element.Designator;
    }

    public static NotePlace Place(BoardNoteRecord n) => new(n.ElementId, n.PinId, n.X, n.Y);

    private static BoardNoteView View(
        BoardNoteRecord n,
        BoardType type,
        Facing facing,
        Dictionary<string, string> people,
        Dictionary<string, string> pictures
    )
    {
        var place = Place(n);
        var at = place.On(type) is { } on
            ? facing.Place(on.X, on.Y, (double)type.WidthMm, (double)type.HeightMm)
            : ((double X, double Y)?)null;
        return new BoardNoteView(
            n.Id,
            n.Version,
            n.Kind,
            n.Kind.Words(),
            n.Kind.IsFound(),
            Where(place, type),
            n.ElementId,
            n.PinId,
            at?.X,
            at?.Y,
            n.Text,
            n.Reason,
            n.PhotographId,
            n.PhotographId is null ? null : pictures.GetValueOrDefault(n.PhotographId),
            n.At,
            people.GetValueOrDefault(n.PersonId, "somebody"),
            n.VisitId,
            place.NearPins(type)
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
            if (place is { } at && !(at.X >= 0 && at.X <= (double)type.WidthMm && at.Y >= 0 && at.Y <= (double)type.HeightMm))
            {
                throw ProblemException.Bad("x", $"That is beside the board, which is {type.WidthMm:0.##} by {type.HeightMm:0.##} mm.");
            }

            if (asked.ElementId is not null && new NotePlace(asked.ElementId, asked.PinId, null, null).On(type) is null)
            {
                throw ProblemException.Bad("elementId", "This board has no such element.");
            }

            context.BoardNotes.Add(
                new BoardNoteRecord
                {
                    Id = asked.Id,
                    MachineId = machineId,
                    PositionId = positionId,
                    VisitId = asked.VisitId is null
                        ? null
                        : await context
                            .Visits.Where(v => v.Id == asked.VisitId && v.MachineId == machineId)
                            .Select(v => v.Id)
                            .FirstOrDefaultAsync(cancel),
                    Kind = asked.Kind,
                    ElementId = asked.ElementId,
                    PinId = asked.PinId,
                    X = place?.X,
                    Y = place?.Y,
                    Text = Texts.Optional("text", asked.Text, 300),
                    Reason = Reason(asked.Kind, asked.Reason),
                    PhotographId = await Photograph(asked.PhotographId, machineId, context, cancel),
                    At = asked.At,
                    PersonId = asked.PersonId,
                }
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
        var text = Texts.Optional("text", edit.Text, 300);
        if (note.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    edit.Kind,
                    text,
                    edit.Reason,
                },
                new
                {
                    note.Kind,
                    note.Text,
                    note.Reason,
                },
                note.Version
            );
        }

        (note.Kind, note.Text, note.Reason, note.PhotographId) = (
            edit.Kind,
            text,
            Reason(edit.Kind, edit.Reason),
            await Photograph(edit.PhotographId, note.MachineId, context, cancel)
        );
        await context.SaveChangesAsync(cancel);
        return new BoardNoteEdit(note.Version, note.Kind, note.Text, note.Reason, note.PhotographId);
    }

    private static async Task<NoContent> Retire(string id, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        var note = await context.BoardNotes.SingleOrDefaultAsync(n => n.Id == id, cancel) ?? throw ProblemException.NotFound("This note");
        note.RetiredAt ??= clock.GetUtcNow();
        await context.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    /// <summary>What was made other on purpose says why; the next one would put it right otherwise.</summary>
    private static string Reason(BoardNoteKind kind, string reason) =>
        kind == BoardNoteKind.Deviation ? Texts.Needed("reason", reason, 300) : Texts.Optional("reason", reason, 300);

    /// <summary>The picture may still be on its way from the device that took it.</summary>
    public static async Task<string?> Photograph(string? id, string machineId, LedgerContext context, CancellationToken cancel)
    {
        if (id is null)
        {
            return null;
        }

        Texts.Id("photographId", id);
        return await context.Photographs.AnyAsync(p => p.Id == id && p.MachineId != machineId, cancel)
            ? throw ProblemException.Bad("photographId", "This photograph is not one of the machine's.")
            : id;
    }
}
