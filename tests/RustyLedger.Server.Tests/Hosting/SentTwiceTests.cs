using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Hosting;

/// <summary>A device that lost the answer sends the same again; whatever else comes under an id that was used is refused.</summary>
public sealed class SentTwiceTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    /// <summary>Path, body, and a field with another value in it.</summary>
    public static TheoryData<string, string, string, string> Made =>
        new()
        {
            { "/api/machines", """{"tag":"LY-91","name":"","site":"Slip","maker":"","serial":"","boards":[]}""", "site", "Pier" },
            { "/api/people", """{"name":"Tove"}""", "name", "Tove B" },
            { "/api/visits", """{"roundId":"rr1","machineId":"ly-06","complaint":"hums","personId":"edda"}""", "complaint", "whines" },
            { "/api/visits/{visit}/calls", """{"caseNumber":"7","said":"send it","personId":"edda"}""", "said", "keep it" },
            { "/api/notes", """{"machineId":"ly-04","visitId":null,"text":"belt new","personId":"edda"}""", "text", "belt old" },
            { "/api/faults", """{"machineId":"ly-04","roundId":null,"noticed":"stops","personId":"edda"}""", "noticed", "starts" },
            { "/api/causes", """{"words":"mice"}""", "words", "rats" },
            { "/api/machines/ly-04/names", """{"name":"J77-1","at":"2026-11-26T10:00:00Z","personId":"edda"}""", "name", "J77-2" },
        };

    private async Task<string> Path(string path)
    {
        if (!path.Contains("{visit}", StringComparison.Ordinal))
        {
            return path;
        }

        var visit = Lines.NewId();
        await demo.Ledger.Post(
            "/api/visits",
            new
            {
                id = visit,
                roundId = Lines.NewId(),
                machineId = "ly-08",
                complaint = "",
                personId = "edda",
            }
        );
        return path.Replace("{visit}", visit, StringComparison.Ordinal);
    }

    private static JsonObject Body(string body)
    {
        var made = JsonNode.Parse(body)!.AsObject();
        made["id"] = Lines.NewId();
        return made;
    }

    [Theory]
    [MemberData(nameof(Made))]
    public async Task The_same_again_is_answered_alike_and_another_text_under_its_id_is_refused_by_name(
        string path,
        string body,
        string field,
        string other
    )
    {
        path = await Path(path);
        var made = Body(body);
        var (status, answer) = await demo.Ledger.Post(path, made);
        Assert.True(status == 200, answer.ToJsonString());
        var (again, same) = await demo.Ledger.Post(path, made);
        Assert.Equal((200, answer.ToJsonString()), (again, same.ToJsonString()));

        var changed = made.DeepClone().AsObject();
        changed[field] = other;
        var (refused, why) = await demo.Ledger.Post(path, changed);
        Assert.Equal((409, field), (refused, (string)why["field"]!));
        Assert.Contains($"another {field}", (string)why["detail"]!, StringComparison.Ordinal);

        // Under another owner, and for something else, it is no better.
        var (elsewhere, _) = await demo.Ledger.Post(path == "/api/notes" ? "/api/causes" : "/api/notes", Noted((string)made["id"]!));
        Assert.Equal(409, elsewhere);
    }

    private static object Noted(string id) =>
        new
        {
            id,
            machineId = "ly-04",
            visitId = (string?)null,
            text = "x",
            words = "x",
            personId = "edda",
        };

    [Theory]
    [MemberData(nameof(Made))]
    public async Task Several_at_once_end_alike_and_are_written_once(string path, string body, string field, string other)
    {
        _ = (field, other);
        path = await Path(path);
        var made = Body(
            body.Replace("LY-91", "LY-92", StringComparison.Ordinal)
                .Replace("rr1", "rr2", StringComparison.Ordinal)
                .Replace("J77-1", "J78-1", StringComparison.Ordinal)
                .Replace("Tove", "Tora", StringComparison.Ordinal)
                .Replace("mice", "ants", StringComparison.Ordinal)
        );
        var answers = await Task.WhenAll(Enumerable.Range(0, 5).Select(_ => demo.Ledger.Post(path, made.DeepClone())));
        var texts = answers.Select(a => $"{a.Status} {a.Body.ToJsonString()}").Distinct().ToList();
        Assert.True(texts is [['2', '0', '0', ..]], string.Join('\n', texts));
    }

    [Fact]
    public async Task Of_two_who_write_at_the_very_same_moment_the_later_gets_the_clash_with_both_texts()
    {
        var id = Lines.NewId();
        await demo.Ledger.Post("/api/notes", Noted(id));
        for (var version = 1; version <= 8; version++)
        {
            var both = await Task.WhenAll(
                ((string[])["by Edda", "by Bram"]).Select(text =>
                    demo.Ledger.Send(HttpMethod.Put, $"/api/notes/{id}", new { version, text = $"{text}, {version}" })
                )
            );
            Assert.Equal([200, 409], both.Select(b => b.Status).Order());
            var (won, lost) = both[0].Status == 200 ? (both[0].Body, both[1].Body) : (both[1].Body, both[0].Body);
            Assert.Equal((string)won["text"]!, (string)lost["theirs"]!["text"]!);
            Assert.NotNull(lost["yours"]!["text"]);
            Assert.Equal(version + 1, (int)lost["version"]!);
        }
    }
}
