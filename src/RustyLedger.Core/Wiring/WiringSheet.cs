using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>
/// What joins the boards of a model: the parts off the boards, the wires between all of them, and the states it is measured in.
/// </summary>
public sealed record WiringSheet(IReadOnlyList<OffBoardPart> Parts, IReadOnlyList<OperatingState> States, IReadOnlyList<Link> Wires)
{
    private const int MostParts = 400,
        MostPins = 400,
        MostWires = 5000;

    /// <summary>As it stands in a model.</summary>
    public static WiringSheet Of(Model model)
    {
        ArgumentNullException.ThrowIfNull(model);
        return new(model.Parts, model.States, model.Links);
    }

    /// <summary>The model wired so.</summary>
    /// <param name="model">Its positions and checks stay as they are.</param>
    /// <param name="boardTypes">All that the model's positions name.</param>
    /// <returns>The model, or what cannot be meant so and where it stands, by its printed name.</returns>
    public Outcome<Model> In(Model model, IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(boardTypes);
        var wired = model with { Parts = Parts, States = States, Links = Wires };
        if (Rule.First(OfParts(model), OfStates(model)) is { } refusal)
        {
            return refusal;
        }

        var pins = Resolved(wired, boardTypes).Pins;
        return OfWires(pins, model) is { } wrong ? wrong
            : Resolved(wired, boardTypes).Problems is [var problem, ..] ? new Refusal("wires", $"This does not fit together: {problem}.")
            : wired;
    }

    /// <summary>The model as a machine that differs from it in nothing.</summary>
    public static ResolvedMachine Resolved(Model model, IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes)
    {
        ArgumentNullException.ThrowIfNull(model);
        return ResolvedMachine.Of(new Machine("model", "", "", model.Id, "", "", "", "", "", [], []), model, boardTypes);
    }

    private Refusal? OfParts(Model model)
    {
        return Rule.First(
            Rule.If(Parts.Count > MostParts, "parts", $"There are {Parts.Count} parts off the boards; at most {MostParts} are taken."),
            WiringRule.OfNames(Parts.Select(p => p.Designator), model.Positions.Select(p => p.Prefix)),
            Parts
                .Select(p =>
                    Rule.First(
                        Rule.Needed($"name of {p.Designator}", p.Name, 60),
                        Rule.Text($"line of what {p.Designator} does", p.Does, 120),
                        Rule.If(
                            p.Pins.Count is 0 or > MostPins,
                            "parts",
                            $"{p.Designator} has {p.Pins.Count} pins; 1 to {MostPins} are taken."
                        ),
                        WiringRule.OfLabels(p.Designator, p.Pins.Select(x => x.Label))
                    )
                )
                .FirstOrDefault(r => r is not null)
        );
    }

    private Refusal? OfStates(Model model) =>
        Rule.First(
            Rule.If(States.Count == 0, "states", "A machine is read in one state at least, such as off."),
            Rule.Unique("states", States.Select(s => s.Name), 60),
            Rule.Unique("codes of the states", States.Select(s => s.Code), 40),
            model.Checks.FirstOrDefault(c => c.State.Length > 0 && States.All(s => s.Code != c.State)) is { } check
                ? new Refusal("states", $"A check of the model is read in the state \"{check.State}\"; strike out the check first.")
                : null
        );

    private Refusal? OfWires(IReadOnlyDictionary<PinAddress, ResolvedPin> pins, Model model)
    {
        if (Wires.Count > MostWires)
        {
            return new Refusal("wires", $"There are {Wires.Count} wires; at most {MostWires} are taken.");
        }

        foreach (var (i, wire) in Wires.Index())
        {
            if (Rule.Text("number of a wire", wire.Number, 12) is { } tooLong)
            {
                return tooLong with { Field = "wires" };
            }

            if ((Lost(wire.From, i, "begins") ?? Lost(wire.To, i, "ends")) is { } lost)
            {
                return lost;
            }
        }

        return WiringRule.OfWires(Wires.Select(w => (w.From, w.To)), at => pins[at].Printed)
            ?? Rule.Unique("ids of the wires", Wires.Select(w => w.Id.Value));

        Refusal? Lost(PinAddress end, int i, string does) =>
            pins.ContainsKey(end)
                ? null
                : new Refusal(
                    "wires",
                    $"Wire {i + 1} {does} at {Before(end, model)}, which is not there; join it elsewhere or strike it out."
                );
    }

