using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Machines;

/// <summary>Parts off the boards, wires and states of a model, over HTTP.</summary>
public sealed class WiringTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private const string Trundle = "/api/models/cawdale-trundle";

    private readonly TestLedger _ledger = demo.Ledger;

    private Task<(int Status, JsonNode Body)> Write(int version, JsonNode sheet, string person = "edda") =>
        _ledger.Send(HttpMethod.Put, $"{Trundle}/wiring", new { version, sheet }, person);

    [Fact]
    public async Task What_was_read_is_written_again_and_changes_nothing()
    {
        var model = await _ledger.Get(Trundle);
        var before = (await _ledger.Get("/api/edits/Model/cawdale-trundle?within=true")).AsArray().Count;
        var (status, after) = await Write((int)model["versionOfWiring"]!, model["wiring"]!);
        Assert.Equal(200, status);
        Assert.Equal(model["wiring"]!.ToJsonString(), after["wiring"]!.ToJsonString());
        Assert.Equal(before, (await _ledger.Get("/api/edits/Model/cawdale-trundle?within=true")).AsArray().Count);
    }

    [Fact]
    public async Task A_plug_in_the_line_is_entered_logged_clashed_over_and_taken_out_again()
    {
        var model = await _ledger.Get(Trundle);
        var version = (int)model["versionOfWiring"]!;
        var sheet = model["wiring"]!.DeepClone();
        sheet["parts"]!
            .AsArray()
            .Add(
                JsonNode.Parse(
                    """
                    {"id":"x9","kind":"plug","designator":"X9","name":"frame plug","pins":[
                     {"id":"p1","index":1,"label":"1","colours":"WH-BU","signal":"spare","isSource":false},
                     {"id":"p2","index":2,"label":"2","colours":"","signal":"","isSource":false}]}
                    """
                )
            );
        sheet["wires"]!
            .AsArray()
            .Add(JsonNode.Parse("""{"id":"nw","from":{"part":"ps","pin":"plus"},"to":{"part":"x9","pin":"p1"},"directed":true}"""));
        var (status, after) = await Write(version, sheet);
        Assert.Equal(200, status);
        Assert.Contains(after["pins"]!.AsArray(), p => (string)p!["printed"]! == "X9·1");
        Assert.Contains(after["wiringReport"]!["branches"]!.AsArray(), b => (string)b!["pins"]!.AsArray()[^1]! == "X9·1");
        Assert.Contains(
            after["wiringReport"]!["doubts"]!.AsArray(),
            d => ((string)d!["fromColours"]!, (string)d["toColours"]!) == ("red", "white-blue")
        );
        var edits = (await _ledger.Get("/api/edits/Model/cawdale-trundle?within=true")).AsArray();
        Assert.Contains(edits, e => (string)e!["kind"]! == "Part");

        // Whoever read it before that sees both.
        var (clashed, both) = await Write(version, model["wiring"]!, "bram");
        Assert.Equal(409, clashed);
        Assert.NotNull(both["theirs"]!["sheet"]);

        // The part cannot go while it is wired; with its wire it can, and all is as it was.
        var cut = sheet.DeepClone();
        cut["parts"]!.AsArray().RemoveAt(cut["parts"]!.AsArray().Count - 1);
        var (refused, problem) = await Write((int)after["versionOfWiring"]!, cut);
        Assert.Equal(400, refused);
        Assert.Contains("ends at X9·1, which is not there", (string)problem["detail"]!, StringComparison.Ordinal);
        var (taken, back) = await Write((int)after["versionOfWiring"]!, model["wiring"]!);
        Assert.Equal(200, taken);
        Assert.Equal(version, (int)back["versionOfWiring"]!);
        Assert.DoesNotContain(back["pins"]!.AsArray(), p => (string)p!["printed"]! == "X9·1");
    }

    [Theory]
    [InlineData("""{"parts":[],"states":[],"wires":[]}""", "one state at least")]
    [InlineData("""{"parts":[],"states":[{"code":"off","name":"off","energised":false}],"wires":[]}""", "strike out the check first")]
    public async Task What_does_not_fit_is_refused_and_nothing_is_written(string sheet, string says)
    {
        var model = await _ledger.Get(Trundle);
        var (status, problem) = await Write((int)model["versionOfWiring"]!, JsonNode.Parse(sheet)!);
        Assert.Equal(400, status);
        Assert.Contains(says, (string)problem["detail"]!, StringComparison.Ordinal);
        Assert.Equal((int)model["versionOfWiring"]!, (int)(await _ledger.Get(Trundle))["versionOfWiring"]!);
    }

    [Fact]
    public async Task A_model_that_is_not_there_has_no_wiring() =>
        Assert.Equal(
            404,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    "/api/models/nobodys/wiring",
                    new { version = 0, sheet = JsonNode.Parse("""{"parts":[],"states":[],"wires":[]}""") },
                    "edda"
                )
            ).Status
        );
}
