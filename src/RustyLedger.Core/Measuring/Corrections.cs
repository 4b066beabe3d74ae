using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Measuring;

/// <summary>What bends a reading, taken off it. The reading as typed stays; <c>as read</c> behind it takes off nothing.</summary>
/// <param name="Counted">What counts instead.</param>
/// <param name="Words">From what to what, and by which rule.</param>
public sealed record Correction(ReadingValue Counted, string Words);

/// <summary>
/// Corrections that a check asks for in its remark or its signal: copper to 20 °C, the ohms of a temperature sensor to degrees, and
/// the volts that a meter takes away from a source of known resistance.
/// </summary>
public static partial class Corrections
{
    /// <summary>Temperature coefficient of copper per kelvin, at 20 °C (IEC 60228 annex; from memory).</summary>
    private const decimal Copper = 0.00393m;

    /// <param name="about">The remark of the check and the signal of its pin.</param>
    /// <param name="meter">What is known of the meter; null where nothing is.</param>
    /// <returns>Null where nothing is to be taken off.</returns>
    public static Correction? Of(ReadingValue? value, MeterMode mode, string about, Meter? meter)
    {
        ArgumentNullException.ThrowIfNull(about);
        return value is not NumberReading read || read.Remark.Contains("as read", StringComparison.OrdinalIgnoreCase)
            ? null
            : (mode, read.Unit) switch
            {
                (MeterMode.Ohms, Unit.Ohms) when CopperSaid().IsMatch(about) => ToTwenty(read),
                (MeterMode.Temperature, Unit.Ohms) => OfSensor(read, about),
                (MeterMode.DcVolts or MeterMode.AcVolts, Unit.Volts) => Loaded(read, about, meter),
                _ => null,
            };
    }

    /// <summary>R20 = R / (1 + 0.00393 (t - 20)), where the reading says at how many degrees: <c>21.4 at 35</c>.</summary>
    private static Correction? ToTwenty(NumberReading read)
    {
        if (Degrees().Match(read.Remark) is not { Success: true } said)
        {
            return null;
        }

        var celsius = decimal.Parse(said.Groups["celsius"].Value.Replace(',', '.'), CultureInfo.InvariantCulture);
        if (celsius is < -60 or > 250)
        {
            return null;
        }

        var cold = read with { Value = Math.Round(read.Value / (1 + (Copper * (celsius - 20))), 4) };
        return new Correction(cold, $"{cold.Written} at 20 °C: {read.Written} at {Numbers.Write(celsius)} °C, copper 0.00393 per degree");
    }

    private static Correction? OfSensor(NumberReading read, string about)
    {
        if (PlatinumSaid().Match(about) is { Success: true } platinum)
        {
            var zero = double.Parse(platinum.Groups["ohms"].Value, CultureInfo.InvariantCulture);
            return TemperatureSensor.PlatinumCelsius((double)read.Value, zero) is { } celsius
                ? Warm(read, celsius, $"platinum, {Numbers.Write((decimal)zero)} Ω at 0 °C by IEC 60751")
                : null;
        }

        if (ThreePointsSaid().Match(about) is { Success: true } three && read.Value > 0)
        {
            double Ohms(int i) => Sums.Quantity.Read("sensor", "ohms", three.Groups["ohms"].Captures[i].Value, "Ω");
            double At(int i) => double.Parse(three.Groups["celsius"].Captures[i].Value.Replace(',', '.'), CultureInfo.InvariantCulture);
            var points = Enumerable.Range(0, 3).Select(i => (Ohms: Ohms(i), Celsius: At(i))).ToList();
            if (points.Select(p => p.Ohms).Distinct().Count() == 3 && points.TrueForAll(p => p.Ohms > 0))
            {
                var celsius = TemperatureSensor.ThermistorCelsius((double)read.Value, points);
                return double.IsFinite(celsius) && celsius is > -100 and < 400
                    ? Warm(read, celsius, "thermistor through three points by Steinhart and Hart")
                    : null;
            }
        }

        if (ThermistorSaid().Match(about) is { Success: true } ntc && read.Value > 0)
        {
            var known = Sums.Quantity.Read("sensor", "ohms", ntc.Groups["ohms"].Value, "Ω");
            var beta = double.Parse(ntc.Groups["beta"].Value, CultureInfo.InvariantCulture);
            var celsius = TemperatureSensor.ThermistorCelsius((double)read.Value, known, 25, beta);
            return double.IsFinite(celsius) && celsius is > -100 and < 400
                ? Warm(read, celsius, $"thermistor of {ntc.Groups["ohms"].Value} at 25 °C, beta {ntc.Groups["beta"].Value}")
                : null;
        }

        return null;
    }

    private static Correction Warm(NumberReading read, double celsius, string rule)
    {
        var warm = read with { Value = Math.Round((decimal)celsius, 1), Unit = Unit.Celsius };
        return new Correction(warm, $"{warm.Written}: {read.Written}, {rule}");
    }

    /// <summary>U = U read (Rs + Rm) / Rm, with the meter's low impedance where the reading says <c>lowz</c>.</summary>
    private static Correction? Loaded(NumberReading read, string about, Meter? meter)
    {
        if (SourceSaid().Match(about) is not { Success: true } said)
        {
            return null;
        }

        var isLow = read.Remark.Contains("lowz", StringComparison.OrdinalIgnoreCase);
        if ((isLow ? meter?.LowOhms : meter?.InputOhms) is not { } input)
        {
            return null;
        }

        var source = (decimal)Sums.Quantity.Read("source", "ohms", said.Groups["ohms"].Value, "Ω");
        var open = read with { Value = Math.Round(read.Value * (source + input) / input, 4) };
        return open.Value == read.Value
            ? null
            : new Correction(
                open,
                $"{open.Written} without the meter: {read.Written} read with {Numbers.Write(input, Unit.Ohms)} on a source of "
                    + Numbers.Write(source, Unit.Ohms)
            );
    }

    [GeneratedRegex(@"\b(?:copper|winding|coil)s?\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex CopperSaid();

    [GeneratedRegex(
        @"\bat\s+(?<celsius>-?\d{1,3}(?:[.,]\d)?)\s*(?:°?\s*C|degrees)?\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Degrees();

    [GeneratedRegex(@"\bPt\s?(?<ohms>100|500|1000)\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex PlatinumSaid();

    [GeneratedRegex(
        @"\b(?:NTC|thermistor)\s+(?<ohms>\d{1,4}(?:[.,]\d{1,3})?\s?[kM]?)\b\D{0,8}?(?:B|beta)\s*=?\s*(?<beta>\d{4})\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex ThermistorSaid();

    [GeneratedRegex(
        @"\b(?:NTC|thermistor)\s+(?:(?<ohms>\d{1,6}(?:[.,]\d{1,3})?\s?[kM]?)\s*(?:Ω|ohms?)?\s+"
            + @"at\s+(?<celsius>-?\d{1,3}(?:[.,]\d)?)\s*(?:°?C)?[,;\s]*){3}",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex ThreePointsSaid();

    [GeneratedRegex(
        @"\bsource\s+(?<ohms>\d{1,4}(?:[.,]\d{1,3})?\s?[kM](?=\b|Ω|ohm)|\d{1,4}(?=\s?(?:Ω|ohm)))",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex SourceSaid();
}
