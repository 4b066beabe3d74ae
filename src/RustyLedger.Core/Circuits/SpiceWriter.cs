using System.Globalization;
using System.Text;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// A circuit as a SPICE file. Names are kept in a table of comments, since other readers fold case and mangle signs: <c>*@ n3 Z1-J2·6</c>
/// for a node, <c>*@ R7 fuse F1 ...</c> for an element with what a plain line cannot say. What switches is written as it stands.
/// </summary>
public static class SpiceWriter
{
    /// <summary>What is written for an open contact, in ohms.</summary>
    private const string Open = "1e12";

    /// <param name="states">How each element stands; see <see cref="OperatingPoint.States"/>.</param>
    /// <param name="control">Lines behind the circuit, such as <c>.op</c>; empty for none.</param>
    public static string Write(Circuit circuit, IReadOnlyDictionary<string, ElementState> states, string title, string control = "")
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(states);
        ArgumentNullException.ThrowIfNull(title);
        var text = new StringBuilder();
        text.Append("* ").Append(title.ReplaceLineEndings(" ")).Append('\n');
        if (circuit.HasAc)
        {
            text.Append("*@ hertz ").Append(Number(circuit.Hertz)).Append('\n');
        }

        foreach (var node in circuit.Nodes)
        {
            text.Append("*@ ").Append(Node(circuit, node)).Append(' ').Append(Escaped(node)).Append('\n');
        }

        foreach (var (index, element) in circuit.Elements.Index())
        {
            Element(text, circuit, element, index + 1, states);
        }

        if (control.Length > 0)
        {
            text.Append(control.TrimEnd()).Append('\n');
        }

