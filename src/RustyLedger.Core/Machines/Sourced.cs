namespace RustyLedger.Core.Machines;

/// <summary>Who can say what a pin or a check is, the later over the earlier.</summary>
public enum Level
{
    BoardType,
    Model,

    /// <summary>The overlay of a build.</summary>
    Build,
    Machine,

    /// <summary>Worked out from readings or from the circuit, rather than written down.</summary>
    Computed,
}

/// <summary>Who says so: the level, and in words which board type, model or override.</summary>
public sealed record Origin(Level Level, string Words);

/// <summary>A value, and who says so.</summary>
public readonly record struct Sourced<T>(T Value, Origin From)
{
    /// <summary>The same, where nobody says otherwise.</summary>
    public Sourced<T> Unless(T? other, Origin from) => other is null ? this : new(other, from);
}

public static class Sourced
{
    public static Sourced<T> By<T>(T value, Origin from) => new(value, from);
}

/// <summary>Where one field of something comes from.</summary>
/// <param name="Field">In words, such as <c>colours</c>; empty for all that is not named by itself.</param>
public sealed record FieldOrigin(string Field, string From);
