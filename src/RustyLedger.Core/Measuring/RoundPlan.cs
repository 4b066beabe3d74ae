using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>Minutes of what changes within a round, 0 or more.</summary>
/// <param name="Begin">Before the first check.</param>
/// <param name="Between">From one check to the next.</param>
public sealed record RoundCost(Func<SetUp, decimal> Begin, Func<SetUp, SetUp, decimal> Between);

/// <summary>
/// The order of a round that takes the least time: few changes between dead and live, of state, of what is open, and of the common probe.
/// Down the power path within one state and one access; what must come before comes before. It begins from an order that keeps these and
/// moves whole stretches of alike checks while that saves time, so it never takes longer than the order it began from.
/// </summary>
public sealed class RoundPlan
{
    // Enough for some hundred checks; beyond it the order is as good as it came to be.
    private const int MostLooks = 400_000;

    // In minutes: for less nobody's order is turned about.
    private const decimal LeastSaved = 0.2m;

    private readonly IReadOnlyList<SetUp> _setUps;
    private readonly RoundCost _cost;
    private readonly List<int>[] _after;
    private readonly List<int>[] _before;
    private int[] _order;
    private int _looks;

    private RoundPlan(IReadOnlyList<SetUp> setUps, IEnumerable<(int First, int Second)> binding, RoundCost cost)
    {
        (_setUps, _cost) = (setUps, cost);
        _after = [.. setUps.Select(_ => new List<int>())];
        _before = [.. setUps.Select(_ => new List<int>())];
        foreach (var (first, second) in binding)
        {
            _after[first].Add(second);
            _before[second].Add(first);
        }

        _order = [.. Enumerable.Range(0, setUps.Count)];
    }

    /// <summary>
    /// The order, as indexes.
    /// </summary>
    /// <param name="setUps">Of the checks, in the plain order.</param>
    /// <param name="binding">Pairs of which the first stays before the second; a pair that contradicts those before it is left out.</param>
    public static IReadOnlyList<int> Of(IReadOnlyList<SetUp> setUps, IEnumerable<(int First, int Second)> binding, RoundCost cost)
    {
        ArgumentNullException.ThrowIfNull(setUps);
        ArgumentNullException.ThrowIfNull(binding);
        ArgumentNullException.ThrowIfNull(cost);
        var plan = new RoundPlan(setUps, Consistent(setUps.Count, binding), cost);
        var best = plan.Improved(plan.Allowed());
        var other = plan.Improved(plan.Nearest());
        return MinutesOf(setUps, best, cost) - MinutesOf(setUps, other, cost) >= LeastSaved ? other : best;
    }

    /// <summary>Minutes of an order, the readings' own not counted.</summary>
    public static decimal MinutesOf(IReadOnlyList<SetUp> setUps, IReadOnlyList<int> order, RoundCost cost)
    {
        ArgumentNullException.ThrowIfNull(setUps);
        ArgumentNullException.ThrowIfNull(order);
        ArgumentNullException.ThrowIfNull(cost);
        return (order.Count > 0 ? cost.Begin(setUps[order[0]]) : 0)
            + order.Zip(order.Skip(1), (a, b) => cost.Between(setUps[a], setUps[b])).Sum();
    }

    /// <summary>Minutes between two checks: each change that must be made is paid for.</summary>
    public static RoundCost CostOf(RoundMinutes minutes, RoundRules rules)
    {
        ArgumentNullException.ThrowIfNull(minutes);
        ArgumentNullException.ThrowIfNull(rules);
        decimal Opening(string access) => access.Length == 0 ? 0 : rules.MinutesOf(access) ?? minutes[SetUpChange.Access].Minutes;
        return new RoundCost(
            // What is opened is isolated first; who begins live pays for that.
            first => first.IsDead ? 0 : minutes[SetUpChange.Isolation].Minutes,
            (a, b) =>
                (a.IsDead != b.IsDead ? minutes[SetUpChange.Isolation].Minutes : 0)
                + (a.State != b.State && a.IsDead == b.IsDead ? minutes[SetUpChange.State].Minutes : 0)
                + (a.Access.Equals(b.Access, StringComparison.OrdinalIgnoreCase) ? 0 : Math.Max(Opening(a.Access), Opening(b.Access)))
                + (a.CommonMoves(b) * minutes[SetUpChange.Common].Minutes)
                + (a.Mode != b.Mode ? minutes[SetUpChange.Meter].Minutes : 0)
        );
    }

