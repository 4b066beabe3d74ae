using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Settings;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Settings;

/// <param name="Range">What it may be, in words.</param>
public sealed record DefinitionView(
    string Id,
    int Version,
    string Code,
    string Name,
    SettingKind Kind,
    string Unit,
    decimal? Min,
    decimal? Max,
    IReadOnlyList<string> Choices,
    string Default,
    string Firmware,
    string Range
);

public sealed record DefinitionEdit(
    int Version,
    string Code,
    string Name,
    SettingKind Kind,
    string Unit,
    decimal? Min,
    decimal? Max,
    IReadOnlyList<string> Choices,
    string Default,
    string Firmware
);

/// <param name="Doubt">Why the value is not one the board can have; empty when it is. It is kept either way.</param>
public sealed record ValueView(string Code, string Name, string Unit, string Value, int Version, string Doubt, bool IsDefined);

public sealed record SnapshotView(
    string Id,
    int Version,
    string MachineId,
    string Tag,
    string FittedBoardId,
    string PositionId,
    SnapshotKind Kind,
    DateTimeOffset TakenAt,
    string Person,
    string Firmware,
    string Note,
    string? PhotographHash,
    IReadOnlyList<ValueView> Values
);

/// <summary>A fitted board, in the machine or gone from it, with its settings.</summary>
public sealed record BoardSettings(
    string FittedBoardId,
    string PositionId,
    string PositionName,
    string BoardTypeId,
    string PartNumber,
    string Revision,
    string Serial,
    string Firmware,
    DateOnly? From,
    DateOnly? To,
    IReadOnlyList<DefinitionView> Definitions,
    IReadOnlyList<SnapshotView> Snapshots
);

/// <param name="Twins">Snapshots of the same board types in other machines, newest first.</param>
public sealed record MachineSettings(
    string MachineId,
    string Tag,
    string MachineName,
    IReadOnlyList<BoardSettings> Boards,
    IReadOnlyList<TwinSnapshot> Twins
);

public sealed record TwinSnapshot(string Id, string Tag, string BoardTypeId, string Serial, SnapshotKind Kind, DateTimeOffset TakenAt);

public sealed record NewSnapshot(
    string Id,
    string MachineId,
    string FittedBoardId,
    string? VisitId,
    SnapshotKind Kind,
    DateTimeOffset TakenAt,
    string PersonId,
    string Note
);

public sealed record SnapshotEdit(int Version, SnapshotKind Kind, string Note);

/// <param name="Version">Of the value as it was seen; 0 for a new code.</param>
public sealed record ValueEdit(int Version, string Value);

public sealed record SettingsTaken(IReadOnlyList<SettingLine> Lines, int Refused, SnapshotView? Snapshot);

public sealed record SettingsCompared(string First, string Second, IReadOnlyList<SettingPair> Pairs, int Changed);

internal static class SettingEndpoints
{
    public static void MapSettings(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{machineId}/settings", OfMachine).WithName("getSettings");
        api.MapPut("/board-types/{boardTypeId}/settings/{id}", Define).WithName("defineSetting");
        api.MapPost("/board-types/{boardTypeId}/settings/{id}/retire", Undefine).WithName("retireSetting");
        api.MapPost("/snapshots", Begin).WithName("beginSnapshot");
        api.MapPut("/snapshots/{id}", Edit).WithName("editSnapshot");
        api.MapPut("/snapshots/{id}/values/{code}", SetValue).WithName("setValue");
        api.MapPost("/snapshots/{id}/values/{code}/retire", RetireValue).WithName("retireValue");
        api.MapPost("/snapshots/{id}/list", TakeList).WithName("takeSettings").Accepts<string>("text/csv");
        api.MapGet("/snapshots/{id}/settings.csv", Export).WithName("exportSettings");
        api.MapGet("/settings/compare", Compare).WithName("compareSettings");
    }

