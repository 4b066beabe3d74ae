using System.Text.Json;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Tests.Visits;

/// <summary>How a simulated visit ended.</summary>
/// <param name="Truth">The fault that was there.</param>
/// <param name="Proved">Parts that were proved; empty where nothing was.</param>
/// <param name="IsRight">The part at fault is among them.</param>
/// <param name="Share">What the suspects gave the part at fault in the end.</param>
/// <param name="Acts">Done after the complaint.</param>
internal sealed record SimulatedVisit(string Truth, IReadOnlyList<string> Proved, bool IsRight, double Share, int Acts);

/// <summary>
/// A technician who does what the ledger proposes on a machine that is not quite as the ledger has it: its true numbers are off, the meter
/// is off, and what is seen is said in words. The machine answers by its circuit with those numbers; that the circuit's laws are those of
/// ngspice is shown elsewhere (<c>SampleCircuitTests</c>), so that what is tried here is the reasoning, not the laws.
/// </summary>
/// <param name="off">By how much true numbers are off, as a standard deviation of their share.</param>
/// <param name="slips">Share of readings that are wrong.</param>
internal sealed class SimulatedTechnician(string machine, int seed, double off, double slips)
{
    private const int MostActs = 14;
    private readonly Random _chance = new(seed);
    private readonly ResolvedMachine _machine = Load(machine);

