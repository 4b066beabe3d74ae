namespace RustyLedger.Core.Boards;

/// <summary>The board type a board is that bears a part number.</summary>
/// <param name="Known">One that is here; null for a new one of its own.</param>
public sealed record BoardTypeChoice(BoardTypeId? Known)
{
    /// <summary>A board that is none of those that are known, whatever it is called.</summary>
    public static BoardTypeChoice New { get; } = new((BoardTypeId?)null);

    /// <summary>
    /// A type is never shared for a like name alone: where one is called so, somebody says which it is. What the position has
    /// already is no sharing anew.
    /// </summary>
    /// <param name="revision">Empty where nobody said one.</param>
    /// <param name="alike">The board types that bear the number.</param>
    /// <param name="said">The one it was said to be; null where nothing was said.</param>
    /// <param name="isNew">It was said to be none of them.</param>
    /// <param name="inPosition">What the model has in the position; null for a new position.</param>
    public static Outcome<BoardTypeChoice> Of(
        string number,
        string revision,
        IReadOnlyList<BoardType> alike,
        BoardTypeId? said,
        bool isNew,
        BoardTypeId? inPosition
    )
    {
        ArgumentNullException.ThrowIfNull(alike);
        if (said is not null)
        {
            return alike.Any(t => t.Id == said)
                ? new BoardTypeChoice(said)
                : new Refusal("boardTypeId", $"The board type it was said to be is not called {number}, or is gone.");
        }

        if (isNew || alike.Count == 0)
        {
            return New;
        }

        return alike.FirstOrDefault(t => t.Id == inPosition) is { } usual && (revision.Length == 0 || usual.Revision == revision)
            ? new BoardTypeChoice(usual.Id)
            : new Refusal(
                "boardTypeId",
                $"{(alike.Count == 1 ? "A board type is" : $"{alike.Count} board types are")} called {number} already: say whether it is "
                    + $"{(alike.Count == 1 ? "that one" : "one of them")}, or a new one."
            );
    }
}
