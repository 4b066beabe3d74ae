using RustyLedger.Core.Visits;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

/// <summary>Visits, and what is written in them as they go.</summary>
internal static class VisitKinds
{
    public static RecordKind<Visit> Visits { get; } =
        new()
        {
            List = "visits",
            Table = e =>
            {
                e.HasIndex(v => new { v.MachineId, v.OpenedAt });
                e.HasIndex(v => v.EndedAt);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(v => v.MachineId);
                e.HasOne<Person>().WithMany().HasForeignKey(v => v.PersonId);
            },
            OfMachine = (context, machine) => context.Visits.Where(v => v.MachineId == machine).OrderBy(v => v.OpenedAt),
            InFile = file => file.Visits.Select(v => v.Alone() with { MachineId = file.Machine.Id }),
            MadeBy = v => [v.PersonId],
            OnTimeline = (v, words) =>
                new(
                    v.OpenedAt,
                    TimelineKind.Visit,
                    v.Id.Value,
                    v.EndedAt is null,
                    v.Complaint.Length > 0 ? v.Complaint : "no complaint noted",
                    v.Ending is { } ending ? $"{ending.Words()}. {v.EndingNote}".Trim() : "open",
                    v.LabourMinutes is { } m ? $"{m} min" : "",
                    words.Person(v.PersonId),
                    null
                ),
        };

    public static IReadOnlyList<RecordKind> All { get; } =
    [
        Visits,
        new RecordKind<SupportCall>
        {
            List = "calls",
            Table = e => e.HasOne<Visit>().WithMany().HasForeignKey(c => c.VisitId),
            OfMachine = (context, machine) =>
                context.SupportCalls.Where(c => context.VisitsOf(machine).Contains(c.VisitId)).OrderBy(c => c.At),
            InFile = file => file.Visits.SelectMany(v => v.Calls.Select(c => c with { VisitId = v.Id })),
            MadeBy = c => [c.PersonId],
        },
        new RecordKind<Observation>
        {
            List = "observations",
            Table = e => e.HasOne<Visit>().WithMany().HasForeignKey(o => o.VisitId),
            OfMachine = (context, machine) =>
                context.Observations.Where(o => context.VisitsOf(machine).Contains(o.VisitId)).OrderBy(o => o.At).ThenBy(o => o.Id),
            InFile = file => file.Visits.SelectMany(v => v.Observations.Select(o => o with { VisitId = v.Id })),
            MadeBy = o => [o.PersonId],
            OnTimeline = (o, words) =>
                new(o.At, TimelineKind.Seen, o.VisitId.Value, o.IsOpen, o.Text, o.Kind.Words(), "", words.Person(o.PersonId), null),
        },
        new RecordKind<OutsideReply>
        {
            List = "outsideAnswers",
            Table = e =>
            {
                e.HasIndex(a => new { a.ModelId, a.CheckId });
                e.HasOne<Visit>().WithMany().HasForeignKey(a => a.VisitId);
            },
            OfMachine = (context, machine) =>
                context.OutsideReplies.Where(a => context.VisitsOf(machine).Contains(a.VisitId)).OrderBy(a => a.Order),
            InFile = file =>
                file.Visits.SelectMany(v => v.OutsideAnswers.Select(a => a with { VisitId = v.Id, ModelId = file.Machine.ModelId })),
            MadeBy = a => [a.PersonId],
        },
        new RecordKind<SkippedStep>
        {
            List = "skippedSteps",
            Table = e =>
            {
                e.HasKey(s => new { s.VisitId, s.Step });
                e.HasOne<Visit>().WithMany().HasForeignKey(s => s.VisitId);
            },
            OfMachine = (context, machine) =>
                context.SkippedSteps.Where(s => context.VisitsOf(machine).Contains(s.VisitId)).OrderBy(s => s.At),
            InFile = file => file.Visits.SelectMany(v => v.SkippedSteps.Select(s => s with { VisitId = v.Id })),
            MadeBy = s => [s.PersonId],
        },
    ];
}
