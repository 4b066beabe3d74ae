using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Wiring;

/// <summary>The circuit of a machine over HTTP: written, read, contradicted, and gone out with the machine.</summary>
public sealed class CircuitEndpointTests : IAsyncLifetime
{
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    private static JsonObject Row(string id, string part, string what, string between = "", string onIn = "", string onlyOn = "") =>
        new()
        {
            ["id"] = id,
            ["part"] = part,
            ["between"] = between,
            ["what"] = what,
            ["onIn"] = onIn,
            ["onlyOn"] = onlyOn,
        };

    private async Task<(int Status, JsonNode Body)> Write(string model, int version, params JsonNode[] rows) =>
        await _ledger.Send(
            HttpMethod.Put,
            $"/api/models/{model}/circuit",
            new { version, sheet = new { rows = new JsonArray([.. rows.Select(r => r.DeepClone())]), orders = Array.Empty<string>() } },
            "edda"
        );

    private static JsonNode Reading(JsonNode readings, string red, string state) =>
        readings["rows"]!.AsArray().First(r => (string)r!["red"]! == red && (string)r["state"]! == state)!;

    [Fact]
    public async Task A_fault_shows_at_the_largest_difference_first_and_brings_what_follows()
    {
        var healthy = await _ledger.Get("/api/machines/LY-04/circuit/readings");
        var fault = healthy["faults"]!.AsArray().Single(f => (string)f!["words"]! == "M3 shorted")!;
        var faulty = await _ledger.Get($"/api/machines/LY-04/circuit/readings?fault={Uri.EscapeDataString((string)fault["id"]!)}");
        // The fuse it blew is blown when the machine is dead as well.
        Assert.Equal("OL", (string)Reading(faulty, "Z3-F1·1", "off")["faulty"]!["words"]!);
        Assert.Equal("0 V", (string)Reading(faulty, "Z3-F1·2", "running")["faulty"]!["words"]!);
        var apart = faulty["rows"]!.AsArray().Select(r => (double)r!["apart"]!).ToList();
        Assert.Equal(apart.OrderDescending(), apart);
        Assert.StartsWith("Z3-F1 blows", (string)faulty["consequences"]![0]!, StringComparison.Ordinal);
        Assert.Contains(
            faulty["consequences"]!.AsArray(),
            c => ((string)c!).StartsWith("Z3 drive may have gone", StringComparison.Ordinal)
        );
        Assert.StartsWith("Z3-F1", (string)faulty["tells"]!["red"]!, StringComparison.Ordinal);

        // A blown fuse alone reads the same there; what tells them apart is the winding.
        var blown = Uri.EscapeDataString("Z3-F1/1");
        var both = await _ledger.Get(
            $"/api/machines/LY-04/circuit/readings?fault={Uri.EscapeDataString((string)fault["id"]!)}&other={blown}"
        );
        Assert.Equal(("off", "Z3-J3·M+"), ((string)both["tells"]!["state"]!, (string)both["tells"]!["red"]!));
        Assert.Equal(
            404,
            (int)(await _ledger.Http.GetAsync(new Uri("/api/machines/LY-04/circuit/readings?fault=none", UriKind.Relative))).StatusCode
        );
    }

    [Fact]
    public async Task The_way_of_the_current_names_where_it_stops()
    {
        var readings = await _ledger.Get("/api/machines/LY-04/circuit/readings");
        var check = Uri.EscapeDataString((string)Reading(readings, "Z4-J1·1", "running")["checkKey"]!);
        var open = Uri.EscapeDataString("Chain 2 +/1");
        var state = await _ledger.Get($"/api/machines/LY-04/circuit/state?state=running&check={check}&fault={open}");
        var stop = Assert.Single(state["supply"]!.AsArray(), s => (bool)s!["stops"]!)!;
        Assert.Equal("Chain 2 +", (string)stop["through"]!);
        Assert.Contains(state["flows"]!.AsArray(), f => (string)f!["name"]! == "Z1-F1" && (double)f["amps"]! > 1);
        Assert.Equal(
            400,
            (int)(await _ledger.Http.GetAsync(new Uri("/api/machines/LY-04/circuit/state?state=flying", UriKind.Relative))).StatusCode
        );
    }

