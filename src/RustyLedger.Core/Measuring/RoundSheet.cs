using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

public enum EntryKind
{
    Taken,
    Retracted,
    Skipped,

    /// <summary>What the leads read by themselves, see <see cref="Measuring.LeadZero"/>.</summary>
    LeadZero,
}

/// <summary>One line of a round as it was made; lines are only ever added.</summary>
/// <param name="Order">Made by the device, rising; later lines win.</param>
/// <param name="CheckKey">Null for an extra reading between any two pins.</param>
/// <param name="Limit">As it stood when the reading was taken; null for an extra reading.</param>
/// <param name="Value">As read; null where nothing was, as for a skip.</param>
/// <param name="Target">The id of the line taken back; null otherwise.</param>
/// <param name="Reason">Why skipped.</param>
public sealed record Entry(
    string Id,
    long Order,
    EntryKind Kind,
    CheckKey? CheckKey,
    PinAddress? Red,
    PinAddress? Black,
    MeterMode Mode,
    string State,
    Limit? Limit,
    DefaultTolerance Tolerance,
    ReadingValue? Value,
    string? Target,
    string Reason
)
{
    /// <summary>The reason that brings a skipped check back at the end of the round.</summary>
    public const string Later = "later";

    /// <summary>How safe the machine was made when it was taken; null where that was not kept.</summary>
    public SafeCondition? Condition { get; init; }

    /// <summary>
    /// It lies between two ends of a return while the machine is energised, and nobody stated a limit: they should be at one potential.
    /// </summary>
    public bool IsAlongReturn { get; init; }

    /// <summary>What is lost along the return there by the circuit; null where it does not say.</summary>
    public CircuitLoss? ReturnLoss { get; init; }

    /// <summary>It lies across copper that feeds something while the machine is energised; null where it does not.</summary>
    public FeedDrop? AlongFeed { get; init; }

    /// <summary>The plug was in, so that what lies in parallel was read too.</summary>
    public bool InCircuit { get; init; }

    /// <summary>What the leads read before it, in ohms; null where nobody asked them.</summary>
    public decimal? LeadOhms { get; init; }

    /// <summary>The meter it was read with, as whoever read it called it; empty where nobody said.</summary>
    public string MeterName { get; init; } = "";

    /// <summary>What is known of that meter; null where nothing is.</summary>
    public Meter? Meter { get; init; }

    /// <summary>What is read there is chopped or phase-controlled.</summary>
    public bool IsChopped { get; init; }

    /// <summary>The remark of its check and the signal of its pin: what bends a reading is said there.</summary>
    public string About { get; init; } = "";

    /// <summary>What bends it, taken off; null where nothing does.</summary>
    public Correction? Correction => Corrections.Of(Value, Mode, About, Meter);

    /// <summary>Why it was accepted as right on this machine, off the book as it is; empty where it was not.</summary>
    public string AcceptedBecause { get; init; } = "";

    /// <summary>What counts: the value as read, less what the leads add.</summary>
    public ReadingValue? Counted =>
        Correction is { } correction ? correction.Counted
        : Value is NumberReading { Unit: Unit.Ohms } read && LeadOhms is { } zero && Mode == MeterMode.Ohms
            ? Measuring.LeadZero.Off(read, zero)
        : Value;

    /// <summary>The verdict by today's rules on the limit as it stood, with each correction in its words.</summary>
    public Verdict Verdict
    {
        get
        {
            var verdict = Judged(Counted);
            if (Counted != Value && Counted is { } counted)
            {
                verdict = verdict with
                {
                    Reason =
                        $"{verdict.Reason}; "
                        + (
                            Correction?.Words
                            ?? $"{counted.Written}, which is {Value!.Written} less {Numbers.Write(LeadOhms!.Value)} Ω of the leads"
                        ),
                };
            }

            return AcceptedBecause.Length == 0
                ? verdict
                : verdict with
                {
                    Rule = "this machine's normal",
                    Reason = $"{verdict.Reason}; right on this machine: {AcceptedBecause}",
                };
        }
    }

    private Verdict Judged(ReadingValue? value) =>
        (value, Limit) switch
        {
            ({ } read, _) when Condition == SafeCondition.Live && Mode.NeedsDead() => new(
                VerdictKind.NotJudged,
                "taken live",
                $"{read.Written}, taken live: {Mode.Words()} means nothing while current may flow"
            ),
            (null, _) => new(VerdictKind.NotJudged, "no reading", "not measured"),
            ({ } read, _) when Condition == SafeCondition.ProvedDead && Mode.NeedsLive() => new(
                VerdictKind.NotJudged,
                "taken dead",
                $"{read.Written}, taken dead: {Mode.Words()} means nothing while nothing is fed"
            ),
            ({ } read, _) when Mode.NeedsLoad() && IsWithoutLoad(read) => new(
                VerdictKind.NotJudged,
                "no load",
                $"{read.Written} without load: {Mode.Words()} tells only with the load on"
            ),
            (OverloadReading, LowestLimit least) when Mode == MeterMode.Insulation => new(
                VerdictKind.Within,
                "insulation",
                $"OL: more than the tester shows, and at least {Numbers.Write(least.Low)} Ω is asked for"
            ),
            (OverloadReading, ContactLimit { Closed: false }) when InCircuit => new(
                VerdictKind.NotJudged,
                "in circuit",
                "OL in circuit is no proof of the contact: read it with the plug out, or one side lifted"
            ),
            (NumberReading { Unit: Unit.Volts } volts, null) when IsAlongReturn => Judge.AlongReturn(volts, ReturnLoss),
            (NumberReading { Unit: Unit.Volts } volts, null) when AlongFeed is not null => AlongFeed.Verdict(volts),
            (_, null) => new(VerdictKind.NotJudged, "no limit", $"{value.Written}, no limit was stated"),
            (NumberReading { Unit: Unit.Ohms } read, _) when Mode == MeterMode.Temperature => new(
                VerdictKind.NotJudged,
                "sensor not known",
                $"{read.Written}: write in the check’s remark which sensor it is, such as Pt100 or NTC 10k B3950; or the ohms fit none"
            ),
            (OverloadReading, NumericLimit limit) when Mode == MeterMode.Diode && Meter?.DiodeVolts is { } most && most <= Most(limit) =>
                new(
                    VerdictKind.NotJudged,
                    "beyond the test",
                    $"OL: the {Meter.Name} tests a diode with {Numbers.Write(most)} V, and this one may want as much by itself"
                ),
            (NumberReading { Unit: Unit.Volts or Unit.Amps } read, _) when IsChopped && Meter is { IsTrueRms: false } => new(
                VerdictKind.NotJudged,
                "waveform",
                $"{read.Written}: it is chopped or phase-controlled here, and the {Meter.Name} is right on a sine alone"
            ),
            (NumberReading read, _) => Numeric(read, Limit),
            _ => Judge.Verdict(value, Limit, Tolerance),
        };

    private decimal Most(NumericLimit limit) => Judge.Band(limit, Tolerance) is var (low, high) ? high ?? low ?? 0 : 0;

    /// <summary>Somebody wrote behind it that nothing drew current.</summary>
    internal static bool IsWithoutLoad(ReadingValue value) =>
        value.Remark.Contains("no load", StringComparison.OrdinalIgnoreCase)
        || value.Remark.Contains("unloaded", StringComparison.OrdinalIgnoreCase)
        || value.Remark.Contains("unplugged", StringComparison.OrdinalIgnoreCase);

    private Verdict Numeric(NumberReading read, Limit limit)
    {
        var ruled =
            InCircuit && Mode == MeterMode.Ohms
                ? Measuring.InCircuit.Verdict(read, limit, Tolerance)
                : Judge.Verdict(read, limit, Tolerance);
        if (InCircuit && Meter?.OhmsTurnOnJunctions == true && ruled.Kind == VerdictKind.NotJudged)
        {
            ruled = ruled with { Reason = $"{ruled.Reason}; the {Meter.Name} turns junctions on, so that diodes in parallel are read too" };
        }

        return Meter is not null && limit is NumericLimit numeric && numeric.Unit == read.Unit
            ? MeterVerdict.Of(ruled, read, numeric, Tolerance, Mode, Meter)
            : ruled;
    }
}

