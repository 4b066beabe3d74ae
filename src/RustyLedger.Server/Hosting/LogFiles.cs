using System.Globalization;
using Serilog;
using Serilog.Events;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// What went wrong, in files of the data folder, one a day: a line for each request at fault, with what failed below it. What people
/// wrote stands in the book and not here.
/// </summary>
internal static class LogFiles
{
    private const int FilesKept = 14;
    private const long MostBytes = 10 * 1024 * 1024;

    public static string FolderOf(string data) => Path.Combine(data, "logs");

    public static Serilog.Core.Logger In(string data) =>
        new LoggerConfiguration()
            .MinimumLevel.Is(LogEventLevel.Warning)
            // What a query held would be told with it.
            .MinimumLevel.Override("Microsoft.EntityFrameworkCore", LogEventLevel.Fatal)
            .WriteTo.File(
                Path.Combine(FolderOf(data), "ledger-.log"),
                formatProvider: CultureInfo.InvariantCulture,
                outputTemplate: "{Timestamp:yyyy-MM-dd HH:mm:ss zzz} {Level:u3} {SourceContext}: {Message:lj}{NewLine}{Exception}",
                rollingInterval: RollingInterval.Day,
                rollOnFileSizeLimit: true,
                fileSizeLimitBytes: MostBytes,
                retainedFileCountLimit: FilesKept
            )
            .CreateLogger();
}
