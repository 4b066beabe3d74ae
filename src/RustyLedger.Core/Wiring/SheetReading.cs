using System.Text.RegularExpressions;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>
/// Takes sheets apart as people type them: title rows, headings that repeat, stand in two rows or differ from table to table, tables side
/// by side, sections, ditto marks, merged cells, notes and totals. Every row of the file becomes a line of one kind or another.
/// </summary>
/// <param name="said">What columns hold, by hand.</param>
internal sealed partial class SheetReading(SheetFile file, IReadOnlyDictionary<int, TerminalColumn?> said)
{
    private const int MostSamples = 3;
    private const int LookAt = 60;

    private readonly List<SheetLine> _lines = [];
    private readonly SortedDictionary<int, (string Heading, List<string> Samples)> _unknown = [];
    private readonly SortedDictionary<int, TerminalColumn> _columns = [];
    private IReadOnlyList<string> _headings = [];
    private bool _isGuessed;
    private string _common = "";

    /// <summary>One of the tables that stand side by side, and what holds in it from above.</summary>
    private sealed class Block(int from, int to, Dictionary<int, TerminalColumn> columns, IReadOnlyList<string> headings)
    {
        public int From => from;

        public int To => to;

        public Dictionary<int, TerminalColumn> Columns => columns;

        public IReadOnlyList<string> Headings => headings;

        public string Board { get; set; } = "";

        public string Connector { get; set; } = "";

        public string Mate { get; set; } = "";

        public string Common { get; set; } = "";

        public Dictionary<TerminalColumn, string> Above { get; } = [];

        public List<SheetLine> Lines { get; } = [];

        public int? Of(TerminalColumn column) => columns.Where(c => c.Value == column).Select(c => (int?)c.Key).FirstOrDefault();

        public void Follow(Block before) => (Board, Connector, Mate, Common) = (before.Board, before.Connector, before.Mate, before.Common);
    }

    public TerminalTable Run()
    {
        var width = file.Grids.SelectMany(g => g.Rows).Max(r => r.Cells.Count);
        foreach (var (place, column) in said)
        {
            if (place < 0 || place >= width)
            {
                throw new FormatException($"Column {place + 1}, set as {column?.ToString() ?? "nothing"}, is not in the file.");
            }
        }

        foreach (var grid in file.Grids)
        {
            Read(grid, width);
        }

        return new TerminalTable(
            file.Kind,
            file.Delimiter,
            _headings,
            _columns,
            [.. _unknown.Where(u => u.Value.Samples.Count > 0).Select(u => new UnknownColumn(u.Key, u.Value.Heading, u.Value.Samples))],
            _isGuessed,
            _common,
            WholeNumbers([.. _lines.Select((l, i) => l with { Row = i + 1 })])
        );
    }

    private void Read(SheetGrid grid, int width)
    {
        var leafBoard = file.Grids.Count > 1 && !UsualLeaf().IsMatch(grid.Name) ? grid.Name : "";
        var heads = Heads(grid);
        if (heads.Count == 0)
        {
            _isGuessed = true;
        }

        var first = new Block(0, width, heads.Count == 0 ? Guess(grid) : [], []) { Board = leafBoard };
        List<Block> blocks = [first];
        Note(first);
        for (var i = 0; i < grid.Rows.Count; i++)
        {
            var row = grid.Rows[i];
            if (heads.TryGetValue(i, out var head))
            {
                var next = Blocks(head.Cells, width);
                if (!IsSame(next, blocks))
                {
                    Flush(blocks);
                    for (var b = 0; b < next.Count; b++)
                    {
                        next[b].Follow(blocks[Math.Min(b, blocks.Count - 1)]);
                        Note(next[b]);
                    }

                    blocks = next;
                    _headings = _headings.Count == 0 ? head.Cells : _headings;
                }

                for (var end = i + head.Rows; i < end; i++)
                {
                    Keep(blocks[0], grid, grid.Rows[i], LineKind.Heading);
                }

                i--;
                continue;
            }

            foreach (var block in blocks)
            {
                Understand(block, grid, row, hasHeading: block.Headings.Count > 0 || heads.Count == 0);
            }
        }

        Flush(blocks);
    }

    private void Flush(List<Block> blocks)
    {
        foreach (var block in blocks)
        {
            _lines.AddRange(block.Lines);
            block.Lines.Clear();
        }
    }

    private static bool IsSame(List<Block> next, List<Block> now) =>
        next.Count == now.Count && next.Zip(now).All(p => p.First.From == p.Second.From && p.First.Columns.SequenceEqual(p.Second.Columns));

