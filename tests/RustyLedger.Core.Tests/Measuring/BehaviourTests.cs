using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>The kinds of check that are more than one number under one limit. All values are common practice, no source.</summary>
public sealed class BehaviourTests
{
    private static Verdict Judged(string limit, string typed, MeterMode mode) =>
        Judge.Verdict(ReadingNotation.Read(typed, mode).Choices[0], LimitNotation.ReadOne(limit, mode).Limit, DefaultTolerance.Usual);

    [Theory]
    [InlineData("follows >= 5 V", "2.1..9.8", VerdictKind.Within, "rises by 7.7 V")]
    [InlineData("follows by >= 5 V", "2.1 to 5.2", VerdictKind.Low, "rises by 3.1 V")]
    [InlineData("follows >= 5 V", "9.8..2.1", VerdictKind.Reversed, "falls by 7.7 V")]
    [InlineData("follows -8..-6 V", "9.8..2.1", VerdictKind.Within, "falls by 7.7 V")]
    [InlineData("follows >= 5 V", "9.8", VerdictKind.NotJudged, "two values tell")]
    public void What_follows_its_control_is_judged_by_how_much(string limit, string typed, VerdictKind kind, string says)
    {
        var verdict = Judged(limit, typed, MeterMode.DcVolts);
        Assert.Equal(kind, verdict.Kind);
        Assert.Contains(says, verdict.Reason, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("1.1 jumps", VerdictKind.Within)]
    [InlineData("1.1 steady", VerdictKind.Differs)]
    [InlineData("1.1", VerdictKind.NotJudged)]
    [InlineData("~1.1 jumps", VerdictKind.Differs)]
    [InlineData("4.2 jumps", VerdictKind.High)]
    [InlineData("OL", VerdictKind.High)]
    public void Brushes_jump_while_turned_and_come_back(string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged("settles 1 Ω ±0.6", typed, MeterMode.Ohms).Kind);

    [Theory]
    [InlineData("fan 0, click 3.1, spark 7, flame 9", VerdictKind.Within, "in order and in time")]
    [InlineData("fan 0, spark 7, flame 9", VerdictKind.Differs, "click never came after fan")]
    [InlineData("click 1, fan 2, spark 7, flame 9", VerdictKind.Differs, "click came before fan")]
    [InlineData("fan 0, click 6.5, spark 7, flame 9", VerdictKind.Differs, "click at 6.5 s, 1.5 s too late")]
    [InlineData("fan 0, click 1, spark 7, flame 9", VerdictKind.Differs, "click at 1 s, 1 s too early")]
    [InlineData("fan, click, spark, flame", VerdictKind.NotJudged, "nobody noted the seconds of click")]
    public void A_sequence_keeps_its_order_and_its_seconds(string typed, VerdictKind kind, string says)
    {
        var verdict = Judged("fan, click 2..5, spark, flame", typed, MeterMode.Sequence);
        Assert.Equal(kind, verdict.Kind);
        Assert.Contains(says, verdict.Reason, StringComparison.Ordinal);
    }

    [Theory]
    // Each input shorted to common shows as its bit: 01, 02, 04.
    [InlineData("bits 0 on", "01", VerdictKind.Within)]
    [InlineData("bits 1 on 0 off", "02", VerdictKind.Within)]
    [InlineData("bits 0000 0100", "04", VerdictKind.Within)]
    [InlineData("bits 0000 0100", "06", VerdictKind.Differs)]
    [InlineData("bits .... .1..", "06", VerdictKind.Within)]
    [InlineData("bits 0000 0100", "0b100", VerdictKind.Within)]
    [InlineData("bits 0000 0100", "run", VerdictKind.NotJudged)]
    public void A_word_is_judged_bit_by_bit(string limit, string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged(limit, typed, MeterMode.Word).Kind);

    [Fact]
    public void The_bit_that_is_wrong_is_named() =>
        Assert.Equal("06 is 0000 0110: bit 1 should be off", Judged("bits 0000 0100", "06", MeterMode.Word).Reason);

    [Theory]
    [InlineData("heard", "heard", VerdictKind.Within)]
    [InlineData("heard", "-", VerdictKind.Differs)]
    [InlineData("silent", "heard", VerdictKind.Differs)]
    [InlineData("heard 15 times", "15 beeps", VerdictKind.Within)]
    [InlineData("heard 15 times", "14 x", VerdictKind.Differs)]
    [InlineData("heard 15 times", "heard", VerdictKind.NotJudged)]
    public void What_is_heard_is_counted_where_that_matters(string limit, string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged(limit, typed, MeterMode.Sound).Kind);

    [Theory]
    [InlineData("123", VerdictKind.Within)]
    [InlineData("clockwise", VerdictKind.Within)]
    [InlineData("132", VerdictKind.Differs)]
    [InlineData("L3 L2 L1", VerdictKind.Differs)]
    [InlineData("missing", VerdictKind.NotJudged)]
    public void Phases_follow_in_their_order(string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged("L1 L2 L3", typed, MeterMode.PhaseRotation).Kind);

    [Theory]
    [InlineData("beeps", VerdictKind.Within)]
    [InlineData("silent", VerdictKind.Differs)]
    [InlineData("beeps in place", VerdictKind.NotJudged)]
    [InlineData("24.1 24 0 lowz alone", VerdictKind.Within)]
    // The live trap: nothing across it on a circuit that is not fed, or fed back, or read by a plain meter.
    [InlineData("? ? 0", VerdictKind.NotJudged)]
    [InlineData("0 0 0 lowz alone", VerdictKind.NotJudged)]
    [InlineData("24.1 24 0 lowz", VerdictKind.NotJudged)]
    [InlineData("24.1 24 0 alone", VerdictKind.NotJudged)]
    [InlineData("24.1 0.1 0 lowz", VerdictKind.Differs)]
    [InlineData("24.1 0 24", VerdictKind.Differs)]
    public void A_fuse_is_a_check_of_the_round(string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged("good fuse, 24 V", typed, MeterMode.Fuse).Kind);

    [Fact]
    public void A_fuse_is_written_as_it_is_read_again()
    {
        foreach (var typed in (string[])["beeps", "silent in place", "24.1 ? 0 lowz", "230 229.8 0.1 lowz alone", "12"])
        {
            var read = (FuseReading)ReadingNotation.Read(typed, MeterMode.Fuse).Choices[0];
            Assert.Equal(read, ReadingNotation.Read(read.Written, MeterMode.Fuse).Choices[0]);
        }
    }

    [Fact]
    public void The_worse_end_of_a_capture_decides()
    {
        Assert.Equal(VerdictKind.Low, Judged("11.5..14.5 V", "9.8..14.1", MeterMode.DcVolts).Kind);
        Assert.Equal(VerdictKind.High, Judged("11.5..14.5 V", "15.2..12", MeterMode.DcVolts).Kind);
        var inside = Judged("11.5..14.5 V", "12.4..13.6", MeterMode.DcVolts);
        Assert.Equal(VerdictKind.Within, inside.Kind);
        Assert.StartsWith("between 12.4 and 13.6 V", inside.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void A_clamp_shows_volts_for_amps()
    {
        var read = Assert.IsType<NumberReading>(ReadingNotation.Read("34 mV at 10 mV/A", MeterMode.DcAmps).Choices[0]);
        Assert.Equal((3.4m, Unit.Amps), (read.Value, read.Unit));
        Assert.Equal(
            read.Value,
            Assert.IsType<NumberReading>(ReadingNotation.Read("0.034 V @ 10 mV/A", MeterMode.Inrush).Choices[0]).Value
        );
        var refused = Assert.Throws<NotationException>(() => ReadingNotation.Read("34 mV", MeterMode.AcAmps));
        Assert.Contains("per amp", refused.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("50 % ±5 %", "54.9", VerdictKind.Marginal)]
    [InlineData("50 ±5", "56 %", VerdictKind.High)]
    [InlineData("40..60 %", "50", VerdictKind.Within)]
    public void A_duty_is_in_per_cent_and_so_is_its_band(string limit, string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged(limit, typed, MeterMode.Duty).Kind);

    [Theory]
    [InlineData(MeterMode.ResidualTrip, "<= 300 ms", "28 ms", VerdictKind.Within)]
    [InlineData(MeterMode.ResidualTrip, "<= 300 ms", "OL", VerdictKind.High)]
    [InlineData(MeterMode.Inrush, "<= 40 A", "62", VerdictKind.High)]
    [InlineData(MeterMode.Ripple, "<= 200 mV", "0.35", VerdictKind.High)]
    [InlineData(MeterMode.BatteryUnderLoad, ">= 11 V", "9.6", VerdictKind.Low)]
    [InlineData(MeterMode.Lamp, "blinking", "blinking", VerdictKind.Within)]
    [InlineData(MeterMode.Lamp, "blinking", "on", VerdictKind.Differs)]
    [InlineData(MeterMode.Lamp, "on", "blinks", VerdictKind.Differs)]
    public void Each_kind_has_its_units_and_words(MeterMode mode, string limit, string typed, VerdictKind kind) =>
        Assert.Equal(kind, Judged(limit, typed, mode).Kind);

    [Theory]
    [InlineData(MeterMode.Ripple, "0.01 no load", SafeCondition.Live, "no load")]
    [InlineData(MeterMode.BatteryUnderLoad, "12.6 unloaded", SafeCondition.Live, "no load")]
    [InlineData(MeterMode.Leakage, "0.1 mA", SafeCondition.ProvedDead, "taken dead")]
    [InlineData(MeterMode.Insulation, "200 M", SafeCondition.Live, "taken live")]
    public void What_the_moment_does_not_allow_is_not_judged(MeterMode mode, string typed, SafeCondition condition, string rule)
    {
        var limit = LimitNotation.ReadOne(mode.UnitOf() == Unit.Ohms ? ">= 1 M" : "<= 20", mode).Limit;
        var value = ReadingNotation.Read(typed, mode).Choices[0];
        var entry = new Entry("e", 1, EntryKind.Taken, null, null, null, mode, "run", limit, DefaultTolerance.Usual, value, null, "")
        {
            Condition = condition,
        };
        Assert.Equal((VerdictKind.NotJudged, rule), (entry.Verdict.Kind, entry.Verdict.Rule));
    }
}
