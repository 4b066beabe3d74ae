namespace RustyLedger.Core.Measuring;

/// <summary>What a reading is beside that of the same machine next to it; no limit is needed for it.</summary>
/// <param name="Kind">Within, differs, or not judged.</param>
/// <param name="Words">The numbers it rests on.</param>
public sealed record TwinComparison(VerdictKind Kind, string Words)
{
    /// <summary>
    /// Two like machines may stand so far apart: a tenth of the greater, or a few tenths, whichever is more. Common practice, no source.
    /// </summary>
    private const decimal Share = 0.1m,
        Volts = 0.3m,
        Ohms = 0.5m;

    /// <param name="here">On the machine that is measured.</param>
    /// <param name="there">At the same place of the twin.</param>
    public static TwinComparison Of(ReadingValue here, ReadingValue there)
    {
        ArgumentNullException.ThrowIfNull(here);
        ArgumentNullException.ThrowIfNull(there);
        if (here.Unsteady || there.Unsteady)
        {
            return new(VerdictKind.NotJudged, $"one of them would not stand still: {here.Written} here, {there.Written} there");
        }

        return (here, there) switch
        {
            (NumberReading a, NumberReading b) when a.Unit == b.Unit => Numbers(a, b),
            (OverloadReading, NumberReading { Unit: Unit.Ohms }) or (NumberReading { Unit: Unit.Ohms }, OverloadReading) => Apart(
                here,
                there
            ),
            _ when here.GetType() != there.GetType() => new(
                VerdictKind.NotJudged,
                $"{here.Written} here and {there.Written} there cannot be set beside each other"
            ),
            (NumberReading, _) => new(VerdictKind.NotJudged, $"{here.Written} here and {there.Written} there are in different units"),
            _ => string.Equals(here.Written, there.Written, StringComparison.OrdinalIgnoreCase)
                ? new(VerdictKind.Within, $"{here.Written} on both")
                : Apart(here, there),
        };
    }

    private static TwinComparison Numbers(NumberReading a, NumberReading b)
    {
        var least = a.Unit switch
        {
            Unit.Volts => Volts,
            Unit.Ohms => Ohms,
            _ => 0m,
        };
        var most = Math.Max(Share * Math.Max(Math.Abs(a.Value), Math.Abs(b.Value)), least);
        var apart = Math.Abs(a.Value - b.Value);
        var words =
            $"{a.Written} here, {b.Written} there: {Measuring.Numbers.Write(apart)} {a.Unit.Symbol()} apart, "
            + $"{(apart <= most ? "within" : "more than")} {Measuring.Numbers.Write(most)} {a.Unit.Symbol()}";
        return new(apart <= most ? VerdictKind.Within : VerdictKind.Differs, words);
    }

    private static TwinComparison Apart(ReadingValue here, ReadingValue there) =>
        new(VerdictKind.Differs, $"{here.Written} here, {there.Written} there");
}
