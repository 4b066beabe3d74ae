using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>Reads machines, models and board types from the book in the form that Core works with.</summary>
public sealed class MachineLibrary(LedgerContext context, ResolvedMachines kept, TimedRounds timed, TimeProvider clock)
{
    /// <summary>What changes within a round take on machines of this model, as they were timed before it.</summary>
    public Task<RoundMinutes> Minutes(Round round, ResolvedMachine machine, CancellationToken cancel) =>
        timed.Before(round, machine, context, cancel);

    /// <exception cref="ProblemException">No such machine.</exception>
    public async Task<ResolvedMachine> Resolve(MachineId machineId, CancellationToken cancel)
    {
        var (today, now) = (Today, clock.GetUtcNow());
        // What this request itself is about to write is not yet what others see.
        var isOwn = context.HasWritten;
        if (!isOwn && kept.Of(machineId, today, now) is { } known)
        {
            return known;
        }

        var since = kept.Changes;
        var machine = await Machine(machineId, cancel);
        var model = await Model(machine.ModelId, cancel);
        var boardTypes = new Dictionary<BoardTypeId, BoardType>();
        foreach (var id in model.Positions.Select(p => p.BoardTypeId).Concat(machine.FittedNow.Select(b => b.BoardTypeId)).Distinct())
        {
            boardTypes[id] = await BoardType(id, cancel);
        }

        var resolved = ResolvedMachine.Of(machine, model, boardTypes, VariantDecision.Of(machine.Plate, model.Variants, today).Chosen);
        if (!isOwn)
        {
            kept.Keep(resolved, today, now, since);
        }

        return resolved;
    }

    /// <summary>All that a model's positions name, by id.</summary>
    public async Task<Dictionary<BoardTypeId, BoardType>> BoardTypes(Model model, CancellationToken cancel)
    {
        var types = new Dictionary<BoardTypeId, BoardType>();
        foreach (var id in model.Positions.Select(p => p.BoardTypeId).Distinct())
        {
            types[id] = await BoardType(id, cancel);
        }

        return types;
    }

