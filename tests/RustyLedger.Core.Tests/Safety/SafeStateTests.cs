using CsCheck;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using Kind = RustyLedger.Core.Safety.SafetyEventKind;

namespace RustyLedger.Core.Tests.Safety;

public sealed class SafeStateTests
{
    private static readonly DateTimeOffset _start = new(2026, 11, 24, 9, 0, 0, TimeSpan.Zero);
    private static readonly EnergySource _mains = new("q", SourceKind.Mains, "mains", "switch Q1", 230, ["L", "N"], true, true, "");
    private static readonly EnergySource _battery = new("b", SourceKind.Battery, "battery", "its plug", 24, ["+", "-"], false, false, "");
    private static readonly EnergySource _load = new(
        "g",
        SourceKind.Gravity,
        "the load",
        "the catch",
        null,
        [],
        false,
        false,
        "land the load"
    );
    private static readonly StoredCharge _charge = new("c", "C4", 470, 20, 100_000, 5, 325, "q");
    private static readonly SafetySheet _sheet = SafetySheet.Empty with { Sources = [_mains, _battery, _load], Charges = [_charge] };

    [Fact]
    public void Every_pair_and_each_to_earth_on_AC_and_DC()
    {
        var three = _mains with { Conductors = ["L1", "L2", "L3", "N"] };
        var points = ProofPoint.Of(SafetySheet.Empty with { Sources = [three] });
        // Five ends make ten pairs, each on AC and on DC.
        Assert.Equal(20, points.Count);
        Assert.Contains(points, p => p is { Red: "L2", Black: "earth", IsAc: true });
        Assert.Equal(20, points.Select(p => p.Key).Distinct().Count());
        Assert.Equal(6 + 2 + 1, ProofPoint.Of(_sheet).Count);
        // Two that float get one line more, between them; one of a single conductor returns through the chassis.
        var floating = _battery with
        {
            Id = "s",
            Name = "panel",
            Conductors = ["+"],
        };
        Assert.Equal(2 + 2 + 2, ProofPoint.Of(SafetySheet.Empty with { Sources = [_battery, floating] }).Count);
        Assert.Contains(ProofPoint.Of(SafetySheet.Empty with { Sources = [floating] }), p => p is { Red: "+", Black: "chassis" });
    }

    /// <summary>A pulled plug that stays in sight is its own lock; everything else of the proof stays.</summary>
    [Fact]
    public void A_plug_in_sight_needs_no_lock()
    {
        var all = InOrder(_sheet).Where(e => e.Kind != Kind.Locked).ToList();
        Assert.NotEqual(SafeCondition.ProvedDead, SafeState.Of(_sheet, ShopLimits.Usual, all).Condition);
        var plugged = all.ConvertAll(e => e is { Kind: Kind.Isolated, Subject: "q" } ? e with { Words = SafeState.PlugInSight } : e);
        Assert.Equal(SafeCondition.ProvedDead, SafeState.Of(_sheet, ShopLimits.Usual, plugged).Condition);
        Assert.All(
            Enumerable.Range(0, plugged.Count),
            left =>
                Assert.NotEqual(
                    SafeCondition.ProvedDead,
                    SafeState.Of(_sheet, ShopLimits.Usual, plugged.Where((_, i) => i != left)).Condition
                )
        );
    }

    [Fact]
    public void Done_in_order_it_is_proved_dead()
    {
        var all = InOrder(_sheet);
        Assert.All(all, e => Assert.Null(SafeState.Refusal(_sheet, ShopLimits.Usual, [.. all.Where(b => b.Order < e.Order)], e)));
        var state = SafeState.Of(_sheet, ShopLimits.Usual, all);
        Assert.Equal((SafeCondition.ProvedDead, all[^1].At, "Edda"), (state.Condition, state.Since, state.By));
        Assert.Empty(state.Missing);
        Assert.Equal(SafeCondition.Isolated, SafeState.Of(_sheet, ShopLimits.Usual, all[..^1]).Condition);
        Assert.Equal(SafeCondition.Live, SafeState.Of(_sheet, ShopLimits.Usual, all[1..]).Condition);
    }

    [Fact]
    public void Whatever_is_left_out_it_is_not_proved_and_the_step_is_named() =>
        Gen.Int[0, InOrder(_sheet).Count - 1]
            .Sample(left =>
            {
                var all = InOrder(_sheet);
                var state = SafeState.Of(_sheet, ShopLimits.Usual, all.Where((_, i) => i != left));
                Assert.NotEqual(SafeCondition.ProvedDead, state.Condition);
                Assert.NotEmpty(state.Missing);
            });

