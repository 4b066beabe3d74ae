using System.Globalization;
using System.Text.RegularExpressions;

namespace RustyLedger.Core.Measuring;

/// <summary>How limits and readings of <see cref="JudgeBehaviour"/> are typed and written.</summary>
internal static partial class BehaviourNotation
{
    public const string FuseExample = "beeps, or live 24.1 24.0 0 lowz";

    private const string OfSequence = "sequence:";
    private const string OfFollows = "follows";
    private const string OfSettles = "settles";
    private const string OfBits = "bits";
    private const string GoodFuse = "good fuse";
    private const int MostTimes = 200;

    /// <summary>A limit of these kinds, by the word it begins with or the mode it stands under; null for any other.</summary>
    /// <exception cref="NotationException">Of these kinds, and not understood.</exception>
    public static LimitText? ReadLimit(string text, MeterMode? mode)
    {
        var said = text.Trim();
        if (After(said, OfSequence) is { } steps || (mode == MeterMode.Sequence && (steps = said).Length > 0))
        {
            return Only(text, mode, MeterMode.Sequence, new SequenceLimit(SequenceNotation.Write(SequenceNotation.Read(steps))));
        }

        if (After(said, OfFollows + " ") is { } by)
        {
            return Wrapped(text, "by ", by, mode, l => new FollowsLimit(l));
        }

        if (After(said, OfSettles + " ") is { } at)
        {
            return Wrapped(text, "at ", at, mode, l => new SettlesLimit(l));
        }

        if (After(said, OfBits + " ") is { } bits && mode is null or MeterMode.Word)
        {
            return new LimitText(
                new BitsLimit(
                    WordBits.Pattern(bits)
                        ?? throw new NotationException(text, OfBits.Length + 1, "these are no bits", "bits 0000 0010, or bits 1 on")
                ),
                MeterMode.Word,
                ""
            );
        }

        LimitText? seen =
            SoundSaid().Match(said) is { Success: true } sound && mode is null or MeterMode.Sound
                ? new(new SoundLimit(!sound.Groups["not"].Success, Times(text, sound.Groups["times"])), MeterMode.Sound, "")
            : RotationSaid().Match(said) is { Success: true } rotation && mode is null or MeterMode.PhaseRotation
                ? new(new RotationLimit(rotation.Groups["forward"].Success), MeterMode.PhaseRotation, "")
            : FuseSaid().Match(said) is { Success: true } fuse && mode is null or MeterMode.Fuse
                ? new(new FuseLimit(fuse.Groups["full"].Success ? Number(fuse.Groups["full"].Value) : null), MeterMode.Fuse, "")
            : null;
        // Without a mode, 123 is a number and "good" a remark: only what the ledger itself writes is taken so.
        if (seen is not null && (mode is not null || said.Equals(Write(seen.Limit), StringComparison.OrdinalIgnoreCase)))
        {
            return seen;
        }

        return null;
    }

    /// <summary>So that <see cref="ReadLimit"/> gives the same limit back; null for a limit of another kind.</summary>
    public static string? Write(Limit limit) =>
        limit switch
        {
            SequenceLimit s => $"{OfSequence} {s.Steps}",
            FollowsLimit f => $"{OfFollows} {LimitNotation.Write(f.By)}",
            SettlesLimit s => $"{OfSettles} {LimitNotation.Write(s.At)}",
            BitsLimit b => $"{OfBits} {b.Pattern}",
            SoundLimit { Heard: false } => "silent",
            SoundLimit s => s.Times is { } times ? $"heard {times} times" : "heard",
            RotationLimit r => r.Forward ? RotationWords.Forward : RotationWords.Backward,
            FuseLimit f => f.Full is { } full ? $"{GoodFuse}, {Numbers.Write(full)} V" : GoodFuse,
            _ => null,
        };

    /// <summary>A reading in a mode of these kinds; null in any other.</summary>
    /// <exception cref="NotationException">Not understood.</exception>
    public static ReadingValue? Read(string text, MeterMode mode) =>
        mode switch
        {
            MeterMode.Sequence => new SequenceReading(SequenceNotation.Write(SequenceNotation.Read(text))),
            MeterMode.Sound => Sound(text),
            MeterMode.PhaseRotation => Rotation(text),
            MeterMode.Fuse => Fuse(text),
            _ => null,
        };

    private static SoundReading Sound(string text)
    {
        var said = SoundSaid()
            .Match(
                text.Trim() switch
                {
                    "+" => "heard",
                    "-" => "silent",
                    [_, ..] typed when typed.All(char.IsAsciiDigit) => $"{typed} times",
                    var typed => typed,
                }
            );
        return said.Success
            ? new SoundReading(!said.Groups["not"].Success, Times(text, said.Groups["times"]), said.Groups["rest"].Value.Trim())
            : throw new NotationException(text, 0, "this was not understood", "heard, silent or 3 times");
    }

