using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Circuits;

/// <summary>What a board wants to see before it switches an output on.</summary>
/// <param name="Red">As printed.</param>
/// <param name="Black">As printed; empty for the return of the machine's first source.</param>
public sealed record SwitchCondition(string Red, string Black, bool Above, double Volts)
{
    /// <summary>As people write it.</summary>
    internal string Written =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{Red}{(Black.Length > 0 ? $" to {Black}" : "")} {(Above ? '>' : '<')} {Volts:0.###} V"
        );
}

/// <summary>
/// In which states something is closed, as people write it: <c>running, standby</c>, <c>all but stopped</c>, <c>always</c>, <c>never</c>,
/// on what condition: <c>running if Z1-J1·1 to Z1-J1·2 &gt; 18 V</c>, and how long after all of that: <c>running after 3 s</c>. Conditions
/// are joined by <c>and</c> and by <c>or</c>; <c>and</c> binds closer.
/// </summary>
/// <param name="States">Empty with <paramref name="AllBut"/> for always.</param>
/// <param name="AllBut">In all but these.</param>
/// <param name="Either">Any of these is enough, of each all that it says; empty for no condition.</param>
public sealed partial record SwitchedWhen(
    IReadOnlyList<string> States,
    bool AllBut,
    IReadOnlyList<IReadOnlyList<SwitchCondition>> Either,
    bool IsSaid
)
{
    private const string Example = "running, standby, or all but stopped, or running if Z1-J1·1 to Z1-J1·2 > 18 V, or running after 3 s";

    /// <summary>How long all of it must have been so before it closes, in seconds; it opens at once.</summary>
    public double Delay { get; init; }

    /// <exception cref="NotationException">A condition is not understood; says where.</exception>
    public static SwitchedWhen Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var said = text.Trim();
        if (said.Length == 0)
        {
            return new SwitchedWhen([], false, [], false);
        }

        if (After().Match(said) is { Success: true } after)
        {
            var number = double.Parse(after.Groups["number"].Value.Replace(',', '.'), CultureInfo.InvariantCulture);
            return Read(said[..after.Index] is var before && before.Trim().Length > 0 ? before : "always") with
            {
                Delay =
                    number
                    * after.Groups["unit"].Value.ToLowerInvariant() switch
                    {
                        "ms" => 0.001,
                        "min" => 60,
                        _ => 1,
                    },
            };
        }

        var at = If().Match(said);
        var states = at.Success ? said[..at.Index].Trim() : said;
        IReadOnlyList<IReadOnlyList<SwitchCondition>> conditions = at.Success
            ? [.. Or().Split(said[(at.Index + at.Length)..]).Select(all => And().Split(all).Select(c => ConditionIn(c, said)).ToList())]
            : [];

        var allBut = states.StartsWith("all but ", StringComparison.OrdinalIgnoreCase);
        return states.ToUpperInvariant() switch
        {
            "ALWAYS" or "" => new SwitchedWhen([], true, conditions, true),
            "NEVER" => new SwitchedWhen([], false, conditions, true),
            _ => new SwitchedWhen(
                (allBut ? states[8..] : states).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries),
                allBut,
                conditions,
                true
            ),
        };
    }

    /// <summary>On what condition, such as <c>Z1-J1·1 to Z1-J1·2 &gt; 18 V and Z1-J4·3 &lt; 1.5 V</c>; empty for none.</summary>
    public string Conditions => string.Join(" or ", Either.Select(all => string.Join(" and ", all.Select(c => c.Written))));

    /// <summary>Its delay, such as <c>3 s</c>; empty for none.</summary>
    public string Waits => Delay > 0 ? string.Create(CultureInfo.InvariantCulture, $"{Delay:0.###} s") : "";

    private static SwitchCondition ConditionIn(string part, string said)
    {
        var match = Condition().Match(part.Trim());
        return match.Success
            ? new SwitchCondition(
                match.Groups["red"].Value.Trim(),
                match.Groups["black"].Value.Trim(),
                match.Groups["sign"].Value == ">",
                double.Parse(match.Groups["volts"].Value.Replace(',', '.'), CultureInfo.InvariantCulture)
            )
            : throw new NotationException(said, said.IndexOf(part, StringComparison.Ordinal), "this is no condition", Example);
    }

    /// <summary>Whether it is closed in a state; where nobody said, in every state that is energised.</summary>
    public bool IsClosedIn(OperatingState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        return IsSaid ? AllBut != States.Any(s => IsOf(state, s)) : state.Energised;
    }

    /// <summary>States that it names and the model does not have.</summary>
    public IReadOnlyList<string> Unknown(IReadOnlyList<OperatingState> states) =>
        [.. States.Where(s => !states.Any(state => IsOf(state, s)))];

    /// <summary>A state is called by its code, its name, or the beginning of its name up to a comma.</summary>
    internal static bool IsOf(OperatingState state, string said) =>
        state.Code.Equals(said, StringComparison.OrdinalIgnoreCase)
        || state.Name.Equals(said, StringComparison.OrdinalIgnoreCase)
        || state.Name.Split(',')[0].Trim().Equals(said, StringComparison.OrdinalIgnoreCase);

    [GeneratedRegex(@"(?:^|\s)if\s", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex If();

    [GeneratedRegex(
        @"(?:^|\s)after\s+(?<number>\d{1,5}(?:[.,]\d{1,3})?)\s*(?<unit>ms|s|min)$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex After();

    [GeneratedRegex(@"\sor\s", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Or();

    [GeneratedRegex(@"\sand\s", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex And();

    [GeneratedRegex(
        @"^(?<red>[^<>]{1,60}?)(?:\s+to\s+(?<black>[^<>]{1,60}?))?\s*(?<sign>[<>])\s*(?<volts>\d{1,5}(?:[.,]\d{1,3})?)\s*V?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Condition();
}
