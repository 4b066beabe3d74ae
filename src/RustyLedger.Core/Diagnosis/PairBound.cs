namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// How well two faults at once explain all findings at most: each as well as the better of the two, and where both move a reading and may
/// meet at what was read, as well as any fault does.
/// </summary>
internal sealed class PairBound
{
    // By what is assumed of a machine, two moves come to so much more or less together.
    private const double Spare = 0.25;

    private readonly double[] _most;
    private readonly double[] _read;
    private readonly double[] _steps;

    // What the findings from each on can add at most.
    private readonly double[] _left;

    /// <param name="most">How well the best single one explains each finding, as a logarithm; those at which most fail first.</param>
    /// <param name="read">What was read, from what a healthy machine reads; NaN of what is no number.</param>
    /// <param name="steps">The least of a reading that anybody sees.</param>
    public PairBound(double[] most, double[] read, double[] steps)
    {
        (_most, _read, _steps) = (most, read, steps);
        _left = new double[most.Length + 1];
        for (var i = most.Length - 1; i >= 0; i--)
        {
            _left[i] = _left[i + 1] + most[i];
        }
    }

    /// <param name="a">How each finding speaks of the one, as a logarithm, and what it moves it by; 0 where nobody would see it.</param>
    /// <param name="b">The same of the other.</param>
    /// <param name="before">The logarithm of both before any finding.</param>
    /// <returns>Negative infinity where it stays below <paramref name="floor"/>.</returns>
    public double Of((double[] Speaks, double[] Moves) a, (double[] Speaks, double[] Moves) b, double before, double floor)
    {
        var sum = before;
        for (var i = 0; i < _most.Length; i++)
        {
            if (sum + _left[i] <= floor)
            {
                return double.NegativeInfinity;
            }

            var (first, second) = (a.Moves[i], b.Moves[i]);
            sum += first != 0 && second != 0 && MayMeet(first, second, _read[i], _steps[i]) ? _most[i] : Math.Max(a.Speaks[i], b.Speaks[i]);
        }

        return sum > floor ? sum : double.NegativeInfinity;
    }

    /// <summary>Whether two moves of a reading together may come to what was read; all three from what a healthy machine reads.</summary>
    private static bool MayMeet(double a, double b, double read, double step)
    {
        var (x, y, size) = (Math.Abs(a), Math.Abs(b), Math.Abs(read));
        var larger = Math.Max(x, y);
        var (least, most) = a > 0 == b > 0 ? (larger, x + y) : (0, larger);
        return size >= ((1 - Spare) * least) - step && size <= ((1 + Spare) * most) + step;
    }
}
