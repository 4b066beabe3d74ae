using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>A reading as it was called out.</summary>
/// <param name="Line">In the text, from 1.</param>
/// <param name="Red">The pin, or the place that was called so before; null where nobody entered it.</param>
/// <param name="RedName">As called, or as printed where the pin is known.</param>
/// <param name="Black">Null where no black probe was named, or nobody entered its pin.</param>
/// <param name="BlackName">As printed, or as called before; empty for none.</param>
/// <param name="Check">The check that the reading answers; null for a reading that none asks for.</param>
/// <param name="Problem">Why it cannot be taken as it stands; empty where it can.</param>
/// <param name="Unknown">Names of a connector and pin that nobody entered; empty where all are known.</param>
public sealed record CalledReading(
    int Line,
    PinAddress? Red,
    string RedName,
    PinAddress? Black,
    string BlackName,
    MeterMode Mode,
    OperatingState State,
    string Reads,
    ResolvedCheck? Check,
    string Problem,
    IReadOnlyList<string> Unknown
);

/// <summary>
/// Readings as people say them, one calling and one writing: <c>J3-4 to J3-2 5.1</c>, <c>J4.3 24.1 running</c>, a run along a plug
/// <c>J4: 24.1 0 5.02 OL - 12</c>, and after <c>J4-3 24</c> a bare <c>4 5.02</c>.
/// </summary>
public static partial class CalledReadings
{
    private const int MostReadings = 500;

    /// <summary>What skips a pin in a run.</summary>
    private static readonly string[] Skips = ["-", "–", "skip", "x", "_"];

    /// <param name="black">Where the black probe is until a line says otherwise; null where nobody said.</param>
    /// <param name="mode">The meter's, where a reading does not say.</param>
    /// <param name="state">The machine's, where a line does not say.</param>
    /// <param name="names">Places that were called by a name nobody had entered.</param>
    public static IReadOnlyList<CalledReading> Read(
        string text,
        ResolvedMachine machine,
        PinAddress? black,
        MeterMode mode,
        OperatingState state,
        IReadOnlyList<NamedPlace> names
    )
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(names);
        ArgumentNullException.ThrowIfNull(machine);
        var at = black switch
        {
            PinAddress.AtPlace { Place: var place } when names.FirstOrDefault(n => n.Id == place) is { } named => new Called(
                black,
                named.Name
            ),
            not null when machine.Pins.TryGetValue(black, out var pin) => new Called(black, pin.Printed),
            _ => null,
        };
        var reader = new Reader(machine, at, mode, state, names);
        // Several on one line are of that line: it stays as it was called until all of it is stored.
        foreach (var (i, line) in text.ReplaceLineEndings("\n").Split('\n').Index())
        {
            foreach (var said in line.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            {
                reader.Take(i + 1, said);
            }

            if (reader.Found.Count > MostReadings)
            {
                throw new FormatException($"More than {MostReadings} readings in one go.");
            }
        }

        return reader.Found;
    }

    /// <summary>A pin, or a place that was called by a name.</summary>
    private sealed record Called(PinAddress Address, string Printed);

