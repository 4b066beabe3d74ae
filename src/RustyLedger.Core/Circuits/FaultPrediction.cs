using System.Numerics;
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
    private readonly Rests[] _rests;
    private readonly Scratch<double> _direct;
    private readonly Scratch<Complex> _alternating;

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
        _rests = [.. points.Select(p => new Rests(p))];
        (_direct, _alternating) = (new Scratch<double>(points[0].Circuit), new Scratch<Complex>(points[0].Circuit));
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
            var circuit = point.Circuit.With([.. changed.Select(c => on(point.Circuit[c.Name]))]);
            before = OperatingPoint.Of(circuit, before?.States, new Warm(this, _rests[i], changed));
            if (before.Problem is not null)
            {
                break;
            }
        }

        return before!;
    }

    /// <summary>A solution, with the columns of its inverse that were wanted so far.</summary>
    private class Known<T>(Circuit circuit, ElementStates states, Solution<T> solution, bool isHealthy)
        where T : struct, INumberBase<T>
    {
        private readonly Dictionary<int, (T[] Column, double Largest)> _columns = [];

        public Circuit Circuit => circuit;

        public ElementStates States => states;

        public T[] X => solution.X;

        public bool IsHealthy => isHealthy;

        /// <summary>A column of the inverse, and the largest of it in ohms.</summary>
        public (T[] Column, double Largest) Column(int row)
        {
            if (!_columns.TryGetValue(row, out var column))
            {
                var unit = new T[X.Length];
                unit[row] = T.One;
                var solved = solution.Factors!.Solve(unit);
                column = _columns[row] = (solved, Largest<T>(solved));
            }

            return column;
        }

        /// <summary>The places of what is otherwise than here, or stands otherwise.</summary>
        /// <returns>False where these are more than is worth it.</returns>
        public bool Differing(Circuit other, ElementStates there, int most, List<int> places)
        {
            places.Clear();
            other.DifferingFrom(circuit, places);
            ReadOnlySpan<ElementState> before = states.All;
            ReadOnlySpan<ElementState> now = there.All;
            for (var at = 0; places.Count <= most; at++)
            {
                at += now[at..].CommonPrefixLength(before[at..]);
                if (at == before.Length)
                {
                    return true;
                }

                if (at >= circuit.Coils)
                {
                    Add(places, circuit.PlaceOfStateful(at));
                }
                else
                {
                    foreach (var contact in circuit.ContactsOf(at))
                    {
                        Add(places, contact);
                    }
                }
            }

            return false;
        }

        private static void Add(List<int> places, int place)
        {
            if (!places.Contains(place))
            {
                places.Add(place);
            }
        }
    }

    /// <summary>The same of direct current, with what hangs together there.</summary>
    private sealed class KnownRest(Circuit circuit, ElementStates states, Solution<double> solution, bool isHealthy)
        : Known<double>(circuit, states, solution, isHealthy)
    {
        private readonly Lazy<int[]> _islands = new(() => OperatingPoint.Islands(circuit, states, solution.X));
        private readonly Lazy<bool[]> _carrying = new(() => OperatingPoint.Carrying(circuit, solution.X));

        public int[] Islands => _islands.Value;

        /// <summary>Whether each that settles carries more than the leak.</summary>
        public bool[] Carrying => _carrying.Value;

        /// <summary>Relays and fuses stand as here.</summary>
        public bool IsSoHeld(ElementStates there)
        {
            var held = Circuit.FirstSettling;
            return there.All[..held].SequenceEqual(States.All[..held]);
        }
    }

    /// <summary>What is known of one moment: last what the healthy machine came to, before it what the last faults had to be factored
    /// for.</summary>
    private sealed class Rests
    {
        // So many of the last ones are kept beside the healthy rests: the next fault is often one of the same place.
        private const int MostLearnt = 16;

        private readonly int _healthy;
        private readonly int _healthyAlternating;

        public Rests(OperatingPoint point)
        {
            foreach (var stage in point.Stages)
            {
                if (stage.Direct.Factors is not null)
                {
                    Direct.Add(new KnownRest(stage.Circuit, stage.States, stage.Direct, true));
                }

                if (stage.Alternating is { } alternating)
                {
                    Alternating.Add(new Known<Complex>(stage.Circuit, stage.States, alternating, true));
                }
            }

            (_healthy, _healthyAlternating) = (Direct.Count, Alternating.Count);
        }

        public List<KnownRest> Direct { get; } = [];

        public List<Known<Complex>> Alternating { get; } = [];

        public void Learn(KnownRest found) => Keep(Direct, found, _healthy);

        public void Learn(Known<Complex> found) => Keep(Alternating, found, _healthyAlternating);

        private static void Keep<TKnown>(List<TKnown> known, TKnown found, int healthy)
        {
            known.Insert(healthy, found);
            if (known.Count > healthy + MostLearnt)
            {
                known.RemoveAt(known.Count - 1);
            }
        }
    }

    private static double Largest<T>(T[] values)
        where T : struct, INumberBase<T>
    {
        if (values is double[] reals)
        {
            return Math.Abs(TensorPrimitives.MaxMagnitude(reals));
        }

        var largest = 0.0;
        foreach (var value in values)
        {
            var size = SparseLu<T>.SizeOf(value);
            largest = size > largest || !double.IsFinite(size) ? size : largest;
            if (!double.IsFinite(largest))
            {
                break;
            }
        }

        return largest;
    }

    /// <summary>Room to work in: what thousands of updates would take and leave again.</summary>
    private sealed class Scratch<T>(Circuit circuit)
        where T : struct, INumberBase<T>
    {
        // What is left of a difference of equal numbers is no pivot.
        private const double LeastPivot = 1e-9;

        // Of a column, in ohms: beyond it something floats.
        private const double MostOhmsLearnt = 1e6;

        // Beyond so many elements that differ, factors of one's own are as quick.
        private const int MostDiffering = 24;

        // Of a number beside 1.
        private const double LastDigit = 2.3e-16;

        // Volts and amps by which a solution may be off by its digits.
        private const double MostError = 1e-8;

        private readonly double _omega = typeof(T) == typeof(Complex) ? 2 * Math.PI * circuit.Hertz : 0;
        private readonly List<(int Row, int Column, T Value)> _changes = [];
        private readonly List<(int Row, int Column, T Value)> _right = [];
        private readonly List<int> _rows = [];
        private readonly List<T[]> _columns = [];
        private List<int> _tried = [];
        private Stamps<T>? _was;
        private Stamps<T>? _now;
        private T[] _small = [];
        private T[]? _spare;

        /// <summary>The places of what differs from the nearest that was found last.</summary>
        public List<int> Differing { get; private set; } = [];

        public TKnown? Nearest<TKnown>(List<TKnown> known, Circuit now, ElementStates states)
            where TKnown : Known<T>
        {
            TKnown? best = null;
            var most = MostDiffering;
            foreach (var one in known)
            {
                if (one.Differing(now, states, most, _tried))
                {
                    (Differing, _tried) = (_tried, Differing);
                    (best, most) = (one, Differing.Count - 1);
                    if (most <= 0)
                    {
                        break;
                    }
                }
            }

            return best;
        }

        public void Spare(T[] x) => _spare = x;

        private T[] CopyOf(T[] x)
        {
            var copy = _spare ?? GC.AllocateUninitializedArray<T>(x.Length);
            _spare = null;
            x.CopyTo(copy, 0);
            return copy;
        }

        /// <summary>x of (A + E D F) x = b + c, where E and F pick the rows and columns that differ; null where that has none.</summary>
        public T[]? Updated(Circuit circuit, ElementStates states, Known<T> near)
        {
            var (was, now) = (_was ??= Stamps<T>.None(circuit, _omega), _now ??= Stamps<T>.None(circuit, _omega));
            was.Clear();
            now.Clear();
            foreach (var place in Differing)
            {
                was.Add(place, near.Circuit.At(place), near.States);
                now.Add(place, circuit.At(place), states);
            }

            Sum(_changes, now.Entries, was.Entries);
            Sum(_right, now.Right, was.Right);
            var x = CopyOf(near.X);
            // What is taken away again at a place that hung on a leak alone leaves an error of its last digit.
            var error = 0.0;
            foreach (var (row, _, value) in _right)
            {
                var (column, largest) = near.Column(row);
                Add(x, column, value);
                error += SparseLu<T>.SizeOf(value) * largest * LastDigit;
            }

            // z: columns of the inverse at the rows; then (I + D z) y = D x at the columns that the rows see.
            _rows.Clear();
            _columns.Clear();
            foreach (var (row, _, _) in _changes)
            {
                if (_rows.Count == 0 || _rows[^1] != row)
                {
                    var (column, largest) = near.Column(row);
                    if (!near.IsHealthy && !(largest <= MostOhmsLearnt))
                    {
                        // What hangs on a leak alone there takes the digits away here.
                        Spare(x);
                        return null;
                    }

                    _rows.Add(row);
                    _columns.Add(column);
                }
            }

            var k = _rows.Count;
            var width = k + 1;
            if (_small.Length < k * width)
            {
                _small = new T[2 * k * width];
            }

            var small = _small.AsSpan(0, k * width);
            small.Clear();
            for (var i = 0; i < k; i++)
            {
                small[(i * width) + i] = T.One;
            }

            var at = 0;
            foreach (var (row, column, value) in _changes)
            {
                at += _rows[at] == row ? 0 : 1;
                var line = small.Slice(at * width, width);
                for (var j = 0; j < k; j++)
                {
                    line[j] += value * _columns[j][column];
                }

                line[k] += value * x[column];
            }

            if (!Eliminate(small, k))
            {
                Spare(x);
                return null;
            }

            for (var i = 0; i < k; i++)
            {
                error += SparseLu<T>.SizeOf(small[(i * width) + k]) * near.Column(_rows[i]).Largest * LastDigit;
            }

            if (!(error <= MostError))
            {
                Spare(x);
                return null;
            }

            for (var i = 0; i < k; i++)
            {
                Add(x, _columns[i], -small[(i * width) + k]);
            }

            return x;
        }

        /// <summary>What is now less what was, by row, then column: those of one place added up, without what comes to nothing.</summary>
        private static void Sum(
            List<(int Row, int Column, T Value)> changes,
            List<(int Row, int Column, T Value)> now,
            List<(int Row, int Column, T Value)> was
        )
        {
            changes.Clear();
            changes.AddRange(now);
            foreach (var (row, column, value) in was)
            {
                changes.Add((row, column, -value));
            }

            changes.Sort((a, b) => a.Row != b.Row ? a.Row.CompareTo(b.Row) : a.Column.CompareTo(b.Column));
            var kept = 0;
            for (var i = 0; i < changes.Count; )
            {
                var (row, column, sum) = changes[i];
                for (i++; i < changes.Count && changes[i].Row == row && changes[i].Column == column; i++)
                {
                    sum += changes[i].Value;
                }

                if (sum != T.Zero)
                {
                    changes[kept++] = (row, column, sum);
                }
            }

            changes.RemoveRange(kept, changes.Count - kept);
        }

        private static void Add(T[] x, T[] column, T times) => TensorPrimitives.MultiplyAdd<T>(column, times, x, x);

        /// <summary>By elimination with the largest pivot, the solution in the last column; false where there is no single one.</summary>
        private static bool Eliminate(Span<T> a, int k)
        {
            var width = k + 1;
            for (var c = 0; c < k; c++)
            {
                var (pivot, size) = (c, SparseLu<T>.SizeOf(a[(c * width) + c]));
                for (var r = c + 1; r < k; r++)
                {
                    var here = SparseLu<T>.SizeOf(a[(r * width) + c]);
                    (pivot, size) = here > size ? (r, here) : (pivot, size);
                }

                if (!(size >= LeastPivot))
                {
                    return false;
                }

                var from = a.Slice(c * width, width);
                if (pivot != c)
                {
                    var other = a.Slice(pivot * width, width);
                    for (var j = c; j <= k; j++)
                    {
                        (from[j], other[j]) = (other[j], from[j]);
                    }
                }

                var by = T.One / from[c];
                for (var j = c; j <= k; j++)
                {
                    from[j] *= by;
                }

                for (var r = 0; r < k; r++)
                {
                    var line = a.Slice(r * width, width);
                    if (r == c || line[c] == T.Zero)
                    {
                        continue;
                    }

                    var factor = line[c];
                    for (var j = c; j <= k; j++)
                    {
                        line[j] -= factor * from[j];
                    }
                }
            }

            return true;
        }
    }

    private sealed class Warm(FaultPrediction owner, Rests rests, IReadOnlyList<CircuitElement> faulted) : OperatingPoint.IWarm
    {
        // What the last solution was worked out from; null where it was worked out anew, and hangs together as nothing known.
        private KnownRest? _from;

        // Nothing differs from the last one that was found anew.
        private bool _isFromItself;

        public void Learn(Circuit circuit, ElementStates states, Solution<double> found)
        {
            _from = new KnownRest(circuit, states.Copy(), found, false);
            _isFromItself = true;
            rests.Learn(_from);
        }

        public void Learn(Circuit circuit, ElementStates states, Solution<Complex> found) =>
            rests.Learn(new Known<Complex>(circuit, states.Copy(), found, false));

        public void Spare(double[] x) => owner._direct.Spare(x);

        public void Guess(ElementStates states)
        {
            foreach (var like in rests.Direct)
            {
                if (like.IsHealthy && like.IsSoHeld(states))
                {
                    // What is at fault is left as it is.
                    var first = like.Circuit.FirstSettling;
                    var own = states.Copy();
                    like.States.All[first..].CopyTo(states.All[first..]);
                    foreach (var element in faulted)
                    {
                        if (own.TryGetValue(element.Name, out var state))
                        {
                            states.Set(element.Name, state);
                        }
                    }

                    return;
                }
            }
        }

        public double[]? Direct(Circuit circuit, ElementStates states)
        {
            _isFromItself = false;
            _from = owner._direct.Nearest(rests.Direct, circuit, states);
            if (_from is not null && owner._direct.Updated(circuit, states, _from) is { } x)
            {
                return x;
            }

            _from = null;
            owner.Factored++;
            return null;
        }

        public Complex[]? Alternating(Circuit circuit, ElementStates states)
        {
            if (
                owner._alternating.Nearest(rests.Alternating, circuit, states) is { } near
                && owner._alternating.Updated(circuit, states, near) is { } x
            )
            {
                return x;
            }

            owner.Factored++;
            return null;
        }

        public int[]? Islands(Circuit circuit, ElementStates states, double[] x)
        {
            // Since it was solved last, nothing has moved.
            if (_from is not { } near)
            {
                return null;
            }

            return
                _isFromItself
                || (
                    owner._direct.Differing.TrueForAll(place =>
                        OperatingPoint.JoinsAlike(place, circuit, states, x, near.Circuit, near.States, near.X)
                    ) && OperatingPoint.AreCarrying(circuit, x, near.Carrying)
                )
                ? near.Islands
                : null;
        }
    }
}
