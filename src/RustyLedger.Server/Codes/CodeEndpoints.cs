using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Codes;

/// <summary>All that a board type shows, blinks and beeps.</summary>
/// <param name="Version">Of this list alone.</param>
public sealed record CodesEdit(int Version, IReadOnlyList<BoardCode> Codes);

public sealed record LampName(string Designator, string Colour, string Purpose);

/// <param name="VisitId">The open visit, which a code is kept in; null for none.</param>
public sealed record BoardCodes(
    string MachineId,
    string Tag,
    string PositionId,
    string PositionName,
    string BoardTypeId,
    string BoardName,
    string? VisitId,
    IReadOnlyList<LampName> Lamps,
    IReadOnlyList<BoardCode> Codes
);

/// <summary>What was seen or heard.</summary>
/// <param name="Digits">Signs of a display, each by its lit bars a to g.</param>
/// <param name="Taps">Seconds at which it was tapped along; empty where it was not.</param>
public sealed record CodeAsked(
    CodeKind Kind,
    string Text,
    IReadOnlyList<string> Digits,
    string Element,
    string Colour,
    CodePattern? Pattern,
    IReadOnlyList<double> Taps,
    int? Count
);

public sealed record CodeFit(BoardCode Code, bool IsExact, string Why, CodeValue? Value);

/// <param name="Signs">For each digit, the signs that its lit bars may be.</param>
/// <param name="Rhythm">What was heard in the taps; null for none.</param>
/// <param name="Seen">What was seen, in words, as it would be kept.</param>
public sealed record CodesFound(IReadOnlyList<string> Signs, TapRhythm? Rhythm, string Seen, IReadOnlyList<CodeFit> Fits);

/// <param name="CodeId">Null for a code nobody knows.</param>
/// <param name="StoresNumber">The number it carries goes into the machine's record too.</param>
public sealed record KeepCode(
    string Id,
    string VisitId,
    string? CodeId,
    CodeAsked Asked,
    string? PhotographId,
    bool StoresNumber,
    DateTimeOffset At,
    string PersonId
);

/// <param name="Lines">What now stands in the record, in words.</param>
public sealed record CodeKept(IReadOnlyList<string> Lines);

internal static class CodeEndpoints
{
    private const int MostTaps = 200;

    public static void MapCodes(this IEndpointRouteBuilder api)
    {
        api.MapGet("/board-types/{id}/codes", GetSheet).WithName("getCodeSheet");
        api.MapPut("/board-types/{id}/codes", EditSheet).WithName("editCodeSheet");
        api.MapGet("/machines/{machineId}/boards/{positionId}/codes", Get).WithName("getBoardCodes");
        api.MapPost("/machines/{machineId}/boards/{positionId}/codes/find", Find).WithName("findCode");
        api.MapPost("/machines/{machineId}/boards/{positionId}/codes/kept", Keep).WithName("keepCode");
    }

