using RustyLedger.Core.Circuits;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>What is known in a visit, as findings, and what could not be used.</summary>
/// <param name="Findings">In the order in which they were seen.</param>
/// <param name="NotUsed">Lines that tell no suspect from another, each with why.</param>
public sealed record Known(IReadOnlyList<Finding> Findings, IReadOnlyList<(string Id, string Words, string Why)> NotUsed);

/// <summary>How a suspect stood after each finding.</summary>
public sealed record Moved(string FindingId, IReadOnlyDictionary<string, double> Shares);

/// <summary>What is suspected, why, and what to do next.</summary>
/// <param name="Next">The best first.</param>
/// <param name="Moved">How suspicion moved, finding by finding; the last ones.</param>
/// <param name="Unexplained">Findings that the first suspect does not explain: those to doubt if it is it.</param>
/// <param name="NothingExplains">Findings that no listed fault explains.</param>
/// <param name="LeastToDoubt">Where no listed fault explains all that was found: the fewest findings to doubt so that one does.</param>
/// <param name="Otherwise">What explains the rest then; empty where nothing is to be doubted.</param>
/// <param name="WorthEntering">
/// A number that is assumed so far and would tell the first suspects apart, or that the readings lean on most; empty where none is.
/// </param>
public sealed record Reasoned(
    IReadOnlyList<Finding> Findings,
    IReadOnlyList<SuspectGroup> Suspects,
    IReadOnlyList<NextAct> Next,
    IReadOnlyList<Moved> Moved,
    IReadOnlyList<Finding> Unexplained,
    IReadOnlyList<Finding> NothingExplains,
    IReadOnlyList<Finding> LeastToDoubt,
    string Otherwise,
    double Unsearched,
    string WorthEntering
)
{
    /// <summary>Readings of the sheet that are worth taking in one go, in their order; empty where one or none is.</summary>
    public IReadOnlyList<PlannedReading> Round { get; init; } = [];

    /// <summary>What is suspected may be away at times: a reading counts by whether the fault showed just then.</summary>
    public bool MayComeAndGo { get; init; }

    /// <summary>
    /// What fails in the state in which something is read, to be watched meanwhile; null where nothing that fails can be seen then.
    /// </summary>
    public Finding? Watched(Act act)
    {
        ArgumentNullException.ThrowIfNull(act);
        if (act is not { Kind: ActKind.Read, Pulled: "", IsUnplugged: false, SetUp: not { IsDead: true } })
        {
            return null;
        }

        // Of several, the one at which it is read.
        var failing = Findings.Where(f => MachineDiagnosis.IsFailing(f) && f.Act.State == act.State).ToList();
        return failing.FindLast(f => f.Act.Aims.Any(act.Aims.Contains)) ?? failing.LastOrDefault();
    }

    /// <summary>The one that is proved; null where none is.</summary>
    public SuspectGroup? Proved => Suspects is [{ Standing: SuspectStanding.Proved } first, ..] ? first : null;

    /// <summary>How it stands, in a sentence; empty where nobody is suspected.</summary>
    public string Ending =>
        Proved is { } proved ? $"Proved: {proved.Name}, because {proved.Because}."
        : Suspects.Count == 0 ? ""
        : $"Not proved. Most likely {Suspects[0].Name}, {Suspicion.Percent(Suspects[0].Share)}: {Suspects[0].Words}.";

    // So many times likelier or less likely, it is worth a word; a suspect that is out is cleared by what is so unlikely under it.
    private const double Strong = 1.5;
    private const double Clears = 0.1;

    /// <summary>Whom a finding clears, and for whom or against whom it speaks.</summary>
    public string Tells(Finding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        double FactorOf(SuspectGroup s) => s.Speaks.FirstOrDefault(x => x.FindingId == finding.Id)?.Factor ?? 1;
        var cleared = Suspects
            .Where(s => s.Kind == CauseKind.Part && s.Standing == SuspectStanding.Cleared && s.Speaks.Count > 0)
            .Where(s => FactorOf(s) < Clears)
            .OrderByDescending(s => Moved.Max(m => m.Shares.GetValueOrDefault(s.Id)))
            .Select(s => s.NameInList)
            .ToList();
        var clears = cleared.Count switch
        {
            0 => "",
            1 => $"clears {cleared[0]}",
            2 => $"clears {cleared[0]} and {cleared[1]}",
            var n => $"clears {cleared[0]}, {cleared[1]} and {n - 2} more",
        };
        var leader = Suspects.FirstOrDefault(s => s.Kind == CauseKind.Part);
        var speaks =
            leader is not null && FactorOf(leader) is var f and (> Strong or < 1 / Strong)
                ? $"speaks {(f > 1 ? "for" : "against")} {leader.Name}: {OddsWords(f > 1 ? f : 1 / f)} to 1"
                : "";
        return clears.Length > 0 && speaks.Length > 0 ? $"{clears}; {speaks}"
            : clears.Length + speaks.Length > 0 ? clears + speaks
            : "says little";
    }

    internal static string OddsWords(double factor) =>
        factor >= 1000 ? "over 1000"
        : factor >= 10 ? $"{factor:0}"
        : $"{factor:0.#}";
}