/// <summary>A check with what the round has so far.</summary>
/// <param name="Reading">The reading that stands; null before one is taken.</param>
/// <param name="Skip">The skip that stands; null when there is none or a reading came after.</param>
/// <param name="Takes">How many readings were taken of it, those superseded included.</param>
public sealed record SheetRow(ResolvedCheck Check, Entry? Reading, Entry? Skip, int Takes)
{
    /// <summary>Readings that were taken before the one that stands and not taken back, oldest first.</summary>
    public IReadOnlyList<Entry> Earlier { get; init; } = [];

    /// <summary>To be measured only when the machine is proved dead.</summary>
    public bool IsDeadOnly => !Check.State.Energised || Check.Check.Mode.NeedsDead();
}

/// <summary>The power path in one state.</summary>
/// <param name="Commons">The common pin each measured pin was read against, by graph index.</param>
/// <param name="Drops">What was read along returns in this state, the latest between two ends.</param>
public sealed record StatePath(
    OperatingState State,
    PathReport Report,
    IReadOnlyDictionary<PinIndex, PinAddress> Commons,
    IReadOnlyList<ReturnDrop> Drops
);

/// <summary>A round worked out: what stands, what it means, what comes next.</summary>
public sealed record RoundSheet(IReadOnlyList<SheetRow> Rows, IReadOnlyList<Entry> Extras, IReadOnlyList<StatePath> Paths, Entry? Last)
{
    /// <summary>How safe the machine is made now; null where nobody keeps it.</summary>
    public SafeCondition? Condition { get; init; }

