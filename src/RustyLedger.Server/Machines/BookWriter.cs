using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Timing;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Settings;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>
/// Writes what Core works with into the book: new records are added, changed ones updated, and those no longer
/// there retired. Unchanged records are not touched, so their versions and logs stay as they are.
/// </summary>
public sealed class BookWriter(LedgerContext context, TimeProvider clock)
{
    public void Write(BoardType type, BoardType? before)
    {
        ArgumentNullException.ThrowIfNull(type);
        Put(
            new BoardTypeRecord
            {
                Id = type.Id,
                PartNumber = type.PartNumber,
                Revision = type.Revision,
                Name = type.Name,
                WidthMm = type.WidthMm,
                HeightMm = type.HeightMm,
                IsSizeGuess = type.IsSizeGuess,
                TolerancePercent = type.Tolerance.Percent,
                ToleranceVolts = type.Tolerance.Volts,
                ToleranceOhms = type.Tolerance.Ohms,
                Marks = JsonSerializer.Serialize(type.Marks, MachineFile.OneLine),
                Codes = JsonSerializer.Serialize(type.Codes, MachineFile.OneLine),
            },
            context.BoardTypes.Find(type.Id)
        );
        PutAll(type.Elements.Select((e, i) => Record(type.Id, e, i)), before?.Elements.Select(e => e.Id), context.Elements, type.Id);
        PutPins(
            type.Id.Value,
            type.Elements.SelectMany(e => e.Pins.Select(p => (e.Id.Value, p))),
            before?.Elements.SelectMany(e => e.Pins.Select(p => (e.Id.Value, p.Id)))
        );
        PutWiring(type.Id.Value, type.Links, before?.Links, type.Checks, before?.Checks);
    }

    /// <summary>The settings of board types, by the type that has them.</summary>
    public void Write(IReadOnlyList<FileSetting> settings, IReadOnlyList<FileSetting>? before)
    {
        ArgumentNullException.ThrowIfNull(settings);
        foreach (var type in settings.Concat(before ?? []).Select(s => s.BoardTypeId).Distinct().ToList())
        {
            PutAll(
                settings.Where(s => s.BoardTypeId == type).Select((s, i) => SettingEndpoints.Record(type, s.Definition, i)),
                before?.Where(s => s.BoardTypeId == type).Select(s => (Id<SettingDefinition>)s.Definition.Id),
                context.Settings,
                type
            );
        }
    }

    public void Write(Model model, Model? before)
    {
        ArgumentNullException.ThrowIfNull(model);
        Put(
            new ModelRecord
            {
                Id = model.Id,
                Maker = model.Maker,
                Name = model.Name,
            },
            context.Models.Find(model.Id)
        );
        PutAll(
            model.Positions.Select(
                (p, i) =>
                    new PositionRecord
                    {
                        OwnerId = model.Id,
                        Id = p.Id,
                        Ordinal = i,
                        Prefix = p.Prefix,
                        Name = p.Name,
                        BoardTypeId = p.BoardTypeId,
                    }
            ),
            before?.Positions.Select(p => p.Id),
            context.Positions,
            model.Id
        );
        PutAll(
            model.Parts.Select(
                (p, i) =>
                    new PartRecord
                    {
                        OwnerId = model.Id,
                        Id = p.Id,
                        Ordinal = i,
                        Kind = p.Kind,
                        Designator = p.Designator,
                        Name = p.Name,
                        Does = p.Does,
                    }
            ),
            before?.Parts.Select(p => p.Id),
            context.Parts,
            model.Id
        );
        PutAll(
            model.States.Select(
                (s, i) =>
                    new StateRecord
                    {
                        OwnerId = model.Id,
                        Id = s.Code,
                        Ordinal = i,
                        Name = s.Name,
                        Energised = s.Energised,
                    }
            ),
            before?.States.Select(s => (Id<OperatingState>)s.Code),
            context.States,
            model.Id
        );
        PutAll(Sheets(model), before is null ? null : Sheets(before).Select(s => s.Id), context.ModelSheets, model.Id);
        PutPins(
            model.Id.Value,
            model.Parts.SelectMany(p => p.Pins.Select(pin => (p.Id.Value, pin))),
            before?.Parts.SelectMany(p => p.Pins.Select(pin => (p.Id.Value, pin.Id)))
        );
        PutWiring(model.Id.Value, model.Links, before?.Links, model.Checks, before?.Checks);
    }

