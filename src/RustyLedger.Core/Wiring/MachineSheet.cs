using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>What holds a connector of a sheet.</summary>
public enum SheetTargetKind
{
    /// <summary>The board in a position of the model.</summary>
    Position,

    /// <summary>A board that the model does not have yet; it gets a board type of its own, never one of a like name.</summary>
    NewBoard,

    /// <summary>A part off the boards that is there already.</summary>
    Part,

    /// <summary>A part off the boards that is new.</summary>
    NewPart,

    /// <summary>It is not taken in.</summary>
    LeftOut,
}

/// <param name="Id">Of the position or part; empty where it is new.</param>
/// <param name="Name">Of the new board or part; several connectors of one name are on one new board.</param>
/// <param name="PartKind">Of a new part; null otherwise.</param>
public sealed record SheetTarget(SheetTargetKind Kind, string Id, string Name, PartKind? PartKind);

/// <summary>The lines of one connector, and where they are laid.</summary>
/// <param name="Key">The same for the same words of the sheet.</param>
/// <param name="Board">Words of the sheet; empty where it has none.</param>
/// <param name="Pins">How many the sheet has.</param>
/// <param name="Why">What the proposal goes by.</param>
/// <param name="IsSure">Nothing else fits; otherwise somebody should look.</param>
public sealed record SheetGroup(
    string Key,
    string Board,
    string Connector,
    int Line,
    int Pins,
    SheetTarget Target,
    string TargetWords,
    string Why,
    bool IsSure
);

/// <summary>What people said of a sheet.</summary>
/// <param name="Targets">By <see cref="SheetGroup.Key"/>.</param>
/// <param name="Wires">By <see cref="WireProposal.Id"/>: taken or refused against the proposal.</param>
public sealed record SheetAnswers(IReadOnlyDictionary<string, SheetTarget> Targets, IReadOnlyDictionary<string, bool> Wires)
{
    public static SheetAnswers None { get; } = new(new Dictionary<string, SheetTarget>(), new Dictionary<string, bool>());

    /// <summary>
    /// By the cells of a row, tabs between them: the code of the state of each of its values. It goes with the row wherever that stands.
    /// </summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> States { get; init; } = new Dictionary<string, IReadOnlyList<string>>();
}

/// <summary>What a sheet makes of a machine.</summary>
/// <param name="Model">As it would be.</param>
/// <param name="BoardTypes">Those that change or are new, as they would be.</param>
/// <param name="NewPositions">Of the model's positions, those the sheet adds.</param>
public sealed record MachineSheetResult(
    TerminalTable Table,
    IReadOnlyList<SheetGroup> Groups,
    IReadOnlyList<RowPreview> Rows,
    IReadOnlyList<WireProposal> Wires,
    IReadOnlyList<OperatingState> NewStates,
    Model Model,
    IReadOnlyList<BoardType> BoardTypes,
    IReadOnlyList<Position> NewPositions,
    bool ChangesAnything
);

/// <summary>A sheet of many connectors laid over the boards of a machine and the parts beside them.</summary>
public sealed class MachineSheet
{
    private const int StepsTold = 1500;

    private readonly Model _model;
    private readonly string _tag;
    private readonly TerminalTable _table;
    private readonly SheetAnswers _answers;
    private readonly Func<string> _newId;
    private readonly SheetImport _import;
    private readonly Dictionary<BoardTypeId, SheetBench> _benches;
    private readonly Dictionary<string, SheetHolder> _holders = [];
    private readonly List<SheetGroup> _groups = [];
    private readonly List<Position> _newPositions = [];
    private readonly Dictionary<string, Position> _newBoards = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<(OffBoardPart Part, SheetHolder Holder)> _parts = [];

    private MachineSheet(
        Model model,
        IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes,
        string tag,
        TerminalTable table,
        SheetAnswers answers,
        Func<string> newId
    )
    {
        (_model, _tag, _table, _answers, _newId) = (model, tag, table, answers, newId);
        _import = new SheetImport(table, model.States, takesNewStates: true, model.Checks, answers.States, newId)
        {
            LinesBefore = boardTypes.Values.SelectMany(t => t.Checks).Concat(model.Checks).Max(c => c.Line) ?? 0,
        };
        _benches = boardTypes.ToDictionary(t => t.Key, t => new SheetBench(t.Value));
    }

