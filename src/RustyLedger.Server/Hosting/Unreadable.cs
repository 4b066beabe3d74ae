using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;

namespace RustyLedger.Server.Hosting;

/// <summary>What cannot be read by those who come later.</summary>
/// <param name="At">The place, such as <c>rows[2].cells[0]</c>.</param>
/// <param name="Words">What is wrong there, in a sentence.</param>
internal sealed record UnreadablePlace(string At, string Words);

/// <summary>Of a thing that holds what somebody pasted as it is, signs of all kinds included.</summary>
[AttributeUsage(AttributeTargets.Class)]
internal sealed class AsPastedAttribute : Attribute;

/// <summary>
/// JSON may say null where a list holds things, and a text may hold signs that nobody can see; the reader takes both. What comes in is
/// gone through before anybody works with it, through whichever door, since it breaks a page, a card or a label later.
/// </summary>
internal static class Unreadable
{
    private const int Deepest = 64;

    private static readonly ConcurrentDictionary<Type, IReadOnlyList<Member>> _members = new();

    private sealed record Member(PropertyInfo Property, string Name, NullabilityInfo Nullability);

    /// <summary>Refuses what an operation was given, by the name of the place.</summary>
    public static void RefuseUnreadable(this RouteGroupBuilder api) =>
        api.AddEndpointFilter(
            (call, next) =>
            {
                foreach (var given in call.Arguments)
                {
                    var found = given switch
                    {
                        string text => WrongSign(text) is { } sign ? new UnreadablePlace("", Worded("The address", sign)) : null,
                        not null when IsOurs(given.GetType()) => First(given),
                        IList list when list.GetType() is { IsGenericType: true } type && IsOurs(type.GetGenericArguments()[0]) => OfList(
                            list
                        ),
                        _ => null,
                    };
                    if (found is not null)
                    {
                        throw ProblemException.Bad(found.At, found.Words);
                    }
                }

                return next(call);
            }
        );

    /// <summary>The first place that cannot be read; null where there is none.</summary>
    public static UnreadablePlace? First(object root)
    {
        ArgumentNullException.ThrowIfNull(root);
        return Within(root, "", 0, asPasted: false);
    }

    /// <summary>A body that is a list by itself: none of it may be null.</summary>
    private static UnreadablePlace? OfList(IList list)
    {
        for (var i = 0; i < list.Count; i++)
        {
            if (list[i] is not { } item)
            {
                return new UnreadablePlace($"[{i}]", $"There is nothing in place {i + 1}; a list holds no null.");
            }

            if (Within(item, $"[{i}]", 0, asPasted: false) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    private static UnreadablePlace? Within(object thing, string at, int depth, bool asPasted)
    {
        if (depth > Deepest)
        {
            return null;
        }

        asPasted |= thing.GetType().IsDefined(typeof(AsPastedAttribute));
        foreach (var (property, name, nullability) in _members.GetOrAdd(thing.GetType(), MembersOf))
        {
            if (
                property.GetValue(thing) is { } value
                && Of(value, nullability, at.Length == 0 ? name : $"{at}.{name}", depth, asPasted) is { } found
            )
            {
                return found;
            }
        }

        return null;
    }

    private static UnreadablePlace? Of(object value, NullabilityInfo? nullability, string at, int depth, bool asPasted)
    {
        switch (value)
        {
            case string text:
                return !asPasted && WrongSign(text) is { } sign ? new UnreadablePlace(at, Worded(at, sign)) : null;
            case double number:
                // 1e400 is read as endless, and nothing can write that down again.
                return double.IsFinite(number) ? null : new UnreadablePlace(at, $"{at} is a number too large to be kept.");
            case byte[] or JsonElement:
                return null;
            case IDictionary values:
                var ofValue = nullability?.GenericTypeArguments is [_, var said] ? said : null;
                foreach (DictionaryEntry entry in values)
                {
                    if (Item(entry.Value, ofValue, $"{at}.{entry.Key}", depth, asPasted) is { } found)
                    {
                        return found;
                    }
                }

                return null;
            case IEnumerable items:
                var ofItem = nullability?.ElementType ?? (nullability?.GenericTypeArguments is [var only] ? only : null);
                var place = 0;
                foreach (var item in items)
                {
                    if (Item(item, ofItem, $"{at}[{place++}]", depth, asPasted) is { } found)
                    {
                        return found;
                    }
                }

                return null;
            default:
                return IsOurs(value.GetType()) ? Within(value, at, depth + 1, asPasted) : null;
        }
    }

    private static UnreadablePlace? Item(object? item, NullabilityInfo? nullability, string at, int depth, bool asPasted) =>
        item is not null ? Of(item, nullability, at, depth + 1, asPasted)
        : nullability?.ReadState == NullabilityState.NotNull ? new UnreadablePlace(at, $"There is nothing in {at}; a list holds no null.")
        : null;

    /// <summary>A sign that nobody can see and that is no end of a line, or half of one; null for none.</summary>
    private static int? WrongSign(string text)
    {
        for (var i = 0; i < text.Length; i++)
        {
            var sign = text[i];
            if (char.IsHighSurrogate(sign) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]))
            {
                i++;
            }
            else if ((char.IsControl(sign) && sign is not ('\t' or '\n' or '\r')) || char.IsSurrogate(sign) || sign is '\uFFFE' or '\uFFFF')
            {
                return sign;
            }
        }

        return null;
    }

    private static string Worded(string at, int sign) => $"{at} holds a sign that cannot be shown (U+{sign:X4}); leave it out.";

    private static bool IsOurs(Type type) =>
        !type.IsValueType && type.Namespace?.StartsWith("RustyLedger.", StringComparison.Ordinal) == true;

    private static IReadOnlyList<Member> MembersOf(Type type) =>
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(p => p.GetIndexParameters().Length == 0 && p.CanRead && MayHold(p.PropertyType))
                // What follows from the other members may not bear being asked before they were looked at.
                .Where(p => p.CanWrite || type.GetConstructors().Any(c => c.GetParameters().Any(a => a.Name == p.Name)))
                .Select(p => new Member(p, JsonNamingPolicy.CamelCase.ConvertName(p.Name), new NullabilityInfoContext().Create(p))),
        ];

    private static bool MayHold(Type type) =>
        type == typeof(double) || type == typeof(double?) || typeof(IEnumerable).IsAssignableFrom(type) || IsOurs(type) || type.IsInterface;
}
