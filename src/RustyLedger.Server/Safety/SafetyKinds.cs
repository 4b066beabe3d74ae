using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Safety;

/// <summary>Acts of making safe, temporary links and notices.</summary>
internal static class SafetyKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<SafetyAct>
        {
            List = "safetyEvents",
            Table = e =>
            {
                e.HasIndex(s => new { s.VisitId, s.Order });
                e.HasOne<Visit>().WithMany().HasForeignKey(s => s.VisitId);
            },
            OfMachine = (context, machine) =>
                context.SafetyActs.Where(a => context.VisitsOf(machine).Contains(a.VisitId)).OrderBy(a => a.Order),
            InFile = file => file.Visits.SelectMany(v => v.SafetyEvents.Select(a => a with { VisitId = v.Id })),
            MadeBy = a => [a.PersonId],
        },
        new RecordKind<TemporaryLink>
        {
            List = "temporaryLinks",
            Table = e =>
            {
                e.HasIndex(l => l.RemovedAt);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(l => l.MachineId);
                e.HasOne<Visit>().WithMany().HasForeignKey(l => l.VisitId);
            },
            OfMachine = (context, machine) => context.TemporaryLinks.Where(l => l.MachineId == machine).OrderBy(l => l.PlacedAt),
            InFile = file =>
                file.Visits.SelectMany(v => v.TemporaryLinks.Select(l => l with { VisitId = v.Id, MachineId = file.Machine.Id })),
            MadeBy = l => [l.PersonId, l.RemovedById],
            OnTimeline = (l, words) =>
                new(
                    l.PlacedAt,
                    TimelineKind.Safety,
                    l.VisitId.Value,
                    l.IsOpen,
                    $"{l.Kind.Words()}: {l.Where}",
                    l.Why,
                    l.RemovedAt is null ? "" : "out",
                    words.Person(l.PersonId),
                    null
                ),
        },
        new RecordKind<Notice>
        {
            List = "notices",
            Table = e =>
            {
                e.HasIndex(n => n.BackAt);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
                e.HasOne<Visit>().WithMany().HasForeignKey(n => n.VisitId);
            },
            OfMachine = (context, machine) => context.Notices.Where(n => n.MachineId == machine).OrderBy(n => n.At),
            InFile = file => file.Visits.SelectMany(v => v.Notices.Select(n => n with { VisitId = v.Id, MachineId = file.Machine.Id })),
            MadeBy = n => [n.PersonId],
            OnTimeline = (n, words) =>
                new(
                    n.At,
                    TimelineKind.Safety,
                    n.VisitId.Value,
                    n.IsOpen,
                    $"Out of service, told: {n.Told}",
                    $"Watching: {n.Watching}",
                    n.BackAt is null ? "" : "back",
                    words.Person(n.PersonId),
                    null
                ),
        },
    ];
}
