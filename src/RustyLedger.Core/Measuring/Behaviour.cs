using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Measuring;

/// <summary>An output rises, or falls, by so much while its control goes from its lowest to its highest.</summary>
public sealed record FollowsLimit(NumericLimit By) : Limit;

/// <summary>A value that jumps while something is turned by hand, and comes back to where it should be: a good commutator.</summary>
public sealed record SettlesLimit(NumericLimit At) : Limit;

/// <summary>What happens in which order, and within which seconds.</summary>
/// <param name="Steps">As <see cref="SequenceNotation"/> writes it.</param>
public sealed record SequenceLimit(string Steps) : Limit;

/// <summary>A displayed word, bit by bit.</summary>
/// <param name="Pattern">From the highest bit on: 1, 0, or a point where it does not matter.</param>
public sealed record BitsLimit(string Pattern) : Limit;

/// <summary>Heard or not.</summary>
/// <param name="Times">How often; null where it does not matter.</param>
public sealed record SoundLimit(bool Heard, int? Times) : Limit;

/// <summary>Three phases follow each other L1, L2, L3, or the other way round.</summary>
public sealed record RotationLimit(bool Forward) : Limit;

/// <summary>A fuse that conducts.</summary>
/// <param name="Full">What stands at its fed end, in volts; null where nobody said.</param>
public sealed record FuseLimit(decimal? Full) : Limit;

/// <summary>
/// Two values of one quantity: from the lowest to the highest setting of a control, or the least and the most of a capture.
/// </summary>
public sealed record SpanReading(decimal From, decimal To, Unit Unit, bool Unsteady = false, string Remark = "")
    : ReadingValue(Unsteady, Remark)
{
    public override string Written => $"{Numbers.Write(From)} to {Numbers.Write(To)} {Unit.Symbol()}";
}

/// <summary>What happened, in its order.</summary>
public sealed record SequenceReading(string Steps) : ReadingValue(false, "")
{
    public override string Written => Steps;
}

/// <param name="Times">How often it was heard; null where nobody counted.</param>
public sealed record SoundReading(bool Heard, int? Times, string Remark = "") : ReadingValue(false, Remark)
{
    public override string Written =>
        Times is { } times ? $"heard {times} times"
        : Heard ? "heard"
        : "silent";
}

/// <param name="Forward">L1, L2, L3; null where a phase is missing.</param>
public sealed record RotationReading(bool? Forward, string Remark = "") : ReadingValue(false, Remark)
{
    public override string Written =>
        Forward switch
        {
            true => RotationWords.Forward,
            false => RotationWords.Backward,
            null => "a phase is missing",
        };
}

internal static class RotationWords
{
    public const string Forward = "L1 L2 L3";
    public const string Backward = "L1 L3 L2";
}

/// <summary>A fuse, dead or live.</summary>
/// <param name="Beeps">Dead: whether it conducts; null where it was read live.</param>
/// <param name="InPlace">Dead, and still in its holder.</param>
/// <param name="Near">The fed end against common, in volts.</param>
/// <param name="Far">The other end against common.</param>
/// <param name="Across">From end to end; null where not read, as for both ends.</param>
/// <param name="LowImpedance">By a meter that loads what it reads.</param>
/// <param name="NoFeedBack">Nothing behind it can feed back: the load is unplugged, or has no windings or supply of its own.</param>
public sealed record FuseReading(
    bool? Beeps,
    bool InPlace,
    decimal? Near,
    decimal? Far,
    decimal? Across,
    bool LowImpedance,
    bool NoFeedBack,
    string Remark = ""
) : ReadingValue(false, Remark)
{
    public override string Written =>
        Beeps is { } beeps
            ? $"{(beeps ? "beeps" : "silent")}{(InPlace ? " in place" : "")}"
            : string.Join(
                ' ',
                new[] { Near, Far, Across }
                    .Reverse()
                    .SkipWhile(v => v is null)
                    .Reverse()
                    .Select(v => v is { } volts ? Numbers.Write(volts) : "?")
            )
                + " V"
                + (LowImpedance ? " lowz" : "")
                + (NoFeedBack ? " alone" : "");

    private static double? Number(decimal? value) => (double?)value;

    /// <summary>The test that was made, by its table.</summary>
    /// <param name="full">What is fed, in volts; null where nobody said: then the largest reading stands for it.</param>
    public FuseTest Test(decimal? full)
    {
        if (Beeps is { } beeps)
        {
            return FuseTest.Dead(!InPlace, beeps);
        }

        var most = Number(full) ?? new[] { Near, Far, Across }.Max(v => Math.Abs(Number(v) ?? 0));
        FuseVolts Size(decimal? volts) => FuseTest.Size(Number(volts), most);
        return FuseTest.Live(Size(Near), Size(Far), Size(Across), LowImpedance, !NoFeedBack);
    }
}

