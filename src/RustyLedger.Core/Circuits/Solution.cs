using System.Numerics;

namespace RustyLedger.Core.Circuits;

/// <summary>The equations of a circuit, solved as it stands.</summary>
/// <typeparam name="T">Real for direct current, complex for phasors.</typeparam>
/// <param name="X">Its unknowns: the volts of the nodes, then the currents.</param>
/// <param name="Factors">Of its matrix; null where there was nothing to solve, or it was worked out from another.</param>
internal sealed record Solution<T>(T[] X, SparseLu<T>? Factors)
    where T : struct, INumberBase<T>
{
    /// <param name="omega">In radians a second; 0 for direct current.</param>
    /// <exception cref="SingularMatrixException">It has no solution.</exception>
    public static Solution<T> Of(Circuit circuit, ElementStates states, double omega = 0)
    {
        var stamps = Stamps<T>.Of(circuit, states, omega);
        var factors = SparseLu.Of(circuit.Size, stamps.Entries, circuit.Order);
        return new Solution<T>(factors.Solve(stamps.RightSide()), factors);
    }
}
