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
}

/// <summary>One act of making safe, as it was made; acts are only ever added.</summary>
/// <param name="Order">Rises; made by the device.</param>
/// <param name="Subject">The source, store or <see cref="ProofPoint.Key"/> it is about; empty where it is about all.</param>
/// <param name="Volts">What was read; null unless <see cref="SafetyEventKind.Read"/>.</param>
/// <param name="Words">Lock number, the known source the meter was proved on, the reason for going live.</param>
/// <param name="Target">The act taken back.</param>
public sealed record SafetyEvent(string Id, long Order, SafetyEventKind Kind, string Subject, decimal? Volts, string Words, string? Target, DateTimeOffset At, string Person);

/// <summary>Two points between which dead must be proved.</summary>
/// <param name="Key">Identity within the sheet.</param>
/// <param name="SourceId">The source its conductors belong to; the charging source for a capacitor.</param>
public sealed record ProofPoint(string Key, string SourceId, string Red, string Black, bool IsAc)
{
    public string Words => $"{Red} to {Black}, {(IsAc ? "AC" : "DC")}";

    /// <summary>
    /// All that has to be read: of each electrical source every pair of conductors and each to earth, on AC and on DC;
    /// of each capacitor its own terminals on DC. Common practice, no source.
    /// </summary>
    public static IReadOnlyList<ProofPoint> Of(SafetySheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        var points = new List<ProofPoint>();
        foreach (var source in sheet.SourcesOrAssumed.Where(s => s.IsElectrical))
        {
            List<string> ends = [.. source.Conductors];
            if (source.HasEarth)
            {
                ends.Add("earth");
            }

            for (var i = 0; i < ends.Count; i++)
            {
                for (var j = i + 1; j < ends.Count; j++)
                {
                    points.Add(new ProofPoint($"{source.Id}/{ends[i]}/{ends[j]}/ac", source.Id, ends[i], ends[j], true));
                    points.Add(new ProofPoint($"{source.Id}/{ends[i]}/{ends[j]}/dc", source.Id, ends[i], ends[j], false));
                }
            }
        }

        points.AddRange(sheet.Charges.Select(c => new ProofPoint($"{c.Id}/charge", c.SourceId, $"{c.Name} +", $"{c.Name} −", false)));
        return points;
    }
}
