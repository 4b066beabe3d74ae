using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using RustyLedger.Core;
using RustyLedger.Core.Machines;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Storage;

/// <summary>
/// One kind of record that belongs to a machine, described once. The tables, the machine file, bundles, imports, the rules at every door
/// and the time line work from it; its words in bundles stand in Core's <c>ThingKind</c> under the same list.
/// </summary>
internal abstract class RecordKind
{
    /// <summary>All of them, those that others belong to first.</summary>
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        .. Visits.VisitKinds.All,
        .. Measuring.RoundKinds.All,
        .. Safety.SafetyKinds.All,
        .. History.HistoryKinds.All,
        .. Settings.SnapshotKinds.All,
        .. Photographs.PhotographKinds.All,
        .. Boards.BoardNoteKinds.All,
    ];

    /// <summary>The list of the machine file that holds it.</summary>
    public required string List { get; init; }

    /// <summary>Written in parts of its own on an import: there may be many.</summary>
    public bool IsMany { get; init; }

    public abstract void Map(ModelBuilder model);

    /// <summary>Those of a machine that stand, in the order of the file.</summary>
    public abstract Task<IReadOnlyList<object>> Of(MachineId machine, LedgerContext context, CancellationToken cancel);

    /// <summary>Those of a file, with the members that the book keeps and a file leaves out.</summary>
    public abstract IEnumerable<object> In(MachineFile file);

    /// <summary>Who made or signed it.</summary>
    public abstract IEnumerable<PersonId> People(object record);

    /// <summary>Whether it has lines on the time line.</summary>
    public abstract bool HasLines { get; }

    /// <summary>Its line on the time line; null where it has none.</summary>
    public abstract TimelineEntry? Line(object record, TimelineWords words);

    /// <summary>Of one type of record.</summary>
    public static RecordKind<T> For<T>()
        where T : class, IThing => All.OfType<RecordKind<T>>().Single();
}

/// <inheritdoc/>
internal sealed class RecordKind<T> : RecordKind
    where T : class, IThing
{
    public required Action<EntityTypeBuilder<T>> Table { get; init; }

    /// <summary>Those of a machine, retired ones too, in the order of the file.</summary>
    public required Func<LedgerContext, MachineId, IQueryable<T>> OfMachine { get; init; }

    public required Func<MachineFile, IEnumerable<T>> InFile { get; init; }

    public required Func<T, IEnumerable<PersonId?>> MadeBy { get; init; }

    public Func<T, TimelineWords, TimelineEntry?>? OnTimeline { get; init; }

    public override bool HasLines => OnTimeline is not null;

    public override void Map(ModelBuilder model) => Table(model.Entity<T>());

    public async Task<IReadOnlyList<T>> Those(MachineId machine, LedgerContext context, CancellationToken cancel) =>
        [.. (await OfMachine(context, machine).AsNoTracking().ToListAsync(cancel)).Where(r => r is not IEditable { RetiredAt: not null })];

    public override async Task<IReadOnlyList<object>> Of(MachineId machine, LedgerContext context, CancellationToken cancel) =>
        await Those(machine, context, cancel);

    public override IEnumerable<object> In(MachineFile file) => InFile(file);

    public override IEnumerable<PersonId> People(object record) => MadeBy((T)record).OfType<PersonId>();

    public override TimelineEntry? Line(object record, TimelineWords words) => OnTimeline?.Invoke((T)record, words);
}

/// <summary>What the lines of a machine's time line are worded with.</summary>
/// <param name="Values">How many values each snapshot has.</param>
/// <param name="Places">How many places are marked on each photograph.</param>
/// <param name="PhotographOf">The photograph a place is on.</param>
/// <param name="ReturnOf">The later fault that a fault came back as.</param>
internal sealed record TimelineWords(
    ResolvedMachine Machine,
    IReadOnlyDictionary<PersonId, string> People,
    IReadOnlyDictionary<SnapshotId, int> Values,
    IReadOnlyDictionary<PhotographId, int> Places,
    IReadOnlyDictionary<PlaceId, PhotographId> PhotographOf,
    IReadOnlyDictionary<FaultId, FaultId> ReturnOf
)
{
    public string Person(PersonId id) => People.GetValueOrDefault(id, "somebody");

    public string Position(PositionId id) => Machine.Model.Positions.FirstOrDefault(p => p.Id == id)?.Name ?? id.Value;
}