    /// <summary>The checks of a round, from their plain order into that of the least time.</summary>
    /// <param name="plain">State by state, down the path; see <see cref="SheetOrder"/>.</param>
    public static IReadOnlyList<ResolvedCheck> Of(
        IReadOnlyList<ResolvedCheck> plain,
        ResolvedMachine machine,
        RoundRules rules,
        RoundMinutes minutes
    )
    {
        ArgumentNullException.ThrowIfNull(plain);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(rules);
        var setUps = plain.Select(c => SetUpOf(c, machine, rules)).ToList();
        return [.. Of(setUps, rules.Before(plain).Concat(PathOf(plain, setUps)), CostOf(minutes, rules)).Select(i => plain[i])];
    }

    public static SetUp SetUpOf(ResolvedCheck check, ResolvedMachine machine, RoundRules rules)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(rules);
        return new SetUp(
            !check.State.Energised || check.Check.Mode.NeedsDead(),
            check.State.Code,
            rules.AccessOf(check),
            // Points of one return are one place for the probe only where they are one pin.
            check.Check.Black
                is { } black
            && machine.Pins.TryGetValue(black, out var pin)
                ? pin.Printed
                : "",
            check.Check.Mode
        );
    }

    /// <summary>Within one state and access the power path binds, one after the other.</summary>
    private static IEnumerable<(int First, int Second)> PathOf(IReadOnlyList<ResolvedCheck> plain, List<SetUp> setUps)
    {
        var last = new Dictionary<(string State, string Access), int>();
        foreach (var (i, check) in plain.Index().Where(c => SheetOrder.TracesPower(c.Item)))
        {
            var at = (setUps[i].State, setUps[i].Access.ToUpperInvariant());
            if (last.TryGetValue(at, out var before))
            {
                yield return (before, i);
            }

            last[at] = i;
        }
    }

    /// <summary>The pairs in their order, without those that would close a ring.</summary>
    private static List<(int First, int Second)> Consistent(int count, IEnumerable<(int First, int Second)> binding)
    {
        var after = new List<int>[count];
        List<(int, int)> kept = [];
        foreach (var (first, second) in binding)
        {
            if (!Reaches(second, first))
            {
                (after[first] ??= []).Add(second);
                kept.Add((first, second));
            }
        }

        return kept;

        bool Reaches(int from, int to)
        {
            if (from == to)
            {
                return true;
            }

            // Most pairs go down the order, and nothing that was kept leads up from where they go: then it is a short look.
            var seen = new HashSet<int> { from };
            var open = new Stack<int>([from]);
            while (open.TryPop(out var at))
            {
                foreach (var next in after[at] ?? [])
                {
                    if (next == to)
                    {
                        return true;
                    }

                    if (seen.Add(next))
                    {
                        open.Push(next);
                    }
                }
            }

            return false;
        }
    }

    /// <summary>The plain order, in which what must come later has been put off until it may come.</summary>
    private int[] Allowed()
    {
        var waits = _before.Select(b => b.Count).ToArray();
        var ready = new PriorityQueue<int, int>(Enumerable.Range(0, waits.Length).Where(i => waits[i] == 0).Select(i => (i, i)));
        var order = new List<int>(waits.Length);
        while (ready.TryDequeue(out var at, out _))
        {
            order.Add(at);
            foreach (var next in _after[at])
            {
                if (--waits[next] == 0)
                {
                    ready.Enqueue(next, next);
                }
            }
        }

        return [.. order];
    }

    private decimal Between(int a, int b) =>
        b < 0 ? 0
        : a < 0 ? _cost.Begin(_setUps[b])
        : _cost.Between(_setUps[a], _setUps[b]);

    /// <summary>From each check to the nearest that may come, and among those to the one that is next in the plain order.</summary>
    private int[] Nearest()
    {
        var waits = _before.Select(b => b.Count).ToArray();
        var ready = new SortedSet<int>(Enumerable.Range(0, waits.Length).Where(i => waits[i] == 0));
        var order = new List<int>(waits.Length);
        while (ready.Count > 0)
        {
            var from = order.Count > 0 ? order[^1] : -1;
            var at = ready.MinBy(i => Between(from, i));
            ready.Remove(at);
            order.Add(at);
            foreach (var next in _after[at])
            {
                if (--waits[next] == 0)
                {
                    ready.Add(next);
                }
            }
        }

        return [.. order];
    }

    private int[] Improved(int[] from)
    {
        (_order, _looks) = (from, 0);
        Improve();
        return _order;
    }

    /// <summary>Moves stretches of alike checks, the widest kind of likeness first, for as long as that saves time.</summary>
    private void Improve()
    {
        // Alike in ever more: dead or live with state and access, then the common probe too, then all, then each by itself.
        Func<SetUp, object>[] likeness =
        [
            s => s.IsDead,
            s => (s.IsDead, s.State, s.Access.ToUpperInvariant()),
            s => (s.IsDead, s.State, s.Access.ToUpperInvariant(), s.Common),
            s => s,
        ];
        bool moved;
        do
        {
            moved = false;
            foreach (var like in likeness)
            {
                while (_looks < MostLooks && MoveOne(like))
                {
                    moved = true;
                }
            }

            // Single ones last, where there are few enough to look at each.
            while (_looks < MostLooks && _order.Length <= 200 && MoveOne(null))
            {
                moved = true;
            }
        } while (moved && _looks < MostLooks);
    }

    /// <summary>The first move of a stretch that saves time is made.</summary>
    /// <param name="like">What makes a stretch; null for each check by itself.</param>
    private bool MoveOne(Func<SetUp, object>? like)
    {
        var n = _order.Length;
        var place = new int[n];
        foreach (var (at, item) in _order.Index())
        {
            place[item] = at;
        }

        for (var from = 0; from < n; )
        {
            var to = from;
            while (to + 1 < n && like is not null && like(_setUps[_order[to + 1]]).Equals(like(_setUps[_order[from]])))
            {
                to++;
            }

            if (Move(from, to, place))
            {
                return true;
            }

            from = to + 1;
        }

        return false;
    }

    private bool Move(int from, int to, int[] place)
    {
        var n = _order.Length;
        var (first, last) = (_order[from], _order[to]);
        var (previous, next) = (from > 0 ? _order[from - 1] : -1, to + 1 < n ? _order[to + 1] : -1);
        var gained = Between(previous, first) + Between(last, next) - Between(previous, next);
        if (gained < LeastSaved)
        {
            return false;
        }

        // How far it may go to either side before it passes what binds it.
        var (earliest, latest) = (0, n - 1);
        for (var i = from; i <= to; i++)
        {
            foreach (var before in _before[_order[i]])
            {
                earliest = place[before] < from ? Math.Max(earliest, place[before] + 1) : earliest;
            }

            foreach (var after in _after[_order[i]])
            {
                latest = place[after] > to ? Math.Min(latest, place[after] - 1) : latest;
            }
        }

        var (best, bestAt) = (LeastSaved, -1);
        for (var at = earliest; at <= latest + 1; at++)
        {
            // It would stand before what stands at `at` now; within itself and beside itself nothing changes.
            if (at >= from && at <= to + 1)
            {
                at = to + 1;
                continue;
            }

            _looks++;
            var (left, right) = (at > 0 ? _order[at - 1] : -1, at < n ? _order[at] : -1);
            var saved = gained - (Between(left, first) + Between(last, right) - Between(left, right));
            if (saved > best || (bestAt < 0 && saved == best))
            {
                (best, bestAt) = (saved, at);
            }
        }

        if (bestAt < 0)
        {
            return false;
        }

        var moving = _order[from..(to + 1)];
        var rest = _order[..from].Concat(_order[(to + 1)..]).ToList();
        rest.InsertRange(bestAt > to ? bestAt - moving.Length : bestAt, moving);
        _order = [.. rest];
        return true;
    }
}
