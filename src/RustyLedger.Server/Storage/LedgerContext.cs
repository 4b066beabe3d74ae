using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.History;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Devices;
using RustyLedger.Server.History;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Settings;

namespace RustyLedger.Server.Storage;

/// <summary>The book itself. Every change to an editable record is versioned and logged on the way in.</summary>
public sealed class LedgerContext : DbContext
{
    private readonly Actor _actor;
    private readonly TimeProvider _clock;
    private readonly HashSet<MachineId> _touched = [];
    private readonly HashSet<string> _rewired = [];

    public LedgerContext(DbContextOptions<LedgerContext> options, Actor actor, TimeProvider clock)
        : base(options)
    {
        (_actor, _clock) = (actor, clock);
        // Saving looks for changes once; looking at every step makes a large import quadratic.
        ChangeTracker.AutoDetectChangesEnabled = false;
    }

    public DbSet<BoardTypeRecord> BoardTypes => Set<BoardTypeRecord>();
    public DbSet<ElementRecord> Elements => Set<ElementRecord>();
    public DbSet<PinRecord> Pins => Set<PinRecord>();
    public DbSet<LinkRecord> Links => Set<LinkRecord>();
    public DbSet<CheckRecord> Checks => Set<CheckRecord>();
    public DbSet<ModelRecord> Models => Set<ModelRecord>();
    public DbSet<ModelSheetRecord> ModelSheets => Set<ModelSheetRecord>();
    public DbSet<PositionRecord> Positions => Set<PositionRecord>();
    public DbSet<PartRecord> Parts => Set<PartRecord>();
    public DbSet<StateRecord> States => Set<StateRecord>();
    public DbSet<MachineRecord> Machines => Set<MachineRecord>();
    public DbSet<FittedBoardRecord> FittedBoards => Set<FittedBoardRecord>();
    public DbSet<OverrideRecord> Overrides => Set<OverrideRecord>();
    public DbSet<SettingRecord> Settings => Set<SettingRecord>();
    public DbSet<Person> People => Set<Person>();
    public DbSet<Cause> Causes => Set<Cause>();
    public DbSet<Visit> Visits => Set<Visit>();
    public DbSet<SupportCall> SupportCalls => Set<SupportCall>();
    public DbSet<SkippedStep> SkippedSteps => Set<SkippedStep>();
    public DbSet<Observation> Observations => Set<Observation>();
    public DbSet<OutsideReply> OutsideReplies => Set<OutsideReply>();
    public DbSet<SafetyAct> SafetyActs => Set<SafetyAct>();
    public DbSet<TemporaryLink> TemporaryLinks => Set<TemporaryLink>();
    public DbSet<Notice> Notices => Set<Notice>();
    public DbSet<Round> Rounds => Set<Round>();
    public DbSet<Reading> Readings => Set<Reading>();
    public DbSet<NamedPlace> NamedPlaces => Set<NamedPlace>();
    public DbSet<Fault> Faults => Set<Fault>();
    public DbSet<Note> Notes => Set<Note>();
    public DbSet<Snapshot> Snapshots => Set<Snapshot>();
    public DbSet<StoredValue> StoredValues => Set<StoredValue>();
    public DbSet<Photograph> Photographs => Set<Photograph>();
    public DbSet<Place> Places => Set<Place>();
    public DbSet<BoardNote> BoardNotes => Set<BoardNote>();
    public DbSet<VisitFacing> Facings => Set<VisitFacing>();
    public DbSet<SentRecord> Sent => Set<SentRecord>();
    public DbSet<DeviceRecord> Devices => Set<DeviceRecord>();
    public DbSet<ShopRecord> Shop => Set<ShopRecord>();
    public DbSet<RegisterRecord> Register => Set<RegisterRecord>();
    public DbSet<VersionsRecord> Versions => Set<VersionsRecord>();
    public DbSet<EditRecord> Edits => Set<EditRecord>();

    /// <summary>Readings that were taken and not taken back.</summary>
    public IQueryable<Reading> StandingReadings =>
        Readings.Where(r => r.Kind == EntryKind.Taken && !Readings.Any(t => t.RoundId == r.RoundId && t.Target == r.Id));

