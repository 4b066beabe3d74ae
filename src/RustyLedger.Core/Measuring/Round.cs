namespace RustyLedger.Core.Measuring;

/// <summary>A set of checks taken in one go.</summary>
public record Round : EditableThing
{
    public required RoundId Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required DateTimeOffset StartedAt { get; init; }

    /// <summary>Without what a file hangs below it.</summary>
    public Round Alone() => new(this);

    public override Refusal? Refusal() => null;
}
