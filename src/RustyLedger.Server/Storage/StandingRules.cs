using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Labels;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Settings;

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
            .ChangeTracker.Entries()
            .Where(e =>
                e.State is EntityState.Added or EntityState.Modified
                && e.Entity is IThing or IEditable
                && e.Entity is not IEditable { RetiredAt: not null }
            )
            .ToList();
        foreach (var entry in changed)
        {
            if (Refusal(entry.Entity) is { } refusal)
            {
                throw ProblemException.Of(refusal, changed.Count > 1 ? $"{entry.Metadata.ClrType.Name} {LedgerContext.KeyOf(entry)}" : "");
            }
        }

        await CheckNames(context, cancel);
        await CheckWiring(context, cancel);
        await CheckEndings(context, [.. changed.Select(e => e.Entity)], cancel);
    }

    /// <summary>What Core says of one record by itself.</summary>
    private static Refusal? Refusal(object record) =>
        record switch
        {
            IThing thing => thing.Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.Variants } sheet => sheet.Read<VariantSheet>().Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.Safety } sheet => sheet.Read<SafetySheet>().Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.Signatures } sheet => sheet.Read<SignatureSheet>().Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.RoundRules } sheet => sheet.Read<RoundRuleSheet>().Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.Circuit } sheet => sheet.Read<CircuitSheet>().Refusal(),
            ModelSheetRecord { Id.Value: ModelSheetRecord.Functions } sheet => sheet.Read<FunctionSheet>().Refusal(),
            ModelSheetRecord sheet => sheet.Read<OutsideSheet>().Refusal(),
            BoardTypeRecord type => BoardCodeRule.Refusal(
                JsonSerializer.Deserialize<IReadOnlyList<BoardCode>>(type.Codes, MachineFile.OneLine)!
            ),
            OverrideRecord only => only.Said().Refusal(),
            SettingRecord setting => SettingEndpoints.Definition(setting).Refusal(),
            ShopRecord shop when shop.Limits.Problems() is [var (member, problem), ..] => new Refusal(member, problem),
            ShopRecord shop => PublicAddress.Refusal(shop.PublicAddress) ?? Core.Measuring.Meters.Refusal(shop.Meters),
            _ => null,
        };

    /// <summary>The names on boards of which an element or a pin came, went or was renamed.</summary>
    private static async Task CheckNames(LedgerContext context, CancellationToken cancel)
    {
        var touched = context
            .ChangeTracker.Entries()
            .Where(e => e.State is EntityState.Added or EntityState.Modified)
            .Select(e =>
                e.Entity switch
                {
                    ElementRecord element => element.OwnerId.Value,
                    PinRecord pin => pin.OwnerId.Value,
                    _ => null,
                }
            )
            .OfType<string>()
            .ToHashSet();
        foreach (var owner in touched)
        {
            // A model owns pins too, of what is on no board.
            if (await context.BoardTypes.FindAsync([new BoardTypeId(owner)], cancel) is null)
            {
                continue;
            }

            BoardTypeId type = owner;
            Id<Wired> wired = owner;
            await context.Elements.Where(e => e.OwnerId == type).LoadAsync(cancel);
            await context.Pins.Where(p => p.OwnerId == wired).LoadAsync(cancel);
            if (
                LayoutRule.Refusal(
                    context.Elements.Local.Where(e => e.OwnerId == type && e.RetiredAt is null).Select(e => (e.Id, e.Designator)),
                    context
                        .Pins.Local.Where(p => p.OwnerId == wired && p.RetiredAt is null)
                        .Select(p => (new ElementId(p.GroupId), p.Label))
                ) is
                { } refusal
            )
            {
                throw ProblemException.Conflict(refusal);
            }
        }
    }

    /// <summary>The names and wires of models of which a part, a pin of one, a position or a wire came, went or was changed.</summary>
    private static async Task CheckWiring(LedgerContext context, CancellationToken cancel)
    {
        var touched = context
            .ChangeTracker.Entries()
            .Where(e => e.State is EntityState.Added or EntityState.Modified)
            .Select(e =>
                e.Entity switch
                {
                    PartRecord part => part.OwnerId.Value,
                    PositionRecord position => position.OwnerId.Value,
                    PinRecord pin => pin.OwnerId.Value,
                    LinkRecord link => link.OwnerId.Value,
                    _ => null,
                }
            )
            .OfType<string>()
            .ToHashSet();
        foreach (var owner in touched)
        {
            // A board type owns pins and paths too.
            if (await context.Models.FindAsync([new ModelId(owner)], cancel) is null)
            {
                continue;
            }

            ModelId model = owner;
            Id<Wired> wired = owner;
            await context.Parts.Where(p => p.OwnerId == model).LoadAsync(cancel);
            await context.Positions.Where(p => p.OwnerId == model).LoadAsync(cancel);
            await context.Pins.Where(p => p.OwnerId == wired).LoadAsync(cancel);
            await context.Links.Where(l => l.OwnerId == wired).LoadAsync(cancel);
            var parts = context.Parts.Local.Where(p => p.OwnerId == model && p.RetiredAt is null).ToList();
            var pins = context.Pins.Local.Where(p => p.OwnerId == wired && p.RetiredAt is null).ToLookup(p => p.GroupId);
            string Printed(PinAddress at) =>
                at is PinAddress.OffBoard off && parts.Find(p => p.Id == off.Part) is { } part
                    ? $"{part.Designator}·{pins[part.Id.Value].FirstOrDefault(p => p.Id == off.Pin)?.Label ?? off.Pin.Value}"
                    : "a pin of a board";
            var refusal =
                WiringRule.OfNames(
                    parts.Select(p => p.Designator),
                    context.Positions.Local.Where(p => p.OwnerId == model && p.RetiredAt is null).Select(p => p.Prefix)
                )
                ?? parts
                    .Select(p => WiringRule.OfLabels(p.Designator, pins[p.Id.Value].Select(pin => pin.Label)))
                    .FirstOrDefault(r => r is not null)
                ?? WiringRule.OfWires(
                    context
                        .Links.Local.Where(l => l.OwnerId == wired && l.RetiredAt is null)
                        .OrderBy(l => l.Ordinal)
                        .Select(l => (l.From, l.To)),
                    Printed
                );
            if (refusal is not null)
            {
                throw ProblemException.Of(refusal);
            }
        }
    }

    /// <summary>A visit whose ending changes, or in which something opens again.</summary>
    private static async Task CheckEndings(LedgerContext context, IReadOnlyList<object> changed, CancellationToken cancel)
    {
        var opened = changed
            .OfType<TemporaryLink>()
            .Where(l => l.IsOpen)
            .Select(l => l.VisitId)
            .Concat(changed.OfType<Notice>().Where(n => n.IsOpen).Select(n => n.VisitId))
            .ToHashSet();
        var visits = changed
            .OfType<Visit>()
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
            var open = await StillOpen(visit, context.Entry(visit).State != EntityState.Added, context, cancel);
            if (visit.Fits(open).Refusal is { } refusal)
            {
                throw ProblemException.Of(refusal);
            }
        }
    }

    /// <summary>What is open on the machine of a visit, with what is about to be written.</summary>
    /// <param name="ofMachine">Also what other visits opened.</param>
    public static async Task<StillOpen> StillOpen(Visit visit, bool ofMachine, LedgerContext context, CancellationToken cancel)
    {
        var links = await context
            .TemporaryLinks.Where(l => ofMachine ? l.MachineId == visit.MachineId : l.VisitId == visit.Id)
            .ToListAsync(cancel);
        var notices = await context
            .Notices.Where(n => ofMachine ? n.MachineId == visit.MachineId : n.VisitId == visit.Id)
            .ToListAsync(cancel);
        return new StillOpen(
            [.. links.Concat(context.TemporaryLinks.Local.Where(l => l.VisitId == visit.Id)).DistinctBy(l => l.Id).Where(l => l.IsOpen)],
            [.. notices.Concat(context.Notices.Local.Where(n => n.VisitId == visit.Id)).DistinctBy(n => n.Id).Where(n => n.IsOpen)]
        );
    }
}
