using static RustyLedger.Core.Sums.Quantity;

namespace RustyLedger.Core.Sums;

/// <summary>The sums people do beside a machine on the back of an envelope, and the judgements that hang on them.</summary>
public static class BenchSums
{
    private const string Judge = "Judge";
    private const string Parts = "Parts";
    private const string Supply = "Supply";

    // How much more than its steady current a load draws when it is switched on. Common practice, no source.
    private static readonly Dictionary<string, double> _inrush = new()
    {
        ["heater"] = 1,
        ["lamp, filament"] = 12,
        ["motor"] = 6,
        ["transformer"] = 12,
        ["valve or contactor coil, AC"] = 8,
        ["LED or switched supply"] = 20,
    };

    public static IReadOnlyList<BenchSum> All { get; } =
    [
        new(
            "wire",
            Judge,
            "A wire, both legs under load",
            "What is lost along supply and return, against what the copper explains.",
            [
                Number("volts", "Fed in, at the supply", "V", "24.3", true),
                Number("amps", "Current while it was read", "A", "4.2; 0 for no load"),
                Number("supply", "Lost along the supply leg", "V", "0.31"),
                Number("return", "Lost along the return leg", "V", "0.9"),
                Text("gauge", "Gauge", "1.5 mm² or AWG 14"),
                Number("metres", "Length, one way", "m", "8"),
                Number("warm", "Temperature of the wire", "°C", "20"),
            ],
            Wire
        ),
        new(
            "fuse",
            Judge,
            "A fuse, live in its holder",
            "Volts from each end to common and across; no volts across mean nothing by themselves.",
            [
                Number("full", "What is fed", "V", "24", true),
                Number("near", "Fed end to common", "V", "24.1"),
                Number("far", "Far end to common", "V", "0"),
                Number("across", "Across it", "V", "24"),
                Choice("meter", "Meter", false, "plain", "low impedance"),
                Choice("back", "May the far end be fed back", false, "no", "yes: windings, phases or another supply"),
            ],
            Fuse
        ),
        new(
            "pulled",
            Judge,
            "A fuse, dead",
            "By continuity, with the supply off.",
            [Choice("out", "Where it is", true, "pulled", "in its holder"), Choice("beep", "Continuity", true, "beeps", "silent")],
            Pulled
        ),
        new(
            "set",
            Judge,
            "A set that should read alike",
            "Phases, coils, diode drops: each against the others, and the odd one named.",
            [
                new("readings", "Readings, one after the other", "", "L1 460, L2 467, L3 450", true, []),
                Text("unit", "Unit", "V"),
                Number("spread", "Most they may differ", "", "0.05"),
            ],
            Set
        ),
        new(
            "mark",
            Parts,
            "What a resistor says",
            "Colour bands or a letter code, and the nearest value that is made.",
            [new("mark", "Bands or code", "", "yellow violet red gold, or 4K7J", true, []), Number("reads", "What it reads", "Ω", "4.9k")],
            Mark
        ),
        new(
            "divider",
            Parts,
            "A divider",
            "Volts at the tap of two resistors, with what loads it.",
            [
                Number("volts", "Across both", "V", "10", true),
                Number("top", "Upper resistor", "Ω", "4k7", true),
                Number("bottom", "Lower resistor", "Ω", "10k", true),
                Number("load", "Load at the tap", "Ω", "1M"),
            ],
            Divider
        ),
        new(
            "coil",
            Parts,
            "A coil",
            "Current and power of a coil at its volts, and its resistance at 20 °C.",
            [
                Number("ohms", "Reads", "Ω", "28", true),
                Number("volts", "Driven with", "V", "24", true),
                Number("warm", "Temperature of the winding", "°C", "20"),
            ],
            Coil
        ),
        new(
            "discharge",
            Parts,
            "A capacitor that empties",
            "How long until it is down to a voltage that does not hurt.",
            [
                Number("farads", "Capacitance", "F", "4700 µF", true),
                Number("ohms", "Through", "Ω", "10k", true),
                Number("from", "From", "V", "325", true),
                Number("to", "Down to", "V", "50", true),
            ],
            Discharge
        ),
        new(
            "contact",
            Parts,
            "A relay contact against its load",
            "Steady and inrush current against what the contact is rated for.",
            [
                Number("rated", "Rated, resistive", "A", "10", true),
                Number("load", "Load, steady", "A", "3", true),
                Choice("kind", "Kind of load", true, [.. _inrush.Keys]),
            ],
            Contact
        ),
        new(
            "transformer",
            Supply,
            "A transformer",
            "What its secondary should read, off load and loaded.",
            [
                Number("primary", "Primary, as printed", "V", "230", true),
                Number("secondary", "Secondary, as printed", "V", "24", true),
                Number("now", "Primary reads now", "V", "238", true),
                Number("regulation", "Regulation", "%", "10"),
                Number("reads", "Secondary reads", "V", "26.5"),
            ],
            Transformer
        ),
        new(
            "flash",
            Supply,
            "Field flash of a generator",
            "What full field volts promise from what a battery gave: a ceiling.",
            [
                Number("field", "Battery at the field", "V", "12", true),
                Number("output", "Output then", "V", "125", true),
                Number("full", "Field volts of the regulator", "V", "24", true),
            ],
            Flash
        ),
        new(
            "speed",
            Supply,
            "Speed, frequency and poles",
            "n = 120 f / poles, of an alternator or a motor.",
            [
                Number("hertz", "Frequency", "Hz", "50", true),
                Number("poles", "Poles", "", "4", true),
                Number("rpm", "Turns at", "rpm", "1440"),
            ],
            Speed
        ),
        new(
            "batteries",
            Supply,
            "Batteries in a row",
            "Their sum, and the one that is behind.",
            [new("readings", "Each of them, in volts", "", "12.7, 12.6, 10.9, 12.7", true, [])],
            Batteries
        ),
        .. CorrectionSums.All,
    ];

