using System.Globalization;
using System.Text.Json.Nodes;
using CsCheck;
using RustyLedger.Core.Exchange;

namespace RustyLedger.Core.Tests.Exchange;

public sealed class BookComparisonTests
{
    private const string Book = """
        {"format":"x","people":[{"id":"edda","name":"Edda"}],
         "boardTypes":[{"id":"cb","partNumber":"CW-1","revision":"C","name":"Board","elements":[
           {"id":"j1","designator":"J1","purpose":"supply","pins":[{"id":"p1","label":"1","colours":"RD"},{"id":"p2","label":"2","colours":"BK"}],"detail":{"positions":[{"name":"A"}]}},
           {"id":"j2","designator":"J2","purpose":"","pins":[]}],"links":[{"id":"l1","from":{"holder":"j1","pin":"p1"},"to":{"holder":"j1","pin":"p2"}}]}],
         "settings":[{"boardTypeId":"cb","definition":{"id":"s1","code":"P01"}}],
         "model":{"id":"m","name":"Belt","positions":[{"id":"main","name":"main board","boardTypeId":"cb"}],"checks":[{"id":"c1","red":{"holder":"main","pin":"p2"},"limit":"24 V"}]},
         "machine":{"id":"ly-1","tag":"LY-01","boards":[]},
         "visits":[{"id":"v1","complaint":"stops","openedAt":"2026-05-03T08:00:00Z","rounds":[{"id":"r1","startedAt":"2026-05-03T08:10:00Z","readings":[{"id":"a","typed":"24.1","redPrinted":"J1·1"}]}]}],
         "faults":[{"id":"f1","noticed":"slips","openedAt":"2026-05-03T08:00:00Z","parts":["belt"]}]}
        """;

    private static JsonObject Made(Action<JsonObject>? change = null)
    {
        var book = JsonNode.Parse(Book)!.AsObject();
        change?.Invoke(book);
        return book;
    }

    private static BookTree Tree(Action<JsonObject>? change = null) => BookTree.Of(Made(change));

    private static JsonNode Pin(JsonNode book, int i) => book["boardTypes"]![0]!["elements"]![0]!["pins"]![i]!;

    private static Shapes Sent(params BookTree[] books) => books.Aggregate(Shapes.None, (shapes, book) => shapes.With(book));

    private static FindingKind? Kind(BookComparison comparison, string key) => comparison.Findings.FirstOrDefault(f => f.Key == key)?.Kind;

    private const string P1 = "boardTypes/cb/elements/j1/pins/p1";

    [Fact]
    public void A_book_taken_apart_is_put_together_as_it_was()
    {
        var made = Made();
        var again = BookTree.Of(made).ToJson();
        (again["format"], again["people"]) = ("x", made["people"]!.DeepClone());
        Assert.True(JsonNode.DeepEquals(made, again), again.ToJsonString());
        Assert.Equal("settings/cb/s1", Assert.Single(Tree().Items, i => i.List == "settings").Key);
    }

    [Fact]
    public void A_shape_is_what_is_said_not_how_it_is_written()
    {
        var (one, other) = (Tree(), Tree(b => b["faults"]![0] = JsonNode.Parse("""{"parts":["belt"],"openedAt":"2026-05-03T08:00:00Z","noticed":"slips","id":"f1","minutes":null}""")));
        Assert.Equal(one["faults/f1"]!.Shape, other["faults/f1"]!.Shape);
        Assert.Equal(Tree(b => b["faults"]![0]!["minutes"] = 1.50m)["faults/f1"]!.Shape, Tree(b => b["faults"]![0]!["minutes"] = JsonNode.Parse("15e-1"))["faults/f1"]!.Shape);
        Assert.NotEqual(one["faults/f1"]!.Shape, Tree(b => b["faults"]![0]!["parts"]![0] = "belts")["faults/f1"]!.Shape);
    }

    [Fact]
    public void An_entry_without_a_name_or_twice_is_refused()
    {
        Assert.Equal("An entry of faults has no id.", Assert.Throws<FormatException>(() => Tree(b => b["faults"]![0]!.AsObject().Remove("id"))).Message);
        Assert.Equal("faults/f1 stands twice.", Assert.Throws<FormatException>(() => Tree(b => b["faults"]!.AsArray().Add(b["faults"]![0]!.DeepClone()))).Message);
    }

    [Fact]
    public void Who_wrote_last_is_told_by_the_shapes_each_side_has_had()
    {
        var (before, there) = (Tree(), Tree(b => Pin(b, 0)["colours"] = "BU"));
        // There had the shape that is here: theirs is newer. Here had theirs: ours is. Neither, or both: a person says.
        Assert.Equal(FindingKind.Changed, Kind(BookComparison.Of(before, there, Shapes.None, Sent(before)), P1));
        Assert.Equal(FindingKind.NewerHere, Kind(BookComparison.Of(there, before, Sent(before), Shapes.None), P1));
        Assert.Equal(FindingKind.Clash, Kind(BookComparison.Of(before, there, Shapes.None, Shapes.None), P1));
        Assert.Equal(FindingKind.Clash, Kind(BookComparison.Of(before, there, Sent(there), Sent(before)), P1));
        var comparison = BookComparison.Of(before, there, Shapes.None, Sent(before));
        Assert.Single(comparison.Findings);
        Assert.Equal(there.ToJson().ToJsonString(), comparison.Merge(new HashSet<string>()).ToJson().ToJsonString());
    }

