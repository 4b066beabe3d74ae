using RustyLedger.Core.Measuring;
using Quantity = RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Circuits;

public enum ShownKind
{
    Number,

    /// <summary>OL: no path.</summary>
    Open,

    /// <summary>OL, or anything from so much on: what hangs on it says no more on a dead machine.</summary>
    AtLeast,

    /// <summary>A lamp that shines, a contact that is closed.</summary>
    On,
    Off,

    /// <summary>Shines, and not as it should.</summary>
    Dim,

    /// <summary>Nothing holds it: a meter shows what it picks up, which is anything.</summary>
    Floats,

    /// <summary>The circuit has no rest: it chatters, or cannot be worked out.</summary>
    NoRest,
}

/// <summary>What a place shows by the circuit.</summary>
/// <param name="Value">In the unit without a prefix; 0 where it is no number.</param>
public sealed record Shown(ShownKind Kind, double Value, Unit Unit)
{
    // What a technician tells apart with an ordinary meter on a working machine. Common practice, no source.
    private const double VoltsApart = 0.05;
    private const double OhmsApart = 0.3;
    private const double ShareApart = 0.03;
    private const double MostApart = 100;

    public static Shown Number(double value, Unit unit) => new(ShownKind.Number, value, unit);

    public string Words =>
        Kind switch
        {
            ShownKind.Number => Quantity.Write(
                Math.Abs(Value) < 0.0005 ? 0 : Value,
                Unit == Unit.Ohms ? "Ω"
                    : Unit == Unit.Amps ? "A"
                    : "V"
            ),
            ShownKind.Open => "OL",
            ShownKind.AtLeast => $"above {Quantity.Write(Value, "Ω")}",
            ShownKind.On => "on",
            ShownKind.Off => "off",
            ShownKind.Dim => "dim",
            ShownKind.Floats => "floats",
            _ => "no rest",
        };

    /// <summary>How clearly two differ, in steps that a meter on a working machine just tells apart; 0 to 100.</summary>
    public static double Apart(Shown a, Shown b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        return (a.Kind, b.Kind) switch
        {
            (ShownKind.Number, ShownKind.Number) => Math.Min(
                MostApart,
                Math.Abs(a.Value - b.Value)
                    / ((a.Unit == Unit.Ohms ? OhmsApart : VoltsApart) + (ShareApart * Math.Max(Math.Abs(a.Value), Math.Abs(b.Value))))
            ),
            // A floating wire may show nothing as well: only what is held well off nothing is told from it.
            (ShownKind.Floats, ShownKind.Number) => Math.Abs(b.Value) > 1 ? MostApart / 2 : 0,
            (ShownKind.Number, ShownKind.Floats) => Math.Abs(a.Value) > 1 ? MostApart / 2 : 0,
            (ShownKind.AtLeast, ShownKind.Number) => b.Value < a.Value ? Apart(Number(a.Value, a.Unit), b) : 0,
            (ShownKind.Number, ShownKind.AtLeast) => Apart(b, a),
            (ShownKind.AtLeast, ShownKind.Open) or (ShownKind.Open, ShownKind.AtLeast) => 0,
            var (x, y) when x == y => 0,
            _ => MostApart,
        };
    }
}