/// <summary>A step of a sequence.</summary>
/// <param name="From">Its earliest second; null where only the order counts.</param>
/// <param name="To">Its latest second.</param>
public sealed record SequenceStep(string Name, decimal? From, decimal? To);

/// <summary>Sequences as a line: <c>fan 0..1, click 2..5, spark &lt;= 9, flame</c>.</summary>
public static partial class SequenceNotation
{
    private const string Example = "fan, click 2..5, spark 6..9, flame";
    private const int MostSteps = 20;

    /// <summary>Steps as a limit states them: a name, with its seconds or without.</summary>
    /// <exception cref="NotationException">Not understood; says where.</exception>
    public static IReadOnlyList<SequenceStep> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var steps = new List<SequenceStep>();
        var at = 0;
        foreach (var part in Commas().Split(text))
        {
            var said = Step().Match(part.Trim());
            if (!said.Success)
            {
                throw new NotationException(text, at, $"\"{part.Trim()}\" is no step with its seconds", Example);
            }

            var from = Number(said.Groups["from"]);
            var to = Number(said.Groups["to"]);
            var within = Number(said.Groups["within"]);
            if (to < from)
            {
                throw new NotationException(text, at, $"\"{part.Trim()}\" ends before it begins", Example);
            }

            steps.Add(
                new SequenceStep(
                    said.Groups["name"].Value.Trim().ToLowerInvariant(),
                    said.Groups["most"].Success ? 0 : from - (within ?? 0),
                    said.Groups["most"].Success ? Number(said.Groups["most"]) : to ?? from + (within ?? 0)
                )
            );
            at += part.Length + 1;
        }

