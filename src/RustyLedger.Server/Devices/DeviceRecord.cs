using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace RustyLedger.Server.Devices;

/// <summary>A device that was let in. It holds the key; here stands only what tells whether a key is it.</summary>
public sealed class DeviceRecord
{
    public required string Id { get; set; }

    /// <summary>As somebody called it, such as <c>Bram's phone</c>.</summary>
    public required string Name { get; set; }

    /// <summary>SHA-256 of its key, in hex. A key of 256 random bits needs no salt.</summary>
    public required string KeyHash { get; set; }
    public DateTimeOffset LetInAt { get; set; }
    public DateTimeOffset LastSeen { get; set; }

    /// <summary>Null while it may come in.</summary>
    public DateTimeOffset? LockedOutAt { get; set; }
}

internal sealed class DeviceTables : IEntityTypeConfiguration<DeviceRecord>
{
    public void Configure(EntityTypeBuilder<DeviceRecord> builder)
    {
        builder.ToTable("Devices");
        builder.HasIndex(d => d.KeyHash).IsUnique();
    }
}
