using System.Text;
using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Wiring;

/// <summary>A sheet of many connectors, taken in at a machine over HTTP.</summary>
public sealed class MachineSheetTests
{
    private static readonly string Gate = File.ReadAllText(Path.Combine(TestLedger.Root, "tests", "sheets", "slip-gate.tsv"));

    private static object Ask(string text = "", string file = "", object? columns = null, object? targets = null, object? wires = null) =>
        new
        {
            text,
            file,
            codePage = (int?)null,
            columns = columns ?? Array.Empty<object>(),
            targets = targets ?? new { },
            wires = wires ?? new { },
        };

    private static async Task<TestLedger> WithMachines(params (string Tag, string[] Boards)[] machines)
    {
        var ledger = await TestLedger.Start();
        foreach (var (tag, boards) in machines)
        {
            var (status, _) = await ledger.Post(
                "/api/machines",
                new
                {
                    id = tag.ToLowerInvariant(),
                    tag,
                    name = "gate",
                    maker = "",
                    serial = "",
                    site = "",
                    boards,
                }
            );
            Assert.Equal(200, status);
        }

        return ledger;
    }

    private static async Task<JsonNode> Model(TestLedger ledger, string tag) =>
        await ledger.Get($"/api/models/{(string)(await ledger.Get($"/api/machines/{tag}"))["modelId"]!}");

    [Fact]
    public async Task A_sheet_is_looked_at_taken_in_and_changes_nothing_a_second_time()
    {
        using var ledger = await WithMachines(("GT-1", []));
        var (status, view) = await ledger.Post("/api/machines/gt-1/sheet-looks", Ask(Gate), "edda");
        Assert.Equal((200, 33, 0), (status, (int)view["added"]!, (int)view["refused"]!));
        Assert.Empty((await Model(ledger, "GT-1"))["positions"]!.AsArray());

        (status, _) = await ledger.Post("/api/machines/gt-1/sheets", Ask(Gate), "edda");
        Assert.Equal(200, status);
        var model = await Model(ledger, "GT-1");
        Assert.Equal(["drive board", "logic board", "display board"], model["positions"]!.AsArray().Select(p => (string)p!["name"]!));
        Assert.Equal(14, model["wiring"]!["wires"]!.AsArray().Count);
        Assert.Contains(model["wiring"]!["wires"]!.AsArray(), w => (string)w!["number"]! == "201");
        Assert.Equal("DIS-J1·1", (string)model["wiringReport"]!["branches"]![0]!["pins"]!.AsArray()[^1]!);
        var machine = await ledger.Get("/api/machines/GT-1");
        Assert.Equal(3, machine["boards"]!.AsArray().Count);

        (status, view) = await ledger.Post("/api/machines/gt-1/sheets", Ask(Gate), "edda");
        Assert.Equal((200, false), (status, (bool)view["changesAnything"]!));
        Assert.Equal(model["wiring"]!.ToJsonString(), (await Model(ledger, "GT-1"))["wiring"]!.ToJsonString());

        // Its file holds all of it.
        var file = await ledger.Get("/api/machines/gt-1/file");
        Assert.Contains(file["model"]!["links"]!.AsArray(), l => (string?)l!["number"] == "207");
    }

    [Fact]
    public async Task What_was_said_of_columns_connectors_and_wires_counts()
    {
        using var ledger = await WithMachines(("GT-1", ["MB-7", "RB-2"]));
        var second = (string)(await Model(ledger, "GT-1"))["positions"]![1]!["id"]!;
        const string Sheet = "Pin,Zork,Volts,To\nJ7-1,feed,24,\nJ8-1,feed,24,J7-1\n";
        var (_, view) = await ledger.Post("/api/machines/gt-1/sheet-looks", Ask(Sheet));
        Assert.Contains(view["columns"]!.AsArray(), c => (string)c!["heading"]! == "Zork" && c["column"] is null);
        Assert.All(view["groups"]!.AsArray(), g => Assert.False((bool)g!["isSure"]!));
        var key = (string)view["groups"]![0]!["key"]!;
        (_, view) = await ledger.Post(
            "/api/machines/gt-1/sheet-looks",
            Ask(
                Sheet,
                columns: new[] { new { place = 1, column = "signal" } },
                targets: new Dictionary<string, object>
                {
                    [key] = new
                    {
                        kind = "position",
                        id = second,
                        name = "",
                        partKind = (string?)null,
                    },
                }
            )
        );
        Assert.All(view["groups"]!.AsArray(), g => Assert.Equal("board 2", (string)g!["targetWords"]!));
        Assert.Equal("J7·1, feed, 24 V", (string)view["rows"]![1]!["understood"]!);

        // Two new boards at a wire that is refused.
        const string Wired = "Pin,Volts,To\nPUMP BOARD\nJ1-1,24,valve J1-1\nVALVE BOARD\nJ1-1,24,\n";
        (_, view) = await ledger.Post("/api/machines/gt-1/sheet-looks", Ask(Wired));
        var wire = Assert.Single(view["wires"]!.AsArray())!;
        Assert.True((bool)wire["isTaken"]!);
        (_, _) = await ledger.Post(
            "/api/machines/gt-1/sheets",
            Ask(Wired, wires: new Dictionary<string, bool> { [(string)wire["id"]!] = false })
        );
        Assert.Empty((await Model(ledger, "GT-1"))["wiring"]!["wires"]!.AsArray());
    }

