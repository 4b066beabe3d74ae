using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Machines;

public sealed class MachineFileTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    [Fact]
    public async Task The_demo_exported_and_taken_in_elsewhere_is_the_same()
    {
        using var empty = await TestLedger.Start();
        var file = "";
        foreach (var tag in Enumerable.Range(1, 11).Select(i => $"LY-{i:00}"))
        {
            file = await demo.Ledger.Http.GetStringAsync($"/api/machines/{tag}/file");
            var (status, taken) = await empty.Post("/api/machine-files", JsonNode.Parse(file)!);
            Assert.Equal((200, tag), (status, (string)taken["tag"]!));
            Assert.Equal(file, await empty.Http.GetStringAsync($"/api/machines/{tag}/file"));
        }

        file = await demo.Ledger.Http.GetStringAsync("/api/machines/LY-04/file");
        Assert.Equal(
            (await demo.Ledger.Get("/api/rounds/r3"))["paths"]!.ToJsonString(),
            (await empty.Get("/api/rounds/r3"))["paths"]!.ToJsonString()
        );
        var (again, problem) = await empty.Post("/api/machine-files", JsonNode.Parse(file)!);
        Assert.Equal((409, "LY-04 is in the ledger already."), (again, (string)problem["detail"]!));
    }

    [Fact]
    public async Task The_schema_in_the_docs_is_that_of_the_server()
    {
        var file = Path.Combine(TestLedger.Root, "docs", "machine-file.schema.json");
        Assert.True(
            await demo.Ledger.Http.GetStringAsync("/api/machine-file.schema.json") == await File.ReadAllTextAsync(file),
            "docs/machine-file.schema.json is stale; put there what /api/machine-file.schema.json answers"
        );
    }

    [Theory]
    [InlineData("version", "2", "version", "reads up to version 1")]
    [InlineData("format", "\"other\"", "format", "not a machine file")]
    [InlineData("machine.modelId", "\"none\"", "machine.modelId", "not in the file")]
    [InlineData("model.links.0.to.pin", "\"none\"", "model", "does not fit together")]
    [InlineData("boardTypes.0.checks.0.limit", "\"1,200\"", "$.boardTypes[0].checks[0].limit", "thousand")]
    [InlineData("boardTypes.0.elements.0.pins.0.colours", "\"BL\"", "$.boardTypes[0].elements[0].pins[0].colours", "may be black")]
    [InlineData("boardTypes.0.elements.0.pins.0.surprise", "1", "$.boardTypes[0].elements[0].pins[0]", "surprise")]
    [InlineData("visits.0.rounds.0.readings.0.typed", "\"twelve\"", "reading r1-01.typed", "not understood")]
    [InlineData("faults.0.personId", "\"nobody\"", "faults", "not in the file")]
    [InlineData("people.1.id", "\"bram\"", "people", "stands twice")]
    public async Task A_broken_file_names_what_is_wrong_and_writes_nothing(string member, string value, string field, string says)
    {
        var file = TestLedger.DemoMachine("ly-04");
        file["machine"]!["id"] = "other";
        file["machine"]!["tag"] = "LY-99";
        Set(file, member.Split('.'), JsonNode.Parse(value)!);
        var (status, problem) = await demo.Ledger.Post("/api/machine-files", file);
        Assert.Equal(400, status);
        Assert.Contains(says, (string)problem["detail"]!, StringComparison.Ordinal);
        Assert.StartsWith(field, (string)problem["field"]!, StringComparison.Ordinal);
        Assert.Empty((await demo.Ledger.Get("/api/machines?find=LY-99"))["machines"]!.AsArray());
    }

    [Fact]
    public async Task A_machine_is_begun_from_its_plate_and_measured_after_its_terminals_came_in()
    {
        using var ledger = await TestLedger.Start();
        await ledger.Post("/api/people", new { id = "edda", name = "Edda" });
        var id = Lines.NewId();
        var (status, page) = await ledger.Post(
            "/api/machines",
            new
            {
                id,
                tag = "LY-20",
                name = "gate controller",
                site = "Pier gate",
                maker = "",
                serial = "",
                boards = (string[])["HB-1", "HB-1", "HB-2"],
            }
        );
        Assert.Equal((200, 3), (status, page["boards"]!.AsArray().Count));
        var type = (string)page["boards"]![0]!["boardTypeId"]!;
        Assert.Equal(type, (string)page["boards"]![1]!["boardTypeId"]!);
        await ledger.Post($"/api/board-types/{type}/terminals", "connector,pin,colour,common,expected\nJ1,1,RD,J1-2,12 V\nJ1,2,BK,,\n");
        var round = await Lines.Round(ledger, id);
        var view = await ledger.Get($"/api/rounds/{round}");
        Assert.Equal(["B1-J1·1", "B2-J1·1"], view["rows"]!.AsArray().Select(r => (string)r!["red"]!["printed"]!));
        view = await Lines.Send(ledger, round, view, Lines.Taken(view, (string)view["nextKey"]!, "0.1"));
        Assert.Equal("dead", (string)view["last"]!["verdict"]!);
        var (taken, _) = await ledger.Post(
            "/api/machines",
            new
            {
                id = Lines.NewId(),
                tag = "LY-20",
                name = "x",
                site = "",
                maker = "",
                serial = "",
                boards = (string[])["A"],
            }
        );
        Assert.Equal(409, taken);
    }

    private static void Set(JsonNode node, string[] path, JsonNode value)
    {
        foreach (var step in path[..^1])
        {
            node = (int.TryParse(step, out var index) ? node[index] : node[step])!;
        }

        node[path[^1]] = value;
    }
}
