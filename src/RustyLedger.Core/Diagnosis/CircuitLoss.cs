using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Sums;
using RustyLedger.Core.Wiring;
using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What copper loses between two pins by the circuit: its length, gauge and contacts, at the current of the state.</summary>
/// <param name="Most">With every number of the circuit off the same way.</param>
/// <param name="Amps">That flow there; 0 where the circuit does not tell them from its parts.</param>
public sealed partial record CircuitLoss(double Volts, double Most, double Amps, double Celsius)
{
    // A circuit that says nothing flows says nothing of a loss.
    private const double LeastVolts = 0.001;
    private const double UsualCelsius = 20;

    /// <returns>Null where the circuit does not have both pins, or nothing flows between them in this state.</returns>
    public static CircuitLoss? Of(PinAddress red, PinAddress black, Entry reading, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(machine);
        if (
            machine.Model.Circuit.Rows.Count == 0
            || machine.Model.States.FirstOrDefault(s => s.Code == reading.State) is not { Energised: true } state
            || CircuitSurvey.Of(MachineCircuit.Of(machine)) is not { } survey
            || survey.Machine.NodeOf(red) is not { } a
            || survey.Machine.NodeOf(black) is not { } b
        )
        {
            return null;
        }

        var expected = survey.Expected(new ReadingPlace(a, b, reading.Mode, state, ""));
        if (expected.Shown.Kind != ShownKind.Number || Math.Abs(expected.Shown.Value) < LeastVolts)
        {
            return null;
        }

        // At each end the most that flows there; what runs from one to the other is no more than either.
        double At(PinAddress end) =>
            survey
                .Machine.Flows.Where(f => f.From == end || f.To == end)
                .Select(f => survey.AmpsThrough(state, f.Element))
                .DefaultIfEmpty(0)
                .Max();
        return new CircuitLoss(
            Math.Abs(expected.Shown.Value),
            Math.Max(Math.Abs(expected.WorstLow), Math.Abs(expected.WorstHigh)),
            Math.Min(At(red), At(black)),
            UsualCelsius
        );
    }

    /// <summary>The same at the current and the temperature that a reading states, such as <c>0.4 at 6 A</c> or <c>at 50 °C</c>.</summary>
    public CircuitLoss At(string remark)
    {
        ArgumentNullException.ThrowIfNull(remark);
        double? Said(Regex of) =>
            of.Match(remark) is { Success: true } said
                ? double.Parse(said.Groups[1].Value.Replace(',', '.'), CultureInfo.InvariantCulture)
                : null;
        var amps = Said(AmpsSaid()) is { } flows && Amps > 0 ? flows : Amps;
        var share = Amps > 0 ? amps / Amps : 1;
        var celsius = Said(CelsiusSaid()) is { } warm and > -60 and < 250 ? warm : Celsius;
        // A copper wire has as many more ohms as it is warmer.
        share *= Conductor.At20(1, Celsius) / Conductor.At20(1, celsius);
        return new CircuitLoss(Volts * share, Most * share, amps, celsius);
    }

    public string Words =>
        string.Join(
            ", ",
            new[]
            {
                Amps > 0 ? $"at {Quantity.Write(Amps, "A")}" : "in this state",
                Celsius != UsualCelsius ? $"copper at {Celsius:0.#} °C" : "",
            }.Where(w => w.Length > 0)
        );

    [GeneratedRegex(@"\bat\s+(\d{1,4}(?:[.,]\d{1,3})?)\s*A\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex AmpsSaid();

    [GeneratedRegex(@"\bat\s+(-?\d{1,3}(?:[.,]\d)?)\s*°?C\b", RegexOptions.CultureInvariant)]
    private static partial Regex CelsiusSaid();
}
