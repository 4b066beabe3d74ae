using System.Globalization;

namespace RustyLedger.Core.Settings;

public enum SettingKind
{
    Number,
    Choice,
    Text,
}

/// <summary>What a stored value of a board means and may be.</summary>
/// <param name="Code">As the display shows it, such as <c>d1</c>.</param>
/// <param name="Min">Least allowed, included; null for none. Only for numbers.</param>
/// <param name="Max">Most allowed, included; null for none. Only for numbers.</param>
/// <param name="Choices">What may be chosen, for a choice.</param>
/// <param name="Default">As it leaves the maker; empty where not known.</param>
/// <param name="Firmware">The firmware it is so under; empty for every one.</param>
public sealed record SettingDefinition(
    string Id,
    string Code,
    string Name,
    SettingKind Kind,
    string Unit,
    decimal? Min,
    decimal? Max,
    IReadOnlyList<string> Choices,
    string Default,
    string Firmware
)
{
    /// <summary>What must hold of it, whoever writes it; null where it does.</summary>
    public Refusal? Refusal() =>
        Rule.First(
            Rule.Needed("code", Code, 24),
            Rule.Text("name", Name, 80),
            Rule.Text("unit", Unit, 12),
            Rule.Text("default", Default, 120),
            Rule.Text("firmware", Firmware, 24),
            Rule.Lines("choices", Choices, 60, 60),
            Rule.If(Min > Max, "min", $"The least, {Min}, is above the most, {Max}."),
            Rule.If(Kind == SettingKind.Choice && Choices.Count == 0, "choices", "A choice needs at least one thing to choose.")
        );

    /// <summary>Whether a value is one the board can have. It is kept either way.</summary>
    public SettingFit Fit(string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        switch (Kind)
        {
            case SettingKind.Number when SettingValue.Number(value) is not { } number:
                return new(SettingFitKind.Outside, "not a number");
            case SettingKind.Number when SettingValue.Number(value) is { } number && number < Min:
                return new(SettingFitKind.Outside, $"below {Shown(Min)}");
            case SettingKind.Number when SettingValue.Number(value) is { } number && number > Max:
                return new(SettingFitKind.Outside, $"above {Shown(Max)}");
            case SettingKind.Choice when !Choices.Contains(value.Trim(), StringComparer.OrdinalIgnoreCase):
                return new(SettingFitKind.Outside, $"none of {string.Join(", ", Choices)}");
            default:
                return new(SettingFitKind.Fits, "");
        }
    }

    /// <summary>What it may be, in words: <c>0.5 to 6 s</c>.</summary>
    public string RangeWords =>
        Kind switch
        {
            SettingKind.Choice => string.Join(", ", Choices),
            SettingKind.Number => (Min, Max) switch
            {
                (not null, not null) => $"{Written(Min)} to {Shown(Max)}",
                (not null, null) => $"{Shown(Min)} or more",
                (null, not null) => $"{Shown(Max)} or less",
                _ => "",
            },
            _ => "",
        };

    /// <summary>The definitions that hold under a firmware: one for it alone goes before one for every firmware.</summary>
    public static IReadOnlyDictionary<string, SettingDefinition> Under(string firmware, IEnumerable<SettingDefinition> definitions) =>
        definitions
            .Where(d => d.Firmware.Length == 0 || d.Firmware.Equals(firmware, StringComparison.OrdinalIgnoreCase))
            .GroupBy(d => d.Code, StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.MaxBy(d => d.Firmware.Length)!, StringComparer.OrdinalIgnoreCase);

    private static string Written(decimal? value) => value!.Value.ToString("0.############", CultureInfo.InvariantCulture);

    private string Shown(decimal? value) => Unit.Length > 0 ? $"{Written(value)} {Unit}" : Written(value);
}

public enum SettingFitKind
{
    Fits,
    Outside,

    /// <summary>No definition speaks of the code.</summary>
    NotDefined,
}

/// <param name="Words">What is wrong with it; empty when it fits.</param>
public sealed record SettingFit(SettingFitKind Kind, string Words);

/// <summary>A code and what the display showed under it.</summary>
public sealed record SettingValue(string Code, string Value)
{
    /// <summary>The value as a number, with a point or a comma; null where it is none.</summary>
    public static decimal? Number(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return decimal.TryParse(
            text.Trim().Replace(',', '.').Replace('\u2212', '-'),
            NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out var number
        )
            ? number
            : null;
    }
}
