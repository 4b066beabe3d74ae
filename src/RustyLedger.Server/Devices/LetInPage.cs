using System.Net;

namespace RustyLedger.Server.Devices;

/// <summary>The one page that a device sees before it is let in; it needs nothing else of the ledger.</summary>
internal static class LetInPage
{
    private static readonly string _page = Read("let-in.html");

    public static string Style { get; } = Read("let-in.css");

    /// <param name="code">As it was scanned; empty for none.</param>
    /// <param name="wrong">Why it was not let in; empty before anybody tried.</param>
    public static string Of(string code, string wrong) =>
        _page
            .Replace("{code}", WebUtility.HtmlEncode(code), StringComparison.Ordinal)
            .Replace("{wrong}", wrong.Length == 0 ? "" : $"<p role=\"alert\">{WebUtility.HtmlEncode(wrong)}</p>", StringComparison.Ordinal);

    private static string Read(string name)
    {
        using var stream = typeof(LetInPage).Assembly.GetManifestResourceStream(name)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
