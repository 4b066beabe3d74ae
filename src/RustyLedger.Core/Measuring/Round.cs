namespace RustyLedger.Core.Measuring;

/// <summary>In which order the checks of a round are taken.</summary>
public enum RoundOrder
{
    /// <summary>Down the power path, see <see cref="SheetOrder"/>.</summary>
    Path,

    /// <summary>As the sheet has it that the machine was entered from.</summary>
    Sheet,
}

/// <summary>A set of checks taken in one go.</summary>
public record Round : EditableThing
{
    public required RoundId Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required DateTimeOffset StartedAt { get; init; }

    public RoundOrder Order { get; init; }

    /// <summary>Without what a file hangs below it.</summary>
    public Round Alone() => new(this);

    public override Refusal? Refusal() => null;
}
