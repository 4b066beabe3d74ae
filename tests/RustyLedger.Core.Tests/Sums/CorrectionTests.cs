using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Tests.Sums;

/// <summary>Sensors, the load of a meter, and ohms in circuit.</summary>
public sealed class CorrectionTests
{
    /// <summary>IEC 60751, table of the 100 Ω sensor; 0 and 100 °C as in the project's list of checks, the rest from memory.</summary>
    [Theory]
    [InlineData(0, 100.00)]
    [InlineData(100, 138.51)]
    [InlineData(-200, 18.52)]
    [InlineData(-100, 60.26)]
    [InlineData(-50, 80.31)]
    [InlineData(50, 119.40)]
    [InlineData(200, 175.86)]
    [InlineData(400, 247.09)]
    [InlineData(850, 390.48)]
    public void Platinum_reads_by_the_table(double celsius, double ohms)
    {
        Assert.Equal(ohms, TemperatureSensor.PlatinumOhms(celsius, 100), 2);
        Assert.Equal(celsius, TemperatureSensor.PlatinumCelsius(TemperatureSensor.PlatinumOhms(celsius, 100), 100)!.Value, 3);
    }

    [Fact]
    public void What_no_platinum_reads_is_no_temperature()
    {
        Assert.Null(TemperatureSensor.PlatinumCelsius(12, 100));
        Assert.Null(TemperatureSensor.PlatinumCelsius(500, 100));
    }

    /// <summary>By hand: at 50 °C a beta of 3950 K leaves 10 kΩ exp(3950 (1/323.15 − 1/298.15)) = 3588 Ω.</summary>
    [Fact]
    public void A_thermistor_reads_by_its_beta()
    {
        Assert.Equal(25, TemperatureSensor.ThermistorCelsius(10_000, 10_000, 25, 3950), 6);
        Assert.Equal(50, TemperatureSensor.ThermistorCelsius(3588, 10_000, 25, 3950), 1);
    }

    /// <summary>Steinhart and Hart through three points passes through each, and is the beta where the points are of one.</summary>
    [Fact]
    public void A_thermistor_reads_through_three_points()
    {
        (double, double)[] points = [(32_650, 0), (10_000, 25), (1_750, 70)];
        foreach (var (ohms, celsius) in points)
        {
            Assert.Equal(celsius, TemperatureSensor.ThermistorCelsius(ohms, points), 6);
        }

        double Ohms(double celsius) => 10_000 * Math.Exp(3950 * ((1 / (celsius + 273.15)) - (1 / 298.15)));
        (double, double)[] ofBeta = [(Ohms(0), 0), (Ohms(25), 25), (Ohms(80), 80)];
        Assert.Equal(40, TemperatureSensor.ThermistorCelsius(Ohms(40), ofBeta), 6);
    }

    private static SumAnswer Work(string id, params (string Name, string Text)[] typed)
    {
        var sum = BenchSums.All.Single(s => s.Id == id);
        return sum.Answer(new SumInput(sum, typed.ToDictionary(t => t.Name, t => t.Text)));
    }

    /// <summary>By hand: 100 kΩ into 10 MΩ loses 1 part in 101.</summary>
    [Fact]
    public void The_meter_gives_back_what_it_took()
    {
        Assert.Equal("4.6 V", Work("loading", ("volts", "4.55"), ("source", "100k"), ("meter", "10M")).Headline);
        Assert.Equal("5.69 V", Work("loading", ("volts", "4.55"), ("source", "100k"), ("meter", "400k")).Headline);
    }

    [Theory]
    [InlineData("82", "100 Ω ±5 %", "", "", SumVerdict.NotJudged)]
    [InlineData("120", "100 Ω ±5 %", "", "", SumVerdict.Bad)]
    // 82 Ω beside 455 Ω is 100 Ω by itself; beside 200 Ω it is 139 Ω at least, whatever else lies there.
    [InlineData("82", "100 Ω ±5 %", "455", "no, that is all", SumVerdict.Good)]
    [InlineData("82", "100 Ω ±5 %", "200", "not known", SumVerdict.Bad)]
    [InlineData("40", "100 Ω ±5 %", "455", "no, that is all", SumVerdict.Bad)]
    [InlineData("455", "100 Ω ±5 %", "455", "no, that is all", SumVerdict.Bad)]
    [InlineData("82", "", "455", "", SumVerdict.Figure)]
    public void Ohms_in_circuit_say_what_the_part_can_be(string read, string own, string parallel, string all, SumVerdict verdict) =>
        Assert.Equal(verdict, Work("incircuit", ("ohms", read), ("own", own), ("parallel", parallel), ("all", all)).Verdict);

    [Theory]
    [InlineData("incircuit", "parallel", "12, many")]
    [InlineData("incircuit", "parallel", "0")]
    [InlineData("incircuit", "own", "about right")]
    [InlineData("thermistor", "points", "10000 at 25")]
    [InlineData("thermistor", "points", "1 at 2, 1 at 3, 2 at 4")]
    [InlineData("thermistor", "beta", "")]
    public void What_is_wrong_is_named_by_its_field(string id, string field, string text)
    {
        var refused = Assert.Throws<SumException>(() => Work(id, ("ohms", "82"), ("known", "10k"), (field, text)));
        Assert.Equal(field, refused.Name);
    }
}
