namespace RustyLedger.Core.Safety;

/// <summary>What must hold of what can hurt at a model, whoever writes it.</summary>
public static class SafetySheetRule
{
    /// <returns>The place and what cannot be meant so; null where all can.</returns>
    public static Refusal? Refusal(this SafetySheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        if (
            Rule.Unique(
                "sources, charges and interlocks",
                sheet
                    .Sources.Select(s => s.Id)
                    .Concat(sheet.Charges.Select(c => c.Id))
                    .Concat(sheet.Interlocks.Select(i => i.Id))
                    .Concat(sheet.RunOns.Select(r => r.Id))
            ) is
            { } twice
        )
        {
            return twice;
        }

        foreach (var source in sheet.Sources)
        {
            if (Rule.Needed("name of a source", source.Name, 60) is { } unnamed)
            {
                return unnamed;
            }

            if (Rule.Unique($"conductors of {source.Name}", source.Conductors) is { } doubled)
            {
                return doubled;
            }

            if (source.IsElectrical && source.Ends.Count < 2)
            {
                return new Refusal(
                    "sources",
                    $"{source.Name} is electrical, so it has two ends at least, such as L, N, or one and the chassis; "
                        + $"without them nothing can be proved dead."
                );
            }

            if (
                source.Conductors.Any(c => c.Length is 0 or > 12 || c.Contains('/', StringComparison.Ordinal))
                || source.Id.Contains('/', StringComparison.Ordinal)
            )
            {
                return new Refusal("sources", $"A conductor of {source.Name} has 1 to 12 signs and no stroke.");
            }
        }

        if (
            sheet.Charges.FirstOrDefault(c =>
                c.Microfarads <= 0
                || c.Volts <= 0
                || c.BleedOhms <= 0
                || c.BleedTolerancePercent is < 0 or > 100
                || c.CapacitanceTolerancePercent is < 0 or > 100
            ) is
            { } charge
        )
        {
            return new Refusal(
                "charges",
                $"{charge.Name} needs a capacitance, volts and bleed resistance above 0, and tolerances from 0 to 100 %."
            );
        }

        if (sheet.Charges.FirstOrDefault(c => sheet.SourcesOrAssumed.All(s => s.Id != c.SourceId)) is { } lost)
        {
            return new Refusal("charges", $"{lost.Name} is charged from a source that is not in the sheet: \"{lost.SourceId}\".");
        }

        if (sheet.Interlocks.FirstOrDefault(i => i.Name.Trim().Length < 3) is not null)
        {
            return new Refusal("interlocks", "A protective device needs a name of three letters at least.");
        }

        if (sheet.RunOns.FirstOrDefault(r => r.Minutes is <= 0 or > 1440) is { } runOn)
        {
            return new Refusal("runOns", $"{runOn.Name} runs on for more than 0 and at most 1440 minutes.");
        }

        return null;
    }
}
