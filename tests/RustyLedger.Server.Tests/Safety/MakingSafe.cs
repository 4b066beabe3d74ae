using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Safety;

/// <summary>Makes a machine safe as a device would, step by step.</summary>
internal static class MakingSafe
{
    private static long _order = 1_900_000_000_000;

    public static async Task<string> Begin(TestLedger ledger, string machineId)
    {
        var visit = Lines.NewId();
        var (status, body) = await ledger.Post(
            "/api/visits",
            new
            {
                id = visit,
                roundId = Lines.NewId(),
                machineId,
                complaint = "",
                personId = "edda",
            }
        );
        Assert.True(status == 200, body.ToJsonString());
        return visit;
    }

    /// <summary>Goes down the steps until all are done, or until one is refused.</summary>
    public static async Task Prove(TestLedger ledger, string visit, Func<JsonNode, string>? reading = null, bool mayFail = false)
    {
        foreach (var step in (await ledger.Get($"/api/visits/{visit}/start"))["safety"]!["state"]!["steps"]!.AsArray())
        {
            var (status, body) = await Act(ledger, visit, step!, reading?.Invoke(step!) ?? "0.1");
            Assert.True(mayFail || status == 200, body.ToJsonString());
        }
    }

    public static Task<(int Status, JsonNode Body)> Act(TestLedger ledger, string visit, JsonNode step, string reading = "0.1") =>
        Event(ledger, visit, (string)step["kind"]!, (string)step["subject"]!, (string)step["kind"]! == "read" ? reading : "", "socket X9");

    public static Task<(int Status, JsonNode Body)> Event(
        TestLedger ledger,
        string visit,
        string kind,
        string subject,
        string typed = "",
        string words = ""
    ) => ledger.Post($"/api/visits/{visit}/safety-events", Body(kind, subject, typed, words));

    public static object Body(string kind, string subject, string typed = "", string words = "", string? target = null) =>
        new
        {
            id = Lines.NewId(),
            order = Interlocked.Increment(ref _order),
            kind,
            subject,
            typed,
            words,
            target,
            deviceTime = DateTimeOffset.UtcNow,
            personId = "edda",
        };
}
