using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Photographs;

/// <summary>A place on the picture as it is shown: in pixels of the original from the upper left corner of what is seen.</summary>
public sealed record PicturePlace(double X, double Y);

/// <param name="R">Half the pitch there, in pixels.</param>
public sealed record PinOnPicture(string PinId, double X, double Y, double R);

public sealed record ElementOnPicture(string ElementId, IReadOnlyList<PicturePlace> Outline);

/// <param name="OffMm">How far it is off where the others have it; null while the layout does not lie.</param>
/// <param name="X">As shown.</param>
public sealed record PointOnPicture(
    string Name,
    string? ElementId,
    string? PinId,
    Corner? Corner,
    double X,
    double Y,
    double? OffMm,
    bool Disagrees
);

/// <summary>A photograph with the layout of its board laid on it, both as faced.</summary>
/// <param name="Width">Of the picture as shown, in pixels of the original.</param>
/// <param name="Turns">Quarter turns clockwise of the picture, after mirroring it.</param>
/// <param name="Map">The board in the same facing; null where the photograph is of no board.</param>
/// <param name="Says">What is missing, what is wrong, or how well it fits.</param>
/// <param name="Outline">Of the board; empty while the layout does not lie.</param>
public sealed record PhotographOverlay(
    string PhotographId,
    int Version,
    string Hash,
    int OriginalWidth,
    int OriginalHeight,
    int Width,
    int Height,
    int Turns,
    bool Mirrored,
    BoardMap? Map,
    bool IsLaid,
    string Says,
    double RmsMm,
    IReadOnlyList<PointOnPicture> Points,
    IReadOnlyList<PicturePlace> Outline,
    IReadOnlyList<ElementOnPicture> Elements,
    IReadOnlyList<PinOnPicture> Pins,
    IReadOnlyDictionary<string, PicturePlace> Notes
);

/// <summary>All points anew; places are of the picture as it is shown when so faced, in pixels of the original.</summary>
public sealed record PointsEdit(int Version, string PositionId, IReadOnlyList<NewPoint> Points, int Turns, BoardSide Side);

public sealed record NewPoint(string? ElementId, string? PinId, Corner? Corner, double X, double Y);

public sealed record Tap(double X, double Y, int Turns, BoardSide Side);

/// <summary>What was tapped.</summary>
/// <param name="Words">Such as <c>Z1-J4·3, white-blue, photo eye signal</c>.</param>
/// <param name="X">On the board as faced, in millimetres.</param>
public sealed record Tapped(string Words, string? ElementId, string? PinId, double X, double Y);

/// <summary>
/// An element drawn by tapping its first and last pin on the photograph; the same place twice for one without pins or with one.
/// </summary>
public sealed record DrawnElement(string Id, ElementKind Kind, string Designator, string Purpose, int Pins, int Rows, Tap First, Tap Last);

/// <param name="Edits">What was done to the layout, so that it can be taken back.</param>
public sealed record ElementDrawn(PhotographOverlay Overlay, IReadOnlyList<LayoutEdit> Edits);

internal static class OverlayEndpoints
{
    public static void MapOverlays(this IEndpointRouteBuilder api)
    {
        api.MapGet("/photographs/{id}/overlay", Get).WithName("getOverlay");
        api.MapPut("/photographs/{id}/points", Mark).WithName("markPoints");
        api.MapPost("/photographs/{id}/tapped", WhatIs).WithName("tapPhotograph");
        api.MapPost("/photographs/{id}/elements", Draw).WithName("drawElement");
    }

    private static async Task<PhotographOverlay> Get(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component"
    ) => await View(await Find(id, context, cancel), FacingEndpoints.Of(turns, side), context, library, cancel);

