using System.Globalization;
using CsCheck;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Tests.Machines;

public sealed class VariantTests
{
    private static readonly DateOnly _today = new(2026, 11, 25);

    // Common practice, no source: cut-overs are by date with inclusive ends.
    private static readonly VariantSheet _threeClasses = new(
        [Built("early", null, new(2015, 12, 31)), Built("middle", new(2016, 1, 1), new(2018, 7, 31)), Built("late", new(2018, 8, 1), null)],
        "",
        2000,
        "IOQ"
    );

    [Theory]
    [InlineData("2015-12-31", "early")]
    [InlineData("2016-01-01", "middle")]
    [InlineData("2018-07-31", "middle")]
    [InlineData("2018-08-01", "late")]
    [InlineData("2018-07", "middle")]
    [InlineData("2018-08", "late")]
    [InlineData("1987-03", "early")]
    public void Both_ends_of_a_range_are_in_it(string built, string variant)
    {
        var decision = Decide(_threeClasses, built: built);
        Assert.Equal((DecisionKind.Decided, variant), (decision.Kind, decision.Chosen?.Name));
        Assert.Contains("Rule: built", decision.Why, StringComparison.Ordinal);
    }

    [Fact]
    public void A_build_says_what_a_fuse_or_a_jumper_must_be()
    {
        var build = new Variant(
            "b",
            "",
            [],
            "",
            [],
            [new VariantElement("main", "F1", "T 4 A"), new VariantElement("aux", "F1", "T 2 A")],
            [new VariantElement("main", "jp1", "C-230")],
            [],
            [],
            [],
            []
        );
        Assert.Equal(
            ("T 4 A", "T 2 A", "C-230", ""),
            (build.MustBe("main", "F1"), build.MustBe("aux", "f1"), build.MustBe("main", "JP1"), build.MustBe("aux", "JP1"))
        );
    }

    [Fact]
    public void A_date_that_reaches_over_a_cut_over_leaves_both_and_says_what_would_settle_it()
    {
        // A year alone may be a year and a week as well; a month is a month.
        Assert.Equal(
            ["whether \"2018\" is 2018 or week 18 of 2020; the second plate may say it plainly"],
            Decide(_threeClasses, built: "2018").Settle
        );
        var decision = Decide(_threeClasses, built: "2018-W31");
        Assert.Equal(DecisionKind.Doubtful, decision.Kind);
        Assert.Equal(["middle", "late"], decision.Candidates.Select(c => c.Variant.Name));
        Assert.Equal(["the day within week 31 of 2018"], decision.Settle);
    }

    [Fact]
    public void A_doubtful_date_gives_the_variants_it_could_be()
    {
        var sheet = new VariantSheet([Built("old", null, new(2010, 12, 31)), Built("new", new(2011, 1, 1), null)], "", 2000, "IOQ");
        var decision = Decide(sheet, built: "09/12");
        Assert.Equal(DecisionKind.Doubtful, decision.Kind);
        Assert.Equal(["old", "new"], decision.Candidates.Select(c => c.Variant.Name));
        Assert.Contains("September 2012", decision.Why, StringComparison.Ordinal);
        Assert.Contains("week 12 of 2009", Assert.Single(decision.Settle), StringComparison.Ordinal);
    }

    [Fact]
    public void A_serial_number_that_carries_the_date_settles_a_doubtful_one()
    {
        var sheet = new VariantSheet(
            [Built("old", null, new(2010, 12, 31)), Built("new", new(2011, 1, 1), null)],
            "QP-{yy}{ww}-*",
            2000,
            "IOQ"
        );
        Assert.Equal("old", Decide(sheet, serial: "QP-0912-118", built: "09/12").Chosen?.Name);
        Assert.Equal("new", Decide(sheet, serial: "QP-1237-4", built: "09/12").Chosen?.Name);
        Assert.Equal("new", Decide(sheet, serial: "QP-1204-4").Chosen?.Name);
    }

