namespace RustyLedger.Core.Labels;

public enum Anchor
{
    Left,
    Middle,
    Right,
}

/// <summary>Something printed, in millimetres from the upper left corner of the paper.</summary>
public abstract record Shape;

/// <param name="Line">Width of its edge; 0 for a filled box.</param>
public sealed record Box(double X, double Y, double Width, double Height, double Line) : Shape;

/// <param name="Line">Width of its edge; 0 for a filled disc.</param>
public sealed record Disc(double X, double Y, double Radius, double Line) : Shape;

public sealed record Stroke(double X1, double Y1, double X2, double Y2, double Line) : Shape;

/// <param name="Y">Of the line the letters stand on.</param>
/// <param name="Size">Height of the letters' body, in millimetres.</param>
/// <param name="IsRead">Read off a machine, and so in the fixed-width voice.</param>
public sealed record Words(double X, double Y, double Size, string Text, bool IsBold, bool IsRead, Anchor Anchor = Anchor.Left) : Shape
{
    // Mean width of a letter over the size of the two voices, measured on their own digits and small letters.
    private const double ReadWidth = 0.62;
    private const double SaidWidth = 0.53;

    /// <summary>About how wide a text is.</summary>
    public static double WidthOf(string text, double size, bool isRead)
    {
        ArgumentNullException.ThrowIfNull(text);
        return text.Length * size * (isRead ? ReadWidth : SaidWidth);
    }

    /// <summary>
    /// A text in the largest size up to <paramref name="size"/> at which it fits, cut where even the least size is too wide.
    /// </summary>
    public static Words Fitted(
        double x,
        double y,
        double size,
        double least,
        double width,
        string text,
        bool isBold,
        bool isRead,
        Anchor anchor = Anchor.Left
    )
    {
        ArgumentNullException.ThrowIfNull(text);
        var fits = text.Length == 0 ? size : Math.Min(size, width / WidthOf(text, 1, isRead));
        if (fits >= least)
        {
            return new Words(x, y, fits, text, isBold, isRead, anchor);
        }

        var signs = Math.Max(1, (int)(width / WidthOf("x", least, isRead)) - 1);
        return new Words(x, y, least, $"{text[..Math.Min(text.Length, signs)].TrimEnd()}…", isBold, isRead, anchor);
    }
}

/// <summary>A sheet of paper with what is printed on it.</summary>
public sealed record PrintedPage(double Width, double Height, IReadOnlyList<Shape> Shapes);
