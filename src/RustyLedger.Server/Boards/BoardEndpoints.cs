using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Wiring;

namespace RustyLedger.Server.Boards;

/// <param name="Label">Of the board type, whatever this build prints.</param>
/// <param name="ElsewherePrinted">Its name on other builds; null where it is the same.</param>
/// <param name="Words">Where it sits within its element, as faced.</param>
/// <param name="Feeds">Printed names of the pins it feeds.</param>
/// <param name="FedBy">Printed names of the pins that feed it.</param>
/// <param name="Landmarks">The latch, the key and the neighbours' colours as faced; empty where none are written down.</param>
/// <param name="JoinedTo">Printed names of pins joined without a direction.</param>
/// <param name="Checks">What should be read here, a line each.</param>
public sealed record PinOnMap(
    string Id,
    string ElementId,
    string Label,
    string Printed,
    string? ElsewherePrinted,
    decimal X,
    decimal Y,
    bool IsFirst,
    string Words,
    string Landmarks,
    string Signal,
    IReadOnlyList<ColourView> Colours,
    string ColourWords,
    IReadOnlyList<FieldOrigin> Origins,
    int Version,
    IReadOnlyList<string> Feeds,
    IReadOnlyList<string> FedBy,
    IReadOnlyList<string> JoinedTo,
    IReadOnlyList<string> Checks
);

/// <summary>A board in its position, to scale, as the technician faces it.</summary>
/// <param name="PhotographId">The newest photograph with points of this board marked on it; null for none.</param>
public sealed record BoardMap(
    string MachineId,
    string PositionId,
    string PositionName,
    string BoardTypeId,
    string PartNumber,
    string Revision,
    string BoardName,
    int Turns,
    BoardSide Side,
    string FacingWords,
    decimal Width,
    decimal Height,
    bool IsSizeGuess,
    decimal PitchMm,
    IReadOnlyList<ElementOnMap> Elements,
    IReadOnlyList<PinOnMap> Pins,
    IReadOnlyList<BoardNoteView> Notes,
    IReadOnlyList<CornerOnMap> Corners,
    string? PhotographId
);

/// <summary>A corner of the board by its place on the component side, where it lies as faced.</summary>
public sealed record CornerOnMap(Corner Corner, decimal X, decimal Y);

public sealed record PinEdit(int Version, string Label, string Colours, string Signal);

/// <summary>A pin's present texts.</summary>
public sealed record PinText(string Label, string Colours, string Signal, int Version);

/// <summary>What a spreadsheet would do to a board type; nothing is written yet.</summary>
/// <param name="FileKind">In words, such as <c>UTF-8, commas</c>.</param>
public sealed record TerminalPreviewView(
    string FileKind,
    IReadOnlyList<SheetColumnView> Columns,
    IReadOnlyList<RowPreview> Rows,
    IReadOnlyList<string> NotInFile,
    bool ChangesAnything,
    int Added,
    int Changed,
    int Refused,
    int Doubtful
);

internal static class BoardEndpoints
{
    private const int MostFileBytes = 5 * 1024 * 1024;

    public static void MapBoards(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{machineId}/boards/{positionId}/map", GetMap).WithName("getBoardMap");
        api.MapGet("/board-types/{boardTypeId}/drawing", Draw).WithName("getDrawing");
        api.MapPut("/board-types/{boardTypeId}/pins/{elementId}/{pinId}", EditPin).WithName("editPin");
        api.MapGet("/board-types/{boardTypeId}/terminals.csv", Export).WithName("exportTerminals");
        api.MapPost("/board-types/{boardTypeId}/terminals/preview", Preview).WithName("previewTerminals").Accepts<string>("text/csv");
        api.MapPost("/board-types/{boardTypeId}/terminals", Accept).WithName("acceptTerminals").Accepts<string>("text/csv");
    }

    private static async Task<BoardMap> GetMap(
        string machineId,
        string positionId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component"
    )
    {
        var facing = FacingEndpoints.Of(turns, side);
        return await Map(
            await library.Resolve(await FacingEndpoints.MachineId(machineId, context, cancel), cancel),
            positionId,
            facing,
            context,
            cancel
        );
    }

