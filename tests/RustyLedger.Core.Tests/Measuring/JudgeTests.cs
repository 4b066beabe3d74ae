using CsCheck;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>Edges of the verdicts. The thresholds are common practice, no source.</summary>
public sealed class JudgeTests
{
    [Theory]
    [InlineData("either 12 V or 0 V", "12.1", VerdictKind.Within)]
    [InlineData("either 12 V or 0 V", "0.1", VerdictKind.Within)]
    [InlineData("either 12 V or 0 V", "6", VerdictKind.Differs)]
    // The band of 24 V ±5 % is 22.8 to 25.2; a tenth of its half is 0.12.
    [InlineData("24 V ±5 %", "22.79", VerdictKind.Low)]
    [InlineData("24 V ±5 %", "22.8", VerdictKind.Marginal)]
    [InlineData("24 V ±5 %", "22.92", VerdictKind.Marginal)]
    [InlineData("24 V ±5 %", "22.93", VerdictKind.Within)]
    [InlineData("24 V ±5 %", "25.07", VerdictKind.Within)]
    [InlineData("24 V ±5 %", "25.08", VerdictKind.Marginal)]
    [InlineData("24 V ±5 %", "25.2", VerdictKind.Marginal)]
    [InlineData("24 V ±5 %", "25.21", VerdictKind.High)]
    // Dead is below 5 % of 22.8, which is 1.14.
    [InlineData("24 V ±5 %", "1.13", VerdictKind.Dead)]
    [InlineData("24 V ±5 %", "-1.13", VerdictKind.Dead)]
    [InlineData("24 V ±5 %", "1.14", VerdictKind.Low)]
    [InlineData("24 V ±5 %", "-24", VerdictKind.Reversed)]
    [InlineData("24 V ±5 %", "-3", VerdictKind.Low)]
    [InlineData("-12 V ±5 %", "12", VerdictKind.Reversed)]
    [InlineData("-12 V ±5 %", "-0.2", VerdictKind.Dead)]
    [InlineData("-12 V ±5 %", "-11", VerdictKind.Low)]
    // The floor of half a volt rules below a lower limit of 10 V.
    [InlineData("5 V", "0.49", VerdictKind.Dead)]
    [InlineData("5 V", "0.5", VerdictKind.Low)]
    // A bare nominal takes ±5 % or ±0.3 V, whichever is larger: 4.7 to 5.3, and 0 to within 0.3.
    [InlineData("5 V", "4.75", VerdictKind.Marginal)]
    [InlineData("5 V", "4.74", VerdictKind.Low)]
    [InlineData("0 V", "0", VerdictKind.Within)]
    [InlineData("0 V", "0.3", VerdictKind.Marginal)]
    [InlineData("0 V", "-0.31", VerdictKind.Low)]
    [InlineData("10 ±0.5 V", "10.5", VerdictKind.Marginal)]
    [InlineData("10 ±0.5 V", "10.51", VerdictKind.High)]
    [InlineData("24 V ±0 %", "24", VerdictKind.Within)]
    // One-sided: within 5 % of the limit is marginal; > and < leave their edge out.
    [InlineData(">= 25 Ω", "25", VerdictKind.Marginal)]
    [InlineData(">= 25 Ω", "26.25", VerdictKind.Marginal)]
    [InlineData(">= 25 Ω", "26.26", VerdictKind.Within)]
    [InlineData(">= 25 Ω", "24.99", VerdictKind.Low)]
    [InlineData("> 25 Ω", "25", VerdictKind.Low)]
    [InlineData("< 0.5 Ω", "0.5", VerdictKind.High)]
    [InlineData("<= 0.5 Ω", "0.5", VerdictKind.Marginal)]
    [InlineData("< 0.5 Ω", "0.4", VerdictKind.Within)]
    [InlineData("<= 0 V", "0", VerdictKind.Within)]
    [InlineData("8..12 V", "8", VerdictKind.Marginal)]
    [InlineData("8..12 V", "10", VerdictKind.Within)]
    [InlineData("8..12 V", "12.01", VerdictKind.High)]
    [InlineData("1 Ω", "1.4", VerdictKind.Within)]
    public void Numbers_are_held_against_the_band(string limit, string reading, VerdictKind expected) =>
        Assert.Equal(expected, Verdict(limit, reading).Kind);

