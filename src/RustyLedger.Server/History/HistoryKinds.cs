using RustyLedger.Core.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.History;

/// <summary>Faults, and notes that belong nowhere else.</summary>
internal static class HistoryKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<Fault>
        {
            List = "faults",
            Table = e =>
            {
                e.HasIndex(f => new { f.MachineId, f.OpenedAt });
                e.HasIndex(f => f.ClosedAt);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(f => f.MachineId);
            },
            OfMachine = (context, machine) => context.Faults.Where(f => f.MachineId == machine).OrderBy(f => f.OpenedAt),
            InFile = file => file.Faults.Select(f => f with { MachineId = file.Machine.Id }),
            MadeBy = f => [f.PersonId],
            OnTimeline = (f, words) =>
                new(
                    f.OpenedAt,
                    TimelineKind.Fault,
                    f.Id.Value,
                    f.ClosedAt is null,
                    f.Noticed.Length > 0 ? f.Noticed : "fault without words yet",
                    (f.ClosedAt is null ? f.FoundWords(words.Machine) : $"Proved: {f.Proof}")
                        + (
                            words.ReturnOf.ContainsKey(f.Id) ? " It came back."
                            : f.PreviousId is not null ? " A fault that came back."
                            : ""
                        )
                        + (f.Deviation.Length > 0 ? $" Deviation: {f.Deviation}" : ""),
                    f.Minutes is { } m ? $"{m} min" : "",
                    words.Person(f.PersonId),
                    null
                ),
        },
        new RecordKind<Note>
        {
            List = "notes",
            Table = e =>
            {
                e.HasIndex(n => new { n.MachineId, n.At });
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
            },
            OfMachine = (context, machine) => context.Notes.Where(n => n.MachineId == machine).OrderBy(n => n.At),
            InFile = file => file.Notes.Select(n => n with { MachineId = file.Machine.Id }),
            MadeBy = n => [n.PersonId],
            OnTimeline = (n, words) => new(n.At, TimelineKind.Note, n.Id, false, n.Text, "", "", words.Person(n.PersonId), null),
        },
    ];
}
