using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>How long what is left of a round takes, and of what that is made up.</summary>
/// <param name="Why">A line for each kind of change: how many, what each takes, and whether that was timed or is assumed.</param>
public sealed record RoundTime(decimal Minutes, int Readings, IReadOnlyList<string> Why)
{
    public static RoundTime Nothing { get; } = new(0, 0, []);

    /// <param name="rows">In their order.</param>
    /// <param name="last">Where the probes are now; null before the first reading.</param>
    public static RoundTime Of(IReadOnlyList<SheetRow> rows, Entry? last, ResolvedMachine machine, RoundMinutes minutes)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(minutes);
        var rules = RoundRules.Of(machine);
        var open = rows.Where(r => r.Reading is null && r.Skip is null or { Reason: Entry.Later }).ToList();
        if (open.Count == 0)
        {
            return Nothing;
        }

        var from = rows.FirstOrDefault(r => last?.CheckKey is { } key && r.Check.Key == key);
        var setUps = open.Select(r => RoundPlan.SetUpOf(r.Check, machine, rules)).ToList();
        if (from is not null)
        {
            setUps.Insert(0, RoundPlan.SetUpOf(from.Check, machine, rules));
        }

        var steps = setUps.Zip(setUps.Skip(1), (a, b) => (a, b)).ToList();
        List<string> why = [];
        var sum = 0m;
        void Count(int times, decimal each, string one, string many, int timed, bool isSaid = false)
        {
            if (times > 0)
            {
                sum += times * each;
                why.Add(
                    $"{times} {(times == 1 ? one : many)} at {Numbers.Write(each)} min"
                        + (
                            isSaid ? ", as the model says"
                            : timed > 0 ? $", timed {timed} {(timed == 1 ? "time" : "times")}"
                            : ", assumed"
                        )
                );
            }
        }

        void Changes(SetUpChange change, Func<SetUp, SetUp, bool> made, string one, string many) =>
            Count(steps.Count(s => made(s.a, s.b)), minutes[change].Minutes, one, many, minutes[change].Count);

        Changes(SetUpChange.Isolation, (a, b) => a.IsDead != b.IsDead, "change between dead and live", "changes between dead and live");
        Changes(SetUpChange.State, (a, b) => a.IsDead == b.IsDead && a.State != b.State, "change of state", "changes of state");
        foreach (
            var access in steps
                .Where(s => !s.a.Access.Equals(s.b.Access, StringComparison.OrdinalIgnoreCase))
                .GroupBy(s => s.b.Access.Length > 0 ? s.b.Access : s.a.Access, StringComparer.OrdinalIgnoreCase)
        )
        {
            var said = rules.MinutesOf(access.Key);
            Count(
                access.Count(),
                said ?? minutes[SetUpChange.Access].Minutes,
                $"time {access.Key}",
                $"times {access.Key}",
                said is null ? minutes[SetUpChange.Access].Count : 0,
                said is not null
            );
        }

        Changes(SetUpChange.Common, (a, b) => a.CommonMoves(b) == 1, "move of the black probe", "moves of the black probe");
        Changes(SetUpChange.Meter, (a, b) => a.Mode != b.Mode, "turn of the meter", "turns of the meter");
        Count(open.Count, minutes[SetUpChange.Reading].Minutes, "reading", "readings", minutes[SetUpChange.Reading].Count);
        return new RoundTime(Math.Ceiling(sum), open.Count, why);
    }
}
