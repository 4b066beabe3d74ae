namespace RustyLedger.Server.Hosting;

/// <summary>What comes in as text, held to its length.</summary>
internal static class Texts
{
    public static string NewId() => Guid.CreateVersion7().ToString();

    public static string Needed(string field, string? text, int most)
    {
        var trimmed = Optional(field, text, most);
        return trimmed.Length > 0 ? trimmed : throw ProblemException.Bad(field, $"The {field} is missing.");
    }

    public static string Optional(string field, string? text, int most)
    {
        var trimmed = text?.Trim() ?? "";
        return trimmed.Length <= most ? trimmed : throw ProblemException.Bad(field, $"The {field} has {trimmed.Length} signs; at most {most} fit.");
    }

    /// <summary>An id made by a device: 1 to 64 letters, digits, dashes, dots or underlines.</summary>
    public static void Id(string field, string? id)
    {
        if (id is not { Length: > 0 and <= 64 } || !id.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.'))
        {
            throw ProblemException.Bad(field, $"The {field} must be 1 to 64 letters, digits, dashes, dots or underlines.");
        }
    }
}
