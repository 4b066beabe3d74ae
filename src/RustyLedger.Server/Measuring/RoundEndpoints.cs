using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Labels;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Labels;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

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
    CheckKey? CheckKey,
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

/// <summary>Readings as one calls them out.</summary>
/// <param name="Black">Where the black probe is; null where nobody said.</param>
/// <param name="State">Code of the state the machine is in, where a line does not say.</param>
[AsPasted]
public sealed record CalledText(string Text, PinAddress? Black, MeterMode Mode, string State);

/// <summary>A called reading as it was understood.</summary>
/// <param name="Limit">Of the check that it answers; null for a reading that none asks for.</param>
/// <param name="Unknown">Names of connector and pin that nobody entered; empty where all are known.</param>
public sealed record CalledView(
    int Line,
    ProbedPin? Red,
    string RedName,
    ProbedPin? Black,
    MeterMode Mode,
    string State,
    string StateName,
    string Reads,
    CheckKey? CheckKey,
    bool? Plugged,
    string? Limit,
    ToleranceView Tolerance,
    string Problem,
    IReadOnlyList<string> Unknown
);

/// <param name="Added">Pin and limit of each check that is new.</param>
/// <param name="Left">Why readings became no check.</param>
public sealed record RoundIsSheet(IReadOnlyList<string> Added, IReadOnlyList<string> Left);

/// <summary>A machine of the same model.</summary>
/// <param name="Readings">Checks at which it was ever read.</param>
public sealed record TwinName(string Tag, string Name, string Site, int Readings);

/// <summary>What a twin read last at a check.</summary>
/// <param name="Kind">How the reading here stands beside it; null where there is none yet.</param>
public sealed record TwinReading(CheckKey CheckKey, string Value, DateTimeOffset At, VerdictKind? Kind, string Words);

public sealed record OrderChoice(RoundOrder Order);

/// <summary>A reading that is right on this machine, off the book as it is.</summary>
/// <param name="Id">Of what is so on this machine only, made by the device.</param>
/// <param name="Limit">What the check should read on this machine from now on.</param>
public sealed record NewNormal(string Id, string ReadingId, string Limit, string Reason);

/// <param name="Number">Null where it read no number.</param>
/// <param name="Tag">Of the twin; empty for the machine itself.</param>
public sealed record PastView(DateTimeOffset At, decimal? Number, string Written, string Tag);

/// <summary>What a check read before this round.</summary>
/// <param name="Low">The least allowed; null for a side that is left open, as for the most.</param>
/// <param name="Words">The plain change.</param>
public sealed record BeforeView(
    CheckKey CheckKey,
    IReadOnlyList<PastView> Own,
    IReadOnlyList<PastView> Twins,
    int Total,
    decimal? Low,
    decimal? High,
    string Words
);

internal static class RoundEndpoints
{
    /// <summary>Why a reading that should be taken dead was taken without a proof, where a list says nothing of it.</summary>
    private const string FromAList = "from a list";

    public static void MapRounds(this IEndpointRouteBuilder api)
    {
        api.MapGet("/rounds/{id}", Get).WithName("getRound");
        api.MapGet("/rounds/{id}/paths", Paths).WithName("getRoundPaths");
        api.MapGet("/rounds/{id}/twins", Twins).WithName("listTwins");
        api.MapGet("/rounds/{id}/twins/{tag}", BesideTwin).WithName("getTwin");
        api.MapGet("/rounds/{id}/before", Before).WithName("listBefore");
        api.MapPost("/rounds/{id}/normals", Accept).WithName("acceptNormal");
        api.MapPost("/rounds/{id}/lines", Add).WithName("addLine");
        api.MapPut("/rounds/{id}/order", Follow).WithName("followOrder");
        api.MapPost("/rounds/{id}/called-looks", Called).WithName("lookAtCalled");
        api.MapPost("/rounds/{id}/as-sheet", AsSheet).WithName("makeRoundTheSheet");
        api.MapGet("/rounds/{id}/readings.csv", Export).WithName("exportReadings");
        api.MapGet("/rounds/{id}/paper.pdf", Print).WithName("printRound");
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
        var meters = await SafetyBook.Meters(context, cancel);
        return (
            round,
            visit,
            new RoundViewer(
                machine,
                FeedGraph.Of(machine),
                lines,
                people,
                safe,
                round.Order,
                meters,
                await library.Minutes(round, machine, cancel)
            )
        );
    }

    private static async Task<RoundView> Get(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        return viewer.View(round, visit);
    }

