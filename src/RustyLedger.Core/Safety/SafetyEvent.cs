namespace RustyLedger.Core.Safety;

public enum SafetyEventKind
{
    SwitchedOff,
    Isolated,
    Locked,
    Released,

    /// <summary>The meter showed a known source before it was relied on.</summary>
    MeterProvedBefore,
    Read,
    MeterProvedAfter,

    /// <summary>A source is back on; all of them where no subject is named.</summary>
    LiveAgain,
    PlaceIsWet,
    PlaceIsDry,

    /// <summary>A line taken back.</summary>
    TakenBack,

    /// <summary>A reading of the visit showed it live; all of them where no subject is named.</summary>
    FoundLive,

    /// <summary>A reading of the visit showed more volts than dead, and not so many that they can only be a source.</summary>
    FoundUnexplained,

    /// <summary>The own lock was on throughout, so what a reading put in doubt need not be isolated anew.</summary>
    LockStands,

    /// <summary>A protective device was made to act, and acted; the subject is the device.</summary>
    DeviceOperated,
}

/// <summary>One act of making safe, as it was made; acts are only ever added.</summary>
/// <param name="Order">Rises; made by the device.</param>
/// <param name="Subject">The source, store or <see cref="ProofPoint.Key"/> it is about; empty where it is about all.</param>
/// <param name="Volts">What was read; null unless <see cref="SafetyEventKind.Read"/>.</param>
/// <param name="Words">Lock number, the known source the meter was proved on, the reason for going live.</param>
/// <param name="Target">The act taken back.</param>
public sealed record SafetyEvent(
    string Id,
    long Order,
    SafetyEventKind Kind,
    string Subject,
    decimal? Volts,
    string Words,
    string? Target,
    DateTimeOffset At,
    string Person
);

/// <summary>Two points between which dead must be proved.</summary>
/// <param name="Key">Identity within the sheet.</param>
/// <param name="SourceId">The source its conductors belong to; the charging source for a capacitor.</param>
public sealed record ProofPoint(string Key, string SourceId, string Red, string Black, bool IsAc)
{
    public string Words => $"{Red} to {Black}, {(IsAc ? "AC" : "DC")}";

    /// <summary>
    /// All that has to be read: of each electrical source every pair of conductors and each to earth, on AC and on DC;
    /// between two sources that float one line more; of each capacitor its own terminals on DC. Common practice, no source.
    /// </summary>
    public static IReadOnlyList<ProofPoint> Of(SafetySheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        var points = new List<ProofPoint>();
        void Both(string sourceId, string red, string black, string name)
        {
            points.Add(new ProofPoint($"{name}/ac", sourceId, red, black, true));
            points.Add(new ProofPoint($"{name}/dc", sourceId, red, black, false));
        }

        List<EnergySource> electrical = [.. sheet.SourcesOrAssumed.Where(s => s.IsElectrical)];
        foreach (var source in electrical)
        {
            foreach (var (i, red) in source.Ends.Index())
            {
                foreach (var black in source.Ends.Skip(i + 1))
                {
                    Both(source.Id, red, black, $"{source.Id}/{red}/{black}");
                }
            }
        }

        // Nothing holds two floating sources together; one may have risen over the other.
        List<EnergySource> floating = [.. electrical.Where(s => !s.HasEarth && s.Ends.Count >= 2)];
        foreach (var (i, one) in floating.Index())
        {
            foreach (var other in floating.Skip(i + 1))
            {
                Both(other.Id, $"{one.Name} {one.Ends[0]}", $"{other.Name} {other.Ends[0]}", $"{one.Id}+{other.Id}");
            }
        }

        points.AddRange(sheet.Charges.Select(c => new ProofPoint($"{c.Id}/charge", c.SourceId, $"{c.Name} +", $"{c.Name} −", false)));
        return points;
    }
}
