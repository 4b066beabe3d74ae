using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Circuits;

public sealed class PartNotationTests
{
    [Theory]
    [InlineData("supply 24 V, at most 10 A", LawKind.Supply, "volts=24 at most=10")]
    [InlineData("Battery 12,9 V, inside 12 mΩ", LawKind.Battery, "volts=12.9 inside=0.012")]
    [InlineData("motor 24 V 2.2 A, winding 3.4 ohm", LawKind.Motor, "volts=24 amps=2.2 winding=3.4")]
    [InlineData("lamp 24 V 5 W", LawKind.Lamp, "volts=24 watts=5 cold=11.52")]
    [InlineData("resistor 4k7 ±1 %", LawKind.Load, "ohms=4700")]
    [InlineData("heater 230 V 2 kW", LawKind.Load, "volts=230 watts=2000")]
    [InlineData(
        "relay 24 V 480 Ω, pulls in at 15 V, drops out at 5 V",
        LawKind.RelayCoil,
        "ohms=480 volts=24 pulls in at=15 drops out at=5"
    )]
    [InlineData("make contact of K1", LawKind.MakeContact, "ohms=0.02")]
    [InlineData("wire 1.5 mm² 12 m", LawKind.Wire, "metres=12 ohms per metre=0.0133")]
    [InlineData("transformer 230 V to 24 V, 100 VA", LawKind.Transformer, "volts=230 to volts=24 watts=100 inside=0.4608 winding=21.16")]
    [InlineData("LED red 24 V 10 mA", LawKind.Led, "drops=1.8 volts=24 amps=0.01")]
    [InlineData("mains 400 V 3~", LawKind.Mains, "volts=400 hertz=50 inside=0.3")]
    [InlineData("fuse T 6.3 A slow", LawKind.Fuse, "amps=6.3 ohms=0.01587")]
    [InlineData("regulator 5 V, at most 500 mA, drops 2 V", LawKind.Regulator, "volts=5 drops=2 at most=0.5")]
    [InlineData("capacitor 470 µF", LawKind.Capacitor, "farads=0.00047")]
    [InlineData("potentiometer 10k at 40 %", LawKind.Potentiometer, "ohms=10000 at=40")]
    public void Says_what_people_write(string text, LawKind kind, string numbers)
    {
        var law = PartNotation.Read(text);
        Assert.Equal(kind, law.Kind);
        Assert.Equal("", law.Missing);
        Assert.Equal(
            numbers,
            string.Join(' ', law.Numbers.Select(n => FormattableString.Invariant($"{n.Name}={Math.Round(n.Value, 5):0.#####}")))
        );
    }

    [Theory]
    [InlineData("motor 24 V", "amps, watts or ohms")]
    [InlineData("motor 50 W", "volts")]
    [InlineData("supply", "volts")]
    [InlineData("make contact", "whose contact")]
    [InlineData("wire 1.5 mm²", "length")]
    [InlineData("relay 480 Ω", "volts of its coil")]
    public void Says_what_must_be_entered(string text, string missing) =>
        Assert.Contains(missing, PartNotation.Read(text).Missing, StringComparison.Ordinal);

    [Theory]
    [InlineData("gadget 24 V", 0)]
    [InlineData("motor 24 V 24 V", 11)]
    [InlineData("motor 24 V 2 A 50 Hz", 0)]
    [InlineData("resistor 4k7 2 W", 0)]
    [InlineData("LED red 24 V 0 A", 13)]
    [InlineData("motor 0 V 2 A", 6)]
    [InlineData("motor quickly 24 V", 6)]
    public void Says_where_it_is_not_understood(string text, int at) =>
        Assert.Equal(at, Assert.Throws<NotationException>(() => PartNotation.Read(text)).At);

    [Fact]
    public void What_nobody_said_is_assumed_and_what_is_marked_is_marked()
    {
        var law = PartNotation.Read("fuse 2 A", NumberFrom.Marking);
        Assert.Equal(NumberFrom.Marking, law.Numbers.Single(n => n.Name == "amps").From);
        Assert.Equal(NumberFrom.Assumed, law.Numbers.Single(n => n.Name == "ohms").From);
    }

