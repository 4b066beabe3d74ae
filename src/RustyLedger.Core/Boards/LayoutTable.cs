using System.Globalization;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Boards;

public enum LayoutRowKind
{
    Element,
    Pin,
    Check,
}

/// <summary>The columns of the three tables of a board type: its elements, its pins, its checks.</summary>
public enum LayoutColumn
{
    Designator,
    Kind,
    Purpose,
    Rating,
    X,
    Y,
    Rows,
    Pitch,
    Direction,
    Pin1,
    Numbering,
    Place,
    Label,
    Colours,
    Signal,
    Source,
    Target,
    Red,
    Black,
    Mode,
    State,
    Plugged,
    Limit,
    Remark,
    Colour,
    Steady,
    Blinking,
    Off,
    Proves,
    ProvesNot,
    Positions,
    OnToward,
    Sets,
    Raises,
    Turns,
    Switches,
    Coil,
    Contacts,
    FuseType,
    Feeds,
    BlownHint,
    OtherEnd,
    Latch,
    KeySide,
}

/// <summary>A line of one of the tables.</summary>
/// <param name="Parent">The element of a pin; empty for an element or a check.</param>
public sealed record LayoutRow(LayoutRowKind Kind, string Parent, string Id, IReadOnlyDictionary<LayoutColumn, string> Cells);

public enum LayoutEditKind
{
    Set,
    Add,
    Remove,
}

/// <summary>One change in a table.</summary>
/// <param name="Column">The cell that is set; null for a row added or removed.</param>
/// <param name="Before">The text that stood in the cell when it was changed; another text there now is a clash.</param>
/// <param name="Cells">For a row added, texts of its cells; for a row removed, what they held, so that the step can be taken back.</param>
public sealed record LayoutEdit(
    LayoutEditKind Kind,
    LayoutRowKind Row,
    string Parent,
    string Id,
    LayoutColumn? Column,
    string Before,
    string Text,
    IReadOnlyDictionary<LayoutColumn, string>? Cells = null
);

/// <summary>Why a change cannot be made.</summary>
/// <param name="Edit">Place in the list of changes, from 0.</param>
/// <param name="Theirs">What somebody else wrote into the cell in between; null where that is not the reason.</param>
public sealed record LayoutProblem(int Edit, string Message, string? Theirs);

/// <summary>The board type after the changes, and what stands against them; with a problem nothing is to be written.</summary>
public sealed record LayoutResult(BoardType Board, IReadOnlyList<LayoutProblem> Problems);

/// <summary>A board type as tables of texts, out and in, cell by cell.</summary>
public static class LayoutTable
{
    private static readonly Dictionary<LayoutRowKind, LayoutColumn[]> Columns = new()
    {
        [LayoutRowKind.Element] =
        [
            LayoutColumn.Designator,
            LayoutColumn.Kind,
            LayoutColumn.Purpose,
            LayoutColumn.Rating,
            LayoutColumn.X,
            LayoutColumn.Y,
            LayoutColumn.Rows,
            LayoutColumn.Pitch,
            LayoutColumn.Direction,
            LayoutColumn.Pin1,
            LayoutColumn.Numbering,
            LayoutColumn.Colour,
            LayoutColumn.Steady,
            LayoutColumn.Blinking,
            LayoutColumn.Off,
            LayoutColumn.Proves,
            LayoutColumn.ProvesNot,
            LayoutColumn.Positions,
            LayoutColumn.OnToward,
            LayoutColumn.Sets,
            LayoutColumn.Raises,
            LayoutColumn.Turns,
            LayoutColumn.Switches,
            LayoutColumn.Coil,
            LayoutColumn.Contacts,
            LayoutColumn.FuseType,
            LayoutColumn.Feeds,
            LayoutColumn.BlownHint,
            LayoutColumn.OtherEnd,
            LayoutColumn.Latch,
            LayoutColumn.KeySide,
        ],
        [LayoutRowKind.Pin] = [LayoutColumn.Place, LayoutColumn.Label, LayoutColumn.Colours, LayoutColumn.Signal, LayoutColumn.Source],
        [LayoutRowKind.Check] =
        [
            LayoutColumn.Target,
            LayoutColumn.Red,
            LayoutColumn.Black,
            LayoutColumn.Mode,
            LayoutColumn.State,
            LayoutColumn.Plugged,
            LayoutColumn.Limit,
            LayoutColumn.Remark,
        ],
    };

