using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.History;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Machines;

public sealed record BoardInPosition(
    string PositionId,
    string Prefix,
    string Name,
    string BoardTypeId,
    string PartNumber,
    string Revision,
    string BoardName,
    string? FittedBoardId,
    string Serial,
    string Firmware,
    DateOnly? From,
    int Pins
);

public sealed record PartOffBoard(string Id, string Designator, string Name, PartKind Kind, int Pins);

/// <summary>The first thing the next visit sees while something is open.</summary>
/// <param name="Evidence">The last readings that were out, and where they put the fault; a line each.</param>
public sealed record BriefView(
    string VisitId,
    DateTimeOffset Since,
    Ending Ending,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    string Note,
    IReadOnlyList<string> Evidence
);

/// <summary>The ledger page of one machine.</summary>
/// <param name="SerialDoubt">Why the serial as read may not be the one on the plate; null where nothing is odd.</param>
/// <param name="BuiltMayMean">What the build date may mean where it is not plain; empty where it is.</param>
/// <param name="ToMend">What does not fit together in the wiring as entered.</param>
/// <param name="Brief">Null where nothing is open from earlier visits.</param>
public sealed record MachinePage(
    string Id,
    string Tag,
    string Name,
    string Maker,
    string Model,
    string Serial,
    string Built,
    string Supply,
    string Site,
    string Customer,
    string Finish,
    string ModelId,
    int Version,
    int Checks,
    PlateDoubt? SerialDoubt,
    IReadOnlyList<string> BuiltMayMean,
    IReadOnlyList<BoardInPosition> Boards,
    IReadOnlyList<PartOffBoard> Parts,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<string> ToMend,
    IReadOnlyList<FaultView> Faults,
    IReadOnlyList<VisitView> Visits,
    BriefView? Brief,
    int Photographs,
    int Settings,
    string? PlateHash
);

/// <summary>A machine begun by hand: a model of its own with one position for each board named; boards may come later.</summary>
/// <param name="Boards">Part numbers of the boards, in any order.</param>
/// <param name="ModelId">The model it is another of, with its boards, wiring and checks; null for a model of its own.</param>
public sealed record NewMachine(
    string Id,
    string Tag,
    string Name,
    string Site,
    string Maker,
    string Serial,
    IReadOnlyList<string> Boards,
    string? ModelId = null
)
{
    /// <summary>By part number, the board type it is of those that are called so; what is not named is a type of its own.</summary>
    public IReadOnlyDictionary<string, string> Which { get; init; } = new Dictionary<string, string>();
}

/// <summary>A board type that is called so already.</summary>
/// <param name="Machines">Tags of machines it is in, by model or fitted; the first few.</param>
/// <param name="Count">How many there are.</param>
public sealed record AlikeBoard(string Id, string Printed, string Name, int Pins, IReadOnlyList<string> Machines, int Count);

/// <summary>The plate and the place of a machine.</summary>
public sealed record PlateEdit(
    int Version,
    string Tag,
    string Name,
    string Maker,
    string Model,
    string Serial,
    string Built,
    string Supply,
    string Site,
    string Customer,
    string Finish
);

/// <summary>A board fitted into a position; what was there before goes out on the same day.</summary>
/// <param name="PositionId">Null for a new position.</param>
/// <param name="Name">Name of a new position.</param>
/// <param name="PartNumber">Of a board type that is known, or a new one.</param>
/// <param name="Revision">Empty for the newest that is known.</param>
/// <param name="BoardTypeId">The board type it is, of those that are called alike; null where there is none or it is new.</param>
/// <param name="IsNew">It only bears the part number of another.</param>
public sealed record NewFittedBoard(
    string Id,
    string? PositionId,
    string Name,
    string PartNumber,
    string Revision,
    string Serial,
    string Firmware,
    DateOnly? From,
    string? BoardTypeId = null,
    bool IsNew = false
);

/// <summary>What one wants at a machine's door, before anything is opened.</summary>
/// <param name="VisitId">The open visit; null for none.</param>
public sealed record DoorPage(string Id, string Tag, string Name, string Site, string? VisitId, DoorCard Card);

internal static class MachineEndpoints
{
    private const int MostBoards = 24;
    private const int MostEvidence = 8;

