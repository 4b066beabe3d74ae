using System.Text;
using CsCheck;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

/// <summary>Sheets as people type them. All are made up; how people type is common practice, no source.</summary>
public sealed class MessySheetTests
{
    /// <summary>Name, the sheet, and what it becomes: holder, pin, colours, signal, limits, one pin a line.</summary>
    public static TheoryData<string, string, string> Sheets =>
        new()
        {
            {
                "title rows above the headings",
                "South slip gate\nMeasured in spring\n\nConn,Pin,Colour,Use,Volts\nJ4,1,red,24 V in,24\nJ4,2,black,return,\n",
                "board J4·1 RD 24 V in [24 V] / board J4·2 BK return"
            },
            {
                "headings that repeat",
                "Plug,Pin,Wire,Should read\nJ1,1,red,24 V\nPlug,Pin,Wire,Should read\nJ2,1,blue,5 V\n",
                "board J1·1 RD [24 V] / board J2·1 BU [5 V]"
            },
            {
                "headings in two rows",
                "Plug,Pin,Wire,Should\n,no.,colour,be\nJ1,1,red,24 V\nJ1,2,white,0 V\n",
                "board J1·1 RD [24 V] / board J1·2 WH [0 V]"
            },
            {
                "headings in many words",
                "Plug / header,Pin #,What colour,What is it for,It should read,Notes\nJ1,1,rd,feed,24 V,near hinge\n",
                "board J1·1 RD feed [24 V (near hinge)]"
            },
            {
                "two tables side by side",
                "Plug,Pin,Volts,,Plug,Pin,Volts\nJ1,1,24,,J2,1,5\nJ1,2,0,,J2,2,3.3\nJ1,3,12,,,,\n",
                "board J1·1 [24 V] / board J1·2 [0 V] / board J1·3 [12 V] / board J2·1 [5 V] / board J2·2 [3.3 V]"
            },
            {
                "sections for boards and plugs",
                "Pin,Colour,Volts\nDRIVE BOARD\nPlug J1\n1,red,24\n2,black,0\nDISPLAY\nPlug J1\n1,white,5\n",
                "drive board J1·1 RD [24 V] / drive board J1·2 BK [0 V] / display J1·1 WH [5 V]"
            },
            { "a section that names both", "Pin,Volts\nDRIVE BOARD J7\n1,24\n2,0\n", "drive board J7·1 [24 V] / drive board J7·2 [0 V]" },
            { "a plug on a board in words", "Pin,Volts\nJ3 on the logic board\n4,5\n", "logic board J3·4 [5 V]" },
            {
                "a column of boards",
                "Board,Conn,Pin,Volts\ndrive,J1,1,24\n,,2,0\nlogic,J1,1,5\n",
                "drive J1·1 [24 V] / drive J1·2 [0 V] / logic J1·1 [5 V]"
            },
            {
                "prefixes in the pin",
                "Pin,Volts\ndrive J4-3,24\ndrive J4-4,0\nlogic J1-1,5\n",
                "drive J4·3 [24 V] / drive J4·4 [0 V] / logic J1·1 [5 V]"
            },
            {
                "things that are on no board",
                "Pin,Signal,Volts\nPOWER SUPPLY TB1\n+,plus out,24\n-,return,\nSERVICE SWITCH S1\n1,,24\n2,,24\n",
                "TB1:Supply TB1·+ plus out [24 V] here / TB1:Supply TB1·- return / S1:Switch S1·1 [24 V] / S1:Switch S1·2 [24 V]"
            },
            { "letters of a switch", "Pin,Volts\nSW2-1,24\nSW2-2,0\n", "SW2:Switch SW2·1 [24 V] / SW2:Switch SW2·2 [0 V]" },
            {
                "ditto marks of every kind",
                "Conn,Pin,Colour,Use\nJ1,1,red,feed\nJ1,2,\",do\nJ1,3,ditto,''\n",
                "board J1·1 RD feed / board J1·2 RD feed / board J1·3 RD feed"
            },
            { "no ditto across connectors", "Conn,Pin,Colour,Use\nJ1,1,red,feed\nJ2,1,ditto,ditto\n", "board J1·1 RD feed / board J2·1" },
            {
                "notes and totals below",
                "Conn,Pin,Volts\nJ1,1,24\nTotal,,1\nNote: measured with the gate shut\nChecked by E.,,\n",
                "board J1·1 [24 V]"
            },
            {
                "pins in a list",
                "Conn,Pin,Colour,Volts\nJ1,\"1,2,3\",red,24\nJ1,4 & 5,black,\n",
                "board J1·1 RD [24 V] / board J1·2 RD [24 V] / board J1·3 RD [24 V] / board J1·4 BK / board J1·5 BK"
            },
            {
                "pins in a range",
                "Conn,Pin,Volts\nJ1,1-3,24\nJ1,4 to 5,\n",
                "board J1·1 [24 V] / board J1·2 [24 V] / board J1·3 [24 V] / board J1·4 / board J1·5"
            },
            { "pins with a point and a nought", "Conn,Pin,Volts\nJ1,1.0,24\nJ1,2.0,0\n", "board J1·1 [24 V] / board J1·2 [0 V]" },
            { "pins that do have a point", "Conn,Pin,Volts\nX1,0.0,24\nX1,0.1,0\n", "board X1·0.0 [24 V] / board X1·0.1 [0 V]" },
            { "a pin that became a date", "Conn,Pin,Volts\nTB4,04-Jan,24\n", "board TB4·4-1 [24 V]" },
            {
                "a connector and a run of its pins in one cell",
                "Pin,Colour\nJ4 1-3,red\nJ4 pin 4,black\n",
                "board J4·1 RD / board J4·2 RD / board J4·3 RD / board J4·4 BK"
            },
            {
                "colours in words",
                "Conn,Pin,Colour\nJ1,1,black with white stripe\nJ1,2,wht/blu\nJ1,3,blk w/ wht\nJ1,4,Green & Yellow\nJ1,5,orange (white)\n",
                "board J1·1 BK-WH / board J1·2 WH-BU / board J1·3 BK-WH / board J1·4 GN-YE / board J1·5 OG-WH"
            },
            {
                "remarks in the limit's cell",
                "Conn,Pin,Volts\nJ1,1,24 V when full\nJ1,2,\"5.1, blue lamp\"\nJ1,3,12 (no load)\n",
                "board J1·1 [24 V (when full)] / board J1·2 [5.1 V (blue lamp)] / board J1·3 [12 V (no load)]"
            },
            {
                "values that are no values",
                "Conn,Pin,Colour,Volts\nJ1,1,red,pulses\nJ1,2,white,see drawing\n",
                "board J1·1 RD [no reading: pulses] / board J1·2 WH [no reading: see drawing]"
            },
            {
                "two values for one pin",
                "Conn,Pin,Volts\nJ1,1,12 or 0\nJ1,2,+12/-12\n",
                "board J1·1 [12 V; 0 V] / board J1·2 [12 V; -12 V]"
            },
            {
                "a state behind each value",
                "Conn,Pin,Volts\nJ1,1,12 (off) or 0 (running)\nJ1,2,24 V when off\n",
                "board J1·1 [12 V off; 0 V] / board J1·2 [24 V off]"
            },
            {
                "one black probe for the sheet",
                "All readings to P12-3 grey\nConn,Pin,Volts\nP12,1,24\nP12,3,\n",
                "board P12·1 [24 V to P12·3] / board P12·3"
            },
            {
                "one black probe for a section",
                "Pin,Volts\nDRIVE BOARD J1 common: J1-2\n1,24\n2,\nLOGIC BOARD J1 - black probe on J1-9\n1,5\n9,\n",
                "drive board J1·1 [24 V to J1·2] / drive board J1·2 / logic board J1·1 [5 V to J1·9] / logic board J1·9"
            },
            {
                "a black probe on another board",
                "Pin,Volts\nDRIVE BOARD J1\n1,24\n2,\nLOGIC BOARD J5 common: drive J1-2\n1,5\n",
                "drive board J1·1 [24 V] / drive board J1·2 / logic board J5·1 [5 V to DRI-J1·2]"
            },
            {
                "no headings at all",
                "J1-1,red,24 V\nJ1-2,black,0 V\nJ2-1,white,5 V\n",
                "board J1·1 RD [24 V] / board J1·2 BK [0 V] / board J2·1 WH [5 V]"
            },
            { "no headings and columns apart", "J1  1  red    24 V\nJ1  2  black  0 V\n", "board J1·1 RD [24 V] / board J1·2 BK [0 V]" },
            {
                "columns set apart by blanks",
                "Pin   Colour   Volts   Notes\nJ1-1  red      24 V    fused\nJ1-2  black            return\n",
                "board J1·1 RD [24 V (fused)] / board J1·2 BK"
            },
            { "upright strokes", "Conn|Pin|Volts\nJ1|1|24\nJ1|2|0\n", "board J1·1 [24 V] / board J1·2 [0 V]" },
            { "semicolons and commas for points", "Conn;Pin;Volts\nJ1;1;24,5\n", "board J1·1 [24.5 V]" },
            {
                "a black wire is no heading",
                "Conn,Pin,Colour,Use\nJ1,L,black,feed\nJ1,N,white,return\n",
                "board J1·L BK feed / board J1·N WH return"
            },
            { "further checks of one pin", "Conn,Pin,State,Volts\nJ1,1,off,0\n,,running,24\n", "board J1·1 [0 V off; 24 V]" },
            { "a state of their own", "Conn,Pin,State,Volts\nJ1,1,gate moving,24\n", "board J1·1 [24 V gate-moving]" },
            { "a meter mode nobody knows", "Conn,Pin,Mode,Volts\nJ1,1,wiggle,24\n", "board J1·1 [24 V]" },
            { "long words in the pin column", "Conn,Pin,Volts\nJ1,the third from the left,24\nJ1,2,0\n", "board J1·2 [0 V]" },
            { "plugged in and out", "Conn,Pin,Volts,Plugged\nJ1,1,24,in\nJ1,2,24,perhaps\n", "board J1·1 [24 V] / board J1·2 [24 V]" },
            { "blank lines and dashes between", "Conn,Pin,Volts\n\nJ1,1,24\n-----,,\n\nJ1,2,0\n", "board J1·1 [24 V] / board J1·2 [0 V]" },
            { "a heading that differs below", "Conn,Pin,Volts\nJ1,1,24\nConn,Pin,Colour\nJ2,1,red\n", "board J1·1 [24 V] / board J2·1 RD" },
            { "a lone pin in a row", "Conn,Pin,Volts\nJ1,1,24\n,2,\n,3,\n", "board J1·1 [24 V] / board J1·2 / board J1·3" },
        };

