using System.Collections.Concurrent;
using RustyLedger.Technicians;
using All = RustyLedger.Technicians.Technicians;

namespace RustyLedger.Bench;

/// <summary>
/// Simulated technicians at true machines that ngspice answers for: how often what is proved is what is at fault, stratum by stratum, and
/// in how many minutes, beside other orders of the same acts.
/// </summary>
internal static class TechnicianBench
{
    private const int Usual = 25;

    /// <param name="args">
    /// How many seeds a machine; then names of strata, orders and machines, <c>tune</c> for the seeds that may be tuned by alone, and
    /// <c>log</c> for every visit.
    /// </param>
    public static void Run(IReadOnlyList<string> args)
    {
        var count = args.Count > 0 && int.TryParse(args[0], out var many) ? many : Usual;
        var words = args.Skip(1).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var seeds = Enumerable.Range(0, count).Where(s => !words.Contains("tune") || !All.IsHeldOut(s)).ToList();
        bool IsAsked<T>(T of, IEnumerable<T> all) => words.Contains($"{of}") || !all.Any(a => words.Contains($"{a}"));
        var strata = Enum.GetValues<Stratum>().Where(s => IsAsked(s, Enum.GetValues<Stratum>())).ToList();
        var machines = All.Machines.Where(m => IsAsked(m, All.Machines)).ToList();
        var orders = Enum.GetValues<Order>().Where(o => IsAsked(o, Enum.GetValues<Order>())).ToList();
        var visits = new List<(Stratum Stratum, Order Order, SimulatedVisit Visit)>();
        Parallel.ForEach(
            // One at a time to each lane, the largest first.
            Partitioner.Create(machines.OrderByDescending(m => m == "ly-04"), EnumerablePartitionerOptions.NoBuffering),
            new ParallelOptions { MaxDegreeOfParallelism = 2 },
            machine =>
            {
                var technician = new Technician(
                    Path.Combine(AppContext.BaseDirectory[..AppContext.BaseDirectory.IndexOf("tests", StringComparison.Ordinal)], "demo"),
                    machine
                );
                foreach (var stratum in strata.Where(technician.Can))
                {
                    foreach (var order in orders.Where(o => o == Order.Ledger || stratum == Stratum.AsModelled || strata.Count == 1))
                    {
                        foreach (var seed in seeds)
                        {
                            var visit = technician.Visit(stratum, seed, order);
                            lock (visits)
                            {
                                visits.Add((stratum, order, visit));
                            }

                            if (words.Contains("log"))
                            {
                                Tell(stratum, visit);
                            }
                        }
                    }
                }
            }
        );

        Console.WriteLine(All.Head);
        foreach (var stratum in strata)
        {
            var of = visits.Where(v => v.Stratum == stratum && v.Order == Order.Ledger).Select(v => v.Visit).ToList();
            if (of.Count == 0)
            {
                continue;
            }

            if (stratum is not (Stratum.Outside or Stratum.Foreign))
            {
                Console.WriteLine(All.Line($"{stratum}", of));
            }
            else
            {
                foreach (
                    var (reads, some) in new[]
                    {
                        ("nothing", of.FindAll(v => !v.ReadsAsListed)),
                        ("something", of.FindAll(v => v.ReadsAsListed)),
                    }
                )
                {
                    if (some.Count > 0)
                    {
                        Console.WriteLine(All.Line($"{stratum}, reads as {reads} listed", some));
                    }
                }
            }

            if (of.Exists(v => All.IsHeldOut(v.Seed)))
            {
                Console.WriteLine(All.Line($"{stratum}, held out", [.. of.Where(v => All.IsHeldOut(v.Seed))]));
            }
        }

        foreach (var stratum in strata.Where(s => s is Stratum.AsModelled or Stratum.OtherNumbers))
        {
            Console.WriteLine($"\n{stratum}\n");
            Console.WriteLine(
                All.Calibration([.. visits.Where(v => v.Stratum == stratum && v.Order == Order.Ledger).Select(v => v.Visit)])
            );
        }

        Console.WriteLine(All.Head);
        foreach (var order in orders)
        {
            var of = visits
                .Where(v => v.Order == order && (v.Stratum == Stratum.AsModelled || strata.Count == 1))
                .Select(v => v.Visit)
                .ToList();
            if (of.Count > 0)
            {
                Console.WriteLine(All.Line($"{order}", of));
            }
        }
    }

    private static void Tell(Stratum stratum, SimulatedVisit visit)
    {
        var end =
            visit.IsWrong ? "WRONG"
            : visit.IsRight ? "right"
            : visit.Proved.Count > 0 ? "half"
            : "open";
        lock (Console.Out)
        {
            Console.WriteLine(
                FormattableString.Invariant(
                    $"{end} {stratum} {visit.Machine} {visit.Seed} {visit.Share:0.00} {visit.Minutes:0.0} min {visit.Acts} acts: "
                ) + $"{visit.Truth} -> {string.Join(", ", visit.Proved)}"
            );
            if (end != "right")
            {
                foreach (var line in visit.Log)
                {
                    Console.WriteLine($"      {line}");
                }
            }
        }
    }
}
