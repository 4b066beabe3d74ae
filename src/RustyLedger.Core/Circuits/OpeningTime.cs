using MathNet.Numerics.Distributions;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// How long it takes until a fuse or breaker opens that carries more than it is made for: lognormal, as wide as the standards let
/// devices of different makes differ.
/// </summary>
/// <param name="LogSeconds">The decimal logarithm of the middle, in seconds.</param>
/// <param name="Decades">One standard deviation of it; above 0.</param>
public readonly record struct OpeningTime(double LogSeconds, double Decades)
{
    // Times its rated current; the least and the most seconds. Fuses: quick and slow ones of ISO 8820-3 and IEC 60127-2 together;
    // breakers: thermal and magnetic release of IEC 60898-1, characteristic C. The numbers are from memory.
    private static readonly (double Times, double Least, double Most)[] _fuse =
    [
        (1, 600, 1e6),
        (1.35, 0.75, 1800),
        (2, 0.15, 120),
        (2.75, 0.05, 10),
        (4, 0.02, 3),
        (6, 0.005, 0.6),
        (10, 0.002, 0.3),
    ];

    private static readonly (double Times, double Least, double Most)[] _breaker =
    [
        (1, 3600, 1e6),
        (1.45, 20, 3600),
        (2.55, 1, 60),
        (5, 0.1, 15),
        (10, 0.002, 0.1),
    ];

    // The limits lie two standard deviations from the middle, and what flows is not known better than this.
    private const double Limits = 4;
    private const double OfCurrent = 0.25;

    /// <summary>It opens as soon as it is closed.</summary>
    public static OpeningTime AtOnce { get; } = new(-1.5, 0.5);

    /// <param name="times">Its rated current that would flow; above 0.</param>
    /// <param name="trips">It is a breaker.</param>
    public static OpeningTime Of(double times, bool trips)
    {
        var table = trips ? _breaker : _fuse;
        var at = Math.Clamp(times, table[0].Times, table[^1].Times);
        var i = 1;
        while (table[i].Times < at)
        {
            i++;
        }

        // Along straight lines where both times and seconds are logarithms.
        var share = Math.Log(at / table[i - 1].Times) / Math.Log(table[i].Times / table[i - 1].Times);
        double Between(Func<(double Times, double Least, double Most), double> of) =>
            ((1 - share) * Math.Log10(of(table[i - 1]))) + (share * Math.Log10(of(table[i])));
        var (least, most) = (Between(t => t.Least), Between(t => t.Most));
        return new OpeningTime((least + most) / 2, double.Hypot((most - least) / Limits, OfCurrent));
    }

    /// <summary>Part of the way from one to another; where one of both holds, the other.</summary>
    /// <param name="at">0 to 1.</param>
    public static OpeningTime? Between(OpeningTime? from, OpeningTime? to, double at) =>
        (from, to) is ({ } a, { } b)
            ? new OpeningTime(a.LogSeconds + (at * (b.LogSeconds - a.LogSeconds)), Math.Max(a.Decades, b.Decades))
            : from ?? to;

    /// <summary>How likely it is that it opens between two moments, in seconds; the first may be 0, the second infinite.</summary>
    public double Within(double from, double to) => Below(to) - Below(from);

    private double Below(double seconds) =>
        seconds <= 0 ? 0
        : double.IsInfinity(seconds) ? 1
        : Normal.CDF(LogSeconds, Decades, Math.Log10(seconds));
}