    /// <summary>What its columns are, and which of them nobody understands.</summary>
    private void Note(Block block)
    {
        foreach (var (place, column) in block.Columns)
        {
            _columns.TryAdd(place, column);
        }

        for (var place = block.From; place < block.To; place++)
        {
            if (!block.Columns.ContainsKey(place) && !said.ContainsKey(place) && (block.Headings.Count > 0 || block.Columns.Count > 0))
            {
                _unknown.TryAdd(place, (block.Headings.ElementAtOrDefault(place) ?? "", []));
            }
        }
    }

    private readonly record struct Head(int Rows, IReadOnlyList<string> Cells);

    /// <summary>The rows that are headings, those in two rows laid over one another.</summary>
    private static Dictionary<int, Head> Heads(SheetGrid grid)
    {
        var heads = new Dictionary<int, Head>();
        for (var i = 0; i < grid.Rows.Count; i++)
        {
            var cells = grid.Rows[i].Cells;
            if (!MayBeHeading(cells))
            {
                continue;
            }

            var alone = Recognised(cells);
            if (i + 1 < grid.Rows.Count && IsSecondRow(grid.Rows[i + 1].Cells, cells))
            {
                var both = Over(cells, grid.Rows[i + 1].Cells);
                if (Recognised(both) >= Math.Max(alone, Recognised(grid.Rows[i + 1].Cells)) && IsHeading(both))
                {
                    heads[i] = new Head(2, both);
                    i++;
                    continue;
                }
            }

            if (IsHeading(cells))
            {
                heads[i] = new Head(1, cells);
            }
        }

        return heads;
    }

    private static List<string> Over(IReadOnlyList<string> upper, IReadOnlyList<string> lower) =>
        [
            .. Enumerable
                .Range(0, Math.Max(upper.Count, lower.Count))
                .Select(i => $"{upper.ElementAtOrDefault(i)} {lower.ElementAtOrDefault(i)}".Trim()),
        ];

    /// <summary>Words of headings and no others, beneath a row that it does not repeat.</summary>
    private static bool IsSecondRow(IReadOnlyList<string> cells, IReadOnlyList<string> above) =>
        MayBeHeading(cells)
        && cells.Count(c => c.Length > 0) >= 2
        && cells
            .Where(c => c.Length > 0)
            .All(c =>
                SheetHeading.Of(c, isLoose: true) is not null
                || SheetHeading.Plain(c).Split(' ').All(w => Fillers.Contains(w, StringComparer.OrdinalIgnoreCase))
            )
        && !cells.SequenceEqual(above, StringComparer.OrdinalIgnoreCase);

    private static readonly string[] Fillers =
    [
        "be",
        "read",
        "no",
        "number",
        "end",
        "probe",
        "name",
        "to",
        "it",
        "is",
        "for",
        "does",
        "on",
    ];

    /// <summary>A row that holds a number, a colour or a value is no heading, whatever else it says.</summary>
    private static bool MayBeHeading(IReadOnlyList<string> cells) =>
        cells.Any(c => c.Length > 0)
        && cells.All(c => c.Length <= 48 && !TerminalList.IsDitto(c))
        && cells.Count(c => c.Any(char.IsAsciiDigit)) <= (cells.Count(c => c.Length > 0) > 3 ? 1 : 0)
        && !cells.Any(c => c.Length > 0 && IsColour(c) && SheetHeading.Of(c, isLoose: false) is null);

    private static int Recognised(IReadOnlyList<string> cells) =>
        cells.Where(c => !IsColour(c)).Select(c => SheetHeading.Of(c, isLoose: true)).OfType<TerminalColumn>().Distinct().Count();

    private static bool IsHeading(IReadOnlyList<string> cells)
    {
        var filled = cells.Count(c => c.Length > 0);
        var exact = cells.Where(c => !IsColour(c)).Select(c => SheetHeading.Of(c, isLoose: false)).OfType<TerminalColumn>().ToHashSet();
        var loose = cells.Where(c => !IsColour(c)).Select(c => SheetHeading.Of(c, isLoose: true)).OfType<TerminalColumn>().ToHashSet();
        return (loose.Contains(TerminalColumn.Pin) && loose.Count >= 2 && exact.Count >= 1 && loose.Count * 2 >= filled)
            || (exact.Contains(TerminalColumn.Pin) && filled <= 3 && cells.All(c => !IsColour(c)));
    }

