using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>The model and the board type that say now where power enters.</summary>
/// <param name="Type">Null where the pin is off the boards.</param>
public sealed record PowerSaid(Model Model, BoardType? Type);

/// <summary>Where power enters a machine: at a pin of a part off the boards, or at a pin of a board.</summary>
public static class PowerIn
{
    /// <summary>Says of one pin whether power enters there.</summary>
    /// <param name="types">Of all positions of the model, by their ids.</param>
    public static Outcome<PowerSaid> Set(Model model, IReadOnlyDictionary<BoardTypeId, BoardType> types, PinAddress pin, bool enters)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(types);
        switch (pin)
        {
            case PinAddress.OffBoard off
                when model.Parts.FirstOrDefault(p => p.Id == off.Part) is { } part && part.Pins.Any(p => p.Id == off.Pin):
                var told = part with { Pins = [.. part.Pins.Select(p => p.Id == off.Pin ? p with { IsSource = enters } : p)] };
                return new PowerSaid(model with { Parts = [.. model.Parts.Select(p => p.Id == part.Id ? told : p)] }, null);
            case PinAddress.OnBoard on
                when model.Positions.FirstOrDefault(p => p.Id == on.Position) is { } position
                    && types.GetValueOrDefault(position.BoardTypeId) is { } type
                    && type.Elements.Any(e => e.Pins.Any(p => p.Id == on.Pin)):
                var elements = type.Elements.Select(e =>
                    e.Pins.Any(p => p.Id == on.Pin)
                        ? e with
                        {
                            Pins = [.. e.Pins.Select(p => p.Id == on.Pin ? p with { IsSource = enters } : p)],
                        }
                        : e
                );
                return new PowerSaid(model, type with { Elements = [.. elements] });
            default:
                return new Refusal("address", "This model has no such pin.");
        }
    }
}
