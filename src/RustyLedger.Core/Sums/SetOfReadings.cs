namespace RustyLedger.Core.Sums;

/// <param name="Value">Null for OL.</param>
public sealed record SetMember(string Name, double? Value);

/// <summary>Things that should read alike, judged together: phases, coils, drops of diodes.</summary>
/// <param name="Odd">The member that differs from all others; null where none does, or where it cannot be told which.</param>
/// <param name="Unbalance">NEMA MG 1: the largest difference from the mean, in per cent of the mean; null without a mean.</param>
/// <param name="Rule">Why it is odd, or why none is.</param>
public sealed record SetOfReadings(
    IReadOnlyList<SetMember> Members,
    SetMember? Odd,
    double? Mean,
    double? Spread,
    double? Unbalance,
    bool IsSpreadTooLarge,
    string Rule
)
{
    // Common practice, no source: alike means within 5 % of what the others read, unless somebody says how much.
    private const double UsualShare = 0.05;

    // An odd one stands so much further from the others than they stand from each other.
    private const double OddTimes = 3;

    /// <param name="mostSpread">The most that two members may differ, in the unit of the readings; null where nobody said.</param>
    public static SetOfReadings Of(IReadOnlyList<SetMember> members, double? mostSpread)
    {
        ArgumentNullException.ThrowIfNull(members);
        var read = members.Where(m => m.Value is not null).ToList();
        var open = members.Where(m => m.Value is null).ToList();
        if (read.Count == 0)
        {
            return new SetOfReadings(members, null, null, null, null, false, "All of them read OL.");
        }

        var values = read.ConvertAll(m => m.Value!.Value);
        var (mean, spread) = (values.Average(), values.Max() - values.Min());
        var unbalance = mean != 0 ? values.Max(v => Math.Abs(v - mean)) / Math.Abs(mean) * 100 : (double?)null;
        var alike = mostSpread ?? (UsualShare * Math.Abs(Middle(values)));
        var tooLarge = spread > alike;
        SetOfReadings Said(SetMember? odd, string rule) => new(members, odd, mean, spread, unbalance, tooLarge, rule);
        if (open.Count == 1 && members.Count > 1)
        {
            return Said(open[0], $"{open[0].Name} reads OL and the others do not.");
        }

        if (open.Count > 1)
        {
            return Said(null, $"{open.Count} of them read OL: no single one is odd.");
        }

        if (!tooLarge)
        {
            return Said(null, $"They differ by {Quantity.Write(spread, "")} at most: alike.");
        }

        if (members.Count < 3)
        {
            return Said(null, "Two that differ: which of them is wrong cannot be told from the two.");
        }

        var far = read.Select((m, i) => (Member: m, Away: Away(values, i), Others: Range(values, i)))
            .OrderByDescending(m => m.Away)
            .First();
        return far.Others <= alike && far.Away > Math.Max(alike, OddTimes * far.Others)
            ? Said(
                far.Member,
                $"{far.Member.Name} is {Quantity.Write(far.Away, "")} from the middle of the others, which differ by "
                    + $"{Quantity.Write(far.Others, "")}."
            )
            : Said(null, "They are scattered: no single one stands apart from the others.");
    }

    private static double Away(List<double> values, int index) => Math.Abs(values[index] - Middle(Without(values, index)));

    private static double Range(List<double> values, int index) => Without(values, index) is var others ? others.Max() - others.Min() : 0;

    private static List<double> Without(List<double> values, int index) => [.. values.Where((_, i) => i != index)];

    private static double Middle(List<double> values)
    {
        var sorted = values.Order().ToList();
        return (sorted[(sorted.Count - 1) / 2] + sorted[sorted.Count / 2]) / 2;
    }
}
