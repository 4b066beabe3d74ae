using System.Net;
using System.Text.Json.Nodes;
using RustyLedger.Server.Tests.Photographs;

namespace RustyLedger.Server.Tests.Keeping;

/// <summary>A disk that is really full, before a start and under a ledger that runs.</summary>
public sealed class FullDiskTests
{
    [SmallDiskFact]
    public async Task Whoever_writes_on_a_full_disk_is_told_nothing_is_half_written_and_it_goes_on_when_there_is_room()
    {
        using var disk = SmallDisk.Make(24);
        var kept = new List<string>();
        using (var ledger = await LedgerProcess.Start(disk))
        {
            Assert.Equal(200, (await ledger.Post("/api/people", new { id = "edda", name = "Edda" })).Status);
            async Task<(int Status, JsonNode Body)> Machine(int number)
            {
                var sent = await ledger.Post("/api/machines", Lines.Machine($"m{number}", $"LY-{number}", new string('x', 50)));
                if (sent.Status == 200)
                {
                    kept.Add($"m{number}");
                }

                return sent;
            }

            Assert.Equal(200, (await Machine(1)).Status);
            disk.FillUpTo(96 * 1024);
            var (number, refused) = (2, 0);
            for (; refused < 5; number++)
            {
                var (status, body) = await Machine(number);
                if (status != 200)
                {
                    refused++;
                    Assert.Equal((507, "The disk is full"), (status, (string)body["title"]!));
                    Assert.Contains("Nothing of this was written", (string)body["detail"]!, StringComparison.Ordinal);
                }

                Assert.True(number < 2000, "The disk never got full.");
            }

            var picture = await ledger.Photograph(Pictures.Any(1), "m1");
            Assert.Equal((507, "The disk is full"), (picture.Status, (string)picture.Body["title"]!));
            Assert.Empty(Directory.GetFiles(Path.Combine(disk.Seen, "temporary")));

            // What is there can still be read, and whoever watches over the machine is told.
            Assert.Equal(kept.Count, (int)(await ledger.Get("/api/machines?take=1"))["total"]!);
            using var health = await ledger.Http.GetAsync("/health");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, health.StatusCode);
            Assert.Contains("is full", await health.Content.ReadAsStringAsync(), StringComparison.Ordinal);

            disk.MakeRoom();
            Assert.Equal(200, (await Machine(number)).Status);
            Assert.Equal(200, (await ledger.Photograph(Pictures.Any(1), "m1")).Status);
            Assert.Equal(HttpStatusCode.OK, (await ledger.Http.GetAsync("/health")).StatusCode);
            disk.FillUpTo(0);
            ledger.Kill();
        }

        // Killed on a full disk: it starts there or says why, and with room all that was acknowledged is there.
        try
        {
            using var full = await LedgerProcess.Start(disk);
        }
        catch (InvalidOperationException refusal)
        {
            Assert.StartsWith("The server ended with 3: ledger: The disk of ", refusal.Message, StringComparison.Ordinal);
        }

        disk.MakeRoom();
        using var again = await LedgerProcess.Start(disk);
        Assert.Equal(kept.Count, (int)(await again.Get("/api/machines?take=1"))["total"]!);
        foreach (var id in kept)
        {
            Assert.Equal(id, (string)(await again.Get($"/api/machines/{id}"))["id"]!);
        }

        Assert.Single((await again.Get("/api/machines/m1/photographs")).AsArray());
    }

    /// <summary>Room for a file, for half a book, for half of the sample data.</summary>
    [SmallDiskTheory]
    [InlineData(16)]
    [InlineData(400)]
    [InlineData(2500, "--Ledger:Demo")]
    public async Task A_first_start_on_a_full_disk_says_so_and_the_next_one_with_room_has_all(int kiloBytes, string? demo = null)
    {
        string[] more = demo is null ? [] : [demo, TestLedger.DemoFolder];
        using var disk = SmallDisk.Make(48);
        disk.FillUpTo(kiloBytes * 1024L);
        var refusal = await Assert.ThrowsAsync<InvalidOperationException>(() => LedgerProcess.Start(disk, more));
        Assert.StartsWith("The server ended with 3: ", refusal.Message, StringComparison.Ordinal);
        Assert.Contains($"ledger: The disk of {disk.Folder} is full.", refusal.Message, StringComparison.Ordinal);
        Assert.DoesNotContain("fail: ", refusal.Message, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", refusal.Message, StringComparison.Ordinal);

        disk.MakeRoom();
        using var ledger = await LedgerProcess.Start(disk, more);
        using var whole = await TestLedger.Start(demo: demo is not null);
        Assert.Equal((int)(await whole.Get("/api/machines?take=1"))["total"]!, (int)(await ledger.Get("/api/machines?take=1"))["total"]!);
    }
}