    /// <summary>The order in which the checks come from now on, on every device; what is measured stays measured.</summary>
    private static async Task<RoundView> Follow(
        string id,
        OrderChoice asked,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var round = await context.Rounds.SingleOrDefaultAsync(r => r.Id == id, cancel) ?? throw ProblemException.NotFound("This round");
        if (round.Order != asked.Order)
        {
            context.Put(round with { Order = asked.Order });
            await context.SaveChangesAsync(cancel);
        }

        return await Get(id, context, library, cancel);
    }

    /// <summary>Machines of the same model that were measured, the one with the most readings first.</summary>
    private static async Task<IReadOnlyList<TwinName>> Twins(string id, LedgerContext context, CancellationToken cancel)
    {
        var visit = await VisitOf(id, context, cancel);
        var twins = await context
            .Machines.Where(m =>
                m.Id != visit.MachineId
                && m.RetiredAt == null
                && m.ModelId == context.Machines.First(own => own.Id == visit.MachineId).ModelId
            )
            .Select(m => new
            {
                m.Tag,
                m.Name,
                m.Site,
                Readings = context
                    .StandingReadings.Where(r =>
                        r.CheckKey != null
                        && context.Rounds.Any(o => o.Id == r.RoundId && context.Visits.Any(v => v.Id == o.VisitId && v.MachineId == m.Id))
                    )
                    .Select(r => r.CheckKey)
                    .Distinct()
                    .Count(),
            })
            .ToListAsync(cancel);
        return
        [
            .. twins
                .Where(t => t.Readings > 0)
                .OrderByDescending(t => t.Readings)
                .Select(t => new TwinName(t.Tag, t.Name, t.Site, t.Readings)),
        ];
    }

    /// <summary>What the twin read last at each check, and what that makes of the readings of this round.</summary>
    private static async Task<IReadOnlyList<TwinReading>> BesideTwin(
        string id,
        string tag,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (_, _, viewer) = await Load(id, context, library, cancel);
        var twin =
            await context.Machines.AsNoTracking().FirstOrDefaultAsync(m => m.Tag == tag, cancel)
            ?? throw ProblemException.NotFound($"Machine {tag}");
        var theirs = await context
            .StandingReadings.AsNoTracking()
            .Where(r =>
                r.CheckKey != null
                && context.Rounds.Any(o => o.Id == r.RoundId && context.Visits.Any(v => v.Id == o.VisitId && v.MachineId == twin.Id))
            )
            .ToListAsync(cancel);
        var here = viewer.Sheet.Rows.ToDictionary(r => r.Check.Key, r => r.Reading?.Value);
        return
        [
            .. theirs
                .GroupBy(r => r.CheckKey!.Value)
                .Where(g => here.ContainsKey(g.Key))
                .Select(g => (g.Key, Last: g.MaxBy(r => r.DeviceTime)!))
                .Select(r => (r.Key, r.Last, Value: r.Last.Understood()))
                .Where(r => r.Value is not null)
                .Select(r =>
                {
                    var beside = here[r.Key] is { } own ? TwinComparison.Of(own, r.Value!) : null;
                    return new TwinReading(r.Key, r.Value!.Written, r.Last.DeviceTime, beside?.Kind, beside?.Words ?? "");
                }),
        ];
    }

