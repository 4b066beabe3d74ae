using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Boards;

public sealed class BoardTests : IAsyncLifetime
{
    private const string Pin = "/api/board-types/cawdale-zone-c/pins/j1/j1-1";
    private const string Terminals = "/api/board-types/cawdale-zone-c/terminals";
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    [Fact]
    public async Task Two_people_editing_one_pin_see_both_texts_and_lose_none()
    {
        var (first, now) = await _ledger.Send(
            HttpMethod.Put,
            Pin,
            new
            {
                version = 1,
                label = "1",
                colours = "orange/black",
                signal = "24 V in, fused",
            },
            "edda"
        );
        Assert.Equal((200, 2, "OG-BK"), (first, (int)now["version"]!, (string)now["colours"]!));
        var (second, clash) = await _ledger.Send(
            HttpMethod.Put,
            Pin,
            new
            {
                version = 1,
                label = "1",
                colours = "RD",
                signal = "feed",
            },
            "bram"
        );
        Assert.Equal(
            (409, "feed", "24 V in, fused", 2),
            (second, (string)clash["yours"]!["signal"]!, (string)clash["theirs"]!["signal"]!, (int)clash["version"]!)
        );
        var (third, _) = await _ledger.Send(
            HttpMethod.Put,
            Pin,
            new
            {
                version = 2,
                label = "1",
                colours = "RD",
                signal = "feed",
            },
            "bram"
        );
        Assert.Equal(200, third);
        var edits = (await _ledger.Get("/api/edits/Pin/cawdale-zone-c/j1/j1-1")).AsArray();
        Assert.Equal(["Bram", "Edda", null], edits.Select(e => (string?)e!["person"]));
        var map = await _ledger.Get("/api/machines/LY-04/boards/z3/map");
        Assert.Equal("feed", (string)map["pins"]!.AsArray().Single(p => (string)p!["printed"]! == "Z3-J1·1")!["signal"]!);
    }

    [Theory]
    [InlineData("BL", "1", "colours")]
    [InlineData("RD", "2", "label")]
    [InlineData("RD", "", "label")]
    public async Task A_wrong_pin_text_names_its_field(string colours, string label, string field)
    {
        var (status, problem) = await _ledger.Send(
            HttpMethod.Put,
            Pin,
            new
            {
                version = 1,
                label,
                colours,
                signal = "",
            }
        );
        Assert.Equal((400, field), (status, (string)problem["field"]!));
    }

    [Fact]
    public async Task A_terminal_list_goes_out_and_comes_in_unchanged()
    {
        var csv = await _ledger.Http.GetStringAsync($"{Terminals}.csv");
        var (status, preview) = await _ledger.Post($"{Terminals}/preview", csv);
        Assert.Equal((200, false, 0), (status, (bool)preview["changesAnything"]!, (int)preview["refused"]!));
        Assert.Empty(preview["notInFile"]!.AsArray());
    }

    [Fact]
    public async Task Bad_rows_are_named_and_nothing_is_written_before_it_is_accepted()
    {
        const string File =
            "connector,pin,colour,signal,expected,state\nJ4,4,BL,spare eye,24.5 V,belt running\nJ9,5-8 n/c,,,,\nJ4,1,BN,eye "
            + "A supply,\"1,200\",belt running\nJ1,3,VT,chain data in,5 V,asleep\n";
        var before = await _ledger.Http.GetStringAsync($"{Terminals}.csv");
        var (_, preview) = await _ledger.Post($"{Terminals}/preview", File);
        // The thousand is kept in its words, and judges nothing.
        Assert.Equal((1, 2, 1, 2), ((int)preview["added"]!, (int)preview["changed"]!, (int)preview["refused"]!, (int)preview["doubtful"]!));
        Assert.Contains("thousand", (string)preview["rows"]![3]!["doubts"]![0]!, StringComparison.Ordinal);
        Assert.Contains("not a state", (string)preview["rows"]![4]!["problem"]!, StringComparison.Ordinal);
        Assert.Equal(before, await _ledger.Http.GetStringAsync($"{Terminals}.csv"));
        await _ledger.Post(Terminals, File);
        Assert.Contains("spare eye", await _ledger.Http.GetStringAsync($"{Terminals}.csv"), StringComparison.Ordinal);
        var (_, again) = await _ledger.Post($"{Terminals}/preview", File);
        Assert.False((bool)again["changesAnything"]!);
        var map = await _ledger.Get("/api/machines/LY-04/boards/z1/map");
        Assert.Equal(30, map["pins"]!.AsArray().Count);
    }

    [Fact]
    public async Task Columns_are_rematched_by_hand_and_a_wrong_match_is_refused()
    {
        var (_, preview) = await _ledger.Post($"{Terminals}/preview?columns=connector:1,pin:0,signal:2", "a,b,c\n9,J7,door\n");
        Assert.Equal("J7·9, door", (string)preview["rows"]![1]!["understood"]!);
        var (status, problem) = await _ledger.Post($"{Terminals}/preview?columns=pin:9", "a,b,c\n9,J7,door\n");
        Assert.Equal((400, "file"), (status, (string)problem["field"]!));
        (status, problem) = await _ledger.Post($"{Terminals}/preview?columns=pins", "a,b,c\n9,J7,door\n");
        Assert.Equal((400, "columns"), (status, (string)problem["field"]!));
        (status, _) = await _ledger.Post($"{Terminals}/preview", new string('x', (5 * 1024 * 1024) + 1));
        Assert.Equal(400, status);
    }

    [Fact]
    public async Task The_map_is_turned_and_mirrored_with_its_words()
    {
        static (string Words, decimal X) Pin(JsonNode map) =>
            map["pins"]!
                .AsArray()
                .Where(p => (string)p!["printed"]! == "Z1-J4·2")
                .Select(p => ((string)p!["words"]!, (decimal)p["x"]!))
                .Single();
        var plain = await _ledger.Get("/api/machines/LY-04/boards/z1/map");
        var mirrored = await _ledger.Get("/api/machines/LY-04/boards/z1/map?side=mating");
        var seated = await _ledger.Get("/api/machines/LY-04/boards/z1/map?side=wire");
        var turned = await _ledger.Get("/api/machines/LY-04/boards/z1/map?turns=1");
        Assert.Equal(("second from the left", 43m), Pin(plain));
        Assert.Equal(("seventh from the left", 96m - 43m), Pin(mirrored));
        Assert.Equal(Pin(plain), Pin(seated));
        Assert.Equal("second from the top", Pin(turned).Words);
        Assert.Equal(((decimal)plain["height"]!, (decimal)plain["width"]!), ((decimal)turned["width"]!, (decimal)turned["height"]!));
        Assert.Equal(400, (int)(await _ledger.Http.GetAsync("/api/machines/LY-04/boards/z1/map?turns=4")).StatusCode);
    }
}
