using System.Text.Json.Serialization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Machines;

/// <summary>Whatever can be accused, ordered or replaced: one of these, and nothing else. Parts nest; see <see cref="Inside"/>.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Board), "board")]
[JsonDerivedType(typeof(Path), "path")]
[JsonDerivedType(typeof(Element), "element")]
[JsonDerivedType(typeof(Wire), "wire")]
[JsonDerivedType(typeof(Cable), "cable")]
[JsonDerivedType(typeof(Contact), "contact")]
[JsonDerivedType(typeof(OffBoard), "offBoard")]
[JsonDerivedType(typeof(Setting), "setting")]
[JsonDerivedType(typeof(Supply), "supply")]
[JsonDerivedType(typeof(ReturnPath), "return")]
[JsonDerivedType(typeof(OneOf), "oneOf")]
[JsonDerivedType(typeof(Named), "named")]
public abstract record PartRef
{
    private PartRef() { }

    /// <summary>The board in a position.</summary>
    public sealed record Board(PositionId Position) : PartRef;

    /// <summary>A path on the board in a position, between two of its pins.</summary>
    public sealed record Path(PositionId Position, PinId From, PinId To) : PartRef;

    /// <summary>A thing on the board in a position, such as a fuse.</summary>
    public sealed record Element(PositionId Position, ElementId Id) : PartRef;

    /// <summary>The wire between two pins.</summary>
    public sealed record Wire(PinAddress From, PinAddress To) : PartRef;

    /// <summary>All wires of one cable, by its name.</summary>
    public sealed record Cable(string Name) : PartRef;

    /// <summary>One contact of a plug, or of a switch.</summary>
    public sealed record Contact(PinAddress Pin) : PartRef;

    /// <summary>A part that is on no board.</summary>
    public sealed record OffBoard(PartId Part) : PartRef;

    /// <summary>A stored value of the board in a position.</summary>
    public sealed record Setting(PositionId Position, string Code) : PartRef;

    /// <summary>The supply of the site, where it comes in at a pin.</summary>
    public sealed record Supply(PinAddress Pin) : PartRef;

    /// <summary>The return from a common to the supply, or as far as another pin.</summary>
    public sealed record ReturnPath(PinAddress From, PinAddress? To) : PartRef;

    /// <summary>Parts that no test can tell apart: one accused.</summary>
    public sealed record OneOf(IReadOnlyList<PartRef> Parts) : PartRef
    {
        public bool Equals(OneOf? other) => other is not null && Parts.SequenceEqual(other.Parts);

        public override int GetHashCode() => Parts.Aggregate(0, HashCode.Combine);
    }

    /// <summary>Something that is not in the wiring, in words.</summary>
    public sealed record Named(string Words) : PartRef;

    /// <summary>The part it is a part of, and goes with when that is replaced; null where it is a part of nothing.</summary>
    [JsonIgnore]
    public PartRef? Inside =>
        this switch
        {
            Path p => new Board(p.Position),
            Element e => new Board(e.Position),
            Setting s => new Board(s.Position),
            Contact { Pin: PinAddress.OnBoard on } => new Board(on.Position),
            Contact { Pin: PinAddress.OffBoard off } => new OffBoard(off.Part),
            _ => null,
        };
}

/// <summary>Parts in the words of a machine, and words of a technician as parts.</summary>
public static class PartNames
{
    /// <summary>What a part is called on this machine.</summary>
    public static string Of(PartRef part, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(machine);
        string Pin(PinAddress at) => machine.Pins.TryGetValue(at, out var pin) ? pin.Printed : "a pin that is no longer there";
        string Position(PositionId id) => machine.Model.Positions.FirstOrDefault(p => p.Id == id)?.Name ?? id.Value;
        switch (part)
        {
            case PartRef.Board b:
                return $"the board of {Position(b.Position)}";
            case PartRef.Path p:
                var (from, to) = (new PinAddress.OnBoard(p.Position, p.From), new PinAddress.OnBoard(p.Position, p.To));
                return $"the path {Pin(from)} to {Pin(to)} on the board of {Position(p.Position)}";
            case PartRef.Element e:
                var prefix = machine.Model.Positions.FirstOrDefault(x => x.Id == e.Position)?.Prefix ?? e.Position.Value;
                return machine.BoardAt.GetValueOrDefault(e.Position)?.Elements.FirstOrDefault(x => x.Id == e.Id) is { } element
                    ? $"{(element.Kind == ElementKind.Fuse ? "fuse " : "")}{prefix}-{element.Designator}"
                    : $"something that is no longer on the board of {Position(e.Position)}";
            case PartRef.Wire w:
                var colours = machine.Pins.GetValueOrDefault(w.From)?.Pin.Colours is { Code.Length: > 0 } near
                    ? near.Code
                    : machine.Pins.GetValueOrDefault(w.To)?.Pin.Colours.Code ?? "";
                return $"wire {(colours.Length > 0 ? colours + " " : "")}from {Pin(w.From)} to {Pin(w.To)}";
            case PartRef.Cable c:
                return $"cable {c.Name}";
            case PartRef.Contact c:
                return $"the contact at {Pin(c.Pin)}";
            case PartRef.OffBoard o:
                return machine.Model.Parts.FirstOrDefault(x => x.Id == o.Part) is { } off ? $"{off.Name} {off.Designator}" : o.Part.Value;
            case PartRef.Setting s:
                return $"setting {s.Code} of {Position(s.Position)}";
            case PartRef.Supply s:
                return $"the supply at {Pin(s.Pin)}";
            case PartRef.ReturnPath { To: { } end } r:
                return $"the return from {Pin(r.From)} to {Pin(end)}";
            case PartRef.ReturnPath r:
                return $"the return of {(machine.Pins.TryGetValue(r.From, out var black) ? black.PrintedElement : Pin(r.From))}";
            case PartRef.OneOf one:
                return string.Join(" or ", one.Parts.Select(x => Of(x, machine)));
            default:
                return ((PartRef.Named)part).Words;
        }
    }

