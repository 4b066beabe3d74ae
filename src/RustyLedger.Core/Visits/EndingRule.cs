namespace RustyLedger.Core.Visits;

/// <summary>A temporary link that is still in.</summary>
/// <param name="Bypasses">It lies across a protective device, and not on a bench.</param>
public sealed record OpenLink(string Where, bool Bypasses);

/// <summary>How a visit may end with what is still open on its machine.</summary>
public static class EndingRule
{
    /// <param name="ending">Null while the visit is open.</param>
    /// <param name="notices">Who was told that what protects life is out of service, and not yet that it is back.</param>
    /// <returns>Why it cannot end so, in words; null where it can.</returns>
    public static string? Refusal(Ending? ending, IReadOnlyList<OpenLink> links, IReadOnlyList<string> notices)
    {
        ArgumentNullException.ThrowIfNull(links);
        ArgumentNullException.ThrowIfNull(notices);
        return ending switch
        {
            null or Ending.LeftSafe => null,
            Ending.Signed when links.Count + notices.Count > 0 => "It cannot be signed while something is open: "
                + string.Join(
                    "; ",
                    links.Select(l => $"temporary link, {l.Where}").Concat(notices.Select(n => $"life-safety notice to {n}"))
                )
                + ".",
            _ when links.FirstOrDefault(l => l.Bypasses) is { } bypass =>
                $"A protective device is bypassed ({bypass.Where}). Take the link out, or leave the machine safe and tagged out.",
            _ => null,
        };
    }
}
