using System.Buffers;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace RustyLedger.Core.Exchange;

/// <summary>One thing that stands in a book, without the lists of things below it.</summary>
/// <param name="Key">The lists and ids that lead to it, such as <c>boardTypes/cb/elements/j1/pins/p3</c>.</param>
/// <param name="Parent">The key of what it belongs to; empty at the top.</param>
/// <param name="List">The list it stands in, such as <c>pins</c>; <c>model</c> and <c>machine</c> stand alone.</param>
/// <param name="Text">Its own members as JSON in UTF-8: two books of thousands of readings stand beside each other when compared.</param>
/// <param name="Lists">The lists it has below it, empty ones too.</param>
public sealed record BookItem(string Key, string Parent, string List, ReadOnlyMemory<byte> Text, IReadOnlyList<string> Lists)
{
    private string? _shape;

    /// <summary>Its own members, read anew at each call.</summary>
    public JsonObject Own => JsonNode.Parse(Text.Span)!.AsObject();

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

    // As what it is read from was written; nothing of it goes into a page.
    private static readonly JsonWriterOptions AsWritten = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

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

    /// <summary>Takes a book apart. People and causes are left aside: a ledger has its own words for them.</summary>
    /// <exception cref="FormatException">An entry of a list has nothing to tell it by, or stands twice; names which.</exception>
    public static BookTree Of(JsonElement book)
    {
        var items = new Dictionary<string, BookItem>();
        foreach (var member in book.EnumerateObject())
        {
            var (name, value) = (member.Name, member.Value);
            if (value.ValueKind == JsonValueKind.Object && Alone.Contains(name))
            {
                Read(value, name, Key("", name, Identity(value, ["id"], name)), "", items);
            }
            else if (value.ValueKind == JsonValueKind.Array && ThingKind.Of(name) is not null)
            {
                ReadList(value, name, "", items);
            }
        }

        return new BookTree(items.Values);
    }

    internal static BookTree Of(IEnumerable<BookItem> items) => new(items);

    private static void ReadList(JsonElement list, string name, string parent, Dictionary<string, BookItem> items)
    {
        foreach (var entry in list.EnumerateArray())
        {
            Read(entry, name, Key(parent, name, Identity(entry, ThingKind.Of(name)!.Identity, name)), parent, items);
        }
    }

    private static void Read(JsonElement whole, string list, string key, string parent, Dictionary<string, BookItem> items)
    {
        var (own, lists) = (new ArrayBufferWriter<byte>(), new List<JsonProperty>());
        using (var writer = new Utf8JsonWriter(own, AsWritten))
        {
            writer.WriteStartObject();
            foreach (var member in whole.EnumerateObject())
            {
                if (
                    member.Value.ValueKind == JsonValueKind.Array
                    && ThingKind.Of(member.Name) is not null
                    && member.Value.EnumerateArray().All(b => b.ValueKind == JsonValueKind.Object)
                )
                {
                    lists.Add(member);
                }
                else
                {
                    member.WriteTo(writer);
                }
            }

            writer.WriteEndObject();
        }

        if (!items.TryAdd(key, new BookItem(key, parent, list, own.WrittenSpan.ToArray(), lists.ConvertAll(l => l.Name))))
        {
            throw new FormatException($"{key} stands twice.");
        }

        foreach (var below in lists)
        {
            ReadList(below.Value, below.Name, key, items);
        }
    }

    private static string Identity(JsonElement entry, string[] members, string list) =>
        string.Join(
            '/',
            members.Select(path =>
            {
                var at = entry;
                foreach (var name in path.Split('.'))
                {
                    at = at.ValueKind == JsonValueKind.Object && at.TryGetProperty(name, out var below) ? below : default;
                }

                return at.ValueKind is JsonValueKind.String or JsonValueKind.Number or JsonValueKind.True or JsonValueKind.False
                    ? Uri.EscapeDataString(at.ToString())
                    : throw new FormatException($"An entry of {list} has no {path}.");
            })
        );

    private static string Key(string parent, string list, string id) => parent.Length == 0 ? $"{list}/{id}" : $"{parent}/{list}/{id}";

    /// <summary>Put together again; the members at the top that are no lists of things are not in it.</summary>
    /// <param name="into">Stands inside an object.</param>
    /// <param name="alsoEmpty">Lists at the top that are to stand there even with nothing in them.</param>
    public void WriteTo(Utf8JsonWriter into, IEnumerable<string> alsoEmpty)
    {
        ArgumentNullException.ThrowIfNull(into);
        WriteLists("", alsoEmpty, into);
    }

    private void WriteLists(string key, IEnumerable<string> names, Utf8JsonWriter into)
    {
        var lists = Below[key].ToLookup(i => i.List);
        foreach (var name in names.Concat(lists.Select(l => l.Key)).Distinct())
        {
            into.WritePropertyName(name);
            if (key.Length == 0 && Alone.Contains(name))
            {
                WriteOne(lists[name].Last(), into);
                continue;
            }

            into.WriteStartArray();
            foreach (var item in lists[name])
            {
                WriteOne(item, into);
            }

            into.WriteEndArray();
        }
    }

    private void WriteOne(BookItem item, Utf8JsonWriter into)
    {
        into.WriteStartObject();
        using var own = JsonDocument.Parse(item.Text);
        foreach (var member in own.RootElement.EnumerateObject())
        {
            // A list that one side wrote as plain texts is part of the thing itself.
            if (member.Value.ValueKind != JsonValueKind.Array || !Below[item.Key].Any(i => i.List == member.Name))
            {
                member.WriteTo(into);
            }
        }

        WriteLists(item.Key, item.Lists.Where(l => !own.RootElement.TryGetProperty(l, out _)), into);
        into.WriteEndObject();
    }
}
