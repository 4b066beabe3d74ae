using CsCheck;
using RustyLedger.Core.Codes;

namespace RustyLedger.Core.Tests.Codes;

public sealed class CodeTests
{
    /// <summary>The pairs that every technician knows: common practice, no source.</summary>
    [Theory]
    [InlineData('5', 'S')]
    [InlineData('U', 'V')]
    [InlineData('0', 'O')]
    [InlineData('0', 'D')]
    [InlineData('8', 'B')]
    [InlineData('2', 'Z')]
    [InlineData('6', 'b')]
    [InlineData('9', 'g')]
    public void Signs_that_look_alike_are_taken_for_each_other(char one, char other) =>
        Assert.True(SevenSegment.LookAlike(one, other) && SevenSegment.LookAlike(other, one));

    [Theory]
    [InlineData('1', '7')]
    [InlineData('3', '8')]
    [InlineData('E', 'F')]
    [InlineData('C', 'L')]
    [InlineData('H', 'A')]
    [InlineData('8', '6')]
    [InlineData('8', 'b')]
    [InlineData('8', '3')]
    [InlineData('0', 'o')]
    [InlineData('B', '3')]
    public void Signs_that_differ_are_not(char one, char other) => Assert.False(SevenSegment.LookAlike(one, other));

    [Theory]
    [InlineData("acdfg", "5S")]
    [InlineData("bcdef", "UV")]
    [InlineData("abcdef", "0DO")]
    [InlineData("abcdefg", "8B")]
    [InlineData("abdeg", "2Z")]
    [InlineData("cdefg", "6B")]
    [InlineData("abcfg", "9Q")]
    [InlineData("adefg", "E")]
    public void Lit_bars_may_be_any_sign_that_is_drawn_so(string bars, string signs) =>
        Assert.Equal(signs, string.Concat(SevenSegment.MayBe(SevenSegment.Read(bars))));

    /// <summary>B stands between 8 and 6 and joins neither to the other: a number that it stands in is given both ways.</summary>
    [Fact]
    public void Look_alikes_are_not_chained()
    {
        Assert.True(SevenSegment.LookAlike('B', '8') && SevenSegment.LookAlike('B', '6') && SevenSegment.LookAlike('B', 'b'));
        Assert.Empty(CodeSearch.Find([Display("b3")], Seen("83")));
        Assert.Single(CodeSearch.Find([Display("b3")], Seen("63")));
        var both = CodeSearch.Find([Display("E##", new CodeNumber(CodeNumberKind.Other, "", "", 1))], Seen("E1B"));
        Assert.Equal([16m, 18m], both.Select(m => m.Value!.Value).Order());
        Assert.All(both, m => Assert.Contains("B for", m.Why, StringComparison.Ordinal));
    }

    /// <summary>Fifteen beeps at an even beat, tapped along once, are fifteen beeps: they have no pause to make groups of.</summary>
    [Fact]
    public void Beeps_at_an_even_beat_once_through_are_a_count()
    {
        var tapped = TapRhythm.Of([.. Enumerable.Range(0, 15).Select(i => i * 0.5)]);
        BoardCode Beeps(string id, CodePattern pattern, params int[] groups) =>
            new(id, CodeKind.Beeps, "", "", "", pattern, groups, null, null, id, "", "", null);
        var found = CodeSearch.Find(
            [
                Beeps("fifteen", CodePattern.Groups, 15),
                Beeps("three", CodePattern.Groups, 3),
                Beeps("two", CodePattern.Groups, 2, 1),
                Beeps("even", CodePattern.Even),
            ],
            new CodeSeen(CodeKind.Beeps, "", [], "", "", null, tapped, null)
        );
        Assert.Equal(["even", "fifteen"], found.Select(m => m.Code.Id).Order());
        // A lamp that blinks evenly blinks on: it is no count.
        Assert.Empty(
            CodeSearch.Find(
                [Beeps("fifteen", CodePattern.Groups, 15) with { Kind = CodeKind.Lamp }],
                new CodeSeen(CodeKind.Lamp, "", [], "", "", null, tapped, null)
            )
        );
    }

