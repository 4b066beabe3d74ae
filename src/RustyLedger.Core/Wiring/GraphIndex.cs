namespace RustyLedger.Core.Wiring;

/// <summary>The number of a pin in a <see cref="FeedGraph"/>, from 0 in natural order of the printed names.</summary>
public readonly record struct PinIndex(int Value) : IComparable<PinIndex>
{
    public static implicit operator int(PinIndex pin) => pin.Value;

    public int ToInt32() => Value;

    public int CompareTo(PinIndex other) => Value.CompareTo(other.Value);

    public static bool operator <(PinIndex left, PinIndex right) => left.Value < right.Value;

    public static bool operator <=(PinIndex left, PinIndex right) => left.Value <= right.Value;

    public static bool operator >(PinIndex left, PinIndex right) => left.Value > right.Value;

    public static bool operator >=(PinIndex left, PinIndex right) => left.Value >= right.Value;
}

/// <summary>The number of a link in a <see cref="FeedGraph"/>, from 0 by its ends; no place for a pin's.</summary>
public readonly record struct LinkIndex(int Value)
{
    public static implicit operator int(LinkIndex link) => link.Value;

    public int ToInt32() => Value;
}

/// <summary>A link of a <see cref="FeedGraph"/>: power runs from one pin to the other.</summary>
/// <param name="Id">Of the <see cref="Machines.ResolvedLink"/> that it is.</param>
public readonly record struct FeedLink(PinIndex From, PinIndex To, string Id);