    [Theory]
    [MemberData(nameof(Sheets))]
    public void A_sheet_as_people_type_it_becomes(string name, string sheet, string expected) =>
        Assert.Equal((name, expected), (name, string.Join(" / ", Told(Lay(sheet)))));

    [Fact]
    public void No_row_is_dropped_without_being_shown() =>
        Assert.All(
            Sheets,
            sheet =>
            {
                var text = (string)sheet[1];
                var lines = text.Split('\n').Index().Where(l => l.Item.Trim().Length > 0).Select(l => l.Index + 1);
                Assert.Equal(lines, Lay(text).Rows.Select(r => r.Line).Distinct().Order());
            }
        );

    /// <summary>Any bytes: a preview, or a refusal with words, and nothing else.</summary>
    [Fact]
    public void Any_bytes_give_a_preview_or_a_refusal() =>
        Gen.OneOf(
                Gen.Byte.Array[0, 300],
                Gen.String.Select(Encoding.UTF8.GetBytes),
                Gen.Select(Gen.Int[0, 39], Gen.Int[0, 400], Gen.Char[' ', '~'])
                    .Select(
                        (which, at, sign) =>
                        {
                            var text = new StringBuilder((string)Sheets.ElementAt(which)[1]);
                            text[at % text.Length] = sign;
                            return Encoding.UTF8.GetBytes(text.ToString());
                        }
                    ),
                Gen.Byte.Array[0, 300].Select(b => (byte[])[(byte)'P', (byte)'K', 3, 4, .. b]),
                Gen.Byte.Array[0, 600].Select(b => (byte[])[0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, .. b])
            )
            .Sample(bytes =>
            {
                try
                {
                    var result = Lay(bytes);
                    Assert.All(result.Rows, r => Assert.Equal(r.Outcome == RowOutcome.Refused, r.Problem.Length > 0));
                }
                catch (FormatException refusal)
                {
                    Assert.NotEmpty(refusal.Message);
                }
            });

