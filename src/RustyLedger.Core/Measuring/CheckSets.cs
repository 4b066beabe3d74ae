using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Measuring;

/// <summary>Checks that should read alike: three phases, six coils, four drops.</summary>
/// <param name="Name">As somebody called it, or what its members have in common.</param>
/// <param name="MostApart">The most that two of them may differ, in the unit of the readings; null where nobody said.</param>
/// <param name="IsSaid">Somebody said that they are a set, rather than their names.</param>
public sealed record CheckSet(string Name, IReadOnlyList<ResolvedCheck> Members, decimal? MostApart, bool IsSaid);

/// <summary>Finds the sets among the checks of a machine.</summary>
public static partial class CheckSets
{
    /// <summary>
    /// The sets that were said in the remark of each check, as in <c>set: phases</c> or <c>set: drops, within 0.05</c>, and those that
    /// their names tell: read in one mode and state under one limit, and called alike but for a number or a letter. Volts against a common
    /// are a set only where that was said, since what stands along a path falls off by itself.
    /// </summary>
    public static IReadOnlyList<CheckSet> Of(IEnumerable<ResolvedCheck> checks, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(checks);
        ArgumentNullException.ThrowIfNull(machine);
        List<(ResolvedCheck Check, string Name, decimal? MostApart, bool IsSaid)> named = [];
        foreach (var check in checks)
        {
            if (Said().Match(check.Check.Remark) is { Success: true } said)
            {
                named.Add(
                    (
                        check,
                        said.Groups["name"].Value.Trim(),
                        decimal.TryParse(said.Groups["apart"].Value.Replace(',', '.'), CultureInfo.InvariantCulture, out var apart)
                            ? apart
                            : null,
                        true
                    )
                );
            }
            else if (
                check.Check.Mode is MeterMode.Ohms or MeterMode.Diode or MeterMode.AcVolts or MeterMode.AcAmps or MeterMode.DcAmps
                && check.Limit is NumericLimit
                && Family(check, machine) is { } family
            )
            {
                named.Add((check, family, null, false));
            }
        }

        return
        [
            .. named
                .GroupBy(c =>
                    (
                        Name: c.Name.ToUpperInvariant(),
                        c.IsSaid,
                        c.Check.Check.Mode,
                        c.Check.State.Code,
                        // A board that fills several positions has the set once in each.
                        At: PositionOf(c.Check),
                        Limit: c.IsSaid ? "" : LimitNotation.Write(c.Check.Limit)
                    )
                )
                .Where(g => g.Count() > 1)
                .Select(g => new CheckSet(
                    g.Key.IsSaid ? g.First().Name : $"{Called(g.First().Check, machine)} to {Called(g.Last().Check, machine)}",
                    [.. g.Select(c => c.Check)],
                    g.Max(c => c.MostApart),
                    g.Key.IsSaid
                )),
        ];
    }

    private static string PositionOf(ResolvedCheck check) =>
        check.Origin.Level == Level.BoardType ? check.Key.Value[..Math.Max(0, check.Key.Value.IndexOf('/', StringComparison.Ordinal))] : "";

    /// <summary>What it is called with each number and single letter left out; null where it has none.</summary>
    private static string? Family(ResolvedCheck check, ResolvedMachine machine)
    {
        var name = Called(check, machine);
        var family = Counted().Replace(name, "…");
        return family != name && family.Trim('…', ' ').Length > 0 ? family : null;
    }

    private static string Called(ResolvedCheck check, ResolvedMachine machine) =>
        check.Check.Red is not { } red || !machine.Pins.TryGetValue(red, out var pin) ? check.Check.Part
        : pin.Pin.Signal.Length > 0 ? pin.Pin.Signal
        : check.Check.Remark;

