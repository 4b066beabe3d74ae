using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>The circuit simulator of Debian, by which this ledger's answers are held; `./ledger test` installs it.</summary>
internal static class Ngspice
{
    /// <summary>Volts of every node at its operating point.</summary>
    public static Dictionary<string, double> Volts(Circuit circuit, IReadOnlyDictionary<string, ElementState> states) =>
        Many([(circuit, states)])[0];

    /// <summary>The same of several circuits, in one process.</summary>
    public static List<Dictionary<string, double>> Many(
        IReadOnlyList<(Circuit Circuit, IReadOnlyDictionary<string, ElementState> States)> all
    ) => Each<double>(all, "op", value => double.TryParse(value, CultureInfo.InvariantCulture, out var volts) ? volts : (double?)null);

    /// <summary>Phasors of every node of several circuits, in one process.</summary>
    public static List<Dictionary<string, Complex>> ManyPhasors(
        IReadOnlyList<(Circuit Circuit, IReadOnlyDictionary<string, ElementState> States)> all,
        double hertz
    ) =>
        Each<Complex>(
            all,
            string.Create(CultureInfo.InvariantCulture, $"ac lin 1 {hertz} {hertz}"),
            value =>
                value.Split(',') is [var real, var imaginary]
                && double.TryParse(real, CultureInfo.InvariantCulture, out var r)
                && double.TryParse(imaginary, CultureInfo.InvariantCulture, out var i)
                    ? new Complex(r, i)
                    : (Complex?)null
        );

    private static List<Dictionary<string, T>> Each<T>(
        IReadOnlyList<(Circuit Circuit, IReadOnlyDictionary<string, ElementState> States)> all,
        string analysis,
        Func<string, T?> read
    )
        where T : struct
    {
        var folder = Directory.CreateTempSubdirectory("ledger-ngspice-").FullName;
        var commands = new List<string> { "* all of them", ".control", "set width=200", "set numdgt=10" };
        foreach (var (i, (circuit, states)) in all.Index())
        {
            File.WriteAllText(
                Path.Combine(folder, $"{i}.cir"),
                SpiceWriter.Write(circuit, states, "a circuit", ".options reltol=1e-6\n.op")
            );
            commands.Add($"source {i}.cir");
            commands.Add(analysis);
            commands.Add($"echo circuit {i}");
            commands.Add("print allv");
            // Else all of them stay in memory.
            commands.Add("destroy all");
            commands.Add("remcirc");
        }

        commands.AddRange(["quit", ".endc", ".end"]);
        File.WriteAllLines(Path.Combine(folder, "all.cir"), commands);
        var said = Run(folder, "all.cir");
        var found = all.Select(_ => new Dictionary<string, T>()).ToList();
        var names = new Dictionary<string, string>();
        var at = -1;
        foreach (var line in said.Split('\n'))
        {
            if (line.StartsWith("circuit ", StringComparison.Ordinal))
            {
                at = int.Parse(line[8..].Trim(), CultureInfo.InvariantCulture);
                names = all[at].Circuit.Nodes.ToDictionary(n => SpiceWriter.Node(all[at].Circuit, n));
            }
            else if (
                at >= 0
                && line.Split('=', StringSplitOptions.TrimEntries) is [var name, var value]
                && names.TryGetValue(name, out var node)
                && read(value) is { } volts
            )
            {
                found[at][node] = volts;
            }
        }

        Directory.Delete(folder, true);
        return found;
    }

    /// <summary>Phasors of every node at one frequency.</summary>
    public static Dictionary<string, Complex> Phasors(Circuit circuit, double hertz)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-ngspice-").FullName;
        var f = hertz.ToString(CultureInfo.InvariantCulture);
        var prints = string.Join('\n', circuit.Nodes.Select(n => SpiceWriter.Node(circuit, n)).Select(n => $"print vr({n}) vi({n})"));
        File.WriteAllText(
            Path.Combine(folder, "ac.cir"),
            SpiceWriter.Write(circuit, circuit.AtRest(), "a circuit", $".control\nset numdgt=10\nac lin 1 {f} {f}\n{prints}\nquit\n.endc")
        );
        var numbers = new Dictionary<string, double>();
        foreach (var line in Run(folder, "ac.cir").Split('\n'))
        {
            if (line.Split('=', StringSplitOptions.TrimEntries) is [var name, var value] && name.StartsWith('v'))
            {
                numbers[name] = double.Parse(value, CultureInfo.InvariantCulture);
            }
        }

        Directory.Delete(folder, true);
        return circuit.Nodes.ToDictionary(
            n => n,
            n => new Complex(numbers[$"vr({SpiceWriter.Node(circuit, n)})"], numbers[$"vi({SpiceWriter.Node(circuit, n)})"])
        );
    }

    /// <summary>What a file that measures one mean says of it.</summary>
    public static double Mean(string circuit) => Measured(circuit)["mean"];

    /// <summary>All that a file measures or prints, by its name.</summary>
    public static Dictionary<string, double> Measured(string circuit)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-ngspice-").FullName;
        File.WriteAllText(Path.Combine(folder, "measured.cir"), circuit);
        var said = Run(folder, "measured.cir");
        Directory.Delete(folder, true);
        var found = new Dictionary<string, double>();
        foreach (var line in said.Split('\n'))
        {
            if (
                line.Split('=', StringSplitOptions.TrimEntries) is [var name, var value, ..]
                && double.TryParse(value.Split(' ')[0], CultureInfo.InvariantCulture, out var number)
            )
            {
                found[name] = number;
            }
        }

        return found;
    }

    private static string Run(string folder, string file)
    {
        using var process = Process.Start(
            new ProcessStartInfo("ngspice", ["-b", file])
            {
                WorkingDirectory = folder,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var error = process.StandardError.ReadToEndAsync();
        var said = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return said + error.Result;
    }
}