    [Fact]
    public void A_bar_that_there_is_none_of_is_refused() =>
        Assert.Equal(
            "\"k\" is not a bar of a digit; they are a to g.",
            Assert.Throws<FormatException>(() => SevenSegment.Read("ak")).Message
        );

    /// <summary>"U183" is version 1.83: trade practice, no source.</summary>
    [Theory]
    [InlineData("U183")]
    [InlineData("V183")]
    [InlineData("u 1.83")]
    public void A_version_is_read_off_a_display_that_has_no_V(string typed)
    {
        var match = Assert.Single(
            CodeSearch.Find(
                [Display("U###", new CodeNumber(CodeNumberKind.Firmware, "software version", "", 0.01m)), Display("E4")],
                Seen(typed)
            )
        );
        Assert.Equal((1.83m, "1.83"), (match.Value!.Value, match.Value.Words));
    }

    [Theory]
    [InlineData("180", 0.01, "", CodeNumberKind.Firmware, "1.80")]
    [InlineData("3", 100000, "operations", CodeNumberKind.Operations, "300\u202f000 operations")]
    [InlineData("0412", 10, "h", CodeNumberKind.Hours, "4\u202f120 h")]
    [InlineData("255", 0.1, "bar", CodeNumberKind.Other, "25.5 bar")]
    public void A_number_is_scaled_and_has_its_unit(string digits, double scale, string unit, CodeNumberKind kind, string words) =>
        Assert.Equal(words, CodeSearch.ValueOf(new CodeNumber(kind, "", unit, (decimal)scale), digits).Words);

    [Fact]
    public void A_digit_is_found_by_its_bars_and_a_dead_bar_is_forgiven_after_what_fits()
    {
        BoardCode[] codes = [Display("E4"), Display("E9"), Display("F4"), Display("E44")];
        var exact = CodeSearch.Find(codes, Seen("", "adefg", "bcfg"));
        Assert.Equal(["E4", "E9", "F4"], exact.Select(m => m.Code.Shown));
        Assert.Equal((0.0, "every bar fits"), (exact[0].Off, exact[0].Why));
        Assert.Equal("a bar of sign 1 dead or stuck, if it is F", exact[2].Why);
        Assert.Contains(CodeSearch.Find(codes, Seen("", "adefg", "abcfg")), m => m.Code.Shown == "E9" && m.Off == 0);
    }

    [Fact]
    public void Every_code_is_found_by_the_bars_that_draw_it() =>
        Gen.Char["ABCDEFGHIJLNOPQRSTUVYZ0123456789-"]
            .Array[1, 4]
            .Select(signs => new string(signs))
            .Sample(shown =>
            {
                var found = CodeSearch.Find(
                    [Display(shown)],
                    new CodeSeen(CodeKind.Display, "", [.. shown.Select(c => SevenSegment.Drawn(c)[0])], "", "", null, null, null)
                );
                Assert.Equal(0, Assert.Single(found).Off);
            });

    /// <summary>Taps of a hand that strays by up to a fifth, begun anywhere in the repeat.</summary>
    [Fact]
    public void Groups_and_rate_come_out_of_an_unsteady_hand() =>
        Gen.Select(
                Gen.Int[0, 7].Select(i => new int[][] { [2], [3], [4], [5], [2, 1], [1, 3], [3, 2], [1, 1, 2] }[i]),
                Gen.Double[0.25, 0.6],
                Gen.Double[2.6, 4],
                Gen.Int[0, 4],
                Gen.Int[0, 100_000]
            )
            .Sample(
                (groups, step, pause, start, seed) =>
                {
                    var taps = Tapped(groups, step, step * pause, start, repeats: 6, new Random(seed), strays: 0.18);
                    var rhythm = TapRhythm.Of(taps);
                    Assert.True(SameTurned(groups, rhythm.Groups), $"{string.Join(",", groups)} was heard as {rhythm.Words}");
                    // Every interval strays by up to 0.18, so their middle does too.
                    Assert.InRange(rhythm.PerSecond!.Value, 1 / 1.181 / step, 1 / 0.819 / step);
                    Assert.InRange(rhythm.PauseSeconds!.Value, step * pause * 0.819, step * pause * 1.181);
                }
            );

