using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Visits;

namespace RustyLedger.Core.History;

/// <summary>Whether a repair held.</summary>
public enum Held
{
    NotKnown,
    Held,
    CameBack,
}

/// <summary>A part that was touched.</summary>
/// <param name="Called">As it was called then, on that machine.</param>
public sealed record TouchedPart(PartRef Part, string Called);

/// <summary>What a technician writes of a fault.</summary>
/// <param name="Found">In words; empty where what the readings say is enough.</param>
/// <param name="Cause">Code of a cause from the shop's list.</param>
/// <param name="IsClosed">It is proved and put right.</param>
public sealed record FaultWords(
    string Noticed,
    string Found,
    string? Cause,
    string Proof,
    string Done,
    IReadOnlyList<TouchedPart> Touched,
    string Deviation,
    int? Minutes,
    Warranty Warranty,
    Held Held,
    FaultId? PreviousId,
    bool IsClosed
);

/// <summary>What was wrong, its cause, how it was proved, what was done.</summary>
public sealed record Fault : EditableThing
{
    private const int MostMinutes = 100_000;

    public required FaultId Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }
    public VisitId? VisitId { get; init; }
    public RoundId? RoundId { get; init; }
    public required PersonId PersonId { get; init; }
    public required DateTimeOffset OpenedAt { get; init; }
    public required string Noticed { get; init; }

    /// <summary>Where it was found, in a person's words; empty where what the readings say is enough.</summary>
    public string Found { get; init; } = "";

    /// <summary>Where the readings put it when it was written up.</summary>
    public IReadOnlyList<FoundPlace> Located { get; init; } = [];

    /// <summary>What it rests on, in the order in which it was seen.</summary>
    public IReadOnlyList<Evidence> Evidence { get; init; } = [];

    /// <summary>Code of a cause from the shop's list.</summary>
    public string? Cause { get; init; }
    public string Proof { get; init; } = "";
    public string Done { get; init; } = "";
    public IReadOnlyList<TouchedPart> Touched { get; init; } = [];

    /// <summary>What was left other than it should be, and why.</summary>
    public string Deviation { get; init; } = "";
    public int? Minutes { get; init; }
    public Warranty Warranty { get; init; }
    public Held Held { get; init; }

    /// <summary>The fault this one is the return of.</summary>
    public FaultId? PreviousId { get; init; }

    /// <summary>Null while it is open.</summary>
    public DateTimeOffset? ClosedAt { get; init; }

    /// <summary>Writes it up; closing it asks for its proof.</summary>
    /// <param name="previous">The fault that <see cref="FaultWords.PreviousId"/> names; null where none is here.</param>
    public Outcome<Fault> Write(FaultWords words, Fault? previous, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(words);
        if (words.PreviousId is { } id && id != PreviousId && (previous?.Id != id || !previous.MayReturnAs(this)))
        {
            return new Refusal("previousId", "A fault can be the return of an earlier fault of the same machine only.");
        }

        var written = this with
        {
            Noticed = Rule.Kept(words.Noticed),
            Found = Rule.Kept(words.Found),
            Cause = words.Cause,
            Proof = Rule.Kept(words.Proof),
            Done = Rule.Kept(words.Done),
            Touched = words.Touched,
            Deviation = Rule.Kept(words.Deviation),
            Minutes = words.Minutes,
            Warranty = words.Warranty,
            Held = words.Held,
            PreviousId = words.PreviousId,
            ClosedAt = words.IsClosed ? ClosedAt ?? now : null,
        };
        return (Rule.Needed("noticed", written.Noticed, 500) ?? written.Refusal()) is { } refusal ? refusal : written;
    }

    /// <summary>Where it was found: in a person's words, or in those of what the readings say.</summary>
    public string FoundWords(ResolvedMachine machine) =>
        Found.Length > 0 ? Found : string.Join(' ', Located.Select(p => p.Sentence(machine)));

    /// <summary>A fix that did not hold was a wrong diagnosis.</summary>
    public Fault Returned() => this with { Held = Held.CameBack };

    private bool MayReturnAs(Fault later) => MachineId == later.MachineId && OpenedAt < later.OpenedAt;

    public override Refusal? Refusal() =>
        Rule.First(
            Rule.Text("noticed", Noticed, 500),
            Rule.Text("found", Found, 2000),
            Rule.Text("proof", Proof, 2000),
            Rule.Text("done", Done, 2000),
            Rule.Lines("parts", [.. Touched.Select(p => p.Called)], 40, 80),
            Rule.Text("deviation", Deviation, 500),
            Rule.Within("minutes", Minutes, 0, MostMinutes),
            Rule.If(
                ClosedAt is not null && (Proof.Length == 0 || Cause is null),
                Proof.Length == 0 ? "proof" : "cause",
                "A fault closes with its cause and its proof: the test that convicted the part."
            )
        );
}
