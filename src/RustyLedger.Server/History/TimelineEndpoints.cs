using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
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
        MachineLibrary library,
        CancellationToken cancel,
        string? kind = null,
        DateTimeOffset? before = null
    )
    {
        TimelineKind? only = kind is null ? null : Texts.Choice<TimelineKind>("kind", kind);
        MachineId id = machineId;
        var words = await Words(await library.Resolve(id, cancel), context, cancel);
        var entries = new List<TimelineEntry>();
        foreach (var records in RecordKind.All.Where(k => k.HasLines))
        {
            entries.AddRange((await records.Of(id, context, cancel)).Select(r => records.Line(r, words)).OfType<TimelineEntry>());
        }

        entries.AddRange((await OffTheBook(id, context, cancel)).Select(r => RoundKinds.Line(r, words)));
        await Boards(id, context, words, entries, cancel);
        var shown = entries
            .Where(e => (only is null || e.Kind == only) && (before is null || e.At < before))
            .OrderByDescending(e => e.At)
            .ThenBy(e => e.Kind)
            .ThenBy(e => e.Id, StringComparer.Ordinal)
            .ToList();
        return new Timeline(
            [.. shown.Take(PageSize)],
            entries
                .GroupBy(e => e.Kind)
                .ToDictionary(g => char.ToLowerInvariant(g.Key.ToString()[0]) + g.Key.ToString()[1..], g => g.Count()),
            shown.Count > PageSize
        );
    }

    /// <summary>Names and counts that lines are worded with.</summary>
    private static async Task<TimelineWords> Words(ResolvedMachine machine, LedgerContext context, CancellationToken cancel)
    {
        var id = machine.Machine.Id;
        var places = await RecordKind.For<Place>().Those(id, context, cancel);
        return new TimelineWords(
            machine,
            await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel),
            await context
                .StoredValues.Where(v =>
                    v.RetiredAt == null
                    && context.Snapshots.Where(s => s.MachineId == id && s.RetiredAt == null).Select(s => s.Id).Contains(v.SnapshotId)
                )
                .GroupBy(v => v.SnapshotId)
                .Select(g => new { g.Key, Count = g.Count() })
                .ToDictionaryAsync(g => g.Key, g => g.Count, cancel),
            places.CountBy(p => p.PhotographId).ToDictionary(),
            places.ToDictionary(p => p.Id, p => p.PhotographId),
            FaultEndpoints.Returns(await RecordKind.For<Fault>().Those(id, context, cancel))
        );
    }

    /// <summary>Readings that no check asked for.</summary>
    private static async Task<IReadOnlyList<Reading>> OffTheBook(MachineId machine, LedgerContext context, CancellationToken cancel) =>
        await context
            .StandingReadings.AsNoTracking()
            .Where(r => r.CheckKey == null && context.RoundsOf(machine).Contains(r.RoundId))
            .ToListAsync(cancel);

    private static async Task Boards(
        MachineId machineId,
        LedgerContext context,
        TimelineWords words,
        List<TimelineEntry> entries,
        CancellationToken cancel
    )
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
        foreach (var b in boards)
        {
            var what = $"{BoardType.Called(b.PartNumber, b.Revision)}{(b.Serial.Length > 0 ? $", no. {b.Serial}" : "")}";
            var where = words.Position(b.PositionId);
            if (b.From is { } from)
            {
                entries.Add(
                    new TimelineEntry(
                        Midnight(from),
                        TimelineKind.Board,
                        b.PositionId.Value,
                        false,
                        $"Board into {where}",
                        what,
                        "",
                        "",
                        null
                    )
                );
            }

            if (b.To is { } to)
            {
                entries.Add(
                    new TimelineEntry(
                        Midnight(to),
                        TimelineKind.Board,
                        b.PositionId.Value,
                        false,
                        $"Board out of {where}",
                        what,
                        "",
                        "",
                        null
                    )
                );
            }
        }
    }

    private static DateTimeOffset Midnight(DateOnly day) => new(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);

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

            context.Put(
                new Note
                {
                    Id = asked.Id,
                    MachineId = asked.MachineId,
                    VisitId = VisitId.Maybe(asked.VisitId),
                    Text = "",
                    At = clock.GetUtcNow(),
                    PersonId = asked.PersonId,
                }.Write(asked.Text)
            );
            await context.SaveChangesAsync(cancel);
        }

        return await GetNote(asked.Id, context, cancel);
    }

    private static async Task<NoteView> GetNote(string id, LedgerContext context, CancellationToken cancel) =>
        await context
            .Notes.AsNoTracking()
            .Where(n => n.Id == id && n.RetiredAt == null)
            .Select(n => new NoteView(n.Id, n.MachineId.Value, n.Version, n.Text, n.At))
            .SingleOrDefaultAsync(cancel)
        ?? throw ProblemException.NotFound("This note");

    private static async Task<NoteView> EditNote(string id, NoteEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var note = await context.Notes.SingleOrDefaultAsync(n => n.Id == id, cancel) ?? throw ProblemException.NotFound("This note");
        var written = note.Write(edit.Text).OrRefuse();
        if (note.Version != edit.Version)
        {
            throw ProblemException.Clash(new { text = written.Text }, new { text = note.Text }, note.Version);
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await GetNote(id, context, cancel);
    }
}
