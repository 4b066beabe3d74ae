using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace RustyLedger.Core.Exchange;

/// <summary>One thing that stands in a book, without the lists of things below it.</summary>
/// <param name="Key">The lists and ids that lead to it, such as <c>boardTypes/cb/elements/j1/pins/p3</c>.</param>
/// <param name="Parent">The key of what it belongs to; empty at the top.</param>
/// <param name="List">The list it stands in, such as <c>pins</c>; <c>model</c> and <c>machine</c> stand alone.</param>
/// <param name="Lists">The lists it has below it, empty ones too.</param>
public sealed record BookItem(string Key, string Parent, string List, JsonObject Own, IReadOnlyList<string> Lists)
{
    private string? _shape;

    /// <summary>
    /// What it says, as 64 bits of SHA-256 in hex: the same whatever the order of its members and however its numbers are
    /// written. Eight bytes tell the few shapes of one thing apart.
    /// </summary>
    public string Shape =>
        _shape ??= Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(Plainly(Own, new StringBuilder()).ToString()))[..8]);

    /// <summary>Readings and what was done for safety are written once and never changed.</summary>
    public bool IsWrittenOnce => ThingKind.Of(List)?.IsWrittenOnce ?? false;

    internal static StringBuilder Plainly(JsonNode? node, StringBuilder into)
    {
        switch (node)
        {
            case JsonObject members:
                into.Append('{');
                foreach (var (name, value) in members.Where(m => m.Value is not null).OrderBy(m => m.Key, StringComparer.Ordinal))
                {
                    Plainly(value, into.Append(JsonSerializer.Serialize(name)).Append(':')).Append(',');
                }

                return into.Append('}');
            case JsonArray list:
                into.Append('[');
                foreach (var value in list)
                {
                    Plainly(value, into).Append(',');
                }

                return into.Append(']');
            case JsonValue value when value.GetValueKind() == JsonValueKind.Number:
                return into.Append(
                    decimal.TryParse(value.ToJsonString(), NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
                        ? number.ToString("G29", CultureInfo.InvariantCulture)
                        : value.ToJsonString()
                );
            default:
                return into.Append(node?.ToJsonString() ?? "null");
        }
    }
}

/// <summary>A machine file, a model or a board type taken apart into the things people write one by one, and put together again.</summary>
public sealed class BookTree
{
    private static readonly string[] Alone = ["model", "machine"];

    private readonly Dictionary<string, BookItem> _byKey;

    private BookTree(IEnumerable<BookItem> items)
    {
        _byKey = items.ToDictionary(i => i.Key);
        Below = _byKey.Values.ToLookup(i => i.Parent);
    }

    public static BookTree Empty { get; } = new([]);

    /// <summary>From the top down, each list in its order.</summary>
    public IEnumerable<BookItem> Items => _byKey.Values;

    /// <summary>What belongs to a thing, by its key; under the empty key, what stands at the top.</summary>
    internal ILookup<string, BookItem> Below { get; }

    public BookItem? this[string key] => _byKey.GetValueOrDefault(key);

    /// <summary>
    /// Takes a book apart, which is used up by it. People and causes are left aside: a ledger has its own words for them.
    /// </summary>
    /// <exception cref="FormatException">An entry of a list has nothing to tell it by, or stands twice; names which.</exception>
    public static BookTree Of(JsonObject book)
    {
        ArgumentNullException.ThrowIfNull(book);
        var items = new Dictionary<string, BookItem>();
        foreach (var (name, value) in book)
        {
            if (value is JsonObject one && Alone.Contains(name))
            {
                Read(one, name, Key("", name, Identity(one, ["id"], name)), "", items);
            }
            else if (value is JsonArray list && ThingKind.Of(name) is not null)
            {
                ReadList(list, name, "", items);
            }
        }

        return new BookTree(items.Values);
    }

    internal static BookTree Of(IEnumerable<BookItem> items) => new(items);

    private static void ReadList(JsonArray list, string name, string parent, Dictionary<string, BookItem> items)
    {
        foreach (var entry in list)
        {
            Read(entry!.AsObject(), name, Key(parent, name, Identity(entry.AsObject(), ThingKind.Of(name)!.Identity, name)), parent, items);
        }
    }

    private static void Read(JsonObject whole, string list, string key, string parent, Dictionary<string, BookItem> items)
    {
        var (own, lists) = (new JsonObject(), new List<(string Name, JsonArray List)>());
        foreach (var (name, value) in whole.ToList())
        {
            if (value is JsonArray below && ThingKind.Of(name) is not null && below.All(b => b is JsonObject))
            {
                lists.Add((name, below));
            }
            else
            {
                // Moved over: a copy of each value would be a document of its own.
                whole.Remove(name);
                own[name] = value;
            }
        }

        if (!items.TryAdd(key, new BookItem(key, parent, list, own, lists.ConvertAll(l => l.Name))))
        {
            throw new FormatException($"{key} stands twice.");
        }

        foreach (var (name, below) in lists)
        {
            ReadList(below, name, key, items);
        }
    }

    private static string Identity(JsonObject entry, string[] members, string list) =>
        string.Join(
            '/',
            members.Select(path =>
            {
                JsonNode? at = entry;
                foreach (var name in path.Split('.'))
                {
                    at = (at as JsonObject)?[name];
                }

                return at is JsonValue value
                    ? Uri.EscapeDataString(value.ToString())
                    : throw new FormatException($"An entry of {list} has no {path}.");
            })
        );

    private static string Key(string parent, string list, string id) => parent.Length == 0 ? $"{list}/{id}" : $"{parent}/{list}/{id}";

    /// <summary>Put together again; the members at the top that are no lists of things are not in it.</summary>
    public JsonObject ToJson() => Together("");

    private JsonObject Together(string key)
    {
        var whole = this[key] is { } item ? item.Own.DeepClone().AsObject() : [];
        // A list that one side wrote as plain texts is part of the thing itself.
        foreach (var list in (this[key]?.Lists ?? []).Where(l => !whole.ContainsKey(l)))
        {
            whole[list] = new JsonArray();
        }

        foreach (var below in Below[key])
        {
            var made = Together(below.Key);
            if (key.Length == 0 && Alone.Contains(below.List))
            {
                whole[below.List] = made;
                continue;
            }

            if (whole[below.List] is not JsonArray list)
            {
                whole[below.List] = list = [];
            }

            list.Add((JsonNode)made);
        }

        return whole;
    }
}
