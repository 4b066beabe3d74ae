using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Core;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Photographs;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Photographs;

/// <param name="Printed">The pin it became, in the name printed on this machine; null while it is none.</param>
/// <param name="Readings">Taken here, newest first.</param>
public sealed record PlaceView(
    string Id,
    int Version,
    double X,
    double Y,
    int Number,
    string Name,
    string Note,
    string? PositionId,
    string? PinId,
    string? PartId,
    string? Printed,
    PinAddress? Address,
    IReadOnlyList<PlaceReading> Readings
);

public sealed record PlaceReading(string Id, string Value, string Remark, string Mode, string State, DateTimeOffset At, string Person);

public sealed record PhotographView(
    string Id,
    string MachineId,
    int Version,
    string? VisitId,
    string? PositionId,
    string? SnapshotId,
    PhotographKind Kind,
    string Caption,
    DateTimeOffset TakenAt,
    string Person,
    string Hash,
    int Width,
    int Height,
    long Bytes,
    int Places
);

/// <summary>A photograph with what was tapped on it.</summary>
public sealed record PhotographPage(
    PhotographView Photograph,
    string Tag,
    string MachineName,
    IReadOnlyList<PlaceView> Places,
    IReadOnlyList<PositionName> Positions,
    IReadOnlyList<PartName> Parts,
    IReadOnlyList<OperatingState> States,
    IReadOnlyList<ProbePlace> Commons
);

/// <summary>A part off the boards that may be seen on the picture.</summary>
public sealed record PartName(string Id, string Designator, string Name, IReadOnlyList<PartPin> Pins);

public sealed record PartPin(string Id, string Label);

/// <summary>Where the black probe usually is.</summary>
public sealed record ProbePlace(PinAddress Address, string Printed);

public sealed record PositionName(string Id, string Prefix, string Name, string BoardTypeId);

public sealed record PhotographEdit(int Version, PhotographKind Kind, string Caption, string? PositionId);

internal static class PhotographEndpoints
{
    private const int MostCommons = 12;

    public static void MapPhotographs(this IEndpointRouteBuilder api)
    {
        api.MapPost("/photographs", Add).WithName("addPhotograph").Accepts<byte[]>("image/jpeg", "image/png", "image/webp");
        api.MapGet("/machines/{machineId}/photographs", List).WithName("listPhotographs");
        api.MapGet("/photographs/{id}", Get).WithName("getPhotograph");
        api.MapPut("/photographs/{id}", Edit).WithName("editPhotograph");
        api.MapPost("/photographs/{id}/retire", Retire).WithName("retirePhotograph");
        api.MapGet("/pictures/{hash}", Picture).WithName("getPicture");
        api.MapGet("/pictures/{hash}/small", Small).WithName("getSmallPicture");
    }

    /// <summary>The picture is the body as it is; what belongs to it stands in the address, so a burst needs no form.</summary>
    private static async Task<PhotographView> Add(
        string id,
        string machineId,
        string kind,
        string personId,
        DateTimeOffset takenAt,
        HttpRequest request,
        LedgerContext context,
        PictureFiles files,
        LargeWork large,
        CancellationToken cancel,
        string? visitId = null,
        string? positionId = null,
        string? snapshotId = null,
        string? caption = null
    )
    {
        Texts.Id("id", id);
        if (!await context.Machines.AnyAsync(m => m.Id == machineId, cancel))
        {
            throw ProblemException.NotFound("This machine");
        }

        if (!await context.People.AnyAsync(p => p.Id == personId, cancel))
        {
            throw ProblemException.Bad("personId", "Choose a name first; it is not in the ledger.");
        }

        var received = await Received.Body(request, "picture", PictureFiles.MostBytes, cancel);
        await using var body =
            received?.File ?? throw ProblemException.Bad("picture", $"A picture has at most {PictureFiles.MostBytes / 1024 / 1024} MB.");
        var made = new SentRecord
        {
            Id = id,
            Path = request.Path,
            Body = JsonSerializer.Serialize(
                new
                {
                    machineId,
                    kind,
                    personId,
                    takenAt,
                    visitId,
                    positionId,
                    snapshotId,
                    caption,
                    picture = received.Value.Sha256,
                }
            ),
        };
        await SentTwice.Refuse(made, context, cancel);
        if (await context.Photographs.AsNoTracking().AnyAsync(p => p.Id == id, cancel))
        {
            return await View(id, context, cancel);
        }

        var picture = await Kept(body.Name, files, large, cancel);
        var visit = VisitId.Maybe(visitId);
        context.Put(
            Outcome.Of(
                new Photograph
                {
                    Id = id,
                    MachineId = machineId,
                    VisitId = await context.Visits.AnyAsync(v => v.Id == visit && v.MachineId == machineId, cancel) ? visit : null,
                    PositionId = PositionId.Maybe(positionId),
                    SnapshotId = SnapshotId.Maybe(snapshotId),
                    Kind = Texts.Choice<PhotographKind>("kind", kind),
                    Caption = caption?.Trim() ?? "",
                    TakenAt = takenAt,
                    PersonId = personId,
                    Hash = picture.Hash,
                    Format = picture.Format,
                    Width = picture.Width,
                    Height = picture.Height,
                    Bytes = picture.Bytes,
                }
            )
        );
        await context.SaveChangesAsync(cancel);
        await SentTwice.Keep(made, context, cancel);
        return await View(id, context, cancel);
    }

    /// <summary>An open picture is as large as a bundle on its way.</summary>
    private static async Task<Picture> Kept(string sent, PictureFiles files, LargeWork large, CancellationToken cancel)
    {
        using var turn = await large.Turn(cancel);
        return await files.Keep(sent, cancel);
    }