    public DateOnly Today => DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);

    public async Task<Machine> Machine(MachineId id, CancellationToken cancel)
    {
        var machine =
            await context.Machines.AsNoTracking().SingleOrDefaultAsync(m => m.Id == id, cancel)
            ?? throw ProblemException.NotFound("This machine");
        var boards = await context
            .FittedBoards.AsNoTracking()
            .Where(b => b.OwnerId == id && b.RetiredAt == null)
            .OrderBy(b => b.Ordinal)
            .ToListAsync(cancel);
        var overrides = await context
            .Overrides.AsNoTracking()
            .Where(o => o.OwnerId == id && o.RetiredAt == null)
            .OrderBy(o => o.Ordinal)
            .ToListAsync(cancel);
        return new Machine(
            machine.Id,
            machine.Tag,
            machine.Name,
            machine.ModelId,
            machine.Serial,
            machine.Built,
            machine.Supply,
            machine.Site,
            machine.Customer,
            [.. boards.Select(b => new FittedBoard(b.Id, b.PositionId, b.BoardTypeId, b.Serial, b.Firmware, b.From, b.To))],
            [.. overrides.Select(o => o.Said())]
        )
        {
            Finish = machine.Finish,
            Checks = await Checks(id.Value, cancel),
        };
    }

    public async Task<Model> Model(ModelId id, CancellationToken cancel)
    {
        var model =
            await context.Models.AsNoTracking().SingleOrDefaultAsync(m => m.Id == id, cancel)
            ?? throw ProblemException.NotFound("This model");
        var pins = await Pins(id.Value, cancel);
        var sheets = await Live(context.ModelSheets.Where(x => x.OwnerId == id), cancel);
        T Sheet<T>(string which, T empty) =>
            sheets.Find(s => s.Id == which) is { } found ? JsonSerializer.Deserialize<T>(found.Body, MachineFile.OneLine)! : empty;
        return new Model(
            model.Id,
            model.Maker,
            model.Name,
            [
                .. (await Live(context.Positions.Where(x => x.OwnerId == id), cancel)).Select(p => new Position(
                    p.Id,
                    p.Prefix,
                    p.Name,
                    p.BoardTypeId
                )),
            ],
            [
                .. (await Live(context.Parts.Where(x => x.OwnerId == id), cancel)).Select(p => new OffBoardPart(
                    p.Id,
                    p.Kind,
                    p.Designator,
                    p.Name,
                    [.. pins[p.Id.Value].Select(Pin)]
                )
                {
                    Does = p.Does,
                }),
            ],
            [
                .. (await Live(context.States.Where(x => x.OwnerId == id), cancel)).Select(s => new OperatingState(
                    s.Id.Value,
                    s.Name,
                    s.Energised
                )),
            ],
            await Links(id.Value, cancel),
            await Checks(id.Value, cancel)
        )
        {
            Variants = Sheet(ModelSheetRecord.Variants, VariantSheet.Empty),
            Safety = Sheet(ModelSheetRecord.Safety, SafetySheet.Empty),
            Outside = Sheet(ModelSheetRecord.Outside, OutsideSheet.Empty),
            Signatures = Sheet(ModelSheetRecord.Signatures, SignatureSheet.Empty),
            RoundRules = Sheet(ModelSheetRecord.RoundRules, RoundRuleSheet.Empty),
            Circuit = Sheet(ModelSheetRecord.Circuit, CircuitSheet.Empty),
            Functions = Sheet(ModelSheetRecord.Functions, FunctionSheet.Empty),
        };
    }

    public async Task<BoardType> BoardType(BoardTypeId id, CancellationToken cancel)
    {
        var type =
            await context.BoardTypes.AsNoTracking().SingleOrDefaultAsync(b => b.Id == id, cancel)
            ?? throw ProblemException.NotFound("This board type");
        var pins = await Pins(id.Value, cancel);
        return new BoardType(
            type.Id,
            type.PartNumber,
            type.Revision,
            type.Name,
            type.WidthMm,
            type.HeightMm,
            new DefaultTolerance(type.TolerancePercent, type.ToleranceVolts, type.ToleranceOhms),
            [
                .. (await Live(context.Elements.Where(x => x.OwnerId == id), cancel)).Select(e => new Element(
                    e.Id,
                    e.Kind,
                    e.Designator,
                    e.Purpose,
                    e.X,
                    e.Y,
                    e.Rows,
                    e.PitchMm,
                    e.Direction,
                    e.Pin1,
                    e.Numbering,
                    e.Rating,
                    [.. pins[e.Id.Value].Select(Pin)]
                )
                {
                    Detail = JsonSerializer.Deserialize<ElementDetail>(e.Detail, MachineFile.OneLine)!,
                }),
            ],
            await Links(id.Value, cancel),
            await Checks(id.Value, cancel)
        )
        {
            IsSizeGuess = type.IsSizeGuess,
            Marks = JsonSerializer.Deserialize<IReadOnlyList<RecognitionMark>>(type.Marks, MachineFile.OneLine)!,
            Codes = JsonSerializer.Deserialize<IReadOnlyList<BoardCode>>(type.Codes, MachineFile.OneLine)!,
        };
    }

    private static Pin Pin(PinRecord pin) => new(pin.Id, pin.Index, pin.Label, WireColours.Read(pin.Colours), pin.Signal, pin.IsSource);

    private static Task<List<T>> Live<T>(IQueryable<T> of, CancellationToken cancel)
        where T : Row, IOrdered => of.AsNoTracking().Where(r => r.RetiredAt == null).OrderBy(r => r.Ordinal).ToListAsync(cancel);

    private async Task<ILookup<string, PinRecord>> Pins(Id<Wired> owner, CancellationToken cancel) =>
        (await Live(context.Pins.Where(x => x.OwnerId == owner), cancel)).ToLookup(p => p.GroupId);

    private async Task<List<Link>> Links(Id<Wired> owner, CancellationToken cancel) =>
        [
            .. (await Live(context.Links.Where(x => x.OwnerId == owner), cancel)).Select(l => new Link(l.Id, l.From, l.To, l.Directed)
            {
                Number = l.Number,
            }),
        ];

    private async Task<List<Check>> Checks(Id<Wired> owner, CancellationToken cancel) =>
        [
            .. (await Live(context.Checks.Where(x => x.OwnerId == owner), cancel)).Select(c => new Check(
                c.Id,
                c.Target,
                c.Red,
                c.Black,
                c.Part,
                c.Mode,
                c.State,
                c.Plugged,
                LimitNotation.ReadOne(c.Limit, c.Mode).Limit,
                c.Remark
            )
            {
                Line = c.Line,
            }),
        ];
}
