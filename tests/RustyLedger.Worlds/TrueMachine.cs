using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace RustyLedger.Worlds;

/// <summary>
/// A machine as it stands in the workshop: read from a machine file by a reader of its own, so that what the ledger makes of the same file
/// can be held against it. Knows the kinds of part of the machines that are tried: direct current, and alternating current without
/// reactance, of which effective values, and on three phases their angles, are the whole truth.
/// </summary>
public sealed partial class TrueMachine
{
    private const double ContactOhms = 0.005;
    private const double TrackOhms = 0.002;
    private const double UsualWireOhms = 0.02;

    // A filament has so many times its cold ohms when it shines. Common practice, no source.
    private const double ColdShare = 12;

    // Copper at 20 °C, in ohms and square millimetres a metre (IEC 60028).
    private const double Copper = 1 / 58.0;

    private readonly Dictionary<string, string> _printedById = [];
    private readonly Dictionary<string, List<string>> _ofElement = [];
    private readonly HashSet<string> _plugs = [];

    // Rows are written for all builds: as a pin is printed elsewhere, with what this build prints.
    private readonly Dictionary<string, string> _renamed = [];

    private TrueMachine(IReadOnlyList<string> states, IReadOnlySet<string> energised) => (States, Energised) = (states, energised);

    /// <summary>Codes of the operating states, off first.</summary>
    public IReadOnlyList<string> States { get; }

    public IReadOnlySet<string> Energised { get; }

    public List<TruePart> Parts { get; } = [];

    /// <summary>On three phases a voltage has an angle.</summary>
    public bool IsThreePhase => Parts.Exists(p => p.Kind == TrueKind.ThreePhaseMains);

    /// <summary>The return of the first source, at 0 V; the star of three phases.</summary>
    public string Ground { get; private set; } = "";

    /// <summary>Pins side by side in one connector that something leads to.</summary>
    public List<(string A, string B)> Neighbours { get; } = [];

    /// <summary>The ids of the wires between boards and parts, of which a ledger may know less than there are.</summary>
    public List<string> WireIds { get; } = [];

    /// <summary>A pin's node, by <c>position/pin</c> or <c>part/pin</c>; null where there is none.</summary>
    public string? NodeOf(string address) => _printedById.GetValueOrDefault(address);

    /// <param name="path">A machine file.</param>
    /// <param name="build">Of its build, for rows that are for one build alone; empty for none.</param>
    /// <exception cref="InvalidDataException">It has a part that this world does not know.</exception>
    public static TrueMachine Read(string path, string build)
    {
        using var file = JsonDocument.Parse(File.ReadAllText(path));
        var root = file.RootElement;
        var (model, self) = (root.GetProperty("model"), root.GetProperty("machine"));
        var states = model.GetProperty("states").EnumerateArray().ToList();
        string Code(JsonElement state) => state.GetProperty("code").GetString()!;
        var machine = new TrueMachine(
            [.. states.OrderBy(s => s.GetProperty("energised").GetBoolean()).Select(Code)],
            states.Where(s => s.GetProperty("energised").GetBoolean()).Select(Code).ToHashSet()
        );
        machine.Put(root, model, self, build);
        return machine;
    }

    private static string Text(JsonElement of, string name) =>
        of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()! : "";

    private static List<JsonElement> List(JsonElement of, string name) =>
        of.TryGetProperty(name, out var list) && list.ValueKind == JsonValueKind.Array ? [.. list.EnumerateArray()] : [];

