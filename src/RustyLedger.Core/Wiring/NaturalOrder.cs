namespace RustyLedger.Core.Wiring;

/// <summary>Compares printed names so that J2 stands before J10.</summary>
public sealed class NaturalOrder : IComparer<string>
{
    public static NaturalOrder Instance { get; } = new();

    public int Compare(string? x, string? y)
    {
        if (x is null || y is null)
        {
            return string.CompareOrdinal(x, y);
        }

        var (i, j) = (0, 0);
        while (i < x.Length && j < y.Length)
        {
            if (char.IsAsciiDigit(x[i]) && char.IsAsciiDigit(y[j]))
            {
                var from = Run(x, ref i);
                var to = Run(y, ref j);
                var byNumber = from.Length != to.Length ? from.Length.CompareTo(to.Length) : from.SequenceCompareTo(to);
                if (byNumber != 0)
                {
                    return byNumber;
                }
            }
            else if (char.ToUpperInvariant(x[i]) != char.ToUpperInvariant(y[j]))
            {
                return char.ToUpperInvariant(x[i]).CompareTo(char.ToUpperInvariant(y[j]));
            }
            else
            {
                i++;
                j++;
            }
        }

        var byRest = (x.Length - i).CompareTo(y.Length - j);
        return byRest != 0 ? byRest : string.CompareOrdinal(x, y);
    }

    /// <summary>The digits from here without leading zeros; moves behind them.</summary>
    private static ReadOnlySpan<char> Run(string text, ref int at)
    {
        var start = at;
        while (at < text.Length && char.IsAsciiDigit(text[at]))
        {
            at++;
        }

        return text.AsSpan(start, at - start).TrimStart('0');
    }
}
