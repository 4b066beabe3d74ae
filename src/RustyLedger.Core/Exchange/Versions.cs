namespace RustyLedger.Core.Exchange;

/// <summary>
/// A version vector ("Detection of mutual inconsistency in distributed systems", IEEE Transactions on Software Engineering, 1983):
/// how many times each ledger has written a thing, as far as is known.
/// </summary>
/// <param name="Shape">What the thing said then; empty where it was taken away.</param>
/// <param name="Writes">By the id of the ledger, at least 1 each; the first by what it said.</param>
public sealed record ItemVersion(string Shape, IReadOnlyDictionary<string, int> Writes)
{
    public const string Gone = "";

    /// <summary>Whether all that <paramref name="other"/> follows from is known in this one too.</summary>
    public bool Follows(ItemVersion other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return other.Writes.All(w => Writes.GetValueOrDefault(w.Key) >= w.Value);
    }

    /// <summary>Of a thing never told of before: two ledgers that began with the same file have the same.</summary>
    internal static ItemVersion First(string shape) => new(shape, new Dictionary<string, int> { [$"={shape}"] = 1 });

    internal ItemVersion WrittenBy(string ledger, string shape) =>
        new(shape, new Dictionary<string, int>(Writes) { [ledger] = Writes.GetValueOrDefault(ledger) + 1 });

    internal static IReadOnlyDictionary<string, int> Both(IReadOnlyDictionary<string, int> one, IReadOnlyDictionary<string, int> other) =>
        one.Keys.Union(other.Keys).ToDictionary(k => k, k => Math.Max(one.GetValueOrDefault(k), other.GetValueOrDefault(k)));
}

/// <summary>
/// The version of each thing as it was when it last went out of a ledger or came into it, what was taken away included. By them a
/// ledger tells who
/// wrote last, whatever was written: a text that was put back is as new as any other.
/// </summary>
public sealed class Versions
{
    private static readonly Dictionary<string, int> Nobody = [];

    private readonly Dictionary<string, ItemVersion> _byKey;

    public Versions(IEnumerable<KeyValuePair<string, ItemVersion>> byKey) => _byKey = byKey.ToDictionary(k => k.Key, k => k.Value);

    public static Versions None { get; } = new([]);

    public IEnumerable<KeyValuePair<string, ItemVersion>> ByKey => _byKey;

    public ItemVersion? this[string key] => _byKey.GetValueOrDefault(key);

    /// <summary>Brought up to a book as it now stands: what differs from what was last seen was written in this ledger since.</summary>
    /// <param name="book">All that belongs to the things these versions are of.</param>
    /// <param name="ledger">This ledger's id.</param>
    public Versions Seen(BookTree book, string ledger)
    {
        ArgumentNullException.ThrowIfNull(book);
        var all = new Dictionary<string, ItemVersion>(_byKey);
        foreach (var item in book.Items.Where(i => !i.IsWrittenOnce))
        {
            var known = all.GetValueOrDefault(item.Key);
            all[item.Key] =
                known is null ? ItemVersion.First(item.Shape)
                : known.Shape == item.Shape ? known
                : known.WrittenBy(ledger, item.Shape);
        }

        foreach (var (key, version) in _byKey.Where(v => v.Value.Shape != ItemVersion.Gone && book[v.Key] is null))
        {
            all[key] = version.WrittenBy(ledger, ItemVersion.Gone);
        }

        return new Versions(all);
    }

    /// <summary>
    /// After a book was taken in: whatever stands now follows from both sides. What neither side had, or had against the newer one,
    /// somebody chose here.
    /// </summary>
    public Versions Joined(Versions others, BookTree merged, string ledger)
    {
        ArgumentNullException.ThrowIfNull(others);
        ArgumentNullException.ThrowIfNull(merged);
        var all = new Dictionary<string, ItemVersion>();
        foreach (var key in _byKey.Keys.Union(others._byKey.Keys))
        {
            var (one, other) = (this[key], others[key]);
            var shape = merged[key]?.Shape ?? ItemVersion.Gone;
            var both = new ItemVersion(shape, ItemVersion.Both(one?.Writes ?? Nobody, other?.Writes ?? Nobody));
            var newest =
                one is null ? other
                : other is null ? one
                : one.Follows(other) ? one
                : other.Follows(one) ? other
                : null;
            all[key] = newest?.Shape == shape || (one?.Shape == shape && other?.Shape == shape) ? both : both.WrittenBy(ledger, shape);
        }

        return new Versions(all).Seen(merged, ledger);
    }
}
