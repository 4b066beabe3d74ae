using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Measuring;

/// <summary>Meters as a text: each by its name and what its data sheet says, a line each, with an empty line between two.</summary>
public static partial class Meters
{
    private const int MostMeters = 40;
    private const int MostSigns = 20_000;
    private const int MostName = 60;

    /// <summary>
    /// Meters of no maker, with figures that are usual for their kind; common practice, no source. A shop describes its own beside them.
    /// </summary>
    public const string PresetText = """
        Bench meter
        category II 300 V
        input 10 MΩ
        true RMS
        DC volts 0.02 % + 4: 0.6 V by 0.00001 V, 6 V by 0.0001 V, 60 V by 0.001 V, 600 V by 0.01 V
        AC volts 0.5 % + 30: 0.6 V by 0.00001 V, 6 V by 0.0001 V, 60 V by 0.001 V, 600 V by 0.01 V
        DC amps 0.2 % + 10: 0.6 A by 0.00001 A, 10 A by 0.001 A
        AC amps 0.75 % + 20: 0.6 A by 0.00001 A, 10 A by 0.001 A
        ohms 0.05 % + 5: 600 Ω by 0.01 Ω, 6 kΩ by 0.1 Ω, 60 kΩ by 1 Ω, 600 kΩ by 10 Ω, 60 MΩ by 1 kΩ
        diode 0.1 % + 10: 2 V by 0.0001 V
        frequency 0.01 % + 3: 1 kHz by 0.001 Hz, 1 MHz by 1 Hz
        diode test 5 V 1 mA
        ohms test 1.2 V 1 mA

        Handheld meter
        category III 600 V
        input 10 MΩ
        low impedance 400 kΩ
        true RMS
        DC volts 0.5 % + 2: 0.6 V by 0.0001 V, 6 V by 0.001 V, 60 V by 0.01 V, 600 V by 0.1 V
        AC volts 1 % + 3: 6 V by 0.001 V, 60 V by 0.01 V, 600 V by 0.1 V
        DC amps 1 % + 3: 0.6 A by 0.0001 A, 10 A by 0.01 A
        AC amps 1.5 % + 3: 0.6 A by 0.0001 A, 10 A by 0.01 A
        ohms 0.9 % + 2: 600 Ω by 0.1 Ω, 6 kΩ by 1 Ω, 60 kΩ by 10 Ω, 600 kΩ by 100 Ω, 40 MΩ by 10 kΩ
        diode 1 % + 2: 2 V by 0.001 V
        frequency 0.1 % + 2: 1 kHz by 0.1 Hz, 50 kHz by 10 Hz
        temperature 1 % + 10: 400 °C by 0.1 °C
        diode test 2.8 V 1 mA
        ohms test 0.6 V 0.5 mA

        Clamp meter
        category IV 600 V
        input 1 MΩ
        DC volts 1 % + 3: 60 V by 0.01 V, 600 V by 0.1 V
        AC volts 1.2 % + 5: 60 V by 0.01 V, 600 V by 0.1 V
        DC amps 2 % + 5: 60 A by 0.01 A, 600 A by 0.1 A
        AC amps 2 % + 5: 60 A by 0.01 A, 600 A by 0.1 A
        ohms 1 % + 5: 600 Ω by 0.1 Ω, 6 kΩ by 1 Ω

        Two-pole tester
        category IV 1000 V
        input 200 kΩ
        DC volts 3 % + 3: 1000 V by 1 V
        AC volts 3 % + 3: 1000 V by 1 V
        """;

    public static IReadOnlyList<Meter> Presets { get; } = Read(PresetText);

    /// <summary>The meters of a shop and the presets, the shop's own first; one of its own stands for a preset of that name.</summary>
    /// <param name="own">As the shop wrote them; empty for none.</param>
    public static IReadOnlyList<Meter> With(string own) =>
        [.. Read(own).Concat(Presets).DistinctBy(m => m.Name, StringComparer.OrdinalIgnoreCase)];

    /// <exception cref="FormatException">Not understood; says which line, and what would do.</exception>
    public static IReadOnlyList<Meter> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (text.Length > MostSigns)
        {
            throw new FormatException($"The meters have {text.Length} signs; at most {MostSigns} fit.");
        }

        var meters = new List<Meter>();
        Meter? at = null;
        foreach (var (index, raw) in text.Split('\n').Index())
        {
            var line = raw.Trim();
            if (line.Length == 0)
            {
                at = null;
                continue;
            }

            if (at is null)
            {
                at = new Meter(Named(line, index, meters), 0, 0, null, null, false, []);
                meters.Add(at);
                continue;
            }

            meters[^1] = at = Understood(at, line, index);
        }

