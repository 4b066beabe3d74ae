using System.Numerics;

namespace RustyLedger.Core.Boards;

/// <summary>Which side of a board, or of its plugs, is looked at.</summary>
public enum BoardSide
{
    Component,

    /// <summary>The board turned over: left and right are exchanged.</summary>
    Solder,

    /// <summary>The plugs seated on the board, seen from where their wires enter: it counts like the component side.</summary>
    Wire,

    /// <summary>A pulled plug looked into from where it mates: left and right are exchanged.</summary>
    Mating,
}

/// <summary>One of the four ways along a board, seen from the component side.</summary>
public enum Toward
{
    Up,
    Right,
    Down,
    Left,
}

/// <summary>How the technician faces a board: quarter turns clockwise of what is seen, after mirroring.</summary>
/// <param name="Turns">0 to 3.</param>
public readonly record struct Facing(int Turns, BoardSide Side)
{
    public static IReadOnlyList<Facing> All { get; } =
    [.. from side in Enum.GetValues<BoardSide>() from turns in Enumerable.Range(0, 4) select new Facing(turns, side)];

    /// <summary>Left and right are exchanged before turning.</summary>
    public bool Mirrored => Side is BoardSide.Solder or BoardSide.Mating;

    /// <summary>The facing in words, such as <c>from the wire side, upside down</c>.</summary>
    public string Words =>
        Side switch
        {
            BoardSide.Solder => "from the solder side",
            BoardSide.Wire => "from the wire side",
            BoardSide.Mating => "into the mating face of the pulled plugs",
            _ => "from the component side",
        }
        + Turns switch
        {
            1 => ", turned a quarter right",
            2 => ", upside down",
            3 => ", turned a quarter left",
            _ => "",
        };

    /// <summary>Size of the board as faced, in the unit given.</summary>
    public (T Width, T Height) Size<T>(T width, T height)
        where T : INumber<T> => Turns % 2 == 0 ? (width, height) : (height, width);

    /// <summary>A place on the component side, as faced; from the upper left corner of what is seen.</summary>
    public (T X, T Y) Place<T>(T x, T y, T width, T height)
        where T : INumber<T>
    {
        var seen = Mirrored ? width - x : x;
        return Turns switch
        {
            0 => (seen, y),
            1 => (height - y, seen),
            2 => (width - seen, height - y),
            3 => (y, width - seen),
            _ => throw new InvalidOperationException("A facing has 0 to 3 quarter turns."),
        };
    }

    /// <summary>A place as faced, back to the component side; the size is that of the component side.</summary>
    public (T X, T Y) Back<T>(T x, T y, T width, T height)
        where T : INumber<T>
    {
        var (seen, down) = Turns switch
        {
            0 => (x, y),
            1 => (y, height - x),
            2 => (width - x, height - y),
            3 => (width - y, x),
            _ => throw new InvalidOperationException("A facing has 0 to 3 quarter turns."),
        };
        return (Mirrored ? width - seen : seen, down);
    }

    /// <summary>A way along the board, as faced.</summary>
    public Toward See(Toward way)
    {
        var seen = Mirrored && (way is Toward.Left or Toward.Right) ? (Toward)(((int)way + 2) % 4) : way;
        return (Toward)(((int)seen + Turns) % 4);
    }

    /// <summary>
    /// What has to be done to something that shows the board this way, such as a photograph, so that it shows the board as
    /// <paramref name="wanted"/>: mirrored first, then turned.
    /// </summary>
    public Facing To(Facing wanted) =>
        Mirrored == wanted.Mirrored
            ? new Facing((wanted.Turns - Turns + 4) % 4, BoardSide.Component)
            : new Facing((wanted.Turns + Turns) % 4, BoardSide.Solder);
}

/// <summary>Where a pin sits within its element, in words that can be counted by.</summary>
public static class PositionWords
{
    // From the nearer end where counting from the far one is where people slip.
    private const int CountedFromOneEnd = 8;

