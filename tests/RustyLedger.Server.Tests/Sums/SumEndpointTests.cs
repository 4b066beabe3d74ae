using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Sums;

public sealed class SumEndpointTests : IAsyncLifetime
{
    private TestLedger _ledger = null!;

    public async Task InitializeAsync() => _ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        _ledger.Dispose();
        return Task.CompletedTask;
    }

    [Fact]
    public async Task A_sum_is_worked_out_and_what_is_wrong_is_named_by_its_field()
    {
        var (status, answer) = await _ledger.Post("/api/sums/set", new { readings = "L1 460, L2 467, L3 450", unit = "V" });
        Assert.Equal((200, "good", "alike"), (status, (string)answer["verdict"]!, (string)answer["headline"]!));
        Assert.Contains(answer["lines"]!.AsArray(), l => (string)l!["value"]! == "1.96 %");
        foreach (
            var (sum, typed, field) in ((string, object, string)[])
                [
                    ("wire", new { volts = "24", gauge = "thick" }, "gauge"),
                    ("wire", new { amps = "4" }, "volts"),
                    ("speed", new { hertz = "50", poles = "0" }, "poles"),
                    (
                        "speed",
                        new
                        {
                            hertz = "50",
                            poles = "4",
                            kind = "x",
                        },
                        "kind"
                    ),
                    (
                        "contact",
                        new
                        {
                            rated = "10",
                            load = "3",
                            kind = "nothing known",
                        },
                        "kind"
                    ),
                ]
        )
        {
            var (refused, problem) = await _ledger.Post($"/api/sums/{sum}", typed);
            Assert.Equal((400, field), (refused, (string)problem["field"]!));
        }

        Assert.Equal(404, (await _ledger.Post("/api/sums/none", new { })).Status);
    }

    [Fact]
    public async Task What_is_kept_stands_with_the_visit_goes_out_with_the_machine_and_is_no_sign_of_the_machine()
    {
        await Lines.Round(_ledger);
        var visit = (string)
            (await _ledger.Get("/api/machines/LY-04"))["visits"]!.AsArray().First(v => (string)v!["complaint"]! == "zone 4 stops")!["id"]!;
        var caught = Words(await _ledger.Get($"/api/visits/{visit}/start"), "catch");
        var line = new
        {
            id = Lines.NewId(),
            kind = "workedOut",
            text = "A coil: 857 mA, 20.6 W",
            at = "2026-11-20T10:00:00Z",
            personId = "edda",
        };
        var (status, now) = await _ledger.Post($"/api/visits/{visit}/observations", line);
        Assert.Equal(200, status);
        Assert.Equal(line.text, (string)Assert.Single(now["observations"]!.AsArray())!["text"]!);
        Assert.Equal(caught, Words(now, "catch"));
        Assert.Contains(line.text, await _ledger.Http.GetStringAsync("/api/machines/LY-04/file"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Each_fuse_of_a_machine_says_what_goes_dead_with_it()
    {
        var fuses = (await _ledger.Get("/api/machines/ly-03/fuses")).AsArray();
        Assert.NotEmpty(fuses);
        foreach (var fuse in fuses.Where(f => f!["near"] is not null))
        {
            Assert.StartsWith((string)fuse!["printed"]!, (string)fuse["near"]!, StringComparison.Ordinal);
            Assert.NotEqual((string)fuse["near"]!, (string)fuse["far"]!);
        }

        Assert.Contains(fuses, f => f!["feeds"]!.AsArray().Count > 0);
        Assert.Equal(404, (int)(await _ledger.Http.GetAsync("/api/machines/none/fuses")).StatusCode);
    }

    private static string Words(JsonNode start, string step) =>
        (string)start["steps"]!.AsArray().Single(s => (string)s!["step"]! == step)!["words"]!;
}
