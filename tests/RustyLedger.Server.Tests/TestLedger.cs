using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Tests;

/// <summary>
/// The real server on a real port with a real SQLite file, in this process; <see cref="LedgerProcess"/> is one that can be killed.
/// </summary>
public class TestLedger : IDisposable
{
    private readonly WebApplication? _app;

    protected TestLedger(WebApplication? app, Uri address, string data)
    {
        _app = app;
        Data = data;
        // Who hangs up has hung up: nothing more is read from the answer first.
        Http = new HttpClient(new SocketsHttpHandler { ResponseDrainTimeout = TimeSpan.Zero })
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromSeconds(100),
        };
    }

    public HttpClient Http { get; }

    public string Data { get; }

    public static string DemoFolder => Path.Combine(Root, "demo");

    /// <summary>A machine of the sample data as a machine file, its pictures in it.</summary>
    public static JsonNode DemoMachine(string name)
    {
        var folder = Path.Combine(DemoFolder, name);
        var file = JsonNode.Parse(File.ReadAllText(Path.Combine(folder, "machine.json")))!;
        foreach (var photograph in file["photographs"]!.AsArray())
        {
            photograph!["data"] = Convert.ToBase64String(
                File.ReadAllBytes(Path.Combine(folder, "pictures", $"{photograph["hash"]}.{photograph["format"]}"))
            );
        }

        return file;
    }

    public static string Root { get; } = FindRoot();

    public static async Task<TestLedger> Start(string? data = null, bool demo = false, params string[] more)
    {
        if (data is null && more.Length == 0)
        {
            return await Start(await CopyOf(demo ? Filled : Empty), services: null, demo, OfItsOwn);
        }

        return await Start(data ?? Directory.CreateTempSubdirectory("ledger-").FullName, services: null, demo, more);
    }

    /// <summary>One in which the test looks at, or holds up, what the server does.</summary>
    public static async Task<TestLedger> StartWith(Action<IServiceCollection> services, bool demo = false) =>
        await Start(await CopyOf(demo ? Filled : Empty), services, demo, OfItsOwn);

    // A copy goes its own way from its first start on.
    private static readonly string[] OfItsOwn = ["--Ledger:NewIdentity", "true"];

    private static async Task<TestLedger> Start(string data, Action<IServiceCollection>? services, bool demo, params string[] more)
    {
        var app = LedgerHost.Build(
            [
                "--contentRoot",
                AppContext.BaseDirectory,
                "--Logging:LogLevel:Default",
                "Error",
                "--Ledger:Port",
                "0",
                "--Ledger:Data",
                data,
                // Two cores, and hundreds of ledgers that open a visit: only where it is what is tested.
                "--Ledger:ReasonsAhead",
                "false",
                .. demo ? ["--Ledger:Demo", DemoFolder] : Array.Empty<string>(),
                .. more,
            ],
            services
        );
        await app.StartAsync();
        return new TestLedger(app, new Uri(app.Urls.Single()), data);
    }

    // A ledger is migrated and filled once; each test begins with a copy of its own.
    private static Lazy<Task<string>> Empty { get; } = new(() => Begin(demo: false));

    private static Lazy<Task<string>> Filled { get; } = new(() => Begin(demo: true));

    private static async Task<string> Begin(bool demo)
    {
        var data = Directory.CreateTempSubdirectory("ledger-begin-").FullName;
        using (await Start(data, demo))
        {
            return data;
        }
    }

    private static async Task<string> CopyOf(Lazy<Task<string>> begun)
    {
        var from = await begun.Value;
        var to = Directory.CreateTempSubdirectory("ledger-").FullName;
        foreach (var file in Directory.GetFiles(from, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(file, copy);
        }

        return to;
    }

    /// <summary>A service of the server that runs in this process.</summary>
    internal T Service<T>()
        where T : notnull => _app!.Services.GetRequiredService<T>();

    public async Task<JsonNode> Get(string path) => (await Http.GetFromJsonAsync<JsonNode>(path))!;

    /// <summary>Sends JSON and gives the answer with its status; problem details count as an answer.</summary>
    public async Task<(int Status, JsonNode Body)> Send(HttpMethod method, string path, object body, string? person = null)
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content = body is string text ? new StringContent(text, Encoding.UTF8, "text/csv") : JsonContent.Create(body),
        };
        if (person is not null)
        {
            request.Headers.Add("X-Person", person);
        }

        using var answer = await Http.SendAsync(request);
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    /// <summary>A picture as a device sends it.</summary>
    public async Task<(int Status, JsonNode Body)> Photograph(
        byte[] picture,
        string machineId = "ly-04",
        string kind = "board",
        string? id = null,
        string more = ""
    )
    {
        using var content = new ByteArrayContent(picture);
        content.Headers.ContentType = new("image/jpeg");
        using var answer = await Http.PostAsync(
            $"/api/photographs?id={id ?? Lines.NewId()}&machineId={machineId}&kind={kind}&personId=edda&takenAt=2026-11-20T10:00:00Z{more}",
            content
        );
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    public Task<(int Status, JsonNode Body)> Post(string path, object body, string? person = null) =>
        Send(HttpMethod.Post, path, body, person);

    public void Dispose()
    {
        Dispose(true);
        GC.SuppressFinalize(this);
    }

    protected virtual void Dispose(bool disposing)
    {
        Http.Dispose();
        if (_app is null)
        {
            return;
        }

        // Nothing is waited for: what still runs is called off.
        _app.StopAsync(new CancellationToken(canceled: true)).GetAwaiter().GetResult();
        _app.DisposeAsync().AsTask().GetAwaiter().GetResult();
        // The last connection writes the log back into the file, so that a copy of the file is whole.
        using var pool = new SqliteConnection($"Data Source={Path.Combine(Data, "ledger.db")}");
        SqliteConnection.ClearPool(pool);
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "RustyLedger.slnx")))
        {
            folder = folder.Parent!;
        }

        return folder.FullName;
    }
}

/// <summary>One server with the sample data for the tests of a class.</summary>
public sealed class DemoLedger : IAsyncLifetime
{
    public TestLedger Ledger { get; private set; } = null!;

    public async Task InitializeAsync() => Ledger = await TestLedger.Start(demo: true);

    public Task DisposeAsync()
    {
        Ledger.Dispose();
        return Task.CompletedTask;
    }
}
