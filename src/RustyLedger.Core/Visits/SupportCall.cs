namespace RustyLedger.Core.Visits;

/// <summary>A call to the maker's support.</summary>
public sealed record SupportCall : EditableThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required PersonId PersonId { get; init; }
    public required DateTimeOffset At { get; init; }
    public required string CaseNumber { get; init; }
    public required string Said { get; init; }

    public Outcome<SupportCall> Write(string? caseNumber, string? said) =>
        Outcome.Of(this with { CaseNumber = Rule.Kept(caseNumber), Said = Rule.Kept(said) });

    public override Refusal? Refusal() => Rule.First(Rule.Text("caseNumber", CaseNumber, 40), Rule.Needed("said", Said, 2000));
}