    [Fact]
    public void Out_of_order_it_is_not_proved() =>
        Gen.Shuffle(InOrder(_sheet).ToArray())
            .Sample(
                shuffled =>
                {
                    var all = shuffled.Select((e, i) => e with { Order = i, At = _start.AddMinutes(i) }).ToList();
                    var at = all.ToDictionary(e => (e.Kind, e.Subject), e => e.Order);
                    var reads = all.Where(e => e.Kind == Kind.Read).ToList();
                    var isolating = all.Where(e =>
                            e.Kind is Kind.SwitchedOff or Kind.Isolated or Kind.Locked or Kind.Released && e.Subject != "g"
                        )
                        .Max(e => e.Order);
                    var (before, after) = (at[(Kind.MeterProvedBefore, "")], at[(Kind.MeterProvedAfter, "")]);
                    var inOrder = isolating < before && reads.TrueForAll(r => r.Order > before && r.Order < after);
                    Assert.Equal(inOrder, SafeState.Of(_sheet, ShopLimits.Usual, all).Condition == SafeCondition.ProvedDead);
                },
                iter: 3000
            );

    /// <summary>
    /// Whatever was done in whatever order, taken back or found live: where the state says dead of a source, its acts hold a proof,
    /// found backwards from the end, that nothing after it broke.
    /// </summary>
    [Fact]
    public void Where_it_says_dead_a_whole_proof_stands() =>
        Histories.Sample(
            all =>
            {
                var state = SafeState.Of(_sheet, ShopLimits.Usual, all);
                Assert.All(
                    state.Sources.Where(s => s.Condition == SafeCondition.ProvedDead),
                    s =>
                        Assert.True(
                            HasProof(_sheet.Sources.Single(x => x.Id == s.Id), all),
                            $"{s.Id}: {string.Join(" ", all.Select(e => $"{e.Order}{e.Kind}/{e.Subject}{e.Target}"))}"
                        )
                );
                Assert.Equal(state.Condition == SafeCondition.ProvedDead, state.Missing.Count == 0);
                if (state.Condition == SafeCondition.ProvedDead)
                {
                    Assert.All(state.Sources, s => Assert.NotEqual(SafeCondition.Live, s.Condition));
                    Assert.All(state.Steps, s => Assert.True(s.Finding is null or Finding.Dead, s.Words));
                }
            },
            iter: 4_000
        );

    /// <summary>
    /// What broke a proof broke it for good: taking back a high reading, a "live again" or what was found revives nothing.
    /// </summary>
    [Fact]
    public void Taking_back_revives_nothing() =>
        Gen.Select(Histories, Gen.Int[0, 1000])
            .Sample(
                (all, which) =>
                {
                    var target = all[which % all.Count];
                    var before = SafeState
                        .Of(_sheet, ShopLimits.Usual, all)
                        .Sources.Where(s => s.Condition == SafeCondition.ProvedDead)
                        .Select(s => s.Id)
                        .ToHashSet();
                    var after = SafeState.Of(
                        _sheet,
                        ShopLimits.Usual,
                        [.. all, Event(500, Kind.TakenBack, "") with { Target = target.Id }]
                    );
                    Assert.Subset(before, after.Sources.Where(s => s.Condition == SafeCondition.ProvedDead).Select(s => s.Id).ToHashSet());
                },
                iter: 1_500
            );

