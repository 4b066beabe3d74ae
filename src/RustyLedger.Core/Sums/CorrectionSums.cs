using RustyLedger.Core.Measuring;
using static RustyLedger.Core.Sums.BenchSums;
using static RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Sums;

/// <summary>What a reading says once what bends it is taken off: other paths, the meter's own load, the curve of a sensor.</summary>
internal static class CorrectionSums
{
    private const string Reading = "Readings";

    public static IReadOnlyList<BenchSum> All { get; } =
    [
        new(
            "incircuit",
            Reading,
            "Ohms in circuit",
            "What the part can be, when other paths lie in parallel with it.",
            [
                Number("ohms", "Reads, in circuit", "Ω", "82", true),
                Text("own", "The part, as marked", "100 Ω ±5 %"),
                new("parallel", "Known in parallel, one after the other", "", "470, 1k2", false, []),
                Choice("all", "Does anything else join its two ends", false, "not known", "no, that is all"),
            ],
            InCircuitSum
        ),
        new(
            "loading",
            Reading,
            "What the meter takes away",
            "The volts that were there before the meter drew its own current.",
            [
                Number("volts", "Reads", "V", "4.55", true),
                Number("source", "Resistance of what feeds the point", "Ω", "100k", true),
                Number("meter", "The meter’s own resistance", "Ω", "10M; 400k in low impedance", true),
            ],
            Loading
        ),
        new(
            "platinum",
            Reading,
            "A platinum sensor",
            "Ohms to degrees by IEC 60751.",
            [Number("ohms", "Reads, less its leads", "Ω", "119.4", true), Number("zero", "Ohms at 0 °C", "Ω", "100")],
            Platinum
        ),
        new(
            "thermistor",
            Reading,
            "A thermistor",
            "Ohms to degrees by its beta, or through three points of its table.",
            [
                Number("ohms", "Reads", "Ω", "5k", true),
                Number("known", "Ohms it is known at", "Ω", "10k"),
                Number("at", "At", "°C", "25"),
                Number("beta", "Beta", "", "3950"),
                new("points", "Or three points, ohms at °C", "", "32650 at 0, 10000 at 25, 1750 at 70", false, []),
            ],
            Thermistor
        ),
    ];

    private static SumAnswer InCircuitSum(SumInput said)
    {
        var read = said.Positive("ohms");
        var parallel = said.Text("parallel")
            .Split([';', ',', ' '], StringSplitOptions.RemoveEmptyEntries)
            .Select(t => Read("parallel", "Known in parallel", t, "Ω"))
            .ToList();
        if (parallel.Exists(p => p <= 0))
        {
            throw new SumException("parallel", "What lies in parallel has more than 0 Ω.");
        }

        var isAll = said.Text("all") == "no, that is all";
        var (least, most) = InCircuit.Part(read, parallel, isAll);
        List<string> working =
        [
            "In parallel 1/R adds up: no path beside the part can make it read more than the part alone.",
            parallel.Count == 0
                ? $"Nothing is known in parallel: the part is at least {Write(read, "Ω")}."
                : $"1/{Write(read, "Ω")} less {string.Join(" less ", parallel.Select(p => $"1/{Write(p, "Ω")}"))}: "
                    + (least > read || most is not null ? $"at least {Write(least, "Ω")}" : "nothing is left, the part may be open"),
        ];
        var can =
            most is { } exactly ? $"{Write(exactly, "Ω")}"
            : parallel.Count > 0 && parallel.Sum(p => 1 / p) >= 1 / read ? $"{Write(read, "Ω")} or more; it may be open"
            : $"at least {Write(least, "Ω")}";
        if (said.Text("own") is not { Length: > 0 } own)
        {
            return new SumAnswer(SumVerdict.Figure, can, "Ohms of the part by itself, with no residual volts.", [], working);
        }

        NumericLimit limit;
        try
        {
            limit =
                LimitNotation.ReadOne(own, MeterMode.Ohms).Limit as NumericLimit
                ?? throw new SumException("own", $"\"{own}\" is no value in ohms.");
        }
        catch (NotationException refusal)
        {
            throw new SumException("own", $"The part, as marked: {refusal.Message}");
        }

        var (low, high) = Measuring.Judge.Band(limit, DefaultTolerance.Usual);
        working.Add($"The part should have {LimitNotation.Write(limit)}.");
        return high is { } edge && least > (double)edge
                ? new SumAnswer(
                    SumVerdict.Bad,
                    $"It is the part: {can}",
                    $"More than its {LimitNotation.Write(limit)}, which no path beside it can do: the part, or a contact on the way to it.",
                    [],
                    working
                )
            : most is { } is_ && low is { } bottom && is_ < (double)bottom
                ? new SumAnswer(
                    SumVerdict.Bad,
                    $"It is the part: {can}",
                    "Less than it should have, with nothing else in parallel.",
                    [],
                    working
                )
            : most is not null ? new SumAnswer(SumVerdict.Good, can, "Within what it should have.", [], working)
            : new SumAnswer(
                SumVerdict.NotJudged,
                $"{(read > (double)ShortLimit.MostOhms ? "Not shorted; " : "")}{can}",
                "Paths nobody knows may lie in parallel, on the board too. Lift a leg or pull the plug, then read again.",
                [],
                working
            );
    }

