using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>What was said in a visit, as findings.</summary>
internal static class Said
{
    /// <summary>Each line at a moment of its own.</summary>
    public static List<Finding> Of(MachineDiagnosis model, params string[] lines) =>
        [
            .. lines.SelectMany(
                (text, i) =>
                    SeenNotation
                        .Read(text, model)
                        .Select((s, n) => new Finding($"{i}/{n}", s.Act, s.Outcome, i, s.Showing, s.Words, s.IsDoubted))
            ),
        ];
}
