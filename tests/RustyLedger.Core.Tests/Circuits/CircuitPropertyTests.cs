using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

public sealed class CircuitPropertyTests
{
    private static IEnumerable<(int Seed, OperatingPoint Point)> Points(int count) =>
        Enumerable
            .Range(0, count * 2)
            .Select(s => (s, OperatingPoint.Of(RandomCircuits.Of(s))))
            .Where(p => p.Item2.Problem is null)
            .Take(count);

    private static List<CircuitElement> Resistors(int seed)
    {
        var dice = new Random(seed);
        return
        [
            .. Enumerable
                .Range(0, 15)
                .Select(i => new Resistance($"R{i}", $"n{i % 6}", i < 6 ? "0" : $"n{(i + 1 + dice.Next(4)) % 6}", 1 + dice.Next(1000))),
        ];
    }

    /// <summary>Kirchhoff: what flows into a node flows out of it, and each element keeps its own law.</summary>
    [Fact]
    public void Currents_at_every_node_come_to_nothing()
    {
        foreach (var (seed, point) in Points(300))
        {
            foreach (var node in point.Circuit.Nodes.Where(n => point.Volts(n) is not null))
            {
                var (sum, most) = (0.0, 0.0);
                foreach (var element in point.Circuit.Elements)
                {
                    var amps = point.Amps(element.Name);
                    // A regulator takes at its input what it gives at its output, and nothing at its common.
                    var (from, to) = (element.Nodes[0], element.Nodes[1]);
                    sum += (from == node ? amps : 0) - (to == node ? amps : 0);
                    most = from == node || to == node ? Math.Max(most, Math.Abs(amps)) : most;
                }

                Assert.True(Math.Abs(sum) <= 1e-8 + (1e-8 * most), $"circuit {seed}, {node}: {sum} A is left of {most} A");
            }
        }
    }

    /// <summary>A low-rank update equals a full solution, for every single fault.</summary>
    [Fact]
    public void Every_fault_reads_as_if_it_were_worked_out_anew()
    {
        var (updated, anew) = (0, 0);
        foreach (var (seed, point) in Points(120))
        {
            var prediction = new FaultPrediction([point]);
            foreach (var fault in CircuitFaults.Of(point.Circuit))
            {
                var before = prediction.Factored;
                var quick = prediction.Of(fault);
                var whole = OperatingPoint.Of(point.Circuit.With(fault.Faulted));
                (updated, anew) = prediction.Factored == before ? (updated + 1, anew) : (updated, anew + 1);
                Assert.Equal(whole.Problem?.Kind, quick.Problem?.Kind);
                foreach (var node in point.Circuit.Nodes)
                {
                    var (expected, found) = (whole.Volts(node), quick.Volts(node));
                    Assert.True(
                        expected is null == found is null
                            && Math.Abs((expected ?? 0) - (found ?? 0)) <= 1e-6 + (1e-6 * Math.Abs(expected ?? 0)),
                        $"circuit {seed}, {fault.Words}, {node}: {expected} anew, {found} updated"
                    );
                }
            }
        }

        // Most need no new solution: that is what makes thousands of them quick.
        Assert.True(updated > 3 * anew, $"{updated} updated, {anew} anew");
    }

    /// <summary>The same of what alternates.</summary>
    [Fact]
    public void Every_fault_of_an_alternating_circuit_reads_as_if_it_were_worked_out_anew()
    {
        var (updated, anew) = (0, 0);
        for (var seed = 0; seed < 60; seed++)
        {
            var healthy = OperatingPoint.Of(RandomCircuits.Alternating(seed));
            if (healthy.Problem is not null)
            {
                continue;
            }

            var prediction = new FaultPrediction([healthy]);
            foreach (var fault in CircuitFaults.Of(healthy.Circuit))
            {
                var before = prediction.Factored;
                var quick = prediction.Of(fault);
                var whole = OperatingPoint.Of(healthy.Circuit.With(fault.Faulted));
                (updated, anew) = prediction.Factored == before ? (updated + 1, anew) : (updated, anew + 1);
                Assert.Equal(whole.Problem?.Kind, quick.Problem?.Kind);
                foreach (var node in healthy.Circuit.Nodes)
                {
                    var (expected, found) = (whole.Alternating(node, Circuit.Reference), quick.Alternating(node, Circuit.Reference));
                    Assert.True(
                        expected is null == found is null
                            && ((expected ?? 0) - (found ?? 0)).Magnitude <= 1e-6 + (1e-6 * (expected ?? 0).Magnitude),
                        $"circuit {seed}, {fault.Words}, {node}: {expected} anew, {found} updated"
                    );
                }
            }
        }

        Assert.True(updated > 3 * anew && updated > 500, $"{updated} updated, {anew} anew");
    }

