using System.Text.RegularExpressions;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Sums;
using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// Reads what a part is to the current, as people write it: its kind, then its numbers with their units in any order, such as
/// <c>supply 24 V, at most 10 A</c>, <c>motor 24 V 2.4 A</c>, <c>relay 24 V 480 Ω, pulls in at 15 V</c>, <c>make contact of K1</c>,
/// <c>wire 1.5 mm² 12 m</c>. What nobody says is assumed, and says so.
/// </summary>
public static partial class PartNotation
{
    private const string Example = "motor 24 V 2.4 A";

    private static readonly (string Word, LawKind Kind)[] _kinds =
    [
        ("mains", LawKind.Mains),
        ("supply", LawKind.Supply),
        ("battery", LawKind.Battery),
        ("fuse", LawKind.Fuse),
        ("breaker", LawKind.Fuse),
        ("overload", LawKind.Fuse),
        ("residual-current breaker", LawKind.ResidualBreaker),
        ("switch", LawKind.Switch),
        ("button", LawKind.Switch),
        ("plug", LawKind.Switch),
        ("output", LawKind.Output),
        ("transistor", LawKind.Output),
        ("solid-state output", LawKind.SolidState),
        ("triac", LawKind.SolidState),
        ("relay", LawKind.RelayCoil),
        ("contactor", LawKind.RelayCoil),
        ("make contact", LawKind.MakeContact),
        ("break contact", LawKind.BreakContact),
        ("wire", LawKind.Wire),
        ("contact", LawKind.Contact),
        ("bond", LawKind.Bond),
        ("earth", LawKind.Bond),
        ("load", LawKind.Load),
        ("resistor", LawKind.Load),
        ("heater", LawKind.Load),
        ("coil", LawKind.Load),
        ("valve", LawKind.Load),
        ("sensor", LawKind.Load),
        ("horn", LawKind.Load),
        ("board", LawKind.Load),
        ("thermistor", LawKind.Load),
        ("motor", LawKind.Motor),
        ("fan", LawKind.Motor),
        ("pump", LawKind.Motor),
        ("lamp", LawKind.Lamp),
        ("LED", LawKind.Led),
        ("diode", LawKind.Diode),
        ("rectifier", LawKind.Rectifier),
        ("transformer", LawKind.Transformer),
        ("regulator", LawKind.Regulator),
        ("capacitor", LawKind.Capacitor),
        ("potentiometer", LawKind.Potentiometer),
    ];

    /// <summary>The words a kind is begun with, for a list to choose from.</summary>
    public static IReadOnlyList<string> Kinds { get; } = [.. _kinds.Select(k => k.Word)];

    // Forward volts by colour at some milliamps. Common practice, no source.
    private static readonly Dictionary<string, double> _ledVolts = new(StringComparer.OrdinalIgnoreCase)
    {
        ["red"] = 1.8,
        ["orange"] = 2.0,
        ["amber"] = 2.0,
        ["yellow"] = 2.0,
        ["green"] = 2.1,
        ["blue"] = 3.0,
        ["white"] = 3.0,
    };

    private static readonly HashSet<string> _fillers = new(StringComparer.OrdinalIgnoreCase)
    {
        "and",
        "with",
        "smoothed",
        "bridge",
        "3~",
        "AC",
        "DC",
        "x",
        "×",
        "of",
        "copper",
        "slow",
        "fast",
        "quick",
        "blade",
        "time-lag",
        "T",
        "TT",
        "FF",
        "M",
        "gG",
        "gL",
        "aM",
        "glass",
        "ceramic",
        "F",
    };

    // Which number a word before it and its unit make; the empty word is said by the unit alone.
    private static readonly Dictionary<(string Word, string Unit), string> _names = new()
    {
        [("", "V")] = "volts",
        [("to", "V")] = "to volts",
        [("pulls in at", "V")] = "pulls in at",
        [("drops out at", "V")] = "drops out at",
        [("drops", "V")] = "drops",
        [("needs", "V")] = "needs",
        [("", "A")] = "amps",
        [("at most", "A")] = "at most",
        [("trips at", "A")] = "trips at",
        [("stalls at", "A")] = "stalls at",
        [("leaks", "A")] = "leaks",
        [("", "W")] = "watts",
        [("", "Ω")] = "ohms",
        [("inside", "Ω")] = "inside",
        [("cold", "Ω")] = "cold",
        [("winding", "Ω")] = "winding",
        [("", "Hz")] = "hertz",
        [("", "F")] = "farads",
        [("", "m")] = "metres",
        [("at", "%")] = "at",
        [("±", "%")] = "±",
    };

