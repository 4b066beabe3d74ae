using System.Diagnostics.CodeAnalysis;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core;

/// <summary>A change that was not taken. Nothing of it is written.</summary>
/// <param name="Field">The field it is about, as the request names it; empty where it is about the whole.</param>
/// <param name="Problem">What was wrong, and what would do, in a sentence.</param>
public sealed record Refusal(string Field, string Problem)
{
    /// <summary>It is understood, and does not fit with what else is in the ledger.</summary>
    public bool IsMisfit { get; init; }

    /// <summary>Where in the text it went wrong; null where it is not about a notation.</summary>
    public NotationException? Notation { get; init; }

    /// <summary>It would be taken with a reason.</summary>
    public bool NeedsReason { get; init; }

    /// <summary>The protective device it is about; null for none.</summary>
    public string? Device { get; init; }

    public static Refusal Misfit(string field, string problem) => new(field, problem) { IsMisfit = true };
}

/// <summary>What came of a change: the new thing, or why not.</summary>
public readonly record struct Outcome<T>
    where T : class
{
    private Outcome(T? thing, Refusal? refusal) => (Thing, Refusal) = (thing, refusal);

    /// <summary>Null where it was refused.</summary>
    public T? Thing { get; }

    /// <summary>Null where it was taken.</summary>
    public Refusal? Refusal { get; }

    [MemberNotNullWhen(true, nameof(Thing))]
    [MemberNotNullWhen(false, nameof(Refusal))]
    public bool IsTaken => Refusal is null;

    [SuppressMessage("Usage", "CA2225", Justification = "Outcome.Of is the named way.")]
    public static implicit operator Outcome<T>(T thing) => new(thing, null);

    [SuppressMessage("Usage", "CA2225", Justification = "Outcome.Of is the named way.")]
    public static implicit operator Outcome<T>(Refusal refusal) => new(null, refusal);
}

public static class Outcome
{
    /// <summary>A thing as it stands if its own invariants hold, their refusal otherwise.</summary>
    public static Outcome<T> Of<T>(T thing)
        where T : class, IThing
    {
        ArgumentNullException.ThrowIfNull(thing);
        return thing.Refusal() is { } refusal ? refusal : thing;
    }
}

/// <summary>A thing with invariants of its own, which hold through whatever door it comes.</summary>
public interface IThing
{
    /// <returns>The first of its invariants that does not hold; null where all do.</returns>
    Refusal? Refusal();
}

/// <summary>What people may change: it has a version, each change of it is logged, and it is retired rather than deleted.</summary>
public interface IEditable
{
    /// <summary>Rises by one with each change; a change must name the one it was made from.</summary>
    int Version { get; }

    /// <summary>Null while it stands.</summary>
    DateTimeOffset? RetiredAt { get; }
}

/// <summary>A thing of a visit or a machine that people may change.</summary>
public abstract record EditableThing : IEditable, IThing
{
    [OfTheBook]
    public int Version { get; init; } = 1;

    [OfTheBook]
    public DateTimeOffset? RetiredAt { get; init; }

    public abstract Refusal? Refusal();
}

/// <summary>A member that the book keeps and a file leaves out, since it says it by where a thing stands, or has no need to.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class OfTheBookAttribute : Attribute;
