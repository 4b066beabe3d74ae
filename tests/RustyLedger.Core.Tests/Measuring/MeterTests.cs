using CsCheck;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>What a meter can know, and what a shop writes of its meters.</summary>
public sealed class MeterTests
{
    private static readonly Meter Handheld = Meters.Presets.Single(m => m.Name == "Handheld meter");
    private static readonly Meter TwoPole = Meters.Presets.Single(m => m.Name == "Two-pole tester");

    private static Verdict Read(string limit, string typed, Meter meter, MeterMode mode = MeterMode.DcVolts)
    {
        var held = (NumericLimit)LimitNotation.ReadOne(limit, mode).Limit;
        var read = (NumberReading)ReadingNotation.Read(typed, mode).Choices[0];
        return MeterVerdict.Of(Judge.Verdict(read, held, DefaultTolerance.Usual), read, held, DefaultTolerance.Usual, mode, meter);
    }

    /// <summary>
    /// By hand: 24.00 V on the 60 V range, 0.5 % + 2 × 0.01 V = 0.14 V; u = 0.14 / √3 = 0.0808 V, U = 0.1617 V (JCGM 100, 4.3.7 for the
    /// even spread).
    /// </summary>
    [Theory]
    // 24 V ±5 % is 22.8 to 25.2 V; at 22.8 V the meter knows it to ±0.1547 V.
    [InlineData("22.79", VerdictKind.Low)]
    [InlineData("22.8", VerdictKind.Marginal)]
    [InlineData("22.95", VerdictKind.Marginal)]
    [InlineData("22.96", VerdictKind.Within)]
    [InlineData("24", VerdictKind.Within)]
    // At 25.03 V it knows it to ±0.1676 V.
    [InlineData("25.02", VerdictKind.Within)]
    [InlineData("25.04", VerdictKind.Marginal)]
    [InlineData("25.2", VerdictKind.Marginal)]
    [InlineData("25.21", VerdictKind.High)]
    public void Inside_is_marginal_where_it_is_closer_than_the_meter_can_tell_and_outside_is_out(string typed, VerdictKind expected)
    {
        var verdict = Read("24 V ±5 %", typed, Handheld);
        Assert.Equal(expected, verdict.Kind);
        Assert.Contains("U = 2 u", verdict.Working, StringComparison.Ordinal);
    }

    [Fact]
    public void The_side_is_named_and_the_numbers_stand_behind_it()
    {
        var verdict = Read("24 V ±5 %", "22.85", Handheld);
        Assert.Contains("at the low side, 22.8 V", verdict.Reason, StringComparison.Ordinal);
        Assert.Contains("0.5 % of 22.85 V + 2 × 0.01 V = 0.134 V", verdict.Working, StringComparison.Ordinal);
    }

