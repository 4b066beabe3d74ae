using System.Globalization;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Sums;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Server.Measuring;

public sealed record ColourView(string Code, string Words)
{
    public static IReadOnlyList<ColourView> Of(WireColours colours)
    {
        ArgumentNullException.ThrowIfNull(colours);
        return [.. colours.Colours.Select(c => new ColourView(c.Code, c.Words))];
    }
}

/// <summary>A pin under a probe.</summary>
/// <param name="Element">The connector or part without the pin, such as <c>Z1-J2</c>.</param>
/// <param name="OnBoard">It sits on a board, so the map can show it.</param>
/// <param name="Position">Whose board it is on; null for a pin of a part off the boards.</param>
/// <param name="Pin">Its own id, by which the map marks it.</param>
public sealed record ProbeView(
    PinAddress Address,
    string? Position,
    string Pin,
    string Printed,
    string? ElsewherePrinted,
    string Element,
    string HolderWords,
    string Signal,
    IReadOnlyList<ColourView> Colours,
    string ColourWords,
    bool OnBoard,
    IReadOnlyList<FieldOrigin> Origins
)
{
    public static ProbeView? Of(PinAddress? address, ResolvedMachine machine) =>
        address is not null && machine.Pins.TryGetValue(address, out var pin)
            ? new ProbeView(
                address,
                address.InPosition?.Value,
                pin.Pin.Id.Value,
                pin.Printed,
                pin.ElsewherePrinted,
                pin.PrintedElement,
                pin.HolderWords,
                pin.Pin.Signal,
                ColourView.Of(pin.Pin.Colours),
                pin.Pin.Colours.Words,
                pin.Element is not null,
                pin.Origins
            )
            : null;
}

/// <param name="Value">As read.</param>
/// <param name="Counts">What counts, where the leads were taken off it; the value otherwise.</param>
/// <param name="AllTheSame">Why it was taken though the machine was not proved dead; empty where that was not needed.</param>
/// <param name="AcceptedBecause">Why it is right on this machine, off the book as it is; empty where nobody accepted it.</param>
/// <param name="Working">The numbers behind the verdict; empty where the reason says all.</param>
/// <param name="Meter">As whoever read it called it; empty where nobody said.</param>
/// <param name="ProposedNormal">What it would make this machine's normal; empty where there is nothing to accept.</param>
public sealed record ReadingView(
    string Id,
    CheckKey? CheckKey,
    string Typed,
    string Value,
    string Remark,
    bool Unsteady,
    VerdictKind Verdict,
    string Rule,
    string Reason,
    string RedPrinted,
    string BlackPrinted,
    string? Limit,
    string State,
    DateTimeOffset DeviceTime,
    string Person,
    string AllTheSame,
    string Counts,
    string AcceptedBecause,
    string ProposedNormal,
    string Working,
    string Meter
);

/// <summary>A line of the sheet: the check as asked, and what stands under it.</summary>
/// <param name="Key">Identity of the check on this machine.</param>
/// <param name="LimitOrigin">Who says what it should read.</param>
/// <param name="ToleranceWords">What a bare number takes as its tolerance, and why; empty where the limit says all itself.</param>
/// <param name="MindsLeads">So few ohms that what the leads add matters.</param>
/// <param name="Caution">What must be seen to before it is read in its mode; empty where nothing must.</param>
/// <param name="Access">What must be opened for it; empty where nothing must.</param>
/// <param name="Sums">Of the bench, that belong to it, with what is known already.</param>
/// <param name="LineVolts">So many volts are expected that the meter must be made for them; null where they are not.</param>
public sealed record RowView(
    CheckKey Key,
    ProbeView? Red,
    ProbeView? Black,
    string Part,
    MeterMode Mode,
    string ModeWords,
    string Unit,
    string Limit,
    ToleranceView Tolerance,
    string ToleranceWords,
    string State,
    string StateName,
    bool Energised,
    bool DeadOnly,
    bool? Plugged,
    string Remark,
    string LimitOrigin,
    ReadingView? Reading,
    string? Skipped,
    int Takes,
    bool MindsLeads,
    decimal? LineVolts,
    string Caution,
    string Access,
    IReadOnlyList<SumOffer> Sums
);