    public static void MapMachines(this IEndpointRouteBuilder api)
    {
        api.MapPost("/machines", Begin).WithName("beginMachine");
        api.MapGet("/board-types/alike", Alike).WithName("listAlikeBoards");
        api.MapGet("/machines/{id}", Page).WithName("getMachine");
        api.MapGet("/machines/{id}/door", Door).WithName("getDoor");
        api.MapPut("/machines/{id}", EditPlate).WithName("editMachine");
        api.MapPost("/machines/{id}/boards", Fit).WithName("fitBoard");
    }

    /// <summary>By id or by tag, so an address can be typed.</summary>
    /// <summary>What its code on the door opens.</summary>
    private static async Task<DoorPage> Door(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var record =
            await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel)
            ?? throw ProblemException.NotFound($"Machine {id}");
        var notes = await context.BoardNotes.AsNoTracking().Where(n => n.MachineId == record.Id && n.RetiredAt == null).ToListAsync(cancel);
        var visit = await context
            .Visits.Where(v => v.MachineId == record.Id && v.EndedAt == null && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Select(v => (VisitId?)v.Id)
            .FirstOrDefaultAsync(cancel);
        return new(
            record.Id.Value,
            record.Tag,
            record.Name,
            record.Site,
            visit?.Value,
            DoorCard.Of(await library.Resolve(record.Id, cancel), notes)
        );
    }

