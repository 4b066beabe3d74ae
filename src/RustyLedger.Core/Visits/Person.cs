namespace RustyLedger.Core.Visits;

/// <summary>Who works with the ledger, and signs what was found.</summary>
public sealed record Person : EditableThing
{
    public required PersonId Id { get; init; }
    public required string Name { get; init; }

    public override Refusal? Refusal() => Rule.Needed("name", Name, 60);
}
