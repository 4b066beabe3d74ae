using System.Text.RegularExpressions;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Circuits;

/// <summary>Puts the circuit of a machine together, once.</summary>
internal sealed partial class MachineCircuitBuilder
{
    // A seated contact, a track, wires under one screw. Common practice, no source.
    private const double ContactOhms = 0.005;
    private const double TrackOhms = 0.002;
    private const double JointOhms = 0.001;

    private readonly ResolvedMachine _machine;
    private readonly Dictionary<string, ResolvedPin> _byName = [];
    private readonly Dictionary<string, List<ResolvedPin>> _ofElement = [];
    private readonly List<CircuitElement> _elements = [];
    private readonly List<CircuitPart> _parts = [];
    private readonly List<CircuitGap> _gaps = [];
    private readonly List<RowProblem> _problems = [];
    private readonly List<FlowBetween> _flows = [];

    // What lies between two pins takes the place of a wire or a path between them.
    private readonly Dictionary<(string, string), Placed> _between = [];
    private readonly Dictionary<string, PartLaw> _contacts = [];
    private string _reference = "";

    private sealed record Placed(string RowId, string Name, PartLaw Law, IReadOnlyList<Point> Points, SwitchedWhen When);

    /// <summary>A pin, or a point within that is on no drawing and is written in quotes.</summary>
    private sealed record Point(string Printed, string Label, ResolvedPin? Pin)
    {
        public static Point At(ResolvedPin pin) => new(pin.Printed, pin.Label.Value, pin);

        public bool Equals(Point? other) => other?.Printed == Printed;

        public override int GetHashCode() => Printed.GetHashCode(StringComparison.Ordinal);
    }

    public MachineCircuitBuilder(ResolvedMachine machine)
    {
        _machine = machine;
        foreach (var pin in machine.Pins.Values)
        {
            _byName[Key(pin.Printed)] = pin;
            var element = Key(pin.PrintedElement);
            (_ofElement.TryGetValue(element, out var pins) ? pins : _ofElement[element] = []).Add(pin);
        }

        // A build that renames its terminals is written as it is printed, or as on the others.
        foreach (var pin in machine.Pins.Values.Where(p => p.ElsewherePrinted is not null))
        {
            _byName.TryAdd(Key(pin.ElsewherePrinted!), pin);
        }
    }

