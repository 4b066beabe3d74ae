using System.Text;

namespace RustyLedger.Core.Machines;

/// <summary>
/// Text as the find box compares it: without case, spaces and dashes, and with the letters and digits that plates
/// make alike (O/0, I/1, S/5, B/8) brought together. A <c>?</c> stands for one sign that could not be read.
/// </summary>
public static class FindText
{
    public const char Between = '|';
    public const char Unknown = '?';

    /// <summary>All texts of a record in one line, each apart from the next.</summary>
    public static string Of(params IEnumerable<string> texts) =>
        string.Join(Between, texts.Select(Plain).Where(t => t.Length > 0).Distinct());

    public static string Plain(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var plain = new StringBuilder(text.Length);
        foreach (var sign in text)
        {
            if (char.IsLetterOrDigit(sign) || sign == Unknown)
            {
                plain.Append(
                    char.ToUpperInvariant(sign) switch
                    {
                        'O' => '0',
                        'I' or 'L' => '1',
                        'S' => '5',
                        'B' => '8',
                        var c => c,
                    }
                );
            }
        }

        return plain.ToString();
    }

    /// <summary>The words of what was typed, each to be found anywhere; empty for nothing to look for.</summary>
    public static IReadOnlyList<string> Words(string typed)
    {
        ArgumentNullException.ThrowIfNull(typed);
        return
        [
            .. typed
                .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
                .Select(Plain)
                .Where(w => w.Any(c => c != Unknown))
                .Distinct(),
        ];
    }

    /// <summary>Whether a word stands in a text; an unknown sign on either side answers to any one sign.</summary>
    /// <param name="text">As <see cref="Of"/> gives it.</param>
    /// <param name="word">As <see cref="Plain"/> gives it.</param>
    public static bool Holds(string text, string word)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(word);
        for (var start = 0; start + word.Length <= text.Length; start++)
        {
            var at = 0;
            while (at < word.Length && Alike(text[start + at], word[at]))
            {
                at++;
            }

            if (at == word.Length)
            {
                return true;
            }
        }

        return word.Length == 0;
    }

    private static bool Alike(char one, char other) =>
        one == other || (one == Unknown && other != Between) || (other == Unknown && one != Between);
}
