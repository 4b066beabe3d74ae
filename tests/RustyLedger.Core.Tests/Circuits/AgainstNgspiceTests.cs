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
}