    private static ResolvedMachine Load(string name)
    {
        var file = JsonSerializer.Deserialize<MachineFile>(
            File.ReadAllText(Path.Combine(TestLedger.DemoFolder, name, "machine.json")),
            MachineFile.OneLine
        )!;
        var build = VariantDecision.Of(file.Machine.Plate, file.Model.Variants, new DateOnly(2026, 11, 27)).Chosen;
        return ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id), build);
    }

    /// <summary>Visits on faults drawn by their odds; those that nobody would notice are drawn again.</summary>
    public List<SimulatedVisit> Run(int visits)
    {
        var model = MachineDiagnosis.Of(_machine, FeedGraph.Of(_machine));
        var circuit = MachineCircuit.Of(_machine);
        var faults = MachineFaults.Of(circuit).Where(f => f.Kind != FaultKind.Intermittent && !f.IsRewired).ToList();
        var sum = faults.Sum(f => f.Odds);
        List<SimulatedVisit> all = [];
        for (var draws = 0; all.Count < visits && draws < visits * 10; draws++)
        {
            var at = _chance.NextDouble() * sum;
            var fault = faults.First(f => (at -= f.Odds) <= 0);
            if (Visit(model, circuit, fault) is { } visit)
            {
                all.Add(visit);
            }
        }

        return all;
    }

    private SimulatedVisit? Visit(MachineDiagnosis model, MachineCircuit circuit, MachineFault fault)
    {
        var world = new World(circuit, fault, off, _chance);
        List<Finding> findings = [];
        // What is noticed first: something that does not do what it should, and what else is tried in the same state.
        var tries = model.Acts.Where(a => a.Kind is ActKind.Try or ActKind.Look).ToList();
        var bad = tries.Find(a => world.Seen(a) is { Kind: not OutcomeKind.Works });
        if (bad is null)
        {
            return null;
        }

        foreach (var act in tries.Where(a => a.State == bad.State))
        {
            findings.Add(Found(act, world.Seen(act)!));
        }

        var asked = findings.Count;
        var rules = new NextActRules(School.NoSwaps, null, RoundMinutes.Usual, 1);
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(_machine));
        while (true)
        {
            var reasoned = Reasoning.Of(model, findings, cost, rules);
            var next =
                reasoned.Proved is null && findings.Count - asked < MostActs
                    ? reasoned.Next.FirstOrDefault(n => n.Act is { } act && (act.Kind != ActKind.Read || world.Read(act) is not null))
                    : null;
            if (next is null)
            {
                return new SimulatedVisit(
                    fault.Words,
                    reasoned.Proved?.Parts ?? [],
                    reasoned.Proved?.Parts.Contains(fault.Part) ?? false,
                    reasoned.Suspects.Where(s => s.Parts.Contains(fault.Part)).Sum(s => s.Share),
                    findings.Count - asked
                );
            }

            var found = next.Act!.Kind == ActKind.Read ? Misread(world.Read(next.Act)!, next.Act) : world.Seen(next.Act)!;
            findings.Add(Found(next.Act, found));
        }
    }

    private ActOutcome Misread(ActOutcome read, Act act) =>
        _chance.NextDouble() < slips ? read with { Value = Math.Round(_chance.NextDouble() * act.Span / 2, 1) } : read;

    private static Finding Found(Act act, ActOutcome outcome) => new(act.Id, act, outcome, 0, Showing.Unknown, act.Words, false);

    /// <summary>The machine as it is: with its true numbers and its fault.</summary>
    private sealed class World
    {
        private readonly MachineCircuit _circuit;
        private readonly Circuit _healthy;
        private readonly Circuit _faulty;
        private readonly Random _chance;
        private readonly Dictionary<(string, bool), OperatingPoint> _points = [];

        public World(MachineCircuit circuit, MachineFault fault, double off, Random chance)
        {
            (_circuit, _chance) = (circuit, chance);
            double Off() => 1 + (off * Math.Sqrt(-2 * Math.Log(1 - chance.NextDouble())) * Math.Cos(2 * Math.PI * chance.NextDouble()));
            _healthy = circuit.Circuit!.With([
                .. circuit
                    .Circuit.Elements.Select(e =>
                        e switch
                        {
                            Resistance r when double.IsFinite(r.Ohms) => (CircuitElement)(r with { Ohms = r.Ohms * Math.Max(0.2, Off()) }),
                            VoltageSource v => v with { Volts = v.Volts * (1 + ((Off() - 1) / 4)) },
                            _ => e,
                        }
                    )
                    .Where(e => e != circuit.Circuit[e.Name]),
            ]);
            _faulty = _healthy.With([.. fault.Faulted.Where(f => _healthy.Contains(f.Name))]);
        }

        private OperatingPoint Point(string state, bool faulty)
        {
            if (!_points.TryGetValue((state, faulty), out var point))
            {
                var to = _circuit.Machine.Model.States.Single(s => s.Code == state);
                point = _points[(state, faulty)] = ActSequence.Run(faulty ? _faulty : _healthy, _circuit.ActsTo(to))[^1];
            }

            return point;
        }

        /// <summary>What a meter shows; null where this world does not answer.</summary>
        public ActOutcome? Read(Act act)
        {
            if (
                act.Mode is not (MeterMode.DcVolts or MeterMode.AcVolts)
                || act.Red is null
                || act.Black is null
                || _circuit.NodeOf(act.Red) is not { } red
                || _circuit.NodeOf(act.Black) is not { } black
                || Point(act.State, true) is not { Problem: null } point
            )
            {
                return null;
            }

            var volts = act.Mode == MeterMode.AcVolts ? point.Alternating(red, black)?.Magnitude : point.Between(red, black);
            // A floating wire shows next to nothing; a meter rounds, and is off by a little.
            var shown = (volts ?? 0.03) * (1 + (0.003 * ((2 * _chance.NextDouble()) - 1)));
            return new ActOutcome(OutcomeKind.Number, Math.Round(shown, Math.Abs(shown) < 2 ? 2 : 1));
        }

        /// <summary>How somebody says that a load does; null where this world does not know it.</summary>
        public ActOutcome? Seen(Act act)
        {
            var part = _circuit.Parts.FirstOrDefault(p => act.Aims.Count > 0 && p.Name == act.Aims[0]);
            if (part is null || Point(act.State, true) is not { } now || Point(act.State, false) is not { Problem: null } should)
            {
                return new ActOutcome(OutcomeKind.Works);
            }

            double Amps(OperatingPoint point) =>
                point.Problem is null
                    ? part.Elements.Where(point.Circuit.Contains).Max(e => double.Hypot(point.Amps(e), point.AlternatingAmps(e).Magnitude))
                    : 0;
            var share = Amps(should) > 0 ? Amps(now) / Amps(should) : 1;
            return new ActOutcome(
                share is > 0.9 and < 3 ? OutcomeKind.Works
                : share is > 0.35 and < 3 ? OutcomeKind.Weak
                : OutcomeKind.No
            );
        }
    }
}
