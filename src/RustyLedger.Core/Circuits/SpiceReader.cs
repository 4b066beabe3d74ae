using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// A circuit from a SPICE file: resistors, capacitors, inductors, sources of DC volts and amps with their AC, and diodes by a model with
/// <c>VFWD</c> and <c>RON</c>; and all that <see cref="SpiceWriter"/> writes, by its table of comments, with the names as they were. Other
/// lines are refused by number, and lines that only say what to do with the circuit are passed over.
/// </summary>
public static partial class SpiceReader
{
    private const string Example = "R1 a 0 4k7";
    private const int MostLines = 20_000;

    /// <exception cref="NotationException">A line is not understood; says which, and what would do.</exception>
    public static Circuit Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var reader = new Reader(text);
        try
        {
            var elements = reader.Elements();
            return new Circuit(elements) { Hertz = reader.Hertz };
        }
        catch (ArgumentException wrong) when (wrong is not ArgumentNullException)
        {
            throw new NotationException("the circuit", 0, wrong.Message, Example);
        }
    }

    /// <summary>What an element is, where a plain line says too little.</summary>
    private sealed record Row(string Kind, string Name, IReadOnlyDictionary<string, string> Fields)
    {
        public double Of(string field) =>
            Fields.TryGetValue(field, out var text) && double.TryParse(text, CultureInfo.InvariantCulture, out var value) ? value : 0;
    }

    private sealed class Reader(string text)
    {
        private readonly Dictionary<string, string> _nodes = [];
        private readonly Dictionary<string, Row> _rows = [];
        private readonly Dictionary<string, (double Forward, double Ohms)> _models = new(StringComparer.OrdinalIgnoreCase);
        private readonly Dictionary<string, List<string[]>> _lines = [];
        private readonly List<string> _order = [];

        public double Hertz { get; private set; } = 50;

        public List<CircuitElement> Elements()
        {
            Collect();
            return [.. _order.Select(index => _rows.TryGetValue(index, out var row) ? Known(row, _lines[index]) : Plain(_lines[index][0]))];
        }

        private void Collect()
        {
            var isInControl = false;
            var lines = Joined().ToList();
            if (lines.Count > MostLines)
            {
                throw new NotationException(lines[0].Text, 0, $"there are {lines.Count} lines; at most {MostLines} are taken", Example);
            }

            foreach (var (number, line) in lines)
            {
                if (line.StartsWith("*@ ", StringComparison.Ordinal))
                {
                    Table(number, line);
                    continue;
                }

                var words = line.Split((char[])[' ', '\t', ','], StringSplitOptions.RemoveEmptyEntries);
                var first = words.Length > 0 ? words[0].ToLowerInvariant() : "";
                if (first is ".control" or ".endc")
                {
                    isInControl = first == ".control";
                }
                else if (first == ".model")
                {
                    Model(number, line);
                }
                else if (first.Length > 0 && !isInControl && first[0] is not ('*' or '.'))
                {
                    // A title is the first line of a file, whatever it says.
                    if (number > 1 || Letters.Contains(first[0]) && words.Length >= 4)
                    {
                        Keep(number, line, words);
                    }
                }
            }
        }

        private const string Letters = "rclvidbef";

        /// <summary>Lines with those that begin with a plus added to the one before.</summary>
        private IEnumerable<(int Number, string Text)> Joined()
        {
            (int Number, string Text)? open = null;
            foreach (var (index, raw) in text.ReplaceLineEndings("\n").Split('\n').Index())
            {
                var line = raw.Trim();
                if (line.StartsWith('+') && open is { } before)
                {
                    open = (before.Number, $"{before.Text} {line[1..]}");
                    continue;
                }

                if (open is { } whole)
                {
                    yield return whole;
                }

                open = (index + 1, line);
            }

            if (open is { } last)
            {
                yield return last;
            }
        }

        private void Table(int number, string line)
        {
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            if (words is [_, "hertz", var hertz])
            {
                Hertz = Number(number, line, hertz) is > 0 and var said ? said : throw Wrong(number, line, "its hertz are above 0");
            }
            else if (words is [_, ['n', ..] node, var printed])
            {
                _nodes[node] = SpiceWriter.Unescaped(printed);
            }
            else if (words is [_, var index, var kind, var name, .. var fields])
            {
                _rows[index] = new Row(
                    kind,
                    SpiceWriter.Unescaped(name),
                    fields.Select(f => f.Split('=', 2)).Where(f => f.Length == 2).ToDictionary(f => f[0], f => f[1])
                );
                if (kind is "regulator" or "converter")
                {
                    // It says all itself; its lines are how it stood.
                    _order.Add(index);
                    _lines[index] = [];
                }
            }
            else
            {
                throw Wrong(number, line, "this is no line of the table");
            }
        }

        private void Model(int number, string line)
        {
            var said = ModelLine().Match(line);
            if (!said.Success)
            {
                throw Wrong(number, line, "only models of diodes are taken, such as .model LED D(VFWD=1.8 RON=5)");
            }

            var fields = said.Groups["fields"]
                .Value.Split((char[])[' ', ',', '\t'], StringSplitOptions.RemoveEmptyEntries)
                .Select(f => f.Split('=', 2))
                .Where(f => f.Length == 2)
                .ToDictionary(f => f[0].Trim().ToUpperInvariant(), f => Number(number, line, f[1]));
            _models[said.Groups["name"].Value] = (fields.GetValueOrDefault("VFWD", 0.65), fields.GetValueOrDefault("RON", 0.1));
        }

        private void Keep(int number, string line, string[] words)
        {
            var letter = char.ToLowerInvariant(words[0][0]);
            if (!Letters.Contains(letter, StringComparison.Ordinal) || words.Length < 4)
            {
                throw Wrong(number, line, $"{words[0]} is none of resistor, capacitor, inductor, source or diode with its two nodes");
            }

            // An element of the table takes its lines by its number: R7 and V7 belong to element 7.
            var index = words[0][1..] is var said && _rows.ContainsKey(said) ? said : words[0][1..].TrimEnd('o');
            var key = _rows.ContainsKey(index) ? index : words[0].ToLowerInvariant();
            if (!_rows.ContainsKey(index) && letter is 'b' or 'e' or 'f')
            {
                throw Wrong(number, line, "sources that follow others are taken only from files of this ledger");
            }

            if (!_lines.TryGetValue(key, out var lines))
            {
                _lines[key] = lines = [];
                _order.Add(key);
            }
            else if (key != index)
            {
                throw Wrong(number, line, $"there is another {words[0]}");
            }

            lines.Add([$"{number}", line, .. words]);
        }

        private string Node(string word) =>
            word.ToLowerInvariant() is "0" or "gnd" ? Circuit.Reference : _nodes.GetValueOrDefault(word, word);

        private CircuitElement Plain(string[] words)
        {
            var (number, line) = (int.Parse(words[0], CultureInfo.InvariantCulture), words[1]);
            var (name, a, b) = (words[2], Node(words[3]), Node(words[4]));
            var rest = words[5..];
            if (rest.Length == 0)
            {
                throw Wrong(number, line, "it has no value");
            }

            switch (char.ToLowerInvariant(name[0]))
            {
                case 'r':
                    return new Resistance(name, a, b, Number(number, line, rest[0]));
                case 'c':
                    return new Capacitance(name, a, b, Number(number, line, rest[0]));
                case 'l':
                    return new Inductance(name, a, b, Number(number, line, rest[0]), 0);
                case 'd':
                    return _models.TryGetValue(rest[0], out var model)
                        ? new Diode(name, a, b, model.Forward, model.Ohms)
                        : throw Wrong(number, line, $"there is no .model {rest[0]} before the end");
                case 'v':
                    var (volts, ac, degrees) = Source(number, line, rest);
                    return new VoltageSource(name, a, b, volts, 0, ac, degrees);
                default:
                    return new CurrentSource(name, a, b, Source(number, line, rest).Dc);
            }
        }

        private static (double Dc, double Ac, double Degrees) Source(int number, string line, string[] rest)
        {
            var (dc, ac, degrees) = (0.0, 0.0, 0.0);
            for (var i = 0; i < rest.Length; i++)
            {
                switch (rest[i].ToLowerInvariant())
                {
                    case "dc" when i + 1 < rest.Length:
                        dc = Number(number, line, rest[++i]);
                        break;
                    case "ac" when i + 1 < rest.Length:
                        ac = Number(number, line, rest[++i]);
                        if (i + 1 < rest.Length)
                        {
                            degrees = Number(number, line, rest[++i]);
                        }

                        break;
                    default:
                        dc = Number(number, line, rest[i]);
                        break;
                }
            }

            return (dc, ac, degrees);
        }

        private CircuitElement Known(Row row, List<string[]> lines)
        {
            string[] Line(char letter) =>
                lines.FirstOrDefault(l => char.ToLowerInvariant(l[2][0]) == letter)
                ?? throw Wrong(int.Parse(lines[0][0], CultureInfo.InvariantCulture), lines[0][1], $"{row.Name} has no line of {letter}");
            double Value(string[] line, int at) => Number(int.Parse(line[0], CultureInfo.InvariantCulture), line[1], line[at]);
            (string A, string B) Ends(string[] line) => (Node(line[3]), Node(line[4]));
            List<string> At() => [.. row.Fields.GetValueOrDefault("at", "").Split(',', StringSplitOptions.RemoveEmptyEntries).Select(Node)];
            // 1e12 stands for open; the ohms of what switches are in the table.
            static double Ohms(double written) => written >= 1e12 ? double.PositiveInfinity : written;
            switch (row.Kind)
            {
                case "resistance":
                    var (a, b) = Ends(Line('r'));
                    return new Resistance(row.Name, a, b, Ohms(Value(Line('r'), 5)));
                case "switch":
                    (a, b) = Ends(Line('r'));
                    return new Switch(row.Name, a, b, row.Of("closed") != 0, row.Of("ohms")) { IsWelded = row.Of("welded") != 0 };
                case "fuse":
                    (a, b) = Ends(Line('r'));
                    return new Fuse(row.Name, a, b, row.Of("amps"), row.Of("ohms"))
                    {
                        Trips = row.Of("trips") != 0,
                        Device = row.Fields.TryGetValue("device", out var device) ? SpiceWriter.Unescaped(device) : null,
                        Residual = row.Fields.ContainsKey("residual") ? row.Of("residual") : null,
                    };
                case "coil":
                    (a, b) = Ends(Line('r'));
                    return new RelayCoil(row.Name, a, b, Value(Line('r'), 5), row.Of("pullin"), row.Of("dropout"))
                    {
                        PullDelay = row.Of("pulldelay"),
                        DropDelay = row.Of("dropdelay"),
                    };
                case "contact":
                    (a, b) = Ends(Line('r'));
                    return new RelayContact(
                        row.Name,
                        SpiceWriter.Unescaped(row.Fields.GetValueOrDefault("coil", "")),
                        a,
                        b,
                        row.Of("closes") != 0,
                        row.Of("ohms")
                    )
                    {
                        AlwaysCloses = row.Of("welded") != 0,
                    };
                case "source":
                    var source = Line('v');
                    var plus = row.Of("ohms") > 0 ? Node(Line('r')[3]) : Node(source[3]);
                    var (volts, ac, degrees) = Source(int.Parse(source[0], CultureInfo.InvariantCulture), source[1], source[5..]);
                    return new VoltageSource(row.Name, plus, Node(source[4]), volts, row.Of("ohms"), ac, degrees);
                case "current":
                    (a, b) = Ends(Line('i'));
                    return new CurrentSource(row.Name, a, b, Source(0, "", Line('i')[5..]).Dc);
                case "diode":
                    (a, b) = Ends(Line('b'));
                    return new Diode(
                        row.Name,
                        a,
                        b,
                        row.Of("forward"),
                        row.Of("ohms"),
                        row.Of("reverse") is > 0 and var reverse ? reverse : null
                    );
                case "capacitance":
                    (a, b) = Ends(Line('c'));
                    return new Capacitance(row.Name, a, b, Value(Line('c'), 5));
                case "inductance":
                    return new Inductance(row.Name, Node(Line('l')[3]), Node(Line('r')[4]), Value(Line('l'), 5), row.Of("ohms"));
                case "regulator" when At() is [var into, var from, var common]:
                    return new Regulator(row.Name, into, from, common, row.Of("volts"), row.Of("dropout"), row.Of("limit"));
                case "converter" when At() is [var one, var other, var positive, var negative]:
                    return new Converter(
                        row.Name,
                        one,
                        other,
                        positive,
                        negative,
                        row.Of("volts") is >= 0 and var held ? held : null,
                        row.Of("ratio"),
                        row.Of("drop"),
                        row.Of("needs"),
                        row.Of("ohms"),
                        row.Of("limit")
                    );
                case "transformer":
                    var (secondary, primary) = (Line('e'), Line('f'));
                    return new Transformer(
                        row.Name,
                        Node(primary[3]),
                        Node(primary[4]),
                        Node(Line('r')[4]),
                        Node(secondary[4]),
                        row.Of("ratio"),
                        row.Of("secondary"),
                        row.Of("primary")
                    );
                default:
                    throw Wrong(
                        lines.Count > 0 ? int.Parse(lines[0][0], CultureInfo.InvariantCulture) : 0,
                        lines.Count > 0 ? lines[0][1] : row.Name,
                        $"{row.Name} is a {row.Kind}, which is not read back"
                    );
            }
        }

        private static double Number(int number, string line, string word)
        {
            var said = NumberWord().Match(word);
            if (!said.Success || !double.TryParse(said.Groups["digits"].Value, CultureInfo.InvariantCulture, out var digits))
            {
                throw Wrong(number, line, $"\"{word}\" is no number");
            }

            return digits
                * said.Groups["scale"].Value.ToLowerInvariant() switch
                {
                    "t" => 1e12,
                    "g" => 1e9,
                    "meg" => 1e6,
                    "k" => 1e3,
                    "m" => 1e-3,
                    "u" or "µ" => 1e-6,
                    "n" => 1e-9,
                    "p" => 1e-12,
                    "f" => 1e-15,
                    _ => 1,
                };
        }

        private static NotationException Wrong(int number, string line, string why) =>
            new(line, 0, $"line {number.ToString(CultureInfo.InvariantCulture)}: {why}", Example);
    }

    [GeneratedRegex(@"^\.model\s+(?<name>\S+)\s+D\s*\((?<fields>[^)]*)\)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex ModelLine();

    // Letters behind the scale are a unit, as SPICE has it: 10kOhm.
    [GeneratedRegex(
        @"^(?<digits>[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(?<scale>meg|[tgkmuµnpf])?[a-z]*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex NumberWord();
}
