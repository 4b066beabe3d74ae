using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>What a proposal of a wire goes by, the strongest first.</summary>
public enum WireReason
{
    /// <summary>The sheet names the other end.</summary>
    Written,

    /// <summary>Both ends bear the same wire number.</summary>
    Number,

    /// <summary>One plug is put into the other.</summary>
    Mating,

    /// <summary>The same colour and the same signal, and no third pin with both.</summary>
    ColourAndSignal,
}

/// <summary>A wire that the sheet tells of.</summary>
/// <param name="Id">The same for the same ends, whenever the sheet is read.</param>
/// <param name="Number">On its sleeve; empty for none.</param>
/// <param name="IsTaken">By itself, or because somebody said so.</param>
public sealed record WireProposal(
    string Id,
    PinAddress From,
    string FromPrinted,
    PinAddress To,
    string ToPrinted,
    bool Directed,
    string Number,
    WireReason Reason,
    string Why,
    bool IsTaken
);

/// <summary>Finds the wires that the lines of a sheet tell of, between boards and parts.</summary>
/// <param name="said">By the id of a proposal: whether it is taken.</param>
internal sealed class SheetWires(
    SheetImport import,
    Model model,
    IReadOnlyList<SheetHolder> holders,
    Func<SheetDraft, string, SheetPin?> elsewhere,
    IReadOnlyDictionary<string, bool> said
)
{
    private readonly List<WireProposal> _found = [];

    // Either way round: a wire stands once.
    private readonly HashSet<(PinAddress, PinAddress)> _joined =
    [
        .. model.Links.Select(l => (l.From, l.To)),
        .. model.Links.Select(l => (l.To, l.From)),
    ];

    public IReadOnlyList<WireProposal> Run()
    {
        var drafts = import.Drafts.FindAll(d => d.IsTaken);
        foreach (var draft in drafts)
        {
            Written(draft);
        }

        var pins = drafts.SelectMany(d => d.Pins.Select(p => (Draft: d, Pin: p))).DistinctBy(p => p.Pin.Address).ToList();
        ByNumber(pins);
        ByMating(pins);
        ByColourAndSignal(pins);
        return Directed();
    }

    /// <summary>
    /// What is only known to be joined gets the direction of the power, where power comes to one of its ends and to the other by no
    /// other way.
    /// </summary>
    private List<WireProposal> Directed()
    {
        var feeds = new Dictionary<PinAddress, List<PinAddress>>();
        void Feed(PinAddress from, PinAddress to)
        {
            if (!feeds.TryGetValue(from, out var here))
            {
                feeds[from] = here = [];
            }

            here.Add(to);
        }

        foreach (var link in model.Links.Where(l => l.Directed))
        {
            Feed(link.From, link.To);
        }

        foreach (var holder in holders)
        {
            foreach (var link in holder.Bench.Links.Where(l => l.Directed))
            {
                Feed(holder.Address(link.From.OwnPin!.Value), holder.Address(link.To.OwnPin!.Value));
            }
        }

        foreach (var wire in _found.Where(w => w.Directed && w.IsTaken))
        {
            Feed(wire.From, wire.To);
        }

        var reached = new HashSet<PinAddress>();
        var open = new Queue<PinAddress>(
            holders.SelectMany(h => h.Bench.Elements.SelectMany(e => e.Pins).Where(p => p.IsSource).Select(p => h.Address(p.Id)))
        );
        var undirected = Enumerable.Range(0, _found.Count).Where(i => _found[i] is { Directed: false, IsTaken: true }).ToList();
        while (true)
        {
            while (open.TryDequeue(out var pin))
            {
                if (reached.Add(pin))
                {
                    feeds.GetValueOrDefault(pin, []).ForEach(open.Enqueue);
                }
            }

            var next = undirected.FindIndex(i =>
                !_returns.Contains(_found[i].From) && reached.Contains(_found[i].From) != reached.Contains(_found[i].To)
            );
            if (next < 0)
            {
                return _found;
            }

            var at = undirected[next];
            var wire = _found[at];
            undirected.RemoveAt(next);
            _found[at] = reached.Contains(wire.From)
                ? wire with
                {
                    Directed = true,
                    Why = $"{wire.Why}; power comes from {wire.FromPrinted}",
                }
                : wire with
                {
                    Directed = true,
                    From = wire.To,
                    FromPrinted = wire.ToPrinted,
                    To = wire.From,
                    ToPrinted = wire.FromPrinted,
                    Why = $"{wire.Why}; power comes from {wire.ToPrinted}",
                };
            open.Enqueue(_found[at].To);
        }
    }

    private readonly HashSet<PinAddress> _returns = [];
    private readonly Dictionary<PinAddress, PinAddress> _potential = [];

    /// <summary>One pin for all that wires join.</summary>
    private PinAddress PotentialOf(PinAddress pin)
    {
        while (_potential.TryGetValue(pin, out var above))
        {
            pin = above;
        }

        return pin;
    }

    /// <summary>Current goes back there; power has no direction that would be looked for.</summary>
    private static bool IsReturn(SheetPin pin) =>
        ReturnLabels.Contains(pin.Pin.Label, StringComparer.OrdinalIgnoreCase)
        || ReturnWords.Any(w => pin.Pin.Signal.Contains(w, StringComparison.OrdinalIgnoreCase));

    private static readonly string[] ReturnLabels = ["-", "0V", "GND", "N", "PE", "COM"];
    private static readonly string[] ReturnWords =
    [
        "return",
        "ground",
        "gnd",
        "common",
        "0 v",
        "0v",
        "neutral",
        "earth",
        "minus",
        "negative",
    ];

    private void Written(SheetDraft draft)
    {
        foreach (
            var (column, directed, isToward) in (ReadOnlySpan<(TerminalColumn, bool, bool)>)
                [(TerminalColumn.Feeds, true, true), (TerminalColumn.FedBy, true, false), (TerminalColumn.JoinedTo, false, true)]
        )
        {
            foreach (var name in TerminalList.Names(draft.Line[column]))
            {
                foreach (var pin in draft.Pins)
                {
                    if (!Join(draft, pin, name, directed, isToward))
                    {
                        draft.Doubts.Add($"{name} is no pin here, or more than one; the wire is left out");
                        break;
                    }
                }
            }
        }
    }

    private bool Join(SheetDraft draft, SheetPin pin, string name, bool directed, bool isToward)
    {
        if (OtherEnd(draft, pin, name) is not { } other || other.Address == pin.Address)
        {
            return false;
        }

        var (from, to) = isToward ? (pin, other) : (other, pin);
        if (from.Holder == to.Holder && from.Holder.IsBoard)
        {
            import.JoinOnBoard(draft, from, to.Pin.Id, $"{to.Connector}·{to.Pin.Label}", directed);
        }
        else
        {
            Propose(from, to, directed, draft.Line[TerminalColumn.WireNumber], WireReason.Written, $"line {draft.Line.Line} says {name}");
        }

        return true;
    }

    /// <summary>The pin of that name; where the name is a connector, its pin of the same label.</summary>
    private SheetPin? OtherEnd(SheetDraft draft, SheetPin pin, string name)
    {
        if (pin.Holder.Bench.Find(draft.Connector, name) is { } own)
        {
            return new SheetPin(pin.Holder, own.Name.Split('·')[0], own.Pin);
        }

        return elsewhere(draft, name) ?? elsewhere(draft, $"{name}-{pin.Pin.Label}");
    }

    private void ByNumber(List<(SheetDraft Draft, SheetPin Pin)> pins)
    {
        foreach (
            var same in pins.Where(p => p.Draft.Line[TerminalColumn.WireNumber] is { Length: > 0 and <= 12 })
                .GroupBy(p => p.Draft.Line[TerminalColumn.WireNumber].ToUpperInvariant())
        )
        {
            var ends = same.Select(p => p.Pin).ToList();
            foreach (var (from, to) in ends.Zip(ends.Skip(1)).Where(e => e.First.Holder != e.Second.Holder || !e.First.Holder.IsBoard))
            {
                Propose(from, to, false, same.Key, WireReason.Number, $"both bear wire number {same.Key}");
            }
        }
    }

    private void ByMating(List<(SheetDraft Draft, SheetPin Pin)> pins)
    {
        var connectors = pins.GroupBy(p => (p.Pin.Holder, p.Pin.Connector)).ToList();
        foreach (var here in connectors)
        {
            var mate = here.Select(p => p.Draft.Line.Mate).FirstOrDefault(m => m.Length > 0) ?? "";
            // P31 is put into J31: by the letters of plug and jack (IEEE 315, from memory) and the same number.
            var byName = mate.Length == 0 && here.Key.Connector is ['P', var digit, ..] && char.IsAsciiDigit(digit);
            var wanted =
                mate.Length > 0 ? mate
                : byName ? $"J{here.Key.Connector[1..]}"
                : "";
            if (
                wanted.Length == 0
                || connectors.FindAll(c => c.Key.Holder != here.Key.Holder && c.Key.Connector == wanted) is not [var there]
            )
            {
                continue;
            }

            var why = mate.Length > 0 ? $"the sheet puts {here.Key.Connector} into {wanted}" : $"{here.Key.Connector} goes into {wanted}";
            foreach (var (from, to) in here.Join(there, p => Label(p.Pin), p => Label(p.Pin), (a, b) => (a.Pin, b.Pin)))
            {
                Propose(from, to, false, "", WireReason.Mating, why);
            }
        }
    }

    private static string Label(SheetPin pin) => pin.Pin.Label.ToUpperInvariant();

    private void ByColourAndSignal(List<(SheetDraft Draft, SheetPin Pin)> pins)
    {
        foreach (
            var alike in pins.Where(p => p.Pin.Pin.Signal.Trim().Length > 2 && Tells(p.Pin.Pin.Colours))
                .GroupBy(p => (p.Pin.Pin.Colours.Code, Signal: p.Pin.Pin.Signal.Trim().ToUpperInvariant()))
        )
        {
            if (
                alike.Select(p => p.Pin).ToList() is [var from, var to]
                && from.Holder != to.Holder
                && PotentialOf(from.Address) != PotentialOf(to.Address)
            )
            {
                Propose(
                    from,
                    to,
                    false,
                    "",
                    WireReason.ColourAndSignal,
                    $"both are {from.Pin.Colours.Words} and \"{from.Pin.Signal.Trim()}\", and no third pin is"
                );
            }
        }
    }

    /// <summary>Black, green and earth are everywhere; colour says nothing there.</summary>
    private static bool Tells(Boards.WireColours colours) => colours.Code is not ("" or "BK" or "GN" or "GN-YE" or "YE-GN");

    private void Propose(SheetPin from, SheetPin to, bool directed, string number, WireReason reason, string why)
    {
        if (!_joined.Add((from.Address, to.Address)) || !_joined.Add((to.Address, from.Address)))
        {
            return;
        }

        if (IsReturn(from) || IsReturn(to))
        {
            directed = false;
            _returns.UnionWith([from.Address, to.Address]);
        }

        if (PotentialOf(from.Address) is var one && PotentialOf(to.Address) is var other && one != other)
        {
            _potential[one] = other;
        }

        var id = $"{from.Printed} {to.Printed}";
        _found.Add(
            new WireProposal(
                id,
                from.Address,
                from.Printed,
                to.Address,
                to.Printed,
                directed,
                number.Length <= 12 ? number : "",
                reason,
                why,
                said.TryGetValue(id, out var taken) ? taken : reason != WireReason.ColourAndSignal
            )
        );
    }
}
