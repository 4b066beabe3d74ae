namespace RustyLedger.Core.Wiring;

/// <summary>A pin by what holds it, a position or an off-board part, and its own id within that.</summary>
public sealed record PinAddress(string Holder, string Pin)
{
    /// <summary>The holder in links and checks that a board type owns, before it is put into a position.</summary>
    public const string OnThisBoard = "";
}

/// <summary>A conductor between two pins, or a path inside a board.</summary>
/// <param name="Directed">Power runs from <paramref name="From"/> to <paramref name="To"/>.</param>
public sealed record Link(string Id, PinAddress From, PinAddress To, bool Directed);
