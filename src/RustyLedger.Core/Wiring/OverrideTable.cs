using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Wiring;

/// <summary>
/// What is so on one machine only, as a row of texts: of a pin its colours or what it does, of a check what it should read.
/// </summary>
/// <param name="Pin">As printed, such as <c>Z1-J2·6</c>; what is looked at where the check is at no pin.</param>
/// <param name="Check">Which check at the pin, as <see cref="OverrideTable.NameOf"/> calls it; may be left out where there is one.</param>
/// <param name="Colours">Empty where they are as elsewhere, as for what it does and for what it should read.</param>
public sealed record OverrideRow(string Id, string Pin, string Check, string Colours, string Signal, string Limit, string Reason);

/// <summary>What is so on one machine only, as a table of texts, out and in.</summary>
public static class OverrideTable
{
    private const int MostRows = 500;
    private const int MostWords = 200;

    /// <summary>A check among those at its pin: its state, its mode, plugged or not, what the book says, its remark.</summary>
    public static string NameOf(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        string[] parts =
        [
            check.State.Name,
            check.Check.Mode.Words(),
            check.Check.Plugged switch
            {
                true => "plugged",
                false => "unplugged",
                null => "",
            },
            LimitNotation.Write(check.Check.Limit),
            check.Check.Remark,
        ];
        return string.Join(", ", parts.Where(p => p.Length > 0));
    }

    public static IReadOnlyList<OverrideRow> Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return
        [
            .. machine.Machine.Overrides.Select(o =>
            {
                var check = o.CheckKey is { } key ? machine.Checks.FirstOrDefault(c => c.Key == key) : null;
                return new OverrideRow(
                    o.Id.Value,
                    o.Address is { } at ? machine.Pins.GetValueOrDefault(at)?.Printed ?? "a pin that is gone"
                        : check is not null ? SheetOrder.NameOf(machine, check)
                        : "a check that is gone",
                    check is null ? "" : NameOf(check),
                    o.Colours?.Code ?? "",
                    o.Signal ?? "",
                    o.Limit is null ? "" : LimitNotation.Write(o.Limit),
                    o.Reason
                );
            }),
        ];
    }

    /// <summary>
    /// What the rows say. A row in which something is wrong leaves what it said before, and holds up no other; what has no row is so no
    /// more.
    /// </summary>
    public static (IReadOnlyList<Override> Overrides, IReadOnlyList<CheckProblem> Problems) Read(
        IReadOnlyList<OverrideRow> rows,
        ResolvedMachine machine
    )
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(machine);
        var before = machine.Machine.Overrides;
        if (rows.Count > MostRows)
        {
            return (before, [new CheckProblem("", "", $"There are {rows.Count} rows; at most {MostRows} are taken.")]);
        }

        var known = before.ToDictionary(o => o.Id.Value);
        var asWritten = Of(machine).ToDictionary(r => r.Id);
        var (overrides, problems) = (new List<Override>(), new List<CheckProblem>());
        foreach (var row in rows.DistinctBy(r => r.Id))
        {
            var was = known.GetValueOrDefault(row.Id);
            if (was is not null && asWritten[row.Id] == row)
            {
                // Untouched: it stays even where what it speaks of is gone by now.
                overrides.Add(was);
                continue;
            }

            var reader = new RowReader(row, machine);
            if (reader.Read() is not { } read)
            {
                problems.AddRange(reader.Problems);
                if (was is not null)
                {
                    overrides.Add(was);
                }
            }
            else if (read.CheckKey is not null && overrides.Exists(o => o.CheckKey == read.CheckKey))
            {
                problems.Add(new CheckProblem(row.Id, "pin", "This check has a row already."));
            }
            else
            {
                // The reading it was accepted by speaks for the limit that it made, and for no other.
                overrides.Add(read with { ReadingId = was?.Limit == read.Limit && was?.CheckKey == read.CheckKey ? was?.ReadingId : null });
            }
        }

        return (overrides, problems);
    }

    private sealed class RowReader(OverrideRow row, ResolvedMachine machine)
    {
        public List<CheckProblem> Problems { get; } = [];

        private void Refuse(string column, string problem) => Problems.Add(new CheckProblem(row.Id, column, problem));

        public Override? Read()
        {
            var (pin, reason) = (CheckTable.PinNamed(row.Pin, machine), row.Reason.Trim());
            var isOfCheck = row.Limit.Trim().Length > 0;
            var isOfPin = row.Colours.Trim().Length > 0 || row.Signal.Trim().Length > 0;
            if (!isOfCheck && !isOfPin)
            {
                Refuse("limit", "Say what is so here only: its colours, what it does, or what it should read.");
            }
            else if (isOfCheck && isOfPin)
            {
                Refuse("limit", "What a pin is and what a check should read are two rows.");
            }

            if (Override.OfReason(reason) is { } missing)
            {
                Refuse("reason", missing.Problem);
            }

            return isOfCheck ? OfCheck(pin, reason) : OfPin(pin, reason);
        }

        private Override? OfPin(ResolvedPin? pin, string reason)
        {
            if (pin is null)
            {
                Refuse("pin", $"There is no pin \"{row.Pin.Trim()}\" on {machine.Machine.Tag}.");
            }

            WireColours? colours = null;
            try
            {
                colours = row.Colours.Trim().Length > 0 ? WireColours.Read(row.Colours.Trim()) : null;
            }
            catch (FormatException refusal)
            {
                Refuse("colours", refusal.Message);
            }

            if (Rule.Text("signal", row.Signal.Trim(), MostWords) is { } tooLong)
            {
                Refuse("signal", tooLong.Problem);
            }

            var signal = row.Signal.Trim();
            return Problems.Count > 0
                ? null
                : new Override(row.Id, pin!.Address, null, colours, signal.Length > 0 ? signal : null, null, reason);
        }

        private Override? OfCheck(ResolvedPin? pin, string reason)
        {
            var at = machine
                .Checks.Where(c =>
                    pin is not null ? c.Check.Red == pin.Address : c.Check.Part.Equals(row.Pin.Trim(), StringComparison.OrdinalIgnoreCase)
                )
                .ToList();
            var said = row.Check.Trim();
            var meant = said.Length == 0 ? at : at.FindAll(c => NameOf(c).Equals(said, StringComparison.OrdinalIgnoreCase));
            if (at.Count == 0)
            {
                Refuse("pin", $"Nothing is checked at \"{row.Pin.Trim()}\" on {machine.Machine.Tag}.");
            }
            else if (meant.Count != 1)
            {
                Refuse("check", $"Which check there? {string.Join("; ", at.Select(NameOf))}.");
            }

            Limit? limit = null;
            try
            {
                limit = LimitNotation.ReadOne(row.Limit, meant is [var one] ? one.Check.Mode : null).Limit;
            }
            catch (NotationException refusal)
            {
                Refuse("limit", refusal.Message);
            }

            return Problems.Count > 0 ? null : new Override(row.Id, null, meant[0].Key, null, null, limit, reason);
        }
    }
}
