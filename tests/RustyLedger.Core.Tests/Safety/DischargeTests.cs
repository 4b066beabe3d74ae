using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Tests.Safety;

public sealed class DischargeTests
{
    /// <summary>t = R C ln(V0 / V); by hand: 100 µF and 100 kΩ make 10 s; ln(325 / 60) = 1.6895; E = 100 µF · 325² / 2 = 5.28 J.</summary>
    [Fact]
    public void Time_and_energy_by_hand()
    {
        var now = Discharge.Of(new StoredCharge("c", "C1", 100, 0, 100_000, 0, 325, "q"), 60, TimeSpan.Zero);
        Assert.Equal(16.895, (double)now.Seconds!, 3);
        Assert.Equal(5.28125, (double)now.JoulesAtStart, 9);
        Assert.Equal(325, (double)now.VoltsNow!, 9);
        Assert.Equal(now.Seconds, now.SecondsAtWorst);
    }

    /// <summary>After one time constant 1/e is left, 36.8 %; after five less than 1 % (any textbook of circuits).</summary>
    [Fact]
    public void One_time_constant_leaves_36_8_percent()
    {
        var charge = new StoredCharge("c", "C1", 100, 0, 100_000, 0, 100, "q");
        Assert.Equal(36.788, (double)Discharge.Of(charge, 60, TimeSpan.FromSeconds(10)).VoltsNow!, 3);
        Assert.True(Discharge.Of(charge, 60, TimeSpan.FromSeconds(50)).VoltsNow < 1);
        Assert.Equal(0.5 * Math.Exp(-2), (double)Discharge.Of(charge, 60, TimeSpan.FromSeconds(10)).JoulesNow, 9);
    }

    [Fact]
    public void Tolerances_make_it_longer_and_the_worst_counts()
    {
        var now = Discharge.Of(new StoredCharge("c", "C1", 100, 20, 100_000, 10, 325, "q"), 60, TimeSpan.FromSeconds(3));
        Assert.Equal(1.2 * 1.1, (double)(now.SecondsAtWorst! / now.Seconds!), 9);
        Assert.Equal(325 * Math.Exp(-3 / 13.2), (double)now.VoltsNow!, 6);
    }

    [Fact]
    public void Without_a_bleed_resistor_no_time_is_promised()
    {
        var now = Discharge.Of(new StoredCharge("c", "C1", 100, 0, null, 0, 325, "q"), 60, TimeSpan.FromHours(9));
        Assert.Null(now.Seconds);
        Assert.Null(now.VoltsNow);
        Assert.Equal(now.JoulesAtStart, now.JoulesNow);
    }

    [Fact]
    public void Below_the_limit_from_the_start_there_is_nothing_to_wait_for() =>
        Assert.Equal(0, Discharge.Of(new StoredCharge("c", "C1", 100, 0, 100_000, 0, 24, "q"), 60, TimeSpan.Zero).Seconds);
}
