using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>Circuits worked by hand.</summary>
public sealed class OperatingPointTests
{
    private static OperatingPoint Point(params CircuitElement[] elements) => OperatingPoint.Of(new Circuit(elements));

    /// <summary>Wheatstone: 10 V, 100 and 200 on one side, 300 and 400 on the other: 6.6667 and 5.7143 V.</summary>
    [Fact]
    public void A_bridge_reads_what_its_arms_make_of_it()
    {
        var point = Point(
            new VoltageSource("V", "in", "0", 10),
            new Resistance("R1", "in", "a", 100),
            new Resistance("R2", "a", "0", 200),
            new Resistance("R3", "in", "b", 300),
            new Resistance("R4", "b", "0", 400)
        );
        Assert.Equal(20 / 3.0, point.Volts("a")!.Value, 8);
        Assert.Equal(40 / 7.0, point.Volts("b")!.Value, 8);
        Assert.Equal((20 / 3.0) - (40 / 7.0), point.Between("a", "b")!.Value, 8);
        Assert.Equal(-((10 / 300.0) + (10 / 700.0)), point.Amps("V"), 9);
    }

    /// <summary>A ladder of ten times 1 ohm along and 1 ohm across from the far end back: ratios of the Fibonacci numbers.</summary>
    [Fact]
    public void A_ladder_divides_by_the_Fibonacci_numbers()
    {
        List<CircuitElement> elements = [new VoltageSource("V", "n0", "0", 1)];
        for (var i = 1; i <= 10; i++)
        {
            elements.Add(new Resistance($"A{i}", $"n{i - 1}", $"n{i}", 1));
            elements.Add(new Resistance($"B{i}", $"n{i}", "0", 1));
        }

        var point = OperatingPoint.Of(new Circuit(elements));
        // F(21) = 10946.
        Assert.Equal(1 / 10946.0, point.Volts("n10")!.Value, 12);
    }

    /// <summary>Three of 30 ohm in delta are three of 10 ohm in star.</summary>
    [Fact]
    public void Delta_and_star_are_alike()
    {
        CircuitElement[] Fed(params CircuitElement[] load) =>
            [new VoltageSource("V", "a", "0", 12, 5), new Resistance("E", "b", "0", 7), .. load];
        var delta = Point(Fed(new Resistance("1", "a", "b", 30), new Resistance("2", "b", "0", 30), new Resistance("3", "a", "0", 30)));
        var star = Point(Fed(new Resistance("1", "a", "m", 10), new Resistance("2", "b", "m", 10), new Resistance("3", "0", "m", 10)));
        Assert.Equal(delta.Volts("a")!.Value, star.Volts("a")!.Value, 8);
        Assert.Equal(delta.Volts("b")!.Value, star.Volts("b")!.Value, 8);
    }

    /// <summary>
    /// 12 V through a bridge of diodes of 0.7 V and 0.1 ohm into 100 ohm: (12 - 1.4) / 100.2 A, whichever way round it is fed.
    /// </summary>
    [Theory]
    [InlineData(12)]
    [InlineData(-12)]
    public void A_bridge_rectifier_feeds_its_load_either_way(double volts)
    {
        var point = Point(
            new VoltageSource("V", "p", "q", volts),
            new Diode("D1", "p", "+", 0.7, 0.1),
            new Diode("D2", "q", "+", 0.7, 0.1),
            new Diode("D3", "0", "p", 0.7, 0.1),
            new Diode("D4", "0", "q", 0.7, 0.1),
            new Resistance("R", "+", "0", 100)
        );
        Assert.Null(point.Problem);
        Assert.Equal(10.6 / 100.2 * 100, point.Volts("+")!.Value, 6);
    }

    /// <summary>A start button holds itself in through the relay's own contact; stop lets it go; the order tells which it is.</summary>
    [Fact]
    public void A_relay_that_holds_itself_remembers()
    {
        var circuit = new Circuit([
            new VoltageSource("PS", "24", "0", 24),
            new Switch("stop", "24", "a", true, 0.01),
            new Switch("start", "a", "b", false, 0.01),
            new RelayCoil("K1", "b", "0", 500, 16, 5),
            new RelayContact("K1.1", "K1", "a", "b", true, 0.02),
        ]);
        var points = ActSequence.Run(circuit, [new("start", true), new("start", false), new("stop", false), new("stop", true)]);
        Assert.Equal([false, true, true, false, false], points.Select(p => p.States["K1"] == ElementState.Held));
        Assert.Equal(24, points[2].Volts("b")!.Value, 2);
        // The same switches, reached without a start: it never pulled in.
        Assert.Equal(0, points[4].Volts("b")!.Value, 6);
    }

