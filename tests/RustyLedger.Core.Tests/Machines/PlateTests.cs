using System.Globalization;
using CsCheck;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Tests.Machines;

public sealed class PlateTests
{
    private static readonly DateOnly Today = new(2026, 11, 25);

    [Theory]
    [InlineData("2022-05", "May 2022")]
    [InlineData("2022-05-09", "9 May 2022")]
    [InlineData("1998", "1998")]
    [InlineData("2015", "2015|week 15 of 2020")]
    [InlineData("2012", "2012|week 12 of 2020")]
    [InlineData("2021-W31", "week 31 of 2021")]
    [InlineData("2021 wk 5", "week 5 of 2021")]
    [InlineData("11/2019", "November 2019|week 11 of 2019")]
    [InlineData("09/12", "September 2012|week 12 of 2009|week 9 of 2012|December 2009")]
    [InlineData("0912", "September 2012|week 12 of 2009|week 9 of 2012|December 2009")]
    [InlineData("31/22", "week 31 of 2022")]
    [InlineData("40/12", "week 40 of 2012")]
    [InlineData("05/03/2018", "5 March 2018|3 May 2018")]
    [InlineData("25.12.19", "25 December 2019|19 December 2025")]
    [InlineData("03/03/2018", "3 March 2018")]
    [InlineData("2027-01", "")]
    [InlineData("2021-13", "")]
    [InlineData("2021-02-30", "")]
    [InlineData("spring", "")]
    [InlineData("", "")]
    [InlineData("99/99", "")]
    public void A_date_says_all_it_may_mean(string text, string may) =>
        Assert.Equal(may, string.Join('|', PlateDate.Read(text, Today).Select(d => d.Words)));

    /// <summary>A choice or a range in any spelling spans both its numbers; neither the first nor the last decides.</summary>
    [Theory]
    [InlineData("115/230 V", "115-230")]
    [InlineData("115 / 230 V 1~", "115-230")]
    [InlineData("230/115V", "115-230")]
    [InlineData("115 V/230 V", "115-230")]
    [InlineData("100…240 V", "100-240")]
    [InlineData("100...240 V", "100-240")]
    [InlineData("100..240 V", "100-240")]
    [InlineData("100 to 240 VAC", "100-240")]
    [InlineData("100 \u2013 240 V", "100-240")]
    [InlineData("115 or 230 V", "115-230")]
    [InlineData("3/N~ 400 V", "400-400")]
    [InlineData("230 V 1~, 24 V DC", "230-230|24-24")]
    public void A_supply_spans_all_that_its_plate_says(string text, string spans) =>
        Assert.Equal(spans, string.Join('|', PlateSupply.Read(text).Select(p => $"{p.Volts}-{p.VoltsTo}")));

    [Fact]
    public void Weeks_are_those_of_ISO_8601()
    {
        // ISO 8601: week 1 holds the year's first Thursday. 2009 had 53 weeks, the last from 28 December to 3 January.
        var week = Assert.Single(PlateDate.Read("2009-W53", Today));
        Assert.Equal((new DateOnly(2009, 12, 28), new DateOnly(2010, 1, 3)), (week.From, week.To));
        Assert.Empty(PlateDate.Read("2010-W53", Today));
    }

    [Fact]
    public void Every_day_written_in_full_is_read_back_plainly() =>
        Gen.Int[0, 25_000]
            .Sample(days =>
            {
                var day = new DateOnly(1955, 1, 1).AddDays(days);
                var read = Assert.Single(PlateDate.Read(day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), Today));
                Assert.Equal((day, day), (read.From, read.To));
            });

    [Fact]
    public void No_text_is_too_odd_for_a_plate() =>
        Gen.String[Gen.Char["0123456789/.-: WE+?"], 0, 12]
            .Sample(text =>
            {
                Assert.All(PlateDate.Read(text, Today), d => Assert.True(d.From <= d.To && d.From <= Today));
                _ = PlateSerial.Doubt(text);
            });

    [Fact]
    public void A_serial_that_a_spreadsheet_spoiled_says_what_it_can_have_been()
    {
        var doubt = PlateSerial.Doubt("7.18E+06")!;
        Assert.Contains("spreadsheet", doubt.Doubt, StringComparison.Ordinal);
        Assert.Equal(
            [
                "a number from 7175000 to 7184999",
                "digits that begin 718 with an E among them, such as 718E4",
                "zeros in front that were dropped",
            ],
            doubt.MayMean
        );
        // The plate said 0071834E2: as a number 7 183 400, which the spreadsheet showed shortened.
        Assert.InRange(71834m * 100, 7_175_000, 7_184_999);
        Assert.Null(PlateSerial.Doubt("0071834E2"));
        Assert.Null(PlateSerial.Doubt("CD-22-0816"));
        Assert.Equal(
            "the number 5000000",
            PlateSerial
                .Doubt("5E+06")!
                .MayMean[0]
                .Replace("a number from 4500000 to 5499999", "the number 5000000", StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("O7-18?4B", "One sign could not be read.")]
    [InlineData("??-1", "2 signs could not be read.")]
    public void A_worn_serial_says_how_many_signs_are_missing(string serial, string doubt) =>
        Assert.Equal(doubt, PlateSerial.Doubt(serial)!.Doubt);
}
