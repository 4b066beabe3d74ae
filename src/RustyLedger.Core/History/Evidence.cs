using System.Text.Json.Serialization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.History;

/// <summary>Something seen that a fault rests on, as it stood then: pins, numbers and verdicts, not sentences.</summary>
/// <param name="At">When it was seen; null where nobody wrote that down.</param>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Measured), "measured")]
[JsonDerivedType(typeof(FoundByEye), "foundByEye")]
[JsonDerivedType(typeof(Observed), "observed")]
[JsonDerivedType(typeof(Said), "said")]
public abstract record Evidence(DateTimeOffset? At)
{
    /// <summary>A reading with its verdict.</summary>
    /// <param name="State">Code of the operating state.</param>
    /// <param name="Value">As understood, written out.</param>
    /// <param name="Remark">What was typed beside it; may be empty.</param>
    /// <param name="Limit">As it stood; null where none was stated.</param>
    public sealed record Measured(
        DateTimeOffset? At,
        ReadingId Reading,
        PinAddress? Red,
        string RedPrinted,
        PinAddress? Black,
        string BlackPrinted,
        string State,
        string Value,
        string Remark,
        VerdictKind Verdict,
        Limit? Limit
    ) : Evidence(At);

    /// <summary>Something the eye found on a board.</summary>
    public sealed record FoundByEye(DateTimeOffset? At, PositionId Position, NotePlace Place, BoardNoteKind Note, string Text)
        : Evidence(At);

    /// <summary>What the machine showed.</summary>
    public sealed record Observed(DateTimeOffset? At, ObservationKind Observation, string Text) : Evidence(At);

    /// <summary>Words that say no more than they say.</summary>
    public sealed record Said(DateTimeOffset? At, string Text) : Evidence(At);

    /// <summary>A line of it, in a technician's words on that machine, without its time.</summary>
    public string Words(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return this switch
        {
            Measured m => $"{m.RedPrinted}{(m.BlackPrinted.Length > 0 ? $" to {m.BlackPrinted}" : "")}, "
                + $"{machine.Model.States.FirstOrDefault(s => s.Code == m.State)?.Name ?? m.State}: "
                + $"{m.Value}{(m.Remark.Length > 0 ? $" ({m.Remark})" : "")}, "
                + $"{m.Verdict.Word()}{(m.Limit is null ? "" : $" of {LimitNotation.Write(m.Limit)}")}",
            FoundByEye f => $"{machine.Model.Positions.FirstOrDefault(p => p.Id == f.Position)?.Name ?? f.Position.Value}: "
                + $"{f.Note.Words()} at {f.Place.Words(machine.BoardAt.GetValueOrDefault(f.Position))}"
                + (f.Text.Length > 0 ? $", {f.Text}" : ""),
            Observed o => o.Text,
            Said s => s.Text,
            _ => "",
        };
    }
}
