using System.Globalization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>Understands a terminal list row by row and lays it over a board type.</summary>
internal sealed class TerminalImport(BoardType type, TerminalTable table, IReadOnlyList<OperatingState> states, Func<string> newId)
{
    // Where a connector of unknown shape is drawn until somebody places it.
    private const decimal NewPitchMm = 5m;
    private const decimal NewGapMm = 10m;
    private const int MostPinsInRange = 200;

    private static readonly string[] Months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

    private readonly List<Element> _elements = [.. type.Elements];
    private readonly List<Link> _links = [.. type.Links];
    private readonly List<Check> _checks = [.. type.Checks];

    // Places in the list of checks by the pin under the red probe: a list of ten thousand rows has as many checks.
    private readonly Dictionary<PinAddress, List<int>> _checksAt = type
        .Checks.Index()
        .Where(c => c.Item.Red is not null)
        .GroupBy(c => c.Item.Red!, c => c.Index)
        .ToDictionary(g => g.Key, g => g.ToList());
    private readonly HashSet<PinId> _spoken = [];
    private readonly HashSet<CheckId> _checksSpoken = [];
    private readonly Dictionary<PinId, int> _firstLine = [];
    private readonly Dictionary<TerminalColumn, string> _above = [];

    public TerminalPreview Run()
    {
        // First the pins, then what refers to them, so that a list may name a pin before its row.
        var drafts = table.Lines.Select(l => Draft(l.Line, l.Cells)).ToList();
        foreach (var draft in drafts.Where(d => d.Problem.Length == 0))
        {
            PlacePins(draft);
        }

        foreach (var draft in drafts.Where(d => d.Problem.Length == 0))
        {
            Join(draft);
            AddChecks(draft);
        }

        var changes = drafts.Any(d => d.Changes.Count > 0);
        var height = Math.Max(type.HeightMm, _elements.Select(e => e.Outline.Y + e.Outline.Height + NewPitchMm).DefaultIfEmpty(0).Max());
        var width = Math.Max(type.WidthMm, _elements.Select(e => e.Outline.X + e.Outline.Width + NewPitchMm).DefaultIfEmpty(0).Max());
        var result = changes
            ? type with
            {
                Elements = [.. _elements],
                Links = [.. _links],
                Checks = [.. _checks],
                WidthMm = width,
                HeightMm = height,
            }
            : type;
        return new TerminalPreview(
            table,
            [.. drafts.Select(d => d.Preview())],
            [.. type.Elements.SelectMany(e => e.Pins.Where(p => !_spoken.Contains(p.Id)).Select(p => $"{e.Designator}·{p.Label}"))],
            result,
            changes
        );
    }

    private sealed class RowDraft(int line, IReadOnlyList<string> cells)
    {
        public int Line => line;

        public string Connector { get; set; } = "";

        public List<string> Labels { get; set; } = [];

        public WireColours? Colours { get; set; }

        public string? Signal { get; set; }

        public string Feeds { get; set; } = "";

        public string JoinedTo { get; set; } = "";

        public string Common { get; set; } = "";

        public string OtherEnd { get; set; } = "";

        public IReadOnlyList<LimitText> Limits { get; set; } = [];

        public string State { get; set; } = "";

        public bool? Plugged { get; set; }

        public string Remark { get; set; } = "";

        public string Problem { get; set; } = "";

        public List<string> Doubts { get; } = [];

        public List<string> Changes { get; } = [];

        public bool Adds { get; set; }

        public List<(Element Element, Pin Pin)> Pins { get; } = [];

