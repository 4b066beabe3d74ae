using Xunit.Abstractions;

namespace RustyLedger.Server.Tests.Visits;

/// <summary>
/// Simulated visits on the sample machines, the seed fixed: how often the part that is proved is the one at fault. A world of the same laws
/// with other numbers; see <see cref="SimulatedTechnician"/> for what that shows and what not.
/// </summary>
public sealed class SimulatedVisitTests(ITestOutputHelper output)
{
    [Theory]
    [InlineData("ly-10", 0.02, 0, 8)]
    [InlineData("ly-01", 0.02, 0, 6)]
    [InlineData("ly-01", 0.06, 0.02, 5)]
    public void What_is_proved_is_what_is_at_fault(string machine, double off, double slips, int visits)
    {
        var all = new SimulatedTechnician(machine, 7, off, slips).Run(visits);
        foreach (var v in all)
        {
            var end =
                v.IsRight ? "right"
                : v.Proved.Count > 0 ? "wrong"
                : "open";
            output.WriteLine($"{end} {v.Share:0.00} {v.Acts} acts, {v.Truth}: {string.Join(", ", v.Proved)}");
        }

        var proved = all.Where(v => v.Proved.Count > 0).ToList();
        Assert.Equal(visits, all.Count);
        Assert.True(proved.Count >= visits / 2, $"{proved.Count} of {visits} proved");
        Assert.True(proved.Count(v => !v.IsRight) <= 1, $"{proved.Count(v => !v.IsRight)} of {proved.Count} wrong");
    }
}
