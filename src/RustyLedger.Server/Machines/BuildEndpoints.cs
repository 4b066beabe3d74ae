using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Photographs;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <param name="Because">The rule that answers, and on what.</param>
public sealed record BuildCandidate(string Id, string Name, string Because);

/// <summary>Which build a machine is, and what follows.</summary>
/// <param name="Name">Of the build; empty unless decided.</param>
/// <param name="Settle">What would settle it.</param>
/// <param name="Facts">What must be so on this build, with what is.</param>
/// <param name="Renamed">Terminals that this build prints otherwise: its name, and the other.</param>
public sealed record BuildView(
    DecisionKind Kind,
    string Name,
    string Why,
    IReadOnlyList<BuildCandidate> Candidates,
    IReadOnlyList<string> Settle,
    IReadOnlyList<BuildFact> Facts,
    IReadOnlyList<RenamedPin> Renamed
);

public sealed record RenamedPin(string Printed, string Elsewhere);

public sealed record SeenMark(MarkFeature Feature, string? Value);

/// <param name="Seen">What somebody saw so far; null for "cannot see".</param>
/// <param name="PartNumber">What its part number begins with, as far as it can be read; empty for none.</param>
public sealed record RecogniseBoard(IReadOnlyList<SeenMark> Seen, string PartNumber);

/// <param name="Share">How likely it is this one, 0 to 1.</param>
/// <param name="Fitted">In how many places of this shop it is fitted.</param>
/// <param name="Picture">Hash of a photograph of one; null where there is none.</param>
/// <param name="Belongs">It belongs into this position on this build.</param>
public sealed record BoardChoice(
    string Id,
    string PartNumber,
    string Revision,
    string Name,
    double Share,
    int Fitted,
    string? Picture,
    IReadOnlyList<RecognitionMark> Marks,
    decimal WidthMm,
    decimal HeightMm,
    IReadOnlyList<ShapeOnBoard> Shapes,
    bool Belongs
);

/// <summary>An element as a shape, in millimetres from the upper left corner.</summary>
public sealed record ShapeOnBoard(string Designator, decimal X, decimal Y, decimal Width, decimal Height);

/// <param name="Question">Null when one is left, or none tells the rest apart.</param>
public sealed record RecognitionView(
    string PositionName,
    IReadOnlyList<BoardChoice> Left,
    string? Question,
    MarkFeature? Feature,
    IReadOnlyList<string> Values,
    double BitsGained,
    bool Alike,
    IReadOnlyList<string> Differences
);

/// <param name="Version">Of these marks alone.</param>
public sealed record MarksEdit(int Version, IReadOnlyList<RecognitionMark> Marks);

