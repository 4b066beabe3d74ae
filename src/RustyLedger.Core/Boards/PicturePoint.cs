namespace RustyLedger.Core.Boards;

/// <summary>A known point of a board, marked on a photograph: a pin, an element without pins, or a corner of the board.</summary>
/// <param name="Corner">Seen from the component side; null for an element or a pin.</param>
/// <param name="X">From the left of the picture, 0 to 1.</param>
/// <param name="Y">From its top, 0 to 1.</param>
public sealed record PicturePoint(ElementId? ElementId, PinId? PinId, Corner? Corner, double X, double Y)
{
    /// <summary>The same point of the board, wherever it was marked.</summary>
    public bool IsSamePoint(PicturePoint other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return (ElementId, PinId, Corner) == (other.ElementId, other.PinId, other.Corner);
    }

    /// <summary>With where it lies on the board; null where the board no longer has it.</summary>
    /// <param name="width">Of the picture, in pixels.</param>
    public MarkedPoint? On(BoardType board, int width, int height)
    {
        ArgumentNullException.ThrowIfNull(board);
        if (Corner is { } corner)
        {
            var x = corner is Boards.Corner.TopRight or Boards.Corner.BottomRight ? board.WidthMm : 0;
            var y = corner is Boards.Corner.BottomLeft or Boards.Corner.BottomRight ? board.HeightMm : 0;
            return new MarkedPoint($"the {LayoutTable.Word(corner)} corner", (double)x, (double)y, X * width, Y * height);
        }

        if (board.Elements.FirstOrDefault(e => e.Id == ElementId) is not { } element)
        {
            return null;
        }

        var pin = element.Pins.FirstOrDefault(p => p.Id == PinId);
        if (pin is null && PinId is not null)
        {
            return null;
        }

        var (atX, atY) = pin is null ? element.Middle : element.PlaceOf(pin);
        return new MarkedPoint(
            pin is null ? element.Designator : $"{element.Designator}·{pin.Label}",
            (double)atX,
            (double)atY,
            X * width,
            Y * height
        );
    }

    /// <summary>What must hold of the points marked on one picture, whoever writes them; null where it does.</summary>
    public static Refusal? Refusal(IReadOnlyList<PicturePoint> points)
    {
        ArgumentNullException.ThrowIfNull(points);
        const string at = "points";
        if (points.Count > PictureFit.MostPoints)
        {
            return new Refusal(at, $"{points.Count} points are marked; at most {PictureFit.MostPoints} are used.");
        }

        foreach (var (i, point) in points.Index())
        {
            if (point.X is not (>= 0 and <= 1) || point.Y is not (>= 0 and <= 1))
            {
                return new Refusal(at, $"Point {i + 1} lies beside the picture.");
            }

            if ((point.ElementId is null) == (point.Corner is null))
            {
                return new Refusal(at, $"Point {i + 1} must be of an element or a corner of the board.");
            }

            if (points.Take(i).Any(point.IsSamePoint))
            {
                return new Refusal(at, $"Point {i + 1} is marked twice.");
            }
        }

        return null;
    }
}
