using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class SheetOrderTests
{
    [Fact]
    public void Dead_states_come_first_then_the_path_then_the_rest_by_mode_and_place()
    {
        var model = Sample.Model with
        {
            Checks =
            [
                Check("lamp", MeterMode.Lamp, "running", "on", null),
                Check("ohms10", MeterMode.Ohms, "off", "3 Ω", Probe.At("z2", "j1-2")),
                Check("signal", MeterMode.DcVolts, "running", "< 1 V", Probe.At("z1", "j2-2")),
                Check("ohms2", MeterMode.Ohms, "off", "3 Ω", Probe.At("z1", "j1-2")),
                .. Sample.Model.Checks,
            ],
        };
        var machine = ResolvedMachine.Of(
            Sample.Machine,
            model,
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board }
        );
        Assert.Equal(
            ["ohms2", "ohms10", "p1", "z1/c1", "z1/c2", "z1/c3", "z2/c1", "z2/c2", "z2/c3", "signal", "lamp"],
            SheetOrder.Of(machine, FeedGraph.Of(machine)).Select(c => c.Key)
        );
    }

    [Theory]
    [InlineData("24 V", true)]
    [InlineData(">= 18 V", true)]
    [InlineData("-12 V", true)]
    [InlineData("0 V", false)]
    [InlineData("< 1.5 V", false)]
    [InlineData("OL", false)]
    public void Only_a_limit_that_no_volts_would_fail_speaks_of_power(string limit, bool traces)
    {
        var check = new ResolvedCheck(
            "k",
            Check("k", MeterMode.DcVolts, "running", limit, Probe.At("z1", "j1-1")),
            new OperatingState("running", "running", true),
            new(LimitNotation.ReadOne(limit).Limit, new(Level.Model, "")),
            new(DefaultTolerance.Usual, new(Level.Model, "")),
            new(Level.Model, "")
        );
        Assert.Equal(traces, SheetOrder.TracesPower(check));
        Assert.False(SheetOrder.TracesPower(check with { State = new OperatingState("off", "off", false) }));
    }

    [Theory]
    [InlineData(2, Unit.Volts, 1.7, 2.3)]
    [InlineData(36, Unit.Volts, 34.2, 37.8)]
    [InlineData(1, Unit.Ohms, 0.5, 1.5)]
    [InlineData(100, Unit.Ohms, 95, 105)]
    [InlineData(2, Unit.Amps, 1.9, 2.1)]
    public void A_bare_nominal_takes_the_larger_of_share_and_floor(double nominal, Unit unit, double low, double high) =>
        Assert.Equal(((decimal)low, (decimal)high), DefaultTolerance.Usual.BandOf((decimal)nominal, unit, Current.Unstated));

    /// <summary>Regulated rails 5 %, 12, 24, 28 and 48 V otherwise -10/+20 %, mains 10 %: common practice, no source.</summary>
    [Theory]
    [InlineData(3.3, Current.Unstated, 3.135, 3.465)]
    [InlineData(5, Current.Direct, 4.75, 5.25)]
    [InlineData(-15, Current.Unstated, -15.75, -14.25)]
    [InlineData(24, Current.Unstated, 21.6, 28.8)]
    [InlineData(-12, Current.Unstated, -14.4, -10.8)]
    [InlineData(48, Current.Direct, 43.2, 57.6)]
    [InlineData(24, Current.Alternating, 21.6, 28.8)]
    [InlineData(230, Current.Alternating, 207, 253)]
    [InlineData(115, Current.Unstated, 103.5, 126.5)]
    [InlineData(400, Current.Direct, 380, 420)]
    public void A_bare_number_of_volts_takes_what_fits_its_rail(double nominal, Current current, double low, double high) =>
        Assert.Equal(((decimal)low, (decimal)high), DefaultTolerance.Usual.BandOf((decimal)nominal, Unit.Volts, current));

    [Fact]
    public void What_the_board_type_states_goes_before_what_is_usual_and_the_line_names_it()
    {
        Assert.Equal((23.28m, 24.72m), new DefaultTolerance(3, 0.3m).BandOf(24, Unit.Volts, Current.Unstated));
        Assert.Equal("-10/+20 %, usual for an unregulated supply", Resolved("24 V", "").ToleranceWords);
        Assert.Equal("±5 %, said to be regulated", Resolved("24 V", "regulated").ToleranceWords);
        Assert.Equal(
            (22.8m, 25.2m),
            Judge.Band((NumericLimit)Resolved("24 V", "regulated").Limit, Resolved("24 V", "regulated").Tolerance)
        );
        Assert.Equal("-10/+20 %, usual for an unregulated supply", Resolved("24 V", "unregulated").ToleranceWords);
        Assert.Empty(Resolved("24 V ±1 %", "").ToleranceWords);
        Assert.Equal("±5 % or ±0.3 V, where none is stated", Resolved("9 V", "").ToleranceWords);
    }

    private static ResolvedCheck Resolved(string limit, string remark)
    {
        var board = Sample.Board with
        {
            Checks = [.. Sample.Board.Checks.Select(c => c with { Limit = LimitNotation.ReadOne(limit).Limit, Remark = remark })],
        };
        return Sample.Resolved(board: board).Checks.First(c => c.Key == "z1/c1");
    }

    /// <summary>"B+" is what the supply reads now, less half a volt; nothing is judged by it before the supply was read.</summary>
    [Fact]
    public void B_plus_is_what_the_supply_reads_now()
    {
        var batt = LimitNotation.ReadOne("B+", MeterMode.DcVolts).Limit;
        var board = Sample.Board with { Checks = [.. Sample.Board.Checks.Select(c => c with { Limit = batt })] };
        var machine = Sample.Resolved(board: board);
        RoundSheet Sheet(params Entry[] entries) => RoundSheet.Of(machine, FeedGraph.Of(machine), entries);
        Entry At(long order, string typed) => Sample.Reading(order, "z2/c1", typed) with { Limit = batt };
        VerdictKind Verdict(RoundSheet sheet) => sheet.Rows.Single(r => r.Check.Key == "z2/c1").Reading!.Verdict.Kind;
        Assert.Equal(VerdictKind.NotJudged, Verdict(Sheet(At(2, "12.2"))));
        Assert.Equal(VerdictKind.Marginal, Verdict(Sheet(Sample.Reading(1, "p1", "12.7"), At(2, "12.2"))));
        Assert.Equal(VerdictKind.Low, Verdict(Sheet(Sample.Reading(1, "p1", "12.7"), At(2, "12.1"))));
        Assert.Equal(VerdictKind.Within, Verdict(Sheet(Sample.Reading(1, "p1", "10.5"), At(2, "10.6"))));
        // The supply read again moves it, and a dead pin opens a stretch like any other.
        var sheet = Sheet(Sample.Reading(1, "p1", "12.7"), At(2, "0"), Sample.Reading(3, "p1", "13.9"));
        Assert.Equal(VerdictKind.Dead, Verdict(sheet));
        Assert.Contains("13.4 V", sheet.Rows.Single(r => r.Check.Key == "z2/c1").Check.ToleranceWords, StringComparison.Ordinal);
        Assert.Contains(sheet.Paths[0].Report.Stretches, s => sheet.Paths[0].Report.Graph.Pins[s.Bad] == Probe.At("z2", "j1-1"));
    }

    private static Check Check(string id, MeterMode mode, string state, string limit, PinAddress? red) =>
        new(
            id,
            red is null ? CheckTarget.Part : CheckTarget.PinAndCommon,
            red,
            null,
            red is null ? "lamp" : "",
            mode,
            state,
            null,
            LimitNotation.ReadOne(limit).Limit,
            ""
        );
}
