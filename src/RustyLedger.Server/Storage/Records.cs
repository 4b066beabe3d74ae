using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Settings;
using RustyLedger.Core.Visits;
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
    public bool IsSizeGuess { get; set; }
    public decimal TolerancePercent { get; set; }
    public decimal ToleranceVolts { get; set; }
    public decimal ToleranceOhms { get; set; }

    /// <summary>What the eye knows it by, as JSON.</summary>
    public string Marks { get; set; } = "[]";

    /// <summary>What it shows, blinks and beeps, as JSON.</summary>
    public string Codes { get; set; } = "[]";
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

    /// <summary>What things of its kind tell, as JSON.</summary>
    public string Detail { get; set; } = "{}";
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

/// <summary>
/// Owned by a model: all its variants, all that can hurt at it, or all its outside checks. Each is read and edited as a whole, so
/// it is kept as one text, in the form of the machine file.
/// </summary>
public sealed class ModelSheetRecord : Owned
{
    public const string Variants = "variants",
        Safety = "safety",
        Outside = "outside";

    public required string Body { get; set; }
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
    public required string Customer { get; set; }
    public string Finish { get; set; } = "";
}

/// <summary>
/// A machine's line in the register, worked out anew whenever something it tells of changes: what the find box looks
/// at, what is sorted and filtered by.
/// </summary>
public sealed class RegisterRecord
{
    public required string MachineId { get; set; }

    /// <summary>All that the find box looks at, as <see cref="FindText"/> makes it.</summary>
    public required string Text { get; set; }

    /// <summary>The text has signs that could not be read.</summary>
    public bool IsWorn { get; set; }

    /// <summary>The tag with its numbers filled up, so that LY-2 stands before LY-10.</summary>
    public required string SortTag { get; set; }
    public int OpenFaults { get; set; }
    public string? OpenVisitId { get; set; }
    public bool WaitsForPart { get; set; }

    /// <summary>Left unsafe or with something temporary on it.</summary>
    public bool NeedsCare { get; set; }
    public DateTimeOffset? TouchedAt { get; set; }
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

public enum Warranty
{
    NotAsked,
    Yes,
    No,
}

public sealed class VisitRecord : Editable
{
    public required string MachineId { get; set; }
    public required string Complaint { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset OpenedAt { get; set; }
    public DateTimeOffset? EndedAt { get; set; }
    public Ending? Ending { get; set; }
    public string EndingNote { get; set; } = "";

    /// <summary>What was left unplugged or temporary, a line each.</summary>
    public string Left { get; set; } = "";

    /// <summary>What the next visit has to bring, a line each.</summary>
    public string Bring { get; set; } = "";
    public int? TravelMinutes { get; set; }
    public int? LabourMinutes { get; set; }

    /// <summary>What the customer agreed to spend.</summary>
    public string Agreed { get; set; } = "";
    public DateTimeOffset? AgreedAt { get; set; }
    public Warranty Warranty { get; set; }
}

/// <summary>A call to the maker's support.</summary>
public sealed class SupportCallRecord : Editable
{
    public required string VisitId { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string CaseNumber { get; set; }
    public required string Said { get; set; }
}

/// <summary>Owned by a visit: why a step of it was skipped; the id is the step's name.</summary>
public sealed class SkippedStepRecord : Owned
{
    public required string Reason { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset At { get; set; }
}

public enum ObservationKind
{
    Code,
    Hours,
    Counter,
    Lamp,
    Works,
    WorksNot,

    /// <summary>A cover taken off; done when it is back.</summary>
    CoverOff,

    /// <summary>A plug pulled; done when it is in again.</summary>
    Unplugged,

    /// <summary>The boards were looked over, whatever was found.</summary>
    LookedOver,
}

/// <summary>A line on what a machine shows or does, or on what was opened on the way.</summary>
public sealed class ObservationRecord : Editable
{
    public required string VisitId { get; set; }
    public ObservationKind Kind { get; set; }
    public required string Text { get; set; }
    public DateTimeOffset At { get; set; }
    public required string PersonId { get; set; }

    /// <summary>When a cover was back or a plug in again.</summary>
    public DateTimeOffset? DoneAt { get; set; }

