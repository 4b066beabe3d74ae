using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Server.Machines;

/// <summary>A machine with all that belongs to it, out and in as JSON. Described in docs/formats.md.</summary>
public sealed record MachineFile(
    string Format,
    int Version,
    IReadOnlyList<Person> People,
    IReadOnlyList<Cause> Causes,
    IReadOnlyList<BoardType> BoardTypes,
    IReadOnlyList<FileSetting> Settings,
    Model Model,
    Machine Machine,
    IReadOnlyList<FileVisit> Visits,
    IReadOnlyList<Fault> Faults,
    IReadOnlyList<FileSnapshot> Snapshots,
    IReadOnlyList<FilePhotograph> Photographs,
    IReadOnlyList<Note> Notes
)
{
    public IReadOnlyList<BoardNote> BoardNotes { get; init; } = [];
    public IReadOnlyList<NamedPlace> NamedPlaces { get; init; } = [];

    public const string FormatName = "rusty-ledger/machine";
    public const int CurrentVersion = 1;

    /// <summary>With its pictures in it, a file may be far larger than any other request.</summary>
    public const long MostBytes = 512L * 1024 * 1024;

    public static JsonSerializerOptions Json { get; } =
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            AllowOutOfOrderMetadataProperties = true,
            RespectNullableAnnotations = true,
            RespectRequiredConstructorParameters = true,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            NumberHandling = JsonNumberHandling.Strict,
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            TypeInfoResolver = new DefaultJsonTypeInfoResolver
            {
                Modifiers = { OfTheBookStaysOut, NullMayBeLeftOut, WorkedOutStaysOut, EmptyDetailStaysOut },
            },
            Converters =
            {
                new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false),
                new LimitConverter(),
                new ColoursConverter(),
            },
        };

    /// <summary>The same, a record to a line.</summary>
    public static JsonSerializerOptions OneLine { get; } = new(Json) { WriteIndented = false };

    /// <summary>What a file says by where a thing stands in it, or has no need to say.</summary>
    private static void OfTheBookStaysOut(JsonTypeInfo type)
    {
        foreach (
            var member in type.Properties.Where(p => p.AttributeProvider?.IsDefined(typeof(OfTheBookAttribute), true) == true).ToList()
        )
        {
            type.Properties.Remove(member);
        }
    }

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

        if (type.Type == typeof(Machine))
        {
            type.Properties.Single(p => p.Name.Equals(nameof(Machine.Checks), StringComparison.OrdinalIgnoreCase)).ShouldSerialize = (
                _,
                checks
            ) => checks is IReadOnlyCollection<Check> { Count: > 0 };
        }

        if (type.Type == typeof(FilePhotograph))
        {
            type.Properties.Single(p => p.Name.Equals(nameof(FilePhotograph.IsGone), StringComparison.OrdinalIgnoreCase)).ShouldSerialize =
                (_, isGone) => isGone is true;
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
}

public sealed record FileVisit : Visit
{
    public FileVisit() { }

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    public FileVisit(Visit visit)
        : base(visit) { }

    public IReadOnlyList<SupportCall> Calls { get; init; } = [];
    public IReadOnlyList<FileRound> Rounds { get; init; } = [];
    public IReadOnlyList<Observation> Observations { get; init; } = [];
    public IReadOnlyList<OutsideReply> OutsideAnswers { get; init; } = [];
    public IReadOnlyList<SafetyAct> SafetyEvents { get; init; } = [];
    public IReadOnlyList<TemporaryLink> TemporaryLinks { get; init; } = [];
    public IReadOnlyList<Notice> Notices { get; init; } = [];
    public IReadOnlyList<SkippedStep> SkippedSteps { get; init; } = [];
    public IReadOnlyList<VisitFacing> Facings { get; init; } = [];
}

public sealed record FileRound : Round
{
    public FileRound() { }

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    public FileRound(Round round)
        : base(round) { }

    public IReadOnlyList<Reading> Readings { get; init; } = [];
}

/// <summary>A setting that a board type defines.</summary>
public sealed record FileSetting(BoardTypeId BoardTypeId, SettingDefinition Definition);

public sealed record FileSnapshot : Snapshot
{
    public FileSnapshot() { }

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    public FileSnapshot(Snapshot snapshot)
        : base(snapshot) { }

    public IReadOnlyList<SettingValue> Values { get; init; } = [];
}

public sealed record FilePhotograph : Photograph
{
    public FilePhotograph() { }

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    public FilePhotograph(Photograph photograph)
        : base(photograph) { }

    /// <summary>The picture, in base 64; null where it was left out and must be in the ledger already.</summary>
    public byte[]? Data { get; init; }

    /// <summary>The file of the picture was gone or damaged where this was written; what was said of it is all there is.</summary>
    public bool IsGone { get; init; }

    public IReadOnlyList<Place> Places { get; init; } = [];
}
