using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Visits;

public sealed class VisitTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task A_visit_sent_twice_is_one_visit()
    {
        var visit = new
        {
            id = Lines.NewId(),
            roundId = Lines.NewId(),
            machineId = "ly-04",
            complaint = "squeals",
            personId = "bram",
        };
        await _ledger.Post("/api/visits", visit);
        var (status, again) = await _ledger.Post("/api/visits", visit);
        Assert.Equal(
            (200, "squeals", "Bram", 1),
            (status, (string)again["complaint"]!, (string)again["person"]!, again["rounds"]!.AsArray().Count)
        );
        Assert.Single((await Page())["visits"]!.AsArray(), v => (string)v!["id"]! == visit.id);
    }

    [Theory]
    [InlineData("none", "bram", 404)]
    [InlineData("ly-04", "none", 400)]
    public async Task A_visit_needs_a_machine_and_a_person(string machineId, string personId, int expected) =>
        Assert.Equal(
            expected,
            (
                await _ledger.Post(
                    "/api/visits",
                    new
                    {
                        id = Lines.NewId(),
                        roundId = Lines.NewId(),
                        machineId,
                        complaint = "",
                        personId,
                    }
                )
            ).Status
        );

    [Fact]
    public async Task A_visit_is_left_half_done_goes_on_and_ends_in_an_honest_way()
    {
        var id = Lines.NewId();
        await _ledger.Post(
            "/api/visits",
            new
            {
                id,
                roundId = Lines.NewId(),
                machineId = "ly-04",
                complaint = "",
                personId = "bram",
            }
        );
        var (_, visit) = await _ledger.Post($"/api/visits/{id}/rounds", new { id = Lines.NewId() });
        Assert.Equal(2, visit["rounds"]!.AsArray().Count);
        (_, visit) = await _ledger.Send(HttpMethod.Put, $"/api/visits/{id}", Edits.Visit(1, complaint: "belt slips"));
        Assert.Equal(2, (int)visit["version"]!);
        var (clash, both) = await _ledger.Post($"/api/visits/{id}/end", new { version = 1, ending = "signed" });
        Assert.Equal((409, "signed"), (clash, (string)both["yours"]!["ending"]!));
        var (ended, now) = await _ledger.Post($"/api/visits/{id}/end", new { version = 2, ending = "leftSafe" });
        Assert.Equal((200, "leftSafe"), (ended, (string)now["ending"]!));
        var (refused, problem) = await _ledger.Post($"/api/visits/{id}/rounds", new { id = Lines.NewId() });
        Assert.Equal((409, "The visit has ended; start a new one."), (refused, (string)problem["detail"]!));
        Assert.Equal(
            ["Modified", "Modified", "Added"],
            (await _ledger.Get($"/api/edits/Visit/{id}")).AsArray().Select(e => (bool)e!["began"]! ? "Added" : "Modified")
        );
    }

    /// <summary>Before a visit ends: what it did, what reads bad still, and what protects and was not operated.</summary>
    [Fact]
    public async Task What_is_to_be_looked_at_before_signing_is_listed()
    {
        var round = await Lines.Round(_ledger);
        var view = await _ledger.Get($"/api/rounds/{round}");
        var (visit, key) = (
            (string)view["visitId"]!,
            (string)
                view["rows"]!
                    .AsArray()
                    .First(r =>
                        (string)r!["mode"]! == "dcVolts"
                        && (bool)r["energised"]!
                        && ((string)r["limit"]!).StartsWith("24", StringComparison.Ordinal)
                    )!["key"]!
        );
        var empty = await _ledger.Get($"/api/visits/{visit}/before-ending");
        Assert.Equal(
            ("", 0, "emergency stop"),
            ((string)empty["done"]!, empty["stillBad"]!.AsArray().Count, (string)Assert.Single(empty["notOperated"]!.AsArray())!["name"]!)
        );
        await _ledger.Post($"/api/rounds/{round}/lines", Lines.Taken(view, key, "3.1"));
        var bad = await _ledger.Get($"/api/visits/{visit}/before-ending");
        Assert.Equal("1 reading taken.", (string)bad["done"]!);
        Assert.Contains("3.1 V", (string)Assert.Single(bad["stillBad"]!.AsArray())!, StringComparison.Ordinal);
        var (status, said) = await Safety.MakingSafe.Event(_ledger, visit, "deviceOperated", "stop");
        Assert.True(status == 200, said.ToJsonString());
        await _ledger.Post($"/api/rounds/{round}/lines", Lines.Taken(view, key, "24.4"));
        var good = await _ledger.Get($"/api/visits/{visit}/before-ending");
        Assert.Equal(
            ("Operated emergency stop. 1 reading taken.", 0, 0),
            ((string)good["done"]!, good["stillBad"]!.AsArray().Count, good["notOperated"]!.AsArray().Count)
        );
    }

    [Fact]
    public async Task An_ending_that_is_not_in_the_list_is_refused() =>
        Assert.Equal(400, (await _ledger.Post("/api/visits/v3/end", new { version = 1, ending = "gone" })).Status);

    [Fact]
    public async Task One_name_is_one_person_on_every_device()
    {
        var (_, first) = await _ledger.Post("/api/people", new { id = Lines.NewId(), name = " Torhild " });
        var (_, second) = await _ledger.Post("/api/people", new { id = Lines.NewId(), name = "Torhild" });
        Assert.Equal(((string)first["id"]!, "Torhild"), ((string)second["id"]!, (string)second["name"]!));
        var (status, problem) = await _ledger.Post("/api/people", new { id = "a b", name = "X" });
        Assert.Equal((400, "id"), (status, (string)problem["field"]!));
        (status, problem) = await _ledger.Post("/api/people", new { id = "ab", name = new string('x', 61) });
        Assert.Equal((400, "The name has 61 signs; at most 60 fit."), (status, (string)problem["detail"]!));
    }

    [Theory]
    [InlineData("ly-04")]
    [InlineData("LYO4")]
    [InlineData("cd 22 o8I6")]
    [InlineData("ferry")]
    [InlineData("trundle")]
    [InlineData("41877")]
    public async Task The_find_box_forgives_case_spaces_dashes_and_lookalikes(string typed) =>
        Assert.Equal("LY-04", (string)(await _ledger.Get($"/api/machines?find={Uri.EscapeDataString(typed)}"))["machines"]![0]!["tag"]!);

    [Fact]
    public async Task What_is_so_on_this_machine_only_says_why()
    {
        var view = await _ledger.Get("/api/rounds/r3");
        var supply = view["rows"]!.AsArray().Single(r => (string)r!["key"]! == "ps")!;
        Assert.Equal(
            ("25 V ±3 %", "LY-04 only: supply set high on purpose so that zone 4 stays above its minimum"),
            ((string)supply["limit"]!, (string)supply["limitOrigin"]!)
        );
        var other = view["rows"]!.AsArray().Single(r => (string)r!["key"]! == "es")!;
        Assert.Equal("model Trundle 4 luggage belt", (string)other["limitOrigin"]!);
    }

    [Fact]
    public async Task The_page_shows_what_is_fitted_now_and_what_is_to_mend()
    {
        var page = await Page();
        var zone3 = page["boards"]!.AsArray().Single(b => (string)b!["positionId"]! == "z3")!;
        Assert.Equal(("41877", "2.4", "2025-10-14"), ((string)zone3["serial"]!, (string)zone3["firmware"]!, (string)zone3["from"]!));
        Assert.Empty(page["toMend"]!.AsArray());
        Assert.Equal(
            ["Zone 2 lets boxes run together", "Zone 3 does not see any box since the storm"],
            page["faults"]!.AsArray().Select(f => (string)f!["noticed"]!).Where(n => n.StartsWith("Zone", StringComparison.Ordinal))
        );
    }

    private Task<JsonNode> Page() => _ledger.Get("/api/machines/ly-04");
}
