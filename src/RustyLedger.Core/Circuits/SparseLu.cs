using System.Buffers;
using System.Numerics;

namespace RustyLedger.Core.Circuits;

/// <summary>The matrix has no inverse: a row or column says nothing that the others do not say.</summary>
public sealed class SingularMatrixException(int unknown) : Exception($"Unknown {unknown} is not determined.")
{
    /// <summary>The unknown at which no pivot was left.</summary>
    public int Unknown { get; } = unknown;
}

/// <summary>Factors sparse matrices.</summary>
public static class SparseLu
{
    /// <param name="n">Rows and columns.</param>
    /// <param name="entries">Of the matrix; those of one place are added up.</param>
    /// <param name="columnOrder">Of a matrix of the same pattern, see <see cref="OrderOf"/>; null to work it out.</param>
    /// <exception cref="SingularMatrixException">It has no inverse.</exception>
    public static SparseLu<T> Of<T>(int n, IEnumerable<(int Row, int Column, T Value)> entries, int[]? columnOrder = null)
        where T : struct, INumberBase<T>
    {
        ArgumentNullException.ThrowIfNull(entries);
        var all = entries as List<(int Row, int Column, T Value)> ?? [.. entries];
        var (starts, rows, values) = Columns(n, all);
        var factors = new SparseLu<T>(n, columnOrder ?? OrderOf(n, all.Select(e => (e.Row, e.Column))));
        factors.Factor(starts, rows, values);
        return factors;
    }

    /// <summary>Column by column, those of one place added up: where each column begins, its rows and its values.</summary>
    private static (int[] Starts, int[] Rows, T[] Values) Columns<T>(int n, List<(int Row, int Column, T Value)> entries)
        where T : struct, INumberBase<T>
    {
        var next = new int[n + 1];
        foreach (var (_, column, _) in entries)
        {
            next[column + 1]++;
        }

        for (var column = 0; column < n; column++)
        {
            next[column + 1] += next[column];
        }

        var (rows, values) = (new int[entries.Count], new T[entries.Count]);
        foreach (var (row, column, value) in entries)
        {
            var at = next[column]++;
            (rows[at], values[at]) = (row, value);
        }

        // By now each stands where its column ends.
        var (starts, placeOf, kept, from) = (new int[n + 1], new int[n], 0, 0);
        Array.Fill(placeOf, -1);
        for (var column = 0; column < n; column++)
        {
            for (; from < next[column]; from++)
            {
                ref var place = ref placeOf[rows[from]];
                if (place >= starts[column])
                {
                    values[place] += values[from];
                }
                else
                {
                    place = kept;
                    (rows[kept], values[kept]) = (rows[from], values[from]);
                    kept++;
                }
            }

            starts[column + 1] = kept;
        }

        return (starts, rows, values);
    }

    /// <summary>The columns in the order of least degree: each is eliminated when it has the fewest neighbours left.</summary>
    /// <param name="pattern">Where the matrix has entries.</param>
    public static int[] OrderOf(int n, IEnumerable<(int Row, int Column)> pattern)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        var neighbours = new HashSet<int>[n];
        for (var i = 0; i < n; i++)
        {
            neighbours[i] = [];
        }

        foreach (var (row, column) in pattern)
        {
            if (row != column)
            {
                neighbours[row].Add(column);
                neighbours[column].Add(row);
            }
        }

        // By degree, then by index, so that one matrix always has one order.
        var byDegree = new SortedSet<(int Degree, int Node)>(Enumerable.Range(0, n).Select(i => (neighbours[i].Count, i)));
        var order = new int[n];
        for (var k = 0; k < n; k++)
        {
            var least = byDegree.Min;
            byDegree.Remove(least);
            var (_, node) = least;
            order[k] = node;
            var around = neighbours[node].ToArray();
            foreach (var a in around)
            {
                byDegree.Remove((neighbours[a].Count, a));
                neighbours[a].Remove(node);
            }

            for (var i = 0; i < around.Length; i++)
            {
                for (var j = i + 1; j < around.Length; j++)
                {
                    neighbours[around[i]].Add(around[j]);
                    neighbours[around[j]].Add(around[i]);
                }
            }

            foreach (var a in around)
            {
                byDegree.Add((neighbours[a].Count, a));
            }

            neighbours[node] = [];
        }