/// <summary>Checks that should read alike, as they stand together.</summary>
/// <param name="Left">Members still to be read.</param>
/// <param name="Bad">Members out by their own limits.</param>
/// <param name="Odd">The member that stands apart; null where none does.</param>
public sealed record SetView(
    string Name,
    IReadOnlyList<string> Members,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bad,
    CheckKey? Odd,
    VerdictKind Kind,
    string Words,
    IReadOnlyList<string> Why
);

public sealed record ToleranceView(decimal Percent, decimal Volts, decimal Ohms);

/// <param name="Mark">The verdict there; null where nothing was measured.</param>
/// <param name="Cleared">Known good without a reading of its own.</param>
/// <param name="CheckKey">A check that measures it in this state; null where there is none.</param>
/// <param name="Suspected">How likely a part is at fault that ends there, 0 to 1; 0 where the suspects were not asked.</param>
public sealed record StripPoint(string Printed, VerdictKind? Mark, bool Cleared, CheckKey? CheckKey, double Suspected);

/// <param name="FromPoint">Index on the strip where the stretch begins; null where it is not on the strip.</param>
public sealed record StretchView(
    string Sentence,
    string Next,
    CheckKey? NextKey,
    IReadOnlyList<SuspectView> Suspects,
    IReadOnlyList<string> Why,
    string Bad,
    IReadOnlyList<string> GoodEnds,
    int? FromPoint,
    int? ToPoint
);

/// <summary>The power path in one state.</summary>
/// <param name="Summary">One sentence where no stretch is open.</param>
/// <param name="Agrees">As the suspects have it, and the readings alone put the fault there as well; true of what the readings say.</param>
public sealed record PathView(
    string State,
    string StateName,
    IReadOnlyList<StripPoint> Points,
    IReadOnlyList<StripPiece> Pieces,
    IReadOnlyList<StretchView> Stretches,
    string Summary,
    IReadOnlyList<string> Explained,
    bool Agrees
);

/// <param name="MayComeAndGo">Of each reading it is worth saying whether the fault showed meanwhile.</param>
/// <param name="Effect">What the last reading changed, in a few words.</param>
/// <param name="NextKey">The check to take next; null when nothing is left.</param>
/// <param name="Taken">Checks that have a reading.</param>
/// <param name="Returns">The printed names of the pins of each return.</param>
/// <param name="Condition">How safe the machine is made; null once the visit has ended.</param>
/// <param name="WaitingForDead">Checks that are not proposed until the machine is proved dead.</param>
/// <param name="Leads">What the leads read by themselves; null where nobody asked them.</param>
/// <param name="Time">What is still to be done, in minutes.</param>
/// <param name="UnknownPlaces">Places in the model's rules of order at which nothing is read here.</param>
/// <param name="OtherLeg">After a drop along one leg, where the other is read.</param>
/// <param name="HasSheet">Checks came from a sheet, so that its order can be followed.</param>
public sealed record RoundView(
    string Id,
    string VisitId,
    string MachineId,
    string Tag,
    string MachineName,
    string Site,
    string Complaint,
    bool MayComeAndGo,
    bool VisitEnded,
    DateTimeOffset StartedAt,
    IReadOnlyList<RowView> Rows,
    IReadOnlyList<ReadingView> Extras,
    IReadOnlyList<PathView> Paths,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<ProbeView> Pins,
    IReadOnlyList<IReadOnlyList<string>> Returns,
    ReadingView? Last,
    string Effect,
    CheckKey? NextKey,
    int Taken,
    SafeCondition? Condition,
    int WaitingForDead,
    IReadOnlyList<SetView> Sets,
    ReadingView? Leads,
    RoundOrder Order,
    bool HasSheet,
    RoundTime Time,
    IReadOnlyList<string> UnknownPlaces,
    OtherLegView? OtherLeg
);

/// <summary>The leg that is still to be read, supply or return.</summary>
public sealed record OtherLegView(ProbeView Red, ProbeView Black, bool IsReturn, MeterMode Mode, string State);