    /// <summary>A picture of it; null for none.</summary>
    public string? PhotographId { get; set; }
}

/// <summary>Owned by a visit: how a board of it is faced; the id is the position.</summary>
public sealed class FacingRecord : Owned
{
    public int Turns { get; set; }
    public BoardSide Side { get; set; }
}

/// <summary>Something pinned to a place of a board in a machine: found by the eye, odd but normal, or other on purpose.</summary>
public sealed class BoardNoteRecord : Editable
{
    public required string MachineId { get; set; }
    public required string PositionId { get; set; }
    public string? VisitId { get; set; }
    public BoardNoteKind Kind { get; set; }
    public string? ElementId { get; set; }
    public string? PinId { get; set; }
    public double? X { get; set; }
    public double? Y { get; set; }
    public required string Text { get; set; }

    /// <summary>Why it was made other than it should be.</summary>
    public required string Reason { get; set; }
    public string? PhotographId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string PersonId { get; set; }
}

/// <summary>An answer to an outside check. Written once, never changed; the last one of a visit counts.</summary>
public sealed class OutsideAnswerRecord
{
    public required string Id { get; set; }
    public required string VisitId { get; set; }
    public required string ModelId { get; set; }
    public required string CheckId { get; set; }
    public OutsideAnswer Answer { get; set; }

    /// <summary>How long a reset held, as said.</summary>
    public required string Held { get; set; }
    public bool WasIt { get; set; }
    public double? Minutes { get; set; }
    public long Order { get; set; }
    public DateTimeOffset At { get; set; }
    public required string PersonId { get; set; }
}

/// <summary>An act of making safe. Written once, never changed.</summary>
public sealed class SafetyEventRecord
{
    public required string Id { get; set; }
    public required string VisitId { get; set; }
    public long Order { get; set; }
    public SafetyEventKind Kind { get; set; }
    public required string Subject { get; set; }

    /// <summary>The reading as typed; empty unless something was read.</summary>
    public required string Typed { get; set; }
    public decimal? Volts { get; set; }
    public required string Words { get; set; }
    public string? Target { get; set; }
    public DateTimeOffset DeviceTime { get; set; }
    public DateTimeOffset ServerTime { get; set; }
    public required string PersonId { get; set; }
}

/// <summary>A jumper, bypass, lamp or plug placed for a test; open until removed.</summary>
public sealed class TemporaryLinkRecord : Editable
{
    public required string MachineId { get; set; }
    public required string VisitId { get; set; }
    public TemporaryLinkKind Kind { get; set; }
    public string? FromHolder { get; set; }
    public string? FromPin { get; set; }
    public string? ToHolder { get; set; }
    public string? ToPin { get; set; }
    public required string Where { get; set; }

    /// <summary>The protective device it lies across, as the technician said.</summary>
    public string? Across { get; set; }
    public BypassStanding Standing { get; set; }
    public required string Why { get; set; }
    public bool Attended { get; set; }
    public DateTimeOffset? Until { get; set; }
    public DateTimeOffset PlacedAt { get; set; }
    public required string PersonId { get; set; }
    public DateTimeOffset? RemovedAt { get; set; }
    public string? RemovedById { get; set; }
}

/// <summary>A machine that protects life was taken out of service: who was told, and what watches in its place.</summary>
public sealed class LifeSafetyNoticeRecord : Editable
{
    public required string MachineId { get; set; }
    public required string VisitId { get; set; }
    public required string Told { get; set; }
    public required string Watching { get; set; }
    public DateTimeOffset? Until { get; set; }
    public DateTimeOffset At { get; set; }
    public required string PersonId { get; set; }

    /// <summary>Back in service; null while the notice is open.</summary>
    public DateTimeOffset? BackAt { get; set; }
}

/// <summary>What the shop sets under its local code; there is one.</summary>
public sealed class ShopRecord : Editable
{
    public const string Only = "shop";

    public decimal AcDry { get; set; }
    public decimal DcDry { get; set; }
    public decimal AcWet { get; set; }
    public decimal DcWet { get; set; }
    public decimal AcImmersed { get; set; } = ShopLimits.MostAcImmersed;
    public decimal DcImmersed { get; set; } = ShopLimits.MostDcImmersed;
    public decimal DeadAc { get; set; } = ShopLimits.MostDeadAc;
    public decimal DeadDc { get; set; } = ShopLimits.MostDeadDc;

    public ShopLimits Limits => new(AcDry, DcDry, AcWet, DcWet, AcImmersed, DcImmersed, DeadAc, DeadDc);
}

public sealed class RoundRecord : Editable
{
    public required string VisitId { get; set; }
    public DateTimeOffset StartedAt { get; set; }
}

/// <summary>A cause the shop may choose for a fault; the list can be extended.</summary>
public sealed class CauseRecord : Editable
{
    public required string Words { get; set; }
    public int Ordinal { get; set; }
}

public enum Held
{
    NotKnown,
    Held,
    CameBack,
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
    public string? Cause { get; set; }
    public required string Proof { get; set; }
    public required string Done { get; set; }

