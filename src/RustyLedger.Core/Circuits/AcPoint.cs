using System.Numerics;

namespace RustyLedger.Core.Circuits;

/// <summary>A linear circuit under one sine: the phasor of each node, in the measure in which the sources state theirs.</summary>
public sealed class AcPoint
{
    private readonly Circuit _circuit;
    private readonly Complex[] _x;

    private AcPoint(Circuit circuit, Complex[] x) => (_circuit, _x) = (circuit, x);

    /// <param name="hertz">Above 0.</param>
    /// <param name="states">How what switches stands; null for at rest. Diodes that conduct are their ohms.</param>
    /// <exception cref="SingularMatrixException">It has no solution.</exception>
    public static AcPoint Of(Circuit circuit, double hertz, IReadOnlyDictionary<string, ElementState>? states = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(hertz);
        var stand = circuit.AtRest();
        if (states is not null)
        {
            stand.Take(states);
        }

        return new AcPoint(circuit, Solution<Complex>.Of(circuit, stand, 2 * Math.PI * hertz).X);
    }

    public Complex Volts(string node) => _circuit.IndexOf(node) is var at and >= 0 ? _x[at] : Complex.Zero;

    public Complex Between(string red, string black) => Volts(red) - Volts(black);
}
