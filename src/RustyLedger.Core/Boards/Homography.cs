using MathNet.Numerics.LinearAlgebra;

namespace RustyLedger.Core.Boards;

/// <summary>A point known on the board and found on a picture of it.</summary>
/// <param name="BoardX">In millimetres on the component side.</param>
/// <param name="PictureX">In pixels from the left.</param>
/// <param name="PictureY">In pixels from the top.</param>
public sealed record MarkedPoint(string Name, double BoardX, double BoardY, double PictureX, double PictureY);

/// <summary>A flat board in perspective: takes a place on the board to its place on the picture, and back.</summary>
public sealed class Homography
{
    private readonly double[] _h;
    private readonly double[] _back;

    /// <param name="h">H, row by row: (x′, y′, w′) = H (x, y, 1).</param>
    /// <exception cref="ArgumentException">Not nine numbers, or H cannot be inverted.</exception>
    public Homography(IReadOnlyList<double> h)
    {
        ArgumentNullException.ThrowIfNull(h);
        if (h.Count != 9)
        {
            throw new ArgumentException("A homography has nine numbers.", nameof(h));
        }

        _h = [.. h];
        _back = Inverse(_h);
    }

    /// <summary>Negative where the picture shows the board mirrored, as it is seen from the solder side.</summary>
    public double Determinant => Det(_h);

    public (double X, double Y) ToPicture(double boardX, double boardY) => Project(_h, boardX, boardY);

    public (double X, double Y) ToBoard(double pictureX, double pictureY) => Project(_back, pictureX, pictureY);

    /// <summary>The third coordinate before dividing; it changes its sign at the horizon.</summary>
    internal double Depth(double boardX, double boardY) => (_h[6] * boardX) + (_h[7] * boardY) + _h[8];

    /// <summary>
    /// Least squares over all points by the normalised direct linear transform: Hartley and Zisserman, "Multiple View Geometry
    /// in Computer Vision" (2003), algorithm 4.2.
    /// </summary>
    internal static Homography Fit(IReadOnlyList<MarkedPoint> points)
    {
        var board = Normalising(points.Select(p => (p.BoardX, p.BoardY)));
        var picture = Normalising(points.Select(p => (p.PictureX, p.PictureY)));
        // A row of noughts, so that four points too give all nine right singular vectors.
        var a = Matrix<double>.Build.Dense((2 * points.Count) + 1, 9);
        foreach (var (i, point) in points.Index())
        {
            var (x, y) = board.Scaled(point.BoardX, point.BoardY);
            var (u, v) = picture.Scaled(point.PictureX, point.PictureY);
            a.SetRow(2 * i, [0, 0, 0, -x, -y, -1, v * x, v * y, v]);
            a.SetRow((2 * i) + 1, [x, y, 1, 0, 0, 0, -u * x, -u * y, -u]);
        }

        var normal = a.Svd(computeVectors: true).VT.Row(8).ToArray();
        return new Homography(Product(picture.Undo, Product(normal, board.Do)));
    }

    /// <summary>
    /// How far a marked point lies on the board from where its picture puts it, in millimetres, and how that place moves with each
    /// of the nine numbers of the way back, which are scaled to a length of 1.
    /// </summary>
    internal (Matrix<double> Slope, Vector<double> Miss) AtBoard(MarkedPoint point)
    {
        var (x, y) = ToBoard(point.PictureX, point.PictureY);
        var (u, v) = (point.PictureX, point.PictureY);
        var w = ((_back[6] * u) + (_back[7] * v) + _back[8]) / Math.Sqrt(_back.Sum(b => b * b));
        var slope = Matrix<double>.Build.DenseOfArray(
            new[,]
            {
                { u / w, v / w, 1 / w, 0, 0, 0, -x * u / w, -x * v / w, -x / w },
                { 0, 0, 0, u / w, v / w, 1 / w, -y * u / w, -y * v / w, -y / w },
            }
        );
        return (slope, Vector<double>.Build.Dense([point.BoardX - x, point.BoardY - y]));
    }

    private static (double X, double Y) Project(double[] h, double x, double y)
    {
        var w = (h[6] * x) + (h[7] * y) + h[8];
        return (((h[0] * x) + (h[1] * y) + h[2]) / w, ((h[3] * x) + (h[4] * y) + h[5]) / w);
    }

    /// <summary>Moves the middle of all points to the origin and makes their mean distance from it √2.</summary>
    private static Similarity Normalising(IEnumerable<(double X, double Y)> points)
    {
        var list = points.ToList();
        var (x, y) = (list.Average(p => p.X), list.Average(p => p.Y));
        var distance = list.Average(p => double.Hypot(p.X - x, p.Y - y));
        return new Similarity(distance > 0 ? Math.Sqrt(2) / distance : 1, x, y);
    }

    private static double[] Product(double[] a, double[] b) =>
        [
            .. from row in Enumerable.Range(0, 3)
            from column in Enumerable.Range(0, 3)
            select Enumerable.Range(0, 3).Sum(k => a[(3 * row) + k] * b[(3 * k) + column]),
        ];

    private static double Det(double[] m) =>
        (m[0] * ((m[4] * m[8]) - (m[5] * m[7]))) - (m[1] * ((m[3] * m[8]) - (m[5] * m[6]))) + (m[2] * ((m[3] * m[7]) - (m[4] * m[6])));

    private static double[] Inverse(double[] m)
    {
        var det = Det(m);
        if (det == 0 || !double.IsFinite(det))
        {
            throw new ArgumentException("The homography cannot be inverted.", nameof(m));
        }

        return
        [
            ((m[4] * m[8]) - (m[5] * m[7])) / det,
            ((m[2] * m[7]) - (m[1] * m[8])) / det,
            ((m[1] * m[5]) - (m[2] * m[4])) / det,
            ((m[5] * m[6]) - (m[3] * m[8])) / det,
            ((m[0] * m[8]) - (m[2] * m[6])) / det,
            ((m[2] * m[3]) - (m[0] * m[5])) / det,
            ((m[3] * m[7]) - (m[4] * m[6])) / det,
            ((m[1] * m[6]) - (m[0] * m[7])) / det,
            ((m[0] * m[4]) - (m[1] * m[3])) / det,
        ];
    }

    private readonly record struct Similarity(double Scale, double X, double Y)
    {
        public double[] Do => [Scale, 0, -Scale * X, 0, Scale, -Scale * Y, 0, 0, 1];

        public double[] Undo => [1 / Scale, 0, X, 0, 1 / Scale, Y, 0, 0, 1];

        public (double X, double Y) Scaled(double x, double y) => (Scale * (x - X), Scale * (y - Y));
    }
}