    private static async Task<PhotographOverlay> View(
        Photograph photograph,
        Facing facing,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var board = await BoardOf(photograph, library, cancel);
        var points = photograph.Points;
        if (board is null)
        {
            return new PhotographOverlay(
                photograph.Id.Value,
                photograph.Version,
                photograph.Hash,
                photograph.Width,
                photograph.Height,
                photograph.Width,
                photograph.Height,
                0,
                false,
                null,
                false,
                "Say which board this photograph shows.",
                0,
                [],
                [],
                [],
                [],
                new Dictionary<string, PicturePlace>()
            );
        }

        var laid = Laid.Of(photograph, board.Value.Type, points, facing);
        var map = await BoardEndpoints.Map(board.Value.Machine, photograph.PositionId!.Value.Value, facing, context, cancel);
        var type = board.Value.Type;
        var notes = map
            .Notes.Where(n => laid.Fit.Homography is not null && n is { X: not null, Y: not null })
            .ToDictionary(
                n => n.Id,
                n =>
                {
                    var (x, y) = facing.Back(n.X!.Value, n.Y!.Value, (double)type.WidthMm, (double)type.HeightMm);
                    return laid.Show(x, y);
                }
            );
        return new PhotographOverlay(
            photograph.Id.Value,
            photograph.Version,
            photograph.Hash,
            photograph.Width,
            photograph.Height,
            laid.Width,
            laid.Height,
            laid.Picture.Turns,
            laid.Picture.Mirrored,
            map,
            laid.Fit.Homography is not null,
            laid.Fit.Says,
            laid.Fit.RmsMm,
            laid.PointsShown(),
            laid.Outline(),
            laid.Elements(),
            laid.Pins(),
            notes
        );
    }

    private static async Task<PhotographOverlay> Mark(
        string id,
        PointsEdit edit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var photograph = await Find(id, context, cancel);
        var facing = FacingEndpoints.Of(edit.Turns, edit.Side);
        if (photograph.Version != edit.Version)
        {
            throw ProblemException.Clash(new { Points = edit.Points.Count }, new { Points = photograph.Points.Count }, photograph.Version);
        }

        var shown =
            photograph.PositionId == edit.PositionId && await BoardOf(photograph, library, cancel) is { } was
                ? Laid.Of(photograph, was.Type, photograph.Points, facing).Picture
                : default;
        var on = photograph with { PositionId = Texts.Needed("positionId", edit.PositionId, 64) };
        var (_, type) = await BoardOf(on, library, cancel) ?? throw ProblemException.NotFound("This position");
        List<PicturePoint> points =
        [
            .. edit.Points.Select(p =>
            {
                var (x, y) = shown.Back(p.X, p.Y, photograph.Width, photograph.Height);
                return new PicturePoint(
                    ElementId.Maybe(p.ElementId),
                    PinId.Maybe(p.PinId),
                    p.Corner,
                    x / photograph.Width,
                    y / photograph.Height
                );
            }),
        ];
        if (PicturePoint.Refusal(points) is { } refusal)
        {
            throw ProblemException.Of(refusal);
        }

        if (points.Find(p => p.On(type, photograph.Width, photograph.Height) is null) is not null)
        {
            throw ProblemException.Bad("points", "A point is of something that this board does not have.");
        }

        context.Put(Outcome.Of(on with { Points = points }));
        await context.SaveChangesAsync(cancel);
        return await View(await Find(id, context, cancel), facing, context, library, cancel);
    }

    private static async Task<Tapped> WhatIs(string id, Tap tap, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var photograph = await Find(id, context, cancel);
        var facing = FacingEndpoints.Of(tap.Turns, tap.Side);
        var (machine, type) =
            await BoardOf(photograph, library, cancel) ?? throw ProblemException.Conflict("Say first which board this photograph shows.");
        var (x, y) = Laid.Of(photograph, type, photograph.Points, facing).ToBoard(tap.X, tap.Y);
        var spot = type.At(x, y);
        var (seenX, seenY) = facing.Place(x, y, (double)type.WidthMm, (double)type.HeightMm);
        return new Tapped(
            Words(spot, photograph.PositionId!.Value, machine, type),
            spot.Element?.Id.Value,
            spot.Pin?.Id.Value,
            seenX,
            seenY
        );
    }

