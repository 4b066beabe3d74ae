using BenchmarkDotNet.Attributes;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Bench;

/// <summary>What happens between Enter and the verdict, on a machine of 1,500 pins with every second one measured.</summary>
public class MeasuringBench
{
    private const int Boards = 60;
    private const int PinsPerBoard = 25;
    private readonly ResolvedMachine _machine;
    private readonly FeedGraph _graph;
    private readonly List<Entry> _entries;
    private readonly Dictionary<BoardTypeId, BoardType> _types;
    private readonly Model _model;
    private readonly Machine _unit;

    public MeasuringBench()
    {
        var limit = LimitNotation.ReadOne("24 V ±5 %").Limit;
        var type = new BoardType(
            "b",
            "B",
            "A",
            "board",
            100,
            100,
            DefaultTolerance.Usual,
            [
                new(
                    "j1",
                    ElementKind.Connector,
                    "J1",
                    "",
                    5,
                    5,
                    1,
                    5,
                    Direction.Across,
                    Corner.TopLeft,
                    Numbering.RowByRow,
                    "",
                    [.. Enumerable.Range(1, PinsPerBoard).Select(i => new Pin($"{i}", i, $"{i}", WireColours.None, "", IsSource: false))]
                ),
            ],
            [
                .. Enumerable
                    .Range(1, PinsPerBoard - 1)
                    .Select(i => new Link($"l{i}", new PinAddress.OnType($"{i}"), new PinAddress.OnType($"{i + 1}"), true)),
            ],
            [
                .. Enumerable
                    .Range(1, PinsPerBoard - 1)
                    .Select(i => new Check(
                        $"c{i}",
                        CheckTarget.PinAndCommon,
                        new PinAddress.OnType($"{i}"),
                        new PinAddress.OnType($"{PinsPerBoard}"),
                        "",
                        MeterMode.DcVolts,
                        "running",
                        true,
                        limit,
                        ""
                    )),
            ]
        );
        _types = new() { ["b"] = type };
        _model = new Model(
            "m",
            "",
            "m",
            [.. Enumerable.Range(0, Boards).Select(i => new Position($"p{i}", $"P{i}", $"p{i}", "b"))],
            [new("ps", PartKind.Supply, "PS", "supply", [new("plus", 1, "+", WireColours.None, "", true)])],
            OperatingState.Usual,
            [
                new("s", new PinAddress.OffBoard("ps", "plus"), new PinAddress.OnBoard("p0", "1"), true),
                .. Enumerable
                    .Range(0, Boards - 1)
                    .Select(i => new Link(
                        $"w{i}",
                        new PinAddress.OnBoard($"p{i}", $"{PinsPerBoard - 1}"),
                        new PinAddress.OnBoard($"p{i + 1}", "1"),
                        true
                    )),
            ],
            []
        );
        _unit = new Machine("u", "U", "u", "m", "", "", "", "", "", [], []);
        _machine = Resolve();
        _graph = FeedGraph.Of(_machine);
        _entries =
        [
            .. _machine
                .Checks.Index()
                .Where(c => c.Index % 2 == 0)
                .Select(c => new Entry(
                    $"e{c.Index}",
                    c.Index,
                    EntryKind.Taken,
                    c.Item.Key,
                    c.Item.Check.Red,
                    c.Item.Check.Black,
                    MeterMode.DcVolts,
                    "running",
                    limit,
                    DefaultTolerance.Usual,
                    new NumberReading(c.Index < _machine.Checks.Count / 2 ? 24 : 18, Unit.Volts),
                    null,
                    ""
                )),
        ];
    }

    /// <summary>The machine of 1,500 pins, and how it is fed.</summary>
    internal (ResolvedMachine Machine, FeedGraph Graph) Large => (_machine, _graph);

    [Benchmark]
    public ResolvedMachine Resolve() => ResolvedMachine.Of(_unit, _model, _types);

    [Benchmark]
    public FeedGraph PathOf1500Pins() => FeedGraph.Of(_machine);

    [Benchmark]
    public RoundSheet SheetWithStretch() => RoundSheet.Of(_machine, _graph, _entries);

    private static readonly RoundCost _cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(new MeasuringBench()._machine));

    private static readonly List<SetUp> _setUps =
    [
        .. Enumerable
            .Range(0, 300)
            .Select(i => new SetUp(i % 5 == 0, i % 3 == 0 ? "run" : "off", i % 4 == 0 ? "cover off" : "", $"c{i % 7}", MeterMode.DcVolts)),
    ];

    [Benchmark]
    public IReadOnlyList<int> OrderOf300Checks() => RoundPlan.Of(_setUps, [], _cost);

    private static readonly Meter Handheld = Meters.Presets.Single(m => m.Name == "Handheld meter");

    [Benchmark]
    public Verdict VerdictWithMeter() => (_entries[0] with { Meter = Handheld }).Verdict;

    private readonly List<PastReading> _past =
    [
        .. Enumerable
            .Range(0, 5000)
            .Select(i => new PastReading(
                DateTimeOffset.UnixEpoch.AddDays(i),
                new NumberReading(20 + (i % 50 / 10m), Unit.Volts),
                i % 10 == 0 ? $"LY-{i % 7}" : ""
            )),
    ];

    [Benchmark]
    public CheckHistory PlotOf5000Readings() => CheckHistory.Of(_past, new NumberReading(23, Unit.Volts));

    [Benchmark]
    public IReadOnlyList<LimitText> ReadLimit() => LimitNotation.Read("120 VAC ±10 %");

    [Benchmark]
    public ReadingText ReadReading() => ReadingNotation.Read("11.8 dropping", MeterMode.DcVolts);

    [Benchmark]
    public BoardType TerminalListOf1500Pins() =>
        TerminalList.Preview(_types["b"], TerminalTable.Read(_csv), OperatingState.Usual, () => "n").Result;

    private readonly byte[] _csv = System.Text.Encoding.UTF8.GetBytes(
        "connector,pin,colour,signal,expected\r\n"
            + string.Concat(Enumerable.Range(1, 1500).Select(i => $"J{i / 25},{i % 25 + 1},BU-WH,signal {i},24 V ±5 %\r\n"))
    );
}
