namespace RustyLedger.Core.Sums;

/// <summary>One thing to fill in.</summary>
/// <param name="Unit">Its symbol; empty for a text, a list or a choice.</param>
/// <param name="Example">What somebody would write there.</param>
/// <param name="IsNeeded">Without it nothing can be worked out.</param>
/// <param name="Choices">One of these; empty for whatever is typed.</param>
public sealed record SumField(string Name, string Label, string Unit, string Example, bool IsNeeded, IReadOnlyList<string> Choices);

public enum SumVerdict
{
    /// <summary>A figure and no judgement.</summary>
    Figure,
    Good,
    Bad,
    NotJudged,
}

public sealed record SumLine(string Label, string Value);

/// <param name="Headline">The answer in a few words.</param>
/// <param name="Says">In a sentence or two; what to do next included.</param>
/// <param name="Lines">Further figures.</param>
/// <param name="Working">How it was worked out, with the numbers, a step a line.</param>
public sealed record SumAnswer(
    SumVerdict Verdict,
    string Headline,
    string Says,
    IReadOnlyList<SumLine> Lines,
    IReadOnlyList<string> Working
);

/// <summary>A sum of the bench: what it asks, and how it answers.</summary>
/// <param name="What">What it is for, in a line.</param>
/// <param name="Answer">By what was typed, by the name of the field.</param>
public sealed record BenchSum(
    string Id,
    string Group,
    string Name,
    string What,
    IReadOnlyList<SumField> Fields,
    Func<SumInput, SumAnswer> Answer
);

/// <summary>What was typed into the fields of a sum.</summary>
public sealed class SumInput(BenchSum sum, IReadOnlyDictionary<string, string> typed)
{
    /// <exception cref="SumException">It is needed and missing, or none of the choices.</exception>
    public string Text(string name)
    {
        var field = Field(name);
        var text = typed.GetValueOrDefault(name)?.Trim() ?? "";
        if (text.Length > 400)
        {
            throw new SumException(name, $"{field.Label}: {text.Length} signs; at most 400 fit.");
        }

        return text.Length == 0 && field.IsNeeded ? throw new SumException(name, $"{field.Label} is missing.")
            : text.Length == 0 || field.Choices.Count == 0 || field.Choices.Contains(text) ? text
            : throw new SumException(name, $"{field.Label}: \"{text}\" is none of {string.Join(", ", field.Choices)}.");
    }

    /// <exception cref="SumException">It is needed and missing, or no number in its unit.</exception>
    public double Number(string name) => Maybe(name) ?? throw new SumException(name, $"{Field(name).Label} is missing.");

    /// <summary>More than nothing.</summary>
    /// <exception cref="SumException">It is missing, no number, or not above zero.</exception>
    public double Positive(string name) => Positive(name, Number(name));

    /// <inheritdoc cref="Positive(string)"/>
    public double? MaybePositive(string name) => Maybe(name) is { } value ? Positive(name, value) : null;

    public double? Maybe(string name)
    {
        var text = Text(name);
        return text.Length == 0 ? null : Quantity.Read(name, Field(name).Label, text, Field(name).Unit);
    }

    private double Positive(string name, double value) =>
        value > 0 ? value : throw new SumException(name, $"{Field(name).Label} must be more than 0.");

    private SumField Field(string name) => sum.Fields.Single(f => f.Name == name);
}
