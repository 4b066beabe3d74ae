using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using QRCoder;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Devices;

/// <param name="IsThis">The device that asks.</param>
public sealed record DeviceView(string Id, string Name, DateTimeOffset LetInAt, DateTimeOffset LastSeen, bool IsThis);

/// <summary>A code that lets one device in.</summary>
/// <param name="Address">Where it is typed; scanned, it stands there already.</param>
/// <param name="Picture">The address as a QR code, an SVG picture.</param>
public sealed record LetIn(string Code, DateTimeOffset Until, string Address, string Picture);

internal static class DeviceEndpoints
{
    private const int ModulePixels = 4;

    public static void MapDevices(this IEndpointRouteBuilder api)
    {
        api.MapGet("/devices", List).WithName("listDevices");
        api.MapPost("/devices/code", Code).WithName("makeLetInCode");
        api.MapPost("/devices/{id}/lock-out", LockOut).WithName("lockOutDevice");
    }

    /// <summary>Those that may come in, the one seen last first.</summary>
    private static async Task<IReadOnlyList<DeviceView>> List(HttpContext http, LedgerContext context, CancellationToken cancel)
    {
        var own = await DeviceGate.Known(http);
        var devices = await context
            .Devices.AsNoTracking()
            .Where(d => d.LockedOutAt == null)
            .OrderByDescending(d => d.LastSeen)
            .ToListAsync(cancel);
        return [.. devices.Select(d => new DeviceView(d.Id, d.Name, d.LetInAt, d.LastSeen, d.Id == own?.Id))];
    }

    private static async Task<LetIn> Code(
        HttpContext http,
        LetInCode codes,
        LedgerContext context,
        IOptions<LedgerOptions> options,
        CancellationToken cancel
    )
    {
        var (code, until) = codes.Make();
        var said = await context.Shop.Select(s => s.PublicAddress).FirstOrDefaultAsync(cancel);
        var at =
            said is { Length: > 0 } ? said
            : options.Value.PublicAddress.Length > 0 ? options.Value.PublicAddress
            : $"{http.Request.Scheme}://{http.Request.Host}";
        var address = $"{at}{DeviceGate.Page}";
        using var data = QRCodeGenerator.GenerateQrCode($"{address}?code={code}", QRCodeGenerator.ECCLevel.M);
        using var drawn = new SvgQRCode(data);
        return new LetIn(code, until, address, drawn.GetGraphic(ModulePixels));
    }

    private static async Task<IReadOnlyList<DeviceView>> LockOut(
        string id,
        HttpContext http,
        DeviceBook devices,
        LedgerContext context,
        CancellationToken cancel
    ) => await devices.LockOut(id, cancel) ? await List(http, context, cancel) : throw ProblemException.NotFound("This device");
}
