using System.Globalization;
using System.Net;
using System.Threading.RateLimiting;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Devices;

/// <summary>
/// Beyond the machine that runs the ledger, a device is let in once: until then it sees one page and nothing else answers it.
/// </summary>
internal static class DeviceGate
{
    public const string Page = "/let-in";
    private const string Style = "/let-in.css";
    private const string Cookie = "rusty-ledger-key";
    private const string Limit = "let-in";
    private const int TriesAMinute = 5;
    private const int TriesAMinuteOfAll = 30;
    private const int MostName = 40;

    /// <summary>A wrong code costs this much before it is answered.</summary>
    private static readonly TimeSpan WrongTakes = TimeSpan.FromSeconds(1);

    public static void AddDevices(this IServiceCollection services)
    {
        services.AddSingleton<LetInCode>();
        services.AddSingleton<DeviceBook>();
        services.AddRateLimiter(limits =>
        {
            limits.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            limits.AddPolicy(
                Limit,
                context =>
                    RateLimitPartition.GetFixedWindowLimiter(
                        $"{context.Connection.RemoteIpAddress}",
                        _ => new FixedWindowRateLimiterOptions { PermitLimit = TriesAMinute, Window = TimeSpan.FromMinutes(1) }
                    )
            );
            // Whoever has many addresses gets no more tries for it.
            limits.GlobalLimiter = PartitionedRateLimiter.Create<HttpContext, string>(context =>
                IsTry(context.Request)
                    ? RateLimitPartition.GetFixedWindowLimiter(
                        Limit,
                        _ => new FixedWindowRateLimiterOptions { PermitLimit = TriesAMinuteOfAll, Window = TimeSpan.FromMinutes(1) }
                    )
                    : RateLimitPartition.GetNoLimiter("")
            );
        });
    }

    private static bool IsTry(HttpRequest request) => HttpMethods.IsPost(request.Method) && request.Path == Page;

    /// <summary>Stands before everything that answers, pictures and files included.</summary>
    public static void UseDeviceGate(this WebApplication app)
    {
        app.Use(
            async (context, next) =>
            {
                var path = context.Request.Path;
                if (path == Page || path == Style || IsAtHome(context) || await Known(context) is not null)
                {
                    await next(context);
                    return;
                }

                if (
                    HttpMethods.IsGet(context.Request.Method)
                    && context.Request.Headers.Accept.ToString().Contains("text/html", StringComparison.Ordinal)
                )
                {
                    context.Response.Redirect(Page);
                    return;
                }

                throw new ProblemException(
                    StatusCodes.Status401Unauthorized,
                    "Not let in",
                    $"This device was not let in yet. Open {Page} on it and type the code from the page of the shop."
                );
            }
        );
        app.UseRateLimiter();
    }

    public static void MapLetIn(this WebApplication app)
    {
        app.MapGet(Page, (HttpContext context) => Asked(context, "", StatusCodes.Status200OK)).ExcludeFromDescription();
        app.MapGet(Style, () => TypedResults.Text(LetInPage.Style, "text/css")).ExcludeFromDescription();
        app.MapPost(Page, LetIn).RequireRateLimiting(Limit).DisableAntiforgery().ExcludeFromDescription();
    }

    /// <summary>On the machine itself, unless a proxy there speaks for somebody else or the operator wants a code there too.</summary>
    private static bool IsAtHome(HttpContext context) =>
        !context.RequestServices.GetRequiredService<IOptions<LedgerOptions>>().Value.GuardLoopback
        && context.Connection.RemoteIpAddress is { } address
        && IPAddress.IsLoopback(address)
        && !context.Request.Headers.ContainsKey("X-Forwarded-For")
        && !context.Request.Headers.ContainsKey("Forwarded");

    /// <summary>The device that asks, by its key; null where it has none that is good.</summary>
    public static async Task<DeviceRecord?> Known(HttpContext context) =>
        context.Request.Cookies[Cookie] is { Length: > 0 } key
            ? await context.RequestServices.GetRequiredService<DeviceBook>().Of(key, context.RequestAborted)
            : null;

    private static async Task LetIn(HttpContext context, LetInCode codes, DeviceBook devices)
    {
        if (!context.Request.HasFormContentType)
        {
            await Asked(context, "Type the code from the page of the shop.", StatusCodes.Status400BadRequest);
            return;
        }

        var form = await context.Request.ReadFormAsync(context.RequestAborted);
        if (!codes.Use(form["code"].ToString()))
        {
            await Task.Delay(WrongTakes, context.RequestAborted);
            await Asked(
                context,
                "That is not the code, or its time is over. The page of the shop gives a new one.",
                StatusCodes.Status403Forbidden
            );
            return;
        }

        var name = form["name"].ToString().Trim();
        var key = await devices.LetIn(name.Length == 0 ? "a device" : name[..Math.Min(name.Length, MostName)], context.RequestAborted);
        context.Response.Cookies.Append(
            Cookie,
            key,
            new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Strict,
                Secure = context.Request.IsHttps,
                IsEssential = true,
                MaxAge = TimeSpan.FromDays(400),
                Path = "/",
            }
        );
        context.Response.StatusCode = StatusCodes.Status303SeeOther;
        context.Response.Headers.Location = "/";
    }

    private static Task Asked(HttpContext context, string wrong, int status)
    {
        context.Response.StatusCode = status;
        context.Response.ContentType = "text/html; charset=utf-8";
        context.Response.Headers.CacheControl = "no-store";
        // From the scanned code, where it was scanned.
        return context.Response.WriteAsync(LetInPage.Of(context.Request.Query["code"].ToString(), wrong), context.RequestAborted);
    }

    /// <summary>For the terminal: how a device comes in.</summary>
    public static string Words(LedgerOptions options, LetInCode codes)
    {
        var (code, until) = codes.Make();
        var at =
            options.PublicAddress.Length > 0
                ? options.PublicAddress
                : $"{(options.Certificate.Length > 0 || options.SelfSigned ? "https" : "http")}://{options.Bind}:{options.Port}";
        return string.Create(
                CultureInfo.InvariantCulture,
                $"To let a device in, open {at}{Page} on it and type {code} (good once, until {until.ToLocalTime():HH:mm}); "
            ) + "the page of the shop gives another.";
    }
}
