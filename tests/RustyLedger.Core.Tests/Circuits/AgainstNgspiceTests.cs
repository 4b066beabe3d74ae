using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>
/// The same laws in ngspice: within 0.1 % or 1 mV, whichever is larger. It is no judge behind an open: a node whose volts move when the
/// open contact is made a hundred times wider counts as floating, and here such nodes have no volts.
/// </summary>
public sealed class AgainstNgspiceTests
{
    private const int Circuits = 320;

    private static void Same(double expected, double found, string what) =>
        Assert.True(Math.Abs(expected - found) <= Math.Max(1e-3, 1e-3 * Math.Abs(expected)), $"{what}: ngspice {expected}, here {found}");

    [Fact]
    public void Healthy_and_faulty_circuits_of_all_kinds_read_the_same()
    {
        var all = new List<(string Name, OperatingPoint Point)>();
        for (var seed = 0; all.Count < Circuits; seed++)
        {
            var circuit = RandomCircuits.Of(seed);
            var healthy = OperatingPoint.Of(circuit);
            if (healthy.Problem is not null)
            {
                continue;
            }

            all.Add(($"circuit {seed}", healthy));
            var faults = CircuitFaults.Of(circuit);
            var fault = faults[seed % faults.Count];
            if (new FaultPrediction([healthy]).Of(fault) is { Problem: null } faulty)
            {
                all.Add(($"circuit {seed}, {fault.Words}", faulty));
            }
        }

        Assert.True(all.Count > 300);
        var there = Ngspice.Many([.. all.Select(a => (a.Point.Circuit, a.Point.States))]);
        var compared = 0;
        foreach (var (i, (name, point)) in all.Index())
        {
            foreach (var node in point.Circuit.Nodes)
            {
                if (point.Volts(node) is { } volts && there[i].TryGetValue(node, out var expected))
                {
                    Same(expected, volts, $"{name}, {node}");
                    compared++;
                }
            }
        }

        Assert.True(compared > 1500, $"{compared} nodes were compared");
    }

    [Fact]
    public void Phasors_are_the_same()
    {
        for (var seed = 0; seed < 40; seed++)
        {
            var circuit = RandomCircuits.Alternating(seed);
            var here = AcPoint.Of(circuit, 50);
            foreach (var (node, expected) in Ngspice.Phasors(circuit, 50))
            {
                var found = here.Volts(node);
                Assert.True(
                    (expected - found).Magnitude <= Math.Max(1e-3, 1e-3 * expected.Magnitude),
                    $"circuit {seed}, {node}: ngspice {expected}, here {found}"
                );
            }
        }
    }

