using RustyLedger.Core.Measuring;
using RustyLedger.Core.Timing;

namespace RustyLedger.Core.Tests.Timing;

/// <summary>What times mean. The tolerances are common practice, no source.</summary>
public sealed class SignatureTests
{
    private static TimedEvent[] Taps(params (string Name, double At)[] taps) => [.. taps.Select(t => new TimedEvent(t.Name, t.At))];

    [Fact]
    public void A_line_says_what_happens_when_and_what_that_means()
    {
        var signature = SignatureNotation.Read("fan 0, spark 15 ±3 x3 every 25 s, flame 18..25, trip at 80 s: no flame seen");
        Assert.Equal("no flame seen", signature.Meaning);
        Assert.Equal(
            [("fan", 0, 2), ("spark", 15, 3), ("flame", 21.5, 3.5), ("spark", 40, 3), ("spark", 65, 3), ("trip", 80, 8)],
            signature.Events.Select(e => (e.Name, e.At, e.Within))
        );
        Assert.Equal((1.5, 0.5), SignatureNotation.Read("click 1,5 +/- 0,5: relay").Events.Select(e => (e.At, e.Within)).Single());
    }

    [Theory]
    [InlineData("fan 0, spark 15", "after a colon")]
    [InlineData("fan 0: ", "after a colon")]
    [InlineData("fan: runs", "no event")]
    [InlineData("0, spark 15: odd", "no event")]
    [InlineData("flame 25..18: odd", "ends before it begins")]
    [InlineData("spark 1 x99 every 2: many", "at most 40")]
    public void What_is_not_understood_is_said(string line, string says)
    {
        Assert.Contains(says, Assert.Throws<NotationException>(() => SignatureNotation.Read(line)).Message, StringComparison.Ordinal);
        Assert.StartsWith("Line 2: ", new SignatureSheet(["fan 0: runs", line]).Refusal()!.Problem, StringComparison.Ordinal);
    }

    private static readonly Signature[] Burner =
    [
        SignatureNotation.Read("fan 0, spark 15 ±3, flame 18 ±3: it burns"),
        SignatureNotation.Read("fan 0, spark 15 ±3 x3 every 25, trip 80 ±8: flame not seen; not the airflow switch"),
        SignatureNotation.Read("fan 0, trip 30 ±5: airflow switch does not close"),
    ];

    /// <summary>The trade's own case: eighty seconds and three tries are not the airflow switch.</summary>
    [Fact]
    public void Three_tries_and_eighty_seconds_are_not_the_airflow_switch()
    {
        var found = SignatureMatch.Of(Taps(("fan", 0.3), ("spark", 14.1), ("spark", 40.5), ("spark", 64), ("trip", 82)), Burner);
        Assert.Equal("flame not seen; not the airflow switch", found[0].Meaning);
        Assert.True(found[0].Share > 0.99);
        Assert.True(found.Single(m => m.Meaning == "airflow switch does not close").Share < 0.001);
        Assert.Contains("spark at 40.5 s, usual 40 s ± 3 s", found[0].Why);
        Assert.Equal(1, found.Sum(m => m.Share), 9);
    }

    [Fact]
    public void A_missed_tap_and_a_stray_one_cost_little_and_are_said()
    {
        var found = SignatureMatch.Of(Taps(("fan", 0), ("spark", 15), ("spark", 66), ("click", 70), ("trip", 79)), Burner);
        Assert.Equal("flame not seen; not the airflow switch", found[0].Meaning);
        Assert.Contains("spark was not tapped, usual 40 s ± 3 s", found[0].Why);
        Assert.Contains("click at 70 s is not in it", found[0].Why);
    }

    [Fact]
    public void What_fits_none_of_them_is_none_of_them()
    {
        var found = SignatureMatch.Of(Taps(("stop", 5), ("stop", 9), ("click", 33)), Burner);
        Assert.Null(found[0].Meaning);
        Assert.Null(SignatureMatch.Of(Taps(("fan", 1)), []).Single().Meaning);
        Assert.Empty(SignatureMatch.Of([], Burner));
    }

    /// <summary>By hand: two meanings of one event each, 10 ±2 and 20 ±2 s; at 15 s neither is likelier.</summary>
    [Fact]
    public void Half_way_between_two_neither_is_likelier_and_the_order_of_lines_changes_nothing()
    {
        Signature[] two = [SignatureNotation.Read("click 10 ±2: early"), SignatureNotation.Read("click 20 ±2: late")];
        var found = SignatureMatch.Of(Taps(("click", 15)), two).Where(m => m.Meaning is not null).ToList();
        Assert.Equal(found[0].Share, found[1].Share, 9);
        var (here, there) = (SignatureMatch.Of(Taps(("click", 12)), two), SignatureMatch.Of(Taps(("click", 12)), [two[1], two[0]]));
        Assert.Equal(here.Select(m => (m.Meaning, Math.Round(m.Share, 9))), there.Select(m => (m.Meaning, Math.Round(m.Share, 9))));
    }
}
