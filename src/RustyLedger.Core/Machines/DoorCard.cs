using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Machines;

/// <summary>Something that looks wrong at this machine and is as it should be, or was made other on purpose.</summary>
/// <param name="Where">The board, and the place on it; empty for the machine.</param>
/// <param name="Why">The reason; empty where none was given.</param>
public sealed record KnownOddity(string Where, string Words, string Why);

/// <summary>A lamp, and what it tells; what nobody wrote down is empty.</summary>
public sealed record DoorLamp(
    PositionId Position,
    string Board,
    string Designator,
    string Purpose,
    string Colour,
    string Steady,
    string Blinking,
    string Off,
    string Proves,
    string ProvesNot
);

/// <summary>A line of the alarm table: what the machine shows, blinks or beeps, and what is done about it.</summary>
public sealed record DoorAlarm(PositionId Position, string Board, string Words, string Meaning, string PointsTo, string ToDo);

/// <summary>
/// What one wants at a machine's door before anything is opened: what is normal there, what its lamps tell, and what its codes mean.
/// Nothing written down is no claim that there is nothing.
/// </summary>
public sealed record DoorCard(IReadOnlyList<KnownOddity> Normal, IReadOnlyList<DoorLamp> Lamps, IReadOnlyList<DoorAlarm> Alarms)
{
    /// <param name="notes">Of the machine; those that were found by eye as faults are left out.</param>
    public static DoorCard Of(ResolvedMachine machine, IEnumerable<BoardNote> notes)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(notes);
        var boards = machine.Model.Positions.Where(p => machine.BoardAt.ContainsKey(p.Id)).ToList();
        return new(
            [
                .. notes
                    .Where(n => !n.Kind.IsFound())
                    .OrderBy(n => n.Kind)
                    .ThenBy(n => n.At)
                    .Select(n => new KnownOddity(WhereOf(n, machine), n.Text.Length > 0 ? n.Text : n.Kind.Words(), n.Reason)),
                .. machine.Machine.Overrides.Select(o => new KnownOddity(
                    o.Address is { } at && machine.Pins.TryGetValue(at, out var pin) ? pin.Printed
                        : o.CheckKey is { } key && machine.Checks.FirstOrDefault(c => c.Key == key) is { Check.Red: { } red }
                            ? machine.Pins[red].Printed
                        : "",
                    Said(o),
                    o.Reason
                )),
            ],
            [
                .. boards.SelectMany(p =>
                    machine
                        .BoardAt[p.Id]
                        .Elements.Where(e => e.Kind == ElementKind.Indicator)
                        .Select(e => new DoorLamp(
                            p.Id,
                            p.Name,
                            e.Designator,
                            e.Purpose,
                            e.Detail.Colour,
                            e.Detail.Steady,
                            e.Detail.Blinking,
                            e.Detail.Off,
                            e.Detail.Proves,
                            e.Detail.ProvesNot
                        ))
                ),
            ],
            [
                .. boards.SelectMany(p =>
                    machine.BoardAt[p.Id].Codes.Select(c => new DoorAlarm(p.Id, p.Name, c.Words, c.Meaning, c.PointsTo, c.ToDo))
                ),
            ]
        );
    }

    private static string WhereOf(BoardNote note, ResolvedMachine machine)
    {
        var place = note.Place.Words(machine.BoardAt.GetValueOrDefault(note.PositionId));
        return machine.Model.Positions.FirstOrDefault(p => p.Id == note.PositionId) is { } position ? $"{position.Name}, {place}" : place;
    }

    private static string Said(Override said) =>
        string.Join(
            ", ",
            new[]
            {
                said.Signal is { Length: > 0 } signal ? signal : "",
                said.Colours is { Code.Length: > 0 } colours ? $"wire {colours.Code}" : "",
                said.Limit is { } limit ? $"should read {LimitNotation.Write(limit)}" : "",
            }.Where(w => w.Length > 0)
        );
}
