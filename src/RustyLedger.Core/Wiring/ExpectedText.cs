using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>The cell that says what should be read, with whatever else people write into it.</summary>
/// <param name="Doubt">What was taken one way but may be meant another; empty for none.</param>
internal readonly record struct ExpectedText(IReadOnlyList<LimitText> Limits, string Doubt)
{
    /// <summary>
    /// A limit, several, or a limit with a remark behind it (<c>24 V when running</c>, <c>5.1, blue lamp</c>, <c>12 (off) or 0
    /// (running)</c>). A value that nobody understands is kept in its words, and judges nothing.
    /// </summary>
    public static ExpectedText Read(string cell, MeterMode? mode, bool isContact)
    {
        string why;
        try
        {
            return new(LimitNotation.Read(cell, mode, isContact), "");
        }
        catch (NotationException refusal)
        {
            why = refusal.Problem;
        }

        var pieces = cell.Split([" or ", ";"], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        List<LimitText?> limits = [.. pieces.Select(p => OneWithRemark(p, mode))];
        return limits.TrueForAll(l => l is not null) && limits.Count > 0
            ? new([.. limits.OfType<LimitText>()], "")
            : new([new LimitText(LimitNotation.Unjudged(cell), mode, "")], $"\"{cell}\" is kept in its words, and not judged: {why}");
    }

    /// <summary>
    /// The longest beginning that is a limit; what follows it is a remark where it is words, not a second number. Null where there is
    /// none.
    /// </summary>
    private static LimitText? OneWithRemark(string cell, MeterMode? mode)
    {
        if (LimitNotation.Fits(cell, mode))
        {
            return LimitNotation.ReadOne(cell, mode);
        }

        for (var cut = cell.Length - 1; cut > 0; cut--)
        {
            if (!(cell[cut] is ' ' or ',' or '(') || cell[cut..].Trim(' ', ',', '(', ')') is not { Length: > 0 } rest)
            {
                continue;
            }

            var first = rest.Split(' ')[0];
            if (
                !char.IsLetter(rest[0])
                || rest.Any(char.IsAsciiDigit)
                || (first.Length < 4 && !ShortWords.Contains(first, StringComparer.OrdinalIgnoreCase))
                || NotRemarks.Contains(first, StringComparer.OrdinalIgnoreCase)
                || !LimitNotation.Fits(cell[..cut].Trim(' ', ','), mode)
            )
            {
                continue;
            }

            var limit = LimitNotation.ReadOne(cell[..cut].Trim(' ', ','), mode);
            return limit with { Remark = string.Join(", ", new[] { limit.Remark, rest }.Where(r => r.Length > 0)) };
        }

        return null;
    }

    // Anything else so short may be a unit.
    private static readonly string[] ShortWords =
    [
        "no",
        "at",
        "if",
        "on",
        "off",
        "in",
        "the",
        "for",
        "by",
        "via",
        "lit",
        "led",
        "key",
        "fan",
    ];

    // Before these a number says only half.
    private static readonly string[] NotRemarks = ["or", "to", "and", "max", "min", "maximum", "minimum", "plus", "minus", "per", "then"];
}
