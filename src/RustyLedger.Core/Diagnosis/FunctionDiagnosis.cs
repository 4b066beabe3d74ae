using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Diagnosis;

/// <summary>
/// What is suspected where only functions and what they need are known. A part whose inside nobody knows may be dead as a whole, or fail
/// in one function alone: one that works never clears another. It may pull down the rail on which it hangs, and a board may have lost its
/// link to the others.
/// </summary>
internal sealed class FunctionDiagnosis
{
    // How a part fails: as a whole, weakly, by pulling its rail down, a board by its link; else for one function alone. Common practice, no
    // source.
    private const double DeadShare = 0.4;
    private const double WeakShare = 0.15;
    private const double RailShare = 0.15;
    private const double LinkShare = 0.1;

    // A table is seldom complete: a function may need what nobody ticked.
    private const double Unticked = 0.04;
    private const double MovesReading = 0.15;

    // What draws too much opens the fuse now and then; a breaker that is bad itself as well. Common practice, no source.
    private const double HoldsTooMuch = 0.5;

    private readonly FunctionSheet _sheet;

    /// <param name="Of">Names of the parts that let nothing through, or less.</param>
    /// <param name="Only">Ids of the functions in which that shows; null for all.</param>
    /// <param name="Pulls">The rail that the part pulls down; null where it pulls none.</param>
    private sealed record Fault(string Part, IReadOnlyList<string> Of, IReadOnlySet<string>? Only, Rail? Pulls);

    private readonly Dictionary<string, Fault> _causes = [];

    /// <param name="known">Names of parts that somebody else suspects with better reasons.</param>
    public FunctionDiagnosis(FunctionSheet sheet, ResolvedMachine machine, IEnumerable<string> known)
    {
        _sheet = sheet;
        var keys = known.Select(PartWords.Key).ToHashSet();
        List<Hypothesis> causes = [];
        void Add(string id, Fault fault, IReadOnlyList<string> sizes, double odds)
        {
            _causes[id] = fault;
            causes.Add(new Hypothesis(id, CauseKind.Part, fault.Part, sizes, odds));
        }

        foreach (var part in sheet.Parts.Where(p => !keys.Contains(PartWords.Key(p))))
        {
            var of = sheet.Rows.Where(r => Needs(r, part)).ToList();
            var rail = sheet.RailOf(part) is { } on && (on.Parts.Count > 1 || on.Behind.Length > 0) ? on : null;
            if (of.Count == 0 && rail is null)
            {
                continue;
            }

            var odds = OddsOf(part, machine);
            var id = $"function part/{PartWords.Key(part)}";
            if (rail is not null)
            {
                // What feeds the rail may go with it.
                Add(
                    $"{id}/rail",
                    new Fault(part, rail.Behind.Length > 0 ? [.. rail.Parts, rail.Behind] : rail.Parts, null, rail),
                    [$"{part} pulls {rail.Name} down", $"{part} draws too much from {rail.Name}"],
                    odds * (of.Count == 0 ? 1 : RailShare)
                );
            }

            if (of.Count == 0)
            {
                continue;
            }

            var across = LinkedBy(part, of);
            if (across.Count > 0)
            {
                Add($"{id}/link", new Fault(part, [part], across, null), [$"{part}: its link is dead"], odds * LinkShare);
            }

            // A supply feeds all or nothing.
            var failsAlone =
                of.Count > 1 && OffBoard(part, machine)?.Kind is not (PartKind.Supply or PartKind.Battery or PartKind.Transformer);
            var left = odds * (1 - (rail is null ? 0 : RailShare) - (across.Count == 0 ? 0 : LinkShare));
            Add(id, new Fault(part, [part], null, null), [$"{part} dead", $"{part} weak"], left * (failsAlone ? DeadShare + WeakShare : 1));
            foreach (var function in failsAlone ? of : [])
            {
                Add(
                    $"{id}/{function.Id}",
                    new Fault(part, [part], new HashSet<string> { function.Id }, null),
                    [$"{part} fails for {function.Name} alone", $"{part} is weak for {function.Name} alone"],
                    left * (1 - DeadShare - WeakShare) / of.Count
                );
            }
        }

        Causes = causes;
    }

    public IReadOnlyList<Hypothesis> Causes { get; }

    public bool Knows(Hypothesis cause) => _causes.ContainsKey(cause.Id);

    public FunctionRow? FunctionOf(Act act) => _sheet.Rows.FirstOrDefault(r => ActId(r) == MachineDiagnosis.WithoutPulled(act));

    public static string ActId(FunctionRow row) => $"try function {row.Id}";

    /// <summary>
    /// The functions that a board does together with another: they are lost with the link between, where it does others by itself.
    /// </summary>
    private static HashSet<string> LinkedBy(string part, List<FunctionRow> of)
    {
        static bool IsBoard(string name) => PartWords.Key(name).Contains("board", StringComparison.Ordinal);
        var together = IsBoard(part)
            ? of.Where(r => r.Needs.Concat(r.OneOf).Any(n => IsBoard(n) && !PartWords.Same.Equals(n, part))).Select(r => r.Id).ToHashSet()
            : [];
        return together.Count < of.Count ? together : [];
    }