    private static string Words(BoardSpot spot, PositionId positionId, ResolvedMachine machine, BoardType type)
    {
        if (spot is { Pin: { } pin } && machine.Pins.GetValueOrDefault(new PinAddress.OnBoard(positionId, pin.Id)) is { } here)
        {
            return string.Join(", ", new[] { here.Printed, here.Pin.Colours.Words, here.Pin.Signal }.Where(w => w.Length > 0));
        }

        if (spot.Element is { } element)
        {
            return string.Join(", ", new[] { element.Designator, element.Purpose, element.Rating }.Where(w => w.Length > 0));
        }

        return spot.X >= 0 && spot.Y >= 0 && spot.X <= (double)type.WidthMm && spot.Y <= (double)type.HeightMm
            ? "bare board"
            : "beside the board";
    }

    private static async Task<ElementDrawn> Draw(
        string id,
        DrawnElement asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        if (asked.Pins is < 0 or > 200 || asked.Rows is < 1 or > 20)
        {
            throw ProblemException.Bad("pins", "An element drawn here has up to 200 pins in 1 to 20 rows.");
        }

        var photograph = await Find(id, context, cancel);
        var facing = FacingEndpoints.Of(asked.First.Turns, asked.First.Side);
        var (machine, type) =
            await BoardOf(photograph, library, cancel) ?? throw ProblemException.Conflict("Say first which board this photograph shows.");
        var laid = Laid.Of(photograph, type, photograph.Points, facing);
        Footprint print;
        try
        {
            print = Footprint.Of(
                laid.ToBoard(asked.First.X, asked.First.Y),
                laid.ToBoard(asked.Last.X, asked.Last.Y),
                Math.Max(1, asked.Pins),
                asked.Rows
            );
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("last", refusal.Message);
        }

        List<LayoutEdit> edits =
        [
            new(
                LayoutEditKind.Add,
                LayoutRowKind.Element,
                "",
                asked.Id,
                null,
                "",
                "",
                LayoutTable.CellsOf(print, asked.Kind, asked.Designator, asked.Purpose)
            ),
            .. Enumerable
                .Range(1, asked.Pins)
                .Select(i => new LayoutEdit(
                    LayoutEditKind.Add,
                    LayoutRowKind.Pin,
                    asked.Id,
                    $"{asked.Id}-{i}",
                    null,
                    "",
                    "",
                    new Dictionary<LayoutColumn, string>()
                )),
        ];
        var result = LayoutTable.Apply(type, edits, machine.Model.States, _ => false);
        if (result.Problems is [var problem, ..])
        {
            throw ProblemException.Bad("designator", problem.Message);
        }

        writer.Write(result.Board, type);
        await context.SaveChangesAsync(cancel);
        return new ElementDrawn(await View(photograph, facing, context, library, cancel), edits);
    }

    private static async Task<Photograph> Find(PhotographId id, LedgerContext context, CancellationToken cancel) =>
        await context.Photographs.SingleOrDefaultAsync(p => p.Id == id && p.RetiredAt == null, cancel)
        ?? throw ProblemException.NotFound("This photograph");

    private static async Task<(ResolvedMachine Machine, BoardType Type)?> BoardOf(
        Photograph photograph,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        if (photograph.PositionId is not { } position)
        {
            return null;
        }

        var machine = await library.Resolve(photograph.MachineId, cancel);
        return machine.BoardAt.TryGetValue(position, out var type) ? (machine, type) : null;
    }

