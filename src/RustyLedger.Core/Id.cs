using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace RustyLedger.Core;

/// <summary>
/// What names one thing of a kind, whatever it is called or printed: 1 to 64 signs. An <c>Id&lt;Pin&gt;</c> cannot be taken for an
/// <c>Id&lt;Position&gt;</c>; the short names (<c>PinId</c>, <c>PositionId</c>, …) stand in <c>Directory.Build.props</c>.
/// </summary>
/// <typeparam name="T">The kind of thing it names.</typeparam>
[JsonConverter(typeof(IdConverter))]
[DebuggerDisplay("{Value}")]
[System.Diagnostics.CodeAnalysis.SuppressMessage(
    "Design",
    "CA1000",
    Justification = "Its short names stand for the closed types, so the static members are called on those."
)]
public readonly record struct Id<T>(string Value) : IComparable<Id<T>>, IParsable<Id<T>>
{
    /// <summary>Any text is an id; whether there is such a thing is asked of the ledger.</summary>
    public static Id<T> Parse(string s, IFormatProvider? provider) => new(s);

    /// <inheritdoc cref="Parse"/>
    public static bool TryParse(string? s, IFormatProvider? provider, out Id<T> result)
    {
        result = new(s ?? "");
        return s is not null;
    }

    /// <summary>A text becomes an id where it comes in; an id never becomes another kind's.</summary>
    public static implicit operator Id<T>(string value) => new(value);

    /// <inheritdoc cref="op_Implicit(string)"/>
    public static Id<T> FromString(string value) => new(value);

    /// <summary>The id of a text that may be missing.</summary>
    public static Id<T>? Maybe(string? value) => value is null ? null : new(value);

    public int CompareTo(Id<T> other) => string.CompareOrdinal(Value, other.Value);

    public static bool operator <(Id<T> left, Id<T> right) => left.CompareTo(right) < 0;

    public static bool operator <=(Id<T> left, Id<T> right) => left.CompareTo(right) <= 0;

    public static bool operator >(Id<T> left, Id<T> right) => left.CompareTo(right) > 0;

    public static bool operator >=(Id<T> left, Id<T> right) => left.CompareTo(right) >= 0;

    public override string ToString() => Value;
}

/// <summary>Ids are plain texts in JSON, as values and as names.</summary>
internal sealed class IdConverter : JsonConverterFactory
{
    public override bool CanConvert(Type typeToConvert) =>
        typeToConvert.IsGenericType && typeToConvert.GetGenericTypeDefinition() == typeof(Id<>);

    public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
        (JsonConverter)Activator.CreateInstance(typeof(Of<>).MakeGenericType(typeToConvert.GetGenericArguments()))!;

    private sealed class Of<T> : JsonConverter<Id<T>>
    {
        public override Id<T> Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            new(reader.GetString() ?? throw new JsonException("an id is a text"));

        public override void Write(Utf8JsonWriter writer, Id<T> value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.Value);

        public override Id<T> ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            new(reader.GetString()!);

        public override void WriteAsPropertyName(Utf8JsonWriter writer, Id<T> value, JsonSerializerOptions options) =>
            writer.WritePropertyName(value.Value);
    }
}