    public MachineCircuit Build()
    {
        var placed = _machine.Model.Circuit.Rows.Where(IsForThis).SelectMany(Expanded).ToList();
        // What is said of this build or this machine alone goes before what is said of all.
        var rows = new List<CircuitRow>();
        foreach (var same in placed.GroupBy(r => (Key(r.Part), Key(r.Between))))
        {
            var own = same.Where(r => r.OnlyOn.Length > 0).ToList();
            var meant = own.Count > 0 ? own : [.. same];
            rows.Add(meant[0]);
            _problems.AddRange(meant.Skip(1).Select(r => new RowProblem(r.Id, $"{r.Part} is written twice: the first row counts.")));
        }

        List<Placed> laws = [.. rows.Select(Place).OfType<Placed>()];
        laws.AddRange(Marked(laws));
        if (laws.FirstOrDefault(l => l.Law.IsSource) is { } source)
        {
            // Three phases without a neutral: the middle of their star.
            _reference = source.Law.IsThreePhase && source.Points.Count == 3 ? PartElements.Inside(source.Name) : source.Points[^1].Printed;
        }

        foreach (var contact in laws.Where(l => l.Law.Kind == LawKind.Contact))
        {
            _contacts[contact.Points[0].Printed] = contact.Law;
        }

        // Coils first: contacts are theirs.
        foreach (var law in laws.OrderBy(l => l.Law.Kind != LawKind.RelayCoil))
        {
            foreach (var (i, first) in law.Points.Index())
            {
                foreach (var second in law.Points.Skip(i + 1))
                {
                    _between[Pair(first, second)] = law;
                }
            }

            if (law.Law.Kind != LawKind.Wire && law.Law.Kind != LawKind.Contact)
            {
                Put(law);
            }
        }

        Links(laws);
        Joints();
        foreach (var law in laws.Where(l => l.Law.Kind == LawKind.Wire && !_parts.Exists(p => p.Name == l.Name)))
        {
            Put(law);
        }

        foreach (var order in _machine.Model.Circuit.UnknownOrders(_machine.Model.States))
        {
            _problems.Add(new RowProblem("", $"\"{order}\": write a state, then after what, such as running after standby."));
        }

        if (laws.FirstOrDefault(l => l.Law.Kind == LawKind.Bond) is { } bond)
        {
            // Where the chassis is, is known: a wire may touch it.
            var chassis = Node(bond.Points[^1].Printed);
            _elements.AddRange(
                _parts
                    .Where(p => p.Law.Kind == LawKind.Wire && p.At[0] != chassis)
                    .Select(p => new Resistance(MachineCircuit.LeakOf(p.Name), p.At[0], chassis, double.PositiveInfinity))
            );
        }

        foreach (var fuse in _parts.Where(p => p.Law.Kind == LawKind.Fuse && p.At.Count == 2 && _reference.Length > 0).ToList())
        {
            var behind = _machine.Links.Any(l => l.Directed && Node(_machine.Pins[l.To].Printed) == fuse.At[0] && IsSame(l)) ? 0 : 1;
            if (fuse.At[behind] != Circuit.Reference)
            {
                _elements.Add(
                    new Resistance(MachineCircuit.Behind(fuse.Name), fuse.At[behind], Circuit.Reference, double.PositiveInfinity)
                );
            }
        }

        Gaps(rows, laws);
        Circuit? circuit = null;
        if (laws.Exists(l => l.Law.IsSource && l.Law.Missing.Length == 0))
        {
            try
            {
                circuit = new Circuit(_elements) { Hertz = Hertz(laws) };
            }
            catch (ArgumentException wrong)
            {
                _problems.Add(new RowProblem("", wrong.Message.Split(" (Parameter")[0]));
            }
        }

        return new MachineCircuit(
            _machine,
            circuit,
            _parts,
            _gaps,
            _problems,
            _flows,
            _machine.Pins.Values.ToDictionary(p => p.Address, p => Node(p.Printed))
        );
    }

    private static double Hertz(List<Placed> laws) =>
        laws.FirstOrDefault(l => l.Law.Kind == LawKind.Mains)?.Law is { } mains ? mains["hertz"] : 50;

    private bool IsForThis(CircuitRow row) => row.IsFor(_machine.Variant?.Name, _machine.Machine.Tag);

    /// <summary>A row with a star stands for each position of that beginning at which its places are.</summary>
    private IEnumerable<CircuitRow> Expanded(CircuitRow row)
    {
        if (Star().Match(row.Part) is not { Success: true } star)
        {
            return [row];
        }

        var beginning = star.Groups[1].Value;
        string With(string text, Position at) => text.Replace(star.Value, at.Prefix, StringComparison.OrdinalIgnoreCase);
        var all = _machine
            .Model.Positions.Where(p => p.Prefix.StartsWith(beginning, StringComparison.OrdinalIgnoreCase))
            .Select(p =>
                row with
                {
                    Part = With(row.Part, p),
                    Between = With(row.Between, p),
                    What = With(row.What, p),
                    OnIn = With(row.OnIn, p),
                }
            )
            .Where(r => PinsOf(r, out _).Count > 0)
            .ToList();
        if (all.Count == 0)
        {
            _problems.Add(new RowProblem(row.Id, $"{row.Part}: no position has such a place."));
        }

        return all;
    }

    /// <summary>The pins that a row names, or those of its part; none where one of them is not there.</summary>
    private List<Point> PinsOf(CircuitRow row, out string unknown)
    {
        unknown = "";
        if (row.Between.Length == 0)
        {
            return _ofElement.TryGetValue(Key(row.Part), out var own) ? [.. own.OrderBy(p => p.Pin.Index).Select(Point.At)] : [];
        }

        var pins = new List<Point>();
        foreach (var name in Separator().Split(row.Between).Select(n => n.Trim()).Where(n => n.Length > 0))
        {
            if (name.Length > 2 && name[0] == '"' && name[^1] == '"')
            {
                pins.Add(new Point(name, name, null));
            }
            else if (PinCalled(name, row.Part) is { } pin)
            {
                pins.Add(Point.At(pin));
            }
            else
            {
                unknown = name;
                return [];
            }
        }

        return pins;
    }

