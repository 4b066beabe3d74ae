namespace RustyLedger.Core.Visits;

/// <summary>Why a step of a visit was skipped.</summary>
public sealed record SkippedStep : EditableThing
{
    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required VisitStep Step { get; init; }
    public required string Reason { get; init; }
    public required PersonId PersonId { get; init; }
    public required DateTimeOffset At { get; init; }

    /// <summary>Writes another reason; none takes the skip back, and its words stay for whoever puts it back.</summary>
    public Outcome<SkippedStep> Write(string? reason, PersonId person, DateTimeOffset now) =>
        Rule.Kept(reason) is { Length: > 0 } said
            ? Outcome.Of(this with { Reason = said, PersonId = person, At = now, RetiredAt = null })
            : this with
            {
                RetiredAt = RetiredAt ?? now,
            };

    public override Refusal? Refusal() => Rule.Needed("reason", Reason, 200);
}
