using System.Globalization;
using MathNet.Numerics.LinearAlgebra;

namespace RustyLedger.Core.Boards;

/// <summary>How well a layout lies on a picture.</summary>
/// <param name="Homography">Null where it cannot be laid; then <paramref name="Says"/> tells why.</param>
/// <param name="Says">In a sentence: what is missing, what is wrong, or how well it fits.</param>
/// <param name="ResidualsMm">For each point, how far on the board it lies from where the others and it would have it.</param>
/// <param name="RmsMm">Root of the mean square of the residuals.</param>
/// <param name="Outlier">The point that disagrees with all others, by its place in the list; null for none.</param>
public sealed record PictureFit(Homography? Homography, string Says, IReadOnlyList<double> ResidualsMm, double RmsMm, int? Outlier)
{
    public const int FewestPoints = 4;
    public const int MostPoints = 20;

    // Share of the square over the widest distance that a triangle of three of the four points must have.
    private const double LeastArea = 0.01;
    private const double SamePlaceMm = 0.5;
    private const double SamePlacePixels = 2;

    private const double SlipMm = 0.6;

    // How far a finger misses, each way (one standard deviation). Common practice, no source.
    private const double FingerMm = 0.5;

    // How often a good point may be named among good ones, and how much likelier the named one must be than the next.
    private const double FalseAlarms = 0.01;
    private const double Likelier = 100;

    // With five points, any four fit exactly: one of them is wrong, but none can be named.
    private const int FewestToName = 6;

    /// <summary>Lays the board on the picture by its marked points.</summary>
    /// <param name="widthMm">Of the board; its four corners must lie before the horizon too.</param>
    public static PictureFit Of(IReadOnlyList<MarkedPoint> points, double widthMm, double heightMm)
    {
        ArgumentNullException.ThrowIfNull(points);
        if (points.Count < FewestPoints)
        {
            return Refused(
                FewestPoints - points.Count is 1
                    ? "One more point, and the layout lies on the picture."
                    : $"{FewestPoints - points.Count} more points, and the layout lies on the picture."
            );
        }

        if (points.Count > MostPoints)
        {
            return Refused($"{points.Count} points; at most {MostPoints} are used.");
        }

        if (SamePlace(points) is { } same)
        {
            return Refused(same);
        }

        if (InLine(points, p => (p.BoardX, p.BoardY)) || InLine(points, p => (p.PictureX, p.PictureY)))
        {
            return Refused("The points lie nearly on one line. Mark one well away from it, such as a corner of the board.");
        }

        var h = Homography.Fit(points);
        if (Fold(h, points, widthMm, heightMm) is { } fold)
        {
            return Refused(fold);
        }

        var residuals = Residuals(h, points);
        var rms = Rms(residuals);
        var odd = points.Count >= FewestToName ? Odd(points) : null;
        var fits = $"{points.Count} points agree to {Mm(rms)}";
        var says =
            odd is { } named
                ? $"{points[named.Point].Name} disagrees with the other {points.Count - 1} by {Mm(named.MissesMm)}. Mark it "
                    + $"again, or take it away."
            : points.Count == FewestPoints ? "The layout lies on the picture. A fifth point would check it."
            : points.Count < FewestToName && rms > SlipMm ? $"{fits}: one of them is off. A sixth would tell which."
            : rms > 2 * SlipMm ? $"{fits}: something is off, but not which. One point more would tell."
            : $"{fits}.";
        return new PictureFit(h, says, residuals, rms, odd?.Point);
    }

    /// <summary>How the picture shows the board: to the nearest quarter turn, and from which side.</summary>
    public static Facing ShownBy(Homography homography, double widthMm, double heightMm)
    {
        ArgumentNullException.ThrowIfNull(homography);
        var (x, y) = homography.ToPicture(widthMm / 2, heightMm / 2);
        var right = Step(homography, (x, y), (widthMm / 2) + 1, heightMm / 2);
        var down = Step(homography, (x, y), widthMm / 2, (heightMm / 2) + 1);
        var side = (right.X * down.Y) - (right.Y * down.X) < 0 ? BoardSide.Solder : BoardSide.Component;
        return Enumerable
            .Range(0, 4)
            .Select(turns => new Facing(turns, side))
            .MaxBy(facing =>
            {
                var (zeroX, zeroY) = facing.Place(0.0, 0, 1, 1);
                var (rightX, rightY) = facing.Place(1.0, 0, 1, 1);
                var (downX, downY) = facing.Place(0.0, 1, 1, 1);
                return (right.X * (rightX - zeroX))
                    + (right.Y * (rightY - zeroY))
                    + (down.X * (downX - zeroX))
                    + (down.Y * (downY - zeroY));
            });
    }

    private static (double X, double Y) Step(Homography homography, (double X, double Y) from, double x, double y)
    {
        var to = homography.ToPicture(x, y);
        var length = double.Hypot(to.X - from.X, to.Y - from.Y);
        return ((to.X - from.X) / length, (to.Y - from.Y) / length);
    }

    private static PictureFit Refused(string why) => new(null, why, [], 0, null);

    private static string? SamePlace(IReadOnlyList<MarkedPoint> points)
    {
        foreach (var (i, p) in points.Index())
        {
            foreach (var q in points.Take(i))
            {
                if (double.Hypot(p.BoardX - q.BoardX, p.BoardY - q.BoardY) < SamePlaceMm)
                {
                    return $"{q.Name} and {p.Name} are one and the same point of the board.";
                }

                if (double.Hypot(p.PictureX - q.PictureX, p.PictureY - q.PictureY) < SamePlacePixels)
                {
                    return $"{q.Name} and {p.Name} are marked at the same place of the picture.";
                }
            }
        }

        return null;
    }

