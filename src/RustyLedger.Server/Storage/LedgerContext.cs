using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Server.Storage;

/// <summary>The book itself. Every change to an editable record is versioned and logged on the way in.</summary>
public sealed class LedgerContext : DbContext
{
    private readonly Actor _actor;
    private readonly TimeProvider _clock;
    private readonly HashSet<string> _touched = [];

    public LedgerContext(DbContextOptions<LedgerContext> options, Actor actor, TimeProvider clock)
        : base(options)
    {
        (_actor, _clock) = (actor, clock);
        // Saving looks for changes once; looking at every step makes a large import quadratic.
        ChangeTracker.AutoDetectChangesEnabled = false;
    }

    public DbSet<BoardTypeRecord> BoardTypes => Set<BoardTypeRecord>();
    public DbSet<ElementRecord> Elements => Set<ElementRecord>();
    public DbSet<FacingRecord> Facings => Set<FacingRecord>();
    public DbSet<BoardNoteRecord> BoardNotes => Set<BoardNoteRecord>();
    public DbSet<PinRecord> Pins => Set<PinRecord>();
    public DbSet<LinkRecord> Links => Set<LinkRecord>();
    public DbSet<CheckRecord> Checks => Set<CheckRecord>();
    public DbSet<ModelRecord> Models => Set<ModelRecord>();
    public DbSet<PositionRecord> Positions => Set<PositionRecord>();
    public DbSet<PartRecord> Parts => Set<PartRecord>();
    public DbSet<StateRecord> States => Set<StateRecord>();
    public DbSet<MachineRecord> Machines => Set<MachineRecord>();
    public DbSet<FittedBoardRecord> FittedBoards => Set<FittedBoardRecord>();
    public DbSet<OverrideRecord> Overrides => Set<OverrideRecord>();
    public DbSet<PersonRecord> People => Set<PersonRecord>();
    public DbSet<VisitRecord> Visits => Set<VisitRecord>();
    public DbSet<RoundRecord> Rounds => Set<RoundRecord>();
    public DbSet<FaultRecord> Faults => Set<FaultRecord>();
    public DbSet<ReadingRecord> Readings => Set<ReadingRecord>();
    public DbSet<EditRecord> Edits => Set<EditRecord>();
    public DbSet<RegisterRecord> Register => Set<RegisterRecord>();
    public DbSet<SettingRecord> Settings => Set<SettingRecord>();
    public DbSet<SnapshotRecord> Snapshots => Set<SnapshotRecord>();
    public DbSet<SettingValueRecord> SettingValues => Set<SettingValueRecord>();
    public DbSet<PhotographRecord> Photographs => Set<PhotographRecord>();
    public DbSet<PlaceRecord> Places => Set<PlaceRecord>();
    public DbSet<NoteRecord> Notes => Set<NoteRecord>();
    public DbSet<CauseRecord> Causes => Set<CauseRecord>();
    public DbSet<SupportCallRecord> SupportCalls => Set<SupportCallRecord>();
    public DbSet<ModelSheetRecord> ModelSheets => Set<ModelSheetRecord>();
    public DbSet<SkippedStepRecord> SkippedSteps => Set<SkippedStepRecord>();
    public DbSet<ObservationRecord> Observations => Set<ObservationRecord>();
    public DbSet<OutsideAnswerRecord> OutsideAnswers => Set<OutsideAnswerRecord>();
    public DbSet<SafetyEventRecord> SafetyEvents => Set<SafetyEventRecord>();
    public DbSet<TemporaryLinkRecord> TemporaryLinks => Set<TemporaryLinkRecord>();
    public DbSet<LifeSafetyNoticeRecord> LifeSafetyNotices => Set<LifeSafetyNoticeRecord>();
    public DbSet<VersionsRecord> Versions => Set<VersionsRecord>();
    public DbSet<ShopRecord> Shop => Set<ShopRecord>();

    /// <summary>Readings that were taken and not taken back.</summary>
    public IQueryable<ReadingRecord> StandingReadings =>
        Readings.Where(r => r.Kind == EntryKind.Taken && !Readings.Any(t => t.RoundId == r.RoundId && t.Target == r.Id));

    /// <summary>Boards that are in a machine now.</summary>
    public IQueryable<FittedBoardRecord> BoardsFittedNow => FittedBoards.Where(b => b.To == null && b.RetiredAt == null);

