using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class BoardTypeChoiceTests
{
    private static BoardType Type(string id, string revision) => Sample.Board with { Id = id, PartNumber = "MB-7", Revision = revision };

    private static readonly BoardType[] _alike = [Type("b", "B"), Type("a", "A")];

    private static string Of(BoardTypeId? said = null, bool isNew = false, BoardTypeId? inPosition = null, string revision = "") =>
        BoardTypeChoice.Of("MB-7", revision, _alike, said, isNew, inPosition) is { } outcome && outcome.Refusal is { } refusal
            ? $"{refusal.Field}: {refusal.Problem}"
            : outcome.Thing!.Known?.Value ?? "new";

    [Fact]
    public void A_type_is_never_shared_for_a_like_name_alone()
    {
        Assert.Equal("boardTypeId: 2 board types are called MB-7 already: say whether it is one of them, or a new one.", Of());
        Assert.Equal("a", Of(said: "a"));
        Assert.Equal("new", Of(isNew: true));
        // What the position has already is no sharing anew, unless another revision is said.
        Assert.Equal("b", Of(inPosition: "b"));
        Assert.Equal("a", Of(inPosition: "a", revision: "A"));
        Assert.StartsWith("boardTypeId: ", Of(inPosition: "a", revision: "C"), StringComparison.Ordinal);
        // One that is called otherwise, or is gone, is none of them.
        Assert.StartsWith("boardTypeId: The board type it was said to be", Of(said: "x"), StringComparison.Ordinal);
        Assert.Equal("new", BoardTypeChoice.Of("MB-9", "", [], null, false, null).Thing!.Known?.Value ?? "new");
    }
}
