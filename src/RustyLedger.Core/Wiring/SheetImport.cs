using System.Globalization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>Checks while a sheet is laid over them.</summary>
internal sealed class CheckShelf(IEnumerable<Check> checks)
{
    // Places in the list by the pin under the red probe: a list of ten thousand rows has as many checks.
    private readonly Dictionary<PinAddress, List<int>> _at = checks
        .Index()
        .Where(c => c.Item.Red is not null)
        .GroupBy(c => c.Item.Red!, c => c.Index)
        .ToDictionary(g => g.Key, g => g.ToList());
    private readonly HashSet<CheckId> _spoken = [];

    public List<Check> Checks { get; } = [.. checks];

    /// <summary>Takes a check in: as it is here, in the place of one that differs in its limit alone, or as a further one.</summary>
    /// <returns>What that changes, in words; null where it is here already.</returns>
    public string? Put(Check wanted, string name, string state, Func<string> newId)
    {
        if (!_at.TryGetValue(wanted.Red!, out var here))
        {
            _at[wanted.Red!] = here = [];
        }

        // What this file added is spoken of; what is left was there before.
        var open = here.Where(i => !_spoken.Contains(Checks[i].Id)).ToList();
        if (open.FindIndex(i => Checks[i] with { Id = "", Line = wanted.Line } == wanted) is >= 0 and var same)
        {
            _spoken.Add(Checks[open[same]].Id);
            return null;
        }

        if (
            open.FindIndex(i => Checks[i] with { Id = "", Line = wanted.Line, Limit = wanted.Limit, Remark = wanted.Remark } == wanted)
            is >= 0
                and var found
        )
        {
            var at = open[found];
            var words = $"{name} should read {LimitNotation.Write(Checks[at].Limit)}, now {LimitNotation.Write(wanted.Limit)}";
            Checks[at] = wanted with { Id = Checks[at].Id };
            _spoken.Add(Checks[at].Id);
            return words;
        }

        var added = wanted with { Id = newId() };
        here.Add(Checks.Count);
        Checks.Add(added);
        _spoken.Add(added.Id);
        return $"{name} check {LimitNotation.Write(wanted.Limit)}, {state}";
    }
}

/// <summary>Something with pins while a sheet is laid over it: a board type, or a part off the boards as its one element.</summary>
internal sealed class SheetBench(BoardType type)
{
    // Where a connector of unknown shape is drawn until somebody places it.
    private const decimal NewPitchMm = 5m;
    private const decimal NewGapMm = 10m;
    private const int MostIndex = 200;

    private readonly Dictionary<string, int> _at = type
        .Elements.Index()
        .GroupBy(e => e.Item.Designator, StringComparer.OrdinalIgnoreCase)
        .ToDictionary(g => g.Key, g => g.First().Index, StringComparer.OrdinalIgnoreCase);

    public BoardType Type => type;

    public List<Element> Elements { get; } = [.. type.Elements];

    public List<Link> Links { get; } = [.. type.Links];

    public CheckShelf Checks { get; } = new(type.Checks);

    public HashSet<PinId> Spoken { get; } = [];

    public Dictionary<PinId, int> FirstLine { get; } = [];

    public bool IsChanged { get; set; }

    public BoardType Result =>
        IsChanged
            ? type with
            {
                Elements = [.. Elements],
                Links = [.. Links],
                Checks = [.. Checks.Checks],
                WidthMm = Math.Max(type.WidthMm, Elements.Select(e => e.Outline.X + e.Outline.Width + NewPitchMm).DefaultIfEmpty(0).Max()),
                HeightMm = Math.Max(
                    type.HeightMm,
                    Elements.Select(e => e.Outline.Y + e.Outline.Height + NewPitchMm).DefaultIfEmpty(0).Max()
                ),
            }
            : type;

    /// <summary>The place of an element in <see cref="Elements"/>; below 0 for none.</summary>
    public int At(string designator) => _at.TryGetValue(designator, out var at) ? at : -1;

    /// <returns>The place of the new one.</returns>
    public int Add(string designator, Func<string> newId)
    {
        var bottom = Elements.Select(e => e.Outline.Y + e.Outline.Height).DefaultIfEmpty(0).Max();
        // IEEE 315: F is a fuse.
        var kind = designator is ['F', var digit, ..] && char.IsAsciiDigit(digit) ? ElementKind.Fuse : ElementKind.Connector;
        Elements.Add(
            new Element(
                newId(),
                kind,
                designator,
                "",
                NewGapMm,
                bottom + NewGapMm,
                1,
                NewPitchMm,
                Direction.Across,
                Corner.TopLeft,
                Numbering.RowByRow,
                "",
                []
            )
        );
        _at[designator] = Elements.Count - 1;
        return Elements.Count - 1;
    }

