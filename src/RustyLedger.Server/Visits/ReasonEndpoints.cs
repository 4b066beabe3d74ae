using Microsoft.EntityFrameworkCore;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Visits;

/// <summary>How something that is known speaks of a suspect.</summary>
/// <param name="Factor">How many times likelier it is under this suspect than under all others together; below 1 it speaks against.</param>
public sealed record SpeaksView(string Words, double Factor);

/// <summary>What would be seen if it were this suspect.</summary>
public sealed record WouldSeeView(string What, string Shows);

/// <summary>Something that may be wrong.</summary>
/// <param name="Words">Its likeliest fault.</param>
/// <param name="Share">Of all that may be wrong, 0 to 1.</param>
/// <param name="Before">The same before the last thing became known.</param>
/// <param name="Because">What proved it, what would, or what cleared it; may be empty.</param>
/// <param name="Why">What speaks for it and against it, the strongest first.</param>
public sealed record ReasonSuspect(
    string Id,
    string Name,
    CauseKind Kind,
    IReadOnlyList<string> Parts,
    string Words,
    double Share,
    double Before,
    SuspectStanding Standing,
    string Because,
    int For,
    int Against,
    IReadOnlyList<SpeaksView> Why,
    IReadOnlyList<WouldSeeView> WouldSee
);

/// <summary>Something to do next.</summary>
/// <param name="Choices">What may be seen of it, each with the line that keeps it; empty of a reading and of leaving.</param>
/// <param name="Mind">What to see to before it is done; may be empty.</param>
/// <param name="Watch">Of a reading, what fails and can be watched meanwhile: whether it shows counts.</param>
/// <param name="Fits">Of fitting a part, its suspect; empty of others.</param>
/// <param name="Minutes">Of the act itself, what must be changed for it counted.</param>
public sealed record NextActView(
    string Id,
    ActKind Kind,
    string Words,
    IReadOnlyList<SeenChoice> Choices,
    string Mind,
    WatchedWhile? Watch,
    string Fits,
    CheckKey? CheckKey,
    ProbeView? Red,
    ProbeView? Black,
    MeterMode Mode,
    string ModeWords,
    string Unit,
    string State,
    string StateName,
    bool IsDead,
    double Minutes,
    double ToTheEnd,
    IReadOnlyList<OutcomeMeans> Outcomes,
    string Why
);

/// <summary>Something that is known.</summary>
/// <param name="From">Where it came from: complaint, seen, or a reading of a round.</param>
/// <param name="RecordId">The line or the reading itself, by which it is taken back; empty of the complaint.</param>
/// <param name="Tells">What it does to the suspects, in words.</param>
/// <param name="IsGood">It speaks for something being well; null where it does neither.</param>
public sealed record KnownView(
    string Id,
    string From,
    string RecordId,
    string RoundId,
    int Version,
    string Text,
    string Words,
    string Tells,
    bool? IsGood,
    bool IsDoubted
);

/// <summary>A pin at which something is suspected.</summary>
/// <param name="Position">Whose board it is on; null for a pin of a part off the boards.</param>
/// <param name="Share">How likely a part is at fault that ends there, 0 to 1.</param>
public sealed record SuspectedPin(string? Position, string Pin, string Printed, double Share);

/// <summary>A check that is worth reading in a round on what is suspected.</summary>
/// <param name="Minutes">What must be changed for it counted, after the one before.</param>
public sealed record PlannedReadingView(CheckKey CheckKey, string Words, string StateName, bool IsDead, double Minutes);

/// <param name="Shares">By the ids of suspects.</param>
public sealed record MovedView(string Words, IReadOnlyDictionary<string, double> Shares);

