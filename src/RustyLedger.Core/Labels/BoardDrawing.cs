using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Labels;

/// <summary>A board as one faces it, drawn on paper.</summary>
internal static class BoardDrawing
{
    /// <summary>More than this much of a page leaves no room for its list, in millimetres.</summary>
    public const double MostHeight = 110;

    /// <param name="most">The most height it may take.</param>
    /// <param name="numbers">What stands beside a pin, such as the numbers of its lines; null for nothing.</param>
    /// <returns>The height it takes.</returns>
    public static double Draw(
        List<Shape> shapes,
        double left,
        double top,
        double inner,
        double most,
        PositionId positionId,
        BoardType type,
        Facing facing,
        ResolvedMachine machine,
        IReadOnlyDictionary<PinAddress, string>? numbers = null
    )
    {
        var (width, height) = facing.Size((double)type.WidthMm, (double)type.HeightMm);
        var scale = Math.Min(inner / width, most / height);
        (double X, double Y) At(decimal x, decimal y)
        {
            var (seenX, seenY) = facing.Place((double)x, (double)y, (double)type.WidthMm, (double)type.HeightMm);
            return (left + (seenX * scale), top + (seenY * scale));
        }

        shapes.Add(new Box(left, top, width * scale, height * scale, 0.4));
        foreach (var element in type.Elements)
        {
            var (x, y, w, h) = element.Outline;
            var (a, b) = (At(x, y), At(x + w, y + h));
            var (boxX, boxY, boxWidth, boxHeight) = (Math.Min(a.X, b.X), Math.Min(a.Y, b.Y), Math.Abs(a.X - b.X), Math.Abs(a.Y - b.Y));
            shapes.Add(
                element.Kind is ElementKind.Indicator or ElementKind.TestPoint
                    ? new Disc(boxX + (boxWidth / 2), boxY + (boxHeight / 2), Math.Min(boxWidth, boxHeight) / 2, 0.25)
                    : new Box(boxX, boxY, boxWidth, boxHeight, 0.25)
            );
            shapes.Add(new Words(boxX, boxY < top + 3 ? boxY + boxHeight + 2.6 : boxY - 0.7, 2.4, element.Designator, true, true));
            foreach (var pin in element.Pins)
            {
                var (px, py) = element.PlaceOf(pin);
                var at = At(px, py);
                var radius = Math.Min((double)element.PitchMm * scale * 0.3, 1.6);
                shapes.Add(
                    pin.Index == 1 ? new Box(at.X - radius, at.Y - radius, 2 * radius, 2 * radius, 0.2) : new Disc(at.X, at.Y, radius, 0.2)
                );
                if (numbers?.GetValueOrDefault(new PinAddress.OnBoard(positionId, pin.Id)) is { } lines)
                {
                    // Beside the pins of a plug that stands, below those of one that lies; the designator is above.
                    shapes.Add(
                        boxHeight > boxWidth
                            ? new Words(at.X + Math.Max(radius, boxWidth / 2) + 0.6, at.Y + 0.7, 2, lines, true, true)
                            : Words.Fitted(
                                at.X,
                                boxY + boxHeight + 2,
                                2,
                                1,
                                (double)element.PitchMm * scale,
                                lines,
                                true,
                                true,
                                Anchor.Middle
                            )
                    );
                }

                if (radius > 0.9 && machine.Pins.GetValueOrDefault(new PinAddress.OnBoard(positionId, pin.Id)) is { } here)
                {
                    shapes.Add(Words.Fitted(at.X, at.Y + 0.6, 1.7, 0.8, radius * 1.8, here.Pin.Label, false, true, Anchor.Middle));
                }
            }
        }

        return height * scale;
    }
}