/// <summary>Puts together what a visit knows, weighs it, and ranks what to do next.</summary>
public static class Reasoning
{
    private const int MostMoves = 12;
    private const int MovesFollowed = 30;
    private const int MostWeighed = 60;

    // From which share of what comes and goes on it is worth a look at each reading. Common practice, no source.
    private const double MayBeAway = 0.05;

    /// <param name="complaint">What it was called for; its words are evidence, counted once.</param>
    /// <param name="seen">What was caught and written down, oldest first.</param>
    /// <param name="rounds">Of the visit, oldest first.</param>
    public static Known KnownOf(
        MachineDiagnosis model,
        string complaint,
        IEnumerable<Observation> seen,
        IEnumerable<(string RoundId, RoundSheet Sheet)> rounds
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(complaint);
        ArgumentNullException.ThrowIfNull(seen);
        ArgumentNullException.ThrowIfNull(rounds);
        List<Finding> findings = [];
        // A device orders what it makes by its clock, in milliseconds.
        var order = new Dictionary<string, long>();
        List<(string, string, string)> notUsed = [];
        var moment = 0;
        void Words(string id, string text, OutcomeKind? usual, Showing showing, long at)
        {
            var understood = SeenNotation.Read(text, model, usual);
            if (understood.Count == 0)
            {
                notUsed.Add((id, text, "names nothing that this machine is known to do"));
                return;
            }

            moment++;
            foreach (var (i, words) in understood.Index())
            {
                // The same said twice is counted once.
                var findingId = understood.Count == 1 ? id : $"{id}/{i}";
                if (!findings.Exists(f => f.Act.Id == words.Act.Id && f.Outcome == words.Outcome && f.IsDoubted == words.IsDoubted))
                {
                    findings.Add(
                        new Finding(
                            findingId,
                            words.Act,
                            words.Outcome,
                            moment,
                            words.Showing == Showing.Unknown ? showing : words.Showing,
                            words.Words,
                            words.IsDoubted
                        )
                    );
                    order[findingId] = at;
                }
            }
        }

        // What a board says of itself: nothing else is read out of it.
        void Code(string id, string text, long at)
        {
            if (SaidByBoards.Read(text, model) is { } said)
            {
                moment++;
                findings.Add(new Finding(id, said.Act, said.Outcome, moment, said.Showing, said.Words, said.IsDoubted));
                order[id] = at;
            }
            else
            {
                notUsed.Add((id, text, "nothing that this machine is known to say of a part"));
            }
        }

        if (complaint.Trim().Length > 0)
        {
            Words("complaint", complaint, null, Showing.Yes, long.MinValue);
        }

        foreach (var line in seen)
        {
            OutcomeKind? usual = line.Kind switch
            {
                ObservationKind.Works => OutcomeKind.Works,
                ObservationKind.WorksNot => OutcomeKind.No,
                _ => null,
            };
            if (line.Kind is ObservationKind.Works or ObservationKind.WorksNot or ObservationKind.Lamp or ObservationKind.Seen)
            {
                Words(line.Id.Value, line.Text, usual, Showing.Unknown, line.At.ToUnixTimeMilliseconds());
            }
            else if (line.Kind == ObservationKind.Code)
            {
                Code(line.Id.Value, $"shows {line.Text}", line.At.ToUnixTimeMilliseconds());
            }
            else if (line.Kind == ObservationKind.WorkedOut && SaidByBoards.IsTimed(line.Text))
            {
                Code(line.Id.Value, line.Text, line.At.ToUnixTimeMilliseconds());
            }
        }

        foreach (var (_, sheet) in rounds)
        {
            var moments = new Dictionary<string, int>();
            var earlier = sheet.Rows.Where(r => r.Reading is not null).ToLookup(r => r.Reading!.Id, r => r.Earlier);
            foreach (var (reading, check) in ReadingsOf(sheet).Where(e => e.Reading.Value is not null).OrderBy(e => e.Reading.Order))
            {
                // Whether it showed is said of one reading alone.
                var at = IsWatched(reading) ? ++moment : moments.GetValueOrDefault(reading.State);
                if (at == 0)
                {
                    at = moments[reading.State] = ++moment;
                }

                if (Of(reading, check, model, at) is { } finding)
                {
                    var before = earlier[reading.Id].SelectMany(e => e);
                    findings.Add(
                        finding with
                        {
                            IsReadTwice = before.Any(e => Of(e, check, model, at) is { } was && AreAlike(was, finding)),
                        }
                    );
                    order[finding.Id] = reading.Order;
                }
                else
                {
                    notUsed.Add((reading.Id, WordsOf(reading, model), "says nothing of what is suspected"));
                }
            }
        }

        return new Known([.. findings.OrderBy(f => order[f.Id])], notUsed);
    }

