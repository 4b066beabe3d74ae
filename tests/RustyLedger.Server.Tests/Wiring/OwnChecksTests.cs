using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Wiring;

/// <summary>Checks of one machine alone, names that are placed later, and the order of a round, over HTTP.</summary>
public sealed class OwnChecksTests
{
    private static JsonObject Row(string id, string red, string limit, string state = "") =>
        new()
        {
            ["id"] = id,
            ["target"] = "",
            ["red"] = red,
            ["black"] = "",
            ["mode"] = "",
            ["state"] = state,
            ["plugged"] = "",
            ["limit"] = limit,
            ["remark"] = "",
        };

    [Fact]
    public async Task A_check_of_one_machine_is_on_its_sheet_alone_goes_with_its_file_and_clashes_like_any()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var before = await ledger.Get("/api/machines/ly-04/checks");
        Assert.Empty(before["checks"]!.AsArray());
        var rows = new JsonArray(Row("own1", "Z1-J2·6", "11 to 13"), Row("own2", "Z9-J9·9", "24"));
        var (status, taken) = await ledger.Send(
            HttpMethod.Put,
            "/api/machines/ly-04/checks",
            new { version = (int)before["version"]!, rows },
            "edda"
        );
        Assert.Equal(200, status);
        Assert.Equal("11..13 V", (string)Assert.Single(taken["checks"]!.AsArray())!["limit"]!);
        Assert.Equal(("own2", "red"), ((string)taken["problems"]![0]!["row"]!, (string)taken["problems"]![0]!["column"]!));

        var round = await Lines.Round(ledger, "ly-04");
        var line = (await ledger.Get($"/api/rounds/{round}"))["rows"]!.AsArray().Single(r => (string)r!["key"]! == "own1")!;
        Assert.Equal("11..13 V", (string)line["limit"]!);
        var (clashed, both) = await ledger.Send(
            HttpMethod.Put,
            "/api/machines/ly-04/checks",
            new { version = (int)before["version"]!, rows = new JsonArray() },
            "bram"
        );
        Assert.Equal((409, "own1"), (clashed, (string)both["theirs"]!["rows"]![0]!["id"]!));
        Assert.DoesNotContain((await ledger.Get("/api/models/cawdale-trundle"))["checks"]!.AsArray(), c => (string)c!["id"]! == "own1");

        // Out and in again it is the same.
        var file = await ledger.Get("/api/machines/LY-04/file");
        Assert.Equal("own1", (string)file["machine"]!["checks"]![0]!["id"]!);
        using var other = await TestLedger.Start();
        Assert.Equal(200, (await other.Post("/api/machine-files", file)).Status);
        Assert.Equal(file.ToJsonString(), (await other.Get("/api/machines/LY-04/file")).ToJsonString());
    }

    [Fact]
    public async Task A_name_is_kept_with_its_readings_until_it_is_a_pin_and_both_are_shown_there()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var named = new
        {
            id = "n1",
            name = "J77-3",
            at = "2026-11-26T10:00:00Z",
            personId = "edda",
        };
        var (status, names) = await ledger.Post("/api/machines/ly-04/names", named);
        Assert.Equal((200, ""), (status, (string)names[0]!["is"]!));
        // Who calls the same name at once means the same place.
        await ledger.Post(
            "/api/machines/ly-04/names",
            new
            {
                id = "n2",
                name = "j77-3",
                named.at,
                named.personId,
            }
        );
        Assert.Single((await ledger.Get("/api/machines/ly-04/names")).AsArray());

        var round = await Lines.Round(ledger, "ly-04");
        var called = await ledger.Post(
            $"/api/rounds/{round}/called-looks",
            new
            {
                text = "J77-3 12.4",
                black = (object?)null,
                mode = "dcVolts",
                state = "running",
            }
        );
        var red = called.Body[0]!["red"]!;
        Assert.Equal(
            ("n1", "J77-3", ""),
            ((string)red["address"]!["place"]!, (string)red["printed"]!, (string)called.Body[0]!["problem"]!)
        );
        var taken = await ledger.Post($"/api/rounds/{round}/lines", Lines.Extra(red, "12.4"));
        Assert.True(taken.Status == 200, taken.Body.ToJsonString());
        names = await ledger.Get("/api/machines/ly-04/names");
        Assert.Equal("12.4 V", (string)names[0]!["readings"]![0]!["value"]!);

        var pin = (await ledger.Get("/api/models/cawdale-trundle"))["pins"]!.AsArray().First(p => p!["address"]!["position"] is not null)!;
        var (refused, _) = await ledger.Send(
            HttpMethod.Put,
            "/api/names/n1",
            new
            {
                version = 1,
                name = "J77-3",
                @is = new { position = "z1", pin = "none" },
            }
        );
        Assert.Equal(400, refused);
        var (placed, now) = await ledger.Send(
            HttpMethod.Put,
            "/api/names/n1",
            new
            {
                version = 1,
                name = "J77-3",
                @is = pin["address"]!.DeepClone(),
            }
        );
        Assert.True(placed == 200, now.ToJsonString());
        Assert.Equal((string)pin["printed"]!, (string)now[0]!["is"]!);
        var (position, id) = ((string)pin["address"]!["position"]!, (string)pin["address"]!["pin"]!);
        var there = (await ledger.Get($"/api/machines/ly-04/boards/{position}/pins/{id}/readings")).AsArray();
        Assert.Contains(there, r => (string)r!["value"]! == "12.4 V");

        var file = await ledger.Get("/api/machines/LY-04/file");
        Assert.Equal("J77-3", (string)file["namedPlaces"]![0]!["name"]!);
        using var other = await TestLedger.Start();
        Assert.Equal(200, (await other.Post("/api/machine-files", file)).Status);
        Assert.Equal(file.ToJsonString(), (await other.Get("/api/machines/LY-04/file")).ToJsonString());
    }

    [Fact]
    public async Task A_round_follows_the_sheet_where_somebody_says_so()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var id = (string)(await ledger.Get("/api/machines/LY-11"))["id"]!;
        var round = await Lines.Round(ledger, id);
        var path = await ledger.Get($"/api/rounds/{round}");
        Assert.Equal(("path", true), ((string)path["order"]!, (bool)path["hasSheet"]!));
        var (status, sheet) = await ledger.Send(HttpMethod.Put, $"/api/rounds/{round}/order", new { order = "sheet" });
        Assert.Equal((200, "sheet"), (status, (string)sheet["order"]!));
        static List<string> Keys(JsonNode view) => [.. view["rows"]!.AsArray().Select(r => (string)r!["key"]!)];
        Assert.NotEqual(Keys(path), Keys(sheet));
        Assert.Equal(Keys(path).Order(), Keys(sheet).Order());
        Assert.Equal(Keys(sheet), Keys(await ledger.Get($"/api/rounds/{round}")));
    }
}
