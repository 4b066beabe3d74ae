using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Visits;

namespace RustyLedger.Server.Measuring;

/// <summary>A pin as the device saw it when the reading was made.</summary>
public sealed record ProbedPin(PinAddress Address, string Printed);

/// <summary>
/// A line for a round, as the device made it: the check, limit and address as they stood there. Sent again with the
/// same id it is written once.
/// </summary>
/// <param name="CheckKey">Null for an extra reading between any two pins.</param>
/// <param name="Limit">As shown; null for an extra reading.</param>
/// <param name="Typed">As typed; empty for a skip or a take-back.</param>
/// <param name="Choice">Which of several readings in the text, from 0; null when not asked.</param>
/// <param name="Target">The line taken back.</param>
/// <param name="Alive">What was said of volts on a machine that was thought dead; null where nobody was asked.</param>
public sealed record NewLine(
    string Id,
    long Order,
    EntryKind Kind,
    string? CheckKey,
    ProbedPin? Red,
    ProbedPin? Black,
    MeterMode Mode,
    string State,
    bool? Plugged,
    string? Limit,
    ToleranceView Tolerance,
    string Typed,
    int? Choice,
    string? Target,
    string Reason,
    DateTimeOffset DeviceTime,
    string PersonId,
    string Meter,
    LiveAnswer? Alive = null
);

public sealed record ReadingRefused(int Line, string Problem);

/// <param name="Rows">Rows in the file.</param>
/// <param name="Taken">Readings that were not here before; none while a row is refused.</param>
public sealed record ReadingsTaken(int Rows, int Taken, IReadOnlyList<ReadingRefused> Refused);

internal static class RoundEndpoints
{
    /// <summary>Why a reading that should be taken dead was taken without a proof, where a list says nothing of it.</summary>
    private const string FromAList = "from a list";

    public static void MapRounds(this IEndpointRouteBuilder api)
    {
        api.MapGet("/rounds/{id}", Get).WithName("getRound");
        api.MapPost("/rounds/{id}/lines", Add).WithName("addLine");
        api.MapGet("/rounds/{id}/readings.csv", Export).WithName("exportReadings");
        api.MapPost("/rounds/{id}/readings", TakeList).WithName("takeReadings").Accepts<string>("text/csv");
    }

    internal static async Task<(Round Round, Visit Visit, RoundViewer Viewer)> Load(
        RoundId id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var round =
            await context.Rounds.AsNoTracking().SingleOrDefaultAsync(r => r.Id == id, cancel)
            ?? throw ProblemException.NotFound("This round");
        var visit = await context.Visits.AsNoTracking().SingleAsync(v => v.Id == round.VisitId, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        var lines = await context.Readings.AsNoTracking().Where(r => r.RoundId == id).ToListAsync(cancel);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var safe = visit.EndedAt is null ? await SafetyBook.State(visit.Id, machine.Model.Safety, null, context, cancel) : null;
        return (round, visit, new RoundViewer(machine, FeedGraph.Of(machine), lines, people, safe));
    }

    private static async Task<RoundView> Get(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        return viewer.View(round, visit);
    }

    private static async Task<RoundView> Add(
        string id,
        NewLine line,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (!await context.Rounds.AnyAsync(r => r.Id == id, cancel))
        {
            throw ProblemException.NotFound("This round");
        }

        await Write(id, line, context, clock, cancel);
        return await Get(id, context, library, cancel);
    }

    private static async Task<FileContentHttpResult> Export(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (round, _, viewer) = await Load(id, context, library, cancel);
        return TypedResults.File(
            [.. Encoding.UTF8.GetPreamble(), .. Encoding.UTF8.GetBytes(viewer.Csv())],
            "text/csv; charset=utf-8",
            $"readings-{round.StartedAt:yyyyMMdd-HHmm}.csv"
        );
    }

    /// <summary>
    /// A list of readings, whole or not at all; the same list again writes nothing, since a reading is known by when, where and what.
    /// </summary>
    private static async Task<ReadingsTaken> TakeList(
        string id,
        HttpRequest request,
        LedgerContext context,
        MachineLibrary library,
        Actor actor,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var round =
            await context.Rounds.AsNoTracking().SingleOrDefaultAsync(r => r.Id == id, cancel)
            ?? throw ProblemException.NotFound("This round");
        var machineId = await context.Visits.Where(v => v.Id == round.VisitId).Select(v => v.MachineId).SingleAsync(cancel);
        var text = await Texts.Body(request, "file", cancel);
        IReadOnlyList<ReadingLine> lines;
        try
        {
            lines = ReadingList.Read(text, await library.Resolve(machineId, cancel));
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("file", refusal.Message);
        }

        var refused = lines.Where(l => l.Problem.Length > 0).Select(l => new ReadingRefused(l.Line, l.Problem)).ToList();
        if (actor.PersonId is not { } person || !await context.People.AnyAsync(p => p.Id == person, cancel))
        {
            throw ProblemException.Bad("personId", "Choose a name first; readings are kept with the name of who took them.");
        }

        if (refused.Count > 0)
        {
            return new ReadingsTaken(lines.Count, 0, refused);
        }

        var known = (await context.Readings.Where(r => r.RoundId == id).Select(r => r.Id).ToListAsync(cancel)).ToHashSet();
        var taken = 0;
        foreach (var (i, line) in lines.Index())
        {
            var at = line.Time ?? round.StartedAt.AddSeconds(i);
            var mark = $"{id}|{at:O}|{line.Red!.Printed}|{line.Black?.Printed}|{line.Mode}|{line.State!.Code}|{line.Reads}";
            var key = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(mark)))[..32];
            if (known.Add(key))
            {
                var tolerance = line.Check?.Tolerance ?? DefaultTolerance.Usual;
                await Write(
                    id,
                    new NewLine(
                        key,
                        at.ToUnixTimeMilliseconds(),
                        EntryKind.Taken,
                        line.Check?.Key,
                        Probed(line.Red),
                        Probed(line.Black),
                        line.Mode,
                        line.State.Code,
                        line.Check?.Check.Plugged,
                        line.Check is null ? null : LimitNotation.Write(line.Check.Limit),
                        new ToleranceView(tolerance.Percent, tolerance.Volts, tolerance.Ohms),
                        line.Reads,
                        0,
                        null,
                        FromAList,
                        at,
                        person,
                        line.Meter,
                        LiveAnswer.Live
                    ),
                    context,
                    clock,
                    cancel,
                    save: false
                );
                taken++;
            }
        }

