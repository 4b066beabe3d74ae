using System.Globalization;
using System.Text;
using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

/// <summary>
/// Relays drawn by lot and a script of acts: each has its start and its stop, most hold themselves, and each may need one before it or be
/// locked out by one. None waits for a later one, so that nothing hangs on which is quicker.
/// </summary>
internal sealed record RelayScript(Circuit Circuit, IReadOnlyList<SwitchAct> Acts, IReadOnlyList<string> Loads)
{
    private const double Ohms = 0.5;

    public static RelayScript Of(int seed)
    {
        var dice = new Random(seed);
        List<CircuitElement> elements = [new VoltageSource("PS", "p", "0", 24, 0.1)];
        List<string> switches = [];
        var relays = dice.Next(2, 6);
        for (var k = 1; k <= relays; k++)
        {
            // Supply, stop, start with what holds it beside, then what another has to say.
            elements.Add(new Switch($"stop{k}", "p", $"a{k}", true, Ohms));
            elements.Add(new Switch($"start{k}", $"a{k}", $"b{k}", false, Ohms));
            switches.AddRange([$"stop{k}", $"start{k}"]);
            if (dice.Next(4) > 0)
            {
                elements.Add(new RelayContact($"K{k}.hold", $"K{k}", $"a{k}", $"b{k}", true, Ohms));
            }

            var other = k > 1 && dice.Next(2) == 0 ? dice.Next(1, k) : 0;
            elements.Add(
                other > 0
                    ? new RelayContact($"K{k}.of", $"K{other}", $"b{k}", $"c{k}", dice.Next(2) == 0, Ohms)
                    : new Resistance($"W{k}", $"b{k}", $"c{k}", Ohms)
            );
            elements.Add(new RelayCoil($"K{k}", $"c{k}", "0", 200 + dice.Next(600), 15, 4));
            elements.Add(new RelayContact($"K{k}.load", $"K{k}", "p", $"l{k}", dice.Next(3) > 0, Ohms));
            elements.Add(new Resistance($"L{k}", $"l{k}", "0", 50));
        }

        List<SwitchAct> acts = [];
        var closed = switches.ToDictionary(s => s, s => s.StartsWith("stop", StringComparison.Ordinal));
        for (var i = 0; i < 10; i++)
        {
            var which = switches[dice.Next(switches.Count)];
            acts.Add(new SwitchAct(which, closed[which] = !closed[which]));
        }

        return new RelayScript(new Circuit(elements), acts, [.. Enumerable.Range(1, relays).Select(k => $"l{k}")]);
    }

    public static string Named(int act, int relay) => string.Create(CultureInfo.InvariantCulture, $"v{act}x{relay}");

    /// <summary>The same in the time domain, an act a second: what each load has just before the next is measured.</summary>
    public string InTime()
    {
        var text = new StringBuilder("* relays in time\n");
        void Line(string line) => text.Append(line).Append('\n');
        string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);
        // From open to closed without a jump, by something that goes from 0 to 1.
        void Closing(string name, string a, string b, string how) =>
            Line($"B{name} {a} {b} I = v({a},{b})*(1e-9+{Number(1 / Ohms)}*{how})");
        foreach (var node in Circuit.Nodes)
        {
            // So much that no volts turn within no time at all.
            Line($"C{node} {node} 0 100n");
        }

        foreach (var element in Circuit.Elements)
        {
            var name = element.Name.Replace(".", "_", StringComparison.Ordinal);
            switch (element)
            {
                case VoltageSource v:
                    Line($"V{name} x{name} 0 DC {Number(v.Volts)}");
                    Line($"R{name} x{name} {v.Plus} {Number(v.Ohms)}");
                    break;
                case Resistance r:
                    Line($"R{name} {r.A} {r.B} {Number(r.Ohms)}");
                    break;
                case RelayCoil c:
                    Line($"R{name} {c.A} {c.B} {Number(c.Ohms)}");
                    // Its volts, their hysteresis, and an armature that takes its millisecond.
                    var (middle, half) = ((c.PullIn + c.DropOut) / 2, (c.PullIn - c.DropOut) / 2);
                    Line($".model m{name} SW(VT={Number(middle)} VH={Number(half)} RON=1u ROFF=1e12)");
                    Line($"S{name} one s{name} {c.A} {c.B} m{name} OFF");
                    Line($"RS{name} s{name} 0 1k");
                    Line($"RA{name} s{name} q{name} 1k");
                    Line($"CA{name} q{name} 0 1u");
                    break;
                case RelayContact c:
                    Closing(name, c.A, c.B, c.ClosesWhenHeld ? $"v(q{c.Coil})" : $"(1-v(q{c.Coil}))");
                    break;
                case Switch s:
                    var turns = new StringBuilder($"PWL(0 {(s.IsClosed ? 1 : 0)}");
                    var stands = s.IsClosed;
                    foreach (var (i, act) in Acts.Index().Where(a => a.Item.Switch == s.Name))
                    {
                        turns.Append(CultureInfo.InvariantCulture, $" {i + 1} {(stands ? 1 : 0)} {i + 1}.01 {(act.Closes ? 1 : 0)}");
                        stands = act.Closes;
                    }

                    Line($"V{name} g{name} 0 {turns})");
                    Closing(name, s.A, s.B, $"v(g{name})");
                    break;
            }
        }

        Line("Vone one 0 DC 1");
        Line(".options method=gear reltol=1e-5");
        Line(".control");
        Line(string.Create(CultureInfo.InvariantCulture, $"tran 1m {Acts.Count + 1} 0 5m"));
        foreach (var act in Enumerable.Range(0, Acts.Count + 1))
        {
            foreach (var (relay, node) in Loads.Index())
            {
                Line(string.Create(CultureInfo.InvariantCulture, $"meas tran {Named(act, relay)} FIND v({node}) AT={act + 0.9}"));
            }
        }

        Line("quit");
        Line(".endc");
        Line(".end");
        return text.ToString();
    }
}
