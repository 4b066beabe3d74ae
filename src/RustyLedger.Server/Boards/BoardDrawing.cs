using RustyLedger.Core.Boards;

namespace RustyLedger.Server.Boards;

/// <param name="X">Of the middle of what it joins, as faced, in millimetres; null where it has no place.</param>
/// <param name="IsRequired">This build needs it so.</param>
public sealed record PositionOnMap(string Name, string Meaning, string Where, decimal? X, decimal? Y, bool IsRequired);

/// <summary>An element as faced, in millimetres from the upper left corner of what is seen.</summary>
/// <param name="Lines">What it tells, in words that follow the facing.</param>
/// <param name="Positions">Of a jumper or switch bank.</param>
/// <param name="Must">What this build needs it to be, such as a fuse's rating; empty where nothing is said.</param>
public sealed record ElementOnMap(
    string Id,
    ElementKind Kind,
    string Designator,
    string Purpose,
    string Rating,
    string Colour,
    decimal X,
    decimal Y,
    decimal Width,
    decimal Height,
    decimal PitchMm,
    IReadOnlyList<ElementLine> Lines,
    IReadOnlyList<PositionOnMap> Positions,
    string Must
)
{
    internal static ElementOnMap Of(Element element, BoardType type, Facing facing, string must)
    {
        var (x, y, width, height) = element.Outline;
        var (ax, ay) = facing.Place(x, y, type.WidthMm, type.HeightMm);
        var (bx, by) = facing.Place(x + width, y + height, type.WidthMm, type.HeightMm);
        var positions = element.Kind is ElementKind.Jumper or ElementKind.SwitchBank
            ? ElementWords
                .Positions(element, facing)
                .Select(p =>
                {
                    var seen = p is { X: { } px, Y: { } py }
                        ? facing.Place(px, py, type.WidthMm, type.HeightMm)
                        : ((decimal X, decimal Y)?)null;
                    return new PositionOnMap(
                        p.Position.Name,
                        p.Position.Meaning,
                        p.Where,
                        seen?.X,
                        seen?.Y,
                        string.Equals(p.Position.Name, must, StringComparison.OrdinalIgnoreCase)
                    );
                })
            : [];
        return new ElementOnMap(
            element.Id.Value,
            element.Kind,
            element.Designator,
            element.Purpose,
            element.Rating,
            element.Detail.Colour,
            Math.Min(ax, bx),
            Math.Min(ay, by),
            Math.Abs(ax - bx),
            Math.Abs(ay - by),
            element.PitchMm,
            ElementWords.Of(element, facing),
            [.. positions],
            must
        );
    }
}

/// <summary>A pin of a board type as drawn, without a machine around it.</summary>
public sealed record PinOnDrawing(string Id, string ElementId, string Label, decimal X, decimal Y, bool IsFirst);

/// <summary>A board type to scale, as it is laid out.</summary>
public sealed record BoardDrawing(
    string BoardTypeId,
    decimal Width,
    decimal Height,
    decimal WidthMm,
    decimal HeightMm,
    int Turns,
    BoardSide Side,
    string FacingWords,
    IReadOnlyList<ElementOnMap> Elements,
    IReadOnlyList<PinOnDrawing> Pins
)
{
    internal static BoardDrawing Of(BoardType type, Facing facing)
    {
        var (width, height) = facing.Size(type.WidthMm, type.HeightMm);
        return new BoardDrawing(
            type.Id.Value,
            width,
            height,
            type.WidthMm,
            type.HeightMm,
            facing.Turns,
            facing.Side,
            facing.Words,
            [.. type.Elements.Select(e => ElementOnMap.Of(e, type, facing, ""))],
            [
                .. type.Elements.SelectMany(e =>
                    e.Pins.Select(p =>
                    {
                        var (x, y) = e.PlaceOf(p);
                        var (seenX, seenY) = facing.Place(x, y, type.WidthMm, type.HeightMm);
                        return new PinOnDrawing(p.Id.Value, e.Id.Value, p.Label, seenX, seenY, p.Index == 1);
                    })
                ),
            ]
        );
    }
}
