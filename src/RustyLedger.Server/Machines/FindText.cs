using System.Text;

namespace RustyLedger.Server.Machines;

/// <summary>
/// Text as the find box compares it: without case, spaces and dashes, and with the letters and digits that plates
/// make alike (O/0, I/1, S/5, B/8) brought together.
/// </summary>
internal static class FindText
{
    public const char Between = '|';

    public static string Of(params IEnumerable<string> texts) => string.Join(Between, texts.Select(Plain).Where(t => t.Length > 0));

    public static string Plain(string text)
    {
        var plain = new StringBuilder(text.Length);
        foreach (var sign in text)
        {
            if (char.IsLetterOrDigit(sign))
            {
                plain.Append(char.ToUpperInvariant(sign) switch { 'O' => '0', 'I' or 'L' => '1', 'S' => '5', 'B' => '8', var c => c });
            }
        }

        return plain.ToString();
    }
}
