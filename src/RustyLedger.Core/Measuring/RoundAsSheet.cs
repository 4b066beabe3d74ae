using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// The readings of a healthy machine as its sheet: what was read between two points becomes what should be read there. What lies on one
/// board becomes a check of the board type, what reaches further one of the model.
/// </summary>
/// <param name="Model">As it would be.</param>
/// <param name="BoardTypes">Those that change, as they would be.</param>
/// <param name="Added">Printed name and limit of each check that is new.</param>
/// <param name="Left">Why readings become no check, in words; empty where all do.</param>
public sealed record RoundAsSheet(Model Model, IReadOnlyList<BoardType> BoardTypes, IReadOnlyList<string> Added, IReadOnlyList<string> Left)
{
    /// <param name="machine">That was measured.</param>
    /// <param name="extras">The readings that no check asks for; the last between two points counts.</param>
    /// <param name="remark">Kept with each check, such as where and when it was read.</param>
    /// <param name="newId">Makes an id for each check.</param>
    public static RoundAsSheet Of(ResolvedMachine machine, IEnumerable<Entry> extras, string remark, Func<string> newId)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(extras);
        ArgumentNullException.ThrowIfNull(newId);
        var types = new Dictionary<BoardTypeId, BoardType>();
        var ofModel = new List<Check>(machine.Model.Checks);
        var (added, left) = (new List<string>(), new List<string>());
        // On a board type that fills several positions, or read twice, it is one check; the last reading is its limit.
        var seen = new HashSet<(PinAddress?, PinAddress?, MeterMode, string)>();
        foreach (var entry in extras.OrderByDescending(e => e.Order))
        {
            if (entry.Red is null || !machine.Pins.TryGetValue(entry.Red, out var red))
            {
                left.Add("a tapped place is no pin yet; name it first");
                continue;
            }

            if (entry.Value is not { Unsteady: false } value || LimitOf(value, entry.Mode) is not { } limit)
            {
                left.Add($"{red.Printed} read {entry.Value?.Written}: that would not stand still, or says nothing to judge by");
                continue;
            }

            if (
                machine.Checks.Any(c =>
                    c.Check.Red == entry.Red && c.Check.Black == entry.Black && c.Check.Mode == entry.Mode && c.State.Code == entry.State
                )
            )
            {
                left.Add($"{red.Printed} has a check in that state already");
                continue;
            }

            var isOfBoard = entry.Red is PinAddress.OnBoard && (entry.Black is null || entry.Black.IsBeside(entry.Red));
            var check = new Check(
                newId(),
                CheckTarget.PinAndCommon,
                isOfBoard ? new PinAddress.OnType(entry.Red.OwnPin!.Value) : entry.Red,
                isOfBoard && entry.Black is not null ? new PinAddress.OnType(entry.Black.OwnPin!.Value) : entry.Black,
                "",
                entry.Mode,
                entry.State,
                null,
                limit,
                remark
            );
            if (!seen.Add((check.Red, check.Black, check.Mode, check.State)))
            {
                continue;
            }

            added.Add($"{red.Printed} {LimitNotation.Write(limit)}");
            if (!isOfBoard)
            {
                ofModel.Add(check);
                continue;
            }

            var type = machine.BoardAt[entry.Red.InPosition!.Value];
            types[type.Id] = types.GetValueOrDefault(type.Id, type) is var now ? now with { Checks = [.. now.Checks, check] } : type;
        }

        added.Reverse();
        return new RoundAsSheet(machine.Model with { Checks = ofModel }, [.. types.Values], added, [.. left.Distinct()]);
    }

    /// <summary>Null where a value is none that could be expected again, such as a time.</summary>
    private static Limit? LimitOf(ReadingValue value, MeterMode mode) =>
        value switch
        {
            NumberReading { Unit: Unit.Volts or Unit.Ohms or Unit.Amps } n => new NominalLimit(
                n.Value,
                null,
                null,
                n.Unit,
                mode is MeterMode.AcVolts ? Current.Alternating
                    : mode is MeterMode.DcVolts ? Current.Direct
                    : Current.Unstated
            ),
            NumberReading { Unit: not Unit.Seconds } n => new NominalLimit(n.Value, 10, null, n.Unit, Current.Unstated),
            OverloadReading => new NoPathLimit(),
            ContactReading c => new ContactLimit(c.Closed),
            LampReading l => new LampLimit(l.On, l.Blinks),
            WordReading w => new WordLimit(w.Word),
            SoundReading s => new SoundLimit(s.Heard, s.Times),
            RotationReading { Forward: { } forward } => new RotationLimit(forward),
            SequenceReading s => new SequenceLimit(s.Steps),
            FuseReading => new FuseLimit(null),
            _ => null,
        };
}
