namespace RustyLedger.Core.Safety;

/// <summary>Says the one or two cautions that apply to a machine in its condition; never a wall of warnings.</summary>
public static class CautionChoice
{
    private const int Most = 2;
    private const decimal LineVolts = 50;

    /// <returns>At most two sentences, the model's own first. The local code and the licensed person come before all of them.</returns>
    public static IReadOnlyList<string> Of(SafetySheet sheet, SafeState state)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(state);
        var own = sheet.Cautions.Where(c => Applies(c.When, state.Condition)).Select(c => c.Words);
        return [.. own.Concat(Common(sheet, state)).Distinct().Take(Most)];
    }

    private static bool Applies(CautionWhen when, SafeCondition condition) =>
        when switch
        {
            CautionWhen.Live => condition == SafeCondition.Live,
            CautionWhen.NotProvedDead => condition != SafeCondition.ProvedDead,
            CautionWhen.ProvedDead => condition == SafeCondition.ProvedDead,
            _ => true,
        };

    private static IEnumerable<string> Common(SafetySheet sheet, SafeState state)
    {
        var volts = sheet.SourcesOrAssumed.Where(s => s.IsElectrical).Max(s => s.Volts);
        switch (state.Condition)
        {
            case SafeCondition.Live when volts is null or >= LineVolts:
                yield return $"Strap off before live work; a meter of the right category{(volts is { } v ? $" for {v:0.#} V" : "")}.";
                break;
            case SafeCondition.Live:
                yield return "Low voltage still burns: no rings, fuses pulled dead.";
                break;
            case SafeCondition.Isolated when sheet.Charges.Count > 0:
                yield return $"{sheet.Charges[0].Name} may still be charged; its bleed resistor may be open.";
                break;
            case SafeCondition.Isolated:
                yield return "Isolated is not dead: prove it.";
                break;
            default:
                yield return "Strap and mat for static while it is dead; strap off before it goes live.";
                break;
        }
    }
}