    /// <summary>The columns that only things of this kind have.</summary>
    public static IReadOnlyList<LayoutColumn> DetailsOf(ElementKind kind) =>
        kind switch
        {
            ElementKind.Fuse => [LayoutColumn.FuseType, LayoutColumn.Feeds, LayoutColumn.BlownHint],
            ElementKind.Indicator =>
            [
                LayoutColumn.Colour,
                LayoutColumn.Steady,
                LayoutColumn.Blinking,
                LayoutColumn.Off,
                LayoutColumn.Proves,
                LayoutColumn.ProvesNot,
            ],
            ElementKind.Jumper => [LayoutColumn.Positions],
            ElementKind.SwitchBank => [LayoutColumn.Positions, LayoutColumn.OnToward],
            ElementKind.Trimmer => [LayoutColumn.Sets, LayoutColumn.Raises, LayoutColumn.Turns],
            ElementKind.Relay => [LayoutColumn.Switches, LayoutColumn.Coil, LayoutColumn.Contacts],
            ElementKind.Connector => [LayoutColumn.Latch, LayoutColumn.KeySide],
            ElementKind.BoardCable => [LayoutColumn.OtherEnd, LayoutColumn.Latch, LayoutColumn.KeySide],
            _ => [],
        };

    /// <summary>The cells of a new element that lies so.</summary>
    public static IReadOnlyDictionary<LayoutColumn, string> CellsOf(Footprint print, ElementKind kind, string designator, string purpose)
    {
        ArgumentNullException.ThrowIfNull(print);
        return new Dictionary<LayoutColumn, string>
        {
            [LayoutColumn.Designator] = designator,
            [LayoutColumn.Kind] = Word(kind),
            [LayoutColumn.Purpose] = purpose,
            [LayoutColumn.X] = Millimetres(print.X),
            [LayoutColumn.Y] = Millimetres(print.Y),
            [LayoutColumn.Rows] = print.Rows.ToString(CultureInfo.InvariantCulture),
            [LayoutColumn.Pitch] = Millimetres(print.PitchMm),
            [LayoutColumn.Direction] = Word(print.Direction),
            [LayoutColumn.Pin1] = Word(print.Pin1),
        };
    }

    public static IReadOnlyList<LayoutRow> Rows(BoardType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        var names = Names(type.Elements);
        return
        [
            .. type.Elements.Select(e => new LayoutRow(
                LayoutRowKind.Element,
                "",
                e.Id.Value,
                Cells(LayoutRowKind.Element, c => Cell(e, c))
            )),
            .. type.Elements.SelectMany(e =>
                e.Pins.OrderBy(p => p.Index)
                    .Select(p => new LayoutRow(LayoutRowKind.Pin, e.Id.Value, p.Id.Value, Cells(LayoutRowKind.Pin, c => Cell(p, c))))
            ),
            .. type.Checks.Select(k => new LayoutRow(
                LayoutRowKind.Check,
                "",
                k.Id.Value,
                Cells(LayoutRowKind.Check, c => Cell(k, c, names))
            )),
        ];
    }

    /// <summary>
    /// Makes the changes in their order; what depends on several cells, such as a label that stands twice, is looked at in the end.
    /// </summary>
    /// <param name="states">The states a check may name.</param>
    /// <param name="usedElsewhere">Whether wires or checks outside the board type hold on to a pin, so that it cannot go.</param>
    public static LayoutResult Apply(
        BoardType type,
        IReadOnlyList<LayoutEdit> edits,
        IReadOnlyList<OperatingState> states,
        Func<PinId, bool> usedElsewhere
    )
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(edits);
        var bench = new Bench(type, states, usedElsewhere);
        var problems = new List<LayoutProblem>();
        foreach (var (i, edit) in edits.Index())
        {
            try
            {
                if (bench.Make(edit) is { } theirs)
                {
                    problems.Add(new LayoutProblem(i, $"Somebody else wrote \"{theirs}\" here in between.", theirs));
                }
            }
            catch (FormatException refusal)
            {
                problems.Add(new LayoutProblem(i, refusal.Message, null));
            }
        }

