namespace RustyLedger.Core.History;

/// <summary>When a fault counts as closed.</summary>
public static class FaultRule
{
    /// <returns>The field that is missing and what would do; null where it may be closed.</returns>
    public static (string Field, string Problem)? Refusal(bool closed, string proof, string? cause)
    {
        ArgumentNullException.ThrowIfNull(proof);
        return closed && (proof.Length == 0 || cause is null)
            ? (proof.Length == 0 ? "proof" : "cause", "A fault closes with its cause and its proof: the test that convicted the part.")
            : null;
    }
}
