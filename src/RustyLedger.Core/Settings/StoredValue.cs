namespace RustyLedger.Core.Settings;

/// <summary>A value of a snapshot, as it was read off the board.</summary>
public sealed record StoredValue : EditableThing
{
    public SnapshotId SnapshotId { get; init; }
    public required string Code { get; init; }
    public required string Value { get; init; }

    /// <summary>Place in the snapshot's list.</summary>
    public required int Ordinal { get; init; }

    /// <summary>Writes another value; one that was taken away comes back.</summary>
    public Outcome<StoredValue> Write(string? value) => Outcome.Of(this with { Value = Rule.Kept(value), RetiredAt = null });

    public override Refusal? Refusal() => Rule.First(Rule.Needed("code", Code, 24), Rule.Needed("value", Value, 120));
}
