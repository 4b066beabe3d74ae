using System.Text.Json.Nodes;
using static RustyLedger.Core.Exchange.ItemWords;

namespace RustyLedger.Core.Exchange;

/// <summary>
/// One kind of thing that a book holds, described once: what tells two of them apart and what they are called. A list that has no kind
/// here is part of the thing that has it.
/// </summary>
internal sealed class ThingKind
{
    private static readonly Dictionary<string, ThingKind> ByList = All().ToDictionary(k => k.List);

    /// <summary>The list of a file that holds them, such as <c>pins</c>; <c>model</c> and <c>machine</c> stand alone.</summary>
    public required string List { get; init; }

    /// <summary>What one is called.</summary>
    public required string One { get; init; }

    public string Many { get; init; } = "";

    /// <summary>The members whose values are its own within what it belongs to; a point leads to a member of a member.</summary>
    public string[] Identity { get; init; } = ["id"];

    /// <summary>Written once and never changed.</summary>
    public bool IsWrittenOnce { get; init; }

    /// <summary>What one of them is called among others.</summary>
    internal required Func<Named, string> Words { get; init; }

    /// <summary>The kind of a list; null where its entries are no things of their own.</summary>
    public static ThingKind? Of(string list) => ByList.GetValueOrDefault(list);

    private static ThingKind Kind(string list, string one, string many, Func<Named, string> words) =>
        new()
        {
            List = list,
            One = one,
            Many = many,
            Words = words,
        };

    private static ThingKind Kind(string list, string one, string many, string identity, Func<Named, string> words) =>
        new()
        {
            List = list,
            One = one,
            Many = many,
            Identity = identity.Split(' '),
            Words = words,
        };

    private static ThingKind Once(string list, string one, string many, Func<Named, string> words) =>
        new()
        {
            List = list,
            One = one,
            Many = many,
            IsWrittenOnce = true,
            Words = words,
        };

    private static IEnumerable<ThingKind> All() =>
        [
            Kind("model", "model", "models", n => Joined("model", n.Text("name"))),
            Kind("machine", "machine", "machines", n => Joined("machine", n.Text("tag"))),
            Kind(
                "boardTypes",
                "board type",
                "board types",
                n => Joined("board type", n.Text("partNumber"), n.Text("revision") is { Length: > 0 } revision ? $"rev {revision}" : "")
            ),
            Kind("elements", "element", "elements", n => Joined(n.Text("designator"), Quoted(n.Text("purpose"))) + n.Of),
            Kind(
                "pins",
                "pin",
                "pins",
                n =>
                    $"pin {Text(n.Above?.Own, "designator")}·{n.Text("label")}"
                    + (n.Above is null || n.Book[n.Above.Parent] is not { } owner ? "" : $" of {ItemWords.Of(owner, n.Book)}")
            ),
            Kind(
                "links",
                "link",
                "links",
                n => $"link from {Pin(n.Own["from"], n.Item, n.Book)} to {Pin(n.Own["to"], n.Item, n.Book)}{n.Of}"
            ),
            Kind(
                "checks",
                "check",
                "checks",
                n =>
                    "check of "
                    + (
                        n.Own["red"] is JsonObject red ? Pin(red, n.Item, n.Book)
                        : n.Text("target") is { Length: > 0 } target ? target
                        : n.Text("part")
                    )
                    + $", {Limit(n.Own["limit"])}{n.Of}"
            ),
            Kind("codes", "code", "codes", n => $"code {(n.Text("shown") is { Length: > 0 } shown ? shown : n.Text("meaning"))}{n.Of}"),
            Kind(
                "settings",
                "setting",
                "settings",
                "boardTypeId definition.id",
                n => $"setting {Text(n.Own["definition"], "code")} of {BoardType(n.Text("boardTypeId"), n.Book)}"
            ),
            Kind("positions", "position", "positions", n => Joined("position", n.Text("name")) + n.Of),
            Kind("parts", "part", "parts", n => Joined(n.Text("designator"), Quoted(n.Text("name"))) + n.Of),
            Kind("states", "operating state", "operating states", "code", n => Joined("operating state", n.Text("name")) + n.Of),
            Kind("boards", "fitted board", "fitted boards", n => Joined("fitted board", n.Text("serial")) + n.Of),
            Kind("overrides", "override", "overrides", n => "what is so on this machine only: " + n.Text("reason")),
            Kind("visits", "visit", "visits", n => Joined($"visit of {n.Day("openedAt")}", Quoted(n.Text("complaint")))),
            Kind("calls", "support call", "support calls", n => Joined($"support call of {n.Day("at")}", n.Text("caseNumber"))),
            Kind("rounds", "round", "rounds", n => $"round of {n.Day("startedAt")}"),
            Once("readings", "reading", "readings", n => Joined("reading", n.Text("typed"), "at", n.Text("redPrinted"))),
            Kind("observations", "observation", "observations", n => Joined("observation", Quoted(n.Text("text")))),
            Once("outsideAnswers", "outside check", "outside checks", n => Joined("outside check", n.Text("id")) + n.Of),
            Once("safetyEvents", "act of making safe", "acts of making safe", n => Joined("act of making safe", n.Text("id")) + n.Of),
            Kind("temporaryLinks", "temporary link", "temporary links", n => Joined("temporary link", n.Text("where"))),
            Kind("notices", "notice", "notices", n => $"notice of {n.Day("at")}"),
            Kind("skippedSteps", "skipped step", "skipped steps", "step", n => Joined("skipped step", n.Text("step")) + n.Of),
            Kind("facings", "facing", "facings", "positionId", n => $"how {n.Text("positionId")} was faced{n.Of}"),
            Kind("faults", "fault", "faults", n => Joined($"fault of {n.Day("openedAt")}", Quoted(n.Text("noticed")))),
            Kind("snapshots", "list of settings", "lists of settings", n => $"list of settings of {n.Day("takenAt")}"),
            Kind("values", "value", "values", "code", n => $"value of {n.Text("code")}{n.Of}"),
            Kind("photographs", "photograph", "photographs", n => Joined($"photograph of {n.Day("takenAt")}", Quoted(n.Text("caption")))),
            Kind("places", "marked place", "marked places", n => Joined("marked place", n.Text("number"), Quoted(n.Text("name"))) + n.Of),
            Kind("notes", "note", "notes", n => Joined("note", Quoted(n.Text("text")))),
            Kind("namedPlaces", "name that was called", "names that were called", n => Joined("name", Quoted(n.Text("name")))),
            Kind("boardNotes", "note on a board", "notes on boards", n => Joined("note", Quoted(n.Text("text")))),
        ];
}
