using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

public enum SuspectKind
{
    Supply,
    Wire,
    BoardPath,
    Fuse,
    Part,
    Contact,
    Return,
    Load,
    OtherFeed,
    Reading,
}

/// <summary>Something that may be at fault.</summary>
/// <param name="Part">What would be replaced or repaired; null for a load, a feed from elsewhere and a reading.</param>
/// <param name="At">The pin it shows at.</param>
public sealed record Suspect(SuspectKind Kind, PartRef? Part, PinAddress? At)
{
    /// <summary>What a link runs through, as a suspect.</summary>
    public static Suspect Of(ResolvedLink link, ResolvedMachine machine)
    {
        var part = PartNames.Conductor(link, machine);
        return new(
            part switch
            {
                PartRef.Element => SuspectKind.Fuse,
                PartRef.OffBoard => SuspectKind.Part,
                PartRef.Path => SuspectKind.BoardPath,
                _ => SuspectKind.Wire,
            },
            part,
            null
        );
    }

    /// <summary>In a technician's words on this machine.</summary>
    public string Words(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return (Kind, Part) switch
        {
            (SuspectKind.Load, _) => "a load pulling it down",
            (SuspectKind.OtherFeed, _) => $"a feed from elsewhere into {(Pin(machine)?.PrintedElement ?? "it")}",
            (SuspectKind.Reading, _) =>
                $"the reading at {(Pin(machine)?.Printed ?? "a pin that is no longer there")} (probe, common or mode)",
            (SuspectKind.Contact, PartRef.ReturnPath) => "a contact along it",
            (SuspectKind.Contact, PartRef.OneOf { Parts.Count: 2 }) => "either contact",
            (SuspectKind.Contact, _) => "a contact along them",
            (_, PartRef.OneOf many) => Counted(many),
            (_, { } part) => PartNames.Of(part, machine),
            _ => "",
        };
    }

    private ResolvedPin? Pin(ResolvedMachine machine) => At is null ? null : machine.Pins.GetValueOrDefault(At);

    private static string Counted(PartRef.OneOf many)
    {
        var paths = many.Parts.Count(p => p is PartRef.Path);
        return StretchWords.Join(
            new[] { (many.Parts.Count - paths, "wire"), (paths, "path") }
                .Where(c => c.Item1 > 0)
                .Select(c =>
                    c.Item1 == 1
                        ? $"one {c.Item2}{(c.Item2 == "path" ? " on a board" : "")}"
                        : $"{c.Item1} {c.Item2}s{(c.Item2 == "path" ? " on the boards" : "")}"
                ),
            "or"
        );
    }
}