    private static async Task<MachinePage> Page(
        string id,
        LedgerContext context,
        MachineLibrary library,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var record =
            await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel)
            ?? throw ProblemException.NotFound($"Machine {id}");
        var machine = await library.Resolve(record.Id, cancel);
        var graph = FeedGraph.Of(machine);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var built = PlateDate.Read(record.Built, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime));
        var brief = await Brief(record.Id, context, cancel);
        return new MachinePage(
            record.Id.Value,
            record.Tag,
            record.Name,
            machine.Model.Maker,
            machine.Model.Name,
            record.Serial,
            record.Built,
            record.Supply,
            record.Site,
            record.Customer,
            record.Finish,
            record.ModelId.Value,
            record.Version,
            machine.Checks.Count,
            PlateSerial.Doubt(record.Serial),
            built.Count > 1 ? [.. built.Select(d => d.Words)] : [],
            [.. machine.Model.Positions.Where(p => machine.BoardAt.ContainsKey(p.Id)).Select(p => Board(p, machine))],
            [.. machine.Model.Parts.Select(p => new PartOffBoard(p.Id.Value, p.Designator, p.Name, p.Kind, p.Pins.Count))],
            machine.Model.States,
            [.. machine.Problems, .. graph.ToMend.Select(m => Words(m, machine))],
            await FaultEndpoints.Of(machine, context, cancel),
            await visits.OfMachine(record.Id, people, machine.Checks.Count, cancel),
            brief is null
                ? null
                : new BriefView(
                    brief.VisitId,
                    brief.Since,
                    brief.Ending,
                    brief.Left,
                    brief.Bring,
                    brief.Note,
                    await Evidence(record.Id, context, library, cancel)
                ),
            await context.Photographs.CountAsync(p => p.MachineId == record.Id && p.RetiredAt == null, cancel),
            await context.Snapshots.CountAsync(s => s.MachineId == record.Id && s.RetiredAt == null, cancel),
            await context
                .Photographs.Where(p => p.MachineId == record.Id && p.Kind == PhotographKind.Plate && p.RetiredAt == null)
                .OrderByDescending(p => p.TakenAt)
                .Select(p => p.Hash)
                .FirstOrDefaultAsync(cancel)
        );
    }

    internal static async Task<ReturnBrief?> Brief(MachineId machineId, LedgerContext context, CancellationToken cancel) =>
        ReturnBrief.Of(
            (
                await context
                    .Visits.AsNoTracking()
                    .Where(v => v.MachineId == machineId && v.EndedAt != null && v.RetiredAt == null)
                    .ToListAsync(cancel)
            )
                .Select(RegisterLines.Ended)
                .OfType<EndedVisit>()
        );

    /// <summary>What the last round that was measured said: the stretch, then the readings that were out.</summary>
    private static async Task<IReadOnlyList<string>> Evidence(
        MachineId machineId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var round = await context
            .Rounds.Where(r =>
                context.Visits.Where(v => v.MachineId == machineId && v.RetiredAt == null).Select(v => v.Id).Contains(r.VisitId)
                && context.Readings.Any(x => x.RoundId == r.Id)
            )
            .OrderByDescending(r => r.StartedAt)
            .Select(r => (RoundId?)r.Id)
            .FirstOrDefaultAsync(cancel);
        if (round is not { } last)
        {
            return [];
        }

        var (_, _, viewer) = await Measuring.RoundEndpoints.Load(last, context, library, cancel);
        var stretches = viewer.Stretches().Select(s => s.Sentence);
        var wrong = viewer
            .Sheet.Rows.Select(r => r.Reading)
            .OfType<Entry>()
            .Concat(viewer.Sheet.Extras)
            .Where(r => r.Verdict.IsOut || r.CheckKey is null)
            .OrderBy(r => r.Order)
            .Select(e =>
            {
                var reading = viewer.Reading(e);
                return $"{reading.RedPrinted} {reading.Value}{(reading.Limit is null ? "" : $", should read {reading.Limit}")}";
            });
        return [.. stretches.Concat(wrong).Take(MostEvidence)];
    }

    private static BoardInPosition Board(Position position, ResolvedMachine machine)
    {
        var type = machine.BoardAt[position.Id];
        var fitted = machine.Machine.FittedIn(position.Id);
        return new BoardInPosition(
            position.Id.Value,
            position.Prefix,
            position.Name,
            type.Id.Value,
            type.PartNumber,
            type.Revision,
            type.Name,
            fitted?.Id.Value,
            fitted?.Serial ?? "",
            fitted?.Firmware ?? "",
            fitted?.From,
            type.Elements.Sum(e => e.Pins.Count)
        );
    }

    private static string Words(Mend mend, ResolvedMachine machine)
    {
        var pins = string.Join(", ", mend.Pins.Select(p => machine.Pins[p].Printed));
        return mend.Kind switch
        {
            MendKind.Loop => $"Power would run in a circle: {pins}",
            MendKind.DanglingFeed => $"{pins} feeds others, but nothing feeds it and it is no source",
            _ => $"No source reaches {pins}",
        };
    }

    private static async Task<MachinePage> Begin(
        NewMachine asked,
        LedgerContext context,
        BookWriter writer,
        MachineLibrary library,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var tag = Texts.Needed("tag", asked.Tag, 24);
        // Sent twice at the very same moment, the second would be written over the first.
        await using var transaction = await context.WriteAlone(cancel);
        if (await context.Machines.FirstOrDefaultAsync(m => m.Tag == tag || m.Id == asked.Id, cancel) is { } known)
        {
            // A phone that lost the answer sends the same machine again.
            return known.Id == asked.Id
                ? await Page(known.Id.Value, context, library, visits, clock, cancel)
                : throw ProblemException.Conflict($"{tag} is in the ledger already.");
        }

        if (asked.Boards.Count > MostBoards)
        {
            throw ProblemException.Bad("boards", $"Name at most {MostBoards} boards by their part numbers.");
        }

        var types = new List<BoardType>();
        foreach (var number in asked.Boards.Select(b => Texts.Needed("boards", b, 40)))
        {
            if (types.Exists(t => t.PartNumber == number))
            {
                types.Add(types.Find(t => t.PartNumber == number)!);
                continue;
            }

            // Begun with the ledger out of reach nobody can be asked: then it is a type of its own.
            var said = asked.Which.GetValueOrDefault(number);
            var alike = await CalledAlike(number, context, library, cancel);
            var choice = BoardTypeChoice.Of(number, "", alike, BoardTypeId.Maybe(said), isNew: said is null, inPosition: null).OrRefuse();
            types.Add(choice.Known is { } one ? alike.Single(t => t.Id == one) : NewType(number, ""));
        }

        var shared = asked.ModelId is { } of ? await library.Model(of, cancel) : null;
        if (shared is not null && types.Count > 0)
        {
            throw ProblemException.Bad("boards", $"{shared.Name} has its boards already; what is fitted otherwise is said at the machine.");
        }

        var name = Texts.Optional("name", asked.Name, 80);
        var model =
            shared
            ?? new Model(
                Texts.NewId(),
                Texts.Optional("maker", asked.Maker, 60),
                name,
                [.. types.Select((t, i) => new Position(Texts.NewId(), $"B{i + 1}", types.Count == 1 ? "board" : $"board {i + 1}", t.Id))],
                [],
                OperatingState.Usual,
                [],
                []
            );
        var machine = new Machine(
            asked.Id,
            tag,
            name,
            model.Id,
            Texts.Optional("serial", asked.Serial, 60),
            "",
            "",
            Texts.Optional("site", asked.Site, 80),
            "",
            [],
            []
        );
        foreach (var type in types.Distinct())
        {
            writer.Write(type, before: null);
        }

        if (shared is null)
        {
            writer.Write(model, before: null);
        }

        writer.Write(machine, before: null);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Page(machine.Id.Value, context, library, visits, clock, cancel);
    }

    private static BoardType NewType(string partNumber, string revision) =>
        new(
            Texts.NewId(),
            partNumber,
            revision,
            partNumber,
            BoardType.GuessedSize.WidthMm,
            BoardType.GuessedSize.HeightMm,
            DefaultTolerance.Usual,
            [],
            [],
            []
        )
        {
            IsSizeGuess = true,
        };

    /// <summary>Board types with this part number, each with where it is used: which of them is it, or is it new?</summary>
    private static async Task<IReadOnlyList<AlikeBoard>> Alike(
        string partNumber,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        const int MostTags = 6;
        var found = new List<AlikeBoard>();
        foreach (var id in await AlikeIds(partNumber, context).ToListAsync(cancel))
        {
            var type = await library.BoardType(id, cancel);
            var tags = await context
                .Machines.Where(m =>
                    m.RetiredAt == null
                    && (
                        context.Positions.Any(p => p.OwnerId == m.ModelId && p.BoardTypeId == id && p.RetiredAt == null)
                        || context.FittedBoards.Any(b => b.OwnerId == m.Id && b.BoardTypeId == id && b.To == null && b.RetiredAt == null)
                    )
                )
                .OrderBy(m => m.Tag)
                .Select(m => m.Tag)
                .ToListAsync(cancel);
            found.Add(
                new AlikeBoard(
                    id.Value,
                    type.Printed,
                    type.Name,
                    type.Elements.Sum(e => e.Pins.Count),
                    [.. tags.Take(MostTags)],
                    tags.Count
                )
            );
        }

        return found;
    }

    private static IQueryable<BoardTypeId> AlikeIds(string partNumber, LedgerContext context) =>
        context
            .BoardTypes.Where(b => b.PartNumber == partNumber.Trim() && b.RetiredAt == null)
            .OrderByDescending(b => b.Revision)
            .Select(b => b.Id);

    /// <summary>The board types that bear a part number, the newest revision first.</summary>
    private static async Task<List<BoardType>> CalledAlike(
        string partNumber,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var types = new List<BoardType>();
        foreach (var id in await AlikeIds(partNumber, context).ToListAsync(cancel))
        {
            types.Add(await library.BoardType(id, cancel));
        }

        return types;
    }

    private static async Task<BoardType> TypeOf(
        NewFittedBoard asked,
        Position? position,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var number = Texts.Needed("partNumber", asked.PartNumber, 40);
        var revision = Texts.Optional("revision", asked.Revision, 12);
        var alike = await CalledAlike(number, context, library, cancel);
        var choice = BoardTypeChoice
            .Of(number, revision, alike, BoardTypeId.Maybe(asked.BoardTypeId), asked.IsNew, position?.BoardTypeId)
            .OrRefuse();
        return choice.Known is { } known ? alike.Single(t => t.Id == known) : NewType(number, revision);
    }

    private static async Task<MachinePage> EditPlate(
        string id,
        PlateEdit edit,
        LedgerContext context,
        MachineLibrary library,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var machine =
            await context.Machines.SingleOrDefaultAsync(m => m.Id == id && m.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This machine");
        var model = await context.Models.SingleAsync(m => m.Id == machine.ModelId, cancel);
        var (tag, name, site) = (
            Texts.Needed("tag", edit.Tag, 24),
            Texts.Optional("name", edit.Name, 80),
            Texts.Optional("site", edit.Site, 80)
        );
        var (maker, modelName, serial) = (
            Texts.Optional("maker", edit.Maker, 60),
            Texts.Optional("model", edit.Model, 80),
            Texts.Optional("serial", edit.Serial, 60)
        );
        var (built, supply, customer) = (
            Texts.Optional("built", edit.Built, 40),
            Texts.Optional("supply", edit.Supply, 60),
            Texts.Optional("customer", edit.Customer, 80)
        );
        var finish = Texts.Optional("finish", edit.Finish, 40);
        if (machine.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    tag,
                    name,
                    maker,
                    model = modelName,
                    serial,
                    built,
                    supply,
                    site,
                    customer,
                    finish,
                },
                new
                {
                    machine.Tag,
                    machine.Name,
                    model.Maker,
                    Model = model.Name,
                    machine.Serial,
                    machine.Built,
                    machine.Supply,
                    machine.Site,
                    machine.Customer,
                    machine.Finish,
                },
                machine.Version
            );
        }

        if (tag != machine.Tag && await context.Machines.AnyAsync(m => m.Tag == tag, cancel))
        {
            throw ProblemException.Bad("tag", $"{tag} is in the ledger already.");
        }

        if ((maker, modelName) != (model.Maker, model.Name))
        {
            var others = await context.Machines.CountAsync(m => m.ModelId == model.Id && m.Id != id, cancel);
            if (others > 0)
            {
                throw ProblemException.Bad(
                    "model",
                    $"{others} other machines are of this model; its name is not changed from one of them."
                );
            }

            (model.Maker, model.Name) = (maker, modelName);
        }

        (machine.Tag, machine.Name, machine.Serial, machine.Built) = (tag, name, serial, built);
        (machine.Supply, machine.Site, machine.Customer, machine.Finish) = (supply, site, customer, finish);
        await context.SaveChangesAsync(cancel);
        return await Page(id, context, library, visits, clock, cancel);
    }

    private static async Task<MachinePage> Fit(
        string id,
        NewFittedBoard asked,
        LedgerContext context,
        BookWriter writer,
        MachineLibrary library,
        VisitBook visits,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var machine = await library.Machine(id, cancel);
        if (machine.Boards.All(b => b.Id != asked.Id))
        {
            var model = await library.Model(machine.ModelId, cancel);
            var position = model.Positions.FirstOrDefault(p => p.Id == PositionId.Maybe(asked.PositionId));
            if (asked.PositionId is not null && position is null)
            {
                throw ProblemException.NotFound("This position");
            }

            var type = await TypeOf(asked, position, context, library, cancel);
            var day = asked.From ?? DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
            if (position is not null)
            {
                machine
                    .Fit(new FittedBoard(asked.Id, position.Id, type.Id, asked.Serial.Trim(), asked.Firmware.Trim(), day, null))
                    .OrRefuse();
            }

            writer.Write(type, before: null);
            if (position is null)
            {
                if (
                    model.Positions.Count >= MostBoards
                    || await context.Machines.AnyAsync(m => m.ModelId == model.Id && m.Id != id, cancel)
                )
                {
                    throw ProblemException.Conflict(
                        $"Model {model.Name} is shared by other machines or full; a position is not added from one of them."
                    );
                }

                var name = Texts.Optional("name", asked.Name, 40);
                position = new Position(
                    Texts.NewId(),
                    Enumerable.Range(1, 99).Select(i => $"B{i}").First(b => model.Positions.All(p => p.Prefix != b)),
                    name.Length > 0 ? name : $"board {model.Positions.Count + 1}",
                    type.Id
                );
                writer.Write(model with { Positions = [.. model.Positions, position] }, before: null);
            }

            var fitted = new FittedBoard(asked.Id, position.Id, type.Id, asked.Serial.Trim(), asked.Firmware.Trim(), day, null);
            writer.Write(machine.Fit(fitted).OrRefuse(), before: null);
            await context.SaveChangesAsync(cancel);
        }

        return await Page(id, context, library, visits, clock, cancel);
    }
}
