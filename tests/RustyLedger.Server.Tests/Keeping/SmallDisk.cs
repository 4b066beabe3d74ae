using System.Diagnostics;
using System.Globalization;

namespace RustyLedger.Server.Tests.Keeping;

/// <summary>
/// A real file system of a few megabytes (tmpfs in a mount namespace of its own), so that it can be filled to the last byte and nothing
/// else on the machine notices. Gone with the process that holds it.
/// </summary>
internal sealed class SmallDisk : IDisposable
{
    private readonly Process _holder;

    private SmallDisk(Process holder, string folder) => (_holder, Folder) = (holder, folder);

    /// <summary>Its root, as those see it who are inside.</summary>
    public string Folder { get; }

    /// <summary>Its root, as this process sees it.</summary>
    public string Seen => $"/proc/{_holder.Id}/root{Folder}";

    /// <summary>The words before a command that make it run inside; the process stays the same one.</summary>
    public string[] Enter =>
        ["nsenter", "--preserve-credentials", "--user", "--mount", "--target", _holder.Id.ToString(CultureInfo.InvariantCulture), "--"];

    private string Ballast => Path.Combine(Seen, "ballast");

    /// <summary>Why there can be none on this machine; null where there can.</summary>
    public static string? Hindrance { get; } = Hinders();

    /// <exception cref="InvalidOperationException">Nobody may mount a file system here.</exception>
    public static SmallDisk Make(int megaBytes)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-disk-").FullName;
        var mount = $"mount -t tmpfs -o size={megaBytes}m,mode=700 ledger {folder} && echo made && exec sleep infinity";
        var holder = Process.Start(
            new ProcessStartInfo("unshare", ["--map-root-user", "--mount", "sh", "-c", mount])
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        if (holder.StandardOutput.ReadLine() == "made")
        {
            return new SmallDisk(holder, folder);
        }

        using (holder)
        {
            throw new InvalidOperationException(holder.StandardError.ReadToEnd());
        }
    }

    /// <summary>Takes all the room but so much.</summary>
    public void FillUpTo(long left)
    {
        using var ballast = new FileStream(Ballast, FileMode.OpenOrCreate, FileAccess.Write, FileShare.None, bufferSize: 0);
        ballast.Position = ballast.Length;
        var page = new byte[4096];
        while (new DriveInfo(Seen).AvailableFreeSpace > left)
        {
            ballast.Write(page);
        }
    }

    public void MakeRoom() => File.Delete(Ballast);

    private static string? Hinders()
    {
        try
        {
            Make(1).Dispose();
            return null;
        }
        catch (Exception none) when (none is InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            return $"No disk can be made here that could be filled: {none.Message.Trim()}";
        }
    }

    public void Dispose()
    {
        _holder.Kill();
        _holder.WaitForExit();
        _holder.Dispose();
    }
}

/// <summary>A test that needs a disk of its own; not run, and said so, on a machine that lets nobody mount one.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class SmallDiskFactAttribute : FactAttribute
{
    public SmallDiskFactAttribute() => Skip = SmallDisk.Hindrance;
}

/// <inheritdoc cref="SmallDiskFactAttribute"/>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class SmallDiskTheoryAttribute : TheoryAttribute
{
    public SmallDiskTheoryAttribute() => Skip = SmallDisk.Hindrance;
}
