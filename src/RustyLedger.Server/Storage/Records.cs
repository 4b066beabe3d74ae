using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Server.Storage;

/// <summary>A record people may change: versioned, logged, retired rather than deleted.</summary>
public abstract class Editable
{
    public required string Id { get; set; }

    /// <summary>Rises by one with each change; a change must name the one it was made from.</summary>
    public int Version { get; set; } = 1;

    public DateTimeOffset? RetiredAt { get; set; }
}

/// <summary>An editable record that belongs to another; its id is its own only within the owner.</summary>
public abstract class Owned : Editable
{
    public required string OwnerId { get; set; }

    /// <summary>Place in the owner's list.</summary>
    public int Ordinal { get; set; }
}

public sealed class BoardTypeRecord : Editable
{
    public required string PartNumber { get; set; }
    public required string Revision { get; set; }
    public required string Name { get; set; }
    public decimal WidthMm { get; set; }
    public decimal HeightMm { get; set; }
    public decimal TolerancePercent { get; set; }
    public decimal ToleranceVolts { get; set; }
    public decimal ToleranceOhms { get; set; }
}

/// <summary>Owned by a board type.</summary>
public sealed class ElementRecord : Owned
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
}

/// <summary>Owned by a board type or a model; <see cref="GroupId"/> is the element or the off-board part it sits on.</summary>
public sealed class PinRecord : Owned
{
    public required string GroupId { get; set; }
    public int Index { get; set; }
    public required string Label { get; set; }
    public required string Colours { get; set; }
    public required string Signal { get; set; }
    public bool IsSource { get; set; }
}

/// <summary>Owned by a board type or a model.</summary>
public sealed class LinkRecord : Owned
{
    public required string FromHolder { get; set; }
    public required string FromPin { get; set; }
    public required string ToHolder { get; set; }
    public required string ToPin { get; set; }
    public bool Directed { get; set; }
}

/// <summary>Owned by a board type or a model.</summary>
public sealed class CheckRecord : Owned
{
    public CheckTarget Target { get; set; }
    public string? RedHolder { get; set; }
    public string? RedPin { get; set; }
    public string? BlackHolder { get; set; }
    public string? BlackPin { get; set; }
    public required string Part { get; set; }
    public MeterMode Mode { get; set; }
    public required string State { get; set; }
    public bool? Plugged { get; set; }
    public required string Limit { get; set; }
    public required string Remark { get; set; }
}

public sealed class ModelRecord : Editable
{
    public required string Maker { get; set; }
    public required string Name { get; set; }
}

/// <summary>Owned by a model.</summary>
public sealed class PositionRecord : Owned
{
    public required string Prefix { get; set; }
    public required string Name { get; set; }
    public required string BoardTypeId { get; set; }
}

/// <summary>Owned by a model.</summary>
public sealed class PartRecord : Owned
{
    public PartKind Kind { get; set; }
    public required string Designator { get; set; }
    public required string Name { get; set; }
}

/// <summary>Owned by a model; the id is the state's code.</summary>
public sealed class StateRecord : Owned
{
    public required string Name { get; set; }
    public bool Energised { get; set; }
}

public sealed class MachineRecord : Editable
{
    public required string Tag { get; set; }
    public required string Name { get; set; }
    public required string ModelId { get; set; }
    public required string Serial { get; set; }
    public required string Built { get; set; }
    public required string Supply { get; set; }
    public required string Site { get; set; }

    /// <summary>All that the find box looks at, normalised.</summary>
    public required string Find { get; set; }
}

/// <summary>Owned by a machine.</summary>
public sealed class FittedBoardRecord : Owned
{
    public required string PositionId { get; set; }
    public required string BoardTypeId { get; set; }
    public required string Serial { get; set; }
    public required string Firmware { get; set; }
    public DateOnly? From { get; set; }
    public DateOnly? To { get; set; }
}

/// <summary>Owned by a machine.</summary>
public sealed class OverrideRecord : Owned
{
    public string? Holder { get; set; }
    public string? Pin { get; set; }
    public string? CheckKey { get; set; }
    public string? Colours { get; set; }
    public string? Signal { get; set; }
    public string? Limit { get; set; }

    /// <summary>The limit is a word under a word check, which may look like any other limit.</summary>
    public bool LimitIsWord { get; set; }
    public required string Reason { get; set; }
}

public sealed class PersonRecord : Editable
{
    public required string Name { get; set; }
}

/// <summary>How a visit may end; all of them honest.</summary>
public enum Ending
{
    Signed,
    WaitingForPart,
    NoFaultFound,
    TemporaryRepair,
    LeftSafe,
}

public sealed class VisitRecord : Editable
{
    public required string MachineId { get; set; }
    public required string Complaint { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset OpenedAt { get; set; }
    public DateTimeOffset? EndedAt { get; set; }
    public Ending? Ending { get; set; }
    public required string EndingNote { get; set; }
}

public sealed class RoundRecord : Editable
{
    public required string VisitId { get; set; }
    public DateTimeOffset StartedAt { get; set; }
}

public enum FaultCause
{
    Part,
    ContactOrWire,
    Supply,
    Setting,
    Mechanical,
    Dirt,
    Water,
    Surge,
    WrongEarlierRepair,
    NoneFound,
}

public sealed class FaultRecord : Editable
{
    public required string MachineId { get; set; }
    public string? VisitId { get; set; }
    public string? RoundId { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset OpenedAt { get; set; }
    public required string Noticed { get; set; }

    /// <summary>Where the readings put it, in words, as it stood when written up.</summary>
    public required string Found { get; set; }

    /// <summary>The readings it rests on, a line each.</summary>
    public required string Evidence { get; set; }
    public FaultCause? Cause { get; set; }
    public required string Proof { get; set; }
    public required string Done { get; set; }
    public DateTimeOffset? ClosedAt { get; set; }
}

/// <summary>A line of a round. Written once, never changed.</summary>
public sealed class ReadingRecord
{
    public required string Id { get; set; }
    public required string RoundId { get; set; }
    public long Order { get; set; }
    public EntryKind Kind { get; set; }
    public string? CheckKey { get; set; }
    public string? RedHolder { get; set; }
    public string? RedPin { get; set; }
    public string? BlackHolder { get; set; }
    public string? BlackPin { get; set; }

    /// <summary>The names as they were printed then.</summary>
    public required string RedPrinted { get; set; }
    public required string BlackPrinted { get; set; }
    public MeterMode Mode { get; set; }
    public required string State { get; set; }
    public bool? Plugged { get; set; }
    public string? Limit { get; set; }
    public decimal TolerancePercent { get; set; }
    public decimal ToleranceVolts { get; set; }
    public decimal ToleranceOhms { get; set; }
    public required string Typed { get; set; }

    /// <summary>Which of several readings in the typed text, from 0.</summary>
    public int Choice { get; set; }

    /// <summary>The value as understood when it came in.</summary>
    public string? Value { get; set; }
    public string? Supersedes { get; set; }
    public string? Target { get; set; }
    public required string Reason { get; set; }
    public DateTimeOffset DeviceTime { get; set; }
    public DateTimeOffset ServerTime { get; set; }
    public required string PersonId { get; set; }
    public required string Meter { get; set; }
}

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
