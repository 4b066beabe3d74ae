namespace RustyLedger.Core.Visits;

public enum ObservationKind
{
    Code,
    Hours,
    Counter,
    Lamp,
    Works,
    WorksNot,

    /// <summary>A cover taken off; done when it is back.</summary>
    CoverOff,

    /// <summary>A plug pulled; done when it is in again.</summary>
    Unplugged,

    /// <summary>The boards were looked over, whatever was found.</summary>
    LookedOver,

    /// <summary>What a sum of the bench came to.</summary>
    WorkedOut,

    /// <summary>What it does or does not, and how, as the suspects take it.</summary>
    Seen,
}

/// <summary>A line on what a machine shows or does, or on what was opened on the way.</summary>
public sealed record Observation : EditableThing
{
    public required ObservationId Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required ObservationKind Kind { get; init; }
    public required string Text { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>When a cover was back or a plug in again.</summary>
    public DateTimeOffset? DoneAt { get; init; }

    /// <summary>A picture of it; null for none.</summary>
    public PhotographId? PhotographId { get; init; }

    /// <summary>Something that was opened and is not closed yet.</summary>
    public bool IsOpen => DoneAt is null && Kind is ObservationKind.CoverOff or ObservationKind.Unplugged;

    public Outcome<Observation> Write(string? text, bool isDone, DateTimeOffset now) =>
        Outcome.Of(this with { Text = Rule.Kept(text), DoneAt = isDone ? DoneAt ?? now : null });

    public override Refusal? Refusal() => Rule.Needed("text", Text, 300);
}

public static class ObservationWords
{
    /// <summary>What the machine itself showed or did, which goes when it is switched off.</summary>
    public static bool IsCaught(this ObservationKind kind) =>
        kind is not (ObservationKind.CoverOff or ObservationKind.Unplugged or ObservationKind.LookedOver or ObservationKind.WorkedOut);

    public static string Words(this ObservationKind kind) =>
        kind switch
        {
            ObservationKind.Code => "code shown",
            ObservationKind.Hours => "hours",
            ObservationKind.Counter => "counter",
            ObservationKind.Lamp => "lamp",
            ObservationKind.Works => "worked",
            ObservationKind.WorksNot => "did not work",
            ObservationKind.CoverOff => "cover off",
            ObservationKind.LookedOver => "looked over",
            ObservationKind.WorkedOut => "worked out",
            ObservationKind.Seen => "seen",
            _ => "unplugged",
        };
}