    private static async Task<CodesEdit> GetSheet(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
        new(
            Texts.VersionOf(await context.BoardTypes.Where(t => t.Id == id).Select(t => t.Codes).FirstOrDefaultAsync(cancel) ?? ""),
            (await library.BoardType(id, cancel)).Codes
        );

    private static async Task<CodesEdit> EditSheet(
        string id,
        CodesEdit edit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var record =
            await context.BoardTypes.SingleOrDefaultAsync(t => t.Id == id && t.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This board type");
        if (BoardCodeRule.Refusal(edit.Codes) is { } refusal)
        {
            throw ProblemException.Of(refusal);
        }

        if (Texts.VersionOf(record.Codes) != edit.Version)
        {
            throw ProblemException.Clash(
                new { Sheet = edit.Codes },
                new { Sheet = (await library.BoardType(id, cancel)).Codes },
                Texts.VersionOf(record.Codes)
            );
        }

        record.Codes = JsonSerializer.Serialize(edit.Codes, MachineFile.OneLine);
        await context.SaveChangesAsync(cancel);
        return await GetSheet(id, context, library, cancel);
    }

    private static async Task<BoardCodes> Get(
        string machineId,
        string positionId,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (machine, position, type) = await Board(
            await FacingEndpoints.MachineId(machineId, context, cancel),
            positionId,
            library,
            cancel
        );
        var visit = await context
            .Visits.Where(v => v.MachineId == machine.Machine.Id && v.EndedAt == null && v.RetiredAt == null)
            .OrderByDescending(v => v.OpenedAt)
            .Select(v => v.Id.Value)
            .FirstOrDefaultAsync(cancel);
        return new BoardCodes(
            machine.Machine.Id.Value,
            machine.Machine.Tag,
            positionId,
            position.Name,
            type.Id.Value,
            $"{type.Printed}, {type.Name}",
            visit,
            [
                .. type
                    .Elements.Where(e => e.Kind == ElementKind.Indicator)
                    .Select(e => new LampName(e.Designator, e.Detail.Colour, e.Purpose)),
            ],
            [.. type.Codes.OrderBy(c => c.Kind).ThenBy(c => c.Words, StringComparer.Ordinal)]
        );
    }

    private static async Task<CodesFound> Find(
        string machineId,
        string positionId,
        CodeAsked asked,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (_, _, type) = await Board(machineId, positionId, library, cancel);
        var seen = Seen(asked);
        return new CodesFound(
            [.. seen.Digits.Select(d => string.Concat(SevenSegment.MayBe(d)))],
            seen.Rhythm,
            seen.Words,
            [.. CodeSearch.Find(type.Codes, seen).Select(m => new CodeFit(m.Code, m.Off < 1, m.Why, m.Value))]
        );
    }

    private static async Task<CodeKept> Keep(
        string machineId,
        string positionId,
        KeepCode asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        var visit = await StartEndpoints.OpenVisit(asked.VisitId, context, cancel);
        await StartEndpoints.Person(asked.PersonId, context, cancel);
        var (machine, position, type) = await Board(machineId, positionId, library, cancel);
        if (visit.MachineId != machineId)
        {
            throw ProblemException.Bad("visitId", "This visit is to another machine.");
        }

        var photograph = await BoardNoteEndpoints.Photograph(asked.PhotographId, machineId, context, cancel);
        var seen = Seen(asked.Asked);
        var match = asked.CodeId is null
            ? null
            : CodeSearch.Find(type.Codes, seen).FirstOrDefault(m => m.Code.Id == asked.CodeId)
                ?? throw ProblemException.Bad("codeId", "What was seen is not this code.");
        var lines = new List<(string Id, ObservationKind Kind, string Text)>
        {
            (
                asked.Id,
                seen.Kind == CodeKind.Lamp ? ObservationKind.Lamp : ObservationKind.Code,
                $"{position.Name}: {seen.Words}, "
                    + $"{(match is null ? "not known" : $"{match.Code.Meaning}{(match.Value is { } shown ? $" {shown.Words}" : "")}")}"
            ),
        };
        if (asked.StoresNumber && match?.Value is { } value)
        {
            if (value.Number.Kind == CodeNumberKind.Firmware)
            {
                StoreFirmware(machine, positionId, type, value.Words, writer, clock);
            }
            else
            {
                lines.Add(
                    (
                        $"{asked.Id}-n",
                        value.Number.Kind == CodeNumberKind.Hours ? ObservationKind.Hours : ObservationKind.Counter,
                        $"{position.Name}: {value.Number.Name} {value.Words}"
                    )
                );
            }
        }

        if (!await context.Observations.AnyAsync(o => o.Id == asked.Id, cancel))
        {
            context.AddRange(
                lines.Select(l => new Observation
                {
                    Id = l.Id,
                    VisitId = asked.VisitId,
                    Kind = l.Kind,
                    Text = l.Text,
                    At = asked.At,
                    PersonId = asked.PersonId,
                    PhotographId = photograph,
                })
            );
            await context.SaveChangesAsync(cancel);
        }

        return new CodeKept([
            .. lines.Select(l => l.Text),
            .. asked.StoresNumber && match?.Value is { Number.Kind: CodeNumberKind.Firmware } version
                ? [$"{position.Name}: firmware {version.Words}"]
                : Array.Empty<string>(),
        ]);
    }

    /// <summary>The fitted board has this firmware; where none is written down, the one that shows it is.</summary>
    private static void StoreFirmware(
        ResolvedMachine machine,
        string positionId,
        BoardType type,
        string version,
        BookWriter writer,
        TimeProvider clock
    )
    {
        var fitted = machine.Machine.FittedIn(positionId);
        var boards = fitted is null
            ? machine.Machine.Boards.Append(
                new FittedBoard(Texts.NewId(), positionId, type.Id, "", version, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime), null)
            )
            : machine.Machine.Boards.Select(b => b.Id == fitted.Id ? b with { Firmware = version } : b);
        writer.Write(machine.Machine with { Boards = [.. boards] }, before: null);
    }

    private static CodeSeen Seen(CodeAsked asked)
    {
        if (asked.Digits.Count > 16)
        {
            throw ProblemException.Bad("digits", $"{asked.Digits.Count} digits; a display has up to 16.");
        }

        if (asked.Taps.Count > MostTaps)
        {
            throw ProblemException.Bad("taps", $"{asked.Taps.Count} taps; up to {MostTaps} are listened to.");
        }

        try
        {
            return new CodeSeen(
                asked.Kind,
                Texts.Optional("text", asked.Text, 16),
                [.. asked.Digits.Select(SevenSegment.Read)],
                Texts.Optional("element", asked.Element, 12),
                Texts.Optional("colour", asked.Colour, 20),
                asked.Pattern,
                asked.Taps.Count == 0 ? null : TapRhythm.Of(asked.Taps),
                Texts.Within("count", asked.Count, 1, 99)
            );
        }
        catch (Exception refusal) when (refusal is FormatException or ArgumentException)
        {
            throw ProblemException.Bad(refusal is FormatException ? "digits" : "taps", refusal.Message);
        }
    }

    private static async Task<(ResolvedMachine Machine, Position Position, BoardType Type)> Board(
        MachineId machineId,
        string positionId,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(machineId, cancel);
        var position = machine.Model.Positions.FirstOrDefault(p => p.Id == positionId) ?? throw ProblemException.NotFound("This position");
        return (
            machine,
            position,
            machine.BoardAt.GetValueOrDefault(positionId) ?? throw ProblemException.NotFound("The board of this position")
        );
    }
}
