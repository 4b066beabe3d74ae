using CsCheck;
using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Tests.Boards;

public sealed class FacingTests
{
    private const int Scale = 4;

    /// <summary>
    /// Draws the element pixel by pixel, then mirrors and turns the picture itself as one turns a photograph, and
    /// counts along it. Shares nothing with the arithmetic of places.
    /// </summary>
    [Fact]
    public void Words_count_to_the_pixel_that_was_drawn() =>
        Gen.Select(Gen.Int[1, 3], Gen.Int[1, 9], Gen.Enum<Direction>(), Gen.Enum<Corner>(), Gen.Enum<Numbering>(), Gen.Int[0, 15])
            .Sample(
                (rows, perRow, direction, corner, numbering, facingIndex) =>
                {
                    var facing = Facing.All[facingIndex];
                    var element = Connector(rows, perRow, direction, corner, numbering);
                    var (width, height) = (60, 50);
                    var picture = new int[height * Scale, width * Scale];
                    foreach (var pin in element.Pins)
                    {
                        var (x, y) = element.PlaceOf(pin);
                        picture[(int)(y * Scale), (int)(x * Scale)] = pin.Index;
                    }

                    var seen = facing.Mirrored ? Mirror(picture) : picture;
                    for (var i = 0; i < facing.Turns; i++)
                    {
                        seen = TurnRight(seen);
                    }

                    foreach (var pin in element.Pins)
                    {
                        Assert.Equal(Counted(seen, pin.Index), PositionWords.Of(element, pin, facing));
                        var (px, py) = facing.Place(element.PlaceOf(pin).X, element.PlaceOf(pin).Y, width, height);
                        // A mirrored edge pixel lands one pixel off the mirrored point.
                        var (column, line) = Find(seen, pin.Index);
                        Assert.InRange(Math.Abs((px * Scale) - column), 0, 1);
                        Assert.InRange(Math.Abs((py * Scale) - line), 0, 1);
                    }
                }
            );

    /// <summary>
    /// Only the solder side and the mating face of a pulled plug exchange left and right; a seated plug is counted from its wires as
    /// from above.
    /// </summary>
    [Fact]
    public void A_seated_plug_seen_from_its_wires_counts_like_the_component_side()
    {
        var plug = Connector(1, 4, Direction.Across, Corner.TopLeft, Numbering.RowByRow);
        string Second(BoardSide side) => PositionWords.Of(plug, plug.Pins[1], new Facing(0, side));
        Assert.Equal(
            ("second from the left", "second from the left", "third from the left", "third from the left"),
            (Second(BoardSide.Component), Second(BoardSide.Wire), Second(BoardSide.Solder), Second(BoardSide.Mating))
        );
    }

    /// <summary>The same for what jumpers, switches and trimmers say: the picture is turned, then looked at.</summary>
    [Fact]
    public void Left_right_and_clockwise_are_as_in_the_picture() =>
        Gen.Select(Gen.Enum<Direction>(), Gen.Enum<Corner>(), Gen.Enum<Toward>(), Gen.Int[0, 15])
            .Sample(
                (direction, corner, on, facingIndex) =>
                {
                    var facing = Facing.All[facingIndex];
                    var jumper = Connector(1, 3, direction, corner, Numbering.RowByRow) with
                    {
                        Kind = ElementKind.Jumper,
                        Detail = new ElementDetail { Positions = [new("1-2", "slow"), new("2-3", "fast"), new("off", "none")] },
                    };
                    var pairs = ElementWords.Positions(jumper, facing);
                    Assert.Equal(
                        $"the {Way(Shown(facing, jumper.PlaceOf(jumper.Pins[1]), jumper.PlaceOf(jumper.Pins[0]))).Pair} pair",
                        pairs[0].Where
                    );
                    Assert.Equal(
                        $"the {Way(Shown(facing, jumper.PlaceOf(jumper.Pins[1]), jumper.PlaceOf(jumper.Pins[2]))).Pair} pair",
                        pairs[1].Where
                    );
                    Assert.Equal("", pairs[2].Where);

                    var bank = Connector(1, 4, direction, corner, Numbering.RowByRow) with
                    {
                        Kind = ElementKind.SwitchBank,
                        Detail = new ElementDetail { OnToward = on, Positions = [new("3 on", "fast"), new("3 off", "slow")] },
                    };
                    var (x, y) = bank.PlaceOf(bank.Pins[2]);
                    var (right, down) = on switch
                    {
                        Toward.Up => (0, -1),
                        Toward.Down => (0, 1),
                        Toward.Left => (-1, 0),
                        _ => (1, 0),
                    };
                    var slides = ElementWords.Positions(bank, facing);
                    var place = PositionWords.Of(bank, bank.Pins[2], facing);
                    Assert.Equal($"{place}, slid {Way(Shown(facing, (x, y), (x + right, y + down))).Slid}", slides[0].Where);
                    Assert.Equal($"{place}, slid {Way(Shown(facing, (x, y), (x - right, y - down))).Slid}", slides[1].Where);
                    Assert.Equal(
                        $"1 is {PositionWords.Of(bank, bank.Pins[0], facing)}",
                        Assert.Single(ElementWords.Of(bank, facing), l => l.Name == "counted").Text
                    );

                    // Twelve, three and six o'clock: in that order they go round clockwise, or they do not.
                    var (twelve, three, six) = (
                        Shown(facing, (20, 20), (20, 17)),
                        Shown(facing, (20, 20), (23, 20)),
                        Shown(facing, (20, 20), (20, 23))
                    );
                    var clockwise = (three.X - twelve.X) * (six.Y - twelve.Y) - ((three.Y - twelve.Y) * (six.X - twelve.X)) > 0;
                    Assert.Equal(clockwise ? "clockwise" : "anticlockwise", ElementWords.Turn(Turning.Clockwise, facing));
                    Assert.Equal(clockwise ? "anticlockwise" : "clockwise", ElementWords.Turn(Turning.Anticlockwise, facing));
                }
            );