    /// <summary>Works out what a sheet would do to a machine, without doing it.</summary>
    /// <param name="boardTypes">All that the model's positions name.</param>
    /// <param name="tag">Of the machine: a board whose part number nobody read is called by it.</param>
    /// <param name="newId">Makes an id for each new thing.</param>
    /// <param name="progress">Told now and then how many rows are laid, of how many.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public static MachineSheetResult Lay(
        Model model,
        IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes,
        string tag,
        TerminalTable table,
        SheetAnswers answers,
        Func<string> newId,
        Action<int, int>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(answers);
        return new MachineSheet(model, boardTypes, tag, table, answers, newId).Run(progress, cancel);
    }

    private MachineSheetResult Run(Action<int, int>? progress, CancellationToken cancel)
    {
        var chooser = new SheetTargets(_model, _benches, _answers.Targets);
        foreach (
            var lines in _table
                .Lines.Where(l => l.Kind == LineKind.Pin && l[TerminalColumn.Connector].Length is > 0 and <= 12)
                .GroupBy(SheetTargets.KeyOf)
        )
        {
            var group = chooser.Choose(lines.First(), lines.Select(l => l[TerminalColumn.Pin]).Distinct().Count());
            _groups.Add(group);
            if (HolderOf(group) is { } holder)
            {
                _holders[group.Key] = holder;
            }
        }

        var (steps, rows) = (0, _table.Lines.Count(l => l.Kind == LineKind.Pin));
        _import.Run(
            line => _holders.GetValueOrDefault(SheetTargets.KeyOf(line)),
            Elsewhere,
            () =>
            {
                if (++steps % StepsTold == 0)
                {
                    cancel.ThrowIfCancellationRequested();
                    progress?.Invoke(Math.Min(rows, steps / SheetImport.Passes), rows);
                }
            }
        );
        cancel.ThrowIfCancellationRequested();
        // Found after all pins are placed, so that they are the pins as they will be.
        var wires = new SheetWires(_import, _model, AllHolders(), Elsewhere, _answers.Wires).Run();
        return Result(wires);
    }

    private SheetHolder? HolderOf(SheetGroup group)
    {
        switch (group.Target.Kind)
        {
            case SheetTargetKind.Position when _model.Positions.FirstOrDefault(p => p.Id == group.Target.Id) is { } position:
                return OnBoard(position);
            case SheetTargetKind.NewBoard:
                var name = group.Target.Name.Trim() is { Length: > 0 } said ? said : "board";
                if (!_newBoards.TryGetValue(name, out var added))
                {
                    added = NewBoard(name.Length <= 40 ? name : name[..40]);
                    _newBoards[name] = added;
                    _newPositions.Add(added);
                }

                return OnBoard(added);
            case SheetTargetKind.Part when _model.Parts.FirstOrDefault(p => p.Id == group.Target.Id) is { } part:
                return OfPart(part, group.Connector);
            case SheetTargetKind.NewPart:
                var designator = FreeDesignator(group.Connector);
                return OfPart(
                    new OffBoardPart(
                        _newId(),
                        group.Target.PartKind ?? PartKind.Other,
                        designator,
                        group.Target.Name.Trim() is { Length: > 0 and <= 60 } words ? words : designator,
                        []
                    ),
                    group.Connector
                );
            default:
                return null;
        }
    }

    private SheetHolder OnBoard(Position position)
    {
        var key = $"position {position.Id}";
        return _holders.TryGetValue(key, out var known)
            ? known
            : _holders[key] = new SheetHolder(
                _benches[position.BoardTypeId],
                position.Prefix.Length > 0 ? $"{position.Prefix}-" : "",
                position.Name,
                pin => new PinAddress.OnBoard(position.Id, pin),
                IsBoard: true
            );
    }

    private Position NewBoard(string name)
    {
        var partNumber = $"{_tag} {name}";
        var type = new BoardType(
            _newId(),
            partNumber.Length <= 40 ? partNumber : partNumber[..40],
            "",
            name,
            BoardType.GuessedSize.WidthMm,
            BoardType.GuessedSize.HeightMm,
            Measuring.DefaultTolerance.Usual,
            [],
            [],
            []
        )
        {
            IsSizeGuess = true,
        };
        _benches[type.Id] = new SheetBench(type) { IsChanged = true };
        return new Position(_newId(), FreePrefix(name), name, type.Id);
    }

    /// <summary>The first letters of its words, or the first of its only word; with a number where another has them.</summary>
    private string FreePrefix(string name)
    {
        var words = name.ToUpperInvariant()
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(Letters)
            .Where(w => w.Length > 0)
            .ToList();
        var letters = words.Count > 1 && words[^1] is "BOARD" or "CARD" or "PCB" or "PANEL" or "MODULE" ? words[..^1] : words;
        var stem =
            letters.Count > 1 ? string.Concat(letters.Take(3).Select(w => w[0]))
            : letters.Count == 1 ? letters[0][..Math.Min(3, letters[0].Length)]
            : "B";
        return Free(stem, Taken());
    }

    private static string Letters(string word) => string.Concat(word.Where(char.IsAsciiLetterOrDigit));

    private string FreeDesignator(string connector) => Free(connector, Taken());

    private HashSet<string> Taken() =>
        _model
            .Parts.Select(p => p.Designator)
            .Concat(_model.Positions.Concat(_newPositions).Select(p => p.Prefix))
            .Concat(_parts.Select(p => p.Part.Designator))
            .ToHashSet(StringComparer.OrdinalIgnoreCase);

    private static string Free(string stem, HashSet<string> taken) =>
        taken.Contains(stem) ? Enumerable.Range(2, 999).Select(i => $"{stem}-{i}").First(d => !taken.Contains(d)) : stem;

    /// <summary>A part is laid over as a board of one element; see <see cref="PartsAsTheyWillBe"/>.</summary>
    private SheetHolder OfPart(OffBoardPart part, string connector)
    {
        if (_parts.Find(p => p.Part.Id == part.Id) is { Holder: { } known })
        {
            return known;
        }

        var element = new Element(
            part.Id.Value,
            ElementKind.Connector,
            connector,
            "",
            0,
            0,
            1,
            5,
            Direction.Across,
            Corner.TopLeft,
            Numbering.RowByRow,
            "",
            part.Pins
        );
        var bench = new SheetBench(new BoardType(part.Id.Value, "", "", "", 0, 0, Measuring.DefaultTolerance.Usual, [element], [], []));
        var holder = new SheetHolder(bench, "", part.Name, pin => new PinAddress.OffBoard(part.Id, pin), IsBoard: false)
        {
            IsSupply = part.Kind is PartKind.Supply or PartKind.Battery,
        };
        _parts.Add((part, holder));
        return holder;
    }

    private List<OffBoardPart> PartsAsTheyWillBe()
    {
        var laid = _parts.ToDictionary(p => p.Part.Id, p => p.Part with { Pins = [.. p.Holder.Bench.Elements.SelectMany(e => e.Pins)] });
        return
        [
            .. _model.Parts.Select(p => laid.GetValueOrDefault(p.Id, p)),
            .. _parts
                .Where(p => _model.Parts.All(known => known.Id != p.Part.Id) && laid[p.Part.Id].Pins.Count > 0)
                .Select(p => laid[p.Part.Id]),
        ];
    }

    /// <summary>
    /// A pin on another board or part, by any usual spelling: <c>J4-3</c>, <c>drive J4-3</c>, <c>DB-J4·3</c>, <c>P12 pin 3</c>; of a part
    /// with one pin to a name also <c>S1-2</c>. Null where it is none, or more than one.
    /// </summary>
    private SheetPin? Elsewhere(SheetDraft draft, string name)
    {
        if (TerminalList.FullName().Match(name) is not { Success: true } full)
        {
            return null;
        }

        var (board, connector, label) = (full.Groups["board"].Value, full.Groups["connector"].Value, full.Groups["pin"].Value);
        var found = AllHolders()
            .Where(h =>
                board.Length == 0
                || SheetTargets.IsCalled(board, h.Words)
                || h.Prefix.Equals($"{board}-", StringComparison.OrdinalIgnoreCase)
            )
            .Select(h => (Holder: h, Pin: h.Bench.Pin(connector, label)))
            .Where(h => h.Pin is not null)
            .ToList();
        found = found.Exists(f => f.Holder == draft.Holder) ? [found.Find(f => f.Holder == draft.Holder)] : found;
        return found is [var only]
            ? new SheetPin(only.Holder, only.Holder.Bench.Elements[only.Holder.Bench.At(connector)].Designator, only.Pin!)
            : null;
    }

    private List<SheetHolder>? _all;

    private List<SheetHolder> AllHolders() =>
        _all ??= [
            .. _model.Positions.Concat(_newPositions).Select(OnBoard),
            .. _model.Parts.Select(p => OfPart(p, p.Designator)),
            .. _parts.Where(p => _model.Parts.All(known => known.Id != p.Part.Id)).Select(p => p.Holder),
        ];

    private MachineSheetResult Result(IReadOnlyList<WireProposal> wires)
    {
        var parts = PartsAsTheyWillBe();
        var links = new List<Link>(_model.Links);
        links.AddRange(wires.Where(w => w.IsTaken).Select(w => new Link(_newId(), w.From, w.To, w.Directed) { Number = w.Number }));
        var states = _import.States.Skip(_model.States.Count).ToList();
        var model = _model with
        {
            Positions = [.. _model.Positions, .. _newPositions],
            Parts = parts,
            States = _import.States,
            Links = links,
            Checks = _import.ModelChecks.Checks,
        };
        var types = _benches.Values.Where(b => b.IsChanged).Select(b => b.Result).ToList();
        return new MachineSheetResult(
            _table,
            _groups,
            [.. _import.Drafts.Select(d => d.Preview())],
            wires,
            states,
            model,
            types,
            _newPositions,
            types.Count > 0 || _import.Drafts.Exists(d => d.Changes.Count > 0) || links.Count > _model.Links.Count
        );
    }
}
