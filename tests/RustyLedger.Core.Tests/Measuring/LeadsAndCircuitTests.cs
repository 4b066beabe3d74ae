using CsCheck;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>What the leads add, and what ohms read in circuit can say.</summary>
public sealed class LeadsAndCircuitTests
{
    private static readonly ResolvedMachine OneOhm = WithOhms("1 Ω ±20 %", plugged: null);

    /// <summary>The sample with one check in ohms, at its first pin.</summary>
    private static ResolvedMachine WithOhms(string limit, bool? plugged) =>
        Sample.Resolved(
            Sample.Machine with
            {
                Checks =
                [
                    new(
                        "own",
                        CheckTarget.Pair,
                        Probe.At("z1", "f1-1"),
                        Probe.At("z1", "f1-2"),
                        "",
                        MeterMode.Ohms,
                        "off",
                        plugged,
                        LimitNotation.ReadOne(limit, MeterMode.Ohms).Limit,
                        ""
                    ),
                ],
            }
        );

    private static Entry Ohms(ResolvedMachine machine, long order, string typed) => Sample.Reading(order, "own", typed, machine.Machine);

    private static Entry Leads(long order, string typed) =>
        new(
            $"leads{order}",
            order,
            EntryKind.LeadZero,
            null,
            null,
            null,
            MeterMode.Ohms,
            "off",
            null,
            DefaultTolerance.Usual,
            ReadingNotation.Read(typed, MeterMode.Ohms).Choices[0],
            null,
            ""
        );

    private static RoundSheet Sheet(ResolvedMachine machine, params Entry[] entries) =>
        RoundSheet.Of(machine, FeedGraph.Of(machine), entries);

    private static Entry Own(RoundSheet sheet) => sheet.Rows.Single(r => r.Check.Key == "own").Reading!;

    /// <summary>The trade's own case: a good 1 ohm resistor shows 1.4 with leads of three or four tenths.</summary>
    [Fact]
    public void A_good_resistor_is_good_once_the_leads_are_taken_off()
    {
        Assert.Equal(VerdictKind.High, Own(Sheet(OneOhm, Ohms(OneOhm, 2, "1.4"))).Verdict.Kind);
        var sheet = Sheet(OneOhm, Leads(1, "0.3"), Ohms(OneOhm, 2, "1.4"));
        var verdict = Own(sheet).Verdict;
        Assert.Equal(VerdictKind.Within, verdict.Kind);
        Assert.Contains("1.1 Ω, which is 1.4 Ω less 0.3 Ω of the leads", verdict.Reason, StringComparison.Ordinal);
        Assert.Equal("leads1", sheet.Leads!.Id);
    }

    [Fact]
    public void Taken_back_every_reading_stands_as_it_was_read()
    {
        var back = Leads(3, "0.3") with { Id = "back", Kind = EntryKind.Retracted, Value = null, Target = "leads1" };
        var sheet = Sheet(OneOhm, Leads(1, "0.3"), Ohms(OneOhm, 2, "1.4"), back);
        Assert.Null(sheet.Leads);
        Assert.Equal(Own(sheet).Value, Own(sheet).Counted);
        Assert.Equal(VerdictKind.High, Own(sheet).Verdict.Kind);
    }

    [Fact]
    public void Leads_speak_for_what_is_read_after_them_and_only_where_they_matter()
    {
        Assert.Equal(VerdictKind.High, Own(Sheet(OneOhm, Ohms(OneOhm, 1, "1.4"), Leads(2, "0.3"))).Verdict.Kind);
        Assert.Equal(new NumberReading(12m, Unit.Ohms), LeadZero.Off(new NumberReading(12m, Unit.Ohms), 0.3m));
        Assert.Equal(new NumberReading(0m, Unit.Ohms), LeadZero.Off(new NumberReading(0.2m, Unit.Ohms), 0.3m));
        Assert.Equal(new NumberReading(-1m, Unit.Ohms), LeadZero.Off(new NumberReading(-1m, Unit.Ohms), 0.3m));
    }

