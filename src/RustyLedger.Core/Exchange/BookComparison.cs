namespace RustyLedger.Core.Exchange;

public enum FindingKind
{
    /// <summary>Only in what comes.</summary>
    Added,

    /// <summary>Written there since, knowing what stands here.</summary>
    Changed,

    /// <summary>Taken away there since, knowing what stands here.</summary>
    Removed,

    /// <summary>Changed or taken away here since; what comes is older and changes nothing.</summary>
    NewerHere,

    /// <summary>Written on both sides without knowing of each other, or nobody can say who wrote last: a person chooses.</summary>
    Clash,

    /// <summary>What is written once says something else: one of the two is not what was written.</summary>
    Refused,
}

/// <param name="Here">Null where it is not here.</param>
/// <param name="There">Null where it is not in what comes.</param>
public sealed record Finding(string Key, FindingKind Kind, BookItem? Here, BookItem? There);

/// <summary>
/// What taking in a book would do to the one that is here, thing by thing: by the versions that each side carries, one that
/// follows from the other is newer, and two of which neither does were written at the same time.
/// </summary>
/// <param name="Findings">What differs, from the top down; what belongs to a thing that is removed or clashes goes with it.</param>
/// <param name="Same">How many things are the same on both sides.</param>
public sealed record BookComparison(BookTree Here, BookTree There, IReadOnlyList<Finding> Findings, int Same)
{
    private readonly Dictionary<string, Finding> _byKey = Findings.ToDictionary(f => f.Key);

    public bool ChangesNothing => Findings.All(f => f.Kind == FindingKind.NewerHere);

    /// <param name="seenHere">Brought up to what is here (<see cref="Versions.Seen"/>).</param>
    /// <param name="seenThere">As they came with what comes.</param>
    public static BookComparison Of(BookTree here, BookTree there, Versions seenHere, Versions seenThere)
    {
        ArgumentNullException.ThrowIfNull(here);
        ArgumentNullException.ThrowIfNull(there);
        ArgumentNullException.ThrowIfNull(seenHere);
        ArgumentNullException.ThrowIfNull(seenThere);
        var found = new Dictionary<string, Finding>();
        // Things that go where what they belong to goes.
        var follow = new Dictionary<string, string>();
        var same = 0;
        foreach (var item in there.Items)
        {
            var mine = here[item.Key];
            if (mine is not null && mine.Shape == item.Shape)
            {
                same++;
            }
            else if (
                mine is null
                && item.Parent.Length > 0
                && here[item.Parent] is null
                && (follow.ContainsKey(item.Parent) || found[item.Parent].Kind != FindingKind.Added)
            )
            {
                var above = follow[item.Key] = follow.GetValueOrDefault(item.Parent, item.Parent);
                // Written there without knowing that it was taken away here with all above it: it does not go without a word.
                if (found[above].Kind == FindingKind.NewerHere && (item.IsWrittenOnce || !IsKnown(item, seenHere, seenThere)))
                {
                    found[above] = found[above] with { Kind = FindingKind.Clash };
                }
            }
            else
            {
                found[item.Key] = new Finding(item.Key, KindOf(mine, item, seenHere[item.Key], seenThere[item.Key]), mine, item);
            }
        }

        foreach (var item in here.Items.Where(i => there[i.Key] is null))
        {
            var above = TopGone(item, here, found);
            if (!item.IsWrittenOnce && above is null)
            {
                if (KindOfGone(seenHere[item.Key], seenThere[item.Key]) is { } kind)
                {
                    found[item.Key] = new Finding(item.Key, kind, item, null);
                }
            }
            else if (above is { Kind: FindingKind.Removed } && (item.IsWrittenOnce || !IsKnown(item, seenThere, seenHere)))
            {
                // Something below was written here since: it is not swept away with the rest.
                found[above.Key] = above with
                {
                    Kind = FindingKind.Clash,
                };
            }
        }

        return new BookComparison(here, there, [.. found.Values], same);
    }

    /// <summary>Whether a thing as it stands on one side was known to the other side when it took it away.</summary>
    private static bool IsKnown(BookItem item, Versions to, Versions of) =>
        to[item.Key] is { } known && of[item.Key] is { } version && known.Follows(version);