    [Fact]
    public void A_plate_that_contradicts_itself_is_flagged()
    {
        var sheet = _threeClasses with { SerialPattern = "QP-{yy}{ww}-*" };
        var decision = Decide(sheet, serial: "QP-1940-7", built: "2015-06");
        Assert.Equal(DecisionKind.Contradicts, decision.Kind);
        Assert.Contains("week 40 of 2019", decision.Why, StringComparison.Ordinal);
        Assert.Equal(["early", "late"], decision.Candidates.Select(c => c.Variant.Name));
    }

    [Fact]
    public void A_supply_that_speaks_against_the_serial_number_is_a_contradiction_too()
    {
        var sheet = new VariantSheet(
            [
                Variant("low", Rule() with { SerialPrefix = "A", Volts = 120 }),
                Variant("high", Rule() with { SerialPrefix = "B", Volts = 230 }),
            ],
            "",
            2000,
            "IOQ"
        );
        Assert.Contains(
            "speaks for low; supply 230 V 1~ speaks for high",
            Decide(sheet, serial: "A-7", supply: "230 V 1~").Why,
            StringComparison.Ordinal
        );
        Assert.Equal("high", Decide(sheet, serial: "B-7", supply: "230 V 1~").Chosen?.Name);
        Assert.Equal(["the supply: volts and phases"], Decide(sheet, serial: "B-7").Settle);
    }

    [Theory]
    [InlineData("230 V 1~, 24 V DC", "one")]
    [InlineData("400 V 3~", "three")]
    [InlineData("3/N/PE~ 400 V", "three")]
    [InlineData("380-415 V 3 ph", "three")]
    [InlineData("220-240 V, 1-phase", "one")]
    public void Volts_and_phases_are_read_off_the_plate(string supply, string variant)
    {
        var sheet = new VariantSheet(
            [Variant("one", Rule() with { Volts = 230, Phases = 1 }), Variant("three", Rule() with { Volts = 400, Phases = 3 })],
            "",
            2000,
            "IOQ"
        );
        Assert.Equal(variant, Decide(sheet, supply: supply).Chosen?.Name);
    }

    [Theory]
    [InlineData("VX-100", "first")]
    [InlineData("VX-199", "first")]
    [InlineData("VX-200", "second")]
    [InlineData("vx-0200", "second")]
    [InlineData("VX-099", null)]
    [InlineData("VY-150", null)]
    public void Serial_ranges_include_their_ends(string serial, string? variant)
    {
        var sheet = new VariantSheet(
            [
                Variant("first", Rule() with { SerialPrefix = "VX-", SerialFrom = 100, SerialTo = 199 }),
                Variant("second", Rule() with { SerialPrefix = "VX-", SerialFrom = 200 }),
            ],
            "",
            2000,
            "IOQ"
        );
        Assert.Equal(variant, Decide(sheet, serial: serial).Chosen?.Name);
    }

    [Theory]
    [InlineData("OS-{yy}{ww}-*", "OS-2603-1", "week 3 of 2026")]
    [InlineData("OS-{yy}{ww}-*", "OS-9953-1", null)]
    [InlineData("{letter}{mm}*", "C07-55", "July 2012")]
    [InlineData("{letter}{mm}*", "J01", "January 2018")]
    [InlineData("{letter}{mm}*", "I07-55", null)]
    [InlineData("{yyyy}#*", "20187", "2018")]
    [InlineData("OS-{yy}{ww}-*", "XX-2603-1", null)]
    [InlineData("*A*A*A*A*A*A*A*A*A*A*A*A{yy}", "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAx", null)]
    public void A_serial_pattern_carries_the_date(string pattern, string serial, string? words)
    {
        Assert.Null(SerialDate.Problem(pattern));
        Assert.Equal(words, SerialDate.Read(serial, new VariantSheet([], pattern, 2010, "IOQ"), _today) is [var date] ? date.Words : null);
    }