    private void Put(JsonElement root, JsonElement model, JsonElement self, string build)
    {
        var types = List(root, "boardTypes").ToDictionary(t => Text(t, "id"));
        // What the strip of this build calls them.
        var overlay = (model.TryGetProperty("variants", out var variants) ? List(variants, "variants") : [])
            .FindAll(v => Text(v, "name") == build)
            .SelectMany(v => List(v, "overlay"))
            .ToDictionary(o => $"{Text(o.GetProperty("pin"), "position")}/{Text(o.GetProperty("pin"), "pin")}", o => Text(o, "label"));
        var inner = new List<(string From, string To, bool IsSame, string? Rating)>();
        var prefixes = new List<string>();
        foreach (var position in List(model, "positions"))
        {
            var (id, prefix) = (Text(position, "id"), Text(position, "prefix"));
            prefixes.Add(prefix);
            var fitted = List(self, "boards").FindAll(b => Text(b, "positionId") == id && Text(b, "to").Length == 0);
            var type = types[fitted.Count > 0 ? Text(fitted[0], "boardTypeId") : Text(position, "boardTypeId")];
            var (elementOf, ratings) = (new Dictionary<string, string>(), new Dictionary<string, string>());
            foreach (var element in List(type, "elements"))
            {
                var at = $"{prefix}-{Text(element, "designator")}";
                var before = "";
                foreach (var pin in List(element, "pins"))
                {
                    var address = $"{id}/{Text(pin, "id")}";
                    var printed = Pin(address, at, overlay.GetValueOrDefault(address, Text(pin, "label")));
                    _renamed[$"{at}·{Text(pin, "label")}"] = printed;
                    elementOf[Text(pin, "id")] = at;
                    if (Text(element, "kind") is "connector" or "boardCable")
                    {
                        _plugs.Add(printed);
                        if (before.Length > 0)
                        {
                            Neighbours.Add((before, printed));
                        }

                        before = printed;
                    }
                }

                if (Text(element, "kind") == "fuse")
                {
                    ratings[at] = Text(element, "rating");
                }
            }

            foreach (var link in List(type, "links"))
            {
                var (from, to) = (Text(link.GetProperty("from"), "pin"), Text(link.GetProperty("to"), "pin"));
                var isSame = elementOf[from] == elementOf[to];
                inner.Add(
                    (
                        _printedById[$"{id}/{from}"],
                        _printedById[$"{id}/{to}"],
                        isSame,
                        isSame ? ratings.GetValueOrDefault(elementOf[from]) : null
                    )
                );
            }
        }

        foreach (var part in List(model, "parts"))
        {
            foreach (var pin in List(part, "pins").OrderBy(p => p.GetProperty("index").GetInt32()))
            {
                Pin($"{Text(part, "id")}/{Text(pin, "id")}", Text(part, "designator"), Text(pin, "label"));
            }
        }

        var rows = Rows(model, prefixes, Text(self, "tag"), build);
        Ground = rows.First(r => r.IsSource).Nodes[^1];
        Parts.AddRange(rows.Where(r => r.Kind != TrueKind.Wire));
        var placed = rows.SelectMany(r => Pairs(r.Nodes).Select(p => (p, r))).ToLookup(p => p.p, p => p.r);
        var within = rows.Where(r => r.Nodes.Any(n => n.StartsWith('"'))).SelectMany(r => r.Nodes).ToHashSet();
        foreach (var (from, to, isSame, rating) in inner)
        {
            if (placed.Contains((from, to)) || (within.Contains(from) && within.Contains(to)))
            {
                continue;
            }

            var name = from.Split('·')[0];
            Parts.Add(
                isSame && rating is { Length: > 0 }
                    ? Plain(name, TrueKind.Fuse, [from, to], AmpsIn(rating) ?? throw new InvalidDataException(rating))
                    : Plain($"track {from} to {to}", TrueKind.Track, [from, to], 0) with
                    {
                        Ohms = TrackOhms,
                    }
            );
        }

        var wired = new HashSet<string>();
        foreach (var link in List(model, "links"))
        {
            var (from, to) = (Address(link.GetProperty("from")), Address(link.GetProperty("to")));
            var row = placed[(from, to)].FirstOrDefault();
            if (row is { Kind: not TrueKind.Wire } || from.Split('·')[0] == to.Split('·')[0])
            {
                continue;
            }

            WireIds.Add(Text(link, "id"));
            var wire = row ?? Plain($"wire {from} to {to}", TrueKind.Wire, [], 0) with { Ohms = UsualWireOhms };
            Parts.Add(wire with { Nodes = [Wired(from), Wired(to)] });
            wired.UnionWith([from, to]);
        }

        Parts.AddRange(rows.Where(r => r.Kind == TrueKind.Wire && !Parts.Exists(p => p.Name == r.Name)));
        Parts.AddRange(
            wired.Where(_plugs.Contains).Select(p => Plain($"contact {p}", TrueKind.Contact, [p, Wired(p)], 0) with { Ohms = ContactOhms })
        );
        var known = Parts.SelectMany(p => p.Nodes).ToHashSet();
        Neighbours.RemoveAll(n => !known.Contains(n.A) || !known.Contains(n.B));
    }

