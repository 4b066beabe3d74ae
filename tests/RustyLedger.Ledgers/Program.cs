using System.Collections.Concurrent;
using Microsoft.Data.Sqlite;
using RustyLedger.Server.Hosting;

// Many ledgers in one process, each with a port and a folder of its own: the browser tests begin dozens of them, and the code of the
// server is compiled once for all. What is to be killed is a process of its own.
var running = new ConcurrentDictionary<int, (WebApplication App, string Data)>();
var builder = WebApplication.CreateSlimBuilder();
builder.Logging.ClearProviders();
builder.WebHost.UseUrls("http://127.0.0.1:0");
var desk = builder.Build();

// The body is the words of the command line; Ledger:Port among them names it from then on.
desk.MapPost(
    "/ledgers/{port:int}",
    async (int port, string[] words) =>
    {
        var ledger = LedgerHost.Build([.. words, "--Ledger:Port", $"{port}", "--Logging:LogLevel:Default", "Error"]);
        await ledger.StartAsync();
        running[port] = (ledger, ledger.Configuration["Ledger:Data"]!);
    }
);

desk.MapDelete(
    "/ledgers/{port:int}",
    async (int port) =>
    {
        if (!running.TryRemove(port, out var ledger))
        {
            return;
        }

        // Nothing is waited for: what still runs is called off.
        await ledger.App.StopAsync(new CancellationToken(canceled: true));
        await ledger.App.DisposeAsync();
        using var pool = new SqliteConnection($"Data Source={Path.Combine(ledger.Data, "ledger.db")}");
        SqliteConnection.ClearPool(pool);
    }
);

await desk.StartAsync();
Console.WriteLine(desk.Urls.Single());
await desk.WaitForShutdownAsync();
