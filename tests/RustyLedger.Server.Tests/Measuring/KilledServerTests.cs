using System.Collections.Concurrent;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace RustyLedger.Server.Tests.Measuring;

public sealed class KilledServerTests
{
    [Fact]
    public async Task What_was_acknowledged_is_there_after_the_process_was_killed()
    {
        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        var ledger = await LedgerProcess.Start(data, "--Ledger:Demo", TestLedger.DemoFolder);
        var acknowledged = new ConcurrentBag<string>();
        var waiting = new ConcurrentDictionary<string, JsonObject>();
        var round = await Lines.Round(ledger);
        var view = await ledger.Get($"/api/rounds/{round}");
        var keys = view["rows"]!.AsArray().Where(r => (string)r!["state"]! == "running").Select(r => (string)r!["key"]!).ToList();
        foreach (var answers in (int[])[0, 1, 9])
        {
            var lines = keys.Select(k => Lines.Taken(view, k, "24.1")).ToList();
            lines.ForEach(l => waiting[(string)l["id"]!] = l);
            var running = ledger;
            var posts = Parallel.ForEachAsync(
                lines,
                new ParallelOptions { MaxDegreeOfParallelism = 4 },
                async (line, _) =>
                {
                    try
                    {
                        if ((await running.Post($"/api/rounds/{round}/lines", line)).Status == 200)
                        {
                            acknowledged.Add((string)line["id"]!);
                        }
                    }
                    catch (Exception killed) when (killed is HttpRequestException or IOException or System.Net.Sockets.SocketException)
                    {
                        // Killed under this request: not acknowledged, so nothing was promised.
                    }
                }
            );
            // Killed at the start, and in the midst of the posts that follow an answer.
            var before = acknowledged.Count;
            while (acknowledged.Count < before + answers && !posts.IsCompleted)
            {
                await Task.Delay(1);
            }

            ledger.Kill();
            await posts;
            ledger.Dispose();
            ledger = await LedgerProcess.Start(data);
            Assert.Subset(Stored(data), acknowledged.ToHashSet());
        }

        // What was not acknowledged goes again under the same ids; then all are there once.
        await Parallel.ForEachAsync(
            waiting.Values,
            async (line, _) => Assert.Equal(200, (await ledger.Post($"/api/rounds/{round}/lines", line)).Status)
        );

        ledger.Dispose();
        Assert.Subset(Stored(data), waiting.Keys.ToHashSet());
        Assert.NotEmpty(acknowledged);
    }

    private static HashSet<string> Stored(string data)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(data, "ledger.db")};Mode=ReadOnly;Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT Id FROM Readings";
        using var rows = command.ExecuteReader();
        var ids = new HashSet<string>();
        while (rows.Read())
        {
            Assert.True(ids.Add(rows.GetString(0)));
        }

        return ids;
    }
}
