namespace RustyLedger.Core.Measuring;

/// <summary>What was found, as understood from the text typed.</summary>
/// <param name="Unsteady">The value would not stand still (<c>~24</c>).</param>
/// <param name="Remark">Words typed after the value.</param>
public abstract record ReadingValue(bool Unsteady, string Remark)
{
    /// <summary>The value alone, in the notation of readings.</summary>
    public abstract string Written { get; }
}

/// <summary>A number in the unit without a prefix.</summary>
public sealed record NumberReading(decimal Value, Unit Unit, bool Unsteady = false, string Remark = "") : ReadingValue(Unsteady, Remark)
{
    public override string Written => $"{(Unsteady ? "~" : "")}{Numbers.Write(Value, Unit)}";
}

/// <summary>The meter shows OL: no path, or beyond its range.</summary>
public sealed record OverloadReading(bool Unsteady = false, string Remark = "") : ReadingValue(Unsteady, Remark)
{
    public override string Written => "OL";
}

/// <summary>A contact seen closed or open, or a continuity beep heard or not.</summary>
public sealed record ContactReading(bool Closed, bool Unsteady = false, string Remark = "") : ReadingValue(Unsteady, Remark)
{
    public override string Written => Closed ? "closed" : "open";
}

/// <summary>A lamp or output seen on or off.</summary>
/// <param name="Blinks">On and off by turns.</param>
public sealed record LampReading(bool On, bool Unsteady = false, string Remark = "", bool Blinks = false) : ReadingValue(Unsteady, Remark)
{
    public override string Written =>
        Blinks ? "blinking"
        : On ? "on"
        : "off";
}

/// <summary>A word shown by the machine.</summary>
public sealed record WordReading(string Word) : ReadingValue(false, "")
{
    public override string Written => Word;
}

/// <summary>What a typed text may be: one reading, or several of which the technician picks one.</summary>
/// <param name="Choices">At least one; more than one asks which.</param>
public sealed record ReadingText(IReadOnlyList<ReadingValue> Choices);

/// <summary>Readings as typed with one hand.</summary>
public static class ReadingNotation
{
    /// <summary>
    /// Understands <c>12.4</c>, <c>12,4</c>, <c>1k2</c>, <c>0.31 k</c>, <c>OL</c>, <c>0.L</c>, <c>~24</c>,
    /// <c>26.9 / 24.1</c>, <c>11.8 dropping</c>, <c>+</c> (on, closed) and <c>-</c> (off, open).
    /// The unit comes from the mode unless typed.
    /// </summary>
    /// <exception cref="NotationException">Not understood, or a unit of another kind than the mode measures.</exception>
    public static ReadingText Read(string text, MeterMode mode)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (string.IsNullOrWhiteSpace(text))
        {
            throw new NotationException(text, 0, "nothing was typed", "12.4");
        }

        if (mode == MeterMode.Word)
        {
            return text.Trim().Length <= 40
                ? new ReadingText([new WordReading(text.Trim())])
                : throw new NotationException(text, 40, "a word has at most 40 signs", "01");
        }

        if (BehaviourNotation.Read(text, mode) is { } behaviour)
        {
            return new ReadingText([behaviour]);
        }

        var scanner = new Scanner(text, mode);
        var values = new List<ReadingValue>();
        do
        {
            values.Add(One(scanner, mode));
            scanner.Spaces();
        } while (scanner.Take("/"));

        if (!scanner.AtEnd)
        {
            throw scanner.Problem("this was not understood", ExampleOf(mode));
        }

