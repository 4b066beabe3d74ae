using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Exchange;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>Keeps in which versions things went out and came in, by the board type, model or machine they belong to.</summary>
internal static class SharedVersions
{
    // The row that holds this ledger's own id; no thing is called so.
    public const string Own = "ledger";

    /// <summary>The id by which this ledger's writes are counted, made when it is first asked for; saving is the caller's.</summary>
    /// <param name="renew">It is to have another from now on.</param>
    public static async Task<string> Ledger(LedgerContext context, CancellationToken cancel, bool renew = false)
    {
        var row = await context.Versions.FindAsync([Own], cancel);
        if (row is null)
        {
            context.Versions.Add(row = new VersionsRecord { Id = Own, Body = Texts.NewId() });
        }
        else if (renew)
        {
            row.Body = Texts.NewId();
        }

        return row.Body;
    }

    public static async Task<Versions> Load(IEnumerable<Book> books, LedgerContext context, CancellationToken cancel)
    {
        var owners = books.SelectMany(Owners).Distinct().ToList();
        var bodies = await context.Versions.AsNoTracking().Where(s => owners.Contains(s.Id)).Select(s => s.Body).ToListAsync(cancel);
        return new Versions(bodies.SelectMany(b => BundleFile.ReadVersions(System.Text.Encoding.UTF8.GetBytes(b)).ByKey));
    }

    /// <summary>Keeps them beside the records; saving is the caller's.</summary>
    public static async Task Keep(Book book, Versions versions, LedgerContext context, CancellationToken cancel)
    {
        var machine = book.Machine is { } file ? Key("machine", file.Machine.Id.Value) : null;
        foreach (var owned in versions.ByKey.GroupBy(s => Owner(s.Key) ?? machine).Where(g => g.Key is not null))
        {
            var body = System.Text.Encoding.UTF8.GetString(BundleFile.WriteVersions(new Versions(owned)));
            if (await context.Versions.FindAsync([owned.Key!], cancel) is { } known)
            {
                known.Body = body;
            }
            else
            {
                context.Versions.Add(new VersionsRecord { Id = owned.Key!, Body = body });
            }
        }
    }

    private static IEnumerable<string> Owners(Book book)
    {
        var shared = book.BoardTypes.Select(b => Key("boardTypes", b.Id.Value));
        shared = book.Model is { } model ? shared.Append(Key("model", model.Id.Value)) : shared;
        return book.Machine is { } file ? shared.Append(Key("machine", file.Machine.Id.Value)) : shared;
    }

    private static string Key(string list, string id) => $"{list}/{Uri.EscapeDataString(id)}";

    /// <summary>Null for what belongs to the machine.</summary>
    private static string? Owner(string key) =>
        key.Split('/') switch
        {
            ["boardTypes" or "settings", var type, ..] => $"boardTypes/{type}",
            ["model", var model, ..] => $"model/{model}",
            _ => null,
        };
}
