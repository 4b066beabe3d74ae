namespace RustyLedger.Core.Codes;

public enum CodeKind
{
    /// <summary>Signs on a display.</summary>
    Display,
    Lamp,
    Beeps,

    /// <summary>Clicks or ticks, judged by how fast they come.</summary>
    Ticks,
}

/// <summary>How a lamp, a beeper or a relay says it.</summary>
public enum CodePattern
{
    Steady,
    Off,

    /// <summary>On and off without groups.</summary>
    Even,
    Groups,
}

/// <summary>What a number within a displayed code is.</summary>
public enum CodeNumberKind
{
    Firmware,
    Hours,
    Operations,
    Other,
}

/// <summary>A number that a displayed code carries.</summary>
/// <param name="Unit">Such as <c>h</c>; empty for none.</param>
/// <param name="Scale">What the shown digits are multiplied by: 0.01 makes 183 into 1.83, 100000 makes 3 into 300 000.</param>
public sealed record CodeNumber(CodeNumberKind Kind, string Name, string Unit, decimal Scale);

/// <summary>Something a board shows, blinks, beeps or ticks, and what it means.</summary>
/// <param name="Shown">The signs on a display, <c>#</c> for a digit of a number: <c>E4</c>, <c>U###</c>; empty for the other kinds.</param>
/// <param name="Element">The designator of the lamp; empty where any of the colour is meant.</param>
/// <param name="Groups">Signs in each group of one repeat; a single number for beeps that are counted.</param>
/// <param name="PerSecondFrom">The slowest it comes; null for any.</param>
/// <param name="PerSecondTo">The fastest it comes; null for any.</param>
/// <param name="PointsTo">The part or place it speaks of.</param>
public sealed record BoardCode(
    string Id,
    CodeKind Kind,
    string Shown,
    string Element,
    string Colour,
    CodePattern Pattern,
    IReadOnlyList<int> Groups,
    decimal? PerSecondFrom,
    decimal? PerSecondTo,
    string Meaning,
    string PointsTo,
    string ToDo,
    CodeNumber? Number
)
{
    /// <summary>How it is said, in words.</summary>
    public string Words =>
        Kind == CodeKind.Display
            ? Shown
            : string.Join(
                ", ",
                new[]
                {
                    string.Join(
                        ' ',
                        new[] { Element, Colour, Kind == CodeKind.Lamp && Element.Length == 0 ? "lamp" : "" }.Where(w => w.Length > 0)
                    ),
                    (Kind, Pattern) switch
                    {
                        (_, CodePattern.Steady) => "steady",
                        (_, CodePattern.Off) => "off",
                        (CodeKind.Ticks, _) => "ticks",
                        (CodeKind.Beeps, CodePattern.Groups) => Groups is [var beeps]
                            ? beeps == 1
                                ? "1 beep"
                                : $"{beeps} beeps"
                            : $"beeps {string.Join(", then ", Groups)}",
                        (CodeKind.Beeps, _) => "beeps without pause",
                        (_, CodePattern.Groups) => Groups is [var blinks]
                            ? blinks == 1
                                ? "1 blink, pause"
                                : $"{blinks} blinks, pause"
                            : $"blinks {string.Join(", then ", Groups)}",
                        _ => "blinking evenly",
                    },
                    (PerSecondFrom, PerSecondTo) switch
                    {
                        ({ } from, { } to) => FormattableString.Invariant($"{from:0.##} to {to:0.##} a second"),
                        ({ } from, null) => FormattableString.Invariant($"from {from:0.##} a second"),
                        (null, { } to) => FormattableString.Invariant($"up to {to:0.##} a second"),
                        _ => "",
                    },
                }.Where(w => w.Length > 0)
            );
}