    internal static async Task<IReadOnlyList<PhotographView>> Of(MachineId machineId, LedgerContext context, CancellationToken cancel) =>
        await context
            .Photographs.AsNoTracking()
            .Where(p => p.MachineId == machineId && p.RetiredAt == null)
            .OrderByDescending(p => p.TakenAt)
            .Select(p => new PhotographView(
                p.Id.Value,
                p.MachineId.Value,
                p.Version,
                p.VisitId == null ? null : p.VisitId.Value.Value,
                p.PositionId == null ? null : p.PositionId.Value.Value,
                p.SnapshotId == null ? null : p.SnapshotId.Value.Value,
                p.Kind,
                p.Caption,
                p.TakenAt,
                context.People.Where(x => x.Id == p.PersonId).Select(x => x.Name).FirstOrDefault() ?? "somebody",
                p.Hash,
                p.Width,
                p.Height,
                p.Bytes,
                context.Places.Count(x => x.PhotographId == p.Id && x.RetiredAt == null)
            ))
            .ToListAsync(cancel);

    private static async Task<IReadOnlyList<PhotographView>> List(string machineId, LedgerContext context, CancellationToken cancel) =>
        await Of(machineId, context, cancel);

    private static async Task<PhotographView> View(string id, LedgerContext context, CancellationToken cancel)
    {
        var machine =
            await context.Photographs.Where(p => p.Id == id).Select(p => (MachineId?)p.MachineId).SingleOrDefaultAsync(cancel)
            ?? throw ProblemException.NotFound("This photograph");
        return (await Of(machine, context, cancel)).FirstOrDefault(p => p.Id == id) ?? throw ProblemException.NotFound("This photograph");
    }

    private static async Task<PhotographPage> Get(string id, LedgerContext context, MachineLibrary library, CancellationToken cancel)
    {
        var photograph = await View(id, context, cancel);
        var machine = await context.Machines.AsNoTracking().SingleAsync(m => m.Id == photograph.MachineId, cancel);
        var positions = await context
            .Positions.AsNoTracking()
            .Where(p => p.OwnerId == machine.ModelId && p.RetiredAt == null)
            .OrderBy(p => p.Ordinal)
            .Select(p => new PositionName(p.Id.Value, p.Prefix, p.Name, p.BoardTypeId.Value))
            .ToListAsync(cancel);
        var resolved = await library.Resolve(machine.Id, cancel);
        return new PhotographPage(
            photograph,
            machine.Tag,
            machine.Name,
            await PlaceEndpoints.Of(id, context, library, cancel),
            positions,
            [
                .. resolved.Model.Parts.Select(p => new PartName(
                    p.Id.Value,
                    p.Designator,
                    p.Name,
                    [.. p.Pins.Select(i => new PartPin(i.Id.Value, i.Label))]
                )),
            ],
            resolved.Model.States,
            [
                .. resolved
                    .Checks.Select(c => c.Check.Black)
                    .OfType<PinAddress>()
                    .CountBy(a => a)
                    .OrderByDescending(a => a.Value)
                    .Take(MostCommons)
                    .Select(a => new ProbePlace(a.Key, resolved.Pins[a.Key].Printed)),
            ]
        );
    }

    private static async Task<PhotographView> Edit(string id, PhotographEdit edit, LedgerContext context, CancellationToken cancel)
    {
        var photograph = await Find(id, context, cancel);
        var written = photograph.Write(edit.Kind, edit.Caption, PositionId.Maybe(edit.PositionId)).OrRefuse();
        if (photograph.Version != edit.Version)
        {
            throw ProblemException.Clash(Written(written), Written(photograph), photograph.Version);
        }

        context.Put(written);
        await context.SaveChangesAsync(cancel);
        return await View(id, context, cancel);
    }

    /// <summary>What two people may both have written.</summary>
    private static object Written(Photograph p) =>
        new
        {
            p.Caption,
            p.Kind,
            p.PositionId,
        };

    private static async Task<NoContent> Retire(string id, LedgerContext context, CancellationToken cancel)
    {
        context.Retire(await Find(id, context, cancel));
        await context.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Photograph> Find(PhotographId id, LedgerContext context, CancellationToken cancel) =>
        await context.Photographs.SingleOrDefaultAsync(p => p.Id == id, cancel) ?? throw ProblemException.NotFound("This photograph");

    private static async Task<PhysicalFileHttpResult> Picture(
        string hash,
        HttpResponse response,
        LedgerContext context,
        PictureFiles files,
        CancellationToken cancel
    )
    {
        // Only names that the book knows lead to a file.
        var format =
            await context.Photographs.Where(p => p.Hash == hash).Select(p => p.Format).FirstOrDefaultAsync(cancel)
            ?? throw ProblemException.NotFound("This picture");
        return Send(
            files.FileOf(hash, format),
            format switch
            {
                "jpg" => "image/jpeg",
                "png" => "image/png",
                _ => "image/webp",
            },
            response
        );
    }

    private static async Task<PhysicalFileHttpResult> Small(
        string hash,
        HttpResponse response,
        LedgerContext context,
        PictureFiles files,
        CancellationToken cancel
    ) =>
        await context.Photographs.AnyAsync(p => p.Hash == hash, cancel)
            ? Send(files.ThumbnailOf(hash), "image/jpeg", response)
            : throw ProblemException.NotFound("This picture");

    private static PhysicalFileHttpResult Send(string file, string type, HttpResponse response)
    {
        if (!File.Exists(file))
        {
            throw ProblemException.NotFound("The file of this picture");
        }

        // The name is the content's hash, so what it names never changes.
        response.Headers.CacheControl = "private, max-age=31536000, immutable";
        return TypedResults.PhysicalFile(Path.GetFullPath(file), type);
    }
}
