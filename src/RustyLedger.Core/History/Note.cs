namespace RustyLedger.Core.History;

/// <summary>A line about a machine that belongs nowhere else.</summary>
public sealed record Note : EditableThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public VisitId? VisitId { get; init; }
    public required string Text { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    public Outcome<Note> Write(string? text) => Outcome.Of(this with { Text = Rule.Kept(text) });

    public override Refusal? Refusal() => Rule.Needed("text", Text, 2000);
}
