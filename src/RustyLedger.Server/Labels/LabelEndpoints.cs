using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using QRCoder;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Labels;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Labels;

public enum LabelKind
{
    Machine,

    /// <summary>One for each board of the machine.</summary>
    Board,

    /// <summary>Two for each plug: the half on the board and the half on the cable.</summary>
    Plug,
}

/// <summary>Labels as they would be printed.</summary>
/// <param name="Titles">Their largest words, in order.</param>
/// <param name="Problem">What stands against printing them; empty for nothing.</param>
/// <param name="Leads">Where their code leads, or why they have none.</param>
public sealed record LabelPlan(
    IReadOnlyList<string> Titles,
    int Sheets,
    double LabelWidth,
    double LabelHeight,
    int PerSheet,
    string Problem,
    string Leads
);

internal static class LabelEndpoints
{
    private const int MostLabels = 5000;

    public static void MapLabels(this IEndpointRouteBuilder api)
    {
        api.MapGet("/labels", Plan).WithName("planLabels");
        api.MapGet("/labels.pdf", Print).WithName("printLabels");
        api.MapGet("/labels.svg", Preview).WithName("previewLabels");
        api.MapGet("/machines/{machineId}/boards/{positionId}/card.pdf", CardPdf).WithName("getCardPdf");
        api.MapGet("/machines/{machineId}/boards/{positionId}/card.svg", CardSvg).WithName("getCardSvg");
        api.MapGet("/machines/{machineId}/boards/{positionId}/card.csv", CardCsv).WithName("getCardCsv");
    }

    /// <param name="machines">Tags with commas between, or <c>all</c>.</param>
    private static async Task<LabelPlan> Plan(
        string machines,
        IOptions<LedgerOptions> options,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string kind = "machine",
        string paper = "a4",
        int columns = 3,
        int rows = 8,
        double margin = 7,
        double gap = 2
    )
    {
        var grid = new LabelGrid(Texts.Choice<Paper>("paper", paper), columns, rows, margin, gap);
        var labels = await Labels(machines, Texts.Choice<LabelKind>("kind", kind), options.Value, context, library, cancel);
        var problem =
            grid.Problem ?? (labels.Count > MostLabels ? $"{labels.Count} labels; at most {MostLabels} are printed at once." : "");
        return new LabelPlan(
            [.. labels.Take(MostLabels).Select(l => l.Title)],
            problem.Length > 0 ? 0 : (labels.Count + grid.PerSheet - 1) / grid.PerSheet,
            problem.Length > 0 ? 0 : grid.LabelWidth,
            problem.Length > 0 ? 0 : grid.LabelHeight,
            problem.Length > 0 ? 0 : grid.PerSheet,
            problem,
            PublicAddress.OfMachine(await Address(options.Value, context, cancel), "…")?.Replace("%E2%80%A6", "…", StringComparison.Ordinal)
                ?? ""
        );
    }

    /// <summary>What the shop set; else what the operator did; empty for neither.</summary>
    private static async Task<string> Address(LedgerOptions options, LedgerContext context, CancellationToken cancel) =>
        await context.Shop.Select(s => s.PublicAddress).FirstOrDefaultAsync(cancel) is { Length: > 0 } set ? set : options.PublicAddress;

    private static async Task<FileContentHttpResult> Print(
        string machines,
        IOptions<LedgerOptions> options,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string kind = "machine",
        string paper = "a4",
        int columns = 3,
        int rows = 8,
        double margin = 7,
        double gap = 2,
        int start = 1
    ) =>
        TypedResults.File(
            Printing.Pdf(
                "Labels",
                await Sheets(machines, kind, paper, columns, rows, margin, gap, start, options.Value, context, library, cancel)
            ),
            "application/pdf",
            "labels.pdf"
        );

