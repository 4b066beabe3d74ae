using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class OtherLegTests
{
    // The sample with its returns drawn: PS·- to Z1-J1·2, Z1-J2·2 to Z2-J1·2.
    private static readonly ResolvedMachine Machine = Sample.Resolved(
        model: Sample.Model with
        {
            Links =
            [
                .. Sample.Model.Links,
                new("r1", Probe.At("ps", "minus"), Probe.At("z1", "j1-2"), false),
                new("r2", Probe.At("z1", "j2-2"), Probe.At("z2", "j1-2"), false),
            ],
        }
    );
    private static readonly FeedGraph Graph = FeedGraph.Of(Machine);

    private static Entry Volts(long order, PinAddress red, PinAddress black, string typed) =>
        new(
            $"x{order}",
            order,
            EntryKind.Taken,
            null,
            red,
            black,
            MeterMode.DcVolts,
            "running",
            null,
            DefaultTolerance.Usual,
            ReadingNotation.Read(typed, MeterMode.DcVolts).Choices[0],
            null,
            ""
        );

    private static string Printed(PinAddress pin) => Machine.Pins[pin].Printed;

    [Fact]
    public void A_drop_along_the_supply_asks_for_the_return_once()
    {
        var supply = Volts(1, Probe.At("z1", "j2-1"), Probe.At("z2", "j1-1"), "0.4");
        var sheet = RoundSheet.Of(Machine, Graph, [supply]);
        Assert.NotNull(sheet.Extras.Single().AlongFeed);
        var leg = sheet.OtherLeg;
        Assert.NotNull(leg);
        Assert.True(leg.IsReturn);
        Assert.Equal(["Z1-J2·2", "Z2-J1·2"], new[] { Printed(leg.Red), Printed(leg.Black) }.Order());
        // From the supply to a board the return ends at the supply.
        var first = RoundSheet.Of(Machine, Graph, [Volts(1, Probe.At("ps", "plus"), Probe.At("z1", "j1-1"), "0.4")]).OtherLeg;
        Assert.Equal(["PS·-", "Z1-J1·2"], new[] { Printed(first!.Red), Printed(first.Black) }.Order());
        // Read, in whichever direction, it is asked for no more; and after a return the supply is.
        var back = RoundSheet.Of(Machine, Graph, [supply, Volts(2, leg.Black, leg.Red, "0.1")]);
        Assert.True(back.Extras[^1].IsAlongReturn);
        Assert.Null(back.OtherLeg);
        var other = RoundSheet.Of(Machine, Graph, [Volts(1, leg.Red, leg.Black, "0.1")]).OtherLeg;
        Assert.NotNull(other);
        Assert.False(other.IsReturn);
        Assert.Equal(["Z1-J2·1", "Z2-J1·1"], new[] { Printed(other.Red), Printed(other.Black) }.Order());
    }

    [Fact]
    public void Any_other_reading_asks_for_nothing()
    {
        Assert.Null(RoundSheet.Of(Machine, Graph, []).OtherLeg);
        Assert.Null(RoundSheet.Of(Machine, Graph, [Sample.Reading(1, "z1/c1", "24")]).OtherLeg);
    }
}