    private sealed class Reader(
        ResolvedMachine machine,
        Called? black,
        MeterMode mode,
        OperatingState state,
        IReadOnlyList<NamedPlace> names
    )
    {
        private readonly ILookup<string, ResolvedPin> _byElement = machine.Pins.Values.ToLookup(
            p => p.PrintedElement,
            StringComparer.OrdinalIgnoreCase
        );
        private string _connector = "";
        private Called? _black = black;

        public List<CalledReading> Found { get; } = [];

        public void Take(int line, string said)
        {
            if (Run().Match(said) is { Success: true } run)
            {
                _connector = run.Groups["connector"].Value;
                TakeRun(line, run.Groups["values"].Value);
                return;
            }

            var (rest, now) = StateAtEnd(said);
            if (OnePin().Match(rest) is { Success: true } one)
            {
                _connector = one.Groups["connector"].Value;
                Put(line, one.Groups["pin"].Value, one.Groups["black"].Value, one.Groups["value"].Value, now);
            }
            else if (_connector.Length > 0 && Bare().Match(rest) is { Success: true } bare)
            {
                Put(line, bare.Groups["pin"].Value, bare.Groups["black"].Value, bare.Groups["value"].Value, now);
            }
            else
            {
                Refuse(line, said, "write for example J3-4 to J3-2 5.1, or J4: 24.1 0 5.02");
            }
        }

        private void Refuse(int line, string said, string why) =>
            Found.Add(new CalledReading(line, null, said, null, "", mode, state, "", null, why, []));

        /// <summary>The values of a run go to the pins in their order; a known connector has no pins beyond its last.</summary>
        private void TakeRun(int line, string values)
        {
            var pins = Elements(_connector).FirstOrDefault()?.OrderBy(p => p.Pin.Index).Select(p => p.Label.Value).ToList();
            foreach (var (i, value) in values.Split((char[])[' ', '\t'], StringSplitOptions.RemoveEmptyEntries).Index())
            {
                if (Skips.Contains(value, StringComparer.OrdinalIgnoreCase))
                {
                    continue;
                }

                if (pins is not null && i >= pins.Count)
                {
                    Refuse(line, $"{_connector}: {value}", $"{_connector} has {pins.Count} pins, and this would be number {i + 1}");
                    return;
                }

                Put(line, pins?[i] ?? $"{i + 1}", "", value, state);
            }
        }

        private (string Before, OperatingState State) StateAtEnd(string said)
        {
            foreach (var known in machine.Model.States.OrderByDescending(s => s.Name.Length))
            {
                foreach (var name in (string[])[known.Name, known.Code])
                {
                    if (said.EndsWith($" {name}", StringComparison.OrdinalIgnoreCase))
                    {
                        return (said[..^(name.Length + 1)].TrimEnd(), known);
                    }
                }
            }

            return (said, state);
        }

        private void Put(int line, string label, string blackName, string value, OperatingState now)
        {
            var name = $"{_connector}-{label}";
            var problem = "";
            var (red, redUnknown) = Pin(_connector, label, ref problem);
            var unknown = new List<string>();
            if (redUnknown)
            {
                unknown.Add(name);
            }

            if (blackName.Length > 0)
            {
                var full = Name().Match(blackName);
                var (connector, pin) = full.Success ? (full.Groups["connector"].Value, full.Groups["pin"].Value) : (_connector, blackName);
                (_black, var blackUnknown) = Pin(connector, pin, ref problem);
                if (blackUnknown)
                {
                    unknown.Add($"{connector}-{pin}");
                }
            }

            var check = machine
                .Checks.Where(c => c.Check.Red == red?.Address && red is not null && c.State.Code == now.Code)
                .OrderByDescending(c => c.Check.Black == _black?.Address)
                .FirstOrDefault(c => _black is null || c.Check.Black is null || c.Check.Black == _black.Address);
            var how = check?.Check.Mode ?? mode;
            try
            {
                var read = ReadingNotation.Read(value, how);
                problem =
                    problem.Length > 0 ? problem
                    : read.Choices.Count > 1 ? $"\"{value}\" may be read in two ways; write it with a point"
                    : "";
            }
            catch (NotationException refusal)
            {
                problem = problem.Length > 0 ? problem : refusal.Message;
            }

            Found.Add(
                new CalledReading(
                    line,
                    red?.Address,
                    red?.Printed ?? name,
                    check is { Check.Black: { } at } ? at : _black?.Address,
                    check is { Check.Black: { } printed } ? machine.Pins[printed].Printed : _black?.Printed ?? "",
                    how,
                    now,
                    value,
                    check,
                    problem.Length > 0 ? problem
                        : unknown.Count > 0 ? $"nobody entered {string.Join(" or ", unknown)} yet"
                        : "",
                    problem.Length > 0 ? [] : unknown
                )
            );
        }

        /// <summary>Connectors of that name, with or without the board before it.</summary>
        private IEnumerable<IGrouping<string, ResolvedPin>> Elements(string connector) =>
            _byElement.Where(g =>
                g.Key.Equals(connector, StringComparison.OrdinalIgnoreCase)
                || g.Key.EndsWith($"-{connector}", StringComparison.OrdinalIgnoreCase)
                || g.Key.Replace("-", "", StringComparison.Ordinal).Equals(connector, StringComparison.OrdinalIgnoreCase)
            );

        /// <summary>The pin that a name turned out to be, or the name while nobody said.</summary>
        private Called Placed(NamedPlace named) =>
            named.Is is { } at && machine.Pins.TryGetValue(at, out var pin)
                ? new Called(at, pin.Printed)
                : new Called(new PinAddress.AtPlace(named.Id), named.Name);

        private (Called? Pin, bool IsUnknown) Pin(string connector, string label, ref string problem)
        {
            var found = Elements(connector)
                .Select(g => g.FirstOrDefault(p => p.Label.Value.Equals(label, StringComparison.OrdinalIgnoreCase)))
                .OfType<ResolvedPin>()
                .ToList();
            if (found.Count > 1)
            {
                problem = $"{connector}-{label} may be {string.Join(" or ", found.Select(p => p.Printed))}; say which board";
                return (null, false);
            }

            if (found is [var only])
            {
                return (new Called(only.Address, only.Printed), false);
            }

            return names.FirstOrDefault(n => n.Name.Equals($"{connector}-{label}", StringComparison.OrdinalIgnoreCase)) is { } named
                ? (Placed(named), false)
                : (null, true);
        }
    }

    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant | RegexOptions.NonBacktracking;
    private const string Connector = @"(?<connector>([A-Z]{1,4}\d{0,2}-)?[A-Z]{1,4}\d{1,3}[A-Z]?)";
    private const string Black = @"(\s+(to|against|vs|from)\s+(?<black>\S+))?";

    [GeneratedRegex($@"^{Connector}\s*:\s*(?<values>\S.*)$", Options)]
    private static partial Regex Run();

    [GeneratedRegex($@"^{Connector}(\s*[-.·/]\s*|\s+pin\s+)(?<pin>[A-Z0-9+]{{1,6}}|-){Black}\s+(?<value>.+)$", Options)]
    private static partial Regex OnePin();

    [GeneratedRegex($@"^(?<pin>\d{{1,3}}|[A-Z]\d{{0,2}}|[+-]){Black}\s+(?<value>.+)$", Options)]
    private static partial Regex Bare();

    [GeneratedRegex($@"^{Connector}[-.·/](?<pin>\S+)$", Options)]
    private static partial Regex Name();
}
