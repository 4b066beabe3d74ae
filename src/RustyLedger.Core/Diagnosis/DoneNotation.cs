using System.Text.RegularExpressions;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What was done to a part as a whole, or to the machine, as technicians write it, with what came of it.</summary>
internal static partial class DoneNotation
{
    /// <summary>Empty where a line says nothing of the kind.</summary>
    public static IReadOnlyList<SeenWords> Read(string text, MachineDiagnosis model) =>
        (Swapped(text, model) ?? Fitted(text, model) ?? Waited(text) ?? Wiggled(text, model)) is { } done ? [done]
        : Closed(text, model) is { Count: > 0 } closed ? closed
        : Inspected(text, model) is { } looked ? [looked]
        : [];

    /// <summary>What replacing a part did: <c>replaced Z3-F1: the fault went</c>, or <c>it stayed</c>.</summary>
    private static SeenWords? Fitted(string text, MachineDiagnosis model)
    {
        if (
            FittedLine().Match(text) is not { Success: true } line
            || Parts(line.Groups["parts"].Value.Trim(), model) is not { Count: > 0 } parts
        )
        {
            return null;
        }

        var isGone = SeenNotation
            .Words(line.Groups["how"].Value)
            .Exists(w => w is "went" or "gone" or "works" or "runs" or "fixed" or "ok" or "good");
        var act = PartActs.Fit(parts);
        var (went, stayed) = PartActs.Outcomes(ActKind.Fit);
        return Of(act, isGone ? OutcomeKind.Works : OutcomeKind.No, text, $"replaced {act.Words}: {(isGone ? went : stayed)}");
    }

    private static SeenWords Of(Act act, OutcomeKind outcome, string text, string words) =>
        new(act, new ActOutcome(outcome), Showing.Unknown, text.TrimEnd().EndsWith('?'), words);

    /// <summary>What swapping a part did: <c>swapped M3 with M2: the fault followed</c>, or <c>it stayed</c>.</summary>
    private static SeenWords? Swapped(string text, MachineDiagnosis model)
    {
        if (SwappedLine().Match(text) is not { Success: true } line)
        {
            return null;
        }

        var (name, with) = (line.Groups["part"].Value.Trim(), line.Groups["with"].Value.Trim());
        var parts = Parts(name, model);
        var words = SeenNotation.Words(line.Groups["how"].Value);
        OutcomeKind? outcome =
            words.Exists(w => w is "followed" or "follows" or "moved" or "along" or "wandered") ? OutcomeKind.No
            : words.Exists(w => w is "stayed" or "stays" or "same" or "still") ? OutcomeKind.Works
            : words.Exists(w => w is "gone" or "went") ? OutcomeKind.Sometimes
            : null;
        if (parts.Count == 0 || outcome is not { } how)
        {
            return null;
        }

        var act = PartActs.Swap(parts, parts.Count == 1 ? parts[0] : name, with);
        var (well, bad) = PartActs.Outcomes(ActKind.Swap);
        return Of(
            act,
            how,
            text,
            $"swapped {act.Words}: {(how == OutcomeKind.Works ? well : how == OutcomeKind.No ? bad : "gone for now, at both")}"
        );
    }

    /// <summary>The parts of a list with <c>and</c> between; empty where one of them is none that is suspected.</summary>
    internal static List<string> Parts(string names, MachineDiagnosis model)
    {
        // "the supply at PS·+" is a name, "the motor 2" is motor 2.
        var each = names
            .Split(" and ", StringSplitOptions.TrimEntries)
            .Select(n =>
                model.PartsCalled(n) is { Count: > 0 } known ? known
                : n.StartsWith("the ", StringComparison.OrdinalIgnoreCase) ? model.PartsCalled(n[4..])
                : []
            )
            .ToList();
        return each.TrueForAll(p => p.Count > 0) ? [.. each.SelectMany(p => p).Distinct()] : [];
    }

    /// <summary>How a part looks: <c>Z3-J3 looks corroded</c>, <c>M3 looks good</c>.</summary>
    private static SeenWords? Inspected(string text, MachineDiagnosis model)
    {
        if (InspectedLine().Match(text) is not { Success: true } line)
        {
            return null;
        }

        var name = line.Groups["part"].Value.Trim();
        var parts = Parts(name, model);
        var how = line.Groups["how"].Value.ToLowerInvariant();
        // A lamp that looks dim is seen to do too little.
        if (parts.Count == 0 || SeenNotation.OutcomeOf(SeenNotation.Words(how)) is (not OutcomeKind.Works, _, _))
        {
            return null;
        }

        var act = PartActs.Inspect(parts, parts.Count == 1 ? parts[0] : name);
        return Of(act, LooksGood().IsMatch(how) ? OutcomeKind.Works : OutcomeKind.No, text, $"{act.Words} {Looks(act)} {how}");
    }

    /// <summary>One looks burnt, two look burnt.</summary>
    public static string Looks(Act inspect) => inspect.Words.Contains(" and ", StringComparison.Ordinal) ? "look" : "looks";