    internal static async Task<BoardMap> Map(
        ResolvedMachine machine,
        PositionId positionId,
        Facing facing,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var position = machine.Model.Positions.FirstOrDefault(p => p.Id == positionId) ?? throw ProblemException.NotFound("This position");
        var type = machine.BoardAt[positionId];
        Id<Wired> wired = type.Id.Value;
        IReadOnlyList<PicturePoint> none = [];
        var versions = await context
            .Pins.AsNoTracking()
            .Where(p => p.OwnerId == wired)
            .Select(p => new { p.Id, p.Version })
            .ToDictionaryAsync(p => p.Id, p => p.Version, cancel);
        var photograph = await context
            .Photographs.AsNoTracking()
            .Where(p => p.MachineId == machine.Machine.Id && p.PositionId == positionId && p.RetiredAt == null && p.Points != none)
            .OrderByDescending(p => p.TakenAt)
            .Select(p => p.Id.Value)
            .FirstOrDefaultAsync(cancel);
        var (width, height) = facing.Size(type.WidthMm, type.HeightMm);
        var links = machine
            .Links.SelectMany(l => (IEnumerable<(PinAddress At, ResolvedLink Link)>)[(l.From, l), (l.To, l)])
            .ToLookup(l => l.At, l => l.Link);
        var checks = machine.Checks.Where(c => c.Check.Red is not null).ToLookup(c => c.Check.Red!);
        return new BoardMap(
            machine.Machine.Id.Value,
            positionId.Value,
            position.Name,
            type.Id.Value,
            type.PartNumber,
            type.Revision,
            type.Name,
            facing.Turns,
            facing.Side,
            facing.Words,
            width,
            height,
            type.IsSizeGuess,
            type.Elements.SelectMany(e => e.Pins.Count > 1 ? [e.PitchMm] : Array.Empty<decimal>()).DefaultIfEmpty(5).Min(),
            [.. type.Elements.Select(e => ElementOnMap.Of(e, type, facing, machine.Variant?.MustBe(positionId, e.Designator) ?? ""))],
            [
                .. type.Elements.SelectMany(e =>
                    e.Pins.Select(p => OnMap(e, p, position.Id, type, facing, machine, versions, links, checks))
                ),
            ],
            await BoardNoteEndpoints.Of(machine.Machine.Id, positionId, type, facing, context, cancel),
            [.. Enum.GetValues<Corner>().Select(c => CornerAsFaced(c, type, facing))],
            photograph
        );
    }

    private static async Task<BoardDrawing> Draw(
        string boardTypeId,
        MachineLibrary library,
        CancellationToken cancel,
        int turns = 0,
        string side = "component"
    ) => BoardDrawing.Of(await library.BoardType(boardTypeId, cancel), FacingEndpoints.Of(turns, side));

    private static CornerOnMap CornerAsFaced(Corner corner, BoardType type, Facing facing)
    {
        var (right, down) = (corner is Corner.TopRight or Corner.BottomRight, corner is Corner.BottomLeft or Corner.BottomRight);
        var (x, y) = facing.Place(right ? type.WidthMm : 0, down ? type.HeightMm : 0, type.WidthMm, type.HeightMm);
        return new CornerOnMap(corner, x, y);
    }

    private static PinOnMap OnMap(
        Element element,
        Pin pin,
        PositionId positionId,
        BoardType type,
        Facing facing,
        ResolvedMachine machine,
        Dictionary<PinId, int> versions,
        ILookup<PinAddress, ResolvedLink> allLinks,
        ILookup<PinAddress, ResolvedCheck> checks
    )
    {
        var (x, y) = element.PlaceOf(pin);
        var (seenX, seenY) = facing.Place(x, y, type.WidthMm, type.HeightMm);
        var address = new PinAddress.OnBoard(positionId, pin.Id);
        var here = machine.Pins[address];
        var links = allLinks[address].ToList();
        string Name(PinAddress at) => machine.Pins[at].Printed;
        return new PinOnMap(
            pin.Id.Value,
            element.Id.Value,
            pin.Label,
            here.Printed,
            here.ElsewherePrinted,
            seenX,
            seenY,
            pin.Index == 1,
            PositionWords.Of(element, pin, facing),
            PositionWords.Landmarks(
                element,
                pin,
                facing,
                p => machine.Pins.GetValueOrDefault(new PinAddress.OnBoard(positionId, p.Id))?.Pin.Colours ?? p.Colours
            ),
            here.Pin.Signal,
            ColourView.Of(here.Pin.Colours),
            here.Pin.Colours.Words,
            here.Origins,
            versions[pin.Id],
            [.. links.Where(l => l.Directed && l.From == address).Select(l => Name(l.To))],
            [.. links.Where(l => l.Directed && l.To == address).Select(l => Name(l.From))],
            [.. links.Where(l => !l.Directed).Select(l => Name(l.From == address ? l.To : l.From))],
            [.. checks[address].Select(c => Words(c, machine))]
        );
    }

    private static string Words(ResolvedCheck check, ResolvedMachine machine)
    {
        string[] parts =
        [
            LimitNotation.Write(check.Limit),
            check.Check.Mode.Words(),
            check.Check.Black is { } black ? $"to {machine.Pins[black].Printed}" : "",
            check.State.Name,
            check.Check.Plugged switch
            {
                true => "plugged in",
                false => "unplugged",
                null => "",
            },
            check.Check.Remark,
        ];
        return string.Join(", ", parts.Where(p => p.Length > 0));
    }

