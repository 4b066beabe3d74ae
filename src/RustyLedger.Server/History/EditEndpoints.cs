using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using RustyLedger.Core;
using RustyLedger.Core.Safety;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.History;

/// <summary>One field of a change; texts as they stood.</summary>
public sealed record FieldChange(string Field, string Before, string After);

/// <summary>One change of one record: who, when, what.</summary>
/// <param name="Person">Null where it came from a file.</param>
/// <param name="Began">The record was made by it.</param>
public sealed record EditView(
    long Id,
    string Kind,
    string RecordId,
    string? Person,
    DateTimeOffset At,
    bool Began,
    IReadOnlyList<FieldChange> Changes
);

/// <summary>The edit log: what each record was, and back to it.</summary>
internal static class EditEndpoints
{
    private const int MostShown = 200;
    private const int MostWithin = 30;

    // Kept as one text, shown thing by thing.
    private static readonly HashSet<string> Sheets =
    [
        nameof(ModelSheetRecord.Body),
        nameof(BoardTypeRecord.Marks),
        nameof(BoardTypeRecord.Codes),
        nameof(ElementRecord.Detail),
    ];

    // Kept for order and identity, of no interest to a reader.
    private static readonly HashSet<string> Silent =
    [
        "Version",
        "Id",
        "OwnerId",
        "GroupId",
        "Ordinal",
        "MachineId",
        "PersonId",
        "PhotographId",
        "VisitId",
    ];

    public static void MapEdits(this IEndpointRouteBuilder api)
    {
        api.MapGet("/edits/{kind}/{*recordId}", List).WithName("listEdits");
        api.MapPost("/edits/{id:long}/put-back", PutBack).WithName("putBack");
    }

    /// <param name="within">Also the changes of what the record owns, of whatever kind: the pins of a board type, the values of a
    /// snapshot.</param>
    private static async Task<IReadOnlyList<EditView>> List(
        string kind,
        string recordId,
        LedgerContext context,
        CancellationToken cancel,
        bool within = false
    )
    {
        var below = $"{recordId}/";
        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        var edits = await context
            .Edits.AsNoTracking()
            .Where(e => (e.Kind == kind && e.RecordId == recordId) || (within && e.RecordId.StartsWith(below)))
            .OrderByDescending(e => e.Id)
            .Take(MostShown)
            .ToListAsync(cancel);
        return [.. edits.Select(e => View(e, people))];
    }

    private static EditView View(EditRecord e, Dictionary<PersonId, string> people)
    {
        var (before, after) = (Fields(e.Before), Fields(e.After));
        return new EditView(
            e.Id,
            e.Kind,
            e.RecordId,
            e.PersonId is { } person ? people.GetValueOrDefault(person) : null,
            e.At,
            e.Before is null,
            [
                .. after
                    .Where(f => !Silent.Contains(f.Key) && f.Value != before.GetValueOrDefault(f.Key, Field.Empty))
                    .SelectMany(f => Changes(f.Key, before.GetValueOrDefault(f.Key, Field.Empty), f.Value)),
            ]
        );
    }

    /// <summary>What a member of a record held.</summary>
    /// <param name="IsTree">It is JSON, of which the texts are shown.</param>
    private readonly record struct Field(string Text, bool IsTree)
    {
        public static Field Empty { get; } = new("", false);

        public string Shown => IsTree ? string.Join(", ", Leaves(Text).Values) : Text;
    }

    private static IEnumerable<FieldChange> Changes(string name, Field before, Field after)
    {
        if (!(before.IsTree && after.IsTree))
        {
            return [new FieldChange(name, before.Shown, after.Shown)];
        }

        var (one, two) = (Leaves(before.Text), Leaves(after.Text));
        return one
            .Keys.Union(two.Keys)
            .Where(k => one.GetValueOrDefault(k, "") != two.GetValueOrDefault(k, ""))
            .Take(MostWithin)
            .Select(k => new FieldChange(k, one.GetValueOrDefault(k, ""), two.GetValueOrDefault(k, "")));
    }

