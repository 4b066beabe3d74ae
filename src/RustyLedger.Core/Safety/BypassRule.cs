using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Safety;

public enum TemporaryLinkKind
{
    Jumper,
    Bypass,
    SeriesLamp,
    PulledFuse,
    DummyPlug,
}

/// <summary>What somebody wants to put in for a test.</summary>
/// <param name="From">One end; null where it is not a pin of the machine.</param>
/// <param name="To">The other end.</param>
/// <param name="Where">In words.</param>
/// <param name="Across">The protective device it lies across, as the technician says; null where none.</param>
public sealed record TemporaryLinkPlan(TemporaryLinkKind Kind, PinAddress? From, PinAddress? To, string Where, string? Across);

/// <summary>A temporary link is never put across a protective device; the test that leaves it in circuit is given instead.</summary>
/// <param name="Device">The device it would bypass.</param>
/// <param name="Words">Why not, and what to do instead.</param>
public sealed record BypassRefusal(Interlock Device, string Words)
{
    /// <summary>
    /// A plan bypasses a device where the technician says so, where it names the device, where its ends are wired to the two
    /// sides of the device's contact, where it closes a way round the contact through others in series, or where a dummy
    /// plug sits on a connector that carries one of its pins. A pulled fuse opens a circuit and bypasses nothing.
    /// </summary>
    public static BypassRefusal? Of(TemporaryLinkPlan plan, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(machine);
        if (plan.Kind == TemporaryLinkKind.PulledFuse)
        {
            return null;
        }

        var device = machine.Model.Safety.Interlocks.FirstOrDefault(i => plan.Across == i.Id || Names(plan.Where, i.Name) || LiesAcross(plan, i, machine));
        return device is null ? null : new BypassRefusal(device, $"{Verb(plan.Kind)} across {device.Name} ({KindWords(device.Kind)}) is not allowed. Instead: {(device.EquivalentTest.Length > 0 ? device.EquivalentTest : "measure volts across its contact while it trips, and ohms with it cold and the circuit dead")}.");
    }

    public static string KindWords(InterlockKind kind) => kind switch
    {
        InterlockKind.OverTemperature => "over-temperature",
        InterlockKind.Flow => "flow",
        InterlockKind.Flame => "flame",
        InterlockKind.Gas => "gas",
        InterlockKind.Entrapment => "entrapment",
        InterlockKind.Stop => "stop",
        _ => "guard",
    };

    private static string Verb(TemporaryLinkKind kind) => kind switch
    {
        TemporaryLinkKind.SeriesLamp => "A lamp in series",
        TemporaryLinkKind.DummyPlug => "A dummy plug",
        TemporaryLinkKind.Bypass => "A bypass",
        _ => "A jumper",
    };

    private static bool Names(string where, string name) => name.Length > 0 && where.Contains(name, StringComparison.OrdinalIgnoreCase);

    private static bool LiesAcross(TemporaryLinkPlan plan, Interlock device, ResolvedMachine machine)
    {
        if (device.From is not { } p || device.To is not { } q)
        {
            return false;
        }

        if (plan.Kind == TemporaryLinkKind.DummyPlug && (plan.From ?? plan.To) is { } plug && machine.Pins.TryGetValue(plug, out var plugged)
            && (Shares(plugged, p, machine) || Shares(plugged, q, machine)))
        {
            return true;
        }

        if (plan.From is not { } a || plan.To is not { } b || a == b)
        {
            return false;
        }

        // By wires alone first: whatever else the circuit joins, these ends are the device's own.
        var wires = Joined(machine.Links.Where(l => !l.IsInner), p, q);
        if ((wires(a) == 1 && wires(b) == 2) || (wires(a) == 2 && wires(b) == 1))
        {
            return true;
        }

        // Then through everything but the contact: a jumper over it and others in series closes the same way round.
        var all = Joined(machine.Links, p, q);
        return (all(a) == 1 && all(b) == 2) || (all(a) == 2 && all(b) == 1);
    }

    private static bool Shares(ResolvedPin plug, PinAddress pin, ResolvedMachine machine) =>
        machine.Pins.TryGetValue(pin, out var other) && other.Address.Holder == plug.Address.Holder && other.PrintedElement == plug.PrintedElement;

    /// <summary>Which side of a contact each pin is joined to, its own contact left out: 1, 2, or 0 where neither or both.</summary>
    private static Func<PinAddress, int> Joined(IEnumerable<ResolvedLink> links, PinAddress p, PinAddress q)
    {
        var next = links.Where(l => !(l.From == p && l.To == q) && !(l.From == q && l.To == p))
            .SelectMany(l => new[] { (l.From, l.To), (From: l.To, To: l.From) }).ToLookup(x => x.From, x => x.To);
        HashSet<PinAddress> Reach(PinAddress start)
        {
            HashSet<PinAddress> seen = [start];
            var open = new Stack<PinAddress>(seen);
            while (open.TryPop(out var at))
            {
                foreach (var pin in next[at].Where(seen.Add))
                {
                    open.Push(pin);
                }
            }

            return seen;
        }

        var (one, two) = (Reach(p), Reach(q));
        return pin => (one.Contains(pin), two.Contains(pin)) switch
        {
            (true, false) => 1,
            (false, true) => 2,
            _ => 0,
        };
    }
}