    [Theory]
    [InlineData("1 Ω ±20 %", true)]
    [InlineData("at most 0.5 Ω", true)]
    [InlineData(">= 25 Ω", false)]
    [InlineData("470 Ω ±5 %", false)]
    public void Leads_are_asked_for_where_few_ohms_are_expected(string limit, bool asks) =>
        Assert.Equal(asks, LeadZero.MattersTo(WithOhms(limit, null).Checks.Single(c => c.Key == "own")));

    [Theory]
    [InlineData("0.3", null)]
    [InlineData("0", null)]
    [InlineData("4", "too much")]
    [InlineData("OL", "do not touch")]
    public void What_no_leads_read_is_refused(string typed, string? says)
    {
        var refusal = LeadZero.Refusal(ReadingNotation.Read(typed, MeterMode.Ohms).Choices[0]);
        Assert.Equal(says is null, refusal is null);
        Assert.Contains(says ?? "", refusal?.Problem ?? "", StringComparison.Ordinal);
    }

    /// <summary>
    /// In circuit: above its band convicts, below accuses nobody. Ohm's and Kirchhoff's laws; the words are common practice, no source.
    /// </summary>
    [Theory]
    [InlineData("100 Ω ±5 %", "120", VerdictKind.High, "nothing reads higher")]
    [InlineData("100 Ω ±5 %", "OL", VerdictKind.High, "no path")]
    [InlineData("100 Ω ±5 %", "40", VerdictKind.NotJudged, "lift a leg")]
    [InlineData("100 Ω ±5 %", "40", VerdictKind.NotJudged, "it is not shorted")]
    [InlineData("100 Ω ±5 %", "1", VerdictKind.NotJudged, "lift a leg")]
    [InlineData("100 Ω ±5 %", "100", VerdictKind.Within, "at least that")]
    [InlineData("100 Ω ±5 %", "-5", VerdictKind.NotJudged, "a voltage is present")]
    [InlineData("short", "1", VerdictKind.Within, "at most 2")]
    public void Ohms_in_circuit_convict_only_from_above(string limit, string typed, VerdictKind expected, string says)
    {
        var machine = WithOhms(limit, plugged: true);
        var verdict = Own(Sheet(machine, Ohms(machine, 1, typed))).Verdict;
        Assert.Equal(expected, verdict.Kind);
        Assert.Contains(says, verdict.Reason, StringComparison.Ordinal);
    }

    /// <summary>Of an insulation more than the tester shows is good; of a coil it is open.</summary>
    [Theory]
    [InlineData(MeterMode.Insulation, VerdictKind.Within)]
    [InlineData(MeterMode.Ohms, VerdictKind.High)]
    public void More_than_the_tester_shows_is_good_of_an_insulation_alone(MeterMode mode, VerdictKind expected) =>
        Assert.Equal(
            expected,
            (Ohms(OneOhm, 1, "OL") with { Mode = mode, Limit = LimitNotation.ReadOne(">= 1 MΩ", mode).Limit }).Verdict.Kind
        );

    [Fact]
    public void Lifted_a_low_reading_convicts() =>
        Assert.Equal(VerdictKind.Low, Own(Sheet(WithOhms("100 Ω ±5 %", false), Ohms(WithOhms("100 Ω ±5 %", false), 1, "40"))).Verdict.Kind);

