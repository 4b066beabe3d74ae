using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.History;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Measuring;

/// <summary>Rounds, the readings in them, and the names that were called.</summary>
internal static class RoundKinds
{
    public static IReadOnlyList<RecordKind> All { get; } =
    [
        new RecordKind<Round>
        {
            List = "rounds",
            Table = e => e.HasOne<Visit>().WithMany().HasForeignKey(r => r.VisitId),
            OfMachine = (context, machine) =>
                context.Rounds.Where(r => context.VisitsOf(machine).Contains(r.VisitId)).OrderBy(r => r.StartedAt),
            InFile = file => file.Visits.SelectMany(v => v.Rounds.Select(r => r.Alone() with { VisitId = v.Id })),
            MadeBy = _ => [],
        },
        new RecordKind<Reading>
        {
            List = "readings",
            IsMany = true,
            Table = e =>
            {
                e.HasIndex(r => new { r.RoundId, r.Order });
                e.HasIndex(r => r.Red);
                e.HasIndex(r => r.Target);
                e.HasOne<Round>().WithMany().HasForeignKey(r => r.RoundId);
                e.HasOne<Person>().WithMany().HasForeignKey(r => r.PersonId);
            },
            OfMachine = (context, machine) =>
                context.Readings.Where(r => context.RoundsOf(machine).Contains(r.RoundId)).OrderBy(r => r.Order).ThenBy(r => r.Id),
            InFile = file =>
                file.Visits.SelectMany(v =>
                    v.Rounds.SelectMany(r =>
                        r.Readings.Select(reading => reading with { RoundId = r.Id, Value = reading.Understood()?.Written })
                    )
                ),
            MadeBy = r => [r.PersonId],
        },
        new RecordKind<NamedPlace>
        {
            List = "namedPlaces",
            Table = e =>
            {
                e.HasIndex(n => n.MachineId);
                e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
                e.HasOne<Person>().WithMany().HasForeignKey(n => n.PersonId);
            },
            OfMachine = (context, machine) => context.NamedPlaces.Where(n => n.MachineId == machine).OrderBy(n => n.At).ThenBy(n => n.Id),
            InFile = file => file.NamedPlaces.Select(n => n with { MachineId = file.Machine.Id }),
            MadeBy = n => [n.PersonId],
        },
    ];

    /// <summary>A reading off the book, that no check asked for, on the time line.</summary>
    public static TimelineEntry Line(Reading reading, TimelineWords words) =>
        new(
            reading.DeviceTime,
            TimelineKind.Reading,
            reading.Red is PinAddress.AtPlace at && words.PhotographOf.TryGetValue(at.Place, out var photograph)
                ? $"photograph/{photograph}"
                : reading.RoundId.Value,
            false,
            $"{reading.RedPrinted}{(reading.BlackPrinted.Length > 0 ? $" to {reading.BlackPrinted}" : "")}",
            reading.State,
            reading.Value ?? reading.Typed,
            words.Person(reading.PersonId),
            null
        );
}
