using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What a reading says of one pin on the power path.</summary>
/// <param name="Share">The value as a share of what was expected; null where the limit has no number.</param>
/// <param name="HalfBand">Half the allowed band as a share of what was expected.</param>
public sealed record PinEvidence(Verdict Verdict, decimal? Share, decimal HalfBand)
{
    /// <summary>What was read; null where it is not known.</summary>
    public decimal? Volts { get; init; }

    /// <summary>No current flowed: the plug was out, or the technician says that nothing was running.</summary>
    public bool NoLoad { get; init; }

    /// <summary>The pin under the black probe: volts are compared only against the same.</summary>
    public PinAddress? Common { get; init; }

    /// <summary>What should be read, the middle of the band; null where it has only one edge or none.</summary>
    public decimal? Nominal { get; init; }

    // For limits with one edge. Common practice, no source.
    private const decimal UsualHalfBand = 0.05m;

    public static PinEvidence Of(ReadingValue reading, Limit limit, DefaultTolerance tolerance, Verdict verdict, PinAddress? common = null)
    {
        if (reading is not NumberReading number || limit is not NumericLimit numeric)
        {
            return new(verdict, null, UsualHalfBand);
        }

        var (low, high) = Judge.Band(numeric, tolerance);
        if ((low ?? high) is not { } edge)
        {
            return new(verdict, null, UsualHalfBand) { Volts = number.Value, Common = common };
        }

        var expected =
            numeric is NominalLimit nominal ? nominal.Nominal
            : low is { } l && high is { } h ? (l + h) / 2
            : edge;
        var evidence =
            expected == 0
                ? new PinEvidence(verdict, null, UsualHalfBand)
                : new(
                    verdict,
                    number.Value / expected,
                    low is null || high is null ? UsualHalfBand : Math.Abs((high.Value - low.Value) / 2 / expected)
                );
        return evidence with { Volts = number.Value, Common = common, Nominal = low is null || high is null ? null : expected };
    }
}

/// <summary>What should be read at a pin, measured or not, against a common. An edge that is null is open.</summary>
public sealed record PinBand(decimal? Low, decimal? High, PinAddress? Common);

/// <summary>Where the fault must lie: from the nearest good pins to one bad pin.</summary>
/// <param name="Bad">Graph index of the bad pin at which it ends.</param>
/// <param name="GoodEnds">The nearest good pins going back along each path.</param>
/// <param name="BadFeeders">Bad pins that also lead here; their own stretches explain them.</param>
/// <param name="OpenSources">Unmeasured pins at which power enters and from which no good pin shields.</param>
/// <param name="Links">Graph indices of the links under suspicion.</param>
/// <param name="Untouched">Unmeasured pins within, in the order of measuring.</param>
/// <param name="AccusesSupply">The bad pin is itself where power enters.</param>
/// <param name="WorseThan">The bad feeders that explain part of it, where it reads worse than they explain.</param>
/// <param name="Contradicted">A pin that only this one feeds reads good, so the bad reading is in doubt; null if none.</param>
/// <param name="Next">Untouched pins that would narrow it most, best first.</param>
public sealed record Stretch(
    PinIndex Bad,
    IReadOnlyList<PinIndex> GoodEnds,
    IReadOnlyList<PinIndex> BadFeeders,
    IReadOnlyList<PinIndex> OpenSources,
    IReadOnlyList<LinkIndex> Links,
    IReadOnlyList<PinIndex> Untouched,
    bool AccusesSupply,
    IReadOnlyList<PinIndex> WorseThan,
    PinIndex? Contradicted,
    IReadOnlyList<PinIndex> Next
)
{
    /// <summary>
    /// Where nothing that can be measured tells any more: the pin without a check, or one that cannot be reached, that would.
    /// </summary>
    public PinIndex? Unlisted { get; init; }
}

/// <summary>One place that explains several bad pins at once.</summary>
/// <param name="Bads">Graph indices of the bad pins it explains, at least two.</param>
/// <param name="IsAll">It explains every bad pin there is.</param>
/// <param name="Links">The links that may be it.</param>
/// <param name="Sources">The unmeasured pins at which power enters that may be it.</param>
/// <param name="Next">Untouched pins that would narrow it most, best first.</param>
public sealed record OneFault(
    IReadOnlyList<PinIndex> Bads,
    bool IsAll,
    IReadOnlyList<LinkIndex> Links,
    IReadOnlyList<PinIndex> Sources,
    IReadOnlyList<PinIndex> Next
)
{
    /// <summary>As of a stretch.</summary>
    public PinIndex? Unlisted { get; init; }
}

/// <summary>A bad pin that a bad pin before it explains.</summary>
public sealed record Explained(PinIndex Bad, IReadOnlyList<PinIndex> By);

/// <summary>What the readings of one state say about the power path.</summary>
/// <param name="ClearedPins">Per pin: known good, by its own reading or by one that only it can feed.</param>
/// <param name="ClearedLinks">Per link: power demonstrably passes it.</param>
/// <param name="Marginal">Pins that count as good but deserve a second look.</param>
public sealed record PathReport(
    FeedGraph Graph,
    IReadOnlyDictionary<PinIndex, PinEvidence> Evidence,
    IReadOnlyList<Stretch> Stretches,
    IReadOnlyList<Explained> Explained,
    IReadOnlyList<bool> ClearedPins,
    IReadOnlyList<bool> ClearedLinks,
    IReadOnlyList<PinIndex> Marginal
)
{
    /// <summary>What alone would explain several stretches; null where nothing does.</summary>
    public OneFault? OneFault { get; init; }

    /// <summary>
    /// The links under suspicion: of the one fault, where there is one, instead of those of the stretches that it explains.
    /// </summary>
    public IReadOnlySet<LinkIndex> Suspects =>
        Stretches.Where(s => OneFault?.Bads.Contains(s.Bad) != true).SelectMany(s => s.Links).Concat(OneFault?.Links ?? []).ToHashSet();

    /// <summary>Pins that would narrow what is left, best first: of the one fault before those of single stretches.</summary>
    public IEnumerable<PinIndex> Next =>
        (OneFault?.Next ?? []).Concat(Stretches.Where(s => OneFault?.Bads.Contains(s.Bad) != true).SelectMany(s => s.Next));

    /// <param name="evidence">By graph index; readings of one operating state only, not judged ones left out.</param>
    /// <param name="measurable">Whether a pin can be measured in this state: others are not proposed.</param>
    /// <param name="bands">What each pin should read in this state, by graph index; a good reading clears what feeds it only as far as
    /// that lies within its band.</param>
    /// <param name="moves">What it takes to come to a pin from the last one, the less the better; all alike where left out.</param>
    public static PathReport Of(
        FeedGraph graph,
        IReadOnlyDictionary<PinIndex, PinEvidence> evidence,
        Func<PinIndex, bool> measurable,
        IReadOnlyDictionary<PinIndex, PinBand>? bands = null,
        Func<PinIndex, int>? moves = null
    )
    {
        ArgumentNullException.ThrowIfNull(graph);
        ArgumentNullException.ThrowIfNull(evidence);
        ArgumentNullException.ThrowIfNull(measurable);
        return new StretchFinder(graph, evidence, measurable, bands ?? new Dictionary<PinIndex, PinBand>(), moves ?? (_ => 0)).Find();
    }
}
