using System.Globalization;

namespace RustyLedger.Core.Machines;

/// <summary>What decides the variant, as read off the machine.</summary>
public sealed record PlateFacts(string Serial, string Built, string Supply, string Finish);

public enum DecisionKind
{
    /// <summary>The model has no variants.</summary>
    NoVariants,
    Decided,

    /// <summary>More than one could be; see what would settle it.</summary>
    Doubtful,

    /// <summary>The plate says two things that cannot both be so.</summary>
    Contradicts,

    /// <summary>No rule answers to the plate.</summary>
    None,

    /// <summary>Rules of two variants both answer; the model is to be mended.</summary>
    Overlap,
}

/// <param name="Because">The rule that answers, and on what.</param>
public sealed record VariantCandidate(Variant Variant, string Because);

/// <summary>Which build a machine is.</summary>
/// <param name="Chosen">Null unless decided.</param>
/// <param name="Why">Which rule decided and on what, or why it is not decided.</param>
/// <param name="Settle">What would settle it.</param>
public sealed record VariantDecision(
    DecisionKind Kind,
    Variant? Chosen,
    string Why,
    IReadOnlyList<VariantCandidate> Candidates,
    IReadOnlyList<string> Settle
)
{
    /// <summary>The plate as it was read, once.</summary>
    /// <param name="Plate">What the printed date may mean.</param>
    /// <param name="Carried">What the serial number says of it.</param>
    /// <param name="Dates">What may be, of both.</param>
    private sealed record Sight(
        PlateFacts Facts,
        IReadOnlyList<PlateDate> Plate,
        IReadOnlyList<PlateDate> Carried,
        IReadOnlyList<PlateDate> Dates,
        IReadOnlyList<PlateSupply> Supplies
    );

    private enum Fits
    {
        No,
        Maybe,
        Yes,
    }

    /// <summary>
    /// A fact that is missing or can be read in more than one way leaves a rule open, it does not fail it: three-valued
    /// logic (Kleene), where a rule is as true as its falsest condition and a variant as true as its truest rule.
    /// </summary>
    /// <param name="today">Nothing was built after it.</param>
    public static VariantDecision Of(PlateFacts facts, VariantSheet sheet, DateOnly today)
    {
        ArgumentNullException.ThrowIfNull(facts);
        ArgumentNullException.ThrowIfNull(sheet);
        if (sheet.Variants.Count == 0)
        {
            return new VariantDecision(
                DecisionKind.NoVariants,
                null,
                "Nobody has written down yet in which builds this model was made.",
                [],
                []
            );
        }

        var plate = PlateDate.Read(facts.Built, today);
        var carried = SerialDate.Read(facts.Serial, sheet, today);
        // What the serial number says decides between the readings of a doubtful date.
        var dates =
            plate.Count == 0 ? carried
            : carried.Count == 0 ? plate
            : [.. plate.Where(d => carried.Any(c => d.From <= c.To && c.From <= d.To))];
        var sight = new Sight(facts, plate, carried, dates, PlateSupply.Read(facts.Supply));
        if (plate.Count > 0 && carried.Count > 0 && dates.Count == 0)
        {
            List<PlateDate> both = [.. plate, .. carried];
            return new VariantDecision(
                DecisionKind.Contradicts,
                null,
                $"The plate contradicts itself: built \"{facts.Built}\" is "
                    + $"{string.Join(" or ", plate.Select(d => d.Words))}, the serial number {facts.Serial} is of {Named(carried)}.",
                Possible(sheet, sight with { Dates = both }),
                ["Read both plates again; one of them may have been moved from another machine."]
            );
        }

        var open = sheet.Variants.Select(v => (Variant: v, Fit: Best(v, sight))).Where(f => f.Fit != Fits.No).ToList();
        var sure = open.FindAll(f => f.Fit == Fits.Yes);
        var candidates = open.ConvertAll(f => new VariantCandidate(f.Variant, Because(f.Variant, sight)));
        return (sure.Count, open.Count) switch
        {
            (1, 1) => new VariantDecision(DecisionKind.Decided, sure[0].Variant, candidates[0].Because, candidates, []),
            (> 1, _) when sure.Count == open.Count => new VariantDecision(
                DecisionKind.Overlap,
                null,
                $"The rules of {string.Join(" and ", sure.Select(s => s.Variant.Name))} both answer; mend the model.",
                candidates,
                []
            ),
            (_, 0) when Bars(sheet, sight) is { } bars => new VariantDecision(
                DecisionKind.Contradicts,
                null,
                bars,
                [],
                ["Read the plate again; serial number, date and supply must speak of one machine."]
            ),
            (_, 0) => new VariantDecision(
                DecisionKind.None,
                null,
                $"No variant of this model answers to {Words(facts)}; there is a gap in its rules, or the plate is misread.",
                [],
                ["Read the plate again, or mend the model’s rules."]
            ),
            _ => new VariantDecision(
                DecisionKind.Doubtful,
                null,
                Doubt(facts, plate),
                candidates,
                Settling(open.ConvertAll(o => o.Variant), sight)
            ),
        };
    }

    /// <summary>Two facts that each answer to a variant, but not to the same one.</summary>
    private static string? Bars(VariantSheet sheet, Sight sight)
    {
        var facts = sight.Facts;
        (string Words, Func<VariantRule, Fits> Fit, Func<VariantRule, bool> Says)[] conditions =
        [
            ($"built {facts.Built}", r => Date(r, sight.Dates), r => r.HasDate),
            ($"serial number {facts.Serial}", r => Serial(r, facts.Serial), r => r.HasSerial),
            ($"supply {facts.Supply}", r => Supply(r, sight.Supplies), r => r.HasSupply),
            ($"finish {facts.Finish}", r => Finish(r, facts.Finish), r => r.Finish.Length > 0),
        ];
        var speaks = conditions
            .Select(c =>
                (c.Words, Of: sheet.Variants.Where(v => v.Rules.Any(r => c.Says(r) && c.Fit(r) == Fits.Yes)).Select(v => v.Name).ToList())
            )
            .Where(c => c.Of.Count > 0)
            .ToList();
        return speaks.Count > 1 && speaks.Select(s => s.Of).Aggregate((a, b) => [.. a.Intersect(b)]).Count == 0
            ? $"The plate contradicts itself: {string.Join("; ", speaks.Select(s => $"{s.Words} speaks for {string.Join(" or ", s.Of)}"))}."
            : null;
    }

    private static List<VariantCandidate> Possible(VariantSheet sheet, Sight sight) =>
        [.. sheet.Variants.Where(v => Best(v, sight) != Fits.No).Select(v => new VariantCandidate(v, Because(v, sight)))];

    private static Fits Best(Variant variant, Sight sight) => variant.Rules.Count == 0 ? Fits.No : variant.Rules.Max(r => Of(r, sight));

    private static Fits Of(VariantRule rule, Sight sight)
    {
        var fits = Least(Date(rule, sight.Dates), Finish(rule, sight.Facts.Finish));
        return fits == Fits.No ? Fits.No : Least(fits, Least(Supply(rule, sight.Supplies), Serial(rule, sight.Facts.Serial)));
    }

    private static Fits Least(Fits one, Fits other) => one < other ? one : other;

    private static Fits Date(VariantRule rule, IReadOnlyList<PlateDate> dates)
    {
        if (!rule.HasDate)
        {
            return Fits.Yes;
        }

        var (from, to) = (rule.From ?? DateOnly.MinValue, rule.To ?? DateOnly.MaxValue);
        return dates.Count == 0 ? Fits.Maybe
            : dates.All(d => d.From >= from && d.To <= to) ? Fits.Yes
            : dates.Any(d => d.From <= to && d.To >= from) ? Fits.Maybe
            : Fits.No;
    }

    private static Fits Serial(VariantRule rule, string serial)
    {
        if (!rule.HasSerial)
        {
            return Fits.Yes;
        }

        var text = serial.Trim();
        if (text.Length == 0)
        {
            return Fits.Maybe;
        }

        // A worn sign may be any: what every way to read it has in common is sure.
        var begins = Begins(text, rule.SerialPrefix);
        return begins == Fits.No
            ? Fits.No
            : Least(
                begins,
                rule.SerialFrom is null && rule.SerialTo is null
                    ? Fits.Yes
                    : Ends(text, rule.SerialFrom ?? long.MinValue, rule.SerialTo ?? long.MaxValue)
            );
    }

    private static Fits Begins(string text, string prefix)
    {
        if (
            text.Length < prefix.Length
            || prefix.Zip(text).Any(p => p.Second != FindText.Unknown && char.ToUpperInvariant(p.First) != char.ToUpperInvariant(p.Second))
        )
        {
            return Fits.No;
        }

        return text.AsSpan(0, prefix.Length).Contains(FindText.Unknown) ? Fits.Maybe : Fits.Yes;
    }

    // Beyond so many worn signs the number is open.
    private const int MostWorn = 4;

    /// <summary>
    /// Whether the number a serial ends in lies in a range, whichever way its worn signs are read: a digit, or before the first digit a
    /// letter too.
    /// </summary>
    private static Fits Ends(string text, long from, long to)
    {
        var tail = text[text.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', FindText.Unknown).Length..];
        if (!tail.Contains(FindText.Unknown, StringComparison.Ordinal))
        {
            return SerialNumber(text) is { } n ? (n >= from && n <= to ? Fits.Yes : Fits.No) : Fits.Maybe;
        }

        if (tail.Count(c => c == FindText.Unknown) > MostWorn || tail.Length > 18)
        {
            return Fits.Maybe;
        }

        // Worn signs in front of the first digit may be letters, which end the number there.
        var lead = tail.Length - tail.TrimStart(FindText.Unknown).Length;
        var ways = Enumerable
            .Range(0, lead + 1)
            .Where(i => i < tail.Length)
            .SelectMany(i => SerialDate.Ways(tail[i..], "0123456789"))
            .Select(w => long.Parse(w, CultureInfo.InvariantCulture))
            .ToList();
        var within = ways.Count(n => n >= from && n <= to);
        return lead == tail.Length ? Fits.Maybe
            : within == 0 ? Fits.No
            : within == ways.Count ? Fits.Yes
            : Fits.Maybe;
    }

    /// <summary>The digits that end a serial number; null where it does not end in digits.</summary>
    public static long? SerialNumber(string serial)
    {
        ArgumentNullException.ThrowIfNull(serial);
        var digits = serial.Length - serial.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9').Length;
        return digits is > 0 and <= 18 ? long.Parse(serial[^digits..], CultureInfo.InvariantCulture) : null;
    }

    private static Fits Supply(VariantRule rule, IReadOnlyList<PlateSupply> supplies)
    {
        if (!rule.HasSupply)
        {
            return Fits.Yes;
        }

        return supplies.Count == 0
            ? Fits.Maybe
            : supplies.Max(s =>
            {
                var volts = rule.Volts is not { } v || (v >= s.Volts && v <= s.VoltsTo) ? Fits.Yes : Fits.No;
                var phases =
                    rule.Phases is not { } p ? Fits.Yes
                    : s.Phases is null ? Fits.Maybe
                    : s.Phases == p ? Fits.Yes
                    : Fits.No;
                return Least(volts, phases);
            });
    }

    private static Fits Finish(VariantRule rule, string finish) =>
        rule.Finish.Length == 0 ? Fits.Yes
        : finish.Trim().Length == 0 ? Fits.Maybe
        : string.Equals(rule.Finish.Trim(), finish.Trim(), StringComparison.OrdinalIgnoreCase) ? Fits.Yes
        : Fits.No;

    private static string Because(Variant variant, Sight sight)
    {
        var (facts, dates) = (sight.Facts, sight.Dates);
        if (variant.Rules.Count == 0)
        {
            return "";
        }

        var rule = variant.Rules.MaxBy(r => Of(r, sight))!;
        var on = new List<string>();
        if (rule.HasDate)
        {
            on.Add(
                dates.Count == 0
                    ? "no build date"
                    : $"build date {Named([.. dates.Where(d => Date(rule, [d]) != Fits.No)])}"
                        + (sight is { Carried.Count: > 0, Plate.Count: 0 } ? $", out of serial number {facts.Serial}" : "")
            );
        }

        if (rule.HasSerial)
        {
            on.Add(facts.Serial.Trim().Length == 0 ? "no serial number" : $"serial number {facts.Serial}");
        }

        if (rule.HasSupply)
        {
            on.Add(facts.Supply.Trim().Length == 0 ? "no supply" : $"supply {facts.Supply}");
        }

        if (rule.Finish.Length > 0)
        {
            on.Add(facts.Finish.Trim().Length == 0 ? "no finish" : $"finish {facts.Finish}");
        }

        return on.Count == 0 ? $"Rule: {rule.Words}." : $"Rule: {rule.Words}. On: {string.Join(", ", on)}.";
    }

    private static string Named(IReadOnlyList<PlateDate> dates) =>
        dates.Count > MostNamed
            ? $"{dates[0].Words} to {dates[^1].Words}, {dates.Count} ways to read it"
            : string.Join(" or ", dates.Select(d => d.Words));

    private const int MostNamed = 4;

    private static string Doubt(PlateFacts facts, IReadOnlyList<PlateDate> plate) =>
        plate.Count > 1
            ? $"Built \"{facts.Built}\" may be {string.Join(" or ", plate.Select(d => d.Words))}, and that makes the build."
            : $"The plate leaves it open: {Words(facts)}.";

    private static List<string> Settling(List<Variant> open, Sight sight)
    {
        var (facts, plate) = (sight.Facts, sight.Plate);
        var rules = open.SelectMany(v => v.Rules).ToList();
        bool Open(Func<VariantRule, Fits> fit) => rules.Exists(r => fit(r) == Fits.Maybe);
        var settle = new List<string>();
        if (Open(r => Date(r, sight.Dates)))
        {
            settle.Add(
                plate.Count switch
                {
                    0 => "the build date",
                    1 => $"the day within {plate[0].Words}",
                    _ => $"whether \"{facts.Built}\" is {string.Join(" or ", plate.Select(d => d.Words))}; the second plate "
                        + $"may say it plainly",
                }
            );
        }

        if (Open(r => Serial(r, facts.Serial)))
        {
            settle.Add("the serial number, every sign of it");
        }

        if (Open(r => Supply(r, sight.Supplies)))
        {
            settle.Add("the supply: volts and phases");
        }

        if (Open(r => Finish(r, facts.Finish)))
        {
            settle.Add("the finish of the housing");
        }

        // What the builds need different boards for can be seen with the cover off.
        settle.AddRange(
            open.SelectMany(v => v.Boards)
                .Select(b => b.Position)
                .Distinct()
                .Where(p =>
                    open.Select(v => string.Join('|', v.Boards.FirstOrDefault(b => b.Position == p)?.BoardTypes ?? [])).Distinct().Count()
                    > 1
                )
                .Select(p => $"which board is in position {p}")
        );
        return settle;
    }

    private static string Words(PlateFacts facts) =>
        string.Join(
            ", ",
            new[]
            {
                facts.Built.Length > 0 ? $"built {facts.Built}" : "no build date",
                facts.Serial.Length > 0 ? $"serial {facts.Serial}" : "no serial number",
                facts.Supply.Length > 0 ? facts.Supply : "no supply",
                facts.Finish,
            }.Where(w => w.Length > 0)
        );
}
