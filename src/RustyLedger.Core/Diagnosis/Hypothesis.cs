using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What kind of thing may be wrong.</summary>
public enum CauseKind
{
    Part,

    /// <summary>The machine does what it should, and was misunderstood.</summary>
    NothingWrong,

    /// <summary>What the site gives it.</summary>
    Site,

    /// <summary>A setting, a jumper.</summary>
    Setting,
    Mechanical,

    /// <summary>The wiring is not as it was entered.</summary>
    Wiring,

    /// <summary>Something that is not in this ledger.</summary>
    Unlisted,
}

/// <summary>One way in which the machine may be as it was seen. What has a range, such as a bad contact, stands in several sizes.</summary>
/// <param name="Part">What would be replaced or repaired, as printed; empty where it is no part.</param>
/// <param name="Sizes">How each size is called, the usual one first for the words; at least one.</param>
/// <param name="Odds">Beside those of the others; any sum, above 0.</param>
public sealed record Hypothesis(string Id, CauseKind Kind, string Part, IReadOnlyList<string> Sizes, double Odds)
{
    /// <summary>It shows at times only: a moment is either as on a healthy machine, or as with it.</summary>
    public bool IsIntermittent { get; init; }

    /// <summary>Wires in other places than they were entered: a ledger that has them wrong reads the same.</summary>
    public bool IsRewired { get; init; }

    /// <summary>Both of two faults; empty of a single one.</summary>
    public IReadOnlyList<Hypothesis> Both { get; init; } = [];

    /// <summary>The parts at fault: one, two, or none where it is no part.</summary>
    public IReadOnlyList<string> Parts =>
        Both.Count > 0 ? [.. Both.SelectMany(b => b.Parts).Distinct()]
        : Part.Length > 0 ? [Part]
        : [];
}

public enum PredictionKind
{
    /// <summary>A number.</summary>
    Number,
    Open,

    /// <summary>OL, or any number from so much on.</summary>
    AtLeast,

    /// <summary>Nothing holds it.</summary>
    Floats,

    /// <summary>A function, a lamp or a contact, by the share of what it should be.</summary>
    Share,

    /// <summary>By chance: it is well so often, else it is not.</summary>
    Chance,

    /// <summary>As on a healthy machine but for a chance that it is anything.</summary>
    Mixed,
    Anything,
}

/// <summary>What an act shows under a hypothesis.</summary>
/// <param name="Value">The number; the share of normal; the chance that it is well; of a mixture, the chance that it is anything.</param>
/// <param name="Spread">One standard deviation of its own, which it shares with no other.</param>
public readonly record struct Prediction(PredictionKind Kind, double Value, double Spread = 0)
{
    public static Prediction Of(double value, double spread = 0) => new(PredictionKind.Number, value, spread);

    /// <summary>Of a fuse or breaker that opens, how long that takes; null where nobody knows, and of all else.</summary>
    public OpeningTime? After { get; init; }

    public static Prediction Share(double share) => new(PredictionKind.Share, share);

    public static Prediction Chance(double well) => new(PredictionKind.Chance, well);

    public static Prediction Anything { get; } = new(PredictionKind.Anything, 1);
}

/// <summary>What moves several readings at once: an assumed number, the supply, the meter.</summary>
/// <param name="Cause">Its name; the same for what moves together.</param>
/// <param name="Change">Of this reading on a healthy machine, by one standard deviation of the cause.</param>
/// <param name="Share">Of what a fault makes of it beyond that, by the same.</param>
public readonly record struct SharedError(string Cause, double Change, double Share = 0);

/// <summary>A machine as the suspects see it: what may be wrong with it, what can be done, and what that would show.</summary>
public interface IDiagnosisModel
{
    /// <summary>Single ones, and those that are no part.</summary>
    IReadOnlyList<Hypothesis> Causes { get; }

    /// <summary>What tells suspects apart as far as anything does.</summary>
    IReadOnlyList<Act> Acts { get; }

    /// <summary>What can be done beside, for those who are suspected now.</summary>
    IReadOnlyList<Act> ActsFor(IReadOnlyList<SuspectGroup> suspects, IReadOnlyList<Finding> findings) => [];

    /// <summary>
    /// Why the machine cannot be wired as it was entered; empty where nothing says so. Nothing is proved by such a wiring.
    /// </summary>
    string WiringDoubt => "";

    /// <summary>Why what is expected of an act may be wrong; empty where nothing says so. Nothing is proved by it.</summary>
    string DoubtAt(Act act) => "";

    /// <summary>
    /// What must be read before a cause is proved, and was not: a board that does not switch is not at fault while what it waits for was
    /// not seen. Null where nothing is left.
    /// </summary>
    (Act Act, string Why)? WantedBefore(Hypothesis cause, IReadOnlyList<Finding> findings) => null;

    /// <summary>Whether a cause, at one of its sizes, takes a fuse or breaker of that name with it.</summary>
    bool Blows(Hypothesis cause, int size, string protection) => false;

    /// <summary>On a machine with nothing wrong.</summary>
    Prediction Healthy(Act act);

    /// <param name="size">Index into the sizes of the cause; of two faults at once, of their pairs.</param>
    Prediction Predict(Hypothesis cause, int size, Act act);

    /// <summary>What this act's numbers share with those of other acts.</summary>
    IReadOnlyList<SharedError> SharedErrors(Act act);

    /// <summary>Whether it knows what two faults at once show; else no pair is looked for.</summary>
    bool KnowsPairs => true;

    /// <summary>Two faults at once, each in any of its sizes; null where they cannot be.</summary>
    Hypothesis? Join(Hypothesis first, Hypothesis second);
}
