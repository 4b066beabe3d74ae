using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>Proposes for each connector of a sheet what holds it.</summary>
/// <param name="said">By people; their word counts, and what follows without words of its own follows it.</param>
internal sealed partial class SheetTargets(
    Model model,
    IReadOnlyDictionary<BoardTypeId, SheetBench> benches,
    IReadOnlyDictionary<string, SheetTarget> said
)
{
    private readonly Dictionary<string, SheetTarget> _byWords = new(StringComparer.OrdinalIgnoreCase);
    private (SheetTarget Target, string Connector)? _before;

    public static string KeyOf(SheetLine line) =>
        $"{string.Join(' ', Tokens(line.Board))}|{line[TerminalColumn.Connector].ToUpperInvariant()}";

    public SheetGroup Choose(SheetLine first, int pins)
    {
        var (key, connector) = (KeyOf(first), first[TerminalColumn.Connector].ToUpperInvariant());
        var (target, why, isSure) = said.TryGetValue(key, out var answer) ? (answer, "as you said", true) : Propose(first.Board, connector);
        if (first.Board.Length > 0 && target.Kind != SheetTargetKind.LeftOut)
        {
            _byWords[first.Board] = target;
        }

        if (target.Kind is SheetTargetKind.Position or SheetTargetKind.NewBoard)
        {
            _before = (target, connector);
        }

        return new SheetGroup(key, first.Board, connector, first.Line, pins, target, Words(target, connector), why, isSure);
    }

    private (SheetTarget Target, string Why, bool IsSure) Propose(string board, string connector) =>
        board.Length > 0 ? ByWords(board, connector) : ByConnector(connector);

    private (SheetTarget Target, string Why, bool IsSure) ByWords(string board, string connector)
    {
        var positions = model
            .Positions.Where(p => p.Prefix.Equals(board, StringComparison.OrdinalIgnoreCase) || IsCalled(board, p.Name))
            .ToList();
        if (positions is [var position])
        {
            return (Of(position), $"\"{board}\" is the board in the position {position.Name}", true);
        }

        // Two things may have a terminal block of one name; the second is called TB1-2 here, and known by its words.
        var like = model
            .Parts.Where(p => p.Designator.Split('-')[0].Equals(connector, StringComparison.OrdinalIgnoreCase))
            .OrderByDescending(p => IsCalled(board, p.Name))
            .ThenByDescending(p => p.Designator.Equals(connector, StringComparison.OrdinalIgnoreCase));
        if (like.FirstOrDefault() is { } part)
        {
            return (Of(part), $"{part.Designator} is there already", true);
        }

        if (_byWords.TryGetValue(board, out var before) && before.Kind is SheetTargetKind.Position or SheetTargetKind.NewBoard)
        {
            return (before, $"as the connector before it under \"{board}\"", true);
        }

        if (!BoardWord().IsMatch(board) && KindOf(board) is { } kind)
        {
            var name = WordsOf(kind).StartsWith(Named(board), StringComparison.OrdinalIgnoreCase) ? WordsOf(kind) : Named(board);
            return (new(SheetTargetKind.NewPart, "", name, kind), $"\"{board}\" is on no board", true);
        }

        return (new(SheetTargetKind.NewBoard, "", Named(board), null), $"no board here is called \"{board}\"", positions.Count == 0);
    }

    private (SheetTarget Target, string Why, bool IsSure) ByConnector(string connector)
    {
        var having = model.Positions.Where(p => benches[p.BoardTypeId].At(connector) >= 0).ToList();
        if (having is [var only])
        {
            return (Of(only), $"{connector} is on the {only.Name}", true);
        }

        if (model.Parts.FirstOrDefault(p => p.Designator.Equals(connector, StringComparison.OrdinalIgnoreCase)) is { } part)
        {
            return (Of(part), $"{part.Designator} is there already", true);
        }

        if (having.Count > 1)
        {
            var at = having.Find(p => _before?.Target.Id == p.Id.Value) ?? having[0];
            return (Of(at), $"{connector} is on the {string.Join(", the ", having.Select(p => p.Name))}", false);
        }

        if (Letters().Match(connector) is { Success: true } letters && OffBoard.TryGetValue(letters.Value.ToUpperInvariant(), out var kind))
        {
            return (new(SheetTargetKind.NewPart, "", connector, kind), $"{letters.Value} is a {WordsOf(kind)} by its letters", true);
        }

        if (_before is { } before)
        {
            return (before.Target, $"as {before.Connector} before it", false);
        }

        return model.Positions switch
        {
            [var single] => (Of(single), $"the {single.Name} is the only board", true),
            [] => (new(SheetTargetKind.NewBoard, "", "board", null), "the machine has no board yet", true),
            [var first, ..] => (Of(first), "the sheet does not say which board", false),
        };
    }

    private static SheetTarget Of(Position position) => new(SheetTargetKind.Position, position.Id.Value, "", null);

    private static SheetTarget Of(OffBoardPart part) => new(SheetTargetKind.Part, part.Id.Value, "", null);

    private string Words(SheetTarget target, string connector) =>
        target.Kind switch
        {
            SheetTargetKind.Position => model.Positions.FirstOrDefault(p => p.Id == target.Id)?.Name ?? "a board that is not there",
            SheetTargetKind.NewBoard => $"new: {target.Name}",
            SheetTargetKind.Part => model.Parts.FirstOrDefault(p => p.Id == target.Id) is { } part
                ? $"{part.Designator}, {part.Name}"
                : "a part that is not there",
            SheetTargetKind.NewPart => $"new: {WordsOf(target.PartKind ?? PartKind.Other)} {connector}",
            _ => "left out",
        };

    private static string WordsOf(PartKind kind) => UsualParts.All.First(u => u.Kind == kind).Words;

    /// <summary>Whether the words of a sheet mean a thing of this name: <c>DRIVE BOARD</c> is the position "drive".</summary>
    public static bool IsCalled(string words, string name) =>
        Tokens(words) is { Count: > 0 } said && Tokens(name) is { Count: > 0 } known && said.SequenceEqual(known);

    private static List<string> Tokens(string words)
    {
        var all = words.ToLowerInvariant().Split([' ', '-', ',', '.', '/'], StringSplitOptions.RemoveEmptyEntries).ToList();
        var telling = all.FindAll(w => w is not ("board" or "card" or "pcb" or "the" or "unit" or "module"));
        return telling.Count > 0 ? telling : all;
    }

    private static string Named(string words) => words.Any(char.IsLower) ? words : words.ToLowerInvariant();

    private static PartKind? KindOf(string words) =>
        Kinds.FirstOrDefault(k => words.Contains(k.Word, StringComparison.OrdinalIgnoreCase)) is { Word: not null } found
            ? found.Kind
            : null;

    // The longer words first: a battery switch is a switch, an in-line plug of the motor is a plug.
    private static readonly (string Word, PartKind Kind)[] Kinds =
    [
        ("plug", PartKind.Plug),
        ("in-line", PartKind.Plug),
        ("inline", PartKind.Plug),
        ("splice", PartKind.Plug),
        ("harness", PartKind.Plug),
        ("switch", PartKind.Switch),
        ("isolator", PartKind.Switch),
        ("breaker", PartKind.Switch),
        ("button", PartKind.Button),
        ("e-stop", PartKind.Button),
        ("pendant", PartKind.Button),
        ("fuse", PartKind.FuseHolder),
        ("overload", PartKind.Overload),
        ("contactor", PartKind.Contactor),
        ("relay", PartKind.Relay),
        ("transformer", PartKind.Transformer),
        ("supply", PartKind.Supply),
        ("psu", PartKind.Supply),
        ("charger", PartKind.Supply),
        ("battery", PartKind.Battery),
        ("motor", PartKind.Motor),
        ("pump", PartKind.Motor),
        ("fan", PartKind.Motor),
        ("heater", PartKind.Heater),
        ("element", PartKind.Heater),
        ("solenoid", PartKind.Coil),
        ("valve", PartKind.Coil),
        ("coil", PartKind.Coil),
        ("sensor", PartKind.Sensor),
        ("photo", PartKind.Sensor),
        ("probe", PartKind.Sensor),
        ("lamp", PartKind.Lamp),
        ("light", PartKind.Lamp),
        ("horn", PartKind.Horn),
        ("buzzer", PartKind.Horn),
        ("sounder", PartKind.Horn),
        ("aerial", PartKind.Aerial),
        ("antenna", PartKind.Aerial),
        ("splice", PartKind.Splice),
        ("earth bar", PartKind.EarthBar),
        ("ground bar", PartKind.EarthBar),
    ];

    // By IEC 81346-2 and older practice, from memory; letters that also name connectors of boards are left out.
    private static readonly Dictionary<string, PartKind> OffBoard = new()
    {
        ["PS"] = PartKind.Supply,
        ["PSU"] = PartKind.Supply,
        ["BT"] = PartKind.Battery,
        ["BAT"] = PartKind.Battery,
        ["SW"] = PartKind.Switch,
        ["S"] = PartKind.Switch,
        ["M"] = PartKind.Motor,
        ["Y"] = PartKind.Coil,
    };

    [GeneratedRegex(@"\b(board|card|pcb|panel|module|controller|display|keypad)\b", RegexOptions.IgnoreCase)]
    private static partial Regex BoardWord();

    [GeneratedRegex(@"^[A-Za-z]+")]
    private static partial Regex Letters();
}
