using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

public sealed class ModelRecord : Row
{
    public required ModelId Id { get; set; }
    public required string Maker { get; set; }
    public required string Name { get; set; }
}

/// <summary>
/// All variants of a model, all that can hurt at it, or all its outside checks. Each is read and edited as a whole, so it is kept as one
/// text, in the form of the machine file.
/// </summary>
public sealed class ModelSheetRecord : OwnedBy<Model, ModelSheetRecord>
{
    public const string Variants = "variants",
        Safety = "safety",
        Outside = "outside",
        Signatures = "signatures",
        RoundRules = "roundRules",
        Circuit = "circuit",
        Functions = "functions";

    public required string Body { get; set; }

    public T Read<T>() => JsonSerializer.Deserialize<T>(Body, MachineFile.OneLine)!;
}

public sealed class PositionRecord : OwnedBy<Model, Position>
{
    public required string Prefix { get; set; }
    public required string Name { get; set; }
    public required BoardTypeId BoardTypeId { get; set; }
}

public sealed class PartRecord : OwnedBy<Model, OffBoardPart>
{
    public PartKind Kind { get; set; }
    public required string Designator { get; set; }
    public required string Name { get; set; }
    public string Does { get; set; } = "";
}

/// <summary>The id is the state's code.</summary>
public sealed class StateRecord : OwnedBy<Model, OperatingState>
{
    public required string Name { get; set; }
    public bool Energised { get; set; }
}

public sealed class MachineRecord : Row
{
    public required MachineId Id { get; set; }
    public required string Tag { get; set; }
    public required string Name { get; set; }
    public required ModelId ModelId { get; set; }
    public required string Serial { get; set; }
    public required string Built { get; set; }
    public required string Supply { get; set; }
    public required string Site { get; set; }
    public required string Customer { get; set; }
    public string Finish { get; set; } = "";
}

public sealed class FittedBoardRecord : OwnedBy<Machine, FittedBoard>
{
    public required PositionId PositionId { get; set; }
    public required BoardTypeId BoardTypeId { get; set; }
    public required string Serial { get; set; }
    public required string Firmware { get; set; }
    public DateOnly? From { get; set; }
    public DateOnly? To { get; set; }
}

public sealed class OverrideRecord : OwnedBy<Machine, Override>
{
    public PinAddress? Address { get; set; }
    public CheckKey? CheckKey { get; set; }
    public string? Colours { get; set; }
    public string? Signal { get; set; }
    public string? Limit { get; set; }

    /// <summary>The limit is a word under a word check, which may look like any other limit.</summary>
    public bool LimitIsWord { get; set; }
    public required string Reason { get; set; }

    /// <summary>The reading that was accepted as right; null where it was written by hand.</summary>
    public ReadingId? ReadingId { get; set; }

    /// <summary>In the form that Core works with.</summary>
    public Override Said() =>
        new(
            Id.Value,
            Address,
            CheckKey,
            Colours is null ? null : WireColours.Read(Colours),
            Signal,
            Limit is null ? null : LimitNotation.ReadOne(Limit, LimitIsWord ? MeterMode.Word : null).Limit,
            Reason
        )
        {
            ReadingId = ReadingId,
        };
}

/// <summary>
/// A machine's line in the register, worked out anew whenever something it tells of changes: what the find box looks
/// at, what is sorted and filtered by.
/// </summary>
public sealed class RegisterRecord
{
    public required MachineId MachineId { get; set; }

    /// <summary>All that the find box looks at, as <see cref="FindText"/> makes it.</summary>
    public required string Text { get; set; }

    /// <summary>The text has signs that could not be read.</summary>
    public bool IsWorn { get; set; }

    /// <summary>The tag with its numbers filled up, so that LY-2 stands before LY-10.</summary>
    public required string SortTag { get; set; }
    public int OpenFaults { get; set; }
    public VisitId? OpenVisitId { get; set; }
    public bool WaitsForPart { get; set; }

    /// <summary>Left unsafe or with something temporary on it.</summary>
    public bool NeedsCare { get; set; }
    public DateTimeOffset? TouchedAt { get; set; }

    /// <summary>What it tells of has changed, and it follows in a moment.</summary>
    public bool IsStale { get; set; }
}

/// <summary>The versions in which the things of a board type, a model or a machine last went out of this ledger or came into it.</summary>
public sealed class VersionsRecord
{
    /// <summary>Such as <c>boardTypes/cw-4471</c>; everything below it is told of here.</summary>
    public required string Id { get; set; }

    /// <summary>Versions by key, as JSON.</summary>
    public required string Body { get; set; }

    public T Read<T>() => JsonSerializer.Deserialize<T>(Body, MachineFile.OneLine)!;
}

internal sealed class MachineTables
    : IEntityTypeConfiguration<MachineRecord>,
        IEntityTypeConfiguration<PositionRecord>,
        IEntityTypeConfiguration<ModelSheetRecord>,
        IEntityTypeConfiguration<FittedBoardRecord>,
        IEntityTypeConfiguration<RegisterRecord>
{
    public void Configure(EntityTypeBuilder<MachineRecord> builder)
    {
        builder.HasIndex(m => m.Tag).IsUnique();
        builder.HasOne<ModelRecord>().WithMany().HasForeignKey(m => m.ModelId);
    }

    public void Configure(EntityTypeBuilder<PositionRecord> builder) =>
        builder.HasOne<BoardTypeRecord>().WithMany().HasForeignKey(p => p.BoardTypeId);

    public void Configure(EntityTypeBuilder<ModelSheetRecord> builder) =>
        builder.HasOne<ModelRecord>().WithMany().HasForeignKey(s => s.OwnerId);

    public void Configure(EntityTypeBuilder<FittedBoardRecord> builder)
    {
        builder.HasOne<MachineRecord>().WithMany().HasForeignKey(b => b.OwnerId);
        builder.HasOne<BoardTypeRecord>().WithMany().HasForeignKey(b => b.BoardTypeId);
    }

    public void Configure(EntityTypeBuilder<RegisterRecord> builder)
    {
        builder.HasKey(r => r.MachineId);
        builder.HasIndex(r => r.IsStale);
        builder.HasOne<MachineRecord>().WithOne().HasForeignKey<RegisterRecord>(r => r.MachineId);
    }
}
