using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Safety;

/// <summary>Every way to "proved dead" that leaves something out is refused, and so is every route to a bypass.</summary>
public sealed class SafetyTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task Done_in_order_the_machine_is_proved_dead_and_every_shortcut_is_refused()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-02");
        var steps = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["steps"]!.AsArray();
        // Three phases, neutral and earth make ten pairs, each on AC and DC; a capacitor one more.
        Assert.Equal(21, steps.Count(s => (string)s!["kind"]! == "read"));
        for (var i = 0; i < steps.Count; i++)
        {
            // Before each step, every later one is tried out of order.
            foreach (var later in steps.Skip(i + 1).Where(s => !((string)steps[i]!["kind"]! == "read" && (string)s!["kind"]! == "read") && Rests(steps[i]!, s!)))
            {
                var (status, problem) = await MakingSafe.Act(_ledger, visit, later!);
                Assert.Equal(409, status);
                Assert.StartsWith("First: ", (string)problem["detail"]!, StringComparison.Ordinal);
            }

            Assert.NotEqual("provedDead", await Condition(visit));
            var (done, answer) = await MakingSafe.Act(_ledger, visit, steps[i]!);
            Assert.True(done == 200, answer.ToJsonString());
        }

        var state = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!;
        Assert.Equal(("provedDead", "Edda", 0), ((string)state["condition"]!, (string)state["by"]!, state["missing"]!.AsArray().Count));

        static bool Rests(JsonNode earlier, JsonNode later) => (string)later["kind"]! is "read" or "meterProvedBefore" or "meterProvedAfter" || (string)earlier["subject"]! == (string)later["subject"]!;
    }

    [Theory]
    [InlineData("26", "not dead: 26 V")]
    [InlineData("24.9", null)]
    public async Task In_a_wet_place_the_lower_limit_counts(string typed, string? missing)
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-02");
        await MakingSafe.Prove(_ledger, visit, s => (string)s["subject"]! == "mains/L1/L2/ac" ? typed : "0.1", mayFail: true);
        var state = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!;
        Assert.Equal(missing is null ? "provedDead" : "isolated", (string)state["condition"]!);
        Assert.Equal(missing is not null, state["missing"]!.AsArray().Any(m => ((string)m!).StartsWith(missing ?? "never", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("OL")]
    [InlineData("nothing")]
    [InlineData("12 ohm")]
    [InlineData("0.1 / 230")]
    public async Task A_proof_needs_one_voltage(string typed)
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        await MakingSafe.Prove(_ledger, visit, _ => typed, mayFail: true);
        Assert.NotEqual("provedDead", await Condition(visit));
    }

    [Fact]
    public async Task A_proof_goes_stale_when_a_source_comes_back_or_one_is_added()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        await MakingSafe.Prove(_ledger, visit);
        Assert.Equal("provedDead", await Condition(visit));
        Assert.Equal(400, (await MakingSafe.Event(_ledger, visit, "liveAgain", "")).Status);
        var (status, live) = await MakingSafe.Event(_ledger, visit, "liveAgain", "", words: "brake tried");
        Assert.Equal((200, "live"), (status, (string)live["safety"]!["state"]!["condition"]!));
        Assert.Contains("the proof from before is void", (string)live["safety"]!["state"]!["void"]!, StringComparison.Ordinal);

        await MakingSafe.Prove(_ledger, visit);
        Assert.Equal("provedDead", await Condition(visit));
        var modelId = (string)(await _ledger.Get("/api/machines/ly-08"))["modelId"]!;
        var model = await _ledger.Get($"/api/models/{modelId}");
        var sheet = model["safety"]!.DeepClone();
        sheet["sources"]!.AsArray().Add(new JsonObject
        {
            ["id"] = "roof",
            ["kind"] = "solar",
            ["name"] = "roof panel",
            ["isolation"] = "its plug",
            ["volts"] = 40,
            ["conductors"] = new JsonArray { "+", "-" },
            ["hasEarth"] = false,
            ["othersCanRestore"] = false,
            ["release"] = "",
        });
        var (edited, page) = await _ledger.Send(HttpMethod.Put, $"/api/models/{modelId}/safety", new { version = (int)model["versionOfSafety"]!, sheet }, "edda");
        Assert.True(edited == 200, page.ToJsonString());
        var state = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!;
        Assert.Equal("live", (string)state["condition"]!);
        Assert.Contains("switch off roof panel", state["missing"]!.AsArray().Select(m => (string)m!));
    }

    [Fact]
    public async Task The_same_act_sent_twice_is_written_once_and_a_taken_back_reading_is_missing_again()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        await MakingSafe.Prove(_ledger, visit);
        var read = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["steps"]!.AsArray().First(s => (string)s!["kind"]! == "read")!;
        var body = MakingSafe.Body("takenBack", "", target: (string)read["eventId"]!);
        for (var i = 0; i < 2; i++)
        {
            Assert.Equal(200, (await _ledger.Post($"/api/visits/{visit}/safety-events", body)).Status);
        }

        Assert.Equal("isolated", await Condition(visit));
    }

    [Fact]
    public async Task Two_devices_need_not_agree_on_the_time()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        var steps = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["steps"]!.AsArray();
        foreach (var (i, step) in steps.Index())
        {
            // The second device is a day behind.
            var body = JsonNode.Parse(System.Text.Json.JsonSerializer.Serialize(MakingSafe.Body((string)step!["kind"]!, (string)step["subject"]!, (string)step["kind"]! == "read" ? "0.1" : "", "socket X9")))!;
            body["order"] = i % 2 == 0 ? 2_000_000_000_000 + i : 1_000_000_000_000 + i;
            var (status, answer) = await _ledger.Post($"/api/visits/{visit}/safety-events", body);
            Assert.True(status == 200, answer.ToJsonString());
        }

        Assert.Equal("provedDead", await Condition(visit));
    }

    [Fact]
    public async Task What_is_measured_dead_needs_a_proof_or_a_reason_and_live_ohms_are_not_judged()
    {
        var visit = Lines.NewId();
        var round = Lines.NewId();
        await _ledger.Post("/api/visits", new { id = visit, roundId = round, machineId = "ly-02", complaint = "", personId = "edda" });
        var view = await _ledger.Get($"/api/rounds/{round}");
        Assert.Equal(("live", 3), ((string)view["condition"]!, (int)view["waitingForDead"]!));
        // What is measured dead is not proposed.
        Assert.False((bool)view["rows"]!.AsArray().Single(r => (string)r!["key"]! == (string)view["nextKey"]!)!["deadOnly"]!);
        var coil = Lines.Taken(view, "main/coil", "480");
        var (refused, problem) = await _ledger.Post($"/api/rounds/{round}/lines", coil);
        Assert.Equal((409, "reason", true), (refused, (string)problem["field"]!, (bool)problem["needsReason"]!));
        var (taken, after) = await _ledger.Post($"/api/rounds/{round}/lines", coil.But("reason", "plug pulled, bench supply only"));
        var reading = Row(after, "main/coil")["reading"]!;
        Assert.Equal((200, "notJudged", "taken live"), (taken, (string)reading["verdict"]!, (string)reading["rule"]!));
        Assert.Equal("plug pulled, bench supply only", (string)reading["allTheSame"]!);

        await MakingSafe.Prove(_ledger, visit);
        var dead = await _ledger.Get($"/api/rounds/{round}");
        Assert.True((bool)Row(dead, (string)dead["nextKey"]!)["deadOnly"]!);
        var (again, judged) = await _ledger.Post($"/api/rounds/{round}/lines", Lines.Taken(dead, "main/coil", "480"));
        Assert.Equal((200, "within"), (again, (string)Row(judged, "main/coil")["reading"]!["verdict"]!));

        static JsonNode Row(JsonNode round, string key) => round["rows"]!.AsArray().Single(r => (string)r!["key"]! == key)!;
    }

    [Fact]
    public async Task A_bypass_of_a_protective_device_is_refused_by_every_route()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-02");
        var (board, cut) = (new { holder = "main", pin = "j2-1" }, new { holder = "main", pin = "j2-2" });
        object Link(object? from, object? to, string where, string? across = null, string kind = "jumper") =>
            new { id = Lines.NewId(), kind, from, to, where, across, why = "to see", attended = true, until = (DateTimeOffset?)null, personId = "edda" };
        foreach (var refused in (object[])[Link(board, cut, "J2"), Link(cut, board, "J2", kind: "seriesLamp"), Link(null, null, "F7", "otc"), Link(null, null, "on the over-temperature cut-out"), Link(new { holder = "main", pin = "f1-2" }, new { holder = "main", pin = "j4-1" }, "past it all", kind: "bypass"), Link(new { holder = "main", pin = "j5-5" }, null, "J5", kind: "dummyPlug")])
        {
            var (status, problem) = await _ledger.Post($"/api/visits/{visit}/temporary-links", refused);
            Assert.Equal((409, "A protective device"), (status, (string)problem["title"]!));
            Assert.Contains("Instead: ", (string)problem["detail"]!, StringComparison.Ordinal);
        }

        // By way of an edit.
        var fine = Link(new { holder = "main", pin = "x1-1" }, new { holder = "main", pin = "f1-1" }, "round the fuse holder");
        var (placed, start) = await _ledger.Post($"/api/visits/{visit}/temporary-links", fine);
        Assert.True(placed == 200, start.ToJsonString());
        var link = start["safety"]!["links"]!.AsArray().Single()!;
        object Edit(int version, object from, object to, string where, bool isRemoved = false) => new { version, kind = "jumper", from, to, where, across = (string?)null, why = "to see", attended = true, until = (DateTimeOffset?)null, isRemoved };
        var path = $"/api/temporary-links/{(string)link["id"]!}";
        Assert.Equal(409, (await _ledger.Send(HttpMethod.Put, path, Edit(1, board, cut, "J2"), "edda")).Status);
        Assert.Equal(409, (await _ledger.Send(HttpMethod.Put, path, Edit(1, new { holder = "main", pin = "x1-1" }, new { holder = "main", pin = "j2-2" }, "round it"), "edda")).Status);

        // By way of putting back: across two pins that were free until the device was written down.
        var free = new { holder = "main", pin = "j3-1" };
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, path, Edit(1, free, new { holder = "main", pin = "j3-3" }, "probes"), "edda")).Status);
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, path, Edit(2, new { holder = "main", pin = "x1-1" }, new { holder = "main", pin = "f1-1" }, "fuse"), "edda")).Status);
        var model = await _ledger.Get("/api/models/oskerra-veil");
        var sheet = model["safety"]!.DeepClone();
        sheet["interlocks"]!.AsArray().Add(new JsonObject { ["id"] = "high", ["kind"] = "flow", ["name"] = "high water probe", ["from"] = new JsonObject { ["holder"] = "main", ["pin"] = "j3-1" }, ["to"] = new JsonObject { ["holder"] = "main", ["pin"] = "j3-3" }, ["equivalentTest"] = "" });
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, "/api/models/oskerra-veil/safety", new { version = (int)model["versionOfSafety"]!, sheet }, "edda")).Status);
        var edits = await _ledger.Get($"/api/edits/TemporaryLink/{(string)link["id"]!}");
        var (putBack, why) = await _ledger.Post($"/api/edits/{(long)edits[0]!["id"]!}/put-back", new { }, "edda");
        Assert.Equal((409, "A protective device"), (putBack, (string)why["title"]!));

        // By way of a file.
        var file = await _ledger.Get("/api/machines/ly-02/file");
        var written = file["visits"]!.AsArray().Single(v => (string)v!["id"]! == visit)!["temporaryLinks"]![0]!;
        written["from"] = new JsonObject { ["holder"] = "main", ["pin"] = "j2-1" };
        written["to"] = new JsonObject { ["holder"] = "main", ["pin"] = "j2-2" };
        using var empty = await TestLedger.Start();
        Assert.Equal(409, (await empty.Post("/api/machine-files", file)).Status);
        Assert.Empty((await empty.Get("/api/machines"))["machines"]!.AsArray());

        // It blocks the signature until it is out, and stands on the home page.
        Assert.Contains((await _ledger.Get("/api/home"))["links"]!.AsArray(), l => (string)l!["id"]! == (string)link["id"]!);
        var (signed, open) = await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" });
        Assert.Equal(409, signed);
        Assert.Contains("temporary link", (string)open["detail"]!, StringComparison.Ordinal);
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, path, Edit(3, new { holder = "main", pin = "x1-1" }, new { holder = "main", pin = "f1-1" }, "fuse", isRemoved: true), "edda")).Status);
        Assert.Equal(200, (await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" })).Status);
    }

    [Fact]
    public async Task A_notice_stands_until_the_machine_is_back_in_service()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-09");
        var step = (await _ledger.Get($"/api/visits/{visit}/start"))["steps"]!.AsArray().Single(s => (string)s!["step"]! == "lifeSafety")!;
        Assert.Equal("open", (string)step["status"]!);
        Assert.Equal(400, (await _ledger.Post($"/api/visits/{visit}/life-safety-notices", new { id = Lines.NewId(), told = "", watching = "a nurse", until = (DateTimeOffset?)null, personId = "edda" })).Status);
        var (status, start) = await _ledger.Post($"/api/visits/{visit}/life-safety-notices", new { id = Lines.NewId(), told = "the clinic", watching = "a nurse", until = (DateTimeOffset?)null, personId = "edda" });
        Assert.Equal(200, status);
        var notice = start["safety"]!["notices"]!.AsArray().Single()!;
        Assert.Contains((await _ledger.Get("/api/home"))["notices"]!.AsArray(), n => (string)n!["tag"]! == "LY-09");
        Assert.Equal(409, (await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" })).Status);
        var path = $"/api/life-safety-notices/{(string)notice["id"]!}";
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, path, new { version = 1, told = "the clinic", watching = "a nurse", until = (DateTimeOffset?)null, isBack = true }, "edda")).Status);
        Assert.Equal(409, (await _ledger.Send(HttpMethod.Put, path, new { version = 1, told = "the clinic", watching = "nobody", until = (DateTimeOffset?)null, isBack = false }, "edda")).Status);
        Assert.DoesNotContain((await _ledger.Get("/api/home"))["notices"]!.AsArray(), n => (string)n!["tag"]! == "LY-09");
    }

    [Fact]
    public async Task The_shop_sets_lower_limits_and_never_higher_ones()
    {
        using var ledger = await TestLedger.Start();
        var (refused, problem) = await ledger.Send(HttpMethod.Put, "/api/shop", new { version = 0, limits = new { acDry = 51, dcDry = 60, acWet = 25, dcWet = 30 } });
        Assert.Equal((400, "acDry"), (refused, (string)problem["field"]!));
        Assert.Equal(200, (await ledger.Send(HttpMethod.Put, "/api/shop", new { version = 0, limits = new { acDry = 30, dcDry = 40, acWet = 12, dcWet = 15 } })).Status);
        Assert.Equal(409, (await ledger.Send(HttpMethod.Put, "/api/shop", new { version = 0, limits = new { acDry = 30, dcDry = 40, acWet = 12, dcWet = 15 } })).Status);
        Assert.Equal(12, (decimal)(await ledger.Get("/api/shop"))["limits"]!["acWet"]!);
    }

    private async Task<string> Condition(string visit) => (string)(await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["condition"]!;
}
