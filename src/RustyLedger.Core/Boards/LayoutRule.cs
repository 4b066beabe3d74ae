namespace RustyLedger.Core.Boards;

/// <summary>What must hold of the names on a board, whoever writes them: a name that stands twice finds two things.</summary>
public static class LayoutRule
{
    /// <param name="elements">Of one board, by id and designator.</param>
    /// <param name="pins">Of the same board, by the element they are on and their label.</param>
    /// <returns>What is wrong and with which name; null where nothing is.</returns>
    public static string? Refusal(
        IEnumerable<(ElementId Id, string Designator)> elements,
        IEnumerable<(ElementId ElementId, string Label)> pins
    )
    {
        ArgumentNullException.ThrowIfNull(elements);
        ArgumentNullException.ThrowIfNull(pins);
        var names = elements.ToDictionary(e => e.Id, e => e.Designator);
        if (names.Values.GroupBy(d => d, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            return $"{twice.Key} stands twice on this board.";
        }

        var all = pins.ToList();
        if (all.FindIndex(p => !names.ContainsKey(p.ElementId)) is >= 0 and var lost)
        {
            return $"Pin {all[lost].Label} is on an element that is not there; take the pin away first, or put the element back.";
        }

        return all.GroupBy(p => p).FirstOrDefault(g => g.Count() > 1) is { } label
            ? $"{names[label.Key.ElementId]}·{label.Key.Label} stands twice."
            : null;
    }
}
