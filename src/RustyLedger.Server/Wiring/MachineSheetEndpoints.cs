using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Wiring;

/// <summary>A column of a sheet.</summary>
/// <param name="Place">From 0.</param>
/// <param name="Column">What it holds; null where nobody knows, or it is of no use.</param>
/// <param name="Samples">The first texts in it, where nobody knows it.</param>
public sealed record SheetColumnView(int Place, string Heading, TerminalColumn? Column, IReadOnlyList<string> Samples)
{
    public static IReadOnlyList<SheetColumnView> Of(TerminalTable table)
    {
        ArgumentNullException.ThrowIfNull(table);
        string Heading(int place) => table.Headings.ElementAtOrDefault(place) is { Length: > 0 } heading ? heading : $"column {place + 1}";
        return
        [
            .. table
                .Columns.Select(c => new SheetColumnView(c.Key, Heading(c.Key), c.Value, []))
                .Concat(table.Unknown.Select(u => new SheetColumnView(u.Place, Heading(u.Place), null, u.Samples)))
                .OrderBy(c => c.Place),
        ];
    }
}

/// <param name="Column">Null for nothing of use.</param>
public sealed record SheetColumnAnswer(int Place, TerminalColumn? Column);

/// <summary>A sheet, and what was said of it so far.</summary>
/// <param name="Text">As pasted or typed; empty where a file was chosen.</param>
/// <param name="File">Its bytes in base 64; empty for a text.</param>
/// <param name="CodePage">Of a file of text, where somebody knows better.</param>
[AsPasted]
public sealed record MachineSheetAsk(
    string Text,
    string File,
    int? CodePage,
    IReadOnlyList<SheetColumnAnswer> Columns,
    IReadOnlyDictionary<string, SheetTarget> Targets,
    IReadOnlyDictionary<string, bool> Wires
)
{
    /// <summary>By the cells of a row, tabs between them: the code of the state of each of its values.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> States { get; init; } = new Dictionary<string, IReadOnlyList<string>>();
}

public sealed record SheetHolderChoice(SheetTarget Target, string Words);

/// <summary>A board type that the sheet changes, and what else it is in.</summary>
public sealed record ReachedBoard(string Words, IReadOnlyList<string> Machines);

/// <summary>What a sheet makes of a machine. Nothing is written by looking.</summary>
/// <param name="Choices">What may hold a connector, besides what is new.</param>
/// <param name="Reached">Changes of board types and of the model that other machines have too.</param>
public sealed record MachineSheetView(
    string FileKind,
    IReadOnlyList<SheetColumnView> Columns,
    bool ColumnsGuessed,
    string Common,
    IReadOnlyList<SheetGroup> Groups,
    IReadOnlyList<SheetHolderChoice> Choices,
    IReadOnlyList<RowPreview> Rows,
    IReadOnlyList<WireProposal> Wires,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<OperatingState> NewStates,
    IReadOnlyList<ReachedBoard> Reached,
    bool ChangesAnything,
    int Added,
    int Changed,
    int Same,
    int Refused,
    int Doubtful
);

internal static class MachineSheetEndpoints
{
    private const int MostBoards = 24;

    public static void MapMachineSheets(this IEndpointRouteBuilder api)
    {
        api.MapPost("/machines/{id}/sheet-looks", Look).WithName("lookAtSheet");
        api.MapPost("/machines/{id}/sheet-looks/watched", Watched).WithName("watchSheetLook");
        api.MapPost("/machines/{id}/sheets", Take).WithName("takeSheet");
        api.MapGet("/code-pages", () => SheetFile.CodePages.Select(c => new CodePage(c.Page, c.Name)).ToList()).WithName("getCodePages");
    }

    private static async Task<MachineSheetView> Look(
        string id,
        MachineSheetAsk asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (machine, model) = await Before(id, library, cancel);
        var types = await library.BoardTypes(model, cancel);
        return await View(machine, model, Lay(machine, model, asked, types, null, cancel), context, cancel);
    }

    /// <summary>The same with a line for each step on the way: a long sheet takes a while, and whoever hangs up stops it.</summary>
    private static Task Watched(string id, MachineSheetAsk asked, LedgerContext context, MachineLibrary library, HttpContext http) =>
        WatchedSteps.Tell(
            http,
            async (tell, cancel) =>
            {
                var (machine, model) = await Before(id, library, cancel);
                var steps = Channel.CreateUnbounded<ImportProgress>();
                var types = await library.BoardTypes(model, cancel);
                var laying = Task.Run(
                    () =>
                    {
                        try
                        {
                            return Lay(
                                machine,
                                model,
                                asked,
                                types,
                                (done, of) => steps.Writer.TryWrite(new ImportProgress(done, of, "rows laid")),
                                cancel
                            );
                        }
                        finally
                        {
                            steps.Writer.Complete();
                        }
                    },
                    cancel
                );
                await foreach (var step in steps.Reader.ReadAllAsync(cancel))
                {
                    await tell(step);
                }

                return await View(machine, model, await laying, context, cancel);
            }
        );