    /// <summary>What a pin that has gone was called, as far as the model still tells.</summary>
    private static string Before(PinAddress end, Model model) =>
        end is PinAddress.OffBoard off && model.Parts.FirstOrDefault(p => p.Id == off.Part) is { } part
            ? $"{part.Designator}·{part.Pins.FirstOrDefault(p => p.Id == off.Pin)?.Label ?? off.Pin.Value}"
            : "a pin";
}

/// <summary>A branch of the power path, from where power enters to where it ends.</summary>
/// <param name="Pins">Printed names.</param>
/// <param name="ByCircuit">Those of them to which nobody entered the way: the circuit says it.</param>
public sealed record PowerBranch(IReadOnlyList<string> Pins, IReadOnlyList<string> ByCircuit);

/// <summary>Something in the wiring that cannot be right as entered, in words.</summary>
/// <param name="Pins">Printed names.</param>
public sealed record WiringMend(MendKind Kind, string Words, IReadOnlyList<string> Pins);

/// <summary>A wire whose two ends were seen in different colours.</summary>
public sealed record ColourDoubt(string From, string FromColours, string To, string ToColours);

/// <summary>How the ledger understands the wiring of a model: the branches of its power path, and what is to be mended.</summary>
public sealed record WiringReport(
    IReadOnlyList<PowerBranch> Branches,
    IReadOnlyList<WiringMend> ToMend,
    IReadOnlyList<ColourDoubt> Doubts,
    IReadOnlyList<string> Sources
)
{
    /// <param name="machine">The model with its boards, see <see cref="WiringSheet.Resolved"/>.</param>
    public static WiringReport Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var graph = FeedGraph.Of(machine);
        string Printed(PinAddress pin) => machine.Pins[pin].Printed;
        var report = PathReport.Of(graph, new Dictionary<PinIndex, PinEvidence>(), _ => true);
        var computed = MachineFeeds.Of(machine).Links.Where(l => l.Origin.Level == Level.Computed).Select(l => (l.From, l.To)).ToHashSet();
        var branches = graph
            .Order.Where(p => graph.Fed[p].Count == 0 && graph.Reached[p])
            .Select(end => PathStrip.Through(end, report).Pins.Select(p => graph[p]).ToList())
            .Select(way => new PowerBranch(
                [.. way.Select(Printed)],
                [.. way.Zip(way.Skip(1)).Where(computed.Contains).Select(step => Printed(step.Second))]
            ));
        return new(
            [.. branches],
            [
                .. graph.ToMend.Select(m =>
                {
                    IReadOnlyList<string> pins = [.. m.Pins.Select(Printed)];
                    return new WiringMend(m.Kind, Words(m.Kind, pins), pins);
                }),
            ],
            [
                .. machine
                    .Links.Where(l => !l.From.IsBeside(l.To))
                    .Select(l => (From: machine.Pins[l.From], To: machine.Pins[l.To]))
                    .Where(l =>
                        l.From.Colours.Value.Code.Length > 0
                        && l.To.Colours.Value.Code.Length > 0
                        && l.From.Colours.Value.Code != l.To.Colours.Value.Code
                    )
                    .Select(l => new ColourDoubt(l.From.Printed, l.From.Colours.Value.Words, l.To.Printed, l.To.Colours.Value.Words)),
            ],
            [.. machine.Pins.Values.Where(p => p.Pin.IsSource).Select(p => p.Printed).Order(NaturalOrder.Instance)]
        );
    }

    private static string Words(MendKind kind, IReadOnlyList<string> pins) =>
        kind switch
        {
            MendKind.Loop => $"Power would run in a circle: {string.Join(", ", pins)}.",
            MendKind.DanglingFeed =>
                $"{string.Join(", ", pins)} feeds others, and nothing feeds it. Join it, or say that power enters there.",
            _ => $"{string.Join(", ", pins)} is reached from nowhere.",
        };
}