    /// <summary>Superposition: in a linear circuit the volts of two sources add up.</summary>
    [Fact]
    public void Sources_add_up_where_it_is_linear()
    {
        for (var seed = 0; seed < 100; seed++)
        {
            var net = Resistors(seed);
            OperatingPoint With(double a, double b) =>
                OperatingPoint.Of(
                    new Circuit([.. net, new VoltageSource("A", "n0", "0", a, 10), new VoltageSource("B", "n3", "0", b, 20)])
                );
            var (both, first, second) = (With(12, 5), With(12, 0), With(0, 5));
            foreach (var node in both.Circuit.Nodes)
            {
                Assert.Equal(both.Volts(node)!.Value, first.Volts(node)!.Value + second.Volts(node)!.Value, 9);
            }
        }
    }

    /// <summary>Reciprocity: a current in at one place moves another as a current in there moves the first.</summary>
    [Fact]
    public void Pure_resistors_answer_each_other()
    {
        for (var seed = 0; seed < 100; seed++)
        {
            var net = Resistors(seed);
            double Volts(string into, string at) =>
                OperatingPoint.Of(new Circuit([.. net, new CurrentSource("I", "0", into, 0.01)])).Volts(at)!.Value;
            Assert.Equal(Volts("n1", "n4"), Volts("n4", "n1"), 9);
        }
    }

    /// <summary>Other names and another order of the elements change nothing.</summary>
    [Fact]
    public void Names_and_order_do_not_matter()
    {
        foreach (var (seed, point) in Points(60))
        {
            var turned = OperatingPoint.Of(new Circuit(point.Circuit.Elements.Reverse()));
            foreach (var node in point.Circuit.Nodes)
            {
                Assert.Equal(point.Volts(node) ?? -1, turned.Volts(node) ?? -1, 6);
            }

            Assert.True(point.States.All(s => turned.States[s.Key] == s.Value), $"circuit {seed}");
        }
    }

    /// <summary>The factors give the matrix back: A x = b for right sides drawn by lot.</summary>
    [Fact]
    public void Factors_solve_what_they_were_made_of()
    {
        var dice = new Random(7);
        for (var round = 0; round < 60; round++)
        {
            var n = dice.Next(2, 80);
            var entries = new List<(int Row, int Column, double Value)>();
            for (var i = 0; i < n; i++)
            {
                // Small and missing diagonals too, so that rows are exchanged.
                entries.Add((i, (i + 1) % n, 1 + dice.NextDouble()));
                entries.Add((i, i, dice.Next(3) == 0 ? 1e-9 : 3 + dice.NextDouble()));
                for (var j = 0; j < 3; j++)
                {
                    entries.Add((i, dice.Next(n), dice.NextDouble() - 0.5));
                }
            }

            var right = Enumerable.Range(0, n).Select(_ => dice.NextDouble()).ToArray();
            var x = SparseLu.Of(n, entries).Solve(right);
            var back = new double[n];
            foreach (var (row, column, value) in entries)
            {
                back[row] += value * x[column];
            }

            Assert.All(back.Zip(right), p => Assert.Equal(p.Second, p.First, 7));
        }

        Assert.Throws<SingularMatrixException>(() => SparseLu.Of(2, [(0, 0, 1.0), (1, 0, 1.0)]));
    }
}