        await context.SaveChangesAsync(cancel);
        return new ReadingsTaken(lines.Count, taken, refused);
    }

    private static ProbedPin? Probed(ResolvedPin? pin) => pin is null ? null : new ProbedPin(pin.Address, pin.Printed);

    /// <summary>Writes a line once, however often it is sent.</summary>
    internal static async Task Write(
        RoundId id,
        NewLine line,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel,
        bool save = true
    )
    {
        Texts.Id("id", line.Id);
        var reading = await Understand(id, line, context, clock, cancel);
        if (await context.Readings.AsNoTracking().SingleOrDefaultAsync(r => r.Id == reading.Id, cancel) is { } known)
        {
            if (!known.IsSameLine(reading))
            {
                throw ProblemException.Clash(new { reading.Typed, reading.CheckKey }, new { known.Typed, known.CheckKey }, 1);
            }

            return;
        }

        if (reading.Kind == EntryKind.Taken)
        {
            var visit = await VisitOf(id, context).SingleAsync(cancel);
            var modelId = await context.Machines.Where(m => m.Id == visit.MachineId).Select(m => m.ModelId).SingleAsync(cancel);
            var (sheet, limits) = (await SafetyBook.Sheet(modelId, context, cancel), await SafetyBook.Limits(context, cancel));
            var events = await SafetyBook.Events(visit.Id, context, cancel);
            var isEnergised = await context
                .States.Where(s => s.OwnerId == modelId && s.Id == reading.State)
                .Select(s => (bool?)s.Energised)
                .FirstOrDefaultAsync(cancel);
            var condition = SafeState.Of(sheet, limits, events.Where(e => e.At <= reading.DeviceTime)).Condition;
            reading = reading.Under(condition, isEnergised).OrRefuse();
            SafetyBook.Hear(reading, line.Alive, visit, sheet, limits, events, isEnergised ?? false, context);
        }

        context.Readings.Add(reading);
        if (!save)
        {
            return;
        }

        try
        {
            await context.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException) when (context.Readings.AsNoTracking().Any(r => r.Id == reading.Id))
        {
            // The same line came twice at the same moment; the other request wrote it.
        }
    }

    private static IQueryable<Visit> VisitOf(RoundId id, LedgerContext context) =>
        context.Visits.AsNoTracking().Where(v => context.Rounds.Any(r => r.Id == id && r.VisitId == v.Id));

    private static async Task<Reading> Understand(
        RoundId roundId,
        NewLine line,
        LedgerContext context,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await StartEndpoints.Person(line.PersonId, context, cancel);
        if (line.Target is { } target && !await context.Readings.AnyAsync(r => r.Id == target && r.RoundId == roundId, cancel))
        {
            throw ProblemException.Bad("target", "The line to take back is not in this round.");
        }

        var value = Value(line);
        var supersedes = line is { Kind: EntryKind.Taken, CheckKey: not null }
            ? await context
                .Readings.Where(r =>
                    r.RoundId == roundId && r.CheckKey == line.CheckKey && r.Kind == EntryKind.Taken && r.Order < line.Order
                )
                .OrderByDescending(r => r.Order)
                .Select(r => (ReadingId?)r.Id)
                .FirstOrDefaultAsync(cancel)
            : null;
        return Outcome
            .Of(
                new Reading
                {
                    Id = line.Id,
                    RoundId = roundId,
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
                    Supersedes = supersedes,
                    Target = ReadingId.Maybe(line.Target),
                    Reason = line.Reason?.Trim() ?? "",
                    DeviceTime = line.DeviceTime,
                    ServerTime = clock.GetUtcNow(),
                    PersonId = line.PersonId,
                    Meter = line.Meter?.Trim() ?? "",
                }
            )
            .OrRefuse();
    }

    private static ReadingValue? Value(NewLine line)
    {
        if (line.Kind != EntryKind.Taken)
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