    private static RotationReading Rotation(string text)
    {
        var said = text.Trim();
        var order = RotationSaid().Match(said);
        return order.Success ? new RotationReading(order.Groups["forward"].Success)
            : said.Contains("missing", StringComparison.OrdinalIgnoreCase) || said is "-" ? new RotationReading(null)
            : throw new NotationException(text, 0, "this was not understood", "123, 132, or missing");
    }

    private static FuseReading Fuse(string text)
    {
        var said = text.Trim() switch
        {
            "+" => "beeps",
            "-" => "silent",
            var typed => typed,
        };
        if (FuseDead().Match(said) is { Success: true } dead)
        {
            return new FuseReading(
                dead.Groups["beeps"].Success,
                dead.Groups["place"].Success,
                null,
                null,
                null,
                false,
                false,
                dead.Groups["rest"].Value.Trim()
            );
        }

        var live = FuseLive().Match(said);
        return live.Success
            ? new FuseReading(
                null,
                false,
                Volts(live.Groups["near"]),
                Volts(live.Groups["far"]),
                Volts(live.Groups["across"]),
                live.Groups["low"].Success,
                live.Groups["alone"].Success
            )
            : throw new NotationException(text, 0, "a fuse is read dead, or by up to three volts: fed end, far end, across", FuseExample);
    }

    private static decimal? Volts(Group group) => group.Success && group.Value != "?" ? Number(group.Value) : null;

    private static decimal Number(string digits) => decimal.Parse(digits.Replace(',', '.'), CultureInfo.InvariantCulture);

    private static int? Times(string text, Group group) =>
        !group.Success ? null
        : int.Parse(group.Value, CultureInfo.InvariantCulture) is > 0 and <= MostTimes and var times ? times
        : throw new NotationException(text, 0, $"nobody counts to {group.Value}; 1 to {MostTimes} times", "heard 3 times");

    private static string? After(string said, string word) =>
        said.StartsWith(word, StringComparison.OrdinalIgnoreCase) ? said[word.Length..].Trim() : null;

    private static LimitText Only(string text, MeterMode? mode, MeterMode own, Limit limit) =>
        mode is null || mode == own
            ? new LimitText(limit, own, "")
            : throw new NotationException(text, 0, $"this does not fit a check in {mode.Value.Words()}", "24 V");

    private static LimitText Wrapped(string text, string little, string rest, MeterMode? mode, Func<NumericLimit, Limit> of)
    {
        var inner = LimitNotation.ReadOne(After(rest, little) ?? rest, mode);
        return inner.Limit is NumericLimit and not SupplyLimit
            ? inner with
            {
                Limit = of((NumericLimit)inner.Limit),
            }
            : throw new NotationException(text, 0, "this wants a number", "follows >= 5 V, or settles 1 Ω ±0.5");
    }

    [GeneratedRegex(
        @"^(?:(?<not>silent|not heard|nothing|no sound)|heard|(?:heard )?(?<times>\d{1,3})\s*(?:times|x|beeps?|clicks?))"
            + @"(?:\s+(?<rest>\p{L}.{0,60}))?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex SoundSaid();

    [GeneratedRegex(
        @"^(?:(?<forward>L?1[\s-]*L?2[\s-]*L?3|clockwise|cw)"
            + @"|L?1[\s-]*L?3[\s-]*L?2|L?3[\s-]*L?2[\s-]*L?1|anti-?clockwise|counter-?clockwise|ccw)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex RotationSaid();

    [GeneratedRegex(
        @"^(?:good(?: fuse)?|sound)(?:\s*,?\s*(?:on|of)?\s*(?<full>\d{1,4}(?:[.,]\d{1,2})?)\s*V)?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex FuseSaid();

    [GeneratedRegex(
        @"^(?:(?<beeps>beeps?|closed|good)|silent|no beep|open|OL|blown)(?<place>\s+in (?:place|circuit|its holder))?"
            + @"(?:\s+(?<rest>\p{L}.{0,60}))?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex FuseDead();

    [GeneratedRegex(
        @"^(?:live\s+)?(?<near>-?\d{1,4}(?:[.,]\d{1,3})?|\?)(?:[\s/;]+(?<far>-?\d{1,4}(?:[.,]\d{1,3})?|\?))?"
            + @"(?:[\s/;]+(?<across>-?\d{1,4}(?:[.,]\d{1,3})?|\?))?\s*V?"
            + @"(?:\s+(?:(?<low>low ?z|low impedance)|(?<alone>alone|no feed-?back|load (?:out|off|unplugged))))*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex FuseLive();
}
