using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Measuring;

/// <summary>
/// Takes lines into one round. What it has to know of the machine, the visit and what was written before is read once, however many lines
/// come; the caller holds the book (<see cref="LedgerContext.WriteAlone"/>) and saves.
/// </summary>
internal sealed class RoundWriter
{
    private readonly RoundId _round;
    private readonly LedgerContext _context;
    private readonly DateTimeOffset _now;
    private readonly Visit _visit;
    private readonly ResolvedMachine _machine;
    private readonly ShopLimits _limits;
    private readonly List<SafetyEvent> _events;
    private readonly HashSet<PersonId> _people;

    /// <summary>The readings that are here: by their ids, those taken also by their checks.</summary>
    private readonly Dictionary<ReadingId, Reading> _here = [];
    private readonly Dictionary<CheckKey, List<Reading>> _ofCheck = [];

    private RoundWriter(
        RoundId round,
        LedgerContext context,
        DateTimeOffset now,
        Visit visit,
        ResolvedMachine machine,
        ShopLimits limits,
        List<SafetyEvent> events,
        HashSet<PersonId> people
    )
    {
        (_round, _context, _now, _visit) = (round, context, now, visit);
        (_machine, _limits, _events, _people) = (machine, limits, events, people);
    }

    /// <param name="lines">Those that will come, so that what is here of them is read at once.</param>
    /// <exception cref="ProblemException">No such round.</exception>
    public static async Task<RoundWriter> For(
        RoundId round,
        IReadOnlyList<NewLine> lines,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var visit =
            await context
                .Visits.AsNoTracking()
                .SingleOrDefaultAsync(v => context.Rounds.Where(r => r.Id == round).Select(r => r.VisitId).Contains(v.Id), cancel)
            ?? throw ProblemException.NotFound("This round");
        var writer = new RoundWriter(
            round,
            context,
            clock.GetUtcNow(),
            visit,
            await library.Resolve(visit.MachineId, cancel),
            await SafetyBook.Limits(context, cancel),
            await SafetyBook.Events(visit.Id, context, cancel),
            [.. await context.People.Select(p => p.Id).ToListAsync(cancel)]
        );
        await writer.Read(lines, cancel);
        return writer;
    }

    /// <summary>Reads what is here under the ids, the targets and the checks of the lines.</summary>
    private async Task Read(IReadOnlyList<NewLine> lines, CancellationToken cancel)
    {
        const int AtOnce = 500;
        foreach (var some in lines.Chunk(AtOnce))
        {
            List<ReadingId> ids = [.. some.SelectMany(l => (string?[])[l.Id, l.Target]).OfType<string>().Select(i => new ReadingId(i))];
            List<CheckKey?> checks = [.. some.Select(l => l.CheckKey).Where(k => k is not null).Distinct()];
            // One question by each index; together they would go through all there is.
            var here = _context.Readings.AsNoTracking();
            var known = await here.Where(r => ids.Contains(r.Id)).ToListAsync(cancel);
            if (checks.Count > 0)
            {
                known.AddRange(
                    await here.Where(r =>
                            r.RoundId == _round && r.Kind == EntryKind.Taken && r.CheckKey != null && checks.Contains(r.CheckKey)
                        )
                        .ToListAsync(cancel)
                );
            }

            known.ForEach(Know);
        }
    }

    private void Know(Reading reading)
    {
        if (
            !_here.TryAdd(reading.Id, reading)
            || reading.RoundId != _round
            || reading is not { Kind: EntryKind.Taken, CheckKey: { } check }
        )
        {
            return;
        }

        if (!_ofCheck.TryGetValue(check, out var taken))
        {
            _ofCheck[check] = taken = [];
        }

        taken.Add(reading);
    }

    /// <summary>Takes a line in, once however often it is sent.</summary>
    /// <returns>Whether it was not here before.</returns>
    /// <exception cref="ProblemException">It is refused, or another line stands under its id.</exception>
    public bool Write(NewLine line)
    {
        var reading = Understand(line);
        if (_here.TryGetValue(reading.Id, out var known))
        {
            return known.IsSameLine(reading)
                ? false
                : throw ProblemException.Clash(new { reading.Typed, reading.CheckKey }, new { known.Typed, known.CheckKey }, 1);
        }

        if (reading.Kind == EntryKind.Taken)
        {
            var sheet = _machine.Model.Safety;
            var isEnergised = _machine.Model.States.FirstOrDefault(s => s.Code == reading.State)?.Energised;
            var condition = SafeState.Of(sheet, _limits, _events.Where(e => e.At <= reading.DeviceTime)).Condition;
            reading = reading.Under(condition, isEnergised).OrRefuse();
            Hear(reading, line.Alive, sheet, isEnergised ?? false);
        }

        _context.Readings.Add(reading);
        Know(reading);
        return true;
    }

