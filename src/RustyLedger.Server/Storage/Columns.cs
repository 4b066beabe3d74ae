using System.Reflection;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.History;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Storage;

/// <summary>How the types of Core are kept in a column, whatever the database.</summary>
internal static class Columns
{
    public static void Describe(ModelConfigurationBuilder columns)
    {
        foreach (var id in Ids())
        {
            columns.Properties(id).HaveConversion(typeof(IdText<>).MakeGenericType(id.GetGenericArguments()));
        }

        columns.Properties<PinAddress>().HaveConversion<AddressText>();
        columns.Properties<Limit>().HaveConversion<JsonText<Limit>, JsonComparer<Limit>>();
        Json<IReadOnlyList<string>>(columns);
        Json<IReadOnlyList<Evidence>>(columns);
        Json<IReadOnlyList<FoundPlace>>(columns);
        Json<IReadOnlyList<TouchedPart>>(columns);
        Json<IReadOnlyList<PicturePoint>>(columns);
        Json<NotePlace>(columns);
        Json<DefaultTolerance>(columns);
    }

    private static void Json<T>(ModelConfigurationBuilder columns)
        where T : class => columns.Properties<T>().HaveConversion<JsonText<T>, JsonComparer<T>>();

    /// <summary>Every kind of id that a member of Core or of a row has.</summary>
    private static IEnumerable<Type> Ids() =>
        new[] { typeof(IThing).Assembly, typeof(Columns).Assembly }
            .SelectMany(a => a.GetTypes())
            .SelectMany(t => t.GetProperties(BindingFlags.Public | BindingFlags.Instance))
            .Select(p => Nullable.GetUnderlyingType(p.PropertyType) ?? p.PropertyType)
            .Where(t => t.IsGenericType && !t.ContainsGenericParameters && t.GetGenericTypeDefinition() == typeof(Id<>))
            .Distinct();

    private sealed class IdText<T>() : ValueConverter<Id<T>, string>(id => id.Value, text => new Id<T>(text));

    private sealed class AddressText() : ValueConverter<PinAddress, string>(address => address.Text, text => PinAddress.Read(text));

    private sealed class JsonText<T>()
        : ValueConverter<T, string>(
            value => JsonSerializer.Serialize(value, MachineFile.OneLine),
            text => JsonSerializer.Deserialize<T>(text, MachineFile.OneLine)!
        )
        where T : class;

    /// <summary>Two values are the same that are written the same; they are never changed in place.</summary>
    private sealed class JsonComparer<T>()
        : ValueComparer<T>(
            (a, b) =>
                ReferenceEquals(a, b)
                || JsonSerializer.Serialize(a, MachineFile.OneLine) == JsonSerializer.Serialize(b, MachineFile.OneLine),
            value => JsonSerializer.Serialize(value, MachineFile.OneLine).GetHashCode(StringComparison.Ordinal),
            value => value
        )
        where T : class;
}
