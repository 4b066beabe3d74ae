namespace RustyLedger.Core.Measuring;

/// <summary>The one notation of limits, read and written the same way on screens, in files and in print.</summary>
public static class LimitNotation
{
    private const string Example = "24 V ±5 %, 8..12 V, >= 25 Ω, OL or closed";

    /// <summary>Reads a text that holds exactly one limit.</summary>
    /// <exception cref="NotationException">The text is not understood or holds more than one limit.</exception>
    public static LimitText ReadOne(string text, MeterMode? mode = null)
    {
        var all = Read(text, mode);
        return all.Count == 1
            ? all[0]
            : throw new NotationException(text, 0, $"this is {all.Count} limits; give each a check of its own", Write(all[0].Limit));
    }

    /// <summary>Whether the text is understood as one limit, under the mode where one is given.</summary>
    public static bool Fits(string text, MeterMode? mode = null)
    {
        try
        {
            return Read(text, mode).Count == 1;
        }
        catch (NotationException)
        {
            return false;
        }
    }

    /// <summary>
    /// Reads a text as people type it. Two values with <c>or</c>, or a second one in brackets, are two limits
    /// (two checks of the same place).
    /// </summary>
    /// <param name="mode">The mode of the check, where known: settles a missing unit, and under
    /// <see cref="MeterMode.Word"/> makes any text a word. Without it a bare number is volts.</param>
    /// <exception cref="NotationException">Anything not understood, with its place.</exception>
    public static IReadOnlyList<LimitText> Read(string text, MeterMode? mode = null)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (mode == MeterMode.Word)
        {
            return text.Trim().Length is > 0 and <= 40
                ? [new LimitText(new WordLimit(text.Trim()), mode, "")]
                : throw new NotationException(text, 0, "a word of 1 to 40 signs was expected", "01");
        }

