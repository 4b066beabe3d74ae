namespace RustyLedger.Core.Circuits;

/// <summary>
/// What a circuit reads under single faults, from its healthy solutions on the way from off: what stands otherwise changes a few entries of
/// the matrix, so that a new solution follows from a few columns of an old inverse (Sherman, Morrison and Woodbury). Numbers alone are
/// taken
/// over: relays, fuses and diodes find their states as they would anew, from off through the same acts.
/// </summary>
public sealed class FaultPrediction
{
    private readonly IReadOnlyList<OperatingPoint> _points;
    private readonly List<Known>[] _known;

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
        _known = [.. points.Select(p => p.Stages.Select(s => new Known(s)).ToList())];
    }

    /// <summary>How many systems of equations had to be factored anew so far.</summary>
    public int Factored { get; private set; }

    /// <summary>The last point with a fault that was there from the beginning.</summary>
    public OperatingPoint Of(CircuitFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return Of([fault.Faulted], fault.On);
    }

    /// <summary>
    /// The last point with elements that were so from the beginning; a switch among them is turned on the way unless it is welded.
    /// </summary>
    public OperatingPoint Of(IReadOnlyList<CircuitElement> faulted)
    {
        ArgumentNullException.ThrowIfNull(faulted);
        return Of(faulted, now => Stands(now, faulted));
    }

    private static CircuitElement Stands(CircuitElement now, IReadOnlyList<CircuitElement> faulted) =>
        (now, faulted.First(f => f.Name == now.Name)) switch
        {
            (Switch at, Switch { IsWelded: false } then) => at with { Ohms = then.Ohms },
            (_, var then) => then,
        };

    private OperatingPoint Of(IReadOnlyList<CircuitElement> changed, Func<CircuitElement, CircuitElement> on)
    {
        OperatingPoint? before = null;
        foreach (var (i, point) in _points.Index())
        {
            List<CircuitElement> faulted = [.. changed.Select(c => on(point.Circuit[c.Name]))];
            var circuit = point.Circuit.With(faulted);
            // What alternates or converts has no low-rank way from the healthy solution: it is solved as a whole.
            before =
                circuit.HasAc || circuit.HasConverters || faulted.Count > 1
                    ? OperatingPoint.Of(circuit, before?.States)
                    : OperatingPoint.Of(circuit, before?.States, new Warm(this, _known[i], faulted[0]));
            if (before.Problem is not null)
            {
                break;
            }
        }

        return before!;
    }

    /// <summary>A solution, with the columns of its inverse that were wanted so far.</summary>
    /// <param name="faulted">The element that was otherwise than on the healthy machine; null for a healthy rest.</param>
    private sealed class Known(OperatingPoint.Stage stage, string? faulted = null)
    {
        public bool IsHealthy => faulted is null;

        private readonly Dictionary<int, double[]> _columns = [];
        private readonly ILookup<string, string> _contacts = stage.Circuit.Contacts;

        private readonly Lazy<int[]> _islands = new(() => OperatingPoint.Islands(stage.Circuit, stage.States, stage.X));

        public OperatingPoint.Stage Stage { get; } = stage;

        public int[] Islands => _islands.Value;

        public double[] Column(int row)
        {
            if (!_columns.TryGetValue(row, out var column))
            {
                var unit = new double[Stage.X.Length];
                unit[row] = 1;
                column = _columns[row] = Stage.Factors!.Solve(unit);
            }

            return column;
        }

        /// <summary>Relays and fuses stand as here.</summary>
        public bool IsSoHeld(Dictionary<string, ElementState> states)
        {
            foreach (var coil in Stage.Circuit.Coils)
            {
                if (states[coil.Name] != Stage.States[coil.Name])
                {
                    return false;
                }
            }

            foreach (var fuse in Stage.Circuit.Fuses)
            {
                if (states[fuse.Name] != Stage.States[fuse.Name])
                {
                    return false;
                }
            }

            return true;
        }

        /// <summary>What stands otherwise than here, but for what is at fault; null where that is more than is worth it.</summary>
        public List<string>? Differing(IReadOnlyDictionary<string, ElementState> states, string of, int most)
        {
            List<string> differing = faulted is null || faulted == of ? [of] : [of, faulted];
            if (differing.Count > most)
            {
                return null;
            }

            foreach (var element in Stage.Circuit.Stateful)
            {
                if (states[element.Name] != Stage.States[element.Name])
                {
                    if (element is RelayCoil)
                    {
                        differing.AddRange(_contacts[element.Name].Where(c => c != of && c != faulted));
                    }
                    else if (element.Name != of && element.Name != faulted)
                    {
                        differing.Add(element.Name);
                    }

                    if (differing.Count > most)
                    {
                        return null;
                    }
                }
            }

            return differing;
        }
    }

    private sealed class Warm(FaultPrediction owner, List<Known> known, CircuitElement faulted) : OperatingPoint.IWarm
    {
        // Beyond so many elements that differ, factors of one's own are as quick.
        private const int MostDiffering = 24;

        // So many of the last ones are kept beside the healthy rests: the next fault is often one of the same place. One that differs in so
        // few elements is not worth a better one.
        private const int MostLearnt = 16;
        private const int NearEnough = 3;

        // Of a column, in ohms: beyond it something floats.
        private const double MostOhmsLearnt = 1e6;

        public void Learn(OperatingPoint.Stage found)
        {
            var healthy = known.FindIndex(k => !k.IsHealthy) is var at and >= 0 ? at : known.Count;
            known.Insert(healthy, new Known(found, faulted.Name));
            if (known.Count > healthy + MostLearnt)
            {
                known.RemoveAt(known.Count - 1);
            }
        }

        // What is left of a difference of equal numbers is no pivot.
        private const double LeastPivot = 1e-9;

        public void Guess(Dictionary<string, ElementState> states)
        {
            if (known.Find(k => k.IsHealthy && k.IsSoHeld(states)) is { } like)
            {
                foreach (var element in like.Stage.Circuit.Settling)
                {
                    if (element.Name != faulted.Name)
                    {
                        states[element.Name] = like.Stage.States[element.Name];
                    }
                }
            }
        }

        private (Known Near, List<string> Differing)? Nearest(IReadOnlyDictionary<string, ElementState> states)
        {
            (Known, List<string>)? best = null;
            var most = MostDiffering;
            foreach (var stage in known)
            {
                if (stage.Differing(states, faulted.Name, most) is { } differing)
                {
                    (best, most) = ((stage, differing), differing.Count - 1);
                    if (most < NearEnough)
                    {
                        break;
                    }
                }
            }

            return best;
        }

        public double[]? Solve(Circuit circuit, IReadOnlyDictionary<string, ElementState> states)
        {
            var x = Nearest(states) is var (near, differing) ? Updated(circuit, states, near, differing) : null;
            if (x is null)
            {
                owner.Factored++;
            }

            return x;
        }

        public int[]? Islands(Circuit circuit, IReadOnlyDictionary<string, ElementState> states, double[] x)
        {
            if (Nearest(states) is not var (near, differing))
            {
                return null;
            }

            var stage = near.Stage;
            return
                differing.TrueForAll(name =>
                    OperatingPoint
                        .Joins(circuit, circuit[name], states, x)
                        .SequenceEqual(OperatingPoint.Joins(stage.Circuit, stage.Circuit[name], stage.States, stage.X))
                )
                && stage.Circuit.Settling.All(e =>
                    OperatingPoint.Carries(circuit, e.Name, x) == OperatingPoint.Carries(stage.Circuit, e.Name, stage.X)
                )
                ? near.Islands
                : null;
        }

        /// <summary>x of (A + E D F) x = b + c, where E and F pick the rows and columns that differ; null where that has none.</summary>
        private static double[]? Updated(
            Circuit circuit,
            IReadOnlyDictionary<string, ElementState> states,
            Known near,
            List<string> differing
        )
        {
            var stage = near.Stage;
            var matrix = new Dictionary<(int Row, int Column), double>();
            var right = new Dictionary<int, double>();
            foreach (var name in differing)
            {
                var was = Stamps<double>.Of(stage.Circuit, stage.Circuit[name], stage.States);
                var now = Stamps<double>.Of(circuit, circuit[name], states);
                foreach (var (sign, stamps) in ((double, Stamps<double>)[])[(1, now), (-1, was)])
                {
                    foreach (var (row, column, value) in stamps.Entries)
                    {
                        matrix[(row, column)] = matrix.GetValueOrDefault((row, column)) + (sign * value);
                    }

                    foreach (var (row, value) in stamps.Right)
                    {
                        right[row] = right.GetValueOrDefault(row) + (sign * value);
                    }
                }
            }

            var x = (double[])stage.X.Clone();
            foreach (var (row, value) in right)
            {
                if (value != 0)
                {
                    Add(x, near.Column(row), value);
                }
            }

            // z: columns of the inverse at the rows; then (I + D z) y = D x at the columns that the rows see.
            var changes = matrix.Where(m => m.Value != 0).Select(m => (m.Key.Row, m.Key.Column, m.Value)).ToList();
            List<int> rows = [.. changes.Select(c => c.Row).Distinct()];
            var columns = rows.ConvertAll(near.Column);
            if (!near.IsHealthy && columns.Exists(c => Array.Exists(c, v => Math.Abs(v) > MostOhmsLearnt)))
            {
                // What hangs on a leak alone there takes the digits away here.
                return null;
            }

            var k = rows.Count;
            var small = new double[k, k + 1];
            for (var i = 0; i < k; i++)
            {
                small[i, i] = 1;
            }

            foreach (var (row, column, value) in changes)
            {
                var i = rows.IndexOf(row);
                for (var j = 0; j < k; j++)
                {
                    small[i, j] += value * columns[j][column];
                }

                small[i, k] += value * x[column];
            }

            if (Eliminated(small, k) is not { } y)
            {
                return null;
            }

            for (var i = 0; i < k; i++)
            {
                Add(x, columns[i], -y[i]);
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

        /// <summary>By elimination with the largest pivot; null where there is no single solution.</summary>
        private static double[]? Eliminated(double[,] a, int k)
        {
            for (var c = 0; c < k; c++)
            {
                var pivot = c;
                for (var r = c + 1; r < k; r++)
                {
                    pivot = Math.Abs(a[r, c]) > Math.Abs(a[pivot, c]) ? r : pivot;
                }

                if (!(Math.Abs(a[pivot, c]) >= LeastPivot))
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
}