    public void Write(Machine machine, Machine? before)
    {
        ArgumentNullException.ThrowIfNull(machine);
        Put(
            new MachineRecord
            {
                Id = machine.Id,
                Tag = machine.Tag,
                Name = machine.Name,
                ModelId = machine.ModelId,
                Serial = machine.Serial,
                Built = machine.Built,
                Supply = machine.Supply,
                Site = machine.Site,
                Customer = machine.Customer,
                Finish = machine.Finish,
            },
            context.Machines.Find(machine.Id)
        );
        PutAll(
            machine.Boards.Select(
                (b, i) =>
                    new FittedBoardRecord
                    {
                        OwnerId = machine.Id,
                        Id = b.Id,
                        Ordinal = i,
                        PositionId = b.PositionId,
                        BoardTypeId = b.BoardTypeId,
                        Serial = b.Serial,
                        Firmware = b.Firmware,
                        From = b.From,
                        To = b.To,
                    }
            ),
            before?.Boards.Select(b => b.Id),
            context.FittedBoards,
            machine.Id
        );
        PutAll(
            machine.Overrides.Select(
                (o, i) =>
                    new OverrideRecord
                    {
                        OwnerId = machine.Id,
                        Id = o.Id,
                        Ordinal = i,
                        Address = o.Address,
                        CheckKey = o.CheckKey,
                        Colours = o.Colours?.Code,
                        Signal = o.Signal,
                        Limit = o.Limit is null ? null : LimitNotation.Write(o.Limit),
                        LimitIsWord = o.Limit is WordLimit,
                        Reason = o.Reason,
                        ReadingId = o.ReadingId,
                    }
            ),
            before?.Overrides.Select(o => o.Id),
            context.Overrides,
            machine.Id
        );
        PutChecks(machine.Id.Value, machine.Checks, before?.Checks);
    }

    /// <summary>The sheets that say something; a model nobody described has none.</summary>
    private static IEnumerable<ModelSheetRecord> Sheets(Model model)
    {
        ModelSheetRecord?[] sheets =
        [
            Sheet(model.Id, ModelSheetRecord.Variants, model.Variants, VariantSheet.Empty),
            Sheet(model.Id, ModelSheetRecord.Safety, model.Safety, SafetySheet.Empty),
            Sheet(model.Id, ModelSheetRecord.Outside, model.Outside, OutsideSheet.Empty),
            Sheet(model.Id, ModelSheetRecord.Signatures, model.Signatures, SignatureSheet.Empty),
            Sheet(model.Id, ModelSheetRecord.RoundRules, model.RoundRules, RoundRuleSheet.Empty),
            Sheet(model.Id, ModelSheetRecord.Circuit, model.Circuit, CircuitSheet.Empty),
            Sheet(model.Id, ModelSheetRecord.Functions, model.Functions, FunctionSheet.Empty),
        ];
        return sheets.OfType<ModelSheetRecord>();
    }

    private static ModelSheetRecord? Sheet<T>(ModelId model, string id, T sheet, T empty) =>
        JsonSerializer.Serialize(sheet, MachineFile.OneLine) is var body && body == JsonSerializer.Serialize(empty, MachineFile.OneLine)
            ? null
            : new ModelSheetRecord
            {
                OwnerId = model,
                Id = id,
                Body = body,
            };

