using System.Numerics;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// The equations of a circuit (modified nodal analysis; Ho, Ruehli and Brennan, "The modified nodal approach to network analysis", 1975):
/// at each node the currents that leave it come to nothing, and each branch has its own law.
/// </summary>
/// <typeparam name="T">Real for direct current, complex for phasors.</typeparam>
internal sealed class Stamps<T>
    where T : struct, INumberBase<T>
{
    private readonly Circuit _circuit;

    /// <summary>Radians a second; 0 for direct current.</summary>
    private readonly double _omega;

    private Stamps(Circuit circuit, double omega) => (_circuit, _omega) = (circuit, omega);

    public List<(int Row, int Column, T Value)> Entries { get; } = [];

    /// <summary>Of the right-hand side; all in its one column.</summary>
    public List<(int Row, int Column, T Value)> Right { get; } = [];

    /// <summary>The whole circuit, with a leak at every node.</summary>
    public static Stamps<T> Of(Circuit circuit, ElementStates states, double omega = 0)
    {
        var stamps = new Stamps<T>(circuit, omega);
        stamps.Entries.EnsureCapacity(circuit.Nodes.Count + (5 * circuit.Count));
        for (var node = 0; node < circuit.Nodes.Count; node++)
        {
            stamps.Entries.Add((node, node, Real(Circuit.Leak)));
        }

        for (var place = 0; place < circuit.Count; place++)
        {
            stamps.Add(place, circuit.At(place), states);
        }

        return stamps;
    }

    /// <summary>None yet: elements are put in one by one, of this circuit or another of the same nodes.</summary>
    public static Stamps<T> None(Circuit circuit, double omega = 0) => new(circuit, omega);

    public void Clear()
    {
        Entries.Clear();
        Right.Clear();
    }

    public T[] RightSide()
    {
        var right = new T[_circuit.Size];
        foreach (var (row, _, value) in Right)
        {
            right[row] += value;
        }

        return right;
    }

    private static T Real(double value) => T.CreateChecked(value);

    private static T Turned(double size, double degrees) =>
        typeof(T) == typeof(Complex)
            ? (T)(object)Complex.FromPolarCoordinates(size, degrees * Math.PI / 180)
            : Real(size * Math.Cos(degrees * Math.PI / 180));

    private static T Imaginary(double value) => (T)(object)new Complex(0, value);

    private void Put(int row, int column, T value)
    {
        if (row >= 0 && column >= 0)
        {
            Entries.Add((row, column, value));
        }
    }

    private void Conducts(int a, int b, T siemens)
    {
        Put(a, a, siemens);
        Put(b, b, siemens);
        Put(a, b, -siemens);
        Put(b, a, -siemens);
    }

    /// <summary>The current of a branch leaves a node and enters another.</summary>
    private void Flows(int from, int to, int branch)
    {
        Put(from, branch, T.One);
        Put(to, branch, -T.One);
    }

    /// <summary>v(a) - v(b) - ohms i = volts.</summary>
    private void Law(int a, int b, int branch, T ohms, T volts)
    {
        Put(branch, a, T.One);
        Put(branch, b, -T.One);
        Put(branch, branch, -ohms);
        Right.Add((branch, 0, volts));
    }

    /// <summary>i = amps, whatever the volts.</summary>
    private void Held(int branch, double amps)
    {
        Put(branch, branch, T.One);
        Right.Add((branch, 0, Real(amps)));
    }

    private void Conductor(int place, double ohms, bool isOpen)
    {
        var nodes = _circuit.NodesAt(place);
        var (at, to, branch) = (nodes[0], nodes[1], _circuit.BranchAt(place));
        if (branch < 0)
        {
            Conducts(at, to, isOpen || double.IsPositiveInfinity(ohms) ? T.Zero : Real(1 / Math.Max(ohms, Circuit.LeastOhms)));
            return;
        }

        Flows(at, to, branch);
        if (isOpen || double.IsPositiveInfinity(ohms))
        {
            Held(branch, 0);
        }
        else
        {
            Law(at, to, branch, Real(Math.Max(ohms, Circuit.LeastOhms)), T.Zero);
        }
    }

    /// <summary>What the element at a place of the list has to say.</summary>
    public void Add(int place, CircuitElement element, ElementStates states)
    {
        var at = _circuit.NodesAt(place);
        var branch = _circuit.BranchAt(place);
        var state = _circuit.StateAt(place) is var stateful and >= 0 ? states.All[stateful] : ElementState.None;
        switch (element)
        {
            case Resistance r:
                Conductor(place, r.Ohms, false);
                break;
            case Switch s:
                Conductor(place, s.Ohms, !s.IsClosed);
                break;
            case Fuse f:
                Conductor(place, f.Ohms, state == ElementState.Blown);
                break;
            case RelayContact c:
                Conductor(place, c.Ohms, !_circuit.IsClosedAt(place, c, states));
                break;
            case RelayCoil c:
                Conductor(place, c.Ohms, false);
                break;
            case VoltageSource v:
                Flows(at[0], at[1], branch);
                if (double.IsPositiveInfinity(v.Ohms))
                {
                    Held(branch, 0);
                    break;
                }

                Law(at[0], at[1], branch, Real(v.Ohms), _omega > 0 ? Turned(v.AcVolts, v.Degrees) : Real(v.Volts));
                break;
            case CurrentSource i when _omega == 0:
                foreach (var (node, amps) in ((int, double)[])[(at[0], -i.Amps), (at[1], i.Amps)])
                {
                    if (node >= 0)
                    {
                        Right.Add((node, 0, Real(amps)));
                    }
                }

                break;
            case Diode d:
                Flows(at[0], at[1], branch);
                switch (state)
                {
                    case ElementState.On:
                        Law(at[0], at[1], branch, Real(d.Ohms), Real(_omega > 0 ? 0 : d.ForwardVolts));
                        break;
                    case ElementState.Breakdown:
                        Law(at[0], at[1], branch, Real(d.Ohms), Real(_omega > 0 ? 0 : -(d.ReverseVolts ?? double.PositiveInfinity)));
                        break;
                    default:
                        Held(branch, 0);
                        break;
                }

                break;
            case Regulator r:
                // Its current comes in at the input and leaves at the output.
                Flows(at[0], at[1], branch);
                switch (state)
                {
                    case ElementState.Regulating:
                        Law(at[1], at[2], branch, T.Zero, Real(_omega > 0 ? 0 : r.Volts));
                        break;
                    case ElementState.DroppedOut:
                        Law(at[0], at[1], branch, T.Zero, Real(_omega > 0 ? 0 : r.DropOut));
                        break;
                    case ElementState.Limiting:
                        Held(branch, _omega > 0 ? 0 : r.Limit);
                        break;
                    default:
                        Held(branch, 0);
                        break;
                }

                break;
            case Converter c:
                Conducts(at[0], at[1], Real(c.InSiemens));
                Flows(at[3], at[2], branch);
                switch (state)
                {
                    case ElementState.Regulating when _omega == 0:
                        Law(at[3], at[2], branch, Real(Math.Max(c.Ohms, Circuit.LeastOhms)), Real(-c.OpenVolts));
                        break;
                    case ElementState.Limiting when _omega == 0:
                        Held(branch, c.Limit);
                        break;
                    default:
                        Held(branch, 0);
                        break;
                }

                break;
            case Capacitance c:
                Conducts(at[0], at[1], _omega > 0 ? Imaginary(_omega * c.Farads) : T.Zero);
                break;
            case Inductance l:
                Flows(at[0], at[1], branch);
                Law(
                    at[0],
                    at[1],
                    branch,
                    Real(Math.Max(l.Ohms, Circuit.LeastOhms)) + (_omega > 0 ? Imaginary(_omega * l.Henry) : T.Zero),
                    T.Zero
                );
                break;
            case Transformer { SecondaryOhms: double.PositiveInfinity } t:
                Conducts(at[0], at[1], _omega > 0 ? T.Zero : Real(1 / Math.Max(t.PrimaryOhms, Circuit.LeastOhms)));
                Held(branch, 0);
                break;
            case Transformer t when _omega > 0:
                // The branch carries the secondary's current, out of S1; the primary takes ratio times it.
                var (ratio, turn) = (Real(t.Ratio), branch);
                Put(at[2], turn, -T.One);
                Put(at[3], turn, T.One);
                Put(at[0], turn, ratio);
                Put(at[1], turn, -ratio);
                Put(turn, at[2], T.One);
                Put(turn, at[3], -T.One);
                Put(turn, at[0], -ratio);
                Put(turn, at[1], ratio);
                Put(turn, turn, Real(Math.Max(t.SecondaryOhms, Circuit.LeastOhms)));
                break;
            case Transformer t:
                // To direct current each winding is a piece of wire.
                Conducts(at[0], at[1], Real(1 / Math.Max(t.PrimaryOhms, Circuit.LeastOhms)));
                Flows(at[2], at[3], branch);
                Law(at[2], at[3], branch, Real(Math.Max(t.SecondaryOhms, Circuit.LeastOhms)), T.Zero);
                break;
        }
    }
}
