using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Photographs;

/// <summary>
/// The layout laid on a photograph, over HTTP; the demo's boards were drawn in a perspective that the ledger does not know.
/// </summary>
public sealed class OverlayTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Theory]
    [InlineData("ly08-p3", 7)]
    [InlineData("ly05-p1", 6)]
    [InlineData("ly04-p1", 6)]
    public async Task The_demo_boards_lie_on_their_photographs(string photograph, int points)
    {
        var overlay = await _ledger.Get($"/api/photographs/{photograph}/overlay");
        Assert.True((bool)overlay["isLaid"]!);
        Assert.Equal(points, overlay["points"]!.AsArray().Count);
        Assert.InRange((double)overlay["rmsMm"]!, 0.001, 0.5);
        Assert.DoesNotContain(overlay["points"]!.AsArray(), p => (bool)p!["disagrees"]!);
        Assert.Equal(4, overlay["outline"]!.AsArray().Count);
        Assert.Equal(overlay["map"]!["pins"]!.AsArray().Count, overlay["pins"]!.AsArray().Count);
    }

    /// <summary>However the picture is turned, a tap on a pin names that pin, and the words go with the side.</summary>
    [Theory]
    [InlineData(0, "component", "second from the left")]
    [InlineData(2, "component", "second from the left")]
    [InlineData(1, "solder", "second from the top")]
    [InlineData(3, "mating", "second from the top")]
    [InlineData(0, "wire", "second from the left")]
    public async Task A_tapped_pin_is_named_in_every_facing(int turns, string side, string words)
    {
        var overlay = await _ledger.Get($"/api/photographs/ly08-p3/overlay?turns={turns}&side={side}");
        var pin = overlay["map"]!["pins"]!.AsArray().Single(p => (string)p!["printed"]! == "CB-J3·2")!;
        Assert.Equal(words, (string)pin["words"]!);
        var at = overlay["pins"]!.AsArray().Single(p => (string)p!["pinId"]! == (string)pin["id"]!)!;
        Assert.Equal(
            (turns % 2 == 1, side is "solder" or "mating"),
            ((int)overlay["width"]! < (int)overlay["height"]!, (bool)overlay["mirrored"]!)
        );
        var tapped = await _ledger.Post(
            "/api/photographs/ly08-p3/tapped",
            new
            {
                x = (double)at["x"]! + 3,
                y = (double)at["y"]! - 3,
                turns,
                side,
            }
        );
        Assert.Equal((200, "CB-J3·2, black, pulses"), (tapped.Status, (string)tapped.Body["words"]!));
    }

    [Fact]
    public async Task Upside_down_in_the_door_the_picture_is_turned_to_what_is_faced()
    {
        var overlay = await _ledger.Get("/api/photographs/ly05-p1/overlay");
        Assert.Equal((2, false), ((int)overlay["turns"]!, (bool)overlay["mirrored"]!));
        Assert.Equal(0, (int)(await _ledger.Get("/api/photographs/ly05-p1/overlay?turns=2"))["turns"]!);
    }

    [Fact]
    public async Task Points_are_marked_one_by_one_and_the_one_that_disagrees_is_named()
    {
        var laid = await _ledger.Get("/api/photographs/ly04-p1/overlay");
        var (_, photograph) = await _ledger.Photograph(Pictures.Of(), "ly-04");
        var id = (string)photograph["id"]!;
        var pins = laid["map"]!["pins"]!.AsArray();
        object Point(string printed, double offX = 0)
        {
            var pin = pins.Single(p => (string)p!["printed"]! == printed)!;
            // A picture taken squarely from above, five pixels to the millimetre.
            return new
            {
                elementId = (string)pin["elementId"]!,
                pinId = (string)pin["id"]!,
                corner = (string?)null,
                x = 20 + (3 * (double)pin["x"]!) + offX,
                y = 20 + (3 * (double)pin["y"]!),
            };
        }

        async Task<(int Status, JsonNode Body)> Mark(params object[] points) =>
            await _ledger.Send(
                HttpMethod.Put,
                $"/api/photographs/{id}/points",
                new
                {
                    version = await Version(id),
                    positionId = "z2",
                    points,
                    turns = 0,
                    side = "component",
                },
                "edda"
            );
        string[] printed = ["Z1-J1·1", "Z1-J2·3", "Z1-J4·1", "Z1-J3·PE", "Z1-F1·2", "Z1-F2·2", "Z1-J4·6"];
        var three = await Mark([.. printed.Take(3).Select(p => Point(p))]);
        Assert.Equal(
            (200, false, "One more point, and the layout lies on the picture."),
            (three.Status, (bool)three.Body["isLaid"]!, (string)three.Body["says"]!)
        );
        var all = await Mark([.. printed.Select(p => Point(p))]);
        Assert.Equal((true, "7 points agree to 0.0 mm."), ((bool)all.Body["isLaid"]!, (string)all.Body["says"]!));
        var off = await Mark([.. printed.Take(4).Select(p => Point(p)), Point(printed[4], 15), .. printed.Skip(5).Select(p => Point(p))]);
        Assert.Equal("F1·2 disagrees with the other 6 by 5.0 mm. Mark it again, or take it away.", (string)off.Body["says"]!);
        Assert.Equal("F1·2", (string)Assert.Single(off.Body["points"]!.AsArray(), p => (bool)p!["disagrees"]!)!["name"]!);

        var stale = await _ledger.Send(
            HttpMethod.Put,
            $"/api/photographs/{id}/points",
            new
            {
                version = 1,
                positionId = "z2",
                points = Array.Empty<object>(),
                turns = 0,
                side = "component",
            },
            "edda"
        );
        Assert.Equal(409, stale.Status);
        var twice = await Mark(Point(printed[0]), Point(printed[0]));
        Assert.Equal((400, "Point 2 is marked twice."), (twice.Status, (string)twice.Body["detail"]!));
        var beside = await Mark(Point(printed[0], 5000));
        Assert.Equal((400, "Point 1 lies beside the picture."), (beside.Status, (string)beside.Body["detail"]!));
        Assert.Equal(7, (await _ledger.Get($"/api/photographs/{id}/overlay"))["points"]!.AsArray().Count);
    }

    [Fact]
    public async Task A_connector_is_drawn_by_tapping_its_ends_and_taken_back()
    {
        var overlay = await _ledger.Get("/api/photographs/ly08-p3/overlay");
        // Where three pins of the flywheel sensor lie, a second row is drawn beneath.
        var places = overlay["map"]!["pins"]!
            .AsArray()
            .Where(p => ((string)p!["printed"]!).StartsWith("CB-J3·", StringComparison.Ordinal))
            .Select(p => overlay["pins"]!.AsArray().Single(q => (string)q!["pinId"]! == (string)p!["id"]!)!)
            .ToList();
        object Tap(int pin) =>
            new
            {
                x = (double)places[pin]["x"]!,
                y = (double)places[pin]["y"]!,
                turns = 0,
                side = "component",
            };
        var drawn = await _ledger.Post(
            "/api/photographs/ly08-p3/elements",
            new
            {
                id = "drawn-1",
                kind = "connector",
                designator = "J9",
                purpose = "",
                pins = 3,
                rows = 1,
                first = Tap(0),
                last = Tap(2),
            }
        );
        Assert.Equal(200, drawn.Status);
        var made = (await _ledger.Get("/api/board-types/stenwath-sw204-c/tables"))["rows"]!
            .AsArray()
            .Single(r => (string)r!["id"]! == "drawn-1")!["cells"]!;
        Assert.Equal(
            ("J9", "3.81", "across", "top left"),
            ((string)made["designator"]!, (string)made["pitch"]!, (string)made["direction"]!, (string)made["pin1"]!)
        );
        Assert.InRange(double.Parse((string)made["x"]!, System.Globalization.CultureInfo.InvariantCulture), 13.7, 14.3);
        var twice = await _ledger.Post(
            "/api/photographs/ly08-p3/elements",
            new
            {
                id = "drawn-2",
                kind = "fuse",
                designator = "J9",
                purpose = "",
                pins = 2,
                rows = 1,
                first = Tap(0),
                last = Tap(2),
            }
        );
        Assert.Equal((400, "J9 stands twice on this board."), (twice.Status, (string)twice.Body["detail"]!));
        var crowded = await _ledger.Post(
            "/api/photographs/ly08-p3/elements",
            new
            {
                id = "drawn-3",
                kind = "fuse",
                designator = "J10",
                purpose = "",
                pins = 80,
                rows = 1,
                first = Tap(0),
                last = Tap(1),
            }
        );
        Assert.Contains("do not fit between these two places", (string)crowded.Body["detail"]!, StringComparison.Ordinal);

        var back = drawn.Body["edits"]!
            .AsArray()
            .Reverse()
            .Select(e =>
            {
                e!["kind"] = "remove";
                return e.DeepClone();
            })
            .ToArray();
        Assert.Equal(200, (await _ledger.Post("/api/board-types/stenwath-sw204-c/tables", new JsonArray(back))).Status);
        Assert.DoesNotContain(
            (await _ledger.Get("/api/board-types/stenwath-sw204-c/tables"))["rows"]!.AsArray(),
            r => (string)r!["id"]! == "drawn-1"
        );
    }

    private async Task<int> Version(string photograph) => (int)(await _ledger.Get($"/api/photographs/{photograph}/overlay"))["version"]!;
}
