using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Hosting;

/// <summary>What was sent under an id that a device made, as it was taken.</summary>
public sealed class SentRecord
{
    public required string Id { get; set; }

    /// <summary>What it was asked of, such as <c>/api/visits/v1/calls</c>.</summary>
    public required string Path { get; set; }

    public required string Body { get; set; }
}

/// <summary>
/// Sent twice is written once, with the same answer; another text under an id that was used, or the same for something else, is
/// refused by the name of what differs. Readings hold this by themselves, line by line.
/// </summary>
internal static class SentTwice
{
    private const int MostBody = 64 * 1024;

    // SQLITE_CONSTRAINT: https://www.sqlite.org/rescode.html
    private const int Constraint = 19;

    private static readonly JsonSerializerOptions _json = new(JsonSerializerDefaults.Web);

    public static void TakeOnce(this RouteGroupBuilder api) =>
        api.AddEndpointFilter(
            async (call, next) =>
            {
                var http = call.HttpContext;
                if (!HttpMethods.IsPost(http.Request.Method) || Made(call) is not { } made)
                {
                    return await next(call);
                }

                var context = http.RequestServices.GetRequiredService<LedgerContext>();
                await Refuse(made, context, http.RequestAborted);
                var answer = await next(call);
                await Keep(made, context, http.RequestAborted);
                return answer;
            }
        );

    /// <summary>The thing that is made under an id of its own, of what the operation was given; null for none.</summary>
    private static SentRecord? Made(EndpointFilterInvocationContext call)
    {
        foreach (var given in call.Arguments)
        {
            if (
                given is not null and not NewLine
                && given.GetType() is { Namespace: { } space } type
                && space.StartsWith("RustyLedger.Server", StringComparison.Ordinal)
                && type.GetProperty("Id") is { } id
                && id.PropertyType == typeof(string)
                && id.GetValue(given) is string { Length: > 0 and <= 64 } said
            )
            {
                var body = JsonSerializer.Serialize(given, type, _json);
                return body.Length <= MostBody
                    ? new SentRecord
                    {
                        Id = said,
                        Path = call.HttpContext.Request.Path,
                        Body = body,
                    }
                    : null;
            }
        }

        return null;
    }

    /// <exception cref="ProblemException">Something else was made under the id, or this with another text; names what differs.</exception>
    internal static async Task Refuse(SentRecord made, LedgerContext context, CancellationToken cancel)
    {
        if (await context.Sent.AsNoTracking().FirstOrDefaultAsync(s => s.Id == made.Id, cancel) is not { } before)
        {
            return;
        }

        if (before.Path != made.Path)
        {
            throw ProblemException.Conflict(
                $"Something else was made under the id {made.Id} already ({before.Path}); nothing of this was written."
            );
        }

        if (before.Body != made.Body)
        {
            var differs = Differences(before.Body, made.Body);
            throw new ProblemException(
                StatusCodes.Status409Conflict,
                "Does not fit",
                $"This was sent before under the same id, with another {string.Join(", ", differs)}; nothing of this was written."
            )
            {
                Extensions = { ["field"] = differs.FirstOrDefault() ?? "id" },
            };
        }
    }

    private static List<string> Differences(string before, string now)
    {
        var (was, given) = (JsonNode.Parse(before)!.AsObject(), JsonNode.Parse(now)!.AsObject());
        return [.. given.Where(m => !JsonNode.DeepEquals(m.Value, was[m.Key])).Select(m => m.Key)];
    }

    /// <summary>Notes what was made, after it was written.</summary>
    internal static async Task Keep(SentRecord made, LedgerContext context, CancellationToken cancel)
    {
        context.ChangeTracker.Clear();
        if (!await context.Sent.AnyAsync(s => s.Id == made.Id, cancel))
        {
            context.Sent.Add(made);
            try
            {
                await context.SaveChangesAsync(cancel);
            }
            catch (DbUpdateException raced) when (raced.InnerException is SqliteException { SqliteErrorCode: Constraint })
            {
                // The same at once: the other has noted it.
            }
        }
    }
}
