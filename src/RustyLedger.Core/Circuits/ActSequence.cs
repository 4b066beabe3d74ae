namespace RustyLedger.Core.Circuits;

/// <summary>A switch that somebody turns.</summary>
public sealed record SwitchAct(string Switch, bool Closes);

/// <summary>
/// A state of a machine is reached from off by acts in an order; relays, latches and blown fuses remember what came before.
/// </summary>
public static class ActSequence
{
    /// <summary>The points from off through each act, the last of them last; it ends at the first that has none.</summary>
    /// <param name="off">The circuit with its switches as they stand before the first act.</param>
    /// <exception cref="ArgumentException">An act names no switch.</exception>
    public static IReadOnlyList<OperatingPoint> Run(Circuit off, IEnumerable<SwitchAct> acts)
    {
        ArgumentNullException.ThrowIfNull(off);
        ArgumentNullException.ThrowIfNull(acts);
        List<OperatingPoint> points = [OperatingPoint.Of(off)];
        var circuit = off;
        foreach (var act in acts)
        {
            if (points[^1].Problem is not null)
            {
                break;
            }

            circuit = circuit.With(
                circuit.Elements.OfType<Switch>().FirstOrDefault(s => s.Name == act.Switch) is { } found
                    ? found with
                    {
                        IsClosed = act.Closes,
                    }
                    : throw new ArgumentException($"There is no switch {act.Switch}.", nameof(acts))
            );
            points.Add(OperatingPoint.Of(circuit, points[^1].States));
        }

        return points;
    }
}
