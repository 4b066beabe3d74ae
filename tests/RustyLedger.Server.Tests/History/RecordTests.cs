using System.Text.Json.Nodes;
using CsCheck;

namespace RustyLedger.Server.Tests.History;

public sealed class RecordTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task A_fault_is_entered_in_a_minute_completed_later_and_linked_when_it_comes_back()
    {
        var first = await Fault("does not close");
        var (_, cause) = await _ledger.Post("/api/causes", new { id = "gull", words = "nesting gull" });
        Assert.Equal("nesting gull", (string)cause["words"]!);
        Assert.Equal("gull", (string)(await _ledger.Post("/api/causes", new { id = Lines.NewId(), words = "nesting gull" })).Body["id"]!);
        Assert.Equal(
            ["none found", "nesting gull"],
            (await _ledger.Get("/api/causes")).AsArray().Select(c => (string)c!["words"]!).Reverse().Take(2)
        );
        var (status, closed) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/faults/{first}",
            Edits.Fault(1, "does not close", "eye clear, closes", "gull", ["eye", " ", "bracket"], "one screw of two", 35, close: true)
        );
        Assert.Equal((200, "nesting gull", 35), (status, (string)closed["causeWords"]!, (int)closed["minutes"]!));
        Assert.Equal(["eye", "bracket"], closed["parts"]!.AsArray().Select(p => (string)p!));
        var second = await Fault("does not close again");
        var (_, linked) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/faults/{second}",
            Edits.Fault(1, "does not close again", previousId: first)
        );
        Assert.Equal(first, (string)linked["previousId"]!);
        var before = await _ledger.Get($"/api/faults/{first}");
        Assert.Equal(("cameBack", second), ((string)before["held"]!, (string)before["cameBackAs"]!));
        var (wrong, problem) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/faults/{first}",
            Edits.Fault((int)before["version"]!, previousId: second)
        );
        Assert.Equal((400, "previousId"), (wrong, (string)problem["field"]!));
        (wrong, problem) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/faults/{first}",
            Edits.Fault((int)before["version"]!, cause: "no such")
        );
        Assert.Equal((400, "cause"), (wrong, (string)problem["field"]!));
    }

    [Fact]
    public async Task The_time_line_holds_every_kind_and_is_filtered()
    {
        var timeline = await _ledger.Get("/api/machines/ly-01/timeline");
        Assert.Equal(
            ["board", "fault", "note", "reading", "snapshot", "visit"],
            ((JsonObject)timeline["counts"]!).Select(c => c.Key).Order(StringComparer.Ordinal)
        );
        var times = timeline["entries"]!
            .AsArray()
            .Select(e => DateTimeOffset.Parse((string)e!["at"]!, System.Globalization.CultureInfo.InvariantCulture))
            .ToList();
        Assert.Equal(times.OrderDescending(), times);
        Assert.All(
            (await _ledger.Get("/api/machines/ly-01/timeline?kind=snapshot"))["entries"]!.AsArray(),
            e => Assert.Equal("snapshot", (string)e!["kind"]!)
        );
        Assert.Equal(
            ["ly08-p3", "ly08-p2", "ly08-p1"],
            (await _ledger.Get("/api/machines/ly-08/timeline?kind=photograph"))["entries"]!.AsArray().Select(e => (string)e!["id"]!)
        );
        Assert.Equal(400, (int)(await _ledger.Http.GetAsync("/api/machines/ly-01/timeline?kind=party")).StatusCode);
    }

    [Fact]
    public async Task A_long_time_line_comes_in_pages_without_gap_or_double()
    {
        foreach (var i in Enumerable.Range(0, 120))
        {
            await _ledger.Post(
                "/api/notes",
                new
                {
                    id = $"long-{i}",
                    machineId = "ly-06",
                    visitId = (string?)null,
                    text = $"note {i}",
                    personId = "edda",
                }
            );
        }

        var first = await _ledger.Get("/api/machines/ly-06/timeline");
        Assert.Equal((100, true), (first["entries"]!.AsArray().Count, (bool)first["more"]!));
        var rest = await _ledger.Get(
            $"/api/machines/ly-06/timeline?before={Uri.EscapeDataString((string)first["entries"]!.AsArray()[^1]!["at"]!)}"
        );
        var ids = first["entries"]!.AsArray().Concat(rest["entries"]!.AsArray()).Select(e => (string)e!["id"]!).ToList();
        Assert.Equal((122, 122, false), (ids.Count, ids.Distinct().Count(), (bool)rest["more"]!));
    }

    [Fact]
    public async Task What_a_visit_leaves_open_is_the_first_thing_the_next_one_shows()
    {
        var round = await Lines.Round(_ledger, "ly-05", "hums, does not turn");
        var visit = (string)(await _ledger.Get($"/api/rounds/{round}"))["visitId"]!;
        var (_, kept) = await _ledger.Send(
            HttpMethod.Put,
            $"/api/visits/{visit}",
            Edits.Visit(1, "hums, does not turn", "field open", ["field fuse out"], ["fuse 1 A gR"], 10, 50, "up to 90", "no")
        );
        Assert.NotNull(kept["agreedAt"]);
        var (_, called) = await _ledger.Post(
            $"/api/visits/{visit}/calls",
            new
            {
                id = Lines.NewId(),
                caseNumber = "H-12",
                said = "field first",
                personId = "bram",
            }
        );
        Assert.Equal(("H-12", "Bram"), ((string)called["calls"]![0]!["caseNumber"]!, (string)called["calls"]![0]!["person"]!));
        await _ledger.Post($"/api/visits/{visit}/end", new { version = 2, ending = "waitingForPart" });
        var brief = (await _ledger.Get("/api/machines/ly-05"))["brief"]!;
        Assert.Equal(
            ("waitingForPart", "field open", "field fuse out", "fuse 1 A gR"),
            ((string)brief["ending"]!, (string)brief["note"]!, (string)brief["left"]![0]!, (string)brief["bring"]![0]!)
        );
        var home = await _ledger.Get("/api/home");
        Assert.Contains(home["parts"]!.AsArray(), p => (string)p!["tag"]! == "LY-05" && (string)p["words"]![0]! == "fuse 1 A gR");
        Assert.Contains(home["care"]!.AsArray(), p => (string)p!["tag"]! == "LY-05");
        Assert.Equal("LY-05", (string)home["touched"]![0]!["tag"]!);
        var row = (await _ledger.Get("/api/machines?waitsForPart=true&find=LY-05"))["machines"]!.AsArray();
        Assert.True((bool)Assert.Single(row)!["needsCare"]!);
        // A signed visit closes what was open.
        var next = (string)(await _ledger.Get($"/api/rounds/{await Lines.Round(_ledger, "ly-05")}"))["visitId"]!;
        await _ledger.Post($"/api/visits/{next}/end", new { version = 1, ending = "signed" });
        Assert.Null((await _ledger.Get("/api/machines/ly-05"))["brief"]);
        var (wrong, problem) = await _ledger.Send(HttpMethod.Put, $"/api/visits/{next}", Edits.Visit(2, travelMinutes: -5));
        Assert.Equal((400, "travelMinutes"), (wrong, (string)problem["field"]!));
    }

    [Fact]
    public async Task The_call_card_has_what_support_asks_for()
    {
        var card = await _ledger.Get("/api/visits/ly01-v3/call-card");
        Assert.Equal(
            ("QP-S2-10773", "QP-2210", "7731"),
            ((string)card["serial"]!, (string)card["boards"]![0]!["partNumber"]!, (string)card["boards"]![0]!["serial"]!)
        );
        Assert.Contains(card["settings"]!.AsArray(), s => ((string)s!["code"]!, (string)s["value"]!) == ("P4", "8"));
        Assert.Equal(("SB-J2·1", "low"), ((string)card["readings"]![0]!["redPrinted"]!, (string)card["readings"]![0]!["verdict"]!));
        Assert.StartsWith("The loss is between SB-J1·1 and SB-J2·1", (string)card["stretch"]!, StringComparison.Ordinal);
        Assert.Equal("QS-20418", (string)card["visit"]!["calls"]![0]!["caseNumber"]!);
    }

    [Fact]
    public async Task A_plate_is_kept_as_read_and_doubted()
    {
        var page = await _ledger.Get("/api/machines/LY-09");
        var (status, edited) = await _ledger.Send(
            HttpMethod.Put,
            "/api/machines/ly-09",
            Edits.Plate(
                (int)page["version"]!,
                "LY-09",
                "Dental chair",
                "Pellimore",
                "Recline 4",
                "7.18E+06",
                "09/12",
                "230 V",
                "Clinic",
                "Dr. of the island"
            )
        );
        Assert.Equal((200, "7.18E+06", "09/12"), (status, (string)edited["serial"]!, (string)edited["built"]!));
        Assert.Contains("spreadsheet", (string)edited["serialDoubt"]!["doubt"]!, StringComparison.Ordinal);
        Assert.Contains("week 12 of 2009", edited["builtMayMean"]!.AsArray().Select(m => (string)m!));
        Assert.Equal("LY-09", (string)(await _ledger.Get("/api/machines?find=dr.%20of%20the%20island"))["machines"]![0]!["tag"]!);
        var (clash, both) = await _ledger.Send(HttpMethod.Put, "/api/machines/ly-09", Edits.Plate((int)page["version"]!, "LY-09", "Chair"));
        Assert.Equal((409, "Chair", "Dental chair"), (clash, (string)both["yours"]!["name"]!, (string)both["theirs"]!["name"]!));
        var (twice, problem) = await _ledger.Send(HttpMethod.Put, "/api/machines/ly-09", Edits.Plate((int)edited["version"]!, "LY-10"));
        Assert.Equal((400, "tag"), (twice, (string)problem["field"]!));
    }

    /// <summary>Whatever was written, each change put back in reverse gives the start.</summary>
    [Fact]
    public async Task Any_sequence_of_edits_put_back_gives_the_start()
    {
        const string Pin = "/api/board-types/thrumwick-log-c/pins/j2/j2-3";
        var note = Lines.NewId();
        await _ledger.Post(
            "/api/notes",
            new
            {
                id = note,
                machineId = "ly-03",
                visitId = (string?)null,
                text = "begin",
                personId = "edda",
            }
        );
        var fault = await Fault("begin", "ly-03");
        var start = await Texts();
        string[] words = ["red", "blue", "12 V", "", "ring", "loose"];
        var dice = Gen.Select(Gen.Int[0, 3], Gen.Int[0, 5].Select(i => words[i])).Array[12, 20].Array[3].Single();
        foreach (var edits in dice)
        {
            var made = new List<long>();
            foreach (var (which, word) in edits)
            {
                var text = word.Length > 0 ? word : "x";
                var (path, body, kind) = which switch
                {
                    0 => ($"/api/notes/{note}", (object)new { version = await Version($"/api/notes/{note}"), text }, $"Note/{note}"),
                    1 => (
                        $"/api/faults/{fault}",
                        Edits.Fault(
                            await Version($"/api/faults/{fault}"),
                            text,
                            word,
                            parts: [word],
                            minutes: word.Length,
                            held: word.Length > 3 ? "held" : "notKnown"
                        ),
                        $"Fault/{fault}"
                    ),
                    2 => (
                        "/api/machines/ly-03",
                        Edits.Plate(
                            await Version("/api/machines/ly-03"),
                            "LY-03",
                            text,
                            "Thrumwick",
                            "Hawser 1600 boat lift",
                            word,
                            word,
                            word,
                            "North slip",
                            word
                        ),
                        "Machine/ly-03"
                    ),
                    _ => (
                        Pin,
                        new
                        {
                            version = await PinVersion(),
                            label = "3",
                            colours = word is "red" or "blue" ? word : "",
                            signal = word,
                        },
                        "Pin/thrumwick-log-c/j2/j2-3"
                    ),
                };
                var (status, answer) = await _ledger.Send(HttpMethod.Put, path, body, "bram");
                Assert.True(status == 200, answer.ToJsonString());
                made.Add((long)(await _ledger.Get($"/api/edits/{kind}"))[0]!["id"]!);
            }

            // The same edit twice in the list is a write that changed nothing and so was not logged.
            foreach (var id in Enumerable.Reverse(made).Distinct())
            {
                Assert.Equal(200, (await _ledger.Post($"/api/edits/{id}/put-back", new { }, "edda")).Status);
            }

            Assert.Equal(start, await Texts());
        }

        async Task<int> Version(string path) => (int)(await _ledger.Get(path))["version"]!;
        async Task<int> PinVersion() => (int)(await Map())["version"]!;
        async Task<JsonNode> Map() =>
            (await _ledger.Get("/api/machines/LY-03/boards/log/map"))["pins"]!.AsArray().Single(p => (string)p!["id"]! == "j2-3")!;
        async Task<string> Texts()
        {
            var (n, f, m, p) = (
                await _ledger.Get($"/api/notes/{note}"),
                await _ledger.Get($"/api/faults/{fault}"),
                await _ledger.Get("/api/machines/ly-03"),
                await Map()
            );
            return string.Join(
                '|',
                n["text"],
                f["noticed"],
                f["proof"],
                f["parts"]!.ToJsonString(),
                f["minutes"],
                f["held"],
                m["name"],
                m["serial"],
                m["built"],
                m["supply"],
                m["site"],
                m["customer"],
                p["signal"],
                p["colourWords"]
            );
        }
    }

    private async Task<string> Fault(string noticed, string machineId = "ly-07")
    {
        var id = Lines.NewId();
        var (status, body) = await _ledger.Post(
            "/api/faults",
            new
            {
                id,
                machineId,
                roundId = (string?)null,
                noticed,
                personId = "edda",
            },
            "edda"
        );
        Assert.True(status == 200, body.ToJsonString());
        return id;
    }
}