    /// <summary>Parts touched, a line each.</summary>
    public string Parts { get; set; } = "";

    /// <summary>What was left other than it should be, and why.</summary>
    public string Deviation { get; set; } = "";
    public int? Minutes { get; set; }
    public Warranty Warranty { get; set; }
    public Held Held { get; set; }

    /// <summary>The fault this one is the return of.</summary>
    public string? PreviousId { get; set; }
    public DateTimeOffset? ClosedAt { get; set; }
}

/// <summary>Owned by a board type: what a stored value means and may be.</summary>
public sealed class SettingRecord : Owned
{
    public required string Code { get; set; }
    public required string Name { get; set; }
    public SettingKind Kind { get; set; }
    public required string Unit { get; set; }
    public decimal? Min { get; set; }
    public decimal? Max { get; set; }

    /// <summary>A line each.</summary>
    public required string Choices { get; set; }
    public required string Default { get; set; }
    public required string Firmware { get; set; }
}

public enum SnapshotKind
{
    AsFound,
    AsLeft,
    Other,
}

/// <summary>All settings of one fitted board at one moment; stays with that board when it leaves.</summary>
public sealed class SnapshotRecord : Editable
{
    public required string MachineId { get; set; }
    public required string FittedBoardId { get; set; }
    public string? VisitId { get; set; }
    public SnapshotKind Kind { get; set; }
    public DateTimeOffset TakenAt { get; set; }
    public required string PersonId { get; set; }
    public required string Firmware { get; set; }
    public required string Note { get; set; }
}

/// <summary>Owned by a snapshot; the id is the code.</summary>
public sealed class SettingValueRecord : Owned
{
    public required string Value { get; set; }
}

public enum PhotographKind
{
    Plate,
    Board,
    Screen,
    Other,
}

/// <summary>A photograph; the picture is a file named by the hash of its content.</summary>
public sealed class PhotographRecord : Editable
{
    public required string MachineId { get; set; }
    public string? VisitId { get; set; }
    public string? PositionId { get; set; }
    public string? SnapshotId { get; set; }
    public PhotographKind Kind { get; set; }
    public required string Caption { get; set; }
    public DateTimeOffset TakenAt { get; set; }
    public required string PersonId { get; set; }

    /// <summary>SHA-256 of the picture as kept, in hex.</summary>
    public required string Hash { get; set; }

    /// <summary>File ending: <c>jpg</c>, <c>png</c> or <c>webp</c>.</summary>
    public required string Format { get; set; }
    public int Width { get; set; }
    public int Height { get; set; }
    public long Bytes { get; set; }

    /// <summary>Points of the board marked on it, as JSON.</summary>
    public string Points { get; set; } = "[]";
}

/// <summary>A place tapped on a photograph: named or not, later a pin of a board type.</summary>
public sealed class PlaceRecord : Editable
{
    /// <summary>The holder in the address of a reading taken at a place that is no pin yet.</summary>
    public const string Holder = "@place";

    public required string PhotographId { get; set; }

    /// <summary>From the left, 0 to 1.</summary>
    public double X { get; set; }

    /// <summary>From the top, 0 to 1.</summary>
    public double Y { get; set; }
    public int Number { get; set; }
    public required string Name { get; set; }
    public required string Note { get; set; }

    /// <summary>The position and pin it became; null until then.</summary>
    public string? PositionId { get; set; }
    public string? PinId { get; set; }
}

/// <summary>A line about a machine that belongs nowhere else.</summary>
public sealed class NoteRecord : Editable
{
    public required string MachineId { get; set; }
    public string? VisitId { get; set; }
    public required string Text { get; set; }
    public DateTimeOffset At { get; set; }
    public required string PersonId { get; set; }
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

    /// <summary>How safe the machine was made when it was taken; null from before that was kept.</summary>
    public SafeCondition? Condition { get; set; }
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

/// <summary>The versions in which the things of a board type, a model or a machine last went out of this ledger or came into it.</summary>
public sealed class VersionsRecord
{
    /// <summary>Such as <c>boardTypes/cw-4471</c>; everything below it is told of here.</summary>
    public required string Id { get; set; }

    /// <summary>Versions by key, as JSON.</summary>
    public required string Body { get; set; }
}