    /// <summary>A row of headings as tables: where a second pin column begins, another table does.</summary>
    private List<Block> Blocks(IReadOnlyList<string> cells, int width)
    {
        var meanings = cells.Select((c, i) => said.TryGetValue(i, out var hand) ? hand : SheetHeading.Of(c, isLoose: true)).ToList();
        var starts = new List<int> { 0 };
        var seen = new HashSet<TerminalColumn>();
        int? repeated = null;
        for (var i = 0; i < meanings.Count; i++)
        {
            if (meanings[i] is not { } meaning)
            {
                continue;
            }

            if (!seen.Add(meaning))
            {
                repeated ??= i;
                if (meaning == TerminalColumn.Pin)
                {
                    starts.Add(repeated.Value);
                    seen = [.. meanings.Skip(repeated.Value).Take(i - repeated.Value + 1).OfType<TerminalColumn>()];
                    repeated = null;
                }
            }
        }

        return
        [
            .. starts.Select(
                (from, s) =>
                {
                    var to = s + 1 < starts.Count ? starts[s + 1] : width;
                    var columns = new Dictionary<int, TerminalColumn>();
                    for (var i = from; i < to; i++)
                    {
                        if (
                            (i < meanings.Count ? meanings[i] : said.GetValueOrDefault(i)) is { } meaning
                            && (said.ContainsKey(i) || !columns.ContainsValue(meaning))
                        )
                        {
                            columns[i] = meaning;
                        }
                    }

                    return new Block(from, to, columns, cells);
                }
            ),
        ];
    }

    /// <summary>What the columns of a sheet without headings hold, by what stands in most of their cells.</summary>
    private Dictionary<int, TerminalColumn> Guess(SheetGrid grid)
    {
        var rows = grid.Rows.Where(r => r.Cells.Count(c => c.Length > 0) > 1).Take(LookAt).ToList();
        var columns = said.Where(s => s.Value is not null).ToDictionary(s => s.Key, s => s.Value!.Value);
        if (rows.Count == 0)
        {
            columns.TryAdd(0, TerminalColumn.Pin);
            return columns;
        }

        var places = Enumerable.Range(0, rows.Max(r => r.Cells.Count)).Where(p => !said.ContainsKey(p)).ToList();
        double Share(int place, Func<string, bool> fits)
        {
            var cells = rows.Select(r => r.Cells.ElementAtOrDefault(place) ?? "").Where(c => c.Length > 0).ToList();
            return cells.Count == 0 ? 0 : (double)cells.Count(fits) / cells.Count;
        }

        void Take(TerminalColumn column, Func<string, bool> fits, double least, Func<int, double>? worth = null)
        {
            var free = places.Where(p => !columns.ContainsKey(p) && Share(p, fits) >= least).ToList();
            if (!columns.ContainsValue(column) && free.Count > 0)
            {
                columns[worth is null ? free[0] : free.MaxBy(worth)] = column;
            }
        }

        Take(TerminalColumn.Pin, c => TerminalList.FullName().IsMatch(c), 0.6);
        Take(TerminalColumn.Colour, IsColour, 0.5);
        if (!columns.ContainsValue(TerminalColumn.Pin))
        {
            Take(TerminalColumn.Connector, c => ConnectorName().IsMatch(c), 0.6);
            Take(TerminalColumn.Pin, c => PinName().IsMatch(c) || TerminalList.Range().IsMatch(c), 0.6);
        }

        Take(TerminalColumn.Expected, c => LimitNotation.Fits(c) && c.Any(char.IsAsciiDigit), 0.4);
        double Length(int place) => rows.Average(r => (r.Cells.ElementAtOrDefault(place) ?? "").Length);
        Take(TerminalColumn.Signal, c => c.Any(char.IsLetter), 0.5, place => -place);
        Take(TerminalColumn.Remark, c => c.Any(char.IsLetter), 0.3, Length);
        return columns;
    }

