using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>Circuits drawn by lot, of all kinds of element that there are.</summary>
internal static class RandomCircuits
{
    public static Circuit Of(int seed)
    {
        var dice = new Random(seed);
        var n = dice.Next(3, 14);
        string Node(int i) => i == 0 ? "0" : $"Z{i}-J1·{i}";
        string Any() => Node(dice.Next(n));
        // From hundredths of an ohm to some hundred thousand.
        double Ohms() => Math.Round(Math.Pow(10, (dice.NextDouble() * 7) - 2), 4);
        List<CircuitElement> elements =
        [
            new VoltageSource("PS", Node(1), "0", Math.Round(5 + (dice.NextDouble() * 40), 2), dice.Next(2) == 0 ? 0 : 0.05),
        ];
        // Every node has a way to a node before it, so that what floats does so by a switch or a diode.
        for (var i = 2; i < n; i++)
        {
            elements.Add(new Resistance($"R{i}", Node(i), Node(dice.Next(i)), Ohms()));
        }

        for (var i = 0; i < n + dice.Next(n); i++)
        {
            var (a, b) = (Any(), Any());
            if (a == b)
            {
                continue;
            }

            switch (dice.Next(10))
            {
                case 0:
                    elements.Add(new VoltageSource($"B{i}", a, b, Math.Round(dice.NextDouble() * 24, 2), Ohms()));
                    break;
                case 1 or 2:
                    elements.Add(
                        new Diode(
                            $"D{i}",
                            a,
                            b,
                            Math.Round(0.3 + (dice.NextDouble() * 2), 2),
                            Math.Round(0.1 + (dice.NextDouble() * 5), 2),
                            dice.Next(4) == 0 ? 6 : null
                        )
                    );
                    break;
                case 3:
                    elements.Add(new Switch($"S{i}", a, b, dice.Next(2) == 0, 0.01));
                    break;
                case 4:
                    elements.Add(new Fuse($"F{i}", a, b, 0.5 + dice.NextDouble(), 0.02));
                    break;
                case 5:
                    elements.Add(new RelayCoil($"K{i}", a, b, 100 + dice.Next(900), 9, 3));
                    elements.Add(new RelayContact($"K{i}.1", $"K{i}", Any(), "0", dice.Next(2) == 0, 0.05));
                    break;
                case 6 when a != "0" && b != "0":
                    elements.Add(new Regulator($"U{i}", a, b, "0", 5, 1.5, 0.2 + dice.NextDouble()));
                    break;
                case 7:
                    elements.Add(new CurrentSource($"I{i}", a, b, Math.Round(dice.NextDouble() / 100, 4)));
                    break;
                default:
                    elements.Add(new Resistance($"Q{i}", a, b, Ohms()));
                    break;
            }
        }

        return new Circuit(elements);
    }

    /// <summary>Resistors, coils and capacitors on one sine.</summary>
    public static Circuit Alternating(int seed)
    {
        var dice = new Random(seed);
        var n = dice.Next(3, 12);
        string Node(int i) => i == 0 ? "0" : $"n {i}";
        double Ohms() => Math.Round(Math.Pow(10, (dice.NextDouble() * 5) - 1), 4);
        List<CircuitElement> elements = [new VoltageSource("V", Node(1), "0", 0, 0.1, 230, dice.Next(360))];
        for (var i = 2; i < n; i++)
        {
            elements.Add(new Resistance($"R{i}", Node(i), Node(dice.Next(i)), Ohms()));
        }

        for (var i = 0; i < n; i++)
        {
            var (a, b) = (Node(dice.Next(n)), Node(dice.Next(n)));
            if (a == b)
            {
                continue;
            }

            elements.Add(
                dice.Next(5) switch
                {
                    0 => new Capacitance($"C{i}", a, b, Math.Pow(10, -(dice.NextDouble() * 5) - 4)),
                    1 => new Inductance($"L{i}", a, b, Math.Pow(10, -dice.NextDouble() * 3), 1 + dice.NextDouble()),
                    2 => new Transformer($"T{i}", a, b, Node(dice.Next(n)), "0", 0.05 + dice.NextDouble(), 0.5, 2),
                    3 => new VoltageSource($"W{i}", a, b, 0, 1, dice.Next(1, 100), dice.Next(360)),
                    _ => new Resistance($"Q{i}", a, b, Ohms()),
                }
            );
        }

        return new Circuit(elements.Where(e => e is not Transformer { S1: "0" }));
    }
}
