using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests;

/// <summary>Where a probe is put on the sample, in short.</summary>
internal static class Probe
{
    /// <param name="holder">A position, a part off the boards, or empty on a board type.</param>
    public static PinAddress At(string holder, string pin) =>
        holder.Length == 0 ? new PinAddress.OnType(pin)
        : holder is "ps" or "m1" or "m2" ? new PinAddress.OffBoard(holder, pin)
        : new PinAddress.OnBoard(holder, pin);
}