    [Fact]
    public async Task A_row_that_is_not_understood_stays_and_says_why_and_a_clash_loses_nothing()
    {
        var page = await _ledger.Get("/api/machines/LY-11/circuit");
        Assert.False((bool)page["hasCircuit"]!);
        var model = (string)page["modelId"]!;
        var (status, _) = await Write(model, 0, Row("a", "PS", "supply 24 V"), Row("b", "M9", "gadget"));
        Assert.Equal(200, status);
        page = await _ledger.Get("/api/machines/LY-11/circuit");
        Assert.Equal("gadget", (string)page["sheet"]!["rows"]![1]!["what"]!);
        Assert.Contains(page["problems"]!.AsArray(), p => (string)p!["rowId"]! == "b");
        (status, var clash) = await Write(model, 0, Row("a", "PS", "supply 12 V"));
        Assert.Equal(409, status);
        Assert.NotNull(clash["theirs"]);
        (status, var refused) = await Write(model, (int)page["version"]!, Row("a", "PS", new string('x', 200)));
        Assert.Equal(400, status);
        Assert.Contains("signs", refused.ToJsonString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_row_only_on_a_build_or_machine_that_is_not_there_says_so()
    {
        var page = await _ledger.Get("/api/machines/LY-10/circuit");
        var sheet = page["sheet"]!["rows"]!.AsArray().Select(r => r!.DeepClone()).ToList();
        sheet.Add(Row("mine", "R77", "resistor 10 ohm", onlyOn: "LY-10, LY-1O"));
        Assert.Equal(200, (await Write((string)page["modelId"]!, (int)page["version"]!, [.. sheet])).Status);
        var problem = (await _ledger.Get("/api/machines/LY-10/circuit"))["problems"]!
            .AsArray()
            .Single(p => (string)p!["column"]! == "onlyOn")!;
        Assert.Equal(
            ("mine", "Only on LY-1O: no build and no machine of this model is called so."),
            ((string)problem["rowId"]!, (string)problem["words"]!)
        );
    }

    [Fact]
    public async Task A_contradiction_is_settled_once_on_its_machine_and_can_be_put_back()
    {
        var page = await _ledger.Get("/api/machines/LY-04/circuit");
        var rows = page["sheet"]!["rows"]!.AsArray().Select(r => r!.DeepClone()).ToArray();
        foreach (var row in rows.Where(r => (string)r["part"]! == "PS"))
        {
            row["what"] = "supply 21 V, at most 20 A";
        }

        Assert.Equal(200, (await Write((string)page["modelId"]!, (int)page["version"]!, rows)).Status);
        var against = Reading(await _ledger.Get("/api/machines/LY-04/circuit/readings"), "E1·12", "running");
        Assert.Contains("the sheet says 24.5 V ±6 %", (string)against["contradiction"]!, StringComparison.Ordinal);
        var body = new { id = Lines.NewId(), checkKey = (string)against["checkKey"]! };
        Assert.Equal(200, (await _ledger.Post("/api/machines/ly-04/circuit/taken", body, "edda")).Status);
        var (status, taken) = await _ledger.Post("/api/machines/ly-04/circuit/taken", body, "edda");
        Assert.Equal(200, status);
        Assert.Single(taken["rows"]!.AsArray(), r => ((string)r!["reason"]!).StartsWith("by the circuit", StringComparison.Ordinal));
        var now = Reading(await _ledger.Get("/api/machines/LY-04/circuit/readings"), "E1·12", "running");
        Assert.Equal("", (string)now["contradiction"]!);
        Assert.Equal(
            400,
            (await _ledger.Post("/api/machines/ly-04/circuit/taken", new { id = Lines.NewId(), checkKey = "none" }, "edda")).Status
        );
    }

    [Fact]
    public async Task It_goes_out_with_the_machine_and_comes_in_again_and_as_a_spice_file()
    {
        var file = await _ledger.Get("/api/machines/LY-10/file");
        Assert.Equal(22, file["model"]!["circuit"]!["rows"]!.AsArray().Count);
        using var other = await TestLedger.Start();
        var (status, _) = await other.Post("/api/machine-files", file, "edda");
        Assert.True(status is 200 or 201, $"{status}");
        var there = await other.Get("/api/machines/LY-10/circuit/readings");
        Assert.Equal("24 V", (string)Reading(there, "SQ-TB2·C", "running")["healthy"]!);
        var spice = await _ledger.Http.GetStringAsync(new Uri("/api/machines/LY-04/circuit/file?state=running", UriKind.Relative));
        Assert.StartsWith("* LY-04 Luggage belt zone controller, belt running", spice, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_machine_with_a_circuit_and_no_checks_can_be_measured()
    {
        var file = TestLedger.DemoMachine("ly-07");
        foreach (var board in file["boardTypes"]!.AsArray())
        {
            board!["checks"] = new JsonArray();
        }

        (file["visits"], file["photographs"]) = (new JsonArray(), new JsonArray());
        using var other = await TestLedger.Start();
        Assert.True((await other.Post("/api/machine-files", file, "edda")).Status is 200 or 201);
        var machine = await other.Get("/api/machines/LY-07");
        Assert.True((int)machine["checks"]! > 3);
        var readings = await other.Get("/api/machines/LY-07/circuit/readings");
        Assert.All(readings["rows"]!.AsArray(), r => Assert.Equal(("", ""), ((string)r!["limit"]!, (string)r["contradiction"]!)));
    }
}