    private static readonly HashSet<string> _mayBeNothing = ["inside", "drops", "needs", "at", "±", "drops out at"];

    /// <exception cref="NotationException">Not understood; says where.</exception>
    public static PartLaw Read(string text) => Read(text, NumberFrom.Entered);

    /// <param name="from">Who says it: whoever entered it, or the marking of the part.</param>
    /// <exception cref="NotationException">Not understood; says where.</exception>
    public static PartLaw Read(string text, NumberFrom from)
    {
        ArgumentNullException.ThrowIfNull(text);
        var said = text.Trim().Replace('\u2126', 'Ω').Replace('\u03bc', 'µ').Replace('\u2212', '-').Replace('\u00a0', ' ');
        var kind = _kinds
            .Where(k => said.StartsWith(k.Word, StringComparison.OrdinalIgnoreCase))
            .Where(k => said.Length == k.Word.Length || !char.IsLetter(said[k.Word.Length]))
            .OrderByDescending(k => k.Word.Length)
            .FirstOrDefault();
        if (kind.Word is null)
        {
            throw new NotationException(text, 0, "this is no kind of part", Example);
        }

        var numbers = new Dictionary<string, double>();
        var (words, at) = (new List<string>(), kind.Word.Length);
        var of = "";
        Conductor? conductor = null;
        while (at < said.Length)
        {
            if (char.IsWhiteSpace(said[at]) || said[at] is ',' or ';')
            {
                at++;
            }
            else if (Of().Match(said, at) is { Success: true } relay && kind.Kind is LawKind.MakeContact or LawKind.BreakContact)
            {
                of = relay.Groups[1].Value.Trim();
                at += relay.Length;
            }
            else if (Gauge().Match(said, at) is { Success: true } gauge && kind.Kind == LawKind.Wire)
            {
                conductor = Sum(() => Conductor.Read("gauge", gauge.Value));
                at += gauge.Length;
            }
            else if (Number().Match(said, at) is { Success: true } number)
            {
                var word = Spaces().Replace(number.Groups["word"].Value.Trim().ToLowerInvariant(), " ");
                var unit = UnitOf(number.Groups["unit"].Value, number.Groups["value"].Value);
                var value = Sum(() =>
                    Quantity.Read("", "It", $"{number.Groups["value"].Value} {number.Groups["unit"].Value}".Trim(), unit)
                );
                if (!_names.TryGetValue((word, unit), out var name))
                {
                    throw new NotationException(text, at, $"\"{number.Value.Trim()}\" is no number of a part", Example);
                }

                if (value <= 0 && !_mayBeNothing.Contains(name))
                {
                    throw new NotationException(text, at, $"its {name} are above 0", Example);
                }

                if (!numbers.TryAdd(name, value))
                {
                    throw new NotationException(text, at, $"there are two numbers in {unit}", Example);
                }

                at += number.Length;
            }
            else if (Word().Match(said, at) is { Success: true } filler && IsKnown(filler.Value))
            {
                words.Add(filler.Value);
                at += filler.Length;
            }
            else
            {
                throw new NotationException(text, at, "this is not understood", Example);
            }
        }

        var law = Law(kind.Kind, kind.Word, numbers, words, of, conductor, from);
        return numbers.Keys.FirstOrDefault(n => n != "±" && !law.Has(n)) is { } unused
            ? throw new NotationException(text, 0, $"a {kind.Word} has no {unused} beside the rest", Example)
            : law;

        T Sum<T>(Func<T> read)
        {
            try
            {
                return read();
            }
            catch (SumException wrong)
            {
                throw new NotationException(text, at, wrong.Message.TrimEnd('.'), Example);
            }
        }
    }

    private static bool IsKnown(string word) => _fillers.Contains(word) || _ledVolts.ContainsKey(word);

    private static string UnitOf(string said, string value) =>
        said switch
        {
            "%" => "%",
            _ when said.EndsWith("VA", StringComparison.Ordinal) || said.EndsWith('W') => "W",
            _ when said.EndsWith('V') => "V",
            _ when said.EndsWith('A') => "A",
            _ when said.EndsWith("Hz", StringComparison.OrdinalIgnoreCase) => "Hz",
            _ when said.EndsWith('F') => "F",
            "m" or "ft" or "cm" => "m",
            "" when value.AsSpan().IndexOfAny("RkKM") < 0 => "",
            _ => "Ω",
        };

