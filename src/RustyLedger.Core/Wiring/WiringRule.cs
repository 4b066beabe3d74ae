namespace RustyLedger.Core.Wiring;

/// <summary>
/// What must hold of the names and wires of a model, whoever writes them: a name that stands twice finds two things, a wire that stands
/// twice is struck out once and is still there.
/// </summary>
public static class WiringRule
{
    private const int MostName = 12;

    /// <param name="designators">Of the parts off the boards.</param>
    /// <param name="prefixes">Of the positions; those without any are passed over.</param>
    public static Refusal? OfNames(IEnumerable<string> designators, IEnumerable<string> prefixes) =>
        Rule.Unique("designators of the parts and boards", designators.Concat(prefixes.Where(p => p.Length > 0)), MostName);

    /// <param name="designator">Of a part.</param>
    /// <param name="labels">Of its pins.</param>
    public static Refusal? OfLabels(string designator, IEnumerable<string> labels) =>
        Rule.Unique($"pins of {designator}", labels, MostName);

    /// <param name="wires">Their two ends.</param>
    /// <param name="printed">What a pin is called.</param>
    public static Refusal? OfWires(IEnumerable<(PinAddress From, PinAddress To)> wires, Func<PinAddress, string> printed)
    {
        ArgumentNullException.ThrowIfNull(wires);
        ArgumentNullException.ThrowIfNull(printed);
        var seen = new HashSet<(PinAddress, PinAddress)>();
        foreach (var (i, (from, to)) in wires.Index())
        {
            if (from == to)
            {
                return new Refusal("wires", $"Wire {i + 1} begins and ends at {printed(from)}.");
            }

            if (!seen.Add((from, to)) || seen.Contains((to, from)))
            {
                return new Refusal("wires", $"The wire from {printed(from)} to {printed(to)} stands twice.");
            }
        }

        return null;
    }
}