    [Fact]
    public void A_long_pause_after_each_repeat_tells_where_it_begins()
    {
        double[] taps = [0, 0.4, 1.2, 4, 4.4, 5.2, 8, 8.4, 9.2];
        var rhythm = TapRhythm.Of(taps);
        Assert.Equal((2, 1, 3), (rhythm.Groups[0], rhythm.Groups[1], rhythm.Repeats));
        Assert.Equal("2, then 1, about 2.5 a second", rhythm.Words);
    }

    [Fact]
    public void A_tap_too_many_in_one_repeat_is_outvoted()
    {
        var taps = Tapped([3], 0.4, 1.4, 0, 6, new Random(1), 0.05);
        taps.Insert(7, (taps[6] + taps[7]) / 2);
        Assert.Equal([3], TapRhythm.Of(taps).Groups);
    }

    [Fact]
    public void An_even_rhythm_has_a_rate_and_no_groups() =>
        Gen.Select(Gen.Double[0.2, 1.5], Gen.Int[4, 12], Gen.Int[0, 100_000])
            .Sample(
                (step, count, seed) =>
                {
                    var rhythm = TapRhythm.Of(Tapped([count], step, step, 0, 1, new Random(seed), 0.1));
                    Assert.True(rhythm.IsEven, rhythm.Words);
                    Assert.InRange(rhythm.PerSecond!.Value, 0.8 / step, 1.25 / step);
                }
            );

    [Fact]
    public void What_is_no_rhythm_is_refused()
    {
        Assert.Throws<ArgumentException>(() => TapRhythm.Of([]));
        Assert.Throws<ArgumentException>(() => TapRhythm.Of([1, 1, 2]));
        Assert.Equal([1], TapRhythm.Of([3]).Groups);
    }

    [Fact]
    public void A_lamp_is_found_by_colour_and_rhythm()
    {
        BoardCode[] codes =
        [
            Lamp("D2", "red", CodePattern.Groups, 3),
            Lamp("D2", "red", CodePattern.Groups, 2, 1),
            Lamp("D2", "red", CodePattern.Even),
            Lamp("D1", "green", CodePattern.Groups, 3),
            Lamp("D2", "red", CodePattern.Steady),
        ];
        string[] Found(string colour, params double[] taps) =>
            [
                .. CodeSearch
                    .Find(codes, new CodeSeen(CodeKind.Lamp, "", [], "", colour, null, TapRhythm.Of(taps), null))
                    .Select(m => m.Code.Words),
            ];
        Assert.Equal(["D2 red, 3 blinks, pause"], Found("red", 0, 0.4, 0.8, 2.2, 2.6, 3, 4.4, 4.8, 5.2));
        Assert.Equal(["D2 red, blinking evenly"], Found("red", 0, 0.5, 1, 1.52, 2));
        Assert.Equal("D2 red, blinks 2, then 1", Found("red", 0, 0.4, 2, 3.6, 4, 5.6, 7.2, 7.6, 9.2)[0]);
        Assert.Equal(
            ["D2 red, steady"],
            CodeSearch.Find(codes, new CodeSeen(CodeKind.Lamp, "", [], "D2", "", CodePattern.Steady, null, null)).Select(m => m.Code.Words)
        );
    }

