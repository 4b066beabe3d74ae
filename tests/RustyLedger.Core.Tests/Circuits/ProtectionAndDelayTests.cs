using RustyLedger.Core.Circuits;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>Residual-current devices, breakers, and what switches only after a while; each worked out by hand.</summary>
public sealed class ProtectionAndDelayTests
{
    /// <summary>230 V through a device of two poles into a heater; the neutral is earthed at the source, and something may leak.</summary>
    private static OperatingPoint Heater(double leakOhms, string from, double tripsAt = 0.03, double amps = 25) =>
        OperatingPoint.Of(
            new Circuit([
                new VoltageSource("mains", "L", "N", 0, 0.2, 230),
                new Resistance("star point", "N", "0", 0.5),
                .. PartElements.Of(
                    "RCD1",
                    PartNotation.Read($"residual-current breaker {amps:0} A, trips at {tripsAt * 1000:0} mA"),
                    ["L", "l", "N", "n"],
                    false,
                    ""
                ),
                new Resistance("heater", "l", "n", 23),
                new Resistance("leak", from, "0", leakOhms),
            ])
        );

    private static ElementState[] Poles(OperatingPoint point) => [point.States["RCD1 pole 1"], point.States["RCD1 pole 2"]];

    [Theory]
    // 230 V over so many ohms to earth: 23 mA stay below 30 mA, 46 mA do not; below 10 mA either does.
    [InlineData(10_000, "l", 0.03, false)]
    [InlineData(5_000, "l", 0.03, true)]
    [InlineData(10_000, "l", 0.01, true)]
    [InlineData(5_000, "l", 0.3, false)]
    // Before the device, nothing of it goes out through a pole.
    [InlineData(5_000, "L", 0.03, false)]
    // The neutral behind the device on earth: part of the heater's 10 A goes back that way.
    [InlineData(0.5, "n", 0.03, true)]
    public void A_residual_current_device_opens_all_poles_where_something_does_not_come_back(
        double ohms,
        string from,
        double tripsAt,
        bool trips
    )
    {
        var point = Heater(ohms, from, tripsAt);
        Assert.All(Poles(point), p => Assert.Equal(trips ? ElementState.Blown : ElementState.Intact, p));
        Assert.Equal(trips ? 0 : 10, point.AlternatingAmps("heater").Magnitude, trips ? 6 : 0);
    }

    [Fact]
    public void It_is_a_breaker_as_well_and_says_that_it_trips()
    {
        Assert.All(Poles(Heater(1e9, "l", amps: 6)), p => Assert.Equal(ElementState.Blown, p));
        Assert.All(Poles(Heater(1e9, "l", amps: 16)), p => Assert.Equal(ElementState.Intact, p));
        var elements = PartElements.Of("Q1", PartNotation.Read("breaker 6 A"), ["a", "b"], false, "");
        Assert.True(Assert.IsType<Fuse>(Assert.Single(elements)).Trips);
        Assert.Equal([4, 6, 8], PartElements.PinsOf(PartNotation.Read("residual-current breaker 25 A")));
    }

    private static Circuit Delayed(double first, double second) =>
        new([
            new VoltageSource("PS", "+", "0", 24),
            new Switch("S1", "+", "a", true, 0.01),
            // Two relays that lock each other out: who is first wins.
            new RelayContact("K2.b", "K2", "a", "c1", false, 0.01),
            new RelayCoil("K1", "c1", "0", 500, 15, 5) { PullDelay = first },
            new RelayContact("K1.b", "K1", "a", "c2", false, 0.01),
            new RelayCoil("K2", "c2", "0", 500, 15, 5) { PullDelay = second },
        ]);