    private static PartLaw Law(
        LawKind kind,
        string word,
        Dictionary<string, double> given,
        List<string> words,
        string of,
        Conductor? conductor,
        NumberFrom from
    )
    {
        List<StatedNumber> numbers = [];
        var missing = "";
        double? Given(string name) => given.TryGetValue(name, out var value) ? value : null;
        // What a nameplate says may be off by more than what was measured. Common practice, no source.
        double Spread(string name, double usual) => name is "volts" or "amps" or "watts" or "ohms" && Given("±") is { } p ? p / 100 : usual;
        void Say(string name, string unit, double spread)
        {
            if (Given(name) is { } value)
            {
                numbers.Add(new StatedNumber(name, value, unit, from, Spread(name, spread)));
            }
        }

        void Need(string name, string unit, double spread, string otherwise)
        {
            Say(name, unit, spread);
            if (Given(name) is null && missing.Length == 0)
            {
                missing = otherwise;
            }
        }

        void Assume(string name, string unit, double value, double spread)
        {
            if (Given(name) is null)
            {
                numbers.Add(new StatedNumber(name, value, unit, NumberFrom.Assumed, spread));
            }
            else
            {
                Say(name, unit, 0.05);
            }
        }

        // Two of volts, amps and watts, or the ohms alone.
        void Draw(double spread)
        {
            Say("ohms", "Ω", 0.05);
            if (Given("ohms") is not null)
            {
                Say("volts", "V", 0);
                return;
            }

            Say("volts", "V", 0);
            Say("amps", "A", spread);
            if (Given("amps") is null)
            {
                Say("watts", "W", spread);
            }

            missing =
                Given("amps") is null && Given("watts") is null ? "its amps, watts or ohms"
                : Given("volts") is null ? "the volts that its amps or watts are for"
                : "";
        }

        switch (kind)
        {
            case LawKind.Mains:
                Need("volts", "V", 0.05, "its volts");
                Assume("hertz", "Hz", 50, 0);
                Assume("inside", "Ω", 0.3, 0.5);
                break;
            case LawKind.Supply:
                Need("volts", "V", 0.02, "its volts");
                Say("at most", "A", 0.1);
                Say("needs", "V", 0.1);
                break;
            case LawKind.Battery:
                Need("volts", "V", 0.04, "its volts");
                Assume("inside", "Ω", 0.02, 0.5);
                break;
            case LawKind.Fuse:
                Need("amps", "A", 0, "its amps");
                // A small fuse drops about 0.1 V at its rating. Common practice, no source.
                Assume("ohms", "Ω", 0.1 / Math.Max(0.01, Given("amps") ?? 1), 0.5);
                break;
            case LawKind.ResidualBreaker:
                Need("amps", "A", 0, "its amps");
                // The usual one for people; it opens between half of that and all of it (IEC 61008-1, from memory).
                Assume("trips at", "A", 0.03, 0.25);
                Assume("ohms", "Ω", 0.005, 0.5);
                break;
            case LawKind.Switch:
                Assume("ohms", "Ω", 0.02, 0.7);
                break;
            case LawKind.Output:
                // A relay's contact or a transistor: hundredths of an ohm, a tenth where it is old. Common practice, no source.
                Assume("ohms", "Ω", 0.05, 1);
                break;
            case LawKind.SolidState:
                Assume("drops", "V", 0, 0);
                Assume("ohms", "Ω", 0.2, 0.7);
                Assume("leaks", "A", 0.002, 0.5);
                Assume("volts", "V", 230, 0);
                break;
            case LawKind.RelayCoil:
                Draw(0.1);
                var nominal = Given("volts");
                if (nominal is null && missing.Length == 0)
                {
                    missing = "the volts of its coil";
                }

                Assume("pulls in at", "V", 0.7 * (nominal ?? 0), 0.15);
                Assume("drops out at", "V", 0.15 * (nominal ?? 0), 0.4);
                break;
            case LawKind.MakeContact or LawKind.BreakContact:
                missing = of.Length > 0 ? "" : "whose contact it is, as in make contact of K1";
                Assume("ohms", "Ω", 0.02, 0.7);
                break;
            case LawKind.Wire when conductor is not null:
                Need("metres", "m", 0.1, "its length");
                numbers.Add(new StatedNumber("ohms per metre", conductor.Ohms(1, 20), "Ω", from, 0.05));
                break;
            case LawKind.Wire:
                Assume("ohms", "Ω", 0.03, 0.7);
                break;
            case LawKind.Contact:
                Assume("ohms", "Ω", 0.005, 0.7);
                break;
            case LawKind.Bond:
                Assume("ohms", "Ω", 0.02, 0.7);
                break;
            case LawKind.Load:
                Draw(word is "resistor" or "heater" or "thermistor" ? 0.05 : 0.15);
                break;
            case LawKind.Motor:
                Draw(0.25);
                // At rest a motor is its winding, some eighth of what it is while it runs. Common practice, no source.
                if (Given("stalls at") is not null)
                {
                    Say("stalls at", "A", 0.2);
                }
                else if (missing.Length == 0)
                {
                    Assume("winding", "Ω", OhmsOf(given, words.Contains("3~")) / 8, 0.5);
                }

                break;
            case LawKind.Lamp:
                Draw(0.1);
                if (missing.Length == 0)
                {
                    // A filament is cold a tenth of what it is when it shines. Common practice, no source.
                    Assume("cold", "Ω", OhmsOf(given, false) / 10, 0.3);
                }

                break;
            case LawKind.Led:
                var colour = words.Find(_ledVolts.ContainsKey);
                Assume("drops", "V", _ledVolts.GetValueOrDefault(colour ?? "red"), 0.1);
                Draw(0.3);
                break;
            case LawKind.Diode:
                // From 0.4 V at a few milliamps to 1 V at its rating. Common practice, no source.
                Assume("drops", "V", 0.7, 0.4);
                Assume("ohms", "Ω", 0.05, 0.5);
                break;
            case LawKind.Rectifier:
                Assume("drops", "V", 1.4, 0.2);
                Assume("inside", "Ω", 0.1, 0.5);
                break;
            case LawKind.Transformer:
                Need("volts", "V", 0.02, "the volts of both windings");
                Need("to volts", "V", 0.03, "the volts of both windings");
                Say("watts", "W", 0);
                var (primary, secondary) = (Given("volts") ?? 1, Given("to volts") ?? 1);
                // Without its size, one of a hundred volt-amperes. It loses some 8 % at full load. Common practice, no source.
                Assume("inside", "Ω", 0.08 * secondary * secondary / (Given("watts") ?? 100), 0.4);
                // What it loses is copper or iron, as it was made: the ohms of a primary may as well be half or twice that.
                numbers.Add(new StatedNumber("winding", 0.04 * primary * primary / (Given("watts") ?? 100), "Ω", NumberFrom.Assumed, 0.9));
                break;
            case LawKind.Regulator:
                Need("volts", "V", 0.03, "its volts");
                Assume("drops", "V", 1.5, 0.5);
                Assume("at most", "A", 1, 0.2);
                break;
            case LawKind.Capacitor:
                Need("farads", "F", 0.2, "its farads");
                break;
            case LawKind.Potentiometer:
                Need("ohms", "Ω", 0.2, "its ohms");
                Assume("at", "%", 50, 0.5);
                break;
        }

        return new PartLaw(kind, numbers, of, missing)
        {
            IsSmoothed = words.Contains("smoothed", StringComparer.OrdinalIgnoreCase),
            IsThreePhase = words.Contains("3~"),
            Trips = word is "breaker" or "overload" || kind == LawKind.ResidualBreaker,
            IsDriven = word is "coil" or "valve" or "heater" or "horn",
            IsElectronic = word is "board" or "sensor" && !given.ContainsKey("ohms"),
        };
    }

