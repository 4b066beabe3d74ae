namespace RustyLedger.Core.Safety;

/// <summary>
/// What a capacitor still holds, and how long it needs. Advice only: bleed resistors fail open, so only a reading proves.
/// </summary>
/// <param name="JoulesAtStart">E = C V0² / 2.</param>
/// <param name="Seconds">Until it has fallen to the limit with the marked values; null without a bleed resistor.</param>
/// <param name="SecondsAtWorst">The same with R and C as large as their tolerances allow.</param>
/// <param name="VoltsNow">At worst; null without a bleed resistor, since it may still be full.</param>
/// <param name="JoulesNow">At worst.</param>
public sealed record Discharge(decimal JoulesAtStart, decimal? Seconds, decimal? SecondsAtWorst, decimal? VoltsNow, decimal JoulesNow)
{
    /// <summary>
    /// Discharge of C through R from V0: v(t) = V0 e^(−t / R C), so t = R C ln(V0 / V). Horowitz and Hill, "The Art of
    /// Electronics", on RC circuits (from memory).
    /// </summary>
    /// <param name="charge">What is charged.</param>
    /// <param name="limitVolts">V, above 0.</param>
    /// <param name="elapsed">Since it was switched off; below zero counts as zero.</param>
    public static Discharge Of(StoredCharge charge, decimal limitVolts, TimeSpan elapsed)
    {
        ArgumentNullException.ThrowIfNull(charge);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(limitVolts);
        var (v0, limit) = ((double)charge.Volts, (double)limitVolts);
        var farads = (double)charge.Microfarads * 1e-6;
        var worstFarads = farads * (1 + ((double)charge.CapacitanceTolerancePercent / 100));
        var start = (decimal)(worstFarads * v0 * v0 / 2);
        if (charge.BleedOhms is not { } ohms)
        {
            return new Discharge(start, null, null, null, start);
        }

        var worstSeconds = worstFarads * (double)ohms * (1 + ((double)charge.BleedTolerancePercent / 100));
        var fall = Math.Max(0, Math.Log(v0 / limit));
        var now = v0 * Math.Exp(-Math.Max(0, elapsed.TotalSeconds) / worstSeconds);
        return new Discharge(
            start,
            (decimal)(farads * (double)ohms * fall),
            (decimal)(worstSeconds * fall),
            (decimal)now,
            (decimal)(worstFarads * now * now / 2)
        );
    }
}
