using System.Text;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class TerminalListTests
{
    private static readonly BoardType Empty = Sample.Board with { Elements = [], Links = [], Checks = [] };

    [Fact]
    public void Export_reads_back_to_the_same_terminals_checks_and_links()
    {
        var text = TerminalList.Export(Sample.Board);
        var preview = Preview(text);
        Assert.All(
            PinRows(preview),
            r => Assert.Equal((RowOutcome.Added, ""), (r.Outcome == RowOutcome.Same ? RowOutcome.Added : r.Outcome, r.Problem))
        );
        Assert.Equal(text, TerminalList.Export(preview.Result));
        Assert.Equal(["F1"], preview.Result.Elements.Where(e => e.Kind == ElementKind.Fuse).Select(e => e.Designator));
    }

    [Fact]
    public void The_same_file_again_changes_nothing()
    {
        var again = Preview(TerminalList.Export(Sample.Board), Sample.Board);
        Assert.False(again.ChangesAnything);
        Assert.Same(Sample.Board, again.Result);
        Assert.All(PinRows(again), r => Assert.Equal(RowOutcome.Same, r.Outcome));
    }

    [Theory]
    [InlineData("connector,pin,colour,expected\r\nJ4,1,RD,24 V\r\nJ4,2,BK,\r\n", ',')]
    [InlineData("Connector;Pin;Colour;Should read\nJ4;1;red;24 V\nJ4;2;black;\n", ';')]
    [InlineData("Colour\tExpected\tConn.\tPin no.\nred\t24 V\tJ4\t1\nblack\t\tJ4\t2\n", '\t')]
    [InlineData("\ufeffPin,Wire,Volts\nJ4-1,red,24\nJ4-2,black,\n", ',')]
    public void Columns_are_matched_by_heading_in_any_order_and_delimiter(string file, char delimiter)
    {
        var preview = Preview(file);
        Assert.Equal(delimiter, preview.Table.Delimiter);
        var element = Assert.Single(preview.Result.Elements);
        Assert.Equal(
            ("J4", "1 RD, 2 BK"),
            (element.Designator, string.Join(", ", element.Pins.Select(p => $"{p.Label} {p.Colours.Code}")))
        );
        Assert.Equal("24 V", LimitNotation.Write(Assert.Single(preview.Result.Checks).Limit));
    }

    [Fact]
    public void Columns_can_be_matched_by_hand()
    {
        var table = TerminalTable.Read(
            Encoding.UTF8.GetBytes("a,b,c\nJ4,7,24 V\n"),
            new Dictionary<int, TerminalColumn?>
            {
                [0] = TerminalColumn.Connector,
                [1] = TerminalColumn.Pin,
                [2] = TerminalColumn.Expected,
            }
        );
        var preview = TerminalList.Preview(Empty, table, OperatingState.Usual, Ids());
        Assert.Contains(preview.Rows, r => r.Understood == "J4·7, 24 V");
    }

    [Fact]
    public void Windows_1252_and_quoted_line_breaks_are_read()
    {
        var preview = TerminalList.Preview(
            Empty,
            TerminalTable.Read(Encoding.Latin1.GetBytes("connector,pin,signal,expected\r\nJ1,1,\"lamp\r\nnear door\",24 V \u00b15%\r\n")),
            OperatingState.Usual,
            Ids()
        );
        Assert.StartsWith("Windows-1252", preview.Table.FileKind, StringComparison.Ordinal);
        Assert.Equal("24 V ±5 %", LimitNotation.Write(preview.Result.Checks[0].Limit));
        Assert.Equal("lamp\r\nnear door", preview.Result.Elements[0].Pins[0].Signal);
    }

    [Fact]
    public void Ditto_marks_blanks_and_repeated_headings_are_understood()
    {
        var preview = Preview("connector,pin,colour,signal\nJ1,1,RD,supply\n,2,\",\"\nconnector,pin,colour,signal\n\"\",3,BK,do\n");
        var pins = preview.Result.Elements.Single().Pins;
        Assert.Equal(["1 RD supply", "2 RD supply", "3 BK supply"], pins.Select(p => $"{p.Label} {p.Colours.Code} {p.Signal}"));
        Assert.Equal(3, PinRows(preview).Count);
    }

    [Fact]
    public void A_range_not_connected_is_four_pins()
    {
        var preview = Preview("connector,pin,signal\nJ1,5-8 n/c,\n");
        Assert.Equal(["5 n/c", "6 n/c", "7 n/c", "8 n/c"], preview.Result.Elements[0].Pins.Select(p => $"{p.Label} {p.Signal}"));
    }

    [Fact]
    public void A_date_is_recognised_as_a_spoilt_pin()
    {
        var row = Assert.Single(PinRows(Preview("connector,pin\nTB,04-Jan\n")));
        Assert.Equal("TB·4-1", row.Understood);
        Assert.Contains("may also have been 1-4", Assert.Single(row.Doubts), StringComparison.Ordinal);
    }

    [Fact]
    public void An_ambiguous_colour_is_doubted_and_left_open()
    {
        var preview = Preview("connector,pin,colour\nJ1,1,BL\n");
        Assert.Contains("black (BK) or blue (BU)", Assert.Single(PinRows(preview)[0].Doubts), StringComparison.Ordinal);
        Assert.Empty(preview.Result.Elements[0].Pins[0].Colours.Code);
    }

    [Fact]
    public void One_pin_twice_is_two_checks_or_a_doubt()
    {
        var preview = Preview("connector,pin,colour,expected\nJ1,1,RD,24 V\nJ1,1,RD,0 V\nJ1,1,BK,\nJ1,1,RD,\n");
        Assert.Equal(["24 V", "0 V"], preview.Result.Checks.Select(c => LimitNotation.Write(c.Limit)));
        Assert.Contains("line 2", Assert.Single(PinRows(preview)[2].Doubts), StringComparison.Ordinal);
        Assert.Contains("adds nothing", Assert.Single(PinRows(preview)[3].Doubts), StringComparison.Ordinal);
        Assert.Equal("RD", preview.Result.Elements[0].Pins[0].Colours.Code);
    }

    [Theory]
    [InlineData("J1,,RD,24 V", "no pin")]
    [InlineData(",1,RD,24 V", "no connector")]
    [InlineData("J1,1234567890123,RD,24 V", "too long")]
    public void A_wrong_row_is_refused_with_its_line_and_the_rest_is_read(string row, string says)
    {
        var preview = Preview($"connector,pin,colour,expected\n{row}\nJ2,1,RD,12 V\n");
        Assert.Equal((2, RowOutcome.Refused), (PinRows(preview)[0].Line, PinRows(preview)[0].Outcome));
        Assert.Contains(says, PinRows(preview)[0].Problem, StringComparison.Ordinal);
        Assert.Equal("J2", Assert.Single(preview.Result.Elements).Designator);
    }

    [Theory]
    [InlineData("\"1,200\"", "thousand")]
    [InlineData("5 MV", "milli or mega")]
    [InlineData("see drawing 4", "not understood")]
    public void A_value_that_is_not_understood_keeps_its_pin_and_its_words_and_judges_nothing(string value, string says)
    {
        var preview = Preview($"connector,pin,colour,signal,expected\nJ1,1,RD,gate feed,{value}\n");
        Assert.Contains(says, Assert.Single(PinRows(preview)[0].Doubts), StringComparison.Ordinal);
        Assert.Equal("1 RD gate feed", preview.Result.Elements[0].Pins.Select(p => $"{p.Label} {p.Colours.Code} {p.Signal}").Single());
        var limit = Assert.Single(preview.Result.Checks).Limit;
        Assert.Equal(new UnjudgedLimit(value.Trim('"')), limit);
        Assert.Equal(limit, LimitNotation.ReadOne(LimitNotation.Write(limit)).Limit);
        Assert.Equal(
            VerdictKind.NotJudged,
            Judge.Verdict(ReadingNotation.Read("24", MeterMode.DcVolts).Choices[0], limit, DefaultTolerance.Usual).Kind
        );
    }

    [Fact]
    public void Pins_not_in_the_file_stay_and_are_listed_and_a_new_limit_replaces_the_old()
    {
        var preview = Preview("connector,pin,signal,common,expected,state,plugged\nJ1,1,24 V in,J1-2,27 V,running,in\n", Sample.Board);
        Assert.Equal(["J1·2", "F1·1", "F1·2", "J2·1", "J2·2"], preview.NotInFile);
        Assert.Equal(["J1·1 should read 24 V ±5 %, now 27 V"], PinRows(preview)[0].Changes);
        Assert.Equal((3, "27 V"), (preview.Result.Checks.Count, LimitNotation.Write(preview.Result.Checks[0].Limit)));
        Assert.Equal("c1", preview.Result.Checks[0].Id);
    }

    [Fact]
    public void New_connectors_get_places_that_do_not_overlap()
    {
        var elements = Preview("connector,pin\nJ8,1-6\nJ9,1-4\n", Sample.Board).Result.Elements;
        var outlines = elements.Select(e => e.Outline).ToList();
        Assert.All(
            outlines.Index(),
            a =>
                Assert.DoesNotContain(
                    outlines.Skip(a.Index + 1),
                    b =>
                        a.Item.X < b.X + b.Width
                        && b.X < a.Item.X + a.Item.Width
                        && a.Item.Y < b.Y + b.Height
                        && b.Y < a.Item.Y + a.Item.Height
                )
        );
    }

    private static TerminalPreview Preview(string file, BoardType? onto = null) =>
        TerminalList.Preview(onto ?? Empty, TerminalTable.Read(Encoding.UTF8.GetBytes(file)), OperatingState.Usual, Ids());

    private static List<RowPreview> PinRows(TerminalPreview preview) => [.. preview.Rows.Where(r => r.Kind == LineKind.Pin)];

    private static Func<string> Ids()
    {
        var next = 0;
        return () => $"n{++next}";
    }
}
