namespace RustyLedger.Core.Sums;

/// <summary>Temperatures from the ohms of a sensor, and the ohms from a temperature.</summary>
public static class TemperatureSensor
{
    // IEC 60751: the coefficients of industrial platinum; from memory.
    private const double A = 3.9083e-3;
    private const double B = -5.775e-7;
    private const double C = -4.183e-12;
    private const double Kelvin = 273.15;

    /// <summary>The range of IEC 60751, in °C.</summary>
    public const double LeastPlatinum = -200,
        MostPlatinum = 850;

    /// <summary>Ohms of a platinum sensor by the Callendar and Van Dusen equation of IEC 60751.</summary>
    /// <param name="celsius">From -200 to 850 °C.</param>
    /// <param name="atZero">Ohms at 0 °C, such as 100.</param>
    public static double PlatinumOhms(double celsius, double atZero)
    {
        var ratio = 1 + (A * celsius) + (B * celsius * celsius);
        return atZero * (celsius >= 0 ? ratio : ratio + (C * (celsius - 100) * celsius * celsius * celsius));
    }

    /// <summary>Temperature of a platinum sensor in °C; null outside the range of IEC 60751.</summary>
    /// <param name="ohms">As read, without its leads.</param>
    /// <param name="atZero">Ohms at 0 °C.</param>
    public static double? PlatinumCelsius(double ohms, double atZero)
    {
        // It rises all the way, so that halving the range finds it to a thousandth of a degree.
        var (low, high) = (LeastPlatinum, MostPlatinum);
        if (ohms < PlatinumOhms(low, atZero) || ohms > PlatinumOhms(high, atZero))
        {
            return null;
        }

        while (high - low > 1e-6)
        {
            var middle = (low + high) / 2;
            (low, high) = PlatinumOhms(middle, atZero) < ohms ? (middle, high) : (low, middle);
        }

        return (low + high) / 2;
    }

    /// <summary>Temperature of a thermistor in °C by its beta: 1/T = 1/T0 + ln(R/R0)/beta, in kelvin.</summary>
    /// <param name="ohms">As read, above 0.</param>
    /// <param name="known">Ohms at the temperature it is known at, above 0.</param>
    /// <param name="knownAt">In °C, such as 25.</param>
    /// <param name="beta">In kelvin.</param>
    public static double ThermistorCelsius(double ohms, double known, double knownAt, double beta) =>
        (1 / ((1 / (knownAt + Kelvin)) + (Math.Log(ohms / known) / beta))) - Kelvin;

    /// <summary>
    /// Temperature of a thermistor in °C by Steinhart and Hart, 1/T = a + b ln R + c (ln R)³, through three points of its table.
    /// </summary>
    /// <param name="points">Three pairs of ohms and °C, each different.</param>
    /// <exception cref="ArgumentException">Two of the points have the same ohms.</exception>
    public static double ThermistorCelsius(double ohms, IReadOnlyList<(double Ohms, double Celsius)> points)
    {
        ArgumentNullException.ThrowIfNull(points);
        var l = points.Select(p => Math.Log(p.Ohms)).ToArray();
        var y = points.Select(p => 1 / (p.Celsius + Kelvin)).ToArray();
        if (l.Length != 3 || l.Distinct().Count() < 3)
        {
            throw new ArgumentException("Three points with different ohms are needed.", nameof(points));
        }

        var (g2, g3) = ((y[1] - y[0]) / (l[1] - l[0]), (y[2] - y[0]) / (l[2] - l[0]));
        var c = (g3 - g2) / (l[2] - l[1]) / (l[0] + l[1] + l[2]);
        var b = g2 - (c * ((l[0] * l[0]) + (l[0] * l[1]) + (l[1] * l[1])));
        var a = y[0] - ((b + (l[0] * l[0] * c)) * l[0]);
        var at = Math.Log(ohms);
        return (1 / (a + (b * at) + (c * at * at * at))) - Kelvin;
    }
}
