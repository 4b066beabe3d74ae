using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Machines;

/// <summary>When a variant applies; everything that is stated must hold, both ends of a range included.</summary>
/// <param name="From">First build day; null for no beginning.</param>
/// <param name="To">Last build day; null for no end.</param>
/// <param name="SerialPrefix">What the serial number begins with; empty for any.</param>
/// <param name="SerialFrom">Least of the digits that end the serial number; null for no least.</param>
/// <param name="SerialTo">Greatest of them.</param>
/// <param name="Volts">Of the supply; null for any.</param>
/// <param name="Phases">Of the supply; null for any.</param>
/// <param name="Finish">Of the housing; empty for any.</param>
public sealed record VariantRule(
    DateOnly? From,
    DateOnly? To,
    string SerialPrefix,
    long? SerialFrom,
    long? SerialTo,
    decimal? Volts,
    int? Phases,
    string Finish
)
{
    public bool HasDate => From is not null || To is not null;
    public bool HasSerial => SerialPrefix.Length > 0 || SerialFrom is not null || SerialTo is not null;
    public bool HasSupply => Volts is not null || Phases is not null;

    public string Words => string.Join(", ", new[]
            {
                (From, To) switch
                {
                    ({ } from, { } to) => $"built {from:yyyy-MM-dd} to {to:yyyy-MM-dd}",
                    ({ } from, null) => $"built from {from:yyyy-MM-dd}",
                    (null, { } to) => $"built up to {to:yyyy-MM-dd}",
                    _ => "",
                },
                HasSerial
                    ? $"serial {SerialPrefix}{(SerialFrom, SerialTo) switch
        {
            ({ } from, { } to) => $" {from} to {to}",
            ({ } from, null) => $" from {from}",
            (null, { } to) => $" up to {to}",
            _ => "…",
        }}"
                    : "",
                string.Join(' ', new[] { Volts is { } v ? $"{v:0.#} V" : "", Phases is { } p ? $"{p}~" : "" }.Where(w => w.Length > 0)),
                Finish,
            }.Where(w => w.Length > 0).DefaultIfEmpty("any"));
}

/// <summary>A pin that bears another name on a build, or does something else there; the pin stays the same.</summary>
/// <param name="Meaning">Its signal on this build, such as "output 4" where others have a lamp; empty where it is the same.</param>
public sealed record OverlayLabel(PinAddress Pin, string Label, string Meaning = "");

/// <summary>The board types that belong in a position, the first the usual one.</summary>
public sealed record VariantBoards(PositionId Position, IReadOnlyList<BoardTypeId> BoardTypes);

/// <summary>What an element must be on a build: a fuse's rating, a jumper's or switch's position.</summary>
/// <param name="Element">Its designator.</param>
public sealed record VariantElement(PositionId Position, string Element, string Must);

/// <summary>What a setting must be on a build.</summary>
public sealed record VariantSetting(PositionId Position, string Code, string Value);

/// <summary>What to order for a position.</summary>
/// <param name="With">What must go with the board.</param>
public sealed record Replacement(PositionId Position, string PartNumber, IReadOnlyList<string> With);

/// <summary>A build of a model: when it applies, and what follows from it.</summary>
/// <param name="Rules">One of them must hold.</param>
/// <param name="Supply">As its plate says it; empty where any.</param>
/// <param name="Protective">Protective devices that must be there and watched.</param>
public sealed record Variant(
    string Id,
    string Name,
    IReadOnlyList<VariantRule> Rules,
    string Supply,
    IReadOnlyList<VariantBoards> Boards,
    IReadOnlyList<VariantElement> Fuses,
    IReadOnlyList<VariantElement> Switches,
    IReadOnlyList<VariantSetting> Settings,
    IReadOnlyList<string> Protective,
    IReadOnlyList<OverlayLabel> Overlay,
    IReadOnlyList<Replacement> Replacements
)
{
    /// <summary>What this build needs a fuse, jumper or switch to be; empty where it says nothing.</summary>
    public string MustBe(PositionId position, string designator) =>
        Fuses
            .Concat(Switches)
            .FirstOrDefault(v => v.Position == position && string.Equals(v.Element, designator, StringComparison.OrdinalIgnoreCase))
            ?.Must
        ?? "";
}

/// <summary>The variants of a model, and how its serial numbers tell the build date.</summary>
/// <param name="SerialPattern">See <see cref="SerialDate"/>; empty where they tell none.</param>
/// <param name="FirstLetterYear">The year of letter A in the pattern.</param>
/// <param name="LettersLeftOut">Letters that stand for no year, such as IOQ.</param>
public sealed record VariantSheet(IReadOnlyList<Variant> Variants, string SerialPattern, int FirstLetterYear, string LettersLeftOut)
{
    public static VariantSheet Empty { get; } = new([], "", 2000, "IOQ");
}
