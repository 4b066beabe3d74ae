using System.Globalization;

namespace RustyLedger.Core.Boards;

/// <summary>What the eye looks at to know a board.</summary>
public enum MarkFeature
{
    Leads,
    OutputLamps,
    RelayDirection,
    Width,
    HolePattern,
    Colour,
    PrintedNumber,

    /// <summary>How many fuses one counts.</summary>
    Fuses,

    /// <summary>How many lamps one counts.</summary>
    Lamps,

    /// <summary>How many relays one counts.</summary>
    Relays,

    /// <summary>How many plugs and terminal strips one counts.</summary>
    Connectors,
}

/// <summary>What a board type shows for a feature, such as leads: <c>through the board</c>.</summary>
public sealed record RecognitionMark(MarkFeature Feature, string Value);

/// <summary>What somebody saw.</summary>
/// <param name="Value">Null for "cannot see".</param>
public sealed record MarkSeen(MarkFeature Feature, string? Value);

/// <param name="Share">How likely it is this one, of those that are left, 0 to 1.</param>
public sealed record BoardCandidate(BoardType Type, double Share);

/// <param name="Values">The answers there are, likeliest first.</param>
/// <param name="BitsGained">Expected gain in knowledge, in bits.</param>
public sealed record MarkQuestion(MarkFeature Feature, IReadOnlyList<string> Values, double BitsGained);

/// <summary>Which board it is, as far as the eye can tell.</summary>
/// <param name="Question">Null when one is left, or when no mark tells the rest apart.</param>
/// <param name="Alike">They cannot be told apart by eye; what does differ is in <see cref="Differences"/>.</param>
public sealed record Recognition(IReadOnlyList<BoardCandidate> Left, MarkQuestion? Question, bool Alike, IReadOnlyList<string> Differences)
{
    private const int MostDifferences = 6;

    /// <summary>
    /// What a board keeps of its weight where the eye counts other than its layout has: a layout may be entered in part, so it is no
    /// proof. Common practice, no source.
    /// </summary>
    private const double MiscountWorth = 0.1;

    /// <summary>
    /// Leaves the boards that agree with everything seen, weighs them by how common they are in this shop (one more than
    /// fitted, the rule of succession), and asks for the mark whose answer is expected to leave the least entropy.
    /// What nobody wrote down is counted in the layout, which makes a board that has it otherwise unlikely, not impossible; where the
    /// layout has none of a kind, or the size is a guess, the board may show any of the values. Shannon, "A mathematical theory of
    /// communication" (1948): H = −Σ p log2 p.
    /// </summary>
    /// <param name="fitted">How many of each board type are fitted in this shop's machines.</param>
    public static Recognition Of(
        IReadOnlyList<BoardType> candidates,
        IReadOnlyDictionary<BoardTypeId, int> fitted,
        IReadOnlyList<MarkSeen> seen
    )
    {
        ArgumentNullException.ThrowIfNull(candidates);
        ArgumentNullException.ThrowIfNull(fitted);
        ArgumentNullException.ThrowIfNull(seen);
        var left = candidates
            .Where(c => seen.All(s => s.Value is null || Written(c, s.Feature) is not { } mark || Same(mark, s.Value)))
            .ToList();
        var weights = left.ConvertAll(c =>
            (1.0 + fitted.GetValueOrDefault(c.Id))
            * Math.Pow(
                MiscountWorth,
                seen.Count(s =>
                    s.Value is { } value && Written(c, s.Feature) is null && Counted(c, s.Feature) is { } counted && !Same(counted, value)
                )
            )
        );
        var total = weights.Sum();
        List<BoardCandidate> shares =
        [
            .. left.Zip(weights, (c, w) => new BoardCandidate(c, w / total))
                .OrderByDescending(c => c.Share)
                .ThenBy(c => c.Type.PartNumber, StringComparer.Ordinal)
                .ThenBy(c => c.Type.Revision, StringComparer.Ordinal),
        ];
        if (shares.Count < 2)
        {
            return new Recognition(shares, null, false, []);
        }

        var question = Enum.GetValues<MarkFeature>()
            .Except(seen.Select(s => s.Feature))
            .Select(f => Split(f, shares))
            .OfType<MarkQuestion>()
            .OrderByDescending(q => Math.Round(q.BitsGained, 12))
            .ThenBy(q => q.Feature)
            .FirstOrDefault();
        return new Recognition(shares, question, question is null, question is null ? Apart(shares) : []);
    }