    /// <summary>The visits of a machine, by their ids: what belongs to them is found by its index.</summary>
    public IQueryable<VisitId> VisitsOf(MachineId machine) => Visits.Where(v => v.MachineId == machine).Select(v => v.Id);

    /// <summary>The rounds of a machine, by their ids.</summary>
    public IQueryable<RoundId> RoundsOf(MachineId machine) => Rounds.Where(r => VisitsOf(machine).Contains(r.VisitId)).Select(r => r.Id);

    /// <summary>Boards that are in a machine now.</summary>
    public IQueryable<FittedBoardRecord> BoardsFittedNow => FittedBoards.Where(b => b.To == null && b.RetiredAt == null);

    /// <summary>
    /// Puts a thing, as Core made it, in the place of the one that is here; adds it where there is none. Things are never changed in
    /// place.
    /// </summary>
    /// <exception cref="ProblemException">Core refused it.</exception>
    public void Put<T>(Outcome<T> outcome)
        where T : class => Put(outcome.OrRefuse());

    /// <inheritdoc cref="Put{T}(Outcome{T})"/>
    public void Put<T>(T thing)
        where T : class
    {
        ArgumentNullException.ThrowIfNull(thing);
        var key = Model.FindEntityType(typeof(T))!.FindPrimaryKey()!.Properties;
        object?[] values = [.. key.Select(p => p.PropertyInfo!.GetValue(thing))];
        var here = Set<T>().Local.FindEntry(key.Select(p => p.Name), values);
        if (here is null)
        {
            Add(thing);
            return;
        }

        here.CurrentValues.SetValues(thing);
    }

    /// <summary>From here until it is committed nobody else writes: what is read now is what is judged and written.</summary>
    public Task<Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction> WriteAlone(CancellationToken cancel) =>
        Database.BeginTransactionAsync(cancel);

    /// <summary>Retires what stands; what was retired stays as it was.</summary>
    public void Retire(IEditable thing)
    {
        ArgumentNullException.ThrowIfNull(thing);
        var entry = Entry((object)thing).Property(nameof(IEditable.RetiredAt));
        entry.CurrentValue ??= _clock.GetUtcNow();
    }

    public override async Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        ChangeTracker.DetectChanges();
        if (
            ChangeTracker
                .Entries()
                .FirstOrDefault(e =>
                    e.Entity is EditRecord or (IThing and not IEditable) && e.State is EntityState.Modified or EntityState.Deleted
                ) is
            { } broken
        )
        {
            throw new InvalidOperationException($"A {broken.Metadata.ClrType.Name} is written once and never changed.");
        }

        await StandingRules.Check(this, cancellationToken);
        var changed = ChangeTracker
            .Entries()
            .Where(e => e.Entity is IEditable && e.State is EntityState.Added or EntityState.Modified or EntityState.Deleted)
            .ToList();
        foreach (var entry in changed)
        {
            if (entry.State == EntityState.Deleted)
            {
                throw new InvalidOperationException("A record is retired, never deleted.");
            }

            if (entry.State == EntityState.Modified)
            {
                // Through the entry, since changes are looked for only once, above.
                var version = entry.Property(nameof(IEditable.Version));
                version.CurrentValue = (int)version.CurrentValue! + 1;
            }

            Edits.Add(
                new EditRecord
                {
                    Kind = KindOf(entry.Metadata),
                    RecordId = KeyOf(entry),
                    PersonId = _actor.PersonId,
                    At = _clock.GetUtcNow(),
                    Before = entry.State == EntityState.Added ? null : Json(entry.OriginalValues),
                    After = Json(entry.CurrentValues),
                }
            );
        }

        _rewired.UnionWith(changed.Select(e => ResolvedMachines.OwnerOf(e.Entity)).OfType<string>());
        var records = changed.Where(RegisterLines.Tells).Select(e => (IEditable)e.Entity).ToList();
        if (records.Count == 0)
        {
            return await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        }

