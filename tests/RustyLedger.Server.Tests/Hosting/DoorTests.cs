using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Safety;

namespace RustyLedger.Server.Tests.Hosting;

/// <summary>What a rule refuses at its endpoint it refuses at every other door: put back, taken in from a file.</summary>
public sealed class DoorTests : IAsyncLifetime
{
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    [Fact]
    public async Task A_visit_opened_again_is_not_put_back_to_signed_with_a_jumper_in()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-02");
        await End(visit, "signed");
        await End(visit, null);
        Assert.Equal(200, (await Place(visit)).Status);
        var (status, problem) = await PutBackLast($"Visit/{visit}");
        Assert.Equal(409, status);
        Assert.Contains("cannot be signed while something is open", (string)problem["detail"]!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_closed_fault_keeps_its_proof_and_its_cause()
    {
        var fault = Lines.NewId();
        Assert.Equal(
            200,
            (
                await _ledger.Post(
                    "/api/faults",
                    new
                    {
                        id = fault,
                        machineId = "ly-04",
                        roundId = (string?)null,
                        noticed = "stops",
                        personId = "edda",
                    }
                )
            ).Status
        );
        await Write(fault, proof: "fuse F1 open, fitted, runs", close: false);
        await Write(fault, proof: "fuse F1 open, fitted, runs", close: true);
        // The change that wrote the proof is put back while the fault is closed.
        var edits = (await _ledger.Get($"/api/edits/Fault/{fault}")).AsArray();
        var wrote = edits.Single(e =>
            !(bool)e!["began"]!
            && e["changes"]!
                .AsArray()
                .Any(c => c!["field"] is { } field && ((string)field!).Equals("proof", StringComparison.OrdinalIgnoreCase))
        )!;
        var (status, problem) = await _ledger.Post($"/api/edits/{(long)wrote["id"]!}/put-back", new { });
        Assert.Equal((400, "proof"), (status, (string)problem["field"]!));

        using var empty = await TestLedger.Start();
        var file = TestLedger.DemoMachine("ly-01");
        file["faults"]!.AsArray().First(f => f!["closedAt"] is not null)!["proof"] = "";
        (status, problem) = await empty.Post("/api/machine-files", file);
        Assert.Equal(400, status);
        Assert.EndsWith("].proof", (string)problem["field"]!, StringComparison.Ordinal);
        Assert.Equal(0, (int)(await empty.Get("/api/machines"))["total"]!);
    }

    [Fact]
    public async Task Two_pins_do_not_get_one_label_by_a_put_back()
    {
        async Task<JsonNode> Label(string pin, int version, string label)
        {
            var (status, body) = await _ledger.Send(
                HttpMethod.Put,
                $"/api/board-types/cawdale-zone-c/pins/j1/{pin}",
                new
                {
                    version,
                    label,
                    colours = "",
                    signal = "",
                },
                "edda"
            );
            Assert.True(status == 200, body.ToJsonString());
            return body;
        }

        var first = await Label("j1-1", 1, "9");
        Assert.Equal("9", (string)first["label"]!);
        var (put, problem) = await PutBackLast("Pin/cawdale-zone-c/j1/j1-1");
        Assert.Equal(200, put);
        await Label("j1-1", 3, "9");
        await Label("j1-2", 1, "1");
        (put, problem) = await PutBackLast("Pin/cawdale-zone-c/j1/j1-1");
        Assert.Equal((409, "J1·1 stands twice."), (put, (string)problem["detail"]!));
    }

    /// <summary>A place that became a pin on a new connector: the connector alone is not put back from under it.</summary>
    [Fact]
    public async Task An_element_with_pins_is_not_put_back_from_under_them()
    {
        var place = (string)
            TestLedger.DemoMachine("ly-08")["photographs"]!
                .AsArray()
                .SelectMany(p => p!["places"]!.AsArray())
                .First(p => p!["pinId"] is null)!["id"]!;
        var (made, pin) = await _ledger.Post(
            $"/api/places/{place}/pin",
            new
            {
                version = 1,
                positionId = "cb",
                designator = "CN9",
                label = "3",
                colours = "BU",
                signal = "12 V in",
            }
        );
        Assert.True(made == 200, pin.ToJsonString());
        var map = await _ledger.Get("/api/machines/LY-08/boards/cb/map");
        var element = map["elements"]!.AsArray().Single(e => (string)e!["designator"]! == "CN9")!;
        var (status, problem) = await PutBackLast($"Element/{(string)map["boardTypeId"]!}/{(string)element["id"]!}");
        Assert.Equal(409, status);
        Assert.Contains("is on an element that is not there", (string)problem["detail"]!, StringComparison.Ordinal);
        Assert.Contains(
            (await _ledger.Get("/api/machines/LY-08/boards/cb/map"))["pins"]!.AsArray(),
            p => ((string)p!["printed"]!).EndsWith("CN9·3", StringComparison.Ordinal)
        );
    }

    private async Task<JsonNode> Visit(string id) => await _ledger.Get($"/api/visits/{id}");

    private async Task End(string visit, string? ending)
    {
        var (status, body) = await _ledger.Post(
            $"/api/visits/{visit}/end",
            new { version = (int)(await Visit(visit))["version"]!, ending }
        );
        Assert.True(status == 200, body.ToJsonString());
    }

    private Task<(int Status, JsonNode Body)> Place(string visit) =>
        _ledger.Post(
            $"/api/visits/{visit}/temporary-links",
            new
            {
                id = Lines.NewId(),
                kind = "jumper",
                from = (object?)null,
                to = (object?)null,
                where = "round the fuse holder",
                across = (string?)null,
                why = "to see",
                attended = true,
                until = (string?)null,
                personId = "edda",
            }
        );

    private async Task Write(string fault, string proof, bool close)
    {
        var now = await _ledger.Get($"/api/faults/{fault}");
        var (status, body) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/faults/{fault}",
            new
            {
                version = (int)now["version"]!,
                noticed = "stops",
                found = "",
                cause = "part",
                proof,
                done = "",
                parts = Array.Empty<string>(),
                deviation = "",
                minutes = (int?)null,
                warranty = (string)now["warranty"]!,
                held = (string)now["held"]!,
                previousId = (string?)null,
                close,
            }
        );
        Assert.True(status == 200, body.ToJsonString());
    }

    private async Task<(int Status, JsonNode Body)> PutBackLast(string record)
    {
        var (kind, id) = (
            record[..record.IndexOf('/', StringComparison.Ordinal)],
            record[(record.IndexOf('/', StringComparison.Ordinal) + 1)..]
        );
        var edits = (await _ledger.Get($"/api/edits/{kind}/{id}")).AsArray();
        return await _ledger.Post($"/api/edits/{(long)edits[0]!["id"]!}/put-back", new { });
    }
}
