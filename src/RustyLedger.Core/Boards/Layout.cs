using RustyLedger.Core.Codes;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Boards;

public enum ElementKind
{
    Connector,
    Fuse,
    Indicator,
    Jumper,
    SwitchBank,
    Trimmer,
    Relay,
    TestPoint,
    Component,

    /// <summary>The plug of a cable to another board.</summary>
    BoardCable,
}

/// <summary>The corner of a connector's grid, seen from the component side, in which pin 1 sits.</summary>
public enum Corner
{
    TopLeft,
    TopRight,
    BottomLeft,
    BottomRight,
}

/// <summary>Which way a row of pins runs.</summary>
public enum Direction
{
    Across,
    Down,
}

public enum Numbering
{
    /// <summary>One row is counted to its end before the next begins.</summary>
    RowByRow,

    /// <summary>Counting goes from row to row, as on a ribbon header: 1 above 2, 3 above 4.</summary>
    Zigzag,
}

/// <summary>One terminal.</summary>
/// <param name="Id">Stays the same whatever is printed or renamed.</param>
/// <param name="Index">From 1, the place in the element's numbering.</param>
/// <param name="Label">As printed: <c>1</c>, <c>L1</c>, <c>V+</c>.</param>
/// <param name="Colours">Of the wire at this end.</param>
/// <param name="Signal">What the pin does, in words.</param>
/// <param name="IsSource">Power enters the machine here.</param>
public sealed record Pin(PinId Id, int Index, string Label, WireColours Colours, string Signal, bool IsSource = false);

/// <summary>A thing on a board, placed in millimetres from the upper left corner of the component side.</summary>
/// <param name="X">Of the upper left pin of the grid; of the middle where there are no pins.</param>
/// <param name="Y">Of the upper left pin of the grid; of the middle where there are no pins.</param>
/// <param name="Rows">Rows of pins, at least 1; a row runs along <paramref name="Direction"/>.</param>
/// <param name="PitchMm">Between neighbours in a row and between rows, above 0; the size of a thing without pins.</param>
/// <param name="Rating">Printed rating, such as a fuse's; empty where there is none.</param>
public sealed record Element(
    ElementId Id,
    ElementKind Kind,
    string Designator,
    string Purpose,
    decimal X,
    decimal Y,
    int Rows,
    decimal PitchMm,
    Direction Direction,
    Corner Pin1,
    Numbering Numbering,
    string Rating,
    IReadOnlyList<Pin> Pins
)
{
    /// <summary>What a thing of its kind tells or does.</summary>
    public ElementDetail Detail { get; init; } = ElementDetail.None;

    /// <summary>Pins in one row.</summary>
    public int PerRow => Math.Max(1, (Pins.Count == 0 ? 1 : Pins.Max(p => p.Index)) + Rows - 1) / Rows;

    /// <summary>The centre of a pin in millimetres on the component side.</summary>
    public (decimal X, decimal Y) PlaceOf(Pin pin)
    {
        ArgumentNullException.ThrowIfNull(pin);
        var i = pin.Index - 1;
        var (row, along) = Numbering == Numbering.RowByRow ? (i / PerRow, i % PerRow) : (i % Rows, i / Rows);
        var (column, line) = Direction == Direction.Across ? (along, row) : (row, along);
        var (columns, lines) = Grid;
        column = Pin1 is Corner.TopRight or Corner.BottomRight ? columns - 1 - column : column;
        line = Pin1 is Corner.BottomLeft or Corner.BottomRight ? lines - 1 - line : line;
        return (X + (column * PitchMm), Y + (line * PitchMm));
    }

    /// <summary>Columns and lines of the grid on which the pins sit, as drawn on the component side.</summary>
    public (int Columns, int Lines) Grid => Direction == Direction.Across ? (PerRow, Rows) : (Rows, PerRow);

    /// <summary>The outline around all pins: half a pitch out, at most <see cref="MostRimMm"/>.</summary>
    public (decimal X, decimal Y, decimal Width, decimal Height) Outline
    {
        get
        {
            var (columns, lines) = Grid;
            var rim = Pins.Count == 0 ? PitchMm / 2 : Math.Min(PitchMm / 2, MostRimMm);
            return (X - rim, Y - rim, ((columns - 1) * PitchMm) + (2 * rim), ((lines - 1) * PitchMm) + (2 * rim));
        }
    }

    /// <summary>The middle of all pins, or of a thing without pins.</summary>
    public (decimal X, decimal Y) Middle
    {
        get
        {
            var (columns, lines) = Grid;
            return (X + ((columns - 1) * PitchMm / 2), Y + ((lines - 1) * PitchMm / 2));
        }
    }

    // The ends of a fuse stand far apart; its body is no wider for that.
    private const decimal MostRimMm = 3.5m;
}

