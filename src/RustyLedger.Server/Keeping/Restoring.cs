using System.Globalization;
using System.Text.Json;

namespace RustyLedger.Server.Keeping;

/// <summary>
/// Puts a backup in the place of what is there. All of it is unpacked and looked at first; then two folders change places, which a kill
/// leaves to the next start to finish.
/// </summary>
internal static class Restoring
{
    private const string PlanName = "restore.json";

    /// <param name="From">The folder that holds what comes, beside the book.</param>
    /// <param name="Aside">The folder that gets what was there.</param>
    /// <param name="Had">The names of what was there.</param>
    private sealed record Plan(string From, string Aside, IReadOnlyList<string> Had);

    /// <summary>Restores into a folder that no server holds.</summary>
    /// <returns>The backup, and the folder in which what was there is kept; empty where nothing was.</returns>
    /// <exception cref="StartException">The backup is not whole, or the folder cannot be used; nothing was changed.</exception>
    public static async Task<(BackupList Backup, string Aside)> Restore(
        string file,
        string data,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        Disk.OwnFolder(data);
        var stamp = now.ToUniversalTime().ToString("yyyyMMdd'T'HHmmssfff'Z'", CultureInfo.InvariantCulture);
        var plan = new Plan($"restore-{stamp}", $"set-aside-{stamp}", [.. Parts(data).Select(p => Path.GetFileName(p))]);
        var from = Path.Combine(data, plan.From);
        try
        {
            Disk.OwnFolder(from);
            var list = await Backup.Check(file, cancel, from);
            await File.WriteAllTextAsync(Path.Combine(data, PlanName), JsonSerializer.Serialize(plan), cancel);
            Disk.Settle(data);
            Finish(data);
            return (list, plan.Had.Count > 0 ? Path.Combine(data, plan.Aside) : "");
        }
        catch
        {
            // What was planned is finished by the next start; what was not is taken back here.
            if (!File.Exists(Path.Combine(data, PlanName)) && Directory.Exists(from))
            {
                Directory.Delete(from, recursive: true);
            }

            throw;
        }
    }

    /// <summary>What belongs to the ledger in its folder: the book with its log, and the pictures.</summary>
    private static IEnumerable<string> Parts(string folder) =>
        Directory.GetFiles(folder, "ledger.db*").Concat(Directory.GetDirectories(folder, "photographs"));

    /// <summary>Finishes a restore that was begun, however far it came; nothing where none was.</summary>
    public static void Finish(string data)
    {
        var planned = Path.Combine(data, PlanName);
        if (!File.Exists(planned) || JsonSerializer.Deserialize<Plan>(File.ReadAllText(planned)) is not { } plan)
        {
            return;
        }

        var (from, aside) = (Path.Combine(data, plan.From), Path.Combine(data, plan.Aside));
        // The book comes last: while it still stands in the folder beside, not all has changed places.
        if (File.Exists(Path.Combine(from, "ledger.db")))
        {
            Disk.OwnFolder(aside);
            foreach (var name in plan.Had.Where(n => Exists(Path.Combine(data, n)) && !Exists(Path.Combine(aside, n))))
            {
                Move(Path.Combine(data, name), Path.Combine(aside, name));
            }

            foreach (var part in Parts(from).OrderBy(p => Path.GetFileName(p) == "ledger.db").ToList())
            {
                Move(part, Path.Combine(data, Path.GetFileName(part)));
            }
        }

        Disk.Settle(data);
        File.Delete(planned);
        if (Directory.Exists(from))
        {
            Directory.Delete(from, recursive: true);
        }

        Disk.Settle(data);
    }

    private static bool Exists(string path) => File.Exists(path) || Directory.Exists(path);

    private static void Move(string from, string to)
    {
        if (Directory.Exists(from))
        {
            Directory.Move(from, to);
        }
        else
        {
            File.Move(from, to);
        }
    }
}
