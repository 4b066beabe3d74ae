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
}
