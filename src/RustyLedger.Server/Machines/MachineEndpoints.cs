using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.History;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Machines;

public sealed record MachineRow(string Id, string Tag, string Name, string Site, string Maker, string Model, string Serial, int OpenFaults, string? OpenVisitId);

public sealed record MachineList(IReadOnlyList<MachineRow> Machines, int Total);

public sealed record BoardInPosition(string PositionId, string Prefix, string Name, string BoardTypeId, string PartNumber, string Revision, string BoardName, string Serial, string Firmware, DateOnly? From, int Pins);

public sealed record PartOffBoard(string Id, string Designator, string Name, PartKind Kind, int Pins);

/// <summary>The ledger page of one machine.</summary>
/// <param name="ToMend">What does not fit together in the wiring as entered.</param>
public sealed record MachinePage(
    string Id, string Tag, string Name, string Maker, string Model, string Serial, string Built, string Supply, string Site, int Version, int Checks,
    IReadOnlyList<BoardInPosition> Boards, IReadOnlyList<PartOffBoard> Parts, IReadOnlyList<OperatingState> States,
    IReadOnlyList<string> ToMend, IReadOnlyList<FaultView> Faults, IReadOnlyList<VisitView> Visits);

/// <summary>A machine begun by hand: a model of its own with one position for each board named.</summary>
/// <param name="Boards">Part numbers of the boards, in any order; at least one.</param>
public sealed record NewMachine(string Id, string Tag, string Name, string Site, string Maker, string Serial, IReadOnlyList<string> Boards);

internal static class MachineEndpoints
{
    private const int PageSize = 200;

    public static void MapMachines(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines", List).WithName("listMachines");
        api.MapPost("/machines", Begin).WithName("beginMachine");
        api.MapGet("/machines/{id}", Page).WithName("getMachine");
        api.MapGet("/machines/{id}/file", Export).WithName("exportMachine");
        api.MapPost("/machine-files", Import).WithName("importMachine").Accepts<JsonElement>("application/json");
    }

    private static async Task<MachineList> List(LedgerContext context, string? find, CancellationToken cancel)
    {
        var wanted = FindText.Plain(find ?? "");
        var machines = context.Machines.AsNoTracking().Where(m => m.RetiredAt == null);
        machines = wanted.Length == 0 ? machines : machines.Where(m => m.Find.Contains(wanted));
        var rows = await machines.OrderBy(m => m.Tag).Take(PageSize).Select(m => new MachineRow(
            m.Id, m.Tag, m.Name, m.Site,
            context.Models.Where(x => x.Id == m.ModelId).Select(x => x.Maker).First(),
            context.Models.Where(x => x.Id == m.ModelId).Select(x => x.Name).First(),
            m.Serial,
            context.Faults.Count(f => f.MachineId == m.Id && f.ClosedAt == null && f.RetiredAt == null),
            context.Visits.Where(v => v.MachineId == m.Id && v.EndedAt == null).OrderByDescending(v => v.OpenedAt).Select(v => v.Id).FirstOrDefault())).ToListAsync(cancel);
        return new MachineList(rows, await machines.CountAsync(cancel));
    }

    /// <summary>By id or by tag, so an address can be typed.</summary>
    private static async Task<MachinePage> Page(string id, LedgerContext context, MachineLibrary library, VisitBook visits, CancellationToken cancel)
    {
        var record = await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel) ?? throw ProblemException.NotFound($"Machine {id}");
        var machine = await library.Resolve(record.Id, cancel);
        var graph = FeedGraph.Of(machine);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var faults = await context.Faults.AsNoTracking().Where(f => f.MachineId == record.Id && f.RetiredAt == null).OrderByDescending(f => f.OpenedAt).ToListAsync(cancel);
        return new MachinePage(
            record.Id, record.Tag, record.Name, machine.Model.Maker, machine.Model.Name, record.Serial, record.Built, record.Supply, record.Site, record.Version, machine.Checks.Count,
            [.. machine.Model.Positions.Where(p => machine.BoardAt.ContainsKey(p.Id)).Select(p => Board(p, machine))],
            [.. machine.Model.Parts.Select(p => new PartOffBoard(p.Id, p.Designator, p.Name, p.Kind, p.Pins.Count))],
            machine.Model.States,
            [.. machine.Problems, .. graph.ToMend.Select(m => Words(m, machine))],
            [.. faults.Select(f => FaultView.Of(f, people))],
            await visits.OfMachine(record.Id, people, machine.Checks.Count, cancel));
    }

    private static BoardInPosition Board(Position position, ResolvedMachine machine)
    {
        var type = machine.BoardAt[position.Id];
        var fitted = machine.Machine.Boards.Where(b => b.PositionId == position.Id && b.To is null).MaxBy(b => b.From);
        return new BoardInPosition(position.Id, position.Prefix, position.Name, type.Id, type.PartNumber, type.Revision, type.Name, fitted?.Serial ?? "", fitted?.Firmware ?? "", fitted?.From, type.Elements.Sum(e => e.Pins.Count));
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

    private static async Task<MachinePage> Begin(NewMachine asked, LedgerContext context, BookWriter writer, MachineLibrary library, VisitBook visits, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        var tag = Texts.Needed("tag", asked.Tag, 24);
        var name = Texts.Needed("name", asked.Name, 80);
        if (asked.Boards.Count is 0 or > 24)
        {
            throw ProblemException.Bad("boards", "Name 1 to 24 boards by their part numbers.");
        }

        if (await context.Machines.AnyAsync(m => m.Tag == tag, cancel))
        {
            throw ProblemException.Conflict($"{tag} is in the ledger already.");
        }

        var types = new List<BoardType>();
        foreach (var number in asked.Boards.Select(b => Texts.Needed("boards", b, 40)))
        {
            var known = await context.BoardTypes.AsNoTracking().Where(b => b.PartNumber == number && b.RetiredAt == null).OrderByDescending(b => b.Revision).FirstOrDefaultAsync(cancel);
            types.Add(types.Find(t => t.PartNumber == number) ?? (known is null
                ? new BoardType(Texts.NewId(), number, "A", number, 120, 80, DefaultTolerance.Usual, [], [], [])
                : await library.BoardType(known.Id, cancel)));
        }

        var model = new Model(
            Texts.NewId(), Texts.Optional("maker", asked.Maker, 60), name,
            [.. types.Select((t, i) => new Position(Texts.NewId(), $"B{i + 1}", types.Count == 1 ? "board" : $"board {i + 1}", t.Id))],
            [], OperatingState.Usual, [], []);
        var machine = new Machine(asked.Id, tag, name, model.Id, Texts.Optional("serial", asked.Serial, 60), "", "", Texts.Optional("site", asked.Site, 80), [], []);
        foreach (var type in types.Distinct())
        {
            writer.Write(type, before: null);
        }

        writer.Write(model);
        writer.Write(machine, model);
        await context.SaveChangesAsync(cancel);
        return await Page(machine.Id, context, library, visits, cancel);
    }

    private static async Task<FileContentHttpResult> Export(string id, LedgerContext context, MachineFileExport export, CancellationToken cancel)
    {
        var machine = await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id || m.Tag == id, cancel) ?? throw ProblemException.NotFound($"Machine {id}");
        return TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(await export.Of(machine.Id, cancel), MachineFile.Json), "application/json", $"{machine.Tag}.json");
    }

    private static async Task<MachinePage> Import(HttpRequest request, MachineFileImport import, LedgerContext context, MachineLibrary library, VisitBook visits, CancellationToken cancel) =>
        await Page(await import.Import(request.Body, cancel), context, library, visits, cancel);
}
