namespace RustyLedger.Core.Measuring;

/// <summary>The one notation of limits, read and written the same way on screens, in files and in print.</summary>
public static class LimitNotation
{
    private const decimal MostPercent = 1000;

    // "About" says that nobody knows better. Common practice, no source.
    private const decimal AboutPercent = 20;

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
    /// <param name="isContact">It is said of a switch, a relay, a stop or a guard: NC is closed at rest there.</param>
    /// <exception cref="NotationException">Anything not understood, with its place.</exception>
    public static IReadOnlyList<LimitText> Read(string text, MeterMode? mode = null, bool isContact = false)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (BehaviourNotation.ReadLimit(text, mode) is { } behaviour)
        {
            return [behaviour];
        }

        if (mode == MeterMode.Word)
        {
            return text.Trim().Length is > 0 and <= 40
                ? [new LimitText(new WordLimit(text.Trim()), mode, "")]
                : throw new NotationException(text, 0, "a word of 1 to 40 signs was expected", "01");
        }

        if (text.TrimStart().StartsWith($"{NoReading}:", StringComparison.OrdinalIgnoreCase))
        {
            return [new LimitText(Unjudged(text.TrimStart()[(NoReading.Length + 1)..]), mode, "")];
        }

        if (text.TrimStart().StartsWith($"{EitherOf} ", StringComparison.OrdinalIgnoreCase))
        {
            return [OfEither(text, Read(text.TrimStart()[EitherOf.Length..], mode, isContact), mode)];
        }