/// <summary>The step Reason of a visit.</summary>
/// <param name="Level">3 by the circuit, 2 by functions, 1 by the wiring, 0 by nothing that tells suspects.</param>
/// <param name="Suspects">The likeliest first; those that are cleared, and counted more before, come last.</param>
/// <param name="Others">How many more there are, all under a hundredth.</param>
/// <param name="LeastToDoubt">Where no listed fault explains all: the fewest findings to doubt so that one does.</param>
/// <param name="Otherwise">What explains the rest then; empty where nothing is to be doubted.</param>
/// <param name="Names">What can be tried or looked at, for typing.</param>
/// <param name="Unsearched">What pairs that were not searched may hold at most.</param>
/// <param name="Round">Checks that are worth reading in one go, in their order; empty where one or none is.</param>
/// <param name="Pins">Where on the machine it is suspected, the likeliest first.</param>
/// <param name="Paths">The path of the power in the last round, as the suspects have it; empty where nothing tells suspects.</param>
/// <param name="Ending">In a sentence: proved because, or not proved, most likely, bring.</param>
public sealed record ReasonView(
    string VisitId,
    School School,
    int Level,
    string LastRoundId,
    IReadOnlyList<ReasonSuspect> Suspects,
    int Others,
    IReadOnlyList<NextActView> Next,
    IReadOnlyList<KnownView> Known,
    IReadOnlyList<KnownView> NotUsed,
    IReadOnlyList<MovedView> Moved,
    IReadOnlyList<string> Unexplained,
    IReadOnlyList<string> NothingExplains,
    IReadOnlyList<string> LeastToDoubt,
    string Otherwise,
    double Unsearched,
    string WorthEntering,
    IReadOnlyList<string> Names,
    IReadOnlyList<PlannedReadingView> Round,
    IReadOnlyList<SuspectedPin> Pins,
    IReadOnlyList<PathView> Paths,
    string Ending,
    string ProvedWords,
    string Bring
);

internal static class ReasonEndpoints
{
    private const int MostShown = 7;
    private const int MostCleared = 4;
    private const int MostActs = 6;
    private const double Strong = 1.5;

    public static void MapReason(this IEndpointRouteBuilder api) => api.MapGet("/visits/{id}/reason", Get).WithName("getReason");

    /// <param name="further">Looks one act further ahead, which takes longer.</param>
    /// <param name="leftOut">Ids of acts that are not possible here, a line each.</param>
    private static async Task<ReasonView> Get(
        string id,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel,
        string school = nameof(School.Fastest),
        bool further = false,
        string leftOut = ""
    )
    {
        if (!Enum.TryParse<School>(school, true, out var way) || !Enum.IsDefined(way) || char.IsDigit(school[0]))
        {
            throw ProblemException.Bad("school", $"There is no way of going on called \"{school}\".");
        }

        var visit =
            await context.Visits.AsNoTracking().SingleOrDefaultAsync(v => v.Id == id, cancel)
            ?? throw ProblemException.NotFound("This visit");
        var rules = new NextActRules(way, null, RoundMinutes.Usual, further ? 3 : 2)
        {
            LeftOut = leftOut.Split('\n', StringSplitOptions.RemoveEmptyEntries).ToHashSet(),
        };
        return (await Weigh(visit, rules, context, library, cancel)).View(visit, way);
    }

    /// <summary>What is asked for where nobody says otherwise.</summary>
    internal static NextActRules Usual => new(School.Fastest, null, RoundMinutes.Usual, 2);

    /// <summary>What is known in a visit, weighed.</summary>
    internal static async Task<Viewer> Weigh(
        Visit visit,
        NextActRules rules,
        LedgerContext context,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        var machine = await library.Resolve(visit.MachineId, cancel);
        var seen = await context
            .Observations.AsNoTracking()
            .Where(o => o.VisitId == visit.Id && o.RetiredAt == null)
            .OrderBy(o => o.At)
            .ThenBy(o => o.Id)
            .ToListAsync(cancel);
        var roundIds = await context
            .Rounds.AsNoTracking()
            .Where(r => r.VisitId == visit.Id)
            .OrderBy(r => r.StartedAt)
            .Select(r => r.Id)
            .ToListAsync(cancel);
        List<(string Id, RoundSheet Sheet)> rounds = [];
        RoundViewer? last = null;
        foreach (var roundId in roundIds)
        {
            last = (await RoundEndpoints.Load(roundId, context, library, cancel)).Viewer;
            rounds.Add((roundId.Value, last.Sheet));
        }

        var model = MachineDiagnosis.Of(machine, FeedGraph.Of(machine), await Confirmed(machine, visit, context, cancel));
        var known = Reasoning.KnownOf(model, visit.Complaint, seen, rounds);
        var reasoned = Reasoning.Of(
            model,
            known.Findings,
            RoundPlan.CostOf(rules.Minutes, RoundRules.Of(machine)),
            rules with
            {
                Now = known.Findings.LastOrDefault(f => f.Act.SetUp is not null)?.Act.SetUp,
            },
            cancel: cancel
        );
        return new Viewer(model, known, reasoned, seen, rounds, last);
    }

