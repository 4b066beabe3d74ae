namespace RustyLedger.Core.Machines;

/// <summary>What must hold of the builds of a model, whoever writes them.</summary>
public static class VariantSheetRule
{
    private const int MostLabel = 24,
        MostMeaning = 80;

    /// <returns>The place and what cannot be meant so; null where all can.</returns>
    public static Refusal? Refusal(this VariantSheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        if (SerialDate.Problem(sheet.SerialPattern) is { } problem)
        {
            return new Refusal("serialPattern", problem);
        }

        if (VariantCoverage.PiecesOf(sheet.Variants) is > VariantCoverage.MostPieces and var pieces)
        {
            return new Refusal(
                "variants",
                $"The rules tell {pieces} cases apart; at most {VariantCoverage.MostPieces} can be looked through for gaps."
            );
        }

        if (
            Rule.First(
                Rule.Unique("variants", sheet.Variants.Select(v => v.Id)),
                Rule.Unique("variants", sheet.Variants.Select(v => v.Name))
            ) is
            { } twice
        )
        {
            return twice;
        }

        foreach (var variant in sheet.Variants)
        {
            if (Rule.Needed($"name of {variant.Id}", variant.Name, 60) is { } unnamed)
            {
                return unnamed;
            }

            if (
                variant.Rules.FirstOrDefault(r =>
                    r.From > r.To || r.SerialFrom > r.SerialTo || r.Volts <= 0 || r.Phases is not (null or 1 or 3)
                ) is
                { } rule
            )
            {
                return new Refusal(
                    $"rules of {variant.Name}",
                    $"\"{rule.Words}\" cannot be: a range runs from the lesser to the greater, volts are above 0, phases are 1 or 3."
                );
            }

            if (Rule.Unique($"overlay of {variant.Name}", variant.Overlay.Select(o => o.Pin.Text), mostSigns: 200) is { } twiceRenamed)
            {
                return twiceRenamed;
            }

            foreach (var renamed in variant.Overlay)
            {
                if (
                    Rule.First(Rule.Needed("label", renamed.Label, MostLabel), Rule.Text("meaning", renamed.Meaning, MostMeaning)) is
                    { } wrong
                )
                {
                    return wrong with { Field = $"overlay of {variant.Name}" };
                }
            }
        }

        return null;
    }
}
