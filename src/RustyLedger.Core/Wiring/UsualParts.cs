using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>What a part off the boards usually comes with.</summary>
/// <param name="Designator">Letter before its number, by IEC 81346-2 and older practice.</param>
/// <param name="Labels">Printed at its terminals, in their order.</param>
/// <param name="Sources">Of these, where power enters the machine.</param>
public sealed record UsualPart(PartKind Kind, string Words, string Designator, IReadOnlyList<string> Labels, IReadOnlyList<string> Sources);

/// <summary>
/// Terminals as they are printed on common parts. Relay 30-85-86-87 is DIN 72552; 11-12-14-A1-A2, contactor 1 to 6 with 13-14 and
/// overload 95 to 98 are EN 50005 and EN 50011 numbering; the rest is common practice, no source.
/// </summary>
public static class UsualParts
{
    public static IReadOnlyList<UsualPart> All { get; } =
    [
        new(PartKind.Supply, "supply", "PS", ["L", "N", "PE", "+", "-"], ["+"]),
        new(PartKind.Battery, "battery", "BT", ["+", "-"], ["+"]),
        new(PartKind.Switch, "switch", "S", ["1", "2"], []),
        new(PartKind.Button, "button", "S", ["13", "14"], []),
        new(PartKind.Plug, "in-line plug", "X", ["1", "2", "3", "4"], []),
        new(PartKind.FuseHolder, "fuse holder", "F", ["1", "2"], []),
        new(PartKind.Transformer, "transformer", "T", ["1", "2", "3", "4"], []),
        new(PartKind.Contactor, "contactor", "K", ["1", "2", "3", "4", "5", "6", "13", "14", "A1", "A2"], []),
        new(PartKind.Overload, "overload", "F", ["1", "2", "3", "4", "5", "6", "95", "96", "97", "98"], []),
        new(PartKind.Relay, "relay", "K", ["30", "85", "86", "87"], []),
        new(PartKind.Motor, "motor", "M", ["1", "2"], []),
        new(PartKind.Heater, "heater", "R", ["1", "2"], []),
        new(PartKind.Coil, "coil, valve", "Y", ["1", "2"], []),
        new(PartKind.Sensor, "sensor", "B", ["+", "-", "out"], []),
        new(PartKind.Lamp, "lamp", "P", ["1", "2"], []),
        new(PartKind.Horn, "horn, buzzer", "P", ["1", "2"], []),
        new(PartKind.Aerial, "aerial", "W", ["1", "2"], []),
        new(PartKind.EarthBar, "earth bar", "PE", ["1", "2", "3", "4"], []),
        new(PartKind.Splice, "splice, several wires in one", "SP", ["1"], []),
        new(PartKind.Other, "something else", "A", ["1", "2"], []),
    ];
}