    private ResolvedPin? PinCalled(string name, string part) =>
        _byName.GetValueOrDefault(Key(name)) ?? _byName.GetValueOrDefault(Key($"{part}·{name}"));

    private Placed? Place(CircuitRow row)
    {
        if (row.What.Length == 0)
        {
            _gaps.Add(new CircuitGap(row.Part, "what it is", PartNotation.Kinds));
            return null;
        }

        PartLaw law;
        SwitchedWhen when;
        try
        {
            (law, when) = (PartNotation.Read(row.What), SwitchedWhen.Read(row.OnIn));
        }
        catch (NotationException wrong)
        {
            _problems.Add(new RowProblem(row.Id, $"{row.Part}: {wrong.Message}"));
            return null;
        }

        var pins = PinsOf(row, out var unknown);
        if (unknown.Length > 0)
        {
            _problems.Add(new RowProblem(row.Id, $"{row.Part}: there is no pin {unknown} on {_machine.Machine.Tag}."));
            return null;
        }

        if (when.Unknown(_machine.Model.States) is [var state, ..])
        {
            _problems.Add(new RowProblem(row.Id, $"{row.Part}: the model has no state \"{state}\"."));
            return null;
        }

        pins = Usual(law, row, pins);
        if (!PartElements.PinsOf(law).Contains(pins.Count) || pins.Distinct().Count() < pins.Count)
        {
            _problems.Add(
                new RowProblem(
                    row.Id,
                    pins.Count == 0
                        ? $"{row.Part} is on no drawing here: say between which pins it lies ({PartElements.PinWords(law)})."
                        : $"{row.Part} has {pins.Count} pins: say between which it lies ({PartElements.PinWords(law)})."
                )
            );
            return null;
        }

        if (law.Missing.Length > 0)
        {
            _gaps.Add(new CircuitGap(row.Part, law.Missing, []));
            return null;
        }

        return new Placed(row.Id, row.Part, law, pins, when);
    }

    /// <summary>A part with more pins than its kind has: those that its labels tell.</summary>
    private static List<Point> Usual(PartLaw law, CircuitRow row, List<Point> pins)
    {
        if (row.Between.Length > 0)
        {
            return pins;
        }

        List<Point> Labelled(params ReadOnlySpan<string> labels)
        {
            var found = new List<Point>();
            foreach (var label in labels)
            {
                if (pins.Find(p => p.Label.Equals(label, StringComparison.OrdinalIgnoreCase)) is { } pin)
                {
                    found.Add(pin);
                }
            }

            return found.Count == labels.Length ? found : pins;
        }

        return law.Kind switch
        {
            LawKind.Supply or LawKind.Battery when pins.Count != 4 => Labelled("+", "-"),
            LawKind.Supply => pins.Exists(p => p.Label == "+") ? Labelled(AcLabel(pins, 0), AcLabel(pins, 1), "+", "-") : pins,
            LawKind.Mains when !law.IsThreePhase => Labelled("L", "N"),
            LawKind.RelayCoil when pins.Count > 2 => pins[0].Pin?.Element?.Detail.Coil.Split(',', StringSplitOptions.TrimEntries)
                is [var a, var b]
                ? Labelled(a, b)
                : Labelled("A1", "A2"),
            _ => pins,
        };
    }

    private static string AcLabel(List<Point> pins, int which) =>
        pins.Select(p => p.Label).Where(l => l is not ("+" or "-")).ElementAtOrDefault(which) ?? "";

    /// <summary>What its marking says of a part that no row is about: fuses.</summary>
    private IEnumerable<Placed> Marked(List<Placed> said)
    {
        var named = said.Select(s => Key(s.Name)).ToHashSet();
        foreach (var (key, pins) in _ofElement)
        {
            if (pins is [{ Element: { Kind: ElementKind.Fuse, Rating.Length: > 0 } fuse }, _] && !named.Contains(key))
            {
                Placed? placed = null;
                try
                {
                    var law = PartNotation.Read($"fuse {fuse.Rating}", NumberFrom.Marking);
                    placed =
                        law.Missing.Length == 0
                            ? new Placed("", pins[0].PrintedElement, law, [.. pins.Select(Point.At)], SwitchedWhen.Read(""))
                            : null;
                }
                catch (NotationException)
                {
                    // A rating in words of its own: asked for, not guessed.
                }

                if (placed is not null)
                {
                    yield return placed;
                }
                else
                {
                    _gaps.Add(new CircuitGap(pins[0].PrintedElement, $"the amps of a fuse marked \"{fuse.Rating}\"", ["fuse"]));
                }
            }
        }
    }