    public RoundOrder Order { get; init; }

    /// <summary>What the leads read by themselves, the last time it was asked; null where nobody asked, or it was taken back.</summary>
    public Entry? Leads { get; init; }

    /// <summary>Where the other leg is read, after a drop along one; null where that is not asked.</summary>
    public OtherLeg? OtherLeg { get; init; }

    /// <summary>What is still to be done, in minutes.</summary>
    public RoundTime Time { get; init; } = RoundTime.Nothing;

    /// <summary>The sets among the checks, each as it stands.</summary>
    public IReadOnlyList<SetReport> Sets { get; init; } = [];

    public static RoundSheet Of(
        ResolvedMachine machine,
        FeedGraph graph,
        IEnumerable<Entry> entries,
        SafeCondition? condition = null,
        RoundOrder order = RoundOrder.Path,
        IReadOnlyList<Meter>? meters = null,
        RoundMinutes? minutes = null
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(graph);
        ArgumentNullException.ThrowIfNull(entries);
        var lines = entries.OrderBy(e => e.Order).ThenBy(e => e.Id, StringComparer.Ordinal).ToList();
        var takenBack = lines.Where(e => e.Kind == EntryKind.Retracted).Select(e => e.Target).ToHashSet();
        var standing = lines.Where(e => e.Kind != EntryKind.Retracted && !takenBack.Contains(e.Id)).ToList();
        var takes = lines
            .Where(e => e is { Kind: EntryKind.Taken, CheckKey: not null })
            .GroupBy(e => e.CheckKey!.Value)
            .ToDictionary(g => g.Key, g => g.Count());
        var byCheck = standing.Where(e => e.CheckKey is not null).ToLookup(e => e.CheckKey!.Value);
        var known = (meters ?? []).ToDictionary(m => m.Name, StringComparer.OrdinalIgnoreCase);
        var supplies = new SupplyReadings(machine, graph, standing);
        var leads = standing.Where(e => e is { Kind: EntryKind.LeadZero, Value: NumberReading }).ToList();
        decimal? LeadsBefore(Entry taken) => (leads.LastOrDefault(e => e.Order < taken.Order)?.Value as NumberReading)?.Value;
        var rows = SheetOrder
            .Of(machine, graph, order, minutes)
            .Select(said =>
            {
                var check = said.Limit is SupplyLimit ? said.Under(supplies.Now(said), "what the supply reads") : said;
                var own = byCheck[check.Key].ToList();
                Entry Read(Entry taken) =>
                    taken with
                    {
                        InCircuit = check.Check.Plugged == true,
                        LeadOhms = LeadsBefore(taken),
                        Meter = known.GetValueOrDefault(taken.MeterName),
                        IsChopped = Waveform.IsChopped(check, machine),
                        About = Waveform.About(check, machine),
                        // What was accepted as this machine's normal is right under what it made the normal.
                        Limit =
                            check.AcceptedReading == taken.Id ? check.Limit
                            : taken.Limit is SupplyLimit ? supplies.Now(check)
                            : taken.Limit,
                        AcceptedBecause = check.AcceptedReading == taken.Id ? check.AcceptedBecause : "",
                    };
                var readings = own.FindAll(e => e.Kind == EntryKind.Taken);
                var reading = readings.Count > 0 ? Read(readings[^1]) : null;
                var skip = reading is null ? own.LastOrDefault(e => e.Kind == EntryKind.Skipped) : null;
                return new SheetRow(check, reading, skip, takes.GetValueOrDefault(check.Key))
                {
                    Earlier = [.. readings.SkipLast(1).Select(Read)],
                };
            })
            .ToList();
        var energised = machine.Model.States.Where(s => s.Energised).Select(s => s.Code).ToHashSet();
        var returns = Returns.Of(machine);
        var copper = new Lazy<ILookup<PinAddress, ResolvedLink>>(() => FeedDrop.Copper(machine));
        List<Entry> extras =
        [
            .. standing
                .Where(e => e is { Kind: EntryKind.Taken, CheckKey: null })
                .Select(e =>
                    !energised.Contains(e.State) ? e
                    : returns.Of(e) is { } along
                        ? e with
                        {
                            IsAlongReturn = true,
                            ReturnLoss = CircuitLoss.Of(along.Far, along.Near, e, machine),
                        }
                    : e with { AlongFeed = FeedDrop.Of(e, machine, copper.Value) }
                ),
        ];
        var drops = extras
            .Concat(rows.Select(r => r.Reading).OfType<Entry>())
            .OrderBy(e => e.Order)
            .Select(returns.Of)
            .OfType<ReturnDrop>()
            // Without a load it clears nothing.
            .Where(d => d.IsLost || !Judge.IsWithoutLoad(d.Reading.Value?.Remark ?? ""))
            .ToList();
        var last = standing.LastOrDefault(e => e.Kind == EntryKind.Taken);
        var byKey = rows.ToDictionary(r => r.Check.Key);
        // As it stands among the rows or extras: with what is known of it there.
        var lastKnown = last is null
            ? null
            : extras.Concat(rows.Select(r => r.Reading).OfType<Entry>()).FirstOrDefault(e => e.Id == last.Id) ?? last;
        return new RoundSheet(
            rows,
            extras,
            [.. machine.Model.States.Where(s => s.Energised).Select(s => PathOf(s, graph, rows, drops, last)).OfType<StatePath>()],
            lastKnown
        )
        {
            Condition = condition,
            Order = order,
            Leads = leads.LastOrDefault(),
            OtherLeg = lastKnown is { IsAlongReturn: true } or { AlongFeed: not null }
                ? OtherLeg.After(lastKnown, extras, machine, returns, copper.Value)
                : null,
            Time = RoundTime.Of(rows, last, machine, minutes ?? RoundMinutes.Usual),
            Sets =
            [
                .. CheckSets
                    .Of(rows.Select(r => r.Check), machine)
                    .Select(s =>
                        SetReport.Of(
                            s,
                            byKey,
                            c => SheetOrder.NameOf(machine, c),
                            c =>
                                c.Check.Black is { } black
                                    ? $"{SheetOrder.NameOf(machine, c)} to {machine.Pins[black].Printed}"
                                    : SheetOrder.NameOf(machine, c)
                        )
                    ),
            ],
        };
    }

