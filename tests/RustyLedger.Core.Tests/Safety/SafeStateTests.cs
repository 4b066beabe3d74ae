using CsCheck;
using RustyLedger.Core.Safety;
using Kind = RustyLedger.Core.Safety.SafetyEventKind;

namespace RustyLedger.Core.Tests.Safety;

public sealed class SafeStateTests
{
    private static readonly DateTimeOffset _start = new(2026, 11, 24, 9, 0, 0, TimeSpan.Zero);
    private static readonly EnergySource _mains = new("q", SourceKind.Mains, "mains", "switch Q1", 230, ["L", "N"], true, true, "");
    private static readonly EnergySource _battery = new("b", SourceKind.Battery, "battery", "its plug", 24, ["+", "-"], false, false, "");
    private static readonly EnergySource _load = new("g", SourceKind.Gravity, "the load", "the catch", null, [], false, false, "land the load");
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
    public void Whatever_is_left_out_it_is_not_proved_and_the_step_is_named() => Gen.Int[0, InOrder(_sheet).Count - 1].Sample(left =>
    {
        var all = InOrder(_sheet);
        var state = SafeState.Of(_sheet, ShopLimits.Usual, all.Where((_, i) => i != left));
        Assert.NotEqual(SafeCondition.ProvedDead, state.Condition);
        Assert.NotEmpty(state.Missing);
    });

    [Fact]
    public void Out_of_order_it_is_not_proved() => Gen.Shuffle(InOrder(_sheet).ToArray()).Sample(shuffled =>
    {
        var all = shuffled.Select((e, i) => e with { Order = i, At = _start.AddMinutes(i) }).ToList();
        var at = all.ToDictionary(e => (e.Kind, e.Subject), e => e.Order);
        var reads = all.Where(e => e.Kind == Kind.Read).ToList();
        var isolating = all.Where(e => e.Kind is Kind.SwitchedOff or Kind.Isolated or Kind.Locked or Kind.Released).Max(e => e.Order);
        var (before, after) = (at[(Kind.MeterProvedBefore, "")], at[(Kind.MeterProvedAfter, "")]);
        var inOrder = isolating < before && reads.TrueForAll(r => r.Order > before && r.Order < after);
        Assert.Equal(inOrder, SafeState.Of(_sheet, ShopLimits.Usual, all).Condition == SafeCondition.ProvedDead);
    }, iter: 3000);

    [Theory]
    [InlineData("q/L/N/ac", 49.9, true)]
    [InlineData("q/L/N/ac", 50, false)]
    [InlineData("q/L/N/dc", 59.9, true)]
    [InlineData("q/L/N/dc", -60, false)]
    [InlineData("c/charge", 60, false)]
    public void Dead_is_below_the_limit_and_not_at_it(string point, double volts, bool dead)
    {
        var all = InOrder(_sheet).ConvertAll(e => e.Subject == point ? e with { Volts = (decimal)volts } : e);
        var state = SafeState.Of(_sheet, ShopLimits.Usual, all);
        Assert.Equal(dead, state.Condition == SafeCondition.ProvedDead);
        Assert.Equal(dead ? 0 : 1, state.Missing.Count(m => m.StartsWith("not dead", StringComparison.Ordinal)));
    }

    [Fact]
    public void In_a_wet_place_the_lower_limit_holds_at_once()
    {
        var all = InOrder(_sheet).ConvertAll(e => e.Subject == "q/L/N/ac" ? e with { Volts = 30 } : e);
        Assert.Equal(SafeCondition.ProvedDead, SafeState.Of(_sheet, ShopLimits.Usual, all).Condition);
        var wet = SafeState.Of(_sheet, ShopLimits.Usual, [.. all, Event(99, Kind.PlaceIsWet, "")]);
        Assert.Equal(SafeCondition.Isolated, wet.Condition);
        Assert.Contains("25 V", wet.Void, StringComparison.Ordinal);
    }

    [Fact]
    public void A_source_that_comes_back_voids_the_proof_and_it_stays_void_when_it_is_off_again()
    {
        var all = InOrder(_sheet);
        List<SafetyEvent> back = [.. all, Event(90, Kind.LiveAgain, "b") with { Words = "horn tested" }];
        var state = SafeState.Of(_sheet, ShopLimits.Usual, back);
        Assert.Equal(SafeCondition.Live, state.Condition);
        Assert.Contains("battery came back on", state.Void, StringComparison.Ordinal);
        Assert.Contains("horn tested", state.Void, StringComparison.Ordinal);
        var off = SafeState.Of(_sheet, ShopLimits.Usual, [.. back, Event(91, Kind.SwitchedOff, "b"), Event(92, Kind.Isolated, "b")]);
        Assert.Equal(SafeCondition.Isolated, off.Condition);
        Assert.Contains("prove the meter on a known source", off.Missing);
    }

    [Fact]
    public void A_source_added_afterwards_leaves_no_proof()
    {
        var added = _sheet with { Sources = [.. _sheet.Sources, _battery with { Id = "solar", Kind = SourceKind.Solar, Name = "roof panel" }] };
        var state = SafeState.Of(added, ShopLimits.Usual, InOrder(_sheet));
        Assert.Equal(SafeCondition.Live, state.Condition);
        Assert.Contains("switch off roof panel", state.Missing);
    }

    [Fact]
    public void A_reading_taken_back_is_missing_again_and_one_taken_anew_needs_the_meter_again()
    {
        var all = InOrder(_sheet);
        var read = all.First(e => e.Kind == Kind.Read);
        Assert.NotEqual(SafeCondition.ProvedDead, SafeState.Of(_sheet, ShopLimits.Usual, [.. all, Event(90, Kind.TakenBack, "") with { Target = read.Id }]).Condition);
        var again = SafeState.Of(_sheet, ShopLimits.Usual, [.. all, read with { Id = "again", Order = 91 }]);
        Assert.Equal(["prove the meter again on the known source"], again.Missing);
    }

    [Fact]
    public void What_comes_too_early_is_refused_with_what_comes_first()
    {
        var all = InOrder(_sheet);
        string? Refused(int upTo, SafetyEvent act) => SafeState.Refusal(_sheet, ShopLimits.Usual, all[..upTo], act);
        Assert.Equal("First: switch off mains.", Refused(0, Event(1, Kind.Isolated, "q")));
        Assert.Contains("prove the meter on a known source", Refused(7, all.First(e => e.Kind == Kind.Read)), StringComparison.Ordinal);
        Assert.Contains("read C4 + to C4 −, DC", Refused(all.Count - 2, all[^1]), StringComparison.Ordinal);
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
        var sheet = _sheet with { Cautions = [new Caution("Close the water before the dump loads.", CautionWhen.NotProvedDead), new Caution("Load landed?", CautionWhen.Always), new Caution("Field first.", CautionWhen.Live)] };
        Assert.Equal(["Close the water before the dump loads.", "Load landed?"], CautionChoice.Of(sheet, SafeState.Of(sheet, ShopLimits.Usual, [])));
        Assert.Equal(["Load landed?", "Strap and mat for static while it is dead; strap off before it goes live."], CautionChoice.Of(sheet, SafeState.Of(sheet, ShopLimits.Usual, InOrder(sheet))));
        Assert.Equal(["C4 may still be charged; its bleed resistor may be open."], CautionChoice.Of(_sheet, SafeState.Of(_sheet, ShopLimits.Usual, InOrder(_sheet)[..^1])));
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

    private static SafetyEvent Event(long order, Kind kind, string subject) => new($"e{order}", order, kind, subject, null, "", null, _start.AddMinutes(order), "Edda");
}
