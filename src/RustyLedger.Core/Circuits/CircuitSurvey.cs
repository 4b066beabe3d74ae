using System.Globalization;
using System.Runtime.CompilerServices;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Circuits;

/// <summary>A check, and what the circuit says it should read.</summary>
/// <param name="Contradiction">What was typed and what was worked out, where these cannot both be right; empty where they can.</param>
public sealed record SurveyRow(ResolvedCheck Check, ReadingPlace Place, ExpectedReading Expected, string Contradiction)
{
    /// <summary>The limit that would take the place of a typed one; null where the circuit gives no number.</summary>
    public Limit? Computed => CircuitSurvey.LimitOf(Expected, Check.Check.Mode);

    // A source keeps so much of its volts, and what is next to nothing of them is nothing. Common practice, no source.
    private const double Kept = 0.6;
    private const double Nothing = 0.15;
    private const double Something = 0.3;

    /// <summary>
    /// By the circuit a live reading is far below what the sheet says although there is a source for that, or far above nothing where
    /// nothing should be: no assumed number is as far off, a wire is not where it was entered.
    /// </summary>
    /// <param name="most">Volts of the strongest source.</param>
    public bool IsElsewhere(double most)
    {
        if (
            Contradiction.Length == 0
            || !Place.State.Energised
            || Place.Mode is not (MeterMode.DcVolts or MeterMode.AcVolts)
            || Expected.Shown.Kind != ShownKind.Number
            || Check.Limit is not NumericLimit limit
            || Judge.Band(limit, Check.Tolerance) is not ({ } from, { } to)
        )
        {
            return false;
        }

        var (one, other) = (Math.Abs((double)from), Math.Abs((double)to));
        var (least, largest) = (Math.Min(one, other), Math.Max(one, other));
        var volts = Math.Abs(Expected.Shown.Value);
        return (volts < Kept * least && most > Kept * least) || (largest < Nothing * most && volts > Something * most);
    }
}

/// <summary>A number worth entering: assumed so far, and what is worked out leans on it.</summary>
/// <param name="Moves">How many checks it moves.</param>
/// <param name="Most">By how much where it moves most, in the unit of that check.</param>
public sealed record WorthEntering(string Part, StatedNumber Number, int Moves, Shown Most);

/// <summary>What the circuit of a machine says of all its checks.</summary>
public sealed class CircuitSurvey
{
    private static readonly ConditionalWeakTable<MachineCircuit, CircuitSurvey> _of = [];
    private readonly CircuitReader _reader;
    private readonly Lock _gate = new();

    // A limit is never narrower than what a contact in use may take. Common practice, no source.
    private const double LeastHalfVolts = 0.2;
    private const double LeastHalfAmps = 0.1;
    private const double LeastHalfOhms = 0.5;
    private const double MeterShare = 0.01;

    // What moves a reading by less of what a meter just tells apart is not worth a look at the wire.
    private const double LeastMove = 0.2;

    private CircuitSurvey(MachineCircuit machine, CircuitReader reader, IReadOnlyList<SurveyRow> rows, int unsaid)
    {
        (Machine, _reader, Rows, Unsaid) = (machine, reader, rows, unsaid);
        Faults = MachineFaults.Of(machine);
        Next =
        [
            // Where it only matters whether it beeps, milliohms are nobody's business.
            .. rows.Where(r => r.Place.Mode != MeterMode.Continuity)
                .SelectMany(r =>
                    r.Expected.Because.Select(b =>
                        (
                            b.Part,
                            b.Number,
                            Apart: Moved(r.Expected.Shown, b.Change),
                            Most: r.Expected.Shown with
                            {
                                Value = Math.Abs(b.Change),
                            }
                        )
                    )
                )
                .Where(b => b.Number.From == NumberFrom.Assumed)
                .GroupBy(b => (b.Part, b.Number.Name))
                .Select(g =>
                    (
                        Worth: new WorthEntering(
                            g.Key.Part,
                            g.First().Number,
                            g.Count(b => b.Apart > LeastMove),
                            g.MaxBy(b => b.Apart).Most
                        ),
                        Sum: g.Sum(b => b.Apart)
                    )
                )
                .Where(g => g.Worth.Moves > 0)
                .OrderByDescending(g => g.Sum)
                .Select(g => g.Worth),
        ];
    }

