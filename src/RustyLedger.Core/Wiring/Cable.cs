using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Wiring;

/// <summary>By what a cable joins the pins of its two connectors.</summary>
public enum CableBy
{
    /// <summary>1 to 1, 2 to 2.</summary>
    Label,

    /// <summary>1 to the last, 2 to the one before it: as a ribbon that is turned over.</summary>
    Mirrored,
    Colour,
    Signal,
}

/// <summary>One core of a cable.</summary>
/// <param name="Doubt">Why its two ends do not agree; empty where they do.</param>
/// <param name="IsThere">They are joined already.</param>
public sealed record CableCore(PinAddress From, string FromPrinted, PinAddress To, string ToPrinted, string Doubt, bool IsThere);

/// <summary>Many wires at once, from one connector to another.</summary>
/// <param name="Left">Printed names of pins that have no other end; those of both sides.</param>
public sealed record Cable(IReadOnlyList<CableCore> Cores, IReadOnlyList<string> Left)
{
    /// <summary>Pairs the pins of two connectors or parts.</summary>
    /// <param name="machine">The model with its boards, see <see cref="WiringSheet.Resolved"/>.</param>
    /// <param name="from">As printed, such as <c>Z1-J2</c>.</param>
    /// <param name="to">Likewise.</param>
    /// <returns>The cable, or a refusal where an end is none, or both are one.</returns>
    public static Outcome<Cable> Between(ResolvedMachine machine, string from, string to, CableBy by)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var (here, there) = (PinsOf(machine, from), PinsOf(machine, to));
        if (here.Count == 0 || there.Count == 0)
        {
            return new Refusal(here.Count == 0 ? "from" : "to", $"There is no connector or part \"{(here.Count == 0 ? from : to)}\" here.");
        }

        if (here[0].PrintedElement == there[0].PrintedElement)
        {
            return new Refusal("to", "A cable goes from one connector to another.");
        }

        var pairs = by switch
        {
            CableBy.Mirrored => here.Zip(Enumerable.Reverse(there)).ToList(),
            CableBy.Colour => ByWords(here, there, p => p.Colours.Value.Code),
            CableBy.Signal => ByWords(here, there, p => p.Signal.Value.Trim()),
            _ => ByWords(here, there, p => p.Label.Value),
        };
        var joined = machine.Links.SelectMany(l => (IEnumerable<(PinAddress, PinAddress)>)[(l.From, l.To), (l.To, l.From)]).ToHashSet();
        var used = pairs.SelectMany(p => new[] { p.First.Address, p.Second.Address }).ToHashSet();
        return new Cable(
            [
                .. pairs.Select(p => new CableCore(
                    p.First.Address,
                    p.First.Printed,
                    p.Second.Address,
                    p.Second.Printed,
                    Doubt(p.First, p.Second),
                    joined.Contains((p.First.Address, p.Second.Address))
                )),
            ],
            [.. here.Concat(there).Where(p => !used.Contains(p.Address)).Select(p => p.Printed)]
        );
    }

    private static List<ResolvedPin> PinsOf(ResolvedMachine machine, string printed) =>
        [
            .. machine
                .Pins.Values.Where(p => p.PrintedElement.Equals(printed.Trim(), StringComparison.OrdinalIgnoreCase))
                .OrderBy(p => p.Pin.Index)
                .ThenBy(p => p.Label.Value, NaturalOrder.Instance),
        ];

    /// <summary>Those that say the same on both sides, where only one on each side says it.</summary>
    private static List<(ResolvedPin First, ResolvedPin Second)> ByWords(
        List<ResolvedPin> here,
        List<ResolvedPin> there,
        Func<ResolvedPin, string> words
    )
    {
        Dictionary<string, ResolvedPin> Only(List<ResolvedPin> pins) =>
            pins.Where(p => words(p).Length > 0)
                .GroupBy(words, StringComparer.OrdinalIgnoreCase)
                .Where(g => g.Count() == 1)
                .ToDictionary(g => g.Key, g => g.Single(), StringComparer.OrdinalIgnoreCase);
        var others = Only(there);
        return [.. Only(here).Where(p => others.ContainsKey(p.Key)).Select(p => (p.Value, others[p.Key]))];
    }

    private static string Doubt(ResolvedPin from, ResolvedPin to)
    {
        var (here, there) = (from.Colours.Value, to.Colours.Value);
        return here.Code.Length > 0 && there.Code.Length > 0 && here.Code != there.Code ? $"{here.Words} here, {there.Words} there"
            : from.Signal.Value.Length > 0
            && to.Signal.Value.Length > 0
            && !from.Signal.Value.Equals(to.Signal.Value, StringComparison.OrdinalIgnoreCase)
                ? $"\"{from.Signal.Value}\" here, \"{to.Signal.Value}\" there"
            : "";
    }
}
