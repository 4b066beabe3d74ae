using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What one reading changed in what is known of the power path.</summary>
public static class ReadingEffect
{
    /// <param name="before">The round without the reading.</param>
    /// <param name="after">The round with it.</param>
    /// <returns>A few words, or nothing where the reading says nothing of the path.</returns>
    public static string Words(Entry reading, RoundSheet before, RoundSheet after, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        ArgumentNullException.ThrowIfNull(machine);
        var (was, now) = (
            before.Paths.FirstOrDefault(p => p.State.Code == reading.State)?.Report,
            after.Paths.FirstOrDefault(p => p.State.Code == reading.State)?.Report
        );
        if (was is null || now is null || reading.Red is null || now.Graph.IndexOf(reading.Red) is not { } pin || reading.CheckKey is null)
        {
            return "";
        }

        if (now.Explained.FirstOrDefault(e => e.Bad == pin) is { } explained)
        {
            return $"no new fault: {string.Join(" and ", explained.By.Select(b => machine.Pins[now.Graph[b]].Printed))} "
                + $"before it explains this";
        }

        var (suspectsBefore, suspectsNow) = (Suspects(was), Suspects(now));
        var cleared = now.ClearedPins.Count(c => c) - was.ClearedPins.Count(c => c);
        return (suspectsBefore, suspectsNow, cleared) switch
        {
            (0, > 0, _) => $"opens a bad stretch of {Places(suspectsNow)}",
            (> 0, > 0, _) when suspectsNow < suspectsBefore => $"narrows the fault from {Places(suspectsBefore)} to {suspectsNow}",
            (> 0, > 0, _) when suspectsNow > suspectsBefore => $"widens what is under suspicion to {Places(suspectsNow)}",
            (> 0, 0, _) => "closes the bad stretch",
            (_, _, > 1) => $"clears {cleared} pins on the path",
            _ => "",
        };
    }

    private static int Suspects(PathReport report) => report.Suspects.Count;

    private static string Places(int count) => count == 1 ? "1 place" : $"{count} places";
}