    /// <summary>
    /// What was read in a round, with its check where it has one: what stands, and of what was read again since, that which says whether
    /// the fault showed: it is as true as what was read later.
    /// </summary>
    public static IEnumerable<(Entry Reading, Machines.ResolvedCheck? Check)> ReadingsOf(RoundSheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        return sheet
            .Rows.SelectMany(r =>
                r.Earlier.Where(IsWatched).Append(r.Reading).OfType<Entry>().Select(e => (e, (Machines.ResolvedCheck?)r.Check))
            )
            .Concat(sheet.Extras.Select(e => (e, (Machines.ResolvedCheck?)null)));
    }

    /// <summary>
    /// Whether what is read needs to be told from what is read while the fault is away: by the words of the complaint, or since it was
    /// said of a reading before.
    /// </summary>
    public static bool MayComeAndGo(string complaint, RoundSheet sheet) =>
        SeenNotation.SaysSometimes(complaint) || ReadingsOf(sheet).Any(e => IsWatched(e.Reading));

    // Of a reading that is taken again. Common practice, no source.
    private const double Alike = 0.03;

    private static bool AreAlike(Finding one, Finding other) =>
        one.Outcome.Kind == other.Outcome.Kind
        && Math.Abs(one.Outcome.Value - other.Outcome.Value) <= Math.Max(one.Act.Step, Alike * Math.Abs(one.Outcome.Value));

    private static bool IsWatched(Entry reading) => SeenNotation.ShowingIn(reading.Value?.Remark ?? "").Showing != Showing.Unknown;

    private static Finding? Of(Entry reading, Machines.ResolvedCheck? check, MachineDiagnosis model, int moment)
    {
        // Taken dead what is read live, or the other way round: it means nothing.
        if (reading.Verdict is { Kind: VerdictKind.NotJudged, Rule: "taken live" or "taken dead" })
        {
            return null;
        }

        var outcome = reading.Counted switch
        {
            NumberReading { Unit: Unit.Volts or Unit.Ohms or Unit.Amps } number => new ActOutcome(
                OutcomeKind.Number,
                (double)number.Value,
                number.Unsteady
            ),
            OverloadReading => new ActOutcome(OutcomeKind.Open),
            LampReading { Blinks: true } => new ActOutcome(OutcomeKind.Sometimes),
            LampReading lamp => new ActOutcome(lamp.On ? OutcomeKind.Works : OutcomeKind.No),
            ContactReading contact => new ActOutcome(contact.Closed ? OutcomeKind.Works : OutcomeKind.No),
            _ => null,
        };
        var act =
            check is not null ? model.Read(check)
            : reading is { Red: { } red } ? model.Extra(red, reading.Black, reading.Mode, reading.State)
            : null;
        if (outcome is null || act is null)
        {
            return null;
        }

        var remark = reading.Value?.Remark ?? "";
        return new Finding(
            reading.Id,
            act with
            {
                NoLoad = Judge.IsWithoutLoad(remark) || check?.Check.Plugged == false,
            },
            outcome,
            moment,
            SeenNotation.ShowingIn(remark).Showing,
            WordsOf(reading, model),
            remark.EndsWith('?')
        );
    }

