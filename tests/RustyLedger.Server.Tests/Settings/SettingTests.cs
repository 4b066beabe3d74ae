using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Settings;

public sealed class SettingTests : IAsyncLifetime
{
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    [Fact]
    public async Task A_snapshot_is_typed_pasted_and_marked_where_it_cannot_be()
    {
        var id = await Snapshot();
        var (_, typed) = await Set(id, "n4", "120", 0);
        Assert.Equal(
            ("brake delay", "ms", ""),
            ((string)typed["values"]![0]!["name"]!, (string)typed["values"]![0]!["unit"]!, (string)typed["values"]![0]!["doubt"]!)
        );
        // The same again is the same; another value from an old version is a clash; from the new one a change.
        Assert.Equal(200, (await Set(id, "n4", "120", 0)).Status);
        var (clash, both) = await Set(id, "n4", "400", 0);
        Assert.Equal((409, "120"), (clash, (string)both["theirs"]!["value"]!));
        var (_, changed) = await Set(id, "n4", "900", 1);
        Assert.Equal(("900", "above 400 ms"), ((string)changed["values"]![0]!["value"]!, (string)changed["values"]![0]!["doubt"]!));
        var (_, pasted) = await _ledger.Post($"/api/snapshots/{id}/list", "n2 28\nn6=sometimes\nzz 1\n");
        Assert.Equal(
            [("n4", "above 400 ms"), ("n2", ""), ("n6", "none of on, off"), ("zz", "")],
            pasted["snapshot"]!["values"]!.AsArray().Select(v => ((string)v!["code"]!, (string)v["doubt"]!))
        );
        Assert.False((bool)pasted["snapshot"]!["values"]![3]!["isDefined"]!);
        await _ledger.Http.PostAsync($"/api/snapshots/{id}/values/zz/retire", null);
        var csv = await _ledger.Http.GetStringAsync($"/api/snapshots/{id}/settings.csv");
        Assert.Equal(
            "code,value,unit,name\r\nn4,900,ms,brake delay\r\nn2,28,%,slow speed\r\nn6,sometimes,,rotation guard\r\n",
            csv.TrimStart('\uFEFF')
        );
        var again = await Snapshot();
        var (_, back) = await _ledger.Post($"/api/snapshots/{again}/list", csv);
        Assert.Equal((0, 3), ((int)back["refused"]!, back["snapshot"]!["values"]!.AsArray().Count));
    }

    [Fact]
    public async Task A_thousand_wrong_rows_are_all_named_and_none_is_written()
    {
        var id = await Snapshot();
        var file = "code,value\r\n" + string.Concat(Enumerable.Range(0, 1000).Select(i => $"c{i},\r\n")) + "good,1\r\n";
        var (status, taken) = await _ledger.Post($"/api/snapshots/{id}/list", file);
        Assert.Equal((200, 1000, 1001), (status, (int)taken["refused"]!, taken["lines"]!.AsArray().Count));
        Assert.Equal("c999 has no value; write for example c999 1.8", (string)taken["lines"]![999]!["problem"]!);
        Assert.Equal((1001, ""), ((int)taken["lines"]![999]!["line"]!, (string)taken["lines"]![1000]!["problem"]!));
        Assert.Null(taken["snapshot"]);
        Assert.Empty(Of(await _ledger.Get("/api/machines/LY-03/settings"), id)["values"]!.AsArray());
    }