    /// <summary>What each check read before this round, on the machine and last on each of its twins.</summary>
    private static async Task<IReadOnlyList<BeforeView>> Before(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        var modelId = await context.Machines.Where(m => m.Id == visit.MachineId).Select(m => m.ModelId).SingleAsync(cancel);
        // A shop may have hundreds of one model: those that were seen last stand for all.
        var twins = await context
            .Visits.Where(v =>
                v.MachineId != visit.MachineId
                && context.Machines.Any(m => m.Id == v.MachineId && m.ModelId == modelId && m.RetiredAt == null)
            )
            .GroupBy(v => v.MachineId)
            .OrderByDescending(g => g.Max(v => v.OpenedAt))
            .Select(g => g.Key)
            .Take(CheckHistory.MostTwins)
            .ToListAsync(cancel);
        List<MachineId> asked = [visit.MachineId, .. twins];
        var past = await (
            from reading in context.StandingReadings.AsNoTracking()
            join other in context.Rounds on reading.RoundId equals other.Id
            join visited in context.Visits on other.VisitId equals visited.Id
            join machine in context.Machines on visited.MachineId equals machine.Id
            where reading.CheckKey != null && other.Id != round.Id && reading.DeviceTime < round.StartedAt && asked.Contains(machine.Id)
            select new
            {
                reading.CheckKey,
                reading.DeviceTime,
                reading.Kind,
                reading.Mode,
                reading.Typed,
                reading.Choice,
                Tag = machine.Id == visit.MachineId ? "" : machine.Tag,
            }
        ).ToListAsync(cancel);
        var rows = viewer.Sheet.Rows.ToDictionary(r => r.Check.Key);
        return
        [
            .. past.Where(p => rows.ContainsKey(p.CheckKey!.Value))
                .GroupBy(p => p.CheckKey!.Value)
                .Select(g =>
                {
                    var row = rows[g.Key];
                    var history = CheckHistory.Of(
                        g.Select(p => new PastReading(p.DeviceTime, ReadingNotation.Read(p.Typed, p.Mode).Choices[p.Choice], p.Tag)),
                        row.Reading?.Value
                    );
                    var (low, high) = row.Check.Limit is NumericLimit limit ? Judge.Band(limit, row.Check.Tolerance) : (null, null);
                    return new BeforeView(g.Key, Past(history.Own), Past(history.Twins), history.Total, low, high, history.Words);
                }),
        ];

        static IReadOnlyList<PastView> Past(IEnumerable<PastReading> readings) =>
            [.. readings.Select(p => new PastView(p.At, (p.Value as NumberReading)?.Value, p.Value.Written, p.Tag))];
    }