    [Theory]
    [InlineData("running, standby", "standby running")]
    [InlineData("all but stopped", "off standby running")]
    [InlineData("always", "off standby running stopped")]
    [InlineData("never", "")]
    [InlineData("", "standby running stopped")]
    [InlineData("stopped by emergency stop", "stopped")]
    public void Switches_are_closed_in_the_states_named(string text, string closed)
    {
        var when = SwitchedWhen.Read(text);
        Assert.Equal(closed, string.Join(' ', OperatingState.Usual.Where(when.IsClosedIn).Select(s => s.Code)));
        Assert.Empty(when.Unknown(OperatingState.Usual));
    }

    [Fact]
    public void A_condition_names_two_pins_and_volts()
    {
        var when = SwitchedWhen.Read("running if Z1-J1·1 to Z1-J1·2 > 18 V and Z1-J4·3 < 1,5");
        Assert.Equal(
            [new SwitchCondition("Z1-J1·1", "Z1-J1·2", true, 18), new SwitchCondition("Z1-J4·3", "", false, 1.5)],
            Assert.Single(when.Either)
        );
        Assert.Equal(
            [1, 2],
            SwitchedWhen.Read("running if J1·1 > 18 V or J2·1 < 3 V and J3·1 > 5 V after 2 s").Either.Select(e => e.Count)
        );
        Assert.Equal(["running"], when.States);
        Assert.Throws<NotationException>(() => SwitchedWhen.Read("running if it likes"));
        Assert.Equal(["dancing"], SwitchedWhen.Read("dancing").Unknown(OperatingState.Usual));
    }

    [Theory]
    [InlineData("Z1-J1·1 to Z1-J1·2 > 18 V and Z1-J4·3 < 1.5 V", "")]
    [InlineData("J1·1 > 18 V or J2·1 < 3 V and J3·1 > 5 V", "2 s")]
    [InlineData("", "0.25 s")]
    [InlineData("", "")]
    public void Conditions_and_delay_are_written_as_they_are_read(string conditions, string waits)
    {
        var when = SwitchedWhen.Read(
            $"running{(conditions.Length > 0 ? $" if {conditions}" : "")}{(waits.Length > 0 ? $" after {waits}" : "")}"
        );
        Assert.Equal((conditions, waits), (when.Conditions, when.Waits));
    }

    /// <summary>Whatever numbers people put together: it is refused, asks for what is missing, or is a part of a circuit.</summary>
    [Fact]
    public void No_words_bring_a_circuit_down()
    {
        string[] numbers =
        [
            "24 V",
            "to 12 V",
            "2 A",
            "at most 3 A",
            "5 W",
            "480 Ω",
            "inside 0 Ω",
            "cold 2 Ω",
            "winding 3 Ω",
            "stalls at 9 A",
            "leaks 1 mA",
            "pulls in at 9 V",
            "drops out at 3 V",
            "drops 0.5 V",
            "needs 85 V",
            "60 Hz",
            "10 µF",
            "3 m",
            "1.5 mm²",
            "at 40 %",
            "±5 %",
            "3~",
            "red",
            "smoothed",
            "of K1",
        ];
        var random = new Random(17);
        var (parts, refused) = (0, 0);
        foreach (var kind in PartNotation.Kinds)
        {
            for (var i = 0; i < 400; i++)
            {
                var text = $"{kind} {string.Join(' ', random.GetItems(numbers, random.Next(0, 5)))}";
                PartLaw law;
                try
                {
                    law = PartNotation.Read(text);
                }
                catch (NotationException)
                {
                    refused++;
                    continue;
                }

                if (law.Missing.Length > 0)
                {
                    continue;
                }

                foreach (var count in PartElements.PinsOf(law).Where(c => law.Kind != LawKind.Contact))
                {
                    var elements = PartElements.Of("part", law, [.. Enumerable.Range(0, count).Select(n => $"n{n}")], true, "K1");
                    Assert.True(elements.Count > 0, text);
                    foreach (var number in law.Numbers.Where(n => n.Spread > 0))
                    {
                        _ = PartElements.Of(
                            "part",
                            law.Scaled(number.Name, 1.1),
                            elements[0].Nodes.Count > 0 ? [.. Enumerable.Range(0, count).Select(n => $"n{n}")] : [],
                            true,
                            "K1"
                        );
                    }

                    parts++;
                }
            }
        }

        Assert.True(parts > 500 && refused > 500, $"{parts} parts, {refused} refused");
    }
}
