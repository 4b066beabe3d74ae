using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.History;

public enum TimelineKind
{
    Visit,
    Fault,
    Board,
    Snapshot,
    Reading,
    Note,
    Photograph,

    /// <summary>What a machine showed or did in a visit: codes, hours, lamps.</summary>
    Seen,

    /// <summary>Temporary links, and notices of a machine that protects life.</summary>
    Safety,
}

/// <param name="At">Sorting moment, UTC.</param>
/// <param name="Open">Still open: a visit, a fault.</param>
/// <param name="Id">Of the record it leads to.</param>
/// <param name="Detail">Second line; may be empty.</param>
/// <param name="Tail">At the end of the line, such as minutes; may be empty.</param>
/// <param name="Hash">Of a photograph's picture.</param>
public sealed record TimelineEntry(
    DateTimeOffset At,
    TimelineKind Kind,
    string Id,
    bool Open,
    string Title,
    string Detail,
    string Tail,
    string Person,
    string? Hash
);

/// <param name="Counts">How many of each kind there are, whatever is shown.</param>
/// <param name="More">There are older ones.</param>
public sealed record Timeline(IReadOnlyList<TimelineEntry> Entries, IReadOnlyDictionary<string, int> Counts, bool More);

public sealed record NewNote(string Id, string MachineId, string? VisitId, string Text, string PersonId);

public sealed record NoteEdit(int Version, string Text);

public sealed record NoteView(string Id, string MachineId, int Version, string Text, DateTimeOffset At);

/// <summary>A machine's record in one line of time.</summary>
internal static class TimelineEndpoints
{
    private const int PageSize = 100;

    public static void MapTimeline(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{machineId}/timeline", Get).WithName("getTimeline");
        api.MapPost("/notes", AddNote).WithName("addNote");
        api.MapGet("/notes/{id}", GetNote).WithName("getNote");
        api.MapPut("/notes/{id}", EditNote).WithName("editNote");
    }

    private static async Task<Timeline> Get(
        string machineId,
        LedgerContext context,
        CancellationToken cancel,
        string? kind = null,
        DateTimeOffset? before = null
    )
    {
        TimelineKind? only = kind is null ? null : Texts.Choice<TimelineKind>("kind", kind);
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var entries = new List<TimelineEntry>();
        await Visits(machineId, context, people, entries, cancel);
        await Boards(machineId, context, entries, cancel);
        await Snapshots(machineId, context, people, entries, cancel);
        await Readings(machineId, context, people, entries, cancel);
        await Safety(machineId, context, entries, cancel);
        await BoardNotes(machineId, context, entries, cancel);
        entries.AddRange(
            (await FaultEndpoints.Of(machineId, context, cancel)).Select(f => new TimelineEntry(
                f.OpenedAt,
                TimelineKind.Fault,
                f.Id,
                f.ClosedAt is null,
                f.Noticed.Length > 0 ? f.Noticed : "fault without words yet",
                Detail(f),
                f.Minutes is { } m ? $"{m} min" : "",
                f.Person,
                null
            ))
        );
        entries.AddRange(
            await context
                .Notes.AsNoTracking()
                .Where(n => n.MachineId == machineId && n.RetiredAt == null)
                .Select(n => new TimelineEntry(n.At, TimelineKind.Note, n.Id, false, n.Text, "", "", n.PersonId, null))
                .ToListAsync(cancel)
        );
        entries.AddRange(
            (await PhotographEndpoints.Of(machineId, context, cancel)).Select(p => new TimelineEntry(
                p.TakenAt,
                TimelineKind.Photograph,
                p.Id,
                false,
                p.Caption.Length > 0 ? p.Caption : Words(p.Kind),
                p.Places switch
                {
                    0 => "",
                    1 => "1 place",
                    var n => $"{n} places",
                },
                "",
                p.Person,
                p.Hash
            ))
        );
        var shown = entries
            .Where(e => (only is null || e.Kind == only) && (before is null || e.At < before))
            .OrderByDescending(e => e.At)
            .ThenBy(e => e.Kind)
            .ThenBy(e => e.Id, StringComparer.Ordinal)
            .ToList();
        return new Timeline(
            [.. shown.Take(PageSize).Select(e => e with { Person = people.GetValueOrDefault(e.Person, e.Person) })],
            entries
                .GroupBy(e => e.Kind)
                .ToDictionary(g => char.ToLowerInvariant(g.Key.ToString()[0]) + g.Key.ToString()[1..], g => g.Count()),
            shown.Count > PageSize
        );
    }

