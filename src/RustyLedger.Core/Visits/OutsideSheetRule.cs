namespace RustyLedger.Core.Visits;

/// <summary>What must hold of the outside checks of a model, whoever writes them.</summary>
public static class OutsideSheetRule
{
    /// <returns>The place and what cannot be meant so; null where all can.</returns>
    public static Refusal? Refusal(this OutsideSheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        if (sheet.Problems() is [var problem, ..])
        {
            return new Refusal("own", problem);
        }

        foreach (var check in sheet.Own)
        {
            if (Rule.First(Rule.Needed("question", check.Asks, 160), Rule.Text("words of what it clears", check.Clears, 120)) is { } wrong)
            {
                return wrong;
            }
        }

        return Rule.Unique("own", sheet.Own.Select(c => c.Id));
    }
}
