using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Storage;

/// <summary>
/// What must hold of the records that are about to be written, through whichever door they came: an endpoint, a put-back, an
/// import, a bundle, a device that comes back on line. The rules are Core's.
/// </summary>
internal static class StandingRules
{
    /// <exception cref="ProblemException">One of them does not hold; nothing was written.</exception>
    public static async Task Check(LedgerContext context, CancellationToken cancel)
    {
        var changed = context
            .ChangeTracker.Entries<Editable>()
            .Where(e => e.State is EntityState.Added or EntityState.Modified && e.Entity.RetiredAt is null)
            .Select(e => e.Entity)
            .ToList();
        foreach (var fault in changed.OfType<FaultRecord>())
        {
            if (FaultRule.Refusal(fault.ClosedAt is not null, fault.Proof, fault.Cause) is { } refusal)
            {
                throw ProblemException.Bad(refusal.Field, refusal.Problem);
            }
        }

        await CheckNames(context, cancel);
        await CheckEndings(context, changed, cancel);
    }

    /// <summary>The names on boards of which an element or a pin came, went or was renamed.</summary>
    private static async Task CheckNames(LedgerContext context, CancellationToken cancel)
    {
        var touched = context
            .ChangeTracker.Entries<Owned>()
            .Where(e => e.Entity is ElementRecord or PinRecord && e.State is EntityState.Added or EntityState.Modified)
            .Select(e => e.Entity.OwnerId)
            .ToHashSet();
        foreach (var owner in touched)
        {
            // A model owns pins too, of what is on no board.
            if (await context.BoardTypes.FindAsync([owner], cancel) is null)
            {
                continue;
            }

            await context.Elements.Where(e => e.OwnerId == owner).LoadAsync(cancel);
            await context.Pins.Where(p => p.OwnerId == owner).LoadAsync(cancel);
            if (
                LayoutRule.Refusal(
                    context.Elements.Local.Where(e => e.OwnerId == owner && e.RetiredAt is null).Select(e => (e.Id, e.Designator)),
                    context.Pins.Local.Where(p => p.OwnerId == owner && p.RetiredAt is null).Select(p => (p.GroupId, p.Label))
                ) is
                { } refusal
            )
            {
                throw ProblemException.Conflict(refusal);
            }
        }
    }

    /// <summary>A visit whose ending changes, or in which something opens again.</summary>
    private static async Task CheckEndings(LedgerContext context, List<Editable> changed, CancellationToken cancel)
    {
        var opened = changed
            .OfType<TemporaryLinkRecord>()
            .Where(l => l.RemovedAt is null)
            .Select(l => l.VisitId)
            .Concat(changed.OfType<LifeSafetyNoticeRecord>().Where(n => n.BackAt is null).Select(n => n.VisitId))
            .ToHashSet();
        var visits = changed
            .OfType<VisitRecord>()
            .Where(v =>
                v.Ending is not null
                && context.Entry(v) is var entry
                && (entry.State == EntityState.Added || entry.Property(x => x.Ending).IsModified)
            )
            .ToList();
        foreach (var id in opened.Except(visits.Select(v => v.Id)))
        {
            if (await context.Visits.FindAsync([id], cancel) is { Ending: not null } ended)
            {
                visits.Add(ended);
            }
        }

        foreach (var visit in visits)
        {
            // Of an older visit only what it left itself counts; what a later one opened is that one's to end.
            var wasHere = context.Entry(visit).State != EntityState.Added;
            var links = (
                await context
                    .TemporaryLinks.Where(l => wasHere ? l.MachineId == visit.MachineId : l.VisitId == visit.Id)
                    .ToListAsync(cancel)
            )
                .Union(context.TemporaryLinks.Local.Where(l => l.VisitId == visit.Id))
                .Where(l => l.RemovedAt is null && l.RetiredAt is null)
                .ToList();
            var notices = (
                await context
                    .LifeSafetyNotices.Where(n => wasHere ? n.MachineId == visit.MachineId : n.VisitId == visit.Id)
                    .ToListAsync(cancel)
            )
                .Union(context.LifeSafetyNotices.Local.Where(n => n.VisitId == visit.Id))
                .Where(n => n.BackAt is null && n.RetiredAt is null)
                .ToList();
            if (
                EndingRule.Refusal(
                    visit.Ending,
                    [
                        .. links.Select(l => new OpenLink(
                            l.Where,
                            l.Standing is BypassStanding.FoundBypassed or BypassStanding.PlacedAllTheSame
                        )),
                    ],
                    [.. notices.Select(n => n.Told)]
                ) is
                { } refusal
            )
            {
                throw ProblemException.Conflict(refusal);
            }
        }
    }
}
