using System.Text.Json;
using System.Text.Json.Serialization;

namespace RustyLedger.Core.Wiring;

/// <summary>Where a probe can be put: one of four kinds of place, and no other.</summary>
[JsonConverter(typeof(PinAddressConverter))]
public abstract record PinAddress
{
    private PinAddress() { }

    /// <summary>A pin of the board in a position.</summary>
    public sealed record OnBoard(PositionId Position, PinId Pin) : PinAddress;

    /// <summary>A pin of a part that is on no board.</summary>
    public sealed record OffBoard(PartId Part, PinId Pin) : PinAddress;

    /// <summary>A place tapped on a photograph.</summary>
    public sealed record AtPlace(PlaceId Place) : PinAddress;

    /// <summary>A pin of a board type, as its own paths and checks name it before it is put into a position.</summary>
    public sealed record OnType(PinId Pin) : PinAddress;

    /// <summary>Whether both lie on the same board, or at the same part.</summary>
    public bool IsBeside(PinAddress other) =>
        (this, other) switch
        {
            (OnBoard a, OnBoard b) => a.Position == b.Position,
            (OffBoard a, OffBoard b) => a.Part == b.Part,
            (OnType, OnType) => true,
            _ => false,
        };

    /// <summary>The position whose board it is on; null for any other place.</summary>
    public PositionId? InPosition => (this as OnBoard)?.Position;

    /// <summary>The pin, by its own id; null for a tapped place.</summary>
    public PinId? OwnPin =>
        this switch
        {
            OnBoard on => on.Pin,
            OffBoard off => off.Pin,
            OnType on => on.Pin,
            _ => (PinId?)null,
        };

    /// <summary>Its one text: JSON such as <c>{"position":"z2","pin":"j1-1"}</c>; the same address has the same text.</summary>
    public string Text => JsonSerializer.Serialize(this);

    /// <exception cref="FormatException">The text is none.</exception>
    public static PinAddress Read(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<PinAddress>(text) ?? throw new FormatException("an address is missing");
        }
        catch (JsonException broken)
        {
            throw new FormatException(broken.Message, broken);
        }
    }
}

/// <summary>
/// An address as an object: <c>position</c> and <c>pin</c>, <c>part</c> and <c>pin</c>, <c>place</c> alone, or <c>pin</c> alone on a
/// board type.
/// </summary>
internal sealed class PinAddressConverter : JsonConverter<PinAddress>
{
    private const string Form = "an address is { position, pin }, { part, pin }, { place } or { pin }";

    public override PinAddress Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        string? position = null,
            part = null,
            place = null,
            pin = null;
        if (reader.TokenType != JsonTokenType.StartObject)
        {
            throw new JsonException(Form);
        }

        while (reader.Read() && reader.TokenType != JsonTokenType.EndObject)
        {
            var name = reader.GetString();
            if (!reader.Read() || reader.TokenType is not (JsonTokenType.String or JsonTokenType.Null))
            {
                throw new JsonException(Form);
            }

            var value = reader.GetString();
            switch (name)
            {
                case "position":
                    position = value;
                    break;
                case "part":
                    part = value;
                    break;
                case "place":
                    place = value;
                    break;
                case "pin":
                    pin = value;
                    break;
                default:
                    throw new JsonException($"{Form}, and has no \"{name}\"");
            }
        }

        return (position, part, place, pin) switch
        {
            ({ } at, null, null, { } id) => new PinAddress.OnBoard(at, id),
            (null, { } of, null, { } id) => new PinAddress.OffBoard(of, id),
            (null, null, { } tapped, null) => new PinAddress.AtPlace(tapped),
            (null, null, null, { } id) => new PinAddress.OnType(id),
            _ => throw new JsonException(Form),
        };
    }

    public override void Write(Utf8JsonWriter writer, PinAddress value, JsonSerializerOptions options)
    {
        writer.WriteStartObject();
        switch (value)
        {
            case PinAddress.OnBoard on:
                writer.WriteString("position", on.Position.Value);
                writer.WriteString("pin", on.Pin.Value);
                break;
            case PinAddress.OffBoard off:
                writer.WriteString("part", off.Part.Value);
                writer.WriteString("pin", off.Pin.Value);
                break;
            case PinAddress.AtPlace at:
                writer.WriteString("place", at.Place.Value);
                break;
            case PinAddress.OnType on:
                writer.WriteString("pin", on.Pin.Value);
                break;
        }

        writer.WriteEndObject();
    }
}
