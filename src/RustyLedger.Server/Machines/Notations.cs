using System.Text.Json;
using System.Text.Json.Serialization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Server.Machines;

/// <summary>A limit in its one notation; a word limit as <c>{ "word": "01" }</c>, since a word may look like anything.</summary>
internal sealed class LimitConverter : JsonConverter<Limit>
{
    public override bool CanConvert(Type typeToConvert) => typeToConvert == typeof(Limit);

    public override Limit Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        try
        {
            if (reader.TokenType == JsonTokenType.String)
            {
                return LimitNotation.ReadOne(reader.GetString()!).Limit;
            }

            using var word = JsonDocument.ParseValue(ref reader);
            return
                word.RootElement.ValueKind == JsonValueKind.Object
                && word.RootElement.TryGetProperty("word", out var text)
                && text.GetString() is { } shown
                ? new WordLimit(shown)
                : throw new JsonException("a limit is a text such as \"24 V ±5 %\" or { \"word\": \"01\" }");
        }
        catch (NotationException refusal)
        {
            throw new JsonException(refusal.Message);
        }
    }

    public override void Write(Utf8JsonWriter writer, Limit value, JsonSerializerOptions options)
    {
        if (value is not WordLimit word)
        {
            writer.WriteStringValue(LimitNotation.Write(value));
            return;
        }

        writer.WriteStartObject();
        writer.WriteString("word", word.Word);
        writer.WriteEndObject();
    }
}

internal sealed class ColoursConverter : JsonConverter<WireColours>
{
    public override WireColours Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        try
        {
            return WireColours.Read(reader.GetString() ?? "");
        }
        catch (FormatException refusal)
        {
            throw new JsonException(refusal.Message);
        }
    }

    public override void Write(Utf8JsonWriter writer, WireColours value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Code);
}
