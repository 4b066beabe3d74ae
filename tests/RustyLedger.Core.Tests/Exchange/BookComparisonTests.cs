using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using RustyLedger.Core.Exchange;

namespace RustyLedger.Core.Tests.Exchange;

public sealed class BookComparisonTests
{
    private const string Book = """
        {"format":"x","people":[{"id":"edda","name":"Edda"}],
         "boardTypes":[{"id":"cb","partNumber":"CW-1","revision":"C","name":"Board","elements":[
           {"id":"j1","designator":"J1","purpose":"supply",
            "pins":[{"id":"p1","label":"1","colours":"RD"},{"id":"p2","label":"2","colours":"BK"}],"detail":{"positions":[{"name":"A"}]}},
           {"id":"j2","designator":"J2","purpose":"","pins":[]}],
           "links":[{"id":"l1","from":{"pin":"p1"},"to":{"pin":"p2"}}]}],
         "settings":[{"boardTypeId":"cb","definition":{"id":"s1","code":"P01"}}],
         "model":{"id":"m","name":"Belt","positions":[{"id":"main","name":"main board","boardTypeId":"cb"}],
                   "checks":[{"id":"c1","red":{"position":"main","pin":"p2"},"limit":"24 V"}]},
         "machine":{"id":"ly-1","tag":"LY-01","boards":[]},
         "visits":[{"id":"v1","complaint":"stops","openedAt":"2026-05-03T08:00:00Z",
           "rounds":[{"id":"r1","startedAt":"2026-05-03T08:10:00Z","readings":[{"id":"a","typed":"24.1","redPrinted":"J1·1"}]}]}],
         "faults":[{"id":"f1","noticed":"slips","openedAt":"2026-05-03T08:00:00Z","parts":["belt"]}]}
        """;

    private static JsonObject Made(Action<JsonObject>? change = null)
    {
        var book = JsonNode.Parse(Book)!.AsObject();
        change?.Invoke(book);
        return book;
    }

    private static BookTree Tree(Action<JsonObject>? change = null) => Of(Made(change));

    private static BookTree Of(JsonObject book) => BookTree.Of(JsonSerializer.SerializeToElement(book));

    private static JsonObject Json(BookTree tree)
    {
        using var text = new MemoryStream();
        using (var writer = new Utf8JsonWriter(text))
        {
            writer.WriteStartObject();
            tree.WriteTo(writer, []);
            writer.WriteEndObject();
        }

        return JsonNode.Parse(text.ToArray())!.AsObject();
    }

    private static JsonNode Pin(JsonNode book, int i) => book["boardTypes"]![0]!["elements"]![0]!["pins"]![i]!;

    /// <summary>The versions after a ledger had the books one after the other.</summary>
    private static Versions Had(string ledger, params BookTree[] books) => Had(Versions.None, ledger, books);

    private static Versions Had(Versions from, string ledger, params BookTree[] books) =>
        books.Aggregate(from, (versions, book) => versions.Seen(book, ledger));

    /// <summary>Both ledgers had the first book; then each wrote its own.</summary>
    private static BookComparison After(BookTree before, BookTree here, BookTree there)
    {
        var shared = Had("a", before);
        return BookComparison.Of(here, there, Had(shared, "b", here), Had(shared, "c", there));
    }

    private static FindingKind? Kind(BookComparison comparison, string key) => comparison.Findings.FirstOrDefault(f => f.Key == key)?.Kind;

    private const string P1 = "boardTypes/cb/elements/j1/pins/p1";

    [Fact]
    public void A_book_taken_apart_is_put_together_as_it_was()
    {
        var made = Made();
        var again = Json(Tree());
        (again["format"], again["people"]) = ("x", made["people"]!.DeepClone());
        Assert.True(JsonNode.DeepEquals(made, again), again.ToJsonString());
        Assert.Equal("settings/cb/s1", Assert.Single(Tree().Items, i => i.List == "settings").Key);
    }

    [Fact]
    public void A_shape_is_what_is_said_not_how_it_is_written()
    {
        var (one, other) = (
            Tree(),
            Tree(b =>
                b["faults"]![0] = JsonNode.Parse(
                    """{"parts":["belt"],"openedAt":"2026-05-03T08:00:00Z","noticed":"slips","id":"f1","minutes":null}"""
                )
            )
        );
        Assert.Equal(one["faults/f1"]!.Shape, other["faults/f1"]!.Shape);
        Assert.Equal(
            Tree(b => b["faults"]![0]!["minutes"] = 1.50m)["faults/f1"]!.Shape,
            Tree(b => b["faults"]![0]!["minutes"] = JsonNode.Parse("15e-1"))["faults/f1"]!.Shape
        );
        Assert.NotEqual(one["faults/f1"]!.Shape, Tree(b => b["faults"]![0]!["parts"]![0] = "belts")["faults/f1"]!.Shape);
    }