    /// <summary>How long it was watched: <c>nothing for 20 min</c>, <c>came back after 30 s</c>.</summary>
    private static SeenWords? Waited(string text)
    {
        var away = AwayLine().Match(text);
        var line = away.Success ? away : BackLine().Match(text);
        if (!line.Success || MinutesOf(line) is not { } minutes)
        {
            return null;
        }

        var (well, bad) = PartActs.Outcomes(ActKind.Wait);
        return Of(
            PartActs.Wait(minutes),
            away.Success ? OutcomeKind.Works : OutcomeKind.No,
            text,
            away.Success ? $"{well} for {PartActs.Time(minutes)}" : $"{bad} after {PartActs.Time(minutes)}"
        );
    }

    /// <summary>What moving a plug by hand did: <c>wiggled Z3-J3: it came and went</c>, or <c>nothing changed</c>.</summary>
    private static SeenWords? Wiggled(string text, MachineDiagnosis model)
    {
        if (WiggledLine().Match(text) is not { Success: true } line || model.Wiggle(line.Groups["plug"].Value.Trim(), "") is not { } act)
        {
            return null;
        }

        var how = SeenNotation.Words(line.Groups["how"].Value);
        var isStill = how.Exists(w => w is "nothing" or "no" or "not" or "same" or "stayed" or "never" or "steady" or "still");
        var (well, bad) = PartActs.Outcomes(ActKind.Wiggle);
        return Of(act, isStill ? OutcomeKind.Works : OutcomeKind.No, text, $"wiggled {act.Words}: {(isStill ? well : bad)}");
    }

    /// <summary>
    /// A fuse that blew again or a breaker that tripped, or that held, and after how long: <c>F1 blows at once, running</c>, <c>CB1 trips
    /// after 20 s</c>, <c>CB1 holds with Z3-J3 pulled</c>. What opens <c>only</c> in one state holds in the first of the others.
    /// </summary>
    /// <returns>Empty where a line says nothing of the kind.</returns>
    public static IReadOnlyList<SeenWords> Closed(string text, MachineDiagnosis model)
    {
        if (ClosedLine().Match(text) is not { Success: true } line)
        {
            return [];
        }

        var name = line.Groups["part"].Value;
        if (line.Groups["how"].Value.Equals("blown", StringComparison.OrdinalIgnoreCase) && !Again().IsMatch(line.Groups["rest"].Value))
        {
            // Found blown once: by itself, or by what it feeds.
            return model.Close(name, "", [])?.Aims is [var fuse, ..]
                ? [Of(PartActs.Inspect([fuse], fuse), OutcomeKind.No, text, $"{fuse} found blown")]
                : [];
        }

        if (Pulled(line.Groups["rest"].Value, model) is not var (rest, pulled))
        {
            return [];
        }

        var (seconds, isAbout, without) = Lasting(rest);
        var words = SeenNotation.Words(without);
        var state = model.StateIn(words);
        if (model.Close(name, state?.Code ?? "", pulled) is not { } act)
        {
            return [];
        }

        var kind =
            SeenNotation.OutcomeOf(words) is (OutcomeKind.Sometimes, _, _) ? OutcomeKind.Sometimes
            : line.Groups["how"].Value.ToUpperInvariant() is "HOLDS" or "HELD" or "STAYS IN" or "STAYS ON" ? OutcomeKind.Works
            : OutcomeKind.No;
        var outcome =
            kind == OutcomeKind.Works ? new ActOutcome(kind, isAbout ? 0 : seconds)
            : kind == OutcomeKind.No ? new ActOutcome(kind, seconds, isAbout)
            : new ActOutcome(kind);
        SeenWords Seen(Act of, ActOutcome how) =>
            new(of, how, Showing.Unknown, text.TrimEnd().EndsWith('?'), $"{model.WordsOf(of)}: {Closing.Words(how, model.Trips(of))}");
        var other =
            kind == OutcomeKind.No && state is not null && words.Contains("only")
                ? model.Machine.Model.States.FirstOrDefault(s => s.Energised && s.Code != state.Code)
                : null;
        return other is not null && model.Close(name, other.Code, pulled) is { } held
            ? [Seen(act, outcome), Seen(held, new ActOutcome(OutcomeKind.Works))]
            : [Seen(act, outcome)];
    }

    /// <summary>After how many seconds it opened, or that it held, with the words that say so taken out; 0 where nobody said.</summary>
    private static (double Seconds, bool IsAbout, string Without) Lasting(string text)
    {
        if (AtOnceWords().Match(text) is { Success: true } once)
        {
            return (Closing.AtOnce.Value, false, text.Remove(once.Index, once.Length));
        }

        if (AfterWords().Match(text) is { Success: true } after && MinutesOf(after) is { } minutes)
        {
            return (minutes * 60, false, text.Remove(after.Index, after.Length));
        }

        return WhileWords().Match(text) is { Success: true } later
            ? (Closing.Later.Value, true, text.Remove(later.Index, later.Length))
            : (0, false, text);
    }