    private static SumAnswer Loading(SumInput said)
    {
        var (volts, source, meter) = (said.Number("volts"), said.Positive("source"), said.Positive("meter"));
        var was = volts * (source + meter) / meter;
        var share = source / (source + meter) * 100;
        return new SumAnswer(
            SumVerdict.Figure,
            Write(was, "V"),
            share < 1 ? "The meter hardly matters here." : $"The meter took {Write(share, "%")} of it away while it was connected.",
            [new("read", Write(volts, "V"))],
            [$"U = {Write(volts, "V")} × ({Write(source, "Ω")} + {Write(meter, "Ω")}) / {Write(meter, "Ω")}"]
        );
    }

    private static SumAnswer Platinum(SumInput said)
    {
        var (ohms, zero) = (said.Positive("ohms"), said.MaybePositive("zero") ?? 100);
        return TemperatureSensor.PlatinumCelsius(ohms, zero) is { } celsius
            ? Figure(
                $"{Degrees(celsius)}",
                "Of a sensor by IEC 60751; two-wire leads read as degrees too: 0.39 Ω a degree at 100 Ω.",
                [new("Fahrenheit", Fahrenheit(celsius))],
                $"R = R0 (1 + 3.9083e-3 t − 5.775e-7 t²), R0 = {Write(zero, "Ω")}; below 0 °C a further term"
            )
            : new SumAnswer(
                SumVerdict.Bad,
                "No temperature",
                ohms > zero ? "More than the sensor can read: open, or another kind." : "Less than it can read: shorted, or another kind.",
                [],
                [
                    $"From {Write(TemperatureSensor.PlatinumOhms(-200, zero), "Ω")} at -200 °C "
                        + $"to {Write(TemperatureSensor.PlatinumOhms(850, zero), "Ω")} at 850 °C",
                ]
            );
    }

    private static SumAnswer Thermistor(SumInput said)
    {
        var ohms = said.Positive("ohms");
        if (said.Text("points") is { Length: > 0 } text)
        {
            var points = Points(text);
            var byCurve = TemperatureSensor.ThermistorCelsius(ohms, points);
            return Figure(
                Degrees(byCurve),
                points.Min(p => p.Ohms) <= ohms && ohms <= points.Max(p => p.Ohms)
                    ? "Through the three points."
                    : "Outside the three points: take it with care.",
                [new("Fahrenheit", Fahrenheit(byCurve))],
                "Steinhart and Hart: 1/T = a + b ln R + c (ln R)³ through the three points"
            );
        }

        var (known, at, beta) = (
            said.MaybePositive("known") ?? throw new SumException("known", "Ohms it is known at is missing, or three points."),
            said.Maybe("at") ?? 25,
            said.MaybePositive("beta") ?? throw new SumException("beta", "Beta is missing, or three points of its table.")
        );
        if (at <= -273.15)
        {
            throw new SumException("at", "At: no temperature is that low.");
        }

        var celsius = TemperatureSensor.ThermistorCelsius(ohms, known, at, beta);
        return double.IsFinite(celsius) && celsius is > -200 and < 1000
            ? Figure(
                Degrees(celsius),
                "By beta it is good to a degree or two within 50 degrees of where it is known.",
                [new("Fahrenheit", Fahrenheit(celsius))],
                $"1/T = 1/{Write(at + 273.15, "K")} + ln({Write(ohms, "Ω")} / {Write(known, "Ω")}) / {Write(beta, "")}"
            )
            : new SumAnswer(
                SumVerdict.Bad,
                "No temperature",
                "No thermistor of these figures reads so: open, shorted, or another kind.",
                [],
                []
            );
    }

    private static List<(double Ohms, double Celsius)> Points(string text)
    {
        var parts = text.Split([';', ','], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        List<(double Ohms, double Celsius)> points = [];
        foreach (var part in parts)
        {
            if (part.Split(" at ", StringSplitOptions.TrimEntries) is not [var ohms, var celsius])
            {
                throw new SumException("points", $"\"{part}\" is no point: write for example 10000 at 25.");
            }

            points.Add((Read("points", "Ohms of a point", ohms, "Ω"), Read("points", "Degrees of a point", celsius, "°C")));
        }

        return points.Count == 3 && points.TrueForAll(p => p.Ohms > 0 && p.Celsius > -273.15) && points.DistinctBy(p => p.Ohms).Count() == 3
            ? points
            : throw new SumException("points", "Three points with different ohms are needed, such as 32650 at 0, 10000 at 25, 1750 at 70.");
    }

    private static string Degrees(double celsius) => $"{Measuring.Numbers.Write(Math.Round((decimal)celsius, 1))} °C";

    private static string Fahrenheit(double celsius) => $"{Measuring.Numbers.Write(Math.Round(((decimal)celsius * 9 / 5) + 32, 1))} °F";
}
