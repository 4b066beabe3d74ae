namespace RustyLedger.Core.Exchange;

/// <summary>
/// The shapes in which each thing has gone from one ledger to another, those before the present one too. By them a ledger
/// tells who wrote last: a shape that the other side has had before is older than the one it has now.
/// </summary>
public sealed class Shapes
{
    // What was sent this many shapes ago and comes back unchanged is rather shown than decided.
    private const int MostOfOne = 60;

    private readonly Dictionary<string, List<string>> _byKey;

    private Shapes(Dictionary<string, List<string>> byKey) => _byKey = byKey;

    /// <param name="byKey">Shapes by the key of the thing, oldest first.</param>
    public Shapes(IEnumerable<KeyValuePair<string, IReadOnlyList<string>>> byKey) => _byKey = byKey.ToDictionary(k => k.Key, k => k.Value.ToList());

    public static Shapes None { get; } = new(new Dictionary<string, List<string>>());

    /// <summary>By the key of the thing, oldest first.</summary>
    public IEnumerable<KeyValuePair<string, IReadOnlyList<string>>> ByKey => _byKey.Select(k => KeyValuePair.Create(k.Key, (IReadOnlyList<string>)k.Value));

    public bool Has(string key) => _byKey.ContainsKey(key);

    public bool Knows(string key, string shape) => _byKey.TryGetValue(key, out var shapes) && shapes.Contains(shape);

    /// <summary>With the present shapes of a book.</summary>
    public Shapes With(BookTree book)
    {
        ArgumentNullException.ThrowIfNull(book);
        return With(book.Items.Where(i => !i.IsWrittenOnce).Select(i => KeyValuePair.Create(i.Key, (IReadOnlyList<string>)[i.Shape])));
    }

    public Shapes With(Shapes others)
    {
        ArgumentNullException.ThrowIfNull(others);
        return With(others.ByKey);
    }

    private Shapes With(IEnumerable<KeyValuePair<string, IReadOnlyList<string>>> more)
    {
        var all = _byKey.ToDictionary(k => k.Key, k => k.Value);
        foreach (var (key, shapes) in more)
        {
            all[key] = [.. (all.GetValueOrDefault(key) ?? []).Where(s => !shapes.Contains(s)).Concat(shapes).TakeLast(MostOfOne)];
        }

        return new Shapes(all);
    }
}
