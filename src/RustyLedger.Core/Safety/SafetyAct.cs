using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Safety;

/// <summary>An act of making safe as it is kept. Written once, never changed.</summary>
public sealed record SafetyAct : IThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }

    /// <summary>Rises in the order in which the ledger heard of them.</summary>
    public required long Order { get; init; }
    public required SafetyEventKind Kind { get; init; }

    /// <summary>The source, store or <see cref="ProofPoint.Key"/> it is about; empty where it is about all.</summary>
    public required string Subject { get; init; }

    /// <summary>The reading as typed; empty unless something was read.</summary>
    public required string Typed { get; init; }

    /// <summary>Lock number, the known source the meter was proved on, the reason for going live.</summary>
    public required string Words { get; init; }

    /// <summary>The act taken back.</summary>
    public string? Target { get; init; }
    public required DateTimeOffset DeviceTime { get; init; }
    public required DateTimeOffset ServerTime { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>
    /// Puts it behind those that were heard of before: two devices need not agree on the time, and what arrives late can only make a
    /// machine less safe than it was thought to be.
    /// </summary>
    public Outcome<SafetyAct> After(IReadOnlyList<SafetyEvent> before, SafetySheet sheet, ShopLimits limits)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(sheet);
        if (Refusal() is { } refusal)
        {
            return refusal;
        }

        var act = this with { Order = before.Count == 0 ? Order : Math.Max(Order, before.Max(e => e.Order) + 1) };
        if (SafeState.Refusal(sheet, limits, before, act.Event("")) is { } misfit)
        {
            return Core.Refusal.Misfit("kind", misfit);
        }

        return Kind is SafetyEventKind.FoundLive or SafetyEventKind.FoundUnexplained
                ? new Refusal("kind", "That a source was found live is written with the reading that found it.")
            : Words.Length > 0 ? act
            : Kind == SafetyEventKind.LiveAgain ? new Refusal("words", "Say why it goes live again.")
            : Kind is SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter
                ? new Refusal("words", "Name the known source the meter was proved on.")
            : act;
    }

    /// <summary>In the form in which the state is worked out.</summary>
    /// <param name="person">The name of who did it.</param>
    public SafetyEvent Event(string person) => new(Id, Order, Kind, Subject, Volts(out _), Words, Target, DeviceTime, person);

    public Refusal? Refusal() =>
        Rule.First(
            Rule.Text("subject", Subject, 200),
            Rule.Text("typed", Typed, 60),
            // A lock may well have nothing but a number; what a reading found is worded here.
            Kind is SafetyEventKind.Locked or SafetyEventKind.FoundLive or SafetyEventKind.FoundUnexplained
                ? Rule.Text("words", Words, 200)
                : Rule.Said("words", Words, 200, Wanted),
            Volts(out var refusal) is null ? refusal : null
        );

    /// <summary>What the words of such an act say.</summary>
    private string Wanted =>
        Kind switch
        {
            SafetyEventKind.MeterProvedBefore or SafetyEventKind.MeterProvedAfter =>
                "name the known source the meter was proved on, such as a socket by its number",
            SafetyEventKind.LiveAgain => "say why it goes live again",
            _ => "a remark needs words, and a reading has a step of its own",
        };

    /// <summary>The volts of a reading that proves; null for any other act.</summary>
    private decimal? Volts(out Refusal? refusal)
    {
        refusal = null;
        if (Kind != SafetyEventKind.Read)
        {
            return null;
        }

        try
        {
            var mode = Subject.EndsWith("/ac", StringComparison.Ordinal) ? MeterMode.AcVolts : MeterMode.DcVolts;
            if (ReadingNotation.Read(Typed, mode).Choices is [NumberReading { Value: var volts }])
            {
                return volts;
            }

            refusal = new Refusal("typed", $"\"{Typed}\" is not one voltage; a proof needs a number such as 0.2.");
        }
        catch (NotationException notation)
        {
            refusal = new Refusal("typed", notation.Message) { Notation = notation };
        }

        return null;
    }
}
