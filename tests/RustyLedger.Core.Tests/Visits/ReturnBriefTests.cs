using RustyLedger.Core.Visits;

namespace RustyLedger.Core.Tests.Visits;

public sealed class ReturnBriefTests
{
    [Fact]
    public void Nothing_is_open_after_a_signed_visit() =>
        Assert.Null(ReturnBrief.Of([Visit(1, Ending.LeftSafe, ["K1 out"]), Visit(2, Ending.Signed)]));

    [Fact]
    public void What_was_left_stays_open_until_a_visit_is_signed()
    {
        var brief = ReturnBrief.Of([
            Visit(1, Ending.Signed, ["old"]),
            Visit(2, Ending.TemporaryRepair, ["spare cable"], ["cable"]),
            Visit(3, Ending.WaitingForPart, ["J2 unplugged", "spare cable"], ["board"]),
            Visit(4, Ending.NoFaultFound),
        ])!;
        Assert.Equal(("v3", Ending.WaitingForPart), (brief.VisitId, brief.Ending));
        Assert.Equal(["J2 unplugged", "spare cable"], brief.Left);
        Assert.Equal(["board", "cable"], brief.Bring);
        Assert.True(brief.NeedsCare);
    }

    [Fact]
    public void No_fault_found_leaves_nothing_by_itself()
    {
        Assert.Null(ReturnBrief.Of([Visit(1, Ending.NoFaultFound)]));
        Assert.NotNull(ReturnBrief.Of([Visit(1, Ending.NoFaultFound, bring: ["recorder"])]));
        Assert.False(ReturnBrief.Of([Visit(1, Ending.WaitingForPart, bring: ["board"])])!.NeedsCare);
        Assert.True(ReturnBrief.Of([Visit(1, Ending.LeftSafe)])!.NeedsCare);
    }

    private static EndedVisit Visit(int day, Ending ending, string[]? left = null, string[]? bring = null) =>
        new($"v{day}", new DateTimeOffset(2026, 3, day, 9, 0, 0, TimeSpan.Zero), ending, left ?? [], bring ?? [], "");
}
