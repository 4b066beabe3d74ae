namespace RustyLedger.Core.Photographs;

/// <summary>A place tapped on a photograph: named or not, later a pin of a board type.</summary>
public sealed record Place : EditableThing
{
    public required PlaceId Id { get; init; }

    [OfTheBook]
    public PhotographId PhotographId { get; init; }

    /// <summary>From the left, 0 to 1.</summary>
    public required double X { get; init; }

    /// <summary>From the top, 0 to 1.</summary>
    public required double Y { get; init; }
    public required int Number { get; init; }
    public required string Name { get; init; }
    public required string Note { get; init; }

    /// <summary>The position whose board the pin is on that it became; null until then.</summary>
    public PositionId? PositionId { get; init; }
    public PinId? PinId { get; init; }

    /// <summary>As it is called before it has a name of a pin.</summary>
    public string Called => Name.Length > 0 ? Name : $"place {Number}";

    public Outcome<Place> Write(double x, double y, string? name, string? note) =>
        Outcome.Of(this with { X = x, Y = y, Name = Rule.Kept(name), Note = Rule.Kept(note) });

    /// <summary>It is a pin; readings taken there are shown at it.</summary>
    public Place Became(PositionId position, PinId pin) => this with { PositionId = position, PinId = pin };

    public override Refusal? Refusal() =>
        Rule.First(
            Rule.If(X is not (>= 0 and <= 1) || Y is not (>= 0 and <= 1), "x", "A place lies on the picture: from 0 to 1 across and down."),
            Rule.Text("name", Name, 60),
            Rule.Text("note", Note, 500),
            Rule.If(PositionId is null != PinId is null, "pinId", "A place that became a pin names its position and its pin.")
        );
}
