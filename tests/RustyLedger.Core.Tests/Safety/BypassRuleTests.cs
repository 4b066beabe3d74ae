using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Safety;

/// <summary>Supply plus, through the fuse of zone 1, to zone 2: the guard's contact is the wire between the zones, read as a device.</summary>
public sealed class BypassRuleTests
{
    private static readonly Interlock _guard = new("cut", InterlockKind.OverTemperature, "thermal cut-out", new("z1", "f1-1"), new("z1", "f1-2"), "volts across it while it trips");

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
        Assert.NotNull(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.Bypass, null, null, "behind the panel", "cut"), Machine(_guard)));
        Assert.NotNull(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.Jumper, null, null, "across the Thermal cut-out", null), Machine(_guard with { From = null, To = null })));
        Assert.Null(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.Jumper, null, null, "across the horn", null), Machine(_guard)));
    }

    [Fact]
    public void A_dummy_plug_in_place_of_a_stop_is_a_bypass()
    {
        var stop = _guard with { Kind = InterlockKind.Stop, From = new("z2", "j2-1"), To = new("z2", "j2-2") };
        Assert.NotNull(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.DummyPlug, new("z2", "j2-2"), null, "J2", null), Machine(stop)));
        Assert.Null(BypassRefusal.Of(new TemporaryLinkPlan(TemporaryLinkKind.DummyPlug, new("z1", "j2-2"), null, "J2", null), Machine(stop)));
    }

    private static ResolvedMachine Machine(Interlock device)
    {
        var plain = Sample.Resolved();
        return plain with { Model = plain.Model with { Safety = SafetySheet.Empty with { Interlocks = [device] } } };
    }

    private static PinAddress At(string text) => new(text.Split('/')[0], text.Split('/')[1]);
}
