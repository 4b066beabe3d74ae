using System.Text;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Wiring;

/// <param name="Written">With its unit, such as <c>2.4 A</c>.</param>
/// <param name="Spread">In percent of itself, either way.</param>
public sealed record CircuitNumberView(string Name, string Written, NumberFrom From, double Spread);

/// <param name="OnIn">Of what switches, the names of the states in which it is closed; null of all else.</param>
public sealed record CircuitPartView(
    string Name,
    LawKind Kind,
    IReadOnlyList<string> Pins,
    IReadOnlyList<CircuitNumberView> Numbers,
    IReadOnlyList<string>? OnIn,
    bool IsAssumed
);

/// <summary>When something is closed: a switch as it stands, an output as its board switches it.</summary>
/// <param name="RowId">Of the sheet's row that says it; empty where none does, and it is assumed.</param>
/// <param name="On">Codes of the states in which it is closed.</param>
/// <param name="If">What its board wants to see first; empty for nothing.</param>
/// <param name="After">How long all of that must be so before it closes; empty for at once.</param>
public sealed record SwitchingView(string RowId, string Part, IReadOnlyList<string> On, string If, string After);

/// <param name="Most">By how much it moves the one that it moves most.</param>
public sealed record CircuitNext(string Part, string Number, string Assumed, int Moves, string Most);

/// <summary>The circuit of a machine as far as it is known, beside the sheet that says so.</summary>
/// <param name="Parts">Without the wires and contacts that are as usual.</param>
/// <param name="Switching">What switches, a line for each row of the sheet and for each switch that no row speaks of.</param>
/// <param name="Usual">How many of these there are.</param>
/// <param name="Doubts">What no healthy machine would do, and this one would by its wiring as entered: nothing is proved by it.</param>
/// <param name="HasCircuit">A source is known, so that something can be worked out.</param>
/// <param name="Names">Of parts and elements, for a list to choose from.</param>
public sealed record CircuitPageView(
    string ModelId,
    CircuitSheet Sheet,
    int Version,
    IReadOnlyList<CircuitPartView> Parts,
    IReadOnlyList<SwitchingView> Switching,
    int Usual,
    IReadOnlyList<CircuitGap> Gaps,
    IReadOnlyList<RowProblem> Problems,
    IReadOnlyList<string> Doubts,
    bool HasCircuit,
    IReadOnlyList<CircuitNext> Next,
    int Worked,
    int Unsaid,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<string> Kinds,
    IReadOnlyList<string> Names,
    IReadOnlyList<string> Pins,
    IReadOnlyList<string> Others
);

public sealed record CircuitEdit(int Version, CircuitSheet Sheet);

/// <param name="Id">Made by the client, so that sending twice writes once.</param>
public sealed record ComputedTaken(string Id, string CheckKey);

/// <param name="Change">With its sign and unit.</param>
public sealed record BecauseView(string Part, string Number, string Written, NumberFrom From, double Spread, string Change);

/// <param name="Apart">How clearly the fault shows there; 0 to 100, from 1 on a meter tells.</param>
public sealed record FaultyShown(string Words, ShownKind Kind, double Apart);

/// <summary>One line of the sheet as the circuit has it.</summary>
/// <param name="Band">Such as <c>23.2 V to 24.0 V</c>; empty where it is no number.</param>
/// <param name="Limit">As typed; empty where the sheet is worked out.</param>
/// <param name="Computed">The limit that would take the place of a typed one; empty where there is none.</param>
public sealed record CircuitReadingView(
    string CheckKey,
    string Red,
    string Black,
    string Signal,
    MeterMode Mode,
    string State,
    string StateName,
    bool? Plugged,
    string Healthy,
    ShownKind Kind,
    string Band,
    string Worst,
    string Limit,
    string LimitFrom,
    string Computed,
    string Contradiction,
    IReadOnlyList<BecauseView> Because,
    string Otherwise,
    FaultyShown? Faulty,
    FaultyShown? Other,
    double Apart
);

/// <param name="Share">Of all single faults of this machine, in percent, before anything is seen.</param>
public sealed record CircuitFaultView(string Id, string Part, string Words, double Share);

