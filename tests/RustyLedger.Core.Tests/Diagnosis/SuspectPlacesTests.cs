using RustyLedger.Core.Circuits;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>Where on pins and path that lies what is suspected: the strip says what the suspects say.</summary>
public sealed class SuspectPlacesTests
{
    private static readonly ResolvedMachine _machine = Sample.Resolved(
        model: Sample.WithReturns with
        {
            Circuit = new CircuitSheet(
                [
                    new CircuitRow("r0", "PS", "", "supply 24 V", "", ""),
                    new CircuitRow("r1", "load 1", "Z1-J2·1 to Z1-J2·2", "resistor 60 Ω", "", ""),
                    new CircuitRow("r2", "load 2", "Z2-J2·1 to Z2-J2·2", "resistor 20 Ω", "", ""),
                ],
                []
            ),
        }
    );

    private static readonly FeedGraph _graph = FeedGraph.Of(_machine);

    private static MachineDiagnosis Model => MachineDiagnosis.Of(_machine, _graph);

    private static Finding Tried(string load, OutcomeKind outcome) =>
        new(
            $"try {load}",
            Model.Acts.First(a => a.Kind == ActKind.Try && a.Words == load),
            new ActOutcome(outcome),
            0,
            Showing.Unknown,
            load,
            false
        );

    private static IReadOnlyList<SuspectGroup> Suspects(params Finding[] found) =>
        Suspicion.Of(Posterior.Of(Model, found), Model.CureMinutes);

    private static PinAddress At(string printed) => _machine.Pins.Single(p => p.Value.Printed == printed).Key;

    /// <summary>Nothing was measured, or all of it was good: what the way of the power alone says must not speak louder.</summary>
    private static PathReport Report(bool allGood) =>
        PathReport.Of(
            _graph,
            allGood
                ? Enumerable
                    .Range(0, _graph.Pins.Count)
                    .ToDictionary(i => new PinIndex(i), _ => new PinEvidence(new Verdict(VerdictKind.Within, "", ""), 1m, 0.05m))
                : new Dictionary<PinIndex, PinEvidence>(),
            _ => true
        );

    [Fact]
    public void A_part_is_suspected_at_its_ends_and_along_what_lies_between()
    {
        var suspects = Suspects(Tried("load 1", OutcomeKind.Works), Tried("load 2", OutcomeKind.No));
        var places = SuspectPlaces.Of(Model, suspects);
        double Of(Func<IReadOnlyList<string>, bool> parts) =>
            suspects.SelectMany(s => s.Of).Where(w => w.Cause.Kind == CauseKind.Part && parts(w.Cause.Parts)).Sum(w => w.Share);
        Assert.Equal(Of(p => p.Contains("Z2-F1")), places.Along(At("Z2-F1·1"), At("Z2-F1·2")), 1e-9);
        Assert.True(places.At(At("Z2-F1·2")) >= Of(p => p.Contains("Z2-F1")));
        Assert.True(places.Along(At("Z1-F1·1"), At("Z1-F1·2")) < 0.02);
        // A wire is suspected with its contacts, and what is on a board is not.
        Assert.Equal(
            Of(p => p.Any(n => n is "contact Z1-J2·1" or "contact Z2-J1·1" || n.Contains("Z1-J2·1 to Z2-J1·1", StringComparison.Ordinal))),
            places.Along(At("Z1-J2·1"), At("Z2-J1·1")),
            1e-9
        );
        Assert.Equal(places.Pins.Select(p => p.Share).OrderDescending(), places.Pins.Select(p => p.Share));
        Assert.All(places.Pins, p => Assert.InRange(p.Share, 0.05, 1));
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void The_strip_is_dashed_where_something_is_suspected_and_solid_nowhere_else_than_where_nothing_is(bool allGood)
    {
        var some = 0;
        foreach (
            var (one, two) in new[]
            {
                (OutcomeKind.Works, OutcomeKind.No),
                (OutcomeKind.No, OutcomeKind.No),
                (OutcomeKind.No, OutcomeKind.Works),
            }
        )
        {
            var places = SuspectPlaces.Of(Model, Suspects(Tried("load 1", one), Tried("load 2", two)));
            var (strip, between) = places.On(Report(allGood), null);
            // What is off the path dashes nothing on it.
            var along = _graph.Links.Max(l => places.Along(_graph.Pins[l.From], _graph.Pins[l.To]));
            Assert.Equal(along >= 0.02, between is not null);
            if (between is null)
            {
                continue;
            }

            some++;
            Assert.Equal(StripPiece.Suspect, strip.Pieces[between.Value.From]);
            var most = 0.0;
            foreach (var (i, piece) in strip.Pieces.Index())
            {
                var share = places.Along(_graph[strip.Pins[i]], _graph[strip.Pins[i + 1]]);
                Assert.Equal(share >= 0.02, piece == StripPiece.Suspect);
                Assert.True(piece != StripPiece.Proved || share < 0.005, $"{share}");
                most = Math.Max(most, i >= between.Value.From && i < between.Value.To ? share : 0);
            }

            // The bracket stands around the likeliest piece there is on the whole path.
            Assert.Equal(along, most, 1e-9);
        }

        Assert.True(some > 1);
    }

    [Fact]
    public void Where_the_readings_alone_put_it_elsewhere_they_do_not_agree()
    {
        var places = SuspectPlaces.Of(Model, Suspects(Tried("load 1", OutcomeKind.Works), Tried("load 2", OutcomeKind.No)));
        Assert.False(places.Agrees([At("PS·+"), At("Z1-J1·1")]));
        var leader = Suspects(Tried("load 1", OutcomeKind.Works), Tried("load 2", OutcomeKind.No)).First(s => s.Kind == CauseKind.Part);
        Assert.StartsWith($"It can be {leader.NameInList} (", places.Sentence, StringComparison.Ordinal);
        Assert.True(places.Agrees(_machine.Pins.Keys.Where(p => places.At(p) > 0.05)));
    }
}