    internal static SumField Number(string name, string label, string unit, string example, bool isNeeded = false) =>
        new(name, label, unit, example, isNeeded, []);

    internal static SumField Text(string name, string label, string example) => new(name, label, "", example, false, []);

    /// <summary>Nothing is chosen until somebody says so.</summary>
    internal static SumField Choice(string name, string label, bool isNeeded, params string[] choices) =>
        new(name, label, "", "", isNeeded, choices);

    internal static SumAnswer Figure(string headline, string says, IReadOnlyList<SumLine> lines, params string[] working) =>
        new(SumVerdict.Figure, headline, says, lines, working);

    private static SumAnswer Wire(SumInput said)
    {
        var (volts, amps) = (said.Positive("volts"), said.Maybe("amps"));
        var gauge = said.Text("gauge");
        var (wire, metres) = (gauge.Length > 0 ? Conductor.Read("gauge", gauge) : null, said.MaybePositive("metres"));
        var warm = Warmth(said);
        var (supply, back) = (said.Maybe("supply"), said.Maybe("return"));
        var drop = WireDrop.Of(volts, amps is { } a ? Math.Abs(a) : null, supply, back, wire, metres, warm);
        Leg[] legs = [drop.Supply, drop.Return];
        var bad = legs.Where(l => l.State is LegState.HighContact or LegState.Open).ToList();
        var open = legs.Where(l => l.State is LegState.NotJudged or LegState.NotRead).ToList();
        var working = new List<string>();
        if (wire is not null)
        {
            working.Add($"{wire.Name}: {Write(wire.OhmsPerKm, "Ω")} a kilometre at 20 °C ({wire.Source}).");
        }

        if (wire is not null && metres is { } length)
        {
            working.Add($"{Write(length, "m")} at {Write(warm, "°C")}: {Write(wire.Ohms(length, warm), "Ω")} each leg.");
        }
        else
        {
            working.Add("Without gauge and length: at most 3 % of the supply along its leg and 0.3 V along the return (common practice).");
        }

        working.AddRange(legs.Select(l => $"{Upper(l.Name)}: {l.Says}"));
        if (drop.IsTooThin)
        {
            working.Add("The copper alone loses more than 3 % of what is fed: too thin for this current, or too long.");
        }

        return new SumAnswer(
            bad.Count > 0 ? SumVerdict.Bad
                : open.Count > 0 ? SumVerdict.NotJudged
                : drop.IsTooThin ? SumVerdict.Bad
                : SumVerdict.Good,
            bad.Count > 0 ? string.Join(", ", bad.Select(l => $"{l.Name}: {(l.State == LegState.Open ? "open" : "high contact")}"))
                : open.Count > 0
                    ? string.Join(", ", open.Select(l => $"{l.Name}: {(l.State == LegState.NotRead ? "not read" : "not judged")}"))
                : drop.IsTooThin ? "the wire itself is too thin"
                : "as expected on both legs",
            string.Join(
                " ",
                (
                    bad.Count > 0 ? bad.Concat(open)
                    : open.Count > 0 ? open
                    : legs
                ).Select(l => l.Says)
            ),
            [
                .. legs.SelectMany(l =>
                    (IEnumerable<SumLine>)
                        [
                            new($"{l.Name}: lost", l.Drop is { } d ? Write(Math.Abs(d), "V") : "not read"),
                            .. l.ExpectedVolts is { } e ? [new SumLine($"{l.Name}: the copper", Write(e, "V"))] : Array.Empty<SumLine>(),
                            .. l.ContactOhms is { } o ? [new SumLine($"{l.Name}: beyond it", Write(o, "Ω"))] : Array.Empty<SumLine>(),
                        ]
                ),
            ],
            working
        );
    }

