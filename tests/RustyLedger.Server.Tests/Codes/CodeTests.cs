using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Safety;

namespace RustyLedger.Server.Tests.Codes;

public sealed class CodeTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    private static object Asked(
        string kind = "display",
        string text = "",
        string[]? digits = null,
        string colour = "",
        string? pattern = null,
        double[]? taps = null,
        int? count = null
    ) =>
        new
        {
            kind,
            text,
            digits = digits ?? [],
            element = "",
            colour,
            pattern,
            taps = taps ?? [],
            count,
        };

    [Theory]
    [InlineData("ly-08", "dp")]
    [InlineData("ly-05", "rg")]
    [InlineData("ly-04", "z1")]
    [InlineData("ly-03", "log")]
    [InlineData("ly-02", "main")]
    public async Task Five_machines_of_the_sample_have_codes(string machine, string position) =>
        Assert.True((await _ledger.Get($"/api/machines/{machine}/boards/{position}/codes"))["codes"]!.AsArray().Count >= 4);

    [Fact]
    public async Task A_code_is_found_by_bars_by_rhythm_and_by_count()
    {
        async Task<JsonNode> Find(string machine, string position, object asked) =>
            (await _ledger.Post($"/api/machines/{machine}/boards/{position}/codes/find", asked)).Body;
        var bars = await Find("ly-08", "dp", Asked(digits: ["adefg", "acdfg"]));
        Assert.Equal(["E", "5S"], bars["signs"]!.AsArray().Select(s => (string)s!));
        Assert.Equal("Coil too hot", (string)bars["fits"]![0]!["code"]!["meaning"]!);
        var taps = await Find("ly-08", "cb", Asked("lamp", colour: "red", taps: [0, 0.4, 1.8, 3.2, 3.6, 5, 6.4, 6.8, 8.2]));
        Assert.Equal(
            ("2, then 1, about 2.5 a second", "Stop loop open"),
            ((string)taps["rhythm"]!["words"]!, (string)taps["fits"]![0]!["code"]!["meaning"]!)
        );
        Assert.Equal(
            "Scale: descale now",
            (string)(await Find("ly-02", "main", Asked("beeps", count: 12)))["fits"]![0]!["code"]!["meaning"]!
        );
        Assert.Equal(
            "K1 chatters: supply sags",
            (string)(await Find("ly-05", "rg", Asked("ticks", taps: [0, 0.1, 0.2, 0.31, 0.4])))["fits"]![0]!["code"]!["meaning"]!
        );
        Assert.Equal("taps", (string)(await Find("ly-05", "rg", Asked("ticks", taps: [0, 0.2, 0.1])))["field"]!);
        Assert.Equal("digits", (string)(await Find("ly-05", "rg", Asked(digits: ["xyz"])))["field"]!);
        Assert.Equal("count", (string)(await Find("ly-05", "rg", Asked("beeps", count: 0)))["field"]!);
    }

    [Fact]
    public async Task The_number_in_a_code_goes_into_the_record()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        object Keep(string? code, object asked, bool stores = true, string? photograph = null) =>
            new
            {
                id = Lines.NewId(),
                visitId = visit,
                codeId = code,
                asked,
                photographId = photograph,
                storesNumber = stores,
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            };
        const string At = "/api/machines/ly-08/boards/dp/codes/kept";
        var (_, version) = await _ledger.Post(At, Keep("u", Asked(text: "V183")));
        Assert.Equal(
            ["display: V183, Software version 1.83", "display: firmware 1.83"],
            version["lines"]!.AsArray().Select(l => (string)l!)
        );
        var board = (await _ledger.Get("/api/machines/LY-08/file?pictures=false"))["machine"]!["boards"]!
            .AsArray()
            .Single(b => (string)b!["positionId"]! == "dp")!;
        Assert.Equal("1.83", (string)board["firmware"]!);
        var (_, hours) = await _ledger.Post(At, Keep("h", Asked(text: "H412")));
        Assert.Equal("display: running hours 4\u202f120 h", (string)hours["lines"]![1]!);
        var (_, unknown) = await _ledger.Post(At, Keep(null, Asked(digits: ["adefg", "bc"]), photograph: "ly08-p3"));
        Assert.Equal("display: E1, not known", (string)unknown["lines"]![0]!);
        var seen = (await _ledger.Get($"/api/visits/{visit}/start"))["observations"]!.AsArray();
        Assert.Equal(["code", "code", "hours", "code"], seen.Select(o => (string)o!["kind"]!));
        Assert.Equal("ly08-p3", (string)seen[^1]!["photographId"]!);

        Assert.Equal((400, "codeId"), await Refused(Keep("e9", Asked(text: "E5"))));
        Assert.Equal((400, "photographId"), await Refused(Keep(null, Asked(text: "E7"), photograph: "ly05-p1")));

        async Task<(int, string)> Refused(object body)
        {
            var (status, problem) = await _ledger.Post(At, body);
            return (status, (string)problem["field"]!);
        }
    }

    [Fact]
    public async Task The_list_is_edited_as_a_whole_and_what_makes_no_sense_is_refused()
    {
        const string At = "/api/board-types/thrumwick-log-c/codes";
        var sheet = await _ledger.Get(At);
        async Task<(int Status, JsonNode Body)> Put(int version, Action<JsonNode> change)
        {
            var codes = sheet["codes"]!.DeepClone();
            change(codes[0]!);
            return await _ledger.Send(HttpMethod.Put, At, new JsonObject { ["version"] = version, ["codes"] = codes }, "edda");
        }

        var now = (int)sheet["version"]!;
        Assert.Equal("codes[0].shown", (string)(await Put(now, c => c["shown"] = "")).Body["field"]!);
        Assert.Equal("codes[0].number", (string)(await Put(now, c => c["shown"] = "U1")).Body["field"]!);
        Assert.Equal(
            "codes[0].groups",
            (string)
                (
                    await Put(
                        now,
                        c =>
                        {
                            c["kind"] = "beeps";
                            c["pattern"] = "groups";
                            c["shown"] = "";
                            c["number"] = null;
                        }
                    )
                ).Body["field"]!
        );
        Assert.Equal(
            "codes[0].perSecondTo",
            (string)
                (
                    await Put(
                        now,
                        c =>
                        {
                            c["kind"] = "ticks";
                            c["number"] = null;
                            c["perSecondFrom"] = 4;
                            c["perSecondTo"] = 2;
                        }
                    )
                ).Body["field"]!
        );
        Assert.Equal("codes", (string)(await Put(now, c => c["id"] = "f1")).Body["field"]!);
        Assert.Equal(200, (await Put(now, c => c["meaning"] = "Version of the program")).Status);
        Assert.Equal(409, (await Put(now, c => c["meaning"] = "Program")).Status);
        // Who writes the marks of the same board type is not in the way of who writes its codes.
        var marks = await _ledger.Get("/api/board-types/thrumwick-log-c/marks");
        var list = new JsonArray(new JsonObject { ["feature"] = "colour", ["value"] = "blue" });
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    "/api/board-types/thrumwick-log-c/marks",
                    new JsonObject { ["version"] = (int)marks["version"]!, ["marks"] = list },
                    "edda"
                )
            ).Status
        );
        Assert.Equal(200, (await Put((int)(await _ledger.Get(At))["version"]!, c => c["toDo"] = "Write it down")).Status);
        Assert.Contains(
            (await _ledger.Get("/api/edits/BoardType/thrumwick-log-c")).AsArray().SelectMany(e => e!["changes"]!.AsArray()),
            c => (string)c!["after"]! == "Version of the program"
        );
    }
}
