using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.History;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>A machine with all that belongs to it, out and in as JSON. Described in docs/formats.md.</summary>
public sealed record MachineFile(
    string Format,
    int Version,
    IReadOnlyList<FilePerson> People,
    IReadOnlyList<CauseView> Causes,
    IReadOnlyList<BoardType> BoardTypes,
    IReadOnlyList<FileSetting> Settings,
    Model Model,
    Machine Machine,
    IReadOnlyList<FileVisit> Visits,
    IReadOnlyList<FileFault> Faults,
    IReadOnlyList<FileSnapshot> Snapshots,
    IReadOnlyList<FilePhotograph> Photographs,
    IReadOnlyList<FileNote> Notes
)
{
    public IReadOnlyList<FileBoardNote> BoardNotes { get; init; } = [];

    public const string FormatName = "rusty-ledger/machine";
    public const int CurrentVersion = 1;

    /// <summary>With its pictures in it, a file may be far larger than any other request.</summary>
    public const long MostBytes = 512L * 1024 * 1024;

    public static JsonSerializerOptions Json { get; } =
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            RespectNullableAnnotations = true,
            RespectRequiredConstructorParameters = true,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            NumberHandling = JsonNumberHandling.Strict,
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { NullMayBeLeftOut, WorkedOutStaysOut, EmptyDetailStaysOut } },
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase), new LimitConverter(), new ColoursConverter() },
        };

    /// <summary>The same, a record to a line.</summary>
    public static JsonSerializerOptions OneLine { get; } = new(Json) { WriteIndented = false };

    /// <summary>What follows from the other members is not written; a file that has it is read all the same.</summary>
    private static void WorkedOutStaysOut(JsonTypeInfo type)
    {
        foreach (var member in type.Properties.Where(IsWorkedOut))
        {
            member.ShouldSerialize = (_, _) => false;
        }
    }

    /// <summary>A board has many elements, and each tells only what its kind has.</summary>
    private static void EmptyDetailStaysOut(JsonTypeInfo type)
    {
        if (type.Type == typeof(Element))
        {
            type.Properties.Single(p => p.PropertyType == typeof(ElementDetail)).ShouldSerialize = (_, detail) =>
                !ElementDetail.None.Equals(detail);
        }

        if (type.Type == typeof(BoardType))
        {
            type.Properties.Single(p => p.Name.Equals(nameof(BoardType.IsSizeGuess), StringComparison.OrdinalIgnoreCase)).ShouldSerialize =
                (_, isGuess) => isGuess is true;
        }

        if (type.Type == typeof(ElementDetail))
        {
            foreach (var member in type.Properties)
            {
                var empty = member.Get!(ElementDetail.None);
                member.ShouldSerialize = (_, value) =>
                    value is not null && !value.Equals(empty) && value is not IReadOnlyList<ElementPosition> { Count: 0 };
            }
        }
    }

    public static bool IsWorkedOut(JsonPropertyInfo member)
    {
        ArgumentNullException.ThrowIfNull(member);
        return member.Set is null && member.AssociatedParameter is null;
    }

    private static void NullMayBeLeftOut(JsonTypeInfo type)
    {
        foreach (
            var member in type.Properties.Where(p =>
                p.AssociatedParameter is { IsNullable: true } || Nullable.GetUnderlyingType(p.PropertyType) is not null
            )
        )
        {
            member.IsRequired = false;
        }
    }

    /// <summary>A limit in its one notation; a word limit as <c>{ "word": "01" }</c>, since a word may look like anything.</summary>
    private sealed class LimitConverter : JsonConverter<Limit>
    {
        public override bool CanConvert(Type typeToConvert) => typeToConvert == typeof(Limit);

        public override Limit Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            try
            {
                if (reader.TokenType == JsonTokenType.String)
                {
                    return LimitNotation.ReadOne(reader.GetString()!).Limit;
                }

                using var word = JsonDocument.ParseValue(ref reader);
                return
                    word.RootElement.ValueKind == JsonValueKind.Object
                    && word.RootElement.TryGetProperty("word", out var text)
                    && text.GetString() is { } shown
                    ? new WordLimit(shown)
                    : throw new JsonException("a limit is a text such as \"24 V ±5 %\" or { \"word\": \"01\" }");
            }
            catch (NotationException refusal)
            {
                throw new JsonException(refusal.Message);
            }
        }

        public override void Write(Utf8JsonWriter writer, Limit value, JsonSerializerOptions options)
        {
            if (value is not WordLimit word)
            {
                writer.WriteStringValue(LimitNotation.Write(value));
                return;
            }

            writer.WriteStartObject();
            writer.WriteString("word", word.Word);
            writer.WriteEndObject();
        }
    }

    private sealed class ColoursConverter : JsonConverter<WireColours>
    {
        public override WireColours Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            try
            {
                return WireColours.Read(reader.GetString() ?? "");
            }
            catch (FormatException refusal)
            {
                throw new JsonException(refusal.Message);
            }
        }

        public override void Write(Utf8JsonWriter writer, WireColours value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.Code);
    }
}

public sealed record FilePerson(string Id, string Name);

