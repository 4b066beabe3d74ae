using System.Runtime.CompilerServices;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Measuring;

/// <summary>The order in which the checks of a machine are taken.</summary>
public static class SheetOrder
{
    /// <summary>
    /// State by state as the model lists them, the dead ones first; within a state down the power path, then the
    /// checks off the path by meter mode and place; and from there as <see cref="RoundPlan"/> saves time. In the order of
    /// the sheet: line by line, what no sheet has behind them in that same order.
    /// </summary>
    /// <param name="minutes">What changes take; null for what is assumed.</param>
    public static IReadOnlyList<ResolvedCheck> Of(
        ResolvedMachine machine,
        FeedGraph graph,
        RoundOrder order = RoundOrder.Path,
        RoundMinutes? minutes = null
    )
    {
        if (order == RoundOrder.Sheet)
        {
            return Plain(machine, graph, order);
        }

        // A round is worked out anew with every reading, and its order is of the machine alone.
        var by = minutes ?? RoundMinutes.Usual;
        if (!_planned.TryGetValue(machine, out var planned) || planned.By != by)
        {
            planned = new Planned(by, RoundPlan.Of(Plain(machine, graph, order), machine, RoundRules.Of(machine), by));
            _planned.AddOrUpdate(machine, planned);
        }

        return planned.Checks;
    }

    private sealed record Planned(RoundMinutes By, IReadOnlyList<ResolvedCheck> Checks);

    private static readonly ConditionalWeakTable<ResolvedMachine, Planned> _planned = [];

    private static IReadOnlyList<ResolvedCheck> Plain(ResolvedMachine machine, FeedGraph graph, RoundOrder order)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(graph);
        var states = machine.Model.States.OrderBy(s => s.Energised).Index().ToDictionary(s => s.Item.Code, s => s.Index);
        var place = graph.Order.Index().ToDictionary(p => graph[p.Item], p => p.Index);
        // A board type that fills several positions has its lines once for each.
        var positions = machine.Model.Positions.Index().ToDictionary(p => p.Item.Id, p => p.Index);
        return
        [
            .. machine
                .Checks.OrderBy(c => order == RoundOrder.Sheet ? c.Check.Line ?? int.MaxValue : 0)
                .ThenBy(c => order == RoundOrder.Sheet && c.Check.Red?.InPosition is { } at ? positions.GetValueOrDefault(at) : 0)
                .ThenBy(c => states[c.State.Code])
                .ThenBy(c => OnPath(c) is { } p ? p : int.MaxValue)
                .ThenBy(c => c.Check.Mode)
                .ThenBy(c => NameOf(machine, c), NaturalOrder.Instance)
                .ThenBy(c => c.Key),
        ];

        int? OnPath(ResolvedCheck check) => TracesPower(check) && place.TryGetValue(check.Check.Red!, out var at) ? at : null;
    }

    /// <summary>
    /// Whether a check speaks of power at its red pin: volts against a common, in an energised state, under a limit
    /// that no volts would fail. A pin that must read nothing proves nothing about what feeds it.
    /// </summary>
    public static bool TracesPower(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return (
                check.Limit is SupplyLimit
                || (check.Limit is NumericLimit limit && Judge.Band(limit, check.Tolerance) is { Low: > 0 } or { High: < 0 })
            )
            && check
                is {
                    State.Energised: true,
                    Check: { Target: CheckTarget.PinAndCommon, Red: not null, Mode: MeterMode.DcVolts or MeterMode.AcVolts }
                };
    }

    /// <summary>What a check is called: its red pin as printed, or the part that is looked at.</summary>
    public static string NameOf(ResolvedMachine machine, ResolvedCheck check) =>
        check.Check.Red is { } red ? machine.Pins[red].Printed : check.Check.Part;
}
