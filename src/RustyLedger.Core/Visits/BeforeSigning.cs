using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Visits;

/// <summary>What a visit did, as far as it was written down on the way.</summary>
/// <param name="Faults">Cause, parts and what was done about each, in words.</param>
/// <param name="Fitted">Boards fitted during the visit.</param>
/// <param name="LinksRemoved">Temporary links taken out.</param>
/// <param name="Readings">Readings that count.</param>
public sealed record VisitDeeds(
    IReadOnlyList<string> Faults,
    IReadOnlyList<string> Fitted,
    IReadOnlyList<string> LinksRemoved,
    int Readings,
    int Snapshots,
    IReadOnlyList<string> Operated
)
{
    /// <summary>In a few sentences, to be accepted or changed; empty where nothing was written down.</summary>
    public string Words =>
        string.Join(
            ' ',
            new[]
            {
                Sentence("", Faults),
                Sentence("Fitted ", Fitted),
                Sentence("Took out ", LinksRemoved),
                Sentence("Operated ", Operated),
                Readings > 0 ? $"{Readings} reading{(Readings == 1 ? "" : "s")} taken." : "",
                Snapshots > 0 ? "Settings saved." : "",
            }.Where(s => s.Length > 0)
        );

    private static string Sentence(string head, IReadOnlyList<string> parts) =>
        parts.Count == 0 ? "" : $"{head}{string.Join("; ", parts)}.";
}

/// <summary>What is to be looked at before a visit is signed. It does not forbid it: the technician knows why.</summary>
/// <param name="StillBad">Readings out of limit of which no later one is within.</param>
/// <param name="NotOperated">Protective devices that nobody has operated since the repair.</param>
public sealed record BeforeSigning(IReadOnlyList<Entry> StillBad, IReadOnlyList<Interlock> NotOperated)
{
    /// <param name="rounds">Of the visit, the oldest first.</param>
    /// <param name="acts">Of the visit, with those that tell of a device operated.</param>
    /// <param name="repairedAt">When something was last changed; null where nothing was, so that all of the visit counts.</param>
    public static BeforeSigning Of(
        IEnumerable<RoundSheet> rounds,
        SafetySheet sheet,
        IReadOnlyList<SafetyEvent> acts,
        DateTimeOffset? repairedAt
    )
    {
        ArgumentNullException.ThrowIfNull(rounds);
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(acts);
        // A check, or what an extra reading lay between.
        var last = new Dictionary<object, Entry>();
        foreach (
            var entry in rounds
                .SelectMany(r => r.Rows.Select(row => row.Reading).OfType<Entry>().Concat(r.Extras).OrderBy(e => e.Order))
                .Where(e => e.Verdict.Kind != VerdictKind.NotJudged)
        )
        {
            last[entry.CheckKey is { } check ? check : (entry.Red, entry.Black, entry.Mode, entry.State)] = entry;
        }

        var takenBack = acts.Where(a => a.Kind == SafetyEventKind.TakenBack).Select(a => a.Target).ToHashSet();
        var operated = acts.Where(a =>
                a.Kind == SafetyEventKind.DeviceOperated && !takenBack.Contains(a.Id) && (repairedAt is null || a.At >= repairedAt)
            )
            .Select(a => a.Subject)
            .ToHashSet();
        return new BeforeSigning([.. last.Values.Where(e => e.Verdict.IsOut)], [.. sheet.Interlocks.Where(i => !operated.Contains(i.Id))]);
    }
}
