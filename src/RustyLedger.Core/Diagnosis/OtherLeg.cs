using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Where the other leg is read, after a drop along one: a bad return looks just like a bad supply, and one leg alone tells half.
/// </summary>
/// <param name="IsReturn">It is the return that is asked for; otherwise the supply.</param>
public sealed record OtherLeg(PinAddress Red, PinAddress Black, bool IsReturn)
{
    /// <param name="last">The reading that stands last.</param>
    /// <param name="taken">All that stand, so that nothing is asked for twice in one state.</param>
    /// <returns>Null after any other reading, where the other leg is read already, and where the wiring does not tell it.</returns>
    public static OtherLeg? After(
        Entry last,
        IReadOnlyCollection<Entry> taken,
        ResolvedMachine machine,
        Returns returns,
        ILookup<PinAddress, ResolvedLink> copper
    )
    {
        ArgumentNullException.ThrowIfNull(last);
        ArgumentNullException.ThrowIfNull(taken);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(returns);
        var other =
            last is not { Red: { } red, Black: { } black } ? null
            : last.AlongFeed is not null ? Return(red, black, machine, returns)
            // Whoever began with the supply of what is fed there has both by now.
            : last.IsAlongReturn
            && returns.Of(last)?.Far is { } far
            && !taken.Any(t => t.AlongFeed is not null && t.State == last.State && (t.Red!.IsBeside(far) || t.Black!.IsBeside(far)))
                ? Supply(red, black, machine, returns, copper)
            : null;
        return other is null || taken.Any(t => t.State == last.State && IsBetween(t, other)) ? null : other;
    }

    private static bool IsBetween(Entry entry, OtherLeg leg) =>
        (entry.Red == leg.Red && entry.Black == leg.Black) || (entry.Red == leg.Black && entry.Black == leg.Red);

    /// <summary>From the return of what is fed to that of what feeds it; where that has none, to that of the supply.</summary>
    private static OtherLeg? Return(PinAddress red, PinAddress black, ResolvedMachine machine, Returns returns)
    {
        foreach (var (end, beyond) in ((PinAddress, PinAddress)[])[(red, black), (black, red)])
        {
            foreach (var part in returns.Parts.Where(p => p.Count > 1))
            {
                if (
                    Beside(end, part, machine) is { } far
                    && (Beside(beyond, part, machine) ?? returns.AtSupply(part)) is { } near
                    && near != far
                )
                {
                    return new OtherLeg(far, near, true);
                }
            }
        }

        return null;
    }

    /// <summary>From what copper leads to at the one end, back to where it comes from at the other.</summary>
    private static OtherLeg? Supply(
        PinAddress red,
        PinAddress black,
        ResolvedMachine machine,
        Returns returns,
        ILookup<PinAddress, ResolvedLink> copper
    )
    {
        List<PinAddress> Fed(PinAddress end) =>
            [
                .. machine
                    .Pins.Keys.Where(p => p.IsBeside(end) && copper[p].Any() && !returns.Parts.Any(part => part.Contains(p)))
                    .OrderByDescending(p => IsSameElement(p, end, machine)),
            ];
        return (
            from near in Fed(black)
            from far in Fed(red)
            where far != near && FeedDrop.IsJoined(near, far, copper)
            select new OtherLeg(near, far, false)
        ).FirstOrDefault();
    }

    private static PinAddress? Beside(PinAddress end, IReadOnlyList<PinAddress> part, ResolvedMachine machine) =>
        part.Where(p => p != end && p.IsBeside(end)).OrderByDescending(p => IsSameElement(p, end, machine)).FirstOrDefault();

    private static bool IsSameElement(PinAddress a, PinAddress b, ResolvedMachine machine) =>
        machine.Pins[a].PrintedElement == machine.Pins[b].PrintedElement;
}