    [Fact]
    public void What_is_new_stands_where_it_stood_there()
    {
        var there = Tree(b => b["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Insert(1, JsonNode.Parse("""{"id":"p9","label":"1a","colours":""}""")));
        var here = Tree(b => b["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Add(JsonNode.Parse("""{"id":"p3","label":"3","colours":""}""")));
        var merged = BookComparison.Of(here, there, Shapes.None, Shapes.None).Merge(new HashSet<string>()).ToJson();
        Assert.Equal(["p1", "p9", "p2", "p3"], merged["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Select(p => (string)p!["id"]!));
    }

    [Fact]
    public void What_was_taken_away_goes_unless_it_was_written_here_since()
    {
        var before = Tree();
        var there = Tree(b => b["boardTypes"]![0]!["elements"]!.AsArray().RemoveAt(0));
        var removed = BookComparison.Of(before, there, Shapes.None, Sent(before));
        Assert.Equal([("boardTypes/cb/elements/j1", FindingKind.Removed)], removed.Findings.Select(f => (f.Key, f.Kind)));
        Assert.Equal("j2", (string)Assert.Single(removed.Merge(new HashSet<string>()).ToJson()["boardTypes"]![0]!["elements"]!.AsArray())!["id"]!);

        // A pin below it was changed here: the element stays until somebody says.
        var here = Tree(b => Pin(b, 1)["colours"] = "GN");
        var clash = BookComparison.Of(here, there, Shapes.None, Sent(before));
        Assert.Equal(FindingKind.Clash, Assert.Single(clash.Findings).Kind);
        Assert.Equal(2, clash.Merge(new HashSet<string>()).ToJson()["boardTypes"]![0]!["elements"]!.AsArray().Count);
        Assert.Single(clash.Merge(new HashSet<string> { "boardTypes/cb/elements/j1" }).ToJson()["boardTypes"]![0]!["elements"]!.AsArray());

        // What nobody sent is nobody's to take away.
        Assert.Empty(BookComparison.Of(before, there, Shapes.None, Shapes.None).Findings);
    }

    [Fact]
    public void What_was_taken_away_here_stays_away_unless_it_was_written_there_since()
    {
        var (before, here) = (Tree(), Tree(b => b["boardTypes"]![0]!["elements"]!.AsArray().RemoveAt(0)));
        var stays = BookComparison.Of(here, before, Sent(before), Sent(before));
        Assert.True(stays.ChangesNothing);
        Assert.Equal(FindingKind.NewerHere, Assert.Single(stays.Findings).Kind);

        var there = Tree(b => b["boardTypes"]![0]!["elements"]![0]!["purpose"] = "mains");
        var clash = BookComparison.Of(here, there, Sent(before), Sent(before));
        Assert.Equal(FindingKind.Clash, Assert.Single(clash.Findings).Kind);
        Assert.Single(clash.Merge(new HashSet<string>()).ToJson()["boardTypes"]![0]!["elements"]!.AsArray());
        // It comes back with its pins.
        var back = clash.Merge(new HashSet<string> { "boardTypes/cb/elements/j1" }).ToJson();
        Assert.Equal(2, back["boardTypes"]![0]!["elements"]!.AsArray().Single(e => (string)e!["id"]! == "j1")!["pins"]!.AsArray().Count);
    }

    [Fact]
    public void What_is_written_once_is_added_and_never_changed()
    {
        var more = Tree(b => b["visits"]![0]!["rounds"]![0]!["readings"]!.AsArray().Add(JsonNode.Parse("""{"id":"b","typed":"0.3"}""")));
        var added = BookComparison.Of(Tree(), more, Shapes.None, Shapes.None);
        Assert.Equal(FindingKind.Added, Assert.Single(added.Findings).Kind);
        Assert.True(BookComparison.Of(more, Tree(), Shapes.None, Sent(more)).ChangesNothing);
        var other = BookComparison.Of(Tree(), Tree(b => b["visits"]![0]!["rounds"]![0]!["readings"]![0]!["typed"] = "25.1"), Shapes.None, Sent(Tree()));
        Assert.Equal(FindingKind.Refused, Assert.Single(other.Findings).Kind);
        Assert.Throws<InvalidOperationException>(() => other.Merge(new HashSet<string>()));
    }

    [Fact]
    public void Things_are_called_by_their_names()
    {
        var book = Tree();
        string Words(string key) => ItemWords.Of(book[key]!, book);
        Assert.Equal("pin J1·1 of board type CW-1 rev C", Words(P1));
        Assert.Equal("link from J1·1 to J1·2 of board type CW-1 rev C", Words("boardTypes/cb/links/l1"));
        Assert.Equal("check of J1·2, 24 V of model Belt", Words("model/m/checks/c1"));
        Assert.Equal("setting P01 of board type CW-1 rev C", Words("settings/cb/s1"));
        Assert.Equal("visit of 3 May 2026 “stops”", Words("visits/v1"));
        Assert.Equal("1 round, 1 reading", ItemWords.Below(book["visits/v1"]!, book));
        Assert.All(book.Items, i => Assert.NotEmpty(ItemWords.Of(i, book)));
    }

    [Fact]
    public void Differences_are_told_member_by_member()
    {
        var (here, there) = (Tree()["boardTypes/cb/elements/j1"], Tree(b => (b["boardTypes"]![0]!["elements"]![0]!["purpose"], b["boardTypes"]![0]!["elements"]![0]!["detail"]!["positions"]![0]!["name"]) = ("mains", "B"))["boardTypes/cb/elements/j1"]);
        Assert.Equal([new MemberDifference("purpose", "supply", "mains"), new MemberDifference("detail, positions 1, name", "A", "B")], ItemWords.Differences(here, there));
        Assert.Equal([new MemberDifference("label", "1", ""), new MemberDifference("colours", "red", "")], ItemWords.Differences(Tree()[P1], null));
    }

    /// <summary>
    /// Three ledgers write in their books and send them to each other in any order. Every write has a number of its own, so
    /// it is known whether one follows from another: exactly then the newer one is taken without asking, and never else.
    /// </summary>
    [Fact]
    public void Between_three_ledgers_nothing_is_lost_and_nothing_newer_is_asked_about() =>
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 3], Gen.Int[0, 1]).Array[5, 60].Sample(steps =>
        {
            var ledgers = Enumerable.Range(0, 3).Select(_ => new Ledger()).ToArray();
            var number = 0;
            foreach (var (at, to, item, how) in steps)
            {
                if (how == 0 || at == to)
                {
                    ledgers[at].Write(item, ++number);
                }
                else
                {
                    ledgers[at].SendTo(ledgers[to], takeTheirs: item % 2 == 0);
                }
            }

            // Sent round once more, all three say the same.
            foreach (var (from, to) in ((int, int)[])[(0, 1), (1, 2), (2, 0), (0, 1), (1, 2)])
            {
                ledgers[from].SendTo(ledgers[to], takeTheirs: true);
            }

            Assert.Equal(ledgers[0].Says, ledgers[1].Says);
            Assert.Equal(ledgers[0].Says, ledgers[2].Says);
        }, iter: 2000);

    private sealed class Ledger
    {
        private readonly SortedDictionary<int, int> _items = [];

        // For each item, the writes that what stands here follows from.
        private readonly Dictionary<int, HashSet<int>> _past = [];
        private Shapes _known = Shapes.None;

        public string Says => string.Join(' ', _items.Select(i => $"{i.Key}={i.Value}"));

        private BookTree Tree => BookTree.Of(new JsonObject { ["notes"] = new JsonArray([.. _items.Select(i => (JsonNode)new JsonObject { ["id"] = i.Key.ToString(CultureInfo.InvariantCulture), ["text"] = i.Value })]) });

        public void Write(int item, int number)
        {
            _items[item] = number;
            (_past.TryGetValue(item, out var past) ? past : _past[item] = []).Add(number);
        }

        public void SendTo(Ledger other, bool takeTheirs)
        {
            _known = _known.With(Tree);
            var (here, there) = (other.Tree, Tree);
            var comparison = BookComparison.Of(here, there, other._known, _known);
            foreach (var (item, number) in _items)
            {
                var key = $"notes/{item}";
                var expected = !other._items.TryGetValue(item, out var mine) ? FindingKind.Added
                    : mine == number ? null
                    : (_past[item].Contains(mine), other._past[item].Contains(number)) switch
                    {
                        (true, false) => FindingKind.Changed,
                        (false, true) => FindingKind.NewerHere,
                        // Neither knew of the other, or two people chose differently between the same two.
                        _ => (FindingKind?)FindingKind.Clash,
                    };
                Assert.Equal(expected, Kind(comparison, key));
            }

            var clashes = comparison.Findings.Where(f => f.Kind == FindingKind.Clash).Select(f => f.Key).ToHashSet();
            foreach (var note in comparison.Merge(takeTheirs ? clashes : new HashSet<string>()).ToJson()["notes"]?.AsArray() ?? [])
            {
                var item = int.Parse((string)note!["id"]!, CultureInfo.InvariantCulture);
                other._items[item] = (int)note["text"]!;
                // Whichever was chosen, it was chosen knowing both.
                (other._past.TryGetValue(item, out var past) ? past : other._past[item] = []).UnionWith(_past.GetValueOrDefault(item) ?? []);
            }

            other._known = other._known.With(here).With(_known).With(there);
        }
    }
}
