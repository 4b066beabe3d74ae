using CsCheck;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class LimitNotationTests
{
    // The spellings are common practice, no source; letter codes in numbers follow IEC 60062.
    [Theory]
    [InlineData("24 V ±5%", "24 V ±5 %")]
    [InlineData("10 ±0.5 V", "10 ±0.5 V")]
    [InlineData(">= 25 ohm", ">= 25 Ω")]
    [InlineData("< 0.5 Ω", "< 0.5 Ω")]
    [InlineData("< 0.5 \u2126", "< 0.5 Ω")]
    [InlineData("8..12 V DC", "8..12 V DC")]
    [InlineData("8VDC", "8 V DC")]
    [InlineData("8 VDC", "8 V DC")]
    [InlineData("28v", "28 V")]
    [InlineData("≥8 V", ">= 8 V")]
    [InlineData("≤ 8 V", "<= 8 V")]
    [InlineData("8-12V", "8..12 V")]
    [InlineData("8 \u2013 12 V", "8..12 V")]
    [InlineData("8 to 12 V", "8..12 V")]
    [InlineData("-12..-8 V", "-12..-8 V")]
    [InlineData("\u221212 V", "-12 V")]
    [InlineData("8-12 mV", "0.008..0.012 V")]
    [InlineData("120 VAC ±10 %", "120 V AC ±10 %")]
    [InlineData("24 V \u00f15 %", "24 V ±5 %")]
    [InlineData("24 V \ufffd5%", "24 V ±5 %")]
    [InlineData("24 V Â±5%", "24 V ±5 %")]
    [InlineData("24 V +/-5%", "24 V ±5 %")]
    [InlineData("1k2", "1200 Ω")]
    [InlineData("4M7", "4700000 Ω")]
    [InlineData("0R5", "0.5 Ω")]
    [InlineData("2,5 V", "2.5 V")]
    [InlineData("300 \u00b5A", "0.0003 A")]
    [InlineData("300 \u03bcA", "0.0003 A")]
    [InlineData("10 kΩ ±1 %", "10000 Ω ±1 %")]
    [InlineData("24", "24 V")]
    [InlineData("OL", "OL")]
    [InlineData("0.L", "OL")]
    [InlineData("short", "short")]
    [InlineData("Closed", "closed")]
    [InlineData("open", "open")]
    [InlineData("ON", "on")]
    [InlineData("off", "off")]
    public void Is_read_and_written_in_one_notation(string typed, string written) =>
        Assert.Equal(written, LimitNotation.Write(LimitNotation.ReadOne(typed).Limit));

    [Theory]
    [InlineData("24 (27 no load)", "24 V", "", "27 V", "no load")]
    [InlineData("12 or 0", "12 V", "", "0 V", "")]
    [InlineData("12 or 0 VAC", "12 V AC", "", "0 V AC", "")]
    [InlineData("12 V; 0", "12 V", "", "0 V", "")]
    public void Two_values_are_two_checks(string typed, string first, string firstRemark, string second, string secondRemark)
    {
        var limits = LimitNotation.Read(typed);
        Assert.Equal([first, second], limits.Select(l => LimitNotation.Write(l.Limit)));
        Assert.Equal([firstRemark, secondRemark], limits.Select(l => l.Remark));
    }

    [Theory]
    [InlineData("1,200", 1, "thousand")]
    [InlineData("24 V ±1,200", 7, "thousand")]
    [InlineData("5 MV", 2, "milli or mega")]
    [InlineData("5 MA", 2, "milli or mega")]
    [InlineData("about 24", 0, "not understood")]
    [InlineData("24 V and more", 5, "not understood")]
    [InlineData("12..8 V", 4, "below")]
    [InlineData("8 V..12 Ω", 5, "in one limit")]
    [InlineData("10 Ω DC", 0, "neither AC nor DC")]
    [InlineData("1.2.3 V", 0, "not one number")]
    [InlineData("", 0, "expected")]
    public void Is_refused_with_the_place_and_an_example(string typed, int at, string problem)
    {
        var refusal = Assert.Throws<NotationException>(() => LimitNotation.ReadOne(typed));
        Assert.Equal(at, refusal.At);
        Assert.Contains(problem, refusal.Problem, StringComparison.Ordinal);
        Assert.NotEmpty(LimitNotation.Read(refusal.Example.Split(", ")[0].Split(" or ")[0]));
    }

    [Theory]
    [InlineData("01", MeterMode.Word, "01")]
    [InlineData("5", MeterMode.Ohms, "5 Ω")]
    [InlineData("1k2", MeterMode.Frequency, "1200 Hz")]
    public void The_mode_settles_what_the_text_leaves_open(string typed, MeterMode mode, string written) =>
        Assert.Equal(written, LimitNotation.Write(LimitNotation.ReadOne(typed, mode).Limit));

    [Theory]
    [InlineData("5 Ω", MeterMode.DcVolts)]
    [InlineData("5 V AC", MeterMode.DcVolts)]
    [InlineData("5 V", MeterMode.Contact)]
    public void A_limit_of_another_kind_than_the_mode_is_refused(string typed, MeterMode mode) =>
        Assert.Throws<NotationException>(() => LimitNotation.ReadOne(typed, mode));

    [Fact]
    public void No_path_and_an_open_contact_differ() =>
        Assert.NotEqual(LimitNotation.ReadOne("OL").Limit, LimitNotation.ReadOne("open").Limit);

    [Fact]
    public void Every_limit_reads_back_as_it_was_written() => Limits().Sample(limit =>
    {
        MeterMode? mode = limit is WordLimit ? MeterMode.Word : null;
        Assert.Equal(limit, LimitNotation.ReadOne(LimitNotation.Write(limit), mode).Limit);
    });

    [Fact]
    public void No_text_does_worse_than_a_refusal() => Gen.OneOf(Gen.String, Scraps()).Sample(text =>
    {
        foreach (var mode in Enum.GetValues<MeterMode>())
        {
            try
            {
                _ = LimitNotation.Read(text, mode);
                _ = ReadingNotation.Read(text, mode);
            }
            catch (NotationException refusal)
            {
                Assert.InRange(refusal.At, 0, Math.Max(0, text.Length));
            }
        }
    });

    private static Gen<Limit> Limits()
    {
        var value = Gen.Int[-5_000_000, 5_000_000].Select(Gen.Int[0, 4], (n, places) => n / (decimal)Math.Pow(10, places));
        var positive = value.Select(Math.Abs);
        var unit = Gen.Enum<Unit>();
        var tail = unit.Select(Gen.Enum<Current>(), (u, c) => (Unit: u, Current: u is Unit.Volts or Unit.Amps ? c : Current.Unstated));
        return Gen.OneOf<Limit>(
            Gen.Select(value, tail, (v, t) => (Limit)new NominalLimit(v, null, null, t.Unit, t.Current)),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new NominalLimit(v, p, null, t.Unit, t.Current)),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new NominalLimit(v, null, p, t.Unit, t.Current)),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new RangeLimit(v, v + p, t.Unit, t.Current)),
            Gen.Select(value, Gen.Bool, tail, (v, b, t) => (Limit)new LowestLimit(v, b, t.Unit, t.Current)),
            Gen.Select(value, Gen.Bool, tail, (v, b, t) => (Limit)new HighestLimit(v, b, t.Unit, t.Current)),
            Gen.Bool.Select(b => (Limit)new ContactLimit(b)),
            Gen.Bool.Select(b => (Limit)new LampLimit(b)),
            Gen.Const((Limit)new NoPathLimit()),
            Gen.Const((Limit)new ShortLimit()),
            Gen.String[Gen.Char.AlphaNumeric, 1, 8].Select(w => (Limit)new WordLimit(w)));
    }

    private static readonly string[] Pieces =
    [
        "24", "1,200", ",", ".", "..", "-", "±", "V", "MV", "mA", "k", "M", "1k2", "OL", "0.L", "~", "/", "(", ")", "or", " ", "Ω", "%", ">=", "<", "AC", "DC", "open", "+", "9999999999999999999", "°C", "\u2212", "\u00f1", "word",
    ];

    /// <summary>Texts of the pieces that limits and readings are made of, in any order.</summary>
    private static Gen<string> Scraps() => Gen.Int[0, Pieces.Length - 1].Select(i => Pieces[i]).List[0, 8].Select(string.Concat);
}
