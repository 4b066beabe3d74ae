using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Boards;

public sealed class LayoutTests : IAsyncLifetime
{
    private const string Tables = "/api/board-types/cawdale-zone-c/tables";
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    /// <summary>A second machine of a model; its board is parted from the first's, and what is written then reaches no other.</summary>
    [Fact]
    public async Task A_shared_board_is_written_for_one_machine_only()
    {
        var model = (string)(await _ledger.Get("/api/machines/LY-04"))["modelId"]!;
        object Another(string id, params string[] boards) =>
            new
            {
                id,
                tag = id.ToUpperInvariant(),
                name = "second line",
                site = "",
                maker = "",
                serial = "",
                boards,
                modelId = model,
            };
        var (begun, twin) = await _ledger.Post("/api/machines", Another("ly-12"));
        Assert.Equal((200, model, 4), (begun, (string)twin["modelId"]!, twin["boards"]!.AsArray().Count));
        Assert.Equal(400, (await _ledger.Post("/api/machines", Another("ly-13", "X-1"))).Status);
        Assert.Contains("LY-12", (await _ledger.Get(Tables))["machines"]!.AsArray().Select(t => (string)t!));

        object Only(string position) =>
            new
            {
                id = "own-z1",
                machineId = "ly-12",
                positionId = position,
            };
        Assert.Equal(400, (await _ledger.Post("/api/board-types/cawdale-zone-c/only-here", Only("no-such-place"))).Status);
        var (status, own) = await _ledger.Post("/api/board-types/cawdale-zone-c/only-here", Only("z1"));
        Assert.Equal((200, "LY-12"), (status, (string)Assert.Single(own["machines"]!.AsArray())!));
        // Sent twice it is made once.
        Assert.Equal(200, (await _ledger.Post("/api/board-types/cawdale-zone-c/only-here", Only("z1"))).Status);
        await _ledger.Post("/api/board-types/own-z1/tables", new[] { Cell("j1-1", "signal", "24 V in", "24 V in, fused here") });
        async Task<string> Signal(string tag)
        {
            var pins = (await _ledger.Get($"/api/machines/{tag}/boards/z1/map"))["pins"]!.AsArray();
            return (string)pins.Single(p => (string)p!["id"]! == "j1-1")!["signal"]!;
        }

        Assert.Equal(("24 V in", "24 V in, fused here"), (await Signal("ly-04"), await Signal("ly-12")));
        // Wires, checks and places hang on the same pins as before.
        var mend = (await _ledger.Get("/api/machines/LY-12"))["toMend"]!.AsArray().Select(m => (string)m!);
        Assert.DoesNotContain(mend, m => m.Contains("not there", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_block_is_written_whole_or_not_at_all_and_errors_stand_at_their_cells()
    {
        var before = await Rows();
        var (_, refused) = await _ledger.Post(
            Tables,
            new[] { Cell("j1-1", "signal", "24 V in", "24 V in, fused"), Cell("j1-2", "colours", "GY", "BL") }
        );
        var problem = Assert.Single(refused["problems"]!.AsArray())!;
        Assert.Equal(1, (int)problem["edit"]!);
        Assert.Equal(before, await Rows());
        var (_, written) = await _ledger.Post(
            Tables,
            new[] { Cell("j1-1", "signal", "24 V in", "24 V in, fused"), Cell("j1-2", "colours", "GY", "BU") },
            "bram"
        );
        Assert.Empty(written["problems"]!.AsArray());
        var (_, clash) = await _ledger.Post(Tables, new[] { Cell("j1-1", "signal", "24 V in", "feed") });
        Assert.Equal("24 V in, fused", (string)clash["problems"]![0]!["theirs"]!);
        Assert.Equal(
            ["Bram", null],
            (await _ledger.Get("/api/edits/Pin/cawdale-zone-c/j1/j1-2")).AsArray().Select(e => (string?)e!["person"])
        );
        // The board type shows the changes of all it owns, and each can be put back.
        var within = (await _ledger.Get("/api/edits/BoardType/cawdale-zone-c?within=true")).AsArray();
        Assert.Equal(
            ["cawdale-zone-c/j1/j1-1", "cawdale-zone-c/j1/j1-2"],
            within.Where(e => !(bool)e!["began"]!).Select(e => (string)e!["recordId"]!).Order(StringComparer.Ordinal)
        );
        await _ledger.Post($"/api/edits/{within.First(e => (string)e!["recordId"]! == "cawdale-zone-c/j1/j1-2")!["id"]}/put-back", new { });
        Assert.Contains(
            (await _ledger.Get(Tables))["rows"]!.AsArray(),
            r => (string)r!["id"]! == "j1-2" && (string)r["cells"]!["colours"]! == "GY"
        );
    }

    [Fact]
    public async Task Pins_come_and_go_but_for_those_in_use()
    {
        var cells = new { label = "9", signal = "spare" };
        var (_, added) = await _ledger.Post(Tables, new[] { Row("add", "pin", "j4", "n1", cells) });
        Assert.Empty(added["problems"]!.AsArray());
        Assert.Contains(added["tables"]!["rows"]!.AsArray(), r => (string)r!["id"]! == "n1" && (string)r["cells"]!["label"]! == "9");
        (_, var gone) = await _ledger.Post(Tables, new[] { Row("remove", "pin", "j4", "n1", cells) });
        Assert.Empty(gone["problems"]!.AsArray());
        // It comes back as it was, under its own id.
        (_, var back) = await _ledger.Post(Tables, new[] { Row("add", "pin", "j4", "n1", cells) });
        Assert.Contains(back["tables"]!["rows"]!.AsArray(), r => (string)r!["id"]! == "n1" && (string)r["cells"]!["signal"]! == "spare");
        (_, var used) = await _ledger.Post(Tables, new[] { Row("remove", "pin", "j1", "j1-1", null) });
        Assert.Contains("is in use", (string)used["problems"]![0]!["message"]!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_revision_begins_as_a_copy_and_past_rounds_keep_what_they_were_measured_against()
    {
        var round = await _ledger.Get("/api/rounds/r1");
        var (status, copy) = await _ledger.Post(
            "/api/board-types/cawdale-zone-c/revisions",
            new
            {
                id = "cawdale-zone-d",
                revision = "D",
                machineId = "ly-04",
                positionId = "z3",
            }
        );
        Assert.Equal((200, "D", 2), (status, (string)copy["revision"]!, copy["revisions"]!.AsArray().Count));
        var (twice, problem) = await _ledger.Post(
            "/api/board-types/cawdale-zone-c/revisions",
            new
            {
                id = "other",
                revision = "D",
                machineId = (string?)null,
                positionId = (string?)null,
            }
        );
        Assert.Equal((400, "revision"), (twice, (string)problem["field"]!));
        await _ledger.Post(
            "/api/board-types/cawdale-zone-d/tables",
            new[] { Cell("j1-1", "colours", "OG-BK", "OG"), Cell("j1-1", "label", "1", "P1") }
        );
        await _ledger.Post(
            "/api/board-types/cawdale-zone-d/tables",
            new[]
            {
                new
                {
                    kind = "set",
                    row = "check",
                    parent = "",
                    id = "in",
                    column = "limit",
                    before = "24.5 V ±6 %",
                    text = "24 V ±4 %",
                },
            }
        );
        var compared = (await _ledger.Get("/api/board-types/cawdale-zone-c/compare/cawdale-zone-d"))["differences"]!.AsArray();
        Assert.Equal(
            [("pin", "1", "P1"), ("colour", "orange-black", "orange"), ("limit", "24.5 V ±6 %", "24 V ±4 %")],
            compared.Select(d => ((string)d!["kind"]!, (string)d["before"]!, (string)d["after"]!))
        );
        var after = await _ledger.Get("/api/rounds/r1");
        Assert.Equal(Taken(round), Taken(after));
        Assert.Contains(Taken(after), t => t.StartsWith("Z3-J1·1 24.4 V within 24.5 V ±6 %", StringComparison.Ordinal));
        // The next round of the machine goes by the new revision, in that position only.
        var rows = (await _ledger.Get($"/api/rounds/{await Lines.Round(_ledger)}"))["rows"]!.AsArray();
        Assert.Equal(("24 V ±4 %", "24.5 V ±6 %"), (Limit(rows, "z3/in"), Limit(rows, "z2/in")));
        Assert.Single(
            (await _ledger.Get("/api/machines/ly-04"))["boards"]!.AsArray(),
            b => (string)b!["revision"]! == "D" && (string)b["serial"]! == "41877"
        );
    }

    private static string Limit(JsonArray rows, string key) => (string)rows.Single(r => (string)r!["key"]! == key)!["limit"]!;

    private static List<string> Taken(JsonNode round) =>
        [
            .. round["rows"]!
                .AsArray()
                .Select(r => r!["reading"])
                .Where(r => r is not null)
                .Select(r => $"{r!["redPrinted"]} {r["value"]} {r["verdict"]} {r["limit"]}")
                .Order(StringComparer.Ordinal),
        ];

    private async Task<string> Rows() => (await _ledger.Get(Tables))["rows"]!.ToJsonString();

    private static object Cell(string pin, string column, string before, string text) =>
        new
        {
            kind = "set",
            row = "pin",
            parent = pin[..pin.IndexOf('-', StringComparison.Ordinal)],
            id = pin,
            column,
            before,
            text,
        };

    private static object Row(string kind, string row, string parent, string id, object? cells) =>
        new
        {
            kind,
            row,
            parent,
            id,
            column = (string?)null,
            before = "",
            text = "",
            cells,
        };
}
