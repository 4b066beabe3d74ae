using RustyLedger.Worlds;

namespace RustyLedger.Server.Tests.Visits;

/// <summary>
/// The true machine on three phases against what is known of such nets: volts between phases are √3 of those to the star, a motor needs a
/// field that turns (symmetrical components, Fortescue, Transactions of the AIEE, 1918), a contactor needs its coil.
/// </summary>
public sealed class ThreePhaseWorldTests
{
    private static readonly TrueMachine _hoist = TrueMachine.Read(Path.Combine(TestLedger.DemoFolder, "ly-03", "machine.json"), "");

    private static World With(params TrueFault[] faults) => new(_hoist, faults, new Off(0, 0, 0), 1);

    [Fact]
    public void Healthy_it_turns_both_ways_and_every_pair_of_phases_has_its_volts()
    {
        var world = With();
        Assert.False(world.IsBeyond);
        Assert.Empty(world.Blown);
        foreach (var (a, b) in ((string, string)[])[("Q1·1", "Q1·3"), ("Q1·3", "Q1·5"), ("Q1·5", "Q1·1")])
        {
            Assert.Equal(398, world.Volts(a, b, "standby"), 0.5);
            Assert.Equal(398 / Math.Sqrt(3), world.Volts(a, "DR-X1·PE", "standby"), 0.5);
        }

        Assert.Equal(0, world.Volts("M1·U", "M1·V", "standby"), 0.5);
        foreach (var state in (string[])["raising", "lowering"])
        {
            Assert.Equal(Seen.Works, world.Does("M1", state));
            Assert.Equal(398, world.Volts("M1·U", "M1·V", state), 3.0);
            // 2.2 kW at 400 V, and a little less at 398.
            Assert.Equal(2200.0 / 400 / Math.Sqrt(3), world.Amps("M1", state)!.Value, 0.1);
        }

        // Isolated, from one phase to the next: two windings.
        Assert.Equal(2 * 2.7, world.Ohms("M1·U", "M1·V", false)!.Value, 0.2);
    }

    [Fact]
    public void With_a_phase_lost_it_hums_and_the_lost_phase_lies_in_the_middle_of_the_others()
    {
        var world = With(new TrueFault("DR-F2", TrueFaultKind.Open, 1));
        Assert.Equal((Seen.No, Seen.No), (world.Does("M1", "raising"), world.Does("M1", "lowering")));
        var (left, right) = (world.Volts("M1·U", "M1·V", "raising"), world.Volts("M1·V", "M1·W", "raising"));
        Assert.Equal(world.Volts("M1·U", "M1·W", "raising") / 2, left, 1.0);
        Assert.Equal(left, right, 1.0);
    }

    [Theory]
    [InlineData("KR", TrueFaultKind.Open, "raising", "lowering")]
    [InlineData("KL", TrueFaultKind.Open, "lowering", "raising")]
    [InlineData("KR 3", TrueFaultKind.StuckOff, "raising", "lowering")]
    public void A_contactor_that_does_not_make_stops_its_own_way_alone(string part, TrueFaultKind kind, string stops, string runs)
    {
        var world = With(new TrueFault(part, kind, 1));
        Assert.Equal((Seen.No, Seen.Works), (world.Does("M1", stops), world.Does("M1", runs)));
    }

    [Fact]
    public void A_winding_that_is_open_leaves_the_volts_and_takes_the_ohms()
    {
        var world = With(new TrueFault("M1", TrueFaultKind.Open, 1));
        Assert.Equal(Seen.No, world.Does("M1", "raising"));
        Assert.Equal(398, world.Volts("M1·U", "M1·V", "raising"), 5.0);
        Assert.Null(world.Ohms("M1·U", "M1·V", false));
        Assert.Equal(2 * 2.7, world.Ohms("M1·V", "M1·W", false)!.Value, 0.2);
    }
}
