namespace RustyLedger.Core.Measuring;

/// <summary>A limit or a reading was not understood. Says where in the text and gives an example that works.</summary>
public sealed class NotationException : FormatException
{
    internal NotationException(string text, int at, string problem, string example)
        : base($"{problem} at place {at + 1} of \"{text}\"; write for example {example}")
    {
        Text = text;
        At = at;
        Problem = problem;
        Example = example;
    }

    /// <summary>The text as it was given.</summary>
    public string Text { get; }

    /// <summary>Zero-based place in <see cref="Text"/> of the first sign that was not understood.</summary>
    public int At { get; }

    public string Problem { get; }

    public string Example { get; }
}
