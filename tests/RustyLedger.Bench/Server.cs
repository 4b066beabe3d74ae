using System.Diagnostics;

namespace RustyLedger.Bench;

/// <summary>The published server as a process of its own.</summary>
internal sealed class Server : IDisposable
{
    private readonly Process _process;

    private Server(Process process, string data, int port)
    {
        (_process, Data) = (process, data);
        Http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{port}"), Timeout = TimeSpan.FromMinutes(5) };
    }

    public HttpClient Http { get; }

    /// <summary>The folder of its book.</summary>
    public string Data { get; }

    public long MegaBytes
    {
        get
        {
            _process.Refresh();
            return _process.WorkingSet64 / 1024 / 1024;
        }
    }

    public long MostMegaBytes
    {
        get
        {
            _process.Refresh();
            return _process.PeakWorkingSet64 / 1024 / 1024;
        }
    }

    public static async Task<Server> Start(string data)
    {
        const int Port = 28_417;
        var app = Environment.GetEnvironmentVariable("LEDGER_APP") ?? throw new InvalidOperationException("Run it as ./ledger bench.");
        var process = Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [
                    Path.Combine(app, "RustyLedger.Server.dll"),
                    "--contentRoot",
                    app,
                    "--Ledger:Port",
                    $"{Port}",
                    "--Ledger:Data",
                    data,
                    "--Logging:LogLevel:Default",
                    "Warning",
                ]
            )
        )!;
        var server = new Server(process, data, Port);
        for (var i = 0; i < 600 && !process.HasExited; i++)
        {
            try
            {
                using var answer = await server.Http.GetAsync("/api/people");
                return server;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(100);
            }
        }

        throw new InvalidOperationException("The server did not start.");
    }

    public void Dispose()
    {
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
        Http.Dispose();
    }
}
