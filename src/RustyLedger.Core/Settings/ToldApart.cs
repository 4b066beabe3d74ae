namespace RustyLedger.Core.Settings;

/// <summary>What two things that stand beside each other are called: by what tells them apart, and by nothing that both are.</summary>
public static class ToldApart
{
    /// <param name="first">Facts of the one, the one by which people know it first; empty where nobody wrote it down.</param>
    /// <param name="second">The same facts of the other, in the same order.</param>
    /// <returns>
    /// The facts that differ, one where it is enough for both; two things of which nothing differs keep all they have.
    /// </returns>
    public static (string First, string Second) Of(IReadOnlyList<string> first, IReadOnlyList<string> second)
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        var differ = Enumerable.Range(0, Math.Min(first.Count, second.Count)).Where(i => first[i] != second[i]).ToList();
        // A fact that only one of them has tells them apart, but leaves the other without a name.
        var enough = differ.FindIndex(i => first[i].Length > 0 && second[i].Length > 0);
        List<int> shown = enough >= 0 ? [differ[enough]] : [.. Enumerable.Range(0, Math.Min(first.Count, second.Count))];
        return (Words(first, shown), Words(second, shown));
    }

    private static string Words(IReadOnlyList<string> facts, List<int> shown) =>
        string.Join(", ", shown.Select(i => facts[i]).Where(f => f.Length > 0));
}