    /// <summary>Of copper in use; 20 °C where nobody said.</summary>
    private static double Warmth(SumInput said) =>
        (said.Maybe("warm") ?? 20) is >= -60 and <= 250 and var warm
            ? warm
            : throw new SumException("warm", "The temperature of copper in use: from −60 to 250 °C is taken.");

    private static SumAnswer Fuse(SumInput said)
    {
        var full = said.Positive("full");
        FuseVolts Size(string name) => FuseTest.Size(said.Maybe(name), full);
        var (near, far, across) = (Size("near"), Size("far"), Size("across"));
        return Answer(
            FuseTest.Live(near, far, across, said.Text("meter") == "low impedance", said.Text("back") != "no"),
            $"Of {Write(full, "V")}: fed end {Word(near)}, far end {Word(far)}, across {Word(across)}. "
                + "Nothing is up to 0.5 V or 5 %, full is from 80 % (common practice). A meter nobody named is taken for a plain one, "
                + "and what nobody ruled out may feed back."
        );
    }

    private static SumAnswer Pulled(SumInput said) =>
        Answer(FuseTest.Dead(said.Text("out") == "pulled", said.Text("beep") == "beeps"), "By continuity, dead.");

    private static SumAnswer Answer(FuseTest test, string working) =>
        new(
            test.State switch
            {
                FuseState.Good => SumVerdict.Good,
                FuseState.NotJudged => SumVerdict.NotJudged,
                _ => SumVerdict.Bad,
            },
            test.State switch
            {
                FuseState.Good => "good",
                FuseState.Blown => "blown",
                FuseState.OpenNoLoad => "open, no load",
                _ => "not judged",
            },
            $"{test.Says} {test.Next}".Trim(),
            [],
            [working, $"Rule: {test.Rule}."]
        );

    private static string Word(FuseVolts volts) =>
        volts switch
        {
            FuseVolts.NotRead => "not read",
            FuseVolts.Nothing => "nothing",
            FuseVolts.Some => "some",
            _ => "full",
        };

