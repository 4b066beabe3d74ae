using RustyLedger.Core.Circuits;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

/// <summary>A stretch in a technician's words.</summary>
/// <param name="Found">Where it lies, in pins and parts.</param>
/// <param name="Sentence">The same in one sentence.</param>
/// <param name="Next">What to check next; empty when nothing within is left to measure.</param>
/// <param name="Why">The numbers and rules that led to it, a sentence each.</param>
public sealed record StretchInWords(FoundPlace Found, string Sentence, string Next, IReadOnlyList<string> Why)
{
    /// <summary>What it tells of; null where it is a return, or one place for several stretches.</summary>
    public Stretch? Stretch { get; init; }

    /// <summary>One place that explains several bad pins at once.</summary>
    public bool IsOnePlace => Found.Kind == FoundKind.OnePlace;
}

public static class StretchWords
{
    private const int MostNamed = 3;

    /// <summary>
    /// All that one state says: losses along returns, then the one place that explains several bad pins, then each stretch.
    /// </summary>
    /// <param name="later">The machine is proved dead, so what is proposed waits until it is live again.</param>
    public static IReadOnlyList<StretchInWords> All(StatePath path, ResolvedMachine machine, bool later = false)
    {
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(machine);
        var all = new List<StretchInWords>();
        all.AddRange(path.Drops.Where(d => d.IsLost).Select(d => Of(d, machine)));
        var isFirst = true;
        if (path.Report.OneFault is { } one)
        {
            var stretch = new Stretch(one.Bads[0], [], [], one.Sources, one.Links, [], false, [], null, one.Next)
            {
                Unlisted = one.Unlisted,
            };
            var words = new Words(stretch, path, machine, null);
            all.Add(Of(words.FoundOf(one), words.Next(isFirst, later), words.WhyOnePlace(one), machine));
            isFirst = false;
        }

        foreach (var stretch in path.Report.Stretches)
        {
            var words = new Words(stretch, path, machine, path.Report.OneFault);
            all.Add(Of(words.Found(), words.Next(isFirst, later), words.Why(), machine) with { Stretch = stretch });
            isFirst = false;
        }

        return all;
    }

    private static StretchInWords Of(FoundPlace found, string next, IReadOnlyList<string> why, ResolvedMachine machine) =>
        new(found, found.Sentence(machine), next, why);

    private static StretchInWords Of(ReturnDrop drop, ResolvedMachine machine)
    {
        var (far, near) = (machine.Pins[drop.Far].Printed, machine.Pins[drop.Near].Printed);
        var most = Numbers.Write(ReturnDrop.MostVolts);
        var part = new PartRef.ReturnPath(drop.Far, drop.Near);
        return Of(
            new FoundPlace(
                FoundKind.Return,
                VerdictKind.High,
                [drop.Far, .. drop.Explains],
                [drop.Near],
                [new(SuspectKind.Return, part, drop.Far), new(SuspectKind.Contact, part, drop.Far)],
                Volts: drop.Volts
            ),
            "Look at its contacts, then read it again under load.",
            [
                $"{drop.Reading.Value!.Written} between {far} and {near}; under load at most {most} V.",
                .. drop.Explains.Select(p =>
                    $"{machine.Pins[p].Printed} would read right with the {Numbers.Write(drop.Volts)} V that the return loses."
                ),
            ],
            machine
        );
    }

