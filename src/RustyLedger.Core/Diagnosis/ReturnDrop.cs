using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>Volts read between two places of one return while the machine is energised: they should be at one potential.</summary>
/// <param name="Far">The end away from the supply, where the record tells; otherwise the red probe's.</param>
/// <param name="Near">The other end.</param>
/// <param name="Volts">Its size.</param>
public sealed record ReturnDrop(Entry Reading, PinAddress Far, PinAddress Near, decimal Volts)
{
    /// <summary>
    /// More than this between a return's ends, or from a return to earth, under load is a fault. Common practice, no source.
    /// </summary>
    public const decimal MostVolts = 0.3m;

    public bool IsLost => Volts > MostVolts;

    /// <summary>Pins that read too little against the far end, and would read right with this loss added.</summary>
    public IReadOnlyList<PinAddress> Explains { get; init; } = [];

    /// <summary>The near end is the supply's own, so that the reading spans the whole return.</summary>
    public bool SpansToSupply { get; init; }
}

/// <summary>Which pins are returns: the commons of the checks in volts, and what a wire without direction joins to them.</summary>
public sealed class Returns
{
    private readonly HashSet<PinAddress> _pins;
    private readonly List<PinAddress> _sources;

    private Returns(HashSet<PinAddress> pins, List<PinAddress> sources, IReadOnlyList<IReadOnlyList<PinAddress>> parts) =>
        (_pins, _sources, Parts) = (pins, sources, parts);

    /// <summary>
    /// The pins of each return by itself: what hangs together by wires without direction. A black probe that is clipped to one of them
    /// stands for all of it, as far as the return loses nothing.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<PinAddress>> Parts { get; }

    public static Returns Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var pins = machine
            .Checks.Where(c =>
                c.Check is { Target: CheckTarget.PinAndCommon, Mode: MeterMode.DcVolts or MeterMode.AcVolts, Black: not null }
            )
            .Select(c => c.Check.Black!)
            .ToHashSet();
        var feeds = MachineFeeds.Of(machine).Links;
        var feeding = feeds.Select(l => l.Id).ToHashSet();
        var joined = machine
            .Links.Where(l => !feeding.Contains(l.Id))
            .SelectMany(l => ((PinAddress From, PinAddress To)[])[(l.From, l.To), (l.To, l.From)])
            .ToLookup(l => l.From, l => l.To);
        var work = new Stack<PinAddress>(pins);
        while (work.TryPop(out var pin))
        {
            foreach (var to in joined[pin].Where(pins.Add))
            {
                work.Push(to);
            }
        }

        // What power enters by, or a check measures as fed, is no return, whatever somebody took as a common once.
        pins.ExceptWith(machine.Pins.Values.Where(p => p.Pin.IsSource).Select(p => p.Address));
        pins.ExceptWith(feeds.SelectMany(l => (PinAddress[])[l.From, l.To]));
        return new Returns(pins, [.. machine.Pins.Values.Where(p => p.Pin.IsSource).Select(p => p.Address)], PartsOf(pins, joined));
    }

    private static List<IReadOnlyList<PinAddress>> PartsOf(HashSet<PinAddress> pins, ILookup<PinAddress, PinAddress> joined)
    {
        var parts = new List<IReadOnlyList<PinAddress>>();
        var seen = new HashSet<PinAddress>();
        foreach (var first in pins.Where(seen.Add))
        {
            var part = new List<PinAddress>();
            var work = new Stack<PinAddress>([first]);
            while (work.TryPop(out var pin))
            {
                part.Add(pin);
                foreach (var to in joined[pin].Where(p => pins.Contains(p) && seen.Add(p)))
                {
                    work.Push(to);
                }
            }

            parts.Add(part);
        }

        return parts;
    }

    /// <summary>The drop that a reading tells of; null where it was not in volts, or not between two ends of a return.</summary>
    public ReturnDrop? Of(Entry reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        if (
            reading is not { Mode: MeterMode.DcVolts or MeterMode.AcVolts, Value: NumberReading value, Red: { } red, Black: { } black }
            || red == black
            || !_pins.Contains(red)
            || !_pins.Contains(black)
        )
        {
            return null;
        }

        var (far, near) = IsAtSupply(red) && !IsAtSupply(black) ? (black, red) : (red, black);
        return new ReturnDrop(reading, far, near, Math.Abs(value.Value)) { SpansToSupply = IsAtSupply(near) };
    }

    /// <summary>The end of a return at what feeds it; null where it has none.</summary>
    public PinAddress? AtSupply(IReadOnlyList<PinAddress> part) => part.FirstOrDefault(IsAtSupply);

    private bool IsAtSupply(PinAddress pin) => _sources.Exists(pin.IsBeside);
}