    private static TruePart Plain(string name, TrueKind kind, IReadOnlyList<string> nodes, double amps) =>
        new(name, kind, nodes, 0, amps, kind == TrueKind.Fuse ? 0.1 / amps : 0, 0, null, null, 0);

    private string Pin(string id, string element, string label)
    {
        var printed = _printedById[id] = $"{element}·{label}";
        (_ofElement.TryGetValue(element, out var pins) ? pins : _ofElement[element] = []).Add(printed);
        return printed;
    }

    private string Address(JsonElement of) => _printedById[$"{Text(of, "position")}{Text(of, "part")}/{Text(of, "pin")}"];

    private string Wired(string pin) => _plugs.Contains(pin) ? $"{pin} wire" : pin;

    /// <summary>The wire's side of a pin in a connector; of what has no such side, the pin itself.</summary>
    public string InPlug(string pin) => Parts.Exists(p => p.Nodes.Contains($"{pin} wire")) ? $"{pin} wire" : pin;

    private static IEnumerable<(string, string)> Pairs(IReadOnlyList<string> nodes) =>
        nodes.SelectMany(a => nodes.Where(b => b != a).Select(b => (a, b)));

    private List<TruePart> Rows(JsonElement model, List<string> prefixes, string tag, string build)
    {
        List<TruePart> rows = [];
        var own = new HashSet<(string, string)>();
        var lines = List(model.GetProperty("circuit"), "rows");
        foreach (var line in lines.OrderBy(l => Text(l, "onlyOn").Length == 0))
        {
            var only = Text(line, "onlyOn");
            if (only.Length > 0 && only != tag && only != build)
            {
                continue;
            }

            var star = Star().Match(Text(line, "part")) is { Success: true } s ? s.Groups[1].Value : null;
            foreach (var prefix in star is null ? [""] : prefixes.Where(p => p.StartsWith(star, StringComparison.Ordinal)))
            {
                string With(string text) => star is null ? text : text.Replace($"{star}*", prefix, StringComparison.Ordinal);
                var (name, between) = (With(Text(line, "part")), With(Text(line, "between")));
                if (own.Add((name, between)))
                {
                    rows.Add(Part(name, between, With(Text(line, "what")), With(Text(line, "onIn"))));
                }
            }
        }

        // Those of one machine came first; a source of all leads.
        rows = [.. rows.OrderBy(r => lines.FindIndex(l => Text(l, "part") == r.Name) is >= 0 and var at ? at : int.MaxValue)];
        var coils = rows.Where(r => r.Kind == TrueKind.Coil).ToDictionary(r => r.Name);
        var times = new Dictionary<string, int>();
        return rows.ConvertAll(r =>
        {
            var nth = times[r.Name] = times.GetValueOrDefault(r.Name) + 1;
            return r.Kind == TrueKind.MakeContact
                ? r with
                {
                    Name = $"{r.Name} {nth}",
                    Called = $"{r.Name} {string.Join('-', r.Nodes.Select(n => n.Split('·')[^1]))}",
                    Coil = coils[r.Name],
                }
                : r with
                {
                    Name = nth == 1 ? r.Name : $"{r.Name} {nth}",
                    Called = r.Name,
                };
        });
    }

