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

/// <summary>
/// How a temporary link across a protective device comes to be written down. None may be placed; what is there is never refused a line.
/// </summary>
public enum BypassStanding
{
    None,

    /// <summary>Somebody before found no better way, or worse.</summary>
    FoundBypassed,
    PlacedAllTheSame,

    /// <summary>On a bench, with no load and nothing that moves connected, where it closes a board's loop.</summary>
    OnBench,
}

/// <summary>What somebody wants to put in for a test.</summary>
/// <param name="From">One end; null where it is not a pin of the machine.</param>
/// <param name="To">The other end.</param>
/// <param name="Where">In words.</param>
/// <param name="Across">The protective device it lies across, as the technician says; null where none.</param>
public sealed record TemporaryLinkPlan(
    TemporaryLinkKind Kind,
    PinAddress? From,
    PinAddress? To,
    string Where,
    string? Across,
    BypassStanding Standing = BypassStanding.None
);

/// <summary>A temporary link is never put across a protective device; the test that leaves it in circuit is given instead.</summary>
/// <param name="Device">The device it would bypass.</param>
/// <param name="Words">Why not, and what to do instead.</param>
public sealed record BypassRefusal(Interlock Device, string Words)
{
    private const string UsualTest = "measure volts across its contact while it trips, and ohms with it cold and the circuit dead";

    /// <summary>
    /// Why a link may not be placed; null where it may. What was found bypassed, was placed all the same, or closes a loop on the
    /// bench is written down as that, since a book that refuses to hear of it loses the truth.
    /// </summary>
    public static BypassRefusal? Of(TemporaryLinkPlan plan, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(plan);
        return plan.Standing == BypassStanding.None && Bypassed(plan, machine) is { } device
            ? new BypassRefusal(
                device,
                $"{Verb(plan.Kind)} across {device.Name} ({KindWords(device.Kind)}) is not allowed. Instead: " + $"{TestOf(device)}."
            )
            : null;
    }

    /// <summary>The test that leaves a device in its circuit.</summary>
    public static string TestOf(Interlock device)
    {
        ArgumentNullException.ThrowIfNull(device);
        return device.EquivalentTest.Length > 0 ? device.EquivalentTest.TrimEnd('.') : UsualTest;
    }

    /// <summary>
    /// The protective device that a plan bypasses; null for none. It does where the technician says so, where it names the device,
    /// where it joins the two sides of the device's contact, drawn as a link or not, by itself or through wires, other
    /// protective devices and the rest of the circuit, or where a dummy plug sits at either end of the cable that leads to the
    /// device. A pulled fuse opens a circuit and bypasses nothing.
    /// </summary>
    public static Interlock? Bypassed(TemporaryLinkPlan plan, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(machine);
        return plan.Kind == TemporaryLinkKind.PulledFuse
            ? null
            // Over several in series it is over each of them; the one whose own ends these are is named.
            : machine
                .Model.Safety.Interlocks.OrderByDescending(i => AreEndsOf(plan, i))
                .FirstOrDefault(i => plan.Across == i.Id || Names(plan.Where, i.Name) || LiesAcross(plan, i, machine));
    }

    private static bool AreEndsOf(TemporaryLinkPlan plan, Interlock device) =>
        plan is { From: not null, To: not null }
        && ((plan.From == device.From && plan.To == device.To) || (plan.From == device.To && plan.To == device.From));

    public static string KindWords(InterlockKind kind) =>
        kind switch
        {
            InterlockKind.OverTemperature => "over-temperature",
            InterlockKind.Flow => "flow",
            InterlockKind.Flame => "flame",
            InterlockKind.Gas => "gas",
            InterlockKind.Entrapment => "entrapment",
            InterlockKind.Stop => "stop",
            _ => "guard",
        };

    // From the device through one plug on the way to the board.
    private const int MostOfOneConductor = 4;

    private static string Verb(TemporaryLinkKind kind) =>
        kind switch
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

