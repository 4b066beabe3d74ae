using RustyLedger.Core.Photographs;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Photographs;

/// <summary>Photographs and the places tapped on them.</summary>
internal static class PhotographKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<Photograph>
        {
            List = "photographs",
            Table = e =>
            {
                e.HasIndex(p => new { p.MachineId, p.TakenAt });
                e.HasIndex(p => p.Hash);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(p => p.MachineId);
            },
            OfMachine = (context, machine) =>
                context.Photographs.Where(p => p.MachineId == machine).OrderBy(p => p.TakenAt).ThenBy(p => p.Id),
            InFile = file => file.Photographs.Select(p => p.Alone() with { MachineId = file.Machine.Id }),
            MadeBy = p => [p.PersonId],
            OnTimeline = (p, words) =>
                new(
                    p.TakenAt,
                    TimelineKind.Photograph,
                    p.Id.Value,
                    false,
                    p.Caption.Length > 0 ? p.Caption
                        : p.Kind == PhotographKind.Other ? "photograph"
                        : p.Kind.ToString().ToLowerInvariant(),
                    words.Places.GetValueOrDefault(p.Id) switch
                    {
                        0 => "",
                        1 => "1 place",
                        var n => $"{n} places",
                    },
                    "",
                    words.Person(p.PersonId),
                    p.Hash
                ),
        },
        new RecordKind<Place>
        {
            List = "places",
            Table = e => e.HasOne<Photograph>().WithMany().HasForeignKey(p => p.PhotographId),
            OfMachine = (context, machine) =>
                context
                    .Places.Where(p => context.Photographs.Where(x => x.MachineId == machine).Select(x => x.Id).Contains(p.PhotographId))
                    .OrderBy(p => p.Number),
            InFile = file => file.Photographs.SelectMany(p => p.Places.Select(x => x with { PhotographId = p.Id })),
            MadeBy = _ => [],
        },
    ];
}