    public override async Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        ChangeTracker.DetectChanges();
        if (
            ChangeTracker
                .Entries()
                .FirstOrDefault(e =>
                    e.Entity is ReadingRecord or EditRecord or SafetyEventRecord or OutsideAnswerRecord
                    && e.State is EntityState.Modified or EntityState.Deleted
                ) is
            { } broken
        )
        {
            throw new InvalidOperationException($"A {broken.Metadata.ClrType.Name} is written once and never changed.");
        }

        await StandingRules.Check(this, cancellationToken);
        var changed = ChangeTracker
            .Entries<Editable>()
            .Where(e => e.State is EntityState.Added or EntityState.Modified or EntityState.Deleted)
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
                entry.Property(e => e.Version).CurrentValue++;
            }

            Edits.Add(
                new EditRecord
                {
                    Kind = entry.Metadata.ClrType.Name.Replace("Record", "", StringComparison.Ordinal),
                    RecordId = KeyOf(entry.Entity),
                    PersonId = _actor.PersonId,
                    At = _clock.GetUtcNow(),
                    Before = entry.State == EntityState.Added ? null : Json(entry.OriginalValues),
                    After = Json(entry.CurrentValues),
                }
            );
        }

        var records = changed.ConvertAll(e => e.Entity);
        if (!records.Exists(RegisterLines.Tells))
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
    public IReadOnlyCollection<string> TakeTouched()
    {
        List<string> touched = [.. _touched];
        _touched.Clear();
        return touched;
    }

    /// <summary>The id under which a record stands in the edit log.</summary>
    public static string KeyOf(Editable record) =>
        record is Owned owned
            ? record is PinRecord pin
                ? $"{owned.OwnerId}/{pin.GroupId}/{pin.Id}"
                : $"{owned.OwnerId}/{owned.Id}"
            : record.Id;

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        ArgumentNullException.ThrowIfNull(configurationBuilder);
        SqliteBook.Columns(configurationBuilder);
        configurationBuilder.Properties<Enum>().HaveConversion<string>();
    }

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        foreach (var type in modelBuilder.Model.GetEntityTypes().ToList())
        {
            var entity = modelBuilder.Entity(type.ClrType);
            if (typeof(Owned).IsAssignableFrom(type.ClrType))
            {
                entity.HasKey(
                    type.ClrType == typeof(PinRecord)
                        ? [nameof(Owned.OwnerId), nameof(PinRecord.GroupId), nameof(Editable.Id)]
                        : [nameof(Owned.OwnerId), nameof(Editable.Id)]
                );
            }

            if (typeof(Editable).IsAssignableFrom(type.ClrType))
            {
                entity.Property(nameof(Editable.Version)).IsConcurrencyToken();
            }
        }

        modelBuilder.Entity<MachineRecord>(e =>
        {
            e.HasIndex(m => m.Tag).IsUnique();
            e.HasOne<ModelRecord>().WithMany().HasForeignKey(m => m.ModelId);
        });
        modelBuilder.Entity<LinkRecord>(e =>
        {
            e.HasIndex(l => new { l.FromHolder, l.FromPin });
            e.HasIndex(l => new { l.ToHolder, l.ToPin });
        });
        modelBuilder.Entity<PositionRecord>().HasOne<BoardTypeRecord>().WithMany().HasForeignKey(p => p.BoardTypeId);
        modelBuilder.Entity<ElementRecord>().HasOne<BoardTypeRecord>().WithMany().HasForeignKey(e => e.OwnerId);
        modelBuilder.Entity<FittedBoardRecord>(e =>
        {
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(b => b.OwnerId);
            e.HasOne<BoardTypeRecord>().WithMany().HasForeignKey(b => b.BoardTypeId);
        });
        modelBuilder.Entity<VisitRecord>(e =>
        {
            e.HasIndex(v => new { v.MachineId, v.OpenedAt });
            e.HasIndex(v => v.EndedAt);
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(v => v.MachineId);
            e.HasOne<PersonRecord>().WithMany().HasForeignKey(v => v.PersonId);
        });
        modelBuilder.Entity<RoundRecord>().HasOne<VisitRecord>().WithMany().HasForeignKey(r => r.VisitId);
        modelBuilder.Entity<FaultRecord>(e =>
        {
            e.HasIndex(f => new { f.MachineId, f.OpenedAt });
            e.HasIndex(f => f.ClosedAt);
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(f => f.MachineId);
        });
        modelBuilder.Entity<ReadingRecord>(e =>
        {
            e.HasIndex(r => new { r.RoundId, r.Order });
            e.HasIndex(r => new { r.RedHolder, r.RedPin });
            e.HasIndex(r => r.Target);
            e.HasOne<RoundRecord>().WithMany().HasForeignKey(r => r.RoundId);
            e.HasOne<PersonRecord>().WithMany().HasForeignKey(r => r.PersonId);
        });
        modelBuilder.Entity<RegisterRecord>(e =>
        {
            e.HasKey(r => r.MachineId);
            e.HasOne<MachineRecord>().WithOne().HasForeignKey<RegisterRecord>(r => r.MachineId);
        });
        modelBuilder.Entity<SupportCallRecord>().HasOne<VisitRecord>().WithMany().HasForeignKey(c => c.VisitId);
        modelBuilder.Entity<SettingRecord>().HasOne<BoardTypeRecord>().WithMany().HasForeignKey(s => s.OwnerId);
        modelBuilder.Entity<SnapshotRecord>(e =>
        {
            e.HasIndex(s => new { s.MachineId, s.TakenAt });
            e.HasOne<FittedBoardRecord>().WithMany().HasForeignKey(s => new { s.MachineId, s.FittedBoardId });
            e.HasOne<PersonRecord>().WithMany().HasForeignKey(s => s.PersonId);
        });
        modelBuilder.Entity<SettingValueRecord>().HasOne<SnapshotRecord>().WithMany().HasForeignKey(v => v.OwnerId);
        modelBuilder.Entity<PhotographRecord>(e =>
        {
            e.HasIndex(p => new { p.MachineId, p.TakenAt });
            e.HasIndex(p => p.Hash);
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(p => p.MachineId);
        });
        modelBuilder.Entity<PlaceRecord>().HasOne<PhotographRecord>().WithMany().HasForeignKey(p => p.PhotographId);
        modelBuilder.Entity<NoteRecord>(e =>
        {
            e.HasIndex(n => new { n.MachineId, n.At });
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
        });
        modelBuilder.Entity<FacingRecord>().HasOne<VisitRecord>().WithMany().HasForeignKey(f => f.OwnerId);
        modelBuilder.Entity<BoardNoteRecord>(e =>
        {
            e.HasIndex(n => new { n.MachineId, n.PositionId });
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
        });
        modelBuilder.Entity<SkippedStepRecord>().HasOne<VisitRecord>().WithMany().HasForeignKey(s => s.OwnerId);
        modelBuilder.Entity<ModelSheetRecord>().HasOne<ModelRecord>().WithMany().HasForeignKey(s => s.OwnerId);
        modelBuilder.Entity<ObservationRecord>().HasOne<VisitRecord>().WithMany().HasForeignKey(o => o.VisitId);
        modelBuilder.Entity<OutsideAnswerRecord>(e =>
        {
            e.HasIndex(a => new { a.ModelId, a.CheckId });
            e.HasOne<VisitRecord>().WithMany().HasForeignKey(a => a.VisitId);
        });
        modelBuilder.Entity<SafetyEventRecord>(e =>
        {
            e.HasIndex(s => new { s.VisitId, s.Order });
            e.HasOne<VisitRecord>().WithMany().HasForeignKey(s => s.VisitId);
        });
        modelBuilder.Entity<TemporaryLinkRecord>(e =>
        {
            e.HasIndex(l => l.RemovedAt);
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(l => l.MachineId);
            e.HasOne<VisitRecord>().WithMany().HasForeignKey(l => l.VisitId);
        });
        modelBuilder.Entity<LifeSafetyNoticeRecord>(e =>
        {
            e.HasIndex(n => n.BackAt);
            e.HasOne<MachineRecord>().WithMany().HasForeignKey(n => n.MachineId);
            e.HasOne<VisitRecord>().WithMany().HasForeignKey(n => n.VisitId);
        });
        modelBuilder.Entity<EditRecord>().HasIndex(e => new { e.Kind, e.RecordId });
    }

    /// <summary>How a record stands in the edit log.</summary>
    public static JsonSerializerOptions LogJson { get; } =
        new()
        {
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        };

    private static string Json(PropertyValues values) =>
        JsonSerializer.Serialize(values.Properties.ToDictionary(p => p.Name, p => values[p]), LogJson);
}

/// <summary>The person a request is made by, where it says so.</summary>
public sealed class Actor
{
    public string? PersonId { get; set; }
}