    [GeneratedRegex(
        @"\bset:\s*(?<name>[^,;]+?)\s*(?:,\s*within\s+(?<apart>\d+(?:[.,]\d+)?)\s*(?:V|A|Ω|ohms?|Hz|s)?\s*(?:of each other)?)?\s*(?:;|$)",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Said();

    [GeneratedRegex(@"\b[A-Za-z]?\d+\b|(?<=\s)[A-Z](?=$|\s)", RegexOptions.CultureInvariant)]
    private static partial Regex Counted();
}

/// <summary>How a set stands in a round.</summary>
/// <param name="Left">The members that are still to be read.</param>
/// <param name="Bad">The members that are out by their own limits.</param>
/// <param name="Odd">The member that differs from all others; null where none does, and before all are read.</param>
/// <param name="Kind">Not judged until all are read; differs where one is odd or two stand too far apart.</param>
/// <param name="Words">What it comes to, in a sentence.</param>
/// <param name="Why">The numbers it rests on.</param>
public sealed record SetReport(
    CheckSet Set,
    IReadOnlyList<CheckKey> Left,
    IReadOnlyList<CheckKey> Bad,
    CheckKey? Odd,
    VerdictKind Kind,
    string Words,
    IReadOnlyList<string> Why
)
{
    /// <param name="nameOf">What a check is called.</param>
    /// <param name="bothEndsOf">The same with its other probe, for where that alone tells two of them apart.</param>
    public static SetReport Of(
        CheckSet set,
        IReadOnlyDictionary<CheckKey, SheetRow> rows,
        Func<ResolvedCheck, string> nameOf,
        Func<ResolvedCheck, string> bothEndsOf
    )
    {
        ArgumentNullException.ThrowIfNull(set);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(nameOf);
        ArgumentNullException.ThrowIfNull(bothEndsOf);
        // Diode drops share their pins: then both ends tell them apart.
        var areTold = set.Members.Select(nameOf).Distinct().Count() == set.Members.Count;
        var members = set.Members.Select(c => (Check: c, Name: areTold ? nameOf(c) : bothEndsOf(c), Entry: rows[c.Key].Reading)).ToList();
        List<CheckKey> left =
        [
            .. members.Where(m => m.Entry is null && rows[m.Check.Key].Skip is null or { Reason: Entry.Later }).Select(m => m.Check.Key),
        ];
        List<CheckKey> bad = [.. members.Where(m => m.Entry?.Verdict.IsOut == true).Select(m => m.Check.Key)];
        var badNames = string.Join(", ", members.Where(m => bad.Contains(m.Check.Key)).Select(m => m.Name));
        var whole = members.Count;
        if (left.Count > 0)
        {
            return new SetReport(
                set,
                left,
                bad,
                null,
                VerdictKind.NotJudged,
                bad.Count > 0
                    ? $"{badNames} of {set.Name} is bad: the others are likely hurt. Measure the rest, {left.Count} of {whole}"
                    : $"{set.Name}: {whole - left.Count} of {whole} read, judged when all are",
                []
            );
        }

        List<SetMember> read =
        [
            .. members
                .Select(m => (m.Name, Value: m.Entry?.Counted))
                .Where(m => m.Value is NumberReading or OverloadReading)
                .Select(m => new SetMember(m.Name, m.Value is NumberReading n ? (double)n.Value : null)),
        ];
        if (read.Count < 2)
        {
            return new SetReport(set, left, bad, null, VerdictKind.NotJudged, $"{set.Name}: fewer than two were read", []);
        }

        var unit = set.Members[0].Limit is NumericLimit limit ? limit.Unit.Symbol() : "";
        var together = SetOfReadings.Of(read, (double?)set.MostApart);
        var odd = together.Odd is { } one ? members.First(m => m.Name == one.Name).Check.Key : (CheckKey?)null;
        List<string> why =
        [
            .. read.Select(m => $"{m.Name} {(m.Value is { } value ? Sums.Quantity.Write(value, unit) : "OL")}"),
            together.Rule,
        ];
        if (together.Spread is { } spread)
        {
            why.Add(
                $"largest difference {Sums.Quantity.Write(spread, unit)}"
                    + (
                        set.MostApart is { } most
                            ? $", at most {Numbers.Write(most)} {unit}"
                            : ", more than 5 % is uneven (common practice)"
                    )
            );
        }

        var isPhases = read.Count == 3 && set.Members[0].Check.Mode is MeterMode.AcVolts or MeterMode.AcAmps;
        if (isPhases && together.Unbalance is { } unbalance)
        {
            why.Add($"unbalance {Sums.Quantity.Write(unbalance, "%")} by NEMA MG 1: the largest difference from the mean, of the mean");
        }

        // Two that differ accuse nobody; how far all may differ is a limit only where somebody said it.
        var kind =
            odd is not null || (together.IsSpreadTooLarge && set.MostApart is not null) ? VerdictKind.Differs
            : together.IsSpreadTooLarge ? VerdictKind.Marginal
            : VerdictKind.Within;
        var words =
            odd is not null ? $"{set.Name}: {together.Odd!.Name} stands apart from the others"
            : kind == VerdictKind.Within ? $"{set.Name}: all {read.Count} alike"
            : $"{set.Name}: uneven, and no single one stands apart";
        return new SetReport(set, left, bad, odd, kind, words + (bad.Count > 0 ? $"; out by its own limit: {badNames}" : ""), why);
    }
}