    /// <summary>A board on a picture, and the picture turned so that both are seen as faced.</summary>
    private sealed record Laid(Photograph Photograph, BoardType Type, IReadOnlyList<PicturePoint> Known, PictureFit Fit, Facing Picture)
    {
        public static Laid Of(Photograph photograph, BoardType type, IReadOnlyList<PicturePoint> points, Facing facing)
        {
            // Points of what has left the board since no longer hold it.
            List<PicturePoint> known = [.. points.Where(p => p.On(type, photograph.Width, photograph.Height) is not null)];
            var fit = PictureFit.Of(
                [.. known.Select(p => p.On(type, photograph.Width, photograph.Height)!)],
                (double)type.WidthMm,
                (double)type.HeightMm
            );
            // Which way up a picture shows the board is only known once the layout lies on it.
            var picture = fit.Homography is { } h ? PictureFit.ShownBy(h, (double)type.WidthMm, (double)type.HeightMm).To(facing) : default;
            return new Laid(photograph, type, known, fit, picture);
        }

        public int Width => Picture.Size(Photograph.Width, Photograph.Height).Width;

        public int Height => Picture.Size(Photograph.Width, Photograph.Height).Height;

        /// <param name="x">In millimetres on the component side.</param>
        public PicturePlace Show(double x, double y)
        {
            var (px, py) = Fit.Homography!.ToPicture(x, y);
            return Turned(px, py);
        }

        /// <returns>In millimetres on the component side.</returns>
        public (double X, double Y) ToBoard(double shownX, double shownY)
        {
            if (Fit.Homography is null)
            {
                throw ProblemException.Conflict($"The layout does not lie on this photograph yet. {Fit.Says}");
            }

            var (x, y) = Picture.Back(shownX, shownY, Photograph.Width, Photograph.Height);
            return Fit.Homography.ToBoard(x, y);
        }

        public IReadOnlyList<PointOnPicture> PointsShown() =>
            [
                .. Known.Select(
                    (p, i) =>
                    {
                        var at = Turned(p.X * Photograph.Width, p.Y * Photograph.Height);
                        return new PointOnPicture(
                            p.On(Type, Photograph.Width, Photograph.Height)!.Name,
                            p.ElementId?.Value,
                            p.PinId?.Value,
                            p.Corner,
                            at.X,
                            at.Y,
                            Fit.ResidualsMm.Count > i ? Fit.ResidualsMm[i] : null,
                            Fit.Outlier == i
                        );
                    }
                ),
            ];

        public List<PicturePlace> Outline() => Fit.Homography is null ? [] : Corners(0, 0, Type.WidthMm, Type.HeightMm);

        public IReadOnlyList<ElementOnPicture> Elements() =>
            Fit.Homography is null
                ? []
                :
                [
                    .. Type.Elements.Select(e => new ElementOnPicture(
                        e.Id.Value,
                        Corners(e.Outline.X, e.Outline.Y, e.Outline.Width, e.Outline.Height)
                    )),
                ];

        public IReadOnlyList<PinOnPicture> Pins() =>
            Fit.Homography is null
                ? []
                :
                [
                    .. Type.Elements.SelectMany(e =>
                        e.Pins.Select(p =>
                        {
                            var (x, y) = e.PlaceOf(p);
                            var at = Show((double)x, (double)y);
                            var beside = Show((double)x + (double)Math.Min(e.PitchMm, WidestPitchMm) / 2, (double)y);
                            return new PinOnPicture(p.Id.Value, at.X, at.Y, double.Hypot(beside.X - at.X, beside.Y - at.Y));
                        })
                    ),
                ];

        // The ends of a fuse lie far apart; they are drawn no larger than other pins for that.
        private const decimal WidestPitchMm = 6;

        private List<PicturePlace> Corners(decimal x, decimal y, decimal width, decimal height) =>
            [
                Show((double)x, (double)y),
                Show((double)(x + width), (double)y),
                Show((double)(x + width), (double)(y + height)),
                Show((double)x, (double)(y + height)),
            ];

        private PicturePlace Turned(double x, double y)
        {
            var (shownX, shownY) = Picture.Place(x, y, Photograph.Width, Photograph.Height);
            return new PicturePlace(shownX, shownY);
        }
    }
}