    /// <summary>A thing that stands here and not there; null where it was never there.</summary>
    private static FindingKind? KindOfGone(ItemVersion? mine, ItemVersion? other) =>
        other is null || mine is null
            ? null
            : (other.Follows(mine), mine.Follows(other)) switch
            {
                (true, false) => FindingKind.Removed,
                // Put back here knowing that it was taken away.
                (false, true) => null,
                _ => FindingKind.Clash,
            };

    /// <summary>The finding, above a thing that is only here, with which it would go.</summary>
    private static Finding? TopGone(BookItem item, BookTree here, Dictionary<string, Finding> found)
    {
        for (var at = item.Parent; at.Length > 0; at = here[at]!.Parent)
        {
            if (found.TryGetValue(at, out var finding) && finding.There is null)
            {
                return finding;
            }
        }

        return null;
    }

    private static FindingKind KindOf(BookItem? mine, BookItem item, ItemVersion? here, ItemVersion? there) =>
        mine switch
        {
            null when here is null => FindingKind.Added,
            not null when item.IsWrittenOnce => FindingKind.Refused,
            _ when here is null || there is null => FindingKind.Clash,
            _ => (there.Follows(here), here.Follows(there)) switch
            {
                (true, false) => mine is null ? FindingKind.Added : FindingKind.Changed,
                (false, true) => FindingKind.NewerHere,
                _ => FindingKind.Clash,
            },
        };

    /// <summary>The book as it would be.</summary>
    /// <param name="theirs">Keys of the clashes in which what comes is taken; in all others what is here stays.</param>
    /// <exception cref="InvalidOperationException">Something written once differs.</exception>
    public BookTree Merge(IReadOnlySet<string> theirs)
    {
        ArgumentNullException.ThrowIfNull(theirs);
        if (Findings.FirstOrDefault(f => f.Kind == FindingKind.Refused) is { } refused)
        {
            throw new InvalidOperationException($"{refused.Key} is written once and differs.");
        }

        var merged = new List<BookItem>();
        Gather("", merged, theirs, allTheirs: false);
        return BookTree.Of(merged);
    }

    /// <param name="allTheirs">What is below came back with what it belongs to, and is only there.</param>
    private void Gather(string parent, List<BookItem> merged, IReadOnlySet<string> theirs, bool allTheirs)
    {
        foreach (var list in Here.Below[parent].Concat(There.Below[parent]).Select(i => i.List).Distinct())
        {
            foreach (
                var key in InOrder(
                    Here.Below[parent].Where(i => i.List == list).Select(i => i.Key),
                    There.Below[parent].Where(i => i.List == list).Select(i => i.Key)
                )
            )
            {
                var (mine, other, finding) = (Here[key], There[key], _byKey.GetValueOrDefault(key));
                var takesTheirs = finding?.Kind switch
                {
                    FindingKind.Added or FindingKind.Changed or FindingKind.Removed => true,
                    FindingKind.Clash => theirs.Contains(key),
                    FindingKind.NewerHere => false,
                    _ => mine is null && allTheirs,
                };
                if ((takesTheirs ? other : mine) is not { } taken)
                {
                    continue;
                }

                merged.Add(taken with { Lists = [.. taken.Lists.Union((mine?.Lists ?? []).Concat(other?.Lists ?? []))] });
                Gather(key, merged, theirs, mine is null);
            }
        }
    }

    /// <summary>What is here in its order, and what is only there behind the one it follows there.</summary>
    private static LinkedList<string> InOrder(IEnumerable<string> here, IEnumerable<string> there)
    {
        var order = new LinkedList<string>(here);
        var known = new Dictionary<string, LinkedListNode<string>>();
        for (var node = order.First; node is not null; node = node.Next)
        {
            known[node.Value] = node;
        }

        LinkedListNode<string>? before = null;
        foreach (var key in there)
        {
            before =
                known.TryGetValue(key, out var node) ? node
                : before is null ? order.AddFirst(key)
                : order.AddAfter(before, key);
        }

        return order;
    }
}