    [Theory]
    [InlineData("q/L/N/ac", 5, Finding.Dead)]
    [InlineData("q/L/N/ac", 5.1, Finding.NotExplained)]
    [InlineData("q/L/N/ac", 49.9, Finding.NotExplained)]
    [InlineData("q/L/N/ac", 118, Finding.Live)]
    [InlineData("q/L/N/dc", -1, Finding.Dead)]
    [InlineData("q/L/N/dc", -1.1, Finding.NotExplained)]
    // A connected battery may be touched, and is not dead.
    [InlineData("b/+/-/dc", 12.6, Finding.NotExplained)]
    [InlineData("c/charge", 60, Finding.Live)]
    public void Dead_is_at_most_five_volts_AC_and_one_DC(string point, double volts, Finding finding)
    {
        var all = InOrder(_sheet).ConvertAll(e => e.Subject == point ? e with { Volts = (decimal)volts } : e);
        var state = SafeState.Of(_sheet, ShopLimits.Usual, all);
        Assert.Equal(finding == Finding.Dead, state.Condition == SafeCondition.ProvedDead);
        Assert.Equal(
            finding == Finding.NotExplained ? 1 : 0,
            state.Missing.Count(m => m.StartsWith("not explained", StringComparison.Ordinal))
        );
        // Volts that can only be a source are that source alive; a capacitor only holds its charge.
        Assert.Equal(
            finding == Finding.Live && point != "c/charge" ? SafeCondition.Live : SafeCondition.Isolated,
            finding == Finding.Dead ? SafeCondition.Isolated : state.Condition
        );
        // The other source is proved all the same.
        Assert.Equal(
            point.StartsWith('b') ? SafeCondition.ProvedDead : SafeCondition.Isolated,
            finding == Finding.Dead || !point.StartsWith('b') ? SafeCondition.Isolated : state.Sources.Single(s => s.Id == "q").Condition
        );
    }

    [Fact]
    public void In_a_wet_place_and_under_water_the_lower_limits_say_what_is_live()
    {
        Assert.Equal(Finding.NotExplained, ShopLimits.Usual.Of(30, isAc: true, Wetness.Dry));
        Assert.Equal(Finding.Live, ShopLimits.Usual.Of(30, isAc: true, Wetness.Wet));
        Assert.Equal(Finding.NotExplained, ShopLimits.Usual.Of(20, isAc: true, Wetness.Wet));
        Assert.Equal(Finding.Live, ShopLimits.Usual.Of(12, isAc: true, Wetness.Immersed));
        Assert.Equal(
            Wetness.Immersed,
            SafeState.Of(_sheet with { Immersed = true }, ShopLimits.Usual, [Event(1, Kind.PlaceIsWet, "")]).Place
        );
    }

    [Fact]
    public void A_place_wet_by_nature_is_not_said_dry_without_a_word()
    {
        var wet = _sheet with { WetPlace = true };
        Assert.Contains("Say why", SafeState.Refusal(wet, ShopLimits.Usual, [], Event(1, Kind.PlaceIsDry, "")), StringComparison.Ordinal);
        Assert.Null(SafeState.Refusal(wet, ShopLimits.Usual, [], Event(1, Kind.PlaceIsDry, "") with { Words = "drained and dried" }));
        Assert.Null(SafeState.Refusal(_sheet, ShopLimits.Usual, [], Event(1, Kind.PlaceIsDry, "")));
    }

    /// <summary>Whoever sets the limits: Core holds their ceilings.</summary>
    [Fact]
    public void No_limit_lifts_what_is_dead_or_may_be_touched()
    {
        var generous = new ShopLimits(400, 400, 400, 400, 400, 400, 400, 400);
        Assert.Equal(Finding.Live, generous.Of(50, isAc: true, Wetness.Dry));
        Assert.Equal(Finding.NotExplained, generous.Of(6, isAc: true, Wetness.Dry));
    }

    [Fact]
    public void The_mains_is_proved_dead_while_the_battery_stays_live()
    {
        var all = InOrder(_sheet).Where(e => e.Subject is not "b" && !e.Subject.StartsWith("b/", StringComparison.Ordinal)).ToList();
        Assert.All(all, e => Assert.Null(SafeState.Refusal(_sheet, ShopLimits.Usual, [.. all.Where(b => b.Order < e.Order)], e)));
        var state = SafeState.Of(_sheet, ShopLimits.Usual, all);
        Assert.Equal(["mains dead", "battery live", "the load secured"], state.Sources.Select(s => s.Words));
        Assert.Equal(SafeCondition.Live, state.Condition);
    }

    [Fact]
    public void Nothing_is_proved_without_a_reading()
    {
        var water = SafetySheet.Empty with { Sources = [_load] };
        // A sheet that names only what hangs keeps the supply that is otherwise assumed.
        Assert.True(water.IsAssumed);
        Assert.Equal(6, ProofPoint.Of(water).Count);
        var none = water with { HasNoSupply = true };
        Assert.Empty(ProofPoint.Of(none));
        Assert.Equal(SafeCondition.Isolated, SafeState.Of(none, ShopLimits.Usual, InOrder(none)).Condition);
        // One of which nobody wrote down an end cannot be proved at all.
        var blind = SafetySheet.Empty with
        {
            Sources = [_battery with { Conductors = [] }],
        };
        var state = SafeState.Of(blind, ShopLimits.Usual, InOrder(blind));
        Assert.NotEqual(SafeCondition.ProvedDead, state.Condition);
        Assert.Contains(state.Missing, m => m.Contains("write down two ends of battery", StringComparison.Ordinal));
    }