    /// <summary>The texts of a sheet, each by the names on the way to it, such as <c>sources, the mains, isolation</c>.</summary>
    private static Dictionary<string, string> Leaves(string json)
    {
        var leaves = new Dictionary<string, string>();
        void Walk(JsonElement at, string way)
        {
            string On(string name) => way.Length > 0 ? $"{way}, {name}" : name;
            switch (at.ValueKind)
            {
                case JsonValueKind.Object:
                    foreach (
                        var member in at.EnumerateObject()
                            .Where(m => m.Name is not ("id" or "name") || m.Value.ValueKind != JsonValueKind.String)
                    )
                    {
                        Walk(member.Value, On(member.Name));
                    }

                    break;
                case JsonValueKind.Array:
                    foreach (var (i, item) in at.EnumerateArray().Index())
                    {
                        Walk(
                            item,
                            On(
                                item.ValueKind == JsonValueKind.Object
                                && item.TryGetProperty("name", out var name)
                                && name.ValueKind == JsonValueKind.String
                                    ? name.GetString()!
                                    : $"{i + 1}"
                            )
                        );
                    }

                    break;
                default:
                    leaves[way] = at.ValueKind == JsonValueKind.String ? at.GetString()! : at.GetRawText();
                    break;
            }
        }

        using var text = JsonDocument.Parse(json);
        Walk(text.RootElement, "");
        return leaves;
    }

    private static Dictionary<string, Field> Fields(string? json)
    {
        if (json is null)
        {
            return [];
        }

        using var text = JsonDocument.Parse(json);
        return text
            .RootElement.EnumerateObject()
            .ToDictionary(
                f => f.Name,
                f =>
                    f.Value.ValueKind switch
                    {
                        JsonValueKind.Null => Field.Empty,
                        JsonValueKind.String => new Field(f.Value.GetString()!, Sheets.Contains(f.Name)),
                        JsonValueKind.Array when f.Value.EnumerateArray().All(v => v.ValueKind == JsonValueKind.String) => new Field(
                            string.Join('\n', f.Value.EnumerateArray().Select(v => v.GetString())),
                            false
                        ),
                        JsonValueKind.Array or JsonValueKind.Object => new Field(f.Value.GetRawText(), true),
                        _ => new Field(f.Value.GetRawText(), false),
                    }
            );
    }

    /// <summary>
    /// Undoes one change: the fields it changed get back what they held before, whatever else came after. That is a change like any
    /// other, so it can itself be undone.
    /// </summary>
    private static async Task<EditView> PutBack(long id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var edit =
            await context.Edits.AsNoTracking().SingleOrDefaultAsync(e => e.Id == id, cancel)
            ?? throw ProblemException.NotFound("This change");
        var type =
            context.Model.GetEntityTypes().FirstOrDefault(t => LedgerContext.KindOf(t) == edit.Kind)
            ?? throw ProblemException.NotFound("This kind of record");
        var record =
            await context.FindAsync(type.ClrType, Key(type, edit.After), cancel) as IEditable
            ?? throw ProblemException.NotFound("This record");
        var entry = context.Entry(record);
        using var after = JsonDocument.Parse(edit.After);
        if (edit.Before is null)
        {
            // A record's beginning is undone by retiring it; its texts stay for whoever puts it back.
            context.Retire(record);
        }
        else
        {
            using var before = JsonDocument.Parse(edit.Before);
            foreach (var property in type.GetProperties().Where(p => !p.IsPrimaryKey() && p.Name != nameof(IEditable.Version)))
            {
                if (
                    before.RootElement.TryGetProperty(property.Name, out var was)
                    && after.RootElement.TryGetProperty(property.Name, out var became)
                    && was.GetRawText() != became.GetRawText()
                )
                {
                    entry.Property(property.Name).CurrentValue = was.Deserialize(property.ClrType, LedgerContext.LogJson);
                }
            }
        }

        if (record is TemporaryLink { IsOpen: true } link)
        {
            // Put back would be put across.
            link.On(await library.Resolve(link.MachineId, cancel)).OrRefuse();
        }

        try
        {
            await context.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException broken) when (broken is not DbUpdateConcurrencyException)
        {
            throw ProblemException.Conflict("It cannot be put back: something else has taken its place since.");
        }

        var people = await context.People.AsNoTracking().ToDictionaryAsync(p => p.Id, p => p.Name, cancel);
        return View(
            await context
                .Edits.AsNoTracking()
                .Where(e => e.Kind == edit.Kind && e.RecordId == edit.RecordId)
                .OrderByDescending(e => e.Id)
                .FirstAsync(cancel),
            people
        );
    }

    private static object?[] Key(IEntityType type, string json)
    {
        using var text = JsonDocument.Parse(json);
        return
        [
            .. type.FindPrimaryKey()!
                .Properties.Select(p => text.RootElement.GetProperty(p.Name).Deserialize(p.ClrType, LedgerContext.LogJson)),
        ];
    }
}