/// <summary>The sheet by the circuit, healthy and with up to two faults.</summary>
/// <param name="Tells">The reading that tells the two faults, or the fault and a healthy machine, apart best; null where none does.</param>
public sealed record CircuitReadingsView(
    IReadOnlyList<CircuitReadingView> Rows,
    IReadOnlyList<CircuitFaultView> Faults,
    IReadOnlyList<string> Consequences,
    IReadOnlyList<string> OtherConsequences,
    CircuitReadingView? Tells,
    int Unsaid,
    string Problem
);

/// <param name="Volts">Against the return of the first source; null where it floats.</param>
public sealed record NodeVoltsView(PinAddress Address, string Printed, double? Volts, bool Alternates, string Words);

/// <summary>A wire, a path or a part between two pins, and what flows through it.</summary>
/// <param name="Amps">From the first to the second; the size where it alternates.</param>
/// <param name="Stops">Volts stand across it and nothing flows: what should lead is open.</param>
public sealed record FlowView(PinAddress From, PinAddress To, string Name, double Amps, string Words, bool Stops);

/// <param name="Proves">Parts of which it would be out without.</param>
/// <param name="ProvesNot">Loads that may be dead all the same, each with a fault that does it.</param>
public sealed record LampProofView(
    string Lamp,
    IReadOnlyList<string> States,
    IReadOnlyList<string> Proves,
    IReadOnlyList<string> ProvesNot
);

public sealed record FuseTakenView(string Fuse, IReadOnlyList<string> Takes, IReadOnlyList<string> States);

/// <summary>What lamps prove and do not, and what each fuse takes with it.</summary>
public sealed record CircuitProofsView(IReadOnlyList<LampProofView> Lamps, IReadOnlyList<FuseTakenView> Fuses);

/// <summary>What a meter shows between any two pins.</summary>
/// <param name="Words">The value with its unit, OL, or a dash where there is none.</param>
public sealed record BetweenView(string Words, string Why);

/// <summary>One step of the way to or from what is read.</summary>
public sealed record CircuitStepView(string Through, string Place, string Volts, string Amps, bool Flows, bool Stops);

/// <summary>The rest of a machine in a state: the volts of each pin and what flows through each wire and path.</summary>
/// <param name="Supply">From the source to the red probe of the check that is asked for.</param>
/// <param name="Return">From its black probe back to the source.</param>
/// <param name="RestsAfter">How long after it was switched to that state, by stated delays; empty where none is stated.</param>
public sealed record CircuitStateView(
    IReadOnlyList<NodeVoltsView> Pins,
    IReadOnlyList<FlowView> Flows,
    IReadOnlyList<CircuitStepView> Supply,
    IReadOnlyList<CircuitStepView> Return,
    string Problem,
    IReadOnlyList<string> NotPredicted,
    string RestsAfter
);

internal static class CircuitEndpoints
{
    public static void MapCircuits(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{id}/circuit", Page).WithName("getCircuit");
        api.MapGet("/machines/{id}/circuit/readings", Readings).WithName("getCircuitReadings");
        api.MapGet("/machines/{id}/circuit/state", State).WithName("getCircuitState");
        api.MapGet("/machines/{id}/circuit/between", Between).WithName("getCircuitBetween");
        api.MapGet("/machines/{id}/circuit/proofs", Proofs).WithName("getCircuitProofs");
        api.MapGet("/machines/{id}/circuit/file", File).WithName("getCircuitFile");
        api.MapPost("/machines/{id}/circuit/taken", Take).WithName("takeComputed");
    }

    internal static async Task<ResolvedMachine> Machine(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    ) =>
        await library.Resolve(
            await context.Machines.Where(m => m.Tag == id || m.Id == id).Select(m => (MachineId?)m.Id).FirstOrDefaultAsync(cancel)
                ?? throw ProblemException.NotFound("This machine"),
            cancel
        );

