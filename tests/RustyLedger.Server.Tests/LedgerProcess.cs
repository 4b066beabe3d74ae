using System.Diagnostics;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace RustyLedger.Server.Tests;

/// <summary>The real server as a process of its own, on a free port, with a real SQLite file.</summary>
public sealed partial class LedgerProcess : IDisposable
{
    private readonly Process _process;

    private LedgerProcess(Process process, Uri address, string data)
    {
        _process = process;
        Data = data;
        Http = new HttpClient { BaseAddress = address, Timeout = TimeSpan.FromSeconds(30) };
    }

    public HttpClient Http { get; }

    public string Data { get; }

    public static string DemoFolder => Path.Combine(Root, "demo");

    public static string Root { get; } = FindRoot();

    public static async Task<LedgerProcess> Start(string? data = null, bool demo = false, params string[] more)
    {
        data ??= Directory.CreateTempSubdirectory("ledger-").FullName;
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var word in (string[])[Path.Combine(AppContext.BaseDirectory, "RustyLedger.Server.dll"), "--Ledger:Port", "0", "--Ledger:Data", data, .. demo ? ["--Ledger:Demo", DemoFolder] : Array.Empty<string>(), .. more])
        {
            start.ArgumentList.Add(word);
        }

        var process = Process.Start(start)!;
        var said = new StringBuilder();
        var address = new TaskCompletionSource<Uri?>(TaskCreationOptions.RunContinuationsAsynchronously);
        process.ErrorDataReceived += (_, line) => said.AppendLine(line.Data);
        process.OutputDataReceived += (_, line) =>
        {
            said.AppendLine(line.Data);
            if (line.Data is null)
            {
                address.TrySetResult(null);
            }
            else if (Listening().Match(line.Data) is { Success: true } match)
            {
                address.TrySetResult(new Uri(match.Groups[1].Value));
            }
        };
        process.BeginErrorReadLine();
        process.BeginOutputReadLine();
        if (await address.Task is { } found)
        {
            return new LedgerProcess(process, found, data);
        }

        await process.WaitForExitAsync();
        throw new InvalidOperationException($"The server did not start: {said}");
    }

    public async Task<JsonNode> Get(string path) => (await Http.GetFromJsonAsync<JsonNode>(path))!;

    /// <summary>Sends JSON and gives the answer with its status; problem details count as an answer.</summary>
    public async Task<(int Status, JsonNode Body)> Send(HttpMethod method, string path, object body, string? person = null)
    {
        using var request = new HttpRequestMessage(method, path) { Content = body is string text ? new StringContent(text, Encoding.UTF8, "text/csv") : JsonContent.Create(body) };
        if (person is not null)
        {
            request.Headers.Add("X-Person", person);
        }

        using var answer = await Http.SendAsync(request);
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    public Task<(int Status, JsonNode Body)> Post(string path, object body, string? person = null) => Send(HttpMethod.Post, path, body, person);

    /// <summary>SIGKILL: no chance to finish anything.</summary>
    public void Kill()
    {
        _process.Kill(entireProcessTree: true);
        _process.WaitForExit();
    }

    public void Dispose()
    {
        if (!_process.HasExited)
        {
            Kill();
        }

        _process.Dispose();
        Http.Dispose();
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

    [GeneratedRegex(@"Now listening on: (http://\S+)")]
    private static partial Regex Listening();
}

/// <summary>One server with the sample data for the tests of a class.</summary>
public sealed class DemoLedger : IAsyncLifetime
{
    public LedgerProcess Ledger { get; private set; } = null!;

    public async Task InitializeAsync() => Ledger = await LedgerProcess.Start(demo: true);

    public Task DisposeAsync()
    {
        Ledger.Dispose();
        return Task.CompletedTask;
    }
}
