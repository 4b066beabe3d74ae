using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Measuring;

public enum VerdictKind
{
    Within,
    Marginal,
    Low,
    High,
    Dead,
    Reversed,

    /// <summary>A state or a word that is not the one asked for; neither low nor high.</summary>
    Differs,
    NotJudged,
}

public static class VerdictWords
{
    /// <summary>The verdict in a word or two, such as <c>low</c> or <c>not judged</c>.</summary>
    public static string Word(this VerdictKind kind) => kind == VerdictKind.NotJudged ? "not judged" : kind.ToString().ToLowerInvariant();
}

/// <summary>What a reading means under a limit.</summary>
/// <param name="Rule">The rule that decided, by a name that stays the same.</param>
/// <param name="Reason">The same in words and numbers.</param>
public sealed record Verdict(VerdictKind Kind, string Rule, string Reason)
{
    /// <summary>Outside the limit, in whichever way.</summary>
    public bool IsOut => Kind is VerdictKind.Low or VerdictKind.High or VerdictKind.Dead or VerdictKind.Reversed or VerdictKind.Differs;

    /// <summary>The numbers behind it, for whoever asks why; empty where the reason says all.</summary>
    public string Working { get; init; } = "";

    /// <summary>Within or marginal.</summary>
    public bool IsGood => Kind is VerdictKind.Within or VerdictKind.Marginal;
}

/// <summary>Judges readings. The same reading, limit and tolerance always give the same verdict.</summary>
public static class Judge
{
    // Common practice, no source: how near an edge is worth a second look, and what counts as no volts.
    private const decimal MarginalShareOfHalfBand = 0.1m;
    private const decimal MarginalShareOfOneSided = 0.05m;
    private const decimal DeadShare = 0.05m;
    private const decimal DeadVolts = 0.5m;

