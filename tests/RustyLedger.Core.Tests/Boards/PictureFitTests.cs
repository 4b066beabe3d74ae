using CsCheck;
using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class PictureFitTests
{
    private const double Width = 120;
    private const double Height = 80;

    /// <summary>
    /// P. Heckbert, "Fundamentals of Texture Mapping and Image Warping" (1989), section 2.2.3: the map of the unit square to a
    /// quadrilateral in closed form; from memory. It shares nothing with the singular values.
    /// </summary>
    [Fact]
    public void Four_points_give_the_map_that_the_closed_form_gives() =>
        Gen.Select(Gen.Double[-40, 40].Array[8], Gen.Double[0.05, 0.95], Gen.Double[0.05, 0.95])
            .Sample(
                (shift, u, v) =>
                {
                    (double X, double Y)[] quad =
                    [
                        (100 + shift[0], 100 + shift[1]),
                        (400 + shift[2], 120 + shift[3]),
                        (380 + shift[4], 420 + shift[5]),
                        (90 + shift[6], 400 + shift[7]),
                    ];
                    var (sx, sy) = (quad[0].X - quad[1].X + quad[2].X - quad[3].X, quad[0].Y - quad[1].Y + quad[2].Y - quad[3].Y);
                    var (dx1, dy1, dx2, dy2) = (quad[1].X - quad[2].X, quad[1].Y - quad[2].Y, quad[3].X - quad[2].X, quad[3].Y - quad[2].Y);
                    var det = (dx1 * dy2) - (dx2 * dy1);
                    var (g, h) = (((sx * dy2) - (dx2 * sy)) / det, ((dx1 * sy) - (sx * dy1)) / det);
                    var w = (g * u) + (h * v) + 1;
                    var x =
                        (((quad[1].X - quad[0].X + (g * quad[1].X)) * u) + ((quad[3].X - quad[0].X + (h * quad[3].X)) * v) + quad[0].X) / w;
                    var y =
                        (((quad[1].Y - quad[0].Y + (g * quad[1].Y)) * u) + ((quad[3].Y - quad[0].Y + (h * quad[3].Y)) * v) + quad[0].Y) / w;

                    var fit = PictureFit.Of(
                        [
                            .. ((double X, double Y)[])[(0, 0), (Width, 0), (Width, Height), (0, Height)] is var corners
                                ? corners.Zip(quad, (b, p) => new MarkedPoint("", b.X, b.Y, p.X, p.Y))
                                : [],
                        ],
                        Width,
                        Height
                    );
                    var (px, py) = fit.Homography!.ToPicture(u * Width, v * Height);
                    Assert.InRange(double.Hypot(px - x, py - y), 0, 1e-6);
                    var (bx, by) = fit.Homography.ToBoard(x, y);
                    Assert.InRange(double.Hypot(bx - (u * Width), by - (v * Height)), 0, 1e-6);
                }
            );

    /// <summary>
    /// A trapezium worked by hand: the far edge half as long as the near one puts the middle of the board two thirds of the way up.
    /// </summary>
    [Fact]
    public void The_middle_of_a_board_seen_from_its_edge_lies_two_thirds_up()
    {
        var fit = PictureFit.Of(
            [new("a", 0, 0, 300, 100), new("b", Width, 0, 500, 100), new("c", Width, Height, 600, 400), new("d", 0, Height, 200, 400)],
            Width,
            Height
        );
        // The diagonals of the picture, (200, 400)-(500, 100) and (600, 400)-(300, 100), cross at (400, 200).
        var (x, y) = fit.Homography!.ToPicture(Width / 2, Height / 2);
        Assert.Equal((400, 200), (Math.Round(x, 6), Math.Round(y, 6)));
        Assert.Equal("The layout lies on the picture. A fifth point would check it.", fit.Says);
    }

    [Fact]
    public void Noise_on_the_picture_stays_as_small_on_the_board() =>
        Gen.Select(Camera(), Gen.Int[8, 16], Gen.Int[0, 100_000])
            .Sample(
                (camera, count, seed) =>
                {
                    var random = new Random(seed);
                    var points = Scattered(random, count).Select(p => Mark(camera, p, Noise(random), Noise(random))).ToList();
                    var fit = PictureFit.Of(points, Width, Height);
                    var ((x0, y0), (x1, y1), (x2, y2)) = (camera.ToPicture(60, 40), camera.ToPicture(61, 40), camera.ToPicture(60, 41));
                    var pixelsPerMm = Math.Sqrt(Math.Abs(((x1 - x0) * (y2 - y0)) - ((x2 - x0) * (y1 - y0))));
                    // One pixel of noise each way; the farther corners of a slanted board take more of it.
                    Assert.InRange(fit.RmsMm, 0, 4 * Math.Sqrt(2) / pixelsPerMm);
                    Assert.Equal(count, fit.ResidualsMm.Count);
                    var (x, y) = camera.ToPicture(40, 30);
                    var (seenX, seenY) = fit.Homography!.ToPicture(40, 30);
                    Assert.InRange(double.Hypot(seenX - x, seenY - y), 0, 6);
                }
            );

    [Fact]
    public void The_point_that_was_marked_wrongly_is_named() =>
        Gen.Select(Camera(), Gen.Int[6, 12], Gen.Int[0, 100_000])
            .Sample(
                (camera, count, seed) =>
                {
                    var random = new Random(seed);
                    var points = Scattered(random, count).Select(p => Mark(camera, p, Noise(random) / 4, Noise(random) / 4)).ToList();
                    var wrong = random.Next(count);
                    // As when the neighbouring pin is taken for it: a centimetre along the board.
                    var (x, y) = camera.ToPicture(points[wrong].BoardX + 10, points[wrong].BoardY);
                    points[wrong] = points[wrong] with { Name = "J1·3", PictureX = x, PictureY = y };
                    var fit = PictureFit.Of(points, Width, Height);
                    if (fit.Outlier is null)
                    {
                        // Then another point could be left out as well: without it too the rest agree within what a finger misses by,
                        // or lie on a line.
                        var others = Enumerable
                            .Range(0, count)
                            .Where(i => i != wrong)
                            .Min(i => PictureFit.Of([.. points.Where((_, j) => j != i)], Width, Height).RmsMm);
                        Assert.InRange(others * others * (count - 1), 0, 2 * 0.25 * 2 * Math.Log(100));
                        return;
                    }

                    // A good point is never named for it.
                    Assert.Equal(wrong, fit.Outlier);
                    Assert.StartsWith($"J1·3 disagrees with the other {count - 1} by ", fit.Says, StringComparison.Ordinal);
                }
            );

    /// <summary>
    /// A finger misses by half a millimetre each way on the board; of a thousand layouts so marked, at most ten may have a point named.
    /// </summary>
    [Theory]
    [InlineData(6)]
    [InlineData(8)]
    [InlineData(12)]
    public void No_good_point_is_named_more_than_once_in_a_hundred(int count)
    {
        const int Layouts = 1200;
        var random = new Random(count);
        var named = 0;
        for (var i = 0; i < Layouts; i++)
        {
            var camera = CameraAt(
                (random.NextDouble() * 1.4) - 0.7,
                (random.NextDouble() * 1.4) - 0.7,
                random.NextDouble() * 2 * Math.PI,
                250 + (random.NextDouble() * 150)
            );
            var points = Scattered(random, count)
                .Select(p => Mark(camera, (p.X + (Noise(random) / 2), p.Y + (Noise(random) / 2)), 0, 0) with { BoardX = p.X, BoardY = p.Y })
                .ToList();
            named += PictureFit.Of(points, Width, Height).Outlier is null ? 0 : 1;
        }

        Assert.InRange(named, 0, Layouts / 100);
    }

    /// <summary>
    /// Six points, one of them taken for a neighbour two pitches on: mostly named, and never another for it more than once in a
    /// hundred.
    /// </summary>
    [Fact]
    public void Of_six_points_the_wrong_one_is_named_in_spite_of_the_finger()
    {
        const int Layouts = 1200;
        var random = new Random(1);
        var (right, other) = (0, 0);
        for (var i = 0; i < Layouts; i++)
        {
            var camera = CameraAt(
                (random.NextDouble() * 1.4) - 0.7,
                (random.NextDouble() * 1.4) - 0.7,
                random.NextDouble() * 2 * Math.PI,
                250 + (random.NextDouble() * 150)
            );
            var points = Scattered(random, 6)
                .Select(p => Mark(camera, (p.X + (Noise(random) / 2), p.Y + (Noise(random) / 2)), 0, 0) with { BoardX = p.X, BoardY = p.Y })
                .ToList();
            var wrong = random.Next(6);
            points[wrong] = points[wrong] with { BoardX = points[wrong].BoardX + 10.16 };
            switch (PictureFit.Of(points, Width, Height).Outlier)
            {
                case null:
                    break;
                case var point when point == wrong:
                    right++;
                    break;
                default:
                    other++;
                    break;
            }
        }

        Assert.InRange(other, 0, Layouts / 100);
        Assert.InRange(right, Layouts / 3, Layouts);
    }

    [Fact]
    public void Of_five_points_one_is_off_but_none_is_named()
    {
        var camera = new Homography([5, 0, 100, 0, 5, 80, 0, 0, 1]);
        var points = ((double, double)[])[(5, 5), (115, 6), (112, 76), (8, 74), (60, 40)] is var places
            ? places.Select(p => Mark(camera, p, 0, 0)).ToList()
            : [];
        points[4] = points[4] with { PictureX = points[4].PictureX + 30 };
        var fit = PictureFit.Of(points, Width, Height);
        Assert.Null(fit.Outlier);
        Assert.EndsWith("one of them is off. A sixth would tell which.", fit.Says, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("0,0 120,0 0,80", "One more point, and the layout lies on the picture.")]
    [InlineData("0,0", "3 more points, and the layout lies on the picture.")]
    [InlineData("0,0 30,0 60,0 120,1", "The points lie nearly on one line. Mark one well away from it, such as a corner of the board.")]
    [InlineData("0,0 60,0.2 120,0 60,80", "The points lie nearly on one line. Mark one well away from it, such as a corner of the board.")]
    [InlineData("0,0 120,0 120,80 0.1,0.1", "p1 and p4 are one and the same point of the board.")]
    public void What_cannot_be_laid_is_refused_with_the_reason(string places, string says)
    {
        var camera = new Homography([5, 0.3, 100, -0.2, 5, 80, 0.001, 0.0005, 1]);
        var points = places
            .Split(' ')
            .Select((p, i) => (Place: p.Split(','), Name: $"p{i + 1}"))
            .Select(p => Mark(camera, (double.Parse(p.Place[0]), double.Parse(p.Place[1])), 0, 0) with { Name = p.Name })
            .ToList();
        var fit = PictureFit.Of(points, Width, Height);
        Assert.Equal((null, says), (fit.Homography, fit.Says));
    }

    [Fact]
    public void Two_points_marked_crosswise_are_noticed()
    {
        var fit = PictureFit.Of(
            [new("a", 0, 0, 100, 100), new("b", Width, 0, 100, 400), new("c", Width, Height, 700, 400), new("d", 0, Height, 700, 110)],
            Width,
            Height
        );
        Assert.NotNull(fit.Homography);
        var crossed = PictureFit.Of(
            [new("a", 0, 0, 100, 100), new("b", Width, 0, 700, 100), new("c", Width, Height, 100, 400), new("d", 0, Height, 700, 400)],
            Width,
            Height
        );
        Assert.Null(crossed.Homography);
        Assert.Equal(
            "The points do not lie so on any flat board seen from one place: two of a, b, c, d are likely exchanged.",
            crossed.Says
        );
        Assert.Equal(
            "a and b are marked at the same place of the picture.",
            PictureFit
                .Of(
                    [
                        new("a", 0, 0, 100, 100),
                        new("b", Width, 0, 101, 100),
                        new("c", Width, Height, 700, 400),
                        new("d", 0, Height, 100, 400),
                    ],
                    Width,
                    Height
                )
                .Says
        );
    }

    /// <summary>A picture taken of a board that is held in any of the ways there are is known for what it shows.</summary>
    [Fact]
    public void A_picture_tells_how_it_shows_the_board() =>
        Gen.Select(Gen.Int[0, 7], Gen.Double[-0.0008, 0.0008], Gen.Double[-0.0008, 0.0008])
            .Sample(
                (i, slantX, slantY) =>
                {
                    var facing = Facing.All[i];
                    var slant = new Homography([4, 0.2, 60, -0.3, 4, 70, slantX, slantY, 1]);
                    var points = ((double X, double Y)[])[(2, 3), (110, 4), (115, 77), (5, 70)] is var places
                        ? places
                            .Select(p =>
                                facing.Place(p.X, p.Y, Width, Height) is var seen && slant.ToPicture(seen.X, seen.Y) is var at
                                    ? new MarkedPoint("", p.X, p.Y, at.X, at.Y)
                                    : null!
                            )
                            .ToList()
                        : [];
                    Assert.Equal(facing, PictureFit.ShownBy(PictureFit.Of(points, Width, Height).Homography!, Width, Height));
                }
            );

    [Fact]
    public void A_footprint_comes_back_from_its_first_and_last_pin() =>
        Gen.Select(
                Gen.Int[1, 3],
                Gen.Int[2, 12],
                Gen.Enum<Direction>(),
                Gen.Enum<Corner>(),
                Gen.Int[0, 3].Select(i => new[] { 2.54m, 3.81m, 5.08m, 7.62m }[i])
            )
            .Sample(
                (rows, pins, direction, corner, pitch) =>
                {
                    // Wider than deep, as rows of connectors are; from two taps nothing else can be told apart.
                    var element = Element(rows, Math.Max(pins, rows + 1), direction, corner, pitch);
                    var (first, last) = (element.PlaceOf(element.Pins[0]), element.PlaceOf(element.Pins[^1]));
                    var print = Footprint.Of(
                        ((double)first.X + 0.04, (double)first.Y - 0.03),
                        ((double)last.X - 0.02, (double)last.Y + 0.05),
                        element.Pins.Count,
                        rows
                    );
                    var made = element with
                    {
                        X = print.X,
                        Y = print.Y,
                        PitchMm = print.PitchMm,
                        Direction = print.Direction,
                        Pin1 = print.Pin1,
                        Rows = print.Rows,
                    };
                    Assert.Equal((rows, direction), (made.Rows, made.Direction));
                    // The taps are off by at most 0.08 mm between them. The pitch found is no farther from what they measured than the true
                    // one is, so over few pins a neighbour may be taken for it (3.96 for 3.81, 2.5 for 2.54); from six on none can.
                    var perRow = element.Pins.Count / rows;
                    Assert.InRange(Math.Abs(made.PitchMm - pitch) * (perRow - 1), 0, 0.16m);
                    if (perRow >= 6)
                    {
                        Assert.Equal(pitch, made.PitchMm);
                    }

                    foreach (var pin in element.Pins)
                    {
                        var (one, two) = (element.PlaceOf(pin), made.PlaceOf(pin));
                        Assert.InRange(double.Hypot((double)(one.X - two.X), (double)(one.Y - two.Y)), 0, 0.3);
                    }
                }
            );

    [Fact]
    public void Pins_that_cannot_be_so_near_are_refused() =>
        Assert.Equal(
            "40 pins do not fit between these two places: that is 0.13 mm from pin to pin. Tap the first pin and the last one.",
            Assert.Throws<FormatException>(() => Footprint.Of((10, 10), (15, 10), 40, 1)).Message
        );

    [Fact]
    public void A_tap_finds_the_nearest_pin_then_the_element_then_the_board()
    {
        var connector = Element(1, 4, Direction.Across, Corner.TopLeft, 5.08m);
        var lamp = new Element(
            "d1",
            ElementKind.Indicator,
            "D1",
            "",
            60,
            60,
            1,
            3,
            Direction.Across,
            Corner.TopLeft,
            Numbering.RowByRow,
            "",
            []
        );
        var board = Sample.Board with { WidthMm = 120, HeightMm = 80, Elements = [connector, lamp] };
        var (x, y) = connector.PlaceOf(connector.Pins[2]);
        Assert.Equal("p3", board.At((double)x + 1.4, (double)y - 1).Pin?.Id);
        Assert.Equal((null, "d1"), (board.At(61, 59.2).Pin?.Id, board.At(61, 59.2).Element?.Id));
        Assert.Equal((null, null), (board.At(80, 70).Pin, board.At(80, 70).Element));
    }

    private static Element Element(int rows, int perRow, Direction direction, Corner corner, decimal pitch) =>
        new(
            "j1",
            ElementKind.Connector,
            "J1",
            "",
            18,
            17,
            rows,
            pitch,
            direction,
            corner,
            Numbering.RowByRow,
            "",
            [.. Enumerable.Range(1, rows * perRow).Select(i => new Pin($"p{i}", i, $"{i}", WireColours.None, ""))]
        );

    /// <summary>Pinhole cameras over a board, tilted up to 40 degrees either way.</summary>
    private static Gen<Homography> Camera() =>
        Gen.Select(Gen.Double[-0.7, 0.7], Gen.Double[-0.7, 0.7], Gen.Double[0, 2 * Math.PI], Gen.Double[250, 400]).Select(CameraAt);

    private static Homography CameraAt(double tiltX, double tiltY, double roll, double distance)
    {
        const double Focal = 1500;
        // Columns of the rotation Rz Rx Ry for the board's two axes, and the middle of the board on the optical axis.
        var (cx, sx, cy, sy, cz, sz) = (Math.Cos(tiltX), Math.Sin(tiltX), Math.Cos(tiltY), Math.Sin(tiltY), Math.Cos(roll), Math.Sin(roll));
        var (r1x, r1y, r1z) = ((cz * cy) - (sz * sx * sy), (sz * cy) + (cz * sx * sy), -cx * sy);
        var (r2x, r2y, r2z) = (-sz * cx, cz * cx, sx);
        var (tx, ty, tz) = (
            -((r1x * Width) + (r2x * Height)) / 2,
            -((r1y * Width) + (r2y * Height)) / 2,
            distance - (((r1z * Width) + (r2z * Height)) / 2)
        );
        return new Homography([
            (Focal * r1x) + (800 * r1z),
            (Focal * r2x) + (800 * r2z),
            (Focal * tx) + (800 * tz),
            (Focal * r1y) + (600 * r1z),
            (Focal * r2y) + (600 * r2z),
            (Focal * ty) + (600 * tz),
            r1z,
            r2z,
            tz,
        ]);
    }

    private static MarkedPoint Mark(Homography camera, (double X, double Y) place, double right, double down) =>
        camera.ToPicture(place.X, place.Y) is var (x, y)
            ? new MarkedPoint("", place.X, place.Y, x + right, y + down)
            : throw new InvalidOperationException();

    private static double Noise(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    /// <summary>Places all over the board, one in each cell of a grid so that none lie together.</summary>
    private static IEnumerable<(double X, double Y)> Scattered(Random random, int count)
    {
        var cells = Enumerable.Range(0, 16).ToArray();
        random.Shuffle(cells);
        return cells
            .Take(count)
            .Select(cell =>
                (
                    (((cell % 4) + 0.2 + (0.6 * random.NextDouble())) * Width / 4),
                    (((cell / 4) + 0.2 + (0.6 * random.NextDouble())) * Height / 4)
                )
            );
    }
}
