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
                Check("ohms10", MeterMode.Ohms, "off", "3 Ω", new("z2", "j1-2")),
                Check("signal", MeterMode.DcVolts, "running", "< 1 V", new("z1", "j2-2")),
                Check("ohms2", MeterMode.Ohms, "off", "3 Ω", new("z1", "j1-2")),
                .. Sample.Model.Checks,
            ],
        };
        var machine = ResolvedMachine.Of(Sample.Machine, model, new Dictionary<string, Core.Boards.BoardType> { ["zb"] = Sample.Board });
        Assert.Equal(
            ["ohms2", "ohms10", "p1", "z1/c1", "z1/c2", "z1/c3", "z2/c1", "z2/c2", "z2/c3", "signal", "lamp"],
            SheetOrder.Of(machine, FeedGraph.Of(machine)).Select(c => c.Key));
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
        var check = new ResolvedCheck("k", Check("k", MeterMode.DcVolts, "running", limit, new("z1", "j1-1")), new OperatingState("running", "running", true), LimitNotation.ReadOne(limit).Limit, DefaultTolerance.Usual, new(Level.Model, ""), new(Level.Model, ""));
        Assert.Equal(traces, SheetOrder.TracesPower(check));
        Assert.False(SheetOrder.TracesPower(check with { State = new OperatingState("off", "off", false) }));
    }

    [Theory]
    [InlineData(5, Unit.Volts, 0.3)]
    [InlineData(24, Unit.Volts, 1.2)]
    [InlineData(-24, Unit.Volts, 1.2)]
    [InlineData(1, Unit.Ohms, 0.5)]
    [InlineData(100, Unit.Ohms, 5)]
    [InlineData(2, Unit.Amps, 0.1)]
    public void A_bare_nominal_takes_the_larger_of_share_and_floor(double nominal, Unit unit, double half) =>
        Assert.Equal((decimal)half, DefaultTolerance.Usual.HalfBand((decimal)nominal, unit));

    private static Check Check(string id, MeterMode mode, string state, string limit, PinAddress? red) =>
        new(id, red is null ? CheckTarget.Part : CheckTarget.PinAndCommon, red, null, red is null ? "lamp" : "", mode, state, null, LimitNotation.ReadOne(limit).Limit, "");
}
