using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Boards;

public sealed class BoardTypeRecord : Row
{
    public required BoardTypeId Id { get; set; }
    public required string PartNumber { get; set; }
    public required string Revision { get; set; }
    public required string Name { get; set; }
    public decimal WidthMm { get; set; }
    public decimal HeightMm { get; set; }
    public bool IsSizeGuess { get; set; }
    public decimal TolerancePercent { get; set; }
    public decimal ToleranceVolts { get; set; }
    public decimal ToleranceOhms { get; set; }

    /// <summary>What the eye knows it by, as JSON.</summary>
    public string Marks { get; set; } = "[]";

    /// <summary>What it shows, blinks and beeps, as JSON.</summary>
    public string Codes { get; set; } = "[]";
}

public sealed class ElementRecord : OwnedBy<BoardType, Element>
{
    public ElementKind Kind { get; set; }
    public required string Designator { get; set; }
    public required string Purpose { get; set; }
    public decimal X { get; set; }
    public decimal Y { get; set; }
    public int Rows { get; set; }
    public decimal PitchMm { get; set; }
    public Direction Direction { get; set; }
    public Corner Pin1 { get; set; }
    public Numbering Numbering { get; set; }
    public required string Rating { get; set; }

    /// <summary>What things of its kind tell, as JSON.</summary>
    public string Detail { get; set; } = "{}";
}

/// <summary><see cref="GroupId"/> is the element or the off-board part it sits on.</summary>
public sealed class PinRecord : OwnedBy<Wired, Pin>
{
    public required string GroupId { get; set; }
    public int Index { get; set; }
    public required string Label { get; set; }
    public required string Colours { get; set; }
    public required string Signal { get; set; }
    public bool IsSource { get; set; }
}

public sealed class LinkRecord : OwnedBy<Wired, Link>
{
    public required PinAddress From { get; set; }
    public required PinAddress To { get; set; }
    public bool Directed { get; set; }
    public string Number { get; set; } = "";
}

public sealed class CheckRecord : OwnedBy<Wired, Check>
{
    public CheckTarget Target { get; set; }
    public PinAddress? Red { get; set; }
    public PinAddress? Black { get; set; }
    public required string Part { get; set; }
    public MeterMode Mode { get; set; }
    public required string State { get; set; }
    public bool? Plugged { get; set; }
    public required string Limit { get; set; }
    public required string Remark { get; set; }
    public int? Line { get; set; }
}

internal sealed class BoardTables
    : IEntityTypeConfiguration<ElementRecord>,
        IEntityTypeConfiguration<PinRecord>,
        IEntityTypeConfiguration<LinkRecord>
{
    public void Configure(EntityTypeBuilder<ElementRecord> builder) =>
        builder.HasOne<BoardTypeRecord>().WithMany().HasForeignKey(e => e.OwnerId);

    public void Configure(EntityTypeBuilder<PinRecord> builder) =>
        builder.HasKey(p => new
        {
            p.OwnerId,
            p.GroupId,
            p.Id,
        });

    public void Configure(EntityTypeBuilder<LinkRecord> builder)
    {
        builder.HasIndex(l => l.From);
        builder.HasIndex(l => l.To);
    }
}
