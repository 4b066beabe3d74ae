using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Diagnosis;

/// <summary>Something a person can see a machine do, and what it needs for it.</summary>
/// <param name="Id">Its own in the sheet.</param>
/// <param name="State">Code of the state in which it is to be seen; empty for any that is energised.</param>
/// <param name="Needs">Names of parts, all of which it needs.</param>
/// <param name="OneOf">Names of parts of which it needs any one.</param>
public sealed record FunctionRow(string Id, string Name, string State, IReadOnlyList<string> Needs, IReadOnlyList<string> OneOf);

/// <summary>Parts that are fed together: one of them that is shorted or draws too much takes the others with it.</summary>
/// <param name="Name">Such as <c>5 V</c> or <c>behind F1</c>.</param>
/// <param name="Behind">The part, of the same table, through which all of it is fed, such as a fuse; empty where nobody said.</param>
/// <param name="Parts">Of the table; each on one rail.</param>
public sealed record Rail(string Name, string Behind, IReadOnlyList<string> Parts);

/// <summary>What a model's machines do, and which parts that takes: one table of ticks. Expected to be incomplete.</summary>
/// <param name="Parts">The columns, in their order: boards, supplies, switches, wires, whatever can be replaced.</param>
public sealed record FunctionSheet(IReadOnlyList<string> Parts, IReadOnlyList<FunctionRow> Rows)
{
    private const int MostRails = 12;
    private const int MostSignsOfRail = 24;

    /// <summary>What is fed together, as far as anybody said.</summary>
    public IReadOnlyList<Rail> Rails { get; init; } = [];

    /// <summary>The rail that a part is fed from; null where nobody said.</summary>
    public Rail? RailOf(string part) => Rails.FirstOrDefault(r => r.Parts.Contains(part, PartWords.Same));

    private const int MostRows = 120;
    private const int MostParts = 60;
    private const int MostSigns = 80;

    public static FunctionSheet Empty { get; } = new([], []);

    /// <summary>As it is kept: trimmed, without rows and columns that say nothing.</summary>
    public FunctionSheet Kept()
    {
        var parts = Rule.Kept(Parts ?? []);
        return new FunctionSheet(
            [.. parts.Distinct(PartWords.Same)],
            [
                .. (Rows ?? [])
                    .Select(r => new FunctionRow(
                        Rule.Kept(r.Id),
                        Rule.Kept(r.Name),
                        Rule.Kept(r.State),
                        [.. Rule.Kept(r.Needs ?? []).Distinct(PartWords.Same)],
                        [.. Rule.Kept(r.OneOf ?? []).Distinct(PartWords.Same)]
                    ))
                    .Where(r => r.Name.Length > 0 || r.Needs.Count + r.OneOf.Count > 0),
            ]
        )
        {
            Rails =
            [
                .. (Rails ?? [])
                    .Select(r => new Rail(Rule.Kept(r.Name), Rule.Kept(r.Behind), [.. Rule.Kept(r.Parts ?? []).Distinct(PartWords.Same)]))
                    .Where(r => r.Name.Length > 0 || r.Parts.Count > 0 || r.Behind.Length > 0),
            ],
        };
    }

    /// <returns>The first that does not fit; null where all do.</returns>
    public Refusal? Refusal()
    {
        if (Rows is null || Parts is null || Rows.Count > MostRows || Parts.Count > MostParts)
        {
            return new Refusal("rows", $"A table of functions has at most {MostRows} functions and {MostParts} parts.");
        }

        if (Parts.FirstOrDefault(p => p is null || p.Length is 0 or > MostSigns) is not null)
        {
            return new Refusal("parts", $"A part has a name of at most {MostSigns} signs.");
        }

        foreach (var (index, row) in Rows.Index())
        {
            if (
                row is null
                || row.Name is not { Length: > 0 and <= MostSigns }
                || row.State is not { Length: <= MostSigns }
                || row.Id is not { Length: > 0 }
            )
            {
                return new Refusal($"rows[{index}].name", $"Function {index + 1} needs a name of at most {MostSigns} signs.");
            }

            if (row.Needs is null || row.OneOf is null || row.Needs.Concat(row.OneOf).Any(n => !Parts.Contains(n, PartWords.Same)))
            {
                return new Refusal($"rows[{index}].needs", $"\"{row.Name}\" needs a part that has no column.");
            }
        }

        if (RefusalOfRails() is { } refused)
        {
            return refused;
        }

        return Rows.Select(r => r.Id).Distinct().Count() < Rows.Count ? new Refusal("rows", "Each function has an id of its own.")
            : Rows.Select(r => r.Name).Distinct(PartWords.Same).Count() < Rows.Count
                ? new Refusal("rows", "Two functions have the same name: nobody could tell which was seen.")
            : null;
    }