    /// <summary>A worn sign that tells the date is read every way it can be.</summary>
    [Fact]
    public void A_worn_serial_pattern_carries_every_date_it_may_be()
    {
        var sheet = new VariantSheet([], "OS-{yy}{ww}-*", 2010, "IOQ");
        Assert.Equal(
            ["week 3 of 2021", "week 13 of 2021", "week 23 of 2021", "week 33 of 2021", "week 43 of 2021", "week 53 of 2021"],
            [
                .. SerialDate.Read("OS-21?3-1", sheet, _today).Select(d => d.Words),
                .. ISOWeek.GetWeeksInYear(2021) < 53 ? ["week 53 of 2021"] : Array.Empty<string>(),
            ]
        );
        Assert.Equal(["week 3 of 2021"], SerialDate.Read("O?-2103-?", sheet, _today).Select(d => d.Words));
        Assert.Empty(SerialDate.Read("OS-????-1", sheet, _today));
    }

    /// <summary>A worn serial decides only where every way to read it gives the same build; by trying every way.</summary>
    [Fact]
    public void A_worn_serial_decides_where_every_way_to_read_it_agrees() =>
        Gen.Select(Gen.Int[0, 999], Gen.Int[0, 999], Gen.String[Gen.Char["VX0123456789?"], 0, 5])
            .Sample(
                (from, to, tail) =>
                {
                    var sheet = new VariantSheet(
                        [
                            Variant(
                                "first",
                                Rule() with
                                {
                                    SerialPrefix = "V",
                                    SerialFrom = Math.Min(from, to),
                                    SerialTo = Math.Max(from, to),
                                }
                            ),
                            Variant("second", Rule() with { SerialPrefix = "V", SerialFrom = Math.Max(from, to) + 1 }),
                        ],
                        "",
                        2000,
                        "IOQ"
                    );
                    var serial = "V" + tail;
                    if (serial.Count(c => c == '?') > 2)
                    {
                        return;
                    }

                    // A worn sign behind a digit is taken for a digit; in front of the first it may be a letter as well.
                    var tail0 = serial.TrimEnd([.. "0123456789?"]).Length;
                    string May(int i) => serial[tail0..Math.Max(i, tail0)].Any(char.IsDigit) ? "0123456789" : "0123456789A";
                    var ways = serial
                        .Select((c, i) => (c, i))
                        .Aggregate(
                            (IEnumerable<string>)[""],
                            (all, s) => all.SelectMany(w => s.c == '?' ? May(s.i).Select(m => w + m) : [w + s.c])
                        )
                        .Select(s => Decide(sheet, serial: s).Chosen?.Name)
                        .Distinct()
                        .ToList();
                    var chosen = Decide(sheet, serial: serial).Chosen?.Name;
                    Assert.True(
                        chosen is null || ways is [var only] && only == chosen,
                        $"{serial} is {chosen}, but may be {string.Join(", ", ways)}"
                    );
                },
                iter: 2000
            );

    [Theory]
    [InlineData("VX-1?0", "first")]
    [InlineData("VX-2??", "second")]
    [InlineData("VX-?50", null)]
    [InlineData("V?-150", null)]
    [InlineData("VX-19?", "first")]
    public void A_worn_serial_decides_where_its_place_does_not_matter(string serial, string? variant)
    {
        var sheet = new VariantSheet(
            [
                Variant("first", Rule() with { SerialPrefix = "VX-", SerialFrom = 100, SerialTo = 199 }),
                Variant("second", Rule() with { SerialPrefix = "VX-", SerialFrom = 200 }),
            ],
            "",
            2000,
            "IOQ"
        );
        Assert.Equal(variant, Decide(sheet, serial: serial).Chosen?.Name);
    }

    [Theory]
    [InlineData("QP-{yy}{week}", "{week} at place 8")]
    [InlineData("QP-{ww}", "year once")]
    [InlineData("QP-{yy}{ww}{mm}", "year once")]
    [InlineData("QP-{yy", "{yy at place 4")]
    public void A_wrong_pattern_is_refused_with_its_place(string pattern, string says) =>
        Assert.Contains(says, SerialDate.Problem(pattern), StringComparison.Ordinal);