    private static SumAnswer Set(SumInput said)
    {
        var unit = said.Text("unit");
        var members = Members("readings", said.Text("readings"), unit);
        var set = SetOfReadings.Of(members, said.MaybePositive("spread"));
        var isBad = set.Odd is not null || set.IsSpreadTooLarge || members.Any(m => m.Value is null);
        return new SumAnswer(
            members.Count < 2 ? SumVerdict.NotJudged
                : isBad ? SumVerdict.Bad
                : SumVerdict.Good,
            members.Count < 2 ? "one reading is no set"
                : set.Odd is { } odd ? $"{odd.Name} is the odd one"
                : isBad ? "not alike"
                : "alike",
            set.Rule + (isBad ? " One is bad: measure the rest of the set as well, the others are likely hurt." : ""),
            [
                .. set.Mean is { } mean ? [new SumLine("mean", Write(mean, unit))] : Array.Empty<SumLine>(),
                .. set.Spread is { } spread ? [new SumLine("largest difference", Write(spread, unit))] : Array.Empty<SumLine>(),
                .. set.Unbalance is { } unbalance
                    ?
                    [
                        new SumLine(
                            "unbalance (NEMA MG 1)",
                            $"{unbalance.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture)} %"
                        ),
                    ]
                    : Array.Empty<SumLine>(),
            ],
            [
                "Unbalance is the largest difference from the mean, in per cent of the mean.",
                "Alike is within what was said they may differ, or within 5 % of their middle. The odd one stands more than three "
                    + "times as far "
                    + "from the others as they stand from each other; of two, none is odd.",
            ]
        );
    }

    private static List<SetMember> Members(string field, string text, string unit)
    {
        var members = new List<SetMember>();
        // A comma followed by a blank parts; one between digits is a decimal point.
        foreach (var part in System.Text.RegularExpressions.Regex.Split(text, @";|\n|,(?!\d)|\s/\s"))
        {
            var words = part.Trim().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
            if (words.Length == 0)
            {
                continue;
            }

            var isNamed = words.Length > 1 && !char.IsAsciiDigit(words[0][0]) && words[0][0] is not ('-' or '+' or '.');
            var name = isNamed ? words[0] : $"no. {members.Count + 1}";
            var value = string.Join(' ', isNamed ? words[1..] : words);
            members.Add(
                new SetMember(name, value.Equals("OL", StringComparison.OrdinalIgnoreCase) ? null : Read(field, name, value, unit))
            );
        }

        return members.Count <= 48 ? members : throw new SumException(field, $"{members.Count} readings; at most 48 are taken.");
    }

    private static SumAnswer Mark(SumInput said)
    {
        var mark = Markings.Read("mark", said.Text("mark"));
        var reads = said.Maybe("reads");
        var lines = new List<SumLine>();
        if (mark.PartsPerMillion is { } drift)
        {
            lines.Add(new("drift with temperature", $"{Write(drift, "")} ppm/K"));
        }

        var series = mark.Tolerance is <= 2 ? 96 : 24;
        var nearest = Markings.Nearest(mark.Ohms, series);
        lines.Add(new($"nearest of E{series}", Write(nearest, "Ω")));
        if (mark.Tolerance is { } tolerance)
        {
            lines.Add(new("from", Write(mark.Ohms * (1 - (tolerance / 100)), "Ω")));
            lines.Add(new("to", Write(mark.Ohms * (1 + (tolerance / 100)), "Ω")));
        }

        var headline = Write(mark.Ohms, "Ω") + (mark.Tolerance is { } t ? $" ± {Write(t, "%")}" : "");
        string[] working = ["Colour bands and letters by IEC 60062, made values by IEC 60063."];
        if (reads is not { } r || mark.Tolerance is not { } within)
        {
            return Figure(headline, "", lines, working);
        }

        var (low, high) = (mark.Ohms * (1 - (within / 100)), mark.Ohms * (1 + (within / 100)));
        // Leads add a few tenths of an ohm.
        return r > high + 0.5
                ? new SumAnswer(
                    SumVerdict.Bad,
                    headline,
                    $"It reads {Write(r, "Ω")}, above its own band: in circuit or lifted, that convicts it.",
                    lines,
                    working
                )
            : r < low
                ? new SumAnswer(
                    SumVerdict.NotJudged,
                    headline,
                    $"It reads {Write(r, "Ω")}, below its band: in circuit another path may do that. Lift a leg and read again.",
                    lines,
                    working
                )
            : new SumAnswer(SumVerdict.Good, headline, $"It reads {Write(r, "Ω")}, within its band.", lines, working);
    }