    /// <summary>A part of the table by its name; null where there is none.</summary>
    public string? PartCalled(string name) => _sheet.Parts.FirstOrDefault(p => PartWords.Same.Equals(p, name));

    /// <summary>
    /// A fuse or breaker of the table, or what else feeds a rail, by its name, with or without the word for what it is; null where there
    /// is none.
    /// </summary>
    public string? ProtectionCalled(string name) =>
        new[] { name, $"fuse {name}", $"breaker {name}" }
            .Select(PartCalled)
            .OfType<string>()
            .FirstOrDefault(p => IsFuse(p) || IsBreaker(p) || _sheet.Rails.Any(r => PartWords.Same.Equals(r.Behind, p)));

    public IReadOnlyList<string> Protections => [.. _sheet.Parts.Where(p => IsFuse(p) || IsBreaker(p))];

    public static bool IsBreaker(string part) => PartWords.Key(part).Contains("breaker", StringComparison.Ordinal);

    private static bool IsFuse(string part) => PartWords.Key(part).Contains("fuse", StringComparison.Ordinal);

    /// <summary>What hangs on the rails behind a fuse or breaker of the table.</summary>
    public IReadOnlyList<string> Behind(string protection) =>
        [.. _sheet.Rails.Where(r => PartWords.Same.Equals(r.Behind, protection)).SelectMany(r => r.Parts)];

    /// <summary>The fuse or breaker before the rail of a part; null where there is none.</summary>
    public string? ProtectionOf(string part) =>
        _sheet.RailOf(part) is { Behind: { Length: > 0 } behind } && (IsFuse(behind) || IsBreaker(behind)) ? behind : null;

    /// <summary>Parts that a function does not need, on a rail of one that it needs.</summary>
    public IReadOnlyList<string> DragsDown(FunctionRow row) =>
        [.. _sheet.Rails.Where(r => r.Parts.Any(p => Needs(row, p))).SelectMany(r => r.Parts).Where(p => !Needs(row, p))];

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

    private static HashSet<string> PulledIn(Act act) =>
        act.Pulled.Length == 0 ? [] : act.Pulled.Split(Circuits.CircuitReader.And).Select(PartWords.Key).ToHashSet();

    /// <summary>Whether the table says what an act does with what is pulled meanwhile.</summary>
    public bool KnowsPulled(Act act) => PulledIn(act).All(p => _sheet.Parts.Any(part => PartWords.Key(part) == p));

    /// <summary>On a machine with nothing wrong, with what is pulled meanwhile.</summary>
    public Prediction Healthy(Act act) =>
        FunctionOf(act) is { } function ? Prediction.Share(ShareOf(function, Lost(act))) : Prediction.Share(1);

    private static Dictionary<string, double> Lost(Act act) => PulledIn(act).ToDictionary(p => p, _ => 0.0);

    public Prediction Predict(Hypothesis cause, int size, Act act)
    {
        var (part, of, only, pulls) = _causes[cause.Id];
        var isOff = PulledIn(act).Contains(PartWords.Key(part));
        if (act.Kind == ActKind.Close)
        {
            return Holds(part, pulls, size, isOff, act);
        }

        if (act.Kind == ActKind.Read)
        {
            return new Prediction(PredictionKind.Mixed, MovesReading);
        }

        if (FunctionOf(act) is not { } function)
        {
            return new Prediction(PredictionKind.Mixed, Unticked);
        }

        // Once it is off, its rail comes back.
        if ((only is not null && !only.Contains(function.Id)) || (pulls is not null && isOff))
        {
            return Healthy(act);
        }

        var shares = Lost(act);
        foreach (var key in of.Select(PartWords.Key))
        {
            shares[key] = Math.Min(shares.GetValueOrDefault(key, 1), size == 0 ? 0 : 0.5);
        }

        return Prediction.Share(ShareOf(function, shares));
    }

    /// <summary>A fuse or breaker under a fault that nobody connects with it.</summary>
    public Prediction ClosedBeside(Act act) => new(PredictionKind.Mixed, Behind(act.Aims[0]).Count > 0 ? OpensKnown : OpensUnknown);

    // Of a fuse of which somebody said what it feeds, and of one of which nobody did. Common practice, no source.
    private const double OpensKnown = 0.05;
    private const double OpensUnknown = 0.3;

    /// <summary>Whether a fuse or breaker holds.</summary>
    private Prediction Holds(string part, Rail? pulls, int size, bool isOff, Act act)
    {
        var protection = act.Aims[0];
        // A fuse at fault itself is not the one that was put in.
        return PartWords.Same.Equals(part, protection) ? Prediction.Share(IsBreaker(protection) ? HoldsTooMuch : 1)
            : pulls is null || !PartWords.Same.Equals(pulls.Behind, protection) ? ClosedBeside(act)
            : isOff ? Prediction.Share(1)
            : Prediction.Share(size == 0 ? 0 : HoldsTooMuch);
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

        var shares = Lost(act);
        var healthy = ShareOf(function, shares);
        foreach (var key in parts.Select(p => PartWords.Key(nameOf(p))))
        {
            shares[key] = share ?? 0;
        }

        var does = ShareOf(function, shares);
        return share is null && does < healthy ? new Prediction(PredictionKind.Mixed, SeldomUnharmed) : Prediction.Share(does);
    }
}
