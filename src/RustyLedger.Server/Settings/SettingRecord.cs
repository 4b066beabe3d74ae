using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Settings;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Settings;

/// <summary>Owned by a board type: what a stored value means and may be.</summary>
public sealed class SettingRecord : OwnedBy<BoardType, SettingDefinition>
{
    public required string Code { get; set; }
    public required string Name { get; set; }
    public SettingKind Kind { get; set; }
    public required string Unit { get; set; }
    public decimal? Min { get; set; }
    public decimal? Max { get; set; }
    public required IReadOnlyList<string> Choices { get; set; }
    public required string Default { get; set; }
    public required string Firmware { get; set; }
}

internal sealed class SettingTables : IEntityTypeConfiguration<SettingRecord>
{
    public void Configure(EntityTypeBuilder<SettingRecord> builder) =>
        builder.HasOne<BoardTypeRecord>().WithMany().HasForeignKey(s => s.OwnerId);
}