    private static SumAnswer Divider(SumInput said)
    {
        var (volts, top, bottom) = (said.Number("volts"), said.Positive("top"), said.Positive("bottom"));
        var load = said.MaybePositive("load");
        var below = load is { } l ? bottom * l / (bottom + l) : bottom;
        var tap = volts * below / (top + below);
        return Figure(
            Write(tap, "V"),
            load is null ? "Without load at the tap." : $"Without the load it would be {Write(volts * bottom / (top + bottom), "V")}.",
            [
                new("current through the upper", Write(volts / (top + below), "A")),
                new("seen from the tap", Write(top * bottom / (top + bottom), "Ω")),
            ],
            $"U = {Write(volts, "V")} × {Write(below, "Ω")} / ({Write(top, "Ω")} + {Write(below, "Ω")})"
        );
    }

    private static SumAnswer Coil(SumInput said)
    {
        var (ohms, volts, warm) = (said.Positive("ohms"), said.Number("volts"), Warmth(said));
        return Figure(
            $"{Write(volts / ohms, "A")}, {Write(volts * volts / ohms, "W")}",
            "On DC; on AC the iron keeps the current lower once it has pulled in.",
            [new("at 20 °C", Write(Conductor.At20(ohms, warm), "Ω"))],
            $"I = U / R = {Write(volts, "V")} / {Write(ohms, "Ω")}; P = U² / R",
            $"R20 = R / (1 + 0.00393 × ({Write(warm, "°C")} − 20)), copper"
        );
    }

    private static SumAnswer Discharge(SumInput said)
    {
        var (farads, ohms, from, to) = (said.Positive("farads"), said.Positive("ohms"), said.Positive("from"), said.Positive("to"));
        return to >= from
            ? throw new SumException("to", "Down to must be less than it starts from.")
            : Figure(
                Write(ohms * farads * Math.Log(from / to), "s"),
                "Measure it before you touch it: a bleeder may be open.",
                [new("held at first", $"{Write(farads * from * from / 2, "")} J"), new("time constant", Write(ohms * farads, "s"))],
                $"t = R C ln(U0 / U) = {Write(ohms, "Ω")} × {Write(farads, "F")} × ln({Write(from, "V")} / {Write(to, "V")})"
            );
    }

    private static SumAnswer Contact(SumInput said)
    {
        var (rated, load, kind) = (said.Positive("rated"), said.Positive("load"), said.Text("kind"));
        var inrush = load * _inrush[kind];
        var isBad = load > rated || inrush > rated;
        return new SumAnswer(
            isBad ? SumVerdict.Bad : SumVerdict.Good,
            isBad ? "too much for the contact" : "the contact can take it",
            load > rated ? $"{Write(load, "A")} steady is more than the {Write(rated, "A")} it is rated for."
                : isBad
                    ? $"About {Write(inrush, "A")} when it switches on, against {Write(rated, "A")}: it pits or welds. "
                        + "Look for its rating for this kind of load."
                : $"About {Write(inrush, "A")} when it switches on, within {Write(rated, "A")}.",
            [new("steady", Write(load, "A")), new("when it switches on, about", Write(inrush, "A"))],
            [$"A {kind} draws about {_inrush[kind]:0} times its steady current at first (common practice, no source)."]
        );
    }

