using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>A fuse or breaker that was put in whole: whether it holds, how long it lasts, and in which state it opens.</summary>
public sealed class ClosingTests
{
    private static PinAddress.OffBoard At(string part, string pin) => new(part, pin);

    /// <summary>A motor behind a switch and a lamp, both behind one fuse or breaker.</summary>
    private static MachineDiagnosis Winch(string protection = "fuse 5 A")
    {
        static OffBoardPart Part(string id, PartKind kind, string name) =>
            new(id, kind, name, name, [new("1", 1, "1", WireColours.None, "in"), new("2", 2, "2", WireColours.None, "out")]);
        var machine = Sample.Resolved(
            model: Sample.Model with
            {
                Positions = [],
                Checks = [],
                Parts =
                [
                    Part("bt", PartKind.Battery, "BT"),
                    Part("f1", PartKind.Other, "F1"),
                    Part("s1", PartKind.Switch, "S1"),
                    Part("m1", PartKind.Motor, "M1"),
                    Part("h1", PartKind.Lamp, "H1"),
                ],
                States = [new("off", "off", false), new("standby", "standby", true), new("pulling", "pulling", true)],
                Links =
                [
                    new("w1", At("bt", "1"), At("f1", "1"), true),
                    new("w2", At("f1", "2"), At("s1", "1"), true),
                    new("w3", At("s1", "2"), At("m1", "1"), true),
                    new("w4", At("f1", "2"), At("h1", "1"), true),
                    new("w5", At("bt", "2"), At("m1", "2"), false),
                    new("w6", At("bt", "2"), At("h1", "2"), false),
                ],
                Circuit = new CircuitSheet(
                    [
                        new CircuitRow("r1", "BT", "", "battery 12 V", "", ""),
                        new CircuitRow("r2", "F1", "", protection, "", ""),
                        new CircuitRow("r3", "S1", "", "switch", "pulling", ""),
                        new CircuitRow("r4", "M1", "", "motor 12 V 3 A, winding 0.8 Ω", "", ""),
                        new CircuitRow("r5", "H1", "", "lamp 12 V 0.2 A", "", ""),
                    ],
                    []
                ),
            }
        );
        return MachineDiagnosis.Of(machine, FeedGraph.Of(machine));
    }

    [Theory]
    [InlineData("F1 blows at once, pulling", "F1, pulling: blows at once", 1, false)]
    [InlineData("F1 blew immediately when it pulls", "F1, pulling: blows at once", 1, false)]
    [InlineData("the fuse F1 blows after 20 s, pulling", "F1, pulling: blows after 20 s", 20, false)]
    [InlineData("F1 blows after 2.5 min", "F1: blows after 2.5 min", 150, false)]
    [InlineData("F1 blows after a while, pulling", "F1, pulling: blows after a while", 3, true)]
    [InlineData("F1 holds for 10 min, pulling", "F1, pulling: holds for 10 min", 600, false)]
    [InlineData("F1 blows, pulling", "F1, pulling: blows", 0, false)]
    public void How_long_it_lasts_is_read_as_people_write_it(string text, string words, double seconds, bool isAbout)
    {
        var seen = Assert.Single(SeenNotation.Read(text, Winch()));
        Assert.Equal((ActKind.Close, words), (seen.Act.Kind, seen.Words));
        Assert.Equal((seconds, isAbout), (seen.Outcome.Value, seen.Outcome.IsAbout));
    }

    [Fact]
    public void What_opens_only_when_something_is_commanded_holds_before()
    {
        var seen = SeenNotation.Read("F1 blows at once, only when pulling", Winch());
        Assert.Equal(["F1, pulling: blows at once", "F1, standby: holds"], seen.Select(s => s.Words));
    }

    /// <summary>The shares of what the fuse opens at once on, and of what it takes a while for.</summary>
    private static (double Quick, double Slow) Shares(MachineDiagnosis model, params string[] said)
    {
        var close = model.Close("F1", "pulling", [])!;
        var posterior = Posterior.Of(model, Said.Of(model, said));
        var sizes = posterior
            .All.Where(w => w.Cause.Both.Count == 0)
            .SelectMany(w => w.BySize.Select((share, size) => (share, model.Predict(w.Cause, size, close).After)))
            .ToList();
        return (
            sizes.Where(s => s.After is { LogSeconds: < 0 }).Sum(s => s.share),
            sizes.Where(s => s.After is { LogSeconds: > 0.5 }).Sum(s => s.share)
        );
    }

