namespace RustyLedger.Core.History;

/// <summary>A cause the shop may choose for a fault; the list can be extended.</summary>
public sealed record Cause : EditableThing
{
    /// <summary>Where what the shop adds stands; "none found" stays the last.</summary>
    public const int Added = 50;

    public required string Id { get; init; }
    public required string Words { get; init; }

    [OfTheBook]
    public int Ordinal { get; init; } = Added;

    public override Refusal? Refusal() => Rule.Needed("words", Words, 60);
}
