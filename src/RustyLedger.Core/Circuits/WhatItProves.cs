using System.Runtime.CompilerServices;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Circuits;

/// <summary>What a lamp tells that is lit, by the circuit.</summary>
/// <param name="Lamp">As printed.</param>
/// <param name="States">In which it is lit on a healthy machine.</param>
/// <param name="Proves">Parts that cannot be open or dead while it is lit: one of their faults puts it out.</param>
/// <param name="ProvesNot">Loads that may be dead while it is lit all the same, each with a fault that does it.</param>
public sealed record LampProof(
    string Lamp,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<string> Proves,
    IReadOnlyList<(string Load, string Fault)> ProvesNot
);

/// <summary>What a fuse takes with it.</summary>
/// <param name="Takes">Loads that stop with it, lamps that go out among them.</param>
/// <param name="States">In which it carries a current.</param>
public sealed record FuseTaken(string Fuse, IReadOnlyList<string> Takes, IReadOnlyList<OperatingState> States);

/// <summary>What lamps prove and do not, and what each fuse feeds: nobody has to say what the circuit says.</summary>
public sealed record WhatItProves(IReadOnlyList<LampProof> Lamps, IReadOnlyList<FuseTaken> Fuses)
{
    // A load that draws less of its current than this has stopped, for whoever looks at it. Common practice, no source.
    private const double Stopped = 0.2;

    private static readonly ConditionalWeakTable<CircuitSurvey, WhatItProves> _of = [];

    /// <param name="survey">Of the machine; a fault is looked at in every state that is energised.</param>
    public static WhatItProves Of(CircuitSurvey survey)
    {
        ArgumentNullException.ThrowIfNull(survey);
        return _of.GetValue(survey, Make);
    }

    private static WhatItProves Make(CircuitSurvey survey)
    {
        var parts = survey.Machine.Parts;
        var states = survey.Machine.Machine.Model.States.Where(s => s.Energised).ToList();
        var loads = parts.Where(IsLoad).ToList();
        var lamps = parts.Where(p => p.Law.Kind is LawKind.Led or LawKind.Lamp).ToList();
        var healthy = states.ToDictionary(s => s.Code, s => loads.ToDictionary(l => l.Name, l => Amps(survey.PointIn(s, null), l)));
        bool Runs(OperatingState state, CircuitPart load) => healthy[state.Code][load.Name] > 0;

        var put = lamps.ToDictionary(l => l.Name, _ => new List<string>());
        var hides = lamps.ToDictionary(l => l.Name, _ => new Dictionary<string, string>());
        var taken = new Dictionary<string, HashSet<string>>();
        foreach (var fault in survey.Faults.OrderByDescending(f => f.Odds))
        {
            foreach (var state in states)
            {
                var point = survey.PointIn(state, fault);
                if (point.Problem is not null)
                {
                    continue;
                }

                var stopped = loads
                    .Where(l => Runs(state, l) && Amps(point, l) < Stopped * healthy[state.Code][l.Name])
                    .Select(l => l.Name)
                    .ToHashSet();
                if (fault.Kind == FaultKind.Open && parts.Any(p => p.Name == fault.Part && p.Law.IsProtection))
                {
                    (taken.TryGetValue(fault.Part, out var all) ? all : taken[fault.Part] = []).UnionWith(stopped);
                }

                foreach (var lamp in lamps.Where(l => Runs(state, l) && l.Name != fault.Part))
                {
                    if (stopped.Contains(lamp.Name))
                    {
                        // A short elsewhere puts it out as well; but nobody says of a lamp that it proves the absence of shorts.
                        if (fault.Kind is FaultKind.Open or FaultKind.StuckOff or FaultKind.NoOutput)
                        {
                            put[lamp.Name].Add(fault.Part);
                        }
                    }
                    else
                    {
                        foreach (var load in stopped.Where(s => s != fault.Part))
                        {
                            hides[lamp.Name].TryAdd(load, fault.Words);
                        }
                    }
                }
            }
        }

        return new WhatItProves(
            [
                .. lamps.Select(l => new LampProof(
                    l.Name,
                    [.. states.Where(s => Runs(s, l))],
                    [.. put[l.Name].Distinct()],
                    [.. hides[l.Name].Select(h => (h.Key, h.Value))]
                )),
            ],
            [
                .. parts
                    .Where(p => p.Law.IsProtection)
                    .Select(p => new FuseTaken(
                        p.Name,
                        [.. loads.Select(l => l.Name).Where(l => taken.GetValueOrDefault(p.Name)?.Contains(l) ?? false)],
                        [.. states.Where(s => Amps(survey.PointIn(s, null), p) > 0)]
                    )),
            ]
        );
    }

    private static bool IsLoad(CircuitPart part) =>
        part.Law.Kind is LawKind.Load or LawKind.Motor or LawKind.Lamp or LawKind.Led or LawKind.RelayCoil;

    // Less is a leak through a meter or an open contact.
    private const double LeastAmps = 1e-6;

    private static double Amps(OperatingPoint point, CircuitPart part)
    {
        var amps = part.Elements.Max(e => double.Hypot(point.Problem is null ? point.Amps(e) : 0, point.AlternatingAmps(e).Magnitude));
        return amps < LeastAmps ? 0 : amps;
    }
}
