using RustyLedger.Core.Sums;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Sums;

public sealed record SumView(string Id, string Group, string Name, string What, IReadOnlyList<SumField> Fields);

/// <summary>The sums of the bench: nothing is written by them; what is to be kept is a line of the visit.</summary>
internal static class SumEndpoints
{
    public static void MapSums(this IEndpointRouteBuilder api)
    {
        api.MapGet("/sums", () => BenchSums.All.Select(s => new SumView(s.Id, s.Group, s.Name, s.What, s.Fields))).WithName("listSums");
        api.MapPost("/sums/{id}", Work).WithName("workOutSum");
        api.MapGet(
                "/machines/{machineId}/fuses",
                async (string machineId, MachineLibrary library, CancellationToken cancel) =>
                {
                    var machine = await library.Resolve(machineId, cancel);
                    return FuseFeeds.Of(machine, FeedGraph.Of(machine));
                }
            )
            .WithName("listFuses");
    }

    private static SumAnswer Work(string id, Dictionary<string, string> typed)
    {
        var sum = BenchSums.All.FirstOrDefault(s => s.Id == id) ?? throw ProblemException.NotFound("This sum");
        if (typed.Keys.FirstOrDefault(k => sum.Fields.All(f => f.Name != k)) is { } unknown)
        {
            throw ProblemException.Bad(unknown, $"{sum.Name} asks for no \"{(unknown.Length > 40 ? unknown[..40] : unknown)}\".");
        }

        try
        {
            return sum.Answer(new SumInput(sum, typed));
        }
        catch (SumException wrong)
        {
            throw ProblemException.Bad(wrong.Name, wrong.Message);
        }
    }
}