    public static string Words(MarkFeature feature) =>
        feature switch
        {
            MarkFeature.Leads => "How do the parts’ leads run?",
            MarkFeature.OutputLamps => "Are output lamps fitted?",
            MarkFeature.RelayDirection => "Which way do the relays lie?",
            MarkFeature.Width => "How wide is the board?",
            MarkFeature.HolePattern => "How are the screw holes placed?",
            MarkFeature.Colour => "Which colour is the board?",
            MarkFeature.Fuses => "How many fuses do you count?",
            MarkFeature.Lamps => "How many lamps do you count?",
            MarkFeature.Relays => "How many relays do you count?",
            MarkFeature.Connectors => "How many plugs and terminal strips do you count?",
            _ => "Which number is printed on it?",
        };

    private static MarkQuestion? Split(MarkFeature feature, List<BoardCandidate> candidates)
    {
        var values = candidates.Select(c => MarkOf(c.Type, feature)).OfType<string>().Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        if (values.Count < 2)
        {
            return null;
        }

        // A board without this mark may answer anything; its share is spread evenly.
        var answers = values.ConvertAll(v =>
            (
                Value: v,
                Shares: candidates
                    .Select(c =>
                        MarkOf(c.Type, feature) is { } mark
                            ? Same(mark, v)
                                ? c.Share
                                : 0
                            : c.Share / values.Count
                    )
                    .ToList()
            )
        );
        var after = answers.Sum(a => a.Shares.Sum() * Entropy(a.Shares));
        var gained = Entropy(candidates.Select(c => c.Share)) - after;
        return gained < 1e-9
            ? null
            : new MarkQuestion(feature, [.. answers.OrderByDescending(a => a.Shares.Sum()).Select(a => a.Value)], gained);
    }

    private static double Entropy(IEnumerable<double> shares)
    {
        var list = shares.Where(s => s > 0).ToList();
        var total = list.Sum();
        return -list.Sum(s => s / total * Math.Log2(s / total));
    }

    private static string? MarkOf(BoardType type, MarkFeature feature) => Written(type, feature) ?? Counted(type, feature);

    private static string? Written(BoardType type, MarkFeature feature) => type.Marks.FirstOrDefault(m => m.Feature == feature)?.Value;

    /// <summary>What the layout has of it; null for none, since one may only not be entered yet.</summary>
    private static string? Counted(BoardType type, MarkFeature feature)
    {
        if (feature == MarkFeature.Width)
        {
            return type.IsSizeGuess ? null : FormattableString.Invariant($"{type.WidthMm:0} mm");
        }

        ElementKind? kind = feature switch
        {
            MarkFeature.Fuses => ElementKind.Fuse,
            MarkFeature.Lamps => ElementKind.Indicator,
            MarkFeature.Relays => ElementKind.Relay,
            MarkFeature.Connectors => ElementKind.Connector,
            _ => null,
        };
        var count = kind is null ? 0 : type.Elements.Count(e => e.Kind == kind);
        return count == 0 ? null : count.ToString(CultureInfo.InvariantCulture);
    }

    private static bool Same(string one, string other) => string.Equals(one, other, StringComparison.OrdinalIgnoreCase);

    private static List<string> Apart(List<BoardCandidate> left)
    {
        var differences = new List<string>();
        foreach (var other in left.Skip(1))
        {
            var (one, two) = (left[0].Type, other.Type);
            var found = BoardComparison
                .Of(one, two)
                .Take(MostDifferences)
                .Select(d => $"{d.Where} {d.What}: {Or(d.Before)} or {Or(d.After)}")
                .ToList();
            var names = $"{one.Printed} and {two.Printed}";
            differences.Add(
                found.Count == 0
                    ? $"{names}: nothing that is written down differs; ask the maker with the serial number."
                    : $"{names}: {string.Join("; ", found)}."
            );
        }

        return differences;
    }

    private static string Or(string text) => text.Length > 0 ? text : "none";
}