    [Fact]
    public void What_is_seen_is_taken_back_to_the_component_side() =>
        Gen.Select(Gen.Int[0, 15], Gen.Int[0, 15], Gen.Double[0, 60], Gen.Double[0, 50])
            .Sample(
                (i, j, x, y) =>
                {
                    var (facing, wanted) = (Facing.All[i], Facing.All[j]);
                    var (seenX, seenY) = facing.Place(x, y, 60, 50);
                    var (backX, backY) = facing.Back(seenX, seenY, 60, 50);
                    Assert.Equal((x, y), (backX, backY), Near);

                    // A picture that shows the board in one way, changed as To says, shows it in the other.
                    var (width, height) = facing.Size(60.0, 50.0);
                    var change = facing.To(wanted);
                    Assert.Equal(wanted.Place(x, y, 60, 50), change.Place(seenX, seenY, width, height), Near);
                }
            );

    [Fact]
    public void A_relay_tells_where_its_coil_is()
    {
        var relay = Connector(1, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow) with
        {
            Kind = ElementKind.Relay,
            Detail = new ElementDetail
            {
                Switches = "the pump",
                Coil = "1, 3",
                Contacts = "2, NC",
            },
        };
        Assert.Equal(
            [
                new("switches", "the pump"),
                new("coil", "1, third from the left; 3, first from the left"),
                new("contacts", "2, second from the left; NC"),
            ],
            ElementWords.Of(relay, new Facing(0, BoardSide.Solder))
        );
    }

    private static bool Near((double X, double Y) one, (double X, double Y) other) => double.Hypot(one.X - other.X, one.Y - other.Y) < 1e-9;

    /// <summary>Where a second place lies from a first in the mirrored and turned picture.</summary>
    private static (int X, int Y) Shown(Facing facing, (decimal X, decimal Y) from, (decimal X, decimal Y) to)
    {
        var picture = new int[50 * Scale, 60 * Scale];
        picture[(int)(from.Y * Scale), (int)(from.X * Scale)] = 1;
        picture[(int)(to.Y * Scale), (int)(to.X * Scale)] = 2;
        picture = facing.Mirrored ? Mirror(picture) : picture;
        for (var i = 0; i < facing.Turns; i++)
        {
            picture = TurnRight(picture);
        }

        var (one, two) = (Find(picture, 1), Find(picture, 2));
        return (two.Column - one.Column, two.Line - one.Line);
    }

    private static (string Pair, string Slid) Way((int X, int Y) step) =>
        step switch
        {
            (0, < 0) => ("upper", "up"),
            (0, > 0) => ("lower", "down"),
            (< 0, 0) => ("left", "left"),
            _ => ("right", "right"),
        };

    [Fact]
    public void The_sixth_pin_of_two_rows_is_third_in_the_lower_row() =>
        Assert.Equal(
            "third from the left, lower row",
            PositionWords.Of(
                Connector(2, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow),
                Connector(2, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow).Pins[5],
                default
            )
        );