    private Refusal? RefusalOfRails()
    {
        if (Rails is null || Rails.Count > MostRails)
        {
            return new Refusal("rails", $"At most {MostRails} rails.");
        }

        foreach (var (index, rail) in Rails.Index())
        {
            if (rail is not { Name.Length: > 0 and <= MostSignsOfRail, Behind: not null, Parts: not null })
            {
                return new Refusal($"rails[{index}].name", $"Rail {index + 1} needs a name of at most {MostSignsOfRail} signs.");
            }

            if (
                rail.Parts.Concat(rail.Behind.Length > 0 ? [rail.Behind] : []).FirstOrDefault(p => !Parts.Contains(p, PartWords.Same)) is
                { } unknown
            )
            {
                return new Refusal($"rails[{index}].parts", $"Rail {rail.Name} names {unknown}, which has no column.");
            }

            if (rail.Behind.Length > 0 && rail.Parts.Contains(rail.Behind, PartWords.Same))
            {
                return new Refusal($"rails[{index}].behind", $"Rail {rail.Name} cannot hang on itself: {rail.Behind} feeds it.");
            }
        }

        return Rails.SelectMany(r => r.Parts).GroupBy(p => p, PartWords.Same).FirstOrDefault(g => g.Count() > 1) is { } twice
                ? new Refusal("rails", $"{twice.Key} is on two rails: it is fed from one.")
            : Rails.Select(r => r.Name).Distinct(PartWords.Same).Count() < Rails.Count
                ? new Refusal("rails", "Two rails have the same name.")
            : null;
    }

    /// <summary>Parts that every function needs alike, two or more together: no function tells one of them from the others.</summary>
    public IReadOnlyList<IReadOnlyList<string>> NotToldApart() =>
        [
            .. Parts
                .GroupBy(p =>
                    string.Join(
                        '|',
                        Rows.Select(r =>
                            r.Needs.Contains(p, PartWords.Same) ? "n"
                            : r.OneOf.Contains(p, PartWords.Same) ? "o"
                            : ""
                        )
                    )
                )
                .Where(g => g.Count() > 1 && g.Key.Any(char.IsLetter))
                .Select(g => (IReadOnlyList<string>)[.. g]),
        ];

    private static readonly string[] _ofAll = ["supply", "mains", "battery", "logic", "controller"];

    /// <summary>
    /// Parts that nearly everything needs, to be ticked beforehand: what feeds the machine, what is called so, and what every function so
    /// far needs.
    /// </summary>
    public IReadOnlyList<string> NeededByAll(Model model)
    {
        ArgumentNullException.ThrowIfNull(model);
        bool Feeds(string part) =>
            model.Parts.Any(p =>
                p.Kind is PartKind.Supply or PartKind.Battery or PartKind.Transformer
                && (PartWords.Same.Equals(p.Designator, part) || PartWords.Same.Equals(p.Name, part))
            );
        return
        [
            .. (Parts.Count > 0 ? Parts : UsualParts(model)).Where(p =>
                Feeds(p)
                || _ofAll.Any(w => p.Contains(w, StringComparison.OrdinalIgnoreCase))
                || (Rows.Count > 1 && Rows.All(r => r.Needs.Contains(p, PartWords.Same)))
            ),
        ];
    }

    /// <summary>Parts that a new table begins with: the supplies and boards of a model, then what stands beside them.</summary>
    public static IReadOnlyList<string> UsualParts(Model model)
    {
        ArgumentNullException.ThrowIfNull(model);
        return
        [
            .. model
                .Parts.Where(p => p.Kind is PartKind.Supply or PartKind.Battery or PartKind.Transformer)
                .Select(p => p.Designator)
                .Concat(model.Positions.Select(p => $"board {p.Prefix}"))
                .Concat(
                    model
                        .Parts.Where(p => p.Kind is not (PartKind.Supply or PartKind.Battery or PartKind.Transformer))
                        .Select(p => p.Designator)
                )
                .Distinct(PartWords.Same)
                .Take(MostParts),
        ];
    }
}

/// <summary>Names of parts as people write them: signs between, upper and lower case make no difference.</summary>
public static class PartWords
{
    /// <summary>Letters and digits in lower case, nothing else.</summary>
    public static string Key(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        return string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();
    }

    public static IEqualityComparer<string> Same { get; } =
        EqualityComparer<string>.Create((a, b) => Key(a ?? "") == Key(b ?? ""), a => Key(a).GetHashCode(StringComparison.Ordinal));
}
