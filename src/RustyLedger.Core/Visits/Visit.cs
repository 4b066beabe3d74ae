namespace RustyLedger.Core.Visits;

/// <summary>What the customer said of the warranty.</summary>
public enum Warranty
{
    NotAsked,
    Yes,
    No,
}

/// <summary>What is written of a visit as it goes.</summary>
public sealed record VisitWords(
    string Complaint,
    string EndingNote,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    int? TravelMinutes,
    int? LabourMinutes,
    string Agreed,
    Warranty Warranty
);

/// <summary>One job on one machine, from arrival to its ending.</summary>
public record Visit : EditableThing
{
    private const int MostMinutes = 100_000;

    public required VisitId Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public required string Complaint { get; init; }
    public required PersonId PersonId { get; init; }
    public required DateTimeOffset OpenedAt { get; init; }

    /// <summary>Null while it is open.</summary>
    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>Null while it is open.</summary>
    public Ending? Ending { get; init; }
    public string EndingNote { get; init; } = "";

    /// <summary>What was left unplugged or temporary.</summary>
    public IReadOnlyList<string> Left { get; init; } = [];

    /// <summary>What the next visit has to bring.</summary>
    public IReadOnlyList<string> Bring { get; init; } = [];
    public int? TravelMinutes { get; init; }
    public int? LabourMinutes { get; init; }

    /// <summary>What the customer agreed to spend; empty where nothing is.</summary>
    public string Agreed { get; init; } = "";
    public DateTimeOffset? AgreedAt { get; init; }
    public Warranty Warranty { get; init; }

    public static Outcome<Visit> Begin(VisitId id, MachineId machine, PersonId person, string? complaint, DateTimeOffset now) =>
        Outcome.Of(
            new Visit
            {
                Id = id,
                MachineId = machine,
                PersonId = person,
                Complaint = Rule.Kept(complaint),
                OpenedAt = now,
            }
        );

    /// <summary>Writes what is written as it goes; when something is agreed anew, the moment is kept.</summary>
    public Outcome<Visit> Write(VisitWords words, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(words);
        var agreed = Rule.Kept(words.Agreed);
        return Outcome.Of(
            this with
            {
                Complaint = Rule.Kept(words.Complaint),
                EndingNote = Rule.Kept(words.EndingNote),
                Left = Rule.Kept(words.Left),
                Bring = Rule.Kept(words.Bring),
                TravelMinutes = words.TravelMinutes,
                LabourMinutes = words.LabourMinutes,
                Agreed = agreed,
                AgreedAt =
                    agreed == Agreed ? AgreedAt
                    : agreed.Length > 0 ? now
                    : null,
                Warranty = words.Warranty,
            }
        );
    }

    /// <summary>Ends it, or opens it again.</summary>
    /// <param name="ending">Null opens it again.</param>
    /// <param name="open">What is still open on its machine.</param>
    public Outcome<Visit> End(Ending? ending, DateTimeOffset now, StillOpen open) =>
        (this with { Ending = ending, EndedAt = ending is null ? null : EndedAt ?? now }).Fits(open);

    /// <summary>Whether its ending may stand beside what is open on its machine.</summary>
    public Outcome<Visit> Fits(StillOpen open)
    {
        ArgumentNullException.ThrowIfNull(open);
        return EndingRule.Refusal(Ending, open) is { } misfit ? Core.Refusal.Misfit("ending", misfit) : Outcome.Of(this);
    }

    /// <summary>Why nothing more may be done in it; null while it is open.</summary>
    public Refusal? Closed => EndedAt is null ? null : Core.Refusal.Misfit("", "The visit has ended; start a new one.");

    /// <summary>Without what a file hangs below it.</summary>
    public Visit Alone() => new(this);

    public override Refusal? Refusal() =>
        Rule.First(
            Rule.Text("complaint", Complaint, 500),
            Rule.Text("endingNote", EndingNote, 1000),
            Rule.Lines("left", Left, 40, 200),
            Rule.Lines("bring", Bring, 40, 200),
            Rule.Within("travelMinutes", TravelMinutes, 0, MostMinutes),
            Rule.Within("labourMinutes", LabourMinutes, 0, MostMinutes),
            Rule.Text("agreed", Agreed, 120),
            Rule.If(Ending is null != EndedAt is null, "ending", "A visit that has ended says how, and one that says how has ended.")
        );
}
