using RustyLedger.Core.Boards;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class FuseFeedsTests
{
    private static IReadOnlyList<FusedFeed> Of(BoardType? board = null)
    {
        var machine = Sample.Resolved(board: board);
        return FuseFeeds.Of(machine, FeedGraph.Of(machine));
    }

    [Fact]
    public void A_fuse_feeds_what_lies_behind_it_through_the_fuses_on_the_way()
    {
        var fuses = Of();
        Assert.Equal(["Z1-F1", "Z2-F1"], fuses.Select(f => f.Printed));
        Assert.Equal(("2 A", "Z1-F1·1", "Z1-F1·2"), (fuses[0].Rating, fuses[0].Near, fuses[0].Far));
        Assert.Equal("Z2-J2·1 24 V on", Assert.Single(fuses[0].Feeds));
        Assert.Equal(["Z2-F1"], fuses[0].Through);
        Assert.Equal("Z2-J2·1 24 V on", Assert.Single(fuses[1].Feeds));
        Assert.Empty(fuses[1].Through);
    }

    [Fact]
    public void A_fuse_whose_path_has_no_direction_is_not_said_to_feed_anything()
    {
        var board = Sample.Board with { Links = [.. Sample.Board.Links.Select(l => l.Id == "l2" ? l with { Directed = false } : l)] };
        Assert.All(Of(board), f => Assert.Equal((null, null, 0), (f.Near, f.Far, f.Feeds.Count)));
    }
}
