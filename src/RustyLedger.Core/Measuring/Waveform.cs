using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>What is known of the shape of the volts at a check.</summary>
public static partial class Waveform
{
    /// <summary>Somebody wrote that it is chopped or phase-controlled there: in what the pin does, or in the remark of the check.</summary>
    public static bool IsChopped(ResolvedCheck check, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(machine);
        return check.Check.Mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.DcAmps or MeterMode.AcAmps
            && (
                Chopped().IsMatch(check.Check.Remark)
                || (check.Check.Red is { } red && machine.Pins.TryGetValue(red, out var pin) && Chopped().IsMatch(pin.Pin.Signal))
            );
    }

    [GeneratedRegex(
        @"\b(?:chopped|PWM|phase[ -]controlled|phase[ -]cut|dimmed|triac)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Chopped();
}
