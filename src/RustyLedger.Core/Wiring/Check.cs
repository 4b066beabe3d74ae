using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>What a check is aimed at.</summary>
public enum CheckTarget
{
    /// <summary>One pin against a common pin.</summary>
    PinAndCommon,

    /// <summary>Two pins of equal standing, such as the two ends of a coil.</summary>
    Pair,

    /// <summary>A part as a whole, such as a lamp.</summary>
    Part,

    /// <summary>Nothing on the drawing, such as a displayed register.</summary>
    Nothing,
}

/// <summary>One thing to look at or measure.</summary>
/// <param name="Red">The pin under the red probe; null for a part or nothing.</param>
/// <param name="Black">The common, or the other pin of a pair.</param>
/// <param name="Part">Holder and element or part looked at, where the target is a part.</param>
/// <param name="State">Code of the operating state.</param>
/// <param name="Plugged">Whether the connector is plugged in; null where it does not matter.</param>
/// <param name="Remark">What to look out for, in words; may be empty.</param>
public sealed record Check(
    CheckId Id,
    CheckTarget Target,
    PinAddress? Red,
    PinAddress? Black,
    string Part,
    MeterMode Mode,
    string State,
    bool? Plugged,
    Limit Limit,
    string Remark
)
{
    /// <summary>Its place in the sheets it came from, one after the other; null for one that was written by hand.</summary>
    public int? Line { get; init; }
}