    private static async Task<MachineSettings> OfMachine(string machineId, LedgerContext context, CancellationToken cancel)
    {
        var machine =
            await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Id == machineId || m.Tag == machineId, cancel)
            ?? throw ProblemException.NotFound("This machine");
        var positions = await context
            .Positions.AsNoTracking()
            .Where(p => p.OwnerId == machine.ModelId && p.RetiredAt == null)
            .ToListAsync(cancel);
        var boards = await context
            .FittedBoards.AsNoTracking()
            .Where(b => b.OwnerId == machine.Id && b.RetiredAt == null)
            .OrderBy(b => b.To != null)
            .ThenBy(b => b.Ordinal)
            .ToListAsync(cancel);
        var typeIds = boards.Select(b => b.BoardTypeId).ToHashSet();
        var types = await context.BoardTypes.AsNoTracking().Where(t => typeIds.Contains(t.Id)).ToDictionaryAsync(t => t.Id, cancel);
        var definitions = (
            await context
                .Settings.AsNoTracking()
                .Where(s => typeIds.Contains(s.OwnerId) && s.RetiredAt == null)
                .OrderBy(s => s.Ordinal)
                .ToListAsync(cancel)
        ).ToLookup(s => s.OwnerId);
        var snapshots = await Views(context.Snapshots.Where(s => s.MachineId == machine.Id && s.RetiredAt == null), context, cancel);
        var twins = await context
            .Snapshots.AsNoTracking()
            .Where(s => s.MachineId != machine.Id && s.RetiredAt == null)
            .Join(
                context.FittedBoards.Where(b => typeIds.Contains(b.BoardTypeId)),
                s => new { M = s.MachineId, B = s.FittedBoardId },
                b => new { M = b.OwnerId, B = b.Id },
                (s, b) => new { s, b }
            )
            .Join(
                context.Machines,
                x => x.s.MachineId,
                m => m.Id,
                (x, m) =>
                    new
                    {
                        x.s.Id,
                        m.Tag,
                        x.b.BoardTypeId,
                        x.b.Serial,
                        x.s.Kind,
                        x.s.TakenAt,
                    }
            )
            .OrderByDescending(x => x.TakenAt)
            .Take(50)
            .ToListAsync(cancel);
        return new MachineSettings(
            machine.Id.Value,
            machine.Tag,
            machine.Name,
            [
                .. boards
                    .Where(b => b.To is null || snapshots.Exists(s => s.FittedBoardId == b.Id.Value))
                    .Select(b => new BoardSettings(
                        b.Id.Value,
                        b.PositionId.Value,
                        positions.Find(p => p.Id == b.PositionId)?.Name ?? b.PositionId.Value,
                        b.BoardTypeId.Value,
                        types[b.BoardTypeId].PartNumber,
                        types[b.BoardTypeId].Revision,
                        b.Serial,
                        b.Firmware,
                        b.From,
                        b.To,
                        [.. definitions[b.BoardTypeId].Select(View)],
                        [.. snapshots.Where(s => s.FittedBoardId == b.Id.Value)]
                    )),
            ],
            [.. twins.Select(x => new TwinSnapshot(x.Id.Value, x.Tag, x.BoardTypeId.Value, x.Serial, x.Kind, x.TakenAt))]
        );
    }

    private static DefinitionView View(SettingRecord s)
    {
        var d = Definition(s);
        return new DefinitionView(
            d.Id,
            s.Version,
            d.Code,
            d.Name,
            d.Kind,
            d.Unit,
            d.Min,
            d.Max,
            d.Choices,
            d.Default,
            d.Firmware,
            d.RangeWords
        );
    }

    internal static SettingDefinition Definition(SettingRecord s) =>
        new(s.Id.Value, s.Code, s.Name, s.Kind, s.Unit, s.Min, s.Max, s.Choices, s.Default, s.Firmware);

    internal static SettingRecord Record(BoardTypeId boardTypeId, SettingDefinition d, int ordinal) =>
        new()
        {
            OwnerId = boardTypeId,
            Id = d.Id,
            Ordinal = ordinal,
            Code = d.Code,
            Name = d.Name,
            Kind = d.Kind,
            Unit = d.Unit,
            Min = d.Min,
            Max = d.Max,
            Choices = d.Choices,
            Default = d.Default,
            Firmware = d.Firmware,
        };

    private static async Task<SnapshotView> View(SnapshotId id, LedgerContext context, CancellationToken cancel) =>
        await Views(context.Snapshots.Where(s => s.Id == id && s.RetiredAt == null), context, cancel) is [var one]
            ? one
            : throw ProblemException.NotFound("This snapshot");

    /// <summary>Snapshots with their values, the newest first; one question to the book for each kind of record, not for each.</summary>
    private static async Task<List<SnapshotView>> Views(IQueryable<Snapshot> which, LedgerContext context, CancellationToken cancel)
    {
        var snapshots = await which.AsNoTracking().OrderByDescending(s => s.TakenAt).ToListAsync(cancel);
        var (ids, machineIds) = (snapshots.ConvertAll(s => s.Id), snapshots.ConvertAll(s => s.MachineId));
        var boards = (
            await context.FittedBoards.AsNoTracking().Where(b => machineIds.Contains(b.OwnerId)).ToListAsync(cancel)
        ).ToDictionary(b => (b.OwnerId, b.Id));
        var types = boards.Values.Select(b => b.BoardTypeId).ToHashSet();
        var definitions = (
            await context.Settings.AsNoTracking().Where(s => types.Contains(s.OwnerId) && s.RetiredAt == null).ToListAsync(cancel)
        ).ToLookup(s => s.OwnerId, Definition);
        var values = (
            await context
                .StoredValues.AsNoTracking()
                .Where(v => ids.Contains(v.SnapshotId) && v.RetiredAt == null)
                .OrderBy(v => v.Ordinal)
                .ToListAsync(cancel)
        ).ToLookup(v => v.SnapshotId);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var tags = await context.Machines.Where(m => machineIds.Contains(m.Id)).ToDictionaryAsync(m => m.Id, m => m.Tag, cancel);
        var photographs = (
            await context
                .Photographs.AsNoTracking()
                .Where(p => p.SnapshotId != null && ids.Contains(p.SnapshotId.Value) && p.RetiredAt == null)
                .OrderByDescending(p => p.TakenAt)
                .Select(p => new { p.SnapshotId, p.Hash })
                .ToListAsync(cancel)
        ).ToLookup(p => p.SnapshotId!.Value, p => p.Hash);
        return snapshots.ConvertAll(s =>
        {
            var board = boards[(s.MachineId, s.FittedBoardId)];
            var known = SettingDefinition.Under(s.Firmware, definitions[board.BoardTypeId]);
            return new SnapshotView(
                s.Id.Value,
                s.Version,
                s.MachineId.Value,
                tags[s.MachineId],
                s.FittedBoardId.Value,
                board.PositionId.Value,
                s.Kind,
                s.TakenAt,
                people.GetValueOrDefault(s.PersonId, "somebody"),
                s.Firmware,
                s.Note,
                photographs[s.Id].FirstOrDefault(),
                [
                    .. values[s.Id]
                        .Select(v => new ValueView(
                            v.Code,
                            known.GetValueOrDefault(v.Code)?.Name ?? "",
                            known.GetValueOrDefault(v.Code)?.Unit ?? "",
                            v.Value,
                            v.Version,
                            SettingComparison.Fit(known, v.Code, v.Value).Words,
                            known.ContainsKey(v.Code)
                        )),
                ]
            );
        });
    }

    private static async Task<(
        Snapshot Snapshot,
        FittedBoardRecord Board,
        IReadOnlyDictionary<string, SettingDefinition> Definitions
    )> Load(SnapshotId id, LedgerContext context, CancellationToken cancel)
    {
        var snapshot =
            await context.Snapshots.SingleOrDefaultAsync(s => s.Id == id && s.RetiredAt == null, cancel)
            ?? throw ProblemException.NotFound("This snapshot");
        var board = await context
            .FittedBoards.AsNoTracking()
            .SingleAsync(b => b.OwnerId == snapshot.MachineId && b.Id == snapshot.FittedBoardId, cancel);
        var definitions = await context
            .Settings.AsNoTracking()
            .Where(s => s.OwnerId == board.BoardTypeId && s.RetiredAt == null)
            .ToListAsync(cancel);
        return (snapshot, board, SettingDefinition.Under(snapshot.Firmware, definitions.Select(Definition)));
    }

    /// <summary>Defines a setting, or changes what is defined; the id is made by the device.</summary>
    private static async Task<DefinitionView> Define(
        string boardTypeId,
        string id,
        DefinitionEdit edit,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        Texts.Id("id", id);
        var defined = new SettingDefinition(
            id,
            edit.Code.Trim(),
            edit.Name.Trim(),
            edit.Kind,
            edit.Unit.Trim(),
            edit.Min,
            edit.Max,
            [.. edit.Choices.Select(c => c.Trim()).Where(c => c.Length > 0)],
            edit.Default.Trim(),
            edit.Firmware.Trim()
        );
        if (defined.Refusal() is { } refusal)
        {
            throw ProblemException.Of(refusal);
        }

        var (code, name, unit) = (defined.Code, defined.Name, defined.Unit);
        var (standard, firmware, choices) = (defined.Default, defined.Firmware, defined.Choices);
        if (!await context.BoardTypes.AnyAsync(b => b.Id == boardTypeId, cancel))
        {
            throw ProblemException.NotFound("This board type");
        }

        if (
            await context.Settings.AnyAsync(
                s => s.OwnerId == boardTypeId && s.Id != id && s.Code == code && s.Firmware == firmware && s.RetiredAt == null,
                cancel
            )
        )
        {
            throw ProblemException.Bad("code", $"{code} is defined already{(firmware.Length > 0 ? $" under firmware {firmware}" : "")}.");
        }

        var setting = await context.Settings.SingleOrDefaultAsync(s => s.OwnerId == boardTypeId && s.Id == id, cancel);
        if (setting is null)
        {
            setting = new SettingRecord
            {
                OwnerId = boardTypeId,
                Id = id,
                Ordinal = await context.Settings.CountAsync(s => s.OwnerId == boardTypeId, cancel),
                Code = code,
                Name = name,
                Unit = unit,
                Choices = [],
                Default = standard,
                Firmware = firmware,
            };
            context.Settings.Add(setting);
        }
        else if (setting.Version != edit.Version)
        {
            throw ProblemException.Clash(
                new
                {
                    code,
                    name,
                    unit,
                    edit.Min,
                    edit.Max,
                    @default = standard,
                },
                new
                {
                    setting.Code,
                    setting.Name,
                    setting.Unit,
                    setting.Min,
                    setting.Max,
                    setting.Default,
                },
                setting.Version
            );
        }

        (setting.Code, setting.Name, setting.Unit, setting.Default, setting.Firmware) = (code, name, unit, standard, firmware);
        (setting.Kind, setting.Min, setting.Max, setting.Choices, setting.RetiredAt) = (edit.Kind, edit.Min, edit.Max, choices, null);
        await context.SaveChangesAsync(cancel);
        return View(setting);
    }

    private static async Task<NoContent> Undefine(
        string boardTypeId,
        string id,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var setting =
            await context.Settings.SingleOrDefaultAsync(s => s.OwnerId == boardTypeId && s.Id == id, cancel)
            ?? throw ProblemException.NotFound("This setting");
        setting.RetiredAt ??= clock.GetUtcNow();
        await context.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<SnapshotView> Begin(NewSnapshot asked, LedgerContext context, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        if (!await context.Snapshots.AnyAsync(s => s.Id == asked.Id, cancel))
        {
            var board =
                await context
                    .FittedBoards.AsNoTracking()
                    .SingleOrDefaultAsync(b => b.OwnerId == asked.MachineId && b.Id == asked.FittedBoardId, cancel)
                ?? throw ProblemException.NotFound("This fitted board");
            if (!await context.People.AnyAsync(p => p.Id == asked.PersonId, cancel))
            {
                throw ProblemException.Bad("personId", "Choose a name first; it is not in the ledger.");
            }

            context.Put(
                Outcome.Of(
                    new Snapshot
                    {
                        Id = asked.Id,
                        MachineId = asked.MachineId,
                        FittedBoardId = asked.FittedBoardId,
                        VisitId = VisitId.Maybe(asked.VisitId),
                        Kind = asked.Kind,
                        TakenAt = asked.TakenAt,
                        PersonId = asked.PersonId,
                        Firmware = board.Firmware,
                        Note = asked.Note?.Trim() ?? "",
                    }
                )
            );
            await context.SaveChangesAsync(cancel);
        }

        return await View(asked.Id, context, cancel);
    }

    private static async Task<SnapshotView> Edit(string id, SnapshotEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var (snapshot, _, _) = await Load(id, context, cancel);
        var written = snapshot.Write(edit.Kind, edit.Note).OrRefuse();
        if (snapshot.Version != edit.Version)
        {
            throw ProblemException.Clash(new { written.Kind, note = written.Note }, new { snapshot.Kind, snapshot.Note }, snapshot.Version);
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await View(id, context, cancel);
    }

    private static async Task<SnapshotView> SetValue(
        string id,
        string code,
        ValueEdit edit,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        await Load(id, context, cancel);
        await Put(id, code.Trim(), edit.Value, edit.Version, context, cancel);
        try
        {
            await context.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException) when (context.StoredValues.AsNoTracking().Any(v => v.SnapshotId == id && v.Code == code.Trim()))
        {
            // The same code came twice at the same moment; now it is there, and the second is looked at like any later one.
            context.ChangeTracker.Clear();
            await Put(id, code.Trim(), edit.Value, edit.Version, context, cancel);
            await context.SaveChangesAsync(cancel);
        }

        return await View(id, context, cancel);
    }

    private static async Task Put(
        SnapshotId snapshotId,
        string code,
        string value,
        int version,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var known =
            await context.StoredValues.SingleOrDefaultAsync(v => v.SnapshotId == snapshotId && v.Code == code, cancel)
            ?? new StoredValue
            {
                SnapshotId = snapshotId,
                Code = code,
                Value = "",
                Ordinal = await context.StoredValues.CountAsync(v => v.SnapshotId == snapshotId, cancel),
            };
        var written = known.Write(value).OrRefuse();
        // The same value sent again is the same value.
        if (written == known)
        {
            return;
        }

        if (known.Value.Length > 0 && known.RetiredAt is null && known.Version != version)
        {
            throw ProblemException.Clash(new { value = written.Value }, new { value = known.Value }, known.Version);
        }

        context.Put(written);
    }

    private static async Task<SnapshotView> RetireValue(
        string id,
        string code,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var value =
            await context.StoredValues.SingleOrDefaultAsync(v => v.SnapshotId == id && v.Code == code, cancel)
            ?? throw ProblemException.NotFound("This value");
        context.Retire(value);
        await context.SaveChangesAsync(cancel);
        return await View(id, context, cancel);
    }

    /// <summary>A pasted or CSV list, whole or not at all: every line that is not understood is named, and then none is written.</summary>
    private static async Task<SettingsTaken> TakeList(string id, HttpRequest request, LedgerContext context, CancellationToken cancel)
    {
        await Load(id, context, cancel);
        var text = await Texts.Body(request, "file", cancel);
        IReadOnlyList<SettingLine> lines;
        try
        {
            lines = SettingList.Read(text);
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("file", refusal.Message);
        }

        var refused = lines.Count(l => l.Problem.Length > 0);
        if (refused > 0)
        {
            return new SettingsTaken(lines, refused, null);
        }

        var known = await context
            .StoredValues.Where(v => v.SnapshotId == id)
            .ToDictionaryAsync(v => v.Code, StringComparer.OrdinalIgnoreCase, cancel);
        foreach (var line in lines.DistinctBy(l => l.Code, StringComparer.OrdinalIgnoreCase))
        {
            var value =
                known.GetValueOrDefault(line.Code)
                ?? new StoredValue
                {
                    SnapshotId = id,
                    Code = line.Code,
                    Value = "",
                    Ordinal = known.Count,
                };
            known[line.Code] = value.Write(line.Value).OrRefuse();
            context.Put(known[line.Code]);
        }

        await context.SaveChangesAsync(cancel);
        return new SettingsTaken(lines, 0, await View(id, context, cancel));
    }

    private static async Task<FileContentHttpResult> Export(string id, LedgerContext context, CancellationToken cancel)
    {
        var (snapshot, _, definitions) = await Load(id, context, cancel);
        var tag = await context.Machines.Where(m => m.Id == snapshot.MachineId).Select(m => m.Tag).SingleAsync(cancel);
        var values = await context
            .StoredValues.AsNoTracking()
            .Where(v => v.SnapshotId == id && v.RetiredAt == null)
            .OrderBy(v => v.Ordinal)
            .ToListAsync(cancel);
        var text = SettingList.Write(values.Select(v => (new SettingValue(v.Code, v.Value), definitions.GetValueOrDefault(v.Code))));
        return TypedResults.File(
            [.. Encoding.UTF8.GetPreamble(), .. Encoding.UTF8.GetBytes(text)],
            "text/csv; charset=utf-8",
            $"{tag}-settings.csv"
        );
    }

    /// <param name="first">A snapshot, or <c>default</c> for what the maker sets.</param>
    private static async Task<SettingsCompared> Compare(string first, string second, LedgerContext context, CancellationToken cancel)
    {
        var two = await Side(second, context, cancel);
        var one =
            first == "default"
                ? new ComparedSide(
                    two.Definitions,
                    [.. two.Definitions.Values.Where(d => d.Default.Length > 0).Select(d => new SettingValue(d.Code, d.Default))],
                    ["the default"]
                )
                : await Side(first, context, cancel);
        var pairs = SettingComparison.Of(one.Definitions, one.Values, two.Definitions, two.Values);
        var (called, other) = ToldApart.Of(one.Facts, one.Facts.Count == 1 ? [string.Join(", ", two.Facts)] : two.Facts);
        return new SettingsCompared(called, other, pairs, pairs.Count(p => p.Change != SettingChange.Same));
    }

    /// <param name="Facts">What a snapshot is known by: its machine, the board it is of, what it was taken for and when, its hour.</param>
    private sealed record ComparedSide(
        IReadOnlyDictionary<string, SettingDefinition> Definitions,
        IReadOnlyList<SettingValue> Values,
        IReadOnlyList<string> Facts
    );

    private static async Task<ComparedSide> Side(string id, LedgerContext context, CancellationToken cancel)
    {
        var (snapshot, _, definitions) = await Load(id, context, cancel);
        var tag = await context.Machines.Where(m => m.Id == snapshot.MachineId).Select(m => m.Tag).SingleAsync(cancel);
        var values = await context
            .StoredValues.AsNoTracking()
            .Where(v => v.SnapshotId == id && v.RetiredAt == null)
            .OrderBy(v => v.Ordinal)
            .Select(v => new SettingValue(v.Code, v.Value))
            .ToListAsync(cancel);
        var board = await context
            .FittedBoards.AsNoTracking()
            .Where(b => b.OwnerId == snapshot.MachineId && b.Id == snapshot.FittedBoardId)
            .Join(context.Positions, b => b.PositionId, p => p.Id, (b, p) => new { b.Serial, p.Name })
            .FirstOrDefaultAsync(cancel);
        return new ComparedSide(
            definitions,
            values,
            [
                tag,
                board?.Name ?? "",
                board is { Serial.Length: > 0 } ? $"no. {board.Serial}" : "",
                snapshot.Kind switch
                {
                    SnapshotKind.AsFound => "as found",
                    SnapshotKind.AsLeft => "as left",
                    _ => "noted",
                } + $" {snapshot.TakenAt:yyyy-MM-dd}",
                $"{snapshot.TakenAt:HH:mm}",
            ]
        );
    }
}
