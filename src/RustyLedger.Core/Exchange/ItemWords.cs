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

    private static readonly Dictionary<string, (string One, string Many)> Names = new()
    {
        ["model"] = ("model", "models"),
        ["machine"] = ("machine", "machines"),
        ["boardTypes"] = ("board type", "board types"),
        ["elements"] = ("element", "elements"),
        ["pins"] = ("pin", "pins"),
        ["links"] = ("link", "links"),
        ["checks"] = ("check", "checks"),
        ["codes"] = ("code", "codes"),
        ["settings"] = ("setting", "settings"),
        ["positions"] = ("position", "positions"),
        ["parts"] = ("part", "parts"),
        ["states"] = ("operating state", "operating states"),
        ["boards"] = ("fitted board", "fitted boards"),
        ["overrides"] = ("override", "overrides"),
        ["visits"] = ("visit", "visits"),
        ["calls"] = ("support call", "support calls"),
        ["rounds"] = ("round", "rounds"),
        ["readings"] = ("reading", "readings"),
        ["observations"] = ("observation", "observations"),
        ["outsideAnswers"] = ("outside check", "outside checks"),
        ["safetyEvents"] = ("act of making safe", "acts of making safe"),
        ["temporaryLinks"] = ("temporary link", "temporary links"),
        ["notices"] = ("notice", "notices"),
        ["skippedSteps"] = ("skipped step", "skipped steps"),
        ["facings"] = ("facing", "facings"),
        ["faults"] = ("fault", "faults"),
        ["snapshots"] = ("list of settings", "lists of settings"),
        ["values"] = ("value", "values"),
        ["photographs"] = ("photograph", "photographs"),
        ["places"] = ("marked place", "marked places"),
        ["notes"] = ("note", "notes"),
        ["boardNotes"] = ("note on a board", "notes on boards"),
    };

    /// <summary>Such as <c>1 pin</c> or <c>3 lists of settings</c>.</summary>
    public static string Count(string list, int count) =>
        Names.TryGetValue(list, out var names)
            ? count == 1
                ? $"1 {names.One}"
                : string.Create(CultureInfo.InvariantCulture, $"{count} {names.Many}")
            : $"{count} {list}";

    /// <summary>What it is called, such as <c>pin J4·3 of board type CW-4471 rev C</c>.</summary>
    public static string Of(BookItem item, BookTree book)
    {
        ArgumentNullException.ThrowIfNull(item);
        ArgumentNullException.ThrowIfNull(book);
        var own = item.Own;
        var above = item.Parent.Length > 0 ? book[item.Parent] : null;
        var of = above is null ? "" : $" of {Of(above, book)}";
        return item.List switch
        {
            "boardTypes" => Joined(
                "board type",
                Text(own, "partNumber"),
                Text(own, "revision") is { Length: > 0 } revision ? $"rev {revision}" : ""
            ),
            "model" => Joined("model", Text(own, "name")),
            "machine" => Joined("machine", Text(own, "tag")),
            "settings" => $"setting {Text(own["definition"], "code")} of {BoardType(Text(own, "boardTypeId"), book)}",
            "elements" or "parts" => Joined(Text(own, "designator"), Quoted(Text(own, item.List == "parts" ? "name" : "purpose"))) + of,
            "pins" => $"pin {Text(above?.Own, "designator")}·{Text(own, "label")}"
                + (above is null || book[above.Parent] is not { } owner ? "" : $" of {Of(owner, book)}"),
            "links" => $"link from {Pin(own["from"], item, book)} to {Pin(own["to"], item, book)}{of}",
            "checks" => "check of "
                + (
                    own["red"] is JsonObject red ? Pin(red, item, book)
                    : Text(own, "target") is { Length: > 0 } target ? target
                    : Text(own, "part")
                )
                + $", {Limit(own["limit"])}{of}",
            "codes" => $"code {(Text(own, "shown") is { Length: > 0 } shown ? shown : Text(own, "meaning"))}{of}",
            "positions" => Joined("position", Text(own, "name")) + of,
            "states" => Joined("operating state", Text(own, "name")) + of,
            "boards" => Joined("fitted board", Text(own, "serial")) + of,
            "overrides" => "what is so on this machine only: " + Text(own, "reason"),
            "visits" => Joined($"visit of {Day(own, "openedAt")}", Quoted(Text(own, "complaint"))),
            "calls" => Joined($"support call of {Day(own, "at")}", Text(own, "caseNumber")),
            "rounds" => $"round of {Day(own, "startedAt")}",
            "readings" => Joined("reading", Text(own, "typed"), "at", Text(own, "redPrinted")),
            "observations" => Joined("observation", Quoted(Text(own, "text"))),
            "temporaryLinks" => Joined("temporary link", Text(own, "where")),
            "notices" => $"notice of {Day(own, "at")}",
            "skippedSteps" => Joined("skipped step", Text(own, "step")) + of,
            "facings" => $"how {Text(own, "positionId")} was faced{of}",
            "faults" => Joined($"fault of {Day(own, "openedAt")}", Quoted(Text(own, "noticed"))),
            "snapshots" => $"list of settings of {Day(own, "takenAt")}",
            "values" => $"value of {Text(own, "code")}{of}",
            "photographs" => Joined($"photograph of {Day(own, "takenAt")}", Quoted(Text(own, "caption"))),
            "places" => Joined("marked place", Text(own, "number"), Quoted(Text(own, "name"))) + of,
            "notes" or "boardNotes" => Joined("note", Quoted(Text(own, "text"))),
            _ => Joined(Names.TryGetValue(item.List, out var names) ? names.One : item.List, Text(own, "id")) + of,
        };
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

    private static string Text(JsonNode? node, string member) => (node as JsonObject)?[member]?.ToString() ?? "";

    private static string Quoted(string text) => text.Length == 0 ? "" : $"“{(text.Length > 60 ? $"{text[..60]}…" : text)}”";

    private static string Joined(params string[] words) => string.Join(' ', words.Where(w => w.Length > 0));

    private static string Day(JsonObject own, string member) =>
        DateTimeOffset.TryParse(Text(own, member), CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            ? at.ToString("d MMM yyyy", CultureInfo.InvariantCulture)
            : Text(own, member);

    private static string Limit(JsonNode? limit) => limit is JsonObject word ? Text(word, "word") : limit?.ToString() ?? "";

    private static string BoardType(string id, BookTree book) =>
        book[$"boardTypes/{Uri.EscapeDataString(id)}"] is { } type ? Of(type, book) : $"board type {id}";

    /// <summary>A pin as printed where the book has it, by the place it names otherwise.</summary>
    private static string Pin(JsonNode? address, BookItem by, BookTree book)
    {
        var (holder, pin) = (Uri.EscapeDataString(Text(address, "holder")), Uri.EscapeDataString(Text(address, "pin")));
        // A board type names its own elements, a model its parts and the boards in its positions.
        var type = book[$"{by.Parent}/positions/{holder}"] is { } position
            ? $"boardTypes/{Uri.EscapeDataString(Text(position.Own, "boardTypeId"))}"
            : by.Parent;
        var found = book.Below[type]
            .Where(e => e.List is "elements" or "parts")
            .Select(e => (Element: e, Pin: book[$"{e.Key}/pins/{pin}"]))
            .FirstOrDefault(e =>
                e.Pin is not null && (e.Element.List == "elements" || e.Element.Key.EndsWith($"/{holder}", StringComparison.Ordinal))
            );
        return found.Pin is { } known ? $"{Text(found.Element.Own, "designator")}·{Text(known.Own, "label")}" : $"{holder} {pin}";
    }
}