    /// <summary>No four of the points span an area: each four has three that lie nearly on a line.</summary>
    private static bool InLine(IReadOnlyList<MarkedPoint> points, Func<MarkedPoint, (double X, double Y)> place)
    {
        var p = points.Select(place).ToArray();
        var widest = (from a in p from b in p select double.Hypot(a.X - b.X, a.Y - b.Y)).Max();
        var least = LeastArea * widest * widest;
        double Area(int a, int b, int c) => Math.Abs(((p[b].X - p[a].X) * (p[c].Y - p[a].Y)) - ((p[c].X - p[a].X) * (p[b].Y - p[a].Y))) / 2;
        for (var a = 0; a < p.Length; a++)
        {
            for (var b = a + 1; b < p.Length; b++)
            {
                for (var c = b + 1; c < p.Length; c++)
                {
                    if (Area(a, b, c) < least)
                    {
                        continue;
                    }

                    for (var d = c + 1; d < p.Length; d++)
                    {
                        if (Area(a, b, d) >= least && Area(a, c, d) >= least && Area(b, c, d) >= least)
                        {
                            return false;
                        }
                    }
                }
            }
        }

        return true;
    }

    /// <summary>A camera sees all marked points before its horizon; where it would not, two of them are exchanged.</summary>
    private static string? Fold(Homography h, IReadOnlyList<MarkedPoint> points, double widthMm, double heightMm)
    {
        var side = Math.Sign(h.Depth(points[0].BoardX, points[0].BoardY));
        if (points.Any(p => Math.Sign(h.Depth(p.BoardX, p.BoardY)) != side))
        {
            return $"The points do not lie so on any flat board seen from one place: two of "
                + $"{string.Join(", ", points.Select(p => p.Name))} are likely exchanged.";
        }

        (double X, double Y)[] corners = [(0, 0), (widthMm, 0), (0, heightMm), (widthMm, heightMm)];
        return corners.Any(c => Math.Sign(h.Depth(c.X, c.Y)) != side)
            ? "Laid by these points, the board would reach behind the camera. Mark points nearer its corners."
            : null;
    }

    private static double[] Residuals(Homography h, IEnumerable<MarkedPoint> points) =>
        [
            .. points.Select(p =>
            {
                var (x, y) = h.ToBoard(p.PictureX, p.PictureY);
                return double.Hypot(x - p.BoardX, y - p.BoardY);
            }),
        ];

    private static double Rms(IReadOnlyCollection<double> residuals) => Math.Sqrt(residuals.Average(r => r * r));

    /// <summary>
    /// The point that the others speak against, and how far it lies from where they have it; null where nobody could tell.
    /// Each point in turn is left out and predicted by the rest; its miss is studentised by what the rest leave open there
    /// (their design, which is wide where the point lies outside them) and by the noise, at least a finger's. Its square
    /// follows χ² with two degrees of freedom, so that −2 ln(α / n) is passed by a good point in one case of 1 / α.
    /// Cook and Weisberg, "Residuals and Influence in Regression" (1982), section 2.2 (from memory), in two dimensions.
    /// </summary>
    private static (int Point, double MissesMm)? Odd(IReadOnlyList<MarkedPoint> points)
    {
        var freedom = (2 * (points.Count - 1)) - 8;
        var without = points
            .Select((_, i) => Without(points, i))
            .OfType<(int Point, double Squares, double Miss, double Studentised)>()
            .OrderBy(w => w.Squares)
            .ToList();
        // A point without which the others lie on a line cannot be left out, so it may always be the wrong one.
        if (without.Count < points.Count || without is not [var best, .. var rest])
        {
            return null;
        }

        var noise = Math.Max(FingerMm * FingerMm, best.Squares / freedom);
        return
            best.Studentised / noise > -2 * Math.Log(FalseAlarms / points.Count)
            && rest.TrueForAll(w => (w.Squares - best.Squares) / noise > 2 * Math.Log(Likelier))
            ? (best.Point, best.Miss)
            : null;
    }

    /// <summary>
    /// The others without one point: their sum of squares, and how far they have it from where it is marked, plain and studentised but
    /// for the noise. Null where they alone do not lay the board.
    /// </summary>
    private static (int Point, double Squares, double Miss, double Studentised)? Without(IReadOnlyList<MarkedPoint> points, int left)
    {
        List<MarkedPoint> others = [.. points.Where((_, j) => j != left)];
        if (InLine(others, p => (p.BoardX, p.BoardY)) || InLine(others, p => (p.PictureX, p.PictureY)))
        {
            return null;
        }

        var h = Homography.Fit(others);
        var design = Matrix<double>.Build.Dense(2 * others.Count, 9);
        var misses = Vector<double>.Build.Dense(2 * others.Count);
        foreach (var (i, other) in others.Index())
        {
            var (slope, miss) = h.AtBoard(other);
            design.SetSubMatrix(2 * i, 0, slope);
            misses.SetSubVector(2 * i, 2, miss);
        }

        // Eight of the nine numbers of a homography are free: the ninth singular value is nought but for rounding.
        var svd = design.Svd();
        var (at, off) = h.AtBoard(points[left]);
        var (squares, spread) = (misses * misses, Matrix<double>.Build.DenseIdentity(2));
        for (var k = 0; k < 8; k++)
        {
            var along = svd.U.Column(k) * misses;
            var open = at * svd.VT.Row(k) / svd.S[k];
            squares -= along * along;
            off -= open * along;
            spread += open.OuterProduct(open);
        }

        return (left, squares, off.L2Norm(), off * spread.Inverse() * off);
    }

    private static string Mm(double value) => string.Create(CultureInfo.InvariantCulture, $"{value:0.0} mm");
}
