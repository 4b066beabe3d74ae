using System.Text.RegularExpressions;

namespace RustyLedger.Core.Diagnosis;

/// <summary>Something seen, as it was understood.</summary>
/// <param name="Words">Of what was tried and how it was, such as <c>M3 weak, belt running</c>.</param>
public sealed record SeenWords(Act Act, ActOutcome Outcome, Showing Showing, bool IsDoubted, string Words);

/// <summary>
/// What a machine did and did not, as technicians say it: <c>zone 3 creeps when loaded, zone 4 stops; zones 1 and 2 run</c>. A line may
/// end in a question mark, which doubts it; <c>not showing</c> says that the fault was away just then.
/// </summary>
public static partial class SeenNotation
{
    private static readonly (OutcomeKind Kind, string[] Words)[] _outcomes =
    [
        (
            OutcomeKind.Sometimes,
            ["sometimes", "at times", "now and then", "on and off", "intermittent", "intermittently", "comes and goes"]
        ),
        (
            OutcomeKind.Weak,
            [
                "weak",
                "weakly",
                "creeps",
                "creep",
                "slow",
                "slowly",
                "dim",
                "sluggish",
                "halfway",
                "half open",
                "crooked",
                "too little",
                "faint",
            ]
        ),
        (
            OutcomeKind.No,
            [
                "does not",
                "do not",
                "doesn t",
                "don t",
                "did not",
                "will not",
                "won t",
                "never",
                "not",
                "no",
                "dead",
                "stops",
                "stop",
                "stopped",
                "stands",
                "out",
                "dark",
                "nothing",
                "fails",
                "failed",
                "off",
            ]
        ),
        (
            OutcomeKind.Works,
            [
                "works",
                "work",
                "worked",
                "runs",
                "run",
                "ran",
                "fine",
                "ok",
                "good",
                "well",
                "lit",
                "on",
                "moves",
                "turns",
                "glows",
                "shines",
            ]
        ),
    ];

    /// <summary>All that a text says of what this machine does; empty where none of it is understood.</summary>
    /// <param name="usual">How it was where the words do not say, as where a list of what works was asked for; null for nothing.</param>
    public static IReadOnlyList<SeenWords> Read(string text, MachineDiagnosis model, OutcomeKind? usual = null)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(model);
        if (SaidByBoards.Read(text, model) is { } said)
        {
            return [said];
        }

        if (DoneNotation.Read(text, model) is { Count: > 0 } done)
        {
            return done;
        }

        var doubted = text.TrimEnd().EndsWith('?');
        (var showing, text) = ShowingIn(text);
        // A state behind a comma belongs to what stands before it.
        foreach (var state in model.Machine.Model.States)
        {
            text = text.Replace($", {state.Name}", $" {state.Name}", StringComparison.OrdinalIgnoreCase);
        }

        List<SeenWords> seen = [];
        foreach (var clause in Clauses().Split(Listed(text)))
        {
            if (DoneNotation.Closed(clause, model) is { Count: > 0 } closed)
            {
                seen.AddRange(closed.Select(c => c with { Showing = showing, IsDoubted = doubted }));
                continue;
            }

            if (DoneNotation.Pulled(clause, model) is not var (plain, pulled))
            {
                continue;
            }

            var words = Words(plain);
            OutcomeKind outcome;
            if (model.IsFunction(words))
            {
                // "gate opens" and "wheel 2 turns" say by themselves that it does, but for a list of what does not.
                outcome = usual ?? OutcomeKind.Works;
            }
            else if (OutcomeOf(words) is var (told, at, length))
            {
                (outcome, words) = (told, [.. words.Take(at), .. words.Skip(at + length)]);
            }
            else if (usual is { } how)
            {
                outcome = how;
            }
            else
            {
                continue;
            }

            // "the others" are those like the ones that were named before.
            var named =
                words.Contains("others") || words.Contains("rest") ? model.OthersLike([.. seen.Select(s => s.Act)]) : model.Named(words);
            foreach (var called in named)
            {
                var act = pulled.Count > 0 ? MachineDiagnosis.WithPulled(called, pulled) : called;
                if (seen.TrueForAll(s => s.Act.Id != act.Id))
                {
                    seen.Add(
                        new SeenWords(act, new ActOutcome(outcome), showing, doubted, $"{model.WordsOf(act)}: {WordsOf(outcome, act)}")
                    );
                }
            }
        }

        return seen;
    }

    /// <summary>Whether a line or a remark says that the fault was showing just then, and the rest of it.</summary>
    public static (Showing Showing, string Without) ShowingIn(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var rest = Away().Replace(text, " ");
        return rest.Length != text.Length ? (Showing.No, rest)
            : Shows().Replace(text, " ") is var here && here.Length != text.Length ? (Showing.Yes, here)
            : (Showing.Unknown, text);
    }

    /// <summary>Whether a text says of something that it is so at times, whatever that is.</summary>
    public static bool SaysSometimes(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Clauses().Split(text).Any(c => OutcomeOf(Words(c)) is { Outcome: OutcomeKind.Sometimes });
    }

    /// <summary>How it was, in a word.</summary>
    public static string WordsOf(OutcomeKind outcome, Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        var isLamp = act.Kind == ActKind.Look;
        return outcome switch
        {
            OutcomeKind.Works => isLamp ? "lit" : "works",
            OutcomeKind.Weak => isLamp ? "dim" : "weak",
            OutcomeKind.Sometimes => isLamp ? "blinks" : "works at times",
            _ => isLamp ? "out" : "does nothing",
        };
    }

    internal static (OutcomeKind Outcome, int At, int Length)? OutcomeOf(List<string> words)
    {
        foreach (var (kind, all) in _outcomes)
        {
            foreach (var said in all)
            {
                var parts = said.Split(' ');
                for (var at = 0; at + parts.Length <= words.Count; at++)
                {
                    if (words.Skip(at).Take(parts.Length).SequenceEqual(parts))
                    {
                        return (kind, at, parts.Length);
                    }
                }
            }
        }

        return null;
    }

    /// <summary>Letters and digits in lower case, word by word.</summary>
    internal static List<string> Words(string text) => [.. Word().Matches(text.ToLowerInvariant()).Select(m => m.Value)];

    /// <summary><c>zones 1 and 2</c> is <c>zone 1 and zone 2</c>.</summary>
    private static string Listed(string text) =>
        Many().Replace(text, m => string.Join(" and ", Number().Matches(m.Groups[2].Value).Select(n => $"{m.Groups[1].Value} {n.Value}")));

    [GeneratedRegex(@"\b(not showing|while it works|fault away)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Away();

    [GeneratedRegex(@"\b(showing|while it fails|fault there)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Shows();

    [GeneratedRegex(@"[;.,]|\bbut\b|\bwhile\b|\balthough\b", RegexOptions.IgnoreCase)]
    private static partial Regex Clauses();

    [GeneratedRegex(@"[\p{L}\p{N}]+")]
    private static partial Regex Word();

    [GeneratedRegex(@"\b(\p{L}+?)s((?:\s*(?:,|and)?\s*\d+){2,})", RegexOptions.IgnoreCase)]
    private static partial Regex Many();

    [GeneratedRegex(@"\d+")]
    private static partial Regex Number();
}