    private static async Task<PinText> EditPin(
        string boardTypeId,
        string elementId,
        string pinId,
        PinEdit edit,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var pin =
            await context.Pins.SingleOrDefaultAsync(
                p => p.OwnerId == boardTypeId && p.GroupId == elementId && p.Id == pinId && p.RetiredAt == null,
                cancel
            ) ?? throw ProblemException.NotFound("This pin");
        var label = Texts.Needed("label", edit.Label, 12);
        var signal = Texts.Optional("signal", edit.Signal, 120);
        string colours;
        try
        {
            colours = WireColours.Read(edit.Colours).Code;
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("colours", refusal.Message);
        }

        if (pin.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new PinText(label, colours, signal, edit.Version),
                new PinText(pin.Label, pin.Colours, pin.Signal, pin.Version),
                pin.Version
            );
        }

        if (
            await context.Pins.AnyAsync(
                p => p.OwnerId == boardTypeId && p.GroupId == elementId && p.Id != pinId && p.Label == label && p.RetiredAt == null,
                cancel
            )
        )
        {
            throw ProblemException.Bad("label", $"Another pin of this connector is labelled {label}.");
        }

        (pin.Label, pin.Colours, pin.Signal) = (label, colours, signal);
        await context.SaveChangesAsync(cancel);
        return new PinText(pin.Label, pin.Colours, pin.Signal, pin.Version);
    }

    private static async Task<FileContentHttpResult> Export(string boardTypeId, MachineLibrary library, CancellationToken cancel)
    {
        var type = await library.BoardType(boardTypeId, cancel);
        // The mark tells spreadsheets that the text is UTF-8.
        return TypedResults.File(
            [.. Encoding.UTF8.GetPreamble(), .. Encoding.UTF8.GetBytes(TerminalList.Export(type))],
            "text/csv; charset=utf-8",
            $"{type.PartNumber}-{type.Revision}-terminals.csv"
        );
    }

    private static async Task<TerminalPreviewView> Preview(
        string boardTypeId,
        HttpRequest request,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string? columns = null
    ) => View((await Understand(boardTypeId, request, columns, context, library, cancel)).Preview);

    private static async Task<TerminalPreviewView> Accept(
        string boardTypeId,
        HttpRequest request,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel,
        string? columns = null
    )
    {
        var (before, preview) = await Understand(boardTypeId, request, columns, context, library, cancel);
        if (preview.ChangesAnything)
        {
            writer.Write(preview.Result, before);
            await context.SaveChangesAsync(cancel);
        }

        return View(preview);
    }

    private static async Task<(BoardType Before, TerminalPreview Preview)> Understand(
        string boardTypeId,
        HttpRequest request,
        string? columns,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var before = await library.BoardType(boardTypeId, cancel);
        using var body = new MemoryStream();
        await request.Body.CopyToAsync(body, cancel);
        if (body.Length > MostFileBytes)
        {
            throw ProblemException.Bad("file", "A terminal list has at most 5 MB.");
        }

        try
        {
            var table = TerminalTable.Read(body.ToArray(), Columns(columns));
            return (before, TerminalList.Preview(before, table, await States(boardTypeId, context, library, cancel), Texts.NewId));
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("file", refusal.Message);
        }
    }

    /// <summary>The states of all models in which the board type has a position; the usual four where it has none.</summary>
    internal static async Task<IReadOnlyList<OperatingState>> States(
        string boardTypeId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var models = await context
            .Positions.Where(p => p.BoardTypeId == boardTypeId && p.RetiredAt == null)
            .Select(p => p.OwnerId)
            .Distinct()
            .ToListAsync(cancel);
        var states = new List<OperatingState>();
        foreach (var model in models)
        {
            states.AddRange((await library.Model(model, cancel)).States.Where(s => states.TrueForAll(known => known.Code != s.Code)));
        }

        return states.Count > 0 ? states : OperatingState.Usual;
    }

    /// <summary>Written as <c>pin:0,colour:3,none:4</c>: what each place holds, and none for nothing of use.</summary>
    private static Dictionary<int, TerminalColumn?> Columns(string? text)
    {
        var columns = new Dictionary<int, TerminalColumn?>();
        if (string.IsNullOrWhiteSpace(text))
        {
            return columns;
        }

        foreach (var part in text.Split(','))
        {
            if (
                part.Split(':') is not [var name, var place]
                || !Enum.TryParse<TerminalColumn>(name == "none" ? "pin" : name, ignoreCase: true, out var column)
                || !int.TryParse(place, out var at)
                || !columns.TryAdd(at, name == "none" ? null : column)
            )
            {
                throw ProblemException.Bad("columns", $"\"{part}\" is not a column and its place; write for example pin:0,colour:3.");
            }
        }

        return columns;
    }

    private static TerminalPreviewView View(TerminalPreview preview) =>
        new(
            preview.Table.FileKind,
            SheetColumnView.Of(preview.Table),
            preview.Rows,
            preview.NotInFile,
            preview.ChangesAnything,
            preview.Rows.Count(r => r.Outcome == RowOutcome.Added),
            preview.Rows.Count(r => r.Outcome == RowOutcome.Changed),
            preview.Rows.Count(r => r.Outcome == RowOutcome.Refused),
            preview.Rows.Count(r => r.Doubts.Count > 0)
        );
}