    /// <summary>Four junctions of a real law, into a load, over whole periods after it has settled.</summary>
    [Theory]
    [InlineData(12, 0.2, 47, 0)]
    [InlineData(24, 0.5, 100, 0)]
    [InlineData(42, 0.4, 33, 0)]
    [InlineData(230, 1, 1000, 0)]
    [InlineData(12, 0.05, 470, 4.7e-3)]
    [InlineData(24, 0.1, 470, 2.2e-3)]
    [InlineData(48, 0.1, 1000, 1e-3)]
    public void A_rectifier_gives_the_mean_of_its_waveform(double volts, double ohms, double load, double farads)
    {
        var mean = Ngspice.Mean(
            string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"""
                * a bridge
                V1 s b SIN(0 {volts * Math.Sqrt(2)} 50)
                R1 s a {ohms}
                D1 a p d
                D2 b p d
                D3 0 a d
                D4 0 b d
                R3 b 0 100k
                C2 a b 100n
                .options method=gear
                .model d D(IS=1e-9 N=1.7 RS=0.02)
                R2 p 0 {load}
                {(farads > 0 ? $"C1 p 0 {farads}" : "*")}
                .control
                tran 20u 400m 200m 20u
                meas tran mean AVG v(p) from=200m to=400m
                quit
                .endc
                .end
                """
            )
        );
        // What is left in the capacitor falls between the peaks: half of I/(2 f C) on the mean.
        var ripple = farads > 0 ? 1 / (4 * 50 * farads) : 0;
        var ratio = farads > 0 ? Math.Sqrt(2) : 2 * Math.Sqrt(2) / Math.PI;
        var here = OperatingPoint
            .Of(
                new Circuit([
                    new VoltageSource("V1", "a", "b", 0, ohms, volts),
                    new Converter("bridge", "a", "b", "p", "0", null, ratio, 1.4, 0, ripple, 1e6),
                    new Resistance("load", "p", "0", load),
                ])
            )
            .Volts("p")!
            .Value;
        Assert.True(Math.Abs(here - mean) <= 0.03 * mean, $"ngspice {mean}, here {here}");
    }

    /// <summary>
    /// An LED by its real law, with whatever its maker meant by its volts and amps within what is assumed of it: the current lies in the
    /// band of those spreads.
    /// </summary>
    [Theory]
    [InlineData("LED red 24 V 10 mA", 1.8)]
    [InlineData("LED green 12 V 5 mA", 2.1)]
    [InlineData("LED blue 5 V 2 mA", 3.0)]
    [InlineData("LED white 24 V 20 mA", 3.0)]
    public void An_led_of_a_real_law_lies_within_the_band(string text, double drops)
    {
        var law = PartNotation.Read(text);
        Assert.Equal(drops, law["drops"]);
        double Here(double supply, double dropsBy, double ampsBy) =>
            OperatingPoint
                .Of(
                    new Circuit([
                        new VoltageSource("V1", "a", "0", supply),
                        .. PartElements.Of("led", law.Scaled("drops", dropsBy).Scaled("amps", ampsBy), ["a", "0"], false, ""),
                    ])
                )
                .Amps("led");
        var (dropsOff, ampsOff) = (law.Numbers.Single(n => n.Name == "drops").Spread, law.Numbers.Single(n => n.Name == "amps").Spread);
        foreach (var share in (double[])[0.3, 0.5, 0.7, 0.9, 1, 1.1, 1.2])
        {
            // Those of more volts bend more gently. From memory.
            foreach (var slope in drops > 2.5 ? (double[])[3, 3.5, 4] : [1.5, 2, 2.5])
            {
                var (supply, thermal) = (law["volts"] * share, slope * 0.02585);
                var saturation = law["amps"] / (Math.Exp(drops / thermal) - 1);
                var there = Ngspice.Measured(
                    string.Create(
                        System.Globalization.CultureInfo.InvariantCulture,
                        $"""
                        * an LED and what is before it
                        V1 a 0 DC {supply}
                        R1 a b {(law["volts"] - drops) / law["amps"]}
                        D1 b 0 led
                        .model led D(IS={saturation} N={slope})
                        .options reltol=1e-6 abstol=1e-15
                        .control
                        set numdgt=10
                        op
                        let amps = (v(a)-v(b))/{(law["volts"] - drops) / law["amps"]}
                        print amps
                        quit
                        .endc
                        .end
                        """
                    )
                )["amps"];
                var (low, high) = (Here(supply, 1 + dropsOff, 1 - ampsOff), Here(supply, 1 - dropsOff, 1 + ampsOff));
                // Below its forward volts a real one takes a hundredth of what it is made for: nobody sees it.
                Assert.InRange(there, low - (law["amps"] / 100), high + (law["amps"] / 100));
            }
        }
    }

    /// <summary>
    /// Relays with start, stop and holding contacts, and their switches turned one after the other, in the time domain: contacts follow
    /// their coils' volts with the hysteresis of pulling in and dropping out. What each act leaves behind is the same.
    /// </summary>
    [Fact]
    public void Relays_stand_the_same_after_each_act_of_a_script()
    {
        var (compared, held) = (0, 0);
        for (var seed = 0; seed < 24; seed++)
        {
            var script = RelayScript.Of(seed);
            var points = ActSequence.Run(script.Circuit, script.Acts);

            var there = Ngspice.Measured(script.InTime());
            foreach (var (act, point) in points.Index())
            {
                Assert.Null(point.Problem);
                foreach (var (relay, node) in script.Loads.Index())
                {
                    Same(there[RelayScript.Named(act, relay)], point.Volts(node) ?? 0, $"script {seed}, act {act}, {node}");
                    compared++;
                    held += point.Volts(node) > 12 ? 1 : 0;
                }
            }
        }

        Assert.InRange(held, compared / 5, compared * 4 / 5);
    }
}
