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
            && Chopped().IsMatch(About(check, machine));
    }

    /// <summary>What is written of a check and of its pin.</summary>
    internal static string About(ResolvedCheck check, ResolvedMachine machine) =>
        check.Check.Red is { } red && machine.Pins.TryGetValue(red, out var pin)
            ? $"{check.Check.Remark}; {pin.Pin.Signal}"
            : check.Check.Remark;

    [GeneratedRegex(
        @"\b(?:chopped|PWM|phase[ -]controlled|phase[ -]cut|dimmed|triac)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Chopped();
}
