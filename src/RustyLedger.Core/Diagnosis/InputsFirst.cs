using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// Nothing is condemned for what it does not give before what it is given was read: the volts at its input, and what a board waits for.
/// </summary>
internal static class InputsFirst
{
    // So much of what a healthy machine has there is enough to go on. Common practice, no source.
    private const double Enough = 0.7;

    /// <summary>What is to be seen of an input.</summary>
    /// <param name="IsAt">Whether an act reads it.</param>
    /// <param name="IsMet">Whether it is there by what an act read.</param>
    private sealed record Input(Func<Act, bool> IsAt, Func<Act, double, bool> IsMet, string Words);

    /// <summary>The first input of what is suspected that was not read to be there, with the act that reads it.</summary>
    public static (Act Act, string Why)? Of(
        Hypothesis cause,
        IReadOnlyList<Finding> findings,
        MachineDiagnosis model,
        CircuitDiagnosis circuit
    )
    {
        var failing = findings.LastOrDefault(MachineDiagnosis.IsFailing)?.Act.State;
        foreach (var part in cause.Parts)
        {
            foreach (var ways in new[] { Conditions(cause, part, model, circuit), Feed(cause, part, model, circuit) })
            {
                bool IsShown(Input input) =>
                    findings.Any(f =>
                        f is { IsDoubted: false, Showing: not Showing.No, Outcome.Kind: OutcomeKind.Number }
                        && IsLive(f.Act)
                        && input.IsAt(f.Act)
                        && input.IsMet(f.Act, f.Outcome.Value)
                    );
                // Where it cannot be read on this machine nobody waits for it.
                if (
                    !ways.Exists(all => all.TrueForAll(IsShown))
                    && ways.FirstOrDefault()?.Find(i => !IsShown(i)) is { } left
                    && model.Acts.Where(a => IsLive(a) && left.IsAt(a)).OrderByDescending(a => a.State == failing).FirstOrDefault()
                        is { } act
                )
                {
                    return (act, $"{part} {left.Words}: read it there");
                }
            }
        }

        return null;
    }

    private static bool IsLive(Act act) =>
        act is { Kind: ActKind.Read, Mode: MeterMode.DcVolts or MeterMode.AcVolts, IsUnplugged: false, SetUp: not { IsDead: true } };

    /// <summary>What a board's output waits for, each way in which it may come on.</summary>
    private static List<List<Input>> Conditions(Hypothesis cause, string part, MachineDiagnosis model, CircuitDiagnosis circuit)
    {
        if (circuit.WaitsFor(cause, part) is not { } when)
        {
            return [];
        }

        string Printed(PinAddress? pin) => pin is not null && model.Machine.Pins.TryGetValue(pin, out var at) ? at.Printed : "";
        return
        [
            .. when.Either.Select(all =>
                all.Select(wants => new Input(
                        a =>
                            PartWords.Same.Equals(Printed(a.Red), wants.Red)
                            && (wants.Black.Length == 0 || PartWords.Same.Equals(Printed(a.Black), wants.Black))
                            && model.Machine.Model.States.FirstOrDefault(s => s.Code == a.State) is { } state
                            && when.IsClosedIn(state),
                        (_, volts) => volts > wants.Volts == wants.Above,
                        $"waits for {(wants.Above ? "more" : "less")} than {Sums.Quantity.Write(wants.Volts, "V")} at {wants.Red}"
                    ))
                    .ToList()
            ),
        ];
    }

    /// <summary>Where a regulator or a transformer is fed.</summary>
    private static List<List<Input>> Feed(Hypothesis cause, string part, MachineDiagnosis model, CircuitDiagnosis circuit) =>
        circuit.FedAt(cause, part) is { Count: > 0 } pins
            ?
            [
                [
                    new Input(
                        a => a.Red is not null && pins.Contains(a.Red) && model.Healthy(a) is { Kind: PredictionKind.Number, Value: not 0 },
                        (a, volts) => volts / model.Healthy(a).Value > Enough,
                        $"is fed at {model.Machine.Pins[pins[0]].Printed}"
                    ),
                ],
            ]
            : [];
}
