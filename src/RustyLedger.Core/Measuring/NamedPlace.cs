using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>A place that was called by a name nobody had entered: readings are kept under it until somebody says where it is.</summary>
public sealed record NamedPlace : EditableThing
{
    /// <summary>As readings name it, in the way they name a place tapped on a photograph.</summary>
    public required PlaceId Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }

    /// <summary>As it was called, such as <c>J3-4</c>.</summary>
    public required string Name { get; init; }
    public required DateTimeOffset At { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>The pin it turned out to be; null while nobody said.</summary>
    public PinAddress? Is { get; init; }

    /// <summary>Another name, and the pin it is.</summary>
    public Outcome<NamedPlace> Write(string? name, PinAddress? pin) => Outcome.Of(this with { Name = Rule.Kept(name), Is = pin });

    /// <summary>Pins of the machine that bear its name by now, with or without the board before it.</summary>
    public IReadOnlyList<ResolvedPin> CalledSo(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var wanted = Plain(Name);
        return
        [
            .. machine.Pins.Values.Where(p =>
                Plain(p.Printed) is var printed && (printed == wanted || printed.EndsWith($"-{wanted}", StringComparison.Ordinal))
            ),
        ];
    }

    /// <summary>Names compare whatever stands between connector and pin.</summary>
    private static string Plain(string name) =>
        name.Trim().ToUpperInvariant().Replace('·', '-').Replace('.', '-').Replace('/', '-').Replace(':', '-');

    public override Refusal? Refusal() =>
        Rule.First(
            Rule.Needed("name", Name, 40),
            Rule.If(Is is PinAddress.AtPlace or PinAddress.OnType, "is", "It is a pin of a board in a position, or of a part.")
        );
}