    /// <summary>
    /// What a reading says of sources that were thought dead is added as acts of the visit; asked about first where nobody said what it is.
    /// </summary>
    /// <exception cref="ProblemException">It contradicts what was thought dead, and <paramref name="answer"/> is null.</exception>
    private void Hear(Reading reading, LiveAnswer? answer, SafetySheet sheet, bool isEnergised)
    {
        if (
            reading.Understood() is not { } value
            || _visit.EndedAt is not null
            || answer == LiveAnswer.Elsewhere
            || LiveReading.Of(sheet, _limits, SafeState.Of(sheet, _limits, _events), value, reading.Mode, isEnergised) is not { } found
        )
        {
            return;
        }

        var names = string.Join(", ", sheet.SourcesOrAssumed.Where(s => found.SourceIds.Contains(s.Id)).Select(s => s.Name));
        if (answer is null)
        {
            throw new ProblemException(
                StatusCodes.Status409Conflict,
                "Live, or mistyped?",
                $"{found.Words} where {names} was thought dead. Is it live, or was it mistyped?"
            )
            {
                Extensions = { ["field"] = "typed", ["asksLive"] = true },
            };
        }

        foreach (var act in found.Acts(reading, _visit.Id, _events))
        {
            _context.Put(act);
            _events.Add(act.Event(""));
        }
    }

    private Reading Understand(NewLine line)
    {
        Texts.Id("id", line.Id);
        if (!_people.Contains(line.PersonId))
        {
            throw ProblemException.Bad("personId", "Choose a name first; it is not in the ledger.");
        }

        if (line.Target is { } target && !(_here.TryGetValue(target, out var named) && named.RoundId == _round))
        {
            throw ProblemException.Bad("target", "The line to take back is not in this round.");
        }

        var value = Value(line);
        return Outcome
            .Of(
                new Reading
                {
                    Id = line.Id,
                    RoundId = _round,
                    Order = line.Order,
                    Kind = line.Kind,
                    CheckKey = line.CheckKey,
                    Red = line.Red?.Address,
                    RedPrinted = line.Red?.Printed?.Trim() ?? "",
                    Black = line.Black?.Address,
                    BlackPrinted = line.Black?.Printed?.Trim() ?? "",
                    Mode = line.Mode,
                    State = line.State?.Trim() ?? "",
                    Plugged = line.Plugged,
                    Limit = Limit(line),
                    Tolerance = new DefaultTolerance(line.Tolerance.Percent, line.Tolerance.Volts, line.Tolerance.Ohms),
                    Typed = line.Typed,
                    Choice = line.Choice ?? 0,
                    Value = value?.Written,
                    Supersedes = Before(line)?.Id,
                    Target = ReadingId.Maybe(line.Target),
                    Reason = line.Reason?.Trim() ?? "",
                    DeviceTime = line.DeviceTime,
                    ServerTime = _now,
                    PersonId = line.PersonId,
                    Meter = line.Meter?.Trim() ?? "",
                }
            )
            .OrRefuse();
    }

    /// <summary>The last reading of the same check before a line.</summary>
    private Reading? Before(NewLine line) =>
        line is { Kind: EntryKind.Taken, CheckKey: { } check } && _ofCheck.TryGetValue(check, out var taken)
            ? taken.Where(r => r.Order < line.Order).MaxBy(r => r.Order)
            : null;

    private static ReadingValue? Value(NewLine line)
    {
        if (line.Kind is not (EntryKind.Taken or EntryKind.LeadZero))
        {
            return null;
        }

        try
        {
            var choices = ReadingNotation.Read(Texts.Needed("typed", line.Typed, 200), line.Mode).Choices;
            if (line.Choice is null && choices.Count > 1)
            {
                throw new ProblemException(
                    StatusCodes.Status422UnprocessableEntity,
                    "Which one?",
                    $"{choices.Count} readings were typed; choose the one that counts."
                )
                {
                    Extensions = { ["field"] = "typed", ["choices"] = choices.Select(c => c.Written).ToList() },
                };
            }

            return line.Choice is null or >= 0 && (line.Choice ?? 0) < choices.Count
                ? choices[line.Choice ?? 0]
                : throw ProblemException.Bad("choice", $"There are {choices.Count} readings to choose from.");
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation("typed", refusal);
        }
    }

    private static Limit? Limit(NewLine line)
    {
        try
        {
            return line.Limit is null ? null : LimitNotation.ReadOne(line.Limit, line.Mode).Limit;
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation("limit", refusal);
        }
    }
}
