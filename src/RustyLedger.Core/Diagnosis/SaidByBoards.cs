using System.Text.RegularExpressions;
using RustyLedger.Core.Codes;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// What a board says of itself, by a code that is in its table, or by when things happen: it speaks for the parts that it points at.
/// </summary>
internal static partial class SaidByBoards
{
    private const int LeastOfName = 3;

    /// <summary>Null where a line holds no code of this machine, or one that points at nothing that is suspected.</summary>
    public static SeenWords? Read(string text, MachineDiagnosis model)
    {
        var machine = model.Machine;
        var named = machine.Model.Positions.Where(p => Has(text, p.Name) || Has(text, p.Prefix)).ToList();
        List<(Position Position, BoardCode Code)> codes =
        [
            .. machine
                .Model.Positions.Where(p => named.Count == 0 || named.Contains(p))
                .SelectMany(p => machine.BoardAt.TryGetValue(p.Id, out var board) ? board.Codes.Select(c => (p, c)) : [])
                .Where(c => IsSaid(text, c.p, c.c)),
        ];
        // Two boards that would say the same: nobody knows which did.
        if (codes.Select(c => c.Position.Id).Distinct().Count() == 1)
        {
            // One way of blinking may mean this or that where nobody wrote which.
            var (position, _) = codes[0];
            List<string> parts = [.. codes.SelectMany(c => Pointed(c.Code.PointsTo, position.Prefix, model)).Distinct()];
            return Of(parts, $"{position.Name} {codes[0].Code.Words}: {string.Join(", or ", codes.Select(c => c.Code.Meaning))}");
        }

        if (IsTimed(text))
        {
            var meaning = machine.Model.Signatures.Signatures().Select(s => s.Meaning).FirstOrDefault(m => Contains(text, m));
            return meaning is null ? null : Of(Pointed(meaning, "", model), $"timed: {meaning}");
        }

        return null;

        SeenWords? Of(IReadOnlyList<string> parts, string words) =>
            parts.Count == 0
                ? null
                : new SeenWords(
                    PartActs.Code(parts, words),
                    new ActOutcome(OutcomeKind.No),
                    Showing.Yes,
                    text.TrimEnd().EndsWith('?') || (IsTimed(text) && !IsSure(text)),
                    words
                );
    }

    /// <summary>What a stopwatch kept, with how sure it is of what the times mean.</summary>
    public static bool IsTimed(string text) => text.StartsWith("Timed:", StringComparison.OrdinalIgnoreCase);

    private const int SurePercent = 80;

    private static bool IsSure(string text) =>
        Percent().Match(text) is not { Success: true } said
        || int.Parse(said.Groups["share"].Value, System.Globalization.CultureInfo.InvariantCulture) >= SurePercent;

    private static bool Contains(string text, string words) => words.Length > 0 && text.Contains(words, StringComparison.OrdinalIgnoreCase);

    private static bool Has(string text, string name) =>
        name.Length > 0 && Regex.IsMatch(text, $@"(?<![\p{{L}}\p{{N}}]){Regex.Escape(name)}(?![\p{{L}}\p{{N}}])", RegexOptions.IgnoreCase);

    /// <summary>By its meaning, as it is kept when it was looked up; else by its signs, or by how often it blinks or beeps.</summary>
    private static bool IsSaid(string text, Position position, BoardCode code)
    {
        // As it was looked up and kept. That somebody uses the same words of the machine is no code.
        if (Contains(text, $"{position.Name}:") && Contains(text, code.Meaning))
        {
            return true;
        }

        if (code.Kind == CodeKind.Display)
        {
            return code.Number is null
                && Shown().Match(text) is { Success: true } shown
                && PartWords.Same.Equals(shown.Groups["code"].Value, code.Shown);
        }

        return code is { Pattern: CodePattern.Groups, Groups: [var times] }
            && Counted().Match(text) is { Success: true } counted
            && int.Parse(counted.Groups["times"].Value, System.Globalization.CultureInfo.InvariantCulture) == times
            && counted.Groups["how"].Value.StartsWith("beep", StringComparison.OrdinalIgnoreCase) == (code.Kind == CodeKind.Beeps);
    }

    /// <summary>The suspected parts that words speak of: by designator, by connector with what hangs on it, or by name.</summary>
    /// <param name="prefix">Of the board that says so; empty for the machine.</param>
    public static IReadOnlyList<string> Pointed(string words, string prefix, MachineDiagnosis model)
    {
        List<string> parts = [];
        foreach (var phrase in Phrases().Split(words))
        {
            List<string> byPlace = [];
            foreach (Match designator in Designator().Matches(phrase))
            {
                byPlace.AddRange(
                    new[] { prefix.Length > 0 ? $"{prefix}-{designator.Value}" : "", designator.Value }
                        .Where(n => n.Length > 0)
                        .Select(model.PartsAt)
                        .FirstOrDefault(p => p.Count > 0)
                        ?? []
                );
            }

            parts.AddRange(
                byPlace.Count > 0
                    ? byPlace
                    : model.PartsNamed([.. SeenNotation.Words(phrase).Where(w => w.Length >= LeastOfName && !_plain.Contains(w))], prefix)
            );
        }

        return [.. parts.Distinct()];
    }

    private static readonly HashSet<string> _plain = ["the", "its", "and", "why", "not", "has", "been", "with", "that", "from", "opened"];

    [GeneratedRegex(
        @"\b(?:code|shows?|showed|displays?|displayed|reads?)\s+(?:the\s+)?(?:code\s+)?(?<code>[A-Za-z] ?\d{1,4}|\w{1,6})",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Shown();

    [GeneratedRegex(@"\b(?<times>\d{1,2})\s+(?<how>beeps?|blinks?|flashes)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Counted();

    [GeneratedRegex(@"(?<share>\d{1,3})\s*%")]
    private static partial Regex Percent();

    [GeneratedRegex(@"[,;]|\bor\b|\band\b", RegexOptions.IgnoreCase)]
    private static partial Regex Phrases();

    [GeneratedRegex(@"\b(?:[A-Z]{1,4}\d{0,2}-)?[A-Z]{1,4}\d{1,3}\b")]
    private static partial Regex Designator();
}
