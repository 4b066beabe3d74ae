using RustyLedger.Core.Machines;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Circuits;

/// <summary>Something that cannot be as it was entered, since no healthy machine would stand so.</summary>
/// <param name="Words">In the words of the trade, such as <c>SB front sensor would get 12.9 V, and is for 5 V</c>.</param>
public sealed record WiringDoubt(string Part, string Words)
{
    // A load stands so many times its volts for a while, a source keeps so much of its own, and what gets less than this gets nothing.
    // Common practice, no source.
    private const double TooMuch = 1.5;
    private const double Kept = 0.6;
    private const double Nothing = 0.15;
    private const double Starves = 0.3;

    internal static IEnumerable<WiringDoubt> Of(CircuitSurvey survey)
    {
        var states = survey.Machine.Machine.Model.States.Where(s => s.Energised).ToList();
        var points = states.ConvertAll(s => (State: s, Point: survey.PointIn(s, null)));
        if (points.Find(p => p.Point.Problem is not null) is { Point.Problem: { } problem } bad)
        {
            yield return new WiringDoubt("", $"in {bad.State.Name}: {problem.Words}");
            yield break;
        }

        foreach (var part in survey.Machine.Parts.Where(p => !p.Law.IsThreePhase && p.Nodes.Count == 2 && p.Law.Has("volts")))
        {
            var rated = part.Law["volts"];
            var most = points
                .Select(p =>
                    Math.Max(
                        Math.Abs(p.Point.Between(part.Nodes[0], part.Nodes[1]) ?? 0),
                        p.Point.Alternating(part.Nodes[0], part.Nodes[1])?.Magnitude ?? 0
                    )
                )
                .ToList();
            if (part.Law.IsSource)
            {
                if (most.Count > 0 && most.Min() < Kept * rated)
                {
                    yield return new WiringDoubt(part.Name, $"{part.Name} would be pulled down to {Quantity.Write(most.Min(), "V")}");
                }
            }
            else if (part.Law.Kind is LawKind.Load or LawKind.Motor or LawKind.Lamp or LawKind.Led && most.Count > 0)
            {
                if (most.Max() > TooMuch * rated)
                {
                    yield return new WiringDoubt(
                        part.Name,
                        $"{part.Name} would get {Quantity.Write(most.Max(), "V")}, and is for {Quantity.Write(rated, "V")}"
                    );
                }
                else if (
                    (part.Law.IsElectronic || part.Law.Kind == LawKind.Led)
                    && points.Min(p => p.Point.Between(part.Nodes[0], part.Nodes[1]) ?? 0) is var least
                    && least < -Kept * rated
                )
                {
                    yield return new WiringDoubt(part.Name, $"{part.Name} would get {Quantity.Write(-least, "V")} the wrong way round");
                }
                else if (most.Max() < Nothing * rated && IsWired(part, survey.Machine))
                {
                    yield return new WiringDoubt(part.Name, $"{part.Name} would get nothing in any state");
                }
            }
        }

        foreach (var (part, volts, of) in Starved(survey, points))
        {
            yield return new WiringDoubt(
                part,
                $"{part} would get {Quantity.Write(volts, "V")} at most, where all that feeds the machine has {Quantity.Write(of, "V")}"
            );
        }

        foreach (var fuse in survey.Machine.Parts.Where(p => p.Law.IsProtection))
        {
            if (points.Find(p => fuse.Elements.Any(e => p.Point.States.GetValueOrDefault(e) == ElementState.Blown)) is { State: { } state })
            {
                yield return new WiringDoubt(fuse.Name, $"{fuse.Name} would {(fuse.Law.Trips ? "trip" : "blow")} in {state.Name}");
            }
        }
    }

    /// <summary>
    /// What is driven and says no volts of its own, on a machine with one level of volts alone: it was made for these.
    /// </summary>
    private static IEnumerable<(string Part, double Volts, double Of)> Starved(
        CircuitSurvey survey,
        List<(OperatingState State, OperatingPoint Point)> points
    )
    {
        var parts = survey.Machine.Parts;
        var fed = parts.Where(p => p.Law.IsSource && p.Law.Has("volts")).Select(p => p.Law["volts"]).DefaultIfEmpty(0).ToList();
        if (
            fed.Min() < Kept * fed.Max()
            || parts.Any(p => p.Law.IsThreePhase || p.Law.Kind is LawKind.Transformer or LawKind.Rectifier or LawKind.Regulator)
        )
        {
            return [];
        }

        return parts
            .Where(p => p.Law is { IsDriven: true, Missing: "" } && !p.Law.Has("volts") && p.Nodes.Count == 2 && IsWired(p, survey.Machine))
            .Select(p =>
                (
                    p.Name,
                    points
                        .Select(x =>
                            Math.Max(
                                Math.Abs(x.Point.Between(p.Nodes[0], p.Nodes[1]) ?? 0),
                                x.Point.Alternating(p.Nodes[0], p.Nodes[1])?.Magnitude ?? 0
                            )
                        )
                        .DefaultIfEmpty(0)
                        .Max(),
                    fed.Max()
                )
            )
            .Where(p => p.Item2 < Starves * p.Item3);
    }

    /// <summary>Both its ends lead somewhere: what is not wired at all is not entered yet, and no contradiction.</summary>
    private static bool IsWired(CircuitPart part, MachineCircuit machine) =>
        part.Nodes.All(n =>
            n == Circuit.Reference || machine.Circuit!.Elements.Any(e => !part.Elements.Contains(e.Name) && e.Nodes.Contains(n))
        );
}
