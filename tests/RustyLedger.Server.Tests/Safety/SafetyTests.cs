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
            foreach (
                var later in steps
                    .Skip(i + 1)
                    .Where(s => !((string)steps[i]!["kind"]! == "read" && (string)s!["kind"]! == "read") && Rests(steps[i]!, s!))
            )
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

        static bool Rests(JsonNode earlier, JsonNode later) =>
            (string)later["kind"]! is "read" or "meterProvedBefore" or "meterProvedAfter"
                ? (string)earlier["kind"]! is "read" or "meterProvedBefore" || (string)earlier["subject"]! == "mains"
                : (string)earlier["subject"]! == (string)later["subject"]!;
    }

    [Theory]
    [InlineData("26", "live")]
    [InlineData("24.9", "isolated")]
    [InlineData("4.9", "provedDead")]
    public async Task In_a_wet_place_the_lower_limit_says_what_is_live_and_dead_stays_dead(string typed, string condition)
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-02");
        await MakingSafe.Prove(_ledger, visit, s => (string)s["subject"]! == "mains/L1/L2/ac" ? typed : "0.1", mayFail: true);
        Assert.Equal(condition, await Condition(visit));
    }

    /// <summary>
    /// Volts where it was thought dead are asked about before they are stored, and end the proof for good; by the sheet, beside it, in
    /// a list, at a tapped place.
    /// </summary>
    [Theory]
    [InlineData("sheet")]
    [InlineData("extra")]
    [InlineData("list")]
    [InlineData("place")]
    public async Task A_live_reading_ends_proved_dead_at_every_door(string door)
    {
        using var ledger = await TestLedger.Start(demo: true);
        var machine = door == "place" ? "ly-08" : "ly-04";
        var visit = await MakingSafe.Begin(ledger, machine);
        await MakingSafe.Prove(ledger, visit);
        var start = await ledger.Get($"/api/visits/{visit}/start");
        Assert.Equal("provedDead", (string)start["safety"]!["state"]!["condition"]!);
        var round = (string)start["lastRoundId"]!;
        switch (door)
        {
            case "list":
                var (taken, told) = await ledger.Send(
                    HttpMethod.Post,
                    $"/api/rounds/{round}/readings",
                    "pin,common,mode,state,reads\nZ1-J1·1,Z1-J1·2,DC volts,belt running,24.1\n",
                    "edda"
                );
                Assert.True(taken == 200 && (int)told["taken"]! == 1, told.ToJsonString());
                break;
            case "place":
                var place = (string)
                    TestLedger.DemoMachine("ly-08")["photographs"]!.AsArray().SelectMany(p => p!["places"]!.AsArray()).First()!["id"]!;
                var (put, answer) = await ledger.Post(
                    $"/api/places/{place}/readings",
                    new
                    {
                        id = Lines.NewId(),
                        order = 1_950_000_000_000,
                        mode = "dcVolts",
                        typed = "24.1",
                        choice = (int?)null,
                        deviceTime = DateTimeOffset.UtcNow,
                        personId = "edda",
                        meter = "",
                        roundId = round,
                        visitId = visit,
                    }
                );
                Assert.True(put == 200, answer.ToJsonString());
                break;
            default:
                var view = await ledger.Get($"/api/rounds/{round}");
                var row = view["rows"]!.AsArray().First(r => (string)r!["mode"]! == "dcVolts" && (bool)r["energised"]!)!;
                var line = Lines.Taken(view, (string)row["key"]!, "24.1");
                if (door == "extra")
                {
                    line.But("checkKey", null).But("limit", null);
                }

                var (status, problem) = await ledger.Post($"/api/rounds/{round}/lines", line);
                Assert.Equal((409, true), (status, (bool?)problem["asksLive"]));
                Assert.Equal(0, (int)(await ledger.Get($"/api/rounds/{round}"))["taken"]!);
                Assert.Equal("provedDead", (string)(await ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["condition"]!);
                // Read elsewhere it is kept and changes nothing; live, it does, and taking it back revives nothing.
                Assert.Equal(
                    200,
                    (
                        await ledger.Post(
                            $"/api/rounds/{round}/lines",
                            line.DeepClone().AsObject().But("id", Lines.NewId()).But("alive", "elsewhere")
                        )
                    ).Status
                );
                Assert.Equal("provedDead", (string)(await ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["condition"]!);
                Assert.Equal(200, (await ledger.Post($"/api/rounds/{round}/lines", line.But("alive", "live"))).Status);
                Assert.Equal(200, (await ledger.Post($"/api/rounds/{round}/lines", line)).Status);
                var back = line.DeepClone()
                    .AsObject()
                    .But("id", Lines.NewId())
                    .But("kind", "retracted")
                    .But("target", (string)line["id"]!)
                    .But("typed", "")
                    .But("order", (long)line["order"]! + 1);
                Assert.Equal(200, (await ledger.Post($"/api/rounds/{round}/lines", back)).Status);
                break;
        }

        var state = (await ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!;
        Assert.Equal("live", (string)state["condition"]!);
        Assert.Contains("24.1 V DC", (string)state["sources"]![0]!["because"]!, StringComparison.Ordinal);
        Assert.Contains("no longer holds", (string)state["void"]!, StringComparison.Ordinal);
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
        Assert.Contains("no longer holds", (string)live["safety"]!["state"]!["void"]!, StringComparison.Ordinal);

        await MakingSafe.Prove(_ledger, visit);
        Assert.Equal("provedDead", await Condition(visit));
        var modelId = (string)(await _ledger.Get("/api/machines/ly-08"))["modelId"]!;
        var model = await _ledger.Get($"/api/models/{modelId}");
        var sheet = model["safety"]!.DeepClone();
        sheet["sources"]!
            .AsArray()
            .Add(
                new JsonObject
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
                }
            );
        var (edited, page) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/models/{modelId}/safety",
            new { version = (int)model["versionOfSafety"]!, sheet },
            "edda"
        );
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
        var read = (await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["steps"]!
            .AsArray()
            .First(s => (string)s!["kind"]! == "read")!;
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
            var body = JsonNode.Parse(
                System.Text.Json.JsonSerializer.Serialize(
                    MakingSafe.Body(
                        (string)step!["kind"]!,
                        (string)step["subject"]!,
                        (string)step["kind"]! == "read" ? "0.1" : "",
                        "socket X9"
                    )
                )
            )!;
            body["order"] = i % 2 == 0 ? 2_000_000_000_000 + i : 1_000_000_000_000 + i;
            var (status, answer) = await _ledger.Post($"/api/visits/{visit}/safety-events", body);
            Assert.True(status == 200, answer.ToJsonString());
        }

        Assert.Equal("provedDead", await Condition(visit));
    }

    /// <summary>
    /// Every protective device of the sample machines, by every kind of link; and each can be written down as what is there.
    /// </summary>
    [Fact]
    public async Task No_link_goes_across_any_protective_device_of_the_sample()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var tried = 0;
        foreach (var folder in Directory.GetDirectories(TestLedger.DemoFolder).Select(f => Path.GetFileName(f)!))
        {
            var file = TestLedger.DemoMachine(folder);
            string? visit = null;
            foreach (var device in (file["model"]!["safety"]?["interlocks"] as JsonArray ?? []).Where(d => d!["from"] is not null))
            {
                visit ??=
                    file["visits"]!.AsArray().FirstOrDefault(v => v!["endedAt"] is null)?["id"]?.GetValue<string>()
                    ?? await MakingSafe.Begin(ledger, folder);
                foreach (var kind in (string[])["jumper", "bypass", "seriesLamp", "dummyPlug"])
                {
                    foreach (var turned in (bool[])[false, true])
                    {
                        var (from, to) = turned ? (device!["to"], device["from"]) : (device!["from"], device["to"]);
                        var body = new
                        {
                            id = Lines.NewId(),
                            kind,
                            from = from!.DeepClone(),
                            to = to!.DeepClone(),
                            where = "here",
                            across = (string?)null,
                            why = "to see",
                            attended = true,
                            until = (string?)null,
                            personId = "edda",
                            standing = "none",
                        };
                        var (status, problem) = await ledger.Post($"/api/visits/{visit}/temporary-links", body);
                        Assert.Equal((409, (string)device["id"]!), (status, (string?)problem["device"]));
                        tried++;
                    }
                }

                var (found, start) = await ledger.Post(
                    $"/api/visits/{visit}/temporary-links",
                    new
                    {
                        id = Lines.NewId(),
                        kind = "jumper",
                        from = device!["from"]!.DeepClone(),
                        to = device["to"]!.DeepClone(),
                        where = "here",
                        across = (string?)null,
                        why = "found so",
                        attended = false,
                        until = (string?)null,
                        personId = "edda",
                        standing = "foundBypassed",
                    }
                );
                Assert.Equal(200, found);
                Assert.Contains(start["safety"]!["links"]!.AsArray(), l => (string)l!["bypasses"]! == (string)device["name"]!);
            }

            if (visit is not null)
            {
                var version = (int)(await ledger.Get($"/api/visits/{visit}"))["version"]!;
                Assert.Equal(409, (await ledger.Post($"/api/visits/{visit}/end", new { version, ending = "temporaryRepair" })).Status);
                Assert.Equal(200, (await ledger.Post($"/api/visits/{visit}/end", new { version, ending = "leftSafe" })).Status);
            }
        }

        Assert.True(tried >= 40, $"{tried} links");
    }

    [Fact]
    public async Task What_is_measured_dead_needs_a_proof_or_a_reason_and_live_ohms_are_not_judged()
    {
        var visit = Lines.NewId();
        var round = Lines.NewId();
        await _ledger.Post(
            "/api/visits",
            new
            {
                id = visit,
                roundId = round,
                machineId = "ly-02",
                complaint = "",
                personId = "edda",
            }
        );
        var view = await _ledger.Get($"/api/rounds/{round}");
        Assert.Equal(("live", 12), ((string)view["condition"]!, (int)view["waitingForDead"]!));
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
        var (board, cut) = (new { position = "main", pin = "j2-1" }, new { position = "main", pin = "j2-2" });
        object Link(object? from, object? to, string where, string? across = null, string kind = "jumper") =>
            new
            {
                id = Lines.NewId(),
                kind,
                from,
                to,
                where,
                across,
                why = "to see",
                attended = true,
                until = (DateTimeOffset?)null,
                personId = "edda",
            };
        foreach (
            var refused in (object[])
                [
                    Link(board, cut, "J2"),
                    Link(cut, board, "J2", kind: "seriesLamp"),
                    Link(null, null, "F7", "otc"),
                    Link(null, null, "on the over-temperature cut-out"),
                    Link(new { position = "main", pin = "f1-2" }, new { position = "main", pin = "j4-1" }, "past it all", kind: "bypass"),
                    Link(new { position = "main", pin = "j5-5" }, null, "J5", kind: "dummyPlug"),
                ]
        )
        {
            var (status, problem) = await _ledger.Post($"/api/visits/{visit}/temporary-links", refused);
            Assert.Equal((409, "A protective device"), (status, (string)problem["title"]!));
            Assert.Contains("Instead: ", (string)problem["detail"]!, StringComparison.Ordinal);
        }

        // By way of an edit.
        var fine = Link(new { position = "main", pin = "x1-1" }, new { position = "main", pin = "f1-1" }, "round the fuse holder");
        var (placed, start) = await _ledger.Post($"/api/visits/{visit}/temporary-links", fine);
        Assert.True(placed == 200, start.ToJsonString());
        var link = start["safety"]!["links"]!.AsArray().Single()!;
        object Edit(int version, object from, object to, string where, bool isRemoved = false) =>
            new
            {
                version,
                kind = "jumper",
                from,
                to,
                where,
                across = (string?)null,
                why = "to see",
                attended = true,
                until = (DateTimeOffset?)null,
                isRemoved,
            };
        var path = $"/api/temporary-links/{(string)link["id"]!}";
        Assert.Equal(409, (await _ledger.Send(HttpMethod.Put, path, Edit(1, board, cut, "J2"), "edda")).Status);
        Assert.Equal(
            409,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    path,
                    Edit(1, new { position = "main", pin = "x1-1" }, new { position = "main", pin = "j2-2" }, "round it"),
                    "edda"
                )
            ).Status
        );

        // By way of putting back: across two pins that were free until the device was written down.
        var free = new { position = "main", pin = "j3-1" };
        Assert.Equal(
            200,
            (await _ledger.Send(HttpMethod.Put, path, Edit(1, free, new { position = "main", pin = "j3-3" }, "probes"), "edda")).Status
        );
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    path,
                    Edit(2, new { position = "main", pin = "x1-1" }, new { position = "main", pin = "f1-1" }, "fuse"),
                    "edda"
                )
            ).Status
        );
        var model = await _ledger.Get("/api/models/oskerra-veil");
        var sheet = model["safety"]!.DeepClone();
        sheet["interlocks"]!
            .AsArray()
            .Add(
                new JsonObject
                {
                    ["id"] = "high",
                    ["kind"] = "flow",
                    ["name"] = "high water probe",
                    ["from"] = new JsonObject { ["position"] = "main", ["pin"] = "j3-1" },
                    ["to"] = new JsonObject { ["position"] = "main", ["pin"] = "j3-3" },
                    ["equivalentTest"] = "",
                }
            );
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    "/api/models/oskerra-veil/safety",
                    new { version = (int)model["versionOfSafety"]!, sheet },
                    "edda"
                )
            ).Status
        );
        var edits = await _ledger.Get($"/api/edits/TemporaryLink/{(string)link["id"]!}");
        var (putBack, why) = await _ledger.Post($"/api/edits/{(long)edits[0]!["id"]!}/put-back", new { }, "edda");
        Assert.Equal((409, "A protective device"), (putBack, (string)why["title"]!));

        // By way of a file.
        var file = await _ledger.Get("/api/machines/ly-02/file");
        var written = file["visits"]!.AsArray().Single(v => (string)v!["id"]! == visit)!["temporaryLinks"]![0]!;
        written["from"] = new JsonObject { ["position"] = "main", ["pin"] = "j2-1" };
        written["to"] = new JsonObject { ["position"] = "main", ["pin"] = "j2-2" };
        using var empty = await TestLedger.Start();
        Assert.Equal(409, (await empty.Post("/api/machine-files", file)).Status);
        Assert.Empty((await empty.Get("/api/machines"))["machines"]!.AsArray());

        // It blocks the signature until it is out, and stands on the home page.
        Assert.Contains((await _ledger.Get("/api/home"))["links"]!.AsArray(), l => (string)l!["id"]! == (string)link["id"]!);
        var (signed, open) = await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" });
        Assert.Equal(409, signed);
        Assert.Contains("temporary link", (string)open["detail"]!, StringComparison.Ordinal);
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    path,
                    Edit(3, new { position = "main", pin = "x1-1" }, new { position = "main", pin = "f1-1" }, "fuse", isRemoved: true),
                    "edda"
                )
            ).Status
        );
        Assert.Equal(200, (await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" })).Status);
    }

    [Fact]
    public async Task A_notice_stands_until_the_machine_is_back_in_service()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-09");
        var step = (await _ledger.Get($"/api/visits/{visit}/start"))["steps"]!.AsArray().Single(s => (string)s!["step"]! == "lifeSafety")!;
        Assert.Equal("open", (string)step["status"]!);
        Assert.Equal(
            400,
            (
                await _ledger.Post(
                    $"/api/visits/{visit}/life-safety-notices",
                    new
                    {
                        id = Lines.NewId(),
                        told = "",
                        watching = "a nurse",
                        until = (DateTimeOffset?)null,
                        personId = "edda",
                    }
                )
            ).Status
        );
        var (status, start) = await _ledger.Post(
            $"/api/visits/{visit}/life-safety-notices",
            new
            {
                id = Lines.NewId(),
                told = "the clinic",
                watching = "a nurse",
                until = (DateTimeOffset?)null,
                personId = "edda",
            }
        );
        Assert.Equal(200, status);
        var notice = start["safety"]!["notices"]!.AsArray().Single()!;
        Assert.Contains((await _ledger.Get("/api/home"))["notices"]!.AsArray(), n => (string)n!["tag"]! == "LY-09");
        Assert.Equal(409, (await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "signed" })).Status);
        var path = $"/api/life-safety-notices/{(string)notice["id"]!}";
        Assert.Equal(
            200,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    path,
                    new
                    {
                        version = 1,
                        told = "the clinic",
                        watching = "a nurse",
                        until = (DateTimeOffset?)null,
                        isBack = true,
                    },
                    "edda"
                )
            ).Status
        );
        Assert.Equal(
            409,
            (
                await _ledger.Send(
                    HttpMethod.Put,
                    path,
                    new
                    {
                        version = 1,
                        told = "the clinic",
                        watching = "nobody",
                        until = (DateTimeOffset?)null,
                        isBack = false,
                    },
                    "edda"
                )
            ).Status
        );
        Assert.DoesNotContain((await _ledger.Get("/api/home"))["notices"]!.AsArray(), n => (string)n!["tag"]! == "LY-09");
    }

    [Fact]
    public async Task The_shop_sets_lower_limits_and_never_higher_ones()
    {
        using var ledger = await TestLedger.Start();
        var (refused, problem) = await ledger.Send(
            HttpMethod.Put,
            "/api/shop",
            new
            {
                version = 0,
                limits = new
                {
                    acDry = 51,
                    dcDry = 60,
                    acWet = 25,
                    dcWet = 30,
                },
            }
        );
        Assert.Equal((400, "acDry"), (refused, (string)problem["field"]!));
        Assert.Equal(
            200,
            (
                await ledger.Send(
                    HttpMethod.Put,
                    "/api/shop",
                    new
                    {
                        version = 0,
                        limits = new
                        {
                            acDry = 30,
                            dcDry = 40,
                            acWet = 12,
                            dcWet = 15,
                        },
                    }
                )
            ).Status
        );
        Assert.Equal(
            409,
            (
                await ledger.Send(
                    HttpMethod.Put,
                    "/api/shop",
                    new
                    {
                        version = 0,
                        limits = new
                        {
                            acDry = 30,
                            dcDry = 40,
                            acWet = 12,
                            dcWet = 15,
                        },
                    }
                )
            ).Status
        );
        Assert.Equal(12, (decimal)(await ledger.Get("/api/shop"))["limits"]!["acWet"]!);
    }

    private async Task<string> Condition(string visit) =>
        (string)(await _ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["condition"]!;
}