        return text.Append(".end\n").ToString();
    }

    /// <summary>The name of a node in the file.</summary>
    public static string Node(Circuit circuit, string node)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return circuit.IndexOf(node) is var at and >= 0 ? string.Create(CultureInfo.InvariantCulture, $"n{at + 1}") : "0";
    }

    internal static string Escaped(string name) => Uri.EscapeDataString(name);

    internal static string Unescaped(string name) => Uri.UnescapeDataString(name);

    // What stands for next to nothing is none to other readers.
    private static string Number(double value) => Math.Abs(value) < 1e-300 ? "0" : value.ToString("R", CultureInfo.InvariantCulture);

    private static string Ohms(double ohms) => double.IsPositiveInfinity(ohms) ? Open : Number(Math.Max(ohms, Circuit.LeastOhms));

    private static void Element(
        StringBuilder text,
        Circuit circuit,
        CircuitElement element,
        int index,
        IReadOnlyDictionary<string, ElementState> states
    )
    {
        var at = element.Nodes.Select(n => Node(circuit, n)).ToList();
        var name = Escaped(element.Name);
        void Line(params ReadOnlySpan<string> words) => text.AppendJoin(' ', words!).Append('\n');
        void Table(string kind, params (string Field, double Value)[] fields) =>
            text.Append(
                    CultureInfo.InvariantCulture,
                    $"*@ {index} {kind} {name}{string.Concat(fields.Select(f => $" {f.Field}={Number(f.Value)}"))}"
                )
                .Append('\n');
        // What lies between more than two nodes, or has no lines as it stands, names its nodes itself.
        void Between(string kind, params (string Field, double Value)[] fields)
        {
            Table(kind, fields);
            text.Length--;
            text.Append(" at=").AppendJoin(',', at).Append('\n');
        }

        // What only some elements have, behind what all of their kind have.
        void More(string field, string? value)
        {
            if (value is not null)
            {
                text.Length--;
                text.Append(CultureInfo.InvariantCulture, $" {field}={Escaped(value)}\n");
            }
        }

        void Flag(string field, bool isSo) => More(field, isSo ? "1" : null);
        void Conductor(double ohms, bool isOpen) => Line($"R{index}", at[0], at[1], isOpen ? Open : Ohms(ohms));
        switch (element)
        {
            case Resistance r:
                Table("resistance");
                Conductor(r.Ohms, false);
                break;
            case Switch s:
                Table("switch", ("closed", s.IsClosed ? 1 : 0), ("ohms", s.Ohms));
                Flag("welded", s.IsWelded);
                Conductor(s.Ohms, !s.IsClosed);
                break;
            case Fuse f:
                Table("fuse", ("amps", f.Amps), ("ohms", f.Ohms), ("blown", states[f.Name] == ElementState.Blown ? 1 : 0));
                Flag("trips", f.Trips);
                More("residual", f.Residual is { } residual ? Number(residual) : null);
                More("device", f.Device);
                Conductor(f.Ohms, states[f.Name] == ElementState.Blown);
                break;
            case RelayCoil c:
                Table("coil", ("pullin", c.PullIn), ("dropout", c.DropOut), ("held", states[c.Name] == ElementState.Held ? 1 : 0));
                More("pulldelay", c.PullDelay > 0 ? Number(c.PullDelay) : null);
                More("dropdelay", c.DropDelay > 0 ? Number(c.DropDelay) : null);
                Conductor(c.Ohms, false);
                break;
            case RelayContact c:
                Table("contact", ("closes", c.ClosesWhenHeld ? 1 : 0), ("ohms", c.Ohms));
                Flag("welded", c.AlwaysCloses);
                More("coil", c.Coil);
                Conductor(c.Ohms, !Circuit.IsClosed(c, states));
                break;
            case VoltageSource v:
                Table("source", ("ohms", v.Ohms));
                var inner = v.Ohms > 0 ? $"x{index}" : at[0];
                Line($"V{index}", inner, at[1], "DC", Number(v.Volts), "AC", Number(v.AcVolts), Number(v.Degrees));
                if (v.Ohms > 0)
                {
                    Line($"R{index}", at[0], inner, Ohms(v.Ohms));
                }

                break;
            case CurrentSource i:
                Table("current");
                Line($"I{index}", at[0], at[1], "DC", Number(i.Amps));
                break;
            case Diode d:
                Table("diode", ("forward", d.ForwardVolts), ("ohms", d.Ohms), ("reverse", d.ReverseVolts ?? 0));
                if (double.IsPositiveInfinity(d.ForwardVolts))
                {
                    break;
                }

                if (d is { ForwardVolts: 0, ReverseVolts: double.Epsilon })
                {
                    // Shorted: both ways from nothing on.
                    Conductor(d.Ohms, false);
                    break;
                }

                var across = $"v({at[0]},{at[1]})";
                var back = d.ReverseVolts is { } reverse ? $" - max(0, -({across}) - {Number(reverse)})/{Number(d.Ohms)}" : "";
                Line($"B{index}", at[0], at[1], $"I = max(0, {across} - {Number(d.ForwardVolts)})/{Number(d.Ohms)}{back}");
                break;
            case Regulator r:
                Between("regulator", ("volts", r.Volts), ("dropout", r.DropOut), ("limit", r.Limit), ("state", (double)states[r.Name]));
                switch (states[r.Name])
                {
                    case ElementState.Regulating:
                        // The source stands between output and common; what it gives is taken from the input instead.
                        Line($"V{index}", at[1], at[2], "DC", Number(r.Volts));
                        Line($"F{index}", at[0], at[2], $"V{index}", "-1");
                        break;
                    case ElementState.DroppedOut:
                        Line($"V{index}", at[0], at[1], "DC", Number(r.DropOut));
                        break;
                    case ElementState.Limiting:
                        Line($"I{index}", at[0], at[1], "DC", Number(r.Limit));
                        break;
                }

                break;
            case Capacitance c:
                Table("capacitance");
                Line($"C{index}", at[0], at[1], Number(c.Farads));
                break;
            case Inductance l:
                Table("inductance", ("ohms", l.Ohms));
                Line($"L{index}", at[0], $"x{index}", Number(l.Henry));
                Line($"R{index}", $"x{index}", at[1], Ohms(l.Ohms));
                break;
            case Converter c:
                // As it stands: what it gives as a source, what it takes as a resistance.
                Between(
                    "converter",
                    ("volts", c.Volts ?? -1),
                    ("ratio", c.Ratio),
                    ("drop", c.Drop),
                    ("needs", c.LeastIn),
                    ("ohms", c.Ohms),
                    ("limit", c.Limit)
                );
                if (c.InSiemens > 0)
                {
                    Line($"R{index}", at[0], at[1], Ohms(1 / c.InSiemens));
                }

                if (states[c.Name] == ElementState.Regulating)
                {
                    Line($"V{index}", $"x{index}", at[3], "DC", Number(c.OpenVolts));
                    Line($"R{index}o", $"x{index}", at[2], Ohms(c.Ohms));
                }
                else if (states[c.Name] == ElementState.Limiting)
                {
                    Line($"I{index}", at[3], at[2], "DC", Number(c.Limit));
                }

                break;
            case Transformer t:
                Table("transformer", ("ratio", t.Ratio), ("secondary", t.SecondaryOhms), ("primary", t.PrimaryOhms));
                // Volts at the secondary, current at the primary.
                Line($"E{index}", $"x{index}", at[3], at[0], at[1], Number(t.Ratio));
                Line($"V{index}", $"x{index}", $"y{index}", "DC", "0");
                Line($"R{index}", $"y{index}", at[2], Ohms(t.SecondaryOhms));
                Line($"F{index}", at[0], at[1], $"V{index}", Number(t.Ratio));
                break;
        }
    }
}
