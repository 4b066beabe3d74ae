using RustyLedger.Core.Boards;

namespace RustyLedger.Core.Machines;

public enum BuildFactKind
{
    Supply,
    Board,
    Fuse,
    Switch,
    Setting,
    Protective,
    Replacement,
}

/// <summary>One thing that follows from the build.</summary>
/// <param name="Where">Position and element, or what it is about.</param>
/// <param name="Must">What it must be.</param>
/// <param name="Is">What the record says it is; empty where nobody wrote it down.</param>
/// <param name="Differs">The record says otherwise.</param>
public sealed record BuildFact(BuildFactKind Kind, string Where, string Must, string Is, bool Differs);

/// <summary>All that follows from a build, with what this machine has instead.</summary>
public static class BuildSheet
{
    /// <param name="settings">The newest known value of each setting, by position and code.</param>
    /// <param name="boardTypes">All that the variant names, besides those fitted.</param>
    public static IReadOnlyList<BuildFact> Of(
        ResolvedMachine machine,
        IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes,
        IReadOnlyDictionary<(PositionId Position, string Code), string> settings
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(boardTypes);
        ArgumentNullException.ThrowIfNull(settings);
        if (machine.Variant is not { } variant)
        {
            return [];
        }

        var names = machine.Model.Positions.ToDictionary(p => p.Id, p => p.Name);
        string At(PositionId position) => names.GetValueOrDefault(position, position.Value);
        string Type(BoardTypeId id) => boardTypes.TryGetValue(id, out var t) ? t.Printed : id.Value;
        var facts = new List<BuildFact>();
        if (variant.Supply.Length > 0)
        {
            var (must, on) = (PlateSupply.Read(variant.Supply), PlateSupply.Read(machine.Machine.Supply));
            facts.Add(
                new BuildFact(
                    BuildFactKind.Supply,
                    "supply",
                    variant.Supply,
                    machine.Machine.Supply,
                    on.Count > 0
                        && must.Any(m =>
                            !on.Any(o =>
                                o.Volts <= m.VoltsTo
                                && m.Volts <= o.VoltsTo
                                && (o.Phases is null || m.Phases is null || o.Phases == m.Phases)
                            )
                        )
                )
            );
        }

        foreach (var boards in variant.Boards)
        {
            // What the model puts there is only what usually is; only a board written down as fitted can differ.
            var fitted = machine.Machine.FittedIn(boards.Position)?.BoardTypeId;
            facts.Add(
                new BuildFact(
                    BuildFactKind.Board,
                    At(boards.Position),
                    string.Join(" or ", boards.BoardTypes.Select(Type)),
                    fitted is { } type ? Type(type) : "",
                    fitted is { } other && !boards.BoardTypes.Contains(other)
                )
            );
        }

        foreach (var fuse in variant.Fuses)
        {
            var rating =
                machine.BoardAt.GetValueOrDefault(fuse.Position)?.Elements.FirstOrDefault(e => e.Designator == fuse.Element)?.Rating ?? "";
            facts.Add(
                new BuildFact(
                    BuildFactKind.Fuse,
                    $"{At(fuse.Position)} {fuse.Element}",
                    fuse.Must,
                    rating,
                    rating.Length > 0 && !Same(rating, fuse.Must)
                )
            );
        }

        facts.AddRange(
            variant.Switches.Select(s => new BuildFact(BuildFactKind.Switch, $"{At(s.Position)} {s.Element}", s.Must, "", false))
        );
        foreach (var setting in variant.Settings)
        {
            var value = settings.GetValueOrDefault((setting.Position, setting.Code), "");
            facts.Add(
                new BuildFact(
                    BuildFactKind.Setting,
                    $"{At(setting.Position)} {setting.Code}",
                    setting.Value,
                    value,
                    value.Length > 0 && !Same(value, setting.Value)
                )
            );
        }

        facts.AddRange(variant.Protective.Select(p => new BuildFact(BuildFactKind.Protective, p, "must be there and watched", "", false)));
        facts.AddRange(
            variant.Replacements.Select(r => new BuildFact(
                BuildFactKind.Replacement,
                At(r.Position),
                r.With.Count == 0 ? r.PartNumber : $"{r.PartNumber}, with {string.Join(", ", r.With)}",
                "",
                false
            ))
        );
        return facts;
    }

    /// <summary>
    /// The board types that may sit in a position: those of the build, those of every build where none is decided; what the
    /// model usually has there where no build names any.
    /// </summary>
    public static IReadOnlyList<BoardTypeId> BelongIn(Position position, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(position);
        ArgumentNullException.ThrowIfNull(machine);
        var variants = machine.Variant is { } chosen ? [chosen] : machine.Model.Variants.Variants;
        List<BoardTypeId> named =
        [
            .. variants.SelectMany(v => v.Boards).Where(b => b.Position == position.Id).SelectMany(b => b.BoardTypes).Distinct(),
        ];
        return named.Count > 0 ? named : [position.BoardTypeId];
    }

    /// <summary>Positions whose board is not written down though more than one may sit there, or is not one that belongs.</summary>
    public static IReadOnlyList<Position> BoardsToKnow(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return
        [
            .. machine.Model.Positions.Where(p =>
            {
                var fitted = machine.Machine.FittedIn(p.Id)?.BoardTypeId;
                var belong = BelongIn(p, machine);
                return fitted is { } type ? !belong.Contains(type) : belong.Count > 1;
            }),
        ];
    }

    private static bool Same(string one, string other) => string.Equals(Squeezed(one), Squeezed(other), StringComparison.OrdinalIgnoreCase);

    private static string Squeezed(string text) => string.Concat(text.Where(c => !char.IsWhiteSpace(c)));
}
