using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Exchange;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>Keeps in which shapes things went out and came in, by the board type, model or machine they belong to.</summary>
internal static class SharedShapes
{
    public static async Task<Shapes> Load(Book book, LedgerContext context, CancellationToken cancel)
    {
        var owners = Owners(book).ToList();
        return (await context.Shapes.AsNoTracking().Where(s => owners.Contains(s.Id)).Select(s => s.Body).ToListAsync(cancel)).Aggregate(Shapes.None, (all, body) => all.With(BundleFile.ReadShapes(System.Text.Encoding.UTF8.GetBytes(body))));
    }

    /// <summary>Keeps them beside the records; saving is the caller's.</summary>
    public static async Task Keep(Book book, Shapes shapes, LedgerContext context, CancellationToken cancel)
    {
        var machine = book.Machine is { } file ? Key("machine", file.Machine.Id) : null;
        foreach (var owned in shapes.ByKey.GroupBy(s => Owner(s.Key) ?? machine).Where(g => g.Key is not null))
        {
            var body = System.Text.Encoding.UTF8.GetString(BundleFile.WriteShapes(new Shapes(owned)));
            if (await context.Shapes.FindAsync([owned.Key!], cancel) is { } known)
            {
                known.Body = body;
            }
            else
            {
                context.Shapes.Add(new ShapesRecord { Id = owned.Key!, Body = body });
            }
        }
    }

    private static IEnumerable<string> Owners(Book book)
    {
        var shared = book.BoardTypes.Select(b => Key("boardTypes", b.Id));
        shared = book.Model is { } model ? shared.Append(Key("model", model.Id)) : shared;
        return book.Machine is { } file ? shared.Append(Key("machine", file.Machine.Id)) : shared;
    }

    private static string Key(string list, string id) => $"{list}/{Uri.EscapeDataString(id)}";

    /// <summary>Null for what belongs to the machine.</summary>
    private static string? Owner(string key) => key.Split('/') switch
    {
        ["boardTypes" or "settings", var type, ..] => $"boardTypes/{type}",
        ["model", var model, ..] => $"model/{model}",
        _ => null,
    };
}