    [Fact]
    public void A_live_reading_ends_the_proof_of_what_it_can_come_from()
    {
        var all = InOrder(_sheet);
        var dead = SafeState.Of(_sheet, ShopLimits.Usual, all);
        LiveReading? Hear(decimal volts, MeterMode mode, bool energised, SafeState? at = null) =>
            LiveReading.Of(_sheet, ShopLimits.Usual, at ?? dead, new NumberReading(volts, Unit.Volts, false, ""), mode, energised);
        Assert.Equal(["q"], Hear(118, MeterMode.AcVolts, energised: false)?.SourceIds);
        Assert.Equal(
            (Kind.FoundLive, 2),
            Hear(24.3m, MeterMode.DcVolts, energised: true) is { } found ? (found.Kind, found.SourceIds.Count) : default
        );
        Assert.Equal(Kind.FoundUnexplained, Hear(24.3m, MeterMode.DcVolts, energised: false)?.Kind);
        // 325 V DC is more than a battery of 24 V can give.
        Assert.Equal(["q"], Hear(320, MeterMode.DcVolts, energised: false)?.SourceIds);
        // More than any of them can give: it may be any.
        Assert.Equal(2, Hear(3000, MeterMode.DcVolts, energised: false)?.SourceIds.Count);
        // No volts on a dead machine, and volts that the tester feeds, are no event.
        Assert.Null(Hear(0.4m, MeterMode.DcVolts, energised: true));
        Assert.Null(Hear(4.9m, MeterMode.AcVolts, energised: true));
        Assert.Null(Hear(2.1m, MeterMode.Diode, energised: false));
        // What a live battery gives is no news of the mains.
        var battery = SafeState.Of(_sheet, ShopLimits.Usual, [.. all, Event(90, Kind.LiveAgain, "b")]);
        Assert.Null(Hear(25.1m, MeterMode.DcVolts, energised: true, battery));
        Assert.Equal(["q"], Hear(118, MeterMode.AcVolts, energised: true, battery)?.SourceIds);

        List<SafetyEvent> now = [.. all, Event(95, Kind.FoundLive, "q") with { Words = "118 V AC at X1·1", Target = "r1" }];
        var live = SafeState.Of(_sheet, ShopLimits.Usual, now);
        Assert.Equal((SafeCondition.Live, "118 V AC at X1·1 was read"), (live.Sources[0].Condition, live.Sources[0].Because));
        Assert.Equal(SafeCondition.ProvedDead, live.Sources[1].Condition);
        Assert.Contains("118 V AC at X1·1", live.Void, StringComparison.Ordinal);

        // The lock on throughout is one key; the readings and the meter come anew.
        Assert.True(live.Sources[0].MayStand);
        Assert.Null(SafeState.Refusal(_sheet, ShopLimits.Usual, now, Event(96, Kind.LockStands, "q")));
        Assert.NotNull(SafeState.Refusal(_sheet, ShopLimits.Usual, now, Event(96, Kind.LockStands, "b")));
        var stands = SafeState.Of(_sheet, ShopLimits.Usual, [.. now, Event(96, Kind.LockStands, "q")]);
        Assert.Equal((SafeCondition.Isolated, false), (stands.Sources[0].Condition, stands.Sources[0].MayStand));
        Assert.Equal(9, stands.Missing.Count);
    }

    [Fact]
    public void A_source_that_comes_back_voids_the_proof_and_it_stays_void_when_it_is_off_again()
    {
        var all = InOrder(_sheet);
        List<SafetyEvent> back = [.. all, Event(90, Kind.LiveAgain, "b") with { Words = "horn tested" }];
        var state = SafeState.Of(_sheet, ShopLimits.Usual, back);
        Assert.Equal(SafeCondition.Live, state.Condition);
        Assert.Contains("battery is dead no longer holds", state.Void, StringComparison.Ordinal);
        Assert.Contains("horn tested", state.Void, StringComparison.Ordinal);
        var off = SafeState.Of(_sheet, ShopLimits.Usual, [.. back, Event(91, Kind.SwitchedOff, "b"), Event(92, Kind.Isolated, "b")]);
        Assert.Equal(SafeCondition.Isolated, off.Condition);
        Assert.Contains("prove the meter on a known source", off.Missing);
    }

