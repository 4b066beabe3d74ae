using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Server.Hosting;

/// <summary>An answer other than the one asked for, as RFC 9457 problem details.</summary>
public sealed class ProblemException(int status, string title, string detail) : Exception(detail)
{
    public int Status => status;

    public string Title => title;

    public Dictionary<string, object?> Extensions { get; } = [];

    public static ProblemException NotFound(string what) => new(StatusCodes.Status404NotFound, "Not in the ledger", $"{what} is not here.");

    /// <param name="field">The name of the field in the request.</param>
    public static ProblemException Bad(string field, string detail) =>
        new(StatusCodes.Status400BadRequest, "Not understood", detail) { Extensions = { ["field"] = field } };

    public static ProblemException Notation(string field, NotationException refusal) =>
        new(StatusCodes.Status400BadRequest, "Not understood", refusal.Message)
        {
            Extensions =
            {
                ["field"] = field,
                ["at"] = refusal.At,
                ["problem"] = refusal.Problem,
                ["example"] = refusal.Example,
            },
        };

    /// <summary>Somebody changed the record in between; both texts go back, nothing is written.</summary>
    public static ProblemException Clash(object yours, object theirs, int version) =>
        new(
            StatusCodes.Status409Conflict,
            "Changed by somebody else",
            "Somebody changed this in between. Both texts are here; nothing of yours was written."
        )
        {
            Extensions =
            {
                ["yours"] = yours,
                ["theirs"] = theirs,
                ["version"] = version,
            },
        };

    /// <summary>What Core refused: 409 where it does not fit with what is here, 400 where it cannot be meant so.</summary>
    /// <param name="at">What it is about, where more than one thing comes in at once; empty where that is clear.</param>
    public static ProblemException Of(Refusal refusal, string at = "")
    {
        ArgumentNullException.ThrowIfNull(refusal);
        var field =
            at.Length == 0 ? refusal.Field
            : refusal.Field.Length == 0 ? at
            : $"{at}.{refusal.Field}";
        if (refusal.Notation is { } notation)
        {
            return Notation(field, notation);
        }

        var problem =
            refusal.Device is not null ? new(StatusCodes.Status409Conflict, "A protective device", refusal.Problem)
            : refusal.IsMisfit ? Conflict(refusal.Problem)
            : Bad(field, refusal.Problem);
        if (field.Length > 0)
        {
            problem.Extensions["field"] = field;
        }

        if (refusal.Device is { } device)
        {
            problem.Extensions["device"] = device;
        }

        if (refusal.NeedsReason)
        {
            problem.Extensions["needsReason"] = true;
        }

        return problem;
    }

    public static ProblemException Conflict(string detail) => new(StatusCodes.Status409Conflict, "Does not fit", detail);
}

internal static class Outcomes
{
    /// <summary>The thing as Core made it.</summary>
    /// <exception cref="ProblemException">Core refused it.</exception>
    public static T OrRefuse<T>(this Outcome<T> outcome)
        where T : class => outcome.Thing ?? throw ProblemException.Of(outcome.Refusal!);
}

internal sealed partial class ProblemAnswers(IProblemDetailsService problems, ILogger<ProblemAnswers> log) : IExceptionHandler
{
    /// <summary>What an answer says of what went wrong, whatever it was.</summary>
    public static ProblemDetails Of(Exception exception) =>
        exception switch
        {
            ProblemException p => new ProblemDetails
            {
                Status = p.Status,
                Title = p.Title,
                Detail = p.Message,
                Extensions = p.Extensions,
            },
            NotationException n => new ProblemDetails
            {
                Status = 400,
                Title = "Not understood",
                Detail = n.Message,
            },
            BadHttpRequestException b => Unread(b),
            DbUpdateConcurrencyException => new ProblemDetails
            {
                Status = 409,
                Title = "Changed by somebody else",
                Detail = "Somebody changed this at the same moment. Nothing of yours was written; load it again.",
            },
            _ when Keeping.Disk.IsFull(exception) => new ProblemDetails
            {
                Status = StatusCodes.Status507InsufficientStorage,
                Title = "The disk is full",
                Detail = "The disk of the ledger is full. Nothing of this was written; it goes on when somebody has made room there.",
            },
            _ => new ProblemDetails
            {
                Status = 500,
                Title = "The ledger failed",
                Detail = "Nothing was written. The details are in the server's log.",
            },
        };

    private static ProblemDetails Unread(BadHttpRequestException failure)
    {
        var (field, words) = BadRequests.Of(failure);
        var details = new ProblemDetails
        {
            Status = failure.StatusCode,
            Title = "Not understood",
            Detail = words,
        };
        if (field.Length > 0)
        {
            details.Extensions["field"] = field;
        }

        return details;
    }

    public ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        var details = Of(exception);
        if (details.Status == StatusCodes.Status500InternalServerError)
        {
            // The framework is silent about what a handler answers.
            LogFailure(log, exception, httpContext.Request.Method, httpContext.Request.Path);
        }

        httpContext.Response.StatusCode = details.Status!.Value;
        return problems.TryWriteAsync(
            new ProblemDetailsContext
            {
                HttpContext = httpContext,
                ProblemDetails = details,
                Exception = exception,
            }
        );
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "{Method} {Path} failed")]
    private static partial void LogFailure(ILogger log, Exception exception, string method, string path);
}
