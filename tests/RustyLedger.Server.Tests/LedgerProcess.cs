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

    /// <summary>A machine of the sample data as a machine file, its pictures in it.</summary>
    public static JsonNode DemoMachine(string name)
    {
        var folder = Path.Combine(DemoFolder, name);
        var file = JsonNode.Parse(File.ReadAllText(Path.Combine(folder, "machine.json")))!;
        foreach (var photograph in file["photographs"]!.AsArray())
        {
            photograph!["data"] = Convert.ToBase64String(File.ReadAllBytes(Path.Combine(folder, "pictures", $"{photograph["hash"]}.{photograph["format"]}")));
        }

        return file;
    }

    public static string Root { get; } = FindRoot();

    public static async Task<LedgerProcess> Start(string? data = null, bool demo = false, params string[] more)
    {
        data ??= more.Length > 0 ? Directory.CreateTempSubdirectory("ledger-").FullName : await CopyOf(demo ? Filled : Empty);
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var word in (string[])[Path.Combine(App, "RustyLedger.Server.dll"), "--contentRoot", App, "--Ledger:Port", "0", "--Ledger:Data", data, .. demo ? ["--Ledger:Demo", DemoFolder] : Array.Empty<string>(), .. more])
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

    /// <summary>The published application where it was built before, which starts quicker; otherwise what the tests were built with.</summary>
    private static string App { get; } = Environment.GetEnvironmentVariable("LEDGER_APP") is { Length: > 0 } app ? app : AppContext.BaseDirectory;

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

    /// <summary>A picture as a device sends it.</summary>
    public async Task<(int Status, JsonNode Body)> Photograph(byte[] picture, string machineId = "ly-04", string kind = "board", string? id = null, string more = "")
    {
        using var content = new ByteArrayContent(picture);
        content.Headers.ContentType = new("image/jpeg");
        using var answer = await Http.PostAsync($"/api/photographs?id={id ?? Lines.NewId()}&machineId={machineId}&kind={kind}&personId=edda&takenAt=2026-11-20T10:00:00Z{more}", content);
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
