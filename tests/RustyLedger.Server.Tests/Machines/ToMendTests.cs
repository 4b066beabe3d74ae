using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Machines;

public sealed class ToMendTests
{
    [Fact]
    public async Task Loops_dangling_feeds_and_unreached_pins_stand_on_the_machines_page()
    {
        var file = TestLedger.DemoMachine("ly-04");
        var links = file["model"]!["links"]!.AsArray();
        // Zone 4 feeds zone 3 back, and the switch is cut off from the supply, in the wiring and in the circuit.
        links.Add(
            JsonNode.Parse(
                """{"id": "x1", "from": {"position": "z4", "pin": "j2-4"}, "to": {"position": "z3", "pin": "j1-1"}, "directed": true}"""
            )
        );
        links.Remove(links.Single(l => (string)l!["id"]! == "w1"));
        var rows = file["model"]!["circuit"]!["rows"]!.AsArray();
        rows.Remove(rows.Single(r => (string)r!["part"]! == "Feed to S1"));
        using var ledger = await TestLedger.Start();
        var (status, taken) = await ledger.Post("/api/machine-files", file);
        Assert.True(status == 200, taken.ToJsonString());
        var page = await ledger.Get("/api/machines/LY-04");
        var mend = page["toMend"]!.AsArray().Select(m => (string)m!).ToList();
        Assert.Contains(
            mend,
            m =>
                m.StartsWith("Power would run in a circle: ", StringComparison.Ordinal)
                && m.Contains("Z3-J1·1", StringComparison.Ordinal)
                && m.Contains("Z4-J2·4", StringComparison.Ordinal)
        );
        Assert.Contains("S1·13 feeds others, but nothing feeds it and it is no source", mend);
        Assert.Contains(
            mend,
            m => m.StartsWith("No source reaches ", StringComparison.Ordinal) && m.Contains("Z1-J1·1", StringComparison.Ordinal)
        );
        var round = await Lines.Round(ledger, "ly-04");
        Assert.NotNull((await ledger.Get($"/api/rounds/{round}"))["nextKey"]);
    }
}