    /// <summary>
    /// The part that a technician means by a line, where exactly one is called so on this machine: an element or a pin by its printed
    /// name, a part off the boards or a position by its designator or name. Words otherwise.
    /// </summary>
    public static PartRef Read(string line, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(line);
        ArgumentNullException.ThrowIfNull(machine);
        var said = Plain(line);
        if (said.Length == 0)
        {
            return new PartRef.Named(line.Trim());
        }

        var found = All(machine).Where(p => p.Names.Any(n => Plain(n) == said)).Select(p => p.Part).Distinct().ToList();
        return found is [var one] ? one : new PartRef.Named(line.Trim());
    }

    /// <summary>Every part of a machine that has a name, with what it may be called.</summary>
    private static IEnumerable<(PartRef Part, IReadOnlyList<string> Names)> All(ResolvedMachine machine)
    {
        foreach (var position in machine.Model.Positions)
        {
            var board = new PartRef.Board(position.Id);
            yield return (
                board,
                [
                    position.Name,
                    position.Prefix,
                    $"board {position.Name}",
                    $"board of {position.Name}",
                    $"{position.Name} board",
                    Of(board, machine),
                ]
            );
            foreach (var element in machine.BoardAt.GetValueOrDefault(position.Id)?.Elements ?? [])
            {
                var part = new PartRef.Element(position.Id, element.Id);
                var printed = $"{position.Prefix}-{element.Designator}";
                yield return (part, [printed, $"{element.Purpose} {printed}", $"fuse {printed}", Of(part, machine)]);
            }
        }

        foreach (var off in machine.Model.Parts)
        {
            yield return (
                new PartRef.OffBoard(off.Id),
                [off.Designator, off.Name, $"{off.Name} {off.Designator}", $"{off.Designator} {off.Name}"]
            );
        }

        foreach (var pin in machine.Pins.Values)
        {
            yield return (
                new PartRef.Contact(pin.Address),
                [pin.Printed, $"contact {pin.Printed}", $"contact at {pin.Printed}", $"the contact at {pin.Printed}"]
            );
        }

        foreach (var link in machine.Links)
        {
            var part = Conductor(link, machine);
            yield return (part, [Of(part, machine)]);
        }
    }

    /// <summary>What a link runs through: a fuse, the inside of a part, a path on a board, or a wire.</summary>
    public static PartRef Conductor(ResolvedLink link, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(link);
        ArgumentNullException.ThrowIfNull(machine);
        var (from, to) = (machine.Pins[link.From], machine.Pins[link.To]);
        return (link.From, link.To) switch
        {
            (PinAddress.OnBoard a, PinAddress.OnBoard b)
                when a.Position == b.Position && from.Element is { Kind: ElementKind.Fuse } fuse && to.Element == fuse =>
                new PartRef.Element(a.Position, fuse.Id),
            (PinAddress.OffBoard a, PinAddress.OffBoard b) when a.Part == b.Part => new PartRef.OffBoard(a.Part),
            (PinAddress.OnBoard a, PinAddress.OnBoard b) when link.IsInner && a.Position == b.Position => new PartRef.Path(
                a.Position,
                a.Pin,
                b.Pin
            ),
            _ => new PartRef.Wire(link.From, link.To),
        };
    }

    private static string Plain(string text) =>
        string.Join(' ', text.Replace('·', '-').Replace('.', '-').Split(' ', StringSplitOptions.RemoveEmptyEntries)).ToUpperInvariant();
}