public sealed record FileVisit(
    string Id,
    string Complaint,
    string PersonId,
    DateTimeOffset OpenedAt,
    DateTimeOffset? EndedAt,
    Ending? Ending,
    string EndingNote,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    int? TravelMinutes,
    int? LabourMinutes,
    string Agreed,
    DateTimeOffset? AgreedAt,
    Warranty Warranty,
    IReadOnlyList<FileCall> Calls,
    IReadOnlyList<FileRound> Rounds
)
{
    public IReadOnlyList<FileObservation> Observations { get; init; } = [];
    public IReadOnlyList<FileOutsideAnswer> OutsideAnswers { get; init; } = [];
    public IReadOnlyList<FileSafetyEvent> SafetyEvents { get; init; } = [];
    public IReadOnlyList<FileTemporaryLink> TemporaryLinks { get; init; } = [];
    public IReadOnlyList<FileNotice> Notices { get; init; } = [];
    public IReadOnlyList<FileSkippedStep> SkippedSteps { get; init; } = [];
    public IReadOnlyList<FileFacing> Facings { get; init; } = [];
}

public sealed record FileObservation(
    string Id,
    ObservationKind Kind,
    string Text,
    DateTimeOffset At,
    string PersonId,
    DateTimeOffset? DoneAt,
    string? PhotographId
);

/// <summary>How a board was faced in a visit.</summary>
public sealed record FileFacing(string PositionId, int Turns, BoardSide Side);

public sealed record FileOutsideAnswer(
    string Id,
    string CheckId,
    OutsideAnswer Answer,
    string Held,
    bool WasIt,
    double? Minutes,
    long Order,
    DateTimeOffset At,
    string PersonId
);

/// <param name="Typed">The reading as typed; empty unless something was read.</param>
public sealed record FileSafetyEvent(
    string Id,
    long Order,
    SafetyEventKind Kind,
    string Subject,
    string Typed,
    string Words,
    string? Target,
    DateTimeOffset DeviceTime,
    DateTimeOffset ServerTime,
    string PersonId
);

public sealed record FileTemporaryLink(
    string Id,
    TemporaryLinkKind Kind,
    PinAddress? From,
    PinAddress? To,
    string Where,
    string Why,
    bool Attended,
    DateTimeOffset? Until,
    DateTimeOffset PlacedAt,
    string PersonId,
    DateTimeOffset? RemovedAt,
    string? RemovedById,
    string? Across = null,
    BypassStanding Standing = BypassStanding.None
);

public sealed record FileNotice(
    string Id,
    string Told,
    string Watching,
    DateTimeOffset? Until,
    DateTimeOffset At,
    string PersonId,
    DateTimeOffset? BackAt
);

public sealed record FileSkippedStep(VisitStep Step, string Reason, string PersonId, DateTimeOffset At);

public sealed record FileCall(string Id, string PersonId, DateTimeOffset At, string CaseNumber, string Said);

public sealed record FileRound(string Id, DateTimeOffset StartedAt, IReadOnlyList<FileReading> Readings);

/// <summary>A line of a round; members as in <see cref="ReadingRecord"/>.</summary>
public sealed record FileReading(
    string Id,
    long Order,
    EntryKind Kind,
    string? CheckKey,
    string? RedHolder,
    string? RedPin,
    string? BlackHolder,
    string? BlackPin,
    string RedPrinted,
    string BlackPrinted,
    MeterMode Mode,
    string State,
    bool? Plugged,
    Limit? Limit,
    DefaultTolerance Tolerance,
    string Typed,
    int Choice,
    string? Supersedes,
    string? Target,
    string Reason,
    DateTimeOffset DeviceTime,
    DateTimeOffset ServerTime,
    string PersonId,
    string Meter,
    SafeCondition? Condition
);

public sealed record FileFault(
    string Id,
    string? VisitId,
    string? RoundId,
    string PersonId,
    DateTimeOffset OpenedAt,
    string Noticed,
    string Found,
    string Evidence,
    string? Cause,
    string Proof,
    string Done,
    IReadOnlyList<string> Parts,
    string Deviation,
    int? Minutes,
    Warranty Warranty,
    Held Held,
    string? PreviousId,
    DateTimeOffset? ClosedAt
);

/// <summary>A setting that a board type defines.</summary>
public sealed record FileSetting(string BoardTypeId, SettingDefinition Definition);

public sealed record FileSnapshot(
    string Id,
    string FittedBoardId,
    string? VisitId,
    SnapshotKind Kind,
    DateTimeOffset TakenAt,
    string PersonId,
    string Firmware,
    string Note,
    IReadOnlyList<SettingValue> Values
);

/// <param name="Hash">SHA-256 of the picture, in hex.</param>
/// <param name="Data">The picture, in base 64; null where it was left out and must be in the ledger already.</param>
public sealed record FilePhotograph(
    string Id,
    string? VisitId,
    string? PositionId,
    string? SnapshotId,
    PhotographKind Kind,
    string Caption,
    DateTimeOffset TakenAt,
    string PersonId,
    string Hash,
    string Format,
    int Width,
    int Height,
    byte[]? Data,
    IReadOnlyList<FilePlace> Places
)
{
    /// <summary>Points of the board marked on it.</summary>
    public IReadOnlyList<PicturePoint> Points { get; init; } = [];
}

public sealed record FilePlace(string Id, double X, double Y, int Number, string Name, string Note, string? PositionId, string? PinId);

/// <summary>Something pinned to a place of a board.</summary>
public sealed record FileBoardNote(
    string Id,
    string PositionId,
    string? VisitId,
    BoardNoteKind Kind,
    NotePlace Place,
    string Text,
    string Reason,
    string? PhotographId,
    DateTimeOffset At,
    string PersonId
);

public sealed record FileNote(string Id, string? VisitId, string Text, DateTimeOffset At, string PersonId);