    public static int FreeIndex(Element element, string label) =>
        int.TryParse(label, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        && number is > 0 and <= MostIndex
        && element.Pins.All(p => p.Index != number)
            ? number
            : element.Pins.Select(p => p.Index).DefaultIfEmpty(0).Max() + 1;

    public Pin? Pin(string designator, string label) =>
        At(designator) is >= 0 and var at
            ? Elements[at].Pins.FirstOrDefault(p => p.Label.Equals(label, StringComparison.OrdinalIgnoreCase))
            : null;

    /// <summary>A pin of it by a name such as <c>J1-2</c>, or by its label alone on the same connector.</summary>
    public (Pin Pin, string Name)? Find(string connector, string name)
    {
        // The longest designator wins, so that J1·2 is not looked for on a connector named J.
        for (var cut = name.Length - 1; cut > 0; cut--)
        {
            if (
                "-·.:/".Contains(name[cut], StringComparison.Ordinal)
                && Pin(name[..cut].TrimEnd(), name[(cut + 1)..].TrimStart()) is { } pin
            )
            {
                return (pin, $"{Elements[At(name[..cut].TrimEnd())].Designator}·{pin.Label}");
            }
        }

        return Pin(connector, name) is { } own ? (own, $"{Elements[At(connector)].Designator}·{own.Label}") : null;
    }
}

/// <summary>A board in its position, or a part off the boards: where lines of a sheet are laid.</summary>
/// <param name="Prefix">Before its designators in printed names, with the hyphen; empty for none.</param>
internal sealed record SheetHolder(SheetBench Bench, string Prefix, string Words, Func<PinId, PinAddress> Address, bool IsBoard)
{
    /// <summary>A supply or a battery: power enters the machine at its plus.</summary>
    public bool IsSupply { get; init; }

    public bool IsPlus(string label, string signal) =>
        IsSupply
        && (label.Contains('+', StringComparison.Ordinal) || PlusWords.Any(w => signal.Contains(w, StringComparison.OrdinalIgnoreCase)));

    private static readonly string[] PlusWords = ["+", "plus", "positive"];
}

/// <summary>A pin that lines of a sheet speak of.</summary>
internal sealed record SheetPin(SheetHolder Holder, string Connector, Pin Pin)
{
    public PinAddress Address => Holder.Address(Pin.Id);

    public string Printed => Holder.IsBoard ? $"{Holder.Prefix}{Connector}·{Pin.Label}" : $"{Connector}·{Pin.Label}";
}

/// <summary>One line of a sheet while it is understood.</summary>
internal sealed class SheetDraft(SheetLine line)
{
    public SheetLine Line => line;

    public SheetHolder? Holder { get; set; }

    public string Connector { get; set; } = "";

    public IReadOnlyList<string> Labels { get; set; } = [];

    public WireColours? Colours { get; set; }

    public string? Signal { get; set; }

    public string Common { get; set; } = "";

    public string OtherEnd { get; set; } = "";

    public IReadOnlyList<LimitText> Limits { get; set; } = [];

    /// <summary>Code of the state of each limit.</summary>
    public IReadOnlyList<string> States { get; set; } = [];

    /// <summary>Each value as it was written, with what was said of it: a state's code, or a word of <see cref="SheetSaid"/>.</summary>
    public IReadOnlyList<RowValue> Values { get; set; } = [];

    public bool? Plugged { get; set; }

    public string Remark { get; set; } = "";

    public string Problem { get; set; } = "";

    public List<string> Doubts { get; } = [];

    public List<string> Changes { get; } = [];

    public bool Adds { get; set; }

    public List<SheetPin> Pins { get; } = [];

    public bool IsTaken => line.Kind == LineKind.Pin && Problem.Length == 0 && Holder is not null;

    public RowPreview Preview() =>
        new(
            line.Row,
            line.Leaf,
            line.Line,
            line.Kind,
            line.Cells,
            line.Kind != LineKind.Pin ? RowOutcome.NoPin
                : Problem.Length > 0 ? RowOutcome.Refused
                : Holder is null ? RowOutcome.LeftOut
                : Adds ? RowOutcome.Added
                : Changes.Count > 0 ? RowOutcome.Changed
                : RowOutcome.Same,
            line.Kind != LineKind.Pin || Problem.Length > 0 ? "" : Understood(),
            Values,
            Problem,
            Doubts,
            Changes
        );

