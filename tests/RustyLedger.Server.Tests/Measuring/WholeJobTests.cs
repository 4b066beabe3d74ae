using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Measuring;

public sealed class WholeJobTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task A_machine_is_found_measured_and_its_fault_written_up_and_closed_with_its_proof()
    {
        var found = await _ledger.Get("/api/machines?find=ly%20o4");
        Assert.Equal("LY-04", (string)Assert.Single(found["machines"]!.AsArray())!["tag"]!);
        var round = await Lines.Round(_ledger);
        var view = await _ledger.Get($"/api/rounds/{round}");
        foreach (var (key, typed) in (List<(string, string)>)[("ps", "24.9"), ("z2/on", "24.4"), ("z4/in", "16.8")])
        {
            view = await Lines.Send(_ledger, round, view, Lines.Taken(view, key, typed));
        }

        var path = view["paths"]!.AsArray().Single(p => (string)p!["state"]! == "running")!;
        var stretch = Assert.Single(path["stretches"]!.AsArray())!;
        Assert.StartsWith("The loss is between Z2-J2·4 and Z4-J1·1: ", (string)stretch["sentence"]!, StringComparison.Ordinal);
        Assert.Contains((string)view["nextKey"]!, (string[])["z3/in", "z3/on"]);
        Assert.Equal("opens a bad stretch of 3 places", (string)view["effect"]!);
        Assert.Equal(("low", "below the limit"), ((string)view["last"]!["verdict"]!, (string)view["last"]!["rule"]!));

        var id = Lines.NewId();
        var (_, fault) = await _ledger.Post(
            "/api/faults",
            new
            {
                id,
                machineId = (string?)null,
                roundId = round,
                noticed = "",
                personId = "edda",
            },
            "edda"
        );
        Assert.Equal("zone 4 stops", (string)fault["noticed"]!);
        Assert.StartsWith("The loss is between Z2-J2·4 and Z4-J1·1", (string)fault["found"]!, StringComparison.Ordinal);
        Assert.Equal(3, fault["evidence"]!.AsArray().Count);
        Assert.Equal(
            ("Z4-J1·1 to Z4-J1·2, belt running: 16.8 V, low of 24.5 V ±6 %", "low"),
            ((string)fault["evidence"]![2]!["words"]!, (string)fault["evidence"]![2]!["verdict"]!)
        );

        object Edit(int version, string proof) => Edits.Fault(version, "zone 4 stops", proof, "contactOrWire", close: true);
        var (refused, problem) = await _ledger.Send(HttpMethod.Put, $"/api/faults/{id}", Edit(1, ""));
        Assert.Equal((400, "proof"), (refused, (string)problem["field"]!));
        var (closed, _) = await _ledger.Send(HttpMethod.Put, $"/api/faults/{id}", Edit(1, "drop of 7.6 V across the crimp at 3 A"), "bram");
        Assert.Equal(200, closed);
        var (clash, both) = await _ledger.Send(HttpMethod.Put, $"/api/faults/{id}", Edit(1, "another proof"));
        Assert.Equal(
            (409, "another proof", "drop of 7.6 V across the crimp at 3 A"),
            (clash, (string)both["yours"]!["proof"]!, (string)both["theirs"]!["proof"]!)
        );
        var edits = (await _ledger.Get($"/api/edits/Fault/{id}")).AsArray();
        Assert.Equal(["Bram", "Edda"], edits.Select(e => (string)e!["person"]!));
        Assert.Contains(
            edits[0]!["changes"]!.AsArray(),
            c => ((string)c!["field"]!, (string)c["before"]!, (string)c["after"]!) == ("Proof", "", "drop of 7.6 V across the crimp at 3 A")
        );
        var page = await _ledger.Get("/api/machines/LY-04");
        Assert.Equal(id, (string)page["faults"]![0]!["id"]!);
    }

    [Fact]
    public async Task The_sample_visit_is_half_done_with_its_stretch_showing()
    {
        var view = await _ledger.Get("/api/rounds/r3");
        Assert.Equal(7, (int)view["taken"]!);
        var stretch = view["paths"]![0]!["stretches"]!.AsArray().Single()!;
        Assert.Equal("Z3-J1·1", (string)stretch["bad"]!);
        Assert.Equal(["Z1-J2·4"], stretch["goodEnds"]!.AsArray().Select(g => (string)g!));
        Assert.Equal(2, view["paths"]![0]!["explained"]!.AsArray().Count);
        Assert.Single(view["extras"]!.AsArray());
    }

    [Fact]
    public async Task The_same_line_twice_is_written_once_and_another_text_under_its_id_is_a_clash()
    {
        var round = await Lines.Round(_ledger);
        var line = Lines.Taken(await _ledger.Get($"/api/rounds/{round}"), "ps", "24.9");
        var sent = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => _ledger.Post($"/api/rounds/{round}/lines", line)));
        Assert.All(sent, s => Assert.Equal(200, s.Status));
        var (status, view) = await _ledger.Post($"/api/rounds/{round}/lines", line);
        Assert.Equal((200, 1, 1), (status, (int)view["taken"]!, (int)Row(view, "ps")["takes"]!));
        var (clash, both) = await _ledger.Post($"/api/rounds/{round}/lines", line.But("typed", "12"));
        Assert.Equal((409, "12", "24.9"), (clash, (string)both["yours"]!["typed"]!, (string)both["theirs"]!["typed"]!));
    }

    [Fact]
    public async Task A_line_is_answered_with_what_it_changed()
    {
        var round = await Lines.Round(_ledger);
        var view = await _ledger.Get($"/api/rounds/{round}");
        var (_, change) = await _ledger.Post($"/api/rounds/{round}/lines", Lines.Taken(view, "es", "24.4"));
        Assert.Equal(["es"], change["rows"]!.AsArray().Select(r => (string)r!["key"]!));
        Assert.Null(change["pins"]);
    }

    [Fact]
    public async Task A_retake_supersedes_a_take_back_retracts_and_a_skip_stands_aside()
    {
        var round = await Lines.Round(_ledger);
        var view = await _ledger.Get($"/api/rounds/{round}");
        view = await Lines.Send(_ledger, round, view, Lines.Taken(view, "ps", "20"));
        var retake = Lines.Taken(view, "ps", "24.9");
        view = await Lines.Send(_ledger, round, view, retake);
        Assert.Equal(("24.9 V", 2), ((string)Row(view, "ps")["reading"]!["value"]!, (int)Row(view, "ps")["takes"]!));
        view = await Lines.Send(
            _ledger,
            round,
            view,
            Lines.Taken(view, "ps", "").But("kind", "retracted").But("target", (string)retake["id"]!)
        );
        Assert.Equal(("20 V", "low"), ((string)Row(view, "ps")["reading"]!["value"]!, (string)Row(view, "ps")["reading"]!["verdict"]!));
        view = await Lines.Send(_ledger, round, view, Lines.Taken(view, "es", "").But("kind", "skipped").But("reason", "later"));
        Assert.Equal("later", (string)Row(view, "es")["skipped"]!);
        var (status, problem) = await _ledger.Post(
            $"/api/rounds/{round}/lines",
            Lines.Taken(view, "ps", "").But("kind", "retracted").But("target", "nothing")
        );
        Assert.Equal((400, "target"), (status, (string)problem["field"]!));
    }

    [Fact]
    public async Task A_reading_keeps_the_limit_it_was_judged_by()
    {
        var round = await Lines.Round(_ledger);
        var (_, view) = await _ledger.Post(
            $"/api/rounds/{round}/lines",
            Lines.Taken(await _ledger.Get($"/api/rounds/{round}"), "es", "20").But("limit", "20 V ±1 %")
        );
        var row = Row(view, "es");
        Assert.Equal(
            ("24.5 V ±6 %", "20 V ±1 %", "within"),
            ((string)row["limit"]!, (string)row["reading"]!["limit"]!, (string)row["reading"]!["verdict"]!)
        );
    }

    [Theory]
    [InlineData("1,200", "Not understood", 1)]
    [InlineData("24 Ω", "Not understood", 0)]
    [InlineData("twelve", "Not understood", 0)]
    public async Task A_reading_not_understood_is_refused_with_its_place(string typed, string title, int at)
    {
        var (status, problem) = await Post(typed);
        Assert.Equal((400, title, "typed", at), (status, (string)problem["title"]!, (string)problem["field"]!, (int)problem["at"]!));
        Assert.NotEmpty((string)problem["example"]!);
    }

    [Fact]
    public async Task Two_readings_ask_which_and_the_choice_is_kept_with_the_text()
    {
        var (status, problem) = await Post("26.9 / 24.1");
        Assert.Equal((422, "26.9 V, 24.1 V"), (status, string.Join(", ", problem["choices"]!.AsArray().Select(c => (string)c!))));
        var (stored, view) = await Post("26.9 / 24.1", choice: 1);
        Assert.Equal((200, "24.1 V", "26.9 / 24.1"), (stored, (string)view["last"]!["value"]!, (string)view["last"]!["typed"]!));
    }

    [Fact]
    public async Task An_extra_reading_between_any_two_pins_needs_no_check()
    {
        var round = await Lines.Round(_ledger);
        var view = await _ledger.Get($"/api/rounds/{round}");
        var line = Lines.Taken(view, "ps", "0.07").But("checkKey", null).But("limit", null);
        line["red"] = new JsonObject
        {
            ["address"] = new JsonObject { ["position"] = "z4", ["pin"] = "j1-2" },
            ["printed"] = "Z4-J1·2",
        };
        (_, view) = await _ledger.Post($"/api/rounds/{round}/lines", line);
        var extra = Assert.Single(view["extras"]!.AsArray())!;
        Assert.Equal(
            ("Z4-J1·2", "PS·-", "within"),
            ((string)extra["redPrinted"]!, (string)extra["blackPrinted"]!, (string)extra["verdict"]!)
        );
    }

    [Fact]
    public async Task A_person_who_is_not_in_the_ledger_cannot_sign_a_reading()
    {
        var round = await Lines.Round(_ledger);
        var (status, problem) = await _ledger.Post(
            $"/api/rounds/{round}/lines",
            Lines.Taken(await _ledger.Get($"/api/rounds/{round}"), "ps", "24").But("personId", "nobody")
        );
        Assert.Equal((400, "personId"), (status, (string)problem["field"]!));
    }

    private static JsonNode Row(JsonNode view, string key) => view["rows"]!.AsArray().Single(r => (string)r!["key"]! == key)!;

    private async Task<(int Status, JsonNode Body)> Post(string typed, int? choice = null)
    {
        var round = await Lines.Round(_ledger);
        return await _ledger.Post(
            $"/api/rounds/{round}/lines",
            Lines.Taken(await _ledger.Get($"/api/rounds/{round}"), "ps", typed).But("choice", choice)
        );
    }
}