        var scanner = new Scanner(text, mode);
        var found = new List<Part>();
        Unit? unit = null;
        var current = Current.Unstated;
        while (true)
        {
            scanner.Spaces();
            var one = One(scanner, mode, unit, current, isContact);
            var remark = one.Text.Remark;
            scanner.Spaces();
            if (scanner.Take("("))
            {
                scanner.Spaces();
                if (scanner.StartsNumber())
                {
                    found.Add(one);
                    one = One(
                        scanner,
                        mode,
                        (one.Text.Limit as NumericLimit)?.Unit,
                        (one.Text.Limit as NumericLimit)?.Current ?? Current.Unstated,
                        isContact
                    );
                    remark = Bracket(scanner);
                }
                else
                {
                    // A tolerance in brackets is one: 24 V (±10 %).
                    one = scanner.TakePlusMinus() ? one with { Text = one.Text with { Limit = Tolerated(scanner, one.Text.Limit) } } : one;
                    remark = Bracket(scanner);
                }

                scanner.Spaces();
            }

            found.Add(one with { Text = one.Text with { Remark = remark } });
            if (scanner.AtEnd)
            {
                return SameUnit(scanner, found, mode);
            }

            // +12/-12 are two; a stroke elsewhere is not known.
            if (!scanner.TakeWord("or") && !scanner.Take(";") && !(scanner.NextIs('/') && scanner.Take("/")))
            {
                throw scanner.Problem("this was not understood", Example);
            }

            unit = (one.Text.Limit as NumericLimit)?.Unit;
            current = (one.Text.Limit as NumericLimit)?.Current ?? Current.Unstated;
        }
    }

    /// <summary>What stood where a limit was expected and says nothing to judge by; it is kept as it was written.</summary>
    public static UnjudgedLimit Unjudged(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        var kept = string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return new UnjudgedLimit(
            kept.Length == 0 ? NoReading
            : kept.Length <= MostUnjudged ? kept
            : kept[..MostUnjudged]
        );
    }

    /// <summary>Several values for one place as one limit, each of which is right.</summary>
    public static Limit Either(IReadOnlyList<Limit> limits)
    {
        ArgumentNullException.ThrowIfNull(limits);
        ArgumentOutOfRangeException.ThrowIfZero(limits.Count);
        return limits.Skip(1).Aggregate(limits[0], (one, next) => new EitherLimit(one, next));
    }

    /// <summary>Whether a limit that was put together is read again as it was written; books and files hold it as its text.</summary>
    public static bool IsKeptByItsText(Limit limit)
    {
        try
        {
            return ReadOne(Write(limit)).Limit == limit;
        }
        catch (NotationException)
        {
            return false;
        }
    }

    private static LimitText OfEither(string text, IReadOnlyList<LimitText> said, MeterMode? mode) =>
        said.Count < 2
            ? throw new NotationException(text, 0, "either needs two values", "either 12 V or 0 V")
            : new LimitText(
                Either([.. said.Select(s => s.Limit)]),
                mode ?? said[0].Mode,
                string.Join(", ", said.Select(s => s.Remark).Where(r => r.Length > 0).Distinct())
            );

    private const string EitherOf = "either";
    private const string NoReading = "no reading";

    /// <summary>What a good fuse does; "short" is taken as well, and is written so nowhere.</summary>
    private const string Through = "beeps through";
    private const int MostUnjudged = 120;

    /// <param name="Scale">The multiplier written in it; 1 where there is none.</param>
    /// <param name="IsBare">Its numbers have neither unit nor multiplier of their own.</param>
    private sealed record Part(LimitText Text, decimal Scale, bool IsBare);

    private static NominalLimit Tolerated(Scanner scanner, Limit limit)
    {
        scanner.Spaces();
        var at = scanner.At;
        var half = scanner.Number(signed: false);
        scanner.Spaces();
        return limit is not NominalLimit { Percent: null, Absolute: null } nominal
                ? throw scanner.Problem("there is a tolerance already", "24 V ±10 %", at)
            : half.Unit is null && scanner.Take("%") ? nominal with { Percent = Percent(scanner, half.Value, at) }
            : half.Unit is { } unit && unit != nominal.Unit
                ? throw scanner.Problem($"{nominal.Unit.Symbol()} and {unit.Symbol()} in one limit", "24 V ±2 V", at)
            : nominal with { Absolute = half.Step };
    }

    private static decimal Percent(Scanner scanner, decimal percent, int at) =>
        percent <= MostPercent ? percent : throw scanner.Problem("no tolerance is so wide", "24 V ±10 %", at);

    /// <summary>Writes a limit so that <see cref="Read"/> gives the same limit back.</summary>
    public static string Write(Limit limit) =>
        limit switch
        {
            NominalLimit { Absolute: { } half } n => Scaled(
                n,
                s => $"{Numbers.Write(n.Nominal / s)} ±{Numbers.Write(half / s)}",
                // A half-band as large as its middle might have the multiplier to itself.
                Math.Abs(n.Nominal) > half
                    ? n.Nominal
                    : 0
            ),
            NominalLimit { Percent: { } percent } n => Scaled(n, s => Numbers.Write(n.Nominal / s), n.Nominal)
                + $" ±{Numbers.Write(percent)} %",
            NominalLimit n => Scaled(n, s => Numbers.Write(n.Nominal / s), n.Nominal),
            RangeLimit r => Scaled(r, s => $"{Numbers.Write(r.Low / s)}..{Numbers.Write(r.High / s)}", r.Low),
            LowestLimit l => Scaled(l, s => $"{(l.Included ? ">=" : ">")} {Numbers.Write(l.Low / s)}", l.Low),
            HighestLimit h => Scaled(h, s => $"{(h.Included ? "<=" : "<")} {Numbers.Write(h.High / s)}", h.High),
            NoPathLimit => "OL",
            ShortLimit => Through,
            ContactLimit c => c.Closed ? "closed" : "open",
            LampLimit l => l.Blinks ? "blinking"
            : l.On ? "on"
            : "off",
            WordLimit w => w.Word,
            UnjudgedLimit { Words: { } words } => words == NoReading ? NoReading : $"{NoReading}: {words}",
            SupplyLimit => "supply",
            EitherLimit e => $"{EitherOf} {Alternatives(e)}",
            _ when BehaviourNotation.Write(limit) is { } behaviour => behaviour,
            _ => throw new ArgumentOutOfRangeException(nameof(limit)),
        };

    private static string Alternatives(Limit limit) =>
        limit is EitherLimit e ? $"{Alternatives(e.First)} or {Alternatives(e.Second)}" : Write(limit);

    /// <summary>Its numbers with the unit, in mega where that is what people write.</summary>
    private static string Scaled(NumericLimit limit, Func<decimal, string> numbers, decimal size)
    {
        var (scale, prefix) = Numbers.PrefixOf(size, limit.Unit);
        return $"{numbers(scale)} {prefix}{Tail(limit)}";
    }

    private static string Tail(NumericLimit limit) =>
        limit.Unit.Symbol()
        + limit.Current switch
        {
            Current.Direct => " DC",
            Current.Alternating => " AC",
            _ => "",
        };

    private static Part One(Scanner scanner, MeterMode? mode, Unit? saidUnit, Current saidCurrent, bool isContact)
    {
        var start = scanner.At;
        if (Named(scanner, mode, isContact) is { } named)
        {
            return Fits(named.Limit, mode)
                ? new Part(named, 1, false)
                : throw scanner.Problem(
                    $"{Write(named.Limit)} does not fit a check in {mode!.Value.Words()}",
                    ExampleOf(mode.Value),
                    start
                );
        }

        var isAbout =
            scanner.TakeWord("about")
            || scanner.TakeWord("approx")
            || scanner.TakeWord("approx.")
            || scanner.TakeWord("ca")
            || scanner.Take("~")
            || scanner.Take("≈");
        scanner.Spaces();
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
            // Points of a duty, rather than per cent of per cent.
            if (half.Unit is null && scanner.Take("%") && unit == Unit.Percent)
            {
                absolute = half.Value;
            }
            else if (half.Unit is null && scanner.PreviousIs('%'))
            {
                percent = Percent(scanner, half.Value, at);
            }
            else
            {
                half = half.Scaled(first);
                if (first.IsBare && half.Scale != 1 && Math.Abs(first.Value * half.Scale) <= half.Value)
                {
                    throw scanner.Problem(
                        "the multiplier may belong to both numbers or to the second",
                        $"{Numbers.Write(first.Value * half.Scale)} ±{Numbers.Write(half.Value)}, or "
                            + $"{Numbers.Write(first.Value)} ±{Numbers.Write(half.Value)}",
                        start
                    );
                }

                absolute = half.Step;
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
            var (bareFirst, bareSecond) = (first, second);
            first = first.Scaled(second);
            second = second.Scaled(bareFirst);
            high = second.Value;
            if (high < first.Value)
            {
                // 100..2 kΩ can only mean that the multiplier is the second's own; that is asked, not taken.
                throw bareFirst.IsBare && second.Scale != 1 && bareFirst.Value <= second.Value
                    ? scanner.Problem(
                        "the multiplier may belong to both numbers or to the second",
                        $"{Numbers.Write(bareFirst.Value)}..{Numbers.Write(second.Value)}, or {Numbers.Write(first.Value)} "
                            + $"and {Numbers.Write(bareSecond.Value)}",
                        start
                    )
                    : scanner.Problem("the upper end is below the lower end", "8..12 V", at);
            }
        }
        else if (compare is null && scanner.TakeTwoSided() is { } sides)
        {
            // 24 V +10/-15 %: a band that is not the same on both sides.
            (first, high) = (
                first with
                {
                    Value = first.Value - (Math.Abs(first.Value) * sides.Below / 100),
                },
                first.Value + (Math.Abs(first.Value) * sides.Above / 100)
            );
        }

        current = Either(current, scanner.TakeCurrent());
        var remark = "";
        if (compare is null && high is null && percent is null && absolute is null)
        {
            compare = Trailing(scanner);
            var back = scanner.At;
            scanner.Spaces();
            remark =
                compare is null && (scanner.TakeWord("typ") || scanner.TakeWord("typical") || scanner.TakeWord("nom")) ? "typical" : "";
            scanner.Return(remark.Length > 0 ? scanner.At : back);
        }

        if (isAbout)
        {
            if (compare is not null || high is not null || percent is not null || absolute is not null)
            {
                throw scanner.Problem("about a number that has a limit of its own", "24 V, or 24 V ±10 %", start);
            }

            (percent, remark) = (AboutPercent, "about");
        }

        if (unit is null && (first.Prefixed || secondPrefixed) && mode is null)
        {
            unit = Unit.Ohms;
        }

        var said = unit ?? saidUnit;
        var modeUnit = mode?.UnitOf();
        if (mode is not null && modeUnit is null)
        {
            throw scanner.Problem(
                $"a {mode.Value.Words()} check takes no number",
                mode is MeterMode.Contact ? "closed" : ExampleOf(mode.Value),
                start
            );
        }

        if (said is not null && modeUnit is not null && said != modeUnit)
        {
            throw scanner.Problem(
                $"{said.Value.Symbol()} does not fit a check in {mode!.Value.Words()}",
                $"10 {modeUnit.Value.Symbol()}",
                start
            );
        }

        var of = said ?? modeUnit ?? Unit.Volts;
        var flow = Either(current, saidCurrent);
        if (flow != Current.Unstated && of is not (Unit.Volts or Unit.Amps))
        {
            throw scanner.Problem($"{of.Symbol()} is neither AC nor DC", $"10 {of.Symbol()}", start);
        }

        if (
            mode is not null
            && flow != Current.Unstated
            && Units.CurrentOf(mode.Value) is var wanted and not Current.Unstated
            && wanted != flow
        )
        {
            throw scanner.Problem(
                $"this limit is {(flow == Current.Direct ? "DC" : "AC")} but the check is in {mode.Value.Words()}",
                "24 V",
                start
            );
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
        return new Part(
            new LimitText(limit, mode ?? (unit is null && saidUnit is null ? null : Units.DefaultMode(of, flow)), remark),
            first.Scale != 1 ? first.Scale
                : secondPrefixed ? 1
                : first.Scale,
            first.IsBare
        );
    }

    /// <summary>Whether a named limit can be meant under a mode; without a mode it decides that itself.</summary>
    private static bool Fits(Limit limit, MeterMode? mode) =>
        mode is null
        || limit switch
        {
            NoPathLimit => mode is MeterMode.Ohms or MeterMode.Continuity or MeterMode.Diode or MeterMode.Contact or MeterMode.Insulation,
            ShortLimit => mode is MeterMode.Ohms or MeterMode.Continuity,
            ContactLimit => mode is MeterMode.Contact or MeterMode.Continuity,
            LampLimit => mode is MeterMode.Lamp,
            SupplyLimit => mode is MeterMode.DcVolts or MeterMode.AcVolts or MeterMode.BatteryUnderLoad,
            EitherLimit e => Fits(e.First, mode) && Fits(e.Second, mode),
            _ => true,
        };

    private static string ExampleOf(MeterMode mode) =>
        mode switch
        {
            MeterMode.Lamp => "on",
            MeterMode.Contact or MeterMode.Continuity => "closed",
            MeterMode.Diode => "0.5 V, or OL",
            MeterMode.Ohms => "beeps through, or 25 Ω",
            MeterMode.Sound => "heard, or heard 3 times",
            MeterMode.PhaseRotation => "L1 L2 L3",
            MeterMode.Sequence => "sequence: fan, click 2..5, flame",
            MeterMode.Fuse => "good fuse",
            _ => $"24 {mode.UnitOf()?.Symbol()}".Trim(),
        };

    /// <summary>What people write behind a number to make it an edge: <c>25 ohm or more</c>, <c>8 min</c>, <c>2 max</c>.</summary>
    private static string? Trailing(Scanner scanner)
    {
        var back = scanner.At;
        scanner.Spaces();
        foreach (
            var (words, meaning) in (ReadOnlySpan<(string[], string)>)
                [
                    (["or more", "or above", "or higher", "and more", "and up", "minimum", "min.", "min"], ">="),
                    (["or less", "or below", "or lower", "maximum", "max.", "max"], "<="),
                ]
        )
        {
            foreach (var word in words)
            {
                if (scanner.TakeWord(word))
                {
                    return meaning;
                }
            }
        }

        scanner.Return(back);
        return null;
    }

    private static LimitText? Named(Scanner scanner, MeterMode? mode, bool isContact)
    {
        var start = scanner.At;
        if (scanner.TakeWord("n/c") || scanner.TakeWord("NC"))
        {
            return mode == MeterMode.Contact || isContact
                ? new LimitText(new ContactLimit(true), mode ?? MeterMode.Contact, "normally closed")
                : throw scanner.Problem("NC may be normally closed, or not connected", "closed, or no reading", start);
        }

        (string Word, Limit Limit, MeterMode? Mode)[] names =
        [
            ("0.L", new NoPathLimit(), null),
            ("O.L", new NoPathLimit(), null),
            ("OL", new NoPathLimit(), null),
            ("∞", new NoPathLimit(), null),
            ("infinite", new NoPathLimit(), null),
            (NoReading, new UnjudgedLimit(NoReading), mode),
            ("not measured", new UnjudgedLimit(NoReading), mode),
            (Through, new ShortLimit(), null),
            ("no beep", new ContactLimit(false), MeterMode.Continuity),
            ("beep", new ContactLimit(true), MeterMode.Continuity),
            ("beeps", new ContactLimit(true), MeterMode.Continuity),
            ("short", new ShortLimit(), null),
            ("supply", new SupplyLimit(), null),
            ("B+", new SupplyLimit(), null),
            ("batt+", new SupplyLimit(), null),
            ("battery", new SupplyLimit(), null),
            ("batt", new SupplyLimit(), null),
            ("closed", new ContactLimit(true), MeterMode.Contact),
            ("open", new ContactLimit(false), MeterMode.Contact),
            ("on", new LampLimit(true), MeterMode.Lamp),
            ("off", new LampLimit(false), MeterMode.Lamp),
            ("blinking", new LampLimit(true, Blinks: true), MeterMode.Lamp),
            ("blinks", new LampLimit(true, Blinks: true), MeterMode.Lamp),
            ("flashing", new LampLimit(true, Blinks: true), MeterMode.Lamp),
        ];
        foreach (var (word, limit, own) in names)
        {
            if (scanner.TakeWord(word))
            {
                return new LimitText(limit, mode ?? own, "");
            }
        }

        return null;
    }

    private static string? Comparison(Scanner scanner)
    {
        foreach (
            var (sign, meaning) in (ReadOnlySpan<(string, string)>)
                [
                    (">=", ">="),
                    ("=>", ">="),
                    ("≥", ">="),
                    (">", ">"),
                    ("<=", "<="),
                    ("=<", "<="),
                    ("≤", "<="),
                    ("<", "<"),
                    ("min ", ">="),
                    ("max ", "<="),
                    ("at least ", ">="),
                    ("at most ", "<="),
                ]
        )
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

    /// <summary>A unit said once holds for all values of the text, and so does a multiplier: <c>12 or 0 V</c>, <c>4 or 20 mA</c>.</summary>
    private static List<LimitText> SameUnit(Scanner scanner, List<Part> found, MeterMode? mode)
    {
        var scales = found.Where(f => !f.IsBare && f.Scale != 1).Select(f => f.Scale).Distinct().ToList();
        if (scales.Count > 1 && found.Exists(f => f is { IsBare: true, Text.Limit: NumericLimit }))
        {
            throw scanner.Problem("a number without a multiplier stands beside two that have different ones", "4 mA or 20 mA", 0);
        }

        List<LimitText> limits =
        [
            .. found.Select(f =>
                f is { IsBare: true, Text.Limit: NumericLimit bare } && scales is [var scale]
                    ? f.Text with
                    {
                        Limit = Times(bare, scale),
                    }
                    : f.Text
            ),
        ];
        var spoken = limits.LastOrDefault(f => f.Mode is not null && f.Limit is NumericLimit);
        if (mode is not null || spoken?.Limit is not NumericLimit numeric)
        {
            return limits;
        }

        return
        [
            .. limits.Select(f =>
                f is { Mode: null, Limit: NumericLimit n } ? f with { Limit = WithUnit(n, numeric), Mode = spoken.Mode } : f
            ),
        ];
    }

    private static NumericLimit Times(NumericLimit limit, decimal scale) =>
        limit switch
        {
            NominalLimit n => n with { Nominal = n.Nominal * scale, Absolute = n.Absolute * scale },
            RangeLimit r => r with { Low = r.Low * scale, High = r.High * scale },
            LowestLimit l => l with { Low = l.Low * scale },
            HighestLimit h => h with { High = h.High * scale },
            _ => limit,
        };

    private static NumericLimit WithUnit(NumericLimit limit, NumericLimit like) => limit with { Unit = like.Unit, Current = like.Current };

    private static Current Either(Current first, Current second) => first == Current.Unstated ? second : first;

    private static Unit? Agree(Scanner scanner, Unit? first, Unit? second, int at) =>
        first is not null && second is not null && first != second
            ? throw scanner.Problem($"{first.Value.Symbol()} and {second.Value.Symbol()} in one limit", "8..12 V", at)
            : first ?? second;
}
