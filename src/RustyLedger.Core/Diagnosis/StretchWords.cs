using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Diagnosis;

public enum SuspectKind
{
    Supply,
    Wire,
    BoardPath,
    Fuse,
    Part,
    Contact,
    Return,
    Load,
    OtherFeed,
    Reading,
}

/// <summary>Something that may be at fault, in words.</summary>
public sealed record Suspect(SuspectKind Kind, string Words);

/// <summary>A stretch in a technician's words.</summary>
/// <param name="Sentence">One sentence: where the fault lies.</param>
/// <param name="Next">What to check next; empty when nothing within is left to measure.</param>
/// <param name="Why">The numbers and rules that led to it, a sentence each.</param>
public sealed record StretchInWords(string Sentence, string Next, IReadOnlyList<Suspect> Suspects, IReadOnlyList<string> Why)
{
    /// <summary>What it tells of; null where it is a return, or one place for several stretches.</summary>
    public Stretch? Stretch { get; init; }

    /// <summary>One place that explains several bad pins at once.</summary>
    public bool IsOnePlace { get; init; }
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
            all.Add(
                new(words.OnePlace(one), words.Next(isFirst, later), words.SuspectsOf(one), words.WhyOnePlace(one)) { IsOnePlace = true }
            );
            isFirst = false;
        }

        foreach (var stretch in path.Report.Stretches)
        {
            var words = new Words(stretch, path, machine, path.Report.OneFault);
            all.Add(new(words.Sentence(), words.Next(isFirst, later), words.Suspects(), words.Why()) { Stretch = stretch });
            isFirst = false;
        }

        return all;
    }

    private static StretchInWords Of(ReturnDrop drop, ResolvedMachine machine)
    {
        var (far, near) = (machine.Pins[drop.Far].Printed, machine.Pins[drop.Near].Printed);
        var most = Numbers.Write(ReturnDrop.MostVolts);
        var names = drop.Explains.Select(p => machine.Pins[p].Printed).ToList();
        return new(
            $"The return loses {Numbers.Write(drop.Volts)} V from {far} to {near}: a contact or the wire along "
                + $"it.{(names.Count > 0 ? $" It explains {Words.Join(names, "and")}." : "")}",
            "Look at its contacts, then read it again under load.",
            [new(SuspectKind.Return, $"the return from {far} to {near}"), new(SuspectKind.Contact, "a contact along it")],
            [
                $"{drop.Reading.Value!.Written} between {far} and {near}; under load at most {most} V.",
                .. names.Select(n => $"{n} would read right with the {Numbers.Write(drop.Volts)} V that the return loses."),
            ]
        );
    }

    private sealed class Words(Stretch stretch, StatePath path, ResolvedMachine machine, OneFault? one)
    {
        private readonly PathReport _report = path.Report;
        private readonly FeedGraph _graph = path.Report.Graph;
        private readonly Dictionary<string, ResolvedLink> _links = machine.Links.ToDictionary(l => l.Id);

        private VerdictKind Kind => _report.Evidence[stretch.Bad].Verdict.Kind;

        public string Sentence()
        {
            var bad = Name(stretch.Bad);
            if (stretch.Contradicted is { } good)
            {
                return $"{bad} reads {Found(Kind)}, but {Name(good)}, which only it feeds, is good: read {bad} again.";
            }

            if (stretch.AccusesSupply)
            {
                return _graph.IsSource[stretch.Bad]
                    ? $"The supply is at fault: {bad} reads {Found(Kind)} where power enters, or a load pulls it down."
                    : $"{bad} reads {Found(Kind)}, and what feeds it is not in the record.";
            }

            var from = stretch.WorseThan.Count > 0 ? stretch.WorseThan : [.. stretch.GoodEnds, .. stretch.OpenSources];
            var head =
                stretch.WorseThan.Count > 0
                    ? "A further loss is"
                    : Kind switch
                    {
                        VerdictKind.High => "The excess comes in",
                        VerdictKind.Reversed => "The wires are turned",
                        _ => "The loss is",
                    };
            return $"{head} between {Join(from.Select(Name), "or")} and {bad}: {Join(Suspects().Select(s => s.Words), "or")}.";
        }

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

        public string OnePlace(OneFault place) =>
            $"One place explains "
            + $"{(place.IsAll ? "every bad pin" : $"{Join(place.Bads.Select(Name), "and")}")}{Between(place)}: "
            + $"{Join(SuspectsOf(place).Select(s => s.Words), "or")}.";

        /// <summary>Where a long run of links is only counted, its ends are named.</summary>
        private string Between(OneFault place) =>
            place.Links.Count > MostNamed
                ? $", between {Name(_graph.Links[place.Links[0]].From)} and {Name(_graph.Links[place.Links[^1]].To)}"
                : "";

        /// <summary>A return is one place only where all were read against the same.</summary>
        public List<Suspect> SuspectsOf(OneFault place) =>
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

        public List<Suspect> Suspects()
        {
            if (stretch.Contradicted is not null)
            {
                return [new(SuspectKind.Reading, $"the reading at {Name(stretch.Bad)} (probe, common or mode)")];
            }

            var found = new List<Suspect>();
            found.AddRange(
                (stretch.AccusesSupply ? [stretch.Bad] : stretch.OpenSources)
                    .Where(p => _graph.IsSource[p])
                    .Select(p => new Suspect(SuspectKind.Supply, $"the supply at {Name(p)}"))
            );
            var conductors = stretch.Links.Select(l => Conductor(_links[_graph.Links[l].Id])).Distinct().ToList();
            found.AddRange(
                conductors.Count <= MostNamed
                    ? conductors
                    : conductors
                        .Where(c => c.Kind is SuspectKind.Fuse or SuspectKind.Part)
                        .Append(new(SuspectKind.Wire, Counted(conductors)))
            );
            var wires = conductors.Count(c => c.Kind == SuspectKind.Wire);
            if (wires > 0)
            {
                found.Add(new(SuspectKind.Contact, wires == 1 ? "either contact" : "a contact along them"));
            }

            if (Kind == VerdictKind.High)
            {
                found.Add(new(SuspectKind.OtherFeed, $"a feed from elsewhere into {Pin(stretch.Bad).PrintedElement}"));
            }
            else
            {
                if (
                    path.Commons.TryGetValue(stretch.Bad, out var common)
                    && machine.Pins.TryGetValue(common, out var black)
                    && Sound(common) is null
                )
                {
                    found.Add(new(SuspectKind.Return, $"the return of {black.PrintedElement}"));
                }

                found.Add(new(SuspectKind.Load, "a load pulling it down"));
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

        private static string Found(VerdictKind kind) =>
            kind switch
            {
                VerdictKind.Low => "low",
                VerdictKind.High => "high",
                VerdictKind.Dead => "dead",
                VerdictKind.Reversed => "reversed",
                _ => "wrong",
            };

        private Suspect Conductor(ResolvedLink link)
        {
            var (from, to) = (machine.Pins[link.From], machine.Pins[link.To]);
            if (from.Element is { Kind: ElementKind.Fuse } fuse && to.Element == fuse && link.From.Holder == link.To.Holder)
            {
                return new(SuspectKind.Fuse, $"fuse {from.PrintedElement}");
            }

            if (from.Part is { } part && part == to.Part)
            {
                return new(SuspectKind.Part, $"{part.Name} {part.Designator}");
            }

            if (link.IsInner)
            {
                return new(SuspectKind.BoardPath, $"the path {from.Printed} to {to.Printed} on the board of {from.HolderWords}");
            }

            var colours = from.Pin.Colours.Colours.Length > 0 ? from.Pin.Colours : to.Pin.Colours;
            return new(SuspectKind.Wire, $"wire {(colours.Code.Length > 0 ? colours.Code + " " : "")}from {from.Printed} to {to.Printed}");
        }

        private static string Counted(List<Suspect> conductors)
        {
            var (wires, paths) = (
                conductors.Count(c => c.Kind == SuspectKind.Wire),
                conductors.Count(c => c.Kind == SuspectKind.BoardPath)
            );
            return Join(
                new[] { (wires, "wire"), (paths, "path") }
                    .Where(c => c.Item1 > 0)
                    .Select(c =>
                        c.Item1 == 1
                            ? $"one {c.Item2}{(c.Item2 == "path" ? " on a board" : "")}"
                            : $"{c.Item1} {c.Item2}s{(c.Item2 == "path" ? " on the boards" : "")}"
                    ),
                "or"
            );
        }

        private string Percent(int pin) => _report.Evidence[pin].Share is { } share ? $"{Numbers.Write(Math.Round(share * 100))} %" : "out";

        private ResolvedPin Pin(int index) => machine.Pins[_graph.Pins[index]];

        private string Name(int index) => Pin(index).Printed;

        public static string Join(IEnumerable<string> parts, string last)
        {
            var all = parts.ToList();
            return all.Count < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])}{(all.Count > 2 ? "," : "")} {last} {all[^1]}";
        }
    }
}
