using System.Diagnostics;
using System.Globalization;
using System.Text;
using RustyLedger.Core.Circuits;

namespace RustyLedger.Bench;

/// <summary>
/// A thousand nodes solved and every single fault predicted at three hundred of them, against ngspice on the same circuit: one process
/// that alters it once per fault and writes the same pins, and, from a sample, one process per fault.
/// </summary>
internal static class CircuitBench
{
    private const int Boards = 100;
    private const int NodesPerBoard = 10;
    private const int Points = 300;
    private const int Sample = 200;

    public static void Run()
    {
        var circuit = Chain();
        var watch = Stopwatch.StartNew();
        var healthy = OperatingPoint.Of(circuit);
        Console.WriteLine($"{"nodes", -60} {circuit.Nodes.Count, 10}");
        Console.WriteLine($"{"solved the first time, ms", -60} {watch.Elapsed.TotalMilliseconds, 10:0.0}");
        // Once more, compiled.
        var before = GC.GetAllocatedBytesForCurrentThread();
        watch.Restart();
        healthy = OperatingPoint.Of(circuit);
        Console.WriteLine($"{"solved, ms", -60} {watch.Elapsed.TotalMilliseconds, 10:0.0}");
        List<string> pins = [.. circuit.Nodes.Take(Points)];
        var faults = CircuitFaults.Of(circuit);
        (FaultPrediction Prediction, double Sum) Predicted()
        {
            var prediction = new FaultPrediction([healthy]);
            var sum = 0.0;
            foreach (var fault in faults)
            {
                var point = prediction.Of(fault);
                sum += pins.Sum(p => point.Volts(p) ?? 0);
            }

            return (prediction, sum);
        }

        watch.Restart();
        Predicted();
        Console.WriteLine($"{"single faults predicted", -60} {faults.Count, 10}");
        Console.WriteLine($"{"all of them the first time, ms", -60} {watch.Elapsed.TotalMilliseconds, 10:0}");
        // Once more, compiled.
        before = GC.GetAllocatedBytesForCurrentThread();
        watch.Restart();
        var (prediction, sum) = Predicted();
        var own = watch.Elapsed;
        Console.WriteLine($"{"systems factored anew", -60} {prediction.Factored, 10}");
        Console.WriteLine($"{"all of them, ms", -60} {own.TotalMilliseconds, 10:0}");
        Console.WriteLine($"{"allocated, MB", -60} {(GC.GetAllocatedBytesForCurrentThread() - before) / 1024 / 1024, 10}");
        Console.WriteLine($"{"process, MB", -60} {Process.GetCurrentProcess().PeakWorkingSet64 / 1024 / 1024, 10}");
        Console.WriteLine($"{"checksum of the volts", -60} {sum.ToString("G9", CultureInfo.InvariantCulture), 10}");
        // A sample of the faults, spread over all of them: the whole takes ngspice a quarter of an hour.
        List<CircuitFault> sample = [.. faults.Where((_, i) => i % (faults.Count / Sample) == 0).Take(Sample)];
        if (Ngspice(circuit, healthy, pins, sample) is { } some)
        {
            var there = some * faults.Count / sample.Count;
            Console.WriteLine($"{$"ngspice, one process that alters it (from {Sample}), ms", -60} {there.TotalMilliseconds, 10:0}");
            Console.WriteLine($"{"  times as long", -60} {there / own, 10:0.0}");
            var one = OneProcess(circuit, healthy);
            Console.WriteLine($"{"ngspice, one process per fault (from five), ms", -60} {one.TotalMilliseconds * faults.Count, 10:0}");
            Console.WriteLine($"{"  times as long", -60} {one * faults.Count / own, 10:0.0}");
        }
    }

