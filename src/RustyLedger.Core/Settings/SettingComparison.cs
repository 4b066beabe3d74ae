using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Settings;

public enum SettingChange
{
    Same,
    Changed,

    /// <summary>The second has no such code.</summary>
    OnlyFirst,

    /// <summary>The first has no such code.</summary>
    OnlySecond,
}

/// <summary>One code in two snapshots side by side.</summary>
/// <param name="First">Null where the first has none.</param>
/// <param name="Second">Null where the second has none.</param>
public sealed record SettingPair(
    string Code,
    string Name,
    string Unit,
    string? First,
    string? Second,
    SettingChange Change,
    SettingFit FirstFit,
    SettingFit SecondFit
);

/// <summary>Two sets of settings side by side, in the order of their codes.</summary>
public static class SettingComparison
{
    /// <summary>Numbers are compared as numbers: <c>3.0</c> and <c>3</c> are the same; words without regard to case.</summary>
    /// <param name="first">Definitions that hold for the first.</param>
    public static IReadOnlyList<SettingPair> Of(
        IReadOnlyDictionary<string, SettingDefinition> first,
        IEnumerable<SettingValue> firstValues,
        IReadOnlyDictionary<string, SettingDefinition> second,
        IEnumerable<SettingValue> secondValues
    )
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        var (a, b) = (ByCode(firstValues), ByCode(secondValues));
        return
        [
            .. a
                .Keys.Union(b.Keys, StringComparer.OrdinalIgnoreCase)
                .Order(NaturalOrder.Instance)
                .Select(code =>
                {
                    var (one, two) = (a.GetValueOrDefault(code), b.GetValueOrDefault(code));
                    var definition = second.GetValueOrDefault(code) ?? first.GetValueOrDefault(code);
                    return new SettingPair(
                        code,
                        definition?.Name ?? "",
                        definition?.Unit ?? "",
                        one,
                        two,
                        Change(one, two, definition),
                        Fit(first, code, one),
                        Fit(second, code, two)
                    );
                }),
        ];
    }

    /// <summary>What a value is worth under the definitions; a code that none speaks of is kept and said to be so.</summary>
    public static SettingFit Fit(IReadOnlyDictionary<string, SettingDefinition> definitions, string code, string? value)
    {
        ArgumentNullException.ThrowIfNull(definitions);
        return value is null ? new(SettingFitKind.Fits, "")
            : definitions.TryGetValue(code, out var definition) ? definition.Fit(value)
            : new(SettingFitKind.NotDefined, "");
    }

    private static Dictionary<string, string> ByCode(IEnumerable<SettingValue> values) =>
        values
            .GroupBy(v => v.Code, StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.Last().Value, StringComparer.OrdinalIgnoreCase);

    private static SettingChange Change(string? first, string? second, SettingDefinition? definition) =>
        (first, second) switch
        {
            (not null, null) => SettingChange.OnlyFirst,
            (null, not null) => SettingChange.OnlySecond,
            (null, null) => SettingChange.Same,
            _ when definition?.Kind == SettingKind.Number
                    && SettingValue.Number(first) is { } one
                    && SettingValue.Number(second) is { } two => one == two ? SettingChange.Same : SettingChange.Changed,
            _ => first.Trim().Equals(second.Trim(), StringComparison.OrdinalIgnoreCase) ? SettingChange.Same : SettingChange.Changed,
        };
}
