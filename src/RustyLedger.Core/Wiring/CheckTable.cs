using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>A check as a row of texts.</summary>
/// <param name="Red">Pin as printed, such as <c>Z1-J2·6</c>; what is looked at where the target is a part or nothing.</param>
/// <param name="Black">The common or the other pin of a pair; empty for none.</param>
/// <param name="Target">In words, such as <c>pin and common</c>; empty for that.</param>
public sealed record CheckRow(
    string Id,
    string Target,
    string Red,
    string Black,
    string Mode,
    string State,
    string Plugged,
    string Limit,
    string Remark
);

/// <summary>What is wrong with a cell of a row.</summary>
/// <param name="Column">As the row names it, such as <c>red</c>.</param>
public sealed record CheckProblem(string Row, string Column, string Problem);

/// <summary>The checks of a model that reach from board to board, or those of one machine alone, as a table of texts, out and in.</summary>
public static class CheckTable
{
    private const int MostWords = 120;
    private const int MostChecks = 2000;

    /// <param name="machine">The machine, or the model with its boards, see <see cref="WiringSheet.Resolved"/>.</param>
    public static IReadOnlyList<CheckRow> Of(IReadOnlyList<Check> checks, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(checks);
        ArgumentNullException.ThrowIfNull(machine);
        string Printed(PinAddress? at) => at is null ? "" : machine.Pins.GetValueOrDefault(at)?.Printed ?? "a pin that is gone";
        return
        [
            .. checks.Select(c => new CheckRow(
                c.Id.Value,
                LayoutTable.Word(c.Target),
                c.Red is null ? c.Part : Printed(c.Red),
                Printed(c.Black),
                c.Mode.Words(),
                machine.Model.States.FirstOrDefault(s => s.Code == c.State)?.Name ?? c.State,
                c.Plugged switch
                {
                    true => "plugged",
                    false => "unplugged",
                    null => "",
                },
                LimitNotation.Write(c.Limit),
                c.Remark
            )),
        ];
    }

    /// <summary>
    /// The checks that the rows say. A row in which something is wrong leaves the check as it was, and holds up no other; a check without
    /// a row goes.
    /// </summary>
    /// <param name="before">The checks as they stand.</param>
    public static (IReadOnlyList<Check> Checks, IReadOnlyList<CheckProblem> Problems) Read(
        IReadOnlyList<CheckRow> rows,
        IReadOnlyList<Check> before,
        ResolvedMachine machine
    )
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(machine);
        if (rows.Count > MostChecks)
        {
            return (before, [new CheckProblem("", "", $"There are {rows.Count} checks; at most {MostChecks} are taken.")]);
        }

        var known = before.ToDictionary(c => c.Id.Value);
        var (checks, problems) = (new List<Check>(), new List<CheckProblem>());
        foreach (var row in rows.DistinctBy(r => r.Id))
        {
            var reader = new RowReader(row, machine, known.GetValueOrDefault(row.Id)?.Line);
            if (reader.Read() is { } check)
            {
                checks.Add(check);
            }
            else
            {
                problems.AddRange(reader.Problems);
                if (known.TryGetValue(row.Id, out var was))
                {
                    checks.Add(was);
                }
            }
        }

