using RustyLedger.Core.Boards;
using RustyLedger.Core.Visits;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Boards;

/// <summary>What is pinned to the boards of a machine, and how they are faced in a visit.</summary>
internal static class BoardNoteKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<BoardNote>
        {
            List = "boardNotes",
            Table = e =>
            {
                e.HasIndex(n => new { n.MachineId, n.PositionId });
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
            },
            OfMachine = (context, machine) => context.BoardNotes.Where(n => n.MachineId == machine).OrderBy(n => n.At).ThenBy(n => n.Id),
            InFile = file => file.BoardNotes.Select(n => n with { MachineId = file.Machine.Id }),
            MadeBy = n => [n.PersonId],
            OnTimeline = (n, words) =>
                new(
                    n.At,
                    TimelineKind.Seen,
                    $"board/{n.PositionId}",
                    false,
                    n.Text.Length > 0 ? n.Text : n.Kind.Words(),
                    string.Join(", ", new[] { words.Position(n.PositionId), n.Kind.Words(), n.Reason }.Where(w => w.Length > 0)),
                    "",
                    words.Person(n.PersonId),
                    null
                ),
        },
        new RecordKind<VisitFacing>
        {
            List = "facings",
            Table = e =>
            {
                e.HasKey(f => new { f.VisitId, f.PositionId });
                e.HasOne<Visit>().WithMany().HasForeignKey(f => f.VisitId);
            },
            OfMachine = (context, machine) =>
                context.Facings.Where(f => context.VisitsOf(machine).Contains(f.VisitId)).OrderBy(f => f.PositionId),
            InFile = file => file.Visits.SelectMany(v => v.Facings.Select(f => f with { VisitId = v.Id })),
            MadeBy = _ => [],
        },
    ];
}