    private static string WordsOf(Entry reading, MachineDiagnosis model)
    {
        string Printed(PinAddress? pin) => pin is not null && model.Machine.Pins.TryGetValue(pin, out var at) ? at.Printed : "";
        var state = model.Machine.Model.States.FirstOrDefault(s => s.Code == reading.State)?.Name ?? reading.State;
        return $"{Printed(reading.Red)}{(reading is { CheckKey: null, Black: { } black } ? $" to {Printed(black)}" : "")} "
            + $"{reading.Counted?.Written}{(reading.Value?.Remark is { Length: > 0 } remark ? $" {remark}" : "")}, {state}";
    }

    /// <summary>Weighs the findings, names the suspects, and ranks what to do next.</summary>
    public static Reasoned Of(
        MachineDiagnosis model,
        IReadOnlyList<Finding> findings,
        RoundCost cost,
        NextActRules rules,
        ProofRule? proof = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(findings);
        ArgumentNullException.ThrowIfNull(rules);
        lock (model)
        {
            return Weighed(model, findings, cost, rules, proof, cancel);
        }
    }

    private static Reasoned Weighed(
        MachineDiagnosis model,
        IReadOnlyList<Finding> findings,
        RoundCost cost,
        NextActRules rules,
        ProofRule? proof,
        CancellationToken cancel
    )
    {
        var posterior = model.Weigh(findings, cancel);
        var suspects = Suspicion.Of(posterior, model.CureMinutes, proof);
        suspects = [.. suspects.Select(s => s.Standing == SuspectStanding.Cleared ? s with { Because = ClearedBy(s, findings) } : s)];
        var (next, round) =
            findings.Count == 0 && model.Level == 0 ? ([], []) : NextActs.Ranked(model, suspects, findings, cost, rules, cancel);
        var (unexplained, nothing, least, otherwise) = NotExplained(posterior, suspects);
        return new Reasoned(
            findings,
            suspects,
            next,
            MovedOf(model, findings, posterior, suspects, cancel),
            unexplained,
            nothing,
            least,
            otherwise,
            posterior.Unsearched,
            WorthEntering(model, posterior, suspects)
        )
        {
            Round = round,
            MayComeAndGo =
                posterior.All.Where(w => w.Cause.IsIntermittent).Sum(w => w.Share) > MayBeAway
                || findings.Any(f => f.Showing == Showing.No || f.Outcome.Kind == OutcomeKind.Sometimes),
        };
    }

    // In nats: less than one and a half to one is no reason to look a number up.
    private const double LeastParted = 0.4;

    /// <summary>
    /// The number, assumed so far, that would tell the first two suspects apart most if it were entered; else the one that most readings
    /// lean on.
    /// </summary>
    private static string WorthEntering(MachineDiagnosis model, Posterior posterior, IReadOnlyList<SuspectGroup> suspects)
    {
        if (model.Level < 3 || CircuitSurvey.Of(MachineCircuit.Of(model.Machine))?.Next is not [var most, ..] assumed)
        {
            return "";
        }

        if (suspects.Where(s => s.Kind == CauseKind.Part).Take(2).ToList() is [var first, var second])
        {
            var parted = posterior.PartedBy(first.Of[0], second.Of[0]);
            var best = assumed.MaxBy(w => parted.GetValueOrDefault(NameOf(w)))!;
            if (parted.GetValueOrDefault(NameOf(best)) is var nats and > LeastParted)
            {
                return $"{best.Part}: {best.Number.Name}, assumed so far, would tell {first.NameInList} from {second.NameInList} by "
                    + $"{Reasoned.OddsWords(Math.Exp(nats))} to 1";
            }
        }

        return $"{most.Part}: {most.Number.Name}, assumed so far, moves {most.Moves} {(most.Moves == 1 ? "reading" : "readings")}";
    }