    [Theory]
    // A tester with steps of 1 V knows 5.1 V to ±3.6 V.
    [InlineData("5 V ±5 %", "5", VerdictKind.NotJudged, "too near to tell")]
    [InlineData("230 V ±10 %", "231", VerdictKind.Within, "within")]
    [InlineData("5 V ±5 %", "0", VerdictKind.Dead, "no volts")]
    [InlineData("24 V", "1200", VerdictKind.NotJudged, "more than the Two-pole tester shows")]
    public void What_a_meter_cannot_resolve_is_too_near_to_tell(string limit, string typed, VerdictKind expected, string says)
    {
        var verdict = Read(limit, typed, TwoPole);
        Assert.Equal(expected, verdict.Kind);
        Assert.Contains(says, verdict.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void What_the_meter_does_not_measure_stays_as_the_rule_has_it() =>
        Assert.Equal(VerdictKind.Low, Read(">= 25 Ω", "12", TwoPole, MeterMode.Ohms).Kind);

    /// <summary>Tables of the normal distribution; from memory.</summary>
    [Theory]
    [InlineData(0, 0.5)]
    [InlineData(1, 0.8413447)]
    [InlineData(1.96, 0.9750021)]
    [InlineData(2, 0.9772499)]
    [InlineData(-3, 0.0013499)]
    public void The_normal_distribution_is_that_of_the_tables(double z, double expected) =>
        Assert.Equal(expected, MeterVerdict.Normal(z), 6);

    /// <summary>
    /// JCGM 106:2012, 7.4 and ILAC-G8:09/2019: on the limit the probability is a half; a guard band of U = 2 u away from it is at least
    /// 97.7 %; between two limits it is the difference of the two.
    /// </summary>
    [Theory]
    [InlineData(10, 0.5, null, 10d, 0.5)]
    [InlineData(9, 0.5, null, 10d, 0.97725)]
    [InlineData(11, 0.5, null, 10d, 0.02275)]
    [InlineData(10, 0.5, 9d, 11d, 0.9545)]
    [InlineData(10, 0, 9d, 11d, 1)]
    [InlineData(8, 0, 9d, 11d, 0)]
    public void Conformance_is_the_probability_between_the_limits(double read, double u, double? low, double? high, double expected) =>
        Assert.Equal(expected, MeterVerdict.Conformance(read, u, low, high), 4);

    /// <summary>Of any reading and band: outside stays what it was, and a meter without doubt leaves only within.</summary>
    [Fact]
    public void A_meter_never_acquits_what_is_out()
    {
        var sharp = Handheld with { Functions = [new(MeterMode.DcVolts, 0, 0, [new(1000, 0.001m)])] };
        Gen.Select(Gen.Int[0, 6000], Gen.Int[1, 50], Gen.Int[0, 6000])
            .Sample(
                (nominal, percent, read) =>
                {
                    var limit = new NominalLimit(nominal / 10m, percent, null, Unit.Volts, Current.Direct);
                    var value = new NumberReading(read / 10m, Unit.Volts);
                    var ruled = Judge.Verdict(value, limit, DefaultTolerance.Usual);
                    var held = MeterVerdict.Of(ruled, value, limit, DefaultTolerance.Usual, MeterMode.DcVolts, Handheld);
                    Assert.Equal(ruled.IsOut, held.IsOut);
                    var exact = MeterVerdict.Of(ruled, value, limit, DefaultTolerance.Usual, MeterMode.DcVolts, sharp);
                    Assert.Equal(ruled.IsOut ? ruled.Kind : VerdictKind.Within, exact.Kind);
                }
            );
    }

    [Fact]
    public void A_shop_describes_its_own_and_it_stands_for_the_preset_of_its_name()
    {
        var meters = Meters.With(
            "Blue one\r\ncat. iii 300 V\ninput 10 MΩ\nDC volts ±(1,5 % + 3): 6 V by 1 mV, 60 V by 0.01 V\n\nclamp meter\ntrue rms"
        );
        Assert.Equal(["Blue one", "clamp meter", "Bench meter", "Handheld meter", "Two-pole tester"], meters.Select(m => m.Name));
        var blue = meters[0];
        Assert.Equal((3, 300m, 10_000_000m, 300m), (blue.Category, blue.CategoryVolts, blue.InputOhms, blue.LineVolts));
        var volts = Assert.Single(blue.Functions);
        Assert.Equal((1.5m, 3m, 0.001m), (volts.Percent, volts.Counts, volts.RangeOf(-5)!.Step));
        Assert.Equal(0.01m, volts.RangeOf(6.1m)!.Step);
        Assert.Null(volts.RangeOf(61));
        Assert.Equal(0, Meters.Presets[0].LineVolts);
    }

    [Theory]
    [InlineData("Blue\nvolts galore", "Line 2")]
    [InlineData("DC volts 1 % + 2: 6 V by 0.001 V", "begins with its name")]
    [InlineData("Blue\nDC volts 1 % + 2: 6 V", "is no range")]
    [InlineData("Blue\nDC volts 1 % + 2: 60 V by 0.01 V, 6 V by 0.001 V", "from the smallest up")]
    [InlineData("Blue\nDC volts 1 % + 2: 6 V by 6 V", "smaller than the range")]
    [InlineData("Blue\nDC volts 1 % + 2: 6 A by 0.001 V", "not understood")]
    [InlineData("Blue\nlamp 1 % + 2: 6 V by 0.001 V", "nothing that is measured in numbers")]
    [InlineData("Blue\nDC volts 1 % + 2: 6 V by 0.001 V\nDC volts 1 % + 2: 6 V by 0.001 V", "twice")]
    [InlineData("Blue\n\nBLUE", "another of that name")]
    public void What_is_not_understood_is_named_by_its_line(string text, string says) =>
        Assert.Contains(says, Meters.Refusal(text)?.Problem ?? "", StringComparison.Ordinal);

    [Theory]
    [InlineData("chopped by the drive", true)]
    [InlineData("PWM", true)]
    [InlineData("phase-controlled", true)]
    [InlineData("24 V in", false)]
    public void A_chopped_waveform_wants_a_meter_that_reads_it(string remark, bool isChopped)
    {
        var own = Sample.Resolved().Checks[0].Check with { Id = "own", Remark = remark, Mode = MeterMode.AcVolts };
        var machine = Sample.Resolved(Sample.Machine with { Checks = [own with { Limit = LimitNotation.ReadOne("24 V AC").Limit }] });
        Assert.Equal(isChopped, Waveform.IsChopped(machine.Checks.Single(c => c.Key == "own"), machine));
        var entry = Sample.Reading(1, "own", "24", machine.Machine) with { IsChopped = isChopped };
        Assert.Equal(
            isChopped ? VerdictKind.NotJudged : VerdictKind.Within,
            (entry with { Meter = Meters.Presets.Single(m => m.Name == "Clamp meter") }).Verdict.Kind
        );
        Assert.Equal(VerdictKind.Within, (entry with { Meter = Handheld }).Verdict.Kind);
        Assert.Equal(VerdictKind.Within, entry.Verdict.Kind);
    }
}
