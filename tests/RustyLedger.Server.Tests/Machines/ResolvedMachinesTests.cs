using System.Text.Json;
using RustyLedger.Core.Machines;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Tests.Machines;

public sealed class ResolvedMachinesTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 27, 8, 0, 0, TimeSpan.Zero);
    private static readonly DateOnly Today = new(2026, 11, 27);

    private static ResolvedMachine Machine(string folder, string id)
    {
        var text = File.ReadAllText(Path.Combine(TestLedger.DemoFolder, folder, "machine.json"));
        var file = JsonSerializer.Deserialize<MachineFile>(text, MachineFile.Json)!;
        var build = VariantDecision.Of(file.Machine.Plate, file.Model.Variants, Today).Chosen;
        return ResolvedMachine.Of(file.Machine with { Id = id }, file.Model, file.BoardTypes.ToDictionary(b => b.Id), build);
    }

    [Fact]
    public void Of_machines_with_a_circuit_the_ones_used_last_are_kept_and_the_others_stay()
    {
        var kept = new ResolvedMachines();
        kept.Keep(Machine("ly-02", "plain"), Today, Now, since: 0);
        var drawn = Enumerable.Range(1, 8).Select(i => $"drawn{i}").ToList();
        foreach (var (i, id) in drawn.Index())
        {
            kept.Keep(Machine("ly-07", id), Today, Now.AddMinutes(i + 1), since: 0);
            // One that is asked for again and again is never the oldest.
            Assert.NotNull(kept.Of("drawn1", Today, Now.AddMinutes(i + 1.5)));
        }

        Assert.Equal(
            ["drawn1", "drawn4", "drawn5", "drawn6", "drawn7", "drawn8"],
            drawn.Where(id => kept.Of(id, Today, Now.AddHours(1)) is not null)
        );
        Assert.NotNull(kept.Of("plain", Today, Now.AddHours(1)));
    }
}
