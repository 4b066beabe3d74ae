using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// JSON may say null where a list holds things, and the reader takes it: what was sent is gone through before anybody works with it,
/// since a null in a list breaks a page, a card or a label later.
/// </summary>
internal static class NullsInLists
{
    private const int Deepest = 64;

    private static readonly ConcurrentDictionary<Type, IReadOnlyList<Member>> _members = new();

    private sealed record Member(PropertyInfo Property, string Name, NullabilityInfo Nullability);

    /// <summary>Refuses what an operation was given, by the name of the place.</summary>
    public static void RefuseNulls(this RouteGroupBuilder api) =>
        api.AddEndpointFilter(
            (call, next) =>
            {
                foreach (var given in call.Arguments)
                {
                    if (given is not null && IsOurs(given.GetType()) && First(given) is { } at)
                    {
                        throw ProblemException.Bad(at, $"There is nothing in {at}; a list holds no null.");
                    }
                }

                return next(call);
            }
        );

    /// <summary>The first place with a null where its type has none, such as <c>rows[2].cells[0]</c>; null where there is none.</summary>
    public static string? First(object root) => Within(root, "", 0);

    private static string? Within(object thing, string at, int depth)
    {
        if (depth > Deepest)
        {
            return null;
        }

        foreach (var (property, name, nullability) in _members.GetOrAdd(thing.GetType(), MembersOf))
        {
            if (property.GetValue(thing) is { } value && Of(value, nullability, at.Length == 0 ? name : $"{at}.{name}", depth) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    private static string? Of(object value, NullabilityInfo nullability, string at, int depth)
    {
        switch (value)
        {
            case string:
                return null;
            case IDictionary values:
                var ofValue = nullability.GenericTypeArguments is [_, var said] ? said : null;
                foreach (DictionaryEntry entry in values)
                {
                    if (Item(entry.Value, ofValue, $"{at}.{entry.Key}", depth) is { } found)
                    {
                        return found;
                    }
                }

                return null;
            case IEnumerable items:
                var ofItem = nullability.ElementType ?? (nullability.GenericTypeArguments is [var only] ? only : null);
                var place = 0;
                foreach (var item in items)
                {
                    if (Item(item, ofItem, $"{at}[{place++}]", depth) is { } found)
                    {
                        return found;
                    }
                }

                return null;
            default:
                return IsOurs(value.GetType()) ? Within(value, at, depth + 1) : null;
        }
    }

    private static string? Item(object? item, NullabilityInfo? nullability, string at, int depth) =>
        item is null ? (nullability?.ReadState == NullabilityState.NotNull ? at : null)
        : nullability is not null && item is IEnumerable and not string ? Of(item, nullability, at, depth + 1)
        : IsOurs(item.GetType()) ? Within(item, at, depth + 1)
        : null;

    private static bool IsOurs(Type type) =>
        !type.IsValueType && type.Namespace?.StartsWith("RustyLedger.", StringComparison.Ordinal) == true;

    private static IReadOnlyList<Member> MembersOf(Type type) =>
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(p => p.GetIndexParameters().Length == 0 && p.CanRead && MayHoldLists(p.PropertyType))
                // What follows from the other members may not bear being asked before they were looked at.
                .Where(p => p.CanWrite || type.GetConstructors().Any(c => c.GetParameters().Any(a => a.Name == p.Name)))
                .Select(p => new Member(
                    p,
                    System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(p.Name),
                    new NullabilityInfoContext().Create(p)
                )),
        ];

    private static bool MayHoldLists(Type type) =>
        type != typeof(string) && (typeof(IEnumerable).IsAssignableFrom(type) || IsOurs(type) || type.IsInterface);
}