    [Fact]
    public void A_source_added_afterwards_leaves_no_proof()
    {
        var added = _sheet with
        {
            Sources = [.. _sheet.Sources, _battery with { Id = "solar", Kind = SourceKind.Solar, Name = "roof panel" }],
        };
        var state = SafeState.Of(added, ShopLimits.Usual, InOrder(_sheet));
        Assert.Equal(SafeCondition.Live, state.Condition);
        Assert.Contains("switch off roof panel", state.Missing);
    }

    [Fact]
    public void A_reading_taken_back_is_missing_again_and_one_taken_anew_needs_the_meter_again()
    {
        var all = InOrder(_sheet);
        var read = all.First(e => e.Kind == Kind.Read);
        Assert.NotEqual(
            SafeCondition.ProvedDead,
            SafeState.Of(_sheet, ShopLimits.Usual, [.. all, Event(90, Kind.TakenBack, "") with { Target = read.Id }]).Condition
        );
        var again = SafeState.Of(_sheet, ShopLimits.Usual, [.. all, read with { Id = "again", Order = 91 }]);
        Assert.Equal(["prove the meter again on the known source"], again.Missing);
    }

    [Fact]
    public void What_comes_too_early_is_refused_with_what_comes_first()
    {
        var all = InOrder(_sheet);
        string? Refused(int upTo, SafetyEvent act) => SafeState.Refusal(_sheet, ShopLimits.Usual, all[..upTo], act);
        Assert.Equal("First: switch off mains.", Refused(0, Event(1, Kind.Isolated, "q")));
        Assert.Contains("prove the meter on a known source", Refused(6, all.First(e => e.Kind == Kind.Read)), StringComparison.Ordinal);
        // One source wholly read is enough; a reading of it that is missing is named.
        Assert.Contains("read + to -, DC", Refused(all.FindIndex(e => e.Subject == "q/L/N/ac"), all[^1]), StringComparison.Ordinal);
        Assert.Null(Refused(all.Count - 2, all[^1]));
        Assert.Contains("no such step", Refused(0, Event(1, Kind.Read, "q/L/L9/ac")), StringComparison.Ordinal);
        Assert.Contains("no source", Refused(0, Event(1, Kind.LiveAgain, "elsewhere")), StringComparison.Ordinal);
    }

    [Fact]
    public void A_machine_nobody_described_is_taken_to_have_one_supply()
    {
        Assert.Equal(6, ProofPoint.Of(SafetySheet.Empty).Count);
        Assert.Equal(SafeCondition.Live, SafeState.Of(SafetySheet.Empty, ShopLimits.Usual, []).Condition);
        Assert.Equal(SafeCondition.ProvedDead, SafeState.Of(SafetySheet.Empty, ShopLimits.Usual, InOrder(SafetySheet.Empty)).Condition);
    }

    [Theory]
    [InlineData(50, 60, 25, 30, 0)]
    [InlineData(50.1, 60, 25, 30, 1)]
    [InlineData(24, 60, 25, 30, 1)]
    [InlineData(0, 61, 25, 31, 4)]
    public void A_shop_may_go_below_the_limits_and_never_above(double acDry, double dcDry, double acWet, double dcWet, int wrong) =>
        Assert.Equal(wrong, new ShopLimits((decimal)acDry, (decimal)dcDry, (decimal)acWet, (decimal)dcWet).Problems().Count);

    [Fact]
    public void Cautions_are_two_at_most_and_of_this_condition()
    {
        var sheet = _sheet with
        {
            Cautions =
            [
                new Caution("Close the water before the dump loads.", CautionWhen.NotProvedDead),
                new Caution("Load landed?", CautionWhen.Always),
                new Caution("Field first.", CautionWhen.Live),
            ],
        };
        Assert.Equal(
            ["Close the water before the dump loads.", "Load landed?"],
            CautionChoice.Of(sheet, SafeState.Of(sheet, ShopLimits.Usual, []))
        );
        Assert.Equal(
            ["Load landed?", "Strap and mat for static while it is dead; strap off before it goes live."],
            CautionChoice.Of(sheet, SafeState.Of(sheet, ShopLimits.Usual, InOrder(sheet)))
        );
        Assert.Equal(
            ["C4 may still be charged; its bleed resistor may be open."],
            CautionChoice.Of(_sheet, SafeState.Of(_sheet, ShopLimits.Usual, InOrder(_sheet)[..^1]))
        );
    }