    [Fact]
    public void What_was_seen_is_kept_in_words()
    {
        static CodeSeen Seen(
            CodeKind kind,
            string element = "",
            string colour = "",
            CodePattern? pattern = null,
            TapRhythm? rhythm = null,
            int? count = null,
            string text = "",
            params string[] bars
        ) => new(kind, text, [.. bars.Select(SevenSegment.Read)], element, colour, pattern, rhythm, count);
        Assert.Equal("E4", Seen(CodeKind.Display, text: "E4").Words);
        Assert.Equal("1E", Seen(CodeKind.Display, bars: ["bc", "adefg"]).Words);
        Assert.Equal("D3 red, 1 blink", Seen(CodeKind.Lamp, "D3", "red", count: 1).Words);
        Assert.Equal("15 beeps", Seen(CodeKind.Beeps, count: 15).Words);
        Assert.Equal("green, blinking evenly", Seen(CodeKind.Lamp, colour: "green", pattern: CodePattern.Even).Words);
        Assert.Equal(
            "red, groups of 2, about 2.5 a second",
            Seen(CodeKind.Lamp, colour: "red", rhythm: TapRhythm.Of([0, 0.4, 2, 2.4, 4, 4.4])).Words
        );
        Assert.Equal("nothing said of it", Seen(CodeKind.Lamp).Words);
    }

    /// <summary>
    /// Fifteen beeps may be the code for lost airflow; slow ticks the small motor, fast ticks the fan: trade practice, no source.
    /// </summary>
    [Fact]
    public void Beeps_are_counted_and_ticks_judged_by_their_rate()
    {
        BoardCode[] codes =
        [
            Beeps(15, "airflow lost"),
            Beeps(14, "fuel"),
            Beeps(3, "low battery"),
            new("t1", CodeKind.Ticks, "", "", "", CodePattern.Even, [], 0.5m, 1.5m, "the geared motor", "", "", null),
            new("t2", CodeKind.Ticks, "", "", "", CodePattern.Even, [], 4, 8, "the fan", "", "", null),
        ];
        var beeps = CodeSearch.Find(codes, new CodeSeen(CodeKind.Beeps, "", [], "", "", null, null, 15));
        Assert.Equal(["airflow lost", "fuel"], beeps.Select(m => m.Code.Meaning));
        Assert.Equal(("counted 15", "if one was counted twice"), (beeps[0].Why, beeps[1].Why));
        string[] Ticks(double step) =>
            [
                .. CodeSearch
                    .Find(codes, new CodeSeen(CodeKind.Ticks, "", [], "", "", null, TapRhythm.Of([0, step, 2 * step, 3 * step]), null))
                    .Select(m => m.Code.Meaning),
            ];
        Assert.Equal(["the geared motor"], Ticks(0.9));
        Assert.Equal(["the fan"], Ticks(0.12));
        Assert.Empty(Ticks(0.4));
    }

    private static BoardCode Display(string shown, CodeNumber? number = null) =>
        new(shown, CodeKind.Display, shown, "", "", CodePattern.Steady, [], null, null, "", "", "", number);

    private static BoardCode Lamp(string element, string colour, CodePattern pattern, params int[] groups) =>
        new($"{element}{pattern}{groups.Length}", CodeKind.Lamp, "", element, colour, pattern, groups, null, null, "", "", "", null);

    private static BoardCode Beeps(int count, string meaning) =>
        new($"b{count}", CodeKind.Beeps, "", "", "", CodePattern.Groups, [count], null, null, meaning, "", "", null);

    private static CodeSeen Seen(string typed, params string[] bars) =>
        new(CodeKind.Display, typed, [.. bars.Select(SevenSegment.Read)], "", "", null, null, null);

    private static List<double> Tapped(int[] groups, double step, double pause, int start, int repeats, Random random, double strays)
    {
        var (taps, at) = (new List<double>(), 0.0);
        foreach (var count in Enumerable.Repeat(groups, repeats).SelectMany(g => g))
        {
            for (var i = 0; i < count; i++)
            {
                taps.Add(at);
                at += (i < count - 1 ? step : pause) * (1 + (strays * ((2 * random.NextDouble()) - 1)));
            }
        }

        return taps[Math.Min(start, groups.Sum())..];
    }

    private static bool SameTurned(int[] said, IReadOnlyList<int> heard) =>
        said.Length == heard.Count
        && Enumerable
            .Range(0, said.Length)
            .Any(turn => said.Select((count, i) => count == heard[(i + turn) % heard.Count]).All(same => same));
}