    /// <summary>
    /// Random nets of resistors, solved by nodal analysis here and nowhere in the project: what is read across a part is never above the
    /// part, a good part is never convicted, and the bound holds the part's true ohms.
    /// </summary>
    [Fact]
    public void In_random_nets_no_good_part_is_convicted_and_the_bound_holds() =>
        Gen.Select(Gen.Int[2, 7], Gen.Int[1, 1_000_000])
            .Sample(
                (nodes, seed) =>
                {
                    var random = new Random(seed);
                    List<(int A, int B, double Ohms)> net = [];
                    for (var i = 0; i < nodes * 2; i++)
                    {
                        var (a, b) = (random.Next(nodes), random.Next(nodes));
                        if (a != b)
                        {
                            net.Add((a, b, Math.Round(Math.Pow(10, 1 + (random.NextDouble() * 4)), 1)));
                        }
                    }

                    foreach (var (index, part) in net.Index())
                    {
                        var read = Across(net, nodes, part.A, part.B);
                        Assert.True(read <= part.Ohms * (1 + 1e-9));
                        var parallel = net.Where((p, i) => i != index && Joins(p, part)).Select(p => p.Ohms).ToList();
                        var (least, most) = InCircuit.Part(read, parallel, isAllKnown: false);
                        Assert.True(least <= part.Ohms * (1 + 1e-6), $"{least} > {part.Ohms}");
                        Assert.Null(most);
                        var limit = new NominalLimit((decimal)part.Ohms, 5m, null, Unit.Ohms, Current.Unstated);
                        var verdict = InCircuit.Verdict(
                            new NumberReading((decimal)Math.Round(read, 4), Unit.Ohms),
                            limit,
                            DefaultTolerance.Usual
                        );
                        Assert.False(verdict.IsOut, $"{part.Ohms} Ω read {read}: {verdict.Reason}");
                    }
                },
                iter: 200
            );

    [Theory]
    [InlineData(50, 100, true, 100, 100d)]
    [InlineData(50, 100, false, 100, null)]
    [InlineData(100, 100, true, 100, null)]
    [InlineData(75, 300, true, 100, 100d)]
    public void What_a_part_can_be_beside_a_known_one(double read, double parallel, bool isAll, double least, double? most)
    {
        var part = InCircuit.Part(read, [parallel], isAll);
        Assert.Equal(least, part.Least, 6);
        Assert.Equal(most.HasValue, part.Most.HasValue);
        Assert.Equal(most ?? 0, part.Most ?? 0, 6);
    }

    private static bool Joins((int A, int B, double Ohms) one, (int A, int B, double Ohms) other) =>
        (one.A == other.A && one.B == other.B) || (one.A == other.B && one.B == other.A);

    /// <summary>Ohms between two nodes: one ampere in at one, out at the other, by Gaussian elimination.</summary>
    private static double Across(List<(int A, int B, double Ohms)> net, int nodes, int from, int to)
    {
        var matrix = new double[nodes, nodes + 1];
        foreach (var (a, b, ohms) in net)
        {
            matrix[a, a] += 1 / ohms;
            matrix[b, b] += 1 / ohms;
            matrix[a, b] -= 1 / ohms;
            matrix[b, a] -= 1 / ohms;
        }

        matrix[from, nodes] += 1;
        // The far node is earth; what hangs on neither takes earth too.
        for (var c = 0; c <= nodes; c++)
        {
            matrix[to, c] = c == to ? 1 : 0;
        }

        for (var i = 0; i < nodes; i++)
        {
            var pivot = Enumerable.Range(i, nodes - i).MaxBy(r => Math.Abs(matrix[r, i]));
            if (Math.Abs(matrix[pivot, i]) < 1e-12)
            {
                matrix[i, i] = 1;
                continue;
            }

            for (var c = 0; c <= nodes; c++)
            {
                (matrix[i, c], matrix[pivot, c]) = (matrix[pivot, c], matrix[i, c]);
            }

            for (var r = 0; r < nodes; r++)
            {
                if (r != i)
                {
                    var times = matrix[r, i] / matrix[i, i];
                    for (var c = i; c <= nodes; c++)
                    {
                        matrix[r, c] -= times * matrix[i, c];
                    }
                }
            }
        }

        return matrix[from, nodes] / matrix[from, from];
    }
}