    /// <summary>The first sheet, as it will be printed.</summary>
    private static async Task<FileContentHttpResult> Preview(
        string machines,
        IOptions<LedgerOptions> options,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string kind = "machine",
        string paper = "a4",
        int columns = 3,
        int rows = 8,
        double margin = 7,
        double gap = 2,
        int start = 1
    ) =>
        TypedResults.File(
            Encoding.UTF8.GetBytes(
                Printing.Svg(
                    "Labels",
                    (await Sheets(machines, kind, paper, columns, rows, margin, gap, start, options.Value, context, library, cancel))[0]
                )
            ),
            "image/svg+xml"
        );

    private static async Task<IReadOnlyList<PrintedPage>> Sheets(
        string machines,
        string kind,
        string paper,
        int columns,
        int rows,
        double margin,
        double gap,
        int start,
        LedgerOptions options,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var grid = new LabelGrid(Texts.Choice<Paper>("paper", paper), columns, rows, margin, gap);
        if (grid.Problem is { } problem)
        {
            throw ProblemException.Bad("grid", problem);
        }

        if (start < 1 || start > grid.PerSheet)
        {
            throw ProblemException.Bad("start", $"The sheet has places 1 to {grid.PerSheet}, not {start}.");
        }

        var labels = await Labels(machines, Texts.Choice<LabelKind>("kind", kind), options, context, library, cancel);
        if (labels.Count is 0 or > MostLabels)
        {
            throw ProblemException.Bad(
                "machines",
                labels.Count == 0
                    ? "There is nothing to print: these machines have no boards or plugs yet."
                    : $"{labels.Count} labels; at most {MostLabels} are printed at once."
            );
        }

        return LabelSheet.Of(labels, grid, start, Modules);
    }

    /// <summary>ISO/IEC 18004; level M bears a smudge of 15 %.</summary>
    private static bool[,] Modules(string address)
    {
        using var data = QRCodeGenerator.GenerateQrCode(address, QRCodeGenerator.ECCLevel.M);
        // QRCoder's own quiet zone of four modules is left off.
        const int Quiet = 4;
        var count = data.ModuleMatrix.Count - (2 * Quiet);
        var modules = new bool[count, count];
        for (var row = 0; row < count; row++)
        {
            for (var column = 0; column < count; column++)
            {
                modules[row, column] = data.ModuleMatrix[row + Quiet][column + Quiet];
            }
        }

        return modules;
    }

    private static async Task<List<Label>> Labels(
        string machines,
        LabelKind kind,
        LedgerOptions options,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var asked = machines.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        List<MachineId> ids = [.. asked.Select(a => new MachineId(a))];
        var all = asked is ["all"];
        var found = await context
            .Machines.AsNoTracking()
            .Where(m => m.RetiredAt == null && (all || asked.Contains(m.Tag) || ids.Contains(m.Id)))
            .Join(
                context.Models,
                m => m.ModelId,
                m => m.Id,
                (m, model) =>
                    new
                    {
                        m.Id,
                        m.Tag,
                        m.Name,
                        m.Site,
                        Model = (model.Maker + " " + model.Name).Trim(),
                    }
            )
            .Join(context.Register, m => m.Id, r => r.MachineId, (m, r) => new { Machine = m, r.SortTag })
            .OrderBy(m => m.SortTag)
            .Take(MostLabels + 1)
            .ToListAsync(cancel);
        if (!all && asked.FirstOrDefault(a => found.TrueForAll(m => m.Machine.Tag != a && m.Machine.Id != a)) is { } missing)
        {
            throw ProblemException.Bad("machines", $"There is no machine {missing} in the ledger.");
        }

        var address = await Address(options, context, cancel);
        var labels = new List<Label>();
        foreach (var m in found.Select(f => f.Machine))
        {
            var leads = PublicAddress.OfMachine(address, m.Tag);
            if (kind == LabelKind.Machine)
            {
                string[] lines = [m.Name, m.Model, m.Site, leads is null ? $"Rusty Ledger: find {m.Tag}" : ""];
                labels.Add(new Label(m.Tag, lines, leads is null ? null : $"{leads}/door"));
                continue;
            }

            var machine = await library.Resolve(m.Id, cancel);
            foreach (var position in machine.Model.Positions.Where(p => machine.BoardAt.ContainsKey(p.Id)))
            {
                var type = machine.BoardAt[position.Id];
                if (kind == LabelKind.Board)
                {
                    var serial = machine.Machine.FittedIn(position.Id)?.Serial ?? "";
                    labels.Add(
                        new Label(
                            $"{m.Tag} {position.Prefix}",
                            [position.Name, type.Printed, serial.Length > 0 ? $"no. {serial}" : ""],
                            leads is null ? null : $"{leads}/boards/{Uri.EscapeDataString(position.Id.Value)}"
                        )
                    );
                    continue;
                }

                foreach (var plug in type.Elements.Where(e => e.Kind is ElementKind.Connector or ElementKind.BoardCable))
                {
                    // Both halves of a plug bear its name: A stays on the board, B is on the cable.
                    labels.AddRange(
                        ((string, string)[])
                            [
                                ("A", "on the board"),
                                ("B", plug.Detail.OtherEnd.Length > 0 ? $"on the cable to {plug.Detail.OtherEnd}" : "on the cable"),
                            ]
                            is var halves
                            ? halves.Select(h => new Label(
                                $"{position.Prefix}-{plug.Designator}-{h.Item1}",
                                [h.Item2, m.Tag, plug.Purpose],
                                null
                            ))
                            : []
                    );
                }
            }
        }

        return labels;
    }

