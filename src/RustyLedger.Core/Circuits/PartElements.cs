namespace RustyLedger.Core.Circuits;

/// <summary>The elements that a part is, by its law and the nodes it lies between.</summary>
public static class PartElements
{
    // Where a wide-range supply starts that does not say what it needs, in volts. Common practice, no source.
    private const double UsualNeed = 85;

    // A supply that states no limit gives what is asked of it.
    private const double NoLimit = 1e6;
    private static readonly double _root3 = Math.Sqrt(3);

    /// <summary>How many pins a kind lies between, the least first; empty for one that lies between none.</summary>
    public static IReadOnlyList<int> PinsOf(PartLaw law)
    {
        ArgumentNullException.ThrowIfNull(law);
        return law.Kind switch
        {
            LawKind.Mains when law.IsThreePhase => [3, 4],
            LawKind.Motor or LawKind.Load or LawKind.Lamp when law.IsThreePhase => [3],
            LawKind.Supply => [2, 4],
            LawKind.Rectifier or LawKind.Transformer => [4],
            LawKind.Regulator or LawKind.Potentiometer => [3],
            LawKind.ResidualBreaker => [4, 6, 8],
            LawKind.Contact => [1],
            _ => [2],
        };
    }

    /// <summary>The node in the middle of a part that has one, such as the star of three phases.</summary>
    internal static string Inside(string name) => $"{name} inside";

    /// <summary>What the pins are, in their order, for whoever has to name them.</summary>
    public static string PinWords(PartLaw law)
    {
        ArgumentNullException.ThrowIfNull(law);
        return law.Kind switch
        {
            LawKind.Mains when law.IsThreePhase => "L1, L2, L3, and N where there is one",
            _ when law.IsThreePhase => "its three phases",
            LawKind.Mains => "L and N",
            LawKind.Supply => "+ and -, or both of its input, then + and -",
            LawKind.Battery => "+ and -",
            LawKind.Rectifier => "both of its input, then + and -",
            LawKind.ResidualBreaker => "of each pole, the neutral's too, in and out",
            LawKind.Transformer => "both of the primary, then both of the secondary",
            LawKind.Regulator => "input, output and return",
            LawKind.Potentiometer => "one end, the wiper, the other end",
            LawKind.Led or LawKind.Diode => "anode and cathode",
            LawKind.Contact => "its pin",
            LawKind.Output => "what it switches and what it switches to",
            _ => "its two ends",
        };
    }

