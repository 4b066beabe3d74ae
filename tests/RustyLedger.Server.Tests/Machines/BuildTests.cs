using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Safety;

namespace RustyLedger.Server.Tests.Machines;

public sealed class BuildTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task The_build_follows_from_the_plate_and_renames_what_is_printed()
    {
        var build = await _ledger.Get("/api/machines/ly-10/build");
        Assert.Equal(("decided", "Gala 8, 230 V, lettered strip"), ((string)build["kind"]!, (string)build["name"]!));
        Assert.Contains(build["renamed"]!.AsArray(), r => ((string)r!["printed"]!, (string)r["elsewhere"]!) == ("SQ-TB2·A", "SQ-TB2·1"));
        var round = await _ledger.Get($"/api/rounds/{await Lines.Round(_ledger, "ly-10")}");
        var probe = round["rows"]!.AsArray().Single(r => (string)r!["key"]! == "seq/ch6")!["red"]!;
        Assert.Equal(
            ("SQ-TB2·F", "tb2-6", "SQ-TB2·6"),
            ((string)probe["printed"]!, (string)probe["pin"]!, (string)probe["elsewherePrinted"]!)
        );
        var map = await _ledger.Get("/api/machines/ly-10/boards/seq/map");
        Assert.Contains(
            map["pins"]!.AsArray(),
            p =>
                ((string)p!["id"]!, (string)p["printed"]!, (string)p["elsewherePrinted"]!, (string)p["label"]!)
                == ("tb2-6", "SQ-TB2·F", "SQ-TB2·6", "6")
        );
    }

    [Fact]
    public async Task A_doubtful_date_gives_what_it_could_be_and_a_plain_one_decides()
    {
        var build = await _ledger.Get("/api/machines/ly-06/build");
        Assert.Equal(("doubtful", 2), ((string)build["kind"]!, build["candidates"]!.AsArray().Count));
        Assert.Contains("week 13 of 2009", (string)build["settle"]![0]!, StringComparison.Ordinal);
        var page = await _ledger.Get("/api/machines/ly-06");
        var (status, _) = await _ledger.Send(
            HttpMethod.Put,
            "/api/machines/ly-06",
            Edits.Plate(
                (int)page["version"]!,
                "LY-06",
                (string)page["name"]!,
                (string)page["maker"]!,
                (string)page["model"]!,
                (string)page["serial"]!,
                "2013-09",
                (string)page["supply"]!
            ),
            "edda"
        );
        Assert.Equal(200, status);
        Assert.Equal("Leat 6 second governor", (string)(await _ledger.Get("/api/machines/ly-06/build"))["name"]!);
    }

    [Fact]
    public async Task What_is_fitted_is_marked_where_the_build_needs_another()
    {
        var build = await _ledger.Get("/api/machines/ly-07/build");
        var board = build["facts"]!.AsArray().Single(f => (bool)f!["differs"]!)!;
        Assert.Equal(
            ("board", "WK-20 rev A or WK-20 rev B", "WK-20 rev D"),
            ((string)board["kind"]!, (string)board["must"]!, (string)board["is"]!)
        );
    }

    [Fact]
    public async Task A_board_is_recognised_by_what_the_eye_sees()
    {
        var first = await Recognise();
        Assert.Equal(4, first["left"]!.AsArray().Count);
        Assert.Contains(first["left"]!.AsArray(), b => b!["picture"] is not null && (string)b["revision"]! == "A");
        var (feature, value) = ((string)first["feature"]!, "through the board");
        var second = await Recognise(new { feature, value });
        Assert.Equal(["A", "B"], second["left"]!.AsArray().Select(b => (string)b!["revision"]!).Order());
        var third = await Recognise(new { feature, value }, new { feature = (string)second["feature"]!, value = "no" });
        Assert.Equal("A", (string)Assert.Single(third["left"]!.AsArray())!["revision"]!);
        var alike = await Recognise(new { feature = "leads", value = "surface mount" });
        Assert.True((bool)alike["alike"]!);
        Assert.Contains("F1", (string)alike["differences"]![0]!, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""{ "from": "2020-02-01", "to": "2019-01-01" }""", "lesser to the greater")]
    [InlineData("""{ "phases": 2 }""", "phases are 1 or 3")]
    public async Task A_rule_that_cannot_be_is_refused_and_nothing_is_written(string rule, string says)
    {
        var model = await _ledger.Get("/api/models/merrowby-gala");
        var sheet = model["variants"]!.DeepClone();
        var broken = sheet["variants"]![0]!["rules"]![0]!;
        foreach (var (name, value) in JsonNode.Parse(rule)!.AsObject())
        {
            broken[name] = value?.DeepClone();
        }

        var (status, problem) = await _ledger.Send(
            HttpMethod.Put,
            "/api/models/merrowby-gala/variants",
            new { version = (int)model["versionOfVariants"]!, sheet },
            "edda"
        );
        Assert.Equal(400, status);
        Assert.Contains(says, (string)problem["detail"]!, StringComparison.Ordinal);
        Assert.Equal(model["variants"]!.ToJsonString(), (await _ledger.Get("/api/models/merrowby-gala"))["variants"]!.ToJsonString());
    }

    [Fact]
    public async Task Marks_are_written_down_once_for_each_feature()
    {
        var marks = await _ledger.Get("/api/board-types/merrowby-mb810-b/marks");
        var list = marks["marks"]!.DeepClone().AsArray();
        list.Add(new JsonObject { ["feature"] = "printedNumber", ["value"] = "810 44" });
        var (status, after) = await _ledger.Send(
            HttpMethod.Put,
            "/api/board-types/merrowby-mb810-b/marks",
            new { version = (int)marks["version"]!, marks = list },
            "edda"
        );
        Assert.Equal((200, list.Count), (status, after["marks"]!.AsArray().Count));
        Assert.Equal(
            409,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    "/api/board-types/merrowby-mb810-b/marks",
                    new { version = (int)marks["version"]!, marks = list },
                    "edda"
                )
            ).Status
        );
        list.Add(new JsonObject { ["feature"] = "printedNumber", ["value"] = "810 45" });
        var (twice, problem) = await _ledger.Send(
            HttpMethod.Put,
            "/api/board-types/merrowby-mb810-b/marks",
            new { version = (int)after["version"]!, marks = list },
            "edda"
        );
        Assert.Equal((400, "marks"), (twice, (string)problem["field"]!));
    }

    [Fact]
    public async Task Two_who_edit_a_sheet_see_both_texts_and_an_edit_can_be_put_back()
    {
        var model = await _ledger.Get("/api/models/pellimore-recline");
        var sheet = model["outside"]!.DeepClone();
        sheet["leftOut"]!.AsArray().Add("fuel");
        object Edit() => new { version = (int)model["versionOfOutside"]!, sheet };
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, "/api/models/pellimore-recline/outside-checks", Edit(), "edda")).Status);
        var (status, both) = await _ledger.Send(HttpMethod.Put, "/api/models/pellimore-recline/outside-checks", Edit(), "bram");
        Assert.Equal(409, status);
        Assert.NotNull(both["theirs"]!["sheet"]);
        var edits = await _ledger.Get("/api/edits/Model/pellimore-recline?within=true");
        Assert.Equal("ModelSheet", (string)edits[0]!["kind"]!);
        var safety = model["safety"]!.DeepClone();
        safety["sources"]![0]!["isolation"] = "plug at the wall";
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    "/api/models/pellimore-recline/safety",
                    new { version = (int)model["versionOfSafety"]!, sheet = safety },
                    "edda"
                )
            ).Status
        );
        var change = Assert.Single((await _ledger.Get("/api/edits/Model/pellimore-recline?within=true"))[0]!["changes"]!.AsArray())!;
        Assert.Equal(
            ("sources, the mains, isolation", "switch in the foot box", "plug at the wall"),
            ((string)change["field"]!, (string)change["before"]!, (string)change["after"]!)
        );
    }

    [Fact]
    public async Task Outside_checks_are_answered_learnt_and_may_end_the_visit()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-05");
        var start = await _ledger.Get($"/api/visits/{visit}/start");
        var first = start["outside"]![0]!;
        Assert.Equal(13, start["outside"]!.AsArray().Count);
        object Answer(string answer, bool wasIt) =>
            new
            {
                id = Lines.NewId(),
                checkId = (string)first["id"]!,
                answer,
                held = "",
                wasIt,
                seconds = 60.0,
                order = DateTime.UtcNow.Ticks,
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            };
        Assert.Equal(400, (await _ledger.Post($"/api/visits/{visit}/outside-answers", Answer("yes", true))).Status);
        var (status, after) = await _ledger.Post($"/api/visits/{visit}/outside-answers", Answer("no", true));
        Assert.Equal((200, "done", "found"), (status, Step(after)["status"]!.ToString(), Step(after)["words"]!.ToString()));
        Assert.Equal(200, (await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" })).Status);
        Assert.Equal(409, (await _ledger.Post($"/api/visits/{visit}/outside-answers", Answer("no", false))).Status);

        // "Has none" is said once of a machine, and stands on its next visit with its day.
        var none = await MakingSafe.Begin(_ledger, "ly-05");
        var sensor = (JsonNode start) => start["outside"]!.AsArray().Single(c => (string)c!["id"]! == "sensor")!;
        var hasNone = new
        {
            id = Lines.NewId(),
            checkId = "sensor",
            answer = "hasNone",
            held = "",
            wasIt = false,
            seconds = 1.0,
            order = DateTime.UtcNow.Ticks,
            at = DateTimeOffset.UtcNow,
            personId = "edda",
        };
        var (_, said) = await _ledger.Post($"/api/visits/{none}/outside-answers", hasNone);
        Assert.Equal(("hasNone", true), ((string)sensor(said)["answer"]!, sensor(said)["saidAt"] is null));
        Assert.Equal(200, (await _ledger.Post($"/api/visits/{none}/end", new { version = 1, ending = "signed" })).Status);
        var later = sensor(await _ledger.Get($"/api/visits/{await MakingSafe.Begin(_ledger, "ly-05")}/start"));
        Assert.Equal(("hasNone", false), ((string)later["answer"]!, later["saidAt"] is null));
        Assert.Null(sensor(await _ledger.Get($"/api/visits/{await MakingSafe.Begin(_ledger, "ly-03")}/start"))?["answer"]);

        // The next visit has learnt from it.
        var next = await _ledger.Get($"/api/visits/{await MakingSafe.Begin(_ledger, "ly-05")}/start");
        var learnt = next["outside"]!.AsArray().Single(c => (string)c!["id"]! == (string)first["id"]!)!;
        Assert.True((double)learnt["chance"]! > (double)first["chance"]!);
        Assert.Contains("1 of 1 visits", (string)learnt["why"]!, StringComparison.Ordinal);

        static JsonNode Step(JsonNode start) => start["steps"]!.AsArray().Single(s => (string)s!["step"]! == "outsideChecks")!;
    }

    [Fact]
    public async Task A_step_is_skipped_with_its_reason_and_taken_up_again()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-05");
        async Task<JsonNode> Skip(string reason) =>
            (await _ledger.Send(HttpMethod.Put, $"/api/visits/{visit}/steps/catch", new { reason, personId = "edda" })).Body["steps"]!
                .AsArray()
                .Single(s => (string)s!["step"]! == "catch")!;
        Assert.Equal(
            ("skipped", "it was off"),
            ((string)(await Skip("it was off"))["status"]!, (string)(await Skip("it was off"))["reason"]!)
        );
        Assert.Equal("open", (string)(await Skip(""))["status"]!);
        Assert.Equal(
            400,
            (await _ledger.Send(HttpMethod.Put, $"/api/visits/{visit}/steps/dance", new { reason = "x", personId = "edda" })).Status
        );
        await _ledger.Post(
            $"/api/visits/{visit}/observations",
            new
            {
                id = Lines.NewId(),
                kind = "code",
                text = "E 5",
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            }
        );
        Assert.Equal("done", (string)(await Skip("never mind"))["status"]!);
        var line = (await _ledger.Get($"/api/visits/{visit}/start"))["observations"]![0]!;
        var (_, struck) = await _ledger.Post($"/api/observations/{(string)line["id"]!}/retire", new { });
        Assert.Empty(struck["observations"]!.AsArray());
    }

    [Fact]
    public async Task What_is_missing_in_a_request_is_named()
    {
        var (status, problem) = await _ledger.Post("/api/visits", new { id = "x" });
        Assert.Equal(400, status);
        Assert.Contains("machineId", (string)problem["detail"]!, StringComparison.Ordinal);
    }

    private async Task<JsonNode> Recognise(params object[] seen)
    {
        var (status, body) = await _ledger.Post("/api/machines/ly-07/boards/tb/recognise", new { seen, partNumber = "" });
        Assert.True(status == 200, body.ToJsonString());
        return body;
    }
}
