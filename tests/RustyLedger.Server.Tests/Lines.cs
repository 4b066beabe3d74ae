using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests;

/// <summary>Makes the lines that a device would send.</summary>
internal static class Lines
{
    private static long _order = 1_800_000_000_000;

    public static string NewId() => Guid.CreateVersion7().ToString();

    /// <summary>A machine of which nothing is known but its tag.</summary>
    public static object Machine(string id, string tag, string site = "") =>
        new
        {
            id,
            tag,
            name = "",
            site,
            maker = "",
            serial = "",
            boards = Array.Empty<string>(),
        };

    /// <summary>A visit with an empty round; gives the round's id.</summary>
    public static async Task<string> Round(TestLedger ledger, string machine = "ly-04", string complaint = "zone 4 stops")
    {
        var round = NewId();
        var (status, body) = await ledger.Post(
            "/api/visits",
            new
            {
                id = NewId(),
                roundId = round,
                machineId = machine,
                complaint,
                personId = "edda",
            }
        );
        Assert.True(status == 200, body.ToJsonString());
        return round;
    }

    /// <summary>A reading of a check as the sheet shows it.</summary>
    public static JsonObject Taken(JsonNode view, string key, string typed)
    {
        var row = view["rows"]!.AsArray().Single(r => (string)r!["key"]! == key)!;
        return new JsonObject
        {
            ["id"] = NewId(),
            ["order"] = Interlocked.Increment(ref _order),
            ["kind"] = "taken",
            ["checkKey"] = key,
            ["red"] = Probed(row["red"]),
            ["black"] = Probed(row["black"]),
            ["mode"] = (string)row["mode"]!,
            ["state"] = (string)row["state"]!,
            ["plugged"] = row["plugged"]?.DeepClone(),
            ["limit"] = (string)row["limit"]!,
            ["tolerance"] = row["tolerance"]!.DeepClone(),
            ["typed"] = typed,
            ["choice"] = null,
            ["target"] = null,
            ["reason"] = "",
            ["deviceTime"] = DateTimeOffset.UtcNow.ToString("O"),
            ["personId"] = "edda",
            ["meter"] = "",
        };
    }

    /// <summary>A reading that no check asks for.</summary>
    public static JsonObject Extra(JsonNode red, string typed) =>
        new()
        {
            ["id"] = NewId(),
            ["order"] = Interlocked.Increment(ref _order),
            ["kind"] = "taken",
            ["checkKey"] = null,
            ["red"] = Probed(red),
            ["black"] = null,
            ["mode"] = "dcVolts",
            ["state"] = "running",
            ["plugged"] = null,
            ["limit"] = null,
            ["tolerance"] = new JsonObject
            {
                ["percent"] = 5,
                ["volts"] = 0.3,
                ["ohms"] = 0.5,
            },
            ["typed"] = typed,
            ["choice"] = null,
            ["alive"] = "elsewhere",
            ["target"] = null,
            ["reason"] = "",
            ["deviceTime"] = DateTimeOffset.UtcNow.ToString("O"),
            ["personId"] = "edda",
            ["meter"] = "",
        };

    /// <summary>Sends a line and gives the round as a device shows it then: what it knew, with what the answer says has changed.</summary>
    public static async Task<JsonNode> Send(TestLedger ledger, string round, JsonNode view, JsonObject line)
    {
        var (status, change) = await ledger.Post($"/api/rounds/{round}/lines", line);
        Assert.True(status == 200, change.ToJsonString());
        var now = view.DeepClone().AsObject();
        foreach (var (name, value) in change.AsObject())
        {
            if (name != "rows")
            {
                now[name] = value?.DeepClone();
            }
        }

        var changed = change["rows"]!.AsArray().ToDictionary(r => (string)r!["key"]!, r => r);
        now["rows"] = new JsonArray([
            .. view["rows"]!.AsArray().Select(r => (changed.GetValueOrDefault((string)r!["key"]!) ?? r).DeepClone()),
        ]);
        // What the device put together is what the ledger would tell it anew.
        Assert.True(JsonNode.DeepEquals(now, await ledger.Get($"/api/rounds/{round}")));
        return now;
    }

    public static JsonObject But(this JsonObject line, string member, JsonNode? value)
    {
        line[member] = value;
        return line;
    }

    private static JsonObject? Probed(JsonNode? probe) =>
        probe is null ? null : new JsonObject { ["address"] = probe["address"]!.DeepClone(), ["printed"] = (string)probe["printed"]! };
}
