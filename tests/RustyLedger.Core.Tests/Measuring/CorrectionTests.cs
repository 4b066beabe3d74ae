using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class CorrectionTests
{
    private static readonly Meter Handheld = Meters.Presets.Single(m => m.Name == "Handheld meter");

    private static Entry Taken(MeterMode mode, string limit, string typed, string about, Meter? meter = null) =>
        new(
            "e",
            1,
            EntryKind.Taken,
            null,
            null,
            null,
            mode,
            "off",
            LimitNotation.ReadOne(limit, mode).Limit,
            DefaultTolerance.Usual,
            ReadingNotation.Read(typed, mode).Choices[0],
            null,
            ""
        )
        {
            About = about,
            Meter = meter,
        };

    /// <summary>R20 = R / (1 + 0.00393 (t - 20)): 24 ohm at 52 °C are 21.3189 ohm at 20 °C, by hand.</summary>
    [Fact]
    public void Copper_is_held_against_its_limit_at_20_degrees()
    {
        var warm = Taken(MeterMode.Ohms, "20..22 Ω", "24 at 52 °C", "valve coil");
        Assert.Equal(21.3189m, ((NumberReading)warm.Counted!).Value);
        Assert.True(warm.Verdict.IsGood);
        Assert.Contains("21.3189 Ω at 20 °C: 24 Ω at 52 °C", warm.Verdict.Reason, StringComparison.Ordinal);
        // Nobody said it is copper, nobody said how warm, or it is to be taken as it was read.
        Assert.Equal(VerdictKind.High, Taken(MeterMode.Ohms, "20..22 Ω", "24 at 52 °C", "resistor").Verdict.Kind);
        Assert.Equal(VerdictKind.High, Taken(MeterMode.Ohms, "20..22 Ω", "24", "valve coil").Verdict.Kind);
        Assert.Equal(VerdictKind.High, Taken(MeterMode.Ohms, "20..22 Ω", "24 at 52 °C as read", "valve coil").Verdict.Kind);
    }

    /// <summary>IEC 60751: 138.51 ohm at 100 °C; from memory.</summary>
    [Theory]
    [InlineData("Pt100", "138.51 Ω", 100)]
    [InlineData("Pt1000 in the tank", "1000 Ω", 0)]
    // A thermistor reads what it is known by at 25 °C, whatever its beta.
    [InlineData("NTC 10k B3950", "10k", 25)]
    [InlineData("NTC 32.65k at 0 °C, 10k at 25 °C, 1.07k at 85 °C", "10k", 25)]
    [InlineData("thermistor 32650 at 0, 10k at 25, 1070 at 85", "1.07k", 85)]
    [InlineData("thermistor 10k, beta 3950", "10k", 25)]
    public void The_ohms_of_a_sensor_are_degrees(string about, string typed, double celsius)
    {
        var entry = Taken(MeterMode.Temperature, "-10..110 °C", typed, about);
        var counted = Assert.IsType<NumberReading>(entry.Counted);
        Assert.Equal(Unit.Celsius, counted.Unit);
        Assert.Equal(celsius, (double)counted.Value, 0.1);
        Assert.True(entry.Verdict.IsGood);
    }

    [Fact]
    public void A_sensor_that_nobody_named_is_not_judged()
    {
        Assert.Equal("sensor not known", Taken(MeterMode.Temperature, "-10..110 °C", "138 Ω", "").Verdict.Rule);
        // No platinum sensor reads so little.
        Assert.Equal("sensor not known", Taken(MeterMode.Temperature, "-10..110 °C", "3 Ω", "Pt100").Verdict.Rule);
    }

    /// <summary>1 MΩ into 10 MΩ: 10 V read are 11 V; into 400 kΩ 3 V read are 10.5 V; by hand.</summary>
    [Fact]
    public void What_the_meter_takes_away_is_given_back_where_the_source_is_known()
    {
        var read = Taken(MeterMode.DcVolts, "11 V ±2 %", "10", "source 1M", Handheld);
        Assert.Equal(11m, ((NumberReading)read.Counted!).Value);
        Assert.True(read.Verdict.IsGood);
        Assert.Equal(10.5m, ((NumberReading)Taken(MeterMode.DcVolts, "11 V", "3 lowz", "source 1M", Handheld).Counted!).Value);
        Assert.Null(Taken(MeterMode.DcVolts, "11 V", "10", "source 1M").Correction);
        Assert.Null(Taken(MeterMode.DcVolts, "11 V", "10", "divider", Handheld).Correction);
        Assert.Null(Taken(MeterMode.DcVolts, "11 V", "10 as read", "source 1M", Handheld).Correction);
    }

    [Fact]
    public void A_diode_that_wants_more_than_the_meter_gives_is_not_judged_by_OL()
    {
        Assert.Equal(2.8m, Handheld.DiodeVolts);
        Assert.Equal("beyond the test", Taken(MeterMode.Diode, "2.6..3.2 V", "OL", "", Handheld).Verdict.Rule);
        Assert.Equal(VerdictKind.High, Taken(MeterMode.Diode, "0.45..0.65 V", "OL", "", Handheld).Verdict.Kind);
        Assert.Equal(VerdictKind.High, Taken(MeterMode.Diode, "2.6..3.2 V", "OL", "").Verdict.Kind);
    }

    [Fact]
    public void Whose_ohms_turn_junctions_on_says_so_in_circuit()
    {
        Assert.True(Handheld.OhmsTurnOnJunctions);
        var low = Taken(MeterMode.Ohms, "90..110 Ω", "45", "", Handheld) with { InCircuit = true };
        Assert.Equal(VerdictKind.NotJudged, low.Verdict.Kind);
        Assert.Contains("turns junctions on", low.Verdict.Reason, StringComparison.Ordinal);
        var gentle = Meters.Read("Gentle\nohms test 0.2 V 1 mA")[0];
        Assert.Equal((0.2m, 0.001m), (gentle.OhmsVolts, gentle.OhmsAmps));
        Assert.DoesNotContain("junctions", (low with { Meter = gentle }).Verdict.Reason, StringComparison.Ordinal);
    }
}
