using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Measuring;

/// <summary>One range of a meter.</summary>
/// <param name="UpTo">The most it shows, in the unit of its function.</param>
/// <param name="Step">Its last digit.</param>
public sealed record MeterRange(decimal UpTo, decimal Step);

/// <summary>How well a meter measures one quantity, as data sheets say it: ±(percent of reading + counts).</summary>
/// <param name="Counts">Of the last digit of the range.</param>
/// <param name="Ranges">From the smallest up; a meter takes the first that holds the value.</param>
public sealed record MeterFunction(MeterMode Mode, decimal Percent, decimal Counts, IReadOnlyList<MeterRange> Ranges)
{
    /// <summary>The range that shows a value; null where none does.</summary>
    public MeterRange? RangeOf(decimal value) => Ranges.FirstOrDefault(r => Math.Abs(value) <= r.UpTo);
}

/// <summary>A meter as its data sheet describes it.</summary>
/// <param name="Category">Measurement category, 1 to 4; 0 where nobody said.</param>
/// <param name="CategoryVolts">Up to which voltage to earth it holds in that category.</param>
/// <param name="InputOhms">What it loads volts with; null where nobody said.</param>
/// <param name="LowOhms">The same in its low-impedance mode; null where it has none.</param>
/// <param name="IsTrueRms">Right on whatever waveform, within its crest factor; otherwise right on a sine alone.</param>
public sealed record Meter(
    string Name,
    int Category,
    decimal CategoryVolts,
    decimal? InputOhms,
    decimal? LowOhms,
    bool IsTrueRms,
    IReadOnlyList<MeterFunction> Functions
)
{
    /// <summary>
    /// Line voltage wants category III at least. IEC 61010-031 names the categories; which is enough is the local code's.
    /// </summary>
    private const int LeastCategory = 3;

    /// <summary>Up to which line voltage it may be used; 0 where its category does not do for line voltage, or nobody said one.</summary>
    public decimal LineVolts => Category >= LeastCategory ? CategoryVolts : 0;

    /// <summary>The most its diode test reaches, in volts; null where nobody said.</summary>
    public decimal? DiodeVolts { get; init; }

    /// <summary>What flows in its diode test, in amps; null where nobody said.</summary>
    public decimal? DiodeAmps { get; init; }

    /// <summary>What stands at its probes when it reads ohms of nothing, in volts; null where nobody said.</summary>
    public decimal? OhmsVolts { get; init; }

    /// <summary>What flows through a short when it reads ohms, in amps; null where nobody said.</summary>
    public decimal? OhmsAmps { get; init; }

    /// <summary>So much turns a silicon junction on, which then lies in parallel. Common practice, no source.</summary>
    private const decimal JunctionVolts = 0.4m;

    /// <summary>Its ohms turn junctions on, so that diodes in parallel are read too; null where nobody said.</summary>
    public bool? OhmsTurnOnJunctions =>
        OhmsVolts > JunctionVolts ? true
        : OhmsVolts is null ? null
        : false;

    /// <summary>What it is set to for a mode; ripple is AC volts, and a battery under load DC volts.</summary>
    public MeterFunction? FunctionOf(MeterMode mode)
    {
        var set = mode switch
        {
            MeterMode.Ripple => MeterMode.AcVolts,
            MeterMode.BatteryUnderLoad => MeterMode.DcVolts,
            _ => mode,
        };
        return Functions.FirstOrDefault(f => f.Mode == set);
    }

    /// <summary>What it is, in a line.</summary>
    public string Words =>
        string.Join(
            ", ",
            new[]
            {
                Category > 0 ? $"category {Roman[Category]} {Numbers.Write(CategoryVolts)} V" : "no category said",
                IsTrueRms ? "true RMS" : "right on a sine alone",
                InputOhms is { } input ? $"loads with {Sums.Quantity.Write((double)input, "Ω")}" : "",
                LowOhms is { } low ? $"{Sums.Quantity.Write((double)low, "Ω")} in low impedance" : "",
                DiodeVolts is { } diode ? $"tests a diode with {Numbers.Write(diode)} V" : "",
                OhmsTurnOnJunctions is { } turnsOn
                    ? turnsOn
                        ? "its ohms turn junctions on"
                        : "its ohms leave junctions off"
                    : "",
            }.Where(w => w.Length > 0)
        );

    internal static readonly string[] Roman = ["", "I", "II", "III", "IV"];
}

/// <summary>Checks at which a meter of the right category is wanted.</summary>
public static class LineVoltage
{
    /// <returns>The volts that a check expects, from those on that may not be touched in a dry place; null below them and off.</returns>
    public static decimal? Of(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        if (check is not { State.Energised: true, Limit: NumericLimit { Unit: Unit.Volts } limit })
        {
            return null;
        }

        var (low, high) = Judge.Band(limit, check.Tolerance);
        var volts = limit is NominalLimit n ? Math.Abs(n.Nominal) : Math.Max(Math.Abs(low ?? 0), Math.Abs(high ?? 0));
        return volts >= (check.Check.Mode == MeterMode.AcVolts ? ShopLimits.MostAc : ShopLimits.MostDc) ? volts : null;
    }
}