    private static string Detail(FaultView f)
    {
        var returned = (f.CameBackAs, f.PreviousId) switch
        {
            (not null, _) => " It came back.",
            (_, not null) => " A fault that came back.",
            _ => "",
        };
        var deviation = f.Deviation.Length > 0 ? $" Deviation: {f.Deviation}" : "";
        return (f.ClosedAt is null ? f.Found : $"Proved: {f.Proof}") + returned + deviation;
    }

    private static string Words(PhotographKind kind) =>
        kind switch
        {
            PhotographKind.Plate => "plate",
            PhotographKind.Board => "board",
            PhotographKind.Screen => "screen",
            _ => "photograph",
        };

    private static async Task Visits(
        string machineId,
        LedgerContext context,
        Dictionary<string, string> people,
        List<TimelineEntry> entries,
        CancellationToken cancel
    )
    {
        var visits = await context.Visits.AsNoTracking().Where(v => v.MachineId == machineId && v.RetiredAt == null).ToListAsync(cancel);
        entries.AddRange(
            visits.Select(v => new TimelineEntry(
                v.OpenedAt,
                TimelineKind.Visit,
                v.Id,
                v.EndedAt is null,
                v.Complaint.Length > 0 ? v.Complaint : "no complaint noted",
                v.Ending is { } ending ? $"{ending.Words()}. {v.EndingNote}".Trim() : "open",
                v.LabourMinutes is { } m ? $"{m} min" : "",
                people.GetValueOrDefault(v.PersonId, "somebody"),
                null
            ))
        );
    }

    private static async Task Boards(string machineId, LedgerContext context, List<TimelineEntry> entries, CancellationToken cancel)
    {
        var boards = await context
            .FittedBoards.AsNoTracking()
            .Where(b => b.OwnerId == machineId && b.RetiredAt == null)
            .Join(
                context.BoardTypes,
                b => b.BoardTypeId,
                t => t.Id,
                (b, t) =>
                    new
                    {
                        b.Id,
                        b.PositionId,
                        b.Serial,
                        b.From,
                        b.To,
                        t.PartNumber,
                        t.Revision,
                    }
            )
            .ToListAsync(cancel);
        var model =
            await context.Machines.Where(m => m.Id == machineId).Select(m => m.ModelId).SingleOrDefaultAsync(cancel)
            ?? throw ProblemException.NotFound("This machine");
        var positions = await context
            .Positions.AsNoTracking()
            .Where(p => p.OwnerId == model)
            .ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        foreach (var b in boards)
        {
            var what = $"{BoardType.Called(b.PartNumber, b.Revision)}{(b.Serial.Length > 0 ? $", no. {b.Serial}" : "")}";
            var where = positions.GetValueOrDefault(b.PositionId, b.PositionId);
            if (b.From is { } from)
            {
                entries.Add(
                    new TimelineEntry(Midnight(from), TimelineKind.Board, b.PositionId, false, $"Board into {where}", what, "", "", null)
                );
            }

            if (b.To is { } to)
            {
                entries.Add(
                    new TimelineEntry(Midnight(to), TimelineKind.Board, b.PositionId, false, $"Board out of {where}", what, "", "", null)
                );
            }
        }
    }

    private static DateTimeOffset Midnight(DateOnly day) => new(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);

