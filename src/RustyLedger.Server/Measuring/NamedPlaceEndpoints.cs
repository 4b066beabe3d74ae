using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Measuring;

/// <summary>A place that was called by a name, with what was read there.</summary>
/// <param name="Is">The pin it turned out to be, as printed; empty while nobody said.</param>
/// <param name="Maybe">The pins that bear its name by now: is it one of them?</param>
/// <param name="Readings">Newest first.</param>
public sealed record NamedPlaceView(
    string Id,
    int Version,
    string Name,
    string Is,
    IReadOnlyList<ProbedPin> Maybe,
    IReadOnlyList<PlaceReading> Readings
);

public sealed record NewNamedPlace(string Id, string Name, DateTimeOffset At, string PersonId);

/// <param name="Is">The pin it is; null while nobody knows.</param>
public sealed record NamedPlaceEdit(int Version, string Name, PinAddress? Is);

internal static class NamedPlaceEndpoints
{
    public static void MapNamedPlaces(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{id}/names", Of).WithName("listNamedPlaces");
        api.MapPost("/machines/{id}/names", Add).WithName("addNamedPlace");
        api.MapPut("/names/{id}", Edit).WithName("editNamedPlace");
    }

    private static async Task<IReadOnlyList<NamedPlaceView>> Of(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(id, cancel);
        var names = await Those(machine.Machine.Id, context, cancel);
        List<PinAddress> addresses = [.. names.Select(n => new PinAddress.AtPlace(n.Id))];
        var readings = await context
            .StandingReadings.AsNoTracking()
            .Where(r => addresses.Contains(r.Red!))
            .OrderByDescending(r => r.Order)
            .ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var byPlace = readings.ToLookup(r => ((PinAddress.AtPlace)r.Red!).Place, r => PlaceEndpoints.Reading(r, people));
        return
        [
            .. names.Select(n => new NamedPlaceView(
                n.Id.Value,
                n.Version,
                n.Name,
                n.Is is null ? "" : machine.Pins.GetValueOrDefault(n.Is)?.Printed ?? "a pin that is gone",
                [.. n.CalledSo(machine).Select(p => new ProbedPin(p.Address, p.Printed))],
                [.. byPlace[n.Id]]
            )),
        ];
    }

    /// <summary>Of a machine, in the order in which they were called.</summary>
    internal static async Task<IReadOnlyList<NamedPlace>> Those(MachineId machine, LedgerContext context, CancellationToken cancel) =>
        await context
            .NamedPlaces.AsNoTracking()
            .Where(n => n.MachineId == machine && n.RetiredAt == null)
            .OrderBy(n => n.At)
            .ThenBy(n => n.Id)
            .ToListAsync(cancel);

    /// <summary>Two who call the same name at once mean the same place: the second finds it.</summary>
    private static async Task<IReadOnlyList<NamedPlaceView>> Add(
        string id,
        NewNamedPlace asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        await using var transaction = await context.WriteAlone(cancel);
        var machine = await library.Machine(id, cancel);
        var place = Outcome
            .Of(
                new NamedPlace
                {
                    Id = asked.Id,
                    MachineId = machine.Id,
                    Name = asked.Name?.Trim() ?? "",
                    At = asked.At,
                    PersonId = asked.PersonId,
                }
            )
            .OrRefuse();
        var here = await context.NamedPlaces.AsNoTracking().FirstOrDefaultAsync(n => n.Id == place.Id, cancel);
        if (here is not null && (here.MachineId != place.MachineId || here.Name != place.Name))
        {
            throw ProblemException.Clash(new { place.Name }, new { here.Name }, here.Version);
        }

        var known = await Those(machine.Id, context, cancel);
        if (here is null && !known.Any(n => n.Name.Equals(place.Name, StringComparison.OrdinalIgnoreCase)))
        {
            context.Put(place);
            await context.SaveChangesAsync(cancel);
        }

        await transaction.CommitAsync(cancel);
        return await Of(id, context, library, cancel);
    }

    private static async Task<IReadOnlyList<NamedPlaceView>> Edit(
        string id,
        NamedPlaceEdit edit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var place =
            await context.NamedPlaces.FirstOrDefaultAsync(n => n.Id == id && n.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This name");
        if (place.Version != edit.Version)
        {
            throw ProblemException.Clash(new { edit.Name, edit.Is }, new { place.Name, place.Is }, place.Version);
        }

        var machine = await library.Resolve(place.MachineId, cancel);
        if (edit.Is is not null && !machine.Pins.ContainsKey(edit.Is))
        {
            throw ProblemException.Bad("is", $"{machine.Machine.Tag} has no such pin.");
        }

        context.Put(place.Write(edit.Name, edit.Is).OrRefuse());
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Of(place.MachineId.Value, context, library, cancel);
    }
}
