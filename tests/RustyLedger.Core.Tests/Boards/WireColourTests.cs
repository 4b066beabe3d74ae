using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class WireColourTests
{
    // Codes from IEC 60757, from memory.
    [Theory]
    [InlineData("BU-WH", "BU-WH", "blue-white")]
    [InlineData("GNYE", "GN-YE", "green-yellow")]
    [InlineData("blue/white", "BU-WH", "blue-white")]
    [InlineData("Grey", "GY", "grey")]
    [InlineData("gray", "GY", "grey")]
    [InlineData("", "", "")]
    public void Is_read_by_code_or_name(string typed, string code, string words)
    {
        var colours = WireColours.Read(typed);
        Assert.Equal((code, words), (colours.Code, colours.Words));
        Assert.Equal(colours, WireColours.Read(colours.Code));
    }

    [Theory]
    [InlineData("BL", "black (BK) or blue (BU)")]
    [InlineData("GR", "green (GN) or grey (GY)")]
    [InlineData("plaid", "not a wire colour")]
    [InlineData("RD-BU-WH", "one or two")]
    public void Is_refused_when_it_may_be_another(string typed, string says) =>
        Assert.Contains(says, Assert.Throws<FormatException>(() => WireColours.Read(typed)).Message, StringComparison.Ordinal);
}
