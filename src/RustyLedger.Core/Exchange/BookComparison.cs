namespace RustyLedger.Core.Exchange;

public enum FindingKind
{
    /// <summary>Only in what comes.</summary>
    Added,

    /// <summary>Here as it was before it was changed there.</summary>
    Changed,

    /// <summary>Here as it was before it was taken away there.</summary>
    Removed,

    /// <summary>Changed or taken away here since; what comes is older and changes nothing.</summary>
    NewerHere,

    /// <summary>Written on both sides, or nobody can say who wrote last: a person chooses.</summary>
    Clash,

    /// <summary>What is written once says something else: one of the two is not what was written.</summary>
    Refused,
}

/// <param name="Here">Null where it is not here.</param>
/// <param name="There">Null where it is not in what comes.</param>
public sealed record Finding(string Key, FindingKind Kind, BookItem? Here, BookItem? There);

/// <summary>
/// What taking in a book would do to the one that is here, thing by thing. A three-way comparison without a common
/// ancestor kept aside: each side carries the shapes it has had, so the ancestor is found among them.
/// </summary>
/// <param name="Findings">What differs, from the top down; what belongs to a thing that is removed or clashes goes with it.</param>
/// <param name="Same">How many things are the same on both sides.</param>
public sealed record BookComparison(BookTree Here, BookTree There, IReadOnlyList<Finding> Findings, int Same)
{
    private readonly Dictionary<string, Finding> _byKey = Findings.ToDictionary(f => f.Key);

    public bool ChangesNothing => Findings.All(f => f.Kind == FindingKind.NewerHere);

    public static BookComparison Of(BookTree here, BookTree there, Shapes knownHere, Shapes knownThere)
    {
        ArgumentNullException.ThrowIfNull(here);
        ArgumentNullException.ThrowIfNull(there);
        ArgumentNullException.ThrowIfNull(knownHere);
        ArgumentNullException.ThrowIfNull(knownThere);
        var found = new Dictionary<string, Finding>();
        // Things that go where what they belong to goes.
        var follow = new HashSet<string>();
        var same = 0;
        foreach (var item in there.Items)
        {
            var mine = here[item.Key];
            if (mine is not null && mine.Shape == item.Shape)
            {
                same++;
            }
            else if (mine is null && item.Parent.Length > 0 && here[item.Parent] is null && (follow.Contains(item.Parent) || found[item.Parent].Kind != FindingKind.Added))
            {
                follow.Add(item.Key);
            }
            else
            {
                found[item.Key] = new Finding(item.Key, KindOf(mine, item, knownHere, knownThere), mine, item);
            }
        }

        foreach (var item in here.Items.Where(i => there[i.Key] is null))
        {
            var above = TopGone(item, here, found);
            if (!item.IsWrittenOnce && knownThere.Has(item.Key) && above is null)
            {
                found[item.Key] = new Finding(item.Key, knownThere.Knows(item.Key, item.Shape) ? FindingKind.Removed : FindingKind.Clash, item, null);
            }
            else if (above is { Kind: FindingKind.Removed } && !knownThere.Knows(item.Key, item.Shape))
            {
                // Something below was written here since: it is not swept away with the rest.
                found[above.Key] = above with { Kind = FindingKind.Clash };
            }
        }

        return new BookComparison(here, there, [.. found.Values], same);
    }

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

    private static FindingKind KindOf(BookItem? mine, BookItem item, Shapes knownHere, Shapes knownThere) => mine switch
    {
        null when !knownHere.Has(item.Key) => FindingKind.Added,
        null => knownHere.Knows(item.Key, item.Shape) ? FindingKind.NewerHere : FindingKind.Clash,
        _ when item.IsWrittenOnce => FindingKind.Refused,
        _ => (knownThere.Knows(item.Key, mine.Shape), knownHere.Knows(item.Key, item.Shape)) switch
        {
            (true, false) => FindingKind.Changed,
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
        Lay("", merged, theirs, allTheirs: false);
        return BookTree.Of(merged);
    }

    /// <param name="allTheirs">What is below came back with what it belongs to, and is only there.</param>
    private void Lay(string parent, List<BookItem> merged, IReadOnlySet<string> theirs, bool allTheirs)
    {
        foreach (var list in Here.Below[parent].Concat(There.Below[parent]).Select(i => i.List).Distinct())
        {
            foreach (var key in InOrder(Here.Below[parent].Where(i => i.List == list).Select(i => i.Key), There.Below[parent].Where(i => i.List == list).Select(i => i.Key)))
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
                Lay(key, merged, theirs, mine is null);
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
            before = known.TryGetValue(key, out var node) ? node : before is null ? order.AddFirst(key) : order.AddAfter(before, key);
        }

        return order;
    }
}