internal static class BuildEndpoints
{
    public static void MapBuilds(this IEndpointRouteBuilder api)
    {
        api.MapGet(
                "/machines/{machineId}/build",
                async (string machineId, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
                    await Of(await library.Resolve(machineId, cancel), context, library, cancel)
            )
            .WithName("getBuild");
        api.MapPost("/machines/{machineId}/boards/{positionId}/recognise", Recognise).WithName("recogniseBoard");
        api.MapGet("/board-types/{id}/marks", Marks).WithName("getMarks");
        api.MapPut("/board-types/{id}/marks", EditMarks).WithName("editMarks");
    }

    public static async Task<BuildView> Of(ResolvedMachine machine, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var decision = VariantDecision.Of(machine.Machine.Plate, machine.Model.Variants, library.Today);
        var types = new Dictionary<BoardTypeId, BoardType>();
        foreach (
            var id in (machine.Variant?.Boards ?? [])
                .SelectMany(b => b.BoardTypes)
                .Concat(machine.Machine.FittedNow.Select(b => b.BoardTypeId))
                .Distinct()
        )
        {
            types[id] = machine.BoardAt.Values.FirstOrDefault(t => t.Id == id) ?? await library.BoardType(id, cancel);
        }

        var settings = machine.Variant is { Settings.Count: > 0 } ? await Settings(machine, context, cancel) : [];
        return new BuildView(
            decision.Kind,
            decision.Chosen?.Name ?? "",
            decision.Why,
            [.. decision.Candidates.Select(c => new BuildCandidate(c.Variant.Id, c.Variant.Name, c.Because))],
            decision.Settle,
            BuildSheet.Of(machine, types, settings),
            [.. machine.Pins.Values.Where(p => p.ElsewherePrinted is not null).Select(p => new RenamedPin(p.Printed, p.ElsewherePrinted!))]
        );
    }

    /// <summary>The newest known value of each setting of the boards that are fitted.</summary>
    private static async Task<Dictionary<(PositionId Position, string Code), string>> Settings(
        ResolvedMachine machine,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var settings = new Dictionary<(PositionId, string), string>();
        var snapshots = await context
            .Snapshots.AsNoTracking()
            .Where(s => s.MachineId == machine.Machine.Id && s.RetiredAt == null)
            .OrderByDescending(s => s.TakenAt)
            .ToListAsync(cancel);
        var newest = machine
            .Machine.FittedNow.Select(b => (b.PositionId, Snapshot: snapshots.Find(s => s.FittedBoardId == b.Id)))
            .Where(b => b.Snapshot is not null)
            .ToDictionary(b => b.Snapshot!.Id, b => b.PositionId);
        List<SnapshotId> ids = [.. newest.Keys];
        foreach (
            var value in await context
                .StoredValues.AsNoTracking()
                .Where(v => ids.Contains(v.SnapshotId) && v.RetiredAt == null)
                .ToListAsync(cancel)
        )
        {
            settings[(newest[value.SnapshotId], value.Code)] = value.Value;
        }

        return settings;
    }

    private static async Task<RecognitionView> Recognise(
        string machineId,
        string positionId,
        RecogniseBoard asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(machineId, cancel);
        var position = machine.Model.Positions.FirstOrDefault(p => p.Id == positionId) ?? throw ProblemException.NotFound("This position");
        // All builds count: the wrong board in a machine is what this is for.
        var ids = machine
            .Model.Variants.Variants.SelectMany(v => v.Boards)
            .Where(b => b.Position == positionId)
            .SelectMany(b => b.BoardTypes)
            .Append(position.BoardTypeId)
            .Concat(machine.Machine.Boards.Where(b => b.PositionId == positionId).Select(b => b.BoardTypeId))
            .Distinct()
            .ToList();
        var typed = FindText.Plain(Texts.Optional("partNumber", asked.PartNumber, 40));
        if (typed.Length > 0)
        {
            var known = await context
                .BoardTypes.AsNoTracking()
                .Where(t => t.RetiredAt == null)
                .Select(t => new { t.Id, t.PartNumber })
                .ToListAsync(cancel);
            ids = [.. known.Where(k => FindText.Holds(FindText.Plain(k.PartNumber), typed)).Select(k => k.Id)];
        }

        var types = new List<BoardType>();
        foreach (var id in ids)
        {
            types.Add(await library.BoardType(id, cancel));
        }

        var fitted = await context
            .BoardsFittedNow.Where(b => ids.Contains(b.BoardTypeId))
            .GroupBy(b => b.BoardTypeId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        var found = Recognition.Of(types, fitted, [.. asked.Seen.Select(s => new MarkSeen(s.Feature, s.Value))]);
        var belong = BuildSheet.BelongIn(position, machine);
        var left = new List<BoardChoice>();
        foreach (var candidate in found.Left)
        {
            left.Add(
                new BoardChoice(
                    candidate.Type.Id.Value,
                    candidate.Type.PartNumber,
                    candidate.Type.Revision,
                    candidate.Type.Name,
                    candidate.Share,
                    fitted.GetValueOrDefault(candidate.Type.Id),
                    await Picture(candidate.Type.Id.Value, context, cancel),
                    candidate.Type.Marks,
                    candidate.Type.WidthMm,
                    candidate.Type.HeightMm,
                    [
                        .. candidate.Type.Elements.Select(e => new ShapeOnBoard(
                            e.Designator,
                            e.Outline.X,
                            e.Outline.Y,
                            e.Outline.Width,
                            e.Outline.Height
                        )),
                    ],
                    belong.Contains(candidate.Type.Id)
                )
            );
        }

        return new RecognitionView(
            position.Name,
            left,
            found.Question is null ? null : Recognition.Words(found.Question.Feature),
            found.Question?.Feature,
            found.Question?.Values ?? [],
            found.Question?.BitsGained ?? 0,
            found.Alike,
            found.Differences
        );
    }

    private static async Task<MarksEdit> Marks(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel) =>
        new(
            Texts.VersionOf(await context.BoardTypes.Where(t => t.Id == id).Select(t => t.Marks).FirstOrDefaultAsync(cancel) ?? ""),
            (await library.BoardType(id, cancel)).Marks
        );

    private static async Task<MarksEdit> EditMarks(
        string id,
        MarksEdit edit,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var record =
            await context.BoardTypes.SingleOrDefaultAsync(t => t.Id == id && t.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This board type");
        IReadOnlyList<RecognitionMark> marks = [.. edit.Marks.Select(m => m with { Value = Texts.Needed("value", m.Value, 40) })];
        if (marks.GroupBy(m => m.Feature).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            throw ProblemException.Bad("marks", $"{Recognition.Words(twice.Key)} It is answered twice; a board shows one of each.");
        }

        if (Texts.VersionOf(record.Marks) != edit.Version)
        {
            throw ProblemException.Clash(
                new { Sheet = marks },
                new { Sheet = (await library.BoardType(id, cancel)).Marks },
                Texts.VersionOf(record.Marks)
            );
        }

        record.Marks = JsonSerializer.Serialize(marks, MachineFile.OneLine);
        await context.SaveChangesAsync(cancel);
        return await Marks(id, context, library, cancel);
    }

    /// <summary>A photograph taken of a position while this board type sat in it.</summary>
    private static async Task<string?> Picture(string boardTypeId, LedgerContext context, CancellationToken cancel)
    {
        var places = await context
            .FittedBoards.AsNoTracking()
            .Where(b => b.BoardTypeId == boardTypeId && b.RetiredAt == null)
            .ToListAsync(cancel);
        foreach (var place in places)
        {
            var from = place.From?.ToDateTime(TimeOnly.MinValue) ?? DateTime.MinValue;
            var to = place.To?.ToDateTime(TimeOnly.MaxValue) ?? DateTime.MaxValue;
            var photographs = await context
                .Photographs.AsNoTracking()
                .Where(p =>
                    p.MachineId == place.OwnerId
                    && p.PositionId == place.PositionId
                    && p.Kind == PhotographKind.Board
                    && p.RetiredAt == null
                )
                .OrderByDescending(p => p.TakenAt)
                .ToListAsync(cancel);
            if (photographs.Find(p => p.TakenAt.UtcDateTime >= from && p.TakenAt.UtcDateTime <= to) is { } photograph)
            {
                return photograph.Hash;
            }
        }

        return null;
    }
}