    private void Put(Placed placed)
    {
        var nodes = placed.Points.Select(p => Node(p.Printed)).ToList();
        var name = Own(placed.Name);
        var law = placed.Law;
        var coil = "";
        if (law.Kind is LawKind.MakeContact or LawKind.BreakContact)
        {
            if (_parts.Find(p => p.Law.Kind == LawKind.RelayCoil && Key(p.Name) == Key(law.Of)) is not { } relay)
            {
                _problems.Add(new RowProblem(placed.RowId, $"{placed.Name}: there is no relay {law.Of}."));
                return;
            }

            coil = relay.Name;
            if (Key(placed.Name) == Key(law.Of))
            {
                name = Own($"{placed.Name} {string.Join('-', placed.Points.Select(p => p.Label))}");
            }
        }

        var when = law.Switches ? placed.When : null;
        var isClosed = when?.IsClosedIn(MachineCircuit.OffState(_machine.Model)) ?? false;
        var at = nodes.ToList();
        if (when is { Either.Count: > 0 })
        {
            Sense(placed, name, when, at);
        }

        var elements = PartElements.Of(name, law, at, isClosed, coil, Node(PartElements.Inside(placed.Name)));
        _elements.AddRange(elements);
        if (placed.Points is [{ Pin: { } first }, { Pin: { } second }])
        {
            _flows.Add(new FlowBetween(first.Address, second.Address, elements.First(e => !PartElements.IsAside(e, name)).Name));
        }
        else if (law.Kind == LawKind.ResidualBreaker)
        {
            _flows.AddRange(
                elements
                    .Zip(placed.Points.Chunk(2), (pole, ends) => (pole, ends))
                    .Where(p => p.ends is [{ Pin: not null }, { Pin: not null }])
                    .Select(p => new FlowBetween(p.ends[0].Pin!.Address, p.ends[1].Pin!.Address, p.pole.Name))
            );
        }

        _parts.Add(
            new CircuitPart(name, law, nodes, [.. elements.Where(e => !PartElements.IsAside(e, name)).Select(e => e.Name)], when)
            {
                At = at,
                Coil = coil,
                RowId = placed.RowId,
                Within = Node(PartElements.Inside(placed.Name)),
            }
        );
    }

    /// <summary>
    /// What a board wants to see before it switches: contacts one behind the other for all of it, beside each other for any of it.
    /// </summary>
    private void Sense(Placed placed, string name, SwitchedWhen when, List<string> at)
    {
        var (start, index) = (at[0], 0);
        var met = $"{name} given {when.Either.Sum(e => e.Count)}";
        foreach (var all in when.Either)
        {
            var from = start;
            foreach (var (i, condition) in all.Index())
            {
                index++;
                var to = i == all.Count - 1 ? met : $"{name} given {index}";
                if (!Sense(placed, name, condition, when.Delay, index, from, to))
                {
                    return;
                }

                from = to;
            }
        }

        at[0] = met;
    }

    /// <summary>It looks without drawing a current, and lets go a tenth below.</summary>
    private bool Sense(Placed placed, string name, SwitchCondition condition, double delay, int index, string from, string to)
    {
        var (red, black) = (PinCalled(condition.Red, name), PinCalled(condition.Black, name));
        if (red is null || (black is null && condition.Black.Length > 0))
        {
            _problems.Add(
                new RowProblem(
                    placed.RowId,
                    $"{name}: there is no pin {(red is null ? condition.Red : condition.Black)} on {_machine.Machine.Tag}."
                )
            );
            return false;
        }

        const double SenseOhms = 1e7;
        var (coil, given) = ($"{name} sees {index}", $"{name} given {index}");
        _elements.Add(
            new RelayCoil(
                coil,
                Node(red.Printed),
                black is null ? Circuit.Reference : Node(black.Printed),
                SenseOhms,
                Math.Max(1e-6, condition.Volts),
                0.9 * condition.Volts
            )
            {
                // It waits before it closes, and opens at once.
                PullDelay = condition.Above ? delay : 0,
                DropDelay = condition.Above ? 0 : delay,
            }
        );
        _elements.Add(new RelayContact(given, coil, from, to, condition.Above, Circuit.LeastOhms));
        return true;
    }