    private static SumAnswer Transformer(SumInput said)
    {
        var (primary, secondary, now) = (said.Positive("primary"), said.Positive("secondary"), said.Positive("now"));
        var regulation = said.MaybePositive("regulation");
        var loaded = secondary * now / primary;
        var off = loaded * (1 + ((regulation ?? 10) / 100));
        var reads = said.Maybe("reads");
        IReadOnlyList<SumLine> lines = [new("fully loaded", Write(loaded, "V")), new("off load, about", Write(off, "V"))];
        string[] working =
        [
            $"Loaded: {Write(secondary, "V")} × {Write(now, "V")} / {Write(primary, "V")}.",
            $"Off load: {Write(regulation ?? 10, "%")} more{(regulation is null ? ", the usual for a small one (common practice)" : "")}.",
        ];
        var headline = $"{Write(loaded, "V")} to {Write(off, "V")}";
        return reads is not { } r ? Figure(headline, "Between fully loaded and off load.", lines, working)
            : r < loaded * 0.95
                ? new SumAnswer(
                    SumVerdict.Bad,
                    headline,
                    $"{Write(r, "V")} is less than fully loaded explains: overloaded, a shorted turn, or the wrong tap.",
                    lines,
                    working
                )
            : r > off * 1.1
                ? new SumAnswer(SumVerdict.Bad, headline, $"{Write(r, "V")} is more than off load explains: the wrong tap?", lines, working)
            : new SumAnswer(SumVerdict.Good, headline, $"{Write(r, "V")} fits.", lines, working);
    }

    private static SumAnswer Flash(SumInput said)
    {
        var (field, output, full) = (said.Positive("field"), said.Positive("output"), said.Positive("full"));
        return Figure(
            $"up to {Write(output * full / field, "V")}",
            "A ceiling: the iron saturates. It holds at the same speed, with the regulator unplugged; it proves neither load "
                + "capacity nor insulation.",
            [],
            $"{Write(output, "V")} × {Write(full, "V")} / {Write(field, "V")}: output follows the field"
        );
    }

    private static SumAnswer Speed(SumInput said)
    {
        var (hertz, poles, rpm) = (said.Positive("hertz"), said.Positive("poles"), said.MaybePositive("rpm"));
        if (poles % 2 != 0)
        {
            throw new SumException("poles", "Poles come in pairs: 2, 4, 6 and so on.");
        }

        var synchronous = 120 * hertz / poles;
        return Figure(
            Write(synchronous, "rpm"),
            rpm is { } turns ? $"At {Write(turns, "rpm")} it slips by {Write((synchronous - turns) / synchronous * 100, "%")}." : "",
            rpm is { } now ? [new("frequency of an alternator at that speed", Write(now * poles / 120, "Hz"))] : [],
            $"n = 120 × {Write(hertz, "Hz")} / {Write(poles, "")}"
        );
    }

    private static SumAnswer Batteries(SumInput said)
    {
        var members = Members("readings", said.Text("readings"), "V");
        if (members.Find(m => m.Value is null) is { } open)
        {
            throw new SumException("readings", $"{open.Name}: a battery does not read OL.");
        }

        var set = SetOfReadings.Of(members, null);
        var sum = members.Sum(m => m.Value!.Value);
        return new SumAnswer(
            set.Odd is null && !set.IsSpreadTooLarge ? SumVerdict.Good : SumVerdict.Bad,
            Write(sum, "V") + (set.Odd is { } odd ? $", {odd.Name} is the odd one" : ""),
            set.Rule + (set.Odd is null ? "" : " Under load it shows more; charge and load it before it is called dead."),
            [new("each, on average", Write(sum / members.Count, "V"))],
            ["In a row the volts add; alike is within 5 % of their middle."]
        );
    }

    private static string Upper(string words) => char.ToUpperInvariant(words[0]) + words[1..];
}
