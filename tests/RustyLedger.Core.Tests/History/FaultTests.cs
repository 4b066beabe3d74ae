using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.History;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Visits;

namespace RustyLedger.Core.Tests.History;

public sealed class FaultTests
{
    private static readonly DateTimeOffset _noon = new(2026, 5, 4, 12, 0, 0, TimeSpan.Zero);

    private static readonly Fault _open = new()
    {
        Id = "f2",
        MachineId = "ly-04",
        PersonId = "edda",
        OpenedAt = _noon,
        Noticed = "zone 2 dead",
    };

    private static FaultWords Words(string proof = "", string? cause = null, bool closed = false, FaultId? previous = null) =>
        new("zone 2 dead", "", cause, proof, "", [], "", 30, Warranty.NotAsked, Held.NotKnown, previous, closed);

    [Theory]
    [InlineData("", "part", "proof")]
    [InlineData("fuse open, new one holds", null, "cause")]
    [InlineData("   ", "part", "proof")]
    public void It_closes_with_its_proof_and_its_cause(string proof, string? cause, string field) =>
        Assert.Equal(field, _open.Write(Words(proof, cause, closed: true), null, _noon).Refusal?.Field);

    [Fact]
    public void Closed_again_it_keeps_the_moment_and_opened_again_it_has_none()
    {
        var closed = _open.Write(Words("fuse open", "part", closed: true), null, _noon).Thing!;
        Assert.Equal(_noon, closed.ClosedAt);
        Assert.Equal(_noon, closed.Write(Words("fuse open", "part", closed: true), null, _noon.AddDays(1)).Thing!.ClosedAt);
        Assert.Null(closed.Write(Words("fuse open", "part"), null, _noon.AddDays(1)).Thing!.ClosedAt);
    }

    [Theory]
    [InlineData("ly-04", -1, true)]
    [InlineData("ly-04", 1, false)]
    [InlineData("ly-05", -1, false)]
    public void It_is_the_return_of_an_earlier_one_of_the_same_machine_only(string machine, int days, bool taken)
    {
        var other = _open with { Id = "f1", MachineId = machine, OpenedAt = _noon.AddDays(days) };
        Assert.Equal(taken, _open.Write(Words(previous: "f1"), other, _noon).IsTaken);
        Assert.Equal("previousId", _open.Write(Words(previous: "gone"), null, _noon).Refusal?.Field);
        Assert.Equal(Held.CameBack, other.Returned().Held);
    }

    [Fact]
    public void Where_it_was_found_is_told_in_the_words_of_the_machine_as_it_is_now()
    {
        var machine = Sample.Resolved();
        var sheet = RoundSheet.Of(
            machine,
            Core.Wiring.FeedGraph.Of(machine),
            [Sample.Reading(1, "p1", "24.1"), Sample.Reading(2, "z1/c1", "12")]
        );
        var places = StretchWords.All(sheet.Paths[0], machine).Select(w => w.Found).ToList();
        var fault = _open with { Located = places };
        Assert.StartsWith("The loss is between PS·+ and Z1-J1·1: wire RD", fault.FoundWords(machine), StringComparison.Ordinal);
        var renamed = ResolvedMachine.Of(
            machine.Machine,
            machine.Model with
            {
                Positions = [.. machine.Model.Positions.Select(p => p with { Prefix = p.Prefix.Replace('Z', 'Q') })],
            },
            new Dictionary<BoardTypeId, Core.Boards.BoardType> { ["zb"] = Sample.Board }
        );
        Assert.StartsWith("The loss is between PS·+ and Q1-J1·1", fault.FoundWords(renamed), StringComparison.Ordinal);
        Assert.Equal("behind the panel", (fault with { Found = "behind the panel" }).FoundWords(machine));
        Assert.Contains(places[0].Suspects, s => s.Part is PartRef.Wire);
    }

    [Fact]
    public void Evidence_is_kept_as_numbers_and_told_in_words()
    {
        var measured = new Evidence.Measured(
            _noon,
            "r1",
            Probe.At("z1", "j1-1"),
            "Z1-J1·1",
            Probe.At("z1", "j1-2"),
            "Z1-J1·2",
            "running",
            "12 V",
            "falling",
            VerdictKind.Low,
            LimitNotation.ReadOne("24 V ±5 %").Limit
        );
        Assert.Equal("Z1-J1·1 to Z1-J1·2, running: 12 V (falling), low of 24 V ±5 %", measured.Words(Sample.Resolved()));
        Assert.Equal("no date on it", new Evidence.Said(null, "no date on it").Words(Sample.Resolved()));
    }
}