    private static ElementRecord Record(BoardTypeId owner, Element e, int ordinal) =>
        new()
        {
            OwnerId = owner,
            Id = e.Id,
            Ordinal = ordinal,
            Kind = e.Kind,
            Designator = e.Designator,
            Purpose = e.Purpose,
            X = e.X,
            Y = e.Y,
            Rows = e.Rows,
            PitchMm = e.PitchMm,
            Direction = e.Direction,
            Pin1 = e.Pin1,
            Numbering = e.Numbering,
            Rating = e.Rating,
            Detail = JsonSerializer.Serialize(e.Detail, MachineFile.OneLine),
        };

    private void PutPins(Id<Wired> owner, IEnumerable<(string Group, Pin Pin)> pins, IEnumerable<(string Group, PinId Pin)>? before)
    {
        var gone = before?.ToHashSet() ?? [];
        var known = context.Pins.Where(p => p.OwnerId == owner).ToDictionary(p => (p.GroupId, p.Id));
        foreach (var (ordinal, (group, pin)) in pins.Index())
        {
            Put(
                new PinRecord
                {
                    OwnerId = owner,
                    GroupId = group,
                    Id = pin.Id,
                    Ordinal = ordinal,
                    Index = pin.Index,
                    Label = pin.Label,
                    Colours = pin.Colours.Code,
                    Signal = pin.Signal,
                    IsSource = pin.IsSource,
                },
                known.GetValueOrDefault((group, pin.Id))
            );
            gone.Remove((group, pin.Id));
        }

        foreach (var pin in gone)
        {
            Retire(known.GetValueOrDefault(pin));
        }
    }

    private void PutWiring(
        Id<Wired> owner,
        IEnumerable<Link> links,
        IEnumerable<Link>? linksBefore,
        IEnumerable<Check> checks,
        IEnumerable<Check>? checksBefore
    )
    {
        PutAll(
            links.Select(
                (l, i) =>
                    new LinkRecord
                    {
                        OwnerId = owner,
                        Id = l.Id,
                        Ordinal = i,
                        From = l.From,
                        To = l.To,
                        Directed = l.Directed,
                        Number = l.Number,
                    }
            ),
            linksBefore?.Select(l => l.Id),
            context.Links,
            owner
        );
        PutChecks(owner, checks, checksBefore);
    }

    private void PutChecks(Id<Wired> owner, IEnumerable<Check> checks, IEnumerable<Check>? before) =>
        PutAll(
            checks.Select(
                (c, i) =>
                    new CheckRecord
                    {
                        OwnerId = owner,
                        Id = c.Id,
                        Ordinal = i,
                        Target = c.Target,
                        Red = c.Red,
                        Black = c.Black,
                        Part = c.Part,
                        Mode = c.Mode,
                        State = c.State,
                        Plugged = c.Plugged,
                        Limit = LimitNotation.Write(c.Limit),
                        Remark = c.Remark,
                        Line = c.Line,
                    }
            ),
            before?.Select(c => c.Id),
            context.Checks,
            owner
        );

    private void PutAll<T, TOwner, TThing>(IEnumerable<T> rows, IEnumerable<Id<TThing>>? before, DbSet<T> set, Id<TOwner> owner)
        where T : OwnedBy<TOwner, TThing>
    {
        var gone = before?.ToHashSet() ?? [];
        // Read once; those retired too, since they may come back.
        var known = set.Where(r => r.OwnerId == owner).ToDictionary(r => r.Id);
        foreach (var row in rows)
        {
            Put(row, known.GetValueOrDefault(row.Id));
            gone.Remove(row.Id);
        }

        foreach (var id in gone)
        {
            Retire(known.GetValueOrDefault(id));
        }
    }

    private void Retire(Row? row)
    {
        if (row is not null)
        {
            row.RetiredAt ??= clock.GetUtcNow();
        }
    }

    private void Put<T>(T row, T? known)
        where T : Row
    {
        if (known is null)
        {
            context.Add(row);
            return;
        }

        (row.Version, row.RetiredAt) = (known.Version, null);
        context.Entry(known).CurrentValues.SetValues(row);
    }
}