    /// <summary>A reading becomes what its check should read on this machine, with the reason why.</summary>
    private static async Task<RoundView> Accept(
        string id,
        NewNormal asked,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        Texts.Id("id", asked.Id);
        await using var transaction = await context.WriteAlone(cancel);
        var (_, visit, viewer) = await Load(id, context, library, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        var entry =
            viewer.Sheet.Rows.Select(r => r.Reading).OfType<Entry>().FirstOrDefault(e => e.Id == asked.ReadingId)
            ?? throw ProblemException.Bad("readingId", "This reading does not stand in this round any more.");
        Limit limit;
        try
        {
            limit = LimitNotation.ReadOne(Texts.Needed("limit", asked.Limit, 80), entry.Mode).Limit;
        }
        catch (NotationException refusal)
        {
            throw ProblemException.Notation("limit", refusal);
        }

        writer.Write(MachineNormal.Accept(machine, entry, limit, asked.Reason?.Trim() ?? "", asked.Id).OrRefuse(), machine.Machine);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Get(id, context, library, cancel);
    }

    private static async Task<Visit> VisitOf(RoundId id, LedgerContext context, CancellationToken cancel)
    {
        var round =
            await context.Rounds.AsNoTracking().SingleOrDefaultAsync(r => r.Id == id, cancel)
            ?? throw ProblemException.NotFound("This round");
        return await context.Visits.AsNoTracking().SingleAsync(v => v.Id == round.VisitId, cancel);
    }

    /// <summary>The power path along the branch on which the check <paramref name="at"/> lies.</summary>
    private static async Task<IReadOnlyList<PathView>> Paths(
        string id,
        string at,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var (_, _, viewer) = await Load(id, context, library, cancel);
        return viewer.Paths(at);
    }

    /// <summary>How called readings are understood; each is stored by a line of its own.</summary>
    private static async Task<IReadOnlyList<CalledView>> Called(
        string id,
        CalledText said,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var round =
            await context.Rounds.AsNoTracking().SingleOrDefaultAsync(r => r.Id == id, cancel)
            ?? throw ProblemException.NotFound("This round");
        var machineId = await context.Visits.Where(v => v.Id == round.VisitId).Select(v => v.MachineId).SingleAsync(cancel);
        var machine = await library.Resolve(machineId, cancel);
        var names = await NamedPlaceEndpoints.Those(machineId, context, cancel);
        var state =
            machine.Model.States.FirstOrDefault(s => s.Code == said.State)
            ?? throw ProblemException.Bad("state", $"\"{said.State}\" is no state of {machine.Machine.Tag}.");
        try
        {
            return
            [
                .. CalledReadings
                    .Read(said.Text, machine, said.Black, said.Mode, state, names)
                    .Select(r =>
                    {
                        var tolerance = r.Check?.Tolerance ?? DefaultTolerance.Usual;
                        return new CalledView(
                            r.Line,
                            r.Red is null ? null : new ProbedPin(r.Red, r.RedName),
                            r.RedName,
                            r.Black is null ? null : new ProbedPin(r.Black, r.BlackName),
                            r.Mode,
                            r.State.Code,
                            r.State.Name,
                            r.Reads,
                            r.Check?.Key,
                            r.Check?.Check.Plugged,
                            r.Check is null ? null : LimitNotation.Write(r.Check.Limit),
                            new ToleranceView(tolerance.Percent, tolerance.Volts, tolerance.Ohms),
                            r.Problem,
                            r.Unknown
                        );
                    }),
            ];
        }
        catch (FormatException refusal)
        {
            throw ProblemException.Bad("text", refusal.Message);
        }
    }

    /// <summary>What was read on a healthy machine becomes what should be read; twice changes nothing more.</summary>
    private static async Task<RoundIsSheet> AsSheet(
        string id,
        LedgerContext context,
        MachineLibrary library,
        BookWriter writer,
        CancellationToken cancel
    )
    {
        await using var transaction = await context.WriteAlone(cancel);
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        var made = RoundAsSheet.Of(
            machine,
            viewer.Sheet.Extras,
            string.Create(CultureInfo.InvariantCulture, $"as read on {machine.Machine.Tag}, {round.StartedAt:yyyy-MM-dd}"),
            Texts.NewId
        );
        foreach (var type in made.BoardTypes)
        {
            writer.Write(type, await library.BoardType(type.Id, cancel));
        }

        writer.Write(made.Model, machine.Model);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new RoundIsSheet(made.Added, made.Left);
    }

    /// <summary>Takes a line in and answers with what changed by it: a sheet may have a thousand rows.</summary>
    private static async Task<RoundChange> Add(
        string id,
        NewLine line,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await Write(id, line, context, library, clock, cancel);
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        return viewer.Change(round, visit, line.Id);
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

    /// <summary>The round on paper, to be filled in by hand or as it was read.</summary>
    private static async Task<FileContentHttpResult> Print(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string kind = "field",
        string paper = "a4"
    )
    {
        var (asked, size) = (Texts.Choice<RoundPaperKind>("kind", kind), Texts.Choice<Paper>("paper", paper));
        var (round, visit, viewer) = await Load(id, context, library, cancel);
        var machine = await library.Resolve(visit.MachineId, cancel);
        string[] heading =
        [
            machine.Machine.Site,
            visit.Complaint,
            string.Create(CultureInfo.InvariantCulture, $"round of {round.StartedAt:yyyy-MM-dd HH:mm} UTC"),
        ];
        var printed = RoundPaper.Of(
            machine,
            viewer.Sheet,
            string.Join(" · ", heading.Where(h => h.Length > 0)),
            await FacingEndpoints.OfVisit(visit.Id, context, cancel),
            size,
            asked
        );
        return TypedResults.File(
            Printing.Pdf(printed.Title, printed.Pages),
            "application/pdf",
            string.Create(CultureInfo.InvariantCulture, $"{machine.Machine.Tag}-{kind}-{round.StartedAt:yyyyMMdd-HHmm}.pdf")
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

        List<NewLine> sent =
        [
            .. lines.Select((line, i) => Line(id, line, line.Time ?? round.StartedAt.AddSeconds(i), person)).DistinctBy(line => line.Id),
        ];
        await using var transaction = await context.WriteAlone(cancel);
        var writer = await RoundWriter.For(id, sent, context, library, clock, cancel);
        var taken = sent.Count(writer.Write);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new ReadingsTaken(lines.Count, taken, refused);
    }

    /// <summary>A row of a list as a device would send it, under an id that the same row always has.</summary>
    private static NewLine Line(string roundId, ReadingLine line, DateTimeOffset at, string person)
    {
        var mark = $"{roundId}|{at:O}|{line.Red!.Printed}|{line.Black?.Printed}|{line.Mode}|{line.State!.Code}|{line.Reads}";
        var tolerance = line.Check?.Tolerance ?? DefaultTolerance.Usual;
        return new NewLine(
            Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(mark)))[..32],
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
        );
    }

    private static ProbedPin? Probed(ResolvedPin? pin) => pin is null ? null : new ProbedPin(pin.Address, pin.Printed);

    /// <summary>Writes a line once, however often it is sent.</summary>
    internal static async Task Write(
        RoundId id,
        NewLine line,
        LedgerContext context,
        MachineLibrary library,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        // Read, judged and written with nobody between.
        await using var transaction = await context.WriteAlone(cancel);
        if ((await RoundWriter.For(id, [line], context, library, clock, cancel)).Write(line))
        {
            await context.SaveChangesAsync(cancel);
        }

        await transaction.CommitAsync(cancel);
    }
}
