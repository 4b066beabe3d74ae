using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Hosting;

/// <summary>
/// One list of rules and one of doors by which a book comes in: what breaks a rule is refused at each, and nothing of it is written.
/// </summary>
public sealed class RulesAndDoorsTests(EmptyLedger shared) : IClassFixture<EmptyLedger>
{
    private readonly TestLedger _empty = shared.Ledger;

    private const string Jumper = """
        {"id":"l1","kind":"jumper","from":null,"to":null,"where":"round the fuse","why":"to see","attended":true,"until":null,
         "placedAt":"2026-01-01T00:00:00Z","personId":"edda","removedAt":null,"removedById":null}
        """;

    /// <summary>
    /// The rules that stand over records, each with what breaks it in a book that comes from outside, and what the refusal says.
    /// </summary>
    private static readonly Dictionary<string, (Action<JsonNode> Break, string Says)> _rules = new()
    {
        ["a signature with a temporary link in"] = (
            file => Signed(file)["temporaryLinks"] = new JsonArray(JsonNode.Parse(Jumper)),
            "temporary link, round the fuse"
        ),
        ["a signature with a life-safety notice open"] = (
            file =>
                Signed(file)["notices"] = new JsonArray(
                    JsonNode.Parse(
                        """
                        {"id":"n1","told":"the harbour office","watching":"Bram","until":null,
                         "at":"2026-01-01T00:00:00Z","personId":"edda","backAt":null}
                        """
                    )
                ),
            "life-safety notice to the harbour office"
        ),
        ["a bypass that is left by any other ending than tagged out"] = (
            file =>
            {
                var bypass = JsonNode.Parse(Jumper)!;
                bypass["standing"] = "foundBypassed";
                var visit = Signed(file);
                (visit["ending"], visit["temporaryLinks"]) = ("waitingForPart", new JsonArray(bypass));
            },
            "A protective device is bypassed"
        ),
        ["a closed fault without its proof"] = (file => Closed(file)["proof"] = "", "proof"),
        ["a closed fault without its cause"] = (file => Closed(file)["cause"] = null, "cause"),
        ["a number for the name of the known source"] = (
            file =>
                Signed(file)["safetyEvents"] = new JsonArray(
                    JsonNode.Parse(
                        """
                        {"id":"a1","order":1,"kind":"meterProvedBefore","subject":"","typed":"","words":"230 V","target":null,
                         "deviceTime":"2026-01-01T00:00:00Z","serverTime":"2026-01-01T00:00:00Z","personId":"edda"}
                        """
                    )
                ),
            "name the known source"
        ),
        ["something that is so on one machine only, without its reason"] = (
            file =>
                file["machine"]!["overrides"] = new JsonArray(
                    JsonNode.Parse(
                        $$"""
                        {"id":"only","address":{{file["model"]!["links"]![0]!["from"]!.ToJsonString()}},"checkKey":null,"colours":null,
                         "signal":"turned","limit":null,"reason":"12 V"}
                        """
                    )
                ),
            "say why it is so on this machine only"
        ),
        ["times of which nobody can say what they mean"] = (
            file => file["model"]!["signatures"] = JsonNode.Parse("""{"lines":["fan 0: runs","fan later"]}"""),
            "Line 2"
        ),
        ["two pins of one label"] = (
            file =>
            {
                var pins = Elements(file).First(e => e["pins"]!.AsArray().Count > 1)["pins"]!.AsArray();
                pins[1]!["label"] = (string)pins[0]!["label"]!;
            },
            "stands twice"
        ),
        ["two elements of one designator"] = (
            file =>
            {
                var two = file["boardTypes"]!.AsArray().First(t => t!["elements"]!.AsArray().Count > 1)!["elements"]!.AsArray();
                two[1]!["designator"] = (string)two[0]!["designator"]!;
            },
            "stands twice"
        ),
        ["two parts off the boards of one designator"] = (
            file =>
            {
                var parts = file["model"]!["parts"]!.AsArray();
                parts[1]!["designator"] = (string)parts[0]!["designator"]!;
            },
            "stands twice in designators"
        ),
        ["two terminals of one label on a part"] = (
            file =>
            {
                var pins = file["model"]!["parts"]!.AsArray().First(p => p!["pins"]!.AsArray().Count > 1)!["pins"]!.AsArray();
                pins[1]!["label"] = (string)pins[0]!["label"]!;
            },
            "stands twice in pins of"
        ),
        ["a wire that stands twice, the other way round"] = (
            file =>
            {
                var wires = file["model"]!["links"]!.AsArray();
                var again = wires[0]!.DeepClone();
                (again["id"], again["from"], again["to"]) = ("again", wires[0]!["to"]!.DeepClone(), wires[0]!["from"]!.DeepClone());
                wires.Add(again);
            },
            "stands twice"
        ),
    };

    public static TheoryData<string, string> RulesAndDoors
    {
        get
        {
            var all = new TheoryData<string, string>();
            foreach (var rule in _rules.Keys)
            {
                all.Add(rule, "machine file");
                all.Add(rule, "bundle");
            }

            return all;
        }
    }

    /// <summary>What is refused at its endpoint is refused at every door by which a book comes in, and nothing of it is written.</summary>
    [Theory]
    [MemberData(nameof(RulesAndDoors))]
    public async Task Every_rule_holds_at_every_door(string rule, string door)
    {
        var file = TestLedger.DemoMachine("ly-01");
        _rules[rule].Break(file);
        var (status, problem) =
            door == "bundle"
                ? await Machines.BundleTests.Post(
                    _empty,
                    "/api/bundles",
                    Machines.BundleTests.Bundle(new() { ["machine.json"] = System.Text.Encoding.UTF8.GetBytes(file.ToJsonString()) })
                )
                : await _empty.Post("/api/machine-files", file);
        Assert.True(status is 400 or 409, problem.ToJsonString());
        Assert.Contains(_rules[rule].Says, problem.ToJsonString(), StringComparison.Ordinal);
        Assert.Equal(0, (int)(await _empty.Get("/api/machines"))["total"]!);
    }

    private static JsonNode Signed(JsonNode file) => file["visits"]!.AsArray().First(v => (string?)v!["ending"] == "signed")!;

    private static JsonNode Closed(JsonNode file) => file["faults"]!.AsArray().First(f => f!["closedAt"] is not null)!;

    private static IEnumerable<JsonNode> Elements(JsonNode file) =>
        file["boardTypes"]!.AsArray().SelectMany(t => t!["elements"]!.AsArray()).OfType<JsonNode>();
}

/// <summary>A ledger with nothing in it, for tests that leave nothing in it.</summary>
public sealed class EmptyLedger : IAsyncLifetime
{
    public TestLedger Ledger { get; private set; } = null!;

    public async Task InitializeAsync() => Ledger = await TestLedger.Start();

    public Task DisposeAsync()
    {
        Ledger.Dispose();
        return Task.CompletedTask;
    }
}
