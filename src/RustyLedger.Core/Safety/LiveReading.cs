using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Safety;

/// <summary>What whoever measured said of volts on a machine that was thought dead.</summary>
public enum LiveAnswer
{
    /// <summary>It is live.</summary>
    Live,

    /// <summary>Read elsewhere: the line side of the isolator, a neighbouring machine, the known source, the tester's own volts.</summary>
    Elsewhere,
}

/// <summary>Volts read in the course of a visit that contradict what was thought isolated or dead.</summary>
/// <param name="Kind"><see cref="SafetyEventKind.FoundLive"/> or <see cref="SafetyEventKind.FoundUnexplained"/>.</param>
/// <param name="SourceIds">The sources it can come from.</param>
/// <param name="Words">The reading.</param>
public sealed record LiveReading(SafetyEventKind Kind, IReadOnlyList<string> SourceIds, string Words)
{
    // How far a source may lie over its nominal, an unloaded battery on charge or a light supply; common practice, no source.
    private const decimal OverNominal = 1.5m;

    // The peak of a sine, which a rectifier with a capacitor gives.
    private const decimal Peak = 1.4142m;

    /// <summary>
    /// A reading of volts above what is dead is news where no source that is known to be live can have given it. From the touch limit
    /// up, or in an energised state, it shows a source alive; between it is not explained. Nothing but a source's own nominal
    /// volts says that it cannot come from it; where none can, it may be any of them. Less than dead, and volts that the tester
    /// itself feeds (diode, ohms), say nothing.
    /// </summary>
    /// <param name="state">How safe the machine was thought.</param>
    /// <param name="energised">The reading's operating state is an energised one.</param>
    /// <returns>Null where it is no news.</returns>
    public static LiveReading? Of(SafetySheet sheet, ShopLimits limits, SafeState state, ReadingValue value, MeterMode mode, bool energised)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(limits);
        ArgumentNullException.ThrowIfNull(state);
        if (value is not NumberReading { Unit: Unit.Volts, Value: var volts } || mode is not (MeterMode.AcVolts or MeterMode.DcVolts))
        {
            return null;
        }

        var isAc = mode == MeterMode.AcVolts;
        var finding = limits.Of(volts, isAc, state.Place);
        if (finding == Finding.Dead)
        {
            return null;
        }

        var conditions = state.Sources.ToDictionary(s => s.Id, s => s.Condition);
        var sources = sheet.SourcesOrAssumed.Where(s => s.IsElectrical).ToList();
        var isLive = sources.ToLookup(s => conditions[s.Id] == SafeCondition.Live);
        if (isLive[true].Any(s => CanGive(s, Math.Abs(volts), isAc)) || !isLive[false].Any())
        {
            return null;
        }

        List<string> can = [.. isLive[false].Where(s => CanGive(s, Math.Abs(volts), isAc)).Select(s => s.Id)];
        return new LiveReading(
            finding == Finding.Live || energised ? SafetyEventKind.FoundLive : SafetyEventKind.FoundUnexplained,
            can.Count > 0 ? can : [.. isLive[false].Select(s => s.Id)],
            $"{value.Written} {(isAc ? "AC" : "DC")}"
        );
    }

    private static bool CanGive(EnergySource source, decimal volts, bool isAc) =>
        (source.IsAlternating || !isAc)
        && (source.Volts is not { } nominal || volts <= nominal * OverNominal * (source.IsAlternating && !isAc ? Peak : 1));

    /// <summary>The acts that such a reading writes: one for each source it speaks of, behind those that are there.</summary>
    public IEnumerable<SafetyAct> Acts(Reading reading, VisitId visit, IReadOnlyList<SafetyEvent> before)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(before);
        var order = before.Count == 0 ? reading.Order : Math.Max(reading.Order, before.Max(e => e.Order) + 1);
        return SourceIds
            .Select(
                (source, i) =>
                    new SafetyAct
                    {
                        Id = $"{reading.Id}-{i}",
                        VisitId = visit,
                        Order = order + i,
                        Kind = Kind,
                        Subject = source,
                        Typed = "",
                        Words = $"{Words} at {reading.RedPrinted}",
                        Target = reading.Id.Value,
                        DeviceTime = reading.DeviceTime,
                        ServerTime = reading.ServerTime,
                        PersonId = reading.PersonId,
                    }
            )
            .ToList();
    }
}