        // Its own contact counts as open, those of the others as closed: over several in series it is over each of them.
        var others = machine
            .Model.Safety.Interlocks.Where(i => i.From is not null && i.To is not null && i.Id != device.Id)
            .Select(i => (From: i.From!, To: i.To!))
            .ToList();
        var isContact = IsContact(p, q, machine);
        List<(PinAddress From, PinAddress To)> wires =
        [
            .. machine.Links.Where(l => !l.IsInner && !isContact(l) && !InOnePart(l, machine)).Select(l => (l.From, l.To)),
        ];
        if (
            plan.Kind == TemporaryLinkKind.DummyPlug
            && (plan.From ?? plan.To) is { } plug
            && machine.Pins.TryGetValue(plug, out var plugged)
        )
        {
            var (one, two) = (Net.Of(wires, p), Net.Of(wires, q));
            var pins = machine
                .Pins.Values.Where(x => x.Address.IsBeside(plugged.Address) && x.PrintedElement == plugged.PrintedElement)
                .Select(x => x.Address)
                .ToList();
            // A conductor of its own leads to the device; one that many share says nothing by itself.
            bool Leads(HashSet<PinAddress> net) => net.Count <= MostOfOneConductor && pins.Exists(net.Contains);
            return pins.Contains(p)
                || pins.Contains(q)
                || Leads(one)
                || Leads(two)
                || (pins.Exists(one.Contains) && pins.Exists(two.Contains));
        }

        if (plan.From is not { } a || plan.To is not { } b || a == b)
        {
            return false;
        }

        // By wires alone first: whatever else the circuit joins, these ends are the device's own. Then through all of it; each with the
        // other
        // devices closed, and open, since two may be the same loop seen at two places.
        List<(PinAddress From, PinAddress To)> all = [.. machine.Links.Where(l => !isContact(l)).Select(l => (l.From, l.To))];
        return Closes(wires, (a, b), p, q)
            || Closes([.. wires, .. others], (a, b), p, q)
            || Closes(all, (a, b), p, q)
            || Closes([.. all, .. others], (a, b), p, q);
    }

    /// <summary>Whether a link joins two pins that were apart without it.</summary>
    private static bool Closes(
        List<(PinAddress From, PinAddress To)> links,
        (PinAddress From, PinAddress To) link,
        PinAddress p,
        PinAddress q
    ) => !Net.Of(links, p).Contains(q) && Net.Of([.. links, link], p).Contains(q);

    /// <summary>
    /// The device's contact where it is drawn: a link between its two pins, or a path through pins of the same part alone.
    /// </summary>
    private static Func<ResolvedLink, bool> IsContact(PinAddress p, PinAddress q, ResolvedMachine machine)
    {
        bool SamePart(PinAddress x) =>
            x.IsBeside(p)
            && p.IsBeside(q)
            && machine.Pins.TryGetValue(x, out var pin)
            && machine.Pins.TryGetValue(p, out var own)
            && pin.PrintedElement == own.PrintedElement;
        return l => (l.From == p && l.To == q) || (l.From == q && l.To == p) || (SamePart(l.From) && SamePart(l.To) && SamePart(q));
    }

    /// <summary>
    /// A link between two pins of one part off the boards is its contact or its inside, not a wire: the device itself may be drawn so.
    /// </summary>
    private static bool InOnePart(ResolvedLink link, ResolvedMachine machine) =>
        link.From.IsBeside(link.To) && machine.Pins.TryGetValue(link.From, out var pin) && pin.Part is not null;

    private static class Net
    {
        /// <summary>All that is joined to a pin.</summary>
        public static HashSet<PinAddress> Of(List<(PinAddress From, PinAddress To)> links, PinAddress start)
        {
            var next = links.SelectMany(l => new[] { l, (From: l.To, To: l.From) }).ToLookup(x => x.From, x => x.To);
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
    }
}
