using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Exchange;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>A thing that differs.</summary>
/// <param name="Key">By which a choice names it.</param>
/// <param name="IsHere">False where it was taken away here.</param>
/// <param name="IsThere">False where it was taken away there.</param>
public sealed record BundleDifference(string Key, string Words, bool IsHere, bool IsThere, IReadOnlyList<MemberDifference> Members);

/// <summary>What taking a bundle in would do; nothing is written yet.</summary>
/// <param name="Words">What the bundle is of.</param>
/// <param name="Adds">What would be new, a line each.</param>
/// <param name="Changes">What was changed there since it went out from here.</param>
/// <param name="Removes">What was taken away there.</param>
/// <param name="NewerHere">What was changed here since; it stays.</param>
/// <param name="Clashes">What was written on both sides: a person chooses.</param>
/// <param name="Refused">Why it cannot be taken in, whatever is chosen.</param>
/// <param name="Same">How many things are the same already.</param>
/// <param name="AlsoOn">Tags of other machines that use what would change.</param>
/// <param name="ChangesNothing">All of it is here already.</param>
public sealed record BundlePreview(
    BundleKind Kind,
    string Words,
    IReadOnlyList<string> Adds,
    IReadOnlyList<BundleDifference> Changes,
    IReadOnlyList<string> Removes,
    IReadOnlyList<string> NewerHere,
    IReadOnlyList<BundleDifference> Clashes,
    IReadOnlyList<string> Refused,
    int Same,
    IReadOnlyList<string> AlsoOn,
    bool ChangesNothing
);

/// <param name="Tag">Of a machine; empty for a model or a board type.</param>
public sealed record BundleTaken(BundleKind Kind, string Id, string Tag);

/// <summary>Which side stands in a clash, by the key of the thing.</summary>
public enum BundleSide
{
    Here,
    There,
}

