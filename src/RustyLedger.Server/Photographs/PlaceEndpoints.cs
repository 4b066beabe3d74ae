using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Photographs;

public sealed record NewPlace(string Id, double X, double Y, string Name, string Note);

public sealed record PlaceEdit(int Version, double X, double Y, string Name, string Note);

/// <summary>A reading at a place. Where no visit is open, one is begun under the ids given.</summary>
/// <param name="Black">Where the black probe is; null where nobody said.</param>
/// <param name="State">The machine's, by its code; null for what usually goes with the meter.</param>
public sealed record NewPlaceReading(
    string Id,
    long Order,
    string VisitId,
    string RoundId,
    MeterMode Mode,
    string Typed,
    int? Choice,
    DateTimeOffset DeviceTime,
    string PersonId,
    string Meter,
    PinAddress? Black = null,
    string? State = null
);

/// <summary>The place named as a part off the boards, or as one pin of it.</summary>
/// <param name="PinId">Null for the part as a whole.</param>
public sealed record PlaceAsPart(int Version, string PartId, string? PinId);

/// <summary>The place named as a pin: of a connector that is there, or of a new one.</summary>
public sealed record PlaceAsPin(int Version, string PositionId, string Designator, string Label, string Colours, string Signal);

internal static class PlaceEndpoints
{
    public static void MapPlaces(this IEndpointRouteBuilder api)
    {
        api.MapPost("/photographs/{photographId}/places", Add).WithName("addPlace");
        api.MapPut("/places/{id}", Edit).WithName("editPlace");
        api.MapPost("/places/{id}/retire", Retire).WithName("retirePlace");
        api.MapPost("/places/{id}/readings", Read).WithName("addPlaceReading");
        api.MapPost("/places/{id}/pin", MakePin).WithName("makePlacePin");
        api.MapPost("/places/{id}/part", MakePart).WithName("makePlacePart");
    }

    internal static async Task<IReadOnlyList<PlaceView>> Of(
        PhotographId photographId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var places = await context
            .Places.AsNoTracking()
            .Where(p => p.PhotographId == photographId && p.RetiredAt == null)
            .OrderBy(p => p.Number)
            .ToListAsync(cancel);
        var addresses = places.ConvertAll(p => (PinAddress)new PinAddress.AtPlace(p.Id));
        var readings = await context
            .StandingReadings.AsNoTracking()
            .Where(r => addresses.Contains(r.Red!))
            .OrderByDescending(r => r.Order)
            .ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var byPlace = readings.ToLookup(r => ((PinAddress.AtPlace)r.Red!).Place, r => Reading(r, people));
        var machine = await context.Photographs.Where(p => p.Id == photographId).Select(p => p.MachineId).SingleAsync(cancel);
        var printed = await Printed(machine, places, library, cancel);
        return
        [
            .. places.Select(p => new PlaceView(
                p.Id.Value,
                p.Version,
                p.X,
                p.Y,
                p.Number,
                p.Name,
                p.Note,
                p.PositionId?.Value,
                p.PinId?.Value,
                p.PartId?.Value,
                printed.GetValueOrDefault(p.Id),
                p.Address,
                [.. byPlace[p.Id]]
            )),
        ];
    }

    internal static PlaceReading Reading(Reading r, IReadOnlyDictionary<PersonId, string> people)
    {
        var value = r.Understood();
        return new PlaceReading(
            r.Id.Value,
            value?.Written ?? r.Typed,
            value?.Remark ?? "",
            r.Mode.Words(),
            r.State,
            r.DeviceTime,
            people.GetValueOrDefault(r.PersonId, "somebody")
        );
    }

    /// <summary>Names of the pins that places became, by the place's id.</summary>
    private static async Task<Dictionary<PlaceId, string>> Printed(
        MachineId machineId,
        IReadOnlyList<Place> places,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var named = places.Where(p => p.Address is not PinAddress.AtPlace).ToList();
        if (named.Count == 0)
        {
            return [];
        }

        var machine = await library.Resolve(machineId, cancel);
        return named
            .Select(p =>
                (
                    p.Id,
                    Printed: p.Address is { } at
                        ? machine.Pins.GetValueOrDefault(at)?.Printed
                        : machine.Model.Parts.FirstOrDefault(part => part.Id == p.PartId)?.Designator
                )
            )
            .Where(p => p.Printed is not null)
            .ToDictionary(p => p.Id, p => p.Printed!);
    }

