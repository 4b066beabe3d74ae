using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Circuits;

/// <summary>The meter between any two pins, in each of its modes.</summary>
public sealed partial class CircuitReader
{
    // Of a diode test on an ordinary meter. Common practice, no source.
    private const double DiodeTestVolts = 3;
    private const double NothingVolts = 0.05;

    // An insulation tester gives 1 mA at its nominal volts (IEC 61557-2, from memory), and reads up to some hundred megohms.
    private const double InsulationTestVolts = 500;
    private const double InsulationTestAmps = 0.001;
    private const double MostInsulationOhms = 500e6;

    // Of both half-waves of a sine of one volt at its peak: their mean, and what alternates about it as a true-RMS meter finds it, which is
    // the root of 1/2 - (2/π)²; and as one that averages what is rectified and is marked for sines finds it.
    private const double HalfWavesMean = 2 / Math.PI;
    private static readonly double _trueRipple = Math.Sqrt(0.5 - (HalfWavesMean * HalfWavesMean)) / HalfWavesMean;
    private static readonly double _averagedRipple = Averaged() / HalfWavesMean;

    /// <summary>
    /// What a meter shows between any two nodes, which loads what it reads; and what it would show in another of its modes, where this one
    /// shows nothing of what is there.
    /// </summary>
    /// <param name="fault">There before the machine was switched on; null for a healthy one.</param>
    /// <param name="inputOhms">Of the meter for volts: 10 million, or some hundred thousand in low impedance.</param>
    public MeterShows Between(ReadingPlace place, MachineFault? fault, double inputOhms)
    {
        ArgumentNullException.ThrowIfNull(place);
        var isOfDead = place.Mode is MeterMode.Ohms or MeterMode.Continuity or MeterMode.Diode or MeterMode.Insulation;
        return isOfDead && place.State.Energised
                ? new MeterShows(
                    null,
                    0,
                    0,
                    false,
                    $"Not in {place.State.Name}: ohms, junctions and insulation are measured dead, and proved so."
                )
            : place.Mode is MeterMode.DcAmps or MeterMode.AcAmps ? Clamped(place, fault)
            : place.Mode == MeterMode.Diode ? Junction(place, fault)
            : place.Mode == MeterMode.Insulation ? Insulation(place, fault)
            : IsOfDead(place) ? Ohms(place, fault)
            : Volts(place, fault, inputOhms);
    }

    private MeterShows Ohms(ReadingPlace place, MachineFault? fault)
    {
        var shown = fault is null ? Healthy(place) : Faulty(place, fault);
        return shown.Kind switch
        {
            ShownKind.Number => new MeterShows(shown.Value, shown.Value, shown.Value, false, ""),
            ShownKind.AtLeast => new MeterShows(
                null,
                shown.Value,
                MostOhms,
                false,
                "How much a board or a sensor lets through of a meter nobody knows: so much or more, up to OL."
            ),
            _ => new MeterShows(null, MostOhms, double.PositiveInfinity, true, "OL: nothing conducts between them."),
        };
    }

    private MeterShows Junction(ReadingPlace place, MachineFault? fault)
    {
        var drop =
            UnderTest(c => ProbedCircuit.Dead(c, Probe, place.Red, place.Black, DiodeTestVolts, OhmsTestAmps), place, fault)
                .Between(place.Red, place.Black)
            ?? DiodeTestVolts;
        return drop > DiodeTestVolts - NothingVolts
            ? new MeterShows(null, drop, drop, true, "OL: nothing conducts this way round.")
            : new MeterShows(drop, drop, drop, false, "");
    }

    private MeterShows Insulation(ReadingPlace place, MachineFault? fault)
    {
        var point = UnderTest(
            c => ProbedCircuit.Insulation(c, Probe, place.Red, place.Black, InsulationTestVolts, InsulationTestAmps),
            place,
            fault
        );
        var amps = point.Problem is null ? -point.Amps(Probe) : 0;
        var ohms = amps > 0 ? (InsulationTestVolts / amps) - (InsulationTestVolts / InsulationTestAmps) : double.PositiveInfinity;
        // The same caution wherever there is something that it would destroy.
        var words = _circuit.Elements.Any(e => e is Diode or Regulator or Converter or Resistance { IsElectronic: true })
            ? $"With boards, supplies and junctions off the circuit: {InsulationTestVolts:0} V destroys them."
            : $"With {InsulationTestVolts:0} V.";
        return ohms > MostInsulationOhms
            ? new MeterShows(null, MostInsulationOhms, double.PositiveInfinity, true, words)
            : new MeterShows(Math.Max(0, ohms), ohms, ohms, false, words);
    }

    /// <summary>The machine without its sources under the volts of a tester, with what is at fault as far as it is there then.</summary>
    private OperatingPoint UnderTest(Func<Circuit, Circuit> test, ReadingPlace place, MachineFault? fault)
    {
        var probed = OperatingPoint.Of(test(_machine.In(place.State, _circuit)));
        if (fault is null)
        {
            return probed;
        }

        List<CircuitElement> faulted = [.. fault.Faulted, .. BlownBy(fault)];
        List<CircuitElement> here = [.. faulted.Where(e => probed.Circuit.Contains(e.Name)).Select(e => AsHere(e, probed.Circuit))];
        return fault.IsRewired ? OperatingPoint.Of(test(_machine.In(place.State, Rewired(faulted))))
            // A source is not there on a dead machine, and neither is its fault.
            : here.Count > 0 ? new FaultPrediction([probed]).Of(here)
            : probed;
    }

