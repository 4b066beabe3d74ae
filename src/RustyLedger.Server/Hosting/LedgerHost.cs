using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Codes;
using RustyLedger.Server.Devices;
using RustyLedger.Server.History;
using RustyLedger.Server.Keeping;
using RustyLedger.Server.Labels;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Photographs;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Settings;
using RustyLedger.Server.Storage;
using RustyLedger.Server.Sums;
using RustyLedger.Server.Timing;
using RustyLedger.Server.Visits;
using RustyLedger.Server.Wiring;
using Serilog;

namespace RustyLedger.Server.Hosting;

/// <summary>The ledger as one web application: what it is made of, and what it answers.</summary>
public static partial class LedgerHost
{
    private const int MostRequestBytes = 32 * 1024 * 1024;

    /// <summary>
    /// Ready to be started. <paramref name="args"/> are the settings of <see cref="LedgerOptions"/>, such as <c>--Ledger:Port 7417</c>.
    /// </summary>
    /// <param name="more">Adds to the services, or replaces some.</param>
    /// <exception cref="LedgerOptionsException">A setting is wrong; the message names it.</exception>
    public static WebApplication Build(string[] args, Action<IServiceCollection>? more = null)
    {
        var builder = WebApplication.CreateBuilder(args);
        builder.Services.AddOptions<LedgerOptions>().BindConfiguration(LedgerOptions.Section);
        var own = OptionsIn(builder.Configuration);
        if (own.Problem is { } problem)
        {
            throw new LedgerOptionsException(problem);
        }

        X509Certificate2? certificate = null;
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = MostRequestBytes;
            kestrel.Listen(
                System.Net.IPAddress.Parse(own.Bind),
                own.Port,
                listen =>
                {
                    certificate =
                        own.Certificate.Length > 0 ? X509CertificateLoader.LoadPkcs12FromFile(own.Certificate, own.CertificatePassword)
                        : own.SelfSigned ? OwnCertificate.In(own, TimeProvider.System)
                        : null;
                    if (certificate is not null)
                    {
                        listen.UseHttps(certificate);
                    }
                }
            );
        });
        builder.Services.ConfigureHttpJsonOptions(json =>
        {
            json.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
            json.SerializerOptions.RespectNullableAnnotations = true;
            json.SerializerOptions.RespectRequiredConstructorParameters = true;
            json.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false));
            json.SerializerOptions.Converters.Add(new ColoursConverter());
        });
        // What could not be read is thrown, so that the answer names it; the framework alone says only that it was bad.
        builder.Services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        builder.Services.AddOpenApi("v1", Documents.Describe);
        builder.Services.AddProblemDetails();
        builder.Services.AddExceptionHandler<ProblemAnswers>();
        builder.Services.AddResponseCompression(compression =>
        {
            compression.EnableForHttps = true;
            compression.MimeTypes = ResponseCompressionDefaults.MimeTypes.Concat([
                "application/manifest+json",
                "image/svg+xml",
                "text/csv",
            ]);
        });
        builder.Services.AddSingleton(TimeProvider.System);
        builder.Services.AddSingleton<LedgerIdentity>();
        builder.Services.AddSingleton<IBookStore>(services => new SqliteBook(
            services.GetRequiredService<IOptions<LedgerOptions>>().Value.DatabaseFile
        ));
        builder.Services.AddDbContext<LedgerContext>(
            (services, options) =>
            {
                services.GetRequiredService<IBookStore>().Use(options);
                options.AddInterceptors(services.GetRequiredService<RegisterCommits>());
            }
        );
        builder.Services.AddSingleton<RegisterIndex>();
        builder.Services.AddSingleton<ResolvedMachines>();
        builder.Services.AddSingleton<TimedRounds>();
        builder.Services.AddSingleton<RegisterKeeper>();
        builder.Services.AddSingleton<RegisterCommits>();
        builder.Services.AddSingleton<PictureFiles>();
        builder.Services.AddSingleton<LargeWork>();
        builder.Services.AddSingleton<ReasonAhead>();
        builder.Services.AddSingleton<DataFolder>();
        builder.Services.AddSingleton<BackupKeeper>();
        builder.Services.AddDevices();
        builder.Services.AddScoped<Actor>();
        builder.Services.AddScoped<MachineLibrary>();
        builder.Services.AddScoped<BookWriter>();
        builder.Services.AddScoped<MachineFileImport>();
        builder.Services.AddScoped<MachineFileExport>();
        builder.Services.AddScoped<BundleExport>();
        builder.Services.AddScoped<BundleImport>();
        builder.Services.AddScoped<VisitBook>();
        // The build starts the application to write its OpenAPI document; that must touch no data folder.
        if (System.Reflection.Assembly.GetEntryAssembly()?.GetName().Name != "GetDocument.Insider")
        {
            builder.Services.AddHostedService<Database>();
            builder.Services.AddHostedService(services => services.GetRequiredService<RegisterKeeper>());
            builder.Services.AddHostedService(services => services.GetRequiredService<BackupKeeper>());
            builder.Services.AddHostedService(services => services.GetRequiredService<ReasonAhead>());
        }

        // A start that fails is told in a line; the host would add the whole stack, or that it is shutting down.
        builder.Services.Configure<ConsoleLifetimeOptions>(o => o.SuppressStatusMessages = true);
        builder.Logging.AddFilter("Microsoft.Extensions.Hosting.Internal.Host", LogLevel.None);
        // What the book refuses is thrown, and told where it is caught; a stack of calls before that tells nobody anything.
        builder.Logging.AddFilter("Microsoft.EntityFrameworkCore.Database", LogLevel.None);
        builder.Logging.AddFilter("Microsoft.EntityFrameworkCore.Update", LogLevel.None);
        builder.Logging.AddSerilog(LogFiles.In(own.Data), dispose: true);
        more?.Invoke(builder.Services);
        var app = builder.Build();
        Answer(app);
        if (own.IsOpen)
        {
            app.Lifetime.ApplicationStarted.Register(() => TellTheOperator(app, own, certificate));
        }

        return app;
    }

    /// <summary>In the terminal, where others than the machine itself are answered: how they come in, what others read.</summary>
    private static void TellTheOperator(WebApplication app, LedgerOptions own, X509Certificate2? certificate)
    {
        Console.Out.WriteLine(DeviceGate.Words(own, app.Services.GetRequiredService<LetInCode>()));
        if (certificate is null)
        {
            Console.Out.WriteLine(
                "Without a certificate everything goes in the clear: whoever is on the same network can read readings, pictures and keys "
                    + "on their way. --self-signed makes a certificate, --certificate FILE takes one."
            );
        }
        else if (own.SelfSigned)
        {
            Console.Out.WriteLine(
                $"Its certificate is its own; a device asks once. The fingerprint (SHA-256): {OwnCertificate.Fingerprint(certificate)}"
            );
        }
    }

    /// <summary>What the operator set, without a host around it.</summary>
    /// <exception cref="LedgerOptionsException">A setting is wrong; the message names it.</exception>
    internal static LedgerOptions OptionsOf(string[] args, bool mayBeWrong = false)
    {
        var own = OptionsIn(new ConfigurationBuilder().AddEnvironmentVariables().AddCommandLine(args).Build());
        return own.Problem is { } problem && !mayBeWrong ? throw new LedgerOptionsException(problem) : own;
    }

    private static LedgerOptions OptionsIn(IConfiguration configuration)
    {
        try
        {
            return configuration.GetSection(LedgerOptions.Section).Get<LedgerOptions>() ?? new LedgerOptions();
        }
        catch (InvalidOperationException wrong)
        {
            // Such as letters for a port.
            throw new LedgerOptionsException(
                OfSetting().Match(wrong.Message) is { Success: true } said
                    ? $"{said.Groups["name"].Value} is {said.Groups["value"].Value}, which it does not take"
                    : wrong.Message
            );
        }
    }

    /// <summary>How the binder says which text it could not read for which setting.</summary>
    [GeneratedRegex("'(?<value>.*)' at 'Ledger:(?<name>[^']*)'")]
    private static partial Regex OfSetting();

    private static void Answer(WebApplication app)
    {
        app.UseExceptionHandler();
        app.UseGuards();
        app.UseReceipts();
        app.UseStatusCodePages();
        app.UseDeviceGate();
        app.UseResponseCompression();
        app.Use(
            (context, next) =>
            {
                context.RequestServices.GetRequiredService<Actor>().PersonId = context.Request.Headers["X-Person"]
                    is [{ Length: > 0 and <= 64 } person]
                    ? person
                    : null;
                return next(context);
            }
        );
        app.UseWeb();
        app.MapOpenApi("/api/openapi.json");
        var api = app.MapGroup("/api")
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status409Conflict);
        api.RefuseUnreadable();
        api.AskAgainWhereRaced();
        api.TakeOnce();
        api.MapRegister();
        api.MapMachines();
        api.MapMachineFiles();
        api.MapBundles();
        api.MapSums();
        api.MapTiming();
        api.MapBoards();
        api.MapLayouts();
        api.MapFacings();
        api.MapBoardNotes();
        api.MapCodes();
        api.MapLabels();
        api.MapPhotographs();
        api.MapPlaces();
        api.MapOverlays();
        api.MapSettings();
        api.MapRounds();
        api.MapVisits();
        api.MapStart();
        api.MapSafety();
        api.MapModels();
        api.MapCircuits();
        api.MapReason();
        api.MapFunctions();
        api.MapMachineSheets();
        api.MapChecks();
        api.MapNamedPlaces();
        api.MapBuilds();
        api.MapFaults();
        api.MapTimeline();
        api.MapEdits();
        api.MapKeeping();
        api.MapDevices();
        app.MapLetIn();
        app.MapHealth();
    }
}
