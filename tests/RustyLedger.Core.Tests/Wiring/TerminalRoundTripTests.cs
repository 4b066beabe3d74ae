using System.Text;
using CsCheck;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class TerminalRoundTripTests
{
    private static readonly string[] Labels = ["1", "2", "3", "L1", "V+", "5-8", "04-Jan", "-", "'9", "do"];
    private static readonly string[] Signals = ["", "24 V in", "door, left", "say \"on\"", "two\nlines", "do", "=sum", "-12 V rail", "5-8"];
    private static readonly string[] Colours = ["", "RD", "BU-WH", "GN-YE"];
    private static readonly string[] Limits = ["24 V", "24 V ±5 %", "8..12 V DC", "> 18 V", "-12 V"];

    /// <summary>Any board: what goes out as a spreadsheet comes in as the same terminals, checks and links.</summary>
    [Fact]
    public void Any_board_goes_out_and_comes_in_the_same() =>
        Boards()
            .Sample(board =>
            {
                var text = TerminalList.Export(board);
                var table = TerminalTable.Read(Encoding.UTF8.GetBytes(text));
                Assert.Empty(TerminalList.Preview(board, table, OperatingState.Usual, Ids()).Rows.SelectMany(r => r.Changes));
                var empty = board with { Elements = [], Links = [], Checks = [] };
                var preview = TerminalList.Preview(empty, table, OperatingState.Usual, Ids());
                Assert.DoesNotContain(preview.Rows, r => r.Outcome == RowOutcome.Refused);
                Assert.Equal(text, TerminalList.Export(preview.Result));
            });

    [Fact]
    public void No_file_does_worse_than_a_refusal() =>
        Gen.OneOf(Gen.Byte.Array[0, 200], Gen.String.Select(Encoding.UTF8.GetBytes), Mangled())
            .Sample(file =>
            {
                try
                {
                    var preview = TerminalList.Preview(Sample.Board, TerminalTable.Read(file), OperatingState.Usual, Ids());
                    Assert.All(preview.Rows, r => Assert.NotEqual(r.Problem.Length == 0, r.Outcome == RowOutcome.Refused));
                }
                catch (FormatException refusal)
                {
                    Assert.NotEmpty(refusal.Message);
                }
            });

    [Fact]
    public void A_file_too_large_or_empty_is_refused()
    {
        Assert.Contains(
            "MB",
            Assert.Throws<FormatException>(() => TerminalTable.Read(new byte[(5 * 1024 * 1024) + 1])).Message,
            StringComparison.Ordinal
        );
        Assert.Contains("no rows", Assert.Throws<FormatException>(() => TerminalTable.Read([])).Message, StringComparison.Ordinal);
        Assert.Contains(
            "rows",
            Assert
                .Throws<FormatException>(() =>
                    TerminalTable.Read(Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("a,b\n", 20_002))))
                )
                .Message,
            StringComparison.Ordinal
        );
    }

    private static Gen<byte[]> Mangled() =>
        Gen.Select(Gen.Int[0, 400], Gen.Int[0, 400], Gen.Char.AlphaNumeric)
            .Select(
                (at, cut, sign) =>
                {
                    var text = new StringBuilder(TerminalList.Export(Sample.Board));
                    text[at % text.Length] = sign;
                    return Encoding.UTF8.GetBytes(text.ToString(0, Math.Max(1, text.Length - cut)));
                }
            );

    private static Gen<BoardType> Boards() =>
        Gen.Select(Gen.Int[1, 3], Gen.Int[1, 4], Gen.Int[0, 1000].Array[40])
            .Select(
                (elements, pins, dice) =>
                {
                    var at = 0;
                    int Next(int of) => dice[at++ % dice.Length] % of;
                    var made = Enumerable
                        .Range(1, elements)
                        .Select(e => new Element(
                            $"e{e}",
                            ElementKind.Connector,
                            $"J{e}",
                            "",
                            10,
                            20 * e,
                            1,
                            5,
                            Direction.Across,
                            Corner.TopLeft,
                            Numbering.RowByRow,
                            "",
                            [
                                .. Labels
                                    .Skip(Next(Labels.Length - pins))
                                    .Take(pins)
                                    .Select(
                                        (label, i) =>
                                            new Pin(
                                                $"e{e}p{i}",
                                                i + 1,
                                                label,
                                                WireColours.Read(Colours[Next(Colours.Length)]),
                                                Signals[Next(Signals.Length)]
                                            )
                                    ),
                            ]
                        ))
                        .ToList();
                    var all = made.SelectMany(e => e.Pins).Select(p => (PinAddress)new PinAddress.OnType(p.Id)).ToList();
                    // A name with a sign that also separates names cannot be told apart in a list of names.
                    var named = all.Where(a =>
                            made.SelectMany(e => e.Pins).Single(p => p.Id == a.OwnPin!.Value.Value).Label is not ("-" or "'9")
                        )
                        .ToList();
                    var links = named
                        .Zip(named.Skip(1), (from, to) => (from, to))
                        .Where(_ => Next(2) == 0)
                        .Select((l, i) => new Link($"l{i}", l.from, l.to, Next(2) == 0))
                        .ToList();
                    var checks = all.Where(_ => named.Count > 0 && Next(2) == 0)
                        .Select((red, i) => (red, black: named[Next(named.Count)], i))
                        .Where(c => c.red != c.black)
                        .Select(c => new RustyLedger.Core.Wiring.Check(
                            $"c{c.i}",
                            CheckTarget.PinAndCommon,
                            c.red,
                            c.black,
                            "",
                            MeterMode.DcVolts,
                            OperatingState.Usual[Next(4)].Code,
                            Next(2) == 0 ? true : null,
                            LimitNotation.ReadOne(Limits[Next(Limits.Length)]).Limit,
                            ""
                        ))
                        .ToList();
                    return Sample.Board with { Elements = made, Links = links, Checks = checks };
                }
            );

    private static Func<string> Ids()
    {
        var next = 0;
        return () => $"n{++next}";
    }
}
