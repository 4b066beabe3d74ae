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
public sealed record NotePlace(ElementId? ElementId, PinId? PinId, double? X, double? Y)
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
    public IReadOnlyList<PinId> NearPins(BoardType board)
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

    /// <summary>In a technician's words on this board, such as <c>J3·2</c>.</summary>
    /// <param name="board">Null where the position has none now.</param>
    public string Words(BoardType? board)
    {
        if (IsWholeBoard)
        {
            return "the whole board";
        }

        if (ElementId is null)
        {
            return "a place on the board";
        }

        var element = board?.Elements.FirstOrDefault(e => e.Id == ElementId);
        return element is null ? "something that is no longer on the board"
            : element.Pins.FirstOrDefault(p => p.Id == PinId) is { } pin ? $"{element.Designator}·{pin.Label}"
            : element.Designator;
    }

    private static double Distance((decimal X, decimal Y) pin, (double X, double Y) at) =>
        double.Hypot((double)pin.X - at.X, (double)pin.Y - at.Y);
}

/// <summary>Something pinned to a place of a board in a machine: found by the eye, odd but normal, or other on purpose.</summary>
public sealed record BoardNote : EditableThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public required PositionId PositionId { get; init; }
    public VisitId? VisitId { get; init; }
    public required BoardNoteKind Kind { get; init; }
    public required NotePlace Place { get; init; }
    public required string Text { get; init; }

    /// <summary>Why it was made other than it should be.</summary>
    public required string Reason { get; init; }
    public PhotographId? PhotographId { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    public Outcome<BoardNote> Write(BoardNoteKind kind, string? text, string? reason, PhotographId? photograph) =>
        Outcome.Of(this with { Kind = kind, Text = Rule.Kept(text), Reason = Rule.Kept(reason), PhotographId = photograph });

    /// <summary>Whether its place is on the board that is there.</summary>
    public Outcome<BoardNote> On(BoardType board)
    {
        ArgumentNullException.ThrowIfNull(board);
        return Place is { ElementId: null, X: { } x, Y: { } y }
            && !(x >= 0 && x <= (double)board.WidthMm && y >= 0 && y <= (double)board.HeightMm)
                ? new Refusal("x", $"That is beside the board, which is {board.WidthMm:0.##} by {board.HeightMm:0.##} mm.")
            : Place.ElementId is not null && Place.On(board) is null ? new Refusal("elementId", "This board has no such element.")
            : Outcome.Of(this);
    }

    /// <summary>What was made other on purpose says why; the next one would put it right otherwise.</summary>
    public override Refusal? Refusal() =>
        Rule.First(
            Rule.Text("text", Text, 300),
            Kind == BoardNoteKind.Deviation ? Rule.Needed("reason", Reason, 300) : Rule.Text("reason", Reason, 300)
        );
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