    /// <summary>
    /// The check to take next. While a bad stretch is open in the state being measured, the pin that narrows it most;
    /// otherwise on down the sheet in the same state, then the rest, then what was put off. What may be measured only dead
    /// is not proposed before the machine is proved dead; while it is, what is measured live comes last. In the order of the sheet
    /// it is the next line that is open.
    /// </summary>
    /// <param name="after">The check last looked at; null to begin from the last reading.</param>
    /// <returns>Its key, or null when nothing is left.</returns>
    public CheckKey? Next(CheckKey? after)
    {
        var at = Rows.Index().FirstOrDefault(r => r.Item.Check.Key == (after ?? Last?.CheckKey));
        var from = at.Item is null ? -1 : at.Index;
        var isDead = Condition == SafeCondition.ProvedDead;
        bool MayCome(SheetRow row) => Condition is null || isDead || !row.IsDeadOnly;
        bool IsOpen(SheetRow row) => row.Reading is null && row.Skip is null && MayCome(row) && (!isDead || row.IsDeadOnly);
        var state = at.Item?.Check.State.Code ?? Last?.State ?? (Rows is [var first, ..] ? first.Check.State.Code : null);
        foreach (var path in Paths.Where(p => Order == RoundOrder.Path && p.State.Code == state))
        {
            foreach (var pin in path.Report.Next)
            {
                var row = Rows.FirstOrDefault(r =>
                    IsOpen(r)
                    && r.Check.State.Code == state
                    && SheetOrder.TracesPower(r.Check)
                    && r.Check.Check.Red == path.Report.Graph[pin]
                );
                if (row is not null)
                {
                    return row.Check.Key;
                }
            }
        }

        bool IsPutOff(SheetRow row) => row.Reading is null && row.Skip?.Reason == Entry.Later && MayCome(row);
        var ahead = Rows.Skip(from + 1).Concat(Rows.Take(from + 1)).ToList();
        return (
            ahead.FirstOrDefault(r => IsOpen(r) && (Order == RoundOrder.Sheet || r.Check.State.Code == state))
            ?? ahead.FirstOrDefault(IsOpen)
            ?? ahead.FirstOrDefault(r => IsPutOff(r) && r.Check.Key != after)
            ?? ahead.FirstOrDefault(IsPutOff)
            // Proved dead, with all that is measured dead done: the rest waits for it to go live.
            ?? ahead.FirstOrDefault(r => isDead && r.Reading is null && r.Skip is null)
        )?.Check.Key;
    }

