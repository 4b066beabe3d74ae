using RustyLedger.Core.Timing;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Timing;

/// <summary>What is timed on a machine: the names of what happens, and the lines they come from.</summary>
public sealed record TimingNames(string ModelId, IReadOnlyList<string> Names, IReadOnlyList<string> Lines);

public sealed record TapsTimed(IReadOnlyList<TimedEvent> Taps);

/// <summary>What a stopwatch shows is held against the signatures of the machine's model; nothing is written by it.</summary>
internal static class TimingEndpoints
{
    private const int MostTaps = 200;

    // What happens on most machines, for a model of which nothing was written yet.
    private static readonly string[] _usual = ["fan", "click", "spark", "flame", "stop", "trip"];

    public static void MapTiming(this IEndpointRouteBuilder api)
    {
        api.MapGet("/machines/{machineId}/timing", Names).WithName("getTimingNames");
        api.MapPost("/machines/{machineId}/timing-looks", Look).WithName("lookAtTiming");
    }

    private static async Task<TimingNames> Names(string machineId, MachineLibrary library, CancellationToken cancel)
    {
        var machine = await library.Resolve(machineId, cancel);
        var sheet = machine.Model.Signatures;
        return new TimingNames(
            machine.Model.Id.Value,
            [.. sheet.Signatures().SelectMany(s => s.Events).Select(e => e.Name).Concat(_usual).Distinct(StringComparer.OrdinalIgnoreCase)],
            sheet.Lines
        );
    }

    private static async Task<IReadOnlyList<SignatureMatch>> Look(
        string machineId,
        TapsTimed timed,
        MachineLibrary library,
        CancellationToken cancel
    )
    {
        if (timed.Taps.Count > MostTaps || timed.Taps.Any(t => t.At is < 0 or > 86_400 || t.Name.Trim().Length is 0 or > 40))
        {
            throw ProblemException.Bad("taps", $"At most {MostTaps} taps are taken, each with a name and seconds of one day.");
        }

        var machine = await library.Resolve(machineId, cancel);
        return SignatureMatch.Of([.. timed.Taps.OrderBy(t => t.At)], machine.Model.Signatures.Signatures());
    }
}
