using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>Takes in a machine file as one transaction: all of it or nothing.</summary>
public sealed class MachineFileImport(LedgerContext context, BookWriter writer, MachineLibrary library)
{
    /// <returns>The id of the machine taken in.</returns>
    /// <exception cref="ProblemException">Names what is wrong and where; nothing was written.</exception>
    public async Task<string> Import(Stream stream, CancellationToken cancel)
    {
        var file = await Read(stream, cancel);
        Validate(file);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        await RefuseWhatIsHere(file, cancel);
        foreach (var person in file.People)
        {
            if (await context.People.FindAsync([person.Id], cancel) is null)
            {
                context.People.Add(new PersonRecord { Id = person.Id, Name = person.Name });
            }
        }

        foreach (var type in file.BoardTypes)
        {
            writer.Write(type, before: null);
        }

        writer.Write(file.Model);
        writer.Write(file.Machine, file.Model);
        await context.SaveChangesAsync(cancel);
        foreach (var visit in file.Visits)
        {
            context.Visits.Add(new VisitRecord { Id = visit.Id, MachineId = file.Machine.Id, Complaint = visit.Complaint, PersonId = visit.PersonId, OpenedAt = visit.OpenedAt, EndedAt = visit.EndedAt, Ending = visit.Ending, EndingNote = visit.EndingNote });
            context.Rounds.AddRange(visit.Rounds.Select(r => new RoundRecord { Id = r.Id, VisitId = visit.Id, StartedAt = r.StartedAt }));
            context.Readings.AddRange(visit.Rounds.SelectMany(r => r.Readings.Select(reading => Record(r.Id, reading))));
        }

        context.Faults.AddRange(file.Faults.Select(f => new FaultRecord { Id = f.Id, MachineId = file.Machine.Id, VisitId = f.VisitId, RoundId = f.RoundId, PersonId = f.PersonId, OpenedAt = f.OpenedAt, Noticed = f.Noticed, Found = f.Found, Evidence = f.Evidence, Cause = f.Cause, Proof = f.Proof, Done = f.Done, ClosedAt = f.ClosedAt }));
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return file.Machine.Id;
    }

    private static async Task<MachineFile> Read(Stream stream, CancellationToken cancel)
    {
        try
        {
            using var text = await JsonDocument.ParseAsync(stream, cancellationToken: cancel);
            if (text.RootElement.ValueKind != JsonValueKind.Object || !text.RootElement.TryGetProperty("format", out var format) || format.GetString() != MachineFile.FormatName)
            {
                throw ProblemException.Bad("format", $"This is not a machine file; it should begin with \"format\": \"{MachineFile.FormatName}\".");
            }

            if (!text.RootElement.TryGetProperty("version", out var version) || !version.TryGetInt32(out var number) || number < 1)
            {
                throw ProblemException.Bad("version", "The file states no version.");
            }

            return number <= MachineFile.CurrentVersion
                ? text.RootElement.Deserialize<MachineFile>(MachineFile.Json)!
                : throw ProblemException.Bad("version", $"The file is of version {number}; this ledger reads up to version {MachineFile.CurrentVersion}. Update the ledger first.");
        }
        catch (Exception broken) when (broken is JsonException or InvalidOperationException)
        {
            throw ProblemException.Bad((broken as JsonException)?.Path ?? "$", $"The machine file is not understood: {broken.Message}");
        }
    }

    /// <summary>A board type or model that is here already must be the same; a machine that is here is never overwritten.</summary>
    private async Task RefuseWhatIsHere(MachineFile file, CancellationToken cancel)
    {
        if (await context.Machines.AnyAsync(m => m.Id == file.Machine.Id || m.Tag == file.Machine.Tag, cancel))
        {
            throw ProblemException.Conflict($"{file.Machine.Tag} is in the ledger already.");
        }

        foreach (var type in file.BoardTypes)
        {
            if (await context.BoardTypes.AnyAsync(b => b.Id == type.Id, cancel) && !Same(await library.BoardType(type.Id, cancel), type))
            {
                throw ProblemException.Conflict($"Board type {type.PartNumber} rev {type.Revision} is in the ledger with other contents.");
            }
        }

        if (await context.Models.AnyAsync(m => m.Id == file.Model.Id, cancel) && !Same(await library.Model(file.Model.Id, cancel), file.Model))
        {
            throw ProblemException.Conflict($"Model {file.Model.Name} is in the ledger with other contents.");
        }
    }

    private static bool Same<T>(T one, T other) => JsonSerializer.Serialize(one, MachineFile.Json) == JsonSerializer.Serialize(other, MachineFile.Json);

