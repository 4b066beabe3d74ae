using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Circuits;

/// <summary>What a meter shows between two nodes.</summary>
/// <param name="Value">In volts or ohms; null where there is a range, or OL.</param>
/// <param name="Low">The least it may show; equal to <paramref name="High"/> where it is one value.</param>
/// <param name="IsOpen">OL: no path, or more than the meter reaches.</param>
/// <param name="Words">The same in a sentence.</param>
public sealed record MeterShows(double? Value, double Low, double High, bool IsOpen, string Words)
{
    /// <summary>What stands on its display, in a unit; a dash where it shows nothing that means anything.</summary>
    public string Written(string unit) =>
        Value is { } value ? Quantity.Write(Math.Abs(value) < CurrentPath.LeastAmps ? 0 : value, unit)
        : IsOpen
            ? double.IsPositiveInfinity(High) && Low > MostOfOrdinary ? $"above {Quantity.Write(Low, unit)}"
                : "OL"
        : High > Low ? $"{Quantity.Write(Low, unit)} to {Quantity.Write(High, unit)}"
        : "—";

    // Beyond what an ordinary meter reaches in ohms, an insulation tester says how far it looked.
    private const double MostOfOrdinary = 100e6;
}

/// <summary>A circuit under the probes of a meter, which is a part of it while it reads.</summary>
public static class ProbedCircuit
{
    private const string Probe = "\u0000meter";

    // What a meter shows at most in ohms; beyond it is OL. Common practice, no source.
    private const double MostOhms = 60e6;

    /// <summary>
    /// Volts, with what the meter itself draws; a node that nothing holds has a range and never a value, unless the meter loads it as in
    /// its
    /// low-impedance mode.
    /// </summary>
    /// <param name="point">Has an operating point.</param>
    /// <param name="inputOhms">Of the meter, such as 10 million, or 400,000 in low impedance.</param>
    /// <exception cref="KeyNotFoundException">There is no such node.</exception>
    public static MeterShows Volts(OperatingPoint point, string red, string black, double inputOhms)
    {
        ArgumentNullException.ThrowIfNull(point);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(inputOhms);
        var open = point.Between(red, black);
        if (open is null)
        {
            _ = point.Circuit.IndexOf(red) + point.Circuit.IndexOf(black);
            var volts = point.Circuit.Nodes.Select(point.Volts).OfType<double>().Append(0).ToList();
            var span = volts.Max() - volts.Min();
            return new MeterShows(
                null,
                -span,
                span,
                false,
                "Nothing holds it: what a meter shows there is what it picks up, and less the more the meter loads it."
            );
        }

        var probed = OperatingPoint.Of(With(point.Circuit, new Resistance(Probe, red, black, inputOhms)), point.States);
        var shown = probed.Between(red, black) ?? open.Value;
        return new MeterShows(shown, shown, shown, false, "");
    }

    /// <summary>
    /// Ohms on a dead machine: its sources are away, and the meter puts its test volts through what conducts, junctions included where
    /// these
    /// are enough for them.
    /// </summary>
    /// <param name="circuit">With its switches as they stand; relays are at rest.</param>
    /// <param name="testVolts">At the open probes, above 0.</param>
    /// <param name="testAmps">Through a short, above 0.</param>
    public static MeterShows Ohms(Circuit circuit, string red, string black, double testVolts, double testAmps)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(testVolts);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(testAmps);
        var dead = Dead(circuit, Probe, red, black, testVolts, testAmps);
        var point = OperatingPoint.Of(dead);
        var amps = point.Problem is null ? -point.Amps(Probe) : 0;
        var ohms = amps > 0 ? (testVolts - (amps * testVolts / testAmps)) / amps : double.PositiveInfinity;
        return ohms > MostOhms
            ? new MeterShows(null, MostOhms, double.PositiveInfinity, true, "OL: nothing conducts between them.")
            : new MeterShows(ohms, ohms, ohms, false, "");
    }

    /// <summary>The circuit without its sources, under the test volts of a meter; motors at rest and lamps cold.</summary>
    /// <param name="probe">Name of the meter among the elements.</param>
    /// <param name="takesBoards">Boards and sensors take as much as at their own volts, which is the most they may; else nothing.</param>
    internal static Circuit Dead(
        Circuit circuit,
        string probe,
        string red,
        string black,
        double testVolts,
        double testAmps,
        bool takesBoards = false
    ) =>
        new([
            .. circuit
                .Elements.Where(e => e is not (VoltageSource or CurrentSource or Regulator or Converter))
                .Select(e =>
                    e is Resistance { IsElectronic: true } board ? board with { Ohms = takesBoards ? board.Ohms : double.PositiveInfinity }
                    : e is Resistance { DeadOhms: { } dead } r ? r with { Ohms = double.IsFinite(r.Ohms) ? dead : r.Ohms, DeadOhms = null }
                    : e
                ),
            new VoltageSource(probe, red, black, testVolts, testVolts / testAmps),
        ]);

    /// <summary>The same for an insulation tester: boards, supplies and junctions are off it, motors are their windings.</summary>
    internal static Circuit Insulation(Circuit circuit, string probe, string red, string black, double testVolts, double testAmps) =>
        new(Dead(circuit, probe, red, black, testVolts, testAmps).Elements.Where(e => e is not Diode));

    private static Circuit With(Circuit circuit, CircuitElement more) => new([.. circuit.Elements, more]);
}
