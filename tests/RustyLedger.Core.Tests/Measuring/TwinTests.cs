using CsCheck;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>How far two like machines may stand apart is common practice, no source.</summary>
public sealed class TwinTests
{
    [Theory]
    [InlineData("24.5", "24.1", MeterMode.DcVolts, VerdictKind.Within)]
    [InlineData("18.2", "24.1", MeterMode.DcVolts, VerdictKind.Differs)]
    [InlineData("-24.1", "24.1", MeterMode.DcVolts, VerdictKind.Differs)]
    // A few tenths of a volt are nothing, however small the greater is.
    [InlineData("0.02", "0.31", MeterMode.DcVolts, VerdictKind.Within)]
    [InlineData("0.02", "0.4", MeterMode.DcVolts, VerdictKind.Differs)]
    [InlineData("OL", "52", MeterMode.Ohms, VerdictKind.Differs)]
    [InlineData("OL", "OL", MeterMode.Ohms, VerdictKind.Within)]
    [InlineData("OL", "24", MeterMode.DcVolts, VerdictKind.NotJudged)]
    [InlineData("+", "-", MeterMode.Lamp, VerdictKind.Differs)]
    [InlineData("E4", "e4", MeterMode.Word, VerdictKind.Within)]
    [InlineData("~24", "24", MeterMode.DcVolts, VerdictKind.NotJudged)]
    public void A_reading_stands_beside_its_twins_without_a_limit(string here, string there, MeterMode mode, VerdictKind kind)
    {
        var found = TwinComparison.Of(ReadingNotation.Read(here, mode).Choices[0], ReadingNotation.Read(there, mode).Choices[0]);
        Assert.Equal(kind, found.Kind);
        Assert.NotEmpty(found.Words);
    }

    [Fact]
    public void Neither_of_two_is_the_first() =>
        Gen.Select(Gen.Int[-60_000, 60_000], Gen.Int[-60_000, 60_000])
            .Sample(
                (a, b) =>
                {
                    var (one, other) = (new NumberReading(a / 1000m, Unit.Volts), new NumberReading(b / 1000m, Unit.Volts));
                    Assert.Equal(TwinComparison.Of(one, other).Kind, TwinComparison.Of(other, one).Kind);
                    Assert.Equal(VerdictKind.Within, TwinComparison.Of(one, one).Kind);
                }
            );

    /// <summary>Every return pin is in one part, and a wire without direction never joins two of them.</summary>
    [Fact]
    public void Returns_hang_together_by_wires_without_direction()
    {
        var machine = Sample.Resolved();
        var parts = Returns.Of(machine).Parts;
        Assert.NotEmpty(parts);
        var all = parts.SelectMany(p => p).ToList();
        Assert.Equal(all.Count, all.Distinct().Count());
        foreach (var link in machine.Links.Where(l => !l.Directed))
        {
            Assert.Equal(parts.FirstOrDefault(p => p.Contains(link.From)), parts.FirstOrDefault(p => p.Contains(link.To)));
        }
    }
}