    private static async Task<CircuitPageView> Page(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var machine = await Machine(id, context, library, cancel);
        var circuit = MachineCircuit.Of(machine);
        var survey = CircuitSurvey.Of(circuit);
        var version = await context
            .ModelSheets.Where(s => s.OwnerId == machine.Model.Id && s.Id == ModelSheetRecord.Circuit)
            .Select(s => s.Version)
            .FirstOrDefaultAsync(cancel);
        var tags = await context.Machines.Where(m => m.ModelId == machine.Model.Id).Select(m => m.Tag).ToListAsync(cancel);
        var (usual, said) = (circuit.Parts.Where(IsUsual).ToList(), circuit.Parts.Where(p => !IsUsual(p)).ToList());
        return new CircuitPageView(
            machine.Model.Id.Value,
            machine.Model.Circuit,
            version,
            [.. said.Select(p => Part(p, machine))],
            Switching(circuit),
            usual.Count,
            circuit.Gaps,
            [.. circuit.Problems, .. machine.Model.Circuit.OnNobody(machine.Model.Variants.Variants.Select(v => v.Name), tags)],
            [.. survey?.Doubts.Select(d => d.Words) ?? []],
            circuit.Circuit is not null,
            [.. (survey?.Next ?? []).Take(5).Select(n => new CircuitNext(n.Part, n.Number.Name, Written(n.Number), n.Moves, n.Most.Words))],
            survey?.Rows.Count ?? 0,
            survey?.Unsaid ?? machine.Checks.Count,
            machine.Model.States,
            PartNotation.Kinds,
            [
                .. machine
                    .Model.Parts.Select(p => p.Designator)
                    .Concat(machine.Pins.Values.Select(p => p.PrintedElement))
                    .Distinct()
                    .Order(NaturalOrder.Instance),
            ],
            [
                .. circuit
                    .Nodes.Keys.Where(p => circuit.NodeOf(p) is not null)
                    .Select(p => machine.Pins[p].Printed)
                    .Order(NaturalOrder.Instance),
            ],
            await context
                .Machines.Where(m => m.ModelId == machine.Model.Id && m.Id != machine.Machine.Id && m.RetiredAt == null)
                .OrderBy(m => m.Tag)
                .Select(m => m.Tag)
                .ToListAsync(cancel)
        );
    }

    /// <summary>A wire, a contact or a track of which nobody said anything.</summary>
    private static bool IsUsual(CircuitPart part) =>
        part.Law.Kind is LawKind.Wire or LawKind.Contact or LawKind.Track && part.Law.Numbers.All(n => n.From == NumberFrom.Assumed);

    private static CircuitPartView Part(CircuitPart part, ResolvedMachine machine) =>
        new(
            part.Name,
            part.Law.Kind,
            [.. part.Nodes],
            [.. part.Law.Numbers.Select(n => new CircuitNumberView(n.Name, Written(n), n.From, Math.Round(n.Spread * 100)))],
            part.When is { } when ? [.. machine.Model.States.Where(when.IsClosedIn).Select(s => s.Name)] : null,
            part.When is { IsSaid: false }
        );

    private static IReadOnlyList<SwitchingView> Switching(MachineCircuit circuit)
    {
        var rows = circuit.Machine.Model.Circuit.Rows;
        return
        [
            .. circuit
                .Parts.Where(p => p.When is not null)
                // One row may speak of a part of every position.
                .DistinctBy(p => p.RowId.Length > 0 ? p.RowId : p.Name)
                .Select(p => new SwitchingView(
                    p.RowId,
                    rows.FirstOrDefault(r => r.Id == p.RowId)?.Part ?? p.Name,
                    [.. circuit.Machine.Model.States.Where(p.When!.IsClosedIn).Select(s => s.Code)],
                    p.When!.Conditions,
                    p.When.Waits
                )),
        ];
    }

    private static string Written(StatedNumber number) => Core.Sums.Quantity.Write(number.Value, number.Unit);