    private static async Task<PlaceView> Add(
        string photographId,
        NewPlace asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        if (!await context.Photographs.AnyAsync(p => p.Id == photographId && p.RetiredAt == null, cancel))
        {
            throw ProblemException.NotFound("This photograph");
        }

        if (!await context.Places.AnyAsync(p => p.Id == asked.Id, cancel))
        {
            context.Put(
                new Place
                {
                    Id = asked.Id,
                    PhotographId = photographId,
                    X = asked.X,
                    Y = asked.Y,
                    Number =
                        1 + (await context.Places.Where(p => p.PhotographId == photographId).MaxAsync(p => (int?)p.Number, cancel) ?? 0),
                    Name = "",
                    Note = "",
                }.Write(asked.X, asked.Y, asked.Name, asked.Note)
            );
            await context.SaveChangesAsync(cancel);
        }

        return (await Of(photographId, context, library, cancel)).Single(p => p.Id == asked.Id);
    }

    private static async Task<PlaceView> Edit(
        string id,
        PlaceEdit edit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var place = await Find(id, context, cancel);
        var written = place.Write(edit.X, edit.Y, edit.Name, edit.Note).OrRefuse();
        if (place.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new { name = written.Name, note = written.Note },
                new { name = place.Name, note = place.Note },
                place.Version
            );
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return (await Of(place.PhotographId, context, library, cancel)).Single(p => p.Id == id);
    }

