namespace RustyLedger.Core.Boards;

/// <summary>Where the pins of an element sit, worked out from two of them.</summary>
/// <param name="X">Of the upper left pin, in millimetres on the component side.</param>
/// <param name="Y">Of the upper left pin.</param>
public sealed record Footprint(decimal X, decimal Y, int Rows, decimal PitchMm, Direction Direction, Corner Pin1)
{
    // Pitches that connectors are made in, in millimetres: common practice, no source.
    private static readonly decimal[] Pitches =
    [
        1.25m,
        1.27m,
        1.5m,
        2,
        2.5m,
        2.54m,
        3,
        3.5m,
        3.81m,
        3.96m,
        4.2m,
        5,
        5.08m,
        6.35m,
        7.5m,
        7.62m,
        9.5m,
        10,
        10.16m,
    ];

    // As near as two taps on a photograph hit.
    private const double AsMade = 0.04;

    /// <summary>
    /// A footprint from where its first and last pin were tapped: which way the rows run, the pitch to the nearest one that
    /// is made, and the corner of pin 1. The last pin of several rows lies in the opposite corner.
    /// </summary>
    /// <param name="first">In millimetres on the component side.</param>
    /// <param name="last">Likewise; the same place for a single pin.</param>
    /// <param name="pins">At least 1.</param>
    /// <param name="rows">At least 1.</param>
    /// <exception cref="FormatException">The two pins are too near for so many.</exception>
    public static Footprint Of((double X, double Y) first, (double X, double Y) last, int pins, int rows)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(pins, 1);
        ArgumentOutOfRangeException.ThrowIfLessThan(rows, 1);
        var perRow = (pins + rows - 1) / rows;
        var (right, down) = (last.X - first.X, last.Y - first.Y);
        var across = Math.Abs(right) >= Math.Abs(down);
        var pitch =
            perRow == 1
                ? rows == 1
                    ? DefaultPitchMm
                    : Made(Math.Max(Math.Abs(right), Math.Abs(down)) / (rows - 1))
                : Made(Math.Max(Math.Abs(right), Math.Abs(down)) / (perRow - 1));
        if (pitch < LeastPitchMm)
        {
            throw new FormatException(
                FormattableString.Invariant($"{pins} pins do not fit between these two places: that is {pitch:0.00} mm from pin to pin.")
                    + " Tap the first pin and the last one."
            );
        }

        // A column of several rows runs across them.
        var along = perRow == 1 && rows > 1 ? !across : across;
        var (columns, lines) = along ? (perRow, rows) : (rows, perRow);
        var corner = (right < 0, down < 0) switch
        {
            (false, false) => Corner.TopLeft,
            (true, false) => Corner.TopRight,
            (false, true) => Corner.BottomLeft,
            _ => Corner.BottomRight,
        };
        if (rows == 1)
        {
            // Across the row there is no other pin, so its slight slope says nothing.
            corner = along ? (right < 0 ? Corner.TopRight : Corner.TopLeft) : (down < 0 ? Corner.BottomLeft : Corner.TopLeft);
        }

        var (middleX, middleY) = ((first.X + last.X) / 2, (first.Y + last.Y) / 2);
        return new Footprint(
            Tenths(middleX - ((double)pitch * (columns - 1) / 2)),
            Tenths(middleY - ((double)pitch * (lines - 1) / 2)),
            rows,
            pitch,
            along ? Direction.Across : Direction.Down,
            corner
        );
    }

    private const decimal DefaultPitchMm = 5;
    private const decimal LeastPitchMm = 0.4m;

    private static decimal Made(double measured)
    {
        var nearest = Pitches.MinBy(p => Math.Abs((double)p - measured));
        return Math.Abs((double)nearest - measured) <= AsMade * measured ? nearest : Math.Round((decimal)measured, 2);
    }

    private static decimal Tenths(double mm) => Math.Round((decimal)mm, 1);
}