    [Theory]
    [InlineData("fuse 5 A")]
    [InlineData("breaker 5 A")]
    public void A_short_opens_it_at_once_and_what_draws_too_much_after_a_while(string protection)
    {
        var model = Winch(protection);
        var opens = protection.StartsWith('b') ? "trips" : "blows";
        var (quick, slow) = Shares(model, $"F1 {opens} at once, pulling");
        var (quickLater, slowLater) = Shares(model, $"F1 {opens} after 30 s, pulling");
        Assert.True(quick > 5 * slow, $"{quick} {slow}");
        Assert.True(slowLater > 3 * quickLater, $"{quickLater} {slowLater}");
    }

    /// <summary>It was looked at for a minute: what takes longer than that is not ruled out by it.</summary>
    [Fact]
    public void What_holds_for_a_while_clears_the_short_and_not_the_overload()
    {
        var model = Winch("breaker 5 A");
        var (quick, slow) = Shares(model, "M1 works, pulling");
        var (quickHeld, slowHeld) = Shares(model, "M1 works, pulling", "F1 holds for 2 s, pulling");
        Assert.True(quickHeld < quick / 5, $"{quick} {quickHeld}");
        Assert.True(slowHeld > slow / 3, $"{slow} {slowHeld}");
    }

    [Fact]
    public void What_is_behind_the_switch_opens_it_only_when_that_is_closed()
    {
        var model = Winch();
        double Of(string part, params string[] said) =>
            Posterior.Of(model, Said.Of(model, said)).All.Where(w => w.Cause.Parts.Contains(part)).Sum(w => w.Share);
        Assert.True(Of("M1", "F1 blows at once, only when pulling") > 0.6, $"{Of("M1", "F1 blows at once, only when pulling")}");
        Assert.True(Of("M1", "F1 blows at once, standby") < 0.1);
    }

    [Fact]
    public void What_may_be_seen_of_it_is_read_back_as_it_is_offered()
    {
        var model = Winch();
        var close = model.Close("F1", "pulling", [])!;
        var choices = SeenChoices.Of(close, model);
        Assert.Equal(["blows at once", "blows after a while", "holds"], choices.Select(c => c.Words));
        foreach (var choice in choices)
        {
            var seen = Assert.Single(SeenNotation.Read(choice.Line, model));
            Assert.Equal(close.Id, seen.Act.Id);
            Assert.EndsWith(choice.Words, seen.Words, StringComparison.Ordinal);
        }
    }

    /// <summary>
    /// Within the limits of ISO 8820-3 for blade fuses and of IEC 60898-1 for breakers of characteristic C; their numbers are from memory.
    /// </summary>
    [Theory]
    [InlineData(1.35, false, 0.75, 1800)]
    [InlineData(2, false, 0.15, 120)]
    [InlineData(6, false, 0.005, 0.6)]
    [InlineData(1.45, true, 20, 3600)]
    [InlineData(2.55, true, 1, 60)]
    [InlineData(10, true, 0.002, 0.1)]
    public void Fuses_and_breakers_open_within_the_limits_of_the_standards(double times, bool trips, double least, double most)
    {
        var opens = OpeningTime.Of(times, trips);
        Assert.InRange(Math.Pow(10, opens.LogSeconds), least, most);
        Assert.True(opens.Within(least, most) > 0.85, $"{opens.Within(least, most)}");
        Assert.Equal(1, opens.Within(0, double.PositiveInfinity), 1e-9);
    }

    [Fact]
    public void The_more_flows_the_sooner_it_opens()
    {
        foreach (var trips in (bool[])[false, true])
        {
            var seconds = Enumerable.Range(0, 60).Select(i => OpeningTime.Of(0.8 * Math.Pow(1.06, i), trips).LogSeconds).ToList();
            Assert.All(seconds.Zip(seconds.Skip(1)), s => Assert.True(s.Second <= s.First));
        }
    }
}
