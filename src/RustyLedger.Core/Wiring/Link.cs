namespace RustyLedger.Core.Wiring;

/// <summary>A conductor between two pins, or a path inside a board.</summary>
/// <param name="Directed">Power runs from <paramref name="From"/> to <paramref name="To"/>.</param>
public sealed record Link(LinkId Id, PinAddress From, PinAddress To, bool Directed)
{
    /// <summary>Printed on the sleeve of the wire: the same number is one potential. Empty where there is none, or nobody looked.</summary>
    public string Number { get; init; } = "";
}
