using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

public enum RowOutcome
{
    Added,
    Changed,
    Same,
    Refused,

    /// <summary>Of a connector that is not to be taken in.</summary>
    LeftOut,

    /// <summary>A heading, a section, a note: see <see cref="RowPreview.Kind"/>.</summary>
    NoPin,
}

/// <summary>One of the values that a row says, and the code of the state it is said of.</summary>
public sealed record RowValue(string Written, string State);

/// <summary>How one row of the file was understood.</summary>
/// <param name="Row">From 1, over all leaves and tables of the file.</param>
/// <param name="Leaf">Of a workbook; empty in a text.</param>
/// <param name="Understood">The row in the ledger's words; empty when refused.</param>
/// <param name="Problem">Why it was refused; empty otherwise.</param>
/// <param name="Doubts">What was taken one way but may be meant another.</param>
/// <param name="Changes">What would be different on the board type.</param>
public sealed record RowPreview(
    int Row,
    string Leaf,
    int Line,
    LineKind Kind,
    IReadOnlyList<string> Cells,
    RowOutcome Outcome,
    string Understood,
    IReadOnlyList<RowValue> Values,
    string Problem,
    IReadOnlyList<string> Doubts,
    IReadOnlyList<string> Changes
);

/// <summary>What a file would do to a board type.</summary>
/// <param name="NotInFile">Printed names of pins the file does not speak of; they stay.</param>
/// <param name="Result">The board type as it would be; equal to the present one when nothing changes.</param>
public sealed record TerminalPreview(
    TerminalTable Table,
    IReadOnlyList<RowPreview> Rows,
    IReadOnlyList<string> NotInFile,
    BoardType Result,
    bool ChangesAnything
);

/// <summary>A board type's terminals, checks and inner links as a spreadsheet, out and in.</summary>
public static partial class TerminalList
{
    private static readonly Dictionary<string, MeterMode> Modes = new(StringComparer.OrdinalIgnoreCase)
    {
        ["v"] = MeterMode.DcVolts,
        ["vdc"] = MeterMode.DcVolts,
        ["dc"] = MeterMode.DcVolts,
        ["dcv"] = MeterMode.DcVolts,
        ["v dc"] = MeterMode.DcVolts,
        ["dc v"] = MeterMode.DcVolts,
        ["volts"] = MeterMode.DcVolts,
        ["vac"] = MeterMode.AcVolts,
        ["ac"] = MeterMode.AcVolts,
        ["acv"] = MeterMode.AcVolts,
        ["v ac"] = MeterMode.AcVolts,
        ["ac v"] = MeterMode.AcVolts,
        ["ohm"] = MeterMode.Ohms,
        ["ω"] = MeterMode.Ohms,
        ["r"] = MeterMode.Ohms,
        ["resistance"] = MeterMode.Ohms,
        ["beep"] = MeterMode.Continuity,
        ["cont"] = MeterMode.Continuity,
        ["diode"] = MeterMode.Diode,
        ["a"] = MeterMode.DcAmps,
        ["amps"] = MeterMode.DcAmps,
        ["hz"] = MeterMode.Frequency,
        ["s"] = MeterMode.Time,
        ["°c"] = MeterMode.Temperature,
        ["led"] = MeterMode.Lamp,
        ["word"] = MeterMode.Word,
        ["display"] = MeterMode.Word,
        ["µf"] = MeterMode.Capacitance,
        ["uf"] = MeterMode.Capacitance,
        ["cap"] = MeterMode.Capacitance,
        ["bar"] = MeterMode.Pressure,
        ["psi"] = MeterMode.Pressure,
        ["rpm"] = MeterMode.Speed,
        ["insulation resistance"] = MeterMode.Insulation,
        ["bond"] = MeterMode.EarthBond,
        ["earth leakage"] = MeterMode.Leakage,
        ["rcd"] = MeterMode.ResidualTrip,
        ["rotation"] = MeterMode.PhaseRotation,
        ["duty cycle"] = MeterMode.Duty,
        ["battery"] = MeterMode.BatteryUnderLoad,
        ["inrush current"] = MeterMode.Inrush,
    };

    private static readonly string[] DittoMarks = ["\"", "''", "″", "〃", "do", "do.", "ditto"];

    static TerminalList()
    {
        foreach (var mode in Enum.GetValues<MeterMode>())
        {
            Modes[mode.Words()] = mode;
        }
    }

    /// <summary>Works out what a file would do, without doing it.</summary>
    /// <param name="states">The states checks may name; the first energised one is taken where the file names none.</param>
    /// <param name="newId">Makes an id for each new element, pin, link and check.</param>
    public static TerminalPreview Preview(
        BoardType type,
        TerminalTable table,
        IReadOnlyList<Machines.OperatingState> states,
        Func<string> newId
    )
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(table);
        var import = new SheetImport(table, states, takesNewStates: false, [], SheetAnswers.None.States, newId)
        {
            LinesBefore = type.Checks.Max(c => c.Line) ?? 0,
        };
        var holder = new SheetHolder(new SheetBench(type), "", type.Printed, pin => new PinAddress.OnType(pin), IsBoard: true);
        import.Run(_ => holder, (_, _) => null);
        foreach (var draft in import.Drafts.Where(d => d.IsTaken))
        {
            Join(import, draft);
        }

