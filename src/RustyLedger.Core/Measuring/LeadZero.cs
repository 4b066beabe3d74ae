using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// What the leads themselves read when their tips touch: asked for once a round, and taken off every ohms reading after it that is small
/// enough for it to matter. It can be taken back, and every reading then stands as it was read.
/// </summary>
public static class LeadZero
{
    /// <summary>Below it the leads matter. Common practice, no source.</summary>
    public const decimal Matters = 10m;

    /// <summary>Leads that read more are broken, or their tips did not touch. Common practice, no source.</summary>
    private const decimal Most = 3m;

    /// <summary>Whether it is worth asking before a check: ohms that should be few, and no mere beep.</summary>
    public static bool MattersTo(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return check is { Check.Mode: MeterMode.Ohms, Limit: NumericLimit limit }
            && Judge.Band(limit, check.Tolerance) is var (low, high)
            && (high ?? low) < Matters;
    }

    /// <summary>A reading less the leads, at least nothing; as it was read where the leads do not matter.</summary>
    public static NumberReading Off(NumberReading read, decimal zero)
    {
        ArgumentNullException.ThrowIfNull(read);
        return read is { Unit: Unit.Ohms, Value: >= 0 and < Matters } && zero > 0
            ? read with
            {
                Value = Math.Max(0, read.Value - zero),
            }
            : read;
    }

    /// <returns>Why it cannot be what leads read; null where it can.</returns>
    public static Refusal? Refusal(ReadingValue? read) =>
        read switch
        {
            NumberReading { Unit: Unit.Ohms, Value: >= 0 and <= Most } => null,
            NumberReading { Unit: Unit.Ohms, Value: > Most } n => new Refusal(
                "typed",
                $"{n.Written} is too much for leads: press the tips together, or change the leads. "
                    + $"At most {Numbers.Write(Most)} Ω is taken."
            ),
            OverloadReading => new Refusal("typed", "OL: the tips do not touch, or a lead is broken."),
            _ => new Refusal("typed", "The leads read ohms, from 0 up."),
        };
}