    private static async Task<TerminalCard> Card(
        string machineId,
        string positionId,
        int turns,
        string side,
        string paper,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(await FacingEndpoints.MachineId(machineId, context, cancel), cancel);
        return machine.BoardAt.ContainsKey(positionId)
            ? TerminalCard.Of(machine, positionId, FacingEndpoints.Of(turns, side), Texts.Choice<Paper>("paper", paper), library.Today)
            : throw ProblemException.NotFound("This position");
    }

    private static async Task<FileContentHttpResult> CardPdf(
        string machineId,
        string positionId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component",
        string paper = "a4"
    )
    {
        var card = await Card(machineId, positionId, turns, side, paper, context, library, cancel);
        return TypedResults.File(Printing.Pdf(card.Title, card.Pages), "application/pdf", $"{card.Title}.pdf");
    }

    /// <summary>The first page: the map, and as much of the list as stands beside it.</summary>
    private static async Task<FileContentHttpResult> CardSvg(
        string machineId,
        string positionId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component",
        string paper = "a4"
    )
    {
        var card = await Card(machineId, positionId, turns, side, paper, context, library, cancel);
        return TypedResults.File(Encoding.UTF8.GetBytes(Printing.Svg(card.Title, card.Pages[0])), "image/svg+xml", $"{card.Title}.svg");
    }

    private static async Task<FileContentHttpResult> CardCsv(
        string machineId,
        string positionId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component"
    )
    {
        var card = await Card(machineId, positionId, turns, side, "a4", context, library, cancel);
        await using var text = new StringWriter(CultureInfo.InvariantCulture);
        await using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\r\n" }))
        {
            foreach (
                var line in (IEnumerable<string[]>)
                    [
                        ["pin", "place, as faced", "colour", "wire", "what it does", "should read"],
                        .. card.Lines.Select(l => (string[])[l.Pin, l.Where, l.Code, l.Wire, l.Signal, string.Join("; ", l.Reads)]),
                    ]
            )
            {
                foreach (var field in line)
                {
                    csv.WriteField(field);
                }

                await csv.NextRecordAsync();
            }
        }

        return TypedResults.File(
            [0xEF, 0xBB, 0xBF, .. Encoding.UTF8.GetBytes(text.ToString())],
            "text/csv; charset=utf-8",
            $"{card.Title}.csv"
        );
    }
}
