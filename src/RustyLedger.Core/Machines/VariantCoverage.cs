namespace RustyLedger.Core.Machines;

/// <summary>A run of build days for which the rules say one thing.</summary>
/// <param name="From">First day; null where it has no beginning.</param>
/// <param name="To">Last day; null where it has no end.</param>
/// <param name="Case">The serial numbers, supply and finish it holds for, in words; empty for all.</param>
/// <param name="Variants">The variants that answer: none is a gap, two an overlap.</param>
/// <param name="IsOuter">Before the first or after the last day that any rule names: no variant there may be right.</param>
public sealed record CoverageSpan(DateOnly? From, DateOnly? To, string Case, IReadOnlyList<string> Variants, bool IsOuter)
{
    public bool IsGap => Variants.Count == 0;
    public bool IsOverlap => Variants.Count > 1;
}

/// <summary>Looks through all that the rules of a model distinguish, and says where none or more than one answers.</summary>
public static class VariantCoverage
{
    /// <summary>More pieces than this cannot be drawn, nor looked through while somebody types.</summary>
    public const long MostPieces = 20_000;

    /// <summary>In how many pieces the rules cut what they distinguish.</summary>
    public static long PiecesOf(IReadOnlyList<Variant> variants)
    {
        ArgumentNullException.ThrowIfNull(variants);
        var (days, serials, supplies, finishes) = Axes(variants);
        return (long)days.Count * serials.Count * supplies.Count * finishes.Count;
    }

    /// <summary>
    /// Every rule holds or fails as a whole between the edges that the rules name, so it is enough to ask once in each
    /// piece: exact, however long the ranges are.
    /// </summary>
    public static IReadOnlyList<CoverageSpan> Of(IReadOnlyList<Variant> variants)
    {
        ArgumentNullException.ThrowIfNull(variants);
        var rules = variants.SelectMany(v => v.Rules).ToList();
        var (days, serials, supplies, finishes) = Axes(variants);
        var spans = new List<CoverageSpan>();
        foreach (var serial in serials)
        {
            foreach (var supply in supplies)
            {
                foreach (var finish in finishes)
                {
                    var words = string.Join(
                        ", ",
                        new[]
                        {
                            rules.Exists(r => r.HasSerial) ? $"serial {serial.Prefix}{Numbers(serial.From, serial.To)}".Trim() : "",
                            supply.Volts is { } v ? $"{v:0.#} V" : "",
                            supply.Phases is { } p ? $"{p}~" : "",
                            finish,
                        }.Where(w => w.Length > 0)
                    );
                    spans.AddRange(
                        Merged(
                            days.Select(day =>
                                (
                                    day,
                                    names: (IReadOnlyList<string>)
                                        [
                                            .. variants
                                                .Where(v =>
                                                    v.Rules.Any(r => Holds(r, day.From, serial.Prefix, serial.From, supply, finish))
                                                )
                                                .Select(v => v.Name),
                                        ]
                                )
                            ),
                            words
                        )
                    );
                }
            }
        }

        return spans;
    }

    /// <summary>What the rules distinguish: days, serial numbers, supplies and finishes.</summary>
    private static (
        List<(long From, long To)> Days,
        List<(string Prefix, long From, long To)> Serials,
        List<(decimal? Volts, int? Phases)> Supplies,
        List<string> Finishes
    ) Axes(IReadOnlyList<Variant> variants)
    {
        var rules = variants.SelectMany(v => v.Rules).ToList();
        var days = Pieces(
            rules.Select(r => r.From?.DayNumber),
            rules.Select(r => r.To?.DayNumber),
            DateOnly.MinValue.DayNumber,
            DateOnly.MaxValue.DayNumber
        );
        var serials = rules
            .Where(r => r.HasSerial)
            .Select(r => r.SerialPrefix)
            .DefaultIfEmpty("")
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .SelectMany(prefix =>
            {
                var own = rules.Where(r => prefix.StartsWith(r.SerialPrefix, StringComparison.OrdinalIgnoreCase)).ToList();
                return Pieces(own.Select(r => r.SerialFrom), own.Select(r => r.SerialTo), 0, long.MaxValue)
                    .Select(p => (Prefix: prefix, p.From, p.To));
            })
            .ToList();
        var supplies = rules.Where(r => r.HasSupply).Select(r => (r.Volts, r.Phases)).DefaultIfEmpty().Distinct().ToList();
        var finishes = rules
            .Where(r => r.Finish.Length > 0)
            .Select(r => r.Finish)
            .DefaultIfEmpty("")
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        return (days, serials, supplies, finishes);
    }

    private static IEnumerable<CoverageSpan> Merged(
        IEnumerable<((long From, long To) Day, IReadOnlyList<string> Names)> pieces,
        string words
    )
    {
        CoverageSpan? open = null;
        foreach (var (day, names) in pieces)
        {
            DateOnly? from = day.From == DateOnly.MinValue.DayNumber ? null : DateOnly.FromDayNumber((int)day.From);
            DateOnly? to = day.To == DateOnly.MaxValue.DayNumber ? null : DateOnly.FromDayNumber((int)day.To);
            if (open is not null && open.Variants.SequenceEqual(names))
            {
                open = open with { To = to };
                continue;
            }

            if (open is not null)
            {
                yield return Outer(open);
            }

            open = new CoverageSpan(from, to, words, names, false);
        }

        if (open is not null)
        {
            yield return Outer(open);
        }
    }

    private static CoverageSpan Outer(CoverageSpan span) => span with { IsOuter = span.From is null != span.To is null };

    private static bool Holds(
        VariantRule rule,
        long day,
        string prefix,
        long number,
        (decimal? Volts, int? Phases) supply,
        string finish
    ) =>
        day >= (rule.From?.DayNumber ?? long.MinValue)
        && day <= (rule.To?.DayNumber ?? long.MaxValue)
        && prefix.StartsWith(rule.SerialPrefix, StringComparison.OrdinalIgnoreCase)
        && number >= (rule.SerialFrom ?? long.MinValue)
        && number <= (rule.SerialTo ?? long.MaxValue)
        && (rule.Volts is null || supply.Volts is null || rule.Volts == supply.Volts)
        && (rule.Phases is null || supply.Phases is null || rule.Phases == supply.Phases)
        && (rule.Finish.Length == 0 || string.Equals(rule.Finish, finish, StringComparison.OrdinalIgnoreCase));

    /// <summary>The whole axis cut at every edge: a range begins at its from and ends after its to.</summary>
    private static List<(long From, long To)> Pieces(IEnumerable<long?> froms, IEnumerable<long?> tos, long first, long last)
    {
        var starts = froms
            .Concat(tos.Select(t => t + 1))
            .OfType<long>()
            .Where(s => s > first && s <= last)
            .Append(first)
            .Distinct()
            .Order()
            .ToList();
        return [.. starts.Select((s, i) => (s, i + 1 < starts.Count ? starts[i + 1] - 1 : last))];
    }

    private static List<(long From, long To)> Pieces(IEnumerable<int?> froms, IEnumerable<int?> tos, long first, long last) =>
        Pieces(froms.Select(f => (long?)f), tos.Select(t => (long?)t), first, last);

    /// <summary>The numbers of a serial range, where it has any.</summary>
    private static string Numbers(long from, long to) =>
        to < long.MaxValue ? $" {from} to {to}"
        : from > 0 ? $" {from} and up"
        : "";
}
