using System.Globalization;
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
    [InlineData("4M7", "4.7 MΩ")]
    [InlineData("0R5", "0.5 Ω")]
    [InlineData("2,5 V", "2.5 V")]
    [InlineData("300 \u00b5A", "0.0003 A")]
    [InlineData("300 \u03bcA", "0.0003 A")]
    [InlineData("10 kΩ ±1 %", "10000 Ω ±1 %")]
    [InlineData("24", "24 V")]
    // A multiplier belongs to all numbers of its expression unless each has its own.
    [InlineData("500 mV ±50", "0.5 ±0.05 V")]
    [InlineData("4.7 kΩ ±0.2", "4700 ±200 Ω")]
    [InlineData("4.7k ±0.2", "4700 ±200 Ω")]
    [InlineData("100 mV..200", "0.1..0.2 V")]
    [InlineData("500 mV ±10 %", "0.5 V ±10 %")]
    [InlineData("1k2 ±100", "1200 ±100 Ω")]
    [InlineData("1 V..500 mV", null)]
    // What people write on sheets.
    [InlineData("2 GΩ", "2000 MΩ")]
    [InlineData("10 MEG", "10 MΩ")]
    [InlineData("4.7 k ohm", "4700 Ω")]
    [InlineData("R47", "0.47 Ω")]
    [InlineData("3V3", "3.3 V")]
    [InlineData("5 V~", "5 V AC")]
    [InlineData("5 V ⎓", "5 V DC")]
    [InlineData("∞", "OL")]
    [InlineData("25 ohm or more", ">= 25 Ω")]
    [InlineData("2 A or less", "<= 2 A")]
    [InlineData("min 8", ">= 8 V")]
    [InlineData("8 min", ">= 8 V")]
    [InlineData("8 V min.", ">= 8 V")]
    [InlineData("2 A max", "<= 2 A")]
    [InlineData("max 2 A", "<= 2 A")]
    [InlineData("about 5", "5 V ±20 %")]
    [InlineData("~5", "5 V ±20 %")]
    [InlineData("24 V (±10 %)", "24 V ±10 %")]
    [InlineData("24 V (±2 V)", "24 ±2 V")]
    [InlineData("24 V +10/-15 %", "20.4..26.4 V")]
    [InlineData("24 V +10 -15 %", "20.4..26.4 V")]
    [InlineData("-24 V +10/-15 %", "-27.6..-21.6 V")]
    [InlineData("12.0 to 12.6", "12..12.6 V")]
    [InlineData("5k typ", "5000 Ω")]
    [InlineData("no reading", "no reading")]
    [InlineData("beep", "closed")]
    [InlineData("no beep", "open")]
    [InlineData("OL", "OL")]
    [InlineData("0.L", "OL")]
    [InlineData("short", "beeps through")]
    [InlineData("beeps through", "beeps through")]
    [InlineData("either 12 or 0", "either 12 V or 0 V")]
    [InlineData("Either 24 V DC ±5 %; OL", "either 24 V DC ±5 % or OL")]
    [InlineData("either 1 V or 5 V or 12 V", "either 1 V or 5 V or 12 V")]
    [InlineData("either 12 V", null)]
    [InlineData("Closed", "closed")]
    [InlineData("open", "open")]
    [InlineData("ON", "on")]
    [InlineData("off", "off")]
    public void Is_read_and_written_in_one_notation(string typed, string? written)
    {
        if (written is null)
        {
            Assert.Throws<NotationException>(() => LimitNotation.ReadOne(typed));
            return;
        }

        Assert.Equal(written, LimitNotation.Write(LimitNotation.ReadOne(typed).Limit));
    }

    /// <summary>Whatever the multiplier, written once behind either number it means the same as written behind both.</summary>
    [Fact]
    public void A_multiplier_written_once_is_that_of_both() =>
        Gen.Select(
                Gen.Int[2, 999],
                Gen.Int[0, 500],
                OneOf("mV", "kV", "mA", "kΩ", "MΩ", "ms", "kHz"),
                OneOf(" or ", "..", " to ", " ±", " (")
            )
            .Sample(
                (first, more, unit, between) =>
                {
                    var second = between == " ±" ? Math.Max(1, first / 2) : first + more;
                    var end = between == " (" ? " no load)" : "";
                    var both = Written($"{first} {unit}{between}{second} {unit}{end}");
                    Assert.Equal(both, Written($"{first} {unit}{between}{second}{end}"));
                    Assert.Equal(both, Written($"{first}{between}{second} {unit}{end}"));

                    static string Written(string text) =>
                        string.Join(" | ", LimitNotation.Read(text).Select(l => LimitNotation.Write(l.Limit)));
                }
            );

    [Theory]
    [InlineData("24 (27 no load)", "24 V", "", "27 V", "no load")]
    [InlineData("12 or 0", "12 V", "", "0 V", "")]
    [InlineData("12 or 0 VAC", "12 V AC", "", "0 V AC", "")]
    [InlineData("12 V; 0", "12 V", "", "0 V", "")]
    [InlineData("4 or 20 mA", "0.004 A", "", "0.02 A", "")]
    [InlineData("500 mV (600 no load)", "0.5 V", "", "0.6 V", "no load")]
    [InlineData("+12/-12", "12 V", "", "-12 V", "")]
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
    [InlineData("perhaps 24", 0, "not understood")]
    [InlineData("24 V and so on", 5, "not understood")]
    // What may be meant in two ways is refused with both.
    [InlineData("5 ±50 mV", 0, "both numbers or to the second")]
    [InlineData("100..2 kΩ", 0, "both numbers or to the second")]
    [InlineData("NC", 0, "normally closed, or not connected")]
    [InlineData("n/c", 0, "normally closed, or not connected")]
    // Units of checks that come later are refused with the word, never a remark.
    [InlineData("180 F", 4, "capacitance")]
    [InlineData("60 W", 3, "power")]
    [InlineData("7 Nm", 2, "torque")]
    [InlineData("7 Ah", 2, "charge")]
    [InlineData("100 VA", 4, "apparent power")]
    [InlineData("999999999999999999 V", 0, "no meter shows so much")]
    [InlineData("24 V ±2000 %", 6, "so wide")]
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
    [InlineData("8 min", MeterMode.Time, "480 s")]
    [InlineData("2 h", MeterMode.Time, "7200 s")]
    [InlineData("212 F", MeterMode.Temperature, "100 °C")]
    [InlineData("212 °F ±9 °F", MeterMode.Temperature, "100 ±5 °C")]
    [InlineData("373.15 K", MeterMode.Temperature, "100 °C")]
    [InlineData("NC", MeterMode.Contact, "closed")]
    [InlineData("B+", MeterMode.DcVolts, "supply")]
    [InlineData("batt", MeterMode.DcVolts, "supply")]
    [InlineData("battery", MeterMode.DcVolts, "supply")]
    [InlineData("supply", MeterMode.AcVolts, "supply")]
    public void The_mode_settles_what_the_text_leaves_open(string typed, MeterMode mode, string written) =>
        Assert.Equal(written, LimitNotation.Write(LimitNotation.ReadOne(typed, mode).Limit));

    [Theory]
    [InlineData("5 Ω", MeterMode.DcVolts)]
    [InlineData("5 V AC", MeterMode.DcVolts)]
    [InlineData("5 V", MeterMode.Contact)]
    [InlineData("short", MeterMode.DcVolts)]
    [InlineData("short", MeterMode.DcAmps)]
    [InlineData("short", MeterMode.Diode)]
    [InlineData("closed", MeterMode.Lamp)]
    [InlineData("on", MeterMode.Contact)]
    [InlineData("OL", MeterMode.DcVolts)]
    [InlineData("beep", MeterMode.Ohms)]
    public void A_limit_of_another_kind_than_the_mode_is_refused(string typed, MeterMode mode) =>
        Assert.Throws<NotationException>(() => LimitNotation.ReadOne(typed, mode));

    /// <summary>On a switch, a relay, a stop or a guard NC is closed at rest; elsewhere it is asked.</summary>
    [Fact]
    public void NC_is_closed_at_rest_where_something_opens_and_closes()
    {
        var limit = Assert.Single(LimitNotation.Read("n/c", isContact: true));
        Assert.Equal((new ContactLimit(true), MeterMode.Contact, "normally closed"), (limit.Limit, limit.Mode, limit.Remark));
        Assert.Throws<NotationException>(() => LimitNotation.Read("NC"));
    }

    [Fact]
    public void No_path_and_an_open_contact_differ() =>
        Assert.NotEqual(LimitNotation.ReadOne("OL").Limit, LimitNotation.ReadOne("open").Limit);

    [Theory]
    [InlineData("0B", "0000 1011")]
    [InlineData("0B3F", "0000 1011 0011 1111")]
    [InlineData("0b11", "0011")]
    [InlineData("0x1F", "0001 1111")]
    [InlineData("1Fh", "0001 1111")]
    [InlineData("E 5", "1110 0101")]
    [InlineData("hello", null)]
    [InlineData("0b", "0000 1011")]
    public void A_word_as_displayed_has_bits(string word, string? bits) => Assert.Equal(bits, WordBits.Of(word));

    [Fact]
    public void Every_limit_reads_back_as_it_was_written() =>
        Limits()
            .Sample(limit =>
            {
                MeterMode? mode = limit is WordLimit ? MeterMode.Word : null;
                Assert.Equal(limit, LimitNotation.ReadOne(LimitNotation.Write(limit), mode).Limit);
            });

    [Fact]
    public void No_text_does_worse_than_a_refusal() =>
        Gen.OneOf(Gen.String, Scraps())
            .Sample(text =>
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

    private static Gen<string> OneOf(params string[] words) => Gen.Int[0, words.Length - 1].Select(i => words[i]);

    private static Gen<Limit> Limits()
    {
        var value = Gen.Int[-5_000_000, 5_000_000].Select(Gen.Int[0, 4], (n, places) => n / (decimal)Math.Pow(10, places));
        var positive = value.Select(Math.Abs);
        var unit = Gen.Enum<Unit>();
        var tail = unit.Select(Gen.Enum<Current>(), (u, c) => (Unit: u, Current: u is Unit.Volts or Unit.Amps ? c : Current.Unstated));
        return Gen.OneOf<Limit>(
            Gen.Select(value, tail, (v, t) => (Limit)new NominalLimit(v, null, null, t.Unit, t.Current)),
            // The band of a duty is in its points, never a share of it.
            Gen.Select(
                value,
                Gen.Int[0, 1000],
                tail.Where(t => t.Unit != Unit.Percent),
                (v, p, t) => (Limit)new NominalLimit(v, p, null, t.Unit, t.Current)
            ),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new NominalLimit(v, null, p, t.Unit, t.Current)),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new RangeLimit(v, v + p, t.Unit, t.Current)),
            Gen.Select(value, Gen.Bool, tail, (v, b, t) => (Limit)new LowestLimit(v, b, t.Unit, t.Current)),
            Gen.Select(value, Gen.Bool, tail, (v, b, t) => (Limit)new HighestLimit(v, b, t.Unit, t.Current)),
            Gen.Bool.Select(b => (Limit)new ContactLimit(b)),
            Gen.Bool.Select(b => (Limit)new LampLimit(b)),
            Gen.Const((Limit)new LampLimit(true, Blinks: true)),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new FollowsLimit(new RangeLimit(v, v + p, t.Unit, t.Current))),
            Gen.Select(value, positive, tail, (v, p, t) => (Limit)new SettlesLimit(new NominalLimit(v, null, p, t.Unit, t.Current))),
            Gen.Int[1, 200].Select(n => (Limit)new SoundLimit(true, n)),
            Gen.Bool.Select(b => (Limit)new SoundLimit(b, null)),
            Gen.Bool.Select(b => (Limit)new RotationLimit(b)),
            Gen.Int[1, 400].Select(v => (Limit)new FuseLimit(v)),
            Gen.Const((Limit)new FuseLimit(null)),
            Gen.Int[0, 255].Select(n => (Limit)new BitsLimit(WordBits.Of(n.ToString("X2", CultureInfo.InvariantCulture))!)),
            Gen.Select(Gen.Int[0, 9], Gen.Int[0, 9], (a, b) => (Limit)new SequenceLimit($"fan, click {a}..{a + b + 1}, flame")),
            Gen.Const((Limit)new NoPathLimit()),
            Gen.Const((Limit)new ShortLimit()),
            Gen.Const((Limit)new UnjudgedLimit("no reading")),
            Gen.String[Gen.Char.AlphaNumeric, 1, 8].Select(w => (Limit)new WordLimit(w))
        );
    }

    private static readonly string[] Pieces =
    [
        "24",
        "1,200",
        ",",
        ".",
        "..",
        "-",
        "±",
        "V",
        "MV",
        "mA",
        "k",
        "M",
        "1k2",
        "OL",
        "0.L",
        "~",
        "/",
        "(",
        ")",
        "or",
        " ",
        "Ω",
        "%",
        ">=",
        "<",
        "AC",
        "DC",
        "open",
        "+",
        "9999999999999999999",
        "999999999999999999",
        "1000 %",
        "G",
        "F",
        "min",
        "about",
        "typ",
        "R47",
        "3V3",
        "°C",
        "\u2212",
        "\u00f1",
        "word",
    ];

    /// <summary>Texts of the pieces that limits and readings are made of, in any order.</summary>
    private static Gen<string> Scraps() => Gen.Int[0, Pieces.Length - 1].Select(i => Pieces[i]).List[0, 8].Select(string.Concat);
}
