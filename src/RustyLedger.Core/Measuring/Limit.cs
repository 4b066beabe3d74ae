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
    public static DefaultTolerance Usual { get; } = new();

    /// <summary>Half the width of the band around <paramref name="nominal"/>, in its unit.</summary>
    public decimal HalfBand(decimal nominal, Unit unit)
    {
        var floor = unit switch { Unit.Volts => Volts, Unit.Ohms => Ohms, _ => 0m };
        return Math.Max(Math.Abs(nominal) * Percent / 100m, floor);
    }
}

/// <summary>What a reading must be to pass a check.</summary>
public abstract record Limit
{
    private protected Limit()
    {
    }
}

/// <summary>A limit on a number in one unit.</summary>
public abstract record NumericLimit(Unit Unit, Current Current) : Limit;

/// <summary>A nominal value with a tolerance; both edges belong to the band.</summary>
/// <param name="Percent">Half-band in percent of the nominal; null unless written so.</param>
/// <param name="Absolute">Half-band in the unit; null unless written so. Both null: the default tolerance applies.</param>
public sealed record NominalLimit(decimal Nominal, decimal? Percent, decimal? Absolute, Unit Unit, Current Current)
    : NumericLimit(Unit, Current)
{
    public decimal HalfBand(DefaultTolerance tolerance) =>
        Absolute ?? (Percent is { } percent ? Math.Abs(Nominal) * percent / 100m : tolerance.HalfBand(Nominal, Unit));
}

/// <summary>From the lowest to the highest allowed value, both included.</summary>
public sealed record RangeLimit(decimal Low, decimal High, Unit Unit, Current Current) : NumericLimit(Unit, Current);

/// <summary>At least a value, or above it where the edge does not belong.</summary>
public sealed record LowestLimit(decimal Low, bool Included, Unit Unit, Current Current) : NumericLimit(Unit, Current);

/// <summary>At most a value, or below it where the edge does not belong.</summary>
public sealed record HighestLimit(decimal High, bool Included, Unit Unit, Current Current) : NumericLimit(Unit, Current);

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
public sealed record LampLimit(bool On) : Limit;

/// <summary>A word or number shown by the machine, compared without regard to case.</summary>
public sealed record WordLimit(string Word) : Limit;

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
}
