using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Safety;

/// <summary>
/// Supply plus, through the fuse of zone 1, to zone 2: the guard's contact is the wire between the zones, read as a device.
/// </summary>
public sealed class BypassRuleTests
{
    private static readonly Interlock _guard = new(
        "cut",
        InterlockKind.OverTemperature,
        "thermal cut-out",
        Probe.At("z1", "f1-1"),
        Probe.At("z1", "f1-2"),
        "volts across it while it trips"
    );

    [Theory]
    [InlineData(TemporaryLinkKind.Jumper, "z1/f1-1", "z1/f1-2", true)]
    [InlineData(TemporaryLinkKind.SeriesLamp, "z1/f1-2", "z1/f1-1", true)]
    // From the supply round the contact to the next board: other things in series do not make it allowed.
    [InlineData(TemporaryLinkKind.Jumper, "ps/plus", "z2/j1-1", true)]
    [InlineData(TemporaryLinkKind.Bypass, "ps/plus", "z1/j2-1", true)]
    [InlineData(TemporaryLinkKind.PulledFuse, "z1/f1-1", "z1/f1-2", false)]
    // Both ends before the contact, and both behind it.
    [InlineData(TemporaryLinkKind.Jumper, "ps/plus", "z1/j1-1", false)]
    [InlineData(TemporaryLinkKind.Jumper, "z1/j2-1", "z2/j1-1", false)]
    [InlineData(TemporaryLinkKind.Jumper, "z1/j1-2", "z2/j1-2", false)]
    public void A_way_round_the_contact_is_refused(TemporaryLinkKind kind, string from, string to, bool refused)
    {
        var refusal = BypassRefusal.Of(new TemporaryLinkPlan(kind, At(from), At(to), "", null), Machine(_guard));
        Assert.Equal(refused, refusal is not null);
        if (refused)
        {
            Assert.Contains("Instead: volts across it while it trips", refusal!.Words, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void What_the_technician_says_counts_without_pins()
    {
        Assert.NotNull(
            BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.Bypass, null, null, "behind the panel", "cut"), Machine(_guard))
        );
        Assert.NotNull(
            BypassRefusal.Of(
                new TemporaryLinkPlan(TemporaryLinkKind.Jumper, null, null, "across the Thermal cut-out", null),
                Machine(_guard with { From = null, To = null })
            )
        );
        Assert.Null(
            BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.Jumper, null, null, "across the horn", null), Machine(_guard))
        );
    }

    [Fact]
    public void A_dummy_plug_in_place_of_a_stop_is_a_bypass()
    {
        var stop = _guard with { Kind = InterlockKind.Stop, From = Probe.At("z2", "j2-1"), To = Probe.At("z2", "j2-2") };
        Assert.NotNull(
            BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.DummyPlug, Probe.At("z2", "j2-2"), null, "J2", null), Machine(stop))
        );
        Assert.Null(
            BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.DummyPlug, Probe.At("z1", "j2-2"), null, "J2", null), Machine(stop))
        );
    }

    /// <summary>Over two in series it is over each of them, whether their contacts are drawn as links or not.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void A_jumper_over_several_in_series_is_over_each(bool drawn)
    {
        var plain = Sample.Resolved();
        var second = new Interlock("guard", InterlockKind.Guard, "guard switch", Probe.At("z1", "j2-1"), Probe.At("z2", "j1-1"), "");
        var machine = plain with
        {
            Model = plain.Model with { Safety = SafetySheet.Empty with { Interlocks = [_guard, second] } },
            Links = drawn ? plain.Links : [.. plain.Links.Where(l => !Joins(l, _guard) && !Joins(l, second))],
        };
        static bool Joins(ResolvedLink l, Interlock i) => (l.From == i.From && l.To == i.To) || (l.From == i.To && l.To == i.From);
        var plan = new TemporaryLinkPlan(TemporaryLinkKind.Jumper, At("z1/f1-1"), At("z2/j1-1"), "", null);
        Assert.Equal("cut", BypassRefusal.Of(plan, machine)?.Device.Id);
        Assert.Equal("guard", BypassRefusal.Of(plan with { From = At("z1/j2-1") }, machine)?.Device.Id);
        // From before the first to between them is over the first alone.
        Assert.Equal("cut", BypassRefusal.Of(plan with { From = At("ps/plus"), To = At("z1/j2-1") }, machine)?.Device.Id);
    }

    /// <summary>The cable to a stop has two ends; a dummy plug at either closes the loop.</summary>
    [Fact]
    public void A_dummy_plug_at_the_far_end_of_the_cable_is_a_bypass()
    {
        var plain = Sample.Resolved();
        var (from, to) = (Probe.At("z2", "j1-1"), Probe.At("z2", "j1-2"));
        var stop = _guard with { Kind = InterlockKind.Stop, From = from, To = to };
        Assert.Contains(plain.Links, l => !l.IsInner && l.To == from && l.From == At("z1/j2-1"));
        Assert.NotNull(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.DummyPlug, At("z1/j2-1"), null, "", null), Machine(stop)));
    }

    /// <summary>A book that refuses to hear of it loses the truth.</summary>
    [Fact]
    public void What_is_there_is_written_down_all_the_same()
    {
        var plan = new TemporaryLinkPlan(TemporaryLinkKind.Jumper, At("z1/f1-1"), At("z1/f1-2"), "", null);
        Assert.NotNull(BypassRefusal.Of(plan, Machine(_guard)));
        foreach (var standing in (BypassStanding[])[BypassStanding.FoundBypassed, BypassStanding.PlacedAllTheSame, BypassStanding.OnBench])
        {
            Assert.Null(BypassRefusal.Of(plan with { Standing = standing }, Machine(_guard)));
            Assert.Equal("cut", BypassRefusal.Bypassed(plan with { Standing = standing }, Machine(_guard))?.Id);
        }
    }

    [Theory]
    [InlineData(Ending.Signed, true, true)]
    [InlineData(Ending.Signed, false, true)]
    [InlineData(Ending.TemporaryRepair, true, true)]
    [InlineData(Ending.WaitingForPart, true, true)]
    [InlineData(Ending.NoFaultFound, true, true)]
    [InlineData(Ending.TemporaryRepair, false, false)]
    [InlineData(Ending.LeftSafe, true, false)]
    [InlineData(null, true, false)]
    public void A_bypass_leaves_only_tagged_out_or_removed(Ending? ending, bool bypasses, bool refused) =>
        Assert.Equal(
            refused,
            EndingRule.Refusal(
                ending,
                new StillOpen(
                    [
                        new TemporaryLink
                        {
                            Id = "l",
                            Kind = TemporaryLinkKind.Bypass,
                            Where = "round the cut-out",
                            Why = "test",
                            Attended = true,
                            PlacedAt = default,
                            PersonId = "edda",
                            Standing = bypasses ? BypassStanding.FoundBypassed : BypassStanding.None,
                        },
                    ],
                    []
                )
            )
                is not null
        );

    private static ResolvedMachine Machine(Interlock device)
    {
        var plain = Sample.Resolved();
        return plain with { Model = plain.Model with { Safety = SafetySheet.Empty with { Interlocks = [device] } } };
    }

    private static PinAddress At(string text) => Probe.At(text.Split('/')[0], text.Split('/')[1]);
}
