using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>The circuit of a machine out of its wiring, and what follows from it.</summary>
public sealed class MachineCircuitTests
{
    private static readonly OperatingState _running = OperatingState.Usual[2];

    /// <summary>The sample machine with its return wires, and rows of its circuit.</summary>
    private static ResolvedMachine With(string[] orders, params string[] rows) =>
        Sample.Resolved(
            model: Sample.WithReturns with
            {
                Circuit = new CircuitSheet(
                    [
                        .. rows.Select(
                            (r, i) =>
                                r.Split('|') is var cells
                                    ? new CircuitRow(
                                        $"r{i}",
                                        cells[0],
                                        cells.ElementAtOrDefault(1) ?? "",
                                        cells.ElementAtOrDefault(2) ?? "",
                                        cells.ElementAtOrDefault(3) ?? "",
                                        cells.ElementAtOrDefault(4) ?? ""
                                    )
                                    : null!
                        ),
                    ],
                    orders
                ),
            }
        );

    private static readonly string[] _usual =
    [
        "PS||supply 24 V",
        "load 1|Z1-J2·1 to Z1-J2·2|resistor 60 Ω",
        "load 2|Z2-J2·1 to Z2-J2·2|resistor 60 Ω",
    ];

    private static CircuitSurvey Survey(params string[] rows) => CircuitSurvey.Of(MachineCircuit.Of(With([], rows)))!;

    private static SurveyRow At(CircuitSurvey survey, string red, string black = "") =>
        survey.Rows.Single(r =>
            survey.Machine.Machine.Pins[r.Check.Check.Red!].Printed == red
            && (black.Length == 0 || survey.Machine.Machine.Pins[r.Check.Check.Black!].Printed == black)
        );

    [Fact]
    public void Wires_contacts_and_marked_fuses_are_there_without_a_row()
    {
        var circuit = MachineCircuit.Of(With([], _usual));
        Assert.Empty(circuit.Problems);
        Assert.Empty(circuit.Gaps);
        var fuse = circuit.Parts.Single(p => p.Name == "Z1-F1");
        Assert.Equal((2, NumberFrom.Marking), (fuse.Law["amps"], fuse.Law.Numbers.Single(n => n.Name == "amps").From));
        Assert.Equal(4, circuit.Parts.Count(p => p.Law.Kind == LawKind.Wire));
        Assert.Contains(circuit.Parts, p => p.Name == MachineCircuit.ContactAt("Z1-J2·1"));
    }

    [Fact]
    public void A_chain_of_two_loads_reads_as_worked_out_by_hand()
    {
        // Ohms by hand: wires 30 mΩ, contacts 5 mΩ, tracks 2 mΩ, the fuse 0.1 V at 2 A, and 10 mΩ inside the supply.
        const double Lead = 0.03 + 0.005;
        const double Board = 0.002 + 0.05 + 0.002;
        const double Chain = 0.005 + 0.03 + 0.005;
        const double Second = Chain + Board + 60 + 0.002 + Chain;
        var first = 1 / ((1 / 60.0) + (1 / Second));
        var amps = 24 / (0.01 + Lead + Board + first + 0.002 + Lead);
        var survey = Survey("PS||supply 24 V", _usual[1], _usual[2]);
        Assert.Equal(amps * first, At(survey, "Z1-J2·1").Expected.Shown.Value, 6);
        Assert.Equal(amps * first / Second * 60, At(survey, "Z2-J2·1").Expected.Shown.Value, 6);
    }

    [Fact]
    public void A_star_stands_for_every_position_and_a_row_for_one_machine_goes_first()
    {
        var circuit = MachineCircuit.Of(With([], "PS||supply 24 V", "PS||supply 25 V||LY-00", "Z* load|Z*-J2·1 to Z*-J2·2|resistor 60 Ω"));
        Assert.Empty(circuit.Problems);
        Assert.Equal(25, circuit.Parts.Single(p => p.Name == "PS").Law["volts"]);
        Assert.Equal(["Z1 load", "Z2 load"], circuit.Parts.Where(p => p.Law.Kind == LawKind.Load).Select(p => p.Name));
        Assert.Equal(
            24,
            MachineCircuit.Of(With([], "PS||supply 24 V", "PS||supply 25 V||LY-99")).Parts.Single(p => p.Name == "PS").Law["volts"]
        );
    }

