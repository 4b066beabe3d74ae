using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Photographs;

public sealed class PlaceTests
{
    [Fact]
    public async Task From_a_photograph_with_no_model_to_a_pin_of_a_board_nothing_is_lost()
    {
        using var ledger = await TestLedger.Start();
        await ledger.Post("/api/people", new { id = "edda", name = "Edda" });
        var machine = Lines.NewId();
        var begun = Lines.Machine(machine, "LY-40", "Slip");
        Assert.Equal(200, (await ledger.Post("/api/machines", begun)).Status);
        Assert.Equal(200, (await ledger.Post("/api/machines", begun)).Status);
        Assert.Equal(409, (await ledger.Post("/api/machines", Lines.Machine(Lines.NewId(), "LY-40"))).Status);
        var (_, photograph) = await ledger.Photograph(Pictures.Of(), machine);
        var (photo, place) = ((string)photograph["id"]!, Lines.NewId());
        var (status, _) = await ledger.Post(
            $"/api/photographs/{photo}/places",
            new
            {
                id = place,
                x = 0.25,
                y = 0.5,
                name = "",
                note = "",
            }
        );
        Assert.Equal(200, status);
        var reading = new
        {
            id = Lines.NewId(),
            order = 1_800_000_000_000,
            visitId = Lines.NewId(),
            roundId = Lines.NewId(),
            mode = "dcVolts",
            typed = "11.8 dropping",
            choice = (int?)null,
            deviceTime = "2026-11-20T10:00:00Z",
            personId = "edda",
            meter = "",
        };
        await ledger.Post($"/api/places/{place}/readings", reading);
        var (_, read) = await ledger.Post($"/api/places/{place}/readings", reading);
        Assert.Equal(
            ("11.8 V", "dropping"),
            ((string)Assert.Single(read["readings"]!.AsArray())!["value"]!, (string)read["readings"]![0]!["remark"]!)
        );
        var (odd, problem) = await ledger.Post(
            $"/api/places/{place}/readings",
            new
            {
                id = Lines.NewId(),
                order = 1_800_000_000_001,
                visitId = Lines.NewId(),
                roundId = Lines.NewId(),
                mode = "dcVolts",
                typed = "twelve",
                choice = (int?)null,
                deviceTime = "2026-11-20T10:00:00Z",
                personId = "edda",
                meter = "",
            }
        );
        Assert.Equal((400, "typed"), (odd, (string)problem["field"]!));

        // The reading began a visit; it stands on the time line and leads back to the photograph.
        var timeline = await ledger.Get($"/api/machines/{machine}/timeline");
        Assert.Contains(
            timeline["entries"]!.AsArray(),
            e =>
                ((string)e!["kind"]!, (string)e["title"]!, (string)e["tail"]!, (string)e["id"]!)
                == ("reading", "place 1", "11.8 V", $"photograph/{photo}")
        );
        Assert.Single((await ledger.Get($"/api/machines/{machine}"))["visits"]!.AsArray());

        (_, var page) = await ledger.Post(
            $"/api/machines/{machine}/boards",
            new
            {
                id = Lines.NewId(),
                positionId = (string?)null,
                name = "main",
                partNumber = "OS-7",
                revision = "",
                serial = "",
                firmware = "",
                from = (string?)null,
            }
        );
        var position = (string)page["boards"]![0]!["positionId"]!;
        var (refused, why) = await ledger.Post(
            $"/api/places/{place}/pin",
            new
            {
                version = 1,
                positionId = position,
                designator = "CN1",
                label = "3",
                colours = "BL",
                signal = "",
            }
        );
        Assert.Equal(400, refused);
        Assert.Contains("may be black", (string)why["detail"]!, StringComparison.Ordinal);
        (_, var pin) = await ledger.Post(
            $"/api/places/{place}/pin",
            new
            {
                version = 1,
                positionId = position,
                designator = "CN1",
                label = "3",
                colours = "BU",
                signal = "12 V in",
            }
        );
        Assert.Equal(("B1-CN1·3", 1), ((string)pin["printed"]!, pin["readings"]!.AsArray().Count));
        var map = await ledger.Get($"/api/machines/{machine}/boards/{position}/map");
        var drawn = Assert.Single(map["pins"]!.AsArray())!;
        Assert.Equal(("B1-CN1·3", "blue", "12 V in"), ((string)drawn["printed"]!, (string)drawn["colourWords"]!, (string)drawn["signal"]!));
        var readings = (await ledger.Get($"/api/machines/{machine}/boards/{position}/pins/{drawn["id"]}/readings")).AsArray();
        Assert.Equal("11.8 V", (string)Assert.Single(readings)!["value"]!);

        // A second place becomes the same pin of the connector that is there now, and both give it their readings.
        var second = Lines.NewId();
        await ledger.Post(
            $"/api/photographs/{photo}/places",
            new
            {
                id = second,
                x = 0.3,
                y = 0.5,
                name = "again",
                note = "",
            }
        );
        await ledger.Post(
            $"/api/places/{second}/readings",
            new
            {
                id = Lines.NewId(),
                order = 1_800_000_000_002,
                visitId = "",
                roundId = "",
                mode = "dcVolts",
                typed = "12.1",
                choice = (int?)null,
                deviceTime = "2026-11-20T10:05:00Z",
                personId = "edda",
                meter = "",
            }
        );
        await ledger.Post(
            $"/api/places/{second}/pin",
            new
            {
                version = 1,
                positionId = position,
                designator = "cn1",
                label = "3",
                colours = "",
                signal = "12 V in, fused",
            }
        );
        Assert.Equal(
            ["12.1 V", "11.8 V"],
            (await ledger.Get($"/api/machines/{machine}/boards/{position}/pins/{drawn["id"]}/readings"))
                .AsArray()
                .Select(r => (string)r!["value"]!)
        );

        // All of it goes out and comes in elsewhere.
        var file = await ledger.Http.GetStringAsync("/api/machines/LY-40/file");
        using var other = await TestLedger.Start();
        Assert.Equal(200, (await other.Post("/api/machine-files", JsonNode.Parse(file)!)).Status);
        Assert.Equal(file, await other.Http.GetStringAsync("/api/machines/LY-40/file"));
        Assert.Equal(2, (await other.Get($"/api/photographs/{photo}"))["places"]!.AsArray().Count);
    }

