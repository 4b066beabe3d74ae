using System.Net;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Hosting;

/// <summary>What every request and answer passes: security headers, and that pages of other origins cannot write.</summary>
internal static class Guards
{
    private const string ContentSecurityPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; "
        + "worker-src 'self'; manifest-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";

    public static void UseGuards(this WebApplication app)
    {
        app.Use(
            async (context, next) =>
            {
                // On starting, because an error answer begins by clearing what was set before.
                context.Response.OnStarting(() =>
                {
                    var headers = context.Response.Headers;
                    headers.ContentSecurityPolicy = ContentSecurityPolicy;
                    headers.XContentTypeOptions = "nosniff";
                    // A form that is sent without a script names its origin only where it may name where it comes from.
                    headers["Referrer-Policy"] = context.Request.Path == Devices.DeviceGate.Page ? "same-origin" : "no-referrer";
                    // What is of the shop stays out of caches, but where an answer says otherwise of itself.
                    if (headers.CacheControl.Count == 0 && !context.Request.Path.StartsWithSegments("/assets"))
                    {
                        headers.CacheControl = "no-store";
                    }

                    headers["Cross-Origin-Opener-Policy"] = "same-origin";
                    headers["Cross-Origin-Resource-Policy"] = "same-origin";
                    headers["Permissions-Policy"] = "geolocation=(), microphone=(), camera=(self)";
                    return Task.CompletedTask;
                });
                if (
                    !AllowedHosts(context.RequestServices.GetRequiredService<IOptions<LedgerOptions>>().Value)
                        .Contains(context.Request.Host.Host) && !await IsOfTheShop(context.Request.Host.Host, context)
                )
                {
                    throw new ProblemException(
                        StatusCodes.Status400BadRequest,
                        "Wrong host",
                        $"The ledger does not answer to the name {context.Request.Host.Host}; the operator names further hosts with --host."
                    );
                }

                if (!IsSafe(context.Request.Method) && IsForeign(context.Request))
                {
                    throw new ProblemException(
                        StatusCodes.Status403Forbidden,
                        "Wrong origin",
                        "Another page may not write into the ledger."
                    );
                }

                await next(context);
            }
        );
    }

    private static HashSet<string> AllowedHosts(LedgerOptions options) =>
        new(
            options
                .Hosts.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .Concat(Uri.TryCreate(options.PublicAddress, UriKind.Absolute, out var address) ? [address.Host] : Array.Empty<string>())
                .Concat(["localhost", "127.0.0.1", "[::1]"]),
            StringComparer.OrdinalIgnoreCase
        );

    /// <summary>Whether the shop said that phones find the ledger there; as the book has it now, so that it needs no start.</summary>
    private static async Task<bool> IsOfTheShop(string host, HttpContext context)
    {
        var book = context.RequestServices.GetRequiredService<LedgerContext>();
        var said = await book.Shop.Select(s => s.PublicAddress).FirstOrDefaultAsync(context.RequestAborted);
        return Uri.TryCreate(said, UriKind.Absolute, out var address)
            && string.Equals(address.Host, host, StringComparison.OrdinalIgnoreCase);
    }

    private static bool IsSafe(string method) => HttpMethods.IsGet(method) || HttpMethods.IsHead(method) || HttpMethods.IsOptions(method);

    private static bool IsForeign(HttpRequest request) =>
        request.Headers.Origin is [{ Length: > 0 } origin]
        && (
            !Uri.TryCreate(origin, UriKind.Absolute, out var from)
            || !string.Equals(from.Authority, request.Host.Value, StringComparison.OrdinalIgnoreCase)
            || !string.Equals(from.Scheme, SchemeOf(request), StringComparison.OrdinalIgnoreCase)
        );

    /// <summary>As the browser called; a proxy on this machine says it where it speaks plain HTTP to the ledger.</summary>
    private static string SchemeOf(HttpRequest request) =>
        request.HttpContext.Connection.RemoteIpAddress is { } address
        && IPAddress.IsLoopback(address)
        && request.Headers["X-Forwarded-Proto"] is [{ Length: > 0 } said]
            ? said
            : request.Scheme;
}
