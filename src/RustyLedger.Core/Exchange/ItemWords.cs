using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Exchange;

/// <summary>A member of a thing that says one thing here and another there; empty where it is not.</summary>
public sealed record MemberDifference(string Name, string Here, string There);

/// <summary>What a thing of a book is called, and in what it differs, in words.</summary>
public static class ItemWords
{
    private const int MostSigns = 160;

    /// <summary>Such as <c>1 pin</c> or <c>3 lists of settings</c>.</summary>
    public static string Count(string list, int count) =>
        ThingKind.Of(list) is { } kind
            ? count == 1
                ? $"1 {kind.One}"
                : string.Create(CultureInfo.InvariantCulture, $"{count} {kind.Many}")
            : $"{count} {list}";

    /// <summary>What it is called, such as <c>pin J4·3 of board type CW-4471 rev C</c>.</summary>
    public static string Of(BookItem item, BookTree book)
    {
        ArgumentNullException.ThrowIfNull(item);
        ArgumentNullException.ThrowIfNull(book);
        var above = item.Parent.Length > 0 ? book[item.Parent] : null;
        var of = above is null ? "" : $" of {Of(above, book)}";
        return ThingKind.Of(item.List) is { } kind
            ? kind.Words(new Named(item, above, of, book))
            : Joined(item.List, Text(item.Own, "id")) + of;
    }

    /// <summary>A thing about to be named.</summary>
    /// <param name="Above">What it belongs to; null at the top.</param>
    /// <param name="Of">The same in words, such as <c> of board type CW-4471</c>; empty at the top.</param>
    internal sealed record Named(BookItem Item, BookItem? Above, string Of, BookTree Book)
    {
        public JsonObject Own { get; } = Item.Own;

        public string Text(string member) => ItemWords.Text(Own, member);

        public string Day(string member) => ItemWords.Day(Own, member);
    }

    /// <summary>How many things of each kind belong to one, such as <c>1 round, 41 readings</c>; empty for none.</summary>
    public static string Below(BookItem item, BookTree book)
    {
        ArgumentNullException.ThrowIfNull(item);
        ArgumentNullException.ThrowIfNull(book);
        var counts = new Dictionary<string, int>();
        void CountBelow(string key)
        {
            foreach (var below in book.Below[key])
            {
                counts[below.List] = counts.GetValueOrDefault(below.List) + 1;
                CountBelow(below.Key);
            }
        }

        CountBelow(item.Key);
        return string.Join(", ", counts.Select(c => Count(c.Key, c.Value)));
    }

    /// <summary>In which members two shapes of a thing differ; all members of one where the other is not there.</summary>
    public static IReadOnlyList<MemberDifference> Differences(BookItem? here, BookItem? there)
    {
        var (mine, theirs) = (new Dictionary<string, JsonNode?>(), new Dictionary<string, JsonNode?>());
        Flatten(here?.Own, "", mine);
        Flatten(there?.Own, "", theirs);
        return
        [
            .. mine
                .Keys.Union(theirs.Keys)
                .Where(path => !Plain(mine.GetValueOrDefault(path)).Equals(Plain(theirs.GetValueOrDefault(path)), StringComparison.Ordinal))
                .Select(path => new MemberDifference(
                    Spoken(path),
                    Shown(path, mine.GetValueOrDefault(path)),
                    Shown(path, theirs.GetValueOrDefault(path))
                )),
        ];
    }

    private static string Plain(JsonNode? node) => BookItem.Plainly(node, new()).ToString();

    private static void Flatten(JsonNode? node, string path, Dictionary<string, JsonNode?> into)
    {
        switch (node)
        {
            case JsonObject members:
                foreach (var (name, value) in members.Where(m => path.Length > 0 || m.Key is not ("id" or "ordinal")))
                {
                    Flatten(value, path.Length == 0 ? name : $"{path}.{name}", into);
                }

                break;
            case JsonArray list when list.Any(l => l is JsonObject):
                foreach (var (i, value) in list.Index())
                {
                    Flatten(value, $"{path} {i + 1}", into);
                }

                break;
            case null:
                break;
            default:
                into[path] = node;
                break;
        }
    }

    /// <summary><c>pitchMm</c> as <c>pitch mm</c>.</summary>
    private static string Spoken(string path) =>
        string.Concat(
            path.Select(c =>
                char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}"
                : c == '.' ? ", "
                : $"{c}"
            )
        );

    private static string Shown(string path, JsonNode? node)
    {
        var text = node switch
        {
            null => "",
            JsonValue code when path == "colours" => Colours(code.ToString()),
            JsonArray list => string.Join(", ", list.Select(l => l?.ToString())),
            JsonValue value when value.GetValueKind() is JsonValueKind.True => "yes",
            JsonValue value when value.GetValueKind() is JsonValueKind.False => "no",
            _ => node.ToString(),
        };
        return text.Length > MostSigns ? $"{text[..MostSigns]}…" : text;
    }

    private static string Colours(string code)
    {
        try
        {
            return WireColours.Read(code).Words;
        }
        catch (FormatException)
        {
            return code;
        }
    }

    internal static string Text(JsonNode? node, string member) => (node as JsonObject)?[member]?.ToString() ?? "";

    internal static string Quoted(string text) => text.Length == 0 ? "" : $"“{(text.Length > 60 ? $"{text[..60]}…" : text)}”";

    internal static string Joined(params string[] words) => string.Join(' ', words.Where(w => w.Length > 0));

    internal static string Day(JsonObject own, string member) =>
        DateTimeOffset.TryParse(Text(own, member), CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            ? at.ToString("d MMM yyyy", CultureInfo.InvariantCulture)
            : Text(own, member);

    internal static string Limit(JsonNode? limit) => limit is JsonObject word ? Text(word, "word") : limit?.ToString() ?? "";

    internal static string BoardType(string id, BookTree book) =>
        book[$"boardTypes/{Uri.EscapeDataString(id)}"] is { } type ? Of(type, book) : $"board type {id}";

    /// <summary>A pin as printed where the book has it, by the place it names otherwise.</summary>
    internal static string Pin(JsonNode? address, BookItem by, BookTree book)
    {
        var (position, part) = (Text(address, "position"), Text(address, "part"));
        var pin = Uri.EscapeDataString(Text(address, "pin"));
        // A board type names its own elements, a model its parts and the boards in its positions.
        var holders =
            position.Length > 0
                ? book[$"{by.Parent}/positions/{Uri.EscapeDataString(position)}"] is { } at
                    ? book.Below[$"boardTypes/{Uri.EscapeDataString(Text(at.Own, "boardTypeId"))}"].Where(e => e.List == "elements")
                    : []
                : part.Length > 0
                    ? book.Below[by.Parent].Where(e => e.Key == $"{by.Parent}/parts/{Uri.EscapeDataString(part)}")
                    : book.Below[by.Parent].Where(e => e.List == "elements");
        return
            holders.Select(e => (Element: e, Pin: book[$"{e.Key}/pins/{pin}"])).FirstOrDefault(e => e.Pin is not null)
                is { Pin: { } known } found
            ? $"{Text(found.Element.Own, "designator")}·{Text(known.Own, "label")}"
            : $"{position}{part} {pin}".Trim();
    }
}
