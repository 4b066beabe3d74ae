using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>Parts that are fed together, on a machine of which only its functions are known.</summary>
public sealed class RailTests
{
    private static FunctionRow Row(string name, params string[] needs) => new(name, name, "running", needs, []);

    private static readonly FunctionSheet _sheet = new(
        ["PS", "fuse F1", "board Z1", "board Z2", "kiosk lamp", "card reader", "gate motor"],
        [
            Row("gate opens", "PS", "board Z1", "gate motor"),
            Row("cards are read", "PS", "fuse F1", "board Z1", "board Z2", "card reader"),
            Row("kiosk shines", "PS", "fuse F1", "board Z2", "kiosk lamp"),
            Row("beeper", "PS", "fuse F1", "board Z2"),
        ]
    )
    {
        Rails = [new Rail("5 V", "fuse F1", ["board Z2", "kiosk lamp", "card reader"])],
    };

    private static MachineDiagnosis Of(FunctionSheet sheet)
    {
        var machine = Sample.Resolved(model: Sample.Model with { Links = [], Functions = sheet });
        return MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
    }

    private static double Share(MachineDiagnosis model, string words, params string[] said) =>
        Posterior
            .Of(model, Said.Of(model, said))
            .All.Where(w => w.Cause.Sizes[0].Contains(words, StringComparison.Ordinal))
            .Sum(w => w.Share);

    private static readonly string[] _dead =
    [
        "kiosk shines: does nothing",
        "cards are read: does nothing",
        "beeper: does nothing",
        "gate opens works",
    ];

    [Fact]
    public void What_hangs_on_a_rail_may_drag_down_what_does_not_need_it()
    {
        var model = Of(_sheet);
        // The beeper does not need the lamp; only by the rail the lamp can stop it.
        Assert.Contains(model.Causes, c => c.Sizes[0] == "kiosk lamp pulls 5 V down");
        Assert.True(Share(model, "kiosk lamp pulls 5 V down", _dead) > 3 * Share(model, "kiosk lamp dead", _dead));
        // Without a rail nobody would suspect it.
        var plain = Of(_sheet with { Rails = [] });
        double OfLamp(MachineDiagnosis of) =>
            Posterior.Of(of, Said.Of(of, _dead)).All.Where(w => w.Cause.Part == "kiosk lamp").Sum(w => w.Share);
        Assert.True(OfLamp(model) > 3 * OfLamp(plain), $"{OfLamp(model)} {OfLamp(plain)}");
    }

    [Fact]
    public void With_it_unplugged_the_others_come_back()
    {
        var model = Of(_sheet);
        const string Pulls = "kiosk lamp pulls 5 V down";
        var back = Share(model, Pulls, [.. _dead, "beeper works with kiosk lamp unplugged"]);
        Assert.True(back > 0.7, $"{back}");
        Assert.True(Share(model, Pulls, [.. _dead, "beeper: does nothing with kiosk lamp unplugged"]) < Share(model, Pulls, _dead) / 5);
        // What needs it does nothing without it, and says nothing.
        Assert.Equal(
            Share(model, Pulls, _dead),
            Share(model, Pulls, [.. _dead, "kiosk shines: does nothing with kiosk lamp unplugged"]),
            0.02
        );
    }

    [Fact]
    public void The_fuse_before_the_rail_is_closed_with_each_unplugged()
    {
        var model = Of(_sheet);
        const string Pulls = "pulls 5 V down";
        Assert.True(Share(model, Pulls, [.. _dead, "F1 blows at once"]) > 2 * Share(model, Pulls, _dead));
        Assert.True(Share(model, "fuse F1 dead", [.. _dead, "F1 blows at once"]) < Share(model, "fuse F1 dead", _dead) / 5);
        var found = Said.Of(model, [.. _dead, "F1 blows at once"]);
        var suspects = Suspicion.Of(Posterior.Of(model, found), model.CureMinutes);
        var acts = model.ActsFor(suspects, found);
        Assert.Contains(acts, a => a is { Kind: ActKind.Close, Pulled: "card reader" });
        Assert.Contains(model.Acts, a => a is { Kind: ActKind.Try, Pulled: "card reader" });
        string[] all = [.. _dead, "F1 blows at once", "F1 holds with card reader unplugged"];
        Assert.True(
            Share(model, "card reader pulls 5 V down", all) > 0.75,
            string.Join('\n', Posterior.Of(model, Said.Of(model, all)).All.Take(6).Select(w => $"{w.Words} {w.Share:0.000}"))
        );
    }

    /// <summary>A line that is offered is read back as the act it was offered for.</summary>
    [Fact]
    public void What_may_be_seen_with_one_unplugged_is_read_back()
    {
        var model = Of(_sheet);
        var found = Said.Of(model, [.. _dead, "F1 blows at once"]);
        var acts = model
            .ActsFor(Suspicion.Of(Posterior.Of(model, found), model.CureMinutes), found)
            .Concat(model.Acts)
            .Where(a => a.Pulled.Length > 0)
            .ToList();
        Assert.NotEmpty(acts);
        Assert.All(
            acts,
            act => Assert.All(SeenChoices.Of(act, model), c => Assert.Equal(act.Id, Assert.Single(SeenNotation.Read(c.Line, model)).Act.Id))
        );
    }

    [Fact]
    public void A_board_may_have_lost_its_link_and_do_what_it_does_by_itself()
    {
        var model = Of(_sheet);
        Assert.Contains(model.Causes, c => c.Sizes[0] == "board Z2: its link is dead");
        string[] said = ["cards are read: does nothing", "kiosk shines works", "beeper works", "gate opens works"];
        Assert.True(Share(model, "its link is dead", said) > 0.05);
        Assert.True(Share(model, "its link is dead", "beeper: does nothing") < 0.02);
    }

    [Theory]
    [InlineData("", "fuse F1", "board Z2", "Rail 1 needs a name")]
    [InlineData("5 V", "", "nobody", "Rail 5 V names nobody, which has no column.")]
    [InlineData("5 V", "fuse F1", "fuse F1", "cannot hang on itself")]
    public void A_rail_that_cannot_be_is_refused(string name, string behind, string part, string words) =>
        Assert.Contains(words, (_sheet with { Rails = [new Rail(name, behind, [part])] }).Refusal()!.Problem, StringComparison.Ordinal);

    [Fact]
    public void A_part_is_fed_from_one_rail()
    {
        var twice = _sheet with { Rails = [new Rail("5 V", "", ["board Z2"]), new Rail("12 V", "", ["board z2"])] };
        Assert.Equal("rails", twice.Refusal()!.Field);
        Assert.Null(_sheet.Refusal());
        // A rail is there from its name on; without one, and with nothing on it, it is none.
        Assert.Equal(
            [.. _sheet.Rails.Select(r => r.Name), "12 V"],
            (_sheet with { Rails = [.. _sheet.Rails, new Rail("12 V", " ", []), new Rail(" ", "", [])] }).Kept().Rails.Select(r => r.Name)
        );
    }
}