    private static readonly string[] Ordinals =
    [
        "first",
        "second",
        "third",
        "fourth",
        "fifth",
        "sixth",
        "seventh",
        "eighth",
        "ninth",
        "tenth",
        "eleventh",
        "twelfth",
    ];

    /// <summary>For example <c>third from the left, lower row</c>, as the board is faced.</summary>
    public static string Of(Element element, Pin pin, Facing facing)
    {
        ArgumentNullException.ThrowIfNull(element);
        ArgumentNullException.ThrowIfNull(pin);
        var (pinX, pinY) = element.PlaceOf(pin);
        var (right, down) = (element.Grid.Columns - 1, element.Grid.Lines - 1);
        var (seenX, seenY) = facing.Place((pinX - element.X) / element.PitchMm, (pinY - element.Y) / element.PitchMm, right, down);
        var (seenRight, seenDown) = facing.Size(right, down);
        var (column, columns) = ((int)Math.Round(seenX), (int)seenRight + 1);
        var (line, lines) = ((int)Math.Round(seenY), (int)seenDown + 1);
        return (columns, lines) switch
        {
            (1, 1) => "the only pin",
            (_, 1) => Count(column, columns, "left", "right"),
            (1, _) => Count(line, lines, "top", "bottom"),
            _ when columns >= lines => $"{Count(column, columns, "left", "right")}, {Row(line, lines, "upper", "lower", "row", "top")}",
            _ => $"{Count(line, lines, "top", "bottom")}, {Row(column, columns, "left", "right", "column", "left")}",
        };
    }

    /// <summary>
    /// What the counting can be checked by: the latch, the key, and the colours of the neighbours, as the board is faced. Such as
    /// <c>latch above, red at the left, black at the right</c>; empty where nothing of it is written down.
    /// </summary>
    /// <param name="coloursOf">The wire at each pin, as it is on the machine.</param>
    public static string Landmarks(Element element, Pin pin, Facing facing, Func<Pin, WireColours> coloursOf)
    {
        ArgumentNullException.ThrowIfNull(element);
        ArgumentNullException.ThrowIfNull(pin);
        ArgumentNullException.ThrowIfNull(coloursOf);
        var marks = new List<string>();
        if (element.Detail.Latch is { } latch)
        {
            marks.Add($"latch {ElementWords.Side(facing.See(latch))}");
        }

        if (element.Detail.KeySide is { } key)
        {
            marks.Add($"key {ElementWords.Side(facing.See(key))}");
        }

        var (x, y) = element.PlaceOf(pin);
        foreach (
            var (way, dx, dy) in ((Toward, int, int)[])[(Toward.Left, -1, 0), (Toward.Right, 1, 0), (Toward.Up, 0, -1), (Toward.Down, 0, 1)]
        )
        {
            var place = (x + (dx * element.PitchMm), y + (dy * element.PitchMm));
            if (
                element.Pins.FirstOrDefault(p => p.Id != pin.Id && element.PlaceOf(p) == place) is { } neighbour
                && coloursOf(neighbour) is { Words.Length: > 0 } colours
            )
            {
                marks.Add($"{colours.Words} {ElementWords.Side(facing.See(way))}");
            }
        }

        return string.Join(", ", marks);
    }

    private static string Count(int place, int of, string near, string far) =>
        of > CountedFromOneEnd && place >= (of + 1) / 2 ? $"{Ordinal(of - 1 - place)} from the {far}" : $"{Ordinal(place)} from the {near}";

    private static string Row(int place, int of, string first, string last, string name, string from) =>
        of == 2 ? $"{(place == 0 ? first : last)} {name}" : $"{Ordinal(place)} {name} from the {from}";

    private static string Ordinal(int place) => place < Ordinals.Length ? Ordinals[place] : $"{place + 1}{Suffix(place + 1)}";

    private static string Suffix(int number) =>
        (number % 10, number % 100) switch
        {
            (1, not 11) => "st",
            (2, not 12) => "nd",
            (3, not 13) => "rd",
            _ => "th",
        };
}
