using System.Globalization;

namespace RustyLedger.Core.Boards;

/// <summary>A line on an element, as faced.</summary>
/// <param name="Name">What the line is about, such as <c>raises</c> or <c>1-2, the left pair</c>.</param>
public sealed record ElementLine(string Name, string Text);

/// <summary>Where a jumper or a switch stands, as faced.</summary>
/// <param name="Where">Such as <c>the left pair</c>; empty where the position has no place.</param>
/// <param name="X">Of the middle of what it joins, on the component side, in millimetres; null where it has no place.</param>
public sealed record PositionSeen(ElementPosition Position, string Where, decimal? X, decimal? Y);

/// <summary>What an element tells, with every "left", "upper" and "clockwise" as the technician faces the board.</summary>
public static class ElementWords
{
    public static IReadOnlyList<ElementLine> Of(Element element, Facing facing)
    {
        ArgumentNullException.ThrowIfNull(element);
        var d = element.Detail;
        IEnumerable<ElementLine> lines = element.Kind switch
        {
            ElementKind.Indicator =>
            [
                new("colour", d.Colour),
                new("steady", d.Steady),
                new("blinking", d.Blinking),
                new("off", d.Off),
                new("proves", d.Proves),
                new("does not prove", d.ProvesNot),
            ],
            ElementKind.Jumper or ElementKind.SwitchBank =>
            [
                new("counted", FirstEnd(element, facing)),
                .. Positions(element, facing)
                    .Select(p => new ElementLine(
                        p.Where.Length > 0 ? $"{p.Position.Name}, {p.Where}" : p.Position.Name,
                        p.Position.Meaning
                    )),
            ],
            ElementKind.Trimmer =>
            [
                new("sets", d.Sets),
                new("raised by turning", Turn(d.Raises, facing)),
                new("turns from end to end", d.Turns?.ToString("0.##", CultureInfo.InvariantCulture) ?? ""),
            ],
            ElementKind.Relay =>
            [
                new("switches", d.Switches),
                new("coil", Pins(element, d.Coil, facing)),
                new("contacts", Pins(element, d.Contacts, facing)),
            ],
            ElementKind.Fuse =>
            [
                new("rating", element.Rating),
                new("type", d.FuseType),
                new("feeds", d.Feeds),
                new("blown, it hints at", d.BlownHint),
            ],
            ElementKind.BoardCable => [new("goes to", d.OtherEnd), new("counted", FirstEnd(element, facing)), .. Sides(element, facing)],
            ElementKind.Connector => [new("counted", FirstEnd(element, facing)), .. Sides(element, facing)],
            _ => [new("value", element.Rating)],
        };
        return [.. lines.Where(l => l.Text.Length > 0)];
    }

    /// <summary>The positions of a jumper or a switch bank with where they are, as faced.</summary>
    public static IReadOnlyList<PositionSeen> Positions(Element element, Facing facing)
    {
        ArgumentNullException.ThrowIfNull(element);
        return
        [
            .. element.Detail.Positions.Select(p =>
                element.Kind == ElementKind.SwitchBank ? SwitchSeen(element, p, facing) : JumperSeen(element, p, facing)
            ),
        ];
    }

    /// <summary>Which way to turn, as faced: a screw that is seen from behind turns the other way.</summary>
    public static string Turn(Turning way, Facing facing) =>
        (way, facing.Mirrored) switch
        {
            (Turning.NotKnown, _) => "",
            (Turning.Clockwise, false) or (Turning.Anticlockwise, true) => "clockwise",
            _ => "anticlockwise",
        };

    private static IEnumerable<ElementLine> Sides(Element element, Facing facing) =>
        [
            new("latch", element.Detail.Latch is { } latch ? Side(facing.See(latch)) : ""),
            new("key", element.Detail.KeySide is { } key ? Side(facing.See(key)) : ""),
        ];

    internal static string Side(Toward way) =>
        way switch
        {
            Toward.Up => "above",
            Toward.Down => "below",
            Toward.Left => "at the left",
            _ => "at the right",
        };

    public static string Word(Toward way) =>
        way switch
        {
            Toward.Up => "up",
            Toward.Down => "down",
            Toward.Left => "left",
            _ => "right",
        };

    private static PositionSeen JumperSeen(Element element, ElementPosition position, Facing facing)
    {
        var joined = position
            .Name.Split(['-', '–', '+', ' '], StringSplitOptions.RemoveEmptyEntries)
            .Select(name => element.Pins.FirstOrDefault(p => p.Label == name))
            .ToList();
        if (joined.Count == 0 || joined.Contains(null))
        {
            return new PositionSeen(position, "", null, null);
        }

        var places = joined.ConvertAll(p => element.PlaceOf(p!));
        var (x, y) = (places.Average(p => p.X), places.Average(p => p.Y));
        var (middleX, middleY) = element.Middle;
        return new PositionSeen(position, Side(facing.See, x - middleX, y - middleY, joined.Count == 2 ? "pair" : "pins"), x, y);
    }

    private static PositionSeen SwitchSeen(Element element, ElementPosition position, Facing facing)
    {
        if (
            position.Name.Split(' ', StringSplitOptions.RemoveEmptyEntries) is not [var label, .. var way]
            || element.Pins.FirstOrDefault(p => p.Label == label) is not { } slide
        )
        {
            return new PositionSeen(position, "", null, null);
        }

        var on = facing.See(element.Detail.OnToward);
        var stands =
            way is ["on"] ? on
            : way is ["off"] ? (Toward)(((int)on + 2) % 4)
            : (Toward?)null;
        var (x, y) = element.PlaceOf(slide);
        var place = element.Pins.Count == 1 ? "" : PositionWords.Of(element, slide, facing);
        return new PositionSeen(
            position,
            string.Join(", ", new[] { place, stands is { } toward ? $"slid {Word(toward)}" : "" }.Where(w => w.Length > 0)),
            x,
            y
        );
    }

    /// <summary>Such as <c>the left pair</c>, from how far it is off the middle on the component side.</summary>
    private static string Side(Func<Toward, Toward> see, decimal right, decimal down, string what)
    {
        if (right == 0 && down == 0)
        {
            return $"the middle {what}";
        }

        var way = Math.Abs(right) >= Math.Abs(down) ? (right > 0 ? Toward.Right : Toward.Left) : (down > 0 ? Toward.Down : Toward.Up);
        return see(way) switch
        {
            Toward.Up => $"the upper {what}",
            Toward.Down => $"the lower {what}",
            Toward.Left => $"the left {what}",
            _ => $"the right {what}",
        };
    }

    /// <summary>Where counting begins, such as <c>1 is first from the right</c>.</summary>
    private static string FirstEnd(Element element, Facing facing) =>
        element.Pins.Count > 1 && element.Pins.MinBy(p => p.Index) is { } first
            ? $"{first.Label} is {PositionWords.Of(element, first, facing)}"
            : "";

    private static string Pins(Element element, string labels, Facing facing) =>
        string.Join(
            "; ",
            labels
                .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .Select(label =>
                    element.Pins.FirstOrDefault(p => p.Label == label) is { } pin
                        ? $"{label}, {PositionWords.Of(element, pin, facing)}"
                        : label
                )
        );
}