    private IReadOnlyList<WiringDoubt>? _doubts;

    /// <summary>
    /// Where the wiring as entered cannot be right: by it a healthy machine shorts its source, blows a fuse, or gives a part far more than
    /// its volts, or nothing in any state.
    /// </summary>
    public IReadOnlyList<WiringDoubt> Doubts => _doubts ??= [.. WiringDoubt.Of(this)];

    public MachineCircuit Machine { get; }

    /// <summary>In the order of the sheet.</summary>
    public IReadOnlyList<SurveyRow> Rows { get; }

    /// <summary>Checks of which the circuit says nothing.</summary>
    public int Unsaid { get; }

    public IReadOnlyList<MachineFault> Faults { get; }

    /// <summary>Assumed numbers, the one that would change most first.</summary>
    public IReadOnlyList<WorthEntering> Next { get; }

    /// <summary>Null while no source is known.</summary>
    public static CircuitSurvey? Of(MachineCircuit machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return machine.Circuit is null ? null : _of.GetValue(machine, Make);
    }

    private static CircuitSurvey Make(MachineCircuit machine)
    {
        var reader = new CircuitReader(machine);
        var rows = new List<SurveyRow>();
        foreach (var check in machine.Machine.Checks)
        {
            if (ReadingPlace.Of(check, machine) is { } place)
            {
                var expected = reader.Expected(place);
                rows.Add(new SurveyRow(check, place, expected, Contradiction(check, expected)));
            }
        }

        return new CircuitSurvey(machine, reader, rows, machine.Machine.Checks.Count - rows.Count);
    }

    /// <summary>What each row shows with a fault, in their order.</summary>
    public IReadOnlyList<Shown> Faulty(MachineFault fault)
    {
        lock (_gate)
        {
            return [.. Rows.Select(r => _reader.Faulty(r.Place, fault))];
        }
    }

    /// <summary>What a place shows on a machine with a fault, or on a healthy one.</summary>
    public Shown Shows(ReadingPlace place, MachineFault? fault)
    {
        lock (_gate)
        {
            return fault is null ? _reader.Healthy(place) : _reader.Faulty(place, fault);
        }
    }

    /// <inheritdoc cref="CircuitReader.Consequences"/>
    public IReadOnlyList<string> Consequences(OperatingState state, MachineFault fault)
    {
        lock (_gate)
        {
            return _reader.Consequences(state, fault);
        }
    }

    /// <inheritdoc cref="CircuitReader.Expected"/>
    public ExpectedReading Expected(ReadingPlace place)
    {
        lock (_gate)
        {
            return _reader.Expected(place);
        }
    }

    /// <summary>Amps through an element of the healthy machine, whichever of direct and alternating is more; their size.</summary>
    public double AmpsThrough(OperatingState state, string element)
    {
        var point = PointIn(state, null);
        return point.Problem is not null || !point.Circuit.Contains(element)
            ? 0
            : Math.Max(Math.Abs(point.Amps(element)), point.AlternatingAmps(element).Magnitude);
    }

    /// <inheritdoc cref="CircuitReader.Holds"/>
    public bool? Holds(CircuitPart protection, OperatingState state, string unplugged, MachineFault? fault)
    {
        lock (_gate)
        {
            return _reader.Holds(protection, state, unplugged, fault);
        }
    }

    /// <inheritdoc cref="CircuitReader.Opening"/>
    public OpeningTime? Opening(CircuitPart protection, OperatingState state, string unplugged, MachineFault? fault)
    {
        lock (_gate)
        {
            return _reader.Opening(protection, state, unplugged, fault);
        }
    }

