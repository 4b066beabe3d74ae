using System.Text.Json;
using System.Text.Json.Nodes;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Machines;
using RustyLedger.Worlds;

namespace RustyLedger.Technicians;

/// <summary>Who says what is done next. All have the same acts, the same suspects and the same rule for when to stop.</summary>
public enum Order
{
    /// <summary>As the ledger ranks them.</summary>
    Ledger,

    /// <summary>The sheet from its top down, then every other pin.</summary>
    Path,
    Chance,

    /// <summary>The act at the likeliest part for its minutes (Heckerman, Breese and Rommelse, Communications of the ACM, 1995).</summary>
    OddsOverCost,
}

/// <summary>What is tried; see docs/reasoning-measured.md.</summary>
public enum Stratum
{
    /// <summary>Numbers as the ledger has them, but for the laws of real parts.</summary>
    AsModelled,

    /// <summary>Twice the spread that the ledger assumes, and the supply off.</summary>
    OtherNumbers,

    /// <summary>One to three wires that the ledger lacks, or has elsewhere.</summary>
    WrongLedger,

    /// <summary>Nothing that is listed, or no part of the machine.</summary>
    Outside,
    AtTimes,

    /// <summary>One answer in twenty is wrong.</summary>
    Slips,

    /// <summary>Other parts fail than the table says.</summary>
    OtherOdds,
    Double,

    /// <summary>At times, and nobody looks whether it shows while something is read.</summary>
    Unwatched,

    /// <summary>Volts come from elsewhere: nothing listed reads so.</summary>
    Foreign,
}

/// <summary>How a simulated visit ended.</summary>
/// <param name="Proved">The parts that were proved; empty where none was.</param>
/// <param name="IsRight">All parts at fault are among them.</param>
/// <param name="IsWrong">A part was proved that is none of those at fault.</param>
/// <param name="ReadsAsListed">Nothing of the list, and nothing that would read otherwise.</param>
/// <param name="Share">What the suspects gave the truth in the end.</param>
/// <param name="Said">The share of each suspect that counted, and whether it was the truth, after each act.</param>
public sealed record SimulatedVisit(
    string Machine,
    int Seed,
    string Truth,
    IReadOnlyList<string> Proved,
    bool IsRight,
    bool IsWrong,
    bool ReadsAsListed,
    double Share,
    double Minutes,
    int Acts,
    IReadOnlyList<(double Share, bool IsTrue)> Said,
    IReadOnlyList<string> Log
);

/// <summary>
/// A technician who does what the ledger proposes, at a true machine that answers by ngspice. One at a time on one machine.
/// </summary>
public sealed class Technician
{
    private const int MostActs = 18;

    private readonly string _name;
    private readonly JsonObject _file;
    private readonly TrueMachine _true;
    private readonly ResolvedMachine _machine;

    // What the last ledger had wrong.
    private readonly List<string> _miswritten = [];

    /// <param name="demo">The folder of the sample machines.</param>
    public Technician(string demo, string name)
    {
        _name = name;
        var path = Path.Combine(demo, name, "machine.json");
        _file = JsonNode.Parse(File.ReadAllText(path))!.AsObject();
        _machine = Resolved(_file);
        _true = TrueMachine.Read(path, _machine.Variant?.Name ?? "");
    }