        return new ReadingText(values);
    }

    private static ReadingValue One(Scanner scanner, MeterMode mode)
    {
        scanner.Spaces();
        var unsteady = scanner.Take("~") || scanner.Take("≈");
        scanner.Spaces();
        var start = scanner.At;
        if (scanner.TakeWord("OL") || scanner.TakeWord("0.L") || scanner.TakeWord("O.L") || scanner.TakeWord("0L") || scanner.TakeWord("∞"))
        {
            return mode is MeterMode.Contact or MeterMode.Lamp
                ? throw scanner.Problem($"a {mode.Words()} does not read OL", ExampleOf(mode), start)
                : new OverloadReading(unsteady, Remark(scanner));
        }

        if (State(scanner, mode) is { } state)
        {
            return state == Seen.Contradiction ? throw scanner.Problem($"this does not fit {mode.Words()}", ExampleOf(mode), start)
                : mode == MeterMode.Lamp
                    ? new LampReading(state is Seen.Yes or Seen.Blinking, unsteady, Remark(scanner), state == Seen.Blinking)
                : new ContactReading(state == Seen.Yes, unsteady, Remark(scanner));
        }

        if (!scanner.StartsNumber() || mode.UnitOf() is not { } unit)
        {
            throw scanner.Problem("this was not understood", ExampleOf(mode), start);
        }

        var number = scanner.Number();
        var flow = number.Current == Current.Unstated ? scanner.TakeCurrent() : number.Current;
        if (unit == Unit.Amps && number.Unit == Unit.Volts)
        {
            return ByClamp(scanner, number.Value, unsteady, start);
        }

        if (unit == Unit.Celsius && (number.Unit == Unit.Ohms || number is { Unit: null, Prefixed: true }))
        {
            // The ohms of a sensor; which one it is, the check says.
            return new NumberReading(number.Value, Unit.Ohms, unsteady, Remark(scanner));
        }

        if (number.Unit is { } typed && typed != unit)
        {
            throw scanner.Problem($"{typed.Symbol()} does not fit a check in {mode.Words()}", ExampleOf(mode), start);
        }

        if (flow != Current.Unstated && Units.CurrentOf(mode) is var wanted and not Current.Unstated && wanted != flow)
        {
            throw scanner.Problem(
                $"{(flow == Current.Direct ? "DC" : "AC")} does not fit a check in {mode.Words()}",
                ExampleOf(mode),
                start
            );
        }

        var afterNumber = scanner.At;
        scanner.Spaces();
        if (!scanner.Take("..") && !scanner.TakeWord("to"))
        {
            scanner.Return(afterNumber);
            return new NumberReading(number.Value, unit, unsteady, Remark(scanner));
        }

        scanner.Spaces();
        var at = scanner.At;
        var second = scanner.Number();
        if (second.Unit is { } other && other != unit)
        {
            throw scanner.Problem($"{other.Symbol()} does not fit a check in {mode.Words()}", "2.1..9.8", at);
        }

        return new SpanReading(number.Scaled(second).Value, second.Scaled(number).Value, unit, unsteady, Remark(scanner));
    }

    /// <summary>A clamp that shows volts: <c>34 mV at 10 mV/A</c> is 3.4 A.</summary>
    private static NumberReading ByClamp(Scanner scanner, decimal volts, bool unsteady, int start)
    {
        const string Example = "34 mV at 10 mV/A";
        scanner.Spaces();
        if (!scanner.TakeWord("at") && !scanner.Take("@"))
        {
            throw scanner.Problem("volts do not fit a check in amps; say what the clamp gives per amp", Example, start);
        }

        scanner.Spaces();
        var at = scanner.At;
        var ratio = scanner.Number(signed: false);
        scanner.Spaces();
        if (ratio.Unit != Unit.Volts || ratio.Value <= 0 || !scanner.Take("/A"))
        {
            throw scanner.Problem("a clamp gives so many volts per amp", Example, at);
        }

        var said = $"{Numbers.Write(volts * 1000)} mV at {Numbers.Write(ratio.Value * 1000)} mV/A";
        var remark = Remark(scanner);
        return new NumberReading(Math.Round(volts / ratio.Value, 6), Unit.Amps, unsteady, remark.Length > 0 ? $"{said}, {remark}" : said);
    }

    /// <summary>Words after a value; they must stand apart from it and may not begin like another number.</summary>
    private static string Remark(Scanner scanner)
    {
        var at = scanner.At;
        scanner.Spaces();
        if (scanner.AtEnd || scanner.NextIs('/'))
        {
            return "";
        }

        if (scanner.At == at || scanner.StartsNumber() || !scanner.NextIsLetter)
        {
            throw scanner.Problem("this was not understood", "11.8 dropping");
        }

        return scanner.Until('/');
    }

    private static Seen? State(Scanner scanner, MeterMode mode)
    {
        var back = scanner.At;
        var contact = mode is MeterMode.Contact or MeterMode.Continuity;
        var lamp = mode == MeterMode.Lamp;
        foreach (
            var (word, yes, fits) in (ReadOnlySpan<(string, bool, bool)>)
                [
                    ("closed", true, contact),
                    ("open", false, contact),
                    ("no beep", false, contact),
                    ("beeps", true, contact),
                    ("beep", true, contact),
                    ("silent", false, contact),
                    ("on", true, lamp),
                    ("off", false, lamp),
                    ("lit", true, lamp),
                    ("dark", false, lamp),
                    ("blinking", true, lamp),
                    ("blinks", true, lamp),
                    ("flashing", true, lamp),
                    ("flashes", true, lamp),
                ]
        )
        {
            if (scanner.TakeWord(word))
            {
                return fits
                    ? word[0] is 'b' or 'f' && lamp && yes
                        ? Seen.Blinking
                        : yes
                            ? Seen.Yes
                            : Seen.No
                    : Seen.Contradiction;
            }
        }

        if (!scanner.StartsNumber() && (scanner.Take("+") || scanner.Take("-")))
        {
            var yes = scanner.PreviousIs('+');
            return contact || lamp
                ? yes
                    ? Seen.Yes
                    : Seen.No
                : Seen.Contradiction;
        }

        scanner.Return(back);
        return null;
    }

    private static string ExampleOf(MeterMode mode) =>
        mode switch
        {
            MeterMode.Contact => "closed or open",
            MeterMode.Continuity => "closed, open or 0.4",
            MeterMode.Lamp => "on or off",
            MeterMode.Ohms => "1k2 or OL",
            MeterMode.Sound => "heard, silent or 3 times",
            MeterMode.PhaseRotation => "123 or 132",
            MeterMode.Fuse => BehaviourNotation.FuseExample,
            _ => $"12.4 or 12.4 {mode.UnitOf()?.Symbol()}",
        };

    private enum Seen
    {
        Yes,
        No,
        Blinking,
        Contradiction,
    }
}
