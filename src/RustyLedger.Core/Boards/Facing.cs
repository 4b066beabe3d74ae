namespace RustyLedger.Core.Boards;

/// <summary>How the technician faces a board: quarter turns clockwise of what is seen, after mirroring.</summary>
/// <param name="Turns">0 to 3.</param>
/// <param name="Mirrored">Seen from the wire side: left and right exchanged before turning.</param>
public readonly record struct Facing(int Turns, bool Mirrored)
{
    public static IReadOnlyList<Facing> All { get; } =
        [.. from mirrored in (bool[])[false, true] from turns in Enumerable.Range(0, 4) select new Facing(turns, mirrored)];

    /// <summary>The facing in words, such as <c>from the wire side, upside down</c>.</summary>
    public string Words => (Mirrored ? "from the wire side" : "from the component side") + Turns switch
    {
        1 => ", turned a quarter right",
        2 => ", upside down",
        3 => ", turned a quarter left",
        _ => "",
    };

    /// <summary>Size of the board as faced, in the unit given.</summary>
    public (decimal Width, decimal Height) Size(decimal width, decimal height) => Turns % 2 == 0 ? (width, height) : (height, width);

    /// <summary>A place on the component side, as faced; from the upper left corner of what is seen.</summary>
    public (decimal X, decimal Y) Place(decimal x, decimal y, decimal width, decimal height)
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
}

/// <summary>Where a pin sits within its element, in words that can be counted by.</summary>
public static class PositionWords
{
    // From the nearer end where counting from the far one is where people slip.
    private const int CountedFromOneEnd = 8;

    private static readonly string[] Ordinals =
        ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth", "eleventh", "twelfth"];

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

    private static string Count(int place, int of, string near, string far) => of > CountedFromOneEnd && place >= (of + 1) / 2
        ? $"{Ordinal(of - 1 - place)} from the {far}"
        : $"{Ordinal(place)} from the {near}";

    private static string Row(int place, int of, string first, string last, string name, string from) => of == 2
        ? $"{(place == 0 ? first : last)} {name}"
        : $"{Ordinal(place)} {name} from the {from}";

    private static string Ordinal(int place) => place < Ordinals.Length ? Ordinals[place] : $"{place + 1}{Suffix(place + 1)}";

    private static string Suffix(int number) => (number % 10, number % 100) switch
    {
        (1, not 11) => "st",
        (2, not 12) => "nd",
        (3, not 13) => "rd",
        _ => "th",
    };
}