    private static ResolvedMachine Resolved(JsonObject json)
    {
        var file = json.Deserialize<MachineFile>(MachineFile.Json)!;
        var build = VariantDecision.Of(file.Machine.Plate, file.Model.Variants, new DateOnly(2026, 11, 27)).Chosen;
        return ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id), build);
    }

    /// <summary>Whether the machine has what a stratum needs.</summary>
    public bool Can(Stratum stratum) =>
        stratum switch
        {
            Stratum.WrongLedger => _true.WireIds.Count > 2,
            Stratum.AtTimes or Stratum.Unwatched => _true.Parts.Exists(p => p.Kind is TrueKind.Wire or TrueKind.Contact),
            _ => true,
        };

    /// <summary>The visit of a seed; the next seeds of the same stream are tried until somebody would call.</summary>
    public SimulatedVisit Visit(Stratum stratum, int seed, Order order = Order.Ledger)
    {
        for (var again = 0; ; again++)
        {
            try
            {
                // Whatever is drawn, each seed draws its own.
                if (Visit(stratum, seed, new Random((seed * 7919) + (again * 104729) + (int)stratum), order) is { } visit)
                {
                    return visit;
                }
            }
            catch (NoPointException)
            {
                // It chatters, or ngspice finds no rest of it: nobody measures it as it is.
            }
        }
    }

    private SimulatedVisit? Visit(Stratum stratum, int seed, Random chance, Order order)
    {
        List<TrueFault> faults = stratum switch
        {
            Stratum.Outside => [TrueFaults.Outside(_true, chance)],
            Stratum.Foreign => [TrueFaults.Foreign(_true, chance)],
            Stratum.AtTimes or Stratum.Unwatched => [TrueFaults.AtTimes(_true, chance)],
            Stratum.Double => [TrueFaults.Of(_true, chance, false), TrueFaults.Of(_true, chance, false)],
            _ => [TrueFaults.Of(_true, chance, stratum == Stratum.OtherOdds)],
        };
        if (faults.Count == 2 && faults[0].ReadsAs == faults[1].ReadsAs)
        {
            return null;
        }

        var off = stratum switch
        {
            Stratum.AsModelled => new Off(0.02, 0, 0.002),
            Stratum.OtherNumbers => new Off(0.15, chance.Next(2) == 0 ? 0.04 : -0.05, 0.004),
            _ => new Off(0.05, 0.01, 0.003),
        };
        var own = chance.Next();
        var world = new World(_true, faults, off, own);
        if (world.IsBeyond)
        {
            return null;
        }

        _miswritten.Clear();
        var ledger = stratum == Stratum.WrongLedger ? Resolved(Miswritten(chance)) : _machine;
        var model = MachineDiagnosis.Of(ledger, FeedGraph.Of(ledger));
        var visit = Visit(model, world, faults, stratum == Stratum.Slips ? 0.05 : 0, stratum != Stratum.Unwatched, chance, order, seed);
        if (stratum == Stratum.Foreign && visit is { IsWrong: true })
        {
            // A part whose own fault would read the same at every pin is what anybody would find, and so is that a fuse was blown by what
            // hangs behind it.
            var alike = _true.Parts.Where(p => visit.Proved.Contains(p.Called)).SelectMany(TrueFaults.OfPart);
            return
                visit.Proved.Any(p => world.Blown.Any(f => p == $"something behind {f}"))
                || alike.Any(f => world.StandsAs(new World(_true, [f], off, own)))
                ? visit with
                {
                    IsWrong = false,
                    ReadsAsListed = true,
                }
                : visit;
        }

        if (visit is null || visit.IsRight || faults.Count < 2 || !faults.Exists(f => visit.Proved.Contains(f.ReadsAs)))
        {
            return visit;
        }

        // One of two is found and put right, and what blew is replaced: the visit goes on with the other, if it still shows.
        var left = faults.FindAll(f => !visit.Proved.Contains(f.ReadsAs));
        return Visit(model, new World(_true, left, off, own), left, 0, true, chance, order, seed) is { } second
            ? second with
            {
                Truth = visit.Truth,
                Proved = [.. visit.Proved, .. second.Proved],
                Minutes = visit.Minutes + second.Minutes,
                Acts = visit.Acts + second.Acts,
                Said = [.. visit.Said, .. second.Said],
                Log = [.. visit.Log, "-- put right, and on", .. second.Log],
            }
            : visit with
            {
                IsRight = true,
            };
    }

    /// <summary>The ledger with one to three wires left out, or at a pin beside.</summary>
    private JsonObject Miswritten(Random chance)
    {
        _miswritten.Clear();
        var file = _file.DeepClone().AsObject();
        var links = file["model"]!["links"]!.AsArray();
        for (var wrong = chance.Next(1, 4); wrong > 0; wrong--)
        {
            var id = _true.WireIds[chance.Next(_true.WireIds.Count)];
            if (links.FirstOrDefault(l => (string)l!["id"]! == id) is not { } link)
            {
                continue;
            }

            var other = links[chance.Next(links.Count)]!;
            var to = other["to"]!.DeepClone();
            if (chance.Next(2) == 0 || other == link || JsonNode.DeepEquals(to, link["from"]))
            {
                links.Remove(link);
                _miswritten.Add($"  lacks {id}");
            }
            else
            {
                _miswritten.Add($"  has {id} and {other["id"]} exchanged");
                (other["to"], link["to"]) = (link["to"]!.DeepClone(), to);
            }
        }

        return file;
    }

    private SimulatedVisit? Visit(
        MachineDiagnosis model,
        World world,
        List<TrueFault> faults,
        double slips,
        bool isWatched,
        Random chance,
        Order order,
        int seed
    )
    {
        List<Finding> findings = [];
        List<string> log = [];
        void Add(Act act, ActOutcome outcome, Showing showing = Showing.Unknown)
        {
            // Each is done at a moment of its own.
            findings.Add(new Finding($"f{findings.Count}", act, outcome, findings.Count, showing, act.Words, false));
            var healthy = model.Healthy(act);
            log.Add(
                FormattableString.Invariant($"{act.Id}: {outcome.Kind} {outcome.Value:0.###}; healthy {healthy.Kind} {healthy.Value:0.###}")
                    + (showing == Showing.Unknown ? "" : $", shows: {showing}")
            );
        }

        // What is noticed first: something that does not do what it should, and what else is tried in the same state.
        var tries = model.Acts.Where(a => a.Kind is ActKind.Try or ActKind.Look && a.Aims.Count == 1).ToList();
        var seen = tries.ToDictionary(
            a => a,
            a =>
            {
                world.Later();
                return Answer(a, world);
            }
        );
        var bad = tries.Find(a => seen[a] is { Kind: not OutcomeKind.Works });
        if (bad is null)
        {
            return null;
        }

        foreach (var act in tries.Where(a => a.State == bad.State && seen[a] is not null))
        {
            Add(act, seen[act]!);
        }

        var asked = findings.Count;
        var minutes = 0.0;
        var leftOut = new HashSet<string>();
        SetUp? now = bad.SetUp;
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(model.Machine));
        double MinutesOf(Act act) =>
            NextActs.OwnMinutes(act, RoundMinutes.Usual)
            + (
                act.SetUp is null ? 0
                : now is null ? (double)cost.Begin(act.SetUp)
                : (double)cost.Between(now, act.SetUp)
            );
        var parts = faults.Select(f => f.ReadsAs).Where(p => p.Length > 0).ToHashSet();
        List<(double, bool)> said = [];
        while (true)
        {
            var rules = new NextActRules(School.NoSwaps, now, RoundMinutes.Usual) { LeftOut = leftOut };
            var reasoned = Reasoning.Of(model, findings, cost, rules);
            bool IsTrue(SuspectGroup s) => parts.Count > 0 && parts.All(s.Parts.Contains);
            said.AddRange(
                reasoned.Suspects.Where(s => s.Share > 0.01).Select(s => (s.Share, s.Kind == CauseKind.Part ? IsTrue(s) : parts.Count == 0))
            );
            Act? next = null;
            ActOutcome? found = null;
            var shows = Showing.Unknown;
            while (reasoned.Proved is null && findings.Count - asked < MostActs)
            {
                next = Next(order, reasoned, model, findings, leftOut, MinutesOf, chance);
                if (next is not null)
                {
                    world.Later();
                    if (isWatched)
                    {
                        (shows, var waited) = Wait(next, reasoned, world);
                        minutes += waited;
                    }
                }

                if (next is null || (found = Answer(next, world)) is not null)
                {
                    break;
                }

                // Not to be done here: the ledger is told so.
                leftOut.Add(next.Id);
                reasoned =
                    order == Order.Ledger ? Reasoning.Of(model, findings, cost, rules with { LeftOut = leftOut.ToHashSet() }) : reasoned;
            }

            if (next is null || found is null)
            {
                var proved = reasoned.Proved is { Kind: CauseKind.Part } first ? first.Parts : [];
                var outside = parts.Count == 0;
                return new SimulatedVisit(
                    _name,
                    seed,
                    string.Join(" and ", faults) + (world.Blown.Count > 0 ? $" ({string.Join(", ", world.Blown)} blown)" : ""),
                    proved,
                    parts.Count > 0 && parts.All(proved.Contains),
                    proved.Count > 0 && (outside || !proved.Any(parts.Contains)),
                    !outside,
                    reasoned.Suspects.Where(s => outside ? s.Kind != CauseKind.Part : IsTrue(s)).Sum(s => s.Share),
                    minutes,
                    findings.Count - asked,
                    said,
                    [
                        .. _miswritten,
                        .. log,
                        .. leftOut.Select(l => $"  left out {l}"),
                        .. reasoned.Next.Take(5).Select(n => FormattableString.Invariant($"  next {n.Words} {n.ToTheEnd:0.0} {n.Why}")),
                        .. reasoned
                            .Suspects.Take(6)
                            .Select(s => FormattableString.Invariant($"  {s.Share:0.000} {s.Name} [{s.Words}] {s.Because}")),
                    ]
                );
            }

            minutes += MinutesOf(next);
            now = next.SetUp ?? now;
            Add(next, chance.NextDouble() < slips ? Wrong(found, next, chance) : found, shows);
        }
    }

    private const int MostWaits = 12;
    private const double WaitMinutes = 0.5;

    /// <summary>
    /// The moment of the next act: what fails is watched meanwhile where it can be seen, and waited for where the ledger says that it may
    /// come and go.
    /// </summary>
    private (Showing Showing, double Minutes) Wait(Act act, Reasoned reasoned, World world)
    {
        for (var waits = 0; ; waits++, world.Later())
        {
            if (reasoned.Watched(act) is not { } failing || Answer(failing.Act, world) is not { } seen)
            {
                return (Showing.Unknown, 0);
            }

            if (seen.Kind != OutcomeKind.Works || !reasoned.MayComeAndGo || waits == MostWaits)
            {
                return (seen.Kind == OutcomeKind.Works ? Showing.No : Showing.Yes, waits * WaitMinutes);
            }
        }
    }

    private static Act? Next(
        Order order,
        Reasoned reasoned,
        MachineDiagnosis model,
        List<Finding> findings,
        HashSet<string> leftOut,
        Func<Act, double> minutes,
        Random chance
    )
    {
        if (order == Order.Ledger)
        {
            return reasoned.Next.FirstOrDefault(n => n.Act is not null)?.Act;
        }

        var done = findings.Select(f => f.Act.Id).ToHashSet();
        var open = model.Acts.Where(a => !done.Contains(a.Id) && !leftOut.Contains(a.Id)).ToList();
        double Odds(Act act) => reasoned.Suspects.Where(s => s.Parts.Any(act.Aims.Contains)).Sum(s => s.Share);
        return open.Count == 0
            ? null
            : order switch
            {
                Order.Path => open.FirstOrDefault(a => a.CheckKey is not null) ?? open[0],
                Order.Chance => open[chance.Next(open.Count)],
                _ => open.MaxBy(a => Odds(a) / minutes(a)),
            };
    }

    private static ActOutcome Wrong(ActOutcome right, Act act, Random chance) =>
        right.Kind switch
        {
            OutcomeKind.Number => right with { Value = Math.Round(chance.NextDouble() * act.Span / 2, 1) },
            OutcomeKind.Works => right with { Kind = OutcomeKind.No },
            _ => right with { Kind = OutcomeKind.Works },
        };

    private string? NodeOf(PinAddress? pin) =>
        pin switch
        {
            PinAddress.OnBoard board => _true.NodeOf($"{board.Position.Value}/{board.Pin.Value}"),
            PinAddress.OffBoard part => _true.NodeOf($"{part.Part.Value}/{part.Pin.Value}"),
            _ => null,
        };

    /// <summary>What the true machine shows; null where it cannot be done there.</summary>
    private ActOutcome? Answer(Act act, World world)
    {
        switch (act.Kind)
        {
            case ActKind.Wiggle:
                return new ActOutcome(world.ChangesWhenMoved(act.Aims) ? OutcomeKind.No : OutcomeKind.Works);
            case ActKind.Close when act.Pulled.Length == 0 && world.Blown.Contains(act.Aims[0]):
                return new ActOutcome(world.Holds(act.Aims[0]) ? OutcomeKind.Works : OutcomeKind.No);
        }

        if (act.Kind is ActKind.Try or ActKind.Look)
        {
            return world.Does(act.Aims[0], act.State) switch
            {
                Seen.Works => new ActOutcome(OutcomeKind.Works),
                Seen.Weak => new ActOutcome(OutcomeKind.Weak),
                Seen.No => new ActOutcome(OutcomeKind.No),
                _ => null,
            };
        }

        if (act.IsByClamp)
        {
            return act.Aims.Select(a => world.Amps(a, act.State)).FirstOrDefault(a => a is not null) is { } amps
                ? new ActOutcome(OutcomeKind.Number, amps)
                : null;
        }

        if (act.Kind != ActKind.Read || NodeOf(act.Red) is not { } red || NodeOf(act.Black) is not { } black)
        {
            return null;
        }

        switch (act.Mode)
        {
            case MeterMode.DcVolts or MeterMode.AcVolts:
                var volts = world.Volts(red, black, act.State);
                return new ActOutcome(OutcomeKind.Number, act.Mode == MeterMode.AcVolts ? Math.Abs(volts) : volts);
            case MeterMode.Ohms or MeterMode.Continuity when world.IsLiveAtRest(red, black):
                return null;
            case MeterMode.Ohms or MeterMode.Continuity:
                return world.Ohms(red, black, act.IsUnplugged) is { } ohms
                    ? new ActOutcome(OutcomeKind.Number, ohms)
                    : new ActOutcome(OutcomeKind.Open);
            default:
                return null;
        }
    }
}
