using CsCheck;
using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class RecognitionTests
{
    private static readonly string[] _values = ["a", "b", "c"];

    [Fact]
    public void The_question_splits_by_how_common_each_is()
    {
        // Leads cut off the one rare board; lamps halve what is common.
        var boards = new[]
        {
            Board("1", "through", "yes"),
            Board("2", "surface", "yes"),
            Board("3", "surface", "no"),
            Board("4", "surface", "no"),
        };
        var fitted = new Dictionary<BoardTypeId, int>
        {
            ["2"] = 9,
            ["3"] = 5,
            ["4"] = 4,
        };
        Assert.Equal(MarkFeature.OutputLamps, Recognition.Of(boards, fitted, []).Question!.Feature);
        Assert.Equal("2", Recognition.Of(boards, fitted, []).Left[0].Type.Id);
        var after = Recognition.Of(boards, fitted, [new MarkSeen(MarkFeature.OutputLamps, "yes")]);
        Assert.Equal(["2", "1"], after.Left.Select(l => l.Type.Id));
        Assert.Equal(MarkFeature.Leads, after.Question!.Feature);
    }

    [Fact]
    public void Cannot_see_asks_something_else_and_loses_no_candidate()
    {
        var boards = new[] { Board("1", "through", "yes"), Board("2", "surface", "no") };
        var first = Recognition.Of(boards, new Dictionary<BoardTypeId, int>(), []);
        var next = Recognition.Of(boards, new Dictionary<BoardTypeId, int>(), [new MarkSeen(first.Question!.Feature, null)]);
        Assert.Equal(2, next.Left.Count);
        Assert.NotEqual(first.Question.Feature, next.Question!.Feature);
    }

    [Fact]
    public void Boards_alike_to_the_eye_are_said_to_be_and_what_differs_is_named()
    {
        var one = Board("1", "surface", "yes") with { HeightMm = 80 };
        var two = Board("2", "surface", "yes") with { HeightMm = 90 };
        var seen = Recognition.Of([one, two], new Dictionary<BoardTypeId, int>(), []);
        Assert.True(seen.Alike);
        Assert.Null(seen.Question);
        Assert.Contains("80 mm or ", Assert.Single(seen.Differences), StringComparison.Ordinal);
    }

    [Fact]
    public void A_board_whose_mark_nobody_wrote_down_is_never_ruled_out_by_it()
    {
        var blank = Board("1", "surface", "yes") with { Marks = [] };
        var seen = Recognition.Of(
            [blank, Board("2", "through", "no")],
            new Dictionary<BoardTypeId, int>(),
            [new MarkSeen(MarkFeature.Leads, "surface")]
        );
        Assert.Equal("1", Assert.Single(seen.Left).Type.Id);
    }

    /// <summary>What the eye counts tells boards apart without any mark; a miscount makes one unlikely, and leaves out none.</summary>
    [Fact]
    public void Fuses_are_counted_in_the_layout()
    {
        static BoardType With(string id, int fuses) =>
            Sample.Board with
            {
                Id = id,
                PartNumber = id,
                Marks = [],
                Elements =
                [
                    .. Sample.Board.Elements.Where(e => e.Kind != ElementKind.Fuse),
                    .. Enumerable
                        .Range(1, fuses)
                        .Select(n =>
                            Sample.Board.Elements[0] with
                            {
                                Id = $"f{n}",
                                Kind = ElementKind.Fuse,
                                Designator = $"F{n}",
                                Pins = [],
                            }
                        ),
                ],
            };
        List<BoardType> boards = [With("two", 2), With("three", 3), With("none", 0)];
        var nobody = new Dictionary<BoardTypeId, int>();
        var question = Recognition.Of(boards, nobody, []).Question!;
        Assert.Equal(MarkFeature.Fuses, question.Feature);
        Assert.Equal(["2", "3"], question.Values.Order());
        var seen = Recognition.Of(boards, nobody, [new MarkSeen(MarkFeature.Fuses, "3")]).Left;
        Assert.Equal(3, seen.Count);
        Assert.Equal("two", seen[^1].Type.Id);
        Assert.Equal(1 / 2.1, seen[0].Share, 9);
        Assert.Equal(0.1 / 2.1, seen[^1].Share, 9);
    }

    /// <summary>
    /// The mark asked for is the one whose answers leave the fewest bits, worked out here by going through every candidate and
    /// every answer: the information of an answer about which board it is, Σ p(board, answer) log2 p(board | answer) / p(board).
    /// </summary>
    [Fact]
    public void The_question_is_the_best_of_all()
    {
        var mark = Gen.Select(Gen.Enum<MarkFeature>(), Gen.Int[0, 2].Select(i => _values[i])).Select((f, v) => new RecognitionMark(f, v));
        Gen.Select(mark.Array[0, 8].Array[2, 7], Gen.Int[0, 30].Array[7])
            .Sample(
                (marks, counts) =>
                {
                    List<BoardType> boards =
                    [
                        .. marks.Select(
                            (m, i) =>
                                Sample.Board with
                                {
                                    Id = $"{i}",
                                    PartNumber = $"{i}",
                                    Marks = [.. m.DistinctBy(x => x.Feature)],
                                    Elements = [],
                                    IsSizeGuess = true,
                                }
                        ),
                    ];
                    var fitted = boards.ToDictionary(
                        b => b.Id,
                        b => counts[int.Parse(b.Id.Value, System.Globalization.CultureInfo.InvariantCulture)]
                    );
                    var found = Recognition.Of(boards, fitted, []);
                    var total = boards.Sum(b => 1.0 + fitted[b.Id]);
                    double Bits(MarkFeature feature)
                    {
                        string? On(BoardType b) => b.Marks.FirstOrDefault(m => m.Feature == feature)?.Value;
                        var values = boards.Select(On).OfType<string>().Distinct().ToList();
                        var joint = (
                            from b in boards
                            from v in values
                            select (
                                b,
                                v,
                                p: (1.0 + fitted[b.Id])
                                    / total
                                    * (
                                        On(b) is { } own
                                            ? own == v
                                                ? 1
                                                : 0
                                            : 1.0 / values.Count
                                    )
                            )
                        ).ToList();
                        return joint
                            .Where(j => j.p > 0)
                            .Sum(j => j.p * Math.Log2(j.p / joint.Where(k => k.v == j.v).Sum(k => k.p) / ((1.0 + fitted[j.b.Id]) / total)));
                    }

                    var best = Enum.GetValues<MarkFeature>()
                        .Select(f =>
                            boards.Select(b => b.Marks.FirstOrDefault(m => m.Feature == f)?.Value).OfType<string>().Distinct().Count() > 1
                                ? Bits(f)
                                : 0
                        )
                        .Max();
                    if (found.Question is null)
                    {
                        Assert.True(best < 1e-8, $"{best} bits were to be had");
                    }
                    else
                    {
                        Assert.Equal(best, found.Question.BitsGained, 9);
                        Assert.Equal(best, Bits(found.Question.Feature), 9);
                    }
                },
                iter: 500
            );
    }

    private static BoardType Board(string id, string leads, string lamps) =>
        Sample.Board with
        {
            Id = id,
            PartNumber = id,
            WidthMm = 100,
            HeightMm = 80,
            Marks = [new RecognitionMark(MarkFeature.Leads, leads), new RecognitionMark(MarkFeature.OutputLamps, lamps)],
        };
}