        return meters.Count <= MostMeters
            ? meters
            : throw new FormatException($"There are {meters.Count} meters; at most {MostMeters} fit.");
    }

    /// <summary>The rule of the text; null where it holds.</summary>
    public static Refusal? Refusal(string text)
    {
        try
        {
            _ = Read(text);
            return null;
        }
        catch (FormatException refusal)
        {
            return new Refusal("meters", refusal.Message);
        }
    }

    private static string Named(string line, int index, List<Meter> before) =>
        line.Length > MostName ? throw Wrong(index, line, $"a name has at most {MostName} signs")
        : line.Contains('%', StringComparison.Ordinal) ? throw Wrong(index, line, "a meter begins with its name, on a line of its own")
        : before.Exists(m => m.Name.Equals(line, StringComparison.OrdinalIgnoreCase))
            ? throw Wrong(index, line, "there is another of that name")
        : line;

    private static Meter Understood(Meter meter, string line, int index)
    {
        if (CategoryLine().Match(line) is { Success: true } category)
        {
            return meter with
            {
                Category = Array.IndexOf(Meter.Roman, category.Groups[1].Value.ToUpperInvariant()),
                CategoryVolts = Number(category.Groups[2].Value, "V", index, line),
            };
        }

        if (InputLine().Match(line) is { Success: true } input)
        {
            var ohms = Number(input.Groups[2].Value, "Ω", index, line);
            return input.Groups[1].Value.StartsWith('i') || input.Groups[1].Value.StartsWith('I')
                ? meter with
                {
                    InputOhms = ohms,
                }
                : meter with
                {
                    LowOhms = ohms,
                };
        }

        if (TestLine().Match(line) is { Success: true } test)
        {
            var volts = Number(test.Groups["volts"].Value, "V", index, line);
            decimal? amps = test.Groups["amps"].Success ? Number(test.Groups["amps"].Value, "A", index, line) : null;
            return test.Groups["what"].Value.StartsWith("d", StringComparison.OrdinalIgnoreCase)
                ? meter with
                {
                    DiodeVolts = volts,
                    DiodeAmps = amps,
                }
                : meter with
                {
                    OhmsVolts = volts,
                    OhmsAmps = amps,
                };
        }

        if (line.Equals("true RMS", StringComparison.OrdinalIgnoreCase))
        {
            return meter with { IsTrueRms = true };
        }

        if (FunctionLine().Match(line) is not { Success: true } function)
        {
            throw Wrong(
                index,
                line,
                "write for example \"category III 600 V\", \"input 10 MΩ\", \"low impedance 400 kΩ\", \"true RMS\", "
                    + "\"diode test 2.8 V 1 mA\", "
                    + "or \"DC volts 0.5 % + 2: 6 V by 0.001 V, 60 V by 0.01 V\""
            );
        }

        var mode = Wiring.TerminalList.ModeOf(function.Groups["mode"].Value);
        if (mode is not { } known || known.UnitOf() is not { } unit)
        {
            throw Wrong(index, line, $"\"{function.Groups["mode"].Value}\" is nothing that is measured in numbers");
        }

        if (meter.FunctionOf(known) is not null)
        {
            throw Wrong(index, line, $"{known.Words()} stand there twice");
        }

        List<MeterRange> ranges = [];
        foreach (
            var part in function.Groups["ranges"].Value.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
        )
        {
            if (part.Split(" by ", StringSplitOptions.TrimEntries) is not [var upTo, var step])
            {
                throw Wrong(index, line, $"\"{part}\" is no range; write for example 6 V by 0.001 V");
            }

            var range = new MeterRange(Number(upTo, unit.Symbol(), index, line), Number(step, unit.Symbol(), index, line));
            if (range.UpTo <= 0 || range.Step <= 0 || range.Step >= range.UpTo || ranges is [.., var last] && last.UpTo >= range.UpTo)
            {
                throw Wrong(index, line, "ranges go from the smallest up, each with a step that is smaller than the range");
            }

            ranges.Add(range);
        }

        return meter with
        {
            Functions =
            [
                .. meter.Functions,
                new MeterFunction(known, Plain(function.Groups["percent"].Value), Plain(function.Groups["counts"].Value), ranges),
            ],
        };
    }

    private static decimal Plain(string text) => decimal.Parse(text.Replace(',', '.'), NumberStyles.Number, CultureInfo.InvariantCulture);

    private static decimal Number(string text, string unit, int index, string line)
    {
        try
        {
            return (decimal)Sums.Quantity.Read("meters", "A number", text, unit);
        }
        catch (SumException refusal)
        {
            throw Wrong(index, line, refusal.Message);
        }
    }

    private static FormatException Wrong(int index, string line, string why) =>
        new($"Line {index + 1}, \"{(line.Length > 60 ? line[..60] + "…" : line)}\": {why}.");

    [GeneratedRegex(@"^cat(?:egory)?\.?\s+(I{1,3}|IV)\s+(\d.{0,12})$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex CategoryLine();

    [GeneratedRegex(@"^(input|low impedance)\s+(\d.{0,16})$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex InputLine();

    [GeneratedRegex(
        @"^(?<what>diode|ohms) test\s+(?<volts>\d[\d.,]{0,6}\s?m?V)(?:[,\s]+(?<amps>\d[\d.,]{0,6}\s?[mµu]?A))?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex TestLine();

    [GeneratedRegex(
        @"^(?<mode>[A-Za-z ]{2,20}?)\s+±?\(?(?<percent>\d{1,3}(?:[.,]\d{1,6})?)\s*%\s*\+\s*(?<counts>\d{1,5})\)?"
            + @"\s*:\s*(?<ranges>.{3,400})$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex FunctionLine();
}