/// <summary>A board by part number and revision, with its layout, the paths inside it and the checks it always has.</summary>
/// <param name="Links">Between pins of this board; the addresses are <see cref="PinAddress.OnType"/>.</param>
/// <param name="Checks">Likewise.</param>
public sealed record BoardType(
    BoardTypeId Id,
    string PartNumber,
    string Revision,
    string Name,
    decimal WidthMm,
    decimal HeightMm,
    DefaultTolerance Tolerance,
    IReadOnlyList<Element> Elements,
    IReadOnlyList<Link> Links,
    IReadOnlyList<Check> Checks
)
{
    /// <summary>Part number and revision, as people call it; without a revision where nobody wrote one down.</summary>
    public string Printed => Called(PartNumber, Revision);

    /// <inheritdoc cref="Printed"/>
    public static string Called(string partNumber, string revision)
    {
        ArgumentNullException.ThrowIfNull(revision);
        return revision.Length > 0 ? $"{partNumber} rev {revision}" : partNumber;
    }

    /// <summary>Nobody measured it: width and height are a sheet to draw on.</summary>
    public bool IsSizeGuess { get; init; }

    /// <summary>What a board type begins with whose size nobody wrote down.</summary>
    public static (decimal WidthMm, decimal HeightMm) GuessedSize => (120, 80);

    private const decimal LeastMm = 5;
    private const decimal MostMm = 2000;

    /// <summary>The same with its size as measured.</summary>
    public Outcome<BoardType> Measured(decimal widthMm, decimal heightMm)
    {
        foreach (var (field, value) in (ReadOnlySpan<(string, decimal)>)[("widthMm", widthMm), ("heightMm", heightMm)])
        {
            if (value is < LeastMm or > MostMm)
            {
                return new Refusal(field, $"A board is {LeastMm:0} to {MostMm:0} mm wide and high, not {value:0.###}.");
            }
        }

        return this with
        {
            WidthMm = widthMm,
            HeightMm = heightMm,
            IsSizeGuess = false,
        };
    }

    /// <summary>The same under a revision: one that nobody wrote down gets it, and no two of a part number have the same.</summary>
    /// <param name="known">The revisions that the part number has in the ledger.</param>
    /// <param name="isAnother">It is a board type of its own, beside this one.</param>
    public Outcome<BoardType> OfRevision(string? revision, IReadOnlyCollection<string> known, bool isAnother)
    {
        ArgumentNullException.ThrowIfNull(known);
        var said = Rule.Kept(revision);
        return Rule.Needed("revision", said, 12) is { } refusal ? refusal
            : !isAnother && Revision.Length > 0 ? new Refusal("revision", $"This is revision {Revision}; another one is added beside it.")
            : known.Contains(said) ? new Refusal("revision", $"{PartNumber} has a revision {said} already.")
            : this with { Revision = said };
    }

    /// <summary>A board type of its own for one machine, so that what is written for it reaches no other; pins keep their ids.</summary>
    /// <param name="tag">Of the machine.</param>
    public BoardType OnlyAt(BoardTypeId id, string tag)
    {
        const int MostName = 80;
        var only = $", {tag} only";
        return this with { Id = id, Name = $"{Name[..Math.Min(Name.Length, Math.Max(0, MostName - only.Length))]}{only}" };
    }

    /// <summary>What the eye knows it by.</summary>
    public IReadOnlyList<RecognitionMark> Marks { get; init; } = [];

    /// <summary>What it shows, blinks and beeps, and what that means.</summary>
    public IReadOnlyList<BoardCode> Codes { get; init; } = [];

    /// <summary>The thing at a place, to the nearest pin.</summary>
    /// <param name="x">In millimetres on the component side.</param>
    /// <param name="y">In millimetres on the component side.</param>
    public BoardSpot At(double x, double y)
    {
        var pins = Elements.SelectMany(e => e.Pins.Select(p => (Element: e, Pin: p, Distance: Distance(e.PlaceOf(p), x, y))));
        var nearest = pins.OrderBy(p => p.Distance).FirstOrDefault();
        if (
            nearest.Pin is not null
            && nearest.Distance <= Math.Clamp((double)nearest.Element.PitchMm * ReachPitches, LeastReachMm, MostReachMm)
        )
        {
            return new BoardSpot(x, y, nearest.Element, nearest.Pin);
        }

        // The smallest one that holds the place: a lamp within the outline of a connector is meant as the lamp.
        var holder = Elements.Where(e => Holds(e.Outline, x, y)).MinBy(e => e.Outline.Width * e.Outline.Height);
        return new BoardSpot(x, y, holder, null);
    }

    // How far beside a pin a tap may be and still mean it.
    private const double LeastReachMm = 1.5;
    private const double MostReachMm = 4;
    private const double ReachPitches = 0.6;

    private static double Distance((decimal X, decimal Y) place, double x, double y) =>
        double.Hypot((double)place.X - x, (double)place.Y - y);

    private static bool Holds((decimal X, decimal Y, decimal Width, decimal Height) o, double x, double y) =>
        x >= (double)o.X && x <= (double)(o.X + o.Width) && y >= (double)o.Y && y <= (double)(o.Y + o.Height);
}

/// <summary>A place on a board and what is there.</summary>
/// <param name="X">In millimetres on the component side.</param>
/// <param name="Y">In millimetres on the component side.</param>
/// <param name="Element">Null on the bare board.</param>
/// <param name="Pin">Null beside all pins.</param>
public sealed record BoardSpot(double X, double Y, Element? Element, Pin? Pin);
