namespace RustyLedger.Core.Wiring;

/// <summary>What can be said of one of several values of a pin, other than its state.</summary>
public static class SheetSaid
{
    /// <summary>This one or another is right, and nobody knows when which is.</summary>
    public const string Either = "~either";

    /// <summary>This one is no check.</summary>
    public const string LeftOut = "~leftOut";

    /// <summary>No code of a state begins so.</summary>
    public static bool IsWord(string said) => said is Either or LeftOut;
}
