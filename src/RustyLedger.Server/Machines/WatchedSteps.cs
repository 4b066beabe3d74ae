using System.Text.Json;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Machines;

/// <summary>
/// Long work that tells how far it is: answers with a line of JSON for each step, the last of them the result or the
/// problem. Whoever hangs up cancels, and nothing stays.
/// </summary>
internal static partial class WatchedSteps
{
    private static readonly byte[] LineEnd = "\n"u8.ToArray();

    /// <param name="work">Is given a way to tell a step, and gives the result.</param>
    public static async Task Tell<T>(HttpContext http, Func<Func<ImportProgress, Task>, CancellationToken, Task<T>> work)
    {
        var cancel = http.RequestAborted;
        http.Response.ContentType = "application/x-ndjson";
        // In the form of every other answer: the result is what the operation would answer unwatched.
        var json = http.RequestServices.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions;
        async Task Say(object? line)
        {
            await http.Response.Body.WriteAsync(JsonSerializer.SerializeToUtf8Bytes(line, json), cancel);
            await http.Response.Body.WriteAsync(LineEnd, cancel);
            await http.Response.Body.FlushAsync(cancel);
        }

        try
        {
            await Say(await work(Say, cancel));
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // Nobody is there to be told.
        }
        catch (Exception failure) when (!cancel.IsCancellationRequested)
        {
            // The answer has begun: without a last line it would only break off.
            var problem = ProblemAnswers.Of(failure);
            if (problem.Status == StatusCodes.Status500InternalServerError)
            {
                LogFailure(http.RequestServices.GetRequiredService<ILogger<ProblemAnswers>>(), failure, http.Request.Path);
            }

            await Say(problem);
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "{Path} failed on its way")]
    private static partial void LogFailure(ILogger log, Exception failure, PathString path);
}
