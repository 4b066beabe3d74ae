using System.Diagnostics;
using System.Text;
using System.Text.RegularExpressions;
using RustyLedger.Server.Tests.Keeping;

namespace RustyLedger.Server.Tests;

/// <summary>The server as a process of its own, for a test that kills it or reads how it ends.</summary>
public sealed partial class LedgerProcess : TestLedger
{
    private readonly Process _process;

    private LedgerProcess(Process process, Uri address, string data)
        : base(null, address, data) => _process = process;

    /// <summary>Begins to start, and is not waited for.</summary>
    public static Process Begin(string data, params string[] more) => BeginIn(null, data, more);

    private static Process BeginIn(SmallDisk? disk, string data, string[] more)
    {
        string[] within = disk?.Enter ?? [];
        var start = new ProcessStartInfo(within is [var first, ..] ? first : "dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (
            var word in (string[])
                [
                    .. within.Skip(1),
                    .. within.Length > 0 ? ["dotnet"] : Array.Empty<string>(),
                    Path.Combine(AppContext.BaseDirectory, "RustyLedger.Server.dll"),
                    "--contentRoot",
                    AppContext.BaseDirectory,
                    "--Ledger:Port",
                    "0",
                    "--Ledger:Data",
                    data,
                    .. more,
                ]
        )
        {
            start.ArgumentList.Add(word);
        }

        return Process.Start(start)!;
    }

    /// <exception cref="InvalidOperationException">It ended instead of starting; the message has its exit code and what it
    /// said.</exception>
    public static Task<LedgerProcess> Start(string data, params string[] more) => StartIn(null, data, more);

    /// <summary>On a disk of its own.</summary>
    internal static Task<LedgerProcess> Start(SmallDisk disk, params string[] more) => StartIn(disk, disk.Folder, more);

    private static async Task<LedgerProcess> StartIn(SmallDisk? disk, string data, string[] more)
    {
        var process = BeginIn(disk, data, more);
        var said = new StringBuilder();
        var address = new TaskCompletionSource<Uri?>(TaskCreationOptions.RunContinuationsAsynchronously);
        // Each of the two streams ends with a line that is none.
        void Say(string? line)
        {
            lock (said)
            {
                _ = line is null ? said : said.AppendLine(line);
            }
        }

        process.ErrorDataReceived += (_, line) => Say(line.Data);
        process.OutputDataReceived += (_, line) =>
        {
            Say(line.Data);
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
        throw new InvalidOperationException($"The server ended with {process.ExitCode}: {said}");
    }

    /// <summary>SIGKILL: no chance to finish anything.</summary>
    public void Kill()
    {
        _process.Kill(entireProcessTree: true);
        _process.WaitForExit();
    }

    protected override void Dispose(bool disposing)
    {
        if (!_process.HasExited)
        {
            Kill();
        }

        _process.Dispose();
        base.Dispose(disposing);
    }

    [GeneratedRegex(@"Now listening on: (http://\S+)")]
    private static partial Regex Listening();
}