    [Theory]
    [InlineData("X1||gadget 24 V", "no kind of part")]
    [InlineData("ps||supply 12 V", "twice")]
    [InlineData("load|Z9-J2·1 to Z1-J2·2|resistor 1k", "no pin Z9-J2·1")]
    [InlineData("load||resistor 1k", "on no drawing")]
    [InlineData("load|Z1-J2·1 to Z1-J2·2|output|dancing", "no state \"dancing\"")]
    [InlineData("load|Z1-J2·1 to Z1-J2·2|make contact of K7", "no relay K7")]
    [InlineData("Q* load|Q*-J2·1 to Q*-J2·2|resistor 1k", "no position")]
    public void A_row_that_cannot_be_used_says_why_and_the_rest_counts(string row, string why)
    {
        var circuit = MachineCircuit.Of(With([], "PS||supply 24 V", row));
        var problem = Assert.Single(circuit.Problems);
        Assert.Equal("r1", problem.RowId);
        Assert.Contains(why, problem.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_missing_is_asked_for_the_source_first()
    {
        var circuit = MachineCircuit.Of(With([], "load|Z1-J2·1 to Z1-J2·2|motor 24 V"));
        Assert.Null(circuit.Circuit);
        Assert.Equal(["PS", "load"], circuit.Gaps.Select(g => g.Part));
        Assert.Null(CircuitSurvey.Of(circuit));
    }

    [Fact]
    public void A_state_is_reached_by_the_stated_order_and_a_relay_remembers()
    {
        // K1 holds itself by its own contact once START was pressed.
        string[] rows =
        [
            "PS||supply 24 V",
            "START|Z1-F1·2 to Z1-J2·1|button|standby",
            "K1|Z1-J2·1 to Z1-J2·2|relay 24 V 480 Ω",
            "hold|Z1-F1·2 to Z1-J2·1|make contact of K1",
        ];
        var straight = MachineCircuit.Of(With([], rows));
        var ordered = MachineCircuit.Of(With(["running after standby"], rows));
        Assert.Equal(ElementState.Released, straight.PointsTo(_running)[^1].States["K1"]);
        Assert.Equal(ElementState.Held, ordered.PointsTo(_running)[^1].States["K1"]);
        Assert.Single(MachineCircuit.Of(With(["running before standby"], rows)).Problems);
    }

    [Fact]
    public void A_board_switches_an_output_only_when_it_sees_what_it_wants()
    {
        static ElementState Of(string supply)
        {
            var circuit = MachineCircuit.Of(
                With(
                    [],
                    $"PS||supply {supply}",
                    "out|Z1-J1·1 to Z1-J2·1|output|running if Z1-J1·1 to Z1-J1·2 > 18 V",
                    "K1|Z1-J2·1 to Z1-J2·2|relay 12 V 480 Ω"
                )
            );
            Assert.Empty(circuit.Problems);
            return circuit.PointsTo(_running)[^1].States["K1"];
        }

        // The path through the fuse is there as well: it is taken away by a row of its own kind in the second machine.
        Assert.Equal(ElementState.Held, Of("24 V"));
        var low = MachineCircuit.Of(
            With(
                [],
                "PS||supply 15 V",
                "Z1-F1|Z1-F1·2 to Z1-J2·1|output|running if Z1-J1·1 to Z1-J1·2 > 18 V",
                "K1|Z1-J2·1 to Z1-J2·2|relay 12 V 480 Ω"
            )
        );
        Assert.Equal(ElementState.Released, low.PointsTo(_running)[^1].States["K1"]);
    }

    /// <summary>Both of two inputs, or a third: the table of a board's logic, every line of it.</summary>
    [Theory]
    [InlineData("never", "never", "never", false)]
    [InlineData("always", "never", "never", false)]
    [InlineData("never", "always", "never", false)]
    [InlineData("always", "always", "never", true)]
    [InlineData("never", "never", "always", true)]
    [InlineData("always", "always", "always", true)]
    public void A_board_switches_on_all_of_one_line_or_of_another(string one, string two, string three, bool isHeld)
    {
        var machine = With(
            [],
            "PS||supply 24 V",
            $"A|Z1-J1·1 to Z2-J1·1|switch|{one}",
            "a low|Z2-J1·1 to Z1-J1·2|resistor 10k",
            $"B|Z1-J1·1 to Z2-J2·1|switch|{two}",
            "b low|Z2-J2·1 to Z1-J1·2|resistor 10k",
            $"C|Z1-J1·1 to Z2-J1·2|switch|{three}",
            "c low|Z2-J1·2 to Z1-J1·2|resistor 10k",
            "Z2-F1|Z2-F1·1 to Z2-F1·2|switch|never",
            "Z1-F1|Z1-F1·1 to Z1-F1·2|output|running if Z2-J1·2 > 18 V or Z2-J1·1 > 18 V and Z2-J2·1 > 18 V",
            "K1|Z1-F1·2 to Z1-J1·2|relay 12 V 480 Ω"
        );
        // The second board is fed by nothing but what the rows say.
        var circuit = MachineCircuit.Of(
            Sample.Resolved(model: machine.Model with { Links = [.. machine.Model.Links.Where(l => l.Id.Value is "w1" or "r1")] })
        );
        Assert.Empty(circuit.Problems);
        Assert.Equal(isHeld ? ElementState.Held : ElementState.Released, circuit.PointsTo(_running)[^1].States["K1"]);
    }

    /// <summary>A board or an LED that would be fed from its minus; a motor may run either way.</summary>
    [Theory]
    [InlineData("Z1-J2·1 to Z1-J2·2", "board 24 V 60 mA", false)]
    [InlineData("Z1-J2·2 to Z1-J2·1", "board 24 V 60 mA", true)]
    [InlineData("Z1-J2·2 to Z1-J2·1", "LED red 24 V 8 mA", true)]
    [InlineData("Z1-J2·2 to Z1-J2·1", "motor 24 V 1 A", false)]
    public void A_board_that_would_get_its_volts_the_wrong_way_round_is_a_doubt(string between, string what, bool isDoubted)
    {
        var doubts = Survey("PS||supply 24 V", $"load 1|{between}|{what}", _usual[2]).Doubts;
        Assert.Equal(isDoubted, doubts.Any(d => d.Part == "load 1" && d.Words.Contains("the wrong way round", StringComparison.Ordinal)));
        Assert.True(isDoubted || doubts.Count == 0);
    }

    [Fact]
    public void Every_number_is_asked_why_and_the_strongest_stands_first()
    {
        var expected = At(Survey(_usual), "Z2-J2·1").Expected;
        Assert.Equal(("PS", "volts"), (expected.Because[0].Part, expected.Because[0].Number.Name));
        // 2 % more of the source is 2 % more of everything in a linear circuit.
        Assert.Equal(0.02 * expected.Shown.Value, expected.Because[0].Change, 6);
        var half = Math.Sqrt(expected.Because.Sum(b => b.Change * b.Change));
        Assert.Equal(expected.Shown.Value + half, expected.High, 9);
        Assert.True(expected.WorstHigh > expected.High);
    }

    [Fact]
    public void A_contradiction_is_named_and_settled_on_the_machine_alone()
    {
        var survey = Survey("PS||supply 12 V", _usual[1], _usual[2]);
        var row = At(survey, "PS·+");
        Assert.Contains("24 V ±5 %", row.Contradiction, StringComparison.Ordinal);
        Assert.Equal("", At(Survey(_usual), "PS·+").Contradiction);
        var settled = survey.Settle(row.Check.Key, "o1").Thing!;
        var own = Assert.Single(settled.Overrides);
        Assert.Equal("11.4..12.6 V DC", LimitNotation.Write(own.Limit!));
        Assert.StartsWith("by the circuit: ", own.Reason, StringComparison.Ordinal);
        Assert.NotNull(survey.Settle("nothing", "o2").Refusal);
    }

    [Fact]
    public void A_lost_return_shows_at_the_far_board_and_a_fault_has_its_consequence()
    {
        var survey = Survey(_usual);
        var open = survey.Faults.Single(f => f.Id == "wire Z1-J2·2 to Z2-J1·2/1");
        var faulty = survey.Faulty(open);
        var at = survey.Rows.ToList().IndexOf(At(survey, "Z2-J2·1"));
        Assert.Equal(0, faulty[at].Value, 3);
        var shorted = survey.Faults.Single(f => f.Id == "load 2/2");
        Assert.Contains("Z1-F1 blows", survey.Consequences(_running, shorted));
    }

    [Fact]
    public void Odds_come_to_a_share_of_contacts_and_wires_near_one_in_five()
    {
        // Of ordinary machines, contacts and wires are near one in five. Common practice, no source; here a small machine with few parts.
        var faults = Survey(_usual).Faults;
        var share =
            faults
                .Where(f => f.Part.StartsWith("contact ", StringComparison.Ordinal) || f.Part.StartsWith("wire ", StringComparison.Ordinal))
                .Sum(f => f.Odds) / faults.Sum(f => f.Odds);
        Assert.InRange(share, 0.1, 0.4);
        Assert.Equal(faults.Count, faults.Select(f => f.Id).Distinct().Count());
        Assert.All(faults, f => Assert.True(f.Odds > 0));
    }

    [Fact]
    public void A_machine_with_a_circuit_and_no_sheet_has_a_sheet()
    {
        var bare = With([], _usual);
        var machine = ResolvedMachine.Of(
            bare.Machine,
            bare.Model with
            {
                Checks = [],
            },
            new Dictionary<BoardTypeId, RustyLedger.Core.Boards.BoardType> { ["zb"] = Sample.Board with { Checks = [] } }
        );
        Assert.NotEmpty(machine.Checks);
        var far = machine.Checks.Single(c => machine.Pins[c.Check.Red!].Printed == "Z2-J2·1");
        Assert.Equal("computed", far.SourcedLimit.From.Level.ToString().ToLowerInvariant());
        var survey = CircuitSurvey.Of(MachineCircuit.Of(machine))!;
        Assert.All(survey.Rows, r => Assert.Equal("", r.Contradiction));
    }

    [Fact]
    public void The_way_of_the_current_stops_where_something_is_open()
    {
        var survey = Survey(_usual);
        var blown = survey.Faults.Single(f => f.Id == "Z1-F1/1");
        var way = CurrentPath.Supply(survey.Machine, survey.PointIn(_running, blown), "Z2-J2·1");
        Assert.Equal("PS·+", way[0].Node);
        Assert.Equal("Z2-J2·1", way[^1].Node);
        Assert.Equal("Z1-F1", Assert.Single(way, s => !s.Conducts).Through);
        var back = CurrentPath.Return(survey.Machine, survey.PointIn(_running, null), "Z2-J2·2");
        Assert.All(back, s => Assert.True(s.Conducts));
        Assert.Equal(Circuit.Reference, back[^1].Node);
    }

    [Fact]
    public void A_sheet_keeps_what_it_does_not_understand_and_refuses_only_what_does_not_fit()
    {
        var sheet = new CircuitSheet([new("a", " PS ", "", "gadget", "", ""), new("b", "", "", " ", "", "")], [" ", "running after off"]);
        var kept = sheet.Kept();
        Assert.Equal([new CircuitRow("a", "PS", "", "gadget", "", "")], kept.Rows);
        Assert.Equal(["running after off"], kept.Orders);
        Assert.Null(kept.Refusal());
        Assert.Equal("rows[0].what", new CircuitSheet([new("a", "PS", "", new string('x', 161), "", "")], []).Refusal()!.Field);
        Assert.Equal("rows", new CircuitSheet([new("a", "P", "", "", "", ""), new("a", "Q", "", "", "", "")], []).Refusal()!.Field);
    }

    [Fact]
    public void A_meter_between_any_two_pins_shows_what_its_mode_can()
    {
        var survey = Survey(_usual);
        var (off, plus, far) = (OperatingState.Usual[0], survey.Machine.NodeCalled("PS.+")!, survey.Machine.NodeCalled("z2-j2.1")!);
        MeterShows Shows(string red, string black, MeterMode mode, OperatingState state, double ohms = 10e6) =>
            survey.Between(new ReadingPlace(red, black, mode, state, ""), null, ohms);
        var rest = survey.PointIn(_running, null);
        Assert.Equal(rest.Between(plus, far)!.Value, Shows(plus, far, MeterMode.DcVolts, _running).Value!.Value, 6);
        Assert.Contains("24 V DC are there", Shows(plus, Circuit.Reference, MeterMode.AcVolts, _running).Words, StringComparison.Ordinal);
        // Ohms are measured dead, and refused live.
        Assert.Null(Shows(far, Circuit.Reference, MeterMode.Ohms, _running).Value);
        Assert.InRange(Shows(far, Circuit.Reference, MeterMode.Ohms, off).Value!.Value, 25, 31);
        Assert.True(Shows(plus, survey.Machine.NodeCalled("Z2-J2·2")!, MeterMode.Diode, off).Value < 0.1);
        // Around the supply's wire flows what both loads draw.
        Assert.Equal(24.0 / 60 * 2, Shows(survey.Machine.NodeCalled("Z1-J1·1")!, "", MeterMode.DcAmps, _running).Value!.Value, 1);
        Assert.Null(survey.Machine.NodeCalled("Z9-J1·1"));
        // With a fault each mode shows the fault: nothing conducts any more through a broken wire, or a fuse that a short blew.
        var way = new ReadingPlace(survey.Machine.NodeCalled("Z1-F1·1")!, survey.Machine.NodeCalled("Z1-F1·2")!, MeterMode.Diode, off, "");
        var blown = survey.Faults.Single(f => f.Id == "Z1-F1/1");
        Assert.False(survey.Between(way, null, 10e6).IsOpen);
        Assert.True(survey.Between(way, blown, 10e6).Value is null or > 0.1);
        Assert.All(survey.Faults, f => Assert.NotNull(survey.Between(way, f, 10e6)));
    }

    [Fact]
    public void An_insulation_tester_finds_a_leak_and_is_refused_on_what_is_live()
    {
        var survey = Survey([.. _usual, "bond|Z2-J2·2 to Z2-J1·2|bond"]);
        var (off, plus) = (OperatingState.Usual[0], survey.Machine.NodeCalled("PS·+")!);
        var leak = survey.Faults.First(f => f.Kind == FaultKind.LeakToChassis && f.Size == 5000);
        MeterShows Shows(MachineFault? fault, OperatingState state) =>
            survey.Between(new ReadingPlace(plus, Circuit.Reference, MeterMode.Insulation, state, ""), fault, 10e6);
        // Both loads lie between them: 60 Ω each, in parallel.
        Assert.InRange(Shows(null, off).Value!.Value, 29, 31);
        Assert.Contains("dead", Shows(null, _running).Words, StringComparison.Ordinal);
        Assert.Null(Shows(null, _running).Value);
        // With the loads' row away nothing but the leak conducts.
        var bare = Survey(["PS||supply 24 V", "bond|Z2-J2·2 to Z2-J1·2|bond"]);
        var place = new ReadingPlace(bare.Machine.NodeCalled("PS·+")!, Circuit.Reference, MeterMode.Insulation, off, "");
        Assert.Equal("above 500 MΩ", bare.Between(place, null, 10e6).Written("Ω"));
        Assert.InRange(bare.Between(place, bare.Faults.First(f => f.Id == leak.Id), 10e6).Value!.Value, 4999, 5001);
    }

    [Fact]
    public void What_alternates_behind_a_rectifier_is_more_to_a_true_rms_meter_than_to_one_that_averages()
    {
        string[] rows =
        [
            "PS||mains 24 V",
            "bridge|Z1-J1·1, Z1-J1·2, \"plus\", \"minus\"|rectifier",
            "load 1|\"plus\" to \"minus\"|resistor 24 Ω",
        ];
        var survey = Survey(rows);
        static MeterShows Shows(CircuitSurvey of, MeterMode mode) =>
            of.Between(new ReadingPlace("\"plus\"", "\"minus\"", mode, _running, ""), null, 10e6);
        var mean = Shows(survey, MeterMode.DcVolts).Value!.Value;
        Assert.InRange(mean, 17, 21);
        // Of both half-waves of a sine: 48.34 % of the mean by root mean square (form factor 1.1107: handbook), by hand below.
        var alternating = Shows(survey, MeterMode.AcVolts);
        Assert.Equal(0.48343 * mean, alternating.Value!.Value, 3);
        // The mean of |sin - 2/π| over a half-wave, by adding up, times π/(2√2).
        var steps = Enumerable.Range(0, 200_000).Select(i => Math.PI * (i + 0.5) / 200_000);
        var averaged = steps.Average(x => Math.Abs(Math.Sin(x) - (2 / Math.PI))) * Math.PI / (2 * Math.Sqrt(2)) / (2 / Math.PI);
        Assert.Contains($"averages shows {Shown.Number(averaged * mean, Unit.Volts).Words}", alternating.Words, StringComparison.Ordinal);
        // With a capacitor, or a motor that turns, it is no half-wave any more.
        Assert.Null(Shows(Survey([.. rows, "C1|\"plus\" to \"minus\"|capacitor 1000 µF"]), MeterMode.AcVolts).Value);
    }

    [Fact]
    public void Ohms_across_a_board_are_a_range_and_not_said_to_be_open()
    {
        var survey = Survey("PS||supply 24 V", "board|Z1-J2·1 to Z1-J2·2|board 24 V 100 mA");
        var place = new ReadingPlace(
            survey.Machine.NodeCalled("Z1-J2·1")!,
            survey.Machine.NodeCalled("Z1-J2·2")!,
            MeterMode.Ohms,
            OperatingState.Usual[0],
            ""
        );
        var shows = survey.Between(place, null, 10e6);
        Assert.False(shows.IsOpen);
        Assert.StartsWith("240 Ω to ", shows.Written("Ω"), StringComparison.Ordinal);
    }

    [Fact]
    public void A_residual_current_breaker_takes_with_it_what_it_feeds_and_trips_where_the_neutral_is_earthed_behind_it()
    {
        string[] rows =
        [
            "PS||mains 230 V",
            "RCD1|PS·+, \"l\", PS·-, \"n\"|residual-current breaker 25 A",
            "heater|\"l\" to \"n\"|heater 230 V 2 kW",
            "bond|PS·- to Z2-J2·2|bond",
        ];
        var survey = Survey(rows);
        Assert.Empty(survey.Machine.Problems);
        Assert.Empty(survey.Doubts);
        Assert.Equal(["heater"], WhatItProves.Of(survey).Fuses.Single(f => f.Fuse == "RCD1").Takes);
        Assert.Contains(survey.Faults, f => f.Words == "RCD1 does not stay on");
        var wrong = Survey([.. rows, "second bond|\"n\" to Z2-J2·2|bond"]);
        Assert.Contains(wrong.Doubts, d => d.Words.StartsWith("RCD1 would trip in ", StringComparison.Ordinal));
        // In and out of one pole alone is no such device.
        var half = MachineCircuit.Of(With([], "PS||mains 230 V", "RCD1|PS·+, \"l\"|residual-current breaker 25 A"));
        Assert.Contains("of each pole, the neutral's too, in and out", Assert.Single(half.Problems).Words, StringComparison.Ordinal);
    }

    [Fact]
    public void An_output_with_a_delay_closes_last_and_the_machine_says_when_it_rests()
    {
        var circuit = MachineCircuit.Of(
            With(
                [],
                [
                    "PS||supply 24 V",
                    "late|Z1-J2·1 to \"m\"|output|running after 3 s",
                    "soon|Z1-J2·1 to \"n\"|output|running",
                    "load 1|\"m\" to Z1-J2·2|resistor 60 Ω",
                    "load 2|\"n\" to Z1-J2·2|resistor 60 Ω",
                ]
            )
        );
        Assert.Empty(circuit.Problems);
        Assert.Equal(["soon", "late"], circuit.ActsTo(_running).Select(a => a.Switch));
        Assert.Equal((3, 0), (circuit.SecondsTo(_running), circuit.SecondsTo(OperatingState.Usual[0])));
        // On what it sees, the delay runs from when that is so.
        var sees = MachineCircuit.Of(
            With(
                [],
                [
                    "PS||supply 24 V",
                    "late|Z1-J2·1 to \"m\"|output|always if Z1-J2·1 > 18 V after 500 ms",
                    "load 1|\"m\" to Z1-J2·2|resistor 60 Ω",
                ]
            )
        );
        Assert.Empty(sees.Problems);
        Assert.Equal(0.5, sees.SecondsTo(_running));
        Assert.True(sees.PointsTo(_running)[^1].Amps("load 1") > 0.3);
    }

    [Fact]
    public void A_supply_without_a_load_reads_its_volts()
    {
        var survey = Survey("PS||supply 24 V, at most 3 A");
        Assert.Equal(24, At(survey, "PS·+").Expected.Shown.Value, 6);
        Assert.Equal(24, At(survey, "Z2-J2·1").Expected.Shown.Value, 6);
        var none = survey.Faults.Single(f => f.Id == "PS/7");
        Assert.Equal(0, survey.Faulty(none)[survey.Rows.ToList().IndexOf(At(survey, "PS·+"))].Value, 3);
    }

    /// <summary>A wire of 1.5 mm² loses 13.3 mΩ a metre (IEC 60228, from memory), at what flows there; a contact 0.2 V more.</summary>
    [Theory]
    [InlineData("1.3", VerdictKind.Within, "as expected: 1.21 V are lost there at 756 mA")]
    [InlineData("1.3 no load", VerdictKind.NotJudged, "without load")]
    [InlineData("2.4", VerdictKind.High, "a high contact at")]
    [InlineData("2.4 at 1.5 A", VerdictKind.Within, "at 1.5 A")]
    [InlineData("1.75 at 80 °C", VerdictKind.Within, "copper at 80 °C")]
    [InlineData("23.8", VerdictKind.High, "open between")]
    public void A_drop_is_held_against_length_gauge_and_current(string typed, VerdictKind kind, string says)
    {
        var machine = With([], "PS||supply 24 V", "long wire|PS·+ to Z1-J1·1|wire 1.5 mm² 120 m", _usual[1], _usual[2]);
        var reading = Sample.Reading(1, "p1", typed) with { CheckKey = null, Red = Probe.At("ps", "plus"), Black = Probe.At("z1", "j1-1") };
        var verdict = FeedDrop.Of(reading, machine, FeedDrop.Copper(machine))!.Verdict((NumberReading)reading.Value!);
        Assert.Equal(kind, verdict.Kind);
        Assert.Contains(says, verdict.Reason, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("0.02", VerdictKind.Within, "along the return, at most 0.3 V; 27.8 mV by the circuit at 795 mA")]
    [InlineData("0.02 no load", VerdictKind.NotJudged, "without load")]
    [InlineData("0.9", VerdictKind.High, "more than 0.3 V under load; 27.8 mV by the circuit")]
    public void A_drop_along_the_return_says_what_is_lost_there(string typed, VerdictKind kind, string says)
    {
        var machine = With([], _usual);
        var reading = Sample.Reading(1, "p1", typed) with
        {
            CheckKey = null,
            Limit = null,
            Red = Probe.At("z1", "j1-2"),
            Black = Probe.At("ps", "minus"),
        };
        var extra = Assert.Single(RoundSheet.Of(machine, Core.Wiring.FeedGraph.Of(machine), [reading]).Extras);
        Assert.Equal(kind, extra.Verdict.Kind);
        Assert.Contains(says, extra.Verdict.Reason, StringComparison.Ordinal);
    }

    private static Shown Reads(CircuitSurvey survey, string red, string black, MeterMode mode, int state, MachineFault? fault = null) =>
        survey.Shows(new ReadingPlace(red, black, mode, OperatingState.Usual[state], ""), fault);

    [Fact]
    public void A_fuse_that_blows_in_one_state_is_blown_in_all_of_them()
    {
        var survey = Survey("PS||supply 24 V", "out 1|Z1-F1·2 to Z1-J2·1|output|running", _usual[1], _usual[2]);
        var shorted = survey.Faults.Single(f => f.Id == "load 1/2");
        Assert.Equal(24, Reads(survey, "Z1-F1·2", Circuit.Reference, MeterMode.DcVolts, 1).Value, 1);
        // In standby nothing flows that could blow it: it blew while it ran.
        Assert.Equal(0, Math.Abs(Reads(survey, "Z1-F1·2", Circuit.Reference, MeterMode.DcVolts, 1, shorted).Value), 2);
        Assert.Equal(ShownKind.Open, Reads(survey, "Z1-F1·1", "Z1-F1·2", MeterMode.Ohms, 0, shorted).Kind);
        Assert.Contains("Z1-F1 blows", survey.Consequences(_running, shorted));
    }

    /// <summary>A board is no resistor to a meter; that it is not shorted is all that is found.</summary>
    [Fact]
    public void Of_a_board_a_dead_meter_finds_no_more_than_that_it_is_not_shorted()
    {
        var survey = Survey("PS||supply 24 V", "logic|Z1-J2·1 to Z1-J2·2|board 24 V 100 mA", _usual[2]);
        // 240 Ω at its volts, 60 Ω of the other load beside it.
        var shown = Reads(survey, "Z1-J2·1", "Z1-J2·2", MeterMode.Ohms, 0);
        Assert.Equal((ShownKind.AtLeast, 48.0), (shown.Kind, Math.Round(shown.Value)));
        var shorted = Reads(survey, "Z1-J2·1", "Z1-J2·2", MeterMode.Ohms, 0, survey.Faults.Single(f => f.Id == "logic/2"));
        Assert.True(shorted is { Kind: ShownKind.Number, Value: < 0.1 }, shorted.Words);
        Assert.Equal(0, Shown.Apart(shown, Shown.Number(5000, Unit.Ohms)));
        Assert.True(Shown.Apart(shown, Shown.Number(1, Unit.Ohms)) > 10);
    }

    [Fact]
    public void Behind_a_diode_that_nothing_draws_through_the_meter_itself_draws_enough()
    {
        var survey = Survey("PS||supply 24 V", "blocking diode|Z1-F1·2 to Z1-J2·1|diode");
        Assert.InRange(Reads(survey, "Z1-J2·1", Circuit.Reference, MeterMode.DcVolts, 2).Value, 23.2, 24);
        var blown = survey.Faults.Single(f => f.Id == "Z1-F1/1");
        Assert.Equal(ShownKind.Floats, Reads(survey, "Z1-J2·1", Circuit.Reference, MeterMode.DcVolts, 2, blown).Kind);
    }

    [Fact]
    public void A_part_called_a_feed_has_its_faults_as_any_other()
    {
        var survey = Survey("PS||supply 24 V", "lamp feed|Z1-J2·1 to Z1-J2·2|resistor 60 Ω");
        Assert.Contains(survey.Faults, f => f.Part == "lamp feed" && f.Kind == FaultKind.Open);
    }

    [Fact]
    public void What_a_fuse_feeds_may_be_shorted_though_no_part_of_it_is()
    {
        var survey = Survey(_usual);
        var behind = survey.Faults.Single(f => f.Part == MachineCircuit.Behind("Z1-F1") && f.Size < 1);
        Assert.Contains("Z1-F1 blows", survey.Consequences(_running, behind));
        Assert.InRange(Reads(survey, "Z1-F1·2", Circuit.Reference, MeterMode.Ohms, 0, behind).Value, 0.05, 0.2);
    }

    [Theory]
    [InlineData("", "load 1|Z1-J2·1 to Z1-J2·2|resistor 60 Ω")]
    [InlineData("lamp would get 23", "lamp|Z1-J2·1 to Z1-J2·2|lamp 5 V 1 W")]
    [InlineData("far lamp would get nothing in any state", "far lamp|Z1-J1·2 to Z1-J2·2|lamp 24 V 5 W")]
    [InlineData("Z1-F1 would blow in standby", "heater|Z1-F1·2 to Z1-J1·2|heater 24 V 500 W")]
    [InlineData("", "coil|Z1-J2·1 to Z1-J2·2|coil 52 Ω")]
    [InlineData("coil would get 4.5", "series|Z1-J2·1 to \"m\"|resistor 220 Ω;coil|\"m\" to Z1-J2·2|coil 52 Ω")]
    [InlineData("", "series|Z1-J2·1 to \"m\"|resistor 220 Ω;bleeder|\"m\" to Z1-J2·2|resistor 52 Ω")]
    public void A_wiring_that_cannot_be_right_is_said(string doubt, string row)
    {
        var survey = Survey(["PS||supply 24 V", .. row.Split(';')]);
        if (doubt.Length == 0)
        {
            Assert.Empty(survey.Doubts);
        }
        else
        {
            Assert.Contains(survey.Doubts, d => d.Words.StartsWith(doubt, StringComparison.Ordinal));
        }
    }
}
