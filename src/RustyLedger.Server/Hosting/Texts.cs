namespace RustyLedger.Server.Hosting;

/// <summary>What comes in as text, held to its length.</summary>
internal static class Texts
{
    private const int MostListBytes = 5 * 1024 * 1024;

    /// <summary>
    /// A version for a text that is one of several in its record: who writes another of them does not get in the way.
    /// The same text has the same version.
    /// </summary>
    public static int VersionOf(string text) =>
        System.Buffers.Binary.BinaryPrimitives.ReadInt32LittleEndian(
            System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(text))
        ) & int.MaxValue;

    public static string NewId() => Guid.CreateVersion7().ToString();

    public static string Needed(string field, string? text, int most)
    {
        var trimmed = Optional(field, text, most);
        return trimmed.Length > 0 ? trimmed : throw ProblemException.Bad(field, $"The {field} is missing.");
    }

    public static string Optional(string field, string? text, int most)
    {
        var trimmed = text?.Trim() ?? "";
        return trimmed.Length <= most
            ? trimmed
            : throw ProblemException.Bad(field, $"The {field} has {trimmed.Length} signs; at most {most} fit.");
    }

    public static IReadOnlyList<string> Lines(string field, IReadOnlyList<string>? lines, int mostLines, int most)
    {
        var kept = (lines ?? []).Select(l => Optional(field, l, most)).Where(l => l.Length > 0).ToList();
        return kept.Count <= mostLines
            ? kept
            : throw ProblemException.Bad(field, $"The {field} have {kept.Count} lines; at most {mostLines} fit.");
    }

    public static int? Within(string field, int? number, int least, int most) =>
        number is null || (number >= least && number <= most)
            ? number
            : throw ProblemException.Bad(field, $"The {field} are {number}; from {least} to {most} is taken.");

    /// <summary>A list sent as text: UTF-8, at most 5 MB.</summary>
    public static async Task<string> Body(HttpRequest request, string field, CancellationToken cancel)
    {
        using var body = new MemoryStream();
        await request.Body.CopyToAsync(body, cancel);
        return body.Length <= MostListBytes
            ? System.Text.Encoding.UTF8.GetString(body.ToArray())
            : throw ProblemException.Bad(
                field,
                $"The list has {body.Length / 1024 / 1024} MB; at most {MostListBytes / 1024 / 1024} are taken."
            );
    }

    /// <summary>One of a kind's names in an address, where the framework would take only its exact case.</summary>
    public static T Choice<T>(string field, string text)
        where T : struct, Enum =>
        Enum.TryParse<T>(text, ignoreCase: true, out var value) && Enum.IsDefined(value)
            ? value
            : throw ProblemException.Bad(
                field,
                $"The {field} is \"{text}\"; it is one of "
                    + $"{string.Join(", ", Enum.GetNames<T>().Select(n => char.ToLowerInvariant(n[0]) + n[1..]))}."
            );

    /// <summary>An id made by a device: 1 to 64 letters, digits, dashes, dots or underlines.</summary>
    public static void Id(string field, string? id)
    {
        if (id is not { Length: > 0 and <= 64 } || !id.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.'))
        {
            throw ProblemException.Bad(field, $"The {field} must be 1 to 64 letters, digits, dashes, dots or underlines.");
        }
    }
}
