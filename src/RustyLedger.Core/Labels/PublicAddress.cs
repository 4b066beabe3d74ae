namespace RustyLedger.Core.Labels;

/// <summary>The address under which a phone finds the ledger; it stands in the codes on doors and plugs.</summary>
public static class PublicAddress
{
    private const int MostSigns = 200;

    /// <param name="text">Such as <c>https://ledger.example</c>; empty for none.</param>
    /// <returns>What is wrong with it; null where it can be printed.</returns>
    public static Refusal? Refusal(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return text.Length == 0
            ? null
            : Rule.Text("publicAddress", text, MostSigns)
                ?? Rule.If(
                    !Uri.TryCreate(text, UriKind.Absolute, out var address)
                        || address.Scheme is not ("http" or "https")
                        || address.Query.Length > 0
                        || address.Fragment.Length > 0
                        || address.UserInfo.Length > 0,
                    "publicAddress",
                    $"\"{text}\" is no address a phone can open; write one such as https://ledger.example."
                );
    }

    /// <summary>Where a machine's code leads: what one wants to know at its door.</summary>
    /// <param name="address">One that can be printed; empty for none.</param>
    /// <returns>Null where there is no address.</returns>
    public static string? OfMachine(string address, string tag)
    {
        ArgumentNullException.ThrowIfNull(address);
        ArgumentNullException.ThrowIfNull(tag);
        return address.Length == 0 ? null : $"{address.TrimEnd('/')}/machines/{Uri.EscapeDataString(tag)}";
    }
}
