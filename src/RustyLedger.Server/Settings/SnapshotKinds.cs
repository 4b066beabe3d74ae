using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Settings;

/// <summary>Snapshots and the values in them.</summary>
internal static class SnapshotKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<Snapshot>
        {
            List = "snapshots",
            Table = e =>
            {
                e.HasIndex(s => new { s.MachineId, s.TakenAt });
                e.HasOne<FittedBoardRecord>().WithMany().HasForeignKey(s => new { s.MachineId, s.FittedBoardId });
                e.HasOne<Person>().WithMany().HasForeignKey(s => s.PersonId);
            },
            OfMachine = (context, machine) => context.Snapshots.Where(s => s.MachineId == machine).OrderBy(s => s.TakenAt),
            InFile = file => file.Snapshots.Select(s => s.Alone() with { MachineId = file.Machine.Id }),
            MadeBy = s => [s.PersonId],
            OnTimeline = (s, words) =>
                new(
                    s.TakenAt,
                    TimelineKind.Snapshot,
                    s.Id.Value,
                    false,
                    $"Settings {s.Kind switch { SnapshotKind.AsFound => "as found", SnapshotKind.AsLeft => "as left", _ => "noted" }}",
                    s.Note,
                    words.Values.GetValueOrDefault(s.Id) is var n && n == 1 ? "1 value" : $"{n} values",
                    words.Person(s.PersonId),
                    null
                ),
        },
        new RecordKind<StoredValue>
        {
            List = "values",
            Table = e =>
            {
                e.HasKey(v => new { v.SnapshotId, v.Code });
                e.HasOne<Snapshot>().WithMany().HasForeignKey(v => v.SnapshotId);
            },
            OfMachine = (context, machine) =>
                context
                    .StoredValues.Where(v => context.Snapshots.Where(s => s.MachineId == machine).Select(s => s.Id).Contains(v.SnapshotId))
                    .OrderBy(v => v.Ordinal),
            InFile = file =>
                file.Snapshots.SelectMany(s =>
                    s.Values.Select(
                        (v, i) =>
                            new StoredValue
                            {
                                SnapshotId = s.Id,
                                Code = v.Code,
                                Value = v.Value,
                                Ordinal = i,
                            }
                    )
                ),
            MadeBy = _ => [],
        },
    ];
}