    /// <summary>What volts and amps, volts and watts, or ohms come to; of three phases, for each in star.</summary>
    private static double OhmsOf(Dictionary<string, double> given, bool isThreePhase) =>
        given.TryGetValue("ohms", out var ohms) ? ohms
        : !given.TryGetValue("volts", out var volts) ? 1
        : given.TryGetValue("amps", out var amps) ? volts / amps / (isThreePhase ? Math.Sqrt(3) : 1)
        : volts * volts / given["watts"];

    [GeneratedRegex(@"\Gof\s+([^,;]{1,40})", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Of();

    [GeneratedRegex(
        @"\G(?:AWG\s*\d{1,2}(?:/0)?|\d{1,2}\s*AWG|\d{1,3}(?:[.,]\d{1,3})?\s*(?:mm²|mm2))",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Gauge();

    [GeneratedRegex(
        @"\G(?<word>(?:to|at\s+most|(?:trips|stalls|pulls\s+in|drops\s+out)\s+at|drops|needs|leaks|inside|cold|winding|at|±)?)\s*"
            + @"(?<value>\d{1,4}[RkKM]\d{1,3}|\d{1,9}(?:[.,]\d{1,9})?)(?!~)\s*"
            + @"(?<unit>[mkMuµnp]?(?:V(?!A)|A|W|VA|Ω|ohms?|Hz|F)\b|[kM]\b|[kmM]?Ω|%|ft\b|cm\b|m\b|)",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Number();

    [GeneratedRegex(@"\G[^\s,;]+", RegexOptions.CultureInvariant)]
    private static partial Regex Word();

    [GeneratedRegex(@"\s+", RegexOptions.CultureInvariant)]
    private static partial Regex Spaces();
}
