using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class ReadingNotationTests
{
    // Common practice, no source.
    [Theory]
    [InlineData("12.4", MeterMode.DcVolts, "12.4 V")]
    [InlineData("12,4", MeterMode.DcVolts, "12.4 V")]
    [InlineData("-0.3", MeterMode.DcVolts, "-0.3 V")]
    [InlineData("\u22120.3", MeterMode.DcVolts, "-0.3 V")]
    [InlineData(".5", MeterMode.DcVolts, "0.5 V")]
    [InlineData("480 mV", MeterMode.Diode, "0.48 V")]
    [InlineData("1k2", MeterMode.Ohms, "1200 Ω")]
    [InlineData("0.31 k", MeterMode.Ohms, "310 Ω")]
    [InlineData("4M7", MeterMode.Ohms, "4.7 MΩ")]
    [InlineData("4.7M", MeterMode.Ohms, "4.7 MΩ")]
    [InlineData("OL", MeterMode.Ohms, "OL")]
    [InlineData("ol", MeterMode.Ohms, "OL")]
    [InlineData("0.L", MeterMode.Ohms, "OL")]
    [InlineData("~24", MeterMode.DcVolts, "~24 V")]
    [InlineData("+", MeterMode.Contact, "closed")]
    [InlineData("-", MeterMode.Contact, "open")]
    [InlineData("+", MeterMode.Lamp, "on")]
    [InlineData("-", MeterMode.Lamp, "off")]
    [InlineData("+", MeterMode.Continuity, "closed")]
    [InlineData("0.4", MeterMode.Continuity, "0.4 Ω")]
    [InlineData("180 F", MeterMode.Temperature, "82.222 °C")]
    [InlineData("80 °C", MeterMode.Temperature, "80 °C")]
    [InlineData("1.5 min", MeterMode.Time, "90 s")]
    [InlineData("no beep", MeterMode.Continuity, "open")]
    [InlineData("beep", MeterMode.Continuity, "closed")]
    [InlineData("2 GΩ", MeterMode.Ohms, "2000 MΩ")]
    [InlineData("∞", MeterMode.Ohms, "OL")]
    [InlineData("01", MeterMode.Word, "01")]
    [InlineData("47", MeterMode.Capacitance, "47 µF")]
    [InlineData("470 nF", MeterMode.Capacitance, "0.47 µF")]
    [InlineData("0.1 F", MeterMode.Capacitance, "100000 µF")]
    [InlineData("4.7 uF", MeterMode.Capacitance, "4.7 µF")]
    [InlineData("20 mbar", MeterMode.Pressure, "0.02 bar")]
    // 32 psi are 2.206 bar (NIST SP 811; from memory).
    [InlineData("32 psi", MeterMode.Pressure, "2.206322 bar")]
    [InlineData("1450 rpm", MeterMode.Speed, "1450 rpm")]
    [InlineData("500 MΩ", MeterMode.Insulation, "500 MΩ")]
    [InlineData("OL", MeterMode.Insulation, "OL")]
    [InlineData("0.12", MeterMode.EarthBond, "0.12 Ω")]
    [InlineData("0.6 mA", MeterMode.Leakage, "0.0006 A")]
    public void Is_understood_as_typed(string typed, MeterMode mode, string written) =>
        Assert.Equal(written, Assert.Single(ReadingNotation.Read(typed, mode).Choices).Written);

    [Fact]
    public void Two_readings_ask_which() =>
        Assert.Equal(["26.9 V", "24.1 V"], ReadingNotation.Read("26.9 / 24.1", MeterMode.DcVolts).Choices.Select(c => c.Written));

    [Fact]
    public void A_remark_stands_apart_from_the_value()
    {
        var reading = Assert.Single(ReadingNotation.Read("11.8 dropping", MeterMode.DcVolts).Choices);
        Assert.Equal(("11.8 V", "dropping"), (reading.Written, reading.Remark));
    }

    [Theory]
    [InlineData("12 Ω", MeterMode.DcVolts, 0)]
    // A unit is understood or refused, never a remark.
    [InlineData("12 W", MeterMode.DcVolts, 3)]
    [InlineData("180 F", MeterMode.DcVolts, 4)]
    [InlineData("47 µF", MeterMode.Ohms, 0)]
    [InlineData("1.2 bar", MeterMode.DcVolts, 0)]
    [InlineData("1.2 Nm", MeterMode.DcVolts, 4)]
    [InlineData("999999999999999999", MeterMode.DcVolts, 0)]
    [InlineData("12 VAC", MeterMode.DcVolts, 0)]
    [InlineData("12.4.1", MeterMode.DcVolts, 0)]
    [InlineData("12 13", MeterMode.DcVolts, 3)]
    [InlineData("1,200", MeterMode.Ohms, 1)]
    [InlineData("5 MV", MeterMode.DcVolts, 2)]
    [InlineData("+", MeterMode.DcVolts, 0)]
    [InlineData("on", MeterMode.Contact, 0)]
    [InlineData("OL", MeterMode.Lamp, 0)]
    [InlineData("26.9 /", MeterMode.DcVolts, 5)]
    [InlineData(" ", MeterMode.DcVolts, 0)]
    public void Is_refused_with_the_place(string typed, MeterMode mode, int at) =>
        Assert.Equal(at, Assert.Throws<NotationException>(() => ReadingNotation.Read(typed, mode)).At);
}