        return order;
    }
}

/// <summary>
/// Triangular factors of a sparse matrix, column by column (Gilbert and Peierls, "Sparse partial pivoting in time proportional to
/// arithmetic operations", 1988). The columns are taken in the order of least degree of the pattern made symmetric, so that few new
/// entries arise; rows are exchanged where the entry on the diagonal is much smaller than the largest of its column.
/// </summary>
/// <typeparam name="T">Real or complex.</typeparam>
public sealed class SparseLu<T>
    where T : struct, INumberBase<T>
{
    // The diagonal is kept unless it is smaller than this share of the column's largest: it keeps the order that saves entries.
    private const double DiagonalShare = 0.1;

    private readonly int _n;
    private readonly int[] _columnOrder;
    private readonly int[] _pivotOfRow;
    private readonly int[] _rowOfPivot;
    private readonly Columns _lower;
    private readonly Columns _upper;
    private readonly T[] _diagonal;

    /// <summary>Columns one behind the other, each as it was added.</summary>
    private sealed class Columns(int n)
    {
        private int[] _rows = new int[2 * n];
        private T[] _values = new T[2 * n];
        private readonly int[] _ends = new int[n];

        public int Count { get; private set; }

        public void Add(int row, T value)
        {
            if (Count == _rows.Length)
            {
                Resize(2 * Count + 8);
            }

            (_rows[Count], _values[Count]) = (row, value);
            Count++;
        }

        /// <summary>What was added since the last end is this column.</summary>
        public void End(int column) => _ends[column] = Count;

        /// <summary>There come no more: hundreds of factors are kept of a machine.</summary>
        public void Trim() => Resize(Count);

        private void Resize(int length)
        {
            Array.Resize(ref _rows, length);
            Array.Resize(ref _values, length);
        }

        public ReadOnlySpan<int> Rows(int column) => _rows.AsSpan(Start(column).._ends[column]);

        public ReadOnlySpan<T> Values(int column) => _values.AsSpan(Start(column).._ends[column]);

        private int Start(int column) => column == 0 ? 0 : _ends[column - 1];
    }

    internal SparseLu(int n, int[] columnOrder)
    {
        (_n, _columnOrder) = (n, columnOrder);
        _pivotOfRow = new int[n];
        Array.Fill(_pivotOfRow, -1);
        _rowOfPivot = new int[n];
        (_lower, _upper) = (new Columns(n), new Columns(n));
        _diagonal = new T[n];
    }

    /// <summary>How many entries the factors have.</summary>
    public int Entries => _n + _lower.Count + _upper.Count;

    internal void Factor(ReadOnlySpan<int> starts, ReadOnlySpan<int> rows, ReadOnlySpan<T> values)
    {
        var x = new T[_n];
        var isIn = new bool[_n];
        var reached = new int[_n];
        // The rows of the way down, each with how far it was looked through.
        var path = new int[2 * _n];
        for (var k = 0; k < _n; k++)
        {
            var (from, to) = (starts[_columnOrder[k]], starts[_columnOrder[k] + 1]);
            var count = 0;
            for (var i = from; i < to; i++)
            {
                if (!isIn[rows[i]])
                {
                    Reach(rows[i], isIn, reached, ref count, path);
                }
            }

            var reach = reached.AsSpan(0, count);

            for (var i = from; i < to; i++)
            {
                x[rows[i]] = values[i];
            }

            // The reach lies in the order in which it was left: from the last on, what depends comes after what it depends on.
            for (var r = reach.Length - 1; r >= 0; r--)
            {
                var row = reach[r];
                var pivot = _pivotOfRow[row];
                if (pivot < 0)
                {
                    continue;
                }

                var value = x[row];
                _upper.Add(pivot, value);
                if (value != T.Zero)
                {
                    Subtract(x, _lower, pivot, value);
                }
            }

            _upper.End(k);

            var (best, size, diagonal) = (-1, 0.0, -1.0);
            foreach (var row in reach)
            {
                if (_pivotOfRow[row] < 0)
                {
                    var here = SizeOf(x[row]);
                    (best, size) = here > size ? (row, here) : (best, size);
                    diagonal = row == _columnOrder[k] ? here : diagonal;
                }
            }

            if (best < 0 || !double.IsFinite(size) || size < 1e-300)
            {
                throw new SingularMatrixException(_columnOrder[k]);
            }

            best = diagonal >= DiagonalShare * size ? _columnOrder[k] : best;
            var by = x[best];
            foreach (var row in reach)
            {
                if (_pivotOfRow[row] < 0 && row != best && x[row] != T.Zero)
                {
                    _lower.Add(row, x[row] / by);
                }

                x[row] = T.Zero;
                isIn[row] = false;
            }

            _lower.End(k);
            _pivotOfRow[best] = k;
            _rowOfPivot[k] = best;
            _diagonal[k] = by;
        }

        _lower.Trim();
        _upper.Trim();
    }

    private static void Subtract(T[] from, Columns columns, int column, T times)
    {
        var rows = columns.Rows(column);
        var values = columns.Values(column)[..rows.Length];
        for (var i = 0; i < rows.Length; i++)
        {
            from[rows[i]] -= values[i] * times;
        }
    }

    /// <summary>
    /// All rows that an entry in a row reaches through the lower factor, and that are not in yet, in the order in which they are left.
    /// </summary>
    private void Reach(int from, bool[] isIn, int[] reached, ref int count, int[] path)
    {
        isIn[from] = true;
        (path[0], path[1]) = (from, 0);
        for (var depth = 1; depth > 0; )
        {
            var top = 2 * (depth - 1);
            var row = path[top];
            var pivot = _pivotOfRow[row];
            var below = pivot < 0 ? [] : _lower.Rows(pivot);
            var next = path[top + 1];
            while (next < below.Length && isIn[below[next]])
            {
                next++;
            }

            if (next >= below.Length)
            {
                reached[count++] = row;
                depth--;
                continue;
            }

            path[top + 1] = next + 1;
            isIn[below[next]] = true;
            (path[top + 2], path[top + 3]) = (below[next], 0);
            depth++;
        }
    }

    /// <summary>The solution of A x = b.</summary>
    public T[] Solve(ReadOnlySpan<T> right)
    {
        var rest = ArrayPool<T>.Shared.Rent(_n);
        var y = ArrayPool<T>.Shared.Rent(_n);
        right.CopyTo(rest);
        for (var k = 0; k < _n; k++)
        {
            var value = y[k] = rest[_rowOfPivot[k]];
            if (value != T.Zero)
            {
                Subtract(rest, _lower, k, value);
            }
        }

        var x = new T[_n];
        for (var k = _n - 1; k >= 0; k--)
        {
            if (y[k] != T.Zero)
            {
                var value = x[_columnOrder[k]] = y[k] / _diagonal[k];
                Subtract(y, _upper, k, value);
            }
        }

        ArrayPool<T>.Shared.Return(rest);
        ArrayPool<T>.Shared.Return(y);
        return x;
    }

    internal static double SizeOf(T value) =>
        typeof(T) == typeof(double) ? Math.Abs((double)(object)value)
        : typeof(T) == typeof(Complex) ? ((Complex)(object)value).Magnitude
        : double.CreateTruncating(T.Abs(value));
}
