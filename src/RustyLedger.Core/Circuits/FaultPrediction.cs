using System.Numerics.Tensors;

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
        private readonly Lazy<int[]> _islands = new(() => OperatingPoint.Islands(stage.Circuit, stage.States, stage.X));
        private readonly Lazy<bool[]> _carrying = new(() => OperatingPoint.Carrying(stage.Circuit, stage.X));

        public OperatingPoint.Stage Stage { get; } = stage;

        public int[] Islands => _islands.Value;

        /// <summary>Whether each that settles carries more than the leak.</summary>
        public bool[] Carrying => _carrying.Value;

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
        public bool IsSoHeld(ElementStates states)
        {
            var held = Stage.Circuit.FirstSettling;
            return states.All[..held].SequenceEqual(Stage.States.All[..held]);
        }

        /// <summary>What stands otherwise than here, but for what is at fault; null where that is more than is worth it.</summary>
        public List<string>? Differing(ElementStates states, string of, int most)
        {
            var isOther = faulted is not null && faulted != of;
            if (most < (isOther ? 2 : 1))
            {
                return null;
            }

            List<string> differing = isOther ? [of, faulted!] : [of];
            ReadOnlySpan<ElementState> here = Stage.States.All;
            ReadOnlySpan<ElementState> there = states.All;
            for (var at = 0; ; at++)
            {
                at += there[at..].CommonPrefixLength(here[at..]);
                if (at == here.Length)
                {
                    return differing;
                }

                var name = Stage.Circuit.Stateful[at].Name;
                if (at < Stage.Circuit.Coils)
                {
                    differing.AddRange(Stage.Circuit.Contacts[name].Where(c => c != of && c != faulted));
                }
                else if (name != of && name != faulted)
                {
                    differing.Add(name);
                }

                if (differing.Count > most)
                {
                    return null;
                }
            }
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

        // What the last solution was worked out from; null where it was worked out anew.
        private (Known Near, List<string> Differing)? _from;

        public void Learn(OperatingPoint.Stage found)
        {
            var healthy = known.FindIndex(k => !k.IsHealthy) is var at and >= 0 ? at : known.Count;
            known.Insert(healthy, new Known(found, faulted.Name));
            _from = (known[healthy], []);
            if (known.Count > healthy + MostLearnt)
            {
                known.RemoveAt(known.Count - 1);
            }
        }

        // What is left of a difference of equal numbers is no pivot.
        private const double LeastPivot = 1e-9;

        public void Guess(ElementStates states)
        {
            foreach (var like in known)
            {
                if (like.IsHealthy && like.IsSoHeld(states))
                {
                    // What is at fault is left as it is.
                    var own = states.TryGetValue(faulted.Name, out var state);
                    var first = like.Stage.Circuit.FirstSettling;
                    like.Stage.States.All[first..].CopyTo(states.All[first..]);
                    if (own)
                    {
                        states.Set(faulted.Name, state);
                    }

                    return;
                }
            }
        }

        private (Known Near, List<string> Differing)? Nearest(ElementStates states)
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

        public double[]? Solve(Circuit circuit, ElementStates states)
        {
            _from = Nearest(states);
            var x = _from is var (near, differing) ? Updated(circuit, states, near, differing) : null;
            if (x is null)
            {
                _from = null;
                owner.Factored++;
            }

            return x;
        }

        public int[]? Islands(Circuit circuit, ElementStates states, double[] x)
        {
            // Since it was solved last, nothing has moved.
            if (_from is not var (near, differing))
            {
                return null;
            }

            var stage = near.Stage;
            return
                differing.TrueForAll(name => OperatingPoint.JoinsAlike(name, circuit, states, x, stage))
                && OperatingPoint.AreCarrying(circuit, x, near.Carrying)
                ? near.Islands
                : null;
        }

        /// <summary>x of (A + E D F) x = b + c, where E and F pick the rows and columns that differ; null where that has none.</summary>
        private static double[]? Updated(Circuit circuit, ElementStates states, Known near, List<string> differing)
        {
            var stage = near.Stage;
            var (was, now) = (Stamps<double>.None(stage.Circuit), Stamps<double>.None(circuit));
            foreach (var name in differing)
            {
                was.Add(stage.Circuit[name], stage.States);
                now.Add(circuit[name], states);
            }

            var changes = now.Entries;
            foreach (var (row, column, value) in was.Entries)
            {
                changes.Add((row, column, -value));
            }

            List<(int Row, int Column, double Value)> right = [];
            foreach (var (row, value) in now.Right)
            {
                right.Add((row, 0, value));
            }

            foreach (var (row, value) in was.Right)
            {
                right.Add((row, 0, -value));
            }

            Sum(changes);
            Sum(right);
            var x = (double[])stage.X.Clone();
            foreach (var (row, _, value) in right)
            {
                Add(x, near.Column(row), value);
            }

            // z: columns of the inverse at the rows; then (I + D z) y = D x at the columns that the rows see.
            List<int> rows = [];
            List<double[]> columns = [];
            foreach (var (row, _, _) in changes)
            {
                if (rows.Count == 0 || rows[^1] != row)
                {
                    rows.Add(row);
                    columns.Add(near.Column(row));
                }
            }

            if (!near.IsHealthy && columns.Exists(c => Largest(c) > MostOhmsLearnt))
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

            var at = 0;
            foreach (var (row, column, value) in changes)
            {
                at += rows[at] == row ? 0 : 1;
                for (var j = 0; j < k; j++)
                {
                    small[at, j] += value * columns[j][column];
                }

                small[at, k] += value * x[column];
            }

            if (Eliminated(small, k) is not { } y)
            {
                return null;
            }

            for (var i = 0; i < k; i++)
            {
                Add(x, columns[i], -y[i]);
            }

            return double.IsFinite(Largest(x)) ? x : null;
        }

        /// <summary>By row, then column; those of one place added up, and what comes to nothing left out.</summary>
        private static void Sum(List<(int Row, int Column, double Value)> changes)
        {
            changes.Sort((a, b) => a.Row != b.Row ? a.Row.CompareTo(b.Row) : a.Column.CompareTo(b.Column));
            var kept = 0;
            for (var i = 0; i < changes.Count; )
            {
                var (row, column, sum) = changes[i];
                for (i++; i < changes.Count && changes[i].Row == row && changes[i].Column == column; i++)
                {
                    sum += changes[i].Value;
                }

                if (sum != 0)
                {
                    changes[kept++] = (row, column, sum);
                }
            }

            changes.RemoveRange(kept, changes.Count - kept);
        }

        private static double Largest(double[] values) => TensorPrimitives.MaxMagnitude(values) is var most ? Math.Abs(most) : 0;

        private static void Add(double[] x, double[] column, double times) => TensorPrimitives.MultiplyAdd(column, times, x, x);

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
