using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// A reading that is off the book and right on this machine all the same, such as a supply that was set high on purpose: accepted with its
/// reason, it becomes what the check should read there from now on.
/// </summary>
public static class MachineNormal
{
    /// <param name="entry">The reading as it stands in its round.</param>
    /// <param name="limit">What should be read on this machine from now on.</param>
    /// <param name="reason">Why it is right.</param>
    /// <returns>The machine with it, in place of any limit the check had on this machine before.</returns>
    public static Outcome<Machine> Accept(ResolvedMachine machine, Entry entry, Limit limit, string reason, OverrideId id)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(entry);
        ArgumentNullException.ThrowIfNull(limit);
        ArgumentNullException.ThrowIfNull(reason);
        if (entry is not { CheckKey: { } key, Value: not null } || machine.Checks.FirstOrDefault(c => c.Key == key) is not { } check)
        {
            return new Refusal(
                "readingId",
                "This is no reading of a check of this machine, so that there is nothing it could be normal for."
            );
        }

        if (Override.OfReason(reason) is { } refusal)
        {
            return refusal;
        }

        var judged = (entry with { Limit = limit }).Verdict;
        return judged.Kind == VerdictKind.NotJudged
                ? new Refusal("limit", $"{entry.Value.Written} cannot be held against {LimitNotation.Write(limit)}: {judged.Reason}.")
            : judged.IsOut ? new Refusal("limit", $"{entry.Value.Written} is not within {LimitNotation.Write(limit)}: {judged.Reason}.")
            : machine.Machine with
            {
                Overrides =
                [
                    .. machine.Machine.Overrides.Where(o => o.CheckKey != check.Key || o.Limit is null),
                    new Override(id, null, check.Key, null, null, limit, reason) { ReadingId = entry.Id },
                ],
            };
    }

    /// <summary>What a reading would make the normal, with the tolerance that its limit had; empty where it says nothing.</summary>
    public static string Proposed(Entry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        return entry switch
        {
            { Counted: NumberReading read, Limit: NominalLimit was } => LimitNotation.Write(
                was with
                {
                    Nominal = read.Value,
                    Percent = was.Percent ?? (was.Absolute is null ? OwnTolerance : null),
                }
            ),
            { Counted: NumberReading read } => LimitNotation.Write(
                new NominalLimit(read.Value, OwnTolerance, null, read.Unit, Units.CurrentOf(entry.Mode))
            ),
            { Counted: OverloadReading } => LimitNotation.Write(new NoPathLimit()),
            { Counted: ContactReading contact } => LimitNotation.Write(new ContactLimit(contact.Closed)),
            { Counted: LampReading lamp } => LimitNotation.Write(new LampLimit(lamp.On, lamp.Blinks)),
            { Counted: SoundReading sound } => LimitNotation.Write(new SoundLimit(sound.Heard, sound.Times)),
            { Counted: RotationReading { Forward: { } forward } } => LimitNotation.Write(new RotationLimit(forward)),
            { Counted: WordReading word } => word.Word,
            _ => "",
        };
    }

    /// <summary>A machine's own value is known better than the book's, in per cent. Common practice, no source.</summary>
    private const decimal OwnTolerance = 5m;
}