    private void Understand(Block block, SheetGrid grid, (int Line, IReadOnlyList<string> Cells) row, bool hasHeading)
    {
        var cells = row.Cells.Skip(block.From).Take(block.To - block.From).ToList();
        var filled = cells.Index().Where(c => c.Item.Length > 0).Select(c => (Place: c.Index + block.From, Text: c.Item)).ToList();
        if (filled.Count == 0)
        {
            return;
        }

        string At(TerminalColumn column) => block.Of(column) is { } place ? row.Cells.ElementAtOrDefault(place) ?? "" : "";
        var (pin, connector) = (At(TerminalColumn.Pin), At(TerminalColumn.Connector));
        var common = filled.Count <= 2 ? SheetSection.CommonIn(string.Join(' ', filled.Select(f => f.Text))) : "";
        if (common.Length > 0 && (pin.Length == 0 || filled.Count == 1))
        {
            var isOfSheet = block.Board.Length + block.Connector.Length == 0 && block.Lines.TrueForAll(l => l.Kind != LineKind.Pin);
            // A section that names its black probe begins with that; a sheet's stays until a section has its own.
            if (SheetSection.Of(string.Join(' ', filled.Select(f => f.Text))) is { } place)
            {
                Enter(block, place);
                block.Common = common;
                Keep(block, grid, row, LineKind.Section);
                return;
            }

            _common = isOfSheet && _common.Length == 0 ? common : _common;
            block.Common = common;
            Keep(block, grid, row, LineKind.Common);
            return;
        }

        if (NoteWords().IsMatch(filled[0].Text) && (filled.Count == 1 || pin.Length == 0 || filled[0].Text == pin))
        {
            Keep(block, grid, row, LineKind.Note);
            return;
        }

        if (filled.Count == 1 || (pin.Length == 0 && connector.Length == 0 && filled.Count == 2 && filled[0].Place == block.From))
        {
            var text = string.Join(' ', filled.Select(f => f.Text));
            var isPin = filled.Count == 1 && filled[0].Place == block.Of(TerminalColumn.Pin) && IsPin(text) && !NamesConnector(block, text);
            if (!isPin && SheetSection.Of(text) is { } section)
            {
                Enter(block, section);
                Keep(block, grid, row, LineKind.Section);
                return;
            }

            if (!isPin && filled.Count == 1)
            {
                Keep(block, grid, row, hasHeading ? LineKind.Note : LineKind.Title);
                return;
            }
        }

        if (!hasHeading)
        {
            Keep(block, grid, row, LineKind.Title);
            return;
        }

        PutPin(block, grid, row);
    }

    /// <summary>
    /// J6 alone in its row is the next connector, not a pin of the one before, unless that has pins of such names: L1 after L2.
    /// </summary>
    private static bool NamesConnector(Block block, string text) =>
        ConnectorLetters().IsMatch(text)
        && block.Lines.TrueForAll(l =>
            l.Kind != LineKind.Pin || l[TerminalColumn.Connector] != block.Connector || !ConnectorLetters().IsMatch(l[TerminalColumn.Pin])
        );

    private static void Enter(Block block, SheetSection section)
    {
        if (section.Board.Length > 0)
        {
            (block.Board, block.Common) = (section.Board, "");
        }

        (block.Connector, block.Mate) = (section.Connector, section.Mate);
        block.Above.Clear();
    }

    private void PutPin(Block block, SheetGrid grid, (int Line, IReadOnlyList<string> Cells) row)
    {
        var values = new Dictionary<TerminalColumn, string>();
        string Written(TerminalColumn column) => block.Of(column) is { } place ? row.Cells.ElementAtOrDefault(place) ?? "" : "";
        // Names first: what stands above them holds no longer when the connector changes.
        var (board, connector, pin) = (Written(TerminalColumn.Board), Written(TerminalColumn.Connector), Written(TerminalColumn.Pin));
        board = TerminalList.IsDitto(board) ? "" : board;
        connector = TerminalList.IsDitto(connector) ? "" : connector;
        if (connector.Length > 0 && !ConnectorName().IsMatch(connector) && SheetSection.Of(connector) is { Connector.Length: > 0 } both)
        {
            (board, connector) = (both.Board.Length > 0 ? both.Board : board, both.Connector);
        }

        if (connector.Length + block.Connector.Length == 0 || !block.Columns.ContainsValue(TerminalColumn.Connector))
        {
            if (TerminalList.FullName().Match(pin) is { Success: true } full)
            {
                (connector, pin) = (full.Groups["connector"].Value, full.Groups["pin"].Value);
                board = full.Groups["board"].Value is { Length: > 0 } words ? words : board;
            }
        }

        if (
            (board.Length > 0 && !board.Equals(block.Board, StringComparison.OrdinalIgnoreCase))
            || (connector.Length > 0 && !connector.Equals(block.Connector, StringComparison.OrdinalIgnoreCase))
        )
        {
            block.Above.Clear();
            block.Mate = "";
        }

        block.Board = board.Length > 0 ? board : block.Board;
        block.Connector = connector.Length > 0 ? connector : block.Connector;
        foreach (var column in block.Columns.Values.Distinct())
        {
            var cell = column switch
            {
                TerminalColumn.Connector or TerminalColumn.Board => "",
                TerminalColumn.Pin => pin,
                _ => Written(column),
            };
            var isAsAbove = TerminalList.IsDitto(cell) || (cell.Length == 0 && HoldsFromAbove(column));
            cell = isAsAbove ? block.Above.GetValueOrDefault(column, "") : cell;
            values[column] = block.Above[column] = cell;
        }

        // Two columns of the same meaning by hand: both count.
        foreach (var (place, column) in block.Columns.Where(c => c.Key != block.Of(c.Value)))
        {
            if (row.Cells.ElementAtOrDefault(place) is { Length: > 0 } more)
            {
                values[column] = $"{values.GetValueOrDefault(column, "")} {more}".Trim();
            }
        }

        values[TerminalColumn.Connector] = block.Connector;
        var common = values.GetValueOrDefault(TerminalColumn.Common, "");
        values[TerminalColumn.Common] =
            common.Length > 0 ? common
            : block.Common.Length > 0 ? block.Common
            : _common;
        foreach (var (place, unknown) in _unknown)
        {
            if (
                place >= block.From
                && place < block.To
                && unknown.Samples.Count < MostSamples
                && row.Cells.ElementAtOrDefault(place) is { Length: > 0 } sample
            )
            {
                unknown.Samples.Add(sample);
            }
        }

        block.Lines.Add(new SheetLine(0, grid.Name, row.Line, LineKind.Pin, row.Cells, values, block.Board, block.Mate));
    }

