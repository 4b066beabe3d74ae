using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// What is suspected where only functions and what they need are known. A part whose inside nobody knows may be dead as a whole, or fail
/// in one function alone: one that works never clears another.
/// </summary>
internal sealed class FunctionDiagnosis
{
    // How a part fails: as a whole, weakly, or for one function alone. Common practice, no source.
    private const double DeadShare = 0.4;
    private const double WeakShare = 0.15;

    // A table is seldom complete: a function may need what nobody ticked.
    private const double Unticked = 0.04;
    private const double MovesReading = 0.15;

    private readonly FunctionSheet _sheet;
    private readonly Dictionary<string, (string Part, string? Only)> _causes = [];

    /// <param name="known">Names of parts that somebody else suspects with better reasons.</param>
    public FunctionDiagnosis(FunctionSheet sheet, ResolvedMachine machine, IEnumerable<string> known)
    {
        _sheet = sheet;
        var keys = known.Select(PartWords.Key).ToHashSet();
        List<Hypothesis> causes = [];
        foreach (var part in sheet.Parts.Where(p => !keys.Contains(PartWords.Key(p))))
        {
            var of = sheet.Rows.Where(r => Needs(r, part)).ToList();
            if (of.Count == 0)
            {
                continue;
            }

            var odds = OddsOf(part, machine);
            // A supply feeds all or nothing.
            var failsAlone =
                of.Count > 1 && OffBoard(part, machine)?.Kind is not (PartKind.Supply or PartKind.Battery or PartKind.Transformer);
            var id = $"function part/{PartWords.Key(part)}";
            _causes[id] = (part, null);
            causes.Add(
                new Hypothesis(id, CauseKind.Part, part, [$"{part} dead", $"{part} weak"], odds * (failsAlone ? DeadShare + WeakShare : 1))
            );
            foreach (var function in failsAlone ? of : [])
            {
                var only = $"{id}/{function.Id}";
                _causes[only] = (part, function.Id);
                causes.Add(
                    new Hypothesis(
                        only,
                        CauseKind.Part,
                        part,
                        [$"{part} fails for {function.Name} alone", $"{part} is weak for {function.Name} alone"],
                        odds * (1 - DeadShare - WeakShare) / of.Count
                    )
                );
            }
        }

        Causes = causes;
    }

    public IReadOnlyList<Hypothesis> Causes { get; }

    public bool Knows(Hypothesis cause) => _causes.ContainsKey(cause.Id);

    public FunctionRow? FunctionOf(Act act) => _sheet.Rows.FirstOrDefault(r => ActId(r) == act.Id);

    public static string ActId(FunctionRow row) => $"try function {row.Id}";

    /// <summary>A whole part weighs more than a piece of copper. Common practice, no source.</summary>
    private static double OddsOf(string part, ResolvedMachine machine)
    {
        var key = PartWords.Key(part);
        return OffBoard(part, machine)?.Kind switch
        {
            PartKind.Supply or PartKind.Battery => 4,
            PartKind.Switch or PartKind.Button => 2,
            PartKind.Plug => 1,
            { } => 2.5,
            null when key.Contains("wire", StringComparison.Ordinal) || key.Contains("cable", StringComparison.Ordinal) => 1,
            null when key.Contains("fuse", StringComparison.Ordinal) => 3,
            null when key.Contains("board", StringComparison.Ordinal) => 4,
            _ => 2.5,
        };
    }

    private static OffBoardPart? OffBoard(string part, ResolvedMachine machine) =>
        machine.Model.Parts.FirstOrDefault(p => PartWords.Same.Equals(p.Designator, part) || PartWords.Same.Equals(p.Name, part));

    private static bool Needs(FunctionRow row, string part) =>
        row.Needs.Contains(part, PartWords.Same) || row.OneOf.Contains(part, PartWords.Same);

    /// <summary>How well a function does with some parts letting through a share of what they should.</summary>
    private static double ShareOf(FunctionRow row, Dictionary<string, double> shares)
    {
        double Of(string part) => shares.TryGetValue(PartWords.Key(part), out var share) ? share : 1;
        return Math.Min(row.Needs.Count == 0 ? 1 : row.Needs.Min(Of), row.OneOf.Count == 0 ? 1 : row.OneOf.Max(Of));
    }

    public Prediction Predict(Hypothesis cause, int size, Act act)
    {
        if (act.Kind is ActKind.Read or ActKind.Close)
        {
            return new Prediction(PredictionKind.Mixed, MovesReading);
        }

        if (FunctionOf(act) is not { } function)
        {
            return new Prediction(PredictionKind.Mixed, Unticked);
        }

        var share = size == 0 ? 0 : 0.5;
        var (part, only) = _causes[cause.Id];
        return only is not null && only != function.Id
            ? Prediction.Share(1)
            : Prediction.Share(ShareOf(function, new Dictionary<string, double> { [PartWords.Key(part)] = share }));
    }

    /// <summary>A function of the table under faults of parts that the wiring or the circuit knows.</summary>
    /// <param name="share">What they let through; null where that is anything less than all.</param>
    /// <param name="nameOf">What the table calls a part.</param>
    public Prediction Predict(IReadOnlyList<string> parts, Act act, double? share, Func<string, string> nameOf)
    {
        const double SeldomUnharmed = 0.85;
        if (FunctionOf(act) is not { } function)
        {
            return Prediction.Share(1);
        }

        var does = ShareOf(function, parts.Select(p => PartWords.Key(nameOf(p))).Distinct().ToDictionary(k => k, _ => share ?? 0));
        return share is null && does < 1 ? new Prediction(PredictionKind.Mixed, SeldomUnharmed) : Prediction.Share(does);
    }
}
