namespace RustyLedger.Core.Diagnosis;

/// <summary>What may be behind a complaint beside the parts of a machine, with how it would show. Common practice, no source.</summary>
internal static class AsideCauses
{
    private static readonly (string Id, CauseKind Kind, string Words, double Share, double[] Touches, double[] Moves)[] _table =
    [
        // How often it is behind a complaint, and the chance that a reading, or a function, is other than on a healthy machine.
        ("nothing wrong", CauseKind.NothingWrong, "Nothing wrong with the machine", 0.03, [0.005], [0.02]),
        ("site", CauseKind.Site, "What the site gives it", 0.03, [0.15, 0.5], [0.5, 0.7]),
        ("setting", CauseKind.Setting, "A setting or a jumper", 0.03, [0.03, 0.1], [0.4, 0.7]),
        ("mechanical", CauseKind.Mechanical, "Something mechanical", 0.05, [0.01, 0.05], [0.25, 0.6]),
        ("wiring", CauseKind.Wiring, "The wiring is not as entered", 0.02, [0.05, 0.15, 0.4], [0.1, 0.2, 0.4]),
        ("unlisted", CauseKind.Unlisted, "Something not in this ledger", 0.05, [0.05, 0.2, 0.5, 0.9], [0.2, 0.35, 0.5, 0.9]),
    ];

    // Where the wiring as entered cannot be right, it is the first to be looked at. Common practice, no source.
    private const double DoubtedWiring = 15;

    /// <param name="sum">Of the odds of all parts.</param>
    /// <param name="doubtsWiring">The wiring as entered cannot be right.</param>
    public static IEnumerable<Hypothesis> Of(double sum, bool doubtsWiring)
    {
        double ShareOf(CauseKind kind, double share) => doubtsWiring && kind == CauseKind.Wiring ? DoubtedWiring * share : share;
        var shares = _table.Sum(t => ShareOf(t.Kind, t.Share));
        return _table.Select(t => new Hypothesis(
            $"aside/{t.Id}",
            t.Kind,
            "",
            [.. t.Touches.Select(_ => t.Words)],
            (sum > 0 ? sum : 1) * ShareOf(t.Kind, t.Share) / (1 - shares)
        ));
    }

    /// <summary>Broad: as on a healthy machine, or anything; by size the more of it.</summary>
    public static Prediction Predict(Hypothesis cause, int size, Act act)
    {
        var (_, _, _, _, touches, moves) = _table.First(t => t.Kind == cause.Kind);
        return new Prediction(PredictionKind.Mixed, (act.Kind is ActKind.Try or ActKind.Look ? moves : touches)[size]);
    }
}
