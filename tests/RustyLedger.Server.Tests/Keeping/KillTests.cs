using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using RustyLedger.Server.Tests.Photographs;

namespace RustyLedger.Server.Tests.Keeping;

/// <summary>
/// Killed at a random moment of writing, photographing, importing, a first start or migrating: nothing that was acknowledged is lost,
/// nothing is half there, and the
/// next start is well. A few here; <c>./ledger test kills</c> does two hundred.
/// </summary>
public sealed class KillTests
{
    private const int Few = 5;

    public static TheoryData<int> Seeds =>
        [.. Enumerable.Range(0, int.TryParse(Environment.GetEnvironmentVariable("LEDGER_KILLS"), out var many) ? many : Few)];

    private static readonly string _books = Path.Combine(TestLedger.Root, "tests", "RustyLedger.Server.Tests", "Storage", "Books");

    [Theory]
    [MemberData(nameof(Seeds))]
    public async Task Nothing_acknowledged_is_lost_and_every_start_is_well(int seed)
    {
        var dice = new Random(seed);
        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        switch (seed % 5)
        {
            case 0:
                await Writing(data, dice);
                break;
            case 1:
                await Importing(data, dice);
                break;
            case 2:
                await Photographing(data, dice);
                break;
            case 3:
                await Starting(data, dice);
                break;
            default:
                await Migrating(data, dice);
                break;
        }
    }

    private static async Task KillAfter(LedgerProcess ledger, int milliseconds)
    {
        await Task.Delay(milliseconds);
        ledger.Kill();
    }

    private static async Task Writing(string data, Random dice)
    {
        var acknowledged = new List<string>();
        using (var ledger = await LedgerProcess.Start(data))
        {
            await UntilKilled(
                ledger,
                dice.Next(50, 1200),
                async i =>
                {
                    Assert.Equal(200, (await ledger.Post("/api/machines", Lines.Machine($"m{i}", $"XL-{i}"))).Status);
                    acknowledged.Add($"m{i}");
                }
            );
        }

        using var next = await LedgerProcess.Start(data);
        foreach (var id in acknowledged)
        {
            Assert.NotNull(await next.Get($"/api/machines/{id}"));
        }
    }

    /// <summary>Falls into receiving, decoding, the thumbnail, a file half written, or the row.</summary>
    private static async Task Photographing(string data, Random dice)
    {
        var acknowledged = new List<string>();
        using (var ledger = await LedgerProcess.Start(data))
        {
            await ledger.Post("/api/people", new { id = "edda", name = "Edda" });
            Assert.Equal(200, (await ledger.Post("/api/machines", Lines.Machine("m", "XL-1"))).Status);
            await UntilKilled(
                ledger,
                dice.Next(50, 1500),
                async i =>
                {
                    var (status, _) = await ledger.Photograph(Pictures.Any(i), "m", id: $"p{i}");
                    Assert.Equal(200, status);
                    acknowledged.Add($"p{i}");
                }
            );
        }

        using var next = await LedgerProcess.Start(data);
        foreach (var id in acknowledged)
        {
            var hash = (string)(await next.Get($"/api/photographs/{id}"))["photograph"]!["hash"]!;
            Assert.True((await next.Http.GetAsync($"/api/pictures/{hash}")).IsSuccessStatusCode);
            Assert.True((await next.Http.GetAsync($"/api/pictures/{hash}/small")).IsSuccessStatusCode);
        }

        // Whole pictures under their own names, and nothing that was begun; no folder of them before the first one.
        var pictures = Directory.CreateDirectory(Path.Combine(data, "photographs")).FullName;
        Assert.All(
            Directory.GetFiles(pictures, "*", SearchOption.AllDirectories),
            file => Assert.Matches(@"[0-9a-f]{64}(\.small)?\.jpg$", file)
        );
        Assert.False(Directory.Exists(Path.Combine(data, "temporary")) && Directory.EnumerateFiles(Path.Combine(data, "temporary")).Any());
    }

    private static async Task Starting(string data, Random dice)
    {
        await KilledWhileStarting(data, dice.Next(100, 4000), "--Ledger:Demo", TestLedger.DemoFolder);
        using var next = await LedgerProcess.Start(data, "--Ledger:Demo", TestLedger.DemoFolder);
        Assert.Equal(Directory.GetDirectories(TestLedger.DemoFolder).Length, (int)(await next.Get("/api/machines"))["total"]!);
    }

    private static async Task KilledWhileStarting(string data, int milliseconds, params string[] more)
    {
        using var killed = LedgerProcess.Begin(data, more);
        await Task.Delay(milliseconds);
        killed.Kill(entireProcessTree: true);
        await killed.WaitForExitAsync();
    }

    /// <summary>Does something again and again, until the ledger is killed under it.</summary>
    private static async Task UntilKilled(LedgerProcess ledger, int milliseconds, Func<int, Task> act)
    {
        var killing = KillAfter(ledger, milliseconds);
        try
        {
            for (var i = 0; ; i++)
            {
                await act(i);
            }
        }
        catch (Exception gone) when (gone is HttpRequestException or System.Text.Json.JsonException or IOException)
        {
            await killing;
        }
    }

    private static async Task Importing(string data, Random dice)
    {
        var file = TestLedger.DemoMachine("ly-03").ToJsonString();
        var isAcknowledged = false;
        using (var ledger = await LedgerProcess.Start(data))
        {
            var killing = KillAfter(ledger, dice.Next(20, 1500));
            try
            {
                using var content = new StringContent(file, Encoding.UTF8, "application/json");
                using var answer = await ledger.Http.PostAsync("/api/machine-files", content);
                isAcknowledged = answer.StatusCode == HttpStatusCode.OK;
            }
            catch (Exception gone) when (gone is HttpRequestException or IOException)
            {
                // Cut off on its way.
            }

            await killing;
        }

        using var next = await LedgerProcess.Start(data);
        using var there = await next.Http.GetAsync("/api/machines/LY-03/file");
        Assert.True(there.IsSuccessStatusCode || !isAcknowledged);
        if (there.IsSuccessStatusCode)
        {
            // Whole or not at all.
            var came = JsonNode.Parse(file)!;
            var kept = JsonNode.Parse(await there.Content.ReadAsStringAsync())!;
            foreach (var list in (string[])["visits", "faults", "snapshots", "photographs", "notes"])
            {
                Assert.Equal(came[list]!.AsArray().Count, kept[list]!.AsArray().Count);
            }
        }
        else
        {
            Assert.Equal(0, (int)(await next.Get("/api/machines"))["total"]!);
        }
    }

    private static async Task Migrating(string data, Random dice)
    {
        var oldest = Directory.GetFiles(_books, "*.db").Order(StringComparer.Ordinal).First();
        var book = Path.Combine(data, "ledger.db");
        File.Copy(oldest, book);
        var before = Count(book);
        await KilledWhileStarting(data, dice.Next(300, 3500));
        using var next = await LedgerProcess.Start(data);
        Assert.Equal(2, (int)(await next.Get("/api/machines"))["total"]!);
        Assert.Equal(before, Count(book));
    }

    private static string Count(string book)
    {
        using var connection = new SqliteConnection($"Data Source={book};Mode=ReadOnly;Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT (SELECT COUNT(*) FROM Readings) || '/' || (SELECT COUNT(*) FROM Edits)";
        return Convert.ToString(command.ExecuteScalar(), CultureInfo.InvariantCulture)!;
    }
}