    [Theory]
    [InlineData("OL", "OL", VerdictKind.Within)]
    [InlineData("OL", "4M7", VerdictKind.Low)]
    [InlineData("short", "0.4", VerdictKind.Within)]
    [InlineData("short", "OL", VerdictKind.High)]
    [InlineData("short", "12", VerdictKind.High)]
    public void Paths_are_there_or_not(string limit, string reading, VerdictKind expected) =>
        Assert.Equal(expected, Verdict(limit, reading, MeterMode.Ohms).Kind);

    [Theory]
    [InlineData("closed", "+", MeterMode.Contact, VerdictKind.Within)]
    [InlineData("open", "+", MeterMode.Contact, VerdictKind.Differs)]
    [InlineData("open", "OL", MeterMode.Continuity, VerdictKind.Within)]
    [InlineData("closed", "0.3", MeterMode.Continuity, VerdictKind.Within)]
    [InlineData("on", "-", MeterMode.Lamp, VerdictKind.Differs)]
    [InlineData("01", "02", MeterMode.Word, VerdictKind.Differs)]
    [InlineData("ab", "AB", MeterMode.Word, VerdictKind.Within)]
    public void States_and_words_are_the_same_or_differ(string limit, string reading, MeterMode mode, VerdictKind expected)
    {
        var of = LimitNotation.ReadOne(limit, mode == MeterMode.Word ? mode : null).Limit;
        Assert.Equal(expected, Judge.Verdict(ReadingNotation.Read(reading, mode).Choices[0], of, DefaultTolerance.Usual).Kind);
    }

    [Theory]
    [InlineData("24 V")]
    [InlineData(">= 25 Ω")]
    [InlineData("< 0.5 Ω")]
    [InlineData("8..12 V")]
    [InlineData("short")]
    [InlineData("closed")]
    public void OL_is_out_under_every_limit_that_does_not_say_OL(string limit) =>
        Assert.True(Judge.Verdict(new OverloadReading(), LimitNotation.ReadOne(limit).Limit, DefaultTolerance.Usual).IsOut);

    [Fact]
    public void Every_verdict_names_its_rule_and_its_numbers()
    {
        var verdict = Verdict("24 V ±5 %", "19.2");
        Assert.Equal(("below the limit", "low: 3.6 V under the least allowed, 22.8 V"), (verdict.Rule, verdict.Reason));
    }

    [Fact]
    public void A_reading_that_goes_up_never_turns_from_high_to_good() =>
        Gen.Select(Gen.Int[1, 4000], Gen.Int[0, 50], Gen.Int[0, 6000], Gen.Int[0, 2000])
            .Sample(
                (nominal, percent, low, more) =>
                {
                    var limit = new NominalLimit(nominal / 10m, percent, null, Unit.Volts, Current.Direct);
                    var lower = Judge.Verdict(new NumberReading(low / 10m, Unit.Volts), limit, DefaultTolerance.Usual).Kind;
                    var higher = Judge.Verdict(new NumberReading((low + more) / 10m, Unit.Volts), limit, DefaultTolerance.Usual).Kind;
                    Assert.True(Rank(lower) <= Rank(higher), $"{lower} then {higher}");
                }
            );

    private static int Rank(VerdictKind kind) =>
        kind switch
        {
            VerdictKind.Dead => 0,
            VerdictKind.Low => 1,
            VerdictKind.High => 3,
            _ => 2,
        };

    private static Verdict Verdict(string limit, string reading, MeterMode? mode = null)
    {
        var of = LimitNotation.ReadOne(limit).Limit;
        var how = mode ?? ((of as NumericLimit)?.Unit == Unit.Ohms ? MeterMode.Ohms : MeterMode.DcVolts);
        return Judge.Verdict(ReadingNotation.Read(reading, how).Choices[0], of, DefaultTolerance.Usual);
    }