        return steps.Count is > 0 and <= MostSteps
            ? steps
            : throw new NotationException(text, 0, $"{steps.Count} steps; at most {MostSteps} fit", Example);
    }

    /// <summary>So that <see cref="Read"/> gives the same steps back.</summary>
    public static string Write(IEnumerable<SequenceStep> steps) =>
        string.Join(
            ", ",
            steps.Select(s =>
                (s.From, s.To) switch
                {
                    ({ } a, { } b) when a == b => $"{s.Name} {Numbers.Write(a)}",
                    ({ } a, { } b) => $"{s.Name} {Numbers.Write(a)}..{Numbers.Write(b)}",
                    _ => s.Name,
                }
            )
        );

    /// <summary>What was seen, held against what should be: the first step that is missing, out of its order or out of its time.</summary>
    /// <returns>What is wrong; null where all is as it should be.</returns>
    public static string? Wrong(IReadOnlyList<SequenceStep> wanted, IReadOnlyList<SequenceStep> seen)
    {
        ArgumentNullException.ThrowIfNull(wanted);
        ArgumentNullException.ThrowIfNull(seen);
        var from = 0;
        foreach (var (index, step) in wanted.Index())
        {
            var at = seen.Index().Skip(from).FirstOrDefault(s => s.Item.Name == step.Name, (-1, null!)).Index;
            if (at < 0)
            {
                return seen.Any(s => s.Name == step.Name)
                    ? $"{step.Name} came before {wanted[index - 1].Name}"
                    : $"{step.Name} never came{(index > 0 ? $" after {wanted[index - 1].Name}" : "")}";
            }

            if (step.To is { } latest && seen[at].From is { } second)
            {
                if (second > latest || second < step.From)
                {
                    return $"{step.Name} at {Numbers.Write(second)} s, "
                        + (
                            second > latest
                                ? $"{Numbers.Write(second - latest)} s too late"
                                : $"{Numbers.Write(step.From!.Value - second)} s too early"
                        );
                }
            }

            from = at + 1;
        }

        return null;
    }

    /// <summary>The steps that have seconds to keep, and for which none were noted.</summary>
    public static IReadOnlyList<string> Untimed(IReadOnlyList<SequenceStep> wanted, IReadOnlyList<SequenceStep> seen) =>
        [.. wanted.Where(w => w.To is not null && !seen.Any(s => s.Name == w.Name && s.From is not null)).Select(w => w.Name)];

    private static decimal? Number(Group group) =>
        group.Success ? decimal.Parse(group.Value.Replace(',', '.'), CultureInfo.InvariantCulture) : null;

    [GeneratedRegex(@",(?!\d)|(?<!\d),", RegexOptions.CultureInvariant)]
    private static partial Regex Commas();

    [GeneratedRegex(
        @"^(?<name>\p{L}[\p{L}\d ]{0,30}?)(?:\s+(?:<=?|≤|within)\s*(?<most>\d{1,6}(?:[.,]\d{1,3})?)\s*s?"
            + @"|\s+(?:at\s+)?(?<from>\d{1,6}(?:[.,]\d{1,3})?)(?:\s*(?:±|\+/-)\s*(?<within>\d{1,5}(?:[.,]\d{1,3})?)"
            + @"|\s*(?:\.\.|to)\s*(?<to>\d{1,6}(?:[.,]\d{1,3})?))?\s*s?)?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Step();
}

/// <summary>The bits of a displayed word.</summary>
public static class WordBits
{
    private const int MostBits = 32;

    /// <summary>
    /// A pattern as people write it: <c>0000 0010</c>, <c>....  ..1.</c>, or <c>1 on</c> and <c>3 off</c> counted from 0 at the right; null
    /// where it is none.
    /// </summary>
    public static string? Pattern(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var words = text.Trim().ToLowerInvariant().Split((char[])[' ', ','], StringSplitOptions.RemoveEmptyEntries);
        if (
            words.Length > 0
            && words.Length % 2 == 0
            && words.Where((_, i) => i % 2 == 1).All(w => w is "on" or "off")
            && words
                .Where((_, i) => i % 2 == 0)
                .All(w => int.TryParse(w, CultureInfo.InvariantCulture, out var bit) && bit is >= 0 and < MostBits)
        )
        {
            var said = words
                .Chunk(2)
                .GroupBy(p => int.Parse(p[0], CultureInfo.InvariantCulture))
                .ToDictionary(g => g.Key, g => g.Last()[1] == "on");
            var length = ((said.Keys.Max() / 8) + 1) * 8;
            return Grouped(
                Enumerable
                    .Range(0, length)
                    .Reverse()
                    .Select(b =>
                        said.TryGetValue(b, out var on)
                            ? on
                                ? '1'
                                : '0'
                            : '.'
                    )
            );
        }

        var signs = string.Concat(words).Replace('x', '.').Replace('-', '.');
        return signs.Length is > 0 and <= MostBits && signs.All(c => c is '0' or '1' or '.') ? Grouped(signs) : null;
    }

    /// <summary>
    /// The bits of a word as it is displayed: hexadecimal, as such displays show them; binary where nothing but bits stands behind 0b. Null
    /// for any other word.
    /// </summary>
    public static string? Of(string word)
    {
        ArgumentNullException.ThrowIfNull(word);
        var said = word.Trim().ToLowerInvariant();
        if (said.StartsWith("0b", StringComparison.Ordinal))
        {
            // 0B alone, and 0B3F, are hexadecimal.
            var signs = said[2..].Replace(" ", "", StringComparison.Ordinal);
            if (signs.Length is > 0 and <= MostBits && signs.All(c => c is '0' or '1'))
            {
                return Grouped(signs);
            }
        }

        var hex = said.TrimEnd('h').Replace("0x", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal);
        return hex.Length is > 0 and <= MostBits / 4 && hex.All(char.IsAsciiHexDigit)
            ? Grouped(string.Concat(hex.Select(c => Convert.ToString(Convert.ToInt32(c.ToString(), 16), 2).PadLeft(4, '0'))))
            : null;
    }

    /// <summary>The bits, from 0 at the right, that are not as the pattern has them; bits beyond the word's end are 0.</summary>
    public static IReadOnlyList<(int Bit, bool Wanted)> Wrong(string pattern, string bits)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        ArgumentNullException.ThrowIfNull(bits);
        var (wanted, found) = (Plain(pattern), Plain(bits));
        return
        [
            .. wanted
                .Reverse()
                .Index()
                .Where(w => w.Item != '.' && w.Item != (w.Index < found.Length ? found[^(w.Index + 1)] : '0'))
                .Select(w => (w.Index, w.Item == '1')),
        ];
    }

    private static string Plain(string bits) => bits.Replace(" ", "", StringComparison.Ordinal);

    private static string Grouped(IEnumerable<char> bits)
    {
        var all = string.Concat(bits);
        var padded = all.PadLeft((all.Length + 3) / 4 * 4, all[0] == '.' ? '.' : '0');
        return string.Join(' ', padded.Chunk(4).Select(c => new string(c)));
    }
}