        problems.AddRange(bench.Unfit(edits));
        return new LayoutResult(problems.Count == 0 ? bench.Board : type, problems);
    }

    private static Dictionary<LayoutColumn, string> Cells(LayoutRowKind kind, Func<LayoutColumn, string> cell) =>
        Columns[kind].ToDictionary(c => c, cell);

    private static Dictionary<PinId, string> Names(IEnumerable<Element> elements) =>
        elements.SelectMany(e => e.Pins.Select(p => (p.Id, Name: $"{e.Designator}·{p.Label}"))).ToDictionary(n => n.Id, n => n.Name);

    private static string Cell(Element e, LayoutColumn column) =>
        column switch
        {
            LayoutColumn.Designator => e.Designator,
            LayoutColumn.Kind => Word(e.Kind),
            LayoutColumn.Purpose => e.Purpose,
            LayoutColumn.Rating => e.Rating,
            LayoutColumn.X => Millimetres(e.X),
            LayoutColumn.Y => Millimetres(e.Y),
            LayoutColumn.Rows => e.Rows.ToString(CultureInfo.InvariantCulture),
            LayoutColumn.Pitch => Millimetres(e.PitchMm),
            LayoutColumn.Direction => Word(e.Direction),
            LayoutColumn.Pin1 => Word(e.Pin1),
            LayoutColumn.Numbering => Word(e.Numbering),
            _ => Cell(e.Detail, column),
        };

    internal static string Cell(ElementDetail d, LayoutColumn column) =>
        column switch
        {
            LayoutColumn.Colour => d.Colour,
            LayoutColumn.Steady => d.Steady,
            LayoutColumn.Blinking => d.Blinking,
            LayoutColumn.Off => d.Off,
            LayoutColumn.Proves => d.Proves,
            LayoutColumn.ProvesNot => d.ProvesNot,
            LayoutColumn.Positions => string.Join("; ", d.Positions.Select(p => $"{p.Name}: {p.Meaning}")),
            LayoutColumn.OnToward => Word(d.OnToward),
            LayoutColumn.Sets => d.Sets,
            LayoutColumn.Raises => d.Raises == Turning.NotKnown ? "" : Word(d.Raises),
            LayoutColumn.Turns => d.Turns is { } turns ? Millimetres(turns) : "",
            LayoutColumn.Switches => d.Switches,
            LayoutColumn.Coil => d.Coil,
            LayoutColumn.Contacts => d.Contacts,
            LayoutColumn.FuseType => d.FuseType,
            LayoutColumn.Feeds => d.Feeds,
            LayoutColumn.BlownHint => d.BlownHint,
            LayoutColumn.OtherEnd => d.OtherEnd,
            LayoutColumn.Latch => d.Latch is { } latch ? Word(latch) : "",
            LayoutColumn.KeySide => d.KeySide is { } key ? Word(key) : "",
            _ => throw new ArgumentOutOfRangeException(nameof(column)),
        };

    private static string Cell(Pin p, LayoutColumn column) =>
        column switch
        {
            LayoutColumn.Place => p.Index.ToString(CultureInfo.InvariantCulture),
            LayoutColumn.Label => p.Label,
            LayoutColumn.Colours => p.Colours.Code,
            LayoutColumn.Signal => p.Signal,
            LayoutColumn.Source => p.IsSource ? "yes" : "",
            _ => throw new ArgumentOutOfRangeException(nameof(column)),
        };

    private static string Name(PinAddress address, Dictionary<PinId, string> names) =>
        address.OwnPin is { } pin ? names.GetValueOrDefault(pin, "") : "";

    private static string Cell(Check k, LayoutColumn column, Dictionary<PinId, string> names) =>
        column switch
        {
            LayoutColumn.Target => Word(k.Target),
            LayoutColumn.Red => k.Red is null ? k.Part : Name(k.Red, names),
            LayoutColumn.Black => k.Black is null ? "" : Name(k.Black, names),
            LayoutColumn.Mode => k.Mode.Words(),
            LayoutColumn.State => k.State,
            LayoutColumn.Plugged => k.Plugged switch
            {
                true => "plugged",
                false => "unplugged",
                null => "",
            },
            LayoutColumn.Limit => LimitNotation.Write(k.Limit),
            LayoutColumn.Remark => k.Remark,
            _ => throw new ArgumentOutOfRangeException(nameof(column)),
        };

    private static string Millimetres(decimal value) => value.ToString("0.###", CultureInfo.InvariantCulture);

    /// <summary>An enum's name as words: <c>TopLeft</c> is <c>top left</c>.</summary>
    internal static string Word<T>(T value)
        where T : struct, Enum =>
        string.Concat(
            value.ToString().Select((c, i) => char.IsUpper(c) && i > 0 ? $" {char.ToLowerInvariant(c)}" : $"{char.ToLowerInvariant(c)}")
        );

    /// <summary>The board type while it is worked on.</summary>
    private sealed class Bench(BoardType type, IReadOnlyList<OperatingState> states, Func<PinId, bool> usedElsewhere)
    {
        private const int MostDesignator = 12;
        private const int MostWords = 120;
        private const int MostPins = 500;
        private readonly List<Element> _elements = [.. type.Elements];
        private readonly List<Check> _checks = [.. type.Checks];

        public BoardType Board => type with { Elements = [.. _elements], Checks = [.. _checks] };

        /// <returns>What somebody else wrote into the cell; null where the change was made.</returns>
        public string? Make(LayoutEdit edit) =>
            (edit.Kind, edit.Row) switch
            {
                (LayoutEditKind.Set, LayoutRowKind.Element) => SetElement(edit),
                (LayoutEditKind.Set, LayoutRowKind.Pin) => SetPin(edit),
                (LayoutEditKind.Set, LayoutRowKind.Check) => SetCheck(edit),
                (LayoutEditKind.Add, _) => Add(edit),
                _ => Remove(edit),
            };

        /// <summary>
        /// What does not fit together when all is done, such as a label that stands twice, laid at the door of the last change of it.
        /// </summary>
        public IEnumerable<LayoutProblem> Unfit(IReadOnlyList<LayoutEdit> edits)
        {
            foreach (
                var (i, edit) in edits
                    .Index()
                    .Where(e =>
                        e.Item.Kind != LayoutEditKind.Remove
                        && edits.Skip(e.Index + 1).All(later => (later.Id, later.Column) != (e.Item.Id, e.Item.Column))
                    )
            )
            {
                if (
                    edit is { Row: LayoutRowKind.Element, Column: LayoutColumn.Designator or null }
                    && _elements.Find(e => e.Id == edit.Id) is { } element
                    && _elements.Exists(e =>
                        e.Id != element.Id && e.Designator.Equals(element.Designator, StringComparison.OrdinalIgnoreCase)
                    )
                )
                {
                    yield return new LayoutProblem(i, $"{element.Designator} stands twice on this board.", null);
                }

                if (
                    edit is { Row: LayoutRowKind.Pin, Column: LayoutColumn.Label or null }
                    && _elements.Find(e => e.Id == edit.Parent) is { } owner
                    && owner.Pins.FirstOrDefault(p => p.Id == edit.Id) is { } pin
                    && owner.Pins.Any(p => p.Id != pin.Id && p.Label == pin.Label)
                )
                {
                    yield return new LayoutProblem(i, $"Another pin of {owner.Designator} is labelled {pin.Label}.", null);
                }

                if (
                    edit is { Row: LayoutRowKind.Pin, Column: LayoutColumn.Place or null }
                    && _elements.Find(e => e.Id == edit.Parent) is { } holder
                    && holder.Pins.FirstOrDefault(p => p.Id == edit.Id) is { } placed
                    && holder.Pins.Any(p => p.Id != placed.Id && p.Index == placed.Index)
                )
                {
                    yield return new LayoutProblem(i, $"Another pin of {holder.Designator} has place {placed.Index}.", null);
                }

                if (
                    edit is { Row: LayoutRowKind.Check, Column: LayoutColumn.Mode or LayoutColumn.Limit or null }
                    && _checks.Find(c => c.Id == edit.Id) is { } check
                    && !LimitNotation.Fits(LimitNotation.Write(check.Limit), check.Mode)
                )
                {
                    yield return new LayoutProblem(
                        i,
                        $"{LimitNotation.Write(check.Limit)} is no limit for {check.Mode.Words()}; change both.",
                        null
                    );
                }
            }
        }

        private string? SetElement(LayoutEdit edit)
        {
            var at = Place(edit);
            var (element, text) = (_elements[at], edit.Text.Trim());
            if (Clash(Cell(element, Column(edit)), edit) is { } theirs)
            {
                return theirs;
            }

            _elements[at] = edit.Column switch
            {
                LayoutColumn.Designator => element with { Designator = Needed(text, MostDesignator, "a designator such as J4") },
                LayoutColumn.Kind => element with { Kind = Choice<ElementKind>(text) },
                LayoutColumn.Purpose => element with { Purpose = Short(text) },
                LayoutColumn.Rating => element with { Rating = Short(text) },
                LayoutColumn.X => element with { X = Length(text, 0, 2000) },
                LayoutColumn.Y => element with { Y = Length(text, 0, 2000) },
                LayoutColumn.Rows => element with { Rows = WholeNumber(text, 1, 20) },
                LayoutColumn.Pitch => element with { PitchMm = Length(text, 0.1m, 200) },
                LayoutColumn.Direction => element with { Direction = Choice<Direction>(text) },
                LayoutColumn.Pin1 => element with { Pin1 = Choice<Corner>(text) },
                LayoutColumn.Numbering => element with { Numbering = Choice<Numbering>(text) },
                _ => element with { Detail = Changed(element.Detail, edit.Column, text) },
            };
            return null;
        }

        private static ElementDetail Changed(ElementDetail d, LayoutColumn? column, string text) =>
            column switch
            {
                LayoutColumn.Colour => d with { Colour = Short(text) },
                LayoutColumn.Steady => d with { Steady = Short(text) },
                LayoutColumn.Blinking => d with { Blinking = Short(text) },
                LayoutColumn.Off => d with { Off = Short(text) },
                LayoutColumn.Proves => d with { Proves = Short(text) },
                LayoutColumn.ProvesNot => d with { ProvesNot = Short(text) },
                LayoutColumn.Positions => d with { Positions = PositionsOf(text) },
                LayoutColumn.OnToward => d with { OnToward = Choice<Toward>(text) },
                LayoutColumn.Sets => d with { Sets = Short(text) },
                LayoutColumn.Raises => d with { Raises = text.Length == 0 ? Turning.NotKnown : Choice<Turning>(text) },
                LayoutColumn.Turns => d with { Turns = text.Length == 0 ? null : Length(text, 0.1m, 100) },
                LayoutColumn.Switches => d with { Switches = Short(text) },
                LayoutColumn.Coil => d with { Coil = Short(text) },
                LayoutColumn.Contacts => d with { Contacts = Short(text) },
                LayoutColumn.FuseType => d with { FuseType = Short(text) },
                LayoutColumn.Feeds => d with { Feeds = Short(text) },
                LayoutColumn.BlownHint => d with { BlownHint = Short(text) },
                LayoutColumn.Latch => d with { Latch = text.Length == 0 ? null : Choice<Toward>(text) },
                LayoutColumn.KeySide => d with { KeySide = text.Length == 0 ? null : Choice<Toward>(text) },
                _ => d with { OtherEnd = Short(text) },
            };

        /// <summary>Written as <c>1-2: slow; 2-3: fast</c>.</summary>
        private static List<ElementPosition> PositionsOf(string text)
        {
            var positions = new List<ElementPosition>();
            foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            {
                if (part.Split(':', 2, StringSplitOptions.TrimEntries) is not [{ Length: > 0 } name, var meaning])
                {
                    throw new FormatException($"\"{part}\" does not say what it means; write for example 1-2: slow; 2-3: fast.");
                }

                if (positions.Exists(p => p.Name == name))
                {
                    throw new FormatException($"{name} stands twice.");
                }

                positions.Add(new ElementPosition(Needed(name, MostDesignator, "a position such as 1-2"), Short(meaning)));
            }

            return positions;
        }

        private string? SetPin(LayoutEdit edit)
        {
            var at = _elements.FindIndex(e => e.Id == edit.Parent);
            var pin = at < 0 ? null : _elements[at].Pins.FirstOrDefault(p => p.Id == edit.Id);
            if (pin is null)
            {
                throw new FormatException("This pin is no longer here.");
            }

            if (Clash(Cell(pin, Column(edit)), edit) is { } theirs)
            {
                return theirs;
            }

            var text = edit.Text.Trim();
            var changed = edit.Column switch
            {
                LayoutColumn.Place => pin with { Index = WholeNumber(text, 1, MostPins) },
                LayoutColumn.Label => pin with { Label = Needed(text, MostDesignator, "a label such as 3 or L1") },
                LayoutColumn.Colours => pin with { Colours = WireColours.Read(text) },
                LayoutColumn.Signal => pin with { Signal = Short(text) },
                _ => pin with { IsSource = YesNo(text) },
            };
            _elements[at] = _elements[at] with { Pins = [.. _elements[at].Pins.Select(p => p.Id == pin.Id ? changed : p)] };
            return null;
        }

        private string? SetCheck(LayoutEdit edit)
        {
            var at = _checks.FindIndex(c => c.Id == edit.Id);
            if (at < 0)
            {
                throw new FormatException("This check is no longer here.");
            }

            var (check, text) = (_checks[at], edit.Text.Trim());
            if (Clash(Cell(check, Column(edit), Names(_elements)), edit) is { } theirs)
            {
                return theirs;
            }

            _checks[at] = edit.Column switch
            {
                LayoutColumn.Target when Choice<CheckTarget>(text) is CheckTarget.Part or CheckTarget.Nothing => check with
                {
                    Target = Choice<CheckTarget>(text),
                    Red = null,
                    Black = null,
                },
                LayoutColumn.Target => check with { Target = Choice<CheckTarget>(text) },
                LayoutColumn.Red => check with
                {
                    Red = Pin(text, check.Target),
                    Part = check.Target is CheckTarget.Part or CheckTarget.Nothing ? Short(text) : check.Part,
                },
                LayoutColumn.Black => check with
                {
                    Black = text.Length == 0 && check.Target != CheckTarget.Pair ? null : Pin(text, CheckTarget.Pair),
                },
                LayoutColumn.Mode => check with
                {
                    Mode =
                        TerminalList.ModeOf(text)
                        ?? throw new FormatException($"\"{text}\" is no meter mode; write for example DC volts or ohms."),
                },
                LayoutColumn.State => check with { State = StateOf(text) },
                LayoutColumn.Plugged => check with
                {
                    Plugged = text.ToLowerInvariant() switch
                    {
                        "" => null,
                        "plugged" or "plugged in" or "yes" => true,
                        "unplugged" or "no" => false,
                        _ => throw new FormatException("Write plugged, unplugged, or nothing."),
                    },
                },
                LayoutColumn.Limit => check with { Limit = LimitOf(text, check.Mode) },
                _ => check with { Remark = Short(text) },
            };
            return null;
        }

        /// <summary>Under the mode as it stands, or on its own: the mode may change in the same block.</summary>
        private static Limit LimitOf(string text, MeterMode mode)
        {
            try
            {
                return LimitNotation.ReadOne(text, mode).Limit;
            }
            catch (NotationException) when (LimitNotation.Fits(text))
            {
                return LimitNotation.ReadOne(text).Limit;
            }
        }

        private bool IsHere(LayoutEdit edit) =>
            edit.Row switch
            {
                LayoutRowKind.Element => _elements.Exists(e => e.Id == edit.Id),
                LayoutRowKind.Pin => _elements.Exists(e => e.Id == edit.Parent && e.Pins.Any(p => p.Id == edit.Id)),
                _ => _checks.Exists(c => c.Id == edit.Id),
            };

        private string? Add(LayoutEdit edit)
        {
            if (IsHere(edit))
            {
                // Sent once more, since the first answer was lost on its way.
                return null;
            }

            switch (edit.Row)
            {
                case LayoutRowKind.Element when _elements.TrueForAll(e => e.Id != edit.Id):
                    var y = _elements.Select(e => e.Outline.Y + e.Outline.Height).DefaultIfEmpty(5).Max() + 10;
                    _elements.Add(
                        new Element(
                            edit.Id,
                            ElementKind.Connector,
                            FreeDesignator(
                                edit.Cells?.GetValueOrDefault(LayoutColumn.Kind) is { Length: > 0 } kind
                                    ? Choice<ElementKind>(kind)
                                    : ElementKind.Connector
                            ),
                            "",
                            10,
                            y,
                            1,
                            5,
                            Direction.Across,
                            Corner.TopLeft,
                            Numbering.RowByRow,
                            "",
                            []
                        )
                    );
                    break;
                case LayoutRowKind.Pin
                    when _elements.FindIndex(e => e.Id == edit.Parent) is >= 0 and var at
                        && _elements.TrueForAll(e => e.Pins.All(p => p.Id != edit.Id)):
                    var index = _elements[at].Pins.Select(p => p.Index).DefaultIfEmpty(0).Max() + 1;
                    var label = index.ToString(CultureInfo.InvariantCulture);
                    _elements[at] = _elements[at] with
                    {
                        Pins = [.. _elements[at].Pins.Append(new Pin(edit.Id, index, label, WireColours.None, "")).OrderBy(p => p.Index)],
                    };
                    break;
                case LayoutRowKind.Check when _checks.TrueForAll(c => c.Id != edit.Id):
                    var limit = edit.Cells?.GetValueOrDefault(LayoutColumn.Limit) is { Length: > 0 } said
                        ? said
                        : throw new FormatException("Say what should be read there, such as 24 V ±5 %.");
                    var mode = edit.Cells.GetValueOrDefault(LayoutColumn.Mode) is { Length: > 0 } how ? TerminalList.ModeOf(how) : null;
                    var state =
                        states.FirstOrDefault(s => s.Energised)
                        ?? (states is [var only, ..] ? only : null)
                        ?? throw new FormatException("The model has no state to measure in.");
                    var read = LimitNotation.ReadOne(limit, mode);
                    _checks.Add(
                        new Check(
                            edit.Id,
                            CheckTarget.PinAndCommon,
                            null,
                            null,
                            "",
                            mode ?? read.Mode ?? MeterMode.DcVolts,
                            state.Code,
                            true,
                            read.Limit,
                            ""
                        )
                    );
                    break;
                default:
                    throw new FormatException("Its connector is gone, or another row has its id.");
            }

            // In the order of the columns: what a limit means goes by the mode, what a pin is by the target.
            foreach (var column in Columns[edit.Row].Where(c => edit.Cells?.ContainsKey(c) ?? false))
            {
                var text = edit.Cells![column];
                Make(new LayoutEdit(LayoutEditKind.Set, edit.Row, edit.Parent, edit.Id, column, Now(edit, column), text));
            }

            return null;
        }

        private string Now(LayoutEdit edit, LayoutColumn column) =>
            edit.Row switch
            {
                LayoutRowKind.Element => Cell(_elements.Single(e => e.Id == edit.Id), column),
                LayoutRowKind.Pin => Cell(_elements.Single(e => e.Id == edit.Parent).Pins.Single(p => p.Id == edit.Id), column),
                _ => Cell(_checks.Single(c => c.Id == edit.Id), column, Names(_elements)),
            };

        private string? Remove(LayoutEdit edit)
        {
            switch (edit.Row)
            {
                case LayoutRowKind.Check:
                    _checks.RemoveAll(c => c.Id == edit.Id);
                    break;
                case LayoutRowKind.Element:
                    if (_elements.Find(e => e.Id == edit.Id) is not { } element)
                    {
                        break;
                    }

                    if (element.Pins.Count > 0)
                    {
                        throw new FormatException($"{element.Designator} has {element.Pins.Count} pins; they go first.");
                    }

                    _elements.Remove(element);
                    break;
                default:
                    var at = _elements.FindIndex(e => e.Id == edit.Parent);
                    if (at >= 0 && _elements[at].Pins.FirstOrDefault(p => p.Id == edit.Id) is { } gone)
                    {
                        RefuseInUse($"{_elements[at].Designator}·{gone.Label}", gone.Id);
                        _elements[at] = _elements[at] with { Pins = [.. _elements[at].Pins.Where(p => p.Id != gone.Id)] };
                    }

                    break;
            }

            return null;
        }

        private void RefuseInUse(string name, PinId pin)
        {
            var checks = _checks.Count(c => c.Red?.OwnPin == pin || c.Black?.OwnPin == pin);
            var links = type.Links.Count(l => l.From.OwnPin == pin || l.To.OwnPin == pin);
            if (checks + links > 0 || usedElsewhere(pin))
            {
                throw new FormatException(
                    $"{name} is in use: {checks} checks, {links} paths on the "
                        + $"board{(usedElsewhere(pin) ? ", wires or readings of a machine" : "")}. It stays."
                );
            }
        }

        /// <summary>The letters of IEEE 315, from memory; JP and TP are common practice, no source.</summary>
        private static string Letters(ElementKind kind) =>
            kind switch
            {
                ElementKind.Fuse => "F",
                ElementKind.Indicator => "DS",
                ElementKind.Jumper => "JP",
                ElementKind.SwitchBank => "S",
                ElementKind.Trimmer or ElementKind.Component => "R",
                ElementKind.Relay => "K",
                ElementKind.TestPoint => "TP",
                ElementKind.BoardCable => "W",
                _ => "J",
            };

        private string FreeDesignator(ElementKind kind) =>
            Enumerable
                .Range(1, int.MaxValue)
                .Select(i => $"{Letters(kind)}{i}")
                .First(d => _elements.TrueForAll(e => !e.Designator.Equals(d, StringComparison.OrdinalIgnoreCase)));

        private int Place(LayoutEdit edit) =>
            _elements.FindIndex(e => e.Id == edit.Id) is >= 0 and var at
                ? at
                : throw new FormatException("This element is no longer here.");

        private static LayoutColumn Column(LayoutEdit edit) =>
            edit.Column is { } column && Columns[edit.Row].Contains(column)
                ? column
                : throw new FormatException($"The table of {edit.Row.ToString().ToLowerInvariant()}s has no such column.");

        /// <summary>Another text than the one that was changed; the same new text twice is no clash.</summary>
        private static string? Clash(string now, LayoutEdit edit) => now == edit.Before || now == edit.Text.Trim() ? null : now;

        private PinAddress.OnType? Pin(string name, CheckTarget target)
        {
            if (target is CheckTarget.Part or CheckTarget.Nothing)
            {
                return null;
            }

            // As printed first, since a label may hold any of the signs that people put between.
            static string Plain(string text) => text.Trim().Replace('.', '·').Replace(':', '·').Replace('-', '·');
            var names = Names(_elements);
            var found = names.Where(n => n.Value.Equals(name.Trim(), StringComparison.OrdinalIgnoreCase)).Select(n => n.Key).ToList();
            found =
                found.Count > 0
                    ? found
                    : [.. names.Where(n => Plain(n.Value).Equals(Plain(name), StringComparison.OrdinalIgnoreCase)).Select(n => n.Key)];
            return found is [var pin]
                ? new PinAddress.OnType(pin)
                : throw new FormatException(
                    $"There is no pin \"{name}\" on this board; write for example {names.Values.FirstOrDefault("J1·1")}."
                );
        }

        private string StateOf(string text) =>
            states
                .FirstOrDefault(s =>
                    s.Code.Equals(text, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(text, StringComparison.OrdinalIgnoreCase)
                )
                ?.Code
            ?? throw new FormatException($"\"{text}\" is not a state here; there are {string.Join(", ", states.Select(s => s.Name))}.");

        private static string Needed(string text, int most, string example) =>
            text.Length == 0 ? throw new FormatException($"Write {example}.")
            : text.Length <= most ? text
            : throw new FormatException($"\"{text}\" has {text.Length} signs; at most {most} fit.");

        private static string Short(string text) =>
            text.Length <= MostWords ? text : throw new FormatException($"{text.Length} signs; at most {MostWords} fit.");

        private static int WholeNumber(string text, int least, int most) =>
            int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var value) && value >= least && value <= most
                ? value
                : throw new FormatException($"\"{text}\" is not a whole number from {least} to {most}.");

        private static decimal Length(string text, decimal least, decimal most) =>
            decimal.TryParse(text.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            && value >= least
            && value <= most
                ? value
                : throw new FormatException(
                    $"\"{text}\" is not a number from {least.ToString(CultureInfo.InvariantCulture)} to "
                        + $"{most.ToString(CultureInfo.InvariantCulture)}."
                );

        private static T Choice<T>(string text)
            where T : struct, Enum =>
            Enum.GetValues<T>()
                .Cast<T?>()
                .FirstOrDefault(v =>
                    Word(v!.Value)
                        .Replace(" ", "", StringComparison.Ordinal)
                        .Equals(text.Replace(" ", "", StringComparison.Ordinal), StringComparison.OrdinalIgnoreCase)
                )
            ?? throw new FormatException($"\"{text}\" is none of {string.Join(", ", Enum.GetValues<T>().Select(Word))}.");

        private static bool YesNo(string text) =>
            text.ToLowerInvariant() switch
            {
                "yes" or "y" or "x" or "1" => true,
                "" or "no" or "n" or "0" => false,
                _ => throw new FormatException("Write yes or nothing."),
            };
    }
}
