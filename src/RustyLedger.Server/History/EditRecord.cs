using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace RustyLedger.Server.History;

/// <summary>Who changed what when. Written once, never changed.</summary>
public sealed class EditRecord
{
    public long Id { get; set; }
    public required string Kind { get; set; }
    public required string RecordId { get; set; }
    public string? PersonId { get; set; }
    public DateTimeOffset At { get; set; }
    public string? Before { get; set; }
    public required string After { get; set; }
}

internal sealed class EditTable : IEntityTypeConfiguration<EditRecord>
{
    public void Configure(EntityTypeBuilder<EditRecord> builder) => builder.HasIndex(e => new { e.Kind, e.RecordId });
}