    /// <summary>Parts of machines of this model that were the fault, where the repair held.</summary>
    private static async Task<Dictionary<string, int>> Confirmed(
        ResolvedMachine machine,
        Visit visit,
        LedgerContext context,
        CancellationToken cancel
    )
    {
        var modelId = machine.Model.Id;
        var faults = await context
            .Faults.AsNoTracking()
            .Where(f =>
                f.Held == Held.Held
                && f.RetiredAt == null
                && f.OpenedAt < visit.OpenedAt
                && context.Machines.Any(m => m.Id == f.MachineId && m.ModelId == modelId)
            )
            .ToListAsync(cancel);
        return faults.SelectMany(f => f.Touched.Select(t => t.Called).Distinct()).GroupBy(c => c).ToDictionary(g => g.Key, g => g.Count());
    }

    /// <summary>Shows what was weighed.</summary>
    internal sealed class Viewer(
        MachineDiagnosis model,
        Known known,
        Reasoned reasoned,
        List<Observation> seen,
        List<(string Id, RoundSheet Sheet)> rounds,
        RoundViewer? last
    )
    {
        private readonly Dictionary<string, Finding> _findings = known.Findings.ToDictionary(f => f.Id);

        public Reasoned Reasoned => reasoned;

        /// <summary>What is no reading, in the order in which it was seen; readings are evidence by themselves.</summary>
        public IEnumerable<Evidence> Said =>
            known
                .Findings.Where(f =>
                    f.Act.Kind != ActKind.Read || !rounds.Exists(r => Reasoning.ReadingsOf(r.Sheet).Any(e => e.Reading.Id == f.Id))
                )
                .Select(f => new Evidence.Said(null, $"{f.Words}; {reasoned.Tells(f)}"));

        /// <inheritdoc cref="Reasoned.Ending"/>
        public string Ending => model.Level == 0 ? "" : reasoned.Ending;

        public ReasonView View(Visit visit, School school)
        {
            var live = reasoned.Suspects.Where(s => s.Standing != SuspectStanding.Cleared).Take(MostShown).ToList();
            // Of those that are out, the ones that were suspected most.
            var first = reasoned.Moved[0].Shares;
            var cleared = reasoned
                .Suspects.Where(s => s.Standing == SuspectStanding.Cleared && s.Kind == CauseKind.Part)
                .OrderByDescending(s => reasoned.Moved.Max(m => m.Shares.GetValueOrDefault(s.Id)))
                .Take(MostCleared)
                .Where(s => reasoned.Moved.Max(m => m.Shares.GetValueOrDefault(s.Id)) > 0.02)
                .ToList();
            var leader = reasoned.Suspects.Count > 0 ? reasoned.Suspects[0] : null;
            var places = SuspectPlaces.Of(model, reasoned.Suspects);
            var proved = reasoned.Proved;
            var readings = rounds
                .SelectMany(r => Reasoning.ReadingsOf(r.Sheet).Select(e => (e: e.Reading, r.Id)))
                .ToDictionary(r => r.e.Id);
            return new ReasonView(
                visit.Id.Value,
                school,
                model.Level,
                rounds.Count > 0 ? rounds[^1].Id : "",
                [.. live.Concat(cleared).Select(Suspect)],
                reasoned.Suspects.Count - live.Count - cleared.Count,
                [.. reasoned.Next.Take(MostActs).Select(Next)],
                [.. known.Findings.Select(f => KnownOf(f, readings))],
                [.. known.NotUsed.Select(n => NotUsed(n, readings))],
                [.. reasoned.Moved.Select(m => new MovedView(_findings.TryGetValue(m.FindingId, out var f) ? f.Words : "", m.Shares))],
                [.. reasoned.Unexplained.Select(f => f.Words)],
                [.. reasoned.NothingExplains.Select(f => f.Words)],
                [.. reasoned.LeastToDoubt.Select(f => f.Words)],
                reasoned.Otherwise,
                reasoned.Unsearched,
                reasoned.WorthEntering,
                [
                    .. model
                        .Acts.Where(a => a.Kind is ActKind.Try or ActKind.Look)
                        .Select(a => a.Words)
                        .Concat(model.Machine.Model.Positions.Select(p => p.Name))
                        .Concat(model.Protections.SelectMany(p => new[] { $"{p} blows", $"{p} holds" }))
                        .Distinct(),
                ],
                [
                    .. reasoned.Round.Select(r => new PlannedReadingView(
                        r.Act.CheckKey!.Value,
                        r.Act.Words,
                        model.StateName(r.Act),
                        r.Act.SetUp?.IsDead ?? false,
                        r.Minutes
                    )),
                ],
                [.. places.Pins.Select(p => Suspected(p.Pin, p.Share))],
                model.Level == 0 || last is null ? [] : last.Suspected(places, reasoned.Next is [var best, ..] ? best.Act?.Red : null),
                Ending,
                proved is null ? "" : $"{proved.Words}. {proved.Because}",
                leader is { Kind: CauseKind.Part, Share: > 0.2 } ? leader.Name : ""
            );
        }

        private SuspectedPin Suspected(PinAddress at, double share) =>
            new(at.InPosition?.Value, model.Machine.Pins[at].Pin.Id.Value, model.Machine.Pins[at].Printed, share);

        private ReasonSuspect Suspect(SuspectGroup of)
        {
            var why = of
                .Speaks.Where(s => s.Factor is > Strong or < 1 / Strong)
                .OrderByDescending(s => Math.Abs(Math.Log(s.Factor)))
                .Select(s => new SpeaksView(_findings.TryGetValue(s.FindingId, out var f) ? f.Words : "", s.Factor))
                .ToList();
            var before = reasoned.Moved.Count > 1 ? reasoned.Moved[^2].Shares.GetValueOrDefault(of.Id) : of.Share;
            return new ReasonSuspect(
                of.Id,
                of.Name,
                of.Kind,
                of.Parts,
                of.Words,
                of.Share,
                before,
                of.Standing,
                of.Because,
                why.Count(w => w.Factor > 1),
                why.Count(w => w.Factor < 1),
                why,
                of.Kind == CauseKind.Part && of.Standing != SuspectStanding.Cleared ? WouldSee(of) : []
            );
        }

        /// <summary>What the next acts would show if it were this.</summary>
        private List<WouldSeeView> WouldSee(SuspectGroup of) =>
            [
                .. reasoned
                    .Next.Where(n => n.Act is not null)
                    .Take(4)
                    .Select(n => (n, Shows: NextActs.Words(model.Predict(of.Of[0].Cause, of.Of[0].Size, n.Act!), n.Act!)))
                    .Where(n => n.Shows.Length > 0)
                    .Select(n => new WouldSeeView(model.WordsOf(n.n.Act!), n.Shows)),
            ];

        private NextActView Next(NextAct of)
        {
            var act = of.Act;
            var state = model.Machine.Model.States.FirstOrDefault(s => s.Code == act?.State);
            return new NextActView(
                act?.Id ?? $"{of.Kind} {of.Fits}{of.Words}",
                of.Kind,
                of.Words,
                [
                    .. act is not null ? SeenChoices.Of(act, model)
                    : of.Kind == ActKind.Fit && reasoned.Suspects.FirstOrDefault(s => s.Name == of.Fits) is { } suspect
                        ? SeenChoices.Of(MachineDiagnosis.Fit(suspect.Parts), model)
                    : [],
                ],
                SeenChoices.Mind(of.Kind, act, reasoned, model),
                SeenChoices.Watch(act, reasoned),
                of.Fits,
                act?.CheckKey,
                ProbeView.Of(act?.Red, model.Machine),
                ProbeView.Of(act?.Black, model.Machine),
                act?.Mode ?? MeterMode.DcVolts,
                act is { Kind: ActKind.Read } ? act.Mode.Words() : "",
                act is { Kind: ActKind.Read } ? act.UnitSign : "",
                act?.State ?? "",
                state?.Name ?? "",
                act?.SetUp?.IsDead ?? true,
                of.Minutes,
                of.ToTheEnd,
                of.Outcomes,
                of.Why
            );
        }

        private KnownView KnownOf(Finding finding, Dictionary<string, (Entry e, string Id)> readings)
        {
            var (from, record, round, version, text) = Source(finding.Id, readings);
            return new KnownView(
                finding.Id,
                from,
                record,
                round,
                version,
                text,
                finding.Words,
                reasoned.Tells(finding),
                model.IsAsHealthy(finding),
                finding.IsDoubted
            );
        }

        private KnownView NotUsed((string Id, string Words, string Why) of, Dictionary<string, (Entry e, string Id)> readings)
        {
            var (from, record, round, version, text) = Source(of.Id, readings);
            return new KnownView(of.Id, from, record, round, version, text, of.Words, of.Why, null, false);
        }

        private (string From, string Record, string Round, int Version, string Text) Source(
            string id,
            Dictionary<string, (Entry e, string Id)> readings
        ) =>
            readings.TryGetValue(id, out var reading) ? ("reading", id, reading.Id, 0, "")
            : id.StartsWith("complaint", StringComparison.Ordinal) ? ("complaint", "", "", 0, "")
            : seen.Find(o => id == o.Id.Value || id.StartsWith($"{o.Id.Value}/", StringComparison.Ordinal)) is { } line
                ? ("seen", line.Id.Value, "", line.Version, line.Text)
            : ("seen", "", "", 0, "");
    }
}