    private static async Task<MachineSheetView> Take(
        string id,
        MachineSheetAsk asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var (machine, model) = await Before(id, library, cancel);
        var types = await library.BoardTypes(model, cancel);
        var laid = Lay(machine, model, asked, types, null, cancel);
        if (laid.NewPositions.Count > 0)
        {
            if (
                model.Positions.Count + laid.NewPositions.Count > MostBoards
                || await context.Machines.AnyAsync(m => m.ModelId == model.Id && m.Id != machine.Id && m.RetiredAt == null, cancel)
            )
            {
                throw ProblemException.Conflict(
                    $"Model {model.Name} is shared by other machines or full; a board is not added from one of them."
                );
            }
        }

        foreach (var type in laid.BoardTypes)
        {
            writer.Write(type, types.GetValueOrDefault(type.Id));
            types[type.Id] = type;
        }

        var wired = WiringSheet.Of(laid.Model).In(laid.Model, types).OrRefuse();
        var own = (await library.Model(machine.ModelId, cancel)).Positions;
        writer.Write(wired with { Positions = [.. own, .. laid.NewPositions] }, model with { Positions = own });
        foreach (var position in laid.NewPositions)
        {
            machine = machine
                .Fit(new FittedBoard(Texts.NewId(), position.Id, position.BoardTypeId, "", "", library.Today, null))
                .OrRefuse();
        }

        writer.Write(machine, before: null);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await View(machine, model, laid, context, cancel);
    }

    /// <summary>The machine, and its model with the boards that are in it now.</summary>
    private static async Task<(Machine Machine, Model Model)> Before(string id, MachineLibrary library, CancellationToken cancel)
    {
        var machine = await library.Machine(id, cancel);
        var model = await library.Model(machine.ModelId, cancel);
        return (
            machine,
            model with
            {
                Positions = [.. model.Positions.Select(p => p with { BoardTypeId = machine.FittedIn(p.Id)?.BoardTypeId ?? p.BoardTypeId })],
            }
        );
    }

    private static MachineSheetResult Lay(
        Machine machine,
        Model model,
        MachineSheetAsk asked,
        IReadOnlyDictionary<BoardTypeId, BoardType> types,
        Action<int, int>? progress,
        CancellationToken cancel
    )
    {
        byte[] file;
        try
        {
            file = asked.File.Length > 0 ? Convert.FromBase64String(asked.File) : System.Text.Encoding.UTF8.GetBytes(asked.Text);
        }
        catch (FormatException)
        {
            throw ProblemException.Bad("file", "The file did not arrive whole; send it again.");
        }

        var said = new Dictionary<int, TerminalColumn?>();
        foreach (var column in asked.Columns)
        {
            said[column.Place] = column.Column;
        }

        try
        {
            var table = TerminalTable.Read(file, said, asked.File.Length > 0 ? asked.CodePage : null);
            cancel.ThrowIfCancellationRequested();
            return MachineSheet.Lay(
                model,
                types,
                machine.Tag,
                table,
                new SheetAnswers(asked.Targets, asked.Wires) { States = asked.States },
                Texts.NewId,
                progress,
                cancel
            );
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("file", refusal.Message);
        }
    }

    private static async Task<MachineSheetView> View(
        Machine machine,
        Model model,
        MachineSheetResult laid,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var pins = laid.Rows.Where(r => r.Kind == LineKind.Pin).ToList();
        return new MachineSheetView(
            laid.Table.FileKind,
            SheetColumnView.Of(laid.Table),
            laid.Table.IsGuessed,
            laid.Table.Common,
            laid.Groups,
            [
                .. model.Positions.Select(p => new SheetHolderChoice(
                    new SheetTarget(SheetTargetKind.Position, p.Id.Value, "", null),
                    p.Prefix.Length > 0 ? $"{p.Name} ({p.Prefix})" : p.Name
                )),
                .. model.Parts.Select(p => new SheetHolderChoice(
                    new SheetTarget(SheetTargetKind.Part, p.Id.Value, "", null),
                    $"{p.Designator}, {p.Name}"
                )),
            ],
            laid.Rows,
            laid.Wires,
            laid.Model.States,
            laid.NewStates,
            await Reached(machine, laid, context, cancel),
            laid.ChangesAnything,
            pins.Count(r => r.Outcome == RowOutcome.Added),
            pins.Count(r => r.Outcome == RowOutcome.Changed),
            pins.Count(r => r.Outcome == RowOutcome.Same),
            pins.Count(r => r.Outcome == RowOutcome.Refused),
            pins.Count(r => r.Doubts.Count > 0)
        );
    }

    private static async Task<IReadOnlyList<ReachedBoard>> Reached(
        Machine machine,
        MachineSheetResult laid,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var reached = new List<ReachedBoard>();
        foreach (var type in laid.BoardTypes)
        {
            var models = context.Positions.Where(p => p.BoardTypeId == type.Id && p.RetiredAt == null).Select(p => p.OwnerId);
            var fitted = context
                .FittedBoards.Where(b => b.BoardTypeId == type.Id && b.RetiredAt == null && b.To == null)
                .Select(b => b.OwnerId);
            var tags = await context
                .Machines.AsNoTracking()
                .Where(m => m.Id != machine.Id && m.RetiredAt == null && (models.Contains(m.ModelId) || fitted.Contains(m.Id)))
                .OrderBy(m => m.Tag)
                .Select(m => m.Tag)
                .ToListAsync(cancel);
            if (tags.Count > 0)
            {
                reached.Add(new ReachedBoard(type.Printed, tags));
            }
        }

        var sharing = await context
            .Machines.AsNoTracking()
            .Where(m => m.Id != machine.Id && m.RetiredAt == null && m.ModelId == machine.ModelId)
            .OrderBy(m => m.Tag)
            .Select(m => m.Tag)
            .ToListAsync(cancel);
        if (sharing.Count > 0 && (laid.Wires.Any(w => w.IsTaken) || laid.NewStates.Count > 0))
        {
            reached.Add(new ReachedBoard("the wires and states of the model", sharing));
        }

        return reached;
    }
}

/// <summary>A code page that a file of text may be said to be in.</summary>
public sealed record CodePage(int Page, string Name);
