using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Photographs;

public enum PhotographKind
{
    Plate,
    Board,
    Screen,
    Other,
}

/// <summary>A photograph; the picture is a file named by the hash of its content.</summary>
public record Photograph : EditableThing
{
    public required PhotographId Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public VisitId? VisitId { get; init; }
    public PositionId? PositionId { get; init; }
    public SnapshotId? SnapshotId { get; init; }
    public required PhotographKind Kind { get; init; }
    public required string Caption { get; init; }
    public required DateTimeOffset TakenAt { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>SHA-256 of the picture as kept, in hex.</summary>
    public required string Hash { get; init; }

    /// <summary>File ending: <c>jpg</c>, <c>png</c> or <c>webp</c>.</summary>
    public required string Format { get; init; }
    public required int Width { get; init; }
    public required int Height { get; init; }

    [OfTheBook]
    public long Bytes { get; init; }

    /// <summary>Points of the board marked on it.</summary>
    public IReadOnlyList<PicturePoint> Points { get; init; } = [];

    public Outcome<Photograph> Write(PhotographKind kind, string? caption, PositionId? position) =>
        Outcome.Of(this with { Kind = kind, Caption = Rule.Kept(caption), PositionId = position });

    /// <summary>Without what a file hangs below it.</summary>
    public Photograph Alone() => new(this);

    public override Refusal? Refusal() => Rule.First(Rule.Text("caption", Caption, 200), PicturePoint.Refusal(Points));
}
