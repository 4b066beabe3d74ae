using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Safety;

namespace RustyLedger.Server.Tests.Measuring;

/// <summary>What is right on one machine, what was read before, and what the leads add, over HTTP.</summary>
public sealed class NormalTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private static JsonNode Row(JsonNode view, string key) => view["rows"]!.AsArray().Single(r => (string)r!["key"]! == key)!;

    private async Task<(string Round, JsonNode View, string Reading)> High()
    {
        var round = await Lines.Round(demo.Ledger);
        var view = await demo.Ledger.Get($"/api/rounds/{round}");
        // A check in volts that was read before on this machine.
        var before = (await demo.Ledger.Get($"/api/rounds/{round}/before")).AsArray();
        var key = before
            .Where(b => (string)Row(view, (string)b!["checkKey"]!)["limit"]! == "24.5 V ±6 %" && b["own"]!.AsArray().Count > 0)
            .Select(b => (string)b!["checkKey"]!)
            .First();
        var line = Lines.Taken(view, key, "27.9");
        await Lines.Send(demo.Ledger, round, view, line);
        return (round, await demo.Ledger.Get($"/api/rounds/{round}"), (string)line["id"]!);
    }

    [Fact]
    public async Task A_reading_becomes_the_normal_of_its_machine_once_and_can_be_put_back()
    {
        var (round, view, reading) = await High();
        var key = (string)view["last"]!["checkKey"]!;
        Assert.Equal("high", (string)Row(view, key)["reading"]!["verdict"]!);
        var proposed = (string)Row(view, key)["reading"]!["proposedNormal"]!;
        Assert.StartsWith("27.9 V", proposed, StringComparison.Ordinal);
        var body = new
        {
            id = Lines.NewId(),
            readingId = reading,
            limit = proposed,
            reason = "set high for the far end",
        };
        var (status, now) = await demo.Ledger.Post($"/api/rounds/{round}/normals", body, "edda");
        Assert.Equal(200, status);
        Assert.Equal("within", (string)Row(now, key)["reading"]!["verdict"]!);
        Assert.Equal("set high for the far end", (string)Row(now, key)["reading"]!["acceptedBecause"]!);
        Assert.Equal(proposed, (string)Row(now, key)["limit"]!);
        // Sent again it is written once.
        (status, _) = await demo.Ledger.Post($"/api/rounds/{round}/normals", body, "edda");
        Assert.Equal(200, status);
        var here = await demo.Ledger.Get("/api/machines/ly-04/overrides");
        Assert.Single(here["rows"]!.AsArray(), r => (string)r!["limit"]! == proposed);

        // Another round asks for it; a sister does not know of it.
        var other = await demo.Ledger.Get($"/api/rounds/{await Lines.Round(demo.Ledger)}");
        Assert.Equal(proposed, (string)Row(other, key)["limit"]!);
        Assert.Contains("LY-04 only: set high for the far end", (string)Row(other, key)["limitOrigin"]!, StringComparison.Ordinal);

        // It goes out with the machine and says by which reading.
        var file = await demo.Ledger.Get("/api/machines/LY-04/file");
        Assert.Contains(
            file["machine"]!["overrides"]!.AsArray(),
            o => (string?)o!["readingId"] == reading && (string)o["reason"]! == "set high for the far end"
        );

        // Without its row in the table it is so no more.
        var rows = here["rows"]!.AsArray().Where(r => (string)r!["limit"]! != proposed).Select(r => r!.DeepClone()).ToArray();
        (status, _) = await demo.Ledger.Send(
            HttpMethod.Put,
            "/api/machines/ly-04/overrides",
            new { version = (int)here["version"]!, rows = new JsonArray(rows) },
            "edda"
        );
        Assert.Equal(200, status);
        Assert.NotEqual(proposed, (string)Row(await demo.Ledger.Get($"/api/rounds/{round}"), key)["limit"]!);
    }

    [Theory]
    [InlineData("27.9 V", "", "reason")]
    [InlineData("24 V ±1 %", "why", "limit")]
    [InlineData("no limit at all", "why", "limit")]
    public async Task What_does_not_fit_is_refused_by_its_field_and_nothing_is_written(string limit, string reason, string field)
    {
        var (round, _, reading) = await High();
        var before = (await demo.Ledger.Get("/api/machines/ly-04/overrides")).ToJsonString();
        var (status, problem) = await demo.Ledger.Post(
            $"/api/rounds/{round}/normals",
            new
            {
                id = Lines.NewId(),
                readingId = reading,
                limit,
                reason,
            },
            "edda"
        );
        Assert.Equal((400, field), (status, (string)problem["field"]!));
        Assert.Equal(before, (await demo.Ledger.Get("/api/machines/ly-04/overrides")).ToJsonString());
    }

    [Fact]
    public async Task Two_who_write_what_is_so_on_a_machine_see_both_texts()
    {
        var here = await demo.Ledger.Get("/api/machines/ly-05/overrides");
        var rows = here["rows"]!.AsArray();
        object Edit(string signal) =>
            new
            {
                version = (int)here["version"]!,
                rows = new JsonArray([
                    .. rows.Select(r => r!.DeepClone()),
                    new JsonObject
                    {
                        ["id"] = Lines.NewId(),
                        ["pin"] = "PW-J1·F1",
                        ["check"] = "",
                        ["colours"] = "",
                        ["signal"] = signal,
                        ["limit"] = "",
                        ["reason"] = "as found",
                    },
                ]),
            };
        var (first, _) = await demo.Ledger.Send(HttpMethod.Put, "/api/machines/ly-05/overrides", Edit("field, turned"), "edda");
        var (second, clash) = await demo.Ledger.Send(HttpMethod.Put, "/api/machines/ly-05/overrides", Edit("field, swapped"), "bram");
        Assert.Equal((200, 409), (first, second));
        Assert.Contains("field, turned", clash["theirs"]!.ToJsonString(), StringComparison.Ordinal);
        Assert.Contains("field, swapped", clash["yours"]!.ToJsonString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_was_read_before_stands_beside_each_check()
    {
        var (round, view, _) = await High();
        var key = (string)view["last"]!["checkKey"]!;
        var before = (await demo.Ledger.Get($"/api/rounds/{round}/before")).AsArray();
        var here = Assert.Single(before, b => (string)b!["checkKey"]! == key)!;
        Assert.NotEmpty(here["own"]!.AsArray());
        Assert.Contains("higher", (string)here["words"]!, StringComparison.Ordinal);
        Assert.True((decimal)here["low"]! < (decimal)here["high"]!);
        Assert.All(here["own"]!.AsArray(), p => Assert.True((DateTimeOffset)p!["at"]! < (DateTimeOffset)view["startedAt"]!));
    }

    [Fact]
    public async Task What_the_leads_add_is_taken_off_and_put_back()
    {
        var round = await Lines.Round(demo.Ledger, "ly-03");
        var view = await demo.Ledger.Get($"/api/rounds/{round}");
        await MakingSafe.Prove(demo.Ledger, (string)view["visitId"]!);
        view = await demo.Ledger.Get($"/api/rounds/{round}");
        Assert.True((bool)Row(view, "lsr")["mindsLeads"]!);
        var leads = Lines.Taken(view, "lsr", "0.4").But("kind", "leadZero").But("checkKey", null).But("limit", null);
        await Lines.Send(demo.Ledger, round, view, leads);
        var (status, _) = await demo.Ledger.Post($"/api/rounds/{round}/lines", Lines.Taken(view, "lsr", "1.2"));
        Assert.Equal(200, status);
        view = await demo.Ledger.Get($"/api/rounds/{round}");
        Assert.Equal(
            ("0.4 Ω", "1.2 Ω", "0.8 Ω"),
            (
                (string)view["leads"]!["value"]!,
                (string)Row(view, "lsr")["reading"]!["value"]!,
                (string)Row(view, "lsr")["reading"]!["counts"]!
            )
        );
        Assert.Equal("within", (string)Row(view, "lsr")["reading"]!["verdict"]!);

        var back = Lines.Taken(view, "lsr", "").But("kind", "retracted").But("checkKey", null).But("target", (string)leads["id"]!);
        await Lines.Send(demo.Ledger, round, view, back);
        view = await demo.Ledger.Get($"/api/rounds/{round}");
        Assert.Null(view["leads"]);
        Assert.Equal("high", (string)Row(view, "lsr")["reading"]!["verdict"]!);
    }

    [Theory]
    [InlineData("OL")]
    [InlineData("12")]
    [InlineData("twelve")]
    public async Task What_no_leads_read_is_refused(string typed)
    {
        var round = await Lines.Round(demo.Ledger, "ly-03");
        var view = await demo.Ledger.Get($"/api/rounds/{round}");
        var (status, problem) = await demo.Ledger.Post(
            $"/api/rounds/{round}/lines",
            Lines.Taken(view, "lsr", typed).But("kind", "leadZero").But("checkKey", null)
        );
        Assert.Equal("typed", (string)problem["field"]!);
        Assert.InRange(status, 400, 422);
    }
}
