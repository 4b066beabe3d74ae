namespace RustyLedger.Core.Measuring;

/// <summary>
/// What ohms read in circuit say of the part they are read across. All else that joins its two ends lies in parallel with it, the
/// unknown paths on the board included, and resistances in parallel read less than each of them: in a passive circuit without residual
/// volts the reading is never above the part's own ohms.
/// </summary>
public static class InCircuit
{
    /// <summary>
    /// What the part can be, in ohms, when it reads so with known resistances in parallel. Unknown ones may lie there too: the part is at
    /// least what is read.
    /// </summary>
    /// <param name="read">Ohms across the part, above 0.</param>
    /// <param name="parallel">Ohms known to lie in parallel, each above 0.</param>
    /// <param name="isAllKnown">Nothing else joins the two ends.</param>
    /// <returns>The least and the most it can be; null for the most where nothing bounds it.</returns>
    public static (double Least, double? Most) Part(double read, IEnumerable<double> parallel, bool isAllKnown)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(read);
        ArgumentNullException.ThrowIfNull(parallel);
        // 1/read = 1/part + sum of 1/parallel + what is unknown.
        var left = (1 / read) - parallel.Sum(p => 1 / p);
        if (left <= 0)
        {
            // The known ones alone read no more than this: the part may be open.
            return (read, null);
        }

        return isAllKnown ? (1 / left, 1 / left) : (1 / left, null);
    }

    /// <summary>The verdict on ohms that were read with the plug in.</summary>
    public static Verdict Verdict(NumberReading read, Limit limit, DefaultTolerance tolerance)
    {
        ArgumentNullException.ThrowIfNull(read);
        var verdict = Judge.Verdict(read, limit, tolerance);
        return verdict.Kind switch
        {
            VerdictKind.Low when limit is NumericLimit or NoPathLimit => new(
                VerdictKind.NotJudged,
                "in circuit",
                $"{read.Written} in circuit: what lies in parallel reads lower too. Pull the plug or lift a leg before the part is accused"
                    + (read.Value > ShortLimit.MostOhms ? "; it is not shorted" : "")
            ),
            VerdictKind.High => verdict with
            {
                Rule = "in circuit, above",
                Reason =
                    $"{verdict.Reason}. In circuit nothing reads higher than the part itself: "
                    + "it is the part, or a contact on the way to it",
            },
            VerdictKind.Within or VerdictKind.Marginal when limit is NumericLimit => verdict with
            {
                Reason = $"{verdict.Reason}, read in circuit: the part is at least that",
            },
            _ => verdict,
        };
    }
}