    private static string NameOf(WorthEntering number) => CircuitDiagnosis.ErrorOf(number.Part, number.Number);

    /// <summary>What speaks most against it.</summary>
    private static string ClearedBy(SuspectGroup suspect, IReadOnlyList<Finding> findings) =>
        suspect.Speaks.Where(s => s.Factor < 1).MinBy(s => s.Factor) is { } least
            ? findings.FirstOrDefault(f => f.Id == least.FindingId)?.Words ?? ""
            : "";

    private static (
        IReadOnlyList<Finding> Unexplained,
        IReadOnlyList<Finding> Nothing,
        IReadOnlyList<Finding> Least,
        string Otherwise
    ) NotExplained(Posterior posterior, IReadOnlyList<SuspectGroup> suspects)
    {
        if (posterior.Findings.Count == 0 || suspects.Count == 0)
        {
            return ([], [], [], "");
        }

        List<Finding> Left(double[] speaks) =>
            [.. posterior.Findings.Index().Where(f => !posterior.Explains(f.Index, speaks[f.Index])).Select(f => f.Item)];
        var listed = posterior
            .All.Where(w => w.Cause.Kind == CauseKind.Part)
            .Take(MostWeighed)
            .Select(w => (w.Words, Left: Left(posterior.Speaks(w))))
            .ToList();
        var unexplained = suspects.FirstOrDefault(s => s.Kind == CauseKind.Part) is { } leader ? Left(posterior.Speaks(leader.Of[0])) : [];
        if (listed.Count == 0)
        {
            return (unexplained, [], [], "");
        }

        var nothing = posterior.Findings.Where(f => listed.TrueForAll(l => l.Left.Contains(f))).ToList();
        // The likeliest of those that leave least.
        var least = listed.MinBy(l => l.Left.Count);
        return (unexplained, nothing, least.Left, least.Left.Count > 0 ? least.Words : "");
    }

    /// <summary>
    /// The shares of the suspects after each finding, from those that count in the end and those that counted in the beginning.
    /// </summary>
    private static List<Moved> MovedOf(
        MachineDiagnosis model,
        IReadOnlyList<Finding> findings,
        Posterior posterior,
        IReadOnlyList<SuspectGroup> suspects,
        CancellationToken cancel
    )
    {
        var followed = posterior
            .All.Where(w => w.Cause.Both.Count == 0)
            .Take(MovesFollowed)
            .Select(w => w.Cause.Id)
            .Concat(model.Causes.OrderByDescending(c => c.Odds).Take(MovesFollowed).Select(c => c.Id))
            .Concat(model.Causes.Where(c => c.Kind != CauseKind.Part).Select(c => c.Id))
            .ToHashSet();
        var groups = suspects
            .SelectMany(s => s.Of.Select(w => (w.Cause.Id, Group: s.Id)))
            .DistinctBy(g => g.Id)
            .ToDictionary(g => g.Id, g => g.Group);
        List<Moved> moved = [];
        for (var n = Math.Max(0, findings.Count - MostMoves); n <= findings.Count; n++)
        {
            cancel.ThrowIfCancellationRequested();
            // The one before is held against the last: with pairs as it. Of those before, the single ones tell how it moved.
            var of =
                n == findings.Count ? posterior
                : n == findings.Count - 1 ? model.Weigh([.. findings.Take(n)], cancel)
                : Posterior.Of(model, findings.Take(n), null, followed, cancel);
            moved.Add(
                new Moved(
                    n == 0 ? "" : findings[n - 1].Id,
                    of.All.GroupBy(w => groups.GetValueOrDefault(w.Cause.Id, w.Cause.Id)).ToDictionary(g => g.Key, g => g.Sum(w => w.Share))
                )
            );
        }

        return moved;
    }
}