/// <summary>What a meter can know of a reading.</summary>
public static class MeterVerdict
{
    /// <summary>
    /// A verdict on a number under a limit, with the meter that read it. Outside is out, never marginal. Inside and closer to an edge than
    /// the meter's uncertainty it is marginal, with the side; inside a band that is narrower than the uncertainty it is too near to tell.
    /// The uncertainty is U = 2 u with u = specification / √3, an even spread within what the maker states (JCGM 100, 4.3.7); the
    /// probability that the value conforms is of the normal distribution (JCGM 106, 7; ILAC-G8 names the guard band).
    /// </summary>
    /// <param name="ruled">The verdict of the rule without a meter.</param>
    public static Verdict Of(Verdict ruled, NumberReading read, NumericLimit limit, DefaultTolerance tolerance, MeterMode mode, Meter meter)
    {
        ArgumentNullException.ThrowIfNull(ruled);
        ArgumentNullException.ThrowIfNull(read);
        ArgumentNullException.ThrowIfNull(meter);
        if (ruled.Kind == VerdictKind.NotJudged || meter.FunctionOf(mode) is not { } function)
        {
            return ruled;
        }

        var unit = read.Unit.Symbol();
        if (function.RangeOf(read.Value) is not { } range)
        {
            return new(
                VerdictKind.NotJudged,
                "beyond the meter",
                $"{read.Written} is more than the {meter.Name} shows, {Numbers.Write(function.Ranges[^1].UpTo)} {unit}"
            );
        }

        var spec = (double)((function.Percent / 100m * Math.Abs(read.Value)) + (function.Counts * range.Step));
        var standard = spec / Math.Sqrt(3);
        var expanded = (decimal)(2 * standard);
        var (low, high) = Judge.Band(limit, tolerance);
        var sure = Conformance((double)read.Value, standard, (double?)low, (double?)high);
        var working =
            $"{meter.Name}: {Numbers.Write(function.Percent)} % of {read.Written} + {Numbers.Write(function.Counts)} × "
            + $"{Numbers.Write(range.Step)} {unit} = {Round(spec)} {unit}; u = {Round(spec)} / √3 = {Round(standard)} {unit}, "
            + $"U = 2 u = {Round((double)expanded)} {unit}; the value is inside with {Percent(sure)}";
        if (ruled.IsOut)
        {
            return ruled with { Working = working };
        }

        if (low is { } l && high is { } h && h - l < 2 * expanded)
        {
            return new(
                VerdictKind.NotJudged,
                "too near to tell",
                $"{read.Written}: the {meter.Name} knows it to ±{Round((double)expanded)} {unit}, and only "
                    + $"{Numbers.Write(l)} to {Numbers.Write(h)} {unit} is allowed: too near to tell"
            )
            {
                Working = working,
            };
        }

        var (toLow, toHigh) = (read.Value - low, high - read.Value);
        var isLow = toHigh is null || (toLow is not null && toLow <= toHigh);
        return (isLow ? toLow : toHigh) is { } near && near < expanded
            ? new(
                VerdictKind.Marginal,
                "what the meter can know",
                $"inside by {Numbers.Write(near)} {unit} at the {(isLow ? "low" : "high")} side, "
                    + $"{Numbers.Write((isLow ? low : high)!.Value)} {unit}: closer than the {meter.Name} can tell, "
                    + $"±{Round((double)expanded)} {unit}"
            )
            {
                Working = working,
            }
            : new(
                VerdictKind.Within,
                "in the band",
                (low, high) switch
                {
                    ({ } a, { } b) => $"within {Numbers.Write(a)} to {Numbers.Write(b)} {unit}",
                    ({ } a, _) => $"within, the least allowed is {Numbers.Write(a)} {unit}",
                    _ => $"within, the most allowed is {Numbers.Write(high!.Value)} {unit}",
                }
            )
            {
                Working = working,
            };
    }

    /// <summary>
    /// The probability that a value lies between two limits, when it was read with a standard uncertainty: of the normal distribution
    /// (JCGM 106:2012, 7.3 and 7.4).
    /// </summary>
    /// <param name="standard">In the unit of the reading; 0 for a reading without doubt.</param>
    /// <param name="low">Null for a side that is left open, as for <paramref name="high"/>.</param>
    public static double Conformance(double read, double standard, double? low, double? high)
    {
        if (standard <= 0)
        {
            return (low is null || read >= low) && (high is null || read <= high) ? 1 : 0;
        }

        var below = high is { } h ? Normal((h - read) / standard) : 1;
        var under = low is { } l ? Normal((l - read) / standard) : 0;
        return Math.Clamp(below - under, 0, 1);
    }

    /// <summary>The standard normal distribution function, to about 1e-7 (Abramowitz and Stegun, 7.1.26; from memory).</summary>
    public static double Normal(double z)
    {
        var x = Math.Abs(z) / Math.Sqrt(2);
        var t = 1 / (1 + (0.3275911 * x));
        var poly = ((((((((1.061405429 * t) - 1.453152027) * t) + 1.421413741) * t) - 0.284496736) * t) + 0.254829592) * t;
        var erf = 1 - (poly * Math.Exp(-x * x));
        return z >= 0 ? (1 + erf) / 2 : (1 - erf) / 2;
    }

    private static string Round(double value) => Sums.Quantity.Write(value, "");

    private static string Percent(double share) =>
        share > 0.9995 ? "over 99.9 %"
        : share < 0.0005 ? "under 0.1 %"
        : $"{Numbers.Write(Math.Round((decimal)share * 100, 1))} %";
}
