using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>Alternating supplies, what they are joined to direct current by, and three phases; each worked out by hand.</summary>
public sealed class AlternatingTests
{
    private static readonly double _root2 = Math.Sqrt(2);

    private static Converter Rectifier(bool smoothed, double ohms = 0.01) =>
        new("rectifier", "a", "b", "plus", "0", null, smoothed ? _root2 : 2 * _root2 / Math.PI, 1.4, 0, ohms, 1e6);

    [Fact]
    public void A_smoothed_rectifier_gives_the_peak_less_two_junctions()
    {
        var point = OperatingPoint.Of(
            new Circuit([new VoltageSource("secondary", "a", "b", 0, 0.1, 12), Rectifier(true), new Resistance("load", "plus", "0", 1e6)])
        );
        Assert.Equal((12 * _root2) - 1.4, point.Volts("plus")!.Value, 3);
    }

    [Fact]
    public void What_it_gives_is_taken_from_the_alternating_side()
    {
        var point = OperatingPoint.Of(
            new Circuit([new VoltageSource("secondary", "a", "b", 0, 0.5, 12), Rectifier(false), new Resistance("load", "plus", "0", 5)])
        );
        var direct = point.Volts("plus")!.Value;
        var alternating = point.Alternating("a", "b")!.Value.Magnitude;
        // The output follows the sagged input, and the watts of both sides agree: what goes in is output, junctions and series ohms.
        Assert.Equal((2 * _root2 / Math.PI * alternating) - 1.4 - (0.01 * direct / 5), direct, 6);
        var amps = direct / 5;
        Assert.Equal((direct + 1.4 + (0.01 * amps)) * amps, alternating * point.AlternatingAmps("secondary").Magnitude, 6);
        Assert.True(alternating < 12);
    }

    [Fact]
    public void A_supply_holds_its_volts_until_its_input_is_too_low_or_its_load_too_much()
    {
        Circuit With(double mains, double ohms) =>
            new([
                new VoltageSource("mains", "l", "n", 0, 0.3, mains),
                new Converter("supply", "l", "n", "plus", "0", 24, 0, 0, 85, 0.01, 5),
                new Resistance("load", "plus", "0", ohms),
            ]);
        Assert.Equal(24, OperatingPoint.Of(With(230, 24)).Volts("plus")!.Value, 1);
        Assert.Equal(5, OperatingPoint.Of(With(230, 2)).Volts("plus")!.Value / 2, 6);
        Assert.Equal(0, OperatingPoint.Of(With(60, 24)).Volts("plus")!.Value, 6);
    }

    private static Circuit Star(double ohms1 = 20, double ohms2 = 20, double ohms3 = 20) =>
        new([
            .. Enumerable.Range(0, 3).Select(i => new VoltageSource($"L{i + 1}", $"l{i + 1}", "0", 0, 0, 400 / Math.Sqrt(3), -120 * i)),
            new Resistance("r1", "l1", "star", ohms1),
            new Resistance("r2", "l2", "star", ohms2),
            new Resistance("r3", "l3", "star", ohms3),
        ]);

    [Fact]
    public void Three_phases_make_line_volts_and_a_balanced_star_has_no_volts_in_its_middle()
    {
        var point = OperatingPoint.Of(Star());
        Assert.Equal(400, point.Alternating("l1", "l2")!.Value.Magnitude, 6);
        Assert.Equal(230.94, point.Alternating("l1", "0")!.Value.Magnitude, 2);
        Assert.Equal(0, point.Alternating("star", "0")!.Value.Magnitude, 6);
        Assert.Equal(11.547, point.AlternatingAmps("r1").Magnitude, 3);
    }

    [Fact]
    public void A_lost_phase_is_fed_back_through_the_load()
    {
        // With one line open its end floats to the middle between the other two: half of their line volts off each.
        var point = OperatingPoint.Of(Star().With(new VoltageSource("L1", "l1", "0", 0, double.PositiveInfinity, 400 / Math.Sqrt(3))));
        Assert.Equal(200, point.Alternating("l1", "l2")!.Value.Magnitude, 4);
        Assert.Equal(200, point.Alternating("l1", "l3")!.Value.Magnitude, 4);
    }

    [Fact]
    public void A_contactor_pulls_in_by_alternating_volts_and_a_fuse_blows_by_their_current()
    {
        Circuit With(double volts) =>
            new([
                new VoltageSource("control", "c", "0", 0, 0.1, volts),
                new RelayCoil("K1", "c", "0", 200, 30, 10),
                new Fuse("F1", "c", "f", 2, 0.01),
                new RelayContact("K1 1-2", "K1", "f", "out", true, 0.01),
                new Resistance("load", "out", "0", 10),
            ]);
        Assert.Equal(0, OperatingPoint.Of(With(19)).Alternating("out", "0")!.Value.Magnitude, 6);
        var blown = OperatingPoint.Of(With(42));
        Assert.Equal(ElementState.Held, blown.States["K1"]);
        Assert.Equal(ElementState.Blown, blown.States["F1"]);
    }

    [Fact]
    public void A_junction_under_alternating_volts_is_not_predicted()
    {
        var point = OperatingPoint.Of(
            new Circuit([
                new VoltageSource("mains", "a", "0", 0, 0.1, 12),
                new Diode("D1", "a", "k", 0.7, 0.05),
                new Resistance("load", "k", "0", 100),
            ])
        );
        Assert.Equal(["D1"], point.NotPredicted);
    }
}