    [Fact]
    public void Overlapping_rules_do_not_decide()
    {
        var sheet = new VariantSheet([Built("a", null, new(2016, 6, 30)), Built("b", new(2016, 6, 1), null)], "", 2000, "IOQ");
        Assert.Equal(DecisionKind.Overlap, Decide(sheet, built: "2016-06-15").Kind);
        var overlap = Assert.Single(VariantCoverage.Of(sheet.Variants), s => s.IsOverlap);
        Assert.Equal((new DateOnly(2016, 6, 1), new DateOnly(2016, 6, 30)), (overlap.From, overlap.To));
    }

    /// <summary>Gaps and overlaps of random rules against asking on every single day, by another reading of the rules.</summary>
    [Fact]
    public void Coverage_agrees_with_asking_day_by_day()
    {
        var day = Gen.Int[0, 40].Select(d => (DateOnly?)new DateOnly(2020, 1, 1).AddDays(d));
        var bound = Gen.OneOf(Gen.Const((DateOnly?)null), day, day);
        var rule = Gen.Select(
                bound,
                bound,
                Gen.Int[0, 2].Select(i => "AB"[..i]),
                Gen.Int[0, 2]
                    .Select(i =>
                        (decimal?)(
                            i == 0 ? null
                            : i == 1 ? 120
                            : 230
                        )
                    )
            )
            .Select((from, to, prefix, volts) => Rule() with { From = from, To = to, SerialPrefix = prefix, Volts = volts });
        rule.Array[0, 5]
            .Sample(
                rules =>
                {
                    List<Variant> variants = [.. rules.Select((r, i) => Variant($"v{i}", r))];
                    var spans = VariantCoverage.Of(variants);
                    foreach (var group in spans.GroupBy(s => s.Case))
                    {
                        var prefix =
                            group.Key.Contains("AB", StringComparison.Ordinal) ? "AB"
                            : group.Key.Contains('A', StringComparison.Ordinal) ? "A"
                            : "";
                        decimal? volts =
                            group.Key.Contains("120", StringComparison.Ordinal) ? 120
                            : group.Key.Contains("230", StringComparison.Ordinal) ? 230
                            : null;
                        for (var d = new DateOnly(2019, 12, 20); d < new DateOnly(2020, 2, 25); d = d.AddDays(1))
                        {
                            var span = Assert.Single(group, s => (s.From is null || s.From <= d) && (s.To is null || s.To >= d));
                            var holding = variants
                                .Where(v =>
                                    v.Rules.Any(r =>
                                        !(r.From > d)
                                        && !(r.To < d)
                                        && prefix.StartsWith(r.SerialPrefix, StringComparison.Ordinal)
                                        && (r.Volts is null || volts is null || r.Volts == volts)
                                    )
                                )
                                .Select(v => v.Name);
                            Assert.Equal(holding, span.Variants);
                        }
                    }
                },
                iter: 400
            );
    }