    private void Links(List<Placed> laws)
    {
        var wired = _machine.Links.Where(l => !l.IsInner && !IsSame(l)).SelectMany(l => new[] { l.From, l.To }).ToHashSet();
        foreach (var address in wired)
        {
            var pin = _machine.Pins[address];
            if (IsPlug(pin))
            {
                var law = _contacts.GetValueOrDefault(pin.Printed) ?? PartNotation.Read("contact");
                Add(MachineCircuit.ContactAt(pin.Printed), law, Node(pin.Printed), Wired(pin));
            }
        }

        foreach (var link in _machine.Links)
        {
            var (from, to) = (_machine.Pins[link.From], _machine.Pins[link.To]);
            var placed = _between.GetValueOrDefault(Pair(Point.At(from), Point.At(to)));
            if ((placed is not null && placed.Law.Kind != LawKind.Wire) || (link.IsInner && LeadsWithin(from, to, laws)))
            {
                continue;
            }

            if (IsSame(link))
            {
                Through(from, to);
            }
            else if (link.IsInner)
            {
                var track = $"track {from.Printed} to {to.Printed}";
                Joined(track, from, to, TrackOhms);
                if (_elements.Exists(e => e.Name == track) && !_parts.Exists(p => p.Name == track))
                {
                    // No number of it moves anything; that it is cracked or burnt does.
                    var ends = new[] { Node(from.Printed), Node(to.Printed) };
                    _parts.Add(new CircuitPart(track, new PartLaw(LawKind.Track, [], "", ""), ends, [track], null));
                }
            }
            else
            {
                var law = placed?.Law ?? PartNotation.Read("wire");
                var name = placed?.Name ?? $"wire {from.Printed} to {to.Printed}";
                Add(name, law, Wired(from), Wired(to));
                _flows.Add(new FlowBetween(link.From, link.To, name));
            }
        }
    }

    /// <summary>
    /// Whether rows lead from one pin to another through points that are on no drawing: the path on the board stands for them, as that from
    /// a fuse to an output with the transformer between.
    /// </summary>
    private static bool LeadsWithin(ResolvedPin from, ResolvedPin to, List<Placed> laws)
    {
        var ways = laws.Where(l =>
                l.Points.Any(p => p.Pin is null) && l.Law.Kind is not (LawKind.Load or LawKind.Lamp or LawKind.Motor or LawKind.Led)
            )
            .ToList();
        var (seen, open) = (new HashSet<string>(), new Queue<string>([from.Printed]));
        while (open.TryDequeue(out var at))
        {
            foreach (var next in ways.Where(w => w.Points.Any(p => p.Printed == at)).SelectMany(w => w.Points))
            {
                if (next.Printed == to.Printed && at != from.Printed)
                {
                    return true;
                }

                if (next.Pin is null && seen.Add(next.Printed))
                {
                    open.Enqueue(next.Printed);
                }
            }
        }

        return false;
    }

    /// <summary>A path through a part of which nobody said what it is.</summary>
    private void Through(ResolvedPin from, ResolvedPin to)
    {
        var name = from.PrintedElement;
        if (from.Part is { Kind: PartKind.Switch or PartKind.Button })
        {
            if (!_parts.Exists(p => p.Name == name))
            {
                Put(new Placed("", name, PartNotation.Read("switch"), [Point.At(from), Point.At(to)], SwitchedWhen.Read("")));
                return;
            }
        }

        Joined($"{from.Printed} to {to.Printed}", from, to, ContactOhms);
    }

    /// <summary>Places where wires meet: their pins are one.</summary>
    private void Joints()
    {
        foreach (var pins in _ofElement.Values.Where(p => p[0].Part is { Kind: PartKind.Splice or PartKind.EarthBar }))
        {
            foreach (var (first, second) in pins.Zip(pins.Skip(1)))
            {
                Joined($"{first.Printed} to {second.Printed}", first, second, JointOhms);
            }
        }
    }