    private static async Task Snapshots(
        string machineId,
        LedgerContext context,
        Dictionary<string, string> people,
        List<TimelineEntry> entries,
        CancellationToken cancel
    )
    {
        var snapshots = await context
            .Snapshots.AsNoTracking()
            .Where(s => s.MachineId == machineId && s.RetiredAt == null)
            .Select(s => new
            {
                s.Id,
                s.Kind,
                s.TakenAt,
                s.PersonId,
                s.Note,
                Values = context.SettingValues.Count(v => v.OwnerId == s.Id && v.RetiredAt == null),
            })
            .ToListAsync(cancel);
        entries.AddRange(
            snapshots.Select(s => new TimelineEntry(
                s.TakenAt,
                TimelineKind.Snapshot,
                s.Id,
                false,
                $"Settings {s.Kind switch { SnapshotKind.AsFound => "as found", SnapshotKind.AsLeft => "as left", _ => "noted" }}",
                s.Note,
                s.Values == 1 ? "1 value" : $"{s.Values} values",
                people.GetValueOrDefault(s.PersonId, "somebody"),
                null
            ))
        );
    }

    /// <summary>Readings off the book: those that no check asked for.</summary>
    private static async Task Readings(
        string machineId,
        LedgerContext context,
        Dictionary<string, string> people,
        List<TimelineEntry> entries,
        CancellationToken cancel
    )
    {
        var rounds = context.Rounds.Where(r => context.Visits.Any(v => v.Id == r.VisitId && v.MachineId == machineId)).Select(r => r.Id);
        var readings = await context
            .StandingReadings.AsNoTracking()
            .Where(r => rounds.Contains(r.RoundId) && r.CheckKey == null)
            .Select(r => new
            {
                r.RoundId,
                r.RedPrinted,
                r.BlackPrinted,
                r.Value,
                r.Typed,
                r.State,
                r.DeviceTime,
                r.PersonId,
                r.RedHolder,
                r.RedPin,
            })
            .ToListAsync(cancel);
        var places = await context
            .Places.AsNoTracking()
            .Where(p => context.Photographs.Any(x => x.Id == p.PhotographId && x.MachineId == machineId))
            .ToDictionaryAsync(p => p.Id, p => p.PhotographId, cancel);
        entries.AddRange(
            readings.Select(r => new TimelineEntry(
                r.DeviceTime,
                TimelineKind.Reading,
                r.RedHolder == PlaceRecord.Holder && places.TryGetValue(r.RedPin ?? "", out var photograph)
                    ? $"photograph/{photograph}"
                    : r.RoundId,
                false,
                $"{r.RedPrinted}{(r.BlackPrinted.Length > 0 ? $" to {r.BlackPrinted}" : "")}",
                r.State,
                r.Value ?? r.Typed,
                people.GetValueOrDefault(r.PersonId, "somebody"),
                null
            ))
        );
    }

    private static async Task Safety(string machineId, LedgerContext context, List<TimelineEntry> entries, CancellationToken cancel)
    {
        entries.AddRange(
            (
                await context
                    .Observations.AsNoTracking()
                    .Where(o =>
                        o.RetiredAt == null && context.Visits.Any(v => v.Id == o.VisitId && v.MachineId == machineId && v.RetiredAt == null)
                    )
                    .ToListAsync(cancel)
            ).Select(o => new TimelineEntry(
                o.At,
                TimelineKind.Seen,
                o.VisitId,
                o is { DoneAt: null, Kind: ObservationKind.CoverOff or ObservationKind.Unplugged },
                o.Text,
                Words(o.Kind),
                "",
                o.PersonId,
                null
            ))
        );
        entries.AddRange(
            (await SafetyEndpoints.Links(context, l => l.MachineId == machineId, cancel)).Select(l => new TimelineEntry(
                l.PlacedAt,
                TimelineKind.Safety,
                l.VisitId,
                l.RemovedAt is null,
                $"{SafetyEndpoints.Words(l.Kind)}: {l.Where}",
                l.Why,
                l.RemovedAt is null ? "" : "out",
                l.PersonId,
                null
            ))
        );
        entries.AddRange(
            (
                await context
                    .LifeSafetyNotices.AsNoTracking()
                    .Where(n => n.MachineId == machineId && n.RetiredAt == null)
                    .ToListAsync(cancel)
            ).Select(n => new TimelineEntry(
                n.At,
                TimelineKind.Safety,
                n.VisitId,
                n.BackAt is null,
                $"Out of service, told: {n.Told}",
                $"Watching: {n.Watching}",
                n.BackAt is null ? "" : "back",
                n.PersonId,
                null
            ))
        );
    }

