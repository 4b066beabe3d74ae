namespace RustyLedger.Core.Settings;

public enum SnapshotKind
{
    AsFound,
    AsLeft,
    Other,
}

/// <summary>All settings of one fitted board at one moment; stays with that board when it leaves.</summary>
public record Snapshot : EditableThing
{
    public required SnapshotId Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public required FittedBoardId FittedBoardId { get; init; }
    public VisitId? VisitId { get; init; }
    public required SnapshotKind Kind { get; init; }
    public required DateTimeOffset TakenAt { get; init; }
    public required PersonId PersonId { get; init; }
    public required string Firmware { get; init; }
    public required string Note { get; init; }

    public Outcome<Snapshot> Write(SnapshotKind kind, string? note) => Outcome.Of(this with { Kind = kind, Note = Rule.Kept(note) });

    /// <summary>Without what a file hangs below it.</summary>
    public Snapshot Alone() => new(this);

    public override Refusal? Refusal() => Rule.Text("note", Note, 500);
}
