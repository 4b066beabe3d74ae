using PdfSharp.Fonts;

namespace RustyLedger.Server.Labels;

/// <summary>The two voices of the ledger as they are printed; they ship with the server, since paper knows no web fonts.</summary>
internal sealed class PrintedFonts : IFontResolver
{
    public const string Said = "Atkinson Hyperlegible Next";
    public const string Read = "Atkinson Hyperlegible Mono";

    private static readonly Lock Once = new();

    /// <summary>PDFsharp has one resolver for the whole process.</summary>
    public static void Use()
    {
        lock (Once)
        {
            GlobalFontSettings.FontResolver ??= new PrintedFonts();
        }
    }

    public FontResolverInfo ResolveTypeface(string familyName, bool bold, bool italic) =>
        new($"AtkinsonHyperlegible{(familyName == Read ? "Mono" : "Next")}_{(bold ? "700Bold" : "400Regular")}");

    public byte[]? GetFont(string faceName)
    {
        using var stream =
            typeof(PrintedFonts).Assembly.GetManifestResourceStream(faceName)
            ?? throw new InvalidOperationException($"The font {faceName} is not in the server.");
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }
}