        public RowPreview Preview() =>
            new(
                Line,
                cells,
                Problem.Length > 0 ? RowOutcome.Refused
                    : Adds ? RowOutcome.Added
                    : Changes.Count > 0 ? RowOutcome.Changed
                    : RowOutcome.Same,
                Problem.Length > 0 ? "" : Understood(),
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

    private RowDraft Draft(int line, IReadOnlyList<string> cells)
    {
        var draft = new RowDraft(line, cells);
        try
        {
            Fill(draft, cells);
        }
        catch (FormatException refusal)
        {
            draft.Problem = refusal.Message;
        }

        return draft;
    }

    private void Fill(RowDraft draft, IReadOnlyList<string> cells)
    {
        string Cell(TerminalColumn column, bool blankAsAbove = false)
        {
            var cell = table.Columns.TryGetValue(column, out var place) && place < cells.Count ? cells[place].Trim() : "";
            if (TerminalList.IsDitto(cell) || (blankAsAbove && cell.Length == 0))
            {
                return _above.GetValueOrDefault(column, "");
            }

            _above[column] = cell;
            return cell;
        }

        var connector = Cell(TerminalColumn.Connector, blankAsAbove: true);
        var pin = Cell(TerminalColumn.Pin, blankAsAbove: true);
        var signal = Cell(TerminalColumn.Signal);
        if (!table.Columns.ContainsKey(TerminalColumn.Connector) && TerminalList.FullName().Match(pin) is { Success: true } full)
        {
            (connector, pin) = (full.Groups["connector"].Value, full.Groups["pin"].Value);
        }

        draft.Connector =
            connector.Length > 0
                ? connector.ToUpperInvariant()
                : throw new FormatException("no connector is named in this row or above it; write for example J4");
        if (draft.Connector.Length > 12)
        {
            throw new FormatException($"\"{connector}\" is too long for a connector's name; write for example J4");
        }

        (draft.Labels, var rest) = Labels(draft, pin);
        draft.Signal =
            signal.Length == 0 && rest.Length > 0 ? rest
            : Column(TerminalColumn.Signal) ? Plain(signal)
            : null;
        draft.Colours = ColoursOf(draft, Cell(TerminalColumn.Colour));
        draft.Feeds = Cell(TerminalColumn.Feeds);
        draft.JoinedTo = Cell(TerminalColumn.JoinedTo);
        draft.Remark = Cell(TerminalColumn.Remark);
        draft.OtherEnd = Cell(TerminalColumn.OtherEnd);
        var modeCell = Cell(TerminalColumn.Mode);
        MeterMode? mode =
            modeCell.Length == 0
                ? null
                : TerminalList.ModeOf(modeCell)
                    ?? throw new FormatException($"\"{modeCell}\" is not a meter mode; write for example {MeterMode.DcVolts.Words()}");
        var expected = Cell(TerminalColumn.Expected);
        var common = Cell(TerminalColumn.Common, blankAsAbove: true);
        var state = Cell(TerminalColumn.State, blankAsAbove: true);
        draft.Plugged = Cell(TerminalColumn.Plugged).ToLowerInvariant() switch
        {
            "" => null,
            "plugged" or "plugged in" or "in" or "yes" => true,
            "unplugged" or "out" or "no" => false,
            var other => throw new FormatException($"\"{other}\" is neither plugged nor unplugged"),
        };
        if (expected.Length == 0)
        {
            return;
        }

        draft.Limits =
        [
            .. LimitNotation
                .Read(expected, mode, IsContact($"{signal} {rest} {draft.Remark}"))
                .Select(l => l with { Mode = mode ?? l.Mode ?? ModeWithout(l.Limit) }),
        ];
        draft.Common = draft.OtherEnd.Length > 0 ? "" : common;
        draft.State = StateOf(state);
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

    private bool Column(TerminalColumn column) => table.Columns.ContainsKey(column);

    private static string Plain(string cell) => cell.StartsWith('\'') ? cell[1..] : cell;

    private static MeterMode ModeWithout(Limit limit) => limit is NoPathLimit or ShortLimit ? MeterMode.Ohms : MeterMode.DcVolts;

    private string StateOf(string cell) =>
        cell.Length == 0
            ? states.FirstOrDefault(s => s.Energised)?.Code ?? states[0].Code
            : states
                .FirstOrDefault(s =>
                    s.Code.Equals(cell, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(cell, StringComparison.OrdinalIgnoreCase)
                )
                ?.Code
                ?? throw new FormatException(
                    $"\"{cell}\" is not a state of this model; it has {string.Join(", ", states.Select(s => s.Name))}"
                );

    private static (List<string> Labels, string Signal) Labels(RowDraft draft, string pin)
    {
        if (pin.Length == 0)
        {
            throw new FormatException("no pin is named in this row or above it; write for example 4");
        }

        if (pin.StartsWith('\''))
        {
            return ([pin[1..]], "");
        }

        if (TerminalList.SpoiltDate().Match(pin) is { Success: true } date)
        {
            var month = Months.Index().First(m => m.Item.Equals(date.Groups["month"].Value, StringComparison.OrdinalIgnoreCase)).Index + 1;
            var day = int.Parse(date.Groups["day"].Value, CultureInfo.InvariantCulture);
            draft.Doubts.Add($"\"{pin}\" is a date that a spreadsheet made of {day}-{month}; it may also have been {month}-{day}");
            return ([$"{day}-{month}"], "");
        }

        if (TerminalList.Range().Match(pin) is { Success: true } range)
        {
            var (from, to) = (
                int.Parse(range.Groups["from"].Value, CultureInfo.InvariantCulture),
                int.Parse(range.Groups["to"].Value, CultureInfo.InvariantCulture)
            );
            if (to > from)
            {
                return to - from < MostPinsInRange
                    ? (
                        [.. Enumerable.Range(from, to - from + 1).Select(n => n.ToString(CultureInfo.InvariantCulture))],
                        range.Groups["rest"].Value.Trim()
                    )
                    : throw new FormatException($"\"{pin}\" would be {to - from + 1} pins; a range has at most {MostPinsInRange}");
            }
        }

        return pin.Length <= 12
            ? ([pin], "")
            : throw new FormatException($"\"{pin}\" is too long for a pin's label; write for example 4 or L1");
    }

    private WireColours? ColoursOf(RowDraft draft, string cell)
    {
        if (!Column(TerminalColumn.Colour))
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

    private void PlacePins(RowDraft draft)
    {
        var at = _elements.FindIndex(e => e.Designator.Equals(draft.Connector, StringComparison.OrdinalIgnoreCase));
        if (at < 0)
        {
            _elements.Add(NewElement(draft.Connector));
            at = _elements.Count - 1;
            draft.Changes.Add($"new {(_elements[at].Kind == ElementKind.Fuse ? "fuse" : "connector")} {draft.Connector}, place to be set");
        }

        foreach (var label in draft.Labels)
        {
            var element = _elements[at];
            var pin = element.Pins.FirstOrDefault(p => p.Label.Equals(label, StringComparison.OrdinalIgnoreCase));
            if (pin is null)
            {
                pin = new Pin(newId(), FreeIndex(element, label), label, draft.Colours ?? WireColours.None, draft.Signal ?? "");
                _elements[at] = element with { Pins = [.. element.Pins, pin] };
                draft.Adds = true;
                draft.Changes.Add($"new pin {draft.Connector}·{label}");
            }
            else
            {
                pin = Update(draft, at, pin);
            }

            _spoken.Add(pin.Id);
            _firstLine.TryAdd(pin.Id, draft.Line);
            draft.Pins.Add((_elements[at], pin));
        }
    }

    private Pin Update(RowDraft draft, int at, Pin pin)
    {
        var name = $"{draft.Connector}·{pin.Label}";
        var (colours, signal) = (draft.Colours ?? pin.Colours, draft.Signal ?? pin.Signal);
        if (_firstLine.TryGetValue(pin.Id, out var first))
        {
            // A further line of the same pin adds a check; blanks there say nothing new.
            if ((colours.Code.Length > 0 && colours != pin.Colours) || (signal.Length > 0 && signal != pin.Signal))
            {
                draft.Doubts.Add($"{name} stands on line {first} too, with another colour or signal; the first is kept");
            }
            else if (draft.Limits.Count == 0 && draft.Feeds.Length + draft.JoinedTo.Length == 0)
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
        _elements[at] = _elements[at] with { Pins = [.. _elements[at].Pins.Select(p => p.Id == pin.Id ? updated : p)] };
        return updated;
    }

    private static string Said(string text) => text.Length == 0 ? "nothing" : $"\"{text}\"";

    private Element NewElement(string designator)
    {
        var bottom = _elements.Select(e => e.Outline.Y + e.Outline.Height).DefaultIfEmpty(0).Max();
        // IEEE 315: F is a fuse.
        var kind = designator is ['F', var digit, ..] && char.IsAsciiDigit(digit) ? ElementKind.Fuse : ElementKind.Connector;
        return new Element(
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
        );
    }

    private static int FreeIndex(Element element, string label) =>
        int.TryParse(label, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        && number is > 0 and <= MostPinsInRange
        && element.Pins.All(p => p.Index != number)
            ? number
            : element.Pins.Select(p => p.Index).DefaultIfEmpty(0).Max() + 1;

    private void Join(RowDraft draft)
    {
        foreach (var (cell, directed) in (ReadOnlySpan<(string, bool)>)[(draft.Feeds, true), (draft.JoinedTo, false)])
        {
            foreach (var name in cell.Split([';', ','], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            {
                if (Find(draft.Connector, name) is not { } to)
                {
                    draft.Doubts.Add($"{name} is not a pin of this board; the link is left out");
                    continue;
                }

                foreach (var (_, pin) in draft.Pins)
                {
                    var (from, end) = (new PinAddress.OnType(pin.Id), new PinAddress.OnType(to.Pin.Id));
                    if (!_links.Any(l => l.Directed == directed && l.From == from && l.To == end))
                    {
                        _links.Add(new Link(newId(), from, end, directed));
                        draft.Changes.Add($"{draft.Connector}·{pin.Label} {(directed ? "feeds" : "joined to")} {to.Name}");
                    }
                }
            }
        }
    }

    private (Pin Pin, string Name)? Find(string connector, string name)
    {
        // The longest designator wins, so that J1·2 is not looked for on a connector named J.
        foreach (var element in _elements.OrderByDescending(e => e.Designator.Length))
        {
            var start =
                name.StartsWith(element.Designator, StringComparison.OrdinalIgnoreCase)
                && name.Length > element.Designator.Length
                && "-·.:/".Contains(name[element.Designator.Length], StringComparison.Ordinal);
            var label =
                start ? name[(element.Designator.Length + 1)..]
                : element.Designator == connector ? name
                : null;
            if (label is not null && element.Pins.FirstOrDefault(p => p.Label.Equals(label, StringComparison.OrdinalIgnoreCase)) is { } pin)
            {
                return (pin, $"{element.Designator}·{pin.Label}");
            }
        }

        return null;
    }

    private void AddChecks(RowDraft draft)
    {
        if (draft.Limits.Count == 0)
        {
            return;
        }

        var blackName = draft.OtherEnd.Length > 0 ? draft.OtherEnd : draft.Common;
        PinAddress? black = null;
        if (blackName.Length > 0)
        {
            if (Find(draft.Connector, blackName) is not { } found)
            {
                draft.Doubts.Add($"{blackName} is not a pin of this board; the check is left out");
                return;
            }

            black = new PinAddress.OnType(found.Pin.Id);
        }

        foreach (var (_, pin) in draft.Pins)
        {
            foreach (var limit in draft.Limits)
            {
                PutCheck(draft, pin, black, limit);
            }
        }
    }

    private void PutCheck(RowDraft draft, Pin pin, PinAddress? black, LimitText limit)
    {
        var name = $"{draft.Connector}·{pin.Label}";
        var target = draft.OtherEnd.Length > 0 ? CheckTarget.Pair : CheckTarget.PinAndCommon;
        var remark = string.Join(", ", new[] { limit.Remark, draft.Remark }.Where(r => r.Length > 0).Distinct());
        var wanted = new Check(
            "",
            target,
            new PinAddress.OnType(pin.Id),
            black,
            "",
            limit.Mode!.Value,
            draft.State,
            draft.Plugged,
            limit.Limit,
            remark
        );
        // A common probe on the pin itself is how a whole column filled with one common reads at that pin.
        if (wanted.Red == wanted.Black)
        {
            draft.Doubts.Add($"{name} is its own common; the check is left out");
            return;
        }

        if (!_checksAt.TryGetValue(wanted.Red!, out var here))
        {
            _checksAt[wanted.Red!] = here = [];
        }

        var open = here.Where(i => !_checksSpoken.Contains(_checks[i].Id)).ToList();
        if (open.FindIndex(i => _checks[i] with { Id = "" } == wanted) is >= 0 and var same)
        {
            _checksSpoken.Add(_checks[open[same]].Id);
            return;
        }

        // What this file added is spoken of; what is left was there before.
        var at = open.FindIndex(i => _checks[i] with { Id = "", Limit = wanted.Limit, Remark = wanted.Remark } == wanted)
            is >= 0
                and var found
            ? open[found]
            : -1;
        if (at >= 0)
        {
            draft.Changes.Add($"{name} should read {LimitNotation.Write(_checks[at].Limit)}, now {LimitNotation.Write(wanted.Limit)}");
            _checks[at] = wanted with { Id = _checks[at].Id };
            _checksSpoken.Add(_checks[at].Id);
            return;
        }

        var added = wanted with { Id = newId() };
        here.Add(_checks.Count);
        _checks.Add(added);
        _checksSpoken.Add(added.Id);
        draft.Changes.Add($"{name} check {LimitNotation.Write(wanted.Limit)}, {draft.State}");
    }
}