    [Theory]
    [InlineData("-24", "< 0.5 V", MeterMode.DcVolts, VerdictKind.Reversed)]
    [InlineData("-0.3", "< 0.5 V", MeterMode.DcVolts, VerdictKind.Within)]
    [InlineData("-5", "<= 2 A", MeterMode.DcAmps, VerdictKind.Reversed)]
    [InlineData("24", "no reading", MeterMode.DcVolts, VerdictKind.NotJudged)]
    [InlineData("-3", ">= 25 Ω", MeterMode.Ohms, VerdictKind.NotJudged)]
    [InlineData("-3", "short", MeterMode.Ohms, VerdictKind.NotJudged)]
    // Above the band is never dead, however small the band.
    [InlineData("0.3", "0.1..0.2 V", MeterMode.DcVolts, VerdictKind.High)]
    [InlineData("-0.3", "-0.2..-0.1 V", MeterMode.DcVolts, VerdictKind.High)]
    // A negative rail by its size.
    [InlineData("-10", "-12 V ±5 %", MeterMode.DcVolts, VerdictKind.Low)]
    [InlineData("-14", "-12 V ±5 %", MeterMode.DcVolts, VerdictKind.High)]
    [InlineData("-0.2", "-12 V ±5 %", MeterMode.DcVolts, VerdictKind.Dead)]
    [InlineData("12", "-12 V ±5 %", MeterMode.DcVolts, VerdictKind.Reversed)]
    [InlineData("-9", "< -10 V", MeterMode.DcVolts, VerdictKind.Low)]
    [InlineData("OL", "no beep", MeterMode.Continuity, VerdictKind.Within)]
    [InlineData("0.4", "beep", MeterMode.Continuity, VerdictKind.Within)]
    public void Size_sign_and_kind_are_looked_at(string typed, string limit, MeterMode mode, VerdictKind kind) =>
        Assert.Equal(
            kind,
            Judge
                .Verdict(ReadingNotation.Read(typed, mode).Choices[0], LimitNotation.ReadOne(limit, mode).Limit, DefaultTolerance.Usual)
                .Kind
        );

    /// <summary>Kinds beside volts, amps and ohms; limits of no source, to show the edges.</summary>
    [Theory]
    [InlineData(">= 1 MΩ", "2.2 MΩ", MeterMode.Insulation, VerdictKind.Within)]
    [InlineData(">= 1 MΩ", "0.4 MΩ", MeterMode.Insulation, VerdictKind.Low)]
    [InlineData("OL", "OL", MeterMode.Insulation, VerdictKind.Within)]
    [InlineData("<= 0.1 Ω", "0.3", MeterMode.EarthBond, VerdictKind.High)]
    [InlineData("<= 3.5 mA", "0.6 mA", MeterMode.Leakage, VerdictKind.Within)]
    [InlineData("<= 3.5 mA", "6 mA", MeterMode.Leakage, VerdictKind.High)]
    [InlineData("47 µF ±20 %", "21 µF", MeterMode.Capacitance, VerdictKind.Low)]
    [InlineData("20 mbar ±2", "19.8 mbar", MeterMode.Pressure, VerdictKind.Within)]
    [InlineData("1440 rpm ±3 %", "1300", MeterMode.Speed, VerdictKind.Low)]
    public void Every_kind_is_held_against_its_limit(string limit, string typed, MeterMode mode, VerdictKind expected)
    {
        var held = LimitNotation.ReadOne(limit, mode).Limit;
        var read = ReadingNotation.Read(typed, mode).Choices[0];
        Assert.Equal(expected, Judge.Verdict(read, held, DefaultTolerance.Usual).Kind);
        // What goes out comes in as the same.
        Assert.Equal(held, LimitNotation.ReadOne(LimitNotation.Write(held), mode).Limit);
    }
}
