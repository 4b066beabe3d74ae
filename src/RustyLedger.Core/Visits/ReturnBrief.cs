namespace RustyLedger.Core.Visits;

/// <summary>How a visit may end; all of them honest.</summary>
public enum Ending
{
    Signed,
    WaitingForPart,
    NoFaultFound,
    TemporaryRepair,
    LeftSafe,
}

/// <summary>What an ended visit leaves to the next.</summary>
/// <param name="Left">What was left unplugged or temporary, a line each.</param>
/// <param name="Bring">What to bring, a line each.</param>
public sealed record EndedVisit(
    string Id,
    DateTimeOffset EndedAt,
    Ending Ending,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    string Note
);

/// <summary>The first thing the next visit shows.</summary>
/// <param name="VisitId">The last visit that left something open.</param>
/// <param name="Left">From every visit since the machine was last signed, newest first.</param>
public sealed record ReturnBrief(
    string VisitId,
    DateTimeOffset Since,
    Ending Ending,
    IReadOnlyList<string> Left,
    IReadOnlyList<string> Bring,
    string Note
)
{
    /// <summary>
    /// Something stays open from visit to visit until one is signed. No fault found leaves open what was left before,
    /// and by itself leaves nothing.
    /// </summary>
    /// <returns>Null where nothing is open.</returns>
    public static ReturnBrief? Of(IEnumerable<EndedVisit> visits)
    {
        ArgumentNullException.ThrowIfNull(visits);
        var since = visits.OrderByDescending(v => v.EndedAt).TakeWhile(v => v.Ending != Ending.Signed).ToList();
        var open = since.Find(v => v.Ending != Ending.NoFaultFound || v.Left.Count > 0 || v.Bring.Count > 0);
        return open is null
            ? null
            : new ReturnBrief(
                open.Id,
                open.EndedAt,
                open.Ending,
                [.. since.SelectMany(v => v.Left).Distinct()],
                [.. since.SelectMany(v => v.Bring).Distinct()],
                open.Note
            );
    }

    /// <summary>Whether the machine stands unsafe or with something temporary on it.</summary>
    public bool NeedsCare => Ending is Ending.LeftSafe or Ending.TemporaryRepair || Left.Count > 0;
}

public static class Endings
{
    /// <summary>The ending in a technician's words.</summary>
    public static string Words(this Ending ending) =>
        ending switch
        {
            Ending.Signed => "repaired and signed",
            Ending.WaitingForPart => "waiting for a part",
            Ending.NoFaultFound => "no fault found",
            Ending.TemporaryRepair => "temporary repair",
            _ => "left safe and tagged out",
        };
}
