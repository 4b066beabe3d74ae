using System.Collections.Frozen;
using System.Globalization;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// The tolerance that a bare nominal takes: a percentage of the nominal or an absolute floor, whichever is
/// larger. Common practice, no source: ±5 %, ±0.3 V, and ±0.5 Ω because meter leads add a few tenths.
/// </summary>
/// <param name="Percent">Of the nominal, at least 0.</param>
/// <param name="Volts">Least half-band for volts.</param>
/// <param name="Ohms">Least half-band for ohms.</param>
public sealed record DefaultTolerance(decimal Percent = 5m, decimal Volts = 0.3m, decimal Ohms = 0.5m)
{
    /// <summary>Nobody stated one: a number in volts then takes what fits its kind of rail.</summary>
    public static DefaultTolerance Usual { get; } = new();

    /// <summary>Of a rail that is said to be regulated, whatever its volts.</summary>
    public static DefaultTolerance Regulated { get; } = new(RegulatedPercent, 0m);

    // Common practice, no source: how far rails of these volts stray.
    private const decimal RegulatedPercent = 5m;
    private static readonly FrozenSet<decimal> RegulatedVolts = [3.3m, 5m, 15m];
    private static readonly FrozenSet<decimal> UnregulatedVolts = [12m, 24m, 28m, 48m];
    private static readonly FrozenSet<decimal> MainsVolts =
    [
        100m,
        110m,
        115m,
        120m,
        127m,
        200m,
        208m,
        220m,
        230m,
        240m,
        277m,
        380m,
        400m,
        415m,
        440m,
        460m,
        480m,
    ];

    /// <summary>The band around a bare nominal, in its unit.</summary>
    public (decimal Low, decimal High) BandOf(decimal nominal, Unit unit, Current current)
    {
        var (below, above) = RailOf(nominal, unit, current) switch
        {
            Rail.Regulated => (RegulatedPercent, RegulatedPercent),
            Rail.Unregulated => (10m, 20m),
            Rail.Mains => (10m, 10m),
            _ => (0m, 0m),
        };
        if (below > 0)
        {
            var size = Math.Abs(nominal);
            var (low, high) = (size * (100m - below) / 100m, size * (100m + above) / 100m);
            return nominal < 0 ? (-high, -low) : (low, high);
        }

        var half = Math.Max(
            Math.Abs(nominal) * Percent / 100m,
            unit switch
            {
                Unit.Volts => Volts,
                Unit.Ohms => Ohms,
                _ => 0m,
            }
        );
        return (nominal - half, nominal + half);
    }

    /// <summary>What the tolerance of a bare nominal is, and why, in words.</summary>
    public string Words(decimal nominal, Unit unit, Current current) =>
        RailOf(nominal, unit, current) switch
        {
            Rail.Regulated => "±5 %, usual for a regulated rail",
            Rail.Unregulated => "-10/+20 %, usual for an unregulated supply",
            Rail.Mains => "±10 %, usual for mains",
            _ when this == Regulated => "±5 %, said to be regulated",
            _ => $"±{Numbers.Write(Percent)} %{Floor(unit)}, {(this == Usual ? "where none is stated" : "as the board type states")}",
        };

    private string Floor(Unit unit) =>
        unit switch
        {
            Unit.Volts when Volts > 0 => $" or ±{Numbers.Write(Volts)} V",
            Unit.Ohms when Ohms > 0 => $" or ±{Numbers.Write(Ohms)} Ω",
            _ => "",
        };

    private enum Rail
    {
        Unknown,
        Regulated,
        Unregulated,
        Mains,
    }

    private Rail RailOf(decimal nominal, Unit unit, Current current) =>
        (this == Usual, unit, Math.Abs(nominal)) switch
        {
            (false, _, _) or (_, not Unit.Volts, _) => Rail.Unknown,
            (_, _, var volts) when current != Current.Alternating && RegulatedVolts.Contains(volts) => Rail.Regulated,
            (_, _, var volts) when UnregulatedVolts.Contains(volts) => Rail.Unregulated,
            (_, _, var volts) when current != Current.Direct && MainsVolts.Contains(volts) => Rail.Mains,
            _ => Rail.Unknown,
        };
}