    /// <inheritdoc cref="CircuitReader.Between"/>
    public MeterShows Between(ReadingPlace place, MachineFault? fault, double inputOhms)
    {
        lock (_gate)
        {
            return _reader.Between(place, fault, inputOhms);
        }
    }

    /// <summary>The rest of the machine in a state, with a fault or without.</summary>
    /// <param name="unplugged">As printed, the connectors that are pulled, with <c>and</c> between; empty for none.</param>
    public OperatingPoint PointIn(OperatingState state, MachineFault? fault, string unplugged = "")
    {
        lock (_gate)
        {
            return unplugged.Length > 0 ? _reader.PointIn(state, unplugged, fault)
                : fault is null ? _reader.PointIn(state)
                : _reader.PointIn(state, fault);
        }
    }

    /// <summary>
    /// A machine on which a check reads what its circuit gives: the typed limit stays with the model, and this one stands above it with
    /// its reason.
    /// </summary>
    /// <param name="id">Of what is so on this machine only.</param>
    public Outcome<Core.Machines.Machine> Settle(CheckKey key, OverrideId id)
    {
        if (Rows.FirstOrDefault(r => r.Check.Key == key) is not { Computed: { } limit } row)
        {
            return new Refusal("checkKey", "The circuit gives no value for this check.");
        }

        var machine = Machine.Machine.Machine;
        return machine with
        {
            Overrides =
            [
                .. machine.Overrides.Where(o => o.CheckKey != key || o.Limit is null),
                new Override(id, null, key, null, null, limit, $"by the circuit: {Words(row.Expected)}"),
            ],
        };
    }

    /// <inheritdoc cref="CircuitReader.Blows"/>
    internal bool Blows(MachineFault fault, CircuitPart protection)
    {
        lock (_gate)
        {
            return _reader.Blows(fault, protection);
        }
    }

    private static double Moved(Shown shown, double change) => Shown.Apart(shown, shown with { Value = shown.Value + change });

    private static string Contradiction(ResolvedCheck check, ExpectedReading expected)
    {
        bool IsOut(double value) =>
            Judge.Verdict(new NumberReading(Math.Round((decimal)value, 4), expected.Shown.Unit), check.Limit, check.Tolerance).IsOut;
        var isApart = expected.Shown.Kind switch
        {
            ShownKind.Number => IsOut(expected.Shown.Value) && IsOut(expected.Low) && IsOut(expected.High),
            ShownKind.Open => Judge.Verdict(new OverloadReading(), check.Limit, check.Tolerance).IsOut,
            ShownKind.On or ShownKind.Off when check.Limit is ContactLimit contact => contact.Closed
                != (expected.Shown.Kind == ShownKind.On),
            ShownKind.On or ShownKind.Off or ShownKind.Dim when check.Limit is LampLimit lamp => lamp.On
                != (expected.Shown.Kind == ShownKind.On),
            _ => false,
        };
        return isApart ? $"the sheet says {LimitNotation.Write(check.Limit)}, the circuit gives {Words(expected)}" : "";
    }

    /// <summary>The value with its band, such as <c>23.6 V, 23.2 to 24.0 V</c>.</summary>
    public static string Words(ExpectedReading expected)
    {
        ArgumentNullException.ThrowIfNull(expected);
        var shown = expected.Shown;
        return shown.Kind == ShownKind.Number
            ? $"{shown.Words}, {(shown with { Value = expected.Low }).Words} to {(shown with { Value = expected.High }).Words}"
            : shown.Words;
    }

