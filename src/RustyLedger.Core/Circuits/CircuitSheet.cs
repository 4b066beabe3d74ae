using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Circuits;

/// <summary>What one part of a machine is to the current, as somebody wrote it.</summary>
/// <param name="Id">Its own in the sheet.</param>
/// <param name="Part">As printed, such as <c>M1</c> or <c>Z1-F2</c>, or a name for what is on no drawing. A star stands for every position
/// of that beginning: <c>Z*-F2</c>.</param>
/// <param name="Between">The pins it lies between, such as <c>Z1-J4·1 to Z1-J4·2</c>; empty for the part's own.</param>
/// <param name="What">Its kind and its numbers, such as <c>motor 24 V 2.4 A</c>; see <see cref="PartNotation"/>.</param>
/// <param name="OnIn">Of what switches: the states in which it is closed, and on what condition; see <see cref="SwitchedWhen"/>.</param>
/// <param name="OnlyOn">Builds and tags for which this row is, with commas between; empty for all.</param>
public sealed record CircuitRow(string Id, string Part, string Between, string What, string OnIn, string OnlyOn)
{
    /// <summary>Whether it is said of a machine of that build and tag. Names of builds have commas of their own.</summary>
    public bool IsFor(string? build, string tag) => OnlyOn.Length == 0 || Only.Any(only => Is(only, build) || Is(only, tag));

    /// <summary>What it names that is none of these builds and tags; nothing where commas are read one way or the other.</summary>
    internal IReadOnlyList<string> UnknownOf(IReadOnlyCollection<string> known)
    {
        IReadOnlyList<string> Unknown(char by) => [.. Parts(by).Where(only => only.Length > 0 && !known.Any(k => Is(only, k)))];
        var (commas, semicolons) = (Unknown(','), Unknown(';'));
        return commas.Count == 0 || semicolons.Count == 0 ? [] : commas;
    }

    private IEnumerable<string> Only => Parts(',').Concat(Parts(';'));

    private string[] Parts(char by) => OnlyOn.Split(by, StringSplitOptions.TrimEntries);

    private static bool Is(string only, string? name) => only.Equals(name, StringComparison.OrdinalIgnoreCase);
}

/// <summary>The circuit of a model beside its wiring: what each part is to the current.</summary>
/// <param name="Orders">How a state is reached, a line each, such as <c>running after standby, starting</c>; straight from off where there
/// is none.</param>
public sealed record CircuitSheet(IReadOnlyList<CircuitRow> Rows, IReadOnlyList<string> Orders)
{
    private const int MostRows = 600;
    private const int MostOrders = 40;
    private const int MostSigns = 160;

    public static CircuitSheet Empty { get; } = new([], []);

    /// <summary>The sheet as it is kept: trimmed, without rows that say nothing.</summary>
    public CircuitSheet Kept() =>
        new(
            [
                .. (Rows ?? [])
                    .Select(r => new CircuitRow(
                        Rule.Kept(r.Id),
                        Rule.Kept(r.Part),
                        Rule.Kept(r.Between),
                        Rule.Kept(r.What),
                        Rule.Kept(r.OnIn),
                        Rule.Kept(r.OnlyOn)
                    ))
                    .Where(r => r.Part.Length + r.Between.Length + r.What.Length + r.OnIn.Length + r.OnlyOn.Length > 0),
            ],
            Rule.Kept(Orders ?? [])
        );

    /// <summary>
    /// A row that is not understood stays as it was written and does not count: see <see cref="MachineCircuit.Problems"/>. Only what does
    /// not fit is refused.
    /// </summary>
    /// <returns>The first that does not fit; null where all do.</returns>
    public Refusal? Refusal()
    {
        if (Rows is null || Orders is null || Rows.Count > MostRows || Orders.Count > MostOrders)
        {
            return new Refusal("rows", $"A circuit has at most {MostRows} rows and {MostOrders} orders.");
        }

        foreach (var (index, row) in Rows.Index())
        {
            foreach (
                var (which, text) in (ReadOnlySpan<(string, string)>)
                    [
                        ("id", row.Id),
                        ("part", row.Part),
                        ("between", row.Between),
                        ("what", row.What),
                        ("onIn", row.OnIn),
                        ("onlyOn", row.OnlyOn),
                    ]
            )
            {
                if (text is null || text.Length > MostSigns)
                {
                    return new Refusal($"rows[{index}].{which}", $"Row {index + 1}: at most {MostSigns} signs fit into a field.");
                }
            }
        }

        return Rows.Select(r => r.Id).Distinct().Count() < Rows.Count || Rows.Any(r => r.Id.Length == 0)
                ? new Refusal("rows", "Each row has an id of its own.")
            : Orders.Any(o => o.Length > MostSigns) ? new Refusal("orders", $"At most {MostSigns} signs fit into a line.")
            : null;
    }

    /// <summary>Rows that name a build or a machine that is not there: they would count nowhere, and nobody would know.</summary>
    /// <param name="builds">Of the model.</param>
    /// <param name="tags">Of all machines of the model.</param>
    public IReadOnlyList<RowProblem> OnNobody(IEnumerable<string> builds, IEnumerable<string> tags)
    {
        string[] known = [.. builds, .. tags];
        return
        [
            .. Rows.Select(r => (Row: r, Unknown: r.UnknownOf(known)))
                .Where(r => r.Unknown.Count > 0)
                .Select(r => new RowProblem(
                    r.Row.Id,
                    $"Only on {string.Join(", ", r.Unknown)}: no build and no machine of this model is called so.",
                    "onlyOn"
                )),
        ];
    }

    /// <summary>Orders that are not understood, or speak of states that are not there.</summary>
    public IReadOnlyList<string> UnknownOrders(IReadOnlyList<OperatingState> states) =>
        [
            .. Orders.Where(o =>
                OrderOf(o) is not { } order || !order.Before.Append(order.State).All(name => states.Any(s => SwitchedWhen.IsOf(s, name)))
            ),
        ];

    /// <summary>The states that come before one, by their codes or names; none where no order is stated.</summary>
    public IReadOnlyList<string> Before(OperatingState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        return Orders.Select(OrderOf).FirstOrDefault(o => o is { } order && SwitchedWhen.IsOf(state, order.State))?.Before ?? [];
    }

    private sealed record Order(string State, IReadOnlyList<string> Before);

    private static Order? OrderOf(string line)
    {
        var at = line.IndexOf(" after ", StringComparison.OrdinalIgnoreCase);
        var before = at > 0 ? line[(at + 7)..].Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries) : [];
        return before.Length > 0 ? new Order(line[..at].Trim(), before) : null;
    }
}