/// <summary>Compares a bundle with the ledger, thing by thing, and takes it in as one transaction.</summary>
public sealed class BundleImport(
    LedgerContext context,
    MachineLibrary library,
    MachineFileImport import,
    MachineFileExport export,
    BundleExport bundles,
    PictureFiles pictures
)
{
    // More of one kind than this are counted instead of named.
    private const int MostNamed = 12;

    private sealed record Compared(
        Bundle Bundle,
        Book There,
        Book Here,
        BookComparison Comparison,
        Versions SeenHere,
        Versions SeenThere,
        string Ledger,
        IReadOnlyList<string> Refused
    );

    public async Task<BundlePreview> Preview(Bundle bundle, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(bundle);
        var compared = await Compare(bundle, cancel);
        var (comparison, there, here) = (compared.Comparison, compared.Comparison.There, compared.Comparison.Here);
        IEnumerable<Finding> Of(FindingKind kind) => comparison.Findings.Where(f => f.Kind == kind);
        BundleDifference Difference(Finding f) =>
            new(f.Key, Named(f, comparison), f.Here is not null, f.There is not null, ItemWords.Differences(f.Here, f.There));
        var refused = compared.Refused.Concat(Of(FindingKind.Refused).Select(f => WrittenOnce(f, comparison))).ToList();
        return new BundlePreview(
            bundle.Manifest.Kind,
            ItemWords.Of(Named(compared.There, there), there)
                + (compared.There.Machine is { Machine.Name: { Length: > 0 } name } ? $", {name}" : ""),
            [
                .. Grouped(
                    Of(FindingKind.Added)
                        .Where(f => there[f.Key]!.Parent is var parent && (parent.Length == 0 || here[parent] is not null)),
                    there
                ),
            ],
            [.. Of(FindingKind.Changed).Select(Difference)],
            [.. Of(FindingKind.Removed).Select(f => ItemWords.Of(f.Here!, here))],
            [.. Of(FindingKind.NewerHere).Select(f => Named(f, comparison) + (f.Here is null ? ", taken away here" : ""))],
            [.. Of(FindingKind.Clash).Select(Difference)],
            refused,
            comparison.Same,
            await AlsoOn(compared, cancel),
            comparison.ChangesNothing && refused.Count == 0
        );
    }

    /// <summary>Takes a bundle in, all of it or nothing.</summary>
    /// <param name="choices">Which side stands in each clash.</param>
    /// <exception cref="ProblemException">It cannot be taken in, or a clash has no choice; nothing was written.</exception>
    public async Task<BundleTaken> TakeIn(
        Bundle bundle,
        IReadOnlyDictionary<string, BundleSide> choices,
        Func<ImportProgress, Task>? progress,
        CancellationToken cancel
    )
    {
        ArgumentNullException.ThrowIfNull(bundle);
        ArgumentNullException.ThrowIfNull(choices);
        var compared = await Compare(bundle, cancel);
        RefuseWhatIsOpen(compared, choices);
        if (IsAllNew(compared))
        {
            var tree = compared.Comparison.Merge(new HashSet<string>());
            var merged = await Understood(tree, compared, cancel);
            await import.AddNew(
                bundle.Manifest.Name,
                merged,
                bundle.Picture,
                progress,
                async () =>
                {
                    var now = await Compare(bundle, cancel);
                    RefuseWhatIsOpen(now, choices);
                    if (!IsAllNew(now))
                    {
                        throw ProblemException.Conflict("Somebody wrote to the same things meanwhile. Take the bundle in once more.");
                    }
                },
                () => SharedVersions.Keep(merged, compared.SeenHere.Joined(compared.SeenThere, tree, compared.Ledger), context, cancel),
                cancel
            );
        }
        else if (!compared.Comparison.ChangesNothing)
        {
            await import.AllOrNothing(
                bundle.Manifest.Name,
                compared.There,
                bundle.Picture,
                progress,
                async kept =>
                {
                    // Now nobody else writes.
                    var now = await Compare(bundle, cancel);
                    RefuseWhatIsOpen(now, choices);
                    await Write(
                        now,
                        choices.Where(c => c.Value == BundleSide.There).Select(c => c.Key).ToHashSet(),
                        kept,
                        progress,
                        cancel
                    );
                },
                cancel
            );
        }

        return compared.There switch
        {
            { Machine: { } file } => new BundleTaken(BundleKind.Machine, file.Machine.Id.Value, file.Machine.Tag),
            { Model: { } model } => new BundleTaken(BundleKind.Model, model.Id.Value, ""),
            { BoardTypes: var types } => new BundleTaken(BundleKind.BoardType, types[0].Id.Value, ""),
        };
    }

    /// <summary>None of the machine, the model or the board type is here, and whatever else is here is the same.</summary>
    private static bool IsAllNew(Compared compared) =>
        compared.Here.Machine is null
        && compared.Comparison.Findings is { Count: > 0 } findings
        && findings.All(f => f.Kind == FindingKind.Added)
        && (compared.There.Machine is not null || compared.Here is { BoardTypes.Count: 0, Model: null });

    private static void RefuseWhatIsOpen(Compared compared, IReadOnlyDictionary<string, BundleSide> choices)
    {
        var comparison = compared.Comparison;
        if (compared.Refused is [var why, ..])
        {
            throw ProblemException.Conflict(why);
        }

        if (comparison.Findings.FirstOrDefault(f => f.Kind == FindingKind.Refused) is { } differs)
        {
            throw ProblemException.Conflict(WrittenOnce(differs, comparison));
        }

        if (comparison.Findings.FirstOrDefault(f => f.Kind == FindingKind.Clash && !choices.ContainsKey(f.Key)) is { } open)
        {
            throw ProblemException.Conflict(
                $"The {Named(open, comparison)} was written here and there. Look the bundle through again, and choose which one stands."
            );
        }
    }

    private static string WrittenOnce(Finding finding, BookComparison comparison) =>
        $"The {ItemWords.Of(finding.There!, comparison.There)} is here with other contents; it is written once and never changed.";

    private async Task Write(
        Compared compared,
        HashSet<string> theirs,
        IReadOnlyDictionary<PhotographId, Picture> kept,
        Func<ImportProgress, Task>? progress,
        CancellationToken cancel
    )
    {
        var tree = compared.Comparison.Merge(theirs);
        var merged = await Understood(tree, compared, cancel);
        var alsoOn = await AlsoOn(compared, cancel);
        await import.Write(merged, compared.Here, kept, progress, cancel);
        foreach (var tag in alsoOn)
        {
            if (
                (
                    await library.Resolve(await context.Machines.Where(m => m.Tag == tag).Select(m => m.Id).SingleAsync(cancel), cancel)
                ).Problems
                is [var problem, ..]
            )
            {
                throw ProblemException.Conflict($"On {tag}, which uses the same, the wiring would no longer fit together: {problem}.");
            }
        }

        await SharedVersions.Keep(merged, compared.SeenHere.Joined(compared.SeenThere, tree, compared.Ledger), context, cancel);
        await context.SaveChangesAsync(cancel);
    }

    private async Task<Compared> Compare(Bundle bundle, CancellationToken cancel)
    {
        var there =
            bundle.Manifest.Kind == BundleKind.Machine
                ? Book.Of(await MachineFileImport.Understand(bundle.OpenContent, cancel))
                : Book.Of(await MachineFileImport.UnderstandLibrary(bundle.OpenContent, cancel));
        if (
            (bundle.Manifest.Kind == BundleKind.Model && there.Model is null)
            || (bundle.Manifest.Kind == BundleKind.BoardType && (there.Model is not null || there.BoardTypes.Count != 1))
        )
        {
            throw ProblemException.Bad("bundle", "The bundle says that it is of one thing, and holds another.");
        }

        var refused = new List<string>();
        var here = await Here(there, refused, cancel);
        var ledger = await SharedVersions.Ledger(context, cancel);
        var tree = Tree(here);
        var seenHere = (await SharedVersions.Load([there, here], context, cancel)).Seen(tree, ledger);
        // What is not as its version says was written on the way, by whoever took the bundle apart.
        var comes = Tree(there);
        var seenThere = bundle.Versions.Seen(comes, "by hand");
        var comparison = BookComparison.Of(tree, comes, seenHere, seenThere);
        foreach (
            var photograph in there.Machine?.Photographs.Where(p =>
                p.Data is null && !p.IsGone && !bundle.Pictures.Contains($"{p.Hash}.{p.Format}") && pictures.Known(p.Hash, p.Format) is null
            )
                ?? []
        )
        {
            refused.Add($"The picture of {(photograph.Caption.Length > 0 ? photograph.Caption : photograph.Id)} is not in the bundle.");
        }

        return new Compared(bundle, there, here, comparison, seenHere, seenThere, ledger, refused);
    }

    /// <summary>What the ledger has of that which a bundle tells of.</summary>
    private async Task<Book> Here(Book there, List<string> refused, CancellationToken cancel)
    {
        MachineFile? machine = null;
        if (there.Machine is { } file)
        {
            if (await context.Machines.AsNoTracking().AnyAsync(m => m.Id == file.Machine.Id, cancel))
            {
                machine = await export.Of(file.Machine.Id, withPictures: false, cancel);
                if (machine.Machine.ModelId != file.Machine.ModelId)
                {
                    refused.Add($"{file.Machine.Tag} is of model {machine.Model.Name} here, and of {file.Model.Name} in the bundle.");
                }
            }
            else if (await context.Machines.AsNoTracking().AnyAsync(m => m.Tag == file.Machine.Tag, cancel))
            {
                refused.Add($"{file.Machine.Tag} is the tag of another machine here. Give one of the two another tag first.");
            }
        }

        var ids = there.BoardTypes.Select(t => t.Id).ToList();
        var types = (await context.BoardTypes.AsNoTracking().Where(t => ids.Contains(t.Id)).Select(t => t.Id).ToListAsync(cancel)).Concat(
            machine?.BoardTypes.Select(t => t.Id) ?? []
        );
        var model =
            there.Model is { } named && await context.Models.AsNoTracking().AnyAsync(m => m.Id == named.Id, cancel)
                ? await library.Model(named.Id, cancel)
                : null;
        var shared = await bundles.Of(types, model, cancel);
        return new Book(shared.BoardTypes, shared.Settings, model, machine);
    }

    // Whether a file was gone somewhere is nothing that anybody wrote.
    private static BookTree Tree(Book book) =>
        book.Machine is { } file
            ? BundleExport.Tree(
                file with
                {
                    BoardTypes = book.BoardTypes,
                    Settings = book.Settings,
                    Photographs = [.. file.Photographs.Select(p => p with { IsGone = false })],
                }
            )
            : BundleExport.Tree(
                new LibraryFile(LibraryFile.FormatName, LibraryFile.CurrentVersion, book.BoardTypes, book.Settings, book.Model)
            );

    /// <summary>A merged book, checked as if it had come from outside.</summary>
    private static async Task<Book> Understood(BookTree merged, Compared compared, CancellationToken cancel)
    {
        var text = Whole(merged, compared);
        Stream Open() => new MemoryStream(text);
        if (compared.There.Machine is not { } came)
        {
            return Book.Of(await MachineFileImport.UnderstandLibrary(Open, cancel));
        }

        var gone = came.Photographs.Where(p => p.IsGone).Select(p => p.Id).ToHashSet();
        var understood = await MachineFileImport.Understand(Open, cancel);
        return Book.Of(understood with { Photographs = [.. understood.Photographs.Select(p => p with { IsGone = gone.Contains(p.Id) })] });
    }

    /// <summary>With whatever was left aside when it was taken apart, and with lists that are empty on both sides.</summary>
    private static byte[] Whole(BookTree merged, Compared compared)
    {
        using var came = compared.There.Machine is { } file
            ? BundleExport.Json(
                file with
                {
                    People = [.. file.People.UnionBy(compared.Here.Machine?.People ?? [], p => p.Id)],
                    Causes = [.. file.Causes.UnionBy(compared.Here.Machine?.Causes ?? [], c => c.Id)],
                }
            )
            : BundleExport.Json(new LibraryFile(LibraryFile.FormatName, LibraryFile.CurrentVersion, [], [], null));
        using var text = new MemoryStream();
        using (var writer = new Utf8JsonWriter(text))
        {
            writer.WriteStartObject();
            var lists = new List<string>();
            foreach (var member in came.RootElement.EnumerateObject())
            {
                if (member.Name is "format" or "version" or "people" or "causes")
                {
                    member.WriteTo(writer);
                }
                else if (member.Value.ValueKind == JsonValueKind.Array)
                {
                    lists.Add(member.Name);
                }
            }

            merged.WriteTo(writer, lists);
            writer.WriteEndObject();
        }

        return text.ToArray();
    }

    /// <summary>Tags of the other machines that use a board type or the model that would change.</summary>
    private async Task<IReadOnlyList<string>> AlsoOn(Compared compared, CancellationToken cancel)
    {
        var changed = compared
            .Comparison.Findings.Where(f =>
                f.Kind != FindingKind.NewerHere && compared.Comparison.Here[string.Join('/', f.Key.Split('/')[..2])] is not null
            )
            .Select(f => f.Key.Split('/'))
            .ToList();
        var types = changed
            .Where(k => k[0] is "boardTypes" or "settings")
            .Select(k => new BoardTypeId(Uri.UnescapeDataString(k[1])))
            .ToHashSet();
        var models = changed.Where(k => k[0] == "model").Select(k => new ModelId(Uri.UnescapeDataString(k[1]))).ToHashSet();
        if (types.Count + models.Count == 0)
        {
            return [];
        }

        models.UnionWith(
            await context
                .Positions.AsNoTracking()
                .Where(p => types.Contains(p.BoardTypeId) && p.RetiredAt == null)
                .Select(p => p.OwnerId)
                .ToListAsync(cancel)
        );
        var fitted = await context.BoardsFittedNow.Where(b => types.Contains(b.BoardTypeId)).Select(b => b.OwnerId).ToListAsync(cancel);
        var self = compared.There.Machine?.Machine.Id;
        return await context
            .Machines.AsNoTracking()
            .Where(m => m.Id != self && m.RetiredAt == null && (models.Contains(m.ModelId) || fitted.Contains(m.Id)))
            .OrderBy(m => m.Tag)
            .Select(m => m.Tag)
            .ToListAsync(cancel);
    }

    private static BookItem Named(Book book, BookTree tree) =>
        tree.Items.First(i =>
            i.Parent.Length == 0
            && i.List
                == (
                    book.Machine is not null ? "machine"
                    : book.Model is not null ? "model"
                    : "boardTypes"
                )
        );

    private static string Named(Finding finding, BookComparison comparison) =>
        finding.Here is { } here ? ItemWords.Of(here, comparison.Here) : ItemWords.Of(finding.There!, comparison.There);

    private static IEnumerable<string> Grouped(IEnumerable<Finding> added, BookTree there)
    {
        foreach (var kind in added.GroupBy(f => f.There!.List))
        {
            if (kind.Count() > MostNamed)
            {
                yield return ItemWords.Count(kind.Key, kind.Count());
                continue;
            }

            foreach (var finding in kind)
            {
                var below = ItemWords.Below(finding.There!, there);
                yield return ItemWords.Of(finding.There!, there) + (below.Length > 0 ? $": {below}" : "");
            }
        }
    }
}