        return (checks, problems);
    }

    /// <summary>The pin that is printed so, or written with a dot, a colon, a dash or a stroke before its number; null for none.</summary>
    internal static ResolvedPin? PinNamed(string name, ResolvedMachine machine)
    {
        var said = name.Trim();
        var cut = said.LastIndexOfAny(['.', ':', '-', '/']);
        var printed = cut > 0 && cut < said.Length - 1 ? $"{said[..cut]}·{said[(cut + 1)..]}" : said;
        return machine.Pins.Values.FirstOrDefault(p => p.Printed.Equals(said, StringComparison.OrdinalIgnoreCase))
            ?? machine.Pins.Values.FirstOrDefault(p => p.Printed.Equals(printed, StringComparison.OrdinalIgnoreCase));
    }

    private sealed class RowReader(CheckRow row, ResolvedMachine machine, int? line)
    {
        public List<CheckProblem> Problems { get; } = [];

        private T? Refuse<T>(string column, string problem)
        {
            Problems.Add(new CheckProblem(row.Id, column, problem));
            return default;
        }

        public Check? Read()
        {
            var target = TargetOf();
            var isOfPin = target is CheckTarget.PinAndCommon or CheckTarget.Pair;
            var red = isOfPin ? Pin("red", row.Red, isNeeded: true) : null;
            var black = isOfPin ? Pin("black", row.Black, isNeeded: target == CheckTarget.Pair) : null;
            if (red is not null && red == black)
            {
                Refuse<object>("black", "Both probes are on one pin.");
            }

            MeterMode? mode = row.Mode.Trim().Length == 0 ? MeterMode.DcVolts : TerminalList.ModeOf(row.Mode);
            if (mode is null)
            {
                Refuse<object>("mode", $"\"{row.Mode}\" is no meter mode; write for example DC volts or ohms.");
            }

            var state = StateOf();
            bool? plugged = row.Plugged.Trim().ToLowerInvariant() switch
            {
                "" => null,
                "plugged" or "yes" => true,
                "unplugged" or "no" => false,
                _ => Refuse<bool?>("plugged", "Write plugged, unplugged, or nothing."),
            };
            var limit = LimitOf(mode);
            if (row.Remark.Length > MostWords)
            {
                Refuse<object>("remark", $"{row.Remark.Length} signs; at most {MostWords} fit.");
            }

            return Problems.Count > 0
                ? null
                : new Check(
                    row.Id,
                    target,
                    red,
                    black,
                    isOfPin ? "" : row.Red.Trim(),
                    mode!.Value,
                    state!,
                    plugged,
                    limit!,
                    row.Remark.Trim()
                )
                {
                    Line = line,
                };
        }

        private CheckTarget TargetOf()
        {
            var said = row.Target.Trim();
            foreach (var target in Enum.GetValues<CheckTarget>())
            {
                if (said.Equals(LayoutTable.Word(target), StringComparison.OrdinalIgnoreCase))
                {
                    return target;
                }
            }

            return said.Length == 0
                ? CheckTarget.PinAndCommon
                : Refuse<CheckTarget>(
                    "target",
                    $"\"{said}\" is none of {string.Join(", ", Enum.GetValues<CheckTarget>().Select(LayoutTable.Word))}."
                );
        }

        private PinAddress? Pin(string column, string name, bool isNeeded)
        {
            var said = name.Trim();
            if (said.Length == 0)
            {
                return isNeeded ? Refuse<PinAddress>(column, "Name the pin, as it is printed.") : null;
            }

            return PinNamed(said, machine)?.Address
                ?? Refuse<PinAddress>(
                    column,
                    $"There is no pin \"{said}\" here; write for example {machine.Pins.Values.FirstOrDefault()?.Printed ?? "J1·1"}."
                );
        }

        private string? StateOf()
        {
            var said = row.State.Trim();
            var states = machine.Model.States;
            return said.Length == 0
                ? (states.FirstOrDefault(s => s.Energised) ?? states[0]).Code
                : states
                    .FirstOrDefault(s =>
                        s.Code.Equals(said, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(said, StringComparison.OrdinalIgnoreCase)
                    )
                    ?.Code
                    ?? Refuse<string>(
                        "state",
                        $"\"{said}\" is not a state here; there are {string.Join(", ", states.Select(s => s.Name))}."
                    );
        }

        private Limit? LimitOf(MeterMode? mode)
        {
            try
            {
                return LimitNotation.ReadOne(row.Limit, mode).Limit;
            }
            catch (NotationException refusal)
            {
                return Refuse<Limit>("limit", refusal.Message);
            }
        }
    }
}