    /// <param name="name">Of the part; the elements are called after it.</param>
    /// <param name="at">Nodes in the order of <see cref="PinWords"/>, as many as <see cref="PinsOf"/> says.</param>
    /// <param name="isClosed">Of what switches, before anything is done.</param>
    /// <param name="coil">Of a contact, the element of its coil.</param>
    /// <param name="within">The node in its middle, where that is another than <see cref="Inside"/>.</param>
    public static IReadOnlyList<CircuitElement> Of(
        string name,
        PartLaw law,
        IReadOnlyList<string> at,
        bool isClosed,
        string coil,
        string? within = null
    )
    {
        ArgumentNullException.ThrowIfNull(law);
        ArgumentNullException.ThrowIfNull(at);
        var inner = within ?? Inside(name);
        return law.Kind switch
        {
            LawKind.Mains when law.IsThreePhase =>
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(i => new VoltageSource(
                        $"{name} L{i + 1}",
                        at[i],
                        at.Count > 3 ? at[3] : inner,
                        0,
                        law["inside"],
                        law["volts"] / _root3,
                        -120 * i
                    )),
            ],
            LawKind.Mains => [new VoltageSource(name, at[0], at[1], 0, law["inside"], law["volts"])],
            LawKind.Battery => [new VoltageSource(name, at[0], at[1], law["volts"], law["inside"])],
            LawKind.Supply when at.Count == 4 =>
            [
                new Converter(
                    name,
                    at[0],
                    at[1],
                    at[2],
                    at[3],
                    law["volts"],
                    0,
                    0,
                    law.Has("needs") ? law["needs"] : UsualNeed,
                    0.01,
                    law.Has("at most") ? law["at most"] : NoLimit
                ),
            ],
            // Behind the terminals, more than it ever gives; what it gives is held by the regulator.
            LawKind.Supply when law.Has("at most") =>
            [
                new VoltageSource($"{name} feed", inner, at[1], (2 * law["volts"]) + 5),
                new Regulator(name, inner, at[0], at[1], law["volts"], 0, law["at most"]),
                Idle(name, at[0], at[1], law["volts"]),
            ],
            LawKind.Supply => [new VoltageSource(name, at[0], at[1], law["volts"], 0.01)],
            LawKind.Fuse => [new Fuse(name, at[0], at[1], law["amps"], law["ohms"]) { Trips = law.Trips }],
            LawKind.ResidualBreaker =>
            [
                .. Enumerable
                    .Range(0, at.Count / 2)
                    .Select(i => new Fuse($"{name} pole {i + 1}", at[2 * i], at[(2 * i) + 1], law["amps"], law["ohms"])
                    {
                        Device = name,
                        Residual = law["trips at"],
                        Trips = true,
                    }),
            ],
            LawKind.Switch or LawKind.Output => [new Switch(name, at[0], at[1], isClosed, law["ohms"])],
            LawKind.SolidState =>
            [
                new Switch(name, at[0], at[1], isClosed, law["ohms"]),
                new Resistance($"{name} leak", at[0], at[1], law["volts"] / law["leaks"]),
            ],
            LawKind.RelayCoil => [new RelayCoil(name, at[0], at[1], Ohms(law), law["pulls in at"], law["drops out at"])],
            LawKind.MakeContact or LawKind.BreakContact =>
            [
                new RelayContact(name, coil, at[0], at[1], law.Kind == LawKind.MakeContact, law["ohms"]),
            ],
            LawKind.Wire when law.Has("metres") => [new Resistance(name, at[0], at[1], law["metres"] * law["ohms per metre"])],
            LawKind.Wire or LawKind.Contact or LawKind.Bond => [new Resistance(name, at[0], at[1], law["ohms"])],
            LawKind.Motor or LawKind.Load or LawKind.Lamp when law.IsThreePhase =>
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(i => new Resistance($"{name} phase {i + 1}", at[i], inner, Ohms(law)) { DeadOhms = Dead(law) }),
            ],
            LawKind.Load or LawKind.Motor or LawKind.Lamp =>
            [
                new Resistance(name, at[0], at[1], Ohms(law)) { DeadOhms = Dead(law), IsElectronic = law.IsElectronic },
            ],
            LawKind.Led => [new Diode(name, at[0], at[1], law["drops"], LedOhms(law))],
            LawKind.Diode => [new Diode(name, at[0], at[1], law["drops"], law["ohms"])],
            LawKind.Rectifier =>
            [
                new Converter(
                    name,
                    at[0],
                    at[1],
                    at[2],
                    at[3],
                    null,
                    law.IsSmoothed ? Math.Sqrt(2) : 2 * Math.Sqrt(2) / Math.PI,
                    law["drops"],
                    0,
                    law["inside"],
                    NoLimit
                ),
            ],
            LawKind.Transformer =>
            [
                new Transformer(name, at[0], at[1], at[2], at[3], law["to volts"] / law["volts"], law["inside"], law["winding"]),
            ],
            LawKind.Regulator =>
            [
                new Regulator(name, at[0], at[1], at[2], law["volts"], law["drops"], law["at most"]),
                Idle(name, at[1], at[2], law["volts"]),
            ],
            LawKind.Capacitor => [new Capacitance(name, at[0], at[1], law["farads"])],
            LawKind.Potentiometer =>
            [
                new Resistance($"{name} below", at[0], at[1], law["ohms"] * Math.Clamp(law["at"] / 100, 0, 1)),
                new Resistance($"{name} above", at[1], at[2], law["ohms"] * (1 - Math.Clamp(law["at"] / 100, 0, 1))),
            ],
            _ => throw new ArgumentException($"{law.Kind} has no elements.", nameof(law)),
        };
    }

    // What hangs on every rail for itself: a bleeder, the supply's own divider; so that it has its volts without a load, and none when it
    // is dead. Common practice, no source.
    private const double IdleAmps = 1e-4;

    private static Resistance Idle(string name, string plus, string minus, double volts) =>
        new(IdleOf(name), plus, minus, volts / IdleAmps);

    internal static string IdleOf(string part) => part + Aside[0];

    // How the names of elements end that are not the part itself, and have no faults of their own.
    private static readonly string[] Aside = [" idle", " feed"];

    /// <summary>Whether an element of a part is there beside the part itself; a part may be called a feed for all that.</summary>
    internal static bool IsAside(CircuitElement element, string part) => Aside.Any(a => element.Name == part + a);

    /// <summary>An element without what an operating point found of it.</summary>
    internal static CircuitElement Plain(CircuitElement element) =>
        element is Converter c ? c with { OpenVolts = 0, InSiemens = 0 } : element;

    /// <summary>While it runs, at its volts.</summary>
    private static double Ohms(PartLaw law) =>
        law.Has("ohms") ? law["ohms"]
        : law.Has("amps") ? law["volts"] / law["amps"] / (law.IsThreePhase ? _root3 : 1)
        : law["volts"] * law["volts"] / law["watts"];

    private static double? Dead(PartLaw law) =>
        law.Has("stalls at") && law.Has("volts") ? law["volts"] / law["stalls at"] / (law.IsThreePhase ? _root3 : 1)
        : law.Has("winding") ? law["winding"]
        : law.Has("cold") ? law["cold"]
        : null;

    private static double LedOhms(PartLaw law)
    {
        if (law.Has("ohms"))
        {
            return law["ohms"];
        }

        var over = Math.Max(0.05, law["volts"] - law["drops"]);
        return over / (law.Has("amps") ? law["amps"] : law["watts"] / law["volts"]);
    }
}