/// <summary>What a reading must be to pass a check.</summary>
public abstract record Limit
{
    private protected Limit() { }
}

/// <summary>A limit on a number in one unit.</summary>
public abstract record NumericLimit(Unit Unit, Current Current) : Limit;

/// <summary>A nominal value with a tolerance; both edges belong to the band.</summary>
/// <param name="Percent">Half-band in percent of the nominal; null unless written so.</param>
/// <param name="Absolute">Half-band in the unit; null unless written so. Both null: the default tolerance applies.</param>
public sealed record NominalLimit(decimal Nominal, decimal? Percent, decimal? Absolute, Unit Unit, Current Current)
    : NumericLimit(Unit, Current)
{
    public (decimal Low, decimal High) Band(DefaultTolerance tolerance) =>
        (Absolute ?? (Percent is { } percent ? Math.Abs(Nominal) * percent / 100m : null)) is { } half
            ? (Nominal - half, Nominal + half)
            : tolerance.BandOf(Nominal, Unit, Current);
}

/// <summary>From the lowest to the highest allowed value, both included.</summary>
public sealed record RangeLimit(decimal Low, decimal High, Unit Unit, Current Current) : NumericLimit(Unit, Current);

/// <summary>At least a value, or above it where the edge does not belong.</summary>
public sealed record LowestLimit(decimal Low, bool Included, Unit Unit, Current Current) : NumericLimit(Unit, Current);

/// <summary>At most a value, or below it where the edge does not belong.</summary>
public sealed record HighestLimit(decimal High, bool Included, Unit Unit, Current Current) : NumericLimit(Unit, Current);

/// <summary>At least what the supply reads now, less what a sound path may lose.</summary>
/// <param name="Now">What the supply reads in this round; null until it is read.</param>
public sealed record SupplyLimit(decimal? Now = null) : NumericLimit(Unit.Volts, Current.Unstated)
{
    // Common practice, no source.
    private const decimal MostLost = 0.5m;

    public decimal? Low => Now - MostLost;
}

/// <summary>No path: the meter shows OL.</summary>
public sealed record NoPathLimit : Limit;

/// <summary>A path of next to no resistance.</summary>
public sealed record ShortLimit : Limit
{
    /// <summary>The most a short may read, leads included. Common practice, no source.</summary>
    public const decimal MostOhms = 2m;
}

/// <summary>A contact that must be closed or open.</summary>
public sealed record ContactLimit(bool Closed) : Limit;

/// <summary>A lamp or an output that must be on or off.</summary>
/// <param name="Blinks">On and off by turns, and not steadily on.</param>
public sealed record LampLimit(bool On, bool Blinks = false) : Limit;

/// <summary>A word or number shown by the machine, compared without regard to case.</summary>
public sealed record WordLimit(string Word) : Limit;

/// <summary>Either of two is right, and nobody says when which is; such as a control line that rests at 12 V or at 0.</summary>
public sealed record EitherLimit(Limit First, Limit Second) : Limit;

/// <summary>The sheet says that nothing is to be judged here; what stood there is kept.</summary>
public sealed record UnjudgedLimit(string Words) : Limit;

/// <summary>One limit understood from a text.</summary>
/// <param name="Mode">The mode the text speaks of; null where it does not say.</param>
/// <param name="Remark">What stood beside it, such as <c>no load</c>; empty where nothing did.</param>
public sealed record LimitText(Limit Limit, MeterMode? Mode, string Remark);

internal static class Numbers
{
    /// <summary>A number without trailing zeros, with a point.</summary>
    public static string Write(decimal value) => value.ToString("0.##################", CultureInfo.InvariantCulture);

    /// <summary>A number with its unit, in mega where that is what people write.</summary>
    public static string Write(decimal value, Unit unit)
    {
        var (scale, prefix) = PrefixOf(value, unit);
        return $"{Write(value / scale)} {prefix}{unit.Symbol()}";
    }

    /// <summary>Nobody counts the noughts of an insulation.</summary>
    public static (decimal Scale, string Prefix) PrefixOf(decimal value, Unit unit) =>
        unit == Unit.Ohms && Math.Abs(value) >= 1_000_000 ? (1_000_000, "M") : (1, "");
}
