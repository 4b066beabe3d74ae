namespace RustyLedger.Core.Boards;

/// <summary>How a board was faced in a visit: it hangs as it hangs, so the last one that turned it is right.</summary>
public sealed record VisitFacing : EditableThing
{
    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required PositionId PositionId { get; init; }

    /// <summary>Quarter turns clockwise, 0 to 3.</summary>
    public required int Turns { get; init; }
    public required BoardSide Side { get; init; }

    public override Refusal? Refusal() => Rule.If(Turns is < 0 or > 3, "turns", "A board is turned by 0 to 3 quarters.");
}
