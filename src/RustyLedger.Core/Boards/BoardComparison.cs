using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Boards;

public enum DifferenceKind
{
    Board,
    Element,
    Pin,
    Colour,
    Limit,
    Check,
    Path,
}

/// <summary>One thing in which two revisions of a board type differ.</summary>
/// <param name="Where">The element, pin or check, by its printed name.</param>
/// <param name="What">Which of its properties, in words.</param>
/// <param name="Before">Empty where only the later one has it.</param>
/// <param name="After">Empty where only the earlier one has it.</param>
public sealed record BoardDifference(DifferenceKind Kind, string Where, string What, string Before, string After);

/// <summary>
/// Two revisions of a board type, thing by thing. A revision begins as a copy, so things are matched by id, and by their printed name
/// where ids differ.
/// </summary>
public static class BoardComparison
{
    public static IReadOnlyList<BoardDifference> Of(BoardType before, BoardType after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var differences = new List<BoardDifference>();
        void Note(DifferenceKind kind, string where, string what, string one, string two)
        {
            if (one != two)
            {
                differences.Add(new BoardDifference(kind, where, what, one, two));
            }
        }

        Note(
            DifferenceKind.Board,
            after.PartNumber,
            "width, height",
            $"{before.WidthMm:0.##} × {before.HeightMm:0.##} mm",
            $"{after.WidthMm:0.##} × {after.HeightMm:0.##} mm"
        );
        foreach (var (one, two) in Match(before.Elements, after.Elements, e => e.Id.Value, e => e.Designator))
        {
            CompareElements(one, two, Note);
        }

        foreach (var (one, two) in Match(before.Checks, after.Checks, c => c.Id.Value, c => Name(c, after)))
        {
            var where = two is null ? Name(one!, before) : Name(two, after);
            if (one is null || two is null)
            {
                Note(
                    DifferenceKind.Check,
                    where,
                    "check",
                    one is null ? "" : LimitNotation.Write(one.Limit),
                    two is null ? "" : LimitNotation.Write(two.Limit)
                );
                continue;
            }

            Note(DifferenceKind.Limit, where, "should read", LimitNotation.Write(one.Limit), LimitNotation.Write(two.Limit));
            Note(DifferenceKind.Check, where, "how", $"{one.Mode.Words()}, {one.State}", $"{two.Mode.Words()}, {two.State}");
        }

        foreach (var (one, two) in Match(before.Links, after.Links, l => l.Id.Value, l => l.Id.Value))
        {
            Note(
                DifferenceKind.Path,
                two is null ? PinName(before, one!.From) : PinName(after, two.From),
                "feeds",
                one is null ? "" : PinName(before, one.To),
                two is null ? "" : PinName(after, two.To)
            );
        }

        return differences;
    }

    private static void CompareElements(Element? one, Element? two, Action<DifferenceKind, string, string, string, string> note)
    {
        var where = (two ?? one)!.Designator;
        if (one is null || two is null)
        {
            note(
                DifferenceKind.Element,
                where,
                "element",
                one is null ? "" : $"{one.Pins.Count} pins",
                two is null ? "" : $"{two.Pins.Count} pins"
            );
            return;
        }

        note(DifferenceKind.Element, where, "designator", one.Designator, two.Designator);
        note(DifferenceKind.Element, where, "purpose", one.Purpose, two.Purpose);
        note(DifferenceKind.Element, where, "rating", one.Rating, two.Rating);
        note(DifferenceKind.Element, where, "place", $"{one.X:0.##}, {one.Y:0.##} mm", $"{two.X:0.##}, {two.Y:0.##} mm");
        note(DifferenceKind.Element, where, "pins", Shape(one), Shape(two));
        note(DifferenceKind.Element, where, "kind", $"{one.Kind}".ToLowerInvariant(), $"{two.Kind}".ToLowerInvariant());
        foreach (var column in LayoutTable.DetailsOf(two.Kind))
        {
            note(
                DifferenceKind.Element,
                where,
                LayoutTable.Word(column),
                LayoutTable.Cell(one.Detail, column),
                LayoutTable.Cell(two.Detail, column)
            );
        }

        foreach (var (p, q) in Match(one.Pins, two.Pins, p => p.Id.Value, p => p.Label))
        {
            var pin = $"{where}·{(q ?? p)!.Label}";
            if (p is null || q is null)
            {
                note(DifferenceKind.Pin, pin, "pin", p is null ? "" : Words(p), q is null ? "" : Words(q));
                continue;
            }

            note(DifferenceKind.Pin, pin, "label", p.Label, q.Label);
            note(DifferenceKind.Pin, pin, "what it does", p.Signal, q.Signal);
            note(DifferenceKind.Colour, pin, "wire colours", p.Colours.Words, q.Colours.Words);
        }
    }

    private static string Words(Pin pin) =>
        string.Join(", ", new[] { pin.Signal, pin.Colours.Words }.Where(w => w.Length > 0).DefaultIfEmpty("no words"));

    private static string Shape(Element e) =>
        $"{e.Rows} × {e.PerRow}, {e.PitchMm:0.##} mm, pin 1 {e.Pin1}, {e.Numbering}, {e.Direction}".ToLowerInvariant();

    private static string Name(Check check, BoardType type) =>
        check.Red is null
            ? check.Part
            : $"{PinName(type, check.Red)}{(check.Black is null ? "" : $" to {PinName(type, check.Black)}")}, {check.State}";

    private static string PinName(BoardType type, PinAddress address) =>
        type
            .Elements.SelectMany(e => e.Pins.Where(p => p.Id == address.OwnPin).Select(p => $"{e.Designator}·{p.Label}"))
            .FirstOrDefault(address.OwnPin?.Value ?? "");

    private static IEnumerable<(T? One, T? Two)> Match<T>(
        IEnumerable<T> before,
        IEnumerable<T> after,
        Func<T, string> id,
        Func<T, string> name
    )
        where T : class
    {
        var left = after.ToList();
        foreach (var one in before)
        {
            var two = left.Find(t => id(t) == id(one)) ?? left.Find(t => name(t) == name(one));
            if (two is not null)
            {
                left.Remove(two);
            }

            yield return (one, two);
        }

        foreach (var two in left)
        {
            yield return (null, two);
        }
    }
}