    [Fact]
    public void What_nobody_understands_is_asked_once()
    {
        var table = TerminalTable.Read(Encoding.UTF8.GetBytes("Conn,Pin,Zork,Volts\nJ1,1,left,24\nJ1,2,right,0\n"));
        var unknown = Assert.Single(table.Unknown);
        Assert.Equal((2, "Zork", "left, right"), (unknown.Place, unknown.Heading, string.Join(", ", unknown.Samples)));
        var said = TerminalTable.Read(
            Encoding.UTF8.GetBytes("Conn,Pin,Zork,Volts\nJ1,1,left,24\n"),
            new Dictionary<int, TerminalColumn?> { [2] = TerminalColumn.Signal }
        );
        Assert.Empty(said.Unknown);
        Assert.Equal("left", said.Lines.Single(l => l.Kind == LineKind.Pin)[TerminalColumn.Signal]);
        Assert.Empty(
            TerminalTable
                .Read(Encoding.UTF8.GetBytes("Conn,Pin,Zork,Volts\nJ1,1,left,24\n"), new Dictionary<int, TerminalColumn?> { [2] = null })
                .Unknown
        );
    }

    [Fact]
    public void A_text_in_any_code_page_is_read()
    {
        const string Text = "Conn,Pin,Volts\nJ1,1,24 V ±5 %\n";
        foreach (var page in new[] { 850, 437, 10000, 1252 })
        {
            _ = SheetFile.Read([(byte)'a', (byte)'\n']);
            var bytes = Encoding.GetEncoding(page).GetBytes(Text);
            Assert.Contains("24 V ±5 %", Told(Lay(TerminalTable.Read(bytes, codePage: page)))[0], StringComparison.Ordinal);
        }

        foreach (var encoding in new[] { Encoding.Unicode, Encoding.BigEndianUnicode })
        {
            Assert.Contains("24 V ±5 %", Told(Lay(encoding.GetBytes(Text)))[0], StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Answers_for_one_connector_hold_for_those_that_follow()
    {
        const string Sheet = "Pin,Volts\nJ7-1,24\nJ8-1,12\n";
        var model = Bare with { Positions = [new("p1", "DR", "drive", "t1"), new("p2", "LO", "logic", "t2")] };
        var proposed = MachineSheet.Lay(model, Types(model), "LY-50", Table(Sheet), SheetAnswers.None, Ids());
        Assert.All(proposed.Groups, g => Assert.False(g.IsSure));
        var said = new SheetAnswers(
            new Dictionary<string, SheetTarget> { [proposed.Groups[0].Key] = new(SheetTargetKind.Position, "p2", "", null) },
            new Dictionary<string, bool>()
        );
        var laid = MachineSheet.Lay(model, Types(model), "LY-50", Table(Sheet), said, Ids());
        Assert.All(laid.Groups, g => Assert.Equal("logic", g.TargetWords));
        Assert.Equal("t2", Assert.Single(laid.BoardTypes).Id);
    }

    [Fact]
    public void Two_values_are_asked_for_their_states_and_the_answer_counts()
    {
        const string Sheet = "Conn,Pin,Volts\nJ1,1,24 or 0\n";
        var row = Lay(Sheet).Rows[1];
        Assert.Equal(["24 V standby", "0 V standby"], row.Values.Select(v => $"{v.Written} {v.State}"));
        Assert.Contains("say in which state", Assert.Single(row.Doubts), StringComparison.Ordinal);
        var said = SheetAnswers.None with
        {
            States = new Dictionary<string, IReadOnlyList<string>> { ["J1\t1\t24 or 0"] = ["running", "off"] },
        };
        var laid = MachineSheet.Lay(Bare, new Dictionary<BoardTypeId, BoardType>(), "LY-50", Table(Sheet), said, Ids());
        Assert.Empty(laid.Rows[1].Doubts);
        Assert.Equal(["24 V running", "0 V off"], laid.BoardTypes[0].Checks.Select(c => $"{LimitNotation.Write(c.Limit)} {c.State}"));
    }

    /// <summary>Nobody knows when which is right, or one is no check: both are answers, which can be given otherwise again.</summary>
    [Theory]
    [InlineData(SheetSaid.Either, SheetSaid.Either, "either 24 V or 0 V standby")]
    [InlineData("running", SheetSaid.LeftOut, "24 V running")]
    [InlineData(SheetSaid.LeftOut, SheetSaid.LeftOut, "")]
    public void Either_is_right_and_never_are_answers(string first, string second, string checks)
    {
        var said = SheetAnswers.None with
        {
            States = new Dictionary<string, IReadOnlyList<string>> { ["J1\t1\t24 or 0"] = [first, second] },
        };
        var laid = MachineSheet.Lay(
            Bare,
            new Dictionary<BoardTypeId, BoardType>(),
            "LY-50",
            Table("Conn,Pin,Volts\nJ1,1,24 or 0\n"),
            said,
            Ids()
        );
        Assert.Empty(laid.Rows[1].Doubts);
        Assert.Equal([first, second], laid.Rows[1].Values.Select(v => v.State));
        Assert.Equal(checks, string.Join("; ", laid.BoardTypes[0].Checks.Select(c => $"{LimitNotation.Write(c.Limit)} {c.State}")));
    }

    /// <summary>A limit is kept as its text: what could not be read again stays two, in doubt.</summary>
    [Fact]
    public void What_cannot_be_one_limit_stays_two()
    {
        const string Cell = "12; no reading: see drawing";
        var said = SheetAnswers.None with
        {
            States = new Dictionary<string, IReadOnlyList<string>> { [$"J1\t1\t{Cell}"] = [SheetSaid.Either, SheetSaid.Either] },
        };
        var laid = MachineSheet.Lay(
            Bare,
            new Dictionary<BoardTypeId, BoardType>(),
            "LY-50",
            Table($"Conn,Pin,Volts\nJ1,1,{Cell}\n"),
            said,
            Ids()
        );
        Assert.Contains(laid.Rows[1].Doubts, d => d.Contains("cannot be one limit", StringComparison.Ordinal));
        Assert.All(laid.BoardTypes[0].Checks, c => Assert.True(LimitNotation.IsKeptByItsText(c.Limit)));
    }

    [Fact]
    public void Two_things_with_one_terminal_block_stay_two_when_the_sheet_comes_again()
    {
        const string Sheet = "Pin,Volts\nPOWER SUPPLY TB1\n+,24\n-,\nBATTERY TB1\n+,12\n-,\n";
        var first = Lay(Sheet);
        Assert.Equal(["TB1 power supply", "TB1-2 battery"], first.Model.Parts.Select(p => $"{p.Designator} {p.Name}"));
        var again = MachineSheet.Lay(
            first.Model,
            new Dictionary<BoardTypeId, BoardType>(),
            "LY-50",
            Table(Sheet),
            SheetAnswers.None,
            Ids("again")
        );
        Assert.False(again.ChangesAnything);
    }

    [Fact]
    public void The_same_sheet_again_changes_nothing()
    {
        const string Sheet =
            "Pin,Colour,Signal,Volts,To\nDRIVE BOARD J1\n1,red,feed,24,logic J5-1\n2,black,return,\nLOGIC BOARD J5\n1,red,feed,24\n";
        var first = Lay(Sheet);
        Assert.True(first.ChangesAnything);
        var again = MachineSheet.Lay(
            first.Model,
            first.BoardTypes.ToDictionary(t => t.Id),
            "LY-50",
            Table(Sheet),
            SheetAnswers.None,
            Ids("again")
        );
        Assert.False(again.ChangesAnything);
        Assert.All(again.Rows.Where(r => r.Kind == LineKind.Pin), r => Assert.Equal(RowOutcome.Same, r.Outcome));
    }

    internal static readonly Model Bare = new("m1", "Varnholt", "Gate", [], [], OperatingState.Usual, [], []);

    internal static TerminalTable Table(string sheet) => TerminalTable.Read(Encoding.UTF8.GetBytes(sheet));

    internal static MachineSheetResult Lay(string sheet) => Lay(Encoding.UTF8.GetBytes(sheet));

    private static MachineSheetResult Lay(byte[] sheet) => Lay(TerminalTable.Read(sheet));

    private static MachineSheetResult Lay(TerminalTable table) =>
        MachineSheet.Lay(Bare, new Dictionary<BoardTypeId, BoardType>(), "LY-50", table, SheetAnswers.None, Ids());

    internal static Dictionary<BoardTypeId, BoardType> Types(Model model) =>
        model.Positions.ToDictionary(
            p => p.BoardTypeId,
            p => Sample.Board with { Id = p.BoardTypeId, Elements = [], Links = [], Checks = [] }
        );

    internal static Func<string> Ids(string stem = "n")
    {
        var next = 0;
        return () => $"{stem}{++next}";
    }

    /// <summary>Every pin with what is known of it, in the order of the sheet.</summary>
    private static List<string> Told(MachineSheetResult result)
    {
        var types = result.BoardTypes.ToDictionary(t => t.Id);
        var checks = WiringSheet.Resolved(result.Model, types).Checks;
        var pins = WiringSheet.Resolved(result.Model, types).Pins;
        return
        [
            .. result
                .Model.Positions.SelectMany(p =>
                    types[p.BoardTypeId]
                        .Elements.SelectMany(e =>
                            e.Pins.Select(pin =>
                                (Holder: p.Name, e.Designator, Pin: pin, At: (PinAddress)new PinAddress.OnBoard(p.Id, pin.Id))
                            )
                        )
                )
                .Concat(
                    result.Model.Parts.SelectMany(p =>
                        p.Pins.Select(pin =>
                            (
                                Holder: $"{p.Designator}:{p.Kind}",
                                p.Designator,
                                Pin: pin,
                                At: (PinAddress)new PinAddress.OffBoard(p.Id, pin.Id)
                            )
                        )
                    )
                )
                .Select(x =>
                {
                    var limits = checks
                        .Where(c => c.Check.Red == x.At)
                        .Select(c =>
                            LimitNotation.Write(c.Limit)
                            + (c.Check.Black is { } black ? $" to {Short(pins[black].Printed, pins[x.At].Printed)}" : "")
                            + (c.Check.Remark.Length > 0 ? $" ({c.Check.Remark})" : "")
                            + (c.Check.State == "standby" || c.Check.State == "running" ? "" : $" {c.Check.State}")
                        );
                    string[] words =
                    [
                        $"{x.Holder} {x.Designator}·{x.Pin.Label}",
                        x.Pin.Colours.Code,
                        x.Pin.Signal,
                        string.Join("; ", limits) is { Length: > 0 } all ? $"[{all}]" : "",
                        x.Pin.IsSource ? "here" : "",
                    ];
                    return string.Join(' ', words.Where(w => w.Length > 0));
                }),
        ];
    }

    /// <summary>Without the board, where it is the same.</summary>
    private static string Short(string black, string red) =>
        black.Split('-')[0] == red.Split('-')[0] ? black[(black.IndexOf('-', StringComparison.Ordinal) + 1)..] : black;
}