    /// <summary>No plate decides for a variant whose rules a day by day reading does not hold for.</summary>
    [Fact]
    public void A_plain_date_decides_as_the_coverage_says()
    {
        var day = Gen.Int[0, 60].Select(d => new DateOnly(2020, 1, 1).AddDays(d));
        var rule = Gen.Select(day, Gen.Int[0, 20]).Select((from, length) => Rule() with { From = from, To = from.AddDays(length) });
        Gen.Select(rule.Array[1, 4], day)
            .Sample(
                (rules, built) =>
                {
                    List<Variant> variants = [.. rules.Select((r, i) => Variant($"v{i}", r))];
                    var decision = Decide(
                        new VariantSheet(variants, "", 2000, ""),
                        built: built.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)
                    );
                    var span = VariantCoverage
                        .Of(variants)
                        .Single(s => (s.From is null || s.From <= built) && (s.To is null || s.To >= built));
                    Assert.Equal(
                        span.Variants.Count switch
                        {
                            0 => DecisionKind.None,
                            1 => DecisionKind.Decided,
                            _ => DecisionKind.Overlap,
                        },
                        decision.Kind
                    );
                    Assert.Equal(span.Variants, decision.Candidates.Select(c => c.Variant.Name));
                },
                iter: 2000
            );
    }

    [Fact]
    public void What_follows_is_compared_with_what_is_there()
    {
        var other = Sample.Board with { Id = "b2", Revision = "B" };
        var variant = Variant("v", Rule()) with
        {
            Supply = "120 V",
            Boards = [new VariantBoards("z1", ["b2"])],
            Settings = [new VariantSetting("z1", "P1", "7")],
            Overlay = [new OverlayLabel(Probe.At("z1", "j1-1"), "X9")],
            Replacements = [new Replacement("z1", "QP-9", ["keypad"])],
        };
        var machine = Sample.Machine with { Supply = "230 V 1~", Boards = [new FittedBoard("f", "z1", "zb", "", "", null, null)] };
        var resolved = ResolvedMachine.Of(
            machine,
            Sample.Model,
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board },
            variant
        );
        var facts = BuildSheet.Of(
            resolved,
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board, ["b2"] = other },
            new Dictionary<(PositionId, string), string> { [("z1", "P1")] = "8" }
        );
        Assert.Equal([BuildFactKind.Supply, BuildFactKind.Board, BuildFactKind.Setting], facts.Where(f => f.Differs).Select(f => f.Kind));
        Assert.Contains(facts, f => f.Kind == BuildFactKind.Replacement && f.Must == "QP-9, with keypad");
    }

    [Theory]
    [InlineData("zb", "zb|zb2", "")]
    [InlineData("zb", "zb2", "z1")]
    [InlineData(null, "zb|zb2", "z1")]
    [InlineData(null, "zb2", "")]
    [InlineData("zb", "", "")]
    public void A_board_is_to_be_known_where_it_may_be_another(string? fitted, string belong, string toKnow)
    {
        var variant = Variant("v", Rule()) with
        {
            Boards = belong.Length == 0 ? [] : [new VariantBoards("z1", [.. belong.Split('|').Select(b => new BoardTypeId(b))])],
        };
        var machine = Sample.Machine with { Boards = fitted is null ? [] : [new FittedBoard("f", "z1", fitted, "", "", null, null)] };
        var resolved = ResolvedMachine.Of(
            machine,
            Sample.Model,
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board },
            variant
        );
        Assert.Equal(toKnow, string.Join(' ', BuildSheet.BoardsToKnow(resolved).Select(p => p.Id)));
    }

    [Fact]
    public void An_overlay_renames_labels_and_never_identities()
    {
        var plain = Sample.Resolved();
        var (address, pin) = plain.Pins.First(p => p.Value.Element is not null);
        var variant = Variant("v", Rule()) with
        {
            Overlay = [new OverlayLabel(address, "T9", "output 4"), new OverlayLabel(Probe.At("nowhere", "p"), "X")],
        };
        var renamed = ResolvedMachine.Of(
            plain.Machine,
            plain.Model,
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board },
            variant
        );
        Assert.EndsWith("·T9", renamed.Pins[address].Printed, StringComparison.Ordinal);
        Assert.Equal(pin.Printed, renamed.Pins[address].ElsewherePrinted);
        Assert.Equal("output 4", renamed.Pins[address].Signal.Value);
        Assert.Equal("build v", renamed.Pins[address].Signal.From.Words);
        Assert.All(renamed.Pins.Where(p => p.Key != address), p => Assert.Equal(plain.Pins[p.Key].Signal.Value, p.Value.Signal.Value));
        Assert.Equal(plain.Pins.Keys, renamed.Pins.Keys);
        Assert.Equal(plain.Checks.Select(c => c.Key), renamed.Checks.Select(c => c.Key));
        Assert.Contains(renamed.Problems, p => p.Contains("renames a pin that is not there", StringComparison.Ordinal));
    }

    private static VariantDecision Decide(
        VariantSheet sheet,
        string serial = "",
        string built = "",
        string supply = "",
        string finish = ""
    ) => VariantDecision.Of(new PlateFacts(serial, built, supply, finish), sheet, _today);

    private static VariantRule Rule() => new(null, null, "", null, null, null, null, "");

    private static Variant Built(string name, DateOnly? from, DateOnly? to) => Variant(name, Rule() with { From = from, To = to });

    private static Variant Variant(string name, params VariantRule[] rules) => new(name, name, rules, "", [], [], [], [], [], [], []);
}
