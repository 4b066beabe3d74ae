using RustyLedger.Core.Settings;

namespace RustyLedger.Core.Tests.Settings;

public sealed class ToldApartTests
{
    [Theory]
    // Twins are known by their tags, two snapshots of one board by what they were taken for, or by their hour.
    [InlineData("LY-04|zone 1|as left", "LY-07|zone 1|as found", "LY-04", "LY-07")]
    [InlineData("LY-04|zone 1|as left", "LY-04|zone 2|as left", "zone 1", "zone 2")]
    [InlineData("LY-04|zone 1|as found", "LY-04|zone 1|as left", "as found", "as left")]
    [InlineData("LY-04|noted|2026-03-01|08:10", "LY-04|noted|2026-03-01|17:45", "08:10", "17:45")]
    // A serial that only one has names the other by nothing, so both keep all that is known.
    [InlineData("LY-04|no. 12", "LY-04|", "LY-04, no. 12", "LY-04")]
    [InlineData("LY-04|as left", "LY-04|as left", "LY-04, as left", "LY-04, as left")]
    public void Two_are_called_by_what_tells_them_apart(string first, string second, string called, string other) =>
        Assert.Equal((called, other), ToldApart.Of(first.Split('|'), second.Split('|')));
}
