namespace RustyLedger.Core.Circuits;

/// <summary>
/// What a circuit reads under single faults, from its healthy solution: one element changes a few entries of the matrix, so that the new
/// solution follows from a few columns of the old inverse (Sherman, Morrison and Woodbury). Where a diode, a regulator, a relay or a fuse
/// then stands otherwise, and where a held relay might never have pulled in, it is worked out anew from off.
/// </summary>
public sealed class FaultPrediction
{
    private readonly IReadOnlyList<OperatingPoint> _points;
    private readonly List<OperatingPoint.Stage> _stages;
    private readonly Dictionary<(int Stage, int Row), double[]> _columns = [];
    private readonly List<CircuitElement> _switching;

    /// <param name="points">The healthy circuit from off to the state in question, as <see cref="ActSequence"/> gives them; each has an
    /// operating point.</param>
    /// <exception cref="ArgumentException">One of them has no operating point.</exception>
    public FaultPrediction(IReadOnlyList<OperatingPoint> points)
    {
        ArgumentNullException.ThrowIfNull(points);
        ArgumentOutOfRangeException.ThrowIfZero(points.Count);
        if (points.FirstOrDefault(p => p.Problem is not null) is { } none)
        {
            throw new ArgumentException(none.Problem!.Words, nameof(points));
        }

        _points = points;
        _stages = [.. points.SelectMany(p => p.Stages)];
        _switching = [.. points[0].Circuit.Elements.Where(e => e is Diode or Regulator)];
    }

    /// <summary>How many of the predictions so far had to be worked out anew.</summary>
    public int WorkedOutAnew { get; private set; }

    /// <summary>The last point with a fault that was there from the beginning.</summary>
    public OperatingPoint Of(CircuitFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        var last = _stages.Count - 1;
        for (var at = 0; at <= last; at++)
        {
            var stage = _stages[at];
            var faulted = fault.On(stage.Circuit[fault.Element]);
            var circuit = stage.Circuit.With(faulted);
            if (Updated(at, faulted) is not { } x || !Fits(circuit, stage, x))
            {
                break;
            }

            if (at == last)
            {
                return OperatingPoint.Updated(circuit, stage.States, x);
            }
        }

        WorkedOutAnew++;
        return Anew(fault);
    }

    private OperatingPoint Anew(CircuitFault fault)
    {
        OperatingPoint? before = null;
        foreach (var point in _points)
        {
            before = OperatingPoint.Of(point.Circuit.With(fault.On(point.Circuit[fault.Element])), before?.States);
            if (before.Problem is not null)
            {
                break;
            }
        }

        return before!;
    }

    /// <summary>Diodes and regulators stand as they stood, and the same relays and fuses move because of it.</summary>
    private bool Fits(Circuit circuit, OperatingPoint.Stage stage, double[] x)
    {
        foreach (var healthy in _switching)
        {
            if (OperatingPoint.Fitting(circuit, circuit[healthy.Name], stage.States[healthy.Name], x) is not null)
            {
                return false;
            }
        }

        var moving = OperatingPoint.Moving(circuit, x, stage.States);
        var events =
            moving.Count > 0 ? moving
            : OperatingPoint.Blowing(circuit, x, stage.States) is { } fuse ? [fuse]
            : moving;
        return events.SequenceEqual(stage.Events);
    }

    /// <summary>x of (A + E D F) x = b + c, where E and F pick the rows and columns that the element touches; null where that has none.</summary>
    private double[]? Updated(int at, CircuitElement faulted)
    {
        var stage = _stages[at];
        var was = Stamps<double>.Of(stage.Circuit, stage.Circuit[faulted.Name], stage.States);
        var now = Stamps<double>.Of(stage.Circuit, faulted, stage.States);
        var changes = now
            .Entries.Select(e => (e.Row, e.Column, e.Value))
            .Concat(was.Entries.Select(e => (e.Row, e.Column, Value: -e.Value)))
            .GroupBy(e => (e.Row, e.Column))
            .Select(g => (g.Key.Row, g.Key.Column, Value: g.Sum(e => e.Value)))
            .Where(e => e.Value != 0)
            .ToList();
        var x = (double[])stage.X.Clone();
        foreach (
            var (row, value) in now
                .Right.Concat(was.Right.Select(r => (r.Row, Value: -r.Value)))
                .GroupBy(r => r.Row, r => r.Value)
                .Select(g => (g.Key, g.Sum()))
        )
        {
            if (value != 0)
            {
                Add(x, Column(at, row), value);
            }
        }

        if (changes.Count == 0)
        {
            return x;
        }

        // z: columns of the inverse at the rows; then (I + D z) y = D x at the columns that the rows see.
        List<int> rows = [.. changes.Select(c => c.Row).Distinct()];
        var k = rows.Count;
        var small = new double[k, k + 1];
        for (var i = 0; i < k; i++)
        {
            small[i, i] = 1;
            foreach (var change in changes.Where(c => c.Row == rows[i]))
            {
                for (var j = 0; j < k; j++)
                {
                    small[i, j] += change.Value * Column(at, rows[j])[change.Column];
                }

                small[i, k] += change.Value * x[change.Column];
            }
        }

        if (Solve(small, k) is not { } y)
        {
            return null;
        }

        for (var i = 0; i < k; i++)
        {
            Add(x, Column(at, rows[i]), -y[i]);
        }

        return Array.TrueForAll(x, double.IsFinite) ? x : null;
    }

    private static void Add(double[] x, double[] column, double times)
    {
        for (var i = 0; i < x.Length; i++)
        {
            x[i] += times * column[i];
        }
    }

    private double[] Column(int at, int row)
    {
        if (!_columns.TryGetValue((at, row), out var column))
        {
            var unit = new double[_stages[at].X.Length];
            unit[row] = 1;
            column = _columns[(at, row)] = _stages[at].Factors.Solve(unit);
        }

        return column;
    }

    /// <summary>By elimination with the largest pivot; null where there is no single solution.</summary>
    private static double[]? Solve(double[,] a, int k)
    {
        for (var c = 0; c < k; c++)
        {
            var pivot = c;
            for (var r = c + 1; r < k; r++)
            {
                pivot = Math.Abs(a[r, c]) > Math.Abs(a[pivot, c]) ? r : pivot;
            }

            // What is left of a difference of equal numbers is no pivot: then it is worked out anew.
            if (Math.Abs(a[pivot, c]) < 1e-9)
            {
                return null;
            }

            for (var j = c; j <= k; j++)
            {
                (a[c, j], a[pivot, j]) = (a[pivot, j], a[c, j]);
            }

            for (var r = 0; r < k; r++)
            {
                var factor = r == c ? 0 : a[r, c] / a[c, c];
                for (var j = c; j <= k && factor != 0; j++)
                {
                    a[r, j] -= factor * a[c, j];
                }
            }
        }

        var y = new double[k];
        for (var i = 0; i < k; i++)
        {
            y[i] = a[i, k] / a[i, i];
        }

        return y;
    }
}