    private void Add(string name, PartLaw law, string a, string b)
    {
        if (a == b || _elements.Exists(e => e.Name == name))
        {
            return;
        }

        var elements = PartElements.Of(name, law, [a, b], false, "");
        _elements.AddRange(elements);
        _parts.Add(new CircuitPart(name, law, [a, b], [.. elements.Select(e => e.Name)], null));
    }

    private void Joined(string name, ResolvedPin from, ResolvedPin to, double ohms)
    {
        var (a, b) = (Node(from.Printed), Node(to.Printed));
        if (a != b && !_elements.Exists(e => e.Name == name))
        {
            _elements.Add(new Resistance(name, a, b, ohms));
            _flows.Add(new FlowBetween(from.Address, to.Address, name));
        }
    }

    /// <summary>What has to be entered, the sources first, then what draws a current.</summary>
    private void Gaps(List<CircuitRow> rows, List<Placed> laws)
    {
        var said = rows.Select(r => Key(r.Part))
            .Concat(laws.SelectMany(l => l.Points).Where(p => p.Pin is not null).Select(p => Key(p.Pin!.PrintedElement)))
            .ToHashSet();
        foreach (var part in _machine.Model.Parts.Where(p => !said.Contains(Key(p.Designator)) && p.Pins.Count > 1))
        {
            if (
                part.Kind switch
                {
                    PartKind.Supply => ("its volts, and the most it gives", (IReadOnlyList<string>)["supply", "mains"]),
                    PartKind.Battery => ("its volts", ["battery"]),
                    PartKind.Transformer => ("the volts of both windings", ["transformer"]),
                    PartKind.Motor => ("its volts, and amps or watts", ["motor"]),
                    PartKind.Heater => ("its volts, and watts", ["heater"]),
                    PartKind.Coil => ("its ohms", ["coil"]),
                    PartKind.Lamp => ("its volts, and watts", ["lamp"]),
                    PartKind.Horn => ("its volts, and amps", ["horn"]),
                    PartKind.Sensor => ("its volts, and amps", ["sensor"]),
                    PartKind.Relay or PartKind.Contactor => ("the volts and ohms of its coil", ["relay", "contactor"]),
                    PartKind.FuseHolder or PartKind.Overload => ("its amps", ["fuse"]),
                    _ => ((string, IReadOnlyList<string>)?)null,
                } is
                (var words, var kinds)
            )
            {
                _gaps.Add(new CircuitGap(part.Designator, words, kinds));
            }
        }

        _gaps.Sort((a, b) => Rank(a).CompareTo(Rank(b)));
    }

    private static int Rank(CircuitGap gap) =>
        gap.Kinds.Any(k => k is "supply" or "battery") ? 0
        : gap.Kinds.Contains("transformer") ? 1
        : 2;

    private string Own(string name)
    {
        for (var i = 2; ; i++)
        {
            if (!_parts.Exists(p => p.Name == name))
            {
                return name;
            }

            if (!_parts.Exists(p => p.Name == $"{name} ({i})"))
            {
                return $"{name} ({i})";
            }
        }
    }

    private string Node(string printed) => printed == _reference ? Circuit.Reference : printed;

    private string Wired(ResolvedPin pin) => IsPlug(pin) ? pin.Printed + MachineCircuit.WireEnd : Node(pin.Printed);

    private static bool IsPlug(ResolvedPin pin) =>
        pin.Element is { Kind: ElementKind.Connector or ElementKind.BoardCable } || pin.Part is { Kind: PartKind.Plug };

    private bool IsSame(ResolvedLink link) => _machine.Pins[link.From].PrintedElement == _machine.Pins[link.To].PrintedElement;

    private static (string, string) Pair(Point a, Point b) =>
        string.CompareOrdinal(a.Printed, b.Printed) < 0 ? (a.Printed, b.Printed) : (b.Printed, a.Printed);

    /// <summary>People write a dot for the middle dot of a printed name.</summary>
    internal static string Key(string printed) => printed.Trim().Replace('·', '.').ToUpperInvariant();

    [GeneratedRegex(@"([A-Za-z0-9]*)\*", RegexOptions.CultureInvariant)]
    private static partial Regex Star();

    [GeneratedRegex(@"\s+to\s+|\s*[,;]\s*|\s+[–—]\s+", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Separator();
}