    /// <param name="fault">Id of a fault; empty for none.</param>
    /// <param name="other">Id of another, to be told apart from it; empty for none.</param>
    private static async Task<CircuitReadingsView> Readings(
        string id,
        string? fault,
        string? other,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await Machine(id, context, library, cancel);
        if (CircuitSurvey.Of(MachineCircuit.Of(machine)) is not { } survey)
        {
            return new CircuitReadingsView([], [], [], [], null, machine.Checks.Count, "No source is known yet.");
        }

        var (first, second) = (Fault(survey, fault), Fault(survey, other));
        var faulty = first is null ? null : survey.Faulty(first);
        var others = second is null ? null : survey.Faulty(second);
        var rows = survey
            .Rows.Select((r, i) => View(machine, r, (faulty?[i], first), (others?[i], second)))
            // With a fault the largest difference stands first; without one the sheet keeps its order.
            .OrderByDescending(r => first is null ? 0 : r.Apart)
            .ToList();
        var odds = survey.Faults.Sum(f => f.Odds);
        return new CircuitReadingsView(
            rows,
            [.. survey.Faults.Select(f => new CircuitFaultView(f.Id, f.Part, f.Words, Math.Round(100 * f.Odds / odds, 2)))],
            [.. Consequences(survey, machine, first), .. MayCause(survey, first)],
            [.. Consequences(survey, machine, second), .. MayCause(survey, second)],
            first is not null && rows is [{ Apart: >= 1 } best, ..] ? best : null,
            survey.Unsaid,
            survey.PointIn(machine.Model.States.LastOrDefault(s => s.Energised) ?? machine.Model.States[0], null).Problem?.Words ?? ""
        );
    }

    private static IEnumerable<string> MayCause(CircuitSurvey survey, MachineFault? fault) =>
        fault is null
            ? []
            : MachineFaults.MayCause(survey.Machine, fault).Select(c => $"{c.Part} may have gone with it, {c.Odds * 10:0} in 10");

    private static MachineFault? Fault(CircuitSurvey survey, string? id) =>
        string.IsNullOrEmpty(id) ? null : survey.Faults.FirstOrDefault(f => f.Id == id) ?? throw ProblemException.NotFound("This fault");

    private static IReadOnlyList<string> Consequences(CircuitSurvey survey, ResolvedMachine machine, MachineFault? fault) =>
        fault is null
            ? []
            :
            [
                .. machine
                    .Model.States.Where(s => s.Energised)
                    .SelectMany(s => survey.Consequences(s, fault).Select(c => (State: s.Name, Words: c)))
                    .GroupBy(c => c.Words)
                    .Select(g => $"{g.Key} ({string.Join(", ", g.Select(c => c.State))})"),
            ];

    /// <summary>What comes and goes reads the one or the other.</summary>
    private static FaultyShown? Faulty(Shown healthy, Shown? faulty, MachineFault? fault) =>
        faulty is null
            ? null
            : new FaultyShown(
                fault?.Kind == FaultKind.Intermittent && Shown.Apart(healthy, faulty) >= 1
                    ? $"{healthy.Words} or {faulty.Words}"
                    : faulty.Words,
                faulty.Kind,
                Shown.Apart(healthy, faulty)
            );

    private static CircuitReadingView View(
        ResolvedMachine machine,
        SurveyRow row,
        (Shown? Shown, MachineFault? Fault) one,
        (Shown? Shown, MachineFault? Fault) another
    )
    {
        var (check, expected) = (row.Check, row.Expected);
        var ((faulty, first), (other, second)) = (one, another);
        var shown = expected.Shown;
        string Span(double low, double high) =>
            shown.Kind == ShownKind.Number ? $"{(shown with { Value = low }).Words} to {(shown with { Value = high }).Words}" : "";
        var isComputed = check.SourcedLimit.From.Level == Level.Computed;
        return new CircuitReadingView(
            check.Key.Value,
            check.Check.Red is { } red ? machine.Pins[red].Printed : check.Check.Part,
            check.Check.Black is { } black ? machine.Pins[black].Printed : "",
            check.Check.Red is { } at ? machine.Pins[at].Signal.Value : "",
            check.Check.Mode,
            check.State.Code,
            check.State.Name,
            check.Check.Plugged,
            shown.Words,
            shown.Kind,
            Span(expected.Low, expected.High),
            Span(expected.WorstLow, expected.WorstHigh),
            isComputed ? "" : LimitNotation.Write(check.Limit),
            check.SourcedLimit.From.Words,
            row.Computed is { } limit ? LimitNotation.Write(limit) : "",
            row.Contradiction,
            [
                .. expected
                    .Because.Take(6)
                    .Select(b => new BecauseView(
                        b.Part,
                        b.Number.Name,
                        Written(b.Number),
                        b.Number.From,
                        Math.Round(b.Number.Spread * 100),
                        $"{(b.Change < 0 ? "−" : "+")}{(shown with { Value = Math.Abs(b.Change) }).Words}"
                    )),
            ],
            expected.Otherwise is { } otherwise ? $"{otherwise.Words} {expected.OtherwiseWords}" : "",
            Faulty(shown, faulty, first),
            Faulty(shown, other, second),
            faulty is null ? 0 : Shown.Apart(other ?? shown, faulty)
        );
    }