    /// <summary>Boards fed one from the other through contacts and wires, each with loads, LEDs and a relay.</summary>
    private static Circuit Chain()
    {
        List<CircuitElement> elements = [new VoltageSource("PS", "Z0-J2·1", "0", 28, 0.02)];
        for (var b = 1; b <= Boards; b++)
        {
            string Pin(int i) => $"Z{b}-J1·{i}";
            elements.Add(new Resistance($"W{b}", $"Z{b - 1}-J2·1", Pin(1), 0.004));
            elements.Add(new Resistance($"P{b}", Pin(1), $"Z{b}-J2·1", 0.003));
            elements.Add(new Fuse($"F{b}", Pin(1), Pin(2), 3, 0.03));
            elements.Add(new Resistance($"R{b}", Pin(2), Pin(3), 2200));
            elements.Add(new Diode($"D{b}", Pin(3), "0", 1.8, 12));
            elements.Add(new Resistance($"A{b}", Pin(2), Pin(4), 470));
            elements.Add(new Resistance($"B{b}", Pin(4), "0", 680));
            elements.Add(new RelayCoil($"K{b}", Pin(2), "0", 1200, 14, 5));
            elements.Add(new RelayContact($"K{b}.1", $"K{b}", Pin(2), Pin(5), true, 0.02));
            elements.Add(new Resistance($"M{b}", Pin(5), Pin(6), 300));
            elements.Add(new Resistance($"E{b}", Pin(6), "0", 0.05));
            for (var i = 7; i < NodesPerBoard; i++)
            {
                elements.Add(new Resistance($"S{b}.{i}", Pin(i), Pin(4), 10_000));
                elements.Add(new Resistance($"T{b}.{i}", Pin(i), "0", 15_000));
            }
        }

        return new Circuit(elements);
    }

    private static TimeSpan? Ngspice(Circuit circuit, OperatingPoint healthy, List<string> pins, IReadOnlyList<CircuitFault> faults)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-bench-ngspice-").FullName;
        var index = circuit.Elements.Index().ToDictionary(e => e.Item.Name, e => e.Index + 1);
        var control = new StringBuilder(".options reltol=1e-6\n.control\nset filetype=binary\nset appendwrite\n");
        var nodes = string.Join(' ', pins.Select(p => $"v({SpiceWriter.Node(circuit, p)})"));
        foreach (var fault in faults)
        {
            // What it alters is one value; a diode, which has none of that kind, is solved as it is.
            var ohms = fault.Faulted switch
            {
                Resistance r => r.Ohms,
                Fuse f => f.Ohms,
                RelayCoil c => c.Ohms,
                RelayContact c => c.Ohms,
                _ => -1,
            };
            string Written(double value) => double.IsPositiveInfinity(value) ? "1e12" : value.ToString("R", CultureInfo.InvariantCulture);
            if (ohms >= 0)
            {
                var was = circuit[fault.Element] switch
                {
                    Resistance r => r.Ohms,
                    Fuse f => f.Ohms,
                    RelayCoil c => c.Ohms,
                    RelayContact c => c.Ohms,
                    _ => 0,
                };
                control.Append(
                    CultureInfo.InvariantCulture,
                    $"alter R{index[fault.Element]} {Written(ohms)}\nop\nwrite pins.raw {nodes}\n"
                );
                control.Append(CultureInfo.InvariantCulture, $"alter R{index[fault.Element]} {Written(was)}\ndestroy\n");
            }
            else
            {
                control.Append(CultureInfo.InvariantCulture, $"op\nwrite pins.raw {nodes}\ndestroy\n");
            }
        }

        control.Append("quit\n.endc\n");
        File.WriteAllText(Path.Combine(folder, "all.cir"), SpiceWriter.Write(circuit, healthy.States, "bench", control.ToString()));
        return Timed(folder, "all.cir");
    }

    private static TimeSpan OneProcess(Circuit circuit, OperatingPoint healthy)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-bench-ngspice-").FullName;
        File.WriteAllText(Path.Combine(folder, "one.cir"), SpiceWriter.Write(circuit, healthy.States, "bench", ".op"));
        return Enumerable.Range(0, 5).Select(_ => Timed(folder, "one.cir") ?? TimeSpan.Zero).Order().ElementAt(2);
    }

    /// <returns>Null where there is no ngspice here.</returns>
    private static TimeSpan? Timed(string folder, string file)
    {
        try
        {
            var watch = Stopwatch.StartNew();
            using var process = Process.Start(
                new ProcessStartInfo("ngspice", ["-b", file])
                {
                    WorkingDirectory = folder,
                    RedirectStandardOutput = true,
                    RedirectStandardError = true,
                }
            )!;
            _ = process.StandardError.ReadToEndAsync();
            process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            return watch.Elapsed;
        }
        catch (System.ComponentModel.Win32Exception)
        {
            Console.WriteLine("There is no ngspice here to hold it against.");
            return null;
        }
    }
}