/// <summary>What a line changed in its round; all else stands as it was last told.</summary>
/// <param name="Id">Of the round.</param>
/// <param name="Rows">Those that read otherwise now.</param>
public sealed record RoundChange(
    string Id,
    IReadOnlyList<RowView> Rows,
    IReadOnlyList<ReadingView> Extras,
    IReadOnlyList<PathView> Paths,
    ReadingView? Last,
    string Effect,
    CheckKey? NextKey,
    int Taken,
    SafeCondition? Condition,
    int WaitingForDead,
    IReadOnlyList<SetView> Sets,
    ReadingView? Leads,
    RoundTime Time,
    OtherLegView? OtherLeg
);

/// <param name="Part">What would be replaced or repaired; null for a load, a feed from elsewhere and a reading.</param>
public sealed record SuspectView(SuspectKind Kind, string Words, PartRef? Part);

/// <summary>Puts a round into the form the screens show. Every judgement in it is Core's.</summary>
internal sealed class RoundViewer(
    ResolvedMachine machine,
    FeedGraph graph,
    IReadOnlyList<Reading> lines,
    IReadOnlyDictionary<PersonId, string> people,
    SafeState? safe,
    RoundOrder order = RoundOrder.Path,
    IReadOnlyList<Meter>? meters = null,
    RoundMinutes? minutes = null
)
{
    private readonly Dictionary<string, Reading> _records = lines.ToDictionary(l => l.Id.Value);
    private readonly RoundRules _rules = RoundRules.Of(machine);
    private readonly Dictionary<string, string> _stateNames = machine.Model.States.ToDictionary(s => s.Code, s => s.Name);

    public RoundSheet Sheet { get; } = RoundSheet.Of(machine, graph, lines.Select(l => l.Entry()), safe?.Condition, order, meters, minutes);

    /// <summary>The readings that count, in the order they were taken, for other programs.</summary>
    public string Csv() =>
        ReadingList.Write(Sheet.Rows.Select(r => r.Reading).OfType<Entry>().Concat(Sheet.Extras).OrderBy(e => e.Order).Select(Row));

    public RoundView View(Round round, Visit visit) =>
        new(
            round.Id.Value,
            visit.Id.Value,
            machine.Machine.Id.Value,
            machine.Machine.Tag,
            machine.Machine.Name,
            machine.Machine.Site,
            visit.Complaint,
            Reasoning.MayComeAndGo(visit.Complaint, Sheet),
            visit.EndedAt is not null,
            round.StartedAt,
            [.. Sheet.Rows.Select(Row)],
            [.. Sheet.Extras.Select(Reading)],
            Paths(Sheet.Next(null)),
            machine.Model.States,
            [.. machine.Pins.Values.OrderBy(p => p.Printed, NaturalOrder.Instance).Select(p => ProbeView.Of(p.Address, machine)!)],
            [
                .. Returns
                    .Of(machine)
                    .Parts.Where(p => p.Count > 1)
                    .Select(p => (IReadOnlyList<string>)[.. p.Select(a => machine.Pins[a].Printed).Order(NaturalOrder.Instance)]),
            ],
            Sheet.Last is null ? null : Reading(Sheet.Last),
            Effect(),
            Sheet.Next(null),
            Sheet.Rows.Count(r => r.Reading is not null),
            safe?.Condition,
            safe is { Condition: not SafeCondition.ProvedDead }
                ? Sheet.Rows.Count(r => r is { IsDeadOnly: true, Reading: null, Skip: null or { Reason: Entry.Later } })
                : 0,
            [
                .. Sheet.Sets.Select(set => new SetView(
                    set.Set.Name,
                    [.. set.Set.Members.Select(m => m.Key.Value)],
                    [.. set.Left.Select(k => k.Value)],
                    [.. set.Bad.Select(k => k.Value)],
                    set.Odd,
                    set.Kind,
                    set.Words,
                    set.Why
                )),
            ],
            Sheet.Leads is null ? null : Reading(Sheet.Leads),
            order,
            machine.Checks.Any(c => c.Check.Line is not null),
            Sheet.Time,
            _rules.Unknown(),
            Sheet.OtherLeg is { } leg
                ? new OtherLegView(
                    ProbeView.Of(leg.Red, machine)!,
                    ProbeView.Of(leg.Black, machine)!,
                    leg.IsReturn,
                    Sheet.Last!.Mode,
                    Sheet.Last.State
                )
                : null
        );

    /// <summary>The power path of each state, along the branch on which a check lies.</summary>
    /// <param name="at">The check that is looked at; null for the last reading's.</param>
    public IReadOnlyList<PathView> Paths(CheckKey? at) => [.. Sheet.Paths.Select(p => Path(p, at))];

    /// <summary>What one line changed, beside the sheet without it.</summary>
    public RoundChange Change(Round round, Visit visit, string lineId)
    {
        var before = RoundSheet.Of(
            machine,
            graph,
            lines.Where(l => l.Id.Value != lineId).Select(l => l.Entry()),
            safe?.Condition,
            order,
            meters,
            minutes
        );
        var was = before.Rows.ToDictionary(r => r.Check.Key, Shown);
        var now = View(round, visit);
        var changed = Sheet.Rows.Where(r => was[r.Check.Key] != Shown(r)).Select(r => r.Check.Key).ToHashSet();
        return new RoundChange(
            now.Id,
            [.. now.Rows.Where(r => changed.Contains(r.Key))],
            now.Extras,
            now.Paths,
            now.Last,
            now.Effect,
            now.NextKey,
            now.Taken,
            now.Condition,
            now.WaitingForDead,
            now.Sets,
            now.Leads,
            now.Time,
            now.OtherLeg
        );
    }

    /// <summary>All of a row that lines can change.</summary>
    private static (string? Reading, Verdict? Verdict, string? Skip, int Takes, string Limit) Shown(SheetRow row) =>
        (row.Reading?.Id, row.Reading?.Verdict, row.Skip?.Reason, row.Takes, LimitNotation.Write(row.Check.Limit));

    public ReadingView Reading(Entry entry)
    {
        var (record, verdict) = (_records[entry.Id], entry.Verdict);
        return new ReadingView(
            entry.Id,
            entry.CheckKey,
            record.Typed,
            entry.Value?.Written ?? "",
            entry.Value?.Remark ?? "",
            entry.Value?.Unsteady ?? false,
            verdict.Kind,
            verdict.Rule,
            verdict.Reason,
            record.RedPrinted,
            record.BlackPrinted,
            entry.Limit is null ? null : LimitNotation.Write(entry.Limit),
            _stateNames.GetValueOrDefault(record.State, record.State),
            record.DeviceTime,
            people.GetValueOrDefault(record.PersonId, "somebody"),
            record.Reason,
            entry.Counted?.Written ?? "",
            entry.AcceptedBecause,
            verdict.IsOut && entry.CheckKey is not null ? MachineNormal.Proposed(entry) : "",
            verdict.Working,
            record.Meter
        );
    }

    /// <summary>A reading as evidence, as it stands now.</summary>
    public Evidence Evidence(Entry entry)
    {
        var record = _records[entry.Id];
        return new Evidence.Measured(
            record.DeviceTime,
            record.Id,
            record.Red,
            record.RedPrinted,
            record.Black,
            record.BlackPrinted,
            record.State,
            entry.Value?.Written ?? "",
            entry.Value?.Remark ?? "",
            entry.Verdict.Kind,
            record.Limit
        );
    }

    /// <summary>A reading as a row of a spreadsheet.</summary>
    public ReadingRow Row(Entry entry)
    {
        var (record, reading) = (_records[entry.Id], Reading(entry));
        return new ReadingRow(
            record.DeviceTime,
            record.RedPrinted,
            record.BlackPrinted,
            record.Mode,
            reading.State,
            record.Typed,
            reading.Value,
            record.Limit is null ? "" : LimitNotation.Write(record.Limit),
            reading.Reason,
            record.Meter,
            reading.Person
        );
    }

    public IEnumerable<StretchInWords> Stretches() => Sheet.Paths.SelectMany(Words);

    private IReadOnlyList<StretchInWords> Words(StatePath path) =>
        StretchWords.All(path, machine, Sheet.Condition == SafeCondition.ProvedDead);

    private string Effect()
    {
        if (Sheet.Last is not { } last)
        {
            return "";
        }

        var before = RoundSheet.Of(machine, graph, lines.Where(l => l.Id.Value != last.Id).Select(l => l.Entry()), minutes: minutes);
        return ReadingEffect.Words(last, before, Sheet, machine);
    }

    private RowView Row(SheetRow row)
    {
        var check = row.Check.Check;
        return new RowView(
            row.Check.Key,
            ProbeView.Of(check.Red, machine),
            ProbeView.Of(check.Black, machine),
            check.Part,
            check.Mode,
            check.Mode.Words(),
            check.Mode.UnitOf()?.Symbol() ?? "",
            LimitNotation.Write(row.Check.Limit),
            new ToleranceView(row.Check.Tolerance.Percent, row.Check.Tolerance.Volts, row.Check.Tolerance.Ohms),
            row.Check.ToleranceWords,
            row.Check.State.Code,
            row.Check.State.Name,
            row.Check.State.Energised,
            row.IsDeadOnly,
            check.Plugged,
            check.Remark,
            row.Check.SourcedLimit.From.Words,
            row.Reading is null ? null : Reading(row.Reading),
            row.Skip?.Reason,
            row.Takes,
            LeadZero.MattersTo(row.Check),
            LineVoltage.Of(row.Check),
            row.Check.Check.Mode.Caution(),
            _rules.AccessOf(row.Check),
            CheckSums.Of(row.Check, machine, row.Reading, SetOf(row))
        );
    }

    private List<(string Name, string Reads)>? SetOf(SheetRow row)
    {
        if (Sheet.Sets.FirstOrDefault(s => s.Set.Members.Any(m => m.Key == row.Check.Key)) is not { } set)
        {
            return null;
        }

        var reads = Sheet.Rows.Where(r => set.Set.Members.Any(m => m.Key == r.Check.Key)).ToDictionary(r => r.Check.Key, r => r.Reading);
        return
        [
            .. set.Set.Members.Select(m =>
                (
                    SheetOrder.NameOf(machine, m),
                    reads[m.Key]?.Value is NumberReading n ? n.Value.ToString(CultureInfo.InvariantCulture) : ""
                )
            ),
        ];
    }

    private PathView Path(StatePath path, CheckKey? at)
    {
        var report = path.Report;
        var here = Sheet.Rows.FirstOrDefault(r => r.Check.Key == at)?.Check;
        var pin =
            here?.State.Code == path.State.Code && here.Check.Red is { } red ? report.Graph.IndexOf(red)
            : Sheet.Last?.Red is { } last ? report.Graph.IndexOf(last)
            : null;
        var strip = PathStrip.Showing(pin, report);
        var keys = Keys(path);
        var points = Points(path, strip, keys, null);
        var cleared = report.ClearedPins.Count(c => c);
        var summary = (cleared, report.Evidence.Count) switch
        {
            (_, 0) => "Nothing measured on the power path yet. Begin where power enters.",
            var (c, _) when c == report.Graph.Pins.Count => "Good all the way: every pin of the power path is cleared.",
            _ => $"Good so far: {cleared} of {report.Graph.Pins.Count} pins on the power path are cleared.",
        };
        summary += report.Evidence.Values.Any(e => e is { NoLoad: true, Verdict.IsGood: true })
            ? " Where no load ran, a weak contact would not show."
            : "";
        return new PathView(
            path.State.Code,
            path.State.Name,
            points,
            strip.Pieces,
            [.. Words(path).Select(w => Stretch(w, path, strip, keys))],
            summary,
            [
                .. report.Explained.Select(x =>
                    $"{Name(report, x.Bad)} is bad too, which {string.Join(" and ", x.By.Select(b => Name(report, b)))} before it explains."
                ),
            ],
            true
        );
    }

    private Dictionary<PinAddress, CheckKey> Keys(StatePath path) =>
        Sheet
            .Rows.Where(r => r.Check.State.Code == path.State.Code && SheetOrder.TracesPower(r.Check))
            .GroupBy(r => r.Check.Check.Red!)
            .ToDictionary(g => g.Key, g => g.First().Check.Key);

    private List<StripPoint> Points(StatePath path, PathStrip strip, Dictionary<PinAddress, CheckKey> keys, SuspectPlaces? places) =>
        [
            .. strip.Pins.Select(p => new StripPoint(
                Name(path.Report, p),
                path.Report.Evidence.TryGetValue(p, out var e) ? e.Verdict.Kind : null,
                path.Report.ClearedPins[p] && !path.Report.Evidence.ContainsKey(p) && places?.IsOpen(path.Report.Graph[p]) != true,
                Key(keys, path.Report.Graph[p]),
                places?.At(path.Report.Graph[p]) ?? 0
            )),
        ];

    /// <summary>Pins between which the readings alone put a fault.</summary>
    private IEnumerable<PinAddress> FoundAt(StatePath path) =>
        Words(path)
            .SelectMany(w => w.Found.Bads.Concat(w.Found.From))
            .Concat(
                path.Report.Suspects.SelectMany(l =>
                    new[] { path.Report.Graph[path.Report.Graph[l].From], path.Report.Graph[path.Report.Graph[l].To] }
                )
            );

    /// <summary>The path in each state as the suspects have it.</summary>
    public IReadOnlyList<PathView> Suspected(SuspectPlaces places, PinAddress? through)
    {
        ArgumentNullException.ThrowIfNull(places);
        return
        [
            .. Sheet.Paths.Select(path =>
            {
                var (strip, between) = places.On(path.Report, through);
                return new PathView(
                    path.State.Code,
                    path.State.Name,
                    Points(path, strip, Keys(path), places),
                    strip.Pieces,
                    between is var (from, to) ? [new StretchView(places.Sentence, "", null, [], places.Why, "", [], from, to)] : [],
                    places.Sentence,
                    [],
                    places.Agrees(FoundAt(path))
                );
            }),
        ];
    }

    private static CheckKey? Key(Dictionary<PinAddress, CheckKey> keys, PinAddress pin) =>
        keys.TryGetValue(pin, out var key) ? (CheckKey?)key : null;

    private StretchView Stretch(StretchInWords words, StatePath path, PathStrip strip, Dictionary<PinAddress, CheckKey> keys)
    {
        var report = path.Report;
        CheckKey? First(IEnumerable<PinIndex> next) => next.Select(p => Key(keys, report.Graph[p])).FirstOrDefault(k => k is not null);
        if (words.Stretch is not { } stretch)
        {
            return new StretchView(
                words.Sentence,
                words.Next,
                words.IsOnePlace ? First(report.OneFault!.Next) : null,
                Suspects(words),
                words.Why,
                "",
                [],
                null,
                null
            );
        }

        var to = Index(strip.Pins, stretch.Bad);
        int? from = to is null
            ? null
            : stretch
                .GoodEnds.Concat(stretch.OpenSources)
                .Concat(stretch.WorseThan)
                .Select(p => Index(strip.Pins, p))
                .Where(i => i < to)
                .Max();
        return new StretchView(
            words.Sentence,
            words.Next,
            First(stretch.Next),
            Suspects(words),
            words.Why,
            Name(report, stretch.Bad),
            [.. stretch.GoodEnds.Select(p => Name(report, p))],
            from ?? to,
            to
        );
    }

    private IReadOnlyList<SuspectView> Suspects(StretchInWords words) =>
        [.. words.Found.Suspects.Select(s => new SuspectView(s.Kind, s.Words(machine), s.Part))];

    private static int? Index(IReadOnlyList<PinIndex> pins, PinIndex pin) =>
        pins.Index().Where(p => p.Item == pin).Select(p => (int?)p.Index).FirstOrDefault();

    private string Name(PathReport report, PinIndex pin) => machine.Pins[report.Graph[pin]].Printed;
}