    private static async Task<CircuitStateView> State(
        string id,
        string state,
        string? fault,
        string? check,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await Machine(id, context, library, cancel);
        var circuit = MachineCircuit.Of(machine);
        if (CircuitSurvey.Of(circuit) is not { } survey)
        {
            return new CircuitStateView([], [], [], [], "No source is known yet.", [], "");
        }

        var point = survey.PointIn(StateCalled(machine, state), Fault(survey, fault));
        if (point.Problem is { } problem)
        {
            return new CircuitStateView([], [], [], [], problem.Words, [], "");
        }

        List<NodeVoltsView> pins = [];
        foreach (var (address, node) in circuit.Nodes.Where(n => circuit.NodeOf(n.Key) is not null))
        {
            var (direct, alternating) = (point.Volts(node), point.Alternating(node, Circuit.Reference)?.Magnitude ?? 0);
            var alternates = alternating > Math.Abs(direct ?? 0);
            var volts =
                direct is null ? (double?)null
                : alternates ? alternating
                : direct;
            pins.Add(
                new NodeVoltsView(
                    address,
                    machine.Pins[address].Printed,
                    volts,
                    alternates,
                    volts is null ? "floats" : Shown.Number(volts.Value, Unit.Volts).Words + (alternates ? " AC" : "")
                )
            );
        }

        var row = survey.Rows.FirstOrDefault(r => r.Check.Key.Value == check);
        return new CircuitStateView(
            pins,
            [.. circuit.Flows.Where(f => point.Circuit.Contains(f.Element)).Select(f => Flow(FlowNow.Of(f, circuit, point)))],
            row is null ? [] : Steps(CurrentPath.Supply(circuit, point, row.Place.Red)),
            row is null ? [] : Steps(CurrentPath.Return(circuit, point, row.Place.Black)),
            "",
            point.NotPredicted,
            circuit.SecondsTo(StateCalled(machine, state)) is > 0 and var seconds ? Core.Sums.Quantity.Write(seconds, "s") : ""
        );
    }

    private static FlowView Flow(FlowNow now) =>
        new(now.Between.From, now.Between.To, now.Between.Element, now.Amps, Amps(now.Amps), now.Stops);

    private static string Amps(double amps) => Core.Sums.Quantity.Write(Math.Abs(amps) < CurrentPath.LeastAmps ? 0 : Math.Abs(amps), "A");

    private static List<CircuitStepView> Steps(IReadOnlyList<PathStep> steps) =>
        [
            .. CurrentPath
                .FromPinToPin(steps)
                .Select(s => new CircuitStepView(
                    s.Through,
                    s.Node == Circuit.Reference ? "return of the source" : s.Node,
                    s.Volts is { } volts ? Shown.Number(volts, Unit.Volts).Words : "floats",
                    s.Through.Length == 0 ? "" : Amps(s.Amps),
                    s.Carries,
                    !s.Conducts
                )),
        ];

    // Of an ordinary meter, and of its low-impedance mode. Common practice, no source.
    private const double UsualOhms = 10e6;
    private const double LowOhms = 400e3;

