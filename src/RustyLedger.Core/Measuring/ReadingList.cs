using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>A reading as a row of a spreadsheet.</summary>
/// <param name="Time">When it was taken, UTC.</param>
/// <param name="Red">Pin under the red probe, as printed.</param>
/// <param name="Black">Common pin, as printed; empty for none.</param>
/// <param name="State">Name or code of the operating state.</param>
/// <param name="Reads">As typed.</param>
public sealed record ReadingRow(
    DateTimeOffset Time,
    string Red,
    string Black,
    MeterMode Mode,
    string State,
    string Reads,
    string Value,
    string Limit,
    string Verdict,
    string Meter,
    string Person
);

/// <summary>How a row was understood.</summary>
/// <param name="Check">The check it answers; null for a reading off the book.</param>
/// <param name="Problem">Why it was not understood; empty when it was.</param>
public sealed record ReadingLine(
    int Line,
    DateTimeOffset? Time,
    ResolvedPin? Red,
    ResolvedPin? Black,
    MeterMode Mode,
    OperatingState? State,
    ResolvedCheck? Check,
    string Reads,
    string Meter,
    string Problem
);

/// <summary>The readings of a round as CSV, out and in: RFC 4180, a heading, a reading a row.</summary>
public static class ReadingList
{
    private const int MostLines = 20_000;

    private static readonly string[] Headings =
    [
        "time",
        "pin",
        "common",
        "mode",
        "state",
        "reads",
        "value",
        "limit",
        "verdict",
        "meter",
        "person",
    ];

    public static string Write(IEnumerable<ReadingRow> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using var csv = Rfc4180.Writer(text);
        csv.WriteRow(Headings);
        foreach (var r in rows)
        {
            csv.WriteRow(
                r.Time.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture),
                r.Red,
                r.Black,
                r.Mode.Words(),
                r.State,
                r.Reads,
                r.Value,
                r.Limit,
                r.Verdict,
                r.Meter,
                r.Person
            );
        }

        csv.Flush();
        return text.ToString();
    }

    /// <summary>
    /// Reads the columns pin and reads, and where they are there common, mode, state, time and meter; every row that is
    /// not understood is named. What the ledger works out itself, such as a verdict, is passed over.
    /// </summary>
    /// <exception cref="FormatException">No such columns, or too many rows.</exception>
    public static IReadOnlyList<ReadingLine> Read(string text, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(machine);
        using var csv = new CsvReader(
            new StringReader(text.TrimStart('\uFEFF')),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                DetectDelimiter = true,
                DetectDelimiterValues = [",", ";", "\t"],
                BadDataFound = null,
                MissingFieldFound = null,
                TrimOptions = TrimOptions.Trim,
                PrepareHeaderForMatch = h => h.Header.Trim().ToLowerInvariant(),
            }
        );
        if (
            !csv.Read()
            || !csv.ReadHeader()
            || csv.HeaderRecord is not { } headings
            || !headings.Any(h => Plain(h) == "pin")
            || !headings.Any(h => Plain(h) == "reads")
        )
        {
            throw new FormatException(
                $"A list of readings begins with a heading that has the columns pin and reads, such as "
                    + $"{string.Join(',', Headings.Take(6))}."
            );
        }

        var pins = machine
            .Pins.Values.GroupBy(p => p.Printed, StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.OrdinalIgnoreCase);
        var lines = new List<ReadingLine>();
        while (csv.Read())
        {
            lines.Add(Line(csv, machine, pins));
            if (lines.Count > MostLines)
            {
                throw new FormatException($"The list has more than {MostLines} readings.");
            }
        }

        return lines;
    }

    private static string Plain(string heading) => heading.Trim().ToLowerInvariant();

    private static ReadingLine Line(CsvReader csv, ResolvedMachine machine, Dictionary<string, ResolvedPin> pins)
    {
        string Cell(string name) => csv.TryGetField<string>(name, out var cell) ? Rfc4180.Unescaped(cell ?? "") : "";
        var (mode, state, problem) = (MeterMode.DcVolts, (OperatingState?)null, "");
        ResolvedPin? Pin(string name)
        {
            var printed = Cell(name).Replace('.', '·');
            if (printed.Length > 0 && !pins.ContainsKey(printed))
            {
                problem = $"there is no pin {Cell(name)} on {machine.Machine.Tag}";
            }

            return pins.GetValueOrDefault(printed);
        }

        var (red, black) = (Pin("pin"), Pin("common"));
        problem = problem.Length == 0 && red is null ? "the pin is missing" : problem;
        if (Cell("mode") is { Length: > 0 } words)
        {
            mode = TerminalList.ModeOf(words) ?? mode;
            problem = problem.Length == 0 && TerminalList.ModeOf(words) is null ? $"\"{words}\" is no meter mode" : problem;
        }

        var wanted = Cell("state");
        state =
            machine.Model.States.FirstOrDefault(s =>
                s.Code.Equals(wanted, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase)
            ) ?? (wanted.Length == 0 ? machine.Model.States.FirstOrDefault(s => s.Energised) : null);
        problem = problem.Length == 0 && state is null ? $"\"{wanted}\" is no state of this machine" : problem;
        DateTimeOffset? time = DateTimeOffset.TryParse(
            Cell("time"),
            CultureInfo.InvariantCulture,
            DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
            out var at
        )
            ? at
            : null;
        problem =
            problem.Length == 0 && time is null && Cell("time").Length > 0
                ? $"\"{Cell("time")}\" is no time; write for example 2026-11-24T10:05:00Z"
                : problem;
        var check = machine.Checks.FirstOrDefault(c =>
            c.Check.Red == red?.Address && c.Check.Black == black?.Address && c.Check.Mode == mode && c.State.Code == state?.Code
        );
        try
        {
            var read = ReadingNotation.Read(Cell("reads"), mode);
            problem = problem.Length == 0 && read.Choices.Count > 1 ? "two readings in one cell; give each a row" : problem;
        }
        catch (NotationException refusal)
        {
            problem = problem.Length == 0 ? refusal.Message : problem;
        }

        return new ReadingLine(csv.Parser.RawRow, time, red, black, mode, state, check, Cell("reads"), Cell("meter"), problem);
    }
}