    [Theory]
    [InlineData(0, 1, ElementState.Held, ElementState.Released, 0)]
    [InlineData(2, 0.5, ElementState.Released, ElementState.Held, 0.5)]
    [InlineData(3, 4, ElementState.Held, ElementState.Released, 3)]
    public void What_waits_less_comes_first_and_the_other_never_moves(
        double first,
        double second,
        ElementState k1,
        ElementState k2,
        double seconds
    )
    {
        var point = OperatingPoint.Of(Delayed(first, second));
        Assert.Null(point.Problem);
        Assert.Equal((k1, k2, seconds), (point.States["K1"], point.States["K2"], point.Seconds));
        // Without a delay they take each other's volts away for ever.
        Assert.Equal(NoPoint.Chatters, OperatingPoint.Of(Delayed(1, 1)).Problem?.Kind);
    }

    [Fact]
    public void A_timer_goes_on_while_its_reason_stands_whatever_else_moves_meanwhile()
    {
        // K1 after 1 s; K3 waits for K1 and 1 s more; K2, ready from the beginning, after 1.5 s: so K2 before K3.
        var point = OperatingPoint.Of(
            new Circuit([
                new VoltageSource("PS", "+", "0", 24),
                new RelayCoil("K1", "+", "0", 500, 15, 5) { PullDelay = 1 },
                new RelayContact("K1.1", "K1", "+", "m", true, 0.01),
                new RelayContact("K2.b", "K2", "m", "c3", false, 0.01),
                new RelayCoil("K3", "c3", "0", 500, 15, 5) { PullDelay = 1 },
                new RelayCoil("K2", "+", "0", 500, 15, 5) { PullDelay = 1.5 },
            ])
        );
        Assert.Equal(
            (ElementState.Held, ElementState.Held, ElementState.Released, 1.5),
            (point.States["K1"], point.States["K2"], point.States["K3"], point.Seconds)
        );
    }

    [Fact]
    public void A_fuse_does_not_wait_for_a_relay_that_has_a_delay()
    {
        var point = OperatingPoint.Of(
            new Circuit([
                new VoltageSource("PS", "+", "0", 24),
                new Fuse("F1", "+", "f", 2, 0.01),
                new RelayContact("K1.b", "K1", "f", "l", false, 0.01),
                new Resistance("load", "l", "0", 4),
                new RelayCoil("K1", "+", "0", 500, 15, 5) { PullDelay = 2 },
            ])
        );
        Assert.Equal((ElementState.Blown, ElementState.Held), (point.States["F1"], point.States["K1"]));
    }

    [Theory]
    [InlineData("running after 3 s", 3, "running", 0)]
    [InlineData("all but stopped after 500 ms", 0.5, "stopped", 0)]
    [InlineData("running if Z1-J1·1 > 18 V after 2 min", 120, "running", 1)]
    [InlineData("after 1,5 s", 1.5, "", 0)]
    [InlineData("running", 0, "running", 0)]
    public void A_delay_is_read_as_people_write_it(string text, double seconds, string states, int conditions)
    {
        var when = SwitchedWhen.Read(text);
        Assert.Equal((seconds, states, conditions), (when.Delay, string.Join(',', when.States), when.Either.Sum(e => e.Count)));
    }

    [Fact]
    public void All_of_it_comes_back_from_a_spice_file()
    {
        var circuit = new Circuit([
            new VoltageSource("mains", "L", "0", 0, 0.2, 120),
            .. PartElements.Of("RCD 1", PartNotation.Read("residual-current breaker 25 A"), ["L", "l", "0", "n"], false, ""),
            new Switch("S1", "l", "a", true, 0.01) { IsWelded = true },
            new RelayCoil("K1", "a", "n", 500, 15, 5) { PullDelay = 2, DropDelay = 0.25 },
            new RelayContact("K1.1", "K1", "a", "b", true, 0.02) { AlwaysCloses = true },
            new Resistance("load", "b", "n", 100),
        ])
        {
            Hertz = 60,
        };
        var back = SpiceReader.Read(SpiceWriter.Write(circuit, circuit.AtRest(), "all"));
        Assert.Equal(60, back.Hertz);
        Assert.Equal(circuit.Elements, back.Elements);
        var wrong = Assert.Throws<NotationException>(() => SpiceReader.Read("t\n*@ hertz 0\nR1 a 0 1"));
        Assert.Equal("line 2: its hertz are above 0", wrong.Problem);
    }
}