    internal static string Join(IEnumerable<string> parts, string last)
    {
        var all = parts.ToList();
        return all.Count < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])}{(all.Count > 2 ? "," : "")} {last} {all[^1]}";
    }

    private sealed class Words(Stretch stretch, StatePath path, ResolvedMachine machine, OneFault? one)
    {
        private readonly PathReport _report = path.Report;
        private readonly FeedGraph _graph = path.Report.Graph;
        private readonly Dictionary<string, ResolvedLink> _links = MachineFeeds.Of(machine).Links.ToDictionary(l => l.Id);

        private VerdictKind Kind => _report.Evidence[stretch.Bad].Verdict.Kind;

        public FoundPlace Found()
        {
            if (stretch.Contradicted is { } good)
            {
                return Place(FoundKind.Contradicted, [good]);
            }

            if (stretch.AccusesSupply)
            {
                return Place(_graph.IsSource[stretch.Bad] ? FoundKind.Supply : FoundKind.BeforeTheRecord, []);
            }

            return stretch.WorseThan.Count > 0
                ? Place(FoundKind.Further, stretch.WorseThan)
                : Place(FoundKind.Between, [.. stretch.GoodEnds, .. stretch.OpenSources]);
        }

        private FoundPlace Place(FoundKind kind, IEnumerable<PinIndex> from) =>
            new(kind, Kind, [_graph[stretch.Bad]], [.. from.Select(p => _graph[p])], Suspects());

        /// <param name="isFirst">What is said of it first is what the probe goes to.</param>
        public string Next(bool isFirst, bool later)
        {
            if (stretch.Contradicted is not null || stretch.AccusesSupply || one?.Bads.Contains(stretch.Bad) == true)
            {
                return "";
            }

            return stretch.Next.Count > 0
                ? later
                    ? $"Live again, check {Name(stretch.Next[0])}: it halves what is left."
                    : isFirst
                        ? $"Check {Name(stretch.Next[0])} next: it halves what is left."
                        : $"After that, {Name(stretch.Next[0])}."
                : stretch.Unlisted is { } pin
                    ? $"No check is left in between; a reading at {Name(pin)}, if it can be reached, splits what is left."
                    : "Nothing between them is left to measure: look at the contacts, then ohms with the power off.";
        }

        /// <summary>Where a long run of links is only counted, its ends are named.</summary>
        public FoundPlace FoundOf(OneFault place) =>
            new(
                FoundKind.OnePlace,
                Kind,
                [.. place.Bads.Select(p => _graph[p])],
                [],
                SuspectsOf(place),
                place.IsAll,
                place.Links.Count > MostNamed ? [_graph[_graph[place.Links[0]].From], _graph[_graph[place.Links[^1]].To]] : null
            );

        /// <summary>A return is one place only where all were read against the same.</summary>
        private List<Suspect> SuspectsOf(OneFault place) =>
            [
                .. Suspects()
                    .Where(s =>
                        s.Kind != SuspectKind.Return || place.Bads.Select(b => path.Commons.GetValueOrDefault(b)).Distinct().Count() == 1
                    ),
            ];

        public List<string> WhyOnePlace(OneFault place) =>
            [
                .. place.Bads.Select(b => $"{Name(b)}: {_report.Evidence[b].Verdict.Reason}."),
                $"All that feeds {Join(place.Bads.Select(Name), "and")} passes it, and no good reading clears it.",
                .. place.Sources.Select(s => $"{Name(s)} is not measured, so nothing is known to be good on that side."),
            ];

        private List<Suspect> Suspects()
        {
            if (stretch.Contradicted is not null)
            {
                return [new(SuspectKind.Reading, null, Bad)];
            }

            var found = new List<Suspect>();
            found.AddRange(
                (stretch.AccusesSupply ? [stretch.Bad] : stretch.OpenSources)
                    .Where(p => _graph.IsSource[p])
                    .Select(p => new Suspect(SuspectKind.Supply, new PartRef.Supply(_graph[p]), _graph[p]))
            );
            var conductors = stretch.Links.Select(l => Suspect.Of(_links[_graph[l].Id], machine)).Distinct().ToList();
            found.AddRange(
                conductors.Count <= MostNamed
                    ? conductors
                    : conductors
                        .Where(c => c.Kind is SuspectKind.Fuse or SuspectKind.Part)
                        .Append(
                            new(
                                SuspectKind.Wire,
                                new PartRef.OneOf([
                                    .. conductors.Where(c => c.Kind is SuspectKind.Wire or SuspectKind.BoardPath).Select(c => c.Part!),
                                ]),
                                null
                            )
                        )
            );
            var contacts = conductors
                .Select(c => c.Part)
                .OfType<PartRef.Wire>()
                .SelectMany(w => (PartRef[])[new PartRef.Contact(w.From), new PartRef.Contact(w.To)])
                .ToList();
            if (contacts.Count > 0)
            {
                found.Add(new(SuspectKind.Contact, new PartRef.OneOf(contacts), null));
            }

            if (Kind == VerdictKind.High)
            {
                found.Add(new(SuspectKind.OtherFeed, null, Bad));
            }
            else
            {
                if (path.Commons.TryGetValue(stretch.Bad, out var common) && machine.Pins.ContainsKey(common) && Sound(common) is null)
                {
                    found.Add(new(SuspectKind.Return, new PartRef.ReturnPath(common, null), common));
                }

                found.Add(new(SuspectKind.Load, null, Bad));
            }

            return found;
        }

        /// <summary>A reading under load that shows the whole return from a common to be sound; null where there is none.</summary>
        private ReturnDrop? Sound(PinAddress common) =>
            path.Drops.FirstOrDefault(d =>
                !d.IsLost
                && ((d.Far == common && (d.SpansToSupply || Ends().Contains(d.Near))) || (d.Near == common && Ends().Contains(d.Far)))
            );

        private IEnumerable<PinAddress> Ends() => stretch.GoodEnds.Where(path.Commons.ContainsKey).Select(g => path.Commons[g]);

        public List<string> Why()
        {
            var why = new List<string> { $"{Name(stretch.Bad)}: {_report.Evidence[stretch.Bad].Verdict.Reason}." };
            if (path.Commons.TryGetValue(stretch.Bad, out var common) && Sound(common) is { } sound)
            {
                why.Add(
                    $"The return is sound: {Numbers.Write(sound.Volts)} V from {machine.Pins[sound.Far].Printed} to "
                        + $"{machine.Pins[sound.Near].Printed}, at most {Numbers.Write(ReturnDrop.MostVolts)} V under load."
                );
            }

            why.AddRange(
                _report
                    .Evidence.Where(e => e.Value is { NoLoad: true, Verdict.IsGood: true })
                    .Select(e => $"{Name(e.Key)} was read without a load: a weak contact would not show.")
            );
            foreach (var good in stretch.GoodEnds)
            {
                why.Add(
                    _report.Evidence.TryGetValue(good, out var e)
                        ? $"{Name(good)} is good: "
                            + $"{e.Verdict.Reason}{(e.Verdict.Kind == VerdictKind.Marginal ? " (marginal, counts as good)" : "")}."
                        : $"{Name(good)} is not measured, but a good pin is fed only through it."
                );
            }

            why.AddRange(
                stretch
                    .BadFeeders.Except(stretch.WorseThan)
                    .Select(b => $"{Name(b)} is bad too and leads here; it has a stretch of its own.")
            );
            why.AddRange(
                stretch.WorseThan.Select(b =>
                    $"{Name(b)} before it reads {Percent(b)} of what it should, this one {Percent(stretch.Bad)}: more than "
                    + $"half a band worse, so a second fault."
                )
            );
            why.AddRange(stretch.OpenSources.Select(s => $"{Name(s)} is not measured, so nothing is known to be good on that side."));
            if (stretch.Untouched.Count > 0)
            {
                why.Add($"Not measured in between: {Join(stretch.Untouched.Select(Name), "and")}.");
            }

            var cleared = _report.ClearedPins.Count(c => c);
            if (cleared > 0)
            {
                why.Add($"{cleared} of {_graph.Pins.Count} pins on the path are cleared by good readings.");
            }

            return why;
        }

        private string Percent(PinIndex pin) =>
            _report.Evidence[pin].Share is { } share ? $"{Numbers.Write(Math.Round(share * 100))} %" : "out";

        private PinAddress Bad => _graph[stretch.Bad];

        private string Name(PinIndex index) => machine.Pins[_graph[index]].Printed;
    }
}