    private MeterShows Volts(ReadingPlace place, MachineFault? fault, double inputOhms)
    {
        var point = fault is null ? PointIn(place.State) : PointIn(place.State, fault);
        if (point.Problem is { } problem)
        {
            return new MeterShows(null, 0, 0, false, problem.Words);
        }

        if (point.Between(place.Red, place.Black) is null)
        {
            return ProbedCircuit.Volts(point, place.Red, place.Black, inputOhms);
        }

        var under = OperatingPoint.Of(
            new Circuit([.. point.Circuit.Elements, new Resistance(Probe, place.Red, place.Black, inputOhms)])
            {
                Hertz = point.Circuit.Hertz,
            },
            point.States
        );
        var (direct, alternating) = (under.Between(place.Red, place.Black) ?? 0, under.Alternating(place.Red, place.Black)?.Magnitude ?? 0);
        if (place.Mode == MeterMode.AcVolts && Math.Abs(direct) > NothingVolts && Ripple(under, place.Red) is { } isRipple)
        {
            return isRipple
                ? HalfWaves(Math.Abs(direct))
                : new MeterShows(null, 0, 0, false, "What alternates there is no sine: it is not predicted.");
        }

        var hiddenIs = place.Mode == MeterMode.AcVolts ? "DC" : "AC";
        var (shows, hidden) = place.Mode == MeterMode.AcVolts ? (alternating, Math.Abs(direct)) : (direct, alternating);
        return new MeterShows(
            shows,
            shows,
            shows,
            false,
            Math.Abs(shows) < NothingVolts && hidden > NothingVolts
                ? $"In this mode nothing; {Shown.Number(hidden, Unit.Volts).Words} {hiddenIs} are there."
                : ""
        );
    }

    private static MeterShows HalfWaves(double mean)
    {
        var (exact, averaged) = (mean * _trueRipple, mean * _averagedRipple);
        return new MeterShows(
            exact,
            exact,
            exact,
            false,
            $"Half-waves about {Shown.Number(mean, Unit.Volts).Words}: so much by true RMS; a meter that averages shows "
                + $"{Shown.Number(averaged, Unit.Volts).Words}."
        );
    }

    /// <summary>
    /// Whether what alternates there are the half-waves of an unsmoothed rectifier: true where nothing but resistance hangs on one,
    /// false where something changes their shape, null where no unsmoothed rectifier feeds it.
    /// </summary>
    private static bool? Ripple(OperatingPoint point, string node)
    {
        List<CircuitElement> on = [.. point.Circuit.Elements.Where(e => FedSide(e).All(n => point.Between(n, node) is not null))];
        var rectifiers = on.OfType<Converter>().Where(c => c.Volts is null && c.Ratio < 1).ToList();
        return rectifiers.Count == 0
            ? null
            : rectifiers.Count == 1
                && on.TrueForAll(e =>
                    e is Fuse or Switch or RelayContact or Resistance { DeadOhms: null }
                    || e == rectifiers[0]
                    || (e is Diode d && point.States[d.Name] == ElementState.Off)
                );
    }

    /// <summary>The nodes at which an element feeds or loads what is direct.</summary>
    private static IReadOnlyList<string> FedSide(CircuitElement element) => element is Converter c ? [c.Plus, c.Minus] : element.Nodes;

    /// <summary>
    /// The mean of how far both half-waves of a sine of one volt stand from their own mean m, times π/(2√2), by which a meter that
    /// averages is marked for sines: (4/π)(cos a - 1 + m a) with a = asin m.
    /// </summary>
    private static double Averaged()
    {
        var a = Math.Asin(HalfWavesMean);
        return 4 / Math.PI * (Math.Cos(a) - 1 + (HalfWavesMean * a)) * Math.PI / (2 * Math.Sqrt(2));
    }

    /// <summary>A clamp around the wire at the red place.</summary>
    private MeterShows Clamped(ReadingPlace place, MachineFault? fault)
    {
        var point = fault is null ? PointIn(place.State) : PointIn(place.State, fault);
        return point.Problem is null && Through(place, point) is var (amps, wire)
            ? new MeterShows(amps, amps, amps, false, $"Through {wire}.")
            : new MeterShows(null, 0, 0, false, point.Problem?.Words ?? "No wire of the circuit ends there.");
    }

    /// <summary>What a clamp around the wire at the red place shows, and which wire that is; null where none ends there.</summary>
    private static (double Amps, string Wire)? Through(ReadingPlace place, OperatingPoint point)
    {
        double Amps(CircuitElement e) =>
            place.Mode == MeterMode.AcAmps ? point.AlternatingAmps(e.Name).Magnitude : Math.Abs(point.Amps(e.Name));
        var here = WiresAt(point.Circuit, place.Red);
        // Of a plug's pin the contact is the wire; of another place the one that carries most.
        return (here.Find(e => e.Name == MachineCircuit.ContactAt(place.Red)) ?? here.MaxBy(Amps)) is { } wire
            ? (Amps(wire), wire.Name)
            : null;
    }

    /// <summary>What a clamp could close around at a node.</summary>
    internal static List<CircuitElement> WiresAt(Circuit circuit, string node) =>
        [
            .. circuit.Elements.Where(e =>
                e is Resistance { Ohms: < double.PositiveInfinity } or Fuse or Switch or RelayContact && e.Nodes.Contains(node)
            ),
        ];
}
