using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Visits;

/// <summary>What is still open on a machine: temporary links that are in, and notices that nobody has called back.</summary>
public sealed record StillOpen(IReadOnlyList<TemporaryLink> Links, IReadOnlyList<Notice> Notices)
{
    public static StillOpen Nothing { get; } = new([], []);
}

/// <summary>How a visit may end with what is still open on its machine.</summary>
public static class EndingRule
{
    /// <param name="ending">Null while the visit is open.</param>
    /// <returns>Why it cannot end so, in words; null where it can.</returns>
    public static string? Refusal(Ending? ending, StillOpen open)
    {
        ArgumentNullException.ThrowIfNull(open);
        return ending switch
        {
            null or Ending.LeftSafe => null,
            Ending.Signed when open.Links.Count + open.Notices.Count > 0 => "It cannot be signed while something is open: "
                + string.Join(
                    "; ",
                    open.Links.Select(l => $"temporary link, {l.Where}").Concat(open.Notices.Select(n => $"life-safety notice to {n.Told}"))
                )
                + ".",
            _ when open.Links.FirstOrDefault(l => l.Bypasses) is { } bypass =>
                $"A protective device is bypassed ({bypass.Where}). Take the link out, or leave the machine safe and tagged out.",
            _ => null,
        };
    }
}