/// <summary>Judges what is more than one number: what follows, settles, sounds, turns, or happens in an order.</summary>
internal static class JudgeBehaviour
{
    /// <returns>Null where neither the reading nor the limit is of these kinds.</returns>
    public static Verdict? Verdict(ReadingValue reading, Limit limit, DefaultTolerance tolerance) =>
        (reading, limit) switch
        {
            (SpanReading s, FollowsLimit f) when s.Unit == f.By.Unit => Follows(s, f, tolerance),
            (NumberReading, FollowsLimit) => NotJudged(
                "one value",
                $"{reading.Written}: two values tell whether it follows; type them as 2.1..9.8, at the lowest and the highest "
                    + "of the control"
            ),
            (NumberReading n, SettlesLimit s) when n.Unit == s.At.Unit => Settles(n, s, tolerance),
            (OverloadReading, SettlesLimit s) => new(
                VerdictKind.High,
                "OL is out",
                $"OL: no path; should settle at {LimitNotation.Write(s.At)}"
            ),
            (SpanReading s, NumericLimit l) when s.Unit == l.Unit => Captured(s, l, tolerance),
            (SequenceReading s, SequenceLimit l) => Sequence(s, l),
            (WordReading w, BitsLimit b) => Bits(w, b),
            (SoundReading s, SoundLimit l) => Sound(s, l),
            (RotationReading { Forward: null }, RotationLimit) => NotJudged(
                "phase missing",
                "a phase is missing: read the three phases against each other first"
            ),
            (RotationReading r, RotationLimit l) => State(r.Forward == l.Forward, r.Written, LimitNotation.Write(l)),
            (FuseReading f, FuseLimit l) => Fuse(f, l),
            _ => null,
        };

    private static Verdict NotJudged(string rule, string reason) => new(VerdictKind.NotJudged, rule, reason);

    private static Verdict State(bool same, string found, string wanted) =>
        same
            ? new(VerdictKind.Within, "state", $"{found}, as it should be")
            : new(VerdictKind.Differs, "state", $"{found}, should be {wanted}");

    private static Verdict Follows(SpanReading reading, FollowsLimit limit, DefaultTolerance tolerance)
    {
        var by = reading.To - reading.From;
        var unit = reading.Unit.Symbol();
        var verdict = Judge.Verdict(new NumberReading(by, reading.Unit), limit.By, tolerance);
        return verdict with
        {
            Rule = "follows",
            Reason =
                $"{(by < 0 ? "falls" : "rises")} by {Numbers.Write(Math.Abs(by))} {unit}, from {Numbers.Write(reading.From)} to "
                + $"{Numbers.Write(reading.To)} {unit}; {verdict.Reason}",
        };
    }

