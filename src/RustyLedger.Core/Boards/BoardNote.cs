namespace RustyLedger.Core.Boards;

/// <summary>What is pinned to a place on a board.</summary>
public enum BoardNoteKind
{
    /// <summary>Looks wrong and is right, such as a loose-ended wire that is an aerial.</summary>
    Oddity,

    /// <summary>Made other than it should be, on purpose and with a reason.</summary>
    Deviation,
    Burnt,
    Corroded,
    Lint,
    Loose,
    CutTrack,
    ForeignBody,
    Swollen,
    WaterMark,
    EarlierRepair,
    LostLeg,
}

/// <summary>Where a note is pinned: to a pin, an element, a bare place, or the board as a whole.</summary>
/// <param name="X">In millimetres on the component side; null with an element, or for the whole board.</param>
public sealed record NotePlace(string? ElementId, string? PinId, double? X, double? Y)
{
    // As far as an eye takes in that looks at one pin.
    private const double NearMm = 12;

    /// <summary>Whether a place is pinned down at all.</summary>
    public bool IsWholeBoard => ElementId is null && X is null;

    /// <summary>In millimetres on the component side; null for the whole board, or where the element is gone.</summary>
    public (double X, double Y)? On(BoardType board)
    {
        ArgumentNullException.ThrowIfNull(board);
        if (ElementId is null)
        {
            return X is { } x && Y is { } y ? (x, y) : null;
        }

        if (board.Elements.FirstOrDefault(e => e.Id == ElementId) is not { } element)
        {
            return null;
        }

        var (atX, atY) = element.Pins.FirstOrDefault(p => p.Id == PinId) is { } pin ? element.PlaceOf(pin) : element.Middle;
        return ((double)atX, (double)atY);
    }

    /// <summary>
    /// Pins at which the note is to be shown: those of its element, and all within 12 mm of a bare place or of its pin; every pin for a
    /// note on the whole board.
    /// </summary>
    public IReadOnlyList<string> NearPins(BoardType board)
    {
        ArgumentNullException.ThrowIfNull(board);
        var place = On(board);
        return
        [
            .. board.Elements.SelectMany(e =>
                e.Pins.Where(p => IsWholeBoard || e.Id == ElementId || (place is { } at && Distance(e.PlaceOf(p), at) <= NearMm))
                    .Select(p => p.Id)
            ),
        ];
    }

    private static double Distance((decimal X, decimal Y) pin, (double X, double Y) at) =>
        double.Hypot((double)pin.X - at.X, (double)pin.Y - at.Y);
}

public static class BoardNoteWords
{
    public static string Words(this BoardNoteKind kind) =>
        kind switch
        {
            BoardNoteKind.Oddity => "odd but normal",
            BoardNoteKind.Deviation => "made other on purpose",
            BoardNoteKind.CutTrack => "cut track",
            BoardNoteKind.ForeignBody => "foreign body",
            BoardNoteKind.WaterMark => "water mark",
            BoardNoteKind.EarlierRepair => "earlier repair",
            BoardNoteKind.LostLeg => "lost leg",
            _ => kind.ToString().ToLowerInvariant(),
        };

    /// <summary>Found by the eye, and so evidence for a fault.</summary>
    public static bool IsFound(this BoardNoteKind kind) => kind is not (BoardNoteKind.Oddity or BoardNoteKind.Deviation);
}
