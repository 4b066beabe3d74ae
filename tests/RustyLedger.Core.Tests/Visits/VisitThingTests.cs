using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;

namespace RustyLedger.Core.Tests.Visits;

public sealed class VisitThingTests
{
    private static readonly DateTimeOffset _noon = new(2026, 5, 4, 12, 0, 0, TimeSpan.Zero);

    private static readonly Visit _visit = Visit.Begin("v", "ly-04", "edda", "  stops ", _noon).Thing!;

    private static VisitWords Words(string agreed = "", string complaint = "stops", int? minutes = null, params string[] left) =>
        new(complaint, "", left, [], null, minutes, agreed, Warranty.NotAsked);

    private static TemporaryLink Link(BypassStanding standing) =>
        new()
        {
            Id = "l",
            MachineId = "ly-04",
            VisitId = "v",
            Kind = TemporaryLinkKind.Jumper,
            Where = "round F1",
            Why = "test",
            Attended = true,
            PlacedAt = _noon,
            PersonId = "edda",
            Standing = standing,
        };

    [Fact]
    public void What_is_agreed_keeps_its_moment_until_it_is_agreed_anew()
    {
        Assert.Equal("stops", _visit.Complaint);
        var agreed = _visit.Write(Words("up to 200"), _noon).Thing!;
        Assert.Equal(_noon, agreed.AgreedAt);
        Assert.Equal(_noon, agreed.Write(Words("up to 200"), _noon.AddHours(1)).Thing!.AgreedAt);
        Assert.Equal(_noon.AddHours(1), agreed.Write(Words("up to 300"), _noon.AddHours(1)).Thing!.AgreedAt);
        Assert.Null(agreed.Write(Words(), _noon.AddHours(1)).Thing!.AgreedAt);
    }

    [Fact]
    public void A_refused_field_is_named_and_nothing_changes()
    {
        Assert.Equal("labourMinutes", _visit.Write(Words(minutes: -1), _noon).Refusal?.Field);
        Assert.Equal("complaint", _visit.Write(Words(complaint: new string('x', 501)), _noon).Refusal?.Field);
        Assert.Equal("left", _visit.Write(Words(left: new string('x', 201)), _noon).Refusal?.Field);
        Assert.Equal(["a", "b"], _visit.Write(Words(left: ["a ", "", " b"]), _noon).Thing!.Left);
    }

    [Theory]
    [InlineData(Ending.Signed, BypassStanding.None, false)]
    [InlineData(Ending.TemporaryRepair, BypassStanding.None, true)]
    [InlineData(Ending.TemporaryRepair, BypassStanding.PlacedAllTheSame, false)]
    [InlineData(Ending.LeftSafe, BypassStanding.PlacedAllTheSame, true)]
    public void It_ends_as_what_is_open_lets_it(Ending ending, BypassStanding standing, bool taken)
    {
        var outcome = _visit.End(ending, _noon, new StillOpen([Link(standing)], []));
        Assert.Equal(taken, outcome.IsTaken);
        Assert.Equal(taken ? null : (bool?)true, outcome.Refusal?.IsMisfit);
        Assert.Equal(taken ? _noon : null, outcome.Thing?.EndedAt);
    }

    [Fact]
    public void Opened_again_it_has_no_ending_and_ended_again_its_first_moment()
    {
        var ended = _visit.End(Ending.NoFaultFound, _noon, StillOpen.Nothing).Thing!;
        Assert.NotNull(ended.Closed);
        Assert.Equal(_noon, ended.End(Ending.Signed, _noon.AddHours(2), StillOpen.Nothing).Thing!.EndedAt);
        var open = ended.End(null, _noon, StillOpen.Nothing).Thing!;
        Assert.Null(open.EndedAt);
        Assert.Null(open.Closed);
        Assert.Equal("ending", (ended with { EndedAt = null }).Refusal()?.Field);
    }

    [Fact]
    public void A_link_that_is_out_bypasses_nothing_and_one_put_back_does()
    {
        var machine = Sample.Resolved();
        var guarded = machine with
        {
            Model = machine.Model with
            {
                Safety = SafetySheet.Empty with
                {
                    Interlocks = [new Interlock("cut", InterlockKind.Stop, "the stop", Probe.At("z1", "f1-1"), Probe.At("z1", "f1-2"), "")],
                },
            },
        };
        var link = Link(BypassStanding.None) with { From = Probe.At("z1", "f1-1"), To = Probe.At("z1", "f1-2") };
        Assert.Equal("cut", link.On(guarded).Refusal?.Device);
        var gone = link.Remove(true, "bram", _noon);
        Assert.True(gone.On(guarded).IsTaken);
        Assert.Equal("cut", gone.Remove(false, "bram", _noon).On(guarded).Refusal?.Device);
        Assert.Equal("from", (link with { From = Probe.At("z9", "x") }).On(machine).Refusal?.Field);
    }
}