    /// <summary>Of a time with its unit; null where it is none, or nothing.</summary>
    private static double? MinutesOf(Match line) =>
        double.TryParse(line.Groups["time"].Value.Replace(',', '.'), System.Globalization.CultureInfo.InvariantCulture, out var time)
        && time > 0
            ? line.Groups["unit"].Value[0] switch
            {
                's' or 'S' => time / 60,
                'h' or 'H' => time * 60,
                'd' or 'D' => time * 60 * 24,
                _ => time,
            }
            : null;

    /// <summary>Takes <c>with Z3-J3 and Z4-J3 pulled</c> out of a line; null where one of them is no connector of the machine.</summary>
    public static (string Left, IReadOnlyList<string> Plugs)? Pulled(string text, MachineDiagnosis model)
    {
        if (PulledWords().Match(text) is not { Success: true } without)
        {
            return (text, []);
        }

        List<string> pulled = [];
        foreach (var named in without.Groups["plugs"].Value.Split(" and ", StringSplitOptions.TrimEntries))
        {
            var key = PartWords.Key(named);
            var plug = model.Machine.Pins.Values.FirstOrDefault(p => PartWords.Key(p.PrintedElement) == key)?.PrintedElement;
            if ((plug ?? model.TablePartCalled(named)) is not { } off)
            {
                return null;
            }

            pulled.Add(off);
        }

        return (text.Remove(without.Index, without.Length), pulled);
    }

    [GeneratedRegex(@"^\s*(?:replaced|fitted|exchanged|put right)\s+(?<parts>.+?)\s*[:,]\s*(?<how>[^:,]+)$", RegexOptions.IgnoreCase)]
    private static partial Regex FittedLine();

    [GeneratedRegex(
        @"^\s*(?:swapped|changed over)\s+(?<part>.+?)(?:\s+(?:with|for|against)\s+(?<with>.+?))?\s*[:,]\s*(?<how>[^:,]+)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex SwappedLine();

    [GeneratedRegex(
        @"^\s*(?<part>[\p{L}\p{N}][^:,;]{0,120}?)\s+(?:looks?|looked)\s+(?<how>[\p{L} ]{2,40}?)\s*\??\s*$"
            + @"|^\s*(?<part>[\p{L}\p{N}][^:,;]{0,120}?)\s+(?:is|are)\s+(?<how>(?:all\s+|badly\s+|a little\s+)?(?:"
            + @"burnt|burned|charred|melted|scorched|corroded|green|oxidised|rusty|loose|cracked|broken|cut|chafed|pinched|swollen|leaking|"
            + @"discoloured|wet|bent|pushed back|pulled out))\s*\??\s*$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex InspectedLine();

    [GeneratedRegex(
        @"\b(?:good|fine|well|ok|clean|sound|tight|whole|new|as it should|as they should|all right|like new|normal|intact)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex LooksGood();

    private const string LengthPattern = @"(?<time>\d{1,5}(?:[.,]\d{1,2})?)\s*(?<unit>s(?:ec\w*)?|min\w*|m|h(?:ours?)?|d(?:ays?)?)\b";
    private const string TimePattern = LengthPattern + @"\s*\??\s*$";

    [GeneratedRegex(
        @"\b(?:at once|immediately|instantly|straight away|right away|"
            + @"as soon as (?:it|the \w+) (?:is|goes) (?:on|in|closed|switched on))\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex AtOnceWords();

    [GeneratedRegex(@"\b(?:after|for|within)\s+(?:about\s+)?" + LengthPattern, RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex AfterWords();

    [GeneratedRegex(
        @"\b(?:after (?:a|some) (?:while|time)|after (?:some|a few) (?:seconds|minutes)|in time|later(?: on)?|slowly)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex WhileWords();

    [GeneratedRegex(
        @"^\s*(?:nothing|no fault|no trouble|not seen|not back|(?:it\s+)?(?:did|has) not (?:come|came|shown|failed)\w*(?: back| again)?|"
            + @"(?:it\s+)?stayed away|without (?:it|the fault))\b[^\d]{0,40}?(?:for|in)\s+"
            + TimePattern,
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex AwayLine();

    [GeneratedRegex(
        @"^\s*(?:the fault\s+|it\s+)?(?:came back|comes back|is back|back again|returned|failed again|fails again)\b"
            + @"[^\d]{0,40}?(?:after|in|within)\s+"
            + TimePattern,
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex BackLine();

    [GeneratedRegex(
        @"^\s*(?:(?:a|the|new|whole|fuse|breaker)\s+)*(?<part>[\p{L}\p{N}][\p{L}\p{N}·.\- ]{0,60}?)\s+"
            + @"(?:(?:is|was|has|had)\s+)?(?<how>blows|blew|blown|trips|tripped|holds|held|stays (?:in|on))\b(?<rest>.*)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex ClosedLine();

    [GeneratedRegex(
        @"^\s*(?:wiggled|wiggling|moved|shook|bent|flexed|tapped|tapped on|pushed on)\s+(?<plug>.+?)\s*[:,]\s*(?<how>[^:,]+)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex WiggledLine();

    [GeneratedRegex(@"\b(?:again|twice|times|at once|once more|each time|every time)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Again();

    [GeneratedRegex(@"\bwith\s+(?<plugs>.+?)\s+(?:pulled|unplugged)\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex PulledWords();
}
