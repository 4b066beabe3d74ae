using System.Diagnostics;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Bench;

/// <summary>
/// How long it takes to weigh and to rank: 400 hypotheses of ten sizes, 300 readings that can be taken, 20 that were. The last of several
/// rounds is warm.
/// </summary>
internal static class ReasonBench
{
    private const int Hypotheses = 400;
    private const int Sizes = 10;
    private const int Readings = 300;
    private const int Taken = 20;

    public static void Run()
    {
        var model = new Chain();
        var truth = model.Causes[137];
        var found = model
            .Acts.Where((_, i) => i % (Readings / Taken) == 0)
            .Select(a => new Finding(
                a.Id,
                a,
                new ActOutcome(OutcomeKind.Number, model.Predict(truth, 4, a).Value),
                0,
                Showing.Unknown,
                a.Words,
                false
            ))
            .ToList();
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(Empty));
        for (var round = 0; round < 12; round++)
        {
            GC.Collect();
            var before = GC.GetTotalAllocatedBytes(true);
            var watch = Stopwatch.StartNew();
            var posterior = Posterior.Of(model, found);
            var weighed = watch.Elapsed.TotalMilliseconds;
            var suspects = Suspicion.Of(posterior, _ => 30);
            var named = watch.Elapsed.TotalMilliseconds;
            var next = NextActs.Of(model, suspects, found, cost, new NextActRules(School.Fastest, null, RoundMinutes.Usual));
            var ranked = watch.Elapsed.TotalMilliseconds - named;
            var megabytes = (GC.GetTotalAllocatedBytes(true) - before) / 1e6;
            Console.WriteLine($"{Hypotheses} hypotheses of {Sizes} sizes, {Readings} checks, {Taken} taken");
            Console.WriteLine(
                $"  weighed in {weighed:0} ms, named in {named - weighed:0} ms, ranked in {ranked:0} ms, {megabytes:0} MB allocated"
            );
            Console.WriteLine($"  first {suspects[0].Name} at {suspects[0].Share:0.00}, next {next[0].Words}");
        }
    }

    /// <summary>A machine of 1,500 pins in a chain by its wiring, twenty of them read, from half of the way on nothing.</summary>
    public static void RunLarge()
    {
        var large = new MeasuringBench();
        var (machine, graph) = large.Large;
        var cost = RoundPlan.CostOf(RoundMinutes.Usual, RoundRules.Of(machine));
        for (var round = 0; round < 6; round++)
        {
            GC.Collect();
            var watch = Stopwatch.StartNew();
            // Not the one that was kept of the round before.
            var model = MachineDiagnosis.Of(large.Resolve(), graph);
            var made = watch.Elapsed.TotalMilliseconds;
            var reads = model.Acts.Where(a => a.Kind == ActKind.Read).ToList();
            var found = reads
                .Where((_, i) => i % (reads.Count / Taken) == 0)
                .Select(
                    (a, i) =>
                        new Finding(a.Id, a, new ActOutcome(OutcomeKind.Number, i < Taken / 2 ? 24 : 0), i, Showing.Unknown, a.Words, false)
                )
                .ToList();
            var reasoned = Reasoning.Of(model, found, cost, new NextActRules(School.Fastest, null, RoundMinutes.Usual));
            Console.WriteLine(
                $"{machine.Pins.Count} pins, {model.Causes.Count} hypotheses, {model.Acts.Count} acts, {found.Count} read: "
                    + $"made in {made:0} ms, "
                    + $"weighed, named and ranked in {watch.Elapsed.TotalMilliseconds - made:0} ms; first {reasoned.Suspects[0].Name}"
            );
        }
    }

    private static Core.Machines.ResolvedMachine Empty =>
        Core.Machines.ResolvedMachine.Of(
            new Core.Machines.Machine("m", "M", "m", "x", "", "", "", "", "", [], []),
            new Core.Machines.Model("x", "", "", [], [], [], [], []),
            new Dictionary<Core.Id<Core.Boards.BoardType>, Core.Boards.BoardType>()
        );

    /// <summary>Places in a row, each of which may let through a share of what should come.</summary>
    private sealed class Chain : IDiagnosisModel
    {
        public IReadOnlyList<Hypothesis> Causes { get; } =
        [
            .. Enumerable
                .Range(0, Hypotheses)
                .Select(h => new Hypothesis(
                    $"h{h}",
                    CauseKind.Part,
                    $"part {h}",
                    [.. Enumerable.Range(0, Sizes).Select(s => $"lets {s} tenths through")],
                    1 + (h % 5)
                )),
        ];

        public IReadOnlyList<Act> Acts { get; } =
        [
            .. Enumerable
                .Range(0, Readings)
                .Select(r => new Act($"r{r:000}", ActKind.Read, $"read {r}", "", [$"part {r * Hypotheses / Readings}"]) { Span = 48 }),
        ];

        public Prediction Healthy(Act act) => Prediction.Of(24 - (0.01 * At(act)));

        private static int At(Act act) => int.Parse(act.Id[1..], System.Globalization.CultureInfo.InvariantCulture);

        public Prediction Predict(Hypothesis cause, int size, Act act)
        {
            var place = int.Parse(cause.Id[1..], System.Globalization.CultureInfo.InvariantCulture) * Readings / Hypotheses;
            var healthy = Healthy(act).Value;
            return Prediction.Of(At(act) >= place ? healthy * size / Sizes : healthy, 0.2);
        }

        public IReadOnlyList<SharedError> SharedErrors(Act act) => [new("supply", 0.3), new("meter", 0.1), new($"place {act.Id}", 0.08)];

        public Hypothesis? Join(Hypothesis first, Hypothesis second) => null;
    }
}