    [Fact]
    public void An_entry_without_a_name_or_twice_is_refused()
    {
        Assert.Equal(
            "An entry of faults has no id.",
            Assert.Throws<FormatException>(() => Tree(b => b["faults"]![0]!.AsObject().Remove("id"))).Message
        );
        Assert.Equal(
            "faults/f1 stands twice.",
            Assert.Throws<FormatException>(() => Tree(b => b["faults"]!.AsArray().Add(b["faults"]![0]!.DeepClone()))).Message
        );
    }

    [Fact]
    public void Who_wrote_last_is_told_by_what_each_side_knew()
    {
        var (before, there) = (Tree(), Tree(b => Pin(b, 0)["colours"] = "BU"));
        Assert.Equal(FindingKind.Changed, Kind(After(before, before, there), P1));
        Assert.Equal(FindingKind.NewerHere, Kind(After(before, there, before), P1));
        Assert.Equal(FindingKind.Clash, Kind(After(before, there, Tree(b => Pin(b, 0)["colours"] = "GN")), P1));
        // Nobody can say who wrote last.
        Assert.Equal(FindingKind.Clash, Kind(BookComparison.Of(before, there, Versions.None, Versions.None), P1));
        var comparison = After(before, before, there);
        Assert.Single(comparison.Findings);
        Assert.Equal(Json(there).ToJsonString(), Json(comparison.Merge(new HashSet<string>())).ToJsonString());
    }

    /// <summary>What is put back is as new as anything: the text that both had before is no older for that.</summary>
    [Fact]
    public void A_text_that_was_put_back_is_newer_than_what_it_replaced()
    {
        var (red, blue) = (Tree(), Tree(b => Pin(b, 0)["colours"] = "BU"));
        var both = Had("a", red, blue);
        var back = BookComparison.Of(blue, red, both, both.Seen(red, "c"));
        Assert.Equal(FindingKind.Changed, Kind(back, P1));
        Assert.Equal("RD", (string)Pin(Json(back.Merge(new HashSet<string>())), 0)["colours"]!);
    }

    /// <summary>
    /// A connector is taken away here while a pin is added to it there, or one of its pins is written: a person says what stands.
    /// </summary>
    [Fact]
    public void What_is_taken_away_here_and_added_to_there_is_a_clash()
    {
        var before = Tree();
        var gone = Tree(b => b["boardTypes"]![0]!["elements"]!.AsArray().RemoveAt(0));
        foreach (
            var there in (BookTree[])
                [
                    Tree(b =>
                        b["boardTypes"]![0]!["elements"]![0]!["pins"]!
                            .AsArray()
                            .Add(JsonNode.Parse("""{"id":"p9","label":"9","colours":""}"""))
                    ),
                    Tree(b => Pin(b, 1)["colours"] = "GN"),
                ]
        )
        {
            var clash = After(before, gone, there);
            Assert.Equal(("boardTypes/cb/elements/j1", FindingKind.Clash), Assert.Single(clash.Findings.Select(f => (f.Key, f.Kind))));
            Assert.Equal(Json(there).ToJsonString(), Json(clash.Merge(new HashSet<string> { "boardTypes/cb/elements/j1" })).ToJsonString());
            Assert.Equal(Json(gone).ToJsonString(), Json(clash.Merge(new HashSet<string>())).ToJsonString());
            // The other way about too.
            Assert.Equal(FindingKind.Clash, Assert.Single(After(before, there, gone).Findings).Kind);
        }
    }

