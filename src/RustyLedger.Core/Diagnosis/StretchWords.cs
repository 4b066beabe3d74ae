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
public sealed record StretchInWords(string Sentence, string Next, IReadOnlyList<Suspect> Suspects, IReadOnlyList<string> Why);

public static class StretchWords
{
    private const int MostNamed = 3;

    /// <param name="commons">The common pin each measured pin was read against, by graph index.</param>
    public static StretchInWords Of(Stretch stretch, PathReport report, ResolvedMachine machine, IReadOnlyDictionary<int, PinAddress> commons)
    {
        ArgumentNullException.ThrowIfNull(stretch);
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(commons);
        var words = new Words(stretch, report, machine, commons);
        return new StretchInWords(words.Sentence(), words.Next(), words.Suspects(), words.Why());
    }

    private sealed class Words(Stretch stretch, PathReport report, ResolvedMachine machine, IReadOnlyDictionary<int, PinAddress> commons)
    {
        private readonly FeedGraph _graph = report.Graph;
        private readonly Dictionary<string, ResolvedLink> _links = machine.Links.ToDictionary(l => l.Id);

        private VerdictKind Kind => report.Evidence[stretch.Bad].Verdict.Kind;

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
            var head = stretch.WorseThan.Count > 0 ? "A further loss is" : Kind switch
            {
                VerdictKind.High => "The excess comes in",
                VerdictKind.Reversed => "The wires are turned",
                _ => "The loss is",
            };
            return $"{head} between {Join(from.Select(Name), "or")} and {bad}: {Join(Suspects().Select(s => s.Words), "or")}.";
        }

        public string Next() => stretch.Next.Count > 0
            ? $"Check {Name(stretch.Next[0])} next: it halves what is left."
            : stretch.Contradicted is null && !stretch.AccusesSupply
                ? "Nothing between them is left to measure: look at the contacts, then ohms with the power off."
                : "";

        public List<Suspect> Suspects()
        {
            if (stretch.Contradicted is not null)
            {
                return [new(SuspectKind.Reading, $"the reading at {Name(stretch.Bad)} (probe, common or mode)")];
            }

            var found = new List<Suspect>();
            found.AddRange((stretch.AccusesSupply ? [stretch.Bad] : stretch.OpenSources).Where(p => _graph.IsSource[p])
                .Select(p => new Suspect(SuspectKind.Supply, $"the supply at {Name(p)}")));
            var conductors = stretch.Links.Select(l => Conductor(_links[_graph.Links[l].Id])).Distinct().ToList();
            found.AddRange(conductors.Count <= MostNamed
                ? conductors
                : conductors.Where(c => c.Kind is SuspectKind.Fuse or SuspectKind.Part).Append(new(SuspectKind.Wire, Counted(conductors))));
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
                if (commons.TryGetValue(stretch.Bad, out var common) && machine.Pins.TryGetValue(common, out var black))
                {
                    found.Add(new(SuspectKind.Return, $"the return of {black.PrintedElement}"));
                }

                found.Add(new(SuspectKind.Load, "a load pulling it down"));
            }

            return found;
        }

        public List<string> Why()
        {
            var why = new List<string> { $"{Name(stretch.Bad)}: {report.Evidence[stretch.Bad].Verdict.Reason}." };
            foreach (var good in stretch.GoodEnds)
            {
                why.Add(report.Evidence.TryGetValue(good, out var e)
                    ? $"{Name(good)} is good: {e.Verdict.Reason}{(e.Verdict.Kind == VerdictKind.Marginal ? " (marginal, counts as good)" : "")}."
                    : $"{Name(good)} is not measured, but a good pin is fed only through it.");
            }

            why.AddRange(stretch.BadFeeders.Except(stretch.WorseThan).Select(b => $"{Name(b)} is bad too and leads here; it has a stretch of its own."));
            why.AddRange(stretch.WorseThan.Select(b =>
                $"{Name(b)} before it reads {Percent(b)} of what it should, this one {Percent(stretch.Bad)}: more than half a band worse, so a second fault."));
            why.AddRange(stretch.OpenSources.Select(s => $"{Name(s)} is not measured, so nothing is known to be good on that side."));
            if (stretch.Untouched.Count > 0)
            {
                why.Add($"Not measured in between: {Join(stretch.Untouched.Select(Name), "and")}.");
            }

            var cleared = report.ClearedPins.Count(c => c);
            if (cleared > 0)
            {
                why.Add($"{cleared} of {_graph.Pins.Count} pins on the path are cleared by good readings.");
            }

            return why;
        }

        private static string Found(VerdictKind kind) => kind switch
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
            var (wires, paths) = (conductors.Count(c => c.Kind == SuspectKind.Wire), conductors.Count(c => c.Kind == SuspectKind.BoardPath));
            return Join(new[] { (wires, "wire"), (paths, "path") }.Where(c => c.Item1 > 0)
                .Select(c => c.Item1 == 1 ? $"one {c.Item2}{(c.Item2 == "path" ? " on a board" : "")}" : $"{c.Item1} {c.Item2}s{(c.Item2 == "path" ? " on the boards" : "")}"), "or");
        }

        private string Percent(int pin) => report.Evidence[pin].Share is { } share ? $"{Numbers.Write(Math.Round(share * 100))} %" : "out";

        private ResolvedPin Pin(int index) => machine.Pins[_graph.Pins[index]];

        private string Name(int index) => Pin(index).Printed;

        private static string Join(IEnumerable<string> parts, string last)
        {
            var all = parts.ToList();
            return all.Count < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])}{(all.Count > 2 ? "," : "")} {last} {all[^1]}";
        }
    }
}
