using RustyLedger.Technicians;
using Xunit.Abstractions;

namespace RustyLedger.Server.Tests.Visits;

/// <summary>
/// A few simulated visits, the seeds fixed, at true machines that ngspice answers for. What many come to is measured by
/// <c>./ledger bench technicians</c> and kept in docs/reasoning-measured.md.
/// </summary>
public sealed class SimulatedVisitTests(ITestOutputHelper output)
{
    [Theory]
    [InlineData("ly-01", Stratum.AsModelled, 5, 4)]
    [InlineData("ly-07", Stratum.AsModelled, 8, 6)]
    [InlineData("ly-10", Stratum.AsModelled, 5, 4)]
    [InlineData("ly-07", Stratum.OtherNumbers, 6, 3)]
    [InlineData("ly-03", Stratum.OtherNumbers, 4, 4)]
    [InlineData("ly-10", Stratum.OtherOdds, 4, 3)]
    [InlineData("ly-07", Stratum.Outside, 5, 5)]
    [InlineData("ly-07", Stratum.AtTimes, 5, 4)]
    public void What_is_proved_is_what_is_at_fault(string machine, Stratum stratum, int visits, int least)
    {
        var technician = new Technician(TestLedger.DemoFolder, machine);
        var all = Enumerable.Range(0, visits).Select(seed => technician.Visit(stratum, seed)).ToList();
        foreach (var v in all)
        {
            output.WriteLine($"{v.Seed}: {v.Truth}, proved {string.Join(", ", v.Proved)}, {v.Share:0.00} after {v.Acts} acts");
        }

        Assert.True(all.Count(v => v.IsRight) >= least, $"{all.Count(v => v.IsRight)} of {visits} proved and right");
        Assert.Empty(all.Where(v => v.IsWrong).Select(v => v.Truth));
    }

    [Fact]
    public void A_visit_of_a_seed_is_the_same_again()
    {
        SimulatedVisit Visit() => new Technician(TestLedger.DemoFolder, "ly-07").Visit(Stratum.Slips, 3);
        var (one, two) = (Visit(), Visit());
        Assert.Equal((one.Truth, one.Acts, one.Minutes), (two.Truth, two.Acts, two.Minutes));
        Assert.Equal(one.Log, two.Log);
    }
}