    private static bool HoldsFromAbove(TerminalColumn column) =>
        column is TerminalColumn.Pin or TerminalColumn.Common or TerminalColumn.State;

    private static void Keep(Block block, SheetGrid grid, (int Line, IReadOnlyList<string> Cells) row, LineKind kind) =>
        block.Lines.Add(
            new SheetLine(0, grid.Name, row.Line, kind, row.Cells, new Dictionary<TerminalColumn, string>(), block.Board, block.Mate)
        );

    /// <summary>Where all numbers of a connector are whole and written as <c>1.0</c>, a spreadsheet wrote them so.</summary>
    private static List<SheetLine> WholeNumbers(List<SheetLine> lines)
    {
        var spoilt = lines
            .Where(l => l.Kind == LineKind.Pin)
            .GroupBy(l => (l.Board, l[TerminalColumn.Connector]))
            .Where(g =>
                g.Select(l => l[TerminalColumn.Pin]).Where(p => Decimal().IsMatch(p)).ToList() is { Count: > 0 } numbers
                && numbers.TrueForAll(n => n.Split('.')[1].All(c => c == '0') && n[0] != '0')
            )
            .Select(g => g.Key)
            .ToHashSet();
        return lines.ConvertAll(l =>
            l.Kind == LineKind.Pin && spoilt.Contains((l.Board, l[TerminalColumn.Connector])) && Decimal().IsMatch(l[TerminalColumn.Pin])
                ? l with
                {
                    Values = new Dictionary<TerminalColumn, string>(l.Values)
                    {
                        [TerminalColumn.Pin] = l[TerminalColumn.Pin].Split('.')[0],
                    },
                }
                : l
        );
    }

    private static bool IsPin(string text) =>
        PinName().IsMatch(text) || TerminalList.Range().IsMatch(text) || TerminalList.FullName().IsMatch(text);

    private static bool IsColour(string text) => text.Length is > 0 and <= 40 && WireColours.Fits(text);

    // Written out as code when it is built: a cell has 400 signs at most, and the tables of the way that never goes back took 17 MB.
    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    [GeneratedRegex(@"^(sheet|table|tabelle|leaf|feuil|blad|hoja)?\s*\d*$", Options)]
    private static partial Regex UsualLeaf();

    [GeneratedRegex(
        @"^(\*|(note|notes|nb|n\.b|sum|count|checked|date|page|rev)\b|total|"
            + @"(measured|done|drawn) by|revision|legend|remark|end of|---+|===+)",
        Options
    )]
    private static partial Regex NoteWords();

    [GeneratedRegex(@"^[A-Z]{1,4}\d{1,4}[A-Z]?$", Options)]
    private static partial Regex ConnectorName();

    [GeneratedRegex(@"^(\d{1,3}(\.0+)?|\d{1,3}[A-Z]|[A-Z]{1,2}\d{1,2}|[A-Z]{1,3}[+-]?|[+-]|\d{1,3}([,;&]\s*\d{1,3})+)$", Options)]
    private static partial Regex PinName();

    [GeneratedRegex(@"^(J|JP|P|PL|SK|CN|CON|X|XP|XS|TB|F|FS)\d{1,3}[A-Z]?$", Options)]
    private static partial Regex ConnectorLetters();

    [GeneratedRegex(@"^\d{1,3}\.\d+$", Options)]
    private static partial Regex Decimal();
}