    /// <summary>A pin that was taken away, told to the other side, and put back stays on both.</summary>
    [Fact]
    public void A_pin_put_back_after_a_removal_stays()
    {
        var (with, without) = (Tree(), Tree(b => b["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().RemoveAt(0)));
        var both = Had("a", with, without);
        var there = both.Seen(with, "c");
        Assert.Equal(FindingKind.Added, Kind(BookComparison.Of(without, with, both, there), P1));
        // And is not taken away again by the one who has not heard of it.
        Assert.True(BookComparison.Of(with, without, there, both).ChangesNothing);
    }

    [Fact]
    public void What_is_new_stands_where_it_stood_there()
    {
        var there = Tree(b =>
            b["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Insert(1, JsonNode.Parse("""{"id":"p9","label":"1a","colours":""}"""))
        );
        var here = Tree(b =>
            b["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Add(JsonNode.Parse("""{"id":"p3","label":"3","colours":""}"""))
        );
        var merged = Json(BookComparison.Of(here, there, Versions.None, Versions.None).Merge(new HashSet<string>()));
        Assert.Equal(
            ["p1", "p9", "p2", "p3"],
            merged["boardTypes"]![0]!["elements"]![0]!["pins"]!.AsArray().Select(p => (string)p!["id"]!)
        );
    }

    [Fact]
    public void What_was_taken_away_goes_unless_it_was_written_here_since()
    {
        var before = Tree();
        var there = Tree(b => b["boardTypes"]![0]!["elements"]!.AsArray().RemoveAt(0));
        var removed = After(before, before, there);
        Assert.Equal([("boardTypes/cb/elements/j1", FindingKind.Removed)], removed.Findings.Select(f => (f.Key, f.Kind)));
        Assert.Equal(
            "j2",
            (string)Assert.Single(Json(removed.Merge(new HashSet<string>()))["boardTypes"]![0]!["elements"]!.AsArray())!["id"]!
        );

        // A pin below it was changed here: the element stays until somebody says.
        var here = Tree(b => Pin(b, 1)["colours"] = "GN");
        var clash = After(before, here, there);
        Assert.Equal(FindingKind.Clash, Assert.Single(clash.Findings).Kind);
        Assert.Equal(2, Json(clash.Merge(new HashSet<string>()))["boardTypes"]![0]!["elements"]!.AsArray().Count);
        Assert.Single(Json(clash.Merge(new HashSet<string> { "boardTypes/cb/elements/j1" }))["boardTypes"]![0]!["elements"]!.AsArray());

        // What nobody sent is nobody's to take away.
        Assert.Empty(BookComparison.Of(before, there, Versions.None, Versions.None).Findings);
    }

    [Fact]
    public void What_was_taken_away_here_stays_away_unless_it_was_written_there_since()
    {
        var (before, here) = (Tree(), Tree(b => b["boardTypes"]![0]!["elements"]!.AsArray().RemoveAt(0)));
        var stays = After(before, here, before);
        Assert.True(stays.ChangesNothing);
        Assert.Equal(FindingKind.NewerHere, Assert.Single(stays.Findings).Kind);

        var there = Tree(b => b["boardTypes"]![0]!["elements"]![0]!["purpose"] = "mains");
        var clash = After(before, here, there);
        Assert.Equal(FindingKind.Clash, Assert.Single(clash.Findings).Kind);
        Assert.Single(Json(clash.Merge(new HashSet<string>()))["boardTypes"]![0]!["elements"]!.AsArray());
        // It comes back with its pins.
        var back = Json(clash.Merge(new HashSet<string> { "boardTypes/cb/elements/j1" }));
        Assert.Equal(2, back["boardTypes"]![0]!["elements"]!.AsArray().Single(e => (string)e!["id"]! == "j1")!["pins"]!.AsArray().Count);
    }

    [Fact]
    public void What_is_written_once_is_added_and_never_changed()
    {
        var more = Tree(b => b["visits"]![0]!["rounds"]![0]!["readings"]!.AsArray().Add(JsonNode.Parse("""{"id":"b","typed":"0.3"}""")));
        var added = After(Tree(), Tree(), more);
        Assert.Equal(FindingKind.Added, Assert.Single(added.Findings).Kind);
        Assert.True(After(Tree(), more, Tree()).ChangesNothing);
        var other = BookComparison.Of(
            Tree(),
            Tree(b => b["visits"]![0]!["rounds"]![0]!["readings"]![0]!["typed"] = "25.1"),
            Versions.None,
            Versions.None
        );
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
        var (here, there) = (
            Tree()["boardTypes/cb/elements/j1"],
            Tree(b =>
                (
                    b["boardTypes"]![0]!["elements"]![0]!["purpose"],
                    b["boardTypes"]![0]!["elements"]![0]!["detail"]!["positions"]![0]!["name"]
                ) = ("mains", "B")
            )["boardTypes/cb/elements/j1"]
        );
        Assert.Equal(
            [new MemberDifference("purpose", "supply", "mains"), new MemberDifference("detail, positions 1, name", "A", "B")],
            ItemWords.Differences(here, there)
        );
        Assert.Equal(
            [new MemberDifference("label", "1", ""), new MemberDifference("colours", "red", "")],
            ItemWords.Differences(Tree()[P1], null)
        );
    }

    /// <summary>
    /// Three ledgers write, take away and put back in their books, with few texts so that the same come again, and send them to each
    /// other in any
    /// order. What each write knew of is kept apart as a set: exactly where one side knew all that the other stands on it is taken without
    /// asking, and never else; no two ledgers disagree once all have heard from all.
    /// </summary>
    [Fact]
    public void Between_three_ledgers_nothing_is_lost_without_a_word_and_nothing_newer_is_asked_about() =>
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 2], Gen.Int[0, 4])
            .Array[5, 60]
            .Sample(
                steps =>
                {
                    var ledgers = Enumerable.Range(0, 3).Select(i => new Ledger($"l{i}")).ToArray();
                    foreach (var (at, to, item, how) in steps)
                    {
                        if (how < 4 && at == to)
                        {
                            ledgers[at].Write(item, how == 0 ? null : $"{how}");
                        }
                        else if (at != to)
                        {
                            ledgers[at].SendTo(ledgers[to], takeTheirs: how % 2 == 0);
                        }
                    }

                    // Sent round once more, all three say the same.
                    foreach (var (from, to) in ((int, int)[])[(0, 1), (1, 2), (2, 0), (0, 1), (1, 2)])
                    {
                        ledgers[from].SendTo(ledgers[to], takeTheirs: true);
                    }

                    Assert.Equal(ledgers[0].Says, ledgers[1].Says);
                    Assert.Equal(ledgers[0].Says, ledgers[2].Says);
                },
                iter: 3000
            );

    private sealed class Ledger(string name)
    {
        private readonly SortedDictionary<int, string> _items = [];

        // For each item, what stood when it last went out or came in, and the writes that it follows from.
        private readonly Dictionary<int, (string? Text, HashSet<string> Past)> _seen = [];
        private Versions _versions = Versions.None;
        private int _writes;

        public string Says => string.Join(' ', _items.Select(i => $"{i.Key}={i.Value}"));

        private BookTree Tree =>
            Of(
                new JsonObject
                {
                    ["notes"] = new JsonArray([
                        .. _items.Select(i =>
                            (JsonNode)new JsonObject { ["id"] = i.Key.ToString(CultureInfo.InvariantCulture), ["text"] = i.Value }
                        ),
                    ]),
                }
            );

        public void Write(int item, string? text)
        {
            _items.Remove(item);
            if (text is not null)
            {
                _items[item] = text;
            }
        }

        /// <summary>What differs from what was last told of is a write of its own.</summary>
        private void Look()
        {
            foreach (var item in _items.Keys.Union(_seen.Keys).ToList())
            {
                var (text, past) = _seen.GetValueOrDefault(item, (null, []));
                if (text != _items.GetValueOrDefault(item))
                {
                    // Two that begin with the same have the same.
                    _seen[item] = (
                        _items.GetValueOrDefault(item),
                        [.. past, _seen.ContainsKey(item) ? $"{name}{++_writes}" : $"first {_items[item]}"]
                    );
                }
            }
        }

        public void SendTo(Ledger other, bool takeTheirs)
        {
            Look();
            other.Look();
            _versions = _versions.Seen(Tree, name);
            var (here, there) = (other.Tree, Tree);
            var seenHere = other._versions.Seen(here, other.Name);
            var comparison = BookComparison.Of(here, there, seenHere, _versions);
            foreach (var item in _seen.Keys.Union(other._seen.Keys))
            {
                Assert.Equal(Expected(item, other), Kind(comparison, $"notes/{item}"));
            }

            var clashes = comparison.Findings.Where(f => f.Kind == FindingKind.Clash).Select(f => f.Key).ToHashSet();
            var merged = comparison.Merge(takeTheirs ? clashes : new HashSet<string>());
            other.TakeIn(this, merged, clashes);
            other._versions = seenHere.Joined(_versions, merged, other.Name);
        }

        private string Name => name;

        private FindingKind? Expected(int item, Ledger other)
        {
            var (mine, there) = (other._seen.GetValueOrDefault(item, (null, [])), _seen.GetValueOrDefault(item, (null, [])));
            return (mine.Text, there.Text, there.Past.IsSupersetOf(mine.Past), mine.Past.IsSupersetOf(there.Past)) switch
            {
                var (a, b, _, _) when a == b => null,
                (null, _, true, _) => FindingKind.Added,
                (_, null, _, true) => null,
                (_, null, true, _) => FindingKind.Removed,
                (_, _, true, false) => FindingKind.Changed,
                (_, _, false, true) => FindingKind.NewerHere,
                // Neither knew of the other, or two people chose differently between the same two.
                _ => FindingKind.Clash,
            };
        }

        private void TakeIn(Ledger from, BookTree merged, HashSet<string> clashes)
        {
            _items.Clear();
            foreach (var note in Json(merged)["notes"]?.AsArray() ?? [])
            {
                _items[int.Parse((string)note!["id"]!, CultureInfo.InvariantCulture)] = (string)note["text"]!;
            }

            foreach (var item in _seen.Keys.Union(from._seen.Keys).ToList())
            {
                var (mine, there) = (_seen.GetValueOrDefault(item, (null, [])), from._seen.GetValueOrDefault(item, (null, [])));
                // A choice between two is a write of its own that knew both.
                _seen[item] = (
                    _items.GetValueOrDefault(item),
                    [.. mine.Past, .. there.Past, .. clashes.Contains($"notes/{item}") ? [$"{name}{++_writes}"] : Array.Empty<string>()]
                );
            }
        }
    }
}
