using CsCheck;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class Rfc4180Tests
{
    // How spreadsheets take a cell that begins so is common practice (OWASP, "CSV injection", from memory).
    [Theory]
    [InlineData("=HYPERLINK(\"http://other.example\")", "'=HYPERLINK(\"http://other.example\")")]
    [InlineData("@SUM(A1)", "'@SUM(A1)")]
    [InlineData("+A1", "'+A1")]
    [InlineData("-1+cmd|' /C calc'!A0", "'-1+cmd|' /C calc'!A0")]
    [InlineData("\tx", "'\tx")]
    [InlineData("-12", "-12")]
    [InlineData("+12.5 V DC", "+12.5 V DC")]
    [InlineData("-0.4 V ±5 %", "-0.4 V ±5 %")]
    [InlineData("-", "-")]
    [InlineData("+", "+")]
    [InlineData("brake feed", "brake feed")]
    [InlineData("'=1", "''=1")]
    public void What_a_spreadsheet_would_work_out_goes_out_as_text(string cell, string expected) =>
        Assert.Equal(expected, Rfc4180.AsText(cell));

    [Fact]
    public void Every_cell_comes_back_as_it_was() =>
        Gen.OneOf(Gen.String, Gen.String["='+-@\t\r1.5 VA("]).Sample(cell => Rfc4180.Unescaped(Rfc4180.AsText(cell)) == cell);
}