    /// <summary>Latch, key and the neighbours' colours turn and mirror with what is seen.</summary>
    [Fact]
    public void Landmarks_are_named_as_faced()
    {
        var plug = Connector(1, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow) with
        {
            Detail = new ElementDetail { Latch = Toward.Up, KeySide = Toward.Left },
        };
        plug = plug with
        {
            Pins =
            [
                plug.Pins[0] with
                {
                    Colours = WireColours.Read("RD"),
                },
                plug.Pins[1],
                plug.Pins[2] with
                {
                    Colours = WireColours.Read("BK"),
                },
            ],
        };
        string Seen(Facing facing) => PositionWords.Landmarks(plug, plug.Pins[1], facing, p => p.Colours);
        Assert.Equal("latch above, key at the left, red at the left, black at the right", Seen(default));
        Assert.Equal("latch above, key at the right, red at the right, black at the left", Seen(new Facing(0, BoardSide.Mating)));
        Assert.Equal("latch below, key at the right, red at the right, black at the left", Seen(new Facing(2, BoardSide.Component)));
        Assert.Empty(
            PositionWords.Landmarks(
                Connector(1, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow),
                plug.Pins[1],
                default,
                p => WireColours.None
            )
        );
    }

    [Fact]
    public void A_zigzag_counts_from_row_to_row()
    {
        var header = Connector(2, 5, Direction.Across, Corner.TopLeft, Numbering.Zigzag);
        Assert.Equal("first from the left, lower row", PositionWords.Of(header, header.Pins[1], default));
        Assert.Equal("second from the left, upper row", PositionWords.Of(header, header.Pins[2], default));
    }

    private static Element Connector(int rows, int perRow, Direction direction, Corner corner, Numbering numbering) =>
        new(
            "j1",
            ElementKind.Connector,
            "J1",
            "",
            8,
            7,
            rows,
            4,
            direction,
            corner,
            numbering,
            "",
            [.. Enumerable.Range(1, rows * perRow).Select(i => new Pin($"p{i}", i, $"{i}", WireColours.None, ""))]
        );

    private static int[,] Mirror(int[,] picture)
    {
        var (h, w) = (picture.GetLength(0), picture.GetLength(1));
        var into = new int[h, w];
        for (var y = 0; y < h; y++)
        {
            for (var x = 0; x < w; x++)
            {
                into[y, w - 1 - x] = picture[y, x];
            }
        }

        return into;
    }

    private static int[,] TurnRight(int[,] picture)
    {
        var (h, w) = (picture.GetLength(0), picture.GetLength(1));
        var into = new int[w, h];
        for (var y = 0; y < h; y++)
        {
            for (var x = 0; x < w; x++)
            {
                into[x, h - 1 - y] = picture[y, x];
            }
        }

        return into;
    }

    private static (int Column, int Line) Find(int[,] picture, int pin)
    {
        for (var y = 0; y < picture.GetLength(0); y++)
        {
            for (var x = 0; x < picture.GetLength(1); x++)
            {
                if (picture[y, x] == pin)
                {
                    return (x, y);
                }
            }
        }

        throw new InvalidOperationException("not drawn");
    }

    private static string Counted(int[,] picture, int pin)
    {
        var drawn = new List<(int X, int Y, int Pin)>();
        for (var y = 0; y < picture.GetLength(0); y++)
        {
            for (var x = 0; x < picture.GetLength(1); x++)
            {
                if (picture[y, x] != 0)
                {
                    drawn.Add((x, y, picture[y, x]));
                }
            }
        }

        var here = drawn.Single(d => d.Pin == pin);
        var columns = drawn.Select(d => d.X).Distinct().Order().ToList();
        var lines = drawn.Select(d => d.Y).Distinct().Order().ToList();
        string[] ordinals = ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth"];
        string Along(int place, int of, string near, string far) =>
            of > 8 && of - 1 - place < place ? $"{ordinals[of - 1 - place]} from the {far}" : $"{ordinals[place]} from the {near}";
        string Across(int place, int of, string first, string last, string name, string from) =>
            of == 2 ? $"{(place == 0 ? first : last)} {name}" : $"{ordinals[place]} {name} from the {from}";
        var (column, line) = (columns.IndexOf(here.X), lines.IndexOf(here.Y));
        return (columns.Count, lines.Count) switch
        {
            (1, 1) => "the only pin",
            (_, 1) => Along(column, columns.Count, "left", "right"),
            (1, _) => Along(line, lines.Count, "top", "bottom"),
            _ when columns.Count >= lines.Count =>
                $"{Along(column, columns.Count, "left", "right")}, {Across(line, lines.Count, "upper", "lower", "row", "top")}",
            _ => $"{Along(line, lines.Count, "top", "bottom")}, {Across(column, columns.Count, "left", "right", "column", "left")}",
        };
    }
}