    private string Understood()
    {
        string[] parts =
        [
            Labels.Count == 1 ? $"{Connector}·{Labels[0]}" : $"{Connector}·{Labels[0]} to {Labels[^1]}, {Labels.Count} pins",
            Colours is { Colours.Length: > 0 } ? Colours.Words : "",
            Signal ?? "",
            string.Join(" and ", Limits.Select(l => LimitNotation.Write(l.Limit) + (l.Remark.Length > 0 ? $" ({l.Remark})" : ""))),
        ];
        return string.Join(", ", parts.Where(p => p.Length > 0));
    }
}

/// <summary>Understands the lines of a sheet and lays them over boards and parts.</summary>
/// <param name="states">The states that checks may name.</param>
/// <param name="saidStates">By the cells of a row: the code of the state of each of its values, where people said so.</param>
/// <param name="takesNewStates">A state that nobody knows is added to them rather than refused.</param>
internal sealed class SheetImport(
    TerminalTable table,
    IEnumerable<OperatingState> states,
    bool takesNewStates,
    IEnumerable<Check> modelChecks,
    IReadOnlyDictionary<string, IReadOnlyList<string>> saidStates,
    Func<string> newId
)
{
    private const int MostState = 60;

    public List<OperatingState> States { get; } = [.. states];

    /// <summary>So many lines came with sheets before this one.</summary>
    public int LinesBefore { get; init; }

    /// <summary>Of the model: those that reach from one board or part to another.</summary>
    public CheckShelf ModelChecks { get; } = new(modelChecks);

    public List<SheetDraft> Drafts { get; } = [.. table.Lines.Select(l => new SheetDraft(l))];

    /// <summary>Each line is understood, then its pins are placed, then its checks.</summary>
    public const int Passes = 3;

    /// <summary>Lays the lines over what holds them; null for those that are left out.</summary>
    /// <param name="step">Called once for each line and pass; may throw to stop.</param>
    public void Run(Func<SheetLine, SheetHolder?> holderOf, Func<SheetDraft, string, SheetPin?> findElsewhere, Action? step = null)
    {
        // First the pins, then what refers to them, so that a list may name a pin before its row.
        foreach (var draft in Drafts.Where(d => d.Line.Kind == LineKind.Pin))
        {
            step?.Invoke();
            try
            {
                Fill(draft);
                draft.Holder = holderOf(draft.Line);
            }
            catch (FormatException refusal)
            {
                draft.Problem = refusal.Message;
            }
        }

        foreach (var draft in Drafts.Where(d => d.IsTaken))
        {
            step?.Invoke();
            PlacePins(draft);
        }

        foreach (var draft in Drafts.Where(d => d.IsTaken))
        {
            step?.Invoke();
            AddChecks(draft, findElsewhere);
        }
    }

    private void Fill(SheetDraft draft)
    {
        var line = draft.Line;
        draft.Connector = line[TerminalColumn.Connector] is { Length: > 0 } connector
            ? connector.ToUpperInvariant()
            : throw new FormatException("no connector is named in this row or above it; write for example J4");
        if (draft.Connector.Length > 12)
        {
            throw new FormatException($"\"{draft.Connector}\" is too long for a connector's name; write for example J4");
        }

        var labels = PinLabels.Read(line[TerminalColumn.Pin]);
        draft.Labels = labels.Labels;
        if (labels.Doubt.Length > 0)
        {
            draft.Doubts.Add(labels.Doubt);
        }

        var signal = line[TerminalColumn.Signal];
        draft.Signal =
            signal.Length == 0 && labels.Rest.Length > 0 ? labels.Rest
            : line.Has(TerminalColumn.Signal) ? Plain(signal)
            : null;
        draft.Colours = ColoursOf(draft, line[TerminalColumn.Colour]);
        draft.Remark = line[TerminalColumn.Remark];
        draft.OtherEnd = line[TerminalColumn.OtherEnd];
        draft.Plugged = line[TerminalColumn.Plugged].ToLowerInvariant() switch
        {
            "" => null,
            "plugged" or "plugged in" or "in" or "yes" or "y" or "x" => true,
            "unplugged" or "out" or "no" or "n" => false,
            var other => Doubted(draft, $"\"{other}\" is neither plugged nor unplugged"),
        };
        Judge(draft, $"{signal} {labels.Rest} {draft.Remark}");
    }

    private static bool? Doubted(SheetDraft draft, string doubt)
    {
        draft.Doubts.Add(doubt);
        return null;
    }

    /// <summary>What should be read; a value nobody understands is kept as it was written, and judges nothing.</summary>
    private void Judge(SheetDraft draft, string about)
    {
        var (line, expected) = (draft.Line, draft.Line[TerminalColumn.Expected]);
        if (expected.Length == 0)
        {
            return;
        }

        var mode = TerminalList.ModeOf(line[TerminalColumn.Mode]);
        if (mode is null && line[TerminalColumn.Mode].Length > 0)
        {
            draft.Doubts.Add($"\"{line[TerminalColumn.Mode]}\" is not a meter mode; write for example {MeterMode.DcVolts.Words()}");
        }

        var read = ExpectedText.Read(expected, mode, IsContact(about));
        draft.Limits = [.. read.Limits.Select(l => l with { Mode = mode ?? l.Mode ?? ModeWithout(l.Limit) })];
        if (read.Doubt.Length > 0)
        {
            draft.Doubts.Add(read.Doubt);
        }

        draft.Common = draft.OtherEnd.Length > 0 ? "" : line[TerminalColumn.Common];
        var state = StateOf(draft, line[TerminalColumn.State]);
        var said = saidStates.GetValueOrDefault(string.Join('\t', line.Cells));
        draft.States =
        [
            .. draft.Limits.Select((l, i) => said?.ElementAtOrDefault(i) is { } own && IsSaid(own) ? own : StateIn(l.Remark) ?? state),
        ];
        // What names a state is no remark any longer.
        draft.Limits = [.. draft.Limits.Select(l => StateIn(l.Remark) is null ? l : l with { Remark = "" })];
        draft.Values = [.. draft.Limits.Zip(draft.States, (l, s) => new RowValue(LimitNotation.Write(l.Limit), s))];
        if (draft.States.Any(SheetSaid.IsWord))
        {
            Combine(draft, state);
        }
        else if (draft.States.Distinct().Count() < draft.Limits.Count)
        {
            draft.Doubts.Add($"{draft.Limits.Count} values for one pin: say in which state each is right");
        }
    }

    private bool IsSaid(string code) => SheetSaid.IsWord(code) || States.Exists(s => s.Code == code);

    /// <summary>What is left out goes; of what is right in any state one limit is made, in the state of the row.</summary>
    private static void Combine(SheetDraft draft, string state)
    {
        var all = draft.Limits.Zip(draft.States, (limit, of) => (Limit: limit, Of: of)).Where(l => l.Of != SheetSaid.LeftOut).ToList();
        var either = all.Where(l => l.Of == SheetSaid.Either).Select(l => l.Limit).ToList();
        var rest = all.Where(l => l.Of != SheetSaid.Either).ToList();
        if (either.Count > 0)
        {
            var one = LimitNotation.Either([.. either.Select(l => l.Limit)]);
            if (LimitNotation.IsKeptByItsText(one))
            {
                rest.Insert(0, (either[0] with { Limit = one }, state));
            }
            else
            {
                draft.Doubts.Add(
                    $"{string.Join(" and ", either.Select(l => LimitNotation.Write(l.Limit)))} cannot be one limit; say when each is right"
                );
                rest.InsertRange(0, either.Select(l => (l, state)));
            }
        }

        (draft.Limits, draft.States) = ([.. rest.Select(l => l.Limit)], [.. rest.Select(l => l.Of)]);
    }

    /// <summary>Whether a row speaks of something that opens and closes: NC is closed at rest there.</summary>
    private static bool IsContact(string words) => ContactWords.Any(w => words.Contains(w, StringComparison.OrdinalIgnoreCase));

    private static readonly string[] ContactWords =
    [
        "switch",
        "relay",
        "stop",
        "guard",
        "contact",
        "interlock",
        "limit sw",
        "e-stop",
        "thermostat",
        "cut-out",
    ];

    private static readonly string[] DeadWords = ["off", "dead", "unpowered", "unplugged", "isolated", "no power"];

    private static string Plain(string cell) => cell.StartsWith('\'') ? cell[1..] : cell;

    private static MeterMode ModeWithout(Limit limit) => limit is NoPathLimit or ShortLimit ? MeterMode.Ohms : MeterMode.DcVolts;

    private string StateOf(SheetDraft draft, string cell)
    {
        if (cell.Length == 0)
        {
            return States.Find(s => s.Energised)?.Code ?? States[0].Code;
        }

        if (
            States.Find(s =>
                s.Code.Equals(cell, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(cell, StringComparison.OrdinalIgnoreCase)
            ) is
            { } known
        )
        {
            return known.Code;
        }

        if (!takesNewStates || cell.Length > MostState)
        {
            throw new FormatException($"\"{cell}\" is not a state of this model; it has {string.Join(", ", States.Select(s => s.Name))}");
        }

        var isDead = DeadWords.Any(w => cell.Contains(w, StringComparison.OrdinalIgnoreCase));
        var code = string.Concat(cell.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-')).Trim('-');
        code = code.Length is > 0 and <= 40 && States.TrueForAll(s => s.Code != code) ? code : newId();
        States.Add(new OperatingState(code, cell, !isDead));
        draft.Doubts.Add($"\"{cell}\" becomes a state of this model, taken as {(isDead ? "dead" : "energised")}");
        return code;
    }

    /// <summary>The state that words behind a value name: <c>running</c>, <c>when running</c>; null for none.</summary>
    private string? StateIn(string remark)
    {
        var words = remark.Trim();
        foreach (var lead in StateLeads)
        {
            words = words.StartsWith($"{lead} ", StringComparison.OrdinalIgnoreCase) ? words[(lead.Length + 1)..].Trim() : words;
        }

        return words.Length == 0
            ? null
            : States
                .Find(s =>
                    s.Name.Equals(words, StringComparison.OrdinalIgnoreCase) || s.Code.Equals(words, StringComparison.OrdinalIgnoreCase)
                )
                ?.Code;
    }

    private static readonly string[] StateLeads = ["when", "while", "if", "in", "at"];

    private static WireColours? ColoursOf(SheetDraft draft, string cell)
    {
        if (!draft.Line.Has(TerminalColumn.Colour))
        {
            return null;
        }

        try
        {
            return WireColours.Read(cell);
        }
        catch (FormatException doubt)
        {
            draft.Doubts.Add($"{doubt.Message}; the colour is left as it is");
            return null;
        }
    }

    private void PlacePins(SheetDraft draft)
    {
        var bench = draft.Holder!.Bench;
        var at = bench.At(draft.Connector);
        if (at < 0)
        {
            at = bench.Add(draft.Connector, newId);
            draft.Changes.Add(
                $"new {(bench.Elements[at].Kind == ElementKind.Fuse ? "fuse" : "connector")} {draft.Connector}, place to be set"
            );
            bench.IsChanged = true;
        }

        foreach (var label in draft.Labels)
        {
            var element = bench.Elements[at];
            var pin = element.Pins.FirstOrDefault(p => p.Label.Equals(label, StringComparison.OrdinalIgnoreCase));
            if (pin is null)
            {
                pin = new Pin(
                    newId(),
                    SheetBench.FreeIndex(element, label),
                    label,
                    draft.Colours ?? WireColours.None,
                    draft.Signal ?? "",
                    draft.Holder!.IsPlus(label, draft.Signal ?? "")
                );
                bench.Elements[at] = element with { Pins = [.. element.Pins, pin] };
                bench.IsChanged = draft.Adds = true;
                draft.Changes.Add($"new pin {draft.Connector}·{label}{(pin.IsSource ? ", where power enters" : "")}");
            }
            else
            {
                pin = Update(draft, at, pin);
            }

            bench.Spoken.Add(pin.Id);
            bench.FirstLine.TryAdd(pin.Id, draft.Line.Line);
            draft.Pins.Add(new SheetPin(draft.Holder, draft.Connector, pin));
        }
    }

    private static Pin Update(SheetDraft draft, int at, Pin pin)
    {
        var bench = draft.Holder!.Bench;
        var name = $"{draft.Connector}·{pin.Label}";
        var (colours, signal) = (draft.Colours ?? pin.Colours, draft.Signal ?? pin.Signal);
        if (bench.FirstLine.TryGetValue(pin.Id, out var first))
        {
            // A further line of the same pin adds a check; blanks there say nothing new.
            if ((colours.Code.Length > 0 && colours != pin.Colours) || (signal.Length > 0 && signal != pin.Signal))
            {
                draft.Doubts.Add($"{name} stands on line {first} too, with another colour or signal; the first is kept");
            }
            else if (draft.Limits.Count == 0 && !Joins.Any(c => draft.Line[c].Length > 0))
            {
                draft.Doubts.Add($"{name} stands on line {first} too; this line adds nothing");
            }

            return pin;
        }

        if (colours == pin.Colours && signal == pin.Signal)
        {
            return pin;
        }

        if (colours != pin.Colours)
        {
            draft.Changes.Add($"{name} colour {Said(pin.Colours.Words)} to {Said(colours.Words)}");
        }

        if (signal != pin.Signal)
        {
            draft.Changes.Add($"{name} signal {Said(pin.Signal)} to {Said(signal)}");
        }

        var updated = pin with { Colours = colours, Signal = signal };
        bench.Elements[at] = bench.Elements[at] with { Pins = [.. bench.Elements[at].Pins.Select(p => p.Id == pin.Id ? updated : p)] };
        bench.IsChanged = true;
        return updated;
    }

    internal static readonly TerminalColumn[] Joins =
    [
        TerminalColumn.Feeds,
        TerminalColumn.FedBy,
        TerminalColumn.JoinedTo,
        TerminalColumn.WireNumber,
    ];

    private static string Said(string text) => text.Length == 0 ? "nothing" : $"\"{text}\"";

    /// <summary>A path on the board that has both pins.</summary>
    public void JoinOnBoard(SheetDraft draft, SheetPin from, PinId to, string toName, bool directed)
    {
        var bench = from.Holder.Bench;
        var (begin, end) = (new PinAddress.OnType(from.Pin.Id), new PinAddress.OnType(to));
        if (!bench.Links.Exists(l => l.Directed == directed && l.From == begin && l.To == end))
        {
            bench.Links.Add(new Link(newId(), begin, end, directed));
            bench.IsChanged = true;
            draft.Changes.Add($"{from.Connector}·{from.Pin.Label} {(directed ? "feeds" : "joined to")} {toName}");
        }
    }

    private void AddChecks(SheetDraft draft, Func<SheetDraft, string, SheetPin?> findElsewhere)
    {
        if (draft.Limits.Count == 0)
        {
            return;
        }

        var holder = draft.Holder!;
        var name = draft.OtherEnd.Length > 0 ? draft.OtherEnd : draft.Common;
        SheetPin? black = null;
        if (name.Length > 0)
        {
            black = holder.Bench.Find(draft.Connector, name) is { } own
                ? new SheetPin(holder, own.Name.Split('·')[0], own.Pin)
                : findElsewhere(draft, name);
            if (black is null)
            {
                draft.Doubts.Add(
                    holder.IsBoard
                        ? $"{name} is not a pin of this board; the check is left out"
                        : $"{name} is no pin; the check is left out"
                );
                return;
            }
        }

        foreach (var pin in draft.Pins)
        {
            foreach (var (limit, state) in draft.Limits.Zip(draft.States))
            {
                PutCheck(draft, pin, black, limit, state);
            }
        }
    }

    private void PutCheck(SheetDraft draft, SheetPin pin, SheetPin? black, LimitText limit, string state)
    {
        var name = $"{draft.Connector}·{pin.Pin.Label}";
        // A common probe on the pin itself is how a whole column filled with one common reads at that pin.
        if (black?.Address == pin.Address)
        {
            draft.Doubts.Add($"{name} is its own common; the check is left out");
            return;
        }

        // On one board it is the board type's, wherever that is fitted; across boards it is the model's.
        var isOfBoard = pin.Holder.IsBoard && (black is null || black.Holder == pin.Holder);
        var wanted = new Check(
            "",
            draft.OtherEnd.Length > 0 ? CheckTarget.Pair : CheckTarget.PinAndCommon,
            isOfBoard ? new PinAddress.OnType(pin.Pin.Id) : pin.Address,
            black is null ? null
                : isOfBoard ? new PinAddress.OnType(black.Pin.Id)
                : black.Address,
            "",
            limit.Mode!.Value,
            state,
            draft.Plugged,
            limit.Limit,
            string.Join(", ", new[] { limit.Remark, draft.Remark }.Where(r => r.Length > 0).Distinct())
        )
        {
            Line = LinesBefore + draft.Line.Row,
        };
        if ((isOfBoard ? pin.Holder.Bench.Checks : ModelChecks).Put(wanted, name, state, newId) is { } change)
        {
            pin.Holder.Bench.IsChanged |= isOfBoard;
            draft.Changes.Add(change);
        }
    }
}
