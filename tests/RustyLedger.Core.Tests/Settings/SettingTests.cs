using System.Globalization;
using CsCheck;
using RustyLedger.Core.Settings;

namespace RustyLedger.Core.Tests.Settings;

public sealed class SettingTests
{
    private static readonly SettingDefinition Dwell = new("d", "d1", "dwell", SettingKind.Number, "s", 0.5m, 6, [], "1.8", "");
    private static readonly SettingDefinition Mode = new(
        "m",
        "m1",
        "mode",
        SettingKind.Choice,
        "",
        null,
        null,
        ["single", "train"],
        "single",
        ""
    );

    [Theory]
    [InlineData("0.5", "")]
    [InlineData("6", "")]
    [InlineData("6,0", "")]
    [InlineData("0.49", "below 0.5 s")]
    [InlineData("6.01", "above 6 s")]
    [InlineData("-", "not a number")]
    [InlineData("−1", "below 0.5 s")]
    public void A_number_outside_its_range_is_marked(string value, string words) => Assert.Equal(words, Dwell.Fit(value).Words);

    [Theory]
    [InlineData("Train", "")]
    [InlineData("both", "none of single, train")]
    public void A_choice_is_one_of_its_choices(string value, string words) => Assert.Equal(words, Mode.Fit(value).Words);

    [Fact]
    public void A_definition_for_one_firmware_goes_before_one_for_all()
    {
        var newer = Dwell with { Id = "d2", Firmware = "2.4", Max = 9 };
        Assert.Equal(9, SettingDefinition.Under("2.4", [Dwell, newer])["D1"].Max);
        Assert.Equal(6, SettingDefinition.Under("2.3", [newer, Dwell])["d1"].Max);
        Assert.Equal("0.5 to 6 s", Dwell.RangeWords);
    }

    [Fact]
    public void Two_snapshots_side_by_side_compare_numbers_as_numbers()
    {
        var defined = SettingDefinition.Under("", [Dwell, Mode]);
        var pairs = SettingComparison.Of(
            defined,
            [new("d1", "1.80"), new("m1", "Single"), new("x9", "007"), new("old", "1")],
            defined,
            [new("D1", "1,8"), new("m1", "train"), new("x9", "7"), new("x10", "2")]
        );
        Assert.Equal(
            [
                ("d1", SettingChange.Same),
                ("m1", SettingChange.Changed),
                ("old", SettingChange.OnlyFirst),
                ("x9", SettingChange.Changed),
                ("x10", SettingChange.OnlySecond),
            ],
            pairs.Select(p => (p.Code, p.Change))
        );
        Assert.Equal(SettingFitKind.NotDefined, pairs[^1].SecondFit.Kind);
    }

    [Fact]
    public void A_list_is_read_however_it_was_jotted_down()
    {
        var lines = SettingList.Read("d1 1.8\r\nd2=3\nm1:\ttrain\n\nh1 4 112\nq1;0,5\n");
        Assert.Equal([("d1", "1.8"), ("d2", "3"), ("m1", "train"), ("h1", "4 112"), ("q1", "0,5")], lines.Select(l => (l.Code, l.Value)));
        Assert.All(lines, l => Assert.Empty(l.Problem));
    }

    [Fact]
    public void Every_line_that_is_not_understood_is_named()
    {
        var lines = SettingList.Read($"d1\n=3\nd2 1\nd2 2\n{new string('x', 25)} 1");
        Assert.Equal(
            [
                "d1 has no value; write for example d1 1.8",
                "the code is missing; write for example d1 1.8",
                "",
                "d2 stands in line 3 already, with 1",
                "the code has 25 signs; at most 24 fit",
            ],
            lines.Select(l => l.Problem)
        );
        Assert.Throws<FormatException>(() =>
            SettingList.Read(string.Concat(Enumerable.Range(0, SettingList.MostLines + 1).Select(i => $"c{i} 1\n")))
        );
    }

    [Fact]
    public void What_is_written_is_read_back() =>
        Gen.Dictionary(
                Gen.String[Gen.Char.AlphaNumeric, 1, 8],
                Gen.String[Gen.Char["abc ,;\"'\n.0123"], 1, 12].Where(v => v.Trim().Length > 0)
            )[0, 12]
            .Sample(values =>
            {
                var distinct = values.DistinctBy(v => v.Key.ToUpperInvariant()).ToList();
                var text = SettingList.Write(distinct.Select(v => (new SettingValue(v.Key, v.Value.Trim()), (SettingDefinition?)Dwell)));
                Assert.Equal(distinct.Select(v => (v.Key, v.Value.Trim())), SettingList.Read(text).Select(l => (l.Code, l.Value)));
            });

    [Fact]
    public void Numbers_are_read_with_a_point_or_a_comma() =>
        Gen.Decimal[-9999, 9999]
            .Sample(d =>
            {
                var number = Math.Round(d, 3);
                var text = number.ToString(CultureInfo.InvariantCulture);
                Assert.Equal(number, SettingValue.Number(text));
                Assert.Equal(number, SettingValue.Number(text.Replace('.', ',')));
            });
}
