using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Safety;

namespace RustyLedger.Server.Tests.Boards;

public sealed class LookTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Fact]
    public async Task What_elements_say_follows_how_the_board_is_faced()
    {
        async Task<JsonNode> Element(string query, string designator) =>
            (await _ledger.Get($"/api/machines/LY-08/boards/cb/map?{query}"))["elements"]!
                .AsArray()
                .Single(e => (string)e!["designator"]! == designator)!;
        string Line(JsonNode element, string name) =>
            (string)element["lines"]!.AsArray().Single(l => ((string)l!["name"]!).StartsWith(name, StringComparison.Ordinal))!["text"]!;
        Assert.Equal("the left pair", (string)(await Element("turns=0", "JP1"))["positions"]![0]!["where"]!);
        Assert.Equal("the right pair", (string)(await Element("side=solder", "JP1"))["positions"]![0]!["where"]!);
        Assert.Equal("the upper pair", (string)(await Element("turns=1", "JP1"))["positions"]![0]!["where"]!);
        Assert.Equal(
            ("clockwise", "anticlockwise"),
            (Line(await Element("turns=3", "R12"), "raised"), Line(await Element("side=mating", "R12"), "raised"))
        );
        Assert.Equal(
            ("first from the left, slid up", "fourth from the left, slid down"),
            (
                (string)(await Element("turns=0", "S1"))["positions"]![0]!["where"]!,
                (string)(await Element("turns=2", "S1"))["positions"]![0]!["where"]!
            )
        );
        Assert.Equal("that there are 12: it is lit from about 2 V", Line(await Element("turns=0", "DS1"), "does not prove"));
    }

    [Fact]
    public async Task A_build_says_which_position_it_needs()
    {
        var elements = (await _ledger.Get("/api/machines/LY-10/boards/seq/map"))["elements"]!.AsArray();
        Assert.Equal("3.15 A T", (string)elements.Single(e => (string)e!["designator"]! == "F1")!["must"]!);
        var jumper = elements.Single(e => (string)e!["designator"]! == "JP1")!;
        Assert.Equal("C-230", (string)jumper["must"]!);
        var required = Assert.Single(jumper["positions"]!.AsArray(), p => (bool)p!["isRequired"]!)!;
        Assert.Equal(
            ("C-230", "the right pair", "230 V supply"),
            ((string)required["name"]!, (string)required["where"]!, (string)required["meaning"]!)
        );
    }

    [Fact]
    public async Task The_visit_remembers_how_each_board_is_faced()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-08");
        async Task<JsonNode> Face(string position, int turns, string side) =>
            (await _ledger.Send(HttpMethod.Put, $"/api/machines/LY-08/boards/{position}/facing", new { turns, side }, "edda")).Body;
        await Face("cb", 2, "component");
        await Face("dp", 0, "wire");
        var faced = await Face("cb", 3, "solder");
        Assert.Equal(visit, (string)faced["visitId"]!);
        Assert.Equal(
            ["cb 3 solder", "dp 0 wire"],
            faced["boards"]!.AsArray().Select(b => $"{b!["positionId"]} {b["turns"]} {b["side"]}").Order()
        );
        Assert.Equal(
            404,
            (await _ledger.Send(HttpMethod.Put, "/api/machines/LY-08/boards/zz/facing", new { turns = 1, side = "wire" }, "edda")).Status
        );
        Assert.Equal("turns", (string)(await Face("cb", 4, "wire"))["field"]!);
        await _ledger.Post($"/api/visits/{visit}/end", new { version = 1, ending = "noFaultFound" });
        Assert.Empty((await _ledger.Get("/api/machines/LY-08/facings"))["boards"]!.AsArray());
    }

    [Fact]
    public async Task What_the_eye_found_is_pinned_where_it_is_and_counts_as_looked()
    {
        var visit = await MakingSafe.Begin(_ledger, "ly-05");
        object Note(string kind, string? element = null, double? x = null, double? y = null, string text = "", string reason = "") =>
            new
            {
                id = Lines.NewId(),
                kind,
                elementId = element,
                pinId = (string?)null,
                x,
                y,
                turns = 2,
                side = "component",
                text,
                reason,
                photographId = (string?)null,
                visitId = visit,
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            };
        const string At = "/api/machines/ly-05/boards/rg/notes";
        var (status, notes) = await _ledger.Post(At, Note("swollen", "k1"));
        Assert.Equal((200, "K1", true), (status, (string)notes[0]!["where"]!, (bool)notes[0]!["isFound"]!));
        // Tapped near the upper left corner of a board that hangs upside down: that is its lower right.
        var tapped = (await _ledger.Post(At, Note("lint", x: 5, y: 4))).Body.AsArray().Single(n => (string)n!["kind"]! == "lint")!;
        Assert.Equal((5, 4), ((int)(double)tapped["x"]!, (int)(double)tapped["y"]!));
        var upright = (await _ledger.Get("/api/machines/ly-05/boards/rg/map"))["notes"]!
            .AsArray()
            .Single(n => (string)n!["id"]! == (string)tapped["id"]!)!;
        Assert.Equal((175, 116), ((int)(double)upright["x"]!, (int)(double)upright["y"]!));
        Assert.Equal("reason", (string)(await _ledger.Post(At, Note("deviation", "k1", text: "bridged"))).Body["field"]!);
        Assert.Equal("x", (string)(await _ledger.Post(At, Note("lint", x: 500, y: 4))).Body["field"]!);
        Assert.Equal("elementId", (string)(await _ledger.Post(At, Note("lint", "k77"))).Body["field"]!);

        var pins = (await _ledger.Get("/api/machines/ly-05/boards/rg/map"))["notes"]!
            .AsArray()
            .Single(n => (string)n!["kind"]! == "swollen")!["nearPins"]!
            .AsArray()
            .Select(p => (string)p!)
            .ToList();
        Assert.Contains("k1-1", pins);
        Assert.DoesNotContain("j2-1", pins);

        JsonNode Step(JsonNode start) => start["steps"]!.AsArray().Single(s => (string)s!["step"]! == "look")!;
        Assert.Equal(
            ("open", "2 things found"),
            (
                (string)Step(await _ledger.Get($"/api/visits/{visit}/start"))["status"]!,
                (string)Step(await _ledger.Get($"/api/visits/{visit}/start"))["words"]!
            )
        );
        var (_, looked) = await _ledger.Post(
            $"/api/visits/{visit}/observations",
            new
            {
                id = Lines.NewId(),
                kind = "lookedOver",
                text = "Boards looked over",
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            }
        );
        Assert.Equal(("done", "2 things found"), ((string)Step(looked)["status"]!, (string)Step(looked)["words"]!));

        // What was seen is evidence for the fault that is written up from the round.
        var round = (string)(await _ledger.Get($"/api/visits/{visit}/start"))["lastRoundId"]!;
        await _ledger.Post(
            $"/api/visits/{visit}/observations",
            new
            {
                id = Lines.NewId(),
                kind = "lamp",
                text = "DS3 red, steady",
                at = DateTimeOffset.UtcNow,
                personId = "edda",
            }
        );
        var (_, fault) = await _ledger.Post(
            "/api/faults",
            new
            {
                id = Lines.NewId(),
                machineId = (string?)null,
                roundId = round,
                noticed = "",
                personId = "edda",
            }
        );
        Assert.Equal(
            ["regulator: swollen at K1", "regulator: lint at a place on the board", "DS3 red, steady"],
            fault["evidence"]!.AsArray().Select(e => (string)e!["words"]!)
        );

        var id = (string)notes[0]!["id"]!;
        object Edit(int version, string text) =>
            new
            {
                version,
                kind = "swollen",
                text,
                reason = "",
                photographId = (string?)null,
            };
        Assert.Equal(200, (await _ledger.Send(HttpMethod.Put, $"/api/board-notes/{id}", Edit(1, "its coil side"), "edda")).Status);
        var (clash, both) = await _ledger.Send(HttpMethod.Put, $"/api/board-notes/{id}", Edit(1, "its contact side"), "bram");
        Assert.Equal((409, "its coil side"), (clash, (string)both["theirs"]!["text"]!));
        Assert.Contains(
            (await _ledger.Get("/api/machines/ly-05/timeline?kind=seen"))["entries"]!.AsArray(),
            e => (string)e!["title"]! == "its coil side"
        );
        Assert.Equal(System.Net.HttpStatusCode.NoContent, (await _ledger.Http.PostAsync($"/api/board-notes/{id}/retire", null)).StatusCode);
        Assert.DoesNotContain((await _ledger.Get("/api/machines/ly-05/boards/rg/map"))["notes"]!.AsArray(), n => (string)n!["id"]! == id);
        Assert.Equal(
            ["wrote", "began"],
            (await _ledger.Get($"/api/edits/BoardNote/{id}")).AsArray().Skip(1).Select(e => (bool)e!["began"]! ? "began" : "wrote")
        );
    }

    [Fact]
    public async Task Elements_of_every_kind_go_through_the_tables_and_the_machine_file()
    {
        const string Board = "/api/board-types/stenwath-sw204-c";
        object Cell(string column, string before, string text) =>
            new
            {
                kind = "set",
                row = "element",
                parent = "",
                id = "rly",
                column,
                before,
                text,
            };
        object Add(string kind) =>
            new
            {
                kind = "add",
                row = "element",
                parent = "",
                id = "rly",
                column = (string?)null,
                before = "",
                text = "",
                cells = new { kind },
            };
        async Task<JsonNode> Change(params object[] edits) => (await _ledger.Post($"{Board}/tables", edits)).Body;
        async Task<string> Refused(params object[] edits) => (string)(await Change(edits))["problems"]![0]!["message"]!;
        await Change(Add("jumper"));
        Assert.Equal("JP2", (string)Row(await _ledger.Get($"{Board}/tables"))["designator"]!);
        await Change(Cell("positions", "", "1-2: slow ;2-3: fast"), Cell("kind", "jumper", "jumper"));
        Assert.Equal("1-2: slow; 2-3: fast", (string)Row(await _ledger.Get($"{Board}/tables"))["positions"]!);
        Assert.Equal(
            "\"fast\" does not say what it means; write for example 1-2: slow; 2-3: fast.",
            await Refused(Cell("positions", "1-2: slow; 2-3: fast", "1-2: slow; fast"))
        );
        Assert.Equal("1-2 stands twice.", await Refused(Cell("positions", "1-2: slow; 2-3: fast", "1-2: slow; 1-2: fast")));
        Assert.Equal("\"sideways\" is none of not known, clockwise, anticlockwise.", await Refused(Cell("raises", "", "sideways")));
        Assert.Contains("\"many\" is not a number", await Refused(Cell("turns", "", "many")), StringComparison.Ordinal);
        var change = (await _ledger.Get("/api/edits/Element/stenwath-sw204-c/rly"))[0]!["changes"]!.AsArray();
        Assert.Contains(change, c => (string)c!["after"]! == "fast");

        var size = await _ledger.Send(
            HttpMethod.Put,
            $"{Board}/size",
            new
            {
                version = (int)(await _ledger.Get($"{Board}/tables"))["version"]!,
                widthMm = 152,
                heightMm = 2001,
            },
            "edda"
        );
        Assert.Equal((400, "heightMm"), (size.Status, (string)size.Body["field"]!));

        var file = await _ledger.Get("/api/machines/LY-08/file");
        var detail = file["boardTypes"]!.AsArray().SelectMany(b => b!["elements"]!.AsArray()).Single(e => (string)e!["id"]! == "rly")![
            "detail"
        ]!.AsObject();
        Assert.Equal(["positions"], detail.Select(d => d.Key));
        Assert.Equal(3, file["boardNotes"]!.AsArray().Count);
        Assert.Equal(7, file["photographs"]!.AsArray().Single(p => (string)p!["id"]! == "ly08-p3")!["points"]!.AsArray().Count);

        static JsonNode Row(JsonNode tables) => tables["rows"]!.AsArray().Single(r => (string)r!["id"]! == "rly")!["cells"]!;
    }
}