        var scanner = new Scanner(text);
        var found = new List<LimitText>();
        Unit? unit = null;
        var current = Current.Unstated;
        while (true)
        {
            scanner.Spaces();
            var one = One(scanner, mode, unit, current);
            var remark = "";
            scanner.Spaces();
            if (scanner.Take("("))
            {
                scanner.Spaces();
                if (scanner.StartsNumber())
                {
                    found.Add(one);
                    one = One(scanner, mode, (one.Limit as NumericLimit)?.Unit, (one.Limit as NumericLimit)?.Current ?? Current.Unstated);
                }

                remark = Bracket(scanner);
                scanner.Spaces();
            }

            found.Add(one with { Remark = remark });
            if (scanner.AtEnd)
            {
                return SameUnit(found, mode);
            }

            if (!scanner.TakeWord("or") && !scanner.Take(";"))
            {
                throw scanner.Problem("this was not understood", Example);
            }

            unit = (one.Limit as NumericLimit)?.Unit;
            current = (one.Limit as NumericLimit)?.Current ?? Current.Unstated;
        }
    }

    /// <summary>Writes a limit so that <see cref="Read"/> gives the same limit back.</summary>
    public static string Write(Limit limit) => limit switch
    {
        NominalLimit { Absolute: { } half } n => $"{Numbers.Write(n.Nominal)} ±{Numbers.Write(half)} {Tail(n)}",
        NominalLimit { Percent: { } percent } n => $"{Numbers.Write(n.Nominal)} {Tail(n)} ±{Numbers.Write(percent)} %",
        NominalLimit n => $"{Numbers.Write(n.Nominal)} {Tail(n)}",
        RangeLimit r => $"{Numbers.Write(r.Low)}..{Numbers.Write(r.High)} {Tail(r)}",
        LowestLimit l => $"{(l.Included ? ">=" : ">")} {Numbers.Write(l.Low)} {Tail(l)}",
        HighestLimit h => $"{(h.Included ? "<=" : "<")} {Numbers.Write(h.High)} {Tail(h)}",
        NoPathLimit => "OL",
        ShortLimit => "short",
        ContactLimit c => c.Closed ? "closed" : "open",
        LampLimit l => l.On ? "on" : "off",
        WordLimit w => w.Word,
        _ => throw new ArgumentOutOfRangeException(nameof(limit)),
    };

    private static string Tail(NumericLimit limit) => limit.Unit.Symbol() + limit.Current switch
    {
        Current.Direct => " DC",
        Current.Alternating => " AC",
        _ => "",
    };

    private static LimitText One(Scanner scanner, MeterMode? mode, Unit? saidUnit, Current saidCurrent)
    {
        if (Named(scanner) is { } named)
        {
            return named;
        }

        var start = scanner.At;
        var compare = Comparison(scanner);
        scanner.Spaces();
        if (!scanner.StartsNumber())
        {
            throw scanner.Problem(scanner.AtEnd ? "a limit was expected" : "this was not understood", Example);
        }

        var first = scanner.Number();
        var unit = first.Unit;
        var current = Either(first.Current, scanner.TakeCurrent());
        decimal? percent = null;
        decimal? absolute = null;
        decimal? high = null;
        var secondPrefixed = false;
        scanner.Spaces();
        if (compare is null && scanner.TakePlusMinus())
        {
            scanner.Spaces();
            var at = scanner.At;
            var half = scanner.Number(signed: false);
            scanner.Spaces();
            if (half.Unit is null && scanner.Take("%"))
            {
                percent = half.Value;
            }
            else
            {
                absolute = half.Value;
                first = first.Scaled(half);
                secondPrefixed = half.Prefixed;
                unit = Agree(scanner, unit, half.Unit, at);
                current = Either(current, Either(half.Current, scanner.TakeCurrent()));
            }
        }
        else if (compare is null && (scanner.Take("..") || scanner.Take("-") || scanner.TakeWord("to")))
        {
            _ = scanner.Take(".");
            scanner.Spaces();
            var at = scanner.At;
            var second = scanner.Number();
            unit = Agree(scanner, unit, second.Unit, at);
            current = Either(current, Either(second.Current, scanner.TakeCurrent()));
            secondPrefixed = second.Prefixed;
            first = first.Scaled(second);
            high = second.Value;
            if (high < first.Value)
            {
                throw scanner.Problem("the upper end is below the lower end", "8..12 V", at);
            }
        }

        current = Either(current, scanner.TakeCurrent());
        if (unit is null && (first.Prefixed || secondPrefixed) && mode is null)
        {
            unit = Unit.Ohms;
        }

        var said = unit ?? saidUnit;
        var modeUnit = mode?.UnitOf();
        if (mode is not null && modeUnit is null)
        {
            throw scanner.Problem($"a {mode.Value.Words()} check takes no number", mode == MeterMode.Lamp ? "on" : "closed", start);
        }

        if (said is not null && modeUnit is not null && said != modeUnit)
        {
            throw scanner.Problem($"{said.Value.Symbol()} does not fit a check in {mode!.Value.Words()}", $"10 {modeUnit.Value.Symbol()}", start);
        }

        var of = said ?? modeUnit ?? Unit.Volts;
        var flow = Either(current, saidCurrent);
        if (flow != Current.Unstated && of is not (Unit.Volts or Unit.Amps))
        {
            throw scanner.Problem($"{of.Symbol()} is neither AC nor DC", $"10 {of.Symbol()}", start);
        }

        if (mode is not null && flow != Current.Unstated && Units.CurrentOf(mode.Value) is var wanted and not Current.Unstated && wanted != flow)
        {
            throw scanner.Problem($"this limit is {(flow == Current.Direct ? "DC" : "AC")} but the check is in {mode.Value.Words()}", "24 V", start);
        }

        Limit limit = compare switch
        {
            ">=" => new LowestLimit(first.Value, true, of, flow),
            ">" => new LowestLimit(first.Value, false, of, flow),
            "<=" => new HighestLimit(first.Value, true, of, flow),
            "<" => new HighestLimit(first.Value, false, of, flow),
            _ when high is not null => new RangeLimit(first.Value, high.Value, of, flow),
            _ => new NominalLimit(first.Value, percent, absolute, of, flow),
        };
        return new LimitText(limit, mode ?? (unit is null && saidUnit is null ? null : Units.DefaultMode(of, flow)), "");
    }

    private static LimitText? Named(Scanner scanner)
    {
        (string Word, Limit Limit, MeterMode? Mode)[] names =
        [
            ("0.L", new NoPathLimit(), null), ("O.L", new NoPathLimit(), null), ("OL", new NoPathLimit(), null),
            ("short", new ShortLimit(), null),
            ("closed", new ContactLimit(true), MeterMode.Contact), ("open", new ContactLimit(false), MeterMode.Contact),
            ("on", new LampLimit(true), MeterMode.Lamp), ("off", new LampLimit(false), MeterMode.Lamp),
        ];
        foreach (var (word, limit, mode) in names)
        {
            if (scanner.TakeWord(word))
            {
                return new LimitText(limit, mode, "");
            }
        }

        return null;
    }

    private static string? Comparison(Scanner scanner)
    {
        foreach (var (sign, meaning) in (ReadOnlySpan<(string, string)>)[(">=", ">="), ("=>", ">="), ("≥", ">="), (">", ">"), ("<=", "<="), ("=<", "<="), ("≤", "<="), ("<", "<"), ("min ", ">="), ("max ", "<="), ("at least ", ">="), ("at most ", "<=")])
        {
            if (scanner.Take(sign))
            {
                return meaning;
            }
        }

        return null;
    }

    private static string Bracket(Scanner scanner)
    {
        var start = scanner.At;
        var rest = scanner.Rest();
        return rest.Length > 0 && rest.IndexOf(')', StringComparison.Ordinal) == rest.Length - 1
            ? rest[..^1].Trim()
            : throw scanner.Problem("the bracket does not end the text", "24 (27 no load)", start);
    }

    /// <summary>A unit said once holds for all values of the text: <c>12 or 0 V</c>.</summary>
    private static List<LimitText> SameUnit(List<LimitText> found, MeterMode? mode)
    {
        var spoken = found.LastOrDefault(f => f.Mode is not null && f.Limit is NumericLimit);
        if (mode is not null || spoken?.Limit is not NumericLimit numeric)
        {
            return found;
        }

        return [.. found.Select(f => f is { Mode: null, Limit: NumericLimit n } ? f with { Limit = WithUnit(n, numeric), Mode = spoken.Mode } : f)];
    }

    private static NumericLimit WithUnit(NumericLimit limit, NumericLimit like) =>
        limit with { Unit = like.Unit, Current = like.Current };

    private static Current Either(Current first, Current second) => first == Current.Unstated ? second : first;

    private static Unit? Agree(Scanner scanner, Unit? first, Unit? second, int at) =>
        first is not null && second is not null && first != second
            ? throw scanner.Problem($"{first.Value.Symbol()} and {second.Value.Symbol()} in one limit", "8..12 V", at)
            : first ?? second;
}