    /// <summary>
    /// Acts as they might come, mostly sensible: proofs with steps left out, done again, taken back, broken by what was found.
    /// </summary>
    private static Gen<List<SafetyEvent>> Histories =>
        Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[1, 3])
            .Select(
                (seed, rounds) =>
                {
                    var random = new Random(seed);
                    var all = new List<SafetyEvent>();
                    void Add(Kind kind, string subject, decimal? volts = null, string? target = null) =>
                        all.Add(Event(all.Count, kind, subject) with { Volts = volts, Target = target });
                    for (var i = 0; i < rounds; i++)
                    {
                        foreach (var act in InOrder(_sheet).Where(_ => random.Next(40) > 0))
                        {
                            Add(act.Kind, act.Subject, act.Kind == Kind.Read && random.Next(60) == 0 ? 12 : act.Volts);
                            if (random.Next(30) == 0)
                            {
                                var (kind, subject) = ((Kind, string)[])
                                    [
                                        (Kind.LiveAgain, "b"),
                                        (Kind.LiveAgain, ""),
                                        (Kind.FoundLive, "q"),
                                        (Kind.FoundUnexplained, "q"),
                                        (Kind.LockStands, "q"),
                                        (Kind.TakenBack, ""),
                                    ]
                                    is var kinds
                                    ? kinds[random.Next(kinds.Length)]
                                    : default;
                                Add(kind, subject, target: kind == Kind.TakenBack ? all[random.Next(all.Count)].Id : null);
                            }
                        }
                    }

                    return all;
                }
            );

    /// <summary>
    /// Isolated, the meter proved, every point read dead, the meter proved, and from its first act to the end nothing against it.
    /// </summary>
    private static bool HasProof(EnergySource source, List<SafetyEvent> all)
    {
        var keys = ProofPoint.Of(_sheet).Where(p => p.SourceId == source.Id).Select(p => p.Key).ToHashSet();
        var kinds = source.OthersCanRestore ? (Kind[])[Kind.SwitchedOff, Kind.Isolated, Kind.Locked] : [Kind.SwitchedOff, Kind.Isolated];
        bool Opens(SafetyEvent e) => (e.Kind is Kind.LiveAgain or Kind.FoundLive && (e.Subject == source.Id || e.Subject.Length == 0));
        for (var after = all.Count - 1; after >= 0; after--)
        {
            var before = after == 0 ? -1 : all.FindLastIndex(after - 1, e => e.Kind == Kind.MeterProvedBefore);
            if (all[after].Kind != Kind.MeterProvedAfter || before < 0)
            {
                continue;
            }

            var since = all.Skip(before + 1).ToList();
            var opened = all.FindLastIndex(before, Opens);
            var stands = all.FindLastIndex(before, e => e.Kind == Kind.LockStands && e.Subject == source.Id) > opened;
            var isIsolated = Array.TrueForAll(
                kinds,
                k => all.FindLastIndex(before, e => e.Kind == k && e.Subject == source.Id) is var at && at >= 0 && (at > opened || stands)
            );
            var reads = keys.Select(k => all.FindLastIndex(e => e.Kind == Kind.Read && e.Subject == k)).ToList();
            var isRead = reads.TrueForAll(r =>
                r > before
                && r < after
                && Math.Abs(all[r].Volts!.Value) <= 1
                && !all.Exists(e => e.Kind == Kind.TakenBack && e.Target == all[r].Id)
            );
            var isTouched = since.Exists(e =>
                Opens(e)
                || (e.Kind == Kind.FoundUnexplained && e.Subject == source.Id)
                || (kinds.Contains(e.Kind) && e.Subject == source.Id)
            );
            if (isIsolated && isRead && !isTouched)
            {
                return true;
            }
        }

        return false;
    }

    internal static List<SafetyEvent> InOrder(SafetySheet sheet)
    {
        var acts = new List<SafetyEvent>();
        foreach (var step in SafeState.Of(sheet, ShopLimits.Usual, []).Steps)
        {
            acts.Add(Event(acts.Count, step.Kind, step.Subject) with { Volts = step.Point is null ? null : 0.2m });
        }

        return acts;
    }

    private static SafetyEvent Event(long order, Kind kind, string subject) =>
        new($"e{order}", order, kind, subject, null, "", null, _start.AddMinutes(order), "Edda");
}