    /// <param name="tolerance">Taken by a limit that states none.</param>
    public static Verdict Verdict(ReadingValue reading, Limit limit, DefaultTolerance tolerance)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(limit);
        ArgumentNullException.ThrowIfNull(tolerance);
        return (reading, limit) switch
        {
            (_, UnjudgedLimit) => new(
                VerdictKind.NotJudged,
                "not to be judged",
                $"{reading.Written}; the sheet gives no value to judge by ({LimitNotation.Write(limit)})"
            ),
            (_, EitherLimit e) => Either(reading, e, tolerance),
            _ when JudgeBehaviour.Verdict(reading, limit, tolerance) is { } behaviour => behaviour,
            (NumberReading { Unit: Unit.Ohms, Value: < 0 } n, _) => new(
                VerdictKind.NotJudged,
                "negative ohms",
                $"{n.Written}: ohms below zero mean that a voltage is present; read volts here first"
            ),
            (OverloadReading, NoPathLimit) => new(VerdictKind.Within, "no path", "OL, no path, as it should be"),
            (OverloadReading, NumericLimit or ShortLimit) => new(
                VerdictKind.High,
                "OL is out",
                $"OL: no path or beyond the meter's range; should read {LimitNotation.Write(limit)}"
            ),
            (OverloadReading, ContactLimit c) => State(!c.Closed, "open (OL)", LimitNotation.Write(limit)),
            (NumberReading n, NoPathLimit) => new(VerdictKind.Low, "no path", $"{n.Written} where there should be no path (OL)"),
            (NumberReading n, ShortLimit) => Short(n),
            (ContactReading c, NoPathLimit) => c.Closed
                ? new(VerdictKind.Low, "no path", "closed where there should be no path (OL)")
                : new(VerdictKind.Within, "no path", "open, no path, as it should be"),
            (ContactReading c, ShortLimit) => c.Closed
                ? new(VerdictKind.Within, "short", "closed, as it should be")
                : new(VerdictKind.High, "short", "open where it should beep through"),
            (ContactReading c, ContactLimit l) => State(c.Closed == l.Closed, c.Written, LimitNotation.Write(l)),
            (NumberReading { Unit: Unit.Ohms } n, ContactLimit l) => State(
                n.Value <= ShortLimit.MostOhms == l.Closed,
                n.Written,
                LimitNotation.Write(l)
            ),
            (LampReading r, LampLimit l) => State((r.On, r.Blinks) == (l.On, l.Blinks), r.Written, LimitNotation.Write(l)),
            (WordReading r, WordLimit l) => State(string.Equals(r.Word, l.Word, StringComparison.OrdinalIgnoreCase), r.Word, l.Word),
            (NumberReading n, SupplyLimit { Now: null }) => new(
                VerdictKind.NotJudged,
                "supply not read",
                $"{n.Written}: should read what the supply reads; read the supply in this state first"
            ),
            (NumberReading n, NumericLimit l) when n.Unit == l.Unit => Number(n, l, tolerance),
            _ => new(VerdictKind.NotJudged, "kinds differ", $"{reading.Written} cannot be held against {LimitNotation.Write(limit)}"),
        };
    }

    /// <summary>Good under one is good. Out under both is neither low nor high, since nobody says which was meant.</summary>
    private static Verdict Either(ReadingValue reading, EitherLimit limit, DefaultTolerance tolerance)
    {
        var (first, second) = (Verdict(reading, limit.First, tolerance), Verdict(reading, limit.Second, tolerance));
        var good = first.IsGood ? first : second;
        return good.IsGood ? good with { Reason = $"{good.Reason}; {LimitNotation.Write(limit)} is right" }
            : first.Kind == VerdictKind.NotJudged ? first
            : second.Kind == VerdictKind.NotJudged ? second
            : new Verdict(VerdictKind.Differs, "either", $"{reading.Written}, should be {LimitNotation.Write(limit)}");
    }

    /// <summary>The band a numeric limit allows, with null for a side it leaves open.</summary>
    public static (decimal? Low, decimal? High) Band(NumericLimit limit, DefaultTolerance tolerance) =>
        limit switch
        {
            NominalLimit n => n.Band(tolerance),
            SupplyLimit s => (s.Low, null),
            RangeLimit r => (r.Low, r.High),
            LowestLimit l => (l.Low, null),
            HighestLimit h => (null, h.High),
            _ => throw new ArgumentOutOfRangeException(nameof(limit)),
        };

    /// <summary>
    /// Volts along a return or from it to earth, under load: either sign, more than 0.3 V is a fault. Common practice, no source.
    /// </summary>
    /// <param name="loss">What is lost there by the circuit; null where it does not say.</param>
    internal static Verdict AlongReturn(NumberReading reading, CircuitLoss? loss)
    {
        var most = Numbers.Write(ReturnDrop.MostVolts);
        var at = loss?.At(reading.Remark);
        var expected = at is null ? "" : $"; {Sums.Quantity.Write(at.Volts, "V")} by the circuit {at.Words}";
        return Math.Abs(reading.Value) > ReturnDrop.MostVolts
                ? new(VerdictKind.High, "return", $"{reading.Written} lost along the return, more than {most} V under load{expected}")
            : IsWithoutLoad(reading.Remark)
                ? new(VerdictKind.NotJudged, "return", $"{reading.Written} without load: a weak contact loses nothing then")
            : new(
                VerdictKind.Within,
                "return",
                $"{reading.Written} along the return, at most {most} V{(at is null ? " under load" : expected)}"
            );
    }

    /// <summary>Whoever read it says that nothing was drawing a current.</summary>
    internal static bool IsWithoutLoad(string remark) => remark.Contains("no load", StringComparison.OrdinalIgnoreCase);

    private static Verdict State(bool same, string found, string wanted) =>
        same
            ? new(VerdictKind.Within, "state", $"{found}, as it should be")
            : new(VerdictKind.Differs, "state", $"{found}, should be {wanted}");

    private static Verdict Short(NumberReading reading) =>
        reading.Value <= ShortLimit.MostOhms
            ? new(VerdictKind.Within, "short", $"{reading.Written}, at most {Numbers.Write(ShortLimit.MostOhms)} Ω with the leads")
            : new(VerdictKind.High, "short", $"{reading.Written}; what beeps through reads at most {Numbers.Write(ShortLimit.MostOhms)} Ω");

    private static Verdict Number(NumberReading reading, NumericLimit limit, DefaultTolerance tolerance)
    {
        var value = reading.Value;
        var (low, high) = Band(limit, tolerance);
        var of = limit.Unit;
        var tooLow = low is { } l && (value < l || (value == l && limit is LowestLimit { Included: false }));
        var tooHigh = high is { } h && (value > h || (value == h && limit is HighestLimit { Included: false }));
        // At most 2 A is said of the size: -5 A is not silently within it, nor -24 V within "< 0.5 V".
        if (
            limit is HighestLimit { High: > 0 } most
            && limit.Current != Current.Alternating
            && limit.Unit is Unit.Volts or Unit.Amps
            && value < -most.High
        )
        {
            return new(
                VerdictKind.Reversed,
                "reversed",
                $"{reading.Written}: its size is over the most allowed, {Numbers.Write(most.High, of)}, and the sign is turned"
            );
        }

        if (!tooLow && !tooHigh)
        {
            return Inside(value, low, high, of);
        }

        if (IsReversed(value, low, high, limit))
        {
            return new(
                VerdictKind.Reversed,
                "reversed",
                $"{reading.Written}: the sign is turned; should read {LimitNotation.Write(limit)}"
            );
        }

        // Dead is no volts where there should be some, of either sign.
        var nearest =
            low > 0 ? low
            : high < 0 ? -high
            : null;
        if (
            limit.Unit == Unit.Volts
            && nearest is { } least
            && (low > 0 ? tooLow : tooHigh)
            && Math.Abs(value) < Math.Max(DeadVolts, DeadShare * least)
        )
        {
            return new(VerdictKind.Dead, "dead", $"{reading.Written}: no volts; the least allowed is {Numbers.Write(nearest.Value, of)}");
        }

        // A negative rail is judged by its size: -12 V that reads -10 V has lost two volts.
        if (high < 0 && limit.Unit is Unit.Volts or Unit.Amps)
        {
            return tooHigh
                ? new(
                    VerdictKind.Low,
                    "below the limit",
                    $"low: {Numbers.Write(Math.Abs(value - high.Value), of)} short of the least allowed, "
                        + $"{Numbers.Write(high.Value, of)}"
                )
                : new(
                    VerdictKind.High,
                    "above the limit",
                    $"high: {Numbers.Write(Math.Abs(value - low!.Value), of)} over the most allowed, {Numbers.Write(low.Value, of)}"
                );
        }

        return tooLow
            ? new(
                VerdictKind.Low,
                "below the limit",
                value == low
                    ? $"low: must be above {Numbers.Write(low!.Value, of)}"
                    : $"low: {Numbers.Write(low!.Value - value, of)} under the least allowed, {Numbers.Write(low.Value, of)}"
            )
            : new(
                VerdictKind.High,
                "above the limit",
                value == high
                    ? $"high: must be below {Numbers.Write(high!.Value, of)}"
                    : $"high: {Numbers.Write(value - high!.Value, of)} over the most allowed, {Numbers.Write(high.Value, of)}"
            );
    }

    private static Verdict Inside(decimal value, decimal? low, decimal? high, Unit of)
    {
        if (low is { } l && high is { } h)
        {
            var margin = (h - l) / 2 * MarginalShareOfHalfBand;
            var near = Math.Min(value - l, h - value);
            var band = $"{Numbers.Write(l)} to {Numbers.Write(h, of)}";
            // A band of no width has no middle to be far from.
            return near <= margin && h > l
                ? new(VerdictKind.Marginal, "near the edge", $"only {Numbers.Write(near, of)} inside {band}")
                : new(VerdictKind.Within, "in the band", $"within {band}");
        }

        var edge = (low ?? high)!.Value;
        var inside = Math.Abs(value - edge);
        var side = low is null ? "most" : "least";
        return edge != 0 && inside <= Math.Abs(edge) * MarginalShareOfOneSided
            ? new(
                VerdictKind.Marginal,
                "near the edge",
                $"only {Numbers.Write(inside, of)} from the {side} allowed, {Numbers.Write(edge, of)}"
            )
            : new(VerdictKind.Within, "in the band", $"within, the {side} allowed is {Numbers.Write(edge, of)}");
    }

    /// <summary>
    /// Leads or wires turned round: the other sign, and at least half of what the limit asks. Less than that is
    /// a low reading with a stray sign rather than a reversal. Common practice, no source.
    /// </summary>
    private static bool IsReversed(decimal value, decimal? low, decimal? high, NumericLimit limit) =>
        limit.Current != Current.Alternating
        && limit.Unit is Unit.Volts or Unit.Amps
        && ((low > 0 && -value >= low / 2) || (high < 0 && value >= -high / 2));
}