    private static void Validate(MachineFile file)
    {
        var people = Unique("people", file.People.Select(p => p.Id));
        var types = Unique("boardTypes", file.BoardTypes.Select(b => b.Id));
        foreach (var (i, type) in file.BoardTypes.Index())
        {
            ValidateBoard($"boardTypes[{i}]", type);
        }

        Require("model.positions", file.Model.Positions.Select(p => p.BoardTypeId), types, "board type");
        Unique("model.positions and parts", file.Model.Positions.Select(p => p.Id).Concat(file.Model.Parts.Select(p => p.Id)));
        Unique("model.states", file.Model.States.Select(s => s.Code));
        Unique("model.links", file.Model.Links.Select(l => l.Id));
        Unique("model.checks", file.Model.Checks.Select(c => c.Id));
        foreach (var part in file.Model.Parts)
        {
            Unique($"pins of {part.Designator}", part.Pins.Select(p => p.Id));
        }

        Require("machine.modelId", [file.Machine.ModelId], [file.Model.Id], "model");
        Require("machine.boards", file.Machine.Boards.Select(b => b.BoardTypeId), types, "board type");
        Require("machine.boards", file.Machine.Boards.Select(b => b.PositionId), [.. file.Model.Positions.Select(p => p.Id)], "position");
        if (ResolvedMachine.Of(file.Machine, file.Model, file.BoardTypes.ToDictionary(b => b.Id)).Problems is [var problem, ..])
        {
            throw ProblemException.Bad("model", $"The wiring in the file does not fit together: {problem}.");
        }

        var visits = Unique("visits", file.Visits.Select(v => v.Id));
        var rounds = Unique("rounds", file.Visits.SelectMany(v => v.Rounds).Select(r => r.Id));
        var readings = file.Visits.SelectMany(v => v.Rounds).SelectMany(r => r.Readings).ToList();
        Unique("readings", readings.Select(r => r.Id));
        Unique("faults", file.Faults.Select(f => f.Id));
        Require("visits", file.Visits.Select(v => v.PersonId), people, "person");
        Require("readings", readings.Select(r => r.PersonId), people, "person");
        Require("faults", file.Faults.Select(f => f.PersonId), people, "person");
        Require("faults", file.Faults.Select(f => f.VisitId).OfType<string>(), visits, "visit");
        Require("faults", file.Faults.Select(f => f.RoundId).OfType<string>(), rounds, "round");
        foreach (var reading in readings)
        {
            ValidateReading(reading);
        }
    }

    private static void ValidateBoard(string at, BoardType type)
    {
        Unique($"{at}.elements", type.Elements.Select(e => e.Id));
        Unique($"designators of {at}", type.Elements.Select(e => e.Designator));
        Unique($"pins of {at}", type.Elements.SelectMany(e => e.Pins).Select(p => p.Id));
        Unique($"{at}.links", type.Links.Select(l => l.Id));
        Unique($"{at}.checks", type.Checks.Select(c => c.Id));
        if (type.Elements.FirstOrDefault(e => e.Rows < 1 || e.PitchMm <= 0 || e.Pins.Any(p => p.Index < 1)) is { } broken)
        {
            throw ProblemException.Bad($"{at}.elements", $"{broken.Designator} needs at least one row, a pitch above 0 mm, and pin indices from 1.");
        }
    }

    private static void ValidateReading(FileReading reading)
    {
        try
        {
            if (reading.Kind == EntryKind.Taken && reading.Choice >= ReadingNotation.Read(reading.Typed, reading.Mode).Choices.Count)
            {
                throw ProblemException.Bad($"reading {reading.Id}.choice", $"\"{reading.Typed}\" has no choice {reading.Choice}.");
            }
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation($"reading {reading.Id}.typed", refusal);
        }
    }

    private static HashSet<string> Unique(string at, IEnumerable<string> ids)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var id in ids)
        {
            if (id.Length is 0 or > 64)
            {
                throw ProblemException.Bad(at, $"An id in {at} is empty or longer than 64 signs.");
            }

            if (!seen.Add(id))
            {
                throw ProblemException.Bad(at, $"\"{id}\" stands twice in {at}.");
            }
        }

        return seen;
    }

    private static void Require(string at, IEnumerable<string> ids, HashSet<string> known, string what)
    {
        if (ids.FirstOrDefault(id => !known.Contains(id)) is { } missing)
        {
            throw ProblemException.Bad(at, $"{at} names a {what} that is not in the file: \"{missing}\".");
        }
    }

    private static ReadingRecord Record(string roundId, FileReading r)
    {
        var record = new ReadingRecord
        {
            Id = r.Id,
            RoundId = roundId,
            Order = r.Order,
            Kind = r.Kind,
            CheckKey = r.CheckKey,
            RedHolder = r.RedHolder,
            RedPin = r.RedPin,
            BlackHolder = r.BlackHolder,
            BlackPin = r.BlackPin,
            RedPrinted = r.RedPrinted,
            BlackPrinted = r.BlackPrinted,
            Mode = r.Mode,
            State = r.State,
            Plugged = r.Plugged,
            Limit = r.Limit is null ? null : LimitNotation.Write(r.Limit),
            TolerancePercent = r.Tolerance.Percent,
            ToleranceVolts = r.Tolerance.Volts,
            ToleranceOhms = r.Tolerance.Ohms,
            Typed = r.Typed,
            Choice = r.Choice,
            Supersedes = r.Supersedes,
            Target = r.Target,
            Reason = r.Reason,
            DeviceTime = r.DeviceTime,
            ServerTime = r.ServerTime,
            PersonId = r.PersonId,
            Meter = r.Meter,
        };
        record.Value = RoundBook.EntryOf(record).Value?.Written;
        return record;
    }
}