    /// <summary>It has all its volts, and no field: whatever is wrong with a coil, its contact stays as it lies.</summary>
    [Fact]
    public void A_coil_that_is_open_or_shorted_or_does_not_pull_in_makes_nothing()
    {
        var coil = new RelayCoil("K1", "b", "0", 500, 16, 5);
        var circuit = new Circuit([
            new VoltageSource("PS", "24", "0", 24),
            new Resistance("wire", "24", "b", 1),
            coil,
            new RelayContact("K1.1", "K1", "24", "out", true, 0.02),
            new Resistance("lamp", "out", "0", 48),
        ]);
        Assert.Equal(24, OperatingPoint.Of(circuit).Volts("out")!.Value, 1);
        var faults = CircuitFaults.Of(coil);
        Assert.Equal([FaultKind.Open, FaultKind.Short, FaultKind.StuckOff], faults.Select(f => f.Kind).Order());
        foreach (var fault in faults)
        {
            var point = OperatingPoint.Of(circuit.With(fault.Faulted));
            Assert.Equal(0, point.Volts("out")!.Value, 3);
            // An open coil has all its volts, a shorted one next to none.
            Assert.Equal(fault.Kind == FaultKind.Short ? 0.24 : 24, point.Volts("b")!.Value, 1);
        }
    }

    [Fact]
    public void A_relay_that_cuts_its_own_coil_chatters_and_says_so()
    {
        var point = Point(
            new VoltageSource("PS", "24", "0", 24),
            new RelayContact("K1.1", "K1", "24", "b", false, 0.02),
            new RelayCoil("K1", "b", "0", 500, 16, 5)
        );
        Assert.Equal(NoPoint.Chatters, point.Problem?.Kind);
        Assert.Equal(["K1"], point.Problem!.Names);
        Assert.Null(point.Volts("b"));
    }

    /// <summary>12 V with 0.5 A at most into 10 ohm: 5 V. With 48 ohm: 12 V. Fed with 8 V and 2 V of drop-out: 6 V.</summary>
    [Theory]
    [InlineData(24, 10, 5, ElementState.Limiting)]
    [InlineData(24, 48, 12, ElementState.Regulating)]
    [InlineData(8, 48, 6, ElementState.DroppedOut)]
    public void A_supply_holds_gives_less_or_gives_its_limit(double fed, double load, double volts, ElementState state)
    {
        var point = Point(
            new VoltageSource("V", "in", "0", fed),
            new Regulator("U1", "in", "out", "0", 12, 2, 0.5),
            new Resistance("R", "out", "0", load)
        );
        Assert.Equal(volts, point.Volts("out")!.Value, 6);
        Assert.Equal(state, point.States["U1"]);
        Assert.Equal(volts / load, point.Amps("U1"), 6);
    }

    /// <summary>Two fuses in a row before a short: the smaller goes, the other stays.</summary>
    [Fact]
    public void The_fuse_that_is_most_overloaded_blows_and_the_other_is_saved()
    {
        var point = Point(
            new VoltageSource("V", "in", "0", 12, 0.05),
            new Fuse("F10", "in", "m", 10, 0.005),
            new Fuse("F2", "m", "l", 2, 0.01),
            new Resistance("short", "l", "0", 0.02)
        );
        Assert.Equal((ElementState.Intact, ElementState.Blown), (point.States["F10"], point.States["F2"]));
        Assert.Equal(12, point.Volts("m")!.Value, 6);
        Assert.Equal(0, point.Volts("l")!.Value, 6);
    }

    [Fact]
    public void What_floats_has_no_volts_but_between_its_own_ends_it_has()
    {
        var point = Point(
            new VoltageSource("V", "in", "0", 12),
            new Resistance("R", "in", "0", 100),
            new VoltageSource("B", "x", "y", 9),
            new Resistance("L", "x", "y", 100)
        );
        Assert.Null(point.Volts("x"));
        Assert.Null(point.Between("x", "in"));
        Assert.Equal(9, point.Between("x", "y")!.Value, 6);
    }

    [Fact]
    public void Sources_in_conflict_and_currents_without_a_way_back_are_named()
    {
        var conflict = Point(new VoltageSource("A", "p", "0", 12), new VoltageSource("B", "p", "0", 24)).Problem;
        Assert.Equal(NoPoint.SourcesInConflict, conflict?.Kind);
        Assert.Equal(["A", "B"], conflict!.Names.Order());
        var lost = Point(new CurrentSource("I", "0", "p", 1), new Resistance("R", "p", "q", 10)).Problem;
        Assert.Equal((NoPoint.NoWayBack, "I"), (lost?.Kind, lost?.Names[0]));
        // With something in series they only share the load.
        Assert.Equal(18, Point(new VoltageSource("A", "p", "0", 12, 1), new VoltageSource("B", "p", "0", 24, 1)).Volts("p")!.Value, 6);
    }

    [Fact]
    public void Bad_numbers_and_names_are_refused_by_name()
    {
        Assert.Contains(
            "R1",
            Assert.Throws<ArgumentException>(() => new Circuit([new Resistance("R1", "a", "b", -1)])).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "K9",
            Assert.Throws<ArgumentException>(() => new Circuit([new RelayContact("S", "K9", "a", "b", true, 0)])).Message,
            StringComparison.Ordinal
        );
        Assert.Throws<ArgumentException>(() => new Circuit([new Resistance("R", "a", "b", 1), new Resistance("R", "a", "b", 1)]));
    }
}