    private TruePart Part(string name, string between, string what, string onIn)
    {
        var nodes =
            between.Length > 0 ? [.. Ends().Split(between).Select(e => _renamed.GetValueOrDefault(e.Trim(), e.Trim()))] : _ofElement[name];
        var isThreePhase = what.Contains("3~", StringComparison.Ordinal);
        var kind = what.Split(' ', ',')[0] switch
        {
            "battery" => TrueKind.Battery,
            "supply" => TrueKind.Supply,
            "mains" when isThreePhase => TrueKind.ThreePhaseMains,
            "motor" when isThreePhase => TrueKind.ThreePhaseMotor,
            "contactor" or "relay" => TrueKind.Coil,
            "make" => TrueKind.MakeContact,
            "mains" => TrueKind.Mains,
            "switch" or "button" => TrueKind.Switch,
            "output" => TrueKind.Output,
            "triac" => TrueKind.SolidState,
            "resistor" or "coil" or "heater" => TrueKind.Resistor,
            "board" or "sensor" => TrueKind.Electronics,
            "motor" => TrueKind.Motor,
            "lamp" => TrueKind.Lamp,
            "LED" => TrueKind.Led,
            "diode" => TrueKind.Diode,
            "regulator" => TrueKind.Regulator,
            "transformer" => TrueKind.Transformer,
            "wire" => TrueKind.Wire,
            "bond" => TrueKind.Bond,
            _ => throw new InvalidDataException($"{name}: this world knows no {what}."),
        };
        var amps = AmpsIn(what) ?? 0;
        var volts = NumberIn(what, "V") ?? 0;
        if ((NumberIn(what, "VA") ?? NumberIn(what, "W") ?? 1000 * NumberIn(what, "kW")) is { } watts && volts > 0)
        {
            amps = watts / volts / (isThreePhase ? Math.Sqrt(3) : 1);
        }

        var ohms =
            NumberIn(what, "mΩ") / 1000 ?? NumberIn(what, "Ω") ?? (Thousands().Match(what) is { Success: true } k ? Parsed(k) * 1000 : 0);
        if (NumberIn(what, "mm²") is { } area)
        {
            ohms = Copper * (NumberIn(what, "m") ?? 1) / area;
        }

        var seen = onIn.Split(" if ");
        var sees = seen.Length > 1 ? Sight().Match(seen[1]) : null;
        return new TruePart(
            name,
            kind,
            nodes,
            volts,
            amps,
            ohms > 0 ? ohms
                : kind is TrueKind.Battery or TrueKind.Mains or TrueKind.ThreePhaseMains ? 0.02
                : kind is TrueKind.Wire ? UsualWireOhms
                : kind is TrueKind.Bond ? 0.05
                : kind is TrueKind.Switch or TrueKind.MakeContact ? 0.01
                : kind is TrueKind.Output ? 0.03
                : kind is TrueKind.Lamp && amps > 0 ? volts / amps / ColdShare
                : 0,
            kind == TrueKind.Led ? 2.1
                : To().Match(what) is { Success: true } to ? Parsed(to)
                : 0,
            kind is TrueKind.Switch or TrueKind.Output or TrueKind.SolidState ? StatesOf(seen[0]) : null,
            sees is { Success: true } ? (sees.Groups[1].Value, sees.Groups[2].Value) : null,
            sees is { Success: true } ? double.Parse(sees.Groups[3].Value, CultureInfo.InvariantCulture) : 0
        );
    }

    private HashSet<string> StatesOf(string onIn)
    {
        var words = onIn.Trim();
        const string Except = "all but ";
        return words == "always" ? [.. States]
            : words.StartsWith(Except, StringComparison.Ordinal) ? [.. States.Except(words[Except.Length..].Split(", "))]
            : [.. words.Split(", ").Where(States.Contains)];
    }

    private static double? AmpsIn(string text) => NumberIn(text, "mA") / 1000 ?? NumberIn(text, "A");

    private static double? NumberIn(string text, string unit) =>
        Regex.Match(text, $@"(\d+(?:\.\d+)?)\s?{unit}(?![A-Za-z²Ω])") is { Success: true } found ? Parsed(found) : null;

    private static double Parsed(Match found) => double.Parse(found.Groups[1].Value, CultureInfo.InvariantCulture);

    [GeneratedRegex(@"^([A-Za-z0-9]*)\*")]
    private static partial Regex Star();

    [GeneratedRegex(@"\s+to\s+|\s*,\s*")]
    private static partial Regex Ends();

    [GeneratedRegex(@"\bto (\d+(?:\.\d+)?) V")]
    private static partial Regex To();

    [GeneratedRegex(@"(\d+(?:\.\d+)?)k\b")]
    private static partial Regex Thousands();

    [GeneratedRegex(@"(\S+) to (\S+) > (\d+(?:\.\d+)?) V")]
    private static partial Regex Sight();
}