        // The register's lines are worked out from what was just written, and stand or fall with it.
        await using var own = Database.CurrentTransaction is null ? await Database.BeginTransactionAsync(cancellationToken) : null;
        var written = await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        if (await RegisterLines.Refresh(this, records, cancellationToken) is { Count: > 0 } machines)
        {
            _touched.UnionWith(machines);
            ChangeTracker.DetectChanges();
            await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        }

        if (own is not null)
        {
            await own.CommitAsync(cancellationToken);
        }

        return written;
    }

    /// <summary>The machines whose lines in the register were written since this was last asked.</summary>
    public IReadOnlyCollection<MachineId> TakeTouched()
    {
        List<MachineId> touched = [.. _touched];
        _touched.Clear();
        return touched;
    }

    /// <summary>Lines of the register were only marked, and have to be gone through.</summary>
    public bool HasMarked { get; set; }

    /// <summary>These machines' lines were written.</summary>
    internal void Touch(IEnumerable<MachineId> machines) => _touched.UnionWith(machines);

    /// <summary>A book came in without passing through here row by row.</summary>
    internal void Touch(Book book)
    {
        _rewired.UnionWith(book.BoardTypes.Select(t => t.Id.Value));
        if (book.Model is { } model)
        {
            _rewired.Add(model.Id.Value);
        }

        if (book.Machine is { } file)
        {
            _rewired.Add(file.Machine.Id.Value);
            _touched.Add(file.Machine.Id);
        }
    }

    /// <summary>Board types, models and machines were written that no commit has told of yet.</summary>
    public bool HasWritten => _rewired.Count > 0;

    /// <summary>The board types, models and machines that were written since this was last asked.</summary>
    public IReadOnlyCollection<string> TakeRewired()
    {
        List<string> rewired = [.. _rewired];
        _rewired.Clear();
        return rewired;
    }

    /// <summary>What a kind of record is called in the edit log, such as <c>Fault</c> or <c>BoardType</c>.</summary>
    public static string KindOf(IReadOnlyEntityType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.ClrType.Name.Replace("Record", "", StringComparison.Ordinal);
    }

    /// <summary>The id under which a record stands in the edit log: its key, such as <c>cw-4471/j1/p3</c> for a pin.</summary>
    public static string KeyOf(EntityEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        return string.Join('/', entry.Metadata.FindPrimaryKey()!.Properties.Select(p => entry.Property(p.Name).CurrentValue));
    }

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        ArgumentNullException.ThrowIfNull(configurationBuilder);
        SqliteBook.Columns(configurationBuilder);
        configurationBuilder.Properties<Enum>().HaveConversion<string>();
        Columns.Describe(configurationBuilder);
    }

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        foreach (var kind in RecordKind.All)
        {
            kind.Map(modelBuilder);
        }

        modelBuilder.ApplyConfigurationsFromAssembly(typeof(LedgerContext).Assembly);
        foreach (var type in modelBuilder.Model.GetEntityTypes().ToList())
        {
            var entity = modelBuilder.Entity(type.ClrType);
            if (type.FindPrimaryKey() is null or { Properties: [{ Name: "Id" }] } && type.FindProperty("OwnerId") is not null)
            {
                entity.HasKey("OwnerId", "Id");
            }

            if (typeof(IEditable).IsAssignableFrom(type.ClrType))
            {
                entity.Property(nameof(IEditable.Version)).IsConcurrencyToken();
            }
        }
    }

    /// <summary>How a record stands in the edit log.</summary>
    public static JsonSerializerOptions LogJson { get; } =
        new()
        {
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase), new LimitConverter() },
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        };

    private static string Json(PropertyValues values) =>
        // By the type of the member, since what it holds may be one of several kinds.
        JsonSerializer.Serialize(
            values.Properties.ToDictionary(p => p.Name, p => JsonSerializer.SerializeToNode(values[p], p.ClrType, LogJson)),
            LogJson
        );
}

/// <summary>The person a request is made by, where it says so.</summary>
public sealed class Actor
{
    public string? PersonId { get; set; }
}