    private static async Task<NoContent> Retire(string id, LedgerContext context, CancellationToken cancel)
    {
        context.Retire(await Find(id, context, cancel));
        await context.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<PlaceView> Read(
        string id,
        NewPlaceReading asked,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var place = await Find(id, context, cancel);
        var machineId = await context.Photographs.Where(p => p.Id == place.PhotographId).Select(p => p.MachineId).SingleAsync(cancel);
        var roundId =
            await context.Readings.Where(r => r.Id == asked.Id).Select(r => (RoundId?)r.RoundId).FirstOrDefaultAsync(cancel)
            ?? await RoundFor(machineId, asked, context, clock, cancel);
        var states = (await library.Machine(machineId, cancel)) is { } machine ? (await library.Model(machine.ModelId, cancel)).States : [];
        var black = await ProbedAt(asked.Black, machineId, context, library, cancel);
        if (asked.State is { } said && states.All(s => s.Code != said))
        {
            throw ProblemException.Bad("state", $"\"{said}\" is not a state of this model.");
        }

        var number = await context.Places.CountAsync(p => p.PhotographId == place.PhotographId && p.Number <= place.Number, cancel);
        var line = new NewLine(
            asked.Id,
            asked.Order,
            EntryKind.Taken,
            null,
            new ProbedPin(new PinAddress.AtPlace(id), place.Name.Length > 0 ? place.Name : $"place {number}"),
            black,
            asked.Mode,
            asked.State
                ?? (
                    states.FirstOrDefault(s => s.Energised == asked.Mode is not (MeterMode.Ohms or MeterMode.Continuity or MeterMode.Diode))
                    ?? states[0]
                ).Code,
            null,
            null,
            new ToleranceView(DefaultTolerance.Usual.Percent, DefaultTolerance.Usual.Volts, DefaultTolerance.Usual.Ohms),
            asked.Typed,
            asked.Choice,
            null,
            "",
            asked.DeviceTime,
            asked.PersonId,
            asked.Meter,
            LiveAnswer.Live
        );
        await RoundEndpoints.Write(roundId, line, context, library, clock, cancel);
        return (await Of(place.PhotographId, context, library, cancel)).Single(p => p.Id == id);
    }

    /// <summary>Where the black probe was said to be, by the name it has there.</summary>
    private static async Task<ProbedPin?> ProbedAt(
        PinAddress? at,
        MachineId machineId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        if (at is null)
        {
            return null;
        }

        if (at is PinAddress.AtPlace { Place: var placeId })
        {
            var place = await Find(placeId, context, cancel);
            return new ProbedPin(at, place.Called);
        }

        var pin =
            (await library.Resolve(machineId, cancel)).Pins.GetValueOrDefault(at)
            ?? throw ProblemException.Bad("black", "The black probe is at a pin that is not there.");
        return new ProbedPin(at, pin.Printed);
    }

    /// <summary>The last round of the open visit; where none is open, a visit begun by this reading.</summary>
    private static async Task<RoundId> RoundFor(
        MachineId machineId,
        NewPlaceReading asked,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var now = clock.GetUtcNow();
        var visit = await context
            .Visits.Where(v => v.MachineId == machineId && v.EndedAt == null && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Select(v => (VisitId?)v.Id)
            .FirstOrDefaultAsync(cancel);
        var round = visit is null
            ? null
            : await context
                .Rounds.Where(r => r.VisitId == visit)
                .OrderByDescending(r => r.StartedAt)
                .Select(r => (RoundId?)r.Id)
                .FirstOrDefaultAsync(cancel);
        if (round is { } last)
        {
            return last;
        }

        Texts.Id("visitId", asked.VisitId);
        Texts.Id("roundId", asked.RoundId);
        if (visit is null)
        {
            visit = asked.VisitId;
            context.Put(Visit.Begin(visit.Value, machineId, asked.PersonId, "", now));
        }

        context.Put(
            new Round
            {
                Id = asked.RoundId,
                VisitId = visit.Value,
                StartedAt = now,
            }
        );
        await context.SaveChangesAsync(cancel);
        return asked.RoundId;
    }

    private static async Task<PlaceView> MakePin(
        string id,
        PlaceAsPin asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        var place = await Find(id, context, cancel);
        if (place.Version != asked.Version)
        {
            throw ProblemException.Clash(new { asked.Designator, asked.Label }, new { place.Name, place.PinId }, place.Version);
        }

        var machineId = await context.Photographs.Where(p => p.Id == place.PhotographId).Select(p => p.MachineId).SingleAsync(cancel);
        var machine = await library.Resolve(machineId, cancel);
        var board = machine.BoardAt.GetValueOrDefault(asked.PositionId) ?? throw ProblemException.NotFound("This position");
        var element = board.Elements.FirstOrDefault(e => e.Designator.Equals(asked.Designator.Trim(), StringComparison.OrdinalIgnoreCase));
        var pin = element?.Pins.FirstOrDefault(p => p.Label == asked.Label.Trim());
        var (elementId, pinId) = (element?.Id.Value ?? Texts.NewId(), pin?.Id.Value ?? id);
        var said = new Dictionary<LayoutColumn, string>
        {
            [LayoutColumn.Label] = asked.Label,
            [LayoutColumn.Colours] = asked.Colours,
            [LayoutColumn.Signal] = asked.Signal,
        }
            .Where(c => c.Key == LayoutColumn.Label || c.Value.Trim().Length > 0)
            .ToDictionary();
        var edits = new List<LayoutEdit>();
        if (element is null)
        {
            edits.Add(
                new LayoutEdit(
                    LayoutEditKind.Add,
                    LayoutRowKind.Element,
                    "",
                    elementId,
                    null,
                    "",
                    "",
                    new Dictionary<LayoutColumn, string> { [LayoutColumn.Designator] = asked.Designator }
                )
            );
        }

        if (pin is null)
        {
            edits.Add(new LayoutEdit(LayoutEditKind.Add, LayoutRowKind.Pin, elementId, pinId, null, "", "", said));
        }
        else
        {
            // The pin was there; what was said of the place goes over it.
            var row = LayoutTable.Rows(board).Single(r => r.Kind == LayoutRowKind.Pin && r.Id == pinId);
            edits.AddRange(
                said.Select(c => new LayoutEdit(LayoutEditKind.Set, LayoutRowKind.Pin, elementId, pinId, c.Key, row.Cells[c.Key], c.Value))
            );
        }

        var result = LayoutTable.Apply(board, edits, machine.Model.States, _ => true);
        if (result.Problems is [var problem, ..])
        {
            throw ProblemException.Bad("pin", problem.Message);
        }

        writer.Write(result.Board, board);
        context.Put(Outcome.Of(place.Became(asked.PositionId, pinId)));
        await context.SaveChangesAsync(cancel);
        return (await Of(place.PhotographId, context, library, cancel)).Single(p => p.Id == id);
    }

    private static async Task<PlaceView> MakePart(
        string id,
        PlaceAsPart asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var place = await Find(id, context, cancel);
        if (place.Version != asked.Version)
        {
            throw ProblemException.Clash(new { asked.PartId }, new { place.Name, place.PartId }, place.Version);
        }

        var machineId = await context.Photographs.Where(p => p.Id == place.PhotographId).Select(p => p.MachineId).SingleAsync(cancel);
        var model = (await library.Resolve(machineId, cancel)).Model;
        var part = model.Parts.FirstOrDefault(p => p.Id == asked.PartId) ?? throw ProblemException.NotFound("This part");
        if (asked.PinId is { } pin && part.Pins.All(p => p.Id != pin))
        {
            throw ProblemException.NotFound($"This pin of {part.Designator}");
        }

        context.Put(Outcome.Of(place.Is(part.Id, PinId.Maybe(asked.PinId))));
        await context.SaveChangesAsync(cancel);
        return (await Of(place.PhotographId, context, library, cancel)).Single(p => p.Id == id);
    }

    private static async Task<Place> Find(PlaceId id, LedgerContext context, CancellationToken cancel) =>
        await context.Places.SingleOrDefaultAsync(p => p.Id == id && p.RetiredAt == null, cancel)
        ?? throw ProblemException.NotFound("This place");
}
