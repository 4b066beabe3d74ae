using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>What a meter shows; worked by hand.</summary>
public sealed class ProbedCircuitTests
{
    private static readonly Circuit Divider = new([
        new VoltageSource("V", "in", "0", 10),
        new Resistance("R1", "in", "tap", 1e6),
        new Resistance("R2", "tap", "0", 1e6),
        new Switch("S", "in", "wire", false, 0.01),
    ]);

    /// <summary>5 V behind 500 kΩ: with 10 MΩ 4.762 V, at 400 kΩ 2.222 V.</summary>
    [Theory]
    [InlineData(10e6, 4.7619048)]
    [InlineData(400e3, 2.2222222)]
    public void A_meter_takes_some_of_what_it_reads(double input, double shows) =>
        Assert.Equal(shows, ProbedCircuit.Volts(OperatingPoint.Of(Divider), "tap", "0", input).Value!.Value, 5);

    [Fact]
    public void A_floating_wire_has_a_range_and_never_a_value()
    {
        var shown = ProbedCircuit.Volts(OperatingPoint.Of(Divider), "wire", "0", 10e6);
        Assert.Null(shown.Value);
        Assert.Equal((-10, 10), (shown.Low, shown.High));
        Assert.Throws<KeyNotFoundException>(() => ProbedCircuit.Volts(OperatingPoint.Of(Divider), "wire", "nowhere", 10e6));
    }

    /// <summary>
    /// A coil of 100 Ω with its diode across: one way the coil alone, the other way with a junction that 2 V turn on and 0.2 V do not.
    /// </summary>
    [Fact]
    public void Ohms_see_a_junction_only_where_the_test_volts_turn_it_on()
    {
        var circuit = new Circuit([
            new VoltageSource("PS", "24", "0", 24),
            new Switch("S", "24", "a", false, 0.01),
            new RelayCoil("K", "a", "0", 100, 16, 5),
            new Diode("D", "0", "a", 0.6, 1),
        ]);
        Assert.Equal(100, ProbedCircuit.Ohms(circuit, "a", "0", 2, 0.02).Value!.Value, 6);
        // 2 V behind 100 ohm: (2 - 0.6 - U) ... the junction takes all above 0.6 V.
        var back = ProbedCircuit.Ohms(circuit, "0", "a", 2, 0.02).Value!.Value;
        Assert.InRange(back, 30, 60);
        Assert.Equal(100, ProbedCircuit.Ohms(circuit, "0", "a", 0.2, 0.001).Value!.Value, 6);
        Assert.True(ProbedCircuit.Ohms(circuit, "24", "0", 2, 0.02).IsOpen);
    }
}
