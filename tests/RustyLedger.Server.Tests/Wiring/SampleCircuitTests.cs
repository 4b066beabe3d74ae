using System.Numerics;
using System.Text.Json;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Tests.Circuits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Tests.Wiring;

/// <summary>The circuits of the sample machines, held against ngspice and against their own typed sheets.</summary>
public sealed class SampleCircuitTests
{
    private static MachineCircuit CircuitOf(string name)
    {
        var file = JsonSerializer.Deserialize<MachineFile>(
            File.ReadAllText(Path.Combine(TestLedger.DemoFolder, name, "machine.json")),
            MachineFile.OneLine
        )!;
        var build = VariantDecision.Of(file.Machine.Plate, file.Model.Variants, new DateOnly(2026, 11, 27)).Chosen;
        return MachineCircuit.Of(ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id), build));
    }

    public static TheoryData<string, string> Machines =>
        new()
        {
            { "ly-01", "extending" },
            { "ly-03", "raising" },
            { "ly-04", "running" },
            { "ly-07", "standby" },
            { "ly-10", "running" },
        };

    [Theory]
    [MemberData(nameof(Machines))]
    public void Nothing_is_missing_and_the_typed_sheet_agrees(string name, string state)
    {
        var circuit = CircuitOf(name);
        Assert.Empty(circuit.Problems);
        Assert.Empty(circuit.Gaps);
        var survey = CircuitSurvey.Of(circuit)!;
        Assert.NotEmpty(survey.Rows);
        Assert.Contains(survey.Rows, r => r.Check.State.Code == state);
        Assert.All(survey.Rows, r => Assert.Equal("", r.Contradiction));
        Assert.All(circuit.Machine.Model.States, s => Assert.Null(circuit.PointsTo(s)[^1].Problem));
    }

    [Theory]
    [MemberData(nameof(Machines))]
    public void Every_single_fault_reads_as_in_ngspice(string name, string state)
    {
        var circuit = CircuitOf(name);
        var survey = CircuitSurvey.Of(circuit)!;
        var at = circuit.Machine.Model.States.Single(s => s.Code == state);
        var all = survey
            .Faults.Select(f => (f.Words, Point: survey.PointIn(at, f)))
            .Prepend(("healthy", survey.PointIn(at, null)))
            .Where(f => f.Item2.Problem is null)
            .ToList();
        // One that has no rest has nothing to be compared; they are few.
        Assert.True(all.Count > survey.Faults.Count * 0.9);
        List<(Circuit, IReadOnlyDictionary<string, ElementState>)> circuits = [.. all.Select(a => (a.Item2.Circuit, a.Item2.States))];
        var alternates = circuit.Circuit!.HasAc;
        var there = alternates
            ? Ngspice.ManyPhasors(circuits, circuit.Circuit.Hertz)
            : [.. Ngspice.Many(circuits).Select(c => c.ToDictionary(n => n.Key, n => new Complex(n.Value, 0)))];
        var compared = 0;
        foreach (var (i, (words, point)) in all.Index())
        {
            foreach (var node in point.Circuit.Nodes)
            {
                if (
                    (alternates ? point.Alternating(node, Circuit.Reference) : point.Volts(node)) is { } volts
                    && there[i].TryGetValue(node, out var expected)
                )
                {
                    Assert.True(
                        (expected - volts).Magnitude <= Math.Max(1e-3, 1e-3 * expected.Magnitude),
                        $"{name} with {words}, {node}: ngspice {expected}, here {volts}"
                    );
                    compared++;
                }
            }
        }

        Assert.True(compared > 3 * all.Count, $"{compared} nodes were compared");
    }

    /// <summary>A low-rank update equals a full solution, on the way from off, for every single fault of the machine.</summary>
    [Theory]
    [MemberData(nameof(Machines))]
    public void Every_single_fault_reads_as_if_it_were_worked_out_anew(string name, string state)
    {
        var circuit = CircuitOf(name);
        var points = circuit.PointsTo(circuit.Machine.Model.States.Single(s => s.Code == state));
        var prediction = new FaultPrediction(points);
        foreach (var fault in MachineFaults.Of(circuit).Where(f => !f.IsRewired))
        {
            var quick = prediction.Of(fault.Faulted);
            OperatingPoint? whole = null;
            foreach (var point in points)
            {
                whole = OperatingPoint.Of(
                    point.Circuit.With([
                        .. fault.Faulted.Select(f =>
                            (f, point.Circuit[f.Name]) is (Switch { IsWelded: false } then, Switch now) ? now with { Ohms = then.Ohms } : f
                        ),
                    ]),
                    whole?.States
                );
                if (whole.Problem is not null)
                {
                    break;
                }
            }

            Assert.Equal(whole!.Problem?.Kind, quick.Problem?.Kind);
            Assert.All(
                quick.Circuit.Nodes,
                n =>
                    Assert.True(
                        whole.Volts(n) is null == quick.Volts(n) is null
                            && Math.Abs((whole.Volts(n) ?? 0) - (quick.Volts(n) ?? 0)) <= 1e-6 + (1e-6 * Math.Abs(whole.Volts(n) ?? 0)),
                        $"{name}, {fault.Words}, {n}: {whole.Volts(n)} anew, {quick.Volts(n)} updated"
                    )
            );
            Assert.All(
                quick.Circuit.Nodes,
                n =>
                {
                    var (expected, found) = (whole.Alternating(n, Circuit.Reference), quick.Alternating(n, Circuit.Reference));
                    Assert.True(
                        expected is null == found is null
                            && ((expected ?? 0) - (found ?? 0)).Magnitude <= 1e-6 + (1e-6 * (expected ?? 0).Magnitude),
                        $"{name}, {fault.Words}, {n}: {expected} anew, {found} updated, alternating"
                    );
                }
            );
        }
    }

    /// <summary>
    /// Of the samples somebody entered which pin feeds which. The circuit says the same of each where all of that is taken away, and the
    /// sheet has its order and its path all the same.
    /// </summary>
    [Theory]
    [InlineData("ly-01", 0)]
    [InlineData("ly-03", 0)]
    [InlineData("ly-04", 0)]
    [InlineData("ly-10", 0)]
    // What its release contact is fed with comes out of a board whose inside nobody entered.
    [InlineData("ly-07", 2)]
    public void The_circuit_says_which_way_power_runs_where_nobody_entered_it(string name, int unknown)
    {
        var machine = CircuitOf(name).Machine;
        var bare = machine with { Links = [.. machine.Links.Select(l => l with { Directed = false })] };
        var entered = machine.Links.Where(l => l.Directed).Select(l => (l.From, l.To)).ToList();
        var said = MachineFeeds.Of(bare).Links;
        Assert.All(said, l => Assert.Equal(Level.Computed, l.Origin.Level));
        var ways = said.Select(l => (l.From, l.To)).ToHashSet();
        Assert.Equal(unknown, entered.Count(e => !ways.Contains(e)));
        Assert.DoesNotContain(entered, e => ways.Contains((e.To, e.From)));
        Assert.DoesNotContain(FeedGraph.Of(bare).ToMend, m => m.Kind == MendKind.Loop);
        // And what was entered stands: nothing comes to a pin beside what somebody said feeds it.
        var fed = entered.Select(e => e.To).ToHashSet();
        Assert.All(MachineFeeds.Of(machine).Links.Where(l => l.Origin.Level == Level.Computed), l => Assert.DoesNotContain(l.To, fed));
    }

    [Theory]
    [InlineData("ly-03")]
    [InlineData("ly-04")]
    [InlineData("ly-10")]
    public void A_sheet_has_its_order_by_the_circuit(string name)
    {
        var machine = CircuitOf(name).Machine;
        var bare = machine with { Links = [.. machine.Links.Select(l => l with { Directed = false })] };
        IEnumerable<string> Keys(ResolvedMachine of) => SheetOrder.Of(of, FeedGraph.Of(of)).Select(c => c.Key.ToString());
        Assert.Equal(Keys(machine), Keys(bare));
    }

    [Fact]
    public void Contacts_and_wires_are_near_one_in_five()
    {
        // Common practice, no source: of the faults of ordinary machines near one in five is a contact or a wire.
        foreach (var name in (string[])["ly-01", "ly-03", "ly-04"])
        {
            var circuit = CircuitOf(name);
            var wires = circuit.Parts.Where(p => p.Law.Kind is LawKind.Wire or LawKind.Contact).Select(p => p.Name).ToHashSet();
            var faults = MachineFaults.Of(circuit);
            Assert.InRange(faults.Where(f => wires.Contains(f.Part)).Sum(f => f.Odds) / faults.Sum(f => f.Odds), 0.14, 0.26);
            Assert.Equal(faults.Count, faults.Select(f => f.Id).Distinct().Count());
        }
    }

    [Fact]
    public void A_lamp_before_the_fuses_says_nothing_of_them()
    {
        var proofs = WhatItProves.Of(CircuitSurvey.Of(CircuitOf("ly-04"))!);
        var lamp = proofs.Lamps.Single(l => l.Lamp == "Z3-DS1");
        Assert.Contains("E1", lamp.Proves);
        Assert.DoesNotContain("Z3-F1", lamp.Proves);
        Assert.Contains(("M3", "Z3-F1 blown"), lamp.ProvesNot);
        Assert.Equal(["Z3 eye A", "Z3 eye B"], proofs.Fuses.Single(f => f.Fuse == "Z3-F2").Takes);
    }
}