    /// <summary>What the eye found on the boards, and what is pinned to them.</summary>
    private static async Task BoardNotes(string machineId, LedgerContext context, List<TimelineEntry> entries, CancellationToken cancel)
    {
        var model = await context.Machines.Where(m => m.Id == machineId).Select(m => m.ModelId).SingleAsync(cancel);
        var positions = await context
            .Positions.AsNoTracking()
            .Where(p => p.OwnerId == model)
            .ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        entries.AddRange(
            (
                await context.BoardNotes.AsNoTracking().Where(n => n.MachineId == machineId && n.RetiredAt == null).ToListAsync(cancel)
            ).Select(n => new TimelineEntry(
                n.At,
                TimelineKind.Seen,
                $"board/{n.PositionId}",
                false,
                n.Text.Length > 0 ? n.Text : n.Kind.Words(),
                string.Join(
                    ", ",
                    new[] { positions.GetValueOrDefault(n.PositionId, n.PositionId), n.Kind.Words(), n.Reason }.Where(w => w.Length > 0)
                ),
                "",
                n.PersonId,
                null
            ))
        );
    }

    private static string Words(ObservationKind kind) =>
        kind switch
        {
            ObservationKind.Code => "code shown",
            ObservationKind.Hours => "hours",
            ObservationKind.Counter => "counter",
            ObservationKind.Lamp => "lamp",
            ObservationKind.Works => "worked",
            ObservationKind.WorksNot => "did not work",
            ObservationKind.CoverOff => "cover off",
            ObservationKind.LookedOver => "looked over",
            _ => "unplugged",
        };

    private static async Task<NoteView> AddNote(NewNote asked, LedgerContext context, TimeProvider clock, CancellationToken cancel)
    {
        Texts.Id("id", asked.Id);
        if (!await context.Notes.AnyAsync(n => n.Id == asked.Id, cancel))
        {
            if (
                !await context.Machines.AnyAsync(m => m.Id == asked.MachineId, cancel)
                || !await context.People.AnyAsync(p => p.Id == asked.PersonId, cancel)
            )
            {
                throw ProblemException.Bad("machineId", "A note needs a machine and a person that are in the ledger.");
            }

            context.Notes.Add(
                new NoteRecord
                {
                    Id = asked.Id,
                    MachineId = asked.MachineId,
                    VisitId = asked.VisitId,
                    Text = Texts.Needed("text", asked.Text, 2000),
                    At = clock.GetUtcNow(),
                    PersonId = asked.PersonId,
                }
            );
            await context.SaveChangesAsync(cancel);
        }

        return await GetNote(asked.Id, context, cancel);
    }

    private static async Task<NoteView> GetNote(string id, LedgerContext context, CancellationToken cancel) =>
        await context
            .Notes.AsNoTracking()
            .Where(n => n.Id == id && n.RetiredAt == null)
            .Select(n => new NoteView(n.Id, n.MachineId, n.Version, n.Text, n.At))
            .SingleOrDefaultAsync(cancel)
        ?? throw ProblemException.NotFound("This note");

    private static async Task<NoteView> EditNote(string id, NoteEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var note = await context.Notes.SingleOrDefaultAsync(n => n.Id == id, cancel) ?? throw ProblemException.NotFound("This note");
        var text = Texts.Needed("text", edit.Text, 2000);
        if (note.Version != edit.Version)
        {
            throw ProblemException.Clash(new { text }, new { text = note.Text }, note.Version);
        }

        note.Text = text;
        await context.SaveChangesAsync(cancel);
        return await GetNote(id, context, cancel);
    }
}