    private static Verdict Settles(NumberReading reading, SettlesLimit limit, DefaultTolerance tolerance)
    {
        bool Says(params ReadOnlySpan<string> words)
        {
            foreach (var word in words)
            {
                if (reading.Remark.Contains(word, StringComparison.OrdinalIgnoreCase))
                {
                    return true;
                }
            }

            return false;
        }

        var at = Judge.Verdict(reading, limit.At, tolerance);
        return reading.Unsteady ? new(VerdictKind.Differs, "settles", $"{reading.Written}: it would not settle")
            : !at.IsGood ? at with { Reason = $"where it comes to rest: {at.Reason}" }
            : Says("jump", "moves", "moved") ? at with { Rule = "settles", Reason = $"jumps while turned and comes back; {at.Reason}" }
            : Says("steady", "still")
                ? new(
                    VerdictKind.Differs,
                    "settles",
                    $"{reading.Written}, and it never moved while turned: read past what turns, or it was not turned"
                )
            : NotJudged("settles", $"{reading.Written}: turn it by hand, and write jumps or steady behind the value it comes back to");
    }

    /// <summary>The least and the most of a capture: the worse end decides.</summary>
    private static Verdict Captured(SpanReading reading, NumericLimit limit, DefaultTolerance tolerance)
    {
        var (least, most) = (Math.Min(reading.From, reading.To), Math.Max(reading.From, reading.To));
        var low = Judge.Verdict(new NumberReading(least, reading.Unit), limit, tolerance);
        var high = Judge.Verdict(new NumberReading(most, reading.Unit), limit, tolerance);
        var (worse, which) =
            low.IsOut ? (low, "least")
            : high.IsOut ? (high, "most")
            : low.Kind == VerdictKind.Within ? (high, "most")
            : (low, "least");
        var unit = reading.Unit.Symbol();
        return worse with { Reason = $"between {Numbers.Write(least)} and {Numbers.Write(most)} {unit}; the {which}: {worse.Reason}" };
    }

    private static Verdict Sequence(SequenceReading reading, SequenceLimit limit)
    {
        var (wanted, seen) = (SequenceNotation.Read(limit.Steps), SequenceNotation.Read(reading.Steps));
        return SequenceNotation.Wrong(wanted, seen) is { } wrong ? new(VerdictKind.Differs, "sequence", $"{wrong}; should be {limit.Steps}")
            : SequenceNotation.Untimed(wanted, seen) is { Count: > 0 } untimed
                ? NotJudged("sequence", $"the order is right; nobody noted the seconds of {string.Join(", ", untimed)}")
            : new(VerdictKind.Within, "sequence", $"{reading.Steps}: in order and in time");
    }

    private static Verdict Bits(WordReading reading, BitsLimit limit)
    {
        if (WordBits.Of(reading.Word) is not { } bits)
        {
            return NotJudged("bits", $"{reading.Word} is no number that has bits; it is read as hexadecimal, or as binary behind 0b");
        }

        var wrong = WordBits.Wrong(limit.Pattern, bits);
        return new Verdict(
            wrong.Count == 0 ? VerdictKind.Within : VerdictKind.Differs,
            "bits",
            wrong.Count == 0
                ? $"{reading.Word} is {bits}, as it should be"
                : $"{reading.Word} is {bits}: {string.Join(", ", wrong.Select(w => $"bit {w.Bit} should be {(w.Wanted ? "on" : "off")}"))}"
        );
    }

    private static Verdict Sound(SoundReading reading, SoundLimit limit) =>
        reading.Heard && limit is { Heard: true, Times: { } times } && reading.Times is null
            ? NotJudged("sound", $"heard, and nobody counted; should be {times} times")
            : State(
                reading.Heard == limit.Heard && (limit.Times is null || reading.Times == limit.Times),
                reading.Written,
                LimitNotation.Write(limit)
            );

    private static Verdict Fuse(FuseReading reading, FuseLimit limit)
    {
        var test = reading.Test(limit.Full);
        var says = test.Next.Length > 0 ? $"{test.Says} {test.Next}" : test.Says;
        return new(
            test.State switch
            {
                FuseState.Good => VerdictKind.Within,
                FuseState.NotJudged => VerdictKind.NotJudged,
                _ => VerdictKind.Differs,
            },
            $"fuse: {test.Rule}",
            says
        );
    }
}
