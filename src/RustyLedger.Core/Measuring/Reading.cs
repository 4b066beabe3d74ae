using RustyLedger.Core.Safety;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// A line of a round as it was made, with the check, the limit and the addresses as they stood on the device. Written once, never
/// changed.
/// </summary>
public sealed record Reading : IThing
{
    public required ReadingId Id { get; init; }

    [OfTheBook]
    public RoundId RoundId { get; init; }

    /// <summary>Made by the device, rising; later lines win.</summary>
    public required long Order { get; init; }
    public required EntryKind Kind { get; init; }

    /// <summary>Null for an extra reading between any two pins.</summary>
    public CheckKey? CheckKey { get; init; }
    public PinAddress? Red { get; init; }
    public PinAddress? Black { get; init; }

    /// <summary>The names as they were printed then.</summary>
    public required string RedPrinted { get; init; }
    public required string BlackPrinted { get; init; }
    public required MeterMode Mode { get; init; }

    /// <summary>Code of the operating state.</summary>
    public required string State { get; init; }
    public bool? Plugged { get; init; }
    public Limit? Limit { get; init; }
    public required DefaultTolerance Tolerance { get; init; }

    /// <summary>As typed; empty for a skip or a take-back.</summary>
    public required string Typed { get; init; }

    /// <summary>Which of several readings in the typed text, from 0.</summary>
    public int Choice { get; init; }
    public ReadingId? Supersedes { get; init; }

    /// <summary>The line taken back; null for any other.</summary>
    public ReadingId? Target { get; init; }
    public required string Reason { get; init; }
    public required DateTimeOffset DeviceTime { get; init; }
    public required DateTimeOffset ServerTime { get; init; }
    public required PersonId PersonId { get; init; }
    public required string Meter { get; init; }

    /// <summary>How safe the machine was made when it was taken; null from before that was kept.</summary>
    public SafeCondition? Condition { get; init; }

    /// <summary>The value as understood when it came in, written out; null unless something was taken.</summary>
    [OfTheBook]
    public string? Value { get; init; }

    /// <summary>The value as understood by today's rules; null where nothing was read.</summary>
    public ReadingValue? Understood() =>
        Kind is EntryKind.Taken or EntryKind.LeadZero ? ReadingNotation.Read(Typed, Mode).Choices[Choice] : null;

    /// <summary>In the form in which rounds are worked out.</summary>
    public Entry Entry() =>
        new(Id.Value, Order, Kind, CheckKey, Red, Black, Mode, State, Limit, Tolerance, Understood(), Target?.Value, Reason)
        {
            Condition = Condition,
            MeterName = Meter,
        };

    /// <summary>What is measured dead needs a reason before the machine is proved dead.</summary>
    /// <param name="condition">How safe the machine is made.</param>
    /// <param name="isEnergised">Of the state it was taken in; null where the model has no such state.</param>
    public Outcome<Reading> Under(SafeCondition condition, bool? isEnergised) =>
        Kind != EntryKind.Taken ? Outcome.Of(this)
        : condition != SafeCondition.ProvedDead && CheckKey is not null && (Mode.NeedsDead() || isEnergised == false) && Reason.Length == 0
            ? Core.Refusal.Misfit(
                "reason",
                "This is measured dead, and the machine is not proved dead. Prove it, or say why it is measured all the same."
            ) with
            {
                NeedsReason = true,
            }
        : Outcome.Of(this with { Condition = condition });

    /// <summary>The same line as one that is here under its id: a line may come twice, never another in its place.</summary>
    public bool IsSameLine(Reading other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return (RoundId, Kind, CheckKey, Typed, Order) == (other.RoundId, other.Kind, other.CheckKey, other.Typed, other.Order);
    }

    public Refusal? Refusal() =>
        Rule.First(
            Rule.Text("red", RedPrinted, 80),
            Rule.Text("black", BlackPrinted, 80),
            Rule.Needed("state", State, 40),
            Rule.Said("reason", Reason, 200, Kind == EntryKind.Skipped ? "say why it is skipped" : "say why it is measured all the same"),
            Rule.Text("meter", Meter, 60),
            Rule.If(
                (Kind == EntryKind.Retracted) != (Target is not null) || (Kind == EntryKind.Skipped && CheckKey is null),
                "kind",
                "A take-back names the line it takes back; a skip names its check."
            ),
            Rule.If(
                Kind == EntryKind.LeadZero && (CheckKey is not null || Mode != MeterMode.Ohms),
                "kind",
                "What the leads read is in ohms and belongs to no check."
            ),
            Kind is EntryKind.Taken or EntryKind.LeadZero ? OfTyped() : null,
            // Only once the text is known to be one.
            Kind == EntryKind.LeadZero
            && OfTyped() is null
                ? LeadZero.Refusal(Understood())
                : null
        );

    private Refusal? OfTyped()
    {
        try
        {
            return Choice >= 0 && Choice < ReadingNotation.Read(Typed, Mode).Choices.Count
                ? null
                : new Refusal("choice", $"\"{Typed}\" has no choice {Choice}.");
        }
        catch (NotationException notation)
        {
            return new Refusal("typed", notation.Message) { Notation = notation };
        }
    }
}