    private static StatePath? PathOf(
        OperatingState state,
        FeedGraph graph,
        List<SheetRow> rows,
        IEnumerable<ReturnDrop> allDrops,
        Entry? last
    )
    {
        var tracing = rows.Where(r =>
                r.Check.State.Code == state.Code && SheetOrder.TracesPower(r.Check) && graph.IndexOf(r.Check.Check.Red!) is not null
            )
            .ToList();
        // The latest between two ends stands.
        var drops = allDrops.Where(d => d.Reading.State == state.Code).GroupBy(d => (d.Far, d.Near)).Select(g => g.Last()).ToList();
        if (tracing.Count == 0 && drops.Count == 0)
        {
            return null;
        }

        var evidence = new Dictionary<PinIndex, PinEvidence>();
        var commons = new Dictionary<PinIndex, PinAddress>();
        var bands = new Dictionary<PinIndex, PinBand>();
        foreach (var row in tracing)
        {
            var pin = graph.IndexOf(row.Check.Check.Red!)!.Value;
            var (low, high) = Judge.Band((NumericLimit)row.Check.Limit, row.Check.Tolerance);
            bands.TryAdd(pin, new PinBand(low, high, row.Check.Check.Black));
            if (row.Check.Check.Black is { } black)
            {
                commons[pin] = black;
            }

            if (
                row.Reading is not { Value: { } value, Limit: { } limit } reading
                || reading.Verdict is not { Kind: not VerdictKind.NotJudged } verdict
            )
            {
                continue;
            }

            var common = reading.Black;
            // What the return loses is missing at every pin read against its far end, and says nothing of what feeds the pin.
            if (
                verdict.IsOut
                && value is NumberReading number
                && drops.FindIndex(d => d.IsLost && d.Far == reading.Black) is var at and >= 0
            )
            {
                var whole = number with
                {
                    Value = number.Value + (Math.Sign(number.Value == 0 ? low ?? 0 : number.Value) * drops[at].Volts),
                };
                if (Judge.Verdict(whole, limit, reading.Tolerance) is { IsGood: true } explained)
                {
                    drops[at] = drops[at] with { Explains = [.. drops[at].Explains, row.Check.Check.Red!] };
                    (value, verdict, common) = (whole, explained, drops[at].Near);
                }
            }

            if (!evidence.TryGetValue(pin, out var known) || (known.Verdict.IsGood && verdict.IsOut))
            {
                evidence[pin] = PinEvidence.Of(value, limit, reading.Tolerance, verdict, common) with
                {
                    NoLoad = row.Check.Check.Plugged == false || Entry.IsWithoutLoad(value),
                };
            }
        }

        // What was passed over, for whatever reason, is not proposed again unasked.
        var measurable = tracing
            .Where(r => r.Skip is null or { Reason: Entry.Later })
            .Select(r => graph.IndexOf(r.Check.Check.Red!)!.Value)
            .ToHashSet();
        int Moves(PinIndex pin) =>
            (last?.Black is { } black && commons.TryGetValue(pin, out var to) && to != black ? 1 : 0)
            + (last?.Red is { } red && !red.IsBeside(graph[pin]) ? 1 : 0);
        return new StatePath(state, PathReport.Of(graph, evidence, measurable.Contains, bands, Moves), commons, drops);
    }
}
