using BenchmarkDotNet.Attributes;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Labels;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Bench;

/// <summary>A layout laid on a photograph, a rhythm heard, labels for a large shop.</summary>
public class LookBench
{
    private const int Machines = 500;
    private readonly List<MarkedPoint> _points;
    private readonly BoardType _board;
    private readonly double[] _taps;
    private readonly List<Label> _labels =
    [
        .. Enumerable.Range(1, Machines).Select(i => new Label($"LY-{i}", ["winch", "Thrumwick Hawser", "North slip"], "x")),
    ];
    private readonly bool[,] _modules = new bool[33, 33];

    public LookBench()
    {
        var dice = new Random(7);
        var camera = new Homography([5, 0.4, 120, -0.3, 4.8, 90, 0.0006, 0.0004, 1]);
        _points =
        [
            .. Enumerable
                .Range(0, PictureFit.MostPoints)
                .Select(i =>
                {
                    var (x, y) = (20.0 + (i % 5 * 40) + dice.Next(10), 15.0 + (i / 5 * 35) + dice.Next(10));
                    var (u, v) = camera.ToPicture(x, y);
                    return new MarkedPoint($"p{i}", x, y, u + dice.NextDouble(), v + dice.NextDouble());
                }),
        ];
        _board = new BoardType(
            "b",
            "B",
            "A",
            "board",
            220,
            160,
            DefaultTolerance.Usual,
            [
                .. Enumerable
                    .Range(0, 60)
                    .Select(e => new Element(
                        $"x{e}",
                        ElementKind.Connector,
                        $"X{e}",
                        "",
                        5 + (e % 3 * 70),
                        4 + (e / 3 * 7.5m),
                        1,
                        2.54m,
                        Direction.Across,
                        Corner.TopLeft,
                        Numbering.RowByRow,
                        "",
                        [.. Enumerable.Range(1, 25).Select(i => new Pin($"x{e}-{i}", i, $"{i}", WireColours.None, ""))]
                    )),
            ],
            [],
            []
        );
        _taps = [.. Enumerable.Range(0, 60).Select(i => (i / 3 * 2.2) + (i % 3 * 0.4) + (dice.NextDouble() * 0.06))];
        for (var i = 0; i < _modules.Length; i++)
        {
            _modules[i / 33, i % 33] = dice.Next(2) == 0;
        }
    }

    [Benchmark]
    public PictureFit TwentyPointsLaid() => PictureFit.Of(_points, 220, 160);

    [Benchmark]
    public BoardSpot TappedAmong1500Pins() => _board.At(101.3, 77.7);

    [Benchmark]
    public TapRhythm SixtyTaps() => TapRhythm.Of(_taps);

    [Benchmark]
    public IReadOnlyList<PrintedPage> LabelsOf500Machines() =>
        LabelSheet.Of(_labels, new LabelGrid(Paper.A4, 3, 8, 7, 2), 1, _ => _modules);
}