    [Fact]
    public async Task It_is_said_what_else_a_shared_board_reaches()
    {
        using var ledger = await WithMachines(("GT-1", ["MB-7"]), ("GT-2", ["MB-7"]));
        // Each has a board type of its own, until somebody says that it is the other's.
        var (_, apart) = await ledger.Post("/api/machines/gt-1/sheet-looks", Ask("Pin,Volts\nJ1-1,24\n"));
        Assert.Empty(apart["reached"]!.AsArray());
        var shared = (await ledger.Get("/api/board-types/alike?partNumber=MB-7"))
            .AsArray()
            .Single(b => (string)b!["machines"]![0]! == "GT-2")!;
        await ledger.Post(
            "/api/machines",
            new
            {
                id = "gt-3",
                tag = "GT-3",
                name = "gate",
                maker = "",
                serial = "",
                site = "",
                boards = (string[])["MB-7"],
                which = new Dictionary<string, string> { ["MB-7"] = (string)shared["id"]! },
            }
        );
        var (_, view) = await ledger.Post("/api/machines/gt-3/sheet-looks", Ask("Pin,Volts\nJ1-1,24\n"));
        var reached = Assert.Single(view["reached"]!.AsArray())!;
        Assert.Equal(("MB-7", "GT-2"), ((string)reached["words"]!, (string)reached["machines"]![0]!));
    }

    [Fact]
    public async Task A_workbook_comes_as_its_bytes()
    {
        using var ledger = await WithMachines(("GT-1", []));
        var bytes = await File.ReadAllBytesAsync(Path.Combine(TestLedger.Root, "tests", "sheets", "old-workbook.xls"));
        var (status, view) = await ledger.Post("/api/machines/gt-1/sheet-looks", Ask(file: Convert.ToBase64String(bytes)));
        Assert.Equal((200, "xls workbook", 2), (status, (string)view["fileKind"]!, (int)view["added"]!));
    }

    [Fact]
    public async Task What_cannot_be_read_is_refused_by_its_name_and_nothing_is_written()
    {
        using var ledger = await WithMachines(("GT-1", []));
        foreach (
            var (ask, says) in new (object, string)[]
            {
                (Ask(), "no rows"),
                (Ask(file: "not base 64!"), "did not arrive whole"),
                (Ask(file: Convert.ToBase64String([(byte)'P', (byte)'K', 3, 4, 1, 2, 3])), "workbook cannot be read"),
                (Ask("Pin\nJ1-1\n", columns: new[] { new { place = 9, column = "pin" } }), "Column 10"),
            }
        )
        {
            var (status, problem) = await ledger.Post("/api/machines/gt-1/sheets", ask, "edda");
            Assert.Equal((400, "file"), (status, (string)problem["field"]!));
            Assert.Contains(says, (string)problem["detail"]!, StringComparison.Ordinal);
        }

        Assert.Empty((await Model(ledger, "GT-1"))["positions"]!.AsArray());
    }

    /// <summary>A rule of the wiring holds for what comes by a sheet as well.</summary>
    [Fact]
    public async Task More_pins_than_a_part_may_have_are_refused_whole()
    {
        using var ledger = await WithMachines(("GT-1", []));
        var sheet = new StringBuilder("Pin,Volts\nPOWER SUPPLY TB1\n");
        for (var i = 1; i <= 450; i++)
        {
            sheet.Append(System.Globalization.CultureInfo.InvariantCulture, $"{i},24\n");
        }

        var (status, problem) = await ledger.Post("/api/machines/gt-1/sheets", Ask(sheet.ToString()), "edda");
        Assert.Equal(400, status);
        Assert.Contains("450 pins", (string)problem["detail"]!, StringComparison.Ordinal);
        Assert.Empty((await Model(ledger, "GT-1"))["wiring"]!["parts"]!.AsArray());
    }
}
