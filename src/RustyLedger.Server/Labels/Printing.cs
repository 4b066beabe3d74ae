using System.Globalization;
using System.Xml.Linq;
using PdfSharp.Drawing;
using PdfSharp.Pdf;
using RustyLedger.Core.Labels;

namespace RustyLedger.Server.Labels;

/// <summary>Printed pages as PDF and as SVG.</summary>
internal static class Printing
{
    private const double PointsPerMm = 72 / 25.4;

    public static byte[] Pdf(string title, IReadOnlyList<PrintedPage> pages)
    {
        PrintedFonts.Use();
        using var document = new PdfDocument();
        document.Info.Title = title;
        document.Info.Creator = "Rusty Ledger";
        var fonts = new Dictionary<(double, bool, bool), XFont>();
        foreach (var page in pages)
        {
            var paper = document.AddPage();
            (paper.Width, paper.Height) = (XUnit.FromMillimeter(page.Width), XUnit.FromMillimeter(page.Height));
            using var ink = XGraphics.FromPdfPage(paper);
            foreach (var shape in page.Shapes)
            {
                Draw(ink, shape, fonts);
            }
        }

        using var file = new MemoryStream();
        document.Save(file);
        return file.ToArray();
    }

    public static string Svg(string title, PrintedPage page)
    {
        XNamespace svg = "http://www.w3.org/2000/svg";
        XElement Made(string name, params (string, object)[] attributes) =>
            new(
                svg + name,
                attributes.Select(a => new XAttribute(
                    a.Item1,
                    a.Item2 is double d ? d.ToString("0.###", CultureInfo.InvariantCulture) : a.Item2
                ))
            );
        IEnumerable<(string, object)> Edge(double line) =>
            line > 0 ? [("fill", "none"), ("stroke", "#000"), ("stroke-width", line)] : [("fill", "#000")];
        var drawing = Made(
            "svg",
            ("width", $"{page.Width.ToString(CultureInfo.InvariantCulture)}mm"),
            ("height", $"{page.Height.ToString(CultureInfo.InvariantCulture)}mm"),
            ("viewBox", FormattableString.Invariant($"0 0 {page.Width} {page.Height}"))
        );
        drawing.Add(new XElement(svg + "title", title));
        drawing.Add(
            page.Shapes.Select(shape =>
                shape switch
                {
                    Box b => Made("rect", [("x", b.X), ("y", b.Y), ("width", b.Width), ("height", b.Height), .. Edge(b.Line)]),
                    Disc d => Made("circle", [("cx", d.X), ("cy", d.Y), ("r", d.Radius), .. Edge(d.Line)]),
                    Stroke s => Made(
                        "line",
                        ("x1", s.X1),
                        ("y1", s.Y1),
                        ("x2", s.X2),
                        ("y2", s.Y2),
                        ("stroke", "#000"),
                        ("stroke-width", s.Line)
                    ),
                    Words w => Text(
                        Made(
                            "text",
                            ("x", w.X),
                            ("y", w.Y),
                            ("font-size", w.Size),
                            (
                                "font-family",
                                $"{(w.IsRead ? PrintedFonts.Read : PrintedFonts.Said)}, {(w.IsRead ? "monospace" : "sans-serif")}"
                            ),
                            ("font-weight", w.IsBold ? "700" : "400"),
                            (
                                "text-anchor",
                                w.Anchor switch
                                {
                                    Anchor.Middle => "middle",
                                    Anchor.Right => "end",
                                    _ => "start",
                                }
                            )
                        ),
                        w.Text
                    ),
                    _ => throw new NotSupportedException(),
                }
            )
        );
        return new XDocument(drawing).ToString(SaveOptions.DisableFormatting);
    }

    private static XElement Text(XElement element, string text)
    {
        element.Value = text;
        return element;
    }

    private static void Draw(XGraphics ink, Shape shape, Dictionary<(double, bool, bool), XFont> fonts)
    {
        static double P(double mm) => mm * PointsPerMm;
        switch (shape)
        {
            case Box { Line: 0 } b:
                ink.DrawRectangle(XBrushes.Black, P(b.X), P(b.Y), P(b.Width), P(b.Height));
                break;
            case Box b:
                ink.DrawRectangle(new XPen(XColors.Black, P(b.Line)), P(b.X), P(b.Y), P(b.Width), P(b.Height));
                break;
            case Disc { Line: 0 } d:
                ink.DrawEllipse(XBrushes.Black, P(d.X - d.Radius), P(d.Y - d.Radius), P(2 * d.Radius), P(2 * d.Radius));
                break;
            case Disc d:
                ink.DrawEllipse(new XPen(XColors.Black, P(d.Line)), P(d.X - d.Radius), P(d.Y - d.Radius), P(2 * d.Radius), P(2 * d.Radius));
                break;
            case Stroke s:
                ink.DrawLine(new XPen(XColors.Black, P(s.Line)), P(s.X1), P(s.Y1), P(s.X2), P(s.Y2));
                break;
            case Words w:
                var key = (Math.Round(w.Size, 2), w.IsBold, w.IsRead);
                if (!fonts.TryGetValue(key, out var font))
                {
                    fonts[key] = font = new XFont(
                        w.IsRead ? PrintedFonts.Read : PrintedFonts.Said,
                        P(key.Item1),
                        w.IsBold ? XFontStyleEx.Bold : XFontStyleEx.Regular
                    );
                }

                ink.DrawString(
                    w.Text,
                    font,
                    XBrushes.Black,
                    P(w.X),
                    P(w.Y),
                    w.Anchor switch
                    {
                        Anchor.Middle => XStringFormats.BaseLineCenter,
                        Anchor.Right => XStringFormats.BaseLineRight,
                        _ => XStringFormats.BaseLineLeft,
                    }
                );
                break;
        }
    }
}
