using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// How one gets at the places of a model, and what must be read before what; a line each, as <see cref="RoundRules"/> reads them.
/// </summary>
public sealed record RoundRuleSheet(IReadOnlyList<string> Lines)
{
    private const int MostLines = 60;

    public static RoundRuleSheet Empty { get; } = new([]);

    /// <summary>The lines as they are kept: trimmed, without those that say nothing.</summary>
    public RoundRuleSheet Kept() => new(Rule.Kept(Lines));

    /// <returns>The first line that is not understood; null where all are.</returns>
    public Refusal? Refusal()
    {
        if (Lines.Count > MostLines)
        {
            return new Refusal("lines", $"There are {Lines.Count} lines; at most {MostLines} fit.");
        }

        foreach (var (index, line) in Lines.Index())
        {
            try
            {
                _ = RoundRules.Read(line ?? "");
            }
            catch (NotationException refusal)
            {
                return new Refusal("lines", $"Line {index + 1}: {refusal.Message}");
            }
        }

        return null;
    }
}

/// <summary>One line: an access with its places or its minutes, or two places of which one comes first.</summary>
/// <param name="Access">What is opened, such as <c>cover off</c>; empty for a rule of before and after.</param>
/// <param name="Places">What it lays open; for a rule of before and after the first and the second.</param>
/// <param name="Minutes">What opening or closing it takes; null where the line does not say.</param>
public sealed record RoundRule(string Access, IReadOnlyList<string> Places, decimal? Minutes)
{
    public bool IsBefore => Access.Length == 0;
}

/// <summary>The rules of a model, laid over the checks of one machine.</summary>
public sealed partial class RoundRules
{
    private const string Example = "cover off: Z1, Z2-J2, or PS·+ before Z1, or cover off takes 4 min";
    private const int MostSigns = 200;

    private readonly ResolvedMachine _machine;
    private readonly IReadOnlyList<RoundRule> _rules;

    private RoundRules(ResolvedMachine machine, IReadOnlyList<RoundRule> rules) => (_machine, _rules) = (machine, rules);

    public static RoundRules Of(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return _ofMachines.GetValue(machine, m => new RoundRules(m, [.. m.Model.RoundRules.Lines.Select(Read)]));
    }

    // They are asked for with every reading, and are of the machine alone.
    private static readonly ConditionalWeakTable<ResolvedMachine, RoundRules> _ofMachines = [];
    private readonly ConcurrentDictionary<CheckKey, string> _access = new();

    /// <summary>What must be opened for a check; empty for the front, where nothing must.</summary>
    public string AccessOf(ResolvedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return _access.GetOrAdd(check.Key, _ => _rules.FirstOrDefault(r => !r.IsBefore && r.Places.Any(p => IsAt(check, p)))?.Access ?? "");
    }

    /// <summary>What opening or closing it takes; null where nobody said.</summary>
    public decimal? MinutesOf(string access) =>
        _rules.LastOrDefault(r => r.Minutes is not null && r.Access.Equals(access, StringComparison.OrdinalIgnoreCase))?.Minutes;

    /// <summary>The pairs of which the first is read before the second, by their index among the checks.</summary>
    public IReadOnlyList<(int First, int Second)> Before(IReadOnlyList<ResolvedCheck> checks)
    {
        ArgumentNullException.ThrowIfNull(checks);
        return
        [
            .. _rules
                .Where(r => r.IsBefore)
                .SelectMany(rule =>
                {
                    var first = checks.Index().Where(c => IsAt(c.Item, rule.Places[0])).Select(c => c.Index).ToList();
                    var second = checks.Index().Where(c => IsAt(c.Item, rule.Places[1])).Select(c => c.Index).ToList();
                    return first.SelectMany(f => second.Where(s => s != f).Select(s => (f, s)));
                }),
        ];
    }

    /// <summary>Names in the rules at which nothing is read here; an honest list is longer than one machine.</summary>
    public IReadOnlyList<string> Unknown() =>
        [.. _rules.SelectMany(r => r.Places).Where(p => !_machine.Checks.Any(c => IsAt(c, p))).Distinct()];

    /// <summary>
    /// A place is named as it is printed: a pin, a connector or part, or a position's prefix with all on its board; or the part or the
    /// remark of a check that is at no pin.
    /// </summary>
    private bool IsAt(ResolvedCheck check, string place)
    {
        if (check.Check.Red is not { } red || !_machine.Pins.TryGetValue(red, out var pin))
        {
            return check.Check.Part.Equals(place, StringComparison.OrdinalIgnoreCase);
        }

        return pin.Printed.Equals(place, StringComparison.OrdinalIgnoreCase)
            || pin.PrintedElement.Equals(place, StringComparison.OrdinalIgnoreCase)
            || pin.Printed.StartsWith($"{place}-", StringComparison.OrdinalIgnoreCase);
    }

    /// <exception cref="NotationException">Not understood; says where.</exception>
    public static RoundRule Read(string line)
    {
        ArgumentNullException.ThrowIfNull(line);
        if (line.Length > MostSigns)
        {
            throw new NotationException(line, MostSigns, $"a line has at most {MostSigns} signs", Example);
        }

        if (Takes().Match(line.Trim()) is { Success: true } takes)
        {
            return new RoundRule(
                takes.Groups["access"].Value.Trim(),
                [],
                decimal.Parse(takes.Groups["minutes"].Value.Replace(',', '.'), CultureInfo.InvariantCulture)
            );
        }

        if (BeforeSaid().Match(line.Trim()) is { Success: true } before)
        {
            var (first, second) = (before.Groups["first"].Value.Trim(), before.Groups["second"].Value.Trim());
            return first.Equals(second, StringComparison.OrdinalIgnoreCase)
                ? throw new NotationException(line, 0, $"{first} cannot come before itself", Example)
                : new RoundRule("", [first, second], null);
        }

        var colon = line.IndexOf(':', StringComparison.Ordinal);
        var access = colon > 0 ? line[..colon].Trim() : "";
        var places = line[(colon + 1)..].Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        return access.Length > 0 && places.Length > 0
            ? new RoundRule(access, places, null)
            : throw new NotationException(line, Math.Max(0, colon), "this is no rule of a round", Example);
    }

    [GeneratedRegex(
        @"^(?<access>\p{L}[^:,]{0,40}?)\s+takes\s+(?<minutes>\d{1,3}(?:[.,]\d)?)\s*min(?:utes?)?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Takes();

    [GeneratedRegex(@"^(?<first>[^:,]{1,60}?)\s+before\s+(?<second>[^:,]{1,60})$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex BeforeSaid();
}
