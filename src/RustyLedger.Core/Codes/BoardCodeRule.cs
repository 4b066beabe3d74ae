namespace RustyLedger.Core.Codes;

/// <summary>What must hold of the codes of a board type, whoever writes them.</summary>
public static class BoardCodeRule
{
    private const int MostCodes = 400;

    /// <returns>The place and what cannot be meant so; null where all can.</returns>
    public static Refusal? Refusal(IReadOnlyList<BoardCode> codes)
    {
        ArgumentNullException.ThrowIfNull(codes);
        if (codes.Count > MostCodes)
        {
            return new Refusal("codes", $"{codes.Count} codes; at most {MostCodes} are kept for a board type.");
        }

        foreach (var (i, code) in codes.Index())
        {
            var at = $"codes[{i}]";
            if (Rule.Id($"{at}.id", code.Id) is { } unnamed)
            {
                return unnamed;
            }

            foreach (
                var (field, text, most) in ((string, string, int)[])
                    [
                        ("shown", code.Shown, 12),
                        ("element", code.Element, 12),
                        ("colour", code.Colour, 20),
                        ("meaning", code.Meaning, 200),
                        ("pointsTo", code.PointsTo, 120),
                        ("toDo", code.ToDo, 300),
                    ]
            )
            {
                if (Rule.Text($"{at}.{field}", text, most) is { } tooLong)
                {
                    return tooLong;
                }
            }

            if (code.Kind == CodeKind.Display && code.Shown.Length == 0)
            {
                return new Refusal($"{at}.shown", $"Code {i + 1} is shown on a display; write its signs, # for each digit of a number.");
            }

            if (code.Number is not null && !code.Shown.Contains('#', StringComparison.Ordinal))
            {
                return new Refusal($"{at}.number", $"{code.Shown} carries a number; mark its digits with #, such as U###.");
            }

            if (
                code is { Kind: CodeKind.Lamp or CodeKind.Beeps, Pattern: CodePattern.Groups }
                && (code.Groups.Count is 0 or > 6 || code.Groups.Any(g => g is < 1 or > 50))
            )
            {
                return new Refusal($"{at}.groups", $"Code {i + 1} comes in groups; write how many in each, such as 3, or 2 1.");
            }

            if (code is { PerSecondFrom: { } from, PerSecondTo: { } to } && from > to)
            {
                return new Refusal($"{at}.perSecondTo", $"Code {i + 1} comes from {from} to {to} a second: the slower rate goes first.");
            }
        }

        if (codes.GroupBy(c => c.Id).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            return new Refusal("codes", $"The id {twice.Key} stands twice.");
        }

        return null;
    }
}
