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
        Gen.Select(Gen.Int[1, 3], Gen.Int[1, 9], Gen.Enum<Direction>(), Gen.Enum<Corner>(), Gen.Enum<Numbering>(), Gen.Int[0, 7]).Sample((rows, perRow, direction, corner, numbering, facingIndex) =>
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
        });

    [Fact]
    public void The_sixth_pin_of_two_rows_is_third_in_the_lower_row() =>
        Assert.Equal(
            "third from the left, lower row",
            PositionWords.Of(Connector(2, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow), Connector(2, 3, Direction.Across, Corner.TopLeft, Numbering.RowByRow).Pins[5], default));

    [Fact]
    public void A_zigzag_counts_from_row_to_row()
    {
        var header = Connector(2, 5, Direction.Across, Corner.TopLeft, Numbering.Zigzag);
        Assert.Equal("first from the left, lower row", PositionWords.Of(header, header.Pins[1], default));
        Assert.Equal("second from the left, upper row", PositionWords.Of(header, header.Pins[2], default));
    }

    private static Element Connector(int rows, int perRow, Direction direction, Corner corner, Numbering numbering) => new(
        "j1", ElementKind.Connector, "J1", "", 8, 7, rows, 4, direction, corner, numbering, "",
        [.. Enumerable.Range(1, rows * perRow).Select(i => new Pin($"p{i}", i, $"{i}", WireColours.None, ""))]);

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
        string Along(int place, int of, string near, string far) => of > 8 && of - 1 - place < place ? $"{ordinals[of - 1 - place]} from the {far}" : $"{ordinals[place]} from the {near}";
        string Across(int place, int of, string first, string last, string name, string from) => of == 2 ? $"{(place == 0 ? first : last)} {name}" : $"{ordinals[place]} {name} from the {from}";
        var (column, line) = (columns.IndexOf(here.X), lines.IndexOf(here.Y));
        return (columns.Count, lines.Count) switch
        {
            (1, 1) => "the only pin",
            (_, 1) => Along(column, columns.Count, "left", "right"),
            (1, _) => Along(line, lines.Count, "top", "bottom"),
            _ when columns.Count >= lines.Count => $"{Along(column, columns.Count, "left", "right")}, {Across(line, lines.Count, "upper", "lower", "row", "top")}",
            _ => $"{Along(line, lines.Count, "top", "bottom")}, {Across(column, columns.Count, "left", "right", "column", "left")}",
        };
    }
}
