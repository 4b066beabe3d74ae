using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

public enum FoundKind
{
    /// <summary>Between good pins, or those where power enters, and a bad one.</summary>
    Between,

    /// <summary>Beyond what a bad pin before it explains.</summary>
    Further,

    /// <summary>Where power enters.</summary>
    Supply,

    /// <summary>Before a pin of which the wiring does not say what feeds it.</summary>
    BeforeTheRecord,

    /// <summary>Nowhere: a reading contradicts one that hangs on it.</summary>
    Contradicted,

    /// <summary>One place that explains several bad pins.</summary>
    OnePlace,

    /// <summary>Along a return.</summary>
    Return,
}

/// <summary>Where the readings put a fault, in pins and parts; words are made of it where it is shown.</summary>
/// <param name="Verdict">Of the bad pin.</param>
/// <param name="Bads">The pins that are bad by it; of a return its far end, and what the loss explains.</param>
/// <param name="From">Where it is good still; of a return its near end; of a contradiction the pin that reads good.</param>
/// <param name="IsAll">It explains every bad pin there is.</param>
/// <param name="Ends">The ends of a run that is too long to be named link by link; empty otherwise.</param>
/// <param name="Volts">What a return loses; null for any other.</param>
public sealed record FoundPlace(
    FoundKind Kind,
    VerdictKind Verdict,
    IReadOnlyList<PinAddress> Bads,
    IReadOnlyList<PinAddress> From,
    IReadOnlyList<Suspect> Suspects,
    bool IsAll = false,
    IReadOnlyList<PinAddress>? Ends = null,
    decimal? Volts = null
)
{
    /// <summary>One sentence: where the fault lies.</summary>
    public string Sentence(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        string Name(PinAddress at) => machine.Pins.TryGetValue(at, out var pin) ? pin.Printed : "a pin that is no longer there";
        var bad = Name(Bads[0]);
        var suspects = StretchWords.Join(Suspects.Select(s => s.Words(machine)), "or");
        switch (Kind)
        {
            case FoundKind.Contradicted:
                return $"{bad} reads {Read}, but {Name(From[0])}, which only it feeds, is good: read {bad} again.";
            case FoundKind.Supply:
                return $"The supply is at fault: {bad} reads {Read} where power enters, or a load pulls it down.";
            case FoundKind.BeforeTheRecord:
                return $"{bad} reads {Read}, and what feeds it is not in the record.";
            case FoundKind.Return:
                var explained = Bads.Skip(1).Select(Name).ToList();
                return $"The return loses {Numbers.Write(Volts ?? 0)} V from {bad} to {Name(From[0])}: a contact or the wire along "
                    + $"it.{(explained.Count > 0 ? $" It explains {StretchWords.Join(explained, "and")}." : "")}";
            case FoundKind.OnePlace:
                var between = Ends is [var first, var last] ? $", between {Name(first)} and {Name(last)}" : "";
                var explains = IsAll ? "every bad pin" : StretchWords.Join(Bads.Select(Name), "and");
                return $"One place explains {explains}{between}: {suspects}.";
            default:
                var head =
                    Kind == FoundKind.Further
                        ? "A further loss is"
                        : Verdict switch
                        {
                            VerdictKind.High => "The excess comes in",
                            VerdictKind.Reversed => "The wires are turned",
                            _ => "The loss is",
                        };
                return $"{head} between {StretchWords.Join(From.Select(Name), "or")} and {bad}: {suspects}.";
        }
    }

    private string Read =>
        Verdict switch
        {
            VerdictKind.Low => "low",
            VerdictKind.High => "high",
            VerdictKind.Dead => "dead",
            VerdictKind.Reversed => "reversed",
            _ => "wrong",
        };
}
