namespace RustyLedger.Core.Safety;

/// <summary>A machine that protects life was taken out of service: who was told, and what watches in its place.</summary>
public sealed record Notice : EditableThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required string Told { get; init; }
    public required string Watching { get; init; }
    public DateTimeOffset? Until { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>Back in service; null while the notice is open.</summary>
    public DateTimeOffset? BackAt { get; init; }

    public bool IsOpen => BackAt is null && RetiredAt is null;

    public Outcome<Notice> Write(string? told, string? watching, DateTimeOffset? until, bool isBack, DateTimeOffset now) =>
        Outcome.Of(
            this with
            {
                Told = Rule.Kept(told),
                Watching = Rule.Kept(watching),
                Until = until,
                BackAt = isBack ? BackAt ?? now : null,
            }
        );

    public override Refusal? Refusal() => Rule.First(Rule.Needed("told", Told, 200), Rule.Needed("watching", Watching, 200));
}