    /// <summary>
    /// What a healthy machine stays within: the band, and what a meter and contacts in use take; null where it is no number.
    /// </summary>
    public static Limit? LimitOf(ExpectedReading expected, MeterMode mode)
    {
        ArgumentNullException.ThrowIfNull(expected);
        if (expected.Shown.Kind != ShownKind.Number)
        {
            return expected.Shown.Kind == ShownKind.Open && mode == MeterMode.Ohms ? new NoPathLimit() : null;
        }

        var (value, unit) = (expected.Shown.Value, expected.Shown.Unit);
        if (mode == MeterMode.Continuity)
        {
            return value <= (double)ShortLimit.MostOhms ? new ShortLimit() : new NoPathLimit();
        }

        var more =
            (MeterShare * Math.Abs(value))
            + (
                unit == Unit.Ohms ? LeastHalfOhms
                : unit == Unit.Amps ? LeastHalfAmps
                : LeastHalfVolts
            );
        var (low, high) = (expected.Low - more, expected.High + more);
        var current =
            unit == Unit.Ohms ? Current.Unstated
            : mode is MeterMode.AcVolts or MeterMode.AcAmps ? Current.Alternating
            : Current.Direct;
        // What has no sign is never below nothing.
        return low <= 0 && (unit != Unit.Volts || mode == MeterMode.AcVolts)
            ? new HighestLimit(Rounded(high, up: true), true, unit, current)
            : new RangeLimit(Rounded(low, up: false), Rounded(high, up: true), unit, current);
    }

    /// <summary>Outwards, to three significant digits and not below a tenth.</summary>
    private static decimal Rounded(double value, bool up)
    {
        var size = Math.Abs(value);
        var step =
            size >= 1000 ? Math.Pow(10, Math.Floor(Math.Log10(size)) - 2)
            : size >= 100 ? 1
            : 0.1;
        return Math.Round((decimal)((up ? Math.Ceiling((value / step) - 1e-9) : Math.Floor((value / step) + 1e-9)) * step), 4);
    }

    /// <summary>
    /// A sheet for a machine that has a circuit and no checks: each pin that something holds, against the return of the first source, in
    /// the first state that is energised and in each in which it reads otherwise.
    /// </summary>
    public static IReadOnlyList<ResolvedCheck> Sheet(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var circuit = MachineCircuit.Of(machine);
        if (circuit.Circuit is null || circuit.Nodes.FirstOrDefault(n => n.Value == Circuit.Reference).Key is not { } common)
        {
            return [];
        }

        var reader = new CircuitReader(circuit);
        var origin = new Origin(Level.Computed, "the circuit");
        List<ResolvedCheck> checks = [];
        foreach (var (address, node) in circuit.Nodes.Where(n => n.Value != Circuit.Reference && circuit.NodeOf(n.Key) is not null))
        {
            Shown? before = null;
            var pin = machine.Pins[address];
            foreach (var state in machine.Model.States.Where(s => s.Energised))
            {
                var point = reader.PointIn(state);
                if (point.Problem is not null)
                {
                    continue;
                }

                var alternates = point.Alternating(node, Circuit.Reference) is { Magnitude: > 0.5 };
                var mode = alternates ? MeterMode.AcVolts : MeterMode.DcVolts;
                var place = new ReadingPlace(node, Circuit.Reference, mode, state, "");
                var healthy = reader.Healthy(place);
                if (healthy.Kind != ShownKind.Number || (before is not null && Shown.Apart(before, healthy) < 2))
                {
                    continue;
                }

                before = healthy;
                if (LimitOf(reader.Expected(place), mode) is { } limit)
                {
                    var id = string.Create(CultureInfo.InvariantCulture, $"circuit {pin.Printed} {state.Code}");
                    checks.Add(
                        new ResolvedCheck(
                            id,
                            new Check(id, CheckTarget.PinAndCommon, address, common, "", mode, state.Code, true, limit, ""),
                            state,
                            Sourced.By(limit, origin),
                            Sourced.By(DefaultTolerance.Usual, origin),
                            origin
                        )
                    );
                }
            }
        }

        return checks;
    }
}