        return new TerminalPreview(
            table,
            [.. import.Drafts.Select(d => d.Preview())],
            [.. NotSpoken(holder.Bench)],
            holder.Bench.Result,
            holder.Bench.IsChanged
        );
    }

    /// <summary>Printed names of the pins that were there before, and of which the sheet does not speak.</summary>
    internal static IEnumerable<string> NotSpoken(SheetBench bench) =>
        bench.Type.Elements.SelectMany(e => e.Pins.Where(p => !bench.Spoken.Contains(p.Id)).Select(p => $"{e.Designator}·{p.Label}"));

    private static void Join(SheetImport import, SheetDraft draft)
    {
        foreach (
            var (column, directed) in (ReadOnlySpan<(TerminalColumn, bool)>)[(TerminalColumn.Feeds, true), (TerminalColumn.JoinedTo, false)]
        )
        {
            foreach (var name in Names(draft.Line[column]))
            {
                foreach (var pin in draft.Pins)
                {
                    if (pin.Holder.Bench.Find(draft.Connector, name) is { } to)
                    {
                        import.JoinOnBoard(draft, pin, to.Pin.Id, to.Name, directed);
                    }
                    else
                    {
                        draft.Doubts.Add($"{name} is not a pin of this board; the link is left out");
                    }
                }
            }
        }
    }

    /// <summary>The ends that a cell names, one or several.</summary>
    internal static string[] Names(string cell) =>
        cell.Split([';', ','], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    /// <summary>Writes RFC 4180 text that <see cref="Preview"/> reads back to the same terminals, checks and links.</summary>
    public static string Export(BoardType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using var csv = Rfc4180.Writer(text);
        csv.WriteRow(
            "connector",
            "pin",
            "colour",
            "signal",
            "feeds",
            "joined to",
            "mode",
            "common",
            "other end",
            "expected",
            "state",
            "plugged",
            "remark"
        );
        var names = type
            .Elements.SelectMany(e => e.Pins.Select(p => (p.Id, Name: $"{e.Designator}·{p.Label}")))
            .ToDictionary(n => n.Id, n => n.Name);
        string Name(PinAddress address) => names[address.OwnPin!.Value];
        foreach (var element in type.Elements)
        {
            foreach (var pin in element.Pins.OrderBy(p => p.Index))
            {
                var checks = type
                    .Checks.Where(c => c.Red?.OwnPin == pin.Id && c.Target is CheckTarget.PinAndCommon or CheckTarget.Pair)
                    .DefaultIfEmpty(null);
                foreach (var check in checks)
                {
                    csv.WriteRow(
                        element.Designator,
                        Literal(pin.Label),
                        pin.Colours.Code,
                        Literal(pin.Signal),
                        string.Join("; ", type.Links.Where(l => l.Directed && l.From.OwnPin == pin.Id).Select(l => Name(l.To))),
                        string.Join("; ", type.Links.Where(l => !l.Directed && l.From.OwnPin == pin.Id).Select(l => Name(l.To))),
                        check?.Mode.Words() ?? "",
                        check is { Target: CheckTarget.PinAndCommon, Black: { } common } ? Name(common) : "",
                        check is { Target: CheckTarget.Pair, Black: { } other } ? Name(other) : "",
                        check is null ? "" : LimitNotation.Write(check.Limit),
                        check?.State ?? "",
                        check?.Plugged switch
                        {
                            true => "plugged",
                            false => "unplugged",
                            null => "",
                        },
                        check?.Remark ?? ""
                    );
                }
            }
        }

        csv.Flush();
        return text.ToString();
    }

    /// <summary>An apostrophe tells the reader, as it tells a spreadsheet, to take the text as it stands.</summary>
    private static string Literal(string text) =>
        IsDitto(text)
        || text.StartsWith('\'')
        || Range().IsMatch(text)
        || SpoiltDate().IsMatch(text)
        || (text.Any(char.IsAsciiDigit) && text.AsSpan().IndexOfAny(".,;&") >= 0)
        || text is ['=' or '+' or '@' or '-', _, ..]
            ? "'" + text
            : text;

    internal static bool IsDitto(string cell) => DittoMarks.Contains(cell, StringComparer.OrdinalIgnoreCase);

    internal static MeterMode? ModeOf(string words)
    {
        var plain = Scanner.Clean(words).Trim().ToLowerInvariant();
        return Modes.TryGetValue(plain, out var mode) ? mode
            : Modes.TryGetValue(plain.TrimEnd('s'), out mode) ? mode
            : null;
    }

    [GeneratedRegex(@"^(?<from>\d{1,3})\s*(?:-|\u2013|to|\.\.)\s*(?<to>\d{1,3})(?:\s+(?<rest>.*))?$", RegexOptions.IgnoreCase)]
    internal static partial Regex Range();

    [GeneratedRegex(@"^(?<day>\d{1,2})-(?<month>Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)(-\d{2,4})?$", RegexOptions.IgnoreCase)]
    internal static partial Regex SpoiltDate();

    [GeneratedRegex(
        @"^(?:(?<board>[A-Za-z][A-Za-z0-9 ]{0,30}?)[\s-]+)?"
            + @"(?<connector>[A-Za-z]{1,4}\d{1,4}[A-Za-z]?)(?:\s*[-·.:/]\s*|\s+(?:pins?\s+)?)(?<pin>\S+)$"
    )]
    internal static partial Regex FullName();
}
