using System.Data.Common;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Tests.Machines;

public sealed class LongImportTests
{
    private const int Readings = 5_000;

    [Fact]
    public async Task A_long_import_tells_how_far_it_is_and_leaves_no_trace_when_stopped()
    {
        var file = Long();
        var held = new HeldCommit();
        using var ledger = await TestLedger.StartWith(services =>
            services.ConfigureDbContext<LedgerContext>(options => options.AddInterceptors(held))
        );
        held.Arm();
        using (var stop = new CancellationTokenSource())
        {
            await Assert.ThrowsAnyAsync<Exception>(async () =>
            {
                await foreach (var step in Watch(ledger, file, stop.Token))
                {
                    if ((string?)step["what"] == "readings" && (int)step["done"]! > 2)
                    {
                        await stop.CancelAsync();
                    }
                }
            });
        }

        held.Disarm();
        // The server has noticed that nobody listens and takes all of it back: the same file goes in as if it were new.
        Assert.Equal(0, (int)(await ledger.Get("/api/machines"))["total"]!);
        Assert.Empty((await ledger.Get("/api/people")).AsArray());
        JsonNode? last = null;
        var steps = new List<int>();
        await foreach (var step in Watch(ledger, file, CancellationToken.None))
        {
            last = step;
            if (step["done"] is { } done)
            {
                steps.Add((int)done);
            }
        }

        Assert.Equal(steps.Order(), steps);
        Assert.True(steps.Count > Readings / 1000, $"{steps.Count} steps, then {last}");
        Assert.True((string?)last!["tag"] == "LY-04", last.ToJsonString());
        Assert.Equal(67, (int)(await ledger.Get("/api/machines/LY-04"))["checks"]!);
        var problem = await Watch(ledger, file, CancellationToken.None).LastAsync();
        Assert.Equal((409, "LY-04 is in the ledger already."), ((int)problem["status"]!, (string)problem["detail"]!));
        Assert.Empty(Directory.GetFiles(ledger.Data, "beside-*"));
    }

    [Fact]
    public async Task A_picture_that_is_not_what_its_name_says_is_refused_with_all_of_the_file()
    {
        using var demo = await TestLedger.Start(demo: true);
        var file = JsonNode.Parse(await demo.Http.GetStringAsync("/api/machines/LY-08/file"))!;
        using var ledger = await TestLedger.Start();
        var data = (string)file["photographs"]![1]!["data"]!;
        file["photographs"]![1]!["data"] = data[..^8] + "AAAAAAA=";
        var (status, problem) = await ledger.Post("/api/machine-files", file);
        Assert.Equal((400, "picture"), (status, (string)problem["field"]!));
        Assert.Equal(0, (int)(await ledger.Get("/api/machines"))["total"]!);
        Assert.Empty(
            Directory.Exists(Path.Combine(ledger.Data, "photographs"))
                ? Directory.GetFiles(Path.Combine(ledger.Data, "photographs"), "*", SearchOption.AllDirectories)
                : []
        );
        // Without its pictures a file goes only where they are already.
        var bare = JsonNode.Parse(await demo.Http.GetStringAsync("/api/machines/LY-08/file?pictures=false"))!;
        (status, problem) = await ledger.Post("/api/machine-files", bare);
        Assert.Contains("neither in the file nor in the ledger", (string)problem["detail"]!, StringComparison.Ordinal);
    }

    private static string Long()
    {
        var file = TestLedger.DemoMachine("ly-04");
        var readings = file["visits"]![0]!["rounds"]![0]!["readings"]!.AsArray();
        var one = readings[0]!;
        foreach (var i in Enumerable.Range(0, Readings))
        {
            var another = one.DeepClone();
            (another["id"], another["order"]) = ($"long-{i}", (long)one["order"]! - i - 1);
            readings.Add(another);
        }

        return file.ToJsonString();
    }

    private static async IAsyncEnumerable<JsonNode> Watch(
        TestLedger ledger,
        string file,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/machine-files/watched")
        {
            Content = new StringContent(file, Encoding.UTF8, "application/json"),
        };
        using var answer = await ledger.Http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancel);
        using var lines = new StreamReader(await answer.Content.ReadAsStreamAsync(cancel));
        while (await lines.ReadLineAsync(cancel) is { } line)
        {
            yield return JsonNode.Parse(line)!;
        }
    }

    /// <summary>
    /// Holds the commit of the next transaction until whoever asked for it has hung up, so that no machine is too quick to be stopped.
    /// </summary>
    private sealed class HeldCommit : DbTransactionInterceptor
    {
        private volatile bool _armed;
        private DbTransaction? _held;

        public void Arm() => _armed = true;

        public void Disarm() => _armed = false;

        public override ValueTask<DbTransaction> TransactionStartedAsync(
            DbConnection connection,
            TransactionEndEventData eventData,
            DbTransaction result,
            CancellationToken cancellationToken = default
        )
        {
            if (_armed)
            {
                _held ??= result;
            }

            return ValueTask.FromResult(result);
        }

        public override async ValueTask<InterceptionResult> TransactionCommittingAsync(
            DbTransaction transaction,
            TransactionEventData eventData,
            InterceptionResult result,
            CancellationToken cancellationToken = default
        )
        {
            if (ReferenceEquals(transaction, _held))
            {
                await Task.Delay(Timeout.Infinite, cancellationToken);
            }

            return result;
        }
    }
}