    /// <summary>A switch in the panel is placed on its photograph; a reading there has its black probe and its state.</summary>
    [Fact]
    public async Task A_place_is_a_part_off_the_boards_and_is_read_against_another()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var machine = await ledger.Get("/api/machines/LY-04");
        var (_, photograph) = await ledger.Photograph(Pictures.Of(), (string)machine["id"]!);
        var photo = (string)photograph["id"]!;
        var page = await ledger.Get($"/api/photographs/{photo}");
        var part = page["parts"]![0]!;
        var (first, second) = (Lines.NewId(), Lines.NewId());
        foreach (var id in (string[])[first, second])
        {
            await ledger.Post(
                $"/api/photographs/{photo}/places",
                new
                {
                    id,
                    x = 0.5,
                    y = 0.5,
                    name = "",
                    note = "",
                }
            );
        }

        object Is(string? pin, string? of = null) =>
            new
            {
                version = 1,
                partId = of ?? (string)part["id"]!,
                pinId = pin,
            };
        Assert.Equal(404, (await ledger.Post($"/api/places/{first}/part", Is("no-such-pin"))).Status);
        Assert.Equal(404, (await ledger.Post($"/api/places/{first}/part", Is(null, "no-such-part"))).Status);
        var pin = part["pins"]![0]!;
        var (status, named) = await ledger.Post($"/api/places/{first}/part", Is((string)pin["id"]!));
        Assert.Equal((200, $"{part["designator"]}·{pin["label"]}"), (status, (string)named["printed"]!));
        Assert.Equal((string)part["id"]!, (string)named["address"]!["part"]!);
        var (_, whole) = await ledger.Post($"/api/places/{second}/part", Is(null));
        Assert.Equal((string)part["designator"]!, (string)whole["printed"]!);
        Assert.Null(whole["address"]);
        Assert.Equal(409, (await ledger.Post($"/api/places/{second}/part", Is(null))).Status);

        async Task<(int Status, System.Text.Json.Nodes.JsonNode Body)> Read(object? black, string? state)
        {
            var (read, body) = await ledger.Post(
                $"/api/places/{second}/readings",
                new
                {
                    id = Lines.NewId(),
                    order = DateTime.UtcNow.Ticks,
                    visitId = Lines.NewId(),
                    roundId = Lines.NewId(),
                    mode = "dcVolts",
                    typed = "24.1",
                    choice = (int?)null,
                    deviceTime = "2026-11-20T10:00:00Z",
                    personId = "edda",
                    meter = "",
                    black,
                    state,
                }
            );
            return (read, body);
        }

        var state = (string)page["states"]!.AsArray()[^1]!["code"]!;
        Assert.Equal((400, "state"), await Field(Read(null, "no-such-state")));
        Assert.Equal((400, "black"), await Field(Read(new { part = (string)part["id"]!, pin = "none" }, state)));
        var (ok, taken) = await Read(named["address"], state);
        Assert.Equal((200, state), (ok, (string)taken["readings"]![0]!["state"]!));

        static async Task<(int, string)> Field(Task<(int Status, System.Text.Json.Nodes.JsonNode Body)> asked)
        {
            var (status, body) = await asked;
            return (status, (string)body["field"]!);
        }
    }

    [Theory]
    [InlineData(1.2, 0.5)]
    [InlineData(-0.1, 0.5)]
    public async Task A_place_lies_on_its_picture(double x, double y)
    {
        using var ledger = await TestLedger.Start(demo: true);
        var (status, problem) = await ledger.Post(
            "/api/photographs/ly08-p1/places",
            new
            {
                id = Lines.NewId(),
                x,
                y,
                name = "",
                note = "",
            }
        );
        Assert.Equal((400, "x"), (status, (string)problem["field"]!));
    }
}
