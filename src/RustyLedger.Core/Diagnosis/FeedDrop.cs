using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Volts read across copper that feeds something: the two ends of a wire, of a plug, of a fuse, of a switch. They should be at one
/// potential, and what is between them is lost on the way. It says nothing of a contact unless current ran.
/// </summary>
/// <param name="Through">What lies between the two ends, in words, from the one that is fed.</param>
/// <param name="Most">The most that may be lost, in volts.</param>
/// <param name="Rule">Where that comes from, in words.</param>
public sealed record FeedDrop(IReadOnlyList<string> Through, decimal Most, string Rule)
{
    /// <summary>What is lost there by the circuit in this state, and what makes it so; null where the circuit does not say.</summary>
    public CircuitLoss? Expected { get; init; }

    /// <summary>Volts that the feed carries; 0 where nothing tells.</summary>
    public decimal Carries { get; init; }

    // Common practice, no source: across a contact, and along a wire as a share of what it carries.
    private const decimal AcrossContact = 0.2m;
    private const decimal ShareOfWire = 0.03m;

    private const int MostLinks = 40;

    public Verdict Verdict(NumberReading read)
    {
        ArgumentNullException.ThrowIfNull(read);
        var lost = Math.Abs(read.Value);
        var through = string.Join(", ", Through);
        if (Expected is { } expected && !Judge.IsWithoutLoad(read.Remark))
        {
            return Verdict(read, expected.At(read.Remark), through);
        }

        return Judge.IsWithoutLoad(read.Remark)
                ? new(VerdictKind.NotJudged, "feed", $"{read.Written} without load: a weak contact loses nothing then")
            : lost > Most
                ? new(
                    VerdictKind.High,
                    "feed",
                    $"{read.Written} lost along the feed, more than {Sums.Quantity.Write((double)Most, "V")} ({Rule}): "
                        + $"{through}, or a contact of it"
                )
            : new(
                VerdictKind.Within,
                "feed",
                $"{read.Written} along the feed, at most {Sums.Quantity.Write((double)Most, "V")} ({Rule}); "
                    + $"it clears {through} as far as current ran"
            );
    }

    // Of what the feed carries: as good as all of it. Common practice, no source.
    private const decimal ShareOfOpen = 0.8m;

    /// <summary>Against what the wires lose by the circuit: as expected, a high contact, or open.</summary>
    private Verdict Verdict(NumberReading read, CircuitLoss expected, string through)
    {
        var lost = Math.Abs(read.Value);
        var most = (decimal)expected.Most + AcrossContact;
        var words = $"{Sums.Quantity.Write(expected.Volts, "V")} are lost there {expected.Words}";
        return Carries > 0 && lost >= ShareOfOpen * Carries
                ? new(
                    VerdictKind.High,
                    "feed",
                    $"{read.Written} of {Sums.Quantity.Write((double)Carries, "V")}: open between, at {through}"
                )
            : lost > most
                ? new(
                    VerdictKind.High,
                    "feed",
                    $"{read.Written} lost along the feed; {words}, and 0.2 V more for a contact: a high contact at {through}"
                )
            : new(
                VerdictKind.Within,
                "feed",
                $"{read.Written} along the feed, as expected: {words}; it clears {through} as far as current ran"
            );
    }

    /// <summary>
    /// The drop that a reading tells of: volts, between two pins that copper alone joins. What may turn one voltage into another, such as
    /// the inside of a board or of a transformer, is no copper.
    /// </summary>
    /// <returns>Null where the two are not joined so.</returns>
    public static FeedDrop? Of(Entry reading, ResolvedMachine machine, ILookup<PinAddress, ResolvedLink> copper)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(copper);
        if (
            reading is not { Mode: MeterMode.DcVolts or MeterMode.AcVolts, Value: NumberReading, Red: { } red, Black: { } black }
            || red == black
            || Between(red, black, copper) is not { } links
        )
        {
            return null;
        }

        // What the pins there should read tells what the wire carries.
        var carries = machine
            .Checks.Where(c =>
                c.State.Code == reading.State
                && c.Check.Mode == reading.Mode
                && c.Limit is NominalLimit
                && c.Check.Red is { } at
                && (at == red || at == black || links.Exists(l => l.From == at || l.To == at))
            )
            .Select(c => Math.Abs(((NominalLimit)c.Limit).Nominal))
            .DefaultIfEmpty(0)
            .Max();
        var wires = links.Count(l => PartNames.Conductor(l, machine) is PartRef.Wire);
        var alongWire = wires > 0 ? ShareOfWire * carries : 0;
        return new FeedDrop(
            [.. links.Select(l => PartNames.Of(PartNames.Conductor(l, machine), machine)).Distinct()],
            Math.Max(AcrossContact, alongWire),
            alongWire > AcrossContact ? $"3 % of {Sums.Quantity.Write((double)carries, "V")} along a wire" : "0.2 V across a contact"
        )
        {
            Carries = carries,
            Expected = CircuitLoss.Of(red, black, reading, machine),
        };
    }

    /// <summary>The links of a machine that are copper, by both their ends.</summary>
    public static ILookup<PinAddress, ResolvedLink> Copper(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return MachineFeeds
            .Of(machine)
            .Links.Where(l => IsCopper(PartNames.Conductor(l, machine), machine))
            .SelectMany(l => ((PinAddress Pin, ResolvedLink Link)[])[(l.From, l), (l.To, l)])
            .ToLookup(l => l.Pin, l => l.Link);
    }

    private static bool IsCopper(PartRef part, ResolvedMachine machine) =>
        part switch
        {
            PartRef.Wire or PartRef.Element => true,
            PartRef.OffBoard off => machine.Model.Parts.FirstOrDefault(p => p.Id == off.Part)?.Kind
                is PartKind.Switch
                    or PartKind.Button
                    or PartKind.Plug
                    or PartKind.FuseHolder
                    or PartKind.Splice,
            _ => false,
        };

    internal static bool IsJoined(PinAddress from, PinAddress to, ILookup<PinAddress, ResolvedLink> copper) =>
        Between(from, to, copper) is not null;

    /// <summary>The shortest way of copper between two pins; null for none.</summary>
    private static List<ResolvedLink>? Between(PinAddress from, PinAddress to, ILookup<PinAddress, ResolvedLink> copper)
    {
        var came = new Dictionary<PinAddress, ResolvedLink?> { [from] = null };
        var work = new Queue<PinAddress>([from]);
        while (work.TryDequeue(out var pin))
        {
            if (pin == to)
            {
                List<ResolvedLink> way = [];
                for (var at = to; came[at] is { } link && way.Count < MostLinks; at = link.From == at ? link.To : link.From)
                {
                    way.Add(link);
                }

                return way;
            }

            foreach (var link in copper[pin])
            {
                var next = link.From == pin ? link.To : link.From;
                if (came.TryAdd(next, link))
                {
                    work.Enqueue(next);
                }
            }
        }

        return null;
    }
}