    [Fact]
    public async Task A_paste_of_more_than_five_megabytes_is_refused()
    {
        var id = await Snapshot();
        var (status, problem) = await _ledger.Post($"/api/snapshots/{id}/list", new string('x', (5 * 1024 * 1024) + 1));
        Assert.Equal((400, "file"), (status, (string)problem["field"]!));
        Assert.Contains("at most 5", (string)problem["detail"]!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Two_snapshots_default_and_twin_are_compared()
    {
        var compared = await _ledger.Get("/api/settings/compare?first=ly03-s1&second=ly03-s2");
        Assert.Equal([("n4", "380", "120"), ("n8", "1843", "1844")], Changed(compared));
        Assert.Equal(("as found 2025-07-03", 2), ((string)compared["first"]!, (int)compared["changed"]!));
        Assert.Equal(
            [("n2", "30", "28"), ("n3", "2.5", "3")],
            Changed(await _ledger.Get("/api/settings/compare?first=default&second=ly03-s3")).Where(c => c.First is not null)
        );
        // The boards of two zones are twins; so are equal boards of two machines.
        Assert.Equal(
            [("a1", "3", "4"), ("t3", "35", "20")],
            Changed(await _ledger.Get("/api/settings/compare?first=ly04-s2&second=ly04-s3"))
        );
        var file = JsonNode.Parse(await _ledger.Http.GetStringAsync("/api/machines/LY-03/file?pictures=false"))!;
        await Twin(file);
        var twin = Assert.Single(
            (await _ledger.Get("/api/machines/LY-33/settings"))["twins"]!.AsArray(),
            t => (string)t!["id"]! == "ly03-s2"
        )!;
        Assert.Equal("LY-03", (string)twin["tag"]!);
    }

    [Fact]
    public async Task A_snapshot_stays_with_its_board_when_the_board_leaves()
    {
        var (status, page) = await _ledger.Post(
            "/api/machines/ly-03/boards",
            new
            {
                id = "b9",
                positionId = "log",
                name = "",
                partNumber = "TW-325",
                revision = "C",
                serial = "32-0777",
                firmware = "1.8",
                from = "2026-11-24",
            }
        );
        Assert.Equal(
            (200, "32-0777"),
            (status, (string)page["boards"]!.AsArray().Single(b => (string)b!["positionId"]! == "log")!["serial"]!)
        );
        var settings = await _ledger.Get("/api/machines/LY-03/settings");
        var old = settings["boards"]!.AsArray().Single(b => (string)b!["fittedBoardId"]! == "b2")!;
        Assert.Equal(("2026-11-24", 3), ((string)old["to"]!, old["snapshots"]!.AsArray().Count));
        Assert.Empty(settings["boards"]!.AsArray().Single(b => (string)b!["fittedBoardId"]! == "b9")!["snapshots"]!.AsArray());
        var boards = (await _ledger.Get("/api/machines/ly-03/timeline?kind=board"))["entries"]!
            .AsArray()
            .Select(e => ((string)e!["title"]!, (string)e["detail"]!))
            .ToList();
        Assert.Contains(("Board out of logic", "TW-325 rev C, no. 32-0412"), boards);
        Assert.Contains(("Board into logic", "TW-325 rev C, no. 32-0777"), boards);
        var (late, problem) = await _ledger.Post(
            "/api/machines/ly-03/boards",
            new
            {
                id = "b10",
                positionId = "log",
                name = "",
                partNumber = "TW-325",
                revision = "C",
                serial = "",
                firmware = "",
                from = "2020-01-01",
            }
        );
        Assert.Equal((400, "from"), (late, (string)problem["field"]!));
    }

    [Theory]
    [InlineData("n4", "", "code")]
    [InlineData("", "", "code")]
    [InlineData("q1", "min", "min")]
    [InlineData("q1", "choices", "choices")]
    public async Task A_wrong_definition_names_its_field(string code, string what, string field)
    {
        var (status, problem) = await _ledger.Send(
            HttpMethod.Put,
            "/api/board-types/thrumwick-log-c/settings/new",
            new
            {
                version = 0,
                code,
                name = "",
                kind = what == "choices" ? "choice" : "number",
                unit = "",
                min = what == "min" ? 9 : 1,
                max = 5,
                choices = Array.Empty<string>(),
                @default = "",
                firmware = "",
            }
        );
        Assert.Equal((400, field), (status, (string)problem["field"]!));
    }

    [Fact]
    public async Task A_definition_of_one_firmware_holds_for_its_snapshots_only()
    {
        await _ledger.Send(
            HttpMethod.Put,
            "/api/board-types/thrumwick-log-c/settings/n4-new",
            new
            {
                version = 0,
                code = "n4",
                name = "brake delay",
                kind = "number",
                unit = "ms",
                min = 10,
                max = 100,
                choices = Array.Empty<string>(),
                @default = "60",
                firmware = "1.7",
            }
        );
        var settings = await _ledger.Get("/api/machines/LY-03/settings");
        Assert.Equal("above 100 ms", Value(Of(settings, "ly03-s2"), "n4"));
        Assert.Equal("", Value(Of(settings, "ly03-s2"), "n2"));
    }

    private static string Value(JsonNode snapshot, string code) =>
        (string)snapshot["values"]!.AsArray().Single(v => (string)v!["code"]! == code)!["doubt"]!;

    private static JsonNode Of(JsonNode settings, string id) =>
        settings["boards"]!.AsArray().SelectMany(b => b!["snapshots"]!.AsArray()).Single(s => (string)s!["id"]! == id)!;

    private static IEnumerable<(string Code, string? First, string? Second)> Changed(JsonNode compared) =>
        compared["pairs"]!
            .AsArray()
            .Where(p => (string)p!["change"]! != "same")
            .Select(p => ((string)p!["code"]!, (string?)p["first"], (string?)p["second"]));

    private async Task Twin(JsonNode file)
    {
        (file["machine"]!["id"], file["machine"]!["tag"]) = ("ly-33", "LY-33");
        foreach (var list in (string[])["visits", "faults", "snapshots", "photographs", "notes"])
        {
            file[list] = new JsonArray();
        }

        var (status, answer) = await _ledger.Post("/api/machine-files", file);
        Assert.True(status == 200, answer.ToJsonString());
    }

    private Task<(int Status, JsonNode Body)> Set(string id, string code, string value, int version) =>
        _ledger.Send(HttpMethod.Put, $"/api/snapshots/{id}/values/{code}", new { version, value });

    private async Task<string> Snapshot()
    {
        var id = Lines.NewId();
        var (status, _) = await _ledger.Post(
            "/api/snapshots",
            new
            {
                id,
                machineId = "ly-03",
                fittedBoardId = "b2",
                visitId = (string?)null,
                kind = "asFound",
                takenAt = "2026-11-24T08:00:00Z",
                personId = "edda",
                note = "",
            }
        );
        Assert.Equal(200, status);
        return id;
    }
}
