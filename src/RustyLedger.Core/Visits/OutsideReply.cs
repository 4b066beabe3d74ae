namespace RustyLedger.Core.Visits;

/// <summary>An answer to an outside check. Written once, never changed; the last one of a visit counts.</summary>
public sealed record OutsideReply : IThing
{
    private const double MostMinutes = 24 * 60;

    public required string Id { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }

    [OfTheBook]
    public ModelId ModelId { get; init; }
    public required string CheckId { get; init; }
    public required OutsideAnswer Answer { get; init; }

    /// <summary>How long a reset held, as said.</summary>
    public required string Held { get; init; }

    /// <summary>Putting it right ended the fault.</summary>
    public required bool WasIt { get; init; }

    /// <summary>From when it was asked; null where that is not known.</summary>
    public double? Minutes { get; init; }
    public required long Order { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>The minutes of a device's seconds; null where they cannot be meant so.</summary>
    public static double? MinutesOf(double? seconds) => seconds is >= 0 and < MostMinutes * 60 ? seconds / 60 : null;

    /// <summary>Whether the model asks it.</summary>
    public Outcome<OutsideReply> Of(OutsideSheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        return sheet.All.Any(c => c.Id == CheckId)
            ? Outcome.Of(this)
            : new Refusal("checkId", $"The outside check \"{CheckId}\" is not one of this model's.");
    }

    public Refusal? Refusal() =>
        Rule.First(
            Rule.Text("held", Held, 60),
            Rule.If(WasIt && Answer != OutsideAnswer.No, "wasIt", "Only what was not as it should be can have been the fault.")
        );
}
