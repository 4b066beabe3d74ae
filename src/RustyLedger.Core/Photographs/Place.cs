using RustyLedger.Core.Wiring;

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

    /// <summary>The part off the boards that is there; with <see cref="PinId"/> one pin of it, alone the part as a whole.</summary>
    public PartId? PartId { get; init; }

    /// <summary>As it is called before it has a name of a pin.</summary>
    public string Called => Name.Length > 0 ? Name : $"place {Number}";

    public Outcome<Place> Write(double x, double y, string? name, string? note) =>
        Outcome.Of(this with { X = x, Y = y, Name = Rule.Kept(name), Note = Rule.Kept(note) });

    /// <summary>It is a pin; readings taken there are shown at it.</summary>
    public Place Became(PositionId position, PinId pin) => this with { PositionId = position, PinId = pin };

    /// <summary>It is a part off the boards, or a pin of it; a wire can be picked there then.</summary>
    public Place Is(PartId part, PinId? pin) => this with { PartId = part, PositionId = null, PinId = pin };

    /// <summary>Where a probe goes there: a pin, or the place itself where it is none yet; null for a part as a whole.</summary>
    public PinAddress? Address =>
        (PositionId, PartId, PinId) switch
        {
            ({ } position, _, { } pin) => new PinAddress.OnBoard(position, pin),
            (_, { } part, { } pin) => new PinAddress.OffBoard(part, pin),
            (_, { }, null) => null,
            _ => new PinAddress.AtPlace(Id),
        };

    public override Refusal? Refusal() =>
        Rule.First(
            Rule.If(X is not (>= 0 and <= 1) || Y is not (>= 0 and <= 1), "x", "A place lies on the picture: from 0 to 1 across and down."),
            Rule.Text("name", Name, 60),
            Rule.Text("note", Note, 500),
            Rule.If(PositionId is not null && PartId is not null, "partId", "A place is on a board or at a part, not both."),
            Rule.If(
                PositionId is null != PinId is null && PartId is null,
                "pinId",
                "A place that became a pin names its position or its part, and its pin."
            )
        );
}
