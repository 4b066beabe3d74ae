using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Machines;

/// <summary>A named place for a board in a model.</summary>
/// <param name="Prefix">Stands before designators, such as <c>Z1</c> in <c>Z1-J2·6</c>.</param>
public sealed record Position(PositionId Id, string Prefix, string Name, BoardTypeId BoardTypeId);

/// <summary>What a thing is that is on no board; see <see cref="UsualParts"/> for the pins it comes with.</summary>
public enum PartKind
{
    Supply,
    Battery,
    Switch,
    Button,
    Plug,
    FuseHolder,
    Transformer,
    Contactor,
    Overload,
    Relay,
    Motor,
    Heater,
    Coil,
    Sensor,
    Lamp,
    Horn,
    Aerial,
    EarthBar,

    /// <summary>Wires joined without a terminal: one place, one potential.</summary>
    Splice,
    Other,
}

/// <summary>A part with pins of its own that is on no board.</summary>
public sealed record OffBoardPart(PartId Id, PartKind Kind, string Designator, string Name, IReadOnlyList<Pin> Pins)
{
    /// <summary>What it does, and what pressing it once or holding it does, in a line; empty where nobody wrote it down.</summary>
    public string Does { get; init; } = "";
}

/// <summary>An operating state in which readings are taken.</summary>
/// <param name="Code">Identity within the model; checks name it.</param>
public sealed record OperatingState(string Code, string Name, bool Energised)
{
    /// <summary>Code of the one in which everything is stopped, and is fed.</summary>
    public const string Stopped = "stopped";

    /// <summary>The four that come with a new model.</summary>
    public static IReadOnlyList<OperatingState> Usual { get; } =
    [
        new("off", "off", false),
        new("standby", "standby", true),
        new("running", "running", true),
        new(Stopped, "stopped by emergency stop", true),
    ];
}

/// <summary>A maker's product line entry: positions, parts off the boards, what joins them, and how they are checked.</summary>
public sealed record Model(
    ModelId Id,
    string Maker,
    string Name,
    IReadOnlyList<Position> Positions,
    IReadOnlyList<OffBoardPart> Parts,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<Link> Links,
    IReadOnlyList<Check> Checks
)
{
    public VariantSheet Variants { get; init; } = VariantSheet.Empty;

    public SafetySheet Safety { get; init; } = SafetySheet.Empty;

    /// <summary>What this model adds to the outside checks every machine has, or leaves out of them.</summary>
    public OutsideSheet Outside { get; init; } = OutsideSheet.Empty;

    /// <summary>What its timings mean.</summary>
    public SignatureSheet Signatures { get; init; } = SignatureSheet.Empty;

    /// <summary>How one gets at its places, and what is read before what.</summary>
    public RoundRuleSheet RoundRules { get; init; } = RoundRuleSheet.Empty;

    /// <summary>What its parts are to the current.</summary>
    public CircuitSheet Circuit { get; init; } = CircuitSheet.Empty;

    /// <summary>What can be seen to work, and what that takes.</summary>
    public FunctionSheet Functions { get; init; } = FunctionSheet.Empty;
}

/// <summary>A board in a position, from and to when.</summary>
/// <param name="To">Null while it is fitted.</param>
public sealed record FittedBoard(
    FittedBoardId Id,
    PositionId PositionId,
    BoardTypeId BoardTypeId,
    string Serial,
    string Firmware,
    DateOnly? From,
    DateOnly? To
);

/// <summary>What is so on this machine only, with its reason.</summary>
/// <param name="Address">The pin it is about; null for a check.</param>
/// <param name="CheckKey">The check it is about, see <see cref="ResolvedCheck.Key"/>; null for a pin.</param>
public sealed record Override(
    OverrideId Id,
    PinAddress? Address,
    CheckKey? CheckKey,
    WireColours? Colours,
    string? Signal,
    Limit? Limit,
    string Reason
)
{
    private const int MostWords = 200;

    /// <summary>The reading that was accepted as right on this machine; null where it was written by hand.</summary>
    public ReadingId? ReadingId { get; init; }

    /// <returns>The first of its invariants that does not hold; null where all do.</returns>
    public Refusal? Refusal() =>
        OfReason(Reason)
        ?? Rule.First(
            Rule.Text("signal", Signal ?? "", MostWords),
            Rule.If((Address is null) == (CheckKey is null), "pin", "What is so on one machine is so of a pin or of a check."),
            Rule.If(
                CheckKey is not null && (Limit is null || Colours is not null || Signal is not null),
                "limit",
                "Of a check it is said what it should read, and nothing else."
            ),
            Rule.If(
                Address is not null && (Limit is not null || (Colours is null && Signal is null)),
                "colours",
                "Of a pin its colours or what it does are said, and nothing else."
            )
        );

    /// <summary>What must hold of the reason alone.</summary>
    internal static Refusal? OfReason(string reason) =>
        Rule.Needed("reason", reason, MostWords) ?? Rule.Said("reason", reason, MostWords, "say why it is so on this machine only");
}

/// <summary>One unit at a site.</summary>
public sealed record Machine(
    MachineId Id,
    string Tag,
    string Name,
    ModelId ModelId,
    string Serial,
    string Built,
    string Supply,
    string Site,
    string Customer,
    IReadOnlyList<FittedBoard> Boards,
    IReadOnlyList<Override> Overrides
)
{
    /// <summary>Of the housing, where it tells the build; empty where nobody looked.</summary>
    public string Finish { get; init; } = "";

    /// <summary>What is looked at on this machine alone, beside the checks of its model and its boards.</summary>
    public IReadOnlyList<Check> Checks { get; init; } = [];

    /// <summary>The boards that are in it now.</summary>
    public IEnumerable<FittedBoard> FittedNow => Boards.Where(b => b.To is null);

    /// <summary>The board that is in a position now; null where nobody wrote one down.</summary>
    public FittedBoard? FittedIn(PositionId positionId) => FittedNow.Where(b => b.PositionId == positionId).MaxBy(b => b.From);

    /// <summary>Fits a board from a day on; the one that was in its position leaves that day.</summary>
    public Outcome<Machine> Fit(FittedBoard board)
    {
        ArgumentNullException.ThrowIfNull(board);
        if (FittedIn(board.PositionId) is { } now && now.From > board.From)
        {
            return new Refusal("from", "The board in this position came later than that day.");
        }

        return Rule.First(Rule.Text("serial", board.Serial, 60), Rule.Text("firmware", board.Firmware, 24)) is { } refusal
            ? refusal
            : this with
            {
                Boards = [.. Boards.Select(b => b.PositionId == board.PositionId && b.To is null ? b with { To = board.From } : b), board],
            };
    }

    public PlateFacts Plate => new(Serial, Built, Supply, Finish);
}