    /// <param name="red">As printed.</param>
    /// <param name="black">Likewise; empty for a clamp around the wire at the first.</param>
    /// <param name="low">In the meter's low-impedance mode.</param>
    private static async Task<BetweenView> Between(
        string id,
        string red,
        string? black,
        string mode,
        string state,
        string? fault,
        bool? low,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await Machine(id, context, library, cancel);
        var circuit = MachineCircuit.Of(machine);
        var survey = CircuitSurvey.Of(circuit) ?? throw ProblemException.Bad("circuit", "No source is known yet.");
        var which = Texts.Choice<MeterMode>("mode", mode);
        var isClamp = which is MeterMode.DcAmps or MeterMode.AcAmps;
        string Node(string field, string? printed) =>
            circuit.NodeCalled(printed ?? "") ?? throw ProblemException.Bad(field, $"\"{printed}\" is no pin of this circuit.");
        var place = new ReadingPlace(Node("red", red), isClamp ? "" : Node("black", black), which, StateCalled(machine, state), "");
        var shows = survey.Between(place, Fault(survey, fault), low == true ? LowOhms : UsualOhms);
        var unit =
            isClamp ? "A"
            : which is MeterMode.Ohms or MeterMode.Continuity or MeterMode.Insulation ? "Ω"
            : "V";
        return new BetweenView(shows.Written(unit), shows.Words);
    }

    private static async Task<CircuitProofsView> Proofs(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var circuit = MachineCircuit.Of(await Machine(id, context, library, cancel));
        if (CircuitSurvey.Of(circuit) is not { } survey)
        {
            return new CircuitProofsView([], []);
        }

        var proofs = WhatItProves.Of(survey);
        return new CircuitProofsView(
            [
                .. proofs.Lamps.Select(l => new LampProofView(
                    l.Lamp,
                    [.. l.States.Select(s => s.Name)],
                    l.Proves,
                    [.. l.ProvesNot.GroupBy(p => p.Fault).Select(g => $"{string.Join(", ", g.Select(p => p.Load))}: {g.Key}")]
                )),
            ],
            [.. proofs.Fuses.Select(f => new FuseTakenView(f.Fuse, f.Takes, [.. f.States.Select(s => s.Name)]))]
        );
    }

    /// <summary>What the circuit gives becomes what a check should read on this machine.</summary>
    private static async Task<MachineOverrides> Take(
        string id,
        ComputedTaken taken,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", taken.Id);
        await using var transaction = await context.WriteAlone(cancel);
        var machine = await Machine(id, context, library, cancel);
        if (machine.Machine.Overrides.All(o => o.Id.Value != taken.Id))
        {
            var survey = CircuitSurvey.Of(MachineCircuit.Of(machine)) ?? throw ProblemException.Bad("circuit", "No source is known yet.");
            new BookWriter(context, clock).Write(survey.Settle(taken.CheckKey, taken.Id).OrRefuse(), machine.Machine);
            await context.SaveChangesAsync(cancel);
            await transaction.CommitAsync(cancel);
        }

        return await CheckEndpoints.Overrides(machine.Machine.Id.Value, library, cancel);
    }

    private static OperatingState StateCalled(ResolvedMachine machine, string code) =>
        machine.Model.States.FirstOrDefault(s => s.Code == code)
        ?? throw ProblemException.Bad("state", $"{machine.Machine.Tag} has no state \"{code}\".");

    /// <summary>The circuit in a state as a SPICE file, names in a table of comments.</summary>
    private static async Task<IResult> File(
        string id,
        string state,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await Machine(id, context, library, cancel);
        var circuit = MachineCircuit.Of(machine);
        if (CircuitSurvey.Of(circuit) is not { } survey)
        {
            throw ProblemException.Bad("circuit", "No source is known yet: there is no circuit to write.");
        }

        var at = StateCalled(machine, state);
        var point = survey.PointIn(at, null);
        var text = SpiceWriter.Write(point.Circuit, point.States, $"{machine.Machine.Tag} {machine.Machine.Name}, {at.Name}", ".op");
        return Results.File(Encoding.UTF8.GetBytes(text), "application/x-spice", $"{machine.Machine.Tag}-{at.Code}.cir");
    }
}
